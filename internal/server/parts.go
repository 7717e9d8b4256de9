package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/parts"
	"waryowl/internal/picture"
	"waryowl/internal/store"
)

type (
	// NewSeller and its kin add a row of the parts desk.
	NewSeller struct {
		ID string `json:"id" format:"uuid"`
		store.SellerFacts
	}
	// SellerChange and its kin replace the facts of one.
	SellerChange struct {
		Version int `json:"version" minimum:"1"`
		store.SellerFacts
	}
	NewOffer struct {
		ID string `json:"id" format:"uuid"`
		store.OfferFacts
	}
	OfferChange struct {
		Version int `json:"version" minimum:"1"`
		store.OfferFacts
	}
	NewExchange struct {
		ID string `json:"id" format:"uuid"`
		store.ExchangeFacts
	}
	ExchangeChange struct {
		Version int `json:"version" minimum:"1"`
		store.ExchangeFacts
	}
	NewPrice struct {
		ID string `json:"id" format:"uuid"`
		store.PriceFacts
	}
	PriceChange struct {
		Version int `json:"version" minimum:"1"`
		store.PriceFacts
	}
	NewDelivery struct {
		ID string `json:"id" format:"uuid"`
		store.DeliveryFacts
	}
	DeliveryChange struct {
		Version int `json:"version" minimum:"1"`
		store.DeliveryFacts
	}
	NewShelf struct {
		ID string `json:"id" format:"uuid"`
		store.ShelfFacts
	}
	ShelfChange struct {
		Version int `json:"version" minimum:"1"`
		store.ShelfFacts
	}
	NewWork struct {
		ID string `json:"id" format:"uuid"`
		store.WorkFacts
	}
	WorkChange struct {
		Version int `json:"version" minimum:"1"`
		store.WorkFacts
	}
	// WorkshopChange replaces the settings; version 0 before there are any.
	WorkshopChange struct {
		Version int `json:"version" minimum:"0"`
		store.WorkshopFacts
	}
	// Received says where the good pieces of a delivery lie.
	Received struct {
		Place string `json:"place" minLength:"1" maxLength:"60"`
	}
)

func (s *server) partsRoutes() {
	get(s, "/api/parts", "get-desk", "Everything on record at the parts desk", act.Buying,
		func(ctx context.Context, in *struct {
			Model string   `query:"model" format:"uuid" doc:"of this model alone"`
			Of    []string `query:"of,explode" enum:"offers,exchanges,prices,deliveries,shelves,work,orders,none" maxItems:"7" doc:"only these rows beside settings, sellers and models; none: no rows at all"`
		}) (desk.Desk, error) {
			return parts.Show(ctx, s.App, in.Model, in.Of)
		})
	get(s, "/api/parts/basket", "get-basket", "The cheapest basket for a job or a build", act.Buying,
		func(ctx context.Context, in *struct {
			Model        string  `query:"model" format:"uuid" required:"true"`
			Job          string  `query:"job" enum:"build,battery,screen,back-glass,port,camera" default:"build"`
			Deadline     float64 `query:"deadline" minimum:"0" maximum:"365" doc:"days; 0: none"`
			Stated       float64 `query:"stated" minimum:"0" maximum:"1000000000" doc:"a total that somebody wrote, minor units"`
			Alternatives bool    `query:"alternatives" doc:"what each missing offer would cost"`
			Used         bool    `query:"used" default:"true"`
			Copies       bool    `query:"copies" default:"true"`
			Without      string  `query:"without" format:"uuid" doc:"as if this offer were gone"`
		}) (parts.BasketRoom, error) {
			return parts.FindBasket(
				ctx,
				s.App,
				parts.AskBasket{ModelID: in.Model, Job: in.Job, Deadline: in.Deadline, Stated: in.Stated,
					Alternatives: in.Alternatives, Used: in.Used, Copies: in.Copies, Without: in.Without},
			)
		})
	get(s, "/api/parts/stock", "get-levels", "How much to keep of what", act.Buying,
		func(ctx context.Context, in *struct {
			Budget float64 `query:"budget" minimum:"0" maximum:"1000000000" doc:"for orders now, minor units"`
			Goal   float64 `query:"goal" minimum:"0" maximum:"0.999" doc:"share of jobs served from the shelf; 0: the office's"`
			Weeks  float64 `query:"weeks" minimum:"0" maximum:"52" doc:"that a month ahead is counted as; 0: a month"`
		}) (parts.StockRoom, error) {
			return parts.Levels(ctx, s.App, parts.AskLevels{Budget: in.Budget, Goal: in.Goal, Weeks: in.Weeks})
		})
	get(s, "/api/parts/incoming", "get-incoming", "What came in, and what to look at", act.Buying,
		func(ctx context.Context, _ *struct{}) (parts.IncomingRoom, error) { return parts.Incoming(ctx, s.App) })
	get(s, "/api/models/{id}/gate/{job}", "get-gate", "May this job be taken?", act.Jobs,
		func(ctx context.Context, in *struct {
			ByID
			Job  string `path:"job" enum:"battery,screen,back-glass,port,camera"`
			Soon bool   `query:"soon" doc:"answer at once: the bench days are not asked"`
		}) (parts.GateRoom, error) {
			return parts.Gate(ctx, s.App, in.ID, in.Job, !in.Soon)
		})
	get(s, "/api/models/{id}/donor", "get-donor", "What a donor of this model is worth", act.Buying,
		func(ctx context.Context, in *struct {
			ByID
			Lock   string   `query:"lock" enum:"free,locked,unknown" default:"unknown"`
			Power  string   `query:"power" enum:"unknown,starts,dead" default:"unknown" doc:"whether it was seen to start"`
			Damage string   `query:"damage" enum:"glass,drop,liquid,none" default:"glass"`
			Good   []string `query:"good,explode" maxItems:"200" doc:"parts that were found good once it was open"`
			Bad    []string `query:"bad,explode" maxItems:"200" doc:"parts that were found bad"`
		}) (parts.DonorRoom, error) {
			return parts.Donor(ctx, s.App, parts.AskDonor{ModelID: in.ID, Lock: in.Lock, Damage: in.Damage, Power: in.Power,
				Good: in.Good, Bad: in.Bad})
		})
	get(s, "/api/models/{id}/about/{part}", "get-about-part", "Everything about a part in one place", act.Buying,
		func(ctx context.Context, in *struct {
			ByID
			Part string `path:"part" format:"uuid"`
		}) (parts.AboutPart, error) {
			return parts.About(ctx, s.App, in.ID, in.Part)
		})
	get(s, "/api/units/{id}/pieces/{part}", "get-piece", "One piece: where it is, and what it did", act.Studies,
		func(ctx context.Context, in *struct {
			ByID
			Part string `path:"part" format:"uuid"`
		}) (parts.PieceRoom, error) {
			return parts.OnePiece(ctx, s.App, in.ID, in.Part)
		})
	writeAs(s, "PUT", "/api/workshop", "set-workshop", "The workshop's settings", act.Office, http.StatusOK,
		func(ctx context.Context, c act.Command, in *firstRow[WorkshopChange]) (store.Workshop, error) {
			return parts.Set(ctx, s.App, c, in.Body.Version, in.Body.WorkshopFacts)
		})
	write(
		s,
		"POST",
		"/api/deliveries/{id}/stock",
		"receive-delivery",
		"Put the good pieces of a delivery into stock",
		act.Buying,
		func(ctx context.Context, c act.Command, in *newRow[Received]) (store.Shelf, error) {
			return parts.Receive(ctx, s.App, c, in.ID, in.Body.Place)
		},
	)
	deskRow(
		s,
		"/api/sellers",
		"seller",
		"a seller",
		act.Buying,
		func(in *NewSeller) (*store.Seller, store.SellerFacts) {
			return &store.Seller{Row: store.Row{ID: in.ID}}, in.SellerFacts
		},
		func(in *SellerChange) (int, store.SellerFacts) { return in.Version, in.SellerFacts },
	)
	deskRow(s, "/api/offers", "offer", "an offer", act.Buying, func(in *NewOffer) (*store.Offer, store.OfferFacts) {
		return &store.Offer{Row: store.Row{ID: in.ID}}, in.OfferFacts
	}, func(in *OfferChange) (int, store.OfferFacts) { return in.Version, in.OfferFacts })
	deskRow(
		s,
		"/api/exchanges",
		"exchange",
		"a rate of exchange",
		act.Buying,
		func(in *NewExchange) (*store.Exchange, store.ExchangeFacts) {
			return &store.Exchange{Row: store.Row{ID: in.ID}}, in.ExchangeFacts
		},
		func(in *ExchangeChange) (int, store.ExchangeFacts) { return in.Version, in.ExchangeFacts },
	)
	deskRow(s, "/api/prices", "price", "a price", act.Buying, func(in *NewPrice) (*store.Price, store.PriceFacts) {
		return &store.Price{Row: store.Row{ID: in.ID}}, in.PriceFacts
	}, func(in *PriceChange) (int, store.PriceFacts) { return in.Version, in.PriceFacts })
	deskRow(
		s,
		"/api/deliveries",
		"delivery",
		"a delivery",
		act.Buying,
		func(in *NewDelivery) (*store.Delivery, store.DeliveryFacts) {
			return &store.Delivery{Row: store.Row{ID: in.ID}}, in.DeliveryFacts
		},
		func(in *DeliveryChange) (int, store.DeliveryFacts) { return in.Version, in.DeliveryFacts },
	)
	deskRow(
		s,
		"/api/shelves",
		"shelf",
		"pieces in stock",
		act.Buying,
		func(in *NewShelf) (*store.Shelf, store.ShelfFacts) {
			return &store.Shelf{Row: store.Row{ID: in.ID}}, in.ShelfFacts
		},
		func(in *ShelfChange) (int, store.ShelfFacts) { return in.Version, in.ShelfFacts },
	)
	s.lotPictures()
	deskRow(s, "/api/work-orders", "work", "a job", act.Jobs, func(in *NewWork) (*store.Work, store.WorkFacts) {
		return &store.Work{Row: store.Row{ID: in.ID}}, in.WorkFacts
	}, func(in *WorkChange) (int, store.WorkFacts) { return in.Version, in.WorkFacts })
}

// lotPictures are the pictures of what came in.
func (s *server) lotPictures() {
	operation(s, huma.Operation{OperationID: "add-lot-picture", Method: "POST", Path: "/api/deliveries/{id}/photos",
		Summary: "Keep a picture of a piece of a lot", DefaultStatus: http.StatusCreated,
		MaxBodyBytes: picture.MaxBytes + 1024}, act.Right{Resource: act.Buying, Verb: act.Write},
		func(ctx context.Context, in *struct {
			Change
			ByID
			PhotoID string `query:"photo_id" format:"uuid" required:"true" doc:"id of the new row"`
			Caption string `query:"caption" maxLength:"200"`
			RawBody []byte `contentType:"application/octet-stream"`
		}) (*body[parts.Picture], error) {
			p, err := parts.AddPicture(ctx, s.App, command(ctx, "add-lot-picture", in), in.ID, in.PhotoID, in.Caption,
				in.RawBody)
			return &body[parts.Picture]{p}, err
		})
	remove(s, "/api/lot-pictures", "lot-picture", "a picture of a lot", act.Buying, parts.DeletePicture, parts.RestorePicture)
}

// deskRow registers the four ways to write one kind of row of the desk.
func deskRow[N, C, T, F any, E interface {
	store.Entity[T]
	Facts() *F
}](s *server, path, name, what string, of act.Resource, add func(*N) (E, F), change func(*C) (int, F)) {
	write(
		s,
		"POST",
		path,
		"add-"+name,
		"Record "+what,
		of,
		func(ctx context.Context, c act.Command, in *firstRow[N]) (T, error) {
			row, f := add(&in.Body)
			return parts.Add[T, F](ctx, s.App, c, row, f)
		},
	)
	write(
		s,
		"PUT",
		path+"/{id}",
		"change-"+name,
		"Change "+what,
		of,
		func(ctx context.Context, c act.Command, in *newRow[C]) (T, error) {
			saw, f := change(&in.Body)
			return parts.Change[T, F, E](ctx, s.App, c, in.ID, saw, f)
		},
	)
	remove(s, path, name, what, of, parts.Delete[T, E], parts.Restore[T, E])
}
