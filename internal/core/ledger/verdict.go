package ledger

import (
	"maps"
	"slices"
	"strings"

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
	Unsettled  = "not settled"
	Untested   = "untested"

	Shut = "shut"
	Half = "half"
	Open = "open"
)

// settling is what must have gone by before a late reading counts as settled.
var settling = []string{"restart", "charge", "settling"}

// Verdict says what a part in this state does to a check on one build. P is the posterior that it costs the function, always,
// sometimes or until an act, nil when the trials contradict each other without noise. Missing are the conditions still open for a full eye; Aged
// says that a newer build was seen.
type Verdict struct {
	Slot    string    `json:"slot"`
	State   string    `json:"state"`
	Check   string    `json:"check"`
	Mark    string    `json:"mark" enum:"works,works once calibrated,loses,intermittent,interaction,dead,not settled,untested"`
	Eye     string    `json:"eye" enum:"shut,half,open"`
	P       *float64  `json:"p,omitempty"`
	For     []string  `json:"for" nullable:"false" doc:"trials that showed a loss with it"`
	Against []string  `json:"against" nullable:"false" doc:"trials that passed with it"`
	Missing []Missing `json:"missing" nullable:"false"`
	Aged    bool      `json:"aged,omitempty" doc:"a newer build was seen"`
	Note    string    `json:"note,omitempty"`
	Until   string    `json:"until,omitempty" doc:"the act that ended the loss with the same piece fitted"`
	With    string    `json:"with,omitempty" doc:"the part that it is lost together with"`
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

// Grade judges one slot and state for one check from the question that was asked and its answer. A loss counts as known
// from 0.9, as harmless up to 0.1. The eye opens fully only when every condition of its kind of verdict holds.
func (s Study) Grade(h History, in diagnose.Input, out diagnose.Output, slot, state, check string) Verdict {
	v := Verdict{Slot: slot, State: state, Check: check, Mark: Untested, Eye: Shut, For: []string{},
		Against: []string{}, Missing: []Missing{}}
	atom := h.atoms.name(Atom{Kind: Foreignness, Slots: []string{slot}, State: state})
	var with []diagnose.Trial
	for _, t := range in.Trials {
		if t.State[slot] != state {
			continue
		}
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
	partner := s.partner(h, c, with, v)
	switch {
	case until.Act == "" && h.stays(v):
		v.Missing = lacks(NeedControl)
	case until.Act != "":
		v.Until = until.Act
		v.Missing = lacks(NeedRepeat)
		if len(until.Boards) > 1 {
			v.Mark, v.Missing = Loses, s.missingForLoss(h, in, c, v, with)
		}
	case sometimes >= 0.5 && sometimes > always && len(v.For) > 1 && len(v.Against) > 0:
		v.Mark, v.Missing = Sporadic, s.missingForLoss(h, in, c, v, with)
	case always >= 0.9:
		v.Mark = Loses
		if check == "boot" {
			v.Mark = Dead
		}
		v.Missing = s.missingForLoss(h, in, c, v, with)
	case partner != "":
		v.Mark, v.With, v.Missing = Together, partner, s.missingForLoss(h, in, c, v, with)
	case p <= 0.1 && len(v.Against) > 0 && explained(h, c, with, v):
		v.Mark = Works
		if state == "adopted" {
			v.Mark, v.Note = Calibrated, "seen on one board: the other stays the control"
		}
		v.Missing = s.missingForHarmless(h, v, with)
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

// stays says whether every loss with a part was on a board that keeps it with its own pieces: then nobody knows whose it
// is.
func (h History) stays(v Verdict) bool {
	return len(v.For) > 0 && !slices.ContainsFunc(v.For, func(id string) bool {
		d := h.trial(id)
		return d == nil || h.Sticky[d.Board.Unit][v.Check] == ""
	})
}

// explained says whether every loss with a part has a cause beside it that is settled: one explanation, or a group that
// cannot be told apart, of 0.9 or more.
func explained(h History, c *diagnose.Check, with []diagnose.Trial, v Verdict) bool {
	own := func(a string) bool {
		x := h.Atom(a)
		return (x.Kind == Foreignness || x.Kind == Sometimes || x.Kind == UntilAct) && x.Slots[0] == v.Slot
	}
	for _, t := range with {
		if !slices.Contains(v.For, t.ID) {
			continue
		}
		names := t.AtomNames()
		settled := slices.ContainsFunc(names, func(a string) bool { return !own(a) && c.Marginal[a] >= 0.9 }) ||
			slices.ContainsFunc(c.Groups, func(g []string) bool {
				sum := 0.0
				for _, a := range g {
					if own(a) || !slices.Contains(names, a) {
						return false
					}
					sum += c.Marginal[a]
				}
				return sum >= 0.9
			})
		if !settled {
			return false
		}
	}
	return true
}

// partner is the slot that a part is lost together with more than once, neither alone; "" for none.
func (s Study) partner(h History, c *diagnose.Check, with []diagnose.Trial, v Verdict) string {
	for _, t := range with {
		for _, a := range t.AtomNames() {
			x := h.Atom(a)
			if x.Kind != Both || c.Marginal[a] < 0.5 || !slices.Contains(x.Slots, v.Slot) {
				continue
			}
			other := x.Slots[0]
			if other == v.Slot {
				other = x.Slots[1]
			}
			together, alone := 0, false
			for _, o := range with {
				switch lost := isLost(o.Results[v.Check]); {
				case lost && o.State[other] != "":
					together++
				case !lost && o.State[other] == "":
					alone = true
				}
			}
			if together > 1 && alone {
				return other
			}
		}
	}
	return ""
}

// until says which act ended the losses of a slot in a state, and on which boards.
func (s Study) until(h History, in diagnose.Input, slot, state, check string) Ended {
	x := suspicion{s: s, h: h, in: &in, facts: s.facts(h)}
	return x.until(slot, state, check)
}

func (h History) trial(id string) *Derived {
	k := slices.IndexFunc(h.Trials, func(d Derived) bool { return d.ID == id })
	if k < 0 {
		return nil
	}
	return &h.Trials[k]
}

// cleared says which explanations a passing trial exonerates. An accident of the bench, and what only the readings
// brought up, is cleared once they make it unlikely.
func cleared(h History, in diagnose.Input, c *diagnose.Check, check string) map[string]bool {
	done := map[string]bool{}
	for _, t := range in.Trials {
		for _, a := range t.AtomNames() {
			done[a] = done[a] || t.Results[check] == "pass" || h.Atom(a).Accident() && c.Marginal[a] <= 0.1 ||
				h.Atom(a).BroughtUp() && c.Marginal[a] <= 0.05
		}
	}
	return done
}

func (s Study) missingForLoss(h History, in diagnose.Input, c *diagnose.Check, v Verdict,
	with []diagnose.Trial) []Missing {
	var missing []Condition
	done := cleared(h, in, c, v.Check)
	own := func(a string) bool { // the part itself, always, sometimes or until an act
		x := h.Atom(a)
		return (x.Kind == Foreignness || x.Kind == Sometimes || x.Kind == UntilAct) && x.Slots[0] == v.Slot &&
			x.State == v.State
	}
	isolated := slices.ContainsFunc(with, func(t diagnose.Trial) bool {
		return slices.Contains(v.For, t.ID) && !slices.ContainsFunc(t.AtomNames(),
			func(a string) bool { return !own(a) && !done[a] })
	})
	if !isolated {
		missing = append(missing, NeedIsolated)
	}
	control, home := false, false
	for i, t := range h.Trials {
		if !slices.Contains(v.For, t.ID) {
			continue
		}
		control = control || s.controlled(h, i, v)
		for _, p := range t.Pieces {
			home = home || p.Slot == v.Slot && s.worksAtHome(h, p, v.Check)
		}
		home = home || v.State == "off" // nothing is there that could be defective
	}
	if !control {
		missing = append(missing, NeedControl)
	}
	if !home {
		missing = append(missing, NeedHome)
	}
	if h.fittings(v.Slot, v.For) < 2 {
		missing = append(missing, NeedRepeat)
	}
	return lacks(missing...)
}

// controlled says whether a later trial on the board of trial i passed with the original put back and nothing else
// changed: every other piece the same, no act that changes the board, no piece damaged.
func (s Study) controlled(h History, i int, v Verdict) bool {
	t := h.Trials[i]
	lost := s.fitted(t.Board, t.Pieces)
	for _, later := range h.Trials[i+1:] {
		if slices.ContainsFunc(later.Before, func(a Act) bool {
			return a.Kind == Damage || a.Board == t.Board.Unit && (a.Kind == Calibrate && a.Accepted ||
				slices.Contains(endings, a.Kind))
		}) {
			return false
		}
		if later.Board != t.Board || later.Results[v.Check] != "pass" || later.Skips[v.Check].Why != Counts ||
			later.States[v.Slot] != "" {
			continue
		}
		same := true
		for slot, p := range s.fitted(later.Board, later.Pieces) {
			same = same && (slot == v.Slot || p == lost[slot])
		}
		if same {
			return true
		}
	}
	return false
}

// fittings counts how often a slot was fitted anew among trials: another board, another piece, or seated anew.
func (h History) fittings(slot string, trials []string) int {
	seen := map[string]bool{}
	for _, id := range trials {
		d := h.trial(id)
		if d == nil {
			continue
		}
		key := d.Board.Unit
		for _, f := range d.Fits {
			if h.Atom(f).Slots[0] == slot {
				key = f
			}
		}
		for _, p := range d.Pieces { // a copy after another of the same lot is a fitting of its own
			if p.Slot == slot {
				key += " " + p.ID()
			}
		}
		seen[key] = true
	}
	return len(seen)
}

// worksAtHome is the home check: the piece's own board passes with it, before it was opened or later.
func (s Study) worksAtHome(h History, p Piece, check string) bool {
	if p.Origin != "" {
		return false
	}
	for _, b := range s.Baselines {
		if b.Board.Unit == p.Unit && b.Results[check] == "pass" {
			return true
		}
	}
	return slices.ContainsFunc(h.Trials, func(d Derived) bool {
		return d.Board.Unit == p.Unit && d.Results[check] == "pass" && d.Skips[check].Why == Counts &&
			d.States[p.Slot] == ""
	})
}

func (s Study) missingForHarmless(h History, v Verdict, with []diagnose.Trial) []Missing {
	var missing []Condition
	alone, full, late, before := false, false, false, false
	for _, t := range with {
		d := h.trial(t.ID)
		if d == nil || !slices.Contains(v.Against, t.ID) {
			continue
		}
		alone = alone || len(t.State) == 1
		full = full || !slices.ContainsFunc(s.Checks, func(c string) bool {
			return s.Groups[c] == s.Groups[v.Check] && (d.Results[c] == "" || d.Results[c] == "skipped")
		})
		first := d.Results[v.Check]
		if d.First != nil {
			first = d.First[v.Check]
		}
		late = late || first == "pass" && !slices.ContainsFunc(settling,
			func(w string) bool { return !slices.Contains(d.Settled[v.Check], w) })
		before = before || slices.ContainsFunc(s.Baselines,
			func(b Baseline) bool { return b.Board == d.Board && b.Results[v.Check] == "pass" })
	}
	for _, c := range []struct {
		holds bool
		says  Condition
	}{
		{alone, NeedAlone},
		{full, NeedDepth},
		{late, NeedLate},
		{before, NeedBaseline},
		{h.fittings(v.Slot, v.Against) >= 2, NeedRepeat},
	} {
		if !c.holds {
			missing = append(missing, c.says)
		}
	}
	return lacks(missing...)
}

// Summary is the mark of a slot and state over all checks, with the least eye behind it. Notices name the checks that
// are notices: a part that only brings notices works.
func Summary(verdicts []Verdict, notices func(check string) bool) (mark, eye string) {
	mark, eye = Untested, Shut
	worst := map[string]int{Untested: 0, Works: 1, Calibrated: 2, WithNotice: 3, Unsettled: 4, Together: 5, Sporadic: 6,
		Loses: 7, Dead: 8}
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
