package school

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
)

// Pairing compares two models under a rubric.
type Pairing struct {
	Rubric     string     `json:"rubric"`
	A          string     `json:"a"`
	B          string     `json:"b"`
	Gap        [2]float64 `json:"gap"`
	Order      string     `json:"order" enum:"a,b,equal,open"`
	Always     string     `json:"always" enum:"a,b,none"`
	ShareA     [2]float64 `json:"share_a"`
	How        string     `json:"how"`
	Exact      bool       `json:"exact"`
	ShareExact bool       `json:"share_exact"`
}

// Rank is the best and the worst place of a model; the last two count what holds for all weights alone.
type Rank struct {
	Rubric   string `json:"rubric"`
	Model    string `json:"model"`
	Best     int    `json:"best"`
	Worst    int    `json:"worst"`
	BestAny  int    `json:"best_any"`
	WorstAny int    `json:"worst_any"`
}

// weighing says which weights are thought of: all, or those within a share of the rubric's own.
type weighing struct {
	within  *float64
	samples int
	seed    uint64
}

// corner is a model at one end: the points of every criterion and the least of the gates, for one combination of the
// facts that no filter decides.
type corner struct {
	p    []float64
	gate float64
}

// mostCorners is how many combinations of mixed facts are looked at for one end.
const mostCorners = 64

// corners are all combinations of an end; exact is false where they are too many and each criterion stands at its own end.
func (o *scored) corners(end int, fixed assignment) (list []corner, exact bool) {
	var mixed []string
	dom := map[string][]float64{}
	n := 1
	base := assignment{}
	for _, f := range o.rule.facts {
		d := o.p.domain(end, f, fixed)
		base[f] = d[0]
		if len(d) > 1 {
			mixed = append(mixed, f)
			dom[f] = d
			n = min(mostCorners+1, n*len(d))
		}
	}
	at := func(a assignment) corner {
		c := corner{gate: math.Inf(1)}
		for _, x := range o.rule.criteria {
			c.p = append(c.p, x.points(a))
		}
		for _, g := range o.rule.gates {
			c.gate = math.Min(c.gate, g.points(a))
		}
		return c
	}
	if n > mostCorners {
		c := corner{gate: math.Inf(1)}
		for _, x := range o.rule.criteria {
			c.p = append(c.p, o.p.optimise(end, apart(1, x), fixed).value)
		}
		for _, g := range o.rule.gates {
			c.gate = math.Min(c.gate, o.p.optimise(end, []term{{1, g}}, fixed).value)
		}
		return []corner{c}, false
	}
	each(mixed, dom, func(a assignment) {
		list = append(list, at(merged(base, a)))
	})
	return list, true
}

// least is the sign-carrying least of Σ w·e over the weights: all of them, or those within a share of W.
func (w weighing) least(weights, e []float64) float64 {
	if w.within == nil {
		return slices.Min(e)
	}
	sum := 0.0
	for i, d := range e {
		f := 1 + *w.within
		if d > 0 {
			f = 1 - *w.within
		}
		sum += weights[i] * f * d
	}
	return sum
}

// never says that a at its corner is never below b at its: for all weights, gates and all.
func (w weighing) never(weights []float64, a, b corner) bool {
	const tiny = -1e-12
	diff := func(of func(i int) float64) float64 {
		e := make([]float64, len(a.p))
		for i := range e {
			e[i] = of(i)
		}
		return w.least(weights, e)
	}
	// min_w max(L_a − L_b, L_a − g_b) = max over λ of the least of a − λb − (1−λ)g_b: two linear functions, minimax
	first := diff(func(i int) float64 { return a.p[i] - b.p[i] })
	if first < tiny && !math.IsInf(b.gate, 1) {
		lo, hi := 0.0, 1.0
		at := func(l float64) float64 {
			return diff(func(i int) float64 { return a.p[i] - l*b.p[i] - (1-l)*b.gate })
		}
		for range 200 { // concave in λ
			x, y := lo+(hi-lo)/3, hi-(hi-lo)/3
			if at(x) < at(y) {
				lo = x
			} else {
				hi = y
			}
		}
		first = math.Max(first, math.Max(at((lo+hi)/2), math.Max(at(0), at(1))))
	}
	if first < tiny {
		return false
	}
	if math.IsInf(a.gate, 1) {
		return true
	}
	if a.gate-b.gate >= tiny {
		return true
	}
	return diff(func(i int) float64 { return a.gate - b.p[i] }) >= tiny
}

// sampleWeights are drawn once, for all pairs of a rubric.
func (w weighing) draw(weights []float64) [][]float64 {
	r := rand.New(rand.NewPCG(w.seed, 0x0b1))
	list := make([][]float64, w.samples)
	for k := range list {
		row := make([]float64, len(weights))
		sum := 0.0
		for i := range row {
			if w.within == nil {
				row[i] = r.ExpFloat64()
			} else {
				row[i] = weights[i] * (1 + *w.within*(2*r.Float64()-1))
			}
			sum += row[i]
		}
		for i := range row {
			row[i] /= sum
		}
		list[k] = row
	}
	return list
}

// share is the share of weights at which a is above b (R. Lahdelma, J. Hokkanen and P. Salminen, European Journal of
// Operational Research 106, 1998).
func share(drawn [][]float64, a, b corner) float64 {
	n := 0
	for _, w := range drawn {
		x, y := 0.0, 0.0
		for i := range w {
			x += w[i] * a.p[i]
			y += w[i] * b.p[i]
		}
		if math.Min(x, a.gate) > math.Min(y, b.gate)+1e-12 {
			n++
		}
	}
	return float64(n) / float64(len(drawn))
}

// Simplex is the share of all weights (uniform on the simplex) at which Σ w·d > 0, exactly (G. Varsi 1973, recursion).
func Simplex(d []float64) float64 {
	var up, down []float64
	for _, x := range d {
		if x > 0 {
			up = append(up, x)
		} else {
			down = append(down, -x) // y ≥ 0
		}
	}
	switch {
	case len(up) == 0:
		return 0
	case len(down) == 0:
		return 1
	}
	// the volume of Σ d·w ≤ 0 by Varsi: for each d > 0, for each other −y: A_k ← (y·A_k + d·A_{k−1})/(y + d)
	a := make([]float64, len(down)+1)
	a[0] = 1
	for _, x := range up {
		for k, y := range down {
			a[k+1] = (y*a[k+1] + x*a[k]) / (y + x)
		}
	}
	return a[len(down)]
}

// shared are the open facts of the shop that two models have in common: one value for both.
func (o *scored) shared(b *scored, shop map[string]bool) []string {
	var list []string
	for _, f := range o.rule.facts {
		if shop[f] && o.state[f].open() && b.state[f].open() {
			list = append(list, f)
		}
	}
	return list
}

// pair compares two models. shop are the facts that neither overrides.
func (w weighing) pair(a, b *scored, shop map[string]bool, drawn [][]float64) Pairing {
	p := Pairing{Rubric: a.Rubric, A: a.Model, B: b.Model, Exact: a.Exact && b.Exact, ShareExact: true, Always: "none",
		Order: "open"}
	common := a.shared(b, shop)
	fixed := []assignment{nil}
	n := 1
	dom := map[string][]float64{}
	for _, f := range common {
		dom[f] = a.state[f].x
		n = min(mostCombinations+1, n*len(dom[f]))
	}
	if n > mostCombinations {
		p.Exact, p.ShareExact = false, false
	} else if len(common) > 0 {
		fixed = nil
		each(common, dom, func(x assignment) {
			held := assignment{}
			for f, v := range x {
				held[f] = v
			}
			fixed = append(fixed, held)
		})
	}
	p.Gap = [2]float64{math.Inf(1), math.Inf(-1)}
	p.ShareA = [2]float64{math.Inf(1), math.Inf(-1)}
	always := [2]bool{true, true}
	sampled := false
	for _, f := range fixed {
		la, ha, okA := a.p.between(f)
		lb, hb, okB := b.p.between(f)
		p.Exact = p.Exact && okA && okB
		p.Gap[low], p.Gap[high] = math.Min(p.Gap[low], la-hb), math.Max(p.Gap[high], ha-lb)
		var ends [2][2][]corner // by model and end
		for i, o := range []*scored{a, b} {
			for end := range 2 {
				list, exact := o.corners(end, f)
				ends[i][end] = list
				p.ShareExact = p.ShareExact && exact
			}
		}
		for k, pair := range [2][2][]corner{{ends[0][low], ends[1][high]}, {ends[0][high], ends[1][low]}} {
			for _, x := range pair[0] {
				for _, y := range pair[1] {
					if k == 0 {
						always[0] = always[0] && w.never(a.rule.weights, x, y)
					} else {
						always[1] = always[1] && w.never(a.rule.weights, y, x)
					}
					var s float64
					if w.within == nil && len(a.rule.gates) == 0 && len(pair[0])*len(pair[1]) == 1 {
						d := make([]float64, len(x.p))
						for i := range d {
							if d[i] = x.p[i] - y.p[i]; math.Abs(d[i]) <= 1e-12 {
								d[i] = 0
							}
						}
						s = Simplex(d)
					} else {
						sampled = true
						s = share(drawn, x, y)
					}
					if k == 0 {
						p.ShareA[low] = math.Min(p.ShareA[low], s)
					} else {
						p.ShareA[high] = math.Max(p.ShareA[high], s)
					}
				}
			}
		}
	}
	for i := range p.Gap {
		if math.Abs(p.Gap[i]) < 1e-12 {
			p.Gap[i] = 0
		}
	}
	switch {
	case p.Gap[low] > whisker:
		p.Order = "a"
	case p.Gap[high] < -whisker:
		p.Order = "b"
	case math.Abs(p.Gap[low]) <= whisker && math.Abs(p.Gap[high]) <= whisker:
		p.Order = "equal"
	}
	switch {
	case p.Order == "a" && always[0]:
		p.Always = "a"
	case p.Order == "b" && always[1]:
		p.Always = "b"
	}
	p.How = "exact"
	if sampled {
		p.How = fmt.Sprintf("%d samples", w.samples)
	}
	return p
}

// ranks are the places that the orders leave open.
func ranks(rubric string, models []string, pairs []Pairing) []Rank {
	var list []Rank
	n := len(models)
	for _, m := range models {
		r := Rank{Rubric: rubric, Model: m, Best: 1, Worst: n, BestAny: 1, WorstAny: n}
		for _, p := range pairs {
			above, below := p.Order == "a" && p.B == m || p.Order == "b" && p.A == m,
				p.Order == "a" && p.A == m || p.Order == "b" && p.B == m
			if above {
				r.Best++
			}
			if below {
				r.Worst--
			}
			if above && p.Always != "none" {
				r.BestAny++
			}
			if below && p.Always != "none" {
				r.WorstAny--
			}
		}
		list = append(list, r)
	}
	return list
}
