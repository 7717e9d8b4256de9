// Package faultfind finds the fault of one phone with a fault: which act comes next, so that the expected cost until the phone is whole or
// given up is least.
//
//	out, err := faultfind.Solve(faultfind.Input{Symptom: "no charge", Works: []string{"boot"}})
//	out.Next[0].Act // what to do now
//
// One fault at a time: exactly one cause is true. The priors, minutes and prices of the table that ships with it are our own
// (house); closed cases move them. Source of the method: D. Heckerman, J. Breese, K. Rommelse, "Decision-theoretic
// troubleshooting", Communications of the ACM 38 (1995).
package faultfind

import (
	_ "embed"
	"encoding/json"
	"strings"
	"sync"
)

// Table holds the symptoms with their causes and acts, what each check needs, and the openings of a phone.
type Table struct {
	Grade    string              `json:"grade,omitempty"`
	Weight   *float64            `json:"weight,omitempty" minimum:"0" doc:"how many closed cases the table weighs as much as; 20 when left out"`
	Acquit   *float64            `json:"acquit,omitempty" minimum:"0" maximum:"1" doc:"what a check that works leaves of a cause; .05 when left out"`
	Openings map[string]Opening  `json:"openings,omitempty"`
	Needs    map[string][]string `json:"needs,omitempty" doc:"per check: the components without which it cannot work"`
	Symptoms map[string]Symptom  `json:"symptoms"`
}

// Opening is a way in, in attended minutes: there, and back.
type Opening struct {
	Inside  string  `json:"inside,omitempty"`
	Minutes float64 `json:"minutes" minimum:"0"`
	Close   float64 `json:"close,omitempty" minimum:"0"`
}

// Symptom is what is wrong, as the owner says it. Also are further checks that show the same; First are acts that protect people
// and come before all others; Gate is what must be done before a board is called dead.
type Symptom struct {
	Check  string           `json:"check"`
	Also   []string         `json:"also,omitempty" nullable:"false"`
	First  []string         `json:"first,omitempty" nullable:"false"`
	Gate   []string         `json:"gate,omitempty" nullable:"false"`
	Causes map[string]Cause `json:"causes"`
	Acts   []Act            `json:"acts"`
}

// Cause is one thing that may be wrong. P is its share among all, Dead says that calling it gives the board up.
type Cause struct {
	P         float64 `json:"p" minimum:"0"`
	Component string  `json:"component,omitempty"`
	Dead      bool    `json:"dead,omitempty"`
}

// Act is one thing to do. Of are the causes that a hit leaves: a cure that hits has taken the symptom away, a try (a known-good
// part, a lead off) holds while it is there, a look says yes. Minutes are attended, Wait is not.
type Act struct {
	Act     string   `json:"act"`
	Kind    string   `json:"kind" enum:"cure,try,look"`
	Of      []string `json:"of" nullable:"false"`
	Minutes float64  `json:"minutes,omitempty" minimum:"0"`
	Wait    float64  `json:"wait,omitempty" minimum:"0"`
	Price   float64  `json:"price,omitempty" minimum:"0"`
	Opens   string   `json:"opens,omitempty"`
	Needs   []string `json:"needs,omitempty" nullable:"false" doc:"acts that come before it"`
}

//go:embed faults.json
var shipped []byte

// Shipped is the table that ships with the program; nobody may change it.
var Shipped = sync.OnceValue(func() *Table {
	var t Table
	if err := json.Unmarshal(shipped, &t); err != nil {
		panic(err)
	}
	return &t
})

// causeOrder is the order in which the shipped table lists the causes of each symptom.
var causeOrder = sync.OnceValue(func() map[string][]string {
	out := map[string][]string{}
	var raw struct {
		Symptoms map[string]struct{ Causes json.RawMessage }
	}
	if err := json.Unmarshal(shipped, &raw); err != nil {
		panic(err)
	}
	for name, s := range raw.Symptoms {
		d := json.NewDecoder(strings.NewReader(string(s.Causes)))
		_, _ = d.Token() // the brace
		for d.More() {
			key, err := d.Token()
			if err != nil {
				panic(err)
			}
			out[name] = append(out[name], key.(string))
			var skip Cause
			if err := d.Decode(&skip); err != nil {
				panic(err)
			}
		}
	}
	return out
})

// SymptomOrder lists the symptoms of the shipped table in its order.
var SymptomOrder = sync.OnceValue(func() []string {
	var names []string
	var raw struct{ Symptoms json.RawMessage }
	if err := json.Unmarshal(shipped, &raw); err != nil {
		panic(err)
	}
	d := json.NewDecoder(strings.NewReader(string(raw.Symptoms)))
	_, _ = d.Token()
	for d.More() {
		key, err := d.Token()
		if err != nil {
			panic(err)
		}
		names = append(names, key.(string))
		var skip Symptom
		if err := d.Decode(&skip); err != nil {
			panic(err)
		}
	}
	return names
})
