package basket

import (
	"container/heap"
	"context"
	"math"
)

// row is a·x ≤ b over the variables of a programme; whole: with whole x its slack is whole too.
type row struct {
	at    []int
	a     []float64
	b     float64
	whole bool
}

// programme is the linear relaxation, min cost·x with lo ≤ x ≤ hi, as a condensed tableau (columns of the nonbasic
// variables only) for the bounded dual simplex (textbook method; bound flipping and Devex weights from memory). A
// variable below len(cost) is one of x, len(cost)+i is the slack of row i. Since all x have finite bounds every basis
// is dual feasible once its nonbasic variables stand at the right ones, so that a branch goes on where the last ended.
type programme struct {
	cost   []float64
	rows   []row
	lo, hi []float64 // of all variables
	x      []float64
	base   []int // variable of a row of the tableau
	out    []int // variable of a column
	where  []int // column of a nonbasic variable, -1-row of a basic one
	t      []float64
	beta   []float64 // basic variables while the nonbasic ones are 0
	d      []float64 // reduced costs of the columns
	weight []float64 // Devex, of the rows
	effort *float64
	ctx    context.Context
	nz     []int
	ratios ratios
	by     [][]share // rows of each variable, as long as there are byRows rows
	byRows int
	all    struct{ lo, hi []float64 } // bounds of the whole search, for cuts
	aimed  aim                        // the point that cuts are made for
	adders []*adder                   // one for each kind of cuts
}

const (
	feasible = 1e-7
	tiny     = 1e-9
	gone     = math.MaxInt // where of a column that was taken out
	perUnit  = 9_000.0     // multiplications that count as one of effort
)

type status int

const (
	optimal status = iota
	beaten         // the bound has reached the limit
	empty          // no x meets the rows
	stopped        // steps or effort ran out; the bound holds as far as it came
)

// place puts the nonbasic variables to the bounds that their reduced costs want, and works the basic ones out.
func (l *programme) place() {
	for j, v := range l.out {
		if l.x[v] = l.lo[v]; l.d[j] < 0 && !math.IsInf(l.hi[v], 1) {
			l.x[v] = l.hi[v]
		}
	}
	for i, v := range l.base {
		sum := l.beta[i]
		for j, t := range l.line(i) {
			if t != 0 {
				sum -= t * l.x[l.out[j]]
			}
		}
		l.x[v] = sum
	}
	*l.effort -= 1 + float64(len(l.t))/perUnit/4
}

func (l *programme) value() float64 {
	z := 0.0
	for v, c := range l.cost {
		z += c * l.x[v]
	}
	return z
}

type ratio struct {
	j    int
	r, a float64
}

type ratios []ratio

func (h ratios) Len() int { return len(h) }
func (h ratios) Less(i, j int) bool {
	return h[i].r < h[j].r || h[i].r == h[j].r && h[i].a > h[j].a
}
func (h ratios) Swap(i, j int) { h[i], h[j] = h[j], h[i] }
func (h *ratios) Push(x any)   { *h = append(*h, x.(ratio)) }
func (h *ratios) Pop() any     { x := (*h)[len(*h)-1]; *h = (*h)[:len(*h)-1]; return x }

// run goes on with the dual simplex from the present basis until it is optimal, its bound reaches limit, nothing is
// left, or so many steps are done.
func (l *programme) run(limit float64, steps int) status {
	for ; ; steps-- {
		r, worst := -1, 0.0
		for i, v := range l.base {
			over := max(l.lo[v]-l.x[v], l.x[v]-l.hi[v])
			if over > feasible && over*over/l.weight[i] > worst {
				r, worst = i, over*over/l.weight[i]
			}
		}
		if r < 0 {
			if _, d := l.safe(); l.call(d) {
				continue
			}
			return optimal
		}
		if l.value() >= limit {
			z, d := l.safe()
			if z >= limit {
				return beaten
			}
			if l.call(d) {
				continue
			}
		}
		if steps%8 == 0 && l.ctx.Err() != nil {
			*l.effort = 0
		}
		if steps <= 0 || *l.effort <= 0 {
			return stopped
		}
		q, ok := l.enter(r)
		if !ok {
			if l.help(r) {
				continue
			}
			return empty
		}
		l.step(r, q)
	}
}

// enter chooses the column that enters for a row; those that its step passes go to their other bound.
func (l *programme) enter(r int) (int, bool) {
	u := l.base[r]
	sign, lack := 1.0, l.lo[u]-l.x[u]
	if lack <= 0 {
		sign, lack = -1, l.x[u]-l.hi[u]
	}
	h := l.ratios[:0]
	for j, t := range l.line(r) {
		v := l.out[j]
		if a := sign * t; math.Abs(a) > tiny && l.hi[v] > l.lo[v] && (a < 0) == (l.x[v] == l.lo[v]) {
			h = append(h, ratio{j, math.Abs(l.d[j] / a), math.Abs(a)})
		}
	}
	heap.Init(&h)
	defer func() { l.ratios = h }()
	var passed []int
	for len(h) > 0 {
		c := heap.Pop(&h).(ratio)
		v := l.out[c.j]
		if rest := lack - c.a*(l.hi[v]-l.lo[v]); rest > feasible {
			lack = rest
			passed = append(passed, c.j)
			continue
		}
		for len(h) > 0 && h[0].r <= c.r+tiny { // of those as good the surest pivot
			if o := heap.Pop(&h).(ratio); o.a > c.a {
				c = o
			}
		}
		for _, j := range passed {
			l.flip(j)
		}
		return c.j, true
	}
	return 0, false
}

func (l *programme) flip(j int) {
	v := l.out[j]
	by := l.hi[v] - l.lo[v]
	if l.x[v] == l.hi[v] {
		by = -by
	}
	if l.x[v] = l.lo[v]; by > 0 {
		l.x[v] = l.hi[v]
	}
	for i, u := range l.base {
		l.x[u] -= l.line(i)[j] * by
	}
}

func (l *programme) step(r, q int) {
	u, v := l.base[r], l.out[q]
	to := l.lo[u]
	if l.x[u] > l.hi[u] {
		to = l.hi[u]
	}
	n, p := len(l.out), l.line(r)[q]
	by := (l.x[u] - to) / p
	most := 0.0
	for i, w := range l.base {
		if a := l.t[i*n+q]; a != 0 {
			l.x[w] -= a * by
			l.weight[i] = max(l.weight[i], a*a/(p*p)*l.weight[r])
			most = max(most, l.weight[i])
		}
	}
	if l.weight[r] = max(l.weight[r]/(p*p), 1); most > 1e6 { // the frame of reference is worn out
		for i := range l.weight {
			l.weight[i] = 1
		}
	}
	l.x[u] = to
	l.x[v] += by
	l.pivot(r, q)
}

func (l *programme) pivot(r, q int) {
	line := l.line(r)
	inv, nz, count := 1/line[q], l.nz[:0], 1
	for j, t := range line {
		if t != 0 && j != q {
			line[j] = t * inv
			nz = append(nz, j)
		}
	}
	l.nz = nz
	line[q] = inv
	l.beta[r] *= inv
	dense := 2*len(nz) > len(line)
	less := func(to []float64, f float64) {
		if dense {
			to = to[:len(line)]
			for j, t := range line {
				to[j] -= f * t
			}
		} else {
			for _, j := range nz {
				to[j] -= f * line[j]
			}
		}
		to[q] = -f * inv
		count++
	}
	for i := range l.base {
		if to := l.line(i); i != r && to[q] != 0 {
			f := to[q]
			if math.Abs(f) < 1e-13 {
				to[q] = 0
				continue
			}
			l.beta[i] -= f * l.beta[r]
			less(to, f)
		}
	}
	less(l.d, l.d[q])
	*l.effort -= 1 + float64(count*len(nz))/perUnit
	u, v := l.base[r], l.out[q]
	l.base[r], l.out[q] = v, u
	l.where[v], l.where[u] = -1-r, q
}

// safe is a bound that holds whatever the tableau has lost to rounding, with the reduced costs that give it: any
// multipliers of the rows as given bound the programme (weak duality).
func (l *programme) safe() (float64, []float64) {
	z := 0.0
	d := make([]float64, len(l.cost)+len(l.rows))
	copy(d, l.cost)
	for i, r := range l.rows {
		v := len(l.cost) + i
		j := l.where[v]
		if j < 0 || j == gone || l.d[j] == 0 || l.d[j] < 0 && math.IsInf(l.hi[v], 1) {
			continue
		}
		d[v] = l.d[j]
		z -= d[v] * r.b
		for k, at := range r.at {
			d[at] += d[v] * r.a[k]
		}
	}
	for v, c := range d {
		if c > 0 {
			z += c * l.lo[v]
		} else if c < 0 {
			z += c * l.hi[v]
		}
	}
	return z, d
}

// drift is how far the values of the tableau are from the rows as given.
func (l *programme) drift() float64 {
	most := 0.0
	for i, r := range l.rows {
		if l.where[len(l.cost)+i] == gone {
			continue
		}
		sum := l.x[len(l.cost)+i] - r.b
		for k, at := range r.at {
			sum += r.a[k] * l.x[at]
		}
		most = max(most, math.Abs(sum))
	}
	return most
}
