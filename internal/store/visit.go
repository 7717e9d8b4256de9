package store

import "time"

// VisitFacts describe a phone that is here for a repair and belongs to no study, or one of a study that is sick.
// Nothing about its owner but a ticket number and what they said.
type VisitFacts struct {
	Sticker string            `json:"sticker" minLength:"1" maxLength:"20" doc:"what the phone is called here"`
	Ticket  string            `json:"ticket,omitempty" maxLength:"40" doc:"number on the workshop's own papers; no names of people"`
	Said    string            `json:"said,omitempty" maxLength:"400" doc:"what is wrong, in the owner's words"`
	Arrival map[string]string `json:"arrival,omitempty" gorm:"serializer:json" doc:"check: pass or lost, when it came"`
	StudyID string            `json:"study_id,omitempty" maxLength:"36" doc:"where the phone is one of a study"`
	UnitID  string            `json:"unit_id,omitempty" maxLength:"36"`
	WorkID  string            `json:"work_id,omitempty" maxLength:"36" doc:"the job that was asked for"`
	State   string            `json:"state" enum:"in,on the bench,waiting for a part,closed,handed back"`
}

// Visit is one stay of a phone in the workshop.
type Visit struct {
	Row
	ModelID string `json:"model_id"`
	VisitFacts
}

// Public is what the trail may keep of a visit: that something was written about its owner, never what.
func (v Visit) Public() any {
	hide := func(s string) string {
		if s == "" {
			return ""
		}
		return "written"
	}
	v.Ticket, v.Said = hide(v.Ticket), hide(v.Said)
	return v
}

// FaultAct is one act of a search for a fault, with its answer.
type FaultAct struct {
	ID      string    `json:"id,omitempty" format:"uuid"`
	Act     string    `json:"act" minLength:"1" maxLength:"80"`
	Answer  string    `json:"answer" enum:"yes,no,at times" doc:"of a cure: the symptom is gone; of a try: gone while it holds; of a look: it is so"`
	Minutes float64   `json:"minutes,omitempty" minimum:"0" maximum:"1440"`
	DoneAt  time.Time `json:"done_at"`
	By      string    `json:"by,omitempty" maxLength:"60"`
	ShelfID string    `json:"shelf_id,omitempty" maxLength:"36" doc:"where the piece that it fitted was taken from"`
	EntryID string    `json:"entry_id,omitempty" maxLength:"36" doc:"its line in the log of the phone"`
	MoveID  string    `json:"move_id,omitempty" maxLength:"36" doc:"the move of the piece on the swap bench"`
}

// FaultFacts are what is known of a phone with a fault before anything is done to it.
type FaultFacts struct {
	Symptom string   `json:"symptom,omitempty" maxLength:"60" doc:"from the list; empty: not chosen yet"`
	Works   []string `json:"works,omitempty" nullable:"false" maxItems:"60" gorm:"serializer:json" doc:"checks that work"`
	Lost    []string `json:"lost,omitempty" nullable:"false" maxItems:"60" gorm:"serializer:json" doc:"checks that are lost beside the symptom"`
	Limit   int64    `json:"limit_minor,omitempty" minimum:"0" maximum:"100000000" gorm:"column:limit_minor" doc:"what the repair may cost; 0: none was named"`
	Service int64    `json:"service_minor,omitempty" minimum:"0" maximum:"100000000" gorm:"column:service_minor" doc:"price of giving up; 0: the house figure"`
}

// FaultCase is one search for the fault of a phone.
type FaultCase struct {
	Row
	VisitID string `json:"visit_id"`
	ModelID string `json:"model_id"`
	FaultFacts
	Acts     []FaultAct `json:"acts" nullable:"false" gorm:"serializer:json"`
	State    string     `json:"state" enum:"open,repaired,given up,not told apart"`
	Ended    []string   `json:"ended,omitempty" nullable:"false" gorm:"serializer:json" doc:"causes between which it ended"`
	Why      string     `json:"why,omitempty" maxLength:"300" doc:"why it was given up"`
	ClosedAt *time.Time `json:"closed_at,omitempty"`
	WorkID   string     `json:"work_id,omitempty" doc:"the closed job that was recorded for it"`
}

// TableName keeps clear of the searches of earlier versions, which stay as they were.
func (FaultCase) TableName() string { return "fault_searches" }

// FaultCount is how often closed cases of a model and a symptom ended with a cause; a case that ended between two
// gives each its share.
type FaultCount struct {
	ModelID string  `gorm:"primaryKey"`
	Symptom string  `gorm:"primaryKey"`
	Cause   string  `gorm:"primaryKey"`
	N       float64 `gorm:"column:n"`
}

// CountFault adds a share of a case to a cause, or takes it back with a negative one.
func CountFault(tx *Tx, model, symptom, cause string, share float64) error {
	return tx.DB.Exec("INSERT INTO fault_counts (model_id, symptom, cause, n) VALUES (?, ?, ?, GREATEST(0, ?)) "+
		"ON DUPLICATE KEY UPDATE n = GREATEST(0, n + ?)", model, symptom, cause, share, share).Error
}
