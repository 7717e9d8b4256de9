package demo

import (
	"context"
	"fmt"
	"slices"
	"testing"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/needs"
	"waryowl/internal/app/offers"
	"waryowl/internal/app/orders"
	"waryowl/internal/app/parts"
	"waryowl/internal/store"
)

// busy is a desk of years: 60 models, 5,000 offers of 12 sellers, 3,000 pieces on shelves, 2,000 jobs.
func busy(b *testing.B, s *act.Service) (models, sellers []string) {
	b.Helper()
	now := time.Now().UTC()
	kinds := []string{"battery", "display", "charge-port", "rear-glass", "rear-camera"}
	jobs := []string{"battery", "screen", "port", "back-glass", "camera"}
	states := []string{"closed", "closed", "refused", "closed", "promised"}
	_, err := act.Do(context.Background(), s, act.Command{Key: ID("busy"), Hash: "busy"}, 201, func(tx *store.Tx) (int, error) {
		var shop = store.Workshop{WorkshopFacts: store.WorkshopFacts{Currency: "EUR", LabourMinor: 4800, ChargeLimit: 25}}
		if err := store.Create(tx, &shop); err != nil {
			return 0, err
		}
		var ms []store.Model
		var ps []store.Part
		for k := range 60 {
			m := store.Model{Row: store.Row{ID: store.NewID()}, ModelFacts: store.ModelFacts{Maker: []string{"Pellow", "Corvane"}[k%2],
				Name: fmt.Sprintf("Bench %d", k), Entry: "front"}}
			models = append(models, m.ID)
			ms = append(ms, m)
			for i, kind := range kinds {
				ps = append(ps, store.Part{Row: store.Row{ID: store.NewID()}, ModelID: m.ID, PartFacts: store.PartFacts{Name: kind,
					Family: "PW", Kind: kind, Layer: i}})
			}
		}
		var ss []store.Seller
		for k := range 12 {
			x := store.Seller{Row: store.Row{ID: store.NewID()}, SellerFacts: store.SellerFacts{Name: fmt.Sprintf("Seller %d", k),
				Currency: "EUR", Shipping: int64(300 + 50*k), FreeAbove: 25000, LeadP50: 3, LeadP90: 6}}
			sellers = append(sellers, x.ID)
			ss = append(ss, x)
		}
		var os []store.Offer
		for k := range 5000 {
			kind := kinds[k%5]
			os = append(os, store.Offer{OfferFacts: store.OfferFacts{SellerID: sellers[k%12], ModelID: models[k%60],
				Title: fmt.Sprintf("%s %d", kind, k), Covers: map[string]int{kind: 1}, Grade: []string{"original", "used", "copy"}[k%3],
				Price: int64(900 + (k*7919)%9000), Currency: "EUR", PricedOn: now, Stock: 1 + k%9, Code: fmt.Sprintf("c%d", k)}})
		}
		var xs []store.Shelf
		for k := range 1500 { // two pieces each
			xs = append(xs, store.Shelf{ShelfFacts: store.ShelfFacts{ModelID: models[k%60], Item: kinds[k%5], Grade: "original",
				Quantity: 2, Place: fmt.Sprintf("drawer %d", k%40)}})
		}
		var ws []store.Work
		for k := range 2000 {
			ws = append(ws, store.Work{WorkFacts: store.WorkFacts{ModelID: models[(k*7)%60], Job: jobs[k%5], Status: states[(k*3)%5],
				Ref: fmt.Sprint(k), AskedOn: now.AddDate(0, 0, -k%180), Why: "no piece"}})
		}
		for _, err := range []error{store.CreateAll(tx, ms), store.CreateAll(tx, ps), store.CreateAll(tx, ss),
			store.CreateAll(tx, os), store.CreateAll(tx, xs), store.CreateAll(tx, ws)} {
			if err != nil {
				return 0, err
			}
		}
		return 1, nil
	})
	if err != nil {
		b.Fatal(err)
	}
	return models, sellers
}

// BenchmarkDesk reads the rooms of the parts desk from a store of years, buys 60 needs over 6 models, and reads and puts in
// a list of 5,000 rows.
func BenchmarkDesk(b *testing.B) {
	ctx, s := context.Background(), fresh(b)
	models, _ := busy(b, s)
	sql := watched(b, s.DB)
	for _, room := range []struct {
		name string
		read func() error
	}{
		{"offers", func() error { _, err := parts.Show(ctx, s, "", nil); return err }},
		{"frame", func() error { _, err := parts.Show(ctx, s, "", []string{}); return err }},
		{"stock", func() error { _, err := parts.Levels(ctx, s, parts.AskLevels{}); return err }},
		{"needs", func() error { _, err := needs.List(ctx, s, needs.Ask{Weeks: 4.345}); return err }},
		{"incoming", func() error { _, err := parts.Incoming(ctx, s); return err }},
		{"orders", func() error { _, err := orders.List(ctx, s); return err }},
	} {
		b.Run(room.name, func(b *testing.B) {
			var took []time.Duration
			begin, asked := *sql, 0
			for b.Loop() {
				t := time.Now()
				if err := room.read(); err != nil {
					b.Fatal(err)
				}
				took = append(took, time.Since(t))
				asked++
			}
			slices.Sort(took)
			b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
			b.ReportMetric(float64((*sql-begin).Microseconds())/1000/float64(max(1, asked)), "sql-ms")
		})
	}
	b.Run("basket", func(b *testing.B) {
		w := needs.Wish{Copies: true}
		if _, err := act.Do(ctx, s, act.Command{Key: store.NewID(), Hash: "n"}, 201, func(tx *store.Tx) (int, error) {
			var list []store.Need
			for k := range 60 {
				list = append(list, store.Need{Row: store.Row{ID: store.NewID()}, NeedFacts: store.NeedFacts{ModelID: models[k%6],
					Item: []string{"battery", "display", "charge-port", "rear-glass", "rear-camera"}[k/6%5], Quantity: 1 + k%2}})
				w.Needs = append(w.Needs, needs.Chosen{ID: "hand-" + list[k].ID})
			}
			return 1, store.CreateAll(tx, list)
		}); err != nil {
			b.Fatal(err)
		}
		var last needs.Basket
		for b.Loop() {
			v, err := needs.Buy(ctx, s, "bench", w)
			if err != nil {
				b.Fatal(err)
			}
			last = v
		}
		b.Logf("proven %v %s", last.Proven, last.Gap)
	})
	var text []byte
	text = append(text, "seller,code,title,covers,grade,price,currency\n"...)
	for k := range 5000 {
		text = fmt.Appendf(text, "Seller %d,n%d,Piece %d,%s,copy,%d.50,EUR\n", k%12, k, k, desk.Slot("battery"), k%90+1)
	}
	l := offers.List{Name: "long.csv", Model: models[0], File: text}
	known := ""
	b.Run("list/look", func(b *testing.B) {
		for b.Loop() {
			v, err := offers.See(ctx, s, l)
			if err != nil {
				b.Fatal(err)
			}
			known = v.Known
		}
	})
	b.Run("list/put", func(b *testing.B) {
		for b.Loop() {
			d, err := offers.Import(ctx, s, act.Command{Key: store.NewID(), Hash: "p"}, offers.Put{ID: store.NewID(), List: l,
				Known: known})
			if err != nil {
				b.Fatal(err)
			}
			b.StopTimer()
			if _, err := offers.Undo(ctx, s, act.Command{Key: store.NewID(), Hash: "u"}, d.ID, 1); err != nil {
				b.Fatal(err)
			}
			v, err := offers.See(ctx, s, l)
			if err != nil {
				b.Fatal(err)
			}
			known = v.Known
			b.StartTimer()
		}
	})
}
