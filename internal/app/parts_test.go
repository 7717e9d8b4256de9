package app_test

import (
	"bytes"
	"context"
	"errors"
	"image"
	_ "image/jpeg"
	"image/png"
	"math"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/desk"
	"waryowl/internal/app/intake"
	"waryowl/internal/app/model"
	"waryowl/internal/app/parts"
	"waryowl/internal/app/score"
	"waryowl/internal/app/strip"
	"waryowl/internal/store"
)

// counter is a parts desk with two sellers of batteries.
type counter struct {
	*shop
	north, south string
}

func newCounter(t *testing.T) counter {
	c := counter{shop: newShop(t), north: store.NewID(), south: store.NewID()}
	ctx := context.Background()
	_, err := parts.Set(
		ctx,
		c.Service,
		command(),
		0,
		store.WorkshopFacts{Currency: "EUR", LabourMinor: 4800, ChargeLimit: 25, MinMarginMinor: 1000},
	)
	c.must(err)
	for id, f := range map[string]store.SellerFacts{
		c.north: {Name: "North", Currency: "EUR", Shipping: 500, FreeAbove: 20000, Refund: 1, LeadP50: 2, LeadP90: 4},
		c.south: {Name: "South", Currency: "SEK", Shipping: 3000, LeadP50: 10, LeadP90: 30}} {
		_, err := parts.Add(ctx, c.Service, command(), &store.Seller{Row: store.Row{ID: id}}, f)
		c.must(err)
	}
	return c
}

func (c counter) offer(seller, title string, covers map[string]int, grade string, price int64, currency string) error {
	_, err := parts.Add(
		context.Background(),
		c.Service,
		command(),
		&store.Offer{},
		store.OfferFacts{SellerID: seller, ModelID: c.model,
			Title: title, Covers: covers, Grade: grade, Price: price, Currency: currency, PricedOn: time.Now(), Stock: 3},
	)
	return err
}

// TestBasketFollowsThePlan: slots come from the plan; a step that goes takes its slot along; money without a rate is named.
func TestBasketFollowsThePlan(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	look := func() parts.BasketRoom {
		r, err := parts.FindBasket(
			ctx,
			c.Service,
			parts.AskBasket{ModelID: c.model, Job: parts.Build, Used: true, Copies: true},
		)
		c.must(err)
		return r
	}
	names := func(r parts.BasketRoom) string {
		var list []string
		for _, s := range r.Slots {
			list = append(list, s.ID)
		}
		return " " + strings.Join(list, " ") + " "
	}
	step, err := strip.AddStep(
		ctx,
		c.Service,
		command(),
		c.model,
		"",
		"z1",
		store.StepFacts{Verb: "cut", What: "rim", Side: "front",
			Joint: "adhesive", Consumable: "rim adhesive"},
	)
	c.must(err)
	r := look()
	if !strings.Contains(names(r), " rim-adhesive ") || !strings.Contains(words(r.Answer), "None of ") {
		t.Errorf("slots %s: %s", names(r), words(r.Answer))
	}
	c.must(c.offer(c.north, "battery", map[string]int{"Battery": 1}, "original", 1900, "EUR"))
	c.must(c.offer(c.south, "battery, far away", map[string]int{"battery": 1}, "original", 9000, "SEK"))
	r = look()
	if len(r.Lines) != 1 || r.Lines[0].Price != 1900 || !r.Found.Proven || len(r.Left) != 1 ||
		!strings.Contains(r.Left[0], "SEK") {
		t.Errorf("lines %+v, left %v", r.Lines, r.Left)
	}
	_, err = parts.Add(
		ctx,
		c.Service,
		command(),
		&store.Exchange{},
		store.ExchangeFacts{From: "SEK", To: "EUR", Rate: 0.09, RatedOn: time.Now()},
	)
	c.must(err)
	if r = look(); len(r.Left) != 0 || len(r.Lines) != 1 ||
		r.Lines[0].Seller != "South" { // 8.10 and 2.70 against 19.00 and 5.00
		t.Errorf("with a rate: %+v, %v", r.Lines, r.Left)
	}
	_, err = store.Delete[store.PlanStep](&store.Tx{DB: c.DB, Arrived: time.Now()}, step.ID, step.Version)
	c.must(err)
	if r = look(); strings.Contains(names(r), "rim-adhesive") {
		t.Errorf("the step is gone, its slot stays: %s", names(r))
	}
	if f := fact(t, mustScore(c), "battery.part-price"); f.Words != "8.10 EUR" || f.Engine != "parts desk" {
		t.Errorf("the score's price: %s from %s", f.Words, f.Engine)
	}
}

func mustScore(c counter) score.Room {
	r, err := score.Show(context.Background(), c.Service, c.model, "")
	c.must(err)
	return r
}

// TestGateTurnsWithTheShelf: without a piece it is later, with one it is now; a piece in quarantine is none; a margin that is
// too small refuses.
func TestGateTurnsWithTheShelf(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	ask := func() parts.GateRoom {
		r, err := parts.Gate(ctx, c.Service, c.model, "battery", true)
		c.must(err)
		return r
	}
	has := func(r parts.GateRoom, code string) bool {
		for _, x := range r.Found.Reasons {
			if x.Code == code {
				return true
			}
		}
		return false
	}
	if r := ask(); !has(r, "not_to_be_had") || r.Found.Answer != "refuse" {
		t.Errorf("nothing to be had: %+v", r.Found)
	}
	c.must(c.offer(c.north, "battery", map[string]int{"battery": 1}, "original", 1900, "EUR"))
	if r := ask(); !has(r, "missing_part") || has(r, "not_to_be_had") {
		t.Errorf("to be ordered: %+v", r.Found)
	}
	shelf := func(q string) {
		_, err := parts.Add(
			ctx,
			c.Service,
			command(),
			&store.Shelf{},
			store.ShelfFacts{ModelID: c.model, Item: "Battery", Grade: "original",
				Quantity: 1, Place: "B1", Quarantine: q},
		)
		c.must(err)
	}
	shelf("salvaged, not inspected")
	if r := ask(); !has(r, "missing_part") {
		t.Error("a piece in quarantine was counted")
	}
	shelf("")
	if r := ask(); has(r, "missing_part") {
		t.Errorf("a piece lies there: %+v", r.Found.Reasons)
	}
	_, err := parts.Add(
		ctx,
		c.Service,
		command(),
		&store.Price{},
		store.PriceFacts{What: "battery", ModelID: c.model, Price: 2000, Currency: "EUR",
			PricedOn: time.Now()},
	)
	c.must(err)
	if r := ask(); !has(r, "margin") || r.Found.Answer != "refuse" || !strings.Contains(words(r.Answer), "it leaves") {
		t.Errorf("1.00 EUR is left: %+v, %s", r.Found, words(r.Answer))
	}
}

// TestTheDeskRefuses: what cannot be meant is named by its field, and nothing is lost.
func TestTheDeskRefuses(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	lot := store.DeliveryFacts{
		SellerID:   c.north,
		ModelID:    c.model,
		Item:       "battery",
		Grade:      "copy",
		Lot:        "acme-7",
		Size:       10,
		Price:      900,
		Currency:   "EUR",
		ReceivedOn: time.Now(),
		Inspected:  10,
		Bad:        2,
	}
	row, err := parts.Add(ctx, c.Service, command(), &store.Delivery{}, lot)
	c.must(err)
	add := func(f func(*store.DeliveryFacts)) error {
		x := lot
		x.Lot = "acme-8"
		f(&x)
		_, err := parts.Add(ctx, c.Service, command(), &store.Delivery{}, x)
		return err
	}
	for name, x := range map[string]struct {
		err   error
		field string
	}{
		"a lot twice":                  {add(func(f *store.DeliveryFacts) { f.Lot = "acme-7" }), "lot"},
		"more looked at than came":     {add(func(f *store.DeliveryFacts) { f.Inspected = 11 }), "inspected"},
		"more bad than looked at":      {add(func(f *store.DeliveryFacts) { f.Bad = 11 }), "bad"},
		"a seller that is not":         {add(func(f *store.DeliveryFacts) { f.SellerID = store.NewID() }), "seller_id"},
		"an offer that covers nothing": {c.offer(c.north, "x", nil, "copy", 1, "EUR"), "covers"},
		"an offer of no pieces":        {c.offer(c.north, "x", map[string]int{"battery": 0}, "copy", 1, "EUR"), "covers.battery"},
		"a model that is not": {func() error {
			_, err := parts.Add(ctx, c.Service, command(), &store.Price{}, store.PriceFacts{What: "battery",
				ModelID: store.NewID(), Currency: "EUR"})
			return err
		}(), "for_model_id"},
		"more reserved than there": {func() error {
			_, err := parts.Add(ctx, c.Service, command(), &store.Shelf{}, store.ShelfFacts{ModelID: c.model, Item: "battery",
				Grade: "copy", Quantity: 1, Reserved: 2, Place: "A"})
			return err
		}(), "reserved"},
		"refused without a why": {func() error {
			_, err := parts.Add(ctx, c.Service, command(), &store.Work{}, store.WorkFacts{ModelID: c.model, Job: "battery",
				Status: "refused"})
			return err
		}(), "why"},
		"a currency into itself": {func() error {
			_, err := parts.Add(ctx, c.Service, command(), &store.Exchange{}, store.ExchangeFacts{From: "EUR", To: "EUR", Rate: 1})
			return err
		}(), "to"},
		"a coupon of both kinds": {func() error {
			_, err := parts.Add(ctx, c.Service, command(), &store.Seller{}, store.SellerFacts{Name: "x", Currency: "EUR",
				Coupons: []store.Coupon{{Percent: 5, Fixed: 5}}})
			return err
		}(), "coupons[0]"},
	} {
		if got := field(t, x.err); got != x.field {
			t.Errorf("%s: %v", name, x.err)
		}
	}
	if _, err := parts.FindBasket(ctx, c.Service, parts.AskBasket{ModelID: c.model, Job: "song"}); field(
		t,
		err,
	) != "job" {
		t.Errorf("a job that is none: %v", err)
	}
	in, err := parts.Incoming(ctx, c.Service)
	c.must(err)
	if len(in.Deliveries) != 1 || in.Deliveries[0].K != 2 || in.Deliveries[0].N != 10 ||
		in.Deliveries[0].Pass != "refuse" {
		t.Errorf("two of ten bad: %+v", in.Deliveries)
	}
	_, err = parts.Receive(ctx, c.Service, command(), row.ID, "drawer 1")
	c.must(err)
	if _, err := parts.Receive(ctx, c.Service, command(), row.ID, "drawer 2"); field(t, err) != "lot" {
		t.Errorf("put into stock twice: %v", err)
	}
	d, err := desk.Load(c.DB, []string{c.model}, false)
	c.must(err)
	if n := d.Free(c.model, "battery", time.Now()); n != 8 {
		t.Errorf("%d good ones in stock", n)
	}
	levels, err := parts.Levels(ctx, c.Service, parts.AskLevels{})
	c.must(err)
	if g := levels.Groups; len(g) != 1 || g[0].Priced || g[0].OnHand != 8 || g[0].Position != 8 || g[0].Short != 0 ||
		len(levels.Left) != 1 {
		t.Errorf("without a price there is a level, but no order: %+v, %v", levels.Groups, levels.Left)
	}
	bid, err := parts.Donor(ctx, c.Service, parts.AskDonor{ModelID: c.model, Lock: "unknown", Damage: "glass"})
	c.must(err)
	if bid.Found.Bid != 0 || !strings.Contains(words(bid.Answer), "No bid") {
		t.Errorf("a donor without prices: %s", words(bid.Answer))
	}
}

// TestTheOfficesLimitHolds: the charge limit that the office set is the gate's, the stops' and the intake's.
func TestTheOfficesLimitHolds(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	tick := func() (text string, met bool, limit float64) {
		charge := 35.0
		row, err := store.Get[store.Unit](w.DB, w.pine)
		w.must(err)
		f := row.UnitFacts
		f.Gate.Charge = &charge
		_, err = intake.ChangeUnit(ctx, w.Service, command(), w.pine, row.Version, f)
		w.must(err)
		r, err := intake.Show(ctx, w.Service, w.study)
		w.must(err)
		for _, u := range r.Intake {
			for _, g := range u.Gate {
				if u.Unit.ID == w.pine && strings.HasPrefix(g.Text, "charge at most") {
					return g.Text, g.Met, r.Limit
				}
			}
		}
		t.Fatal("no tick for the charge")
		return "", false, 0
	}
	if text, met, limit := tick(); met || limit != 25 || !strings.Contains(text, "25 %") {
		t.Errorf("nothing set: %s, met %v, limit %.0f", text, met, limit)
	}
	_, err := parts.Set(ctx, w.Service, command(), 0, store.WorkshopFacts{Currency: "EUR", ChargeLimit: 40})
	w.must(err)
	if text, met, limit := tick(); !met || limit != 40 || !strings.Contains(text, "40 %") {
		t.Errorf("40 %% set: %s, met %v, limit %.0f", text, met, limit)
	}
	k, err := model.Load(w.DB, w.model)
	w.must(err)
	if got := k.Bench("PINE").State.Limit; got != 40 {
		t.Errorf("the stops hold to %.0f %%", got)
	}
}

// TestJobsFeedTheDesk: a job that was taken keeps its piece, closed ones move the minutes, a lot is measured against an
// original, and one page knows all of it.
func TestJobsFeedTheDesk(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	shelf := store.ShelfFacts{ModelID: c.model, Item: "battery", Grade: "original", Quantity: 3, Place: "A1"}
	_, err := parts.Add(ctx, c.Service, command(), &store.Shelf{}, shelf)
	c.must(err)
	free := func() int {
		d, err := desk.Load(c.DB, []string{c.model}, false)
		c.must(err)
		return d.Free(c.model, "battery", time.Now())
	}
	gate := func() parts.GateRoom {
		g, err := parts.Gate(ctx, c.Service, c.model, "battery", true)
		c.must(err)
		return g
	}
	before, way := free(), gate().Document.AttendedSeconds
	for _, status := range []string{"asked", "promised", "on the bench", "closed", "closed"} {
		f := store.WorkFacts{ModelID: c.model, Job: "battery", Status: status, AskedOn: time.Now()}
		if status == "closed" {
			f.Minutes = 100
		}
		_, err := parts.Add(ctx, c.Service, command(), &store.Work{}, f)
		c.must(err)
	}
	if n := free(); before != 3 || n != 1 {
		t.Errorf("%d free, then %d: the promised one and the one on the bench keep theirs", before, n)
	}
	// Two jobs of 100 min against three of the way's, by hand; hands and waits take longer alike.
	k, err := model.Load(c.DB, c.model)
	c.must(err)
	closed := k.WayTo(c.part["battery"]).ClosedMinutes
	if got, want := gate().Document.AttendedSeconds, way*(3*closed+2*100)/(5*closed); way <= 0 || math.Abs(got-want) > 1e-6 {
		t.Errorf("attended %v s, want %v", got, want)
	}
	row, err := store.Get[store.Part](c.DB, c.part["battery"])
	c.must(err)
	f := row.PartFacts
	f.ThicknessMM = 4.2
	_, err = strip.ChangePart(ctx, c.Service, command(), c.part["battery"], row.Version, f)
	c.must(err)
	lot := store.DeliveryFacts{SellerID: c.north, ModelID: c.model, Item: "battery", Grade: "copy", Lot: "m-1", Size: 5,
		Currency: "EUR", ReceivedOn: time.Now(),
		Measures: []store.Measured{{Kind: "thickness", Unit: "mm", Readings: []float64{4.9, 4.92}, Resolution: 0.01}}}
	_, err = parts.Add(ctx, c.Service, command(), &store.Delivery{}, lot)
	c.must(err)
	in, err := parts.Incoming(ctx, c.Service)
	c.must(err)
	seen := false
	for _, x := range in.Deliveries[0].Figure {
		seen = seen || x.Kind == "thickness" && x.Mine != nil && x.Other && strings.Contains(x.Apart, "+0.71")
	}
	if !seen {
		t.Errorf("0.71 mm thicker than an original: %+v", in.Deliveries[0].Figure)
	}
	about, err := parts.About(ctx, c.Service, c.model, c.part["battery"])
	c.must(err)
	if about.Free != 1 || about.Taken != 2 || len(about.Lots) != 1 || len(about.Shelves) != 1 || about.Minutes <= 0 ||
		len(about.Figures) == 0 || !strings.Contains(words(about.Answer), "1 free in stock") {
		t.Errorf("about the battery: %+v", about)
	}
	if _, err := parts.About(ctx, c.Service, c.model, store.NewID()); field(t, err) != "part" {
		t.Errorf("a part that is not: %v", err)
	}
}

// TestAClosedJobTells: how it went moves the odds of the way, its piece leaves the shelf, what was paid prices the next
// one; opened again, all is as before. Odds by hand: attempts and hurts of one hazard, on both sides of the job.
func TestAClosedJobTells(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	_, err := parts.Add(ctx, c.Service, command(), &store.Shelf{}, store.ShelfFacts{ModelID: c.model, Item: "battery",
		Grade: "original", Quantity: 2, Place: "A1"})
	c.must(err)
	front := model.Hazard{}
	counted := func() (n, hurt, left int, price float64) {
		k, err := model.Load(c.DB, c.model)
		c.must(err)
		for h, x := range k.Counts {
			if h.Part == c.part["display assembly"] {
				front, n, hurt = h, x.N, x.K
			}
		}
		d, err := desk.Load(c.DB, []string{c.model}, false)
		c.must(err)
		for _, s := range d.Shelves {
			left += s.Quantity
		}
		price, _ = d.Price(c.model, "battery")
		return n, hurt, left, price
	}
	f := store.WorkFacts{ModelID: c.model, Job: "battery", Status: "on the bench", AskedOn: time.Now(), Price: 5900,
		Currency: "EUR"}
	w, err := parts.Add(ctx, c.Service, command(), &store.Work{}, f)
	c.must(err)
	set := func(change func(*store.WorkFacts)) error {
		change(&f)
		next, err := parts.Change[store.Work, store.WorkFacts, *store.Work](
			ctx,
			c.Service,
			command(),
			w.ID,
			w.Version,
			f,
		)
		if err == nil {
			w = next
		}
		return err
	}
	n0, k0, left0, price0 := counted()
	for name, x := range map[string]struct {
		change func(*store.WorkFacts)
		field  string
	}{
		"told before it is closed": {func(f *store.WorkFacts) { f.Went = "fine" }, "went"},
		"hurt without an incident": {func(f *store.WorkFacts) { f.Status, f.HurtPart = "closed", c.part["battery"] }, "went"},
		"a part off the way": {func(f *store.WorkFacts) { f.Status, f.Went, f.HurtPart = "closed", "incident", store.NewID() },
			"hurt_part"},
	} {
		before := f
		if err := set(x.change); field(t, err) != x.field {
			t.Errorf("%s: %v", name, err)
		}
		f = before
	}
	c.must(set(func(f *store.WorkFacts) { f.Status, f.Went = "closed", "fine" }))
	if n, k, left, price := counted(); n != n0+1 || k != k0 || left != left0-1 || price0 != 0 || price != 5900 {
		t.Errorf(
			"fine: %d attempts, %d hurt, %d left, %v: %d, %d, %d, %v before",
			n,
			k,
			left,
			price,
			n0,
			k0,
			left0,
			price0,
		)
	}
	c.must(set(func(f *store.WorkFacts) { f.Went, f.HurtPart = "incident", c.part["display assembly"] }))
	if n, k, left, _ := counted(); n != n0+1 || k != k0+1 || left != left0-1 || w.HurtStep == "" || front.Part == "" {
		t.Errorf("an incident: %d attempts, %d hurt, %d left", n, k, left)
	}
	_, err = parts.Delete[store.Work, *store.Work](ctx, c.Service, command(), w.ID, w.Version)
	c.must(err)
	if n, k, left, _ := counted(); n != n0 || k != k0 || left != left0 {
		t.Errorf("deleted: %d attempts, %d hurt, %d left", n, k, left)
	}
	w, err = parts.Restore[store.Work, *store.Work](ctx, c.Service, command(), w.ID, w.Version+1)
	c.must(err)
	if n, k, left, _ := counted(); n != n0+1 || k != k0+1 || left != left0-1 {
		t.Errorf("brought back: %d attempts, %d hurt, %d left", n, k, left)
	}
	c.must(set(func(f *store.WorkFacts) { f.Status, f.Went, f.HurtPart = "on the bench", "", "" }))
	if n, k, left, price := counted(); n != n0 || k != k0 || left != left0 || price != 0 {
		t.Errorf("opened again: %d attempts, %d hurt, %d left, %v", n, k, left, price)
	}
}

// TestPicturesOfALot: pictures of a lot are made anew, counted, taken away and brought back; a study's are out of reach.
func TestPicturesOfALot(t *testing.T) {
	c := newCounter(t)
	ctx := context.Background()
	lot, err := parts.Add(ctx, c.Service, command(), &store.Delivery{}, store.DeliveryFacts{SellerID: c.north,
		ModelID: c.model, Item: "battery", Grade: "copy", Lot: "m-2", Size: 5, Currency: "EUR", ReceivedOn: time.Now()})
	c.must(err)
	var file bytes.Buffer
	c.must(png.Encode(&file, image.NewGray(image.Rect(0, 0, 40, 30))))
	add := func(id string) error {
		_, err := parts.AddPicture(ctx, c.Service, command(), lot.ID, id, "rim", file.Bytes())
		return err
	}
	own := func() []parts.Picture {
		in, err := parts.Incoming(ctx, c.Service)
		c.must(err)
		return in.Deliveries[0].Own
	}
	first := store.NewID()
	c.must(add(first))
	for range 11 {
		c.must(add(store.NewID()))
	}
	if err := add(store.NewID()); field(t, err) != "photo_id" {
		t.Errorf("a thirteenth picture: %v", err)
	}
	if list := own(); len(list) != 12 || list[0].ID != first || list[0].Caption != "rim" {
		t.Errorf("of the lot: %+v", list)
	}
	kept, err := strip.PhotoBytes(ctx, c.Service, first, false)
	c.must(err)
	if _, kind, err := image.DecodeConfig(bytes.NewReader(kept)); kind != "jpeg" || err != nil {
		t.Errorf("kept as %s, %v", kind, err)
	}
	_, err = parts.DeletePicture(ctx, c.Service, command(), first, 1)
	c.must(err)
	if n := len(own()); n != 11 {
		t.Errorf("%d after one was deleted", n)
	}
	_, err = parts.RestorePicture(ctx, c.Service, command(), first, 2)
	c.must(err)
	if n := len(own()); n != 12 {
		t.Errorf("%d after it was brought back", n)
	}
	if _, err := parts.AddPicture(ctx, c.Service, command(), lot.ID, store.NewID(), "", []byte("no picture")); err == nil {
		t.Error("text was taken for a picture")
	}
	other := store.Photo{Row: store.Row{ID: store.NewID()}, StudyID: c.study, Image: kept, Thumb: kept}
	c.must(c.DB.Create(&other).Error)
	if _, err := parts.DeletePicture(ctx, c.Service, command(), other.ID, 0); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a study's picture: %v", err)
	}
}
