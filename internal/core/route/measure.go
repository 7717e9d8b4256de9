package route

import (
	"math"
	"slices"
)

// prune leaves out every step without which the sequence is still legal and still frees the goal.
func (p *plan) prune(seq []int) []int {
	for k := len(seq) - 1; k >= 0; k-- {
		if shorter := slices.Delete(slices.Clone(seq), k, k+1); p.legal(shorter) {
			seq, k = shorter, len(shorter)
		}
	}
	return seq
}

// legal says whether the steps can be carried out in this order and free the goal.
func (p *plan) legal(seq []int) bool {
	in := slices.Clone(p.done)
	for _, i := range seq {
		if !p.ready(i, in) {
			return false
		}
		in[i] = true
	}
	for _, part := range p.in.Goal {
		if !p.freed[part] && !slices.ContainsFunc(p.freeby[part], func(i int) bool { return in[i] }) {
			return false
		}
	}
	return true
}

// measure walks the sequence and counts everything that the answer shows.
func (p *plan) measure(seq []int) Output {
	out := Output{Steps: []string{}, Tools: []string{}, Survival: map[string]float64{}, Freed: []string{}}
	tool, side := p.hand, p.up
	walk, open := 0, false // the walk of depth starts without a tool
	risk := 0.0
	for _, i := range seq {
		s := p.steps[i]
		out.Steps = append(out.Steps, s.ID)
		out.AttendedSeconds += s.Seconds
		out.ElapsedSeconds += s.WaitSeconds
		if t := p.tool[i]; t != 0 {
			if t != tool {
				out.ToolChanges++
			}
			if open && walk != 0 && walk != t {
				out.Depth++
			}
			tool, walk = t, t
			if !slices.Contains(out.Tools, s.Tool) {
				out.Tools = append(out.Tools, s.Tool)
			}
		}
		open = true
		if d := p.side[i]; d != 0 {
			if side != 0 && d != side {
				out.Flips++
			}
			side = d
		}
		for _, part := range s.Frees {
			if !p.freed[part] && !slices.Contains(out.Freed, part) {
				out.Freed = append(out.Freed, part)
			}
		}
		if len(s.Frees) > 0 {
			out.Depth++
			open = false
		}
		for _, part := range sortedKeys(s.Risk) {
			if r := s.Risk[part]; r > 0 {
				if _, ok := out.Survival[part]; !ok {
					out.Survival[part] = 1
				}
				out.Survival[part] *= 1 - r
				risk -= math.Log1p(-r)
			}
		}
	}
	if open {
		out.Depth++
	}
	out.AttendedSeconds += p.in.ToolChangeSeconds*float64(out.ToolChanges) + p.in.FlipSeconds*float64(out.Flips)
	out.ElapsedSeconds += out.AttendedSeconds
	switch p.in.Minimise {
	case Attended:
		out.Objective = out.AttendedSeconds
	case Elapsed:
		out.Objective = out.ElapsedSeconds
	case Depth:
		out.Objective = float64(out.Depth)
	case Risk:
		out.Objective = risk
	}
	return out
}
