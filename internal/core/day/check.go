package day

import (
	"fmt"
	"slices"

	"waryowl/internal/core/fault"
)

// check refuses what cannot be meant.
func (in *Input) check() error {
	ops := 0
	for _, j := range in.Jobs {
		ops += len(j.Ops)
	}
	for _, l := range []struct {
		field   string
		n, most int
	}{{"jobs", len(in.Jobs), 60}, {"jobs.ops", ops, 400}, {"people", len(in.People), 6}, {"machines", len(in.Machines),
		20},
		{"runs", in.Runs, 100_000}, {"keep", len(in.Keep), 400}, {"effort", in.Effort, 1_000_000_000}} {
		if l.n > l.most || l.n < 0 {
			return fault.New(l.field, l.n, fmt.Sprintf("at most %d", l.most))
		}
	}
	if in.Now < 0 || in.Now > longest {
		return fault.New("now", in.Now, "0 to 86,400")
	}
	if s := in.Service; s != nil && !(*s >= 0.5 && *s <= 0.999) {
		return fault.New("service", *s, "0.5 to 0.999")
	}
	if len(in.Acts) > 2000 {
		return fault.New("acts", len(in.Acts), "at most 2000")
	}
	if in.Benches < 0 {
		return fault.New("benches", in.Benches, "0 (any number) or more")
	}
	if !slices.Contains([]string{"", "when_free", "as_planned"}, in.Heat) {
		return fault.New("heat", in.Heat, "when_free, as_planned")
	}
	people, machines, jobs := map[string]bool{}, map[string]*Machine{}, map[string]bool{}
	for k, p := range in.People {
		at := fmt.Sprintf("people[%d]", k)
		if p.ID == "" || people[p.ID] {
			return fault.New(at+".id", p.ID, "an id that stands once")
		}
		people[p.ID] = true
		for i, b := range p.Breaks {
			if b.From < 0 || b.To < b.From || b.To > longest {
				return fault.New(fmt.Sprintf("%s.breaks[%d]", at, i), fmt.Sprintf("%d to %d", b.From, b.To),
					"from before to, within a day")
			}
		}
	}
	for k, m := range in.Machines {
		at := fmt.Sprintf("machines[%d]", k)
		if m.ID == "" || machines[m.ID] != nil {
			return fault.New(at+".id", m.ID, "an id that stands once")
		}
		machines[m.ID] = &in.Machines[k]
		if m.Units != nil && (*m.Units < 1 || *m.Units > 60) {
			return fault.New(at+".units", *m.Units, "1 to 60")
		}
		if m.WarmUp < 0 || m.WarmUp > longest || m.TrayChange < 0 || m.TrayChange > longest {
			return fault.New(at+".warm_up", m.WarmUp, "0 to 86,400")
		}
		if m.Units != nil && *m.Units > 1 && (m.Tray != "" || m.TrayChange > 0) {
			return fault.New(at+".tray", m.Tray, "trays only with one unit")
		}
	}
	for k, j := range in.Jobs {
		at := fmt.Sprintf("jobs[%d]", k)
		if j.ID == "" || jobs[j.ID] {
			return fault.New(at+".id", j.ID, "an id that stands once")
		}
		jobs[j.ID] = true
		if j.Release < 0 || j.Release > longest {
			return fault.New(at+".release", j.Release, "0 to 86,400")
		}
		if j.Weight != nil && !(*j.Weight >= 0 && *j.Weight < 1e9) {
			return fault.New(at+".weight", *j.Weight, "0 or more")
		}
		if err := in.checkOps(at, j, people, machines); err != nil {
			return err
		}
	}
	return nil
}

// longest is a day.
const longest = 86400

func (in *Input) checkOps(at string, j Job, people map[string]bool, machines map[string]*Machine) error {
	known := map[string]int{}
	for i, o := range j.Ops {
		at := fmt.Sprintf("%s.ops[%d]", at, i)
		if _, twice := known[o.ID]; o.ID == "" || twice {
			return fault.New(at+".id", o.ID, "an id that stands once in its job")
		}
		known[o.ID] = i
		switch m := machines[o.Machine]; {
		case o.P50 < 0 || o.P50 > longest:
			return fault.New(at+".p50", o.P50, "0 to 86,400")
		case o.P90 != nil && (*o.P90 < o.P50 || *o.P90 > longest):
			return fault.New(at+".p90", *o.P90, "p50 or more")
		case o.Hands != 0 && o.Hands != 1:
			return fault.New(at+".hands", o.Hands, "0 or 1")
		case o.Machine != "" && m == nil:
			return fault.New(at+".machine", o.Machine, "one of the machines")
		case o.Tray != "" && (m == nil || m.Units != nil && *m.Units > 1):
			return fault.New(at+".tray", o.Tray, "a tray of a machine with one unit")
		case o.Person != "" && !people[o.Person]:
			return fault.New(at+".person", o.Person, "one of the people")
		case o.Started != nil && (*o.Started > in.Now || *o.Started < 0):
			return fault.New(at+".started", *o.Started, "not after now")
		case o.Ended != nil && (o.Started == nil || *o.Ended < *o.Started || *o.Ended > in.Now):
			return fault.New(at+".ended", *o.Ended, "between its start and now")
		}
		if o.Hands == 1 && !slices.ContainsFunc(in.People, func(p Person) bool {
			return o.Skill == "" || slices.Contains(p.Skills, o.Skill)
		}) {
			return fault.New(at+".skill", o.Skill, "a skill that someone has")
		}
	}
	waits := make([]int, len(j.Ops))
	next := make([][]int, len(j.Ops))
	for i, o := range j.Ops {
		for k, a := range o.After {
			at := fmt.Sprintf("%s.ops[%d].after[%d]", at, i, k)
			first, here := known[a.Op]
			switch {
			case !here:
				return fault.New(at+".op", a.Op, "an operation of the same job")
			case a.MinLag < 0 || a.MinLag > longest:
				return fault.New(at+".min_lag", a.MinLag, "0 to 86,400")
			case a.MaxLag != nil && *a.MaxLag < a.MinLag:
				return fault.New(at+".max_lag", *a.MaxLag, "min_lag or more")
			}
			waits[i]++
			next[first] = append(next[first], i)
		}
	}
	free, done := []int{}, 0
	for i, n := range waits {
		if n == 0 {
			free = append(free, i)
		}
	}
	for ; len(free) > 0; done++ {
		i := free[len(free)-1]
		free = free[:len(free)-1]
		for _, k := range next[i] {
			if waits[k]--; waits[k] == 0 {
				free = append(free, k)
			}
		}
	}
	if done < len(j.Ops) {
		return fault.New(at+".ops", "a circle", "operations that come after one another")
	}
	return nil
}
