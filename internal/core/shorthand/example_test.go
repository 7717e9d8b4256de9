package shorthand_test

import (
	"fmt"

	"waryowl/internal/core/shorthand"
)

// A line is about a part: found by its name, or proposed as a new one.
func Example() {
	v := shorthand.Vocabulary{Unit: "PINE", Parts: []shorthand.Named{{ID: "ub", Name: "upper bracket"}}}
	fmt.Println(shorthand.Parse("u 4 tri-wing 1.2x1.6 @upper-bracket", v).Echo)
	r := shorthand.Parse("l lower shield", v)
	fmt.Println(r.NewPart.Name, r.NewPart.Kind, r.Fact.Part == "")
	// Output:
	// PINE: unfasten 4 tri-wing 1.2 × 1.6 mm screws @upper-bracket
	// lower shield bracket true
}
