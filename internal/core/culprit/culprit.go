// Package culprit says what a swap study showed where causes combine: which explanation is how likely for each check,
// which verdict may be given, and what tells most next. Its space holds what a part does alone, on one board, now and
// then or until an act; every pair of parts, declared or not; pieces that are bad or were hurt on the way; loose
// seats and losses that stay.
//
//	q := culprit.Ask(study, history)
//	q.Check("face-unlock").Marginal["panel&array:both"] // 0.93
//
// Sets of explanations are weighed together (noisy-or; J. de Kleer and B. C. Williams, "Diagnosing multiple faults",
// Artificial Intelligence 32, 1987; J. Pearl, Probabilistic Reasoning in Intelligent Systems, 1988). All priors are
// house figures.
package culprit

import (
	"cmp"
	"maps"
	"slices"
	"strings"
	"sync"

	"waryowl/internal/core/ledger"
)

// Priors of the explanations (house): of a check of the part's own family, and of any other. Notices are of every
// family.
const (
	priorState, priorStateFar         = 0.2, 0.05
	boardShare                        = 0.1 // of the prior of the state
	priorSometimes, priorSometimesFar = 0.04, 0.015
	priorUntil                        = 0.01
	priorMates, priorPair             = 0.02, 0.003
	priorParted, priorPartedFar       = 0.1, 0.01
	priorSplit                        = 0.0007
	related                           = 3.0 // times likelier is a pair of which one part is of the check's family
	priorBad, priorBadFar             = 0.05, 0.01
	priorHurt, priorHurtFar           = 0.02, 0.002
	hurtByDamage                      = 10.0
	priorSeat                         = 0.01
	priorStuck, priorStuckSeen        = 0.05, 0.5
	halfStrength                      = 0.5
)

// Noise of a reading (house): a loss that is none, a pass that is none.
const (
	falseLoss = 0.02
	falsePass = 0.02
)

// explanation is one cause that a check may have, with where it is at work.
type explanation struct {
	ledger.Atom
	name     string
	at       bits // configurations in which it is at work
	half     bool // it strikes in half of its readings
	state    bool // it speaks of what is in a slot, not of a piece, a seat or an entry
	near     float64
	far      float64
	relative bool // near applies where one of its slots is of the check's family
}

// config is one configuration that was read, or may be: what sat where on which board, and since when.
type config struct {
	id       string
	board    string
	housing  string
	baseline bool
	time     int
	states   map[string]string
	piece    map[string]string
	origin   map[string]string
	ended    map[string]map[string]bool // per slot: acts since its piece was fitted
	fits     []string
	restored int // the time of the last act that restores the board before it, −1
	trial    *ledger.Derived
}

// bits is a set of small numbers.
type bits []uint64

func newBits(n int) bits { return make(bits, (n+63)/64) }

func (b bits) set(i int)      { b[i/64] |= 1 << (i % 64) }
func (b bits) has(i int) bool { return i/64 < len(b) && b[i/64]&(1<<(i%64)) != 0 }
func (b bits) key() string {
	var s strings.Builder
	for _, w := range b {
		for k := range 8 {
			s.WriteByte(byte(w >> (8 * k)))
		}
	}
	return s.String()
}

// Question is a study on one build, ready to be asked about its checks.
type Question struct {
	s       ledger.Study
	h       ledger.History
	configs []config
	space   []explanation
	mates   map[[2]string]bool
	named   map[[2]string]bool // pairs that somebody suspects
	family  map[string]string
	checks  map[string]*Check
	boards  []string
	effort  int
	noise   noise
}

// noise is how often a reading is wrong: a loss that is none, a pass that is none.
type noise struct{ loss, pass float64 }

// House is the noise that a study is read with when nothing else is said: chance of a loss that is none, of a pass
// that is none.
func House() (falseLosses, falsePasses float64) { return falseLoss, falsePass }

// Suppose reads the study with other noise than the house's. It is said before anything is asked.
func (q *Question) Suppose(falseLoss, falsePass float64) {
	q.noise = noise{min(.45, max(1e-4, falseLoss)), min(.45, max(1e-4, falsePass))}
}

// Check is what is known of one check. Marginal holds the explanations that were at work in a counted loss; LeftOut
// bounds the mass of what was not weighed, Unexplained is the chance that some counted loss has nothing at work but
// noise.
type Check struct {
	Mark        string
	Marginal    map[string]float64
	LeftOut     float64
	Unexplained float64
	Lost        bool // some counted reading was lost

	p        *posterior
	open     []int // explanations at work in a counted loss
	readings []reading
	shares   map[[2]string]shares
	closed   []float64 // what is left of an explanation, by number; below 0 when not asked for yet
}

// reading is one reading of a check that counts for something.
type reading struct {
	config int
	lost   bool
	piece  bool // it counts for pieces, seats and entries alone
}

// Ask prepares the questions of the build that the study asks about.
func Ask(s ledger.Study, h ledger.History) *Question {
	q := &Question{s: s, h: h, mates: map[[2]string]bool{}, checks: map[string]*Check{}, effort: 1 << 13,
		noise: noise{falseLoss, falsePass}}
	for _, m := range s.Mates {
		q.mates[ordered(m[0], m[1])] = true
	}
	q.named = map[[2]string]bool{}
	for _, m := range s.Both {
		q.named[ordered(m[0], m[1])] = true
	}
	q.configure()
	q.explain()
	return q
}

func ordered(a, b string) [2]string { return [2]string{min(a, b), max(a, b)} }

// Check is what is known of a check; it is worked out when it is first asked for.
func (q *Question) Check(mark string) *Check {
	if c := q.checks[mark]; c != nil {
		return c
	}
	q.Weigh([]string{mark})
	return q.checks[mark]
}

// Weigh works out several checks side by side: none needs what another finds.
func (q *Question) Weigh(marks []string) {
	var all sync.WaitGroup
	for _, mark := range marks {
		if q.checks[mark] == nil {
			q.checks[mark] = q.lookAt(mark)
		}
	}
	for _, mark := range marks {
		if c := q.checks[mark]; c.Lost && c.p == nil {
			all.Go(func() { q.weigh(c) })
		}
	}
	all.Wait()
}

// Boards are the boards that have a configuration on this build.
func (q *Question) Boards() []string { return q.boards }

// ForPiece lists, by trial, the checks of readings that count for pieces, seats and entries although they are skipped.
func (q *Question) ForPiece() map[string][]string {
	out := map[string][]string{}
	for i := range q.configs {
		c := &q.configs[i]
		if c.baseline {
			continue
		}
		for _, mark := range q.s.Checks {
			if r, ok := q.reads(i, mark); ok && r.piece {
				out[c.id] = append(out[c.id], mark)
			}
		}
		slices.Sort(out[c.id])
	}
	return out
}

// reads is the reading of a check in a configuration, where it counts for something.
func (q *Question) reads(i int, mark string) (reading, bool) {
	c := &q.configs[i]
	if c.baseline {
		for _, b := range q.s.Baselines {
			if b.Board.Unit == c.board {
				r := b.Results[mark]
				return reading{config: i, lost: lost(r)}, r == "pass" || lost(r)
			}
		}
		return reading{}, false
	}
	r, why := c.trial.Results[mark], c.trial.Skips[mark].Why
	if r != "pass" && !lost(r) {
		return reading{}, false
	}
	switch why {
	case ledger.Counts:
		return reading{config: i, lost: lost(r)}, true
	case ledger.NotAtBaseline:
		return reading{config: i, lost: lost(r), piece: true}, true
	}
	return reading{}, false
}

func lost(r string) bool { return r == "lost" || r == "weak" }

// Likely is an explanation with its chance.
type Likely struct {
	Atom ledger.Atom
	P    float64
}

// Likely lists what may explain the losses of a check, the likeliest first.
func (q *Question) Likely(mark string) []Likely {
	c := q.Check(mark)
	list := make([]Likely, 0, len(c.open))
	for _, i := range c.open {
		list = append(list, Likely{q.space[i].Atom, c.p.marginal(i)})
	}
	slices.SortStableFunc(list, func(a, b Likely) int { return cmp.Compare(b.P, a.P) })
	return list
}

// States lists the slots with the states in which they were read, sorted.
func (q *Question) States() [][2]string {
	found := map[[2]string]bool{}
	for i := range q.configs {
		for slot, state := range q.configs[i].states {
			found[[2]string{slot, state}] = true
		}
	}
	return slices.SortedFunc(maps.Keys(found), func(a, b [2]string) int {
		return cmp.Or(strings.Compare(a[0], b[0]), strings.Compare(a[1], b[1]))
	})
}
