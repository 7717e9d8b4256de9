// Package job is the reader's page on one part of one model: take the job or not, and how it went.
package job

import (
	"cmp"
	"context"
	"slices"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
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
	Answer   answer.Sentence  `json:"answer" nullable:"false"`
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
	checks, err := model.ChecksFor(db, k.Model)
	if err != nil {
		return Card{}, err
	}
	j := Card{Model: k.Model, Part: p, Parts: k.Parts, Builds: []BuildLosses{}, Hazards: []hazard.Caution{},
		Outcomes: []OutcomeView{}, Notice: hazard.Notice, Kind: k.Kind(part), Inner: inside(k, p, checks),
		Measures: model.Quantities(p)}
	j.Way = k.WayTo(part, checks)
	if j.Way != nil {
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
	j.Answer = j.sentence()
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
		l := Loss{c.Name, v, b.Title, b.ID}
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

func (j *Card) sentence() answer.Sentence {
	if j.Way == nil || j.Way.Blocked != "" {
		return answer.Sentence{answer.Text("Ask first: no way to the " + j.Part.Name + " is on record.")}
	}
	verdict := answer.Title(j.Part.Name) + ": " // whether to take it says the gate of the parts desk
	if j.Part.Supply == "none" {
		verdict = "Do not take it yet, the part cannot be had: "
	}
	s := answer.Sentence{answer.Text(verdict), answer.Text("to the part "),
		answer.Number(j.Way.ElapsedMinutes, "min", "#way"), answer.Text(", whole repair "),
		answer.Number(j.Way.ClosedMinutes, "min", "#way"), answer.Text("; ")}
	switch {
	case len(j.Builds) == 0 || j.Builds[len(j.Builds)-1].Untested > 0 &&
		len(j.Builds[len(j.Builds)-1].Losses)+len(j.Builds[len(j.Builds)-1].Works) == 0:
		s = append(s, answer.Text("what is lost with another one is untested"))
	default:
		last := j.Builds[len(j.Builds)-1]
		known := slices.DeleteFunc(slices.Clone(last.Losses),
			func(l Loss) bool { return l.Verdict.Mark != ledger.Loses })
		switch {
		case len(known) > 0:
			s = append(s, answer.Text("build "+last.Build+" loses "), answer.Count(len(known), "function", "#losses"))
		case len(last.Losses) > 0:
			s = append(s, answer.Count(len(last.Losses), "possible loss", "#losses"),
				answer.Text(" on build "+last.Build))
		default:
			s = append(s, answer.Text("build "+last.Build+" loses nothing that was tested"))
		}
		if last.Untested > 0 {
			s = append(s, answer.Text(", "), answer.Count(last.Untested, "check", "#losses"), answer.Text(" untested"))
		}
	}
	if j.Part.Supply == "to order" {
		s = append(s, answer.Text("; the part must be ordered"))
	}
	return append(s, answer.Text("."))
}
