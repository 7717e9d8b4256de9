package diagnose

import (
	"cmp"
	"fmt"
	"math"
	"math/bits"
	"slices"

	"waryowl/internal/core/fault"
)

// maxStates bounds the table of covered trials; beyond it the answer would not be exact, so it is refused.
const maxStates = 1 << 18

// model is one check: the atoms with their priors and the trials that count, equal ones merged.
type model struct {
	in    Input
	check string
	atoms []string
	prior []float64
	seen  []observation
	merge []evidence
	cands []uint64 // atoms of each candidate
}

// observation is one counting trial.
type observation struct {
	trial string
	atoms uint64
	lost  bool
}

// evidence is a set of atoms with the number of trials that showed a loss and a pass.
type evidence struct {
	atoms     uint64
	hit, miss float64 // likelihood with and without a culprit among the atoms
}

func newModel(in Input, check string, atoms []string) (*model, error) {
	m := &model{in: in, check: check, atoms: atoms}
	for _, a := range atoms {
		p := in.Prior.Default
		if q, ok := in.Prior.Atoms[a][check]; ok {
			p = q
		}
		m.prior = append(m.prior, p)
	}
	fl, fp := in.Noise.FalseLoss, in.Noise.FalsePass
	for _, t := range in.Trials {
		r := t.Results[check]
		if r == "weak" {
			r = cmp.Or(in.Weak, "lost")
		}
		if r != "lost" && r != "pass" {
			continue
		}
		o := observation{t.ID, m.mask(t.Setup), r == "lost"}
		m.seen = append(m.seen, o)
		k := slices.IndexFunc(m.merge, func(e evidence) bool { return e.atoms == o.atoms })
		if k < 0 {
			k = len(m.merge)
			m.merge = append(m.merge, evidence{o.atoms, 1, 1})
		}
		if o.lost {
			m.merge[k].hit *= 1 - fp
			m.merge[k].miss *= fl
		} else {
			m.merge[k].hit *= fp
			m.merge[k].miss *= 1 - fl
		}
	}
	if len(m.merge) > 56 { // the word also holds the bits of up to seven watched sets
		return nil, fault.New("trials", fmt.Sprintf("%d different trials for %s", len(m.merge), check), "at most 56 in one question")
	}
	for _, c := range in.Candidates {
		m.cands = append(m.cands, m.mask(c.Setup))
	}
	if _, err := m.joint(nil); err != nil {
		return nil, err
	}
	return m, nil
}

func (m *model) mask(s Setup) uint64 {
	var mask uint64
	for _, a := range s.AtomNames() {
		k, _ := slices.BinarySearch(m.atoms, a)
		mask |= 1 << k
	}
	return mask
}

// table maps a state (bits of the watched sets and open trials that are hit) to its weight; it keeps the order of
// insertion, so that sums are the same on every run.
type table struct {
	at   map[uint64]int
	keys []uint64
	vals []float64
}

func (t *table) add(key uint64, v float64) {
	if v == 0 {
		return
	}
	k, ok := t.at[key]
	if !ok {
		t.at[key] = len(t.keys)
		t.keys, t.vals = append(t.keys, key), append(t.vals, v)
		return
	}
	t.vals[k] += v
}

func newTable() *table { return &table{at: map[uint64]int{}} }

// joint returns the weight (prior × likelihood, not normalised) of every pattern of watched sets that hold a culprit:
// bit k of the index is watch[k]. One pass over the atoms, whose state is the covered bits of the trials still open: a
// trial is closed, and its likelihood taken in, once its last atom has been passed.
func (m *model) joint(watch []uint64) ([]float64, error) {
	groups, order := m.signatures(watch)
	t := newTable()
	t.add(0, 1)
	w := len(watch)
	closeAt := make([]int, len(m.merge))
	for e := range m.merge {
		closeAt[e] = -1 // a trial without atoms closes at the start
		for pos, sig := range order {
			if sig>>(w+e)&1 == 1 {
				closeAt[e] = pos
			}
		}
	}
	t = m.retire(t, closeAt, -1, w)
	for pos, sig := range order {
		next := newTable()
		none := groups[sig]
		for k, key := range t.keys {
			next.add(key, t.vals[k]*none)
			next.add(key|sig, t.vals[k]*(1-none))
		}
		t = m.retire(next, closeAt, pos, w)
		if len(t.keys) > maxStates {
			return nil, fault.New("trials", fmt.Sprintf("more than %d combinations for %s", maxStates, m.check), "fewer overlapping trials in one question")
		}
	}
	out := make([]float64, 1<<w)
	for k, key := range t.keys {
		out[key] += t.vals[k]
	}
	return out, nil
}

// signatures merges atoms that stand in the same watched sets and trials, giving for each signature the chance that none
// of them is a culprit, and an order in which trials close early.
func (m *model) signatures(watch []uint64) (none map[uint64]float64, order []uint64) {
	none = map[uint64]float64{}
	w := len(watch)
	for a, p := range m.prior {
		var sig uint64
		for k, s := range watch {
			sig |= s >> a & 1 << k
		}
		for e, ev := range m.merge {
			sig |= ev.atoms >> a & 1 << (w + e)
		}
		if sig == 0 {
			continue
		}
		if _, ok := none[sig]; !ok {
			none[sig] = 1
			order = append(order, sig)
		}
		none[sig] *= 1 - p
	}
	// Next comes the group that stands in the trial with the fewest groups to go.
	rest := slices.Clone(order)
	order = order[:0]
	for len(rest) > 0 {
		best, low := 0, math.MaxInt
		for e := range m.merge {
			bit, n, first := uint64(1)<<(w+e), 0, -1
			for k, sig := range rest {
				if sig&bit != 0 {
					n++
					if first < 0 || bits.OnesCount64(sig) < bits.OnesCount64(rest[first]) {
						first = k
					}
				}
			}
			if n > 0 && n < low {
				best, low = first, n
			}
		}
		order = append(order, rest[best])
		rest = slices.Delete(rest, best, best+1)
	}
	return none, order
}

func (m *model) retire(t *table, closeAt []int, pos, w int) *table {
	var gone uint64
	for e, at := range closeAt {
		if at == pos {
			gone |= 1 << (w + e)
		}
	}
	if gone == 0 {
		return t
	}
	next := newTable()
	for k, key := range t.keys {
		v := t.vals[k]
		for e, at := range closeAt {
			if at == pos {
				if key>>(w+e)&1 == 1 {
					v *= m.merge[e].hit
				} else {
					v *= m.merge[e].miss
				}
			}
		}
		next.add(key&^gone, v)
	}
	return next
}

// chance is the posterior probability that the set holds a culprit.
func (m *model) chance(set uint64) float64 {
	w, err := m.joint([]uint64{set})
	if err != nil || w[0]+w[1] == 0 {
		return math.NaN()
	}
	return w[1] / (w[0] + w[1])
}

// posterior fills in everything that rests on probabilities.
func (m *model) posterior() (*Check, []Suspect) {
	c := &Check{Sets: []Set{}, Conflicts: []Conflict{}, Groups: m.groups()}
	z, _ := m.joint(nil)
	if z[0] == 0 {
		return c, nil
	}
	c.Consistent = true
	c.Marginal = map[string]float64{}
	entropy := math.Log(z[0])
	// Atoms of the same trials share one computation: given that their group holds a culprit, each is one with its prior
	// over the chance of the group.
	known := map[uint64]float64{}
	for a, p := range m.prior {
		sig, group, none := m.signature(a), uint64(0), 1.0
		for b := range m.prior {
			if m.signature(b) == sig {
				group |= 1 << b
				none *= 1 - m.prior[b]
			}
		}
		marginal := p
		if sig != 0 {
			if _, ok := known[sig]; !ok {
				known[sig] = m.chance(group)
			}
			marginal = known[sig] * p / (1 - none)
		}
		c.Marginal[m.atoms[a]] = marginal
		entropy -= xlog(marginal, p) + xlog(1-marginal, 1-p)
	}
	hits := map[uint64]float64{}
	for _, e := range m.merge {
		hit := m.chance(e.atoms)
		hits[e.atoms] = hit
		entropy -= xlog(hit, e.hit) + xlog(1-hit, e.miss)
	}
	bits := math.Max(0, entropy/math.Ln2)
	c.Bits = &bits
	var suspects []Suspect
	for _, o := range m.seen {
		noise := hits[o.atoms]
		if o.lost {
			noise = 1 - noise
		}
		if noise >= 0.05 {
			suspects = append(suspects, Suspect{o.trial, m.check, noise})
		}
	}
	c.Sets = m.sets(z[0])
	c.Settled = m.settled(c)
	return c, suspects
}

// signature has a bit for each counting trial (merged) in which the atom is present.
func (m *model) signature(a int) uint64 {
	var sig uint64
	for e, ev := range m.merge {
		sig |= ev.atoms >> a & 1 << e
	}
	return sig
}

// groups lists the atoms that no trial and no candidate tells apart.
func (m *model) groups() [][]string {
	type key struct{ trials, candidates string }
	by := map[key][]string{}
	var order []key
	for a, name := range m.atoms {
		var cands []byte
		for _, c := range m.cands {
			cands = append(cands, byte(c>>a&1))
		}
		k := key{fmt.Sprint(m.signature(a)), string(cands)}
		if by[k] == nil {
			order = append(order, k)
		}
		by[k] = append(by[k], name)
	}
	groups := [][]string{}
	for _, k := range order {
		if len(by[k]) > 1 {
			groups = append(groups, by[k])
		}
	}
	return groups
}

func (m *model) settled(c *Check) bool {
	grouped := map[string]bool{}
	for _, g := range c.Groups {
		var set uint64
		for _, name := range g {
			k, _ := slices.BinarySearch(m.atoms, name)
			set |= 1 << k
			grouped[name] = true
		}
		if p := m.chance(set); p > 0.01 && p < 0.99 {
			return false
		}
	}
	for name, p := range c.Marginal {
		if !grouped[name] && p > 0.01 && p < 0.99 {
			return false
		}
	}
	return true
}

// xlog is p·ln q, and 0 where p is 0.
func xlog(p, q float64) float64 {
	if p <= 0 {
		return 0
	}
	return p * math.Log(q)
}

// sets finds the most probable culprit sets, five at most with p of 0.01 or more, by keeping the five best of every state.
func (m *model) sets(z float64) []Set {
	type partial struct {
		set uint64
		w   float64
	}
	better := func(a, b partial) int {
		if c := cmp.Compare(b.w, a.w); c != 0 {
			return c
		}
		return cmp.Compare(a.set, b.set)
	}
	best := map[uint64][]partial{0: {{0, 1}}}
	for a, p := range m.prior {
		sig, next := m.signature(a), map[uint64][]partial{}
		for key, list := range best {
			for _, x := range list {
				next[key] = append(next[key], partial{x.set, x.w * (1 - p)})
				next[key|sig] = append(next[key|sig], partial{x.set | 1<<a, x.w * p})
			}
		}
		if len(next) > maxStates {
			return []Set{}
		}
		for key, list := range next {
			slices.SortFunc(list, better)
			next[key] = list[:min(5, len(list))]
		}
		best = next
	}
	var all []partial
	for key, list := range best {
		like := 1.0
		for e, ev := range m.merge {
			if key>>e&1 == 1 {
				like *= ev.hit
			} else {
				like *= ev.miss
			}
		}
		for _, x := range list {
			all = append(all, partial{x.set, x.w * like / z})
		}
	}
	slices.SortFunc(all, better)
	sets := []Set{}
	for _, x := range all[:min(5, len(all))] {
		if x.w >= 0.01 {
			sets = append(sets, Set{m.names(x.set), x.w})
		}
	}
	return sets
}

func (m *model) names(set uint64) []string {
	names := []string{}
	for a, name := range m.atoms {
		if set>>a&1 == 1 {
			names = append(names, name)
		}
	}
	return names
}
