package closeup

import (
	"strings"

	"waryowl/internal/core/plan"
)

// Leads is what is known of the leads that were taken off: how many of how many are seen seated (those left off do not
// count), the first that is not, those that no line of the closing list covers, and those left off on purpose.
type Leads struct {
	Seated [2]int
	Open   string
	Bare   []LayerGate
	Off    []plan.Done
}

// Seat counts the leads of a phone and takes the gates of those left off out of the lines. off and seated ask of a step
// whether its lead is left off on purpose, or seen seated.
func Seat(done []plan.Done, lines []Line, off, seated func(step string) bool) Leads {
	leads := Leads{Bare: []LayerGate{}}
	covered := map[string]bool{}
	count := func(step, what string, n int) {
		leads.Seated[1] += n
		if seated(step) {
			leads.Seated[0] += n
		} else if leads.Open == "" {
			leads.Open = what
		}
	}
	for i, l := range lines {
		kept := []LayerGate{}
		for _, g := range l.Gates {
			step, seat := strings.CutPrefix(g.Key, "seat ")
			if seat {
				covered[step] = true
				if off(step) {
					continue
				}
				count(step, strings.TrimPrefix(g.Text, "seated: "), g.N)
			}
			kept = append(kept, g)
		}
		lines[i].Gates = kept
	}
	for _, d := range done {
		switch {
		case !d.Lead():
		case off(d.ID):
			leads.Off = append(leads.Off, d)
		case !covered[d.ID]:
			g := LayerGate{"seat " + d.ID, "connector", "seated: " + d.What, max(1, d.Count)}
			leads.Bare = append(leads.Bare, g)
			count(d.ID, d.What, g.N)
		}
	}
	return leads
}
