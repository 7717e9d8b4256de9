package route

import (
	"cmp"
	"container/heap"
	"math"
	"slices"
)

// selection is one way to resolve the alternatives: which step frees each goal and which alternative each needed step
// follows. It is complete when nothing is left to decide; then its steps form an AND graph.
type selection struct {
	need  []int   // steps, in the order in which they were found to be needed
	pre   [][]int // chosen alternative of need[k], for k < next
	in    []bool  // need as a set
	goals int     // goals decided so far
	next  int     // needed steps decided so far
	bound float64
	seq   int
}

type frontier []*selection

func (f frontier) Len() int { return len(f) }
func (f frontier) Less(i, j int) bool {
	return f[i].bound < f[j].bound || f[i].bound == f[j].bound && f[i].seq < f[j].seq
}
func (f frontier) Swap(i, j int) { f[i], f[j] = f[j], f[i] }
func (f *frontier) Push(x any)   { *f = append(*f, x.(*selection)) }
func (f *frontier) Pop() any {
	old := *f
	x := old[len(old)-1]
	*f = old[:len(old)-1]
	return x
}

// least is how many selections are opened even when the effort is spent, so that a bound is more than nothing.
const least = 40

// search enumerates selections, the one with the best bound first, and orders each. It returns the best legal sequence
// and a true lower bound of the objective. The first selection is found by diving along the best bounds, so that there
// is an answer however early the effort ends.
func (p *plan) search() (best []int, bound float64) {
	value := math.Inf(1)
	effort := p.in.Effort
	root := &selection{in: make([]bool, len(p.steps))}
	open := &frontier{root}
	seq, tight, grown := 0, 0, 0
	try := func(s *selection) (low float64) {
		order, cost, low, used := p.order(s, value, effort, best == nil || len(s.need) > 256)
		effort -= used
		if order != nil && cost < value {
			best, value = order, cost
		}
		return low
	}
	grow := func(s *selection) (children []*selection, complete bool) {
		effort -= p.charge(len(s.need))
		grown++
		children, complete = p.decide(s)
		for _, c := range children {
			c.bound = math.Max(s.bound, p.lower(c.need))
			seq++
			c.seq = seq
		}
		return children, complete
	}
	if p.choices() {
		for dive := root.clone(); ; {
			children, complete := grow(dive)
			if complete {
				try(dive)
				break
			}
			dive = slices.MinFunc(children, func(a, b *selection) int {
				return cmp.Or(cmp.Compare(a.bound, b.bound),
					a.seq-b.seq)
			})
		}
	}
	defer func() { p.used = p.in.Effort - effort }()
	for open.Len() > 0 {
		if grown%16 == 0 && !p.wanted() {
			return best, 0
		}
		s := heap.Pop(open).(*selection)
		if s.bound >= value-tolerance(value) {
			return best, value
		}
		if effort <= 0 && best != nil && grown >= least {
			// What is left is bounded by its chains, as far as the rest of a small allowance goes.
			low := math.Inf(1)
			for *open = append(*open, s); open.Len() > 0 && tight < 64; tight++ {
				low = math.Min(low, math.Max((*open)[open.Len()-1].bound, p.forced((*open)[open.Len()-1])))
				*open = (*open)[:open.Len()-1]
			}
			for _, o := range *open {
				low = math.Min(low, o.bound)
			}
			return best, math.Min(value, low)
		}
		if f := p.forced(s); f > s.bound+tolerance(s.bound) { // back into the queue at its better place
			if s.bound = f; f < value-tolerance(value) {
				heap.Push(open, s)
			}
			effort -= p.charge(len(s.need))
			continue
		}
		children, complete := grow(s)
		for _, c := range children {
			if c.bound < value-tolerance(value) {
				heap.Push(open, c)
			}
		}
		if !complete {
			continue
		}
		low := try(s)
		if low < value-tolerance(value) { // out of effort within this selection
			if open.Len() > 0 {
				low = math.Min(low, (*open)[0].bound)
			}
			if best != nil {
				return best, low
			}
		}
	}
	return best, value
}

// choices says whether anything is to be decided at all.
func (p *plan) choices() bool {
	return slices.ContainsFunc(p.after, func(alts [][]int) bool { return len(alts) > 1 }) ||
		slices.ContainsFunc(p.in.Goal, func(part string) bool { return len(p.freeby[part]) > 1 })
}

// decide takes forced decisions until a real one comes up and returns a child for each of its options; complete says
// that nothing was left to decide.
func (p *plan) decide(s *selection) (children []*selection, complete bool) {
	for {
		switch {
		case s.goals < len(p.in.Goal):
			part := p.in.Goal[s.goals]
			s.goals++
			options := p.freeby[part]
			if p.freed[part] || slices.ContainsFunc(options, func(i int) bool { return s.in[i] }) {
				continue
			}
			if len(options) == 1 {
				p.add(s, options)
				continue
			}
			for _, i := range options {
				c := s.clone()
				p.add(c, []int{i})
				children = append(children, c)
			}
			return children, false
		case s.next < len(s.need):
			alts := p.after[s.need[s.next]]
			s.next++
			if len(alts) == 0 {
				s.pre = append(s.pre, nil)
				continue
			}
			if len(alts) == 1 {
				s.pre = append(s.pre, alts[0])
				p.add(s, alts[0])
				continue
			}
			for _, alt := range alts {
				c := s.clone()
				c.pre = append(c.pre, alt)
				p.add(c, alt)
				children = append(children, c)
			}
			return children, false
		default:
			return nil, true
		}
	}
}

func (s *selection) clone() *selection {
	return &selection{need: slices.Clone(s.need), pre: slices.Clone(s.pre), in: slices.Clone(s.in), goals: s.goals,
		next: s.next}
}

// add puts steps into the selection with everything that they need whatever is chosen.
func (p *plan) add(s *selection, steps []int) {
	for _, i := range steps {
		if !s.in[i] {
			for _, k := range p.must[i] {
				if !s.in[k] {
					s.in[k] = true
					s.need = append(s.need, k)
				}
			}
		}
	}
}

// musts lists for each step the steps of all its derivations, itself included: M(v) = {v} ∪ ⋂ over its alternatives of
// ⋃ M(u), taken down from "all steps" until it stands still. By induction over the height of a derivation it stays
// within each.
func (p *plan) musts() {
	words := (len(p.steps) + 63) / 64
	set := make([][]uint64, len(p.steps))
	for i := range set {
		set[i] = make([]uint64, words)
		for w := range words {
			set[i][w] = ^uint64(0)
		}
	}
	alt, all := make([]uint64, words), make([]uint64, words)
	for changed := true; changed; {
		changed = false
		for i := range p.steps {
			for w := range all {
				all[w] = ^uint64(0)
				if len(p.after[i]) == 0 {
					all[w] = 0
				}
			}
			for _, steps := range p.after[i] {
				clear(alt)
				for _, u := range steps {
					for w := range alt {
						alt[w] |= set[u][w]
					}
				}
				for w := range all {
					all[w] &= alt[w]
				}
			}
			all[i>>6] |= 1 << (i & 63)
			for w := range all {
				if set[i][w] != all[w] {
					set[i][w] = all[w]
					changed = true
				}
			}
		}
	}
	p.must = make([][]int, len(p.steps))
	for i := range p.steps {
		p.must[i] = []int{i}
		for k := range p.steps {
			if k != i && !p.done[k] && set[i][k>>6]&(1<<(k&63)) != 0 {
				p.must[i] = append(p.must[i], k)
			}
		}
	}
}

// lower bounds the objective of every route that contains these steps.
func (p *plan) lower(need []int) float64 {
	sum := 0.0
	for _, i := range need {
		sum += p.cost[i]
	}
	return sum + p.ahead(p.start(), need)
}

// ahead bounds what tools, sides and freed parts will still cost from this cursor when these steps are left.
func (p *plan) ahead(c cursor, left []int) float64 {
	var tools, face [64]bool // numbers beyond the table are simply not counted, which keeps the bound true
	nt, ns, frees := 0, 0, 0
	for _, i := range left {
		if t := p.tool[i]; t != 0 && t != c.tool && t < len(tools) && !tools[t] {
			tools[t] = true
			nt++
		}
		if s := p.side[i]; s != 0 && s != c.side && !face[s] {
			face[s] = true
			ns++
		}
		if len(p.steps[i].Frees) > 0 {
			frees++
		}
	}
	switch p.in.Minimise {
	case Depth:
		if c.open { // the open segment takes one more freed part, and a first tool
			frees--
			if c.tool == 0 {
				nt--
			}
		}
		return float64(max(nt, frees, 0))
	case Attended, Elapsed:
		if c.side == 0 && ns > 0 {
			ns-- // the first side costs no flip
		}
		return p.in.ToolChangeSeconds*float64(nt) + p.in.FlipSeconds*float64(ns)
	}
	return 0
}
