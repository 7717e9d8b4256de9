package intake

import (
	"context"
	"fmt"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
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
		if err := checkStudy(tx, &row); err != nil {
			return row, err
		}
		return row, store.Create(tx, &row)
	})
}

// checkStudy refuses pairs that name no two parts of the model and statements about parts or checks that are not there.
func checkStudy(tx *store.Tx, row *store.Study) error {
	know, err := model.Load(tx.DB, row.ModelID)
	if err != nil {
		return err
	}
	for i, p := range row.Pairs {
		at := fmt.Sprintf("pairs[%d]", i)
		if len(p) != 2 || p[0] == p[1] {
			return fault.New(at, strings.Join(p, ", "), "the names of two parts of this model")
		}
		for _, name := range p {
			if q := know.PartNamed(name); q == nil || !q.Slot {
				return fault.New(at, name, "the name of a part of this model that takes part in swap tests")
			}
		}
	}
	for i, h := range row.Hypotheses {
		if _, known := know.PartByID[h.PartID]; h.PartID != "" && !known {
			return fault.New(fmt.Sprintf("hypotheses[%d].part_id", i), h.PartID, "a part of this model")
		}
	}
	return nil
}

// ChangeStudy replaces the facts of a study.
func ChangeStudy(ctx context.Context, s *act.Service, c act.Command, id string, saw int,
	f store.StudyFacts) (store.Study, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, row *store.Study) error {
		row.StudyFacts = f
		return checkStudy(tx, row)
	})
}

// DeleteStudy takes a study out of the lists; RestoreStudy brings it back.
func DeleteStudy(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Study, error) {
	return act.Delete[store.Study](ctx, s, c, id, saw, nil)
}

// RestoreStudy brings a deleted study back.
func RestoreStudy(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Study, error) {
	return act.Restore[store.Study](ctx, s, c, id, saw, nil)
}
