package shorthand

import (
	"strings"
	"testing"
)

var words = Vocabulary{Unit: "PINE", Tools: []string{"plastic pick", "tri-wing 0.6"}, Parts: []Named{
	{"d", "display assembly", []string{"screen", "panel"}}, {"b", "battery", []string{"cell"}}, {"g", "rear glass",
		nil},
	{"u", "upper bracket", nil}, {"f", "front camera", nil}, {"m", "microphone lead", nil}}}

// TestParse reads the examples of the design and what hands in gloves make of them. The echo is the whole reading in
// words.
func TestParse(t *testing.T) {
	for _, c := range []struct{ line, echo string }{
		{"u 4 tri-wing 1.2x1.6 @upper-bracket", "PINE: unfasten 4 tri-wing screws 1.2 × 1.6 mm at upper bracket"},
		{"u @upper-bracket 1,2x1,6 tri-wing 4", "PINE: unfasten 4 tri-wing screws 1.2 × 1.6 mm at upper bracket"},
		{"h plate 80C 120s front", "PINE: heat by plate 80 °C for 120 s from the front"},
		{"h plate 80 C 2 min front no gap", "PINE: heat by plate 80 °C for 120 s from the front → no gap"},
		{"h pad 80C 76C 60s rear mark", "PINE: heat by pad 80 °C (76 °C read) for 60 s from the back → mark"},
		{"d battery", "PINE: disconnect battery"},
		{"+ d battery", "PINE: put back, disconnect battery"},
		{"+l panel", "PINE: put back, lift display assembly"},
		{"l display-assembly", "PINE: lift display assembly"},
		{"m battery 3274mAh 12.83Wh", "PINE: measure battery 3274 mAh 12.83 Wh"},
		{"m rear-glass 18.4g", "PINE: measure rear glass 18.4 g"},
		{"m rear glass 0,61 mm ±0,02", "PINE: measure rear glass 0.61 ± 0.02 mm"},
		{"! tab-broke battery", "PINE: incident, tab broke battery"},
		{"! lost 1 tri-wing 1.2x1.6", "PINE: incident, screw lost 1 tri-wing screw 1.2 × 1.6 mm"},
		{"w alcohol 60s battery", "PINE: solvent battery by alcohol for 60 s"},
		{"c tabs 3 of 4 whole battery", "PINE: cut battery 3 of 4 whole"},
		{"u 2 cross not magnetic hidden upper bracket",
			"PINE: unfasten 2 cross screws of the upper bracket not magnetic hidden"},
		{"u 1 post non-magnetic", "PINE: unfasten 1 post not magnetic"},
		{"c battery voltage +tab -ground 90s",
			"PINE: cut battery by voltage for 90 s with plus on tab, minus on ground"},
		{"p battery gave up", "PINE: pry battery → gave up"},
		{"x microphone lead for nothing", "PINE: peel microphone lead (for nothing)"},
		{"d 2 coax", "PINE: disconnect 2 coax leads"},
		{"t plastic pick", "PINE: take the plastic pick"},
		{"? the top edge holds on", "PINE: note “the top edge holds on”"},
		{"l front camera with plastic pick", "PINE: lift front camera with the plastic pick"},
	} {
		r := Parse(c.line, words)
		if r.Echo != c.echo || len(r.Troubles) > 0 {
			t.Errorf("%s\n got %s %v\nwant %s", c.line, r.Echo, r.Troubles, c.echo)
		}
	}
}

// TestTroubles: an error points at its column and offers the closest words; the text is kept.
func TestTroubles(t *testing.T) {
	for _, c := range []struct {
		line   string
		column int
		known  string
		keeps  string
	}{
		{"l batery", 3, "battery", "batery"},
		{"u 4 triwing", 5, "tri-wing", "triwing"},
		{"zap the board", 1, "", "zap the board"},
		{"unfsten 4", 1, "unfasten", "unfsten 4"},
		{"m battery 3274mAx", 11, "mAh", "3274mAx"},
		{"c tabs 5/4 battery", 8, "4/5", "5/4"},
		{"m battery ±3", 11, "", "±3"},
		{"u 2.5 cross", 3, "", "2.5"},
	} {
		r := Parse(c.line, words)
		kept := r.Fact.What + " " + r.Fact.Note
		if len(r.Troubles) != 1 || r.Troubles[0].Column != c.column ||
			!strings.Contains(strings.Join(r.Troubles[0].Known, " "), c.known) || !strings.Contains(kept, c.keeps) {
			t.Errorf("%s: %+v, kept %q", c.line, r.Troubles, kept)
		}
	}
	if r := Parse("+", words); r.Fact.Verb != "note" {
		t.Errorf("a lone plus: %+v", r.Fact)
	}
}

func TestSuggest(t *testing.T) {
	for _, c := range []struct{ line, first string }{
		{"d bat", "d battery"}, {"! tab", "! tab-broke"}, {"u 4 tri", "u 4 tri-wing"}, {"h pl", "h plate"}, {"l ",
			"l display-assembly"}, {"l pan", "l panel"}, {"dis", "disconnect"}, {"t pla", "t plastic-pick"},
	} {
		if got := Suggest(c.line, words); len(got) == 0 || got[0] != c.first {
			t.Errorf("%q: %v, want %s first", c.line, got, c.first)
		}
	}
}

// FuzzParse: whatever is typed, the parser ends, points inside the line, and what it did not understand is kept.
func FuzzParse(f *testing.F) {
	for _, s := range []string{"u 4 tri-wing 1.2x1.6 @upper-bracket", "+ l panel", "m battery 3274mAh ±2",
		"h 80 C 2 min", "! ! ?", "c +tab -ground 3 of", "?x", "\x00\xff é ± 1/0"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, line string) {
		r := Parse(line, words)
		kept := r.Fact.What + " " + r.Fact.Note + " " + r.Fact.Name
		line = strings.ToValidUTF8(line, "\uFFFD")
		for _, tr := range r.Troubles {
			if tr.Column < 1 || tr.Column+tr.Length-1 > len([]rune(line)) {
				t.Errorf("%q: trouble at %d+%d", line, tr.Column, tr.Length)
			}
			if !strings.Contains(kept, tr.Word) && !strings.Contains(kept,
				strings.TrimLeft(strings.ToLower(tr.Word), "±+-/")) && !strings.Contains(strings.ReplaceAll(kept, " ",
				""), strings.ToLower(tr.Word)) && !(r.Fact.Verb == "measure") {
				t.Errorf("%q: %q is lost in %+v", line, tr.Word, r.Fact)
			}
		}
		for _, s := range Suggest(line, words) {
			if s == "" {
				t.Errorf("%q: an empty suggestion", line)
			}
		}
	})
}
