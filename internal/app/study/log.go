package study

import (
	"slices"

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
	took := map[string][]string{} // by step: what goes back with it
	for _, e := range b.Log {
		if e.UnitID != unit || !Advances(e) {
			continue
		}
		var frees []string
		switch p := b.also(e); {
		case e.Back:
			frees = b.Know.StepByID[e.StepID].Frees
			if did, ok := took[e.StepID]; ok {
				frees = did
			}
			delete(took, e.StepID)
		case e.Detail.Leaves == "loose":
			took[e.StepID] = nil
		default:
			frees = slices.Clone(b.Know.StepByID[e.StepID].Frees)
			if p != "" {
				frees = append(frees, p)
			}
			took[e.StepID] = frees
		}
		log = append(log, plan.Entry{Frees: frees, Back: e.Back})
	}
	return log
}

// also is the part that an entry took off the phone beyond what its step frees, "" for none.
func (b *Record) also(e store.LogEntry) string {
	if e.Detail.Leaves != "off" || e.Back || slices.Contains(b.Know.StepByID[e.StepID].Frees, e.PartID) {
		return ""
	}
	return e.PartID
}

// TakenOff lists, by step, the parts that entries of a unit took off beyond what their steps free; Bits are the steps by
// which something left the phone that is no part on record.
func (b *Record) TakenOff(unit string) (parts map[string][]string, bits map[string]bool) {
	parts, bits = map[string][]string{}, map[string]bool{}
	for _, e := range b.Log {
		if e.UnitID != unit || !Advances(e) || e.Back || e.Detail.Leaves != "off" {
			continue
		}
		if p := b.also(e); p != "" && !slices.Contains(parts[e.StepID], p) {
			parts[e.StepID] = append(parts[e.StepID], p)
		}
		if e.PartID == "" && len(b.Know.StepByID[e.StepID].Frees) == 0 {
			bits[e.StepID] = true
		}
	}
	return parts, bits
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
