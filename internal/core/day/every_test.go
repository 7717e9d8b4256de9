package day

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// small is a random day of a few short operations with everything in it.
func small(r *rand.Rand) Input {
	in := Input{Close: 40, Benches: r.IntN(3), Runs: 5, People: []Person{{ID: "ann", Skills: []string{"glass"}}},
		Machines: []Machine{{ID: "plate"}, {ID: "press", WarmUp: r.IntN(3), TrayChange: 1 + r.IntN(2), Tray: "a"}}}
	if r.IntN(2) == 0 {
		in.People = append(in.People, Person{ID: "bo"})
	}
	if r.IntN(2) == 0 {
		in.People[0].Breaks = []Break{{2 + r.IntN(3), 6}}
	}
	for j := range 2 + r.IntN(2) {
		due, weight := 2+r.IntN(8), float64(1+r.IntN(3))
		job := Job{ID: fmt.Sprint("j", j), Release: r.IntN(3), Due: &due, Weight: &weight}
		for k := range 1 + r.IntN(2) {
			o := Op{ID: fmt.Sprint("o", k), P50: 1 + r.IntN(3)}
			switch r.IntN(5) {
			case 0:
				o.Machine = "plate"
			case 1:
				o.Machine, o.Tray = "press", []string{"", "a", "b"}[r.IntN(3)]
			case 2:
				o.Hands, o.Skill = 1, "glass"
			case 3:
				o.Hands, o.Machine = 1, "plate"
			default:
				o.Hands = 1
			}
			if k > 0 && r.IntN(4) > 0 {
				a := After{Op: fmt.Sprint("o", r.IntN(k)), MinLag: r.IntN(2)}
				if r.IntN(2) == 0 {
					most := a.MinLag + r.IntN(2)
					a.MaxLag = &most
				}
				o.After = []After{a}
			}
			job.Ops = append(job.Ops, o)
		}
		in.Jobs = append(in.Jobs, job)
	}
	return in
}

// clash says what is wrong between two steps of a plan, or of one with the day; it shares nothing with the solver.
func clash(in *Input, list []Step) string {
	ops, jobs := map[string]Op{}, map[string]Job{}
	for _, j := range in.Jobs {
		jobs[j.ID] = j
		for _, o := range j.Ops {
			ops[j.ID+"/"+o.ID] = o
		}
	}
	apart := func(a, b Step, gap int) bool { return a.End+gap <= b.Start || b.End+gap <= a.Start }
	spans := map[string][2]int{}
	for i, s := range list {
		o := ops[s.Job+"/"+s.Op]
		if s.Start < jobs[s.Job].Release || s.Start < in.Now || s.End-s.Start != o.P50 {
			return s.Op + " too early or of another length"
		}
		if v, known := spans[s.Job]; known {
			spans[s.Job] = [2]int{min(v[0], s.Start), max(v[1], s.End)}
		} else {
			spans[s.Job] = [2]int{s.Start, s.End}
		}
		for _, p := range in.People {
			if p.ID != s.Person {
				continue
			}
			if o.Skill != "" && !slices.Contains(p.Skills, o.Skill) {
				return s.Op + " by someone without the skill"
			}
			for _, b := range p.Breaks {
				if s.Start < b.To && b.From < s.End {
					return s.Op + " in a break"
				}
			}
		}
		for _, m := range in.Machines {
			if m.ID == s.Machine {
				ready := m.WarmUp
				if o.Tray != "" && o.Tray != m.Tray {
					ready += m.TrayChange
				}
				if s.Start < ready {
					return s.Op + " before the machine is ready"
				}
			}
		}
		for _, t := range list[:i] {
			q := ops[t.Job+"/"+t.Op]
			if s.Person != "" && s.Person == t.Person && !apart(s, t, 0) {
				return s.Op + " and " + t.Op + " by one person"
			}
			gap := 0
			if s.Machine == "press" && o.Tray != "" && q.Tray != "" && o.Tray != q.Tray {
				gap = in.Machines[1].TrayChange
			}
			if s.Machine != "" && s.Machine == t.Machine && !apart(s, t, gap) {
				return s.Op + " and " + t.Op + " on one machine"
			}
			if s.Job != t.Job {
				continue
			}
			for _, pair := range [][2]Step{{s, t}, {t, s}} {
				for _, a := range ops[pair[1].Job+"/"+pair[1].Op].After {
					if wait := pair[1].Start - pair[0].End; a.Op == pair[0].Op &&
						(wait < a.MinLag || a.MaxLag != nil && wait > *a.MaxLag) {
						return pair[1].Op + " does not wait as it must"
					}
				}
			}
		}
	}
	if in.Benches > 0 && len(list) == len(ops) {
		for _, s := range spans {
			open := 0
			for _, o := range spans {
				if o[0] <= s[0] && s[0] < o[1] {
					open++
				}
			}
			if open > in.Benches {
				return "more jobs open than benches"
			}
		}
	}
	return ""
}

// best tries every start and person.
func best(in *Input, horizon int) (value Value, found bool) {
	type one struct {
		job Job
		op  Op
	}
	var ops []one
	for _, j := range in.Jobs {
		for _, o := range j.Ops {
			ops = append(ops, one{j, o})
		}
	}
	value = Value{math.Inf(1), horizon}
	judge := func(list []Step) (v Value) {
		end := map[string]int{}
		for _, s := range list {
			end[s.Job] = max(end[s.Job], s.End)
			v.Makespan = max(v.Makespan, s.End)
		}
		for _, j := range in.Jobs {
			v.WeightedTardiness += *j.Weight * float64(max(0, end[j.ID]-*j.Due))
		}
		return v
	}
	var list []Step
	var try func(k int)
	try = func(k int) {
		if v := judge(list); found && !v.less(value) {
			return
		}
		if k == len(ops) {
			value, found = judge(list), true
			return
		}
		o := ops[k]
		who := []string{""}
		if o.op.Hands > 0 {
			who = who[:0]
			for _, p := range in.People {
				who = append(who, p.ID)
			}
		}
		for t := o.job.Release; t+o.op.P50 <= horizon; t++ {
			for _, w := range who {
				list = append(list, Step{Job: o.job.ID, Op: o.op.ID, Start: t, End: t + o.op.P50, Person: w, Machine: o.op.Machine})
				if clash(in, list) == "" {
					try(k + 1)
				}
				list = list[:len(list)-1]
			}
		}
	}
	try(0)
	return value, found
}

// Every plan of small days, one by one, by code that shares nothing with the solver.
func TestAgainstEveryPlan(t *testing.T) {
	late, none := 0, 0
	for seed := range uint64(150) {
		in := small(rand.New(rand.NewPCG(seed, 4)))
		out, err := Solve(in)
		want, found := best(&in, max(13, out.Makespan))
		if err != nil {
			if found {
				t.Errorf("seed %d: %v, but there is %v", seed, err, want)
			}
			none++
			continue
		}
		if c := clash(&in, out.Plan); c != "" {
			t.Errorf("seed %d: %s in %+v", seed, c, out.Plan)
		}
		if found && (out.Value != want || !out.Proven || out.Bound != want) {
			t.Errorf("seed %d: %+v, proven %v, bound %v; the best of all is %+v", seed, out.Value, out.Proven, out.Bound, want)
		}
		if want.WeightedTardiness > 0 {
			late++
		}
	}
	if late < 30 || none > 15 {
		t.Errorf("%d of the days are late, %d have no plan: they show little", late, none)
	}
}
