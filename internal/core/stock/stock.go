// Package stock says how many pieces to keep of what interchanges, and what to order first. Demand is Poisson, one piece a
// job; a piece is ordered when one is used. The uncertainty of the rate is in every figure.
package stock

import (
	"fmt"
	"math"
	"slices"
	"sort"

	"gonum.org/v1/gonum/mathext"

	"waryowl/internal/core/fault"
)

// Member is a model whose jobs take the piece, with the jobs that were counted, refused ones too.
type Member struct {
	ID   string `json:"id"`
	Jobs int    `json:"jobs" minimum:"0"`
}

// LastBuy is the end of a part: for how long it must last, what a job earns with it, what a piece left over brings.
type LastBuy struct {
	Weeks   float64 `json:"weeks"`
	Margin  float64 `json:"margin"`
	Salvage float64 `json:"salvage,omitempty"`
}

// Group is a set of models whose jobs take the same piece.
type Group struct {
	ID          string   `json:"id"`
	Models      []Member `json:"models,omitempty" nullable:"false"`
	RatePerWeek *float64 `json:"rate_per_week,omitempty" minimum:"0"`
	LeadWeeks   float64  `json:"lead_weeks"`
	Cost        float64  `json:"cost"`
	Weight      *float64 `json:"weight,omitempty" minimum:"0"`
	OnHand      int      `json:"on_hand,omitempty" minimum:"0"`
	OnOrder     int      `json:"on_order,omitempty" minimum:"0"`
	Owed        int      `json:"owed,omitempty" minimum:"0"`
	MaxStock    int      `json:"max_stock,omitempty" minimum:"0"`
	LastBuy     *LastBuy `json:"last_buy,omitempty"`
}

// Input is the groups of a workshop and the money for orders.
type Input struct {
	Weeks      float64  `json:"weeks,omitempty" minimum:"0" doc:"over which the jobs were counted"`
	FillGoal   *float64 `json:"fill_goal,omitempty"`
	Unmet      string   `json:"unmet,omitempty" enum:"wait,lost"`
	PriorShape *float64 `json:"prior_shape,omitempty"`
	PriorWeeks float64  `json:"prior_weeks,omitempty" minimum:"0"`
	Budget     float64  `json:"budget,omitempty" minimum:"0"`
	Effort     *int     `json:"effort,omitempty" minimum:"1"`
	Groups     []Group  `json:"groups" nullable:"false"`
}

// Level is what is kept of one group.
type Level struct {
	ID           string     `json:"id"`
	RatePerWeek  float64    `json:"rate_per_week"`
	Interval     [2]float64 `json:"interval"`
	LeadDemand   float64    `json:"lead_demand"`
	BaseStock    int        `json:"base_stock"`
	Fill         float64    `json:"fill"`
	ExpectedOwed float64    `json:"expected_owed"`
	BaseApart    int        `json:"base_apart"`
	PoolingSaves int        `json:"pooling_saves"`
	LastBuy      *int       `json:"last_buy,omitempty"`
}

// Order is pieces to order now; Gain is in jobs not kept waiting at any time.
type Order struct {
	ID     string  `json:"id"`
	Pieces int     `json:"pieces"`
	Cost   float64 `json:"cost"`
	Gain   float64 `json:"gain"`
	Fill   float64 `json:"fill"`
}

// Output is the levels and the orders.
type Output struct {
	Groups     []Level `json:"groups" nullable:"false"`
	Orders     []Order `json:"orders" nullable:"false"`
	Spent      float64 `json:"spent"`
	Gain       float64 `json:"gain"`
	Bound      float64 `json:"bound"`
	Proven     bool    `json:"proven"`
	GreedyGain float64 `json:"greedy_gain"`
	Labels     int     `json:"labels"`
}

const (
	mostGroups  = 2000
	mostMembers = 100
	mostJobs    = 100_000
	mostLead    = 104
	usualEffort = 2_000_000
	mostStock   = 1_000_000
)

// demand is a distribution over 0, 1, 2 …: Poisson, or the mixture of Poissons over a gamma rate.
type demand struct {
	mean float64
	a, q float64 // negative binomial; a = 0: Poisson
	p    []float64
}

func poisson(mean float64) *demand { return &demand{mean: mean} }

// negative is the demand over weeks ahead when the rate has a gamma posterior of shape a and rate t.
func negative(a, t, weeks float64) *demand {
	return &demand{mean: a * weeks / t, a: a, q: weeks / (weeks + t)}
}

func (d *demand) at(k int) float64 {
	for len(d.p) <= k {
		n := len(d.p)
		switch {
		case n == 0 && d.a > 0:
			d.p = append(d.p, math.Pow(1-d.q, d.a))
		case n == 0:
			d.p = append(d.p, math.Exp(-d.mean))
		case d.a > 0:
			d.p = append(d.p, d.p[n-1]*d.q*(d.a+float64(n)-1)/float64(n))
		default:
			d.p = append(d.p, d.p[n-1]*d.mean/float64(n))
		}
	}
	return d.p[k]
}

// upTo is P(D ≤ k).
func (d *demand) upTo(k int) float64 {
	sum := 0.0
	for i := 0; i <= k; i++ {
		sum += d.at(i)
	}
	return math.Min(1, sum)
}

// least is the smallest k with P(D ≤ k) at least p.
func (d *demand) least(p float64) int {
	sum := 0.0
	for k := 0; k < mostStock; k++ {
		if sum += d.at(k); sum >= p-1e-12 {
			return k
		}
		if k > int(d.mean)+50 && d.at(k) < 1e-18 { // the sum has reached what rounding lets it
			return k
		}
	}
	return mostStock
}

// owed is how many jobs wait on average with a stock of s.
func (d *demand) owed(s int) float64 {
	if s < 0 {
		return d.mean - float64(s)
	}
	x, sum := d.mean, 0.0
	for k := range s {
		sum += d.at(k)
		x -= math.Max(0, 1-sum)
	}
	return math.Max(0, x)
}

// loss is Erlang's: the share of jobs that walk when nobody waits, with s pieces and a lead-time demand of m.
func loss(s int, m float64) float64 {
	b := 1.0
	for k := 1; k <= s; k++ {
		b = m * b / (float64(k) + m*b)
	}
	return b
}

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
	out := Output{Groups: []Level{}, Orders: []Order{}}
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
		if b := g.LastBuy; b != nil {
			n := 0
			if b.Margin > 0 {
				n = over(b.Weeks).least(b.Margin / (b.Margin + g.Cost - b.Salvage))
			}
			l.LastBuy = &n
		}
		out.Groups = append(out.Groups, l)
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
		case !(g.Cost >= 1):
			return p, 0, fault.New(at+".cost", g.Cost, "1 or more")
		case g.Weight != nil && !(*g.Weight >= 0):
			return p, 0, fault.New(at+".weight", *g.Weight, "0 or more")
		}
		seen[g.ID] = true
		for name, n := range map[string]int{"on_hand": g.OnHand, "on_order": g.OnOrder, "owed": g.Owed, "max_stock": g.MaxStock} {
			if n < 0 {
				return p, 0, fault.New(at+"."+name, n, "0 or more")
			}
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
			case g.Cost <= b.Salvage:
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
	w := want{id: g.ID, cost: g.Cost, position: g.OnHand + g.OnOrder - g.Owed, policy: p, demand: d, gain: []float64{0}}
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
		o := Order{ID: w.id, Pieces: n, Cost: float64(n) * w.cost, Gain: w.gain[n], Fill: w.policy.fill(w.position+n, w.demand)}
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
