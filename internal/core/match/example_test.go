package match_test

import (
	"fmt"

	"waryowl/internal/core/match"
)

// Every word must be met: whole words count 3, beginnings 2.
func Example() {
	fmt.Printf("%.2f %.2f %g\n", match.Rank("drift 4 batt", "Pellow Drift 4", "battery"),
		match.Rank("drift-4 battery", "Pellow Drift 4", "battery"),
		match.Rank("drift 5", "Pellow Drift 4", "battery"))
	// Output: 2.67 3.00 0
}
