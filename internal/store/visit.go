package store

import (
	"time"

	"gorm.io/gorm"
)

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
	PartID  string            `json:"part_id,omitempty" maxLength:"36" doc:"part that is exchanged"`

	Consents Consents `json:"consents,omitempty" gorm:"serializer:json"`
	State    string   `json:"state" enum:"in,on the bench,waiting for a part,closed,handed back"`
}

// Consents are what the owner agreed to before the phone is opened.
type Consents struct {
	Data  bool `json:"data,omitempty" doc:"knows that data may be lost, and has it backed up or does without"`
	Water bool `json:"water,omitempty" doc:"knows that the phone no longer keeps water out as before"`
	Seal  bool `json:"seal,omitempty" doc:"knows that the edge is not sealed as new"`
}

// UsedPiece is a piece that a repair used up, and the shelf that it was taken from.
type UsedPiece struct {
	Item    string `json:"item"`
	ShelfID string `json:"shelf_id"`
}

// Visit is one stay of a phone in the workshop.
type Visit struct {
	Row
	ModelID string `json:"model_id"`
	VisitFacts
	ClosedAt    *time.Time  `json:"closed_at,omitempty"`
	HandedAt    *time.Time  `json:"handed_at,omitempty"`
	ForgottenAt *time.Time  `json:"forgotten_at,omitempty" doc:"when ticket, words and pictures were deleted"`
	Minutes     float64     `json:"minutes,omitempty" doc:"of the repair, by its log"`
	Went        string      `json:"went,omitempty" enum:",fine,incident,gave up"`
	HurtPart    string      `json:"hurt_part,omitempty"`
	HurtStep    string      `json:"hurt_step,omitempty"`
	Note        string      `json:"note,omitempty"`
	Doubt       string      `json:"doubt,omitempty" enum:",asked,left out" doc:"its minutes are hardly those of a repair: they teach nothing"`
	Used        []UsedPiece `json:"used,omitempty" nullable:"false" gorm:"serializer:json"`
	OutcomeID   string      `json:"outcome_id,omitempty"`
}

// Open says whether a phone is still here to be worked on.
func (v Visit) Open() bool { return v.State != "closed" && v.State != "handed back" }

// VisitEntryFacts are one act of a repair as it was done.
type VisitEntryFacts struct {
	Key      string  `json:"key" minLength:"1" maxLength:"120" gorm:"column:act_key" doc:"of the act in the repair's list; round and incident beside them"`
	Seconds  float64 `json:"seconds,omitempty" minimum:"0" maximum:"604800" doc:"since the act before it"`
	Wait     float64 `json:"wait,omitempty" minimum:"0" maximum:"604800" doc:"of a wait: how long its clock ran"`
	Screws   int     `json:"screws,omitempty" minimum:"0" maximum:"200" doc:"counted"`
	Result   string  `json:"result,omitempty" enum:",pass,weak,lost,no gap,gap,mark"`
	HurtPart string  `json:"hurt_part,omitempty" maxLength:"36"`
	Note     string  `json:"note,omitempty" maxLength:"400" lines:"yes"`
	Skipped  bool    `json:"skipped,omitempty" doc:"left out"`
}

// VisitEntry is one line of the log of a visit. Away says that somebody was away meanwhile: its time counts nowhere.
type VisitEntry struct {
	Row
	VisitID string `json:"visit_id"`
	ModelID string `json:"model_id"`
	VisitEntryFacts
	StepID     string    `json:"step_id,omitempty"`
	Away       bool      `json:"away,omitempty"`
	SignedBy   string    `json:"signed_by,omitempty" doc:"who looked at an apprentice's work"`
	HappenedAt time.Time `json:"happened_at"`
	LogID      string    `json:"log_id,omitempty" doc:"its line in the log of a study's phone"`
}

// VisitPhoto is a picture of a visit, made anew so that nothing of its file but the picture stays.
type VisitPhoto struct {
	Row
	VisitID string `json:"visit_id"`
	ModelID string `json:"model_id"`
	Width   int    `json:"width"`
	Height  int    `json:"height"`
	Bytes   int    `json:"bytes"`
	Image   []byte `json:"-"`
	Thumb   []byte `json:"-"`
}

// StepTime is what a counted repair took for a step: Wait what its waits took together, 0 for none.
type StepTime struct {
	StepID, VisitID string
	Seconds, Wait   float64
}

// VisitTimes are the times of these steps in repairs that count. What is in the log of a study's phone is counted there.
func VisitTimes(db *gorm.DB, steps []string) ([]StepTime, error) {
	list := []StepTime{}
	if len(steps) == 0 {
		return list, nil
	}
	err := db.Raw(`SELECT e.step_id, e.visit_id, SUM(IF(e.act_key LIKE 'in %', e.seconds, 0)) AS seconds, SUM(e.wait) AS wait
		FROM visit_entries e JOIN visits v ON v.id = e.visit_id AND v.deleted_at IS NULL AND v.doubt = '' AND v.went <> ''
		WHERE e.step_id IN ? AND e.act_key NOT LIKE 'back %' AND NOT e.away AND NOT e.skipped AND e.log_id = '' AND
		e.deleted_at IS NULL GROUP BY e.step_id, e.visit_id`, steps).Scan(&list).Error
	return list, err
}

// Public is what the trail may keep of a visit: that something was written about its owner, never what.
func (v Visit) Public() any {
	hide := func(s string) string {
		if s == "" {
			return ""
		}
		return "written"
	}
	v.Ticket, v.Said, v.Note = hide(v.Ticket), hide(v.Said), hide(v.Note)
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

// ForgetVisit clears what the owner of a phone said of a visit that was deleted.
func ForgetVisit(tx *Tx, id string) error {
	return tx.DB.Exec("UPDATE visits SET ticket = '', said = '', note = '', forgotten_at = ? WHERE id = ?", tx.Arrived, id).Error
}

// ForgetAnswers deletes for good the pictures of a visit, and the kept answers to changes that hold its words. Outcomes keep
// their minutes; the remark of the one of this visit goes.
func ForgetAnswers(tx *Tx, id string) error {
	for _, q := range []string{"DELETE FROM visit_photos WHERE visit_id = ?",
		"UPDATE outcomes SET note = '' WHERE id IN (SELECT outcome_id FROM visits WHERE id = ?)",
		"UPDATE visit_entries SET note = '' WHERE visit_id = ?",
		"UPDATE commands SET answer = JSON_REMOVE(answer, '$.ticket', '$.said', '$.note') WHERE answer LIKE CONCAT('%id\":\"', ?, '\"%')"} {
		if err := tx.DB.Exec(q, id).Error; err != nil {
			return err
		}
	}
	return nil
}
