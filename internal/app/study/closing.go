package study

import (
	"cmp"
	"fmt"
	"slices"

	"waryowl/internal/core/interlock"
)

// Lost lists what was lost on a unit and not found again.
func (b *Record) Lost(unit string) []string {
	left := map[string]int{}
	var order []string
	for _, e := range b.Log {
		if e.UnitID != unit || e.Detail.Incident == nil {
			continue
		}
		what := "screw"
		if e.Detail.Diameter > 0 {
			what = fmt.Sprintf("%g × %g mm screw", e.Detail.Diameter, e.Detail.Length)
		}
		n := max(1, e.Detail.Count)
		switch e.Detail.Incident.Kind {
		case "screw-lost":
			left[what] += n
		case "screw-found":
			left[what] -= n
		case "part-forgotten":
			what = cmp.Or(b.Know.PartByID[e.PartID].Name, e.Note, "part")
			left[what] += n
		default:
			continue
		}
		if !slices.Contains(order, what) {
			order = append(order, what)
		}
	}
	list := []string{}
	for _, what := range order {
		if left[what] > 0 {
			list = append(list, fmt.Sprintf("%d × %s", left[what], what))
		}
	}
	return list
}

// Retest names the checks that must be run again before closing: the families of a stop that was "already done", and of
// parts that an incident hurt.
func (b *Record) Retest(unit string) []string {
	families := map[string]bool{}
	for _, e := range b.Log {
		if e.UnitID != unit {
			continue
		}
		for _, s := range e.Detail.Stops {
			if s.Answer == "already done" {
				for _, family := range interlock.Retest(s.Rule) {
					families[family] = true
				}
			}
		}
		if e.Detail.Incident != nil && e.PartID != "" {
			families[b.Know.PartByID[e.PartID].Family] = true
		}
	}
	marks := []string{}
	for _, c := range b.Checks {
		if families[c.Family] {
			marks = append(marks, c.Mark)
		}
	}
	return marks
}

// EverDone lists the steps that were carried out on a unit, in the order of their first time, whether put back or not.
func (b *Record) EverDone(unit string) []string {
	var ids []string
	for _, e := range b.Log {
		if e.UnitID == unit && Advances(e) && !e.Back && e.StepID != "" && !slices.Contains(ids, e.StepID) {
			ids = append(ids, e.StepID)
		}
	}
	return ids
}
