package first

import (
	"context"
	"fmt"
	"math"
	"slices"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/orders"
	"waryowl/internal/app/parts"
	"waryowl/internal/core/answer"
	"waryowl/internal/store"
)

// StockLine is a part that runs out.
type StockLine struct {
	Title  string     `json:"title"`
	Models []string   `json:"models" nullable:"false"`
	OnHand int        `json:"on_hand"`
	Order  int        `json:"on_order"`
	Owed   int        `json:"owed" doc:"jobs that were taken and have no piece yet"`
	Level  int        `json:"level" doc:"what serves the share of jobs that the office asks for"`
	Weekly float64    `json:"per_week"`
	Out    *time.Time `json:"out,omitempty" doc:"day on which it runs out at the usual rate"`
	Why    string     `json:"why"`
}

// Late is an order that is late, or was cancelled within a week.
type Late struct {
	ID     string `json:"id"`
	Number string `json:"number"`
	Seller string `json:"seller"`
	Says   string `json:"says"`
	Days   int    `json:"days"`
}

// OldPrice is a seller whose prices are old.
type OldPrice struct {
	Seller string    `json:"seller"`
	Offers int       `json:"offers"`
	Oldest time.Time `json:"oldest"`
}

// stale is from how many days on a price is old (house).
const stale = 30

// buyer is the first page of those who buy: what runs out, lots to inspect, prices that are old.
func (v *Room) buyer(ctx context.Context, s *act.Service) error {
	if err := v.ordered(ctx, s); err != nil {
		return err
	}
	room, err := parts.Levels(ctx, s, parts.AskLevels{})
	if err != nil {
		return err
	}
	for _, g := range room.Groups {
		position := g.OnHand + g.OnOrder - g.Owed
		if position >= g.BaseStock {
			continue
		}
		l := StockLine{Title: answer.Title(desk.Said(g.Slot)), Models: []string{}, OnHand: g.OnHand, Order: g.OnOrder,
			Owed: g.Owed, Level: g.BaseStock, Weekly: g.RatePerWeek}
		for _, m := range g.Models {
			l.Models = append(l.Models, m.Name)
		}
		if g.RatePerWeek > 0 {
			out := s.Now().Add(time.Duration(math.Min(520, float64(max(0,
				g.OnHand-g.Owed))/g.RatePerWeek*7*24)) * time.Hour)
			l.Out = &out
		}
		switch {
		case g.Owed > g.OnHand+g.OnOrder:
			l.Why = fmt.Sprintf("%s without a piece", answer.Counted(g.Owed-g.OnHand-g.OnOrder, "job"))
		default:
			l.Why = fmt.Sprintf("%d of %d that serve %.0f of 100 jobs", max(0, position), g.BaseStock, 100*room.Goal)
		}
		v.Stock = append(v.Stock, l)
	}
	slices.SortStableFunc(v.Stock, func(a, b StockLine) int {
		switch {
		case a.Out == nil || b.Out == nil:
			return 0
		default:
			return a.Out.Compare(*b.Out)
		}
	})
	for _, l := range v.Stock {
		v.Next = append(v.Next, Next{Title: fmt.Sprintf("Order %d %s", l.Level-(l.OnHand+l.Order-l.Owed),
			lower(l.Title)),
			Why: l.Models[0] + ": " + l.Why, Path: "/parts", Look: l.Owed > l.OnHand+l.Order})
	}
	names, err := names(ctx, s)
	if err != nil {
		return err
	}
	if v.Lots, err = arrivals(ctx, s, names, "inspected = 0"); err != nil {
		return err
	}
	for _, l := range v.Lots {
		v.Next = append(v.Next, Next{Title: "Inspect lot " + l.Lot + ", " + l.Title, Why: answer.Counted(l.Size,
			"piece") +
			" cannot be used before", Path: "/parts?face=incoming"})
	}
	if v.Old, err = oldPrices(ctx, s); err != nil {
		return err
	}
	for _, o := range v.Old {
		v.Next = append(v.Next, Next{Title: "Ask " + o.Seller + " for new prices",
			Why: fmt.Sprintf("%s older than %d days",
				answer.Counted(o.Offers, "price"), stale), Path: "/parts?face=record"})
	}
	return nil
}

// ordered are orders that are late, drafts that nobody sent, and claims whose days run out.
func (v *Room) ordered(ctx context.Context, s *act.Service) error {
	room, err := orders.List(ctx, s)
	if err != nil {
		return err
	}
	for _, o := range room.Orders {
		path := "/parts?face=order&order=" + o.ID
		for _, c := range o.Claims {
			if !c.Told {
				v.Next = append(v.Next, Next{Title: "Claim " + c.Amount + " of " + o.Seller, Look: c.Left <= 3, Path: path,
					Why: fmt.Sprintf("order %s: %d bad, %s left", o.Number, c.Pieces, answer.Counted(max(0, c.Left), "day"))})
			}
		}
		switch {
		case o.State == "draft":
			v.Next = append(v.Next, Next{Title: "Send order " + o.Number, Why: o.Seller + ", " + o.Total, Path: path})
		case o.State == "cancelled" && o.ClosedOn != nil && s.Now().Sub(*o.ClosedOn) < 7*24*time.Hour:
			v.Late = append(v.Late, Late{ID: o.ID, Number: o.Number, Seller: o.Seller, Says: o.Says})
		case o.DaysLate > 0:
			v.Late = append(v.Late, Late{ID: o.ID, Number: o.Number, Seller: o.Seller, Says: o.Says, Days: o.DaysLate})
			v.Next = append(v.Next, Next{Title: "Ask " + o.Seller + " for order " + o.Number, Why: o.Says, Path: path, Look: true})
		}
	}
	return nil
}

func oldPrices(ctx context.Context, s *act.Service) ([]OldPrice, error) {
	list := []OldPrice{}
	err := s.DB.WithContext(ctx).Model(&store.Offer{}).Select("sellers.name AS seller, COUNT(*) AS offers, MIN(priced_on) AS oldest").
		Joins("JOIN sellers ON sellers.id = offers.seller_id AND sellers.deleted_at IS NULL").
		Where("priced_on < ? AND stock > 0", s.Now().AddDate(0, 0, -stale)).Group("sellers.id, sellers.name").
		Order("oldest, seller").Limit(20).Scan(&list).Error
	return list, err
}
