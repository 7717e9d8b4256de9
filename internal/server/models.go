package server

import (
	"context"

	"waryowl/internal/app"
	"waryowl/internal/store"
)

type newRow[F any] struct {
	Change
	ByID
	Body F
}

func (s *server) modelRoutes() {
	handle(s, "GET", "/api/models", "list-models", "All models", read(app.Models), 200, func(ctx context.Context, _ *struct{}) ([]store.Model, error) {
		return s.App.ModelList(ctx)
	})
	handle(s, "POST", "/api/models", "add-model", "Record a model", write(app.Models), 201, func(ctx context.Context, in *struct {
		Change
		Body NewModel
	}) (store.Model, error) {
		return s.App.AddModel(ctx, in.command(ctx, "model", in.Body), in.Body.ID, in.Body.ModelFacts)
	})
	handle(s, "GET", "/api/models/{id}", "get-model", "A model with its parts and plan", read(app.Models), 200, func(ctx context.Context, in *ByID) (app.ModelSheet, error) {
		return s.App.ModelSheet(ctx, in.ID)
	})
	handle(s, "PUT", "/api/models/{id}", "change-model", "Change a model", write(app.Models), 200, func(ctx context.Context, in *newRow[ModelChange]) (store.Model, error) {
		return s.App.ChangeModel(ctx, in.command(ctx, "model "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.ModelFacts)
	})
	handle(s, "POST", "/api/models/{id}/parts", "add-part", "Record a part", write(app.Models), 201, func(ctx context.Context, in *newRow[NewPart]) (store.Part, error) {
		return s.App.AddPart(ctx, in.command(ctx, "part of "+in.ByID.ID, in.Body), in.ByID.ID, in.Body.ID, in.Body.PartFacts)
	})
	handle(s, "PUT", "/api/parts/{id}", "change-part", "Change a part", write(app.Models), 200, func(ctx context.Context, in *newRow[PartChange]) (store.Part, error) {
		return s.App.ChangePart(ctx, in.command(ctx, "part "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.PartFacts)
	})
	handle(s, "PUT", "/api/steps/{id}", "change-step", "Change a step of the plan", write(app.Models), 200, func(ctx context.Context, in *newRow[StepChange]) (store.PlanStep, error) {
		return s.App.ChangeStep(ctx, in.command(ctx, "step "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.StepFacts)
	})
	handle(s, "GET", "/api/models/{id}/ways", "get-ways", "The way to every part", read(app.Models), 200, func(ctx context.Context, in *struct {
		ByID
		Minimise string `query:"minimise" enum:"attended_seconds,depth,elapsed_seconds,risk" default:"attended_seconds"`
		Entry    string `query:"entry" enum:"front,back" doc:"side to go in from; either by default"`
	}) (app.Ways, error) {
		return s.App.Ways(ctx, actor(ctx), in.ID, in.Minimise, in.Entry)
	})
	handle(s, "GET", "/api/models/{id}/parts/{part}/against/{other}", "compare-way", "The way to a part against another model's", read(app.Models), 200, func(ctx context.Context, in *struct {
		JobPath
		Other string `path:"other" format:"uuid"`
	}) (app.WayDifference, error) {
		return s.App.CompareWay(ctx, in.ByID.ID, in.Part, in.Other)
	})
	handle(s, "GET", "/api/models/{id}/harvest", "get-harvest", "Which parts of a donor pay for their minutes", read(app.Models), 200, func(ctx context.Context, in *struct {
		ByID
		Hourly int `query:"hourly" minimum:"0" maximum:"10000000" default:"4500" doc:"cost of an hour, minor units"`
	}) (app.Harvest, error) {
		return s.App.Harvest(ctx, in.ID, in.Hourly)
	})
	handle(s, "POST", "/api/models/{id}/plan", "import-plan", "Import a plan into a model without one: all or nothing", write(app.Models), 201, func(ctx context.Context, in *struct {
		Change
		ByID
		RawBody []byte `contentType:"application/octet-stream"`
	}) (app.Imported, error) {
		return s.App.ImportPlan(ctx, in.command(ctx, "plan of "+in.ID, in.RawBody), in.ID, in.RawBody)
	})
	handle(s, "GET", "/api/models/{id}/score", "get-score", "The scorecard", read(app.Models), 200, func(ctx context.Context, in *ByID) (app.ScoreRoom, error) {
		return s.App.Score(ctx, in.ID)
	})
}
