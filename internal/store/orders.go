package store

import "time"

// OrderLine is a line of a purchase order. Its price is a copy: a later change of the offer changes no order.
type OrderLine struct {
	No         int            `json:"no"`
	OfferID    string         `json:"offer_id,omitempty"`
	Code       string         `json:"code,omitempty" doc:"the seller's own"`
	Title      string         `json:"title"`
	ModelID    string         `json:"for_model_id"`
	Covers     map[string]int `json:"covers"`
	Grade      string         `json:"grade"`
	Lot        string         `json:"lot,omitempty"`
	Quantity   int            `json:"quantity" doc:"packs"`
	Price      int64          `json:"price_minor"`
	Note       string         `json:"note,omitempty" doc:"why it is bought, or bought against the advice"`
	Came       int            `json:"came" doc:"packs of the right kind that were kept"`
	WrittenOff int            `json:"written_off,omitempty"`
	WrittenWhy string         `json:"written_why,omitempty"`
}

// OrderReceipt is what came of a line on a day, in packs, and what is claimed for it.
type OrderReceipt struct {
	ID        string     `json:"id"`
	Line      int        `json:"line"`
	Came      int        `json:"came"`
	Good      int        `json:"good"`
	Bad       int        `json:"bad"`
	Wrong     int        `json:"wrong"`
	Over      int        `json:"over,omitempty" doc:"more than were open"`
	Surplus   string     `json:"surplus,omitempty" enum:"take,return,refuse,"`
	Lot       string     `json:"lot"`
	On        time.Time  `json:"on"`
	Note      string     `json:"note,omitempty"`
	Delivery  string     `json:"delivery_id,omitempty"`
	Claim     int64      `json:"claim_minor,omitempty" doc:"expected back for what is bad"`
	ClaimBy   *time.Time `json:"claim_by,omitempty" doc:"day until which it is told"`
	ClaimDone bool       `json:"claim_done,omitempty"`
}

// PurchaseOrder is what was ordered of one seller. LeadP50 and LeadP90 are what the seller promised when it was sent.
type PurchaseOrder struct {
	Row
	Number   string         `json:"number"`
	SellerID string         `json:"seller_id"`
	Currency string         `json:"currency"`
	State    string         `json:"state" enum:"draft,sent,part received,received,cancelled"`
	Lines    []OrderLine    `json:"lines" gorm:"column:order_lines;serializer:json" nullable:"false"`
	Receipts []OrderReceipt `json:"receipts" gorm:"serializer:json" nullable:"false"`
	Subtotal int64          `json:"subtotal_minor" gorm:"column:subtotal_minor"`
	Discount int64          `json:"discount_minor" gorm:"column:discount_minor"`
	Shipping int64          `json:"shipping_minor" gorm:"column:shipping_minor"`
	Total    int64          `json:"total_minor" gorm:"column:total_minor"`
	WantedBy *time.Time     `json:"wanted_by,omitempty"`
	ForJobs  string         `json:"for_jobs,omitempty"`
	SentOn   *time.Time     `json:"sent_on,omitempty"`
	ClosedOn *time.Time     `json:"closed_on,omitempty"`
	LeadP50  float64        `json:"lead_p50,omitempty" gorm:"column:lead_p50"`
	LeadP90  float64        `json:"lead_p90,omitempty" gorm:"column:lead_p90"`
	AskedOn  []time.Time    `json:"asked_on,omitempty" gorm:"serializer:json" nullable:"false"`
	Why      string         `json:"why,omitempty"`
}

// Apart: an order changes nothing that is kept of a model.
func (PurchaseOrder) Apart() string { return "orders" }

// NeedFacts are parts that somebody put on the list of what to buy.
type NeedFacts struct {
	ModelID  string `json:"for_model_id" format:"uuid" gorm:"column:for_model_id"`
	Item     string `json:"item" minLength:"1" maxLength:"60" doc:"a kind of part, a consumable, screws"`
	Quantity int    `json:"quantity" minimum:"1" maximum:"1000"`
	Note     string `json:"note,omitempty" maxLength:"200"`
}

// Need is one line of that list.
type Need struct {
	Row
	NeedFacts
}

// Facts are what is replaced whole.
func (r *Need) Facts() *NeedFacts { return &r.NeedFacts }

// Apart: what is to be bought changes nothing that is kept of a model.
func (Need) Apart() string { return "orders" }

// OfferBefore is an offer that an import changed: what it was, and the version that the import made of it.
type OfferBefore struct {
	ID      string     `json:"id"`
	Version int        `json:"version"`
	Before  OfferFacts `json:"before"`
}

// OfferImport is a seller's list that was put in. Made and Changed are kept so that it can be undone as one; Kept are
// offers that an undo left as they were, and why.
type OfferImport struct {
	Row
	File     string            `json:"file"`
	Sellers  []string          `json:"sellers" gorm:"serializer:json" nullable:"false"`
	Model    string            `json:"model,omitempty" gorm:"column:default_model" doc:"where no column says it"`
	Mapping  map[string]int    `json:"mapping,omitempty" gorm:"serializer:json"`
	Answers  map[string]string `json:"answers,omitempty" gorm:"serializer:json"`
	Defaults map[string]string `json:"defaults,omitempty" gorm:"column:defaults_said;serializer:json"`
	Made     []string          `json:"made" gorm:"serializer:json" nullable:"false"`
	Changed  []OfferBefore     `json:"changed" gorm:"serializer:json" nullable:"false"`
	Same     int               `json:"same"`
	Gone     int               `json:"gone" doc:"set to none in stock, because the list was whole"`
	Kept     []string          `json:"kept,omitempty" gorm:"serializer:json" nullable:"false"`
	Undone   bool              `json:"undone"`
}

// Apart: the offers themselves say what changed of a model.
func (OfferImport) Apart() string { return "orders" }

// Public is what the trail keeps: how much of what, not every offer again.
func (r OfferImport) Public() any {
	return struct {
		Row
		File    string   `json:"file"`
		Sellers []string `json:"sellers"`
		Made    int      `json:"made"`
		Changed int      `json:"changed"`
		Same    int      `json:"same"`
		Gone    int      `json:"gone"`
		Undone  bool     `json:"undone"`
	}{r.Row, r.File, r.Sellers, len(r.Made), len(r.Changed), r.Same, r.Gone, r.Undone}
}
