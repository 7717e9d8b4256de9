package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/phrase"
)

// joinsBefore reads a clause that only says more of the fact before it in the same line: how a round of heat ended, where the
// poles are, with which tool, why, or at which part the screws were.
func (c *clause) joinsBefore() bool {
	for _, f := range []func() bool{c.whyOnly, c.roundEnds, c.rounds, c.bareCount, c.polesOnly, c.toolOnly, c.placeOnly, c.countOnly} {
		if f() {
			c.qualified = append(c.qualified, c.clause)
			return true
		}
	}
	return false
}

func (c *clause) last() *draft {
	if len(c.drafts) == 0 {
		return nil
	}
	return &c.drafts[len(c.drafts)-1]
}

// only says whether a clause holds nothing but items that a test takes, and words that say nothing.
func (c *clause) only(take func(i int, it phrase.Item) bool) bool {
	some := false
	for i, it := range c.items {
		switch {
		case take(i, it):
			some = true
		case c.role[i] == quiet || c.role[i] == joins || c.role[i] == prep_ || phrase.Little[it.Low]:
		default:
			return false
		}
	}
	return some
}

// whyOnly keeps "welded" for how it ended, said before or after.
func (c *clause) whyOnly() bool {
	if !c.only(func(i int, _ phrase.Item) bool { return c.role[i] == why }) {
		return false
	}
	if d := c.last(); d != nil && d.f.Outcome != "" && d.f.Note == "" {
		d.f.Note = c.whys()
	} else if d != nil && d.f.Outcome == "" {
		return false
	}
	c.reason = c.whys()
	return true
}

// roundEnds reads "no gap yet" behind a round of heat, solvent or a cut.
func (c *clause) roundEnds() bool {
	d := c.last()
	if d == nil || !slices.Contains([]string{"heat", "solvent", "cut", "pry"}, d.f.Verb) {
		return false
	}
	if len(c.nouns) == 1 && c.onlyNoun() && d.f.Side == "" && d.f.Verb == "heat" {
		if side := sideOf(&c.nouns[0]); side != "" {
			d.f.Side, d.to = side, c.items[len(c.items)-1].To()
			return true
		}
	}
	if (c.items[0].Low == "wait" || c.items[0].Low == "waited" || c.items[0].Low == "dwell") && len(c.items) > 1 &&
		c.only(func(i int, it phrase.Item) bool { return i == 0 || it.Fig != nil && it.Fig.Unit == "s" }) {
		d.f.Seconds += c.items[len(c.items)-1].Fig.Value
		d.to = c.items[len(c.items)-1].To()
		return true
	}
	words := set("gap gaps no yet opened open without mark marks blotch blotches ripple ripples first")
	if !c.only(func(_ int, it phrase.Item) bool { return words[it.Low] }) {
		return false
	}
	c.results(d)
	return d.f.Result != ""
}

// rounds reads "2 rounds 80C 3 min" behind a heat that said no figures, and "78C read" behind one that did.
func (c *clause) rounds() bool {
	d := c.last()
	if d == nil || d.f.Verb != "heat" {
		return false
	}
	words := set("rounds round times read reads measured reading")
	ok := c.only(func(i int, it phrase.Item) bool {
		fresh := it.Fig != nil && (it.Fig.Unit == "C" && d.f.MeasuredC == 0 || d.f.Seconds == 0)
		return fresh || words[it.Low]
	})
	if !ok {
		return false
	}
	for i, it := range c.items {
		if it.Fig != nil && it.Fig.Count() > 1 && i+1 < len(c.items) {
			d.f.Note = strings.TrimSpace(it.Low + " " + c.items[i+1].Low)
		}
	}
	used := map[int]bool{}
	c.heatFigures(d, c.items, used)
	d.to = c.items[len(c.items)-1].To()
	return true
}

// bareCount reads a count alone behind tabs or screws that had none: "tabs out, 2".
func (c *clause) bareCount() bool {
	d := c.last()
	if d == nil || d.f.Count > 0 || d.f.Of > 0 || d.f.Which != "" || d.f.Verb != "release" && d.f.Verb != "unfasten" {
		return false
	}
	n := 0
	if !c.only(func(_ int, it phrase.Item) bool {
		if it.Fig != nil && it.Fig.Count() > 0 {
			n = it.Fig.Count()
			return true
		}
		return false
	}) {
		return false
	}
	d.f.Count, d.to = n, c.items[len(c.items)-1].To()
	return true
}

// polesOnly reads "plus on tab, 2 min" behind a release by voltage.
func (c *clause) polesOnly() bool {
	d := c.last()
	if d == nil || d.f.Method != "voltage" || !c.has("plus") && !c.has("minus") {
		return false
	}
	c.poles(d)
	for _, it := range c.items {
		if it.Fig != nil && it.Fig.Unit == "s" {
			d.f.Seconds += it.Fig.Value
		}
	}
	d.to = c.items[len(c.items)-1].To()
	return true
}

// toolOnly reads "with a pick" behind an act.
func (c *clause) toolOnly() bool {
	d := c.last()
	if d == nil || c.items[0].Low != "with" && c.items[0].Low != "using" || d.f.Tool != "" {
		return false
	}
	c.tools()
	if c.toolSaid == "" || !c.only(func(i int, _ phrase.Item) bool { return c.used[i] }) {
		return false
	}
	d.f.Tool, d.to = c.toolSaid, c.items[len(c.items)-1].To()
	return true
}

// placeOnly gives screws that were counted without a place the part that is named right after: "4 small cross, usb board".
func (c *clause) placeOnly() bool {
	d := c.last()
	if d == nil || d.f.Verb != "unfasten" || !d.m.none() || len(c.nouns) != 1 || !c.onlyNoun() || c.nouns[0].m.none() {
		return false
	}
	if d.f.Place != "" && !slices.Contains([]string{"small", "large", "little", "big", "tiny"}, d.f.Place) {
		return false
	}
	d.m, d.f.Place = c.nouns[0].m, ""
	d.to = c.items[len(c.items)-1].To()
	if len(c.past) > 0 {
		c.past[len(c.past)-1].Fact = d.f
	}
	return true
}

// countOnly fills in how many screws of which drive came out: "screws of the shield out, 4 tri".
func (c *clause) countOnly() bool {
	var d *draft // the last screws without a count
	for i := range c.drafts {
		if x := &c.drafts[i]; x.f.Verb == "unfasten" && x.f.Count == 0 && x.clause == c.clause-1 {
			d = x
		}
	}
	if d == nil {
		return false
	}
	n, driveID := 0, ""
	ok := c.only(func(i int, it phrase.Item) bool {
		if it.Fig != nil && it.Fig.Count() > 0 {
			n = it.Fig.Count()
			return true
		}
		if c.role[i] == drive {
			driveID, _ = driveOf(it)
			return true
		}
		return it.Is(lexicon.NounWord) && thingOf([]string{it.Low}) == "screw"
	})
	if !ok || n == 0 && driveID == "" {
		return false
	}
	d.f.Count = max(n, d.f.Count)
	if driveID != "" {
		d.f.Drive = driveID
	}
	d.to = c.items[len(c.items)-1].To()
	return true
}
