package swapstudy

import (
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
)

// TrialOut is a trial with what follows from the history.
type TrialOut struct {
	ID       string                `json:"id"`
	States   map[string]string     `json:"states"`
	Warnings []string              `json:"warnings" nullable:"false"`
	Skips    map[string]ledger.Why `json:"skips"`
}

// CheckOut is the explanations still at work for a check.
type CheckOut struct {
	Marginal map[string]float64 `json:"marginal"`
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
	Account  []string            `json:"account" nullable:"false"`
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
		Next: []Next{}, Account: []string{}}
	for _, d := range h.Trials {
		t := TrialOut{ID: d.ID, States: d.States, Warnings: warned(s, h, d), Skips: map[string]ledger.Why{}}
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
	acts := r.candidates(&s, h)
	list := make([]diagnose.Candidate, len(acts))
	for i, a := range acts {
		list[i] = a.question
	}
	q, _ := s.Question(h, list)
	ans, err := diagnose.Run(plainIDs(q))
	if err != nil {
		return Output{}, err
	}
	for c, k := range ans.Checks {
		out.Checks[c] = CheckOut{suspects(q, c, k)}
	}
	fickle := false
	for _, st := range ledger.States(q) {
		for _, c := range s.Checks {
			v := s.Grade(h, q, ans, st[0], st[1], c)
			if v.Mark == ledger.Untested {
				continue
			}
			x := Verdict{Slot: st[0], State: st[1], Check: c, Verdict: v.Mark, P: v.P, Eye: v.Eye,
				Missing: []ledger.Condition{}, Until: v.Until}
			if isNotice(c) && v.Mark == ledger.Loses {
				x.Verdict = ledger.WithNotice
			}
			fickle = fickle || v.Mark == ledger.Sporadic
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
	out.Next = r.next(ans, acts, q)
	if f := in.Ask.Factors; f != nil {
		if out.Factors, err = r.factors(s, h, *f); err != nil {
			return Output{}, err
		}
	}
	for _, t := range out.Trials {
		out.Account = append(out.Account, fmt.Sprintf("%s: %d slots not the board's own.", t.ID, len(t.States)))
	}
	return out, nil
}

// intermittent warns of readings that come and go.
const intermittent = "intermittent"

// plainIDs gives the trials ids of the engine's own: names of units and trials are free text here.
func plainIDs(q diagnose.Input) diagnose.Input {
	q.Trials = slices.Clone(q.Trials)
	for i := range q.Trials {
		q.Trials[i].ID = fmt.Sprintf("q%d", i)
	}
	return q
}

// warned lists the guards that a trial raises by itself.
func warned(s ledger.Study, h ledger.History, d ledger.Derived) []string {
	list := []string{}
	add := func(is bool, kind string) {
		if is && !slices.Contains(list, kind) {
			list = append(list, kind)
		}
	}
	for _, why := range d.Skips {
		add(why.Why == ledger.Spoiled, "spoiled evidence")
		add(why.Why == ledger.DeadGated, "dead gate")
		add(why.Why == ledger.NotAtBaseline, "not back at baseline")
	}
	own := 0
	for _, slot := range s.Slots {
		if d.States[slot] == "" {
			own++
		}
	}
	add(len(d.States) >= 3 && own > 0 && own <= 3, "not all foreign")
	add(s.Fickle(h, d), intermittent)
	slices.Sort(list)
	return list
}

// suspects are the explanations that were present in a lost reading that counts.
func suspects(q diagnose.Input, check string, k *diagnose.Check) map[string]float64 {
	out := map[string]float64{}
	if k.Marginal == nil {
		return nil
	}
	for _, t := range q.Trials {
		if v := t.Results[check]; v != "lost" && v != "weak" {
			continue
		}
		for _, a := range t.AtomNames() {
			if p, known := k.Marginal[a]; known {
				out[a] = p
			}
		}
	}
	return out
}

// proposed is a candidate with the act that it is.
type proposed struct {
	question diagnose.Candidate
	act      Next
}

// Minutes of a swap where no way is on record, and of what each further slot, a control and a board cost (house).
const (
	swapMinutes    = 14.0
	slotMinutes    = 4.0
	controlMinutes = 12.0
)

// candidates are every slot alone, declared mates together, the whole board, and the originals put back, on every board
// of the build.
func (r *reader) candidates(s *ledger.Study, h ledger.History) []proposed {
	if len(r.in.Units) < 2 {
		return nil
	}
	for _, u := range r.in.Units {
		for _, slot := range r.slots {
			s.Movable = append(s.Movable, ledger.Piece{Slot: slot, Unit: u.Name, Model: r.model(u.Name)})
		}
	}
	moved := s.Moved(h)
	var list []proposed
	add := func(act string, board, from string, slots []string, minutes float64) {
		b := r.board(board)
		states := map[string]string{}
		var pieces []ledger.Piece
		for _, slot := range slots {
			p := ledger.Piece{Slot: slot, Unit: from, Model: r.model(from)}
			pieces = append(pieces, p)
			states[slot] = ledger.State(b, h.Entries[board], p)
		}
		setup := s.Setup(h, b, states, pieces, moved)
		setup.Atoms = append(setup.Atoms, h.Ahead(b, s.Slots, pieces, false)...)
		n := Next{Act: act, Board: board, From: from, Slots: append([]string{}, slots...), Minutes: minutes}
		list = append(list, proposed{diagnose.Candidate{ID: fmt.Sprintf("c%d", len(list)), Minutes: minutes,
			Unit: strings.ToLower(board), Setup: setup}, n})
	}
	for i, u := range r.in.Units {
		if h.Builds[u.Name] != s.Build {
			continue
		}
		from := r.in.Units[(i+1)%len(r.in.Units)].Name
		for _, slot := range r.slots {
			add("swap", u.Name, from, []string{slot}, swapMinutes)
		}
		for _, m := range s.Mates {
			add("swap", u.Name, from, m[:], swapMinutes+slotMinutes)
		}
		if len(r.slots) > 2 {
			add("swap", u.Name, from, r.slots, 2*swapMinutes)
		}
		if len(s.Trials) > 0 {
			add("control", u.Name, u.Name, nil, controlMinutes)
		}
	}
	return list
}

// next ranks the acts by bits per minute over the checks in focus.
func (r *reader) next(ans diagnose.Output, acts []proposed, q diagnose.Input) []Next {
	ranked := ans.Next
	if f := r.in.Ask.Focus; len(f) > 0 {
		narrow := plainIDs(q)
		narrow.Checks, narrow.Brief = f, true
		if a, err := diagnose.Run(narrow); err == nil {
			ranked = a.Next
		}
	}
	list := []Next{}
	for _, n := range ranked {
		k := slices.IndexFunc(acts, func(a proposed) bool { return a.question.ID == n.ID })
		if k < 0 || n.Bits < 0.005 && len(list) > 0 || len(list) == 8 {
			continue
		}
		x := acts[k].act
		x.Bits = n.Bits
		list = append(list, x)
	}
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
	for _, c := range s.Factors(h, f.Slots, f.Check) {
		x := Cell{Setting: map[string]string{}, Trials: c.Trials, Lost: c.Lost, Passed: c.Passed}
		for i, slot := range f.Slots {
			x.Setting[slot] = map[bool]string{true: "unmatched", false: "matched"}[c.Other[i]]
		}
		cells = append(cells, x)
	}
	return cells, nil
}
