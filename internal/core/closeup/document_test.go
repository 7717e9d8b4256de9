package closeup

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/trade"
)

func out(id, verb, what, joint string, count int, frees ...string) Out {
	return Out{Done: plan.Done{Step: plan.Step{ID: id, Verb: verb, What: what, Joint: joint, Count: count,
		Frees: frees}}}
}

func n(x int) *int { return &x }

// TestConservation: what came out is back, lost, replaced or left off, or the phone stays open, and so do bits that no
// step accounts for and leads that nobody saw seated (common practice, no source).
func TestConservation(t *testing.T) {
	steps := []Out{out("s1", "unfasten", "charge port", "screw", 16),
		out("s2", "disconnect", "front sensor", "connector", 1),
		out("s3", "pry", "antenna", "coax", 2), out("s4", "lift", "upper bracket", "", 0, "upper bracket")}
	whole := func() Input {
		return Input{Done: steps, Back: []Back{{"s1", nil}, {"s2", nil}, {"s3", nil}, {"s4", nil}},
			Ticks:  []string{"seat s2", "seat s3"},
			Checks: []Check{{"proximity", []string{"front sensor"}}, {"signal", []string{"antenna"}}}}
	}
	for name, c := range map[string]struct {
		change func(*Input)
		why    string
		seated [2]int
		retest string
	}{
		"everything is back": {func(*Input) {}, "", [2]int{3, 3}, ""},
		"16 out, 14 back":    {func(in *Input) { in.Back[0].Count = n(14) }, "unaccounted", [2]int{3, 3}, ""},
		"14 back and two replaced": {func(in *Input) {
			in.Back[0].Count = n(14)
			in.Declared = map[string]Declared{"screws s1": {Replaced: 2}}
		}, "", [2]int{3, 3}, ""},
		"one lost, the others back": {func(in *Input) {
			in.Back[0].Count = n(15)
			in.Declared = map[string]Declared{"screws s1": {Lost: 1}}
		}, "", [2]int{3, 3}, ""},
		"more back than came out": {func(in *Input) { in.Back[0].Count = n(17) }, "unaccounted",
			[2]int{3, 3}, ""},
		"a bracket on the bench": {func(in *Input) { in.Back = in.Back[:3] }, "unaccounted",
			[2]int{3, 3}, ""},
		"a stray bit": {func(in *Input) {
			in.Found = []Found{{"small bracket", 2,
				"unknown"}}
		}, "stray", [2]int{3, 3}, ""},
		"one of this phone": {func(in *Input) { in.Found = []Found{{"screw", 1, "this phone"}} },
			"stray", [2]int{3, 3}, ""},
		"one of another phone": {func(in *Input) { in.Found = []Found{{"screw", 1, "another phone"}} },
			"", [2]int{3, 3}, ""},
		"a lead that nobody saw": {func(in *Input) { in.Ticks = in.Ticks[:1] }, "connector",
			[2]int{1, 3}, ""},
		"a lead left off on purpose": {func(in *Input) {
			in.Ticks = in.Ticks[1:]
			in.LeftOff = []LeftOff{{"s2",
				"on purpose"}}
		}, "", [2]int{2, 2}, "front sensor: proximity"},
		"a stop that was overridden is tested": {func(in *Input) { in.Overrides = []Overridden{{Rule: "power"}} }, "",
			[2]int{3, 3}, "power: "},
	} {
		in := whole()
		c.change(&in)
		o, err := Solve(in)
		if err != nil {
			t.Fatal(name, err)
		}
		var retest []string
		for _, r := range o.Retest {
			retest = append(retest, r.What+": "+strings.Join(r.Checks, " "))
		}
		if got := strings.Join(o.Why, " "); got != c.why || o.May != (c.why == "") || o.Seated != c.seated ||
			strings.Join(retest, "; ") != c.retest {
			t.Errorf("%s: may %v, why %q, seated %v, retest %v", name, o.May, got, o.Seated, retest)
		}
	}
}

// TestTheBatteryGoesLast: its own connector, not what only has its name.
func TestTheBatteryGoesLast(t *testing.T) {
	o, err := Solve(Input{Done: []Out{out("a", "disconnect", "battery connector", "connector", 1),
		out("b", "disconnect", "battery cover flex", "connector", 1),
		out("c", "disconnect", "display lead", "connector", 1)}})
	if err != nil {
		t.Fatal(err)
	}
	var ids []string
	for _, l := range o.Lines {
		ids = append(ids, l.StepID)
	}
	if got := fmt.Sprint(ids); got != "[c b a]" {
		t.Errorf("closing order %s", got)
	}
}

func TestWhatNeverCameOutCannotGoBack(t *testing.T) {
	for want, in := range map[string]Input{
		"back[0].step":     {Done: []Out{out("a", "lift", "lid", "", 0)}, Back: []Back{{"b", nil}}},
		"left_off[0].step": {LeftOff: []LeftOff{{"b", ""}}},
		"done[1].id":       {Done: []Out{out("a", "lift", "lid", "", 0), out("a", "lift", "lid", "", 0)}},
		"done[0].verb":     {Done: []Out{out("a", "smash", "lid", "", 0)}},
		"found[0].origin":  {Found: []Found{{"bit", 1, "the moon"}}},
	} {
		_, err := Solve(in)
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != want {
			t.Errorf("%s: %v", want, err)
		}
	}
}

// TestWhatWasPriedOff: what left the phone is an item, however it came off; what only loosened is none.
func TestWhatWasPriedOff(t *testing.T) {
	for name, c := range map[string]struct {
		verb  string
		off   bool
		frees []string
		items string
	}{
		"pried off":                  {"pry", true, nil, "part rear glass"},
		"pried off, and in the plan": {"pry", true, []string{"rear glass"}, "part rear glass"},
		"pried loose":                {"pry", false, nil, ""},
		"cut, freed by the plan":     {"cut", false, []string{"battery"}, "part battery"},
		"peeled off":                 {"peel", true, []string{"coil"}, "part coil part rear glass"},
	} {
		d := out("s1", c.verb, "rear glass", "", 0, c.frees...)
		d.Off = c.off
		o, err := Solve(Input{Done: []Out{d}})
		if err != nil {
			t.Fatal(name, err)
		}
		var keys []string
		for _, i := range o.Items {
			keys = append(keys, i.Key)
		}
		if got := strings.Join(keys, " "); got != c.items || o.May != (c.items == "") {
			t.Errorf("%s: items %q, may %v", name, got, o.May)
		}
		if o, _ = Solve(Input{Done: []Out{d}, Back: []Back{{"s1", nil}}}); !o.May {
			t.Errorf("%s: put back, and still open: %v", name, o.Why)
		}
	}
}

// TestCoversAndSeats: a tick on a lead that is off is no seat, a cover over a lead that is off or over a gate that
// nobody ticked is said, and a lost screw is not asked for again (common practice, no source).
func TestCoversAndSeats(t *testing.T) {
	lead := out("s3", "disconnect", "front sensor", "connector", 1)
	lead.Before = []string{"s2"}
	cover := out("s2", "lift", "upper bracket", "", 0, "upper bracket")
	cover.Before = []string{"s1"}
	screws := out("s1", "unfasten", "upper bracket", "screw", 5)
	done := []Out{screws, cover, lead}
	all := []Back{{"s1", nil}, {"s2", nil}, {"s3", nil}}
	for name, c := range map[string]struct {
		back  []Back
		ticks []string
		off   []LeftOff
		why   string
	}{
		"all back and seen":               {all, []string{"seat s3"}, nil, ""},
		"ticked, but still off":           {nil, []string{"seat s3"}, nil, "unaccounted connector"},
		"covered over a lead that is off": {all[:2], []string{"seat s3"}, nil, "connector covered"},
		"covered over an unticked gate":   {all, nil, nil, "connector covered"},
		"left off on purpose":             {all[:2], nil, []LeftOff{{"s3", "on purpose"}}, ""},
	} {
		o, err := Solve(Input{Done: done, Back: c.back, Ticks: c.ticks, LeftOff: c.off})
		if err != nil {
			t.Fatal(name, err)
		}
		if got := strings.Join(o.Why, " "); got != c.why {
			t.Errorf("%s: why %q, want %q", name, got, c.why)
		}
	}
	o, _ := Solve(Input{Done: done, Declared: map[string]Declared{"screws s1": {Lost: 1}}})
	for _, l := range o.Lines {
		if l.StepID == "s1" && l.Screws != 4 {
			t.Errorf("%d screws are asked for after one of five was lost", l.Screws)
		}
	}
}

// TestNothingTakenOffIsForgotten: over random phones, what left the phone by any verb keeps it open until it is back or
// declared, and a phone of which all is back and seen may be closed.
func TestNothingTakenOffIsForgotten(t *testing.T) {
	r := rand.New(rand.NewPCG(32, 1))
	for run := range 400 {
		var in Input
		left := 0
		for i := range 1 + r.IntN(8) {
			verb := trade.StepVerbs()[r.IntN(len(trade.StepVerbs()))]
			d := out(fmt.Sprintf("s%d", i), verb, fmt.Sprintf("piece %d", i), "", 1)
			switch {
			case verb == "unfasten":
				d.Joint, left = "screw", left+1
			case verb == "lift" || verb == "bracket":
				d.Frees, left = []string{d.What}, left+1
			case r.IntN(2) == 0 && !trade.Waits(verb):
				d.Off, left = true, left+1
			}
			if i > 0 && r.IntN(2) == 0 {
				d.Before = []string{fmt.Sprintf("s%d", r.IntN(i))}
			}
			in.Done = append(in.Done, d)
		}
		o, err := Solve(in)
		if err != nil {
			t.Fatal(err)
		}
		if len(o.Open) != left || o.May && left > 0 {
			t.Fatalf("run %d: %d left the phone, %d are open, may %v", run, left, len(o.Open), o.May)
		}
		for _, l := range o.Lines {
			in.Back = append(in.Back, Back{Step: l.StepID})
			for _, g := range l.Gates {
				in.Ticks = append(in.Ticks, g.Key)
			}
		}
		for _, d := range in.Done {
			in.Ticks = append(in.Ticks, "seat "+d.ID)
		}
		if o, _ = Solve(in); !o.May {
			t.Fatalf("run %d: all is back and seen, and it may not be closed: %v", run, o.Why)
		}
	}
}

// TestFreshAdhesiveGoesFirst: what holds a part is laid before the part goes in (common practice, no source).
func TestFreshAdhesiveGoesFirst(t *testing.T) {
	tabs := out("s2", "release", "battery pull tabs", "pull tab", 2)
	cell := out("s3", "lift", "battery", "", 0, "battery")
	cell.Before = []string{"s2"}
	rim := out("s1", "cut", "edge adhesive", "adhesive", 1)
	tabs.Before = []string{"s1"}
	o, err := Solve(Input{Done: []Out{rim, tabs, cell}})
	if err != nil {
		t.Fatal(err)
	}
	var ids []string
	for _, l := range o.Lines {
		ids = append(ids, l.StepID)
	}
	if got := fmt.Sprint(ids); got != "[s2 s3 s1]" {
		t.Errorf("closing order %s", got)
	}
}
