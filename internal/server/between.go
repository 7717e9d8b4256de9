package server

import (
	"context"
	"net/http"

	"waryowl/internal/app/act"
	"waryowl/internal/app/compare"
	"waryowl/internal/app/fit"
	"waryowl/internal/app/intake"
	"waryowl/internal/instrument"
	"waryowl/internal/store"
)

type (
	// NewPair says that two parts of two models are one, or are not.
	NewPair struct {
		ID string `json:"id" format:"uuid"`
		store.PartPairFacts
	}
	// StartFrom names the model whose parts and plan are copied.
	StartFrom struct {
		From string `json:"from" format:"uuid"`
	}
	// MergeInto names the record that stays.
	MergeInto struct {
		ID   string `json:"id" format:"uuid" doc:"of the merge"`
		Into string `json:"into" format:"uuid"`
	}
	// NewLot records a lot of copies.
	NewLot struct {
		ID string `json:"id" format:"uuid"`
		store.LotFacts
	}
	// LotChange replaces the facts.
	LotChange struct {
		Version int `json:"version" minimum:"1"`
		store.LotFacts
	}
	// NewFitTest records a piece of elsewhere fitted in a phone of the model in the address.
	NewFitTest struct {
		ID string `json:"id" format:"uuid"`
		store.FitTestFacts
	}
	// FitTestChange replaces the facts.
	FitTestChange struct {
		Version int `json:"version" minimum:"1"`
		store.FitTestFacts
	}
)

func (s *server) betweenRoutes() {
	get(s, "/api/instruments", "get-instruments", "What the instruments on the network show", act.Models,
		func(context.Context, *struct{}) ([]instrument.State, error) {
			if s.Instruments == nil {
				return []instrument.State{}, nil
			}
			return s.Instruments.States(), nil
		})
	get(s, "/api/models/{id}/compare/{other}", "get-compare", "What changed from the other model to this one", act.Models,
		func(ctx context.Context, in *struct {
			ByID
			Other        string `path:"other" format:"uuid" doc:"the earlier model"`
			Variant      string `query:"variant" maxLength:"80" doc:"region variant of this one"`
			OtherVariant string `query:"other_variant" maxLength:"80" doc:"region variant of the other"`
		}) (compare.Room, error) {
			return compare.Show(ctx, s.App, in.Other, in.ID, in.OtherVariant, in.Variant)
		})
	get(s, "/api/models/{id}/generations", "get-generations", "Minutes of the common jobs over the generations", act.Models,
		func(ctx context.Context, in *ByID) ([]compare.Generation, error) {
			return compare.Generations(ctx, s.App, in.ID)
		})
	write(s, "POST", "/api/models/{id}/start-from", "start-from", "Copy parts and plan of an earlier model", act.Models,
		func(ctx context.Context, c act.Command, in *newRow[StartFrom]) (store.Model, error) {
			return intake.StartFrom(ctx, s.App, c, in.ID, in.Body.From)
		})
	write(s, "POST", "/api/parts/{id}/merge", "merge-parts", "Make two records of one part one", act.Models,
		func(ctx context.Context, c act.Command, in *newRow[MergeInto]) (store.Merge, error) {
			return intake.MergeParts(ctx, s.App, c, in.Body.ID, in.ByID.ID, in.Body.Into)
		})
	write(s, "POST", "/api/models/{id}/merge", "merge-models", "Make two records of one model one", act.Models,
		func(ctx context.Context, c act.Command, in *newRow[MergeInto]) (store.Merge, error) {
			return intake.MergeModels(ctx, s.App, c, in.Body.ID, in.ByID.ID, in.Body.Into)
		})
	writeAs(s, "POST", "/api/merges/{id}/undo", "undo-merge", "Take a merge back", act.Models, http.StatusOK,
		func(ctx context.Context, c act.Command, in *versioned) (store.Merge, error) {
			return intake.UndoMerge(ctx, s.App, c, in.ID, in.Version)
		})
	write(s, "POST", "/api/part-pairs", "add-part-pair", "Confirm or refuse that two parts are one", act.Models,
		func(ctx context.Context, c act.Command, in *firstRow[NewPair]) (store.PartPair, error) {
			return compare.Say(ctx, s.App, c, in.Body.ID, in.Body.PartPairFacts)
		})
	remove(s, "/api/part-pairs", "part-pair", "what was said of a pair", act.Models, compare.Unsay, compare.SayAgain)

	get(s, "/api/fit/{kind}", "get-fit", "What stands in for what", act.Models,
		func(ctx context.Context, in *struct {
			Kind       string  `path:"kind" maxLength:"40"`
			Model      string  `query:"model" format:"uuid" doc:"only models of this one's maker"`
			Level      string  `query:"level" enum:"no-seat,no-mate,dark,lost,notice,calibrated,looks-wrong,full" default:"notice"`
			Confidence float64 `query:"confidence" minimum:"0.51" maximum:"0.999" default:"0.9"`
		}) (fit.Room, error) {
			return fit.Show(ctx, s.App, fit.Ask{Kind: in.Kind, From: in.Model, Level: in.Level, Confidence: in.Confidence})
		})
	write(s, "POST", "/api/models/{id}/fit-tests", "add-fit-test", "Record a piece of elsewhere in a phone of this model",
		act.Studies, func(ctx context.Context, c act.Command, in *newRow[NewFitTest]) (store.FitTest, error) {
			return fit.AddTest(ctx, s.App, c, in.Body.ID, in.ByID.ID, in.Body.FitTestFacts)
		})
	write(s, "PUT", "/api/fit-tests/{id}", "change-fit-test", "Change such a test", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[FitTestChange]) (store.FitTest, error) {
			return fit.ChangeTest(ctx, s.App, c, in.ID, in.Body.Version, in.Body.FitTestFacts)
		})
	remove(s, "/api/fit-tests", "fit-test", "such a test", act.Studies, fit.DeleteTest, fit.RestoreTest)
	write(s, "POST", "/api/models/{id}/lots", "add-lot", "Record a lot of copies for this model", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[NewLot]) (store.Lot, error) {
			return fit.AddLot(ctx, s.App, c, in.Body.ID, in.ByID.ID, in.Body.LotFacts)
		})
	write(s, "PUT", "/api/lots/{id}", "change-lot", "Change a lot", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[LotChange]) (store.Lot, error) {
			return fit.ChangeLot(ctx, s.App, c, in.ID, in.Body.Version, in.Body.LotFacts)
		})
	remove(s, "/api/lots", "lot", "a lot", act.Studies, fit.DeleteLot, fit.RestoreLot)
}
