// Package interlock holds the stops of the bench: what is dangerous in the state that a phone is in. A stop comes after
// the act was named and is answered with one key; it never asks for prose.
//
//	for _, stop := range interlock.Check(state, act) { … }
package interlock

import "strings"

// DrySeconds is how long solvent is taken to be wet (house: until it has dried; ask at the bench).
const DrySeconds = 600.0

// Act is what somebody is about to do, or has done. What is the thing in words, Part its part's name.
type Act struct {
	Verb     string  `json:"verb"`
	Back     bool    `json:"back,omitempty"`
	What     string  `json:"what,omitempty"`
	Part     string  `json:"part,omitempty"`
	Tool     string  `json:"tool,omitempty"`
	Method   string  `json:"method,omitempty"`
	Joint    string  `json:"joint,omitempty"`
	Polarity string  `json:"polarity,omitempty"`
	Second   float64 `json:"second" doc:"seconds on the clock of the log"`
}

// State is what is known of a phone. BatteryOff says that its battery is disconnected, Charge is in percent (unknown
// below 0), Limit the workshop's limit, WetUntil the second at which solvent is dry, Tool the tool in hand.
type State struct {
	BatteryOff bool    `json:"battery_off"`
	Charge     float64 `json:"charge"`
	Limit      float64 `json:"limit"`
	Swollen    bool    `json:"swollen"`
	WetUntil   float64 `json:"wet_until"`
	Polarity   string  `json:"polarity,omitempty" doc:"declared for this model; empty: not declared"`
	Tool       string  `json:"tool,omitempty"`
}

// Stop is one interlock. Reasons are the ready answers 3, 4 and 5; Retest names the families whose checks an act that
// was already done adds to the list of what to test before closing.
type Stop struct {
	Rule      string   `json:"rule"`
	Text      string   `json:"text"`
	Do        string   `json:"do"`
	Reasons   []string `json:"reasons" nullable:"false"`
	Retest    []string `json:"retest" nullable:"false"`
	Certainty string   `json:"certainty"`
}

const practice = "common practice, no source"

func has(text string, words ...string) bool {
	for _, w := range words {
		if strings.Contains(strings.ToLower(text), w) {
			return true
		}
	}
	return false
}

func (a Act) battery() bool { return has(a.What+" "+a.Part, "battery", "cell") }

// metal says that a tool conducts: what is not named as plastic, wood or nylon, and is not a hand, counts as metal.
func metal(tool string) bool {
	return tool != "" && !has(tool, "plastic", "nylon", "wood", "spudger", "pick", "carbon-free", "suction", "card",
		"hand", "plate", "press", "pad", "alcohol")
}

// Check lists the stops for an act in a state.
func Check(s State, a Act) []Stop {
	stops := []Stop{}
	if a.Back || a.Verb == "note" || a.Verb == "measure" || a.Verb == "incident" || a.Verb == "tool" {
		return stops
	}
	tool := a.Tool
	if tool == "" {
		tool = s.Tool
	}
	connector := a.Verb == "disconnect"
	add := func(cond bool, rule, text, do string, retest []string, reasons ...string) {
		if cond {
			stops = append(stops, Stop{rule, text, do, reasons, retest, practice})
		}
	}
	add(connector && !a.battery() && !s.BatteryOff, "power", "The battery is still connected.",
		"Battery connector first, with a plastic tool. Connectors pulled under power have blown backlight and board.", []string{"SC", "BD", "OP"},
		"battery is empty and measured", "this lead carries no power", "battery was off, not logged")
	add(connector && a.battery() && metal(tool), "metal", "A metal tool at the battery connector can short the cell.",
		"Put it down; plastic tool.", []string{"PW",
			"BD"}, "tool is insulated", "connector is covered", "tool is plastic, named wrongly")
	add((a.Verb == "pry" || a.Verb == "cut" && has(tool, "blade", "knife", "metal")) && a.battery() &&
		(s.Charge < 0 || s.Charge > s.Limit), "charged",
		"Prying a cell that is charged, or whose charge nobody wrote down.", "Discharge below the workshop's limit first. Last resort, never with a sharp tool.", []string{"PW"},
		"discharged just now", "cell is dead, measured", "flat plastic card, no lever")
	add((a.Verb == "heat" || has(a.Method, "air", "plate", "flame")) && a.Second < s.WetUntil, "flame",
		"Solvent is still wet: its vapour burns.",
		"No heat or flame until it has dried; extraction on.", []string{}, "dried with a cloth and air", "other phone was wet", "solvent does not burn (label read)")
	add(has(a.Method, "voltage") && a.Polarity == "" && s.Polarity == "", "polarity",
		"The polarity of the electric release differs by model, and none is declared.",
		"Declare it: plus on which tab, minus on which.", []string{"PW"}, "read on the tab", "maker's sheet says so", "asked on the same model before")
	add(s.Swollen && (a.Verb == "heat" || a.Verb == "pry" || a.Verb == "cut"), "swollen",
		"This cell is swollen: no heat, no lever, no knife.",
		"Stop. Fire-safe box, and the workshop's rule for swollen cells.", []string{"PW"}, "cell is out of the phone", "checked again: not swollen", "somebody trained takes over")
	return stops
}

// After is the state once the act was carried out.
func After(s State, a Act) State {
	switch {
	case a.Verb == "disconnect" && a.battery():
		s.BatteryOff = !a.Back
	case a.Verb == "lift" && a.battery() && !a.Back:
		s.BatteryOff = true
	case a.Verb == "solvent" && !a.Back, has(a.Method, "alcohol", "solvent") && !a.Back:
		s.WetUntil = a.Second + DrySeconds
	case a.Verb == "tool":
		s.Tool = a.Tool
	}
	if a.Polarity != "" {
		s.Polarity = a.Polarity
	}
	return s
}

// Retest names the families whose checks a stop that was already done adds to the list before closing.
func Retest(rule string) []string {
	// One act that raises every stop shows each rule's families.
	all := Check(State{Charge: -1, Swollen: true, WetUntil: 1}, Act{Verb: "disconnect", What: "lead"})
	all = append(all, Check(State{Charge: -1, Swollen: true, WetUntil: 1, Tool: "tweezers"},
		Act{Verb: "disconnect", What: "battery", Method: "voltage air"})...)
	all = append(all, Check(State{Charge: -1, Swollen: true}, Act{Verb: "pry", What: "battery"})...)
	for _, s := range all {
		if s.Rule == rule {
			return s.Retest
		}
	}
	return nil
}
