package route

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"
)

// layered is an instance of a phone's kind: n steps in layers, tools and sides mixed, every eighth step with a second
// way.
func layered(seed uint64, n int) Input {
	r := rand.New(rand.NewPCG(seed, 9))
	in := Input{Goal: []string{"x"}, ToolChangeSeconds: 6, FlipSeconds: 4}
	for i := range n {
		s := Step{ID: fmt.Sprintf("s%03d", i), Tool: []string{"", "a", "b", "c", "d"}[r.IntN(5)],
			Side: []string{"front", "back", "any", "any"}[r.IntN(4)], Seconds: float64(3 + r.IntN(40))}
		if i > 1 {
			alt := []string{fmt.Sprintf("s%03d", r.IntN(i)), fmt.Sprintf("s%03d", max(0, i-1-r.IntN(4)))}
			s.After = [][]string{alt}
			if i%8 == 0 {
				s.After = append(s.After, []string{fmt.Sprintf("s%03d", r.IntN(i))})
			}
		}
		in.Steps = append(in.Steps, s)
	}
	in.Steps[n-1].Frees = []string{"x"}
	return in
}

// TestPhonesOfFortySteps: at the size of the demo's models the way is proven, and no greedy order beats it.
func TestPhonesOfFortySteps(t *testing.T) {
	beaten := 0
	for seed := range uint64(60) {
		in := layered(seed, 40)
		out, err := Solve(in)
		if err != nil || !out.Proven {
			t.Fatalf("seed %d: proven is %v, %v", seed, out.Proven, err)
		}
		p, _ := newPlan(in)
		s := &selection{in: make([]bool, len(p.steps))}
		children, complete := p.decide(s)
		for !complete { // always the first alternative, then the nearest change
			s = children[0]
			children, complete = p.decide(s)
		}
		j := job{plan: p, need: s.need}
		for _, i := range s.need {
			j.base += p.cost[i]
		}
		follow, waiting, _, _ := link(s.need, s.pre, len(p.steps))
		_, greedy := j.greedy(follow, waiting)
		if out.Objective > greedy+1e-9 {
			t.Fatalf("seed %d: %g s, the greedy order takes %g", seed, out.Objective, greedy)
		}
		if greedy > 1.1*out.Objective {
			beaten++
		}
	}
	if beaten < 5 {
		t.Errorf("greedy is at least 10 %% worse in only %d of 60 instances: the family is too easy", beaten)
	}
}

// family is a checked-in instance by its seed: n relevant steps, choices of them with two or three alternatives.
func family(seed uint64, n, choices, tools int) Input {
	r := rand.New(rand.NewPCG(seed, 77))
	in := Input{Goal: []string{"x"}, ToolChangeSeconds: 6, FlipSeconds: 4}
	id := func(i int) string { return fmt.Sprintf("s%04d", i) }
	for i := range n {
		s := Step{ID: id(i), Seconds: float64(3 + r.IntN(60)),
			Side: []string{"front", "back", "any", "any", "any"}[r.IntN(5)]}
		if k := r.IntN(tools + 2); k < tools {
			s.Tool = fmt.Sprintf("t%d", k)
		}
		in.Steps = append(in.Steps, s)
	}
	used := make([]bool, n)
	for i := n - 1; i > 0; i-- {
		var alt []string
		for range 1 + r.IntN(2) {
			j := max(0, i-1-r.IntN(7))
			if !slices.Contains(alt, id(j)) {
				alt = append(alt, id(j))
				used[j] = true
			}
		}
		in.Steps[i].After = [][]string{alt}
	}
	// Nothing hangs loose: a step that nobody needs is needed by a later one.
	for j := range n - 1 {
		if !used[j] {
			i := min(n-1, j+1+r.IntN(9))
			in.Steps[i].After[0] = append(in.Steps[i].After[0], id(j))
		}
	}
	for k := 0; k < choices; k++ {
		i := 8 + r.IntN(n-8)
		for len(in.Steps[i].After) > 1 {
			i = 8 + r.IntN(n-8)
		}
		for range 1 + r.IntN(2) {
			in.Steps[i].After = append(in.Steps[i].After, []string{id(r.IntN(i)), id(max(0, i-2-r.IntN(6)))})
			a := &in.Steps[i].After[len(in.Steps[i].After)-1]
			slices.Sort(*a)
			*a = slices.Compact(*a)
		}
	}
	in.Steps[n-1].Frees = []string{"x"}
	return in
}

// TestLargePlans: whatever the size, the route is legal and the bound true; it is never proven wrongly.
func TestLargePlans(t *testing.T) {
	for _, n := range []int{60, 200, 1000} {
		in := family(7, n, 8, 6)
		out, err := Solve(in)
		if err != nil {
			t.Fatal(err)
		}
		if out.Bound > out.Objective+1e-6 || out.Bound < out.Objective*0.8 ||
			out.Proven != (out.Objective-out.Bound < 1e-6) {
			t.Errorf("%d steps: %g s, bound %g, proven %v", n, out.Objective, out.Bound, out.Proven)
		}
		done := map[string]bool{}
		steps := map[string]Step{}
		for _, s := range in.Steps {
			steps[s.ID] = s
		}
		for _, id := range out.Steps {
			s := steps[id]
			if len(s.After) > 0 && !slices.ContainsFunc(s.After, func(alt []string) bool {
				return !slices.ContainsFunc(alt, func(u string) bool { return !done[u] })
			}) {
				t.Fatalf("%d steps: %s comes before its prerequisites", n, id)
			}
			done[id] = true
		}
		small := in
		small.Effort = 1
		if quick, err := Solve(small); err != nil || quick.Bound > out.Objective+1e-6 ||
			quick.Objective < out.Bound-1e-6 {
			t.Errorf("%d steps at effort 1: %g, bound %g, against %g: %v", n, quick.Objective, quick.Bound,
				out.Objective, err)
		}
	}
}

func BenchmarkSolve(b *testing.B) {
	for _, c := range []struct{ n, choices, tools int }{{20, 3, 4}, {40, 5, 5}, {60, 8, 6}, {200, 12, 8},
		{1000, 20, 10}} {
		b.Run(fmt.Sprintf("steps=%d", c.n), func(b *testing.B) {
			proven, runs := 0, 0
			var gaps, times []float64
			for i := 0; b.Loop(); i++ {
				start := time.Now()
				out, err := Solve(family(uint64(i%100), c.n, c.choices, c.tools))
				if err != nil {
					b.Fatal(err)
				}
				if out.Proven {
					proven++
				}
				runs++
				gaps = append(gaps, 100*(out.Objective-out.Bound)/out.Objective)
				times = append(times, time.Since(start).Seconds()*1000)
			}
			slices.Sort(gaps)
			slices.Sort(times)
			b.ReportMetric(100*float64(proven)/float64(runs), "%proven")
			b.ReportMetric(gaps[len(gaps)/2], "%gap-median")
			b.ReportMetric(times[len(times)/2], "p50-ms")
			b.ReportMetric(times[len(times)*95/100], "p95-ms")
		})
	}
}

// BenchmarkGrowth finds the ways to all parts of larger and larger plans, every third step freeing one.
func BenchmarkGrowth(b *testing.B) {
	for _, n := range []int{20, 40, 60, 200} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			in := layered(1, n)
			for i := range in.Steps {
				if i%3 == 0 {
					in.Steps[i].Frees = append(in.Steps[i].Frees, fmt.Sprintf("p%d", i))
				}
			}
			for b.Loop() {
				if _, err := All(b.Context(), in); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
