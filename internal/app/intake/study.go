package intake

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// AddStudy opens a study of a model.
func AddStudy(ctx context.Context, s *act.Service, c act.Command, id, model string, f store.StudyFacts) (store.Study,
	error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Study, error) {
		row := store.Study{Row: store.Row{ID: id}, ModelID: model, StudyFacts: f}
		if _, err := store.Get[store.Model](tx.DB, model); err != nil {
			return row, fault.New("model_id", model, "the id of a model")
		}
		return row, store.Create(tx, &row)
	})
}

// ChangeStudy replaces the facts of a study.
func ChangeStudy(ctx context.Context, s *act.Service, c act.Command, id string, saw int,
	f store.StudyFacts) (store.Study, error) {
	return act.Change(ctx, s, c, id, saw, func(_ *store.Tx, row *store.Study) error { row.StudyFacts = f; return nil })
}

// DeleteStudy takes a study out of the lists; RestoreStudy brings it back.
func DeleteStudy(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Study, error) {
	return act.Delete[store.Study](ctx, s, c, id, saw, nil)
}

// RestoreStudy brings a deleted study back.
func RestoreStudy(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Study, error) {
	return act.Restore[store.Study](ctx, s, c, id, saw, nil)
}
