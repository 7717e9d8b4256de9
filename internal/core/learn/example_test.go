package learn_test

import (
	"fmt"

	"waryowl/internal/core/learn"
	"waryowl/internal/core/plan"
)

// The lid came off without the tape: the tape was not needed, what it rested on still is.
func Example() {
	steps := plan.Plan{{ID: "screws"}, {ID: "tape", After: [][]string{{"screws"}}},
		{ID: "lid", After: [][]string{{"tape"}}}}
	l := learn.From(steps, "lid", []string{"screws"})
	fmt.Println(l.Kind, l.After, l.Gone)
	// Output: removed [[screws]] [tape]
}
