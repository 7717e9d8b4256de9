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
		for g+n < len(groups) && (groups[g+n].place == groups[g].place || groups[g+n].place == nil || groups[g].place == nil) &&
			(groups[g+n].drive == groups[g].drive || groups[g+n].drive == "" || groups[g].drive == "") && groups[g].word+groups[g+n].word != "" {
			n++
		}
		d := base
		d.f.Verb, d.f.Joint, d.f.Outcome, d.f.Note = "unfasten", "screw", "", ""
		if len(own) == 0 {
			d.f.Outcome, d.f.Note = base.f.Outcome, base.f.Note
		}
		c.fill(&d, groups[g:g+n])
		at := groups[g]
		if at.place == nil && n > 1 {
			at.place = groups[g+n-1].place
		}
		c.at(&d, at, own)
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
