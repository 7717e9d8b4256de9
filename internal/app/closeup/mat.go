package closeup

import (
	"slices"
	"waryowl/internal/app/model"
	"waryowl/internal/core/closeup"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// matColumns and the size of a cell on the mat: five columns of 34 mm fit A4 and Letter with their margins.
const matColumns = 5

// HoleAlike is a hole with what else may safely go into it.
type HoleAlike struct {
	closeup.Hole
	Place    string               `json:"place"`
	Magnetic string               `json:"magnetic,omitempty"`
	Subs     []closeup.Substitute `json:"subs" nullable:"false"`
}

// mat lists the holes of the model in removal order, the screws that must not be mixed, and the layout of the mat.
func mat(k *model.Record) ([]HoleAlike, []closeup.Mix, closeup.Mat) {
	var holes []closeup.Hole
	var steps []store.PlanStep
	order := order(k)
	for _, s := range k.Steps { // the way that frees everything may leave some screws in
		if !slices.Contains(order, s.ID) {
			order = append(order, s.ID)
		}
	}
	for _, id := range order {
		s := k.StepByID[id]
		if trade.Threaded(s.Joint) && s.Verb == "unfasten" {
			steps = append(steps, s)
			holes = append(holes, closeup.Hole{ID: s.ID, Name: s.What, Drive: s.Drive, DiameterMM: s.DiameterMM,
				LengthMM: s.LengthMM, SafeMM: s.Fastener.SafeMM, GripMM: s.Fastener.GripMM,
				Beneath: s.Fastener.Beneath, Count: max(1, s.Count), Order: len(holes) + 1})
		}
	}
	mixes := closeup.LookAlikes(holes)
	apart := func(i, j int) bool {
		return slices.ContainsFunc(mixes, func(m closeup.Mix) bool {
			return m.Effect != "will not hold" && (m.From == holes[i].ID && m.Into == holes[j].ID ||
				m.From == holes[j].ID && m.Into == holes[i].ID)
		})
	}
	list := []HoleAlike{}
	for i, h := range holes {
		list = append(list, HoleAlike{Hole: h, Place: steps[i].Mark, Magnetic: steps[i].Fastener.Magnetic,
			Subs: closeup.Substitutes(h, holes)})
	}
	return list, mixes, closeup.Arrange(len(holes), matColumns, apart)
}
