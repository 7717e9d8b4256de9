package worktime_test

import (
	"fmt"

	"waryowl/internal/core/worktime"
)

// A sequence of basic MOST, and a prediction that two measured runs pull on the log scale.
func Example() {
	seconds, _ := worktime.MOST("A6 B6 G1 A1 B0 P3 A0")
	e, _ := worktime.Blend(10, []float64{20, 20})
	fmt.Printf("%.2f s; %.1f s after %d runs\n", seconds, e.Seconds, e.N)
	// Output: 6.12 s; 14.1 s after 2 runs
}

// Five minutes on a step of twenty seconds look like a break, fifty seconds do not.
func ExampleBreak() {
	fmt.Println(worktime.Break(300, 20), worktime.Break(50, 5), worktime.Break(100, 60))
	// Output: true false false
}
