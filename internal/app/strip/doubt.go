package strip

import (
	"fmt"

	"waryowl/internal/app/study"
	"waryowl/internal/core/quantity"
	"waryowl/internal/store"
)

// PartDoubt is an objection to the figures of a part.
type PartDoubt struct {
	PartID string                `json:"part_id"`
	Part   string                `json:"part"`
	Text   string                `json:"text"`
	Fixes  []quantity.Correction `json:"fixes" nullable:"false" doc:"single digits that would fit"`
}

// Doubts objects to what cannot be: packs that imply an odd voltage, parts larger or heavier than their phone.
func Doubts(b *study.Record) []PartDoubt {
	list := []PartDoubt{}
	add := func(p store.Part, text string, fixes []quantity.Correction) {
		if fixes == nil {
			fixes = []quantity.Correction{}
		}
		list = append(list, PartDoubt{PartID: p.ID, Part: p.Name, Text: text, Fixes: fixes})
	}
	var packs []quantity.Pack
	for _, p := range b.Know.Parts {
		packs = append(packs, quantity.Pack{MAh: p.CapacityMAh, Wh: p.EnergyWh, Cells: p.Cells})
	}
	mass, weighed := quantity.Quantity{Unit: "g"}, 0
	for _, p := range b.Know.Parts {
		if d := quantity.Battery(quantity.Pack{MAh: p.CapacityMAh, Wh: p.EnergyWh, Cells: p.Cells}, packs); d != nil {
			add(p, d.Text, d.Corrections)
		}
		for _, side := range []struct {
			field, name string
			v, most     float64
		}{{"w_mm", "width", p.WMM, b.Know.WidthMM}, {"h_mm", "height", p.HMM, b.Know.HeightMM}, {"thickness_mm",
			"thickness", p.ThicknessMM, b.Know.ThicknessMM}, {"mass_g", "mass", p.MassG, b.Know.MassG}} {
			if side.most > 0 && side.v > side.most {
				var fixes []quantity.Correction
				if y, ok := quantity.Nearer(side.v, side.most/1000, side.most); ok {
					fixes = append(fixes, quantity.Correction{Field: side.field, Value: y})
				}
				add(p, fmt.Sprintf("its %s of %g is more than the whole phone's %g", side.name, side.v, side.most),
					fixes)
			}
		}
		if p.MassG > 0 {
			mass.Value += p.MassG
			weighed++
		}
	}
	if m := b.Know.MassG; m > 0 && mass.Value > m*1.02 && weighed > 1 {
		list = append(list, PartDoubt{Part: "all parts",
			Text: fmt.Sprintf("the parts weigh %.1f g together, the phone %g g: one was misread or counted twice",
				mass.Value, m), Fixes: []quantity.Correction{}})
	}
	return list
}
