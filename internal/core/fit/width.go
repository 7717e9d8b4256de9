package fit

import (
	"fmt"
	"math"
)

// usualWidthU is the uncertainty of a connector's width where none was given, mm: a caliper of two digits (house).
const usualWidthU = 0.02

// WidthsApart says in words that the connectors of a piece and of a host, both in mm with the standard uncertainty u
// of each reading (0: a caliper's), are shown to differ by more than twice the uncertainty of their difference; ""
// when they are not, or one is not measured.
func WidthsApart(piece, host, u float64) string {
	if piece <= 0 || host <= 0 {
		return ""
	}
	if u <= 0 {
		u = usualWidthU
	}
	u *= math.Sqrt2
	d := piece - host
	if math.Abs(d) <= 2*u {
		return ""
	}
	word := "wide"
	if d < 0 {
		word = "narrow"
	}
	return fmt.Sprintf("the connector is %.2f ± %.2f mm too %s: measure, do not force", math.Abs(d), u, word)
}
