package benchday

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/answer"
	"waryowl/internal/core/day"
	"waryowl/internal/store"
)

// drops tries which job that nobody began could wait for another day.
func (v *Room) drops(ctx context.Context, rows []store.BenchJob) {
	for i, j := range v.Jobs {
		if j.State != "waiting" || len(v.Jobs) < 2 || len(v.Drops) >= 12 || ctx.Err() != nil {
			continue
		}
		in := v.Document
		in.Jobs = slices.Delete(slices.Clone(in.Jobs), i, i+1)
		in.Effort, in.Runs, in.Service = tryEffort, tryRuns, nil
		if out, err := day.SolveContext(ctx, in); err == nil && out.PDoneByClose > v.Found.PDoneByClose+0.02 {
			v.Drops = append(v.Drops, Drop{JobID: j.ID, Title: rows[i].Title, P: out.PDoneByClose})
		}
	}
	slices.SortStableFunc(v.Drops, func(a, b Drop) int {
		switch {
		case a.P > b.P:
			return -1
		case a.P < b.P:
			return 1
		}
		return 0
	})
	v.Drops = v.Drops[:min(3, len(v.Drops))]
}

// chance never says that something is sure, or cannot be.
func chance(p float64) string {
	switch {
	case p > 0.995:
		return ">99\u202f%"
	case p < 0.005:
		return "<1\u202f%"
	}
	return fmt.Sprintf("%.0f\u202f%%", 100*p)
}

// short names the job that is in time least often, where that is below what is promised.
func (v *Room) short() string {
	worst, p := "", enough
	for _, s := range v.Found.Shortfall {
		for _, j := range v.Jobs {
			if j.ID == s.Job && j.State != "done" && s.P < p {
				worst, p = j.Title, s.P
			}
		}
	}
	if worst == "" {
		return ""
	}
	return worst + " is in time with " + chance(p) + " only"
}

func (v *Room) say(h hours) {
	if v.Problem != "" {
		v.Answer = answer.Sentence{
			answer.Text("There is no plan: what was started contradicts what must come after it. " +
				"Correct a start or an end below."),
		}
		return
	}
	open, late := 0, []string{}
	for _, j := range v.Jobs {
		if j.State != "done" {
			open++
		}
		due := v.Close
		if j.Due > 0 {
			due = j.Due
		}
		if j.Ends > due {
			late = append(late, fmt.Sprintf("%s by %d min", j.Title, (j.Ends-due+59)/60))
		}
	}
	p := chance(v.Found.PDoneByClose)
	short := v.short()
	switch {
	case open == 0:
		v.Answer = answer.Sentence{answer.Count(len(v.Jobs), "job", "#jobs"), answer.Text(" done.")}
		return
	case len(late) > 0:
		v.Answer = answer.Sentence{answer.Text("Late: "), answer.Name(strings.Join(late, ", "), "#jobs"),
			answer.Text(
				"; all closed by ",
			), answer.Name(h.clock(v.Found.Makespan), "#lanes"), answer.Text(" (" + p + " by closing time).")}
	case short != "": // a job that may be late is said before when all ends
		v.Answer = answer.Sentence{answer.Name(short, "#jobs"), answer.Text("; all closed by "),
			answer.Name(h.clock(v.Found.Makespan), "#lanes"), answer.Text(" (" + p + " by closing time).")}
	default:
		v.Answer = answer.Sentence{
			answer.Text("All "),
			answer.Count(len(v.Jobs), "job", "#jobs"),
			answer.Text(" closed by "),
			answer.Name(h.clock(v.Found.Makespan), "#lanes"),
			answer.Text(" (" + p + " by closing time)."),
		}
	}
	for _, c := range v.Found.Collisions {
		when := h.clock(c.From) + "–" + h.clock(c.To)
		if h.clock(c.From) == h.clock(c.To) { // less than a minute
			when = "at " + h.clock(c.From)
		}
		text := "The " + c.Resource + " collides " + when
		if c.Resource == "hands" {
			text = "Hands collide " + when
		}
		for _, a := range v.Acts { // who comes first there
			if a.State == "planned" && slices.Contains(c.Ops, a.JobID+"/"+a.Op) {
				text += fmt.Sprintf(": start %s’s %s first", a.Title, a.Op)
				break
			}
		}
		v.Said = append(v.Said, text+".")
	}
	if len(v.Found.Collisions) > 0 {
		v.Answer = append(v.Answer, answer.Text(" "+v.Said[len(v.Said)-len(v.Found.Collisions)]))
	}
	for _, x := range []struct {
		than string
		v    *day.Value
	}{{"first come", v.Found.FirstCome}, {"one by one", v.Found.OneByOne}} {
		switch {
		case x.v == nil:
			v.Said = append(v.Said, "Worked "+x.than+", something finds no place in its time.")
		case x.v.WeightedTardiness > v.Found.WeightedTardiness:
			v.Said = append(v.Said, fmt.Sprintf("Saves %.0f min of lateness against %s.",
				(x.v.WeightedTardiness-v.Found.WeightedTardiness)/60, x.than))
		case x.v.Makespan > v.Found.Makespan:
			v.Said = append(
				v.Said,
				fmt.Sprintf("Done %d min earlier than %s.", (x.v.Makespan-v.Found.Makespan)/60, x.than),
			)
		}
	}
	if t := v.Found.Traded; t != nil && len(t.Kept) > 0 {
		names := []string{}
		for _, j := range v.Jobs {
			if slices.Contains(t.Kept, j.ID) {
				names = append(names, j.Title)
			}
		}
		v.Said = append(v.Said, fmt.Sprintf("So that %s keeps its time in 9 of 10 such days, the day ends %d min later.",
			strings.Join(names, " and "), (t.Makespan+59)/60))
	}
	if v.Found.Reheats >= 0.05 {
		v.Said = append(
			v.Said,
			fmt.Sprintf("An opening edge has cooled before it is opened on %.0f of 100 such days.", 100*v.Found.Reheats),
		)
	}
}
