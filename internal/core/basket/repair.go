package basket

import (
	"math"
	"math/rand/v2"
	"slices"
)

func rounded(x []float64, n *node) []int {
	out := make([]int, len(x))
	for i, v := range x {
		out[i] = min(max(int(math.Floor(v+0.5)), n.low[i]), n.high[i])
	}
	return out
}

// repair makes a basket of packs: fills what is short at the least cost, drops what is not needed, exchanges single
// packs and closes sellers while that helps, and keeps it when it is the best. Only what is for sale bounds it, no
// branch.
func (s *search) repair(x []int) {
	p := s.p
	if !s.fill(x, -1, -1, even) {
		return
	}
	s.drop(x)
	cost := p.cost(x)
	for improved := true; improved; {
		improved = false
		try := func(i, j int) {
			if s.effort -= s.price; s.effort <= 0 {
				return
			}
			y := slices.Clone(x)
			if i >= 0 {
				y[i]--
			} else {
				for _, k := range p.sellers[j].offers {
					y[k] = 0
				}
			}
			if !s.fill(y, i, j, even) {
				return
			}
			s.drop(y)
			if c := p.cost(y); c < cost-penny {
				copy(x, y)
				cost, improved = c, true
			}
		}
		if cost > s.upper*1.02 {
			break // far from the best: not worth the search
		}
		for j := range p.sellers {
			if slices.ContainsFunc(p.sellers[j].offers, func(i int) bool { return x[i] > 0 }) {
				try(-1, j)
			}
		}
		for i := range x {
			if x[i] > 0 {
				try(i, -1)
			}
		}
	}
	if cost < s.upper-penny {
		s.upper, s.best = cost, slices.Clone(x)
	}
}

// stir takes parts of the best basket out and fills them anew, unevenly, so many times: what single exchanges do not
// find.
func (s *search) stir(rounds int) {
	p := s.p
	r := rand.New(rand.NewPCG(1, 2)) // always the same answer
	now, cost := slices.Clone(s.best), s.upper
	y := make([]int, len(now))
	for round := range rounds {
		if s.effort -= s.price; s.effort <= 0 {
			return
		}
		copy(y, now)
		shut := -1
		switch round % 3 {
		case 0: // a seller
			shut = r.IntN(len(p.sellers))
			for _, i := range p.sellers[shut].offers {
				y[i] = 0
			}
		case 1: // a part of all
			share := 0.1 + 0.4*r.Float64()
			for i := range y {
				if y[i] > 0 && r.Float64() < share {
					y[i] = 0
				}
			}
		case 2: // what competes with a seller
			for _, i := range p.sellers[r.IntN(len(p.sellers))].offers {
				for _, c := range p.offers[i].covers {
					for _, o := range p.by[c.slot] {
						if r.IntN(2) == 0 {
							y[o.i] = 0
						}
					}
				}
			}
		}
		if !s.fill(y, -1, shut, func() float64 { return 1 + 0.5*r.Float64() }) {
			continue
		}
		s.drop(y)
		c := p.cost(y)
		if c < s.upper-penny {
			s.repair(slices.Clone(y))
		}
		if c < cost*(1+0.004*r.Float64()*float64(rounds-round)/float64(rounds)) {
			copy(now, y)
			cost = c
		}
	}
}

func even() float64 { return 1 }

// fill adds the pack with the least cost for each piece that it brings until all slots are filled, without offer not
// or the seller shut.
func (s *search) fill(x []int, not, shut int, noise func() float64) bool {
	p := s.p
	short := slices.Clone(p.need)
	for i, v := range x {
		for _, c := range p.offers[i].covers {
			short[c.slot] -= v * c.n
		}
	}
	sums := make([]float64, len(p.sellers))
	open := make([]bool, len(p.sellers))
	for i, v := range x {
		if v > 0 {
			sums[p.offers[i].seller] += float64(v) * p.offers[i].price
			open[p.offers[i].seller] = true
		}
	}
	now := make([]float64, len(p.sellers))
	price := func(j int, sum float64) float64 { return p.sellers[j].best(sum).cost(sum) }
	for j := range now {
		if open[j] {
			now[j] = price(j, sums[j])
		}
	}
	for {
		best, least := -1, math.Inf(1)
		done := true
		for k, q := range short {
			if q <= 0 {
				continue
			}
			done = false
			for _, c := range p.by[k] {
				o := &p.offers[c.i]
				if c.i == not || o.seller == shut || x[c.i] >= o.most {
					continue
				}
				brings := 0.0
				for _, v := range o.covers {
					brings += float64(min(v.n, max(0, short[v.slot]))) / float64(p.need[v.slot])
				}
				if rate := (price(o.seller, sums[o.seller]+o.price) - now[o.seller] + o.extra) / brings * noise(); rate < least {
					best, least = c.i, rate
				}
			}
		}
		if done {
			return true
		}
		if best < 0 {
			return false
		}
		o := &p.offers[best]
		x[best]++
		sums[o.seller] += o.price
		now[o.seller] = price(o.seller, sums[o.seller])
		for _, v := range o.covers {
			short[v.slot] -= v.n
		}
	}
}

// drop takes packs out that no slot needs, where that saves money, the dearest first.
func (s *search) drop(x []int) {
	p := s.p
	spare := make([]int, len(p.need))
	for k, q := range p.need {
		spare[k] = -q
		for _, c := range p.by[k] {
			spare[k] += x[c.i] * c.n
		}
	}
	for {
		best, most := -1, penny
		for i, v := range x {
			if v == 0 || slices.ContainsFunc(p.offers[i].covers, func(c cover) bool { return spare[c.slot] < c.n }) {
				continue
			}
			j := p.offers[i].seller
			before := p.invoice(j, x)
			x[i]--
			if saves := before - p.invoice(j, x); saves > most {
				best, most = i, saves
			}
			x[i]++
		}
		if best < 0 {
			return
		}
		x[best]--
		for _, c := range p.offers[best].covers {
			spare[c.slot] -= c.n
		}
	}
}
