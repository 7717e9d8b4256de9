package first

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/benchday"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/faults"
	"waryowl/internal/app/visit"
	"waryowl/internal/core/answer"
	"waryowl/internal/store"
)

// JobLine is a phone on the bench today.
type JobLine struct {
	ID      string  `json:"id"`
	Title   string  `json:"title"`
	Now     string  `json:"now" doc:"its next operation"`
	Model   string  `json:"model,omitempty"`
	Minutes float64 `json:"minutes" doc:"of hands and machines that are left, usually"`
	HandsOn float64 `json:"hands_on,omitempty" doc:"of them hands, where its repair is followed"`
	Waits   float64 `json:"waits,omitempty" doc:"of them waiting"`
	Done    float64 `json:"done" doc:"share of its operations that have ended"`
	Due     int     `json:"due,omitempty" doc:"seconds since the workshop opened"`
	Opens   int     `json:"opens" doc:"second of the day on which it opens"`
	State   string  `json:"state" enum:"waiting,on the bench,done"`
	Path    string  `json:"path"`

	Clocks []visit.Clock `json:"clocks" nullable:"false" doc:"waits that run"`
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
	names, err := names(ctx, s)
	if err != nil {
		return err
	}
	here, err := visit.List(ctx, s, false)
	if err != nil {
		return err
	}
	shown := map[string]bool{}
	office, err := store.List[store.Workshop](db.Limit(1), "id", "1 = 1")
	if err != nil {
		return err
	}
	opens := benchday.Opens(office)
	for _, j := range jobs {
		if k := slices.IndexFunc(here, func(l visit.Line) bool { return l.ID == j.VisitID }); k >= 0 {
			shown[j.VisitID] = true
			v.phone(here[k], j.Due, opens)
			continue
		}
		l := JobLine{ID: j.ID, Title: j.Title, Model: names[j.ModelID], Due: j.Due, Opens: opens, State: "waiting", Path: "/day", Clocks: []visit.Clock{}}
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
	for _, l := range here {
		if !shown[l.ID] {
			v.phone(l, 0, opens)
		}
	}
	// What somebody has in hand comes first, and before it what a clock calls for.
	slices.SortStableFunc(v.Next, func(a, b Next) int { return cmp.Compare(b.first, a.first) })
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
	taken, err := store.List[store.Visit](db.Limit(200), "id", "work_id <> '' AND state <> 'handed back'")
	if err != nil {
		return err
	}
	for _, w := range waiting {
		if slices.ContainsFunc(taken, func(t store.Visit) bool { return t.WorkID == w.ID }) {
			continue
		}
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

// phone is a phone that is here for a repair: its line, and what is next with it.
func (v *Room) phone(l visit.Line, due, opens int) {
	j := JobLine{ID: l.ID, Title: l.Sticker, Model: strings.TrimSuffix(l.Model+", "+l.Part, ", "), Now: l.Next, Done: l.Done, Due: due, Opens: opens,
		HandsOn: math.Round(l.HandsOn), Waits: math.Round(l.Waits), Minutes: math.Round(l.HandsOn + l.Waits),
		State: "waiting", Path: "/visits/" + l.ID, Clocks: l.Clocks}
	n := Next{Title: l.Sticker + ": ", Why: j.Model, Minutes: j.Minutes, Path: j.Path}
	switch l.State {
	case "closed":
		j.State, j.Now, j.Done, n.Why = "done", "hand it back", 1, "closed after "+fmt.Sprintf("%.0f min", l.Minutes)
	case "on the bench":
		j.State, j.Path, n.first = "on the bench", j.Path+"/follow", 1
		if n.Why = "on the bench, " + j.Model; len(l.Clocks) > 0 {
			n.first = 2
		}
	case "waiting for a part":
		j.Now = "waits for a part"
	}
	if j.Now == "" {
		j.Now = "say what is to be done"
	}
	n.Title, n.Path = n.Title+j.Now, j.Path
	v.Jobs = append(v.Jobs, j)
	if l.State != "waiting for a part" {
		v.Next = append(v.Next, n)
	}
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
