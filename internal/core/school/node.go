package school

import (
	"math"
	"slices"
)

// assignment is a value for each fact.
type assignment map[string]float64

// use is a place of a fact whose value, turned by a sign, never lets the score fall when it rises: points of a leaf, or
// the value itself in a larger formula.
type use struct {
	fact string
	of   func(x float64) float64
}

// node gives points. Its parts never lower it when they rise.
type node interface {
	points(assignment) float64
	// between is a range that holds whatever the facts in their sets are.
	between(sets) (lo, hi float64)
	facts() []string
	uses(sets) []use
}

// sets are the values that each fact may take.
type sets func(fact string) []float64

// formula is a quantity of facts, monotone in each of them.
type formula interface {
	value(assignment) float64
	between(sets) (lo, hi float64)
	facts() []string
	// places lists the facts with the sign of their place, +1 or −1.
	places(sign float64) []place
}

type place struct {
	fact string
	sign float64
	of   func(x float64) float64
}

func (n constant) points(assignment) float64   { return n.p }
func (n constant) between(sets) (_, _ float64) { return n.p, n.p }
func (n constant) facts() []string             { return nil }
func (n constant) uses(sets) []use             { return nil }
func (n table) at(x float64) float64           { return n.p[int(x)] }
func (n table) points(a assignment) float64    { return n.at(a[n.fact]) }
func (n table) between(s sets) (_, _ float64)  { return ends(s(n.fact), n.at) }
func (n table) facts() []string                { return []string{n.fact} }
func (n table) uses(sets) []use                { return []use{{n.fact, n.at}} }
func (n curve) points(a assignment) float64    { return n.at(n.q.value(a)) }
func (n curve) facts() []string                { return n.from }

func (n curve) between(s sets) (lo, hi float64) {
	if p, direct := n.q.(plain); direct {
		return ends(s(p.fact), n.at)
	}
	l, h := n.q.between(s)
	return ends(n.on(l, h), n.at)
}

// on are the places between two where the least and the greatest may lie.
func (n curve) on(l, h float64) []float64 {
	xs := []float64{l, h}
	for _, t := range n.turns {
		for _, x := range []float64{t, t + 2*whisker*math.Max(1, math.Abs(t))} {
			if x > l && x < h {
				xs = append(xs, x)
			}
		}
	}
	slices.Sort(xs)
	return xs
}

func (n curve) uses(s sets) []use {
	if p, direct := n.q.(plain); direct {
		return []use{{p.fact, n.at}}
	}
	l, h := n.q.between(s)
	rises, falls := false, false
	xs := n.on(l, h)
	for i := 1; i < len(xs); i++ {
		d := n.at(xs[i]) - n.at(xs[i-1])
		rises, falls = rises || d > 0, falls || d < 0
	}
	var list []use
	for _, p := range n.places {
		for _, dir := range []struct {
			is   bool
			sign float64
		}{{rises, 1}, {falls, -1}} {
			if dir.is {
				sign, of := p.sign*dir.sign, p.of
				list = append(list, use{p.fact, func(x float64) float64 { return sign * of(x) }})
			}
		}
	}
	return list
}

func nodeFacts(parts []node) (list []string) {
	for _, p := range parts {
		list = append(list, p.facts()...)
	}
	return list
}

func nodeUses(parts []node, s sets) (list []use) {
	for _, p := range parts {
		list = append(list, p.uses(s)...)
	}
	return list
}

func (n worst) points(a assignment) float64 {
	x := math.Inf(1)
	for _, p := range n.parts {
		x = math.Min(x, p.points(a))
	}
	return x
}
func (n worst) between(s sets) (lo, hi float64) {
	lo, hi = math.Inf(1), math.Inf(1)
	for _, p := range n.parts {
		l, h := p.between(s)
		lo, hi = math.Min(lo, l), math.Min(hi, h)
	}
	return lo, hi
}
func (n worst) facts() []string   { return nodeFacts(n.parts) }
func (n worst) uses(s sets) []use { return nodeUses(n.parts, s) }

func (n best) points(a assignment) float64 {
	x := math.Inf(-1)
	for _, p := range n.parts {
		x = math.Max(x, p.points(a))
	}
	return x
}
func (n best) between(s sets) (lo, hi float64) {
	lo, hi = math.Inf(-1), math.Inf(-1)
	for _, p := range n.parts {
		l, h := p.between(s)
		lo, hi = math.Max(lo, l), math.Max(hi, h)
	}
	return lo, hi
}
func (n best) facts() []string   { return nodeFacts(n.parts) }
func (n best) uses(s sets) []use { return nodeUses(n.parts, s) }

func (n mean) points(a assignment) float64 {
	x := 0.0
	for i, p := range n.parts {
		x += n.weights[i] * p.points(a)
	}
	return x
}
func (n mean) between(s sets) (lo, hi float64) {
	for i, p := range n.parts {
		l, h := p.between(s)
		lo, hi = lo+n.weights[i]*l, hi+n.weights[i]*h
	}
	return lo, hi
}
func (n mean) facts() []string   { return nodeFacts(n.parts) }
func (n mean) uses(s sets) []use { return nodeUses(n.parts, s) }
