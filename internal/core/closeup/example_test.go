package closeup_test

import (
	"fmt"

	"waryowl/internal/core/closeup"
	"waryowl/internal/core/plan"
)

// Sixteen screws came out, fourteen went back: the phone stays open.
func Example() {
	fourteen := 14
	out, _ := closeup.Solve(closeup.Input{
		Done: []closeup.Out{{Done: plan.Done{Step: plan.Step{ID: "s1", Verb: "unfasten", What: "charge port",
			Joint: "screw", Count: 16}}}},
		Back: []closeup.Back{{Step: "s1", Count: &fourteen}}})
	fmt.Println(out.May, out.Why, out.Open[0].Open(), out.Open[0].Place)
	// Output: false [unaccounted] 2 charge port
}
