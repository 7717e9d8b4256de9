package narrate

import (
	"slices"
	"strings"
)

// checkOf is the function that a word of a clause names: a check, or a part that is tried.
var functions = map[string]string{
	"rear camera":        "rear camera",
	"front camera":       "front camera",
	"loudspeaker":        "loudspeaker",
	"earpiece":           "earpiece",
	"display":            "picture",
	"coil":               "wireless charging",
	"battery":            "battery",
	"fingerprint sensor": "fingerprint",
	"haptic motor":       "vibration",
	"stabiliser":         "stabiliser",
	"microphone":         "microphone",
	"flash":              "flash",
	"charge port":        "charging",
}

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
	untested := c.says("did not look at") || c.says("did not test") || c.says("did not try") ||
		c.says("did not check") ||
		c.says("have not tried") ||
		c.says("not tested") ||
		c.has("untested") ||
		c.says("forgot") && !c.has("missed")
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
		case name == "" && (it.s == "boots" || it.s == "starts" || it.s == "powers on" || it.s == "turns on" ||
			it.s == "there is the logo" || it.s == "nothing happens"):
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
		case name != "" && (c.says("apart from") || c.says("except") || c.says("except for")) &&
			c.has("everything", "all") && i > 2:
			taken[i] = true
			r.add(c, Proposal{Kind: "check", Verb: "lost", Object: name, tok: it.a}, mood{did: "done", acted: true})
		case (it.s == "charge" || it.s == "charging") && (c.says("not charge") || c.says("not charging")):
			taken[i] = true
			r.add(
				c,
				Proposal{Kind: "check", Verb: "lost", Object: "charging", tok: it.a},
				mood{did: "done", acted: true},
			)
		case it.s == "charges" && m.did == "done", it.s == "charging" && c.says("is charging") && m.did == "done":
			taken[i] = true
			r.add(
				c,
				Proposal{Kind: "check", Verb: "pass", Object: "charging", tok: it.a},
				mood{did: "done", acted: true},
			)
		}
	}
	if n := len(c.items); n > 2 && c.items[n-1].s == "not" && (c.items[n-2].s == "does" || c.items[n-2].s == "is") {
		f, known := functions[c.items[n-3].c]
		if c.items[n-3].k == check {
			f, known = c.items[n-3].c, true
		}
		if k := len(r.list); known && k > 0 && r.list[k-1].Kind == "check" {
			r.add(
				c,
				Proposal{Kind: "check", Verb: "lost", Object: f, tok: c.items[n-3].a},
				mood{did: "done", acted: true},
			)
		}
	}
	if c.says("would not start") || c.says("will not start") || c.says("does not start") {
		r.add(
			c,
			Proposal{Kind: "check", Verb: "lost", Object: "boot", tok: c.items[0].a},
			mood{did: "done", acted: true},
		)
	} else if c.says("there is the logo") && !hasResult(c) || c.says("then it came") {
		r.add(
			c,
			Proposal{Kind: "check", Verb: "pass", Object: "boot", tok: c.items[len(c.items)-1].a},
			mood{did: "done", acted: true},
		)
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
