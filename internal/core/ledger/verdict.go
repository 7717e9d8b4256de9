package ledger

import (
	"fmt"
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
	Dead       = "dead"
	Unsettled  = "not settled"
	Untested   = "untested"

	Shut = "shut"
	Half = "half"
	Open = "open"
)

// settling is what must have gone by before a late reading counts as settled.
var settling = []string{"restart", "charge", "settling"}

// Verdict says what a part in this state does to a check on one build. P is the posterior that it costs the function,
// nil when the trials contradict each other without noise. Missing are the conditions still open for a full eye; Aged
// says that a newer build was seen.
type Verdict struct {
	Slot    string    `json:"slot"`
	State   string    `json:"state"`
	Check   string    `json:"check"`
	Mark    string    `json:"mark" enum:"works,works once calibrated,loses,dead,not settled,untested"`
	Eye     string    `json:"eye" enum:"shut,half,open"`
	P       *float64  `json:"p,omitempty"`
	For     []string  `json:"for" nullable:"false" doc:"trials that showed a loss with it"`
	Against []string  `json:"against" nullable:"false" doc:"trials that passed with it"`
	Missing []Missing `json:"missing" nullable:"false"`
	Aged    bool      `json:"aged,omitempty" doc:"a newer build was seen"`
	Note    string    `json:"note,omitempty"`
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
	cleared := map[string]bool{} // atoms that a passing trial exonerates
	var with []diagnose.Trial
	for _, t := range in.Trials {
		for _, a := range t.AtomNames() {
			cleared[a] = cleared[a] || t.Results[check] == "pass"
			// An accident of the bench is cleared once the readings make it unlikely.
			if k := out.Checks[check]; h.Atom(a).Accident() && k != nil && k.Marginal[a] <= 0.1 {
				cleared[a] = true
			}
		}
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
	p := c.Marginal[atom]
	v.P = &p
	switch {
	case p >= 0.9:
		v.Mark = Loses
		if check == "boot" {
			v.Mark = Dead
		}
		v.Missing = s.missingForLoss(h, v, with, cleared, atom)
	case p <= 0.1 && len(v.Against) > 0:
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

func (h History) trial(id string) *Derived {
	k := slices.IndexFunc(h.Trials, func(d Derived) bool { return d.ID == id })
	if k < 0 {
		return nil
	}
	return &h.Trials[k]
}

func (s Study) missingForLoss(h History, v Verdict, with []diagnose.Trial, cleared map[string]bool,
	atom string) []Missing {
	var missing []Condition
	isolated := slices.ContainsFunc(with, func(t diagnose.Trial) bool {
		return slices.Contains(v.For, t.ID) && !slices.ContainsFunc(t.AtomNames(),
			func(a string) bool { return a != atom && !cleared[a] })
	})
	if !isolated {
		missing = append(missing, NeedIsolated)
	}
	control, home := false, false
	for i, t := range h.Trials {
		if !slices.Contains(v.For, t.ID) {
			continue
		}
		for _, later := range h.Trials[i+1:] {
			control = control || later.Board == t.Board && later.Results[v.Check] == "pass" &&
				later.Skips[v.Check].Why == Counts && later.States[v.Slot] == ""
		}
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
	if len(v.For) < 2 {
		missing = append(missing, NeedRepeat)
	}
	return lacks(missing...)
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
		return d.Board.Unit == p.Unit && d.Results[check] == "pass" && d.Skips[check].Why == Counts && d.States[p.Slot] == ""
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
		{len(v.Against) >= 2, NeedRepeat},
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
	worst := map[string]int{Untested: 0, Works: 1, Calibrated: 2, WithNotice: 3, Unsettled: 4, Loses: 5, Dead: 6}
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

// Cell is one setting of a factor table: for each factor whether it is other than own, and the trials that stand there.
type Cell struct {
	Other   []bool   `json:"other" nullable:"false" doc:"per factor: not the board's own"`
	Trials  []string `json:"trials" nullable:"false"`
	Lost    int      `json:"lost"`
	Passed  int      `json:"passed"`
	Company []string `json:"company" nullable:"false" doc:"trials in which further parts were not own"`
}

// Factors fills the 2×2 (or 2×2×2) table of two or three slots for one check: every combination of own and other, empty
// cells included. Trials with further parts that are not own count in their cell and are named as such; slots left off
// do not belong.
func (s Study) Factors(h History, slots []string, check string) []Cell {
	cells := make([]Cell, 1<<len(slots))
	for k := range cells {
		cells[k] = Cell{Other: make([]bool, len(slots)), Trials: []string{}, Company: []string{}}
		for i := range slots {
			cells[k].Other[i] = k>>i&1 == 1
		}
	}
	add := func(id, result string, at int, company bool) {
		if result != "pass" && result != "lost" && result != "weak" {
			return
		}
		c := &cells[at]
		c.Trials = append(c.Trials, id)
		if company {
			c.Company = append(c.Company, id)
		}
		if result == "pass" {
			c.Passed++
		} else {
			c.Lost++
		}
	}
	for _, b := range s.Baselines {
		if b.Build == s.Build {
			add("baseline-"+b.Board.Unit, b.Results[check], 0, false)
		}
	}
	for _, d := range h.Trials {
		if d.Build != s.Build || d.Skips[check].Why != Counts {
			continue
		}
		at, off := 0, false
		for i, slot := range slots {
			off = off || d.States[slot] == "off"
			if st := d.States[slot]; st != "" && st != "adopted" { // what the ledger names is matched, adopted or not
				at |= 1 << i
			}
		}
		if !off {
			others := len(d.States)
			for i := range slots {
				others -= at >> i & 1
			}
			add(d.ID, d.Results[check], at, others > 0)
		}
	}
	return cells
}

// Warning is a guard that is shown before anyone draws a conclusion.
type Warning struct {
	Kind string `json:"kind" enum:"not back at baseline,spoiled evidence,dead gate,builds differ,not all foreign,last control,halt"`
	Text string `json:"text"`
}

// Warnings lists the guards that stand now. name says what a board is called.
func (s Study) Warnings(h History, name func(unit string) string) []Warning {
	list := []Warning{}
	add := func(kind, format string, args ...any) {
		list = append(list, Warning{kind, fmt.Sprintf(format, args...)})
	}
	for _, unit := range slices.Sorted(maps.Keys(h.Sticky)) {
		var lost []string
		for _, c := range slices.Sorted(maps.Keys(h.Sticky[unit])) {
			lost = append(lost, c+" since "+h.Sticky[unit][c])
		}
		if len(lost) > 0 {
			add("not back at baseline", "%s is not back at its baseline: %s. Its further trials do not count for that until a control passes; reset or flash, then run a control.", name(unit), strings.Join(lost, ", "))
		}
	}
	for _, id := range slices.Sorted(maps.Keys(h.Damaged)) {
		add("spoiled evidence", "The %s is damaged (%s): trials with it prove nothing.", h.said(id, name), h.Damaged[id])
	}
	for _, what := range slices.Sorted(maps.Keys(h.Damages)) {
		if h.Damages[what] > 1 {
			add("halt", "%s for the %d. time: stop until the method changes.", what, h.Damages[what])
		}
	}
	builds := slices.Sorted(maps.Values(h.Builds))
	builds = slices.DeleteFunc(slices.Compact(builds), func(b string) bool { return b == "" })
	if len(builds) > 1 {
		add("builds differ", "The boards carry different builds (%s): a difference between them may be the software's, and verdicts are kept apart.", strings.Join(builds, ", "))
	}
	if len(h.Marked) > 0 && len(h.Builds) > len(h.Marked) {
		for _, unit := range h.Marked {
			add("last control", "%s can no longer go back; every other unit stays as it is, as the control.",
				name(unit))
		}
	}
	if n := len(h.Trials); n > 0 {
		d := h.Trials[n-1]
		if own := s.ownIn(d); len(d.States) >= 3 && len(own) > 0 && len(own) <= 3 {
			add("not all foreign", "%s is not all foreign: the %s in it is the board's own.", d.ID,
				strings.Join(own, " and the "))
		}
		if d.Results["boot"] == "lost" && len(MissingGate(d.DeadGate)) > 0 {
			add("dead gate", "%s does not count as dead yet; still to try: %s.", d.ID,
				strings.Join(MissingGate(d.DeadGate), ", "))
		}
	}
	return list
}

// ownIn lists the leaves that are the board's own in a trial.
func (s Study) ownIn(d Derived) []string {
	var own []string
	for _, slot := range s.Slots {
		if d.States[slot] == "" {
			own = append(own, slot)
		}
	}
	return own
}

// said names a damaged piece.
func (h History) said(id string, name func(string) string) string {
	if p, known := h.pieces[id]; known && p.Origin == "" {
		return p.Slot + " of " + name(p.Unit)
	}
	return id
}

// Unlearnable says what can no longer be learned once an irreversible act is done on a board: cells that were never
// seen on the build it carries now, and the entry of the ledger.
func (s Study) Unlearnable(h History, kind, unit string, name func(string) string) []string {
	if !Irreversible(kind) {
		return nil
	}
	var lost []string
	seen := map[string]bool{}
	for _, d := range h.Trials {
		if d.Build == h.Builds[unit] {
			for c, r := range d.Results {
				if r != "skipped" && d.Skips[c].Why == Counts {
					seen[c] = true
				}
			}
		}
	}
	if n := len(s.Checks) - len(seen); kind != Calibrate && n > 0 {
		what := fmt.Sprintf("%d checks were", n)
		if n == 1 {
			what = "1 check was"
		}
		lost = append(lost, fmt.Sprintf("%s never seen in a trial on build %s; on %s that can never be made up for",
			what, h.Builds[unit], name(unit)))
	}
	if kind == Calibrate {
		lost = append(lost, "the board's entry is replaced: the original becomes a stranger to it and needs calibration again, and the history marks the phone for good")
	}
	for _, other := range h.Marked {
		if other != unit {
			lost = append(lost, name(other)+" can no longer go back already: with "+name(unit)+" the last control goes")
			break
		}
	}
	return lost
}
