package narrate

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/narrate/cues"
)

// The three recordings in testdata and what they tell (gold) are invented: a run-on log, a guide, a comparison.
var recordings = []string{"bench-01.vtt", "bench-02.srt", "bench-03.txt"}

func recording(t testing.TB, file string) []cues.Cue {
	text, err := os.ReadFile("testdata/" + file)
	if err != nil {
		t.Fatal(err)
	}
	list, err := cues.Read(string(text))
	if err != nil {
		t.Fatal(err)
	}
	return list
}

func input(list []cues.Cue) Input {
	in := Input{Cues: list, Units: []Unit{{"A", []string{"red"}}, {"B", []string{"green"}}}}
	for say, means := range map[string]string{"rattler": "haptic motor", "sell": "battery",
		"finger reader": "fingerprint sensor", "memory tray": "card tray"} {
		in.Words = append(in.Words, Word{say, means, "part"})
	}
	in.Words = append(in.Words, Word{"suction handle", "suction cup", "tool"})
	return in
}

type fact struct {
	T      float64 `json:"t"`
	Kind   string  `json:"kind"`
	Verb   string  `json:"verb"`
	Object string  `json:"object"`
	Count  int     `json:"count"`
	Value  *Value  `json:"value"`
	Acted  bool    `json:"actor_did_it"`
	Until  float64 `json:"until"`
}

// base is the thing of a name without what it belongs to: the last words that the shared lexicon knows.
func base(object string) string {
	w := strings.Fields(object)
	for i := range w {
		if c, known := lexicon.Noun(lexicon.Norm(strings.Join(w[i:], " "))); known {
			return c
		}
	}
	return object
}

func (g fact) is(p Proposal) bool {
	counted := p.Kind == "count" && g.Verb == "unfasten" || g.Kind == "count" && p.Verb == "unfasten" ||
		g.Kind == "part" && p.Kind == "count"
	return max(g.T-p.Start, p.Start-g.T) <= 25 && (g.Kind == p.Kind || counted) && g.Acted == p.Acted &&
		(g.Verb == p.Verb || counted || g.Verb == "" || p.Verb == "" || g.Kind == "part" || g.Kind == "heat" ||
			g.Kind == "wait") &&
		(base(g.Object) == base(p.Object) || g.Kind == "heat" || g.Kind == "wait" || g.Kind == "score") &&
		(g.Count == 0 || g.Count == p.Count || g.Count == 1 && p.Count == 0) && (g.Value == nil || p.Value != nil &&
		g.Value.N == p.Value.N)
}

// TestTold holds the proposals against what three people who listened wrote down. The floors are what was measured,
// rounded down.
func TestTold(t *testing.T) {
	told, said, right, figures, rightFigures := 0, 0, 0, 0, 0
	for _, file := range recordings {
		out, err := Solve(input(recording(t, file)))
		if err != nil {
			t.Fatal(err)
		}
		gold, _ := os.ReadFile("testdata/" + file[:8] + ".gold.jsonl")
		used := map[int]bool{}
		for line := range bytes.Lines(gold) {
			var g fact
			if err := json.Unmarshal(line, &g); err != nil {
				t.Fatal(err)
			}
			if g.Until > 0 {
				continue
			}
			told++
			for i, p := range out.Proposals {
				if !used[i] && p.Withdrawn == "" && g.is(p) {
					used[i] = true
					right++
					break
				}
			}
		}
		for i, p := range out.Proposals {
			if p.Withdrawn != "" || p.Confidence < .5 {
				continue
			}
			said++
			if p.Count > 0 || p.Value != nil {
				figures++
				if used[i] {
					rightFigures++
				}
			}
		}
	}
	share := func(name string, a, b int, floor float64) {
		if got := float64(a) / float64(b); got < floor {
			t.Errorf("%s: %d of %d, %.3f; at least %.2f", name, a, b, got, floor)
		} else {
			t.Logf("%s: %d of %d, %.3f", name, a, b, got)
		}
	}
	share("of what was told", right, told, .75)
	share("of what was proposed", right, said, .90)
	share("of the figures", rightFigures, figures, .92)
}

// TestRests: every proposal rests on characters of its cue, every word is read, skipped with a reason or listed as
// unread, and the same recording gives the same bytes.
func TestRests(t *testing.T) {
	for _, file := range recordings {
		in := input(recording(t, file))
		out, err := Solve(in)
		if err != nil {
			t.Fatal(err)
		}
		covers(t, in, out)
		again, _ := Solve(in)
		a, _ := json.Marshal(out)
		b, _ := json.Marshal(again)
		if !bytes.Equal(a, b) {
			t.Errorf("%s: two answers", file)
		}
	}
}

func covers(t *testing.T, in Input, out Output) {
	t.Helper()
	ids := map[string]bool{}
	last := 0.0
	for _, p := range out.Proposals {
		ids[p.ID] = true
		if n := len([]rune(in.Cues[p.Cue].Text)); p.From < 0 || p.From >= p.To || p.To > n {
			t.Errorf("%s rests on %d to %d of %d characters", p.ID, p.From, p.To, n)
		}
		if p.Start != in.Cues[p.Cue].Start || p.Start < last {
			t.Errorf("%s at %g, its cue at %g, the one before at %g", p.ID, p.Start, in.Cues[p.Cue].Start, last)
		}
		last = p.Start
		if !p.Acted && p.Did == "done" || p.Confidence <= 0 || p.Confidence > 1 {
			t.Errorf("%s: did %q, acted %v, confidence %g", p.ID, p.Did, p.Acted, p.Confidence)
		}
	}
	for _, p := range out.Proposals {
		if p.Withdrawn != "" && (!ids[p.Withdrawn] || p.Withdrawn == p.ID) {
			t.Errorf("%s is withdrawn by %q", p.ID, p.Withdrawn)
		}
	}
	for _, f := range out.Corrections {
		if !ids[f.Proposal] || !ids[f.By] || f.Proposal == f.By {
			t.Errorf("a correction of %q by %q", f.Proposal, f.By)
		}
	}
	for _, s := range append(out.Skipped, out.Unread...) {
		if n := len(
			[]rune(in.Cues[s.Cue].Text),
		); s.From < 0 || s.From >= s.To || s.To > n ||
			s.Why == "" && s.Text == "" {
			t.Errorf("a stretch from %d to %d of %d characters, %q %q", s.From, s.To, n, s.Why, s.Text)
		}
	}
}

func TestSaid(t *testing.T) {
	for _, c := range []struct{ say, want string }{
		{"I unscrewed two screws at the bottom.", "step unfasten screw 2 true"},
		{"Take the two T5 screws out.", "step unfasten screw 2 true"},
		{"bracket off", "step lift bracket 0 true"},
		{"the battery was disconnected", "step disconnect battery 0 true"},
		{"First disconnect the battery, then the display flex.",
			"step disconnect battery 0 true|step disconnect display cable 0 true"},
		{"There are four screws on the loudspeaker. Take them out.", "step unfasten loudspeaker screw 4 true"},
		{"six screws, sorry, five", "count screw 6 true <n2|count screw 5 true"},
		{"switch the phone off", "step switch-off phone 0 true"},
		{"I would never lift the display.", "caution display 0 true"},
		{"They say the battery is lifted with heat.", "step lift battery 0 false"},
		{"If you lift the display it breaks.", "step lift display 0 false"},
		{"Tomorrow I will lift the main board.", "step lift main board 0 false"},
		{"I did not lift the main board.", "step lift main board 0 false"},
		{"This episode is brought to you by a shop. Remove the discount of ten percent. Back to work. Battery out.",
			"step lift battery 0 true"},
		{"Everything works apart from the vibration.", "check lost vibration 0 true"},
		{"it boots, touch works, the loudspeaker doesn't",
			"check pass boot 0 true|check pass touch 0 true|check lost loudspeaker 0 true"},
		{"putting it back. battery in, board back, two screws",
			"put_back lift battery 0 true|put_back lift main board 0 true|put_back unfasten screw 2 true"},
		{"heat pad at seventy for four minutes", "heat heat display 0 true 70C 4min"},
		{"it weighs eleven point four grams and the camera is out", "step lift rear camera 0 true"},
		{"the label reads thirty four fifty milliamp hours", "measure battery 0 true 3450mAh"},
		{"it says four thousand and fifty milliamp hours", "measure battery 0 true 4050mAh"},
		{"pad at 80 degrees for two minutes. another two minutes at eighty five. the rear glass is off",
			"heat heat rear glass 0 true 80C 2min|heat heat rear glass 0 true 85C 2min|step lift rear glass 0 true"},
		{"four cross screws, and those are out", "step unfasten cross screw 4 true"},
		{"the tray came out and the two bottom screws", "step lift card tray 0 true|step unfasten screw 2 true"},
		{"twelve screws on the shield and one more, thirteen altogether", "count shield screw 12 true|count screw 13 true"},
		{"i pulled the camera out", "step lift rear camera 0 true"},
		{"a battery costs nine euros fifty", "price battery 0 true 9.5EUR"},
		{"the battery is rated at four thousand two hundred", "measure battery 0 true 4200mAh"},
		{"a cross screw hidden by the antenna tape, so peel that back", "hidden cross screw 0 true|step peel tape 0 true"},
		{"hot plate at eighty for three minutes", "heat heat display 0 true 80C 3min"},
		{"no alcohol needed, the battery came out", "step lift battery 0 true"},
		{"charging works", "check pass charging 0 true"},
		{"I tore the antenna cable", "incident flex-torn antenna cable 1 true"},
		{"battery of B into A", "trial swap battery 0 true"},
		{"one screw is left over", "left_over screw 1 true"},
		{"a battery costs eighteen euros and the display 60", "price battery 0 true 18EUR|price display 0 true 60EUR"},
		{"it gets a seven out of ten", "score phone 0 true 7/10"},
	} {
		out, err := Solve(Input{Cues: []cues.Cue{{Text: c.say}}, Units: []Unit{{Name: "A"}, {Name: "B"}}})
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, p := range out.Proposals {
			s := strings.Join(
				strings.Fields(fmt.Sprint(p.Kind, " ", p.Verb, " ", p.Object, " ", p.Count, " ", p.Acted)),
				" ",
			)
			if p.Value != nil {
				s += fmt.Sprintf(" %g%s", p.Value.N, p.Value.Unit)
			}
			for _, v := range p.More {
				s += fmt.Sprintf(" %g%s", v.N, v.Unit)
			}
			if p.Withdrawn != "" {
				s += " <" + p.Withdrawn
			}
			got = append(got, s)
		}
		if g := strings.Join(got, "|"); g != c.want {
			t.Errorf("%q\n got %s\nwant %s", c.say, g, c.want)
		}
	}
}

// TestRecord: a rule that a workshop refused often is less sure; one that it always took is surer.
func TestRecord(t *testing.T) {
	sure := func(record map[string][2]int) float64 {
		out, err := Solve(Input{Cues: []cues.Cue{{Text: "bracket off"}}, Record: record})
		if err != nil || len(out.Proposals) != 1 {
			t.Fatal(err, out.Proposals)
		}
		return out.Proposals[0].Confidence
	}
	if low, own, high := sure(
		map[string][2]int{"step.state": {2, 40}},
	), sure(
		nil,
	), sure(
		map[string][2]int{"step.state": {40, 40}},
	); !(low < .5 && low < own && own < high) {
		t.Errorf("confidence %g, %g, %g", low, own, high)
	}
}

func TestErrors(t *testing.T) {
	two := []cues.Cue{{Start: 5, Text: "a"}, {Start: 2, Text: "b"}}
	for want, in := range map[string]Input{
		"cues[1].start":   {Cues: two},
		"cues[0].end":     {Cues: []cues.Cue{{Start: 5, End: 1}}},
		"cues[0].text":    {Cues: []cues.Cue{{Text: strings.Repeat("x", mostChars+1)}}},
		"language":        {Language: "fr"},
		"voice":           {Voice: "song"},
		"words[0].say":    {Words: []Word{{Means: "battery", Kind: "part"}}},
		"words[0].kind":   {Words: []Word{{Say: "sell", Means: "battery", Kind: "smell"}}},
		"parts[0].name":   {Parts: []Part{{}}},
		"record.step.own": {Record: map[string][2]int{"step.own": {3, 2}}},
	} {
		if _, err := Solve(in); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", want, err)
		}
	}
}

func FuzzSolve(f *testing.F) {
	f.Add("bracket off, two screws, sorry, three", "it weighs 4.5 g")
	f.Add("one two three and a half hundred thousand point", "no wait")
	f.Add("never don't if the", "B's A on \xff \u00df \u0130 off off out in")
	f.Fuzz(func(t *testing.T, a, b string) {
		in := Input{Cues: []cues.Cue{{Text: a}, {Start: 3, Text: b}}, Units: []Unit{{Name: "A"}, {Name: "B"}}}
		if len(a)+len(b) > 2000 {
			return
		}
		out, err := Solve(in)
		if err != nil {
			t.Fatal(err)
		}
		covers(t, in, out)
	})
}

func BenchmarkTwentyThousandWords(b *testing.B) {
	one := recording(b, recordings[0])
	var list []cues.Cue
	for at := 0.0; len(list) < 20_000*len(one)/1150; at += 500 {
		for _, c := range one {
			c.Start, c.End = c.Start+at, c.End+at
			list = append(list, c)
		}
	}
	for b.Loop() {
		if _, err := Solve(input(list)); err != nil {
			b.Fatal(err)
		}
	}
}

func ExampleSolve() {
	list, _ := cues.Read("[0:04] bracket off, two screws\n[0:09] the battery weighs 43 grams")
	out, _ := Solve(Input{Cues: list})
	for _, p := range out.Proposals {
		fmt.Printf("%g %s %s %q\n", p.Start, p.Kind, p.Object, p.Line)
	}
	// Output:
	// 4 step bracket "b bracket"
	// 4 count screw ""
	// 9 measure battery "m battery 43g"
}

// TestNumbers: figures and number words in the forms in which they are said.
func TestNumbers(t *testing.T) {
	for _, c := range []struct {
		say  string
		want []float64
	}{
		{"four", []float64{4}},
		{"twenty two", []float64{22}},
		{"a hundred and twenty eight", []float64{128}},
		{"thirty four fifty", []float64{3450}},
		{"four thousand and fifty", []float64{4050}},
		{"two thousand one hundred and seventy", []float64{2170}},
		{"four point two", []float64{4.2}},
		{"six and a half", []float64{6.5}},
		{"half a", []float64{.5}},
		{"4,410 and 17.07 and 3,5", []float64{4410, 17.07, 3.5}},
		{"five lobe", nil}, // a drive
		{"one, two, three", []float64{1, 2, 3}},
		{"the Drift 4 has 5", []float64{5}},
		{"it is 12 Wh 45 g", []float64{12, 45}},
		{"a T5 driver", nil},
	} {
		var got []float64
		for _, k := range tokens([]cues.Cue{{Text: c.say}}) {
			if k.isNum {
				got = append(got, k.num)
			}
		}
		if !slices.Equal(got, c.want) {
			t.Errorf("%q: %v, want %v", c.say, got, c.want)
		}
	}
}

// TestClauses: where run-on speech is parted. This is the step on which it is won or lost.
func TestClauses(t *testing.T) {
	for say, want := range map[string]string{
		"bracket off battery disconnected and two display plugs":      "bracket off|battery disconnected and two display plugs",
		"i pulled the tab and it came out":                            "i pulled the tab|it came out",
		"first the battery plug, then the coil and the camera":        "first the battery plug|then the coil and the camera",
		"the brackets, two screws and the coil are out":               "the brackets two screws and the coil are out",
		"earpiece in display plugs on":                                "earpiece in|display plugs on",
		"the glass is off but i left the clips":                       "the glass is off|but|i left the clips",
		"wireless charging i did not test":                            "wireless charging i did not test",
		"if you pry there, the panel breaks":                          "if you pry there|the panel breaks",
		"speaker does not vibration is fine":                          "speaker does not|vibration is fine",
		"clamps on for fifteen minutes and i call it done":            "clamps on for|i call it done",
		"the coax runs along the edge, under the tape":                "the coax runs along the edge under the tape",
		"battery in with new adhesive board back":                     "battery in with new adhesive|board back",
		"it works as well":                                            "it works as well",
		"restart it once more":                                        "restart it once more",
		"new seal round the rim":                                      "new seal round the rim",
		"the display flex unplugged they say the board is glued down": "the display flex unplugged|they say the board is glued down",
	} {
		in := Input{Cues: []cues.Cue{{Text: say}}}
		r := &reader{in: in, dict: newDictionary(in), toks: tokens(in.Cues)}
		var got []string
		for _, c := range clauses(r.particles(r.dict.lex(r.toks)), r.toks) {
			var words []string
			for _, it := range c.items {
				words = append(words, it.s)
			}
			got = append(got, strings.Join(words, " "))
		}
		if g := strings.ReplaceAll(strings.Join(got, "|"), "#", ""); !sameClauses(g, want) {
			t.Errorf("%q\n got %s\nwant %s", say, g, want)
		}
	}
}

// sameClauses compares without the words of figures, which are one sign when they are read.
func sameClauses(got, want string) bool {
	want = strings.ReplaceAll(want, "two ", "")
	squeeze := func(s string) string { return strings.Join(strings.Fields(strings.ReplaceAll(s, "|", " | ")), " ") }
	return squeeze(got) == squeeze(want)
}

// TestMoods: what was done, is planned, is only said.
func TestMoods(t *testing.T) {
	for say, want := range map[string]string{
		"i lifted the display":                            "done true",
		"the display comes off":                           "done true",
		"i will lift the display tomorrow":                "intended false",
		"let us lift the display":                         "intended true",
		"if you lift the display":                         "hypothetical false",
		"you could lift the display":                      "hypothetical false",
		"i did not lift the display":                      "negated false",
		"somebody told me to lift the display":            "said by others false",
		"people say you lift the display":                 "said by others false",
		"the display has to be lifted":                    "advised true",
		"i was going to lift the display":                 "negated false",
		"Lift the display. Lift the glass. Lift the coil": "advised true",
	} {
		out, err := Solve(Input{Cues: []cues.Cue{{Text: say}}})
		if err != nil {
			t.Fatal(err)
		}
		got := "nothing"
		for _, p := range out.Proposals {
			if p.Kind == "step" && p.Object == "display" {
				got = fmt.Sprint(p.Did, " ", p.Acted)
				break
			}
		}
		if got != want {
			t.Errorf("%q: %s, want %s", say, got, want)
		}
	}
}
