package study

import (
	"cmp"
	"fmt"
	"strings"

	"waryowl/internal/core/ledger"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// BoardPart is the main board, which carries the identity: the part of that kind, else the first of its family.
func (b *Record) BoardPart() *store.Part {
	if p := b.Know.OfKind("main-board"); p != nil {
		return p
	}
	for i, p := range b.Know.Parts {
		if p.Family == "BD" {
			return &b.Know.Parts[i]
		}
	}
	return nil
}

// Leaves lists, for each slot that is an assembly, the slots inside it.
func (b *Record) Leaves() map[string][]string {
	in := map[string][]string{}
	for _, p := range b.Know.Parts {
		if !p.Slot || p.Inside == "" {
			continue
		}
		if q := b.Know.PartNamed(p.Inside); q != nil && q.Slot {
			in[q.Name] = append(in[q.Name], p.Name)
		}
	}
	return in
}

// Slots lists the slots that hold pieces of their own: not the assemblies.
func (b *Record) Slots() []store.Part {
	in := b.Leaves()
	list := []store.Part{}
	for _, p := range b.Know.Parts {
		if p.Slot && len(in[p.Name]) == 0 {
			list = append(list, p)
		}
	}
	return list
}

// Arrangement says which piece sits where: per housing and id of the part.
type Arrangement = *ledger.Bench[store.Piece]

// Arrange replays all moves from the phones as they were built.
func (b *Record) Arrange() Arrangement {
	a := ledger.NewBench[store.Piece]()
	parts := b.Slots()
	if p := b.BoardPart(); p != nil && !p.Slot {
		parts = append(parts, *p)
	}
	for _, u := range b.Units {
		for _, p := range parts {
			a.Build(u.ID, p.ID, store.Piece{PartID: p.ID, Origin: "unit", UnitID: u.ID})
		}
	}
	leaves := b.Leaves()
	for _, act := range b.Acts {
		for _, m := range act.Moves {
			part, ok := b.Know.PartByID[m.PartID]
			if !ok {
				continue
			}
			for _, name := range ledger.Expanded(part.Name, leaves) {
				p := m.Piece
				p.PartID = b.Know.PartNamed(name).ID
				a.Move(p.PartID, p, m.ToUnitID)
			}
		}
	}
	return a
}

// BoardIn is the unit whose board sits in a housing, empty when there is none.
func (b *Record) BoardIn(a Arrangement, housing string) string {
	p := b.BoardPart()
	if p == nil {
		return housing
	}
	return a.At[housing][p.ID].UnitID
}

// Fitted lists what is not the board's own in a housing, as a trial names it.
func (b *Record) Fitted(a Arrangement, housing, board string) []store.Piece {
	pieces := []store.Piece{}
	for _, p := range b.Slots() {
		if bp := b.BoardPart(); bp != nil && bp.ID == p.ID {
			continue
		}
		q, here := a.At[housing][p.ID]
		switch {
		case !here:
			pieces = append(pieces, store.Piece{PartID: p.ID, Origin: ledger.Off})
		case q.Origin != "unit" || q.UnitID != board:
			pieces = append(pieces, q)
		}
	}
	return pieces
}

// StatesOf derives the states of pieces on a board as its ledger stands now.
func (b *Record) StatesOf(h ledger.History, board string, pieces []store.Piece) map[string]string {
	states := map[string]string{}
	for _, p := range pieces {
		q := b.Piece(p)
		if st := ledger.State(b.LedgerBoard(board), h.Entries[board], q); st != "own" {
			states[q.Slot] = st
		}
	}
	return states
}

// Named says a configuration, board first: "PINE board in AMBER housing: 12 from another phone, 2 its own".
func (b *Record) Named(board, housing string, states map[string]string, slots int) string {
	count := map[string]int{}
	for _, st := range states {
		kind, _, _ := strings.Cut(st, "@")
		count[kind]++
	}
	parts := []string{}
	for _, kind := range []string{"stranger", "adopted", "copy", "foreign", "unknown", "off"} {
		if n := count[kind]; n > 0 {
			parts = append(parts, fmt.Sprintf("%d %s", n, strings.TrimPrefix(trade.Say("state", kind), "a ")))
		}
	}
	if len(parts) == 0 {
		parts = []string{"every piece its own"}
	} else if own := slots - len(states); own > 0 {
		parts = append(parts, fmt.Sprintf("%d its own", own))
	}
	name := b.UnitByID[board].Name + " board"
	if housing != "" && housing != board {
		name += " in " + b.UnitByID[housing].Name + " housing"
	}
	return name + ": " + strings.Join(parts, ", ")
}

// Sticker is the name of a unit, or the id of one that is unknown.
func (b *Record) Sticker(unit string) string { return cmp.Or(b.UnitByID[unit].Name, unit) }

// ForeignNow lists the parts in a unit's housing that are not the board's own.
func (b *Record) ForeignNow(unit string) []string {
	a := b.Arrange()
	ids := []string{}
	for _, p := range b.Fitted(a, unit, b.BoardIn(a, unit)) {
		ids = append(ids, p.PartID)
	}
	return ids
}
