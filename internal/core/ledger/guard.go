package ledger

import (
	"maps"
	"slices"
	"strings"
)

// Ahead lists the fittings and stuck losses that the next trial on a board would be made with; refit are the slots
// fitted anew.
func (h History) Ahead(b Board, slots []string, pieces []Piece, refit bool) []string {
	var atoms []string
	for _, slot := range slots {
		f, known := h.fits[b.Unit][slot]
		if !known || f.n == 0 || f.piece == "" {
			continue
		}
		here := Piece{Slot: slot, Unit: b.Unit}
		k := slices.IndexFunc(pieces, func(p Piece) bool { return p.Slot == slot })
		if k >= 0 {
			here = pieces[k]
		}
		if here.is(f.piece) && !(refit && k >= 0) {
			atoms = append(atoms, h.fitAtom(b.Unit, slot, f.n))
		}
	}
	for _, c := range slices.Sorted(maps.Keys(h.stuck[b.Unit])) {
		atoms = append(atoms, h.stuck[b.Unit][c])
	}
	return atoms
}

// FitsAhead lists the fittings that the next trial on a board in a housing would be made with; refit are the slots fitted anew.
func (h History) FitsAhead(b Board, housing string, slots []string, pieces []Piece, refit []string) []string {
	var atoms []string
	for _, slot := range slots {
		f, known := h.fits[housing][slot]
		if !known || f.n == 0 || f.piece == "" || slices.Contains(refit, slot) {
			continue
		}
		here := Piece{Slot: slot, Unit: b.Unit}
		if k := slices.IndexFunc(pieces, func(p Piece) bool { return p.Slot == slot }); k >= 0 {
			here = pieces[k]
		}
		if here.is(f.piece) {
			atoms = append(atoms, h.fitAtom(housing, slot, f.n))
		}
	}
	return atoms
}

// guard finds the readings of a trial that prove nothing: of a damaged piece; a loss that the board had already shown
// before it was opened; a board called dead before the gate was passed; a board that is not back at its baseline (every
// slot its own and the check lost), until a control passes again.
func (s Study) guard(h *History, d *Derived, before map[string]string, damaged []Piece,
	tried map[string][]string) {
	unit := d.Board.Unit
	for c, r := range d.Results {
		lost := r == "lost" || r == "weak"
		if !lost && r != "pass" {
			continue
		}
		since, spoiled := h.Sticky[unit][c], h.spoiled(damaged, c)
		switch {
		case spoiled.Why != Counts:
			d.Skips[c] = spoiled
		case lost && (c == "boot" || d.Dark) && len(MissingGate(d.DeadGate)) > 0:
			d.Skips[c] = Reason{Why: DeadGated, Missing: MissingGate(d.DeadGate)}
		case lost && (before[c] == "lost" || before[c] == "weak"):
			d.Skips[c] = Reason{Why: LostBefore}
		case len(d.States) == 0 && lost:
			if h.Sticky[unit] == nil {
				h.Sticky[unit] = map[string]string{}
			}
			if since == "" {
				h.Sticky[unit][c] = d.ID
			}
			d.Skips[c] = Reason{Why: NotAtBaseline}
		case len(d.States) == 0 && since != "":
			delete(h.Sticky[unit], c)
			h.Remedies = append(h.Remedies, Remedy{unit, c, since, d.ID, slices.Clone(tried[unit])})
		case since != "":
			d.Skips[c] = Reason{Why: NotAtBaseline, Since: since}
		}
	}
	if len(h.Sticky[unit]) == 0 {
		delete(tried, unit)
	}
	slices.SortFunc(h.Remedies, func(a, b Remedy) int { return strings.Compare(a.Back+a.Check, b.Back+b.Check) })
}

// Restored says that a board was reset, flashed or updated since its last trial: a control shows whether it is back.
func (s Study) Restored(board string) bool {
	ends := func(acts []Act) bool {
		return slices.ContainsFunc(acts, func(a Act) bool { return a.Board == board && slices.Contains(endings, a.Kind) })
	}
	if ends(s.After) {
		return true
	}
	for _, t := range slices.Backward(s.Trials) {
		if t.Board.Unit == board {
			return false
		}
		if ends(t.Before) {
			return true
		}
	}
	return false
}

// spoiled says whether a damaged piece in a trial spoils a check.
func (h History) spoiled(damaged []Piece, check string) Reason {
	for _, p := range damaged {
		for _, a := range h.hurts[p.ID()] {
			if a.spoils(check) {
				return Reason{Why: Spoiled, Slot: p.Slot, What: a.What}
			}
		}
	}
	return Reason{}
}

// deadGate is what is tried before a phone is called dead (common practice, no source).
var deadGate = []string{"charger", "some minutes waited", "reseated once", "reseated twice", "known-good part"}

// MissingGate lists what of the dead gate was not tried.
func MissingGate(tried []string) []string {
	var missing []string
	for _, g := range deadGate {
		if !slices.Contains(tried, g) {
			missing = append(missing, g)
		}
	}
	return missing
}

// DeadGate lists the points of the gate in their order.
func DeadGate() []string { return slices.Clone(deadGate) }
