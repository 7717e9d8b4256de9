// Package parts is the parts desk: what to buy, what to stock, which job to take, what a delivery or a donor is worth.
package parts

import (
	"context"
	"fmt"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// facts is a row of the desk whose facts are replaced whole.
type facts[T, F any] interface {
	store.Entity[T]
	Facts() *F
}

// Add records a row of the desk.
func Add[T any, F any, E facts[T, F]](ctx context.Context, s *act.Service, c act.Command, row E, f F) (T, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (T, error) {
		*row.Facts() = f
		if err := Check(tx.DB, row); err != nil {
			return *row, err
		}
		if w, is := any(row).(*store.Work); is {
			if err := moves(tx, w); err != nil {
				return *row, err
			}
		}
		return *row, store.Create(tx, row)
	})
}

// Change replaces the facts of a row.
func Change[T any, F any, E facts[T, F]](
	ctx context.Context,
	s *act.Service,
	c act.Command,
	id string,
	saw int,
	f F,
) (T, error) {
	return act.Change(ctx, s, c, id, saw, func(tx *store.Tx, row E) error {
		*row.Facts() = f
		if err := Check(tx.DB, row); err != nil {
			return err
		}
		if w, is := any(row).(*store.Work); is {
			return moves(tx, w)
		}
		return nil
	})
}

// Delete takes a row away.
func Delete[T any, E store.Entity[T]](
	ctx context.Context,
	s *act.Service,
	c act.Command,
	id string,
	saw int,
) (T, error) {
	return act.Delete(ctx, s, c, id, saw, func(tx *store.Tx, row E) error { return laidBack(tx, row, 1) })
}

// Restore brings it back.
func Restore[T any, E store.Entity[T]](
	ctx context.Context,
	s *act.Service,
	c act.Command,
	id string,
	saw int,
) (T, error) {
	return act.Restore(ctx, s, c, id, saw, func(tx *store.Tx, row E) error { return laidBack(tx, row, -1) })
}

// Locale is that of numbers and dates, as the office set it.
func Locale(ctx context.Context, s *act.Service) (string, error) {
	rows, err := store.List[store.Workshop](s.DB.WithContext(ctx).Limit(1), "id", "1 = 1")
	if err != nil || len(rows) == 0 {
		return "", err
	}
	return rows[0].Locale, nil
}

// Set keeps the settings: the first time as a new row, later as a change of it.
func Set(ctx context.Context, s *act.Service, c act.Command, saw int, f store.WorkshopFacts) (store.Workshop, error) {
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (store.Workshop, error) {
		rows, err := store.List[store.Workshop](tx.DB.Limit(1), "id", "1 = 1")
		if err != nil {
			return store.Workshop{}, err
		}
		if len(rows) == 0 {
			row := store.Workshop{WorkshopFacts: f}
			return row, store.Create(tx, &row)
		}
		row, err := store.Update(tx, rows[0].ID, saw, func(w *store.Workshop) error {
			w.WorkshopFacts = f
			return nil
		})
		if err != nil {
			return store.Workshop{}, err
		}
		return *row, nil
	})
}

// Check refuses what a row says against the rest of the desk.
func Check(db *gorm.DB, row any) error {
	model := func(id string) error {
		if _, err := store.Get[store.Model](db, id); err != nil {
			return fault.New("for_model_id", id, "the id of a model")
		}
		return nil
	}
	seller := func(id string) error {
		if _, err := store.Get[store.Seller](db, id); err != nil {
			return fault.New("seller_id", id, "the id of a seller")
		}
		return nil
	}
	switch r := row.(type) {
	case *store.Seller:
		r.Name = strings.TrimSpace(r.Name)
		if r.Name == "" {
			return fault.New("name", r.Name, "the seller's name")
		}
		for i, k := range r.Coupons {
			if (k.Percent > 0) == (k.Fixed > 0) {
				return fault.New(fmt.Sprintf("coupons[%d]", i), "both or neither", "a percentage, or a sum")
			}
		}
		if r.LeadP50 > r.LeadP90 {
			return fault.New("lead_p90", r.LeadP90, "not shorter than the usual time")
		}
	case *store.Offer:
		if len(r.Covers) == 0 || len(r.Covers) > 60 {
			return fault.New("covers", len(r.Covers), "what the pack is for: one part or more")
		}
		covers := map[string]int{}
		for slot, n := range r.Covers {
			if n < 1 || n > 1000 {
				return fault.New("covers."+slot, n, "1 to 1000 pieces")
			}
			covers[desk.Slot(slot)] += n
		}
		r.Covers = covers
		if err := seller(r.SellerID); err != nil {
			return err
		}
		return model(r.ModelID)
	case *store.Exchange:
		if r.From == r.To {
			return fault.New("to", r.To, "another currency than "+r.From)
		}
	case *store.Price:
		return model(r.ModelID)
	case *store.Delivery:
		r.Item, r.Lot = desk.Slot(r.Item), strings.TrimSpace(r.Lot)
		switch {
		case r.Inspected > r.Size:
			return fault.New("inspected", r.Inspected, fmt.Sprintf("at most the %d that came", r.Size))
		case r.Bad > r.Inspected:
			return fault.New("bad", r.Bad, fmt.Sprintf("at most the %d that were looked at", r.Inspected))
		case len(r.Reasons) > r.Bad:
			return fault.New("reasons", len(r.Reasons), fmt.Sprintf("one for each of the %d bad ones", r.Bad))
		}
		same, err := store.List[store.Delivery](db, "id", "seller_id = ? AND item = ? AND lot = ? AND for_model_id = ? AND id <> ?",
			r.SellerID, r.Item, r.Lot, r.ModelID, r.ID)
		if err != nil {
			return err
		}
		if len(same) > 0 {
			return fault.New("lot", r.Lot, "a lot that was not received before")
		}
		if err := seller(r.SellerID); err != nil {
			return err
		}
		return model(r.ModelID)
	case *store.Shelf:
		r.Item = desk.Slot(r.Item)
		if r.Reserved > r.Quantity {
			return fault.New("reserved", r.Reserved, fmt.Sprintf("at most the %d that are there", r.Quantity))
		}
		return model(r.ModelID)
	case *store.Need:
		r.Item = desk.Slot(r.Item)
		return model(r.ModelID)
	case *store.Work:
		if (r.Status == "refused" || r.Overrode != "") && strings.TrimSpace(r.Why) == "" {
			return fault.New("why", r.Why, "why it was refused, or taken against the advice")
		}
		if err := model(r.ModelID); err != nil {
			return err
		}
		return told(db, r)
	}
	return nil
}

// Show is the desk as it is, of one model or of all; of: only these kinds of rows beside the settings, the sellers and
// the models, nil for all.
func Show(ctx context.Context, s *act.Service, modelID string, of []string) (desk.Desk, error) {
	var ids []string
	if modelID != "" {
		ids = []string{modelID}
	}
	if of != nil {
		return desk.Some(s.DB.WithContext(ctx), ids, of)
	}
	return desk.Load(s.DB.WithContext(ctx), ids, false)
}
