package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/phrase"
	"waryowl/internal/core/shorthand"
)

// settle puts the facts of the line in order, and keeps what was only named before as no note of its own.
func (r *line) settle(clauses []phrase.Clause) {
	acts := slices.ContainsFunc(r.drafts, func(d draft) bool { return d.f.Verb != "note" || d.f.Surplus != nil })
	if !acts {
		r.drafts = []draft{{f: shorthand.Fact{Verb: "note", Note: noteText(r.text)}, to: len([]rune(r.text))}}
		r.unread = nil
		return
	}
	r.lateScrews()
	var out []draft
	for _, d := range r.drafts {
		note := d.f.Verb == "note" && d.f.Surplus == nil
		if note && (slices.Contains(r.pendingSubject, d.clause) && r.actedAfter(d.clause) || slices.Contains(r.qualified, d.clause)) {
			continue
		}
		if note && r.surplusSaid {
			continue
		}
		if note && d.clause >= 0 && d.clause < len(clauses) {
			r.tell(clauses[d.clause])
		}
		out = append(out, d)
	}
	r.drafts = out
	for i, d := range r.drafts { // "…, lead first": before the others of the line
		if d.clause >= 0 && d.clause < len(clauses) && d.f.Verb != "note" {
			last := clauses[d.clause].Items[len(clauses[d.clause].Items)-1]
			if last.Low == "first" && i > 0 {
				copy(r.drafts[1:i+1], r.drafts[:i])
				r.drafts[0] = d
			}
		}
	}
}

func (r *line) actedAfter(clause int) bool {
	return slices.ContainsFunc(r.drafts, func(d draft) bool { return d.clause > clause && d.f.Verb != "note" })
}

// noteText is a remark as it was typed.
func noteText(text string) string {
	note := strings.TrimSpace(strings.TrimPrefix(strings.TrimSpace(text), "+"))
	if word, rest, ok := strings.Cut(note, ":"); ok && strings.EqualFold(strings.TrimSpace(word), "note") && rest != "" {
		return strings.TrimSpace(rest)
	}
	return note
}

// tell marks the words of a remark beside an act as unread where it may have been an act: it holds a verb, a particle or a
// figure.
func (r *line) tell(cl phrase.Clause) {
	roles := r.roles(cl.Items)
	if cl.Question || slices.Contains(roles, mood) {
		figureOnly := slices.ContainsFunc(cl.Items, func(it phrase.Item) bool { return it.Fig != nil })
		if !figureOnly {
			return
		}
	}
	for i := range cl.Items {
		if roles[i] == particle || roles[i] == act || roles[i] == figure || roles[i] == backAct {
			for k, it := range cl.Items {
				if roles[k] != joins && !phrase.Little[it.Low] {
					r.unread = append(r.unread, it.Tokens...)
				}
			}
			return
		}
	}
}

// lateScrews puts screws before the cover that they hold, where the line names the cover first: "plate off, 4 star".
func (r *line) lateScrews() {
	for i := 1; i < len(r.drafts); i++ {
		d, o := r.drafts[i], r.drafts[i-1]
		if d.f.Verb == "unfasten" && !d.f.Back && !o.f.Back && (o.f.Verb == "bracket" || o.f.Verb == "lift") && samePart(d.m, o.m) {
			r.drafts[i-1], r.drafts[i] = d, o
		}
	}
}

func samePart(a, b meant) bool {
	p, q := a.one(), b.one()
	return p != nil && q != nil && p.ID == q.ID || p == nil && q == nil && a.fresh != "" && a.fresh == b.fresh
}
