package server

import (
	"context"
	"net/http"

	"waryowl/internal/app/act"
	"waryowl/internal/app/dryrun"
	"waryowl/internal/store"
)

type (
	// NewDryRun starts a practice; level and seed make the phones.
	NewDryRun struct {
		ID    string `json:"id" format:"uuid"`
		Level int    `json:"level" minimum:"0" maximum:"20"`
		Seed  uint64 `json:"seed" maximum:"4294967295"`
	}
	// DryStep is one act of a practice.
	DryStep struct {
		Version int `json:"version" minimum:"1"`
		store.DryAct
	}
	// DryEnd ends a practice.
	DryEnd struct {
		Version int `json:"version" minimum:"1"`
	}
)

func (s *server) dryrunRoutes() {
	get(s, "/api/dry-runs", "get-dry-runs", "One's own practices", act.Practice,
		func(ctx context.Context, in *struct {
			Before string `query:"before" maxLength:"36" doc:"id of the last one of the page before"`
		}) (dryrun.Room, error) {
			return dryrun.List(ctx, s.App, actor(ctx), in.Before)
		})
	get(s, "/api/dry-runs/{id}", "get-dry-run", "A practice as it stands", act.Practice,
		func(ctx context.Context, in *ByID) (dryrun.View, error) {
			return dryrun.Show(ctx, s.App, actor(ctx), in.ID)
		})
	write(s, "POST", "/api/dry-runs", "add-dry-run", "Start a practice", act.Practice,
		func(ctx context.Context, c act.Command, in *firstRow[NewDryRun]) (store.DryRun, error) {
			return dryrun.Start(ctx, s.App, c, in.Body.ID, in.Body.Level, in.Body.Seed)
		})
	writeAs(s, "POST", "/api/dry-runs/{id}/acts", "add-dry-act", "Do something on the simulated bench", act.Practice,
		http.StatusOK, func(ctx context.Context, c act.Command, in *newRow[DryStep]) (store.DryRun, error) {
			return dryrun.Step(ctx, s.App, c, in.ID, in.Body.Version, in.Body.DryAct)
		})
	writeAs(s, "POST", "/api/dry-runs/{id}/end", "end-dry-run", "End a practice and judge it", act.Practice,
		http.StatusOK, func(ctx context.Context, c act.Command, in *newRow[DryEnd]) (store.DryRun, error) {
			return dryrun.End(ctx, s.App, c, in.ID, in.Body.Version)
		})
}
