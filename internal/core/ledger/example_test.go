package ledger_test

import (
	"fmt"

	"waryowl/internal/core/ledger"
)

// States are derived: after a calibration the original is a stranger to its own board.
func Example() {
	board := ledger.Board{Unit: "pine", Model: "drift-4"}
	amber := ledger.Piece{Slot: "display", Unit: "amber", Model: "drift-4"}
	own := ledger.Piece{Slot: "display", Unit: "pine", Model: "drift-4"}
	fmt.Println(ledger.State(board, nil, own), ledger.State(board, nil, amber))
	replaced := ledger.Entries{"display": amber.ID()}
	fmt.Println(ledger.State(board, replaced, own), ledger.State(board, replaced, amber))
	// Output:
	// own stranger
	// stranger adopted
}

// A piece is in one place at a time; what it pushes out lies on the mat.
func ExampleBench() {
	b := ledger.NewBench[string]()
	b.Build("PINE", "battery", "PINE's")
	b.Build("AMBER", "battery", "AMBER's")
	b.Move("battery", "AMBER's", "PINE")
	fmt.Println(b.At["PINE"]["battery"], len(b.At["AMBER"]), b.Mat)
	b.Move("battery", "PINE's", "AMBER")
	fmt.Println(b.At["AMBER"]["battery"], b.Mat)
	// Output:
	// AMBER's 0 [PINE's]
	// PINE's []
}

// Three losses among four settled verdicts pull a house prior of 0.2.
func ExampleLearned() {
	fmt.Printf("%.3f %.3f\n", ledger.Learned(3, 4, 0.2), ledger.Learned(0, 0, 0.2))
	// Output: 0.475 0.200
}
