package parts

import (
	"context"
	"fmt"
	"math"
	"slices"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/basket"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/route"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// oldDays is from when on an offer says how old it is (house).
const oldDays = 30

// Build is the job of building a phone of bought parts.
const Build = "build"

// SlotView is a slot of a build with who fills it.
type SlotView struct {
	ID        string   `json:"id"`
	Name      string   `json:"name"`
	From      string   `json:"from" doc:"where it comes from: part, consumable, screws"`
	Quantity  int      `json:"quantity"`
	Forgotten bool     `json:"forgotten"`
	Offers    int      `json:"offers" doc:"that could fill it"`
	Filled    []string `json:"filled" nullable:"false" doc:"offers of the basket that fill it"`
}

// LineView is a bought offer with its names.
type LineView struct {
	Offer  string  `json:"offer_id"`
	Title  string  `json:"title"`
	Seller string  `json:"seller"`
	Packs  int     `json:"packs"`
	Price  float64 `json:"price"`
	Grade  string  `json:"grade"`
	Days   int     `json:"days_old"`
	Extra  float64 `json:"extra" doc:"what the basket costs more without it; -1: a slot stays empty; 0 where not asked"`
}

// BasketRoom is the cheapest basket for a job or a build.
type BasketRoom struct {
	Answer   answer.Sentence   `json:"answer" nullable:"false"`
	Model    desk.Named        `json:"model"`
	Job      string            `json:"job"`
	Currency string            `json:"currency"`
	Slots    []SlotView        `json:"slots" nullable:"false"`
	Lines    []LineView        `json:"lines" nullable:"false"`
	Found    basket.Output     `json:"found"`
	Sellers  map[string]string `json:"sellers" doc:"names by id"`
	Dated    []string          `json:"dated" nullable:"false" doc:"offers whose price is older than 30 days"`
	Left     []string          `json:"left" nullable:"false" doc:"what was not counted, and why"`
	Document basket.Input      `json:"document" doc:"the question as waryowl compute basket takes it"`
}

// AskBasket is what a basket is asked for.
type AskBasket struct {
	ModelID, Job string
	Deadline     float64
	Stated       float64
	Alternatives bool
	Used, Copies bool   // may be bought
	Without      string // an offer that is gone
}

// SlotsOf are the slots of a job or a build: its parts, what closing needs anew, and the screws on the way, which builds forget.
func SlotsOf(k *model.Record, job string) ([]SlotView, [][]string, error) {
	var slots []SlotView
	add := func(id, from string, forgotten bool) {
		id = desk.Slot(id)
		at := slices.IndexFunc(slots, func(s SlotView) bool { return s.ID == id })
		switch {
		case id == "":
			return
		case at >= 0 && from == "part": // two brackets are two pieces of one slot
			slots[at].Quantity++
			return
		case at >= 0:
			return
		}
		slots = append(
			slots,
			SlotView{ID: id, Name: desk.Said(id), From: from, Quantity: 1, Forgotten: forgotten, Filled: []string{}},
		)
	}
	name := func(p store.Part) string {
		if kind := k.Kind(p.ID); kind != "" {
			return kind
		}
		return p.Name
	}
	var steps []store.PlanStep
	var bound [][]string
	if job == Build {
		for _, p := range k.Parts {
			if p.Inside != "" && k.PartNamed(p.Inside) != nil {
				continue // it comes with what it sits in
			}
			add(name(p), "part", false)
		}
		for _, p := range k.Parts {
			if m := k.PartNamed(p.Mate); p.Mate != "" && m != nil && desk.Slot(name(p)) < desk.Slot(name(*m)) &&
				p.Inside == "" &&
				m.Inside == "" {
				bound = append(bound, []string{desk.Slot(name(p)), desk.Slot(name(*m))})
			}
		}
		steps = k.Steps
	} else {
		kind, known := kindOf(job)
		if !known {
			return nil, nil, fault.New("job", job, "build, battery, screen, back-glass, port or camera")
		}
		p := k.OfKind(kind)
		if p == nil {
			return nil, nil, fault.New("job", job, "a job whose part is on record for this model")
		}
		add(kind, "part", false)
		if w := k.WayTo(p.ID); w != nil {
			for _, s := range w.Steps {
				steps = append(steps, k.StepByID[s.ID])
			}
		}
	}
	for _, s := range steps {
		if s.Consumable != "" {
			add(s.Consumable, "consumable", true)
		}
	}
	for _, s := range steps {
		if trade.Threaded(s.Joint) {
			add("screws", "screws", true)
			break
		}
	}
	return slots, bound, nil
}

func kindOf(job string) (string, bool) {
	for _, j := range model.JobKinds {
		if desk.Slot(j.Job) == desk.Slot(job) {
			return j.Kind, true
		}
	}
	return "", false
}

// FindBasket finds the cheapest basket of a job or a build.
func FindBasket(ctx context.Context, s *act.Service, q AskBasket) (BasketRoom, error) {
	db := s.DB.WithContext(ctx)
	k, err := model.Load(db, q.ModelID)
	if err != nil {
		return BasketRoom{}, err
	}
	d, err := desk.Load(db, []string{q.ModelID}, false)
	if err != nil {
		return BasketRoom{}, err
	}
	v := BasketRoom{
		Model:    desk.Named{ID: k.ID, Name: k.Maker + " " + k.Name},
		Job:      q.Job,
		Currency: d.Workshop.Currency,
		Lines:    []LineView{},
		Sellers:  map[string]string{},
		Dated:    []string{},
		Left:     []string{},
	}
	var bound [][]string
	if v.Slots, bound, err = SlotsOf(k, q.Job); err != nil {
		return v, err
	}
	today := s.Now()
	in := basket.Input{
		Currency:     v.Currency,
		Today:        today.Format(time.DateOnly),
		Bound:        bound,
		Alternatives: q.Alternatives,
		Effort:       120_000,
	}
	if q.Deadline > 0 {
		in.DeadlineDays = &q.Deadline
	}
	if q.Stated > 0 {
		in.StatedTotal = &q.Stated
	}
	grades := []string{"original"}
	if q.Used {
		grades = append(grades, "used")
	}
	if q.Copies {
		grades = append(grades, "copy")
	}
	for _, x := range v.Slots {
		n := x.Quantity
		in.Slots = append(in.Slots, basket.Slot{ID: x.ID, Quantity: &n, Grades: grades, Forgotten: x.Forgotten})
	}
	rates := d.MinorRates()
	in.Rates = rates
	can := map[string]bool{in.Currency: true}
	for _, r := range rates {
		if r.To == in.Currency || r.To == "" {
			can[r.From] = true
		}
	}
	sellers := map[string]store.Seller{}
	for _, x := range d.Sellers {
		sellers[x.ID] = x
		v.Sellers[x.ID] = x.Name
	}
	asked := map[string]bool{}
	offers := map[string]store.Offer{}
	for _, o := range d.Offers {
		seller, known := sellers[o.SellerID]
		covers := map[string]int{}
		for slot, n := range o.Covers {
			if slices.ContainsFunc(v.Slots, func(x SlotView) bool { return x.ID == slot }) {
				covers[slot] = n
			}
		}
		switch {
		case !known || len(covers) == 0 || o.Stock == 0 || o.ID == q.Without:
			continue
		case !can[o.Currency] || !can[seller.Currency]:
			v.Left = append(v.Left, fmt.Sprintf("%s: no rate from %s to %s", o.Title, o.Currency, in.Currency))
			continue
		}
		lead := o.LeadDays
		if lead == 0 {
			lead = seller.LeadP90
		}
		x := basket.Offer{
			ID:       o.ID,
			Seller:   o.SellerID,
			Price:    o.Price,
			Currency: o.Currency,
			Covers:   covers,
			Grade:    o.Grade,
			Stock:    o.Stock,
			LeadDays: lead,
			Returns:  basket.Returns{Refund: seller.Refund, Cost: seller.ReturnCost},
		}
		x.Defects.K, x.Defects.N = d.Defects(o)
		in.Offers = append(in.Offers, x)
		offers[o.ID] = o
		for slot := range covers {
			if k := slices.IndexFunc(v.Slots, func(s SlotView) bool { return s.ID == slot }); slices.Contains(
				grades,
				o.Grade,
			) {
				v.Slots[k].Offers++
			}
		}
		if !asked[o.SellerID] {
			asked[o.SellerID] = true
			y := basket.Seller{
				ID:        seller.ID,
				Currency:  seller.Currency,
				Shipping:  seller.Shipping,
				FreeAbove: seller.FreeAbove,
			}
			for _, c := range seller.Coupons {
				y.Coupons = append(y.Coupons, basket.Coupon{Percent: c.Percent, Fixed: c.Fixed, Above: c.Above})
			}
			in.Sellers = append(in.Sellers, y)
		}
		if age := desk.Days(today, o.PricedOn); age > oldDays {
			v.Dated = append(v.Dated, fmt.Sprintf("%s: priced %d days ago", o.Title, age))
		}
	}
	if q.Job == Build {
		in.Compare = comparison(d, k)
	}
	v.Document = in
	if len(in.Offers) == 0 {
		v.Found = basket.Output{
			Lines:             []basket.Line{},
			Sellers:           []basket.Invoice{},
			Spare:             []basket.Spare{},
			Unpriced:          []string{},
			ForgottenUnpriced: []string{},
			Questions:         []basket.Question{},
		}
		v.Answer = answer.Sentence{
			answer.Text(
				fmt.Sprintf("None of the %d parts needed has an offer yet; enter or paste offers for the %s.", len(v.Slots),
					k.Name),
			),
		}
		return v, nil
	}
	if v.Found, err = basket.SolveContext(ctx, in); err != nil {
		return v, err
	}
	for i, l := range v.Found.Lines {
		o := offers[l.Offer]
		x := LineView{
			Offer:  l.Offer,
			Title:  o.Title,
			Seller: v.Sellers[o.SellerID],
			Packs:  l.Packs,
			Price:  l.Price,
			Grade:  o.Grade,
			Days:   desk.Days(today, o.PricedOn),
		}
		if i < len(v.Found.Without) {
			x.Extra = v.Found.Without[i].Extra
		}
		v.Lines = append(v.Lines, x)
		for j := range v.Slots {
			if o.Covers[v.Slots[j].ID] > 0 {
				v.Slots[j].Filled = append(v.Slots[j].Filled, o.ID)
			}
		}
	}
	v.sentence(in)
	return v, nil
}

func (v *BasketRoom) sentence(in basket.Input) {
	priced := len(v.Slots) - len(v.Found.Unpriced)
	v.Answer = answer.Sentence{
		answer.Number(float64(priced), "", "#slots"),
		answer.Text(fmt.Sprintf(" of %d parts needed priced, ", len(v.Slots))),
		answer.Name(desk.Money(v.Found.Expected, v.Currency), "#lines"),
	}
	if n := len(v.Found.Unpriced); n > 0 {
		v.Answer = append(v.Answer, answer.Text("; "), answer.Number(float64(n), "", "#slots"), answer.Text(" missing"))
	}
	if !v.Found.Proven {
		v.Answer = append(v.Answer, answer.Text(", not proven to be the cheapest"))
	}
	switch {
	case in.Compare != nil && v.Found.BreakEven != nil && len(v.Found.Unpriced) == 0:
		v.Answer = append(
			v.Answer,
			answer.Text(
				". At "+desk.Money(in.Compare.Refurbished, v.Currency)+" for a refurbished one it pays only above ",
			),
			answer.Number(math.Round(100**v.Found.BreakEven), "%", "#compare"),
		)
	case in.Compare != nil && v.Found.PriceRatio != nil:
		v.Answer = append(
			v.Answer,
			answer.Text(
				fmt.Sprintf(": without them it is already %.0f %% of a refurbished one", 100**v.Found.PriceRatio),
			),
		)
	}
	v.Answer = append(v.Answer, answer.Text("."))
}

// comparison is what a build is measured against, where the price of a refurbished phone is on record.
func comparison(d desk.Desk, k *model.Record) *basket.Compare {
	refurbished, known := d.Price(k.ID, "refurbished")
	if !known {
		return nil
	}
	c := &basket.Compare{Refurbished: refurbished, LabourPerHour: float64(d.Workshop.LabourMinor)}
	if salvage, known := d.Price(k.ID, "salvage"); known && salvage < refurbished {
		c.Salvage = salvage
	}
	q := k.Question(route.Attended)
	for _, s := range q.Steps {
		for _, part := range s.Frees {
			if !slices.Contains(q.Goal, part) {
				q.Goal = append(q.Goal, part)
			}
		}
	}
	q.Effort = 2000
	if out, err := route.SolveContext(k.Context(), q); err == nil {
		c.LabourSeconds = out.AttendedSeconds // putting together takes about as long as taking apart (house)
		survival := 1.0
		for _, p := range out.Survival {
			survival *= p
		}
		if survival > 0 {
			c.Survival = &survival
		}
	}
	return c
}
