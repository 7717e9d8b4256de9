// Package worktime says how long an action takes: predicted from a table while nobody has measured it, and pulled
// toward the measured runs as they come in. All times are seconds.
//
//	e, _ := worktime.Blend(40, []float64{55, 61})
//	e.Seconds, e.N // the typical (median) time and how many runs stand behind it
package worktime

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat/distuv"

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
	sum := 0.0
	for i, t := range measured {
		if !(t > 0 && t <= math.MaxFloat64) {
			return Estimate{}, fault.New(fmt.Sprintf("measured[%d]", i), t, "seconds above 0")
		}
		sum += math.Log(t)
	}
	return Pulled(predicted, len(measured), sum), nil
}

// Pulled is Blend for n times of which only the sum of the logarithms is known. The prediction must be above 0.
func Pulled(predicted float64, n int, logs float64) Estimate {
	return Estimate{math.Exp((PriorWeight*math.Log(predicted) + logs) / (PriorWeight + float64(n))), n}
}

// Spread is what nobody has measured yet: the standard deviation of the logarithm of a time (house).
const Spread = 0.25

// Tally is what is known of times that were measured: how many, the sum of their logarithms, and that of the squares.
type Tally struct {
	N             int
	Logs, Squares float64
}

// Add counts a time of so many seconds, above 0.
func (t Tally) Add(seconds float64) Tally {
	x := math.Log(seconds)
	return Tally{t.N + 1, t.Logs + x, t.Squares + x*x}
}

// Late is the time within which the next run ends in nine cases of ten. Mean and variance of the logarithm are unknown:
// the conjugate prior stands at the prediction and at [Spread], each worth [PriorWeight] runs, and the next logarithm is
// Student's t with PriorWeight + n degrees of freedom (normal model with normal-inverse-χ² prior; from memory, checked by
// playing it). Nothing measured: 1.78 times the prediction.
func Late(predicted float64, t Tally) float64 { return quantile(predicted, t, 0.9) }

// Early is the time within which only one run in ten ends.
func Early(predicted float64, t Tally) float64 { return quantile(predicted, t, 0.1) }

func quantile(predicted float64, t Tally, share float64) float64 {
	n := float64(t.N)
	k := PriorWeight + n
	prior := math.Log(predicted)
	center := (PriorWeight*prior + t.Logs) / k
	squares := 0.0
	if t.N > 0 {
		mean := t.Logs / n
		squares = math.Max(0, t.Squares-n*mean*mean) + PriorWeight*n/k*(mean-prior)*(mean-prior)
	}
	scale := math.Sqrt((PriorWeight*Spread*Spread + squares) / k * (1 + 1/k))
	return math.Exp(center + distuv.StudentsT{Sigma: 1, Nu: k}.Quantile(share)*scale)
}

// prior predicts one kind of action: Once for the action, Each for every fastener or item, as MOST sequences where
// hands alone set the pace, Seconds where glue does.
type prior struct {
	once, each string
	seconds    float64
}

// priors: the sequences are house analyses of bench work, their index values from memory; the seconds are house
// figures. All are to be replaced by measured runs.
var priors = map[string]prior{
	"unfasten":   {"A1 B0 G1 A1 B0 P1 A1", "A1 B0 P3 L6 A1 B0 P1 A0", 0},
	"bracket":    {"A1 B0 G3 A1 B0 P3 A1", "", 0},
	"disconnect": {"A1 B0 G1 A1 B0 P1 A0", "A1 B0 P3 M3 A1", 0},
	"slide":      {"A1 B0 G1 M3 X0 I3 A1", "", 0},
	"lift":       {"A1 B0 G3 A3 B0 P3 A3", "", 0},
	"peel":       {"", "", 8},
	"cut":        {"", "", 60},
	"heat":       {"", "", 20},
	"solvent":    {"", "", 15},
	"pry":        {"", "", 20},
}

// Predict gives the time of an action on so many items (at least one).
func Predict(verb string, count int) (seconds float64, certainty string) {
	p, ok := priors[verb]
	if !ok {
		return 10, "house"
	}
	if p.once == "" {
		return p.seconds, "house"
	}
	once, _ := MOST(p.once) // a test reads every sequence of the table
	each := 0.0
	if p.each != "" {
		each, _ = MOST(p.each)
	}
	return once + each*float64(max(1, count)), "house"
}

// far is how many times the usual time makes a time doubtful, farLeast the seconds below which nobody is asked (house).
const (
	far      = 4.0
	farLeast = 60.0
)

// What the bench waits for, seconds (house): Cure is how long clamps stay on a new seal, Silence how long nothing may be
// logged before the next entry asks which phone lies there.
const (
	Cure    = 900.0
	Silence = 600.0
)

// Break says whether a measured time looks like a break against the planned one: it is asked in review, never in
// mid-step.
func Break(seconds, planned float64) bool { return seconds > farLeast && seconds > far*planned }
