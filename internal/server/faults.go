package server

import (
	"context"
	"net/http"

	"waryowl/internal/app/act"
	"waryowl/internal/app/faults"
	"waryowl/internal/store"
)

type (
	// NewFault opens a search for the fault of a phone, and its visit.
	NewFault struct {
		ID string `json:"id" format:"uuid"`
		faults.Begin
	}
	// FaultChange replaces what is known before anything is done.
	FaultChange struct {
		Version int `json:"version" minimum:"1"`
		store.FaultFacts
	}
)

func (s *server) faultRoutes() {
	get(s, "/api/faults", "list-faults", "Phones that are being looked at", act.Visits,
		func(ctx context.Context, in *struct {
			Model string `query:"model" format:"uuid" doc:"only of this model"`
			Unit  string `query:"unit" format:"uuid" doc:"only of this phone of a study"`
			Ended bool   `query:"ended" doc:"also those that ended"`
		}) ([]faults.Line, error) {
			return faults.List(ctx, s.App, in.Model, in.Unit, in.Ended)
		})
	get(s, "/api/symptoms", "find-symptom", "Symptoms that words may mean", act.Visits,
		func(_ context.Context, in *struct {
			Words string `query:"q" maxLength:"200"`
		}) ([]faults.Symptom, error) {
			return faults.Search(in.Words), nil
		})
	get(s, "/api/faults/{id}", "get-fault", "The search for a fault", act.Visits,
		func(ctx context.Context, in *ByID) (faults.Room, error) { return faults.Show(ctx, s.App, in.ID) })
	write(s, "POST", "/api/faults", "add-fault", "Open a search for a fault", act.Visits,
		func(ctx context.Context, c act.Command, in *firstRow[NewFault]) (store.FaultCase, error) {
			return faults.Start(ctx, s.App, c, in.Body.ID, in.Body.Begin)
		})
	write(s, "PUT", "/api/faults/{id}", "change-fault", "What is known of a phone with a fault", act.Visits,
		func(ctx context.Context, c act.Command, in *newRow[FaultChange]) (store.FaultCase, error) {
			return faults.Change(ctx, s.App, c, in.ID, in.Body.Version, in.Body.FaultFacts)
		})
	write(s, "POST", "/api/faults/{id}/acts", "add-fault-act", "Record an act and its answer", act.Visits,
		func(ctx context.Context, c act.Command, in *newRow[faults.NewAct]) (store.FaultCase, error) {
			return faults.Do(ctx, s.App, c, in.ByID.ID, in.Body)
		})
	writeAs(s, "DELETE", "/api/faults/{id}/acts", "undo-fault-act", "Take the last act back", act.Visits, http.StatusOK,
		func(ctx context.Context, c act.Command, in *versioned) (store.FaultCase, error) {
			return faults.UndoAct(ctx, s.App, c, in.ID, in.Version)
		})
	writeAs(s, "POST", "/api/faults/{id}/end", "end-fault", "End a search without a repair, or open it again",
		act.Visits, http.StatusOK,
		func(ctx context.Context, c act.Command, in *newRow[faults.End]) (store.FaultCase, error) {
			return faults.Stop(ctx, s.App, c, in.ByID.ID, in.Body)
		})
}
