package narrate

import (
	"slices"
	"strings"
)

// trials are swaps and what is done between them.
func (r *reader) trials(c clause, things []np, m mood, taken []bool) {
	for i, it := range c.items {
		verb := ""
		switch {
		case it.k == act && it.c == "swap" && !it.done && i > 0 && (c.items[i-1].k == judge || c.items[i-1].s == "a" ||
			c.items[i-1].s == "the" || c.items[i-1].s == "easy" || c.items[i-1].s == "board"):
			taken[i] = true
			continue
		case it.k == act && (it.c == "swap" || it.c == "reseat" || it.c == "reset" || it.c == "update"):
			verb = it.c
		case it.k == noun && it.c == "charger" && (c.has("in", "plugged", "plug") || c.says("plugged in") ||
			c.says("plug in")):
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
			if verb == "reseat" &&
				(object == "" || c.has("it", "them") || strings.Contains(it.s, " it") || strings.Contains(it.s, " them")) {
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
		owned := slices.ContainsFunc(c.items, func(it item) bool { return it.k == phone && r.toks[it.a].own }) ||
			c.says("its own")
		for _, t := range things {
			if t.kind == noun && owned && c.says("own") &&
				(c.says("back on") || c.says("back in") || c.has("back", "home")) &&
				swappable(t.head) {
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
			if (into == "into" || named > 1 && (into == "on" || into == "in")) && len(things) > 0 &&
				things[0].kind == noun &&
				things[0].b <= k &&
				!own &&
				swappable(things[0].head) &&
				m.did != "hypothetical" {
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
	return slices.Contains(
		[]string{
			"display",
			"battery",
			"rear camera",
			"front camera",
			"loudspeaker",
			"charge port",
			"fingerprint sensor",
			"face module",
			"earpiece",
			"main board",
			"haptic motor",
			"coil",
			"rear glass",
		},
		head,
	)
}
