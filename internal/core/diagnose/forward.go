package diagnose

import (
	"maps"
	"math"
	"slices"
)

// table is a shape with the probabilities of one check: forward–backward over the groups.
type table struct {
	*shape
	m             *model
	none          []float64   // per group: no culprit in it
	likely        [][]float64 // per layer and cover: likelihood of the trials that close; nil: none does
	fore, back    [][]float64 // weight of reaching a state, and of everything after it
	lost          float64
	nothing       []float64 // per trial: no culprit in it; nil while not asked for, or with weak atoms
	scratch, next []float64
}

func newTable(m *model, s *shape, lost float64) *table {
	t := &table{shape: s, m: m, lost: lost, none: make([]float64, len(s.groups))}
	widest := 1
	t.likely = make([][]float64, 0, len(s.layers))
	for g, l := range s.layers {
		t.none[g] = 1
		for _, a := range s.groups[g].elements() {
			t.none[g] *= 1 - m.odds[a]
		}
		var likely []float64
		if len(l.covers) > 0 {
			likely = make([]float64, len(l.covers))
		}
		for i, c := range l.covers {
			likely[i] = m.closes(s, &l, c)
		}
		t.likely = append(t.likely, likely)
		widest = max(widest, l.width)
	}
	t.scratch, t.next = make([]float64, widest), make([]float64, widest)
	t.fore, t.back = s.weights()
	t.fore[0][0] = 1
	for g := range s.layers {
		t.pass(g, t.fore[g], t.fore[g+1], t.none[g], 1-t.none[g])
	}
	end := t.back[len(s.layers)]
	for i := range end {
		end[i] = 1
	}
	for g := len(s.layers) - 1; g >= 0; g-- {
		t.pull(g, t.back[g+1], t.back[g], t.none[g], 1-t.none[g])
	}
	return t
}

// weights makes room for a weight of each state before each group and at the end, twice.
func (s *shape) weights() (fore, back [][]float64) {
	n := len(s.layers)
	last := 1
	if n > 0 {
		last = s.layers[n-1].width
	}
	all := last
	for _, l := range s.layers {
		all += len(l.stay)
	}
	room := make([]float64, 2*all)
	of := func() [][]float64 {
		list := make([][]float64, n+1)
		for g := range list {
			k := last
			if g < n {
				k = len(s.layers[g].stay)
			}
			list[g], room = room[:k:k], room[k:]
		}
		return list
	}
	return of(), of()
}

// staying and meeting are the likelihoods of what closes at a state.
func (t *table) staying(g, i int) float64 {
	if t.likely[g] == nil {
		return 1
	}
	return t.likely[g][t.layers[g].stayed[i]]
}

func (t *table) meeting(g, i int) float64 {
	if t.likely[g] == nil {
		return 1
	}
	return t.likely[g][t.layers[g].mets[i]]
}

// pull is the way back of [table.pass]: the weight of everything after a state, from that after the states behind.
func (t *table) pull(g int, after, into []float64, none, some float64) {
	l, likely := &t.layers[g], t.likely[g]
	stay, meet := l.stay[:len(into)], l.meet[:len(into)]
	if likely == nil {
		for i := range into {
			w := 0.0
			if to := stay[i]; to >= 0 {
				w = none * after[to]
			}
			if to := meet[i]; to >= 0 {
				w += some * after[to]
			}
			into[i] = w
		}
		return
	}
	stayed, mets := l.stayed[:len(into)], l.mets[:len(into)]
	for i := range into {
		w := 0.0
		if to := stay[i]; to >= 0 {
			w = none * likely[stayed[i]] * after[to]
		}
		if to := meet[i]; to >= 0 {
			w += some * likely[mets[i]] * after[to]
		}
		into[i] = w
	}
}

// pass carries the weights over one group; none and some are the weights of the group without and with a culprit.
func (t *table) pass(g int, from, into []float64, none, some float64) {
	l, likely := &t.layers[g], t.likely[g]
	stay, meet := l.stay[:len(from)], l.meet[:len(from)]
	if likely == nil {
		for i, w := range from {
			if to := stay[i]; to >= 0 {
				into[to] += w * none
			}
			if to := meet[i]; to >= 0 {
				into[to] += w * some
			}
		}
		return
	}
	stayed, mets := l.stayed[:len(from)], l.mets[:len(from)]
	for i, w := range from {
		if to := stay[i]; to >= 0 {
			into[to] += w * none * likely[stayed[i]]
		}
		if to := meet[i]; to >= 0 {
			into[to] += w * some * likely[mets[i]]
		}
	}
}

func (t *table) copied() *table {
	c := *t
	c.scratch, c.next = make([]float64, len(t.scratch)), make([]float64, len(t.next))
	return &c
}

func (t *table) again() solver { return t.copied() }

// tell works out for all trials at once, where they close, whether a culprit is in them.
func (t *table) tell() {
	if t.bytes > 0 {
		return
	}
	t.nothing = make([]float64, len(t.at))
	for g, l := range t.layers {
		after := t.back[g+1]
		for _, e := range l.closed {
			none := 0.0
			for i, w := range t.fore[g] {
				if to := l.stay[i]; to >= 0 && !l.covers[l.stayed[i]].has(e) {
					none += w * t.none[g] * t.staying(g, i) * after[to]
				}
				if to := l.meet[i]; to >= 0 && !l.covers[l.mets[i]].has(e) {
					none += w * (1 - t.none[g]) * t.meeting(g, i) * after[to]
				}
			}
			t.nothing[e] = math.Min(1, none/t.total())
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

// closing is the distribution of the chance that nothing strikes in a trial: where it closes, the states tell it.
func (t *table) closing(e int) []chance {
	if t.nothing != nil {
		return []chance{{0, 1 - t.nothing[e]}, {1, t.nothing[e]}}
	}
	by := map[float64]float64{}
	for g, l := range t.layers {
		if !slices.Contains(l.closed, e) {
			continue
		}
		after := t.back[g+1]
		for i, w := range t.fore[g] {
			if to := l.stay[i]; to >= 0 {
				by[t.spared(e, l.covers[l.stayed[i]])] += w * t.none[g] * t.staying(g, i) * after[to]
			}
			if to := l.meet[i]; to >= 0 {
				by[t.spared(e, l.covers[l.mets[i]])] += w * (1 - t.none[g]) * t.meeting(g, i) * after[to]
			}
		}
	}
	var list []chance
	for _, q := range slices.Sorted(maps.Keys(by)) {
		list = append(list, chance{q, by[q] / t.total()})
	}
	return list
}

func (t *table) marginals(into []float64) {
	z := t.total()
	for g, group := range t.groups {
		l, after, p := &t.layers[g], t.back[g+1], 0.0
		for i, w := range t.fore[g] {
			if to := l.meet[i]; to >= 0 {
				p += w * (1 - t.none[g]) * t.meeting(g, i) * after[to]
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
func (t *table) best() []weighed {
	at := [][]weighed{{{set{}, 1}}}
	for g, group := range t.groups {
		l := &t.layers[g]
		options := t.m.fewBest(group)
		next := make([][]weighed, l.width)
		for i, list := range at {
			for _, o := range options {
				to, f := l.stay[i], t.staying(g, i)
				if o.set != (set{}) {
					to, f = l.meet[i], t.meeting(g, i)
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
