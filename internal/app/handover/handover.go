// Package handover is the room that composes the others into the sheet of a study.
package handover

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/app/swap"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/closeup"
	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// Finding is one verdict in words for the sheet.
type Finding struct {
	Part  string `json:"part"`
	State string `json:"state"`
	Check string `json:"check"`
	Mark  string `json:"mark"`
	Eye   string `json:"eye" enum:"shut,half,open"`
}

// Sheet is the printable sheet of a study.
type Sheet struct {
	study.Card
	Answer    answer.Sentence  `json:"answer" nullable:"false"`
	Build     string           `json:"build"`
	Date      string           `json:"date" doc:"ISO date on which the sheet was made"`
	Ways      []model.Way      `json:"ways" nullable:"false" doc:"the common jobs"`
	Findings  []Finding        `json:"findings" nullable:"false"`
	Proven    int              `json:"proven"`
	Half      int              `json:"half"`
	Unsettled int              `json:"unsettled" doc:"cells with trials that do not settle them"`
	Untested  int              `json:"untested" doc:"cells of slots × checks without a trial"`
	Open      []string         `json:"open" nullable:"false" doc:"what was not tested, or is not settled"`
	Parts     []store.Part     `json:"parts" nullable:"false"`
	Hazards   []hazard.Caution `json:"hazards" nullable:"false"`
	Notice    string           `json:"notice"`
	Interests []string         `json:"interests" nullable:"false" doc:"what a reader should know of those who made it"`
	Water     []string         `json:"water" nullable:"false" doc:"resistance to water, phone by phone"`
	Surplus   []string         `json:"surplus" nullable:"false" doc:"bits that were left on the bench"`
	Questions []study.Question `json:"questions" nullable:"false" doc:"statements and what became of them"`
	Claims    []Claim          `json:"claims" nullable:"false" doc:"what may be published, and what may not"`
	Swaps     swap.Account     `json:"swaps" doc:"what the swaps did, showed and did not show"`
}

// Show puts together what the study can stand behind.
func Show(ctx context.Context, s *act.Service, id string) (Sheet, error) {
	b, err := study.Load(s.DB.WithContext(ctx), id)
	if err != nil {
		return Sheet{}, err
	}
	h := Sheet{Card: b.Card(), Date: s.Now().Format("2006-01-02"), Ways: []model.Way{}, Findings: []Finding{},
		Open: []string{}, Interests: interests(b), Water: []string{}, Surplus: []string{},
		Questions: []study.Question{}, Claims: []Claim{},
		Parts: b.Know.Parts, Hazards: []hazard.Caution{}, Notice: hazard.Notice}
	seen := map[string]bool{}
	for _, kind := range model.CommonJobs {
		name := strings.ReplaceAll(kind, "-", " ")
		p := b.Know.OfKind(kind)
		if p == nil {
			h.Open = append(h.Open, "no "+name+" on record")
			continue
		}
		w := b.Know.WayTo(p.ID)
		if w == nil || w.Blocked != "" {
			h.Open = append(h.Open, "no way to the "+p.Name)
			continue
		}
		h.Ways = append(h.Ways, *w)
		for _, st := range w.Steps {
			for _, c := range st.Cautions {
				if !seen[c.ID] {
					seen[c.ID] = true
					h.Hazards = append(h.Hazards, c)
				}
			}
		}
	}
	if builds := b.Builds(); len(builds) > 0 {
		h.Build = builds[len(builds)-1]
	}
	r, err := b.Read(h.Build)
	var f *fault.Fault
	if err != nil && !errors.As(err, &f) {
		return Sheet{}, err
	}
	slots := 0
	for _, p := range b.Know.Parts {
		if p.Slot {
			slots++
		}
	}
	tested := 0
	if err == nil {
		for _, st := range ledger.States(r.In) {
			for _, c := range b.Checks {
				v := r.Grade(st[0], st[1], c.Mark)
				switch {
				case v.Mark == ledger.Untested:
					continue
				case v.Eye == ledger.Open:
					h.Proven++
				case v.Mark == ledger.Unsettled:
					h.Unsettled++
				default:
					h.Half++
				}
				tested++
				if len(v.For) > 0 && v.Mark != ledger.Works {
					h.Findings = append(h.Findings, Finding{st[0], st[1], c.Name, v.Mark, v.Eye})
				}
			}
		}
		for _, c := range b.Checks {
			// A group that no trial tells apart may be settled as a whole; a reader still wants the part.
			out := r.Out.Checks[c.Mark]
			named := slices.ContainsFunc(slices.Collect(maps.Values(out.Marginal)),
				func(p float64) bool { return p >= 0.9 })
			suspected := slices.ContainsFunc(out.Conflicts, func(k diagnose.Conflict) bool { return len(k.Atoms) > 0 })
			switch {
			case suspected && !named:
				h.Open = append(h.Open, c.Name+": which part loses it needs a test")
			case !suspected && len(out.Conflicts) > 0:
				h.Open = append(h.Open, c.Name+": "+out.Conflicts[0].Trial+" showed a loss that other trials speak "+
					"against")
			}
		}
	} else {
		h.Open = append(h.Open, "no reading of the swaps: "+f.Allowed)
	}
	if err == nil {
		if h.Swaps, err = swap.TellOf(b, 0); err != nil {
			return Sheet{}, err
		}
		h.Questions = r.Questions(b)
		h.claims(b, r)
	} else {
		h.Swaps = swap.Account{Build: h.Build, Done: []string{}, Shown: []string{}, NotShown: []string{},
			Modules: []swap.Module{}}
	}
	h.Untested = max(0, slots*len(b.Checks)-tested)
	for _, u := range b.Units {
		h.Open = append(h.Open, b.Beside(u)...)
		if n := b.Untested(u.ID); n > 0 {
			h.Open = append(h.Open, fmt.Sprintf("%s: %d checks without a baseline", u.Name, n))
		}
	}
	for _, u := range b.Units {
		if c := b.Closing(u.ID); c.ID != "" {
			h.Water = append(h.Water, u.Name+": "+closeup.Water(c.Seal))
		}
		for _, i := range b.Strays(u.ID) {
			h.Surplus = append(h.Surplus, fmt.Sprintf("%s: %d × %s", u.Name, max(1, i.Open()), i.Name))
		}
	}
	if len(b.Trials) == 0 {
		h.Open = append(h.Open, "no swap was tried")
	}
	start := "Nothing to stand behind yet: "
	if h.Build != "" && h.Proven+h.Half > 0 {
		start = "What holds is for build " + h.Build + ": "
	}
	h.Answer = answer.Sentence{answer.Text(start), answer.Number(float64(h.Proven), "", "#findings"),
		answer.Text(" verdicts proven, "), answer.Number(float64(h.Half), "", "#findings"),
		answer.Text(" likely, "), answer.Number(float64(h.Unsettled), "",
			"#open"), answer.Text(" need a test, "), answer.Number(float64(h.Untested), "",
			"#open"), answer.Text(" untested.")}
	return h, nil
}
