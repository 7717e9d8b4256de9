package diagnose

import (
	"context"
	"slices"
	"sync"
)

// A key has a bit for every trial still open in which a culprit of strength 1 has been met; where none was, weak is the
// number of the counts of culprits of lower strength (0: none), among those of its shape.
type key struct {
	bits [maxTrials / 64]uint64
	weak int32
}

func (k *key) set(e int) { k.bits[e/64] |= 1 << (e % 64) }

func (k key) has(e int) bool { return k.bits[e/64]>>(e%64)&1 == 1 }

// within is what a key says of some trials.
func (k key) within(trials key) key {
	k.bits[0] &= trials.bits[0]
	k.bits[1] &= trials.bits[1]
	return k
}

// shape is the table of one list of trials: groups of atoms that stand in the same trials are passed one after the
// other (a weak atom by itself), and the state is which open trials a culprit was met in. It holds no probability, so
// that checks share it.
type shape struct {
	groups  []set
	rank    []int // of an atom, in the order of the groups; -1 or beyond the end: none
	groupAt []int // of a rank
	layers  []layer
	steps   int
	widest  int       // states of the widest layer
	reached int       // states that the effort counts
	spares  []float64 // the different chances of weak atoms not to strike
	class   []int     // of a group, -1 for strength 1
	at      []int     // per trial, where its bytes begin; -1: it holds no weak atom
	bytes   int
	counts  []string // of weak culprits met, a byte for every trial that holds such and every strength; the first: none
	number  map[string]int32
}

// counted is the number of some counts.
func (s *shape) counted(counts []byte) int32 {
	n, known := s.number[string(counts)]
	if !known {
		n = int32(len(s.counts))
		s.counts = append(s.counts, string(counts))
		s.number[s.counts[n]] = n
	}
	return n
}

// meet is the state once a culprit of a group was met in its trials.
func (s *shape) meet(k key, sig key, class int) key {
	if class < 0 {
		k.bits[0] |= sig.bits[0]
		k.bits[1] |= sig.bits[1]
		return s.forget(k, sig)
	}
	counts := []byte(s.counts[k.weak])
	if len(counts) == 0 {
		counts = make([]byte, s.bytes)
	}
	for e, at := range s.at {
		if at >= 0 && sig.has(e) && !k.has(e) {
			counts[at+class]++
		}
	}
	k.weak = s.counted(counts)
	return k
}

// forget drops the counts of trials, which a stronger culprit or their end makes idle.
func (s *shape) forget(k key, sig key) key {
	if k.weak == 0 {
		return k
	}
	counts, left := []byte(s.counts[k.weak]), false
	for e, at := range s.at {
		if at < 0 {
			continue
		}
		if sig.has(e) {
			clear(counts[at : at+len(s.spares)])
		}
		left = left || slices.ContainsFunc(counts[at:at+len(s.spares)], func(n byte) bool { return n > 0 })
	}
	if !left {
		k.weak = 0
		return k
	}
	k.weak = s.counted(counts)
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
	if at := s.at[e]; at >= 0 && k.weak != 0 {
		for c, spare := range s.spares {
			for range s.counts[k.weak][at+c] {
				q *= spare
			}
		}
	}
	return q
}

// layer leads from each state before a group to the states after it: stay without a culprit in the group, meet with
// one; -1 is a state that was dropped. closed are the trials that end here, covers the ways in which they were covered,
// stayed and mets which of these a state had; where none ends they are left out.
type layer struct {
	stay, meet   []int32
	stayed, mets []int32
	covers       []key
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
	s := &shape{groups: groups, counts: []string{""}, number: map[string]int32{}}
	for g, group := range groups {
		for a := range group.all() {
			for len(s.rank) <= a {
				s.rank = append(s.rank, -1)
			}
			s.rank[a] = len(s.groupAt)
			s.groupAt = append(s.groupAt, g)
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
	w := workspaces.Get().(*workspace)
	defer workspaces.Put(w)
	keys, weights := append(w.keys[:0], key{}), append(w.weights[:0], 1)
	next, heavy := w.next, w.heavy
	lost := 0.0
	for pos, sig := range sigs {
		if by.ctx.Err() != nil {
			return nil, 0, by.ctx.Err()
		}
		var gone key
		few := s.bytes == 0
		l := layer{stay: make([]int32, len(keys)), meet: make([]int32, len(keys))}
		for e, at := range closeAt {
			if at == pos {
				gone.set(e)
				l.closed = append(l.closed, e)
			}
		}
		if len(l.closed) > 0 {
			l.stayed, l.mets = make([]int32, len(keys)), make([]int32, len(keys))
			if few = s.bytes == 0 && len(l.closed) <= fewClosed; few {
				l.covers = subsets(l.closed)
			} else {
				w.covers.clear(2 * len(keys))
			}
		}
		w.index.clear(2 * len(keys))
		next, heavy = next[:0], heavy[:0]
		var likely []float64 // by cover
		none, some := 1.0, 0.0
		if weigh != nil {
			for a := range s.groups[pos].all() {
				none *= 1 - weigh.odds[a]
			}
			some = 1 - none
		}
		add := func(i int, p float64) {
			if i == len(heavy) {
				heavy = append(heavy, 0)
			}
			heavy[i] += p
		}
		for i, k := range keys {
			if i%often == often-1 && by.ctx.Err() != nil {
				return nil, 0, by.ctx.Err()
			}
			var stay, meet key
			if few { // the usual case, without calls
				stay.bits[0], stay.bits[1] = k.bits[0]&^gone.bits[0], k.bits[1]&^gone.bits[1]
				meet.bits[0] = (k.bits[0] | sig.bits[0]) &^ gone.bits[0]
				meet.bits[1] = (k.bits[1] | sig.bits[1]) &^ gone.bits[1]
				for j, e := range l.closed {
					was := int32(k.bits[e/64] >> (e % 64) & 1)
					l.stayed[i] |= was << j
					l.mets[i] |= (was | int32(sig.bits[e/64]>>(e%64)&1)) << j
				}
			} else {
				met := s.meet(k, sig, s.class[pos])
				stay, meet = k, met
				if l.stayed != nil {
					l.stayed[i], l.covers = w.covers.place(k.within(gone), l.covers)
					l.mets[i], l.covers = w.covers.place(met.within(gone), l.covers)
					stay, meet = s.close(k, gone), s.close(met, gone)
				}
			}
			l.stay[i], next = w.index.place(stay, next)
			l.meet[i], next = w.index.place(meet, next)
			if weigh == nil {
				continue
			}
			p, q := weights[i]*none, weights[i]*some
			if l.stayed != nil {
				for len(likely) < len(l.covers) {
					likely = append(likely, weigh.closes(s, &l, l.covers[len(likely)]))
				}
				p, q = p*likely[l.stayed[i]], q*likely[l.mets[i]]
			}
			add(int(l.stay[i]), p)
			add(int(l.meet[i]), q)
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
		keys, next, weights, heavy = next, keys, heavy, weights
		w.keys, w.next, w.weights, w.heavy = keys, next, weights, heavy
	}
	s.number = nil
	return s, lost, nil
}

// fewClosed is up to how many trials all the ways to cover them are listed.
const fewClosed = 4

// subsets are the ways in which some trials can be covered: bit j of the number stands for the jth.
func subsets(trials []int) []key {
	list := make([]key, 1<<len(trials))
	for n := range list {
		for j, e := range trials {
			if n>>j&1 == 1 {
				list[n].set(e)
			}
		}
	}
	return list
}

// workspace is what making a table takes besides.
type workspace struct {
	keys, next     []key
	weights, heavy []float64
	index, covers  places
}

var workspaces = sync.Pool{New: func() any { return &workspace{} }}

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

// closes is the likelihood of the readings of all trials that end at a layer.
func (m *model) closes(s *shape, l *layer, covered key) float64 {
	p := 1.0
	for _, e := range l.closed {
		p *= m.likelihood(s, e, covered)
	}
	return p
}

// fewBest are the empty set and the five best others of a group of atoms, with their weights.
func (m *model) fewBest(group set) []weighed {
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
