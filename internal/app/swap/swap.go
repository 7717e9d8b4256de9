// Package swap is the room of swap tests: the board, trials and acts, what they prove, and what to try next.
package swap

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/culprit"
	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// Room is the room of swap tests, read for one software build.
type Room struct {
	study.Card
	Answer answer.Sentence `json:"answer" nullable:"false"`
	Build  string          `json:"build"`
	Builds []string        `json:"builds" nullable:"false" doc:"newest last"`
	Board  Board           `json:"board"`
	Slots  []store.Part    `json:"slots" nullable:"false"`
	Checks []store.Check   `json:"checks" nullable:"false" doc:"those of the model, then the notices that were shown"`
	TrialPage
	Titles   map[string]string `json:"titles" doc:"of the trials that lie before these, by their marks"`
	Acts     []ActView         `json:"acts" nullable:"false"`
	Warnings []ledger.Warning  `json:"warnings" nullable:"false"`
	Reports  []CheckReport     `json:"reports" nullable:"false"`
	Rows     []SuspectRow      `json:"rows" nullable:"false"`
	Skips    []SkipView        `json:"skips" nullable:"false"`
	Doubts   []Doubt           `json:"doubts" nullable:"false"`
	Remedies []string          `json:"remedies" nullable:"false" doc:"what brought a check back that had stayed lost"`
	Next     []NextSwap        `json:"next" nullable:"false"`
	Plan     []NextSwap        `json:"plan" nullable:"false" doc:"what settles most within the minutes that were named; greedy, not proven"`
	Open     []string          `json:"open" nullable:"false" doc:"checks that stay open"`
	Retests  []Retest          `json:"retests" nullable:"false" doc:"what to test again on the newest build, most valuable first"`
	Learned  []study.Learned   `json:"learned" nullable:"false" doc:"priors counted in earlier studies of other models"`
	Asks     []study.Question  `json:"questions" nullable:"false" doc:"statements to settle, and how far they are"`
	Noise    diagnose.Noise    `json:"noise"`
	Inexact  float64           `json:"inexact,omitempty" doc:"no probability is further off than this; left out: exact"`
	Limit    string            `json:"limit" doc:"what this reading cannot see"`
	Refused  string            `json:"refused,omitempty" doc:"why no posterior could be computed"`
	Asked    []string          `json:"asked" nullable:"false" doc:"questions to the calibration service whose answer never came"`

	settled int
}

// Ask says how the room is to be read.
type Ask struct {
	Build   string
	Noise   *diagnose.Noise
	Budget  float64
	Learned bool
	Explore bool // weigh what is next over all checks, not only over those that were lost and are open
}

// ActView is an act in words.
type ActView struct {
	store.SwapAct
	Text string `json:"text"`
}

// Suspicion is one explanation in words, with its posterior.
type Suspicion struct {
	Words string  `json:"words"`
	P     float64 `json:"p"`
}

// Dispute is a conflict in words: who is suspected in a lost trial, or which passing trials speak against it.
type Dispute struct {
	Trial   string   `json:"trial"`
	Words   []string `json:"words" nullable:"false"`
	Against []string `json:"against" nullable:"false"`
}

// CheckReport says for one check what is suspected. Lost and Tested count the readings that count.
type CheckReport struct {
	Check      store.Check `json:"check"`
	Tested     int         `json:"tested"`
	Lost       int         `json:"lost"`
	Settled    bool        `json:"settled"`
	Consistent bool        `json:"consistent"`
	Bits       float64     `json:"bits"`
	Suspects   []Suspicion `json:"suspects" nullable:"false"`
	Disputes   []Dispute   `json:"disputes" nullable:"false"`

	Arrangements []ArrangementLine `json:"arrangements" nullable:"false" doc:"two parts that belong together or may be lost together, by whose piece each was"`
	Unexplained  float64           `json:"unexplained" doc:"chance that some loss has nothing at work but a misreading"`
}

// ArrangementLine says how one setting of two parts did.
type ArrangementLine struct {
	Words   string `json:"words"`
	Lost    int    `json:"lost"`
	Of      int    `json:"of"`
	Verdict string `json:"verdict" enum:"loses,works,not settled"`
	Eye     string `json:"eye" enum:"shut,half,open"`
}

// SuspectRow is a slot in a state with its verdict for every check.
type SuspectRow struct {
	PartID   string           `json:"part_id"`
	Part     string           `json:"part"`
	State    string           `json:"state"`
	Mark     string           `json:"mark" doc:"over all checks"`
	Eye      string           `json:"eye" enum:"shut,half,open"`
	Verdicts []ledger.Verdict `json:"verdicts" nullable:"false"`
	Others   []BuildVerdicts  `json:"others" nullable:"false" doc:"the same on other builds, never averaged"`
}

// BuildVerdicts are the verdicts of a row on another build.
type BuildVerdicts struct {
	Build    string           `json:"build"`
	Verdicts []ledger.Verdict `json:"verdicts" nullable:"false"`
}

// SkipView is a reading that a guard keeps from counting.
type SkipView struct {
	Trial string     `json:"trial"`
	Check string     `json:"check"`
	Code  ledger.Why `json:"code"`
	Why   string     `json:"why"`
}

// Doubt is a reading that was probably noise.
type Doubt struct {
	Trial   string  `json:"trial"`
	Check   string  `json:"check"`
	P       float64 `json:"p"`
	Minutes float64 `json:"minutes" doc:"to repeat it"`
}

const seatLimit = "Noise is taken per reading here, while a loose connector takes every check of its cable at once. " +
	"A seat that was kept over several trials is among the explanations; one that was used once is not: reseat and " +
	"repeat before believing several losses together. Three parts that only fail together are not looked for, and two boards " +
	"cannot tell a board from a lot of parts."

// Show reads the study's swaps as asked; for the newest build by default.
func Show(ctx context.Context, s *act.Service, id string, ask Ask) (Room, error) {
	db := s.DB.WithContext(ctx)
	b, err := study.Load(db, id)
	if err != nil {
		return Room{}, err
	}
	v := Room{Card: b.Card(), Builds: b.Builds(), Build: ask.Build, Slots: b.Slots(), Checks: b.SwapChecks(),
		Titles: map[string]string{}, Acts: []ActView{},
		Warnings: []ledger.Warning{}, Reports: []CheckReport{}, Rows: []SuspectRow{}, Skips: []SkipView{},
		Doubts: []Doubt{}, Remedies: []string{}, Next: []NextSwap{},
		Plan: []NextSwap{}, Open: []string{}, Retests: []Retest{}, Learned: []study.Learned{}, Asked: []string{},
		Asks:  []study.Question{},
		Limit: seatLimit}
	v.Noise.FalseLoss, v.Noise.FalsePass = culprit.House()
	open, err := store.OpenCalls(db, id)
	if err != nil {
		return Room{}, err
	}
	for _, c := range open {
		v.Asked = append(v.Asked, "The calibration service was asked on "+c.AskedAt.Format("2006-01-02 15:04")+
			" UTC and its answer never came: look at the phone before you ask again.")
	}
	if v.Build == "" && len(v.Builds) > 0 {
		v.Build = v.Builds[len(v.Builds)-1]
	}
	if ask.Noise != nil {
		v.Noise = *ask.Noise
	}
	if ask.Learned {
		if v.Learned, err = b.Learn(db); err != nil {
			return Room{}, err
		}
	}
	for _, a := range b.Acts {
		v.Acts = append(v.Acts, ActView{a, actWords(b, a)})
	}
	r, err := readAs(b, Asked{Build: v.Build, noise: ask.Noise, budget: ask.Budget, explore: ask.Explore})
	v.Board = showBoard(b, r.History)
	var failed error // err still says what the reading came to
	if v.TrialPage, failed = page(ctx, s, b, r.History, len(b.Trials)); failed != nil {
		return Room{}, failed
	}
	for i, t := range b.Trials[:v.Older] {
		x := trialView(b, t, r.History.Trials[i])
		v.Titles[x.Mark] = x.Title
	}
	var f *fault.Fault
	// too much for one question: say so, and show the trials all the same
	if errors.As(err, &f) && f.Field == "trials" {
		v.Refused = f.Error()
		v.Answer = answer.Sentence{answer.Text("The trials are on record, but too many explanations stand open for " +
			"a reading: " + f.Allowed + ".")}
		return v, nil
	}
	if err != nil {
		return Room{}, err
	}
	v.Warnings = r.Study.Warnings(r.History, b.Sticker)
	connectors, err := connectorWarnings(db, b)
	if err != nil {
		return Room{}, err
	}
	v.Warnings = append(v.Warnings, connectors...)
	for _, m := range r.History.Remedies {
		v.Remedies = append(v.Remedies, fmt.Sprintf("%s: %s was lost from %s on and came back in %s, after %s",
			b.Sticker(m.Board), m.Check, m.Since, m.Back,
			cmp.Or(strings.Join(m.By, ", "), "nothing that was recorded")))
	}
	v.fill(b, r)
	if err := v.misfits(db, b); err != nil {
		return Room{}, err
	}
	v.Asks = r.Questions(b)
	v.likely(r)
	v.Retests = retests(b, v.Build)
	v.sentence(b)
	return v, nil
}
