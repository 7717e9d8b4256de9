package ledger

import (
	"slices"
	"strings"
	"testing"

	"waryowl/internal/core/diagnose"
)

var (
	pine  = Board{"pine", "drift-4"}
	amber = Board{"amber", "drift-4"}
)

func from(slot, unit string) Piece { return Piece{Slot: slot, Unit: unit, Model: "drift-4"} }

func TestStateIsDerivedFromTheBoard(t *testing.T) {
	for want, p := range map[string]Piece{
		"own":             from("display", "pine"), // in whichever housing
		"stranger":        from("display", "amber"),
		"foreign@drift-3": {Slot: "display", Unit: "old", Model: "drift-3"},
		"copy@lot-7":      {Slot: "display", Origin: Copy, Lot: "lot-7"},
		"off":             {Slot: "display", Origin: Off},
		"unknown":         {Slot: "display", Origin: Unknown},
	} {
		if got := State(pine, p); got != want {
			t.Errorf("%+v: got %s, want %s", p, got, want)
		}
	}
}

func study(trials ...Trial) Study {
	for i := range trials {
		trials[i].Build = "4.1"
	}
	all := map[string]string{"face": "pass", "sound": "pass"}
	return Study{Checks: []string{"face", "sound"}, Mates: [][2]string{{"display", "sensor strip"}}, Trials: trials,
		Baselines: []Baseline{{pine, "4.1", all}, {amber, "4.1", all}}}
}

func result(face, sound string) map[string]string {
	return map[string]string{"face": face, "sound": sound}
}

func TestSetupListsEveryExplanation(t *testing.T) {
	s := study(Trial{ID: "t1", Board: pine, Pieces: []Piece{from("display", "amber")}, Results: result("lost", "pass")},
		Trial{ID: "t2", Board: pine, Pieces: []Piece{from("display", "amber"), from("sensor strip", "amber")}, Results: result("lost", "pass")},
		Trial{ID: "t3", Board: pine, Pieces: []Piece{from("display", "amber"), {Slot: "sensor strip", Origin: Off}}, Results: result("lost", "pass")})
	in, _ := s.Question(nil)
	var got []string
	for _, tr := range in.Trials {
		got = append(got, tr.ID+" "+strings.Join(tr.AtomNames(), ","))
	}
	want := []string{
		"baseline-pine ",
		"baseline-amber piece:amber-display:bad,piece:amber-sensor strip:bad",
		"t1 display/sensor strip:split,display:stranger,piece:amber-display:bad",
		"t2 display&sensor strip:both,display:stranger,piece:amber-display:bad,piece:amber-sensor strip:bad,sensor strip:stranger",
		"t3 display&sensor strip:both,display:stranger,piece:amber-display:bad,sensor strip:off",
	}
	if !slices.Equal(got, want) {
		t.Errorf("got\n%s\nwant\n%s", strings.Join(got, "\n"), strings.Join(want, "\n"))
	}
	if in.Prior.Atoms["piece:amber-display:bad"]["face"] != PriorBadPiece || in.Prior.Atoms["display&sensor strip:both"]["sound"] != PriorBoth {
		t.Error("the low priors are missing")
	}
}

// TestGuardsChangeThePosterior: the same sticky loss, with its control recorded and without.
func TestGuardsChangeThePosterior(t *testing.T) {
	trials := func(control string) []Trial {
		return []Trial{
			{ID: "t1", Board: pine, Pieces: []Piece{from("display", "amber")}, Results: result("lost", "pass")},
			{ID: "t2", Board: pine, Results: result(control, "pass")},
			{ID: "t3", Board: pine, Pieces: []Piece{from("battery", "amber")}, Results: result("lost", "pass")},
		}
	}
	p := func(control string) float64 {
		in, _ := study(trials(control)...).Question(nil)
		out, err := diagnose.Run(in)
		if err != nil {
			t.Fatal(err)
		}
		return out.Checks["face"].Marginal["battery:stranger"]
	}
	guarded, counted := p("lost"), p("pass")
	if !(guarded <= PriorDefault+1e-9 && counted > 0.5) {
		t.Errorf("battery suspected at %.3f while the phone is not back at baseline, %.3f otherwise", guarded, counted)
	}
	s := study(trials("lost")...)
	s.Baselines[0].Results = result("pass", "weak")
	s.Trials[0].Results["sound"], s.Trials[2].Results["sound"] = "lost", "weak" // the pass between them stays evidence
	var why []string
	for _, k := range s.Guard() {
		why = append(why, k.Trial+" "+k.Check)
	}
	if !slices.Equal(why, []string{"t2 face", "t3 face", "t1 sound", "t3 sound"}) {
		t.Errorf("guards: %v", why)
	}
}

func TestGradeOpensOnlyWhenNothingIsMissing(t *testing.T) {
	display := []Piece{from("display", "amber"), from("sensor strip", "amber")}
	strip := []Piece{from("sensor strip", "amber")}
	all := []Trial{
		{ID: "t1", Board: pine, Pieces: display, Results: result("lost", "pass")},
		{ID: "t2", Board: pine, Results: result("pass", "pass")},
		{ID: "t3", Board: pine, Pieces: strip, Results: result("pass", "pass")},
		{ID: "t4", Board: amber, Pieces: []Piece{from("display", "pine"), from("sensor strip", "pine")}, Results: result("lost", "pass")},
		{ID: "t5", Board: pine, Pieces: []Piece{from("display", "amber")}, Results: result("lost", "pass")},
		{ID: "t6", Board: pine, Pieces: strip, Results: result("pass", "pass")},
	}
	grade := func(n int, slot, check string) Verdict {
		s := study(slices.Clone(all[:n])...)
		in, _ := s.Question(nil)
		out, err := diagnose.Run(in)
		if err != nil {
			t.Fatal(err)
		}
		return s.Grade(in, out, slot, "stranger", check)
	}
	for _, c := range []struct {
		n                      int
		slot, check, mark, eye string
		missing                int
	}{
		{1, "battery", "face", Untested, Shut, 1},
		{1, "display", "face", Unsettled, Half, 1},
		{6, "display", "face", Loses, Open, 0},
		{6, "sensor strip", "face", Works, Half, 1}, // never full without a reading after restart
		{1, "sensor strip", "sound", Works, Half, 3},
	} {
		v := grade(c.n, c.slot, c.check)
		if v.Mark != c.mark || v.Eye != c.eye || len(v.Missing) != c.missing {
			t.Errorf("%s, %s after %d trials: %+v (p %v)", c.slot, c.check, c.n, v, v.P)
		}
	}
	if v := grade(4, "display", "face"); v.Mark != Unsettled || v.P == nil || *v.P < 0.5 {
		t.Errorf("both parts always went together: %+v", v)
	}
}
