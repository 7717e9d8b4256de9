package strip

import (
	"cmp"
	"waryowl/internal/app/study"
	"waryowl/internal/core/quantity"
)

// PartDoubt is an objection to the figures of a part.
type PartDoubt struct {
	PartID string                `json:"part_id"`
	Part   string                `json:"part"`
	Text   string                `json:"text"`
	Fixes  []quantity.Correction `json:"fixes" nullable:"false" doc:"single digits that would fit"`
}

// Doubts lists what cannot be among the figures of the study's model.
func Doubts(b *study.Record) []PartDoubt {
	m := b.Know.Model
	phone := quantity.Body{Width: m.WidthMM, Height: m.HeightMM, Thickness: m.ThicknessMM, MassG: m.MassG}
	var parts []quantity.Body
	for _, p := range b.Know.Parts {
		parts = append(parts, quantity.Body{ID: p.ID, Name: p.Name, Width: p.WMM, Height: p.HMM,
			Thickness: p.ThicknessMM, MassG: p.MassG,
			Pack: quantity.Pack{MAh: p.CapacityMAh, Wh: p.EnergyWh, Cells: p.Cells}})
	}
	list := []PartDoubt{}
	for _, o := range quantity.Objections(phone, parts) {
		list = append(list, PartDoubt{PartID: o.Part, Part: cmp.Or(b.Know.PartByID[o.Part].Name, "all parts"),
			Text:  o.Text,
			Fixes: append([]quantity.Correction{}, o.Fixes...)})
	}
	return list
}
