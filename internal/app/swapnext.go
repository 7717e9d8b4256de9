package app

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/policy"
	"waryowl/internal/core/route"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// assumedRound is the bench time of a swap whose way is not on record (house, minutes).
const assumedRound = 30

// NextSwap is a candidate with what it would tell, and why.
type NextSwap struct {
	Kind            string   `json:"kind" enum:"single,pair,set,board,control"`
	Words           string   `json:"words"`
	Reason          string   `json:"reason"`
	BoardUnitID     string   `json:"board_unit_id"`
	FromUnitID      string   `json:"from_unit_id"`
	PartIDs         []string `json:"part_ids" nullable:"false"`
	Minutes         float64  `json:"minutes" doc:"the whole round: in from the present state, fitted, started, checked, and the way back to the original"`
	Assumed         bool     `json:"assumed" doc:"the minutes are assumed: no way is on record"`
	Bits            float64  `json:"bits"`
	BitsPerMinute   float64  `json:"bits_per_minute"`
	Grades          float64  `json:"grades" doc:"verdicts that it brings nearer to a full eye"`
	GradesPerMinute float64  `json:"grades_per_minute"`
}

// pricing prices rounds of swap tests from the present state of each phone.
type pricing struct {
	b      *bench
	done   map[string][]string
	in     map[string]float64 // seconds until parts are out, by unit ("" for a closed phone) and parts
	checks float64
}

func (b *bench) pricing() *pricing {
	r := &pricing{b: b, done: map[string][]string{}, in: map[string]float64{}, checks: checkTime(b.checks)}
	for _, u := range b.units {
		r.done[u.ID] = b.done(u.ID)
	}
	return r
}

// seconds is the time on the clock until the parts are out of a unit as it stands, or of a closed phone; negative when no way
// is on record.
func (r *pricing) seconds(unit string, parts []string) float64 {
	key := unit + " " + strings.Join(parts, " ")
	if s, known := r.in[key]; known {
		return s
	}
	q := r.b.know.question(route.Elapsed)
	q.Goal = nil
	done := r.done[unit]
	for _, p := range parts {
		out := slices.ContainsFunc(done, func(id string) bool { return slices.Contains(r.b.know.step[id].Frees, p) })
		if !out {
			q.Goal = append(q.Goal, p)
		}
	}
	s := 0.0
	if len(q.Goal) > 0 {
		q.Done = done
		answer, err := route.Solve(q)
		if s = answer.ElapsedSeconds; err != nil {
			s = -1
		}
	}
	r.in[key] = s
	return s
}

// own is the time of the steps that free the parts themselves.
func (r *pricing) own(parts []string) float64 {
	sum := 0.0
	for _, p := range parts {
		for _, s := range r.b.know.steps {
			if slices.Contains(s.Frees, p) {
				sum += r.b.know.estimate(s).Seconds
				break
			}
		}
	}
	return sum
}

// minutes of a whole round: way in from the present state of both phones, the foreign pieces fitted, started and settled, the
// checks, the pieces out again, the originals back in, and both phones closed. Fitting takes [worktime.RefitShare] of taking out.
func (r *pricing) minutes(units []string, parts []string) (float64, bool) {
	seconds := bootSeconds + r.checks
	for _, u := range units {
		in, full := r.seconds(u, parts), r.seconds("", parts)
		if in < 0 || full < 0 {
			return assumedRound, false
		}
		own := r.own(parts)
		seconds += in + worktime.RefitShare*own + (1+worktime.RefitShare)*own + worktime.RefitShare*math.Max(0, full-own)
	}
	return seconds / 60, true
}

// candidates are generated in two readings: the first tells what is open, the second weighs what is proposed for it: every part
// alone, mates together, sets that split what is open, the whole board, and the originals put back.
func (b *bench) candidates(a asked, r *reading) ([]diagnose.Candidate, error) {
	if len(b.units) < 2 {
		return nil, nil
	}
	var slots []store.Part
	main := b.boardPart()
	for _, p := range b.slots() {
		if main == nil || main.ID != p.ID {
			slots = append(slots, p)
		}
	}
	for _, u := range b.units {
		for _, p := range slots {
			r.study.Movable = append(r.study.Movable, ledger.Piece{Slot: p.Name, Unit: u.ID}.ID())
		}
	}
	moved := r.study.Moved(r.history)
	g := &gather{b: b, r: r, rounds: b.pricing(), moved: moved, slots: slots}
	for i, u := range b.units {
		if first(r.history.Builds[u.ID], u.Build) != a.build {
			continue
		}
		g.onBoard(i, u)
	}
	first, _ := r.study.Question(r.history, g.list)
	if a.noise != nil {
		first.Noise = *a.noise
	}
	first.Brief = true
	if len(first.Checks) == 0 {
		return nil, nil
	}
	out, err := diagnose.Run(first)
	if err != nil {
		return nil, err
	}
	g.sets(first, out)
	g.explain(out)
	return g.list, nil
}

// gather collects candidates.
type gather struct {
	b      *bench
	r      *reading
	rounds *pricing
	moved  []string
	slots  []store.Part
	list   []diagnose.Candidate
}

func (g *gather) part(name string) store.Part {
	k := slices.IndexFunc(g.slots, func(p store.Part) bool { return p.Name == name })
	return g.slots[k]
}

func (g *gather) add(id, kind string, u, from store.Unit, parts []store.Part, words string) {
	board := g.b.board(u.ID)
	n := NextSwap{Kind: kind, Words: words, BoardUnitID: u.ID, FromUnitID: from.ID, PartIDs: []string{}}
	var pieces []ledger.Piece
	states := map[string]string{}
	for _, p := range parts {
		piece := ledger.Piece{Slot: p.Name, Unit: from.ID, Model: g.b.ModelID}
		pieces = append(pieces, piece)
		states[p.Name] = ledger.State(board, g.r.history.Entries[u.ID], piece)
		n.PartIDs = append(n.PartIDs, p.ID)
	}
	for slot := range g.r.history.Entries[u.ID] { // an original that was replaced in the ledger is a stranger now
		if states[slot] == "" {
			states[slot] = ledger.State(board, g.r.history.Entries[u.ID], ledger.Piece{Slot: slot, Unit: u.ID, Model: g.b.ModelID})
		}
	}
	units := []string{u.ID, from.ID}
	goal := n.PartIDs
	switch {
	case kind == "control":
		units = units[:1]
		goal = g.b.foreignNow(u.ID)
	case kind == "board" && g.b.boardPart() != nil:
		goal = []string{g.b.boardPart().ID} // exchanging the boards makes every other part a stranger
	}
	known := true
	if n.Minutes, known = g.rounds.minutes(units, goal); !known {
		n.Assumed = true
	}
	setup := g.r.study.Setup(board, states, pieces, g.moved)
	setup.Atoms = append(setup.Atoms, g.r.history.Ahead(board, g.r.study.Slots, pieces, false)...)
	g.list = append(g.list, diagnose.Candidate{ID: id, Minutes: n.Minutes, Unit: u.ID, Setup: setup})
	g.r.next[id] = n
}

// foreignNow lists the parts in a unit's housing that are not the board's own.
func (b *bench) foreignNow(unit string) []string {
	a := b.arrange()
	ids := []string{}
	for _, p := range b.fitted(a, unit, b.boardIn(a, unit)) {
		ids = append(ids, p.PartID)
	}
	return ids
}

func (g *gather) onBoard(i int, u store.Unit) {
	from := g.b.units[(i+1)%len(g.b.units)]
	for k, p := range g.slots {
		g.add(fmt.Sprintf("c%d.%d", i, k), "single", u, from, []store.Part{p}, fmt.Sprintf("Exchange only the %s: %s board with %s's piece", p.Name, u.Name, from.Name))
	}
	for k, m := range slices.Concat(g.r.study.Mates, g.r.study.Both) {
		g.add(fmt.Sprintf("p%d.%d", i, k), "pair", u, from, []store.Part{g.part(m[0]), g.part(m[1])}, fmt.Sprintf("Exchange the %s and the %s together: %s board with %s's pieces", m[0], m[1], u.Name, from.Name))
	}
	if len(g.slots) > 2 {
		g.add(fmt.Sprintf("b%d", i), "board", u, from, g.slots, fmt.Sprintf("Exchange the boards: every part of %s is a stranger to the %s board at once", from.Name, u.Name))
	}
	if len(g.b.trials) > 0 {
		g.add(fmt.Sprintf("o%d", i), "control", u, u, nil, fmt.Sprintf("Put the originals back into %s and run the checks", u.Name))
	}
}

// sets adds the exchanges of several parts that a search finds to tell most per minute.
func (g *gather) sets(in diagnose.Input, out diagnose.Output) {
	slot := map[string]float64{}
	base, _ := g.rounds.minutes([]string{g.b.units[0].ID, g.b.units[1].ID}, nil)
	c := policy.Case{Noise: in.Noise, Mates: g.r.study.Mates, Reseat: func([]string) float64 { return base }}
	for _, p := range g.slots {
		c.Slots = append(c.Slots, policy.Slot{Name: p.Name, Family: p.Family})
		slot[p.Name], _ = g.rounds.minutes([]string{g.b.units[0].ID, g.b.units[1].ID}, []string{p.ID})
	}
	c.Cost = func(_, want []string) float64 { // the longest way in, and what each further part takes itself
		longest, sum := 0.0, 0.0
		for _, s := range want {
			longest = math.Max(longest, slot[s])
			sum += 2 * (2 + 2*worktime.RefitShare) * g.rounds.own([]string{g.part(s).ID}) / 60
		}
		return longest + sum
	}
	seen := map[string]bool{}
	for i, u := range g.b.units {
		if first(g.r.history.Builds[u.ID], u.Build) != g.r.study.Build {
			continue
		}
		from := g.b.units[(i+1)%len(g.b.units)]
		c.Boards = [2]string{u.ID, from.ID}
		for k, set := range policy.Sets(c, g.r.study, out) {
			key := u.ID + strings.Join(set, "+")
			if len(set) < 2 || len(set) == len(g.slots) || seen[key] {
				continue
			}
			seen[key] = true
			var parts []store.Part
			for _, s := range set {
				parts = append(parts, g.part(s))
			}
			g.add(fmt.Sprintf("s%d.%d", i, k), "set", u, from, parts, fmt.Sprintf("Exchange %d parts together on the %s board: %s", len(parts), u.Name, strings.Join(set, ", ")))
		}
	}
}

// explain gives each candidate its reason in one sentence, and the verdicts that it would bring nearer to a full eye.
func (g *gather) explain(out diagnose.Output) {
	name := map[string]string{}
	for _, c := range g.b.swapChecks() {
		name[c.Mark] = c.Name
	}
	type half struct {
		slot, board string
		loses       bool
	}
	var halves []half
	for _, st := range ledger.States(g.r.question()) {
		for _, c := range g.r.study.Checks {
			v := g.r.study.Grade(g.r.history, g.r.question(), out, st[0], st[1], c)
			if v.Eye == ledger.Half && v.Mark != ledger.Unsettled {
				control := slices.ContainsFunc(v.Missing, func(m string) bool { return strings.HasPrefix(m, "the original put back") })
				for _, t := range v.For {
					if k := slices.IndexFunc(g.r.history.Trials, func(d ledger.Derived) bool { return d.ID == t }); control && k >= 0 {
						halves = append(halves, half{"", g.r.history.Trials[k].Board.Unit, true})
						break
					}
				}
				halves = append(halves, half{slot: st[0], loses: v.Mark != ledger.Works})
			}
		}
	}
	for i, c := range g.list {
		n := g.r.next[c.ID]
		best, where, clears := 0.0, "", 0
		open := 0
		for _, check := range g.r.study.Checks {
			k := out.Checks[check]
			p := 0.0
			for _, a := range c.AtomNames() {
				if !ledger.Nuisance(a) {
					p = 1 - (1-p)*(1-k.Marginal[a])
				}
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
			if n.Kind == "control" && h.board == n.BoardUnitID || n.Kind == "single" && h.slot != "" && h.slot == g.b.know.part[n.PartIDs[0]].Name {
				n.Grades++
			}
		}
		switch {
		case n.Kind == "control":
			n.Reason = fmt.Sprintf("without it, %s could still be lost for another reason", counted(int(n.Grades), "verdict"))
			if n.Grades == 0 {
				n.Reason = "shows that the phone is back at its baseline"
			}
		case len(c.State) > 2 && open > 1:
			n.Reason = fmt.Sprintf("splits the suspects of %s about in half", counted(open, "check"))
		case best > 0.2:
			n.Reason = fmt.Sprintf("a suspect of “%s” with %.0f %%", where, 100*best)
			if open > 1 {
				n.Reason += fmt.Sprintf(", and of %s more", counted(open-1, "check"))
			}
		default:
			n.Reason = "would clear it for " + counted(clears, "check")
		}
		g.list[i].Grades = n.Grades
		g.r.next[c.ID] = n
	}
}

// question is the question without candidates.
func (r *reading) question() diagnose.Input {
	if r.in.Checks == nil {
		r.in, _ = r.study.Question(r.history, nil)
	}
	return r.in
}

func counted(n int, thing string) string {
	if n == 1 {
		return "1 " + thing
	}
	return fmt.Sprintf("%d %ss", n, thing)
}
