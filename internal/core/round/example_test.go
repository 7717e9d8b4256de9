package round_test

import (
	"fmt"

	"waryowl/internal/core/round"
	"waryowl/internal/core/route"
)

// By hand: 120 s to start, 60 s of checks; in 60 + 30 s, fitted 0.8 × 30, out and in 1.8 × 30, closed 0.8 × 60.
func Example() {
	p := &round.Pricer{Checks: 60, Ask: route.Input{Steps: []route.Step{{ID: "lid", Seconds: 60,
		Frees: []string{"lid"}},
		{ID: "cell", Seconds: 30, After: [][]string{{"lid"}}, Frees: []string{"battery"}}}}}
	minutes, known := p.Minutes([]string{"pine"}, []string{"battery"})
	fmt.Printf("%.2f min, known %v\n", minutes, known)
	p = &round.Pricer{Checks: 60, Ask: p.Ask, Done: map[string][]string{"pine": {"lid"}}}
	minutes, _ = p.Minutes([]string{"pine"}, []string{"battery"})
	_, known = p.Minutes([]string{"pine"}, []string{"antenna"})
	fmt.Printf("%.2f min with the lid off; no way to the antenna: known %v\n", minutes, known)
	// Output:
	// 6.60 min, known true
	// 5.60 min with the lid off; no way to the antenna: known false
}
