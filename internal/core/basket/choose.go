package basket

import (
	"cmp"
	"math"
	"slices"
)

// class puts sellers before modes before packs.
func (t *tree) class(v int) int {
	switch {
	case v >= len(t.l.cost):
		return 0
	case t.pack[v] < 0:
		return 1
	}
	return 2
}

// choose is the variable to branch on: of the first class that is not whole those furthest from it, tried for a few
// steps each until they have a record; -1 when all is whole.
func (t *tree) choose(at *leaf) int {
	l := t.l
	type open struct {
		v, class int
		f        float64
	}
	var list []open
	for v := range len(l.cost) + t.sellers {
		if f := math.Abs(l.x[v] - math.Round(l.x[v])); f > 1e-6 && l.where[v] != gone {
			list = append(list, open{v, t.class(v), f})
		}
	}
	if len(list) == 0 {
		return -1
	}
	slices.SortStableFunc(list, func(a, b open) int {
		return cmp.Or(a.class-b.class, cmp.Compare(b.f, a.f))
	})
	n := 0
	for n < min(len(list), candidates) && list[n].class == list[0].class {
		n++
	}
	if n == 1 {
		return list[0].v
	}
	kept := false
	best, most := -1, -1.0
	for _, c := range list[:n] {
		x := l.x[c.v]
		if t.gains[0][c.v].n < sure || t.gains[1][c.v].n < sure {
			if !kept {
				l.copyTo(&t.kept)
				kept = true
			}
			z := l.value()
			for way := range 2 {
				if way == 0 {
					l.hi[c.v] = math.Floor(x)
				} else {
					l.lo[c.v] = math.Floor(x) + 1
				}
				st := l.run(t.s.upper-penny, trySteps)
				gain := max(0, l.value()-z)
				if st == empty || st == beaten {
					gain = max(gain, t.s.upper-z)
				}
				t.record(way, c.v, x, gain)
				l.lo[c.v], l.hi[c.v] = at.lo[c.v], at.hi[c.v]
				t.kept.copyTo(l)
			}
		}
		if score := max(t.guess(0, c.v, x), 1e-6) * max(t.guess(1, c.v, x), 1e-6); score > most {
			best, most = c.v, score
		}
	}
	return best
}

func (t *tree) record(way, v int, x, gain float64) {
	part := x - math.Floor(x)
	if way == 1 {
		part = 1 - part
	}
	g := &t.gains[way][v]
	g.sum += gain / part
	g.n++
}

func (t *tree) guess(way, v int, x float64) float64 {
	g, part := t.gains[way][v], x-math.Floor(x)
	if way == 1 {
		part = 1 - part
	}
	return g.sum / max(1, float64(g.n)) * part
}
