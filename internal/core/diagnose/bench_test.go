package diagnose

import (
	"fmt"
	"testing"
)

// usual is a study of the usual kinds of trials: whole boards, singles and pairs, with candidates of halves, pairs and
// singles.
func usual(slots, checks, trials, candidates int) Input {
	in := Input{Noise: noise, Prior: Prior{Default: 0.1}}
	slot := func(i int) string { return fmt.Sprintf("p%02d", i%slots) }
	setup := func(from, n int) Setup {
		s := Setup{State: map[string]string{}}
		for i := range n {
			s.State[slot(from+i)] = "stranger"
		}
		return s
	}
	for c := range checks {
		in.Checks = append(in.Checks, fmt.Sprintf("c%02d", c))
	}
	for t := range trials {
		s := setup(t, 1)
		switch {
		case t < 2:
			s = setup(0, slots)
		case t%2 == 0:
			s = setup(t, 2)
		}
		results := map[string]string{}
		for c := range checks {
			results[in.Checks[c]] = "pass"
			if s.State[slot(c)] != "" {
				results[in.Checks[c]] = "lost"
			}
		}
		in.Trials = append(in.Trials, Trial{ID: fmt.Sprintf("t%d", t), Setup: s, Results: results})
	}
	for i := range candidates {
		n := []int{1, 1, 2, slots / 2}[i%4]
		in.Candidates = append(in.Candidates, Candidate{ID: fmt.Sprintf("k%d", i), Setup: setup(i, n), Minutes: 10 +
			float64(n), Unit: "pine"})
	}
	return in
}

// BenchmarkRun is the size of the design: 30 atoms, 40 checks, 24 trials, 100 candidates; and the same with a budget to
// plan.
func BenchmarkRun(b *testing.B) {
	for name, budget := range map[string]float64{"next": 0, "plan": 90} {
		b.Run(name, func(b *testing.B) {
			in := usual(30, 40, 24, 100)
			in.BudgetMinutes = budget
			for b.Loop() {
				if _, err := Run(in); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
