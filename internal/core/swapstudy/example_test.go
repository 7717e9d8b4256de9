package swapstudy_test

import (
	"fmt"

	"waryowl/internal/core/swapstudy"
)

// One display exchanged, one function lost: which of its two parts it is stays open.
func Example() {
	out, _ := swapstudy.Solve(swapstudy.Input{
		Model: swapstudy.Model{Name: "m", Slots: []swapstudy.Slot{{Name: "panel", Kind: "SC", Inside: "display"},
			{Name: "strip", Kind: "SE", Inside: "display"}}},
		Units: []swapstudy.Unit{{Name: "PINE", Build: "1"},
			{Name: "AMBER", Build: "1"}}, Checks: []swapstudy.Check{{Mark: "face", Group: "SE"}},
		Events: []swapstudy.Event{{Move: &swapstudy.Move{Slot: "display", From: "AMBER", To: "PINE"}},
			{Trial: &swapstudy.Trial{ID: "t1", Board: "PINE", Results: map[string]string{"face": "lost"}}}}})
	for _, v := range out.Verdicts {
		fmt.Println(v.Slot, v.State, v.Verdict)
	}
	// Output:
	// panel stranger not settled
	// strip stranger not settled
}
