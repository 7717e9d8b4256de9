package visit

import (
	"context"
	"errors"
	"regexp"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// NewEntry is an act of a repair as it was done.
type NewEntry struct {
	ID string `json:"id" format:"uuid"`
	store.VisitEntryFacts
}

var keyForm = regexp.MustCompile(`^(?:(in|back|wait) ([0-9a-f-]{36})|round \d{1,2} ([0-9a-f-]{36})|incident [0-9a-f-]{36}|see [a-z]+(?: [0-9a-f-]{36})?|` +
	`move .{1,110}|check [a-z0-9][a-z0-9._-]*|old|same|film|try|cure)$`)

// Log writes an act into the log of a visit. Written twice it stands there once: the first counts. The phone of a study
// has it in its own log as well. signed is who looked at an apprentice's work, "" for nobody.
func Log(ctx context.Context, s *act.Service, c act.Command, id string, f NewEntry, signed string) (store.VisitEntry, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.VisitEntry, error) {
		var e store.VisitEntry
		v, err := store.Lock[store.Visit](tx, id)
		if err != nil {
			return e, err
		}
		if !v.Open() {
			return e, fault.New("state", v.State, "a repair that is not closed; take it up again first")
		}
		m := keyForm.FindStringSubmatch(f.Key)
		if m == nil {
			return e, fault.New("key", f.Key, "the key of an act of this repair")
		}
		same, err := store.List[store.VisitEntry](tx.DB, "id", "visit_id = ? AND act_key = ?", id, f.Key)
		if err != nil {
			return e, err
		}
		if len(same) > 0 {
			return same[0], nil
		}
		e = store.VisitEntry{Row: store.Row{ID: f.ID}, VisitID: id, ModelID: v.ModelID, VisitEntryFacts: f.VisitEntryFacts,
			StepID: m[2] + m[3], HappenedAt: tx.Happened, SignedBy: signed}
		if e.StepID != "" {
			if step, err := store.Get[store.PlanStep](tx.DB, e.StepID); err != nil || step.ModelID != v.ModelID {
				return e, fault.New("key", f.Key, "an act about a step of this model's plan")
			}
		}
		if f.HurtPart != "" {
			if p, err := store.Get[store.Part](tx.DB, f.HurtPart); err != nil || p.ModelID != v.ModelID {
				return e, fault.New("hurt_part", f.HurtPart, "a part of this model")
			}
		}
		if signs, err := watched(tx, c.Actor.ID, f.Key); err != nil || signs && signed == "" {
			if err == nil {
				err = fault.New("signed_by", "", "another person's look: the office wants it here for apprentices")
			}
			return e, err
		}
		return e, write(tx, v, &e, m[1])
	})
}

// write stores an entry, and what follows from it.
func write(tx *store.Tx, v *store.Visit, e *store.VisitEntry, way string) error {
	if v.UnitID != "" && (way == "in" || way == "back") && !e.Skipped {
		if _, err := store.Lock[store.Study](tx, v.StudyID); err != nil {
			return err
		}
		last, err := store.LastSeq[store.LogEntry](tx, v.StudyID)
		if err != nil {
			return err
		}
		l := store.LogEntry{StudyID: v.StudyID, UnitID: v.UnitID, StepID: e.StepID, Seq: last + 1, Back: way == "back",
			Seconds: e.Seconds, LogHead: store.LogHead{Kind: "step", Outcome: "done", HappenedAt: e.HappenedAt}}
		if err := store.Create(tx, &l); err != nil {
			return err
		}
		e.LogID = l.ID
	}
	if err := store.Create(tx, e); err != nil {
		return err
	}
	if v.State == "on the bench" {
		return nil
	}
	if _, err := store.Update(tx, v.ID, v.Version, func(v *store.Visit) error {
		v.State = "on the bench"
		return nil
	}); err != nil {
		return err
	}
	return settle(tx, v.WorkID, func(w *store.Work) {
		if slices.Contains([]string{"asked", "promised", "parts ordered"}, w.Status) {
			w.Status = "on the bench"
		}
	})
}

// Undo takes an entry back, and its line in the log of a study's phone.
func Undo(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.VisitEntry, error) {
	return act.Delete(ctx, s, c, id, saw, func(tx *store.Tx, e *store.VisitEntry) error {
		v, err := store.Get[store.Visit](tx.DB, e.VisitID)
		if err != nil {
			return err
		}
		if !v.Open() {
			return fault.New("state", v.State, "a repair that is not closed; take it up again first")
		}
		if e.LogID == "" {
			return nil
		}
		l, err := store.Get[store.LogEntry](tx.DB, e.LogID)
		if errors.Is(err, store.ErrNotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		_, err = store.Delete[store.LogEntry](tx, l.ID, l.Version)
		return err
	})
}

// Restore brings an entry back that was taken back; its line in a study's log with it.
func Restore(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.VisitEntry, error) {
	return act.Restore(ctx, s, c, id, saw, func(tx *store.Tx, e *store.VisitEntry) error {
		if e.LogID == "" {
			return nil
		}
		var l store.LogEntry
		if err := tx.DB.Unscoped().First(&l, "id = ?", e.LogID).Error; err != nil {
			return store.ErrNotFound
		}
		_, err := store.Restore[store.LogEntry](tx, l.ID, l.Version)
		return err
	})
}

// watched says whether an act is a gate at which another person looks at this person's work.
func watched(tx *store.Tx, account, key string) (bool, error) {
	gate, is := strings.CutPrefix(key, "see ")
	if !is {
		return false, nil
	}
	a, err := store.Get[store.Account](tx.DB, account)
	if err != nil || !a.Apprentice {
		return false, err
	}
	office, err := store.List[store.Workshop](tx.DB.Limit(1), "id", "1 = 1")
	if err != nil || len(office) == 0 {
		return false, err
	}
	return slices.Contains(office[0].SignOff, gateKind(gate)), nil
}

// MaySign refuses a look at one's own work, that of another apprentice, and of somebody who does not repair.
func MaySign(ctx context.Context, s *act.Service, who act.Actor, worker string) error {
	a, err := store.Get[store.Account](s.DB.WithContext(ctx), who.ID)
	if err != nil {
		return err
	}
	if who.ID == worker || a.Apprentice || who.Role != act.Technician && who.Role != act.Analyst {
		return fault.New("name", who.Name, "another person who repairs and is no apprentice")
	}
	return nil
}

// gateKind is what a gate is about: leads that are seated, a cable under the board, films, dust.
func gateKind(gate string) string {
	kind, _, _ := strings.Cut(gate, " ")
	return map[string]string{"seat": "leads", "cable": "cables", "film": "films", "dust": "dust"}[kind]
}
