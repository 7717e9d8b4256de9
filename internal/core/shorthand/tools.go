package shorthand

import (
	"slices"
	"strings"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/trade"
)

// tool reads "with the plastic pick": the longest known tool, else up to three words.
func (r *reader) tool(i int) {
	list, n := r.after(i+1, 4)
	if len(list) == 0 {
		return
	}
	for k := len(list); k > 0; k-- {
		p := spoken(list[:k])
		_, known := trade.ToolOf(p)
		if known || slices.ContainsFunc(r.v.Tools, func(t string) bool { return trade.Plain(t) == p }) {
			r.setTool(trade.Plain(typed(list[:k])))
			r.use(i, n-(len(list)-k)+1)
			// A driver's size belongs to the tool: "with tri-wing 0.6".
			return
		}
	}
	for _, t := range r.v.Tools {
		if p := trade.Plain(t); strings.HasPrefix(p, spoken(list)) && len(strings.Fields(p)) > len(list) {
			m := len(strings.Fields(p))
			if i+1+m <= len(r.list) && spoken(r.list[i+1:i+1+m]) == p {
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
	if k, _ := trade.KindOf(typed(list)); k != "" || r.exact(spoken(list)) != nil {
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
			p := spoken(r.list[i : i+n])
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
		p := spoken(list[i : i+n])
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
	if m := phrase.CodeForm.FindStringSubmatch(list[i].plain); m != nil {
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
	return len(w) <= 4 && w[:1] == "0" && (phrase.Digits(w) && len(w) > 1 ||
		len(w) > 2 && (w[1] == '.' || w[1] == ',') && phrase.Digits(w[2:]))
}
