package app

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"

	"waryowl/internal/core/answer"
	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/score"
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

// Handover is the printable sheet of a study.
type Handover struct {
	StudyCard
	Answer    answer.Sentence  `json:"answer" nullable:"false"`
	Build     string           `json:"build"`
	Date      string           `json:"date" doc:"ISO date on which the sheet was made"`
	Ways      []Way            `json:"ways" nullable:"false" doc:"the common jobs"`
	Findings  []Finding        `json:"findings" nullable:"false"`
	Proven    int              `json:"proven"`
	Half      int              `json:"half"`
	Unsettled int              `json:"unsettled" doc:"cells with trials that do not settle them"`
	Untested  int              `json:"untested" doc:"cells of slots × checks without a trial"`
	Open      []string         `json:"open" nullable:"false" doc:"what was not tested, or is not settled"`
	Score     score.Card       `json:"score"`
	Parts     []store.Part     `json:"parts" nullable:"false"`
	Hazards   []hazard.Caution `json:"hazards" nullable:"false"`
	Notice    string           `json:"notice"`
	Swaps     Account          `json:"swaps" doc:"what the swaps did, showed and did not show"`
}

// Handover puts together what the study can stand behind.
func (s *Service) Handover(ctx context.Context, id string) (Handover, error) {
	b, err := loadStudy(s.DB.WithContext(ctx), id)
	if err != nil {
		return Handover{}, err
	}
	h := Handover{StudyCard: b.card(), Date: s.Now().Format("2006-01-02"), Ways: []Way{}, Findings: []Finding{}, Open: []string{}, Score: b.know.score(),
		Parts: b.know.parts, Hazards: []hazard.Caution{}, Notice: hazard.Notice}
	seen := map[string]bool{}
	for _, name := range commonJobs {
		p := b.know.partNamed(name)
		if p == nil {
			h.Open = append(h.Open, "no "+name+" on record")
			continue
		}
		w := b.know.wayTo(p.ID, b.checks)
		if w == nil || w.Blocked != "" {
			h.Open = append(h.Open, "no way to the "+name)
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
	if builds := b.builds(); len(builds) > 0 {
		h.Build = builds[len(builds)-1]
	}
	r, err := b.read(h.Build, false)
	var f *fault.Fault
	if err != nil && !errors.As(err, &f) {
		return Handover{}, err
	}
	slots := 0
	for _, p := range b.know.parts {
		if p.Slot {
			slots++
		}
	}
	tested := 0
	if err == nil {
		for _, st := range ledger.States(r.in) {
			for _, c := range b.checks {
				v := r.grade(st[0], st[1], c.Mark)
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
		for _, c := range b.checks {
			// A group that no trial tells apart may be settled as a whole; a reader still wants the part.
			out := r.out.Checks[c.Mark]
			named := slices.ContainsFunc(slices.Collect(maps.Values(out.Marginal)), func(p float64) bool { return p >= 0.9 })
			suspected := slices.ContainsFunc(out.Conflicts, func(k diagnose.Conflict) bool { return len(k.Atoms) > 0 })
			switch {
			case suspected && !named:
				h.Open = append(h.Open, c.Name+": which part costs it is not settled")
			case !suspected && len(out.Conflicts) > 0:
				h.Open = append(h.Open, c.Name+": "+out.Conflicts[0].Trial+" showed a loss that other trials speak against")
			}
		}
	} else {
		h.Open = append(h.Open, "no reading of the swaps: "+f.Allowed)
	}
	if err == nil {
		if h.Swaps, err = b.account(0); err != nil {
			return Handover{}, err
		}
	} else {
		h.Swaps = Account{Build: h.Build, Done: []string{}, Shown: []string{}, NotShown: []string{}, Modules: []Module{}}
	}
	h.Untested = max(0, slots*len(b.checks)-tested)
	for _, u := range b.units {
		if n := b.untested(u.ID); n > 0 {
			h.Open = append(h.Open, fmt.Sprintf("%s: %d checks without a baseline", u.Name, n))
		}
	}
	if len(b.trials) == 0 {
		h.Open = append(h.Open, "no swap was tried")
	}
	for _, l := range h.Score.Lines {
		if l.Narrow != "" {
			h.Open = append(h.Open, l.Title+": "+l.Narrow)
		}
	}
	start := "Nothing to stand behind yet: "
	if h.Build != "" && h.Proven+h.Half > 0 {
		start = "What holds is for build " + h.Build + ": "
	}
	h.Answer = answer.Sentence{answer.Text(start), answer.Number(float64(h.Proven), "", "#findings"), answer.Text(" verdicts proven, "), answer.Number(float64(h.Half), "", "#findings"),
		answer.Text(" half-proven, "), answer.Number(float64(h.Unsettled), "", "#open"), answer.Text(" not settled, "), answer.Number(float64(h.Untested), "", "#open"), answer.Text(" cells untested; physical ease " + describe(h.Score) + " of 10.")}
	return h, nil
}
