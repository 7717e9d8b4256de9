package study

import (
	"slices"
	"strings"

	"waryowl/internal/core/closeup"
	"waryowl/internal/core/plan"
)

// Opened are steps in the order in which they were done on a phone, each with those that had to come first.
func (b *Record) Opened(ids []string) []plan.Done {
	var steps []plan.Done
	for i, id := range ids {
		step := b.Know.Step(b.Know.StepByID[id])
		steps = append(steps, plan.Done{Step: step, Before: step.Met(ids[:i])})
	}
	return steps
}

// covers says of each cover of a unit that is off what it would hide if it went on now: leads still off, gates that
// nobody ticked.
func (b *Record) covers(unit string, out plan.Run) map[string][]closeup.Hidden {
	if len(out) == 0 {
		return nil
	}
	steps := b.Opened(b.EverDone(unit))
	lines, _ := closeup.List(steps, b.Know.Kind)
	seen, ticks := b.Leads(unit), b.Closing(unit).Ticks
	closeup.Seat(steps, lines, func(step string) bool { return seen[step] == "off on purpose" },
		func(string) bool { return true })
	lead := map[string]bool{}
	for _, s := range steps {
		lead[s.ID] = s.Lead() && seen[s.ID] != "off on purpose" && out.Has(s.ID)
	}
	ticked := func(key string) bool {
		step, seat := strings.CutPrefix(key, "seat ")
		return seat && seen[step] == "seated" || slices.Contains(ticks, key) && !(seat && out.Has(step))
	}
	covers := map[string][]closeup.Hidden{}
	for _, id := range out {
		if hidden := closeup.Unready(lines, id, func(step string) bool { return lead[step] }, ticked); len(hidden) > 0 {
			covers[id] = hidden
		}
	}
	return covers
}
