package basket

import (
	"math"
	"slices"
)

func (l *programme) line(i int) []float64 { n := len(l.out); return l.t[i*n : (i+1)*n : (i+1)*n] }

// start builds the tableau of a basis from the rows as given: columns are the variables in it, rows those awake, tight
// of them those whose slack is not basic.
func (l *programme) start(columns, rows, basic []int, tight map[int]bool) {
	l.out = append(l.out[:0], columns...)
	for v := range l.where {
		l.where[v] = gone
	}
	l.d = l.d[:0]
	for j, v := range columns {
		l.where[v], l.d = j, append(l.d, l.cost[v])
	}
	l.t, l.base, l.beta, l.weight = l.t[:0], l.base[:0], l.beta[:0], l.weight[:0]
	for _, i := range rows {
		l.wake(i)
	}
	var leave []int
	for i, u := range l.base {
		if tight[u] {
			leave = append(leave, i)
		}
	}
	for _, v := range basic {
		q, r, most := l.where[v], -1, 1e-8
		if q == gone {
			continue
		}
		for k, i := range leave {
			if a := math.Abs(l.t[i*len(l.out)+q]); a > most {
				r, most = k, a
			}
		}
		if r >= 0 {
			l.pivot(leave[r], q)
			leave = slices.Delete(leave, r, r+1)
		}
	}
	l.place()
}

// basis is what start needs to come back here.
func (l *programme) basis() (rows, basic []int, tight map[int]bool) {
	tight = map[int]bool{}
	for v, w := range l.where {
		switch id := v - len(l.cost); {
		case w == gone:
		case id < 0 && w < 0:
			basic = append(basic, v)
		case id >= 0:
			rows = append(rows, id)
			if w >= 0 {
				tight[v] = true
			}
		}
	}
	return rows, basic, tight
}

// rebuild makes the tableau of the same basis anew, against rounding.
func (l *programme) rebuild() {
	rows, basic, tight := l.basis()
	var columns []int
	for v := range l.cost {
		if l.where[v] != gone {
			columns = append(columns, v)
		}
	}
	l.start(columns, rows, basic, tight)
}

// add takes a row in. Its slack has a bound too, so that any basis is dual feasible, also one whose rows have changed.
func (l *programme) add(r row) {
	l.rows = append(l.rows, r)
	l.lo, l.hi = append(l.lo, 0), append(l.hi, l.most(r))
	l.x, l.where = append(l.x, 0), append(l.where, gone)
	l.wake(len(l.rows) - 1)
}

// most is how large the slack of a row can be within the bounds of the whole search.
func (l *programme) most(r row) float64 {
	lo, hi := l.all.lo, l.all.hi
	if len(lo) == 0 {
		lo, hi = l.lo, l.hi
	}
	most := r.b
	for k, v := range r.at {
		most -= min(r.a[k]*lo[v], r.a[k]*hi[v])
	}
	return max(0, most)
}

// wake puts a row into the tableau, in terms of the present basis.
func (l *programme) wake(id int) {
	r, v, n := l.rows[id], len(l.cost)+id, len(l.out)
	l.where[v] = -1 - len(l.base)
	l.base, l.weight = append(l.base, v), append(l.weight, 1)
	l.t = slices.Grow(l.t, n)[:len(l.t)+n]
	line, beta := l.line(len(l.base)-1), r.b
	clear(line)
	l.x[v] = l.slack(id)
	for k, at := range r.at {
		switch w := l.where[at]; {
		case w == gone:
		case w >= 0:
			line[w] += r.a[k]
		default:
			beta -= r.a[k] * l.beta[-1-w]
			for j, t := range l.line(-1 - w) {
				if t != 0 {
					line[j] -= r.a[k] * t
				}
			}
		}
	}
	l.beta = append(l.beta, beta)
	*l.effort -= float64(len(r.at)*n) / perUnit / 4
}

func (l *programme) slack(id int) float64 {
	r := &l.rows[id]
	sum := r.b
	for k, at := range r.at {
		sum -= r.a[k] * l.x[at]
	}
	return sum
}

// sleep takes rows from one on out that do not bind: their slack is basic, so that nothing else hangs on them.
func (l *programme) sleep(from int) {
	n := len(l.out)
	for i := len(l.base) - 1; i >= 0; i-- {
		v := l.base[i]
		if v-len(l.cost) >= from && l.x[v] > 1e-3 {
			last := len(l.base) - 1
			copy(l.line(i), l.line(last))
			l.base[i], l.beta[i], l.weight[i] = l.base[last], l.beta[last], l.weight[last]
			l.where[l.base[i]] = -1 - i
			l.t, l.base, l.beta, l.weight = l.t[:last*n], l.base[:last], l.beta[:last], l.weight[:last]
			l.where[v] = gone
		}
	}
}

// forget drops the sleeping rows from one on for good.
func (l *programme) forget(from int) {
	for id := from; id < len(l.rows); id++ {
		if l.where[len(l.cost)+id] == gone && !l.rows[id].whole {
			l.rows[id] = row{}
		}
	}
}

// missed wakes the sleeping rows that the present point breaks; false when there are none.
func (l *programme) missed() bool {
	any := false
	for id := range l.rows {
		if l.where[len(l.cost)+id] == gone && l.slack(id) < -1e-6 {
			l.wake(id)
			any = true
		}
	}
	return any
}

// copyTo keeps the basis for a way back.
func (l *programme) copyTo(m *programme) {
	m.t = append(m.t[:0], l.t...)
	m.x, m.base, m.out = append(m.x[:0], l.x...), append(m.base[:0], l.base...), append(m.out[:0], l.out...)
	m.where, m.beta = append(m.where[:0], l.where...), append(m.beta[:0], l.beta...)
	m.d, m.weight = append(m.d[:0], l.d...), append(m.weight[:0], l.weight...)
}
