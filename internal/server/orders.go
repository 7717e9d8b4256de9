package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/app/act"
	"waryowl/internal/app/needs"
	"waryowl/internal/app/offers"
	"waryowl/internal/app/orders"
	"waryowl/internal/exchange"
	"waryowl/internal/store"
)

type (
	// NewNeed puts a part on the list of what to buy.
	NewNeed struct {
		ID string `json:"id" format:"uuid"`
		store.NeedFacts
	}
	// NeedChange replaces the facts of one.
	NeedChange struct {
		Version int `json:"version" minimum:"1"`
		store.NeedFacts
	}
	// NewBuild puts all parts of a job or a whole build on that list.
	NewBuild struct {
		Job string `json:"job" enum:"build,battery,screen,back-glass,port,camera"`
	}
	// DraftChange changes a draft of an order.
	DraftChange struct {
		Version int `json:"version" minimum:"1"`
		orders.Draft
	}
	// OrderStep leads an order to another state.
	OrderStep struct {
		Version int `json:"version" minimum:"1"`
		orders.Step
	}
	// OrderRest writes off what is still to come of a line.
	OrderRest struct {
		Version int `json:"version" minimum:"1"`
		orders.Rest
	}
	// NewReceipt is what came of a line.
	NewReceipt struct {
		Version int `json:"version" minimum:"1"`
		orders.Receipt
	}
	// OneOrder is an order with the letters that its print would lose.
	OneOrder struct {
		orders.View
		Unprintable string `json:"unprintable,omitempty" doc:"letters that a PDF prints as question marks"`
	}
	// AtVersion is the version of a row that the page shows.
	AtVersion struct {
		Version int `json:"version" minimum:"1"`
	}
)

// mostList is how large a seller's list may be.
const mostList = 24 << 20

func (s *server) ordersRoutes() {
	s.offerRoutes()
	s.needRoutes()
	get(s, "/api/orders", "get-orders", "What is on order, and how sellers keep what they promise", act.Buying,
		func(ctx context.Context, _ *struct{}) (orders.Room, error) { return orders.List(ctx, s.App) })
	get(s, "/api/orders/{id}", "get-order", "One order with its lines, receipts and claims", act.Buying,
		func(ctx context.Context, in *ByID) (OneOrder, error) {
			v, err := orders.Show(ctx, s.App, in.ID)
			return OneOrder{v, exchange.Unprintable(v)}, err
		})
	sends(s, "/api/orders/{id}/{format}", "get-order-file", "An order to print or to send", act.Buying,
		func(ctx context.Context, in *struct {
			ByID
			Format string `path:"format" enum:"pdf,csv"`
		}) (*file, error) {
			v, err := orders.Show(ctx, s.App, in.ID)
			if err != nil {
				return nil, err
			}
			if in.Format == "csv" {
				text, err := exchange.OrderTable(v).CSV()
				return sent("text/csv; charset=utf-8", "order-"+v.Number+".csv", false, text), err
			}
			text, err := exchange.OrderPaper(v).PDF()
			return sent("application/pdf", "order-"+v.Number+".pdf", true, text), err
		})
	write(s, "POST", "/api/orders", "make-orders", "Make drafts of orders, one for each seller", act.Buying,
		func(ctx context.Context, c act.Command, in *firstRow[orders.New]) (orders.Made, error) {
			return orders.Make(ctx, s.App, c, in.Body)
		})
	write(s, "PUT", "/api/orders/{id}", "change-order", "Change a draft of an order", act.Buying,
		func(ctx context.Context, c act.Command, in *newRow[DraftChange]) (store.PurchaseOrder, error) {
			return orders.Change(ctx, s.App, c, in.ID, in.Body.Version, in.Body.Draft)
		})
	write(s, "PUT", "/api/orders/{id}/state", "move-order", "Mark an order as sent, as a draft again, or as cancelled",
		act.Buying, func(ctx context.Context, c act.Command, in *newRow[OrderStep]) (store.PurchaseOrder, error) {
			return orders.Move(ctx, s.App, c, in.ID, in.Body.Version, in.Body.Step)
		})
	write(s, "PUT", "/api/orders/{id}/asked", "ask-order", "Note that the seller was asked where an order is", act.Buying,
		func(ctx context.Context, c act.Command, in *newRow[AtVersion]) (store.PurchaseOrder, error) {
			return orders.Asked(ctx, s.App, c, in.ID, in.Body.Version)
		})
	write(s, "PUT", "/api/orders/{id}/rest", "write-off-order", "Write off what is still to come of a line", act.Buying,
		func(ctx context.Context, c act.Command, in *newRow[OrderRest]) (store.PurchaseOrder, error) {
			return orders.WriteOff(ctx, s.App, c, in.ID, in.Body.Version, in.Body.Rest)
		})
	write(s, "POST", "/api/orders/{id}/receipts", "receive-order", "Book what came of a line", act.Buying,
		func(ctx context.Context, c act.Command, in *newRow[NewReceipt]) (store.PurchaseOrder, error) {
			return orders.Receive(ctx, s.App, c, in.ID, in.Body.Version, in.Body.Receipt)
		})
	write(s, "PUT", "/api/orders/{id}/claims/{receipt}", "tell-claim", "Note that a claim was told to the seller", act.Buying,
		func(ctx context.Context, c act.Command, in *struct {
			Change
			ByID
			Receipt string `path:"receipt" format:"uuid"`
			Body    AtVersion
		}) (store.PurchaseOrder, error) {
			return orders.ClaimTold(ctx, s.App, c, in.ID, in.Body.Version, in.Receipt)
		})
}

// offerRoutes are those of sellers' lists.
func (s *server) offerRoutes() {
	operation(s, huma.Operation{OperationID: "look-at-offers", Method: http.MethodPost, Path: "/api/offers/look",
		Summary: "What would be taken of a seller's list", MaxBodyBytes: mostList}, act.Right{Resource: act.Buying,
		Verb: act.Read}, func(ctx context.Context, in *struct{ Body offers.List }) (*body[offers.Look], error) {
		out, err := offers.See(ctx, s.App, in.Body)
		return &body[offers.Look]{out}, err
	})
	operation(s, huma.Operation{OperationID: "import-offers", Method: http.MethodPost, Path: "/api/offer-imports",
		Summary: "Put a seller's list in, as one", DefaultStatus: http.StatusCreated, MaxBodyBytes: mostList},
		act.Right{Resource: act.Buying, Verb: act.Write},
		func(ctx context.Context, in *firstRow[offers.Put]) (*body[offers.Done], error) {
			out, err := offers.Import(ctx, s.App, command(ctx, "import-offers", in), in.Body)
			return &body[offers.Done]{out}, err
		})
	get(s, "/api/offer-imports", "get-offer-imports", "Sellers' lists that were put in", act.Buying,
		func(ctx context.Context, _ *struct{}) ([]offers.Done, error) { return offers.Imports(ctx, s.App) })
	write(s, "PUT", "/api/offer-imports/{id}/undo", "undo-offers", "Take a seller's list back as one", act.Buying,
		func(ctx context.Context, c act.Command, in *newRow[AtVersion]) (offers.Done, error) {
			return offers.Undo(ctx, s.App, c, in.ID, in.Body.Version)
		})
}

// needRoutes are those of what has to be bought.
func (s *server) needRoutes() {
	get(s, "/api/needs", "get-needs", "What has to be bought, and why", act.Buying,
		func(ctx context.Context, in *struct {
			Weeks float64 `query:"weeks" minimum:"0" maximum:"52" doc:"of use that are looked ahead; 0: none"`
			Goal  float64 `query:"goal" minimum:"0" maximum:"0.999" doc:"share of jobs served from the shelf; 0: the office's"`
		}) (needs.Room, error) {
			return needs.List(ctx, s.App, needs.Ask{Weeks: in.Weeks, Goal: in.Goal})
		})
	answer(s, "POST", "/api/needs/basket", "get-needs-basket", "The cheapest basket for chosen needs",
		act.Right{Resource: act.Buying, Verb: act.Read}, http.StatusOK,
		func(ctx context.Context, in *struct{ Body needs.Wish }) (needs.Basket, error) {
			return needs.Buy(ctx, s.App, actor(ctx).Display, in.Body)
		})
	deskRow(s, "/api/needs", "need", "a part to buy", act.Buying, func(in *NewNeed) (*store.Need, store.NeedFacts) {
		return &store.Need{Row: store.Row{ID: in.ID}}, in.NeedFacts
	}, func(in *NeedChange) (int, store.NeedFacts) { return in.Version, in.NeedFacts })
	write(s, "POST", "/api/models/{id}/needs", "add-build-needs", "Put the parts of a job or a build on the list", act.Buying,
		func(ctx context.Context, c act.Command, in *newRow[NewBuild]) ([]store.Need, error) {
			return needs.Build(ctx, s.App, c, in.ID, in.Body.Job)
		})
}
