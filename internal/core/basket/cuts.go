package basket

import (
	"cmp"
	"math"
	"slices"
)

// cut is a row that every basket meets and the present point does not, and how deep it cuts.
type cut struct {
	row
	depth, norm float64
}

const shallow = 1e-3

// share is how often a row is taken.
type share struct {
	row   int
	times float64
}

// adder adds rows up: coefficients of the variables that it touches, and the right side, measured from the bounds that
// the variables are nearer to.
type adder struct {
	l       *programme
	effort  float64
	scratch []float64
	y       []share
	a       []float64
	known   []bool
	at      []int
	loose   []int // of at: between their bounds
	open    []int // of y: rows that the point does not meet exactly
	b, b0   float64
}

// cuts are mixed-integer rounding inequalities (Nemhauser and Wolsey 1990, from memory) of the rows of the tableau whose
// variable should be whole and is not. The tableau gives only which rows to add up and how often: the sum is made again
// from the rows as given, small coefficients leave on the weak side, and the right side is eased, since cuts that were
// read off the tableau have "proved" wrong baskets.
func (l *programme) cuts(w *adder) (found []cut) {
	type line struct {
		r int
		f float64
	}
	var list []line
	for r, v := range l.base {
		f := l.x[v] - math.Floor(l.x[v])
		if f = min(f, 1-f); f > 0.005 && (v < len(l.cost) || l.rows[v-len(l.cost)].whole) {
			list = append(list, line{r, f})
		}
	}
	slices.SortStableFunc(list, func(a, b line) int { return cmp.Compare(b.f, a.f) })
	var y []share
	for _, o := range list {
		r, v := o.r, l.base[o.r]
		y = y[:0]
		line := l.line(r)
		for j, u := range l.out {
			if u >= len(l.cost) && math.Abs(line[j]) > tiny {
				y = append(y, share{u - len(l.cost), line[j]})
			}
		}
		if v >= len(l.cost) {
			y = append(y, share{v - len(l.cost), 1})
		}
		w.gather(y)
		if c := w.deepest(1, -1, 2, -2, 3, -3); c.depth > 0 {
			found = append(found, c)
		}
	}
	return found
}

// gather adds rows up.
func (w *adder) gather(y []share) {
	l := w.l
	if len(w.a) < len(l.cost) {
		w.a, w.known = make([]float64, len(l.cost)), make([]bool, len(l.cost))
	}
	for _, v := range w.at {
		w.a[v], w.known[v] = 0, false
	}
	w.y, w.at, w.loose, w.open, w.b = append(w.y[:0], y...), w.at[:0], w.loose[:0], w.open[:0], 0
	n := 0
	for k, s := range y {
		r := &l.rows[s.row]
		w.b += s.times * r.b
		n += len(r.at)
		for k, v := range r.at {
			if !w.known[v] {
				w.known[v] = true
				w.at = append(w.at, v)
			}
			w.a[v] += s.times * r.a[k]
		}
		if l.aimed.slack[s.row] > 1e-9 {
			w.open = append(w.open, k)
		}
	}
	w.effort += float64(n) / perUnit
	w.b0 = w.b
	for _, v := range w.at {
		if w.b0 -= w.a[v] * l.aimed.near[v]; l.all.hi[v] > 0 && math.Abs(w.a[v]) > tiny && l.aimed.off[v] > 1e-9 {
			w.loose = append(w.loose, v)
		}
	}
}

// rounding is the function that a mixed-integer rounding puts coefficients through, for whole variables.
type rounding float64

func (f0 rounding) down(c float64) float64 {
	n := math.Floor(c)
	return n + max(0, c-n-float64(f0))/(1-float64(f0))
}

// slack is the same for the slack of a row.
func (f0 rounding) slack(c float64, whole bool) float64 {
	if whole {
		return f0.down(c)
	}
	return min(c, 0) / (1 - float64(f0))
}

// deepest is the rounding of the sum, so many times, that cuts deepest; depth 0 when none does.
func (w *adder) deepest(times ...float64) (best cut) {
	l := w.l
	for _, t := range times {
		b := t * w.b0
		f0 := rounding(b - math.Floor(b))
		if f0 < 0.01 || f0 > 0.99 {
			continue
		}
		// Only what is off its bound counts at the point.
		over := -math.Floor(b)
		for _, v := range w.loose {
			a := t * w.a[v]
			if l.aimed.flipped[v] {
				a = -a
			}
			over += f0.down(a) * l.aimed.off[v]
		}
		for _, k := range w.open {
			s := w.y[k]
			over += f0.slack(t*s.times, l.rows[s.row].whole) * l.aimed.slack[s.row]
		}
		if over > shallow {
			if c, ok := w.round(t, f0); ok && c.depth > best.depth {
				best = c
			}
		}
	}
	return best
}

// round is the rounding of the sum taken t times.
func (w *adder) round(t float64, f0 rounding) (cut, bool) {
	l := w.l
	a := w.scratch[:0]
	if cap(a) < len(l.cost) {
		a = make([]float64, len(l.cost))
	}
	a = a[:len(l.cost)]
	w.scratch = a
	right := math.Floor(t * w.b0)
	for _, v := range w.at {
		g := 0.0
		switch c := t * w.a[v]; {
		case l.all.hi[v] == 0:
		case l.aimed.flipped[v]:
			g = -f0.down(-c)
			right += g * l.all.hi[v]
		default:
			g = f0.down(c)
			right += g * l.all.lo[v]
		}
		a[v] = g
	}
	w.effort += 3 * float64(len(w.at)) / perUnit
	for _, s := range w.y { // slacks go back into x
		r := &l.rows[s.row]
		if g := f0.slack(t*s.times, r.whole); g != 0 {
			right -= g * r.b
			for k, v := range r.at {
				a[v] -= g * r.a[k]
			}
		}
	}
	most := 0.0
	for _, v := range w.at {
		if l.all.hi[v] > 0 {
			most = max(most, math.Abs(a[v]))
		}
	}
	var c cut
	at, n := 0.0, 0
	c.whole = true
	stays := func(v int) bool { return l.all.hi[v] > 0 && math.Abs(a[v]) >= 1e-6*most }
	for _, v := range w.at {
		g := a[v]
		if !stays(v) {
			right -= min(g*l.all.lo[v], g*l.all.hi[v])
			continue
		}
		n++
		c.norm += g * g
		at += g * l.x[v]
		c.whole = c.whole && math.Abs(g-math.Round(g)) < 1e-9
	}
	if n == 0 || most == 0 || most > 1e6 {
		return cut{}, false
	}
	if c.b = right + 1e-7*max(1, math.Abs(right)); c.whole {
		c.b = math.Floor(right + 1e-6)
	}
	c.norm = math.Sqrt(c.norm)
	if c.depth = (at - c.b) / c.norm; c.depth < shallow {
		return cut{}, false
	}
	c.at, c.a = make([]int, 0, n), make([]float64, 0, n)
	slices.Sort(w.at)
	for _, v := range w.at {
		if stays(v) {
			g := a[v]
			if c.whole {
				g = math.Round(g)
			}
			c.at, c.a = append(c.at, v), append(c.a, g)
		}
	}
	return c, true
}

// spread takes the deepest cuts that are not nearly parallel.
func spread(cuts []cut, most int) []cut {
	slices.SortStableFunc(cuts, func(a, b cut) int { return cmp.Compare(b.depth, a.depth) })
	var taken []cut
	for _, c := range cuts {
		if !slices.ContainsFunc(taken, func(o cut) bool { return o.along(c) > 0.9 }) {
			if taken = append(taken, c); len(taken) == most {
				break
			}
		}
	}
	return taken
}

// along is the cosine of the angle between two cuts.
func (c cut) along(o cut) float64 {
	dot := 0.0
	for i, j := 0, 0; i < len(c.at) && j < len(o.at); {
		switch {
		case c.at[i] < o.at[j]:
			i++
		case c.at[i] > o.at[j]:
			j++
		default:
			dot += c.a[i] * o.a[j]
			i++
			j++
		}
	}
	return dot / (c.norm * o.norm)
}

// aim is the present point as the cuts see it: how far each variable is from the nearer bound of the whole search, which
// one that is, and the slack of each row.
type aim struct {
	off, near []float64
	flipped   []bool
	slack     []float64
}

func (l *programme) aim() {
	w := &l.aimed
	w.off, w.near, w.flipped, w.slack = w.off[:0], w.near[:0], w.flipped[:0], w.slack[:0]
	for v := range l.cost {
		lo, hi := l.all.lo[v], l.all.hi[v]
		near, flipped := lo, l.x[v] > (lo+hi)/2
		if flipped {
			near = hi
		}
		w.off, w.near, w.flipped = append(
			w.off,
			math.Abs(l.x[v]-near),
		), append(
			w.near,
			near,
		), append(
			w.flipped,
			flipped,
		)
	}
	for id := range l.rows {
		w.slack = append(w.slack, max(0, l.slack(id)))
	}
}

// widen takes the present bounds for those of the whole search, so that a cut holds everywhere in it.
func (l *programme) widen() {
	l.all.lo, l.all.hi = append(l.all.lo[:0], l.lo...), append(l.all.hi[:0], l.hi...)
}
