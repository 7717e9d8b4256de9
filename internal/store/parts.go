package store

import "time"

// Money is kept in whole minor units of its currency throughout the parts desk.

// WorkshopFacts are what the office sets once and everybody uses.
type WorkshopFacts struct {
	Currency        string     `json:"currency" pattern:"^[A-Z]{3}$" doc:"ISO 4217"`
	TaxShown        bool       `json:"tax_shown,omitempty" doc:"prices are with tax"`
	LabourMinor     int        `json:"labour_minor" minimum:"0" maximum:"100000000" doc:"an hour at the bench"`
	ChargeLimit     float64    `json:"charge_limit" minimum:"1" maximum:"100" doc:"percent before a phone is opened"`
	OpeningHours    string     `json:"opening_hours,omitempty" maxLength:"120" doc:"Mo-Fr 08:00-17:00"`
	Locale          string     `json:"locale,omitempty" maxLength:"20" pattern:"^([a-z]{2}(-[A-Z]{2})?)?$" doc:"of numbers and dates: en, de-AT; empty: the reader's own"`
	MinMarginMinor  int        `json:"min_margin_minor,omitempty" minimum:"0" maximum:"100000000" doc:"least that a job must leave"`
	MaxDays         int        `json:"max_days,omitempty" minimum:"0" maximum:"365" doc:"longest wait that is promised; 0: 21"`
	FillGoal        float64    `json:"fill_goal,omitempty" minimum:"0" maximum:"0.999" doc:"share of jobs served from the shelf; 0: 0.95"`
	NextBench       *time.Time `json:"next_bench,omitempty" ahead:"yes" doc:"day of the next free bench"`
	DonorMargin     float64    `json:"donor_margin,omitempty" minimum:"0" maximum:"0.9" doc:"share of a donor's worth that is kept back; 0: 0.2"`
	DonorFixedMinor int        `json:"donor_fixed_minor,omitempty" minimum:"0" maximum:"100000000" doc:"postage, disposal, testing"`

	Address string `json:"address,omitempty" maxLength:"300" lines:"yes" doc:"that stands on an order"`

	FunctionValues []FunctionValue `json:"function_values,omitempty" nullable:"false" maxItems:"60" gorm:"serializer:json"`

	People    []BenchPerson  `json:"people,omitempty" nullable:"false" maxItems:"6" gorm:"serializer:json"`
	Machines  []BenchMachine `json:"machines,omitempty" nullable:"false" maxItems:"20" gorm:"serializer:json"`
	VisitDays int            `json:"visit_days,omitempty" minimum:"0" maximum:"3650" doc:"days after hand-back until ticket, words and pictures of a visit are deleted; 0: 90"`
	SignOff   []string       `json:"sign_off,omitempty" nullable:"false" maxItems:"8" gorm:"serializer:json" doc:"gates of the way back at which another person looks at an apprentice's work"`

	Benches int `json:"benches,omitempty" minimum:"0" maximum:"60" doc:"phones that may lie open at a time; 0: any number"`
}

// FunctionValue is what a function is worth to the workshop, minor units: what a piece that loses it is dearer by.
type FunctionValue struct {
	Function string `json:"function" minLength:"1" maxLength:"80"`
	Worth    int64  `json:"worth_minor" minimum:"0" maximum:"100000000"`
}

// Workshop is the one row of settings.
type Workshop struct {
	Row
	WorkshopFacts
}

// TableName: there is one workshop.
func (Workshop) TableName() string { return "workshop" }

// Coupon takes a share or a sum off an invoice.
type Coupon struct {
	Percent float64 `json:"percent,omitempty" minimum:"0" maximum:"50"`
	Fixed   int64   `json:"fixed_minor,omitempty" minimum:"0" maximum:"100000000"`
	Above   int64   `json:"above_minor,omitempty" minimum:"0" maximum:"100000000"`
}

// SellerFacts are how a seller sells.
type SellerFacts struct {
	Name       string   `json:"name" minLength:"1" maxLength:"80"`
	Currency   string   `json:"currency" pattern:"^[A-Z]{3}$"`
	Shipping   int64    `json:"shipping_minor" minimum:"0" maximum:"100000000" gorm:"column:shipping_minor"`
	FreeAbove  int64    `json:"free_above_minor,omitempty" minimum:"0" maximum:"100000000" gorm:"column:free_above_minor" doc:"0: never"`
	Coupons    []Coupon `json:"coupons,omitempty" nullable:"false" maxItems:"3" gorm:"serializer:json"`
	Refund     float64  `json:"refund,omitempty" minimum:"0" maximum:"1" doc:"share of the price that comes back for a bad piece"`
	ReturnCost int64    `json:"return_cost_minor,omitempty" minimum:"0" maximum:"100000000" gorm:"column:return_cost_minor"`
	LeadP50    float64  `json:"lead_p50,omitempty" minimum:"0" maximum:"365" gorm:"column:lead_p50" doc:"days"`
	LeadP90    float64  `json:"lead_p90,omitempty" minimum:"0" maximum:"365" gorm:"column:lead_p90" doc:"days, nine of ten are there"`
	Note       string   `json:"note,omitempty" maxLength:"400" lines:"yes"`
	ClaimDays  int      `json:"claim_days,omitempty" minimum:"0" maximum:"365" doc:"in which a bad piece is told; 0: 14"`
	Greeting   string   `json:"greeting,omitempty" maxLength:"80" doc:"begins a mail to them; empty: Good day"`
}

// Seller is one seller.
type Seller struct {
	Row
	SellerFacts
}

// OfferFacts are a pack that can be bought: what it covers, its price on a day.
type OfferFacts struct {
	SellerID string         `json:"seller_id" format:"uuid"`
	ModelID  string         `json:"for_model_id" format:"uuid" gorm:"column:for_model_id"`
	Title    string         `json:"title" minLength:"1" maxLength:"120"`
	Covers   map[string]int `json:"covers" gorm:"serializer:json" doc:"slot (a kind of part, a consumable, screws): how many"`
	Grade    string         `json:"grade" enum:"original,used,copy"`
	Lot      string         `json:"lot,omitempty" maxLength:"40"`
	Price    int64          `json:"price_minor" minimum:"0" maximum:"100000000" gorm:"column:price_minor"`
	Currency string         `json:"currency" pattern:"^[A-Z]{3}$"`
	PricedOn time.Time      `json:"priced_on" doc:"day of the price"`
	Stock    int            `json:"stock" minimum:"0" maximum:"100000"`
	LeadDays float64        `json:"lead_days,omitempty" minimum:"0" maximum:"365" doc:"0: the seller's"`
	Code     string         `json:"code,omitempty" maxLength:"60" doc:"the seller's own"`
}

// Offer is one offer.
type Offer struct {
	Row
	OfferFacts
}

// ExchangeFacts are what one unit of a currency was worth on a day.
type ExchangeFacts struct {
	From    string    `json:"from" pattern:"^[A-Z]{3}$" gorm:"column:from_currency"`
	To      string    `json:"to" pattern:"^[A-Z]{3}$" gorm:"column:to_currency"`
	Rate    float64   `json:"rate" exclusiveMinimum:"0" maximum:"1000000"`
	RatedOn time.Time `json:"rated_on"`
}

// Exchange is one rate of exchange.
type Exchange struct {
	Row
	ExchangeFacts
}

// PriceFacts are what a job brings, or what a refurbished phone costs.
type PriceFacts struct {
	What     string    `json:"what" enum:"refurbished,salvage,battery,screen,back-glass,port,camera"`
	ModelID  string    `json:"for_model_id" format:"uuid" gorm:"column:for_model_id"`
	Price    int64     `json:"price_minor" minimum:"0" maximum:"100000000" gorm:"column:price_minor"`
	Currency string    `json:"currency" pattern:"^[A-Z]{3}$"`
	PricedOn time.Time `json:"priced_on"`
}

// Price is one such price.
type Price struct {
	Row
	PriceFacts
}

// DeliveryFacts are a lot that came in, and what its inspection found.
type DeliveryFacts struct {
	SellerID   string     `json:"seller_id" format:"uuid"`
	ModelID    string     `json:"for_model_id" format:"uuid" gorm:"column:for_model_id"`
	Item       string     `json:"item" minLength:"1" maxLength:"60" doc:"slot that its pieces fill"`
	Grade      string     `json:"grade" enum:"original,used,copy"`
	Lot        string     `json:"lot" minLength:"1" maxLength:"40" doc:"as on the delivery"`
	Size       int        `json:"size" minimum:"1" maximum:"100000"`
	Price      int64      `json:"price_minor,omitempty" minimum:"0" maximum:"100000000" gorm:"column:price_minor" doc:"of one piece"`
	Currency   string     `json:"currency,omitempty" pattern:"^([A-Z]{3})?$"`
	ReceivedOn time.Time  `json:"received_on"`
	Inspected  int        `json:"inspected,omitempty" minimum:"0" maximum:"100000"`
	Bad        int        `json:"bad,omitempty" minimum:"0" maximum:"100000"`
	Reasons    []string   `json:"reasons,omitempty" nullable:"false" maxItems:"60" gorm:"serializer:json" doc:"why each bad one went back"`
	Measures   []Measured `json:"measures,omitempty" nullable:"false" maxItems:"20" gorm:"serializer:json" doc:"of its pieces, against an original's figures"`
}

// Delivery is one lot received: by itself, or as a line of an order. Stocked are its pieces that were put on a shelf.
type Delivery struct {
	Row
	DeliveryFacts
	OrderID   string `json:"order_id,omitempty"`
	OrderLine int    `json:"order_line,omitempty"`
	Stocked   int    `json:"stocked,omitempty"`
}

// ShelfFacts are pieces in stock, at one place, of one origin.
type ShelfFacts struct {
	ModelID    string     `json:"for_model_id" format:"uuid" gorm:"column:for_model_id"`
	Item       string     `json:"item" minLength:"1" maxLength:"60"`
	Grade      string     `json:"grade" enum:"original,used,copy"`
	Quantity   int        `json:"quantity" minimum:"0" maximum:"100000"`
	Reserved   int        `json:"reserved,omitempty" minimum:"0" maximum:"100000" doc:"for jobs that were taken"`
	Place      string     `json:"place" minLength:"1" maxLength:"60"`
	Quarantine string     `json:"quarantine,omitempty" maxLength:"200" doc:"why it may not be used yet: a salvaged cell before inspection"`
	Origin     string     `json:"origin,omitempty" maxLength:"120" doc:"lot, or the phone that it came out of"`
	BestBefore *time.Time `json:"best_before,omitempty" ahead:"yes" doc:"of cells and adhesives"`
	OnOrder    int        `json:"on_order,omitempty" minimum:"0" maximum:"100000"`
	Cost       int64      `json:"cost_minor,omitempty" minimum:"0" maximum:"100000000" gorm:"column:cost_minor" doc:"of a piece, with its share of sending"`
	CostIn     string     `json:"cost_currency,omitempty" pattern:"^([A-Z]{3})?$" gorm:"column:cost_currency"`
}

// Shelf is one such place.
type Shelf struct {
	Row
	ShelfFacts
}

// TableName is the plural that the trade uses.
func (Shelf) TableName() string { return "shelves" }

// WorkFacts are a job that somebody asked for: counted whether it was taken or refused.
type WorkFacts struct {
	ModelID    string     `json:"for_model_id" format:"uuid" gorm:"column:for_model_id"`
	Job        string     `json:"job" enum:"battery,screen,back-glass,port,camera"`
	Status     string     `json:"status" enum:"asked,promised,parts ordered,on the bench,closed,refused"`
	Ref        string     `json:"ref,omitempty" maxLength:"60" doc:"of the workshop's own papers; no names of people"`
	AskedOn    time.Time  `json:"asked_on"`
	PromisedOn *time.Time `json:"promised_on,omitempty" ahead:"yes"`
	Price      int64      `json:"price_minor,omitempty" minimum:"0" maximum:"100000000" gorm:"column:price_minor"`
	Currency   string     `json:"currency,omitempty" pattern:"^([A-Z]{3})?$"`
	Minutes    float64    `json:"minutes,omitempty" minimum:"0" maximum:"1440" doc:"at the bench, once it is closed"`
	Why        string     `json:"why,omitempty" maxLength:"300" doc:"of a refusal, or why it was taken all the same"`
	Overrode   string     `json:"overrode,omitempty" maxLength:"60" doc:"who took it against the gate"`
	Went       string     `json:"went,omitempty" pattern:"^(fine|incident|gave up)?$" doc:"fine, incident or gave up, once it is closed"`
	HurtPart   string     `json:"hurt_part,omitempty" maxLength:"36" doc:"id of the part that was hurt"`
}

// Work is one such job. What it says for the odds is worked out when it is closed: the steps of the way and the one at
// which a part was hurt; Shelf is where its piece was taken from.
type Work struct {
	Row
	WorkFacts
	HurtStep string   `json:"hurt_step,omitempty"`
	Steps    []string `json:"steps,omitempty" gorm:"column:steps_walked;serializer:json"`
	ShelfID  string   `json:"shelf_id,omitempty"`
}

// TableName keeps clear of the job card's outcomes.
func (Work) TableName() string { return "work_orders" }

// Facts are what is replaced whole.
func (r *Seller) Facts() *SellerFacts { return &r.SellerFacts }

// Facts are what is replaced whole.
func (r *Offer) Facts() *OfferFacts { return &r.OfferFacts }

// Facts are what is replaced whole.
func (r *Exchange) Facts() *ExchangeFacts { return &r.ExchangeFacts }

// Facts are what is replaced whole.
func (r *Price) Facts() *PriceFacts { return &r.PriceFacts }

// Facts are what is replaced whole.
func (r *Delivery) Facts() *DeliveryFacts { return &r.DeliveryFacts }

// Facts are what is replaced whole.
func (r *Shelf) Facts() *ShelfFacts { return &r.ShelfFacts }

// Facts are what is replaced whole.
func (r *Work) Facts() *WorkFacts { return &r.WorkFacts }
