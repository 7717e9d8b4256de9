package parts

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/gate"
	"waryowl/internal/core/quantity"
	"waryowl/internal/store"

	"gorm.io/gorm"
)

// looks are what is looked at when pieces come in, by kind (common practice, no source).
var looks = map[string][]string{
	"display": {
		"original mark under the cable",
		"thickness, against an original's",
		"width of the edge",
		"where the flex starts",
		"signs of an earlier repair",
		"picture, touch and brightness on a test phone",
	},
	"battery": {
		"nub and foil whole, not swollen",
		"thickness, against an original's",
		"connector width",
		"cycles and capacity on a test phone",
		"date of make",
	},
	"charge-port": {"connector width", "seal in place", "charges and moves data on a test phone"},
	"rear-camera": {"glass and seal clean", "connector width", "focus and zoom on a test phone"},
	"rear-glass":  {"openings and edge, against an original's", "adhesive whole", "colour beside an original"},
}

// DeliveryView is a delivery with what to look at and what its seller's record says.
type DeliveryView struct {
	store.Delivery
	Seller string          `json:"seller"`
	Model  string          `json:"model"`
	Looks  []string        `json:"looks" nullable:"false"`
	Plan   gate.Inspection `json:"plan"`
	K      int             `json:"k" doc:"bad ones of this seller, slot and grade"`
	N      int             `json:"n" doc:"of so many"`
	Says   string          `json:"says"`
	Pass   string          `json:"pass" enum:"open,accept,refuse" doc:"by the plan"`
	Figure []Figure        `json:"figures" nullable:"false" doc:"of an original, to measure against"`
	Photos []string        `json:"photos" nullable:"false" doc:"pictures of an original"`
	Own    []Picture       `json:"own" nullable:"false" doc:"pictures of this lot"`
}

// IncomingRoom is what came in and what to look at.
type IncomingRoom struct {
	Answer     answer.Sentence `json:"answer" nullable:"false"`
	Currency   string          `json:"currency"`
	Deliveries []DeliveryView  `json:"deliveries" nullable:"false"`
}

// Figure is a figure of an original, and what the pieces of a lot measure beside it.
type Figure struct {
	Kind     string             `json:"kind"`
	Original quantity.Quantity  `json:"original"`
	Mine     *quantity.Quantity `json:"mine,omitempty"`
	Apart    string             `json:"apart,omitempty" doc:"the difference in words"`
	Other    bool               `json:"other" doc:"the difference is more than both uncertainties explain"`
}

// against sets the figures of a lot beside an original's.
func against(p store.Part, lot []store.Measured) []Figure {
	list := []Figure{}
	mine := model.Measured(lot)
	for kind, q := range model.Quantities(p) {
		f := Figure{Kind: kind, Original: q}
		if m, measured := mine[kind]; measured {
			if diff, err := quantity.Compare(q, m); err == nil {
				f.Mine, f.Other = &m, diff.Resolved
				f.Apart = fmt.Sprintf("%+.2f ± %.2f %s: ", diff.Value, diff.U, diff.Unit)
				if diff.Resolved {
					f.Apart += "not an original's"
				} else {
					f.Apart += "as an original's, as far as this shows"
				}
			}
		}
		list = append(list, f)
	}
	slices.SortFunc(list, func(a, b Figure) int { return strings.Compare(a.Kind, b.Kind) })
	return list
}

// figures says the figures of a part.
func figures(p store.Part) []string {
	list := []string{}
	for _, f := range against(p, nil) {
		list = append(list, fmt.Sprintf("%s %.2f ± %.2f %s", f.Kind, f.Original.Value, f.Original.U, f.Original.Unit))
	}
	return list
}

// Incoming lists the deliveries, those that still have to be looked at first.
func Incoming(ctx context.Context, s *act.Service) (IncomingRoom, error) {
	db := s.DB.WithContext(ctx)
	d, err := desk.Load(db, nil, false)
	if err != nil {
		return IncomingRoom{}, err
	}
	return incoming(db, s, d)
}

func incoming(db *gorm.DB, s *act.Service, d desk.Desk) (IncomingRoom, error) {
	v := IncomingRoom{Currency: d.Workshop.Currency, Deliveries: []DeliveryView{}}
	names := map[string]string{}
	for _, m := range d.Models {
		names[m.ID] = m.Name
	}
	sellers := map[string]store.Seller{}
	for _, x := range d.Sellers {
		sellers[x.ID] = x
	}
	var ids []string
	for _, x := range d.Deliveries {
		ids = append(ids, x.ModelID)
	}
	parts, err := store.List[store.Part](db, "id", "model_id IN ?", ids)
	if err != nil {
		return v, err
	}
	photos, err := originals(db, parts)
	if err != nil {
		return v, err
	}
	lots := []string{}
	for _, x := range d.Deliveries {
		lots = append(lots, x.ID)
	}
	own, err := pictures(db, lots)
	if err != nil {
		return v, err
	}
	waiting, stop := 0, 0
	for _, x := range d.Deliveries {
		y := DeliveryView{
			Delivery: x,
			Seller:   sellers[x.SellerID].Name,
			Model:    names[x.ModelID],
			Looks:    looks[x.Item],
			Pass:     "open",
			Figure:   []Figure{},
			Photos:   []string{},
			Own:      append([]Picture{}, own[x.ID]...),
		}
		if y.Looks == nil {
			y.Looks = []string{"against an original: size, weight, colour", "works on a test phone"}
		}
		for _, p := range parts {
			if p.ModelID == x.ModelID && (p.Kind == x.Item || desk.Slot(p.Name) == x.Item) {
				y.Figure = against(p, x.Measures)
				y.Photos = append(y.Photos, photos[p.ID]...)
			}
		}
		j, err := d.Judge(x)
		if err != nil {
			return v, err
		}
		y.K, y.N, y.Plan, y.Pass = j.K, j.N, j.Plan, j.Pass
		if y.Pass == "open" {
			waiting++
		}
		if y.Plan.StopBuying {
			stop++
		}
		y.Says = says(y, j.Compared)
		v.Deliveries = append(v.Deliveries, y)
	}
	slices.SortStableFunc(v.Deliveries, func(a, b DeliveryView) int {
		open := func(x DeliveryView) int { return map[bool]int{true: 0, false: 1}[x.Pass == "open"] }
		return open(a) - open(b)
	})
	switch {
	case len(v.Deliveries) == 0:
		v.Answer = answer.Sentence{answer.Text("Nothing came in yet; a delivery is received below.")}
	default:
		v.Answer = answer.Sentence{answer.Number(float64(waiting), "", "#deliveries"), answer.Text(" of "),
			answer.Count(len(v.Deliveries), "lot", "#deliveries"), answer.Text(" still to be looked at")}
		if stop > 0 {
			v.Answer = append(v.Answer, answer.Text(fmt.Sprintf("; stop buying %d of them", stop)))
		}
		v.Answer = append(v.Answer, answer.Text("."))
	}
	return v, nil
}

// originals are the pictures that were taken of parts in teardowns: pinned to entries about them, or to the steps that
// free them.
func originals(db *gorm.DB, parts []store.Part) (map[string][]string, error) {
	var ids []string
	for _, p := range parts {
		ids = append(ids, p.ID)
	}
	out := map[string][]string{}
	if len(ids) == 0 {
		return out, nil
	}
	var rows []struct {
		ID, PartID string
	}
	err := db.Table("photos").Select("photos.id, log_entries.part_id").
		Joins("JOIN log_entries ON log_entries.id = photos.entry_id").
		Where("log_entries.part_id IN ? AND photos.deleted_at IS NULL AND log_entries.deleted_at IS NULL", ids).
		Order("photos.id").Limit(200).Find(&rows).Error
	for _, r := range rows {
		if len(out[r.PartID]) < 4 {
			out[r.PartID] = append(out[r.PartID], r.ID)
		}
	}
	return out, err
}

func says(y DeliveryView, compared bool) string {
	text := fmt.Sprintf(
		"%d of %d bad so far: %.0f %% (%.0f to %.0f)",
		y.K,
		y.N,
		100*y.Plan.Rate,
		100*y.Plan.Interval[0],
		100*y.Plan.Interval[1],
	)
	if compared {
		text += fmt.Sprintf(
			"; above %.0f %% the next best is cheaper, which is so with %.0f %%",
			100*y.Plan.Limit,
			100*y.Plan.POverLimit,
		)
	}
	if y.Plan.StopBuying {
		text += ": stop buying"
	}
	return text
}

// Receive puts what a delivery left good into stock: all of it at once, or, of a lot of an order, what was looked at
// since it came; what lay in quarantine for that is taken from there.
func Receive(ctx context.Context, s *act.Service, c act.Command, id string, place string) (store.Shelf, error) {
	return act.Do(ctx, s, c, 201, func(tx *store.Tx) (store.Shelf, error) {
		x, err := store.Get[store.Delivery](tx.DB, id)
		if err != nil {
			return store.Shelf{}, err
		}
		if strings.TrimSpace(place) == "" {
			return store.Shelf{}, fault.New("place", place, "where they lie")
		}
		rows := func(origin string) ([]store.Shelf, error) {
			return store.List[store.Shelf](tx.DB, "id", "for_model_id = ? AND item = ? AND origin = ?", x.ModelID, x.Item,
				origin)
		}
		had, err := rows("lot " + x.Lot)
		if err != nil {
			return store.Shelf{}, err
		}
		if good := x.Size - x.Bad - x.Stocked; x.OrderID == "" && len(had) > 0 || good <= 0 {
			return store.Shelf{}, fault.New("lot", x.Lot, "a lot that was not put into stock before")
		}
		row := store.Shelf{ShelfFacts: store.ShelfFacts{ModelID: x.ModelID, Item: x.Item, Grade: x.Grade,
			Quantity: x.Size - x.Bad - x.Stocked, Place: place, Origin: "lot " + x.Lot}}
		held, err := rows(desk.Unseen(x.Lot))
		if err != nil {
			return store.Shelf{}, err
		}
		for _, h := range held {
			row.Cost, row.CostIn = h.Cost, h.CostIn
			if _, err := store.Delete[store.Shelf](tx, h.ID, h.Version); err != nil {
				return store.Shelf{}, err
			}
		}
		if err := release(tx, *x, held, row.Quantity); err != nil {
			return store.Shelf{}, err
		}
		if _, err := store.Update(tx, x.ID, x.Version, func(d *store.Delivery) error {
			d.Stocked = d.Size - d.Bad
			return nil
		}); err != nil {
			return store.Shelf{}, err
		}
		err = store.Create(tx, &row)
		return row, err
	})
}

// release frees what lies in quarantine beside the pieces of a lot that were looked at: a pack of an order that fills
// several slots is good or bad as a whole. Of the held pieces so many were good.
func release(tx *store.Tx, x store.Delivery, held []store.Shelf, good int) error {
	n := 0
	for _, h := range held {
		n += h.Quantity
	}
	if n == 0 {
		return nil
	}
	beside, err := store.List[store.Shelf](tx.DB, "id", "for_model_id = ? AND item <> ? AND origin = ?", x.ModelID, x.Item,
		desk.Unseen(x.Lot))
	if err != nil {
		return err
	}
	for _, b := range beside {
		if _, err := store.Update(tx, b.ID, b.Version, func(s *store.Shelf) error {
			s.Quantity, s.Quarantine, s.Origin = s.Quantity*min(good, n)/n, "", "lot "+x.Lot
			return nil
		}); err != nil {
			return err
		}
	}
	return nil
}
