package ledger

import (
	"fmt"
	"maps"
	"slices"
	"strings"
)

// Kinds of warning, as data keeps them: a damaged part was fitted; a part of the board's own is among another phone's.
const (
	SpoiledEvidence = "spoiled evidence"
	NotAllForeign   = "not all foreign"
)

// Cell is one setting of a factor table: for each factor whether it is other than own, and the trials that stand there.
type Cell struct {
	Other   []bool   `json:"other" nullable:"false" doc:"per factor: not the board's own"`
	Adopted []bool   `json:"adopted" nullable:"false" doc:"per factor: the board's own by calibration"`
	Trials  []string `json:"trials" nullable:"false"`
	Lost    int      `json:"lost"`
	Passed  int      `json:"passed"`
	Company []string `json:"company" nullable:"false" doc:"trials in which further parts were not own"`
}

// Factors fills the 2×2 (or 2×2×2) table of two or three slots for one check: every combination of own and other, empty
// cells included. Trials with further parts that are not own count in their cell and are named as such; slots left off
// do not belong. What the ledger names is matched: an adopted piece counts as own, and where adopted stand apart, its
// trials make a cell of their own after the others.
func (s Study) Factors(h History, slots []string, check string, apart bool) []Cell {
	var cells []Cell
	add := func(id, result string, other, adopted []bool, company bool) {
		k := slices.IndexFunc(cells, func(c Cell) bool {
			return slices.Equal(c.Other, other) && (!apart || slices.Equal(c.Adopted, adopted))
		})
		if k < 0 {
			cells = append(cells, Cell{Other: other, Adopted: adopted, Trials: []string{}, Company: []string{}})
			k = len(cells) - 1
		}
		c := &cells[k]
		switch {
		case result == "pass":
			c.Passed++
		case isLost(result):
			c.Lost++
		default:
			return
		}
		c.Trials = append(c.Trials, id)
		if company {
			c.Company = append(c.Company, id)
		}
	}
	own := make([]bool, len(slots))
	for k := range 1 << len(slots) {
		other := slices.Clone(own)
		for i := range slots {
			other[i] = k>>i&1 == 1
		}
		add("", "", other, own, false)
	}
	for _, b := range s.Baselines {
		if b.Build == s.Build {
			add(BaselineID(b.Board.Unit), b.Results[check], own, own, false)
		}
	}
	for _, d := range h.Trials {
		if r := d.Results[check]; d.Build != s.Build || d.Skips[check].Why != Counts || r != "pass" && !isLost(r) {
			continue
		}
		other, adopted := slices.Clone(own), slices.Clone(own)
		off, company := false, len(d.States)
		for i, slot := range slots {
			st := d.States[slot]
			off, adopted[i] = off || st == "off", st == "adopted"
			if other[i] = st != "" && st != "adopted"; other[i] || adopted[i] {
				company--
			}
		}
		if !off {
			add(d.ID, d.Results[check], other, adopted, company > 0)
		}
	}
	return cells
}

// Warning is a guard that is shown before anyone draws a conclusion.
type Warning struct {
	Kind string `json:"kind" enum:"not back at baseline,spoiled evidence,dead gate,builds differ,not all foreign,last control,halt,connector differs,connector worn"`
	Text string `json:"text"`
}

// Warnings lists the guards that stand now. name says what a board is called.
func (s Study) Warnings(h History, name func(unit string) string) []Warning {
	list := []Warning{}
	add := func(kind, format string, args ...any) {
		list = append(list, Warning{kind, fmt.Sprintf(format, args...)})
	}
	for _, unit := range slices.Sorted(maps.Keys(h.Sticky)) {
		var lost []string
		for _, c := range slices.Sorted(maps.Keys(h.Sticky[unit])) {
			lost = append(lost, c+" since "+h.Sticky[unit][c])
		}
		if len(lost) > 0 {
			add("not back at baseline", "%s is not back at its baseline: %s. Its further trials do not count for "+
				"that until a control passes; reset or flash, then run a control.", name(unit),
				strings.Join(lost, ", "))
		}
	}
	for _, id := range slices.Sorted(maps.Keys(h.Damaged)) {
		add(SpoiledEvidence, "The %s is damaged (%s): trials with it prove nothing.", h.said(id, name),
			h.Damaged[id])
	}
	for _, what := range slices.Sorted(maps.Keys(h.Damages)) {
		if h.Damages[what] > 1 {
			add("halt", "%s for the %d. time: stop until the method changes.", what, h.Damages[what])
		}
	}
	builds := slices.Sorted(maps.Values(h.Builds))
	builds = slices.DeleteFunc(slices.Compact(builds), func(b string) bool { return b == "" })
	if len(builds) > 1 {
		add("builds differ", "The boards carry different builds (%s): a difference between them may be the "+
			"software's, and verdicts are kept apart.", strings.Join(builds, ", "))
	}
	if len(h.Marked) > 0 && len(h.Builds) > len(h.Marked) {
		for _, unit := range h.Marked {
			add("last control", "%s can no longer go back; every other unit stays as it is, as the control.",
				name(unit))
		}
	}
	if n := len(h.Trials); n > 0 {
		d := h.Trials[n-1]
		if own := s.ownIn(d); len(d.States) >= 3 && len(own) > 0 && len(own) <= 3 {
			add(NotAllForeign, "%s: not every part in it is from another phone; the %s belongs to its board.", d.ID,
				strings.Join(own, " and the "))
		}
		if d.Results["boot"] == "lost" && len(MissingGate(d.DeadGate)) > 0 {
			add(string(DeadGated), "%s does not count as dead before the start check is done; still to try: %s.", d.ID,
				strings.Join(MissingGate(d.DeadGate), ", "))
		}
	}
	return list
}

// Fickle says whether a check read otherwise in an earlier trial of the same board with the same pieces, with nothing
// done to them in between that could change it.
func (s Study) Fickle(h History, d Derived) bool {
	k := slices.IndexFunc(h.Trials, func(o Derived) bool { return o.ID == d.ID })
	now := s.fitted(d.Board, d.Pieces)
	for i := k - 1; i >= 0; i-- {
		if slices.ContainsFunc(h.Trials[i+1].Before, func(a Act) bool {
			return a.Kind == Damage || a.Board == d.Board.Unit && (a.Kind == Calibrate || a.Kind == Reseat ||
				slices.Contains(endings, a.Kind))
		}) {
			return false
		}
		o := h.Trials[i]
		if o.Board != d.Board || o.Build != d.Build || !maps.Equal(s.fitted(o.Board, o.Pieces), now) {
			continue
		}
		for c, r := range d.Results {
			if d.Skips[c].Why == Counts && o.Skips[c].Why == Counts && (isLost(r) && o.Results[c] == "pass" ||
				r == "pass" && isLost(o.Results[c])) {
				return true
			}
		}
	}
	return false
}

// ownIn lists the leaves that are the board's own in a trial.
func (s Study) ownIn(d Derived) []string {
	var own []string
	for _, slot := range s.Slots {
		if d.States[slot] == "" {
			own = append(own, slot)
		}
	}
	return own
}

// said names a damaged piece.
func (h History) said(id string, name func(string) string) string {
	if p, known := h.pieces[id]; known && p.Origin == "" {
		return p.Slot + " of " + name(p.Unit)
	}
	return id
}

// Unlearnable says what can no longer be learned once an irreversible act is done on a board: cells that were never
// seen on the build it carries now, and the entry of the ledger.
func (s Study) Unlearnable(h History, kind, unit string, name func(string) string) []string {
	if !Irreversible(kind) {
		return nil
	}
	var lost []string
	seen := map[string]bool{}
	for _, d := range h.Trials {
		if d.Build == h.Builds[unit] {
			for c, r := range d.Results {
				if r != "skipped" && d.Skips[c].Why == Counts {
					seen[c] = true
				}
			}
		}
	}
	if n := len(s.Checks) - len(seen); kind != Calibrate && n > 0 {
		what := fmt.Sprintf("%d checks were", n)
		if n == 1 {
			what = "1 check was"
		}
		lost = append(lost, fmt.Sprintf("%s never seen in a trial on build %s; on %s that can never be made up for",
			what, h.Builds[unit], name(unit)))
	}
	if kind == Calibrate {
		lost = append(lost, "the board's entry is replaced: the original then counts as from another phone and needs "+
			"calibration again, and the history marks the phone for good")
	}
	for _, other := range h.Marked {
		if other != unit {
			lost = append(lost, name(other)+" can no longer go back already: with "+name(unit)+" the last control goes")
			break
		}
	}
	return lost
}
