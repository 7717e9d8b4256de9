package strip

import (
	"cmp"
	"slices"
	"strings"

	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/core/benchline"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/interlock"
	"waryowl/internal/core/quantity"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/store"
)

// lineContext is what the bench line needs to know of a unit.
func lineContext(b *study.Record, u store.Unit) benchline.Context {
	c := benchline.Context{Vocabulary: shorthand.Vocabulary{Unit: u.Name, Parts: []shorthand.Named{},
		Tools: []string{}}, Steps: []benchline.Known{},
		Done: append([]string{}, b.Done(u.ID)...), Packs: []quantity.Pack{}}
	for _, p := range b.Know.Parts {
		c.Parts = append(c.Parts, shorthand.Named{ID: p.ID, Name: p.Name, Aliases: append([]string{}, p.Aliases...)})
		if p.CapacityMAh > 0 && p.EnergyWh > 0 {
			c.Packs = append(c.Packs, quantity.Pack{MAh: p.CapacityMAh, Wh: p.EnergyWh, Cells: p.Cells})
		}
	}
	for _, s := range b.Know.Steps {
		c.Steps = append(c.Steps, benchline.Known{ID: s.ID, Mark: s.Mark, Verb: s.Verb, What: s.What, Side: s.Side,
			Tool: s.Tool, Joint: s.Joint, Drive: s.Drive, Count: s.Count,
			Frees: append([]string{}, s.Frees...), After: append([][]string{}, s.After...)})
		if s.Tool != "" && !slices.Contains(c.Tools, s.Tool) {
			c.Tools = append(c.Tools, s.Tool)
		}
	}
	c.State = interlock.State{Charge: -1, Limit: model.ChargeLimit, Swollen: u.Gate.Swelling == "swollen",
		Polarity: b.Know.Polarity}
	if u.Gate.Charge != nil {
		c.State.Charge = *u.Gate.Charge
	}
	for _, e := range b.Log {
		if e.UnitID != u.ID {
			continue
		}
		step := b.Know.StepByID[e.StepID]
		a := interlock.Act{Verb: step.Verb, Back: e.Back, What: step.What, Tool: step.Tool,
			Method: cmp.Or(e.Detail.Method, step.Method), Joint: step.Joint,
			Polarity: e.Detail.Polarity, Second: float64(e.HappenedAt.Unix())}
		switch {
		case e.Kind == "tool":
			a = interlock.Act{Verb: "tool", Tool: e.Detail.Tool}
		case !study.Advances(e):
			continue
		}
		c.State = interlock.After(c.State, a)
	}
	return c
}

// fromLine turns a line of the bench into facts; seconds, stops and a reason that came beside it stay.
func fromLine(b *study.Record, tx *store.Tx, f LogFacts) (LogFacts, error) {
	if f.StepID != "" || f.Step != nil || f.Note != "" {
		return f, fault.New("line", f.Line, "a line alone, or the facts alone")
	}
	c := lineContext(b, b.UnitByID[f.UnitID])
	c.Second = float64(tx.Happened.Unix())
	a := benchline.Read(c, nil, f.Line)
	x := a.Fact
	for _, t := range a.Troubles { // what was not read stays in the note
		if !strings.Contains(x.What+" "+x.Note, t.Word) {
			x.Note = strings.TrimSpace(x.Note + " " + t.Word)
		}
	}
	f.Note, f.PartID, f.Back = x.Note, x.Part, x.Back
	if f.Outcome == "" {
		f.Outcome = x.Outcome
	}
	d := &f.Detail
	d.Method, d.Whole, d.Of, d.Polarity, d.Detour, d.Count, d.Diameter, d.Length = x.Method, x.Whole, x.Of, x.Polarity, x.Detour, x.Count, x.DiameterMM, x.LengthMM
	switch x.Verb {
	case "note":
		f.Kind, f.Back = "note", false
		return f, nil
	case "tool":
		f.Kind, f.Back, d.Tool = "tool", false, x.Tool
		return f, nil
	case "measure":
		f.Kind, f.Back = "measure", false
		if x.Part == "" || len(x.Measures) == 0 {
			return f, fault.New("line", f.Line,
				"a part and at least one value with its unit, as in “m battery 3274mAh 12.83Wh”")
		}
		return f, measure(b, tx, x)
	case "incident":
		f.Kind, f.Back = "incident", false
		d.Incident = &store.Incident{Kind: x.Incident}
		if done := b.Done(f.UnitID); len(done) > 0 {
			f.StepID = done[len(done)-1]
		}
		return f, nil
	case "heat", "solvent":
		if x.Verb == "heat" {
			d.Heat = &store.HeatRound{Source: x.Method, Face: x.Side, SetC: x.SetC, MeasuredC: x.MeasuredC,
				Seconds: x.Seconds, Result: x.Result}
		} else {
			d.Wait = x.Seconds
		}
	default:
		d.Wait = x.Seconds
	}
	f.Kind, f.StepID = "step", a.StepID
	if a.StepID == "" {
		side := x.Side
		if side == "" {
			side = "any"
		}
		tool := x.Tool
		if tool == "" && c.State.Tool != "" {
			tool = c.State.Tool
		}
		what := x.What
		if what == "" {
			what = strings.TrimSpace(strings.Join([]string{x.Drive, x.Joint}, " "))
		}
		if what == "" {
			what = x.Verb
		}
		f.Step = &store.StepFacts{Verb: x.Verb, What: what, Tool: tool, Side: side, Joint: x.Joint, Drive: x.Drive,
			Count: x.Count, DiameterMM: x.DiameterMM, LengthMM: x.LengthMM,
			Method: x.Method, WaitSeconds: x.Seconds, Fastener: store.Fastener{Magnetic: x.Magnetic,
				Captive: x.Captive}}
		if x.Hidden {
			f.Step.Fastener.HiddenUnder = "hidden"
		}
		if x.Part != "" && (x.Verb == "lift" || x.Verb == "bracket") {
			f.Step.Frees = []string{x.Part}
		}
	}
	return f, nil
}

// measure puts the values of a line into the part's record.
func measure(b *study.Record, tx *store.Tx, x shorthand.Fact) error {
	p := b.Know.PartByID[x.Part]
	_, err := store.Update(tx, p.ID, p.Version, func(p *store.Part) error {
		for _, m := range x.Measures {
			kind := map[string]string{"mAh": "capacity", "Wh": "energy", "g": "mass", "mm": "thickness",
				"MP": "resolution", "V": "voltage", "C": "temperature", "%": "charge"}[m.Unit]
			r := m.Digit
			if m.U > 0 {
				r = m.U * 2 * 1.7320508 // a stated uncertainty as the resolution that has it
			}
			k := slices.IndexFunc(p.Measures, func(o store.Measured) bool { return o.Kind == kind && o.Unit == m.Unit })
			if k < 0 {
				p.Measures = append(p.Measures, store.Measured{Kind: kind, Unit: m.Unit, Readings: []float64{m.Value},
					Resolution: r})
			} else {
				p.Measures[k].Readings = append(p.Measures[k].Readings, m.Value)
			}
			for _, f := range []struct {
				unit string
				to   *float64
			}{{"mAh", &p.CapacityMAh}, {"Wh", &p.EnergyWh}, {"g", &p.MassG}, {"mm", &p.ThicknessMM}, {"MP",
				&p.ResolutionMP}} {
				if f.unit == m.Unit {
					*f.to = m.Value
				}
			}
		}
		return nil
	})
	return err
}
