package ledger

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"waryowl/internal/core/diagnose"
)

// Priors and strength of the explanations that only what was seen brings up (house).
const (
	PriorSometimes  = 0.02   // a culprit that comes and goes
	PriorUntil      = 0.03   // a culprit until an act ends it
	PriorSince      = 0.001  // a piece that was damaged on the way, and a check of its family
	PriorSinceFar   = 0.0002 // and any other check
	PriorUndeclared = 0.005  // a pair that nobody named and that is lost only together
	SometimesHits   = 0.5    // of its trials
	StaysLost       = 10.0   // times likelier is a damaged piece of a board that stays lost with its own pieces
)

// endings are the acts that may end a loss while the same piece stays fitted.
var endings = []string{Reset, Flash, Update}

// share is how much of its readings must be lost, that something comes and goes, or is lost only together: far less than
// that is noise.
var share = map[Kind]float64{Sometimes: 0.2, Both: 0.6}

// mostOfAKind is how many explanations of a kind the readings of one check bring up, those that explain most.
const mostOfAKind = 6

// fact is one configuration of the question: a unit's baseline, or a trial; piece tells what is in each slot.
type fact struct {
	id, board string
	states    map[string]string
	piece     map[string]string
	ended     map[string]map[string]bool // per slot: acts since its piece was fitted
}

// facts are the configurations in the order of the question's trials.
func (s Study) facts(h History) []fact {
	list, known := h.facts[s.Build]
	if known {
		return list
	}
	defer func() { h.facts[s.Build] = list }()
	for _, b := range s.Baselines {
		if b.Build == s.Build {
			list = append(list, fact{id: BaselineID(b.Board.Unit), board: b.Board.Unit,
				piece: s.fitted(b.Board, nil)})
		}
	}
	ended := map[string]map[string]map[string]bool{} // per board and slot
	before := map[string]map[string]string{}
	for _, d := range h.Trials {
		for _, a := range d.Before {
			if slices.Contains(endings, a.Kind) {
				for _, acts := range ended[a.Board] {
					acts[a.Kind] = true
				}
			}
		}
		unit, now := d.Board.Unit, s.fitted(d.Board, d.Pieces)
		if ended[unit] == nil {
			ended[unit] = map[string]map[string]bool{}
		}
		f := fact{id: d.ID, board: unit, states: d.States, piece: now, ended: map[string]map[string]bool{}}
		for slot, p := range now {
			if before[unit] == nil || before[unit][slot] != p || ended[unit][slot] == nil {
				ended[unit][slot] = map[string]bool{}
			}
			f.ended[slot] = maps.Clone(ended[unit][slot])
		}
		before[unit] = now
		if d.Build == s.Build {
			list = append(list, f)
		}
	}
	return list
}

// fitted tells the piece in every slot, by its id; "" where nothing is.
func (s Study) fitted(b Board, pieces []Piece) map[string]string {
	at := map[string]string{}
	for _, slot := range s.Slots {
		at[slot] = Piece{Slot: slot, Unit: b.Unit}.ID()
	}
	for _, p := range pieces {
		if _, known := at[p.Slot]; known {
			at[p.Slot] = p.ID()
		}
	}
	return at
}

// suspicion collects what the readings of a question bring up, as explanations per trial and their priors per check.
type suspicion struct {
	s      Study
	h      History
	in     *diagnose.Input
	facts  []fact
	byID   map[string]Piece
	pieces []string   // those that sat anywhere
	sits   [][]int    // per fact, which of them sit there
	names  [][]string // per trial, of its explanations before any is brought up
	ahead  []fact     // of the candidates
	priors map[string]map[string]float64
	held   map[string][]bool // per explanation: the trials
	coming map[string][]bool // and the candidates
	where  [][]int           // per piece, the facts that it sits in
	goes   map[string][]int  // per piece, the candidates
}

// suspect adds the explanations that the readings themselves bring up: what comes and goes, pairs that are lost only
// together, pieces damaged on the way, losses that an act ended. An explanation is one only of the checks that brought
// it up. facts[i] is the configuration of in.Trials[i].
func (s Study) suspect(h History, in *diagnose.Input) {
	x := &suspicion{s: s, h: h, in: in, facts: s.facts(h), byID: map[string]Piece{},
		priors: map[string]map[string]float64{}, held: map[string][]bool{}, coming: map[string][]bool{},
		goes: map[string][]int{}}
	for _, c := range in.Candidates {
		f := fact{board: c.Unit, states: c.State, piece: c.Fitted, ended: map[string]map[string]bool{}}
		for slot, p := range c.Fitted { // what stays fitted stays ended
			for i := len(x.facts) - 1; i >= 0; i-- {
				if last := x.facts[i]; last.board == c.Unit {
					if last.piece[slot] == p {
						f.ended[slot] = last.ended[slot]
					}
					break
				}
			}
		}
		for _, p := range c.Fitted {
			if p != "" {
				x.goes[p] = append(x.goes[p], len(x.ahead))
			}
		}
		x.ahead = append(x.ahead, f)
	}
	for _, d := range h.Trials {
		for _, slot := range s.Slots {
			p := Piece{Slot: slot, Unit: d.Board.Unit, Model: d.Board.Model}
			x.byID[p.ID()] = p
		}
		for _, p := range d.Pieces {
			x.byID[p.ID()] = p
		}
	}
	number := map[string]int{}
	x.sits = make([][]int, len(x.facts))
	for i, f := range x.facts {
		for _, p := range f.piece {
			k, known := number[p]
			if p == "" {
				continue
			}
			if !known {
				k = len(x.pieces)
				number[p] = k
				x.pieces, x.where = append(x.pieces, p), append(x.where, nil)
			}
			x.sits[i], x.where[k] = append(x.sits[i], k), append(x.where[k], i)
		}
	}
	x.names = make([][]string, len(in.Trials))
	for i := range in.Trials {
		x.names[i] = in.Trials[i].AtomNames()
	}
	in.Strength = diagnose.Strength{}
	for _, c := range s.Checks {
		lost := false
		for _, t := range in.Trials {
			lost = lost || isLost(t.Results[c])
		}
		if lost {
			x.damaged(c)
			x.ended(c)
			x.contradicted(c)
		}
	}
	for i := range in.Trials {
		in.Trials[i].Atoms = slices.Grow(slices.Clone(in.Trials[i].Atoms), len(x.held))
	}
	for i := range in.Candidates { // theirs are the caller's
		in.Candidates[i].Atoms = slices.Clone(in.Candidates[i].Atoms)
	}
	for a, at := range x.held {
		fresh := in.Prior.Atoms[a] == nil // it is nowhere yet
		if fresh {
			in.Prior.Atoms[a] = map[string]float64{}
		}
		for i, here := range at {
			if here && (fresh || !slices.Contains(in.Trials[i].Atoms, a)) {
				in.Trials[i].Atoms = append(in.Trials[i].Atoms, a)
			}
		}
		for i, here := range x.coming[a] {
			if here && (fresh || !slices.Contains(in.Candidates[i].Atoms, a)) {
				in.Candidates[i].Atoms = append(in.Candidates[i].Atoms, a)
			}
		}
		for _, c := range s.Checks {
			if _, known := in.Prior.Atoms[a][c]; !known {
				in.Prior.Atoms[a][c] = x.priors[a][c]
			}
		}
	}
}

func isLost(r string) bool { return r == "lost" || r == "weak" }

// add makes an explanation one of a check, in every configuration that it speaks of, and ahead.
func (x *suspicion) add(a Atom, check string, prior float64, speaks func(fact) bool) {
	var facts, ahead []int
	for i, f := range x.facts {
		if speaks(f) {
			facts = append(facts, i)
		}
	}
	for i, f := range x.ahead {
		if speaks(f) {
			ahead = append(ahead, i)
		}
	}
	x.addAt(a, check, prior, facts, ahead)
}

// addAt is add with the numbers of the configurations.
func (x *suspicion) addAt(a Atom, check string, prior float64, facts, ahead []int) {
	name := x.h.atoms.name(a)
	if x.priors[name] == nil {
		x.priors[name], x.held[name], x.coming[name] = map[string]float64{}, make([]bool, len(x.facts)),
			make([]bool, len(x.ahead))
	}
	x.priors[name][check] = prior
	for _, i := range facts {
		x.held[name][i] = true
	}
	for _, i := range ahead {
		x.coming[name][i] = true
	}
	if a.Kind == Sometimes {
		x.in.Strength[name] = SometimesHits
	}
}

// damaged finds the pieces that may have been hurt on the way without a word: lost at every reading since they last
// passed, wherever they sit, their own phone included.
func (x *suspicion) damaged(c string) {
	since, passed := make([]int, len(x.pieces)), make([]bool, len(x.pieces)) // since: number of the trial + 1
	for i, t := range x.in.Trials {
		r := t.Results[c]
		for _, p := range x.sits[i] {
			if r == "pass" {
				passed[p], since[p] = true, 0
			} else if isLost(r) && since[p] == 0 {
				since[p] = i + 1
			}
		}
	}
	for n, p := range x.pieces {
		from := since[n] - 1
		if from < 0 {
			continue
		}
		piece, known := x.byID[p]
		if !known || !passed[n] && slices.Contains(x.in.Trials[from].Atoms, Atom{Kind: BadPiece, Piece: piece}.Name()) {
			continue // it may have been bad from the start, which is an explanation already
		}
		prior := PriorSinceFar
		if f := x.s.Families[piece.Slot]; f == "" || f == x.s.Concerns[c] {
			prior = PriorSince
		}
		if x.h.Sticky[piece.Unit][c] != "" { // lost with every piece its own: that speaks for one of them
			prior *= StaysLost
		}
		later := x.where[n]
		later = later[slices.Index(later, from):]
		x.addAt(
			Atom{Kind: BadSince, Slots: []string{piece.Slot}, Piece: piece, Since: x.facts[from].id},
			c,
			prior,
			later,
			x.goes[p],
		)
	}
}

// Ended is what ended the losses of a slot in a state for a check: the act, and on which boards it was seen to.
type Ended struct {
	Act    string
	Boards []string
}

// until says which act ended the losses of a slot in a state: lost at every reading before it and at none after it, with
// the same piece fitted.
func (x *suspicion) until(slot, state, c string) Ended {
	for _, act := range endings {
		if !x.h.done[act] {
			continue
		}
		lostOn, passedOn, clean := map[string]bool{}, map[string]bool{}, true
		for i, t := range x.in.Trials {
			f, r := x.facts[i], t.Results[c]
			if f.states[slot] != state || r != "pass" && !isLost(r) {
				continue
			}
			if f.ended[slot][act] == isLost(r) {
				clean = false
			}
			if isLost(r) {
				lostOn[f.board] = true
			} else if lostOn[f.board] {
				passedOn[f.board] = true
			}
		}
		if boards := slices.Sorted(maps.Keys(passedOn)); clean && len(boards) > 0 {
			return Ended{act, boards}
		}
	}
	return Ended{}
}

func (x *suspicion) ended(c string) {
	for _, st := range States(*x.in) {
		slot, state := st[0], st[1]
		u := x.until(slot, state, c)
		if u.Act == "" {
			continue
		}
		x.add(Atom{Kind: UntilAct, Slots: []string{slot}, State: state, Act: u.Act}, c, PriorUntil,
			func(f fact) bool { return f.states[slot] == state && !f.ended[slot][u.Act] })
	}
}

// contradicted looks at lost trials of which nothing is left that never passed: something comes and goes there, or two
// parts are lost only together.
func (x *suspicion) contradicted(c string) {
	passed := map[string]bool{}
	alone := func(slot, other string) bool { // passed while the other was the board's own
		for i, t := range x.in.Trials {
			f := x.facts[i]
			if t.Results[c] == "pass" && f.states[slot] != "" && f.states[other] == "" {
				return true
			}
		}
		return false
	}
	for i, t := range x.in.Trials {
		if t.Results[c] == "pass" {
			for _, a := range x.names[i] {
				passed[a] = true
			}
		}
	}
	// One loss is noise as likely as anything: it takes two to come and go.
	count := map[string]int{}
	atoms := map[string]Atom{}
	note := func(a Atom) {
		n := a.Name()
		count[n]++
		atoms[n] = a
	}
	for i, t := range x.in.Trials {
		states := x.facts[i].states
		if !isLost(t.Results[c]) || len(states) == 0 || slices.ContainsFunc(x.names[i], func(a string) bool {
			return !passed[a] && !x.h.Atom(a).Accident() && !x.h.Atom(a).BroughtUp() && x.in.Prior.Atoms[a][c] > 0
		}) {
			continue
		}
		slots := slices.Sorted(maps.Keys(states))
		for k, slot := range slots {
			note(Atom{Kind: Sometimes, Slots: []string{slot}, State: states[slot]})
			for _, other := range slots[k+1:] {
				note(Atom{Kind: Both, Slots: []string{slot, other}})
			}
		}
	}
	names := slices.SortedFunc(maps.Keys(count), func(a, b string) int {
		return cmp.Or(cmp.Compare(count[b], count[a]), strings.Compare(a, b))
	})
	kept := map[Kind]int{}
	for _, n := range names {
		a := atoms[n]
		if count[n] < 2 || kept[a.Kind] == mostOfAKind || float64(count[n]) < share[a.Kind]*x.readings(a, c) {
			continue
		}
		switch {
		case a.Kind == Sometimes:
			x.add(a, c, PriorSometimes, func(f fact) bool { return f.states[a.Slots[0]] == a.State })
		case x.in.Prior.Atoms[n] == nil && alone(a.Slots[0], a.Slots[1]) && alone(a.Slots[1], a.Slots[0]):
			x.add(a, c, PriorUndeclared,
				func(f fact) bool { return f.states[a.Slots[0]] != "" && f.states[a.Slots[1]] != "" })
		default:
			continue
		}
		kept[a.Kind]++
	}
}

// readings counts the readings of a check with a slot in a state, or with both slots of a pair.
func (x *suspicion) readings(a Atom, c string) float64 {
	n := 0.0
	for i, f := range x.facts {
		r := x.in.Trials[i].Results[c]
		here := f.states[a.Slots[0]] != "" && (a.Kind != Sometimes || f.states[a.Slots[0]] == a.State) &&
			(a.Kind != Both || f.states[a.Slots[1]] != "")
		if here && (r == "pass" || isLost(r)) {
			n++
		}
	}
	return n
}
