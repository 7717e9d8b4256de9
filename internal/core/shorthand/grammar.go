package shorthand

import (
	"slices"
	"strings"

	"waryowl/internal/core/phrase"
	"waryowl/internal/core/trade"
)

// stops are words that join others and say nothing by themselves; quiet ones are kept in the note without a mark.
var (
	stops = words("the a an of at its this that on in to and for is are it by with from into onto off out up then " +
		"now was were as")
	quiet = words("carefully slowly gently easily again first only still very quite bit little just also away free " +
		"fully all " +
		"came comes come done ok okay good fine each side last left right tight stuck hard easy slow fast sticky " +
		"clean dirty dusty warm leave leaving round")
)

func words(s string) map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(s) {
		m[w] = true
	}
	return m
}

// rule is a phrase of the grammar: verbs that it belongs to (none: all that act), and what it says.
type rule struct {
	phrases []string
	verbs   []string
	set     func(r *reader)
}

func say(list ...string) []string { return list }

var rules = []rule{
	{say("not disconnectable", "not removable", "not detachable", "not tried", "untried", "skipped",
		"cannot be disconnected", "cannot be removed", "cannot be unplugged", "cannot be detached", "cannot disconnect",
		"cannot unplug", "can not be disconnected", "can not be removed", "cant be disconnected", "cant be removed",
		"cant be unplugged", "cant disconnect", "cant unplug"), nil,
		func(r *reader) { r.Fact.Outcome = "not tried" }},
	{say("gave up", "given up", "give up", "giving up", "would not come", "does not come off", "did not come off",
		"failed"), nil,
		func(r *reader) { r.Fact.Outcome = "gave up" }},
	{say("destroyed", "only by destroying it", "by destroying it", "destroyed it", "destroyed in the process",
		"destructively"), nil,
		func(r *reader) { r.Fact.Outcome = "destroyed" }},
	{say("left off on purpose", "off on purpose", "left off deliberately", "left off", "left unplugged",
		"left disconnected", "stays off", "left unplugged on purpose", "left disconnected on purpose", "on purpose",
		"deliberately", "intentionally", "left off intentionally", "stays off on purpose"), nil,
		func(r *reader) { r.Fact.Connector = "off on purpose" }},
	{say("not seated", "not fully seated", "half seated", "found loose", "came loose", "is loose", "loose"),
		say("disconnect", "bracket", "lift", "note"),
		func(r *reader) { r.Fact.Connector = "loose" }},
	{say("fully seated", "seated", "clicked in", "seated and checked"), nil,
		func(r *reader) { r.Fact.Connector = "seated" }},
	{say("for nothing", "detour", "needlessly", "not needed"), nil, func(r *reader) { r.Fact.Detour = true }},
	{say("no gap", "without gap", "not a gap", "no gap yet", "nothing opened"), say("heat", "solvent", "cut", "pry"),
		func(r *reader) { r.Fact.Result = "no gap" }},
	{say("no mark", "no marks", "without mark", "no blotch", "no blotches"), say("heat"), func(r *reader) {
		r.Fact.Result = or(r.Fact.Result, "no gap")
	}},
	{say("gap", "gap opened", "first gap", "opened"), say("heat", "solvent", "cut", "pry"),
		func(r *reader) { r.Fact.Result = "gap" }},
	{say("mark", "marks", "blotch", "blotches", "ripple", "ripples", "marked"), say("heat"),
		func(r *reader) { r.Fact.Result = "mark" }},
	{say("not magnetic", "non magnetic", "nonmagnetic", "no magnet"), nil, func(r *reader) { r.Fact.Magnetic = "no" }},
	{say("magnetic"), nil, func(r *reader) { r.Fact.Magnetic = "yes" }},
	{say("tab broke"), say("release"), func(r *reader) { r.Fact.Incident = "tab-broke" }},
	{say("all leads"), say("disconnect"), func(r *reader) { r.Fact.What = "all leads" }},
	{say("captive"), nil, func(r *reader) { r.Fact.Captive = true }},
	{say("new part"), nil, func(*reader) {}},
	{say("by hand", "with fingers", "fingers only", "with the hand"), nil, func(*reader) {}},
	{say("read"), say("heat"), func(*reader) {}},
}

func or(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// grammar marks the phrases of the grammar that stand in the line, the longest first at each place.
func (r *reader) grammar() {
	for i := 0; i < len(r.list); i++ {
		if r.list[i].used {
			continue
		}
		if r.list[i].plain == "note" && len(r.notes) > 0 { // the word before a note in quotes
			r.use(i, 1)
			continue
		}
		best, n := r.rule(i)
		if best >= 0 && !r.named(i, n) {
			rules[best].set(r)
			r.use(i, n)
			i += n - 1
		}
	}
}

// rule is the rule with the longest phrase at token i, and how many tokens it takes; -1 for none.
func (r *reader) rule(i int) (best, n int) {
	best = -1
	for k, rule := range rules {
		if len(rule.verbs) > 0 && !slices.Contains(rule.verbs, r.Fact.Verb) {
			continue
		}
		for _, p := range rule.phrases {
			size := len(strings.Fields(p))
			if size > n && r.is(i, p, size) {
				best, n = k, size
			}
		}
	}
	return best, n
}

// told is how many tokens from i stand before the next phrase of the grammar, at most that many.
func (r *reader) told(i, most int) int {
	for k := range most {
		if best, _ := r.rule(i + k); best >= 0 {
			return k
		}
	}
	return most
}

// is says whether the unused tokens from i read as a phrase.
func (r *reader) is(i int, p string, n int) bool {
	if i+n > len(r.list) {
		return false
	}
	for k := i; k < i+n; k++ {
		if r.list[k].used {
			return false
		}
	}
	return spoken(r.list[i:i+n]) == p
}

// named says whether a single word at i is part of the name of a part: "liquid mark", "gap filler".
func (r *reader) named(i, n int) bool {
	if n > 1 {
		return false
	}
	for from := max(0, i-3); from <= i; from++ {
		for to := min(len(r.list), i+3); to > i; to-- {
			if to-from < 2 {
				continue
			}
			p := spoken(r.list[from:to])
			if _, ok := trade.Thing(p); ok || r.exact(p) != nil {
				return true
			}
		}
	}
	return false
}

// after takes what follows a phrase up to the next number or used word, without stop words at its ends.
func (r *reader) after(i, most int) (list []token, n int) {
	for k := i; k < len(r.list) && len(list) < most; k++ {
		t := r.list[k]
		if t.used || phrase.ValueForm.MatchString(t.plain) || phrase.SizeForm.MatchString(t.plain) || t.plain == "minus" ||
			t.plain == "plus" || t.plain == "with" || t.plain == "note" && len(r.notes) > 0 {
			break
		}
		n++
		if !(stops[t.plain] && len(list) == 0) {
			list = append(list, t)
		}
	}
	for len(list) > 0 && stops[list[len(list)-1].plain] {
		list = list[:len(list)-1]
	}
	return list, n
}

// clauses reads what is introduced by a word: polarity, the tool, what hides, shares or carries a screw.
func (r *reader) clauses() {
	for i := 0; i < len(r.list); i++ {
		if r.list[i].used {
			continue
		}
		w := r.list[i].plain
		next := ""
		if i+1 < len(r.list) {
			next = r.list[i+1].plain
		}
		switch {
		case (w == "plus" || w == "minus") && slices.Contains([]string{"cut", "release", "solvent", "heat", "lift",
			"pry"}, r.Fact.Verb):
			if list, n := r.after(i+1, r.told(i+1, 4)); len(list) > 0 {
				if r.Fact.Polarity == nil {
					r.Fact.Polarity = &Poles{}
				}
				where := trade.Plain(typed(list))
				if w == "plus" {
					r.Fact.Polarity.Plus = where
				} else {
					r.Fact.Polarity.Minus = where
				}
				r.use(i, n+1)
			}
		case w == "with" || w == "using":
			r.tool(i)
		case (w == "hidden" || w == "hiding") && (next == "under" || next == "beneath" || next == "below" ||
			next == "behind"):
			if list, n := r.thing(i + 2); len(list) > 0 {
				r.Fact.Hidden, r.Fact.HiddenUnder = true, trade.Plain(typed(list))
				r.use(i, n+2)
			}
		case w == "hidden" && next != "tab" && next != "one":
			r.Fact.Hidden = true
			r.use(i, 1)
		case w == "under" || w == "beneath" || w == "below":
			if list, n := r.thing(i + 1); len(list) > 0 && r.Fact.Verb == "unfasten" {
				if id, thing := trade.Thing(typed(list)); thing &&
					(id == "tape" || id == "film" || id == "foam" || id == "label" || id == "gasket") {
					r.Fact.Hidden, r.Fact.HiddenUnder = true, trade.Plain(typed(list))
					r.use(i, n+1)
				}
			}
		case w == "shared" && (next == "with" || next == "by"):
			if list, n := r.thing(i + 2); len(list) > 0 {
				r.Fact.SharedBy = trade.Plain(typed(list))
				r.use(i, n+2)
			}
		case (w == "carries" || w == "carrying") && next != "":
			if list, n := r.after(i+1, 4); len(list) > 0 {
				r.Fact.Carries = trade.Plain(typed(list))
				r.use(i, n+1)
			}
		}
	}
}

// thing takes what follows a preposition: the shortest stretch that names a thing, the longest that names a part, else
// up to three words.
func (r *reader) thing(i int) (list []token, n int) {
	all, n := r.after(i, 3)
	if len(all) == 0 {
		return nil, 0
	}
	skipped := n - len(all)
	for k := len(all); k > 0; k-- {
		p := spoken(all[:k])
		_, kind := trade.Synonyms()[singular(p)]
		if cover, _ := trade.KindByID(trade.Synonyms()[all[k-1].plain]); k > 1 && cover.Covers { // "flash cover"
			kind = true
		}
		if _, ok := trade.Thing(p); ok || kind || r.exact(p) != nil {
			return all[:k], k + skipped
		}
	}
	return all, n
}

// inName says whether a longer name of a part holds these words: the card of "card tray".
func (r *reader) inName(i, n int) bool {
	for to := min(len(r.list), i+n+2); to > i+n; to-- {
		p := spoken(r.list[i:to])
		if r.exact(p) != nil {
			return true
		}
		if k, ok := trade.Synonyms()[p]; ok && k != "" {
			return true
		}
	}
	return false
}

func (r *reader) anyUsed(i, n int) bool {
	return slices.ContainsFunc(r.list[i:i+n], func(t token) bool { return t.used })
}
