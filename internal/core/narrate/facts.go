package narrate

import (
	"slices"
)

// clause reads one clause: what was done first, then what was measured, checked, found.
func (r *reader) clause(c, next clause, before mood) mood {
	r.phones(c)
	r.modes(c)
	things := r.things(c)
	m := r.moodOf(c, before, firstVerb(c))
	taken := make([]bool, len(c.items)) // items that a fact rests on already
	switch {
	case r.lost(c, things):
	case r.cautions(c, next, things, m):
	default:
		r.mishaps(c, things, m, taken)
		r.values(c, things, m, taken)
		r.checks(c, things, m, taken)
		r.trials(c, things, m, taken)
		r.acts(c, next, things, m, taken)
		r.counts(c, things, m, taken)
		r.amend(c)
		r.found(c, things, m, taken)
	}
	direct := slices.ContainsFunc(things, func(t np) bool { return t.kind == noun && t.prep == "" })
	own := ownBoard(c, things) != ""
	if n := len(c.items) - 1; c.items[n].k == check && !taken[n] {
		r.tail = &c.items[n]
	} else {
		r.tail = nil
	}
	for k, t := range things {
		if t.kind == noun && t.head != "phone" && t.head != "component" && (!direct || t.prep == "") &&
			!(own && k > 0) {
			r.named = t.object
		}
		if t.head == "screw" || t.head == "standoff" {
			r.fast = t.object
		}
		if peels(t.head) {
			r.tape = t.object
		}
		if swappable(t.head) && t.kind == noun && !(own && k > 0) {
			r.big = t.head
		}
	}
	return m
}

func firstVerb(c clause) int {
	for i, it := range c.items {
		if it.k == act || it.k == back {
			return i
		}
	}
	return -1
}

// phones sets the phone in work from what is named.
func (r *reader) phones(c clause) {
	for _, it := range c.items {
		if it.k == phone {
			r.unit, r.by = it.c, "named"
		}
	}
	if c.says("the other one") && len(r.in.Units) == 2 && r.unit != "" && (c.lead == "now" || c.says("now for")) {
		for _, u := range r.in.Units {
			if u.Name != r.unit {
				r.unit, r.by = u.Name, "guess"
				break
			}
		}
	}
}

// modes notes when things begin to go back in, and when they come out again.
func (r *reader) modes(c clause) {
	for _, p := range []string{"putting it back", "put it together", "put it back together", "closing up", "close it up",
		"back together", "reassemble", "reassembly",
		"to put it together again", "going back in", "everything back"} {
		if c.says(p) {
			r.put = true
		}
	}
	if c.says("from the back") || c.says("back down") || c.says("off the back") {
		r.face = "rear glass"
	} else if c.says("from the front") {
		r.face = "display"
	}
	if c.says("comes apart") || c.says("take it apart") {
		r.put = false
	}
}

// subject is the thing that a word at item i speaks of: the nearest before it, else after it, else the one named last.
func (r *reader) subject(things []np, i int) (object string, tok int) {
	best := -1
	for k, t := range things {
		if t.b <= i && t.kind == noun && !(t.prep != "" && t.prep != "of" && t.prep != "for" && k > 0) {
			best = k
		}
	}
	if best < 0 {
		for k, t := range things {
			if t.a >= i {
				best = k
				break
			}
		}
	}
	if best < 0 {
		return r.named, -1
	}
	return things[best].object, things[best].tok
}
