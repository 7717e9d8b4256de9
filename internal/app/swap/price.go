package swap

import (
	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/core/round"
	"waryowl/internal/core/route"
)

// newPricer prices rounds of swap tests from the present state of each phone.
func newPricer(b *study.Record) *round.Pricer {
	p := &round.Pricer{Ask: b.Know.Question(route.Elapsed), Done: map[string][]string{},
		Checks: model.CheckTime(b.Checks)}
	for _, u := range b.Units {
		p.Done[u.ID] = b.Done(u.ID)
	}
	return p.Within(b.Know.Context())
}
