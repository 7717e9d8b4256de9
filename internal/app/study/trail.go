package study

import (
	"cmp"
	"fmt"

	"waryowl/internal/app/model"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// Stage is one stage of the trail: its eye opens as it fills, Missing says what is not there yet.
type Stage struct {
	ID      string `json:"id"`
	Title   string `json:"title"`
	Eye     string `json:"eye" enum:"shut,half,open"`
	Missing string `json:"missing,omitempty"`
}

// Card is a study in a list, with its trail.
type Card struct {
	Study  store.Study  `json:"study"`
	Model  store.Model  `json:"model"`
	Units  []store.Unit `json:"units" nullable:"false"`
	Stages []Stage      `json:"stages" nullable:"false"`
}

// Card is the study as it stands in a list.
func (b *Record) Card() Card {
	return Card{b.Study, b.Know.Model, b.Units, b.stages()}
}

func eye(begun, complete bool) string {
	switch {
	case complete:
		return ledger.Open
	case begun:
		return ledger.Half
	}
	return ledger.Shut
}

// stages tells for each stage how full it is and the first thing that is missing.
func (b *Record) stages() []Stage {
	untested := 0
	for _, u := range b.Units {
		untested += b.Untested(u.ID)
	}
	intake := cmp.Or(need(len(b.Units) < 2, "two phones"),
		need(untested > 0, fmt.Sprintf("%d baseline checks", untested)))
	freed := map[string]bool{}
	for _, s := range b.Know.Steps {
		for _, id := range s.Frees {
			freed[id] = true
		}
	}
	noWay := len(b.Know.Parts) - len(freed)
	strip := cmp.Or(need(len(b.Log) == 0, "the first entry"), need(len(b.Know.Parts) == 0, "parts"))
	ways := cmp.Or(need(len(freed) == 0, "a way in"), need(noWay > 0, fmt.Sprintf("%d parts without a way in", noWay)))
	empty := 0
	for _, t := range b.Trials {
		empty += len(b.Checks) - len(t.Results)
	}
	swap := cmp.Or(need(len(b.Trials) == 0, "the first trial"),
		need(empty > 0, fmt.Sprintf("%d untested checks", empty)))
	closed, apart := 0, 0
	for _, c := range b.Closings {
		if c.Closed {
			closed++
		}
	}
	for _, u := range b.Units {
		if len(b.Done(u.ID)) > 0 {
			apart++
		}
	}
	closing := cmp.Or(need(apart > closed, fmt.Sprintf("%d of %d phones not closed", apart-closed, apart)))
	unscored := 0
	for _, j := range model.JobKinds {
		if p := b.Know.OfKind(j.Kind); p == nil || !freed[p.ID] {
			unscored++
		}
	}
	score := cmp.Or(need(len(freed) == 0, "a way in"), need(unscored > 0,
		fmt.Sprintf("the way in of %d of %d common jobs", unscored, len(model.JobKinds))))
	hand := cmp.Or(need(intake != "", "intake"), need(len(b.Log) == 0, "the teardown"),
		need(swap != "", "swap tests"), need(score != "", "the score"))
	return []Stage{
		{"intake", "Intake", eye(len(b.Units) > 0, intake == ""), intake},
		{"strip", "Teardown", eye(len(b.Log) > 0, strip == ""), strip},
		{"ways", "Ways in", eye(len(freed) > 0, ways == ""), ways},
		{"swap", "Swap tests", eye(len(b.Trials) > 0, swap == ""), swap},
		{"closeup", "Close-up", eye(closed > 0, len(b.Units) > 0 && closed == len(b.Units)), closing},
		{"score", "Score", eye(len(freed) > 0, score == ""), score},
		{"handover", "Hand-over", eye(len(b.Log) > 0 || len(b.Trials) > 0, hand == ""), hand},
	}
}

func need(missing bool, what string) string {
	if missing {
		return what
	}
	return ""
}
