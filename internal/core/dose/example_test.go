package dose_test

import (
	"fmt"

	"waryowl/internal/core/dose"
)

// A round marked the panel of the first phone: the next phone starts at half the time.
func Example() {
	earlier := []dose.Round{{Source: "plate", Face: "front", SetC: 90, Seconds: 120, Result: "mark", Kind: "blotch"}}
	a := dose.Advise(nil, earlier, 120, dose.Limit(true, false))
	fmt.Printf("%g s next, halt %v\n", a.Next, a.Halt)
	// Output: 60 s next, halt false
}
