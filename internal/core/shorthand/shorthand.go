package shorthand

import (
	"slices"
	"strings"

	"waryowl/internal/core/phrase"
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
	byName map[string]int
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
			!phrase.Digits(t.text[1:]) {
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
		case phrase.ValueForm.MatchString(t.plain) || phrase.SizeForm.MatchString(t.plain) ||
			phrase.ShareForm.MatchString(t.plain):
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
		p := spoken(r.list[i : i+n])
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
	case n > 0 && spoken(r.list[i:i+n]) == "put down":
		r.Fact.Verb = verb
		r.use(i, len(r.list)-i)
	case n > 0:
		r.Fact.Verb = verb
		if verb == "solvent" && strings.HasSuffix(spoken(r.list[i:i+n]), "alcohol") {
			r.Fact.Method = "alcohol"
		}
		r.use(i, n)
	default: // no verb opens it: a remark, to this grammar
		r.note(line)
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
		p := spoken(list[:n])
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
		_, known := trade.ToolOf(spoken(r.list[i:min(len(r.list), i+3)]))
		if known {
			return true
		}
		for n := min(3, len(r.list)-i); n > 0; n-- {
			p := spoken(r.list[i : i+n])
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

// BackWords lists the words that open a line that puts something back.
func BackWords() []string {
	var out []string
	for w := range backWords {
		out = append(out, w)
	}
	slices.Sort(out)
	return out
}
