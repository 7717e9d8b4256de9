package route_test

import (
	"fmt"

	"waryowl/internal/core/route"
)

// The battery can be had from the front or from the back; the back is shorter although it needs a second tool.
func Example() {
	out, _ := route.Solve(route.Input{Minimise: route.Attended, ToolChangeSeconds: 6, Goal: []string{"battery"},
		Steps: []route.Step{
			{ID: "lid", Tool: "suction cup", Side: "front", Seconds: 90, Frees: []string{"display"}},
			{ID: "back", Tool: "plastic pick", Side: "back", Seconds: 40, Frees: []string{"rear glass"}},
			{ID: "lead", Tool: "spudger", Seconds: 5, After: [][]string{{"lid"}, {"back"}}},
			{ID: "cell", Seconds: 30, After: [][]string{{"lead"}}, Frees: []string{"battery"}}}})
	fmt.Println(out.Steps, out.AttendedSeconds, out.Depth, out.Proven)
	// Output: [back lead cell] 87 2 true
}

// From the front alone the way through the back is gone.
func ExampleFromSide() {
	steps := []route.Step{{ID: "back", Do: "cut", Side: "back"}, {ID: "lid", Do: "cut", Side: "front"},
		{ID: "cell", Do: "lift", After: [][]string{{"back"}, {"lid"}}}, {ID: "coil", Do: "lift",
			After: [][]string{{"back"}}}}
	for _, s := range route.FromSide(steps, "front") {
		fmt.Println(s.ID, s.After)
	}
	// Output:
	// lid []
	// cell [[lid]]
}

func ExampleAgainst() {
	d := route.Against([]string{"heat rim", "lift lid", "lift battery"},
		[]string{"lift lid", "peel tape", "lift battery"}, []string{"plate"}, nil)
	fmt.Println(d.Added, d.Gone, d.Tools)
	// Output: [heat rim] [peel tape] [plate]
}
