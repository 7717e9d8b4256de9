package school

import (
	"math"
)

type (
	plain  struct{ fact string }
	amount struct{ x float64 }
	mapped struct {
		fact string
		to   []float64
	}
	total   struct{ parts []formula }
	product struct{ parts []formula }
	ratio   struct{ over, under formula }
)

func (q plain) value(a assignment) float64 { return a[q.fact] }
func (q plain) facts() []string            { return []string{q.fact} }
func (q plain) between(s sets) (_, _ float64) {
	return ends(s(q.fact), func(x float64) float64 { return x })
}
func (q plain) places(sign float64) []place {
	return []place{{q.fact, sign, func(x float64) float64 { return x }}}
}

func (q amount) value(assignment) float64      { return q.x }
func (q amount) facts() []string               { return nil }
func (q amount) between(sets) (_, _ float64)   { return q.x, q.x }
func (q amount) places(float64) []place        { return nil }
func (q mapped) at(x float64) float64          { return q.to[int(x)] }
func (q mapped) value(a assignment) float64    { return q.at(a[q.fact]) }
func (q mapped) facts() []string               { return []string{q.fact} }
func (q mapped) between(s sets) (_, _ float64) { return ends(s(q.fact), q.at) }
func (q mapped) places(sign float64) []place   { return []place{{q.fact, sign, q.at}} }

func ends(xs []float64, of func(float64) float64) (lo, hi float64) {
	lo, hi = math.Inf(1), math.Inf(-1)
	for _, x := range xs {
		y := of(x)
		lo, hi = math.Min(lo, y), math.Max(hi, y)
	}
	return lo, hi
}

func (q total) value(a assignment) float64 {
	sum := 0.0
	for _, p := range q.parts {
		sum += p.value(a)
	}
	return sum
}
func (q total) between(s sets) (lo, hi float64) {
	for _, p := range q.parts {
		l, h := p.between(s)
		lo, hi = lo+l, hi+h
	}
	return lo, hi
}
func (q total) facts() []string             { return factsOf(q.parts) }
func (q total) places(sign float64) []place { return placesOf(q.parts, sign) }

func (q product) value(a assignment) float64 {
	x := 1.0
	for _, p := range q.parts {
		x *= p.value(a)
	}
	return x
}
func (q product) between(s sets) (lo, hi float64) {
	lo, hi = 1, 1
	for _, p := range q.parts {
		l, h := p.between(s)
		lo, hi = lo*l, hi*h
	}
	return lo, hi
}
func (q product) facts() []string             { return factsOf(q.parts) }
func (q product) places(sign float64) []place { return placesOf(q.parts, sign) }

func (q ratio) value(a assignment) float64 { return q.over.value(a) / q.under.value(a) }
func (q ratio) between(s sets) (lo, hi float64) {
	l, h := q.over.between(s)
	m, n := q.under.between(s)
	return l / n, h / m
}
func (q ratio) facts() []string { return factsOf([]formula{q.over, q.under}) }
func (q ratio) places(sign float64) []place {
	return append(q.over.places(sign), q.under.places(-sign)...)
}

func factsOf(parts []formula) (list []string) {
	for _, p := range parts {
		list = append(list, p.facts()...)
	}
	return list
}

func placesOf(parts []formula, sign float64) (list []place) {
	for _, p := range parts {
		list = append(list, p.places(sign)...)
	}
	return list
}

type (
	constant struct{ p float64 }
	table    struct {
		fact string
		p    []float64
	}
	// curve is a leaf on a formula: rising steps or straight lines.
	curve struct {
		q      formula
		from   []string // the facts of q
		places []place  // of q
		at     func(x float64) float64
		// turns are where its direction may change.
		turns []float64
		jumps bool // at turns, it belongs to the step before
	}
	worst struct{ parts []node }
	best  struct{ parts []node }
	mean  struct {
		parts   []node
		weights []float64 // that sum to 1
	}
)
