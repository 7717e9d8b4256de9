package dose

import (
	"strings"
	"testing"
)

// The figures in this table are common practice, no source.
func TestAdvise(t *testing.T) {
	round := func(s float64, result, kind string) Round {
		return Round{Source: "pad", Seconds: s, Result: result, Kind: kind}
	}
	panel := Limit(true, false)
	for _, c := range []struct {
		name           string
		mine, earlier  []Round
		next           float64
		halt           bool
		says, warnings string
	}{
		{"first round", nil, nil, 90, false, "First round", ""},
		{"no gap steps up, within the ceiling", []Round{round(60, NoGap, "")}, nil, 75, false, "Do not pull harder",
			""},
		{"the ceiling caps the next round", []Round{round(90, NoGap, "")}, nil, 90, false, "next round", ""},
		{"a gap ends the heat", []Round{round(60, NoGap, ""), round(75, Gap, "")}, nil, 0, false, "no more heat", ""},
		{"a mark halves", []Round{round(80, Mark, "ripple")}, nil, 40, false, "let it cool", ""},
		{"the next phone starts at half", nil, []Round{round(60, Mark, "ripple")}, 30, false, "half of its time", ""},
		{"two kinds of mark do not halt", []Round{round(60, Mark, "blotch")}, []Round{round(60, Mark, "ripple")}, 30,
			false, "let it cool", ""},
		{"the second mark of a kind halts", []Round{round(30, Mark, "ripple")}, []Round{round(60, Mark, "ripple")}, 0,
			true, "Change the method", ""},
		{"twelve minutes without a gap", []Round{round(400, NoGap, ""), round(320, NoGap, "")}, nil, 0, false,
			"measure the surface", ""},
		{"measured since", []Round{round(400, NoGap, ""), {Seconds: 330, MeasuredC: 70, Result: NoGap}}, nil, 90, false,
			"at most 90 °C", ""},
		{"eight minutes later again", []Round{round(400, NoGap, ""), {Seconds: 330, MeasuredC: 70, Result: NoGap},
			round(480, NoGap, "")}, nil, 0, false, "measure the surface", ""},
		{"at its ceiling it gets no hotter", []Round{{SetC: 90, Seconds: 60, Result: NoGap}}, nil, 75, false, "no hotter", ""},
		{"too hot is said", []Round{{SetC: 80, MeasuredC: 96, Seconds: 120, Result: NoGap}}, nil, 90, false, "",
			"96 °C is above 90 °C"},
	} {
		a := Advise(c.mine, c.earlier, 120, panel)
		if a.Next != c.next && !(c.name == "first round" && a.Next == 90) || a.Halt != c.halt ||
			!strings.Contains(a.Text, c.says) || !strings.Contains(strings.Join(a.Warn, " "), c.warnings) {
			t.Errorf("%s: %+v", c.name, a)
		}
	}
	if a := Advise([]Round{round(60, NoGap, ""), round(90, NoGap, "")}, nil, 120, panel); a.Minutes != 2.5 {
		t.Errorf("cumulative minutes: %g", a.Minutes)
	}
	if Limit(true, true).C != 60 || Limit(false, false).C != 100 || Limit(true, false).C != 90 {
		t.Error("ceilings by what must survive")
	}
}

func TestPryOrReheat(t *testing.T) {
	for _, c := range []struct {
		e    Entry
		says string
	}{
		{Entry{}, "heat first"},
		{Entry{SecondsAtHeat: 60}, "reheat: suction does not lift"},
		{Entry{GapMM: 0.5, SuctionLifts: true, FreedPercent: 20}, "pry on: suction alone holds 0.5 mm open, 80 %"},
		{Entry{GapMM: 0.5, FreedPercent: 20, SecondsAtHeat: 60}, "reheat: the gap closes"},
		{Entry{GapMM: 1, FreedPercent: 100}, "lift"},
	} {
		if got := PryOrReheat(c.e); !strings.HasPrefix(got, c.says) {
			t.Errorf("%+v: %q", c.e, got)
		}
	}
	seen := map[string]bool{}
	for _, s := range Schools() {
		if seen[s.ID] || s.Pros == "" || s.Cons == "" || s.Caution == "" || s.Certainty == "" || s.Seconds <= 0 {
			t.Errorf("template %q is incomplete or double", s.ID)
		}
		seen[s.ID] = true
	}
}
