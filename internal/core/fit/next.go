package fit

import (
	"cmp"
	"maps"
	"math"
	"math/bits"
	"slices"
)

// faint is the chance below which a pair of classes is not followed: the bits are exact to 1e-6 without it.
const faint = 1e-13

// meeting is two sets, the class of a donor and another class beside it (0: none), and the chance of both.
type meeting struct {
	with, beside set
	p            float64
}

// meetings lists, for a donor, its class and every class that may stand beside it.
func (w *world) meetings(d int) []meeting {
	all := set(len(w.logG) - 1)
	z := w.logZ[all]
	var list []meeting
	for b, p := range w.p {
		if b>>d&1 == 0 || p < faint {
			continue
		}
		rest := all &^ set(b)
		for c := rest; c != 0; c = (c - 1) & rest {
			if q := math.Exp(w.logG[b] + w.logG[c] + w.logZ[rest&^c] - z); q >= faint {
				list = append(list, meeting{set(b), c, q})
			}
		}
	}
	return list
}

// outcomes is a chance for each outcome of a test.
type outcomes [rungs]float64

func (a *outcomes) add(b *outcomes, f float64) {
	for o := range a {
		a[o] += f * b[o]
	}
}

// next weighs every candidate: the mutual information between its outcome and whether each line serves each host.
func (w *world) next(s *stocker, pairs []Pair) []Next {
	n := len(w.in.Models)
	now := s.shortage(s.serves)
	met := map[int][]meeting{}
	list := []Next{}
	for _, c := range w.in.Candidates {
		d, h := w.number[c.Donor], w.number[c.Host]
		var like [rungs]outcomes // of each rung
		g := w.defective(d, c.ticked())
		for t := range rungs {
			for o := range rungs {
				like[t][o] = chance(o, t, 1, g, c.ticked())
			}
		}
		var seen outcomes
		var joint map[int]*outcomes // by pair: the outcome, and that the line serves the host; what is not in it is not touched
		if d >= n {
			seen, joint = w.tryCopy(d, h, &like)
		} else {
			if met[d] == nil {
				met[d] = w.meetings(d)
			}
			seen, joint = w.tryModel(d, h, &like, met[d])
		}
		x := Next{ID: c.ID}
		after := 0.0
		for o := range rungs {
			after += seen[o] * s.shortage(func(x, y int) float64 {
				if j := joint[x*n+y]; j != nil {
					return j[o] / seen[o]
				}
				return pairs[x*n+y].Serves
			})
		}
		for _, at := range slices.Sorted(maps.Keys(joint)) {
			x.Bits += shared(&seen, joint[at])
		}
		x.BitsPerMinute = x.Bits / c.Minutes
		if x.LinesSaved = now - after; math.Abs(x.LinesSaved) < 1e-9 {
			x.LinesSaved = 0
		}
		list = append(list, x)
	}
	slices.SortStableFunc(list, func(a, b Next) int {
		return cmp.Or(cmp.Compare(b.BitsPerMinute, a.BitsPerMinute), cmp.Compare(a.ID, b.ID))
	})
	return list
}

// tell adds what a level shows: the chances of the outcomes, and those together with reaching the level asked for.
func (w *world) tell(l *level, like *[rungs]outcomes) (shown, served outcomes) {
	for t, q := range l.at {
		shown.add(&like[t], q)
		if t >= w.asked {
			served.add(&like[t], q)
		}
	}
	return shown, served
}

// tryCopy is a candidate of a copy: its level in this host stands for itself.
func (w *world) tryCopy(d, h int, like *[rungs]outcomes) (outcomes, map[int]*outcomes) {
	n := len(w.in.Models)
	shown, served := w.tell(&w.copies[d-n][h], like)
	return shown, map[int]*outcomes{d*n + h: &served}
}

// tryModel is a candidate of a genuine piece: it tells about the class of the donor in this host, and through the
// partition about every model.
func (w *world) tryModel(d, h int, like *[rungs]outcomes, met []meeting) (seen outcomes, joint map[int]*outcomes) {
	n := len(w.in.Models)
	rows := make([]outcomes, n*n)
	shown, served := make([]outcomes, len(w.p)), make([]outcomes, len(w.p)) // of the classes of the donor
	beside := make([]outcomes, len(w.p))                                    // of the others, with their chance
	for b, p := range w.p {
		if b>>d&1 == 1 && p >= faint {
			shown[b], served[b] = w.tell(&w.class[b][h], like)
			seen.add(&shown[b], p)
			beside[b].add(&shown[b], p)
		}
	}
	for i := range met {
		beside[met[i].beside].add(&shown[met[i].with], met[i].p)
	}
	for b := range w.p {
		if w.p[b] < faint {
			continue
		}
		for y := range n {
			q, f := &beside[b], w.class[b][y].serve
			switch {
			case b>>y&1 == 1:
				f = 1
			case b>>d&1 == 1 && y == h:
				q, f = &served[b], w.p[b]
			}
			for left := uint(b) &^ (1 << y); left != 0; left &= left - 1 {
				rows[bits.TrailingZeros(left)*n+y].add(q, f)
			}
		}
	}
	joint = map[int]*outcomes{}
	for at := range rows {
		if at/n != at%n {
			joint[at] = &rows[at]
		}
	}
	return seen, joint
}

// shared is the mutual information, in bits, between the outcome and whether a pair serves.
func shared(seen, joint *outcomes) float64 {
	total, yes := 0.0, 0.0
	for o := range seen {
		total += seen[o]
		yes += joint[o]
	}
	sum := 0.0
	for o := range seen {
		for _, c := range [2][2]float64{{joint[o], yes}, {seen[o] - joint[o], total - yes}} {
			if c[0] > 0 && c[1] > 0 && seen[o] > 0 {
				sum += c[0] * math.Log2(c[0]*total/(seen[o]*c[1]))
			}
		}
	}
	return max(0, sum)
}
