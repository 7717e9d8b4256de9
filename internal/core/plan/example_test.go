package plan_test

import (
	"fmt"

	"waryowl/internal/core/plan"
)

// A part that is freed twice without having been put back cannot be.
func Example() {
	out, err := plan.Replay([]plan.Entry{{Frees: []string{"lid"}}, {Frees: []string{"battery"}},
		{Frees: []string{"lid"}}})
	fmt.Println(out, err)
	// Output: [lid battery] log[2].frees: found "lid", allowed: a part that is still in this phone (put it back first)
}

// Heat is over with the last thing that was put back.
func ExampleRun() {
	verb := func(id string) string { return map[string]string{"warm": "heat", "screws": "unfasten"}[id] }
	r := plan.Run{}.After("screws", false, verb).After("warm", false, verb)
	fmt.Println(r, r.After("screws", true, verb))
	// Output: [screws warm] []
}
