package swap

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// AddAct records something done between trials. An irreversible act asks first: understood must be set, and the refusal
// says what can no longer be learned.
func AddAct(ctx context.Context, s *act.Service, c act.Command, studyID, id string, f store.SwapActFacts,
	understood bool, at Placing) (PlacedAct, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (PlacedAct, error) {
		a := PlacedAct{SwapAct: store.SwapAct{Row: store.Row{ID: id}, StudyID: studyID}, Told: []string{}}
		b, err := study.Lock(tx, studyID)
		if err != nil {
			return a, err
		}
		if err := checkAct(b, &f); err != nil {
			return a, err
		}
		place, back, err := at.in(b, f.DoneAt, s.Now())
		if err != nil {
			return a, err
		}
		forGood := ledger.Irreversible(f.Kind) && (f.Kind != ledger.Calibrate || f.Accepted)
		if lost := unlearnable(b, f.Kind, f.BoardUnitID); !understood && forGood {
			return a, fault.New("understood", false,
				"true, once you have read what cannot be undone: "+strings.Join(lost, "; "))
		}
		a.SwapActFacts = f
		a.Told, err = placed(tx, b, back, func() error { return addAct(tx, &a.SwapAct, place, back) })
		return a, err
	})
}

// addAct numbers an act and puts it in its place.
func addAct(tx *store.Tx, a *store.SwapAct, place int, back bool) error {
	last, err := store.LastSeq[store.SwapAct](tx, a.StudyID)
	if err != nil {
		return err
	}
	a.Seq, a.Place = last+1, place
	if back {
		if err := store.MakeRoom(tx, a.StudyID, place); err != nil {
			return err
		}
	}
	return store.Create(tx, a)
}

// checkAct refuses what cannot be: moves of unknown pieces, acts on no board, a build that is not named.
func checkAct(b *study.Record, f *store.SwapActFacts) error {
	main := b.BoardPart()
	known := func(at string, p *store.Piece) error {
		part, ok := b.Know.PartByID[p.PartID]
		if !ok || !part.Slot && (main == nil || main.ID != part.ID) {
			return fault.New(at+".part_id", p.PartID,
				"a part of this model that takes part in swap tests, or its main board")
		}
		if p.Origin == "" {
			p.Origin = "unit"
		}
		if p.Origin == "unit" {
			return act.Belongs(at+".unit_id", p.UnitID, b.UnitByID, "a unit of this study")
		}
		if p.Origin == ledger.Off {
			return fault.New(at+".origin", p.Origin, "a piece; leaving a place empty is a move to the parts tray")
		}
		if p.Origin == store.Foreign {
			return checkForeign(b, at, *p)
		}
		if p.Lot == "" {
			return fault.New(at+".lot", p.Lot, "the delivery that the piece came with")
		}
		return nil
	}
	if f.Kind == "move" {
		if len(f.Moves) == 0 {
			return fault.New("moves", "nothing", "at least one move")
		}
		for i := range f.Moves {
			at := fmt.Sprintf("moves[%d]", i)
			if err := known(at, &f.Moves[i].Piece); err != nil {
				return err
			}
			if f.Moves[i].ToUnitID != "" {
				if err := act.Belongs(at+".to_unit_id", f.Moves[i].ToUnitID, b.UnitByID,
					"a phone of this study, or nothing for the parts tray"); err != nil {
					return err
				}
			}
		}
		return nil
	}
	if len(f.Moves) > 0 {
		return fault.New("moves", f.Kind, "moves only in an act of kind move")
	}
	if err := act.Belongs("board_unit_id", f.BoardUnitID, b.UnitByID, "the unit whose board it concerns"); err != nil {
		return err
	}
	for i := range f.Pieces {
		if err := known(fmt.Sprintf("pieces[%d]", i), &f.Pieces[i]); err != nil {
			return err
		}
	}
	for i, c := range f.Spoils {
		if c != ledger.Cosmetic && !slices.ContainsFunc(b.SwapChecks(), func(k store.Check) bool { return k.Mark == c }) {
			return fault.New(fmt.Sprintf("spoils[%d]", i), c, "the mark of a check, or cosmetic")
		}
	}
	switch {
	case len(f.Spoils) > 0 && f.Kind != ledger.Damage:
		return fault.New("spoils", f.Kind, "checks only of a damage")
	case (f.Kind == ledger.Update || f.Kind == ledger.Flash) && f.Build == "":
		return fault.New("build", f.Build, "the build that the board carries now")
	case f.Kind == ledger.Damage && (len(f.Pieces) == 0 || f.What == ""):
		return fault.New("what", f.What, "what happened, and the piece that was damaged")
	case f.Kind == ledger.Calibrate && len(f.Pieces) == 0:
		return fault.New("pieces", "nothing", "the pieces that were calibrated")
	case f.Kind == ledger.Calibrate && !f.Accepted && f.Reason == "":
		return fault.New("reason", "nothing", "why it was refused")
	}
	return nil
}

func unlearnable(b *study.Record, kind, board string) []string {
	s := b.Ledger("")
	lost := s.Unlearnable(s.Walk(), kind, board, b.Sticker)
	if len(lost) == 0 {
		lost = []string{"nothing is lost that is known, but it cannot be taken back"}
	}
	return lost
}

// DeleteAct takes an act back; RestoreSwapAct brings it back.
func DeleteAct(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.SwapAct, error) {
	return act.Delete[store.SwapAct](ctx, s, c, id, saw, nil)
}

// RestoreAct brings a deleted act back.
func RestoreAct(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.SwapAct, error) {
	return restored(ctx, s, c, id, saw, func(t *store.SwapAct) string { return t.StudyID },
		func(_ *store.Tx, b *study.Record, t *store.SwapAct) error { return checkAct(b, &t.SwapActFacts) })
}
