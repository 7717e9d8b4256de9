package server

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/app/job"
	"waryowl/internal/store"
)

// JobPath is the address of a job card.
type JobPath struct {
	ByID
	Part string `path:"part" format:"uuid"`
}

// NewOutcome says how a job went.
type NewOutcome struct {
	ID string `json:"id" format:"uuid"`
	store.OutcomeFacts
}

func (s *server) jobRoutes() {
	get(s, "/api/models/{id}/parts/{part}", "get-job", "The job card of a part", act.Models,
		func(ctx context.Context, in *JobPath) (job.Card, error) {
			return job.Show(ctx, s.App, in.ID, in.Part)
		})
	write(s, "POST", "/api/models/{id}/parts/{part}/outcomes", "add-outcome", "How a job went", act.Outcomes,
		func(ctx context.Context, c act.Command, in *struct {
			Change
			JobPath
			Body NewOutcome
		}) (store.Outcome, error) {
			return job.AddOutcome(ctx, s.App, c, in.ByID.ID, in.Part, in.Body.ID, in.Body.OutcomeFacts)
		})
}
