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
