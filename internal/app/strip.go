package app

import (
	"context"
	"errors"
	"slices"

	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/teardown"
	"waryowl/internal/store"
)

// Strip is the room of the strip-down.
type Strip struct {
	StudyCard
	Answer answer.Sentence  `json:"answer" nullable:"false"`
	Parts  []store.Part     `json:"parts" nullable:"false"`
	Steps  []store.PlanStep `json:"steps" nullable:"false"`
	Log    []store.LogEntry `json:"log" nullable:"false"`
	State  []UnitState      `json:"state" nullable:"false"`
	Notice string           `json:"notice"`
}

// UnitState is how far a unit is taken apart: parts that are out, screws on the mat, and the likeliest next steps.
type UnitState struct {
	UnitID string          `json:"unit_id"`
	Answer answer.Sentence `json:"answer" nullable:"false"`
	Out    []string        `json:"out" nullable:"false" doc:"ids of parts"`
	Screws int             `json:"screws"`
	Next   []NextStep      `json:"next" nullable:"false"`
}

// NextStep is a step of the plan whose prerequisites are met.
type NextStep struct {
	StepID   string           `json:"step_id"`
	Cautions []hazard.Caution `json:"cautions" nullable:"false"`
}

// entries is the log of one unit in the terms of the core.
func (b *bench) entries(unit string) []teardown.Entry {
	var log []teardown.Entry
	for _, e := range b.log {
		if e.UnitID == unit {
			log = append(log, teardown.Entry{Frees: b.know.step[e.StepID].Frees, Back: e.Back})
		}
	}
	return log
}

// done lists the steps of a unit that are carried out and not put back.
func (b *bench) done(unit string) []string {
	var done []string
	for _, e := range b.log {
		if e.UnitID != unit {
			continue
		}
		if e.Back {
			done = slices.DeleteFunc(done, func(id string) bool { return id == e.StepID })
		} else if !slices.Contains(done, e.StepID) {
			done = append(done, e.StepID)
		}
	}
	return done
}

func (b *bench) state(u store.Unit) UnitState {
	out, _ := teardown.Replay(b.entries(u.ID))
	st := UnitState{UnitID: u.ID, Out: append([]string{}, out...), Next: []NextStep{}}
	done := b.done(u.ID)
	for _, id := range done {
		if s := b.know.step[id]; s.Joint == "screw" || s.Joint == "post" {
			st.Screws += max(1, s.Count)
		}
	}
	for _, s := range b.know.steps {
		ready := len(s.After) == 0 || slices.ContainsFunc(s.After, func(alt []string) bool {
			return !slices.ContainsFunc(alt, func(id string) bool { return !slices.Contains(done, id) })
		})
		again := slices.Contains(done, s.ID) || slices.ContainsFunc(s.Frees, func(id string) bool { return slices.Contains(out, id) })
		if ready && !again {
			st.Next = append(st.Next, NextStep{s.ID, b.know.cautions(s)})
		}
	}
	// What the last act opened comes first: it is the likeliest next.
	slices.SortStableFunc(st.Next, func(a, c NextStep) int {
		return b.recent(done, c.StepID) - b.recent(done, a.StepID)
	})
	st.Next = st.Next[:min(8, len(st.Next))]
	st.Answer = answer.Sentence{answer.Name(u.Name, ""), answer.Text(": ")}
	switch {
	case len(out) > 0:
		st.Answer = append(st.Answer, answer.Name(b.know.part[out[len(out)-1]].Name, ""), answer.Text(" out last, "), answer.Count(len(out), "part", "#parts"), answer.Text(" out, "),
			answer.Count(st.Screws, "screw", "#mat"), answer.Text(" on the mat."))
	case len(done) > 0:
		st.Answer = append(st.Answer, answer.Count(len(done), "step", "#log"), answer.Text(" done, nothing out yet, "), answer.Count(st.Screws, "screw", "#mat"), answer.Text(" on the mat."))
	default:
		st.Answer = append(st.Answer, answer.Text("closed; nothing logged yet."))
	}
	if len(st.Next) > 0 {
		n := b.know.step[st.Next[0].StepID]
		st.Answer = append(st.Answer, answer.Text(" Next: "+n.Verb+" "), answer.Name(n.What, "#next"))
		if n.Tool != "" {
			st.Answer = append(st.Answer, answer.Text(", "+n.Tool))
		}
		st.Answer = append(st.Answer, answer.Text("."))
	}
	return st
}

// recent is the place in the log of the latest prerequisite of a step, from 1; 0 when it has none.
func (b *bench) recent(done []string, step string) int {
	last := 0
	for _, alt := range b.know.step[step].After {
		for _, id := range alt {
			last = max(last, slices.Index(done, id)+1)
		}
	}
	return last
}

// Strip shows what is out of each unit and what comes next.
func (s *Service) Strip(ctx context.Context, id string) (Strip, error) {
	b, err := loadStudy(s.DB.WithContext(ctx), id)
	if err != nil {
		return Strip{}, err
	}
	v := Strip{StudyCard: b.card(), Parts: b.know.parts, Steps: b.know.steps, Log: b.log, State: []UnitState{}, Notice: hazard.Notice,
		Answer: answer.Sentence{answer.Text("Record a unit at intake first: every entry belongs to one phone.")}}
	for _, u := range b.units {
		v.State = append(v.State, b.state(u))
	}
	if len(v.State) > 0 {
		v.Answer = v.State[0].Answer
	}
	return v, nil
}

// LogFacts say what was done on a unit: a step of the plan, or a new one that the plan learns.
type LogFacts struct {
	UnitID  string           `json:"unit_id" format:"uuid"`
	StepID  string           `json:"step_id,omitempty" doc:"step of the plan; empty when step is given"`
	Step    *store.StepFacts `json:"step,omitempty" doc:"a new step; without after it comes after the previous act on this unit"`
	Back    bool             `json:"back,omitempty" doc:"put back instead of taken out"`
	Seconds float64          `json:"seconds,omitempty" minimum:"0" maximum:"86400" doc:"measured; 0: not timed"`
	Note    string           `json:"note,omitempty" maxLength:"4000"`
}

// AddLog logs one act. A part that is freed twice without having been put back is refused.
func (s *Service) AddLog(ctx context.Context, c Command, study, id string, f LogFacts) (store.LogEntry, error) {
	return Do(ctx, s, c, 201, func(tx *store.Tx) (store.LogEntry, error) {
		var e store.LogEntry
		b, err := lockStudy(tx, study)
		if err != nil {
			return e, err
		}
		if err := belongs("unit_id", f.UnitID, b.unit, "a unit of this study"); err != nil {
			return e, err
		}
		if (f.StepID == "") == (f.Step == nil) {
			return e, fault.New("step_id", f.StepID, "either step_id or step")
		}
		e = store.LogEntry{Row: store.Row{ID: id}, StudyID: study, UnitID: f.UnitID, StepID: f.StepID, Back: f.Back, Seconds: f.Seconds, Note: f.Note, Seq: 1}
		if len(b.log) > 0 {
			e.Seq = b.log[len(b.log)-1].Seq + 1
		}
		if f.Step != nil {
			if f.Back {
				return e, fault.New("back", f.Back, "false for a step that was never taken out")
			}
			facts := *f.Step
			if done := b.done(f.UnitID); facts.After == nil && len(done) > 0 {
				facts.After = [][]string{{done[len(done)-1]}}
			}
			step, err := b.know.addStep(tx, "", "", facts)
			if err != nil {
				return e, inside("step", err)
			}
			e.StepID, e.NewStep = step.ID, true
		} else if err := belongs("step_id", f.StepID, b.know.step, "a step of this model's plan"); err != nil {
			return e, err
		}
		if f.Back && !slices.Contains(b.done(f.UnitID), e.StepID) {
			return e, fault.New("back", b.know.step[e.StepID].What, "a step that was carried out on this phone and not put back")
		}
		b.log = append(b.log, e)
		if err := b.replay(f.UnitID); err != nil {
			return e, err
		}
		return e, store.Create(tx, &e)
	})
}

// inside puts the field of a fault under a parent.
func inside(parent string, err error) error {
	var f *fault.Fault
	if errors.As(err, &f) {
		return &fault.Fault{Field: parent + "." + f.Field, Found: f.Found, Allowed: f.Allowed}
	}
	return err
}

// replay refuses a log that cannot have happened, with the part by its name.
func (b *bench) replay(unit string) error {
	_, err := teardown.Replay(b.entries(unit))
	var f *fault.Fault
	if errors.As(err, &f) {
		for id, p := range b.know.part {
			if f.Found == fault.New("", id, "").Found {
				f.Found = p.Name
			}
		}
		return &fault.Fault{Field: "frees", Found: f.Found, Allowed: f.Allowed}
	}
	return err
}

// ChangeLog corrects the seconds and the note of an entry.
func (s *Service) ChangeLog(ctx context.Context, c Command, id string, saw int, seconds float64, note string) (store.LogEntry, error) {
	return change(ctx, s, c, id, saw, func(_ *store.Tx, e *store.LogEntry) error { e.Seconds, e.Note = seconds, note; return nil })
}

// DeleteLog takes an entry back. A step that the plan learned from it alone goes with it, unless others rest on it.
func (s *Service) DeleteLog(ctx context.Context, c Command, id string, saw int) (store.LogEntry, error) {
	return deleteRow(ctx, s, c, id, saw, func(tx *store.Tx, e *store.LogEntry) error {
		b, err := lockStudy(tx, e.StudyID)
		if err != nil {
			return err
		}
		if err := b.replay(e.UnitID); err != nil {
			return fault.New("log", b.know.step[e.StepID].What, "an entry that no later one rests on; take those back first")
		}
		if !e.NewStep {
			return nil
		}
		others, err := store.List[store.LogEntry](tx.DB, "id", "step_id = ?", e.StepID)
		if err != nil || len(others) > 0 {
			return err
		}
		for _, s := range b.know.steps {
			if slices.ContainsFunc(s.After, func(alt []string) bool { return slices.Contains(alt, e.StepID) }) {
				return nil
			}
		}
		_, err = store.Delete[store.PlanStep](tx, e.StepID, b.know.step[e.StepID].Version)
		return err
	})
}

// RestoreLog brings an entry back that was taken back, with the step that went with it.
func (s *Service) RestoreLog(ctx context.Context, c Command, id string, saw int) (store.LogEntry, error) {
	return restoreRow(ctx, s, c, id, saw, func(tx *store.Tx, e *store.LogEntry) error {
		var step store.PlanStep
		if err := tx.DB.Unscoped().First(&step, "id = ?", e.StepID).Error; err != nil {
			return err
		}
		if step.DeletedAt.Valid {
			if _, err := store.Restore[store.PlanStep](tx, step.ID, step.Version); err != nil {
				return err
			}
		}
		b, err := lockStudy(tx, e.StudyID)
		if err != nil {
			return err
		}
		return b.replay(e.UnitID)
	})
}
