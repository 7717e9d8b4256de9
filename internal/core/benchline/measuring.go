package benchline

import (
	"slices"

	"waryowl/internal/core/shorthand"
)

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
	for i, it := range c.items {
		if it.Low == "label" || it.Low == "sticker" { // "on the label"
			c.used[i], c.role[i] = true, quiet
			c.nouns = slices.DeleteFunc(c.nouns, func(n nounPhrase) bool { return n.at <= i && i < n.to && len(n.tokens) == 1 })
		}
	}
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
