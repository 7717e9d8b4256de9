// Package shorthand reads the bench line: one line logs one fact about the phone in work.
//
//	r := shorthand.Parse("u 4 tri-wing 1.2x1.6 @upper-bracket", vocabulary)
//	r.Fact.Count, r.Echo // 4, "PINE: unfasten 4 tri-wing screws 1.2 × 1.6 mm at upper bracket"
//
// A line is an optional + (put back), a verb, and words and number groups in any order. What cannot be read is kept as
// a note; nothing is lost.
package shorthand

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// Verbs are the letters of the line with their words.
var Verbs = []struct{ Letter, Word string }{
	{"u", "unfasten"}, {"b", "bracket"}, {"d", "disconnect"}, {"x", "peel"}, {"c", "cut"}, {"h", "heat"}, {"w",
		"solvent"},
	{"s", "slide"}, {"p", "pry"}, {"l", "lift"}, {"m", "measure"}, {"!", "incident"}, {"?", "note"}, {"t", "tool"},
}

// Incidents are the kinds of incident, Methods the sources of heat and the solvents.
var (
	Incidents = []string{"tab-broke", "screw-lost", "screw-found", "cable-unclipped", "flex-torn", "glass-cracked",
		"latch-forced", "connector-loose", "part-forgotten", "panel-marked", "short"}
	Methods = []string{"plate", "air", "press", "pad", "alcohol", "voltage"}
	drives  = []string{"five-lobe", "tri-wing", "cross", "hexalobular", "slot", "post"}
	joints  = map[string]string{"screw": "screw", "screws": "screw", "posts": "post", "adhesive": "adhesive",
		"glue": "adhesive", "tab": "pull tab", "tabs": "pull tab",
		"connector": "connector", "connectors": "connector", "lead": "connector", "leads": "connector", "coax": "coax", "latch": "latch", "latches": "latch", "clip": "clip", "clips": "clip", "tape": "tape"}
	units = map[string]string{"s": "s", "sec": "s", "min": "min", "h": "h", "c": "C", "°c": "C", "g": "g", "mg": "mg",
		"mm": "mm", "cm": "cm", "µm": "µm", "um": "µm",
		"mah": "mAh", "wh": "Wh", "mp": "MP", "v": "V", "%": "%", "x": "x"}
	flags = []string{"magnetic", "captive", "hidden", "detour", "gap", "mark", "whole", "back", "front", "plus",
		"minus"}
	outcomes = map[string]string{"gave-up": "gave up", "destroyed": "destroyed", "not-tried": "not tried"}
)

// Named is one thing with several names.
type Named struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	Aliases []string `json:"aliases"`
}

// Vocabulary is what the line may speak of: the phone in work and the parts and tools of its model.
type Vocabulary struct {
	Unit  string   `json:"unit"`
	Parts []Named  `json:"parts"`
	Tools []string `json:"tools"`
}

// Measure is one measured value; Digit is the place of its last printed digit, U its stated uncertainty or 0.
type Measure struct {
	Value float64 `json:"value"`
	Unit  string  `json:"unit" enum:"mAh,Wh,g,mm,MP,V,C,%"`
	U     float64 `json:"u,omitempty"`
	Digit float64 `json:"digit"`
}

// Fact is what a line says. Lengths mm, times s, temperatures °C; zero means not said.
type Fact struct {
	Verb       string    `json:"verb"`
	Back       bool      `json:"back,omitempty"`
	Part       string    `json:"part,omitempty" doc:"id"`
	Name       string    `json:"name,omitempty" doc:"name of the part"`
	What       string    `json:"what,omitempty"`
	Place      string    `json:"place,omitempty"`
	Count      int       `json:"count,omitempty"`
	DiameterMM float64   `json:"diameter_mm,omitempty"`
	LengthMM   float64   `json:"length_mm,omitempty"`
	Drive      string    `json:"drive,omitempty"`
	Joint      string    `json:"joint,omitempty"`
	Tool       string    `json:"tool,omitempty"`
	Method     string    `json:"method,omitempty"`
	SetC       float64   `json:"set_c,omitempty"`
	MeasuredC  float64   `json:"measured_c,omitempty"`
	Seconds    float64   `json:"seconds,omitempty"`
	Side       string    `json:"side,omitempty"`
	Polarity   string    `json:"polarity,omitempty"`
	Whole      int       `json:"whole,omitempty" doc:"tabs that came out whole"`
	Of         int       `json:"of,omitempty"`
	Magnetic   string    `json:"magnetic,omitempty" enum:"yes,no"`
	Captive    bool      `json:"captive,omitempty"`
	Hidden     bool      `json:"hidden,omitempty"`
	Detour     bool      `json:"detour,omitempty"`
	Result     string    `json:"result,omitempty" enum:"no gap,gap,mark"`
	Outcome    string    `json:"outcome,omitempty" enum:"done,gave up,destroyed,not tried"`
	Incident   string    `json:"incident,omitempty"`
	Measures   []Measure `json:"measures,omitempty"`
	Note       string    `json:"note,omitempty"`
}

// Trouble points at a word that was not understood; columns count from 1 in characters.
type Trouble struct {
	Column int      `json:"column"`
	Length int      `json:"length"`
	Word   string   `json:"word"`
	Text   string   `json:"text"`
	Known  []string `json:"known"`
}

// Reading is a line as it was understood.
type Reading struct {
	Fact     Fact      `json:"fact"`
	Echo     string    `json:"echo"`
	Troubles []Trouble `json:"troubles"`
}

type token struct {
	text   string
	column int
}

func tokens(line string) []token {
	var list []token
	column, start, word := 0, 0, []rune{}
	end := func() {
		if len(word) > 0 {
			list = append(list, token{string(word), start})
			word = word[:0]
		}
	}
	for _, r := range line {
		column++
		if r == ' ' || r == '\t' || r == '\n' || r == '\r' {
			end()
			continue
		}
		if len(word) == 0 {
			start = column
		}
		word = append(word, r)
		if len(list) == 0 && (string(word) == "+" || string(word) == "!" || string(word) == "?") || len(list) == 1 &&
			list[0].text == "+" && (string(word) == "!" || string(word) == "?") {
			end()
		}
	}
	end()
	return list
}

type reader struct {
	Reading
	v     Vocabulary
	list  []token
	notes []string
	words []token // of what is acted on
}

// Parse reads one line. It always returns a fact: a line without a verb is a note.
func Parse(line string, v Vocabulary) Reading {
	line = strings.ToValidUTF8(line, "\uFFFD")
	r := &reader{v: v, list: tokens(line)}
	r.Troubles = []Trouble{}
	if len(r.list) > 0 && r.list[0].text == "+" {
		r.Fact.Back = true
		r.list = r.list[1:]
	}
	if len(r.list) == 0 {
		r.Fact = Fact{Verb: "note"}
		return r.Reading
	}
	first := r.list[0]
	for _, verb := range Verbs {
		if strings.EqualFold(first.text, verb.Letter) || strings.EqualFold(first.text, verb.Word) {
			r.Fact.Verb = verb.Word
		}
	}
	if r.Fact.Verb == "" {
		var known []string
		for _, verb := range Verbs {
			known = append(known, verb.Word)
		}
		r.trouble(first, "not an act; kept as a note", closest(first.text, known))
		r.Fact = Fact{Verb: "note", Note: strings.Trim(line, " \t\r\n")}
		r.Echo = r.echo()
		return r.Reading
	}
	r.list = r.list[1:]
	switch r.Fact.Verb {
	case "note":
		r.Fact.Note = rest(r.list)
	case "tool":
		r.Fact.Tool = rest(r.list)
	default:
		r.read()
	}
	r.Echo = r.echo()
	return r.Reading
}

func rest(list []token) string {
	var words []string
	for _, t := range list {
		words = append(words, t.text)
	}
	return strings.Join(words, " ")
}

func (r *reader) trouble(t token, text string, known []string) {
	if known == nil {
		known = []string{}
	}
	r.Troubles = append(r.Troubles, Trouble{t.column, len([]rune(t.text)), t.text, text, known})
}

var (
	sizes   = regexp.MustCompile(`^(\d{1,4}(?:[.,]\d{1,4})?)[x×](\d{1,4}(?:[.,]\d{1,4})?)(?:mm)?$`)
	shares  = regexp.MustCompile(`^(\d{1,3})(?:/|of)(\d{1,3})$`)
	numbers = regexp.MustCompile(`^(±|\+-|\+/-)?(\d{1,7}(?:[.,]\d{1,6})?)(\D{0,3})$`)
	polar   = regexp.MustCompile(`^([+-])([a-z-]+)$`)
)

func number(s string) float64 {
	x, _ := strconv.ParseFloat(strings.Replace(s, ",", ".", 1), 64)
	return x
}

// read takes the words after the verb.
func (r *reader) read() {
	for i := 0; i < len(r.list); {
		t := r.list[i]
		word := strings.ToLower(t.text)
		at := func(k int) string {
			if i+k < len(r.list) {
				return strings.ToLower(r.list[i+k].text)
			}
			return ""
		}
		switch m := sizes.FindStringSubmatch(word); {
		case m != nil:
			r.Fact.DiameterMM, r.Fact.LengthMM = number(m[1]), number(m[2])
			i++
			continue
		case strings.HasPrefix(word, "@") && len(word) > 1:
			r.Fact.Place = strings.ReplaceAll(word[1:], "-", " ")
			i++
			continue
		}
		if m := shares.FindStringSubmatch(word + at(1) + at(2)); m != nil && at(1) == "of" {
			r.share(t, m)
			i += 3
			continue
		}
		if m := shares.FindStringSubmatch(word); m != nil {
			r.share(t, m)
			i++
			continue
		}
		if m := numbers.FindStringSubmatch(word); m != nil {
			unit, known := units[m[3]]
			used := 1
			if m[3] == "" {
				if unit, known = units[at(1)]; known && at(1) != "x" && at(1) != "c" && at(1) != "h" && at(1) != "s" ||
					at(1) == "c" && r.Fact.Verb == "heat" || at(1) == "s" || at(1) == "mm" {
					used = 2
				} else {
					unit, known = "", true
				}
			}
			if known && r.quantity(t, m[1] != "", m[2], unit) {
				i += used
				continue
			}
			r.trouble(t, "no unit of this line; kept as a note",
				closest(m[3], []string{"s", "min", "C", "g", "mm", "mAh", "Wh", "MP", "V"}))
			r.notes = append(r.notes, t.text)
			i++
			continue
		}
		if n := r.known(word, at(1), at(2)); n > 0 {
			i += n
			continue
		}
		if r.Fact.Part == "" {
			if p, n := r.part(i); n > 0 {
				r.Fact.Part, r.Fact.Name = p.ID, p.Name
				i += n
				continue
			}
		}
		if n := r.tool(i); n > 0 {
			i += n
			continue
		}
		r.words = append(r.words, t)
		i++
	}
	r.settle()
}

func (r *reader) share(t token, m []string) {
	whole, of := int(number(m[1])), int(number(m[2]))
	if whole > of {
		r.trouble(t, "more than there are", []string{fmt.Sprintf("%d/%d", of, whole)})
		r.notes = append(r.notes, m[0])
		return
	}
	r.Fact.Whole, r.Fact.Of = whole, of
}

// quantity takes a number with its unit; false says that this verb has no use for it.
func (r *reader) quantity(t token, isU bool, text, unit string) bool {
	f, x := &r.Fact, number(text)
	text = strings.Replace(text, ",", ".", 1)
	digit := 1.0
	if _, after, ok := strings.Cut(text, "."); ok {
		for range after {
			digit /= 10
		}
	}
	switch {
	case isU:
		if len(f.Measures) == 0 || unit != "" && unit != f.Measures[len(f.Measures)-1].Unit {
			r.trouble(t, "an uncertainty follows the value that it belongs to", nil)
			r.notes = append(r.notes, "±"+text+unit)
			return true
		}
		f.Measures[len(f.Measures)-1].U = x
	case f.Verb == "measure" && unit != "" && unit != "x" && unit != "s" && unit != "min" && unit != "h":
		switch unit {
		case "cm":
			x, unit, digit = x*10, "mm", digit*10
		case "µm":
			x, unit, digit = x/1000, "mm", digit/1000
		case "mg":
			x, unit, digit = x/1000, "g", digit/1000
		}
		f.Measures = append(f.Measures, Measure{Value: x, Unit: unit, Digit: digit})
	case unit == "" || unit == "x":
		if x != float64(int(x)) || x > 200 {
			return false
		}
		f.Count = int(x)
	case unit == "s":
		f.Seconds += x
	case unit == "min":
		f.Seconds += 60 * x
	case unit == "h":
		f.Seconds += 3600 * x
	case unit == "C" && f.SetC == 0:
		f.SetC = x
	case unit == "C":
		f.MeasuredC = x
	case unit == "mm" && f.LengthMM == 0:
		f.LengthMM = x
	default:
		return false
	}
	return true
}
