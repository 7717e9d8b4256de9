package route

import (
	"container/heap"
	"math"
	"slices"
)

// cursor is the state of the hands between two steps. open is used by depth alone.
type cursor struct {
	tool, side int
	open       bool
}

func (p *plan) start() cursor {
	if p.in.Minimise == Depth {
		return cursor{side: p.up}
	}
	return cursor{tool: p.hand, side: p.up}
}

// advance carries out step i and returns what it costs beyond its own seconds.
func (p *plan) advance(c cursor, i int) (cursor, float64) {
	cost, t, s := 0.0, p.tool[i], p.side[i]
	change := t != 0 && t != c.tool
	flip := s != 0 && c.side != 0 && s != c.side
	switch p.in.Minimise {
	case Depth:
		if !c.open || change && c.tool != 0 {
			cost = 1
		}
		c.open = len(p.steps[i].Frees) == 0
	case Attended, Elapsed:
		if change {
			cost += p.in.ToolChangeSeconds
		}
		if flip {
			cost += p.in.FlipSeconds
		}
	}
	if t != 0 {
		c.tool = t
	}
	if s != 0 && p.in.Minimise != Depth {
		c.side = s
	}
	return c, cost
}

// bits is a set of at most 256 steps of one selection.
type bits [4]uint64

func (b bits) has(i int) bool { return b[i>>6]&(1<<(i&63)) != 0 }
func (b *bits) add(i int)     { b[i>>6] |= 1 << (i & 63) }
func (b bits) covers(o bits) bool {
	return o[0]&^b[0]|o[1]&^b[1]|o[2]&^b[2]|o[3]&^b[3] == 0
}

type spot struct {
	done bits
	at   cursor
}

type node struct {
	spot
	g, f  float64
	taken []int // local steps taken since the parent
	from  *node
	count int
	seq   int
}

type queue []*node

func (q queue) Len() int { return len(q) }
func (q queue) Less(i, j int) bool {
	if q[i].f != q[j].f {
		return q[i].f < q[j].f
	}
	if q[i].count != q[j].count {
		return q[i].count > q[j].count
	}
	return q[i].seq < q[j].seq
}
func (q queue) Swap(i, j int) { q[i], q[j] = q[j], q[i] }
func (q *queue) Push(x any)   { *q = append(*q, x.(*node)) }
func (q *queue) Pop() any {
	old := *q
	x := old[len(old)-1]
	*q = old[:len(old)-1]
	return x
}

// job is one complete selection in local numbers.
type job struct {
	*plan
	need   []int
	pre    []bits
	chains *chains
	base   float64
}

// order finds the cheapest order of a complete selection that beats limit. It returns nil when there is none (a cycle,
// or nothing cheaper); low is a true lower bound for this selection, at least limit when the search was finished.
func (p *plan) order(s *selection, limit float64, effort int, wide bool) (seq []int, cost, low float64, used int) {
	follow, waiting, topo, ok := link(s.need, s.pre, len(p.steps))
	if !ok {
		return nil, 0, math.Inf(1), 0
	}
	j := job{plan: p, need: s.need}
	for _, i := range s.need {
		j.base += p.cost[i]
	}
	first, cost := j.greedy(follow, waiting)
	low = p.lower(s.need)
	used = 1
	if p.timed() {
		j.chains = p.newChains(s.need, follow, topo)
		low = math.Max(low, p.forced(s))
		if wide && low < limit && cost > low+tolerance(low) {
			used += beamWidth * p.charge(len(s.need))
			if seq, c := j.beam(follow, waiting, j.chains, beamWidth); c < cost {
				first, cost = seq, c
			}
		}
	}
	// By risk the order costs nothing; beyond 256 steps the best order found stands with its bound.
	if p.in.Minimise == Risk || cost <= low+tolerance(low) || low >= limit || len(s.need) > 256 {
		return first, cost, low, used
	}
	local := map[int]int{}
	for k, i := range s.need {
		local[i] = k
	}
	j.pre = make([]bits, len(s.need))
	for k, alt := range s.pre {
		for _, i := range alt {
			j.pre[k].add(local[i])
		}
	}
	better, bcost, bound, steps := j.astar(math.Min(limit, cost), max(0, effort-used)/p.charge(len(s.need)))
	used += steps * p.charge(len(s.need))
	low = math.Max(low, bound)
	if better != nil {
		return better, bcost, low, used
	}
	return first, cost, low, used
}

// charge is what one expansion among n steps counts as effort: large plans cost more per expansion, in time and memory.
func (p *plan) charge(n int) int { return 1 + n*n/2048 }

// greedy takes every step that needs no change, else the ready step whose change is cheapest (ties by id).
func (j *job) greedy(follow [][]int, waiting []int) ([]int, float64) {
	waiting = slices.Clone(waiting)
	var ready, seq []int
	for k := range j.need {
		if waiting[k] == 0 {
			ready = append(ready, k)
		}
	}
	c, total := j.start(), j.base
	for len(ready) > 0 {
		pick, low := 0, math.Inf(1)
		for r, k := range ready {
			_, extra := j.advance(c, j.need[k])
			if j.in.Minimise == Depth && len(j.steps[j.need[k]].Frees) > 0 {
				extra += 0.5 // fill the open segment before closing it
			}
			if extra < low || extra == low && j.need[k] < j.need[ready[pick]] {
				pick, low = r, extra
			}
		}
		k := ready[pick]
		ready = append(ready[:pick], ready[pick+1:]...)
		next, extra := j.advance(c, j.need[k])
		c, total = next, total+extra
		seq = append(seq, j.need[k])
		for _, f := range follow[k] {
			if waiting[f]--; waiting[f] == 0 {
				ready = append(ready, f)
			}
		}
	}
	return seq, total
}

// astar searches over (done set, tool, side); every step that needs no change is taken at once, which never hurts.
func (j *job) astar(limit float64, effort int) (seq []int, cost, low float64, used int) {
	root := &node{spot: spot{at: j.start()}}
	j.absorb(root)
	root.f = j.base + j.rest(root)
	open, best := &queue{root}, map[spot]float64{root.spot: 0}
	n := 0
	for open.Len() > 0 {
		x := heap.Pop(open).(*node)
		if x.f >= limit-tolerance(limit) {
			return nil, 0, limit, used
		}
		if x.count == len(j.need) {
			return j.path(x), j.base + x.g, j.base + x.g, used
		}
		if x.g > best[x.spot] {
			continue
		}
		if used >= effort || used%256 == 255 && !j.wanted() {
			return nil, 0, x.f, used
		}
		used++
		tried := map[cursor]bool{}
		for k, i := range j.need {
			if x.done.has(k) || !x.done.covers(j.pre[k]) {
				continue
			}
			at, extra := j.advance(x.at, i)
			// Steps with the same change lead to the same place, as all of them are then absorbed; not so for depth,
			// where a freed part closes its segment.
			if j.in.Minimise != Depth {
				if tried[at] {
					continue
				}
				tried[at] = true
			}
			y := &node{spot: spot{x.done, at}, g: x.g + extra, from: x, count: x.count + 1, taken: []int{k}}
			y.done.add(k)
			j.absorb(y)
			if old, seen := best[y.spot]; seen && old <= y.g {
				continue
			}
			best[y.spot] = y.g
			y.f = math.Max(x.f, j.base+y.g+j.rest(y))
			n++
			y.seq = n
			heap.Push(open, y)
		}
	}
	return nil, 0, limit, used
}

// absorb takes every ready step that costs nothing and leaves the cursor as it is.
func (j *job) absorb(x *node) {
	for again := true; again; {
		again = false
		for k, i := range j.need {
			if x.done.has(k) || !x.done.covers(j.pre[k]) {
				continue
			}
			if at, extra := j.advance(x.at, i); extra == 0 && at == x.at {
				x.done.add(k)
				x.taken = append(x.taken, k)
				x.count++
				again = true
			}
		}
	}
}

// rest bounds the cost of the changes still ahead.
func (j *job) rest(x *node) float64 {
	if j.chains == nil {
		var left []int
		for k, i := range j.need {
			if !x.done.has(k) {
				left = append(left, i)
			}
		}
		return j.ahead(x.at, left)
	}
	tools := uint64(0)
	for k, i := range j.need {
		if !x.done.has(k) {
			tools |= mask(j.tool[i])
		}
	}
	return j.chains.beyond(j.plan, x.at, func(yield func(int) bool) {
		for k := range j.need {
			if !x.done.has(k) && x.done.covers(j.pre[k]) && !yield(k) {
				return
			}
		}
	}, tools)
}

func (j *job) path(x *node) []int {
	var back []*node
	for ; x != nil; x = x.from {
		back = append(back, x)
	}
	var seq []int
	for b := len(back) - 1; b >= 0; b-- {
		for _, k := range back[b].taken {
			seq = append(seq, j.need[k])
		}
	}
	return seq
}
