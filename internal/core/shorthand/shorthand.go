package shorthand

import (
	"slices"
	"strings"

	"waryowl/internal/core/trade"
)

type reader struct {
	Reading
	v      Vocabulary
	list   []token
	fresh  int // index after a count and its drive, where the size of these screws may stand
	groups []Screws
	notes  []string
	at     int   // token that begins the "@" place, −1 for none
	glued  int   // tokens of that place
	spans  []int // per measure: the token at which it stands
}

// Parse reads one line. It always returns a fact: a line without a verb is a note.
func Parse(line string, v Vocabulary) Reading {
	line = strings.ToValidUTF8(line, "\uFFFD")
	r := &reader{v: v, at: -1}
	r.Unread = []Unread{}
	if rest, ok := strings.CutPrefix(strings.TrimSpace(line), v.Unit+":"); ok && v.Unit != "" {
		line = strings.Repeat(" ", len([]rune(line))-len([]rune(rest))) + rest
	}
	r.cut(line)
	r.open(line)
	switch r.Fact.Verb {
	case "note":
		r.surplus()
	case "tool":
		r.Fact.Tool = strings.TrimSpace(typed(r.unused()))
		if t := trade.Plain(r.Fact.Tool); slices.Contains([]string{"down", "none", "away", "by hand", "hand"}, t) ||
			strings.HasPrefix(t, "down ") {
			r.Fact.Tool = ""
		}
		for i := range r.list {
			r.list[i].used = true
		}
	default:
		r.read()
	}
	r.Echo = r.echo()
	return r.Reading
}

// cut makes the tokens: signs that open the line stand apart, hyphens are opened, quoted text becomes the note.
func (r *reader) cut(line string) {
	list, quoted := tokens(line)
	r.notes = quoted
	for i, t := range list {
		for len(r.list) < 2 && i < 2 && len(t.text) > 1 && strings.ContainsRune("+!?", rune(t.text[0])) &&
			!isDigits(t.text[1:]) {
			r.list = append(r.list, token{text: t.text[:1], plain: t.text[:1], column: t.column})
			t.text, t.plain, t.column = t.text[1:], t.plain[1:], t.column+1
		}
		if t.text == "" {
			continue
		}
		switch {
		case strings.HasPrefix(t.plain, "@") && len(t.plain) > 1 && r.at < 0:
			r.at = len(r.list)
			parts := split(token{text: t.text[1:], plain: t.plain[1:], column: t.column + 1})
			r.glued = len(parts)
			r.list = append(r.list, parts...)
		case len(r.list) > 0 && len(t.plain) > 1 && strings.ContainsRune("+-−", []rune(t.plain)[0]) &&
			strings.ContainsAny(t.plain, "abcdefghijklmnopqrstuvwxyz"):
			sign := "plus"
			if t.plain[0] != '+' {
				sign = "minus"
			}
			rest := string([]rune(t.text)[1:])
			r.list = append(r.list, token{text: sign, plain: sign, column: t.column})
			r.list = append(r.list, split(token{text: rest, plain: strings.ToLower(rest), column: t.column + 1})...)
		case valueForm.MatchString(t.plain) || sizeForm.MatchString(t.plain) || shareForm.MatchString(t.plain):
			r.list = append(r.list, t)
		default:
			r.list = append(r.list, split(t)...)
		}
	}
}

// backWords put something back; the verb is what is undone.
var backWords = map[string]string{"put back": "lift", "put in": "lift", "refit": "lift", "reinstall": "lift",
	"install": "lift", "fit": "lift",
	"reconnect": "disconnect", "connect": "disconnect", "plug in": "disconnect", "plug back": "disconnect",
	"screw in":   "unfasten",
	"screw down": "unfasten", "fasten": "unfasten", "do up": "unfasten", "stick down": "peel", "lay down": "peel",
	"press in":   "pry",
	"slide back": "slide", "bracket on": "bracket", "screw back": "unfasten", "seat": "disconnect"}

// doneWords name an act at the end of a line without a verb at its start.
var doneWords = map[string]string{"removed": "lift", "lifted": "lift", "out": "lift", "unplugged": "disconnect",
	"disconnected": "disconnect",
	"unscrewed":    "unfasten", "unfastened": "unfasten", "undone": "unfasten", "peeled": "peel", "pried": "pry",
	"prised": "pry", "slid": "slide",
	"measured": "measure", "heated": "heat", "unclipped": "pry", "off": "lift", "reconnected": "+disconnect",
	"refitted":    "+lift",
	"reinstalled": "+lift", "back in": "+lift", "back on": "+lift"}

// open finds the verb.
func (r *reader) open(line string) {
	if len(r.list) > 0 && r.list[0].plain == "+" {
		r.Fact.Back, r.list[0].used = true, true
	}
	i := 0
	for i < len(r.list) && r.list[i].used {
		i++
	}
	if i == len(r.list) {
		r.note(line)
		return
	}
	for n := min(3, len(r.list)-i); n > 0 && r.Fact.Verb == ""; n-- {
		p := phrase(r.list[i : i+n])
		if verb, ok := backWords[p]; ok {
			r.Fact.Back = true
			r.use(i, n)
			i += n
			if i < len(r.list) { // "put back, disconnect …"
				if v, k := verbAt(r.list[i:]); k > 0 {
					verb = v
					r.use(i, k)
				}
			}
			r.Fact.Verb = verb
			return
		}
	}
	verb, n := verbAt(r.list[i:])
	switch {
	case n > 0 && verb == "tool" && r.list[i].plain == "take" && !r.toolFollows(i+1):
		r.Fact.Verb = "lift"
		r.use(i, 1)
	case n > 0 && phrase(r.list[i:i+n]) == "put down":
		r.Fact.Verb = verb
		r.use(i, len(r.list)-i)
	case n > 0:
		r.Fact.Verb = verb
		r.use(i, n)
	default:
		r.guessVerb(i, line)
	}
	r.second()
	if r.Fact.Verb == "note" && r.Fact.Note == "" {
		r.Fact.Note = strings.TrimSpace(typed(r.unused()))
		if len(r.notes) > 0 {
			r.Fact.Note = strings.TrimSpace(r.Fact.Note + " " + strings.Join(r.notes, " "))
		}
		if raw := afterVerb(line); raw != "" && len(r.notes) == 0 {
			r.Fact.Note = raw
		}
		for k := range r.list {
			r.list[k].used = true
		}
	}
}

// second keeps what stands behind "then" as a note: a line is one act, and the next one must not colour it.
func (r *reader) second() {
	if r.Fact.Verb == "note" {
		return
	}
	for i := 1; i+1 < len(r.list); i++ {
		if r.list[i].plain == "then" && !r.list[i].used {
			for _, t := range r.list[i:] {
				r.unread(t, "a second act; type it as a line of its own", nil)
			}
			r.notes = append(r.notes, typed(r.list[i:]))
			r.use(i, len(r.list)-i)
			return
		}
	}
}

// afterVerb is the text of a note as typed.
func afterVerb(line string) string {
	s := strings.TrimSpace(line)
	s = strings.TrimSpace(strings.TrimPrefix(s, "+"))
	if rest, ok := strings.CutPrefix(s, "?"); ok {
		return strings.TrimSpace(rest)
	}
	for _, w := range []string{"note ", "remark ", "n "} {
		if len(s) > len(w) && strings.EqualFold(s[:len(w)], w) {
			return strings.TrimSpace(s[len(w):])
		}
	}
	return ""
}

func verbAt(list []token) (string, int) {
	for n := min(3, len(list)); n > 0; n-- {
		p := phrase(list[:n])
		if n == 1 && (list[0].plain == "!" || list[0].plain == "?") {
			p = list[0].plain
		}
		for _, v := range trade.Verbs {
			if p == v.Letter || p == v.ID || slices.Contains(v.Words, p) {
				if v.ID == "incident" && p != "!" && p != "incident" && p != "oops" && p != "accident" {
					return v.ID, 0
				}
				return v.ID, n
			}
		}
	}
	return "", 0
}

func (r *reader) toolFollows(i int) bool {
	for ; i < len(r.list); i++ {
		if r.list[i].plain == "the" || r.list[i].plain == "a" {
			continue
		}
		_, known := trade.ToolOf(phrase(r.list[i:min(len(r.list), i+3)]))
		if known {
			return true
		}
		for n := min(3, len(r.list)-i); n > 0; n-- {
			p := phrase(r.list[i : i+n])
			if _, known := trade.ToolOf(p); known {
				return true
			}
			if slices.ContainsFunc(r.v.Tools, func(t string) bool { return trade.Plain(t) == p }) {
				return true
			}
		}
		return false
	}
	return false
}

// guessVerb reads a line without a verb at its start: a done form at its end, a method, figures that are measures; else
// it is a note.
func (r *reader) guessVerb(i int, line string) {
	if p := r.list[i].plain; slices.Contains(trade.MethodIDs(), p) {
		r.Fact.Verb = map[bool]string{true: "heat", false: "solvent"}[trade.Hot(p)]
		if p == "voltage" {
			r.Fact.Verb = "release"
		}
		return
	}
	if last := len(r.list) - 1; r.list[i].plain == "put" && last > i+1 &&
		slices.Contains([]string{"in", "back", "on"}, r.list[last].plain) { // "put the battery back in"
		r.Fact.Verb, r.Fact.Back = "lift", true
		r.use(i, 1)
		for ; last > i && slices.Contains([]string{"in", "back", "on"}, r.list[last].plain); last-- {
			r.use(last, 1)
		}
		return
	}
	if p := r.list[i].plain; (p == "leave" || p == "leaving") && i+1 < len(r.list) {
		r.use(i, 1)
		i++
	}
	for _, m := range trade.Methods { // "hot plate 100C 120 s front"
		for _, w := range m.Words {
			if r.is(i, w, len(strings.Fields(w))) && m.Hot {
				r.Fact.Verb = "heat"
				return
			}
		}
	}
	for k := len(r.list) - 1; k > i; k-- {
		two := ""
		if k > i+1 {
			two = phrase(r.list[k-1 : k+1])
		}
		verb, n := doneWords[two], 2
		if verb == "" {
			verb, n = doneWords[r.list[k].plain], 1
		}
		if verb == "" || r.list[k].plain == "off" && k > 0 &&
			(r.list[k-1].plain == "left" || r.list[k-1].plain == "power") {
			continue
		}
		if r.list[k-1].plain == "be" { // "cannot be disconnected" says how it ended
			r.Fact.Verb = strings.TrimPrefix(verb, "+")
			return
		}
		if back, ok := strings.CutPrefix(verb, "+"); ok {
			r.Fact.Back, verb = true, back
		}
		if r.list[k].plain == "off" && slices.ContainsFunc(r.list[i:k],
			func(t token) bool { return leadWord(t.plain) }) {
			verb = "disconnect"
		}
		r.Fact.Verb = verb
		r.use(k-n+1, n)
		return
	}
	for k := i; k < len(r.list); k++ {
		if v, ok := r.valueAt(k); ok && !v.bare && slices.Contains([]string{"mAh", "Wh", "g", "mm", "MP", "V"},
			v.unit.Base) {
			r.Fact.Verb = "measure"
			return
		}
	}
	if slices.ContainsFunc(r.list[i:], func(t token) bool { return surplusWord(t.plain) }) {
		r.note(line)
		return
	}
	var known []string
	for _, v := range trade.Verbs {
		known = append(known, v.ID)
	}
	r.unread(r.list[i], "not an act; kept as a note", closest(r.list[i].plain, known))
	r.note(line)
}

func (r *reader) note(line string) {
	r.Fact.Verb, r.Fact.Back = "note", false
	r.Fact.Note = strings.TrimSpace(strings.TrimPrefix(strings.TrimSpace(line), "+"))
	if len(r.notes) > 0 {
		r.Fact.Note = strings.Join(r.notes, " ")
	}
}

func (r *reader) use(i, n int) {
	for k := i; k < i+n && k < len(r.list); k++ {
		r.list[k].used = true
	}
}

func (r *reader) unused() []token {
	return slices.DeleteFunc(slices.Clone(r.list), func(t token) bool { return t.used })
}

func (r *reader) unread(t token, text string, known []string) {
	if known == nil {
		known = []string{}
	}
	r.Unread = append(r.Unread, Unread{t.column, len([]rune(t.text)), t.text, text, known})
}

func leadWord(w string) bool {
	id, ok := trade.Thing(w)
	return ok && (id == "cable" || id == "coax")
}
