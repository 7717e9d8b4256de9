package visit

import (
	"slices"
	"strings"

	"waryowl/internal/app/model"
	"waryowl/internal/core/closeup"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/repair"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// sheet lays out the repair that exchanges a part by the model's own way; nil where there is no way. lost are the marks of
// the checks that are expected to be lost.
func sheet(k *model.Record, part string, lost []string) (*model.Way, []repair.Act, string) {
	w := k.WayTo(part)
	if w == nil || w.Blocked != "" {
		return w, nil, ""
	}
	p := k.PartByID[part]
	in := repair.Input{Part: part, Name: p.Name, Kind: k.Kind(part), Kinds: map[string]string{}, Names: map[string]string{}, Cure: w.CureSeconds}
	for _, o := range k.Parts {
		in.Kinds[o.ID], in.Names[o.ID] = k.Kind(o.ID), o.Name
	}
	var ids []string
	for _, s := range w.Steps {
		step := k.Step(k.StepByID[s.ID])
		step.Part, step.WaitSeconds = s.Part, s.WaitSeconds
		in.Steps = append(in.Steps, repair.Out{Done: plan.Done{Step: step, Before: step.Met(ids)}, Usual: s.Seconds,
			Early: k.Early(k.StepByID[s.ID]), Late: s.Late, WaitLate: s.WaitLate, Runs: s.Runs})
		ids = append(ids, s.ID)
	}
	in.Moves = moves(k, p)
	touched := k.Touched(part, ids)
	for _, c := range k.Checks {
		seconds := c.Seconds
		if seconds <= 0 {
			seconds = model.CheckTime([]store.Check{c})
		}
		in.Checks = append(in.Checks, repair.Checked{Mark: c.Mark, Name: c.Name, Seconds: seconds, Lost: slices.Contains(lost, c.Mark),
			Touched: slices.ContainsFunc(touched, func(t store.Check) bool { return t.Mark == c.Mark })})
	}
	acts, conflict := repair.Sheet(in)
	return w, acts, conflict
}

// moves lists what the new part needs of the old one: what rides on it, what sits inside it, and a mate that belongs to it
// by serial; never the board, which stays in the phone whatever it knows.
func moves(k *model.Record, p store.Part) []repair.Mover {
	var list []repair.Mover
	for _, o := range k.Parts {
		why := ""
		switch {
		case o.ID == p.ID:
		case o.RidesOn != "" && strings.EqualFold(o.RidesOn, p.Name):
			why = "it rides on it"
		case o.Inside != "" && strings.EqualFold(o.Inside, p.Name):
			why = "it sits in it"
		case p.Mate != "" && strings.EqualFold(p.Mate, o.Name) && k.Kind(o.ID) != "main-board" &&
			(o.Pane == p.Pane || strings.EqualFold(o.Mate, p.Name)):
			why = "the phone knows it by its serial"
		}
		if why != "" {
			list = append(list, repair.Mover{Part: o.ID, Name: o.Name, Why: why})
		}
	}
	return list
}

// alike says of each step with screws which other screws must not go into its holes, or its own not into theirs.
func alike(k *model.Record, steps []model.WayStep) map[string][]string {
	var holes []closeup.Hole
	for _, s := range steps {
		if row := k.StepByID[s.ID]; trade.Threaded(row.Joint) {
			holes = append(holes, closeup.Hole{ID: s.ID, Name: s.What, Drive: s.Drive, DiameterMM: s.DiameterMM, LengthMM: s.LengthMM,
				SafeMM: s.Fastener.SafeMM, GripMM: s.Fastener.GripMM, Beneath: s.Fastener.Beneath, Count: max(1, s.Count)})
		}
	}
	out := map[string][]string{}
	for _, m := range closeup.LookAlikes(holes) {
		out[m.Into] = append(out[m.Into], m.Text)
	}
	return out
}
