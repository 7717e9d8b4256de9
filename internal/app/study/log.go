package study

import (
	"waryowl/internal/core/plan"
	"waryowl/internal/store"
)

// Advances says that an entry moved the phone along: a step that was done, if only by destroying something.
func Advances(e store.LogEntry) bool {
	return e.Kind == "step" && e.Outcome != "gave up" && e.Outcome != "not tried"
}

// Entries is the log of one unit in the terms of the core. Heat and solvent come in rounds and free nothing.
func (b *Record) Entries(unit string) []plan.Entry {
	var log []plan.Entry
	for _, e := range b.Log {
		if e.UnitID == unit && Advances(e) {
			log = append(log, plan.Entry{Frees: b.Know.StepByID[e.StepID].Frees, Back: e.Back})
		}
	}
	return log
}

// Done lists the steps of a unit that are carried out and not put back.
func (b *Record) Done(unit string) plan.Run {
	var done plan.Run
	for _, e := range b.Log {
		if e.UnitID != unit || !Advances(e) {
			continue
		}
		done = done.After(e.StepID, e.Back, func(id string) string { return b.Know.StepByID[id].Verb })
	}
	return done
}
