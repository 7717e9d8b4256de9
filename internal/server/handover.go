package server

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/app/handover"
)

func (s *server) handoverRoutes() {
	get(s, "/api/studies/{id}/handover", "get-handover", "The sheet of a study", act.Studies,
		func(ctx context.Context, in *ByID) (handover.Sheet, error) {
			return handover.Show(ctx, s.App, in.ID)
		})
	get(s, "/api/models/{id}/scorecard", "get-scorecard", "A model by every school, as it may stand on a sheet", act.Models,
		func(ctx context.Context, in *ByID) ([]handover.Scored, error) {
			return handover.Scores(ctx, s.App, in.ID)
		})
}
