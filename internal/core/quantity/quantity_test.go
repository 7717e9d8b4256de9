package quantity

import (
	"fmt"
	"math"
	"testing"

	"gonum.org/v1/gonum/stat"
)

func near(t *testing.T, what string, got, want, tol float64) {
	t.Helper()
	if math.Abs(got-want) > tol || math.IsNaN(got) {
		t.Errorf("%s: got %.6g, want %.6g", what, got, want)
	}
}

// TestRead checks against gonum's mean and standard deviation, and against JCGM 100:2008, F.2.2.1: a resolution δx
// gives u² = (δx)²/12, u = 0.29 δx.
func TestRead(t *testing.T) {
	one, err := Read([]float64{3.4}, 1, "mm")
	if err != nil {
		t.Fatal(err)
	}
	near(t, "one reading, resolution 1", one.U, 0.29, 0.002)
	x := []float64{3.41, 3.43, 3.42, 3.47}
	q, err := Read(x, 0.01, "mm")
	if err != nil {
		t.Fatal(err)
	}
	mean, sd := stat.MeanStdDev(x, nil)
	near(t, "mean", q.Value, mean, 1e-12)
	near(t, "combined", q.U, math.Sqrt(sd*sd/4+0.01*0.01/12), 1e-12)
	for _, bad := range []struct {
		x []float64
		r float64
	}{{nil, 1}, {[]float64{1}, 0}, {[]float64{math.NaN()}, 1}} {
		if _, err := Read(bad.x, bad.r, "mm"); err == nil {
			t.Errorf("Read(%v, %v) was not refused", bad.x, bad.r)
		}
	}
}

// TestCompare checks the propagation of the percentage against a finite difference of the function itself (JCGM 100,
// 5.1.3).
func TestCompare(t *testing.T) {
	a, b := Quantity{200, 0.3, "g", 1}, Quantity{203, 0.4, "g", 1}
	d, err := Compare(a, b)
	if err != nil || !d.Resolved || d.Value != 3 {
		t.Fatalf("%+v, %v", d, err)
	}
	near(t, "u", d.U, 0.5, 1e-12) // 3-4-5
	f := func(a, b float64) float64 { return 100 * (b - a) / a }
	h := 1e-5
	da, db := (f(200+h, 203)-f(200-h, 203))/(2*h), (f(200, 203+h)-f(200, 203-h))/(2*h)
	near(t, "percent's u", d.PercentU, math.Hypot(da*0.3, db*0.4), 1e-6)
	if d, _ := Compare(a, Quantity{200.9, 0.4, "g", 1}); d.Resolved {
		t.Error("0.9 ± 0.5 counts as resolved")
	}
	if _, err := Compare(a, Quantity{Unit: "mm"}); err == nil {
		t.Error("grams were compared with millimetres")
	}
}

// TestBattery: the two plausible packs and the misread one are common practice, no source; the six corrections are
// found by trying all single-digit changes by hand below.
func TestBattery(t *testing.T) {
	for _, p := range []Pack{{3582, 13.94, 1}, {3274, 12.83, 1}, {0, 12, 1}, {5000, 38.7, 2}} {
		if d := Battery(p, nil); d != nil {
			t.Errorf("%v is doubted: %v", p, d.Text)
		}
	}
	d := Battery(Pack{3561, 14.84, 1}, []Pack{{3582, 13.94, 1}, {3274, 12.83, 1}})
	if d == nil {
		t.Fatal("14.84 Wh with 3561 mAh passes")
	}
	near(t, "volts", d.Volts, 4.17, 0.005)
	got := map[string]bool{}
	for _, c := range d.Corrections {
		got[fmt.Sprint(c.Value)] = true
	}
	if len(d.Corrections) != 6 || len(got) != 6 {
		t.Errorf("%d corrections: %v", len(d.Corrections), d.Corrections)
	}
	for _, want := range []string{"12.84", "13.84", "14.04", "3761", "3861", "3961"} {
		if !got[want] {
			t.Errorf("%s is missing in %v", want, got)
		}
	}
	if first := d.Corrections[0]; first.Value != 13.84 {
		t.Errorf("the siblings imply 3.9 V, but %v comes first", first)
	}
}

func TestSuspicions(t *testing.T) {
	if Sum(Quantity{10, 0.1, "g", 1}, []Quantity{{6, 0.1, "g", 1}, {4.1, 0.1, "g", 1}}) != "" {
		t.Error("a sum within its uncertainty is doubted")
	}
	if Sum(Quantity{10, 0.01, "g", 1}, []Quantity{{6, 0.01, "g", 1}, {3, 0.01, "g", 1}}) == "" {
		t.Error("a missing gram passes")
	}
	if !Turned(Pack{3600, 13, 1}, Pack{3500, 14, 1}) || Turned(Pack{3600, 14, 1}, Pack{3500, 13, 1}) {
		t.Error("rank by charge and by energy")
	}
	for _, c := range []struct{ x, least, most, want float64 }{{7.5, 1, 9, 7.5}, {72, 0.5, 12, 12},
		{735, 60, 80, 73.5}} {
		if y, ok := Nearer(c.x, c.least, c.most); !ok || y != c.want {
			t.Errorf("Nearer(%v, %v, %v) = %v, %v", c.x, c.least, c.most, y, ok)
		}
	}
	if Digit("18.40") != 0.01 || Digit("3274") != 1 {
		t.Error("place of the last digit")
	}
}
