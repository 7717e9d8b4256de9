package swap

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/symptom"
	"waryowl/internal/store"
)

// CauseOdds is a possible cause of a symptom with its posterior.
type CauseOdds struct {
	Words string  `json:"words"`
	P     float64 `json:"p"`
	Prior float64 `json:"prior" doc:"before anything was tried (house)"`
}

// FaultStep is an act that may come next.
type FaultStep struct {
	Act     string  `json:"act"`
	Minutes float64 `json:"minutes"`
	Opens   bool    `json:"opens" doc:"the phone is opened for it"`
	Bits    float64 `json:"bits"`
}

// FaultView is a search for a fault as it stands.
type FaultView struct {
	store.FaultCase
	Answer answer.Sentence `json:"answer" nullable:"false"`
	Part   string          `json:"part"`
	Causes []CauseOdds     `json:"causes" nullable:"false"`
	Next   []FaultStep     `json:"next" nullable:"false"`
	Acts   []string        `json:"acts" nullable:"false" doc:"everything that may be tried"`
}

// Faults reads the sick phones of a study.
func Faults(ctx context.Context, s *act.Service, studyID string) ([]FaultView, error) {
	b, err := study.Load(s.DB.WithContext(ctx), studyID)
	if err != nil {
		return nil, err
	}
	views := []FaultView{}
	for _, f := range b.Faults {
		v, err := faultView(b, f)
		if err != nil {
			return nil, err
		}
		views = append(views, v)
	}
	return views, nil
}

func faultView(b *study.Record, f store.FaultCase) (FaultView, error) {
	v := FaultView{FaultCase: f, Part: b.Know.PartByID[f.PartID].Name, Causes: []CauseOdds{}, Next: []FaultStep{},
		Acts: symptom.Acts()}
	open, _ := newPricer(b).Minutes([]string{f.UnitID}, []string{f.PartID})
	var tries []symptom.Try
	for _, t := range f.Tries {
		tries = append(tries, symptom.Try{Act: t.Act, Stayed: t.Stayed})
	}
	out, err := diagnose.RunContext(b.Know.Context(), symptom.Question(tries, open))
	if err != nil {
		return v, err
	}
	in := symptom.Question(tries, open)
	for _, c := range symptom.Causes() {
		words := c.Words
		if c.ID == "module" {
			words = "the " + v.Part + " itself"
		}
		p, known := out.Checks["symptom"].Marginal[c.ID]
		if !known {
			p = c.Odds
		}
		v.Causes = append(v.Causes, CauseOdds{words, p, c.Odds})
	}
	slices.SortStableFunc(v.Causes, func(a, b CauseOdds) int {
		switch {
		case a.P > b.P:
			return -1
		case a.P < b.P:
			return 1
		}
		return 0
	})
	for _, n := range out.Next {
		if n.Bits >= 0.01 && len(v.Next) < 4 {
			k := slices.IndexFunc(in.Candidates, func(c diagnose.Candidate) bool { return c.ID == n.ID })
			name := symptom.Named(n.ID)
			v.Next = append(v.Next, FaultStep{name, in.Candidates[k].Minutes, symptom.Opens(name), n.Bits})
		}
	}
	top := v.Causes[0]
	name := b.Sticker(f.UnitID) + ", “" + f.Symptom + "”: "
	switch {
	case len(f.Tries) == 0:
		v.Answer = answer.Sentence{answer.Text(name + "look at it once as it is, then try.")}
	case top.P >= 0.9:
		v.Answer = answer.Sentence{answer.Text(name + "it is " + top.Words + ", with "),
			answer.Number(100*top.P, "%", ""), answer.Text(".")}
	case len(v.Next) > 0:
		v.Answer = answer.Sentence{answer.Text(name + "try next: " + v.Next[0].Act + ", "),
			answer.Number(v.Next[0].Minutes, "min", ""), answer.Text(", "), answer.Number(v.Next[0].Bits, "bits", ""),
			answer.Text(".")}
	default:
		v.Answer = answer.Sentence{answer.Text(name + "still open; nothing on the list tells more. Most likely " +
			top.Words + ", with "), answer.Number(100*top.P, "%", ""), answer.Text(".")}
	}
	return v, nil
}

// AddFault opens a search for a fault.
func AddFault(ctx context.Context, s *act.Service, c act.Command, study, id string,
	f store.FaultFacts) (store.FaultCase, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.FaultCase, error) {
		row := store.FaultCase{Row: store.Row{ID: id}, StudyID: study, FaultFacts: f}
		if err := checkFault(tx, study, f); err != nil {
			return row, err
		}
		return row, store.Create(tx, &row)
	})
}

// ChangeFault replaces the facts of a search, its tries among them.
func ChangeFault(ctx context.Context, s *act.Service, c act.Command, id string, saw int,
	f store.FaultFacts) (store.FaultCase, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, row *store.FaultCase) error {
		row.FaultFacts = f
		return checkFault(tx, row.StudyID, f)
	})
}

func checkFault(tx *store.Tx, studyID string, f store.FaultFacts) error {
	b, err := study.Lock(tx, studyID)
	if err != nil {
		return err
	}
	if err := act.Belongs("unit_id", f.UnitID, b.UnitByID, "a unit of this study"); err != nil {
		return err
	}
	if err := act.Belongs("part_id", f.PartID, b.Know.PartByID, "a part of this model"); err != nil {
		return err
	}
	if !slices.ContainsFunc(b.Checks, func(k store.Check) bool { return k.Mark == f.CheckMark }) {
		return fault.New("check", f.CheckMark, "the short name of a check of this model")
	}
	return nil
}

// openFaults says for the hand-over what was not found.
func openFaults(b *study.Record) []string {
	var list []string
	for _, f := range b.Faults {
		if v, err := faultView(b, f); err == nil && v.Causes[0].P < 0.9 {
			list = append(list, fmt.Sprintf("%s, “%s”: the cause was not found (%s)", b.Sticker(f.UnitID), f.Symptom,
				strings.ToLower(answer.Counted(len(f.Tries), "look"))))
		}
	}
	return list
}
