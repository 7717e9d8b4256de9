// Package policy chooses which swap to make next, and plays whole studies by a policy, so that policies can be compared
// on the same phones and a trainee's bench minutes with the advised ones.
//
// Two phones lie open side by side. An arrangement is the set of slots whose pieces are exchanged; one arrangement can
// be read on either board. All policies read by package diagnose and stop by the same rule: every marginal of every
// check is at most [Cleared] or at least [Named], or hidden so that no exchange of a part or of mates tells [Worth]
// bits.
package policy

import (
	"maps"
	"slices"

	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
)

// Slot is a place for a piece, Check a function check.
type (
	Slot struct {
		Name, Family string
	}
	Check struct {
		Name, Family string
		Seconds      float64
	}
)

// Case is what everybody knows of a pair of phones. Cost is the minutes from one arrangement to another; Reseat those
// of taking the exchanged pieces out and in again.
type Case struct {
	Boards   [2]string
	Slots    []Slot
	Checks   []Check
	Mates    [][2]string
	BoardOwn []string
	Noise    diagnose.Noise
	Trapped  bool // something may come and go, end by an act, need two undeclared parts or be hurt on the way
	Cost     func(have, want []string) float64
	Reseat   func(slots []string) float64
}

// bootMinutes is starting and settling for one reading, resetMinutes setting a board back with its set-up (house).
const (
	bootMinutes  = 2
	resetMinutes = 12
)

// Phones are what a policy plays on.
type Phones interface {
	Exchange(slots []string)
	Reseat(board string, slots []string)
	Run(board string, checks []string, late bool) map[string]string
	Reset(board string)
}

// Round is one arrangement read on one board. Refit says that its pieces are taken out and in again first, since this
// board was read in this arrangement before; Reset that the board is reset first, since losses stayed on it.
type Round struct {
	Board   string
	Slots   []string
	Refit   bool
	Reset   bool
	Minutes float64
	Bits    float64
	Checks  []string
	Results map[string]string
}

// Worth is the information, in bits, below which an exchange is not made any more: what stays open then is hidden
// behind a known culprit, and no exchange shows it.
const Worth = 0.002

// Policy names the next round; ok is false when it has nothing to propose.
type Policy func(g *Game) (Round, bool)

// questionStates are the states that the tables of a question may have at first: a study asks hundreds of them, most are
// exact within it, and those that are not are asked again.
const questionStates = 1 << 16

// longest is how many rounds a study may take before it is given up as not settled.
const longest = 120

// Baseline reads every check of both boards before anything is exchanged, and once more what was lost: the last reading
// counts.
func Baseline(c Case, p Phones) map[string]map[string]string {
	var all []string
	for _, k := range c.Checks {
		all = append(all, k.Name)
	}
	baseline := map[string]map[string]string{}
	for _, b := range c.Boards {
		baseline[b] = p.Run(b, all, false)
		var lost []string
		for _, k := range all {
			if baseline[b][k] == "lost" {
				lost = append(lost, k)
			}
		}
		maps.Copy(baseline[b], p.Run(b, lost, false))
	}
	return baseline
}

// Named and Cleared are the posteriors from which an explanation counts as a culprit, and as none. Clearing is strict:
// there are many parts for each culprit, and one wrong pass must not clear it.
const (
	Named   = 0.99
	Cleared = 0.001
)

// Play carries a study through until all is settled, or nothing more is proposed. The minutes of the baselines, which
// are the same for every policy, are not counted.
func Play(c Case, p Phones, next Policy) (*Game, error) {
	g := NewGame(c, Baseline(c, p))
	for len(g.Rounds) < longest {
		if err := g.read(nil); err != nil {
			return g, err
		}
		if g.Done() {
			break
		}
		var r Round
		ok := false
		if g.tells() {
			r, ok = next(g)
		}
		if !ok {
			only := g.alone()
			if len(only) == 0 {
				break
			}
			r = g.round(g.Boards[len(g.Rounds)%2], only[:1])
		}
		if g.kept(r.Board) && len(r.Slots) > 0 {
			r = g.round(r.Board, nil) // the guard: nothing counts on this board until it was reset and a control passes
		}
		g.Do(p, r)
	}
	return g, nil
}

// Named lists what was found to be a culprit: check and explanation; Cleared what was found not to be.
func (g *Game) Named() (named, cleared [][2]string) {
	for _, c := range g.Study.Checks {
		for _, a := range slices.Sorted(maps.Keys(g.Out.Checks[c].Marginal)) {
			switch p := g.Out.Checks[c].Marginal[a]; {
			case g.history.Atom(a).Accident():
			case p >= Named:
				named = append(named, [2]string{c, a})
			case p <= Cleared:
				cleared = append(cleared, [2]string{c, a})
			}
		}
	}
	return named, cleared
}

// Verdicts are what a study that was played signs: every slot as a stranger, check by check, with its eye.
func (g *Game) Verdicts() ([]ledger.Verdict, error) {
	h := g.Study.Walk()
	in, _ := g.Study.Question(h, nil)
	in.Noise, in.Brief = g.Noise, true
	out, err := diagnose.Run(in)
	if err != nil {
		return nil, err
	}
	var list []ledger.Verdict
	grader := g.Study.Grader(h, in, out)
	for _, st := range ledger.States(in) {
		for _, c := range g.Study.Checks {
			if v := grader.Grade(st[0], st[1], c); v.Mark != ledger.Untested {
				list = append(list, v)
			}
		}
	}
	return list, nil
}

func name(k int) string {
	const digits = "0123456789abcdefghijklmnopqrstuvwxyz"
	if k < 36 {
		return digits[k : k+1]
	}
	return name(k/36) + digits[k%36:k%36+1]
}
