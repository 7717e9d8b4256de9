package faults

import (
	"strings"
	"testing"

	"waryowl/internal/core/faultfind"
	"waryowl/internal/store"
)

// Every act of the shipped table that opens a phone warns; what touches the cell, or a phone that is wet or swollen,
// warns of the cell, and a board that is out of static. What is done from outside on a dry phone warns of nothing.
func TestCautionsOfEveryAct(t *testing.T) {
	for symptom, s := range faultfind.Shipped().Symptoms {
		for _, a := range s.Acts {
			r := record{FaultCase: store.FaultCase{}}
			r.Symptom = symptom
			said := map[string]bool{}
			for _, c := range r.cautions(a.Act) {
				said[c.ID] = true
			}
			danger := symptom == "water" || symptom == "swollen or hot"
			_, components := faultfind.Causes(symptom, a.Act)
			touches := a.Opens != "" && strings.Contains(strings.Join(components, " "), "battery")
			for id, want := range map[string]bool{"short": a.Opens != "" || danger, "cell": touches || danger,
				"shards": a.Opens != "", "static": a.Opens == "board out"} {
				if said[id] != want {
					t.Errorf("%s, %s: caution %s %v, want %v", symptom, a.Act, id, said[id], want)
				}
			}
		}
	}
}
