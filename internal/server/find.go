package server

import (
	"context"

	"waryowl/internal/app"
	"waryowl/internal/store"
)

// JobPath is the address of a job card.
type JobPath struct {
	ByID
	Part string `path:"part" format:"uuid"`
}

func (s *server) findRoutes() {
	handle(s, "GET", "/api/find", "find", "Find a model's part", read(app.Models), 200, func(ctx context.Context, in *struct {
		Query string `query:"q" maxLength:"200"`
	}) (app.Found, error) {
		return s.App.Find(ctx, in.Query)
	})
	handle(s, "GET", "/api/models/{id}/parts/{part}", "get-job", "The job card of a part", read(app.Models), 200, func(ctx context.Context, in *JobPath) (app.Job, error) {
		return s.App.Job(ctx, in.ID, in.Part)
	})
	handle(s, "POST", "/api/models/{id}/parts/{part}/outcomes", "add-outcome", "How a job went", write(app.Outcomes), 201, func(ctx context.Context, in *struct {
		Change
		JobPath
		Body NewOutcome
	}) (store.Outcome, error) {
		c := in.command(ctx, "outcome "+in.ByID.ID+in.Part, in.Body)
		return s.App.AddOutcome(ctx, c, in.ByID.ID, in.Part, in.Body.ID, in.Body.OutcomeFacts)
	})
}
