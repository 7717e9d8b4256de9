package app_test

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/fit"
	"waryowl/internal/app/intake"
	"waryowl/internal/app/parts"
	"waryowl/internal/app/strip"
	"waryowl/internal/store"
)

// sister makes a second model with a battery.
func (c counter) sister(name string) string {
	c.t.Helper()
	ctx, id := context.Background(), store.NewID()
	_, err := intake.AddModel(
		ctx,
		c.Service,
		command(),
		id,
		store.ModelFacts{Maker: "Corvane", Name: name, Entry: "back"},
	)
	c.must(err)
	_, err = strip.AddPart(
		ctx,
		c.Service,
		command(),
		id,
		"",
		store.PartFacts{Name: "battery", Family: "PW", Kind: "battery"},
	)
	c.must(err)
	return id
}

// asked counts jobs of a model over the last weeks.
func (c counter) asked(modelID, job, status string, n int) {
	c.t.Helper()
	for i := range n {
		_, err := parts.Add(
			context.Background(),
			c.Service,
			command(),
			&store.Work{},
			store.WorkFacts{ModelID: modelID, Job: job,
				Status: status, AskedOn: time.Now().AddDate(0, 0, -3*i-1), Why: "no part"},
		)
		c.must(err)
	}
}

// fitted records a test of a battery of one model in another, seen so often.
func (c counter) fitted(donor, host, outcome string, fittings int) {
	c.t.Helper()
	_, err := fit.AddTest(
		context.Background(),
		c.Service,
		command(),
		store.NewID(),
		host,
		store.FitTestFacts{Kind: "battery",
			DonorModel: donor, Outcome: outcome, Fittings: fittings, Piece: fmt.Sprintf("piece %s", outcome),
			Conditions: []string{"charger", "waited", "reseated", "known-good", "home", "deep"}},
	)
	c.must(err)
}

// TestStockPoolsWhatInterchanges: models whose batteries were shown to interchange share one group and its stock; without
// tests each stands alone, and refused jobs count as demand.
func TestStockPoolsWhatInterchanges(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	other := c.sister("Atoll 10")
	c.must(c.offer(c.north, "battery", map[string]int{"battery": 1}, "original", 1900, "EUR"))
	_, err := parts.Add(
		ctx,
		c.Service,
		command(),
		&store.Offer{},
		store.OfferFacts{SellerID: c.north, ModelID: other, Title: "b",
			Covers: map[string]int{
				"battery": 1,
			}, Grade: "original", Price: 1500, Currency: "EUR", PricedOn: time.Now(), Stock: 3},
	)
	c.must(err)
	c.asked(c.model, "battery", "closed", 5)
	c.asked(other, "battery", "refused", 8)
	look := func(budget float64) parts.StockRoom {
		r, err := parts.Levels(ctx, c.Service, parts.AskLevels{Budget: budget})
		c.must(err)
		return r
	}
	r := look(0)
	if len(r.Groups) != 2 || r.Groups[0].PoolingSaves != 0 {
		t.Fatalf("untested, and pooled: %+v", r.Groups)
	}
	jobs := 0
	for _, g := range r.Groups {
		jobs += g.Models[0].Jobs
	}
	if jobs != 13 {
		t.Errorf("%d jobs counted, the refused ones too would be 13", jobs)
	}
	for _, pair := range [][2]string{{c.model, other}, {other, c.model}} {
		c.fitted(pair[0], pair[1], "full", 6)
	}
	for _, m := range []string{c.model, other} {
		c.fitted(m, m, "full", 6)
	}
	r = look(0)
	if len(r.Groups) != 1 || len(r.Groups[0].Models) != 2 || r.Groups[0].Cost != 1500 {
		t.Fatalf("shown to interchange both ways, and apart: %+v", r.Groups)
	}
	g := r.Groups[0]
	if g.BaseStock < 1 || g.BaseApart-g.BaseStock != g.PoolingSaves || g.Owed != 0 || g.OnHand != 0 {
		t.Errorf("pooled: %+v", g.Level)
	}
	// Money for two of them: that many are ordered, no more.
	r = look(3200)
	if r.Groups[0].Order == nil || r.Groups[0].Order.Pieces > 2 || r.Found.Spent > 3200 || !r.Found.Proven {
		t.Errorf("orders %+v, spent %.0f", r.Found.Orders, r.Found.Spent)
	}
	c.asked(other, "battery", "promised", 1)
	if r = look(0); r.Groups[0].Owed != 1 {
		t.Errorf("a promised job is owed: %+v", r.Groups[0])
	}
}

// TestIncomingLots: the plan follows the size of the lot, a seller's record runs over all its lots, money is compared in one
// currency, and stop buying needs something better to buy.
func TestIncomingLots(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	lot := func(seller, name, grade string, size, looked, bad int, price int64, currency string) {
		_, err := parts.Add(
			ctx,
			c.Service,
			command(),
			&store.Delivery{},
			store.DeliveryFacts{SellerID: seller, ModelID: c.model,
				Item: "battery", Grade: grade, Lot: name, Size: size, Price: price, Currency: currency, ReceivedOn: time.Now(),
				Inspected: looked, Bad: bad},
		)
		c.must(err)
	}
	lot(c.south, "a", "copy", 300, 60, 30, 9000, "SEK")
	lot(c.south, "b", "copy", 5, 0, 0, 9000, "SEK")
	lot(c.north, "c", "original", 40, 40, 0, 1900, "EUR")
	look := func() map[string]parts.DeliveryView {
		r, err := parts.Incoming(ctx, c.Service)
		c.must(err)
		by := map[string]parts.DeliveryView{}
		for _, d := range r.Deliveries {
			by[d.Lot] = d
		}
		if r.Deliveries[0].Pass != "open" {
			t.Errorf("what is still to be looked at comes first: %s", r.Deliveries[0].Lot)
		}
		return by
	}
	by := look()
	if a := by["a"]; a.K != 30 || a.N != 60 || a.Pass != "refuse" || a.Plan.StopBuying || a.Plan.Sample >= 300 {
		t.Errorf("half of them bad, nothing to compare with: %+v", a.Plan)
	}
	if b := by["b"]; b.K != 30 || b.N != 60 || b.Pass != "open" || !b.Plan.WholeLot && b.Plan.Sample > 5 {
		t.Errorf("five pieces: %+v", b.Plan)
	}
	if x := by["c"]; x.Pass != "accept" || x.Plan.StopBuying || len(x.Looks) < 3 {
		t.Errorf("forty good ones: %+v, %v", x.Plan, x.Looks)
	}
	// An original at the price of the copy, in the workshop's money: half bad copies are not worth it any more.
	c.must(c.offer(c.north, "battery", map[string]int{"battery": 1}, "original", 900, "EUR"))
	_, err := parts.Add(
		ctx,
		c.Service,
		command(),
		&store.Exchange{},
		store.ExchangeFacts{From: "SEK", To: "EUR", Rate: 0.09,
			RatedOn: time.Now()},
	)
	c.must(err)
	by = look()
	if a := by["a"]; !a.Plan.StopBuying || !strings.Contains(a.Says, "stop buying") {
		t.Errorf("8.10 for a copy that is bad half the time, 9.00 for an original: %+v, %s", a.Plan, a.Says)
	}
	if x := by["c"]; x.Plan.StopBuying {
		t.Error("originals are stopped for the sake of cheaper copies")
	}
}

// TestDonors: a lock takes the board's worth, liquid takes of all, and what does not pay for its minutes is left.
func TestDonors(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	price := map[string]int{"main board": 14000, "battery": 1400, "display assembly": 9000}
	for name, worth := range price {
		id, known := c.part[name]
		if !known {
			p, err := strip.AddPart(ctx, c.Service, command(), c.model, "", store.PartFacts{Name: name, Family: "BD"})
			c.must(err)
			id = p.ID
		}
		row, err := store.Get[store.Part](c.DB, id)
		c.must(err)
		f := row.PartFacts
		f.WorthMinor, f.Currency = worth, "EUR"
		_, err = strip.ChangePart(ctx, c.Service, command(), id, row.Version, f)
		c.must(err)
		_, err = strip.AddStep(ctx, c.Service, command(), c.model, "", "d"+strings.ReplaceAll(name, " ", "")[:3],
			store.StepFacts{Verb: "lift", What: name, Side: "any", Seconds: 60, Frees: []string{id}})
		c.must(err)
	}
	bid := func(lock, damage string) parts.DonorRoom {
		r, err := parts.Donor(ctx, c.Service, parts.AskDonor{ModelID: c.model, Lock: lock, Damage: damage})
		c.must(err)
		return r
	}
	worth := func(r parts.DonorRoom, part string) float64 {
		for _, p := range r.Parts {
			if p.Part == part {
				return p.Worth
			}
		}
		t.Fatalf("no %s among %+v", part, r.Parts)
		return 0
	}
	free, locked, wet := bid("free", "drop"), bid("locked", "drop"), bid("free", "liquid")
	if worth(locked, "main board") != 0 || worth(free, "main board") <= 0 {
		t.Errorf("board: %.0f free, %.0f locked", worth(free, "main board"), worth(locked, "main board"))
	}
	if free.Found.Bid <= locked.Found.Bid || free.Found.Bid <= wet.Found.Bid {
		t.Errorf("bids: %.0f free, %.0f locked, %.0f wet", free.Found.Bid, locked.Found.Bid, wet.Found.Bid)
	}
	if r, err := parts.Donor(ctx, c.Service, parts.AskDonor{ModelID: c.model, Lock: "free", Damage: "drop", Power: "starts"}); err !=
		nil || worth(r, "main board") <= worth(free, "main board") {
		t.Errorf("a phone that starts has no better board: %+v, %v", r.Parts, err)
	}
	if g := bid("free", "glass"); worth(g, "display assembly") >= worth(free, "display assembly") {
		t.Error("broken glass costs the display nothing")
	}
	c.must(c.offer(c.north, "display", map[string]int{"display": 1}, "used", 8000, "EUR"))
	// What is on record of the display counts, in both places; without that, what a used one is offered for.
	if b := bid("free", "drop").Display; b == nil || b.Worth != 9000 || b.PerMinute != 4800.0/60/9000 {
		t.Errorf("a healthy display: %+v, a minute of 0.80 against 90.00", b) // one panel in a hundred a minute
	}
	// Opened: a board that was found dead counts nothing, a good one counts whole; both at once is refused.
	seen := func(good, bad []string) (parts.DonorRoom, error) {
		return parts.Donor(ctx, c.Service, parts.AskDonor{ModelID: c.model, Lock: "free", Damage: "drop", Good: good, Bad: bad})
	}
	board := free.Parts[slices.IndexFunc(free.Parts, func(p parts.DonorPart) bool { return p.Part == "main board" })]
	good, err := seen([]string{board.PartID}, nil)
	c.must(err)
	dead, err := seen(nil, []string{board.PartID})
	c.must(err)
	if worth(dead, "main board") != 0 || worth(good, "main board") <= worth(free, "main board") ||
		!strings.Contains(words(good.Answer), "Opened") || dead.Found.Net >= free.Found.Net {
		t.Errorf("opened: %s; %s", words(good.Answer), words(dead.Answer))
	}
	if _, err := seen([]string{board.PartID}, []string{board.PartID}); field(t, err) != "good" {
		t.Errorf("good and bad: %v", err)
	}
	if !strings.Contains(free.Note, "quarantine") || !strings.Contains(words(free.Answer), "Bid at most") {
		t.Errorf("said: %s %s", words(free.Answer), free.Note)
	}
}
