// Package symptom finds the fault of a sick phone with the same engine that reads swaps: every act takes some causes
// out of play, and whether the symptom stays tells about them.
//
//	in := symptom.Question([]symptom.Try{{"as it is", true}, {"other app", true}}, minutes)
//	out, err := diagnose.Run(in) // out.Next[0] is the act that tells most a minute
package symptom

import (
	"fmt"
	"slices"

	"waryowl/internal/core/diagnose"
)

// Cause is something that may be behind a symptom, with its odds before anything was tried (house; practice in the
// order of the list is common, no source).
type Cause struct {
	ID    string  `json:"id"`
	Words string  `json:"words"`
	Odds  float64 `json:"odds"`
}

// Causes lists them in the order in which people look.
func Causes() []Cause {
	return []Cause{
		{"app", "the app or its settings", 0.15},
		{"state", "software that hangs", 0.15},
		{"software", "the build", 0.05},
		{"seat", "a connector that is not seated", 0.25},
		{"cable", "the cable", 0.12},
		{"module", "the module itself", 0.25},
		{"board", "the main board", 0.08},
	}
}

// act is what may be done: the causes that it takes out of play while it holds, whether it holds for good, whether the
// phone is opened for it, and the minutes besides (house).
type act struct {
	name    string
	removes []string
	lasts   bool
	opens   bool
	minutes float64
}

var acts = []act{
	{"as it is", nil, false, false, 1},
	{"other app", []string{"app"}, false, false, 2},
	{"restart", []string{"state"}, true, false, 3},
	{"reset", []string{"state", "app"}, true, false, 15},
	{"update", []string{"software", "state"}, true, false, 25},
	{"reseat", []string{"seat"}, true, true, 4},
	{"cable", []string{"cable", "seat"}, true, true, 6},
	{"known-good part", []string{"module", "cable", "seat"}, false, true, 6},
	{"module", []string{"module", "seat"}, true, true, 6},
	{"board", []string{"board", "software", "state", "app", "seat"}, false, true, 20},
}

// Acts lists the names of the acts, cheapest first.
func Acts() []string {
	var names []string
	for _, a := range acts {
		names = append(names, a.name)
	}
	return names
}

// Opens says whether the phone is opened for an act.
func Opens(name string) bool {
	return slices.ContainsFunc(acts, func(a act) bool { return a.name == name && a.opens })
}

// Try is an act with what was seen: the symptom stayed or was gone.
type Try struct {
	Act    string
	Stayed bool
}

// noise of one look at a symptom (house): it may hide, or come from something else.
var noise = diagnose.Noise{FalseLoss: 0.005, FalsePass: 0.05}

// Question turns the tries into a question for diagnose: causes are atoms, tries trials of the one check "symptom", and
// every act that takes something out of play is a candidate. open is what opening and closing the phone takes, in
// minutes.
func Question(tries []Try, open float64) diagnose.Input {
	in := diagnose.Input{Checks: []string{"symptom"}, Noise: noise,
		Prior: diagnose.Prior{Default: 0.1, Atoms: map[string]map[string]float64{}}}
	for _, c := range Causes() {
		in.Prior.Atoms[c.ID] = map[string]float64{"symptom": c.Odds}
	}
	gone := map[string]bool{}
	inside := false
	for i, t := range tries {
		k := slices.IndexFunc(acts, func(a act) bool { return a.name == t.Act })
		if k < 0 {
			continue
		}
		a := acts[k]
		result := "pass"
		if t.Stayed {
			result = "lost"
		}
		in.Trials = append(in.Trials, diagnose.Trial{ID: fmt.Sprintf("y%d", i+1), Setup: left(a, gone),
			Results: map[string]string{"symptom": result}})
		if a.lasts {
			for _, c := range a.removes {
				gone[c] = true
			}
		}
		inside = inside || a.opens
	}
	for _, a := range acts[1:] {
		if !slices.ContainsFunc(a.removes, func(c string) bool { return !gone[c] }) {
			continue
		}
		c := diagnose.Candidate{ID: slug(a.name), Minutes: a.minutes, Setup: left(a, gone)}
		if a.opens && !inside {
			c.Minutes += open
		}
		in.Candidates = append(in.Candidates, c)
	}
	return in
}

// left are the causes still in play during an act.
func left(a act, gone map[string]bool) diagnose.Setup {
	s := diagnose.Setup{State: map[string]string{}}
	for _, c := range Causes() {
		if !gone[c.ID] && !slices.Contains(a.removes, c.ID) {
			s.Atoms = append(s.Atoms, c.ID)
		}
	}
	return s
}

func slug(name string) string {
	out := []byte(name)
	for i, c := range out {
		if c == ' ' {
			out[i] = '-'
		}
	}
	return string(out)
}

// Named turns the id of a candidate back into the name of its act.
func Named(id string) string {
	for _, a := range acts {
		if slug(a.name) == id {
			return a.name
		}
	}
	return id
}
