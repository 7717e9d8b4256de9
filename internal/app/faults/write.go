package faults

import (
	"cmp"
	"errors"
	"regexp"
	"strings"

	"waryowl/internal/app/desk"
	"waryowl/internal/store"
)

// write puts an act where others look for it: a line in the log of a study's phone, a piece off the shelf, its move
// on the bench.
func (r *record) write(tx *store.Tx, a *store.FaultAct) error {
	slot := slotOf(r.Symptom, a.Act)
	var shelf store.Shelf
	if slot != "" {
		var err error
		if shelf, err = desk.TakePiece(tx, r.ModelID, slot); err != nil {
			return err
		}
		a.ShelfID = shelf.ID
	}
	if r.visit.UnitID == "" {
		return nil
	}
	// Whoever writes into a study waits for those who do.
	if _, err := store.Lock[store.Study](tx, r.visit.StudyID); err != nil {
		return err
	}
	last, err := store.LastSeq[store.LogEntry](tx, r.visit.StudyID)
	if err != nil {
		return err
	}
	e := store.LogEntry{StudyID: r.visit.StudyID, UnitID: r.visit.UnitID, Seq: last + 1,
		Note:    "finding the fault (" + r.Symptom + "): " + a.Act + ": " + answered(a),
		LogHead: store.LogHead{Kind: "note", Outcome: "done", HappenedAt: a.DoneAt}}
	if err := store.Create(tx, &e); err != nil {
		return err
	}
	a.EntryID = e.ID
	if part := r.know.OfKind(slot); slot != "" && part != nil && part.Slot {
		return r.moved(tx, a, *part, shelf)
	}
	return nil
}

func answered(a *store.FaultAct) string {
	if a.Act == closing {
		return map[string]string{"yes": "all holds", "no": "it came back", "at times": "at times"}[a.Answer]
	}
	return a.Answer
}

var lotMark = regexp.MustCompile(`[^A-Za-z0-9 ._#-]+`)

// moved records on the swap bench that a new piece lies in the phone; the old one lies on the mat.
func (r *record) moved(tx *store.Tx, a *store.FaultAct, part store.Part, shelf store.Shelf) error {
	seq, err := store.LastSeq[store.SwapAct](tx, r.visit.StudyID)
	if err != nil {
		return err
	}
	var place struct{ Place int }
	if err := tx.DB.Raw("SELECT COALESCE(MAX(place), 0) AS place FROM (SELECT place FROM trials WHERE study_id = ? UNION ALL "+
		"SELECT place FROM swap_acts WHERE study_id = ?) p", r.visit.StudyID,
		r.visit.StudyID).Scan(&place).Error; err != nil {
		return err
	}
	lot := strings.TrimSpace(lotMark.ReplaceAllString(cmp.Or(shelf.Origin, "stock"), " "))
	lot = lot[:min(40, len(lot))]
	m := store.SwapAct{StudyID: r.visit.StudyID, Seq: seq + 1, Place: place.Place + 1,
		SwapActFacts: store.SwapActFacts{Kind: "move",
			Moves: []store.Move{{Piece: store.Piece{PartID: part.ID, Origin: "copy", Lot: cmp.Or(lot, "stock")},
				ToUnitID: r.visit.UnitID}},
			Note: "fitted while the fault was sought"}}
	if err := store.Create(tx, &m); err != nil {
		return err
	}
	a.MoveID = m.ID
	return nil
}

// takeBack undoes what an act wrote. What somebody took away by hand meanwhile stays away.
func takeBack(tx *store.Tx, a store.FaultAct) error {
	if err := desk.LayBack(tx, a.ShelfID, 1); err != nil {
		return err
	}
	if a.MoveID != "" {
		if m, err := store.Get[store.SwapAct](tx.DB, a.MoveID); err == nil {
			if _, err := store.Delete[store.SwapAct](tx, m.ID, m.Version); err != nil {
				return err
			}
		} else if !errors.Is(err, store.ErrNotFound) {
			return err
		}
	}
	if a.EntryID == "" {
		return nil
	}
	e, err := store.Get[store.LogEntry](tx.DB, a.EntryID)
	if errors.Is(err, store.ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	_, err = store.Delete[store.LogEntry](tx, e.ID, e.Version)
	return err
}

// jobOf is the common job that fits a piece of a slot.
var jobOf = map[string]string{"battery": "battery", "display": "screen", "rear-glass": "back-glass",
	"charge-port": "port",
	"rear-camera": "camera"}

// endJob says of the job that it is done, with its minutes, or why it is still open. Where nobody had asked for one
// but a piece was fitted, a closed job is recorded: it counts for demand and minutes.
func (r *record) endJob(tx *store.Tx, x *store.FaultCase, fine bool) error {
	minutes := r.spent()
	change := func(w *store.Work) error {
		if fine {
			w.Status, w.Minutes, w.Went = "closed", min(1440, minutes), "fine"
		} else {
			w.Why = x.Why
		}
		return nil
	}
	switch {
	case r.visit.WorkID != "":
		w, err := store.Get[store.Work](tx.DB, r.visit.WorkID)
		if err == nil {
			_, err = store.Update(tx, w.ID, w.Version, change)
		}
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
	case fine:
		for _, a := range x.Acts {
			job := jobOf[slotOf(x.Symptom, a.Act)]
			if job == "" || a.Answer != "yes" {
				continue
			}
			w := store.Work{WorkFacts: store.WorkFacts{ModelID: x.ModelID, Job: job, Status: "closed", AskedOn: tx.Happened,
				Minutes: min(1440, minutes), Went: "fine", Currency: r.desk.Workshop.Currency}, ShelfID: a.ShelfID}
			if err := store.Create(tx, &w); err != nil {
				return err
			}
			x.WorkID = w.ID
			break
		}
	}
	if fine {
		v, err := store.Get[store.Visit](tx.DB, x.VisitID)
		if err != nil {
			return err
		}
		return visitState(tx, v, "closed")
	}
	return nil
}

// reopen takes back what closing a case wrote.
func reopen(tx *store.Tx, x *store.FaultCase) error {
	if err := count(tx, x, -1); err != nil {
		return err
	}
	x.State, x.Ended, x.ClosedAt = "open", nil, nil
	v, err := store.Get[store.Visit](tx.DB, x.VisitID)
	if err != nil {
		return err
	}
	if v.WorkID != "" {
		w, err := store.Get[store.Work](tx.DB, v.WorkID)
		if err == nil {
			_, err = store.Update(tx, w.ID, w.Version, func(w *store.Work) error {
				w.Status, w.Minutes, w.Went = "on the bench", 0, ""
				return nil
			})
		}
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
	}
	if x.WorkID != "" {
		w, err := store.Get[store.Work](tx.DB, x.WorkID)
		if err == nil {
			_, err = store.Delete[store.Work](tx, w.ID, w.Version)
		}
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		x.WorkID = ""
	}
	return visitState(tx, v, "on the bench")
}
