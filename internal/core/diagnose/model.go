package diagnose

import (
	"cmp"
	"fmt"
	"slices"

	"waryowl/internal/core/fault"
)

// model is one check: the atoms with their priors and the trials that count, equal ones merged.
type model struct {
	in    *Input
	check string
	atoms []string
	prior []float64 // before any trial
	odds  []float64 // chance after the trials that hold one atom alone, which need no table
	seen  []observation
	whole []evidence // trials of two atoms or more
	zero  bool       // the trials of one atom or none contradict each other without noise
	cands []set
	free  set // atoms of no trial in whole
	exact solver
	rough solver // for candidates; the same as exact unless that would take too long
}

// observation is one counting trial.
type observation struct {
	trial string
	atoms set
	lost  bool
}

// evidence is a set of atoms with the likelihood of its trials, with and without a culprit among them.
type evidence struct {
	atoms     set
	hit, miss float64
}

// solver answers for the atoms that stand in trials of two or more. What it dropped, as a share of all, bounds its
// error.
type solver interface {
	total() float64           // weight of everything, 0 for a contradiction
	absent(s set) float64     // P(no culprit in s)
	marginals(into []float64) // P(a is a culprit), for the atoms it answers for
	best(m *model) []weighed  // its most probable sets
	dropped() float64
}

// weighed is one of the most probable culprit sets.
type weighed struct {
	set set
	w   float64
}

// keptSets are listed at most, each with at least the probability listed.
const (
	keptSets = 5
	listed   = 0.01
)

func heavier(a, b weighed) int {
	if c := cmp.Compare(b.w, a.w); c != 0 {
		return c
	}
	return a.set.before(b.set)
}

// masks are the sets of atoms of the trials and the candidates, worked out once for all checks.
type masks struct{ trials, cands []set }

func masksOf(in *Input, atoms []string) masks {
	index := map[string]int{}
	for k, a := range atoms {
		index[a] = k
	}
	var m masks
	for _, t := range in.Trials {
		m.trials = append(m.trials, maskOf(t.Setup, index))
	}
	for _, c := range in.Candidates {
		m.cands = append(m.cands, maskOf(c.Setup, index))
	}
	return m
}

func newModel(in *Input, check string, atoms []string, ms masks) *model {
	m := &model{in: in, check: check, atoms: atoms, prior: make([]float64, len(atoms))}
	for a, name := range atoms {
		m.prior[a] = in.Prior.Default
		if q, ok := in.Prior.Atoms[name][check]; ok {
			m.prior[a] = q
		}
	}
	m.odds = slices.Clone(m.prior)
	fl, fp := in.Noise.FalseLoss, in.Noise.FalsePass
	all := map[set]int{}
	var merged []evidence
	for k, t := range in.Trials {
		r := t.Results[check]
		if r == "weak" {
			r = cmp.Or(in.Weak, "lost")
		}
		if r != "lost" && r != "pass" {
			continue
		}
		o := observation{t.ID, ms.trials[k], r == "lost"}
		m.seen = append(m.seen, o)
		k, known := all[o.atoms]
		if !known {
			k = len(merged)
			all[o.atoms] = k
			merged = append(merged, evidence{o.atoms, 1, 1})
		}
		if o.lost {
			merged[k].hit *= 1 - fp
			merged[k].miss *= fl
		} else {
			merged[k].hit *= fp
			merged[k].miss *= 1 - fl
		}
	}
	for a := range atoms {
		m.free.add(a)
	}
	m.absorb(merged)
	m.cands = ms.cands
	return m
}

// absorb takes the trials of one atom into the odds, and what a trial rules out altogether out of the others, until
// only trials of two atoms or more are left.
func (m *model) absorb(merged []evidence) {
	var cleared set
	for a, p := range m.prior {
		if p == 0 {
			cleared.add(a)
		}
	}
	for _, e := range merged {
		if e.hit == 0 {
			cleared = cleared.or(e.atoms)
		}
	}
	for _, a := range cleared.elements() {
		m.odds[a] = 0
	}
	at := map[set]int{}
	for _, e := range merged {
		e.atoms = e.atoms.without(cleared)
		switch e.atoms.count() {
		case 0:
			m.zero = m.zero || e.miss == 0
		case 1:
			a := e.atoms.elements()[0]
			with, without := m.odds[a]*e.hit, (1-m.odds[a])*e.miss
			if with+without == 0 {
				m.zero = true
				continue
			}
			m.odds[a] = with / (with + without)
		default:
			k, known := at[e.atoms]
			if !known {
				k = len(m.whole)
				at[e.atoms] = k
				m.whole = append(m.whole, evidence{e.atoms, 1, 1})
				m.free = m.free.without(e.atoms)
			}
			w := &m.whole[k]
			w.hit, w.miss = w.hit*e.hit, w.miss*e.miss
			// The likelihoods matter as a ratio only; many repeats must not run out of the range of a float.
			if top := max(w.hit, w.miss); top > 0 {
				w.hit, w.miss = w.hit/top, w.miss/top
			}
		}
	}
}

func maskOf(s Setup, index map[string]int) set {
	var out set
	for _, a := range s.AtomNames() {
		out.add(index[a])
	}
	return out
}

// The sizes up to which an answer is exact, and beyond which candidates are weighed roughly.
const (
	maxStates   = 1 << 18 // states of a table before the lightest are dropped
	smallAtoms  = 20      // up to here the answer is exact whatever the trials are
	easyStates  = 1 << 12 // up to here a table is taken before all sets are listed
	maxTrials   = 128     // different trials of two or more atoms in a table
	roughStates = 1 << 11 // states of the rough table for candidates
	roughFrom   = 1 << 17 // steps of a table from which candidates take the rough one
)

// solve picks the way to the posterior; shapes keeps the tables that checks with the same trials share.
func (m *model) solve(shapes map[string]*shape) error {
	trials := make([]set, len(m.whole))
	for k, e := range m.whole {
		trials[k] = e.atoms
	}
	relevant := len(m.atoms) - m.free.count()
	key := fmt.Sprint(trials)
	s, known := shapes[key]
	if !known && len(trials) <= maxTrials {
		limit := maxStates
		if relevant <= smallAtoms {
			limit = easyStates
		}
		s, _ = build(trials, limit, nil)
		shapes[key] = s
	}
	switch {
	case s != nil:
		m.exact = newTable(m, s, 0)
	case relevant <= smallAtoms:
		m.exact = newList(m)
	case len(trials) > maxTrials:
		return fault.New("trials", fmt.Sprintf("%d different trials for %s", len(trials), m.check),
			fmt.Sprintf("at most %d of two or more explanations in one question", maxTrials))
	default:
		s, lost := build(trials, maxStates, m)
		m.exact = newTable(m, s, lost)
	}
	m.rough = m.exact
	if t, ok := m.exact.(*table); ok && t.shape.steps > roughFrom && len(m.cands) > 0 {
		s, lost := build(trials, roughStates, m)
		m.rough = newTable(m, s, lost)
	}
	return nil
}

// absent is the probability that the set holds no culprit.
func (m *model) absent(by solver, s set) float64 {
	p := 1.0
	for _, a := range s.and(m.free).elements() {
		p *= 1 - m.odds[a]
	}
	if rest := s.without(m.free); rest != (set{}) {
		p *= by.absent(rest)
	}
	return p
}

func (m *model) names(s set) []string {
	names := []string{}
	for _, a := range s.elements() {
		names = append(names, m.atoms[a])
	}
	return names
}
