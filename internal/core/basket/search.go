package basket

import (
	"context"
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
	ctx    context.Context
	effort float64 // what is left; an evaluation of the relaxation takes price
	price  float64
	lambda []float64
	best   []int
	upper  float64
	rays   [8]ray  // scratch, by mode
	floor  float64 // bound of the root
	dear   float64 // share of the gap: columns that cost more sleep in the tree
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
	penny     = 1e-4 // of a minor unit: what is no better by more than that is no better
)

func newSearch(ctx context.Context, p *problem, effort int) *search {
	work := 0
	for j := range p.sellers {
		work += len(p.sellers[j].modes) * len(p.sellers[j].offers)
	}
	return &search{
		p:      p,
		ctx:    ctx,
		effort: float64(effort),
		price:  1 + float64(work)/1000,
		upper:  math.Inf(1),
		open:   math.Inf(1),
		dear:   0.1,
	}
}

func (s *search) bound() float64 { return min(s.open, s.upper) }

func (s *search) proven() bool { return s.open >= s.upper-penny }

// run searches; start and lambda are a basket and multipliers from elsewhere.
func (s *search) run(start []int, lambda []float64) {
	p := s.p
	root := &node{
		low:    make([]int, len(p.offers)),
		high:   make([]int, len(p.offers)),
		modes:  make([]uint64, len(p.sellers)),
		lambda: make([]float64, len(p.need)),
		bound:  math.Inf(-1),
	}
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
	s.relax(root, rootSteps)
	s.lambda, s.floor = slices.Clone(root.lambda), root.bound
	if root.bound >= s.upper-penny {
		return
	}
	s.stir(min(100*len(p.need), 4000))
	s.relax(root, 30) // with the better basket
	if root.bound >= s.upper-penny {
		return
	}
	if t := newTree(s, root); t.root() {
		t.search()
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

// take keeps a basket when it is the best.
func (s *search) take(x []int) {
	if c := s.p.cost(x); c < s.upper-penny {
		s.upper, s.best = c, slices.Clone(x)
	}
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
