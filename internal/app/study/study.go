// Package study is what is on record about one study: units, log and swap board, replayed and read by the engines.
package study

import (
	"cmp"
	"fmt"
	"maps"
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
	Sick      []string                                          // searches for a fault of its phones that are still open, in words
	Priors    func(a ledger.Atom, check string) (float64, bool) // priors from earlier studies, where they are wanted
	Closings  []store.Closing
	Ahead     *model.Record // the predecessor, where guesses are wanted

	read map[string]Reading // by build
}

// Lock loads a study for a change; others who change it, or its model's plan, wait for the end of this transaction.
func Lock(tx *store.Tx, id string) (*Record, error) { return LockFor(tx, id, Want{}) }

// LockFor is [Lock] for a change that needs not all of it.
func LockFor(tx *store.Tx, id string, want Want) (*Record, error) {
	study, err := store.Lock[store.Study](tx, id)
	if err != nil {
		return nil, err
	}
	if _, err := store.Lock[store.Model](tx, study.ModelID); err != nil {
		return nil, err
	}
	return LoadFor(tx.DB, id, want)
}

// Load reads everything on record about a study.
func Load(db *gorm.DB, id string) (*Record, error) { return LoadFor(db, id, Want{}) }

// LoadFor is [Load] for who needs not all of it.
func LoadFor(db *gorm.DB, id string, want Want) (*Record, error) {
	row, err := store.Get[store.Study](db, id)
	if err != nil {
		return nil, err
	}
	list, err := LoadAll(db, []store.Study{*row}, want)
	if err != nil {
		return nil, err
	}
	if len(list) == 0 { // its model is gone
		return nil, store.ErrNotFound
	}
	return list[0], nil
}

// Want says what of many studies is wanted, where not all of it is: of the log only which steps were done (Brief), or
// nothing of it and of the runs of the steps (Swaps), or only not those runs (Plain); neither closings nor fault cases
// (Verdicts: what they are worked out from only). Read are models that need not be read again, nor the Catalogue of
// checks.
type Want struct {
	Brief, Swaps, Plain, Verdicts bool
	Read                          []*model.Record
	Catalogue                     []store.Check
}

// brief are the columns of the log that say which steps were done.
var brief = []string{"id", "study_id", "unit_id", "step_id", "seq", "back", "kind", "outcome"}

// LoadAll reads what is on record about several studies, with as many statements as about one. A study whose model is
// gone is left out.
func LoadAll(db *gorm.DB, rows []store.Study, want Want) ([]*Record, error) {
	list := []*Record{}
	var ids, models []string
	for _, r := range rows {
		ids = append(ids, r.ID)
		if !slices.Contains(models, r.ModelID) &&
			!slices.ContainsFunc(want.Read, func(k *model.Record) bool { return k.ID == r.ModelID }) {
			models = append(models, r.ModelID)
		}
	}
	know := map[string]*model.Record{}
	if len(models) > 0 {
		var err error
		if know, err = model.LoadAll(db, models, !want.Swaps && !want.Plain); err != nil {
			return nil, err
		}
	}
	for _, k := range want.Read {
		know[k.ID] = k
	}
	catalogue := want.Catalogue
	if catalogue == nil {
		var err error
		if catalogue, err = model.Catalogue(db); err != nil {
			return nil, err
		}
	}
	of := map[string]*Record{}
	for _, r := range rows {
		k := know[r.ModelID]
		if k == nil {
			continue
		}
		b := &Record{Study: r, Know: k, UnitByID: map[string]store.Unit{}, Checks: model.Edited(catalogue, k.Model),
			Units: []store.Unit{}, Baselines: []store.Baseline{}, Closings: []store.Closing{}, Log: []store.LogEntry{},
			Acts: []store.SwapAct{}, Trials: []store.Trial{}}
		list, of[r.ID] = append(list, b), b
	}
	units, err := store.List[store.Unit](db, "id", "study_id IN ?", ids)
	if err != nil {
		return nil, err
	}
	home, unitIDs := map[string]*Record{}, []string{}
	for _, u := range units {
		if b := of[u.StudyID]; b != nil {
			b.Units = append(b.Units, u)
			b.UnitByID[u.ID] = u
			home[u.ID] = b
			unitIDs = append(unitIDs, u.ID)
		}
	}
	cells := db
	if want.Brief || want.Swaps {
		cells = db.Select("id", "unit_id", "check_mark", "result", "assumed")
	}
	if err := each(cells, "id", "unit_id IN ?", unitIDs, func(l store.Baseline) {
		home[l.UnitID].Baselines = append(home[l.UnitID].Baselines, l)
	}); err != nil {
		return nil, err
	}
	if !want.Verdicts {
		if err := each(db, "id", "unit_id IN ?", unitIDs, func(c store.Closing) {
			home[c.UnitID].Closings = append(home[c.UnitID].Closings, c)
		}); err != nil {
			return nil, err
		}
	}
	known := slices.Collect(maps.Keys(of))
	entries := db
	if want.Brief {
		entries = db.Select(brief)
	}
	if !want.Swaps {
		if err := each(entries, "seq", "study_id IN ?", known, func(e store.LogEntry) {
			of[e.StudyID].Log = append(of[e.StudyID].Log, e)
		}); err != nil {
			return nil, err
		}
	}
	if err := each(db, "place, seq", "study_id IN ?", known, func(a store.SwapAct) {
		of[a.StudyID].Acts = append(of[a.StudyID].Acts, a)
	}); err != nil {
		return nil, err
	}
	if !want.Verdicts {
		var open []struct{ StudyID, Sticker, Said, Symptom string }
		if err := db.Table("fault_searches f").Select("v.study_id, v.sticker, v.said, f.symptom").
			Joins("JOIN visits v ON v.id = f.visit_id").Where("v.study_id IN ? AND f.state = 'open' AND f.deleted_at IS NULL "+
			"AND v.deleted_at IS NULL", known).Order("f.id").Find(&open).Error; err != nil {
			return nil, err
		}
		for _, f := range open {
			b := of[f.StudyID]
			b.Sick = append(b.Sick, fmt.Sprintf("%s, “%s”: the cause was not found", f.Sticker, cmp.Or(f.Said, f.Symptom)))
		}
	}
	return list, each(db, "place, seq", "study_id IN ?", known, func(t store.Trial) {
		of[t.StudyID].Trials = append(of[t.StudyID].Trials, t)
	})
}

// each reads rows and hands them out one by one.
func each[T any](db *gorm.DB, order, where string, ids []string, take func(T)) error {
	rows, err := store.List[T](db, order, where, ids)
	for _, r := range rows {
		take(r)
	}
	return err
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
