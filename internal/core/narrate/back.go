package narrate

import (
	"slices"
	"strings"
)

// counted is what "them" stands for behind a count: the screws that were just named.
func (r *reader) counted(c clause, it item) string {
	n := len(r.list)
	if n == 0 || r.list[n-1].Kind != "count" || !c.has("them", "those", "these", "all") || it.c == "cut" ||
		it.c == "insert" {
		return ""
	}
	if p := r.list[n-1]; r.in.Cues[r.toks[it.a].cue].Start-p.Start < 25 {
		return p.Object
	}
	return ""
}

// placedIn says whether a clause put a thing back already: "plug the display back in" is one act.
func (r *reader) placedIn(c clause, object string) bool {
	for k := len(r.list) - 1; k >= 0 && r.list[k].tok >= c.items[0].a; k-- {
		if r.list[k].Kind == "put_back" && r.list[k].Object == object {
			return true
		}
	}
	return false
}

// goOn repeats the act before for things that are only listed: "first the battery plug off, then both camera plugs".
func (r *reader) goOn(c clause, things []np, taken []bool) {
	n := len(r.list)
	if n == 0 || len(things) == 0 || r.list[n-1].Kind != "step" && r.list[n-1].Kind != "put_back" ||
		r.list[n-1].tok < c.items[0].a-25 ||
		!r.list[n-1].Acted {
		return
	}
	old := r.list[n-1]
	if c.lead != "then" && c.lead != "and" && c.lead != "after" && c.lead != "next" && !c.has("and", "after", "also") {
		return
	}
	inside := func(k int) bool {
		return slices.ContainsFunc(things, func(t np) bool { return k >= t.a && k < t.b && t.prep == "" })
	}
	for k, x := range c.items {
		if !inside(k) &&
			!(x.k == plain && strings.Contains("|and|then|after|that|also|too|next|finally|the|both|at|last|", "|"+x.c+"|")) {
			return
		}
	}
	for _, t := range things {
		if t.kind != noun || t.head == "screw" && old.Verb != "unfasten" && old.Verb != "lift" || t.head == "label" {
			continue
		}
		r.add(
			c,
			Proposal{
				Kind:   old.Kind,
				Verb:   byThing(t.head, old.Verb),
				Object: t.object,
				Count:  t.count,
				tok:    t.tok,
				Rule:   "step.passive",
			},
			mood{did: old.Did, acted: old.Acted},
		)
		for k := t.a; k < t.b; k++ {
			taken[k] = true
		}
	}
}

// placed reads what goes back without a verb: "rattler with two screws", "battery lead last", "all seven cables back".
func (r *reader) placed(c clause, things []np, m mood) {
	if m.did != "done" && m.did != "advised" || len(things) == 0 || hasResult(c) ||
		c.has("is", "are", "has", "was", "would", "left", "claims") {
		return
	}
	for _, t := range things {
		if (t.head == "seal" || t.head == "adhesive") && t.prep == "" && c.lead != "before" &&
			c.has("new", "fresh", "down", "round") {
			r.add(c, Proposal{Kind: "put_back", Verb: "peel", Object: t.object, tok: t.tok, Rule: "put_back"}, m)
			return
		}
	}
	if hasValue(c) {
		return
	}
	last := c.has("last", "first", "next")
	with := slices.ContainsFunc(things, func(t np) bool {
		return (t.prep == "with" || t.prep == "on") && (t.head == "screw" || t.head == "standoff")
	})
	if !last && !with && c.lead != "and" && c.lead != "then" {
		return
	}
	for _, t := range things {
		if t.kind != noun || t.prep != "" && t.prep != "with" && t.prep != "on" {
			continue
		}
		if !last && !with && t.count == 0 {
			continue
		}
		verb := byThing(t.head, "lift")
		if last && strings.HasSuffix(t.object, "cable") || t.head == "battery" && last {
			verb = "disconnect"
		}
		name := t.object
		if name == "screw" && things[0].object != "screw" {
			name = things[0].object + " screw"
		}
		tok := t.tok
		if t.numTok >= 0 {
			tok = t.numTok
		}
		r.add(c, Proposal{Kind: "put_back", Verb: verb, Object: name, Count: t.count, tok: tok, Rule: "put_back"}, m)
	}
}

// puts says whether a word of putting back means that here: outside of putting back most of them mean something else.
func (r *reader) puts(c clause, it item, i int) bool {
	switch it.s {
	case "put",
		"set",
		"drop",
		"place",
		"fit",
		"put on",
		"lay",
		"press a",
		"stick",
		"secure",
		"seat",
		"plug",
		"connect",
		"connected",
		"in place",
		"set in",
		"attach",
		"fitted":
		if !r.put {
			return false
		}
		if c.says("face down") || c.says("put it face") || c.says("on the mat") || c.says("on the tray") {
			return false
		}
		return true
	}
	if it.state || it.done && !strings.HasPrefix(it.s, "re") && !strings.Contains(it.s, "back") {
		return r.put
	}
	return r.put || strings.HasPrefix(it.s, "re") || strings.Contains(it.s, "back") || it.s == "do up" ||
		it.s == "install" ||
		it.s == "screw in"
}
