package benchline

import (
	"strings"

	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// onSubject is an act without a thing: of the clause before ("glued, out"), of it, or of nothing, which is asked.
func (c *clause) onSubject(base draft) {
	if d := c.last(); d != nil && base.f.Outcome != "" && d.f.Outcome != "" && d.clause == c.clause-1 { // the later word counts
		d.f.Outcome = base.f.Outcome
		c.qualified = append(c.qualified, c.clause)
		return
	}
	if d := c.last(); d != nil && base.f.Outcome != "" && d.f.Outcome == base.f.Outcome { // said twice
		c.qualified = append(c.qualified, c.clause)
		return
	}
	switch {
	case !c.subject.none() && !c.has("all"):
		c.one(base, c.subject, 0)
		return
	case (c.has("all") || c.has("everything")) && c.verb != "disconnect":
		return
	case c.lastOfLine() != nil:
		c.one(base, *c.lastOfLine(), 0)
		return
	}
	pronoun := c.has("it") || c.has("this") || c.has("that")
	if base.f.Outcome != "" || pronoun {
		for i := len(c.past) - 1; i >= 0; i-- {
			f := c.past[i].Fact
			if v, _ := trade.VerbOf(f.Verb); !v.Step || f.Part == "" {
				continue
			}
			d := base
			d.m, d.before = c.known(f), f.Name
			if d.m.none() {
				break
			}
			d.f.Verb = f.Verb
			if c.verb != "" && base.f.Outcome == "" {
				d.f.Verb = c.verbFor(d.m, 0)
			} else if f.Verb == "unfasten" || f.Verb == "disconnect" {
				d.f.Verb = "lift"
				if covers(d.m.kind()) {
					d.f.Verb = "bracket"
				}
			}
			d.f.Back = f.Back && base.f.Outcome != ""
			c.add(d)
			return
		}
	}
	if c.verb == "heat" || c.verb == "measure" {
		return
	}
	if c.verb == "disconnect" && (c.has("everything") || c.has("all")) {
		base.f.Verb, base.f.What, base.f.Back = "disconnect", "all leads", c.back
		c.add(base)
		return
	}
	d := base
	d.f.Verb = c.verbFor(meant{}, 0)
	d.f.Back = c.back
	d.asks = "part"
	for k := range c.nouns {
		if n := &c.nouns[k]; n.tells {
			n.used = true
			d.f.Place = strings.Join(lows(n.tokens), " ")
		}
	}
	if d.f.Verb != "" {
		c.add(d)
	}
}

// lastOfLine is what the clause before in the same line acted on.
func (c *clause) lastOfLine() *meant {
	for i := len(c.drafts) - 1; i >= 0; i-- {
		d := &c.drafts[i]
		if !d.m.none() && d.clause == c.clause-1 {
			return &d.m
		}
	}
	return nil
}

// repeat does the last act to other parts: "tele camera too".
func (c *clause) repeat(base draft, own []*nounPhrase) {
	var last *shorthand.Fact
	for i := len(c.past) - 1; i >= 0; i-- {
		if v, _ := trade.VerbOf(c.past[i].Fact.Verb); v.Step {
			last = &c.past[i].Fact
			break
		}
	}
	for _, n := range own {
		n.used = true
		d := base
		d.m = n.m
		if n.m.lead() {
			d.f.Verb = "disconnect"
		} else if last == nil {
			d.f.Verb, d.asks = "lift", "act"
			if covers(n.m.kind()) {
				d.f.Verb = "bracket"
			}
		} else {
			f := *last
			f.Part, f.Name, f.Place, f.Note, f.Corrects, f.Measures = "", "", "", "", nil, nil
			if f.Verb == "lift" && covers(n.m.kind()) {
				f.Verb = "bracket"
			} else if f.Verb == "bracket" && !covers(n.m.kind()) {
				f.Verb = "lift"
			}
			d.f = f
		}
		c.add(d)
	}
}

// sameAgain repeats the last act as it was: "same other side".
func (c *clause) sameAgain(base draft) {
	for i := len(c.past) - 1; i >= 0; i-- {
		f := c.past[i].Fact
		if v, _ := trade.VerbOf(f.Verb); !v.Step {
			continue
		}
		if f.Verb == "lift" || f.Verb == "bracket" { // what is out is not taken out again
			return
		}
		d := base
		d.f = f
		d.f.Corrects, d.f.Note = nil, ""
		d.m = c.known(f)
		side := c.has("side")
		for k := range c.nouns {
			n := &c.nouns[k]
			n.used = true
			side = side || n.tells
		}
		if side || c.has("other") {
			d.f.Place = "other side"
			if d.f.Verb == "heat" {
				d.f.Place, d.f.Side = "", map[string]string{"front": "back", "back": "front"}[f.Side]
			}
			for k := range c.used {
				c.used[k] = true
			}
		}
		d.before = f.Name
		c.add(d)
		return
	}
}
