package intake

import (
	"context"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// AddModel records a new model.
func AddModel(ctx context.Context, s *act.Service, c act.Command, id string, f store.ModelFacts) (store.Model, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Model, error) {
		m := store.Model{Row: store.Row{ID: id}, ModelFacts: f}
		if err := checkModel(f); err != nil {
			return m, err
		}
		return m, store.Create(tx, &m)
	})
}

// ChangeModel replaces the facts of a model.
func ChangeModel(ctx context.Context, s *act.Service, c act.Command, id string, saw int,
	f store.ModelFacts) (store.Model, error) {
	return act.Change(ctx, s, c, id, saw, func(_ *store.Tx, m *store.Model) error {
		m.ModelFacts = f
		return checkModel(f)
	})
}

// checkModel refuses a model that comes after itself.
func checkModel(f store.ModelFacts) error {
	if p := strings.TrimSpace(f.Predecessor); p != "" && strings.EqualFold(p, strings.TrimSpace(f.Name)) {
		return fault.New("predecessor", f.Predecessor, "the name of another model")
	}
	return nil
}
