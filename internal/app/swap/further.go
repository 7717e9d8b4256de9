package swap

import (
	"fmt"
	"slices"

	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// donors proposes a third phone's piece for what was lost with another's: it tells a piece that is bad from one that the
// board refuses.
func (g *gather) donors(i int, u store.Unit) {
	for j, from := range g.b.Units {
		if from.ID == u.ID || j == (i+1)%len(g.b.Units) {
			continue
		}
		for k, p := range g.slots {
			if g.lostWith(p.Name) {
				g.add(fmt.Sprintf("d%d.%d.%d", i, j, k), "donor", u, from, []store.Part{p},
					fmt.Sprintf("Try a third donor: %s's %s on the %s board", from.Name, p.Name, u.Name))
			}
		}
	}
}

// lostWith says whether something was lost with another phone's piece in a slot.
func (g *gather) lostWith(slot string) bool {
	return slices.ContainsFunc(g.r.History.Trials, func(d ledger.Derived) bool {
		if d.States[slot] != "stranger" || d.Build != g.r.Study.Build {
			return false
		}
		for c, r := range d.Results {
			if (r == "lost" || r == "weak") && d.Skips[c].Why == ledger.Counts {
				return true
			}
		}
		return false
	})
}

// calibrations are the pieces that are fitted now and cost their board something: matching them cannot be taken back, so
// that it comes after everything that can. It is not weighed: what an adopted piece costs is a question of its own, and
// would keep every check open.
func (g *gather) calibrations() []NextSwap {
	list := []NextSwap{}
	a := g.b.Arrange()
	for _, h := range g.b.Units {
		u, ok := g.b.UnitByID[g.b.BoardIn(a, h.ID)]
		if !ok {
			continue
		}
		fitted := g.b.Fitted(a, h.ID, u.ID)
		states := g.b.StatesOf(g.r.History, u.ID, fitted)
		for _, piece := range fitted {
			p := g.b.Know.PartByID[piece.PartID]
			if states[p.Name] != "stranger" || !g.lostWith(p.Name) {
				continue
			}
			minutes, known := g.rounds.Minutes([]string{u.ID}, nil)
			list = append(list, NextSwap{Kind: "calibrate", BoardUnitID: u.ID, FromUnitID: u.ID, PartIDs: []string{p.ID},
				Moves: []store.Move{}, Minutes: minutes + calibrateMinutes, Assumed: !known,
				Words:  fmt.Sprintf("Calibrate the %s that is in %s now, then run the checks", p.Name, u.Name),
				Reason: "shows whether it works once it is matched; it cannot be taken back"})
		}
	}
	return list
}

// calibrateMinutes is what matching a piece takes (house).
const calibrateMinutes = 8.0

// emptyCell says whether an exchange of one mate or of both fills a cell that the table of the two still lacks for a check
// that was lost.
func (g *gather) emptyCell(n NextSwap) string {
	var names []string
	for _, id := range n.PartIDs {
		names = append(names, g.b.Know.PartByID[id].Name)
	}
	for _, m := range slices.Concat(g.r.Study.Mates, g.r.Study.Both) {
		in := [2]bool{slices.Contains(names, m[0]), slices.Contains(names, m[1])}
		if !in[0] && !in[1] || len(names) > 1 && !(in[0] && in[1]) {
			continue
		}
		for _, c := range g.r.Focus {
			cells := g.r.Study.Factors(g.r.History, m[:], c, false)
			empty, here := 0, false
			for _, x := range cells {
				if len(x.Trials) == 0 {
					empty++
					here = here || x.Other[0] == in[0] && x.Other[1] == in[1]
				}
			}
			if here && empty <= 2 {
				return fmt.Sprintf("; it fills an empty cell of the table of %s and %s", m[0], m[1])
			}
		}
	}
	return ""
}
