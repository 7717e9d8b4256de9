package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// acts reads what was unscrewed, taken off, put back, measured, or done with the last part.
func (c *clause) acts(cl phrase.Clause) {
	from, to := c.items[0].From(), c.items[len(c.items)-1].To()
	c.tools()
	c.sayVerb()
	end, reason := c.outcome()
	if end != "" && reason == "" {
		reason = c.reason
	}
	groups := c.counts()
	moved := c.moved()
	places := c.places(groups, len(moved) > 0)
	var own []*nounPhrase // things that the act is about
	for k := range moved {
		if n := moved[k]; !slices.Contains(places, n) || c.coverAct(n) {
			own = append(own, n)
		}
	}
	base := draft{from: from, to: to}
	base.f.Tool = c.toolSaid
	base.f.Outcome, base.f.Note = end, reason
	base.f.Back = c.back
	c.wholeAct(cl, base, own, groups)
}

// wholeAct makes the facts of a clause in the order in which they happen.
func (c *clause) wholeAct(cl phrase.Clause, base draft, own []*nounPhrase, groups []screws) {
	values := c.values()
	acted := c.verb != "" || base.f.Outcome != ""
	before := len(c.drafts)
	if len(values) > 0 && c.measures(base, values, acted && len(own) > 0) && !acted {
		return
	}
	measured := slices.Clone(c.drafts[before:])
	if len(measured) > 0 {
		c.drafts, c.past = c.drafts[:before], c.past[:len(c.past)-len(measured)]
	}
	if !base.f.Back {
		c.unscrew(base, groups, own)
	}
	switch {
	case len(own) > 0 && acted:
		c.each(base, own)
	case acted && len(groups) == 0:
		c.onSubject(base)
	case len(groups) > 0 && acted && c.verb != "unfasten" && len(own) == 0 && !c.subject.none() && c.part != "":
		if len(c.drafts) > before && c.subject.one() != nil && c.verb == "particle" && c.part != "out" && c.part != "back" {
			c.single(base, c.subject)
		}
	case !acted && len(own) > 0 && c.role0(again) == "too":
		c.repeat(base, own)
	case !acted && cl.Repeat && len(own) > 0:
		c.repeat(base, own)
	case !acted && len(own) == 1 && c.has("new") && own[0].m.none() &&
		slices.Contains([]string{"adhesive", "seal", "tape", "film", "gasket"}, own[0].m.thing): // "new glue"
		c.verb, c.back = "peel", true
		c.each(base, own)
	case !acted && len(own) == 1 && own[0].m.lead() && c.has("first"): // "battery lead first"
		c.verb = "disconnect"
		c.each(base, own)
	case len(groups) == 0 && c.toolSaid != "" && len(own) == 0 && !acted:
		c.add(draft{f: shorthand.Fact{Verb: "tool", Tool: c.toolSaid}, from: base.from, to: base.to})
	case len(groups) == 0 && !acted && c.role0(again) != "":
		c.sameAgain(base)
	}
	if base.f.Back {
		c.unscrew(base, groups, own)
		c.bareScrews(base, own)
	}
	for _, d := range measured {
		c.add(d)
	}
	if acted && len(c.drafts) > before { // the rest of the line goes the same way
		c.line.back = c.back
	}
}

// role0 is what the first item with a role stands for: "again" or "too".
func (c *clause) role0(x role) string {
	for i := range c.items {
		if c.role[i] == x {
			c.used[i] = true
			return c.items[i].Canon(lexicon.Again)
		}
	}
	return ""
}

// tools takes the tool: behind "with", or named alone; a tool is never a part.
func (c *clause) tools() {
	c.toolSaid = ""
	for i := range c.items {
		with := c.items[i].Low == "with" || c.items[i].Low == "using"
		if with && i+1 < len(c.items) {
			var words []string
			k := i + 1
			for ; k < len(c.items) && len(words) < 3; k++ {
				if c.role[k] == tool || c.role[k] == method || c.items[k].Low == "card" || c.items[k].Low == "hand" {
					words = append(words, c.items[k].Low)
					k++
					break
				}
				if c.role[k] == quiet && phrase.Little[c.items[k].Low] {
					continue
				}
				if c.role[k] != thing && c.role[k] != quiet {
					break
				}
				words = append(words, c.items[k].Low)
			}
			if len(words) > 0 && (c.role[k-1] == tool || c.role[k-1] == method || knownTool(words)) {
				c.setTool(words, i, k)
				return
			}
		}
	}
	for i := range c.items {
		if c.role[i] == tool {
			words := []string{c.items[i].Low}
			from := i
			for from > 0 && (c.items[from-1].Low == "metal" || c.items[from-1].Low == "steel" || c.items[from-1].Low == "plastic" ||
				c.items[from-1].Low == "nylon" || c.items[from-1].Low == "sharp") {
				from--
				words = append([]string{c.items[from].Low}, words...)
			}
			c.setTool(words, from, i+1)
			return
		}
	}
}

func knownTool(words []string) bool { _, ok := trade.ToolOf(join(words)); return ok }

func (c *clause) setTool(words []string, from, to int) {
	c.toolSaid = join(words)
	if c.toolSaid == "hand" {
		c.toolSaid = ""
	}
	for k := from; k < to; k++ {
		c.used[k] = true
		if c.role[k] == thing { // a word of the tool is no word of a part
			c.role[k] = quiet
		}
	}
	c.nouns = slices.DeleteFunc(c.nouns, func(n nounPhrase) bool { return n.at >= from && n.at < to })
}

// sayVerb finds the act of the clause: a verb, or a particle with the thing beside it.
func (c *clause) sayVerb() {
	for i, it := range c.items {
		switch c.role[i] {
		case act:
			v := it.Canon(lexicon.Verb)
			if v == "measure" || v == "inspect" || v == "clean" || v == "switch-on" || v == "switch-off" || v == "reset" ||
				v == "update" || v == "swap" {
				c.used[i] = v == "measure"
				continue
			}
			if c.verb == "" || c.verb == "particle" {
				c.verb = v
			}
			c.used[i] = true
			if v == "lift" && leaving(it.Low) != "" {
				c.verb, c.part = "particle", leaving(it.Low)
			}
		case backAct:
			c.verb, c.back, c.used[i] = it.Canon(lexicon.Back), true, true
			if c.verb == "lift" && (it.Low == "connected" || it.Low == "plugged in") {
				c.verb = "disconnect"
			}
		case particle:
			p := it.Canon(lexicon.Particle)
			if it.Low == "back" {
				p = "back"
				if c.verb != "" && c.verb != "particle" && c.hasActVerb() { // "peeled off back": where, and not back again
					continue
				}
			}
			if c.verb == "" {
				c.verb = "particle"
			}
			if c.part == "" || p == "plugged" || p == "reseated" {
				c.part = p
			}
			if it.Low == "on" || it.Low == "back on" || it.Low == "on again" {
				c.on = true
			}
			c.used[i] = true
		case incident, again:
			c.used[i] = true
		}
	}
	switch c.part {
	case "back", "plugged", "reseated":
		c.back = true
		if c.verb == "lift" || c.verb == "bracket" {
			c.verb = "particle"
		}
	case "out", "off", "up":
		if c.verb == "particle" {
			c.back = false
		}
	}
	if c.verb != "" && c.verb != "particle" && c.part == "" && !c.backSaid() && c.verb != "" && c.hasActVerb() {
		c.back = false
	}
}

func (c *clause) hasActVerb() bool { return slices.Contains(c.role, act) }

func (c *clause) backSaid() bool { return slices.Contains(c.role, backAct) }

// leaving is the particle of a verb that says one: "is out", "came off".
func leaving(w string) string {
	f := strings.Fields(w)
	switch f[len(f)-1] {
	case "out", "free", "away":
		return "out"
	case "off":
		return "off"
	}
	return ""
}

// outcome reads how it ended: gave up, not tried, destroyed, and why.
func (c *clause) outcome() (end, reason string) {
	for i, it := range c.items {
		switch c.role[i] {
		case outcome:
			end = it.Canon(lexicon.Outcome)
			if it.Low == "left" || end == "" {
				end = "not tried"
			}
			c.used[i] = true
		case why:
			reason = strings.TrimSpace(reason + " " + it.Low)
			c.used[i] = true
		}
	}
	if end == "not tried" && c.purpose() { // "left off on purpose"
		end = ""
	}
	for i, it := range c.items {
		if it.Low == "in" || it.Low == "alone" || it.Low == "come" || it.Low == "move" || it.Low == "budge" {
			c.used[i] = c.used[i] || end != ""
		}
	}
	return end, reason
}

// moved are the noun phrases that an act can be about: no screws, no places behind a preposition.
func (c *clause) moved() []*nounPhrase {
	var out []*nounPhrase
	for k := range c.nouns {
		n := &c.nouns[k]
		switch {
		case n.m.thing == "screw" || n.m.thing == "post":
			if n.m.none() && !n.tells {
				n.used = true
			}
		case n.tells:
			n.used = n.used || c.verb == "slide"
		case (c.verb == "cut" || c.verb == "pry") && (n.prep == "around" || n.prep == "along" || n.prep == "under" || n.prep == "into"):
			out = append(out, n)
		case n.prep != "" && n.prep != "of" && !(n.prep == "on" && c.verb == "") && !(n.prep == "for" && n.joined):
		default:
			out = append(out, n)
		}
	}
	return out
}

// coverAct says whether a place of screws is also what comes off or goes on: a thing beside a particle.
func (c *clause) coverAct(n *nounPhrase) bool {
	return c.verb == "particle" && n.m.thing == "" && n.prep == ""
}
