package app

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// Placed is a piece in a slot of a phone, with the state that the ledger of the phone's board derives for it.
type Placed struct {
	Piece store.Piece `json:"piece"`
	Part  string      `json:"part"`
	State string      `json:"state" doc:"own, adopted, stranger, off, copy@lot … or board"`
	Spoil string      `json:"spoil,omitempty" doc:"what damaged the piece"`
}

// Housing is one phone on the bench: its housing, the board in it, and every slot.
type Housing struct {
	UnitID      string   `json:"unit_id"`
	BoardUnitID string   `json:"board_unit_id,omitempty" doc:"unit whose board is in it; empty: none"`
	Build       string   `json:"build" doc:"on that board now"`
	StorageGB   int      `json:"storage_gb,omitempty" doc:"goes with the board"`
	Title       string   `json:"title"`
	Slots       []Placed `json:"slots" nullable:"false"`
}

// Board is the swap board: the phones, and the pieces in no slot.
type Board struct {
	BoardPartID string        `json:"board_part_id,omitempty" doc:"the part that carries the identity"`
	Housings    []Housing     `json:"housings" nullable:"false"`
	Mat         []store.Piece `json:"mat" nullable:"false"`
}

// boardPart is the main board: the part of that name, else the first of its family.
func (b *bench) boardPart() *store.Part {
	if p := b.know.partNamed("main board"); p != nil {
		return p
	}
	for i, p := range b.know.parts {
		if p.Family == "BD" {
			return &b.know.parts[i]
		}
	}
	return nil
}

// leaves lists, for each slot that is an assembly, the slots inside it.
func (b *bench) leaves() map[string][]string {
	in := map[string][]string{}
	for _, p := range b.know.parts {
		if q := b.know.partNamed(p.Inside); p.Slot && p.Inside != "" && q != nil && q.Slot {
			in[q.Name] = append(in[q.Name], p.Name)
		}
	}
	return in
}

// slots lists the slots that hold pieces of their own: not the assemblies.
func (b *bench) slots() []store.Part {
	in := b.leaves()
	list := []store.Part{}
	for _, p := range b.know.parts {
		if p.Slot && len(in[p.Name]) == 0 {
			list = append(list, p)
		}
	}
	return list
}

// arrangement says which piece sits where: per housing and id of the part.
type arrangement struct {
	at  map[string]map[string]store.Piece
	mat []store.Piece
}

// arrange replays all moves from the phones as they were built.
func (b *bench) arrange() arrangement {
	a := arrangement{at: map[string]map[string]store.Piece{}, mat: []store.Piece{}}
	parts := b.slots()
	if p := b.boardPart(); p != nil && !p.Slot {
		parts = append(parts, *p)
	}
	for _, u := range b.units {
		a.at[u.ID] = map[string]store.Piece{}
		for _, p := range parts {
			a.at[u.ID][p.ID] = store.Piece{PartID: p.ID, Origin: "unit", UnitID: u.ID}
		}
	}
	leaves := b.leaves()
	for _, act := range b.acts {
		for _, m := range act.Moves {
			part, ok := b.know.part[m.PartID]
			if !ok {
				continue
			}
			ids := []string{part.ID}
			if inner := leaves[part.Name]; len(inner) > 0 {
				ids = nil
				for _, name := range inner {
					ids = append(ids, b.know.partNamed(name).ID)
				}
			}
			for _, id := range ids {
				p := m.Piece
				p.PartID = id
				a.move(p, m.ToUnitID)
			}
		}
	}
	return a
}

// move takes a piece from wherever it is; what sits in its new slot goes to the mat, so that nothing is in two places.
func (a *arrangement) move(p store.Piece, to string) {
	for unit, slots := range a.at {
		if slots[p.PartID] == p {
			delete(a.at[unit], p.PartID)
		}
	}
	a.mat = slices.DeleteFunc(a.mat, func(q store.Piece) bool { return q == p })
	if to == "" {
		a.mat = append(a.mat, p)
		return
	}
	if old, taken := a.at[to][p.PartID]; taken {
		a.mat = append(a.mat, old)
	}
	if a.at[to] != nil {
		a.at[to][p.PartID] = p
	}
}

// boardIn is the unit whose board sits in a housing, empty when there is none.
func (b *bench) boardIn(a arrangement, housing string) string {
	p := b.boardPart()
	if p == nil {
		return housing
	}
	return a.at[housing][p.ID].UnitID
}

// fitted lists what is not the board's own in a housing, as a trial names it.
func (b *bench) fitted(a arrangement, housing, board string) []store.Piece {
	pieces := []store.Piece{}
	for _, p := range b.slots() {
		if bp := b.boardPart(); bp != nil && bp.ID == p.ID {
			continue
		}
		q, here := a.at[housing][p.ID]
		switch {
		case !here:
			pieces = append(pieces, store.Piece{PartID: p.ID, Origin: ledger.Off})
		case q.Origin != "unit" || q.UnitID != board:
			pieces = append(pieces, q)
		}
	}
	return pieces
}

func (b *bench) swapBoard(h ledger.History) Board {
	a := b.arrange()
	v := Board{Housings: []Housing{}, Mat: a.mat}
	main := b.boardPart()
	if main != nil {
		v.BoardPartID = main.ID
	}
	for _, u := range b.units {
		unit := b.boardIn(a, u.ID)
		x := Housing{UnitID: u.ID, BoardUnitID: unit, Slots: []Placed{}}
		if unit != "" {
			x.Build, x.StorageGB = first(h.Builds[unit], b.unit[unit].Build), b.unit[unit].StorageGB
			x.Title = b.named(unit, u.ID, b.statesOf(h, unit, b.fitted(a, u.ID, unit)), len(b.slots()))
		} else {
			x.Title = u.Name + " housing without a board"
		}
		for _, p := range b.slots() {
			q, here := a.at[u.ID][p.ID]
			if !here {
				q = store.Piece{PartID: p.ID, Origin: ledger.Off}
			}
			st := "off"
			if here {
				st = ledger.State(b.board(unit), h.Entries[unit], b.piece(q))
			}
			x.Slots = append(x.Slots, Placed{q, p.Name, st, h.Damaged[b.piece(q).ID()]})
		}
		if main != nil && !main.Slot {
			q, here := a.at[u.ID][main.ID]
			if !here {
				q = store.Piece{PartID: main.ID, Origin: ledger.Off}
			}
			x.Slots = append(x.Slots, Placed{Piece: q, Part: main.Name, State: "board"})
		}
		v.Housings = append(v.Housings, x)
	}
	return v
}

// statesOf derives the states of pieces on a board as its ledger stands now.
func (b *bench) statesOf(h ledger.History, board string, pieces []store.Piece) map[string]string {
	states := map[string]string{}
	for _, p := range pieces {
		q := b.piece(p)
		if st := ledger.State(b.board(board), h.Entries[board], q); st != "own" {
			states[q.Slot] = st
		}
	}
	return states
}

// named says a configuration, board first: "PINE board in AMBER housing: 12 strangers, 2 own".
func (b *bench) named(board, housing string, states map[string]string, slots int) string {
	count := map[string]int{}
	for _, st := range states {
		kind, _, _ := strings.Cut(st, "@")
		count[kind]++
	}
	parts := []string{}
	for _, kind := range []string{"stranger", "adopted", "copy", "foreign", "unknown", "off"} {
		if n := count[kind]; n > 0 {
			word := kind
			if kind == "stranger" && n > 1 {
				word = "strangers"
			}
			parts = append(parts, fmt.Sprintf("%d %s", n, word))
		}
	}
	if len(parts) == 0 {
		parts = []string{"every piece its own"}
	} else if own := slots - len(states); own > 0 {
		parts = append(parts, fmt.Sprintf("%d own", own))
	}
	name := b.unit[board].Name + " board"
	if housing != "" && housing != board {
		name += " in " + b.unit[housing].Name + " housing"
	}
	return name + ": " + strings.Join(parts, ", ")
}

// AddSwapAct records something done between trials. An irreversible act asks first: understood must be set, and the refusal says
// what can no longer be learned.
func (s *Service) AddSwapAct(ctx context.Context, c Command, study, id string, f store.SwapActFacts, understood bool) (store.SwapAct, error) {
	return Do(ctx, s, c, 201, func(tx *store.Tx) (store.SwapAct, error) {
		a := store.SwapAct{Row: store.Row{ID: id}, StudyID: study}
		b, err := lockStudy(tx, study)
		if err != nil {
			return a, err
		}
		if err := b.checkAct(&f); err != nil {
			return a, err
		}
		if lost := b.unlearnable(f.Kind, f.BoardUnitID); !understood && ledger.Irreversible(f.Kind) {
			return a, fault.New("understood", false, "true, once you have read what cannot be undone: "+strings.Join(lost, "; "))
		}
		return b.addAct(tx, a, f)
	})
}

func (b *bench) addAct(tx *store.Tx, a store.SwapAct, f store.SwapActFacts) (store.SwapAct, error) {
	var last struct{ Seq int }
	if err := tx.DB.Unscoped().Model(&store.SwapAct{}).Select("COALESCE(MAX(seq), 0) AS seq").Where("study_id = ?", b.ID).Scan(&last).Error; err != nil {
		return a, err
	}
	a.SwapActFacts, a.Seq = f, last.Seq+1
	if n := len(b.trials); n > 0 {
		a.AfterTrial = b.trials[n-1].Seq
	}
	return a, store.Create(tx, &a)
}

// checkAct refuses what cannot be: moves of unknown pieces, acts on no board, a build that is not named.
func (b *bench) checkAct(f *store.SwapActFacts) error {
	main := b.boardPart()
	known := func(at string, p *store.Piece) error {
		part, ok := b.know.part[p.PartID]
		if !ok || !part.Slot && (main == nil || main.ID != part.ID) {
			return fault.New(at+".part_id", p.PartID, "a part of this model that takes part in swap tests, or its main board")
		}
		if p.Origin == "" {
			p.Origin = "unit"
		}
		if p.Origin == "unit" {
			return belongs(at+".unit_id", p.UnitID, b.unit, "a unit of this study")
		}
		if p.Origin == ledger.Off {
			return fault.New(at+".origin", p.Origin, "a piece; leaving a slot empty is a move to the mat")
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
			at := field("moves[%d]", i)
			if err := known(at, &f.Moves[i].Piece); err != nil {
				return err
			}
			if f.Moves[i].ToUnitID != "" {
				if err := belongs(at+".to_unit_id", f.Moves[i].ToUnitID, b.unit, "a unit of this study, or nothing for the mat"); err != nil {
					return err
				}
			}
		}
		return nil
	}
	if len(f.Moves) > 0 {
		return fault.New("moves", f.Kind, "moves only in an act of kind move")
	}
	if err := belongs("board_unit_id", f.BoardUnitID, b.unit, "the unit whose board it concerns"); err != nil {
		return err
	}
	for i := range f.Pieces {
		if err := known(field("pieces[%d]", i), &f.Pieces[i]); err != nil {
			return err
		}
	}
	switch {
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

func (b *bench) unlearnable(kind, board string) []string {
	s := b.study("")
	lost := s.Unlearnable(s.Walk(), kind, board, b.sticker)
	if len(lost) == 0 {
		lost = []string{"nothing is lost that is known, but it cannot be taken back"}
	}
	return lost
}

func (b *bench) sticker(unit string) string { return first(b.unit[unit].Name, unit) }

// DeleteSwapAct takes an act back; RestoreSwapAct brings it back.
func (s *Service) DeleteSwapAct(ctx context.Context, c Command, id string, saw int) (store.SwapAct, error) {
	return deleteRow[store.SwapAct](ctx, s, c, id, saw, nil)
}

// RestoreSwapAct brings a deleted act back.
func (s *Service) RestoreSwapAct(ctx context.Context, c Command, id string, saw int) (store.SwapAct, error) {
	return restoreRow[store.SwapAct](ctx, s, c, id, saw, nil)
}
