// Package stock says how many pieces to keep of what interchanges, and what to order first. Demand is Poisson, one
// piece a job; a piece is ordered when one is used. The uncertainty of the rate is in every figure.
package stock

import (
	"fmt"
	"math"
	"slices"
	"sort"

	"gonum.org/v1/gonum/mathext"

	"waryowl/internal/core/fault"
)

const (
	mostGroups  = 2000
	mostMembers = 100
	mostJobs    = 100_000
	mostLead    = 104
	usualEffort = 2_000_000
	mostStock   = 1_000_000
)

// policy is what a level is asked for.
type policy struct {
	goal float64
	lost bool
}

func (p policy) fill(s int, d *demand) float64 {
	switch {
	case s <= 0:
		return 0
	case p.lost:
		return 1 - loss(s, d.mean)
	}
	return d.upTo(s - 1)
}

// base is the least stock that fills the goal.
func (p policy) base(d *demand) int {
	if !p.lost {
		return d.least(p.goal) + 1
	}
	b := 1.0
	for s := 1; s < mostStock; s++ {
		if b = d.mean * b / (float64(s) + d.mean*b); 1-b >= p.goal-1e-12 {
			return s
		}
	}
	return mostStock
}

// Solve gives the levels and the orders.
func Solve(in Input) (Output, error) {
	out := Output{Groups: []Level{}, Orders: []Order{}, Unpriced: []string{}}
	p, shape, err := in.check()
	if err != nil {
		return out, err
	}
	t := in.Weeks + in.PriorWeeks
	var wants []want
	for _, g := range in.Groups {
		l := Level{ID: g.ID}
		var d *demand
		over := func(weeks float64) *demand {
			if g.RatePerWeek != nil {
				return poisson(*g.RatePerWeek * weeks)
			}
			return negative(shape+float64(g.jobs()), t, weeks)
		}
		d = over(g.LeadWeeks)
		if g.RatePerWeek != nil {
			l.RatePerWeek = *g.RatePerWeek
			l.Interval = [2]float64{l.RatePerWeek, l.RatePerWeek}
		} else {
			a := shape + float64(g.jobs())
			l.RatePerWeek = a / t
			l.Interval = [2]float64{mathext.GammaIncRegInv(a, 0.025) / t, mathext.GammaIncRegInv(a, 0.975) / t}
		}
		l.LeadDemand = d.mean
		l.BaseStock = p.base(d)
		l.Fill, l.ExpectedOwed = p.fill(l.BaseStock, d), d.owed(l.BaseStock)
		l.BaseApart = l.BaseStock
		if n := len(g.Models); n > 0 {
			l.BaseApart = 0
			for _, m := range g.Models {
				l.BaseApart += p.base(negative(shape/float64(n)+float64(m.Jobs), t, g.LeadWeeks))
			}
		}
		l.PoolingSaves = l.BaseApart - l.BaseStock
		if b := g.LastBuy; b != nil && g.Cost != nil {
			n := 0
			if b.Margin > 0 {
				n = over(b.Weeks).least(b.Margin / (b.Margin + *g.Cost - b.Salvage))
			}
			l.LastBuy = &n
		}
		l.Position = g.position()
		l.Short = max(0, l.BaseStock-l.Position)
		l.Months = in.ahead(g, over)
		out.Groups = append(out.Groups, l)
		if g.Cost == nil {
			out.Unpriced = append(out.Unpriced, g.ID)
			continue
		}
		wants = append(wants, g.want(p, d, l.BaseStock))
	}
	effort := usualEffort
	if in.Effort != nil {
		effort = *in.Effort
	}
	out.order(wants, in.Budget, effort)
	return out, nil
}

func (g Group) jobs() (n int) {
	for _, m := range g.Models {
		n += m.Jobs
	}
	return n
}

func (in Input) check() (policy, float64, error) {
	p := policy{goal: 0.95}
	shape := 0.5
	if in.FillGoal != nil {
		p.goal = *in.FillGoal
	}
	if in.PriorShape != nil {
		shape = *in.PriorShape
	}
	switch {
	case !(p.goal > 0 && p.goal < 1):
		return p, 0, fault.New("fill_goal", p.goal, "a share between 0 and 1")
	case in.Unmet != "" && in.Unmet != "wait" && in.Unmet != "lost":
		return p, 0, fault.New("unmet", in.Unmet, "wait, lost")
	case !(shape > 0):
		return p, 0, fault.New("prior_shape", shape, "above 0")
	case !(in.Weeks >= 0):
		return p, 0, fault.New("weeks", in.Weeks, "0 or more")
	case !(in.PriorWeeks >= 0):
		return p, 0, fault.New("prior_weeks", in.PriorWeeks, "0 or more")
	case !(in.Budget >= 0):
		return p, 0, fault.New("budget", in.Budget, "0 or more")
	case len(in.Groups) == 0 || len(in.Groups) > mostGroups:
		return p, 0, fault.New("groups", len(in.Groups), "1 to 2000 groups")
	case in.Months != nil && (*in.Months < 1 || *in.Months > mostMonths):
		return p, 0, fault.New("months", *in.Months, "1 to 6")
	case in.Horizon != nil && !(*in.Horizon > 0 && *in.Horizon <= mostLead):
		return p, 0, fault.New("horizon_weeks", *in.Horizon, "above 0, at most 104")
	case in.Effort != nil && *in.Effort < 1:
		return p, 0, fault.New("effort", *in.Effort, "1 or more")
	}
	p.lost = in.Unmet == "lost"
	seen := map[string]bool{}
	for i, g := range in.Groups {
		at := fmt.Sprintf("groups[%d]", i)
		if err := fault.ID(at+".id", g.ID); err != nil {
			return p, 0, err
		}
		switch {
		case seen[g.ID]:
			return p, 0, fault.New(at+".id", g.ID, "an id that comes once")
		case (len(g.Models) > 0) == (g.RatePerWeek != nil):
			return p, 0, fault.New(at+".models", len(g.Models), "either models or rate_per_week")
		case len(g.Models) > mostMembers:
			return p, 0, fault.New(at+".models", len(g.Models), "at most 100 models")
		case g.RatePerWeek != nil && !(*g.RatePerWeek >= 0):
			return p, 0, fault.New(at+".rate_per_week", *g.RatePerWeek, "0 or more")
		case len(g.Models) > 0 && !(in.Weeks+in.PriorWeeks > 0):
			return p, 0, fault.New("weeks", in.Weeks, "with prior_weeks above 0 where jobs were counted")
		case !(g.LeadWeeks > 0 && g.LeadWeeks <= mostLead):
			return p, 0, fault.New(at+".lead_weeks", g.LeadWeeks, "above 0, at most 104")
		case g.Cost != nil && !(*g.Cost >= 1):
			return p, 0, fault.New(at+".cost", *g.Cost, "1 or more, or left out where no price is known")
		case g.Weight != nil && !(*g.Weight >= 0):
			return p, 0, fault.New(at+".weight", *g.Weight, "0 or more")
		}
		seen[g.ID] = true
		for name, n := range map[string]int{"on_hand": g.OnHand, "owed": value(g.Owed), "reserved": value(g.Reserved),
			"max_stock": g.MaxStock} {
			if n < 0 {
				return p, 0, fault.New(at+"."+name, n, "0 or more")
			}
		}
		if g.Owed != nil && g.Reserved != nil && *g.Owed != *g.Reserved {
			return p, 0, fault.New(at+".reserved", *g.Reserved, fmt.Sprintf("as owed, %d, or only one of the two", *g.Owed))
		}
		if _, err := g.arrivals(at); err != nil {
			return p, 0, err
		}
		models := map[string]bool{} // a model may stand in the groups of several of its parts
		for k, m := range g.Models {
			here := fmt.Sprintf("%s.models[%d]", at, k)
			if err := fault.ID(here+".id", m.ID); err != nil {
				return p, 0, err
			}
			if models[m.ID] {
				return p, 0, fault.New(here+".id", m.ID, "a model once in a group")
			}
			models[m.ID] = true
			if m.Jobs < 0 || m.Jobs > mostJobs {
				return p, 0, fault.New(here+".jobs", m.Jobs, "0 to 100000")
			}
		}
		if b := g.LastBuy; b != nil {
			switch {
			case !(b.Weeks > 0):
				return p, 0, fault.New(at+".last_buy.weeks", b.Weeks, "above 0")
			case g.Cost != nil && *g.Cost <= b.Salvage:
				return p, 0, fault.New(at+".last_buy.salvage", b.Salvage, "less than the cost")
			}
		}
	}
	return p, shape, nil
}

// want is what more pieces of a group would bring, piece by piece.
type want struct {
	id       string
	cost     float64
	gain     []float64 // of the first n pieces
	position int
	policy   policy
	demand   *demand
}

func (g Group) want(p policy, d *demand, base int) want {
	w := want{id: g.ID, cost: *g.Cost, position: g.position(), policy: p, demand: d, gain: []float64{0}}
	most := g.MaxStock
	if most == 0 {
		most = base + 2
	}
	weight := 1.0
	if g.Weight != nil {
		weight = *g.Weight
	}
	now := d.owed(w.position)
	for n := 1; w.position+n <= most; n++ {
		w.gain = append(w.gain, weight*(now-d.owed(w.position+n)))
	}
	return w
}

// order buys under the budget: exact by labels of cost and gain, group by group (C. C. Sherbrooke's METRIC, Operations
// Research 16, 1968, for the marginal list that bounds them).
func (out *Output) order(wants []want, budget float64, effort int) {
	type marginal struct {
		w    int
		rate float64
	}
	var list []marginal
	for i, w := range wants {
		for n := 1; n < len(w.gain); n++ {
			list = append(list, marginal{i, (w.gain[n] - w.gain[n-1]) / w.cost})
		}
	}
	slices.SortStableFunc(list, func(a, b marginal) int {
		switch {
		case a.rate > b.rate:
			return -1
		case a.rate < b.rate:
			return 1
		case wants[a.w].cost != wants[b.w].cost: // the dearest last
			if wants[a.w].cost < wants[b.w].cost {
				return -1
			}
			return 1
		}
		return 0
	})
	bought := make([]int, len(wants))
	left := budget
	full := make([]bool, len(wants))
	for _, m := range list { // gains fall within a group, so its pieces come in their order
		if c := wants[m.w].cost; !full[m.w] && c <= left+1e-9 {
			left -= c
			bought[m.w]++
		} else {
			full[m.w] = true
		}
	}
	for i, n := range bought {
		out.GreedyGain += wants[i].gain[n]
	}
	// linear is the most that the groups from one on can bring with so much money, pieces cut where need be
	linear := func(k int) func(money float64) float64 {
		var costs, gains, rates []float64 // sums so far
		cost, gain := 0.0, 0.0
		for _, m := range list {
			if m.w < k {
				continue
			}
			c := wants[m.w].cost
			cost, gain = cost+c, gain+m.rate*c
			costs, gains, rates = append(costs, cost), append(gains, gain), append(rates, m.rate)
		}
		return func(money float64) float64 {
			n := sort.Search(len(costs), func(i int) bool { return costs[i] > money })
			sum, spent := 0.0, 0.0
			if n > 0 {
				sum, spent = gains[n-1], costs[n-1]
			}
			if n < len(costs) {
				sum += rates[n] * (money - spent)
			}
			return sum
		}
	}
	type label struct {
		cost, gain float64
		from, n    int
	}
	layers := [][]label{{{0, 0, -1, 0}}}
	complete := true
	for k, w := range wants {
		var next []label
		ahead := linear(k + 1)
		for i, l := range layers[k] {
			for n := 0; n < len(w.gain); n++ {
				c := l.cost + float64(n)*w.cost
				if c > budget+1e-9 {
					break
				}
				if g := l.gain + w.gain[n]; g+ahead(budget-c) >= out.GreedyGain-1e-9*max(1, out.GreedyGain) {
					next = append(next, label{c, g, i, n})
				}
			}
		}
		slices.SortFunc(next, func(a, b label) int {
			switch {
			case a.cost != b.cost:
				if a.cost < b.cost {
					return -1
				}
				return 1
			case a.gain > b.gain:
				return -1
			case a.gain < b.gain:
				return 1
			}
			return 0
		})
		kept := next[:0]
		best := math.Inf(-1)
		for _, l := range next { // dominated ones fall away
			if l.gain > best+1e-12 {
				best = l.gain
				kept = append(kept, l)
			}
		}
		out.Labels += len(kept)
		layers = append(layers, slices.Clone(kept))
		if out.Labels > effort {
			complete = false
			break
		}
	}
	out.Bound = linear(0)(budget)
	if complete {
		last := layers[len(layers)-1]
		at := 0
		for i, l := range last {
			if l.gain > last[at].gain+1e-12 {
				at = i
			}
		}
		for k := len(wants); k > 0; k-- {
			l := layers[k][at]
			bought[k-1], at = l.n, l.from
		}
		out.Proven = true
	}
	for i, n := range bought {
		if n == 0 {
			continue
		}
		w := wants[i]
		o := Order{ID: w.id, Pieces: n, Cost: float64(n) * w.cost, Gain: w.gain[n], Fill: w.policy.fill(w.position+n,
			w.demand)}
		out.Orders = append(out.Orders, o)
		out.Spent += o.Cost
		out.Gain += o.Gain
	}
	if out.Proven {
		out.Bound = out.Gain
	}
	slices.SortStableFunc(out.Orders, func(a, b Order) int {
		switch x, y := a.Gain/a.Cost, b.Gain/b.Cost; {
		case x > y:
			return -1
		case x < y:
			return 1
		}
		return 0
	})
}
