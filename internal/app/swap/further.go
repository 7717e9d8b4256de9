package swap

import (
	"fmt"
	"slices"

	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

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
