package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// each makes one fact for each thing that the act is about.
func (c *clause) each(base draft, own []*nounPhrase) {
	own = slices.DeleteFunc(slices.Clone(own), func(n *nounPhrase) bool { return unknownAct(n) })
	leads := 0
	for _, n := range own {
		if led[n.m.kind()] {
			leads++
		}
	}
	for _, n := range own {
		n.used = true
		m := n.m
		if m.all && len(m.parts) > 1 && len(m.parts) <= 4 && c.all(n) && (!c.has("both") || len(m.parts) == 2) {
			for _, p := range m.parts {
				one := m
				one.parts = []shorthand.Named{p}
				c.one(base, one, leads)
			}
			continue
		}
		c.one(base, m, leads)
	}
	for i, it := range c.items {
		if it.Low == "first" && c.role[i] != figure {
			c.used[i] = true
		}
	}
}

// all says whether every part that fits is meant: "both speakers".
func (c *clause) all(n *nounPhrase) bool { return n.all || c.has("both") }

func (c *clause) single(base draft, m meant) { c.one(base, m, 0) }

// one makes the fact of an act on one thing.
func (c *clause) one(base draft, m meant, leads int) {
	d := base
	verb, back := c.verbFor(m, leads), c.back
	if m.none() && m.thing != "" && !handled[m.thing] { // a gap, the mat: nothing that comes off
		return
	}
	if verb == "lift" || verb == "bracket" { // what is out is not taken out, what is in not put back
		m.parts = c.where(m.parts, back)
	}
	if m.none() && m.thing != "" && !m.lead() { // "tape over the flash lead"
		for k := range c.nouns {
			if n := &c.nouns[k]; n.prep != "" && n.m.one() != nil && !n.used {
				m.parts, n.used = n.m.parts, true
				break
			}
		}
	}
	d.m = m
	d.f.Verb, d.f.Back = verb, back
	if verb == "" {
		return
	}
	if c.part == "reseated" {
		d.f.Connector = "seated"
	}
	if c.purpose() {
		d.f.Connector, d.f.Outcome, d.f.Back, d.f.Verb = "off on purpose", "", false, "disconnect"
		for i, it := range c.items {
			c.used[i] = c.used[i] || it.Low == "purpose" || it.Low == "on" || c.role[i] == outcome || c.role[i] == not || it.Low == "plugged"
		}
	}
	if c.part == "loose" {
		if verb != "disconnect" {
			return
		}
		d.f.Connector, d.f.Back = "loose", false
	}
	if m.none() {
		c.thingOnly(&d, m)
	} else if m.thing != "" && !m.lead() && m.thing != "rim" {
		if trade.JointOf(m.thing).ID != "" {
			d.f.Joint = m.thing
		}
		if d.f.Joint != m.thing || m.thing == "tape" {
			d.f.What = m.what
		}
		if verb == "lift" || verb == "bracket" {
			d.f.Verb = "peel"
		}
	}
	if d.f.Outcome == "gave up" && d.f.Part == "" {
		if p := m.one(); p != nil && c.isOut(p.ID) && !d.f.Back {
			d.f.Back = true
		}
	}
	if d.f.Verb == "cut" || d.f.Verb == "pry" || d.f.Verb == "slide" {
		for i, it := range c.items {
			if it.Fig != nil && it.Fig.Unit == "s" {
				d.f.Seconds, c.used[i] = it.Fig.Value, true
			}
		}
		c.results(&d)
		if (d.f.Verb == "cut") && d.f.Joint == "" {
			d.f.Joint = "adhesive"
		}
	}
	if (d.f.Verb == "disconnect" && m.none() && !m.all || d.f.Verb != "disconnect" && m.none() && d.f.What == "") && d.asks == "" &&
		d.f.What == "" && !slices.Contains([]string{"peel", "slide"}, d.f.Verb) {
		d.asks = "part"
	}
	c.add(d)
}

// handled are the things that belong to no part and are taken off or laid down all the same.
var handled = map[string]bool{"cable": true, "coax": true, "pull tab": true, "adhesive": true, "tape": true, "film": true,
	"seal": true, "gasket": true, "foam": true, "thermal pad": true, "label": true, "latch": true, "clip": true, "hook": true,
	"pin": true, "washer": true, "metal tab": true}

// where keeps, of several parts that fit, those that are still in the phone, or out of it where something goes back.
func (c *clause) where(parts []shorthand.Named, out bool) []shorthand.Named {
	var fit []shorthand.Named
	for _, p := range parts {
		if c.isOut(p.ID) == out {
			fit = append(fit, p)
		}
	}
	if len(parts) < 2 || len(fit) == 0 {
		return parts
	}
	return fit
}

// thingOnly is an act on a thing that belongs to no part that was named: "all leads", "graphite film", "the latch".
func (c *clause) thingOnly(d *draft, m meant) {
	switch {
	case m.lead() && m.all:
		d.f.What = "all leads"
	case m.lead() && c.counted(m) > 0:
		d.f.Count, d.f.Joint = c.counted(m), map[string]string{"coax": "coax", "cable": "connector"}[m.thing]
		d.f.What = strings.TrimSpace(m.what)
	case m.lead():
		if p, ok := c.leadOfBefore(); ok {
			d.m = p
		}
		if m.thing == "coax" {
			d.f.Joint = "coax"
		}
	case m.thing == "pull tab":
		d.f.Verb, d.f.Joint, d.f.What = "release", "pull tab", "pull tabs"
	case trade.JointOf(m.thing).ID != "" && m.thing != "latch":
		d.f.Joint = m.thing
		if m.what != m.thing {
			d.f.What = m.what
		}
	default:
		d.f.What = m.what
	}
	if (d.f.Verb == "lift" || d.f.Verb == "bracket") && m.thing != "" && !m.lead() {
		d.f.Verb = "peel"
	}
}

// leadOfBefore is the part that one clause before it names: "display unscrewed, lead off".
func (c *clause) leadOfBefore() (meant, bool) {
	if !c.subject.none() {
		return c.subject, true
	}
	for i := len(c.drafts) - 1; i >= 0; i-- {
		if d := c.drafts[i]; !d.m.none() && d.clause == c.clause-1 {
			return d.m, true
		}
	}
	return meant{}, false
}

// counted is how many of a thing are said.
func (c *clause) counted(m meant) int {
	for _, n := range c.nouns {
		if n.m.thing == m.thing && n.count > 0 && n.at > 0 {
			c.used[n.at-1] = true
			return n.count
		}
	}
	return 0
}

// verbFor is the act that a verb or particle says of a thing.
func (c *clause) verbFor(m meant, leads int) string {
	kind := m.kind()
	taken := "lift"
	if covers(kind) {
		taken = "bracket"
	}
	switch c.verb {
	case "particle":
		return c.particleVerb(m, kind, taken, leads)
	case "":
		switch {
		case m.lead():
			return "disconnect"
		}
		return c.sameVerb(m, taken)
	case "lift":
		if m.lead() {
			return "disconnect"
		}
		return taken
	case "disconnect", "peel", "pry", "slide", "release":
		return c.verb
	case "cut":
		return "cut"
	case "pull":
		if m.lead() {
			return "disconnect"
		}
		return taken
	case "open":
		return "pry"
	case "unfasten":
		if m.lead() {
			return "disconnect"
		}
		return "unfasten"
	case "bend":
		return ""
	}
	return ""
}

// sameVerb is the act that was last done to a part: how "glued, gave up" ends is told of it.
func (c *clause) sameVerb(m meant, taken string) string {
	if p := m.one(); p != nil {
		for i := len(c.past) - 1; i >= 0; i-- {
			f := c.past[i].Fact
			if v, _ := trade.VerbOf(f.Verb); f.Part == p.ID && v.Step && !v.Waits && f.Verb != "unfasten" && !f.Back {
				return f.Verb
			}
		}
	}
	return taken
}

func (c *clause) particleVerb(m meant, kind, taken string, leads int) string {
	switch c.part {
	case "up":
		if kind == "rear-glass" || kind == "display" || kind == "front-glass" {
			return "pry"
		}
		return taken
	case "plugged", "reseated":
		if c.part == "reseated" && !m.lead() && !led[kind] && !leadPart(m) {
			return taken
		}
		return "disconnect"
	case "loose":
		if m.lead() || leadPart(m) {
			return "disconnect"
		}
		return ""
	case "back":
		if m.lead() || c.on && (led[kind] || leadPart(m)) {
			return "disconnect"
		}
		return taken
	case "off":
		p := m.one()
		switch {
		case m.lead(), leadPart(m):
			return "disconnect"
		case kind == "battery" && !c.leadOff(p), leads > 1 && led[kind]:
			return "disconnect"
		}
		return taken
	}
	if m.lead() || leadPart(m) && c.part == "off" {
		return "disconnect"
	}
	return taken
}

// leadPart says whether a part is a lead by its name: "flash lead".
func leadPart(m meant) bool {
	p := m.one()
	if p == nil {
		return false
	}
	w := strings.Fields(lexicon.Norm(p.Name))
	return len(w) > 1 && (thingOf(w[len(w)-1:]) == "cable" || thingOf(w[len(w)-1:]) == "coax")
}

// unknownAct says whether a phrase is one word that nobody knows and that looks like an act: "rolled", "shoving".
func unknownAct(n *nounPhrase) bool {
	if len(n.tokens) != 1 || n.m.fresh == "" || !n.m.doubtful {
		return false
	}
	w := n.tokens[0].Low
	return len(w) > 4 && (strings.HasSuffix(w, "ed") || strings.HasSuffix(w, "ing"))
}
