package needs

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/fit"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/basket"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// Wish is what a basket is asked for.
type Wish struct {
	Needs      []Chosen   `json:"needs" minItems:"1" maxItems:"200" nullable:"false"`
	Weeks      float64    `json:"weeks,omitempty" minimum:"0" maximum:"52" doc:"as the needs were asked for"`
	Goal       float64    `json:"goal,omitempty" minimum:"0" maximum:"0.999"`
	New        bool       `json:"new,omitempty" doc:"no used parts"`
	Copies     bool       `json:"copies,omitempty" doc:"copies too"`
	Deadline   float64    `json:"deadline,omitempty" minimum:"0" maximum:"365" doc:"days; 0: any"`
	MaxSellers int        `json:"max_sellers,omitempty" minimum:"0" maximum:"20"`
	Missing    string     `json:"missing,omitempty" enum:"exclude,price,warn," doc:"what becomes of a piece that loses functions: left out, priced by what the office says that they are worth, or kept and named"`
	Show       string     `json:"show,omitempty" pattern:"^([A-Z]{3})?$" doc:"a currency in which the total is told as well"`
	Overrides  []Override `json:"overrides,omitempty" nullable:"false" maxItems:"40"`
	Stated     float64    `json:"stated,omitempty" minimum:"0" maximum:"10000000" doc:"a total that a seller wrote, in its currency"`
	StatedIn   string     `json:"stated_in,omitempty" pattern:"^([A-Z]{3})?$"`
}

// Chosen is a need with how many are bought; 0: as many as it says.
type Chosen struct {
	ID       string `json:"id" maxLength:"120"`
	Quantity int    `json:"quantity,omitempty" minimum:"0" maximum:"1000"`
}

// Override brings an offer back that was left out.
type Override struct {
	OfferID string `json:"offer_id" format:"uuid"`
	Why     string `json:"why" minLength:"1" maxLength:"200"`
}

// Line is a bought offer.
type Line struct {
	OfferID string `json:"offer_id"`
	Title   string `json:"title"`
	Packs   int    `json:"packs"`
	Each    string `json:"each"`
	Sum     string `json:"sum"`
	Why     string `json:"why" doc:"grade, lot, which models it serves, what speaks for or against it"`
	Note    string `json:"note,omitempty" doc:"bought against the advice: who and why; it goes onto the order"`
	Old     int    `json:"days_old,omitempty" doc:"of the price, where it is old"`
}

// Part is what is bought of one seller.
type Part struct {
	ID       string `json:"id"`
	Name     string `json:"name"`
	Days     string `json:"days" doc:"until it is there"`
	Shipping string `json:"shipping"`
	Coupon   string `json:"coupon,omitempty"`
	Total    string `json:"total"`
	Lines    []Line `json:"lines" nullable:"false"`
}

// Left is an offer that was left out.
type Left struct {
	OfferID string `json:"offer_id"`
	Title   string `json:"title"`
	Seller  string `json:"seller"`
	Why     string `json:"why"`
	May     bool   `json:"may" doc:"it can be taken all the same, with a reason"`
}

// Basket is the cheapest way to buy what was chosen.
type Basket struct {
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	Currency string          `json:"currency"`
	Sellers  []Part          `json:"sellers" nullable:"false"`
	Parts    string          `json:"parts"`
	Delivery string          `json:"delivery"`
	Total    string          `json:"total"`
	Again    string          `json:"again,omitempty" doc:"what bad ones cost on average, on top"`
	Empty    []string        `json:"empty" nullable:"false" doc:"needs without an offer, and why"`
	Left     []Left          `json:"left" nullable:"false"`
	Unrated  []string        `json:"unrated" nullable:"false" doc:"offers in a currency without a rate"`
	One      string          `json:"one,omitempty" doc:"what it costs from one seller alone"`
	Proven   bool            `json:"proven"`
	Gap      string          `json:"gap,omitempty" doc:"how far it may be from the cheapest"`
	Spare    []string        `json:"spare" nullable:"false"`
	Rates    []string        `json:"rates" nullable:"false" doc:"at which amounts were turned"`
	Stated   string          `json:"stated,omitempty"`
	Loss     string          `json:"loss,omitempty" doc:"what the functions are worth that bought pieces lose"`
	Other    string          `json:"other,omitempty" doc:"the total in the currency that was asked for"`
	Others   []string        `json:"others" nullable:"false" doc:"currencies with a rate"`
	Document basket.Input    `json:"document" doc:"the question as waryowl compute basket takes it"`
}

// slot is one or several needs that the same pieces fill.
type slot struct {
	id    string
	need  Need
	n     int
	asked int // as many as were asked for, where fewer are to be had
}

// slotsOf are the chosen needs; those that the same pieces fill are one.
func slotsOf(room Room, chosen []Chosen) ([]slot, error) {
	var list []slot
	for i, c := range chosen {
		k := slices.IndexFunc(room.Needs, func(n Need) bool { return n.ID == c.ID })
		if k < 0 {
			return nil, fault.New(fmt.Sprintf("needs[%d].id", i), c.ID, "a need of the list as it is now; it may be met by now")
		}
		n := room.Needs[k]
		q := c.Quantity
		if q == 0 {
			q = n.Quantity
		}
		at := slices.IndexFunc(list, func(s slot) bool {
			return s.need.Item == n.Item && slices.ContainsFunc(s.need.Models, func(m desk.Named) bool {
				return slices.ContainsFunc(n.Models, func(o desk.Named) bool { return o.ID == m.ID })
			})
		})
		if at >= 0 {
			list[at].n += q
			continue
		}
		list = append(list, slot{id: fmt.Sprintf("%s %d", n.Item, len(list)+1), need: n, n: q})
	}
	return list, nil
}

// asker puts the question of a basket together.
type asker struct {
	d       *desk.Desk
	now     time.Time
	slots   []slot
	wish    Wish
	who     string
	in      basket.Input
	offers  map[string]store.Offer
	sellers map[string]store.Seller
	days    map[string][2]float64
	fits    map[string]map[string]basket.Fitness // kind, model and lot
	unrated []string
}

// Buy finds the cheapest basket for chosen needs.
func Buy(ctx context.Context, s *act.Service, who string, w Wish) (Basket, error) {
	db := s.DB.WithContext(ctx)
	d, err := desk.Load(db, nil, false)
	if err != nil {
		return Basket{}, err
	}
	room, err := list(ctx, s, &d, Ask{w.Weeks, w.Goal})
	if err != nil {
		return Basket{}, err
	}
	a := &asker{d: &d, now: s.Now(), wish: w, who: who, offers: map[string]store.Offer{}, sellers: map[string]store.Seller{},
		days: map[string][2]float64{}, fits: map[string]map[string]basket.Fitness{}}
	if a.slots, err = slotsOf(room, w.Needs); err != nil {
		return Basket{}, err
	}
	if err := a.ask(ctx, db, s); err != nil {
		return Basket{}, err
	}
	if len(a.in.Offers) == 0 {
		return a.show(basket.Output{}), nil
	}
	found, err := basket.SolveContext(ctx, a.in)
	if err != nil {
		return Basket{}, err
	}
	v := a.show(found)
	if len(v.Sellers) > 1 {
		one := a.in
		one.MaxSellers = 1
		if out, err := basket.SolveContext(ctx, one); err == nil {
			v.One = a.alone(found, out)
		}
	}
	return v, nil
}

// ask puts the question together.
func (a *asker) ask(ctx context.Context, db *gorm.DB, s *act.Service) error {
	home := a.d.Workshop.Currency
	a.in = basket.Input{Currency: home, Today: a.now.Format(time.DateOnly), Rates: a.d.MinorRates(), Effort: 120_000,
		MaxSellers: a.wish.MaxSellers, Missing: "exclude"}
	if a.wish.Missing != "" {
		a.in.Missing = a.wish.Missing
	}
	a.in.Values = map[string]float64{}
	for _, f := range a.d.Workshop.FunctionValues {
		a.in.Values[f.Function] = float64(f.Worth)
	}
	if a.wish.Show != "" && a.wish.Show != home {
		a.in.Show = []string{a.wish.Show}
	}
	if a.wish.Deadline > 0 {
		a.in.DeadlineDays = &a.wish.Deadline
	}
	if a.wish.Stated > 0 {
		in := a.wish.StatedIn
		if in == "" {
			in = home
		}
		minor := desk.Minor(a.wish.Stated, in)
		a.in.StatedTotal, a.in.StatedIn = &minor, in
	}
	grades := []string{"original"}
	if !a.wish.New {
		grades = append(grades, "used")
	}
	if a.wish.Copies {
		grades = append(grades, "copy")
	}
	for _, x := range a.slots {
		n := x.n
		a.in.Slots = append(a.in.Slots, basket.Slot{ID: x.id, Quantity: &n, Grades: grades})
	}
	can := map[string]bool{home: true}
	for _, r := range a.in.Rates {
		if r.To == home || r.To == "" {
			can[r.From] = true
		}
	}
	for _, x := range a.d.Sellers {
		a.sellers[x.ID] = x
	}
	earlier, err := store.List[store.PurchaseOrder](db.Limit(500), "id DESC", "sent_on > ?", a.now.AddDate(-1, 0, 0))
	if err != nil {
		return err
	}
	for _, o := range a.d.Offers {
		seller, known := a.sellers[o.SellerID]
		covers := map[string]int{}
		for _, x := range a.slots {
			if serves(o, x.need) {
				covers[x.id] = o.Covers[x.need.Item]
			}
		}
		if !known || len(covers) == 0 || o.Stock == 0 || !slices.Contains(grades, o.Grade) {
			continue
		}
		if !can[o.Currency] || !can[seller.Currency] {
			a.unrated = append(a.unrated, fmt.Sprintf("%s: no rate from %s to %s", o.Title, o.Currency, home))
			continue
		}
		if _, asked := a.days[seller.ID]; !asked {
			p50, p90 := desk.RecordOf(seller.ID, earlier, nil).Lead(seller)
			a.days[seller.ID] = [2]float64{p50, p90}
			a.in.Sellers = append(a.in.Sellers, terms(seller))
		}
		x := basket.Offer{ID: o.ID, Seller: o.SellerID, Price: o.Price, Currency: o.Currency, Covers: covers, Grade: o.Grade,
			Stock: o.Stock, LeadDays: a.days[seller.ID][1], Code: o.Code, Date: o.PricedOn.Format(time.DateOnly),
			Returns: basket.Returns{Refund: seller.Refund, Cost: seller.ReturnCost}}
		if o.LeadDays > 0 {
			x.LeadDays = o.LeadDays
		}
		x.Defects.K, x.Defects.N = a.d.Defects(o)
		x.Defects.Lot = o.Lot
		k, n, failed, err := a.d.Failed(o)
		if err != nil {
			return err
		}
		if failed {
			x.LotFailed = &basket.LotFailed{K: k, N: n}
		}
		if x.Fit, err = a.fit(ctx, s, o); err != nil {
			return err
		}
		a.offers[o.ID] = o
		a.in.Offers = append(a.in.Offers, x)
	}
	for i, o := range a.wish.Overrides {
		if _, here := a.offers[o.OfferID]; !here {
			return fault.New(fmt.Sprintf("overrides[%d].offer_id", i), o.OfferID, "an offer for one of these needs")
		}
		a.in.Overrides = append(a.in.Overrides, basket.Override{Offer: o.OfferID, Why: o.Why, Who: a.who})
	}
	a.atMost()
	return nil
}

// atMost asks for no more than is to be had: the rest is said, and what there is is bought.
func (a *asker) atMost() {
	for i := range a.slots {
		x, have := &a.slots[i], 0
		for _, o := range a.in.Offers {
			brought := slices.ContainsFunc(a.in.Overrides, func(v basket.Override) bool { return v.Offer == o.ID })
			if (o.LotFailed == nil || brought) && (a.in.DeadlineDays == nil || o.LeadDays <= *a.in.DeadlineDays) {
				have += o.Covers[x.id] * o.Stock
			}
		}
		if have > 0 && have < x.n {
			x.asked, x.n = x.n, have
			a.in.Slots[i].Quantity = &x.n
		}
	}
}

func terms(x store.Seller) basket.Seller {
	t := basket.Seller{ID: x.ID, Currency: x.Currency, Shipping: x.Shipping, FreeAbove: x.FreeAbove}
	for _, c := range x.Coupons {
		t.Coupons = append(t.Coupons, basket.Coupon{Percent: c.Percent, Fixed: c.Fixed, Above: c.Above})
	}
	return t
}

// fit is what tests say of a lot of copies in the model that it is for; nil where none was tried by its name.
func (a *asker) fit(ctx context.Context, s *act.Service, o store.Offer) (*basket.Fitness, error) {
	if o.Grade != "copy" || o.Lot == "" || len(o.Covers) != 1 {
		return nil, nil
	}
	var kind string
	for k := range o.Covers {
		kind = k
	}
	if _, asked := a.fits[kind]; !asked {
		a.fits[kind] = map[string]basket.Fitness{}
		room, err := fit.Standing(ctx, s, fit.Ask{Kind: kind, Level: "notice", Confidence: 0.9})
		if err != nil {
			return nil, err
		}
		names := map[string]string{}
		for _, c := range room.Checks {
			names[c.Mark] = c.Name
		}
		for _, l := range room.Lines {
			for _, p := range room.Found.Pairs {
				if !l.Copy || p.Donor != l.ID || p.Host != l.For {
					continue
				}
				f := basket.Fitness{Serves: p.Serves, Grade: p.Grade, Level: p.Level}
				for mark := range p.Lost {
					name := names[mark]
					if name == "" {
						name = mark
					}
					f.Lost = append(f.Lost, name)
				}
				slices.Sort(f.Lost)
				a.fits[kind][l.For+strings.ToLower(l.Name)] = f
			}
		}
	}
	if f, known := a.fits[kind][o.ModelID+strings.ToLower(o.Lot)]; known {
		return &f, nil
	}
	return nil, nil
}

// money says an amount of the workshop's currency.
func (a *asker) money(minor float64) string {
	return desk.Money(math.Floor(minor+0.5), a.d.Workshop.Currency)
}

// alone says what one seller alone would cost.
func (a *asker) alone(all, one basket.Output) string {
	switch lack := len(one.Unpriced) - len(all.Unpriced); {
	case lack > 0:
		return fmt.Sprintf("no seller alone has all of it: the best lacks %s", answer.Counted(lack, "part"))
	case len(one.Sellers) == 0:
		return ""
	}
	return fmt.Sprintf("from %s alone: %s more", a.sellers[one.Sellers[0].Seller].Name, a.money(one.Expected-all.Expected))
}
