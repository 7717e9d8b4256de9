package quantity

import (
	"strings"
	"testing"
)

// TestObjections: what cannot be about a phone and its parts, each with the figure that was meant where one digit tells
// it.
func TestObjections(t *testing.T) {
	phone := Body{Width: 72, Height: 148, Thickness: 8.1, MassG: 187}
	fine := []Body{{ID: "b", MassG: 47.5, Width: 21, Height: 92, Thickness: 4.6, Pack: Pack{MAh: 3582, Wh: 13.94}},
		{ID: "d", MassG: 38.2}}
	for name, c := range map[string]struct {
		change func([]Body)
		part   string
		says   string
		fix    float64
	}{
		"nothing":                {func([]Body) {}, "", "", 0},
		"a misread energy":       {func(b []Body) { b[0].Pack.Wh = 14.94 }, "b", "4.17", 13.94},
		"wider than the phone":   {func(b []Body) { b[1].Width = 700 }, "d", "more than the whole phone's 72", 70},
		"heavier than the phone": {func(b []Body) { b[1].MassG = 382 }, "d", "mass of 382", 182},
		"together too heavy": {func(b []Body) { b[0].MassG, b[1].MassG = 100, 100 }, "", "weigh 200.0 g together",
			0},
	} {
		parts := append([]Body{}, fine...)
		c.change(parts)
		list := Objections(phone, parts)
		if c.says == "" {
			if len(list) > 0 {
				t.Errorf("%s: %+v", name, list)
			}
			continue
		}
		found := false
		for _, o := range list {
			if o.Part == c.part && strings.Contains(o.Text, c.says) {
				found = c.fix == 0
				for _, f := range o.Fixes {
					found = found || f.Value == c.fix
				}
			}
		}
		if !found {
			t.Errorf("%s: %+v", name, list)
		}
	}
}
