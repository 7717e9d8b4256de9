package server

import (
	"context"

	"waryowl/internal/app"
	"waryowl/internal/store"
)

func (s *server) studyRoutes() {
	handle(s, "GET", "/api/studies", "list-studies", "All studies with their trails", read(app.Studies), 200, func(ctx context.Context, _ *struct{}) ([]app.StudyCard, error) {
		return s.App.Studies(ctx)
	})
	handle(s, "POST", "/api/studies", "add-study", "Open a study", write(app.Studies), 201, func(ctx context.Context, in *struct {
		Change
		Body NewStudy
	}) (store.Study, error) {
		return s.App.AddStudy(ctx, in.command(ctx, "study", in.Body), in.Body.ID, in.Body.ModelID, in.Body.StudyFacts)
	})
	handle(s, "GET", "/api/studies/{id}", "get-study", "A study with its trail", read(app.Studies), 200, func(ctx context.Context, in *ByID) (app.StudyCard, error) {
		return s.App.StudyCard(ctx, in.ID)
	})
	handle(s, "PUT", "/api/studies/{id}", "change-study", "Change a study", write(app.Studies), 200, func(ctx context.Context, in *newRow[StudyChange]) (store.Study, error) {
		return s.App.ChangeStudy(ctx, in.command(ctx, "study "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.StudyFacts)
	})
	handle(s, "DELETE", "/api/studies/{id}", "delete-study", "Delete a study, with a way back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.Study, error) {
		return s.App.DeleteStudy(ctx, in.command(ctx, "delete study "+in.ID, in.Version), in.ID, in.Version)
	})
	handle(s, "POST", "/api/studies/{id}/restore", "restore-study", "Bring a deleted study back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.Study, error) {
		return s.App.RestoreStudy(ctx, in.command(ctx, "restore study "+in.ID, in.Version), in.ID, in.Version)
	})
	handle(s, "GET", "/api/studies/{id}/intake", "get-intake", "The room of intake", read(app.Studies), 200, func(ctx context.Context, in *ByID) (app.Intake, error) {
		return s.App.Intake(ctx, in.ID)
	})
	handle(s, "POST", "/api/studies/{id}/units", "add-unit", "Record a phone", write(app.Studies), 201, func(ctx context.Context, in *newRow[NewUnit]) (store.Unit, error) {
		return s.App.AddUnit(ctx, in.command(ctx, "unit of "+in.ByID.ID, in.Body), in.ByID.ID, in.Body.ID, in.Body.UnitFacts)
	})
	handle(s, "PUT", "/api/units/{id}", "change-unit", "Change a phone", write(app.Studies), 200, func(ctx context.Context, in *newRow[UnitChange]) (store.Unit, error) {
		return s.App.ChangeUnit(ctx, in.command(ctx, "unit "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.UnitFacts)
	})
	handle(s, "PUT", "/api/units/{id}/baseline/{check}", "set-baseline", "A unit's result before it was opened", write(app.Studies), 200, func(ctx context.Context, in *struct {
		Change
		ByID
		Check string `path:"check" maxLength:"60"`
		Body  BaselineCell
	}) (store.Baseline, error) {
		return s.App.SetBaseline(ctx, in.command(ctx, "baseline "+in.ID+in.Check, in.Body), in.ID, in.Check, in.Body.Version, in.Body.Result, in.Body.Assumed)
	})
	handle(s, "GET", "/api/studies/{id}/handover", "get-handover", "The sheet of a study", read(app.Studies), 200, func(ctx context.Context, in *ByID) (app.Handover, error) {
		return s.App.Handover(ctx, in.ID)
	})
}
