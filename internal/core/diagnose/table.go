package diagnose

import (
	"context"
	"slices"
)

// A key has a bit for every trial still open in which a culprit of strength 1 has been met; where none was, weak counts
// the culprits of lower strength, a byte for every trial that holds such and every strength ("": none).
type key struct {
	bits [maxTrials / 64]uint64
	weak string
}

func (k *key) set(e int) { k.bits[e/64] |= 1 << (e % 64) }

func (k key) has(e int) bool { return k.bits[e/64]>>(e%64)&1 == 1 }

// shape is the table of one list of trials: groups of atoms that stand in the same trials are passed one after the
// other (a weak atom by itself), and the state is which open trials a culprit was met in. It holds no probability, so
// that checks share it.
type shape struct {
	groups  []set
	in      []int // per atom, its group; -1 or beyond the end: none
	layers  []layer
	steps   int
	widest  int       // states of the widest layer
	reached int       // states that the effort counts
	spares  []float64 // the different chances of weak atoms not to strike
	class   []int     // of a group, -1 for strength 1
	at      []int     // per trial, where its bytes begin; -1: it holds no weak atom
	bytes   int
}

// meet is the state once a culprit of a group was met in its trials.
func (s *shape) meet(k key, sig key, class int) key {
	if class < 0 {
		k.bits[0] |= sig.bits[0]
		k.bits[1] |= sig.bits[1]
		return s.forget(k, sig)
	}
	weak := []byte(k.weak)
	if len(weak) == 0 {
		weak = make([]byte, s.bytes)
	}
	for e, at := range s.at {
		if at >= 0 && sig.has(e) && !k.has(e) {
			weak[at+class]++
		}
	}
	k.weak = string(weak)
	return k
}

// forget drops the counts of trials, which a stronger culprit or their end makes idle.
func (s *shape) forget(k key, sig key) key {
	if k.weak == "" {
		return k
	}
	weak, left := []byte(k.weak), false
	for e, at := range s.at {
		if at < 0 {
			continue
		}
		if sig.has(e) {
			clear(weak[at : at+len(s.spares)])
		}
		left = left || slices.ContainsFunc(weak[at:at+len(s.spares)], func(n byte) bool { return n > 0 })
	}
	if k.weak = string(weak); !left {
		k.weak = ""
	}
	return k
}

// close is the state once trials have ended.
func (s *shape) close(k key, gone key) key {
	k.bits[0] &^= gone.bits[0]
	k.bits[1] &^= gone.bits[1]
	return s.forget(k, gone)
}

// spared is the chance that no culprit met so far strikes in a trial.
func (s *shape) spared(e int, k key) float64 {
	if k.has(e) {
		return 0
	}
	q := 1.0
	if at := s.at[e]; at >= 0 && k.weak != "" {
		for c, spare := range s.spares {
			for range k.weak[at+c] {
				q *= spare
			}
		}
	}
	return q
}

// layer leads from each state before a group to the states after it: stay without a culprit in the group, meet with
// one; -1 is a state that was dropped. closed are the trials that end here, stayed and met which of them were covered;
// where none ends they are left out.
type layer struct {
	stay, meet   []int32
	stayed, mets []key
	closed       []int
	width        int
}

// effort is what one table may take: the states of a layer, and those of all its layers together.
type effort struct {
	ctx          context.Context
	limit, steps int
}

// often is after how many states it is asked whether the answer is still wanted.
const often = 1 << 13

// build makes the table. Beyond its effort it gives up when weigh is nil; else it keeps the eighth of the limit that
// promises most for that model, and returns the weight dropped as a bound. An error says that the answer is not wanted
// any more.
func build(by effort, trials []set, spare []float64, weigh *model) (*shape, float64, error) {
	groups, sigs := signatures(trials, spare)
	limit := by.limit
	if weigh != nil {
		limit = max(8, min(limit, by.steps/max(1, len(groups))))
	}
	s := &shape{groups: groups}
	for g, group := range groups {
		for a := range group.all() {
			for len(s.in) <= a {
				s.in = append(s.in, -1)
			}
			s.in[a] = g
		}
	}
	s.classify(trials, spare)
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
	var index places
	lost := 0.0
	for pos, sig := range sigs {
		var gone key
		l := layer{stay: make([]int32, len(keys)), meet: make([]int32, len(keys))}
		for e, at := range closeAt {
			if at == pos {
				gone.set(e)
				l.closed = append(l.closed, e)
			}
		}
		if len(l.closed) > 0 {
			l.stayed, l.mets = make([]key, len(keys)), make([]key, len(keys))
		}
		index.clear(2 * len(keys))
		next := make([]key, 0, len(keys)+len(keys)/2)
		var heavy []float64
		none := 1.0
		if weigh != nil {
			for _, a := range s.groups[pos].elements() {
				none *= 1 - weigh.odds[a]
			}
		}
		to := func(covered key, w float64) int32 {
			k := s.close(covered, gone)
			var i int32
			i, next = index.place(k, next)
			if weigh != nil {
				if int(i) == len(heavy) {
					heavy = append(heavy, 0)
				}
				for _, e := range l.closed {
					w *= weigh.likelihood(s, e, covered)
				}
				heavy[i] += w
			}
			return i
		}
		for i, k := range keys {
			if i%often == 0 && by.ctx.Err() != nil {
				return nil, 0, by.ctx.Err()
			}
			w := 1.0
			if weigh != nil {
				w = weights[i]
			}
			met := s.meet(k, sig, s.class[pos])
			l.stay[i], l.meet[i] = to(k, w*none), to(met, w*(1-none))
			if l.stayed != nil {
				l.stayed[i], l.mets[i] = k, met
			}
		}
		if s.reached = max(s.reached, s.steps/2+len(next)); weigh == nil && s.reached > by.steps {
			return nil, 0, nil
		}
		if len(next) > limit {
			if weigh == nil {
				return nil, 0, nil
			}
			next, heavy, lost = prune(&l, next, heavy, weigh.outlook(trials, s.groups[pos+1:], sigs[pos+1:]),
				max(1, limit/8), lost)
		}
		l.width = len(next)
		s.widest = max(s.widest, l.width)
		s.steps += 2 * len(keys)
		s.layers = append(s.layers, l)
		keys, weights = next, heavy
	}
	return s, lost, nil
}

// classify finds the weak atoms: their strengths, and where a state counts them.
func (s *shape) classify(trials []set, spare []float64) {
	var weak set
	for _, g := range s.groups {
		class := -1
		if x := spare[g.elements()[0]]; x > 0 {
			weak = weak.or(g)
			if class = slices.Index(s.spares, x); class < 0 {
				class = len(s.spares)
				s.spares = append(s.spares, x)
			}
		}
		s.class = append(s.class, class)
	}
	for _, t := range trials {
		at := -1
		if t.and(weak) != (set{}) {
			at = s.bytes
			s.bytes += len(s.spares)
		}
		s.at = append(s.at, at)
	}
}

// signatures groups the atoms that stand in the same trials (a weak one stands by itself), in an order in which trials
// close early: next comes the
// group that stands in the trial with the fewest groups to go.
func signatures(trials []set, spare []float64) ([]set, []key) {
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
		if ok = ok && spare[a] == 0; !ok {
			i = len(groups)
			if spare[a] == 0 {
				at[sig] = i
			}
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

func (m *model) likelihood(s *shape, e int, k key) float64 {
	switch q := s.spared(e, k); q {
	case 0:
		return m.whole[e].hit
	case 1:
		return m.whole[e].miss
	default:
		return m.whole[e].at(q)
	}
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
