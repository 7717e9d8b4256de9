package culprit

import (
	"cmp"
	"math"
	"slices"

	"waryowl/internal/core/ledger"
)

// mostLeftOut is the mass of sets of explanations that may stay unweighed (house); above it nothing of a check is settled.
const mostLeftOut = 0.01

// mask is a set of up to 128 kinds of reading: those in which something strikes for sure.
type mask [2]uint64

func (m mask) or(o mask) mask      { return mask{m[0] | o[0], m[1] | o[1]} }
func (m mask) has(i int) bool      { return m[i/64]&(1<<(i%64)) != 0 }
func (m *mask) add(i int)          { m[i/64] |= 1 << (i % 64) }
func (m mask) without(o mask) mask { return mask{m[0] &^ o[0], m[1] &^ o[1]} }
func (m mask) empty() bool         { return m[0]|m[1] == 0 }

// kind is a kind of reading: those in which the same explanations are at work, with the same result.
type kind struct {
	lost, piece bool
	vague       bool // something foreign sat there, of which the reading says nothing
	n           int  // of how many readings
}

// class are explanations that are at work in the same readings with the same strength: they cannot be told apart here. Odds is
// that of at least one of them: Π(1 + oᵢ) − 1.
type class struct {
	at      mask
	half    bool
	odds    float64
	list    []int     // kinds of reading, of a half
	members []int     // numbers of explanations
	each    []float64 // their odds
}

// posterior is the weighing of one check: the mass of every mask that sets of classes can cover, layer by layer.
type posterior struct {
	noise   noise
	kinds   []kind
	lost    mask // kinds of lost readings that a set can explain
	sure    []class
	halves  []class
	layers  []layer // mass of the sets of the classes before i, by what they cover
	ways    [][]int // sets of halves, at most three
	wayOdds []float64
	z       float64
	left    float64
	drawn   []draw
	kindOf  []int // per reading of the check: its kind, −1 where nothing open is at work
	hit     []float64
	soft    [][4]float64
	ends    [][]float64     // per mask of the last layer and set of halves: likelihood relative to nothing struck
	shared  map[int]float64 // marginals, once asked for
	of      map[int][2]int  // class of an explanation: 0 sure or 1 half, number
}

// chance is the log likelihood of the readings of a kind where something strikes for sure, or h halves do.
func (k kind) chance(n noise, sure bool, h int) float64 {
	q := math.Pow(halfStrength, float64(h))
	if sure {
		q = 0
	}
	lossy := (1-q)*(1-n.pass) + q*n.loss
	if k.vague && k.lost && q > 0 { // nobody knows what a state did there
		lossy = (1-q)*(1-n.pass) + q*.5
	}
	p := lossy
	if !k.lost {
		p = 1 - lossy
	}
	return float64(k.n) * math.Log(p)
}

// lookAt gathers the readings of a check and what may explain its losses.
func (q *Question) lookAt(mark string) *Check {
	c := &Check{Mark: mark, Marginal: map[string]float64{}}
	for i := range q.configs {
		if r, ok := q.reads(i, mark); ok {
			c.readings = append(c.readings, r)
			c.Lost = c.Lost || r.lost
		}
	}
	if !c.Lost {
		return c
	}
	first := len(q.space)
	q.stuck(c)
	for i := range q.space {
		e := &q.space[i]
		if e.Kind == ledger.StuckLoss && (e.Check != mark || i < first) {
			continue
		}
		if slices.ContainsFunc(c.readings, func(r reading) bool { return r.lost && e.counts(r) }) {
			c.open = append(c.open, i)
		}
	}
	return c
}

// weigh works out what explains the losses of a check. It changes nothing but the check.
func (q *Question) weigh(c *Check) {
	c.p = q.posterior(c)
	c.LeftOut = c.p.left
	for _, i := range c.open {
		c.Marginal[q.space[i].name] = c.p.marginal(i)
	}
	c.Unexplained = q.unexplained(c)
}

// counts says whether an explanation is at work in a reading that counts for it.
func (e *explanation) counts(r reading) bool { return e.at.has(r.config) && !(r.piece && e.state) }

// stuck adds the losses that may have stayed on a board: from each counted loss to the next act that restores it.
func (q *Question) stuck(c *Check) {
	seen := false // a control of the check was lost on some board
	for _, r := range c.readings {
		seen = seen || r.lost && r.piece && len(q.configs[r.config].states) == 0
	}
	prior := priorStuck
	if seen {
		prior = priorStuckSeen
	}
	running := map[string]int{} // per board: the time since which one runs
	for _, r := range c.readings {
		k := &q.configs[r.config]
		if k.baseline || !r.lost || r.piece && len(k.states) == 0 {
			continue
		}
		if since, on := running[k.board]; on && k.restored <= since {
			continue
		}
		running[k.board] = k.time
		e := explanation{Atom: ledger.Atom{Kind: ledger.StuckLoss, Board: k.board, Check: c.Mark, Since: k.id, N: k.time}, near: prior,
			far: prior}
		e.name = e.Name()
		q.lay(&e)
		q.space = append(q.space, e)
	}
}

// posterior merges readings and explanations that nothing tells apart, and weighs the sets.
func (q *Question) posterior(c *Check) *posterior {
	p := &posterior{of: map[int][2]int{}, noise: q.noise}
	// Kinds of reading: by the open explanations at work in them.
	p.kindOf = make([]int, len(c.readings))
	kindOf := p.kindOf
	byKey := map[string]int{}
	for k, r := range c.readings {
		at := newBits(len(c.open) + 3)
		any := false
		for j, i := range c.open {
			if q.space[i].counts(r) {
				at.set(j)
				any = true
			}
		}
		kindOf[k] = -1
		if !any {
			continue
		}
		if r.lost {
			at.set(len(c.open))
		}
		vague := r.piece && len(q.configs[r.config].states) > 0
		if r.piece {
			at.set(len(c.open) + 1)
		}
		if vague {
			at.set(len(c.open) + 2)
		}
		key := at.key()
		n, known := byKey[key]
		if !known {
			if len(p.kinds) == 128 { // further readings are noise to this question
				continue
			}
			n = len(p.kinds)
			byKey[key] = n
			p.kinds = append(p.kinds, kind{lost: r.lost, piece: r.piece, vague: vague})
		}
		p.kinds[n].n++
		kindOf[k] = n
	}
	type sign struct {
		at   mask
		half bool
	}
	classes := map[sign]int{}
	var all []class
	for _, i := range c.open {
		e := &q.space[i]
		var at mask
		for k, r := range c.readings {
			if kindOf[k] >= 0 && e.counts(r) {
				at.add(kindOf[k])
			}
		}
		s := sign{at, e.half}
		n, known := classes[s]
		if !known {
			n = len(all)
			classes[s] = n
			all = append(all, class{at: at, half: e.half})
		}
		prior := q.prior(e, c.Mark)
		odds := prior / (1 - prior)
		all[n].members = append(all[n].members, i)
		all[n].each = append(all[n].each, odds)
	}
	for _, x := range all {
		x.odds = joint(x.each)
		if x.odds == 0 {
			continue
		}
		if x.half {
			for i := range p.kinds {
				if x.at.has(i) {
					x.list = append(x.list, i)
				}
			}
			p.halves = append(p.halves, x)
		} else {
			p.sure = append(p.sure, x)
		}
	}
	for i, k := range p.kinds {
		if k.lost {
			p.lost.add(i)
		}
	}
	p.gains()
	p.order()
	p.solve(q.effort)
	return p
}

// joint is the odds that at least one of several is there.
func joint(odds []float64) float64 {
	x := 1.0
	for _, o := range odds {
		x *= 1 + o
	}
	return x - 1
}

// order puts the classes that explain most first, so that what cannot win is seen early; and lists the sets of halves.
func (p *posterior) order() {
	score := func(x class) float64 {
		s := math.Log(x.odds)
		for i := range p.kinds {
			if x.at.has(i) {
				s += math.Log(p.hit[i])
			}
		}
		return s
	}
	for _, list := range [][]class{p.sure, p.halves} {
		slices.SortStableFunc(list, func(a, b class) int {
			return cmp.Or(cmp.Compare(score(b), score(a)), cmp.Compare(a.at[0], b.at[0]), cmp.Compare(a.at[1], b.at[1]))
		})
	}
	for n, x := range p.sure {
		for _, i := range x.members {
			p.of[i] = [2]int{0, n}
		}
	}
	for n, x := range p.halves {
		for _, i := range x.members {
			p.of[i] = [2]int{1, n}
		}
	}
	p.ways, p.wayOdds = [][]int{{}}, []float64{1}
	most := 3
	if len(p.halves) > 8 {
		most = 2
	}
	var grow func(set []int, odds float64, from int)
	grow = func(set []int, odds float64, from int) {
		for n := from; n < len(p.halves); n++ {
			next := append(slices.Clone(set), n)
			p.ways, p.wayOdds = append(p.ways, next), append(p.wayOdds, odds*p.halves[n].odds)
			if len(next) < most {
				grow(next, odds*p.halves[n].odds, n+1)
			}
		}
	}
	grow(nil, 1, 0)
}

// gains fixes what each kind of reading makes of being struck for sure, or by so many halves, relative to nothing struck.
func (p *posterior) gains() {
	p.hit, p.soft = make([]float64, len(p.kinds)), make([][4]float64, len(p.kinds))
	for i, k := range p.kinds {
		none := k.chance(p.noise, false, 0)
		p.hit[i] = math.Exp(k.chance(p.noise, true, 0) - none)
		for h := range 4 {
			p.soft[i][h] = math.Exp(k.chance(p.noise, false, h) - none)
		}
	}
}

// thirds bounds what more halves at a time than are weighed could hold.
func (p *posterior) thirds() float64 {
	most := 3
	if len(p.halves) > 8 {
		most = 2
	}
	e := make([]float64, most+2) // elementary symmetric sums of the odds
	e[0] = 1
	rest := 1.0
	for _, x := range p.halves {
		for k := most + 1; k > 0; k-- {
			e[k] += e[k-1] * x.odds
		}
		rest *= 1 + x.odds
	}
	beyond := rest
	for k := range most + 1 {
		beyond -= e[k]
	}
	if beyond < 1e-15 {
		return 0
	}
	return beyond / rest * p.z // further halves only help as much as those that are there
}

// marginal is the chance that an explanation holds.
func (p *posterior) marginal(i int) float64 {
	if x, known := p.shared[i]; known {
		return x
	}
	if p.shared == nil {
		p.shared = map[int]float64{}
	}
	p.shared[i] = p.share(i)
	return p.shared[i]
}

func (p *posterior) share(i int) float64 {
	at, known := p.of[i]
	if !known || p.z == 0 {
		return 0
	}
	var x class
	mass := 0.0
	if at[0] == 0 {
		x = p.sure[at[1]]
		now, next := &p.layers[at[1]], &p.layers[at[1]+1]
		for k, to := range now.join {
			if to >= 0 {
				mass += now.mass[k] * x.odds * next.back[to]
			}
		}
	} else {
		x = p.halves[at[1]]
		ways := slices.Clone(p.wayOdds)
		for w, set := range p.ways {
			if !slices.Contains(set, at[1]) {
				ways[w] = 0
			}
		}
		mass = p.total(p.layers[len(p.sure)].mass, func(int) []float64 { return ways })
	}
	k := slices.Index(x.members, i)
	rest := 1.0
	for j, o := range x.each {
		if j != k {
			rest *= 1 + o
		}
	}
	return math.Min(1, mass/p.z*x.each[k]*rest/x.odds)
}
