package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/phrase"
	"waryowl/internal/core/shorthand"
)

// likeliest orders parts that fit equally: those that a next step of the plan is about first.
func (c Context) likeliest(parts []shorthand.Named) []shorthand.Named {
	next := map[string]bool{}
	for _, s := range c.Steps {
		if !c.Done.Has(s.ID) && len(s.Lacks(c.Done)) == 0 {
			next[c.part(s)] = true
			for _, f := range s.Frees {
				next[f] = true
			}
		}
	}
	out := slices.Clone(parts)
	slices.SortStableFunc(out, func(a, b shorthand.Named) int {
		switch {
		case next[a.ID] == next[b.ID]:
			return 0
		case next[a.ID]:
			return -1
		}
		return 1
	})
	return out
}

// ask turns what a reading leaves open into choices that a digit answers.
func (c Context) ask(a *Answer, text string, r *line) {
	var asked *FactAnswer
	for i := range a.Facts {
		if f := &a.Facts[i]; len(f.Candidates) > 0 || f.Asks == "part" || f.Asks == "new part" {
			asked = f
			break
		}
	}
	switch {
	case r.asks == "entry":
		a.Asks = "entry"
		for _, ch := range r.choices {
			facts, _ := c.facts(text, ch.drafts)
			if len(facts) > 0 {
				a.Choices = append(a.Choices, Choice{Text: "take back: " + facts[0].Say, Facts: facts})
			}
		}
	case asked == nil:
	case len(asked.Candidates) > 0:
		short := ""
		for _, d := range r.drafts {
			if len(d.m.parts) > 1 {
				short = d.m.short
			}
		}
		c.offer(a, r, asked.Candidates, short)
	case asked.Asks == "part":
		c.offerParts(a, r)
	case asked.Asks == "new part":
		a.Choices = append(a.Choices, Choice{Text: asked.NewPart.Name + " (new part)", Facts: a.Facts},
			Choice{Text: "a note", Facts: c.noteOf(text)})
	}
	if len(a.Choices) > 0 {
		a.Learn = append(a.Learn, a.Choices[0].Learn...)
	}
}

func (c Context) noteOf(text string) []FactAnswer {
	facts, _ := c.facts(text, []draft{{f: shorthand.Fact{Verb: "note", Note: noteText(text)}, to: len([]rune(text))}})
	return facts
}

// offer makes one choice for each of the parts that fit.
func (c Context) offer(a *Answer, r *line, parts []shorthand.Named, short string) {
	for _, p := range parts[:min(5, len(parts))] {
		drafts := slices.Clone(r.drafts)
		for i := range drafts {
			if slices.ContainsFunc(drafts[i].m.parts, func(o shorthand.Named) bool { return o.ID == p.ID }) {
				drafts[i].m.parts = []shorthand.Named{p}
				if v := drafts[i].f.Verb; v == "lift" && covers(p.KindID()) {
					drafts[i].f.Verb = "bracket"
				} else if v == "bracket" && !covers(p.KindID()) {
					drafts[i].f.Verb = "lift"
				}
			}
		}
		facts, _ := c.facts(r.text, drafts)
		if len(facts) == 0 {
			continue
		}
		ch := Choice{Text: p.Name, Facts: facts}
		if short != "" && !strings.Contains(short, " ") && thingOf([]string{short}) == "" {
			ch.Learn = []phrase.Own{{Say: short, Means: p.Name, Kind: "part"}}
		}
		a.Choices = append(a.Choices, ch)
	}
}

// offerParts offers parts for an act that names none: those that can come next, then those of which leads come off.
func (c Context) offerParts(a *Answer, r *line) {
	i := slices.IndexFunc(r.drafts, func(d draft) bool { return d.asks == "part" })
	if i < 0 {
		return
	}
	state := line{c: c, past: c.Log}
	verb := r.drafts[i].f.Verb
	var fit []shorthand.Named
	for _, p := range c.likeliest(c.Parts) {
		k := p.KindID()
		switch {
		case verb == "disconnect" && (led[k] || leadPart(meant{parts: []shorthand.Named{p}})) && !state.leadOff(&p),
			verb == "bracket" && covers(k) && !state.isOut(p.ID),
			verb != "disconnect" && verb != "bracket" && !state.isOut(p.ID) && !r.drafts[i].f.Back,
			verb != "disconnect" && r.drafts[i].f.Back && state.isOut(p.ID):
			fit = append(fit, p)
		}
	}
	for _, p := range fit[:min(5, len(fit))] {
		drafts := slices.Clone(r.drafts)
		drafts[i].asks, drafts[i].m.parts = "", []shorthand.Named{p}
		if facts, _ := c.facts(r.text, drafts); len(facts) > 0 {
			a.Choices = append(a.Choices, Choice{Text: p.Name, Facts: facts})
		}
	}
}
