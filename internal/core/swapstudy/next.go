package swapstudy

import (
	"maps"
	"slices"
	"strings"

	"waryowl/internal/core/culprit"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/trade"
)

// mostNext is how many acts are listed; leastBits below which an act that brings no verdict nearer is not; stuckFirst
// from what chance on a loss that stays is brought back before anything else (house).
const (
	mostNext   = 8
	leastBits  = 0.04
	stuckFirst = 0.25
)

// LossWithoutCause is why an arrangement is tried once more that was lost with nothing at work but noise.
const LossWithoutCause = "loss without a cause"

// option is an act that may come next.
type option struct {
	Next
	try    culprit.Try
	grades int
	first  int // 1 and up: before everything else
}

// Bench is where the boards and their pieces are now, and what an act takes there.
type Bench struct {
	Boards  []string // units whose boards are at hand, in their order
	Slots   []string // that may be exchanged
	Focus   []string // checks in question; empty: all
	Factors *Factors
	Model   func(unit string) string
	Sits    func(board string) string                  // the housing that a board sits in; empty: in none
	Fitted  func(housing, board string) []ledger.Piece // what is not the board's own in a housing
	Kind    func(slot string) string                   // catalogue kind
	All     bool                                       // list everything that may be done, not only what is worth it
	// Minutes of an act from where the pieces lie now by ways on record, and whether there are; nil: by kind.
	Minutes func(n Next, pieces []ledger.Piece) (float64, bool)
}

func (b Bench) board(unit string) ledger.Board { return ledger.Board{Unit: unit, Model: b.Model(unit)} }

// offer collects the acts that may come next. The same act on the same board with the same parts is there once; its
// reasons join.
type offer struct {
	b     Bench
	s     *ledger.Study
	h     ledger.History
	q     *culprit.Question
	focus []string
	list  []*option
	by    map[string]*option
}

// bench is that of a document: minutes by kind, from where the pieces lie.
func (r *reader) atBench() Bench {
	b := Bench{Slots: r.slots, Focus: r.in.Ask.Focus, Model: r.model, Sits: r.sits, Fitted: r.fitted, Kind: r.kind}
	for _, u := range r.in.Units {
		b.Boards = append(b.Boards, u.Name)
	}
	if f := r.in.Ask.Factors; f != nil && r.check[f.Check] && !slices.ContainsFunc(f.Slots, func(slot string) bool {
		return !slices.Contains(r.slots, slot)
	}) {
		b.Factors = f
	}
	return b
}

// Offer lists what may come next, what tells most a minute first.
func (b Bench) Offer(s *ledger.Study, h ledger.History, q *culprit.Question, verdicts []Verdict) []Next {
	o := &offer{b: b, s: s, h: h, q: q, focus: b.Focus, by: map[string]*option{}}
	if len(o.focus) == 0 {
		o.focus = s.Checks
	}
	for i, unit := range b.Boards {
		if h.Builds[unit] != s.Build || b.Sits(unit) == "" {
			continue
		}
		last := o.last(unit)
		if last != nil && o.gate(unit, last) {
			o.home(unit)
			o.again(unit, last, false)
			continue
		}
		o.home(unit)
		if o.back(unit, last) {
			continue
		}
		if last != nil {
			o.again(unit, last, o.within(unit, last))
		}
		for k := 1; k < min(4, len(b.Boards)); k++ {
			o.swaps(unit, b.Boards[(i+k)%len(b.Boards)], k == 1)
		}
		o.lone(unit)
		o.causeless(unit)
	}
	o.wish(verdicts)
	return o.rank()
}

func (o *offer) last(board string) *ledger.Derived {
	for i := len(o.h.Trials) - 1; i >= 0; i-- {
		if o.h.Trials[i].Board.Unit == board {
			return &o.h.Trials[i]
		}
	}
	return nil
}

// add puts an act on the list, or its reason to the one that is there.
func (o *offer) add(x option) *option {
	slots := slices.Clone(x.Slots)
	slices.Sort(slots)
	key := x.Act + "\x00" + x.Board + "\x00" + x.From + "\x00" + strings.Join(slots, "\x00")
	if x.Act == "factor cell" {
		key = "swap" + strings.TrimPrefix(key, "factor cell")
	}
	if old := o.by[key]; old != nil {
		old.because(x.Why)
		old.grades += x.grades
		if x.Act == "factor cell" {
			old.Act = x.Act
		}
		return old
	}
	x.Slots = append([]string{}, x.Slots...)
	x.Minutes, x.Assumed = o.b.ByKind(o.s, x.Next, x.try.Pieces), true
	p := &x
	o.by[key] = p
	o.list = append(o.list, p)
	return p
}

func (x *option) because(why string) {
	if why == "" || slices.Contains(strings.Split(x.Why, "; "), why) {
		return
	}
	if x.Why != "" {
		x.Why += "; "
	}
	x.Why += why
}

// piece is what a unit brought into a slot.
func (o *offer) piece(from, slot string) ledger.Piece {
	return ledger.Piece{Slot: slot, Unit: from, Model: o.b.Model(from)}
}

func (o *offer) pieces(from string, slots []string) []ledger.Piece {
	var list []ledger.Piece
	for _, slot := range slots {
		list = append(list, o.piece(from, slot))
	}
	return list
}

func (o *offer) try(board string, pieces []ledger.Piece) culprit.Try {
	return culprit.Try{Board: o.b.board(board), Housing: o.b.Sits(board), Pieces: pieces}
}

// gate offers the next step that is missing before a board may be called dead.
func (o *offer) gate(board string, last *ledger.Derived) bool {
	for _, c := range slices.Sorted(maps.Keys(last.Skips)) {
		if why := last.Skips[c]; why.Why == ledger.DeadGated {
			o.add(option{Next: Next{Act: "gate", Board: board, Why: why.Missing[0]}, first: 3, grades: 1})
			return true
		}
	}
	return false
}

// foreign says whether something that is not the board's own sits with it.
func (o *offer) foreign(board string) bool { return len(o.b.Fitted(o.b.Sits(board), board)) > 0 }

// home offers the control: every piece the board's own, then the checks. It is always there while something foreign
// is in.
func (o *offer) home(board string) {
	if !o.foreign(board) && len(o.h.Trials) == 0 {
		return
	}
	o.add(option{Next: Next{Act: "control", Board: board, From: board}, try: o.try(board, nil)})
}

// back offers what brings a board back on which a loss probably stays; nothing is exchanged on it before.
func (o *offer) back(board string, last *ledger.Derived) bool {
	p := o.q.Stuck(board, o.focus)
	sticky := len(o.h.Sticky[board]) > 0
	if p <= stuckFirst && !sticky {
		return false
	}
	if o.foreign(board) && !sticky {
		x := o.add(option{Next: Next{Act: "control", Board: board, From: board}, try: o.try(board, nil)})
		x.because("not back at baseline")
		x.first, x.grades = 2, x.grades+1
		return true
	}
	if o.s.Restored(board) { // done already: a control shows whether it helped
		x := o.add(option{Next: Next{Act: "control", Board: board, From: board}, try: o.try(board, nil)})
		x.because("not back at baseline")
		x.first, x.grades = 2, x.grades+1
		return true
	}
	t := o.try(board, nil)
	t.Reset = true
	o.add(option{Next: Next{Act: "restore", Board: board, Why: "not back at baseline"}, try: t, first: 2, grades: 1})
	return true
}

// within says whether the pieces fitted now were both lost and passed: then it may be the seat, and they are seated
// anew, twice at most.
func (o *offer) within(board string, last *ledger.Derived) bool {
	if len(last.States) == 0 {
		return false
	}
	lost, passed, reseats := map[string]bool{}, map[string]bool{}, 0
	for i := range o.h.Trials {
		d := &o.h.Trials[i]
		if d.Board.Unit != board || !sameSetup(d, last) {
			if d.Board.Unit == board {
				clear(lost)
				clear(passed)
			}
			continue
		}
		for _, a := range d.Before {
			if a.Kind == ledger.Reseat && a.Board == board {
				reseats++
			}
		}
		for c, r := range d.Results {
			if d.Skips[c].Why == ledger.Counts && slices.Contains(o.focus, c) {
				lost[c] = lost[c] || r == "lost" || r == "weak"
				passed[c] = passed[c] || r == "pass"
			}
		}
	}
	for c := range lost {
		if lost[c] && passed[c] {
			return reseats < 2
		}
	}
	return false
}

func sameSetup(a, b *ledger.Derived) bool { return maps.Equal(a.States, b.States) }

// again offers the last trial once more, as it lies there and seated anew.
func (o *offer) again(board string, last *ledger.Derived, reseatFirst bool) {
	if !maps.Equal(o.now(board), last.States) { // it does not lie there any more
		return
	}
	fitted := slots(last.Pieces)
	o.add(option{Next: Next{Act: "repeat", Board: board, Slots: fitted}, try: o.try(board, last.Pieces)})
	if len(fitted) == 0 {
		return
	}
	t := o.try(board, last.Pieces)
	t.Refit = fitted
	x := o.add(option{Next: Next{Act: "reseat", Board: board, Slots: fitted}, try: t})
	if reseatFirst {
		x.first, x.grades = 1, 1
		x.because("lost and passed within one fitting")
	}
}

// causeless offers the arrangement of a loss that nothing explains once more: what passes twice was a misreading.
func (o *offer) causeless(board string) {
	for _, mark := range o.focus {
		for _, d := range o.q.Causeless(mark) {
			if d.Board.Unit != board {
				continue
			}
			n := Next{Act: "swap", Board: board, Why: LossWithoutCause}
			for _, p := range d.Pieces {
				if p.Origin != "" || n.From != "" && n.From != p.Unit {
					n.From = ""
					break
				}
				n.From, n.Slots = p.Unit, append(n.Slots, p.Slot)
			}
			switch {
			case len(d.Pieces) == 0:
				n.Act, n.From = "control", board
			case maps.Equal(o.now(board), d.States):
				n.Act, n.From, n.Slots = "repeat", "", slots(d.Pieces)
			case n.From == "":
				continue
			}
			o.add(option{Next: n, try: o.try(board, d.Pieces), grades: 1})
		}
	}
}

func slots(pieces []ledger.Piece) []string {
	var list []string
	for _, p := range pieces {
		list = append(list, p.Slot)
	}
	slices.Sort(list)
	return list
}

// now are the states of what sits with a board.
func (o *offer) now(board string) map[string]string {
	states := map[string]string{}
	for _, p := range o.b.Fitted(o.b.Sits(board), board) {
		if st := ledger.State(o.b.board(board), o.h.Entries[board], p); st != "own" {
			states[p.Slot] = st
		}
	}
	for slot := range o.h.Entries[board] {
		if _, there := states[slot]; !there {
			if st := ledger.State(o.b.board(board), o.h.Entries[board], o.piece(board, slot)); st != "own" {
				states[slot] = st
			}
		}
	}
	return states
}

// swaps offers arrangements of another phone's pieces on a board: each slot, all, all but the known culprits, the
// members of pairs, and halves.
func (o *offer) swaps(board, from string, nearest bool) {
	sets := [][]string{}
	for _, slot := range o.b.Slots {
		sets = append(sets, []string{slot})
	}
	if nearest {
		if len(o.b.Slots) > 1 {
			sets = append(sets, o.b.Slots)
		}
		for _, mark := range o.focus {
			if !o.q.Check(mark).Lost {
				continue
			}
			if known := o.q.Known(mark); len(known) > 0 {
				rest := slices.DeleteFunc(slices.Clone(o.b.Slots), func(s string) bool { return slices.Contains(known, s) })
				sets = append(sets, rest)
			}
			for _, p := range o.q.Pairs(mark) {
				sets = append(sets, p[:])
			}
		}
		for _, m := range o.s.Mates {
			sets = append(sets, m[:])
		}
		for _, mark := range o.uncertain() {
			sets = append(sets, o.q.Halves(o.b.board(board), o.b.Sits(board), mark, o.b.Slots,
				func(slot string) ledger.Piece { return o.piece(from, slot) })...)
		}
	}
	for _, set := range sets {
		if len(set) == 0 {
			continue
		}
		sorted := slices.Clone(set)
		slices.SortFunc(sorted, func(a, b string) int { return slices.Index(o.b.Slots, a) - slices.Index(o.b.Slots, b) })
		pieces := o.pieces(from, sorted)
		o.add(option{Next: Next{Act: "swap", Board: board, From: from, Slots: sorted},
			try: o.try(board, pieces)})
	}
	if nearest {
		o.cells(board, from)
	}
}

// mostHalved is for how many checks sets are split.
const mostHalved = 5

// uncertain are the checks in focus of which something is open, those that are least explained first.
func (o *offer) uncertain() []string {
	var list []string
	for _, c := range o.focus {
		if o.q.Open(c) {
			list = append(list, c)
		}
	}
	return list[:min(mostHalved, len(list))]
}

// cells offers what a table that was asked for still lacks.
func (o *offer) cells(board, from string) {
	f := o.b.Factors
	if f == nil {
		return
	}
	var lacking [][]string
	for _, c := range o.s.Factors(o.h, f.Slots, f.Check, false) {
		var other []string
		for i, slot := range f.Slots {
			if c.Other[i] {
				other = append(other, slot)
			}
		}
		if len(c.Trials) == 0 {
			lacking = append(lacking, other)
		}
	}
	if len(lacking) > 2 {
		return
	}
	for _, set := range lacking {
		pieces := o.pieces(from, set)
		o.add(option{Next: Next{Act: "factor cell", Board: board, From: from, Slots: set, Why: "cell"}, try: o.try(board,
			pieces), grades: 1})
	}
}

// lone are the acts that need no other phone: a part left off where it can be read.
func (o *offer) lone(board string) {
	if len(o.b.Boards) < 2 {
		for _, slot := range o.b.Slots {
			family := o.s.Families[slot]
			if family == "SC" || family == "BD" || o.b.Kind(slot) == "battery" {
				continue // nothing is shown, or nothing starts
			}
			off := []ledger.Piece{{Slot: slot, Origin: ledger.Off}}
			t := o.try(board, off)
			for _, c := range o.focus {
				if trade.Needs(o.b.Kind(slot), c) || o.s.Concerns[c] == family {
					t.Blind = append(t.Blind, c)
				}
			}
			o.add(option{Next: Next{Act: "leave off", Board: board, Slots: []string{slot}}, try: t})
		}
	}
}

// kind is the catalogue kind of a slot.
func (r *reader) kind(slot string) string { return r.study.Kinds[slot] }
