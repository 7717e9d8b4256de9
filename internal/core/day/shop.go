package day

import (
	"cmp"
	"slices"
)

// op is an operation by index; fixed ones stand where they are.
type op struct {
	job, length, p90 int
	machine          int // −1: none
	hands            bool
	people           []int // who can do it
	tray             string
	fixed            bool
	at, by           int // start and person of a fixed one; by −1: anyone
	after            []link
	before           []link // the other way round
	earliest         int
}

// link is an operation that comes first (or next), with the wait in between; most −1: any.
type link struct{ op, least, most int }

// shop is the day in numbers.
type shop struct {
	in       *Input
	ops      []op
	names    []string // job/op
	jobs     [][]int
	units    []int
	machines []Machine
}

func (in *Input) shop(out *Output) (*shop, error) {
	s := &shop{in: in, machines: in.Machines}
	machine := map[string]int{"": -1}
	for k, m := range in.Machines {
		machine[m.ID] = k
		units := 1
		if m.Units != nil {
			units = *m.Units
		}
		s.units = append(s.units, units)
	}
	for j, job := range in.Jobs {
		at := map[string]int{}
		var list []int
		for _, o := range job.Ops {
			at[o.ID] = len(s.ops)
			list = append(list, len(s.ops))
			q := op{job: j, length: o.P50, p90: o.P50, machine: machine[o.Machine], hands: o.Hands > 0, tray: o.Tray, by: -1,
				earliest: max(in.Now, job.Release)}
			if o.P90 != nil {
				q.p90 = *o.P90
			}
			for k, p := range in.People {
				if q.hands && (o.Skill == "" || slices.Contains(p.Skills, o.Skill)) && (o.Person == "" || o.Person == p.ID) {
					q.people = append(q.people, k)
				}
			}
			if o.Started != nil {
				q.fixed, q.at, q.earliest = true, *o.Started, *o.Started
				if q.length = max(o.P50, in.Now-*o.Started); o.Ended != nil {
					q.length = *o.Ended - *o.Started
				}
				if o.Person != "" && q.hands {
					q.by = slices.IndexFunc(in.People, func(p Person) bool { return p.ID == o.Person })
					q.people = []int{q.by}
				}
			}
			s.ops = append(s.ops, q)
			s.names = append(s.names, job.ID+"/"+o.ID)
		}
		for _, o := range job.Ops {
			for _, a := range o.After {
				l := link{at[a.Op], a.MinLag, -1}
				if a.MaxLag != nil {
					l.most = *a.MaxLag
				}
				first, next := &s.ops[l.op], &s.ops[at[o.ID]]
				if first.fixed && next.fixed {
					continue // as it was
				}
				if end := first.at + first.length; first.fixed && l.most >= 0 && in.Now > end+l.most {
					out.Cooled = append(out.Cooled, s.names[l.op])
					l.most = -1
				}
				next.after = append(next.after, l)
				first.before = append(first.before, link{at[o.ID], l.least, l.most})
			}
		}
		s.jobs = append(s.jobs, list)
	}
	return s, nil
}

// value judges starts.
func (s *shop) value(start []int) Value {
	var v Value
	for j, list := range s.jobs {
		end := 0
		for _, o := range list {
			end = max(end, start[o]+s.ops[o].length)
		}
		v.WeightedTardiness += s.late(j, end)
		v.Makespan = max(v.Makespan, end)
	}
	return v
}

// late is the weighted lateness of a job that ends then.
func (s *shop) late(j, end int) float64 {
	job := &s.in.Jobs[j]
	if job.Due == nil {
		return 0
	}
	return s.weight(j) * float64(max(0, end-*job.Due))
}

func (s *shop) weight(j int) float64 {
	if w := s.in.Jobs[j].Weight; w != nil {
		return *w
	}
	return 1
}

func (v Value) less(w Value) bool {
	return v.WeightedTardiness < w.WeightedTardiness-1e-9 ||
		v.WeightedTardiness < w.WeightedTardiness+1e-9 && v.Makespan < w.Makespan
}

// change is the time between two operations on one unit.
func (s *shop) change(machine int, from, to string) int {
	if from == "" || to == "" || from == to {
		return 0
	}
	return s.machines[machine].TrayChange
}

// ready is when a machine can take an operation first.
func (s *shop) ready(o *op) int {
	m := s.machines[o.machine]
	if o.tray != "" && o.tray != m.Tray {
		return m.WarmUp + m.TrayChange
	}
	return m.WarmUp
}

// show writes a plan out.
func (s *shop) show(out *Output, p *plan) {
	order := make([]int, len(s.ops))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(p.start[a], p.start[b]) })
	first := -1
	for _, i := range order {
		o := &s.ops[i]
		step := Step{Job: s.in.Jobs[o.job].ID, Op: s.in.Jobs[o.job].Ops[i-s.jobs[o.job][0]].ID, Start: p.start[i],
			End: p.start[i] + o.length}
		if o.hands {
			step.Person = s.in.People[p.person[i]].ID
		}
		if o.machine >= 0 {
			step.Machine, step.Unit = s.machines[o.machine].ID, p.unit[i]+1
		}
		out.Plan = append(out.Plan, step)
		if o.fixed {
			continue
		}
		if first < 0 {
			first = p.start[i]
		}
		if p.start[i] == first {
			out.First = append(out.First, s.names[i])
		}
	}
}
