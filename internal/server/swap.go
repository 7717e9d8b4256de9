package server

import (
	"context"

	"waryowl/internal/app"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

func (s *server) swapRoutes() {
	handle(s, "GET", "/api/studies/{id}/swap", "get-swap", "The room of swap tests", read(app.Studies), 200, func(ctx context.Context, in *struct {
		ByID
		Build     string  `query:"build" maxLength:"40" doc:"the newest by default"`
		FalseLoss float64 `query:"false_loss" default:"-1" minimum:"-1" maximum:"0.4" doc:"chance of a loss without a culprit; -1: the house figure"`
		FalsePass float64 `query:"false_pass" default:"-1" minimum:"-1" maximum:"0.4" doc:"chance of a pass with a culprit; -1: the house figure"`
		Budget    float64 `query:"budget" minimum:"0" maximum:"1440" doc:"minutes that are left; 0: no plan"`
		Learned   bool    `query:"learned" doc:"let earlier studies of other models pull the priors"`
	}) (app.Swap, error) {
		ask := app.SwapAsk{Build: in.Build, Budget: in.Budget, Learned: in.Learned}
		if in.FalseLoss >= 0 || in.FalsePass >= 0 {
			n := ledger.Noise
			if in.FalseLoss >= 0 {
				n.FalseLoss = in.FalseLoss
			}
			if in.FalsePass >= 0 {
				n.FalsePass = in.FalsePass
			}
			ask.Noise = &n
		}
		return s.App.Swap(ctx, in.ID, ask)
	})
	handle(s, "GET", "/api/studies/{id}/swap/account", "get-swap-account", "What the swaps did, showed and did not show", read(app.Studies), 200, func(ctx context.Context, in *struct {
		ByID
		Rate float64 `query:"rate" minimum:"0" maximum:"100000000" doc:"minor units of money a bench hour"`
	}) (app.Account, error) {
		return s.App.Tell(ctx, in.ID, in.Rate)
	})
	handle(s, "GET", "/api/studies/{id}/swap/factors", "get-swap-factors", "The table of two or three slots for a check", read(app.Studies), 200, func(ctx context.Context, in *struct {
		ByID
		Build string   `query:"build" maxLength:"40"`
		Check string   `query:"check" required:"true" maxLength:"160"`
		Parts []string `query:"parts,explode" required:"true" minItems:"2" maxItems:"3" nullable:"false"`
	}) (app.FactorTable, error) {
		return s.App.Factors(ctx, in.ID, in.Build, in.Check, in.Parts)
	})
	handle(s, "POST", "/api/studies/{id}/swap-acts", "add-swap-act", "Record something done between trials", write(app.Studies), 201, func(ctx context.Context, in *newRow[NewSwapAct]) (store.SwapAct, error) {
		return s.App.AddSwapAct(ctx, in.command(ctx, "swap act of "+in.ByID.ID, in.Body), in.ByID.ID, in.Body.ID, in.Body.SwapActFacts, in.Body.Understood)
	})
	handle(s, "DELETE", "/api/swap-acts/{id}", "delete-swap-act", "Take an act back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.SwapAct, error) {
		return s.App.DeleteSwapAct(ctx, in.command(ctx, "delete swap act "+in.ID, in.Version), in.ID, in.Version)
	})
	handle(s, "POST", "/api/swap-acts/{id}/restore", "restore-swap-act", "Bring an act back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.SwapAct, error) {
		return s.App.RestoreSwapAct(ctx, in.command(ctx, "restore swap act "+in.ID, in.Version), in.ID, in.Version)
	})
	handle(s, "POST", "/api/studies/{id}/calibrations", "calibrate", "Ask the maker's service to match pieces to a board", write(app.Studies), 201, func(ctx context.Context, in *newRow[NewCalibration]) (store.SwapAct, error) {
		return s.App.Calibrate(ctx, in.command(ctx, "calibration of "+in.ByID.ID, in.Body), in.ByID.ID, in.Body.ID, in.Body.CalibrateFacts)
	})
	handle(s, "GET", "/api/studies/{id}/faults", "get-faults", "The sick phones of a study", read(app.Studies), 200, func(ctx context.Context, in *ByID) ([]app.FaultView, error) {
		return s.App.Faults(ctx, in.ID)
	})
	handle(s, "POST", "/api/studies/{id}/faults", "add-fault", "Open a search for a fault", write(app.Studies), 201, func(ctx context.Context, in *newRow[NewFault]) (store.FaultCase, error) {
		return s.App.AddFault(ctx, in.command(ctx, "fault of "+in.ByID.ID, in.Body), in.ByID.ID, in.Body.ID, in.Body.FaultFacts)
	})
	handle(s, "PUT", "/api/faults/{id}", "change-fault", "Record what was tried", write(app.Studies), 200, func(ctx context.Context, in *newRow[FaultChange]) (store.FaultCase, error) {
		return s.App.ChangeFault(ctx, in.command(ctx, "fault "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.FaultFacts)
	})
	handle(s, "POST", "/api/studies/{id}/trials", "add-trial", "Record a trial", write(app.Studies), 201, func(ctx context.Context, in *newRow[NewTrial]) (store.Trial, error) {
		return s.App.AddTrial(ctx, in.command(ctx, "trial of "+in.ByID.ID, in.Body), in.ByID.ID, in.Body.ID, in.Body.TrialFacts)
	})
	handle(s, "PUT", "/api/trials/{id}", "change-trial", "Change a trial", write(app.Studies), 200, func(ctx context.Context, in *newRow[TrialChange]) (store.Trial, error) {
		return s.App.ChangeTrial(ctx, in.command(ctx, "trial "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.TrialFacts)
	})
	handle(s, "DELETE", "/api/trials/{id}", "delete-trial", "Take a trial back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.Trial, error) {
		return s.App.DeleteTrial(ctx, in.command(ctx, "delete trial "+in.ID, in.Version), in.ID, in.Version)
	})
	handle(s, "POST", "/api/trials/{id}/restore", "restore-trial", "Bring a trial back", write(app.Studies), 200, func(ctx context.Context, in *versioned) (store.Trial, error) {
		return s.App.RestoreTrial(ctx, in.command(ctx, "restore trial "+in.ID, in.Version), in.ID, in.Version)
	})
}

func (s *server) dryRunRoutes() {
	handle(s, "GET", "/api/dry-runs", "get-dry-runs", "One's own practices", read(app.Practice), 200, func(ctx context.Context, _ *struct{}) (app.DryRuns, error) {
		return s.App.DryRuns(ctx, actor(ctx))
	})
	handle(s, "POST", "/api/dry-runs", "add-dry-run", "Start a practice", write(app.Practice), 201, func(ctx context.Context, in *struct {
		Change
		Body NewDryRun
	}) (store.DryRun, error) {
		return s.App.AddDryRun(ctx, in.command(ctx, "dry run", in.Body), in.Body.ID, in.Body.Level, in.Body.Seed)
	})
	handle(s, "GET", "/api/dry-runs/{id}", "get-dry-run", "A practice as it stands", read(app.Practice), 200, func(ctx context.Context, in *ByID) (app.DryView, error) {
		return s.App.DryRun(ctx, actor(ctx), in.ID)
	})
	handle(s, "POST", "/api/dry-runs/{id}/acts", "add-dry-act", "Do something on the simulated bench", write(app.Practice), 200, func(ctx context.Context, in *newRow[DryStep]) (store.DryRun, error) {
		return s.App.DryStep(ctx, in.command(ctx, "dry run "+in.ID, in.Body), in.ID, in.Body.Version, in.Body.DryAct)
	})
	handle(s, "POST", "/api/dry-runs/{id}/end", "end-dry-run", "End a practice and judge it", write(app.Practice), 200, func(ctx context.Context, in *newRow[DryEnd]) (store.DryRun, error) {
		return s.App.EndDryRun(ctx, in.command(ctx, "end dry run "+in.ID, in.Body), in.ID, in.Body.Version)
	})
}
