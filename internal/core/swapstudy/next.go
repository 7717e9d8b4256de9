package swapstudy

import (
	"fmt"
	"maps"
	"slices"

	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
)

// Minutes of an act where no way is on record (house): a swap of one slot and of each further one, the originals put
// back, the same once more, seated anew, a reset or flash with its control, a slot left off, a calibration, a step of
// the dead gate.
const (
	swapMinutes      = 14.0
	slotMinutes      = 4.0
	controlMinutes   = 12.0
	repeatMinutes    = 9.0
	reseatMinutes    = 11.0
	restoreMinutes   = 20.0
	offMinutes       = 9.0
	calibrateMinutes = 15.0
	gateMinutes      = 8.0
)

// mostNext is how many acts are listed, least the bits below which an act that brings no verdict nearer is not.
const (
	mostNext = 8
	least    = 0.005
)

// proposed is a candidate with the act that it is. With After it stands for what a restore would make possible.
type proposed struct {
	question diagnose.Candidate
	act      Next
	after    bool
}

type proposals []proposed

func (p proposals) questions() []diagnose.Candidate {
	list := make([]diagnose.Candidate, len(p))
	for i, a := range p {
		list[i] = a.question
	}
	return list
}

// offer collects the acts that may come next.
type offer struct {
	r     *reader
	s     *ledger.Study
	h     ledger.History
	moved []ledger.Piece
	list  proposals
}

// candidates are every slot alone, declared mates together, the whole board, the originals put back, the same trial again
// and seated anew, a restore of a board that is not back, a slot left off, a calibration, and the cells that a factor
// table lacks, on every board of the build.
func (r *reader) candidates(s *ledger.Study, h ledger.History) proposals {
	for _, u := range r.in.Units {
		for _, slot := range r.slots {
			s.Movable = append(s.Movable, ledger.Piece{Slot: slot, Unit: u.Name, Model: r.model(u.Name)})
		}
	}
	o := &offer{r: r, s: s, h: h, moved: s.Moved(h)}
	for i, u := range r.in.Units {
		if h.Builds[u.Name] != s.Build {
			continue
		}
		for k := 1; k < min(4, len(r.in.Units)); k++ {
			o.swaps(u.Name, r.in.Units[(i+k)%len(r.in.Units)].Name)
		}
		o.alone(u.Name)
	}
	return o.list
}

func (o *offer) pieces(from string, slots []string) []ledger.Piece {
	var list []ledger.Piece
	for _, slot := range slots {
		list = append(list, ledger.Piece{Slot: slot, Unit: from, Model: o.r.model(from)})
	}
	return list
}

// add proposes an act on a board with these pieces; refit: seated anew.
func (o *offer) add(n Next, pieces []ledger.Piece, refit, after bool) *proposed {
	b := o.r.board(n.Board)
	states := map[string]string{}
	for _, p := range pieces {
		if st := ledger.State(b, o.h.Entries[n.Board], p); st != "own" {
			states[p.Slot] = st
		}
	}
	setup := o.s.Setup(o.h, b, states, pieces, o.moved)
	setup.Atoms = append(setup.Atoms, o.h.Ahead(b, o.s.Slots, pieces, refit)...)
	c := diagnose.Candidate{ID: fmt.Sprintf("c%d", len(o.list)), Minutes: n.Minutes, Unit: n.Board, Setup: setup}
	if !after { // what the guard would throw away is worth nothing
		c.Blind = slices.Sorted(maps.Keys(o.h.Sticky[n.Board]))
	}
	n.Slots = append([]string{}, n.Slots...)
	o.list = append(o.list, proposed{c, n, after})
	return &o.list[len(o.list)-1]
}

func (o *offer) swaps(board, from string) {
	sets := [][]string{}
	for _, slot := range o.r.slots {
		sets = append(sets, []string{slot})
	}
	for _, m := range slices.Concat(o.s.Mates, o.s.Both) {
		sets = append(sets, m[:])
	}
	if len(o.r.slots) > 2 {
		sets = append(sets, o.r.slots)
	}
	for _, set := range sets {
		minutes := swapMinutes + slotMinutes*float64(len(set)-1)
		if len(set) == len(o.r.slots) {
			minutes = min(minutes, 2*swapMinutes)
		}
		n := Next{Act: "swap", Board: board, From: from, Slots: set, Minutes: minutes}
		o.add(n, o.pieces(from, set), false, false)
		if len(o.h.Sticky[board]) > 0 {
			n.Act, n.Minutes, n.From = "restore", minutes+restoreMinutes, ""
			if o.s.Restored(board) { // done already: a control shows whether it helped
				n.Act, n.Minutes, n.From = "control", minutes+controlMinutes, board
			}
			o.add(n, o.pieces(from, set), false, true)
		}
	}
	f := o.r.in.Ask.Factors
	if f == nil || !o.r.check[f.Check] || slices.ContainsFunc(f.Slots, func(slot string) bool {
		return !slices.Contains(o.r.slots, slot)
	}) {
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
		p := o.add(Next{Act: "factor cell", Board: board, From: from, Slots: set, Why: "cell",
			Minutes: swapMinutes + slotMinutes*float64(max(0, len(set)-1))}, o.pieces(from, set), false, false)
		p.question.Grades = 1
	}
}

// alone are the acts that need no other phone.
func (o *offer) alone(board string) {
	var last *ledger.Derived
	for i := range o.h.Trials {
		if d := &o.h.Trials[i]; d.Board.Unit == board {
			last = d
		}
	}
	if len(o.h.Trials) > 0 { // on a board without trials it is the home check of what was taken from it
		o.add(Next{Act: "control", Board: board, From: board, Minutes: controlMinutes}, nil, false, false)
	}
	if last != nil {
		var slots []string
		for _, p := range last.Pieces {
			slots = append(slots, p.Slot)
		}
		slices.Sort(slots)
		o.add(Next{Act: "repeat", Board: board, Slots: slots, Minutes: repeatMinutes}, last.Pieces, false, false)
		if len(slots) > 0 {
			o.add(Next{Act: "reseat", Board: board, Slots: slots, Minutes: reseatMinutes}, last.Pieces, true, false)
		}
		for slot, st := range last.States {
			if st != "stranger" {
				continue
			}
			p := o.add(Next{Act: "calibrate", Board: board, Slots: []string{slot}, Minutes: calibrateMinutes}, last.Pieces,
				false, false)
			p.question.Irreversible = true
			p.question.State = maps.Clone(p.question.State)
			p.question.State[slot] = "adopted"
		}
	}
	if len(o.r.in.Units) < 2 {
		for _, slot := range o.r.slots {
			o.add(Next{Act: "leave off", Board: board, Slots: []string{slot}, Minutes: offMinutes},
				[]ledger.Piece{{Slot: slot, Origin: ledger.Off}}, false, false)
		}
	}
}

// grade counts for each act the verdicts that it brings nearer to a full eye.
func (p proposals) grade(verdicts []Verdict, h ledger.History) {
	type wish struct {
		slot, state string
		need        ledger.Condition
	}
	wishes := map[wish]bool{}
	for _, v := range verdicts {
		if v.Verdict == ledger.Unsettled || v.Eye != ledger.Half {
			continue
		}
		for _, c := range v.Missing {
			wishes[wish{v.Slot, v.State, c}] = true
		}
	}
	lastState := map[string]map[string]string{}
	donors := map[string][]string{} // slot: units whose piece was tried elsewhere
	for _, d := range h.Trials {
		lastState[d.Board.Unit] = d.States
		for _, q := range d.Pieces {
			if q.Origin == "" && q.Unit != d.Board.Unit {
				donors[q.Slot] = append(donors[q.Slot], q.Unit)
			}
		}
	}
	for i := range p {
		a := &p[i]
		most := map[ledger.Condition]int{}
		for w := range wishes {
			fits := false
			switch w.need {
			case ledger.NeedControl:
				fits = a.act.Act == "control" && lastState[a.act.Board][w.slot] == w.state
			case ledger.NeedHome:
				fits = a.act.Act == "control" && slices.Contains(donors[w.slot], a.act.Board)
			case ledger.NeedRepeat:
				fits = a.act.Act == "swap" && a.question.State[w.slot] == w.state && len(a.question.Blind) == 0
			case ledger.NeedAlone, ledger.NeedIsolated:
				fits = a.act.Act == "swap" && len(a.question.State) == 1 && a.question.State[w.slot] == w.state &&
					len(a.question.Blind) == 0
			}
			if fits {
				a.question.Grades++
				most[w.need]++
			}
		}
		needs := slices.Sorted(maps.Keys(most))
		if len(needs) > 0 && a.act.Why == "" { // what most verdicts need of it
			a.act.Why = string(slices.MaxFunc(needs, func(x, y ledger.Condition) int { return most[x] - most[y] }))
		}
	}
}

// gates are the steps of the dead gate that boards wait for.
func (r *reader) gates(h ledger.History) []Next {
	list := []Next{}
	for _, u := range r.in.Units {
		var last *ledger.Derived
		for i := range h.Trials {
			if d := &h.Trials[i]; d.Board.Unit == u.Name {
				last = d
			}
		}
		if last == nil {
			continue
		}
		for _, why := range last.Skips {
			if why.Why == ledger.DeadGated {
				list = append(list, Next{Act: "gate", Board: u.Name, Slots: []string{}, Minutes: gateMinutes,
					Why: why.Missing[0]})
				break
			}
		}
	}
	return list
}

// next ranks the acts by bits per minute over the checks in focus, then by the verdicts that they bring nearer. A restore
// is worth what it makes possible. A board that waits at the dead gate comes first.
func (r *reader) next(acts proposals, h ledger.History, q diagnose.Input) ([]Next, error) {
	list := r.gates(h)
	ask := plainIDs(q)
	ask.Brief = true
	for i := range ask.Candidates {
		ask.Candidates[i].Grades = acts[i].question.Grades
		ask.Candidates[i].Irreversible = acts[i].question.Irreversible
	}
	if f := r.in.Ask.Focus; len(f) > 0 {
		ask.Checks = f
		for i := range ask.Candidates {
			ask.Candidates[i].Blind = slices.DeleteFunc(slices.Clone(ask.Candidates[i].Blind),
				func(c string) bool { return !slices.Contains(f, c) })
		}
		ask.Trials = slices.Clone(ask.Trials)
		for i, t := range ask.Trials {
			results := map[string]string{}
			for _, c := range f {
				if v, known := t.Results[c]; known {
					results[c] = v
				}
			}
			ask.Trials[i].Results = results
		}
	}
	ans, err := diagnose.Run(ask)
	if err != nil {
		return nil, err
	}
	bits := map[string]float64{}
	for _, n := range ans.Next {
		bits[n.ID] = n.Bits
	}
	restored := map[string]bool{}
	for _, n := range ans.Next {
		k := slices.IndexFunc(acts, func(a proposed) bool { return a.question.ID == n.ID })
		x := acts[k].act
		x.Bits = n.Bits
		if acts[k].after {
			// the exchange before it in the list is the same without the restore
			if x.Bits -= bits[acts[k-1].question.ID]; x.Bits < least || restored[x.Board] {
				continue
			}
			restored[x.Board] = true
			x.Slots, x.Minutes, x.Why = []string{}, restoreMinutes, "not back at baseline"
			if x.Act == "control" {
				x.Minutes = controlMinutes
			}
		}
		if x.Bits >= least || acts[k].question.Grades > 0 {
			list = append(list, x)
		}
	}
	return list[:min(mostNext, len(list))], nil
}
