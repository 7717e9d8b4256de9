package first

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/find"
	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/app/swap"
	"waryowl/internal/store"
)

// StudyLine is a study in a list: its stages, and what to do in it next.
type StudyLine struct {
	ID     string        `json:"id"`
	Title  string        `json:"title"`
	Model  string        `json:"model"`
	Stages []study.Stage `json:"stages" nullable:"false"`
	Filled int           `json:"filled" doc:"stages that are complete"`
	Next   Next          `json:"next"`
}

// analyst is the first page of those who study phones: the studies with their next acts, and the models.
func (v *Room) analyst(ctx context.Context, s *act.Service) error {
	cards, err := find.Studies(ctx, s, "")
	if err != nil {
		return err
	}
	var ids []string
	for _, c := range cards {
		ids = append(ids, c.Study.ID)
	}
	db := s.DB.WithContext(ctx)
	next, err := store.Derived(db, "next", ids, func(stale []string) (map[string]Next, error) {
		return nextOf(db,
			stale)
	})
	if err != nil {
		return err
	}
	for _, c := range cards {
		l := StudyLine{ID: c.Study.ID, Title: c.Study.Title, Model: c.Model.Maker + " " + c.Model.Name,
			Stages: c.Stages,
			Next:   next[c.Study.ID]}
		for _, st := range c.Stages {
			if st.Eye == "open" {
				l.Filled++
			}
		}
		v.Studies = append(v.Studies, l)
		n := l.Next
		n.Study = c.Study.ID
		n.Title = c.Model.Name + ": " + lower(n.Title)
		v.Next = append(v.Next, n)
	}
	// What a phone lies open for comes before what has not begun, and that before what only waits to be handed over.
	slices.SortStableFunc(v.Next, func(a, b Next) int { return urgency(a.Path) - urgency(b.Path) })
	return v.models(ctx, s)
}

func urgency(path string) int {
	for i, stage := range []string{"/swap", "/closeup", "/strip", "/intake", "/handover"} {
		if strings.HasSuffix(path, stage) {
			return i
		}
	}
	return len(path)
}

func lower(s string) string {
	if s == "" {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}

// nextOf works out what comes next in studies.
func nextOf(db *gorm.DB, ids []string) (map[string]Next, error) {
	rows, err := store.List[store.Study](db, "id", "id IN ?", ids)
	if err != nil {
		return nil, err
	}
	list, err := study.LoadAll(db, rows, study.Want{})
	if err != nil {
		return nil, err
	}
	out := map[string]Next{}
	for _, b := range list {
		out[b.ID] = next(b)
	}
	return out, nil
}

// next is the next act in a study: the first of its stages that is not done, with what it takes where that is known.
func next(b *study.Record) Next {
	at := func(stage string) string { return "/studies/" + b.ID + "/" + stage }
	if len(b.Units) == 0 {
		return Next{Title: "Record the first phone", Why: "its sticker tells it and its parts from the other",
			Waits: "its first phone", Path: at("intake")}
	}
	opened := func(u store.Unit) bool { return len(b.EverDone(u.ID)) > 0 }
	for _, u := range b.Units {
		if n := b.Untested(u.ID); n > 0 && !opened(u) {
			seconds := 0.0
			for _, c := range b.Checks {
				seconds += c.Seconds
			}
			return Next{Title: fmt.Sprintf("Check %s before it is opened, %d left", u.Name, n),
				Why: "a loss that was there before proves nothing", Waits: "its checks before opening",
				Minutes: seconds * float64(n) / float64(max(1, len(b.Checks))) / 60, Path: at("intake")}
		}
	}
	if len(b.Units) == 1 && !opened(b.Units[0]) {
		return Next{Title: "Record a second phone", Why: "one alone cannot tell a broken part from a refused one",
			Waits: "a second phone",
			Path:  at("intake")}
	}
	if len(b.Log) == 0 {
		return Next{Title: "Tear down " + b.Units[0].Name, Why: "no way in is on record", Waits: "its teardown",
			Path: at("strip")}
	}
	if len(b.Units) > 1 && len(b.Slots()) > 0 {
		if r, err := swap.Advice(b); err == nil && len(r) > 0 {
			return Next{Title: r[0].Words, Why: r[0].Reason, Waits: "its next swap test", Minutes: r[0].Minutes,
				Path: at("swap")}
		}
	}
	for _, u := range b.Units {
		if n := len(b.Done(u.ID)); n > 0 {
			return Next{Title: "Close " + u.Name, Why: fmt.Sprintf("%d steps are to be put back", n),
				Waits: "being closed", Path: at("closeup")}
		}
	}
	freed := map[string]bool{}
	for _, st := range b.Know.Steps {
		for _, id := range st.Frees {
			freed[id] = true
		}
	}
	for _, j := range model.JobKinds {
		if p := b.Know.OfKind(j.Kind); p == nil || !freed[p.ID] {
			return Next{Title: "Record the way in for the " + j.Job + " job", Why: "its score stays open without it",
				Waits: "a way in",
				Path:  at("strip")}
		}
	}
	return Next{Title: "Hand over", Why: "every stage is filled", Waits: "being handed over", Path: at("handover")}
}
