package app_test

import (
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/desk"
	"waryowl/internal/app/fit"
	"waryowl/internal/app/needs"
	"waryowl/internal/app/offers"
	"waryowl/internal/app/orders"
	"waryowl/internal/app/parts"
	"waryowl/internal/core/pricelist"
	"waryowl/internal/store"
)

// see reads a list, and puts it in as it was seen.
func (c counter) see(l offers.List) offers.Look {
	c.t.Helper()
	v, err := offers.See(context.Background(), c.Service, l)
	c.must(err)
	return v
}

func (c counter) put(l offers.List) offers.Done {
	c.t.Helper()
	d, err := offers.Import(context.Background(), c.Service, command(),
		offers.Put{ID: store.NewID(), List: l, Known: c.see(l).Known})
	c.must(err)
	return d
}

// TestAListIsPutInOnce: a list asks what it leaves open, is put in whole, updates what it said before instead of
// doubling it, remembers its answers, and is taken back as one.
func TestAListIsPutInOnce(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	l := offers.List{Name: "list.csv", Model: c.model, Seller: "North", Currency: "EUR",
		File: []byte("code;item;slot;quality;unit price\nb1;Battery;battery;OEM;1.900\nd1;Display;display;pulled;2.400\n")}
	v := c.see(l)
	if len(v.Questions) != 1 || v.Questions[0].ID != "price.decimal" || v.Counts.Asked != 2 {
		t.Fatalf("asked: %+v, %+v", v.Questions, v.Counts)
	}
	_, err := offers.Import(ctx, c.Service, command(), offers.Put{ID: store.NewID(), List: l, Known: v.Known})
	if field(t, err) != "answers" {
		t.Errorf("put in before it was answered: %v", err)
	}
	l.Answers = map[string]string{"price.decimal": "."}
	v = c.see(l)
	if v.Counts.Asked != 0 || v.Counts.Wrong != 2 { // 1.9 euro is fine, a third digit is not
		l.Answers["price.decimal"] = ","
		v = c.see(l)
	}
	if v.Counts.New != 2 || !strings.Contains(v.Rows[0].Says, "1900.00 EUR") {
		t.Fatalf("%+v %+v", v.Counts, v.Rows)
	}
	first := c.put(l)
	if first.New != 2 {
		t.Fatalf("%+v", first)
	}
	// The next list says one other price, and a model by its column; its answer is known already.
	next := offers.List{Name: "next.csv", Seller: "North", Currency: "EUR", File: []byte(
		"model;code;item;slot;quality;unit price\nAtoll 9;b1;Battery;battery;OEM;1.850\nAtoll 9;d1;Display;display;pulled;2.400\n" +
			"Atoll 99;d2;Display;display;pulled;2.400\nAtoll 9;x;Spare;batery;OEM;1.000\n")}
	v = c.see(next)
	if strings.Join(v.Remembered, "") != "price.decimal" || v.Counts.Changed != 1 || v.Counts.Same != 1 || v.Counts.Wrong != 2 {
		t.Fatalf("%v %+v", v.Remembered, v.Counts)
	}
	if got := fmt.Sprint(v.Errors[1].Near); got != "[battery]" {
		t.Errorf("near batery: %s", got)
	}
	if got := v.Rows[0].Changed; len(got) != 1 || got[0] != "price 1850.00 EUR, was 1900.00 EUR" {
		t.Errorf("%v", got)
	}
	next.Cells = []pricelist.Mended{{Line: 4, Column: "A", Text: "Atoll 9"}, {Line: 5, Column: "D", Text: "battery"}}
	second := c.put(next)
	if second.New != 2 || second.Changes != 1 {
		t.Fatalf("%+v", second)
	}
	if _, err := offers.Import(ctx, c.Service, command(), offers.Put{ID: store.NewID(), List: next, Known: v.Known}); field(t,
		err) != "known" {
		t.Errorf("put in as it was seen before another list: %v", err)
	}
	// One of its offers is ordered: that one stays when the list is taken back.
	rows, err := store.List[store.Offer](c.DB, "id", "code = 'd2'")
	c.must(err)
	_, err = orders.Make(ctx, c.Service, command(), orders.New{Lines: []orders.NewLine{{OfferID: rows[0].ID, Quantity: 1}}})
	c.must(err)
	gone, err := offers.Undo(ctx, c.Service, command(), second.ID, 1)
	c.must(err)
	if len(gone.Kept) != 1 || !strings.Contains(gone.Kept[0], "is in order") {
		t.Errorf("kept: %v", gone.Kept)
	}
	left, err := store.List[store.Offer](c.DB, "code", "1 = 1")
	c.must(err)
	if len(left) != 3 || left[0].Price != 190000 || left[0].Version != 3 {
		t.Errorf("after it was taken back: %+v", left)
	}
	if list, err := offers.Imports(ctx, c.Service); err != nil || len(list) != 2 || !list[0].Undone || list[1].New != 2 {
		t.Errorf("%+v, %v", list, err)
	}
}

// TestFiveThousandOffers: a long list goes in as one, and a second time changes nothing.
func TestFiveThousandOffers(t *testing.T) {
	c := newCounter(t)
	var text strings.Builder
	text.WriteString("seller,code,title,covers,grade,price,currency\n")
	for k := range 5000 {
		fmt.Fprintf(&text, "North,c%d,Piece %d,battery,copy,%d.50,EUR\n", k, k, k%90+1)
	}
	l := offers.List{Name: "long.csv", Model: c.model, File: []byte(text.String())}
	if d := c.put(l); d.New != 5000 {
		t.Fatalf("%+v", d)
	}
	if v := c.see(l); v.Counts.Same != 5000 || len(v.Rows) != 200 {
		t.Errorf("again: %+v, %d rows shown", v.Counts, len(v.Rows))
	}
}

// TestFromNeedsToTheShelf: a job waits for a piece; its need is bought, ordered, sent, comes short and with a bad piece;
// shelf, position, claim and the seller's record follow.
func TestFromNeedsToTheShelf(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	c.must(c.offer(c.north, "battery, original", map[string]int{"battery": 1}, "original", 1900, "EUR"))
	c.must(c.offer(c.south, "battery, copy", map[string]int{"battery": 1}, "copy", 900, "SEK"))
	c.asked(c.model, "battery", "promised", 3)
	list := func() needs.Room {
		v, err := needs.List(ctx, c.Service, needs.Ask{})
		c.must(err)
		return v
	}
	room := list()
	if len(room.Needs) == 0 || room.Needs[0].Quantity < 3 || room.Needs[0].Offers != 2 ||
		!strings.Contains(room.Needs[0].Why, "3 jobs without a piece") {
		t.Fatalf("%+v", room.Needs)
	}
	buy := func(w needs.Wish) needs.Basket {
		v, err := needs.Buy(ctx, c.Service, "Ivo", w)
		c.must(err)
		return v
	}
	id := room.Needs[0].ID
	if b := buy(needs.Wish{Needs: []needs.Chosen{{ID: id, Quantity: 4}}}); !strings.Contains(words(b.Answer), "Order 3") ||
		len(b.Empty) != 1 || !strings.Contains(b.Empty[0], "only 3 of 4 are to be had") || len(b.Unrated) != 0 {
		t.Errorf("three are to be had: %s %v %v", words(b.Answer), b.Empty, b.Unrated)
	}
	rows, err := store.List[store.Offer](c.DB, "id", "grade = 'original'")
	c.must(err)
	f := rows[0].OfferFacts
	f.Stock = 9
	_, err = parts.Change[store.Offer, store.OfferFacts, *store.Offer](ctx, c.Service, command(), rows[0].ID, 1, f)
	c.must(err)
	b := buy(needs.Wish{Needs: []needs.Chosen{{ID: id, Quantity: 4}}})
	if len(b.Sellers) != 1 || b.Sellers[0].Name != "North" || !strings.Contains(words(b.Answer), "Order 4") {
		t.Fatalf("%s %+v", words(b.Answer), b.Sellers)
	}
	made, err := orders.Make(ctx, c.Service, command(), orders.New{Lines: []orders.NewLine{{OfferID: b.Sellers[0].Lines[0].OfferID,
		Quantity: b.Sellers[0].Lines[0].Packs}}, ForJobs: "41"})
	c.must(err)
	o := made.Orders[0]
	if want := fmt.Sprintf("%d-0001", c.Now().Year()); o.Number != want || o.Subtotal != 7600 || o.Total != o.Subtotal+o.Shipping {
		t.Errorf("%+v", o)
	}
	again := orders.New{Lines: []orders.NewLine{{OfferID: o.Lines[0].OfferID, Quantity: 1}}}
	if _, err := orders.Make(ctx, c.Service, command(), again); field(t, err) != "sure" {
		t.Errorf("ordered twice without a question: %v", err)
	}
	if _, err := orders.Receive(ctx, c.Service, command(), o.ID, 1, orders.Receipt{ID: store.NewID(), Line: 1, Came: 1,
		Good: 1, Place: "drawer"}); field(t, err) != "state" {
		t.Errorf("a draft was received: %v", err)
	}
	o, err = orders.Move(ctx, c.Service, command(), o.ID, 1, orders.Step{State: "sent"})
	c.must(err)
	if r := list(); len(r.Needs) > 0 && strings.Contains(r.Needs[0].Why, "without a piece") {
		t.Errorf("on order, and still without a piece: %+v", r.Needs[0])
	}
	o, err = orders.Receive(ctx, c.Service, command(), o.ID, o.Version, orders.Receipt{ID: store.NewID(), Line: 1, Came: 3, Good: 1,
		Bad: 1, Lot: "n-7", Place: "drawer 2", Reasons: []string{"swollen"}})
	c.must(err)
	v, err := orders.Show(ctx, c.Service, o.ID)
	c.must(err)
	if v.State != "part received" || v.Rows[0].Open != 1 || len(v.Claims) != 1 || !strings.HasPrefix(v.Says, "3 of 4 came") {
		t.Errorf("%s, %+v, %+v", v.Says, v.Rows, v.Claims)
	}
	d, err := desk.Load(c.DB, nil, false)
	c.must(err)
	if n := d.Usable(c.model, "battery", time.Now()); n != 0 {
		t.Errorf("%d may be used of a lot with a bad one that was not looked at whole", n)
	}
	if list := d.Coming(c.model, "battery"); len(list) != 1 || list[0].Pieces != 1 {
		t.Errorf("still to come: %+v", list)
	}
	// The third piece is looked at, and leaves quarantine for the shelf.
	lot := d.Deliveries[0]
	if lot.Size != 3 || lot.Inspected != 2 || lot.Bad != 1 || lot.Stocked != 1 || lot.OrderID != o.ID {
		t.Fatalf("the lot: %+v", lot)
	}
	looked := lot.DeliveryFacts
	looked.Inspected = 3
	_, err = parts.Change[store.Delivery, store.DeliveryFacts, *store.Delivery](ctx, c.Service, command(), lot.ID, lot.Version, looked)
	c.must(err)
	shelf, err := parts.Receive(ctx, c.Service, command(), lot.ID, "drawer 2")
	c.must(err)
	if shelf.Quantity != 1 || shelf.Cost == 0 {
		t.Errorf("%+v", shelf)
	}
	d, err = desk.Load(c.DB, nil, false)
	c.must(err)
	if n := d.Usable(c.model, "battery", time.Now()); n != 2 {
		t.Errorf("%d on the shelf after the third was looked at", n)
	}
	// What never comes is written off; then the order is done, and stays so.
	o, err = orders.WriteOff(ctx, c.Service, command(), o.ID, o.Version, orders.Rest{Line: 1, Why: "sold out"})
	c.must(err)
	if o.State != "received" || o.ClosedOn == nil {
		t.Errorf("%+v", o)
	}
	if _, err := orders.Move(ctx, c.Service, command(), o.ID, o.Version, orders.Step{State: "cancelled", Why: "no"}); field(t,
		err) != "state" {
		t.Errorf("a received order was cancelled: %v", err)
	}
	all, err := orders.List(ctx, c.Service)
	c.must(err)
	if s := all.Sellers[0]; s.Name != "North" || s.Receipts != 1 || s.Bad != 1 || s.Seen != 3 {
		t.Errorf("%+v", all.Sellers)
	}
}

// TestLotsThatFailedAreLeftOut: a lot that an inspection refused stays out of baskets, named; a person may take it all the
// same, and says why.
func TestLotsThatFailedAreLeftOut(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	c.must(c.offer(c.north, "battery, original", map[string]int{"battery": 1}, "original", 1900, "EUR"))
	_, err := parts.Add(ctx, c.Service, command(), &store.Exchange{}, store.ExchangeFacts{From: "SEK", To: "EUR", Rate: 0.1,
		RatedOn: time.Now()})
	c.must(err)
	_, err = parts.Add(ctx, c.Service, command(), &store.Offer{}, store.OfferFacts{SellerID: c.south, ModelID: c.model,
		Title: "battery, copy", Covers: map[string]int{"battery": 1}, Grade: "copy", Lot: "s-7", Price: 5000, Currency: "SEK",
		PricedOn: time.Now(), Stock: 20})
	c.must(err)
	_, err = parts.Add(ctx, c.Service, command(), &store.Delivery{}, store.DeliveryFacts{SellerID: c.south, ModelID: c.model,
		Item: "battery", Grade: "copy", Lot: "s-7", Size: 20, Price: 5000, Currency: "SEK", ReceivedOn: time.Now(), Inspected: 14,
		Bad: 3})
	c.must(err)
	_, err = parts.Add(ctx, c.Service, command(), &store.Need{}, store.NeedFacts{ModelID: c.model, Item: "Battery", Quantity: 2})
	c.must(err)
	room, err := needs.List(ctx, c.Service, needs.Ask{})
	c.must(err)
	wish := needs.Wish{Copies: true}
	for _, n := range room.Needs {
		if n.Row != "" {
			wish.Needs = append(wish.Needs, needs.Chosen{ID: n.ID})
		}
	}
	b, err := needs.Buy(ctx, c.Service, "Ivo", wish)
	c.must(err)
	if len(b.Left) != 1 || b.Left[0].Why != "3 of 14 inspected pieces were bad" || b.Sellers[0].Name != "North" ||
		!strings.Contains(words(b.Answer), "Left out: battery, copy, lot s-7") {
		t.Fatalf("%s %+v", words(b.Answer), b.Left)
	}
	wish.Overrides = []needs.Override{{OfferID: b.Left[0].OfferID, Why: "tested one by one"}}
	b, err = needs.Buy(ctx, c.Service, "Ivo", wish)
	c.must(err)
	if len(b.Left) != 0 || b.Sellers[0].Name != "South" || b.Sellers[0].Lines[0].Note != "against the advice by Ivo: tested one by one" {
		t.Errorf("%+v", b.Sellers)
	}
}

// TestWhatAPieceLoses: a lot that tests showed to lose a function is left out, is priced by what the office says that the
// function is worth, or is kept and named; the total is told in another currency too.
func TestWhatAPieceLoses(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	c.must(c.offer(c.north, "battery, original", map[string]int{"battery": 1}, "original", 1900, "EUR"))
	_, err := parts.Add(ctx, c.Service, command(), &store.Offer{}, store.OfferFacts{SellerID: c.north, ModelID: c.model,
		Title: "battery, copy", Covers: map[string]int{"battery": 1}, Grade: "copy", Lot: "n-9", Price: 1000, Currency: "EUR",
		PricedOn: time.Now(), Stock: 20})
	c.must(err)
	_, err = parts.Add(ctx, c.Service, command(), &store.Exchange{}, store.ExchangeFacts{From: "JPY", To: "EUR", Rate: 0.0062,
		RatedOn: time.Now()})
	c.must(err)
	lot := store.NewID()
	_, err = fit.AddLot(ctx, c.Service, command(), lot, c.model, store.LotFacts{Kind: "battery", Name: "n-9"})
	c.must(err)
	checks, err := store.List[store.Check](c.DB, "position", "1 = 1")
	c.must(err)
	for k := range 4 {
		_, err = fit.AddTest(ctx, c.Service, command(), store.NewID(), c.model, store.FitTestFacts{Kind: "battery", LotID: lot,
			Outcome: "lost", Lost: []string{checks[0].Mark}, Fittings: 3, Piece: fmt.Sprintf("piece %d", k),
			Conditions: []string{"charger", "waited", "reseated", "known-good", "home", "deep"}})
		c.must(err)
	}
	_, err = parts.Add(ctx, c.Service, command(), &store.Need{}, store.NeedFacts{ModelID: c.model, Item: "battery", Quantity: 1})
	c.must(err)
	room, err := needs.List(ctx, c.Service, needs.Ask{})
	c.must(err)
	w := needs.Wish{Copies: true, Show: "JPY"}
	for _, n := range room.Needs {
		if n.Row != "" {
			w.Needs = append(w.Needs, needs.Chosen{ID: n.ID})
		}
	}
	bought := func(missing string) needs.Basket {
		w.Missing = missing
		b, err := needs.Buy(ctx, c.Service, "Ivo", w)
		c.must(err)
		return b
	}
	out := bought("exclude")
	if len(out.Left) != 1 || out.Left[0].Why != "it loses "+checks[0].Name || out.Left[0].May ||
		out.Sellers[0].Lines[0].Title != "battery, original" {
		t.Errorf("left out: %+v, %+v", out.Left, out.Sellers)
	}
	if out.Total != "24.00 EUR" || !strings.HasPrefix(out.Other, "3871 JPY at the rate of ") { // 24.00 / 0.0062, 19.00 and 5.00
		t.Errorf("%s is %s", out.Total, out.Other)
	}
	if b := bought("price"); len(b.Left) != 1 || b.Left[0].Why != "no value is set for "+checks[0].Name {
		t.Errorf("priced without a value: %+v", b.Left)
	}
	set := func(worth int64) {
		rows, err := store.List[store.Workshop](c.DB, "id", "1 = 1")
		c.must(err)
		f := rows[0].WorkshopFacts
		f.FunctionValues = []store.FunctionValue{{Function: checks[0].Name, Worth: worth}}
		_, err = parts.Set(ctx, c.Service, command(), rows[0].Version, f)
		c.must(err)
	}
	set(300)
	if b := bought("price"); b.Sellers[0].Lines[0].Title != "battery, copy" || b.Loss != "3.00 EUR" || b.Total != "15.00 EUR" {
		t.Errorf("3.00 lost for 9.00 less: %+v, %s", b.Sellers, b.Loss)
	}
	set(5000)
	if b := bought("price"); b.Sellers[0].Lines[0].Title != "battery, original" || b.Loss != "" {
		t.Errorf("50.00 lost for 9.00 less: %+v, %s", b.Sellers, b.Loss)
	}
	if b := bought("warn"); !strings.Contains(b.Sellers[0].Lines[0].Why, "loses "+checks[0].Name) {
		t.Errorf("named: %+v", b.Sellers)
	}
}

// TestAPackOfSeveralParts: a pack that fills two slots leaves quarantine as a whole, less the packs that were bad.
func TestAPackOfSeveralParts(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	c.must(c.offer(c.north, "display with strip", map[string]int{"display": 1, "sensor-strip": 1}, "used", 5000, "EUR"))
	rows, err := store.List[store.Offer](c.DB, "id", "1 = 1")
	c.must(err)
	made, err := orders.Make(ctx, c.Service, command(), orders.New{Lines: []orders.NewLine{{OfferID: rows[0].ID, Quantity: 3}}})
	c.must(err)
	o, err := orders.Move(ctx, c.Service, command(), made.Orders[0].ID, 1, orders.Step{State: "sent"})
	c.must(err)
	_, err = orders.Receive(ctx, c.Service, command(), o.ID, o.Version, orders.Receipt{ID: store.NewID(), Line: 1, Came: 3,
		Lot: "d-1", Place: "rack"})
	c.must(err)
	d, err := desk.Load(c.DB, nil, false)
	c.must(err)
	looked := d.Deliveries[0].DeliveryFacts
	looked.Inspected, looked.Bad = 3, 1
	_, err = parts.Change[store.Delivery, store.DeliveryFacts, *store.Delivery](ctx, c.Service, command(), d.Deliveries[0].ID,
		d.Deliveries[0].Version, looked)
	c.must(err)
	_, err = parts.Receive(ctx, c.Service, command(), d.Deliveries[0].ID, "rack")
	c.must(err)
	d, err = desk.Load(c.DB, nil, false)
	c.must(err)
	for _, slot := range []string{"display", "sensor-strip"} {
		if n := d.Usable(c.model, slot, time.Now()); n != 2 {
			t.Errorf("%d of the %s may be used, two packs were good", n, slot)
		}
	}
}
