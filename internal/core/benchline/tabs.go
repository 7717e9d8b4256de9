package benchline

import (
	"slices"
	"strconv"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/shorthand"
)

// someTabs reads "3 tabs, 1 broke".
func (c *clause) someTabs(at int) bool {
	broke := 1
	for i, it := range c.items {
		if it.Fig != nil && it.Fig.Count() > 0 {
			broke, c.used[i] = it.Fig.Count(), true
		}
	}
	left := c.tabsSaid - broke
	if left < 0 {
		return false
	}
	c.used[at] = true
	d := draft{f: shorthand.Fact{Verb: "release", Joint: "pull tab", What: "pull tabs", Whole: &left, Of: c.tabsSaid,
		Incident: "tab-broke"}, from: c.items[0].From(), to: c.items[len(c.items)-1].To(), m: c.subject}
	if d.m.none() {
		c.tabPart(&d, &nounPhrase{})
	}
	c.add(d)
	return true
}

// tabs reads pull tabs: which one, how many, how many came out whole.
func (c *clause) tabs() bool {
	if c.thingNamed("pull tab") < 0 {
		return false
	}
	for i, it := range c.items { // "adhesive strip peeled" is no tab of a battery
		if c.role[i] == act && (it.Canon(lexicon.Verb) == "measure" || it.Canon(lexicon.Verb) == "cut") {
			return false
		}
	}
	return c.tab(false)
}

var whichWords = set("hidden left right upper lower middle outer inner first second third last top bottom long short")

func (c *clause) tab(broke bool) bool {
	k := c.thingNamed("pull tab")
	n := &c.nouns[k]
	d := draft{f: shorthand.Fact{Verb: "release", Joint: "pull tab", What: "pull tabs"}, from: c.items[0].From(),
		to: c.items[len(c.items)-1].To()}
	pulled := broke
	for i, it := range c.items {
		switch {
		case c.role[i] == particle, c.role[i] == act && slices.Contains([]string{"lift", "pull", "peel", "release"}, it.Canon(lexicon.Verb)),
			c.role[i] == result && it.Canon(lexicon.Result) == "pass", it.Low == "ok", it.Low == "whole", it.Low == "came":
			pulled, c.used[i] = true, true
		case c.role[i] == incident, it.Low == "gone", it.Low == "torn", it.Low == "tore":
			pulled, broke, c.used[i] = true, true, true
		}
	}
	last := c.lastTab()
	if !pulled && !last {
		for _, it := range c.items {
			if it.Fig != nil && it.Fig.Count() > 0 {
				c.tabsSaid = it.Fig.Count()
				c.pendingSubject = append(c.pendingSubject, c.clause)
			}
		}
		return false
	}
	count, share := -1, false
	for i, it := range c.items {
		f := it.Fig
		if f == nil {
			continue
		}
		c.used[i] = true
		switch {
		case f.Share > 0:
			whole := int(f.Value)
			if broke {
				whole = f.Share - whole
			}
			d.f.Whole, d.f.Of, share = &whole, f.Share, true
		case f.Ordinal:
			d.f.Which = ordinal(int(f.Value))
		case f.Count() >= 0 && i == n.to: // "tab 2" names the second
			d.f.Which = ordinal(f.Count())
		case f.Count() >= 0:
			count = f.Count()
		default:
			c.used[i] = false
		}
	}
	for i, it := range c.items {
		if o := ordinalWord(it.Low); o != "" && i < n.at && i >= n.at-1 {
			d.f.Which, c.used[i] = o, true
		}
	}
	if c.has("both") && count < 0 {
		count = 2
	}
	for _, t := range n.tokens {
		if whichWords[t.Low] {
			d.f.Which = t.Low
		} else if o := ordinalWord(t.Low); o != "" {
			d.f.Which = o
		}
	}
	c.tabCount(&d, count, broke, share)
	c.tabPart(&d, n)
	n.used = true
	c.add(d)
	return true
}

// tabCount says how many tabs came out whole of how many.
func (c *clause) tabCount(d *draft, count int, broke, share bool) {
	whole := c.has("whole") || c.has("intact") || c.has("clean")
	switch {
	case share:
	case broke:
		zero := 0
		d.f.Whole, d.f.Of = &zero, max(1, count)
	case count > 0 && whole:
		d.f.Whole, d.f.Of = &count, count
	case count > 0:
		d.f.Count = count
	}
	if broke {
		d.f.Incident = "tab-broke"
	}
}

// tabPart finds whose tabs they are: said, or those of what was spoken of last.
func (c *clause) tabPart(d *draft, n *nounPhrase) {
	if one := n.m.one(); one != nil {
		d.m = meant{parts: n.m.parts}
		return
	}
	for k := range c.nouns {
		if o := &c.nouns[k]; o != n && o.m.one() != nil && o.m.thing == "" {
			d.m, o.used = o.m, true
			return
		}
	}
	for i := len(c.past) - 1; i >= 0 && i >= len(c.past)-2; i-- {
		if f := c.past[i].Fact; f.Part != "" && (f.Verb == "release" || c.known(f).kind() == "battery") {
			d.m = c.known(f)
			return
		}
	}
}

func (c *clause) lastTab() bool {
	return len(c.past) > 0 && c.past[len(c.past)-1].Fact.Verb == "release"
}

var ordinalNames = []string{"", "first", "second", "third", "fourth", "fifth", "sixth"}

func ordinal(n int) string {
	if n > 0 && n < len(ordinalNames) {
		return ordinalNames[n]
	}
	return strconv.Itoa(n)
}

func ordinalWord(w string) string {
	switch w {
	case "1st":
		return "first"
	case "2nd":
		return "second"
	case "3rd":
		return "third"
	}
	if slices.Contains(ordinalNames[1:], w) {
		return w
	}
	return ""
}
