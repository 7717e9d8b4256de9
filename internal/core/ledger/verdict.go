package ledger

import (
	"maps"
	"slices"
	"strings"
	"sync"

	"waryowl/internal/core/diagnose"
)

// Marks of a verdict and eyes of its evidence.
const (
	Works      = "works"
	WithNotice = "works with notice"
	Calibrated = "works once calibrated"
	Loses      = "loses"
	Sporadic   = "intermittent"
	Together   = "interaction"
	Dead       = "dead"
	NoSeat     = "does not seat"
	Unsettled  = "not settled"
	Untested   = "untested"

	Shut = "shut"
	Half = "half"
	Open = "open"
)

// settling is what must have gone by before a late reading counts as settled.
var settling = []string{"restart", "charge", "settling"}

// Verdict says what a part in this state does to a check on one build. P is the posterior that it costs the function,
// always, sometimes or until an act, nil when the trials contradict each other without noise. Missing are the conditions
// still open for a full eye; Aged says that a newer build was seen.
type Verdict struct {
	Slot    string    `json:"slot"`
	State   string    `json:"state"`
	Check   string    `json:"check"`
	Mark    string    `json:"mark" enum:"works,works once calibrated,loses,intermittent,interaction,dead,does not seat,not settled,untested"`
	Eye     string    `json:"eye" enum:"shut,half,open"`
	P       *float64  `json:"p,omitempty"`
	For     []string  `json:"for" nullable:"false" doc:"trials that showed a loss with it"`
	Against []string  `json:"against" nullable:"false" doc:"trials that passed with it"`
	Missing []Missing `json:"missing" nullable:"false"`
	Aged    bool      `json:"aged,omitempty" doc:"a newer build was seen"`
	Note    string    `json:"note,omitempty"`
	Until   string    `json:"until,omitempty" doc:"the act that ended the loss with the same piece fitted"`
	With    string    `json:"with,omitempty" doc:"the part that it is lost together with"`

	How    string                  `json:"how,omitempty" enum:"both,parted" doc:"of an interaction: lost when both are not its own, or when the two are parted"`
	Scope  string                  `json:"scope,omitempty" enum:"alone,in company" doc:"of what works: passed by itself, or among other parts that were not its own"`
	Rate   *Rate                   `json:"rate,omitempty"`
	Boards map[string]BoardVerdict `json:"boards,omitempty" doc:"by board"`
}

// Rate is how many of the counted readings were lost, with the exact 95 % interval (C. J. Clopper and E. S. Pearson, 1934).
type Rate struct {
	Lost int     `json:"lost"`
	Of   int     `json:"of"`
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// BoardVerdict is what one board makes of a slot in a state.
type BoardVerdict struct {
	Verdict string  `json:"verdict" enum:"loses,works,not settled"`
	P       float64 `json:"p"`
	Lost    int     `json:"lost"`
	Of      int     `json:"of"`
}

// Missing is a condition that a verdict lacks, as a code and in words.
type Missing struct {
	Code Condition `json:"code"`
	Text string    `json:"text"`
}

func lacks(codes ...Condition) []Missing {
	list := []Missing{}
	for _, c := range codes {
		list = append(list, Missing{c, c.Text()})
	}
	return list
}

// Lacks says whether a verdict still lacks a condition.
func (v Verdict) Lacks(c Condition) bool {
	return slices.ContainsFunc(v.Missing, func(m Missing) bool { return m.Code == c })
}

// Grader judges many verdicts of one question and its answer: what they all look at is looked up once.
type Grader struct {
	s     Study
	h     History
	in    diagnose.Input
	out   diagnose.Output
	held  map[[2]string][]int // trials that held a slot in a state
	names map[string][]string // explanations at work in a trial, by its id
	known map[[3]string]Verdict
	done  map[string]map[string]bool // by check, see cleared
	both  map[string]bool            // by check: some pair is lost only together, as likely as not
}

// Grader prepares to judge.
func (s Study) Grader(h History, in diagnose.Input, out diagnose.Output) *Grader {
	g := &Grader{s: s, h: h, in: in, out: out, held: map[[2]string][]int{}, names: map[string][]string{},
		known: map[[3]string]Verdict{}, done: map[string]map[string]bool{}, both: map[string]bool{}}
	for i, t := range in.Trials {
		g.names[t.ID] = t.Settle()
		for slot, state := range t.State {
			g.held[[2]string{slot, state}] = append(g.held[[2]string{slot, state}], i)
		}
	}
	return g
}

// Grade judges one verdict; see [Grader.Grade].
func (s Study) Grade(h History, in diagnose.Input, out diagnose.Output, slot, state, check string) Verdict {
	return s.Grader(h, in, out).Grade(slot, state, check)
}

// Grade judges one slot and state for one check from the question that was asked and its answer. A loss counts as known
// from 0.9, as harmless up to 0.1. The eye opens fully only when every condition of its kind of verdict holds.
func (g *Grader) Grade(slot, state, check string) Verdict {
	key := [3]string{slot, state, check}
	v, known := g.known[key]
	if !known {
		v = g.judge(slot, state, check)
		g.known[key] = v
	}
	return v
}

func (g *Grader) judge(slot, state, check string) Verdict {
	s, h, in, out := g.s, g.h, g.in, g.out
	v := Verdict{Slot: slot, State: state, Check: check, Mark: Untested, Eye: Shut, For: []string{},
		Against: []string{}, Missing: []Missing{}}
	atom := h.atoms.foreignness(slot, state)
	var with []*diagnose.Trial
	for _, i := range g.held[[2]string{slot, state}] {
		t := &in.Trials[i]
		switch t.Results[check] {
		case "pass":
			v.Against = append(v.Against, t.ID)
			with = append(with, t)
		case "lost", "weak":
			v.For = append(v.For, t.ID)
			with = append(with, t)
		}
	}
	if len(with) == 0 {
		v.Missing = lacks(NeedTrial)
		return v
	}
	v.Mark, v.Eye = Unsettled, Half
	c := out.Checks[check]
	if c == nil || !c.Consistent {
		v.Eye = Shut
		v.Missing = lacks(NeedSeparate)
		return v
	}
	always := c.Marginal[atom]
	sometimes := c.Marginal[Atom{Kind: Sometimes, Slots: []string{slot}, State: state}.Name()]
	until := s.until(h, in, slot, state, check)
	p := min(1, always+sometimes)
	if until.Act != "" {
		p = min(1, p+c.Marginal[Atom{Kind: UntilAct, Slots: []string{slot}, State: state, Act: until.Act}.Name()])
	}
	v.P = &p
	partner := sync.OnceValue(func() string { return g.partner(c, with, v) })
	switch {
	case until.Act == "" && h.stays(v):
		v.Missing = lacks(NeedControl)
	case until.Act != "":
		v.Until = until.Act
		v.Missing = lacks(NeedRepeat)
		if len(until.Boards) > 1 {
			v.Mark, v.Missing = Loses, g.missingForLoss(c, v, with)
		}
	case sometimes >= 0.5 && sometimes > always && len(v.For) > 1 && len(v.Against) > 0:
		v.Mark, v.Missing = Sporadic, g.missingForLoss(c, v, with)
	case always >= 0.9:
		v.Mark = Loses
		if check == "boot" {
			v.Mark = Dead
		}
		v.Missing = g.missingForLoss(c, v, with)
	case partner() != "":
		v.Mark, v.With, v.Missing = Together, partner(), g.missingForLoss(c, v, with)
	case p <= 0.1 && len(v.Against) > 0 && g.explained(c, with, v):
		v.Mark = Works
		if state == "adopted" {
			v.Mark, v.Note = Calibrated, "seen on one board: the other stays the control"
		}
		v.Missing = append(h.wavering(&v), s.missingForHarmless(h, v, with)...)
	default:
		v.Missing = lacks(NeedSeparate)
	}
	if s.Newest != "" && s.Build != s.Newest {
		v.Aged = true
		v.Missing = append(v.Missing, Missing{NeedBuild, "a repeat on build " + s.Newest + ", the newest seen"})
	}
	if len(v.Missing) == 0 {
		v.Eye = Open
	}
	return v
}

// wavering takes back that a part works where a trial with it read the check now so and now so: alone in it, it comes and
// goes; in company nobody knows whose it is. It says what is missing then.
func (h History) wavering(v *Verdict) []Missing {
	var missing []Missing
	for _, d := range h.Trials {
		if d.States[v.Slot] != v.State || !d.Waver[v.Check] || d.Skips[v.Check].Why != Counts {
			continue
		}
		if len(d.States) == 1 {
			v.Mark = Sporadic
			return lacks(NeedRepeat)
		}
		v.Mark, missing = Unsettled, lacks(NeedSeparate)
	}
	return missing
}

func (h History) trial(id string) *Derived {
	k, known := h.at[id]
	if !known {
		return nil
	}
	return &h.Trials[k]
}

// Summary is the mark of a slot and state over all checks, with the least eye behind it. Notices name the checks that
// are notices: a part that only brings notices works.
func Summary(verdicts []Verdict, notices func(check string) bool) (mark, eye string) {
	mark, eye = Untested, Shut
	worst := map[string]int{Untested: 0, Works: 1, Calibrated: 2, WithNotice: 3, Unsettled: 4, Together: 5, Sporadic: 6,
		Loses: 7, Dead: 8, NoSeat: 9}
	seen := false
	for _, v := range verdicts {
		m := v.Mark
		if m == Untested {
			continue
		}
		if m == Loses && notices(v.Check) {
			m = WithNotice
		}
		if worst[m] > worst[mark] {
			mark, eye, seen = m, v.Eye, true
		} else if m == mark && rank(v.Eye) < rank(eye) && seen {
			eye = v.Eye
		}
	}
	return mark, eye
}

func rank(eye string) int { return slices.Index([]string{Shut, Half, Open}, eye) }

// States lists the slots with the states in which they were tried, sorted.
func States(in diagnose.Input) [][2]string {
	seen := map[[2]string]bool{}
	for _, t := range in.Trials {
		for slot, state := range t.State {
			seen[[2]string{slot, state}] = true
		}
	}
	return slices.SortedFunc(maps.Keys(seen), func(a, b [2]string) int {
		if a[0] != b[0] {
			return strings.Compare(a[0], b[0])
		}
		return strings.Compare(a[1], b[1])
	})
}
