package strip

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/learn"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// PlanHint is something that the plan might learn, with the change that would do it; StepID and After are empty when
// only an analyst can tell what to do.
type PlanHint struct {
	Kind    string     `json:"kind" enum:"lies under,dead end,after the previous one,cycle"`
	Text    string     `json:"text"`
	StepID  string     `json:"step_id,omitempty"`
	Version int        `json:"version,omitempty"`
	After   [][]string `json:"after" nullable:"false"`
}

// Hints lists what positions suggest and what leads nowhere.
func Hints(k *model.Record) []PlanHint {
	list := []PlanHint{}
	if err := k.CheckPlan(); err != nil {
		list = append(list, PlanHint{Kind: "cycle", Text: err.Error(), After: [][]string{}})
	}
	var parts []learn.Part
	for _, p := range k.Parts {
		// What comes out from the back lies under the others only when seen from the front.
		if slices.ContainsFunc(k.Steps, func(s store.PlanStep) bool {
			return s.Side == "back" &&
				slices.Contains(s.Frees, p.ID)
		}) {
			continue
		}
		parts = append(parts, learn.Part{ID: p.ID, Name: p.Name, Pane: p.Pane, X: p.XMM, Y: p.YMM, W: p.WMM, H: p.HMM,
			Layer: p.Layer})
	}
	steps := k.Plan()
	freeing := func(part string) *store.PlanStep {
		for i, s := range k.Steps {
			if slices.Contains(s.Frees, part) {
				return &k.Steps[i]
			}
		}
		return nil
	}
	for _, c := range learn.Covers(parts, steps) {
		low, high := freeing(c.Under), freeing(c.Over)
		after := [][]string{}
		for _, alt := range low.After {
			after = append(after, append(slices.Clone(alt), high.ID))
		}
		if len(after) == 0 {
			after = [][]string{{high.ID}}
		}
		list = append(list, PlanHint{"lies under",
			fmt.Sprintf("%.0f %% of the %s seems to lie under the %s, but the plan takes it out without", 100*c.Share,
				k.PartByID[c.Under].Name, k.PartByID[c.Over].Name), low.ID, low.Version, after})
	}
	for _, id := range learn.DeadEnds(steps) {
		s := k.StepByID[id]
		list = append(list, PlanHint{"dead end", fmt.Sprintf("%s, %s: no later step needs this",
			s.Mark, trade.Order(s.Verb, s.What)), "", 0, [][]string{}})
	}
	return list[:min(12, len(list))]
}

// AddPart records a part of a model. Its name must be new there.
func AddPart(ctx context.Context, s *act.Service, c act.Command, modelID, id string, f store.PartFacts) (store.Part,
	error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Part, error) {
		p := store.Part{Row: store.Row{ID: id}, ModelID: modelID, PartFacts: f}
		k, err := model.Lock(tx, modelID)
		if err != nil {
			return p, err
		}
		if err := freeName(k, f, ""); err != nil {
			return p, err
		}
		return p, store.Create(tx, &p)
	})
}

// ChangePart replaces the facts of a part.
func ChangePart(ctx context.Context, s *act.Service, c act.Command, id string, saw int, f store.PartFacts) (store.Part,
	error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, p *store.Part) error {
		k, err := model.Lock(tx, p.ModelID)
		if err != nil {
			return err
		}
		p.PartFacts = f
		return freeName(k, f, p.ID)
	})
}

func freeName(k *model.Record, f store.PartFacts, self string) error {
	if _, known := trade.KindByID(f.Kind); f.Kind != "" && !known {
		return fault.New("kind", f.Kind, "a kind of the catalogue, or none")
	}
	if strings.TrimSpace(f.Name) == "" {
		return fault.New("name", f.Name, "a name")
	}
	if p := k.PartNamed(f.Name); p != nil && p.ID != self {
		return fault.New("name", f.Name,
			"a name that no other part of this model has (one part, several names: use aliases)")
	}
	return nil
}

// AddStep puts a step into a model's plan without a run behind it.
func AddStep(ctx context.Context, s *act.Service, c act.Command, modelID, id, mark string,
	f store.StepFacts) (store.PlanStep, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.PlanStep, error) {
		k, err := model.Lock(tx, modelID)
		if err != nil {
			return store.PlanStep{}, err
		}
		return k.AddStep(tx, id, mark, f)
	})
}

// ChangeStep replaces the facts of a step of the plan.
func ChangeStep(ctx context.Context, s *act.Service, c act.Command, id string, saw int,
	f store.StepFacts) (store.PlanStep, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, step *store.PlanStep) error {
		k, err := model.Lock(tx, step.ModelID)
		if err != nil {
			return err
		}
		if err := k.CheckStep(f); err != nil {
			return err
		}
		step.StepFacts = f
		k.Steps[slices.IndexFunc(k.Steps, func(s store.PlanStep) bool { return s.ID == id })] = *step
		return k.CheckPlan()
	})
}
