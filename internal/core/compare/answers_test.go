package compare

import (
	"errors"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"waryowl/internal/core/fault"
)

// TestClaimsAsIntervals: what words mean of a number (house readings), and what a measured +7.4 ± 0.2 % of 250 ± 1
// mAh makes of them.
func TestClaimsAsIntervals(t *testing.T) {
	pack := func(id string, mah float64) Model {
		return Model{ID: id, Width: 70, Height: 140, Face: "front", Away: "top", Parts: []Part{{ID: id + "b", Kind: "battery",
			Names: []string{"battery"}, Quantities: map[string]Quantity{"capacity": {mah, 1, "mAh"}}}}}
	}
	in := Input{A: pack("a", 3000), B: pack("b", 3222)} // +222 ± 1.4 mAh, +7.4 ± 0.05 %
	inf := math.Inf(1)
	for text, c := range map[string]struct {
		low, high float64
		unit      string
		sense     string
		finding   string
	}{
		"its battery is almost 8 % larger":     {7.2, 8, "%", "+", "confirmed"},
		"up to 7 % larger":                     {0, 7, "%", "+", "refuted"},
		"7.4 % bigger":                         {7.35, 7.45, "%", "+", "fits"},
		"7 percent more":                       {6.5, 7.5, "%", "+", "confirmed"},
		"at least 7 per cent larger":           {7, inf, "%", "+", "confirmed"},
		"more than 7.4 % larger":               {7.4, inf, "%", "+", "not resolved"},
		"larger by not more than 7 %":          {0, 7, "%", "+", "refuted"},
		"a third larger":                       {32 + 1./3, 34 + 1./3, "%", "+", "refuted"},
		"twice the capacity":                   {95, 105, "%", "+", "refuted"},
		"larger":                               {0, inf, "mAh", "+", "confirmed"},
		"smaller":                              {0, inf, "mAh", "-", "refuted"},
		"the same capacity":                    {-2, 2, "%", "=", "refuted"},
		"about 220 mAh more":                   {198, 242, "mAh", "+", "confirmed"},
		"222 mAh more":                         {221.5, 222.5, "mAh", "+", "fits"},
		"between 200 and 230 mAh more":         {199.5, 230.5, "mAh", "+", "confirmed"},
		"5–10 % more":                          {4.5, 10.5, "%", "+", "confirmed"},
		"5 to 7 % more":                        {4.5, 7.5, "%", "+", "confirmed"},
		"0,5 % smaller":                        {.45, .55, "%", "-", "refuted"},
		"slightly more than 7 % larger":        {7, 7.7, "%", "+", "confirmed"},
		"less than 8 % larger":                 {0, 8, "%", "+", "confirmed"},
		"1,840 mAh more":                       {0, 0, "", "", "unread"},
		"8 g heavier":                          {0, 0, "", "", "unread"},
		"8 % larger and 3 % smaller":           {0, 0, "", "", "unread"},
		"not larger":                           {0, 0, "", "", "unread"},
		"7 % ":                                 {0, 0, "", "", "unread"},
		"isn't 7 % larger":                     {0, 0, "", "", "unread"},
		"no less than 7 % larger":              {7, inf, "%", "+", "confirmed"},
		"roughly half larger":                  {45, 55, "%", "+", "refuted"},
		"its battery is not quite 8 % larger":  {7.2, 8, "%", "+", "confirmed"},
		"just under 8 % larger than before":    {7.2, 8, "%", "+", "confirmed"},
		"heavier than the one of 2019 by 7.4%": {7.35, 7.45, "%", "+", "fits"},
	} {
		in.Claims = []Claim{{ID: "c", Text: text, Of: "bb", Quantity: "capacity"}}
		out, err := Solve(in)
		if err != nil {
			t.Fatal(text, err)
		}
		f := out.Claims[0]
		if f.Finding != c.finding || (f.Wants == nil) != (c.finding == "unread") || (f.Wants == nil) != (f.Question != "") {
			t.Errorf("%q: %s %+v %q, want %s", text, f.Finding, f.Wants, f.Question, c.finding)
			continue
		}
		if f.Wants == nil {
			continue
		}
		high := inf
		if f.Wants.High != nil {
			high = *f.Wants.High
		}
		if math.Abs(f.Wants.Low-c.low) > 1e-9 || high != c.high && math.Abs(high-c.high) > 1e-9 || f.Wants.Unit != c.unit ||
			f.Wants.Sense != c.sense {
			t.Errorf("%q: wants %+v to %g, want %+v", text, *f.Wants, high, c)
		}
	}
}

// TestThreeValues: nothing is the same that nobody looked at, and a doubt stands on figures that cannot be.
func TestThreeValues(t *testing.T) {
	way := func(seconds float64, side string, steps ...Step) Way {
		return Way{Steps: append([]Step{}, steps...), Seconds: seconds, Side: side}
	}
	hour := 3600.0
	for name, c := range map[string]struct {
		jobs  []Job
		bench string
		says  string
	}{
		"no job": {nil, unknown, "not known"},
		"one side unknown": {[]Job{{Job: "battery", Weight: 1, A: way(60, "front")}}, unknown,
			"not known for battery: no way on record in Tern"},
		"as long": {[]Job{{Job: "battery", Weight: 1, A: way(600, "front"), B: way(600, "front")}}, same,
			"the same"},
		"another side": {[]Job{{Job: "battery", Weight: 0, A: way(600, "front"), B: way(600, "back")}}, different,
			"from the back now"},
		"gained": {[]Job{{Job: "glass", Weight: .1, A: Way{NoWay: "one piece", Instead: &hour}, B: way(600, "back"),
			Target: Target{B: "b1"}}}, different, "glass is a job of its own now, lens"},
		"lost": {[]Job{{Job: "glass", Weight: .1, A: way(600, "back"), B: Way{NoWay: "glued"}, Target: Target{A: "a1"}}},
			different,
			"glass is no job of its own any more, lens"},
		"none": {[]Job{{Job: "glass", A: Way{NoWay: "one piece"}, B: Way{NoWay: "one piece"}}}, same, ""},
	} {
		model := func(id, name string) Model {
			return Model{ID: id, Name: name, Width: 70, Height: 140, Face: "front", Away: "top", Parts: []Part{{ID: id + "1",
				Kind:  "lens",
				Names: []string{"lens"}}}}
		}
		out, err := Solve(Input{A: model("a", "Gull"), B: model("b", "Tern"), Jobs: c.jobs})
		if err != nil {
			t.Fatal(name, err)
		}
		if out.Answer.Bench != c.bench || !strings.Contains(out.Answer.Text, c.says) ||
			!strings.Contains(out.Answer.Text, "Gull") ||
			!strings.Contains(out.Answer.Text, "Tern") {
			t.Errorf("%s: %s, %q", name, out.Answer.Bench, out.Answer.Text)
		}
		for _, w := range []string{"same", "as many", "equal", "no difference", "unchanged", "identical"} {
			if out.Answer.Bench != same && strings.Contains(out.Answer.Text, w) {
				t.Errorf("%s: %q says %q", name, out.Answer.Text, w)
			}
		}
	}
	heavy := Input{A: Model{ID: "a", Width: 70, Height: 140, Face: "front", Away: "top",
		Whole: map[string]Quantity{"mass": {100, 1, "g"}},
		Parts: []Part{{ID: "p", Kind: "battery", Names: []string{"battery"}, Quantities: map[string]Quantity{"mass": {60, 1,
			"g"},
			"capacity": {3000, 1, "mAh"}, "energy": {9, .1, "Wh"}}}, {ID: "q", Kind: "display", Names: []string{"display"},
			Quantities: map[string]Quantity{"mass": {50, 1, "g"}}}}},
		B: Model{ID: "b", Width: 70, Height: 140, Face: "front", Away: "top", Parts: []Part{{ID: "p2", Kind: "battery",
			Names:      []string{"battery"},
			Quantities: map[string]Quantity{"capacity": {2900, 1, "mAh"}, "energy": {11, .1, "Wh"}}}}}}
	out, err := Solve(heavy)
	if err != nil {
		t.Fatal(err)
	}
	var codes []string
	for _, d := range out.Doubts {
		codes = append(codes, d.Code)
	}
	if got := strings.Join(codes, ", "); got != "voltage, parts heavier than the phone, turned" {
		t.Errorf("doubts: %s", got)
	}
}

// TestCausesAddUp: over random pairs the causes of steps and rest add up to the weighted difference of the common
// jobs, but for what is below the least minutes; every line is in one cause.
func TestCausesAddUp(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 9))
	for range 300 {
		in := random(r)
		out, err := Solve(in)
		if err != nil {
			t.Fatal(err)
		}
		sum, lines := 0.0, map[[2]string]int{}
		for _, c := range out.Causes {
			sum += c.Weighted
			for _, l := range c.Lines {
				lines[[2]string{l.A, l.B}]++
			}
		}
		slack := 1e-9
		for _, j := range in.Jobs {
			slack += j.Weight * leastMinutes * float64(len(in.A.Parts)+len(in.B.Parts)+1)
		}
		if math.Abs(sum-out.Facts.Minutes) > slack {
			t.Fatalf("causes %g, difference %g", sum, out.Facts.Minutes)
		}
		for l, n := range lines {
			if n > 1 {
				t.Fatalf("%v is in %d causes", l, n)
			}
		}
	}
}

func TestWhatIsSaidMustBe(t *testing.T) {
	base := read2[Input](t, "testdata/answers.json")
	minus := -1.0
	for want, change := range map[string]func(*Input){
		"jobs[0].a.no_way":      func(in *Input) { in.Jobs[0].A.NoWay = "glued" },
		"jobs[3].a.instead":     func(in *Input) { in.Jobs[3].A.Instead = &minus },
		"jobs[3].target.b":      func(in *Input) { in.Jobs[3].Target.B = "bk" },
		"fit[0].a":              func(in *Input) { in.Fit[0].A = "ba2" },
		"fit[0].forward.level":  func(in *Input) { in.Fit[0].Forward.Level = "so so" },
		"fit[0].forward.grade":  func(in *Input) { in.Fit[0].Forward.Grade = "wide" },
		"fit[0].forward.serves": func(in *Input) { in.Fit[0].Forward.Serves = 2 },
		"claims[1].id":          func(in *Input) { in.Claims[1].ID = "c1" },
		"claims[0].of":          func(in *Input) { in.Claims[0].Of = "ba" },
		"a.whole.mass.u":        func(in *Input) { in.A.Whole["mass"] = Quantity{1, -1, "g"} },
	} {
		in := read2[Input](t, "testdata/answers.json")
		change(&in)
		_, err := Solve(in)
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != want {
			t.Errorf("%s: %v", want, err)
		}
	}
	if _, err := Solve(base); err != nil {
		t.Error(err)
	}
}
