package app

import (
	"cmp"
	"slices"

	"waryowl/internal/core/risk"
	"waryowl/internal/store"
)

// hazardKey is what incidents are counted by: a method on a side of this model, and the part that it may hurt. Methods are never
// pooled.
type hazardKey struct{ method, side, part string }

// Odds are the counted incidents behind one hazard of a way: k of n by this method, the exact 95 % interval (0 to 1 while n is
// 0: unknown), and the chance used for computing.
type Odds struct {
	Part      string  `json:"part"`
	Method    string  `json:"method"`
	Side      string  `json:"side"`
	K         int     `json:"k"`
	N         int     `json:"n"`
	Low       float64 `json:"low"`
	High      float64 `json:"high"`
	Used      float64 `json:"used" doc:"chance used for computing: counts with the plan's figure worth 20 attempts"`
	Certainty string  `json:"certainty"`
}

func method(s store.PlanStep) string { return first(s.Method, s.Tool, s.Verb) }

// count goes through runs and outcomes once: every time a step with a declared hazard was carried out is an attempt.
func (k *knowledge) count(runs []store.LogEntry, outcomes []store.Outcome) {
	k.counts = map[hazardKey]risk.Count{}
	add := func(step, part, how string, hurt bool) {
		s, ok := k.step[step]
		if !ok {
			return
		}
		key := hazardKey{first(how, method(s)), s.Side, part}
		c := k.counts[key]
		if hurt {
			c.K++
		} else {
			c.N++
		}
		k.counts[key] = c
	}
	for _, r := range runs {
		switch {
		case r.Kind == "step" && !r.Back && r.Outcome != "not tried":
			for part := range k.step[r.StepID].Risk {
				add(r.StepID, part, r.Detail.Method, false)
			}
			if r.Outcome == "destroyed" {
				for _, part := range k.step[r.StepID].Frees {
					if _, at := k.step[r.StepID].Risk[part]; at {
						add(r.StepID, part, r.Detail.Method, true)
					}
				}
			}
		case r.Kind == "incident" && r.PartID != "":
			add(r.StepID, r.PartID, r.Detail.Method, true)
		}
	}
	for _, o := range outcomes {
		for _, id := range o.Steps {
			for part := range k.step[id].Risk {
				add(id, part, "", false)
			}
		}
		if o.HurtPart != "" && o.HurtStep != "" {
			add(o.HurtStep, o.HurtPart, "", true)
		}
	}
	for key, c := range k.counts { // an incident at a step that nobody logged is an attempt as well
		c.N = max(c.N, c.K)
		k.counts[key] = c
	}
}

// hazardsOf are the declared hazards of a step: the plan's figure, or the table's where an incident declared one.
func (k *knowledge) hazardsOf(s store.PlanStep) map[string]float64 {
	risks := map[string]float64{}
	for part, m := range s.Risk {
		risks[part] = k.counts[hazardKey{method(s), s.Side, part}].Odds(m)
	}
	for key, c := range k.counts {
		if _, declared := s.Risk[key.part]; !declared && key.method == method(s) && key.side == s.Side && c.K > 0 {
			risks[key.part] = c.Odds(risk.Usual(s.Verb).Chance)
		}
	}
	return risks
}

// odds lists the hazards of the steps of a way, the likeliest first.
func (k *knowledge) odds(steps []string) []Odds {
	list := []Odds{}
	for _, id := range steps {
		s := k.step[id]
		for part, used := range k.hazardsOf(s) {
			c := k.counts[hazardKey{method(s), s.Side, part}]
			o := Odds{Part: k.part[part].Name, Method: method(s), Side: s.Side, K: c.K, N: c.N, Used: used, Certainty: "house"}
			o.Low, o.High = c.Interval()
			if c.N > 0 {
				o.Certainty = "counted"
			}
			if !slices.ContainsFunc(list, func(h Odds) bool { return h.Part == o.Part && h.Method == o.Method && h.Side == o.Side }) {
				list = append(list, o)
			}
		}
	}
	slices.SortStableFunc(list, func(a, b Odds) int {
		return cmp.Or(cmp.Compare(b.Used, a.Used), cmp.Compare(a.Part, b.Part), cmp.Compare(a.Method, b.Method))
	})
	return list
}
