package route

import (
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

// search enumerates selections, the one with the best bound first, and orders each by A*. It returns the best legal
// sequence and a true lower bound of the objective.
func (p *plan) search() (best []int, bound float64) {
	value := math.Inf(1)
	effort := p.in.Effort
	open := &frontier{{in: make([]bool, len(p.steps))}}
	seq := 0
	for open.Len() > 0 {
		s := heap.Pop(open).(*selection)
		if s.bound >= value-tolerance(value) {
			return best, value
		}
		if effort <= 0 && best != nil {
			return best, math.Min(value, s.bound)
		}
		effort--
		children, complete := p.decide(s)
		for _, c := range children {
			if c.bound = p.lower(c.need); c.bound < value-tolerance(value) {
				seq++
				c.seq = seq
				heap.Push(open, c)
			}
		}
		if !complete {
			continue
		}
		order, cost, low, used := p.order(s, value, effort)
		effort -= used
		if order != nil && cost < value {
			best, value = order, cost
		}
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
				s.add(options)
				continue
			}
			for _, i := range options {
				c := s.clone()
				c.add([]int{i})
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
				s.add(alts[0])
				continue
			}
			for _, alt := range alts {
				c := s.clone()
				c.pre = append(c.pre, alt)
				c.add(alt)
				children = append(children, c)
			}
			return children, false
		default:
			return nil, true
		}
	}
}

func (s *selection) clone() *selection {
	return &selection{need: slices.Clone(s.need), pre: slices.Clone(s.pre), in: slices.Clone(s.in), goals: s.goals, next: s.next}
}

func (s *selection) add(steps []int) {
	for _, i := range steps {
		if !s.in[i] {
			s.in[i] = true
			s.need = append(s.need, i)
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
