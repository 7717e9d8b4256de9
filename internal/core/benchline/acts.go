package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// screws is a count of screws of one kind at one place.
type screws struct {
	count       int
	drive, size string
	post, said  bool // a screw or post was named
	word        string
	width, long float64
	at, to      int
	place       *nounPhrase
}

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

// counts reads the groups of screws of the clause.
func (c *clause) counts() []screws {
	var out []screws
	cur := func() *screws {
		if len(out) == 0 {
			out = append(out, screws{count: -1, at: -1})
		}
		return &out[len(out)-1]
	}
	for i, it := range c.items {
		switch {
		case it.Fig != nil && it.Fig.Count() >= 0:
			if len(out) > 0 && out[len(out)-1].count < 0 {
				out[len(out)-1].count = it.Fig.Count()
			} else {
				out = append(out, screws{count: it.Fig.Count(), at: i})
			}
			cur().to = i
		case it.Fig != nil && it.Fig.Share > 0 && c.back: // "4 of 5" behind a put-back
			out = append(out, screws{count: int(it.Fig.Value), at: i, to: i, said: true})
		case it.Fig != nil && it.Fig.Width > 0:
			cur().width, cur().long, cur().to = it.Fig.Width, it.Fig.Length, i
		case it.Fig != nil && it.Fig.Unit == "mm" && len(out) > 0 && out[len(out)-1].count >= 0:
			cur().long, cur().to = it.Fig.Value, i
		case c.role[i] == drive:
			d, size := driveOf(it)
			if len(out) == 0 || out[len(out)-1].drive != "" && out[len(out)-1].drive != d {
				out = append(out, screws{count: -1, at: i})
			}
			cur().drive, cur().size, cur().to = d, size, i
		case c.role[i] == length && len(out) > 0:
			cur().word, cur().to = lengthOf(it.Low), i
		case c.role[i] == thing:
			if code, size := driverCode(it.Low); code != "" && len(it.Tokens) == 1 && !c.named(it.Low) {
				if len(out) == 0 {
					out = append(out, screws{count: -1, at: i})
				}
				cur().drive, cur().size, cur().to = code, size, i
				c.dropNoun(i)
				c.used[i] = true
				continue
			}
			if id := thingOf([]string{it.Low}); id == "screw" || id == "post" {
				if len(out) == 0 {
					out = append(out, screws{count: -1, at: i})
				}
				cur().said, cur().to = true, i
				cur().post = cur().post || id == "post"
				if id == "post" && cur().drive == "" {
					cur().drive = ""
				}
			}
		}
	}
	return c.groups(out)
}

func (c *clause) named(w string) bool {
	return slices.ContainsFunc(c.names, func(n []string) bool { return slices.Contains(n, w) })
}

// dropNoun takes an item out of the noun phrases: it is the code of a driver.
func (c *clause) dropNoun(i int) {
	for k := range c.nouns {
		n := &c.nouns[k]
		if n.at <= i && i < n.to {
			var rest []phrase.Token
			for _, t := range n.tokens {
				if t.From != c.items[i].From() {
					rest = append(rest, t)
				}
			}
			n.tokens = rest
			if len(rest) == 0 {
				c.nouns = slices.Delete(c.nouns, k, k+1)
			} else {
				if n.at == i {
					n.at++
				}
				n.m = c.find(rest)
			}
			return
		}
	}
}

// groups keeps the counts that tell of screws, and takes their words.
func (c *clause) groups(list []screws) []screws {
	var out []screws
	for _, g := range list {
		screwy := g.drive != "" || g.said || g.post || len(out) > 0 && (g.word != "" || g.width > 0) ||
			g.count > 0 && (g.width > 0 || g.word != "") || c.verb == "unfasten" && g.count > 0
		if !screwy {
			if c.back && g.count > 0 && c.next(g.at-1).Low == "with" {
				g.said = true
			} else {
				continue
			}
		}
		if g.count < 0 && !c.has("all") && g.drive == "" && c.verb != "unfasten" && !(g.said && c.verb != "") {
			continue
		}
		out = append(out, g)
	}
	for _, g := range out {
		for i := range c.items {
			it := c.items[i]
			switch {
			case i >= g.at && i <= g.to && (it.Fig != nil || c.role[i] == drive || c.role[i] == length):
				c.used[i] = true
			case c.role[i] == thing && (thingOf([]string{it.Low}) == "screw" || thingOf([]string{it.Low}) == "post"):
				c.used[i] = true
			}
		}
	}
	return out
}

func driveOf(it phrase.Item) (id, size string) {
	if it.Own != nil {
		for _, d := range trade.Drives {
			if d.ID == it.Own.Means || slices.Contains(d.Words, it.Own.Means) {
				return d.ID, ""
			}
		}
		return it.Own.Means, ""
	}
	return it.Canon(lexicon.Drive), ""
}

// driverCode reads the code printed on a driver: "T4", "PH00".
func driverCode(w string) (id, size string) {
	m := phrase.CodeForm.FindStringSubmatch(w)
	if m == nil {
		return "", ""
	}
	for _, d := range trade.Drives {
		if slices.Contains(d.Letters, m[1]) {
			return d.ID, strings.ReplaceAll(m[2], ",", ".")
		}
	}
	return "", ""
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

// places gives each group of screws the thing that it holds: the one that follows it, else the one before it.
func (c *clause) places(groups []screws, _ bool) []*nounPhrase {
	var out []*nounPhrase
	for g := range groups {
		limit := len(c.items)
		if g+1 < len(groups) {
			limit = groups[g+1].at
		}
		var best *nounPhrase
		for k := range c.nouns {
			n := &c.nouns[k]
			empty := n.m.none() && !n.tells && n.m.thing != "rim" && !(n.m.thing != "" && n.m.thing != "screw" && n.m.thing != "post")
			idle := n.m.doubtful && (n.m.thing == "screw" || n.m.thing == "post") // "8 assorted screws"
			if empty || idle || n.prep == "with" {
				continue
			}
			if n.to > groups[g].at && n.at < limit && (n.at >= groups[g].at || n.to >= groups[g].at) {
				best = n
				break
			}
		}
		if best == nil {
			for k := len(c.nouns) - 1; k >= 0; k-- {
				if n := &c.nouns[k]; n.at < groups[g].at && (!n.m.none() || n.tells) {
					best = n
					break
				}
			}
		}
		if best != nil {
			groups[g].place = best
			best.used = true
			if !slices.Contains(out, best) {
				out = append(out, best)
			}
		}
	}
	return out
}

// unscrew makes the facts of the groups: several lengths at one place are one, several drives are several.
func (c *clause) unscrew(base draft, groups []screws, own []*nounPhrase) {
	for g := 0; g < len(groups); {
		n := 1
		for g+n < len(groups) && (groups[g+n].place == groups[g].place || groups[g+n].place == nil) &&
			(groups[g+n].drive == groups[g].drive || groups[g+n].drive == "" || groups[g].drive == "") && groups[g].word+groups[g+n].word != "" {
			n++
		}
		d := base
		d.f.Verb, d.f.Joint, d.f.Outcome, d.f.Note = "unfasten", "screw", "", ""
		if len(own) == 0 {
			d.f.Outcome, d.f.Note = base.f.Outcome, base.f.Note
		}
		c.fill(&d, groups[g:g+n])
		c.at(&d, groups[g], own)
		if p := d.m.one(); d.f.Back && d.f.Count == 0 && p != nil { // "all screws"
			if rec, ok := c.screwsOf(p.ID); ok {
				d.f.Count, d.f.Drive, d.f.DriveSize = rec.Count, rec.Drive, rec.DriveSize
			}
		}
		c.add(d)
		g += n
	}
}

func (c *clause) fill(d *draft, groups []screws) {
	f := &d.f
	for i, s := range groups {
		n := s.count
		if n < 0 {
			n = 0
			if c.role0Count() {
				n = 1
			}
		}
		f.Count += n
		if f.Drive == "" {
			f.Drive, f.DriveSize = s.drive, s.size
		}
		if s.post {
			f.Joint = "post"
		}
		if i == 0 && len(groups) == 1 {
			f.DiameterMM, f.LengthMM = s.width, s.long
		}
		if len(groups) > 1 || s.word != "" && s.word != "all same" && s.word != "same size" && s.word != "same length" {
			f.Lengths = append(f.Lengths, shorthand.Screws{Count: n, Drive: s.drive, Word: s.word, DiameterMM: s.width, LengthMM: s.long})
		}
	}
	for i := range f.Lengths {
		if f.Lengths[i].Drive == "" {
			f.Lengths[i].Drive = f.Drive
		}
	}
	if len(f.Lengths) == 1 && f.Lengths[0].Word == "" {
		f.Lengths = nil
	}
	for k := range c.nouns {
		n := &c.nouns[k]
		if (n.prep == "under" || n.prep == "beneath" || n.prep == "below") && n.m.thing != "" && n.m.none() {
			f.Hidden, f.HiddenUnder = true, n.m.what
			n.used = true
		}
	}
	if i := c.find2("hidden"); i >= 0 {
		f.Hidden, c.used[i] = true, true
	}
}

// role0Count says whether a single screw is spoken of: "hidden screw under the label, cross".
func (c *clause) role0Count() bool { return c.has("screw") && !c.has("screws") }

// at says where the screws are.
func (c *clause) at(d *draft, g screws, own []*nounPhrase) {
	switch {
	case g.place != nil && g.place.tells:
		d.f.Place = strings.Join(lows(g.place.tokens), " ")
	case g.place != nil && g.place.m.none() && g.place.m.thing == "rim":
		d.f.Place = strings.Join(lows(g.place.tokens), " ")
	case g.place != nil && !g.place.m.none():
		d.m = g.place.m
		if (g.place.m.thing == "screw" || g.place.m.thing == "post") && g.place.m.none() {
			d.m = meant{}
		}
		d.m.thing, d.m.what = "", ""
	case len(own) > 0:
		d.m = own[0].m
	case !c.subject.none() && !c.back:
		d.m = c.subject
	case c.placeSaid != "":
		d.f.Place = c.placeSaid
	case d.f.Back:
		if e, ok := c.lastBackEntry(); ok {
			d.m, d.f.Place = c.known(e), e.Place
		}
	case len(c.drafts) > 0 && !c.drafts[len(c.drafts)-1].m.none() && c.drafts[len(c.drafts)-1].clause >= c.clause-1:
		d.m = c.drafts[len(c.drafts)-1].m
	}
	if i := slices.IndexFunc(c.nouns, func(n nounPhrase) bool {
		return n.m.thing == "screw" && n.m.none() && !n.tells && len(n.tokens) > 1
	}); i >= 0 && d.m.none() && d.f.Place == "" { // "bottom screws"
		var w []string
		for _, t := range c.nouns[i].tokens {
			if _, ok := lexicon.Tell(t.Low); ok || t.Low == "side" || t.Low == "edge" {
				w = append(w, t.Low)
			}
		}
		d.f.Place = join(w)
		c.nouns[i].used = true
	}
	if c.has("it") && d.m.none() && d.f.Place == "" && len(c.past) > 0 {
		d.m = c.known(c.past[len(c.past)-1].Fact)
	}
}

func (r *line) lastBackEntry() (shorthand.Fact, bool) {
	for i := len(r.past) - 1; i >= 0; i-- {
		if f := r.past[i].Fact; f.Back && f.Part != "" {
			return f, true
		}
	}
	return shorthand.Fact{}, false
}
