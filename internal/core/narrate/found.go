package narrate

import (
	"slices"
	"strings"
)

// counts are screws, tabs and clips that are named with their number and nothing is done to them in the clause.
func (r *reader) counts(c clause, things []np, m mood, taken []bool) {
	if m.did == "said by others" || m.did == "hypothetical" || c.has("covers", "hides", "hide") {
		return
	}
	if n := len(r.list); n > 0 && r.list[n-1].Kind == "incident" && r.list[n-1].tok >= c.items[0].a {
		return
	}
	fast := map[string]bool{
		"screw":      true,
		"standoff":   true,
		"pull tab":   true,
		"clip":       true,
		"cable":      true,
		"coax":       true,
		"microphone": true,
		"heat round": true,
	}
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
		} else if name == "screw" && r.named != "" && !strings.Contains(r.named, "screw") && (c.says("that is") ||
			c.says("held by") || c.says("count")) {
			name = r.named + " screw"
		}
		p := Proposal{Kind: "count", Object: name, Count: t.count, tok: t.numTok}
		if t.head == "pull tab" {
			r.tabs = t.count
		}
		if (t.head == "cable" || t.head == "coax") && verb == "" &&
			(r.put || c.has("count", "plus") || c.says("snap off")) {
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
			if it.c == "under" && !c.says("more under") &&
				!(i > 1 && c.items[i-1].k == number && c.items[i-2].s != "that") &&
				!c.says("runs along") &&
				!c.says("goes under") {
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
	here := c.says("there is") || c.says("is got a") || c.says("on it says") || c.says("has a") ||
		c.says("has got a") ||
		c.says("it has") ||
		c.says("has its") ||
		c.says("you can see") ||
		c.says("carries") ||
		c.says("sits") ||
		c.says("on its own") ||
		c.says("here is")
	lacking := c.says("could not find") || c.says("there is no") || c.says("and none")
	same := c.says("all the same") || c.says("the same") && c.has("all") || c.says("of them the same")
	if same && r.fast != "" &&
		!slices.ContainsFunc(things, func(t np) bool { return t.head == "screw" && t.drive == "" }) {
		r.add(c, Proposal{Kind: "part", Verb: "same", Object: r.fast, tok: c.items[0].a}, m)
		return
	}
	differs := c.says("different lengths") || c.says("is longer") || c.says("one of them is longer") ||
		c.says("different plugs")
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
		case here && slices.Contains([]string{
			"gasket",
			"foam",
			"mesh",
			"film",
			"label",
			"shield",
			"liquid mark",
			"stabiliser",
			"chip",
			"microphone",
			"flash",
			"coil",
			"wrap",
			"ground strap",
			"graphite film",
			"magnet",
			"sensor",
			"fingerprint sensor",
			"charge port",
			"graphite",
		}, t.head):
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
		if it.k == judge && !taken[i] &&
			(it.s == "good for us" || it.s == "big plus" || it.s == "easy" || it.s == "cheap" || it.s == "expensive" ||
				it.s == "difficult") {
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
