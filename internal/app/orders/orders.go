// Package orders is the room of purchase orders: made out of a basket or by hand, sent by a person, received line by line,
// and claimed for. The program sends nothing by itself.
package orders

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/core/basket"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/order"
	"waryowl/internal/store"
)

// New is what is ordered: packs of offers, of any number of sellers.
type New struct {
	Lines    []NewLine  `json:"lines" minItems:"1" maxItems:"200" nullable:"false"`
	WantedBy *time.Time `json:"wanted_by,omitempty" ahead:"yes"`
	ForJobs  string     `json:"for_jobs,omitempty" maxLength:"300" doc:"which jobs wait for it"`
	Sure     []string   `json:"sure,omitempty" nullable:"false" enum:"again,old" maxItems:"2" doc:"again: it is on order already, and meant; old: prices are over 30 days old, and meant"`
}

// NewLine is one of its lines.
type NewLine struct {
	OfferID  string `json:"offer_id" format:"uuid"`
	Quantity int    `json:"quantity" minimum:"1" maximum:"1000" doc:"packs"`
	Note     string `json:"note,omitempty" maxLength:"200" doc:"why it is bought, or bought against the advice"`
}

// Made are the drafts of one act, one for each seller.
type Made struct {
	Orders []store.PurchaseOrder `json:"orders" nullable:"false"`
}

const (
	oldDays   = 30 // from when on a price is old (house)
	mostLines = 200
	claimDays = 14 // in which a bad piece is told, where a seller's terms say nothing (house)
)

// Make makes one draft for each seller, numbered without gaps.
func Make(ctx context.Context, s *act.Service, c act.Command, n New) (Made, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (Made, error) {
		out := Made{Orders: []store.PurchaseOrder{}}
		if err := tx.Alone("order numbers"); err != nil {
			return out, err
		}
		list, sellers, err := lines(tx, n)
		if err != nil {
			return out, err
		}
		if err := asks(tx, s.Now(), n, list); err != nil {
			return out, err
		}
		year := s.Now().Year()
		var count int64
		if err := tx.DB.Unscoped().Model(&store.PurchaseOrder{}).Where("number LIKE ?", fmt.Sprintf("%d-%%", year)).
			Count(&count).Error; err != nil {
			return out, err
		}
		for _, id := range sellers.order {
			x := sellers.by[id]
			count++
			o := store.PurchaseOrder{Number: order.Number(year, int(count)), SellerID: id, Currency: x.Currency,
				State: order.Draft, Lines: list[id], Receipts: []store.OrderReceipt{}, WantedBy: n.WantedBy, ForJobs: n.ForJobs,
				AskedOn: []time.Time{}}
			total(&o, x)
			if err := store.Create(tx, &o); err != nil {
				return out, err
			}
			out.Orders = append(out.Orders, o)
		}
		return out, nil
	})
}

type sellersOf struct {
	order []string
	by    map[string]store.Seller
}

// lines are the lines of what is ordered, by seller; a price in another currency than the seller's is refused.
func lines(tx *store.Tx, n New) (map[string][]store.OrderLine, sellersOf, error) {
	out, sellers := map[string][]store.OrderLine{}, sellersOf{by: map[string]store.Seller{}}
	for i, l := range n.Lines {
		at := fmt.Sprintf("lines[%d].offer_id", i)
		o, err := store.Get[store.Offer](tx.DB, l.OfferID)
		if err != nil {
			return nil, sellers, fault.New(at, l.OfferID, "an offer on record")
		}
		x, known := sellers.by[o.SellerID]
		if !known {
			got, err := store.Get[store.Seller](tx.DB, o.SellerID)
			if err != nil {
				return nil, sellers, fault.New(at, o.Title, "an offer of a seller on record")
			}
			x = *got
			sellers.by[o.SellerID] = x
			sellers.order = append(sellers.order, o.SellerID)
		}
		if o.Currency != x.Currency {
			return nil, sellers, fault.New(at, o.Title+" in "+o.Currency, "an offer in the currency that "+x.Name+
				" asks for, "+x.Currency)
		}
		list := out[o.SellerID]
		if k := slices.IndexFunc(list, func(y store.OrderLine) bool { return y.OfferID == o.ID }); k >= 0 {
			list[k].Quantity += l.Quantity
			continue
		}
		out[o.SellerID] = append(list, store.OrderLine{No: len(list) + 1, OfferID: o.ID, Code: o.Code, Title: o.Title,
			ModelID: o.ModelID, Covers: o.Covers, Grade: o.Grade, Lot: o.Lot, Quantity: l.Quantity, Price: o.Price, Note: l.Note})
	}
	return out, sellers, nil
}

// asks refuses what is better asked first: the same parts on order already, and prices that are old.
func asks(tx *store.Tx, now time.Time, n New, list map[string][]store.OrderLine) error {
	open, err := store.List[store.PurchaseOrder](tx.DB, "number", "state IN ?", []string{order.Draft, order.Sent, order.Part})
	if err != nil {
		return err
	}
	var again, old []string
	for _, mine := range list {
		for _, l := range mine {
			for _, o := range open {
				for _, x := range o.Lines {
					if x.ModelID == l.ModelID && shares(x.Covers, l.Covers) && desk.LineOf(x).Open() > 0 {
						again = append(again, l.Title+" in "+o.Number)
					}
				}
			}
			if l.OfferID != "" {
				offer, err := store.Get[store.Offer](tx.DB, l.OfferID)
				if err != nil {
					return err
				}
				if desk.Days(now, offer.PricedOn) > oldDays {
					old = append(old, fmt.Sprintf("%s, %d days", l.Title, desk.Days(now, offer.PricedOn)))
				}
			}
		}
	}
	slices.Sort(again)
	slices.Sort(old)
	if len(again) > 0 && !slices.Contains(n.Sure, "again") {
		return fault.New("sure", "on order already: "+strings.Join(slices.Compact(again), "; "), "again, to order it all the same")
	}
	if len(old) > 0 && !slices.Contains(n.Sure, "old") {
		return fault.New("sure", "old prices: "+strings.Join(old, "; "), "old, to order at them all the same")
	}
	return nil
}

func shares(a, b map[string]int) bool {
	for s := range a {
		if b[s] > 0 {
			return true
		}
	}
	return false
}

// total works out what an order comes to, by the terms of its seller.
func total(o *store.PurchaseOrder, x store.Seller) {
	o.Subtotal = 0
	for _, l := range o.Lines {
		o.Subtotal += int64(l.Quantity) * l.Price
	}
	terms := basket.Seller{ID: x.ID, Currency: x.Currency, Shipping: x.Shipping, FreeAbove: x.FreeAbove}
	for _, c := range x.Coupons {
		terms.Coupons = append(terms.Coupons, basket.Coupon{Percent: c.Percent, Fixed: c.Fixed, Above: c.Above})
	}
	o.Discount, o.Shipping = basket.Bill(terms, o.Subtotal)
	o.Total = o.Subtotal - o.Discount + o.Shipping
}

// Draft is what of a draft may change: quantities (0 leaves a line out) and notes by line, and what it is for.
type Draft struct {
	Lines    []DraftLine `json:"lines" nullable:"false" maxItems:"200"`
	WantedBy *time.Time  `json:"wanted_by,omitempty" ahead:"yes"`
	ForJobs  string      `json:"for_jobs,omitempty" maxLength:"300"`
}

// DraftLine is one line of it; Reprice takes the offer's price of today.
type DraftLine struct {
	No       int    `json:"no" minimum:"1"`
	Quantity int    `json:"quantity" minimum:"0" maximum:"1000"`
	Note     string `json:"note,omitempty" maxLength:"200"`
	Reprice  bool   `json:"reprice,omitempty"`
}

// Change changes a draft.
func Change(ctx context.Context, s *act.Service, c act.Command, id string, saw int, d Draft) (store.PurchaseOrder, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, o *store.PurchaseOrder) error {
		if o.State != order.Draft {
			return fault.New("state", o.State, "draft: an order that was sent is changed no more")
		}
		x, err := store.Get[store.Seller](tx.DB, o.SellerID)
		if err != nil {
			return err
		}
		o.WantedBy, o.ForJobs = d.WantedBy, d.ForJobs
		for i, n := range d.Lines {
			k := slices.IndexFunc(o.Lines, func(l store.OrderLine) bool { return l.No == n.No })
			if k < 0 {
				return fault.New(fmt.Sprintf("lines[%d].no", i), n.No, "the number of a line of this order")
			}
			o.Lines[k].Quantity, o.Lines[k].Note = n.Quantity, n.Note
			if n.Reprice {
				offer, err := store.Get[store.Offer](tx.DB, o.Lines[k].OfferID)
				if err != nil {
					return fault.New(fmt.Sprintf("lines[%d].reprice", i), true, "an offer that is still on record")
				}
				o.Lines[k].Price = offer.Price
			}
		}
		o.Lines = slices.DeleteFunc(o.Lines, func(l store.OrderLine) bool { return l.Quantity == 0 })
		if len(o.Lines) == 0 {
			return fault.New("lines", 0, "one line or more; to order nothing the draft is cancelled")
		}
		for k := range o.Lines {
			o.Lines[k].No = k + 1
		}
		total(o, *x)
		return nil
	})
}

// Step leads an order to another state by a person's act: sent, back to draft, cancelled. Why is needed to cancel.
type Step struct {
	State string `json:"state" enum:"draft,sent,cancelled"`
	Why   string `json:"why,omitempty" maxLength:"300" doc:"needed to cancel what was sent"`
}

// Move does so.
func Move(ctx context.Context, s *act.Service, c act.Command, id string, saw int, to Step) (store.PurchaseOrder, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, o *store.PurchaseOrder) error {
		if err := order.Follow(o.State, to.State); err != nil {
			return err
		}
		now := tx.Arrived
		switch to.State {
		case order.Sent:
			x, err := store.Get[store.Seller](tx.DB, o.SellerID)
			if err != nil {
				return err
			}
			deliveries, earlier, err := recordRows(tx, o.SellerID)
			if err != nil {
				return err
			}
			o.LeadP50, o.LeadP90 = desk.RecordOf(o.SellerID, earlier, deliveries).Lead(*x)
			sent := tx.Happened
			o.SentOn = &sent
		case order.Draft:
			if o.SentOn == nil || now.Sub(*o.SentOn) > 24*time.Hour {
				return fault.New("state", to.State, "cancelled: it was sent more than a day ago")
			}
			o.SentOn = nil
		default:
			if o.State != order.Draft && strings.TrimSpace(to.Why) == "" {
				return fault.New("why", to.Why, "why it is cancelled")
			}
			o.ClosedOn, o.Why = &now, to.Why
		}
		o.State = to.State
		return nil
	})
}

func recordRows(tx *store.Tx, seller string) ([]store.Delivery, []store.PurchaseOrder, error) {
	deliveries, err := store.List[store.Delivery](tx.DB.Limit(500), "id DESC", "seller_id = ?", seller)
	if err != nil {
		return nil, nil, err
	}
	earlier, err := store.List[store.PurchaseOrder](tx.DB.Limit(100), "id DESC", "seller_id = ? AND sent_on IS NOT NULL", seller)
	return deliveries, earlier, err
}

// Asked notes that the seller was asked where an order is.
func Asked(ctx context.Context, s *act.Service, c act.Command, id string, saw int) (store.PurchaseOrder, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, o *store.PurchaseOrder) error {
		if !order.Open(o.State) {
			return fault.New("state", o.State, "sent, or part received: of others nothing is to come")
		}
		o.AskedOn = append(o.AskedOn, tx.Happened)
		return nil
	})
}

// Rest writes off what is still to come of a line, with the reason.
type Rest struct {
	Line int    `json:"line" minimum:"1"`
	Why  string `json:"why" minLength:"1" maxLength:"200"`
}

// WriteOff does so.
func WriteOff(ctx context.Context, s *act.Service, c act.Command, id string, saw int, r Rest) (store.PurchaseOrder, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, o *store.PurchaseOrder) error {
		l, err := lineOf(o, r.Line)
		if err != nil {
			return err
		}
		left := desk.LineOf(*l).Open()
		if left == 0 {
			return fault.New("line", r.Line, "a line of which something is still to come")
		}
		l.WrittenOff, l.WrittenWhy = l.WrittenOff+left, r.Why
		settle(tx, o)
		return nil
	})
}

// lineOf is an open line of an order.
func lineOf(o *store.PurchaseOrder, no int) (*store.OrderLine, error) {
	if !order.Open(o.State) {
		return nil, fault.New("state", o.State, "sent, or part received: only then something comes in")
	}
	k := slices.IndexFunc(o.Lines, func(l store.OrderLine) bool { return l.No == no })
	if k < 0 {
		return nil, fault.New("line", no, "the number of a line of this order")
	}
	return &o.Lines[k], nil
}

// settle leads an order to the state that its lines ask for.
func settle(tx *store.Tx, o *store.PurchaseOrder) {
	var list []order.Line
	for _, l := range o.Lines {
		list = append(list, desk.LineOf(l))
	}
	if o.State = order.State(list); o.State == order.Received {
		now := tx.Arrived
		o.ClosedOn = &now
	}
}

// ClaimTold notes that a claim was told to the seller.
func ClaimTold(ctx context.Context, s *act.Service, c act.Command, id string, saw int, receipt string) (store.PurchaseOrder,
	error) {
	return act.Change(ctx, s, c, id, saw, func(_ *store.Tx, o *store.PurchaseOrder) error {
		k := slices.IndexFunc(o.Receipts, func(r store.OrderReceipt) bool { return r.ID == receipt && r.ClaimBy != nil })
		if k < 0 {
			return fault.New("receipt", receipt, "a receipt of this order with a claim")
		}
		o.Receipts[k].ClaimDone = true
		return nil
	})
}
