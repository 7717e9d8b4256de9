package benchline_test

import (
	"fmt"

	"waryowl/internal/core/benchline"
	"waryowl/internal/core/interlock"
	"waryowl/internal/core/shorthand"
)

// The tool that was taken before counts for the next act.
func Example() {
	c := benchline.Context{Vocabulary: shorthand.Vocabulary{Unit: "PINE",
		Parts: []shorthand.Named{{ID: "b", Name: "battery"}}},
		State: interlock.State{Charge: 10, Limit: 25}}
	a := benchline.Read(c, []string{"t metal spudger"}, "d battery")
	fmt.Println(a.Echo, "–", a.Stops[0].Rule, a.Stops[0].Do)
	// Output: PINE: disconnect battery – metal Put it down; plastic tool.
}
