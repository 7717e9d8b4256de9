package offers

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/order"
	"waryowl/internal/core/pricelist"
	"waryowl/internal/store"
)

// Put is a list that is put in: as it was seen, with what becomes of the rest.
type Put struct {
	ID string `json:"id" format:"uuid"`
	List
	Known string `json:"known" doc:"as the list was seen"`
	Rest  bool   `json:"rest,omitempty" doc:"rows that are wrong are left out; else the list is refused"`
	Whole bool   `json:"whole,omitempty" doc:"the list has all that its sellers offer: what is not in it is out of stock"`
}

// Done is an import as it is listed.
type Done struct {
	store.OfferImport
	Who     string    `json:"who"`
	When    time.Time `json:"when"`
	New     int       `json:"new"`
	Changes int       `json:"changes"`
}

func done(r store.OfferImport) Done {
	return Done{OfferImport: r, New: len(r.Made), Changes: len(r.Changed)}
}

// Import puts a list in: all of it, as one.
func Import(ctx context.Context, s *act.Service, c act.Command, p Put) (Done, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (Done, error) {
		if err := tx.Alone("offers"); err != nil { // one list at a time
			return Done{}, err
		}
		b, err := load(tx.DB, p.List, s.Now())
		if err != nil {
			return Done{}, err
		}
		if b.known != p.Known {
			return Done{}, fault.New("known", p.Known, "the offers as they are now: somebody changed them; look at the list again")
		}
		out, _, err := b.read(tx.DB)
		switch {
		case err != nil:
			return Done{}, err
		case len(out.Missing) > 0:
			return Done{}, fault.New("mapping", strings.Join(out.Missing, ", ")+" has no column", "a column for each, or one for all")
		case out.Counts.Asked > 0:
			return Done{}, fault.New("answers", out.Questions[0].ID, "an answer to each question")
		case out.Counts.Wrong > 0 && !p.Rest:
			return Done{}, fault.New("rest", out.Counts.Wrong, "true, to leave out the rows that are wrong")
		}
		row := store.OfferImport{Row: store.Row{ID: p.ID}, File: p.Name, Sellers: sellersOf(out, b.in), Model: p.Model,
			Mapping: p.Mapping, Answers: b.in.Answers, Defaults: map[string]string{}, Same: out.Counts.Same, Made: []string{},
			Changed: []store.OfferBefore{}, Kept: []string{}}
		for k, v := range map[string]string{"seller": p.Seller, "grade": p.Grade, "currency": p.Currency} {
			if v != "" {
				row.Defaults[k] = v
			}
		}
		if err := b.sellersOf(tx, p.List, out); err != nil {
			return Done{}, err
		}
		if err := b.write(tx, out, p.Whole, &row); err != nil {
			return Done{}, err
		}
		err = store.Create(tx, &row)
		return done(row), err
	})
}

// sellersOf adds the sellers of a list that are new.
func (b *book) sellersOf(tx *store.Tx, l List, out pricelist.Output) error {
	for _, n := range l.Sellers {
		name := strings.TrimSpace(n.Name)
		used := slices.ContainsFunc(out.Rows, func(r pricelist.Row) bool { return r.Offer != nil && r.Offer.Seller == name })
		if _, known := b.sellers[name]; known || !used {
			continue
		}
		x := store.Seller{SellerFacts: store.SellerFacts{Name: name, Currency: n.Currency}}
		if err := store.Create(tx, &x); err != nil {
			return err
		}
		b.sellers[name] = x
	}
	return nil
}

// facts are an offer as it is kept.
func (b *book) facts(o pricelist.Offer) (store.OfferFacts, error) {
	seller, model := b.sellers[o.Seller], b.models[o.Model]
	on, err := time.Parse(time.DateOnly, o.Date)
	if err != nil {
		return store.OfferFacts{}, fault.New("date", o.Date, "a day")
	}
	f := store.OfferFacts{SellerID: seller.ID, ModelID: model.ID, Title: o.Title, Covers: map[string]int{}, Grade: o.Grade,
		Lot: o.Lot, Price: o.PriceMinor, Currency: o.Currency, PricedOn: on, Code: o.Code}
	for s, n := range o.Covers {
		f.Covers[desk.Slot(s)] += n
	}
	if o.Stock != nil {
		f.Stock = int(*o.Stock)
	}
	if o.Lead != nil {
		f.LeadDays = *o.Lead
	}
	for field, long := range map[string]bool{"title": len([]rune(o.Title)) > 120, "lot": len([]rune(o.Lot)) > 40,
		"code": len([]rune(o.Code)) > 60, "price": o.PriceMinor > 100_000_000, "stock": f.Stock > 100_000,
		"lead": f.LeadDays > 365} {
		if long {
			return f, fault.New(field, o.Title, "a shorter text, or a smaller figure: a title of 120 letters, a lot of 40, a code "+
				"of 60, a price of 1,000,000, 100,000 packs, 365 days")
		}
	}
	return f, nil
}

// write writes the rows: new ones, changed ones, and those that a whole list does not have any more.
func (b *book) write(tx *store.Tx, out pricelist.Output, whole bool, row *store.OfferImport) error {
	var fresh []store.Offer
	changed, saw := map[string]store.OfferFacts{}, map[string]int{}
	for _, r := range out.Rows {
		if r.Decision != "new" && r.Decision != "changed" {
			continue
		}
		f, err := b.facts(*r.Offer)
		if err != nil {
			return fault.New(fmt.Sprintf("line %d", r.Line), err.Error(), "a row that can be kept")
		}
		if r.Decision == "new" {
			fresh = append(fresh, store.Offer{Row: store.Row{ID: store.NewID()}, OfferFacts: f})
			row.Made = append(row.Made, fresh[len(fresh)-1].ID)
			continue
		}
		changed[r.ID], saw[r.ID] = f, b.offers[r.ID].Version
	}
	if whole {
		for _, id := range out.Gone {
			if f := b.offers[id].OfferFacts; f.Stock > 0 {
				f.Stock = 0
				changed[id], saw[id] = f, b.offers[id].Version
				row.Gone++
			}
		}
	}
	if err := store.CreateAll(tx, fresh); err != nil {
		return err
	}
	for _, id := range slices.Sorted(maps.Keys(saw)) {
		row.Changed = append(row.Changed, store.OfferBefore{ID: id, Version: saw[id] + 1, Before: b.offers[id].OfferFacts})
	}
	_, err := store.UpdateAll(tx, saw, func(o *store.Offer) error {
		o.OfferFacts = changed[o.ID]
		return nil
	})
	return err
}

// Undo takes an import back as one: what it made goes, what it changed is as it was before. Offers that an order has, and
// those that somebody changed since, stay as they are and are named.
func Undo(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (Done, error) {
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (Done, error) {
		if err := tx.Alone("offers"); err != nil {
			return Done{}, err
		}
		row, err := store.Get[store.OfferImport](tx.DB, id)
		if err != nil {
			return Done{}, err
		}
		if row.Undone {
			return Done{}, fault.New("id", id, "an import that was not taken back before")
		}
		ordered, err := orderedOffers(tx)
		if err != nil {
			return Done{}, err
		}
		gone := map[string]int{}
		var kept []string
		for _, o := range row.Made {
			if ordered[o] == "" {
				gone[o] = 1
			} else {
				kept = append(kept, o)
			}
		}
		moved, err := store.DeleteAll[store.Offer](tx, gone)
		if err != nil {
			return Done{}, err
		}
		before, seen := map[string]store.OfferFacts{}, map[string]int{}
		for _, x := range row.Changed {
			before[x.ID], seen[x.ID] = x.Before, x.Version
		}
		away, err := store.UpdateAll(tx, seen, func(o *store.Offer) error {
			o.OfferFacts = before[o.ID]
			return nil
		})
		if err != nil {
			return Done{}, err
		}
		names, err := titles(tx, append(append(kept, moved...), away...), ordered)
		if err != nil {
			return Done{}, err
		}
		row, err = store.Update(tx, id, saw, func(r *store.OfferImport) error {
			r.Undone, r.Kept = true, names
			return nil
		})
		if err != nil {
			return Done{}, err
		}
		return done(*row), nil
	})
}

// orderedOffers are the offers that stand in an order, with its number.
func orderedOffers(tx *store.Tx) (map[string]string, error) {
	list, err := store.List[store.PurchaseOrder](tx.DB, "id", "state <> ?", order.Cancelled)
	out := map[string]string{}
	for _, o := range list {
		for _, l := range o.Lines {
			out[l.OfferID] = o.Number
		}
	}
	return out, err
}

// titles name offers that an undo left as they are, with the reason.
func titles(tx *store.Tx, ids []string, ordered map[string]string) ([]string, error) {
	rows, err := store.List[store.Offer](tx.DB.Unscoped(), "title, id", "id IN ?", append(ids, ""))
	list := []string{}
	for _, o := range rows {
		why := "somebody changed it since"
		if n := ordered[o.ID]; n != "" {
			why = "it is in order " + n
		} else if o.DeletedAt.Valid {
			why = "somebody deleted it"
		}
		list = append(list, o.Title+": "+why)
	}
	return list, err
}

// Imports are the lists that were put in, the newest first.
func Imports(ctx context.Context, s *act.Service) ([]Done, error) {
	db := s.DB.WithContext(ctx)
	rows, err := store.List[store.OfferImport](db.Omit("changed", "made").Limit(50), "id DESC", "1 = 1")
	if err != nil {
		return nil, err
	}
	ids := make([]string, 0, len(rows))
	for _, r := range rows {
		ids = append(ids, r.ID)
	}
	who, err := store.Authors(db, ids)
	if err != nil {
		return nil, err
	}
	var sizes []struct {
		ID            string
		Made, Changed int
	}
	if err := db.Raw("SELECT id, JSON_LENGTH(made) AS made, JSON_LENGTH(changed) AS changed FROM offer_imports "+
		"WHERE id IN ?", append(ids, "")).Scan(&sizes).Error; err != nil {
		return nil, err
	}
	list := []Done{}
	for _, r := range rows {
		d := done(r)
		d.Who, d.When = who[r.ID], r.CreatedAt
		for _, n := range sizes {
			if n.ID == r.ID {
				d.New, d.Changes = n.Made, n.Changed
			}
		}
		list = append(list, d)
	}
	return list, nil
}
