package server

import (
	"context"

	"waryowl/internal/app"
	"waryowl/internal/store"
)

func (s *server) swapRoutes() {
	handle(s, "GET", "/api/studies/{id}/swap", "get-swap", "The room of swap tests", read(app.Studies), 200, func(ctx context.Context, in *struct {
		ByID
		Build string `query:"build" maxLength:"40" doc:"the newest by default"`
	}) (app.Swap, error) {
		return s.App.Swap(ctx, in.ID, in.Build)
	})
	handle(s, "POST", "/api/studies/{id}/trials", "add-trial", "Record a trial", write(app.Studies), 201, func(ctx context.Context, in *newRow[NewTrial]) (store.Trial, error) {
		return s.App.AddTrial(ctx, in.command(ctx, "trial of "+in.ByID.ID, in.Body), in.ByID.ID, in.Body.ID, in.Body.TrialFacts)
	})
	handle(s, "PUT", "/api/trials/{id}", "change-trial", "Change a trial", write(app.Studies), 200, func(ctx context.Context, in *newRow[TrialChange]) (store.Trial, error) {
		return s.App.ChangeTrial(ctx, in.command(ctx, "trial "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.TrialFacts)
	})
	handle(s, "DELETE", "/api/trials/{id}", "delete-trial", "Take a trial back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.Trial, error) {
		return s.App.DeleteTrial(ctx, in.command(ctx, "delete trial "+in.ID, in.Version), in.ID, in.Version)
	})
	handle(s, "POST", "/api/trials/{id}/restore", "restore-trial", "Bring a trial back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.Trial, error) {
		return s.App.RestoreTrial(ctx, in.command(ctx, "restore trial "+in.ID, in.Version), in.ID, in.Version)
	})
}
