package diagnose

import "math"

// list is the posterior over all sets of at most twenty atoms, one by one: exact whatever the trials are. below[T] is
// the weight of the sets within T, so that every question about absence is one look-up.
type list struct {
	m     *model
	at    []int // atom of each bit
	bit   map[int]int
	below []float64
	sum   float64
	top   []weighed
}

func newList(m *model) *list {
	l := &list{m: m, bit: map[int]int{}}
	for a := range m.atoms {
		l.bit[a] = len(l.at)
		l.at = append(l.at, a)
	}
	w := make([]float64, 1<<len(l.at))
	w[0] = 1
	for _, a := range l.at {
		w[0] *= 1 - m.odds[a]
	}
	if w[0] > 0 {
		for s := 1; s < len(w); s++ {
			p := m.odds[l.at[trailing(s)]]
			w[s] = w[s&(s-1)] * p / (1 - p)
		}
	} else { // a certain culprit leaves no set without it
		for s := range w {
			w[s] = 1
			for k, a := range l.at {
				if s>>k&1 == 1 {
					w[s] *= m.odds[a]
				} else {
					w[s] *= 1 - m.odds[a]
				}
			}
		}
	}
	for i := range m.whole {
		e := &m.whole[i]
		mask, weak := l.mask(e.atoms.without(m.weak)), l.mask(e.atoms.and(m.weak))
		for s := range w {
			switch {
			case s&mask != 0:
				w[s] *= e.hit
			case s&weak == 0:
				w[s] *= e.miss
			default:
				q := 1.0
				for rest := s & weak; rest != 0; rest &= rest - 1 {
					q *= m.spare[l.at[trailing(rest)]]
				}
				w[s] *= e.at(q)
			}
		}
	}
	for s, x := range w {
		if x > 0 && (len(l.top) < keptSets || x >= l.top[len(l.top)-1].w) {
			l.top = keepBest(append(l.top, weighed{l.names(s), x}))
		}
	}
	for k := range l.at {
		for s := range w {
			if s>>k&1 == 1 {
				w[s] += w[s^1<<k]
			}
		}
	}
	l.below, l.sum = w, w[len(w)-1]
	return l
}

func trailing(s int) int {
	k := 0
	for s>>k&1 == 0 {
		k++
	}
	return k
}

func (l *list) mask(s set) int {
	mask := 0
	for _, a := range s.elements() {
		mask |= 1 << l.bit[a]
	}
	return mask
}

func (l *list) names(mask int) (s set) {
	for k, a := range l.at {
		if mask>>k&1 == 1 {
			s.add(a)
		}
	}
	return s
}

func (l *list) total() float64 { return l.sum }

func (l *list) dropped() float64 { return 0 }

func (l *list) absent(s set) float64 {
	return math.Min(1, l.below[(len(l.below)-1)&^l.mask(s)]/l.sum)
}

func (l *list) marginals(into []float64) {
	for k, a := range l.at {
		into[a] = math.Max(0, 1-l.below[(len(l.below)-1)&^(1<<k)]/l.sum)
	}
}

func (l *list) closing(int) []chance { return nil }

func (l *list) again() solver { return l }

func (l *list) best() []weighed {
	all := make([]weighed, len(l.top))
	for i, x := range l.top {
		all[i] = weighed{x.set, x.w / l.sum}
	}
	return all
}
