package route

import (
	"fmt"
	"math/rand/v2"
	"testing"
)

// layered is an instance of a phone's kind: n steps in layers, tools and sides mixed, every eighth step with a second way.
func layered(seed uint64, n int) Input {
	r := rand.New(rand.NewPCG(seed, 9))
	in := Input{Goal: []string{"x"}, ToolChangeSeconds: 6, FlipSeconds: 4}
	for i := range n {
		s := Step{ID: fmt.Sprintf("s%03d", i), Tool: []string{"", "a", "b", "c", "d"}[r.IntN(5)], Side: []string{"front", "back", "any", "any"}[r.IntN(4)], Seconds: float64(3 + r.IntN(40))}
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
		local := map[int]int{}
		j := job{plan: p, need: s.need}
		for k, i := range s.need {
			local[i] = k
			j.base += p.cost[i]
		}
		_, greedy := j.greedy(s, local)
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

func BenchmarkSolve(b *testing.B) {
	for _, n := range []int{20, 40, 60} {
		b.Run(fmt.Sprintf("steps=%d", n), func(b *testing.B) {
			proven := 0
			for i := 0; b.Loop(); i++ {
				out, err := Solve(layered(uint64(i%50), n))
				if err != nil {
					b.Fatal(err)
				}
				if out.Proven {
					proven++
				}
			}
			b.ReportMetric(100*float64(proven)/float64(b.N), "%proven")
		})
	}
}
