package trade

import (
	"slices"
	"strings"
)

// Families are the two-letter codes of part families.
var Families = map[string]string{"PW": "power", "OP": "optics", "SC": "screen", "SO": "sound", "BD": "board",
	"RF": "radio", "BT": "buttons", "FR": "frame", "SE": "sensors"}

// FamilyCodes lists the families in the order in which they are offered.
func FamilyCodes() []string { return []string{"PW", "OP", "SC", "SO", "BD", "RF", "BT", "FR", "SE"} }

// Kind is a kind of part. Words are its synonyms, in the singular; Mate the kind with which it is usually bound by
// serial, Inside the assembly that it is usually part of. Serves are the checks that it is needed for, each with the
// chance that a stranger of this kind costs it (house, until counted); what it does not serve it costs with [PriorFar].
// Job is the common job that it is, for scores.
type Kind struct {
	ID, Family string
	Words      []string
	Serves     map[string]float64
	Mate       string
	Inside     string
	Job        string
	Covers     bool // a bracket, shield or plate: it lies over connectors
}

// Priors of a stranger where nothing was counted (house): of a check that its kind serves, and of any other.
const (
	PriorServes = 0.2
	PriorFar    = 0.03
	KindPriors  = House
)

// Swaps says whether pieces of a kind are exchanged in swap tests: what serves a check, and neither covers others nor is
// the board whose losses are looked at.
func (k Kind) Swaps() bool { return len(k.Serves) > 0 && !k.Covers && k.ID != "main-board" }

// KindByID finds a kind.
func KindByID(id string) (Kind, bool) {
	k := slices.IndexFunc(Kinds, func(k Kind) bool { return k.ID == id })
	if k < 0 {
		return Kind{}, false
	}
	return Kinds[k], true
}

// KindOf guesses the kind of a part from one of its names: the longest synonym that the name ends with, since English
// puts the head of a name last ("battery cover" is a cover). False means that the name says a thing that is no part of
// its own, or nothing known.
func KindOf(name string) (string, bool) {
	words := strings.Fields(Plain(beforeOf(name)))
	for len(words) > 0 {
		phrase := strings.Join(words, " ")
		if id, ok := lookup(phrase); ok {
			return id, id != ""
		}
		words = words[1:]
	}
	return "", false
}

// IsKind says whether a phrase as a whole names a kind.
func IsKind(phrase string) bool {
	id, ok := lookup(Plain(phrase))
	return ok && id != ""
}

// beforeOf keeps the head of "flex of the charge port" in place: the part before "of" ends with it, unless the whole is
// a synonym.
func beforeOf(name string) string {
	plain := Plain(name)
	if _, ok := lookup(plain); ok {
		return plain
	}
	head, _, _ := strings.Cut(plain, " of ")
	return head
}

// lookup finds a phrase among the synonyms: the id of its kind, or "" for a thing that is no part of its own.
func lookup(phrase string) (string, bool) {
	for _, p := range []string{phrase, singular(phrase)} {
		if id, ok := synonyms[p]; ok {
			return id, true
		}
		if _, ok := things[p]; ok {
			return "", true
		}
	}
	return "", false
}

// Thing is something on a phone that is no part of its own: fasteners, seals, marks, words for places.
func Thing(phrase string) (string, bool) {
	for _, p := range []string{Plain(phrase), singular(Plain(phrase))} {
		if id, ok := things[p]; ok {
			return id, true
		}
	}
	return "", false
}

// Prior is the chance that a stranger of a kind costs a check (house); kinds that nobody knows count by family alone.
func Prior(kind, check string) float64 {
	k, ok := KindByID(kind)
	if !ok {
		return PriorServes / 2
	}
	if p, serves := k.Serves[check]; serves {
		return p
	}
	return PriorFar
}

// Apart are the words that tell like parts from each other: two of one set never mean the same thing.
var Apart = [][]string{
	{"front", "rear", "back"}, {"upper", "top", "lower", "bottom", "middle"}, {"left", "right"}, {"main", "small",
		"sub", "secondary"},
	{"wide", "telephoto", "macro", "infrared"}, {"inner", "outer"}, {"first", "second", "third"}, {"long", "short"},
	{"power", "volume", "charge", "display", "battery", "camera", "antenna", "sensor"},
}

// same are words of [Apart] with one meaning.
var same = map[string]string{"back": "rear", "top": "upper", "bottom": "lower", "secondary": "sub", "small": "sub",
	"ultra": "wide"}

// Same is the word that stands for all of one meaning.
func Same(w string) string {
	if s := same[w]; s != "" {
		return s
	}
	return w
}

// Clash says whether two names hold words that tell like parts apart: "upper shield" and "lower shield".
func Clash(a, b string) bool {
	x, y := strings.Fields(Plain(a)), strings.Fields(Plain(b))
	for _, set := range Apart {
		p, q := firstOf(x, set), firstOf(y, set)
		if p != "" && q != "" && Same(p) != Same(q) {
			return true
		}
	}
	return false
}

func firstOf(words, set []string) string {
	for _, w := range words {
		if slices.Contains(set, w) {
			return w
		}
	}
	return ""
}

var synonyms = func() map[string]string {
	m := map[string]string{}
	for _, k := range Kinds {
		for _, w := range append([]string{strings.ReplaceAll(k.ID, "-", " ")}, k.Words...) {
			m[Plain(w)] = k.ID
		}
	}
	return m
}()

// Synonyms lists every name of a kind with its id, for search and completion.
func Synonyms() map[string]string { return synonyms }

var things = func() map[string]string {
	m := map[string]string{}
	for id, words := range nonParts {
		for _, w := range append([]string{id}, words...) {
			m[Plain(w)] = id
		}
	}
	return m
}()

// nonParts are the nouns of the trade that are no parts of their own, by what they are.
var nonParts = map[string][]string{
	"screw": {"bottom screw", "security screw", "bolt", "rim screw", "perimeter screw"}, "post": {"standoff",
		"standoff screw", "threaded post"},
	"cable": {"flex", "flex cable", "ribbon cable", "ribbon", "connector", "plug", "lead",
		"socket"}, "coax": {"coaxial cable", "coax lead"},
	"pull tab": {"adhesive tab", "release tab", "stretch tab", "tab", "pull flap", "flap"},
	"adhesive": {"glue", "waterproof adhesive", "waterproof strip", "adhesive strip", "bead", "adhesive pad",
		"strip", "rim adhesive"},
	"seal": {"new seal", "o ring"},
	"tape": {"copper tape", "double sided tape", "antenna tape"},
	"film": {"graphite", "graphite film", "graphite tape", "plastic film", "graphite sheet", "foil", "copper foil",
		"protective film"},
	"gasket":      {"rubber gasket", "rubber"},
	"foam":        {"foam ball"},
	"thermal pad": {"thermal paste"},
	"liquid mark": {"liquid damage indicator", "water indicator", "liquid indicator", "leak mark"},
	"latch":       {"slide latch"},
	"hinge":       {}, "clip": {"catch"}, "hook": {"flange"}, "pin": {}, "metal tab": {}, "washer": {},
	"label": {"branding", "marking", "sticker"},
	"code":  {"printed code"}, "phone": {"device", "unit", "handset"}, "charge": {"charge level", "state of charge"},
	"layout": {"structure"}, "notch": {},
	"rim": {"perimeter", "seam", "edges of the frame", "around the frame", "edge",
		"corner"}, "component": {"part"}, "bezel": {"border"},
	"gap": {}, "opening": {"hole"}, "bench": {}, "mat": {}, "tool": {},
}

// Mentions lists the kinds of part that a text speaks of, in their order: at each place the longest synonym counts, so
// that "battery cover" speaks of a cover and "battery pull tabs" of a battery.
func Mentions(text string) []string {
	var kinds []string
	words := strings.Fields(Plain(text))
	for i := 0; i < len(words); {
		n := 0
		for k := min(5, len(words)-i); k > 0 && n == 0; k-- {
			if id, ok := lookup(strings.Join(words[i:i+k], " ")); ok {
				n = k
				if id != "" {
					kinds = append(kinds, id)
				}
			}
		}
		i += max(1, n)
	}
	return kinds
}

// About is the kind of the part that a step's words are about: words for leads, tabs and screws at the end say what is
// opened, not whose ("battery connector" is about the battery, "battery cover flex" about a cover).
func About(what string) string {
	words := strings.Fields(Plain(what))
	for len(words) > 0 {
		if k, ok := synonyms[singular(strings.Join(words, " "))]; ok {
			return k
		}
		n := 0
		for size := min(3, len(words)); size > 0 && n == 0; size-- {
			if _, thing := things[singular(strings.Join(words[len(words)-size:], " "))]; thing {
				n = size
			}
		}
		if n == 0 {
			break
		}
		words = words[:len(words)-n]
	}
	k, _ := KindOf(strings.Join(words, " "))
	return k
}

// Needs says whether a check cannot be read without a part of a kind.
func Needs(kind, check string) bool {
	k, ok := KindByID(kind)
	if !ok {
		return false
	}
	_, serves := k.Serves[check]
	return serves
}
