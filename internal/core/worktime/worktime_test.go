package worktime

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"
)

// TestBlend compares with gonum: the geometric mean of the runs, the prediction counted twice.
func TestBlend(t *testing.T) {
	for _, c := range []struct {
		predicted float64
		measured  []float64
	}{{40, nil}, {40, []float64{55, 61}}, {7, []float64{3.5}}, {90, []float64{180, 175, 60, 91}}} {
		e, err := Blend(c.predicted, c.measured)
		want := stat.GeometricMean(append([]float64{c.predicted, c.predicted}, c.measured...), nil)
		if err != nil || math.Abs(e.Seconds-want) > 1e-9*want || e.N != len(c.measured) {
			t.Errorf("%v: got %+v, %v, gonum's geometric mean %g", c, e, err, want)
		}
	}
	for _, bad := range []float64{0, -3, math.NaN(), math.Inf(1)} {
		if _, err := Blend(bad, nil); err == nil {
			t.Errorf("a prediction of %g s was taken", bad)
		}
		if _, err := Blend(5, []float64{4, bad}); err == nil {
			t.Errorf("a run of %g s was taken", bad)
		}
	}
}

func TestPredictGrowsWithTheCount(t *testing.T) {
	one, _ := Predict("unfasten", 0)
	four, certainty := Predict("unfasten", 4)
	if math.Abs(four-one-3*12*10*TMU) > 1e-9 || certainty != "house" {
		t.Errorf("three more screws took %g s more (%s)", four-one, certainty)
	}
	for verb, p := range priors {
		for _, sequence := range []string{p.once, p.each} {
			if _, err := MOST(sequence); sequence != "" && err != nil {
				t.Errorf("%s: %v", verb, err)
			}
		}
		if s, _ := Predict(verb, 1); s < 1 || s > 120 {
			t.Errorf("%s is predicted at %g s", verb, s)
		}
	}
}

// TestWhole adds a repair up by hand: 10 min in of which 2 wait, back in 0.8 of the 8 attended, 15 min of cure, 2 to start,
// 3 of checks.
func TestWhole(t *testing.T) {
	got := Whole(480, 120, 900, 120, 180)
	if want := (Repair{In: 600, HandsOn: 480 + 384 + 180, Waits: 1140, Closed: 1044 + 1140}); got != want {
		t.Errorf("got %+v, want %+v", got, want)
	}
	for _, c := range []struct {
		took, fastest, usual float64
		doubtful             bool
	}{{36, 900, 2200, true}, {899, 900, 2200, true}, {900, 900, 2200, false}, {11000, 900, 2200, false},
		{11001, 900, 2200, true}, {500, 0, 0, false}} {
		if Doubtful(c.took, c.fastest, c.usual) != c.doubtful {
			t.Errorf("%+v", c)
		}
	}
	for _, c := range []struct {
		seconds, late float64
		pause         bool
	}{{59, 5, false}, {61, 5, true}, {61, 20.4, false}, {900, 280, true}, {900, 0, false}} {
		if Pause(c.seconds, c.late) != c.pause {
			t.Errorf("%+v", c)
		}
	}
}

// TestMOST: the worked example of a general move in the literature on basic MOST: 17 × 10 TMU = 170 TMU, 6.12 s.
func TestMOST(t *testing.T) {
	if s, err := MOST("A6 B6 G1 A1 B0 P3 A0"); err != nil || math.Abs(s-6.12) > 1e-9 {
		t.Errorf("%g s, %v", s, err)
	}
	for _, bad := range []string{"", "A2", "Q1", "A", "A6,B6", "A-1"} {
		if _, err := MOST(bad); err == nil {
			t.Errorf("%q was read", bad)
		}
	}
}

// TestLateIsKeptNineTimesOfTen plays it: spread and median of a step are drawn from what is believed before (scaled
// inverse χ² and normal, drawn by gonum), some runs are measured, and the next one must end in time nine times of ten.
func TestLateIsKeptNineTimesOfTen(t *testing.T) {
	const predicted, plays = 40.0, 40000
	r := rand.New(rand.NewPCG(5, 9))
	for _, runs := range []int{0, 1, 4, 20} {
		kept := 0
		for range plays {
			chi := distuv.ChiSquared{K: PriorWeight, Src: r}.Rand()
			sd := math.Sqrt(PriorWeight * Spread * Spread / chi)
			mean := math.Log(predicted) + sd/math.Sqrt(PriorWeight)*r.NormFloat64()
			var seen Tally
			for range runs {
				seen = seen.Add(math.Exp(mean + sd*r.NormFloat64()))
			}
			if mean+sd*r.NormFloat64() <= math.Log(Late(predicted, seen)) {
				kept++
			}
		}
		if p := float64(kept) / plays; math.Abs(p-0.9) > 4*math.Sqrt(0.09/plays) {
			t.Errorf("after %d runs, %.4f of the next ones ended in time", runs, p)
		}
	}
	if f := Late(predicted, Tally{}) / predicted; math.Abs(f-1.78) > 0.005 {
		t.Errorf("nothing measured: %.3f times the prediction", f)
	}
}
