package basket

import (
	"math"
	"slices"
)

// relax raises the bound of a node by the volume algorithm (F. Barahona, R. Anbil 2000, from memory: subgradient
// steps from the best multipliers along what the average basket leaves short), fixing what the multipliers prove.
func (s *search) relax(n *node, steps int) {
	p := s.p
	if !s.settle(n) {
		n.bound = math.Inf(1)
		return
	}
	at := newPoint(p)
	s.weigh(n, n.lambda, at)
	if n.mean == nil {
		n.mean = at.copy()
	}
	best := at.value
	n.bound = max(n.bound, best)
	lambda := make([]float64, len(n.lambda))
	f, poor, alpha := 0.3, 0, 0.15
	for step := 1; ; step++ {
		if n.bound >= s.upper-penny {
			return
		}
		if step%10 == 0 && s.ctx.Err() != nil {
			s.effort = 0
		}
		if step%30 == 0 || step == steps || s.effort <= 0 {
			s.weigh(n, n.lambda, at)
			if s.fix(n, at) && !s.settle(n) {
				n.bound = math.Inf(1)
				return
			}
			s.repair(rounded(n.mean.x, n))
			if step >= steps || s.effort <= 0 {
				return
			}
		}
		norm := 0.0
		for k, v := range n.mean.short {
			if v < 0 && n.lambda[k] == 0 {
				continue
			}
			norm += v * v
		}
		if norm < 1e-10 {
			return
		}
		t := f * max(1.02*s.upper-best, 1e-4*s.upper) / norm
		for k, v := range n.mean.short {
			lambda[k] = max(0, n.lambda[k]+t*v)
		}
		s.weigh(n, lambda, at)
		along := 0.0
		for k, v := range at.short {
			along += v * n.mean.short[k]
		}
		n.mean.blend(at, alpha)
		if at.value > best {
			if copy(n.lambda, lambda); at.value > best+1e-4*math.Abs(best) {
				poor = 0
			}
			if best = at.value; along >= 0 {
				f = min(2, 1.1*f)
			}
			n.bound = max(n.bound, best)
			continue
		}
		if poor++; poor >= 10 {
			f, poor = 0.66*f, 0
			if alpha = max(0.01, 0.8*alpha); f < 1e-4 {
				steps = min(steps, step+1)
			}
		}
	}
}

// point is the relaxation at some multipliers, or an average of such: packs, which mode each seller takes (0: none),
// and what each slot lacks.
type point struct {
	value  float64
	x      []float64
	modes  [][]float64
	short  []float64
	values []float64 // per seller
	cost   []float64 // per pack without its price
}

func newPoint(p *problem) *point {
	at := &point{x: make([]float64, len(p.offers)), modes: make([][]float64, len(p.sellers)),
		short: make(
			[]float64,
			len(p.need),
		), values: make([]float64, len(p.sellers)), cost: make([]float64, len(p.offers))}
	for j := range p.sellers {
		at.modes[j] = make([]float64, len(p.sellers[j].modes)+1)
	}
	return at
}

func (a *point) copy() *point {
	b := &point{value: a.value, x: slices.Clone(a.x), short: slices.Clone(a.short)}
	for _, m := range a.modes {
		b.modes = append(b.modes, slices.Clone(m))
	}
	return b
}

func (a *point) blend(b *point, alpha float64) {
	mix := func(x, y []float64) {
		for i := range x {
			x[i] += alpha * (y[i] - x[i])
		}
	}
	mix(a.x, b.x)
	mix(a.short, b.short)
	for j := range a.modes {
		mix(a.modes[j], b.modes[j])
	}
}

// weigh evaluates the relaxation.
func (s *search) weigh(n *node, lambda []float64, at *point) {
	s.effort -= s.price
	p := s.p
	for i := range p.offers {
		o := &p.offers[i]
		c := o.extra
		for _, v := range o.covers {
			c -= lambda[v.slot] * float64(v.n)
		}
		at.cost[i] = c
	}
	at.value = 0
	for k, q := range p.need {
		at.value += lambda[k] * float64(q)
		at.short[k] = float64(q)
	}
	for j := range p.sellers {
		taken, value := s.answer(n, j, at.cost, at.x)
		at.values[j] = value
		at.value += value
		clear(at.modes[j])
		at.modes[j][taken] = 1
	}
	for i, v := range at.x {
		if v > 0 {
			for _, c := range p.offers[i].covers {
				at.short[c.slot] -= v * float64(c.n)
			}
		}
	}
}

// answer is a seller's best response: the mode taken (0: none) and its value; x gets the packs.
func (s *search) answer(n *node, j int, reduced []float64, x []float64) (int, float64) {
	p := s.p
	own := &p.sellers[j]
	take, value := -1, math.Inf(1)
	if n.modes[j]&1 != 0 {
		take, value = 0, 0
	}
	for k := range own.modes {
		if n.modes[j]>>(k+1)&1 == 0 {
			continue
		}
		r := &s.rays[k]
		if s.ray(n, j, k, reduced, r); r.ok && r.value < value {
			take, value = k+1, r.value
		}
	}
	for at, i := range own.offers {
		if x[i] = 0; take > 0 {
			x[i] = s.rays[take-1].x[at]
		}
	}
	if take < 0 {
		return 0, math.Inf(1)
	}
	return take, value
}

// ray solves one mode of a seller: every pack that pays is bought, and where the subtotal falls short of the
// threshold the packs that cost least for what they bring to it. A pack brings at most the threshold.
func (s *search) ray(n *node, j, k int, reduced []float64, r *ray) {
	p := s.p
	own, m := &p.sellers[j], &p.sellers[j].modes[k]
	r.value, r.ok = m.ship-m.fixed, true
	r.x = slices.Grow(r.x[:0], len(own.offers))[:len(own.offers)]
	sum := 0.0
	for at, i := range own.offers {
		o := &p.offers[i]
		c := reduced[i] + o.price*(1-m.percent)
		v := float64(n.low[i])
		if c < 0 {
			v = float64(n.high[i])
		}
		r.x[at] = v
		r.value += c * v
		sum += v * min(o.price, m.from)
	}
	if sum >= m.from {
		return
	}
	type more struct {
		at   int
		rate float64
	}
	var list []more
	for at, i := range own.offers {
		o := &p.offers[i]
		if n.high[i] > n.low[i] && r.x[at] < float64(n.high[i]) && o.price > 0 {
			list = append(list, more{at, (reduced[i] + o.price*(1-m.percent)) / min(o.price, m.from)})
		}
	}
	slices.SortFunc(list, func(a, b more) int {
		switch {
		case a.rate < b.rate:
			return -1
		case a.rate > b.rate:
			return 1
		}
		return a.at - b.at
	})
	for _, l := range list {
		i := own.offers[l.at]
		unit := min(p.offers[i].price, m.from)
		v := min(float64(n.high[i])-r.x[l.at], (m.from-sum)/unit)
		r.x[l.at] += v
		r.value += v * unit * l.rate
		if sum += v * unit; sum >= m.from-1e-9 {
			return
		}
	}
	r.ok = false
}

// fix closes packs and modes that no better basket holds: what forcing one adds to the bound reaches the best basket.
func (s *search) fix(n *node, at *point) (changed bool) {
	p, reduced := s.p, at.cost
	room := s.upper - penny - at.value
	var r ray
	for j := range p.sellers {
		own := &p.sellers[j]
		rest := room + at.values[j] // a response of this seller may cost so much
		modes, first := n.modes[j], true
		more := make([]float64, len(own.offers))  // the least value with one pack of it
		fewer := make([]float64, len(own.offers)) // and with one pack less than all
		for at := range more {
			more[at], fewer[at] = math.Inf(1), math.Inf(1)
		}
		if modes&1 != 0 {
			if rest <= 0 {
				modes &^= 1
			} else {
				for at := range fewer {
					fewer[at] = 0
				}
			}
		}
		for k := range own.modes {
			if modes>>(k+1)&1 == 0 {
				continue
			}
			if s.ray(n, j, k, reduced, &r); !r.ok || r.value >= rest {
				modes &^= 1 << (k + 1)
				continue
			}
			first = false
			for at, i := range own.offers {
				c := reduced[i] + p.offers[i].price*(1-own.modes[k].percent)
				up, down := r.value, r.value
				if r.x[at] == float64(n.low[i]) && c > 0 && own.modes[k].from == 0 {
					up += c
				}
				if r.x[at] == float64(n.high[i]) && c < 0 {
					down -= c
				}
				more[at], fewer[at] = min(more[at], up), min(fewer[at], down)
			}
		}
		if modes != n.modes[j] {
			n.modes[j], changed = modes, true
		}
		for at, i := range own.offers {
			if n.high[i] == n.low[i] {
				continue
			}
			if more[at] >= rest || first {
				n.high[i], changed = n.low[i], true
			} else if fewer[at] >= rest {
				n.low[i], changed = n.high[i], true
			}
		}
	}
	return changed
}
