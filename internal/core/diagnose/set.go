package diagnose

import (
	"iter"
	"math/bits"
)

// set is a set of atoms, a bit each.
type set [maxAtoms / 64]uint64

func (s set) has(a int) bool { return s[a/64]>>(a%64)&1 == 1 }

func (s *set) add(a int) { s[a/64] |= 1 << (a % 64) }

func (s set) or(t set) set {
	for k := range s {
		s[k] |= t[k]
	}
	return s
}

func (s set) and(t set) set {
	for k := range s {
		s[k] &= t[k]
	}
	return s
}

func (s set) without(t set) set {
	for k := range s {
		s[k] &^= t[k]
	}
	return s
}

func (s set) count() int {
	n := 0
	for _, w := range s {
		n += bits.OnesCount64(w)
	}
	return n
}

// all goes through the atoms of the set in their order.
func (s set) all() iter.Seq[int] {
	return func(yield func(int) bool) {
		for k, w := range s {
			for ; w != 0; w &= w - 1 {
				if !yield(64*k + bits.TrailingZeros64(w)) {
					return
				}
			}
		}
	}
}

// elements lists the atoms of the set in their order.
func (s set) elements() []int {
	list := make([]int, 0, s.count())
	for k, w := range s {
		for ; w != 0; w &= w - 1 {
			list = append(list, 64*k+bits.TrailingZeros64(w))
		}
	}
	return list
}

// before orders sets of equal worth: the one with the lower atoms first.
func (s set) before(t set) int {
	for k := range s {
		if d := s[k] ^ t[k]; d != 0 {
			if s[k]&(d&-d) != 0 {
				return -1
			}
			return 1
		}
	}
	return 0
}

// partition takes things apart into classes, by one set after the other.
type partition struct {
	class, size  []int // class of a thing, and size of a class
	inside, into []int
	n            int
	touched      []int
}

// newPartition has a class for every different value.
func newPartition(values []float64) *partition {
	n := len(values)
	p := &partition{class: make([]int, n), size: make([]int, n), inside: make([]int, n), into: make([]int, n)}
	at := map[float64]int{}
	for a, x := range values {
		c, known := at[x]
		if !known {
			c = p.n
			at[x] = c
			p.n++
		}
		p.class[a] = c
		p.size[c]++
	}
	return p
}

// split makes what of a class is in the set a class of its own.
func (p *partition) split(s set) {
	p.touched = p.touched[:0]
	for a := range s.all() {
		c := p.class[a]
		if p.inside[c] == 0 {
			p.touched = append(p.touched, c)
		}
		p.inside[c]++
	}
	for _, c := range p.touched {
		if p.into[c] = c; p.inside[c] < p.size[c] {
			p.into[c] = p.n
			p.size[p.n] = p.inside[c]
			p.size[c] -= p.inside[c]
			p.n++
		}
		p.inside[c] = 0
	}
	for a := range s.all() {
		p.class[a] = p.into[p.class[a]]
	}
}
