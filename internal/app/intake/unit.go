package intake

import (
	"context"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// AddUnit records a phone of the study. Sticker names are unique within it.
func AddUnit(ctx context.Context, s *act.Service, c act.Command, study, id string, f store.UnitFacts) (store.Unit,
	error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Unit, error) {
		u := store.Unit{Row: store.Row{ID: id}, StudyID: study, UnitFacts: f}
		if err := freeSticker(tx, study, "", f); err != nil {
			return u, err
		}
		return u, store.Create(tx, &u)
	})
}

// ChangeUnit replaces the facts of a unit.
func ChangeUnit(ctx context.Context, s *act.Service, c act.Command, id string, saw int, f store.UnitFacts) (store.Unit,
	error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, u *store.Unit) error {
		u.UnitFacts = f
		return freeSticker(tx, u.StudyID, u.ID, f)
	})
}

func freeSticker(tx *store.Tx, study, self string, f store.UnitFacts) error {
	if _, err := store.Lock[store.Study](tx, study); err != nil {
		return err
	}
	units, err := store.List[store.Unit](tx.DB, "id", "study_id = ?", study)
	for _, u := range units {
		if u.ID != self && strings.EqualFold(u.Name, f.Name) {
			return fault.New("name", f.Name, "a sticker name that no other unit of this study has")
		}
	}
	if self == "" && len(units) >= 12 {
		return fault.New("name", f.Name, "at most 12 units in a study")
	}
	return err
}

// SetBaseline stores a unit's result for a check. saw is the version on the page, 0 when the cell was empty.
func SetBaseline(ctx context.Context, s *act.Service, c act.Command, unit, check string, saw int, result string,
	assumed bool) (store.Baseline, error) {
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (store.Baseline, error) {
		checks, err := checksOf(tx, unit)
		if err != nil {
			return store.Baseline{}, err
		}
		if !slices.ContainsFunc(checks, func(c store.Check) bool { return c.Mark == check }) {
			return store.Baseline{}, fault.New("check", check, "the short name of a check of this model")
		}
		have, err := store.List[store.Baseline](tx.DB, "id", "unit_id = ? AND check_mark = ?", unit, check)
		if err != nil {
			return store.Baseline{}, err
		}
		if len(have) == 0 && saw != 0 {
			return store.Baseline{}, fault.New("version", saw, "0 while nothing is on record for this check")
		}
		if len(have) == 0 {
			row := store.Baseline{UnitID: unit, CheckMark: check, Result: result, Assumed: assumed}
			return row, store.Create(tx, &row)
		}
		row, err := store.Update(tx, have[0].ID, saw, func(l *store.Baseline) error {
			l.Result, l.Assumed = result,
				assumed
			return nil
		})
		if err != nil {
			return store.Baseline{}, err
		}
		return *row, nil
	})
}

// checksOf are the checks of the model that a unit is of.
func checksOf(tx *store.Tx, unit string) ([]store.Check, error) {
	u, err := store.Get[store.Unit](tx.DB, unit)
	if err != nil {
		return nil, err
	}
	of, err := store.Get[store.Study](tx.DB, u.StudyID)
	if err != nil {
		return nil, err
	}
	m, err := store.Get[store.Model](tx.DB, of.ModelID)
	if err != nil {
		return nil, err
	}
	return model.ChecksFor(tx.DB, *m)
}

// Filled says how many checks were filled in together.
type Filled struct {
	Checks int `json:"checks"`
}

// FillBaseline gives every check of a unit that has no result the same one: all that was run and passed, or what is
// assumed. What is on record stays.
func FillBaseline(ctx context.Context, s *act.Service, c act.Command, unit, result string, assumed bool) (Filled, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (Filled, error) {
		if _, err := store.Lock[store.Unit](tx, unit); err != nil {
			return Filled{}, err
		}
		checks, err := checksOf(tx, unit)
		if err != nil {
			return Filled{}, err
		}
		have, err := store.List[store.Baseline](tx.DB, "id", "unit_id = ?", unit)
		if err != nil {
			return Filled{}, err
		}
		var rows []store.Baseline
		for _, k := range checks {
			if !slices.ContainsFunc(have, func(l store.Baseline) bool { return l.CheckMark == k.Mark }) {
				rows = append(rows, store.Baseline{UnitID: unit, CheckMark: k.Mark, Result: result, Assumed: assumed})
			}
		}
		return Filled{len(rows)}, store.CreateAll(tx, rows)
	})
}
