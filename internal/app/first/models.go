package first

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/app/rating"
	"waryowl/internal/core/school"
	"waryowl/internal/store"
)

// ModelLine is a model in the table of models.
type ModelLine struct {
	ID      string       `json:"id"`
	Name    string       `json:"name"`
	Maker   string       `json:"maker"`
	Width   float64      `json:"width_mm"`
	Height  float64      `json:"height_mm"`
	Entry   string       `json:"entry" enum:"front,back,dual"`
	Jobs    []JobMinutes `json:"jobs" nullable:"false" doc:"the five common jobs, in their order"`
	Scores  []ScoreRange `json:"scores" nullable:"false" doc:"by the first three scoring methods"`
	Shared  int          `json:"shared" doc:"kinds of part of which a piece of another model worked, or the reverse"`
	Parts   int          `json:"parts"`
	Missing string       `json:"missing,omitempty"`
	Changed time.Time    `json:"changed"`
}

// JobMinutes is what a common job takes, the whole repair.
type JobMinutes struct {
	Job      string  `json:"job"`
	Minutes  float64 `json:"minutes" doc:"0: no way in is on record"`
	Estimate bool    `json:"estimate" doc:"not one of its steps was timed"`
}

// ScoreRange is what a method gives, on a scale of its own.
type ScoreRange struct {
	Title string     `json:"title"`
	Range [2]float64 `json:"range"`
	Scale [2]float64 `json:"scale"`
}

// worked is kept of a model while nothing of it changes, for a day: scores know the date.
type worked struct {
	Day     string
	Jobs    []JobMinutes
	Scores  []ScoreRange
	Parts   int
	Missing string
}

// mostModels is how many models the table holds; Find leads to the others.
const mostModels = 300

// methods is how many scoring methods stand in the table.
const methods = 3

func (v *Room) models(ctx context.Context, s *act.Service) error {
	db := s.DB.WithContext(ctx)
	rows, err := store.List[store.Model](db.Limit(mostModels), "maker, name", "1 = 1")
	if err != nil {
		return err
	}
	var ids []string
	for _, m := range rows {
		ids = append(ids, m.ID)
	}
	today := s.Now().Format(time.DateOnly)
	known, err := store.DerivedOfModels(db, "line", ids, func(w worked) bool { return w.Day == today },
		func(stale []string) (map[string]worked, error) { return workOut(db, stale, today) })
	if err != nil {
		return err
	}
	tests, err := store.List[store.FitTest](db, "id", "outcome IN ?", []string{"full", "notice", "calibrated",
		"looks-wrong"})
	if err != nil {
		return err
	}
	shared := map[string]map[string]bool{}
	for _, t := range tests {
		for _, id := range []string{t.ModelID, t.DonorModel} {
			if shared[id] == nil {
				shared[id] = map[string]bool{}
			}
			if t.DonorModel != "" {
				shared[id][t.Kind] = true
			}
		}
	}
	changed, err := store.LastChanges(db, ids)
	if err != nil {
		return err
	}
	for _, m := range rows {
		w := known[m.ID]
		v.Models = append(v.Models, ModelLine{ID: m.ID, Name: m.Name, Maker: m.Maker, Width: m.WidthMM,
			Height: m.HeightMM,
			Entry:  m.Entry, Jobs: w.Jobs, Scores: w.Scores, Shared: len(shared[m.ID]), Parts: w.Parts,
			Missing: w.Missing,
			Changed: changed[m.ID]})
	}
	return nil
}

func workOut(db *gorm.DB, ids []string, today string) (map[string]worked, error) {
	known, err := rating.Load(db, ids, today)
	if err != nil {
		return nil, err
	}
	rules := school.Shipped()
	rules = rules[:min(methods, len(rules))]
	no := false
	out := map[string]worked{}
	for _, id := range slices.Sorted(maps.Keys(known)) {
		r := known[id]
		w := worked{Day: today, Jobs: []JobMinutes{}, Scores: []ScoreRange{}, Parts: len(r.Know.Parts)}
		without := 0
		for _, j := range model.JobKinds {
			x := JobMinutes{Job: j.Job}
			if p := r.Know.OfKind(j.Kind); p != nil {
				if way := r.Know.WayTo(p.ID); way != nil && way.Blocked == "" {
					x.Minutes, x.Estimate = way.ClosedMinutes, way.Measured == 0
				}
			}
			if x.Minutes == 0 {
				without++
			}
			w.Jobs = append(w.Jobs, x)
		}
		switch {
		case len(r.Know.Parts) == 0:
			w.Missing = "parts"
		case without > 0:
			w.Missing = fmt.Sprintf("way in of %d of %d jobs", without, len(model.JobKinds))
		}
		found, err := school.Solve(school.Input{Facts: school.Facts(), Rubrics: rules, Shop: r.ShopFacts(),
			Models: []school.Model{r.Model()}, Compare: &no})
		if err != nil {
			return nil, err
		}
		for i, sc := range found.Scores {
			w.Scores = append(w.Scores, ScoreRange{rules[i].Title, sc.Range, [2]float64{rules[i].Scale[0],
				rules[i].Scale[1]}})
		}
		out[id] = w
	}
	return out, nil
}
