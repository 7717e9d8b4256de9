package model

import (
	"cmp"
	"fmt"
	"slices"

	"waryowl/internal/core/risk"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// Hazard is what incidents are counted by: a method on a side of this model, and the part that it may hurt. Methods are
// never pooled.
type Hazard struct{ Method, Side, Part string }

// Odds are the counted incidents behind one hazard of a way: k of n by this method, the exact 95 % interval (0 to 1
// while n is 0: unknown), and the chance used for computing.
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

func method(s store.PlanStep) string { return cmp.Or(s.Method, s.Tool, s.Verb) }

// harmless are the incidents that hurt no part, though they name one.
var harmless = []string{"screw-lost", "screw-found", "part-forgotten"}

// count goes through runs and outcomes once: every time a step with a declared hazard was carried out is an attempt.
func (k *Record) count(plain []store.Plain, runs []store.LogEntry, outcomes []store.Outcome) {
	k.Counts = map[Hazard]risk.Count{}
	for _, c := range plain {
		s := k.StepByID[c.StepID]
		for part := range s.Risk {
			key := Hazard{method(s), s.Side, part}
			n := k.Counts[key]
			if c.Outcome != "not tried" {
				n.N += c.N
			}
			if c.Outcome == "destroyed" && slices.Contains(s.Frees, part) {
				n.K += c.N
			}
			k.Counts[key] = n
		}
	}
	add := func(step, part, how string, hurt bool) {
		s, ok := k.StepByID[step]
		if !ok {
			return
		}
		key := Hazard{cmp.Or(how, method(s)), s.Side, part}
		c := k.Counts[key]
		if hurt {
			c.K++
		} else {
			c.N++
		}
		k.Counts[key] = c
	}
	for _, r := range runs {
		switch {
		case r.Kind == "step" && !r.Back && r.Outcome != "not tried":
			for part := range k.StepByID[r.StepID].Risk {
				add(r.StepID, part, r.Detail.Method, false)
			}
			if r.Outcome == "destroyed" {
				for _, part := range k.StepByID[r.StepID].Frees {
					if _, at := k.StepByID[r.StepID].Risk[part]; at {
						add(r.StepID, part, r.Detail.Method, true)
					}
				}
			}
		case r.Kind == "incident" && r.PartID != "" && r.Detail.Incident != nil && !slices.Contains(harmless, r.Detail.Incident.Kind):
			add(r.StepID, r.PartID, r.Detail.Method, true)
		}
	}
	for _, o := range outcomes {
		for _, id := range o.Steps {
			for part := range k.StepByID[id].Risk {
				add(id, part, "", false)
			}
		}
		if o.HurtPart != "" && o.HurtStep != "" {
			add(o.HurtStep, o.HurtPart, "", true)
		}
	}
	for key, c := range k.Counts { // an incident at a step that nobody logged is an attempt as well
		c.N = max(c.N, c.K)
		k.Counts[key] = c
	}
}

// HazardsOf are the declared hazards of a step: the plan's figure, or the table's where an incident declared one.
func (k *Record) HazardsOf(s store.PlanStep) map[string]float64 {
	risks := map[string]float64{}
	for part, m := range s.Risk {
		risks[part] = k.Counts[Hazard{method(s), s.Side, part}].Odds(m)
	}
	for key, c := range k.Counts {
		if _, declared := s.Risk[key.Part]; !declared && key.Method == method(s) && key.Side == s.Side && c.K > 0 {
			risks[key.Part] = c.Odds(risk.Usual(s.Verb).Chance)
		}
	}
	return risks
}

// Odds lists the hazards of the steps of a way, the likeliest first.
func (k *Record) Odds(steps []string) []Odds {
	list := []Odds{}
	for _, id := range steps {
		s := k.StepByID[id]
		for part, used := range k.HazardsOf(s) {
			c := k.Counts[Hazard{method(s), s.Side, part}]
			o := Odds{Part: k.PartByID[part].Name, Method: method(s), Side: s.Side, K: c.K, N: c.N, Used: used,
				Certainty: "house"}
			o.Low, o.High = c.Interval()
			if c.N > 0 {
				o.Certainty = "counted"
			}
			if !slices.ContainsFunc(list, func(h Odds) bool {
				return h.Part == o.Part && h.Method == o.Method &&
					h.Side == o.Side
			}) {
				list = append(list, o)
			}
		}
	}
	slices.SortStableFunc(list, func(a, b Odds) int {
		return cmp.Or(cmp.Compare(b.Used, a.Used), cmp.Compare(a.Part, b.Part), cmp.Compare(a.Method, b.Method))
	})
	return list
}

// FewTries is below how many tries no share is said: it would sound like knowledge (house).
const FewTries = 5

// Damaged says how often a part was damaged, in words where there are too few tries for a share.
func Damaged(o Odds) string {
	how := "by " + o.Method
	if doing := trade.Doing(o.Method); doing != "" {
		how = "while " + doing
	}
	text := fmt.Sprintf("the %s got damaged in %d of %d %s", o.Part, o.K, o.N, how)
	if o.N < FewTries {
		text += ", too few to say"
	}
	return text
}
