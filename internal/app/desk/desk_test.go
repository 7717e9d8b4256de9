package desk

import (
	"fmt"
	"testing"
	"time"

	"waryowl/internal/store"
)

var day = time.Date(2026, 11, 26, 0, 0, 0, 0, time.UTC)

// counter is a desk of two sellers and a handful of offers, without a database.
func counter() Desk {
	offer := func(id, seller string, covers map[string]int, grade string, price int64, currency string, stock int,
		lead float64) store.Offer {
		return store.Offer{
			Row: store.Row{ID: id},
			OfferFacts: store.OfferFacts{SellerID: seller, ModelID: "m", Title: id, Covers: covers,
				Grade: grade, Price: price, Currency: currency, Stock: stock, LeadDays: lead, PricedOn: day.AddDate(0, 0, -40)},
		}
	}
	return Desk{Workshop: store.Workshop{WorkshopFacts: store.WorkshopFacts{Currency: "EUR"}},
		Sellers: []store.Seller{
			{Row: store.Row{ID: "n"}, SellerFacts: store.SellerFacts{Name: "N", LeadP50: 2, LeadP90: 4}},
			{Row: store.Row{ID: "s"}, SellerFacts: store.SellerFacts{Name: "S", LeadP50: 6, LeadP90: 12}}},
		Offers: []store.Offer{
			offer("original", "n", map[string]int{"battery": 1}, "original", 1900, "EUR", 2, 0),
			offer("copy", "s", map[string]int{"battery": 1}, "copy", 700, "EUR", 9, 0),
			offer("gone", "n", map[string]int{"battery": 1}, "original", 100, "EUR", 0, 0),
			offer("ten strips", "n", map[string]int{"rim-adhesive": 10}, "original", 1200, "EUR", 3, 0),
			offer("kit", "s", map[string]int{"display": 1, "sensor-strip": 1}, "used", 5000, "EUR", 1, 0),
			offer("far display", "s", map[string]int{"display": 1}, "used", 50000, "SEK", 1, 3),
			offer("lens copy", "s", map[string]int{"lens": 1}, "copy", 300, "EUR", 1, 0),
		},
		Exchanges: []store.Exchange{ // the newest first, as they are read
			{ExchangeFacts: store.ExchangeFacts{From: "SEK", To: "EUR", Rate: 0.09, RatedOn: day}},
			{ExchangeFacts: store.ExchangeFacts{From: "SEK", To: "EUR", Rate: 0.5, RatedOn: day.AddDate(0, 0, -90)}}},
		Prices: []store.Price{
			{PriceFacts: store.PriceFacts{What: "battery", ModelID: "m", Price: 6900, Currency: "EUR", PricedOn: day}},
			{
				PriceFacts: store.PriceFacts{
					What:     "battery",
					ModelID:  "m",
					Price:    5900,
					Currency: "EUR",
					PricedOn: day.AddDate(0, -2, 0),
				},
			},
			{
				PriceFacts: store.PriceFacts{
					What:     "screen",
					ModelID:  "m",
					Price:    190000,
					Currency: "SEK",
					PricedOn: day,
				},
			}},
		Deliveries: []store.Delivery{
			{
				DeliveryFacts: store.DeliveryFacts{
					SellerID:  "s",
					Item:      "battery",
					Grade:     "copy",
					Lot:       "acme-7",
					Inspected: 10,
					Bad:       2,
				},
			},
			{
				DeliveryFacts: store.DeliveryFacts{
					SellerID:  "s",
					Item:      "battery",
					Grade:     "copy",
					Lot:       "acme-8",
					Inspected: 5,
					Bad:       0,
				},
			},
			{
				DeliveryFacts: store.DeliveryFacts{
					SellerID:  "n",
					Item:      "battery",
					Grade:     "original",
					Lot:       "x",
					Inspected: 8,
					Bad:       1,
				},
			}}}
}

// TestPricesAndDays: what a slot costs and how long it takes is that of what can be had, copies last, in the workshop's money.
func TestPricesAndDays(t *testing.T) {
	d := counter()
	for slot, want := range map[string]string{
		"battery":      "1900 true [2 4]",  // not the copy, not what is gone
		"rim-adhesive": "120 true [2 4]",   // one of ten
		"display":      "4500 true [3 3]",  // 500.00 SEK at the newest rate; its own days
		"sensor-strip": "5000 true [6 12]", // a kit is bought whole
		"lens":         "300 true [6 12]",  // a copy where there is nothing else
		"sail":         "0 false []",
	} {
		price, ok := d.Cheapest(slot)
		if got := fmt.Sprintf("%.0f %v %v", price, ok, d.Lead(slot)); got != want {
			t.Errorf("%s: %s, want %s", slot, got, want)
		}
	}
	if x, ok := d.Price("m", "battery"); !ok || x != 6900 {
		t.Errorf("the newest price: %v %v", x, ok)
	}
	if _, ok := d.Price("m", "screen"); ok {
		t.Error("a price in another currency was taken as it stands")
	}
	if _, ok := d.In(100, "CAD"); ok {
		t.Error("a currency without a rate was converted")
	}
	if r := d.Rates(); len(r) != 1 || r[0].Rate != 0.09 {
		t.Errorf("rates %+v", r)
	}
	if n := Days(day, d.Offers[0].PricedOn); n != 40 {
		t.Errorf("%d days old", n)
	}
	if n := len(d.Of("another").Offers); n != 0 {
		t.Errorf("%d offers of another model", n)
	}
}

// TestDefectsOfAnOffer: by seller, slot, grade, and by lot where the offer names one.
func TestDefectsOfAnOffer(t *testing.T) {
	d := counter()
	offer := d.Offers[1]
	for lot, want := range map[string][2]int{"": {2, 15}, "ACME-7": {2, 10}, "acme-8": {0, 5}, "other": {0, 0}} {
		offer.Lot = lot
		if k, n := d.Defects(offer); [2]int{k, n} != want {
			t.Errorf("lot %q: %d of %d", lot, k, n)
		}
	}
}

// TestFreePieces: what is reserved, in quarantine, past its day or of another model is not free.
func TestFreePieces(t *testing.T) {
	past, ahead := day.AddDate(0, 0, -1), day.AddDate(0, 1, 0)
	shelf := func(f store.ShelfFacts) store.Shelf {
		f.ModelID, f.Item = "m", "battery"
		return store.Shelf{ShelfFacts: f}
	}
	d := Desk{Shelves: []store.Shelf{
		shelf(store.ShelfFacts{Quantity: 5, Reserved: 2}),
		shelf(store.ShelfFacts{Quantity: 4, Quarantine: "salvaged"}),
		shelf(store.ShelfFacts{Quantity: 3, BestBefore: &past}),
		shelf(store.ShelfFacts{Quantity: 2, BestBefore: &ahead}),
		{ShelfFacts: store.ShelfFacts{ModelID: "other", Item: "battery", Quantity: 9}},
		{ShelfFacts: store.ShelfFacts{ModelID: "m", Item: "display", Quantity: 9}},
	}}
	if n := d.Free("m", "battery", day); n != 5 {
		t.Errorf("%d free, want 3 and 2", n)
	}
}

// TestSlotsAreOneName: however a slot is written, it is the same.
func TestSlotsAreOneName(t *testing.T) {
	for in, want := range map[string]string{"Rim adhesive": "rim-adhesive", " rim_adhesive ": "rim-adhesive",
		"rim-adhesive": "rim-adhesive",
		"BATTERY":      "battery", "": ""} {
		if got := Slot(in); got != want {
			t.Errorf("%q is %q", in, got)
		}
	}
	if got := Said("rim-adhesive"); got != "rim adhesive" {
		t.Errorf("said as %q", got)
	}
}
