package basket

import "math"

// Columns that are dear may sleep: they stand at 0 outside the tableau, and wake when the multipliers price them in or
// when a row cannot be met without them. So the tableau holds a few hundred of the columns only.

// columns are the variables that are not fixed at 0.
func (l *programme) columns() (list []int) {
	for v := range l.cost {
		if l.hi[v] > 0 {
			list = append(list, v)
		} else {
			l.x[v] = 0
		}
	}
	return list
}

// awake are the columns of the tableau that may be more than 0, with more of them and what may not be 0.
func (l *programme) awake(more []int) (list []int) {
	in := make([]bool, len(l.cost))
	for _, v := range more {
		in[v] = true
	}
	for v := range l.cost {
		if l.hi[v] > 0 && (in[v] || l.lo[v] > 0 || l.where[v] != gone) {
			list = append(list, v)
		} else {
			l.x[v] = 0
		}
	}
	return list
}

// rest puts the nonbasic columns at 0 to sleep that cost more than so much.
func (l *programme) rest(dear float64) {
	l.drop(func(j, v int) bool {
		return v < len(l.cost) && l.x[v] == 0 && l.lo[v] == 0 && (l.hi[v] == 0 || l.d[j] > dear)
	})
}

// shrink takes the columns out that are fixed at 0.
func (l *programme) shrink() { l.drop(func(j, v int) bool { return v < len(l.cost) && l.hi[v] == 0 }) }

func (l *programme) drop(leaves func(j, v int) bool) {
	var keep []int
	for j, v := range l.out {
		if leaves(j, v) {
			l.where[v], l.x[v] = gone, 0
		} else {
			keep = append(keep, j)
		}
	}
	if len(keep) == len(l.out) {
		return
	}
	n := len(l.out)
	for i := range l.base { // in place: a column moves to the left only
		from, to := l.t[i*n:(i+1)*n], l.t[i*len(keep):]
		for k, j := range keep {
			to[k] = from[j]
		}
	}
	l.t = l.t[:len(l.base)*len(keep)]
	for k, j := range keep {
		l.out[k], l.d[k] = l.out[j], l.d[j]
		l.where[l.out[k]] = k
	}
	l.out, l.d = l.out[:len(keep)], l.d[:len(keep)]
}

func (l *programme) sleeps(v int) bool { return l.where[v] == gone && l.hi[v] > l.lo[v] }

// call wakes the columns whose reduced costs are negative; false when there are none.
func (l *programme) call(d []float64) bool {
	var list []int
	for v := range l.cost {
		if l.sleeps(v) && d[v] < -1e-6 {
			list = append(list, v)
		}
	}
	l.admit(list, d)
	return len(list) > 0
}

// help wakes the columns that bring a row of the tableau nearer to its bounds when no other does.
func (l *programme) help(r int) bool {
	u := l.base[r]
	up := l.x[u] < l.lo[u]
	var list []int
	for v := range l.cost {
		if l.sleeps(v) {
			list = append(list, v)
		}
	}
	if len(list) == 0 {
		return false
	}
	y := l.inverse(r)
	by := l.columnsOf()
	keep := list[:0]
	for _, v := range list {
		t := 0.0
		for _, e := range by[v] {
			t += e.times * y[e.row]
		}
		// x[u] = beta − t·x[v]: more of v raises u where t is negative
		if math.Abs(t) > tiny && (t < 0) == up {
			keep = append(keep, v)
		}
	}
	_, d := l.safe()
	l.admit(keep, d)
	return len(keep) > 0
}

// inverse is a row of the inverse of the basis, by the rows as given.
func (l *programme) inverse(r int) []float64 {
	y := make([]float64, len(l.rows))
	for j, t := range l.line(r) {
		if u := l.out[j] - len(l.cost); u >= 0 {
			y[u] = t
		}
	}
	if u := l.base[r] - len(l.cost); u >= 0 {
		y[u] = 1
	}
	return y
}

// columnsOf is the rows of each variable, kept while no row is added.
func (l *programme) columnsOf() [][]share {
	if l.byRows != len(l.rows) {
		l.by, l.byRows = make([][]share, len(l.cost)), len(l.rows)
		for i, r := range l.rows {
			for k, v := range r.at {
				l.by[v] = append(l.by[v], share{i, r.a[k]})
			}
		}
	}
	return l.by
}

// admit puts sleeping columns into the tableau, in terms of the present basis.
func (l *programme) admit(list []int, d []float64) {
	if len(list) == 0 {
		return
	}
	n, m := len(l.out), len(l.base)
	w := n + len(list)
	t := make([]float64, m*w)
	by := l.columnsOf()
	for i := range l.base {
		copy(t[i*w:], l.line(i))
	}
	for k, v := range list {
		for _, e := range by[v] {
			switch at := l.where[len(l.cost)+e.row]; {
			case at == gone:
			case at < 0:
				t[(-1-at)*w+n+k] += e.times
			default:
				for i := range m {
					if a := l.t[i*n+at]; a != 0 {
						t[i*w+n+k] += e.times * a
					}
				}
			}
		}
		l.where[v] = n + k
		l.out, l.d = append(l.out, v), append(l.d, d[v])
		l.x[v] = l.lo[v]
	}
	l.t = t
	*l.effort -= 1 + float64(m*w)/perUnit/2
	for k, v := range list {
		if d[v] < 0 {
			l.flip(n + k)
		} else if l.lo[v] != 0 {
			for i, u := range l.base {
				l.x[u] -= l.t[i*w+n+k] * l.lo[v]
			}
		}
	}
}
