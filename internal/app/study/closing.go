package study

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"waryowl/internal/core/closeup"
	"waryowl/internal/core/interlock"
	"waryowl/internal/store"
)

// Lost lists what was lost on a unit and not found again, a screw with the place that it came from.
func (b *Record) Lost(unit string) []string {
	left, _ := b.missing(unit)
	list := []string{}
	for _, l := range left {
		if l.n > 0 {
			list = append(list, fmt.Sprintf("%d × %s", l.n, l.what))
		}
	}
	return list
}

// LostScrews counts the screws that were lost on a unit and not found again, by the step that took them out: the one that
// the entry names by its part and size, else the last one that took screws out.
func (b *Record) LostScrews(unit string) map[string]int {
	_, lost := b.missing(unit)
	return lost
}

// gone is something that was lost, in words, and how many of it.
type gone struct {
	what string
	n    int
}

// missing walks the log of a unit for what was lost and found again.
func (b *Record) missing(unit string) (list []gone, screws map[string]int) {
	screws = map[string]int{}
	put := func(what string, n int) {
		k := slices.IndexFunc(list, func(g gone) bool { return g.what == what })
		if k < 0 {
			list = append(list, gone{what: what})
			k = len(list) - 1
		}
		list[k].n = max(0, list[k].n+n)
	}
	var out []store.PlanStep // that took screws out so far, the latest last
	for _, e := range b.Log {
		if e.UnitID != unit {
			continue
		}
		if s := b.Know.StepByID[e.StepID]; Advances(e) && !e.Back && b.Know.Step(s).Screws() > 0 {
			out = append(out, s)
		}
		i, n := e.Detail.Incident, max(1, e.Detail.Count)
		switch {
		case i == nil:
		case i.Kind == "part-forgotten":
			put(cmp.Or(b.Know.PartByID[e.PartID].Name, e.Note, "part"), n)
		case i.Kind == "screw-lost" || i.Kind == "screw-found":
			if i.Kind == "screw-found" {
				n = -n
			}
			what := "screw"
			if e.Detail.Diameter > 0 {
				what = fmt.Sprintf("%g × %g mm screw", e.Detail.Diameter, e.Detail.Length)
			}
			if s := b.ofScrew(out, e); s != nil {
				screws[s.ID] = max(0, screws[s.ID]+n)
				what = closeup.ScrewName(b.Know.Step(*s)) + " of the " + s.What
			}
			put(what, n)
		}
	}
	return list, screws
}

// ofScrew is the step, of those that took screws out, whose screw an entry speaks of: the part and the size that it says
// must agree, and what it says nothing of may be any.
func (b *Record) ofScrew(out []store.PlanStep, e store.LogEntry) *store.PlanStep {
	near := func(a, b float64) bool { return a == 0 || b == 0 || math.Abs(a-b) < 0.05 }
	for _, s := range slices.Backward(out) {
		about := b.Know.About(s.ID) == e.PartID || e.PartID == ""
		if about && near(e.Detail.Diameter, s.DiameterMM) && near(e.Detail.Length, s.LengthMM) {
			return &s
		}
	}
	return nil
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
