package basket

import (
	"math"
	"slices"

	"waryowl/internal/core/fault"
)

// mode is one way in which a seller's invoice may come out, from a subtotal on.
type mode struct {
	ship, percent, fixed, from float64
	coupon                     int
}

func (m *mode) cost(sum float64) float64 { return m.ship + sum*(1-m.percent) - m.fixed }

type seller struct {
	id     string
	modes  []mode
	offers []int
}

// best is the cheapest mode for a subtotal.
func (s *seller) best(sum float64) *mode {
	var best *mode
	for k := range s.modes {
		if m := &s.modes[k]; m.from <= sum && (best == nil || m.cost(sum) < best.cost(sum)) {
			best = m
		}
	}
	return best
}

// cover is a slot of an offer, or an offer of a slot: n counts at most what the slot needs.
type cover struct{ slot, i, n, whole int }

type offer struct {
	id           string
	seller, most int
	price, extra float64 // of one pack: converted, and what bad ones cost on average
	bad, again   float64 // chance that a pack is bad, and what each re-buy costs
	covers       []cover
	admitted     admitted
}

// problem is the slots that can be filled, with the offers for them.
type problem struct {
	slots   []string
	need    []int
	by      [][]cover
	offers  []offer
	sellers []seller
}

// The defect rates of a grade before any pack was seen, and for how many packs they stand (house).
var priorBad = map[string]float64{"original": 0.02, "used": 0.06, "copy": 0.12}

const priorWeight = 20

// money converts into the input's currency.
func (in *Input) money(currency string) (func(int64) float64, error) {
	if currency == "" || currency == in.Currency {
		return func(v int64) float64 { return float64(v) }, nil
	}
	for _, r := range in.Rates {
		if r.From == currency && (r.To == "" || r.To == in.Currency) {
			return func(v int64) float64 { return math.Floor(float64(v)*r.Rate + 0.5) }, nil
		}
	}
	return nil, fault.New("rates", currency, "a rate of "+currency+" in "+in.Currency)
}

// problem checks the input and turns it into numbers; slots that no offers fill are named in out.
func (in *Input) problem(out *Output) (*problem, error) {
	if err := in.check(); err != nil {
		return nil, err
	}
	p := &problem{}
	slot := map[string]int{}
	for k, s := range in.Slots {
		slot[s.ID] = k
	}
	in.admit(out)
	offers, err := in.offers(slot)
	if err != nil {
		return nil, err
	}
	// Slots that all packs together cannot fill leave the problem.
	kept := make([]int, len(in.Slots))
	for k, s := range in.Slots {
		have := 0
		for i := range offers {
			for _, c := range offers[i].covers {
				if c.slot == k {
					have += c.whole * in.Offers[offers[i].most].Stock
				}
			}
		}
		if kept[k] = len(p.slots); have < s.quantity() {
			kept[k] = -1
			out.Unpriced = append(out.Unpriced, s.ID)
			if s.Forgotten {
				out.ForgottenUnpriced = append(out.ForgottenUnpriced, s.ID)
			}
			continue
		}
		p.slots, p.need, p.by = append(p.slots, s.ID), append(p.need, s.quantity()), append(p.by, nil)
	}
	for _, o := range offers {
		stock, most := in.Offers[o.most].Stock, 0
		var covers []cover
		for _, c := range o.covers {
			if c.slot = kept[c.slot]; c.slot < 0 {
				continue
			}
			need := p.need[c.slot]
			most = max(most, (need+c.whole-1)/c.whole)
			c.i, c.n = len(p.offers), min(c.whole, need)
			covers = append(covers, c)
		}
		if o.most, o.covers = min(stock, most), covers; o.most == 0 {
			continue
		}
		for _, c := range covers {
			p.by[c.slot] = append(p.by[c.slot], c)
		}
		p.offers = append(p.offers, o)
	}
	for _, s := range in.Sellers {
		modes, err := in.modes(s)
		if err != nil {
			return nil, err
		}
		p.sellers = append(p.sellers, seller{id: s.ID, modes: modes})
	}
	for i, o := range p.offers {
		p.sellers[o.seller].offers = append(p.sellers[o.seller].offers, i)
	}
	return p, nil
}

// offers are those that are in; most is, for the time being, their place in the input.
func (in *Input) offers(slot map[string]int) ([]offer, error) {
	bound := map[string][]string{}
	for _, set := range in.Bound {
		for _, s := range set {
			bound[s] = set
		}
	}
	weight := float64(priorWeight)
	if in.DefectWeight != nil {
		weight = *in.DefectWeight
	}
	var list []offer
	for at, o := range in.Offers {
		price, err := in.money(o.Currency)
		if err != nil {
			return nil, err
		}
		j := slices.IndexFunc(in.Sellers, func(s Seller) bool { return s.ID == o.Seller })
		ship, err := in.money(in.Sellers[j].Currency)
		if err != nil {
			return nil, err
		}
		if in.admitted[at].out || o.Stock < 1 || in.DeadlineDays != nil && o.LeadDays > *in.DeadlineDays {
			continue
		}
		takes := map[string]bool{}
		for s := range o.Covers {
			g := in.Slots[slot[s]].Grades
			takes[s] = len(g) == 0 || slices.Contains(g, o.Grade)
		}
		q := offer{id: o.ID, seller: j, most: at, price: price(o.Price)}
		for k, s := range in.Slots { // in the order of the slots: the answer is always the same
			whole := takes[s.ID] && !slices.ContainsFunc(bound[s.ID], func(b string) bool { return !takes[b] })
			if whole {
				q.covers = append(q.covers, cover{slot: k, whole: o.Covers[s.ID]})
			}
		}
		prior, known := in.DefectPrior[o.Grade]
		if !known {
			prior = priorBad[o.Grade]
		}
		if n := float64(o.Defects.N) + weight; n > 0 {
			q.bad = (float64(o.Defects.K) + weight*prior) / n
		} else {
			q.bad = prior
		}
		if q.bad >= 1 {
			continue // no good pack ever comes
		}
		q.again = (1-o.Returns.Refund)*q.price + price(o.Returns.Cost)
		if free := ship(in.Sellers[j].FreeAbove); free == 0 || q.price < free {
			q.again += ship(in.Sellers[j].Shipping)
		}
		q.admitted = in.admitted[at]
		q.extra = math.Round(1000*q.bad/(1-q.bad)*q.again)/1000 + q.admitted.loss
		if len(q.covers) > 0 {
			list = append(list, q)
		}
	}
	return list, nil
}

// modes are the ways in which an invoice of a seller may come out, without those that another one beats everywhere.
func (in *Input) modes(s Seller) ([]mode, error) {
	at, err := in.money(s.Currency)
	if err != nil {
		return nil, err
	}
	base := []mode{{ship: at(s.Shipping), coupon: -1}}
	for k, c := range s.Coupons {
		m := mode{ship: at(s.Shipping), percent: c.Percent / 100, fixed: at(c.Fixed), from: at(c.Above), coupon: k}
		m.from = max(m.from, m.fixed)
		base = append(base, m)
	}
	all := base
	if free := at(s.FreeAbove); free > 0 && at(s.Shipping) > 0 {
		for _, m := range slices.Clip(base) {
			m.ship, m.from = 0, max(m.from, free)
			all = append(all, m)
		}
	} // a threshold of 0 means never
	var list []mode
	for i, m := range all {
		if !slices.ContainsFunc(all[:i], func(o mode) bool { return o.beats(m) }) &&
			!slices.ContainsFunc(all[i+1:], func(o mode) bool { return o.beats(m) && !m.beats(o) }) {
			list = append(list, m)
		}
	}
	return list, nil
}

func (m mode) beats(o mode) bool {
	return m.from <= o.from && m.ship <= o.ship && m.percent >= o.percent && m.fixed >= o.fixed
}

func (s Slot) quantity() int {
	if s.Quantity == nil {
		return 1
	}
	return *s.Quantity
}

// cost is what a basket costs on average; +Inf when a slot is not filled.
func (p *problem) cost(x []int) float64 {
	for s, q := range p.need {
		have := 0
		for _, c := range p.by[s] {
			have += x[c.i] * c.n
		}
		if have < q {
			return math.Inf(1)
		}
	}
	sum := 0.0
	for j := range p.sellers {
		sum += p.invoice(j, x)
	}
	return sum
}

// invoice is what a seller's part of a basket costs on average.
func (p *problem) invoice(j int, x []int) float64 {
	sum, extra, any := 0.0, 0.0, false
	for _, i := range p.sellers[j].offers {
		if n := float64(x[i]); n > 0 {
			sum += n * p.offers[i].price
			extra += n * p.offers[i].extra
			any = true
		}
	}
	if !any {
		return 0
	}
	return p.sellers[j].best(sum).cost(sum) + extra
}
