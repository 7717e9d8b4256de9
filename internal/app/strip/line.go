package strip

import (
	"cmp"
	"slices"
	"strings"

	"waryowl/internal/app/study"
	"waryowl/internal/core/benchline"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"

	"gorm.io/gorm"
)

// logLine reads a line of the bench and logs what it says: all of its facts, or none.
func logLine(b *study.Record, tx *store.Tx, id string, f LogFacts) (store.LogEntry, error) {
	var first store.LogEntry
	if f.StepID != "" || f.Step != nil || f.Note != "" {
		return first, fault.New("line", f.Line, "a line alone, or the facts alone")
	}
	facts, err := understood(b, tx, f)
	if err != nil {
		return first, err
	}
	made := map[string]string{} // ids of the parts that the line put on record, by name
	for i, x := range facts {
		g := f
		g.Choice, g.Echoed, g.Leave, g.Detail.LineID = "", nil, nil, ""
		if len(facts) > 1 {
			g.Detail.LineID = id
		}
		entry := id
		if i > 0 { // the time and the stops that were answered belong to the line, which stands at its first entry
			entry, g.Seconds, g.Detail.Stops = "", 0, nil
		}
		e, err := logFact(b, tx, entry, g, x, made)
		if err != nil {
			return first, err
		}
		if i == 0 {
			first = e
		}
	}
	return first, nil
}

// understood reads the line as it was chosen; what is read otherwise than it was read out is refused.
func understood(b *study.Record, tx *store.Tx, f LogFacts) ([]benchline.FactAnswer, error) {
	c, err := Context(b, tx.DB, b.UnitByID[f.UnitID])
	if err != nil {
		return nil, err
	}
	c.Second = float64(tx.Happened.Unix())
	a := benchline.Read(c, nil, f.Line)
	if slices.ContainsFunc(a.Candidates, func(p shorthand.Named) bool { return p.ID == f.PartID }) {
		a = benchline.Read(c.Choose(a.Candidates, f.PartID), nil, f.Line)
	}
	facts := a.Facts
	if f.Choice != "" {
		k := slices.IndexFunc(a.Choices, func(x benchline.Choice) bool { return x.Text == f.Choice })
		if k < 0 {
			return nil, fault.New("choice", f.Choice, "one of the ways in which the line can be meant: "+choices(a))
		}
		facts = a.Choices[k].Facts
	} else if len(a.Candidates) > 0 || a.Asks == "part" || a.Asks == "entry" {
		return nil, fault.New("line", f.Line, "one part of these: "+choices(a))
	}
	var echoed []string
	for _, x := range facts {
		echoed = append(echoed, x.Echo)
	}
	if len(f.Echoed) > 0 && !slices.EqualFunc(f.Echoed, echoed, sameEcho) {
		return nil, fault.New("line", strings.Join(f.Echoed, "; "), "what the server reads now: "+strings.Join(echoed, "; "))
	}
	var out []benchline.FactAnswer
	for i, x := range facts {
		if !slices.Contains(f.Leave, i) {
			out = append(out, x)
		}
	}
	if len(out) == 0 {
		return nil, fault.New("leave", f.Leave, "at least one fact of the line left in")
	}
	return out, nil
}

// sameEcho compares two readings; a part that is on record by now was new when the line was typed without a network.
func sameEcho(a, b string) bool {
	return strings.ReplaceAll(a, " (new part)", "") == strings.ReplaceAll(b, " (new part)", "")
}

func choices(a benchline.Answer) string {
	var names []string
	for _, p := range a.Candidates {
		names = append(names, p.Name)
	}
	if len(names) == 0 {
		for _, x := range a.Choices {
			names = append(names, x.Text)
		}
	}
	return strings.Join(names, ", ")
}

// Context is what the bench line may speak of on a phone, with the workshop's words and what was logged last.
func Context(b *study.Record, db *gorm.DB, u store.Unit) (benchline.Context, error) {
	words, err := ownWords(db)
	return contextOf(b, u, words), err
}

// ownWords are the words of the workshop.
func ownWords(db *gorm.DB) ([]phrase.Own, error) {
	words, err := store.List[store.OwnWord](db, "say, id", "1 = 1")
	var own []phrase.Own
	for _, w := range words {
		own = append(own, phrase.Own{Say: w.Say, Means: w.Means, Kind: w.Kind})
	}
	return own, err
}

func contextOf(b *study.Record, u store.Unit, words []phrase.Own) benchline.Context {
	c := b.Bench(u)
	c.Words = words
	for _, k := range b.Checks {
		c.Checks = append(c.Checks, benchline.CheckName{Mark: k.Mark, Name: k.Name})
	}
	for _, e := range b.Log {
		if e.UnitID == u.ID {
			if x := factOf(b, e); x.Verb != "" {
				c.Log = append(c.Log, benchline.Entry{ID: e.ID, Fact: x})
			}
		}
	}
	c.Log = c.Log[max(0, len(c.Log)-20):]
	return c
}

// factOf is an entry of the log as the bench line says it.
func factOf(b *study.Record, e store.LogEntry) shorthand.Fact {
	s := b.Know.StepByID[e.StepID]
	d := e.Detail
	x := shorthand.Fact{Verb: s.Verb, Back: e.Back, Part: e.PartID, Count: d.Count, Drive: s.Drive, DriveSize: s.DriveSize,
		Outcome: e.Outcome, Method: d.Method, Seconds: d.Wait, Joint: s.Joint, Connector: d.Lead}
	if e.Kind != "step" {
		x = shorthand.Fact{Verb: map[string]string{"note": "note", "measure": "measure", "incident": "incident", "tool": "tool"}[e.Kind],
			Part: e.PartID, Note: e.Note, Tool: d.Tool}
	}
	if x.Count == 0 && s.Verb == "unfasten" {
		x.Count = s.Count
	}
	if x.Part == "" {
		x.Part = b.Know.About(s.ID)
	}
	if x.Part == "" && len(s.Frees) == 1 {
		x.Part = s.Frees[0]
	}
	x.Name = b.Know.PartByID[x.Part].Name
	if h := d.Heat; h != nil {
		x.Seconds, x.SetC, x.Side, x.Method = h.Seconds, h.SetC, h.Face, h.Source
	}
	return x
}

// logFact logs one fact of a line, in the state that the ones before it left.
func logFact(b *study.Record, tx *store.Tx, id string, f LogFacts, x benchline.FactAnswer, made map[string]string) (store.LogEntry,
	error) {
	if x.Fact.Corrects != nil {
		return correct(b, tx, id, f, x.Fact)
	}
	if name, fresh := strings.CutPrefix(x.Fact.Part, "new:"); fresh {
		x.Fact.Part = made[name]
	}
	c := b.Bench(b.UnitByID[f.UnitID])
	c.Second = float64(tx.Happened.Unix())
	a := benchline.Resolve(c, x.Reading)
	f, err := fromFact(b, tx, f, a, made)
	if err != nil {
		return store.LogEntry{}, err
	}
	return logFacts(b, tx, id, f)
}

// fromFact turns a fact of the bench line into an entry; seconds, stops and a reason that came beside it stay. A part that no
// record has is put on record with it.
func fromFact(b *study.Record, tx *store.Tx, f LogFacts, a benchline.FactAnswer, made map[string]string) (LogFacts, error) {
	x := a.Fact
	if a.NewPart != nil && (a.NewStep != nil || x.Verb == "measure") {
		p, err := newPart(b, tx, *a.NewPart)
		if err != nil {
			return f, err
		}
		made[a.NewPart.Name] = p.ID
		x.Part, x.Name = p.ID, p.Name
		if s := a.NewStep; s != nil {
			s.Part = p.ID
			if s.Verb == "lift" || s.Verb == "bracket" || a.Leaves == "off" {
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
	d.Lead, d.Leaves = x.Connector, a.Leaves
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
	case "pass", "weak", "lost":
		f.Kind, f.Back, d.Check = "check", false, &store.CheckSeen{Mark: x.What, Result: x.Verb}
		return f, nil
	case "measure":
		f.Kind, f.Back = "measure", false
		if x.Part == "" || len(x.Measures) == 0 {
			return f, fault.New("line", f.Line,
				"a part and at least one value with its unit, as in “battery 2960 mAh 11.37 Wh”")
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
		if x.Incident != "" { // a tab that broke while it was pulled
			d.Incident = &store.Incident{Kind: x.Incident}
		}
	}
	f.Kind, f.StepID = "step", a.StepID
	if f.Back && a.StepID != "" && d.Lead != "" && !b.Done(f.UnitID).Has(a.StepID) { // seen, and nothing moved
		f.Kind, f.Back, f.Note = "note", false, cmp.Or(f.Note, f.Line)
		return f, nil
	}
	if f.Back && a.StepID == "" { // its removal is not on record: said, but no step is invented for it
		f.Kind, f.Back, f.Note = "note", false, "put back, its removal was not logged: "+f.Line
		return f, nil
	}
	if a.StepID == "" && a.NewStep == nil { // not tried, and the plan knows no such step: a remark
		f.Kind, f.Outcome, f.Note = "note", "", cmp.Or(f.Note, f.Line)
		return f, nil
	}
	if f.Outcome != "" && f.Outcome != "done" && strings.TrimSpace(f.Reason+f.Note) == "" {
		f.Reason = "no reason given"
	}
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
	kind, _ := trade.KindByID(n.Kind)
	p := store.Part{ModelID: b.ModelID, PartFacts: store.PartFacts{Name: n.Name, Kind: n.Kind,
		Family: cmp.Or(n.Family, "FR"), Slot: kind.Swaps(), Source: "measured"}}
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
