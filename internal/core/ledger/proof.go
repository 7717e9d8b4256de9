package ledger

import (
	"slices"

	"waryowl/internal/core/diagnose"
)

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
func (g *Grader) explained(c *diagnose.Check, with []*diagnose.Trial, v Verdict) bool {
	own := func(a string) bool {
		x := g.h.Atom(a)
		return (x.Kind == Foreignness || x.Kind == Sometimes || x.Kind == UntilAct) && x.Slots[0] == v.Slot
	}
	for _, t := range with {
		if !slices.Contains(v.For, t.ID) {
			continue
		}
		names := g.names[t.ID]
		settled := slices.ContainsFunc(names, func(a string) bool { return !own(a) && c.Marginal[a] >= 0.9 }) ||
			slices.ContainsFunc(c.Groups, func(group []string) bool {
				sum := 0.0
				for _, a := range group {
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
func (g *Grader) partner(c *diagnose.Check, with []*diagnose.Trial, v Verdict) string {
	if len(v.For) < 2 {
		return ""
	}
	some, known := g.both[v.Check]
	if !known {
		for a, p := range c.Marginal {
			some = some || p >= 0.5 && g.h.Atom(a).Kind == Both
		}
		g.both[v.Check] = some
	}
	if !some {
		return ""
	}
	for _, t := range with {
		for _, a := range g.names[t.ID] {
			x := g.h.Atom(a)
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

// cleared says which explanations a passing trial exonerates. An accident of the bench, and what only the readings
// brought up, is cleared once they make it unlikely.
func (g *Grader) cleared(c *diagnose.Check, check string) map[string]bool {
	if done, known := g.done[check]; known {
		return done
	}
	h, done := g.h, map[string]bool{}
	g.done[check] = done
	for _, t := range g.in.Trials {
		for _, a := range g.names[t.ID] {
			done[a] = done[a] || t.Results[check] == "pass" || h.Atom(a).Accident() && c.Marginal[a] <= 0.1 ||
				h.Atom(a).BroughtUp() && c.Marginal[a] <= 0.05
		}
	}
	return done
}

func (g *Grader) missingForLoss(c *diagnose.Check, v Verdict, with []*diagnose.Trial) []Missing {
	s, h := g.s, g.h
	var missing []Condition
	done := g.cleared(c, v.Check)
	own := func(a string) bool { // the part itself, always, sometimes or until an act
		x := h.Atom(a)
		return (x.Kind == Foreignness || x.Kind == Sometimes || x.Kind == UntilAct) && x.Slots[0] == v.Slot &&
			x.State == v.State
	}
	isolated := slices.ContainsFunc(with, func(t *diagnose.Trial) bool {
		return slices.Contains(v.For, t.ID) && !slices.ContainsFunc(g.names[t.ID],
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

// Controlled says whether a later trial on the board of a trial passed with the original put back and nothing else changed.
func (s Study) Controlled(h History, trial string, v Verdict) bool {
	i, known := h.at[trial]
	return known && s.controlled(h, i, v)
}

// WorksAtHome says whether a piece's own board passes a check with it, before it was opened or later.
func (s Study) WorksAtHome(h History, p Piece, check string) bool { return s.worksAtHome(h, p, check) }

// Fittings counts how often a slot was fitted anew among trials.
func (h History) Fittings(slot string, trials []string) int { return h.fittings(slot, trials) }

// Derived is a trial of the history by its id, nil for none.
func (h History) Derived(id string) *Derived { return h.trial(id) }

// MissingForHarmless lists what a verdict that a part works still lacks for a full eye.
func (s Study) MissingForHarmless(h History, v Verdict) []Missing {
	var with []*diagnose.Trial
	for _, id := range v.Against {
		if d := h.trial(id); d != nil {
			with = append(with, &diagnose.Trial{ID: id, Setup: diagnose.Setup{State: d.States}})
		}
	}
	return s.missingForHarmless(h, v, with)
}

// Wavering takes back that a part works where a trial with it read the check now so and now so.
func (h History) Wavering(v *Verdict) []Missing { return h.wavering(v) }

// Lacking lists conditions with their words.
func Lacking(codes ...Condition) []Missing { return lacks(codes...) }

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
		if f := d.seats[slot]; f != "" {
			key = f
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

func (s Study) missingForHarmless(h History, v Verdict, with []*diagnose.Trial) []Missing {
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
