package closeup

import (
	"context"
	"slices"
	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// SetClosing stores the state of a phone's closing; saw is 0 while nothing was stored. A phone is not marked as closed
// while something is unaccounted for.
func SetClosing(ctx context.Context, s *act.Service, c act.Command, unit string, saw int, plan bool,
	f store.ClosingFacts) (store.Closing, error) {
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (store.Closing, error) {
		u, err := store.Lock[store.Unit](tx, unit)
		if err != nil {
			return store.Closing{}, err
		}
		b, err := study.Load(tx.DB, u.StudyID)
		if err != nil {
			return store.Closing{}, err
		}
		for mark, r := range f.Results {
			if !slices.ContainsFunc(b.Checks, func(k store.Check) bool { return k.Mark == mark }) {
				return store.Closing{}, fault.New("results", mark, "checks of this model")
			}
			if !slices.Contains([]string{"pass", "weak", "lost", "skipped", "dark"}, r) {
				return store.Closing{}, fault.New("results."+mark, r, "pass, weak, lost, skipped, or dark: could not be tested")
			}
		}
		if f.Closed {
			if v := closing(b, *u, store.Closing{UnitID: unit, ClosingFacts: f}, plan); !v.May {
				return store.Closing{}, fault.New("closed", "true",
					"a phone with every connector ticked and nothing unaccounted for (declare what is lost or left "+
						"off)")
			}
		}
		have, err := store.List[store.Closing](tx.DB, "id", "unit_id = ?", unit)
		if err != nil {
			return store.Closing{}, err
		}
		if len(have) == 0 {
			row := store.Closing{UnitID: unit, ClosingFacts: f}
			return row, store.Create(tx, &row)
		}
		row, err := store.Update(tx, have[0].ID, saw, func(r *store.Closing) error { r.ClosingFacts = f; return nil })
		if err != nil {
			return store.Closing{}, err
		}
		return *row, nil
	})
}
