package app

import (
	"context"
	"slices"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// checkTrial refuses what cannot be: unknown ids, a slot twice, a piece in two places, an unknown result.
func (b *bench) checkTrial(f *store.TrialFacts) error {
	if err := belongs("board_unit_id", f.BoardUnitID, b.unit, "a unit of this study"); err != nil {
		return err
	}
	for i, p := range f.Pieces {
		at := field("pieces[%d]", i)
		part, ok := b.know.part[p.PartID]
		if !ok || !part.Slot {
			return fault.New(at+".part_id", p.PartID, "a part of this model that takes part in swap tests")
		}
		if slices.ContainsFunc(f.Pieces[:i], func(q store.Piece) bool { return q.PartID == p.PartID }) {
			return fault.New(at+".part_id", part.Name, "each slot once")
		}
		switch p.Origin {
		case "", "unit":
			f.Pieces[i].Origin = "unit"
			if err := belongs(at+".unit_id", p.UnitID, b.unit, "a unit of this study"); err != nil {
				return err
			}
		case ledger.Copy:
			if p.Lot == "" {
				return fault.New(at+".lot", p.Lot, "the delivery that a copy came with")
			}
		}
	}
	if f.HousingUnitID != "" {
		if err := belongs("housing_unit_id", f.HousingUnitID, b.unit, "a unit of this study"); err != nil {
			return err
		}
	}
	if err := b.checkResults("results", f.Results); err != nil {
		return err
	}
	for i, c := range f.Assumed {
		if f.Results[c] == "" {
			return fault.New(field("assumed[%d]", i), c, "a check that has a result in this trial")
		}
	}
	last := f.BootMinutes
	for i, l := range f.Later {
		if l.Minutes < last {
			return fault.New(field("later[%d].minutes", i), l.Minutes, field("minutes since the start, not before the reading at %g", last))
		}
		last = l.Minutes
		if err := b.checkResults(field("later[%d].results", i), l.Results); err != nil {
			return err
		}
	}
	return nil
}

func (b *bench) checkResults(at string, results map[string]string) error {
	for c, r := range results {
		if !slices.ContainsFunc(b.checks, func(k store.Check) bool { return k.Mark == c }) {
			return fault.New(at, c, "the short name of a check in the catalogue")
		}
		if !slices.Contains([]string{"pass", "weak", "lost", "skipped", "dark"}, r) {
			return fault.New(at+"."+c, r, "pass, weak, lost, skipped or dark")
		}
	}
	return nil
}

// AddTrial records a trial.
func (s *Service) AddTrial(ctx context.Context, c Command, study, id string, f store.TrialFacts) (store.Trial, error) {
	return Do(ctx, s, c, 201, func(tx *store.Tx) (store.Trial, error) {
		t := store.Trial{Row: store.Row{ID: id}, StudyID: study}
		b, err := lockStudy(tx, study)
		if err != nil {
			return t, err
		}
		if err := b.checkTrial(&f); err != nil {
			return t, err
		}
		// Deleted trials keep their numbers: t7 is t7 for good.
		var last struct{ Seq int }
		if err := tx.DB.Unscoped().Model(&store.Trial{}).Select("COALESCE(MAX(seq), 0) AS seq").Where("study_id = ?", study).Scan(&last).Error; err != nil {
			return t, err
		}
		t.TrialFacts, t.Seq = f, last.Seq+1
		if t.Build == "" { // the build of the moment stays with the trial, whatever the unit is edited to later
			t.Build = b.buildOf(store.Trial{Seq: t.Seq, TrialFacts: f})
		}
		return t, store.Create(tx, &t)
	})
}

// ChangeTrial replaces the facts of a trial.
func (s *Service) ChangeTrial(ctx context.Context, c Command, id string, saw int, f store.TrialFacts) (store.Trial, error) {
	return change(ctx, s, c, id, saw, func(tx *store.Tx, t *store.Trial) error {
		b, err := lockStudy(tx, t.StudyID)
		if err != nil {
			return err
		}
		if err := b.checkTrial(&f); err != nil {
			return err
		}
		t.TrialFacts = f
		return nil
	})
}

// DeleteTrial takes a trial back.
func (s *Service) DeleteTrial(ctx context.Context, c Command, id string, saw int) (store.Trial, error) {
	return deleteRow[store.Trial](ctx, s, c, id, saw, nil)
}

// RestoreTrial brings a trial back.
func (s *Service) RestoreTrial(ctx context.Context, c Command, id string, saw int) (store.Trial, error) {
	return restoreRow[store.Trial](ctx, s, c, id, saw, nil)
}
