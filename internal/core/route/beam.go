package route

import (
	"cmp"
	"encoding/binary"
	"slices"
)

// beamWidth is how many half-done orders are kept side by side.
const beamWidth = 24

// strand is one half-done order of a beam search.
type strand struct {
	done    []uint64
	waiting []int
	ready   []int
	tools   []int // steps left per tool
	at      cursor
	g, f    float64
	count   int
	taken   []int
	from    *strand
}

// beam finds a good order of a selection by carrying the most promising ones on from change to change; every step that
// needs no change is taken at once. It is fast on a thousand steps and promises nothing about the best.
func (j *job) beam(follow [][]int, waiting []int, c *chains, width int) (seq []int, cost float64) {
	first := &strand{done: make([]uint64, (len(j.need)+63)/64), waiting: slices.Clone(waiting),
		tools: make([]int, j.tools), at: j.start()}
	for k, w := range waiting {
		if w == 0 {
			first.ready = append(first.ready, k)
		}
	}
	for _, i := range j.need {
		first.tools[j.tool[i]]++
	}
	j.spin(first, follow)
	level := []*strand{first}
	for {
		var next []*strand
		seen := map[string]int{}
		for _, s := range level {
			if s.count == len(j.need) {
				next = append(next, s)
				continue
			}
			var tried []cursor
			for _, k := range s.ready {
				at, extra := j.advance(s.at, j.need[k])
				if slices.Contains(tried, at) {
					continue
				}
				tried = append(tried, at)
				y := &strand{done: slices.Clone(s.done), waiting: slices.Clone(s.waiting),
					ready: slices.Clone(s.ready), tools: slices.Clone(s.tools),
					at: at, g: s.g + extra, count: s.count, from: s}
				j.take(y, k, follow)
				j.spin(y, follow)
				left := uint64(0)
				for t, n := range y.tools {
					if n > 0 {
						left |= mask(t)
					}
				}
				y.f = y.g + c.beyond(j.plan, at, slices.Values(y.ready), left)
				key := y.key()
				if old, ok := seen[key]; ok {
					if next[old].g > y.g {
						next[old] = y
					}
					continue
				}
				seen[key] = len(next)
				next = append(next, y)
			}
		}
		slices.SortStableFunc(next, func(a, b *strand) int {
			return cmp.Or(cmp.Compare(a.f, b.f),
				cmp.Compare(b.count, a.count))
		})
		next = next[:min(width, len(next))]
		if next[0].count == len(j.need) {
			return j.unwind(next[0]), j.base + next[0].g
		}
		level = next
	}
}

func (s *strand) key() string {
	text := make([]byte, 0, 8*len(s.done)+2)
	for _, w := range s.done {
		text = binary.LittleEndian.AppendUint64(text, w)
	}
	return string(append(text, byte(s.at.tool), byte(s.at.tool>>8), byte(s.at.side)))
}

// take carries out a ready local step.
func (j *job) take(s *strand, k int, follow [][]int) {
	s.ready = slices.DeleteFunc(s.ready, func(r int) bool { return r == k })
	s.done[k>>6] |= 1 << (k & 63)
	s.tools[j.tool[j.need[k]]]--
	s.count++
	s.taken = append(s.taken, k)
	for _, f := range follow[k] {
		if s.waiting[f]--; s.waiting[f] == 0 {
			s.ready = append(s.ready, f)
		}
	}
}

// spin takes every ready step that needs no change.
func (j *job) spin(s *strand, follow [][]int) {
	for again := true; again; {
		again = false
		for _, k := range s.ready {
			if at, extra := j.advance(s.at, j.need[k]); extra == 0 && at == s.at {
				j.take(s, k, follow)
				again = true
				break
			}
		}
	}
}

func (j *job) unwind(s *strand) []int {
	var parts [][]int
	for ; s != nil; s = s.from {
		parts = append(parts, s.taken)
	}
	slices.Reverse(parts)
	var seq []int
	for _, part := range parts {
		for _, k := range part {
			seq = append(seq, j.need[k])
		}
	}
	return seq
}
