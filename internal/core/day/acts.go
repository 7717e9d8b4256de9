package day

import (
	"cmp"
	"fmt"
	"slices"

	"waryowl/internal/core/fault"
)

// Act is what was said of an operation: it starts, it ends, or what was said last is taken back.
type Act struct {
	At     int    `json:"at"`
	Job    string `json:"job"`
	Op     string `json:"op"`
	What   string `json:"what" enum:"start,end,undo"`
	Person string `json:"person,omitempty"`
}

// teller folds acts into what is started and ended.
type teller struct {
	in   *Input
	said map[[2]string]bool // operations of which an act spoke
}

// op is the operation of an act; nil where there is none.
func (t *teller) op(job, op string) (*Job, *Op) {
	j := slices.IndexFunc(t.in.Jobs, func(j Job) bool { return j.ID == job })
	if j < 0 {
		return nil, nil
	}
	k := slices.IndexFunc(t.in.Jobs[j].Ops, func(o Op) bool { return o.ID == op })
	if k < 0 {
		return &t.in.Jobs[j], nil
	}
	return &t.in.Jobs[j], &t.in.Jobs[j].Ops[k]
}

// tell carries the acts out, in the order of their times, equal ones as listed. An act never invents another: what
// cannot have happened is refused, with its place in the list.
func (in *Input) tell() error {
	if len(in.Acts) == 0 {
		return nil
	}
	t := &teller{in, map[[2]string]bool{}}
	in.Jobs = slices.Clone(in.Jobs)
	for i := range in.Jobs { // what is folded is not the caller's
		in.Jobs[i].Ops = slices.Clone(in.Jobs[i].Ops)
	}
	order := make([]int, len(in.Acts))
	for k := range order {
		order[k] = k
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(in.Acts[a].At, in.Acts[b].At) })
	for _, k := range order {
		a := in.Acts[k]
		at := fmt.Sprintf("acts[%d]", k)
		job, op := t.op(a.Job, a.Op)
		switch {
		case job == nil:
			return fault.New(at+".job", a.Job, "one of the jobs")
		case op == nil:
			return fault.New(at+".op", a.Op, "an operation of "+a.Job)
		case !slices.Contains([]string{"start", "end", "undo"}, a.What):
			return fault.New(at+".what", a.What, "start, end or undo")
		case a.At < 0 || a.At > in.Now:
			return fault.New(at+".at", a.At, fmt.Sprintf("0 to now, %d", in.Now))
		}
		key := [2]string{a.Job, a.Op}
		if !t.said[key] && (op.Started != nil || op.Ended != nil || op.Person != "" && op.Hands == 0) {
			return fault.New(at+".op", a.Op, "an operation that has no started, ended or person of its own beside acts")
		}
		t.said[key] = true
		var err error
		switch a.What {
		case "start":
			err = t.start(at, a, job, op)
		case "end":
			if op.Started == nil || op.Ended != nil {
				err = fault.New(at+".what", a.What, "start first: "+a.Op+" does not run")
			} else {
				end := a.At
				op.Ended = &end
			}
		case "undo":
			err = t.undo(at, a, job, op)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func (t *teller) start(at string, a Act, job *Job, op *Op) error {
	if op.Started != nil {
		return fault.New(at+".what", a.What, "end or undo: "+a.Op+" is started already")
	}
	for _, f := range op.After {
		_, first := t.op(job.ID, f.Op)
		if first == nil {
			continue // refused with the plan
		}
		if first.Ended == nil {
			return fault.New(at+".at", a.At, "a time after the end of "+f.Op+", which comes first")
		}
		if a.At < *first.Ended+f.MinLag {
			return fault.New(at+".at", a.At, fmt.Sprintf("%d or later: %s comes first", *first.Ended+f.MinLag, f.Op))
		}
	}
	if op.Machine != "" && t.units(op.Machine) <= t.running(func(o *Op) bool { return o.Machine == op.Machine }) {
		return fault.New(at+".op", a.Op, "an operation for whose "+op.Machine+" a unit is free")
	}
	person := a.Person
	if op.Hands > 0 {
		if person == "" && len(t.in.People) == 1 {
			person = t.in.People[0].ID
		}
		who := slices.IndexFunc(t.in.People, func(p Person) bool { return p.ID == person })
		switch {
		case person == "":
			return fault.New(at+".person", person, "who does it")
		case who < 0:
			return fault.New(at+".person", person, "one of the people")
		case op.Skill != "" && !slices.Contains(t.in.People[who].Skills, op.Skill):
			return fault.New(at+".person", person, "somebody with the skill "+op.Skill)
		case t.running(func(o *Op) bool { return o.Hands > 0 && o.Person == person }) > 0:
			return fault.New(at+".person", person, "somebody who is not at another phone")
		}
	}
	begin := a.At
	op.Started, op.Person = &begin, person
	return nil
}

// undo takes back the end, else the start, of what nothing that was started needs.
func (t *teller) undo(at string, a Act, job *Job, op *Op) error {
	if op.Started == nil {
		return fault.New(at+".what", a.What, "start: there is nothing to take back")
	}
	for _, o := range job.Ops {
		if o.Started != nil && slices.ContainsFunc(o.After, func(f After) bool { return f.Op == op.ID }) {
			return fault.New(at+".op", a.Op, "an operation that nothing started needs: "+o.ID+" does")
		}
	}
	if op.Ended != nil {
		op.Ended = nil
		return nil
	}
	op.Started, op.Person = nil, ""
	return nil
}

func (t *teller) units(machine string) int {
	for _, m := range t.in.Machines {
		if m.ID == machine && m.Units != nil {
			return *m.Units
		}
	}
	return 1
}

// running is how many operations of a kind have started and not ended.
func (t *teller) running(of func(*Op) bool) (n int) {
	for i := range t.in.Jobs {
		for k := range t.in.Jobs[i].Ops {
			if o := &t.in.Jobs[i].Ops[k]; o.Started != nil && o.Ended == nil && of(o) {
				n++
			}
		}
	}
	return n
}

// happened refuses a history that cannot have been: an operation started before what comes first had ended, and hands
// that were at two phones at once.
func (in *Input) happened() error {
	type spell struct {
		from, to int
		at       string
	}
	hands := map[string][]spell{}
	for k, j := range in.Jobs {
		by := map[string]*Op{}
		for i := range j.Ops {
			by[j.Ops[i].ID] = &j.Ops[i]
		}
		for i, o := range j.Ops {
			if o.Started == nil {
				continue
			}
			at := fmt.Sprintf("jobs[%d].ops[%d]", k, i)
			for _, a := range o.After {
				first := by[a.Op]
				if first == nil {
					continue
				}
				if first.Ended == nil {
					return fault.New(at+".started", *o.Started, "nothing: "+a.Op+", which comes first, has not ended")
				}
				if *o.Started < *first.Ended+a.MinLag {
					return fault.New(at+".started", *o.Started, fmt.Sprintf("%d or later: %s comes first", *first.Ended+a.MinLag,
						a.Op))
				}
			}
			if o.Hands == 0 || o.Person == "" {
				continue
			}
			s := spell{*o.Started, max(in.Now, *o.Started+1), at}
			if o.Ended != nil {
				s.to = *o.Ended
			}
			for _, b := range hands[o.Person] {
				if s.from < b.to && b.from < s.to {
					later := s
					if b.from > s.from {
						later = b
					}
					return fault.New(later.at+".person", o.Person, "somebody who is not at another phone at that time")
				}
			}
			hands[o.Person] = append(hands[o.Person], s)
		}
	}
	return nil
}
