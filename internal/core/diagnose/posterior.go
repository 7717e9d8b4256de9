package diagnose

import (
	"math"
	"slices"
)

// posterior fills in everything that rests on probabilities.
func (m *model) posterior() (*Check, []Suspect) {
	c := &Check{Sets: []Set{}, Conflicts: []Conflict{}, Groups: m.groups()}
	if m.zero || m.exact.total() == 0 {
		return c, nil
	}
	c.Consistent = true
	if d := m.exact.dropped(); d > 0 {
		no := false
		c.Exact, c.Error = &no, d
	}
	marginal := slices.Clone(m.odds)
	inner := make([]float64, len(m.inner.atoms))
	m.exact.marginals(inner)
	for a := range marginal {
		if !m.free.has(a) {
			marginal[a] = inner[m.at[a]]
		}
	}
	c.Marginal = make(map[string]float64, len(m.odds))
	entropy := math.Log(m.exact.total())
	for a, p := range m.odds {
		c.Marginal[m.atoms[a]] = marginal[a]
		entropy -= xlog(marginal[a], p) + xlog(1-marginal[a], 1-p)
	}
	for i := range m.whole {
		e := &m.whole[i]
		if e.atoms.and(m.weak) == (set{}) {
			none := m.none(i)
			entropy -= xlog(1-none, e.hit) + xlog(none, e.miss)
			continue
		}
		for _, x := range m.chances(m.exact, e.atoms) {
			entropy -= xlog(x.p, e.at(x.q))
		}
	}
	bits := math.Max(0, entropy/math.Ln2)
	c.Bits = &bits
	var suspects []Suspect
	hits := map[set][]chance{}
	for _, o := range m.seen {
		list, known := hits[o.atoms]
		if !known {
			list = m.chances(m.exact, o.atoms)
			hits[o.atoms] = list
		}
		noise := 0.0 // a loss though nothing struck, a pass though something did
		for _, x := range list {
			fl, fp := x.q*m.in.Noise.FalseLoss, (1-x.q)*m.in.Noise.FalsePass
			if p := m.in.Noise.loss(x.q); o.lost && p > 0 {
				noise += x.p * fl / p
			} else if !o.lost && p < 1 {
				noise += x.p * fp / (1 - p)
			}
		}
		if noise >= 0.05 {
			suspects = append(suspects, Suspect{o.trial, m.check, noise})
		}
	}
	if !m.in.Brief {
		c.Sets = m.sets()
	}
	c.Settled = m.settled(c)
	return c, suspects
}

// none is the probability that a trial holds no culprit; its atoms are of strength 1.
func (m *model) none(trial int) float64 {
	if t, is := m.exact.(*table); is && t.nothing != nil {
		return t.nothing[trial]
	}
	if list := m.exact.closing(trial); list != nil {
		none := 0.0
		for _, x := range list {
			if x.q == 1 {
				none += x.p
			}
		}
		return none
	}
	return m.absent(m.exact, m.whole[trial].atoms)
}

// groups lists the atoms that no trial and no candidate tells apart.
func (m *model) groups() [][]string {
	p := newPartition(m.spare)
	for _, o := range m.seen {
		p.split(o.atoms)
	}
	for _, c := range m.cands {
		p.split(c)
	}
	members := make([][]string, len(m.atoms))
	for a, name := range m.atoms {
		if c := p.class[a]; p.size[c] > 1 {
			members[c] = append(members[c], name)
		}
	}
	groups := [][]string{}
	for a := range m.atoms { // in the order of their first
		if c := p.class[a]; len(members[c]) > 0 {
			groups = append(groups, members[c])
			members[c] = nil
		}
	}
	return groups
}

func (m *model) settled(c *Check) bool {
	open := func(p float64) bool { return p > 0.01 && p < 0.99 }
	grouped := map[string]bool{}
	for _, g := range c.Groups {
		var s set
		for _, name := range g {
			k, _ := slices.BinarySearch(m.atoms, name)
			s.add(k)
			grouped[name] = true
		}
		if open(1 - m.absent(m.exact, s)) {
			return false
		}
	}
	for name, p := range c.Marginal {
		if !grouped[name] && open(p) {
			return false
		}
	}
	return true
}

// xlog is p·ln q, and 0 where p is 0. A likelihood of 0 belongs to what cannot be, so that p is 0 but for rounding.
func xlog(p, q float64) float64 {
	if p <= 0 || q <= 0 {
		return 0
	}
	return p * math.Log(q)
}

// sets finds the most probable culprit sets, five at most with p of 0.01 or more.
func (m *model) sets() []Set {
	best := m.exact.best()
	for i, x := range best {
		best[i].set = m.outside(x.set)
	}
	for _, a := range m.free.elements() {
		p := m.odds[a]
		var next []weighed
		for _, x := range best {
			with := x.set
			with.add(a)
			next = append(next, weighed{x.set, x.w * (1 - p)}, weighed{with, x.w * p})
		}
		best = keepBest(next)
	}
	sets := []Set{}
	for _, x := range best {
		if x.w >= listed {
			sets = append(sets, Set{m.names(x.set), x.w})
		}
	}
	return sets
}

// information is the mutual information, in bits, between the outcomes of the watched sets and the culprit sets:
// H(outcomes) − Σ P(pattern) · H(outcomes given the pattern).
//
// Weak atoms are counted for one set; for several, as in a plan, they are left out.
func (m *model) information(watch []set) float64 {
	if len(watch) == 1 && watch[0].and(m.weak) != (set{}) {
		loss, given := 0.0, 0.0
		for _, x := range m.chances(m.rough, watch[0]) {
			p := m.in.Noise.loss(x.q)
			loss += x.p * p
			given += x.p * entropy2(p)
		}
		return math.Max(0, entropy2(loss)-given)
	}
	// absent[mask]: no culprit in any of the masked sets; its Möbius transform is P(exactly these hold none).
	n := 1 << len(watch)
	pattern := make([]float64, n)
	for mask := range pattern {
		var all set
		for k, s := range watch {
			if mask>>k&1 == 1 {
				all = all.or(s.without(m.weak))
			}
		}
		pattern[mask] = m.absent(m.rough, all)
	}
	for k := range watch {
		for mask := range pattern {
			if mask>>k&1 == 0 {
				pattern[mask] -= pattern[mask|1<<k]
			}
		}
	}
	fl, fp := m.in.Noise.FalseLoss, m.in.Noise.FalsePass
	given := 0.0
	for mask, p := range pattern {
		if p = math.Max(0, p); p == 0 {
			continue
		}
		for k := range watch {
			given += p * entropy2([2]float64{fp, fl}[mask>>k&1])
		}
	}
	// One set after the other turns "holds none" into "shows a pass".
	outcome := pattern
	for k := range watch {
		for mask := range outcome {
			if mask>>k&1 == 0 {
				hit, miss := math.Max(0, outcome[mask]), math.Max(0, outcome[mask|1<<k])
				outcome[mask], outcome[mask|1<<k] = hit*(1-fp)+miss*fl, hit*fp+miss*(1-fl)
			}
		}
	}
	h := 0.0
	for _, p := range outcome {
		h -= xlog(p, p)
	}
	return math.Max(0, h/math.Ln2-given)
}

// tells is the information of a reading of a set without weak atoms that holds no culprit with chance none.
func (m *model) tells(none float64) float64 {
	fl, fp := m.in.Noise.FalseLoss, m.in.Noise.FalsePass
	loss := none*fl + (1-none)*(1-fp)
	return math.Max(0, entropy2(loss)-none*entropy2(fl)-(1-none)*entropy2(fp))
}

// entropy2 is the entropy of a coin in bits.
func entropy2(p float64) float64 { return -(xlog(p, p) + xlog(1-p, 1-p)) / math.Ln2 }
