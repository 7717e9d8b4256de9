package rating

import (
	"fmt"
	"testing"

	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/core/school"
	"waryowl/internal/store"
)

// TestClassesOfAWay: tools, fasteners and the worst joint of a way in the classes of EN 45554 (from memory), as far as the
// plan says; what it does not say leaves several.
func TestClassesOfAWay(t *testing.T) {
	step := func(verb, joint, drive string) model.WayStep {
		return model.WayStep{Verb: verb, Joint: joint, Drive: drive}
	}
	for name, c := range map[string]struct {
		way                     model.Way
		tools, fasteners, joint string
	}{
		"by hand alone": {model.Way{Tools: []string{"hand"}, Steps: []model.WayStep{step("lift", "clip", "")}},
			"[none]", "[reusable]", "[none]"},
		"a cross screw": {model.Way{Tools: []string{"cross 000"}, Steps: []model.WayStep{step("unfasten", "screw", "cross")}},
			"[basic]", "[reusable]", "[none]"},
		"five lobes": {model.Way{Tools: []string{"five-lobe 0.8"}, Steps: []model.WayStep{step("unfasten", "screw", "five-lobe")}},
			"[available]", "[reusable]", "[none]"},
		"a heat plate and glue": {model.Way{Tools: []string{"heat plate", "plastic pick"},
			Steps: []model.WayStep{step("heat", "", ""), step("cut", "adhesive", "")}},
			"[available]", "[neither removable resupplied]", "[glue]"},
		"a pull tab": {model.Way{Tools: []string{"tweezers"}, Steps: []model.WayStep{step("peel", "pull tab", "")}},
			"[basic]", "[removable resupplied]", "[stretch-tab]"},
		"tape and a tab": {model.Way{Tools: []string{"tweezers"}, Steps: []model.WayStep{step("peel", "pull tab", ""),
			step("peel", "tape", "")}},
			"[basic]", "[removable resupplied]", "[tape]"},
		"solder": {model.Way{Tools: []string{"soldering iron"}, Steps: []model.WayStep{step("disconnect", "solder", "")}},
			"[basic]", "[neither]", "[solder]"},
		"a tool that nobody knows": {model.Way{Tools: []string{"moon spanner"}, Steps: []model.WayStep{step("unfasten",
			"screw", "cross")}},
			"[proprietary available group supplied basic]", "[reusable]", "[none]"},
		"what is peeled is not said": {model.Way{Tools: []string{"tweezers"}, Steps: []model.WayStep{step("peel", "", ""),
			step("lift", "pull tab", "")}},
			"[basic]", "[removable resupplied]", "[glue tape stretch-tab]"},
	} {
		if got := fmt.Sprint(toolsOf(c.way)); got != c.tools {
			t.Errorf("%s: tools %s, want %s", name, got, c.tools)
		}
		if got := fmt.Sprint(fastenersOf(c.way)); got != c.fasteners {
			t.Errorf("%s: fasteners %s, want %s", name, got, c.fasteners)
		}
		if got := fmt.Sprint(adhesivesOf(c.way)); got != c.joint {
			t.Errorf("%s: worst joint %s, want %s", name, got, c.joint)
		}
	}
}

// TestFactsOfAWay: minutes are a figure where all was timed and a span where it was not; odds take all hazards together.
func TestFactsOfAWay(t *testing.T) {
	r := Record{Know: &model.Record{}, Facts: map[string]*Known{}, Date: "2026-11-26"}
	steps := []model.WayStep{{Verb: "lift"}, {Verb: "lift"}}
	r.way("battery", model.Way{Depth: 2, Steps: steps, Measured: 2, HandsOnMinutes: 28, Odds: []model.Odds{
		{
			Part: "display",
			Used: 0.1,
			Low:  0,
			High: 0.5,
			N:    2,
		}, {Part: "battery", Used: 0.2, Low: 0.1, High: 0.5, N: 4}}})
	m := r.Facts["battery.minutes"]
	if x, ok := m.Value.Value.(float64); !ok || m.Value.Low != nil || x != 28 || m.Eye != "open" {
		t.Errorf("timed throughout: %+v", m)
	}
	o := r.Facts["battery.odds"].Value
	if o.Value != 0.28 || *o.Low != 0.1 || *o.High != 0.75 { // 1 − 0.9·0.8; 1 − 1·0.9; 1 − 0.5·0.5
		t.Errorf("odds %v, %v to %v", o.Value, *o.Low, *o.High)
	}
	r.way("screen", model.Way{Depth: 60, Steps: steps, Measured: 0, HandsOnMinutes: 28, Once: true})
	m = r.Facts["screen.minutes"]
	if m.Value.Low == nil || *m.Value.Low >= *m.Value.High || m.Eye != "half" {
		t.Errorf("never timed: %+v", m.Value)
	}
	if d := r.Facts["screen.depth"]; d.Value.Value != 40.0 || d.Eye != "half" { // kept within what the fact may be
		t.Errorf("sixty steps: %+v", d)
	}
	if r.Facts["screen.odds"] != nil {
		t.Error("a way without a hazard on record is not one without risk")
	}
}

// TestSayingsBesideThePlan: within what the plan leaves, what people say narrows; against it, it does not count.
func TestSayingsBesideThePlan(t *testing.T) {
	fresh := func() *Record {
		r := &Record{Know: &model.Record{}, Facts: map[string]*Known{}, Date: "2026-11-26", Currency: "EUR"}
		r.compute(
			"battery.fasteners",
			school.Value{Among: []string{"removable", "resupplied"}},
			"open",
			"adhesive",
			"ways",
			"p",
		)
		r.compute("battery.depth", school.Value{Value: 9.0}, "open", "", "ways", "p")
		return r
	}
	say := func(f store.SayingFacts) store.FactSaying { return store.FactSaying{SayingFacts: f} }
	r := fresh()
	r.said(
		"battery.fasteners",
		[]store.FactSaying{say(store.SayingFacts{Fact: "battery.fasteners", Choice: "resupplied", By: "a"})},
	)
	if got := r.Facts["battery.fasteners"].Value.Value; got != "resupplied" {
		t.Errorf("it comes with the part: %v", got)
	}
	r = fresh()
	r.said(
		"battery.fasteners",
		[]store.FactSaying{say(store.SayingFacts{Fact: "battery.fasteners", Choice: "reusable", By: "a"})},
	)
	if f := r.Facts["battery.fasteners"]; len(f.Value.Among) != 2 || f.Why == "" {
		t.Errorf("glue is not reusable, whoever says so: %+v", f)
	}
	three := 3.0
	r.said("battery.depth", []store.FactSaying{say(store.SayingFacts{Fact: "battery.depth", Number: &three, By: "a"})})
	if got := r.Facts["battery.depth"].Value.Value; got != 9.0 {
		t.Errorf("what the plan gives was overruled: %v", got)
	}
	low, high := 3.0, 8.0
	r.said(
		"parts.days",
		[]store.FactSaying{say(store.SayingFacts{Fact: "parts.days", Low: &low, High: &high, By: "a"})},
	)
	if ends, ok := r.Ends("parts.days"); !ok || ends != [2]float64{3, 8} || r.Likeliest("parts.days") != 5.5 {
		t.Errorf("three to eight days: %v %v", ends, ok)
	}
	if _, ok := r.Ends("updates.years"); ok || r.Likeliest("updates.years") != 0 {
		t.Error("what nobody said is known")
	}
	if within, ok := r.Within("updates.years"); ok || within != [2]float64{0, 12} {
		t.Errorf("what may be: %v", within)
	}
}

// TestMoneyIsNotBent: an amount that the rules cannot weigh is said to be so; one within their bounds counts.
func TestMoneyIsNotBent(t *testing.T) {
	for labour, known := range map[int]bool{4800: true, 62000: false, 1: false} {
		r := &Record{Know: &model.Record{}, Facts: map[string]*Known{}, Date: "2026-11-26", Currency: "SEK"}
		d := desk.Desk{Workshop: store.Workshop{Row: store.Row{ID: "w"},
			WorkshopFacts: store.WorkshopFacts{Currency: "SEK", LabourMinor: labour}}}
		r.fromDesk(d)
		f := r.Facts["shop.rate"]
		if f == nil || f.Known != known || known != (f.Why == "") {
			t.Errorf("%d minor units an hour: %+v", labour, f)
		}
		if _, weighed := r.ShopFacts()["shop.rate"]; weighed != known {
			t.Errorf("%d minor units an hour: weighed is %v", labour, weighed)
		}
	}
}
