package strip

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"

	"gorm.io/gorm"
)

// LogFacts say what was done on a unit: a step of the plan, or a new one that the plan learns.
type LogFacts struct {
	UnitID  string           `json:"unit_id" format:"uuid"`
	StepID  string           `json:"step_id,omitempty" doc:"step of the plan; empty when step is given"`
	Step    *store.StepFacts `json:"step,omitempty" doc:"a new step; without after it comes after the previous act on this unit"`
	Back    bool             `json:"back,omitempty" doc:"put back instead of taken out"`
	Seconds float64          `json:"seconds,omitempty" minimum:"0" maximum:"86400" doc:"measured; 0: not timed"`
	Note    string           `json:"note,omitempty" maxLength:"4000" lines:"yes"`
	Line    string           `json:"line,omitempty" maxLength:"400" doc:"a line of the bench instead of all the others; stops and seconds may be added"`
	Choice  string           `json:"choice,omitempty" maxLength:"200" doc:"text of the answer that was chosen where the line could be meant in several ways"`
	Echoed  []string         `json:"echoed,omitempty" nullable:"false" maxItems:"40" doc:"the facts as they were read out before Enter: a server that reads otherwise refuses"`
	Leave   []int            `json:"leave,omitempty" nullable:"false" maxItems:"40" doc:"facts of the line, from 0, that are not to be logged"`

	Kind    string          `json:"kind,omitempty" enum:"step,note,incident,measure,tool,stop,check"`
	Outcome string          `json:"outcome,omitempty" enum:"done,gave up,destroyed,not tried"`
	Reason  string          `json:"reason,omitempty" maxLength:"300" doc:"why it was given up, destroyed or not tried"`
	PartID  string          `json:"part_id,omitempty" maxLength:"36"`
	Detail  store.LogDetail `json:"detail,omitempty"`

	more []store.StepFacts // further joints that one line named: screws of other lengths at the same place
}

// AddLog logs one fact. A part that is freed twice without having been put back is refused. A step that was done
// without its prerequisites teaches the plan.
func AddLog(ctx context.Context, s *act.Service, c act.Command, studyID, id string, f LogFacts) (store.LogEntry,
	error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.LogEntry, error) {
		var e store.LogEntry
		// A note or an incident hangs on nothing that the model's jobs have taught, which is the longest thing to read.
		plain := f.Line == "" && f.Kind != "" && f.Kind != "step"
		b, err := study.LockFor(tx, studyID, study.Want{Plain: plain})
		if err != nil {
			return e, err
		}
		if err := act.Belongs("unit_id", f.UnitID, b.UnitByID, "a unit of this study"); err != nil {
			return e, err
		}
		if f.Line != "" {
			return logLine(b, tx, id, f)
		}
		return logFacts(b, tx, id, f)
	})
}

// logFacts records one entry, and one more for each further joint that it names at the same place.
func logFacts(b *study.Record, tx *store.Tx, id string, f LogFacts) (store.LogEntry, error) {
	var e store.LogEntry
	if err := checkFacts(b, &f); err != nil {
		return e, err
	}
	f.Detail.Freed = false // what the plan learns is not said from outside
	e = store.LogEntry{Row: store.Row{ID: id}, StudyID: b.ID, UnitID: f.UnitID, StepID: f.StepID, Back: f.Back,
		Seconds: f.Seconds, Note: f.Note, Seq: nextSeq(b),
		LogHead: store.LogHead{Kind: f.Kind, Outcome: f.Outcome, Reason: f.Reason, PartID: f.PartID, Line: f.Line,
			HappenedAt: tx.Happened, Detail: f.Detail}}
	if err := reopen(b, tx, e); err != nil {
		return e, err
	}
	if f.Kind != "step" {
		b.Log = append(b.Log, e)
		return e, store.Create(tx, &e)
	}
	if err := logStep(b, tx, &e, f); err != nil {
		return e, err
	}
	for _, more := range f.more { // each joint is an entry of its own, after the first
		g := f
		g.Step, g.StepID = &more, ""
		g.Detail.Count, g.Detail.Diameter, g.Detail.Length = more.Count, more.DiameterMM, more.LengthMM
		next := e
		next.Row, next.Seq, next.Detail, next.Seconds = store.Row{}, nextSeq(b), g.Detail, 0
		if err := logStep(b, tx, &next, g); err != nil {
			return e, err
		}
	}
	return e, nil
}

// nextSeq is the number of the next entry of a study.
func nextSeq(b *study.Record) int {
	if len(b.Log) == 0 {
		return 1
	}
	return b.Log[len(b.Log)-1].Seq + 1
}

// logStep records an entry that moves the phone along; a step that the plan does not know is learned with it.
func logStep(b *study.Record, tx *store.Tx, e *store.LogEntry, f LogFacts) error {
	if f.Step != nil {
		if f.Back {
			return fault.New("back", f.Back, "false for a step that was never taken out")
		}
		facts := *f.Step
		if done := b.Done(f.UnitID); facts.After == nil && len(done) > 0 {
			facts.After = [][]string{{done[len(done)-1]}}
		}
		step, err := b.Know.AddStep(tx, "", "", facts)
		if err != nil {
			return inside("step", err)
		}
		e.StepID, e.NewStep = step.ID, true
	}
	if f.Back && !b.Done(f.UnitID).Has(e.StepID) {
		return fault.New("back", b.Know.StepByID[e.StepID].What,
			"a step that was carried out on this phone and not put back")
	}
	if f.Step == nil && !f.Back && study.Advances(*e) {
		if err := teach(b, tx, e); err != nil {
			return err
		}
		if err := freeing(b, tx, e); err != nil {
			return err
		}
	}
	if err := seen(b, tx, *e); err != nil {
		return err
	}
	b.Log = append(b.Log, *e)
	if err := replay(b, f.UnitID); err != nil {
		return err
	}
	return store.Create(tx, e)
}

// checkFacts refuses an entry that says too little or too much for its kind.
func checkFacts(b *study.Record, f *LogFacts) error {
	if f.Kind == "" {
		f.Kind = "step"
	}
	if f.PartID != "" {
		if err := act.Belongs("part_id", f.PartID, b.Know.PartByID, "a part of this model"); err != nil {
			return err
		}
	}
	if f.StepID != "" {
		if err := act.Belongs("step_id", f.StepID, b.Know.StepByID, "a step of this model's plan"); err != nil {
			return err
		}
	}
	switch {
	case f.Kind == "step" && f.Back && f.StepID == "" && f.Step == nil:
		return fault.New("back", cmp.Or(f.Line, "nothing"), "something that was logged out on this phone")
	case f.Kind == "step" && (f.StepID == "") == (f.Step == nil):
		return fault.New("step_id", f.StepID, "either step_id or step")
	case f.Kind != "step" && (f.Step != nil || f.Back):
		return fault.New("kind", f.Kind, "step for what takes apart or puts back")
	case f.Kind == "incident" && f.Detail.Incident == nil:
		return fault.New("detail.incident", "nothing", "the kind of incident")
	case f.Kind == "check" && f.Detail.Check == nil:
		return fault.New("detail.check", "nothing", "which check, and how it was")
	case f.Kind == "note" && strings.TrimSpace(f.Note) == "":
		return fault.New("note", f.Note, "some words")
	case f.Kind == "stop" && len(f.Detail.Stops) == 0:
		return fault.New("detail.stops", "nothing", "the stop that was answered")
	case f.Outcome != "" && f.Outcome != "done" && strings.TrimSpace(f.Reason+f.Note) == "":
		return fault.New("reason", f.Reason,
			"why it was given up, destroyed or not tried: without a reason a way is invented")
	case f.Detail.Whole > f.Detail.Of:
		return fault.New("detail.whole", f.Detail.Whole, "no more than there are")
	}
	return nil
}

// LogCorrection is what may be corrected of an entry; what was done stays.
type LogCorrection struct {
	Seconds  float64 `json:"seconds" minimum:"0" maximum:"86400"`
	Note     string  `json:"note" maxLength:"4000" lines:"yes"`
	Reason   string  `json:"reason,omitempty" maxLength:"300"`
	PartID   string  `json:"part_id,omitempty" maxLength:"36" doc:"of an incident: what was hurt"`
	Cause    string  `json:"cause,omitempty" maxLength:"200"`
	Evidence string  `json:"evidence,omitempty" maxLength:"200"`
	Mark     string  `json:"mark,omitempty" maxLength:"40" doc:"of a heat round: kind of mark"`
	Result   string  `json:"result,omitempty" enum:"no gap,gap,mark" doc:"of a heat round"`
}

// ChangeLog corrects an entry: time, words, and what is known of an incident or a round of heat.
func ChangeLog(ctx context.Context, s *act.Service, c act.Command, id string, saw int,
	f LogCorrection) (store.LogEntry, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, e *store.LogEntry) error {
		e.Seconds, e.Note, e.Reason = f.Seconds, f.Note, f.Reason
		if i := e.Detail.Incident; i != nil {
			i.Cause, i.Evidence = f.Cause, f.Evidence
			if f.PartID != "" {
				b, err := study.Load(tx.DB, e.StudyID)
				if err != nil {
					return err
				}
				if err := act.Belongs("part_id", f.PartID, b.Know.PartByID, "a part of this model"); err != nil {
					return err
				}
			}
			e.PartID = f.PartID
		}
		if h := e.Detail.Heat; h != nil {
			h.Mark, h.Result = f.Mark, cmp.Or(f.Result, h.Result)
		}
		return nil
	})
}

// DeleteLog takes an entry back. A step that the plan learned from it alone goes with it, unless others rest on it.
func DeleteLog(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.LogEntry, error) {
	return ofStudy(ctx, s, c, id, func(tx *store.Tx, studyID string) (*store.LogEntry, error) {
		e, err := store.Delete[store.LogEntry](tx, id, saw)
		if err != nil {
			return nil, err
		}
		others, err := ofLine(tx, e) // what the same line logged goes with it, the last one first
		if err != nil {
			return nil, err
		}
		for i := len(others) - 1; i >= 0; i-- {
			o, err := store.Delete[store.LogEntry](tx, others[i].ID, others[i].Version)
			if err != nil {
				return nil, err
			}
			if err := takeBack(tx, studyID, o); err != nil {
				return nil, err
			}
		}
		if err := takeBack(tx, studyID, e); err != nil {
			return nil, err
		}
		return e, uncorrect(tx, e)
	})
}

// takeBack undoes what a deleted entry did: what it taught, and a step that the plan learned from it alone.
func takeBack(tx *store.Tx, studyID string, e *store.LogEntry) error {
	b, err := study.Load(tx.DB, studyID)
	if err != nil {
		return err
	}
	if err := replay(b, e.UnitID); err != nil {
		return fault.New("log", b.Know.StepByID[e.StepID].What,
			"an entry that no later one rests on; take those back first")
	}
	if err := unteach(b, tx, e); err != nil {
		return err
	}
	if e.Detail.Freed {
		if err := unfree(b, tx, e); err != nil {
			return err
		}
	}
	if !e.NewStep {
		return nil
	}
	others, err := store.List[store.LogEntry](tx.DB, "id", "step_id = ?", e.StepID)
	if err != nil || len(others) > 0 {
		return err
	}
	for _, s := range b.Know.Steps {
		if slices.ContainsFunc(s.After, func(alt []string) bool { return slices.Contains(alt, e.StepID) }) {
			return nil
		}
	}
	_, err = store.Delete[store.PlanStep](tx, e.StepID, b.Know.StepByID[e.StepID].Version)
	return err
}

// RestoreLog brings an entry back that was taken back, with the step that went with it.
func RestoreLog(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.LogEntry, error) {
	return ofStudy(ctx, s, c, id, func(tx *store.Tx, studyID string) (*store.LogEntry, error) {
		e, err := store.Restore[store.LogEntry](tx, id, saw)
		if err != nil {
			return e, err
		}
		rest, err := goneWith(tx, e)
		if err != nil {
			return nil, err
		}
		for _, r := range append([]store.LogEntry{*e}, rest...) {
			if r.ID != e.ID {
				if _, err := store.Restore[store.LogEntry](tx, r.ID, r.Version); err != nil {
					return nil, err
				}
			}
			if err := stepBack(tx, r.StepID); err != nil {
				return nil, err
			}
		}
		if err := recorrect(tx, e); err != nil {
			return nil, err
		}
		b, err := study.Load(tx.DB, studyID)
		if err != nil {
			return nil, err
		}
		return e, replay(b, e.UnitID)
	})
}

// stepBack brings a step back that went with its entry.
func stepBack(tx *store.Tx, id string) error {
	if id == "" {
		return nil
	}
	var step store.PlanStep
	if err := tx.DB.Unscoped().First(&step, "id = ?", id).Error; err != nil || !step.DeletedAt.Valid {
		return err
	}
	_, err := store.Restore[store.PlanStep](tx, step.ID, step.Version)
	return err
}

// ofStudy works on an entry with its study and model locked before anything is read, so that the log and the plan that
// it sees are those that the change is made to.
func ofStudy(ctx context.Context, s *act.Service, c act.Command, id string,
	work func(*store.Tx, string) (*store.LogEntry, error)) (store.LogEntry, error) {
	var at store.LogEntry // an entry never leaves its study
	if err := s.DB.WithContext(ctx).Unscoped().Select("study_id").First(&at, "id = ?", id).Error; errors.Is(err,
		gorm.ErrRecordNotFound) {
		return at, act.ErrNotFound
	} else if err != nil {
		return at, err
	}
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (store.LogEntry, error) {
		if _, err := study.Lock(tx, at.StudyID); err != nil {
			return store.LogEntry{}, err
		}
		e, err := work(tx, at.StudyID)
		if err != nil {
			return store.LogEntry{}, err
		}
		return *e, nil
	})
}
