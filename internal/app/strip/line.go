package strip

import (
	"cmp"
	"slices"
	"strings"

	"waryowl/internal/app/study"
	"waryowl/internal/core/benchline"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// fromLine turns a line of the bench into facts; seconds, stops and a reason that came beside it stay. A part that no
// record has is put on record with it.
func fromLine(b *study.Record, tx *store.Tx, f LogFacts) (LogFacts, error) {
	if f.StepID != "" || f.Step != nil || f.Note != "" {
		return f, fault.New("line", f.Line, "a line alone, or the facts alone")
	}
	c := b.Bench(b.UnitByID[f.UnitID])
	c.Second = float64(tx.Happened.Unix())
	a := benchline.Read(c, nil, f.Line)
	if slices.ContainsFunc(a.Candidates, func(p shorthand.Named) bool { return p.ID == f.PartID }) {
		a = benchline.Read(c.Choose(a.Candidates, f.PartID), nil, f.Line)
	}
	x := a.Fact
	if len(a.Candidates) > 0 {
		var names []string
		for _, p := range a.Candidates {
			names = append(names, p.Name)
		}
		return f, fault.New("line", f.Line, "one part of these: "+strings.Join(names, ", "))
	}
	if a.NewPart != nil && (a.NewStep != nil || x.Verb == "measure") {
		p, err := newPart(b, tx, *a.NewPart)
		if err != nil {
			return f, err
		}
		x.Part, x.Name = p.ID, p.Name
		if s := a.NewStep; s != nil {
			s.Part = p.ID
			if s.Verb == "lift" || s.Verb == "bracket" {
				s.Frees = []string{p.ID}
			}
		}
	}
	f.Note, f.PartID, f.Back = x.Note, x.Part, x.Back
	if a.NewPart != nil && x.Part == "" {
		f.Note = strings.TrimSpace(a.NewPart.Name + " " + f.Note)
	}
	f.Outcome = cmp.Or(f.Outcome, x.Outcome)
	d := &f.Detail
	d.Method, d.Of, d.Polarity, d.Detour = x.Method, x.Of, benchline.Poles(x), x.Detour
	d.Count, d.Diameter, d.Length = x.Count, x.DiameterMM, x.LengthMM
	if x.Whole != nil {
		d.Whole = *x.Whole
	}
	d.Lead = x.Connector
	if u := x.Surplus; u != nil {
		d.Surplus = &store.Surplus{What: u.What, Count: max(1, u.Count), Origin: cmp.Or(u.Origin, "unknown")}
	}
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
		if d.Incident = (&store.Incident{Kind: x.Incident}); x.Incident == "" {
			f.Kind, d.Incident, f.Note = "note", nil, cmp.Or(f.Note, f.Line)
		}
		if done := b.Done(f.UnitID); len(done) > 0 {
			f.StepID = done[len(done)-1]
		}
		return f, nil
	case "heat":
		d.Heat = &store.HeatRound{Source: x.Method, Face: x.Side, SetC: x.SetC, MeasuredC: x.MeasuredC,
			Seconds: x.Seconds, Result: x.Result}
	default:
		d.Wait = x.Seconds
	}
	f.Kind, f.StepID = "step", a.StepID
	if a.NewStep != nil {
		f.Step = stepFacts(*a.NewStep)
		f.Step.Fastener = store.Fastener{Magnetic: x.Magnetic, Captive: x.Captive, HiddenUnder: x.HiddenUnder,
			SharedBy: x.SharedBy, Carries: x.Carries}
		f.Step.Count += x.Missed // found later, but out of their holes all the same
		if x.Hidden {
			f.Step.Fastener.HiddenUnder = cmp.Or(x.HiddenUnder, "hidden")
		}
		for i, g := range x.Lengths { // several kinds at one place are several joints
			s := *f.Step
			s.Count, s.DiameterMM, s.LengthMM, s.Drive, s.DriveSize = g.Count, g.DiameterMM, g.LengthMM, cmp.Or(g.Drive, s.Drive),
				cmp.Or(g.DriveSize, s.DriveSize)
			if i == 0 {
				f.Step = &s
			} else {
				f.more = append(f.more, s)
			}
		}
	}
	return f, nil
}

// newPart puts a part on record that a line named first.
func newPart(b *study.Record, tx *store.Tx, n shorthand.NewPart) (store.Part, error) {
	p := store.Part{ModelID: b.ModelID, PartFacts: store.PartFacts{Name: n.Name, Kind: n.Kind,
		Family: cmp.Or(n.Family, "FR"), Source: "measured"}}
	if err := freeName(b.Know, p.PartFacts, ""); err != nil {
		return p, err
	}
	if err := store.Create(tx, &p); err != nil {
		return p, err
	}
	b.Know.Parts = append(b.Know.Parts, p)
	b.Know.PartByID[p.ID] = p
	return p, nil
}

// stepFacts is a step of the engines as the plan stores it.
func stepFacts(s plan.Step) *store.StepFacts {
	return &store.StepFacts{Verb: s.Verb, What: s.What, PartID: s.Part, Tool: s.Tool, Side: cmp.Or(s.Side, "any"),
		Joint: s.Joint, Drive: s.Drive,
		DriveSize: s.DriveSize, Count: s.Count, DiameterMM: s.DiameterMM, LengthMM: s.LengthMM,
		WaitSeconds: s.WaitSeconds, Method: s.Method,
		Frees: s.Frees}
}

// measure puts the values of a line into the part's record.
func measure(b *study.Record, tx *store.Tx, x shorthand.Fact) error {
	p := b.Know.PartByID[x.Part]
	_, err := store.Update(tx, p.ID, p.Version, func(p *store.Part) error {
		for _, m := range x.Measures {
			kind := trade.QuantityOf(m.Unit)
			if m.Unit == "mm" {
				kind = cmp.Or(m.Of, "thickness")
			}
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
				if f.unit == m.Unit && (m.Unit != "mm" || kind == "thickness") {
					*f.to = m.Value
				}
			}
		}
		return nil
	})
	return err
}
