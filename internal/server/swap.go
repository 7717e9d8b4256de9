package server

import (
	"context"

	"waryowl/internal/app/act"
	"waryowl/internal/app/swap"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

type (
	// NewTrial records a trial.
	NewTrial struct {
		ID    string `json:"id" format:"uuid"`
		Bench string `json:"bench,omitempty" enum:"ask,follow" doc:"where it differs from the bench: ask refuses, follow moves the bench; empty: the bench stays"`
		swap.Placing
		store.TrialFacts
	}
	// TrialChange replaces the facts.
	TrialChange struct {
		Version int `json:"version" minimum:"1"`
		store.TrialFacts
	}
	// NewSwapAct records something done between trials. An irreversible act is refused until Understood.
	NewSwapAct struct {
		ID         string `json:"id" format:"uuid"`
		Understood bool   `json:"understood,omitempty" doc:"what cannot be undone was read"`
		swap.Placing
		store.SwapActFacts
	}
	// GateStep is a step that was tried while a board stayed dark.
	GateStep struct {
		Version int    `json:"version" minimum:"1"`
		Step    string `json:"step" maxLength:"40"`
	}
	// NewCalibration asks the maker's service.
	NewCalibration struct {
		ID string `json:"id" format:"uuid"`
		swap.CalibrateFacts
	}
	// SwapQuery says how the room is to be read.
	SwapQuery struct {
		ByID
		Build     string  `query:"build" maxLength:"40" doc:"the newest by default"`
		FalseLoss float64 `query:"false_loss" default:"-1" minimum:"-1" maximum:"0.4" doc:"chance of a loss without a culprit; -1: the house figure"`
		FalsePass float64 `query:"false_pass" default:"-1" minimum:"-1" maximum:"0.4" doc:"chance of a pass with a culprit; -1: the house figure"`
		Budget    float64 `query:"budget" minimum:"0" maximum:"1440" doc:"minutes that are left; 0: no plan"`
		Learned   bool    `query:"learned" doc:"let earlier studies of other models pull the priors"`
		Explore   bool    `query:"explore" doc:"weigh what is next over all checks, not only over what was lost and is open"`
	}
)

func (q SwapQuery) ask() swap.Ask {
	a := swap.Ask{Build: q.Build, Budget: q.Budget, Learned: q.Learned, Explore: q.Explore}
	if q.FalseLoss >= 0 || q.FalsePass >= 0 {
		n := ledger.Noise
		if q.FalseLoss >= 0 {
			n.FalseLoss = q.FalseLoss
		}
		if q.FalsePass >= 0 {
			n.FalsePass = q.FalsePass
		}
		a.Noise = &n
	}
	return a
}

func (s *server) swapRoutes() {
	get(s, "/api/studies/{id}/swap", "get-swap", "The room of swap tests", act.Studies,
		func(ctx context.Context, in *SwapQuery) (swap.Room, error) {
			return swap.Show(ctx, s.App, in.ID, in.ask())
		})
	get(s, "/api/studies/{id}/swap/account", "get-swap-account", "What the swaps did, showed and did not show",
		act.Studies, func(ctx context.Context, in *struct {
			ByID
			Rate float64 `query:"rate" minimum:"0" maximum:"100000000" doc:"minor units of money a bench hour"`
		}) (swap.Account, error) {
			return swap.Tell(ctx, s.App, in.ID, in.Rate)
		})
	get(s, "/api/studies/{id}/swap/factors", "get-swap-factors", "The table of two or three slots for a check",
		act.Studies, func(ctx context.Context, in *struct {
			ByID
			Build string   `query:"build" maxLength:"40"`
			Check string   `query:"check" required:"true" maxLength:"160"`
			Parts []string `query:"parts,explode" required:"true" minItems:"2" maxItems:"3" nullable:"false"`
		}) (swap.FactorTable, error) {
			return swap.Factors(ctx, s.App, in.ID, in.Build, in.Check, in.Parts)
		})
	get(s, "/api/studies/{id}/notices", "get-notices", "Notices that were shown, or those that say what was typed",
		act.Studies, func(ctx context.Context, in *struct {
			ByID
			Typed string `query:"typed" maxLength:"120"`
		}) ([]swap.KnownNotice, error) {
			return swap.Notices(ctx, s.App, in.ID, in.Typed)
		})
	get(s, "/api/studies/{id}/trials", "get-trials", "Trials before those that the room shows", act.Studies,
		func(ctx context.Context, in *struct {
			ByID
			Before string `query:"before" required:"true" format:"uuid" doc:"id of the first trial that was shown"`
		}) (swap.TrialPage, error) {
			return swap.Older(ctx, s.App, in.ID, in.Before)
		})
	write(s, "POST", "/api/studies/{id}/trials", "add-trial", "Record a trial", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[NewTrial]) (swap.PlacedTrial, error) {
			return swap.AddTrial(ctx, s.App, c, in.ByID.ID, in.Body.ID, in.Body.TrialFacts, in.Body.Placing, in.Body.Bench)
		})
	write(s, "PUT", "/api/trials/{id}", "change-trial", "Change a trial", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[TrialChange]) (store.Trial, error) {
			return swap.ChangeTrial(ctx, s.App, c, in.ID, in.Body.Version, in.Body.TrialFacts)
		})
	write(s, "POST", "/api/trials/{id}/gate", "pass-gate", "Record a step tried before a board is called dead",
		act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[GateStep]) (store.Trial, error) {
			return swap.PassGate(ctx, s.App, c, in.ID, in.Body.Version, in.Body.Step)
		})
	remove(s, "/api/trials", "trial", "a trial", act.Studies, swap.DeleteTrial, swap.RestoreTrial)
	write(s, "POST", "/api/studies/{id}/swap-acts", "add-swap-act", "Record something done between trials",
		act.Studies, func(ctx context.Context, c act.Command, in *newRow[NewSwapAct]) (swap.PlacedAct, error) {
			return swap.AddAct(ctx, s.App, c, in.ByID.ID, in.Body.ID, in.Body.SwapActFacts, in.Body.Understood,
				in.Body.Placing)
		})
	remove(s, "/api/swap-acts", "swap-act", "an act", act.Studies, swap.DeleteAct, swap.RestoreAct)
	write(s, "POST", "/api/studies/{id}/calibrations", "calibrate",
		"Ask the maker's service to match pieces to a board", act.Studies,
		func(ctx context.Context, c act.Command, in *newRow[NewCalibration]) (store.SwapAct, error) {
			return swap.Calibrate(ctx, s.App, s.Calibration, c, in.ByID.ID, in.Body.ID, in.Body.CalibrateFacts)
		})
}
