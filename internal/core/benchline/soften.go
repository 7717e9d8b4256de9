package benchline

import (
	"math"
	"slices"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// hotWords are methods of heat in one word, where the clause is about heat.
var hotWords = map[string]string{"plate": "plate", "air": "air", "pad": "pad", "press": "press", "mat": "pad"}

// faces are the sides that the panes close.
var faces = map[string]string{"display": "front", "rear-glass": "back"}

// lastHeat is the last round of heat on record.
func (r *line) lastHeat() (shorthand.Fact, bool) {
	for i := len(r.past) - 1; i >= 0; i-- {
		if r.past[i].Fact.Verb == "heat" {
			return r.past[i].Fact, true
		}
	}
	return shorthand.Fact{}, false
}

// fromLastHeat takes side and place from the last round, never its time.
func (r *line) fromLastHeat(d *draft) {
	last, ok := r.lastHeat()
	if !ok {
		return
	}
	if d.f.Side == "" && last.Side != "" {
		d.f.Side, d.before = last.Side, last.Side
	}
	if d.m.none() && last.Part != "" && d.f.Side == "" {
		d.m = r.known(last)
	}
	if d.f.Place == "" && d.m.none() {
		d.f.Place = last.Place
	}
}

// heatSaid tells what a clause says of heat: an act of it, once more, a time, and by which method.
func (c *clause) heatSaid() (said, more, time bool, hot string) {
	for i, it := range c.items {
		switch {
		case c.role[i] == act && it.Canon(lexicon.Verb) == "heat":
			said = true
			more = more || it.Low == "reheat" || it.Low == "reheated"
		case c.role[i] == method && trade.Hot(it.Canon(lexicon.Method)):
			hot = it.Canon(lexicon.Method)
		case hotWords[it.Low] != "" && (c.times() || c.role[i] == tool):
			hot = hotWords[it.Low]
		case c.role[i] == again && it.Canon(lexicon.Again) == "again":
			more = true
		case it.Low == "redo", it.Low == "repeat":
			more = true
		}
		if it.Fig != nil && it.Fig.Ordinal || c.role[i] == thing && it.Low == "second" && c.has("round") {
			more = true
		}
		time = time || it.Fig != nil && it.Fig.Unit == "s"
	}
	return said, more, time, hot
}

// heat reads a round of heat: a word of heat or its method, a temperature of 50 °C or more with a time, or once more.
func (c *clause) heat() bool {
	said, more, time, hot := c.heatSaid()
	degrees := slices.ContainsFunc(c.items, func(it phrase.Item) bool {
		return it.Fig != nil && it.Fig.Unit == "C" && it.Fig.Value >= 50
	})
	last := c.lastWait()
	more = more && last == "heat"
	if !said && hot == "" && !more && !(degrees && time) {
		return false
	}
	if hot != "" && !said && !time && !degrees {
		return false // the plate that came off
	}
	d := draft{f: shorthand.Fact{Verb: "heat", Method: hot}, from: c.items[0].From(), to: c.items[len(c.items)-1].To()}
	used := map[int]bool{}
	for i, it := range c.items {
		switch {
		case c.role[i] == act && it.Canon(lexicon.Verb) == "heat", c.role[i] == method, hotWords[it.Low] != "" && hot != "",
			c.role[i] == again, it.Low == "redo", it.Low == "repeat", it.Low == "round", it.Fig != nil && it.Fig.Ordinal,
			it.Low == "second" && c.has("round"):
			used[i] = true
		}
	}
	for i, it := range c.items {
		if (it.Low == "back" || it.Low == "back on") && c.role[i] == particle {
			d.f.Side, used[i] = "back", true
		}
	}
	var foreign []int
	for k := range c.nouns {
		n := &c.nouns[k]
		if hot != "" && len(n.tokens) == 1 && hotWords[n.tokens[0].Low] != "" || used[n.at] {
			continue
		}
		if side := sideOf(n); side != "" {
			d.f.Side, n.used = side, true
			continue
		}
		if n.m.thing == "gap" || n.tokens[0].Low == "gap" || n.m.thing == "rim" && n.m.none() || n.tells {
			n.used = true
			continue
		}
		foreign = append(foreign, k)
	}
	if len(foreign) > 0 {
		n := &c.nouns[foreign[0]]
		if !said && hot == "" && !degrees || n.m.one() == nil {
			return false
		}
		d.m, n.used = n.m, true
		if side := faces[n.m.kind()]; d.f.Side == "" && side != "" {
			d.f.Side, d.m = side, meant{}
		}
	}
	if side := faces[c.subject.kind()]; d.f.Side == "" && side != "" { // "screen: plate 2 min"
		d.f.Side = side
	}
	c.heatFigures(&d, c.items, used)
	for i := range used {
		c.used[i] = true
	}
	if more {
		c.fromLastHeat(&d)
	}
	c.results(&d)
	c.add(d)
	return true
}

func (c *clause) times() bool {
	return slices.ContainsFunc(c.items, func(it phrase.Item) bool {
		return it.Fig != nil && (it.Fig.Unit == "s" || it.Fig.Unit == "C")
	})
}

// lastWait is the verb of the last act that comes in rounds: heat, solvent, or a release by voltage.
func (c *clause) lastWait() string {
	for i := len(c.past) - 1; i >= 0; i-- {
		f := c.past[i].Fact
		switch {
		case f.Verb == "heat" || f.Verb == "solvent":
			return f.Verb
		case f.Verb == "release" && (f.Method == "voltage" || f.Volts > 0):
			return "release"
		}
	}
	return ""
}

// sideOf is the side that a phrase names: "front", "the back", "screen side".
func sideOf(n *nounPhrase) string {
	var w []string
	for _, t := range n.tokens {
		if t.Low != "side" && t.Low != "face" && t.Low != "edge" && t.Low != "rim" && t.Low != "glass" && t.Low != "seam" {
			w = append(w, t.Low)
		}
	}
	if len(w) != 1 {
		return ""
	}
	switch w[0] {
	case "front", "frt":
		return "front"
	case "back", "rear":
		return "back"
	case "screen", "display":
		if len(n.tokens) > 1 {
			return "front"
		}
	}
	return ""
}

// heatFigures takes times and temperatures; a bare figure of 50 or more is in degrees, below that in minutes where the last
// round was.
func (r *line) heatFigures(d *draft, items []phrase.Item, used map[int]bool) {
	for i, it := range items {
		f := it.Fig
		if f == nil || used[i] {
			continue
		}
		read := i+1 < len(items) && (items[i+1].Low == "read" || items[i+1].Low == "measured" || items[i+1].Low == "reads") ||
			i > 0 && (items[i-1].Low == "reads" || items[i-1].Low == "measured" || items[i-1].Low == "read")
		last, ok := r.lastHeat()
		switch {
		case f.Unit == "s":
			d.f.Seconds += f.Value
			if f.To > 0 {
				d.f.SecondsTo = f.To
			}
		case f.Unit == "C" && (read || d.f.SetC > 0):
			d.f.MeasuredC = f.Value
		case f.Unit == "C":
			d.f.SetC, d.f.SetCTo = f.Value, f.To
		case f.Unit == "" && f.Count() >= 50 && f.Count() <= 300:
			d.f.SetC = f.Value
		case f.Unit == "" && f.Count() > 0 && ok && last.Seconds >= 60 && math.Mod(last.Seconds, 60) == 0:
			d.f.Seconds += 60 * f.Value
		default:
			continue
		}
		used[i] = true
	}
}

// results reads how a round ended: no gap, a gap, a mark.
func (c *clause) results(d *draft) {
	for i, it := range c.items {
		switch {
		case it.Low == "gap" && i > 0 && (c.items[i-1].Low == "no" || c.items[i-1].Low == "without"):
			d.f.Result = "no gap"
			c.used[i-1] = true
		case it.Low == "gap":
			d.f.Result = "gap"
		case it.Low == "blotch" || it.Low == "blotches" || it.Low == "mark" || it.Low == "marks" || it.Low == "ripple":
			d.f.Result = "mark"
			if i > 0 && c.items[i-1].Low == "no" {
				d.f.Result = "no gap"
				c.used[i-1] = true
			}
		default:
			continue
		}
		c.used[i] = true
		for k := range c.items { // "no gap yet", "gap opened"
			if w := c.items[k].Low; w == "yet" || w == "opened" || w == "open" || w == "read" || w == "measured" {
				c.used[k] = true
			}
		}
	}
}

// soak reads solvent and direct voltage.
func (c *clause) soak() bool {
	verb, by := "", ""
	volts := 0.0
	for i, it := range c.items {
		switch {
		case c.role[i] == method && trade.Wets(it.Canon(lexicon.Method)), it.Low == "alcohol", it.Low == "ipa":
			verb, by = "solvent", "alcohol"
		case it.Fig != nil && it.Fig.Unit == "V" && !c.has("measured"):
			volts = it.Fig.Value
		}
	}
	more := slices.ContainsFunc(c.items, func(it phrase.Item) bool {
		return it.Canon(lexicon.Again) == "again" || it.Low == "redo"
	}) && c.times()
	onTab := c.has("on") || c.has("plus") || c.has("minus") || c.times() || c.thingNamed("pull tab") >= 0
	switch {
	case verb != "":
	case volts > 0 && onTab, more && c.lastWait() == "release":
		verb, by = "release", "voltage"
	case more && c.lastWait() == "solvent":
		verb, by = "solvent", "alcohol"
	default:
		return false
	}
	d := draft{f: shorthand.Fact{Verb: verb, Method: by, Volts: volts}, from: c.items[0].From(), to: c.items[len(c.items)-1].To()}
	for i, it := range c.items {
		switch {
		case it.Fig != nil && it.Fig.Unit == "s":
			d.f.Seconds += it.Fig.Value
			d.f.SecondsTo = it.Fig.To
		case it.Fig != nil && it.Fig.Unit == "V", c.role[i] == method, it.Low == "alcohol", it.Low == "ipa", c.role[i] == again,
			it.Low == "redo", it.Low == "on", c.role[i] == act && slices.Contains([]string{"wait", "let"}, it.Low),
			it.Low == "wait", it.Low == "plus", it.Low == "minus":
		default:
			continue
		}
		c.used[i] = true
	}
	for k := range c.nouns {
		n := &c.nouns[k]
		switch side := sideOf(n); {
		case side != "" && verb == "solvent":
			d.f.Side, n.used = side, true
		case n.m.thing == "pull tab" || n.m.thing == "rim" && n.m.none():
			n.used = true
		case n.m.one() != nil && d.m.none():
			d.m, n.used = n.m, true
		}
	}
	c.poles(&d)
	c.results(&d)
	c.add(d)
	return true
}

// poles reads which end goes where: "plus on tab, minus on the ground screw".
func (c *clause) poles(d *draft) {
	for i, it := range c.items {
		if it.Low != "plus" && it.Low != "minus" {
			continue
		}
		var where []string
		for k := i + 1; k < len(c.items) && len(where) < 3; k++ {
			w := c.items[k]
			if w.Low == "on" || phrase.Little[w.Low] && len(where) == 0 {
				continue
			}
			if w.Sep != "" || w.Fig != nil || w.Joins || w.Low == "plus" || w.Low == "minus" {
				break
			}
			where = append(where, w.Low)
			c.used[k] = true
		}
		if d.f.Polarity == nil {
			d.f.Polarity = &shorthand.Poles{}
		}
		if it.Low == "plus" {
			d.f.Polarity.Plus = join(where)
		} else {
			d.f.Polarity.Minus = join(where)
		}
	}
}

func join(words []string) string {
	out := ""
	for _, w := range words {
		if out != "" {
			out += " "
		}
		out += w
	}
	return out
}

func (c *clause) thingNamed(id string) int {
	return slices.IndexFunc(c.nouns, func(n nounPhrase) bool { return n.m.thing == id })
}
