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
		{"battery first", on, Act{Verb: "disconnect", What: "battery connector", Tool: "plastic spudger"}, ""},
		{"another lead under power", on, Act{Verb: "disconnect", What: "display lead"}, "power"},
		{"the same with the battery off", off, Act{Verb: "disconnect", What: "display lead"}, ""},
		{"putting back asks nothing", on, Act{Verb: "disconnect", What: "display lead", Back: true}, ""},
		{"tweezers at the battery", on, Act{Verb: "disconnect", Part: "battery", Tool: "tweezers"}, "metal"},
		{"tweezers in hand", State{Tool: "tweezers", Charge: 1, Limit: 25}, Act{Verb: "disconnect", Part: "battery"},
			"metal"},
		{"charge above the limit", State{BatteryOff: true, Charge: 60, Limit: 25},
			Act{Verb: "pry", Part: "battery", Tool: "plastic card"}, "charged"},
		{"charge unknown", State{BatteryOff: true, Charge: -1, Limit: 25}, Act{Verb: "pry", Part: "battery"},
			"charged"},
		{"discharged", off, Act{Verb: "pry", Part: "battery", Tool: "plastic card"}, ""},
		{"prying glass", State{Charge: -1}, Act{Verb: "pry", Part: "rear glass"}, ""},
		{"heat on wet solvent", State{BatteryOff: true, WetUntil: 700}, Act{Verb: "heat", Second: 100}, "flame"},
		{"heat when it is dry", State{BatteryOff: true, WetUntil: 700}, Act{Verb: "heat", Second: 701}, ""},
		{"electric release without polarity", off, Act{Verb: "cut", Part: "battery", Method: "voltage"}, "polarity"},
		{"with it", off, Act{Verb: "cut", Part: "battery", Method: "voltage", Polarity: "plus on tab"}, ""},
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
		{Act{Verb: "disconnect", Part: "battery"}, true, 0, "tweezers"},
		{Act{Verb: "solvent", Second: 50}, true, 50 + DrySeconds, "tweezers"},
		{Act{Verb: "disconnect", Part: "battery", Back: true}, false, 50 + DrySeconds, "tweezers"},
		{Act{Verb: "lift", Part: "battery"}, true, 50 + DrySeconds, "tweezers"},
	} {
		if s = After(s, step.a); s.BatteryOff != step.off || s.WetUntil != step.wet || s.Tool != step.tool {
			t.Errorf("after %+v: %+v", step.a, s)
		}
	}
}

func TestRetest(t *testing.T) {
	for rule, want := range map[string]int{"power": 3, "metal": 2, "charged": 1, "flame": 0, "polarity": 1,
		"swollen": 1, "nonsense": 0} {
		if got := Retest(rule); len(got) != want || rule != "nonsense" && got == nil {
			t.Errorf("%s: %v", rule, got)
		}
	}
}
