package narrate

import (
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
)

// byThing is the act by what the thing is: screws are undone, leads unplugged, tape peeled.
func byThing(head, verb string) string {
	switch {
	case head == "screw" || head == "standoff":
		if verb == "lift" || verb == "disconnect" || verb == "open" {
			return "unfasten"
		}
	case head == "cable" || head == "coax" || strings.HasSuffix(head, "flex"):
		if verb == "lift" || verb == "pull" || verb == "unfasten" || verb == "peel" || verb == "unclip" {
			return "disconnect"
		}
	case peels(head):
		if verb == "lift" || verb == "pull" || verb == "disconnect" {
			return "peel"
		}
	}
	return verb
}

// peels says whether a thing is one that is peeled.
func peels(head string) bool {
	return head == "tape" || head == "film" || head == "sticker" || head == "adhesive" || head == "seal"
}

// takes are the acts that need a thing of the phone; others are tools and phones.
func (r *reader) acts(c, next clause, things []np, m mood, taken []bool) {
	lastEnd := -1
	for i, it := range c.items {
		if (it.k != act && it.k != back) || taken[i] ||
			slices.Contains([]string{"heat", "wait", "weigh", "swap", "reseat", "reset", "update", "restart"}, it.c) {
			continue
		}
		if it.c == "open" &&
			(c.has("again") || i > 0 && (c.items[i-1].s == "that" || c.items[i-1].s == "leave" || c.items[i-1].s == "stays") ||
				it.done && c.says("yesterday")) {
			taken[i] = true
			continue
		}
		if (it.c == "lift" || it.c == "disconnect") && c.has("it") &&
			slices.ContainsFunc(
				append(slices.Clone(c.items), next.items...),
				func(x item) bool { return x.k == act && x.c == "reseat" },
			) {
			taken[i] = true // off and on again: one act
			continue
		}
		if it.c == "switch-off" || it.c == "switch-on" {
			r.add(c, Proposal{Kind: "step", Verb: it.c, Object: "phone", tok: it.a, Rule: "step.active"}, m)
			lastEnd = i
			continue
		}
		// What it takes: things behind an active verb, before a passive or intransitive one.
		var before, after []np
		for _, t := range things {
			switch {
			case t.a > i && !crosses(c, i, t.a):
				after = append(after, t)
			case t.b <= i && t.a > lastEnd:
				before = append(before, t)
			}
		}
		before = slices.DeleteFunc(before, func(t np) bool {
			that := t.b < i && (c.items[t.b].s == "that" || c.items[t.b].s == "which")
			return t.prep != "" && t.prep != "of" && t.prep != "for" && !that
		})
		if n := len(
			before,
		); n > 1 && before[n-1].b < i &&
			(c.items[before[n-1].b].s == "that" || c.items[before[n-1].b].s == "which") {
			before = before[n-1:] // the one that the relative clause speaks of
		}
		passive := it.state || it.done && !subject(c, i) && len(before) > 0 || passiveAt(c, i) && len(before) > 0
		objects := r.objectsOf(c, after)
		rule := "step.active"
		if passive {
			objects = before
			rule = "step.passive"
			if it.state {
				rule = "step.state"
			}
		}
		if passive && len(objects) > 0 && len(after) > 0 && i+1 < len(c.items) && c.items[i+1].c == "and" &&
			after[0].a == i+2 {
			objects = append(slices.Clone(objects), r.objectsOf(c, after)...) // "the tray came out and the two screws"
		}
		if len(objects) == 0 && !passive && it.done && len(before) > 0 {
			objects = before
		}
		if it.c == "unfasten" { // "two screws holding the board, undid those": the screws
			fast := func(t np) bool { return t.head == "screw" || t.head == "standoff" }
			if slices.ContainsFunc(objects, fast) {
				objects = slices.DeleteFunc(slices.Clone(objects), func(t np) bool { return !fast(t) })
			}
		}
		if it.k == back && c.has("new", "fresh", "replacement") && len(objects) > 0 &&
			slices.Contains(strings.Split("apply|connect|install|lay|fit|put|put in|goes in|goes on|installed|fitted|connected", "|"), it.s) {
			r.put = true
		}
		said := m
		if i > 0 && (c.items[i-1].c == "before" || c.items[i-1].c == "without" || c.items[i-1].c == "while") {
			continue
		}
		if it.c == "insert" && len(objects) > 0 && swappable(objects[0].head) {
			it.k, it.c, r.put = back, "lift", true // "insert the new battery"
		}
		putting := it.k == back
		if putting && !r.puts(c, it, i) {
			continue
		}
		if r.put && it.k == act && it.state && it.c == "lift" && !c.says("comes out") {
			putting = false
		}
		if said := r.counted(c, it); said != "" && len(objects) == 0 {
			objects = []np{{object: said, head: lastWord(said), tok: it.a, numTok: -1, kind: noun}}
		}
		if it.k == back {
			objects = slices.DeleteFunc(slices.Clone(objects), func(t np) bool { return r.placedIn(c, t.object) })
			if len(objects) == 0 && len(before) > 0 {
				continue
			}
		}
		if len(objects) == 0 {
			object := ""
			if c.has("it", "them", "that", "this", "both", "those") || it.state || passiveAt(c, i) ||
				c.says("came free") ||
				c.says("comes free") ||
				c.says("drops free") {
				object = r.acted
				if strings.Contains(object, "screw") && c.has("free") && r.big != "" {
					object = r.big
				} else if c.has("that", "this") || it.state && r.named != "" || c.says("drops free") || c.has("those") {
					object = r.named
				}
			}
			if it.c == "open" && it.done && !c.has("it") || putting && c.says("in the bag") {
				continue
			}
			if it.c == "pull" || it.c == "cut" || it.c == "open" || it.c == "pry" || it.c == "insert" {
				if object == "" || it.c != "open" {
					object = r.face
				}
				if r.named == "display" || r.named == "rear glass" {
					object = r.named
				}
				if object == "" {
					object = "display"
				}
			}
			if it.c == "peel" && r.tape != "" && !peels(lastWord(object)) {
				object = r.tape
			}
			if object == "pull tab" && it.c == "lift" && it.done {
				object = "battery"
			}
			if object == "" {
				continue
			}
			objects = []np{{object: object, head: lastWord(object), tok: it.a, numTok: -1, kind: noun}}
			for _, t := range after { // "lift it out with the loudspeaker"
				if t.prep == "with" && t.kind == noun && it.c == "lift" {
					objects = append(objects, t)
				}
			}
		}
		if putting && !said.acted || !r.guide && said.did == "advised" && !putting {
			taken[i] = true
			continue
		}
		tools := ""
		for _, x := range c.items {
			if x.k == tool {
				tools = x.c
			}
		}
		for _, t := range objects {
			if t.kind != noun || t.head == "charger" || t.head == "message" || t.head == "heat round" ||
				t.head == "storage" ||
				t.head == "build" ||
				t.head == "phone" ||
				t.head == "component" ||
				t.head == "clamp" {
				continue
			}
			if t.head == "adhesive" && !putting && it.c != "cut" && it.c != "pry" || t.head == "label" ||
				t.head == "code" ||
				t.head == "opening" ||
				t.head == "layout" {
				continue
			}
			p := Proposal{
				Kind:   "step",
				Verb:   byThing(t.head, it.c),
				Object: t.object,
				Count:  t.count,
				Tool:   tools,
				tok:    it.a,
				Rule:   rule,
			}
			if t.numTok >= 0 && (t.head == "screw" || t.head == "standoff" || t.head == "cable" || t.head == "coax") {
				p.tok = t.numTok
			}
			if p.Verb == "cut" || p.Verb == "pull" || p.Verb == "open" || p.Verb == "slide" || p.Verb == "insert" {
				if t.head == "rim" || t.head == "gap" || t.head == "phone" || t.head == "adhesive" || t.head == "card" {
					p.Object = r.face
					if p.Object == "" {
						p.Object = "display"
					}
				}
			}
			switch {
			case putting:
				p.Kind, p.Rule = "put_back", "put_back"
			case t.head == "pull tab":
				p.Kind, p.Verb, p.Rule = "release", "pull", "release"
				if p.Count == 0 {
					p.Count = r.tabs
				}
			}
			if t.head == "display" || t.head == "rear glass" {
				r.face = t.head
			}
			r.add(c, p, said)
			if said.acted {
				r.acted = t.object
			}
		}
		// "rattler with two screws", "bracket on five screws": the screws go with it
		if putting && len(objects) > 0 {
			for _, t := range things {
				if (t.prep == "with" || t.prep == "on") && (t.head == "screw" || t.head == "standoff") && t.count > 0 &&
					!slices.ContainsFunc(objects, func(o np) bool { return o.a == t.a && o.b == t.b }) &&
					t.a > objects[0].a {
					name := t.object
					if name == "screw" {
						name = objects[len(objects)-1].object + " screw"
					}
					r.add(
						c,
						Proposal{
							Kind:   "put_back",
							Verb:   "unfasten",
							Object: name,
							Count:  t.count,
							tok:    t.numTok,
							Rule:   "put_back",
						},
						said,
					)
				}
			}
		}
		taken[i] = true
		lastEnd = i
	}
	if firstVerb(c) < 0 && c.prev {
		r.goOn(c, things, taken)
	}
	if r.put && firstVerb(c) < 0 {
		r.placed(c, things, m)
	}
	for _, x := range c.items { // "suction cup on"
		if x.k == tool && x.c == "suction cup" && !r.put && (c.has("on", "set", "near", "fit", "place")) &&
			!slices.Contains(taken, true) &&
			!c.has("need") {
			object := r.face
			if object == "" {
				object = "display"
			}
			r.add(
				c,
				Proposal{Kind: "step", Verb: "pull", Object: object, Tool: x.c, tok: x.a, Rule: "step.active"},
				mood{did: m.did, acted: true},
			)
			break
		}
	}
}

func lastWord(s string) string {
	if c, known := lexicon.Noun(lexicon.Norm(s)); known {
		return c
	}
	return s[strings.LastIndexByte(s, ' ')+1:]
}

// subject says whether a person does it: "i removed", "we take".
func subject(c clause, i int) bool {
	for k := i - 1; k >= 0 && k >= i-5; k-- {
		x := c.items[k]
		if x.k == noun || x.k == act {
			return false
		}
		if x.k == plain && (x.c == "i" || x.c == "we" || x.c == "you") {
			return true
		}
	}
	return false
}

// passiveAt says whether a form stands behind "to be", "has to", "comes".
func passiveAt(c clause, i int) bool {
	for k := max(0, i-4); k < i; k++ {
		x := c.items[k]
		if x.k == plain &&
			(x.c == "be" || x.c == "been" || x.c == "is" || x.c == "are" || x.c == "was" || x.c == "were" || x.c == "to") {
			return true
		}
	}
	return false
}

// crosses says whether another act, or a word that begins another thought, stands between a verb and a thing.
func crosses(c clause, i, a int) bool {
	for k := i + 1; k < a; k++ {
		x := c.items[k]
		if x.k == act || x.k == back && !x.state {
			return true
		}
		if x.k == plain && (x.c == "that" || x.c == "who" || x.c == "starting") {
			return true
		}
	}
	return false
}

// objectsOf are the things that a verb takes: the first without a preposition, and those joined to it.
func (r *reader) objectsOf(c clause, after []np) []np {
	var out []np
	for k, t := range after {
		if k > 0 && len(out) > 0 && t.prep == "" { // the next one is joined by "and" or a comma, or it is another thought
			last := after[k-1]
			joined := r.toks[c.items[last.b-1].b-1].brk == ','
			for _, x := range c.items[last.b:t.a] {
				joined = joined || x.c == "and" || x.c == "then" || x.c == "or" || r.toks[x.b-1].brk == ','
			}
			if !joined {
				break
			}
		}
		if t.prep != "" {
			if len(out) > 0 && t.prep == "with" && t.kind == noun && generic[out[0].head] {
				out = append(out, t)
			}
			if t.prep == "of" && len(out) == 0 {
				out = append(out, t)
			}
			continue
		}
		out = append(out, t)
	}
	return out
}
