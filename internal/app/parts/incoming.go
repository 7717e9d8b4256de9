package parts

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/gate"
	"waryowl/internal/core/route"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// The usual limits of a sampling plan, and what a copy is thought of before it was looked at (house, as in the basket).
const (
	acceptable = 0.02
	limit      = 0.10
)

var priorBad = map[string]float64{"original": 0.02, "used": 0.06, "copy": 0.12}

// looks are what is looked at when pieces come in, by kind (common practice, no source).
var looks = map[string][]string{
	"display": {
		"original mark under the cable",
		"thickness, against an original's",
		"width of the rim",
		"where the flex starts",
		"signs of an earlier repair",
		"picture, touch and brightness on a test phone",
	},
	"battery": {
		"nub and foil whole, not swollen",
		"thickness, against an original's",
		"connector width",
		"cycles and capacity on a test phone",
		"date of make",
	},
	"charge-port": {"connector width", "seal in place", "charges and moves data on a test phone"},
	"rear-camera": {"glass and seal clean", "connector width", "focus and zoom on a test phone"},
	"rear-glass":  {"openings and rim, against an original's", "adhesive whole", "colour beside an original"},
}

// DeliveryView is a delivery with what to look at and what its seller's record says.
type DeliveryView struct {
	store.Delivery
	Seller string          `json:"seller"`
	Model  string          `json:"model"`
	Looks  []string        `json:"looks" nullable:"false"`
	Plan   gate.Inspection `json:"plan"`
	K      int             `json:"k" doc:"bad ones of this seller, slot and grade"`
	N      int             `json:"n" doc:"of so many"`
	Says   string          `json:"says"`
	Pass   string          `json:"pass" enum:"open,accept,refuse" doc:"by the plan"`
	Figure []string        `json:"figures" nullable:"false" doc:"of an original, to measure against"`
}

// IncomingRoom is what came in and what to look at.
type IncomingRoom struct {
	Answer     answer.Sentence `json:"answer" nullable:"false"`
	Currency   string          `json:"currency"`
	Deliveries []DeliveryView  `json:"deliveries" nullable:"false"`
}

// Incoming lists the deliveries, those that still have to be looked at first.
func Incoming(ctx context.Context, s *act.Service) (IncomingRoom, error) {
	db := s.DB.WithContext(ctx)
	d, err := desk.Load(db, nil, false)
	if err != nil {
		return IncomingRoom{}, err
	}
	v := IncomingRoom{Currency: d.Workshop.Currency, Deliveries: []DeliveryView{}}
	names := map[string]string{}
	for _, m := range d.Models {
		names[m.ID] = m.Name
	}
	sellers := map[string]store.Seller{}
	for _, x := range d.Sellers {
		sellers[x.ID] = x
	}
	var ids []string
	for _, x := range d.Deliveries {
		ids = append(ids, x.ModelID)
	}
	parts, err := store.List[store.Part](db, "id", "model_id IN ?", ids)
	if err != nil {
		return v, err
	}
	waiting, stop := 0, 0
	for _, x := range d.Deliveries {
		y := DeliveryView{
			Delivery: x,
			Seller:   sellers[x.SellerID].Name,
			Model:    names[x.ModelID],
			Looks:    looks[x.Item],
			Pass:     "open",
			Figure:   []string{},
		}
		if y.Looks == nil {
			y.Looks = []string{"against an original: size, weight, colour", "works on a test phone"}
		}
		for _, p := range parts {
			if p.ModelID == x.ModelID && (p.Kind == x.Item || desk.Slot(p.Name) == x.Item) {
				for kind, q := range model.Quantities(p) {
					y.Figure = append(y.Figure, fmt.Sprintf("%s %.2f ± %.2f %s", kind, q.Value, q.U, q.Unit))
				}
			}
		}
		slices.Sort(y.Figure)
		for _, o := range d.Deliveries {
			if o.SellerID == x.SellerID && o.Item == x.Item && o.Grade == x.Grade {
				y.K, y.N = y.K+o.Bad, y.N+o.Inspected
			}
		}
		m, w := priorBad[x.Grade], 20.0
		price, _ := d.In(float64(x.Price), x.Currency) // 0 where there is no rate: nothing is compared then
		q := gate.Delivery{Size: x.Size, AQL: acceptable, LTPD: limit, K: y.K, N: y.N, PriorRate: &m, PriorWeight: &w,
			Price: price, Refund: sellers[x.SellerID].Refund, RebuyCost: float64(sellers[x.SellerID].ReturnCost)}
		if next, ok := nextBest(d.Of(x.ModelID), x); ok && price > 0 {
			q.NextBest = next
		}
		if y.Plan, err = gate.Inspect(q); err != nil {
			return v, err
		}
		if q.NextBest == 0 { // there is nothing that it could be cheaper than
			y.Plan.StopBuying, y.Plan.POverLimit, y.Plan.Limit = false, 0, 1
		}
		need, most := y.Plan.Sample, y.Plan.Accept
		if y.Plan.WholeLot {
			need, most = x.Size, 0
		}
		switch {
		case x.Bad > most:
			y.Pass = "refuse"
		case x.Inspected >= need:
			y.Pass = "accept"
		default:
			waiting++
		}
		if y.Plan.StopBuying {
			stop++
		}
		y.Says = says(y, q.NextBest > 0)
		v.Deliveries = append(v.Deliveries, y)
	}
	slices.SortStableFunc(v.Deliveries, func(a, b DeliveryView) int {
		open := func(x DeliveryView) int { return map[bool]int{true: 0, false: 1}[x.Pass == "open"] }
		return open(a) - open(b)
	})
	switch {
	case len(v.Deliveries) == 0:
		v.Answer = answer.Sentence{answer.Text("Nothing came in yet; a delivery is received below.")}
	default:
		v.Answer = answer.Sentence{answer.Number(float64(waiting), "", "#deliveries"), answer.Text(" of "),
			answer.Count(len(v.Deliveries), "lot", "#deliveries"), answer.Text(" still to be looked at")}
		if stop > 0 {
			v.Answer = append(v.Answer, answer.Text(fmt.Sprintf("; stop buying %d of them", stop)))
		}
		v.Answer = append(v.Answer, answer.Text("."))
	}
	return v, nil
}

func says(y DeliveryView, compared bool) string {
	text := fmt.Sprintf(
		"%d of %d bad so far: %.0f %% (%.0f to %.0f)",
		y.K,
		y.N,
		100*y.Plan.Rate,
		100*y.Plan.Interval[0],
		100*y.Plan.Interval[1],
	)
	if compared {
		text += fmt.Sprintf(
			"; above %.0f %% the next best is cheaper, which is so with %.0f %%",
			100*y.Plan.Limit,
			100*y.Plan.POverLimit,
		)
	}
	if y.Plan.StopBuying {
		text += ": stop buying"
	}
	return text
}

// grades from the worst.
var grades = []string{"copy", "used", "original"}

// nextBest is the cheapest offer for the same slot that is as good or better, of another seller or a better grade.
func nextBest(d desk.Desk, x store.Delivery) (float64, bool) {
	best, found := math.Inf(1), false
	for _, o := range d.Offers {
		if o.Covers[x.Item] == 0 || o.Stock == 0 || o.SellerID == x.SellerID && o.Grade == x.Grade ||
			slices.Index(grades, o.Grade) < slices.Index(grades, x.Grade) {
			continue
		}
		if p, ok := d.In(float64(o.Price), o.Currency); ok && p < best {
			best, found = p, true
		}
	}
	return best, found
}

// DonorRoom is what a wreck is worth before it is opened.
type DonorRoom struct {
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	Currency string          `json:"currency"`
	Found    gate.Bid        `json:"found"`
	Parts    []DonorPart     `json:"parts" nullable:"false"`
	Unpriced []string        `json:"unpriced" nullable:"false"`
	Note     string          `json:"note"`
	Display  *BuyBack        `json:"display,omitempty" doc:"what a healthy old display is worth"`
}

// BuyBack is what a healthy old display is worth, and what heat may cost it: a minute saved pays only while it marks the
// panel in fewer than PerMinute of the openings. Counted are the panels that were hurt by heat on the way.
type BuyBack struct {
	Worth     float64 `json:"worth"`
	PerMinute float64 `json:"per_minute"`
	K         int     `json:"k"`
	N         int     `json:"n"`
	High      float64 `json:"high" doc:"upper end of the counted share"`
	Method    string  `json:"method,omitempty"`
}

// DonorPart is a part of the donor.
type DonorPart struct {
	PartID string  `json:"part_id"`
	Part   string  `json:"part"`
	Value  float64 `json:"value"`
	Good   float64 `json:"good"`
	Worth  float64 `json:"worth"`
	Take   bool    `json:"take"`
}

// good is the chance that a part of a wreck works, by kind; after liquid all of it is less likely (house).
var good = map[string]float64{
	"main-board":   0.6,
	"battery":      0.5,
	"rear-camera":  0.85,
	"front-camera": 0.85,
	"charge-port":  0.8,
	"rear-glass":   0.3,
	"display":      0.6,
}

// Donor values a donor of a model: what it came for (glass, drop, liquid, none) and whether it is locked.
func Donor(ctx context.Context, s *act.Service, modelID, lock, damage string) (DonorRoom, error) {
	db := s.DB.WithContext(ctx)
	k, err := model.Load(db, modelID)
	if err != nil {
		return DonorRoom{}, err
	}
	all, err := desk.Load(db, []string{modelID}, true)
	if err != nil {
		return DonorRoom{}, err
	}
	v := DonorRoom{Currency: all.Workshop.Currency, Parts: []DonorPart{}, Unpriced: []string{},
		Note: "Ask for a proof of purchase and the lock state before you pay. The identity of a device is never changed. A cell from a wreck stays in quarantine until it was inspected."}
	q := k.Question(route.Attended)
	in := gate.Donor{
		Lock:              lock,
		Rate:              float64(all.Workshop.LabourMinor) / 3600,
		Fixed:             float64(all.Workshop.DonorFixedMinor),
		Steps:             q.Steps,
		ToolChangeSeconds: q.ToolChangeSeconds,
		FlipSeconds:       q.FlipSeconds,
	}
	if all.Workshop.DonorMargin > 0 {
		in.Margin = &all.Workshop.DonorMargin
	}
	for _, p := range k.Parts {
		kind := k.Kind(p.ID)
		value, known := 0.0, false
		if p.WorthMinor > 0 && p.Currency == v.Currency {
			value, known = float64(p.WorthMinor), true
		}
		for _, o := range all.Offers { // what such a piece is sold for, used
			if x, ok := all.In(float64(o.Price), o.Currency); ok && o.Grade == "used" && len(o.Covers) == 1 &&
				o.Covers[kind] > 0 &&
				kind != "" &&
				!known {
				value, known = x, true
			}
		}
		freed := slices.ContainsFunc(k.Steps, func(s store.PlanStep) bool { return slices.Contains(s.Frees, p.ID) })
		if !known || !freed {
			if p.Slot {
				v.Unpriced = append(v.Unpriced, p.Name)
			}
			continue
		}
		g := 0.7
		if x, ok := good[kind]; ok {
			g = x
		}
		switch {
		case damage == "glass" && kind == "display":
			g = 0.1
		case damage == "liquid":
			g /= 2
		case damage == "none":
			g = math.Min(0.95, g+0.2)
		}
		in.Parts = append(
			in.Parts,
			gate.Salvage{Part: p.ID, Value: value, Good: &g, NeedsUnlocked: kind == "main-board"},
		)
		v.Parts = append(v.Parts, DonorPart{PartID: p.ID, Part: p.Name, Value: value, Good: g})
	}
	v.Display = buyBack(k, &all)
	if len(in.Parts) == 0 {
		v.Found = gate.Bid{Take: []string{}, Leave: []string{}, Worth: map[string]float64{}}
		v.Answer = answer.Sentence{
			answer.Text(
				"No bid: no part of it has a price yet. Say what a piece is worth in its form, or enter used offers.",
			),
		}
		return v, nil
	}
	if v.Found, err = gate.ForDonor(in); err != nil {
		return v, err
	}
	for i := range v.Parts {
		v.Parts[i].Worth = v.Found.Worth[v.Parts[i].PartID]
		v.Parts[i].Take = slices.Contains(v.Found.Take, v.Parts[i].PartID)
	}
	slices.SortStableFunc(v.Parts, func(a, b DonorPart) int {
		at := func(x DonorPart) int {
			if i := slices.Index(v.Found.Take, x.PartID); i >= 0 {
				return i
			}
			return len(v.Found.Take)
		}
		return at(a) - at(b)
	})
	var take []string
	for _, p := range v.Parts {
		if p.Take {
			take = append(take, p.Part)
		}
	}
	v.Answer = answer.Sentence{answer.Text("Bid at most "), answer.Name(desk.Money(v.Found.Bid, v.Currency), "#donor"),
		answer.Text(
			"; ",
		), answer.Number(v.Found.Seconds/60, "min", "#donor"), answer.Text(" to take out " + strings.Join(take, ", ") + ".")}
	if v.Found.Bid <= 0 {
		v.Answer = answer.Sentence{answer.Text("Do not buy it: what can be taken out does not pay for its minutes.")}
	}
	return v, nil
}

// buyBack weighs heat against a healthy display: its worth is the least that a used or original one costs.
func buyBack(k *model.Record, d *desk.Desk) *BuyBack {
	p := k.OfKind("display")
	worth, known := d.Cheapest("display")
	if p == nil || !known || worth <= 0 {
		return nil
	}
	b := &BuyBack{Worth: worth, PerMinute: float64(d.Workshop.LabourMinor) / 60 / worth}
	battery := k.OfKind("battery")
	if battery == nil {
		return b
	}
	w := k.WayTo(battery.ID, nil)
	if w == nil {
		return b
	}
	for _, o := range w.Odds { // heat, whatever it came from; a lever is another matter
		if o.Part == p.Name && trade.Hot(o.Method) && o.N >= b.N {
			b.K, b.N, b.High, b.Method = o.K, o.N, o.High, o.Method
		}
	}
	return b
}

// Receive puts what a delivery left good into stock.
func Receive(ctx context.Context, s *act.Service, c act.Command, id string, place string) (store.Shelf, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Shelf, error) {
		x, err := store.Get[store.Delivery](tx.DB, id)
		if err != nil {
			return store.Shelf{}, err
		}
		if strings.TrimSpace(place) == "" {
			return store.Shelf{}, fault.New("place", place, "where they lie")
		}
		had, err := store.List[store.Shelf](
			tx.DB,
			"id",
			"for_model_id = ? AND item = ? AND origin = ?",
			x.ModelID,
			x.Item,
			"lot "+x.Lot,
		)
		if err != nil {
			return store.Shelf{}, err
		}
		if len(had) > 0 {
			return store.Shelf{}, fault.New("lot", x.Lot, "a lot that was not put into stock before")
		}
		row := store.Shelf{
			ShelfFacts: store.ShelfFacts{
				ModelID:  x.ModelID,
				Item:     x.Item,
				Grade:    x.Grade,
				Quantity: x.Size - x.Bad,
				Place:    place,
				Origin:   "lot " + x.Lot,
			},
		}
		return row, store.Create(tx, &row)
	})
}
