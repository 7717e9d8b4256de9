package faultfind_test

import (
	"fmt"

	"waryowl/internal/core/faultfind"
)

// A phone that does not charge, on which another cable changed nothing.
func Example() {
	out, _ := faultfind.Solve(faultfind.Input{Symptom: "no charge", Tries: []faultfind.Tried{{Act: "other cable and charger"}}})
	fmt.Println(out.Status, "·", out.Next[0].Act, "·", out.Next[0].Minutes, "min")
	// Output: open · clean the port · 4 min
}
