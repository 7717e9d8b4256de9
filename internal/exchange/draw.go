package exchange

import (
	"cmp"
	"fmt"
	"html"
	"slices"
	"strings"

	"waryowl/internal/app/model"
	"waryowl/internal/app/score"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// placed are the parts that have a size, the ones that lie deepest first.
func (m *Map) placed() []store.Part {
	list := slices.DeleteFunc(slices.Clone(m.Parts), func(p store.Part) bool { return p.WMM <= 0 || p.HMM <= 0 })
	slices.SortStableFunc(list, func(a, b store.Part) int { return cmp.Compare(b.WMM*b.HMM, a.WMM*a.HMM) })
	return list
}

// label is what a part is called on the map, and whether it is filled: on a way those that its steps free, by number.
func (m *Map) label(p store.Part) (text string, on bool) {
	if m.Marks == nil {
		return p.Name, true
	}
	n := m.Marks[p.ID]
	return strings.TrimSpace(n + " " + p.Name), n != ""
}

// SVG draws the map in millimetres, body and lid beside each other.
func (m *Map) SVG() string {
	w, h := m.Width, m.Height
	if w <= 0 || h <= 0 {
		return ""
	}
	const gap = 8
	lid := slices.ContainsFunc(m.placed(), func(p store.Part) bool { return p.Pane == "lid" })
	wide := w
	if lid {
		wide = 2*w + gap
	}
	var b strings.Builder
	fmt.Fprintf(
		&b,
		`<svg xmlns="http://www.w3.org/2000/svg" viewBox="-1 -1 %g %g" width="%gmm" height="%gmm" role="img" aria-label="Where the parts lie">`,
		wide+2,
		h+2,
		wide+2,
		h+2,
	)
	pane := func(x float64) {
		fmt.Fprintf(
			&b,
			`<rect x="%g" y="0" width="%g" height="%g" fill="none" stroke="#1e2a2e" stroke-width=".4"/>`,
			x,
			w,
			h,
		)
	}
	pane(0)
	if lid {
		pane(w + gap)
	}
	for _, p := range m.placed() {
		x := p.XMM
		if p.Pane == "lid" {
			x += w + gap
		}
		text, on := m.label(p)
		name, fill := html.EscapeString(text), "#dfe8e0"
		if !on {
			fill = "none"
		}
		fmt.Fprintf(
			&b,
			`<g><title>%s</title><rect x="%g" y="%g" width="%g" height="%g" fill="%s" stroke="#1d5c55" stroke-width=".3"/>`,
			html.EscapeString(p.Name),
			x,
			p.YMM,
			p.WMM,
			p.HMM,
			fill,
		)
		fmt.Fprintf(
			&b,
			`<text x="%g" y="%g" font-size="%.1f" font-family="sans-serif" fill="#1e2a2e">%s</text></g>`,
			x+0.8,
			p.YMM+3,
			min(2.8, max(1.4, p.WMM/(0.55*float64(len([]rune(text)))+1))),
			name,
		)
	}
	b.WriteString("</svg>")
	return b.String()
}

// MapSVG is the map of a model as a file.
func MapSVG(k *model.Record) []byte {
	m := Map{Width: k.WidthMM, Height: k.HeightMM, Parts: k.Parts}
	text := m.SVG()
	if text == "" {
		text = `<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="10mm"><text y="5mm">no size on record</text></svg>`
	}
	return []byte(`<?xml version="1.0" encoding="UTF-8"?>` + "\n" + text + "\n")
}

// ScoreSVG draws a model under every school: a band from the low to the high end on the school's own scale.
func ScoreSVG(v score.Room) []byte {
	const left, wide, row = 92.0, 90.0, 9.0
	var b strings.Builder
	high := row*float64(len(v.Schools)) + 14
	fmt.Fprintf(
		&b,
		`<?xml version="1.0" encoding="UTF-8"?>`+"\n"+`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 %g" width="200mm" height="%gmm" font-family="sans-serif" font-size="3.4">`,
		high,
		high,
	)
	fmt.Fprintf(
		&b,
		`<title>%s by scoring method</title><text x="2" y="5" font-weight="600">%s, as of %s%s</text>`,
		html.EscapeString(v.Model.Name),
		html.EscapeString(v.Model.Maker+" "+v.Model.Name),
		v.Date,
		html.EscapeString(onSoftware(v.Build)),
	)
	for i, s := range v.Schools {
		y := 10 + row*float64(i)
		at := func(x float64) float64 { return left + wide*(x-s.Scale[0])/(s.Scale[1]-s.Scale[0]) }
		fmt.Fprintf(
			&b,
			`<g><title>%s</title><text x="2" y="%g">%s</text><path d="M%g %gh%g" stroke="#8d918a" stroke-width=".3"/>`,
			html.EscapeString(s.Range),
			y+4,
			html.EscapeString(s.Title),
			left,
			y+6,
			wide,
		)
		for m := s.Scale[0]; m <= s.Scale[1]; m++ {
			fmt.Fprintf(&b, `<path d="M%g %gv-1.2" stroke="#8d918a" stroke-width=".3"/>`, at(m), y+6)
		}
		lo, hi := at(s.Score.Range[0]), at(s.Score.Range[1])
		fmt.Fprintf(
			&b,
			`<rect x="%g" y="%g" width="%g" height="3" fill="#dfe8e0" stroke="#1d5c55" stroke-width=".3"/>`,
			lo,
			y+1.4,
			max(0.6, hi-lo),
		)
		fmt.Fprintf(
			&b,
			`<text x="%g" y="%g">%.*f–%.*f</text></g>`,
			left+wide+2,
			y+4,
			s.Digits,
			s.Score.Range[0],
			s.Digits,
			s.Score.Range[1],
		)
	}
	b.WriteString("</svg>\n")
	return []byte(b.String())
}

func onSoftware(build string) string {
	if build == "" {
		return ""
	}
	return ", software " + build
}

// DOT is the plan as a graph for Graphviz: an arrow goes from a step to one that waits for it; those of one alternative
// share a style.
func DOT(k *model.Record) []byte {
	quote := func(s string) string {
		return `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`, "\n", " ").Replace(s) + `"`
	}
	var b strings.Builder
	fmt.Fprintf(
		&b,
		"digraph plan {\n  label=%s;\n  rankdir=TB;\n  node [shape=box, fontname=\"sans-serif\"];\n",
		quote(k.Maker+" "+k.Name),
	)
	for _, s := range k.Steps {
		label := s.Mark + ": " + trade.Order(s.Verb, s.What)
		if frees := k.PartNames(s.Frees); len(frees) > 0 {
			label += " → " + strings.Join(frees, ", ")
		}
		fmt.Fprintf(&b, "  %s [label=%s];\n", quote(s.Mark), quote(label))
	}
	for _, s := range k.Steps {
		for i, alt := range s.After {
			style := ""
			if len(s.After) > 1 {
				style = fmt.Sprintf(" [style=dashed, label=%s]", quote("or "+string(rune('a'+i))))
			}
			for _, m := range k.Marks(alt) {
				fmt.Fprintf(&b, "  %s -> %s%s;\n", quote(m), quote(s.Mark), style)
			}
		}
	}
	b.WriteString("}\n")
	return []byte(b.String())
}
