package swap

import (
	"cmp"
	"slices"

	"waryowl/internal/app/study"
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

	Fitted []store.Piece `json:"fitted" nullable:"false" doc:"what is not the board's own: what a trial of it starts from"`
	Likely []string      `json:"likely" nullable:"false" doc:"checks in the order in which a trial of it is likely to lose them"`
}

// Board is the swap board: the phones, and the pieces in no slot.
type Board struct {
	BoardPartID string        `json:"board_part_id,omitempty" doc:"the part that carries the identity"`
	Housings    []Housing     `json:"housings" nullable:"false"`
	Mat         []store.Piece `json:"mat" nullable:"false"`
}

func showBoard(b *study.Record, h ledger.History) Board {
	a := b.Arrange()
	v := Board{Housings: []Housing{}, Mat: a.Mat}
	main := b.BoardPart()
	if main != nil {
		v.BoardPartID = main.ID
	}
	for _, u := range b.Units {
		unit := b.BoardIn(a, u.ID)
		x := Housing{UnitID: u.ID, BoardUnitID: unit, Slots: []Placed{}, Fitted: []store.Piece{}, Likely: []string{}}
		if unit != "" {
			x.Build, x.StorageGB = cmp.Or(h.Builds[unit], b.UnitByID[unit].Build), b.UnitByID[unit].StorageGB
			x.Fitted = b.Fitted(a, u.ID, unit)
			x.Title = b.Named(unit, u.ID, b.StatesOf(h, unit, b.Fitted(a, u.ID, unit)), len(b.Slots()))
		} else {
			x.Title = u.Name + " housing without a board"
		}
		for _, p := range b.Slots() {
			q, here := a.At[u.ID][p.ID]
			if !here {
				q = store.Piece{PartID: p.ID, Origin: ledger.Off}
			}
			st := "off"
			if here {
				st = ledger.State(b.LedgerBoard(unit), h.Entries[unit], b.Piece(q))
			}
			x.Slots = append(x.Slots, Placed{q, p.Name, st, h.Damaged[b.Piece(q).ID()]})
		}
		if main != nil && !main.Slot {
			q, here := a.At[u.ID][main.ID]
			if !here {
				q = store.Piece{PartID: main.ID, Origin: ledger.Off}
			}
			x.Slots = append(x.Slots, Placed{Piece: q, Part: main.Name, State: "board"})
		}
		v.Housings = append(v.Housings, x)
	}
	return v
}

// movesFor are the moves that bring the bench to a proposed swap: its parts exchanged between the two phones, or the
// boards, all else home.
func movesFor(b *study.Record, n NextSwap) []store.Move {
	moves := []store.Move{}
	if n.Kind == "repeat" || n.Kind == "reseat" { // as it lies there
		return moves
	}
	if n.Kind == "off" {
		for _, id := range n.PartIDs {
			piece := store.Piece{PartID: id, Origin: "unit", UnitID: n.BoardUnitID}
			moves = append(moves, store.Move{Piece: piece})
		}
		return moves
	}
	a, main := b.Arrange(), b.BoardPart()
	pair := []string{n.BoardUnitID, n.FromUnitID}
	parts := b.Slots()
	if main != nil && !main.Slot {
		parts = append(parts, *main)
	}
	for _, u := range b.Units {
		for _, p := range parts {
			crossed := slices.Contains(n.PartIDs, p.ID)
			if n.Kind == "board" {
				crossed = main != nil && main.ID == p.ID
			}
			from := u.ID
			if k := slices.Index(pair, u.ID); k >= 0 && crossed && pair[0] != pair[1] {
				from = pair[1-k]
			}
			want := store.Piece{PartID: p.ID, Origin: "unit", UnitID: from}
			if a.At[u.ID][p.ID] != want {
				moves = append(moves, store.Move{Piece: want, ToUnitID: u.ID})
			}
		}
	}
	return moves
}

// likely puts the checks of each phone in the order in which a trial of what lies there now is likely to lose them, so
// that the losses are typed one after the other and the rest is one key.
func (v *Room) likely(r Advised) {
	for i, h := range v.Board.Housings {
		if h.BoardUnitID == "" {
			continue
		}
		board := ledger.Board{Unit: h.BoardUnitID, Model: v.Model.ID}
		states, pieces := map[string]string{}, []ledger.Piece{}
		for _, s := range h.Slots {
			if s.State != "own" && s.State != "board" {
				states[s.Part] = s.State
			}
		}
		lost := map[string]float64{}
		setup := r.Study.Setup(r.History, board, states, pieces, nil)
		for _, c := range v.Checks {
			out := r.Out.Checks[c.Mark]
			q := 1.0
			for _, a := range setup.AtomNames() {
				p := r.In.Prior.Atoms[a][c.Mark]
				if out != nil {
					if m, known := out.Marginal[a]; known {
						p = m
					}
				}
				if p > 0 && !r.History.Atom(a).BroughtUp() {
					q *= 1 - p
				}
			}
			lost[c.Mark] = 1 - q
		}
		list := []string{}
		for _, c := range v.Checks {
			if !study.IsNotice(c.Mark) {
				list = append(list, c.Mark)
			}
		}
		slices.SortStableFunc(list, func(a, b string) int { return cmp.Compare(lost[b], lost[a]) })
		v.Board.Housings[i].Likely = list
	}
}
