package server

import (
	"context"
	"sync"

	"waryowl/internal/app/act"
	"waryowl/internal/app/benchday"
	"waryowl/internal/app/parts"
	"waryowl/internal/app/swap"
	"waryowl/internal/store"
)

// keeps are the orders of the last plans, by day, so that a plan that is as good keeps its order. Without one nothing
// is wrong: another server, or a new start, plans afresh.
type keeps struct {
	mu sync.Mutex
	by map[string][]string
}

func (k *keeps) of(date string) []string {
	k.mu.Lock()
	defer k.mu.Unlock()
	return k.by[date]
}

func (k *keeps) put(date string, acts []benchday.Act) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if len(k.by) > 60 {
		clear(k.by)
	}
	list := []string{}
	for _, a := range acts {
		list = append(list, a.JobID+"/"+a.Op)
	}
	k.by[date] = list
}

type (
	// NewBenchJob puts a job on a day; text is its operations as they are typed.
	NewBenchJob struct {
		ID   string `json:"id" format:"uuid"`
		Text string `json:"text,omitempty" maxLength:"2000" doc:"operations, such as: heat 5-8 plate; open 10 hands within 60" lines:"yes"`
		store.BenchJobFacts
	}
	// BenchJobChange replaces what is known of a job of the day.
	BenchJobChange struct {
		Version int    `json:"version" minimum:"1"`
		Text    string `json:"text,omitempty" maxLength:"2000" lines:"yes"`
		store.BenchJobFacts
	}
	askDay struct {
		Date   string `path:"date" format:"date"`
		Offset int    `query:"offset" minimum:"-840" maximum:"840" doc:"minutes that the day's clock is east of Greenwich"`
	}
)

func (s *server) dayRoutes() {
	last := &keeps{by: map[string][]string{}}
	get(s, "/api/days/{date}", "get-day", "The bench day: one plan of hands and machines", act.Jobs,
		func(ctx context.Context, in *askDay) (benchday.Room, error) {
			v, err := benchday.Show(ctx, s.App, benchday.Ask{Date: in.Date, Offset: in.Offset, Keep: last.of(in.Date)})
			if err == nil {
				last.put(in.Date, v.Acts)
			}
			return v, err
		})
	get(
		s,
		"/api/days/{date}/lab",
		"get-day-lab",
		"What the swap lab would test on a day, and what waits for a newer build",
		act.Studies,
		func(ctx context.Context, in *askDay) (swap.OnDay, error) {
			return swap.LabOnDay(ctx, s.App, benchday.Ask{Date: in.Date, Offset: in.Offset})
		},
	)
	sends(s, "/api/days/{date}/calendar", "get-day-calendar", "The bench day as iCalendar", act.Jobs,
		func(ctx context.Context, in *askDay) (*file, error) {
			q := benchday.Ask{Date: in.Date, Offset: in.Offset, Keep: last.of(in.Date)}
			lab, err := swap.LabOnDay(ctx, s.App, q)
			if err != nil {
				return nil, err
			}
			text, err := benchday.Calendar(ctx, s.App, q, lab.Dues(q))
			return sent("text/calendar; charset=utf-8", "bench-day-"+in.Date+".ics", false, text), err
		})
	write(s, "POST", "/api/day-jobs", "add-day-job", "Put a job on a day", act.Jobs,
		func(ctx context.Context, c act.Command, in *firstRow[NewBenchJob]) (store.BenchJob, error) {
			return benchday.AddJob(ctx, s.App, c, in.Body.ID, in.Body.BenchJobFacts, in.Body.Text)
		})
	write(s, "PUT", "/api/day-jobs/{id}", "change-day-job", "Change a job of a day", act.Jobs,
		func(ctx context.Context, c act.Command, in *newRow[BenchJobChange]) (store.BenchJob, error) {
			return benchday.ChangeJob(ctx, s.App, c, in.ID, in.Body.Version, in.Body.BenchJobFacts, in.Body.Text)
		})
	write(s, "PUT", "/api/day-jobs/{id}/step", "tell-day-job", "An operation starts or ends", act.Jobs,
		func(ctx context.Context, c act.Command, in *newRow[benchday.Step]) (store.BenchJob, error) {
			return benchday.Tell(ctx, s.App, c, in.ID, in.Body)
		})
	remove(
		s,
		"/api/day-jobs",
		"day-job",
		"a job of a day",
		act.Jobs,
		parts.Delete[store.BenchJob],
		parts.Restore[store.BenchJob],
	)
}
