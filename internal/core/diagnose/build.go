package diagnose

import (
	"context"
	"slices"
	"sync"
)

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
