package school

import (
	"slices"
	"strconv"
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

// part is what hangs together of a sum: no fact of it stands in a term or a gate of another.
type part struct {
	facts []string
	terms []term
	nodes []node // of its terms, and its gates
	// by fact: the nodes in which it stands, and the facts that do in one of them
	at     [][]int
	beside [][]string
}

// split takes a sum apart. Terms without facts are a part of their own.
func split(terms []term, gates []node) []*part {
	var list []*part
	join := func(n node) *part {
		facts := n.facts()
		to := &part{facts: slices.Clone(facts)}
		list = slices.DeleteFunc(list, func(p *part) bool {
			if !slices.ContainsFunc(facts, func(f string) bool { return slices.Contains(p.facts, f) }) &&
				len(facts)+len(p.facts) > 0 {
				return false
			}
			to.facts = slices.Concat(to.facts, p.facts)
			to.terms, to.nodes = append(to.terms, p.terms...), append(to.nodes, p.nodes...)
			return true
		})
		to.nodes = append(to.nodes, n)
		list = append(list, to)
		return to
	}
	for _, t := range terms {
		p := join(t.n)
		p.terms = append(p.terms, t)
	}
	for _, g := range gates {
		join(g)
	}
	for _, p := range list {
		slices.Sort(p.facts)
		p.facts = slices.Compact(p.facts)
		p.at, p.beside = make([][]int, len(p.facts)), make([][]string, len(p.facts))
		for k, n := range p.nodes {
			facts := n.facts()
			for _, f := range facts {
				i, _ := slices.BinarySearch(p.facts, f)
				if last := len(p.at[i]) - 1; last < 0 || p.at[i][last] != k {
					p.at[i], p.beside[i] = append(p.at[i], k), append(p.beside[i], facts...)
				}
			}
		}
		for i := range p.beside {
			slices.Sort(p.beside[i])
			p.beside[i] = slices.Compact(p.beside[i])
		}
	}
	return list
}

// group is a part with what may be true of its facts.
type group struct {
	*part
	left   [2]map[string][]float64 // what the sieve leaves of each fact, by end
	effort int
	free   [2]*found // its ends where nothing is held
}

// sieved is what a sieve found before: by node and by fact, and by which of the facts that count there had changed. It
// holds for one pair of sets for each fact.
type sieved struct {
	changed map[string]bool
	uses    map[string][]use
	left    map[string][2][]float64
}

func (s *sieved) key(kind byte, i int, facts []string) string {
	bits := strconv.AppendInt(append(make([]byte, 0, len(facts)+8), kind), int64(i), 10)
	for _, f := range facts {
		if s.changed[f] {
			bits = append(bits, '+')
		} else {
			bits = append(bits, '-')
		}
	}
	return string(bits)
}

// sieve keeps, for each end, the values of a fact that no other beats everywhere (a Pareto filter): a value that is
// nowhere worse and somewhere better makes the other superfluous, whatever the weights are. known may be nil.
func (p *part) sieve(x map[string][]float64, effort int, known *sieved) *group {
	g := &group{part: p, effort: effort}
	for end := range g.left {
		g.left[end] = make(map[string][]float64, len(p.facts))
	}
	uses := make([][]use, len(p.nodes))
	for i, f := range p.facts {
		if len(x[f]) < 2 {
			g.left[low][f], g.left[high][f] = x[f], x[f]
			continue
		}
		var key string
		if known != nil {
			key = known.key('f', i, p.beside[i])
			if left, is := known.left[key]; is {
				g.left[low][f], g.left[high][f] = left[low], left[high]
				continue
			}
		}
		var mine []use
		for _, k := range p.at[i] {
			if uses[k] == nil {
				uses[k] = p.uses(k, x, known)
			}
			for _, u := range uses[k] {
				if u.fact == f {
					mine = append(mine, u)
				}
			}
		}
		left := [2][]float64{low: front(x[f], mine, -1), high: front(x[f], mine, 1)}
		g.left[low][f], g.left[high][f] = left[low], left[high]
		if known != nil {
			known.left[key] = left
		}
	}
	return g
}

func (p *part) uses(k int, x map[string][]float64, known *sieved) []use {
	s := func(f string) []float64 { return x[f] }
	if known == nil {
		return p.nodes[k].uses(s)
	}
	key := known.key('n', k, p.nodes[k].facts())
	list, is := known.uses[key]
	if !is {
		list = p.nodes[k].uses(s)
		known.uses[key] = list
	}
	return list
}

// held is what is left of each fact where some have the value given.
func (g *group) held(end int, fixed assignment) (dom map[string][]float64, touched bool) {
	dom = g.left[end]
	for f, v := range fixed {
		if _, mine := g.left[end][f]; !mine {
			continue
		}
		if !touched {
			dom, touched = make(map[string][]float64, len(dom)), true
			for f, x := range g.left[end] {
				dom[f] = x
			}
		}
		dom[f] = []float64{v}
	}
	return dom, touched
}

// sum is an end of the terms.
func (g *group) sum(end int, fixed assignment) found {
	dom, touched := g.held(end, fixed)
	if touched {
		return optimise(end, g.terms, dom, g.effort)
	}
	if g.free[end] == nil {
		f := optimise(end, g.terms, dom, g.effort)
		g.free[end] = &f
	}
	return *g.free[end]
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
