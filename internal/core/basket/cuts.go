package basket

import (
	"cmp"
	"math"
	"slices"
)

// cut is a row that every basket meets and the present point does not, and how deep it cuts.
type cut struct {
	row
	depth float64
}

// cuts are mixed-integer rounding inequalities (Nemhauser and Wolsey 1990, from memory) of the rows of the tableau whose
// variable should be whole and is not. The tableau gives only which rows to add up and how often: the sum is made again from
// the rows as given, small coefficients leave on the weak side, and the right side is eased, since cuts that were read off the
// tableau have "proved" wrong baskets.
func (l *programme) cuts(whole func(v int) bool) []cut {
	var found []cut
	for r, v := range l.base {
		f := l.x[v] - math.Floor(l.x[v])
		if !whole(v) || f < 0.005 || f > 0.995 {
			continue
		}
		y := make([]float64, len(l.rows))
		line := l.line(r)
		for i := range y {
			if j := l.where[len(l.cost)+i]; j >= 0 && j != gone && math.Abs(line[j]) > tiny {
				y[i] = line[j]
			} else if j == -1-r {
				y[i] = 1
			}
		}
		var best cut
		for _, times := range [...]float64{1, -1, 2, -2, 3, -3} {
			if c, ok := l.round(y, times, whole); ok && c.depth > best.depth {
				best = c
			}
		}
		if best.depth > 1e-3 {
			found = append(found, best)
		}
	}
	slices.SortStableFunc(found, func(a, b cut) int { return cmp.Compare(b.depth, a.depth) })
	return found
}

// round adds the rows up, so many times, and rounds.
func (l *programme) round(y []float64, times float64, whole func(v int) bool) (cut, bool) {
	a := make([]float64, len(l.cost))
	b := 0.0
	for i, r := range l.rows {
		if f := y[i] * times; f != 0 {
			b += f * r.b
			for k, at := range r.at {
				a[at] += f * r.a[k]
			}
		}
	}
	// Each variable is measured from the bound that it is nearer to.
	flipped := make([]bool, len(a))
	for v := range a {
		if a[v] == 0 || l.where[v] == gone {
			a[v] = 0
			continue
		}
		if flipped[v] = l.x[v] > (l.lo[v]+l.hi[v])/2; flipped[v] {
			b -= a[v] * l.hi[v]
			a[v] = -a[v]
		} else {
			b -= a[v] * l.lo[v]
		}
	}
	f0 := b - math.Floor(b)
	if f0 < 0.01 || f0 > 0.99 {
		return cut{}, false
	}
	down := func(c float64) float64 { return math.Floor(c) + max(0, c-math.Floor(c)-f0)/(1-f0) }
	right := math.Floor(b)
	for v := range a {
		if a[v] == 0 {
			continue
		}
		g := down(a[v])
		if flipped[v] {
			g = -g
			right += g * l.hi[v]
		} else {
			right += g * l.lo[v]
		}
		a[v] = g
	}
	for i, r := range l.rows { // slacks go back into x
		f := y[i] * times
		if f == 0 {
			continue
		}
		v := len(l.cost) + i
		g := min(f, 0) / (1 - f0)
		if r.whole && whole(v) {
			g = down(f)
		}
		if g != 0 {
			right -= g * r.b
			for k, at := range r.at {
				a[at] -= g * r.a[k]
			}
		}
	}
	var c cut
	most := 0.0
	for v := range a {
		if l.where[v] != gone {
			most = max(most, math.Abs(a[v]))
		}
	}
	norm, sum := 0.0, 0.0
	for v, g := range a {
		if l.where[v] == gone || g == 0 {
			continue
		}
		if math.Abs(g) < 1e-6*most {
			right -= min(g*l.lo[v], g*l.hi[v])
			continue
		}
		c.at, c.a = append(c.at, v), append(c.a, g)
		norm += g * g
		sum += g * l.x[v]
	}
	if norm == 0 || most > 1e6 {
		return cut{}, false
	}
	c.b = right + 1e-7*max(1, math.Abs(right))
	c.depth = (sum - c.b) / math.Sqrt(norm)
	return c, true
}
