package desk

import (
	"math"
	"slices"
	"strings"
	"time"

	"waryowl/internal/core/order"
	"waryowl/internal/store"
)

// Coming are pieces of a slot that were ordered and are still to come.
type Coming struct {
	Order  string
	Pieces int
	Due    time.Time // by the usual days of the seller
	Late   time.Time // nine of ten are there by then
}

// Coming are the pieces of a slot of a model that are on order.
func (d *Desk) Coming(modelID, slot string) []Coming {
	var list []Coming
	for _, o := range d.Orders {
		if !order.Open(o.State) || o.SentOn == nil {
			continue
		}
		due, late := Due(o)
		for _, l := range o.Lines {
			if n := LineOf(l).Open() * l.Covers[slot]; l.ModelID == modelID && n > 0 {
				list = append(list, Coming{o.Number, n, due, late})
			}
		}
	}
	return list
}

// LeadNow are the days until a piece of a slot of a model is there, as [Desk.Lead] of the offers, or sooner by an order
// that was sent and has a piece that no job waits for.
func (d *Desk) LeadNow(modelID, slot string, now time.Time) []float64 {
	best := d.Lead(slot)
	owed := d.Taken(modelID, slot) - d.Usable(modelID, slot, now)
	list := d.Coming(modelID, slot)
	slices.SortStableFunc(list, func(a, b Coming) int { return a.Late.Compare(b.Late) })
	for _, c := range list {
		if owed -= c.Pieces; owed >= 0 {
			continue
		}
		days := func(t time.Time) float64 { return math.Max(1, math.Ceil(t.Sub(now).Hours()/24)) }
		if due, late := days(c.Due), days(c.Late); best == nil || late < best[1] {
			best = []float64{math.Min(due, late), late}
		}
		break
	}
	return best
}

// Due says when an order that was sent is expected, and from which day on it is late.
func Due(o store.PurchaseOrder) (due, late time.Time) {
	usual, most := order.Due(o.LeadP50, o.LeadP90)
	return o.SentOn.AddDate(0, 0, usual), o.SentOn.AddDate(0, 0, most)
}

// LineOf is a line of an order as the core counts it.
func LineOf(l store.OrderLine) order.Line {
	return order.Line{Ordered: l.Quantity, Came: l.Came, WrittenOff: l.WrittenOff}
}

// Unseen is where pieces of a lot come from that nobody looked at yet.
func Unseen(lot string) string { return "lot " + lot + ", not looked at" }

// Record is how a seller kept what was promised: days from an order that was sent to each receipt of a line, with the
// bad ones among the pieces that were looked at.
type Record struct {
	Days []float64
	K, N int
}

// RecordOf is the record of a seller from received orders and inspected deliveries.
func RecordOf(seller string, orders []store.PurchaseOrder, deliveries []store.Delivery) Record {
	var r Record
	for _, o := range orders {
		if o.SellerID != seller || o.SentOn == nil {
			continue
		}
		for _, x := range o.Receipts {
			r.Days = append(r.Days, math.Max(0, x.On.Sub(o.SentOn.Truncate(24*time.Hour)).Hours()/24))
		}
	}
	for _, x := range deliveries {
		if x.SellerID == seller {
			r.K, r.N = r.K+x.Bad, r.N+x.Inspected
		}
	}
	return r
}

// ownDays is from how many receipts on a seller's own days count instead of the promised ones (house).
const ownDays = 5

// Lead are the usual days of a seller, and those that nine of ten are there by: from what came, once enough came, else as
// promised.
func (r Record) Lead(x store.Seller) (p50, p90 float64) {
	if len(r.Days) < ownDays {
		return x.LeadP50, x.LeadP90
	}
	return order.Quantile(r.Days, 0.5), order.Quantile(r.Days, 0.9)
}

// Failed says whether an inspection said no to a lot of an offer's seller, slots and grade, and to its own lot where it
// names one: the bad ones among those that were looked at.
func (d *Desk) Failed(o store.Offer) (k, n int, failed bool, err error) {
	for _, x := range d.Deliveries {
		if x.SellerID != o.SellerID || o.Covers[x.Item] == 0 || x.Grade != o.Grade || x.ModelID != o.ModelID ||
			o.Lot != "" && !strings.EqualFold(o.Lot, x.Lot) || x.Inspected == 0 {
			continue
		}
		j, err := d.Judge(x)
		if err != nil {
			return 0, 0, false, err
		}
		if j.Pass == "refuse" || j.Plan.StopBuying {
			k, n, failed = k+x.Bad, n+x.Inspected, true
		}
	}
	return k, n, failed, nil
}
