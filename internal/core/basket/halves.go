package basket

import (
	"cmp"
	"encoding/binary"
	"math"
	"math/bits"
	"slices"
)

const (
	mostHalves  = 1000 // sums that are looked at
	triedHalves = 100  // of them made into cuts
	halfRows    = 40
	halfPrice   = 0.95 // below 1: the sum is broken by the point
)

// half is a sum of rows modulo 2: which of the loose variables are odd in it, whether its right side is, and the slack
// of its rows.
type half struct {
	odd   []uint64
	rows  []int
	right bool
	slack float64
}

func (a *half) join(b *half) {
	for k := range a.odd {
		a.odd[k] ^= b.odd[k]
	}
	a.right = a.right != b.right
	a.slack += b.slack
	for _, id := range b.rows {
		if at := slices.Index(a.rows, id); at >= 0 {
			a.rows = slices.Delete(a.rows, at, at+1)
		} else {
			a.rows = append(a.rows, id)
		}
	}
}

// halves are zero-half inequalities (A. Caprara, M. Fischetti 1996; elimination modulo 2 after A. Koster, A. Zymolka,
// M. Kutschka 2009; from memory): rows of whole numbers whose sum has an odd right side are halved and rounded. What is
// odd among the variables between their bounds costs their distance from it, so that those are eliminated first.
func (l *programme) halves(w *adder) []cut {
	var loose []int
	place := make([]int, len(l.cost))
	for v := range l.cost {
		if place[v] = -1; l.aimed.off[v] > 1e-6 {
			loose = append(loose, v)
		}
	}
	slices.SortStableFunc(loose, func(a, b int) int { return cmp.Compare(l.aimed.off[b], l.aimed.off[a]) })
	off := make([]float64, len(loose))
	for k, v := range loose {
		place[v], off[k] = k, l.aimed.off[v]
	}
	sums := l.parities(place, (len(loose)+63)/64)
	list := sieve{off: off, seen: map[string]bool{}}
	list.look(sums)
	for k := range loose {
		at, bit := k/64, uint64(1)<<(k%64)
		var pivot *half
		for _, s := range sums {
			if s.odd[at]&bit != 0 && s.slack < 1e-6 && (pivot == nil || len(s.rows) < len(pivot.rows)) {
				pivot = s
			}
		}
		if pivot != nil {
			for _, s := range sums {
				if s != pivot && s.odd[at]&bit != 0 {
					s.join(pivot)
				}
			}
			sums = slices.DeleteFunc(sums, func(s *half) bool { return s == pivot || len(s.rows) == 0 })
		}
		if k == len(loose)/2 {
			list.look(sums)
		}
	}
	list.look(sums)
	w.effort += float64(len(sums)*len(sums)) / perUnit
	slices.SortStableFunc(list.found, func(a, b priced) int { return cmp.Compare(a.price, b.price) })
	var found []cut
	var y []share
	for _, h := range list.found[:min(len(list.found), triedHalves)] {
		y = y[:0]
		for _, id := range h.rows {
			y = append(y, share{id, 0.5})
		}
		w.gather(y)
		if c := w.deepest(1); c.depth > 0 {
			found = append(found, c)
		}
	}
	return found
}

// parities are the rows of whole numbers that the point meets closely.
func (l *programme) parities(place []int, words int) (sums []*half) {
	for id, r := range l.rows {
		if !r.whole || len(r.at) == 0 {
			continue
		}
		slack := l.aimed.slack[id]
		if slack > 0.9 {
			continue
		}
		s := &half{odd: make([]uint64, words), rows: []int{id}, slack: max(0, slack)}
		b := math.Round(r.b)
		for k, v := range r.at {
			a := math.Round(r.a[k])
			if l.all.hi[v] == 0 || math.Mod(a, 2) == 0 {
				continue
			}
			if at := place[v]; at >= 0 {
				s.odd[at/64] |= 1 << (at % 64)
			}
			b -= a * l.aimed.near[v]
		}
		s.right = math.Mod(b, 2) != 0
		sums = append(sums, s)
	}
	return sums
}

type priced struct {
	rows  []int
	price float64
}

// sieve keeps the sums, alone and in pairs, that the point breaks.
type sieve struct {
	off   []float64
	found []priced
	seen  map[string]bool
	key   []byte
}

func (f *sieve) look(sums []*half) {
	none := &half{}
	for i, a := range sums {
		f.pair(a, none)
		for _, b := range sums[:i] {
			if a.right != b.right && a.slack+b.slack < halfPrice {
				f.pair(a, b)
			}
		}
	}
}

func (f *sieve) pair(a, b *half) {
	if a.right == b.right || len(f.found) >= mostHalves || len(a.rows)+len(b.rows) > halfRows {
		return
	}
	c := a.slack + b.slack
	for w, word := range a.odd {
		if b.odd != nil {
			word ^= b.odd[w]
		}
		for ; word != 0 && c < halfPrice; word &= word - 1 {
			c += f.off[64*w+bits.TrailingZeros64(word)]
		}
	}
	if c >= halfPrice {
		return
	}
	n := half{rows: slices.Clone(a.rows)}
	n.join(&half{rows: b.rows})
	slices.Sort(n.rows)
	f.key = f.key[:0]
	for _, id := range n.rows {
		f.key = binary.AppendUvarint(f.key, uint64(id))
	}
	if !f.seen[string(f.key)] {
		f.seen[string(f.key)] = true
		f.found = append(f.found, priced{n.rows, c})
	}
}
