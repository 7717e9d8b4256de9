package server

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/app/closeup"
	"waryowl/internal/store"
)

// ClosingChange replaces the state of a closing.
type ClosingChange struct {
	Version  int  `json:"version" minimum:"0" doc:"0 while nothing was stored"`
	FromPlan bool `json:"from_plan,omitempty" doc:"a phone built of loose parts"`
	store.ClosingFacts
}

func (s *server) closeupRoutes() {
	get(s, "/api/studies/{id}/closeup", "get-closeup", "The room of closing", act.Studies,
		func(ctx context.Context, in *struct {
			ByID
			Plan bool `query:"plan" doc:"from the plan, for a phone built of loose parts"`
		}) (closeup.Room, error) {
			return closeup.Show(ctx, s.App, in.ID, in.Plan)
		})
	write(s, "PUT", "/api/units/{id}/closing", "set-closing", "The state of a phone's closing", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[ClosingChange]) (store.Closing, error) {
			return closeup.SetClosing(ctx, s.App, c, in.ID, in.Body.Version, in.Body.FromPlan, in.Body.ClosingFacts)
		})
}
