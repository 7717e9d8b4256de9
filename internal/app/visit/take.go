// Package visit is the stay of a phone in the workshop for a repair: it comes in, is repaired act by act, is tested, and is
// handed back. What its owner said is deleted some time after that.
package visit

import (
	"context"
	"errors"
	"strings"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/benchday"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/app/parts"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// Arriving is a phone that comes in: its model, what is to be exchanged, and where it goes.
type Arriving struct {
	ModelID string `json:"for_model_id,omitempty" maxLength:"36"`
	store.VisitFacts
	Why string `json:"why,omitempty" maxLength:"300" doc:"why it is taken against the advice"`
	Day string `json:"day,omitempty" maxLength:"10" doc:"bench day, such as 2026-11-27; empty: today"`
}

// Quick are the checks that are run when a phone arrives, in the order of the hand (common practice, no source).
var Quick = []string{"boot", "touch", "charging", "loudspeaker", "microphones", "front-camera", "rear-camera",
	"button-power"}

// Take records a phone that came in. Where its repair is a common job and nobody asked for it yet, the job is promised
// with it, which keeps a piece for it; and it is put on a bench day.
func Take(ctx context.Context, s *act.Service, c act.Command, id string, f Arriving) (store.Visit, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Visit, error) {
		v := store.Visit{Row: store.Row{ID: id}, ModelID: f.ModelID, VisitFacts: f.VisitFacts}
		v.State = "in"
		if err := free(tx.DB, v); err != nil {
			return v, err
		}
		day := tx.Arrived.Truncate(24 * time.Hour)
		if f.Day != "" {
			var err error
			if day, err = benchday.ReadDate(f.Day); err != nil {
				return v, err
			}
		}
		asked := v.WorkID != ""
		if err := study.Arrive(tx, &v); err != nil {
			return v, err
		}
		if v.PartID == "" {
			return v, nil
		}
		k, err := model.Load(tx.DB, v.ModelID)
		if err != nil {
			return v, err
		}
		if err := act.Belongs("part_id", v.PartID, k.PartByID, "a part of this model"); err != nil {
			return v, err
		}
		work, err := promise(tx, c, k, v, asked, day, f.Why)
		if err != nil {
			return v, err
		}
		if v.WorkID != work {
			row, err := store.Update(tx, v.ID, v.Version, func(row *store.Visit) error {
				row.WorkID = work
				return nil
			})
			if err != nil {
				return v, err
			}
			v = *row
		}
		return v, bench(tx, k, v, day)
	})
}

// free refuses a name that another phone in the workshop has.
func free(db *gorm.DB, v store.Visit) error {
	same, err := store.List[store.Visit](db.Limit(1), "id", "sticker = ? AND id <> ? AND state <> 'handed back' AND unit_id = ''",
		strings.TrimSpace(v.Sticker), v.ID)
	if err == nil && len(same) > 0 && v.UnitID == "" {
		return fault.New("sticker", v.Sticker, "a name that no other phone in the workshop has now")
	}
	return err
}

// promise writes the job down that a visit is about, and gives its id, "" for a part that is none of the common jobs.
func promise(tx *store.Tx, c act.Command, k *model.Record, v store.Visit, asked bool, day time.Time, why string) (string,
	error) {
	job := parts.JobOf(k.Kind(v.PartID))
	if asked {
		w, err := store.Get[store.Work](tx.DB, v.WorkID)
		if err != nil {
			return "", err
		}
		_, err = store.Update(tx, w.ID, w.Version, func(w *store.Work) error {
			if w.Status == "asked" {
				w.Status = "promised"
			}
			return nil
		})
		return v.WorkID, err
	}
	if job == "" {
		return "", nil
	}
	d, err := desk.Load(tx.DB, []string{v.ModelID}, true)
	if err != nil {
		return "", err
	}
	price, _ := d.Price(v.ModelID, job)
	w := store.Work{WorkFacts: store.WorkFacts{ModelID: v.ModelID, Job: job, Status: "promised", AskedOn: tx.Arrived,
		PromisedOn: &day, Price: int64(price), Currency: d.Workshop.Currency, Why: strings.TrimSpace(why)}}
	if w.Why != "" {
		w.Overrode = c.Actor.Display
	}
	return w.ID, store.Create(tx, &w)
}

// bench puts the repair on a day, where it can be planned.
func bench(tx *store.Tx, k *model.Record, v store.Visit, day time.Time) error {
	if w := k.WayTo(v.PartID); w == nil || w.Blocked != "" {
		return nil
	}
	row := store.BenchJob{BenchJobFacts: store.BenchJobFacts{Day: day, Title: v.Sticker, ModelID: v.ModelID, PartID: v.PartID,
		UnitID: v.UnitID, WorkID: v.WorkID, VisitID: v.ID}}
	err := benchday.Put(tx, &row)
	var wrong *fault.Fault
	if errors.As(err, &wrong) {
		return nil // it fits into no day by itself: the phone is here nevertheless
	}
	return err
}

// Change replaces what is known of a visit. Its state is changed by [Move].
func Change(ctx context.Context, s *act.Service, c act.Command, id string, saw int, f store.VisitFacts) (store.Visit, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, v *store.Visit) error {
		if v.ForgottenAt != nil && f.Ticket+f.Said != "" {
			return fault.New("ticket", f.Ticket+f.Said, "nothing any more: what the owner said of this visit was deleted")
		}
		f.State, f.StudyID, f.UnitID, f.WorkID = v.State, v.StudyID, v.UnitID, v.WorkID
		if v.UnitID != "" || f.Sticker == "" {
			f.Sticker = v.Sticker
		}
		if v.PartID != "" && f.PartID != v.PartID && v.WorkID != "" {
			return fault.New("part_id", f.PartID, "the part that was promised: hand the phone back, and take it in for another one")
		}
		if f.PartID != v.PartID {
			k, err := model.Load(tx.DB, v.ModelID)
			if err != nil {
				return err
			}
			if f.PartID != "" {
				if err := act.Belongs("part_id", f.PartID, k.PartByID, "a part of this model"); err != nil {
					return err
				}
				// Said later what is to be done, it is promised and planned as if it had been said at the counter.
				v.PartID = f.PartID
				today := tx.Arrived.Truncate(24 * time.Hour)
				if f.WorkID, err = promise(tx, c, k, *v, v.WorkID != "", today, ""); err != nil {
					return err
				}
				v.WorkID = f.WorkID
				if err := bench(tx, k, *v, today); err != nil {
					return err
				}
			}
		}
		v.VisitFacts = f
		if err := study.CheckVisit(v); err != nil {
			return err
		}
		return free(tx.DB, *v)
	})
}

// Moved says what becomes of a phone: it waits for a part, is taken up again, or is handed back.
type Moved struct {
	Version int    `json:"version" minimum:"1"`
	State   string `json:"state" enum:"in,waiting for a part,handed back"`
}

// Move changes the state of a visit. A closed one that is taken up again loses what its closing wrote; one that is handed
// back without a repair gives up its job.
func Move(ctx context.Context, s *act.Service, c act.Command, id string, f Moved) (store.Visit, error) {
	return act.Change(ctx, s, c, id, f.Version, func(tx *store.Tx, v *store.Visit) error {
		switch {
		case v.State == "handed back" && f.State != "in":
			return fault.New("state", f.State, "in: it was handed back already")
		case f.State == "handed back":
			now := tx.Arrived
			v.HandedAt = &now
			if v.State != "closed" {
				if err := settle(tx, v.WorkID, func(w *store.Work) {
					w.Status, w.Why = "refused", "handed back without a repair"
				}); err != nil {
					return err
				}
			}
		case v.ClosedAt != nil:
			if err := reopen(tx, v); err != nil {
				return err
			}
		}
		if f.State != "handed back" {
			v.HandedAt = nil
		}
		v.State = f.State
		return nil
	})
}

// settle changes the job of a visit where there is one that nobody deleted.
func settle(tx *store.Tx, id string, change func(*store.Work)) error {
	if id == "" {
		return nil
	}
	w, err := store.Get[store.Work](tx.DB, id)
	if errors.Is(err, store.ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	_, err = store.Update(tx, w.ID, w.Version, func(w *store.Work) error {
		change(w)
		return parts.Settle(tx, w)
	})
	return err
}

// Delete takes a visit away that was written down by mistake: its job of the day goes with it, and its job is given up.
func Delete(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Visit, error) {
	return act.Delete(ctx, s, c, id, saw, func(tx *store.Tx, v *store.Visit) error {
		if v.ClosedAt != nil {
			return fault.New("state", v.State, "a visit whose repair is not closed")
		}
		days, err := store.List[store.BenchJob](tx.DB, "id", "visit_id = ?", id)
		if err != nil {
			return err
		}
		for _, d := range days {
			if _, err := store.Delete[store.BenchJob](tx, d.ID, d.Version); err != nil {
				return err
			}
		}
		return settle(tx, v.WorkID, func(w *store.Work) {
			if w.Status != "closed" {
				w.Status, w.Why = "refused", "the visit was taken back"
			}
		})
	})
}

// RestoreVisit brings a visit back that was taken away, with its job.
func RestoreVisit(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.Visit, error) {
	return act.Restore(ctx, s, c, id, saw, func(tx *store.Tx, v *store.Visit) error {
		if err := free(tx.DB, *v); err != nil {
			return err
		}
		return settle(tx, v.WorkID, func(w *store.Work) {
			if w.Status == "refused" {
				w.Status, w.Why = "promised", ""
			}
		})
	})
}
