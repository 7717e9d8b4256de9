package shorthand

import (
	"slices"
	"strings"

	"waryowl/internal/core/trade"
)

// stops are words that join others and say nothing by themselves; quiet ones are kept in the note without a mark.
var (
	stops = words("the a an of at its this that on in to and for is are it by with from into onto off out up then now was were as")
	quiet = words("carefully slowly gently easily again first only still very quite bit little just also away free fully all " +
		"came comes come done ok okay good fine each side last left right tight stuck hard easy slow fast sticky clean dirty dusty warm")
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
	{say("not disconnectable", "not removable", "cannot be disconnected", "cannot be removed", "not tried", "untried",
		"skipped"), nil,
		func(r *reader) { r.Fact.Outcome = "not tried" }},
	{say("gave up", "given up", "give up", "giving up", "would not come", "does not come off", "did not come off",
		"failed"), nil,
		func(r *reader) { r.Fact.Outcome = "gave up" }},
	{say("destroyed", "only by destroying it", "by destroying it", "destroyed it", "destroyed in the process",
		"destructively"), nil,
		func(r *reader) { r.Fact.Outcome = "destroyed" }},
	{say("left off on purpose", "off on purpose", "left off deliberately", "left off", "left unplugged",
		"left disconnected", "stays off"), nil,
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
		best, n := -1, 0
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
		if best >= 0 && !r.named(i, n) {
			rules[best].set(r)
			r.use(i, n)
			i += n - 1
		}
	}
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
	return phrase(r.list[i:i+n]) == p
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
			p := phrase(r.list[from:to])
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
		if t.used || valueForm.MatchString(t.plain) || sizeForm.MatchString(t.plain) || t.plain == "minus" ||
			t.plain == "plus" || t.plain == "with" {
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
			if list, n := r.after(i+1, 4); len(list) > 0 {
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
		p := phrase(all[:k])
		_, kind := trade.Synonyms()[singular(p)]
		if _, ok := trade.Thing(p); ok || kind || r.exact(p) != nil {
			return all[:k], k + skipped
		}
	}
	return all, n
}

// tool reads "with the plastic pick": the longest known tool, else up to three words.
func (r *reader) tool(i int) {
	list, n := r.after(i+1, 4)
	if len(list) == 0 {
		return
	}
	for k := len(list); k > 0; k-- {
		p := phrase(list[:k])
		_, known := trade.ToolOf(p)
		if known || slices.ContainsFunc(r.v.Tools, func(t string) bool { return trade.Plain(t) == p }) {
			r.setTool(trade.Plain(typed(list[:k])))
			r.use(i, n-(len(list)-k)+1)
			// A driver's size belongs to the tool: "with tri-wing 0.6".
			return
		}
	}
	for _, t := range r.v.Tools {
		if p := trade.Plain(t); strings.HasPrefix(p, phrase(list)) && len(strings.Fields(p)) > len(list) {
			m := len(strings.Fields(p))
			if i+1+m <= len(r.list) && phrase(r.list[i+1:i+1+m]) == p {
				r.setTool(p)
				r.use(i, m+1)
				return
			}
		}
	}
	if d := driveAt(list, 0); d.n > 0 && r.Fact.Verb == "unfasten" { // "with a tri-wing": the drive
		r.use(i, 1)
		return
	}
	if k, _ := trade.KindOf(typed(list)); k != "" || r.exact(phrase(list)) != nil {
		return // "with the front sensor": a part, not a tool
	}
	r.setTool(trade.Plain(typed(list[:min(3, len(list))])))
	r.use(i, n+1)
}

func (r *reader) setTool(name string) {
	r.Fact.Tool = strings.TrimPrefix(name, "the ")
	if t, ok := trade.ToolOf(name); ok && t.Method != "" && trade.VerbWaits(r.Fact.Verb) {
		r.Fact.Method = or(r.Fact.Method, t.Method)
	}
	if r.Fact.Tool == "hand" {
		r.Fact.Tool = ""
	}
}

// tools finds tools that stand without "with", and the methods of heat, solvent and release.
func (r *reader) tools() {
	soft := slices.Contains([]string{"heat", "solvent", "cut", "release", "pry"}, r.Fact.Verb)
	for i := 0; i < len(r.list); i++ {
		for n := min(3, len(r.list)-i); n > 0; n-- {
			if r.anyUsed(i, n) || i == r.at {
				continue
			}
			p := phrase(r.list[i : i+n])
			if soft {
				if m := methodOf(p); m != "" && !(m == "press" && r.Fact.Verb == "pry") && r.exact(p) == nil {
					r.Fact.Method = or(r.Fact.Method, m)
					if t, ok := trade.ToolOf(p); ok && n > 1 && r.Fact.Verb == "heat" {
						_ = t
						r.Fact.Tool = or(r.Fact.Tool, p)
					}
					r.use(i, n)
					break
				}
			}
			listed := slices.ContainsFunc(r.v.Tools, func(t string) bool { return trade.Plain(t) == p })
			t, known := trade.ToolOf(p)
			exact := known && (t.ID == p || slices.Contains(t.Words, p))
			if (listed || exact && p != "press" && p != "driver" && p != "iron" && p != "wire" && p != "card" &&
				p != "hand") && r.exact(p) == nil && !r.inName(i, n) {
				r.setTool(p)
				r.use(i, n)
				break
			}
		}
	}
}

// inName says whether a longer name of a part holds these words: the card of "card tray".
func (r *reader) inName(i, n int) bool {
	for to := min(len(r.list), i+n+2); to > i+n; to-- {
		p := phrase(r.list[i:to])
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

func methodOf(p string) string {
	for _, m := range trade.Methods {
		if m.ID == p || slices.Contains(m.Words, p) {
			return m.ID
		}
	}
	return ""
}

type driveWord struct {
	id, size string
	n        int
}

// driveAt reads a drive at token i, with the size of its driver where it stands beside it.
func driveAt(list []token, i int) driveWord {
	for n := min(2, len(list)-i); n > 0; n-- {
		p := phrase(list[i : i+n])
		for _, d := range trade.Drives {
			if trade.Plain(d.ID) == p || slices.Contains(d.Words, p) {
				out := driveWord{d.ID, "", n}
				if i+n < len(list) && sizeOfDriver(list[i+n].plain) {
					out.size, out.n = strings.ReplaceAll(list[i+n].plain, ",", "."), n+1
				}
				return out
			}
		}
	}
	if m := codeForm.FindStringSubmatch(list[i].plain); m != nil {
		for _, d := range trade.Drives {
			if slices.Contains(d.Letters, m[1]) {
				return driveWord{d.ID, strings.ReplaceAll(m[2], ",", "."), 1}
			}
		}
	}
	return driveWord{}
}

// sizeOfDriver says whether a bare figure after a drive is its size and no count: "tri-wing 000", "five-lobe 0.8".
func sizeOfDriver(w string) bool {
	return isDigits(w) && len(w) > 1 && w[0] == '0' || len(w) > 2 && w[0] == '0' && (w[1] == '.' || w[1] == ',') &&
		isDigits(w[2:])
}
