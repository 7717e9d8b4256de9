package score

import (
	"math"
	"testing"
)

func known(part string, minutes float64, depth int, adhesives ...string) Job {
	return Job{Part: part, Known: true, Low: minutes, High: minutes, Depth: depth, Tools: []string{"pick"},
		Adhesives: adhesives}
}

func line(c Card, id string) Line {
	for _, l := range c.Lines {
		if l.ID == id {
			return l
		}
	}
	return Line{}
}

func TestNothingKnownIsTheWholeRange(t *testing.T) {
	c := Physical(Facts{Battery: Job{Part: "battery"}, Display: Job{Part: "display assembly"},
		Port: Job{Part: "charge port"}})
	if c.Low != 0 || math.Abs(c.High-10) > 1e-9 {
		t.Errorf("want 0 to 10, got %g to %g", c.Low, c.High)
	}
	for _, l := range c.Lines {
		if l.Narrow == "" {
			t.Errorf("%s does not say what would narrow it", l.ID)
		}
	}
}

// TestHandWorkedCard: with every fact known the card is a number; the figures are worked by hand from the house rubric.
func TestHandWorkedCard(t *testing.T) {
	f := Facts{Battery: known("battery", 3, 2), Display: known("display assembly", 45, 25, "adhesive"),
		Port:   known("charge port", math.Sqrt(3*45), 2),
		Drives: []string{"five-lobe", "cross"}, Security: []string{"five-lobe"}, Tools: []string{"a", "b",
			"c"}, Steps: 20}
	c := Physical(f)
	for id, want := range map[string]float64{"battery": 10, "display": 0, "port": 7.5, "tools": 10, "drives": 6.5,
		"adhesives": 3} {
		if l := line(c, id); math.Abs(l.Low-want) > 1e-9 || l.High != l.Low {
			t.Errorf("%s: want %g, got %g to %g", id, want, l.Low, l.High)
		}
	}
	if want := (3*10 + 1.5*7.5 + 10 + 6.5 + 1.5*3) / 11; math.Abs(c.Low-want) > 1e-9 || c.Low != c.High {
		t.Errorf("want %g, got %g to %g", want, c.Low, c.High)
	}
}

// TestAMissingFactNeverRaisesTheFloor: taking a fact away widens the range on both sides or leaves it.
func TestAMissingFactNeverRaisesTheFloor(t *testing.T) {
	full := Facts{Battery: known("battery", 11, 9, "pull tab"), Display: known("display assembly", 8, 6, "adhesive"),
		Port:   known("charge port", 20, 14),
		Drives: []string{"five-lobe", "tri-wing"}, Security: []string{"five-lobe", "tri-wing"}, Tools: []string{"a",
			"b", "c", "d"}, Steps: 30}
	for name, less := range map[string]func(*Facts){
		"the way to the port": func(f *Facts) { f.Port = Job{Part: "charge port"} },
		"a drive":             func(f *Facts) { f.UnknownDrives = 2 },
		"a kind of adhesive":  func(f *Facts) { f.Battery.Adhesives = []string{"pull tab", ""} },
		"the exact minutes":   func(f *Facts) { f.Battery.Low, f.Battery.High = 8, 16 },
	} {
		f := full
		less(&f)
		a, b := Physical(full), Physical(f)
		if !(b.Low < a.Low && b.High >= a.High) {
			t.Errorf("without %s: %.3f to %.3f became %.3f to %.3f", name, a.Low, a.High, b.Low, b.High)
		}
	}
}
