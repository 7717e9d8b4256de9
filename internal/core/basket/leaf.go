package basket

import "slices"

// leaf is a branch that is still to be searched.
type leaf struct {
	lo, hi      []float64 // of x and of the sellers' slacks
	bound       float64
	rows, basic []int // the basis above it
	tight       map[int]bool
}

// cut adds the best cuts of the present point; false when there are none.
func (t *tree) cut(most int, kinds ...func(w *adder) []cut) bool {
	l := t.l
	l.aim()
	found := make([][]cut, len(kinds))
	for len(l.adders) < len(kinds) {
		l.adders = append(l.adders, &adder{l: l})
	}
	each(len(kinds), func(k int) { found[k] = kinds[k](l.adders[k]) })
	longest := 0.0
	for _, w := range l.adders { // they run side by side
		longest = max(longest, w.effort)
		w.effort = 0
	}
	*l.effort -= longest
	cuts := spread(slices.Concat(found...), most)
	for _, c := range cuts {
		l.add(c.row)
	}
	return len(cuts) > 0
}

// bound solves the relaxation of a leaf and closes what its bound allows; beaten when no better basket is in it.
func (t *tree) bound(at *leaf) status {
	l, s := t.l, t.s
	if st := t.solve(); st != optimal {
		return st
	}
	z, _ := l.safe()
	if at.bound = max(at.bound, z); at.bound >= s.upper-penny {
		return beaten
	}
	t.fix(at.lo, at.hi)
	copy(l.lo, at.lo)
	copy(l.hi, at.hi)
	l.sleep(t.sellers)
	return optimal
}

type leaves []*leaf

func (h leaves) Len() int           { return len(h) }
func (h leaves) Less(i, j int) bool { return h[i].bound < h[j].bound }
func (h leaves) Swap(i, j int)      { h[i], h[j] = h[j], h[i] }
func (h *leaves) Push(x any)        { *h = append(*h, x.(*leaf)) }
func (h *leaves) Pop() any          { x := (*h)[len(*h)-1]; *h = (*h)[:len(*h)-1]; return x }

func (a *leaf) copy() *leaf {
	return &leaf{lo: slices.Clone(a.lo), hi: slices.Clone(a.hi), bound: a.bound}
}
