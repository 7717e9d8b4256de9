package store

import "time"

// BenchPerson is a pair of hands of the workshop; breaks are written 12:00-12:30.
type BenchPerson struct {
	Name   string   `json:"name" minLength:"1" maxLength:"40"`
	Skills []string `json:"skills,omitempty" nullable:"false" maxItems:"12"`
	Breaks []string `json:"breaks,omitempty" nullable:"false" maxItems:"6"`
}

// BenchMachine is so many equal machines of a kind; trays only where there is one.
type BenchMachine struct {
	Name       string `json:"name" minLength:"1" maxLength:"40"`
	Units      int    `json:"units" minimum:"1" maximum:"20"`
	WarmUp     int    `json:"warm_up,omitempty" minimum:"0" maximum:"7200" doc:"seconds from opening on"`
	TrayChange int    `json:"tray_change,omitempty" minimum:"0" maximum:"3600" doc:"seconds"`
	Soft       int    `json:"soft,omitempty" minimum:"0" maximum:"600" doc:"seconds that a rim stays soft after its heat; 0: 60, after air 30"`
}

// BenchAfter is an operation of the same job that comes first; within: so many seconds after its end at most.
type BenchAfter struct {
	Op     string `json:"op" maxLength:"40"`
	Wait   int    `json:"wait,omitempty" minimum:"0" maximum:"86400"`
	Within *int   `json:"within,omitempty" minimum:"0" maximum:"86400"`
}

// BenchOp is an operation of a job of the day. Steps are those of the plan that it consists of: logging them starts and
// ends it. Started and ended are seconds since the workshop opened.
type BenchOp struct {
	ID      string       `json:"id" minLength:"1" maxLength:"40"`
	P50     int          `json:"p50" minimum:"0" maximum:"86400"`
	P90     int          `json:"p90" minimum:"0" maximum:"86400"`
	Hands   bool         `json:"hands,omitempty"`
	Skill   string       `json:"skill,omitempty" maxLength:"40"`
	Machine string       `json:"machine,omitempty" maxLength:"40"`
	Tray    string       `json:"tray,omitempty" maxLength:"40"`
	After   []BenchAfter `json:"after,omitempty" nullable:"false" maxItems:"10"`
	Steps   []string     `json:"steps,omitempty" nullable:"false" maxItems:"300"`
	Phase   string       `json:"phase,omitempty" enum:",back,cure,test" doc:"of a repair: what it stands for after the way in"`
	Started *int         `json:"started,omitempty" minimum:"0" maximum:"86400"`
	Ended   *int         `json:"ended,omitempty" minimum:"0" maximum:"86400"`
	Person  string       `json:"person,omitempty" maxLength:"40"`
}

// BenchJobFacts are a phone on the bench of a day. Release and due are seconds since the workshop opened.
type BenchJobFacts struct {
	Day     time.Time `json:"day" ahead:"yes"`
	Title   string    `json:"title" minLength:"1" maxLength:"60" doc:"what stands on the phone's tray: no names of people"`
	ModelID string    `json:"for_model_id,omitempty" maxLength:"36" gorm:"column:for_model_id"`
	PartID  string    `json:"part_id,omitempty" maxLength:"36" doc:"what the way leads to"`
	UnitID  string    `json:"unit_id,omitempty" maxLength:"36" doc:"whose strip log starts and ends its operations"`
	WorkID  string    `json:"work_id,omitempty" maxLength:"36" doc:"the job that was asked for"`
	VisitID string    `json:"visit_id,omitempty" maxLength:"36" doc:"whose log starts and ends its operations"`
	Release int       `json:"release,omitempty" minimum:"0" maximum:"86400" gorm:"column:release_s"`
	Due     int       `json:"due,omitempty" minimum:"0" maximum:"86400" gorm:"column:due_s" doc:"0: by the end of the day"`
	Weight  float64   `json:"weight,omitempty" minimum:"0" maximum:"100" doc:"0: 1"`
	Ops     []BenchOp `json:"ops,omitempty" nullable:"false" maxItems:"60" gorm:"serializer:json" doc:"empty: made from the way"`
}

// BenchJob is one job of a bench day.
type BenchJob struct {
	Row
	BenchJobFacts
}

// Facts are what is replaced whole.
func (r *BenchJob) Facts() *BenchJobFacts { return &r.BenchJobFacts }

// TableName is what stands on a day.
func (BenchJob) TableName() string { return "day_jobs" }
