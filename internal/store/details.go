package store

import "time"

// VariantNote says what a region variant lacks or adds.
type VariantNote struct {
	Variant string   `json:"variant" minLength:"1" maxLength:"80"`
	Lacks   []string `json:"lacks,omitempty" nullable:"false" maxItems:"20"`
	Adds    []string `json:"adds,omitempty" nullable:"false" maxItems:"20"`
}

// Opening is what is known about a model's seam. The edges are those of the face that opens; 0 means not known.
type Opening struct {
	HingeEdge string  `json:"hinge_edge,omitempty" enum:"top,right,bottom,left" doc:"hooks: push toward the opposite edge"`
	CableEdge string  `json:"cable_edge,omitempty" enum:"top,right,bottom,left" doc:"open like a book toward this side"`
	MaxAngle  float64 `json:"max_angle,omitempty" minimum:"0" maximum:"180" doc:"degrees before a cable tears"`
}

// CheckChange edits the catalogue for one model: a check left out, or one of the model's own.
type CheckChange struct {
	Mark    string  `json:"mark" minLength:"1" maxLength:"60" pattern:"^[a-z0-9][a-z0-9._-]*$"`
	Off     bool    `json:"off,omitempty" doc:"this model has no such function"`
	Name    string  `json:"name,omitempty" maxLength:"80" doc:"empty: as in the catalogue"`
	Group   string  `json:"group,omitempty" maxLength:"40"`
	Depth   string  `json:"depth,omitempty" maxLength:"40"`
	Family  string  `json:"family,omitempty" enum:"PW,OP,SC,SO,BD,RF,BT,FR,SE"`
	Seconds float64 `json:"seconds,omitempty" minimum:"0" maximum:"3600"`
}

// Measured is one measured figure of a part. Readings are in Unit, Resolution is the instrument's last digit there.
type Measured struct {
	Kind       string    `json:"kind" minLength:"1" maxLength:"40" doc:"thickness, mass, connector width …"`
	Unit       string    `json:"unit" enum:"mm,g,mAh,Wh,V,MP,C,%,pins,lx,A"`
	Readings   []float64 `json:"readings" nullable:"false" minItems:"1" maxItems:"30"`
	Resolution float64   `json:"resolution" exclusiveMinimum:"0" maximum:"1000"`
	Instrument string    `json:"instrument,omitempty" maxLength:"80"`
}

// Fastener is what more is known of the joints that a step opens. SafeMM is the depth until something soft lies
// beneath, GripMM what the head holds down; 0 means not measured.
type Fastener struct {
	Head        string  `json:"head,omitempty" maxLength:"40"`
	Magnetic    string  `json:"magnetic,omitempty" enum:"yes,no"`
	Captive     bool    `json:"captive,omitempty"`
	HiddenUnder string  `json:"hidden_under,omitempty" maxLength:"80"`
	SharedBy    string  `json:"shared_by,omitempty" maxLength:"160" doc:"parts that share it"`
	Carries     string  `json:"carries,omitempty" maxLength:"80" doc:"screw that sits on this post"`
	SafeMM      float64 `json:"safe_mm,omitempty" minimum:"0" maximum:"50"`
	GripMM      float64 `json:"grip_mm,omitempty" minimum:"0" maximum:"50"`
	Beneath     string  `json:"beneath,omitempty" maxLength:"80"`
	At          []Point `json:"at,omitempty" nullable:"false" maxItems:"60" doc:"places on the plan"`
}

// Point is a place on the plan, mm.
type Point struct {
	X float64 `json:"x" minimum:"-50" maximum:"400"`
	Y float64 `json:"y" minimum:"-50" maximum:"400"`
}

// Hypothesis is a statement that a study is to settle.
type Hypothesis struct {
	Text     string `json:"text" minLength:"1" maxLength:"300"`
	Source   string `json:"source" enum:"measured,observed once,inferred by look,rumour,third party,interested party"`
	State    string `json:"state" enum:"open,confirmed,refuted"`
	Evidence string `json:"evidence,omitempty" maxLength:"300"`
	PartID   string `json:"part_id,omitempty" maxLength:"36" doc:"part whose verdicts settle it"`
	Check    string `json:"check,omitempty" maxLength:"60" doc:"mark of the check that it is about"`
	Claim    string `json:"claim,omitempty" enum:"loses,works" doc:"what it says that a stranger does"`
}

// Interests are what a reader should know of those who made a study.
type Interests struct {
	SellsParts string `json:"sells_parts,omitempty" enum:"yes,no" doc:"does who made it sell parts or repairs?"`
	GivenPhone string `json:"given_phone,omitempty" enum:"yes,no" doc:"was the phone given or lent by somebody who sells it?"`
	Note       string `json:"note,omitempty" maxLength:"300"`
}

// Missing is what a study has to do without.
type Missing struct {
	Guide    bool   `json:"guide,omitempty"`
	Chart    bool   `json:"chart,omitempty" doc:"screw chart"`
	Adhesive bool   `json:"adhesive,omitempty"`
	Spares   bool   `json:"spares,omitempty" doc:"the common spares"`
	Other    string `json:"other,omitempty" maxLength:"200"`
}

// Gate is what is ticked before a phone is opened. Charge is in percent.
type Gate struct {
	Off        bool     `json:"off,omitempty" doc:"switched off"`
	Tray       bool     `json:"tray,omitempty" doc:"card tray out"`
	Charge     *float64 `json:"charge,omitempty" minimum:"0" maximum:"100"`
	Swelling   string   `json:"swelling,omitempty" enum:"flat,swollen"`
	Liquid     string   `json:"liquid,omitempty" enum:"white,red,not found" doc:"the liquid mark"`
	Data       string   `json:"data,omitempty" enum:"backed up,erased,nothing on it"`
	Lock       string   `json:"lock,omitempty" enum:"no lock,owner's lock,unknown"`
	Protection bool     `json:"protection,omitempty" doc:"eyes, and a fire-safe box in reach"`
	Guide      bool     `json:"guide,omitempty" doc:"in reach, or known to be missing"`
}

// Entry is what was seen at the rim of one phone.
type Entry struct {
	GapMM        float64 `json:"gap_mm,omitempty" minimum:"0" maximum:"50"`
	SuctionLifts bool    `json:"suction_lifts,omitempty" doc:"suction alone lifts"`
	FreedPercent float64 `json:"freed_percent,omitempty" minimum:"0" maximum:"100"`
}

// HeatRound is one round of heat; Seconds under heat, temperatures °C.
type HeatRound struct {
	Source    string  `json:"source,omitempty" maxLength:"40"`
	Face      string  `json:"face,omitempty" enum:"front,back"`
	SetC      float64 `json:"set_c,omitempty" minimum:"0" maximum:"500"`
	MeasuredC float64 `json:"measured_c,omitempty" minimum:"0" maximum:"500"`
	Seconds   float64 `json:"seconds,omitempty" minimum:"0" maximum:"86400"`
	Result    string  `json:"result,omitempty" enum:"no gap,gap,mark"`
	Mark      string  `json:"mark,omitempty" maxLength:"40" doc:"kind of mark: ripple, blotch …"`
}

// StopAnswer is how an interlock was answered: "not yet", "already done", or a reason.
type StopAnswer struct {
	Rule   string `json:"rule" maxLength:"40"`
	Answer string `json:"answer" minLength:"1" maxLength:"120"`
}

// Incident is what went wrong: its kind, the likely cause, and what speaks for it.
type Incident struct {
	Kind     string `json:"kind" minLength:"1" maxLength:"40"`
	Cause    string `json:"cause,omitempty" maxLength:"200"`
	Evidence string `json:"evidence,omitempty" maxLength:"200"`
}

// LogDetail is what an entry says beyond its step. Wait is a dwell, release or cure in seconds.
type LogDetail struct {
	Heat     *HeatRound   `json:"heat,omitempty"`
	Wait     float64      `json:"wait,omitempty" minimum:"0" maximum:"86400"`
	Method   string       `json:"method,omitempty" maxLength:"40"`
	Stops    []StopAnswer `json:"stops,omitempty" nullable:"false" maxItems:"8"`
	Incident *Incident    `json:"incident,omitempty"`
	Count    int          `json:"count,omitempty" minimum:"0" maximum:"200"`
	Diameter float64      `json:"diameter_mm,omitempty" minimum:"0" maximum:"20"`
	Length   float64      `json:"length_mm,omitempty" minimum:"0" maximum:"50"`
	Whole    int          `json:"whole,omitempty" minimum:"0" maximum:"200"`
	Of       int          `json:"of,omitempty" minimum:"0" maximum:"200"`
	Tool     string       `json:"tool,omitempty" maxLength:"120" doc:"tool, tray, cycles, error code"`
	Polarity string       `json:"polarity,omitempty" maxLength:"120"`
	Leaves   string       `json:"leaves,omitempty" enum:"off,loose" doc:"whether what was pried, cut, peeled or slid left the phone"`
	Freed    bool         `json:"freed,omitempty" doc:"the plan learned from this entry that its step takes the part out"`
	Lead     string       `json:"lead,omitempty" enum:"off on purpose,loose,seated" doc:"what was seen of the lead"`
	Surplus  *Surplus     `json:"surplus,omitempty" doc:"a bit on the bench that no step accounts for"`
	Detour   bool         `json:"detour,omitempty" doc:"done for nothing"`
	Check    *CheckSeen   `json:"check,omitempty" doc:"a check that was read at the bench"`
	Said     *Said        `json:"said,omitempty" doc:"accepted from a recording"`
	LineID   string       `json:"line_id,omitempty" maxLength:"36" doc:"the first entry of the line that logged several"`
	Corrects string       `json:"corrects,omitempty" maxLength:"36" doc:"the entry that this one mends"`
	Lesson   string       `json:"lesson,omitempty" maxLength:"300" doc:"what this entry taught the plan"`
	Before   [][]string   `json:"before,omitempty" maxItems:"8" doc:"the prerequisites before that"`

	Heirs map[string][][]string `json:"heirs,omitempty" doc:"those of the steps after it that the lesson changed too"`
}

// Said is where in a recording an entry was said.
type Said struct {
	Recording string  `json:"recording" maxLength:"36"`
	Second    float64 `json:"second" minimum:"0" maximum:"86400"`
	Words     string  `json:"words,omitempty" maxLength:"400" lines:"yes"`
	Trial     string  `json:"trial,omitempty" maxLength:"36" doc:"swap test that it told"`
	Part      string  `json:"part,omitempty" maxLength:"36" doc:"part that it brought on record"`
}

// CheckSeen is how a check was, read while working.
type CheckSeen struct {
	Mark   string `json:"mark" maxLength:"40"`
	Result string `json:"result" enum:"pass,weak,lost"`
}

// Surplus is a bit on the bench that no step accounts for.
type Surplus struct {
	What   string `json:"what" maxLength:"120"`
	Count  int    `json:"count" minimum:"1" maximum:"200"`
	Origin string `json:"origin" enum:"unknown,this phone,another phone"`
}

// PhotoPin marks a place on a picture, in shares of its width and height.
type PhotoPin struct {
	X    float64 `json:"x" minimum:"0" maximum:"1"`
	Y    float64 `json:"y" minimum:"0" maximum:"1"`
	Text string  `json:"text" minLength:"1" maxLength:"120"`
}

// PhotoFacts are what may be changed of a picture.
type PhotoFacts struct {
	Caption string     `json:"caption,omitempty" maxLength:"200"`
	PartID  string     `json:"part_id,omitempty" maxLength:"36"`
	EntryID string     `json:"entry_id,omitempty" maxLength:"36"`
	Pins    []PhotoPin `json:"pins,omitempty" nullable:"false" maxItems:"40" gorm:"serializer:json"`
}

// Photo is a picture of a study, stored anew as JPEG so that nothing of its file but the picture stays.
type Photo struct {
	Row
	StudyID string `json:"study_id"`
	UnitID  string `json:"unit_id"`

	DeliveryID string `json:"delivery_id,omitempty" doc:"of a lot that came in, where it is none of a study"`
	PhotoFacts
	Width  int    `json:"width"`
	Height int    `json:"height"`
	Bytes  int    `json:"bytes"`
	Image  []byte `json:"-"`
	Thumb  []byte `json:"-"`
}

// Declared is what became of an item that does not go back: lost, replaced or left off, by count.
type Declared struct {
	Lost     int    `json:"lost,omitempty" minimum:"0" maximum:"200"`
	Replaced int    `json:"replaced,omitempty" minimum:"0" maximum:"200"`
	LeftOff  int    `json:"left_off,omitempty" minimum:"0" maximum:"200"`
	Why      string `json:"why,omitempty" maxLength:"200"`
}

// ClosingFacts are the state of a phone's closing: gates ticked, items put back by count, what was declared, checks
// run.
type ClosingFacts struct {
	Ticks    []string            `json:"ticks,omitempty" nullable:"false" maxItems:"400" gorm:"serializer:json"`
	Back     map[string]int      `json:"back,omitempty" gorm:"column:back_items;serializer:json"`
	Declared map[string]Declared `json:"declared,omitempty" gorm:"serializer:json"`
	Results  map[string]string   `json:"results,omitempty" gorm:"serializer:json"`
	Seal     string              `json:"seal,omitempty" enum:"new adhesive,glue over old,reused,none"`
	EndState string              `json:"end_state,omitempty" maxLength:"300" doc:"the phone's state at the end"`
	Closed   bool                `json:"closed,omitempty"`
}

// Closing is the closing of one unit.
type Closing struct {
	Row
	UnitID string `json:"unit_id"`
	ClosingFacts
}

// LogHead are the fields of an entry that came with the bench line.
type LogHead struct {
	Kind       string    `json:"kind" enum:"step,note,incident,measure,tool,stop,check"`
	Outcome    string    `json:"outcome,omitempty" enum:"done,gave up,destroyed,not tried"`
	Reason     string    `json:"reason,omitempty" maxLength:"300"`
	PartID     string    `json:"part_id,omitempty"`
	Line       string    `json:"line,omitempty"`
	HappenedAt time.Time `json:"happened_at"`
	Detail     LogDetail `json:"detail" gorm:"serializer:json"`
}
