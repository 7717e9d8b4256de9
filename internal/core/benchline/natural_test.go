package benchline

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"

	"waryowl/internal/core/admit"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/shorthand"
)

// phoneFor is the phone of a line of the corpora.
func phoneFor(l coldLine) Context {
	if l.half == "c" || l.half == "k" {
		return freshPhone()
	}
	return coldPhone()
}

// Each sentence of an echo is a line of the grammar that says the same fact.
func TestEchoReadsTheSame(t *testing.T) {
	for _, l := range cold(coldLines + "\n" + freshLines) {
		for _, f := range l.read().Facts {
			if f.Fact.Kind == "check" || f.Fact.Corrects != nil || len(f.Candidates) > 0 {
				continue
			}
			again := shorthand.Parse(f.Echo, phoneFor(l).Vocabulary)
			want := f.Fact
			want.Kind, again.Fact.Kind = "", ""
			if !reflect.DeepEqual(again.Fact, want) {
				t.Errorf("%q: %q\n reads %+v\n want  %+v", l.line, f.Echo, brief(again.Fact), brief(want))
			}
		}
	}
}

func brief(f shorthand.Fact) string {
	return strings.ReplaceAll(fmt.Sprintf("%+v", f), " ", " ")
}

// Whatever is typed, what is offered may be logged, and the same line gives the same answer.
func TestNothingOfferedIsRefused(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 11))
	var words []string
	for _, l := range cold(coldLines + "\n" + freshLines) {
		words = append(words, strings.Fields(l.line)...)
	}
	words = append(words, ",", ".", "?", "+", "!", "b", "u", "l", "d", "h", "(", "“x”", "T4", "1.2x1.6", "@", "99999",
		"no,")
	c := coldPhone()
	for range 5_000 {
		var line []string
		for range 1 + r.IntN(8) {
			line = append(line, words[r.IntN(len(words))])
		}
		text := strings.Join(line, " ")
		var pending []string
		if r.IntN(3) == 0 {
			pending = []string{"u 4 star @hinge-plate", "b hinge plate", "d battery"}
		}
		a := Read(c, pending, text)
		if len(a.Facts) == 0 {
			t.Fatalf("%q: no fact", text)
		}
		for _, f := range a.Facts {
			if f.Asks != "" || len(f.Candidates) > 0 || a.Asks == "entry" {
				continue
			}
			s := admit.Situation{NewPart: f.NewPart != nil, OnRecord: f.Fact.Part != "", Step: f.StepID != "" && !f.Again}
			if why := admit.Refuse(f.Fact, s); why != "" {
				t.Fatalf("%q: %+v is refused: %s", text, f.Fact, why)
			}
		}
	}
}

// No digit of a line is lost: it stands in a fact, in a note, or is marked as unread.
func TestNoFigureIsPassedOver(t *testing.T) {
	for _, l := range cold(coldLines + "\n" + freshLines) {
		a := l.read()
		all := fmt.Sprint(a.Echo, a.Unread, a.Say)
		for _, w := range strings.FieldsFunc(l.line, func(r rune) bool { return r < '0' || r > '9' }) {
			if !strings.Contains(all, w) && !strings.Contains(fmt.Sprint(a.Facts), w) && !derived(a) {
				t.Errorf("%q: %s is nowhere in %s", l.line, w, a.Echo)
			}
		}
	}
}

// derived says whether a figure was worked into another one: minutes, shares, ordinals, a driver's code.
func derived(a Answer) bool {
	for _, f := range a.Facts {
		if f.Fact.Seconds > 0 || f.Fact.Of > 0 || f.Fact.Which != "" || f.Fact.DriveSize != "" || len(f.Fact.Lengths) > 0 ||
			len(f.Candidates) > 0 {
			return true
		}
	}
	return strings.Contains(a.Echo, "five-lobe") || strings.Contains(a.Echo, "hexalobular")
}

func FuzzRead(f *testing.F) {
	for _, l := range cold(coldLines) {
		f.Add(l.line, l.before)
	}
	f.Add("\xff\x00 ü+/, 4 ,,? no,", "u 4 star @hinge-plate")
	c := coldPhone()
	f.Fuzz(func(t *testing.T, line, before string) {
		if len(line) > 400 || len(before) > 400 {
			return
		}
		a := Read(c, []string{before}, line)
		if !reflect.DeepEqual(a, Read(c, []string{before}, line)) {
			t.Errorf("%q reads differently the second time", line)
		}
		for _, x := range a.Facts {
			if x.From < 0 || x.From > x.To || x.To > len([]rune(strings.ToValidUTF8(line, "\uFFFD"))) {
				t.Errorf("%q: %d to %d", line, x.From, x.To)
			}
		}
	})
}

func BenchmarkReadNatural(b *testing.B) {
	c := coldPhone()
	for i := range 180 {
		c.Parts = append(c.Parts, shorthand.Named{ID: fmt.Sprint("x", i), Name: fmt.Sprintf("clip number %d lower", i)})
	}
	for b.Loop() {
		Read(c, nil, "lwr shield off, 3 cross, then buzzer and earpiece out, 2 tri")
	}
}

// A natural line raises the stops that the grammar's line raises.
func TestTheSameStops(t *testing.T) {
	for _, l := range []struct{ natural, grammar, rule string }{
		{"levering the pack with a steel blade", "p battery steel blade", "sharp"},
		{"prying battery with card", "p battery card", "charged"},
		{"front cam unplugged", "d front camera", "power"},
		{"battery plug off, with metal tweezers", "d battery metal tweezers", "metal"},
		{"9 V on the tabs 90 s", "r battery 9V 90s", "polarity"},
	} {
		c := coldPhone()
		c.State.Charge = 80
		rules := func(a Answer) (out []string) {
			for _, s := range a.Stops {
				out = append(out, s.Rule)
			}
			return out
		}
		n, g := rules(Read(c, nil, l.natural)), rules(Read(c, nil, l.grammar))
		if !reflect.DeepEqual(n, g) || len(n) == 0 || !strings.Contains(strings.Join(n, " "), l.rule) {
			t.Errorf("%q raises %v, %q raises %v", l.natural, n, l.grammar, g)
		}
	}
	// A stop of any fact stops the line; a battery that the same line unplugs is off for what follows.
	if a := Read(coldPhone(), nil, "battery unplugged, display unplugged"); len(a.Stops) != 0 {
		t.Errorf("stops %v", a.Stops)
	}
}

// TestWhatCannotBeSaysWhy: a line that the grammar takes and that may not be logged is a remark whose words stand
// unread with the reason; it is never a silent one.
func TestWhatCannotBeSaysWhy(t *testing.T) {
	c := Context{Vocabulary: shorthand.Vocabulary{Unit: "PINE", Parts: []shorthand.Named{{ID: "b", Name: "battery"}}},
		Steps: plan.Plan{{ID: "s1", Verb: "lift", What: "battery", Frees: []string{"b"}}}, Done: []string{"s1"}}
	for line, why := range map[string]string{"l battery": "it is out already",
		"m battery": "a measure needs a part and at least one value with its unit"} {
		a := Read(c, nil, line)
		if a.Fact.Verb != "note" || len(a.Unread) != 2 || a.Unread[0].Text != why {
			t.Errorf("%q: %+v, unread %+v", line, a.Fact, a.Unread)
		}
	}
	if a := Read(c, nil, "the cell sits well"); len(a.Unread) != 0 {
		t.Errorf("a remark is read whole: %+v", a.Unread)
	}
}
