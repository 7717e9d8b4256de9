package orders

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/gate"
	"waryowl/internal/core/order"
	"waryowl/internal/store"

	"gorm.io/gorm"
)

// Line is a line of an order with its names and what became of it.
type Line struct {
	store.OrderLine
	Model string `json:"model"`
	What  string `json:"what" doc:"the parts of a pack"`
	Open  int    `json:"open" doc:"packs still to come"`
	Each  string `json:"each"`
	Sum   string `json:"sum"`
	Moved string `json:"moved,omitempty" doc:"of a draft: the price of the offer is another by now"`
}

// Claim is what a seller owes for bad pieces.
type Claim struct {
	Receipt string     `json:"receipt"`
	Line    int        `json:"line"`
	Pieces  int        `json:"pieces"`
	Amount  string     `json:"amount"`
	By      *time.Time `json:"by"`
	Left    int        `json:"days_left"`
	Told    bool       `json:"told"`
	Text    string     `json:"text" doc:"of a mail to the seller"`
}

// View is an order as a page shows it.
type View struct {
	store.PurchaseOrder
	Seller   string     `json:"seller"`
	Rows     []Line     `json:"rows" nullable:"false"`
	Total    string     `json:"total"`
	Subtotal string     `json:"subtotal"`
	Shipping string     `json:"shipping"`
	Coupon   string     `json:"coupon,omitempty"`
	Home     string     `json:"home,omitempty" doc:"the total in the workshop's currency, with the rate and its day"`
	Due      *time.Time `json:"due,omitempty" doc:"by the usual days of the seller"`
	Late     *time.Time `json:"late,omitempty" doc:"nine of ten are there by then"`
	DaysLate int        `json:"days_late"`
	Says     string     `json:"says" doc:"where it stands, in words"`
	Claims   []Claim    `json:"claims" nullable:"false"`
	From     string     `json:"from,omitempty" doc:"the workshop's address"`
	Mail     Mail       `json:"mail"`
	Back     bool       `json:"may_back" doc:"it was sent within a day: it may be a draft again"`
	Came     int        `json:"packs_came"`
	Of       int        `json:"packs_ordered"`
}

// Mail is the text of an order, to be sent by a person.
type Mail struct {
	Subject string `json:"subject"`
	Body    string `json:"body"`
}

// Seller is a seller with what was promised and what came.
type Seller struct {
	ID       string     `json:"id"`
	Name     string     `json:"name"`
	Promised [2]float64 `json:"promised" doc:"days: usual, nine of ten"`
	Took     [2]float64 `json:"took" doc:"days: half, nine of ten; 0 before anything came"`
	Receipts int        `json:"receipts"`
	Bad      int        `json:"bad"`
	Seen     int        `json:"seen"`
	Rate     [2]float64 `json:"rate" doc:"share of bad ones, 95 % interval"`
	Own      bool       `json:"own" doc:"baskets count with what it took, not with what was promised"`
	Says     string     `json:"says"`
}

// Room is what is on order, and how sellers keep what they promise.
type Room struct {
	Answer  answer.Sentence `json:"answer" nullable:"false"`
	Orders  []View          `json:"orders" nullable:"false" doc:"drafts, then what is to come, the latest first, then what ended"`
	Sellers []Seller        `json:"sellers" nullable:"false"`
}

// shelfOf is what views are made of.
type shelfOf struct {
	sellers map[string]store.Seller
	models  map[string]string
	offers  map[string]store.Offer
	desk    desk.Desk
	now     time.Time
}

func load(db *gorm.DB, now time.Time, list []store.PurchaseOrder) (*shelfOf, error) {
	b := &shelfOf{sellers: map[string]store.Seller{}, models: map[string]string{}, offers: map[string]store.Offer{}, now: now}
	sellers, err := store.List[store.Seller](db.Unscoped(), "id", "1 = 1")
	if err != nil {
		return nil, err
	}
	for _, s := range sellers {
		b.sellers[s.ID] = s
	}
	var models, offers []string
	for _, o := range list {
		for _, l := range o.Lines {
			models = append(models, l.ModelID)
			if o.State == order.Draft {
				offers = append(offers, l.OfferID)
			}
		}
	}
	rows, err := store.List[store.Model](db.Unscoped(), "id", "id IN ?", append(models, ""))
	if err != nil {
		return nil, err
	}
	for _, m := range rows {
		b.models[m.ID] = m.Maker + " " + m.Name
	}
	priced, err := store.List[store.Offer](db, "id", "id IN ?", append(offers, ""))
	if err != nil {
		return nil, err
	}
	for _, o := range priced {
		b.offers[o.ID] = o
	}
	if b.desk, err = desk.Settings(db); err != nil {
		return nil, err
	}
	return b, nil
}

// What says what a pack holds.
func What(covers map[string]int) string {
	var list []string
	for _, s := range slices.Sorted(maps.Keys(covers)) {
		text := desk.Said(s)
		if covers[s] > 1 {
			text = fmt.Sprintf("%d × %s", covers[s], text)
		}
		list = append(list, text)
	}
	return strings.Join(list, ", ")
}

func (b *shelfOf) view(o store.PurchaseOrder) View {
	money := func(minor int64) string { return desk.Money(float64(minor), o.Currency) }
	v := View{PurchaseOrder: o, Seller: b.sellers[o.SellerID].Name, Rows: []Line{}, Total: money(o.Total),
		Subtotal: money(o.Subtotal), Shipping: money(o.Shipping), Claims: []Claim{}, From: b.desk.Workshop.Address}
	if o.Discount > 0 {
		v.Coupon = money(-o.Discount)
	}
	if home := b.desk.Workshop.Currency; home != o.Currency {
		if x, known := b.desk.In(float64(o.Total), o.Currency); known {
			for _, r := range b.desk.Rates() {
				if r.From == o.Currency && r.To == home {
					v.Home = fmt.Sprintf("%s at %g of %s", desk.Money(x, home), r.Rate, r.Date)
				}
			}
		}
	}
	for _, l := range o.Lines {
		x := Line{OrderLine: l, Model: b.models[l.ModelID], What: What(l.Covers), Open: desk.LineOf(l).Open(),
			Each: money(l.Price), Sum: money(int64(l.Quantity) * l.Price)}
		if offer, known := b.offers[l.OfferID]; known && o.State == order.Draft && offer.Price != l.Price {
			x.Moved = fmt.Sprintf("was %s, is %s", money(l.Price), money(offer.Price))
		}
		v.Came, v.Of = v.Came+l.Came, v.Of+l.Quantity
		v.Rows = append(v.Rows, x)
	}
	if o.SentOn != nil {
		due, late := desk.Due(o)
		v.Due, v.Late = &due, &late
		if order.Open(o.State) {
			v.DaysLate = max(0, desk.Days(b.now, late))
		}
		v.Back = o.State == order.Sent && b.now.Sub(*o.SentOn) < 24*time.Hour
	}
	b.claims(&v)
	v.Says = b.says(v)
	v.Mail = b.mail(v)
	return v
}

func (b *shelfOf) claims(v *View) {
	for _, r := range v.Receipts {
		if r.ClaimBy == nil {
			continue
		}
		l := v.Rows[slices.IndexFunc(v.Rows, func(l Line) bool { return l.No == r.Line })]
		amount := desk.Money(float64(r.Claim), v.Currency)
		c := Claim{Receipt: r.ID, Line: r.Line, Pieces: r.Bad, Amount: amount, By: r.ClaimBy,
			Left: int(math.Ceil(r.ClaimBy.Sub(b.now).Hours() / 24)), Told: r.ClaimDone}
		c.Text = fmt.Sprintf("%s,\n\nof order %s came on %s: %d of %d × %s%s. %s bad. "+
			"By your terms we ask for %s back.\n", b.greeting(v.SellerID), v.Number, r.On.Format(time.DateOnly), r.Came,
			l.Quantity, l.Title, lotted(r.Lot), answer.Title(plural(r.Bad)), amount)
		v.Claims = append(v.Claims, c)
	}
}

func lotted(lot string) string {
	if lot == "" {
		return ""
	}
	return ", lot " + lot
}

func plural(n int) string {
	if n == 1 {
		return "1 piece is"
	}
	return fmt.Sprintf("%d pieces are", n)
}

func (b *shelfOf) greeting(seller string) string {
	if g := b.sellers[seller].Greeting; g != "" {
		return g
	}
	return "Good day"
}

// says says where an order stands.
func (b *shelfOf) says(v View) string {
	switch v.State {
	case order.Draft:
		return "draft: not sent yet"
	case order.Cancelled:
		return strings.TrimSuffix("cancelled: "+v.Why, ": ")
	case order.Received:
		return "all of it is here"
	}
	text := fmt.Sprintf("%d of %d came", v.Came, v.Of)
	if v.Came == 0 {
		text = "on its way"
	}
	switch {
	case v.DaysLate > 0:
		text += fmt.Sprintf("; %s late", answer.Counted(v.DaysLate, "day"))
		if n := len(v.AskedOn); n > 0 {
			text += fmt.Sprintf(", asked %s", answer.Counted(n, "time"))
		}
	case v.Due != nil:
		text += "; due " + v.Due.Format(time.DateOnly)
	}
	return text
}

// mail is the order as a text.
func (b *shelfOf) mail(v View) Mail {
	var text strings.Builder
	fmt.Fprintf(&text, "%s,\n\nwe order:\n\n", b.greeting(v.SellerID))
	for _, l := range v.Rows {
		code := ""
		if l.Code != "" {
			code = l.Code + " "
		}
		fmt.Fprintf(&text, "%d × %s%s, for the %s  %s\n", l.Quantity, code, l.Title, l.Model,
			desk.Money(float64(l.Price), v.Currency))
	}
	if v.Coupon != "" {
		fmt.Fprintf(&text, "\ncoupon %s", v.Coupon)
	}
	fmt.Fprintf(&text, "\nshipping %s\ntotal %s\n", v.Shipping, v.Total)
	if v.WantedBy != nil {
		fmt.Fprintf(&text, "\nPlease deliver by %s.\n", v.WantedBy.Format(time.DateOnly))
	}
	text.WriteString("\nWhat is bad or not what was ordered goes back by your terms.\n")
	if v.From != "" {
		text.WriteString("\n" + v.From + "\n")
	}
	return Mail{Subject: "Order " + v.Number, Body: text.String()}
}

// Show is one order.
func Show(ctx context.Context, s *act.Service, id string) (View, error) {
	db := s.DB.WithContext(ctx)
	o, err := store.Get[store.PurchaseOrder](db, id)
	if err != nil {
		return View{}, err
	}
	b, err := load(db, s.Now(), []store.PurchaseOrder{*o})
	if err != nil {
		return View{}, err
	}
	return b.view(*o), nil
}

// mostEnded is how many orders that ended are listed.
const mostEnded = 200

// List is what is on order.
func List(ctx context.Context, s *act.Service) (Room, error) {
	db := s.DB.WithContext(ctx)
	v := Room{Orders: []View{}, Sellers: []Seller{}}
	open, err := store.List[store.PurchaseOrder](db, "number DESC", "state IN ?", []string{order.Draft, order.Sent, order.Part})
	if err != nil {
		return v, err
	}
	ended, err := store.List[store.PurchaseOrder](db.Limit(mostEnded), "number DESC", "state IN ?",
		[]string{order.Received, order.Cancelled})
	if err != nil {
		return v, err
	}
	all := append(open, ended...)
	b, err := load(db, s.Now(), all)
	if err != nil {
		return v, err
	}
	drafts, late, coming := 0, 0, 0
	for _, o := range all {
		x := b.view(o)
		v.Orders = append(v.Orders, x)
		switch {
		case o.State == order.Draft:
			drafts++
		case x.DaysLate > 0:
			late++
		}
		if order.Open(o.State) {
			coming++
		}
	}
	rank := func(x View) int {
		switch {
		case x.State == order.Draft:
			return 0
		case order.Open(x.State):
			return 1
		}
		return 2
	}
	slices.SortStableFunc(v.Orders, func(a, b View) int {
		if d := rank(a) - rank(b); d != 0 {
			return d
		}
		return b.DaysLate - a.DaysLate
	})
	if v.Sellers, err = b.records(db, all); err != nil {
		return v, err
	}
	v.Answer = sentence(drafts, coming, late)
	return v, nil
}

func sentence(drafts, coming, late int) answer.Sentence {
	if drafts+coming == 0 {
		return answer.Sentence{answer.Text("Nothing is on order; choose what is needed, and orders are made of it.")}
	}
	s := answer.Sentence{}
	if coming > 0 {
		s = append(s, answer.Count(coming, "order", "#orders"), answer.Text(" under way"))
		if late > 0 {
			s = append(s, answer.Text(", "), answer.Number(float64(late), "", "#orders"), answer.Text(" late"))
		}
	}
	if drafts > 0 {
		if coming > 0 {
			s = append(s, answer.Text("; "))
		}
		s = append(s, answer.Count(drafts, "draft", "#orders"), answer.Text(" not sent"))
	}
	return append(s, answer.Text("."))
}

// records are what sellers promised and what came.
func (b *shelfOf) records(db *gorm.DB, orders []store.PurchaseOrder) ([]Seller, error) {
	deliveries, err := store.List[store.Delivery](db.Limit(3000), "id DESC", "1 = 1")
	if err != nil {
		return nil, err
	}
	list := []Seller{}
	for _, x := range b.sellers {
		if x.DeletedAt.Valid {
			continue
		}
		r := desk.RecordOf(x.ID, orders, deliveries)
		y := Seller{ID: x.ID, Name: x.Name, Promised: [2]float64{x.LeadP50, x.LeadP90}, Receipts: len(r.Days), Bad: r.K, Seen: r.N}
		p50, p90 := r.Lead(x)
		y.Own = [2]float64{p50, p90} != y.Promised
		if len(r.Days) > 0 {
			y.Took = [2]float64{order.Quantile(r.Days, 0.5), order.Quantile(r.Days, 0.9)}
		}
		if r.N > 0 {
			plan, err := gate.Inspect(gate.Delivery{AQL: 0.02, LTPD: 0.1, K: r.K, N: r.N})
			if err != nil {
				return nil, err
			}
			y.Rate = plan.Interval
		}
		y.Says = kept(y)
		list = append(list, y)
	}
	slices.SortFunc(list, func(a, b Seller) int { return strings.Compare(a.Name, b.Name) })
	return list, nil
}

func kept(y Seller) string {
	text := "nothing came of an order yet"
	switch {
	case y.Receipts > 0 && y.Promised[1] == 0:
		text = fmt.Sprintf("took %.0f to %.0f days; promised nothing", y.Took[0], y.Took[1])
	case y.Receipts > 0:
		text = fmt.Sprintf("took %.0f to %.0f days, promised %.0f to %.0f", y.Took[0], y.Took[1], y.Promised[0], y.Promised[1])
	}
	if y.Seen > 0 {
		text += fmt.Sprintf("; %d of %d bad", y.Bad, y.Seen)
	}
	return text
}
