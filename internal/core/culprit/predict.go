package culprit

import (
	"math"
	"math/rand/v2"
	"slices"

	"waryowl/internal/core/ledger"
)

// uncovered is the chance that some of these kinds of lost reading has nothing at work but noise.
func (p *posterior) uncovered(kinds []int) float64 {
	if p.z == 0 || len(kinds) == 0 {
		return 0
	}
	var need mask
	for _, k := range kinds {
		need.add(k)
	}
	end := p.layers[len(p.sure)]
	mass := p.total(end.mass, func(k int) []float64 {
		rest := need.without(end.keys[k])
		if rest.empty() {
			return p.wayOdds
		}
		ways := make([]float64, len(p.ways))
		for w, set := range p.ways {
			var soft mask
			for _, n := range set {
				soft = soft.or(p.halves[n].at)
			}
			if rest.without(soft).empty() {
				ways[w] = p.wayOdds[w]
			}
		}
		return ways
	})
	return math.Max(0, math.Min(1, 1-mass/p.z))
}

// unexplained is the chance that some counted loss is noise alone. A loss whose arrangement passed twice since is
// called noise and counts no more.
func (q *Question) unexplained(c *Check) float64 {
	var kinds []int
	for k, r := range c.readings {
		if n := c.p.kindOf[k]; r.lost && !r.piece && n >= 0 && !slices.Contains(kinds, n) && !q.calledNoise(c, k) {
			kinds = append(kinds, n)
		}
	}
	return c.p.uncovered(kinds)
}

// Causeless are the trials in which a check was lost with nothing at work but noise and whose arrangement has not
// passed twice since: passing twice tells that it was a misreading, being lost again that something is at work which
// is not known yet.
func (q *Question) Causeless(mark string) []*ledger.Derived {
	var out []*ledger.Derived
	c := q.Check(mark)
	for k, r := range c.readings {
		if !r.lost || r.piece || q.configs[r.config].trial == nil || q.calledNoise(c, k) {
			continue
		}
		if n := c.p.kindOf[k]; n >= 0 && c.p.uncovered([]int{n}) > unexplained {
			out = append(out, q.configs[r.config].trial)
		}
	}
	return out
}

// calledNoise says whether the arrangement of a lost reading (same board, same states) passed twice after it.
func (q *Question) calledNoise(c *Check, k int) bool {
	at := &q.configs[c.readings[k].config]
	n := 0
	for _, r := range c.readings[k+1:] {
		o := &q.configs[r.config]
		if !r.lost && !r.piece && o.board == at.board && sameStates(o.states, at.states) {
			n++
		}
	}
	return n >= 2
}

func sameStates(a, b map[string]string) bool {
	if len(a) != len(b) {
		return false
	}
	for k, v := range a {
		if b[k] != v {
			return false
		}
	}
	return true
}

// draw is one set of classes as likely as the readings make it.
type draw struct{ sure, half []int }

// draws takes sets at random, with a seed that is always the same.
func (p *posterior) draws(n int) []draw {
	if p.drawn != nil {
		return p.drawn
	}
	r := rand.New(rand.NewPCG(1, 2))
	for range n {
		var d draw
		k := int32(0)
		for i, x := range p.sure {
			now, next := &p.layers[i], &p.layers[i+1]
			with, without := x.odds*next.at(now.join[k]), next.at(now.stay[k])
			if r.Float64()*(with+without) < with {
				d.sure = append(d.sure, i)
				k = now.join[k]
			} else {
				k = now.stay[k]
			}
		}
		at := r.Float64() * p.layers[len(p.sure)].back[k]
		for w, odds := range p.wayOdds {
			if at -= odds * p.endings(int(k))[w]; at <= 0 {
				d.half = p.ways[w]
				break
			}
		}
		p.drawn = append(p.drawn, d)
	}
	return p.drawn
}

// Strike is how likely a configuration is lost: something strikes for sure, or only something that comes and goes.
type Strike struct {
	Sure, Half float64
	noise      noise
}

// Loss is the chance that the reading is lost.
func (s Strike) Loss() float64 {
	return (1-s.noise.pass)*s.Sure + .5*s.Half + s.noise.loss*(1-s.Sure-s.Half)
}

// Bits is what one reading of the configuration would tell (D. V. Lindley, "On a measure of the information provided
// by an experiment", Annals of Mathematical Statistics 27, 1956).
func (s Strike) Bits() float64 {
	rest := math.Max(0, 1-s.Sure-s.Half)
	return math.Max(0, entropy(s.Loss())-s.Sure*entropy(s.noise.pass)-s.Half*1-rest*entropy(s.noise.loss))
}

func entropy(p float64) float64 {
	if p <= 0 || p >= 1 {
		return 0
	}
	return -p*math.Log2(p) - (1-p)*math.Log2(1-p)
}

// mostExact is how many masks a check may have for its predictions to be worked out exactly; beyond it they are drawn.
const (
	mostExact = 1 << 12
	drawnSets = 1500
)

// strike predicts a check in a configuration in which these explanations are at work.
func (q *Question) strike(c *Check, at bits) Strike {
	closed, half := 1.0, 1.0
	for i := range q.space {
		if !at.has(i) {
			continue
		}
		e := &q.space[i]
		if e.Kind == ledger.StuckLoss && e.Check != c.Mark {
			continue
		}
		if c.p != nil {
			if _, open := c.p.of[i]; open {
				continue
			}
		}
		p := q.closed(c, i)
		if e.half {
			half *= 1 - p
		} else {
			closed *= 1 - p
		}
	}
	sure, soft := 0.0, 0.0
	if c.p != nil && c.p.z > 0 {
		sure, soft = c.p.struck(at)
	}
	total := 1 - (1-sure)*closed
	rest := 1 - total
	share := 0.0
	if sure < 1 {
		share = soft / (1 - sure)
	}
	return Strike{Sure: total, Half: rest * (1 - (1-share)*half), noise: q.noise}
}

// closed is what is left of an explanation that was in no counted loss: its odds shrink with every pass.
func (q *Question) closed(c *Check, i int) float64 {
	for len(c.closed) <= i {
		c.closed = append(c.closed, -1)
	}
	if c.closed[i] < 0 {
		c.closed[i] = q.closedOf(c, i)
	}
	return c.closed[i]
}

func (q *Question) closedOf(c *Check, i int) float64 {
	e := &q.space[i]
	prior := q.prior(e, c.Mark)
	if prior <= 0 {
		return 0
	}
	factor := q.noise.pass / (1 - q.noise.loss)
	if e.half {
		factor = .51
	}
	odds := prior / (1 - prior)
	for _, r := range c.readings {
		if !r.lost && e.counts(r) {
			odds *= factor
		}
	}
	return odds / (1 + odds)
}

// struck is the chance that a class strikes for sure, and that only a half does.
func (p *posterior) struck(at bits) (sure, half float64) {
	size := 0
	for _, l := range p.layers {
		size += len(l.keys)
	}
	in := func(i int) bool { return at.has(i) }
	if size <= mostExact {
		first := make(map[int]bool, len(p.of))
		for i, of := range p.of {
			first[i] = of[0] == 0
		}
		sure = p.any(func(i int) bool { return first[i] && in(i) })
		return sure, math.Max(0, p.any(in)-sure)
	}
	list := p.draws(drawnSets)
	for _, d := range list {
		none, soft := 1.0, 1.0
		for _, n := range d.sure {
			none *= p.sure[n].spared(in)
		}
		for _, n := range d.half {
			soft *= p.halves[n].spared(in)
		}
		sure += 1 - none
		half += none * (1 - soft)
	}
	return sure / float64(len(list)), half / float64(len(list))
}

// spared is the chance that none of the members that are at work is there, given that the class is.
func (x class) spared(in func(int) bool) float64 {
	odds, some := 1.0, false
	for k, i := range x.members {
		if in(i) {
			some = true
		} else {
			odds *= 1 + x.each[k]
		}
	}
	if !some {
		return 1
	}
	return (odds - 1) / x.odds
}

// Ahead are the explanations at work in a configuration that may be tried: these pieces on a board in a housing;
// refit are the slots that are seated anew, reset says that the board is restored before.
func (q *Question) Ahead(b ledger.Board, housing string, pieces []ledger.Piece, refit []string, reset bool) bits {
	c := q.planned(b, housing, pieces)
	if reset || q.s.Restored(b.Unit) {
		c.restored = c.time
	}
	c.fits = q.h.FitsAhead(b, housing, q.s.Slots, pieces, refit)
	at := newBits(len(q.space))
	for i := range q.space {
		if q.space[i].works(q, &c) {
			at.set(i)
		}
	}
	return at
}

// planned is a configuration that may come next.
func (q *Question) planned(b ledger.Board, housing string, pieces []ledger.Piece) config {
	states := map[string]string{}
	for _, p := range pieces {
		if st := ledger.State(b, q.h.Entries[b.Unit], p); st != "own" {
			states[p.Slot] = st
		}
	}
	for slot := range q.h.Entries[b.Unit] {
		if !slices.ContainsFunc(pieces, func(p ledger.Piece) bool { return p.Slot == slot }) {
			states[slot] = ledger.State(b, q.h.Entries[b.Unit], ledger.Piece{Slot: slot, Unit: b.Unit, Model: b.Model})
		}
	}
	c := q.config(b, housing, pieces, states, len(q.h.Trials)+1)
	c.restored = -1
	for i := range q.configs { // what was done to the board, and what stays fitted stays ended
		if o := &q.configs[i]; o.board == b.Unit && !o.baseline {
			c.restored = o.restored
			for slot, p := range c.piece {
				if o.piece[slot] == p {
					c.ended[slot] = o.ended[slot]
				}
			}
		}
	}
	return c
}
