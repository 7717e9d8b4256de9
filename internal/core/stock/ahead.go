package stock

import (
	"fmt"
	"math"

	"waryowl/internal/core/fault"
)

// A month of weeks, how many are looked at, and how many at most (house).
const (
	usualHorizon = 4.345
	usualMonths  = 3
	mostMonths   = 6
	mostPieces   = 100_000
)

// arrival is what comes in of an order.
type arrival struct {
	pieces int
	weeks  float64
}

func value(n *int) int {
	if n == nil {
		return 0
	}
	return *n
}

// reserved are the jobs taken that have no piece yet.
func (g Group) reserved() int {
	if g.Reserved != nil {
		return *g.Reserved
	}
	return value(g.Owed)
}

// arrivals reads on_order: a number comes after the lead time, a list says when each of its lines is due.
func (g Group) arrivals(at string) ([]arrival, error) {
	whole := func(field string, v any) (int, error) {
		x, is := v.(float64)
		if n, direct := v.(int); direct {
			x, is = float64(n), true
		}
		if !is || x != math.Trunc(x) || x < 0 || x > mostPieces {
			return 0, fault.New(field, fmt.Sprint(v), "a whole number of pieces, 0 or more")
		}
		return int(x), nil
	}
	field := at + ".on_order"
	switch v := g.OnOrder.(type) {
	case nil:
		return nil, nil
	case []any:
		var list []arrival
		for i, e := range v {
			here := fmt.Sprintf("%s[%d]", field, i)
			line, is := e.(map[string]any)
			if !is {
				return nil, fault.New(here, fmt.Sprint(e), "{pieces, due_weeks}")
			}
			for k := range line {
				if k != "pieces" && k != "due_weeks" {
					return nil, fault.New(here+"."+k, "an unknown field", "pieces, due_weeks")
				}
			}
			n, err := whole(here+".pieces", line["pieces"])
			if err != nil {
				return nil, err
			}
			due, is := line["due_weeks"].(float64)
			if !is || !(due >= 0) {
				return nil, fault.New(here+".due_weeks", fmt.Sprint(line["due_weeks"]), "weeks from now, 0 or more")
			}
			list = append(list, arrival{n, due})
		}
		return list, nil
	}
	n, err := whole(field, g.OnOrder)
	return []arrival{{n, g.LeadWeeks}}, err
}

// position is what is on hand and on order, less what is reserved (G. Hadley, T. M. Whitin, Analysis of Inventory
// Systems, 1963, chapters 1 and 4; from memory).
func (g Group) position() int {
	n := g.OnHand - g.reserved()
	list, _ := g.arrivals("")
	for _, a := range list {
		n += a.pieces
	}
	return n
}

// ahead looks at the months to come: over is the demand over some weeks.
func (in Input) ahead(g Group, over func(weeks float64) *demand) []Month {
	w, months := usualHorizon, usualMonths
	if in.Horizon != nil {
		w = *in.Horizon
	}
	if in.Months != nil {
		months = *in.Months
	}
	coming, _ := g.arrivals("")
	one := over(w)
	list, stock := []Month{}, g.OnHand-g.reserved()
	for k := range months {
		m := Month{From: float64(k) * w, Demand: one.mean, P10: one.least(0.1), P90: one.least(0.9)}
		for _, a := range coming {
			if a.weeks >= m.From-1e-9 && a.weeks < m.From+w-1e-9 {
				m.Arriving += a.pieces
			}
		}
		stock += m.Arriving
		m.ExpectedShort = over(float64(k+1) * w).owed(stock)
		list = append(list, m)
	}
	return list
}
