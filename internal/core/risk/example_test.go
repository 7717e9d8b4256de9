package risk_test

import (
	"fmt"

	"waryowl/internal/core/risk"
)

// Four attempts, three of which went wrong: what is shown is the exact interval, what is computed with leans on the
// house figure.
func Example() {
	c := risk.Count{K: 3, N: 4}
	low, high := c.Interval()
	fmt.Printf("3 of 4 (%.1f–%.1f %%), computed with %.3f\n", 100*low, 100*high, c.Odds(0.02))
	// Output: 3 of 4 (19.4–99.4 %), computed with 0.142
}
