package policy

import (
	"context"
	"slices"
	"strings"

	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
)

// Game is a study as it stands.
type Game struct {
	Case
	Study   ledger.Study
	Have    []string
	Rounds  []Round
	Minutes float64
	Out     diagnose.Output
	Bits    map[string]float64 // of each unit of exchange
	history ledger.History
	moved   []ledger.Piece
	memory  diagnose.Memory
	states  int // that the tables of a question may have; 0: the usual
	walked  int // trials that the history holds; 0: none read yet

	unsettled []string // what open answers, until the next reading
	searched  struct { // what the search of sets reads, until the next reading
		odds *odds
		kept bool
	}
}

// NewGame starts a study with what the boards showed before they were opened.
func NewGame(c Case, baseline map[string]map[string]string) *Game {
	g := &Game{Case: c, Study: ledger.Study{Build: "1", Newest: "1", Families: map[string]string{},
		Concerns: map[string]string{}, Mates: c.Mates, Certain: c.Noise == diagnose.Noise{}}}
	g.Study.Plain = !c.Trapped
	for _, k := range c.Checks {
		g.Study.Checks = append(g.Study.Checks, k.Name)
		g.Study.Concerns[k.Name] = k.Family
	}
	for _, s := range c.Slots {
		g.Study.Slots = append(g.Study.Slots, s.Name)
		g.Study.Families[s.Name] = s.Family
		for _, b := range c.Boards {
			g.Study.Movable = append(g.Study.Movable, g.piece(s.Name, b))
		}
	}
	for _, b := range c.Boards {
		g.Study.Baselines = append(g.Study.Baselines, ledger.Baseline{Board: ledger.Board{Unit: b, Model: "m"},
			Build: "1", Results: baseline[b]})
	}
	return g
}

func (g *Game) piece(slot, board string) ledger.Piece {
	return ledger.Piece{Slot: slot, Unit: board, Model: "m"}
}

func (g *Game) other(board string) string {
	if board == g.Boards[0] {
		return g.Boards[1]
	}
	return g.Boards[0]
}

// open lists the checks that are not settled.
func (g *Game) open() []string {
	if g.unsettled != nil {
		return g.unsettled
	}
	list := []string{}
	for _, c := range g.Study.Checks {
		if k := g.Out.Checks[c]; k == nil || g.undecided(k.Marginal) || len(g.bound(c)) > 0 {
			list = append(list, c)
		}
	}
	g.unsettled = list
	return list
}

func (g *Game) undecided(marginal map[string]float64) bool {
	for a, p := range marginal {
		if p > Cleared && p < Named && !g.history.Atom(a).Accident() {
			return true
		}
	}
	return false
}

// read asks diagnose about the open checks, with what each unit of exchange would tell or, with rounds, what those would;
// what is settled stays as it was answered.
func (g *Game) read(rounds []Round) error {
	if len(g.Study.Trials) == 0 || g.walked != len(g.Study.Trials) {
		g.history = g.Study.Walk()
		g.moved = g.Study.Moved(g.history)
		g.walked = len(g.Study.Trials)
	}
	var asked []diagnose.Candidate
	for _, b := range g.Boards {
		if len(rounds) > 0 {
			break // weighed when this reading was taken in
		}
		for k, u := range g.units() {
			asked = append(asked, diagnose.Candidate{ID: "u." + b + "." + name(k), Minutes: 1, Unit: b,
				Setup: g.setup(b, u, true)})
		}
		if len(g.history.Ahead(ledger.Board{Unit: b, Model: "m"}, nil, nil, true)) == 0 {
			break // no loss may have stayed on this board: the other would tell the same
		}
	}
	for k, r := range rounds {
		asked = append(asked, diagnose.Candidate{ID: name(k), Minutes: r.Minutes, Unit: r.Board,
			Setup: g.setup(r.Board, r.Slots, r.Refit)})
	}
	s := g.Study
	if open := g.open(); len(g.Out.Checks) > 0 {
		s.Checks = open
	}
	in, _ := s.Question(g.history, asked)
	in.Noise, in.Brief, in.Weighing = g.Noise, true, len(rounds) > 0
	if !in.Weighing {
		g.states = questionStates
	}
	in.States = g.states
	out, err := g.memory.RunContext(context.Background(), in)
	if err == nil && slices.ContainsFunc(s.Checks, func(c string) bool { return out.Checks[c].Error > Cleared }) {
		g.states, in.States = 0, 0 // what was left out could make or break a culprit
		out, err = g.memory.RunContext(context.Background(), in)
	}
	if err != nil {
		return err
	}
	if g.Out.Next = out.Next; len(rounds) > 0 {
		return nil
	}
	for c, k := range g.Out.Checks {
		if _, asked := out.Checks[c]; !asked {
			out.Checks[c] = k
		}
	}
	g.Out, g.unsettled, g.searched.odds = out, nil, nil
	g.Bits = map[string]float64{}
	bits := map[string]float64{}
	for _, n := range out.Next {
		bits[n.ID] = n.Bits
	}
	for _, b := range g.Boards {
		for k, u := range g.units() {
			key := strings.Join(u, "+")
			g.Bits[key] = max(g.Bits[key], bits["u."+b+"."+name(k)])
		}
	}
	return nil
}

// units are what is exchanged at least: each slot alone, and mates together.
func (g *Game) units() [][]string {
	var list [][]string
	for _, s := range g.Slots {
		list = append(list, []string{s.Name})
	}
	for _, m := range g.Mates {
		list = append(list, []string{m[0], m[1]})
	}
	return list
}

// History is the study as it was read last.
func (g *Game) History() ledger.History { return g.history }

// kept says that a board is known to keep a loss from an earlier arrangement.
func (g *Game) kept(board string) bool { return len(g.history.Sticky[board]) > 0 }

// Done says that nothing is open, or that no exchange tells anything about it.
func (g *Game) Done() bool {
	return len(g.open()) == 0 || !g.tells() && len(g.alone()) == 0
}

// tells says whether some exchange still tells something.
func (g *Game) tells() bool {
	for _, b := range g.Bits {
		if b >= Worth {
			return true
		}
	}
	return false
}

// bound are the named culprits of a check that were lost only in the company of one and the same other part: where two
// parts that nobody named may be lost only together, that is no proof yet.
func (g *Game) bound(check string) []string {
	k := g.Out.Checks[check]
	if !g.Trapped || k == nil {
		return nil
	}
	var list []string
	for _, s := range g.Slots {
		if k.Marginal[s.Name+":stranger"] < Named {
			continue
		}
		company := map[string]int{}
		lost := 0
		for _, d := range g.history.Trials {
			if d.Results[check] == "lost" && d.Skips[check].Why == ledger.Counts && d.States[s.Name] != "" {
				lost++
				for o := range d.States {
					company[o]++
				}
			}
		}
		for o, n := range company {
			if o != s.Name && n == lost {
				list = append(list, s.Name)
				break
			}
		}
	}
	return list
}

// alone are the culprits of all checks that must still be seen lost in other company.
func (g *Game) alone() []string {
	var list []string
	for _, c := range g.Study.Checks {
		for _, s := range g.bound(c) {
			if !slices.Contains(list, s) {
				list = append(list, s)
			}
		}
	}
	return list
}

func (g *Game) setup(board string, slots []string, refit bool) diagnose.Setup {
	states := make(map[string]string, len(slots))
	pieces := make([]ledger.Piece, 0, len(slots))
	for _, s := range slots {
		states[s] = "stranger"
		pieces = append(pieces, g.piece(s, g.other(board)))
	}
	b := ledger.Board{Unit: board, Model: "m"}
	setup := g.Study.Setup(g.history, b, states, pieces, g.moved)
	if !g.Study.Certain {
		for _, a := range g.history.Ahead(b, g.Study.Slots, pieces, refit) {
			// A board that is known to keep a loss is reset before it is read again.
			if !g.kept(board) || g.history.Atom(a).Kind != ledger.StuckLoss {
				setup.Atoms = append(setup.Atoms, a)
			}
		}
	}
	return setup
}

// base is what a round on a board takes besides the exchange: start, checks, and a reset where losses stayed on it.
func (g *Game) base(board string) float64 {
	minutes := float64(bootMinutes)
	if g.kept(board) {
		minutes += resetMinutes
	}
	open := g.open()
	for _, c := range g.Checks {
		if slices.Contains(open, c.Name) {
			minutes += c.Seconds / 60
		}
	}
	return minutes
}

// refits says that this board was read in this arrangement before and nothing was moved since.
func (g *Game) refits(board string, slots []string) bool {
	for i := len(g.Rounds) - 1; i >= 0 && slices.Equal(g.Rounds[i].Slots, slots) && slices.Equal(g.Have, slots); i-- {
		if g.Rounds[i].Board == board {
			return true
		}
	}
	return false
}

// minutes prices an arrangement on a board; base is what [Game.base] says of it.
func (g *Game) minutes(board string, slots []string, base float64) float64 {
	slots = slices.Clone(slots)
	slices.Sort(slots)
	sum := base + g.Cost(g.Have, slots)
	if g.refits(board, slots) {
		sum += g.Reseat(slots)
	}
	return sum
}

// round prices an arrangement on a board from where the bench stands.
func (g *Game) round(board string, slots []string) Round {
	slots = slices.Sorted(slices.Values(slots))
	return Round{Board: board, Slots: slots, Checks: g.open(), Reset: g.kept(board), Refit: g.refits(board, slots),
		Minutes: g.minutes(board, slots, g.base(board))}
}

// Do carries a round out and records what was seen.
func (g *Game) Do(p Phones, r Round) {
	p.Exchange(r.Slots)
	if r.Refit {
		p.Reseat(r.Board, r.Slots)
	}
	if r.Reset {
		p.Reset(r.Board)
	}
	r.Results = p.Run(r.Board, r.Checks, false)
	g.Record(r)
}

// Record takes a round that was carried out into the study.
func (g *Game) Record(r Round) {
	var before []ledger.Act
	if r.Reset {
		before = append(before, ledger.Act{Kind: ledger.Reset, Board: r.Board})
	}
	if r.Refit {
		before = append(before, g.Reseated(r.Board, r.Slots))
	}
	g.Add(r.Board, r.Slots, nil, before, r.Results)
	g.Have = r.Slots
	g.Minutes += r.Minutes
	g.Rounds = append(g.Rounds, r)
}

// Reseated is the act of fitting the exchanged pieces of these slots anew.
func (g *Game) Reseated(board string, slots []string) ledger.Act {
	a := ledger.Act{Kind: ledger.Reseat, Board: board}
	for _, s := range slots {
		a.Pieces = append(a.Pieces, g.piece(s, g.other(board)))
	}
	return a
}

// Add takes a reading into the study: the slots with the other phone's pieces, those left off, and what was done
// before.
func (g *Game) Add(board string, exchanged, off []string, before []ledger.Act, results map[string]string) {
	t := ledger.Trial{ID: "t" + name(len(g.Study.Trials)), Board: ledger.Board{Unit: board, Model: "m"}, Build: "1",
		Before: before, Results: results}
	for _, s := range exchanged {
		if !slices.Contains(off, s) {
			t.Pieces = append(t.Pieces, g.piece(s, g.other(board)))
		}
	}
	for _, s := range off {
		t.Pieces = append(t.Pieces, ledger.Piece{Slot: s, Origin: ledger.Off})
	}
	g.Study.Trials = append(g.Study.Trials, t)
}

// Read answers what the study shows about every check.
func (g *Game) Read() (diagnose.Output, error) {
	g.Out, g.unsettled, g.searched.odds = diagnose.Output{}, nil, nil
	err := g.read(nil)
	return g.Out, err
}
