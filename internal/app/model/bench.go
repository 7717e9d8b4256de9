package model

import (
	"slices"

	"waryowl/internal/core/benchline"
	"waryowl/internal/core/entry"
	"waryowl/internal/core/interlock"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/quantity"
	"waryowl/internal/core/shorthand"
)

// Bench is what the bench line and the stops need to know of any phone of the model: nothing done yet, its charge
// unknown.
func (k *Record) Bench(unit string) benchline.Context {
	c := benchline.Context{Vocabulary: shorthand.Vocabulary{Unit: unit, Parts: k.named(), Tools: []string{}},
		Steps: k.Plan(), Done: plan.Run{}, Packs: []quantity.Pack{},
		State: interlock.State{Charge: -1, Limit: entry.ChargeLimit, Polarity: k.Polarity}}
	for _, p := range k.Parts {
		if p.CapacityMAh > 0 && p.EnergyWh > 0 {
			c.Packs = append(c.Packs, quantity.Pack{MAh: p.CapacityMAh, Wh: p.EnergyWh, Cells: p.Cells})
		}
	}
	if c.Steps == nil {
		c.Steps = plan.Plan{}
	}
	for i, s := range c.Steps {
		c.Steps[i].Part = k.about()[s.ID]
		if s.Tool != "" && !slices.Contains(c.Tools, s.Tool) {
			c.Tools = append(c.Tools, s.Tool)
		}
	}
	return c
}

func (k *Record) named() []shorthand.Named {
	list := []shorthand.Named{}
	for _, p := range k.Parts {
		list = append(list, shorthand.Named{ID: p.ID, Name: p.Name, Aliases: append([]string{}, p.Aliases...),
			Kind: k.Kind(p.ID)})
	}
	return list
}

// about is the part that each step is about, by the step's id. A step from before parts were recorded is told by its
// words.
func (k *Record) about() map[string]string {
	if k.stepParts == nil {
		v := shorthand.Vocabulary{Parts: k.named()}
		k.stepParts = map[string]string{}
		for _, s := range k.Steps {
			part := s.PartID
			if part == "" {
				part, _, _ = shorthand.Find(s.What, v)
			}
			k.stepParts[s.ID] = part
		}
	}
	return k.stepParts
}
