package basket

import (
	"math"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"
)

// search is a depth-first branch and bound over the Lagrangian relaxation of the slots: with a price (multiplier) on
// each slot the sellers fall apart, and a seller's best invoice is a choice of mode with a fractional knapsack for
// its threshold. What the multipliers prove of single packs and sellers (reduced costs) is fixed before branching.
type search struct {
	p      *problem
	effort int // what is left; an evaluation of the relaxation takes price
	price  int
	lambda []float64
	best   []int
	upper  float64
	rays   [8]ray  // scratch, by mode
	open   float64 // least bound of the branches that were given up
}

// node is a part of the search: bounds of the packs, and which modes a seller may take (bit 0: none, bit k+1: mode
// k).
type node struct {
	low, high []int
	modes     []uint64
	lambda    []float64
	mean      *point
	bound     float64
}

const (
	rootSteps = 500
	nodeSteps = 50
	penny     = 1e-4 // of a minor unit: what is no better by more than that is no better
)

func newSearch(p *problem, effort int) *search {
	work := 0
	for j := range p.sellers {
		work += len(p.sellers[j].modes) * len(p.sellers[j].offers)
	}
	return &search{p: p, effort: effort, price: 1 + work/1000, upper: math.Inf(1), open: math.Inf(1)}
}

func (s *search) bound() float64 { return min(s.open, s.upper) }

func (s *search) proven() bool { return s.open >= s.upper-penny }

// run searches; start and lambda are a basket and multipliers from elsewhere.
func (s *search) run(start []int, lambda []float64) {
	p := s.p
	root := &node{low: make([]int, len(p.offers)), high: make([]int, len(p.offers)), modes: make([]uint64, len(p.sellers)),
		lambda: make([]float64, len(p.need)), bound: math.Inf(-1)}
	for i, o := range p.offers {
		root.high[i] = o.most
	}
	for j := range p.sellers {
		root.modes[j] = 1<<(len(p.sellers[j].modes)+1) - 1
	}
	for k, q := range p.need { // what the cheapest pack asks for one
		root.lambda[k] = math.Inf(1)
		for _, c := range p.by[k] {
			if o := p.offers[c.i]; o.most > 0 {
				root.lambda[k] = min(root.lambda[k], (o.price+o.extra)/float64(c.n*len(o.covers)))
			}
		}
		if q == 0 || math.IsInf(root.lambda[k], 1) {
			root.lambda[k] = 0
		}
	}
	if lambda != nil {
		copy(root.lambda, lambda)
	}
	if start != nil {
		x := slices.Clone(start)
		for i := range x {
			x[i] = min(x[i], p.offers[i].most)
		}
		s.repair(x)
	}
	if s.best == nil {
		s.repair(make([]int, len(p.offers)))
	}
	stack := []*node{root}
	for len(stack) > 0 {
		n := stack[len(stack)-1]
		stack = stack[:len(stack)-1]
		if n.bound >= s.upper-penny {
			continue
		}
		if s.effort <= 0 {
			s.open = min(s.open, n.bound)
			continue
		}
		steps := nodeSteps
		if n == root {
			steps = rootSteps
		}
		s.relax(n, steps)
		if n == root {
			s.lambda = slices.Clone(n.lambda)
		}
		if n.bound >= s.upper-penny {
			continue
		}
		stack = append(stack, s.branch(n)...)
	}
}

// settle draws the bounds of packs from the slots and the closed sellers; false when a slot cannot be filled.
func (s *search) settle(n *node) bool {
	p := s.p
	for j := range p.sellers {
		switch {
		case n.modes[j] == 0:
			return false
		case n.modes[j] == 1:
			for _, i := range p.sellers[j].offers {
				if n.high[i] = 0; n.low[i] > 0 {
					return false
				}
			}
		}
	}
	for k, q := range p.need {
		have := 0
		for _, c := range p.by[k] {
			have += c.n * n.high[c.i]
		}
		if have < q {
			return false
		}
		for _, c := range p.by[k] {
			if short := q - (have - c.n*n.high[c.i]); short > c.n*n.low[c.i] {
				n.low[c.i] = (short + c.n - 1) / c.n
			}
		}
	}
	for i, o := range p.offers {
		if n.low[i] > 0 {
			if n.modes[o.seller] &^= 1; n.modes[o.seller] == 0 {
				return false
			}
		}
		if n.low[i] > n.high[i] {
			return false
		}
	}
	return true
}

// ray is a seller's answer to the multipliers in one mode: value, packs, and the cost of one more or one fewer of
// each.
type ray struct {
	value float64
	ok    bool
	x     []float64
}

// branch splits a node where the relaxation is least sure: sellers first, then packs. The likelier child is searched
// first.
func (s *search) branch(n *node) []*node {
	p, r := s.p, n.mean
	split := func(change func(a, b *node)) []*node {
		a, b := n.copy(), n.copy()
		change(a, b)
		return []*node{b, a} // the last one is taken next
	}
	at, most := -1, 0.0
	for j := range p.sellers {
		if n.modes[j]&(n.modes[j]-1) == 0 {
			continue
		}
		if open := r.modes[j][0]; n.modes[j]&1 != 0 && min(open, 1-open) > most {
			at, most = j, min(open, 1-open)
		}
	}
	if at >= 0 && most > 0.03 {
		return split(func(a, b *node) {
			if a.modes[at], b.modes[at] = n.modes[at]&^1, 1; r.modes[at][0] > 0.5 {
				a.modes[at], b.modes[at] = b.modes[at], a.modes[at]
			}
		})
	}
	for j := range p.sellers { // which way an open seller's invoice comes out
		if n.modes[j]&(n.modes[j]-1) == 0 {
			continue
		}
		for k, v := range r.modes[j] {
			if n.modes[j]>>k&1 != 0 && v > 0.03 && min(v, 1-v) > most {
				at, most = j<<8|k, min(v, 1-v)
			}
		}
	}
	if at >= 0 && most > 0.03 {
		j, k := at>>8, at&255
		return split(func(a, b *node) {
			if a.modes[j], b.modes[j] = 1<<k, n.modes[j]&^(1<<k); r.modes[j][k] < 0.5 {
				a.modes[j], b.modes[j] = b.modes[j], a.modes[j]
			}
		})
	}
	at, most = -1, -1
	for i := range p.offers {
		if n.high[i] == n.low[i] {
			continue
		}
		f := r.x[i] - math.Floor(r.x[i])
		if f = min(f, 1-f) + 1e-6*p.offers[i].price; f > most {
			at, most = i, f
		}
	}
	if at >= 0 {
		cut := min(max(int(math.Floor(r.x[at])), n.low[at]), n.high[at]-1)
		return split(func(a, b *node) {
			if a.high[at], b.low[at] = cut, cut+1; r.x[at]-float64(cut) > 0.5 {
				a.high[at], a.low[at], b.low[at], b.high[at] = n.high[at], cut+1, n.low[at], cut
			}
		})
	}
	for j := range p.sellers {
		if m := n.modes[j]; m&(m-1) != 0 {
			return split(func(a, b *node) { a.modes[j], b.modes[j] = m&-m, m&(m-1) })
		}
	}
	s.repair(slices.Clone(n.low))
	return nil // all is fixed: this basket was weighed
}

func (n *node) copy() *node {
	return &node{low: slices.Clone(n.low), high: slices.Clone(n.high), modes: slices.Clone(n.modes),
		lambda: slices.Clone(n.lambda), mean: n.mean.copy(), bound: n.bound}
}

// each does work for 0 … n−1, on all processors.
func each(n int, work func(int)) {
	var next atomic.Int64
	var wait sync.WaitGroup
	for range min(n, runtime.GOMAXPROCS(0)) {
		wait.Go(func() {
			for k := int(next.Add(1)) - 1; k < n; k = int(next.Add(1)) - 1 {
				work(k)
			}
		})
	}
	wait.Wait()
}
