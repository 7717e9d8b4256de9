// Package propose is what technicians see of a model that its record lacks: a measure, a screw that hides, a part that gets
// damaged at a step. They propose it; an analyst takes it into the record with one act.
package propose

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/quantity"
	"waryowl/internal/core/risk"
	"waryowl/internal/store"
)

// Line is a proposal in words, with who made it.
type Line struct {
	store.Proposal
	Model string `json:"model"`
	Says  string `json:"says"`
	Who   string `json:"who"`
}

// Add makes a proposal about a model.
func Add(ctx context.Context, s *act.Service, c act.Command, modelID, id string, f store.ProposalFacts) (store.Proposal, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Proposal, error) {
		p := store.Proposal{Row: store.Row{ID: id}, ModelID: modelID, ProposalFacts: f, State: "open", AccountID: c.Actor.ID}
		k, err := model.Load(tx.DB, modelID)
		if err != nil {
			return p, err
		}
		p.Words = strings.TrimSpace(p.Words)
		if err := check(k, p); err != nil {
			return p, err
		}
		return p, store.Create(tx, &p)
	})
}

// check refuses a proposal that could not be accepted.
func check(k *model.Record, p store.Proposal) error {
	if p.Kind != "measure" || p.StepID != "" {
		if err := act.Belongs("step_id", p.StepID, k.StepByID, "a step of this model's plan"); err != nil {
			return err
		}
	}
	if p.Kind != "hidden screw" || p.PartID != "" {
		if err := act.Belongs("part_id", p.PartID, k.PartByID, "a part of this model"); err != nil {
			return err
		}
	}
	switch {
	case p.Kind == "hidden screw" && p.Words == "":
		return fault.New("words", p.Words, "under what the screw hides")
	case p.Kind == "measure" && p.Measure == nil:
		return fault.New("measure", "nothing", "what was measured")
	case p.Kind == "measure":
		_, err := quantity.Read(p.Measure.Readings, p.Measure.Resolution, p.Measure.Unit)
		return err
	}
	return nil
}

// List lists the proposals that wait, of one model or of all.
func List(ctx context.Context, s *act.Service, modelID string) ([]Line, error) {
	db := s.DB.WithContext(ctx)
	where, args := "state = 'open'", []any{}
	if modelID != "" {
		where, args = where+" AND model_id = ?", append(args, modelID)
	}
	rows, err := store.List[store.Proposal](db.Limit(100), "id", where, args...)
	if err != nil || len(rows) == 0 {
		return []Line{}, err
	}
	var models, people []string
	for _, r := range rows {
		if !slices.Contains(models, r.ModelID) {
			models = append(models, r.ModelID)
		}
		people = append(people, r.AccountID)
	}
	know, err := model.LoadAll(db, models, false)
	if err != nil {
		return nil, err
	}
	accounts, err := store.List[store.Account](db, "id", "id IN ?", people)
	if err != nil {
		return nil, err
	}
	list := []Line{}
	for _, r := range rows {
		k := know[r.ModelID]
		if k == nil {
			continue
		}
		l := Line{Proposal: r, Model: k.Maker + " " + k.Name, Says: says(k, r), Who: "somebody who left"}
		if i := slices.IndexFunc(accounts, func(a store.Account) bool { return a.ID == r.AccountID }); i >= 0 {
			l.Who = accounts[i].Display
		}
		list = append(list, l)
	}
	return list, nil
}

// says is a proposal as a sentence.
func says(k *model.Record, p store.Proposal) string {
	part, step := k.PartByID[p.PartID].Name, k.StepByID[p.StepID].What
	switch p.Kind {
	case "hidden screw":
		return "At “" + step + "” a screw hides under " + p.Words + "."
	case "hazard":
		text := "At “" + step + "” the " + part + " may get damaged."
		if p.Words != "" {
			text += " " + p.Words
		}
		return text
	}
	if p.Measure == nil {
		return part
	}
	q, err := quantity.Read(p.Measure.Readings, p.Measure.Resolution, p.Measure.Unit)
	if err != nil {
		return part + ": " + p.Measure.Kind
	}
	return fmt.Sprintf("%s: %s %.4g %s.", part, p.Measure.Kind, q.Value, q.Unit)
}

// Answered says whether a proposal goes into the record.
type Answered struct {
	Version int  `json:"version" minimum:"1"`
	Accept  bool `json:"accept"`
}

// Answer takes a proposal into the record of its model, or declines it.
func Answer(ctx context.Context, s *act.Service, c act.Command, id string, f Answered) (store.Proposal, error) {
	return act.Change(ctx, s, c, id, f.Version, func(tx *store.Tx, p *store.Proposal) error {
		if p.State != "open" {
			return fault.New("accept", f.Accept, "nothing: this proposal was answered already")
		}
		if p.State = "declined"; !f.Accept {
			return nil
		}
		p.State = "accepted"
		k, err := model.Lock(tx, p.ModelID)
		if err != nil {
			return err
		}
		if err := check(k, *p); err != nil {
			return err
		}
		if p.Kind == "measure" {
			part := k.PartByID[p.PartID]
			_, err := store.Update(tx, part.ID, part.Version, func(row *store.Part) error {
				row.Measures = append(row.Measures, *p.Measure)
				return nil
			})
			return err
		}
		step := k.StepByID[p.StepID]
		_, err = store.Update(tx, step.ID, step.Version, func(row *store.PlanStep) error {
			if p.Kind == "hidden screw" {
				row.Fastener.HiddenUnder = p.Words
				return nil
			}
			if row.Risk == nil {
				row.Risk = map[string]float64{}
			}
			if _, known := row.Risk[p.PartID]; !known {
				row.Risk[p.PartID] = risk.Usual(row.Verb).Chance
			}
			return nil
		})
		return err
	})
}
