package school

import (
	"math"
	"slices"
)

// factor is a table over some facts, the last the fastest.
type factor struct {
	scope []string
	table []float64
}

// found is an end, with the values at which it is taken; exact is false where a table would have been larger than the
// effort.
type found struct {
	value float64
	at    assignment
	exact bool
}

// optimise is an end of a sum of terms, over the values that each of their facts may take.
func optimise(end int, terms []term, dom map[string][]float64, effort int) found {
	value, at, exact := 0.0, make(assignment, len(dom)), true
	better := func(a, b float64) bool { return end == high && a > b || end == low && a < b }
	for f, x := range dom {
		at[f] = x[0]
	}
	var factors []factor
	for _, t := range terms {
		var scope []string
		size := 1
		for _, f := range t.n.facts() {
			if len(dom[f]) > 1 && !slices.Contains(scope, f) {
				scope = append(scope, f)
				size *= len(dom[f])
			}
			if size > effort {
				break
			}
		}
		switch {
		case len(scope) == 0:
			value += t.w * t.n.points(at)
		case size > effort: // too large: its own bound
			exact = false
			lo, hi := t.n.between(func(f string) []float64 { return dom[f] })
			if end == high {
				value += t.w * hi
			} else {
				value += t.w * lo
			}
		default:
			slices.Sort(scope)
			factors = append(factors, tabulate(scope, dom, at, func(a assignment) float64 { return t.w * t.n.points(a) }))
		}
	}
	// facts are eliminated one by one, smallest joint table first (U. Bertelè and F. Brioschi, Nonserial Dynamic
	// Programming, 1972)
	type eliminated struct {
		f     string
		joint factor
		best  []int
	}
	var order []eliminated
	for len(factors) > 0 {
		f, size := "", math.Inf(1)
		for _, x := range scopes(factors) {
			s := 1.0
			for _, y := range joint(factors, x) {
				s *= float64(len(dom[y]))
			}
			if s < size || s == size && x < f {
				f, size = x, s
			}
		}
		if f == "" {
			break
		}
		var with []factor
		rest := factors[:0:0]
		for _, g := range factors {
			if slices.Contains(g.scope, f) {
				with = append(with, g)
			} else {
				rest = append(rest, g)
			}
		}
		if size > float64(effort) { // maximised apart: a true outer range
			exact = false
			for _, g := range with {
				x := math.Inf(-1)
				if end == low {
					x = math.Inf(1)
				}
				for _, y := range g.table {
					if better(y, x) {
						x = y
					}
				}
				value += x
			}
			factors = rest
			continue
		}
		scope := slices.DeleteFunc(joint(with, f), func(x string) bool { return x == f })
		e := eliminated{f: f, joint: factor{scope: scope}}
		each(scope, dom, func(a assignment) {
			best, pick := math.Inf(-1), 0
			if end == low {
				best = math.Inf(1)
			}
			for i, v := range dom[f] {
				a[f] = v
				sum := 0.0
				for _, g := range with {
					sum += g.at(a, dom)
				}
				if better(sum, best) {
					best, pick = sum, i
				}
			}
			e.joint.table = append(e.joint.table, best)
			e.best = append(e.best, pick)
		})
		order = append(order, e)
		if len(scope) == 0 {
			value += e.joint.table[0]
			factors = rest
		} else {
			factors = append(rest, e.joint)
		}
	}
	for i := len(order) - 1; i >= 0; i-- {
		e := order[i]
		at[e.f] = dom[e.f][e.best[e.joint.index(at, dom)]]
	}
	return found{value, at, exact}
}

func scopes(factors []factor) []string {
	var list []string
	for _, g := range factors {
		for _, f := range g.scope {
			if !slices.Contains(list, f) {
				list = append(list, f)
			}
		}
	}
	slices.Sort(list)
	return list
}

// joint is the facts that stand together with one in some factor, itself too.
func joint(factors []factor, f string) []string {
	var list []string
	for _, g := range factors {
		if !slices.Contains(g.scope, f) {
			continue
		}
		for _, x := range g.scope {
			if !slices.Contains(list, x) {
				list = append(list, x)
			}
		}
	}
	slices.Sort(list)
	return list
}

func (g factor) index(a assignment, dom map[string][]float64) int {
	i := 0
	for _, f := range g.scope {
		k, _ := slices.BinarySearch(dom[f], a[f])
		i = i*len(dom[f]) + k
	}
	return i
}

func (g factor) at(a assignment, dom map[string][]float64) float64 { return g.table[g.index(a, dom)] }

// each goes through all values of some facts, the last the fastest.
func each(scope []string, dom map[string][]float64, do func(assignment)) {
	a := assignment{}
	var walk func(k int)
	walk = func(k int) {
		if k == len(scope) {
			do(a)
			return
		}
		for _, v := range dom[scope[k]] {
			a[scope[k]] = v
			walk(k + 1)
		}
	}
	walk(0)
}

func tabulate(scope []string, dom map[string][]float64, rest assignment, of func(assignment) float64) factor {
	g := factor{scope: scope}
	each(scope, dom, func(a assignment) {
		for f, v := range rest {
			if _, is := a[f]; !is {
				a[f] = v
			}
		}
		g.table = append(g.table, of(a))
	})
	return g
}
