package swap

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"

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
			return fault.New(at+".part_id", part.Name, "each part once")
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
		case store.Foreign:
			if err := checkForeign(b, at, p); err != nil {
				return err
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
	for c, seen := range f.Seen {
		if f.Results[c] == "" {
			return fault.New("seen", c, "a check that has a result in this trial")
		}
		if seen.Unit != "" && seen.Value == nil {
			return fault.New("seen."+c+".value", "nothing", "a number with its unit")
		}
	}
	for i, id := range f.Dangling {
		if err := act.Belongs(fmt.Sprintf("dangling[%d]", i), id, b.Know.PartByID, "a part of this model"); err != nil {
			return err
		}
		if slices.ContainsFunc(f.Pieces, func(p store.Piece) bool { return p.PartID == id }) {
			return fault.New(fmt.Sprintf("dangling[%d]", i), b.Know.PartByID[id].Name, "a part that is the board's own here")
		}
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
			return fault.New(at+"."+c, r, "pass, weak, lost, skipped, or dark: could not be tested")
		}
	}
	return nil
}

// checkForeign wants the model of a foreign piece, which is not the board's own, and the mark that is on it.
func checkForeign(b *study.Record, at string, p store.Piece) error {
	if strings.TrimSpace(p.Model) == "" || strings.EqualFold(strings.TrimSpace(p.Model), b.Know.Name) {
		return fault.New(at+".model", p.Model, "the name of another model, which the piece was built for")
	}
	if p.Lot == "" {
		return fault.New(at+".lot", p.Lot, "the mark on the piece, by which it is known in every study")
	}
	return nil
}

// AddTrial records a trial. bench says what holds when the trial names other pieces than the bench shows: "" the trial,
// and the bench stays as it is; "ask" refuses and names the difference; "follow" moves the bench to the trial.
func AddTrial(ctx context.Context, s *act.Service, c act.Command, studyID, id string, f store.TrialFacts, at Placing,
	bench string) (PlacedTrial, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (PlacedTrial, error) {
		t := PlacedTrial{Trial: store.Trial{Row: store.Row{ID: id}, StudyID: studyID}, Told: []string{}}
		b, err := study.Lock(tx, studyID)
		if err != nil {
			return t, err
		}
		if err := checkTrial(b, &f); err != nil {
			return t, err
		}
		place, back, err := at.in(b, f.DoneAt, s.Now())
		if err != nil {
			return t, err
		}
		if bench != "" && !back { // where the bench stood in between is not known piece by piece
			moved, err := toBench(tx, b, f, bench, place)
			if err != nil {
				return t, err
			}
			place += moved
		}
		// Deleted trials keep their numbers: t7 is t7 for good.
		last, err := store.LastSeq[store.Trial](tx, studyID)
		if err != nil {
			return t, err
		}
		t.TrialFacts, t.Seq, t.Place = f, last+1, place
		if t.Build == "" { // the build of the moment stays with the trial, whatever the unit is edited to later
			t.Build = b.BuildOf(t.Trial)
		}
		t.Told, err = placed(tx, b, back, func() error {
			if back {
				if err := store.MakeRoom(tx, studyID, place); err != nil {
					return err
				}
			}
			return store.Create(tx, &t.Trial)
		})
		return t, err
	})
}

// toBench compares a trial with the bench. It returns how many acts it added.
func toBench(tx *store.Tx, b *study.Record, f store.TrialFacts, bench string, place int) (int, error) {
	arranged := b.Arrange()
	housing := f.HousingUnitID
	for _, u := range b.Units {
		if housing == "" && b.BoardIn(arranged, u.ID) == f.BoardUnitID {
			housing = u.ID
		}
	}
	if housing == "" {
		housing = f.BoardUnitID
	}
	moves, differ := []store.Move{}, []string{}
	if in := b.BoardIn(arranged, housing); in != f.BoardUnitID {
		if main := b.BoardPart(); main != nil {
			differ = append(differ, "the "+main.Name)
			moves = append(moves, store.Move{Piece: store.Piece{PartID: main.ID, Origin: "unit",
				UnitID: f.BoardUnitID}, ToUnitID: housing})
		}
	}
	for _, p := range b.Slots() {
		if main := b.BoardPart(); main != nil && main.ID == p.ID {
			continue
		}
		want := store.Piece{PartID: p.ID, Origin: "unit", UnitID: f.BoardUnitID}
		for _, q := range f.Pieces {
			if q.PartID == p.ID {
				want = q
			}
		}
		have, here := arranged.At[housing][p.ID]
		switch {
		case want.Origin == ledger.Off && here:
			differ = append(differ, "the "+p.Name+" (off in the trial)")
			moves = append(moves, store.Move{Piece: have})
		case want.Origin != ledger.Off && (!here || have != want):
			differ = append(differ, "the "+p.Name+" ("+pieceWords(b, want)+" in the trial)")
			moves = append(moves, store.Move{Piece: want, ToUnitID: housing})
		}
	}
	if len(moves) == 0 {
		return 0, nil
	}
	if bench == "ask" {
		if len(differ) > 4 {
			differ = append(differ[:3], fmt.Sprintf("%d more", len(differ)-3))
		}
		return 0, fault.New("bench", "ask", "follow, or the pieces as they lie on the bench; they differ in "+
			strings.Join(differ, ", "))
	}
	a := store.SwapAct{StudyID: b.ID, SwapActFacts: store.SwapActFacts{Kind: "move", Moves: moves}}
	if err := addAct(tx, &a, place, false); err != nil {
		return 0, err
	}
	b.Acts = append(b.Acts, a)
	return 1, nil
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
		if err := dated(f.DoneAt, s.Now()); err != nil {
			return err
		}
		t.TrialFacts = f
		return nil
	})
}

// GoneTrial is a trial that was deleted, and how many pieces went back because they had been moved for it.
type GoneTrial struct {
	store.Trial
	Back int `json:"back" doc:"pieces moved for it that lie where they lay before"`
}

// DeleteTrial takes a trial back, and with it the moves that were made for it: those since whatever was recorded
// before it. Where something was recorded after it, the bench went on from there and the moves stay.
func DeleteTrial(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (GoneTrial, error) {
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (GoneTrial, error) {
		var gone GoneTrial
		t, err := store.Get[store.Trial](tx.DB, id)
		if errors.Is(err, gorm.ErrRecordNotFound) {
			return gone, act.ErrNotFound
		} else if err != nil {
			return gone, err
		}
		b, err := study.Lock(tx, t.StudyID)
		if err != nil {
			return gone, err
		}
		made := movesMadeFor(b, id)
		row, err := store.Delete[store.Trial](tx, id, saw)
		if err != nil {
			return gone, err
		}
		gone.Trial = *row
		for _, a := range made {
			if _, err := store.Delete[store.SwapAct](tx, a.ID, a.Version); err != nil {
				return gone, err
			}
			gone.Back += len(a.Moves)
		}
		return gone, nil
	})
}

// movesMadeFor are the moves directly before a trial, where nothing came after it.
func movesMadeFor(b *study.Record, trial string) []store.SwapAct {
	list := moments(b)
	k := slices.IndexFunc(list, func(m moment) bool { return m.id == trial })
	if k < 0 || k != len(list)-1 {
		return nil
	}
	var out []store.SwapAct
	for k--; k >= 0; k-- {
		i := slices.IndexFunc(b.Acts, func(a store.SwapAct) bool { return a.ID == list[k].id && a.Kind == "move" })
		if i < 0 {
			break
		}
		out = append(out, b.Acts[i])
	}
	return out
}

// RestoreTrial brings a trial back, and the moves that went with it: those deleted by the same change.
func RestoreTrial(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Trial, error) {
	var gone store.Trial
	err := s.DB.WithContext(ctx).Unscoped().First(&gone, "id = ?", id).Error
	if err != nil && !errors.Is(err, gorm.ErrRecordNotFound) {
		return gone, err
	}
	return restored(ctx, s, c, id, saw, func(t *store.Trial) string { return t.StudyID },
		func(tx *store.Tx, b *study.Record, t *store.Trial) error {
			var acts []store.SwapAct
			if err := tx.DB.Unscoped().Where("study_id = ? AND kind = 'move' AND deleted_at = ?", t.StudyID,
				gone.DeletedAt.Time).
				Find(&acts).Error; err != nil {
				return err
			}
			for _, a := range acts {
				if _, err := store.Restore[store.SwapAct](tx, a.ID, a.Version); err != nil {
					return err
				}
				if err := checkAct(b, &a.SwapActFacts); err != nil {
					return err
				}
			}
			return checkTrial(b, &t.TrialFacts)
		})
}

// PassGate adds a step that was tried to a trial whose board does not start or stays dark.
func PassGate(ctx context.Context, s *act.Service, c act.Command, id string, saw int, step string) (store.Trial,
	error) {
	return act.Change(ctx, s, c, id, saw, func(_ *store.Tx, t *store.Trial) error {
		if !slices.Contains(ledger.DeadGate(), step) {
			return fault.New("step", step, strings.Join(ledger.DeadGate(), ", "))
		}
		if !slices.Contains(t.DeadGate, step) {
			t.DeadGate = append(t.DeadGate, step)
		}
		return nil
	})
}

// restored brings a row of a study back with the study locked, and judges it by what the study is now: parts and units
// may have gone in the meantime.
func restored[T any, E store.Entity[T]](ctx context.Context, s *act.Service, c act.Command, id string, saw int,
	of func(E) string, check func(*store.Tx, *study.Record, E) error) (T, error) {
	row := E(new(T)) // a row never leaves its study
	err := s.DB.WithContext(ctx).Unscoped().First(row, "id = ?", id).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return *row, act.ErrNotFound
	} else if err != nil {
		return *row, err
	}
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (T, error) {
		var none T
		b, err := study.Lock(tx, of(row))
		if err != nil {
			return none, err
		}
		back, err := store.Restore[T, E](tx, id, saw)
		if err != nil {
			return none, err
		}
		return *back, check(tx, b, back)
	})
}
