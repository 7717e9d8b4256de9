package store

// The Facts structs are what people enter; their tags give name, limits and meaning for the interface. Lengths are mm,
// masses g, times seconds; 0 means not recorded.

// Account is somebody who signs in.
type Account struct {
	Row
	Name         string
	Display      string
	Role         string
	PasswordHash string `json:"-"`
	Disabled     bool
	Apprentice   bool
}

// KeepOut is a stretch of rim in which a pick may go only so deep.
type KeepOut struct {
	Edge    string  `json:"edge" enum:"top,right,bottom,left"`
	FromMM  float64 `json:"from_mm" minimum:"0" maximum:"500"`
	ToMM    float64 `json:"to_mm" minimum:"0" maximum:"500"`
	DepthMM float64 `json:"depth_mm" minimum:"0" maximum:"50" doc:"how far a pick may go in"`
	Why     string  `json:"why,omitempty" maxLength:"120"`
}

// ModelFacts describe a model.
type ModelFacts struct {
	Maker       string    `json:"maker" minLength:"1" maxLength:"80"`
	Name        string    `json:"name" minLength:"1" maxLength:"80"`
	Aliases     []string  `json:"aliases,omitempty" nullable:"false" maxItems:"20" gorm:"serializer:json"`
	Variants    []string  `json:"variants,omitempty" nullable:"false" maxItems:"20" gorm:"serializer:json" doc:"region variants"`
	Predecessor string    `json:"predecessor,omitempty" maxLength:"80"`
	Entry       string    `json:"entry" enum:"front,back,dual" doc:"side from which it opens"`
	WidthMM     float64   `json:"width_mm,omitempty" minimum:"0" maximum:"400" gorm:"column:width_mm"`
	HeightMM    float64   `json:"height_mm,omitempty" minimum:"0" maximum:"400" gorm:"column:height_mm"`
	ThicknessMM float64   `json:"thickness_mm,omitempty" minimum:"0" maximum:"50" gorm:"column:thickness_mm"`
	MassG       float64   `json:"mass_g,omitempty" minimum:"0" maximum:"5000" gorm:"column:mass_g"`
	KeepOuts    []KeepOut `json:"keep_outs,omitempty" nullable:"false" maxItems:"40" gorm:"serializer:json" doc:"how deep a pick may go, per stretch of rim"`

	Family       string        `json:"family,omitempty" maxLength:"80" doc:"models of one build"`
	Polarity     string        `json:"polarity,omitempty" maxLength:"120" doc:"of the electric release: plus on which tab, minus on which"`
	Opening      Opening       `json:"opening,omitempty" gorm:"serializer:json"`
	VariantNotes []VariantNote `json:"variant_notes,omitempty" nullable:"false" maxItems:"20" gorm:"serializer:json"`
	CheckChanges []CheckChange `json:"check_changes,omitempty" nullable:"false" maxItems:"80" gorm:"serializer:json"`
}

// Model is a phone model.
type Model struct {
	Row
	ModelFacts
}

// PartFacts describe a part. The position is that of its upper left corner on its pane, seen with the phone's top away
// from you; W and H of 0 mean that it was not yet measured.
type PartFacts struct {
	Name          string   `json:"name" minLength:"1" maxLength:"80"`
	Aliases       []string `json:"aliases,omitempty" nullable:"false" maxItems:"20" gorm:"serializer:json"`
	Family        string   `json:"family" enum:"PW,OP,SC,SO,BD,RF,BT,FR,SE"`
	Kind          string   `json:"kind,omitempty" maxLength:"40" doc:"kind of the catalogue, confirmed; empty: guessed from the name"`
	Pane          string   `json:"pane,omitempty" enum:"body,lid" doc:"body, or the lid that opens first"`
	XMM           float64  `json:"x_mm,omitempty" minimum:"-50" maximum:"400" gorm:"column:x_mm"`
	YMM           float64  `json:"y_mm,omitempty" minimum:"-50" maximum:"400" gorm:"column:y_mm"`
	WMM           float64  `json:"w_mm,omitempty" minimum:"0" maximum:"400" gorm:"column:w_mm"`
	HMM           float64  `json:"h_mm,omitempty" minimum:"0" maximum:"400" gorm:"column:h_mm"`
	Layer         int      `json:"layer,omitempty" minimum:"0" maximum:"20" doc:"0 is deepest"`
	MassG         float64  `json:"mass_g,omitempty" minimum:"0" maximum:"5000" gorm:"column:mass_g"`
	CapacityMAh   float64  `json:"capacity_mah,omitempty" minimum:"0" maximum:"50000" gorm:"column:capacity_mah"`
	EnergyWh      float64  `json:"energy_wh,omitempty" minimum:"0" maximum:"500" gorm:"column:energy_wh"`
	Label         string   `json:"label,omitempty" maxLength:"200"`
	ChipMark      string   `json:"chip_mark,omitempty" maxLength:"200"`
	ConnectorCode string   `json:"connector_code,omitempty" maxLength:"200"`
	Mount         string   `json:"mount,omitempty" enum:"plugged,soldered,glued,screwed,riveted"`
	Mate          string   `json:"mate,omitempty" maxLength:"80" doc:"part that belongs to it by serial"`
	Slot          bool     `json:"slot,omitempty" doc:"takes part in swap tests"`
	Supply        string   `json:"supply,omitempty" enum:"in stock,to order,none" doc:"can it be had?"`

	ThicknessMM  float64    `json:"thickness_mm,omitempty" minimum:"0" maximum:"50" gorm:"column:thickness_mm"`
	ResolutionMP float64    `json:"resolution_mp,omitempty" minimum:"0" maximum:"1000" gorm:"column:resolution_mp"`
	Cells        int        `json:"cells,omitempty" minimum:"0" maximum:"8" doc:"cells in series"`
	RidesOn      string     `json:"rides_on,omitempty" maxLength:"80" doc:"part whose cable it shares"`
	Inside       string     `json:"inside,omitempty" maxLength:"80" doc:"part that holds it: a lens in a camera block"`
	CoveredBy    string     `json:"covered_by,omitempty" maxLength:"160"`
	Shape        string     `json:"condition,omitempty" maxLength:"200" gorm:"column:shape" doc:"condition in words"`
	Source       string     `json:"source,omitempty" enum:"measured,observed once,inferred by look,rumour,third party,interested party"`
	WorthMinor   int        `json:"worth_minor,omitempty" minimum:"0" maximum:"100000000" doc:"what a donor's piece is worth, minor units"`
	Currency     string     `json:"currency,omitempty" pattern:"^([A-Z]{3})?$" doc:"ISO 4217"`
	Measures     []Measured `json:"measures,omitempty" nullable:"false" maxItems:"40" gorm:"serializer:json"`
}

// Part is one part of a model.
type Part struct {
	Row
	ModelID string `json:"model_id"`
	PartFacts
	Guess string `json:"kind_guess,omitempty" gorm:"-" doc:"kind that the names suggest, while none is confirmed"`
}

// StepFacts describe one action of a model's plan. After holds alternatives: all steps of one of them come first. Frees
// and the keys of Risk are ids of parts.
type StepFacts struct {
	Verb        string             `json:"verb" enum:"unfasten,bracket,disconnect,peel,cut,heat,solvent,slide,pry,lift,release"`
	What        string             `json:"what" minLength:"1" maxLength:"160" doc:"what is acted on"`
	PartID      string             `json:"part,omitempty" maxLength:"36" doc:"id of the part that it is about"`
	Tool        string             `json:"tool,omitempty" maxLength:"80" doc:"empty: by hand"`
	Side        string             `json:"side" enum:"front,back,any"`
	Joint       string             `json:"joint,omitempty" enum:"screw,post,adhesive,pull tab,connector,coax,latch,clip,bracket,tape,solder"`
	Drive       string             `json:"drive,omitempty" enum:"five-lobe,tri-wing,cross,hexalobular,slot,post"`
	DriveSize   string             `json:"drive_size,omitempty" maxLength:"20" doc:"of the driver, as printed"`
	Count       int                `json:"count,omitempty" minimum:"0" maximum:"200"`
	DiameterMM  float64            `json:"diameter_mm,omitempty" minimum:"0" maximum:"20" gorm:"column:diameter_mm"`
	LengthMM    float64            `json:"length_mm,omitempty" minimum:"0" maximum:"50" gorm:"column:length_mm"`
	Seconds     float64            `json:"seconds,omitempty" minimum:"0" maximum:"86400" doc:"planned attended seconds; 0: predicted from the table"`
	WaitSeconds float64            `json:"wait_seconds,omitempty" minimum:"0" maximum:"86400"`
	After       [][]string         `json:"after,omitempty" nullable:"false" maxItems:"8" gorm:"column:after_steps;serializer:json"`
	Frees       []string           `json:"frees,omitempty" nullable:"false" maxItems:"20" gorm:"serializer:json"`
	Risk        map[string]float64 `json:"risk,omitempty" gorm:"serializer:json"`
	Method      string             `json:"method,omitempty" maxLength:"40" doc:"solvent, plate, air, press …: odds are never pooled across methods"`
	Consumable  string             `json:"consumable,omitempty" maxLength:"80" doc:"what closing needs anew"`
	Fastener    Fastener           `json:"fastener,omitempty" gorm:"serializer:json"`
}

// PlanStep is one step of a model's plan; Mark is its short name within the model (s1, s2 …).
type PlanStep struct {
	Row
	ModelID string `json:"model_id"`
	Mark    string `json:"mark"`
	StepFacts
}

// StudyFacts describe a study.
type StudyFacts struct {
	Title       string `json:"title" minLength:"1" maxLength:"160"`
	Variant     string `json:"variant,omitempty" maxLength:"80"`
	Orientation string `json:"orientation,omitempty" maxLength:"160" doc:"which face is up, which edge is away from you"`
	Note        string `json:"note,omitempty" maxLength:"4000" lines:"yes"`

	Missing    Missing      `json:"missing,omitempty" gorm:"serializer:json"`
	Interests  Interests    `json:"interests,omitempty" gorm:"serializer:json"`
	Hypotheses []Hypothesis `json:"hypotheses,omitempty" nullable:"false" maxItems:"60" gorm:"serializer:json"`
	Pairs      [][]string   `json:"pairs,omitempty" nullable:"false" maxItems:"20" gorm:"serializer:json" doc:"two slots each that are also tried as only together"`
}

// Study is one teardown of a model.
type Study struct {
	Row
	ModelID string `json:"model_id"`
	StudyFacts
}

// UnitFacts describe one phone of a study and its sticker.
type UnitFacts struct {
	Name      string `json:"name" minLength:"1" maxLength:"20" doc:"name on the sticker"`
	Colour    string `json:"colour" enum:"green,amber,blue,red,violet,grey"`
	Shape     string `json:"shape" enum:"circle,square,triangle,diamond"`
	Build     string `json:"build,omitempty" maxLength:"40" doc:"software build"`
	StorageGB int    `json:"storage_gb,omitempty" minimum:"0" maximum:"65536" gorm:"column:storage_gb"`
	State     string `json:"state,omitempty" maxLength:"200" doc:"condition in words"`

	Role    string   `json:"role,omitempty" enum:"specimen,donor,control"`
	Aliases []string `json:"aliases,omitempty" nullable:"false" maxItems:"10" gorm:"serializer:json"`
	Box     []string `json:"box,omitempty" nullable:"false" maxItems:"30" gorm:"serializer:json" doc:"what was in the box"`
	MassG   float64  `json:"mass_g,omitempty" minimum:"0" maximum:"5000" gorm:"column:mass_g"`
	Gate    Gate     `json:"gate,omitempty" gorm:"serializer:json"`
	Entry   Entry    `json:"entry,omitempty" gorm:"column:entry_facts;serializer:json"`
}

// Unit is one phone of a study.
type Unit struct {
	Row
	StudyID string `json:"study_id"`
	UnitFacts
}

// Check is one function check of the catalogue; Seconds is what it takes to run.
type Check struct {
	Row
	Mark     string  `json:"mark"`
	Name     string  `json:"name"`
	Family   string  `json:"family"`
	Seconds  float64 `json:"seconds"`
	Position int     `json:"position"`
	Group    string  `json:"group" gorm:"column:group_name"`
	Depth    string  `json:"depth" doc:"how deep it looks: preview, photo, saved video …"`
}

// Baseline is a unit's result for a check before it was opened. Assumed ("rest as expected") never counts as a pass.
type Baseline struct {
	Row
	UnitID    string `json:"unit_id"`
	CheckMark string `json:"check"`
	Result    string `json:"result" enum:"pass,weak,lost,skipped,dark"`
	Assumed   bool   `json:"assumed"`
}

// LogEntry is one act on a unit: a step of the plan carried out, or put back. NewStep says that the plan learned the
// step from this entry.
type LogEntry struct {
	Row
	StudyID string  `json:"study_id"`
	UnitID  string  `json:"unit_id"`
	StepID  string  `json:"step_id"`
	Seq     int     `json:"seq"`
	Back    bool    `json:"back"`
	NewStep bool    `json:"new_step"`
	Seconds float64 `json:"seconds"`
	Note    string  `json:"note" lines:"yes"`
	LogHead
}

// OutcomeFacts say how a job went.
type OutcomeFacts struct {
	Minutes float64 `json:"minutes" minimum:"0.5" maximum:"1440" doc:"from closed to closed and tested"`
	Went    string  `json:"went" enum:"fine,tab broke,incident,gave up"`
	Note    string  `json:"note,omitempty" maxLength:"1000" lines:"yes"`

	Steps     []string `json:"steps,omitempty" nullable:"false" maxItems:"300" gorm:"column:steps_walked;serializer:json" doc:"ids of the steps walked"`
	HurtPart  string   `json:"hurt_part,omitempty" maxLength:"36" doc:"id of the part that was hurt"`
	HurtStep  string   `json:"hurt_step,omitempty" maxLength:"36" doc:"id of the step at which"`
	Whole     int      `json:"whole,omitempty" minimum:"0" maximum:"50" doc:"tabs that came out whole"`
	Of        int      `json:"of,omitempty" minimum:"0" maximum:"50" gorm:"column:of_tabs"`
	Sure      bool     `json:"sure,omitempty" gorm:"-" doc:"the minutes were asked about, and are right"`
	Predicted float64  `json:"predicted,omitempty" minimum:"0" maximum:"1440" doc:"minutes that the way promised"`
}

// Outcome is how one job on a part went.
type Outcome struct {
	Row
	ModelID   string `json:"model_id"`
	PartID    string `json:"part_id"`
	AccountID string `json:"account_id"`
	OutcomeFacts
	Doubt bool `json:"doubt,omitempty" doc:"its minutes are hardly those of a repair: it teaches nothing until confirmed"`
}

// ProposalFacts are what somebody saw of a model who may not write it: a measure of a part, a screw that hides, a step at
// which a part gets damaged.
type ProposalFacts struct {
	Kind    string    `json:"kind" enum:"measure,hidden screw,hazard"`
	PartID  string    `json:"part_id,omitempty" maxLength:"36" doc:"of a measure, or the part that gets damaged"`
	StepID  string    `json:"step_id,omitempty" maxLength:"36" doc:"of a hidden screw or a hazard"`
	VisitID string    `json:"visit_id,omitempty" maxLength:"36" doc:"where it was seen"`
	Measure *Measured `json:"measure,omitempty" gorm:"serializer:json"`
	Words   string    `json:"words,omitempty" maxLength:"120" doc:"of a hidden screw: under what; else a remark"`
}

// Proposal waits for an analyst.
type Proposal struct {
	Row
	ModelID string `json:"model_id"`
	ProposalFacts
	State     string `json:"state" enum:"open,accepted,declined"`
	AccountID string `json:"account_id"`
}
