package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// meant is what a noun phrase names: one part on record, several that fit equally, or a part that no record has; what is done
// to it is done to a thing of it where one is said (lead, screw, tab, adhesive …).
type meant struct {
	parts    []shorthand.Named
	fresh    string         // name of a new part, as typed
	doubtful bool           // a word of it is in no lexicon: it is asked about
	thing    string         // id of the thing of package trade: cable, coax, screw, pull tab, adhesive, tape, film …
	what     string         // the thing as typed
	idle     []phrase.Token // words that said nothing
	short    string         // the words that were an abbreviation: an answer teaches them
	all      bool
}

// one is the part that is meant, where it is a single one on record.
func (m meant) one() *shorthand.Named {
	if len(m.parts) == 1 {
		return &m.parts[0]
	}
	return nil
}

func (m meant) none() bool { return len(m.parts) == 0 && m.fresh == "" }

func (m meant) kind() string {
	if len(m.parts) > 0 {
		return m.parts[0].KindID()
	}
	k, _ := trade.KindOf(m.fresh)
	return k
}

// lead says whether the phrase speaks of a lead.
func (m meant) lead() bool { return m.thing == "cable" || m.thing == "coax" }

// notAlone are the heads that name no part alone; manyOf the kinds of which a phone has several: every word of their names
// tells.
var (
	notAlone = set("lead cable plug tab flex connector conn ribbon strip")
	manyOf   = set("bracket microphone antenna button sensor magnet mesh lens-cover lens")
)

func set(s string) map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(s) {
		m[w] = true
	}
	return m
}

// names lists each part's names in words, in the order of the parts; wordsOf says of which part each is.
func (c Context) nameWords() (names [][]string, of []int) {
	for i, p := range c.Parts {
		for _, n := range append([]string{p.Name}, p.Aliases...) {
			if w := strings.Fields(lexicon.Norm(n)); len(w) > 0 {
				names, of = append(names, w), append(of, i)
			}
		}
	}
	return names, of
}

// thingOf is the thing of package trade that a phrase names, "" for none.
func thingOf(words []string) string {
	p := strings.Join(words, " ")
	if canon, ok := lexicon.Noun(p); ok {
		if id, ok := trade.Thing(canon); ok {
			return id
		}
		if canon == "standoff" {
			return "post"
		}
	}
	if id, ok := trade.Thing(p); ok {
		return id
	}
	return ""
}

// find resolves the words of a noun phrase against the parts on record.
func (r *line) find(list []phrase.Token) meant {
	words := lows(list)
	if len(words) == 0 || onlyTells(words) {
		return meant{}
	}
	if m, ok := r.match(list, words); ok {
		return m
	}
	// A thing of a part: "display lead", "flex of the display", "tabs battery".
	for n := min(3, len(words)); n > 0; n-- {
		for _, at := range []int{len(words) - n, 0} {
			id := thingOf(words[at : at+n])
			if id == "" || id == "rim" && n == len(words) || at == 0 && n < named(words) {
				continue
			}
			rest := slices.Concat(list[:at], list[at+n:])
			what := strings.Join(words[at:at+n], " ")
			if len(rest) == 0 {
				return meant{thing: id, what: what}
			}
			m := r.find(rest)
			if m.thing == "" {
				m.thing, m.what = id, what
				return m
			}
			if id == m.thing || m.none() {
				m.thing, m.what = id, strings.TrimSpace(strings.Join(words, " "))
				return m
			}
		}
	}
	return r.unknown(list, words)
}

// named is how many words, from the first, name one kind of part together: "charge port lead" begins with two.
func named(words []string) int {
	for n := len(words); n > 1; n-- {
		if name := strings.Join(words[:n], " "); trade.IsKind(name) {
			return n
		}
	}
	return 0
}

func lows(list []phrase.Token) []string {
	out := make([]string, len(list))
	for i, t := range list {
		out[i] = t.Low
	}
	return out
}

// onlyTells says whether words only tell parts apart and name none: "upper", "left".
func onlyTells(words []string) bool {
	for _, w := range words {
		_, tell := lexicon.Tell(w)
		_, noun := lexicon.Noun(w)
		if !tell || noun {
			return false
		}
	}
	return true
}

// match finds the part that words name: by its own names first, an abbreviation of them next, then by what the lexicon says.
func (r *line) match(list []phrase.Token, words []string) (meant, bool) {
	if len(words) == 1 && notAlone[trade.Singular(words[0])] {
		return meant{}, false
	}
	best, fits := lexicon.Most+1, map[int]float64{}
	for k, name := range r.names {
		cost, ok := lexicon.NameCost(words, name)
		if !ok || cost > lexicon.Most {
			continue
		}
		if old, seen := fits[r.of[k]]; !seen || cost < old {
			fits[r.of[k]] = cost
		}
		best = min(best, cost)
	}
	var m meant
	for i := range r.c.Parts {
		if cost, ok := fits[i]; ok && cost < best+lexicon.Near {
			m.parts = append(m.parts, r.c.Parts[i])
		}
	}
	if len(m.parts) == 0 {
		m.parts = r.canonical(words)
	} else if best > 0 && best < 3 {
		m.short = strings.Join(words, " ")
	}
	if len(m.parts) == 0 {
		return meant{}, false
	}
	if len(m.parts) > 1 {
		m.parts = r.recent(m.parts)
	}
	return m, true
}

// recent keeps, of parts that fit equally well, the one that the last two entries were about.
func (r *line) recent(parts []shorthand.Named) []shorthand.Named {
	seen := 0
	for i := len(r.past) - 1; i >= 0 && seen < 2; i-- {
		seen++
		for _, p := range parts {
			if id := r.past[i].Fact.Part; id != "" && p.ID == id {
				return []shorthand.Named{p}
			}
		}
	}
	return parts
}

// canonical finds the parts of the kind that the lexicon reads in words; a word that tells parts apart must agree.
func (r *line) canonical(words []string) []shorthand.Named {
	kind, said := kindIn(words)
	if kind == "" {
		return nil
	}
	canon, _ := lexicon.Noun(strings.Join(words, " "))
	tells := tellsOf(words)
	var fits []shorthand.Named
	for _, p := range r.c.Parts {
		if p.KindID() != kind {
			continue
		}
		ok := len(said) == 0 // further words must stand in its names
		for _, n := range append([]string{p.Name}, p.Aliases...) {
			ok = ok || len(said) > 0 && covered(said, strings.Fields(lexicon.Norm(n)))
		}
		own := tellsOf(strings.Fields(lexicon.Norm(p.Name)))
		if same, _ := lexicon.Noun(lexicon.Norm(p.Name)); canon != "" && same == canon {
			own = nil // both stand for the same thing
		}
		for _, t := range tells {
			if len(own) > 0 && !slices.Contains(own, t) && !slices.Contains(tellsOf(strings.Fields(lexicon.Norm(strings.Join(p.Aliases, " ")))), t) {
				ok = false
			}
		}
		if ok {
			fits = append(fits, p)
		}
	}
	return fits
}

func covered(said, name []string) bool {
	for _, w := range said {
		if !slices.ContainsFunc(name, func(n string) bool { _, ok := lexicon.Like(w, n); return ok }) {
			return false
		}
	}
	return true
}

// kindIn is the kind of part that words name, and the words beside it: of the longest name of a kind in them, for kinds that
// come in numbers of the shortest.
func kindIn(words []string) (kind string, beside []string) {
	for n := len(words); n > 0; n-- {
		for at := len(words) - n; at >= 0; at-- {
			k := kindOf(words[at : at+n])
			if k == "" {
				continue
			}
			if !manyOf[k] {
				return k, slices.Concat(words[:at], words[at+n:])
			}
			for i := range words { // its head alone
				if kindOf(words[i:i+1]) == k {
					return k, slices.Concat(words[:i], words[i+1:])
				}
			}
			return k, slices.Concat(words[:at], words[at+n:])
		}
	}
	return "", nil
}

func kindOf(words []string) string {
	p := strings.Join(words, " ")
	canon, ok := lexicon.Noun(p)
	switch {
	case canon == "haptic motor":
		return "vibration-motor"
	case ok:
		k, _ := trade.KindOf(canon)
		return k
	}
	return trade.Synonyms()[p]
}

func tellsOf(words []string) []string {
	var out []string
	for _, w := range words {
		if t, ok := lexicon.Tell(w); ok && !slices.Contains(out, t) {
			out = append(out, t)
		}
	}
	return out
}

// unknown takes a phrase that names nothing on record: a known part with one idle word beside it, else a new part.
func (r *line) unknown(list []phrase.Token, words []string) meant {
	if len(words) > 1 {
		for i := range list {
			if r.tells(words[i]) {
				continue
			}
			rest := slices.Concat(list[:i], list[i+1:])
			if m, ok := r.match(rest, lows(rest)); ok && len(m.parts) == 1 && !lexicon.Known(words[i]) {
				m.idle, m.short = append(m.idle, list[i]), ""
				return m
			}
		}
	}
	name := strings.Join(words, " ")
	kind, ok := trade.KindOf(name)
	if canon, isNoun := lexicon.Noun(name); isNoun && !ok && kind == "" {
		if k, known := trade.KindOf(canon); known && k != "" {
			name = canon
		}
	} else if len(words) == 1 && isNoun {
		if k, known := trade.KindOf(name); !known || k == "" {
			name = canon
		}
	}
	m := meant{fresh: name}
	for _, w := range words {
		if !lexicon.Known(w) {
			m.doubtful = true
		}
	}
	return m
}

// tells says whether a word tells parts apart here: a word of place or size, or one that stands in another part's name.
func (r *line) tells(w string) bool {
	if _, ok := lexicon.Tell(w); ok {
		return true
	}
	for _, name := range r.names {
		if slices.Contains(name, w) {
			return true
		}
	}
	return false
}

// covers says whether a kind of part is a cover: it is taken off and lies over others.
func covers(kind string) bool { k, _ := trade.KindByID(kind); return k.Covers }

// led are the kinds whose leads people mean when they say that the part goes on or off.
var led = map[string]bool{"battery": true, "display": true, "front-camera": true, "rear-camera": true,
	"ultra-wide-camera": true, "telephoto-camera": true, "infrared-camera": true, "macro-camera": true}

// pastLead says whether the lead of a part is off by now.
func (r *line) leadOff(p *shorthand.Named) bool {
	if p == nil {
		return false
	}
	off := p.KindID() == "battery" && r.c.State.BatteryOff
	for _, id := range r.c.Done {
		if s, ok := r.c.Steps.By(id); ok && s.Lead() && r.c.part(s) == p.ID {
			off = true
		}
	}
	for _, e := range r.past {
		if f := e.Fact; f.Part == p.ID && f.Verb == "disconnect" && f.Outcome == "" {
			off = !f.Back
		}
	}
	return off
}

// isOut says whether a part is out of the phone by now.
func (r *line) isOut(id string) bool {
	out := false
	for _, d := range r.c.Done {
		if s, ok := r.c.Steps.By(d); ok && (slices.Contains(s.Frees, id) || r.c.part(s) == id && s.Verb == "lift") {
			out = true
		}
	}
	for _, e := range r.past {
		if f := e.Fact; f.Part == id && (f.Verb == "lift" || f.Verb == "bracket") && f.Outcome == "" {
			out = !f.Back
		}
	}
	return out
}
