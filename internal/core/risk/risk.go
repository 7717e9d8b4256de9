// Package risk turns counted incidents into odds. Counts are kept per method, model and entry side and are never pooled
// across methods: one success with solvent says nothing about four failures with a press.
//
//	lo, hi := risk.Interval(1, 14) // exact 95 % interval of the chance behind "1 of 14"
package risk

import (
	"math"

	"gonum.org/v1/gonum/mathext"

	"waryowl/internal/core/fault"
)

// Weight is K: how many attempts the table's figure is worth when odds are computed (house).
const Weight = 20.0

// Prior is the table's chance of damage for one kind of hazard.
type Prior struct {
	Chance    float64
	Certainty string
}

// priors are house figures by kind of action, to be overruled by counts.
var priors = map[string]Prior{
	"heat":       {0.01, "house"},
	"cut":        {0.03, "house"},
	"pry":        {0.04, "house"},
	"peel":       {0.01, "house"},
	"disconnect": {0.002, "house"},
	"solvent":    {0.005, "house"},
	"lift":       {0.005, "house"},
}

// Usual is the table's chance for a kind of action.
func Usual(verb string) Prior {
	if p, ok := priors[verb]; ok {
		return p
	}
	return Prior{0.005, "house"}
}

// Count is k incidents in n attempts.
type Count struct {
	K int `json:"k"`
	N int `json:"n"`
}

// Interval is the exact two-sided 95 % interval of a chance (C. J. Clopper and E. S. Pearson, Biometrika 26, 1934): the
// beta quantiles B(0.025; k, n−k+1) and B(0.975; k+1, n−k). Nothing is known at n = 0: 0 to 1.
func (c Count) Interval() (low, high float64) {
	low, high = 0, 1
	k, n := float64(c.K), float64(c.N)
	if c.K > 0 {
		low = mathext.InvRegIncBeta(k, n-k+1, 0.025)
	}
	if c.K < c.N {
		high = mathext.InvRegIncBeta(k+1, n-k, 0.975)
	}
	return low, high
}

// Check refuses counts that cannot be.
func (c Count) Check() error {
	if c.N < 0 || c.K < 0 || c.K > c.N {
		return fault.New("k", c.K, "a count from 0 to the number of attempts")
	}
	return nil
}

// Odds is the chance for computing, (k + K·m)/(n + K), with m from the plan or the table.
func (c Count) Odds(m float64) float64 {
	return math.Min(0.999, (float64(c.K)+Weight*m)/(float64(c.N)+Weight))
}
