package school

import (
	"cmp"
	"math"
	"slices"
)

// low and high are the two ends.
const (
	low  = 0
	high = 1
)

// problem is a sum cut by gates, over what may be true, taken apart into groups that share no fact.
type problem struct {
	groups []*group
	gates  []gate
	effort int
}

// gate is a gate and the group in which its facts are.
type gate struct {
	node
	group int
}

func (s *rule) problem(x map[string][]float64, effort int) *problem {
	p := &problem{gates: s.cuts, effort: effort}
	for _, part := range s.parts {
		p.groups = append(p.groups, part.sieve(x, effort, nil))
	}
	return p
}

// with is the problem with other values of one fact; what does not hang together with it is kept.
func (p *problem) with(x map[string][]float64, fact string) *problem {
	q := *p
	q.groups = slices.Clone(p.groups)
	for i, g := range q.groups {
		if _, mine := g.left[low][fact]; mine {
			q.groups[i] = g.sieve(x, p.effort, nil)
		}
	}
	return &q
}

// only is the problem of some criteria without gates.
func only(terms []term, x map[string][]float64, effort int) *problem {
	p := &problem{effort: effort}
	for _, part := range split(terms, nil) {
		p.groups = append(p.groups, part.sieve(x, effort, nil))
	}
	return p
}

// domain is what is left of a fact for an end.
func (p *problem) domain(end int, f string, fixed assignment) []float64 {
	if v, is := fixed[f]; is {
		return []float64{v}
	}
	for _, g := range p.groups {
		if x, mine := g.left[end][f]; mine {
			return x
		}
	}
	return nil
}

// optimise is an end of other terms of the same facts.
func (p *problem) optimise(end int, terms []term, fixed assignment) found {
	dom := map[string][]float64{}
	for _, t := range terms {
		for _, f := range t.n.facts() {
			dom[f] = p.domain(end, f, fixed)
		}
	}
	return optimise(end, terms, dom, p.effort)
}

// sum is an end of the sum of the terms, with the values at which it is taken, by group. fixed facts have the value
// given.
func (p *problem) sum(end int, fixed assignment) (value float64, at []assignment, exact bool) {
	at, exact = make([]assignment, len(p.groups)), true
	for i, g := range p.groups {
		f := g.sum(end, fixed)
		value, at[i], exact = value+f.value, f.at, exact && f.exact
	}
	return value, at, exact
}

// mostCombinations of mixed facts in gates are tried for the high end.
const mostCombinations = 4096

// end is one end of the whole: the sum, cut by the gates.
func (p *problem) end(end int, fixed assignment) (value float64, at []assignment, exact bool) {
	value, at, exact = p.sum(end, fixed)
	if len(p.gates) == 0 {
		return value, at, exact
	}
	if end == low {
		for _, g := range p.gates {
			f := p.optimise(low, []term{{1, g}}, fixed)
			exact = exact && f.exact
			if f.value < value {
				value, at[g.group] = f.value, merged(at[g.group], f.at)
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
	cut := func(v float64, at []assignment) float64 {
		for _, g := range p.gates {
			v = math.Min(v, g.points(at[g.group]))
		}
		return v
	}
	switch {
	case len(mixed) == 0:
		return cut(value, at), at, exact
	case combinations > mostCombinations: // each gate's own greatest: an outer end
		for _, g := range p.gates {
			value = math.Min(value, p.optimise(high, []term{{1, g}}, fixed).value)
		}
		return value, at, false
	}
	best := math.Inf(-1)
	var where []assignment
	each(mixed, dom, func(a assignment) {
		v, found, ok := p.sum(high, merged(fixed, a))
		exact = exact && ok
		if v = cut(v, found); v > best+1e-13 {
			best, where = v, found
		}
	})
	return best, where, exact
}

// merged has the values of all; those of a later one count.
func merged(list ...assignment) assignment {
	out := assignment{}
	for _, a := range list {
		for f, v := range a {
			out[f] = v
		}
	}
	return out
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
