package shorthand

import (
	"slices"
	"strings"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/trade"
)

// exact finds the part that has this phrase as a name or alias.
func (r *reader) exact(p string) *Named {
	if p == "" {
		return nil
	}
	if r.byName == nil {
		r.byName = map[string]int{}
		for i, part := range r.v.Parts {
			for _, name := range append([]string{part.Name}, part.Aliases...) {
				q := trade.Plain(name)
				for _, form := range []string{q, singular(q)} {
					if _, taken := r.byName[form]; !taken {
						r.byName[form] = i
					}
				}
			}
		}
	}
	for _, form := range []string{p, singular(p)} {
		if i, ok := r.byName[form]; ok {
			return &r.v.Parts[i]
		}
	}
	return nil
}

func singular(p string) string {
	i := strings.LastIndexByte(p, ' ') + 1
	return p[:i] + trade.Singular(p[i:])
}

func kindOf(p Named) string {
	if p.Kind != "" {
		return p.Kind
	}
	for _, name := range append([]string{p.Name}, p.Aliases...) {
		if k, ok := trade.KindOf(name); ok {
			return k
		}
	}
	return ""
}

// part finds the part that a name means. Words that tell like parts apart never match each other; of kinds that come in
// numbers all words of the name must agree.
func (r *reader) part(head []token) (found, bool) {
	whole := spoken(head)
	if p := r.exact(whole); p != nil {
		return found{part: p}, true
	}
	if fixed := r.spell(head); fixed != nil && r.exact(spoken(fixed)) != nil {
		return found{part: r.exact(spoken(fixed))}, true
	}
	// A name on record inside the run: what stands before it must not tell another part, nothing of a kind may follow.
	for size := len(head) - 1; size > 0; size-- {
		for from := len(head) - size; from >= 0; from-- {
			p := r.exact(spoken(head[from : from+size]))
			if p == nil || r.kindIn(head[from+size:]) || from+size < len(head) {
				continue
			}
			q := spoken(head[:from])
			if telling(q) && !strings.Contains(trade.Plain(p.Name), q) {
				continue
			}
			if k, ok := trade.KindOf(whole); ok && k != kindOf(*p) {
				continue
			}
			x := found{part: p}
			for _, t := range head[:from] {
				switch {
				case telling(t.plain) || strings.Contains(" "+trade.Plain(p.Name)+" ", " "+t.plain+" "):
				case x.joint+x.what == "" && isThing(head[:from]):
					if x.joint, x.what = things(head[:from]); x.joint == "" {
						x.what = or(x.what, q)
					}
				case x.joint+x.what == "":
					x.rest = append(x.rest, t)
				}
			}
			return x, true
		}
	}
	if id, thing := trade.Thing(head[0].plain); thing && len(head) > 1 && (id == "screw" || id == "post") {
		x, ok := r.part(head[1:]) // "10 screws midframe"
		x.joint = or(x.joint, id)
		return x, ok
	}
	kind, ok := trade.KindOf(whole)
	if !ok {
		if fixed := r.spell(head); fixed != nil && spoken(fixed) != whole {
			return r.part(fixed)
		}
		return found{}, false
	}
	fits := r.ofKind(kind, whole)
	switch {
	case len(fits) == 1:
		return found{part: &fits[0]}, true
	case len(fits) > 1:
		return found{many: fits}, true
	}
	k, _ := trade.KindByID(kind)
	return found{fresh: &NewPart{Name: strings.ToLower(typed(head)), Kind: kind, Family: k.Family}}, true
}

func isThing(list []token) bool {
	_, ok := trade.Thing(spoken(list))
	return ok
}

// telling says whether words tell like parts apart.
func telling(q string) bool {
	for _, w := range strings.Fields(q) {
		for _, set := range trade.Apart {
			if slices.Contains(set, w) {
				return true
			}
		}
	}
	return false
}

// ofKind lists the parts of a kind that a phrase may mean.
func (r *reader) ofKind(kind, whole string) []Named {
	var fits []Named
	own := qualifiers(whole, kind)
	for _, p := range r.v.Parts {
		if kindOf(p) != kind {
			continue
		}
		names := append([]string{p.Name}, p.Aliases...)
		if slices.ContainsFunc(names[:1], func(n string) bool { return trade.Clash(n, whole) }) {
			continue
		}
		if many[kind] && len(own) > 0 && !slices.ContainsFunc(names,
			func(n string) bool { return covers(qualifiers(n, kind), own) }) {
			continue
		}
		if !many[kind] && ordinal(own) && !slices.ContainsFunc(names,
			func(n string) bool { return covers(qualifiers(n, kind), own) }) {
			continue
		}
		fits = append(fits, p)
	}
	if len(fits) > 1 { // the one whose words agree best
		best := -1
		var top []Named
		for _, p := range fits {
			n := 0
			for _, q := range qualifiers(p.Name, kind) {
				if slices.Contains(own, q) {
					n++
				}
			}
			if n > best {
				best, top = n, nil
			}
			if n == best {
				top = append(top, p)
			}
		}
		fits = top
	}
	return fits
}

// qualifiers are the words of a name beside those of its kind.
func qualifiers(name, kind string) []string {
	ws := strings.Fields(singular(trade.Plain(name)))
	for n := len(ws); n > 0; n-- { // the synonym at its end
		if k := trade.Synonyms()[strings.Join(ws[len(ws)-n:], " ")]; k == kind {
			if n == len(ws) { // the whole is a synonym: its own qualifiers count
				for m := 1; m < n; m++ {
					if trade.Synonyms()[strings.Join(ws[n-m:], " ")] == kind {
						return same(ws[:n-m])
					}
				}
				return nil
			}
			return same(ws[:len(ws)-n])
		}
	}
	return same(ws)
}

func same(ws []string) []string {
	var out []string
	for _, w := range ws {
		out = append(out, trade.Same(w))
	}
	return out
}

func covers(have, want []string) bool {
	return !slices.ContainsFunc(want, func(w string) bool { return !slices.Contains(have, w) })
}

func ordinal(ws []string) bool {
	return slices.ContainsFunc(ws, func(w string) bool { return w == "second" || w == "third" })
}

// looks are words for how a thing looks: no slip of the pen for one that names it.
var looks = words("black white grey green blue yellow clear silver gold pink brown thick thin flat shiny plain")

// spell corrects single words that are one slip away from a word that names something here.
func (r *reader) spell(head []token) []token {
	var known []string
	for _, p := range r.v.Parts {
		for _, n := range append([]string{p.Name}, p.Aliases...) {
			known = append(known, strings.Fields(trade.Plain(n))...)
		}
	}
	for w := range trade.Synonyms() {
		known = append(known, strings.Fields(w)...)
	}
	slices.Sort(known)
	known = slices.Compact(known)
	var out []token
	changed := false
	for _, t := range head {
		right := slices.Contains(known, t.plain) || slices.Contains(known, trade.Singular(t.plain))
		if len(t.plain) >= 4 && !looks[t.plain] && !right {
			best, far := "", 3
			for _, k := range known {
				if len(k) < 4 || k[0] != t.plain[0] && len(t.plain) < 7 {
					continue
				}
				if d := distance(t.plain, k); d < far && (d == 1 || d == 2 && len(t.plain) >= 8) {
					best, far = k, d
				}
			}
			if best != "" {
				t.text, t.plain, changed = best, best, true
			}
		}
		out = append(out, t)
	}
	if !changed {
		return nil
	}
	return out
}

// Find resolves a text that names one thing, such as what a step of an older plan acts on: the id of its part ("" for
// none on record), the kind it is of, and its joint.
func Find(text string, v Vocabulary) (part, kind, joint string) {
	r := &reader{v: v, at: -1}
	r.cut(text)
	for i := range r.list {
		if d := driveAt(r.list, i); d.n > 0 {
			r.use(i, d.n)
		} else if _, ok := r.valueAt(i); ok || phrase.InWords[r.list[i].plain] > 0 {
			r.use(i, 1)
		}
	}
	for _, u := range r.runs() {
		x, ok := r.resolve(u.list)
		if !ok {
			continue
		}
		joint = or(joint, x.joint)
		switch {
		case x.part != nil && part == "" && kind == "":
			part, kind = x.part.ID, kindOf(*x.part)
		case x.fresh != nil && part == "" && kind == "":
			kind = x.fresh.Kind
		}
	}
	return part, kind, joint
}

// KindID is the kind of a part on record: the one confirmed, else the one that its names suggest.
func (p Named) KindID() string { return kindOf(p) }
