package swapstudy

import (
	"fmt"
	"slices"

	"waryowl/internal/core/culprit"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
)

// TrialOut is a trial with what follows from the history.
type TrialOut struct {
	ID       string                `json:"id"`
	States   map[string]string     `json:"states"`
	Warnings []string              `json:"warnings" nullable:"false"`
	Skips    map[string]ledger.Why `json:"skips"`
	ForPiece []string              `json:"for_piece" nullable:"false" doc:"checks whose skipped reading counts for pieces, seats and entries all the same"`
}

// CheckOut is the explanations still at work for a check.
type CheckOut struct {
	Marginal    map[string]float64 `json:"marginal"`
	Unexplained float64            `json:"unexplained" doc:"chance that some counted loss has nothing at work but noise"`
	LeftOut     float64            `json:"left_out" doc:"upper bound of the mass of sets of explanations that were not weighed"`
}

// Verdict is what a slot in a state does to a check.
type Verdict struct {
	Slot    string             `json:"slot"`
	State   string             `json:"state"`
	Check   string             `json:"check"`
	Verdict string             `json:"verdict"`
	P       *float64           `json:"p"`
	Eye     string             `json:"eye"`
	Missing []ledger.Condition `json:"missing" nullable:"false"`
	Until   string             `json:"until,omitempty" doc:"the act that ended the loss with the same piece fitted"`

	Boards map[string]ledger.BoardVerdict `json:"boards,omitempty"`
	Rate   *ledger.Rate                   `json:"rate,omitempty"`
	Scope  string                         `json:"scope,omitempty" enum:"alone,in company"`
	With   string                         `json:"with,omitempty"`
	How    string                         `json:"how,omitempty" enum:"both,parted"`
}

// Next is an act that would tell something.
type Next struct {
	Act     string   `json:"act"`
	Board   string   `json:"board"`
	From    string   `json:"from,omitempty"`
	Slots   []string `json:"slots" nullable:"false"`
	Minutes float64  `json:"minutes"`
	Bits    float64  `json:"bits"`
	Why     string   `json:"why,omitempty"`
	Assumed bool     `json:"assumed" doc:"the minutes are those of the kind: no way is on record"`

	Settles []string `json:"-"` // checks that it settles in part, the most first
}

// Cell is one combination of a factor table.
type Cell struct {
	Setting map[string]string `json:"setting"`
	Trials  []string          `json:"trials" nullable:"false"`
	Lost    int               `json:"lost"`
	Passed  int               `json:"passed"`
}

// Output is what the study showed.
type Output struct {
	Trials   []TrialOut          `json:"trials" nullable:"false"`
	Warnings []string            `json:"warnings" nullable:"false"`
	Checks   map[string]CheckOut `json:"checks"`
	Verdicts []Verdict           `json:"verdicts" nullable:"false"`
	Next     []Next              `json:"next" nullable:"false"`
	Factors  []Cell              `json:"factors,omitempty" nullable:"false"`

	Arrangements []culprit.Arrangement `json:"arrangements" nullable:"false"`

	Account []string `json:"account" nullable:"false"`
}

// Solve reads a study. Errors name the field: an unknown unit, slot, check, kind of act or result, a board that sits
// nowhere.
func Solve(in Input) (Output, error) {
	r := &reader{in: in}
	if err := r.read(); err != nil {
		return Output{}, err
	}
	s := r.study
	if len(r.order) > 0 {
		s.Newest = r.order[len(r.order)-1]
	}
	s.Build = in.Ask.Build
	if s.Build == "" {
		s.Build = s.Newest
	}
	for i, c := range in.Ask.Focus {
		if !r.check[c] {
			return Output{}, fault.New(fmt.Sprintf("ask.focus[%d]", i), c, "the mark of a check")
		}
	}
	h := s.Walk()
	out := Output{Trials: []TrialOut{}, Warnings: []string{}, Checks: map[string]CheckOut{}, Verdicts: []Verdict{},
		Next: []Next{}, Account: []string{}, Arrangements: []culprit.Arrangement{}}
	for _, d := range h.Trials {
		t := TrialOut{ID: d.ID, States: d.States, Warnings: r.warned(s, h, d), Skips: map[string]ledger.Why{}, ForPiece: []string{}}
		for c, why := range d.Skips {
			t.Skips[c] = why.Why
		}
		out.Trials = append(out.Trials, t)
	}
	for _, w := range s.Warnings(h, func(u string) string { return u }) {
		if !slices.Contains(out.Warnings, w.Kind) {
			out.Warnings = append(out.Warnings, w.Kind)
		}
	}
	if !slices.ContainsFunc(s.Baselines, func(b ledger.Baseline) bool { return len(b.Results) > 0 }) {
		out.Warnings = append(out.Warnings, "no baseline")
	}
	if len(s.Checks) == 0 {
		return out, nil
	}
	for _, u := range in.Units {
		for _, slot := range r.slots {
			s.Movable = append(s.Movable, ledger.Piece{Slot: slot, Unit: u.Name, Model: r.model(u.Name)})
		}
	}
	q := culprit.Ask(s, h)
	forPiece := q.ForPiece()
	for i := range out.Trials {
		out.Trials[i].ForPiece = append(out.Trials[i].ForPiece, forPiece[out.Trials[i].ID]...)
	}
	q.Weigh(s.Checks)
	for _, c := range s.Checks {
		k := q.Check(c)
		out.Checks[c] = CheckOut{k.Marginal, k.Unexplained, k.LeftOut}
		out.Arrangements = append(out.Arrangements, q.Arrangements(c)...)
	}
	fickle := false
	for _, st := range q.States() {
		for _, c := range s.Checks {
			v := q.Grade(st[0], st[1], c)
			if v.Mark == ledger.Untested {
				continue
			}
			x := Verdict{Slot: st[0], State: st[1], Check: c, Verdict: v.Mark, P: v.P, Eye: v.Eye,
				Missing: []ledger.Condition{}, Until: v.Until, Boards: v.Boards, Rate: v.Rate, Scope: v.Scope, With: v.With, How: v.How}
			if isNotice(c) && v.Mark == ledger.Loses {
				x.Verdict = ledger.WithNotice
			}
			fickle = fickle || x.Verdict == ledger.Sporadic
			for _, m := range v.Missing {
				x.Missing = append(x.Missing, m.Code)
			}
			out.Verdicts = append(out.Verdicts, x)
		}
	}
	fickle = fickle || slices.ContainsFunc(out.Trials,
		func(t TrialOut) bool { return slices.Contains(t.Warnings, intermittent) })
	if fickle {
		out.Warnings = append(out.Warnings, intermittent)
	}
	out.Next = r.atBench().Offer(&s, h, q, out.Verdicts)
	var err error
	if f := in.Ask.Factors; f != nil {
		if out.Factors, err = r.factors(s, h, *f); err != nil {
			return Output{}, err
		}
	}
	for _, t := range out.Trials {
		out.Account = append(out.Account, fmt.Sprintf("%s: %d parts from another phone.", t.ID, len(t.States)))
	}
	return out, nil
}

// intermittent warns of readings that come and go.
const intermittent = "intermittent"

// warned lists the guards that a trial raises by itself.
func (r *reader) warned(s ledger.Study, h ledger.History, d ledger.Derived) []string {
	list := []string{}
	add := func(is bool, kind string) {
		if is && !slices.Contains(list, kind) {
			list = append(list, kind)
		}
	}
	for _, why := range d.Skips {
		add(why.Why == ledger.Spoiled, ledger.SpoiledEvidence)
		add(why.Why == ledger.DeadGated, string(ledger.DeadGated))
		add(why.Why == ledger.NotAtBaseline, "not back at baseline")
	}
	own := 0
	for _, slot := range s.Slots {
		if d.States[slot] == "" {
			own++
		}
	}
	add(len(d.States) >= 3 && own > 0 && own <= 3, ledger.NotAllForeign)
	add(len(d.Waver) > 0 || s.Fickle(h, d), intermittent)
	slices.Sort(list)
	return list
}

func (r *reader) factors(s ledger.Study, h ledger.History, f Factors) ([]Cell, error) {
	if !r.check[f.Check] {
		return nil, fault.New("ask.factors.check", f.Check, "the mark of a check")
	}
	if len(f.Slots) < 2 || len(f.Slots) > 3 {
		return nil, fault.New("ask.factors.slots", len(f.Slots), "two or three slots")
	}
	for i, slot := range f.Slots {
		if !slices.Contains(r.slots, slot) {
			return nil, fault.New(fmt.Sprintf("ask.factors.slots[%d]", i), slot, "a slot of the model")
		}
	}
	cells := []Cell{}
	for _, c := range s.Factors(h, f.Slots, f.Check, false) {
		x := Cell{Setting: map[string]string{}, Trials: c.Trials, Lost: c.Lost, Passed: c.Passed}
		for i, slot := range f.Slots {
			x.Setting[slot] = map[bool]string{true: "unmatched", false: "matched"}[c.Other[i]]
		}
		cells = append(cells, x)
	}
	return cells, nil
}
