package diagnose

import (
	"fmt"
	"testing"
)

// BenchmarkRun is a study of the demo's size: 16 slots, 17 checks, whole boards, singles and pairs.
func BenchmarkRun(b *testing.B) {
	in := Input{Noise: noise, Prior: Prior{Default: 0.1}}
	for c := range 17 {
		in.Checks = append(in.Checks, fmt.Sprintf("c%d", c))
	}
	slot := func(i int) string { return fmt.Sprintf("p%02d", i%16) }
	for t := range 12 {
		s := Setup{State: map[string]string{}}
		for i := range 16 {
			if t == 0 || i == t || t%3 == 0 && i == t+1 {
				s.State[slot(i)] = "stranger"
			}
		}
		results := map[string]string{}
		for c := range 17 {
			results[fmt.Sprintf("c%d", c)] = "pass"
			if s.State[slot(c)] != "" {
				results[fmt.Sprintf("c%d", c)] = "lost"
			}
		}
		in.Trials = append(in.Trials, Trial{ID: fmt.Sprintf("t%d", t), Setup: s, Results: results})
	}
	for i := range 32 {
		in.Candidates = append(in.Candidates, single(fmt.Sprintf("k%d", i), slot(i), 20))
	}
	for b.Loop() {
		if _, err := Run(in); err != nil {
			b.Fatal(err)
		}
	}
}
