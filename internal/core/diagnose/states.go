package diagnose

import (
	"slices"
	"sort"
)

// places finds the number of a key among those of a layer: open addressing, without deletion.
type places struct {
	at []int32 // number + 1 of the key at a place
}

// clear makes room for so many keys.
func (p *places) clear(n int) {
	size := 16
	for size < n+n/2 {
		size *= 2
	}
	if cap(p.at) >= size {
		p.at = p.at[:size]
		clear(p.at)
		return
	}
	p.at = make([]int32, size)
}

func (k key) hash() uint64 {
	h := k.bits[0]*0x9e3779b97f4a7c15 ^ k.bits[1]*0xc2b2ae3d27d4eb4f ^ uint64(k.weak)*0x165667b19e3779f9
	return h ^ h>>32
}

// place is the number of a key in the list, which it joins when it is new.
func (p *places) place(k key, list []key) (int32, []key) {
	mask := uint64(len(p.at) - 1)
	for h := k.hash() & mask; ; h = (h + 1) & mask {
		switch i := p.at[h]; {
		case i == 0:
			p.at[h] = int32(len(list)) + 1
			return int32(len(list)), append(list, k)
		case list[i-1] == k:
			return i - 1, list
		}
	}
}

// outlook says of a state what is ahead: the likelihood of the open trials as if they were independent, and a bound on
// what it can be at most. A covered trial is decided; of the others the product is at most its least factor, whose
// expectation is known exactly.
func (m *model) outlook(trials []set, groups []set, sigs []key) func(key) (guess, most float64) {
	type ahead struct {
		trial       key
		hit, expect float64
		strong      bool
	}
	var open []ahead
	empty := make([]float64, len(groups)) // weak atoms are left out: with them no expectation bounds what is ahead, but 1
	for i, g := range groups {
		empty[i] = 1
		for a := range g.without(m.weak).all() {
			empty[i] *= 1 - m.odds[a]
		}
	}
	for e := range trials {
		none, some := 1.0, false
		for i := range sigs {
			if sigs[i].has(e) {
				some = true
				none *= empty[i]
			}
		}
		if some {
			o := ahead{hit: m.whole[e].hit, expect: (1-none)*m.whole[e].hit + none*m.whole[e].miss,
				strong: m.whole[e].atoms.and(m.weak) == (set{})}
			o.trial.set(e)
			open = append(open, o)
		}
	}
	return func(k key) (float64, float64) {
		decided, guess, least := 1.0, 1.0, 1.0
		for i := range open {
			if o := &open[i]; k.bits[0]&o.trial.bits[0]|k.bits[1]&o.trial.bits[1] != 0 {
				decided *= o.hit
			} else {
				guess *= o.expect
				if o.strong && o.expect < least {
					least = o.expect
				}
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
	kept, weight := next[:0], heavy[:0]
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
