package route

import (
	"math"
	word "math/bits"
)

// chains bounds what precedence forces: whatever the order, the steps of a chain follow each other, so that the changes
// along it are made. change[k][t] is the greatest number of tool changes along a chain that starts with local step k
// when tool t is in hand, on[k][t] the tools of that chain, flip[k][s] the same for turning the phone over.
type chains struct {
	change [][]int32
	on     [][]uint64
	flip   [][3]int32
}

// link turns a selection into local numbers: what follows each step, how many it waits for, and an order in which every
// step comes after its prerequisites; ok is false for a cycle.
func link(need []int, pre [][]int, size int) (follow [][]int, waiting, order []int, ok bool) {
	local := make([]int, size)
	for k, i := range need {
		local[i] = k
	}
	follow, waiting = make([][]int, len(need)), make([]int, len(need))
	for k, alt := range pre {
		waiting[k] = len(alt)
		for _, i := range alt {
			follow[local[i]] = append(follow[local[i]], k)
		}
	}
	left := append([]int(nil), waiting...)
	for k, w := range left {
		if w == 0 {
			order = append(order, k)
		}
	}
	for n := 0; n < len(order); n++ {
		for _, f := range follow[order[n]] {
			if left[f]--; left[f] == 0 {
				order = append(order, f)
			}
		}
	}
	return follow, waiting, order, len(order) == len(need)
}

func (p *plan) newChains(need []int, follow [][]int, order []int) *chains {
	c := &chains{make([][]int32, len(need)), make([][]uint64, len(need)), make([][3]int32, len(need))}
	change, on := make([]int32, len(need)*p.tools), make([]uint64, len(need)*p.tools)
	for n := len(order) - 1; n >= 0; n-- {
		k := order[n]
		c.change[k], c.on[k] = change[k*p.tools:(k+1)*p.tools], on[k*p.tools:(k+1)*p.tools]
		tool, side := p.tool[need[k]], p.side[need[k]]
		for t := range p.tools {
			hand, cost := t, int32(0)
			if tool != 0 {
				hand = tool
				if tool != t {
					cost = 1
				}
			}
			far, with := int32(0), uint64(0)
			for _, f := range follow[k] {
				if d, w := c.change[f][hand], c.on[f][hand]; d > far || d == far &&
					word.OnesCount64(w) < word.OnesCount64(with) {
					far, with = d, w
				}
			}
			c.change[k][t], c.on[k][t] = cost+far, with|mask(tool)
		}
		for s := range 3 {
			up, cost := s, int32(0)
			if side != 0 {
				if s != 0 && s != side {
					cost = 1
				}
				up = side
			}
			far := int32(0)
			for _, f := range follow[k] {
				far = max(far, c.flip[f][up])
			}
			c.flip[k][s] = cost + far
		}
	}
	return c
}

// mask is the bit of a tool; numbers beyond the word have none, which keeps the bounds true.
func mask(tool int) uint64 {
	if tool <= 0 || tool > 63 {
		return 0
	}
	return 1 << tool
}

// beyond bounds the cost of the changes still ahead of a cursor when the local steps in left remain; tools are those of
// the steps that remain. A tool that the longest chain does not use is one change more.
func (c *chains) beyond(p *plan, at cursor, left func(yield func(int) bool), tools uint64) float64 {
	most, flips := int32(word.OnesCount64(tools&^mask(at.tool))), int32(0)
	for k := range left {
		most = max(most, c.change[k][at.tool]+int32(word.OnesCount64(tools&^c.on[k][at.tool]&^mask(at.tool))))
		flips = max(flips, c.flip[k][at.side])
	}
	return p.in.ToolChangeSeconds*float64(most) + p.in.FlipSeconds*float64(flips)
}

// timed says that tools and sides cost time under this objective.
func (p *plan) timed() bool { return p.in.Minimise == Attended || p.in.Minimise == Elapsed }

// forced is the chain bound of a selection, complete or not; infinite when it holds a cycle.
func (p *plan) forced(s *selection) float64 {
	if !p.timed() {
		return p.lower(s.need)
	}
	pre := make([][]int, len(s.need))
	copy(pre, s.pre)
	follow, waiting, order, ok := link(s.need, pre, len(p.steps))
	if !ok {
		return math.Inf(1)
	}
	base, tools := 0.0, uint64(0)
	for _, i := range s.need {
		base += p.cost[i]
		tools |= mask(p.tool[i])
	}
	c := p.newChains(s.need, follow, order)
	return base + c.beyond(p, p.start(), func(yield func(int) bool) {
		for k, w := range waiting {
			if w == 0 && !yield(k) {
				return
			}
		}
	}, tools)
}
