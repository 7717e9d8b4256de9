package server

import (
	"context"

	"waryowl/internal/app"
	"waryowl/internal/store"
)

func (s *server) stripRoutes() {
	handle(s, "GET", "/api/studies/{id}/strip", "get-strip", "The room of the strip-down", read(app.Studies), 200, func(ctx context.Context, in *ByID) (app.Strip, error) {
		return s.App.Strip(ctx, in.ID)
	})
	handle(s, "POST", "/api/studies/{id}/log", "add-log", "Log one act on a phone", write(app.Studies), 201, func(ctx context.Context, in *newRow[NewLog]) (store.LogEntry, error) {
		return s.App.AddLog(ctx, in.command(ctx, "log of "+in.ByID.ID, in.Body), in.ByID.ID, in.Body.ID, in.Body.LogFacts)
	})
	handle(s, "PUT", "/api/log/{id}", "change-log", "Correct an entry", write(app.Studies), 200, func(ctx context.Context, in *newRow[LogChange]) (store.LogEntry, error) {
		return s.App.ChangeLog(ctx, in.command(ctx, "entry "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.Seconds, in.Body.Note)
	})
	handle(s, "DELETE", "/api/log/{id}", "delete-log", "Take an entry back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.LogEntry, error) {
		return s.App.DeleteLog(ctx, in.command(ctx, "delete entry "+in.ID, in.Version), in.ID, in.Version)
	})
	handle(s, "POST", "/api/log/{id}/restore", "restore-log", "Bring an entry back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.LogEntry, error) {
		return s.App.RestoreLog(ctx, in.command(ctx, "restore entry "+in.ID, in.Version), in.ID, in.Version)
	})
}
