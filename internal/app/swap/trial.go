package swap

import (
	"context"
	"fmt"
	"slices"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// checkTrial refuses what cannot be: unknown ids, a slot twice, a piece in two places, an unknown result.
func checkTrial(b *study.Record, f *store.TrialFacts) error {
	if err := act.Belongs("board_unit_id", f.BoardUnitID, b.UnitByID, "a unit of this study"); err != nil {
		return err
	}
	for i, p := range f.Pieces {
		at := fmt.Sprintf("pieces[%d]", i)
		part, ok := b.Know.PartByID[p.PartID]
		if !ok || !part.Slot {
			return fault.New(at+".part_id", p.PartID, "a part of this model that takes part in swap tests")
		}
		if slices.ContainsFunc(f.Pieces[:i], func(q store.Piece) bool { return q.PartID == p.PartID }) {
			return fault.New(at+".part_id", part.Name, "each slot once")
		}
		switch p.Origin {
		case "", "unit":
			f.Pieces[i].Origin = "unit"
			if err := act.Belongs(at+".unit_id", p.UnitID, b.UnitByID, "a unit of this study"); err != nil {
				return err
			}
		case ledger.Copy:
			if p.Lot == "" {
				return fault.New(at+".lot", p.Lot, "the delivery that a copy came with")
			}
		}
	}
	if f.HousingUnitID != "" {
		if err := act.Belongs("housing_unit_id", f.HousingUnitID, b.UnitByID, "a unit of this study"); err != nil {
			return err
		}
	}
	if err := checkResults(b, "results", f.Results); err != nil {
		return err
	}
	for i, c := range f.Assumed {
		if f.Results[c] == "" {
			return fault.New(fmt.Sprintf("assumed[%d]", i), c, "a check that has a result in this trial")
		}
	}
	last := f.BootMinutes
	for i, l := range f.Later {
		if l.Minutes < last {
			return fault.New(fmt.Sprintf("later[%d].minutes", i), l.Minutes,
				fmt.Sprintf("minutes since the start, not before the reading at %g", last))
		}
		last = l.Minutes
		if err := checkResults(b, fmt.Sprintf("later[%d].results", i), l.Results); err != nil {
			return err
		}
	}
	return nil
}

func checkResults(b *study.Record, at string, results map[string]string) error {
	for c, r := range results {
		if !slices.ContainsFunc(b.Checks, func(k store.Check) bool { return k.Mark == c }) {
			return fault.New(at, c, "the short name of a check in the catalogue")
		}
		if !slices.Contains([]string{"pass", "weak", "lost", "skipped", "dark"}, r) {
			return fault.New(at+"."+c, r, "pass, weak, lost, skipped or dark")
		}
	}
	return nil
}

// AddTrial records a trial.
func AddTrial(ctx context.Context, s *act.Service, c act.Command, studyID, id string, f store.TrialFacts) (store.Trial,
	error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Trial, error) {
		t := store.Trial{Row: store.Row{ID: id}, StudyID: studyID}
		b, err := study.Lock(tx, studyID)
		if err != nil {
			return t, err
		}
		if err := checkTrial(b, &f); err != nil {
			return t, err
		}
		// Deleted trials keep their numbers: t7 is t7 for good.
		var last struct{ Seq int }
		if err := tx.DB.Unscoped().Model(&store.Trial{}).Select("COALESCE(MAX(seq), 0) AS seq").Where("study_id = ?",
			studyID).Scan(&last).Error; err != nil {
			return t, err
		}
		t.TrialFacts, t.Seq = f, last.Seq+1
		if t.Build == "" { // the build of the moment stays with the trial, whatever the unit is edited to later
			t.Build = b.BuildOf(store.Trial{Seq: t.Seq, TrialFacts: f})
		}
		return t, store.Create(tx, &t)
	})
}

// ChangeTrial replaces the facts of a trial.
func ChangeTrial(ctx context.Context, s *act.Service, c act.Command, id string, saw int,
	f store.TrialFacts) (store.Trial, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, t *store.Trial) error {
		b, err := study.Lock(tx, t.StudyID)
		if err != nil {
			return err
		}
		if err := checkTrial(b, &f); err != nil {
			return err
		}
		t.TrialFacts = f
		return nil
	})
}

// DeleteTrial takes a trial back.
func DeleteTrial(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Trial, error) {
	return act.Delete[store.Trial](ctx, s, c, id, saw, nil)
}

// RestoreTrial brings a trial back.
func RestoreTrial(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Trial, error) {
	return act.Restore[store.Trial](ctx, s, c, id, saw, nil)
}
