package ways

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/route"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// HarvestPart is one part of a donor: what it is worth, and whether it pays.
type HarvestPart struct {
	PartID   string  `json:"part_id"`
	Part     string  `json:"part"`
	Worth    int     `json:"worth_minor"`
	Survival float64 `json:"survival"`
	Take     bool    `json:"take"`
}

// Harvest says which parts of a donor pay for their minutes. Money is in minor units of Currency.
type Harvest struct {
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	Currency string          `json:"currency"`
	Hourly   int             `json:"hourly_minor"`
	Parts    []HarvestPart   `json:"parts" nullable:"false" doc:"those to take first, in the order in which they come out"`
	Unpriced []string        `json:"unpriced" nullable:"false"`
	Minutes  float64         `json:"minutes"`
	Net      float64         `json:"net_minor"`
	Bound    float64         `json:"bound_minor"`
	Proven   bool            `json:"proven"`
	Mixed    bool            `json:"mixed" doc:"prices in several currencies: only those of Currency count"`
}

// WeighHarvest weighs the parts of a donor phone of a model against an hour's cost (minor units).
func WeighHarvest(ctx context.Context, s *act.Service, modelID string, hourly int) (Harvest, error) {
	k, err := model.Load(s.DB.WithContext(ctx), modelID)
	if err != nil {
		return Harvest{}, err
	}
	h := Harvest{Hourly: hourly, Parts: []HarvestPart{}, Unpriced: []string{}}
	q := k.Question(route.Attended)
	in := route.HarvestInput{Steps: q.Steps, Value: map[string]float64{}, Rate: float64(hourly) / 3600,
		ToolChangeSeconds: q.ToolChangeSeconds, FlipSeconds: q.FlipSeconds}
	freed := func(id string) bool {
		return slices.ContainsFunc(k.Steps, func(s store.PlanStep) bool { return slices.Contains(s.Frees, id) })
	}
	for _, p := range k.Parts {
		switch {
		case p.WorthMinor == 0 || !freed(p.ID):
			h.Unpriced = append(h.Unpriced, p.Name)
		case h.Currency == "" || h.Currency == p.Currency:
			h.Currency = p.Currency
			in.Value[p.ID] = float64(p.WorthMinor)
		default:
			h.Mixed = true
			h.Unpriced = append(h.Unpriced, p.Name)
		}
	}
	if len(in.Value) == 0 {
		h.Answer = answer.Sentence{answer.Text("No part of the "), answer.Name(k.Name, ""),
			answer.Text(" has a worth yet: write it into the part.")}
		return h, nil
	}
	out, err := route.Harvest(in)
	if err != nil {
		return h, err
	}
	h.Minutes, h.Net, h.Bound, h.Proven = out.Seconds/60, out.Net, out.Bound, out.Proven
	add := func(id string, take bool) {
		p := k.PartByID[id]
		alive := 1.0
		if v, ok := out.Survival[id]; ok {
			alive = v
		}
		h.Parts = append(h.Parts, HarvestPart{p.ID, p.Name, p.WorthMinor, alive, take})
	}
	for _, id := range out.Take {
		add(id, true)
	}
	for _, id := range out.Leave {
		add(id, false)
	}
	if len(out.Take) == 0 {
		h.Answer = answer.Sentence{answer.Text("Nothing of a donor "), answer.Name(k.Name, ""),
			answer.Text(" pays for its minutes at this rate.")}
		return h, nil
	}
	h.Answer = answer.Sentence{answer.Text("Take "), answer.Count(len(out.Take), "part", "#harvest"),
		answer.Text(" of a donor "), answer.Name(k.Name, ""), answer.Text(" in "),
		answer.Number(h.Minutes, "min", "#harvest"),
		answer.Text(fmt.Sprintf(": it leaves %.2f %s", h.Net/100, cmp.Or(h.Currency, "in money"))), answer.Text(".")}
	if n := len(out.Leave); n > 0 {
		h.Answer[len(h.Answer)-1] = answer.Text("; ")
		h.Answer = append(h.Answer, answer.Count(n, "priced part", "#harvest"), answer.Text(" would not pay."))
	}
	return h, nil
}

// WayDifference compares the way to a part with the way to the part of the same name in another model.
type WayDifference struct {
	Answer answer.Sentence `json:"answer" nullable:"false"`
	Other  string          `json:"other"`
	Mine   *model.Way      `json:"mine,omitempty"`
	Theirs *model.Way      `json:"theirs,omitempty"`
	Gone   []string        `json:"gone" nullable:"false" doc:"steps that only the other model needs"`
	Added  []string        `json:"added" nullable:"false" doc:"steps that only this model needs"`
	Tools  []string        `json:"tools" nullable:"false" doc:"tools that only this model needs"`
}

// Compare compares the way to a part with another model's.
func Compare(ctx context.Context, s *act.Service, modelID, part, other string) (WayDifference, error) {
	db := s.DB.WithContext(ctx)
	k, err := model.Load(db, modelID)
	if err != nil {
		return WayDifference{}, err
	}
	o, err := model.Load(db, other)
	if err != nil {
		return WayDifference{}, err
	}
	p, ok := k.PartByID[part]
	if !ok {
		return WayDifference{}, act.ErrNotFound
	}
	d := WayDifference{Other: o.Name, Gone: []string{}, Added: []string{}, Tools: []string{}}
	d.Mine = k.WayTo(p.ID)
	twin := o.PartNamed(p.Name)
	for i := 0; twin == nil && i < len(p.Aliases); i++ {
		twin = o.PartNamed(p.Aliases[i])
	}
	if twin == nil && k.Kind(p.ID) != "" {
		twin = o.OfKind(k.Kind(p.ID))
	}
	if twin != nil {
		d.Theirs = o.WayTo(twin.ID)
	}
	if d.Mine == nil || d.Theirs == nil || d.Mine.Blocked+d.Theirs.Blocked != "" {
		d.Answer = answer.Sentence{answer.Text("Nothing to compare: the "), answer.Name(o.Name, ""),
			answer.Text(" has no way to a part of this name.")}
		return d, nil
	}
	acts := func(w *model.Way) (list []string) {
		for _, s := range w.Steps {
			list = append(list, trade.Order(s.Verb, s.What))
		}
		return list
	}
	x := route.Against(acts(d.Mine), acts(d.Theirs), d.Mine.Tools, d.Theirs.Tools)
	d.Added, d.Gone, d.Tools = x.Added, x.Gone, x.Tools
	steps, minutes := len(d.Mine.Steps)-len(d.Theirs.Steps), d.Mine.ClosedMinutes-d.Theirs.ClosedMinutes
	say := func(v float64, thing string) answer.Fragment {
		if v < 0 {
			return answer.Text(fmt.Sprintf("%.0f %s fewer", -v, thing))
		}
		return answer.Text(fmt.Sprintf("%.0f %s more", v, thing))
	}
	d.Answer = answer.Sentence{answer.Name(answer.Title(p.Name), ""), answer.Text(" against the " + o.Name + ": "),
		say(float64(steps), "steps"), answer.Text(", "), say(minutes, "min"), answer.Text(" for the whole repair.")}
	return d, nil
}
