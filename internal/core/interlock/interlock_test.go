package interlock

import (
	"strings"
	"testing"
)

// The stops are common practice, no source; the table says for each which acts raise it and which do not.
func TestCheck(t *testing.T) {
	off := State{BatteryOff: true, Charge: 20, Limit: 25}
	on := State{Charge: 20, Limit: 25}
	for _, c := range []struct {
		name  string
		s     State
		a     Act
		rules string
	}{
		{"battery first", on, Act{Verb: "disconnect", Kind: "battery", Tool: "plastic spudger"}, ""},
		{"another lead under power", on, Act{Verb: "disconnect", Kind: "display"}, "power"},
		{"the same with the battery off", off, Act{Verb: "disconnect", Kind: "display"}, ""},
		{"a lead back on while the battery is on", on, Act{Verb: "disconnect", Kind: "display", Back: true},
			"battery last"},
		{"a lead back on while it is off", off, Act{Verb: "disconnect", Kind: "display", Back: true}, ""},
		{"the battery before the others", State{BatteryOff: true, Leads: 2, Charge: 1, Limit: 25},
			Act{Verb: "disconnect", Kind: "battery", Back: true},
			"battery last"},
		{"the battery when all are on", off, Act{Verb: "disconnect", Kind: "battery", Back: true}, ""},
		{"a coax lead pried off under power", on, Act{Verb: "pry", Joint: "coax", Kind: "antenna"}, "power"},
		{"a lead that was not tried", on, Act{Verb: "disconnect", Kind: "display", Outcome: "not tried"}, ""},
		{"a knife at a discharged cell", off, Act{Verb: "cut", Kind: "battery", Tool: "scalpel"}, "sharp"},
		{"plastic tweezers, wood and nylon", off, Act{Verb: "pry", Kind: "battery", Tool: "nylon lever"}, ""},
		{"metal spudger at a charged cell", on, Act{Verb: "pry", Kind: "battery", Tool: "metal spudger"}, "sharp"},
		{"a cover's flex is no battery", on, Act{Verb: "disconnect", Kind: "bracket"}, "power"},
		{"stretch tabs need no polarity", off, Act{Verb: "release", Kind: "battery"}, ""},
		{"a measure", on, Act{Verb: "measure", Kind: "display"}, ""},
		{"tweezers at the battery", on, Act{Verb: "disconnect", Kind: "battery", Tool: "tweezers"}, "metal"},
		{"tweezers in hand", State{Tool: "tweezers", Charge: 1, Limit: 25}, Act{Verb: "disconnect", Kind: "battery"},
			"metal"},
		{"charge above the limit", State{BatteryOff: true, Charge: 60, Limit: 25},
			Act{Verb: "pry", Kind: "battery", Tool: "plastic card"}, "charged"},
		{"charge unknown", State{BatteryOff: true, Charge: -1, Limit: 25}, Act{Verb: "pry", Kind: "battery"},
			"charged"},
		{"discharged", off, Act{Verb: "pry", Kind: "battery", Tool: "plastic card"}, ""},
		{"prying glass", State{Charge: -1}, Act{Verb: "pry", Kind: "rear-glass"}, ""},
		{"heat on wet solvent", State{BatteryOff: true, WetUntil: 700}, Act{Verb: "heat", Second: 100}, "flame"},
		{"heat when it is dry", State{BatteryOff: true, WetUntil: 700}, Act{Verb: "heat", Second: 701}, ""},
		{"electric release without polarity", off, Act{Verb: "cut", Kind: "battery", Method: "voltage"}, "polarity"},
		{"with it", off, Act{Verb: "cut", Kind: "battery", Method: "voltage", Polarity: "plus on tab"}, ""},
		{"a swollen cell", State{BatteryOff: true, Swollen: true, Charge: 1, Limit: 25}, Act{Verb: "heat"}, "swollen"},
	} {
		var rules []string
		for _, s := range Check(c.s, c.a) {
			rules = append(rules, s.Rule)
			if len(s.Reasons) != 3 || s.Text == "" || s.Do == "" {
				t.Errorf("%s: %s lacks its words", c.name, s.Rule)
			}
		}
		if got := strings.Join(rules, " "); got != c.rules {
			t.Errorf("%s: %q, want %q", c.name, got, c.rules)
		}
	}
}

func TestAfter(t *testing.T) {
	s := State{Charge: 20, Limit: 25}
	for _, step := range []struct {
		a    Act
		off  bool
		wet  float64
		tool string
	}{
		{Act{Verb: "tool", Tool: "tweezers"}, false, 0, "tweezers"},
		{Act{Verb: "disconnect", Kind: "battery"}, true, 0, "tweezers"},
		{Act{Verb: "disconnect", Kind: "battery", Back: true, Outcome: "gave up"}, true, 0, "tweezers"},
		{Act{Verb: "disconnect", Kind: "bracket", Back: true}, true, 0, "tweezers"},
		{Act{Verb: "solvent", Second: 50}, true, 50 + DrySeconds, "tweezers"},
		{Act{Verb: "disconnect", Kind: "battery", Back: true}, false, 50 + DrySeconds, "tweezers"},
		{Act{Verb: "lift", Kind: "battery"}, true, 50 + DrySeconds, "tweezers"},
	} {
		if s = After(s, step.a); s.BatteryOff != step.off || s.WetUntil != step.wet || s.Tool != step.tool {
			t.Errorf("after %+v: %+v", step.a, s)
		}
	}
}

func TestRetest(t *testing.T) {
	for rule, want := range map[string]int{"power": 3, "metal": 2, "charged": 1, "flame": 0, "polarity": 1,
		"swollen": 1, "sharp": 1, "battery last": 3, "nonsense": 0} {
		if got := Retest(rule); len(got) != want || rule != "nonsense" && got == nil {
			t.Errorf("%s: %v", rule, got)
		}
	}
}

// TestSolventStaysWet: ten minutes (house), seen from outside: heat nine minutes after it is stopped, eleven minutes
// after it is not.
func TestSolventStaysWet(t *testing.T) {
	s := After(State{BatteryOff: true}, Act{Verb: "solvent", Method: "alcohol", Second: 1000})
	for minutes, stopped := range map[float64]bool{0: true, 2: true, 9: true, 11: false} {
		if got := len(Check(s, Act{Verb: "heat", Second: 1000 + 60*minutes})) > 0; got != stopped {
			t.Errorf("%g minutes after solvent: stopped is %v", minutes, got)
		}
	}
	if s := After(State{}, Act{Verb: "release", Method: "voltage", Second: 1000}); s.WetUntil != 0 {
		t.Error("a direct voltage wets nothing")
	}
}
