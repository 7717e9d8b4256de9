package shorthand

import (
	"slices"
	"strings"
	"unicode"

	"waryowl/internal/core/trade"
)

// many are the kinds of which a phone has several: without a word that tells them apart the line asks.
var many = words("bracket microphone antenna button sensor magnet mesh lens-cover lens loudspeaker")

// breaks end a name; before says what a place follows.
var (
	breaks = words("at of under beneath below behind near from on in into over above by next beside and to for " +
		"along around toward " +
		"through between after before with than holding securing fixing retaining")
	places = words("at under beneath below behind near on in over above beside along around")
)

// remarks are words of a sentence, not of a name: a run with one of them is a remark.
var remarks = words("was is were very too hard stuck tight easy slow fast still again not no never always took " +
	"seems looks like because but " +
	"would could should must had has have been came went needs needed almost nearly without only until more less " +
	"than so they it i we")

// run is a stretch of words that no figure, phrase or preposition interrupts.
type run struct {
	list   []token
	at     int    // index of its first token
	span   int    // tokens from there to its end, with the words between that say nothing
	before string // the preposition before it
	place  bool   // it follows @
}

func (r *reader) runs() []run {
	var out []run
	var cur run
	prep := ""
	end := func() {
		if len(cur.list) > 0 {
			out = append(out, cur)
		}
		cur = run{}
	}
	for i, t := range r.list {
		if i == r.at {
			end()
			prep = "@"
		}
		if r.at >= 0 && i == r.at+r.glued {
			end()
			prep = ""
		}
		inPlace := r.at >= 0 && i >= r.at && i < r.at+r.glued
		switch {
		case t.used:
			end()
			prep = ""
			continue
		case breaks[t.plain] && !inPlace:
			end()
			prep = t.plain
			r.list[i].used = true
			continue
		case stops[t.plain] && !inPlace:
			if t.plain == "the" || t.plain == "its" {
				end()
			}
			r.list[i].used = true
			continue
		}
		if len(cur.list) == 0 {
			cur.at, cur.before, cur.place = i, prep, prep == "@"
		}
		cur.span = i + 1 - cur.at
		cur.list = append(cur.list, t)
	}
	end()
	return out
}

// found is what a run of words names.
type found struct {
	part  *Named
	fresh *NewPart
	many  []Named
	joint string
	what  string
	edge  bool    // a place on the rim
	rest  []token // words of the run that say nothing of it
}

// names resolves the runs: the part that the line is about, its place, joints, what else is acted on, the side.
func (r *reader) names() {
	f := &r.Fact
	var unknown []run
	for _, u := range r.runs() {
		if r.sideOrWhich(u) {
			continue
		}
		x, ok := r.resolve(u.list)
		if n := len(u.list); !ok || n > 2 && len(x.rest) > 0 { // "antenna coax left side": what comes last is a remark
			for n > 1 && quiet[u.list[n-1].plain] {
				n--
			}
			if y, good := r.resolve(u.list[:n]); n < len(u.list) && good && len(y.rest) == 0 {
				x, ok = y, true
				x.rest = append(slices.Clone(x.rest), u.list[n:]...)
			}
		}
		if !ok {
			unknown = append(unknown, u)
			continue
		}
		r.use(u.at, u.span)
		for _, t := range x.rest {
			r.left(t)
		}
		if x.joint != "" {
			f.Joint = or(f.Joint, x.joint)
		}
		if x.edge {
			f.Place = or(f.Place, x.what)
			continue
		}
		if x.what != "" {
			f.What = strings.TrimSpace(f.What + " " + x.what)
		}
		taken := f.Part != "" || r.NewPart != nil || len(r.Candidates) > 0
		switch {
		case x.part == nil && x.fresh == nil && x.many == nil:
			if u.place || places[u.before] {
				f.Place = or(f.Place, spoken(u.list))
				f.What = strings.TrimSpace(strings.TrimSuffix(f.What, x.what))
			}
		case taken || u.before == "under" || u.before == "beneath" || u.before == "behind" || u.before == "near" ||
			u.before == "over" ||
			u.before == "above" || u.before == "beside":
			if u.place || places[u.before] {
				f.Place = or(f.Place, spoken(u.list))
			} else {
				f.What = strings.TrimSpace(f.What + " " + spoken(u.list))
			}
		default:
			if u.place {
				f.Place = spoken(u.list)
			}
			switch {
			case x.part != nil:
				f.Part, f.Name = x.part.ID, x.part.Name
			case x.fresh != nil:
				r.NewPart = x.fresh
			default:
				r.Candidates = x.many
			}
		}
	}
	for _, u := range unknown {
		r.unknown(u)
	}
}

// sideOrWhich takes a run that is only a side, or says which tab.
func (r *reader) sideOrWhich(u run) bool {
	f := &r.Fact
	p := spoken(u.list)
	if side := map[string]string{"front": "front", "back": "back", "rear": "back", "front side": "front",
		"back side": "back", "rear side": "back",
		"front face": "front", "screen side": "front", "display side": "front", "glass side": "back", "front rim": "front", "back rim": "back", "rear rim": "back",
		"front edge": "front"}[p]; side != "" &&
		(r.exact(p) == nil || trade.VerbWaits(f.Verb) && f.Verb != "cut") {
		f.Side = or(f.Side, side)
		r.use(u.at, u.span)
		return true
	}
	if f.Of > 0 || f.Incident == "tab-broke" || f.Verb == "release" && f.Joint == "pull tab" {
		var which []string
		for _, t := range u.list {
			switch {
			case slices.Contains([]string{"hidden", "left", "right", "upper", "lower", "middle", "outer", "inner",
				"first", "second", "third", "fourth", "fifth", "sixth", "last", "top",
				"bottom", "centre", "long", "short"}, t.plain):
				which = append(which, t.plain)
			case t.plain != "one" && t.plain != "tab" && !brokeWords[t.plain]:
				return false
			}
		}
		if len(which) > 0 {
			f.Which = strings.Join(which, " ")
			if u.list[len(u.list)-1].plain == "tab" {
				f.Joint = or(f.Joint, "pull tab")
			}
			r.use(u.at, u.span)
			return true
		}
	}
	return false
}

// resolve names a run: a part on record, by its whole name or by kind, or a new one of a known kind; with joints and
// things beside it.
func (r *reader) resolve(list []token) (found, bool) {
	if p := r.exact(spoken(list)); p != nil {
		return found{part: p}, true
	}
	head, tail := r.tail(list)
	if rim, ok := trade.Thing(spoken(tail)); ok && rim == "rim" && telling(spoken(head)) { // "bottom edge": a place
		return found{what: spoken(list), edge: true}, true
	}
	if len(head) == 0 {
		x := found{}
		x.joint, x.what = things(list)
		return x, x.joint != "" || x.what != ""
	}
	x, ok := r.part(head)
	if !ok { // words after the name: "battery pull slowly"
		for n := len(head) - 1; n > 0 && !ok; n-- {
			if y, good := r.part(head[:n]); good && !r.kindIn(head[n:]) {
				x, ok = y, true
				x.rest = append(slices.Clone(x.rest), head[n:]...)
			}
		}
	}
	if !ok {
		return x, false
	}
	joint, what := things(tail)
	x.joint, x.what = or(joint, x.joint), strings.TrimSpace(x.what+" "+what)
	return x, true
}

// tail parts the words for joints and things at the end of a run from the name before them, unless the whole is a kind
// of its own.
func (r *reader) tail(list []token) (head, tail []token) {
	n := len(list)
	for n > 0 {
		if k, ok := trade.Synonyms()[singular(spoken(list[:n]))]; ok && k != "" {
			break
		}
		if r.exact(spoken(list[:n])) != nil {
			break
		}
		k := 0
		for size := min(3, n); size > 0 && k == 0; size-- {
			if _, ok := trade.Thing(spoken(list[n-size : n])); ok {
				k = size
			}
		}
		if k == 0 {
			break
		}
		n -= k
	}
	return list[:n], list[n:]
}

var whereWords = words("rim perimeter bottom edge security")

// things says what joint words name, and what else they speak of.
func things(list []token) (joint, what string) {
	var rest []string
	for i := 0; i < len(list); {
		n := 0
		for size := min(3, len(list)-i); size > 0 && n == 0; size-- {
			p := spoken(list[i : i+size])
			id, ok := trade.Thing(p)
			if !ok {
				continue
			}
			n = size
			switch id {
			case "screw", "post", "coax", "clip", "adhesive", "pull tab", "tape":
				joint = or(joint, id)
				// "rim adhesive", "bottom screws": where they are tells them from others
				if first, _, two := strings.Cut(p, " "); id == "coax" || id == "pull tab" || two && whereWords[first] {
					rest = append(rest, p)
				}
			case "cable":
				joint = or(joint, "connector")
			case "hook":
				joint = or(joint, "clip")
			default:
				rest = append(rest, p)
			}
		}
		if n == 0 {
			rest = append(rest, list[i].plain)
			n = 1
		}
		i += n
	}
	return joint, strings.Join(rest, " ")
}

func (r *reader) kindIn(list []token) bool { return len(trade.Mentions(spoken(list))) > 0 }

// unknown takes a run that names nothing known: a new part where the line has none and the words can be a name, else a
// remark.
func (r *reader) unknown(u run) {
	f := &r.Fact
	list := u.list
	for len(list) > 0 && (quiet[list[len(list)-1].plain] || remarks[list[len(list)-1].plain]) {
		r.left(list[len(list)-1])
		list = list[:len(list)-1]
	}
	head, tail := r.tail(list)
	taken := f.Part != "" || r.NewPart != nil || len(r.Candidates) > 0
	acts := f.Verb != "incident" && f.Verb != "heat"
	named := len(head) > 0 && len(head) <= 3 && !slices.ContainsFunc(head, func(t token) bool {
		return remarks[t.plain] || quiet[t.plain] || strings.ContainsFunc(t.plain,
			func(c rune) bool { return !unicode.IsLetter(c) }) ||
			len([]rune(t.plain)) < 3
	})
	r.use(u.at, u.span)
	switch {
	case u.place && taken:
		f.Place = spoken(u.list)
	case named && !taken && acts && !u.place:
		if near := Closest(head[0].plain, append(trade.DriveIDs(), trade.IncidentIDs()...)); len(head) == 1 &&
			len(near) > 0 && f.Verb == "unfasten" {
			r.unread(head[0], "not known; kept as a note", near)
			r.notes = append(r.notes, head[0].text)
			return
		}
		r.NewPart = &NewPart{Name: strings.ToLower(typed(head)), Family: "FR"}
		joint, what := things(tail)
		f.Joint, f.What = or(f.Joint, joint), strings.TrimSpace(f.What+" "+what)
	case u.place:
		f.Place = spoken(u.list)
		if named && !taken {
			r.NewPart = &NewPart{Name: spoken(head), Family: "FR"}
		}
	default:
		for _, t := range list {
			r.left(t)
		}
	}
}

// left keeps a word that nothing took: of a measured value it may be which lens or side it is of, else it is a note.
func (r *reader) left(t token) {
	if quiet[t.plain] || stops[t.plain] {
		r.notes = append(r.notes, t.text)
		return
	}
	r.notes = append(r.notes, t.text)
	r.unread(t, "not read; kept as a note", nil)
}

// rest keeps what is left.
func (r *reader) rest() {
	for i, t := range r.list {
		if !t.used {
			r.list[i].used = true
			r.left(t)
		}
	}
}
