package study

import (
	"cmp"
	"slices"
	"waryowl/internal/core/benchline"
	"waryowl/internal/core/interlock"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// Bench is what the bench line and the stops need to know of a unit, as it lies there now.
func (b *Record) Bench(u store.Unit) benchline.Context {
	c := b.Know.Bench(u.Name)
	if c.Done = b.Done(u.ID); c.Done == nil {
		c.Done = plan.Run{}
	}
	c.State.Swollen = u.Gate.Swelling == "swollen"
	if u.Gate.Charge != nil {
		c.State.Charge = *u.Gate.Charge
	}
	for id, said := range b.Leads(u.ID) {
		if said == "off on purpose" {
			c.Off = append(c.Off, id)
		}
	}
	slices.Sort(c.Off)
	for _, e := range b.Log {
		if e.UnitID != u.ID {
			continue
		}
		switch {
		case e.Kind == "tool":
			c.State = interlock.After(c.State, interlock.Act{Verb: "tool", Tool: e.Detail.Tool})
		case Advances(e):
			s, _ := c.Steps.By(e.StepID)
			kind := b.Know.Kind(s.Part)
			if kind == "" {
				kind = trade.About(s.What)
			}
			c.State = interlock.After(c.State, interlock.Act{Verb: s.Verb, Back: e.Back, Kind: kind, Tool: s.Tool,
				Method: cmp.Or(e.Detail.Method,
					s.Method), Joint: s.Joint, Polarity: e.Detail.Polarity, Second: float64(e.HappenedAt.Unix())})
		}
	}
	c.Covers = b.covers(u.ID, c.Done)
	c.State.Leads = 0 // counted from what is done, without those that stay off on purpose
	return c
}
