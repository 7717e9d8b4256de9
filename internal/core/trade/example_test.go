package trade_test

import (
	"fmt"

	"waryowl/internal/core/trade"
)

// The head of a name says what kind of part it is.
func ExampleKindOf() {
	for _, name := range []string{"Front-facing cameras", "battery cover", "display flex"} {
		kind, ok := trade.KindOf(name)
		fmt.Printf("%s: %q %v\n", name, kind, ok)
	}
	// Output:
	// Front-facing cameras: "front-camera" true
	// battery cover: "bracket" true
	// display flex: "" false
}

// What a step is about, and what it only opens.
func ExampleAbout() {
	fmt.Println(trade.About("battery connector"), trade.About("battery pull tabs"), trade.About("battery cover flex"))
	// Output: battery battery bracket
}
