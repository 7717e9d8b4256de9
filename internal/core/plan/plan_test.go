package plan

import (
	"errors"
	"math"
	"slices"
	"testing"

	"waryowl/internal/core/fault"
)

func TestReplay(t *testing.T) {
	free := func(parts ...string) Entry { return Entry{Frees: parts} }
	back := func(parts ...string) Entry { return Entry{Frees: parts, Back: true} }
	for name, c := range map[string]struct {
		log  []Entry
		out  []string
		want string
	}{
		"an empty log": {nil, nil, ""},
		"parts stay out in their order": {[]Entry{free("lid"), free(), free("cell", "tab")},
			[]string{"lid", "cell", "tab"}, ""},
		"out, back and out again": {[]Entry{free("cell"), back("cell"), free("cell")}, []string{"cell"}, ""},
		"freed twice": {[]Entry{free("cell"), free("lid"), free("cell")}, []string{"cell", "lid"},
			"log[2].frees"},
		"put back though it is in place":  {[]Entry{back("cell")}, nil, "log[0].frees"},
		"put back twice after coming out": {[]Entry{free("cell"), back("cell"), back("cell")}, nil, "log[2].frees"},
	} {
		out, err := Replay(c.log)
		var f *fault.Fault
		if errors.As(err, &f); !slices.Equal(out, c.out) || (f == nil) != (c.want == "") || f != nil &&
			f.Field != c.want {
			t.Errorf("%s: got %v, %v", name, out, err)
		}
	}
}

func TestStepCheckNamesTheField(t *testing.T) {
	ok := Step{Verb: "unfasten", Side: "front", Joint: "screw", Drive: "five-lobe", Count: 2, DiameterMM: 0.8,
		LengthMM: 5.1, Seconds: 14}
	if err := ok.Check(); err != nil {
		t.Fatal(err)
	}
	for want, change := range map[string]func(*Step){
		"verb":         func(s *Step) { s.Verb = "smash" },
		"side":         func(s *Step) { s.Side = "left" },
		"joint":        func(s *Step) { s.Joint = "magic" },
		"drive":        func(s *Step) { s.Joint = "adhesive" },
		"count":        func(s *Step) { s.Count = -1 },
		"seconds":      func(s *Step) { s.Seconds = -5 },
		"wait_seconds": func(s *Step) { s.WaitSeconds = math.NaN() },
		"length_mm":    func(s *Step) { s.LengthMM = 51 },
		"diameter_mm":  func(s *Step) { s.DiameterMM = math.Inf(1) },
		"frees[1]":     func(s *Step) { s.Frees = []string{"cell", "cell"} },
		"risk.cell":    func(s *Step) { s.Risk = map[string]float64{"cell": 1} },
	} {
		s := ok
		change(&s)
		var f *fault.Fault
		if err := s.Check(); !errors.As(err, &f) || f.Field != want {
			t.Errorf("want a fault at %s, got %v", want, err)
		}
	}
}
