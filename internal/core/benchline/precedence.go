package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/admit"
	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// open counts the words that a natural reading leaves unread; a line that is a note leaves all.
func (r *line) open() int {
	if len(r.drafts) == 1 && r.drafts[0].f.Verb == "note" && r.drafts[0].f.Surplus == nil {
		return len(strings.Fields(r.text))
	}
	n := len(r.unread)
	for _, d := range r.drafts {
		if d.asks != "" || d.m.doubtful {
			n++
		}
	}
	return n
}

// taught puts what the workshop's words mean in their place, for the grammar.
func (c Context) taught(text string) string {
	for _, o := range c.Words {
		if o.Kind == "model" || o.Kind == "unit" || o.Kind == "check" || o.Say == "" {
			continue
		}
		words := strings.Fields(text)
		for i, w := range words {
			if strings.EqualFold(w, o.Say) {
				words[i] = o.Means
				text = strings.Join(words, " ")
			}
		}
	}
	return text
}

// opensGrammar says whether a line begins as a line of the grammar does: with a verb letter, a sign, or a verb word, and no
// clause ends right behind it.
func opensGrammar(text string) bool {
	list := phrase.Tokens(text)
	trimmed := strings.TrimSpace(text)
	if strings.HasPrefix(trimmed, "?") || strings.HasPrefix(trimmed, "!") {
		return true
	}
	i := 0
	plus := strings.HasPrefix(trimmed, "+")
	if plus {
		i = 1
	}
	if i >= len(list) || list[i].Text == "" {
		return false
	}
	if i+1 < len(list) && list[i+1].Sep != "" {
		return false
	}
	w := list[i].Low
	next := ""
	if i+1 < len(list) {
		next = list[i+1].Low
	}
	if (w == "l" || w == "r") && slices.Contains([]string{"side", "edge", "top", "corner", "bottom"}, next) {
		return false
	}
	if plus && (w == "put" || w == "refit" || w == "reinstall" || w == "connect" || w == "reconnect") {
		return true
	}
	for n := min(3, len(list)-i); n > 0; n-- {
		p := ""
		for k := i; k < i+n; k++ {
			p = strings.TrimSpace(p + " " + list[k].Low)
		}
		for _, v := range trade.Verbs {
			if p != v.Letter && p != v.ID && !slices.Contains(v.Words, p) {
				continue
			}
			if v.ID == "tool" && p != "t" && p != "tool" {
				_, known := trade.ToolOf(next)
				return known
			}
			return true
		}
		if slices.Contains(shorthand.BackWords(), p) {
			return true
		}
	}
	return false
}

// grammarTakes says whether the grammar takes a whole line: it opens it, nothing is unread or refused, and a new part is made
// of words of the lexicon.
func (c Context) grammarTakes(text string, g shorthand.Reading) bool {
	trimmed := strings.TrimSpace(text)
	if trimmed == "" || strings.HasPrefix(trimmed, "?") {
		return true
	}
	if !opensGrammar(text) || len(g.Unread) > 0 || g.Fact.Verb == "note" && g.Fact.Surplus == nil && !noteWord(trimmed) {
		return false
	}
	if g.NewPart != nil {
		for _, w := range strings.Fields(lexicon.Norm(g.NewPart.Name)) {
			if !lexicon.Known(w) && !knownToTrade(w) {
				return false
			}
		}
	}
	letter := len(phrase.Tokens(trimmed)) > 0 && (len([]rune(phrase.Tokens(trimmed)[0].Low)) == 1 || strings.HasPrefix(trimmed, "!"))
	if f := g.Fact; !letter && f.Verb == "cut" && f.Joint == "" && strings.HasPrefix(strings.ToLower(trimmed), "pull") {
		return false // "pull jack": nothing sticks
	}
	if f := g.Fact; !letter && (f.Verb == "lift" || f.Verb == "bracket") && (f.Drive != "" || f.Count > 0 || f.Joint != "") {
		return false // a verb word, and screws: the grammar would lift them
	}
	if len(g.Candidates) > 0 {
		return true
	}
	return admit.Refuse(g.Fact, c.situation(c.fact(g))) == ""
}

func knownToTrade(w string) bool {
	if _, ok := trade.Thing(w); ok {
		return true
	}
	for s := range trade.Synonyms() {
		if slices.Contains(strings.Fields(s), w) {
			return true
		}
	}
	return false
}

func noteWord(text string) bool {
	w, _, _ := strings.Cut(strings.ToLower(text), " ")
	return w == "note" || w == "remark" || w == "n"
}

// situation is what admit needs to know beside a fact.
func (c Context) situation(a FactAnswer) admit.Situation {
	s := admit.Situation{NewPart: a.NewPart != nil, Step: a.StepID != "" && !a.Again, OnRecord: a.Fact.Part != ""}
	if !a.Fact.Back && (a.Fact.Verb == "lift" || a.Fact.Verb == "bracket") && a.Fact.Part != "" && a.Fact.Outcome == "" {
		r := line{c: c, past: c.Log}
		s.Out = r.isOut(a.Fact.Part)
	}
	return s
}
