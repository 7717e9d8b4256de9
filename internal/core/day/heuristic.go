package day

import (
	"cmp"
	"context"
	"math/rand/v2"
	"slices"
)

// heuristic is the best of the last plan's order, of five rules, by jobs and by operations, and of random moves of the
// priorities.
func (s *shop) heuristic(ctx context.Context, seed uint64) *plan {
	n := len(s.ops)
	tail := make([]int, n) // the longest way to the end of the job
	for range n {
		for i := range s.ops {
			tail[i] = max(tail[i], s.ops[i].length)
			for _, l := range s.ops[i].before {
				tail[i] = max(tail[i], s.ops[i].length+l.least+tail[l.op])
			}
		}
	}
	due := func(i int) float64 {
		if d := s.in.Jobs[s.ops[i].job].Due; d != nil {
			return float64(*d)
		}
		return 10 * longest
	}
	rules := []func(i int) float64{
		due,
		func(i int) float64 { return due(i) - float64(tail[i]) },
		func(i int) float64 { return due(i) / (0.1 + s.weight(s.ops[i].job)) },
		func(i int) float64 { return float64(-tail[i]) },
		func(i int) float64 { return float64(s.ops[i].earliest) },
	}
	var best *plan
	var value Value
	var order []int
	weigh := func(list []int, keep bool) bool {
		p := s.generate(list)
		if p == nil {
			return false
		}
		v := s.value(p.start)
		if best == nil || v.less(value) || keep && v == value {
			if best == nil || v.less(value) {
				best = p
			}
			value, order = v, list
			return true
		}
		return false
	}
	if len(s.in.Keep) > 0 {
		weigh(s.kept(), false)
	}
	for _, rule := range rules {
		for _, byJob := range []bool{true, false} {
			list := make([]int, n)
			for i := range list {
				list[i] = i
			}
			slices.SortStableFunc(list, func(a, b int) int {
				x, y := a, b
				if byJob {
					x, y = s.jobs[s.ops[a].job][0], s.jobs[s.ops[b].job][0]
				}
				return cmp.Compare(rule(x), rule(y))
			})
			weigh(list, false)
		}
	}
	if order == nil {
		order = make([]int, n)
		for i := range order {
			order[i] = i
		}
	}
	moves := 1500
	if n > 60 {
		moves = 1000
	}
	r := rand.New(rand.NewPCG(seed, 1))
	for range moves {
		if n < 2 || ctx.Err() != nil || best != nil && value == s.floor() {
			break
		}
		list := slices.Clone(order)
		i, k := r.IntN(n), r.IntN(n)
		x := list[i]
		list = slices.Insert(slices.Delete(list, i, i+1), k, x)
		weigh(list, true)
	}
	return best
}

// kept are all operations, those of the last plan first and in its order.
func (s *shop) kept() []int {
	list := []int{}
	for _, name := range s.in.Keep {
		if i := slices.Index(s.names, name); i >= 0 && !slices.Contains(list, i) {
			list = append(list, i)
		}
	}
	for i := range s.ops {
		if !slices.Contains(list, i) {
			list = append(list, i)
		}
	}
	return list
}

// floor is the value with more than enough of everything.
func (s *shop) floor() Value {
	start, _ := s.earliest()
	if start == nil {
		return Value{}
	}
	return s.value(start)
}
