package swap

import (
	"context"
	"slices"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// TrialPage are trials before those that the room shows, the oldest first.
type TrialPage struct {
	Trials []TrialView `json:"trials" nullable:"false"`
	Older  int         `json:"older" doc:"trials that lie before these"`
}

// mostTrials are the trials that the room shows, and those of a page.
const mostTrials = 120

// page are the trials up to one, with who recorded them.
func page(ctx context.Context, s *act.Service, b *study.Record, h ledger.History, end int) (TrialPage, error) {
	v := TrialPage{Trials: []TrialView{}, Older: max(0, end-mostTrials)}
	var ids []string
	for i := v.Older; i < end; i++ {
		v.Trials = append(v.Trials, trialView(b, b.Trials[i], h.Trials[i]))
		ids = append(ids, b.Trials[i].ID)
	}
	by, err := store.Authors(s.DB.WithContext(ctx), ids)
	for i := range v.Trials {
		v.Trials[i].By = by[v.Trials[i].ID]
	}
	return v, err
}

// Older is the page of trials before one, by its id.
func Older(ctx context.Context, s *act.Service, studyID, before string) (TrialPage, error) {
	b, err := study.LoadFor(s.DB.WithContext(ctx), studyID, study.Want{Swaps: true, Verdicts: true})
	if err != nil {
		return TrialPage{}, err
	}
	end := slices.IndexFunc(b.Trials, func(t store.Trial) bool { return t.ID == before })
	if end < 0 {
		return TrialPage{}, fault.New("before", before, "a trial of this study")
	}
	return page(ctx, s, b, b.Begin("").History, end)
}
