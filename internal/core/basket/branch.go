package basket

import (
	"container/heap"
	"math"
	"slices"
)

// tree is the exact search: the linear relaxation over packs by the mode of their seller's invoice, cuts at the root,
// then branches, sellers before modes before packs.
type tree struct {
	s       *search
	l       *programme
	sellers int   // the first rows are one a seller: at most one mode
	rows    int   // that are no cuts or links
	pack    []int // offer of a variable, -1 for a mode
	mode    []int // variable of the mode of a pack
	kept    programme
	most    []float64 // of a pack, as the root left it
	linked  []bool    // packs whose link to their mode is a row
	gains   [2][]gain // down, up
}

// gain is what branching on a variable has raised the bound by, for each whole step.
type gain struct {
	sum float64
	n   int
}

const (
	candidates = 12
	trySteps   = 25
	rootCuts   = 60
	nodeCuts   = 10
	mostSteps  = 20_000
	whole      = 0.01 // of a minor unit: how far eased cuts may be from the basket they describe
	sure       = 3    // so many tries of a variable and its record is believed
)

// newTree writes what the root left open as a programme.
func newTree(s *search, n *node) *tree {
	p := s.p
	t := &tree{s: s, sellers: len(p.sellers)}
	l := &programme{effort: &s.effort, ctx: s.ctx}
	t.l = l
	add := func(cost, hi float64, pack, mode int) int {
		l.cost, l.lo, l.hi = append(l.cost, cost), append(l.lo, 0), append(l.hi, hi)
		t.pack, t.mode = append(t.pack, pack), append(t.mode, mode)
		return len(l.cost) - 1
	}
	fill := make([]row, len(p.need))
	one := make([]row, len(p.sellers))
	var from []row
	for j := range p.sellers {
		own := &p.sellers[j]
		one[j] = row{b: 1, whole: true}
		for k, m := range own.modes {
			if n.modes[j]>>(k+1)&1 == 0 {
				continue
			}
			y := add(m.ship-m.fixed, 1, -1, 0)
			one[j].at, one[j].a = append(one[j].at, y), append(one[j].a, 1)
			least := row{}
			if m.from > 0 {
				least.at, least.a = []int{y}, []float64{1}
			}
			for _, i := range own.offers {
				o := &p.offers[i]
				if n.high[i] == 0 {
					continue
				}
				x := add(o.price*(1-m.percent)+o.extra, float64(n.high[i]), i, y)
				for _, c := range o.covers {
					fill[c.slot].at, fill[c.slot].a = append(fill[c.slot].at, x), append(fill[c.slot].a, -float64(c.n))
				}
				if m.from > 0 && o.price > 0 {
					least.at, least.a = append(least.at, x), append(least.a, -min(o.price, m.from)/m.from)
				}
			}
			if m.from > 0 {
				from = append(from, least)
			}
		}
	}
	for k := range fill {
		fill[k].b, fill[k].whole = -float64(p.need[k]), true
	}
	l.rows = slices.Concat(one, fill, from)
	t.rows = len(l.rows)
	for i := range l.rows {
		l.lo, l.hi = append(l.lo, 0), append(l.hi, l.most(l.rows[i]))
		if i < t.sellers {
			l.hi[len(l.hi)-1] = 1
		}
	}
	for j := range p.sellers {
		if n.modes[j]&1 == 0 {
			l.hi[len(l.cost)+j] = 0
		}
	}
	t.linked = make([]bool, len(l.cost))
	t.most = slices.Clone(l.hi[:len(l.cost)])
	l.x = make([]float64, len(l.cost)+len(l.rows))
	l.where = make([]int, len(l.x))
	l.start(l.columns(), l.first(len(l.rows)), nil, nil)
	t.gains = [2][]gain{make([]gain, len(l.cost)+t.sellers), make([]gain, len(l.cost)+t.sellers)}
	return t
}

func (l *programme) first(n int) []int {
	list := make([]int, n)
	for i := range list {
		list[i] = i
	}
	return list
}

// solve runs the relaxation with the links of packs to modes that it violates; those are few, so they come late.
func (t *tree) solve() status {
	l := t.l
	for {
		st := l.run(t.s.upper-penny, mostSteps)
		if (st == optimal || st == empty) && l.drift() > feasible {
			l.rebuild()
			st = l.run(t.s.upper-penny, mostSteps)
		}
		if st != optimal {
			return st
		}
		added := false
		for v, y := range t.mode {
			if t.pack[v] < 0 || l.x[v] == 0 {
				continue
			}
			if most := t.most[v]; !t.linked[v] && l.x[v] > most*l.x[y]+1e-6 {
				l.add(row{at: []int{v, y}, a: []float64{1, -most}, whole: true})
				t.linked[v], added = true, true
			}
		}
		if !l.missed() && !added {
			return optimal
		}
	}
}

// basket is the packs of the present point, rounded.
func (t *tree) basket(by float64) []int {
	sum := make([]float64, len(t.s.p.offers))
	for v, i := range t.pack {
		if i >= 0 {
			sum[i] += t.l.x[v]
		}
	}
	x := make([]int, len(sum))
	for i, v := range sum {
		x[i] = min(int(math.Floor(v+by)), t.s.p.offers[i].most)
	}
	return x
}

// root solves the first relaxation with rounds of cuts, fixing by reduced cost in between; false when nothing is left
// to search.
func (t *tree) root() bool {
	l, s := t.l, t.s
	last, slow := math.Inf(-1), 0
	for round := 0; ; round++ {
		switch t.solve() {
		case beaten, empty:
			return false
		case stopped:
			return true
		}
		s.repair(t.basket(0.5))
		s.repair(t.basket(0.25))
		if z, _ := l.safe(); z >= s.upper-penny {
			return false
		}
		t.fix(l.lo, l.hi)
		l.shrink()
		z := l.value()
		if round > 0 && round%4 == 0 {
			l.sleep(t.sellers)
		}
		if z-last < 0.04*(s.upper-z) {
			slow++
		}
		if round >= 30 || slow > 2 {
			return true
		}
		last = z
		l.widen()
		if !t.cut(rootCuts, l.halves, l.chains, l.cuts) {
			return true
		}
	}
}

// fix closes what no better basket holds: bounds that the reduced costs of the present optimum allow.
func (t *tree) fix(lo, hi []float64) {
	l := t.l
	z, d := l.safe()
	room := t.s.upper - penny - z
	for v := range len(l.cost) + t.sellers {
		if hi[v] <= lo[v] || d[v] == 0 {
			continue
		}
		if steps := math.Floor(room/math.Abs(d[v]) + 1e-9); steps < hi[v]-lo[v] {
			if d[v] > 0 {
				hi[v] = lo[v] + steps
			} else {
				lo[v] = hi[v] - steps
			}
		}
	}
}

// search goes through the tree, depth first, the likelier branch first.
func (t *tree) search() {
	l, s := t.l, t.s
	n := len(l.cost) + t.sellers
	z, _ := l.safe()
	s.floor = max(s.floor, z)
	l.sleep(t.sellers)
	l.forget(t.rows)
	if len(l.all.lo) == 0 { // no cut was made at the root
		l.widen()
	}
	l.byRows = 0
	dear := func() float64 { return s.dear * (s.upper - l.value()) }
	l.rest(dear())
	few := len(l.out)
	next := &leaf{lo: slices.Clone(l.lo[:n]), hi: slices.Clone(l.hi[:n]), bound: s.floor}
	var rest leaves
	for nodes := 0; ; nodes++ {
		if next == nil { // the branch has ended: on from where the bound is least
			if len(rest) == 0 {
				break
			}
			next = heap.Pop(&rest).(*leaf)
		}
		at := next
		jump := at.basic != nil
		next = nil
		if at.bound >= s.upper-penny {
			continue
		}
		if s.effort <= 0 {
			s.open = min(s.open, at.bound)
			continue
		}
		copy(l.lo, at.lo)
		copy(l.hi, at.hi)
		if jump {
			l.start(l.awake(at.basic), append(l.first(t.sellers), at.rows...), at.basic, at.tight)
		} // else only what is basic was bounded anew
		st := t.bound(at)
		if st == optimal && t.cut(nodeCuts, l.halves, l.chains) {
			st = t.bound(at)
		}
		if st == stopped {
			s.open = min(s.open, at.bound)
		}
		if st != optimal {
			continue
		}
		if l.shrink(); len(l.out) > 3*few/2 {
			l.rest(dear())
			few = max(few, len(l.out))
		}
		s.repair(t.basket([...]float64{0.5, 0.2, 0.3, 0.4}[nodes%4]))
		v := t.choose(at)
		if v < 0 {
			if s.take(t.basket(0.5)); at.bound < s.upper-whole { // the point says more than its multipliers prove
				s.open = min(s.open, at.bound)
			}
			continue
		}
		x := l.x[v]
		down, up := at.copy(), at.copy()
		down.hi[v], up.lo[v] = math.Floor(x), math.Floor(x)+1
		if t.guess(0, v, x) > t.guess(1, v, x) {
			down, up = up, down
		}
		rows, basic, tight := l.basis()
		up.rows, up.basic, up.tight = slices.DeleteFunc(rows, func(id int) bool { return id < t.sellers }), basic, tight
		heap.Push(&rest, up)
		next = down
	}
}
