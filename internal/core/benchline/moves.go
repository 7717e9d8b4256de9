package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/phrase"
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
		if m.lead() || led[kind] {
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

// bareScrews reads the screws of a part that goes back: "all screws", or a bare count equal to the one on record.
func (c *clause) bareScrews(base draft, own []*nounPhrase) {
	m := c.subject
	if len(own) > 0 {
		m = own[0].m
	} else if p := c.lastOfLine(); p != nil {
		m = *p
	}
	p := m.one()
	if p == nil {
		return
	}
	rec, ok := c.screwsOf(p.ID)
	if !ok {
		return
	}
	for i, it := range c.items {
		bare := it.Fig != nil && it.Fig.Count() == rec.Count && rec.Count > 0 && !c.used[i]
		all := it.Low == "all" && (c.has("screws") || c.has("screw"))
		if !bare && !all {
			continue
		}
		for k := range c.drafts {
			if d := c.drafts[k]; d.f.Verb == "unfasten" && d.clause == c.clause {
				return
			}
		}
		d := base
		d.f.Verb, d.f.Joint, d.f.Back, d.m = "unfasten", "screw", true, m
		d.f.Count, d.f.Drive = rec.Count, rec.Drive
		c.used[i] = true
		for k := range c.items {
			if thingOf([]string{c.items[k].Low}) == "screw" {
				c.used[k] = true
			}
		}
		c.add(d)
		return
	}
}

// screwsOf is what was unscrewed of a part.
func (r *line) screwsOf(part string) (shorthand.Fact, bool) {
	for i := len(r.past) - 1; i >= 0; i-- {
		if f := r.past[i].Fact; f.Part == part && f.Verb == "unfasten" && !f.Back {
			return f, true
		}
	}
	for _, id := range r.c.Done {
		if s, ok := r.c.Steps.By(id); ok && s.Verb == "unfasten" && r.c.part(s) == part {
			return shorthand.Fact{Count: s.Count, Drive: s.Drive, DriveSize: s.DriveSize}, true
		}
	}
	return shorthand.Fact{}, false
}

// values are the figures in a unit that a part can have.
func (c *clause) values() []int {
	var out []int
	for i, it := range c.items {
		if it.Fig != nil && slices.Contains([]string{"mAh", "Wh", "g", "mm", "MP", "V"}, it.Fig.Unit) && !c.used[i] {
			out = append(out, i)
		}
	}
	return out
}

// measures reads the values of a part: the one named in the clause, the battery for mAh and Wh, else the part of the last act.
func (c *clause) measures(base draft, values []int, acted bool) bool {
	d := draft{f: shorthand.Fact{Verb: "measure"}, from: base.from, to: base.to}
	if acted {
		d.from, d.to = c.items[values[0]].From(), c.items[values[len(values)-1]].To()
	}
	power := false
	for _, i := range values {
		f := c.items[i].Fig
		m := shorthand.Measure{Value: f.Value, Unit: f.Unit, Digit: f.Digit}
		power = power || f.Unit == "mAh" || f.Unit == "Wh"
		if f.Unit == "mm" {
			for k := i + 1; k < len(c.items) && k <= i+1; k++ {
				if of := dimension[c.items[k].Low]; of != "" {
					m.Of, c.used[k] = of, true
					c.dropNoun(k)
				}
			}
		}
		d.f.Measures = append(d.f.Measures, m)
		c.used[i] = true
	}
	for k := range c.nouns {
		n := &c.nouns[k]
		if n.used || n.prep == "with" || power && n.m.kind() != "battery" && c.batteries().one() != nil {
			continue
		}
		if !n.m.none() && n.m.thing == "" || n.m.one() != nil {
			d.m = n.m
			if !acted {
				n.used = true
			}
			break
		}
	}
	switch {
	case !d.m.none():
	case power && c.batteries().one() != nil:
		d.m = c.batteries()
	case !c.subject.none():
		d.m = c.subject
	case c.lastOfLine() != nil:
		d.m = *c.lastOfLine()
	case len(c.past) > 0 && (c.has("it") || len(c.nouns) == 0):
		for i := len(c.past) - 1; i >= 0 && d.m.none(); i-- {
			d.m = c.known(c.past[i].Fact)
		}
	}
	d.m.thing = ""
	if d.m.none() {
		for _, i := range values {
			c.used[i] = false
		}
		return false
	}
	c.add(d)
	return true
}

var dimension = map[string]string{"thick": "thickness", "wide": "width", "high": "height", "tall": "height", "long": "length",
	"deep": "depth", "thickness": "thickness", "width": "width"}

// batteries is the battery on record, where there is one.
func (r *line) batteries() meant {
	var m meant
	for _, p := range r.c.Parts {
		if p.KindID() == "battery" {
			m.parts = append(m.parts, p)
		}
	}
	return m
}

// settle puts the facts of the line in order, and keeps what was only named before as no note of its own.
func (r *line) settle(clauses []phrase.Clause) {
	acts := slices.ContainsFunc(r.drafts, func(d draft) bool { return d.f.Verb != "note" || d.f.Surplus != nil })
	if !acts {
		r.drafts = []draft{{f: shorthand.Fact{Verb: "note", Note: noteText(r.text)}, to: len([]rune(r.text))}}
		r.unread = nil
		return
	}
	r.lateScrews()
	var out []draft
	for _, d := range r.drafts {
		note := d.f.Verb == "note" && d.f.Surplus == nil
		if note && (slices.Contains(r.pendingSubject, d.clause) && r.actedIn(d.clause+1) || slices.Contains(r.qualified, d.clause)) {
			continue
		}
		if note && r.surplusSaid {
			continue
		}
		if note && d.clause >= 0 && d.clause < len(clauses) {
			r.tell(clauses[d.clause])
		}
		out = append(out, d)
	}
	r.drafts = out
	for i, d := range r.drafts { // "…, lead first": before the others of the line
		if d.clause >= 0 && d.clause < len(clauses) && d.f.Verb != "note" {
			last := clauses[d.clause].Items[len(clauses[d.clause].Items)-1]
			if last.Low == "first" && i > 0 {
				copy(r.drafts[1:i+1], r.drafts[:i])
				r.drafts[0] = d
			}
		}
	}
}

func (r *line) actedIn(clause int) bool {
	return slices.ContainsFunc(r.drafts, func(d draft) bool { return d.clause == clause && d.f.Verb != "note" })
}

// noteText is a remark as it was typed.
func noteText(text string) string {
	return strings.TrimSpace(strings.TrimPrefix(strings.TrimSpace(text), "+"))
}

// tell marks the words of a remark beside an act as unread where it may have been an act: it holds a verb, a particle or a
// figure.
func (r *line) tell(cl phrase.Clause) {
	roles := r.roles(cl.Items)
	if cl.Question || slices.Contains(roles, mood) {
		figureOnly := slices.ContainsFunc(cl.Items, func(it phrase.Item) bool { return it.Fig != nil })
		if !figureOnly {
			return
		}
	}
	for i := range cl.Items {
		if roles[i] == particle || roles[i] == act || roles[i] == figure || roles[i] == backAct {
			for k, it := range cl.Items {
				if roles[k] != joins && !phrase.Little[it.Low] {
					r.unread = append(r.unread, it.Tokens...)
				}
			}
			return
		}
	}
}

// lateScrews puts screws before the cover that they hold, where the line names the cover first: "plate off, 4 star".
func (r *line) lateScrews() {
	for i := 1; i < len(r.drafts); i++ {
		d, o := r.drafts[i], r.drafts[i-1]
		if d.f.Verb == "unfasten" && !d.f.Back && !o.f.Back && (o.f.Verb == "bracket" || o.f.Verb == "lift") && samePart(d.m, o.m) {
			r.drafts[i-1], r.drafts[i] = d, o
		}
	}
}

func samePart(a, b meant) bool {
	p, q := a.one(), b.one()
	return p != nil && q != nil && p.ID == q.ID || p == nil && q == nil && a.fresh != "" && a.fresh == b.fresh
}

// unknownAct says whether a phrase is one word that nobody knows and that looks like an act: "rolled", "shoving".
func unknownAct(n *nounPhrase) bool {
	if len(n.tokens) != 1 || n.m.fresh == "" || !n.m.doubtful {
		return false
	}
	w := n.tokens[0].Low
	return len(w) > 4 && (strings.HasSuffix(w, "ed") || strings.HasSuffix(w, "ing"))
}
