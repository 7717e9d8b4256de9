package diagnose

import (
	"math"
	"slices"
	"sort"
)

// A key has a bit for every trial still open in which a culprit has been met.
type key [maxTrials / 64]uint64

func (k *key) set(e int) { k[e/64] |= 1 << (e % 64) }

func (k key) has(e int) bool { return k[e/64]>>(e%64)&1 == 1 }

func (k key) or(o key) key { return key{k[0] | o[0], k[1] | o[1]} }

func (k key) without(o key) key { return key{k[0] &^ o[0], k[1] &^ o[1]} }

// shape is the table of one list of trials: groups of atoms that stand in the same trials are passed one after the
// other, and the state is which open trials a culprit was met in. It holds no probability, so that checks share it.
type shape struct {
	groups []set
	layers []layer
	steps  int
}

// layer leads from each state before a group to the states after it: stay without a culprit in the group, meet with
// one; -1 is a state that was dropped. closed are the trials that end here, stayed and met which of them were covered.
type layer struct {
	stay, meet   []int32
	stayed, mets []key
	closed       []int
	width        int
}

// build makes the table. Beyond limit states it gives up when weigh is nil; else it keeps the eighth of limit that
// promises most for that model, and returns the weight dropped as a bound.
func build(trials []set, limit int, weigh *model) (*shape, float64) {
	groups, sigs := signatures(trials)
	s := &shape{groups: groups}
	closeAt := make([]int, len(trials))
	for pos, sig := range sigs {
		for e := range trials {
			if sig.has(e) {
				closeAt[e] = pos
			}
		}
	}
	keys := []key{{}}
	weights := []float64{1}
	lost := 0.0
	for pos, sig := range sigs {
		var gone key
		l := layer{stay: make([]int32, len(keys)), meet: make([]int32, len(keys)), stayed: make([]key, len(keys)),
			mets: make([]key, len(keys))}
		for e, at := range closeAt {
			if at == pos {
				gone.set(e)
				l.closed = append(l.closed, e)
			}
		}
		index := make(map[key]int32, 2*len(keys))
		var next []key
		var heavy []float64
		none := 1.0
		if weigh != nil {
			for _, a := range s.groups[pos].elements() {
				none *= 1 - weigh.odds[a]
			}
		}
		to := func(covered key, w float64) int32 {
			k := covered.without(gone)
			i, ok := index[k]
			if !ok {
				i = int32(len(next))
				index[k] = i
				next = append(next, k)
				heavy = append(heavy, 0)
			}
			if weigh != nil {
				for _, e := range l.closed {
					w *= weigh.likelihood(e, covered.has(e))
				}
				heavy[i] += w
			}
			return i
		}
		for i, k := range keys {
			w := weights[i]
			l.stay[i], l.stayed[i] = to(k, w*none), k
			l.meet[i], l.mets[i] = to(k.or(sig), w*(1-none)), k.or(sig)
		}
		if len(next) > limit {
			if weigh == nil {
				return nil, 0
			}
			next, heavy, lost = prune(&l, next, heavy, weigh.outlook(trials, s.groups[pos+1:], sigs[pos+1:]),
				max(1, limit/8), lost)
		}
		l.width = len(next)
		s.steps += 2 * len(keys)
		s.layers = append(s.layers, l)
		keys, weights = next, heavy
	}
	return s, lost
}

// outlook says of a state what is ahead: the likelihood of the open trials as if they were independent, and a bound on
// what it can be at most. A covered trial is decided; of the others the product is at most its least factor, whose
// expectation is known exactly.
func (m *model) outlook(trials []set, groups []set, sigs []key) func(key) (guess, most float64) {
	var open []int
	var expect []float64
	for e := range trials {
		none, ahead := 1.0, false
		for i, sig := range sigs {
			if sig.has(e) {
				ahead = true
				for _, a := range groups[i].elements() {
					none *= 1 - m.odds[a]
				}
			}
		}
		if ahead {
			open = append(open, e)
			expect = append(expect, (1-none)*m.whole[e].hit+none*m.whole[e].miss)
		}
	}
	return func(k key) (float64, float64) {
		decided, guess, least := 1.0, 1.0, 1.0
		for i, e := range open {
			if k.has(e) {
				decided *= m.whole[e].hit
			} else {
				guess *= expect[i]
				least = math.Min(least, expect[i])
			}
		}
		return decided * guess, decided * least
	}
}

// prune keeps the states that promise most and sends the others to -1.
func prune(l *layer, next []key, heavy []float64, outlook func(key) (float64, float64), keep int, lost float64) ([]key,
	[]float64, float64) {
	promise, most := make([]float64, len(next)), make([]float64, len(next))
	for i, k := range next {
		guess, bound := outlook(k)
		promise[i], most[i] = heavy[i]*guess, heavy[i]*bound
	}
	sorted := slices.Sorted(slices.Values(promise))
	least := sorted[len(sorted)-keep]
	ties := keep - (len(sorted) - sort.Search(len(sorted), func(i int) bool { return sorted[i] > least }))
	where := make([]int32, len(next))
	kept, weight := make([]key, 0, keep), make([]float64, 0, keep)
	for i, w := range promise {
		if w < least || w == least && ties == 0 {
			where[i] = -1
			lost += most[i]
			continue
		}
		if w == least {
			ties--
		}
		where[i] = int32(len(kept))
		kept, weight = append(kept, next[i]), append(weight, heavy[i])
	}
	for i := range l.stay {
		l.stay[i], l.meet[i] = where[l.stay[i]], where[l.meet[i]]
	}
	return kept, weight, lost
}

// signatures groups the atoms that stand in the same trials, in an order in which trials close early: next comes the
// group that stands in the trial with the fewest groups to go.
func signatures(trials []set) ([]set, []key) {
	var all set
	for _, t := range trials {
		all = all.or(t)
	}
	at := map[key]int{}
	var groups []set
	var sigs []key
	for _, a := range all.elements() {
		var sig key
		for e, t := range trials {
			if t.has(a) {
				sig.set(e)
			}
		}
		i, ok := at[sig]
		if !ok {
			i = len(groups)
			at[sig] = i
			groups, sigs = append(groups, set{}), append(sigs, sig)
		}
		groups[i].add(a)
	}
	left, size := make([]int, len(trials)), make([]int, len(sigs))
	for i, sig := range sigs {
		for e := range trials {
			if sig.has(e) {
				left[e]++
				size[i]++
			}
		}
	}
	used := make([]bool, len(sigs))
	var outGroups []set
	var outSigs []key
	for range sigs {
		trial := -1
		for e, n := range left {
			if n > 0 && (trial < 0 || n < left[trial]) {
				trial = e
			}
		}
		pick := -1
		for i, sig := range sigs {
			if !used[i] && sig.has(trial) && (pick < 0 || size[i] < size[pick]) {
				pick = i
			}
		}
		used[pick] = true
		for e := range trials {
			if sigs[pick].has(e) {
				left[e]--
			}
		}
		outGroups, outSigs = append(outGroups, groups[pick]), append(outSigs, sigs[pick])
	}
	return outGroups, outSigs
}

func (m *model) likelihood(e int, met bool) float64 {
	if met {
		return m.whole[e].hit
	}
	return m.whole[e].miss
}

// table is a shape with the probabilities of one check: forward–backward over the groups.
type table struct {
	*shape
	m             *model
	none          []float64   // per group: no culprit in it
	stayF, meetF  [][]float64 // per layer and state: likelihood of the trials that close
	fore, back    [][]float64 // weight of reaching a state, and of everything after it
	lost          float64
	scratch, next []float64
}

func newTable(m *model, s *shape, lost float64) *table {
	t := &table{shape: s, m: m, lost: lost, none: make([]float64, len(s.groups))}
	widest := 1
	for g, l := range s.layers {
		t.none[g] = 1
		for _, a := range s.groups[g].elements() {
			t.none[g] *= 1 - m.odds[a]
		}
		stay, meet := make([]float64, len(l.stay)), make([]float64, len(l.stay))
		for i := range stay {
			stay[i], meet[i] = 1, 1
			for _, e := range l.closed {
				stay[i] *= m.likelihood(e, l.stayed[i].has(e))
				meet[i] *= m.likelihood(e, l.mets[i].has(e))
			}
		}
		t.stayF, t.meetF = append(t.stayF, stay), append(t.meetF, meet)
		widest = max(widest, l.width)
	}
	t.scratch, t.next = make([]float64, widest), make([]float64, widest)
	t.fore = append(t.fore, []float64{1})
	for g := range s.layers {
		into := make([]float64, s.layers[g].width)
		t.pass(g, t.fore[g], into, t.none[g], 1-t.none[g])
		t.fore = append(t.fore, into)
	}
	t.back = make([][]float64, len(s.layers)+1)
	end := make([]float64, len(t.fore[len(s.layers)]))
	for i := range end {
		end[i] = 1
	}
	t.back[len(s.layers)] = end
	for g := len(s.layers) - 1; g >= 0; g-- {
		l, after := s.layers[g], t.back[g+1]
		b := make([]float64, len(l.stay))
		for i := range b {
			if to := l.stay[i]; to >= 0 {
				b[i] += t.none[g] * t.stayF[g][i] * after[to]
			}
			if to := l.meet[i]; to >= 0 {
				b[i] += (1 - t.none[g]) * t.meetF[g][i] * after[to]
			}
		}
		t.back[g] = b
	}
	return t
}

// pass carries the weights over one group; none and some are the weights of the group without and with a culprit.
func (t *table) pass(g int, from, into []float64, none, some float64) {
	l, stayF, meetF := &t.layers[g], t.stayF[g], t.meetF[g]
	for i, w := range from {
		if w == 0 {
			continue
		}
		if to := l.stay[i]; to >= 0 {
			into[to] += w * none * stayF[i]
		}
		if to := l.meet[i]; to >= 0 {
			into[to] += w * some * meetF[i]
		}
	}
}

func (t *table) total() float64 { return t.back[0][0] }

func (t *table) dropped() float64 {
	if t.lost == 0 {
		return 0
	}
	return t.lost / (t.total() + t.lost)
}

// absent starts from the groups before the set and ends at those after it, which are known.
func (t *table) absent(s set) float64 {
	first, last := -1, -1
	for g, group := range t.groups {
		if group.and(s) != (set{}) {
			if first < 0 {
				first = g
			}
			last = g
		}
	}
	if first < 0 {
		return 1
	}
	cur, into := t.scratch, t.next
	cur = append(cur[:0], t.fore[first]...)
	for g := first; g <= last; g++ {
		gone, rest := 1.0, 1.0
		for _, a := range t.groups[g].elements() {
			if s.has(a) {
				gone *= 1 - t.m.odds[a]
			} else {
				rest *= 1 - t.m.odds[a]
			}
		}
		into = into[:t.layers[g].width]
		clear(into)
		t.pass(g, cur, into, gone*rest, gone*(1-rest))
		cur, into = into, cur[:cap(cur)]
	}
	sum := 0.0
	for i, w := range cur {
		sum += w * t.back[last+1][i]
	}
	return math.Min(1, sum/t.total())
}

func (t *table) marginals(into []float64) {
	z := t.total()
	for g, group := range t.groups {
		l, after, p := &t.layers[g], t.back[g+1], 0.0
		for i, w := range t.fore[g] {
			if to := l.meet[i]; to >= 0 {
				p += w * (1 - t.none[g]) * t.meetF[g][i] * after[to]
			}
		}
		p /= z
		// Given that the group holds a culprit, each atom is one with its chance over that of the group.
		for _, a := range group.elements() {
			if t.none[g] < 1 {
				into[a] = math.Min(1, p*t.m.odds[a]/(1-t.none[g]))
			}
		}
	}
}

// best keeps the five best sets of every state, and none whose completions together weigh too little to be listed.
func (t *table) best(m *model) []weighed {
	at := [][]weighed{{{set{}, 1}}}
	for g, group := range t.groups {
		l := &t.layers[g]
		options := m.subsets(group)
		next := make([][]weighed, l.width)
		for i, list := range at {
			for _, o := range options {
				to, f := l.stay[i], t.stayF[g][i]
				if o.set != (set{}) {
					to, f = l.meet[i], t.meetF[g][i]
				}
				if to < 0 || f == 0 || o.w == 0 {
					continue
				}
				for _, x := range list {
					if w := x.w * o.w * f; w*t.back[g+1][to] >= listed*t.total()*(1-1e-9) {
						next[to] = append(next[to], weighed{x.set.or(o.set), w})
					}
				}
			}
		}
		for i := range next {
			next[i] = keepBest(next[i])
		}
		at = next
	}
	var all []weighed
	for _, list := range at {
		all = append(all, list...)
	}
	all = keepBest(all)
	for i := range all {
		all[i].w /= t.total()
	}
	return all
}

// subsets are the empty set and the five best others of a group of atoms, with their weights.
func (m *model) subsets(group set) []weighed {
	none, some := weighed{set{}, 1}, []weighed{}
	for _, a := range group.elements() {
		p := m.odds[a]
		var next []weighed
		for _, x := range some {
			with := x.set
			with.add(a)
			next = append(next, weighed{x.set, x.w * (1 - p)}, weighed{with, x.w * p})
		}
		var alone set
		alone.add(a)
		next = append(next, weighed{alone, none.w * p})
		none.w *= 1 - p
		some = keepBest(next)
	}
	return append(some, none)
}

func keepBest(list []weighed) []weighed {
	if len(list) > 1 {
		slices.SortFunc(list, heavier)
	}
	return list[:min(keptSets, len(list))]
}
