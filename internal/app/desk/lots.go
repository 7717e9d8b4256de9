package desk

import (
	"math"
	"slices"

	"waryowl/internal/core/gate"
	"waryowl/internal/store"
)

// The usual limits of a sampling plan, and what a copy is thought of before it was looked at (house, as in the basket).
const (
	acceptable = 0.02
	limit      = 0.10
)

var priorBad = map[string]float64{"original": 0.02, "used": 0.06, "copy": 0.12}

// Judged is what an inspection of a lot comes to. K of N pieces of its seller, slot and grade were bad so far; Compared:
// there is an offer that it could be dearer than.
type Judged struct {
	Plan     gate.Inspection
	K, N     int
	Compared bool
	Pass     string // open, accept, refuse
}

// Judge plans the inspection of a lot and says what came of it so far.
func (d *Desk) Judge(x store.Delivery) (Judged, error) {
	j := Judged{Pass: "open"}
	for _, o := range d.Deliveries {
		if o.SellerID == x.SellerID && o.Item == x.Item && o.Grade == x.Grade {
			j.K, j.N = j.K+o.Bad, j.N+o.Inspected
		}
	}
	var seller store.Seller
	if i := slices.IndexFunc(d.Sellers, func(s store.Seller) bool { return s.ID == x.SellerID }); i >= 0 {
		seller = d.Sellers[i]
	}
	m, w := priorBad[x.Grade], 20.0
	price, _ := d.In(float64(x.Price), x.Currency) // 0 where there is no rate: nothing is compared then
	q := gate.Delivery{Size: x.Size, AQL: acceptable, LTPD: limit, K: j.K, N: j.N, PriorRate: &m, PriorWeight: &w,
		Price: price, Refund: seller.Refund, RebuyCost: float64(seller.ReturnCost)}
	if next, ok := d.nextBest(x); ok && price > 0 {
		q.NextBest, j.Compared = next, next > 0
	}
	var err error
	if j.Plan, err = gate.Inspect(q); err != nil {
		return j, err
	}
	if q.NextBest == 0 { // there is nothing that it could be cheaper than
		j.Plan.StopBuying, j.Plan.POverLimit, j.Plan.Limit = false, 0, 1
	}
	need, most := j.Plan.Sample, j.Plan.Accept
	if j.Plan.WholeLot {
		need, most = x.Size, 0
	}
	switch {
	case x.Bad > most:
		j.Pass = "refuse"
	case x.Inspected >= need:
		j.Pass = "accept"
	}
	return j, nil
}

// grades from the worst.
var grades = []string{"copy", "used", "original"}

// nextBest is the cheapest offer for the same slot that is as good or better, of another seller or a better grade.
func (d *Desk) nextBest(x store.Delivery) (float64, bool) {
	best, found := math.Inf(1), false
	for _, o := range d.Offers {
		if o.ModelID != x.ModelID || o.Covers[x.Item] == 0 || o.Stock == 0 || o.SellerID == x.SellerID && o.Grade == x.Grade ||
			slices.Index(grades, o.Grade) < slices.Index(grades, x.Grade) {
			continue
		}
		if p, ok := d.In(float64(o.Price), o.Currency); ok && p < best {
			best, found = p, true
		}
	}
	return best, found
}
