package benchline

import (
	"fmt"
	"slices"
	"strings"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/quantity"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// newStep is the step that the plan would learn from a line: after what was done last, freeing what is lifted.
func (c Context) newStep(a FactAnswer) *plan.Step {
	f := a.Fact
	s := plan.Step{Verb: f.Verb, Part: f.Part, Side: f.Side, Tool: f.Tool, Joint: f.Joint, Drive: f.Drive,
		DriveSize: f.DriveSize, Count: f.Count,
		DiameterMM: f.DiameterMM, LengthMM: f.LengthMM, WaitSeconds: f.Seconds, Method: f.Method,
		Frees: []string{}, After: [][]string{}}
	name := f.Name
	if a.NewPart != nil {
		name = a.NewPart.Name
	}
	s.What = strings.TrimSpace(strings.Join([]string{name, f.What}, " "))
	if s.What == "" {
		s.What = f.Place
	}
	if s.What == "" && f.Verb == "heat" {
		s.What = f.Side
	}
	if s.What == "" {
		s.What = strings.TrimSpace(f.Drive + " " + f.Joint)
	}
	if s.What == "" {
		s.What = f.Verb
	}
	if s.Tool == "" {
		s.Tool = c.State.Tool
	}
	if s.Joint == "" {
		s.Joint = map[string]string{"unfasten": "screw", "disconnect": "connector", "peel": "tape", "cut": "adhesive",
			"release": "pull tab",
			"heat":    "adhesive", "solvent": "adhesive", "slide": "latch"}[f.Verb]
	}
	if f.Part != "" && (f.Verb == "lift" || f.Verb == "bracket" || a.Leaves == leftOff) {
		s.Frees = []string{f.Part}
	}
	if n := len(c.Done); n > 0 {
		s.After = [][]string{{c.Done[n-1]}}
	}
	return &s
}

// resolve finds the step of the plan that a line means: verb, part and joint (drive, size, count, place) agree, not
// done yet (done, when it is put back; heat and solvent come in rounds). again says that only a step that is done
// already fits. −1: the plan does not know it.
func (c Context) resolve(a FactAnswer) (k int, again bool) {
	f := a.Fact
	if v, _ := trade.VerbOf(f.Verb); !v.Step || a.NewPart != nil {
		return -1, false
	}
	if k = c.best(f, func(s plan.Step, done bool) bool {
		return f.Back == done || done &&
			trade.Waits(s.Verb)
	}); k >= 0 {
		return k, false
	}
	if f.Back && f.Connector != "loose" && f.Connector != "seated" { // of a lead that is on, something may be seen
		return -1, false
	}
	k = c.best(f, func(_ plan.Step, done bool) bool { return done != f.Back })
	return k, k >= 0 && !f.Back
}

func (c Context) best(f shorthand.Fact, may func(s plan.Step, done bool) bool) int {
	best, top := -1, 0
	for k, s := range c.Steps {
		frees := f.Part != "" && slices.Contains(s.Frees, f.Part)
		tabs := f.Joint == "pull tab" && s.Joint == "pull tab" // pulled, cut or released: the same tabs
		if s.Verb != f.Verb && !((f.Verb == "lift" || f.Verb == "bracket") && frees) && !tabs || !agree(f.Side, s.Side) &&
			s.Side != "any" ||
			!may(s, c.Done.Has(s.ID)) || !joints(f, s) {
			continue
		}
		ready := len(s.Lacks(c.Done)) == 0
		points := 1
		switch own := c.part(s); {
		case f.Part != "":
			if f.Part != own && !frees {
				continue
			}
			points += 8
		case f.Place != "" || f.What != "":
			if !wordsMeet(f.Place+" "+f.What, s.What) {
				continue
			}
			points += 4
		default: // without any name the figures must agree and the step must be the next one
			if !ready || !(trade.Waits(f.Verb) || f.Drive != "" && f.Count == s.Count || s.Verb == f.Verb &&
				f.Count == 0 && f.Drive == "" && f.Back) {
				continue
			}
		}
		for _, p := range []struct {
			is     bool
			points int
		}{{f.Drive != "" && f.Drive == s.Drive, 3}, {f.Count > 0 && f.Count == s.Count, 2}, {f.LengthMM > 0 &&
			s.LengthMM > 0, 2}, {ready, 1},
			{f.What != "" && wordsMeet(f.What, s.What), 2}, {f.Side != "" && f.Side == s.Side, 1}, {f.Method != "" &&
				f.Method == s.Method, 1}} {
			if p.is {
				points += p.points
			}
		}
		if points > top {
			best, top = k, points
		}
	}
	return best
}

func agree(a, b string) bool { return a == "" || b == "" || a == b }

// joints says whether a line and a step may speak of the same joint: what both say must agree.
func joints(f shorthand.Fact, s plan.Step) bool {
	near := func(a, b float64) bool { return a == 0 || b == 0 || a-b < 0.05 && b-a < 0.05 }
	joint := agree(f.Joint, s.Joint) || f.Joint == "screw" && s.Joint == "post" && f.Drive == "post" ||
		trade.Lead(f.Joint) && trade.Lead(s.Joint) && f.Joint != "coax"
	counts := f.Back || f.Count == 0 || s.Count == 0 || f.Count == s.Count || f.Verb != "unfasten"
	return joint && counts && agree(f.Drive, s.Drive) && agree(f.DriveSize, s.DriveSize) &&
		near(f.DiameterMM, s.DiameterMM) &&
		near(f.LengthMM, s.LengthMM)
}

// wordsMeet says whether every telling word of a place stands in what a step acts on.
func wordsMeet(said, known string) bool {
	have := strings.Fields(trade.Plain(known))
	met := 0
	for _, w := range strings.Fields(trade.Plain(said)) {
		if slices.Contains(have, w) || slices.Contains(have, trade.Singular(w)) || slices.Contains(have, w+"s") {
			met++
		}
	}
	return met > 0 && !trade.Clash(said, known)
}

func pack(f shorthand.Fact) quantity.Pack {
	p := quantity.Pack{}
	for _, m := range f.Measures {
		switch m.Unit {
		case "mAh":
			p.MAh = m.Value
		case "Wh":
			p.Wh = m.Value
		}
	}
	return p
}

// doubt objects to a pack's figures: a voltage that no cell has, or a rank turned over against the packs on record.
func doubt(p quantity.Pack, others []quantity.Pack) *Doubt {
	if d := quantity.Battery(p, others); d != nil {
		out := &Doubt{Kind: "battery", Text: d.Text, Fixes: []string{}}
		for _, c := range d.Corrections {
			unit := map[string]string{"mah": "mAh", "wh": "Wh"}[c.Field]
			out.Fixes = append(out.Fixes, strings.TrimSpace(fmt.Sprintf("%g %s", c.Value, unit)))
		}
		return out
	}
	for _, o := range others {
		if p.Cells == o.Cells && quantity.Turned(p, o) {
			return &Doubt{Kind: "rank", Fixes: []string{},
				Text: fmt.Sprintf("more mAh but fewer Wh than a pack on record (%g mAh, %g Wh against %g mAh, %g Wh):"+
					" one was misread.", p.MAh, p.Wh, o.MAh, o.Wh)}
		}
	}
	return nil
}
