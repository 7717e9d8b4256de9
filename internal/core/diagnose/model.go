package diagnose

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"waryowl/internal/core/fault"
)

// model is one check: the atoms with their priors and the trials that count, equal ones merged.
type model struct {
	*frame
	in    *Input
	check string
	prior []float64 // before any trial
	odds  []float64 // chance after the trials that hold one atom alone, which need no table
	seen  []observation
	whole []evidence // trials of two atoms or more
	zero  bool       // the trials of one atom or none contradict each other without noise
	free  set        // atoms of no trial in whole
	inner *model     // only the atoms of whole, which is all that the solvers know
	at    []int      // place there of an atom, and
	of    []int      // the atom of a place
	exact solver
	rough solver    // for candidates; the same as exact unless that would take too long
	bits  []float64 // what each candidate tells
	error float64   // share of the weight that the rough table left out
}

// frame is what checks with the same explanations share: their names, the chance of each that it does not strike in a
// trial (0 for strength 1), those of a strength below 1, and the sets of the trials and the candidates.
type frame struct {
	atoms         []string
	spare         []float64
	weak          set
	trials, cands []set
}

// observation is one counting trial.
type observation struct {
	trial string
	atoms set
	lost  bool
}

// evidence is a set of atoms with the readings of its trials. What they make of a culprit set depends on the chance q
// that none of its culprits strikes, alone: 0 with one of strength 1, 1 with none.
type evidence struct {
	atoms        set
	lost, passed int
	noise        Noise
	scale        float64 // logarithm of the largest likelihood, which matters as a ratio only
	hit, miss    float64 // at q = 0 and q = 1
}

// loss is the chance that a reading is a loss when none of the culprits strikes with chance q.
func (n Noise) loss(q float64) float64 { return (1-q)*(1-n.FalsePass) + q*n.FalseLoss }

func (e *evidence) log(q float64) float64 {
	sum, p := 0.0, e.noise.loss(q)
	if e.lost > 0 {
		sum += float64(e.lost) * math.Log(p)
	}
	if e.passed > 0 {
		sum += float64(e.passed) * math.Log(1-p)
	}
	return sum
}

// at is the likelihood of the readings, at most 1 at both ends of q; and everywhere where a weak atom is among them.
func (e *evidence) at(q float64) float64 { return math.Exp(e.log(q) - e.scale) }

// weigh prepares the likelihoods once all readings are in.
func (e *evidence) weigh(weak bool) {
	e.scale = max(e.log(0), e.log(1))
	if n := e.lost + e.passed; weak && n > 0 {
		// the likeliest chance of a loss is its share among the readings
		fl, fp := e.noise.FalseLoss, e.noise.FalsePass
		p := min(1-fp, max(fl, float64(e.lost)/float64(n)))
		e.scale = e.log((1 - fp - p) / (1 - fp - fl))
	}
	if math.IsInf(e.scale, -1) {
		e.scale = 0
	}
	e.hit, e.miss = e.at(0), e.at(1)
}

// solver answers for the atoms that stand in trials of two or more. What it dropped, as a share of all, bounds its
// error.
type solver interface {
	total() float64       // weight of everything, 0 for a contradiction
	absent(s set) float64 // P(no culprit in s)
	absents(ctx context.Context, sets, near []set) ([]float64, error)
	marginals(into []float64) // P(a is a culprit)
	best() []weighed          // its most probable sets
	closing(e int) []chance   // of a trial, that nothing strikes in it; nil: it does not tell
	dropped() float64
	again() solver // the same for another who asks at the same time
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

// frameOf lists the explanations that a check has at all, those with a prior above 0; checks with the same share one.
func frameOf(in *Input, check string, held *named, shared map[string]*frame) (*frame, error) {
	f := &frame{}
	which := make([]byte, len(held.all))
	at := make([]int, len(held.all)) // place in the frame, from 1
	for k, a := range held.all {
		if p, known := in.Prior.Atoms[a][check]; !known || p > 0 {
			which[k] = 1
			f.atoms = append(f.atoms, a)
			at[k] = len(f.atoms)
		}
	}
	if old := shared[string(which)]; old != nil {
		return old, nil
	}
	if len(f.atoms) > maxAtoms {
		return nil, fault.New("trials", fmt.Sprintf("%d explanations of %s", len(f.atoms), check),
			fmt.Sprintf("at most %d for one check", maxAtoms))
	}
	for k, a := range f.atoms {
		spare := 0.0
		if x, known := in.Strength[a]; known && x < 1 {
			spare = 1 - x
			f.weak.add(k)
		}
		f.spare = append(f.spare, spare)
	}
	masks := func(list [][]int) []set {
		out := make([]set, len(list))
		for i, atoms := range list {
			for _, a := range atoms {
				if at[a] > 0 {
					out[i].add(at[a] - 1)
				}
			}
		}
		return out
	}
	f.trials, f.cands = masks(held.trials), masks(held.cands)
	shared[string(which)] = f
	return f, nil
}

func newModel(in *Input, check string, f *frame) *model {
	m := &model{frame: f, in: in, check: check, prior: make([]float64, len(f.atoms))}
	for a, name := range f.atoms {
		m.prior[a] = in.Prior.Default
		if q, ok := in.Prior.Atoms[name][check]; ok {
			m.prior[a] = q
		}
		m.free.add(a)
	}
	m.odds = slices.Clone(m.prior)
	all := make(map[set]int, len(in.Trials))
	merged := make([]evidence, 0, len(in.Trials))
	m.seen = make([]observation, 0, len(in.Trials))
	for k, t := range in.Trials {
		r := t.Results[check]
		if r == "weak" {
			r = cmp.Or(in.Weak, "lost")
		}
		if r != "lost" && r != "pass" {
			continue
		}
		o := observation{t.ID, f.trials[k], r == "lost"}
		m.seen = append(m.seen, o)
		merged = m.merge(merged, all, evidence{atoms: o.atoms, lost: count(o.lost), passed: count(!o.lost)})
	}
	m.absorb(merged)
	m.enclose()
	return m
}

// enclose leaves out the atoms that need no table, so that what else a question names does not change the tables.
func (m *model) enclose() {
	held := set{}
	for _, e := range m.whole {
		held = held.or(e.atoms)
	}
	n := held.count()
	in := &model{frame: &frame{atoms: make([]string, 0, n), spare: make([]float64, 0, n)}, in: m.in, check: m.check,
		odds: make([]float64, 0, n), whole: make([]evidence, 0, len(m.whole))}
	m.at, m.of = make([]int, len(m.atoms)), make([]int, 0, n)
	for a := range held.all() {
		m.at[a] = len(in.atoms)
		m.of = append(m.of, a)
		if m.weak.has(a) {
			in.weak.add(len(in.atoms))
		}
		in.atoms, in.spare, in.odds = append(in.atoms, m.atoms[a]), append(in.spare, m.spare[a]),
			append(in.odds, m.odds[a])
	}
	for _, e := range m.whole {
		e.atoms = m.inside(e.atoms)
		in.whole = append(in.whole, e)
	}
	m.inner = in
}

// outside is a set of the solvers as the check knows it.
func (m *model) outside(in set) (s set) {
	for a := range in.all() {
		s.add(m.of[a])
	}
	return s
}

// inside is a set of atoms of whole as the solvers know it.
func (m *model) inside(s set) (in set) {
	for a := range s.all() {
		in.add(m.at[a])
	}
	return in
}

func count(is bool) int {
	if is {
		return 1
	}
	return 0
}

// merge adds readings to those of the same atoms.
func (m *model) merge(list []evidence, at map[set]int, e evidence) []evidence {
	k, known := at[e.atoms]
	if !known {
		k = len(list)
		at[e.atoms] = k
		list = append(list, evidence{atoms: e.atoms, noise: m.in.Noise})
	}
	list[k].lost += e.lost
	list[k].passed += e.passed
	return list
}

// absorb takes the trials of one atom into the odds, and what a trial rules out altogether out of the others, until
// only trials of two atoms or more are left.
func (m *model) absorb(merged []evidence) {
	var cleared set
	for _, e := range merged {
		if math.IsInf(e.log(0), -1) {
			cleared = cleared.or(e.atoms.without(m.weak))
		}
	}
	for _, a := range cleared.elements() {
		m.odds[a] = 0
	}
	at := make(map[set]int, len(merged))
	m.whole = make([]evidence, 0, len(merged))
	for _, e := range merged {
		e.atoms = e.atoms.without(cleared)
		e.weigh(e.atoms.and(m.weak) != (set{}))
		switch e.atoms.count() {
		case 0:
			m.zero = m.zero || e.miss == 0
		case 1:
			a := e.atoms.elements()[0]
			with, without := m.odds[a]*e.at(m.spare[a]), (1-m.odds[a])*e.miss
			if with+without == 0 {
				m.zero = true
				continue
			}
			m.odds[a] = with / (with + without)
		default:
			m.whole = m.merge(m.whole, at, e)
			m.free = m.free.without(e.atoms)
		}
	}
	for k := range m.whole {
		m.whole[k].weigh(m.whole[k].atoms.and(m.weak) != (set{}))
	}
}

// chance is a chance q that no culprit of a set strikes, with its probability.
type chance struct{ q, p float64 }

// weakest is how many weak atoms of a set are told apart at most; the less likely ones count as no culprits.
const weakest = 12

// chances is the distribution of q for a set of atoms: 0 with a culprit of strength 1, else by which of the weak ones
// are culprits.
func (m *model) chances(by solver, s set) []chance {
	if k := slices.IndexFunc(m.whole, func(e evidence) bool { return e.atoms == s }); k >= 0 {
		if list := by.closing(k); list != nil {
			return list
		}
	}
	strong := s.without(m.weak)
	weak := s.and(m.weak).elements()
	slices.SortStableFunc(weak, func(a, b int) int { return cmp.Compare(m.odds[b], m.odds[a]) })
	weak = weak[:min(weakest, len(weak))]
	none := make([]float64, 1<<len(weak)) // no strong one, and none of the masked weak ones
	for mask := range none {
		all := strong
		for k, a := range weak {
			if mask>>k&1 == 1 {
				all.add(a)
			}
		}
		none[mask] = m.absent(by, all)
	}
	list := []chance{{0, max(0, 1-none[0])}}
	for k := range weak {
		for mask := range none {
			if mask>>k&1 == 0 {
				none[mask] -= none[mask|1<<k]
			}
		}
	}
	for mask, p := range none {
		q := 1.0
		for k, a := range weak {
			if mask>>k&1 == 0 {
				q *= m.spare[a]
			}
		}
		list = append(list, chance{q, max(0, p)})
	}
	return list
}

// absent is the probability that the set holds no culprit.
func (m *model) absent(by solver, s set) float64 {
	p := 1.0
	for a := range s.and(m.free).all() {
		p *= 1 - m.odds[a]
	}
	if rest := s.without(m.free); rest != (set{}) {
		p *= by.absent(m.inside(rest))
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
