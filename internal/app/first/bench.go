package first

import (
	"context"
	"fmt"
	"math"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/faults"
	"waryowl/internal/core/answer"
	"waryowl/internal/store"
)

// JobLine is a phone on the bench today.
type JobLine struct {
	ID      string  `json:"id"`
	Title   string  `json:"title"`
	Now     string  `json:"now" doc:"its next operation"`
	Minutes float64 `json:"minutes" doc:"of hands and machines that are left, usually"`
	Done    float64 `json:"done" doc:"share of its operations that have ended"`
	Due     int     `json:"due,omitempty" doc:"seconds since the workshop opened"`
	Opens   int     `json:"opens" doc:"second of the day on which it opens"`
	State   string  `json:"state" enum:"waiting,on the bench,done"`
	Path    string  `json:"path"`
}

// Arrival is a lot of parts.
type Arrival struct {
	ID    string    `json:"id"`
	Title string    `json:"title"`
	Model string    `json:"model"`
	Lot   string    `json:"lot"`
	Size  int       `json:"size"`
	On    time.Time `json:"on"`
	Bad   int       `json:"bad"`
}

// recent is how far back parts that came in are news.
const recent = 4 * 24 * time.Hour

// technician is the first page of those who repair: the phones of today, faults that are being looked for, what came
// in.
func (v *Room) technician(ctx context.Context, s *act.Service) error {
	db := s.DB.WithContext(ctx)
	today := s.Now().UTC().Truncate(24 * time.Hour)
	jobs, err := store.List[store.BenchJob](db.Limit(60), "IF(due_s = 0, 86401, due_s), release_s, created_at, id",
		"day = ?", today)
	if err != nil {
		return err
	}
	for _, j := range jobs {
		l := JobLine{ID: j.ID, Title: j.Title, Due: j.Due, State: "waiting", Path: "/day"}
		ended, left := 0, 0
		for _, o := range j.Ops {
			switch {
			case o.Ended != nil:
				ended++
			case l.Now == "":
				l.Now, left = o.ID, left+o.P50
			default:
				left += o.P50
			}
			if o.Started != nil {
				l.State = "on the bench"
			}
		}
		if l.Minutes = math.Round(float64(left) / 60); ended == len(j.Ops) && ended > 0 {
			l.State = "done"
		}
		if len(j.Ops) > 0 {
			l.Done = float64(ended) / float64(len(j.Ops))
		}
		v.Jobs = append(v.Jobs, l)
		if l.State != "done" {
			v.Next = append(v.Next, Next{Title: j.Title + ": " + l.Now, Why: "on the bench today", Minutes: l.Minutes,
				Path: "/day"})
		}
	}
	sick, err := faults.List(ctx, s, "", "", false)
	if err != nil {
		return err
	}
	for _, f := range sick {
		why := f.Symptom
		if why == "" {
			why = "its symptom is not chosen yet"
		}
		v.Next = append(v.Next, Next{Title: "Find the fault of " + f.Sticker + ", " + f.Model, Why: why,
			Path: "/faults/" + f.ID})
	}
	waiting, err := store.List[store.Work](db.Limit(50), "promised_on IS NULL, promised_on, id", "status IN ?",
		[]string{"promised", "parts ordered"})
	if err != nil {
		return err
	}
	names, err := names(ctx, s)
	if err != nil {
		return err
	}
	for _, w := range waiting {
		n := Next{Title: fmt.Sprintf("%s job, %s%s", answer.Title(w.Job), names[w.ModelID], ref(w.Ref)), Why: w.Status,
			Path: "/parts?face=jobs"}
		if w.PromisedOn != nil {
			n.Why += " for " + w.PromisedOn.Format(time.DateOnly)
			n.Look = w.PromisedOn.Before(today)
		}
		v.Next = append(v.Next, n)
	}
	v.Arrived, err = arrivals(ctx, s, names, "received_on > ?", s.Now().Add(-recent))
	return err
}

func ref(text string) string {
	if text == "" {
		return ""
	}
	return ", " + text
}

// names are the models by id.
func names(ctx context.Context, s *act.Service) (map[string]string, error) {
	rows, err := store.List[store.Model](s.DB.WithContext(ctx).Limit(3000), "id", "1 = 1")
	by := map[string]string{}
	for _, m := range rows {
		by[m.ID] = m.Maker + " " + m.Name
	}
	return by, err
}

// arrivals are lots that came in, the newest first.
func arrivals(ctx context.Context, s *act.Service, names map[string]string, where string, args ...any) ([]Arrival,
	error) {
	rows, err := store.List[store.Delivery](s.DB.WithContext(ctx).Limit(20), "received_on DESC, id DESC", where,
		args...)
	list := []Arrival{}
	for _, d := range rows {
		list = append(list, Arrival{d.ID, desk.Said(d.Item), names[d.ModelID], d.Lot, d.Size, d.ReceivedOn, d.Bad})
	}
	return list, err
}
