// Package lexicon is how people name things at a bench: the words of parts, acts, drives, tools, functions and mishaps, each
// with what it stands for. The words are data (lexicon.txt, additions.txt: one sense a line, "class|means|forms|forms that
// say it is done"); the line of the bench and the reader of recordings share them.
//
//	lexicon.Noun("selfie cam")         // "front camera", true
//	lexicon.Like("shld", "shield")     // 0.6, true: an abbreviation
package lexicon

import (
	_ "embed"
	"strings"

	"waryowl/internal/core/trade"
)

// Class says what a word is.
type Class string

// The classes of words.
const (
	NounWord   Class = "N"     // a part or a small thing
	Drive      Class = "D"     // the recess of a screw
	Tool       Class = "T"     // something in the hand
	Method     Class = "M"     // a way of softening
	Verb       Class = "V"     // an act
	Back       Class = "B"     // an act that puts back; means the verb undone
	Particle   Class = "P"     // off, out, up, loose, back, plugged, reseated
	Function   Class = "F"     // what a check looks at
	Result     Class = "OK"    // how a check ended: pass, lost
	Incident   Class = "X"     // a mishap
	Again      Class = "R"     // again (once more) or too (the same act)
	Outcome    Class = "O"     // gave up, not tried, destroyed; why
	Correction Class = "COR"   // replaced, withdrawn
	Surplus    Class = "S"     // left over
	Length     Class = "L"     // short, long, all same
	Mood       Class = "MOOD"  // makes a clause a remark
	Quiet      Class = "QUIET" // says nothing beside an act
	Prep       Class = "PREP"  // with, without
	Telling    Class = "TELL"  // tells like parts apart
	Number     Class = "NUM"
	Advert     Class = "AD"
	Good       Class = "E+"
	Bad        Class = "E-"
	Same       Class = "E="
	Locked     Class = "E!"
	Off        Class = "OFF" // a noun that has nothing to do with a bench
)

// Sense is one meaning of a form.
type Sense struct {
	Class Class
	Canon string // what it stands for
	Done  bool   // the form itself says that it was done: "unplugged"
}

//go:embed lexicon.txt
var base string

//go:embed additions.txt
var additions string

// Longest is the number of words of the longest form.
var Longest int

var forms = func() map[string][]Sense {
	m := map[string][]Sense{}
	add := func(form string, s Sense) {
		form = Norm(form)
		if form == "" {
			return
		}
		for _, old := range m[form] {
			if old.Class == s.Class && old.Canon == s.Canon {
				return
			}
		}
		m[form] = append(m[form], s)
		Longest = max(Longest, strings.Count(form, " ")+1)
	}
	for _, line := range strings.Split(base+"\n"+additions, "\n") {
		f := strings.Split(line, "|")
		if strings.HasPrefix(line, "#") || len(f) < 3 || f[0] == "AMB" {
			continue
		}
		for done, list := range f[2:] {
			for _, form := range strings.Split(list, ",") {
				form, star := strings.CutSuffix(strings.TrimSpace(form), "*")
				add(form, Sense{Class(f[0]), f[1], done == 1 || star})
			}
		}
	}
	return m
}()

// Norm makes two spellings of a form comparable: lower case, hyphens opened, no apostrophes.
func Norm(s string) string {
	s = strings.Map(func(r rune) rune {
		switch r {
		case '-', '_', '‐', '‑':
			return ' '
		case '\'', '’', '‘', '.', ',':
			return -1
		}
		return r
	}, strings.ToLower(s))
	return strings.Join(strings.Fields(s), " ")
}

// Of lists the senses of a phrase, given in the form of [Norm]; a plural counts as its singular where it has no sense of its
// own.
func Of(phrase string) []Sense {
	if s := forms[phrase]; s != nil {
		return s
	}
	i := strings.LastIndexByte(phrase, ' ') + 1
	one := trade.Singular(phrase[i:])
	if one == phrase[i:] {
		return nil
	}
	var out []Sense
	for _, s := range forms[phrase[:i]+one] {
		if s.Class == NounWord || s.Class == Tool || s.Class == Drive || s.Class == Function {
			out = append(out, s)
		}
	}
	return out
}

// Is finds the meaning of a phrase in one class.
func Is(phrase string, class Class) (string, bool) {
	for _, s := range Of(phrase) {
		if s.Class == class {
			return s.Canon, true
		}
	}
	return "", false
}

// Noun is the part or thing that a phrase stands for.
func Noun(phrase string) (string, bool) { return Is(phrase, NounWord) }

// Tell is what a word that tells like parts apart stands for: "upr" is "upper".
func Tell(word string) (string, bool) { return Is(word, Telling) }

// Known says whether a word stands in any form of the lexicon.
func Known(word string) bool { return words[word] || words[trade.Singular(word)] }

var words = func() map[string]bool {
	m := map[string]bool{}
	for f := range forms {
		for _, w := range strings.Fields(f) {
			m[w] = true
		}
	}
	return m
}()
