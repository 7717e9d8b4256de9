package school

import (
	"cmp"
	"math"
	"slices"
)

// term is a part of a sum: a weight and a node.
type term struct {
	w float64
	n node
}

// apart takes means at the top of a node apart into terms.
func apart(w float64, n node) []term {
	m, is := n.(mean)
	if !is {
		return []term{{w, n}}
	}
	var list []term
	for i, p := range m.parts {
		list = append(list, apart(w*m.weights[i], p)...)
	}
	return list
}

// problem is a minimum of sums and gates over what may be true; one end at a time. sense is +1 for the high end, −1 for
// the low one.
type problem struct {
	terms  []term
	gates  []node
	x      map[string][]float64 // all that may be true
	left   [2]map[string][]float64
	effort int
}

func (s *rule) problem(x map[string][]float64, effort int) *problem {
	p := &problem{gates: s.gates, x: x, effort: effort}
	for i, n := range s.criteria {
		p.terms = append(p.terms, apart(s.weights[i], n)...)
	}
	p.sieve()
	return p
}

// only is the problem of some criteria without gates.
func only(terms []term, x map[string][]float64, effort int) *problem {
	p := &problem{terms: terms, x: x, effort: effort}
	p.sieve()
	return p
}

// sieve keeps, for each end, the values of a fact that no other beats everywhere (a Pareto filter): a value that is
// nowhere worse and somewhere better makes the other superfluous, whatever the weights are.
func (p *problem) sieve() {
	all := map[string][]use{}
	s := func(f string) []float64 { return p.x[f] }
	for _, t := range p.terms {
		for _, u := range t.n.uses(s) {
			all[u.fact] = append(all[u.fact], u)
		}
	}
	for _, g := range p.gates {
		for _, u := range g.uses(s) {
			all[u.fact] = append(all[u.fact], u)
		}
	}
	for end := range p.left {
		p.left[end] = make(map[string][]float64, len(p.x))
		sign := 1.0
		if end == 0 {
			sign = -1
		}
		for f, x := range p.x {
			p.left[end][f] = front(x, all[f], sign)
		}
	}
}

func front(x []float64, uses []use, sign float64) []float64 {
	if len(x) < 2 {
		return x
	}
	switch len(uses) {
	case 0:
		return x[:1:1]
	case 1: // the best, the first of such
		best, top := 0, sign*uses[0].of(x[0])
		for i, v := range x {
			if y := sign * uses[0].of(v); y > top+1e-13 {
				best, top = i, y
			}
		}
		return x[best : best+1 : best+1]
	}
	rows, n := make([][]float64, len(x)), len(uses)
	all := make([]float64, len(x)*n)
	for i, v := range x {
		row := all[i*n : (i+1)*n]
		for k, u := range uses {
			row[k] = sign * u.of(v)
		}
		rows[i] = row
	}
	beats := func(a, b []float64) (never, somewhere bool) { // a against b: nowhere worse, somewhere better
		never = true
		for k := range a {
			if a[k] < b[k]-1e-13 {
				return false, false
			}
			somewhere = somewhere || a[k] > b[k]+1e-13
		}
		return never, somewhere
	}
	var keep []float64
	var kept [][]float64
next:
	for i, row := range rows {
		for k := 0; k < len(kept); k++ {
			if never, _ := beats(kept[k], row); never { // beaten, or equal: the first stays
				continue next
			}
		}
		for k := len(kept) - 1; k >= 0; k-- {
			if never, _ := beats(row, kept[k]); never {
				kept, keep = slices.Delete(kept, k, k+1), slices.Delete(keep, k, k+1)
			}
		}
		kept, keep = append(kept, row), append(keep, x[i])
	}
	return keep
}

// factor is a table over some facts, the last the fastest.
type factor struct {
	scope []string
	table []float64
}

// low and high are the two ends.
const (
	low  = 0
	high = 1
)

// sum is an end of the sum of the terms, with the values at which it is taken. fixed facts have the value given; exact is
// false where a table would have been larger than the effort.
func (p *problem) sum(end int, fixed assignment) (value float64, at assignment, exact bool) {
	return p.optimise(end, p.terms, fixed)
}

func (p *problem) domain(end int, f string, fixed assignment) []float64 {
	if v, is := fixed[f]; is {
		return []float64{v}
	}
	return p.left[end][f]
}

func (p *problem) optimise(end int, terms []term, fixed assignment) (value float64, at assignment, exact bool) {
	at, exact = assignment{}, true
	dom := map[string][]float64{}
	better := func(a, b float64) bool { return end == high && a > b || end == low && a < b }
	for f := range p.x {
		dom[f] = p.domain(end, f, fixed)
		at[f] = dom[f][0]
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
			if size > p.effort {
				break
			}
		}
		switch {
		case len(scope) == 0:
			value += t.w * t.n.points(at)
		case size > p.effort: // too large: its own bound
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
		if size > float64(p.effort) { // maximised apart: a true outer range
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
	return value, at, exact
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

// mostCombinations of mixed facts in gates are tried for the high end.
const mostCombinations = 4096

// end is one end of the whole: the sum, cut by the gates.
func (p *problem) end(end int, fixed assignment) (value float64, at assignment, exact bool) {
	value, at, exact = p.sum(end, fixed)
	if len(p.gates) == 0 {
		return value, at, exact
	}
	if end == low {
		for _, g := range p.gates {
			v, where, ok := p.optimise(low, []term{{1, g}}, fixed)
			exact = exact && ok
			if v < value {
				value = v
				for _, f := range g.facts() {
					at[f] = where[f]
				}
			}
		}
		return value, at, exact
	}
	var mixed []string
	combinations := 1
	dom := map[string][]float64{}
	for _, g := range p.gates {
		for _, f := range g.facts() {
			if d := p.domain(high, f, fixed); len(d) > 1 && !slices.Contains(mixed, f) {
				mixed = append(mixed, f)
				dom[f] = d
				combinations = min(mostCombinations+1, combinations*len(d))
			}
		}
	}
	slices.Sort(mixed)
	cut := func(v float64, a assignment) float64 {
		for _, g := range p.gates {
			v = math.Min(v, g.points(a))
		}
		return v
	}
	switch {
	case len(mixed) == 0:
		return cut(value, at), at, exact
	case combinations > mostCombinations: // each gate's own greatest: an outer end
		for _, g := range p.gates {
			v, _, _ := p.optimise(high, []term{{1, g}}, fixed)
			value = math.Min(value, v)
		}
		return value, at, false
	}
	best := math.Inf(-1)
	var where assignment
	each(mixed, dom, func(a assignment) {
		held := assignment{}
		for f, v := range fixed {
			held[f] = v
		}
		for f, v := range a {
			held[f] = v
		}
		v, found, ok := p.sum(high, held)
		exact = exact && ok
		if v = cut(v, found); v > best+1e-13 {
			best, where = v, found
		}
	})
	return best, where, exact
}

// between is the whole range.
func (p *problem) between(fixed assignment) (lo, hi float64, exact bool) {
	lo, _, a := p.end(low, fixed)
	hi, _, b := p.end(high, fixed)
	return lo, hi, a && b
}

// byGreatest orders by a figure, the greatest first, then by id.
func byGreatest[T any](list []T, figure func(T) float64, id func(T) string) {
	slices.SortStableFunc(list, func(a, b T) int {
		x, y := figure(a), figure(b)
		if math.Abs(x-y) > 1e-12*math.Max(1, math.Max(math.Abs(x), math.Abs(y))) {
			return cmp.Compare(y, x)
		}
		return cmp.Compare(id(a), id(b))
	})
}
