package narrate

import (
	"slices"
	"strings"
)

// lost says whether something was left over or lost.
func (r *reader) lost(c clause, things []np) bool {
	if c.says("left over") || c.says("left on the tray") || c.says("left on the mat") {
		for _, t := range things {
			if t.prep == "" && t.head != "card tray" && t.kind == noun {
				r.add(
					c,
					Proposal{Kind: "left_over", Object: t.object, Count: max(1, t.count), tok: t.tok},
					mood{did: "done", acted: true},
				)
				return true
			}
		}
	}
	return false
}

// cautions are warnings: they name what to keep from.
func (r *reader) cautions(c, next clause, things []np, m mood) bool {
	warns := c.says("never") || c.has("careful", "mind", "avoid") || c.says("watch out") ||
		c.says("keeping well away") || c.says("keep away") || c.says("keep well away") ||
		forbids(c) || c.says("would not go deeper") ||
		c.says("would never") ||
		c.says("make sure") && !slices.ContainsFunc(c.items, func(x item) bool { return x.c == "switch-off" }) ||
		c.says("i would not go")
	if !warns {
		return false
	}
	m.acted = true
	if m.did == "negated" || r.guide {
		m.did = "done"
		if r.guide {
			m.did = "advised"
		}
	}
	object, tok := "", c.items[0].a
	if !c.has("it", "that", "them", "those") &&
		(c.first && len(c.items) <= 3 || next.lead == "because" || next.has("behind", "there", "runs", "beneath", "where",
			"lives") ||
			r.named == "" || r.named == "gap" || r.named == "rim") {
		things = append(things, r.things(next)...)
	}
	for _, t := range things {
		if t.head != "rim" && t.head != "gap" && t.head != "adhesive" {
			object = t.object
			break
		}
	}
	if object == "" {
		object = r.named
	}
	p := Proposal{Kind: "caution", Object: object, tok: tok}
	for i, it := range c.items {
		if it.k == value {
			p.Value = &Value{it.n, it.unit}
		} else if it.k == number && i > 0 && (c.items[i-1].s == "above" || c.items[i-1].s == "over") && r.heat >= 0 {
			p.Value = &Value{it.n, "C"}
		}
	}
	if object == "" {
		return true
	}
	r.add(c, p, m)
	return true
}

// forbids says whether a clause tells somebody not to do something.
func forbids(c clause) bool {
	for i := 0; i+2 < len(c.items); i++ {
		if c.items[i].s == "do" && c.items[i+1].s == "not" &&
			(i == 0 || !subjects[c.items[i-1].s] && c.items[i-1].s != "it") {
			x := c.items[i+2]
			return c.first || x.k == act || x.k == back ||
				slices.Contains(
					[]string{
						"push",
						"go",
						"lose",
						"pull",
						"pry",
						"cut",
						"put",
						"touch",
						"bend",
						"lift",
						"heat",
						"let",
						"use",
					},
					x.s,
				)
		}
	}
	return false
}

// mishapWords are words of a mishap, its kind, and the thing that it happens to where the words say so.
var mishapWords = []struct{ say, verb, head string }{
	{"came off by itself", "cable-unclipped", ""},
	{"unclipped itself", "cable-unclipped", ""},
	{"came off on its own", "cable-unclipped", ""},
	{"snapped", "tab-broke", "pull tab"},
	{"broke off", "part-broke", ""},
	{"broke", "part-broke", ""},
	{"tore", "flex-torn", ""},
	{"torn", "flex-torn", ""},
	{"ripped", "flex-torn", ""},
	{"nick", "flex-torn", ""},
	{"cracked", "glass-cracked", ""},
	{"shattered", "glass-cracked", ""},
	{"ripple", "panel-marked", "display"},
	{"blotch", "panel-marked", "display"},
	{"rolled somewhere", "screw-lost", "screw"},
	{"lost one", "screw-lost", "screw"},
	{"lost a screw", "screw-lost", "screw"},
	{"is gone lost", "screw-lost", "screw"},
	{"slipped", "slipped", ""},
	{"broken", "part-broke", ""},
}

// mishaps are what went wrong.
func (r *reader) mishaps(c clause, things []np, m mood, taken []bool) {
	if m.not || m.did == "hypothetical" || c.says("last month") || c.says("last time") || c.says("last week") {
		return
	}
	for _, w := range mishapWords {
		if !c.says(w.say) || w.say == "snapped" && c.says("snapped on") {
			continue
		}
		object, tok := w.head, c.items[0].a
		for _, it := range c.items {
			if strings.HasPrefix(w.say, it.s) || it.s == w.say {
				tok = it.a
			}
		}
		for _, t := range things {
			if t.prep == "" || t.prep == "of" || t.prep == "in" {
				if w.head == "" && (object == "" || t.tok < tok) || generic[t.head] && w.head == t.head {
					object = t.object
				}
			}
		}
		if object == "" || object == w.head && strings.Contains(r.named, w.head) {
			object = r.named
			if n := len(
				r.list,
			); w.head == "" && n > 0 &&
				(r.list[n-1].Kind == "release" || r.list[n-1].Kind == "count") {
				object = r.list[n-1].Object // the one of them that broke
			}
		}
		if object == "pull tab" && w.verb == "part-broke" {
			w.verb = "tab-broke"
		}
		if w.verb == "flex-torn" && w.say == "nick" {
			for _, t := range things {
				if t.head == "cable" {
					object = t.object
				}
			}
		}
		if object == "" {
			continue
		}
		for i, it := range c.items {
			if it.k == act && (it.s == "snapped" || strings.Contains(w.say, it.s)) {
				taken[i] = true
			}
		}
		r.add(
			c,
			Proposal{Kind: "incident", Verb: w.verb, Object: object, Count: 1, tok: tok},
			mood{did: "done", acted: true},
		)
		return
	}
}
