package faults

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/faultfind"
	"waryowl/internal/store"
)

// Begin is a phone that is sick: a visit that is there already, or a new one, and perhaps its symptom.
type Begin struct {
	VisitID string `json:"visit_id" format:"uuid" doc:"of the visit that is there, or of the new one"`
	ModelID string `json:"for_model_id,omitempty" maxLength:"36" doc:"of a new visit"`
	store.VisitFacts
	Symptom string `json:"symptom,omitempty" maxLength:"60"`
}

// Start opens a search, and the visit with it where there is none of that id. The readings of the phone when it came
// are taken over: what passed works, what was lost is lost.
func Start(ctx context.Context, s *act.Service, c act.Command, id string, f Begin) (store.FaultCase, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.FaultCase, error) {
		row := store.FaultCase{Row: store.Row{ID: id}, VisitID: f.VisitID, Acts: []store.FaultAct{}, State: "open"}
		row.Symptom = f.Symptom
		if err := checkSymptom(f.Symptom); err != nil {
			return row, err
		}
		visit, err := store.Get[store.Visit](tx.DB, f.VisitID)
		if errors.Is(err, store.ErrNotFound) {
			visit = &store.Visit{Row: store.Row{ID: f.VisitID}, ModelID: f.ModelID, VisitFacts: f.VisitFacts}
			err = study.Arrive(tx, visit)
		}
		if err != nil {
			return row, err
		}
		row.ModelID = visit.ModelID
		read := func(mark, result string) {
			switch _, known := faultfind.Shipped().Needs[mark]; {
			case !known || slices.Contains(row.Works, mark) || slices.Contains(row.Lost, mark):
			case result == "pass":
				row.Works = append(row.Works, mark)
			case result == "lost":
				row.Lost = append(row.Lost, mark)
			}
		}
		for mark, result := range visit.Arrival {
			read(mark, result)
		}
		if visit.UnitID != "" {
			lines, err := store.List[store.Baseline](tx.DB, "id", "unit_id = ? AND NOT assumed", visit.UnitID)
			if err != nil {
				return row, err
			}
			for _, l := range lines {
				read(l.CheckMark, l.Result)
			}
		}
		return row, store.Create(tx, &row)
	})
}

func checkSymptom(symptom string) error {
	if _, known := faultfind.Shipped().Symptoms[symptom]; !known && symptom != "" {
		return fault.New("symptom", symptom, "one of "+strings.Join(faultfind.SymptomOrder(), ", "))
	}
	return nil
}

// Change replaces what is known of a phone before anything is done: the symptom, what works, the limit. The symptom
// stays once an act was done for it.
func Change(ctx context.Context, s *act.Service, c act.Command, id string, saw int,
	f store.FaultFacts) (store.FaultCase, error) {
	return act.Change(ctx, s, c, id, saw, func(_ *store.Tx, row *store.FaultCase) error {
		if err := open(row); err != nil {
			return err
		}
		if err := checkSymptom(f.Symptom); err != nil {
			return err
		}
		if len(row.Acts) > 0 && f.Symptom != row.Symptom {
			return fault.New("symptom", f.Symptom,
				row.Symptom+", for which steps are on record; take them back first, or open another search")
		}
		for field, list := range map[string][]string{"works": f.Works, "lost": f.Lost} {
			for i, mark := range list {
				if _, known := faultfind.Shipped().Needs[mark]; !known {
					return fault.New(fmt.Sprintf("%s[%d]", field, i), mark, "a check that tells of a fault")
				}
			}
		}
		row.FaultFacts = f
		return nil
	})
}

func open(row *store.FaultCase) error {
	if row.State != "open" {
		return fault.New("state", row.State, "open; open the search again first")
	}
	return nil
}

// NewAct is an act that was done, with its answer.
type NewAct struct {
	ID      string  `json:"id" format:"uuid"`
	Act     string  `json:"act" minLength:"1" maxLength:"80"`
	Answer  string  `json:"answer" enum:"yes,no,at times"`
	Minutes float64 `json:"minutes,omitempty" minimum:"0" maximum:"1440" doc:"at the phone; 0: as planned"`
}

// Do records an act: in the case, in the log of a study's phone, off the shelf where it fitted a new piece. The
// closing control that held closes the case and teaches. An act that was recorded already is no second one.
func Do(ctx context.Context, s *act.Service, c act.Command, id string, f NewAct) (store.FaultCase, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.FaultCase, error) {
		row, err := store.Lock[store.FaultCase](tx, id)
		if err != nil {
			return store.FaultCase{}, act.ErrNotFound
		}
		if slices.ContainsFunc(row.Acts, func(a store.FaultAct) bool { return a.ID == f.ID }) {
			return *row, nil
		}
		if err := open(row); err != nil {
			return *row, err
		}
		visit, err := store.Get[store.Visit](tx.DB, row.VisitID)
		if err != nil {
			return *row, err
		}
		r, err := loadOf(tx.DB, *row, *visit)
		if err != nil {
			return *row, err
		}
		if err := r.may(ctx, f); err != nil {
			return *row, err
		}
		done := store.FaultAct{ID: f.ID, Act: f.Act, Answer: f.Answer, Minutes: f.Minutes, DoneAt: tx.Happened,
			By: c.Actor.Display}
		if done.Minutes == 0 {
			done.Minutes = r.planned(ctx, f.Act)
		}
		if err := r.write(tx, &done); err != nil {
			return *row, err
		}
		changed, err := store.Update(tx, id, row.Version, func(x *store.FaultCase) error {
			x.Acts = append(x.Acts, done)
			r.FaultCase = *x
			if f.Act == closing && f.Answer == "yes" {
				return r.finish(ctx, tx, x)
			}
			return nil
		})
		if err != nil {
			return *row, err
		}
		if visit.State == "in" {
			if err := visitState(tx, visit, "on the bench"); err != nil {
				return *row, err
			}
		}
		return *changed, nil
	})
}

func visitState(tx *store.Tx, v *store.Visit, state string) error {
	_, err := store.Update(tx, v.ID, v.Version, func(x *store.Visit) error {
		x.State = state
		return nil
	})
	return err
}

// may refuses what cannot be done: an act of another symptom, or one that the engine does not take.
func (r *record) may(ctx context.Context, f NewAct) error {
	if r.Symptom == "" {
		return fault.New("act", f.Act, "nothing before the symptom is chosen")
	}
	if _, known := faultfind.ActOf(r.Symptom, f.Act); !known && f.Act != closing {
		var names []string
		for _, a := range faultfind.Shipped().Symptoms[r.Symptom].Acts {
			names = append(names, a.Act)
		}
		return fault.New("act", f.Act, strings.Join(append(names, closing), ", "))
	}
	if f.Answer == "at times" {
		return nil
	}
	_, err := r.solve(ctx, faultfind.Tried{Act: f.Act, Hit: f.Answer == "yes"})
	return err
}

// planned are the minutes that the act was said to take.
func (r *record) planned(ctx context.Context, name string) float64 {
	out, err := r.solve(ctx)
	if err != nil {
		return 0
	}
	for _, n := range out.Next {
		if n.Act == name {
			return n.Minutes
		}
	}
	return 0
}

// finish closes a case whose closing control held: what it ended with is counted for the chances, the job is closed,
// the phone is.
func (r *record) finish(ctx context.Context, tx *store.Tx, x *store.FaultCase) error {
	out, err := r.solve(ctx)
	if err != nil {
		return err
	}
	at := tx.Happened
	x.State, x.Ended, x.ClosedAt = "repaired", out.Between, &at
	if err := count(tx, x, 1); err != nil {
		return err
	}
	return r.endJob(tx, x, true)
}

// count adds a closed case to the chances of its causes, each its share, or takes it back.
func count(tx *store.Tx, x *store.FaultCase, by float64) error {
	for _, cause := range x.Ended {
		if err := store.CountFault(tx, x.ModelID, x.Symptom, cause, by/float64(len(x.Ended))); err != nil {
			return err
		}
	}
	return nil
}

// UndoAct takes the last act back, with what it wrote; of a case that its closing control closed, it opens it again.
func UndoAct(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.FaultCase, error) {
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (store.FaultCase, error) {
		row, err := store.Update(tx, id, saw, func(x *store.FaultCase) error {
			if len(x.Acts) == 0 {
				return fault.New("acts", "nothing", "at least one act that can be taken back")
			}
			last := x.Acts[len(x.Acts)-1]
			if x.State == "repaired" {
				if err := reopen(tx, x); err != nil {
					return err
				}
			} else if err := open(x); err != nil {
				return err
			}
			x.Acts = x.Acts[:len(x.Acts)-1]
			return takeBack(tx, last)
		})
		if err != nil {
			return store.FaultCase{}, err
		}
		return *row, nil
	})
}

// End is how a search ended without a repair.
type End struct {
	Version int    `json:"version" minimum:"1"`
	State   string `json:"state" enum:"given up,not told apart,open"`
	Why     string `json:"why,omitempty" maxLength:"300"`
}

// Stop ends a search without a repair, with its reason, or opens it again. The job stays open.
func Stop(ctx context.Context, s *act.Service, c act.Command, id string, f End) (store.FaultCase, error) {
	return act.Change(ctx, s, c, id, f.Version, func(tx *store.Tx, x *store.FaultCase) error {
		if f.State == "open" {
			if x.State == "repaired" {
				return fault.New("state", f.State, "taking the closing control back, which opens it again")
			}
			x.State, x.Why, x.ClosedAt, x.Ended = "open", "", nil, nil
			return nil
		}
		if err := open(x); err != nil {
			return err
		}
		if f.State == "given up" && strings.TrimSpace(f.Why) == "" {
			return fault.New("why", f.Why, "why it is given up: too dear, dead, no piece, the owner wants it so")
		}
		visit, err := store.Get[store.Visit](tx.DB, x.VisitID)
		if err != nil {
			return err
		}
		r, err := loadOf(tx.DB, *x, *visit)
		if err != nil {
			return err
		}
		if f.State == "not told apart" && x.Symptom != "" {
			out, err := r.solve(ctx)
			if err != nil {
				return err
			}
			x.Ended = out.Between
		}
		at := tx.Happened
		x.State, x.Why, x.ClosedAt = f.State, f.Why, &at
		return r.endJob(tx, x, false)
	})
}
