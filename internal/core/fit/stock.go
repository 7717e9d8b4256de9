package fit

import (
	"cmp"
	"math"
	"math/bits"
	"slices"
)

// stocker chooses lines: which of those that can be had serve which hosts with demand.
type stocker struct {
	*world
	serves func(d, h int) float64
	hosts  []int // with demand
	price  []float64
	order  []int // lines with a price, by id
}

func newStocker(w *world, serves func(d, h int) float64) *stocker {
	s := &stocker{world: w, serves: serves}
	for h := range w.in.Models {
		if w.demand(h) > 0 {
			s.hosts = append(s.hosts, h)
		}
	}
	s.price = make([]float64, len(w.in.Models)+len(w.in.Copies))
	for d := range s.price {
		p := w.cost(d)
		if p == nil {
			s.price[d] = math.NaN()
			continue
		}
		s.price[d] = *p
		s.order = append(s.order, d)
	}
	slices.SortFunc(s.order, func(a, b int) int { return cmp.Compare(w.line(a), w.line(b)) })
	return s
}

func (w *world) demand(h int) float64 {
	if d := w.in.Models[h].Demand; d != nil {
		return *d
	}
	return 1
}

func (w *world) cost(d int) *float64 {
	if n := len(w.in.Models); d >= n {
		return w.in.Copies[d-n].Price
	}
	return w.in.Models[d].Price
}

// covers says which of the hosts each line may serve, by bit, in the order of order.
func (s *stocker) covers(serves func(d, h int) float64) []set {
	list := make([]set, len(s.order))
	for i, d := range s.order {
		for k, h := range s.hosts {
			if serves(d, h) >= s.in.Confidence-whisker {
				list[i] |= 1 << k
			}
		}
	}
	return list
}

// least is the smallest number of sets that cover as much as all of them together, and what stays uncovered of all.
func least(covers []set) (sets int, union set) {
	for _, c := range covers {
		union |= c
	}
	need := fewestSets(covers, union)
	return need[union], union
}

// fewestSets is, for every part of union, the smallest number of sets that cover it.
func fewestSets(covers []set, union set) []int {
	need := make([]int, int(union)+1)
	for m := 1; m <= int(union); m++ {
		need[m] = math.MaxInt16
		if set(m)&^union != 0 {
			continue
		}
		first := set(m) & -set(m) // some set must cover it
		for _, c := range covers {
			if c&first != 0 {
				need[m] = min(need[m], 1+need[set(m)&^c])
			}
		}
	}
	return need
}

// fewest leaves as few hosts unserved as can be, with as few lines, at the least cost; of equal ones the smallest ids.
func (s *stocker) fewest(tested func(d, h int) bool) Stock {
	covers := s.covers(s.serves)
	var union set
	for _, c := range covers {
		union |= c
	}
	need := fewestSets(covers, union)
	var best, now []int
	bestCost := math.Inf(1)
	var walk func(from int, left set)
	walk = func(from int, left set) {
		if left == 0 {
			if cost := s.total(now); cost < bestCost-1e-9 {
				best, bestCost = slices.Clone(now), cost
			}
			return
		}
		if len(now)+need[left] > need[union] {
			return
		}
		for i := from; i < len(s.order); i++ {
			if covers[i]&left == 0 {
				continue // it takes a place that the fewest do not have
			}
			now = append(now, i)
			walk(i+1, left&^covers[i])
			now = now[:len(now)-1]
		}
	}
	walk(0, union)
	return s.stock(best, union, tested)
}

// by is the chosen line that a host takes: the cheapest, then the surer, then by id; −1 for none. chosen are places in
// order.
func (s *stocker) by(chosen []int, h int) int {
	best := -1
	for _, i := range chosen {
		d := s.order[i]
		if s.serves(d, h) < s.in.Confidence-whisker {
			continue
		}
		if best < 0 || s.price[d] < s.price[best] || s.price[d] == s.price[best] && s.serves(d, h) > s.serves(best, h) {
			best = d
		}
	}
	return best
}

func (s *stocker) total(chosen []int) float64 {
	sum := 0.0
	for _, h := range s.hosts {
		if d := s.by(chosen, h); d >= 0 {
			sum += s.demand(h) * s.price[d]
		}
	}
	return sum
}

func (s *stocker) stock(chosen []int, union set, tested func(d, h int) bool) Stock {
	out := Stock{Lines: []string{}, Serves: map[string]string{}, Unserved: []string{}, Untested: []string{}, All: 1}
	for _, i := range chosen {
		out.Lines = append(out.Lines, s.line(s.order[i]))
	}
	slices.Sort(out.Lines)
	given := map[int]int{} // host to line
	for k, h := range s.hosts {
		id := s.in.Models[h].ID
		d := s.by(chosen, h)
		if union>>k&1 == 0 || d < 0 {
			out.Unserved = append(out.Unserved, id)
			continue
		}
		given[h] = d
		out.Serves[id] = s.line(d)
		out.Cost += s.demand(h) * s.price[d]
		if d != h && !tested(d, h) {
			out.Untested = append(out.Untested, id)
		}
		if n := len(s.in.Models); d >= n {
			out.All *= s.copies[d-n][h].serve
		}
	}
	slices.Sort(out.Unserved)
	slices.Sort(out.Untested)
	out.All *= s.joint(func(class set, h int) bool {
		d, has := given[h]
		return has && d != h && d < len(s.in.Models) && class>>d&1 == 1
	})
	out.All = min(1, out.All)
	return out
}

// naive is each model's own piece.
func (s *stocker) naive() Stock {
	out := Stock{Lines: []string{}, Serves: map[string]string{}, Unserved: []string{}, Untested: []string{}, All: 1}
	for _, h := range s.hosts {
		id := s.in.Models[h].ID
		if math.IsNaN(s.price[h]) {
			out.Unserved = append(out.Unserved, id)
			continue
		}
		out.Lines = append(out.Lines, id)
		out.Serves[id] = id
		out.Cost += s.demand(h) * s.price[h]
	}
	slices.Sort(out.Lines)
	slices.Sort(out.Unserved)
	return out
}

// shortage is how many lines are enough and how many hosts stay unserved, together.
func (s *stocker) shortage(serves func(d, h int) float64) float64 {
	sets, union := least(s.covers(serves))
	return float64(sets + len(s.hosts) - bits.OnesCount16(union))
}
