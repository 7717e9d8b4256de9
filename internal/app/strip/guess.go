package strip

import (
	"slices"

	"waryowl/internal/app/study"
	"waryowl/internal/store"
)

// guesses offers the predecessor's steps while the plan knows nothing further: those after as many as were done.
func guesses(b *study.Record, done int) []NextStep {
	list := []NextStep{}
	if b.Ahead == nil {
		return list
	}
	for _, s := range b.Ahead.Steps[min(done, len(b.Ahead.Steps)):] {
		known := slices.ContainsFunc(b.Know.Steps, func(o store.PlanStep) bool {
			return o.What == s.What &&
				o.Verb == s.Verb
		})
		if known || len(list) == 8 {
			continue
		}
		f := s.StepFacts
		f.After, f.Risk, f.Frees, f.PartID = nil, nil, nil, ""
		for _, id := range s.Frees {
			if p := b.Know.PartNamed(b.Ahead.PartByID[id].Name); p != nil {
				f.Frees = append(f.Frees, p.ID)
			}
		}
		list = append(list, NextStep{Facts: &f, From: b.Ahead.Name, Cautions: b.Ahead.Cautions(s)})
	}
	return list
}
