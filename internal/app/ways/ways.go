// Package ways is the room of ways to each part, of the harvest of a donor, and of ways compared.
package ways

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/benchline"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/route"
	"waryowl/internal/store"
)

// Room is the room of ways: every part of the model that a step frees.
type Room struct {
	Model    store.Model     `json:"model"`
	Parts    []store.Part    `json:"parts" nullable:"false"`
	Minimise string          `json:"minimise"`
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	Ways     []model.Way     `json:"ways" nullable:"false"`
	Missing  []string        `json:"missing" nullable:"false" doc:"parts without a way"`
	Notice   string          `json:"notice"`
	Entry    string          `json:"entry" doc:"front or back, or empty for either"`
	Pace     model.Pace      `json:"pace"`

	Bench benchline.Context `json:"bench" doc:"what the stops need to know while somebody follows a way"`
}

// Show finds the way to every part by the given objective, from the front, the back, or either side.
func Show(ctx context.Context, s *act.Service, who act.Actor, modelID, minimise, entry string) (Room, error) {
	db := s.DB.WithContext(ctx)
	k, err := model.Load(db, modelID)
	if err != nil {
		return Room{}, err
	}
	w := Room{Model: k.Model, Parts: k.Parts, Minimise: minimise, Ways: []model.Way{}, Missing: []string{},
		Notice: hazard.Notice, Entry: entry, Bench: k.Bench(k.Name)}
	if w.Pace, err = model.PaceOf(db, who.ID); err != nil {
		return Room{}, err
	}
	if err := k.LoadPhotos(db); err != nil {
		return Room{}, err
	}
	q := k.Question(minimise)
	q.Steps = route.FromSide(q.Steps, entry)
	found, err := route.All(ctx, q)
	if err != nil {
		return Room{}, err
	}
	for _, f := range found {
		if _, ok := k.PartByID[f.Part]; ok {
			w.Ways = append(w.Ways, k.Way(f))
		}
	}
	slices.SortStableFunc(w.Ways, func(a, b model.Way) int {
		return cmp.Or(cmp.Compare(model.Commonness(k.Kind(a.PartID)), model.Commonness(k.Kind(b.PartID))),
			strings.Compare(a.Part, b.Part))
	})
	for _, p := range k.Parts {
		if !slices.ContainsFunc(w.Ways, func(w model.Way) bool { return w.PartID == p.ID }) {
			w.Missing = append(w.Missing, p.Name)
		}
	}
	w.Answer = answer.Sentence{answer.Text("No way in is on record yet: log the teardown of "), answer.Name(k.Name, ""),
		answer.Text(".")}
	if len(w.Ways) > 0 {
		w.Answer = w.Ways[0].Answer
	}
	return w, nil
}
