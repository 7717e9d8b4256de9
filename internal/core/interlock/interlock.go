// Package interlock holds the stops of the bench: what is dangerous in the state that a phone is in. They go by the
// kind of the part and by which connectors are off, never by words. A stop comes after the act was named and is
// answered with one key; it never asks for prose.
//
//	for _, stop := range interlock.Check(state, act) { … }
package interlock

import (
	"slices"
	"strings"

	"waryowl/internal/core/trade"
)

// DrySeconds is how long solvent is taken to be wet (house: until it has dried; ask at the bench).
const DrySeconds = 600.0

// Act is what somebody is about to do, or has done. Kind is the kind of the part that it is about.
type Act struct {
	Verb     string  `json:"verb"`
	Back     bool    `json:"back,omitempty"`
	Kind     string  `json:"kind,omitempty" doc:"kind of the part"`
	Joint    string  `json:"joint,omitempty"`
	Tool     string  `json:"tool,omitempty"`
	Method   string  `json:"method,omitempty"`
	Volts    float64 `json:"volts,omitempty"`
	Polarity string  `json:"polarity,omitempty"`
	Outcome  string  `json:"outcome,omitempty"`
	Second   float64 `json:"second,omitempty" doc:"seconds on the clock of the log"`
}

// State is what is known of a phone. BatteryOff says that its battery is disconnected, Charge is in percent (unknown
// below 0), Limit the workshop's limit, WetUntil the second at which solvent is dry, Tool the tool in hand, Leads how
// many other leads are off.
type State struct {
	BatteryOff bool    `json:"battery_off"`
	Charge     float64 `json:"charge"`
	Limit      float64 `json:"limit"`
	Swollen    bool    `json:"swollen"`
	WetUntil   float64 `json:"wet_until"`
	Polarity   string  `json:"polarity,omitempty" doc:"declared for this model; empty: not declared"`
	Tool       string  `json:"tool,omitempty"`
	Leads      int     `json:"leads,omitempty" doc:"leads other than the battery's that are off"`
}

// Stop is one interlock. Reasons are the ready answers 3, 4 and 5; Retest names the families whose checks an act that
// was already done adds to the list of what to test before closing.
type Stop struct {
	Rule      string          `json:"rule" enum:"power,metal,charged,sharp,flame,polarity,swollen,battery last,covered"`
	Text      string          `json:"text"`
	Do        string          `json:"do"`
	Reasons   []string        `json:"reasons" nullable:"false"`
	Retest    []string        `json:"retest" nullable:"false"`
	Certainty trade.Certainty `json:"certainty"`
}

// tried says that an act left the phone as it was.
func (a Act) tried() bool { return a.Outcome == "gave up" || a.Outcome == "not tried" }

func (a Act) lead() bool { return a.Verb == "disconnect" || trade.Lead(a.Joint) }

// cell says that an act works on the cell itself, not on its connector.
func (a Act) cell() bool { return a.Kind == "battery" && !a.lead() }

var rules = []struct {
	Stop
	applies func(State, Act) bool
}{
	{Stop{"power", "The battery is still connected.",
		"Battery connector first, with a plastic tool. Connectors pulled under power have blown backlight and board.",
		[]string{"battery is empty and measured", "this lead carries no power",
			"battery was off, not logged"}, []string{"SC", "BD", "OP"}, trade.Practice},
		func(s State, a Act) bool { return !a.Back && a.lead() && a.Kind != "battery" && !s.BatteryOff }},
	{Stop{"metal", "A metal tool at the battery connector can short the battery.", "Put it down; plastic tool.",
		[]string{"tool is insulated", "connector is covered", "tool is plastic, named wrongly"}, []string{"PW",
			"BD"}, trade.Practice},
		func(_ State, a Act) bool { return !a.Back && a.lead() && a.Kind == "battery" && trade.Conducts(a.Tool) }},
	{Stop{"charged", "Prying a battery that is charged, or whose charge nobody wrote down.",
		"Discharge below the workshop's limit first. Last resort, never with a sharp tool.",
		[]string{"discharged just now", "battery is empty, measured",
			"flat plastic card, no lever"}, []string{"PW"}, trade.Practice},
		func(s State, a Act) bool {
			lever := a.Verb == "pry" || a.Verb == "cut" && trade.Sharp(a.Tool)
			return !a.Back && a.cell() && lever && (s.Charge < 0 || s.Charge > s.Limit)
		}},
	{Stop{"sharp", "A sharp or metal tool at the battery.",
		"Put it down; flat plastic card or alcohol. A pierced battery burns.",
		[]string{"tool is blunt plastic, named wrongly", "it does not touch the battery",
			"battery is out of the phone"}, []string{"PW"}, trade.Practice},
		func(_ State, a Act) bool {
			return !a.Back && a.cell() && slices.Contains([]string{"pry", "cut", "lift", "slide", "release"},
				a.Verb) && trade.Sharp(a.Tool)
		}},
	{Stop{"flame", "Solvent is still wet: its vapour burns.", "No heat or flame until it has dried; extraction on.",
		[]string{"dried with a cloth and air", "other phone was wet",
			"solvent does not burn (label read)"}, []string{}, trade.Practice},
		func(s State, a Act) bool {
			return !a.Back && (a.Verb == "heat" || trade.Hot(a.Method) || a.Joint == "solder") && a.Second < s.WetUntil
		}},
	{Stop{"polarity", "The polarity of the electric release differs by model, and none is declared.",
		"Declare it: plus on which tab, minus on which.",
		[]string{"read on the tab", "maker's sheet says so",
			"asked on the same model before"}, []string{"PW"}, trade.Practice},
		func(s State, a Act) bool {
			return !a.Back && (a.Method == "voltage" || a.Volts > 0) && a.Polarity == "" && s.Polarity == ""
		}},
	{Stop{"swollen", "This battery is swollen: no heat, no lever, no knife.",
		"Stop. Fire-safe box, and the workshop's rule for swollen cells.",
		[]string{"battery is out of the phone", "checked again: not swollen",
			"somebody trained takes over"}, []string{"PW"}, trade.Practice},
		func(s State, a Act) bool {
			return !a.Back && s.Swollen && (a.Verb == "heat" || a.Verb == "pry" || a.Verb == "cut")
		}},
	{Stop{"battery last", "The battery goes on last: it is on already, or other leads are still off.",
		"Battery off, the other leads on, then the battery.",
		[]string{"the other leads stay off on purpose", "leads are on, not logged",
			"battery was off, not logged"}, []string{"BD", "SC", "OP"}, trade.Practice},
		func(s State, a Act) bool {
			return a.Back && a.lead() && (a.Kind != "battery" && !s.BatteryOff || a.Kind == "battery" && s.Leads > 0)
		}},
}

// Covered is the stop of a cover that goes on over what nobody has seen yet: leads still off, gates not ticked.
func Covered(hidden []string) Stop {
	return Stop{"covered", "It would cover what is not ready: " + strings.Join(hidden, "; ") + ".",
		"Put the lead back on, see it flat and hear it click, then the cover.",
		[]string{"the lead stays off on purpose", "it comes off again before closing", "only laid on, not fastened"},
		[]string{}, trade.Practice}
}

// Check lists the stops for an act in a state. The tool in hand counts where the act names none.
func Check(s State, a Act) []Stop {
	stops := []Stop{}
	if v, _ := trade.VerbOf(a.Verb); !v.Step || a.Outcome == "not tried" {
		return stops
	}
	if a.Tool == "" {
		a.Tool = s.Tool
	}
	for _, r := range rules {
		if r.applies(s, a) {
			stops = append(stops, r.Stop)
		}
	}
	return stops
}

// After is the state once the act was carried out. Only the battery's own connector, or the battery lifted out,
// switches the battery; what was given up changes nothing.
func After(s State, a Act) State {
	switch {
	case a.Verb == "tool":
		s.Tool = a.Tool
	case a.tried():
	case a.lead() && a.Kind == "battery":
		s.BatteryOff = !a.Back
	case a.lead() && a.Back:
		s.Leads = max(0, s.Leads-1)
	case a.lead():
		s.Leads++
	case a.Verb == "lift" && a.Kind == "battery" && !a.Back:
		s.BatteryOff = true
	}
	if !a.tried() && !a.Back && (a.Verb == "solvent" && (a.Method == "" || trade.Wets(a.Method)) ||
		trade.Wets(a.Method)) {
		s.WetUntil = a.Second + DrySeconds
	}
	if a.Polarity != "" {
		s.Polarity = a.Polarity
	}
	return s
}

// Retest names the families whose checks a stop that was already done adds to the list before closing.
func Retest(rule string) []string {
	for _, r := range rules {
		if r.Rule == rule {
			return r.Retest
		}
	}
	return nil
}
