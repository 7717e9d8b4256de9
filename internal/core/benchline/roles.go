package benchline

import (
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/trade"
)

// role is what an item does in its clause. Words that mean two things are decided by place, never by frequency.
type role int

const (
	quiet role = iota
	joins
	figure
	thing // part of a noun phrase
	drive
	tool
	method
	act // a verb
	backAct
	particle
	again
	outcome
	why
	incident
	result
	surplus
	length
	mood
	prep
	function
	not
)

var preps = set("holding hold holds securing fixing retaining at of on in under near from to for over behind above below beneath beside around along between by into onto with thru through " +
	"without using")

// noun says whether an item can be a word of a name.
func noun(it phrase.Item) bool {
	if it.Joins || it.Fig != nil || phrase.Little[it.Low] {
		return false
	}
	return it.Name || it.Own != nil && (it.Own.Kind == "part" || it.Own.Kind == "material") || it.Is(lexicon.NounWord) ||
		it.Is(lexicon.Telling) || len(it.Senses) == 0
}

// roles decides what each item of a clause does.
func (r *line) roles(items []phrase.Item) []role {
	out := make([]role, len(items))
	counted := false
	for _, it := range items {
		counted = counted || it.Fig != nil && it.Fig.Count() >= 0 || it.Is(lexicon.NounWord) &&
			(thingOf([]string{it.Low}) == "screw")
	}
	for i := range items {
		if d := shortDrive(items, i); d != "" {
			items[i].Senses = []lexicon.Sense{{Class: lexicon.Drive, Canon: d}}
		}
		out[i] = r.role(items, i, counted)
	}
	return out
}

// shortDrive reads the beginning of a drive's name right behind a count: "4 tri".
func shortDrive(items []phrase.Item, i int) string {
	it := items[i]
	counted := i > 0 && items[i-1].Fig != nil && items[i-1].Fig.Count() >= 0
	screw := i+1 < len(items) && thingOf([]string{items[i+1].Low}) == "screw"
	if !counted && !screw || it.Fig != nil || it.Joins || len(it.Senses) > 0 || len([]rune(it.Low)) < 3 || it.Name {
		return ""
	}
	for _, d := range trade.DriveIDs() {
		if strings.HasPrefix(d, it.Low) {
			return d
		}
	}
	return ""
}

func (r *line) role(items []phrase.Item, i int, counted bool) role {
	it := items[i]
	last := i == len(items)-1
	after := func(k int) phrase.Item {
		if i+k < len(items) && i+k >= 0 {
			return items[i+k]
		}
		return phrase.Item{}
	}
	switch {
	case it.Joins:
		return joins
	case it.Name:
		return thing
	case it.Own != nil:
		return map[string]role{"drive": drive, "tool": tool, "method": method, "check": function, "part": thing, "material": thing,
			"mishearing": r.plain(it, counted)}[it.Own.Kind]
	case it.Fig != nil:
		return figure
	case it.Low == "back":
		return r.backRole(items, i)
	case it.Low == "left":
		next := after(1)
		if i > 0 && (items[i-1].Low == "the" || items[i-1].Low == "to") {
			return thing
		}
		if next.Is(lexicon.Verb) && next.Done() || next.Is(lexicon.Particle) && next.Low != "back" {
			return outcome
		}
		if i > 0 && last || next.Low == "in" || next.Low == "on" || next.Low == "alone" || next.Low == "off" {
			return outcome
		}
		if i == 0 && !last && next.Low == "the" {
			return outcome
		}
		return thing
	case it.Low == "l" || it.Low == "r":
		return thing
	case it.Low == "not" || it.Low == "never":
		return not
	case it.Low == "on" || it.Low == "in":
		next := after(1)
		if after(-1).Canon(lexicon.Outcome) == "why" { // "glued in"
			return quiet
		}
		if i > 0 && (last || next.Joins || next.Fig != nil || next.Low == "with" || next.Is(lexicon.Again) || next.Is(lexicon.Quiet)) {
			return particle
		}
		return prep
	case preps[it.Low] && !it.Is(lexicon.Surplus):
		return prep
	case it.Low == "over":
		if i > 0 && last {
			return surplus
		}
		return prep
	}
	return r.plain(it, counted)
}

// plain is the role of an item whose place does not decide.
func (r *line) plain(it phrase.Item, counted bool) role {
	switch {
	case it.Is(lexicon.Outcome):
		if it.Canon(lexicon.Outcome) == "why" {
			return why
		}
		return outcome
	case it.Is(lexicon.Mood):
		return mood
	case it.Is(lexicon.Particle) && !it.Is(lexicon.NounWord):
		return particle
	case it.Is(lexicon.Drive) && (counted || !it.Is(lexicon.NounWord) && !it.Is(lexicon.Quiet)):
		return drive
	case it.Is(lexicon.Surplus):
		return surplus
	case it.Is(lexicon.Again):
		return again
	case it.Is(lexicon.Incident):
		return incident
	case it.Is(lexicon.Verb) && !it.Is(lexicon.Quiet) && !it.Is(lexicon.NounWord):
		return act
	case it.Is(lexicon.Back) && !it.Is(lexicon.NounWord):
		return backAct
	case it.Is(lexicon.Method):
		return method
	case it.Is(lexicon.Tool) && !it.Is(lexicon.NounWord):
		return tool
	case it.Is(lexicon.Length):
		return length
	case it.Is(lexicon.Result) && !it.Is(lexicon.NounWord):
		return result
	case it.Is(lexicon.NounWord) || it.Is(lexicon.Telling):
		return thing
	case it.Is(lexicon.Function):
		return function
	case phrase.Little[it.Low] || len(it.Senses) > 0:
		return quiet
	}
	return thing
}

// backRole decides "back": the part, where the clause begins with it and an act follows; the word that tells (back glass)
// before a noun; else that something goes back.
func (r *line) backRole(items []phrase.Item, i int) role {
	first := true
	for _, it := range items[:i] {
		if !phrase.Little[it.Low] && !it.Joins {
			first = false
		}
	}
	if i > 0 && items[i-1].Joins {
		first = true
	}
	var next phrase.Item
	if i+1 < len(items) {
		next = items[i+1]
	}
	switch {
	case next.Low != "" && noun(next) && !phrase.Little[next.Low] && next.Low != "back":
		return thing
	case i > 0 && (items[i-1].Low == "the" || items[i-1].Low == "on" || items[i-1].Low == "from"):
		return thing
	case first:
		return thing
	}
	for _, it := range items[i+1:] { // "glass back is removed"
		if it.Is(lexicon.Verb) && it.Done() || it.Is(lexicon.Particle) && it.Low != "on" && it.Low != "in" {
			return thing
		}
	}
	for _, it := range items[:i] {
		if it.Is(lexicon.Verb) && !it.Is(lexicon.NounWord) && next.Low == "" && !anyThing(items[:i]) { // "pried back"
			return thing
		}
	}
	return particle
}

func anyThing(items []phrase.Item) bool {
	for _, it := range items {
		if it.Name || it.Is(lexicon.NounWord) || it.Own != nil || len(it.Senses) == 0 && it.Fig == nil && !it.Joins &&
			!phrase.Little[it.Low] {
			return true
		}
	}
	return false
}
