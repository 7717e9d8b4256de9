package basket

import (
	"cmp"
	"math"
	"slices"
)

const (
	chainLength = 1   // rows that join the first
	closely     = 0.5 // slack of a first row
	scales      = 8
	tightly     = 0.1 // and of those that join it
)

// chains are roundings of a row, alone or with others that cancel variables between their bounds, scaled by the
// coefficients of such variables (aggregation after H. Marchand, L. Wolsey 2001, from memory).
func (l *programme) chains(w *adder) (found []cut) {
	slacks := l.aimed.slack
	holds := make([][]share, len(l.cost)) // tight rows of the loose variables
	for id, r := range l.rows {
		if slacks[id] < tightly {
			for k, v := range r.at {
				if l.aimed.off[v] > 1e-6 {
					holds[v] = append(holds[v], share{id, r.a[k]})
				}
			}
		}
	}
	for id, r := range l.rows {
		if len(r.at) == 0 || slacks[id] > closely {
			continue
		}
		y := []share{{id, 1}}
		for {
			w.gather(y)
			if best := w.scaled(); best.depth > 0 {
				found = append(found, best)
				break
			}
			if len(y) > chainLength {
				break
			}
			next := w.joins(holds)
			if next.row < 0 {
				break
			}
			y = append(y, next)
		}
	}
	return found
}

// joins is the tight row that cancels the loosest variable of the sum; row −1 when there is none.
func (w *adder) joins(holds [][]share) share {
	l := w.l
	at, off := share{-1, 0}, 1e-6
	for _, v := range w.loose {
		if f := l.aimed.off[v]; f > off {
			for _, h := range holds[v] {
				if h.times*w.a[v] < 0 && !slices.ContainsFunc(w.y, func(s share) bool { return s.row == h.row }) {
					at, off = share{h.row, -w.a[v] / h.times}, f
					break
				}
			}
		}
	}
	return at
}

// scaled is the deepest rounding of the sum divided by the coefficient of a loose variable.
func (w *adder) scaled() (best cut) {
	l := w.l
	tried := make([]float64, 0, scales)
	slices.SortStableFunc(w.loose, func(a, b int) int { return cmp.Compare(l.aimed.off[b], l.aimed.off[a]) })
	for _, v := range w.loose {
		if len(tried) == scales {
			break
		}
		by := math.Abs(w.a[v])
		if by < 1e-6 || slices.ContainsFunc(tried, func(o float64) bool { return math.Abs(o-by) < 1e-9 }) {
			continue
		}
		tried = append(tried, by)
		if c := w.deepest(1/by, 1/(2*by), 1/(4*by), 1/(8*by)); c.depth > best.depth {
			best = c
		}
	}
	return best
}
