package worktime

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/stat"
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
	if four-one != 15 || certainty != "house" {
		t.Errorf("three more screws took %g s more (%s)", four-one, certainty)
	}
	if Closed(600, 60, 120) != 600+480+180 {
		t.Errorf("closed and tested: %g s", Closed(600, 60, 120))
	}
}
