package server

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/app/score"
)

func (s *server) scoreRoutes() {
	get(s, "/api/models/{id}/score", "get-score", "The scorecard", act.Models,
		func(ctx context.Context, in *ByID) (score.Room, error) {
			return score.Show(ctx, s.App, in.ID)
		})
}
