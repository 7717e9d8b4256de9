package benchday

import (
	"context"
	"slices"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/day"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/repair"
	"waryowl/internal/store"
)

// logged starts and ends operations by the strip log of their units: an operation starts when the first of its steps
// was begun, and ends when the last of them was logged. What somebody said by hand stands.
func logged(db *gorm.DB, rows []store.BenchJob, begins, date time.Time) error {
	var units []string
	for _, r := range rows {
		if r.UnitID != "" {
			units = append(units, r.UnitID)
		}
	}
	if len(units) == 0 {
		return nil
	}
	var entries []struct {
		UnitID, StepID string
		Seconds        float64
		HappenedAt     time.Time
	}
	err := db.Table("log_entries").Select("unit_id, step_id, seconds, happened_at").
		Where("unit_id IN ? AND happened_at >= ? AND happened_at < ? AND kind = 'step' AND NOT back AND deleted_at IS NULL",
			units, begins, begins.Add(24*time.Hour)).
		Order("happened_at, id").Limit(5000).Find(&entries).Error
	if err != nil {
		return err
	}
	for i := range rows {
		for k := range rows[i].Ops {
			o := &rows[i].Ops[k]
			seen := map[string]bool{}
			first, last := 0, 0
			for _, e := range entries {
				if e.UnitID != rows[i].UnitID || !slices.Contains(o.Steps, e.StepID) {
					continue
				}
				at := int(e.HappenedAt.Sub(begins).Seconds())
				if len(seen) == 0 {
					first = max(0, at-int(e.Seconds))
				}
				seen[e.StepID] = true
				last = max(first, at)
			}
			if len(seen) == 0 {
				continue
			}
			if o.Started == nil {
				o.Started = &first
			}
			if o.Ended == nil && len(seen) == len(o.Steps) && last >= *o.Started {
				o.Ended = &last
			}
		}
	}
	return nil
}

// settled ends what must have ended: all that comes before something that was started.
func settled(ops []store.BenchOp) []store.BenchOp {
	ops = slices.Clone(ops)
	at := map[string]int{}
	for i, o := range ops {
		at[o.ID] = i
	}
	for range ops {
		for _, o := range ops {
			if o.Started == nil {
				continue
			}
			for _, a := range o.After {
				p := &ops[at[a.Op]]
				if p.Ended == nil {
					end := max(0, *o.Started-a.Wait)
					p.Ended = &end
				}
				if p.Started == nil {
					begin := max(0, *p.Ended-p.P50)
					p.Started = &begin
				}
			}
		}
	}
	return ops
}

// again is the name of a heat that is made once more.
const again = " again"

// cooled puts a new heat in where one has run out before what must follow it was started, and names those heats.
func cooled(ops []store.BenchOp, now int) ([]store.BenchOp, []string) {
	out := slices.Clone(ops)
	var names []string
	for i := range out {
		o := out[i]
		if o.Started != nil {
			continue
		}
		for k, a := range o.After {
			if a.Within == nil {
				continue
			}
			j := slices.IndexFunc(ops, func(x store.BenchOp) bool { return x.ID == a.Op })
			if j < 0 || ops[j].Ended == nil || now <= *ops[j].Ended+*a.Within {
				continue
			}
			heat := ops[j]
			heat.ID, heat.Started, heat.Ended, heat.Person, heat.Steps = heat.ID+again, nil, nil, "", nil
			heat.After = []store.BenchAfter{{Op: a.Op}}
			if slices.ContainsFunc(out, func(x store.BenchOp) bool { return x.ID == heat.ID }) || len(heat.ID) > 40 {
				continue
			}
			out[i].After = slices.Clone(o.After)
			out[i].After[k] = store.BenchAfter{Op: heat.ID, Within: a.Within}
			out = append(out, heat)
			names = append(names, a.Op)
		}
	}
	return out, names
}

// Step is what is said of an operation: it starts, it ends, or neither happened. At is in seconds since opening.
type Step struct {
	Version int    `json:"version" minimum:"1"`
	Op      string `json:"op" minLength:"1" maxLength:"60"`
	What    string `json:"what" enum:"start,end,undo"`
	At      int    `json:"at" minimum:"0" maximum:"86400"`
	Person  string `json:"person,omitempty" maxLength:"40"`
}

// Tell writes down that an operation starts or ends.
func Tell(ctx context.Context, s *act.Service, c act.Command, id string, f Step) (store.BenchJob, error) {
	return act.Change(ctx, s, c, id, f.Version, func(tx *store.Tx, r *store.BenchJob) error {
		r.Ops, _ = cooled(settled(r.Ops), f.At)
		k := slices.IndexFunc(r.Ops, func(o store.BenchOp) bool { return o.ID == f.Op })
		if k < 0 {
			return fault.New("op", f.Op, "an operation of this job")
		}
		o := &r.Ops[k]
		at := f.At
		switch f.What {
		case "start":
			o.Started, o.Ended, o.Person = &at, nil, f.Person
		case "end":
			if o.Started == nil {
				begin := max(0, at-o.P50)
				o.Started = &begin
			}
			if at < *o.Started {
				return fault.New("at", at, "not before it was started")
			}
			o.Ended = &at
		case "undo":
			if slices.ContainsFunc(r.Ops, func(n store.BenchOp) bool {
				return n.Started != nil &&
					slices.ContainsFunc(n.After, func(a store.BenchAfter) bool { return a.Op == o.ID })
			}) {
				return fault.New("op", f.Op, "one that nothing started came after: take that back first")
			}
			o.Started, o.Ended, o.Person = nil, nil, ""
		default:
			return fault.New("what", f.What, "start, end, undo")
		}
		r.Ops = settled(r.Ops)
		return nil
	})
}

// Put stores a job of a day in a transaction that somebody else began; its operations are made from the way where it has
// none.
func Put(tx *store.Tx, row *store.BenchJob) error {
	if err := fill(tx.DB, &row.BenchJobFacts, ""); err != nil {
		return err
	}
	return store.Create(tx, row)
}

// visited starts and ends operations by the logs of the visits whose repairs the jobs are: those of the way in by their
// steps, the others by what they stand for.
func visited(db *gorm.DB, rows []store.BenchJob, begins time.Time) error {
	var visits []string
	for _, r := range rows {
		if r.VisitID != "" {
			visits = append(visits, r.VisitID)
		}
	}
	if len(visits) == 0 {
		return nil
	}
	entries, err := store.List[store.VisitEntry](db.Limit(10_000), "happened_at, id", "visit_id IN ?", visits)
	if err != nil {
		return err
	}
	closed, err := store.List[store.Visit](db, "id", "id IN ? AND closed_at IS NOT NULL", visits)
	if err != nil {
		return err
	}
	for i := range rows {
		var list []store.VisitEntry
		for _, e := range entries {
			if e.VisitID == rows[i].VisitID {
				list = append(list, e)
			}
		}
		k := slices.IndexFunc(closed, func(v store.Visit) bool { return v.ID == rows[i].VisitID })
		for j := range rows[i].Ops {
			o := &rows[i].Ops[j]
			first, last, seen := 0, 0, map[string]bool{}
			for _, e := range list {
				if !slices.Contains(o.Steps, e.StepID) && (o.Phase == "" || phase(e.Key) != o.Phase) ||
					len(o.Steps) > 0 && repair.Part(e.Key) != repair.In {
					continue
				}
				at := max(0, min(86400, int(e.HappenedAt.Sub(begins).Seconds())))
				if len(seen) == 0 {
					first = max(0, at-int(e.Seconds))
				}
				seen[e.Key] = true
				last = max(first, at)
			}
			if len(seen) == 0 {
				continue
			}
			if o.Started == nil {
				o.Started = &first
			}
			ended := len(o.Steps) > 0 && len(seen) == len(o.Steps) || o.Phase == "cure" ||
				o.Phase == "back" && slices.ContainsFunc(list, func(e store.VisitEntry) bool {
					return slices.Contains([]string{"cure", "test"}, phase(e.Key))
				})
			if o.Phase == "test" && k >= 0 {
				ended, last = true, max(first, min(86400, int(closed[k].ClosedAt.Sub(begins).Seconds())))
			}
			if o.Ended == nil && ended && last >= *o.Started {
				o.Ended = &last
			}
		}
	}
	return nil
}

// phase is what an act after the way in stands for: back, cure or test.
func phase(key string) string {
	switch repair.Part(key) {
	case "in", "wait", "round", "incident":
		return ""
	case "cure":
		return "cure"
	case "check":
		return "test"
	}
	return "back"
}

// AddJob puts a job on a day. Without operations they come from the model's way to the part; text is operations as they
// are typed.
func AddJob(
	ctx context.Context,
	s *act.Service,
	c act.Command,
	id string,
	f store.BenchJobFacts,
	text string,
) (store.BenchJob, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.BenchJob, error) {
		row := store.BenchJob{Row: store.Row{ID: id}, BenchJobFacts: f}
		if err := fill(tx.DB, &row.BenchJobFacts, text); err != nil {
			return row, err
		}
		return row, store.Create(tx, &row)
	})
}

// ChangeJob replaces what is known of a job of the day.
func ChangeJob(ctx context.Context, s *act.Service, c act.Command, id string, saw int, f store.BenchJobFacts,
	text string) (store.BenchJob, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, r *store.BenchJob) error {
		if err := fill(tx.DB, &f, text); err != nil {
			return err
		}
		r.BenchJobFacts = f
		return nil
	})
}

// fill checks the facts, and makes the operations where there are none.
func fill(db *gorm.DB, f *store.BenchJobFacts, text string) error {
	w, err := workshop(db)
	if err != nil {
		return err
	}
	f.Day = f.Day.UTC().Truncate(24 * time.Hour)
	if f.UnitID != "" {
		if _, err := store.Get[store.Unit](db, f.UnitID); err != nil {
			return fault.New("unit_id", f.UnitID, "a phone of a study")
		}
	}
	if text != "" {
		if f.Ops, err = ReadOps(text, w.Machines); err != nil {
			return err
		}
	}
	if len(f.Ops) == 0 && f.ModelID != "" && f.PartID != "" {
		k, err := model.Load(db, f.ModelID)
		if err != nil {
			return fault.New("for_model_id", f.ModelID, "the id of a model")
		}
		if f.Ops, err = OpsOf(k, f.PartID, w.Machines); err != nil {
			return err
		}
	}
	if len(f.Ops) == 0 {
		return fault.New("ops", "none", "operations, or a model and the part that the way leads to")
	}
	// A job is kept only if it can be planned by itself.
	in := document(w, readHours(w.OpeningHours), []store.BenchJob{{Row: store.Row{ID: "job"}, BenchJobFacts: *f}}, 0)
	in.Effort, in.Runs = 1000, 1
	if _, err := day.Solve(in); err != nil {
		return err
	}
	return nil
}
