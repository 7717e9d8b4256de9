package exchange

import (
	"cmp"
	"fmt"
	"html"
	"slices"
	"strings"

	"waryowl/internal/app/model"
	"waryowl/internal/store"
)

// placed are the parts that have a size, the ones that lie deepest first.
func (m *Map) placed() []store.Part {
	list := slices.DeleteFunc(slices.Clone(m.Parts), func(p store.Part) bool { return p.WMM <= 0 || p.HMM <= 0 })
	slices.SortStableFunc(list, func(a, b store.Part) int { return cmp.Compare(b.WMM*b.HMM, a.WMM*a.HMM) })
	return list
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
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="-1 -1 %g %g" width="%gmm" height="%gmm" role="img" aria-label="Where the parts lie">`,
		wide+2, h+2, wide+2, h+2)
	pane := func(x float64) {
		fmt.Fprintf(&b, `<rect x="%g" y="0" width="%g" height="%g" fill="none" stroke="#1e2a2e" stroke-width=".4"/>`, x, w, h)
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
		name := html.EscapeString(p.Name)
		fmt.Fprintf(&b, `<g><title>%s</title><rect x="%g" y="%g" width="%g" height="%g" fill="#dfe8e0" stroke="#1d5c55" stroke-width=".3"/>`,
			name, x, p.YMM, p.WMM, p.HMM)
		fmt.Fprintf(&b, `<text x="%g" y="%g" font-size="%.1f" font-family="sans-serif" fill="#1e2a2e">%s</text></g>`, x+0.8, p.YMM+3,
			min(2.8, max(1.4, p.WMM/(0.55*float64(len([]rune(p.Name)))+1))), name)
	}
	b.WriteString("</svg>")
	return b.String()
}

// MapSVG is the map of a model as a file.
func MapSVG(k *model.Record) []byte {
	m := Map{k.WidthMM, k.HeightMM, k.Parts}
	text := m.SVG()
	if text == "" {
		text = `<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="10mm"><text y="5mm">no size on record</text></svg>`
	}
	return []byte(`<?xml version="1.0" encoding="UTF-8"?>` + "\n" + text + "\n")
}

// DOT is the plan as a graph for Graphviz: an arrow goes from a step to one that waits for it; those of one alternative
// share a style.
func DOT(k *model.Record) []byte {
	quote := func(s string) string {
		return `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`, "\n", " ").Replace(s) + `"`
	}
	var b strings.Builder
	fmt.Fprintf(&b, "digraph plan {\n  label=%s;\n  rankdir=TB;\n  node [shape=box, fontname=\"sans-serif\"];\n", quote(k.Maker+" "+k.Name))
	for _, s := range k.Steps {
		label := s.Mark + ": " + s.Verb + " " + s.What
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
