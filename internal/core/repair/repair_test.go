package repair

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/core/plan"
	"waryowl/internal/core/trade"
)

func step(id, verb, what, joint string, count int, frees []string, before ...string) Out {
	return Out{Usual: 20, Early: 12, Late: 34, Done: plan.Done{Before: before, Step: plan.Step{ID: id, Verb: verb, What: what,
		Joint: joint, Count: count, Frees: frees}}}
}

// battery is a common job in short (common practice, no source): rim, heat, cut, display open, bracket, leads, tabs, cell.
func battery() Input {
	cut := step("s4", "cut", "rim adhesive", "adhesive", 1, nil, "s3")
	cut.Consumable = "rim adhesive"
	heat := step("s3", "heat", "rim at 80 °C", "adhesive", 0, nil, "s2")
	heat.WaitSeconds, heat.Method = 120, "plate"
	tabs := step("s8", "cut", "battery pull tabs", "pull tab", 2, nil, "s7")
	tabs.Consumable = "pull tabs"
	return Input{Part: "battery", Name: "battery", Kind: "battery", Cure: 900, Steps: []Out{
		step("s1", "lift", "card tray", "", 0, []string{"card tray"}),
		step("s2", "unfasten", "two rim screws", "screw", 2, nil, "s1"), heat, cut,
		step("s5", "lift", "open the display like a book", "", 0, nil, "s4"),
		step("s6", "unfasten", "upper bracket", "screw", 5, []string{"upper bracket"}, "s5"),
		step("s7", "disconnect", "battery connector", "connector", 1, nil, "s6"), tabs,
		step("s9", "lift", "battery", "", 0, []string{"battery"}, "s8")},
		Checks: []Checked{{Mark: "boot", Name: "Starts", Seconds: 60, Touched: true},
			{Mark: "compass", Name: "Compass", Seconds: 15},
			{Mark: "charging", Name: "Charging by cable", Seconds: 30, Touched: true},
			{Mark: "battery-health", Name: "Battery health shown", Seconds: 20, Touched: true, Lost: true}}}
}

func keys(acts []Act) []string {
	var list []string
	for _, a := range acts {
		list = append(list, a.Key)
	}
	return list
}

// TestTheWholeOfABattery: the order of a repair as it is done at a bench (common practice, no source).
func TestTheWholeOfABattery(t *testing.T) {
	acts, conflict := Sheet(battery())
	want := "in s1, in s2, in s3, wait s3, in s4, in s5, in s6, in s7, in s8, in s9, old, same, " +
		"back s8, back s9, back s7, see seat s7, back s6, try, back s4, back s5, back s2, back s1, cure, " +
		"check boot, check charging, check battery-health, check compass"
	if got := strings.Join(keys(acts), ", "); conflict != "" || !sameButSeal(got, want) {
		t.Errorf("conflict %q\n got %s\nwant %s", conflict, got, want)
	}
	by := map[string]Act{}
	for _, a := range acts {
		by[a.Key] = a
	}
	for key, has := range map[string]string{"in s6": "Unscrew 5 screws off the upper bracket", "in s2": "Unscrew two rim screws", "in s5": "Open the display like a book",
		"old": "fire-safe", "back s9": "Fit the new battery", "back s1": "Put back: card tray", "back s4": "Lay new rim adhesive",
		"back s2": "Fasten two rim screws", "back s6": "Fasten 5 screws at the upper bracket", "back s7": "Connect battery connector",
		"see seat s7": "See that it is seated: battery connector"} {
		if !strings.Contains(by[key].Text, has) {
			t.Errorf("%s reads %q, want %q in it", key, by[key].Text, has)
		}
	}
	switch {
	case by["in s6"].Screws != 5 || by["back s6"].Screws != 5:
		t.Error("the screws of the bracket are not counted on both ways")
	case len(by["wait s3"].Meanwhile) > 0:
		t.Error("something is to be done on a phone that lies on the plate")
	case !slices.Equal(by["back s6"].Needs, []string{"see seat s7"}):
		t.Errorf("the bracket goes on without %v", by["back s6"].Needs)
	case by["cure"].Begins != "back s1" || by["wait s3"].Begins != "in s3":
		t.Error("a clock begins with another act")
	case !by["check compass"].Rest || by["check boot"].Rest || !by["check battery-health"].Lost:
		t.Error("the checks are not told apart")
	}
}

// sameButSeal compares two orders of keys. Where the seal's glue lies in the order is said by the closing list, which has
// tests of its own: here it only has to come after the phone was started.
func sameButSeal(got, want string) bool {
	a, b := strings.Split(got, ", "), strings.Split(want, ", ")
	without := func(list []string) []string {
		return slices.DeleteFunc(slices.Clone(list), func(k string) bool { return k == "try" || k == "back s4" || k == "back s5" })
	}
	return slices.Equal(without(a), without(b)) && slices.Index(a, "try") < slices.Index(a, "back s4") && slices.Index(a, "try") > 0
}

func TestWhatMovesOver(t *testing.T) {
	in := battery()
	in.Part, in.Name, in.Kind = "display", "display assembly", "display"
	in.Moves = []Mover{{"strip", "sensor strip", "it belongs to the board by serial"}}
	acts, _ := Sheet(in)
	at := keys(acts)
	if i, j := slices.Index(at, "move strip sensor strip"), slices.Index(at, "film"); i < 0 || j < i || j > slices.Index(at, "back s8") {
		t.Errorf("what moves over, and films: %v", at)
	}
	soak := Input{Part: "b", Name: "battery", Steps: []Out{step("a", "solvent", "battery", "", 0, nil),
		step("b", "unfasten", "lower bracket", "screw", 2, nil), step("c", "heat", "rim", "", 0, nil),
		step("d", "lift", "battery", "", 0, []string{"b"}, "a"), step("e", "unfasten", "port", "screw", 1, nil, "d")}}
	soak.Steps[0].WaitSeconds = 60
	acts, _ = Sheet(soak)
	if k := slices.Index(keys(acts), "wait a"); k < 0 || fmt.Sprint(acts[k].Meanwhile) != "[in b]" {
		t.Errorf("while the solvent soaks: %+v", acts)
	}
}

// TestNothingStaysOut plays random repairs: with plan.Replay, which knows nothing of the sheet, nothing is out at the end;
// each screw that came out goes in; what a cover needs stands before it; each wait after what begins it.
func TestNothingStaysOut(t *testing.T) {
	r := rand.New(rand.NewPCG(33, 1))
	verbs := []string{"unfasten", "disconnect", "lift", "cut", "heat", "pry", "bracket", "peel", "solvent"}
	whats := []string{"battery connector", "display lead", "upper bracket", "main board", "port", "rear camera", "tape"}
	for range 400 {
		in := Input{Part: "p9", Name: "speaker", Cure: float64(r.IntN(2) * 900)}
		for i := range 2 + r.IntN(9) {
			s := step(fmt.Sprint("s", i), verbs[r.IntN(len(verbs))], whats[r.IntN(len(whats))], "", r.IntN(4), nil)
			switch {
			case s.Verb == "unfasten":
				s.Joint = "screw"
			case s.Verb == "cut":
				s.Joint, s.Consumable = "adhesive", "glue"
			case s.Verb == "lift" || s.Verb == "bracket":
				s.Frees = []string{fmt.Sprint("p", i)}
			case trade.Waits(s.Verb):
				s.WaitSeconds = 30
			}
			if i > 0 && r.IntN(3) > 0 {
				s.Before = []string{fmt.Sprint("s", r.IntN(i))}
			}
			in.Steps = append(in.Steps, s)
		}
		last := step("s99", "lift", "speaker", "", 0, []string{"p9"}, in.Steps[len(in.Steps)-1].ID)
		in.Steps = append(in.Steps, last)
		for i := range in.Steps[:len(in.Steps)-1] {
			in.Steps[i].Frees = slices.DeleteFunc(in.Steps[i].Frees, func(p string) bool { return p == "p9" })
		}
		acts, _ := Sheet(in)
		var log []plan.Entry
		done, screws := []string{}, 0
		for _, a := range acts {
			if slices.Contains(done, a.Key) {
				t.Fatalf("%s twice in %v", a.Key, keys(acts))
			}
			if open := Open(a, done); len(open) > 0 {
				t.Fatalf("%s hides %v: %v", a.Key, open, keys(acts))
			}
			if a.Begins != "" && !slices.Contains(done, a.Begins) {
				t.Fatalf("%s before %s: %v", a.Key, a.Begins, keys(acts))
			}
			done = append(done, a.Key)
			k := slices.IndexFunc(in.Steps, func(s Out) bool { return s.ID == a.StepID })
			switch {
			case a.Kind == Step:
				log = append(log, plan.Entry{Frees: in.Steps[k].Frees})
				screws += a.Screws
			case a.Kind == Line:
				log = append(log, plan.Entry{Frees: in.Steps[k].Frees, Back: true})
				screws -= a.Screws
			}
		}
		if out, err := plan.Replay(log); err != nil || len(out) > 0 || screws != 0 {
			t.Fatalf("%v are out, %d screws, %v: %v", out, screws, err, keys(acts))
		}
		walk(t, r, acts)
	}
}

// walk does the acts in order and counts with its own sums.
func walk(t *testing.T, r *rand.Rand, acts []Act) {
	var entries []Entry
	hands, waited := 0.0, 0.0
	for {
		s := Progress(acts, entries)
		if math.Abs(s.HandsOn-hands) > 1e-9 || math.Abs(s.Waited-waited) > 1e-9 || s.Done != len(entries) {
			t.Fatalf("%+v after %d entries of %g and %g s", s, len(entries), hands, waited)
		}
		if s.Now == "" {
			if s.Done != s.Of || s.Left != 0 || s.LeftWait != 0 || len(s.Clocks) > 0 {
				t.Fatalf("at the end: %+v", s)
			}
			return
		}
		k := slices.IndexFunc(acts, func(a Act) bool { return a.Key == s.Now })
		e := Entry{Key: s.Now, Seconds: float64(1 + r.IntN(100)), Break: r.IntN(9) == 0}
		if acts[k].Kind == Wait && !slices.Contains(s.Clocks, s.Now) {
			t.Fatalf("the clock of %s does not run", s.Now)
		}
		if acts[k].Kind == Wait && !e.Break {
			waited += e.Seconds
		} else if !e.Break {
			hands += e.Seconds
		}
		entries = append(entries, e)
	}
}

func TestPauses(t *testing.T) {
	acts := []Act{{Key: "a", Kind: Step, Seconds: 20, Early: 12, Late: 34}, {Key: "b", Kind: Step, Seconds: 20, Early: 12, Late: 34},
		{Key: "c", Kind: Wait, Seconds: 60, Late: 70, Begins: "b"}}
	s := Progress(acts, []Entry{{Key: "a", Seconds: 103}, {Key: "b", Seconds: 900, Break: true}, {Key: "c", Seconds: 3900},
		{Key: "round 1 s3", Seconds: 100}, {Key: "gone", Seconds: 7}})
	if fmt.Sprint(s.Long) != "[a]" || s.HandsOn != 103 || s.Waited != 4000 || s.Fastest != 24 || s.Usual != 100 {
		t.Errorf("%+v", s)
	}
	if s := Progress(acts, []Entry{{Key: "a", Seconds: 1, Skipped: true}}); s.Fastest != 0 {
		t.Errorf("an act that was left out counts %g s", s.Fastest)
	}
}
