// Package job is the reader's page on one part of one model: take the job or not, and how it went.
package job

import (
	"cmp"
	"context"
	"slices"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/app/parts"
	"waryowl/internal/app/study"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/quantity"
	"waryowl/internal/store"
)

// Loss is what replacing the part did to a check on a build.
type Loss struct {
	Check   string         `json:"check"`
	Said    string         `json:"said" doc:"how often it was lost, in words where there are too few tries for a share"`
	Verdict ledger.Verdict `json:"verdict"`
	Study   string         `json:"study"`
	StudyID string         `json:"study_id"`
}

// BuildLosses are the losses seen on one build; Untested counts the checks of the catalogue without any trial.
type BuildLosses struct {
	Build    string `json:"build"`
	Losses   []Loss `json:"losses" nullable:"false"`
	Works    []Loss `json:"works" nullable:"false"`
	Untested int    `json:"untested"`
}

// OutcomeView is how a job went, with who says so.
type OutcomeView struct {
	store.Outcome
	Who string `json:"who"`
}

// Card is the job card of a model's part, for technicians and buyers.
type Card struct {
	Model    store.Model      `json:"model"`
	Part     store.Part       `json:"part"`
	Parts    []store.Part     `json:"parts" nullable:"false"`
	Grade    string           `json:"grade,omitempty" enum:"ask,refuse" doc:"of a part that is none of the common jobs"`
	Verdict  string           `json:"verdict,omitempty" doc:"it in words"`
	Answer   answer.Sentence  `json:"answer" nullable:"false"`
	Why      []string         `json:"why" nullable:"false" doc:"what speaks against taking it, or for asking first"`
	Tell     []string         `json:"tell" nullable:"false" doc:"what the customer is told is lost"`
	Job      string           `json:"job,omitempty" doc:"the common job that it is: its verdict, money and stock say the gate"`
	Touched  []string         `json:"touched" nullable:"false" doc:"checks afterwards, by name"`
	Way      *model.Way       `json:"way,omitempty"`
	Builds   []BuildLosses    `json:"builds" nullable:"false" doc:"newest last; what is lost when the part is another one of the same model"`
	Hazards  []hazard.Caution `json:"hazards" nullable:"false"`
	Outcomes []OutcomeView    `json:"outcomes" nullable:"false"`
	Kind     string           `json:"kind,omitempty" doc:"of the part, for what other models' pieces do here"`
	Inner    []Inner          `json:"inner" nullable:"false" doc:"parts inside this module: repair or replace"`

	Measures map[string]quantity.Quantity `json:"measures"`
	Notice   string                       `json:"notice"`
}

// mostStudies is how many of the latest studies of the model are asked what the part costs, mostOutcomes how many of the
// latest jobs are listed.
const (
	mostStudies  = 40
	mostOutcomes = 8
)

// Show answers whether a job can be taken, and how.
func Show(ctx context.Context, s *act.Service, modelID, part string) (Card, error) {
	db := s.DB.WithContext(ctx)
	k, err := model.Load(db, modelID)
	if err != nil {
		return Card{}, err
	}
	p, ok := k.PartByID[part]
	if !ok {
		return Card{}, act.ErrNotFound
	}
	j := Card{Model: k.Model, Part: p, Parts: k.Parts, Builds: []BuildLosses{}, Hazards: []hazard.Caution{},
		Outcomes: []OutcomeView{}, Why: []string{}, Tell: []string{}, Touched: []string{}, Notice: hazard.Notice, Kind: k.Kind(part), Inner: inside(k, p),
		Measures: model.Quantities(p)}
	j.Way = k.WayTo(part)
	if j.Way != nil {
		var steps []string
		for _, st := range j.Way.Steps {
			steps = append(steps, st.ID)
		}
		for _, c := range k.Touched(part, steps) {
			j.Touched = append(j.Touched, c.Name)
		}
		for _, st := range j.Way.Steps {
			for _, c := range st.Cautions {
				if !slices.Contains(j.Hazards, c) {
					j.Hazards = append(j.Hazards, c)
				}
			}
		}
	}
	rows, err := store.List[store.Study](db.Limit(mostStudies), "id DESC", "model_id = ?", modelID)
	if err != nil {
		return Card{}, err
	}
	slices.Reverse(rows)
	studies, err := study.LoadAll(db, rows, study.Want{Swaps: true, Read: []*model.Record{k}})
	if err != nil {
		return Card{}, err
	}
	for _, b := range studies {
		for _, build := range b.Builds() {
			r, err := b.Read(build)
			if err != nil {
				continue
			}
			j.addLosses(b, r, build, p)
		}
	}
	told, err := store.List[store.Outcome](db.Limit(mostOutcomes), "id DESC", "part_id = ?", part)
	if err != nil {
		return Card{}, err
	}
	var by []string
	for _, o := range told {
		by = append(by, o.AccountID)
	}
	accounts, err := store.List[store.Account](db, "id", "id IN ?", by)
	if err != nil {
		return Card{}, err
	}
	for _, o := range told {
		v := OutcomeView{o, "somebody who left"}
		if k := slices.IndexFunc(accounts, func(a store.Account) bool { return a.ID == o.AccountID }); k >= 0 {
			v.Who = accounts[k].Display
		}
		j.Outcomes = append(j.Outcomes, v)
	}
	j.Job = parts.JobOf(j.Kind)
	j.decide()
	return j, nil
}

func (j *Card) addLosses(b *study.Record, r study.Reading, build string, p store.Part) {
	k := slices.IndexFunc(j.Builds, func(l BuildLosses) bool { return l.Build == build })
	if k < 0 {
		k = len(j.Builds)
		j.Builds = append(j.Builds, BuildLosses{Build: build, Losses: []Loss{}, Works: []Loss{},
			Untested: len(b.Checks)})
	}
	for _, c := range b.Checks {
		v := r.Grade(p.Name, "stranger", c.Mark)
		l := Loss{c.Name, tries(v), v, b.Title, b.ID}
		switch v.Mark {
		case ledger.Untested:
			continue
		case ledger.Works:
			j.Builds[k].Works = append(j.Builds[k].Works, l)
		default:
			if len(v.For) > 0 {
				j.Builds[k].Losses = append(j.Builds[k].Losses, l)
			}
		}
		j.Builds[k].Untested--
	}
	slices.SortStableFunc(j.Builds[k].Losses, func(a, b Loss) int {
		return cmp.Compare(chance(b.Verdict),
			chance(a.Verdict))
	})
}

func chance(v ledger.Verdict) float64 {
	if v.P == nil {
		return 0
	}
	return *v.P
}
