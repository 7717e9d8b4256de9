package model

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/route"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// Step is a step of the plan in the one form that the engines share. What it is about is told by its words where no
// part was recorded.
func (k *Record) Step(s store.PlanStep) plan.Step {
	return plan.Step{ID: s.ID, Mark: s.Mark, Verb: s.Verb, What: s.What, Part: s.PartID, Side: s.Side, Tool: s.Tool,
		Joint: s.Joint, Drive: s.Drive,
		DriveSize: s.DriveSize, Count: s.Count, DiameterMM: s.DiameterMM, LengthMM: s.LengthMM, Seconds: s.Seconds,
		WaitSeconds: s.WaitSeconds,
		After:       s.After, Frees: s.Frees, Risk: s.Risk, Method: s.Method, Consumable: s.Consumable}
}

// Plan is the whole plan in that form.
func (k *Record) Plan() plan.Plan {
	var p plan.Plan
	for _, s := range k.Steps {
		p = append(p, k.Step(s))
	}
	return p
}

// With is the plan with the prerequisites of some steps, by their ids, replaced.
func (k *Record) With(after map[string][][]string) plan.Plan {
	p := k.Plan()
	for i := range p {
		if a, ok := after[p[i].ID]; ok {
			p[i].After = a
		}
	}
	return p
}

// Earlier loads what is known of the model's predecessor, for guesses; nil when there is none on record.
func (k *Record) Earlier(db *gorm.DB) (*Record, error) {
	if k.Predecessor == "" || len(k.Steps) > 3 {
		return nil, nil
	}
	rows, err := store.List[store.Model](db, "id", "maker = ? AND name = ?", k.Maker, strings.TrimSpace(k.Predecessor))
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	return Load(db, rows[0].ID)
}

// Estimate is the typical time of a step: what was planned, or the table's prediction, pulled by the measured runs.
func (k *Record) Estimate(s store.PlanStep) worktime.Estimate {
	planned, t := k.Planned(s), k.runs[s.ID]
	if planned <= 0 {
		return worktime.Estimate{Seconds: planned}
	}
	return worktime.Pulled(planned, t.N, t.Logs)
}

// Early is the time within which only one run of a step in ten ends.
func (k *Record) Early(s store.PlanStep) float64 {
	if planned := k.Planned(s); planned > 0 {
		return worktime.Early(planned, k.runs[s.ID])
	}
	return 0
}

// Late is the time within which a step ends in nine cases of ten, and that of the wait behind it.
func (k *Record) Late(s store.PlanStep) (work, wait float64) {
	if planned := k.Planned(s); planned > 0 {
		work = worktime.Late(planned, k.runs[s.ID])
	}
	nominal, waits := s.WaitSeconds, worktime.Tally{}
	for _, w := range k.waits[s.ID] {
		if nominal == 0 {
			nominal = w
		}
		if w > 0 {
			waits = waits.Add(w)
		}
	}
	if nominal > 0 {
		wait = worktime.Late(nominal, waits)
	}
	return work, wait
}

// Planned is a step's time before anybody measured it.
func (k *Record) Planned(s store.PlanStep) float64 {
	if s.Seconds > 0 {
		return s.Seconds
	}
	seconds, _ := worktime.Predict(s.Verb, s.Count)
	return seconds
}

// Wait is a step's typical wait: the plan's figure, pulled toward what was needed.
func (k *Record) Wait(s store.PlanStep) worktime.Estimate {
	nominal := s.WaitSeconds
	if n := k.waits[s.ID]; nominal == 0 && len(n) > 0 {
		nominal = n[0]
	}
	e, err := worktime.Blend(nominal, k.waits[s.ID])
	if err != nil {
		return worktime.Estimate{Seconds: s.WaitSeconds}
	}
	return e
}

// routeSteps turns the plan into the steps of the route engine; ids stay those of the rows.
func (k *Record) routeSteps() []route.Step {
	steps := []route.Step{}
	for _, s := range k.Steps {
		steps = append(steps, route.Step{ID: s.ID, Do: s.Verb, Tool: s.Tool, Side: s.Side,
			Seconds:     k.Estimate(s).Seconds,
			WaitSeconds: k.Wait(s).Seconds, After: s.After, Frees: s.Frees, Risk: k.HazardsOf(s)})
	}
	return steps
}

// Cautions are what a step warns of.
func (k *Record) Cautions(s store.PlanStep) []hazard.Caution {
	return hazard.For(k.Step(s), k.Kind)
}

// CheckPlan refuses a plan in which a step can never start, in words with the short names of the steps.
func (k *Record) CheckPlan() error {
	err := route.Startable(k.routeSteps())
	var u *route.Unreachable
	if errors.As(err, &u) {
		return &fault.Fault{Field: "after", Found: "prerequisites that can never be met: " +
			strings.Join(append(k.Marks(u.Cycle), k.Marks(u.Cycle[:1])...), " waits for "),
			Allowed: "prerequisites without a circle (blocked: " + strings.Join(k.Marks(u.Blocked), ", ") + ")"}
	}
	return err
}

// CheckStep refuses facts that cannot be, and ids that do not belong to the model.
func (k *Record) CheckStep(f store.StepFacts) error {
	if err := k.Step(store.PlanStep{StepFacts: f}).Check(); err != nil {
		return err
	}
	if f.PartID != "" {
		if err := act.Belongs("part", f.PartID, k.PartByID, "the id of a part of this model"); err != nil {
			return err
		}
	}
	for i, id := range f.Frees {
		if err := act.Belongs(fmt.Sprintf("frees[%d]", i), id, k.PartByID,
			"the id of a part of this model"); err != nil {
			return err
		}
	}
	for id := range f.Risk {
		if err := act.Belongs("risk", id, k.PartByID, "ids of parts of this model"); err != nil {
			return err
		}
	}
	for a, alt := range f.After {
		if len(alt) > 60 {
			return fault.New(fmt.Sprintf("after[%d]", a), len(alt), "at most 60 steps")
		}
		for i, id := range alt {
			if err := act.Belongs(fmt.Sprintf("after[%d][%d]", a, i), id, k.StepByID,
				"the id of a step of this model"); err != nil {
				return err
			}
		}
	}
	return nil
}

// AddStep puts a new step into the plan; its mark is the next free one when it has none.
func (k *Record) AddStep(tx *store.Tx, id, mark string, f store.StepFacts) (store.PlanStep, error) {
	if err := k.CheckStep(f); err != nil {
		return store.PlanStep{}, err
	}
	for n := len(k.Steps) + 1; mark == "" || slices.ContainsFunc(k.Steps,
		func(s store.PlanStep) bool { return s.Mark == mark }); n++ {
		mark = fmt.Sprintf("s%d", n)
	}
	step := store.PlanStep{Row: store.Row{ID: id}, ModelID: k.ID, Mark: mark, StepFacts: f}
	if err := store.Create(tx, &step); err != nil {
		return step, err
	}
	k.Steps = append(k.Steps, step)
	k.StepByID[step.ID] = step
	return step, k.CheckPlan()
}
