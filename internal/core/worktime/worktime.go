// Package worktime says how long an action takes: predicted from a table while nobody has measured it, and pulled toward
// the measured runs as they come in. All times are seconds.
//
//	e, _ := worktime.Blend(40, []float64{55, 61})
//	e.Seconds, e.N // the typical (median) time and how many runs stand behind it
package worktime

import (
	"fmt"
	"math"

	"waryowl/internal/core/fault"
)

// PriorWeight is k₀: how many measured runs the prediction is worth (house).
const PriorWeight = 2.0

// RefitShare is what putting back takes of the taking-out time until it is measured (house).
const RefitShare = 0.8

// Estimate is a typical time and the number of measured runs behind it; 0 means predicted.
type Estimate struct {
	Seconds float64 `json:"seconds"`
	N       int     `json:"n"`
}

// Blend pulls the typical time away from the prediction m₀ on the log scale: ln m = (k₀ ln m₀ + Σ ln tᵢ)/(k₀ + n), the
// posterior median for log-normal times with a prior worth k₀ runs. Times must be above 0.
func Blend(predicted float64, measured []float64) (Estimate, error) {
	if !(predicted > 0 && predicted <= math.MaxFloat64) {
		return Estimate{}, fault.New("predicted", predicted, "seconds above 0")
	}
	sum := PriorWeight * math.Log(predicted)
	for i, t := range measured {
		if !(t > 0 && t <= math.MaxFloat64) {
			return Estimate{}, fault.New(fmt.Sprintf("measured[%d]", i), t, "seconds above 0")
		}
		sum += math.Log(t)
	}
	n := len(measured)
	return Estimate{math.Exp(sum / (PriorWeight + float64(n))), n}, nil
}

// Prior is a predicted time for one kind of action: Base seconds plus Each for every fastener or item.
type Prior struct {
	Base, Each float64
	Certainty  string
}

// priors are house figures: rough bench times, to be replaced by measured runs.
var priors = map[string]Prior{
	"unfasten":   {4, 5, "house"},
	"bracket":    {4, 0, "house"},
	"disconnect": {2, 3, "house"},
	"peel":       {8, 0, "house"},
	"cut":        {60, 0, "house"},
	"heat":       {20, 0, "house"},
	"solvent":    {15, 0, "house"},
	"slide":      {4, 0, "house"},
	"pry":        {20, 0, "house"},
	"lift":       {6, 0, "house"},
}

// Predict gives the table's time for an action on so many items (at least one).
func Predict(verb string, count int) (seconds float64, certainty string) {
	p, ok := priors[verb]
	if !ok {
		return 10, "house"
	}
	return p.Base + p.Each*float64(max(1, count)), p.Certainty
}

// Closed is the time from a closed phone to a closed and tested one with a part replaced: the way in, the way back
// (RefitShare of it), boot and settling, and the checks.
func Closed(in, boot, checks float64) float64 { return in + RefitShare*in + boot + checks }
