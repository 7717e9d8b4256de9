package shorthand

import (
	"slices"
	"strings"
)

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
		f.Joint = map[string]string{"unfasten": "screw", "disconnect": "connector", "bracket": "bracket",
			"slide": "latch", "cut": "adhesive"}[f.Verb]
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
