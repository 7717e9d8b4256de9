package benchline

import (
	"slices"
	"strconv"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/shorthand"
)

// longer reads "1 longer", "all same": it qualifies the screws before it.
func (c *clause) longer() bool {
	n, word := 0, ""
	for i, it := range c.items {
		switch {
		case it.Fig != nil && it.Fig.Count() > 0 && n == 0:
			n = it.Fig.Count()
		case c.role[i] == length:
			word = it.Low
		case c.role[i] == quiet || c.role[i] == prep_ || c.role[i] == joins:
		default:
			return false
		}
	}
	if word == "" || len(c.drafts) == 0 {
		return false
	}
	d := &c.drafts[len(c.drafts)-1]
	if d.f.Verb != "unfasten" {
		return false
	}
	if n > 0 && n < d.f.Count {
		d.f.Lengths = []shorthand.Screws{{Count: d.f.Count - n, Drive: d.f.Drive}, {Count: n, Drive: d.f.Drive, Word: lengthOf(word)}}
	}
	d.to = c.items[len(c.items)-1].To()
	for i := range c.used {
		c.used[i] = true
	}
	c.qualified = append(c.qualified, c.clause)
	return true
}

// lengthOf is the plain form of a word of length.
func lengthOf(w string) string {
	switch w {
	case "longer":
		return "long"
	case "shorter":
		return "short"
	}
	return w
}

// mishapKind is the kind of mishap that a clause tells, and the item that says it; "" for none, or beside what came out.
func (c *clause) mishapKind() (kind string, at int) {
	for i, it := range c.items {
		p := it.Canon(lexicon.Particle)
		switch {
		case c.role[i] == particle && (p == "out" || p == "off"):
			return "", -1
		case kind != "":
		case c.role[i] == incident:
			kind, at = it.Canon(lexicon.Incident), i
		case c.role[i] == act && it.Canon(lexicon.Verb) == "bend":
			kind, at = "part-broke", i
		}
	}
	return kind, at
}

// mishap reads what went wrong: something torn, bent, cracked, lost; not beside what came out.
func (c *clause) mishap() bool {
	kind, at := c.mishapKind()
	if kind == "" {
		return false
	}
	if c.tabsSaid > 0 && len(c.nouns) == 0 && (kind == "tab-broke" || kind == "part-broke" || kind == "flex-torn") {
		return c.someTabs(at)
	}
	screw := slices.ContainsFunc(c.nouns, func(n nounPhrase) bool { return n.m.thing == "screw" || n.m.thing == "post" })
	n, width, long := -1, 0.0, 0.0
	for i, it := range c.items {
		if it.Fig != nil && it.Fig.Count() > 0 {
			n, c.used[i] = it.Fig.Count(), true
		}
		if it.Fig != nil && it.Fig.Width > 0 {
			width, long, c.used[i] = it.Fig.Width, it.Fig.Length, true
		}
	}
	driveID := ""
	for i := range c.items {
		if c.role[i] == drive {
			driveID, c.used[i] = c.items[i].Canon(lexicon.Drive), true
		}
	}
	if c.thingNamed("pull tab") >= 0 {
		return c.tab(true)
	}
	if kind == "screw-lost" && !screw && driveID == "" {
		if c.checkable() {
			return false
		}
		kind = "part-forgotten"
	}
	if kind == "tab-broke" && !screw { // "snapped", without a tab
		kind = "part-broke"
	}
	d := draft{f: shorthand.Fact{Verb: "incident", Incident: kind}, from: c.items[0].From(), to: c.items[len(c.items)-1].To()}
	if kind == "screw-lost" {
		d.f.Count, d.f.Drive, d.f.DiameterMM, d.f.LengthMM = max(0, n), driveID, width, long
		if n < 0 && (c.has("a") || c.role0Count()) {
			d.f.Count = 1
		}
	}
	c.used[at] = true
	slices.SortStableFunc(c.nouns, func(a, b nounPhrase) int { // what is one part on record is meant before what is not
		switch {
		case (a.m.one() != nil) == (b.m.one() != nil):
			return 0
		case a.m.one() != nil:
			return -1
		}
		return 1
	})
	for k := range c.nouns {
		x := &c.nouns[k]
		switch {
		case x.m.thing == "screw" && x.m.none(), x.m.thing == "cable" && x.m.none():
			x.used = true
		case d.m.none() && !x.m.none():
			d.m, x.used = x.m, true
			if x.m.lead() && (kind == "part-broke" || kind == "flex-torn") {
				d.f.Incident = "flex-torn"
			}
		case x.m.thing != "" && x.m.none():
			x.used = true
		case d.m.one() != nil && x.m.none():
		}
	}
	if d.m.kind() == "rear-glass" && d.f.Incident == "part-broke" {
		d.f.Incident = "glass-cracked"
	}
	if d.m.none() && kind != "screw-lost" {
		if !c.takeSubject(&d) {
			return false
		}
	}
	c.add(d)
	return true
}

// takeSubject gives a fact without a part that of the clause before, or of the last act.
func (c *clause) takeSubject(d *draft) bool {
	if !c.subject.none() {
		d.m = c.subject
		return true
	}
	if len(c.drafts) > 0 {
		for i := len(c.drafts) - 1; i >= 0; i-- {
			if !c.drafts[i].m.none() {
				d.m = c.drafts[i].m
				return true
			}
		}
		return false
	}
	return false
}

// tooMuch reads what lies on the bench too much: "1 screw over, no idea where from".
func (c *clause) tooMuch() bool {
	k := slices.IndexFunc(c.role, func(x role) bool { return x == surplus })
	if k < 0 {
		return false
	}
	s := shorthand.Surplus{Count: 1, Origin: "unknown", What: "bit"}
	for i, it := range c.items {
		if it.Fig != nil && it.Fig.Count() > 0 {
			s.Count, c.used[i] = it.Fig.Count(), true
		}
	}
	var what []string
	for i := range c.items {
		if c.role[i] == drive {
			what = append(what, c.items[i].Canon(lexicon.Drive))
			c.used[i] = true
		}
	}
	for i := range c.nouns {
		n := &c.nouns[i]
		n.used = true
		what = append(what, strings.Join(lows(n.tokens), " "))
	}
	if len(what) == 0 {
		what = []string{"bit"}
	}
	s.What = strings.Join(what, " ")
	c.used[k] = true
	c.add(draft{f: shorthand.Fact{Verb: "note", Surplus: &s, Note: "surplus " + strconv.Itoa(s.Count) + " " + s.What + ", unknown origin"},
		from: c.items[0].From(), to: c.items[len(c.items)-1].To()})
	c.surplusSaid = true
	return true
}
