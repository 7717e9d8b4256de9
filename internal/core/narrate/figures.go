package narrate

import (
	"fmt"
	"slices"
	"strings"
)

// values are figures with a unit: heat and its time, waits, measures, prices, scores.
func (r *reader) values(c clause, things []np, m mood, taken []bool) {
	hot, wet, sits, clamped := "", "", false, false
	for i, it := range c.items {
		switch {
		case it.k == method && it.c == "alcohol":
			wet = it.c
		case it.k == method:
			hot = it.c
		case it.k == act && it.c == "heat":
			if hot == "" {
				hot = "?"
			}
			if strings.Contains(it.s, "plate") {
				hot = "plate"
			}
			taken[i] = true
		case it.k == act && it.c == "wait" || it.k == plain && (it.c == "leave" || it.c == "leaving" || it.c == "gave"):
			sits = true
		case it.k == noun && it.c == "clamp", it.s == "clamped" || it.s == "clamping":
			clamped = true
		}
	}
	if wet != "" && !c.says("no alcohol") && !c.says("without alcohol") && !c.says("no solvent") &&
		!slices.ContainsFunc(c.items, func(x item) bool { return x.k == act && x.c == "clean" }) &&
		(c.says("used") || wet != "" && (c.has("drop", "drops", "along", "use", "used", "little", "few", "put", "using") ||
			len(c.items) < 8)) {
		if m.did == "done" || m.did == "advised" || m.did == "hypothetical" {
			object := "battery"
			if r.acted != "" && r.acted != "pull tab" && strings.Contains("battery display rear glass", r.acted) {
				object = r.acted
			}
			r.soft = r.add(
				c,
				Proposal{Kind: "solvent", Verb: "solvent", Object: object, Tool: "alcohol", tok: c.items[0].a},
				m,
			)
			for _, it := range c.items {
				if it.k == method && it.c == "alcohol" {
					r.list[r.soft].tok = it.a
					r.list[r.soft].Cue, r.list[r.soft].Start = r.toks[it.a].cue, r.in.Cues[r.toks[it.a].cue].Start
				}
			}
			r.time = r.list[r.soft].Start
		}
	}
	face := r.face
	for _, t := range things {
		if t.head == "display" || t.head == "rear glass" {
			face = t.head
		}
	}
	unsaid := face == ""
	if unsaid {
		face = "display"
	}
	defer func(from int) {
		for k := from; unsaid && k < len(r.list); k++ {
			if r.list[k].Kind == "heat" {
				r.faceless = append(r.faceless, r.list[k].tok)
			}
		}
	}(len(r.list))
	if r.heat >= 0 && hot == "" && c.has("another") &&
		r.in.Cues[r.toks[c.items[0].a].cue].Start-r.list[r.heat].Start < 600 {
		hot = "?" // "another two minutes": of heat
	}
	for i, it := range c.items { // "the pad at seventy"
		timed := slices.ContainsFunc(c.items, func(x item) bool { return x.unit == "min" || x.unit == "s" })
		warm := hot != "" ||
			timed && r.heat >= 0 && r.in.Cues[r.toks[it.a].cue].Start-r.list[r.heat].Start < 60
		if it.k == number && i > 0 && (c.items[i-1].s == "at" || c.items[i-1].s == "to" || c.items[i-1].k == method) &&
			it.n >= 40 && it.n <= 130 &&
			warm {
			c.items[i].k, c.items[i].unit, c.items[i].c = value, "C", "C"
			if hot == "" {
				hot = "?"
			}
		}
	}
	for i, it := range c.items {
		r.bare(c, things, m, i, it)
		if it.k != value {
			continue
		}
		taken[i] = true
		v := &Value{it.n, it.unit}
		near := r.heat >= 0 && r.in.Cues[r.toks[it.a].cue].Start-r.list[r.heat].Start < 25
		timed := it.unit == "s" || it.unit == "min" || it.unit == "h"
		switch {
		case it.unit == "C":
			if near && r.list[r.heat].Value == nil && (r.list[r.heat].Did == m.did || c.prev) {
				r.list[r.heat].Value = v
				r.cover(c)
				continue
			}
			if near && (r.list[r.heat].Did == m.did || c.lead == "until") && r.list[r.heat].Value != nil &&
				r.list[r.heat].Value.Unit != "C" {
				h := &r.list[r.heat]
				h.More = append(h.More, *h.Value)
				h.Value = v
				continue
			}
			r.heat = r.add(
				c,
				Proposal{Kind: "heat", Verb: "heat", Object: face, Value: v, Tool: clean(hot), tok: it.a},
				m,
			)
		case timed && clamped:
			r.add(c, Proposal{Kind: "wait", Verb: "wait", Object: "clamp", Value: v, tok: it.a}, m)
		case timed && r.soft >= 0 && (wet != "" || r.list[r.soft].Value == nil &&
			r.in.Cues[r.toks[it.a].cue].Start-r.time < 15):
			r.list[r.soft].Value = v
			if m.did == "hypothetical" {
				r.list[r.soft].Did, r.list[r.soft].Acted = m.did, false
			}
			r.cover(c)
		case timed && (hot != "" || c.says("on the mat") || c.says("is what you need")):
			said := slices.ContainsFunc(c.items[:i], func(x item) bool { return x.unit == "C" })
			if near && (hot != "plate" || said) && tempered(r.list[r.heat]) && r.list[r.heat].Did == m.did &&
				len(r.list[r.heat].More) == 0 {
				r.list[r.heat].More = append(r.list[r.heat].More, *v)
				r.cover(c)
				continue
			}
			r.heat = r.add(
				c,
				Proposal{Kind: "heat", Verb: "heat", Object: face, Value: v, Tool: clean(hot), tok: it.a},
				m,
			)
		case timed && sits && near && len(r.list[r.heat].More) == 0 && tempered(r.list[r.heat]):
			r.list[r.heat].More = append(r.list[r.heat].More, *v)
			r.cover(c)
		case timed && near && len(r.list[r.heat].More) == 0 && tempered(r.list[r.heat]) && (c.says("for") ||
			len(c.items) < 6 || i > 0 && c.items[i-1].unit == "C"):
			r.list[r.heat].More = append(r.list[r.heat].More, *v)
			r.cover(c)
		case timed && (sits || c.has("minutes") && r.put) && !m.acted:
		case timed && (sits || c.has("minutes") && r.put):
			r.add(c, Proposal{Kind: "wait", Verb: "wait", Object: "boot", Value: v, tok: it.a}, m)
		case timed:
		case it.unit == "EUR":
			object, _ := r.subject(things, i)
			if object == "" || c.says("together") {
				object = "total"
			} else if r.big != "" && c.has("new", "spare", "replacement") && !slices.ContainsFunc(things,
				func(t np) bool { return t.b <= i }) {
				object = r.big
			}
			r.add(c, Proposal{Kind: "price", Object: object, Value: v, tok: it.a}, m)
			r.paid = r.in.Cues[r.toks[it.a].cue].Start + 1
		case strings.HasPrefix(it.unit, "/") && it.unit != "/10" && it.unit != "/5" && it.unit != "/100":
		case strings.HasPrefix(it.unit, "/"):
			r.scored = r.in.Cues[r.toks[it.a].cue].Start + 1
			if m.did == "hypothetical" && c.has("i") && !c.has("if") {
				m = mood{did: "done", acted: true}
			}
			r.add(c, Proposal{Kind: "score", Object: "phone", Value: v, tok: it.a}, m)
		default:
			r.measure(c, things, m, i, it)
		}
	}
	if hot != "" && hot != "?" && !hasValue(c) && (firstVerb(c) >= 0 || c.says("on the plate") || c.has("goes")) &&
		!c.has("last") {
		for i, it := range c.items {
			if it.k == act && it.c == "heat" || c.says("goes on the plate") && it.k == method {
				taken[i] = true
				r.heat = r.add(c, Proposal{Kind: "heat", Verb: "heat", Object: face, Tool: clean(hot), tok: it.a}, m)
				break
			}
		}
	}
}

// last is the fact of a kind that was said just before.
func (r *reader) last(it *item, kind string) *Proposal {
	for k := len(r.list) - 1; k >= 0 && k >= len(r.list)-4; k-- {
		p := &r.list[k]
		if p.Kind == kind && r.in.Cues[r.toks[it.a].cue].Start-p.Start < 20 && (kind != "measure" || p.Value != nil) {
			return p
		}
	}
	return nil
}

// alike is the measure of the last ones that a bare number is of the same size as: "3,450 mAh … the old one had 3,200".
func (r *reader) alike(it item) *Proposal {
	for k := len(r.list) - 1; k >= 0 && k >= len(r.list)-4; k-- {
		p := &r.list[k]
		if p.Kind == "measure" && r.in.Cues[r.toks[it.a].cue].Start-p.Start < 20 && it.n > p.Value.N/2 &&
			it.n < 2*p.Value.N {
			return p
		}
	}
	return nil
}

// bare is a number without a unit that goes on with a price or a score, or tells how many of what was named: "and a
// battery 29", "the other is a four", "five in total".
func (r *reader) bare(c clause, things []np, m mood, i int, it item) {
	if it.k != number || r.logged(np{numTok: it.a, tok: -1}) || i+1 < len(c.items) && c.items[i+1].k == number ||
		i > 0 && c.items[i-1].s == "size" {
		return
	}
	for _, t := range things {
		if t.numTok == it.a {
			return
		}
	}
	now := r.in.Cues[r.toks[it.a].cue].Start
	prev, next := "", ""
	if i > 0 {
		prev = c.items[i-1].s
	}
	if i+1 < len(c.items) {
		next = c.items[i+1].s
	}
	switch {
	case prev == "by" && i > 1 && c.items[i-2].k == number && it.n < 30:
		r.add(c, Proposal{Kind: "measure", Object: "screw length", Value: &Value{it.n, "mm"}, tok: it.a}, m)
	case r.scored > 0 && now-r.scored < 30 && it.n <= 10 && (prev == "a" || prev == "is" || prev == "so") &&
		!c.says("out of"):
		r.add(c, Proposal{Kind: "score", Object: "phone", Value: &Value{it.n, "/10"}, tok: it.a}, m)
	case (prev == "at" || prev == "to" || prev == "of" || prev == "with") && c.has("rated", "capacity") && it.n >= 500 &&
		it.n <= 20000:
		k := r.add(c, Proposal{Kind: "measure", Object: "battery", Value: &Value{it.n, "mAh"}, tok: it.a}, m)
		r.list[k].Doubts = append(r.list[k].Doubts, Doubt{"figure", "the unit was not said; taken as mAh"})
	case r.paid > 0 && now-r.paid < 30 && !c.has("rated", "capacity", "weighs") && it.n >= 3 && (len(things) > 0 ||
		c.has("together", "for", "used")) && next != "by" && next != "of":
		object, _ := r.subject(things, i)
		if c.says("together") {
			object = "total"
		} else if c.has("used") || c.says("second hand") {
			object = "phone"
		} else if old := r.last(&it, "price"); len(things) == 0 && old != nil {
			object = old.Object
		}
		if object != "" {
			r.add(c, Proposal{Kind: "price", Object: object, Value: &Value{it.n, "EUR"}, tok: it.a}, m)
		}
	case slices.Contains([]string{"against", "versus", "had", "claim", "claims"}, prev) && next != "of" &&
		r.alike(it) != nil:
		p := r.alike(it)
		r.add(c, Proposal{Kind: "measure", Object: p.Object, Value: &Value{it.n, p.Value.Unit}, tok: it.a}, m)
	case r.retracted(it.a) && r.last(&it, "count") != nil && !slices.ContainsFunc(things,
		func(t np) bool { return t.a > i }):
		old := r.last(&it, "count")
		old.Withdrawn = fmt.Sprint("#", it.a)
		r.add(
			c,
			Proposal{Kind: "count", Object: old.Object, Count: int(it.n), tok: it.a},
			mood{did: "done", acted: true},
		)
	case it.n > 1 && (c.has("altogether") && prev != "than" || next == "more" && r.fast != "" || c.says("in total") ||
		c.has("counted", "count") && prev != "" || c.says("of them are") && next == "of" || prev == "by" &&
		c.says("held by")):
		object := r.named
		for _, t := range things {
			if t.kind == noun && t.prep == "" {
				object = t.object
			}
		}
		if c.says("held by") && !strings.Contains(object, "screw") {
			object += " screw"
		} else if r.fast != "" && !strings.Contains(object, "screw") {
			object = r.fast
		}
		if object != "" && it.n == float64(int(it.n)) && it.n < 200 {
			r.add(
				c,
				Proposal{Kind: "count", Object: object, Count: int(it.n), tok: it.a},
				mood{did: "done", acted: true},
			)
		}
	}
}

// amend takes a number back for another one: "six screws, sorry, five".
func (r *reader) amend(c clause) {
	for _, it := range c.items {
		n := len(r.list)
		if it.k != number || n == 0 || !r.retracted(it.a) || r.logged(np{numTok: it.a, tok: -1}) ||
			it.n != float64(int(it.n)) ||
			it.n < 1 ||
			it.n > 500 {
			continue
		}
		old := r.list[n-1]
		if old.Count == 0 || old.tok >= it.a || old.tok < it.a-12 {
			continue
		}
		r.list[n-1].Withdrawn = fmt.Sprint("#", it.a)
		old.Count, old.tok = int(it.n), it.a
		r.add(c, old, mood{did: old.Did, acted: old.Acted})
		r.fixes = append(
			r.fixes,
			Correction{
				Proposal: fmt.Sprint("#", r.list[n-1].tok),
				By:       fmt.Sprint("#", it.a),
				Cue:      r.toks[it.a].cue,
				How:      "replaced",
				Text:     "sorry",
			},
		)
		r.read[it.a-1] = true
	}
}

// retracted says whether one of the words just before a figure takes back the last one: "no, wait, twenty three".
func (r *reader) retracted(k int) bool {
	for j := max(0, k-3); j < k; j++ {
		switch r.toks[j].w {
		case "sorry", "wait", "no", "mean", "rather":
			return true
		}
	}
	return false
}

func hasValue(c clause) bool {
	for _, it := range c.items {
		if it.k == value {
			return true
		}
	}
	return false
}

func clean(hot string) string {
	if hot == "?" {
		return ""
	}
	return hot
}

// cover marks the words of a clause as read.
func (r *reader) cover(c clause) {
	for _, it := range c.items {
		for k := it.a; k < it.b; k++ {
			r.read[k] = true
		}
	}
}

// measure is a figure of a thing.
func (r *reader) measure(c clause, things []np, m mood, i int, it item) {
	object, _ := r.subject(things, i)
	if !slices.ContainsFunc(things, func(t np) bool { return t.b <= i || t.prep != "" }) && len(things) > 0 &&
		r.acted != "" {
		object = r.acted // "it weighs nine grams, main board comes out": not of the board
	}
	if object == "opening" || c.has("weight", "mass") && len(things) == 0 {
		object = "phone"
	}
	switch lastWord(object) { // what carries a figure is not what the figure is of
	case "label", "code", "cable", "card tray", "sticker":
		if r.acted != "" {
			object = r.acted
		}
	}
	switch it.unit {
	case "mAh", "Wh":
		object = "battery"
	case "g":
		if slices.ContainsFunc(c.items[:i], func(x item) bool { return x.unit == "mAh" || x.unit == "Wh" }) {
			object = "battery"
		} else if len(things) == 0 && strings.Contains(object, "screw") && r.big != "" {
			object = r.big
		}
	case "GB":
		object = "storage"
		if c.says("memory") {
			object = "memory"
		} else if c.has("version", "both", "storage", "model", "one") {
			r.add(c, Proposal{Kind: "unit", Object: "storage", tok: it.a}, m)
		}
	case "%":
		if !c.says("run down") && !c.has("charge", "charged", "battery") {
			return
		}
		object = "battery charge"
	case "MP":
		if !strings.Contains(object, "camera") {
			object = "rear camera"
		}
	case "mm":
		nearest := slices.ContainsFunc(things, func(t np) bool { return t.b <= i && t.prep == "" && t.head != "screw" })
		if n := len(
			r.list,
		); !nearest && it.n < 20 && c.has("are", "is") && n > 0 && lastWord(r.list[n-1].Object) == "screw" ||
			n > 0 && !nearest && r.list[n-1].Object == "screw length" && c.has("are", "is") {
			object = "screw length"
		}
		if object == "screw" || strings.HasSuffix(object, " screw") ||
			c.says("they are") && strings.Contains(r.named, "screw") ||
			c.says("of them are") {
			object = "screw length"
		}
		if c.has("gap") {
			object = "gap"
		}
	}
	if object == "" {
		return
	}
	if it.unit == "mm" { // "1.4 by 3 millimetres": the length follows the diameter
		if i > 1 && c.items[i-1].s == "by" && c.items[i-2].k == number {
			object = "screw length"
		}
	}
	r.add(c, Proposal{Kind: "measure", Object: object, Value: &Value{it.n, it.unit}, tok: it.a}, m)
}

// tempered says whether a heat has its temperature.
func tempered(p Proposal) bool { return p.Value != nil && p.Value.Unit == "C" }
