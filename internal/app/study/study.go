// Package study is what is on record about one study: units, log and swap board, replayed and read by the engines.
package study

import (
	"slices"

	"gorm.io/gorm"

	"waryowl/internal/app/model"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// Record is a study with everything that was recorded in it.
type Record struct {
	store.Study
	Know      *model.Record
	Units     []store.Unit
	UnitByID  map[string]store.Unit
	Checks    []store.Check
	Baselines []store.Baseline
	Log       []store.LogEntry
	Trials    []store.Trial
	Acts      []store.SwapAct
	Faults    []store.FaultCase
	Priors    func(a ledger.Atom, check string) (float64, bool) // priors from earlier studies, where they are wanted
	Closings  []store.Closing
	Ahead     *model.Record // the predecessor, where guesses are wanted

	read map[string]Reading // by build
}

// Lock loads a study for a change; others who change it, or its model's plan, wait for the end of this transaction.
func Lock(tx *store.Tx, id string) (*Record, error) {
	study, err := store.Lock[store.Study](tx, id)
	if err != nil {
		return nil, err
	}
	if _, err := store.Lock[store.Model](tx, study.ModelID); err != nil {
		return nil, err
	}
	return Load(tx.DB, id)
}

// Load reads everything on record about a study.
func Load(db *gorm.DB, id string) (*Record, error) {
	study, err := store.Get[store.Study](db, id)
	if err != nil {
		return nil, err
	}
	b := &Record{Study: *study, UnitByID: map[string]store.Unit{}}
	if b.Know, err = model.Load(db, study.ModelID); err != nil {
		return nil, err
	}
	if b.Units, err = store.List[store.Unit](db, "id", "study_id = ?", id); err != nil {
		return nil, err
	}
	ids := []string{}
	for _, u := range b.Units {
		b.UnitByID[u.ID] = u
		ids = append(ids, u.ID)
	}
	if b.Checks, err = model.ChecksFor(db, b.Know.Model); err != nil {
		return nil, err
	}
	if b.Baselines, err = store.List[store.Baseline](db, "id", "unit_id IN ?", ids); err != nil {
		return nil, err
	}
	if b.Closings, err = store.List[store.Closing](db, "id", "unit_id IN ?", ids); err != nil {
		return nil, err
	}
	if b.Log, err = store.List[store.LogEntry](db, "seq", "study_id = ?", id); err != nil {
		return nil, err
	}
	if b.Acts, err = store.List[store.SwapAct](db, "place, seq", "study_id = ?", id); err != nil {
		return nil, err
	}
	if b.Faults, err = store.List[store.FaultCase](db, "id", "study_id = ?", id); err != nil {
		return nil, err
	}
	b.Trials, err = store.List[store.Trial](db, "place, seq", "study_id = ?", id)
	return b, err
}

// Untested counts the baseline cells of a unit that hold no real result; an assumed one is not a result.
func (b *Record) Untested(unit string) int {
	n := len(b.Checks)
	for _, l := range b.Baselines {
		known := slices.ContainsFunc(b.Checks, func(c store.Check) bool { return c.Mark == l.CheckMark })
		if known && l.UnitID == unit && !l.Assumed && l.Result != "skipped" {
			n--
		}
	}
	return n
}
