package server

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/app/find"
	"waryowl/internal/app/first"
	"waryowl/internal/app/study"
	"waryowl/internal/store"
)

func (s *server) findRoutes() {
	get(s, "/api/find", "find", "Find a model's part", act.Models, func(ctx context.Context, in *struct {
		Query string `query:"q" maxLength:"200"`
	}) (find.Found, error) {
		return find.Search(ctx, s.App, in.Query)
	})
	get(s, "/api/first", "get-first", "The first page of a role: what to do next, and what it looks after", act.Session,
		func(ctx context.Context, _ *struct{}) (first.Room, error) { return first.Show(ctx, s.App, actor(ctx)) })
	get(s, "/api/models", "list-models", "Models by maker and name, at most fifty", act.Models,
		func(ctx context.Context, in *struct {
			Query string `query:"q" maxLength:"200" doc:"words of their maker or name"`
		}) ([]store.Model, error) {
			return find.Models(ctx, s.App, in.Query)
		})
	get(s, "/api/models/{id}", "get-model", "A model with its parts and plan", act.Models,
		func(ctx context.Context, in *ByID) (find.ModelSheet, error) {
			return find.Sheet(ctx, s.App, in.ID)
		})
	get(s, "/api/studies", "list-studies", "Studies with their trails, the newest first, twenty at a time", act.Studies,
		func(ctx context.Context, in *struct {
			Before string `query:"before" maxLength:"36" doc:"id of the last one of the page before"`
		}) ([]study.Card, error) {
			return find.Studies(ctx, s.App, in.Before)
		})
	get(s, "/api/studies/{id}", "get-study", "A study with its trail", act.Studies,
		func(ctx context.Context, in *ByID) (study.Card, error) {
			return find.StudyCard(ctx, s.App, in.ID)
		})
}
