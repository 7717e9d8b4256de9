package diagnose_test

import (
	"fmt"

	"waryowl/internal/core/diagnose"
)

// One trial with the whole display and the battery swapped, and a loss: the display is suspected, nothing is settled.
func Example() {
	out, _ := diagnose.Run(diagnose.Input{Checks: []string{"face-unlock"},
		Noise: diagnose.Noise{FalseLoss: 0.03, FalsePass: 0.02},
		Prior: diagnose.Prior{Default: 0.1,
			Atoms: map[string]map[string]float64{"display:stranger": {"face-unlock": 0.4}}},
		Trials: []diagnose.Trial{{ID: "t1", Results: map[string]string{"face-unlock": "lost"}, Setup: diagnose.Setup{
			State: map[string]string{"display": "stranger",
				"battery": "stranger"}, Split: [][]string{{"panel", "sensor-strip"}}}}}})
	c := out.Checks["face-unlock"]
	fmt.Printf("display %.5f, battery %.5f, %.5f bits, settled %v\n", c.Marginal["display:stranger"],
		c.Marginal["battery:stranger"], *c.Bits, c.Settled)
	// Output: display 0.75632, battery 0.18908, 1.90462 bits, settled false
}
