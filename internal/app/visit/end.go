package visit

import (
	"context"
	"errors"
	"math"
	"slices"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/repair"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// Ended says how a repair went. Its minutes come from its log.
type Ended struct {
	Version  int      `json:"version" minimum:"1"`
	Went     string   `json:"went" enum:"fine,incident,gave up"`
	HurtPart string   `json:"hurt_part,omitempty" maxLength:"36" doc:"part that was damaged"`
	HurtStep string   `json:"hurt_step,omitempty" maxLength:"36" doc:"step at which"`
	Note     string   `json:"note,omitempty" maxLength:"1000" lines:"yes"`
	Away     []string `json:"away,omitempty" nullable:"false" maxItems:"300" doc:"keys of acts during which somebody was away"`
	Minutes  float64  `json:"minutes,omitempty" minimum:"0" maximum:"1440" doc:"0: by the log"`
}

// End closes a repair: its outcome is recorded, its job closed, the pieces that it used come off their shelves. Minutes
// that are hardly those of a repair are asked about, and teach nothing until then.
func End(ctx context.Context, s *act.Service, c act.Command, id string, f Ended) (store.Visit, error) {
	return act.Change(ctx, s, c, id, f.Version, func(tx *store.Tx, v *store.Visit) error {
		if !v.Open() {
			return fault.New("state", v.State, "a repair that is not closed")
		}
		if (f.Went == "incident") != (f.HurtPart != "") {
			return fault.New("hurt_part", f.HurtPart, "the part that was damaged, after an incident and only then")
		}
		k, err := model.Load(tx.DB, v.ModelID)
		if err != nil {
			return err
		}
		if err := act.Belongs("part_id", v.PartID, k.PartByID, "a part that is exchanged"); err != nil {
			return err
		}
		if f.HurtPart != "" {
			if err := act.Belongs("hurt_part", f.HurtPart, k.PartByID, "a part of this model"); err != nil {
				return err
			}
		}
		if f.HurtStep != "" {
			if err := act.Belongs("hurt_step", f.HurtStep, k.StepByID, "a step of this model's plan"); err != nil {
				return err
			}
		}
		entries, err := away(tx, id, f.Away)
		if err != nil {
			return err
		}
		way, acts, _ := sheet(k, v.PartID, nil)
		if way == nil {
			way = &model.Way{}
		}
		state := repair.Progress(acts, plain(entries))
		v.Minutes = f.Minutes
		if v.Minutes == 0 {
			v.Minutes = math.Round((state.HandsOn+state.Waited)/6) / 10
		}
		whole := way.ClosedMinutes * 60
		if v.Doubt = ""; worktime.Doubtful(v.Minutes*60, fastest(acts), whole) && f.Went != "gave up" {
			v.Doubt = "asked"
		}
		v.Went, v.HurtPart, v.HurtStep, v.Note, v.State = f.Went, f.HurtPart, f.HurtStep, f.Note, "closed"
		now := tx.Arrived
		v.ClosedAt = &now
		if v.HurtPart != "" && v.HurtStep == "" {
			v.HurtStep = hurtAt(entries, f.HurtPart, way)
		}
		if f.Went != "gave up" {
			if err := use(tx, k, way, v); err != nil {
				return err
			}
		}
		return record(tx, v, way, walked(entries), c.Actor.ID)
	})
}

// fastest is the sum of the fastest tenths of all acts of a repair, the checks of what was not touched aside.
func fastest(acts []repair.Act) float64 {
	sum := 0.0
	for _, a := range acts {
		if !a.Rest && a.Kind != repair.Wait {
			sum += a.Early
		}
	}
	return sum
}

// away marks the acts during which somebody was away, and gives all of the visit back.
func away(tx *store.Tx, id string, keys []string) ([]store.VisitEntry, error) {
	entries, err := store.List[store.VisitEntry](tx.DB, "happened_at, id", "visit_id = ?", id)
	if err != nil {
		return nil, err
	}
	for i, e := range entries {
		if slices.Contains(keys, e.Key) == e.Away {
			continue
		}
		row, err := store.Update(tx, e.ID, e.Version, func(e *store.VisitEntry) error {
			e.Away = !e.Away
			return nil
		})
		if err != nil {
			return nil, err
		}
		entries[i] = *row
	}
	return entries, nil
}

// plain are entries as the core counts them.
func plain(entries []store.VisitEntry) []repair.Entry {
	var list []repair.Entry
	for _, e := range entries {
		list = append(list, repair.Entry{Key: e.Key, Seconds: e.Seconds, Break: e.Away, Skipped: e.Skipped})
	}
	return list
}

// walked are the steps out that were done.
func walked(entries []store.VisitEntry) []string {
	steps := []string{}
	for _, e := range entries {
		if repair.Part(e.Key) == repair.In && !e.Skipped && !slices.Contains(steps, e.StepID) {
			steps = append(steps, e.StepID)
		}
	}
	return steps
}

// hurtAt is the step at which a part was damaged where nobody said it: the last one done before the incident, else the
// riskiest for that part.
func hurtAt(entries []store.VisitEntry, part string, way *model.Way) string {
	last := ""
	for _, e := range entries {
		if e.HurtPart == part && last != "" {
			return last
		}
		if repair.Part(e.Key) == repair.In {
			last = e.StepID
		}
	}
	if last == "" && len(way.Steps) > 0 {
		last = way.Steps[len(way.Steps)-1].ID
	}
	return last
}

// use takes what a repair used up off the shelves: the piece where no job takes it, and each consumable.
func use(tx *store.Tx, k *model.Record, way *model.Way, v *store.Visit) error {
	var items []string
	if v.WorkID == "" {
		items = append(items, desk.Slot(k.Kind(v.PartID)))
	}
	for _, c := range way.Consumables {
		items = append(items, desk.Slot(c))
	}
	for _, item := range items {
		if item == "" {
			continue
		}
		shelf, err := desk.TakePiece(tx, v.ModelID, item)
		if err != nil {
			return err
		}
		if shelf.ID != "" {
			v.Used = append(v.Used, store.UsedPiece{Item: item, ShelfID: shelf.ID})
		}
	}
	return nil
}

// record writes what a closed repair teaches: the outcome on the job card, and the job with its minutes. Odds are counted
// once, by the job where there is one.
func record(tx *store.Tx, v *store.Visit, way *model.Way, steps []string, who string) error {
	o := store.Outcome{ModelID: v.ModelID, PartID: v.PartID, AccountID: who, Doubt: v.Doubt != "",
		OutcomeFacts: store.OutcomeFacts{Minutes: math.Max(0.5, v.Minutes), Went: v.Went, Note: v.Note, Predicted: way.ClosedMinutes}}
	if v.WorkID == "" {
		o.Steps, o.HurtPart, o.HurtStep = steps, v.HurtPart, v.HurtStep
	}
	if err := store.Create(tx, &o); err != nil {
		return err
	}
	v.OutcomeID = o.ID
	return settle(tx, v.WorkID, func(w *store.Work) {
		w.Status, w.Went, w.Minutes, w.Steps, w.HurtPart, w.HurtStep = "closed", v.Went, v.Minutes, steps, v.HurtPart, v.HurtStep
		if v.Doubt != "" {
			w.Minutes, w.Steps, w.HurtStep = 0, nil, ""
		}
	})
}

// Confirmed says whether minutes that looked wrong were right.
type Confirmed struct {
	Version int  `json:"version" minimum:"1"`
	Counts  bool `json:"counts"`
}

// Confirm answers the question about doubtful minutes: they count from now on, or never do.
func Confirm(ctx context.Context, s *act.Service, c act.Command, id string, f Confirmed) (store.Visit, error) {
	return act.Change(ctx, s, c, id, f.Version, func(tx *store.Tx, v *store.Visit) error {
		if v.Doubt == "" {
			return fault.New("counts", f.Counts, "nothing: the minutes of this repair were not in doubt")
		}
		if v.Doubt = "left out"; f.Counts {
			v.Doubt = ""
		}
		entries, err := store.List[store.VisitEntry](tx.DB, "happened_at, id", "visit_id = ?", id)
		if err != nil {
			return err
		}
		o, err := store.Get[store.Outcome](tx.DB, v.OutcomeID)
		if err == nil {
			_, err = store.Update(tx, o.ID, o.Version, func(o *store.Outcome) error {
				o.Doubt = v.Doubt != ""
				return nil
			})
		}
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		return settle(tx, v.WorkID, func(w *store.Work) {
			if v.Doubt == "" {
				w.Minutes, w.Steps, w.HurtStep = v.Minutes, walked(entries), v.HurtStep
			}
		})
	})
}

// reopen takes back what closing a repair wrote.
func reopen(tx *store.Tx, v *store.Visit) error {
	for _, u := range v.Used {
		if err := desk.LayBack(tx, u.ShelfID, 1); err != nil {
			return err
		}
	}
	o, err := store.Get[store.Outcome](tx.DB, v.OutcomeID)
	if err == nil {
		_, err = store.Delete[store.Outcome](tx, o.ID, o.Version)
	}
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	v.Used, v.OutcomeID, v.ClosedAt, v.Went, v.HurtPart, v.HurtStep, v.Doubt, v.Minutes = nil, "", nil, "", "", "", "", 0
	return settle(tx, v.WorkID, func(w *store.Work) {
		w.Status, w.Went, w.Minutes, w.Steps, w.HurtPart, w.HurtStep = "on the bench", "", 0, nil, "", ""
	})
}
