package symptom

import (
	"math"
	"testing"

	"waryowl/internal/core/diagnose"
)

// byHand is Bayes over all sets of causes, written out apart from the engine.
func byHand(tries []Try) map[string]float64 {
	causes := Causes()
	total, mass := 0.0, map[string]float64{}
	for set := range 1 << len(causes) {
		w := 1.0
		for k, c := range causes {
			if set>>k&1 == 1 {
				w *= c.Odds
			} else {
				w *= 1 - c.Odds
			}
		}
		gone := map[string]bool{}
		for _, t := range tries {
			removed := map[string]bool{}
			for _, a := range acts {
				if a.name == t.Act {
					for _, c := range a.removes {
						removed[c] = true
					}
				}
			}
			there := false
			for k, c := range causes {
				there = there || set>>k&1 == 1 && !gone[c.ID] && !removed[c.ID]
			}
			p := map[bool]float64{true: 0.95, false: 0.005}[there]
			if !t.Stayed {
				p = 1 - p
			}
			w *= p
			for _, a := range acts {
				if a.name == t.Act && a.lasts {
					for _, c := range a.removes {
						gone[c] = true
					}
				}
			}
		}
		total += w
		for k, c := range causes {
			if set>>k&1 == 1 {
				mass[c.ID] += w
			}
		}
	}
	for c := range mass {
		mass[c] /= total
	}
	return mass
}

func TestTriesAgainstBayesByHand(t *testing.T) {
	for name, tries := range map[string][]Try{
		"nothing tried":      {{"as it is", true}},
		"gone in other apps": {{"as it is", true}, {"other app", false}},
		"reseated, gone":     {{"as it is", true}, {"other app", true}, {"restart", true}, {"reseat", false}},
		"nothing helped": {{"as it is", true}, {"other app", true}, {"reset", true}, {"cable", true},
			{"known-good part", true}},
		"the known-good part plays": {{"as it is", true}, {"reseat", true}, {"known-good part", false}},
	} {
		out, err := diagnose.Run(Question(tries, 20))
		if err != nil {
			t.Fatal(err)
		}
		for c, want := range byHand(tries) {
			if got := out.Checks["symptom"].Marginal[c]; math.Abs(got-want) > 1e-9 {
				t.Errorf("%s: %s at %.6f, by hand %.6f", name, c, got, want)
			}
		}
	}
}

// TestTheCheapActComesFirst: what needs no opening goes before what does, and what was done for good is not proposed
// again.
func TestTheCheapActComesFirst(t *testing.T) {
	next := func(tries ...Try) []string {
		out, err := diagnose.Run(Question(tries, 25))
		if err != nil {
			t.Fatal(err)
		}
		var names []string
		for _, n := range out.Next {
			names = append(names, Named(n.ID))
		}
		return names
	}
	if got := next(Try{"as it is", true}); Opens(got[0]) {
		t.Errorf("opened first: %v", got)
	}
	got := next(Try{"as it is", true}, Try{"other app", true}, Try{"restart", true}, Try{"reset", true},
		Try{"reseat", true})
	for _, g := range got {
		if g == "restart" || g == "reseat" {
			t.Errorf("proposed again: %v", got)
		}
	}
	if !Opens(got[0]) || len(Acts()) != len(acts) {
		t.Errorf("want a part next, got %v", got)
	}
}
