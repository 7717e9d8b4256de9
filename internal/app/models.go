package app

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/risk"
	"waryowl/internal/core/route"
	"waryowl/internal/core/teardown"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// Seconds of a tool change and of turning the phone over (house).
const (
	toolChangeSeconds = 6
	flipSeconds       = 4
)

// knowledge is everything on record about one model.
type knowledge struct {
	store.Model
	parts []store.Part
	steps []store.PlanStep
	part  map[string]store.Part
	step  map[string]store.PlanStep
	runs  map[string][]float64 // measured seconds of a step, by its id
	waits map[string][]float64 // waits that were needed, by the step's id

	counts map[hazardKey]risk.Count
	tabs   map[string]risk.Count // pull tabs that came out whole, by the step's id
	photos map[string][]string   // where loadPhotos was called
}

// lockModel loads a model for a change of its parts or plan; others wait for the end of this transaction.
func lockModel(tx *store.Tx, id string) (*knowledge, error) {
	if _, err := store.Lock[store.Model](tx, id); err != nil {
		return nil, err
	}
	return loadModel(tx.DB, id)
}

func loadModel(db *gorm.DB, id string) (*knowledge, error) {
	m, err := store.Get[store.Model](db, id)
	if err != nil {
		return nil, err
	}
	k := &knowledge{Model: *m, part: map[string]store.Part{}, step: map[string]store.PlanStep{}, runs: map[string][]float64{}, waits: map[string][]float64{}, tabs: map[string]risk.Count{}}
	if k.parts, err = store.List[store.Part](db, "layer DESC, name", "model_id = ?", id); err != nil {
		return nil, err
	}
	if k.steps, err = store.List[store.PlanStep](db, "id", "model_id = ?", id); err != nil {
		return nil, err
	}
	for _, p := range k.parts {
		k.part[p.ID] = p
	}
	ids := []string{}
	for _, s := range k.steps {
		k.step[s.ID] = s
		ids = append(ids, s.ID)
	}
	runs, err := store.List[store.LogEntry](db, "seq", "step_id IN ? AND back = 0", ids)
	if err != nil {
		return nil, err
	}
	heat := map[[2]string]float64{} // of a unit at a step, until its gap opened
	for _, r := range runs {
		if r.Seconds > 0 && r.Kind == "step" {
			k.runs[r.StepID] = append(k.runs[r.StepID], r.Seconds)
		}
		if r.Detail.Of > 0 {
			k.tabs[r.StepID] = risk.Count{K: k.tabs[r.StepID].K + r.Detail.Whole, N: k.tabs[r.StepID].N + r.Detail.Of}
		}
		key := [2]string{r.UnitID, r.StepID}
		switch h := r.Detail.Heat; {
		case h != nil:
			heat[key] += h.Seconds
			if h.Result == "gap" && heat[key] > 0 {
				k.waits[r.StepID] = append(k.waits[r.StepID], heat[key])
			}
		case r.Detail.Wait > 0:
			k.waits[r.StepID] = append(k.waits[r.StepID], r.Detail.Wait)
		}
	}
	outcomes, err := store.List[store.Outcome](db, "id", "model_id = ?", id)
	k.count(runs, outcomes)
	return k, err
}

// partNamed finds a part by its name or an alias.
func (k *knowledge) partNamed(name string) *store.Part {
	for i, p := range k.parts {
		if strings.EqualFold(p.Name, name) || slices.ContainsFunc(p.Aliases, func(a string) bool { return strings.EqualFold(a, name) }) {
			return &k.parts[i]
		}
	}
	return nil
}

func (k *knowledge) partNames(ids []string) []string {
	names := []string{}
	for _, id := range ids {
		if p, ok := k.part[id]; ok {
			names = append(names, p.Name)
		}
	}
	return names
}

// estimate is the typical time of a step: what was planned, or the table's prediction, pulled by the measured runs.
func (k *knowledge) estimate(s store.PlanStep) worktime.Estimate {
	planned := k.planned(s)
	e, err := worktime.Blend(planned, k.runs[s.ID])
	if err != nil {
		return worktime.Estimate{Seconds: planned}
	}
	return e
}

// planned is a step's time before anybody measured it.
func (k *knowledge) planned(s store.PlanStep) float64 {
	if s.Seconds > 0 {
		return s.Seconds
	}
	seconds, _ := worktime.Predict(s.Verb, s.Count)
	return seconds
}

// wait is a step's typical wait: the plan's figure, pulled toward what was needed.
func (k *knowledge) wait(s store.PlanStep) worktime.Estimate {
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
func (k *knowledge) routeSteps() []route.Step {
	steps := []route.Step{}
	for _, s := range k.steps {
		steps = append(steps, route.Step{ID: s.ID, Do: s.Verb, Tool: s.Tool, Side: s.Side, Seconds: k.estimate(s).Seconds,
			WaitSeconds: k.wait(s).Seconds, After: s.After, Frees: s.Frees, Risk: k.hazardsOf(s)})
	}
	return steps
}

func (k *knowledge) cautions(s store.PlanStep) []hazard.Caution {
	return hazard.For(hazard.Step{Verb: s.Verb, Tool: s.Tool, Joint: s.Joint, What: s.What, Frees: k.partNames(s.Frees)})
}

// checkPlan refuses a plan in which a step can never start, in words with the short names of the steps.
func (k *knowledge) checkPlan() error {
	err := route.Startable(k.routeSteps())
	var u *route.Unreachable
	if errors.As(err, &u) {
		return &fault.Fault{Field: "after", Found: "prerequisites that can never be met: " + strings.Join(append(k.marks(u.Cycle), k.marks(u.Cycle[:1])...), " waits for "),
			Allowed: "prerequisites without a circle (blocked: " + strings.Join(k.marks(u.Blocked), ", ") + ")"}
	}
	return err
}

func (k *knowledge) marks(ids []string) []string {
	marks := []string{}
	for _, id := range ids {
		if s, ok := k.step[id]; ok {
			marks = append(marks, s.Mark)
		}
	}
	return marks
}

// checkStep refuses facts that cannot be, and ids that do not belong to the model.
func (k *knowledge) checkStep(f store.StepFacts) error {
	step := teardown.Step{Verb: f.Verb, Tool: f.Tool, Side: f.Side, Joint: f.Joint, Drive: f.Drive, Count: f.Count,
		DiameterMM: f.DiameterMM, LengthMM: f.LengthMM, Seconds: f.Seconds, WaitSeconds: f.WaitSeconds, Frees: f.Frees, Risk: f.Risk}
	if err := step.Check(); err != nil {
		return err
	}
	for i, id := range f.Frees {
		if err := belongs(field("frees[%d]", i), id, k.part, "the id of a part of this model"); err != nil {
			return err
		}
	}
	for id := range f.Risk {
		if err := belongs("risk", id, k.part, "ids of parts of this model"); err != nil {
			return err
		}
	}
	for a, alt := range f.After {
		if len(alt) > 60 {
			return fault.New(field("after[%d]", a), len(alt), "at most 60 steps")
		}
		for i, id := range alt {
			if err := belongs(field("after[%d][%d]", a, i), id, k.step, "the id of a step of this model"); err != nil {
				return err
			}
		}
	}
	return nil
}

// addStep puts a new step into the plan; its mark is the next free one when it has none.
func (k *knowledge) addStep(tx *store.Tx, id, mark string, f store.StepFacts) (store.PlanStep, error) {
	if err := k.checkStep(f); err != nil {
		return store.PlanStep{}, err
	}
	for n := len(k.steps) + 1; mark == "" || slices.ContainsFunc(k.steps, func(s store.PlanStep) bool { return s.Mark == mark }); n++ {
		mark = fmt.Sprintf("s%d", n)
	}
	step := store.PlanStep{Row: store.Row{ID: id}, ModelID: k.ID, Mark: mark, StepFacts: f}
	if err := store.Create(tx, &step); err != nil {
		return step, err
	}
	k.steps = append(k.steps, step)
	k.step[step.ID] = step
	return step, k.checkPlan()
}

// ModelSheet is a model with its parts and plan.
type ModelSheet struct {
	Model store.Model      `json:"model"`
	Parts []store.Part     `json:"parts" nullable:"false"`
	Steps []store.PlanStep `json:"steps" nullable:"false"`
}

// ModelList lists all models by maker and name.
func (s *Service) ModelList(ctx context.Context) ([]store.Model, error) {
	return store.List[store.Model](s.DB.WithContext(ctx), "maker, name", "1 = 1")
}

// ModelSheet returns one model with its parts and plan.
func (s *Service) ModelSheet(ctx context.Context, id string) (ModelSheet, error) {
	k, err := loadModel(s.DB.WithContext(ctx), id)
	if err != nil {
		return ModelSheet{}, err
	}
	return ModelSheet{k.Model, k.parts, k.steps}, nil
}

// AddModel records a new model.
func (s *Service) AddModel(ctx context.Context, c Command, id string, f store.ModelFacts) (store.Model, error) {
	return Do(ctx, s, c, 201, func(tx *store.Tx) (store.Model, error) {
		m := store.Model{Row: store.Row{ID: id}, ModelFacts: f}
		return m, store.Create(tx, &m)
	})
}

// ChangeModel replaces the facts of a model.
func (s *Service) ChangeModel(ctx context.Context, c Command, id string, saw int, f store.ModelFacts) (store.Model, error) {
	return change(ctx, s, c, id, saw, func(_ *store.Tx, m *store.Model) error { m.ModelFacts = f; return nil })
}

// AddPart records a part of a model. Its name must be new there.
func (s *Service) AddPart(ctx context.Context, c Command, model, id string, f store.PartFacts) (store.Part, error) {
	return Do(ctx, s, c, 201, func(tx *store.Tx) (store.Part, error) {
		p := store.Part{Row: store.Row{ID: id}, ModelID: model, PartFacts: f}
		k, err := lockModel(tx, model)
		if err != nil {
			return p, err
		}
		if err := k.freeName(f, ""); err != nil {
			return p, err
		}
		return p, store.Create(tx, &p)
	})
}

// ChangePart replaces the facts of a part.
func (s *Service) ChangePart(ctx context.Context, c Command, id string, saw int, f store.PartFacts) (store.Part, error) {
	return change(ctx, s, c, id, saw, func(tx *store.Tx, p *store.Part) error {
		k, err := lockModel(tx, p.ModelID)
		if err != nil {
			return err
		}
		p.PartFacts = f
		return k.freeName(f, p.ID)
	})
}

func (k *knowledge) freeName(f store.PartFacts, self string) error {
	if strings.TrimSpace(f.Name) == "" {
		return fault.New("name", f.Name, "a name")
	}
	if p := k.partNamed(f.Name); p != nil && p.ID != self {
		return fault.New("name", f.Name, "a name that no other part of this model has (one part, several names: use aliases)")
	}
	return nil
}

// AddStep puts a step into a model's plan without a run behind it.
func (s *Service) AddStep(ctx context.Context, c Command, model, id, mark string, f store.StepFacts) (store.PlanStep, error) {
	return Do(ctx, s, c, 201, func(tx *store.Tx) (store.PlanStep, error) {
		k, err := lockModel(tx, model)
		if err != nil {
			return store.PlanStep{}, err
		}
		return k.addStep(tx, id, mark, f)
	})
}

// ChangeStep replaces the facts of a step of the plan.
func (s *Service) ChangeStep(ctx context.Context, c Command, id string, saw int, f store.StepFacts) (store.PlanStep, error) {
	return change(ctx, s, c, id, saw, func(tx *store.Tx, step *store.PlanStep) error {
		k, err := lockModel(tx, step.ModelID)
		if err != nil {
			return err
		}
		if err := k.checkStep(f); err != nil {
			return err
		}
		step.StepFacts = f
		k.steps[slices.IndexFunc(k.steps, func(s store.PlanStep) bool { return s.ID == id })] = *step
		return k.checkPlan()
	})
}

// change is the usual update of one row.
func change[T any, E store.Entity[T]](ctx context.Context, s *Service, c Command, id string, saw int, work func(*store.Tx, E) error) (T, error) {
	return Do(ctx, s, c, 200, func(tx *store.Tx) (T, error) {
		row, err := store.Update(tx, id, saw, func(e E) error { return work(tx, e) })
		if err != nil {
			var none T
			return none, err
		}
		return *row, nil
	})
}
