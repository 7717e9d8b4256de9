package benchline

import (
	"fmt"
	"testing"

	"waryowl/internal/core/closeup"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/shorthand"
)

// TestWhatLeavesThePhone: by the words of the line, else by what is known to hold the part (common practice, no source).
func TestWhatLeavesThePhone(t *testing.T) {
	c := Context{Vocabulary: shorthand.Vocabulary{Unit: "PINE", Parts: []shorthand.Named{
		{ID: "mesh", Name: "earpiece mesh"}, {ID: "display", Name: "display", Kind: "display"},
		{ID: "glass", Name: "back glass", Kind: "rear-glass"}, {ID: "tray", Name: "card tray"}}},
		Steps: plan.Plan{{ID: "s1", Mark: "s1", Verb: "disconnect", What: "flash lead", Part: "glass", Joint: "connector"},
			{ID: "s2", Mark: "s2", Verb: "lift", What: "card tray", Part: "tray", Frees: []string{"tray"}}}}
	for _, x := range []struct {
		line, leaves, say string
		done              plan.Run
	}{
		{"pried the earpiece mesh", "off", "Pry off the earpiece mesh", nil},
		{"pried off the earpiece mesh", "off", "Pry off the earpiece mesh", nil},
		{"pried the earpiece mesh loose", "loose", "Pry the earpiece mesh loose", nil},
		{"earpiece mesh prised up with a pick, hangs", "loose", "Pry the earpiece mesh loose, with the pick", nil},
		{"x earpiece mesh gave up", "", "Peel off the earpiece mesh, gave up", nil},
		{"pried the display", "loose", "Pry the display loose", nil}, // its lead was never taken off
		{"pried the display off", "off", "Pry off the display", nil},
		{"display opened to the left", "loose", "Pry the display loose", nil},
		{"pried the back glass", "loose", "Pry the back glass loose", nil}, // the plan knows its lead
		{"pried the back glass", "off", "Pry off the back glass", plan.Run{"s1"}},
		{"rear camera prised up", "loose", "Pry the rear camera (new part) loose", nil}, // it has a lead, though nobody logged it
		{"cut the back glass off", "off", "Cut off the back glass", nil},
		{"cut the back glass adhesive", "", "Cut the adhesive of the back glass", nil},
		{"slid the card tray out", "", "Slide the card tray", plan.Run{"s2"}}, // it is out already
		{"l earpiece mesh", "", "Take out the earpiece mesh", nil},
	} {
		c.Done = x.done
		a := Read(c, nil, x.line)
		if a.Leaves != x.leaves || a.Say != x.say {
			t.Errorf("%q after %v: %q, %q", x.line, x.done, a.Leaves, a.Say)
		}
		again := Read(c, nil, a.Echo)
		if again.Leaves != a.Leaves || fmt.Sprint(again.Fact) != fmt.Sprint(a.Fact) {
			t.Errorf("%q: its echo %q reads %q %+v", x.line, a.Echo, again.Leaves, again.Fact)
		}
		freed := a.NewStep != nil && len(a.NewStep.Frees) > 0
		if want := x.leaves == "off" || a.Fact.Verb == "lift"; a.NewStep != nil && freed != want {
			t.Errorf("%q: the new step frees %v", x.line, a.NewStep.Frees)
		}
	}
}

// TestACoverOverAnOpenGate raises its stop for the line and for the tile, until what it hides is back and seen.
func TestACoverOverAnOpenGate(t *testing.T) {
	c := Context{Vocabulary: shorthand.Vocabulary{Parts: []shorthand.Named{{ID: "bracket", Name: "upper bracket"},
		{ID: "cam", Name: "front camera", Kind: "front-camera"}}},
		Steps: plan.Plan{{ID: "s1", Mark: "s1", Verb: "bracket", What: "upper bracket", Part: "bracket", Frees: []string{"bracket"}},
			{ID: "s2", Mark: "s2", Verb: "disconnect", What: "front camera", Part: "cam", Joint: "connector"}},
		Done: plan.Run{"s1", "s2"}}
	c.State.BatteryOff = true
	c.Covers = map[string][]closeup.Hidden{"s1": {{Step: "s2", Off: true, Text: "still off: front camera"},
		{Step: "s2", Key: "seat s2", Text: "not seen seated: front camera"}}}
	rules := func(a Answer) (list []string) {
		for _, s := range a.Stops {
			list = append(list, s.Rule)
		}
		return list
	}
	for _, x := range []struct {
		pending []string
		rules   string
	}{{nil, "[covered]"}, {[]string{"+ d front camera"}, "[covered]"}, {[]string{"+ d front camera seated"}, "[]"}} {
		if got := fmt.Sprint(rules(Read(c, x.pending, "+ b upper bracket"))); got != x.rules {
			t.Errorf("after %v: stops %s", x.pending, got)
		}
		if got := len(Stops(c, x.pending, c.Steps[0], true)) > 0; got != (x.rules != "[]") {
			t.Errorf("after %v: the tile stops %v", x.pending, got)
		}
	}
}
