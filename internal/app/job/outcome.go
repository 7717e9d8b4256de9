package job

import (
	"context"
	"errors"
	"fmt"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// AddOutcome records how a job on a part went. What it says of steps walked and parts hurt feeds times and odds.
func AddOutcome(ctx context.Context, s *act.Service, c act.Command, modelID, part, id string,
	f store.OutcomeFacts) (store.Outcome, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Outcome, error) {
		o := store.Outcome{Row: store.Row{ID: id}, ModelID: modelID, PartID: part, AccountID: c.Actor.ID,
			OutcomeFacts: f}
		k, err := model.Load(tx.DB, modelID)
		if errors.Is(err, act.ErrNotFound) {
			return o, fault.New("model_id", modelID, "the id of a model")
		}
		if err != nil {
			return o, err
		}
		if err := act.Belongs("part_id", part, k.PartByID, "a part of this model"); err != nil {
			return o, err
		}
		for i, id := range f.Steps {
			if err := act.Belongs(fmt.Sprintf("steps[%d]", i), id, k.StepByID,
				"a step of this model's plan"); err != nil {
				return o, err
			}
		}
		if f.HurtPart != "" {
			if err := act.Belongs("hurt_part", f.HurtPart, k.PartByID, "a part of this model"); err != nil {
				return o, err
			}
			if err := act.Belongs("hurt_step", f.HurtStep, k.StepByID, "the step at which it was damaged"); err != nil {
				return o, err
			}
		}
		if f.Whole > f.Of {
			return o, fault.New("whole", f.Whole, "no more tabs than there are")
		}
		if way := k.WayTo(part); way != nil && way.Blocked == "" && f.Went != "gave up" {
			fastest := way.CheckSeconds / 3
			for _, s := range way.Steps {
				fastest += (1 + worktime.RefitShare) * k.Early(k.StepByID[s.ID])
			}
			o.Doubt = worktime.Doubtful(f.Minutes*60, fastest, way.ClosedMinutes*60) && !f.Sure
		}
		return o, store.Create(tx, &o)
	})
}
