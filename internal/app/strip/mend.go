package strip

import (
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/store"
)

// ofLine are the other entries that the line of an entry logged, in their order.
func ofLine(tx *store.Tx, e *store.LogEntry) ([]store.LogEntry, error) {
	if e.Detail.LineID == "" {
		return nil, nil
	}
	all, err := store.List[store.LogEntry](tx.DB, "seq", "study_id = ? AND unit_id = ? AND line = ?", e.StudyID, e.UnitID, e.Line)
	return sameLine(all, e), err
}

func sameLine(all []store.LogEntry, e *store.LogEntry) (out []store.LogEntry) {
	for _, o := range all {
		if o.ID != e.ID && o.Detail.LineID == e.Detail.LineID {
			out = append(out, o)
		}
	}
	return out
}

// goneWith are the entries that were taken back with an entry of the same line.
func goneWith(tx *store.Tx, e *store.LogEntry) ([]store.LogEntry, error) {
	if e.Detail.LineID == "" {
		return nil, nil
	}
	var all []store.LogEntry
	err := tx.DB.Unscoped().Where("study_id = ? AND unit_id = ? AND line = ? AND deleted_at IS NOT NULL", e.StudyID, e.UnitID,
		e.Line).Order("seq").Find(&all).Error
	return sameLine(all, e), err
}

// correct mends an earlier entry: it goes, and the new one says what holds. Undo brings the earlier one back.
func correct(b *study.Record, tx *store.Tx, id string, f LogFacts, x shorthand.Fact) (store.LogEntry, error) {
	var old *store.LogEntry
	for i := range b.Log {
		if b.Log[i].ID == x.Corrects.Entry && b.Log[i].UnitID == f.UnitID {
			old = &b.Log[i]
		}
	}
	if old == nil {
		return store.LogEntry{}, fault.New("line", f.Line, "an entry of this phone that is still there")
	}
	gone := *old
	if _, err := store.Delete[store.LogEntry](tx, gone.ID, gone.Version); err != nil {
		return gone, err
	}
	e := gone
	e.Row = store.Row{ID: id}
	e.Line, e.Note, e.HappenedAt, e.Seconds = f.Line, gone.Note, tx.Happened, gone.Seconds
	e.Detail.Corrects, e.Detail.LineID = gone.ID, ""
	if x.Corrects.How == "withdrawn" {
		if err := takeBack(tx, b.ID, &gone); err != nil {
			return e, err
		}
		e.Kind, e.StepID, e.Back, e.NewStep, e.Outcome, e.Reason = "note", "", false, false, "", ""
		e.Detail = store.LogDetail{Corrects: gone.ID}
		e.Note = "taken back: " + gone.Line
		e.Seq = nextSeq(b)
		return e, store.Create(tx, &e)
	}
	e.Detail.Count = x.Count
	e.Seq = nextSeq(b)
	if gone.NewStep {
		if err := recount(tx, gone.StepID, x.Count); err != nil {
			return e, err
		}
	}
	return e, store.Create(tx, &e)
}

// recount says how many screws a step has, which the plan learned from the entry that is mended.
func recount(tx *store.Tx, step string, count int) error {
	row, err := store.Get[store.PlanStep](tx.DB, step)
	if err != nil {
		return err
	}
	_, err = store.Update(tx, row.ID, row.Version, func(s *store.PlanStep) error {
		s.Count = count
		return nil
	})
	return err
}

// uncorrect brings back the entry that a deleted one had mended.
func uncorrect(tx *store.Tx, e *store.LogEntry) error {
	if e.Detail.Corrects == "" {
		return nil
	}
	var old store.LogEntry
	if err := tx.DB.Unscoped().First(&old, "id = ?", e.Detail.Corrects).Error; err != nil || !old.DeletedAt.Valid {
		return err
	}
	if _, err := store.Restore[store.LogEntry](tx, old.ID, old.Version); err != nil {
		return err
	}
	if err := stepBack(tx, old.StepID); err != nil {
		return err
	}
	if old.NewStep && e.Kind == "step" {
		return recount(tx, old.StepID, old.Detail.Count)
	}
	return nil
}

// recorrect takes the mended entry away again, once the one that mends it is back.
func recorrect(tx *store.Tx, e *store.LogEntry) error {
	if e.Detail.Corrects == "" {
		return nil
	}
	old, err := store.Get[store.LogEntry](tx.DB, e.Detail.Corrects)
	if err != nil {
		return err
	}
	if _, err := store.Delete[store.LogEntry](tx, old.ID, old.Version); err != nil {
		return err
	}
	if old.NewStep && e.Kind == "step" {
		return recount(tx, old.StepID, e.Detail.Count)
	}
	return nil
}
