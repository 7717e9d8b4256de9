// Package desk is what is on record at the parts desk, and what it says of prices, days and pieces: the floor under the
// rooms that buy, stock and score.
package desk

import (
	"math"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/core/order"
	"waryowl/internal/store"
)

// of are the settings; before the office has set any they are the house's.
func of(rows []store.Workshop) store.Workshop {
	if len(rows) > 0 {
		return rows[0]
	}
	return store.Workshop{WorkshopFacts: store.WorkshopFacts{Currency: "EUR", ChargeLimit: 25}}
}

// Slot is the name of a slot as offers, stock and builds share it.
func Slot(s string) string {
	return strings.Join(
		strings.FieldsFunc(strings.ToLower(s), func(r rune) bool { return r == ' ' || r == '_' || r == '-' }),
		"-",
	)
}

// Said says a slot as people do.
func Said(slot string) string { return strings.ReplaceAll(slot, "-", " ") }

// Desk is everything on record at the desk for the models in view.
type Desk struct {
	Workshop   store.Workshop        `json:"workshop"`
	Models     []Named               `json:"models" nullable:"false"`
	Sellers    []store.Seller        `json:"sellers" nullable:"false"`
	Offers     []store.Offer         `json:"offers" nullable:"false"`
	Exchanges  []store.Exchange      `json:"exchanges" nullable:"false"`
	Prices     []store.Price         `json:"prices" nullable:"false"`
	Deliveries []store.Delivery      `json:"deliveries" nullable:"false"`
	Shelves    []store.Shelf         `json:"shelves" nullable:"false"`
	Work       []store.Work          `json:"work" nullable:"false"`
	Orders     []store.PurchaseOrder `json:"orders" nullable:"false" doc:"of which pieces are still to come"`
	Slots      []string              `json:"slots" nullable:"false" doc:"names that offers and stock use already"`
}

// Named is a model by its name.
type Named struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// most of each kind are read at once.
const most = 20_000

// Load reads the desk, of some models or of all; brief: only what prices and days need.
func Load(db *gorm.DB, ids []string, brief bool) (Desk, error) {
	office, err := store.List[store.Workshop](db.Limit(1), "id", "1 = 1")
	if err != nil {
		return Desk{}, err
	}
	if brief {
		return Brief(db, office, ids)
	}
	return load(db, office, ids)
}

// table reads one kind of rows into its place.
func table[T any](db *gorm.DB, to *[]T, order, where string, args []any) error {
	list, err := store.List[T](db.Limit(most), order, where, args...)
	*to = list
	return err
}

// Brief reads what prices and days need, with the settings that were read already: the desk of a score. Of sellers it
// has the days of those that offer something; rates are read only where an offer asks for them.
func Brief(db *gorm.DB, office []store.Workshop, ids []string) (Desk, error) {
	d := Desk{Workshop: of(office)}
	where, args := "for_model_id IN ?", []any{ids}
	var offers []struct {
		store.Offer
		LeadP50, LeadP90 float64
	}
	if err := db.Model(&store.Offer{}).Select("offers.*, COALESCE(lead_p50, 0) AS lead_p50, COALESCE(lead_p90, 0) AS lead_p90").
		Joins("LEFT JOIN sellers ON sellers.id = offers.seller_id AND sellers.deleted_at IS NULL").
		Where(where, ids).Order("offers.id DESC").Limit(most).Find(&offers).Error; err != nil {
		return d, err
	}
	for _, o := range offers {
		d.Offers = append(d.Offers, o.Offer)
		if !slices.ContainsFunc(d.Sellers, func(x store.Seller) bool { return x.ID == o.SellerID }) {
			x := store.Seller{SellerFacts: store.SellerFacts{LeadP50: o.LeadP50, LeadP90: o.LeadP90}}
			x.ID = o.SellerID
			d.Sellers = append(d.Sellers, x)
		}
	}
	if err := table(db, &d.Prices, "priced_on DESC, id DESC", where, args); err != nil {
		return d, err
	}
	if slices.ContainsFunc(d.Offers, func(o store.Offer) bool { return o.Currency != d.Workshop.Currency }) {
		if err := table(db, &d.Exchanges, "rated_on DESC, id DESC", "1 = 1", nil); err != nil {
			return d, err
		}
	}
	return d, table(db, &d.Work, "asked_on DESC, id DESC", where, args)
}

// Some is the desk with only some kinds of its rows: offers, exchanges, prices, deliveries, shelves, work, orders; with
// the settings, the sellers and all models.
func Some(db *gorm.DB, ids, of []string) (Desk, error) {
	office, err := store.List[store.Workshop](db.Limit(1), "id", "1 = 1")
	if err != nil {
		return Desk{}, err
	}
	d, err := read(db, office, ids, func(kind string) bool { return slices.Contains(of, kind) })
	if err != nil {
		return d, err
	}
	models, err := store.List[store.Model](db.Select("id", "maker", "name"), "maker, name", "1 = 1")
	d.Models = []Named{}
	for _, m := range models {
		d.Models = append(d.Models, Named{m.ID, m.Maker + " " + m.Name})
	}
	return d, err
}

func load(db *gorm.DB, office []store.Workshop, ids []string) (Desk, error) {
	return read(db, office, ids, func(string) bool { return true })
}

func read(db *gorm.DB, office []store.Workshop, ids []string, wants func(kind string) bool) (Desk, error) {
	d := Desk{Workshop: of(office), Offers: []store.Offer{}, Exchanges: []store.Exchange{}, Prices: []store.Price{},
		Deliveries: []store.Delivery{}, Shelves: []store.Shelf{}, Work: []store.Work{}, Orders: []store.PurchaseOrder{}}
	where, args := "1 = 1", []any{}
	if ids != nil {
		where, args = "for_model_id IN ?", []any{ids}
	}
	err := table(db, &d.Sellers, "name", "1 = 1", nil)
	for _, t := range []struct {
		kind string
		read func() error
	}{
		{"offers", func() (err error) {
			d.Offers, err = store.Offers(db, most, where, args...)
			return err
		}},
		{"exchanges", func() error { return table(db, &d.Exchanges, "rated_on DESC, id DESC", "1 = 1", nil) }},
		{"prices", func() error { return table(db, &d.Prices, "priced_on DESC, id DESC", where, args) }},
		{"deliveries", func() error { return table(db, &d.Deliveries, "received_on DESC, id DESC", where, args) }},
		{"shelves", func() error { return table(db, &d.Shelves, "item, id", where, args) }},
		{"work", func() (err error) {
			d.Work, err = store.Works(db, most, where, args...)
			return err
		}},
		{"orders", func() error {
			return table(db, &d.Orders, "number DESC", "state IN ?", []any{[]string{order.Sent, order.Part}})
		}},
	} {
		if err == nil && wants(t.kind) {
			err = t.read()
		}
	}
	if err != nil {
		return d, err
	}
	ids = nil
	slots := map[string]bool{}
	for _, o := range d.Offers {
		ids = append(ids, o.ModelID)
		for s := range o.Covers {
			slots[s] = true
		}
	}
	for _, x := range d.Shelves {
		ids = append(ids, x.ModelID)
		slots[x.Item] = true
	}
	for _, x := range d.Work {
		ids = append(ids, x.ModelID)
	}
	for _, x := range d.Deliveries {
		ids = append(ids, x.ModelID)
	}
	for _, x := range d.Prices {
		ids = append(ids, x.ModelID)
	}
	for _, o := range d.Orders {
		for _, l := range o.Lines {
			ids = append(ids, l.ModelID)
		}
	}
	slices.Sort(ids)
	models, err := store.List[store.Model](db, "maker, name", "id IN ?", slices.Compact(ids))
	if err != nil {
		return d, err
	}
	d.Models, d.Slots = []Named{}, []string{}
	for _, m := range models {
		d.Models = append(d.Models, Named{m.ID, m.Maker + " " + m.Name})
	}
	for s := range slots {
		d.Slots = append(d.Slots, s)
	}
	slices.Sort(d.Slots)
	return d, nil
}

// needs are the slots of the common jobs' parts.
var needs = map[string]string{
	"battery":    "battery",
	"screen":     "display",
	"back-glass": "rear-glass",
	"port":       "charge-port",
	"camera":     "rear-camera",
}

// Needs is the slot of the piece that a kind of job fits.
func Needs(job string) string { return needs[job] }

// Waits says whether a job was taken and still needs its piece.
func Waits(w store.Work) bool {
	return w.Status == "promised" || w.Status == "parts ordered" || w.Status == "on the bench"
}

// Taken counts the jobs on a model that were taken and still need a piece of a slot.
func (d *Desk) Taken(modelID, slot string) int {
	n := 0
	for _, w := range d.Work {
		if w.ModelID == modelID && needs[w.Job] == slot && Waits(w) {
			n++
		}
	}
	return n
}

// Bench are the minutes that closed jobs of a kind took.
func (d *Desk) Bench(modelID, job string) []float64 {
	var list []float64
	for _, w := range d.Work {
		if w.ModelID == modelID && w.Job == job && w.Status == "closed" && w.Minutes > 0 {
			list = append(list, w.Minutes)
		}
	}
	return list
}

// Usable are the pieces on the shelf that may be used: not in quarantine, not past their day, not of a lot that an
// inspection refused.
func (d *Desk) Usable(modelID, slot string, now time.Time) int {
	n := 0
	for _, x := range d.Shelves {
		if x.ModelID == modelID && x.Item == slot && x.Quarantine == "" &&
			(x.BestBefore == nil || x.BestBefore.After(now)) && !d.refused(x) {
			n += x.Quantity
		}
	}
	return n
}

// refused says whether pieces are of a lot that an inspection refused, unless every piece of it was looked at: the good
// ones are known then.
func (d *Desk) refused(x store.Shelf) bool {
	for _, y := range d.Deliveries {
		if y.Bad > 0 && y.Inspected < y.Size && y.ModelID == x.ModelID && y.Item == x.Item && x.Origin == "lot "+y.Lot {
			if j, err := d.Judge(y); err == nil && j.Pass == "refuse" {
				return true
			}
		}
	}
	return false
}

// Free are the pieces that may be used and are not kept for a job that was taken, whether somebody reserved its piece by
// hand or not.
func (d *Desk) Free(modelID, slot string, now time.Time) int {
	reserved := 0
	for _, x := range d.Shelves {
		if x.ModelID == modelID && x.Item == slot && x.Quarantine == "" &&
			(x.BestBefore == nil || x.BestBefore.After(now)) {
			reserved += x.Reserved
		}
	}
	return max(0, d.Usable(modelID, slot, now)-max(reserved, d.Taken(modelID, slot)))
}

// Lead are the days until a piece of a slot is there: of the offer that is there soonest nine times of ten.
func (d *Desk) Lead(slot string) []float64 {
	var best []float64
	for _, o := range d.Offers {
		if o.Covers[slot] == 0 || o.Stock == 0 {
			continue
		}
		for _, x := range d.Sellers {
			if x.ID != o.SellerID {
				continue
			}
			p50, p90 := x.LeadP50, x.LeadP90
			if o.LeadDays > 0 {
				p50, p90 = math.Min(p50, o.LeadDays), o.LeadDays
			}
			if p90 > 0 && (best == nil || p90 < best[1]) {
				best = []float64{math.Min(p50, p90), p90}
			}
		}
	}
	return best
}

// Days are whole days since a day.
func Days(now, then time.Time) int { return int(math.Max(0, now.Sub(then).Hours()/24)) }

// Defects are the bad ones among the pieces of an offer's seller, slots and lot that were looked at; of all its lots where the
// offer names none.
func (d *Desk) Defects(o store.Offer) (k, n int) {
	for _, x := range d.Deliveries {
		if x.SellerID == o.SellerID && o.Covers[x.Item] > 0 && x.Grade == o.Grade &&
			(o.Lot == "" || strings.EqualFold(o.Lot, x.Lot)) {
			k, n = k+x.Bad, n+x.Inspected
		}
	}
	return k, n
}

// Of is the desk as far as it is about one model; sellers, rates and settings are everybody's.
func (d Desk) Of(modelID string) Desk {
	d.Offers = slices.DeleteFunc(slices.Clone(d.Offers), func(x store.Offer) bool { return x.ModelID != modelID })
	d.Shelves = slices.DeleteFunc(slices.Clone(d.Shelves), func(x store.Shelf) bool { return x.ModelID != modelID })
	return d
}

// ByModel parts offers and shelves by model; the rest is everybody's.
func (d Desk) ByModel() map[string]Desk {
	out := map[string]Desk{}
	at := func(model string) Desk {
		one, known := out[model]
		if !known {
			one = d
			one.Offers, one.Shelves = nil, nil
		}
		return one
	}
	for _, o := range d.Offers {
		one := at(o.ModelID)
		one.Offers = append(one.Offers, o)
		out[o.ModelID] = one
	}
	for _, x := range d.Shelves {
		one := at(x.ModelID)
		one.Shelves = append(one.Shelves, x)
		out[x.ModelID] = one
	}
	return out
}
