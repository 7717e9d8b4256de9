package swap

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/study"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/round"
	"waryowl/internal/core/swapstudy"
	"waryowl/internal/store"
)

// NextSwap is an act that may come next, with what it would tell, and why.
type NextSwap struct {
	Kind        string       `json:"kind" enum:"single,pair,set,board,control,repeat,reseat,restore,off,donor,calibrate,gate"`
	Words       string       `json:"words"`
	Reason      string       `json:"reason"`
	BoardUnitID string       `json:"board_unit_id"`
	FromUnitID  string       `json:"from_unit_id"`
	PartIDs     []string     `json:"part_ids" nullable:"false"`
	Moves       []store.Move `json:"moves" nullable:"false" doc:"what to move on the bench for it"`
	Minutes     float64      `json:"minutes" doc:"the whole round: in from the present state, fitted, started, checked, and the way back to the original"`
	Assumed     bool         `json:"assumed" doc:"the minutes are assumed: no way is on record"`
	Bits        float64      `json:"bits"`
	Trial       string       `json:"trial,omitempty" doc:"of a gate: id of the trial that waits for it"`
	Step        string       `json:"step,omitempty" doc:"of a gate: the step that is missing"`
	Wait        float64      `json:"wait,omitempty" doc:"of a gate: minutes that it waits"`
	Settles     []string     `json:"settles" nullable:"false" doc:"checks that it settles in part, the most first"`
}

// Asked is how a study is to be read for the room: with candidates, perhaps other noise, perhaps minutes that are left.
type Asked struct {
	Build  string
	noise  *diagnose.Noise
	budget float64

	explore bool
	all     bool // everything that may be done, not only what is worth it
}

// Everything is a study read with everything that may be done on a build, worth it or not.
func Everything(b *study.Record, build string) (Advised, error) {
	return readAs(b, Asked{Build: build, explore: true, all: true})
}

// Advised is a reading with what may be done next, what tells most a minute first.
type Advised struct {
	study.Reading
	Next      []NextSwap
	Plan      []NextSwap // what fits into the minutes that are left
	Calibrate []NextSwap // what is fitted and may be matched, once nothing else is left
	Focus     []string   // checks over which they are weighed; nil: all
}

// worthBits is from how many bits on an act tells enough to be done for them (house).
const worthBits = 0.04

func readAs(b *study.Record, a Asked) (Advised, error) {
	r := Advised{Reading: b.Begin(a.Build)}
	if err := r.Ask(nil, a.noise, 0); err != nil || len(b.Units) == 0 {
		return r, err
	}
	g := &gather{b: b, r: &r, rounds: newPricer(b), every: a.all}
	g.slots = slices.DeleteFunc(b.Slots(), func(p store.Part) bool {
		m := b.BoardPart()
		return m != nil &&
			m.ID == p.ID
	})
	if len(r.Study.Checks) == 0 {
		return r, nil
	}
	if !a.explore {
		asked := r.Asked(b)
		for _, c := range r.Study.Checks {
			if r.Culprit.Open(c) || !r.settled(c) && slices.Contains(asked, c) {
				r.Focus = append(r.Focus, c)
			}
		}
	}
	r.Next = g.offer()
	if r.Focus != nil && !slices.ContainsFunc(r.Next, func(n NextSwap) bool { return n.Bits >= worthBits }) {
		r.Focus = nil // nothing that could be done tells more of what was lost
		r.Next = g.offer()
	}
	r.Calibrate = g.calibrations()
	left := a.budget
	for _, n := range r.Next {
		if n.Bits >= worthBits && n.Minutes <= left {
			r.Plan = append(r.Plan, n)
			left -= n.Minutes
		}
	}
	return r, nil
}

// settled says whether nothing of a check is open: of one that was lost, every explanation is near to sure or out.
func (r *Advised) settled(check string) bool {
	c := r.Culprit.Check(check)
	if c.Lost && (c.Unexplained > unexplained || c.LeftOut > leftOut) {
		return false
	}
	return r.Culprit.Settled(check)
}

// A loss with nothing at work but a misreading, and mass that was not weighed, up to which a check may be settled
// (house).
const (
	unexplained = 0.05
	leftOut     = 0.01
)

// gather puts what may come next into the words of the room.
type gather struct {
	b      *study.Record
	r      *Advised
	rounds *round.Pricer
	slots  []store.Part
	every  bool
}

func (g *gather) part(name string) store.Part {
	if k := slices.IndexFunc(g.slots, func(p store.Part) bool { return p.Name == name }); k >= 0 {
		return g.slots[k]
	}
	return store.Part{}
}

func (g *gather) ids(slots []string) []string {
	ids := []string{}
	for _, s := range slots {
		if p := g.part(s); p.ID != "" {
			ids = append(ids, p.ID)
		}
	}
	return ids
}

// bench is where the boards and their pieces are now.
func (g *gather) bench() swapstudy.Bench {
	b, arranged := g.b, g.b.Arrange()
	names := func(string) string { return b.ModelID }
	in := swapstudy.Bench{Focus: g.r.Focus, Model: names,
		Kind: func(slot string) string { return g.r.Study.Kinds[slot] },
		All:  g.every}
	for _, u := range b.Units {
		in.Boards = append(in.Boards, u.ID)
	}
	for _, p := range g.slots {
		in.Slots = append(in.Slots, p.Name)
	}
	in.Sits = func(board string) string {
		for _, u := range b.Units {
			if b.BoardIn(arranged, u.ID) == board {
				return u.ID
			}
		}
		return ""
	}
	in.Fitted = func(housing, board string) []ledger.Piece {
		var list []ledger.Piece
		for _, p := range b.Fitted(arranged, housing, board) {
			list = append(list, b.Piece(p))
		}
		return list
	}
	return in
}

// restoreMinutes is what a reset or flash takes (house).
const restoreMinutes = 12.0

// minutes of an act by the ways on record.
func (g *gather) minutes(n swapstudy.Next) (float64, bool) {
	goal := g.ids(n.Slots)
	switch n.Act {
	case "gate":
		return 0, false
	case "repeat":
		return g.rounds.Minutes([]string{n.Board}, nil)
	case "reseat":
		m, known := g.rounds.Minutes([]string{n.Board}, nil)
		in, _ := g.rounds.Minutes([]string{n.Board}, goal)
		return max(m+2, in), known
	case "control":
		return g.rounds.Minutes([]string{n.Board}, g.b.ForeignNow(n.Board))
	case "restore":
		m, known := g.rounds.Minutes([]string{n.Board}, g.b.ForeignNow(n.Board))
		return m + restoreMinutes, known
	case "leave off":
		return g.rounds.Minutes([]string{n.Board}, goal)
	}
	if g.all(n.Slots) && g.b.BoardPart() != nil { // exchanging the boards makes every other part a stranger
		goal = []string{g.b.BoardPart().ID}
	}
	return g.rounds.Minutes([]string{n.Board, n.From}, goal)
}

func (g *gather) all(slots []string) bool { return len(slots) > 2 && len(slots) == len(g.slots) }

func (g *gather) offer() []NextSwap {
	var verdicts []swapstudy.Verdict
	for _, st := range g.r.Culprit.States() {
		for _, c := range g.r.Study.Checks {
			v := g.r.Grade(st[0], st[1], c)
			x := swapstudy.Verdict{Slot: st[0], State: st[1], Check: c, Verdict: v.Mark, Eye: v.Eye, Boards: v.Boards}
			for _, m := range v.Missing {
				x.Missing = append(x.Missing, m.Code)
			}
			verdicts = append(verdicts, x)
		}
	}
	list := []NextSwap{}
	bench := g.bench()
	bench.Minutes = func(n swapstudy.Next, _ []ledger.Piece) (float64, bool) { return g.minutes(n) }
	for _, n := range bench.Offer(&g.r.Study, g.r.History, g.r.Culprit, verdicts) {
		list = append(list, g.say(n))
	}
	return list
}

// say puts an act into words.
func (g *gather) say(n swapstudy.Next) NextSwap {
	x := NextSwap{BoardUnitID: n.Board, FromUnitID: cmp.Or(n.From, n.Board), PartIDs: g.ids(n.Slots),
		Minutes: n.Minutes,
		Assumed: n.Assumed, Bits: n.Bits, Settles: []string{}, Moves: []store.Move{}}
	name := map[string]string{}
	for _, c := range g.b.SwapChecks() {
		name[c.Mark] = c.Name
	}
	for _, c := range n.Settles {
		x.Settles = append(x.Settles, name[c])
	}
	board, from := g.b.Sticker(n.Board), g.b.Sticker(n.From)
	parts := strings.Join(n.Slots, ", the ")
	switch {
	case n.Act == "gate":
		step := gateSteps[n.Why]
		x.Kind, x.Words = "gate", fmt.Sprintf("%s does not start. %s", board, step.words)
		x.Step, x.Wait = n.Why, step.wait
		for _, t := range g.b.Trials {
			if t.BoardUnitID == n.Board {
				x.Trial = t.ID
			}
		}
	case n.Act == "control":
		x.Kind, x.Words = "control", fmt.Sprintf("Put the originals back into %s and run the checks", board)
		if len(g.b.ForeignNow(n.Board)) == 0 {
			x.Words = fmt.Sprintf("Run the checks on %s with its originals in", board)
		}
	case n.Act == "repeat":
		x.Kind, x.Words = "repeat", "Run the checks once more on "+board+", as it lies there"
	case n.Act == "reseat":
		x.Kind, x.Words = "reseat", "Seat the "+parts+" of "+board+" anew and run the checks"
	case n.Act == "restore":
		x.Kind, x.Words = "restore", "Reset or flash "+board+" with its originals in, then run the checks"
	case n.Act == "leave off":
		x.Kind, x.Words = "off", fmt.Sprintf("Leave the %s off %s and run the checks", parts, board)
	case g.all(n.Slots):
		x.Kind, x.Words = "board", fmt.Sprintf("Exchange the boards: then every part of %s is another phone's for the %s board",
			from, board)
	case len(n.Slots) == 1 && g.third(n):
		x.Kind, x.Words = "donor", fmt.Sprintf("Try a third phone's piece: %s's %s on the %s board", from, parts, board)
	case len(n.Slots) == 1:
		x.Kind, x.Words = "single", fmt.Sprintf("Exchange only the %s: %s board with %s's piece", parts, board, from)
	case len(n.Slots) == 2:
		x.Kind, x.Words = "pair", fmt.Sprintf("Exchange the %s together: %s board with %s's pieces",
			strings.Join(n.Slots, " and the "), board, from)
	default:
		x.Kind, x.Words = "set", fmt.Sprintf("Exchange %d parts together on the %s board: %s", len(n.Slots), board,
			strings.Join(n.Slots, ", "))
	}
	x.Reason = g.reason(n, x)
	if x.Kind != "gate" {
		x.Moves = movesFor(g.b, x)
	}
	return x
}

// gateSteps say what is done before a board may be called dead, and the minutes that it waits (house).
var gateSteps = map[string]struct {
	words string
	wait  float64
}{
	"charger":             {"Connect a charger that is known to work, then hold the power key for 20 s", 15},
	"some minutes waited": {"Leave it on the charger, then try to start it again", 15},
	"reseated once":       {"Unplug its battery lead first, then seat the display and battery connectors anew", 0},
	"reseated twice":      {"Seat the same connectors anew once more, and look at them under the loupe", 0},
	"known-good part":     {"Try a display and a battery that start another phone", 0},
}

// third says whether a piece comes from a phone that is not the board's usual partner.
func (g *gather) third(n swapstudy.Next) bool {
	for i, u := range g.b.Units {
		if u.ID == n.Board {
			return g.b.Units[(i+1)%len(g.b.Units)].ID != n.From
		}
	}
	return false
}

// reason says what an act settles, and what it is done for.
func (g *gather) reason(n swapstudy.Next, x NextSwap) string {
	var why []string
	if k := len(x.Settles); k > 0 {
		of := len(g.r.Focus)
		if g.r.Focus == nil {
			of = len(g.r.Study.Checks)
		}
		text := fmt.Sprintf("settles %d of %s: %s", k, answer.Counted(of, "check"), strings.Join(x.Settles[:min(3,
			k)], ", "))
		if of == 1 {
			text = "settles " + x.Settles[0]
		}
		if k > 3 {
			text += " …"
		}
		if len(n.Slots) == 1 && n.Act != "reseat" && n.Act != "repeat" {
			text += "; is the " + n.Slots[0] + " tied to its phone?"
		}
		why = append(why, text)
	}
	var kept []string
	for _, c := range g.r.Study.Checks {
		if g.r.History.Sticky[n.Board][c] != "" {
			kept = append(kept, g.checkName(c))
		}
	}
	board := g.b.Sticker(n.Board)
	for code := range strings.SplitSeq(n.Why, "; ") {
		switch code {
		case "not back at baseline":
			text := "a loss probably stays on " + board + ": nothing is exchanged there before it passes again"
			if len(kept) > 0 {
				text = board + " keeps losing " + strings.Join(kept, ", ") +
					" with its own pieces: what is read there does not count until it passes again"
			}
			why = append(why, text)
		case "lost and passed within one fitting":
			why = append(why, "one fitting was both lost and passed: it may be the seat")
		case "last control":
			why = append(why, "all pieces home: the study ends with it")
		case swapstudy.LossWithoutCause:
			why = append(why, "a loss of this test has no cause: if it passes twice, it was misread")
		case "cell":
			why = append(why, "fills an empty place of the table")
		case string(ledger.NeedControl):
			why = append(why, "without it a loss could still have another reason")
		case string(ledger.NeedHome):
			why = append(why, "shows whether the piece works in its own phone")
		case string(ledger.NeedRepeat):
			why = append(why, "a verdict rests on one fitting so far")
		}
	}
	switch {
	case n.Act == "gate":
		return "a board is called dead only after the charger, some minutes of waiting, two reseats and a known-good part"
	case n.Act == "leave off":
		why = append(why, "left off is not exchanged: it shows what goes when the part is missing, not what another one would lose")
	case n.Act == "reseat" && len(why) == 0:
		why = append(why, "tells a bad seat from a part that loses it")
	case n.Act == "repeat" && len(why) == 0:
		why = append(why, "tells a loss that comes and goes from one that stays")
	case n.Act == "control" && len(why) == 0:
		why = append(why, "shows that the phone is back at its baseline")
	case len(why) == 0:
		why = append(why, "a little of "+answer.Counted(max(1, len(g.r.Focus)), "check"))
	}
	return strings.Join(why, "; ")
}

func (g *gather) checkName(mark string) string {
	for _, c := range g.b.SwapChecks() {
		if c.Mark == mark {
			return c.Name
		}
	}
	return mark
}

// Advice is what tells most a minute in a study as it stands, the best first.
func Advice(b *study.Record) ([]NextSwap, error) {
	build := ""
	if builds := b.Builds(); len(builds) > 0 {
		build = builds[len(builds)-1]
	}
	r, err := readAs(b, Asked{Build: build})
	if err != nil {
		return nil, err
	}
	return slices.DeleteFunc(r.Next, func(n NextSwap) bool {
		return n.Bits < worthBits && n.Kind != "control" &&
			n.Kind != "gate"
	}), nil
}
