package parts

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/gate"
	"waryowl/internal/core/route"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// DonorRoom is what a wreck is worth before it is opened.
type DonorRoom struct {
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	Currency string          `json:"currency"`
	Found    gate.Bid        `json:"found"`
	Parts    []DonorPart     `json:"parts" nullable:"false"`
	Unpriced []string        `json:"unpriced" nullable:"false"`
	Note     string          `json:"note"`
	Display  *BuyBack        `json:"display,omitempty" doc:"what a healthy old display is worth"`
}

// BuyBack is what a healthy old display is worth, and what heat may cost it: a minute saved pays only while it marks the
// panel in fewer than PerMinute of the openings. Counted are the panels that were hurt by heat on the way.
type BuyBack struct {
	Worth     float64 `json:"worth"`
	PerMinute float64 `json:"per_minute"`
	K         int     `json:"k"`
	N         int     `json:"n"`
	High      float64 `json:"high" doc:"upper end of the counted share"`
	Method    string  `json:"method,omitempty"`
}

// DonorPart is a part of the donor.
type DonorPart struct {
	PartID string  `json:"part_id"`
	Part   string  `json:"part"`
	Value  float64 `json:"value"`
	Good   float64 `json:"good"`
	Worth  float64 `json:"worth"`
	Take   bool    `json:"take"`
	Item   string  `json:"item" doc:"slot that it fills in stock; empty: its kind is not known"`
	Seen   string  `json:"seen,omitempty" enum:"good,bad,"`
	From   string  `json:"from" doc:"where its value comes from"`
}

// good is the chance that a part of a wreck works, by kind; after liquid all of it is less likely (house).
var good = map[string]float64{
	"main-board":   0.6,
	"battery":      0.5,
	"rear-camera":  0.85,
	"front-camera": 0.85,
	"charge-port":  0.8,
	"rear-glass":   0.3,
	"display":      0.6,
}

// powered is the chance that a part works where the phone was seen to start, and where it was seen to be dead (house).
var powered = map[string]map[string]float64{
	"starts": {"main-board": 0.95, "battery": 0.7, "display": 0.9, "charge-port": 0.9},
	"dead":   {"main-board": 0.35, "battery": 0.35},
}

// AskDonor is what is known of a donor: what it came for (glass, drop, liquid, none), whether it is locked, whether it
// starts (unknown, starts, dead), and which parts were found good or bad once it was open.
type AskDonor struct {
	ModelID, Lock, Damage, Power string
	Good, Bad                    []string
}

// usedShare is what a used piece is worth of an original's price, where nobody offers a used one (house).
const usedShare = 0.5

// worthOf is what a good piece out of a donor is worth, and where that comes from: what is on record of the part, what a
// used one is offered for, half of an original's price, or a copy's. Dearer offers of the same grade do not count.
func worthOf(p store.Part, kind string, d *desk.Desk) (float64, string) {
	if p.WorthMinor > 0 && p.Currency == d.Workshop.Currency {
		return float64(p.WorthMinor), "on record"
	}
	for _, g := range []struct {
		grade, from string
		share       float64
	}{{"used", "a used one is offered so", 1}, {"original", "half of an original", usedShare}, {"copy", "a copy costs so", 1}} {
		best := 0.0
		for _, o := range d.Offers {
			x, ok := d.In(float64(o.Price), o.Currency)
			if ok && kind != "" && o.Grade == g.grade && len(o.Covers) == 1 && o.Covers[kind] > 0 {
				if x /= float64(o.Covers[kind]); best == 0 || x < best {
					best = x
				}
			}
		}
		if best > 0 {
			return math.Round(best * g.share), g.from
		}
	}
	return 0, ""
}

// Donor values a donor of a model.
func Donor(ctx context.Context, s *act.Service, q AskDonor) (DonorRoom, error) {
	db := s.DB.WithContext(ctx)
	modelID, lock, damage := q.ModelID, q.Lock, q.Damage
	if i := slices.IndexFunc(q.Good, func(id string) bool { return slices.Contains(q.Bad, id) }); i >= 0 {
		return DonorRoom{}, fault.New("good", q.Good[i], "a part that is not among the bad ones")
	}
	k, err := model.Load(db, modelID)
	if err != nil {
		return DonorRoom{}, err
	}
	all, err := desk.Load(db, []string{modelID}, true)
	if err != nil {
		return DonorRoom{}, err
	}
	v := DonorRoom{Currency: all.Workshop.Currency, Parts: []DonorPart{}, Unpriced: []string{},
		Note: "Ask for a proof of purchase and the lock state before you pay. The identity of a device is never changed. A battery from a wreck stays in quarantine until it was inspected."}
	ask := k.Question(route.Attended)
	in := gate.Donor{
		Lock:              lock,
		Rate:              float64(all.Workshop.LabourMinor) / 3600,
		Fixed:             float64(all.Workshop.DonorFixedMinor),
		Steps:             ask.Steps,
		ToolChangeSeconds: ask.ToolChangeSeconds,
		FlipSeconds:       ask.FlipSeconds,
	}
	if all.Workshop.DonorMargin > 0 {
		in.Margin = &all.Workshop.DonorMargin
	}
	for _, p := range k.Parts {
		kind := k.Kind(p.ID)
		value, from := worthOf(p, kind, &all)
		known := value > 0
		freed := slices.ContainsFunc(k.Steps, func(s store.PlanStep) bool { return slices.Contains(s.Frees, p.ID) })
		if !known || !freed {
			if p.Slot {
				v.Unpriced = append(v.Unpriced, p.Name)
			}
			continue
		}
		g := 0.7
		if x, ok := good[kind]; ok {
			g = x
		}
		if x, ok := powered[q.Power][kind]; ok {
			g = x
		}
		switch {
		case damage == "glass" && kind == "display":
			g = 0.1
		case damage == "liquid":
			g /= 2
		case damage == "none":
			g = math.Min(0.95, g+0.2)
		}
		seen := "" // what was seen stands above what wrecks are like
		switch {
		case slices.Contains(q.Good, p.ID):
			g, seen = 1, "good"
		case slices.Contains(q.Bad, p.ID):
			g, seen = 0, "bad"
		}
		in.Parts = append(
			in.Parts,
			gate.Salvage{Part: p.ID, Value: value, Good: &g, NeedsUnlocked: kind == "main-board"},
		)
		v.Parts = append(v.Parts, DonorPart{PartID: p.ID, Part: p.Name, Item: kind, Value: value, Good: g, Seen: seen, From: from})
	}
	v.Display = buyBack(k, &all)
	if len(in.Parts) == 0 {
		v.Found = gate.Bid{Take: []string{}, Leave: []string{}, Worth: map[string]float64{}}
		v.Answer = answer.Sentence{
			answer.Text(
				"No bid: no part of it has a price yet. Say what a piece is worth in its form, or enter used offers.",
			),
		}
		return v, nil
	}
	if v.Found, err = gate.ForDonor(in); err != nil {
		return v, err
	}
	for i := range v.Parts {
		v.Parts[i].Worth = v.Found.Worth[v.Parts[i].PartID]
		v.Parts[i].Take = slices.Contains(v.Found.Take, v.Parts[i].PartID)
	}
	slices.SortStableFunc(v.Parts, func(a, b DonorPart) int {
		at := func(x DonorPart) int {
			if i := slices.Index(v.Found.Take, x.PartID); i >= 0 {
				return i
			}
			return len(v.Found.Take)
		}
		return at(a) - at(b)
	})
	var take []string
	for _, p := range v.Parts {
		if p.Take {
			take = append(take, p.Part)
		}
	}
	v.Answer = answer.Sentence{answer.Text("Bid at most "), answer.Name(desk.Money(v.Found.Bid, v.Currency), "#donor"),
		answer.Text(
			"; ",
		), answer.Number(v.Found.Seconds/60, "min", "#donor"), answer.Text(" to take out " + some(take) + ".")}
	if opened := len(q.Good) + len(q.Bad); opened > 0 { // it is bought by now: what matters is which parts still pay
		v.Answer = answer.Sentence{answer.Text("Opened, it is worth "),
			answer.Name(desk.Money(v.Found.Net, v.Currency), "#donor"),
			answer.Text(" at the bench: take out " + some(take) + ".")}
	} else if v.Found.Bid <= 0 {
		v.Answer = answer.Sentence{answer.Text("Do not buy it: what can be taken out does not pay for its minutes.")}
	}
	return v, nil
}

// some names the first of a list that is too long to be read at a glance.
func some(list []string) string {
	switch {
	case len(list) == 0:
		return "nothing"
	case len(list) > 5:
		return fmt.Sprintf("%s and %d more, in the order below", strings.Join(list[:4], ", "), len(list)-4)
	}
	return strings.Join(list, ", ")
}

// buyBack weighs heat against a healthy display: its worth is that of the donor's.
func buyBack(k *model.Record, d *desk.Desk) *BuyBack {
	p := k.OfKind("display")
	if p == nil {
		return nil
	}
	worth, _ := worthOf(*p, "display", d)
	if worth <= 0 {
		return nil
	}
	b := &BuyBack{Worth: worth, PerMinute: float64(d.Workshop.LabourMinor) / 60 / worth}
	battery := k.OfKind("battery")
	if battery == nil {
		return b
	}
	w := k.WayTo(battery.ID)
	if w == nil {
		return b
	}
	for _, o := range w.Odds { // heat, whatever it came from; a lever is another matter
		if o.Part == p.Name && trade.Hot(o.Method) && o.N >= b.N {
			b.K, b.N, b.High, b.Method = o.K, o.N, o.High, o.Method
		}
	}
	return b
}
