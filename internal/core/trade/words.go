package trade

import (
	"cmp"
	"slices"
	"strings"
)

// Words are what codes are called wherever somebody reads them: kind of code, code, words. Data and documents keep the
// codes; a page, a sheet and a file say the words.
var Words = map[string]map[string]string{
	"verdict": {"works": "works", "works with notice": "works, with a notice",
		"works once calibrated": "works once calibrated", "loses": "loses functions", "intermittent": "comes and goes",
		"interaction": "lost only together", "dead": "dead", "does not seat": "does not fit",
		"not settled": "needs a test", "untested": "untested"},
	"state": {"own": "its own", "stranger": "from another phone", "adopted": "calibrated to this board",
		"copy": "a copy", "foreign": "from another model", "unknown": "origin unknown", "off": "left off",
		"board": "the board itself"},
	"result": {"pass": "pass", "weak": "weak", "lost": "lost", "skipped": "skipped", "dark": "could not be tested"},
	"eye":    {"shut": "not known", "half": "likely", "open": "proven"},
	"level": {"no-seat": "does not fit", "no-mate": "plug differs", "dark": "does not start",
		"lost": "loses functions", "notice": "works, with a notice", "calibrated": "works once calibrated",
		"looks-wrong": "looks wrong", "full": "works in full"},
	"role": {"specimen": "to be opened", "donor": "donor of parts", "control": "kept as it is, to compare"},
	"warning": {"spoiled evidence": "does not count: a damaged part was fitted", "dead gate": "start check not done",
		"not all foreign": "a part of the board's own among them", "not back at baseline": "not back at baseline"},
	"verb": {"unfasten": "unscrew", "bracket": "take off", "solvent": "wet", "lift": "take out", "cut": "cut",
		"pry": "pry", "peel": "peel", "heat": "heat", "slide": "slide", "disconnect": "disconnect",
		"release": "release", "measure": "measure", "incident": "incident", "note": "note", "tool": "take"},
	"term": {"bits": "what it settles", "depth": "steps deep", "suspicion": "likely cause", "control": "control"},
}

// Say is what a code is called, or the code where it has no other name. A state may name what it came from behind an @
// ("copy@lot-7"), and a ~ for a part that fails at times.
func Say(kind, code string) string {
	if words := Words[kind][code]; words != "" {
		return words
	}
	name, from := strings.TrimSuffix(code, "~"), ""
	if at := strings.IndexAny(name, "@ "); at > 0 {
		name, from = name[:at], name[at+1:]
	}
	if Words[kind][name] == "" { // a sentence, or a code that reads as it is
		return code
	}
	return strings.TrimSpace(cmp.Or(Words[kind][name], name) + " " + from)
}

// Imperatives begin what somebody wrote down as an order already: "slide the bracket down, then lift".
var Imperatives = []string{"open", "slide", "lift", "swing", "turn", "push", "pull", "take", "remove", "unscrew",
	"disconnect", "pry", "peel", "cut", "heat"}

// Act is the act of a plan in the imperative; nothing where what it is done to is an order by itself.
func Act(verb, what string) string {
	if first, more, _ := strings.Cut(what, " "); more != "" && slices.Contains(Imperatives, first) {
		return ""
	}
	return Say("verb", verb)
}

// Order is what a hand is told to do: the act in the imperative, and what it is done to ("unscrew 4 cross screws").
func Order(verb, what string) string { return strings.TrimSpace(Act(verb, what) + " " + what) }
