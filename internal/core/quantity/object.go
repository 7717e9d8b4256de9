package quantity

import "fmt"

// Body is the figures of a part, or of the whole phone that holds it; 0 means not recorded.
type Body struct {
	ID, Name                        string
	Width, Height, Thickness, MassG float64
	Pack                            Pack
}

// Objection is what cannot be about the figures of a body; Part is empty for all of them together.
type Objection struct {
	Part  string
	Text  string
	Fixes []Correction
}

// sumSlack is how much more than the phone its parts may weigh together before somebody asks (house: scales and
// rounding).
const sumSlack = 1.02

// Objections objects to what cannot be: packs that imply an odd voltage or whose rank is turned over, parts larger or
// heavier than their phone, parts that weigh more together.
func Objections(phone Body, parts []Body) []Objection {
	list := []Objection{}
	var packs []Pack
	for _, p := range parts {
		packs = append(packs, p.Pack)
	}
	mass, weighed := 0.0, 0
	for _, p := range parts {
		if d := Battery(p.Pack, packs); d != nil {
			list = append(list, Objection{p.ID, d.Text, d.Corrections})
		}
		for _, side := range []struct {
			field, name string
			v, most     float64
		}{{"w_mm", "width", p.Width, phone.Width}, {"h_mm", "height", p.Height, phone.Height},
			{"thickness_mm", "thickness", p.Thickness, phone.Thickness}, {"mass_g", "mass", p.MassG, phone.MassG}} {
			if side.most > 0 && side.v > side.most {
				var fixes []Correction
				if y, ok := Nearer(side.v, side.most/1000, side.most); ok {
					fixes = append(fixes, Correction{Field: side.field, Value: y})
				}
				list = append(list, Objection{p.ID, fmt.Sprintf("its %s of %g is more than the whole phone's %g",
					side.name, side.v, side.most), fixes})
			}
		}
		if p.MassG > 0 {
			mass += p.MassG
			weighed++
		}
	}
	if phone.MassG > 0 && mass > phone.MassG*sumSlack && weighed > 1 {
		list = append(list, Objection{"",
			fmt.Sprintf("the parts weigh %.1f g together, the phone %g g: one was misread or counted twice", mass,
				phone.MassG), nil})
	}
	return list
}
