package quantity_test

import (
	"fmt"

	"waryowl/internal/core/quantity"
)

// Three readings of a caliper against one of a sibling's part: 0.03 mm less is shown, since it is more than twice the
// uncertainty.
func Example() {
	mine, _ := quantity.Read([]float64{3.41, 3.43, 3.42}, 0.01, "mm")
	other, _ := quantity.Read([]float64{3.39}, 0.01, "mm")
	d, _ := quantity.Compare(mine, other)
	fmt.Printf("%.3f ± %.4f mm, difference %.3f ± %.4f, shown %v\n", mine.Value, mine.U, d.Value, d.U, d.Resolved)
	// Output: 3.420 ± 0.0065 mm, difference -0.030 ± 0.0071, shown true
}

// A pack whose figures imply 4.17 V: the single digits that may have been misread.
func ExampleBattery() {
	d := quantity.Battery(quantity.Pack{MAh: 3561, Wh: 14.84}, []quantity.Pack{{MAh: 3582, Wh: 13.94}})
	fmt.Printf("%.2f V, %d corrections, first %g\n", d.Volts, len(d.Corrections), d.Corrections[0].Value)
	// Output: 4.17 V, 6 corrections, first 13.84
}
