package diagnose

import (
	"maps"
	"math"
	"slices"
)

// mixed is how many weak atoms are told apart at most by going through all their sets.
const mixed = 7

// mix is the posterior by cases: which of the few weak atoms are culprits. In each case the weak ones only change how
// likely a trial is that no strong culprit was met in, so that all cases share one table of strong atoms.
type mix struct {
	m     *model
	weak  []int // the atoms
	cases []*table
	share []float64 // weight of a case
	sum   float64
}

// newMix goes through the sets of weak atoms. s is the table of the strong parts of the trials.
func newMix(m *model, s *shape, weak []int) *mix {
	x := &mix{m: m, weak: weak}
	for k := range 1 << len(weak) {
		c := *m
		c.whole = slices.Clone(m.whole)
		share := 1.0
		for b, a := range weak {
			if k>>b&1 == 1 {
				share *= m.odds[a]
			} else {
				share *= 1 - m.odds[a]
			}
		}
		for e := range c.whole {
			q := 1.0
			for b, a := range weak {
				if k>>b&1 == 1 && c.whole[e].atoms.has(a) {
					q *= m.spare[a]
				}
			}
			if c.whole[e].miss = m.whole[e].at(q); len(s.groups) == 0 { // else it closes with the first group
				share *= c.whole[e].miss
			}
		}
		t := newTable(&c, s, 0)
		x.cases = append(x.cases, t)
		x.share = append(x.share, share*t.total())
		x.sum += share * t.total()
	}
	return x
}

// each hands out the cases that weigh anything, with their probability and weak culprits.
func (x *mix) each(take func(t *table, p float64, culprits set)) {
	for k, t := range x.cases {
		if x.share[k] == 0 {
			continue
		}
		var culprits set
		for b, a := range x.weak {
			if k>>b&1 == 1 {
				culprits.add(a)
			}
		}
		take(t, x.share[k]/x.sum, culprits)
	}
}

func (x *mix) total() float64 { return x.sum }

func (x *mix) dropped() float64 { return 0 }

func (x *mix) absent(s set) float64 {
	sum, strong := 0.0, s.without(x.m.weak)
	x.each(func(t *table, p float64, culprits set) {
		if s.and(culprits) == (set{}) {
			sum += p * t.absent(strong)
		}
	})
	return math.Min(1, sum)
}

func (x *mix) marginals(into []float64) {
	sum, one := make([]float64, len(into)), make([]float64, len(into))
	x.each(func(t *table, p float64, culprits set) {
		clear(one)
		t.marginals(one)
		for a, q := range one {
			sum[a] += p * q
		}
		for _, a := range culprits.elements() {
			sum[a] += p
		}
	})
	for a := range into {
		into[a] = math.Min(1, sum[a])
	}
}

func (x *mix) again() solver {
	y := *x
	y.cases = make([]*table, len(x.cases))
	for k, t := range x.cases {
		y.cases[k] = t.copied()
	}
	return &y
}

func (x *mix) best() []weighed {
	var all []weighed
	x.each(func(t *table, p float64, culprits set) {
		if p < listed*(1-1e-9) {
			return
		}
		for _, b := range t.best() {
			all = append(all, weighed{b.set.or(culprits), p * b.w})
		}
	})
	return keepBest(all)
}

// closing is the distribution of the chance that nothing strikes in a trial.
func (x *mix) closing(e int) []chance {
	by := map[float64]float64{}
	strong := x.m.whole[e].atoms.without(x.m.weak)
	x.each(func(t *table, p float64, culprits set) {
		none := t.absent(strong)
		q := 1.0
		for _, a := range x.m.whole[e].atoms.and(culprits).elements() {
			q *= x.m.spare[a]
		}
		by[0] += p * (1 - none)
		by[q] += p * none
	})
	var list []chance
	for _, q := range slices.Sorted(maps.Keys(by)) {
		list = append(list, chance{q, by[q]})
	}
	return list
}
