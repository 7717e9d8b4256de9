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
	"waryowl/internal/core/fault"
	"waryowl/internal/core/order"
	"waryowl/internal/store"
)

// Receipt is what came of a line, in packs; what is none of good, bad and wrong was not looked at yet.
type Receipt struct {
	ID      string     `json:"id" format:"uuid"`
	Line    int        `json:"line" minimum:"1"`
	Came    int        `json:"came" minimum:"1" maximum:"100000"`
	Good    int        `json:"good" minimum:"0" maximum:"100000"`
	Bad     int        `json:"bad" minimum:"0" maximum:"100000"`
	Wrong   int        `json:"wrong" minimum:"0" maximum:"100000" doc:"not what was ordered"`
	Surplus string     `json:"surplus,omitempty" enum:"take,return,refuse," doc:"what becomes of more than were open"`
	Lot     string     `json:"lot,omitempty" maxLength:"40" doc:"as on the delivery; empty: the number of the order"`
	Place   string     `json:"place,omitempty" maxLength:"60" doc:"where they lie"`
	On      *time.Time `json:"on,omitempty" doc:"the day; empty: today"`
	Reasons []string   `json:"reasons,omitempty" nullable:"false" maxItems:"60" doc:"why the bad ones are bad"`
	Note    string     `json:"note,omitempty" maxLength:"200"`
}

// Receive books what came of a line: good pieces to the shelf at what they cost in the end, what was not looked at into
// quarantine, wrong ones apart, bad ones into a claim, and the lot among the deliveries.
func Receive(ctx context.Context, s *act.Service, c act.Command, id string, saw int, r Receipt) (store.PurchaseOrder, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.PurchaseOrder, error) {
		o, err := store.Update(tx, id, saw, func(o *store.PurchaseOrder) error { return book(tx, o, r) })
		if err != nil {
			return store.PurchaseOrder{}, err
		}
		return *o, nil
	})
}

func book(tx *store.Tx, o *store.PurchaseOrder, r Receipt) error {
	l, err := lineOf(o, r.Line)
	if err != nil {
		return err
	}
	b, err := order.Book(desk.LineOf(*l), order.Receipt{Came: r.Came, Good: r.Good, Bad: r.Bad, Wrong: r.Wrong,
		Surplus: r.Surplus})
	if err != nil {
		return err
	}
	if strings.TrimSpace(r.Place) == "" && b.Good+b.Unseen+b.Wrong > 0 {
		return fault.New("place", r.Place, "where they lie")
	}
	on := tx.Happened
	if r.On != nil {
		on = *r.On
	}
	if o.SentOn != nil && on.Before(o.SentOn.Truncate(24*time.Hour)) {
		return fault.New("on", on.Format(time.DateOnly), "not before the order was sent, "+o.SentOn.Format(time.DateOnly))
	}
	x, err := store.Get[store.Seller](tx.DB, o.SellerID)
	if err != nil {
		return err
	}
	lot := strings.TrimSpace(r.Lot)
	if lot == "" {
		lot = fmt.Sprintf("%s/%d", o.Number, l.No)
	}
	e := store.OrderReceipt{ID: r.ID, Line: l.No, Came: r.Came, Good: b.Good, Bad: b.Bad, Wrong: b.Wrong, Over: b.Over,
		Surplus: r.Surplus, Lot: lot, On: on, Note: r.Note}
	if slices.ContainsFunc(o.Receipts, func(y store.OrderReceipt) bool { return y.ID == r.ID }) {
		return fault.New("id", r.ID, "an id that was not used before")
	}
	if b.Bad > 0 {
		days := x.ClaimDays
		if days == 0 {
			days = claimDays
		}
		by := on.AddDate(0, 0, days)
		e.Claim, e.ClaimBy = order.Claim(l.Price, b.Bad, x.Refund), &by
	}
	if e.Delivery, err = delivery(tx, o, l, b, r, lot, on); err != nil {
		return err
	}
	if err := shelve(tx, o, l, b, r, lot); err != nil {
		return err
	}
	l.Came += b.Kept
	o.Receipts = append(o.Receipts, e)
	settle(tx, o)
	return nil
}

// mainSlot is the slot that a pack is mostly for: the first by name of those with the fewest pieces.
func mainSlot(l *store.OrderLine) (slot string, pieces int) {
	for s, n := range l.Covers {
		if slot == "" || n < pieces || n == pieces && s < slot {
			slot, pieces = s, n
		}
	}
	return slot, pieces
}

// delivery keeps the lot among the deliveries: the one of this line and lot grows.
func delivery(tx *store.Tx, o *store.PurchaseOrder, l *store.OrderLine, b order.Booked, r Receipt, lot string,
	on time.Time) (string, error) {
	if b.Kept == 0 {
		return "", nil
	}
	slot, pieces := mainSlot(l)
	had, err := store.List[store.Delivery](tx.DB, "id", "seller_id = ? AND item = ? AND lot = ? AND for_model_id = ?",
		o.SellerID, slot, lot, l.ModelID)
	if err != nil {
		return "", err
	}
	size, seen, bad, good := b.Kept*pieces, (b.Good+b.Bad)*pieces, b.Bad*pieces, b.Good*pieces
	reasons := r.Reasons[:min(len(r.Reasons), bad)]
	if len(had) > 0 {
		if had[0].OrderID != o.ID || had[0].OrderLine != l.No {
			return "", fault.New("lot", lot, "a lot that was not received before")
		}
		_, err := store.Update(tx, had[0].ID, had[0].Version, func(d *store.Delivery) error {
			d.Size, d.Inspected, d.Bad, d.Stocked = d.Size+size, d.Inspected+seen, d.Bad+bad, d.Stocked+good
			d.Reasons = append(d.Reasons, reasons...)
			return nil
		})
		return had[0].ID, err
	}
	d := store.Delivery{OrderID: o.ID, OrderLine: l.No, Stocked: good, DeliveryFacts: store.DeliveryFacts{
		SellerID: o.SellerID, ModelID: l.ModelID, Item: slot, Grade: l.Grade, Lot: lot, Size: size, Price: each(o, l, false),
		Currency: o.Currency, ReceivedOn: on, Inspected: seen, Bad: bad, Reasons: reasons}}
	err = store.Create(tx, &d)
	return d.ID, err
}

// each is what a piece of a line costs: its price, or in the end, with its shares of sending and of a coupon.
func each(o *store.PurchaseOrder, l *store.OrderLine, landed bool) int64 {
	values := make([]int64, len(o.Lines))
	k := 0
	for i, x := range o.Lines {
		values[i] = int64(x.Quantity) * x.Price
		if x.No == l.No {
			k = i
		}
	}
	sum, pieces := values[k], 0
	if landed {
		sum = order.Landed(values, o.Shipping, o.Discount)[k]
	}
	for _, n := range l.Covers {
		pieces += n
	}
	if pieces *= l.Quantity; pieces == 0 {
		return 0
	}
	return int64(math.Floor(float64(sum)/float64(pieces) + 0.5))
}

// shelve lays down what came: free pieces, and apart from them what may not be used yet.
func shelve(tx *store.Tx, o *store.PurchaseOrder, l *store.OrderLine, b order.Booked, r Receipt, lot string) error {
	for _, slot := range slices.Sorted(maps.Keys(l.Covers)) {
		for _, lay := range []struct {
			packs      int
			quarantine string
			origin     string
		}{
			{b.Good, "", "lot " + lot},
			{b.Unseen, "not looked at yet", desk.Unseen(lot)},
			{b.Wrong, "return: not what was ordered, " + o.Number, "lot " + lot + ", wrong"},
		} {
			if lay.packs == 0 {
				continue
			}
			row := store.Shelf{ShelfFacts: store.ShelfFacts{ModelID: l.ModelID, Item: slot, Grade: l.Grade,
				Quantity: lay.packs * l.Covers[slot], Place: strings.TrimSpace(r.Place), Quarantine: lay.quarantine,
				Origin: lay.origin, Cost: each(o, l, true), CostIn: o.Currency}}
			if err := store.Create(tx, &row); err != nil {
				return err
			}
		}
	}
	return nil
}
