package compare

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/model"
	"waryowl/internal/core/compare"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// ofVariant is a model as one of its region variants: without the parts that it lacks, with a part for what it adds.
func ofVariant(k *model.Record, field, variant string) (*model.Record, error) {
	if variant == "" {
		return k, nil
	}
	if !slices.Contains(k.Variants, variant) {
		return nil, fault.New(
			field,
			variant,
			"a variant of the "+k.Name+": "+cmp.Or(strings.Join(k.Variants, ", "), "none is on record"),
		)
	}
	v := *k
	v.Name = k.Name + " (" + variant + ")"
	v.Parts = slices.Clone(k.Parts)
	for _, n := range k.VariantNotes {
		if n.Variant != variant {
			continue
		}
		v.Parts = slices.DeleteFunc(v.Parts, func(p store.Part) bool {
			return slices.ContainsFunc(n.Lacks, func(l string) bool {
				return strings.EqualFold(l, p.Name) ||
					slices.ContainsFunc(p.Aliases, func(a string) bool { return strings.EqualFold(l, a) })
			})
		})
		for i, name := range n.Adds {
			v.Parts = append(v.Parts, store.Part{Row: store.Row{ID: fmt.Sprintf("added-%d", i)}, ModelID: k.ID,
				PartFacts: store.PartFacts{Name: name, Family: "FR"}})
		}
	}
	v.PartByID = map[string]store.Part{}
	for _, p := range v.Parts {
		v.PartByID[p.ID] = p
	}
	return &v, nil
}

// outline is a model in the terms of the engine.
func outline(k *model.Record) compare.Model {
	m := compare.Model{
		ID:     k.ID,
		Name:   k.Name,
		Width:  cmp.Or(k.WidthMM, 70),
		Height: cmp.Or(k.HeightMM, 145),
		Face:   "front",
		Away:   "top",
	}
	joints := k.Joints()
	layered := slices.ContainsFunc(k.Parts, func(p store.Part) bool { return p.Layer > 0 })
	for _, p := range k.Parts {
		q := compare.Part{
			ID:         p.ID,
			Kind:       cmp.Or(k.Kind(p.ID), "part of "+p.Family),
			Names:      append([]string{p.Name}, p.Aliases...),
			Family:     p.Family,
			Carries:    k.Carries(p.ID),
			Quantities: map[string]compare.Quantity{},
		}
		if p.WMM > 0 && p.HMM > 0 {
			q.Rect = &compare.Rect{X: p.XMM, Y: p.YMM, W: p.WMM, H: p.HMM}
		}
		if layered {
			q.Layer = &p.Layer
		}
		for name, x := range model.Quantities(p) {
			q.Quantities[name] = compare.Quantity{Value: x.Value, U: x.U, Unit: x.Unit}
		}
		for _, h := range joints[p.ID] {
			q.Joints = append(q.Joints, compare.Joint{Type: h.Type, What: h.What, Length: h.Length, Count: &h.Count})
		}
		m.Parts = append(m.Parts, q)
	}
	return m
}

func wayOf(k *model.Record, kind string) *model.Way {
	p := k.OfKind(kind)
	if p == nil {
		return nil
	}
	if w := k.WayTo(p.ID); w != nil && w.Blocked == "" {
		return w
	}
	return nil
}

// asWay gives the engine attended seconds, the figure that all steps add up to. A step about a part that this variant
// lacks falls away.
func asWay(w *model.Way, k *model.Record) compare.Way {
	out := compare.Way{
		Steps:   []compare.Step{},
		Depth:   w.Depth,
		Seconds: w.AttendedMinutes * 60,
		Tools:   w.Tools,
		Risk:    map[string]float64{},
	}
	for _, s := range w.Steps {
		part := s.Part
		if part == "" && len(s.Frees) > 0 {
			part = s.Frees[0]
		}
		if _, has := k.PartByID[part]; part != "" && !has {
			out.Seconds -= s.Seconds
			continue
		}
		out.Steps = append(out.Steps, compare.Step{Part: part, Seconds: s.Seconds})
	}
	for _, v := range w.Survival {
		out.Risk[v.Part] = min(0.999, max(0, 1-v.P))
	}
	return out
}

// things are the parts of a model with their places in the newer one.
func things(k *model.Record, mine, b compare.Model) []Thing {
	list := []Thing{}
	for i, p := range k.Parts {
		t := Thing{ID: p.ID, Name: p.Name, Family: p.Family, Kind: k.Kind(p.ID), Source: p.Source}
		if r := mine.Parts[i].Rect; r != nil {
			x, y := compare.Centre(mine, b, *r)
			w, h := r.W/mine.Width*b.Width, r.H/mine.Height*b.Height
			t.Place = &Place{X: x - w/2, Y: y - h/2, W: w, H: h}
		}
		list = append(list, t)
	}
	return list
}
