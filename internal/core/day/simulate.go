package day

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
)

// z90 is the 90 % point of the normal distribution: σ = ln(p90/p50)/z90.
const z90 = 1.2816

// wait says that an operation starts no earlier than another one ends; with heat, than the unit is given free by what
// must follow it in time.
type wait struct{ op, lag int }

// run is the plan as the simulation carries it out.
type run struct {
	*shop
	plan  *plan
	order []int
	waits [][]wait // from ends
	heat  []int    // which operation must be followed in time by this one; −1: none
	lag   []int
	frees [][]int // operations whose unit this one waits for: those that follow them must have begun
}

// simulate carries the plan out with lengths that vary (lognormal), orders per person and unit as planned.
func (s *shop) simulate(out *Output, p *plan, in Input) {
	r := s.run(p, in.Heat != "as_planned")
	n := len(s.ops)
	start, end, length := make([]int, n), make([]int, n), make([]int, n)
	done, onTime, reheats := 0, make([]int, len(s.jobs)), 0
	random := rand.New(rand.NewPCG(in.Seed, 2))
	for range in.Runs {
		for i := range s.ops {
			o := &s.ops[i]
			x := float64(o.length)
			z := random.NormFloat64()
			if o.p90 > o.length && o.length > 0 && !o.fixed {
				x *= math.Exp(math.Log(float64(o.p90)/float64(o.length)) / z90 * z)
			}
			length[i] = int(math.Round(x))
		}
		free := slices.Clone(end)
		for _, i := range r.order {
			o := &s.ops[i]
			if o.fixed {
				start[i], end[i] = o.at, o.at+length[i]
				free[i] = end[i]
				continue
			}
			t := o.earliest
			if o.machine >= 0 {
				t = max(t, s.ready(o))
			}
			if in.Heat == "as_planned" && r.leads(i) {
				t = max(t, p.start[i])
			}
			for _, w := range r.waits[i] {
				t = max(t, end[w.op]+w.lag)
			}
			for _, w := range r.frees[i] {
				t = max(t, free[w]+s.change(o.machine, s.ops[w].tray, o.tray))
			}
			t = s.pause(p.person[i], t)
			if h := r.heat[i]; h >= 0 && t > end[h]+r.lag[i] {
				reheats++ // heated again: the unit stays taken until then
				t = s.pause(p.person[i], t+length[h])
				free[h] = t
			}
			start[i], end[i] = t, t+length[i]
			free[i] = end[i]
		}
		all := true
		for j, list := range s.jobs {
			last := 0
			for _, o := range list {
				last = max(last, end[o])
			}
			all = all && last <= in.Close
			if d := in.Jobs[j].Due; d == nil && last <= in.Close || d != nil && last <= *d {
				onTime[j]++
			}
		}
		if all {
			done++
		}
	}
	out.PDoneByClose = float64(done) / float64(in.Runs)
	out.Reheats = float64(reheats) / float64(in.Runs)
	for j := range s.jobs {
		out.POnTime[in.Jobs[j].ID] = float64(onTime[j]) / float64(in.Runs)
	}
}

// pause is the first time from t at which a person is not in a break.
func (s *shop) pause(person, t int) int {
	if person < 0 {
		return t
	}
	for moved := true; moved; {
		moved = false
		for _, b := range s.in.People[person].Breaks {
			if t >= b.From && t < b.To {
				t, moved = b.To, true
			}
		}
	}
	return t
}

// leads says that something must follow an operation within a time.
func (r *run) leads(i int) bool {
	return slices.ContainsFunc(r.ops[i].before, func(l link) bool { return l.most >= 0 })
}

// run draws up what waits for what; a wait that would close a circle is left out.
func (s *shop) run(p *plan, whenFree bool) *run {
	n := len(s.ops)
	r := &run{shop: s, plan: p, waits: make([][]wait, n), heat: make([]int, n), lag: make([]int, n), frees: make([][]int, n)}
	next := make([][]int, n) // what waits for an operation
	seen := make([]bool, n)
	reaches := func(a, b int) bool {
		clear(seen)
		stack := []int{a}
		for len(stack) > 0 {
			i := stack[len(stack)-1]
			stack = stack[:len(stack)-1]
			if i == b {
				return true
			}
			if !seen[i] {
				seen[i] = true
				stack = append(stack, next[i]...)
			}
		}
		return false
	}
	join := func(a, b int) bool { // b waits for a
		if a == b || reaches(b, a) {
			return false
		}
		next[a] = append(next[a], b)
		return true
	}
	for i := range s.ops {
		r.heat[i] = -1
		for _, l := range s.ops[i].after {
			join(l.op, i)
			r.waits[i] = append(r.waits[i], wait{l.op, l.least})
			if l.most >= 0 {
				r.heat[i], r.lag[i] = l.op, l.most
			}
		}
	}
	by := make([]int, n)
	for i := range by {
		by[i] = i
	}
	slices.SortStableFunc(by, func(a, b int) int {
		return cmp.Or(cmp.Compare(p.start[a], p.start[b]), cmp.Compare(p.start[a]+s.ops[a].length, p.start[b]+s.ops[b].length))
	})
	before := make([]int, n) // on the same person
	last, unit := map[int]int{}, map[[2]int]int{}
	for _, i := range by {
		before[i] = -1
		if q := p.person[i]; q >= 0 {
			if o, known := last[q]; known {
				if before[i] = o; join(o, i) {
					r.waits[i] = append(r.waits[i], wait{o, 0})
				}
			}
			last[q] = i
		}
		if u := p.unit[i]; u >= 0 {
			key := [2]int{s.ops[i].machine, u}
			if o, known := unit[key]; known && join(o, i) {
				r.frees[i] = append(r.frees[i], o)
			}
			unit[key] = i
		}
	}
	for i := range s.ops {
		for _, o := range r.frees[i] { // the unit stays taken until what must follow has begun
			for _, l := range s.ops[o].before {
				if l.most >= 0 {
					join(l.op, i)
				}
			}
		}
		if h := r.heat[i]; whenFree && h >= 0 && before[i] >= 0 && join(before[i], h) {
			r.waits[h] = append(r.waits[h], wait{before[i], 0})
		}
	}
	r.benches(join)
	waits := make([]int, n)
	for i := range next {
		for _, k := range next[i] {
			waits[k]++
		}
	}
	left := slices.Clone(by)
	for len(left) > 0 {
		k := slices.IndexFunc(left, func(i int) bool { return waits[i] == 0 })
		i := left[k]
		left = slices.Delete(left, k, k+1)
		r.order = append(r.order, i)
		for _, o := range next[i] {
			waits[o]--
		}
	}
	return r
}

// benches lets a job wait for the one that leaves its bench.
func (r *run) benches(join func(a, b int) bool) {
	if r.in.Benches == 0 {
		return
	}
	type span struct{ job, from, to int }
	var spans []span
	for j, list := range r.jobs {
		s := span{j, far, 0}
		for _, o := range list {
			s.from, s.to = min(s.from, r.plan.start[o]), max(s.to, r.plan.start[o]+r.ops[o].length)
		}
		spans = append(spans, s)
	}
	slices.SortStableFunc(spans, func(a, b span) int { return cmp.Compare(a.from, b.from) })
	var bench []span
	for _, s := range spans {
		if len(bench) < r.in.Benches {
			bench = append(bench, s)
			continue
		}
		k := 0
		for i := range bench {
			if bench[i].to < bench[k].to {
				k = i
			}
		}
		for _, a := range r.jobs[bench[k].job] {
			for _, b := range r.jobs[s.job] {
				if join(a, b) {
					r.waits[b] = append(r.waits[b], wait{a, 0})
				}
			}
		}
		bench[k] = s
	}
}
