package ledger

import (
	"fmt"
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
	calibrated := Entries{"display": "amber-display"}
	for _, c := range []struct {
		want     string
		replaced Entries
		p        Piece
	}{
		{"own", nil, from("display", "pine")}, // in whichever housing
		{"stranger", nil, from("display", "amber")},
		{"adopted", calibrated, from("display", "amber")},
		{"stranger", calibrated, from("display", "pine")}, // the original, once the entry was replaced
		{"adopted", Entries{"display": "display@lot-7"}, Piece{Slot: "display", Origin: Copy, Lot: "lot-7"}},
		{"foreign@drift-3", nil, Piece{Slot: "display", Unit: "old", Model: "drift-3"}},
		{"copy@lot-7", nil, Piece{Slot: "display", Origin: Copy, Lot: "lot-7"}},
		{"off", calibrated, Piece{Slot: "display", Origin: Off}},
		{"unknown", nil, Piece{Slot: "display", Origin: Unknown}},
	} {
		if got := State(pine, c.replaced, c.p); got != c.want {
			t.Errorf("%+v on %v: got %s, want %s", c.p, c.replaced, got, c.want)
		}
	}
}

// TestAnAssemblyMovesItsLeaves, but a leaf that was moved by itself stays where it was put.
func TestAnAssemblyMovesItsLeaves(t *testing.T) {
	got := Expand([]Piece{from("display assembly", "amber"), from("sensor strip", "pine")},
		map[string][]string{"display assembly": {"panel", "sensor strip"}})
	if want := []Piece{from("sensor strip", "pine"), from("panel", "amber")}; !slices.Equal(got, want) {
		t.Errorf("got %v", got)
	}
}

func study(trials ...Trial) Study {
	for i := range trials {
		trials[i].Build = "4.1"
	}
	all := map[string]string{"face": "pass", "sound": "pass"}
	return Study{Build: "4.1", Newest: "4.1", Checks: []string{"face", "sound"},
		Slots: []string{"display", "sensor strip", "battery"}, Mates: [][2]string{{"display", "sensor strip"}},
		Trials:    trials,
		Baselines: []Baseline{{pine, "4.1", all}, {amber, "4.1", all}}}
}

func result(face, sound string) map[string]string {
	return map[string]string{"face": face, "sound": sound}
}

func TestSetupListsEveryExplanation(t *testing.T) {
	s := study(Trial{ID: "t1", Board: pine, Pieces: []Piece{from("display", "amber")}, Results: result("lost", "pass")},
		Trial{ID: "t2", Board: pine, Pieces: []Piece{from("display", "amber"), from("sensor strip", "amber")},
			Results: result("lost", "pass")},
		Trial{ID: "t3", Board: pine, Pieces: []Piece{from("display", "amber"), {Slot: "sensor strip", Origin: Off}},
			Results: result("lost", "pass")})
	in, _ := s.Question(s.Walk(), nil)
	var got []string
	for _, tr := range in.Trials {
		got = append(got, tr.ID+" "+strings.Join(tr.AtomNames(), ","))
	}
	want := []string{
		"baseline-pine ",
		"baseline-amber piece:amber-display:bad,piece:amber-sensor strip:bad",
		"t1 display/sensor strip:split,display:stranger,piece:amber-display:bad,piece:amber-display:bad@t1," +
			"piece:pine-battery:bad@t1,piece:pine-sensor strip:bad@t1",
		"t2 display&sensor strip:both,display:stranger,piece:amber-display:bad,piece:amber-display:bad@t1," +
			"piece:amber-sensor strip:bad,piece:amber-sensor strip:bad@t2,piece:pine-battery:bad@t1," +
			"sensor strip:stranger,stuck:pine:face#t1",
		"t3 display&sensor strip:both,display:stranger,piece:amber-display:bad,piece:amber-display:bad@t1," +
			"piece:pine-battery:bad@t1,sensor strip:off,stuck:pine:face#t1",
	}
	if !slices.Equal(got, want) {
		t.Errorf("got\n%s\nwant\n%s", strings.Join(got, "\n"), strings.Join(want, "\n"))
	}
	if in.Prior.Atoms["piece:amber-display:bad"]["face"] != PriorBadPiece ||
		in.Prior.Atoms["display&sensor strip:both"]["sound"] != PriorBoth {
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
		s := study(trials(control)...)
		in, _ := s.Question(s.Walk(), nil)
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
	for _, d := range s.Walk().Trials {
		for _, c := range s.Checks {
			if d.Skips[c].Why != Counts {
				why = append(why, d.ID+" "+c)
			}
		}
	}
	if !slices.Equal(why, []string{"t1 sound", "t2 face", "t3 face", "t3 sound"}) {
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
		{ID: "t4", Board: amber, Pieces: []Piece{from("display", "pine"), from("sensor strip", "pine")},
			Results: result("lost", "pass")},
		{ID: "t5", Board: pine, Pieces: []Piece{from("display", "amber")}, Results: result("lost", "pass")},
		{ID: "t6", Board: pine, Pieces: strip, Results: result("pass", "pass")},
	}
	grade := func(n int, slot, check string) Verdict {
		s := study(slices.Clone(all[:n])...)
		return judge(t, s, slot, "stranger", check)
	}
	for _, c := range []struct {
		n                      int
		slot, check, mark, eye string
		missing                int
	}{
		{1, "battery", "face", Untested, Shut, 1},
		{1, "display", "face", Unsettled, Half, 1},
		{6, "display", "face", Loses, Open, 0},
		{6, "sensor strip", "face", Works, Half, 1}, // never full without a reading after restart, charge and settling
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

func judge(t *testing.T, s Study, slot, state, check string) Verdict {
	t.Helper()
	h := s.Walk()
	in, _ := s.Question(h, nil)
	out, err := diagnose.Run(in)
	if err != nil {
		t.Fatal(err)
	}
	return s.Grade(h, in, out, slot, state, check)
}

// TestHarmlessNeedsEveryCondition: taking any one away leaves the eye half open and names what is missing.
func TestHarmlessNeedsEveryCondition(t *testing.T) {
	base := func() Study {
		alone := Trial{Board: pine, Pieces: []Piece{from("battery", "amber")}, Results: result("pass", "pass"),
			First:   result("pass", "pass"),
			Settled: map[string][]string{"face": {"restart", "charge", "settling"}}}
		s := study(alone, alone)
		s.Trials[0].ID, s.Trials[1].ID = "t1", "t2"
		s.Trials[1].Before = []Act{{Kind: Reseat, Board: "pine", Pieces: alone.Pieces}}
		return s
	}
	for name, c := range map[string]struct {
		change func(*Study)
		eye    string
		says   string
	}{
		"all holds":   {func(s *Study) {}, Open, ""},
		"not settled": {func(s *Study) { s.Trials[0].Settled, s.Trials[1].Settled = nil, nil }, Half, "restart"},
		"lost at first": {func(s *Study) {
			s.Trials[0].First, s.Trials[1].First = result("lost", "pass"),
				result("lost", "pass")
		}, Half, "at once"},
		"one trial":   {func(s *Study) { s.Trials = s.Trials[:1] }, Half, "second fitting"},
		"one fitting": {func(s *Study) { s.Trials[1].Before = nil }, Half, "second fitting"},
		"not the whole group": {func(s *Study) {
			s.Trials[0].Results, s.Trials[1].Results = map[string]string{"face": "pass"}, map[string]string{"face": "pass"}
		}, Half, "whole group"},
		"no baseline":          {func(s *Study) { s.Baselines = s.Baselines[1:] }, Half, "before it was opened"},
		"a newer build exists": {func(s *Study) { s.Newest = "4.2" }, Half, "build 4.2"},
	} {
		s := base()
		c.change(&s)
		if v := judge(t, s, "battery", "stranger", "face"); v.Mark != Works || v.Eye != c.eye ||
			(c.says != "") != (len(v.Missing) == 1) || !strings.Contains(fmt.Sprint(v.Missing), c.says) {
			t.Errorf("%s: %+v", name, v)
		}
	}
}

// TestAdoptionAndItsReversal: calibration replaces the entry; the original then is a stranger, until it is calibrated
// again. The piece is still its old board's own.
func TestAdoptionAndItsReversal(t *testing.T) {
	calibrate := func(accepted bool, unit string) []Act {
		return []Act{{Kind: Calibrate, Board: "pine", Accepted: accepted, Pieces: []Piece{from("display", unit)}}}
	}
	swapped := []Piece{from("display", "amber")}
	s := study(
		Trial{ID: "t1", Board: pine, Pieces: swapped, Results: result("lost", "pass")},
		Trial{ID: "t2", Board: pine, Pieces: swapped, Before: calibrate(false, "amber"),
			Results: result("lost", "pass")},
		Trial{ID: "t3", Board: pine, Pieces: swapped, Before: calibrate(true, "amber"),
			Results: result("pass", "pass")},
		Trial{ID: "t4", Board: pine, Results: result("lost", "pass")},
		Trial{ID: "t5", Board: amber, Results: result("pass", "pass")},
		Trial{ID: "t6", Board: pine, Before: calibrate(true, "pine"), Results: result("pass", "pass")},
	)
	h := s.Walk()
	var got []string
	for _, d := range h.Trials {
		got = append(got, d.ID+" "+d.States["display"])
	}
	if want := []string{"t1 stranger", "t2 stranger", "t3 adopted", "t4 stranger", "t5 ",
		"t6 adopted"}; !slices.Equal(got, want) {
		t.Errorf("got %v", got)
	}
	if v := judge(t, s, "display", "adopted", "face"); v.Mark != Calibrated || v.Note == "" ||
		!slices.Equal(h.Marked, []string{"pine"}) {
		t.Errorf("%+v, marked %v", v, h.Marked)
	}
	lost := s.Unlearnable(h, Flash, "amber", strings.ToUpper)
	if s.Unlearnable(h, Restart, "amber", strings.ToUpper) != nil || len(lost) != 1 ||
		!strings.Contains(lost[0], "last control") {
		t.Errorf("flashing the second unit: %v", lost)
	}
}

// TestGuards: what is damaged, called dead too early or sticky does not count, and is said.
func TestGuards(t *testing.T) {
	panel := from("display", "amber")
	damage := []Act{{Kind: Damage, Board: "amber", What: "panel blotched by heat", Pieces: []Piece{panel}}}
	s := study(
		Trial{ID: "t1", Board: pine, Pieces: []Piece{panel}, Results: result("pass", "pass")},
		Trial{ID: "t2", Board: pine, Pieces: []Piece{panel}, Before: damage, Results: result("lost", "pass")},
		Trial{ID: "t3", Board: amber, Results: result("lost", "pass")}, // its own, and damaged
		Trial{ID: "t4", Board: pine, Results: result("lost", "pass")},
		Trial{ID: "t5", Board: pine, Before: []Act{{Kind: Reset, Board: "pine"},
			{Kind: Flash, Board: "pine", Build: "4.1"}}, Results: result("pass", "pass")},
		Trial{ID: "t6", Board: pine, Pieces: []Piece{from("battery", "amber"), from("display", "amber"),
			from("sensor strip", "amber")}, Before: damage, Results: map[string]string{"boot": "lost"},
			DeadGate: []string{"charger"}},
	)
	s.Checks, s.Slots = []string{"boot", "face", "sound"}, []string{"display", "sensor strip", "battery", "coil"}
	h := s.Walk()
	why := func(id, check string) string { return h.trial(id).Skips[check].Text() }
	for _, c := range []struct{ id, check, says string }{
		{"t1", "face", ""}, {"t2", "face", "blotched"}, {"t2", "sound", "blotched"}, {"t3", "face", "blotched"}, {"t4",
			"face", "not back"}, {"t5", "face", ""},
	} {
		if got := why(c.id, c.check); (got == "") != (c.says == "") || !strings.Contains(got, c.says) {
			t.Errorf("%s %s: %q", c.id, c.check, got)
		}
	}
	if len(h.Remedies) != 1 || strings.Join(h.Remedies[0].By, " ") != "reset flash" || h.Remedies[0].Since != "t4" ||
		h.Remedies[0].Back != "t5" {
		t.Errorf("remedies: %+v", h.Remedies)
	}
	s.Trials[5].Before = nil // with a sound display, dead comes before the gate
	s.Trials[5].Pieces = []Piece{from("battery", "amber"), from("coil", "amber"), from("sensor strip", "amber")}
	h = s.Walk()
	if got := why("t6", "boot"); !strings.Contains(got, "still to try: some minutes waited") {
		t.Errorf("dead gate: %q", got)
	}
	s.Trials[5].DeadGate = DeadGate()
	if h = s.Walk(); why("t6", "boot") != "" {
		t.Errorf("the gate was passed: %q", why("t6", "boot"))
	}
	s.Trials[5].DeadGate, s.After = nil, []Act{damage[0], {Kind: Update, Board: "amber", Build: "4.2"}}
	h = s.Walk()
	var kinds []string
	for _, w := range s.Warnings(h, strings.ToUpper) {
		kinds = append(kinds, w.Kind)
	}
	if want := []string{"spoiled evidence", "halt", "builds differ", "not all foreign",
		"dead gate"}; !slices.Equal(kinds, want) {
		t.Errorf("warnings: %v", kinds)
	}
	s.Trials, s.After = s.Trials[3:4], nil
	if w := s.Warnings(s.Walk(), strings.ToUpper); len(w) != 1 ||
		!strings.Contains(w[0].Text, "PINE is not back at its baseline: face since t4") {
		t.Errorf("sticky: %+v", w)
	}
}

func TestFactorsShowFilledAndEmptyCells(t *testing.T) {
	s := study(
		Trial{ID: "t1", Board: pine, Pieces: []Piece{from("display", "amber")}, Results: result("lost", "pass")},
		Trial{ID: "t2", Board: pine, Pieces: []Piece{from("display", "amber"), from("sensor strip", "amber"),
			from("battery", "amber")}, Results: result("pass", "pass")},
		Trial{ID: "t3", Board: pine, Pieces: []Piece{{Slot: "sensor strip", Origin: Off}},
			Results: result("lost", "pass")},
	)
	var got []string
	for _, c := range s.Factors(s.Walk(), []string{"display", "sensor strip"}, "face", false) {
		got = append(got, strings.Join(c.Trials, "+")+"/"+strings.Join(c.Company, "+"))
	}
	if want := []string{"baseline-pine+baseline-amber/", "t1/", "/", "t2/t2"}; !slices.Equal(got, want) {
		t.Errorf("got %q", got)
	}
	// An adopted piece is matched; on request it stands by itself.
	display := []Piece{from("display", "amber")}
	s.Trials = append(s.Trials, Trial{ID: "t4", Board: pine, Build: s.Build, Pieces: display, Results: result("pass", "pass"),
		Before: []Act{{Kind: Calibrate, Board: "pine", Pieces: display, Accepted: true}}})
	for apart, want := range map[bool][]string{
		false: {"baseline-pine+baseline-amber+t4", "t1", "", "t2"},
		true:  {"baseline-pine+baseline-amber", "t1", "", "t2", "t4"},
	} {
		got = nil
		for _, c := range s.Factors(s.Walk(), []string{"display", "sensor strip"}, "face", apart) {
			got = append(got, strings.Join(c.Trials, "+"))
		}
		if !slices.Equal(got, want) {
			t.Errorf("apart %v: %q, want %q", apart, got, want)
		}
	}
}

// TestWavers: once is a reading that settled; lost, back and lost again comes and goes.
func TestWavers(t *testing.T) {
	one := func(r string) map[string]string { return map[string]string{"face": r} }
	for _, c := range []struct {
		readings []string
		waver    bool
	}{
		{[]string{"pass"}, false}, {[]string{"pass", "lost"}, false}, {[]string{"lost", "pass"}, false},
		{[]string{"lost", "pass", "lost"}, true}, {[]string{"pass", "weak", "pass"}, true},
		{[]string{"pass", "skipped", "lost", "dark", "pass"}, false},
	} {
		var all []map[string]string
		for _, r := range c.readings {
			all = append(all, one(r))
		}
		if got := Wavers(all...)["face"]; got != c.waver {
			t.Errorf("%v: %v", c.readings, got)
		}
	}
}

func TestSummaryTakesTheWorst(t *testing.T) {
	notice := func(c string) bool { return c == "notice" }
	for _, c := range []struct {
		marks []Verdict
		mark  string
		eye   string
	}{
		{nil, Untested, Shut},
		{[]Verdict{{Check: "face", Mark: Works, Eye: Open}, {Check: "sound", Mark: Works, Eye: Half},
			{Check: "x", Mark: Untested, Eye: Shut}}, Works, Half},
		{[]Verdict{{Check: "face", Mark: Works, Eye: Open}, {Check: "notice", Mark: Loses, Eye: Half}}, WithNotice,
			Half},
		{[]Verdict{{Check: "face", Mark: Loses, Eye: Open}, {Check: "notice", Mark: Loses, Eye: Half},
			{Check: "sound", Mark: Unsettled, Eye: Half}}, Loses, Open},
		{[]Verdict{{Check: "boot", Mark: Dead, Eye: Half}, {Check: "face", Mark: Loses, Eye: Open}}, Dead, Half},
	} {
		if mark, eye := Summary(c.marks, notice); mark != c.mark || eye != c.eye {
			t.Errorf("%+v: %s, %s", c.marks, mark, eye)
		}
	}
}

// TestWhereVerdictsBegin: a loss is known from 0.9, harmless goes up to 0.1, and in between nothing is settled (house).
func TestWhereVerdictsBegin(t *testing.T) {
	s := Study{Build: "1", Newest: "1", Checks: []string{"face"}, Slots: []string{"battery"}, Trials: []Trial{
		{ID: "t1", Board: pine, Build: "1", Pieces: []Piece{from("battery", "amber")},
			Results: map[string]string{"face": "pass"}},
		{ID: "t2", Board: pine, Build: "1", Pieces: []Piece{from("battery", "amber")},
			Results: map[string]string{"face": "lost"}}}}
	loss := s.Trials[1]
	h := s.Walk()
	in, _ := s.Question(h, nil)
	low := diagnose.Output{Checks: map[string]*diagnose.Check{"face": {Consistent: true,
		Marginal: map[string]float64{"battery:stranger": 0.02}}}}
	if v := s.Grade(h, in, low, "battery", "stranger", "face"); v.Mark != Unsettled {
		t.Errorf("a loss that nothing explains, and the part %s", v.Mark)
	}
	loss.Pieces = []Piece{from("display", "amber")}
	s.Trials[1], s.Slots = loss, []string{"battery", "display"}
	h = s.Walk()
	in, _ = s.Question(h, nil)
	for p, want := range map[float64]string{0.02: Works, 0.1: Works, 0.15: Unsettled, 0.25: Unsettled, 0.5: Unsettled,
		0.85: Unsettled, 0.9: Loses,
		0.97: Loses} {
		out := diagnose.Output{Checks: map[string]*diagnose.Check{"face": {Consistent: true,
			Marginal: map[string]float64{"battery:stranger": p}}}}
		if v := s.Grade(h, in, out, "battery", "stranger", "face"); v.Mark != want {
			t.Errorf("%g: %s, want %s", p, v.Mark, want)
		}
	}
}
