package narrate

import (
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/lexicon"
	"waryowl/internal/core/shorthand"
)

// near is within how many seconds a fact said twice is one.
const nearSeconds = 40

// merge makes one of what was said twice, and joins what belongs together.
func (r *reader) merge() {
	var out []Proposal
	for _, p := range r.list {
		twin := -1
		for k := len(out) - 1; k >= 0 && p.Start-out[k].Start <= nearSeconds; k-- {
			if r.same(out[k], p) && (out[k].Object == p.Object || !generic[lastWord(p.Object)] || p.Start-out[k].Start <= 12) {
				twin = k
				break
			}
		}
		if twin < 0 && p.Kind == "step" && p.Verb == "unfasten" && p.Count == 0 && p.Acted {
			for k := len(out) - 1; k >= 0 && p.Start-out[k].Start <= nearSeconds; k-- {
				if o := &out[k]; (o.Kind == "count" || o.Kind == "step" && o.Verb == "unfasten") && o.Count > 0 &&
					lastWord(o.Object) == lastWord(p.Object) {
					o.Kind, o.Verb, o.Rule, o.Did, o.Acted = "step", "unfasten", "step.state", p.Did, true
					twin = -2
					break
				}
			}
			if twin == -2 {
				continue
			}
		}
		if twin < 0 && p.Kind == "step" && p.Verb == "unfasten" && p.Count > 0 && p.Acted {
			for k := len(out) - 1; k >= 0 &&
				p.Start-out[k].Start <= 60; k-- { // "four cross screws … and they are out": one fact
				if o := out[k]; o.Kind == "count" && o.Count == p.Count && o.Withdrawn == "" && o.Object == p.Object &&
					o.Unit == p.Unit {
					r.moved(out, o.tok, p.tok)
					out = slices.Delete(out, k, k+1)
					break
				}
			}
		}
		if twin < 0 {
			out = append(out, p)
			continue
		}
		old := &out[twin]
		if !old.Acted && p.Acted { // a plan and its report: the report
			p.Count = max(p.Count, old.Count)
			*old = p
			continue
		}
		if old.Count == 0 {
			old.Count = p.Count
		}
		if old.Value == nil {
			old.Value = p.Value
		}
		if old.Tool == "" {
			old.Tool = p.Tool
		}
	}
	r.list = out
	r.faces()
	r.correct()
}

// moved follows what takes the place of a withdrawn statement when it is joined with another one.
func (r *reader) moved(list []Proposal, from, to int) {
	was, is := fmt.Sprint("#", from), fmt.Sprint("#", to)
	for i := range list {
		if list[i].Withdrawn == was {
			list[i].Withdrawn = is
		}
	}
	for i := range r.fixes {
		if r.fixes[i].By == was {
			r.fixes[i].By = is
		}
	}
}

// faces gives heats of which nobody said the face the face that was opened next.
func (r *reader) faces() {
	for k := range r.list {
		p := &r.list[k]
		if p.Kind != "heat" || !slices.Contains(r.faceless, p.tok) {
			continue
		}
		for _, q := range r.list[k+1:] {
			if q.Kind == "step" && q.Acted && (q.Object == "display" || q.Object == "rear glass") &&
				q.Verb != "disconnect" {
				p.Object = q.Object
				break
			}
		}
	}
}

func (r *reader) same(a, b Proposal) bool {
	if a.Kind != b.Kind || a.Verb != b.Verb || a.Kind == "check" && a.Start != b.Start ||
		a.Kind == "incident" && a.Object != b.Object {
		return false
	}
	if a.Kind == "heat" || a.Kind == "wait" || a.Kind == "price" || a.Kind == "measure" || a.Kind == "score" {
		return a.Value != nil && b.Value != nil && *a.Value == *b.Value && (a.Object == b.Object || a.Kind == "heat")
	}
	if a.Unit != b.Unit && a.UnitBy == "named" && b.UnitBy == "named" {
		return false
	}
	if a.Acted != b.Acted && (a.Did == "said by others" || b.Did == "said by others" || a.Acted) {
		return false
	}
	if a.Object != b.Object && lastWord(a.Object) != lastWord(b.Object) {
		return false
	}
	if a.Object != b.Object && (strings.Contains(a.Object, "screw") || strings.Contains(a.Object, "bracket")) ||
		a.Object != b.Object && generic[lastWord(a.Object)] && a.Object != lastWord(a.Object) &&
			b.Object != lastWord(b.Object) {
		return false
	}
	return a.Count == b.Count || a.Count == 0 || b.Count == 0
}

var retractions = []string{"no sorry", "sorry", "no wait", "scrap that", "i mean", "actually"}

// correct links what was said to what takes its place within fifteen seconds.
func (r *reader) correct() {
	const window = 15
	for i, t := range r.toks {
		words := t.w
		if i+1 < len(r.toks) {
			words += " " + r.toks[i+1].w
		}
		how := ""
		for _, w := range retractions {
			if words == w || t.w == w && w != "sorry" {
				how = w
				break
			}
		}
		if how == "" || how == "actually" && i > 0 && r.toks[i-1].brk == 0 {
			continue
		}
		before, after := -1, -1
		for k := range r.list {
			p := &r.list[k]
			switch {
			case p.tok < i && r.in.Cues[t.cue].Start-p.Start <= window && (p.Count > 0 || p.Value != nil || p.Kind == "step" ||
				p.Kind == "put_back"):
				if before < 0 || p.tok > r.list[before].tok {
					before = k
				}
			case p.tok > i && p.Start-r.in.Cues[t.cue].Start <= window && (after < 0 || p.tok < r.list[after].tok):
				after = k
			}
		}
		if before < 0 || after < 0 {
			continue
		}
		a, b := &r.list[before], &r.list[after]
		kin := a.Kind == b.Kind || a.Kind == "count" && b.Kind == "step" || a.Kind == "step" && b.Kind == "count"
		near := a.Kind == b.Kind && a.Verb == b.Verb && i-a.tok <= 4 &&
			b.tok-i <= 5 // "earpiece out, no wait, loudspeaker out"
		if !kin || !near && lastWord(a.Object) != lastWord(b.Object) && !strings.Contains(a.Object, "screw") {
			continue
		}
		if a.Withdrawn != "" {
			continue
		}
		a.Withdrawn = fmt.Sprint("#", b.tok)
		r.fixes = append(
			r.fixes,
			Correction{
				Proposal: fmt.Sprint("#", a.tok),
				By:       fmt.Sprint("#", b.tok),
				Cue:      t.cue,
				How:      "replaced",
				Text:     words,
			},
		)
	}
}

// line is the fact as a line of the bench, where the bench has one that reads the same.
func (r *reader) line(p Proposal) string {
	count := ""
	if p.Count > 0 {
		count = fmt.Sprintf("%d ", p.Count)
	}
	name := p.Object
	if p.Part != "" {
		name = p.Part
	}
	at := "@" + strings.ReplaceAll(strings.TrimSuffix(strings.TrimSuffix(name, " screw"), " standoff"), " ", "-")
	if name == "screw" || name == "standoff" {
		at = ""
	}
	plus := map[bool]string{true: "+"}[p.Kind == "put_back"]
	line := ""
	switch {
	case p.Kind == "count" && strings.Contains(p.Object, "screw"):
		return ""
	case (p.Kind == "step" || p.Kind == "put_back") && p.Verb == "unfasten":
		d := strings.TrimSuffix(p.Object, " screw")
		if _, known := lexicon.Is(lexicon.Norm(d), lexicon.Drive); known {
			line, at = plus+"u "+count+d, ""
		} else {
			line = strings.TrimSpace(plus + "u " + count + at)
		}
	case p.Kind == "step" || p.Kind == "put_back":
		key := map[string]string{"lift": "l", "disconnect": "d", "peel": "x", "cut": "c", "pry": "p", "slide": "s",
			"pull": "l", "open": "l"}[p.Verb]
		if key == "l" && strings.Contains(name, "bracket") {
			key = "b"
		}
		if key != "" {
			line = plus + key + " " + name
		}
	case p.Kind == "heat" && p.Value != nil:
		line = "h " + p.Tool
		for _, v := range append([]Value{*p.Value}, p.More...) {
			line += fmt.Sprintf(" %g%s", v.N, v.Unit)
		}
	case p.Kind == "solvent":
		line = "w alcohol"
		if p.Value != nil {
			line += fmt.Sprintf(" %g%s", p.Value.N, p.Value.Unit)
		}
		line += " " + name
	case p.Kind == "release":
		line = strings.TrimSpace("r tabs " + count + "battery")
	case p.Kind == "measure" && p.Value != nil:
		line = fmt.Sprintf("m %s %g%s", name, p.Value.N, p.Value.Unit)
	case p.Kind == "incident":
		line = "! " + p.Verb + " " + name
	case p.Kind == "check" || p.Kind == "trial" || p.Kind == "verdict" || p.Kind == "score" || p.Kind == "price" ||
		p.Kind == "wait":
		return ""
	}
	if line == "" || !r.reads(line) {
		return "?"
	}
	return line
}

// reads says whether the grammar of the bench takes a line without a trouble.
func (r *reader) reads(line string) bool {
	ok, known := r.parsed[line]
	if !known {
		if r.vocabulary.Parts == nil {
			for _, p := range r.in.Parts {
				r.vocabulary.Parts = append(
					r.vocabulary.Parts,
					shorthand.Named{Name: p.Name, Aliases: slices.Clone(p.Aliases)},
				)
			}
		}
		x := shorthand.Parse(line, r.vocabulary)
		ok = len(x.Unread) == 0 && len(x.Candidates) == 0
		r.parsed[line] = ok
	}
	return ok
}
