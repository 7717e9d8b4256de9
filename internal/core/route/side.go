package route

import (
	"slices"

	"waryowl/internal/core/trade"
)

// FromSide leaves out the steps that open a phone from the other side than entry ("" for either): heat, solvent, cuts
// and levers there, and what can no longer start without them.
func FromSide(steps []Step, entry string) []Step {
	if entry == "" {
		return steps
	}
	gone := map[string]bool{}
	var kept []Step
	for _, s := range steps {
		if s.Side != "any" && s.Side != "" && s.Side != entry && trade.Opens(s.Do) {
			gone[s.ID] = true
			continue
		}
		kept = append(kept, s)
	}
	for again := true; again; {
		again = false
		for i := 0; i < len(kept); i++ {
			var after [][]string
			for _, alt := range kept[i].After {
				if !slices.ContainsFunc(alt, func(id string) bool { return gone[id] }) {
					after = append(after, alt)
				}
			}
			if len(kept[i].After) > 0 && len(after) == 0 {
				gone[kept[i].ID], again = true, true
				kept = slices.Delete(kept, i, i+1)
				i--
				continue
			}
			kept[i].After = after
		}
	}
	return kept
}

// Difference says which acts only one of two ways needs, and which tools only the first.
type Difference struct {
	Added []string // acts that only the first way needs
	Gone  []string // acts that only the second needs
	Tools []string // tools that only the first needs
}

// Against compares two ways, act by act and tool by tool; an act is its verb and what it is done to.
func Against(mine, theirs, myTools, theirTools []string) Difference {
	lacks := func(list, other []string) []string {
		out := []string{}
		for _, a := range list {
			if !slices.Contains(other, a) {
				out = append(out, a)
			}
		}
		return out
	}
	return Difference{Added: lacks(mine, theirs), Gone: lacks(theirs, mine), Tools: lacks(myTools, theirTools)}
}
