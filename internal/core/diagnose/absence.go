package diagnose

import (
	"context"
	"math"
	"math/bits"
	"slices"
)

// line is what the weights of the states are before and after each group when the atoms of a set are no culprits.
type line struct {
	of         set
	fore, back [][]float64
}

// plain is the line of the empty set, which a table holds anyway.
func (t *table) plain() *line { return &line{fore: t.fore, back: t.back} }

// without is the weight of a group that holds no culprit of a set: gone for those of the set, rest for the others.
func (t *table) without(g int, s set) (gone, rest float64) {
	gone, rest = 1.0, t.none[g]
	if t.groups[g].and(s) != (set{}) {
		rest = 1
		for a := range t.groups[g].all() {
			if s.has(a) {
				gone *= 1 - t.m.odds[a]
			} else {
				rest *= 1 - t.m.odds[a]
			}
		}
	}
	return gone, rest
}

// line draws the line of a set.
func (t *table) line(s set) *line {
	n := len(t.groups)
	l := &line{of: s}
	l.fore, l.back = t.weights()
	l.fore[0], l.back[n] = t.fore[0], t.back[n]
	for g := range n {
		gone, rest := t.without(g, s)
		t.pass(g, l.fore[g], l.fore[g+1], gone*rest, gone*(1-rest))
	}
	for g := n - 1; g >= 0; g-- {
		gone, rest := t.without(g, s)
		t.pull(g, l.back[g+1], l.back[g], gone*rest, gone*(1-rest))
	}
	return l
}

// absent starts from the groups before the set and ends at those after it, which are known.
func (t *table) absent(s set) float64 {
	first, last := t.span(t.ranked(s), ranked{})
	if last < 0 {
		return 1
	}
	cur, into := t.scratch, t.next // swapped below: both as wide as the widest layer
	cur = cur[:copy(cur[:len(t.fore[first])], t.fore[first])]
	for g := first; g <= last; g++ {
		gone, rest := t.without(g, s)
		into = into[:t.layers[g].width]
		clear(into)
		t.pass(g, cur, into, gone*rest, gone*(1-rest))
		cur, into = into, cur[:cap(cur)]
	}
	sum := 0.0
	for i, w := range cur {
		sum += w * t.back[last+1][i]
	}
	return min(1, sum/t.total())
}

// ranked is a set in the order in which a table passes its atoms, the first in the highest bit.
type ranked set

func (t *table) ranked(s set) (r ranked) {
	for a := range s.all() {
		if a < len(t.rank) && t.rank[a] >= 0 {
			k := t.rank[a]
			r[k/64] |= 1 << (63 - k%64)
		}
	}
	return r
}

// span is from the first to the last group in which two sets differ; last < first: in none.
func (t *table) span(r, q ranked) (first, last int) {
	first, last = len(t.groups), -1
	for k := range r {
		if x := r[k] ^ q[k]; x != 0 {
			if last < 0 {
				first = t.groupAt[64*k+bits.LeadingZeros64(x)]
			}
			last = t.groupAt[64*k+63-bits.TrailingZeros64(x)]
		}
	}
	return first, last
}

// absents is [table.absent] of many sets. They are gone through in the order of their atoms, so that one after the other
// begin alike: the way of the last set is followed as far as it is the same. What differs little from one of those near
// comes back to its line, where drawing that costs less than it saves.
func (t *table) absents(ctx context.Context, sets, near []set) ([]float64, error) {
	n := len(t.groups)
	before := make([]int, n+1) // states up to a group
	for g, l := range t.layers {
		before[g+1] = before[g] + len(l.stay)
	}
	order, asked := make([]int, len(sets)), make([]ranked, len(sets))
	for i, s := range sets {
		order[i], asked[i] = i, t.ranked(s)
	}
	slices.SortFunc(order, func(a, b int) int { return slices.Compare(asked[b][:], asked[a][:]) })
	lines := []*line{t.plain()}
	ends := []ranked{{}}
	for _, of := range near {
		r, saved := t.ranked(of), -2*before[n]
		for i := range sets {
			_, far := t.span(asked[i], ranked{})
			_, short := t.span(asked[i], r)
			saved += max(0, before[far+1]-before[short+1])
		}
		if saved > 0 {
			lines, ends = append(lines, t.line(of)), append(ends, r)
		}
	}
	way, own := make([][]float64, n+1), make([][]float64, n+1) // weights before each group; own are to be written to
	to, last := 0, ranked{}                                    // up to where they are those of the last set
	way[0] = t.fore[0]
	out := make([]float64, len(sets))
	for k, i := range order {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		r := asked[i]
		if k > 0 && r == last {
			out[i] = out[order[k-1]]
			continue
		}
		same, _ := t.span(r, last)
		same = min(same, to)
		best, from, end := 0, 0, 0
		cost := math.MaxInt
		for k := range lines {
			first, final := t.span(r, ends[k])
			if c := before[final+1] - before[min(max(first, same), final+1)]; c < cost {
				best, from, end, cost = k, first, final+1, c
			}
		}
		l := lines[best]
		from = min(max(same, from), end)
		if from > same {
			copy(way[same+1:from+1], l.fore[same+1:from+1])
		}
		for g := from; g < end; g++ {
			if own[g+1] == nil {
				own[g+1] = make([]float64, t.layers[g].width)
			}
			clear(own[g+1])
			gone, rest := t.without(g, sets[i])
			t.pass(g, way[g], own[g+1], gone*rest, gone*(1-rest))
			way[g+1] = own[g+1]
		}
		to, last = max(end, same), r
		sum := 0.0
		for k, w := range way[end] {
			sum += w * l.back[end][k]
		}
		out[i] = min(1, sum/t.total())
	}
	return out, nil
}

func (x *mix) absents(ctx context.Context, sets, near []set) ([]float64, error) {
	strong, close := make([]set, len(sets)), make([]set, len(near))
	for i, s := range sets {
		strong[i] = s.without(x.m.weak)
	}
	for i, s := range near {
		close[i] = s.without(x.m.weak)
	}
	out := make([]float64, len(sets))
	var err error
	x.each(func(t *table, p float64, culprits set) {
		if err != nil {
			return
		}
		var none []float64
		none, err = t.absents(ctx, strong, close)
		for i, q := range none {
			if sets[i].and(culprits) == (set{}) {
				out[i] += p * q
			}
		}
	})
	for i := range out {
		out[i] = min(1, out[i])
	}
	return out, err
}

func (l *list) absents(_ context.Context, sets, _ []set) ([]float64, error) {
	out := make([]float64, len(sets))
	for i, s := range sets {
		out[i] = l.absent(s)
	}
	return out, nil
}

// nearest is how many of the last trials candidates are likely to differ little from.
const nearest = 2

// absences is [model.absent] of many sets, by the way for candidates.
func (m *model) absences(ctx context.Context, sets []set) ([]float64, error) {
	out := make([]float64, len(sets))
	var ask, near []set
	which := make([]int, len(sets))
	for i, s := range sets {
		out[i], which[i] = 1, -1
		for a := range s.and(m.free).all() {
			out[i] *= 1 - m.odds[a]
		}
		rest := s.without(m.free)
		if rest == (set{}) {
			continue
		}
		which[i] = len(ask)
		ask = append(ask, m.inside(rest))
	}
	if len(ask) == 0 {
		return out, nil
	}
	for k := len(m.trials) - 1; k >= max(0, len(m.trials)-nearest); k-- {
		if s := m.trials[k].without(m.free); s != (set{}) {
			near = append(near, m.inside(s))
		}
	}
	told, err := m.rough.absents(ctx, ask, near)
	if err != nil {
		return nil, err
	}
	for i, k := range which {
		if k >= 0 {
			out[i] *= told[k]
		}
	}
	return out, nil
}
