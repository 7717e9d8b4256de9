package narrate

import (
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
)

// checkOf is the function that a word of a clause names: a check, or a part that is tried.
var functions = map[string]string{"rear camera": "rear camera", "front camera": "front camera", "loudspeaker": "loudspeaker", "earpiece": "earpiece",
	"display": "picture", "coil": "wireless charging", "battery": "battery", "fingerprint sensor": "fingerprint", "haptic motor": "vibration", "stabiliser": "stabiliser", "microphone": "microphone", "flash": "flash",
	"charge port": "charging"}

// checks are functions that work or do not.
func (r *reader) checks(c clause, things []np, m mood, taken []bool) {
	subject := func(i int) (string, int) {
		name, tok := "", -1
		for k := i - 1; k >= 0; k-- {
			x := c.items[k]
			if x.k == check {
				if k > 0 && (c.items[k-1].s == "not" || c.items[k-1].s == "to" || c.items[k-1].s == "i") {
					return "", -1
				}
				return x.c, x.a
			}
			if x.k == noun {
				if f, known := functions[x.c]; known {
					if x.c == "display" && (c.says("display of") || c.has("swap")) {
						continue
					}
					return f, x.a
				}
				return "", -1
			}
			if x.k == result {
				break
			}
		}
		return name, tok
	}
	untested := c.says("did not look at") || c.says("did not test") || c.says("did not try") || c.says("did not check") || c.says("have not tried") || c.says("not tested") || c.has("untested") || c.says("forgot") && !c.has("missed")
	for i, it := range c.items {
		if untested && it.k == check {
			taken[i] = true
			r.add(c, Proposal{Kind: "check", Verb: "untested", Object: it.c, tok: it.a}, mood{did: "negated"})
			return
		}
	}
	if untested && r.tail != nil && !slices.ContainsFunc(c.items, func(x item) bool { return x.k == noun }) {
		r.add(c, Proposal{Kind: "check", Verb: "untested", Object: r.tail.c, tok: c.items[0].a}, mood{did: "negated"})
		return
	}
	if c.has("try") && !c.says("going to try") {
		for i, it := range c.items {
			name := it.c
			f, part := functions[it.c]
			if part && it.k == noun {
				name = f
				if it.c == "display" || it.c == "battery" {
					continue
				}
			} else if it.k != check {
				continue
			}
			taken[i] = true
			r.add(c, Proposal{Kind: "check", Verb: "try", Object: name, tok: it.a}, m)
		}
		return
	}
	for i, it := range c.items {
		verb := ""
		switch {
		case it.k == result:
			verb = it.c
		case it.k == act && it.done && it.s == "lost":
			verb = "lost"
		}
		if verb == "" || it.s == "goes" && m.did != "said by others" || it.s == "yes" && i > 3 {
			continue
		}
		name, tok := subject(i)
		switch {
		case name == "" && (it.s == "boots" || it.s == "starts" || it.s == "there is the logo" || it.s == "nothing happens"):
			name, tok = "boot", it.a
		case name == "" && it.s == "works" && (c.says("as well") || i == 0 && c.prev):
			name, tok = r.checked(), it.a
		case name == "" && (it.s == "fails" || it.s == "still fails" || it.s == "buzzes" || it.s == "works again") && i < 3:
			name, tok = r.checked(), it.a
			if it.s == "buzzes" {
				name = "vibration"
			}
		}
		if name == "" || strings.HasPrefix(name, "battery") && it.s != "works" {
			continue
		}
		if it.s == "no" && (i+1 < len(c.items) && c.items[i+1].k != plain) { // "no screws"
			continue
		}
		if not := negatedAt(c, i); not && verb == "pass" {
			verb = "lost"
		}
		said := mood{did: "done", acted: true}
		if m.did == "said by others" || m.did == "hypothetical" {
			said = mood{did: m.did}
		}
		taken[i] = true
		r.add(c, Proposal{Kind: "check", Verb: verb, Object: name, tok: it.a}, said)
		_ = tok
		if (it.s == "is fine" || strings.HasPrefix(it.s, "work") || it.s == "fine") && c.says("as well") {
			continue
		}
	}
	for i := 1; i < len(c.items); i++ { // "no vibration"
		if it := c.items[i]; it.k == check && c.items[i-1].s == "no" && !taken[i] {
			taken[i] = true
			name := it.c
			if f, known := functions[c.items[max(0, i-2)].c]; known && it.c == "picture" && i > 1 {
				name = f
			}
			r.add(c, Proposal{Kind: "check", Verb: "lost", Object: name, tok: it.a}, mood{did: "done", acted: true})
		}
	}
	for i, it := range c.items { // "everything worked apart from the fingerprint reader", "it does not charge"
		name := it.c
		if f, known := functions[it.c]; known && it.k == noun {
			name = f
		} else if it.k != check {
			name = ""
		}
		switch {
		case taken[i]:
		case name != "" && (c.says("apart from") || c.says("except") || c.says("except for")) && c.has("everything", "all") && i > 2:
			taken[i] = true
			r.add(c, Proposal{Kind: "check", Verb: "lost", Object: name, tok: it.a}, mood{did: "done", acted: true})
		case (it.s == "charge" || it.s == "charging") && (c.says("not charge") || c.says("not charging")):
			taken[i] = true
			r.add(c, Proposal{Kind: "check", Verb: "lost", Object: "charging", tok: it.a}, mood{did: "done", acted: true})
		case it.s == "charges" && m.did == "done", it.s == "charging" && c.says("is charging") && m.did == "done":
			taken[i] = true
			r.add(c, Proposal{Kind: "check", Verb: "pass", Object: "charging", tok: it.a}, mood{did: "done", acted: true})
		}
	}
	if n := len(c.items); n > 2 && c.items[n-1].s == "not" && (c.items[n-2].s == "does" || c.items[n-2].s == "is") {
		f, known := functions[c.items[n-3].c]
		if c.items[n-3].k == check {
			f, known = c.items[n-3].c, true
		}
		if k := len(r.list); known && k > 0 && r.list[k-1].Kind == "check" {
			r.add(c, Proposal{Kind: "check", Verb: "lost", Object: f, tok: c.items[n-3].a}, mood{did: "done", acted: true})
		}
	}
	if c.says("would not start") || c.says("will not start") || c.says("does not start") {
		r.add(c, Proposal{Kind: "check", Verb: "lost", Object: "boot", tok: c.items[0].a}, mood{did: "done", acted: true})
	} else if c.says("there is the logo") && !hasResult(c) || c.says("then it came") {
		r.add(c, Proposal{Kind: "check", Verb: "pass", Object: "boot", tok: c.items[len(c.items)-1].a}, mood{did: "done", acted: true})
	}
}

func hasResult(c clause) bool {
	return slices.ContainsFunc(c.items, func(it item) bool { return it.k == result })
}

func negatedAt(c clause, i int) bool {
	for k := max(0, i-2); k < i; k++ {
		if c.items[k].k == plain && (c.items[k].c == "not" || c.items[k].c == "never") {
			return true
		}
	}
	return false
}

// checked is the function that was spoken of last.
func (r *reader) checked() string {
	for k := len(r.list) - 1; k >= 0; k-- {
		if r.list[k].Kind == "check" {
			return r.list[k].Object
		}
	}
	return ""
}

// trials are swaps and what is done between them.
func (r *reader) trials(c clause, things []np, m mood, taken []bool) {
	for i, it := range c.items {
		verb := ""
		switch {
		case it.k == act && it.c == "swap" && !it.done && i > 0 && (c.items[i-1].k == judge || c.items[i-1].s == "a" || c.items[i-1].s == "the" || c.items[i-1].s == "easy" || c.items[i-1].s == "board"):
			taken[i] = true
			continue
		case it.k == act && (it.c == "swap" || it.c == "reseat" || it.c == "reset" || it.c == "update"):
			verb = it.c
		case it.k == noun && it.c == "charger" && (c.has("in", "plugged", "plug") || c.says("plugged in") || c.says("plug in")):
			verb = "charger"
		case it.k == act && it.c == "restart":
			verb = "restart"
		default:
			continue
		}
		taken[i] = true
		object := "phone"
		if verb == "swap" || verb == "reseat" {
			object, _ = r.subject(things, i)
			if verb == "reseat" && (object == "" || c.has("it", "them") || strings.Contains(it.s, " it") || strings.Contains(it.s, " them")) {
				object = r.acted
				if r.named != "" {
					object = r.named
				}
				if r.tried != "" {
					object = r.tried
				}
			}
		}
		if verb == "swap" && !swappable(lastWord(object)) {
			object = r.big
		}
		if object == "" {
			continue
		}
		for k, x := range c.items {
			if x.k == back && verb == "charger" {
				taken[k] = true
			}
		}
		if m.did == "hypothetical" || m.did == "said by others" {
			continue
		}
		r.add(c, Proposal{Kind: "trial", Verb: verb, Object: strings.TrimSuffix(object, " cable"), tok: it.a}, m)
		if verb == "swap" {
			r.tried = object
		}
	}
	// "battery of B into A", "the display of B on A"
	if len(r.in.Units) > 1 && !r.put {
		owned := slices.ContainsFunc(c.items, func(it item) bool { return it.k == phone && r.toks[it.a].own }) || c.says("its own")
		for _, t := range things {
			if t.kind == noun && owned && c.says("own") && (c.says("back on") || c.says("back in") || c.has("back", "home")) && swappable(t.head) {
				r.add(c, Proposal{Kind: "trial", Verb: "swap back", Object: t.object, tok: t.tok}, m)
				r.tried = t.object
				for i := range taken {
					taken[i] = true
				}
				return
			}
		}
		for k, it := range c.items {
			if it.k != phone || k == 0 {
				continue
			}
			into := c.items[k-1].s
			own := c.says("its own") || c.says("own")
			named := 0
			for _, x := range c.items {
				if x.k == phone {
					named++
				}
			}
			if (into == "into" || named > 1 && (into == "on" || into == "in")) && len(things) > 0 && things[0].kind == noun && things[0].b <= k && !own &&
				swappable(things[0].head) && m.did != "hypothetical" {
				r.add(c, Proposal{Kind: "trial", Verb: "swap", Object: things[0].object, tok: things[0].tok}, m)
				r.tried = things[0].object
				for i := range taken {
					taken[i] = taken[i] || c.items[i].k == back || c.items[i].k == act
				}
				return
			}
		}
	}
}

func swappable(head string) bool {
	return slices.Contains([]string{"display", "battery", "rear camera", "front camera", "loudspeaker", "charge port", "fingerprint sensor", "face module", "earpiece",
		"main board", "haptic motor", "coil", "rear glass"}, head)
}

// byThing is the act by what the thing is: screws are undone, leads unplugged, tape peeled.
func byThing(head, verb string) string {
	switch {
	case head == "screw" || head == "standoff":
		if verb == "lift" || verb == "disconnect" || verb == "open" {
			return "unfasten"
		}
	case head == "cable" || head == "coax" || strings.HasSuffix(head, "flex"):
		if verb == "lift" || verb == "pull" || verb == "unfasten" || verb == "peel" {
			return "disconnect"
		}
	case head == "tape" || head == "film" || head == "sticker" || head == "adhesive" || head == "seal":
		if verb == "lift" || verb == "pull" || verb == "disconnect" {
			return "peel"
		}
	}
	return verb
}

// takes are the acts that need a thing of the phone; others are tools and phones.
func (r *reader) acts(c, next clause, things []np, m mood, taken []bool) {
	lastEnd := -1
	for i, it := range c.items {
		if (it.k != act && it.k != back) || taken[i] || slices.Contains([]string{"heat", "wait", "weigh", "swap", "reseat", "reset", "update", "restart"}, it.c) {
			continue
		}
		if it.c == "open" && (c.has("again") || i > 0 && (c.items[i-1].s == "that" || c.items[i-1].s == "leave" || c.items[i-1].s == "stays") || it.done && c.says("yesterday")) {
			taken[i] = true
			continue
		}
		if (it.c == "lift" || it.c == "disconnect") && c.has("it") && slices.ContainsFunc(append(slices.Clone(c.items), next.items...), func(x item) bool { return x.k == act && x.c == "reseat" }) {
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
		if n := len(before); n > 1 && before[n-1].b < i && (c.items[before[n-1].b].s == "that" || c.items[before[n-1].b].s == "which") {
			before = before[n-1:] // the one that the relative clause speaks of
		}
		passive := it.state || it.done && !subject(c, i) && len(before) > 0 || passiveAt(c, i) && len(before) > 0
		objects := objectsOf(after)
		rule := "step.active"
		if passive {
			objects = before
			rule = "step.passive"
			if it.state {
				rule = "step.state"
			}
		}
		if len(objects) == 0 && !passive && it.done && len(before) > 0 {
			objects = before
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
			if c.has("it", "them", "that", "this", "both", "those") || it.state || passiveAt(c, i) || c.says("came free") || c.says("comes free") || c.says("drops free") {
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
			if t.kind != noun || t.head == "charger" || t.head == "message" || t.head == "heat round" || t.head == "storage" || t.head == "build" || t.head == "phone" || t.head == "component" || t.head == "clamp" {
				continue
			}
			if t.head == "adhesive" && !putting && it.c != "cut" && it.c != "pry" || t.head == "label" || t.head == "code" || t.head == "opening" || t.head == "layout" {
				continue
			}
			p := Proposal{Kind: "step", Verb: byThing(t.head, it.c), Object: t.object, Count: t.count, Tool: tools, tok: it.a, Rule: rule}
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
				if (t.prep == "with" || t.prep == "on") && (t.head == "screw" || t.head == "standoff") && t.count > 0 && t.a > objects[0].a {
					name := t.object
					if name == "screw" {
						name = objects[len(objects)-1].object + " screw"
					}
					r.add(c, Proposal{Kind: "put_back", Verb: "unfasten", Object: name, Count: t.count, tok: t.numTok, Rule: "put_back"}, said)
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
		if x.k == tool && x.c == "suction cup" && !r.put && (c.has("on", "set", "near", "fit", "place")) && !slices.Contains(taken, true) && !c.has("need") {
			object := r.face
			if object == "" {
				object = "display"
			}
			r.add(c, Proposal{Kind: "step", Verb: "pull", Object: object, Tool: x.c, tok: x.a, Rule: "step.active"}, mood{did: m.did, acted: true})
			break
		}
	}
}

// counted is what "them" stands for behind a count: the screws that were just named.
func (r *reader) counted(c clause, it item) string {
	n := len(r.list)
	if n == 0 || r.list[n-1].Kind != "count" || !c.has("them", "those", "these", "all") || it.c == "cut" || it.c == "insert" {
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
	if n == 0 || len(things) == 0 || r.list[n-1].Kind != "step" && r.list[n-1].Kind != "put_back" || r.list[n-1].tok < c.items[0].a-25 || !r.list[n-1].Acted {
		return
	}
	old := r.list[n-1]
	if c.lead != "then" && c.lead != "after" && c.lead != "next" && !c.has("and", "after", "also") {
		return
	}
	inside := func(k int) bool {
		return slices.ContainsFunc(things, func(t np) bool { return k >= t.a && k < t.b && t.prep == "" })
	}
	for k, x := range c.items {
		if !inside(k) && !(x.k == plain && strings.Contains("|and|then|after|that|also|too|next|finally|the|both|at|last|", "|"+x.c+"|")) {
			return
		}
	}
	for _, t := range things {
		if t.kind != noun || t.head == "screw" && old.Verb != "unfasten" || t.head == "label" {
			continue
		}
		r.add(c, Proposal{Kind: old.Kind, Verb: byThing(t.head, old.Verb), Object: t.object, Count: t.count, tok: t.tok, Rule: "step.passive"},
			mood{did: old.Did, acted: old.Acted})
		for k := t.a; k < t.b; k++ {
			taken[k] = true
		}
	}
}

// placed reads what goes back without a verb: "rattler with two screws", "battery lead last", "all seven cables back".
func (r *reader) placed(c clause, things []np, m mood) {
	if m.did != "done" && m.did != "advised" || len(things) == 0 || hasResult(c) || c.has("is", "are", "has", "was", "would", "left", "claims") {
		return
	}
	for _, t := range things {
		if (t.head == "seal" || t.head == "adhesive") && t.prep == "" && c.lead != "before" && c.has("new", "fresh", "down", "round") {
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
	case "put", "set", "drop", "place", "fit", "put on", "lay", "press a", "stick", "secure", "seat", "plug", "connect", "connected", "in place", "set in", "attach", "fitted":
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
	return r.put || strings.HasPrefix(it.s, "re") || strings.Contains(it.s, "back") || it.s == "do up" || it.s == "install" || it.s == "screw in"
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
		if x.k == plain && (x.c == "be" || x.c == "been" || x.c == "is" || x.c == "are" || x.c == "was" || x.c == "were" || x.c == "to") {
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
func objectsOf(after []np) []np {
	var out []np
	for _, t := range after {
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

// counts are screws, tabs and clips that are named with their number and nothing is done to them in the clause.
func (r *reader) counts(c clause, things []np, m mood, taken []bool) {
	if m.did == "said by others" || m.did == "hypothetical" || c.has("covers", "hides", "hide") {
		return
	}
	fast := map[string]bool{"screw": true, "standoff": true, "pull tab": true, "clip": true, "cable": true, "coax": true, "microphone": true, "heat round": true}
	owner := ""
	for _, t := range things {
		if !fast[t.head] && t.kind == noun && t.head != "rim" && owner == "" {
			owner = t.object
		}
	}
	verb := ""
	for i, it := range c.items {
		if (it.k == act || it.k == back) && taken[i] {
			verb = it.c
		}
	}
	for _, t := range things {
		if t.count == 0 || !fast[t.head] || r.logged(t) || t.count == 1 && c.has("also") {
			continue
		}
		if verb != "" && t.prep == "" && (t.head == "cable" || t.head == "coax") {
			continue
		}
		name := t.object
		if name == "screw" && owner != "" {
			name = owner + " screw"
		} else if name == "screw" && r.named != "" && !strings.Contains(r.named, "screw") && (c.says("that is") || c.says("held by") || c.says("count")) {
			name = r.named + " screw"
		}
		p := Proposal{Kind: "count", Object: name, Count: t.count, tok: t.numTok}
		if t.head == "pull tab" {
			r.tabs = t.count
		}
		if (t.head == "cable" || t.head == "coax") && verb == "" && (r.put || c.has("count", "plus") || c.says("snap off")) {
			p.Kind, p.Verb, p.Rule = "step", "disconnect", "step.passive"
			if r.put {
				p.Kind, p.Rule = "put_back", "put_back"
			}
		}
		if (t.head == "screw" || t.head == "standoff") && r.put {
			p.Kind, p.Verb, p.Rule = "put_back", "unfasten", "put_back"
		}
		if m.not {
			continue
		}
		r.add(c, p, mood{did: m.did, acted: true})
	}
}

// logged says whether a fact rests on the figure of a thing already.
func (r *reader) logged(t np) bool {
	for k := len(r.list) - 1; k >= 0 && k >= len(r.list)-12; k-- {
		if r.list[k].tok == t.numTok || r.list[k].tok == t.tok {
			return true
		}
	}
	return false
}

// found are parts that are there, what covers what, what hides.
func (r *reader) found(c clause, things []np, m mood, taken []bool) {
	if m.did == "said by others" || m.did == "hypothetical" {
		return
	}
	for i, it := range c.items {
		if it.k != plain {
			continue
		}
		switch it.c {
		case "covers", "hides", "sits", "hide", "cover":
			if it.c == "sits" && !c.says("sits on top") {
				continue
			}
			object := r.acted
			if object == "" {
				object = r.named
			}
			for _, t := range things {
				if t.b <= i {
					object = t.object
				}
			}
			if object != "" {
				r.add(c, Proposal{Kind: "covers", Object: object, tok: it.a}, m)
				return
			}
		case "hidden", "hides under", "under":
			if it.c == "under" && !c.says("more under") && !(i > 1 && c.items[i-1].k == number && c.items[i-2].s != "that") && !c.says("runs along") && !c.says("goes under") {
				continue
			}
			object := r.named
			for k, t := range things {
				if t.b <= i && (k == 0 || t.prep == "") {
					object = t.object
				}
			}
			if object == "" || it.c == "hidden" && r.named != "" && !strings.Contains(object, "screw") {
				object = r.named
			}
			r.add(c, Proposal{Kind: "hidden", Object: object, tok: it.a}, m)
			return
		}
	}
	here := c.says("there is") || c.says("is got a") || c.says("on it says") || c.says("has a") || c.says("has got a") || c.says("it has") || c.says("has its") || c.says("you can see") || c.says("carries") || c.says("sits") || c.says("on its own") || c.says("here is")
	lacking := c.says("could not find") || c.says("there is no") || c.says("and none")
	same := c.says("all the same") || c.says("the same") && c.has("all") || c.says("of them the same")
	if same && r.fast != "" && !slices.ContainsFunc(things, func(t np) bool { return t.head == "screw" && t.drive == "" }) {
		r.add(c, Proposal{Kind: "part", Verb: "same", Object: r.fast, tok: c.items[0].a}, m)
		return
	}
	differs := c.says("different lengths") || c.says("is longer") || c.says("one of them is longer") || c.says("different plugs")
	if own := ownBoard(c, things); own != "" {
		r.add(c, Proposal{Kind: "part", Verb: "has", Object: own, tok: things[0].tok}, m)
	}
	owner := ""
	for _, t := range things {
		if owner == "" && t.kind == noun && t.head != "screw" {
			owner = t.object
		}
		if differs && t.object == "screw" {
			if owner != "" {
				owner += " "
			}
			r.add(c, Proposal{Kind: "part", Verb: "differs", Object: owner + "screw", tok: t.tok}, m)
			return
		}
	}
	for _, t := range things {
		if t.prep != "" && t.prep != "of" && !(t.prep == "with" && here) {
			continue
		}
		p := Proposal{Kind: "part", Object: t.object, tok: t.tok}
		switch {
		case same && strings.Contains(t.object, "screw"):
			p.Verb = "same"
		case differs && t.kind == noun:
			p.Verb = "differs"
		case lacking && t.kind == noun && t.head != "message":
			p.Verb = "lacks"
		case here && slices.Contains([]string{"gasket", "foam", "mesh", "film", "label", "shield", "liquid mark", "stabiliser", "chip", "microphone", "flash", "coil", "wrap",
			"ground strap", "graphite film", "magnet", "sensor", "fingerprint sensor", "charge port", "graphite"}, t.head):
			p.Verb = "has"
		default:
			continue
		}
		r.add(c, p, m)
		if p.Verb != "has" {
			return
		}
	}
	for i, it := range c.items {
		if it.k == judge && !taken[i] && (it.s == "good for us" || it.s == "big plus" || it.s == "easy" || it.s == "cheap" || it.s == "expensive" || it.s == "difficult") {
			object, _ := r.subject(things, i)
			if object != "" {
				r.add(c, Proposal{Kind: "verdict", Verb: it.c, Object: object, tok: it.a}, m)
				return
			}
		}
	}
}

// ownBoard is the part that stands on a board or a flex of its own, where a clause says so.
func ownBoard(c clause, things []np) string {
	if len(things) == 0 || things[0].kind != noun || things[0].prep != "" || !c.says("its own") {
		return ""
	}
	switch {
	case c.has("back", "home", "onto") || c.says("back on") || c.says("back in"):
		return ""
	case c.says("own flex") || c.says("own cable"):
		return things[0].object + " flex"
	case c.has("board") || c.says("on its own"):
		return things[0].object
	}
	return ""
}
