package risk

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/stat/distuv"
)

// TestInterval checks the quantiles by what defines them: at the lower end the binomial tail P(X ≥ k) is 2.5 %, at the
// upper end P(X ≤ k) is (gonum's binomial distribution); and against textbook values.
func TestInterval(t *testing.T) {
	for n := 1; n <= 60; n++ {
		for k := 0; k <= n; k++ {
			lo, hi := Count{k, n}.Interval()
			if k > 0 {
				if tail := 1 - (distuv.Binomial{N: float64(n), P: lo}).CDF(float64(k-1)); math.Abs(tail-0.025) > 1e-6 {
					t.Fatalf("%d of %d: lower %g leaves a tail of %g", k, n, lo, tail)
				}
			}
			if k < n {
				if tail := (distuv.Binomial{N: float64(n), P: hi}).CDF(float64(k)); math.Abs(tail-0.025) > 1e-6 {
					t.Fatalf("%d of %d: upper %g leaves a tail of %g", k, n, hi, tail)
				}
			}
		}
	}
	for _, c := range []struct {
		k, n   int
		lo, hi float64
	}{{4, 4, 0.398, 1}, {2, 2, 0.158, 1}, {1, 1, 0.025, 1}, {3, 4, 0.194, 0.994}, {0, 0, 0, 1}} {
		lo, hi := Count{c.k, c.n}.Interval()
		if math.Abs(lo-c.lo) > 5e-4 || math.Abs(hi-c.hi) > 5e-4 {
			t.Errorf("%d of %d: %.4f to %.4f, want %.3f to %.3f", c.k, c.n, lo, hi, c.lo, c.hi)
		}
	}
	// Nothing in n: the upper end is 1 − 0.025^(1/n), near 3.69/n; the one-sided 95 % one is near 3/n (rule of three:
	// J. A. Hanley and A. Lippman-Hand, JAMA 249, 1983; from memory).
	for _, n := range []int{10, 50, 300} {
		_, hi := Count{0, n}.Interval()
		if want := 1 - math.Pow(0.025, 1/float64(n)); math.Abs(hi-want) > 1e-9 {
			t.Errorf("0 of %d: %g, want %g", n, hi, want)
		}
	}
	if _, hi := (Count{0, 300}).Interval(); math.Abs(hi*300-3.69) > 0.03 {
		t.Errorf("0 of 300: %g/n", hi*300)
	}
	if one := 300 * (1 - math.Pow(0.05, 1.0/300)); math.Abs(one-3) > 0.02 {
		t.Errorf("rule of three: %g", one)
	}
}

func TestOdds(t *testing.T) {
	if got := (Count{0, 0}).Odds(0.03); got != 0.03 {
		t.Errorf("without counts the table's figure stands, not %g", got)
	}
	if got := (Count{2, 20}).Odds(0.05); got != 0.075 {
		t.Errorf("2 of 20 with 5 %%: %g, want halfway", got)
	}
	if (Count{1, 14}).Odds(Usual("cut").Chance) <= (Count{0, 14}).Odds(Usual("cut").Chance) {
		t.Error("an incident must raise the odds")
	}
	if (Count{3, 2}).Check() == nil || (Count{-1, 2}).Check() == nil || (Count{1, 2}).Check() != nil {
		t.Error("counts that cannot be")
	}
}
