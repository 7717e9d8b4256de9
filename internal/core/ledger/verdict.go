package ledger

import (
	"maps"
	"slices"
	"strings"

	"waryowl/internal/core/diagnose"
)

// Marks of a verdict and eyes of its evidence.
const (
	Works     = "works"
	Loses     = "loses functions"
	Unsettled = "not settled"
	Untested  = "untested"

	Shut = "shut"
	Half = "half"
	Open = "open"
)

// Verdict says what a part in this state does to a check on one build. P is the posterior that it costs the function, nil
// when the trials contradict each other without noise. Missing are the conditions still open for a full eye.
type Verdict struct {
	Slot    string   `json:"slot"`
	State   string   `json:"state"`
	Check   string   `json:"check"`
	Mark    string   `json:"mark" enum:"works,loses functions,not settled,untested"`
	Eye     string   `json:"eye" enum:"shut,half,open"`
	P       *float64 `json:"p,omitempty"`
	For     []string `json:"for" nullable:"false" doc:"trials that showed a loss with it"`
	Against []string `json:"against" nullable:"false" doc:"trials that passed with it"`
	Missing []string `json:"missing" nullable:"false"`
}

// Grade judges one slot and state for one check from the question that was asked and its answer. A loss counts as known
// from 0.9, as harmless up to 0.1.
func (s Study) Grade(in diagnose.Input, out diagnose.Output, slot, state, check string) Verdict {
	v := Verdict{Slot: slot, State: state, Check: check, Mark: Untested, Eye: Shut, For: []string{}, Against: []string{}, Missing: []string{}}
	atom := slot + ":" + state
	cleared := map[string]bool{} // atoms that a passing trial exonerates
	var with []diagnose.Trial
	for _, t := range in.Trials {
		if t.Results[check] == "pass" {
			for _, a := range t.AtomNames() {
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
		v.Missing = append(v.Missing, "a trial with it")
		return v
	}
	v.Mark = Unsettled
	c := out.Checks[check]
	if c == nil || !c.Consistent {
		v.Missing = append(v.Missing, "trials that do not contradict each other")
		return v
	}
	p := c.Marginal[atom]
	v.P = &p
	switch {
	case p >= 0.9:
		v.Mark, v.Eye = Loses, Half
		v.Missing = s.missingForLoss(v, with, cleared, atom)
	case p <= 0.1 && len(v.Against) > 0:
		v.Mark, v.Eye = Works, Half
		v.Missing = missingForHarmless(v, with)
	default:
		v.Eye = Half
		v.Missing = append(v.Missing, "a trial that separates it from the other suspects")
	}
	if len(v.Missing) == 0 {
		v.Eye = Open
	}
	return v
}

func (s Study) missingForLoss(v Verdict, with []diagnose.Trial, cleared map[string]bool, atom string) []string {
	missing := []string{}
	isolated := slices.ContainsFunc(with, func(t diagnose.Trial) bool {
		return slices.Contains(v.For, t.ID) && !slices.ContainsFunc(t.AtomNames(), func(a string) bool { return a != atom && !cleared[a] })
	})
	if !isolated {
		missing = append(missing, "a lost trial in which every other suspect is cleared")
	}
	control, home := false, false
	for i, t := range s.Trials {
		if !slices.Contains(v.For, t.ID) {
			continue
		}
		for _, later := range s.Trials[i+1:] {
			if later.Board == t.Board && later.Results[v.Check] == "pass" && !slices.ContainsFunc(later.Pieces, func(p Piece) bool { return p.Slot == v.Slot }) {
				control = true
			}
		}
		for _, p := range t.Pieces {
			home = home || p.Slot == v.Slot && slices.ContainsFunc(s.Baselines, func(b Baseline) bool {
				return b.Board.Unit == p.Unit && b.Results[v.Check] == "pass"
			})
		}
	}
	if !control {
		missing = append(missing, "the original put back and the check returned")
	}
	if !home {
		missing = append(missing, "the same piece seen working on its own board")
	}
	if len(v.For) < 2 {
		missing = append(missing, "a repeat on the second board or in a second fitting")
	}
	return missing
}

func missingForHarmless(v Verdict, with []diagnose.Trial) []string {
	missing := []string{}
	if !slices.ContainsFunc(with, func(t diagnose.Trial) bool { return len(t.State) == 1 && slices.Contains(v.Against, t.ID) }) {
		missing = append(missing, "a passing trial of its own")
	}
	if len(v.Against) < 2 {
		missing = append(missing, "a second fitting")
	}
	return append(missing, "a reading after restart, charge and settling")
}

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
