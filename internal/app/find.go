package app

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/match"
	"waryowl/internal/store"
)

// Match is one thing that a search found: a part of a model. Why names the text that was met when it is not the name.
type Match struct {
	ModelID string `json:"model_id"`
	Model   string `json:"model"`
	PartID  string `json:"part_id"`
	Part    string `json:"part"`
	Family  string `json:"family"`
	Why     string `json:"why,omitempty"`
	rank    float64
}

// Found is the answer of the find field.
type Found struct {
	Answer  answer.Sentence `json:"answer" nullable:"false"`
	Matches []Match         `json:"matches" nullable:"false"`
}

// mostMatches is how many matches are listed.
const mostMatches = 30

// Find looks for models, parts, aliases, labels, chip marks and connector codes.
func (s *Service) Find(ctx context.Context, query string) (Found, error) {
	db := s.DB.WithContext(ctx)
	models, err := store.List[store.Model](db, "name", "1 = 1")
	if err != nil {
		return Found{}, err
	}
	parts, err := store.List[store.Part](db, "name", "1 = 1")
	if err != nil {
		return Found{}, err
	}
	byID := map[string]store.Model{}
	for _, m := range models {
		byID[m.ID] = m
	}
	f := Found{Matches: []Match{}}
	for _, p := range parts {
		m, ok := byID[p.ModelID]
		if !ok {
			continue
		}
		texts := append([]string{m.Maker, m.Name, p.Name, p.Label, p.ChipMark, p.ConnectorCode}, append(slices.Clone(m.Aliases), p.Aliases...)...)
		rank := match.Rank(query, texts...)
		if rank == 0 {
			continue
		}
		hit := Match{ModelID: m.ID, Model: m.Maker + " " + m.Name, PartID: p.ID, Part: p.Name, Family: p.Family, rank: rank}
		if match.Rank(query, m.Maker, m.Name, p.Name) == 0 {
			for _, t := range append([]string{p.Label, p.ChipMark, p.ConnectorCode}, append(slices.Clone(p.Aliases), m.Aliases...)...) {
				if strings.ContainsFunc(t, func(rune) bool { return true }) && slices.ContainsFunc(strings.Fields(query), func(w string) bool { return match.Rank(w, t) > 0 }) {
					hit.Why = t
					break
				}
			}
		}
		f.Matches = append(f.Matches, hit)
	}
	slices.SortStableFunc(f.Matches, func(a, b Match) int {
		return cmp.Or(cmp.Compare(b.rank, a.rank), strings.Compare(a.Model, b.Model), strings.Compare(a.Part, b.Part))
	})
	n := len(f.Matches)
	f.Matches = f.Matches[:min(mostMatches, n)]
	switch {
	case strings.TrimSpace(query) == "":
		f.Answer = answer.Sentence{answer.Text("Which phone, which part, or a code you hold?")}
	case n == 0:
		f.Answer = answer.Sentence{answer.Text("Nothing on record for “" + short(query) + "”. Try fewer letters, an alias, or the code printed on the connector.")}
	case n == 1:
		f.Answer = answer.Sentence{answer.Text(f.Matches[0].Model + ", " + f.Matches[0].Part + ": "), answer.Number(1, "match", "#matches"), answer.Text(".")}
	default:
		f.Answer = answer.Sentence{answer.Text("“" + short(query) + "”: "), answer.Number(float64(n), "matches", "#matches"), answer.Text(".")}
		if n > mostMatches {
			f.Answer = append(f.Answer, answer.Text(fmt.Sprintf(" The best %d are listed; add a word to narrow them.", mostMatches)))
		}
	}
	return f, nil
}

func short(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

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

// Job is the job card of a model's part, for technicians and buyers.
type Job struct {
	Model    store.Model      `json:"model"`
	Part     store.Part       `json:"part"`
	Parts    []store.Part     `json:"parts" nullable:"false"`
	Answer   answer.Sentence  `json:"answer" nullable:"false"`
	Way      *Way             `json:"way,omitempty"`
	Builds   []BuildLosses    `json:"builds" nullable:"false" doc:"newest last; what is lost when the part is another one of the same model"`
	Hazards  []hazard.Caution `json:"hazards" nullable:"false"`
	Outcomes []OutcomeView    `json:"outcomes" nullable:"false"`
	Notice   string           `json:"notice"`
}

// Job answers whether a job can be taken, and how.
func (s *Service) Job(ctx context.Context, model, part string) (Job, error) {
	db := s.DB.WithContext(ctx)
	k, err := loadModel(db, model)
	if err != nil {
		return Job{}, err
	}
	p, ok := k.part[part]
	if !ok {
		return Job{}, ErrNotFound
	}
	checks, err := checksFor(db, k.Model)
	if err != nil {
		return Job{}, err
	}
	j := Job{Model: k.Model, Part: p, Parts: k.parts, Builds: []BuildLosses{}, Hazards: []hazard.Caution{}, Outcomes: []OutcomeView{}, Notice: hazard.Notice}
	j.Way = k.wayTo(part, checks)
	if j.Way != nil {
		for _, st := range j.Way.Steps {
			for _, c := range st.Cautions {
				if !slices.Contains(j.Hazards, c) {
					j.Hazards = append(j.Hazards, c)
				}
			}
		}
	}
	studies, err := store.List[store.Study](db, "id", "model_id = ?", model)
	if err != nil {
		return Job{}, err
	}
	for _, row := range studies {
		b, err := loadStudy(db, row.ID)
		if err != nil {
			return Job{}, err
		}
		for _, build := range b.builds() {
			r, err := b.read(build, false)
			if err != nil {
				continue
			}
			j.addLosses(b, r, build, p)
		}
	}
	rows, err := store.List[store.Outcome](db, "id DESC", "part_id = ?", part)
	if err != nil {
		return Job{}, err
	}
	for _, o := range rows[:min(8, len(rows))] {
		who, err := s.Who(ctx, o.AccountID)
		if err != nil {
			who.Display = "somebody who left"
		}
		j.Outcomes = append(j.Outcomes, OutcomeView{o, who.Display})
	}
	j.Answer = j.sentence()
	return j, nil
}

func (j *Job) addLosses(b *bench, r reading, build string, p store.Part) {
	k := slices.IndexFunc(j.Builds, func(l BuildLosses) bool { return l.Build == build })
	if k < 0 {
		k = len(j.Builds)
		j.Builds = append(j.Builds, BuildLosses{Build: build, Losses: []Loss{}, Works: []Loss{}, Untested: len(b.checks)})
	}
	for _, c := range b.checks {
		v := r.grade(p.Name, "stranger", c.Mark)
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
	slices.SortStableFunc(j.Builds[k].Losses, func(a, b Loss) int { return cmp.Compare(chance(b.Verdict), chance(a.Verdict)) })
}

func chance(v ledger.Verdict) float64 {
	if v.P == nil {
		return 0
	}
	return *v.P
}

func (j *Job) sentence() answer.Sentence {
	if j.Way == nil || j.Way.Blocked != "" {
		return answer.Sentence{answer.Text("Ask first: no way to the " + j.Part.Name + " is on record.")}
	}
	verdict := "Take it: "
	if j.Part.Supply == "none" {
		verdict = "Do not take it yet, the part cannot be had: "
	}
	s := answer.Sentence{answer.Text(verdict), answer.Number(j.Way.ElapsedMinutes, "min", "#way"), answer.Text(" in, "), answer.Number(j.Way.ClosedMinutes, "min", "#way"), answer.Text(" to closed and tested; ")}
	switch {
	case len(j.Builds) == 0 || j.Builds[len(j.Builds)-1].Untested > 0 && len(j.Builds[len(j.Builds)-1].Losses)+len(j.Builds[len(j.Builds)-1].Works) == 0:
		s = append(s, answer.Text("what it costs to replace it is untested"))
	default:
		last := j.Builds[len(j.Builds)-1]
		known := slices.DeleteFunc(slices.Clone(last.Losses), func(l Loss) bool { return l.Verdict.Mark != ledger.Loses })
		switch {
		case len(known) > 0:
			s = append(s, answer.Text("build "+last.Build+" loses "), answer.Count(len(known), "function", "#losses"))
		case len(last.Losses) > 0:
			s = append(s, answer.Count(len(last.Losses), "suspected loss", "#losses"), answer.Text(" on build "+last.Build))
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

// AddOutcome records how a job on a part went. What it says of steps walked and parts hurt feeds times and odds.
func (s *Service) AddOutcome(ctx context.Context, c Command, model, part, id string, f store.OutcomeFacts) (store.Outcome, error) {
	return Do(ctx, s, c, 201, func(tx *store.Tx) (store.Outcome, error) {
		o := store.Outcome{Row: store.Row{ID: id}, ModelID: model, PartID: part, AccountID: c.Actor.ID, OutcomeFacts: f}
		k, err := loadModel(tx.DB, model)
		if errors.Is(err, ErrNotFound) {
			return o, fault.New("model_id", model, "the id of a model")
		}
		if err != nil {
			return o, err
		}
		if err := belongs("part_id", part, k.part, "a part of this model"); err != nil {
			return o, err
		}
		for i, id := range f.Steps {
			if err := belongs(field("steps[%d]", i), id, k.step, "a step of this model's plan"); err != nil {
				return o, err
			}
		}
		if f.HurtPart != "" {
			if err := belongs("hurt_part", f.HurtPart, k.part, "a part of this model"); err != nil {
				return o, err
			}
			if err := belongs("hurt_step", f.HurtStep, k.step, "the step at which it was hurt"); err != nil {
				return o, err
			}
		}
		if f.Whole > f.Of {
			return o, fault.New("whole", f.Whole, "no more tabs than there are")
		}
		return o, store.Create(tx, &o)
	})
}
