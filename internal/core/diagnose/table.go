package diagnose

import (
	"slices"
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
