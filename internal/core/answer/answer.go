// Package answer holds the sentence that opens each room: typed fragments, so that a page formats numbers and links
// them to their working without computing anything.
//
//	answer.Sentence{answer.Text("Battery: "), answer.Number(11.5, "min", "#way"), answer.Text(" in.")}
package answer

import (
	"fmt"
	"strings"
)

// Fact is one figure or name of a sentence. Unit names what Value counts (min, s, steps, %, …) and is empty for a plain
// count. Working is where the figure is explained: a path of the application or an anchor of the page.
type Fact struct {
	Value   *float64 `json:"value,omitempty"`
	High    *float64 `json:"high,omitempty" doc:"upper end when the fact is a range"`
	Unit    string   `json:"unit,omitempty"`
	Name    string   `json:"name,omitempty" doc:"a name instead of a figure"`
	Working string   `json:"working,omitempty"`
}

// Fragment is either text or a fact.
type Fragment struct {
	Text string `json:"text,omitempty"`
	Fact *Fact  `json:"fact,omitempty"`
}

// Sentence is read from left to right.
type Sentence []Fragment

// Text is a fragment of plain words.
func Text(s string) Fragment { return Fragment{Text: s} }

// Number is a figure with its unit and the place of its working.
func Number(v float64, unit, working string) Fragment {
	return Fragment{Fact: &Fact{Value: &v, Unit: unit, Working: working}}
}

// Count is a whole number of things, in the singular for one.
func Count(n int, thing, working string) Fragment {
	return Number(float64(n), things(n, thing), working)
}

// Range is a figure known only from low to high.
func Range(low, high float64, unit, working string) Fragment {
	return Fragment{Fact: &Fact{Value: &low, High: &high, Unit: unit, Working: working}}
}

// Name is a named thing with the place where it is shown.
func Name(name, working string) Fragment { return Fragment{Fact: &Fact{Name: name, Working: working}} }

// Title makes the first letter of a name large, for the start of a sentence.
func Title(s string) string {
	if s != "" && s[0] >= 'a' && s[0] <= 'z' {
		return string(s[0]-'a'+'A') + s[1:]
	}
	return s
}

func things(n int, thing string) string {
	switch {
	case n == 1:
		return thing
	case strings.HasSuffix(thing, "person"):
		return strings.TrimSuffix(thing, "person") + "people"
	case strings.HasSuffix(thing, "s"), strings.HasSuffix(thing, "x"), strings.HasSuffix(thing, "ch"), strings.HasSuffix(thing, "sh"):
		return thing + "es"
	case strings.HasSuffix(thing, "ry"), strings.HasSuffix(thing, "ty"), strings.HasSuffix(thing, "dy"):
		return strings.TrimSuffix(thing, "y") + "ies"
	}
	return thing + "s"
}

// Counted is a whole number of things in words, in the singular for one: "1 look", "3 looks".
func Counted(n int, thing string) string { return fmt.Sprintf("%d %s", n, things(n, thing)) }
