package server

import (
	"waryowl/internal/app"
	"waryowl/internal/store"
)

// The bodies of changes: a new row brings its id (UUIDv7), a changed one the version that its page showed.

// Credentials are what somebody signs in with.
type Credentials struct {
	Name     string `json:"name" minLength:"1" maxLength:"64"`
	Password string `json:"password" minLength:"1" maxLength:"200"`
}

// NewStudy opens a study of a model.
type NewStudy struct {
	ID      string `json:"id" format:"uuid"`
	ModelID string `json:"model_id" format:"uuid"`
	store.StudyFacts
}

// BaselineCell is a unit's result for a check; Version is 0 for an empty cell.
type BaselineCell struct {
	Version int    `json:"version" minimum:"0" doc:"0 for an empty cell"`
	Result  string `json:"result" enum:"pass,weak,lost,skipped,dark"`
	Assumed bool   `json:"assumed,omitempty" doc:"rest as expected: never counts as a pass"`
}

// LogChange corrects an entry.
type LogChange struct {
	Version int `json:"version" minimum:"1"`
	app.LogCorrection
}

// PhotoChange replaces the facts.
type PhotoChange struct {
	Version int `json:"version" minimum:"1"`
	store.PhotoFacts
}

// ClosingChange replaces the state of a closing; Version is 0 while nothing was stored.
type ClosingChange struct {
	Version  int  `json:"version" minimum:"0"`
	FromPlan bool `json:"from_plan,omitempty" doc:"a phone built of loose parts"`
	store.ClosingFacts
}

// NewModel records a model.
type NewModel struct {
	ID string `json:"id" format:"uuid"`
	store.ModelFacts
}

// NewPart records a part.
type NewPart struct {
	ID string `json:"id" format:"uuid"`
	store.PartFacts
}

// NewUnit records a phone.
type NewUnit struct {
	ID string `json:"id" format:"uuid"`
	store.UnitFacts
}

// NewLog logs one act.
type NewLog struct {
	ID string `json:"id" format:"uuid"`
	app.LogFacts
}

// NewTrial records a trial.
type NewTrial struct {
	ID string `json:"id" format:"uuid"`
	store.TrialFacts
}

// NewSwapAct records something done between trials. An irreversible act is refused until Understood.
type NewSwapAct struct {
	ID         string `json:"id" format:"uuid"`
	Understood bool   `json:"understood,omitempty" doc:"what cannot be undone was read"`
	store.SwapActFacts
}

// NewCalibration asks the maker's service.
type NewCalibration struct {
	ID string `json:"id" format:"uuid"`
	app.CalibrateFacts
}

// NewFault opens a search for a fault.
type NewFault struct {
	ID string `json:"id" format:"uuid"`
	store.FaultFacts
}

// FaultChange replaces the facts.
type FaultChange struct {
	Version int `json:"version" minimum:"1"`
	store.FaultFacts
}

// NewDryRun starts a practice; level and seed make the phones.
type NewDryRun struct {
	ID    string `json:"id" format:"uuid"`
	Level int    `json:"level" minimum:"0" maximum:"20"`
	Seed  uint64 `json:"seed" maximum:"4294967295"`
}

// DryStep is one act of a practice.
type DryStep struct {
	Version int `json:"version" minimum:"1"`
	store.DryAct
}

// DryEnd ends a practice.
type DryEnd struct {
	Version int `json:"version" minimum:"1"`
}

// NewOutcome says how a job went.
type NewOutcome struct {
	ID string `json:"id" format:"uuid"`
	store.OutcomeFacts
}

// ModelChange replaces the facts.
type ModelChange struct {
	Version int `json:"version" minimum:"1"`
	store.ModelFacts
}

// PartChange replaces the facts.
type PartChange struct {
	Version int `json:"version" minimum:"1"`
	store.PartFacts
}

// StepChange replaces the facts.
type StepChange struct {
	Version int `json:"version" minimum:"1"`
	store.StepFacts
}

// StudyChange replaces the facts.
type StudyChange struct {
	Version int `json:"version" minimum:"1"`
	store.StudyFacts
}

// UnitChange replaces the facts.
type UnitChange struct {
	Version int `json:"version" minimum:"1"`
	store.UnitFacts
}

// TrialChange replaces the facts.
type TrialChange struct {
	Version int `json:"version" minimum:"1"`
	store.TrialFacts
}
