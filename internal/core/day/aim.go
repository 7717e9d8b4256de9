package day

import (
	"cmp"
	"context"
	"slices"
)

// Short is a job that is in time less often than wanted; job "": all of them by closing time.
type Short struct {
	Job string  `json:"job"`
	P   float64 `json:"p"`
}

// Traded is what a plan that keeps promises costs against the one that looks at the usual times only.
type Traded struct {
	Makespan int      `json:"makespan" doc:"seconds that the day ends later"`
	Kept     []string `json:"kept" nullable:"false" doc:"jobs that are in time as often as wanted because of it"`
}

const (
	alike      = 0.01 // shortfalls that differ by less are equal
	drawsFew   = 500  // of the day, while single operations are moved
	mostMoves  = 600  // of single operations; fewer where there are many, since each is worked out anew
	leastMoves = 20
	moveEffort = 200_000
)

// judged is a plan with what it is worth when operations take longer than usual.
type judged struct {
	plan  *plan
	value Value
	short float64
	out   Output // only the chances
}

// better says whether a plan serves more: less late at the usual times, then less short of the level, then an earlier
// end.
func (a judged) better(b judged) bool {
	switch d := a.value.WeightedTardiness - b.value.WeightedTardiness; {
	case d < -1e-9:
		return true
	case d > 1e-9:
		return false
	case a.short < b.short-alike:
		return true
	case a.short > b.short+alike:
		return false
	}
	return a.value.Makespan < b.value.Makespan
}

// judge carries a plan out with the same draws as every other.
func (s *shop) judge(p *plan, in Input, level float64) judged {
	j := judged{plan: p, value: s.value(p.start), out: Output{POnTime: map[string]float64{}}}
	s.simulate(&j.out, p, in)
	for k := range s.jobs {
		j.short += s.weight(k) * max(0, level-j.out.POnTime[in.Jobs[k].ID])
	}
	j.short += max(0, level-j.out.PDoneByClose)
	return j
}

// serve looks for the plan that is no later at the usual times and keeps more of its promises: plans for earlier due
// times, by how long each job may take longer than usual, then single operations moved. base is the plan that looks
// at the usual times only.
func (s *shop) serve(ctx context.Context, in Input, base *plan, level float64) (best, first judged) {
	first = s.judge(base, in, level)
	best = first
	if len(in.Keep) > 0 {
		if p := s.generate(s.kept()); p != nil {
			if k := s.judge(p, in, level); !best.better(k) { // the order of before stays where it is as good
				best = k
			}
		}
	}
	weigh := func(p *plan, in Input) {
		if p == nil || s.value(p.start).WeightedTardiness > first.value.WeightedTardiness+1e-9 {
			return
		}
		if j := s.judge(p, in, level); j.better(best) {
			best = j
		}
	}
	for _, lambda := range []float64{0.5, 1, 1.5, 2, 3} {
		if ctx.Err() != nil || best.short == 0 {
			break
		}
		weigh(s.earlier(ctx, in, lambda), in)
	}
	s.move(ctx, in, level, &best)
	return best, first
}

// earlier is the plan for due times that leave room for what takes longer; nil where none is found.
func (s *shop) earlier(ctx context.Context, in Input, lambda float64) *plan {
	tight := in
	tight.Jobs = slices.Clone(in.Jobs)
	for k := range tight.Jobs {
		room := 0.0
		for _, i := range s.jobs[k] {
			if o := &s.ops[i]; !o.fixed {
				room += float64(max(0, o.p90-o.length))
			}
		}
		due := in.Close
		if d := in.Jobs[k].Due; d != nil {
			due = *d
		}
		due -= int(lambda*room + .5)
		tight.Jobs[k].Due = &due
	}
	t := *s
	t.in = &tight
	x := &exact{shop: &t, effort: in.Effort / 4, ctx: ctx}
	if x.best = t.heuristic(ctx, in.Seed); x.best != nil {
		x.upper = t.value(x.best.start)
	}
	if x.solve() != nil {
		return nil
	}
	return x.best
}

// move takes single operations out of the order of starts and puts them in elsewhere, while that serves more.
func (s *shop) move(ctx context.Context, in Input, level float64, best *judged) {
	few := in
	few.Runs = min(in.Runs, drawsFew)
	now := s.judge(best.plan, few, level)
	moves := min(mostMoves, max(leastMoves, moveEffort/max(1, len(s.ops)*len(s.ops))))
	for moved := true; moved && moves > 0 && now.short > 0 && ctx.Err() == nil; {
		moved = false
		order := make([]int, len(s.ops))
		for i := range order {
			order[i] = i
		}
		slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(now.plan.start[a], now.plan.start[b]) })
		for i := range order {
			if s.ops[order[i]].fixed {
				continue
			}
			for k := range order {
				if k == i || moves == 0 || ctx.Err() != nil {
					continue
				}
				moves--
				list := slices.Clone(order)
				x := list[i]
				list = slices.Insert(slices.Delete(list, i, i+1), k, x)
				p := s.generate(list)
				if p == nil || s.value(p.start).WeightedTardiness > now.value.WeightedTardiness+1e-9 {
					continue
				}
				if j := s.judge(p, few, level); j.better(now) {
					now, moved = j, true
				}
			}
		}
	}
	if whole := s.judge(now.plan, in, level); whole.better(*best) {
		*best = whole
	}
}

// told says what is below the level, and what keeping promises costs.
func (in *Input) told(out *Output, best, first judged, level float64) {
	out.Service, out.Shortfall = level, []Short{}
	kept := []string{}
	for _, j := range in.Jobs {
		p, before := best.out.POnTime[j.ID], first.out.POnTime[j.ID]
		if p < level {
			out.Shortfall = append(out.Shortfall, Short{j.ID, p})
		} else if before < level {
			kept = append(kept, j.ID)
		}
	}
	if p := best.out.PDoneByClose; p < level {
		out.Shortfall = append(out.Shortfall, Short{"", p})
	}
	if later := best.value.Makespan - first.value.Makespan; later != 0 || len(kept) > 0 {
		out.Traded = &Traded{later, kept}
	}
}
