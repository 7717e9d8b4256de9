package store

import (
	"time"

	"gorm.io/gorm"
)

// Piece is what sits in a slot that is not the board's own: a piece of a unit, or of another origin.
type Piece struct {
	PartID string `json:"part_id" format:"uuid"`
	Origin string `json:"origin,omitempty" enum:"unit,off,copy,foreign,unknown" doc:"unit by default"`
	UnitID string `json:"unit_id,omitempty" maxLength:"36" doc:"unit that the piece was built into"`
	Lot    string `json:"lot,omitempty" maxLength:"40" pattern:"^[A-Za-z0-9 ._#-]*$" doc:"delivery of a copy, as typed; a second piece of one: acme-7#2; of a foreign piece the mark on it"`
	Model  string `json:"model,omitempty" maxLength:"80" doc:"of a foreign piece: the name of the model that it was built for"`
}

// Foreign is the origin of a genuine piece of another model.
const Foreign = "foreign"

// Later is a re-reading of checks. After says what had gone by since the first one.
type Later struct {
	Minutes float64           `json:"minutes" minimum:"0" maximum:"100000" doc:"since the phone was started"`
	After   []string          `json:"after,omitempty" nullable:"false" maxItems:"6" enum:"restart,charge,settling,reset,update,calibration"`
	Results map[string]string `json:"results" doc:"check: pass, weak, lost, skipped or dark"`
}

// Notice is a notice that the phone showed.
type Notice struct {
	Text string `json:"text" minLength:"1" maxLength:"120"`
	Kind string `json:"kind" enum:"persistent,passing"`
}

// TrialFacts describe a trial: everything that is not the board's own, and a result per check.
type TrialFacts struct {
	BoardUnitID   string            `json:"board_unit_id" format:"uuid" doc:"unit whose main board this is"`
	HousingUnitID string            `json:"housing_unit_id,omitempty" maxLength:"36" doc:"unit whose housing the board sits in; its own by default"`
	Build         string            `json:"build,omitempty" maxLength:"40" doc:"software build on the board; the unit's own by default"`
	Pieces        []Piece           `json:"pieces,omitempty" nullable:"false" maxItems:"60" gorm:"serializer:json"`
	Results       map[string]string `json:"results,omitempty" gorm:"serializer:json" doc:"check, at once: pass, weak, lost, skipped or dark"`
	Assumed       []string          `json:"assumed,omitempty" nullable:"false" maxItems:"200" gorm:"serializer:json" doc:"checks whose result was filled in and not seen; they never count"`
	Later         []Later           `json:"later,omitempty" nullable:"false" maxItems:"20" gorm:"serializer:json"`
	BootMinutes   float64           `json:"boot_minutes,omitempty" minimum:"0" maximum:"100000" doc:"from the start of the phone to the first reading"`
	Notices       []Notice          `json:"notices,omitempty" nullable:"false" maxItems:"20" gorm:"serializer:json"`
	NoticesRead   bool              `json:"notices_read,omitempty" doc:"the list of notices was looked at"`
	Symptom       string            `json:"symptom,omitempty" maxLength:"300" doc:"freezes, lags, half bright …"`
	Seen          map[string]Seen   `json:"seen,omitempty" gorm:"serializer:json" doc:"check: the symptom in words, the value that was measured"`
	DarkScreen    bool              `json:"dark_screen,omitempty" doc:"nothing showed: what was lost waits for the gate"`
	Dangling      []string          `json:"dangling,omitempty" nullable:"false" maxItems:"20" gorm:"serializer:json" doc:"ids of own parts that were plugged in and hung out of their place"`
	DoneAt        *time.Time        `json:"done_at,omitempty" doc:"when it was made, where that was not when it was written down"`
	DeadGate      []string          `json:"dead_gate,omitempty" nullable:"false" maxItems:"5" enum:"charger,some minutes waited,reseated once,reseated twice,known-good part" gorm:"serializer:json"`
	Minutes       float64           `json:"minutes,omitempty" minimum:"0" maximum:"1440"`
	Note          string            `json:"note,omitempty" maxLength:"4000" lines:"yes"`
}

// Seen is what a check showed beside its result: freezes, lags, half bright, green; 120 lux, 64 dB, 40 s.
type Seen struct {
	Words string   `json:"words,omitempty" maxLength:"120"`
	Value *float64 `json:"value,omitempty" minimum:"-1000000" maximum:"1000000"`
	Unit  string   `json:"unit,omitempty" maxLength:"12"`
}

// Trial is one tested configuration. Seq is its number for good; Place its place in the history of the study, which
// trials and acts share.
type Trial struct {
	Row
	StudyID string `json:"study_id"`
	Seq     int    `json:"seq"`
	Place   int    `json:"place"`
	TrialFacts
}

// Move takes a piece to the slot of its kind in a phone, or to the mat.
type Move struct {
	Piece
	ToUnitID string `json:"to_unit_id,omitempty" maxLength:"36" doc:"phone; empty: the mat"`
}

// SwapActFacts are something done between trials.
type SwapActFacts struct {
	Kind        string  `json:"kind" enum:"move,restart,reset,update,flash,calibrate,charger,wait,reseat,known-good part,clock changed,damage,method changed"`
	BoardUnitID string  `json:"board_unit_id,omitempty" maxLength:"36" doc:"unit whose main board it concerns; empty for moves"`
	Moves       []Move  `json:"moves,omitempty" nullable:"false" maxItems:"120" gorm:"serializer:json"`
	Pieces      []Piece `json:"pieces,omitempty" nullable:"false" maxItems:"60" gorm:"serializer:json" doc:"those calibrated, reseated or damaged"`
	Build       string  `json:"build,omitempty" maxLength:"40" doc:"after an update or flash"`
	Accepted    bool    `json:"accepted,omitempty" doc:"a calibration was accepted"`
	Reason      string  `json:"reason,omitempty" maxLength:"300" doc:"why it was refused"`
	What        string  `json:"what,omitempty" maxLength:"120" doc:"kind of damage"`

	Spoils []string `json:"spoils,omitempty" nullable:"false" maxItems:"200" gorm:"serializer:json" doc:"of a damage: checks that it spoils; none: all of them; cosmetic alone: not one"`

	DoneAt  *time.Time `json:"done_at,omitempty" doc:"when it was done, where that was not when it was written down"`
	Minutes float64    `json:"minutes,omitempty" minimum:"0" maximum:"1440"`
	Note    string     `json:"note,omitempty" maxLength:"1000" lines:"yes"`
}

// SwapAct is one act between trials; Place is its place in the history of the study, which trials and acts share.
type SwapAct struct {
	Row
	StudyID string `json:"study_id"`
	Seq     int    `json:"seq"`
	Place   int    `json:"place"`
	SwapActFacts
}

// DryAct is one act of a trainee on a simulated pair, as it was asked for.
type DryAct struct {
	Kind        string   `json:"kind" enum:"arrange,read,reseat,leave off,reset,flash,calibrate,commit"`
	Board       string   `json:"board,omitempty" enum:"pine,amber"`
	Slots       []string `json:"slots,omitempty" nullable:"false" maxItems:"30"`
	Checks      []string `json:"checks,omitempty" nullable:"false" maxItems:"40"`
	Late        bool     `json:"late,omitempty" doc:"read after restart, charge and settling"`
	Explanation string   `json:"explanation,omitempty" maxLength:"120" doc:"slot:stranger, a/b:split or a&b:both; empty: harmless"`
}

// DryRun is one practice of an account.
type DryRun struct {
	Row
	AccountID      string   `json:"account_id"`
	Level          int      `json:"level"`
	Seed           uint64   `json:"seed"`
	Acts           []DryAct `json:"acts" nullable:"false" gorm:"serializer:json"`
	Done           bool     `json:"done"`
	RightCount     int      `json:"right"`
	WrongCount     int      `json:"wrong"`
	UnprovenCount  int      `json:"unproven"`
	Minutes        float64  `json:"minutes"`
	AdvisedMinutes float64  `json:"advised_minutes"`
}

// LastSeq is the highest number of the trials or acts of a study, deleted ones included: numbers are not used again.
func LastSeq[T any](tx *Tx, study string) (int, error) {
	var last struct{ Seq int }
	err := tx.DB.Unscoped().Model(new(T)).Select("COALESCE(MAX(seq), 0) AS seq").Where("study_id = ?", study).
		Scan(&last).Error
	return last.Seq, err
}

// MakeRoom moves the trials and acts of a study from a place on one further back, deleted ones included. It is no
// change of theirs: their versions stay.
func MakeRoom(tx *Tx, study string, place int) error {
	for _, table := range []any{&Trial{}, &SwapAct{}} {
		err := tx.DB.Unscoped().Model(table).Where("study_id = ? AND place >= ?", study, place).
			UpdateColumn("place", gorm.Expr("place + 1")).Error
		if err != nil {
			return err
		}
	}
	return nil
}
