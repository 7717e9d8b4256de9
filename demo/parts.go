package demo

import (
	"fmt"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/benchday"
	"waryowl/internal/app/orders"
	"waryowl/internal/app/parts"
	"waryowl/internal/app/strip"
	"waryowl/internal/store"
)

// counter is the parts desk of the demo.
type counter struct {
	Workshop store.WorkshopFacts
	Sellers  []store.SellerFacts
	Offers   []struct {
		Seller, Model string
		store.OfferFacts
	}
	Exchanges []store.ExchangeFacts
	Prices    []struct {
		Model string
		store.PriceFacts
	}
	Deliveries []struct {
		Seller, Model string
		store.DeliveryFacts
	}
	Shelves []struct {
		Model string
		store.ShelfFacts
	}
	Work []struct {
		Model string
		store.WorkFacts
	}
	Orders []struct {
		Lines []struct {
			Model, Title string
			Packs        int
		}
		Days  int // ago
		Asked int
		For   string
	}
	Words []store.WordFacts
	Day   []struct {
		Title, Model, Part, Unit, Text string
		Due                            int
		Weight                         float64
	}
}

// benchDay is the day of the demo's jobs: today while the morning is young, else tomorrow.
func benchDay(now time.Time) time.Time {
	if now.Hour() >= 10 {
		now = now.AddDate(0, 0, 1)
	}
	return time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, time.UTC)
}

func (l *loader) desk(known map[string]*loaded, buyer act.Actor) {
	var c counter
	l.try(read("parts.json", &c), "parts")
	if l.err != nil {
		return
	}
	l.actor = buyer
	_, err := parts.Set(l.ctx, l.Service, l.command("workshop"), 0, c.Workshop)
	l.try(err, "workshop")
	for _, f := range c.Words {
		_, err := strip.TeachWord(l.ctx, l.Service, l.command("word "+f.Say), l.id("word "+f.Say), f)
		l.try(err, "word "+f.Say)
	}
	sellers := map[string]string{}
	for _, f := range c.Sellers {
		sellers[f.Name] = l.id("seller " + f.Name)
		row(l, "seller "+f.Name, &store.Seller{Row: store.Row{ID: sellers[f.Name]}}, f)
	}
	for i, f := range c.Exchanges {
		row(l, fmt.Sprintf("exchange %d", i), &store.Exchange{}, f)
	}
	for i, o := range c.Offers {
		f := o.OfferFacts
		f.SellerID, f.ModelID = sellers[o.Seller], known[o.Model].id
		row(l, fmt.Sprintf("offer %d", i), &store.Offer{}, f)
	}
	for i, p := range c.Prices {
		f := p.PriceFacts
		f.ModelID = known[p.Model].id
		row(l, fmt.Sprintf("price %d", i), &store.Price{}, f)
	}
	for i, x := range c.Deliveries {
		f := x.DeliveryFacts
		f.SellerID, f.ModelID = sellers[x.Seller], known[x.Model].id
		row(l, fmt.Sprintf("delivery %d", i), &store.Delivery{}, f)
	}
	for i, x := range c.Shelves {
		f := x.ShelfFacts
		f.ModelID = known[x.Model].id
		row(l, fmt.Sprintf("shelf %d", i), &store.Shelf{}, f)
	}
	for i, x := range c.Work {
		f := x.WorkFacts
		f.ModelID = known[x.Model].id
		row(l, fmt.Sprintf("work %d", i), &store.Work{}, f)
	}
	l.orders(c, known)
	for _, x := range c.Day {
		f := store.BenchJobFacts{Day: benchDay(l.Now().Local()), Title: x.Title, Due: x.Due, Weight: x.Weight}
		if k := known[x.Model]; k != nil {
			f.ModelID, f.PartID, f.UnitID = k.id, k.parts[x.Part], k.units[x.Unit]
		}
		if l.err == nil {
			_, err := benchday.AddJob(l.ctx, l.Service, l.command("day "+x.Title), l.id("day "+x.Title), f, x.Text)
			l.try(err, "day "+x.Title)
		}
	}
}

// orders are those that were sent some days ago.
func (l *loader) orders(c counter, known map[string]*loaded) {
	for i, x := range c.Orders {
		if l.err != nil {
			return
		}
		n := orders.New{ForJobs: x.For, Sure: []string{"old", "again"}}
		for _, y := range x.Lines {
			list, err := store.List[store.Offer](l.DB.WithContext(l.ctx), "id", "for_model_id = ? AND title = ?",
				known[y.Model].id, y.Title)
			if l.try(err, "offers"); len(list) > 0 {
				n.Lines = append(n.Lines, orders.NewLine{OfferID: list[0].ID, Quantity: y.Packs})
			}
		}
		name := fmt.Sprintf("order %d", i)
		made, err := orders.Make(l.ctx, l.Service, l.command(name), n)
		if l.try(err, name); err != nil {
			return
		}
		sent := l.command(name + " sent")
		sent.Happened = l.Now().UTC().AddDate(0, 0, -x.Days)
		o, err := orders.Move(l.ctx, l.Service, sent, made.Orders[0].ID, 1, orders.Step{State: "sent"})
		l.try(err, name+" sent")
		for k := range x.Asked {
			asked := l.command(fmt.Sprintf("%s asked %d", name, k))
			asked.Happened = l.Now().UTC().AddDate(0, 0, -k-1)
			o, err = orders.Asked(l.ctx, l.Service, asked, o.ID, o.Version)
			l.try(err, name+" asked")
		}
	}
}

// row adds one row of the desk.
func row[T, F any, E interface {
	store.Entity[T]
	Facts() *F
}](l *loader, what string, e E, f F) {
	if l.err == nil {
		_, err := parts.Add[T, F](l.ctx, l.Service, l.command(what), e, f)
		l.try(err, what)
	}
}
