// Package quantity holds measured values: value ± standard uncertainty with a unit, how two of them are compared, and
// the suspicion that a figure was misread.
//
//	q, _ := quantity.Read([]float64{3.41, 3.43, 3.42}, 0.01, "mm")
//	d, _ := quantity.Compare(q, other) // d.Resolved: the difference is more than noise
//
// Uncertainties follow JCGM 100:2008 (GUM): a reading of a digital instrument of resolution r has u = r/(2√3)
// (F.2.2.1), n repeats contribute s/√n (4.2.3), and both combine in quadrature (5.1.2).
package quantity

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"

	"waryowl/internal/core/fault"
)

// Quantity is a measured value with its standard uncertainty U (1σ) in the same unit, from N readings.
type Quantity struct {
	Value float64 `json:"value"`
	U     float64 `json:"u"`
	Unit  string  `json:"unit"`
	N     int     `json:"n"`
}

// Read combines repeated readings of an instrument of the given resolution (same unit, above 0).
func Read(readings []float64, resolution float64, unit string) (Quantity, error) {
	if len(readings) == 0 {
		return Quantity{}, fault.New("readings", "[]", "at least one reading")
	}
	if !(resolution > 0 && resolution < math.Inf(1)) {
		return Quantity{}, fault.New("resolution", resolution, "the instrument's last digit, above 0")
	}
	n := float64(len(readings))
	sum := 0.0
	for i, x := range readings {
		if math.IsNaN(x) || math.IsInf(x, 0) {
			return Quantity{}, fault.New(fmt.Sprintf("readings[%d]", i), x, "a number")
		}
		sum += x
	}
	mean, ss := sum/n, 0.0
	for _, x := range readings {
		ss += (x - mean) * (x - mean)
	}
	u := resolution / (2 * math.Sqrt(3))
	if len(readings) > 1 {
		u = math.Hypot(u, math.Sqrt(ss/(n-1)/n))
	}
	return Quantity{mean, u, unit, len(readings)}, nil
}

// Digit is the place value of the last printed digit: 18.4 has 0.1. It is the resolution when nobody gave one.
func Digit(text string) float64 {
	for i := range text {
		if text[i] == '.' {
			return math.Pow(10, -float64(len(text)-i-1))
		}
	}
	return 1
}

// Difference is b − a with its standard uncertainty. Resolved says that |Δ| > 2·√(u₁²+u₂²); otherwise the two are not
// told apart. Percent is relative to a, with its own standard uncertainty (first order; 0 when a is 0).
type Difference struct {
	Value    float64 `json:"value"`
	U        float64 `json:"u"`
	Unit     string  `json:"unit"`
	Resolved bool    `json:"resolved"`
	Percent  float64 `json:"percent"`
	PercentU float64 `json:"percent_u"`
}

// Compare refuses quantities of different units.
func Compare(a, b Quantity) (Difference, error) {
	if a.Unit != b.Unit {
		return Difference{}, fault.New("unit", b.Unit, a.Unit+", as the other quantity")
	}
	d := Difference{Value: b.Value - a.Value, U: math.Hypot(a.U, b.U), Unit: a.Unit}
	d.Resolved = math.Abs(d.Value) > 2*d.U
	if a.Value != 0 {
		d.Percent = 100 * d.Value / a.Value
		d.PercentU = 100 * math.Hypot(b.U/a.Value, b.Value*a.U/(a.Value*a.Value))
	}
	return d, nil
}

// The nominal voltage per lithium cell that a pack's figures may imply (common practice, no source).
const (
	LeastVolts = 3.6
	MostVolts  = 3.95
)

// Pack is what is printed on a battery; Cells in series, 1 when 0.
type Pack struct {
	MAh   float64 `json:"mah"`
	Wh    float64 `json:"wh"`
	Cells int     `json:"cells"`
}

// Volts is the implied nominal voltage per cell, 1000·Wh/mAh/cells; 0 when a figure is missing.
func (p Pack) Volts() float64 {
	if p.MAh <= 0 || p.Wh <= 0 {
		return 0
	}
	return 1000 * p.Wh / p.MAh / float64(max(1, p.Cells))
}

// Correction is one figure with a single digit changed that makes the pack plausible.
type Correction struct {
	Field string  `json:"field" enum:"capacity_mah,energy_wh"`
	Value float64 `json:"value"`
	Volts float64 `json:"volts"`
}

// BatteryDoubt is the objection to a pack's figures.
type BatteryDoubt struct {
	Volts       float64      `json:"volts"`
	Text        string       `json:"text"`
	Corrections []Correction `json:"corrections" nullable:"false" doc:"single digits that fit, the likeliest first"`
}

// Battery objects to figures whose voltage is outside LeastVolts to MostVolts and lists every single-digit correction
// that fits, those nearest to the voltage of the sibling packs first. It returns nil when there is nothing to say.
func Battery(p Pack, siblings []Pack) *BatteryDoubt {
	v := p.Volts()
	if v == 0 || v >= LeastVolts && v <= MostVolts {
		return nil
	}
	like, n := 0.0, 0
	for _, s := range siblings {
		if sv := s.Volts(); sv >= LeastVolts && sv <= MostVolts {
			like, n = like+sv, n+1
		}
	}
	if n > 0 {
		like /= float64(n)
	} else {
		like = (LeastVolts + MostVolts) / 2
	}
	d := &BatteryDoubt{Volts: v, Corrections: []Correction{}, Text: fmt.Sprintf("%g mAh with %g Wh would be %.2f V "+
		"per cell; %.1f to %.2f V is usual: one figure was misread?", p.MAh, p.Wh, v, LeastVolts, MostVolts)}
	try := func(field string, x float64, with func(float64) Pack) {
		for _, y := range Digits(x) {
			if v := with(y).Volts(); v >= LeastVolts && v <= MostVolts {
				d.Corrections = append(d.Corrections, Correction{field, y, v})
			}
		}
	}
	try("energy_wh", p.Wh, func(y float64) Pack { return Pack{p.MAh, y, p.Cells} })
	try("capacity_mah", p.MAh, func(y float64) Pack { return Pack{y, p.Wh, p.Cells} })
	slices.SortStableFunc(d.Corrections, func(a, b Correction) int {
		return cmp.Compare(math.Abs(a.Volts-like), math.Abs(b.Volts-like))
	})
	return d
}

// Digits lists all numbers that differ from x in one printed digit, without a new leading zero.
func Digits(x float64) []float64 {
	text := []byte(strconv.FormatFloat(x, 'f', -1, 64))
	var found []float64
	for i, c := range text {
		if c < '0' || c > '9' {
			continue
		}
		for n := byte('0'); n <= '9'; n++ {
			if n == c || n == '0' && i == 0 && len(text) > 1 && text[1] != '.' {
				continue
			}
			text[i] = n
			if y, err := strconv.ParseFloat(string(text), 64); err == nil {
				found = append(found, y)
			}
		}
		text[i] = c
	}
	return found
}

// Sum objects to a total that differs from the sum of its lines by more than the uncertainty allows (2σ); "" when it
// holds.
func Sum(total Quantity, lines []Quantity) string {
	sum, u := 0.0, total.U
	for _, l := range lines {
		sum, u = sum+l.Value, math.Hypot(u, l.U)
	}
	if math.Abs(sum-total.Value) <= 2*u+1e-9*math.Abs(total.Value) {
		return ""
	}
	return fmt.Sprintf("the lines add up to %.4g %s, not to %.4g %s: is one missing, or was one misread?", sum,
		total.Unit, total.Value, total.Unit)
}

// Turned says that two packs rank one way by charge and the other way by energy, which one chemistry does not do.
func Turned(a, b Pack) bool {
	return a.MAh > 0 && b.MAh > 0 && a.Wh > 0 && b.Wh > 0 && (a.MAh-b.MAh)*(a.Wh-b.Wh) < 0
}

// Nearer suggests a figure with one digit or the decimal point changed that lies within the limits; x itself when it
// does.
func Nearer(x, least, most float64) (float64, bool) {
	if x >= least && x <= most {
		return x, true
	}
	best, found := x, false
	for _, y := range append(Digits(x), x/10, x/100) {
		if y >= least && y <= most && (!found || math.Abs(y-x) < math.Abs(best-x)) {
			best, found = y, true
		}
	}
	return best, found
}
