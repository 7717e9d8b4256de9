package instrument

import (
	"math"
	"strings"
	"testing"
)

// TestParse: lines as instruments usually send them (common practice, no source).
func TestParse(t *testing.T) {
	for line, want := range map[string]Reading{
		"3.42 mm":           {3.42, "mm", 0.01, true, false, false},
		"ST,+003.42,mm\r\n": {3.42, "mm", 0.01, true, false, false},
		"US,GS,   47.5 g":   {47.5, "g", 0.1, false, false, false},
		"ST,NT,-  0.8 g":    {-0.8, "g", 0.1, true, false, false},
		"3,42 mm":           {3.42, "mm", 0.01, true, false, false},
		"PR,ST,+008.42,mm":  {8.42, "mm", 0.01, true, false, true},
		"  23.4 °C":         {23.4, "C", 0.1, true, false, false},
		"1250 lux":          {1250, "lx", 1, true, false, false},
		"0.135 in":          {3.429, "mm", 0.0254, true, false, false},
		"S,+5.12,V":         {5.12, "V", 0.01, true, false, false},
		"480mA":             {0.48, "A", 0.001, true, false, false},
		"OL":                {0, "", 0, false, true, false},
		"ST,OL,mm":          {0, "", 0, false, true, false},
		"- - - -":           {0, "", 0, false, true, false},
		"12.5":              {12.5, "", 0.1, true, false, false},
	} {
		got, err := Parse(line)
		if err != nil || math.Abs(got.Value-want.Value) > 1e-9 || math.Abs(got.Resolution-want.Resolution) > 1e-9 ||
			got.Unit != want.Unit || got.Stable != want.Stable || got.Over != want.Over || got.Pressed != want.Pressed {
			t.Errorf("%q: %+v, %v; want %+v", line, got, err, want)
		}
	}
	for _, line := range []string{"", "   ", "hello", "mm", "ST,", strings.Repeat("9", 500), "\x00\x01"} {
		if got, err := Parse(line); err == nil && !got.Over {
			t.Errorf("%q was read as %+v", line, got)
		}
	}
}

func TestFits(t *testing.T) {
	for _, c := range []struct {
		line, unit, says string
	}{{"3.42 mm", "mm", ""}, {"47.5 g", "mm", "mass (g)"}, {"US,3.42,mm", "mm", "stand still"}, {"OL", "mm", "over its range"},
		{"12.5", "g", ""}, {"3 furlong", "mm", "furlong"}} {
		r, err := Parse(c.line)
		if says := r.Fits(c.unit); err != nil || says != "" != (c.says != "") || !strings.Contains(says, c.says) {
			t.Errorf("%q into %s: %q, want %q", c.line, c.unit, says, c.says)
		}
	}
}

// FuzzParse: no line breaks the reader, and what is read is a number.
func FuzzParse(f *testing.F) {
	for _, s := range []string{"ST,+003.42,mm", "US,GS,,g", "....", "+-3", "1e9 mm", "µ°%"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, line string) {
		if r, err := Parse(line); err == nil && (math.IsNaN(r.Value) || math.IsInf(r.Value, 0)) {
			t.Errorf("%q: %+v", line, r)
		}
	})
}
