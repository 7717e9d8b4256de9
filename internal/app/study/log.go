package study

import (
	"slices"

	"waryowl/internal/core/benchline"
	"waryowl/internal/core/teardown"
	"waryowl/internal/store"
)

// Advances says that an entry moved the phone along: a step that was done, if only by destroying something.
func Advances(e store.LogEntry) bool {
	return e.Kind == "step" && e.Outcome != "gave up" && e.Outcome != "not tried"
}

// Entries is the log of one unit in the terms of the core. Heat and solvent come in rounds and free nothing.
func (b *Record) Entries(unit string) []teardown.Entry {
	var log []teardown.Entry
	for _, e := range b.Log {
		if e.UnitID == unit && Advances(e) {
			log = append(log, teardown.Entry{Frees: b.Know.StepByID[e.StepID].Frees, Back: e.Back})
		}
	}
	return log
}

// Done lists the steps of a unit that are carried out and not put back.
func (b *Record) Done(unit string) []string {
	var done []string
	for _, e := range b.Log {
		if e.UnitID != unit || !Advances(e) {
			continue
		}
		if e.Back {
			done = slices.DeleteFunc(done, func(id string) bool { return id == e.StepID })
			if benchline.Cooled(done, func(id string) string { return b.Know.StepByID[id].Verb }) {
				done = nil
			}
		} else if !slices.Contains(done, e.StepID) {
			done = append(done, e.StepID)
		}
	}
	return done
}
