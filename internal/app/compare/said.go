package compare

import (
	"context"
	"slices"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

func said(db *gorm.DB, a, b string) ([]store.PartPair, error) {
	return store.List[store.PartPair](db, "id",
		"model_id = ? AND other_model_id = ? OR model_id = ? AND other_model_id = ?", a, b, b, a)
}

// Say keeps what a person said about a pair; a later word replaces an earlier one.
func Say(ctx context.Context, s *act.Service, c act.Command, id string, f store.PartPairFacts) (store.PartPair, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.PartPair, error) {
		row := store.PartPair{Row: store.Row{ID: id}, PartPairFacts: f}
		p, err := store.Get[store.Part](tx.DB, f.PartID)
		if err != nil {
			return row, fault.New("part_id", f.PartID, "the id of a part")
		}
		q, err := store.Get[store.Part](tx.DB, f.OtherPartID)
		if err != nil || q.ModelID == p.ModelID {
			return row, fault.New("other_part_id", f.OtherPartID, "the id of a part of another model")
		}
		row.ModelID, row.OtherModelID = p.ModelID, q.ModelID
		earlier, err := said(tx.DB, p.ModelID, q.ModelID)
		if err != nil {
			return row, err
		}
		for _, e := range earlier {
			same := e.PartID == f.PartID && e.OtherPartID == f.OtherPartID ||
				e.PartID == f.OtherPartID && e.OtherPartID == f.PartID
			shares := slices.Contains([]string{e.PartID, e.OtherPartID}, f.PartID) ||
				slices.Contains([]string{e.PartID, e.OtherPartID}, f.OtherPartID)
			if same || shares && e.Verdict == "confirmed" && f.Verdict == "confirmed" {
				if _, err := store.Delete[store.PartPair](tx, e.ID, e.Version); err != nil {
					return row, err
				}
			}
		}
		if err := store.Touch(tx.DB, q.ModelID); err != nil {
			return row, err
		}
		return row, store.Create(tx, &row)
	})
}

// Unsay takes a word about a pair back.
func Unsay(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.PartPair, error) {
	return act.Delete[store.PartPair](ctx, s, c, id, saw, nil)
}

// SayAgain brings it back.
func SayAgain(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.PartPair, error) {
	return act.Restore[store.PartPair](ctx, s, c, id, saw, nil)
}
