package stock

import (
	"math"
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
