package interlock_test

import (
	"fmt"

	"waryowl/internal/core/interlock"
)

// Stops go by the kind of part and by what is off.
func Example() {
	s := interlock.State{Charge: 10, Limit: 25}
	fmt.Println(len(interlock.Check(s, interlock.Act{Verb: "disconnect", Kind: "battery"})))
	for _, stop := range interlock.Check(s, interlock.Act{Verb: "disconnect", Kind: "display"}) {
		fmt.Println(stop.Rule)
	}
	s = interlock.After(s, interlock.Act{Verb: "disconnect", Kind: "battery"})
	fmt.Println(len(interlock.Check(s, interlock.Act{Verb: "disconnect", Kind: "display"})))
	// Output:
	// 0
	// power
	// 0
}
