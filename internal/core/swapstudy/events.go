package swapstudy

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
)

// events walks the history: moves change the bench, acts wait for the next trial.
func (r *reader) events() error {
	var before []ledger.Act
	ids := map[string]bool{}
	for i, e := range r.in.Events {
		at := fmt.Sprintf("events[%d]", i)
		switch {
		case e.Move != nil && e.Trial == nil && e.Act == nil:
			if err := r.move(at+".move", *e.Move); err != nil {
				return err
			}
		case e.Trial != nil && e.Move == nil && e.Act == nil:
			t := *e.Trial
			if t.ID == "" || ids[t.ID] {
				return fault.New(at+".trial.id", t.ID, "an id that no other trial has")
			}
			ids[t.ID] = true
			lt, err := r.trial(at+".trial", t)
			if err != nil {
				return err
			}
			lt.Before, before = before, nil
			r.study.Trials = append(r.study.Trials, lt)
		case e.Act != nil && e.Move == nil && e.Trial == nil:
			a, err := r.act(at+".act", *e.Act)
			if err != nil {
				return err
			}
			before = append(before, a)
		default:
			return fault.New(at, "none or several", "one of move, trial and act")
		}
	}
	r.study.After = before
	return nil
}

// piece is the piece of a slot that from names: a unit's own, a copy or one of unknown origin.
func (r *reader) piece(at, slot, from string) (ledger.Piece, error) {
	if _, known := r.unit[from]; known {
		return ledger.Piece{Slot: slot, Unit: from, Model: r.model(from)}, nil
	}
	for _, o := range []string{ledger.Copy, ledger.Unknown} {
		if lot, ok := strings.CutPrefix(from, o+" "); ok && lot != "" {
			return ledger.Piece{Slot: slot, Origin: o, Lot: lot}, nil
		}
	}
	return ledger.Piece{}, fault.New(at+".from", from, "the name of a unit, “copy LOT” or “unknown LOT”")
}

func (r *reader) move(at string, m Move) error {
	if m.To != "mat" {
		if _, known := r.unit[m.To]; !known {
			return fault.New(at+".to", m.To, "the name of a unit, or mat")
		}
	}
	to := m.To
	if to == "mat" {
		to = ""
	}
	if m.Slot == mainBoard {
		if _, known := r.unit[m.From]; !known {
			return fault.New(at+".from", m.From, "the name of a unit")
		}
		r.boards.Move(mainBoard, m.From, to)
		return nil
	}
	if len(r.leaves[m.Slot]) == 0 && !slices.Contains(r.slots, m.Slot) {
		return fault.New(at+".slot", m.Slot, "a slot of the model, or its main board")
	}
	for _, slot := range ledger.Expanded(m.Slot, r.leaves) {
		p, err := r.piece(at, slot, m.From)
		if err != nil {
			return err
		}
		r.bench.Move(slot, p, to)
	}
	return nil
}

// sits is the housing in which a board sits, "" for none.
func (r *reader) sits(board string) string {
	for _, u := range r.in.Units {
		if r.boards.At[u.Name][mainBoard] == board {
			return u.Name
		}
	}
	return ""
}

// fitted lists what is not the board's own in a housing.
func (r *reader) fitted(housing, board string) []ledger.Piece {
	var list []ledger.Piece
	for _, slot := range r.slots {
		p, here := r.bench.At[housing][slot]
		switch {
		case !here:
			list = append(list, ledger.Piece{Slot: slot, Origin: ledger.Off})
		case p.Origin != "" || p.Unit != board:
			list = append(list, p)
		}
	}
	return list
}

func (r *reader) trial(at string, t Trial) (ledger.Trial, error) {
	var none ledger.Trial
	if _, known := r.unit[t.Board]; !known {
		return none, fault.New(at+".board", t.Board, "the name of a unit")
	}
	sits := r.sits(t.Board)
	if sits == "" {
		return none, fault.New(at+".board", t.Board, "a board that sits in a housing")
	}
	if t.Housing != "" && t.Housing != sits {
		return none, fault.New(at+".housing", t.Housing, "the housing in which the board sits: "+sits)
	}
	lt := ledger.Trial{ID: t.ID, Board: r.board(t.Board), Housing: sits, Build: r.build[t.Board], Pieces: r.fitted(sits, t.Board),
		DeadGate: t.DeadGate,
		Dark:     t.DarkScreen, Results: map[string]string{}, First: map[string]string{},
		Settled: map[string][]string{}}
	for i, off := range t.Off {
		if len(r.leaves[off]) == 0 && !slices.Contains(r.slots, off) {
			return none, fault.New(fmt.Sprintf("%s.off[%d]", at, i), off, "a slot of the model")
		}
		for _, slot := range ledger.Expanded(off, r.leaves) {
			lt.Pieces = slices.DeleteFunc(lt.Pieces, func(p ledger.Piece) bool { return p.Slot == slot })
			lt.Pieces = append(lt.Pieces, ledger.Piece{Slot: slot, Origin: ledger.Off})
		}
	}
	if err := r.results(at+".results", t.Results); err != nil {
		return none, err
	}
	maps.Copy(lt.First, t.Results)
	if t.Notices != nil {
		for c := range r.check {
			if text, ok := strings.CutPrefix(c, "notice: "); ok {
				lt.First[c] = "pass"
				if slices.Contains(*t.Notices, text) {
					lt.First[c] = "lost"
				}
			}
		}
	}
	maps.Copy(lt.Results, lt.First)
	var gone []string
	readings := []map[string]string{lt.First}
	for i, l := range t.Later {
		if err := r.results(fmt.Sprintf("%s.later[%d].results", at, i), l.Results); err != nil {
			return none, err
		}
		gone = append(gone, l.After...)
		readings = append(readings, l.Results)
		for c, v := range l.Results {
			lt.Results[c] = v
			lt.Settled[c] = slices.Clone(gone)
		}
	}
	lt.Waver = ledger.Wavers(readings...)
	return lt, nil
}

func (r *reader) act(at string, a Act) (ledger.Act, error) {
	var none ledger.Act
	if !slices.Contains(actKinds, a.Kind) {
		return none, fault.New(at+".kind", a.Kind, strings.Join(actKinds, ", "))
	}
	if _, known := r.unit[a.Board]; !known {
		return none, fault.New(at+".board", a.Board, "the name of a unit")
	}
	out := ledger.Act{Kind: a.Kind, Board: a.Board, Accepted: a.Accepted, Build: a.Build, What: a.What, Checks: a.Checks}
	if a.Kind == "restore" {
		out.Kind = ledger.Reset
	}
	housing := r.sits(a.Board)
	out.Housing = housing
	if a.Kind == ledger.Damage {
		housing = a.Board
	}
	for i, c := range a.Checks {
		if !r.check[c] && c != "cosmetic" {
			return none, fault.New(fmt.Sprintf("%s.checks[%d]", at, i), c, "the mark of a check, or cosmetic")
		}
	}
	for i, name := range a.Slots {
		if len(r.leaves[name]) == 0 && !slices.Contains(r.slots, name) {
			return none, fault.New(fmt.Sprintf("%s.slots[%d]", at, i), name, "a slot of the model")
		}
		for _, slot := range ledger.Expanded(name, r.leaves) {
			if p, here := r.bench.At[housing][slot]; here {
				out.Pieces = append(out.Pieces, p)
			}
		}
	}
	if (a.Kind == ledger.Update || a.Kind == ledger.Flash) && a.Build != "" {
		r.build[a.Board] = a.Build
		r.came(a.Build)
	}
	return out, nil
}
