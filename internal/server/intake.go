package server

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/app/intake"
	"waryowl/internal/store"
)

// The bodies of changes: a new row brings its id (UUIDv7), a changed one the version that its page showed.
type (
	// NewModel records a model.
	NewModel struct {
		ID string `json:"id" format:"uuid"`
		store.ModelFacts
	}
	// ModelChange replaces the facts.
	ModelChange struct {
		Version int `json:"version" minimum:"1"`
		store.ModelFacts
	}
	// NewStudy opens a study of a model.
	NewStudy struct {
		ID      string `json:"id" format:"uuid"`
		ModelID string `json:"model_id" format:"uuid"`
		store.StudyFacts
	}
	// StudyChange replaces the facts.
	StudyChange struct {
		Version int `json:"version" minimum:"1"`
		store.StudyFacts
	}
	// NewUnit records a phone.
	NewUnit struct {
		ID string `json:"id" format:"uuid"`
		store.UnitFacts
	}
	// UnitChange replaces the facts.
	UnitChange struct {
		Version int `json:"version" minimum:"1"`
		store.UnitFacts
	}
	// BaselineRest is one result for every check that has none.
	BaselineRest struct {
		Result  string `json:"result" enum:"pass,weak,lost,skipped,dark"`
		Assumed bool   `json:"assumed,omitempty" doc:"rest as expected: never counts as a pass"`
	}
	// BaselineCell is a unit's result for a check.
	BaselineCell struct {
		Version int    `json:"version" minimum:"0" doc:"0 for an empty cell"`
		Result  string `json:"result" enum:"pass,weak,lost,skipped,dark"`
		Assumed bool   `json:"assumed,omitempty" doc:"rest as expected: never counts as a pass"`
	}
)

func (s *server) intakeRoutes() {
	get(s, "/api/studies/{id}/intake", "get-intake", "The room of intake", act.Studies,
		func(ctx context.Context, in *ByID) (intake.Room, error) {
			return intake.Show(ctx, s.App, in.ID)
		})
	write(s, "POST", "/api/models", "add-model", "Record a model", act.Models,
		func(ctx context.Context, c act.Command, in *firstRow[NewModel]) (store.Model, error) {
			return intake.AddModel(ctx, s.App, c, in.Body.ID, in.Body.ModelFacts)
		})
	write(s, "PUT", "/api/models/{id}", "change-model", "Change a model", act.Models,
		func(ctx context.Context, c act.Command, in *newRow[ModelChange]) (store.Model, error) {
			return intake.ChangeModel(ctx, s.App, c, in.ID, in.Body.Version, in.Body.ModelFacts)
		})
	write(s, "POST", "/api/models/{id}/plan", "import-plan", "Import a plan into a model without one: all or nothing",
		act.Models, func(ctx context.Context, c act.Command, in *struct {
			Change
			ByID
			RawBody []byte `contentType:"application/octet-stream"`
		}) (intake.Imported, error) {
			return intake.ImportPlan(ctx, s.App, c, in.ID, in.RawBody)
		})
	write(s, "POST", "/api/studies", "add-study", "Open a study", act.Studies,
		func(ctx context.Context, c act.Command, in *firstRow[NewStudy]) (store.Study, error) {
			return intake.AddStudy(ctx, s.App, c, in.Body.ID, in.Body.ModelID, in.Body.StudyFacts)
		})
	write(s, "PUT", "/api/studies/{id}", "change-study", "Change a study", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[StudyChange]) (store.Study, error) {
			return intake.ChangeStudy(ctx, s.App, c, in.ID, in.Body.Version, in.Body.StudyFacts)
		})
	remove(s, "/api/studies", "study", "a study", act.Studies, intake.DeleteStudy, intake.RestoreStudy)
	write(s, "POST", "/api/studies/{id}/units", "add-unit", "Record a phone", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[NewUnit]) (store.Unit, error) {
			return intake.AddUnit(ctx, s.App, c, in.ByID.ID, in.Body.ID, in.Body.UnitFacts)
		})
	write(s, "PUT", "/api/units/{id}", "change-unit", "Change a phone", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[UnitChange]) (store.Unit, error) {
			return intake.ChangeUnit(ctx, s.App, c, in.ID, in.Body.Version, in.Body.UnitFacts)
		})
	write(s, "PUT", "/api/units/{id}/baseline/{check}", "set-baseline", "A unit's result before it was opened",
		act.Studies, func(ctx context.Context, c act.Command, in *struct {
			Change
			ByID
			Check string `path:"check" maxLength:"60"`
			Body  BaselineCell
		}) (store.Baseline, error) {
			return intake.SetBaseline(ctx, s.App, c, in.ID, in.Check, in.Body.Version, in.Body.Result, in.Body.Assumed)
		})
	write(s, "POST", "/api/units/{id}/baseline", "fill-baseline", "One result for every check of a unit that has none",
		act.Studies, func(ctx context.Context, c act.Command, in *newRow[BaselineRest]) (intake.Filled, error) {
			return intake.FillBaseline(ctx, s.App, c, in.ByID.ID, in.Body.Result, in.Body.Assumed)
		})
}
