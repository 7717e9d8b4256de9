package study

import (
	"cmp"
	"fmt"
	"strings"

	"waryowl/internal/core/benchline"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// Told says an entry of the log as a sentence for a reader who was not there: what was done, to what, with which figures,
// and how it ended.
func (b *Record) Told(e store.LogEntry) string {
	d, s := e.Detail, b.Know.StepByID[e.StepID]
	name := b.Know.PartByID[cmp.Or(e.PartID, b.Know.About(e.StepID))].Name
	switch e.Kind {
	case "measure":
		return "Measured: " + cmp.Or(e.Line, e.Note)
	case "check":
		for _, k := range b.Checks {
			if d.Check != nil && k.Mark == d.Check.Mark {
				return k.Name + ": " + trade.Say("result", d.Check.Result)
			}
		}
		return e.Line
	case "stop":
		return "Stopped before: " + e.Note
	case "tool":
		return benchline.Say(shorthand.Fact{Verb: "tool", Tool: d.Tool}, nil)
	case "incident":
		if d.Incident == nil {
			return cmp.Or(e.Note, e.Line)
		}
		x := shorthand.Fact{Verb: "incident", Name: b.Know.PartByID[e.PartID].Name, Incident: d.Incident.Kind, Count: d.Count}
		return ended(benchline.Say(x, nil), e.Note, d.Incident.Cause)
	case "note":
		return cmp.Or(e.Note, e.Line)
	}
	x := shorthand.Fact{Verb: s.Verb, Back: e.Back, Name: name, Count: cmp.Or(d.Count, s.Count), Drive: s.Drive, DriveSize: s.DriveSize,
		DiameterMM: s.DiameterMM, LengthMM: s.LengthMM, Method: cmp.Or(d.Method, s.Method), Outcome: e.Outcome, Note: e.Note,
		Tool: s.Tool}
	if name == "" || s.Verb == "release" {
		x.Name, x.What, x.Place = "", s.What, s.What
	}
	switch {
	case s.Verb != "unfasten":
		x.Count = d.Count
	case e.Back && d.Count == 0: // all that are left
		x.Count = max(0, x.Count-b.LostScrews(e.UnitID)[s.ID])
	}
	if d.Of > 0 {
		x.Of, x.Whole = d.Of, &d.Whole
	}
	if h := d.Heat; h != nil {
		x.What, x.Place, x.Name = "", "", ""
		x.Method, x.SetC, x.MeasuredC, x.Seconds, x.Side, x.Result = h.Source, h.SetC, h.MeasuredC, h.Seconds, h.Face, h.Result
	}
	said := benchline.SayLeaving(benchline.Say(x, nil), d.Leaves)
	if i := d.Incident; i != nil {
		said = ended(said, strings.ReplaceAll(i.Kind, "-", " "))
	}
	return ended(said, e.Reason)
}

// ended adds what else is known to a sentence.
func ended(said string, more ...string) string {
	for _, m := range more {
		if m != "" && !strings.Contains(said, m) {
			said += ", " + m
		}
	}
	return said
}

// Measured says the values on record of a part.
func Measured(p store.Part) string {
	var list []string
	for _, x := range []struct {
		value float64
		unit  string
	}{{p.CapacityMAh, "mAh"}, {p.EnergyWh, "Wh"}, {p.MassG, "g"}, {p.ThicknessMM, "mm thick"}, {p.ResolutionMP, "MP"}} {
		if x.value > 0 {
			list = append(list, fmt.Sprintf("%g %s", x.value, x.unit))
		}
	}
	return strings.Join(list, ", ")
}
