package store

import "time"

// PartPairFacts say that a part of one model is, or is not, a part of another.
type PartPairFacts struct {
	PartID      string `json:"part_id" format:"uuid"`
	OtherPartID string `json:"other_part_id" format:"uuid"`
	Verdict     string `json:"verdict" enum:"confirmed,refused"`
}

// PartPair is what a person said about a pair of parts of two models.
type PartPair struct {
	Row
	ModelID      string `json:"model_id"`
	OtherModelID string `json:"other_model_id"`
	PartPairFacts
}

// LotFacts describe a lot of copies: pieces of one kind that another maker built for a model.
type LotFacts struct {
	Kind       string     `json:"kind" minLength:"1" maxLength:"40" doc:"kind of the catalogue"`
	Name       string     `json:"name" minLength:"1" maxLength:"40" pattern:"^[A-Za-z0-9 ._#-]*$" doc:"as on the delivery: acme-7"`
	PriceMinor int        `json:"price_minor,omitempty" minimum:"0" maximum:"100000000" doc:"of one piece, minor units; 0: not known"`
	Currency   string     `json:"currency,omitempty" pattern:"^([A-Z]{3})?$" doc:"ISO 4217"`
	Measures   []Measured `json:"measures,omitempty" nullable:"false" maxItems:"40" gorm:"serializer:json"`
}

// Lot is a lot of copies for a model.
type Lot struct {
	Row
	ModelID string `json:"model_id"`
	LotFacts
}

// Width is a connector measured on both sides before anything was mated, mm.
type Width struct {
	PieceMM float64 `json:"piece_mm,omitempty" minimum:"0" maximum:"100"`
	HostMM  float64 `json:"host_mm,omitempty" minimum:"0" maximum:"100"`
	UMM     float64 `json:"u_mm,omitempty" minimum:"0" maximum:"5" doc:"standard uncertainty of one of them"`
}

// FitTestFacts describe a piece of another model, or of a lot, fitted in a phone. Outcome is how far it got.
type FitTestFacts struct {
	Kind       string     `json:"kind" minLength:"1" maxLength:"40" doc:"kind of the catalogue"`
	DonorModel string     `json:"donor_model_id,omitempty" maxLength:"36" gorm:"column:donor_model_id" doc:"model that the piece was built for; empty for a copy"`
	LotID      string     `json:"lot_id,omitempty" maxLength:"36" doc:"lot of a copy"`
	Piece      string     `json:"piece,omitempty" maxLength:"60" doc:"mark on the piece: it is known by it in every study"`
	HostUnit   string     `json:"host_unit_id,omitempty" maxLength:"36" gorm:"column:host_unit_id" doc:"phone that it was fitted in"`
	Outcome    string     `json:"outcome" enum:"no-seat,no-mate,dark,lost,notice,calibrated,looks-wrong,full"`
	Build      string     `json:"build,omitempty" maxLength:"40"`
	Conditions []string   `json:"conditions,omitempty" nullable:"false" maxItems:"6" enum:"charger,waited,reseated,known-good,home,deep" gorm:"serializer:json"`
	Fittings   int        `json:"fittings,omitempty" minimum:"0" maximum:"20" doc:"fittings of this piece with this outcome; 0 is one"`
	Lost       []string   `json:"lost,omitempty" nullable:"false" maxItems:"60" gorm:"column:lost_checks;serializer:json" doc:"marks of the checks that were lost"`
	Damaged    bool       `json:"damaged,omitempty" doc:"the piece is damaged: no evidence of fit"`
	Width      Width      `json:"width,omitempty" gorm:"serializer:json"`
	Reason     string     `json:"reason,omitempty" maxLength:"300" doc:"why it was mated although the connectors differ"`
	Minutes    float64    `json:"minutes,omitempty" minimum:"0" maximum:"1440"`
	Note       string     `json:"note,omitempty" maxLength:"1000" lines:"yes"`
	DoneAt     *time.Time `json:"done_at,omitempty"`
}

// FitTest is one such test; ModelID is the host's.
type FitTest struct {
	Row
	ModelID string `json:"model_id"`
	FitTestFacts
}
