package strip

import (
	"cmp"
	"slices"

	"waryowl/internal/app/study"
	"waryowl/internal/core/dose"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// heat is the dose of each face that had any, and what the next round should be.
func heat(b *study.Record, u store.Unit) []FaceHeat {
	list := []FaceHeat{}
	for _, face := range []string{"front", "back"} {
		mine := b.Rounds(u.ID, face)
		var earlier []dose.Round
		for _, other := range b.Units {
			if other.ID != u.ID {
				earlier = append(earlier, b.Rounds(other.ID, face)...)
			}
		}
		if len(mine)+len(earlier) == 0 {
			continue
		}
		nominal := 120.0
		source := ""
		for _, r := range append(slices.Clone(earlier), mine...) {
			source = cmp.Or(r.Source, source)
		}
		for _, s := range dose.Schools() {
			if s.Method == source && s.For == "opening" {
				nominal = s.Seconds
			}
		}
		// A unit that is not a donor keeps its panel; the cell lies under the face that its lid does not carry.
		limit := dose.Limit(face == "front" && u.Role != "donor", false)
		list = append(list, FaceHeat{Face: face, Rounds: len(mine), Limit: limit,
			Advice: dose.Advise(mine, earlier, nominal, limit)})
	}
	return list
}

// long lists the entries of a unit whose time looks like a break: it is asked in review, never in mid-step.
func long(b *study.Record, unit string) []string {
	ids := []string{}
	for _, e := range b.Log {
		if s, ok := b.Know.StepByID[e.StepID]; ok && e.UnitID == unit && e.Kind == "step" &&
			worktime.Break(e.Seconds, b.Know.Planned(s)) {
			ids = append(ids, e.ID)
		}
	}
	return ids
}
