package parts

import (
	"context"
	"fmt"
	"strings"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/fit"
	"waryowl/internal/app/model"
	"waryowl/internal/app/rating"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/school"
	"waryowl/internal/store"
)

// Stand is a piece of another model that may stand in for a part, or may serve where it served.
type Stand struct {
	From   string  `json:"from"`
	To     string  `json:"to"`
	Serves float64 `json:"serves" doc:"chance that it serves with full function"`
	Level  string  `json:"level"`
	Grade  string  `json:"grade" enum:"shut,half,open"`
}

// Lot is a delivery of pieces for the part's slot, with its seller's record.
type Lot struct {
	Lot    string `json:"lot"`
	Seller string `json:"seller"`
	Size   int    `json:"size"`
	Says   string `json:"says"`
	Pass   string `json:"pass" enum:"open,accept,refuse"`
}

// AboutPart is everything about a part in one place.
type AboutPart struct {
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	Model    desk.Named      `json:"model"`
	Part     desk.Named      `json:"part"`
	Slot     string          `json:"slot"`
	Currency string          `json:"currency"`
	Figures  []string        `json:"figures" nullable:"false"`
	Genuine  string          `json:"genuine,omitempty" doc:"what a genuine piece of another phone costs"`
	Eye      string          `json:"eye,omitempty" enum:"shut,half,open,"`
	Lost     []string        `json:"lost" nullable:"false" doc:"functions that it costs, or may cost"`
	Study    string          `json:"study_id,omitempty" doc:"whose swap tests say so"`
	Stands   []Stand         `json:"stands" nullable:"false"`
	Minutes  float64         `json:"minutes"`
	Depth    int             `json:"depth"`
	Odds     []model.Odds    `json:"odds" nullable:"false" doc:"what may be hurt on the way"`
	Offers   []store.Offer   `json:"offers" nullable:"false"`
	Sellers  []desk.Named    `json:"sellers" nullable:"false"`
	Shelves  []store.Shelf   `json:"shelves" nullable:"false"`
	Free     int             `json:"free"`
	Taken    int             `json:"taken" doc:"jobs that were taken and need one"`
	Lead     []float64       `json:"lead_days" nullable:"false" doc:"usual, and nine times of ten; empty: not to be had"`
	Lots     []Lot           `json:"lots" nullable:"false"`
	Unknown  []string        `json:"unknown" nullable:"false"`
}

// About gathers what the rooms know of one part: who fits, what is lost, price, stock, lots, odds.
func About(ctx context.Context, s *act.Service, modelID, partID string) (AboutPart, error) {
	db := s.DB.WithContext(ctx)
	facts, err := rating.Load(db, []string{modelID}, s.Now().Format(time.DateOnly))
	if err != nil {
		return AboutPart{}, err
	}
	r := facts[modelID]
	if r == nil {
		return AboutPart{}, store.ErrNotFound
	}
	k := r.Know
	p, known := k.PartByID[partID]
	if !known {
		return AboutPart{}, fault.New("part", partID, "a part of this model")
	}
	d, err := desk.Load(db, []string{modelID}, false)
	if err != nil {
		return AboutPart{}, err
	}
	kind := k.Kind(p.ID)
	slot := desk.Slot(p.Name)
	if kind != "" {
		slot = kind
	}
	v := AboutPart{Model: desk.Named{ID: k.ID, Name: k.Maker + " " + k.Name}, Part: desk.Named{ID: p.ID, Name: p.Name},
		Slot: slot, Currency: d.Workshop.Currency, Figures: figures(p), Lost: []string{}, Stands: []Stand{},
		Odds: []model.Odds{}, Offers: []store.Offer{}, Sellers: []desk.Named{}, Shelves: []store.Shelf{}, Lots: []Lot{},
		Unknown: []string{}, Free: d.Free(modelID, slot, s.Now()), Taken: d.Taken(modelID, slot), Lead: d.Lead(slot)}
	if v.Lead == nil {
		v.Lead = []float64{}
	}
	v.swaps(r, kind)
	if err := v.stands(ctx, s, kind); err != nil {
		return v, err
	}
	if w := k.WayTo(p.ID); w != nil && w.Blocked == "" {
		v.Minutes, v.Depth, v.Odds = w.AttendedMinutes, w.Depth, w.Odds
	} else {
		v.Unknown = append(v.Unknown, "the way to it")
	}
	for _, o := range d.Offers {
		if o.Covers[slot] > 0 {
			v.Offers = append(v.Offers, o)
		}
	}
	for _, x := range d.Sellers {
		v.Sellers = append(v.Sellers, desk.Named{ID: x.ID, Name: x.Name})
	}
	for _, x := range d.Shelves {
		if x.Item == slot {
			v.Shelves = append(v.Shelves, x)
		}
	}
	in, err := incoming(db, s, d)
	if err != nil {
		return v, err
	}
	for _, x := range in.Deliveries {
		if x.Item == slot {
			v.Lots = append(v.Lots, Lot{Lot: x.Lot, Seller: x.Seller, Size: x.Size, Says: x.Says, Pass: x.Pass})
		}
	}
	price, priced := d.Cheapest(slot)
	v.say(price, priced)
	return v, nil
}

// swaps says what a genuine piece costs, where the kind of part is one of a common job's.
func (v *AboutPart) swaps(r *rating.Record, kind string) {
	for _, j := range model.JobKinds {
		if j.Kind != kind {
			continue
		}
		id := desk.Slot(j.Job) + ".genuine"
		f := r.Facts[id]
		if f == nil {
			break
		}
		v.Genuine, v.Eye, v.Study = rating.Words(school.Facts()[id], f.Value, f.Known, "", false), f.Eye, f.At
		if f.Lost != nil {
			v.Lost = f.Lost
		}
		if f.Known {
			return
		}
		break
	}
	v.Genuine, v.Eye = "", ""
	v.Unknown = append(v.Unknown, "what is lost with a genuine piece of another phone: test it in the swap room")
}

// stands reads which pieces of other models serve here, and where this one serves.
func (v *AboutPart) stands(ctx context.Context, s *act.Service, kind string) error {
	if kind == "" {
		v.Unknown = append(v.Unknown, "who fits: the part's kind is not known")
		return nil
	}
	room, err := fit.Show(ctx, s, fit.Ask{Kind: kind, From: v.Model.ID, Level: "full", Confidence: pools})
	if err != nil {
		return err
	}
	names := map[string]string{}
	for _, l := range room.Lines {
		names[l.ID] = l.Name
	}
	for _, x := range room.Found.Pairs {
		if x.Donor != x.Host && (x.Host == v.Model.ID || x.Donor == v.Model.ID) &&
			(x.Grade != "shut" || x.Serves >= 0.5) {
			v.Stands = append(v.Stands, Stand{From: names[x.Donor], To: names[x.Host], Serves: x.Serves, Level: x.Level,
				Grade: x.Grade})
		}
	}
	return nil
}

func (v *AboutPart) say(price float64, priced bool) {
	text := strings.ToUpper(v.Part.Name[:1]) + v.Part.Name[1:] + " of the " + v.Model.Name + ": "
	var have []string
	if priced {
		have = append(have, "from "+desk.Money(price, v.Currency))
	}
	have = append(have, fmt.Sprintf("%d free in stock", v.Free))
	if len(v.Lead) == 2 {
		have = append(have, fmt.Sprintf("there in %.0f to %.0f days", v.Lead[0], v.Lead[1]))
	} else {
		have = append(have, "no offer")
	}
	if v.Minutes > 0 {
		have = append(have, fmt.Sprintf("%.0f min to reach", v.Minutes))
	}
	if len(v.Lost) > 0 {
		have = append(have, "another phone's loses "+strings.Join(v.Lost, ", "))
	}
	v.Answer = answer.Sentence{answer.Text(text + strings.Join(have, ", ") + ".")}
}
