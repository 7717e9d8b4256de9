// Package shorthand reads the bench line: one line logs one fact about the phone in work.
//
//	r := shorthand.Parse("u 4 tri-wing 1.2x1.6 @upper-bracket", vocabulary)
//	r.Fact.Count, r.Echo // 4, "PINE: unfasten 4 tri-wing screws 1.2 × 1.6 mm at upper bracket"
//
// A line is an optional + (put back), a verb, and words and number groups in any order. What cannot be read is kept as a
// note; nothing is lost.
package shorthand

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// Verbs are the letters of the line with their words.
var Verbs = []struct{ Letter, Word string }{
	{"u", "unfasten"}, {"b", "bracket"}, {"d", "disconnect"}, {"x", "peel"}, {"c", "cut"}, {"h", "heat"}, {"w", "solvent"},
	{"s", "slide"}, {"p", "pry"}, {"l", "lift"}, {"m", "measure"}, {"!", "incident"}, {"?", "note"}, {"t", "tool"},
}

// Incidents are the kinds of incident, Methods the sources of heat and the solvents.
var (
	Incidents = []string{"tab-broke", "screw-lost", "screw-found", "cable-unclipped", "flex-torn", "glass-cracked", "latch-forced", "connector-loose", "part-forgotten", "panel-marked", "short"}
	Methods   = []string{"plate", "air", "press", "pad", "alcohol", "voltage"}
	drives    = []string{"five-lobe", "tri-wing", "cross", "hexalobular", "slot", "post"}
	joints    = map[string]string{"screw": "screw", "screws": "screw", "posts": "post", "adhesive": "adhesive", "glue": "adhesive", "tab": "pull tab", "tabs": "pull tab",
		"connector": "connector", "connectors": "connector", "lead": "connector", "leads": "connector", "coax": "coax", "latch": "latch", "latches": "latch", "clip": "clip", "clips": "clip", "tape": "tape"}
	units = map[string]string{"s": "s", "sec": "s", "min": "min", "h": "h", "c": "C", "°c": "C", "g": "g", "mg": "mg", "mm": "mm", "cm": "cm", "µm": "µm", "um": "µm",
		"mah": "mAh", "wh": "Wh", "mp": "MP", "v": "V", "%": "%", "x": "x"}
	flags    = []string{"magnetic", "captive", "hidden", "detour", "gap", "mark", "whole", "back", "front", "plus", "minus"}
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
		if len(list) == 0 && (string(word) == "+" || string(word) == "!" || string(word) == "?") || len(list) == 1 && list[0].text == "+" && (string(word) == "!" || string(word) == "?") {
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
				if unit, known = units[at(1)]; known && at(1) != "x" && at(1) != "c" && at(1) != "h" && at(1) != "s" || at(1) == "c" && r.Fact.Verb == "heat" || at(1) == "s" || at(1) == "mm" {
					used = 2
				} else {
					unit, known = "", true
				}
			}
			if known && r.quantity(t, m[1] != "", m[2], unit) {
				i += used
				continue
			}
			r.trouble(t, "no unit of this line; kept as a note", closest(m[3], []string{"s", "min", "C", "g", "mm", "mAh", "Wh", "MP", "V"}))
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

// known takes a word of the grammar and returns how many tokens it used.
func (r *reader) known(word, second, third string) int {
	f := &r.Fact
	negated, used := false, 1
	if slices.Contains([]string{"not", "no", "non", "without"}, word) && second != "" {
		negated, word, second, used = true, second, third, 2
	} else if rest, ok := strings.CutPrefix(word, "non-"); ok {
		negated, word = true, rest
	} else if rest, ok := strings.CutPrefix(word, "no-"); ok {
		negated, word = true, rest
	}
	if negated {
		switch word {
		case "magnetic":
			f.Magnetic = "no"
		case "captive", "hidden":
		case "gap", "mark":
			if f.Result == "" || f.Result == "no gap" {
				f.Result = "no gap"
			}
		case "tried":
			f.Outcome = "not tried"
		default:
			return 0
		}
		return used
	}
	if m := polar.FindStringSubmatch(word); m != nil {
		return r.pole(map[string]string{"+": "plus", "-": "minus"}[m[1]], m[2], 1)
	}
	switch {
	case (word == "plus" || word == "minus") && second != "":
		return r.pole(word, second, 2)
	case slices.Contains(drives, word) && (word != "post" && word != "slot" || f.Verb == "unfasten"):
		f.Drive = word
	case slices.Contains(Methods, word) && (f.Verb == "heat" || f.Verb == "solvent" || f.Verb == "cut"):
		f.Method = word
	case word == "front" || word == "back" || word == "rear" && f.Verb == "heat":
		f.Side = strings.Replace(word, "rear", "back", 1)
		if p, n := r.partAfter(word, second, third); n > 0 { // "rear glass", "front camera": a name, not a side
			f.Part, f.Name, f.Side = p.ID, p.Name, ""
			return n
		}
	case word == "gap" || word == "mark" && f.Verb == "heat":
		f.Result = word
	case word == "magnetic":
		f.Magnetic = "yes"
	case word == "captive":
		f.Captive = true
	case word == "hidden":
		f.Hidden = true
	case word == "detour" || word == "for-nothing":
		f.Detour = true
	case word == "for" && second == "nothing":
		f.Detour = true
		return 2
	case outcomes[word] != "":
		f.Outcome = outcomes[word]
	case (word == "gave" || word == "give") && second == "up":
		f.Outcome = "gave up"
		return 2
	case word == "whole" && f.Of > 0:
	case f.Verb == "incident" && f.Incident == "" && slices.Contains(Incidents, word):
		f.Incident = word
	case f.Verb == "incident" && f.Incident == "" && (word == "lost" || word == "found"):
		f.Incident = "screw-" + word
	case joints[word] != "" && r.namedBy(word) == 0:
		if f.Joint == "" {
			f.Joint = joints[word]
		}
		if slices.Contains([]string{"lead", "leads", "tape", "clip", "clips"}, word) { // part of many names as well
			return 0
		}
	default:
		return 0
	}
	return 1
}

func (r *reader) pole(sign, where string, used int) int {
	if r.Fact.Polarity != "" {
		r.Fact.Polarity += ", "
	}
	r.Fact.Polarity += sign + " on " + where
	return used
}

// plain makes names comparable: lower case, spaces for hyphens.
func plain(s string) string {
	return strings.Join(strings.Fields(strings.ReplaceAll(strings.ToLower(s), "-", " ")), " ")
}

// namedBy counts the parts that have this word as a whole name.
func (r *reader) namedBy(word string) int {
	n := 0
	for _, p := range r.v.Parts {
		for _, name := range append([]string{p.Name}, p.Aliases...) {
			if plain(name) == plain(word) {
				n++
			}
		}
	}
	return n
}

// part finds the part whose name or alias is the longest run of words from token i on.
func (r *reader) part(i int) (Named, int) {
	for n := min(5, len(r.list)-i); n > 0; n-- {
		text := plain(rest(r.list[i : i+n]))
		for _, p := range r.v.Parts {
			for _, name := range append([]string{p.Name}, p.Aliases...) {
				if plain(name) == text && text != "" {
					return p, n
				}
			}
		}
	}
	return Named{}, 0
}

func (r *reader) partAfter(words ...string) (Named, int) {
	for n := len(words); n > 1; n-- {
		text := plain(strings.Join(words[:n], " "))
		for _, p := range r.v.Parts {
			for _, name := range append([]string{p.Name}, p.Aliases...) {
				if plain(name) == text && words[n-1] != "" {
					return p, n
				}
			}
		}
	}
	return Named{}, 0
}

func (r *reader) tool(i int) int {
	if strings.ToLower(r.list[i].text) == "with" && i+1 < len(r.list) && r.Fact.Tool == "" {
		for n := min(4, len(r.list)-i-1); n > 0; n-- {
			for _, tool := range r.v.Tools {
				if plain(tool) == plain(rest(r.list[i+1:i+1+n])) {
					r.Fact.Tool = tool
					return n + 1
				}
			}
		}
		r.Fact.Tool = r.list[i+1].text
		return 2
	}
	return 0
}

// settle decides what the words that are left mean.
func (r *reader) settle() {
	f := &r.Fact
	var words []string
	vocabulary := r.dictionary()
	for _, t := range r.words {
		words = append(words, t.text)
		if f.Verb == "incident" && f.Incident != "" || vocabulary[plain(t.text)] {
			continue
		}
		if near := closest(t.text, sortedWords(vocabulary)); f.Part == "" || len(near) > 0 {
			r.trouble(t, "unknown word; kept as it stands", near)
		}
	}
	text := strings.Join(words, " ")
	switch {
	case f.Verb == "incident" || f.Verb == "measure":
		if text != "" {
			r.notes = append(r.notes, text)
		}
		if f.Verb == "incident" && f.Incident == "" {
			f.Incident = "other"
		}
	case text == "":
	default:
		f.What = text
	}
	if f.What == "" {
		f.What = f.Name
	} else if f.Name != "" {
		f.What = f.Name + " " + f.What
	}
	if f.What == "" && f.Place != "" {
		f.What = f.Place
	}
	if f.Joint == "" && (f.Drive != "" || f.DiameterMM > 0) {
		f.Joint = "screw"
	}
	if f.Drive == "post" {
		f.Joint = "post"
	}
	if f.Joint == "" {
		f.Joint = map[string]string{"unfasten": "screw", "disconnect": "connector", "bracket": "bracket", "slide": "latch", "cut": "adhesive"}[f.Verb]
	}
	f.Note = strings.Join(r.notes, " ")
}

func (r *reader) dictionary() map[string]bool {
	words := map[string]bool{}
	add := func(names ...string) {
		for _, name := range names {
			for _, w := range strings.Fields(plain(name)) {
				words[w] = true
			}
		}
	}
	for _, p := range r.v.Parts {
		add(append([]string{p.Name}, p.Aliases...)...)
	}
	add(r.v.Tools...)
	for _, list := range [][]string{flags, Methods, drives, Incidents} {
		for _, w := range list {
			words[w] = true
		}
	}
	for w := range joints {
		words[w] = true
	}
	return words
}
