package hazard_test

import (
	"fmt"

	"waryowl/internal/core/hazard"
	"waryowl/internal/core/plan"
)

// The cautions of a step go by the kind of its part.
func Example() {
	kind := func(part string) string { return map[string]string{"p7": "battery"}[part] }
	for _, c := range hazard.For(plan.Step{Verb: "pry", What: "it", Part: "p7"}, kind) {
		fmt.Println(c.ID, "–", c.Certainty)
	}
	// Output:
	// cell – common practice, no source
	// shards – common practice, no source
}
