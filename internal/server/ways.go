package server

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/app/ways"
)

func (s *server) waysRoutes() {
	get(s, "/api/models/{id}/ways", "get-ways", "The way to every part", act.Models,
		func(ctx context.Context, in *struct {
			ByID
			Minimise string `query:"minimise" enum:"attended_seconds,depth,elapsed_seconds,risk" default:"attended_seconds"`
			Entry    string `query:"entry" enum:"front,back" doc:"side to go in from; either by default"`
		}) (ways.Room, error) {
			return ways.Show(ctx, s.App, actor(ctx), in.ID, in.Minimise, in.Entry)
		})
	get(s, "/api/models/{id}/parts/{part}/against/{other}", "compare-way", "The way to a part against another model's",
		act.Models, func(ctx context.Context, in *struct {
			JobPath
			Other string `path:"other" format:"uuid"`
		}) (ways.WayDifference, error) {
			return ways.Compare(ctx, s.App, in.ByID.ID, in.Part, in.Other)
		})
	get(s, "/api/models/{id}/harvest", "get-harvest", "Which parts of a donor pay for their minutes", act.Models,
		func(ctx context.Context, in *struct {
			ByID
			Hourly int `query:"hourly" minimum:"0" maximum:"10000000" default:"4500" doc:"cost of an hour, minor units"`
		}) (ways.Harvest, error) {
			return ways.WeighHarvest(ctx, s.App, in.ID, in.Hourly)
		})
}
