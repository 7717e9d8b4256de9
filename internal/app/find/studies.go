package find

import (
	"context"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/store"
)

// page is how many models are listed at once, pageOfStudies how many studies, each with its trail.
const (
	page          = 50
	pageOfStudies = 20
)

// Studies lists studies, the newest first, a page at a time: those before the one of this id, or the newest.
func Studies(ctx context.Context, s *act.Service, before string) ([]study.Card, error) {
	db := s.DB.WithContext(ctx)
	where, args := "1 = 1", []any{}
	if before != "" {
		where, args = "id < ?", []any{before}
	}
	rows, err := store.List[store.Study](db.Limit(pageOfStudies), "id DESC", where, args...)
	if err != nil {
		return nil, err
	}
	var ids []string
	for _, r := range rows {
		ids = append(ids, r.ID)
	}
	made, err := store.Derived(db, "card", ids, func(stale []string) (map[string]study.Card, error) {
		list, err := study.LoadAll(db, slices.DeleteFunc(slices.Clone(rows),
			func(r store.Study) bool { return !slices.Contains(stale, r.ID) }), study.Want{Brief: true})
		made := map[string]study.Card{}
		for _, b := range list {
			made[b.ID] = b.Card()
		}
		return made, err
	})
	if err != nil {
		return nil, err
	}
	cards := []study.Card{}
	for _, id := range ids {
		if c, ok := made[id]; ok {
			cards = append(cards, c)
		}
	}
	return cards, nil
}

// StudyCard returns one study with its trail.
func StudyCard(ctx context.Context, s *act.Service, id string) (study.Card, error) {
	b, err := study.Load(s.DB.WithContext(ctx), id)
	if err != nil {
		return study.Card{}, err
	}
	return b.Card(), nil
}

// ModelSheet is a model with its parts and plan.
type ModelSheet struct {
	Model store.Model      `json:"model"`
	Parts []store.Part     `json:"parts" nullable:"false"`
	Steps []store.PlanStep `json:"steps" nullable:"false"`
}

// Models lists models by maker and name, a page of them: those with the words in maker or name, where words are given.
func Models(ctx context.Context, s *act.Service, words string) ([]store.Model, error) {
	where, args := "1 = 1", []any{}
	for _, w := range strings.Fields(store.Words(words)) {
		where += " AND CONCAT(maker, ' ', name) LIKE ?"
		args = append(args, "%"+strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(w)+"%")
	}
	return store.List[store.Model](s.DB.WithContext(ctx).Limit(page), "maker, name", where, args...)
}

// Sheet returns one model with its parts and plan.
func Sheet(ctx context.Context, s *act.Service, id string) (ModelSheet, error) {
	k, err := model.Load(s.DB.WithContext(ctx), id)
	if err != nil {
		return ModelSheet{}, err
	}
	return ModelSheet{k.Model, k.Parts, k.Steps}, nil
}
