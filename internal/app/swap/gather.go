package swap

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"waryowl/internal/app/study"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/policy"
	"waryowl/internal/core/round"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// gather collects candidates.
type gather struct {
	b      *study.Record
	r      *Advised
	rounds *round.Pricer
	moved  []ledger.Piece
	slots  []store.Part
	list   []diagnose.Candidate
	later  []func() // what prices the candidates, while that can wait
	waits  bool
}

// price sets what a candidate takes; where it waits, [gather.priceAll] does.
func (g *gather) price(i int, id string, units, goal []string) {
	set := func() {
		n := g.r.Next[id]
		known := true
		if n.Minutes, known = g.rounds.Minutes(units, goal); !known {
			n.Assumed = true
		}
		g.r.Next[id], g.list[i].Minutes = n, n.Minutes
	}
	if g.waits {
		g.list[i].Minutes = 1 // any: nothing is weighed yet
		g.later = append(g.later, set)
		return
	}
	set()
}

func (g *gather) priceAll() {
	for _, set := range g.later {
		set()
	}
	g.later, g.waits = nil, false
}

func (g *gather) part(name string) store.Part {
	k := slices.IndexFunc(g.slots, func(p store.Part) bool { return p.Name == name })
	return g.slots[k]
}

func (g *gather) add(id, kind string, u, from store.Unit, parts []store.Part, words string) {
	board := g.b.LedgerBoard(u.ID)
	n := NextSwap{Kind: kind, Words: words, BoardUnitID: u.ID, FromUnitID: from.ID, PartIDs: []string{}}
	var pieces []ledger.Piece
	states := map[string]string{}
	for _, p := range parts {
		piece := ledger.Piece{Slot: p.Name, Unit: from.ID, Model: g.b.ModelID}
		pieces = append(pieces, piece)
		states[p.Name] = ledger.State(board, g.r.History.Entries[u.ID], piece)
		n.PartIDs = append(n.PartIDs, p.ID)
	}
	for slot := range g.r.History.Entries[u.ID] { // an original that was replaced in the ledger is a stranger now
		if states[slot] == "" {
			states[slot] = ledger.State(board, g.r.History.Entries[u.ID],
				ledger.Piece{Slot: slot, Unit: u.ID, Model: g.b.ModelID})
		}
	}
	units := []string{u.ID, from.ID}
	goal := n.PartIDs
	switch {
	case kind == "control":
		units = units[:1]
		goal = g.b.ForeignNow(u.ID)
	case kind == "board" && g.b.BoardPart() != nil:
		goal = []string{g.b.BoardPart().ID} // exchanging the boards makes every other part a stranger
	}
	setup := g.r.Study.Setup(g.r.History, board, states, pieces, g.moved)
	setup.Atoms = append(setup.Atoms, g.r.History.Ahead(board, g.r.Study.Slots, pieces, false)...)
	// What the guard would throw away is worth nothing.
	g.list = append(g.list, diagnose.Candidate{ID: id, Unit: u.ID, Setup: setup, Blind: g.sticky(u.ID)})
	g.r.Next[id] = n
	g.price(len(g.list)-1, id, units, goal)
}

// sticky are the checks for which a board is not back at its baseline.
func (g *gather) sticky(unit string) []string {
	var list []string
	for _, c := range g.r.Study.Checks {
		if g.r.History.Sticky[unit][c] != "" {
			list = append(list, c)
		}
	}
	return list
}

// leaveOff is what one phone alone can try: each part left off, and the originals put back.
func (g *gather) leaveOff(u store.Unit) {
	board := g.b.LedgerBoard(u.ID)
	for k, p := range g.slots {
		id := fmt.Sprintf("f%d", k)
		piece := ledger.Piece{Slot: p.Name, Origin: ledger.Off}
		n := NextSwap{Kind: "off", BoardUnitID: u.ID, FromUnitID: u.ID, PartIDs: []string{p.ID},
			Words: fmt.Sprintf("Leave the %s off %s and run the checks", p.Name, u.Name)}
		var known bool
		if n.Minutes, known = g.rounds.Minutes([]string{u.ID}, n.PartIDs); !known {
			n.Assumed = true
		}
		setup := g.r.Study.Setup(g.r.History, board, map[string]string{p.Name: ledger.Off}, []ledger.Piece{piece}, g.moved)
		g.list = append(g.list, diagnose.Candidate{ID: id, Minutes: n.Minutes, Unit: u.ID, Setup: setup,
			Blind: g.sticky(u.ID)})
		g.r.Next[id] = n
	}
	if len(g.b.Trials) > 0 {
		g.add("o0", "control", u, u, nil, fmt.Sprintf("Put the originals back into %s and run the checks", u.Name))
	}
}

// again proposes the last trial once more, as it lies there and seated anew.
func (g *gather) again() {
	if len(g.r.History.Trials) == 0 {
		return
	}
	d := g.r.History.Trials[len(g.r.History.Trials)-1]
	u := g.b.UnitByID[d.Board.Unit]
	if d.Build != g.r.Study.Build || len(d.States) == 0 {
		return
	}
	parts := []string{}
	for _, p := range d.Pieces {
		if q := g.b.Know.PartNamed(p.Slot); q != nil {
			parts = append(parts, q.ID)
		}
	}
	minutes, known := g.rounds.Minutes([]string{u.ID}, nil)
	for _, kind := range []string{"repeat", "reseat"} {
		words := "Run the checks once more on " + u.Name + ", as it lies there"
		if kind == "reseat" {
			words = "Seat the " + strings.Join(slices.Sorted(maps.Keys(d.States)), ", the ") + " of " + u.Name +
				" anew and run the checks"
			in, _ := g.rounds.Minutes([]string{u.ID}, parts)
			minutes = max(minutes+2, in)
		}
		setup := g.r.Study.Setup(g.r.History, d.Board, d.States, d.Pieces, g.moved)
		setup.Atoms = append(setup.Atoms, g.r.History.Ahead(d.Board, g.r.Study.Slots, d.Pieces, kind == "reseat")...)
		g.list = append(g.list, diagnose.Candidate{ID: kind, Minutes: minutes, Unit: u.ID, Setup: setup,
			Blind: g.sticky(u.ID)})
		g.r.Next[kind] = NextSwap{Kind: kind, Words: words, BoardUnitID: u.ID, FromUnitID: u.ID, PartIDs: parts,
			Minutes: minutes, Assumed: !known}
	}
}

// restores are the boards that keep a loss with their own pieces: before anything else is read there, they are brought
// back, and a control shows it.
func restores(b *study.Record, r Advised, rounds *round.Pricer) []NextSwap {
	list := []NextSwap{}
	for _, u := range b.Units {
		var lost []string
		for _, c := range b.SwapChecks() {
			if r.History.Sticky[u.ID][c.Mark] != "" {
				lost = append(lost, c.Name)
			}
		}
		if len(lost) == 0 {
			continue
		}
		minutes, known := rounds.Minutes([]string{u.ID}, b.ForeignNow(u.ID))
		n := NextSwap{Kind: "restore", BoardUnitID: u.ID, FromUnitID: u.ID, PartIDs: []string{},
			Words: "Reset or flash " + u.Name + " with its originals in, then run the checks",
			Reason: u.Name + " keeps losing " + strings.Join(lost, ", ") + " with its own pieces: what is read there " +
				"does not count until it passes again", Minutes: minutes + restoreMinutes, Assumed: !known}
		if r.Study.Restored(u.ID) { // done already
			n.Kind, n.Minutes = "control", minutes
			n.Words = "Run the checks on " + u.Name + " with its originals in: did it come back?"
		}
		list = append(list, n)
	}
	return list
}

// restoreMinutes is what a reset or flash takes (house).
const restoreMinutes = 12.0

func (g *gather) onBoard(i int, u store.Unit) {
	from := g.b.Units[(i+1)%len(g.b.Units)]
	for k, p := range g.slots {
		g.add(fmt.Sprintf("c%d.%d", i, k), "single", u, from, []store.Part{p},
			fmt.Sprintf("Exchange only the %s: %s board with %s's piece", p.Name, u.Name, from.Name))
	}
	for k, m := range slices.Concat(g.r.Study.Mates, g.r.Study.Both) {
		g.add(fmt.Sprintf("p%d.%d", i, k), "pair", u, from, []store.Part{g.part(m[0]), g.part(m[1])},
			fmt.Sprintf("Exchange the %s and the %s together: %s board with %s's pieces", m[0], m[1], u.Name,
				from.Name))
	}
	if len(g.slots) > 2 {
		g.add(fmt.Sprintf("b%d", i), "board", u, from, g.slots,
			fmt.Sprintf("Exchange the boards: every part of %s is a stranger to the %s board at once", from.Name,
				u.Name))
	}
	if len(g.b.Trials) > 0 {
		g.add(fmt.Sprintf("o%d", i), "control", u, u, nil,
			fmt.Sprintf("Put the originals back into %s and run the checks", u.Name))
	}
}

// sets adds the exchanges of several parts that a search finds to tell most per minute.
func (g *gather) sets(in diagnose.Input, out diagnose.Output) {
	slot := map[string]float64{}
	base, _ := g.rounds.Minutes([]string{g.b.Units[0].ID, g.b.Units[1].ID}, nil)
	c := policy.Case{Noise: in.Noise, Mates: g.r.Study.Mates, Reseat: func([]string) float64 { return base }}
	for _, p := range g.slots {
		c.Slots = append(c.Slots, policy.Slot{Name: p.Name, Family: p.Family})
		slot[p.Name], _ = g.rounds.Minutes([]string{g.b.Units[0].ID, g.b.Units[1].ID}, []string{p.ID})
	}
	own := map[string]float64{}
	for _, p := range g.slots {
		own[p.Name] = 2 * (2 + 2*worktime.RefitShare) * g.rounds.Own([]string{p.ID}) / 60
	}
	c.Cost = func(_, want []string) float64 { // the longest way in, and what each further part takes itself
		longest, sum := 0.0, 0.0
		for _, s := range want {
			longest = math.Max(longest, slot[s])
			sum += own[s]
		}
		return longest + sum
	}
	seen := map[string]bool{}
	for i, u := range g.b.Units {
		if cmp.Or(g.r.History.Builds[u.ID], u.Build) != g.r.Study.Build {
			continue
		}
		from := g.b.Units[(i+1)%len(g.b.Units)]
		c.Boards = [2]string{u.ID, from.ID}
		for k, set := range policy.Sets(c, g.r.Study, g.r.History, out) {
			key := u.ID + strings.Join(set, "+")
			if len(set) < 2 || len(set) == len(g.slots) || seen[key] {
				continue
			}
			seen[key] = true
			var parts []store.Part
			for _, s := range set {
				parts = append(parts, g.part(s))
			}
			g.add(fmt.Sprintf("s%d.%d", i, k), "set", u, from, parts,
				fmt.Sprintf("Exchange %d parts together on the %s board: %s", len(parts), u.Name,
					strings.Join(set, ", ")))
		}
	}
}

// explain gives each candidate its reason in one sentence, and the verdicts that it would bring nearer to a full eye.
func (g *gather) explain(in diagnose.Input, out diagnose.Output) {
	name := map[string]string{}
	for _, c := range g.b.SwapChecks() {
		name[c.Mark] = c.Name
	}
	type half struct {
		slot, board string
		loses       bool
	}
	var halves []half
	grader := g.r.Study.Grader(g.r.History, in, out)
	for _, st := range ledger.States(in) {
		for _, c := range g.r.Study.Checks {
			v := grader.Grade(st[0], st[1], c)
			if v.Eye == ledger.Half && v.Mark != ledger.Unsettled {
				control := v.Lacks(ledger.NeedControl)
				for _, t := range v.For {
					if k := slices.IndexFunc(g.r.History.Trials,
						func(d ledger.Derived) bool { return d.ID == t }); control && k >= 0 {
						halves = append(halves, half{"", g.r.History.Trials[k].Board.Unit, true})
						break
					}
				}
				halves = append(halves, half{slot: st[0], loses: v.Mark != ledger.Works})
			}
		}
	}
	for i, c := range g.list {
		n := g.r.Next[c.ID]
		best, where, clears := 0.0, "", 0
		open := 0
		lasting := slices.DeleteFunc(c.AtomNames(), func(a string) bool { return g.r.History.Atom(a).Accident() })
		for _, check := range g.r.Study.Checks {
			k := out.Checks[check]
			p := 0.0
			for _, a := range lasting {
				p = 1 - (1-p)*(1-k.Marginal[a])
			}
			if p > 0.2 && p < 0.8 {
				open++
			}
			if p > best && p < 0.995 {
				best, where = p, name[check]
			}
			if p > 0.01 && p <= 0.2 {
				clears++
			}
		}
		for _, h := range halves {
			if n.Kind == "control" && h.board == n.BoardUnitID || n.Kind == "single" && h.slot != "" &&
				h.slot == g.b.Know.PartByID[n.PartIDs[0]].Name {
				n.Grades++
			}
		}
		switch {
		case n.Kind == "repeat" || n.Kind == "reseat":
			n.Reason = "tells a loss that comes and goes from one that stays"
			if n.Kind == "reseat" {
				n.Reason = "tells a bad seat from a part that costs it"
			}
		case n.Kind == "donor":
			n.Reason = "tells a piece that is bad from one that the board refuses"
		case n.Kind == "off":
			n.Reason = "off is not foreign: it shows what goes when the part is missing, not what a stranger would cost"
		case n.Kind == "control":
			n.Reason = fmt.Sprintf("without it, %s could still be lost for another reason",
				answer.Counted(int(n.Grades), "verdict"))
			if n.Grades == 0 {
				n.Reason = "shows that the phone is back at its baseline"
			}
		case len(c.State) > 2 && open > 1:
			n.Reason = fmt.Sprintf("splits the suspects of %s about in half", answer.Counted(open, "check"))
		case best > 0.2:
			n.Reason = fmt.Sprintf("a suspect of “%s” with %.0f %%", where, 100*best)
			if open > 1 {
				n.Reason += fmt.Sprintf(", and of %s more", answer.Counted(open-1, "check"))
			}
		default:
			n.Reason = "would clear it for " + answer.Counted(clears, "check")
		}
		if n.Kind == "single" || n.Kind == "pair" {
			n.Reason += g.emptyCell(n)
		}
		g.list[i].Grades = n.Grades
		g.r.Next[c.ID] = n
	}
}
