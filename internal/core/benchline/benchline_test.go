package benchline

import (
	"slices"
	"strings"
	"testing"

	"waryowl/internal/core/interlock"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/shorthand"
)

func phone() Context {
	return Context{
		Vocabulary: shorthand.Vocabulary{Unit: "PINE", Parts: []shorthand.Named{{ID: "b", Name: "battery"},
			{ID: "d", Name: "display assembly", Aliases: []string{"panel"}}, {ID: "ub", Name: "upper bracket"},
			{ID: "lb", Name: "lower bracket"}}},
		State: interlock.State{Charge: 10, Limit: 25},
		Steps: plan.Plan{
			{ID: "1", Mark: "s1", Verb: "unfasten", What: "upper bracket", Drive: "tri-wing", Count: 5},
			{ID: "2", Mark: "s2", Verb: "bracket", What: "upper bracket", Frees: []string{"ub"},
				After: [][]string{{"1"}}},
			{ID: "3", Mark: "s3", Verb: "disconnect", What: "battery connector", After: [][]string{{"2"}}},
			{ID: "4", Mark: "s4", Verb: "disconnect", What: "display lead", After: [][]string{{"3"}}},
			{ID: "5", Mark: "s5", Verb: "lift", What: "display assembly", Frees: []string{"d"},
				After: [][]string{{"4"}}},
			{ID: "6", Mark: "s6", Verb: "unfasten", What: "lower bracket", Drive: "tri-wing", Count: 4,
				After: [][]string{{"5"}}},
			{ID: "7", Mark: "s7", Verb: "heat", What: "front rim"},
		}}
}

func TestRead(t *testing.T) {
	for _, c := range []struct {
		name, pending, line string
		step, stops, lacks  string
	}{
		{"by place", "", "u 5 tri-wing @upper-bracket", "s1", "", ""},
		{"by drive and count alone, when it is next", "", "u 5 tri-wing", "s1", "", ""},
		{"not by a count alone that is not next", "", "u 4 tri-wing", "", "", ""},
		{"the other bracket", "", "u 4 tri-wing lower bracket", "s6", "", "s5"},
		{"a lift frees the part whatever the plan calls it", "u 5 tri-wing @upper-bracket", "l upper bracket", "s2",
			"", ""},
		{"a lead under power", "u 5 tri-wing @upper-bracket|b upper bracket", "d display lead", "s4", "power", "s3"},
		{"the battery comes first", "u 5 tri-wing @upper-bracket|b upper bracket|d battery", "d display lead", "s4",
			"", ""},
		{"by an alias", "d battery|d display lead", "l panel", "s5", "", ""},
		{"a lead that the plan does not know", "", "d flash lead", "", "power", ""},
		{"a cover is not the battery", "", "d battery cover flex", "", "power", ""},
		{"giving up switches nothing", "u 5 tri-wing @upper-bracket|b upper bracket|d battery gave up",
			"d display lead", "s4", "power", "s3"},
		{"the lid goes back while the battery is on", "=3|=4|+=3", "+ d display lead", "s4", "battery last", ""},
		{"the battery before the display", "=3|=4", "+ d battery", "s3", "battery last", ""},
		{"a lead that stays off on purpose does not hold the battery back", "=3|=4|d display lead left off on purpose",
			"+ d battery", "s3", "", ""},
		{"and one that was off already is no further one", "=3|=4|d display lead|+ d display lead", "+ d battery", "s3",
			"", ""},
		{"another number of screws is another joint", "", "u 3 tri-wing upper bracket", "", "", ""},
		{"what is done is done again, not learned anew", "d battery", "d battery", "s3", "", "s2"},
		{"unless it is put back", "d battery", "+ d battery", "s3", "", ""},
		{"heat comes in rounds", "h plate 80C 60s", "h plate 80C 75s", "s7", "", ""},
		{"something new", "", "x graphite tape", "", "", ""},
		{"a note", "", "? upper bracket sits tight", "", "", ""},
		{"metal at the battery, by the tool in hand", "t tweezers", "d battery", "s3", "metal", "s2"},
	} {
		var pending []string
		if c.pending != "" {
			pending = strings.Split(c.pending, "|")
		}
		a := Read(phone(), pending, c.line)
		rules := ""
		for _, s := range a.Stops {
			rules += s.Rule
		}
		mark, _, _ := strings.Cut(a.Step, " ")
		if mark != c.step || rules != c.stops || strings.Join(a.Lacks, " ") != c.lacks {
			t.Errorf("%s: step %q, stops %q, lacks %v", c.name, a.Step, rules, a.Lacks)
		}
		if !strings.HasPrefix(a.Echo, "PINE: ") {
			t.Errorf("%s: the echo does not begin with the phone: %s", c.name, a.Echo)
		}
	}
}

func TestNext(t *testing.T) {
	for _, c := range []struct{ pending, want string }{
		{"", "1 7"},
		{"u 5 tri-wing @upper-bracket", "2 7"},
		{"u 5 tri-wing @upper-bracket|h plate 80C 60s", "2"},
		{"u 5 tri-wing @upper-bracket|b upper bracket|+ b upper bracket", "2 7"},
		{"u 5 tri-wing @upper-bracket|b upper bracket|d battery gave up", "3 7"},
		{"=7|=1|+=1", "1 7"}, // heat is over with the last thing that was put back
		{"=1|=2", "3 7"},
		{"=1|=2|+=2", "2 7"},
	} {
		var pending []string
		if c.pending != "" {
			pending = strings.Split(c.pending, "|")
		}
		if got := strings.Join(Next(phone(), pending), " "); got != c.want {
			t.Errorf("after %q: %s, want %s", c.pending, got, c.want)
		}
	}
}

// TestAFormRaisesTheStopsOfItsLine: what is typed as a line and what a form describes are the same act.
func TestAFormRaisesTheStopsOfItsLine(t *testing.T) {
	for _, c := range []struct {
		pending []string
		line    string
		step    plan.Step
	}{
		{nil, "d display lead", plan.Step{Verb: "disconnect", What: "display lead", Joint: "connector"}},
		{[]string{"d battery"}, "d display lead", plan.Step{Verb: "disconnect", What: "display lead", Joint: "connector"}},
		{[]string{"t metal spudger"}, "p battery", plan.Step{Verb: "pry", What: "battery"}},
		{nil, "p battery with plastic card", plan.Step{Verb: "pry", What: "battery", Tool: "plastic card"}},
		{nil, "d front camera", plan.Step{Verb: "disconnect", What: "front camera"}},
		{[]string{"w alcohol 60s battery"}, "h plate 80C 60s", plan.Step{Verb: "heat", What: "front rim", Method: "plate"}},
	} {
		line, form := rules(Read(phone(), c.pending, c.line).Stops), rules(Stops(phone(), c.pending, c.step, false))
		if !slices.Equal(line, form) {
			t.Errorf("%v %q: the line raises %v, the form %v", c.pending, c.line, line, form)
		}
	}
	// Put back by its button: the battery goes last.
	gone := phone()
	gone.Done = plan.Run{"3", "4"}
	if back, line := rules(Stops(gone, nil, gone.Steps[2], true)), rules(Read(gone, nil, "+ d battery").Stops); len(back) == 0 ||
		!slices.Equal(back, line) {
		t.Errorf("put back by a button it raises %v, by its line %v", back, line)
	}
	// A tile's step: the tool in hand goes before the plan's.
	lever := plan.Step{ID: "9", Verb: "pry", What: "battery", Tool: "plastic card"}
	c := phone()
	c.Steps = append(c.Steps, lever)
	if held, free := rules(Stops(c, []string{"t metal spudger"}, lever, false)), rules(Stops(c, nil, lever, false)); len(free) > 0 ||
		!slices.Equal(held, rules(Read(c, []string{"t metal spudger"}, "p battery").Stops)) || len(held) == 0 {
		t.Errorf("the tile raises %v with the metal spudger in hand, %v without", held, free)
	}
	if len(rules(Stops(phone(), nil, plan.Step{Verb: "disconnect", What: "display lead", Joint: "connector"}, false))) == 0 {
		t.Error("a lead under power raises nothing")
	}
}

// TestEveryStopIsRaisedOnEveryPath: a line, the tile of a known step, a form's unknown step, the same after entries that
// wait in the queue, and in the way that somebody follows (steps chosen by their ids).
func TestEveryStopIsRaisedOnEveryPath(t *testing.T) {
	steps := plan.Plan{{ID: "bat", Verb: "disconnect", What: "battery connector", Part: "b", Joint: "connector"},
		{ID: "lead", Verb: "disconnect", What: "display lead", Part: "d", Joint: "connector"},
		{ID: "tweezed", Verb: "disconnect", What: "battery lead", Part: "b", Joint: "connector", Tool: "tweezers"},
		{ID: "pry", Verb: "pry", What: "battery", Part: "b"},
		{ID: "knife", Verb: "cut", What: "battery", Part: "b", Tool: "scalpel"},
		{ID: "hot", Verb: "heat", What: "front rim", Side: "front"},
		{ID: "volt", Verb: "release", What: "battery", Part: "b", Method: "voltage"},
		{ID: "wet", Verb: "solvent", What: "battery", Part: "b", Method: "alcohol"}}
	for _, c := range []struct {
		rule, line, step string
		back             bool
		lines, ids       []string // what came before, as lines and as chosen steps
		state            interlock.State
	}{
		{rule: "power", line: "d display lead", step: "lead"},
		{rule: "metal", line: "d battery lead with tweezers", step: "tweezed"},
		{rule: "charged", line: "p battery", step: "pry", lines: []string{"d battery"}, ids: []string{"=bat"},
			state: interlock.State{Charge: -1}},
		{rule: "sharp", line: "c battery with scalpel", step: "knife", lines: []string{"d battery"}, ids: []string{"=bat"},
			state: interlock.State{Charge: 5}},
		{rule: "flame", line: "h front", step: "hot", lines: []string{"w alcohol 60s battery"}, ids: []string{"=wet"}},
		{rule: "polarity", line: "r battery voltage", step: "volt"},
		{rule: "swollen", line: "h front", step: "hot", state: interlock.State{Swollen: true}},
		{rule: "battery last", line: "+ d battery", step: "bat", back: true, lines: []string{"d battery", "d display"},
			ids: []string{"=bat", "=lead"}},
	} {
		ctx := phone()
		ctx.Steps, ctx.State = steps, c.state
		ctx.State.Limit = 25
		known, _ := steps.By(c.step)
		form := known
		form.ID = ""
		for path, stops := range map[string][]interlock.Stop{
			"line":            Read(ctx, c.lines, c.line).Stops,
			"line after tile": Read(ctx, c.ids, c.line).Stops,
			"tile":            Stops(ctx, c.lines, known, c.back),
			"follow mode":     Stops(ctx, c.ids, known, c.back),
			"form":            Stops(ctx, c.lines, form, c.back),
		} {
			if !slices.Contains(rules(stops), c.rule) {
				t.Errorf("%s by %s raises %v", c.rule, path, rules(stops))
			}
			for _, s := range stops { // nothing is raised that nobody expects
				if s.Rule != c.rule {
					t.Errorf("%s by %s raises %s too", c.rule, path, s.Rule)
				}
			}
		}
	}
}

func TestHeatWithoutASideAsks(t *testing.T) {
	for line, want := range map[string]string{"h plate 80C 60s": "side", "h plate 80C 60s back": "",
		"d battery": "", "+ h plate": ""} {
		if got := Read(phone(), nil, line).Asks; got != want {
			t.Errorf("%s asks %q, want %q", line, got, want)
		}
	}
	known := phone()
	known.Steps[6].Side = "front"
	if a := Read(known, nil, "h front rim 80C 60s"); a.Asks != "" {
		t.Errorf("the plan knows its side: %+v", a)
	}
}

func rules(list []interlock.Stop) (out []string) {
	for _, s := range list {
		out = append(out, s.Rule)
	}
	return out
}
