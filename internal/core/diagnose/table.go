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
