package route

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// TestChainsAreTrueBounds: on random AND graphs the bound of the chains never exceeds the best order, found by trying
// all of them with the second reading of the cost rules; and it is often more than counting tools.
func TestChainsAreTrueBounds(t *testing.T) {
	tight, graphs := 0, 0
	for seed := range uint64(400) {
		r := rand.New(rand.NewPCG(seed, 21))
		in := random(r, 3+r.IntN(4))
		for i := range in.Steps {
			if len(in.Steps[i].After) > 1 {
				in.Steps[i].After = in.Steps[i].After[:1]
			}
			in.Steps[i].Frees = nil
		}
		// One last step frees the part and needs all the others.
		last := Step{ID: "z", Frees: []string{"x"}}
		for _, s := range in.Steps {
			if len(last.After) == 0 {
				last.After = [][]string{nil}
			}
			last.After[0] = append(last.After[0], s.ID)
		}
		in.Steps, in.Goal, in.Minimise, in.Done = append(in.Steps, last), []string{"x"}, Attended, nil
		p, err := newPlan(in)
		if err != nil {
			t.Fatal(err)
		}
		if p.reachable() != nil {
			continue
		}
		s := &selection{in: make([]bool, len(p.steps))}
		if _, complete := p.decide(s); !complete {
			t.Fatalf("seed %d: an AND graph leaves something to decide", seed)
		}
		graphs++
		bound, best := p.forced(s), exhaustive(in)
		if bound > best+1e-9 {
			t.Fatalf("seed %d: the chains say at least %g, an order takes %g", seed, bound, best)
		}
		if bound > p.lower(s.need)+1e-9 {
			tight++
		}
	}
	if graphs < 50 || tight < 10 {
		t.Errorf("%d graphs, the chains were better than counting in %d: the instances are too easy", graphs, tight)
	}
}

// derivations lists the step sets of all minimal ways to carry out a step, by brute force.
func derivations(in Input, id string, depth int) [][]string {
	if depth == 0 {
		return nil
	}
	var s Step
	for _, x := range in.Steps {
		if x.ID == id {
			s = x
		}
	}
	if len(s.After) == 0 {
		return [][]string{{id}}
	}
	var all [][]string
	for _, alt := range s.After {
		sets := [][]string{{id}}
		for _, u := range alt {
			var next [][]string
			for _, d := range derivations(in, u, depth-1) {
				for _, set := range sets {
					next = append(next, append(slices.Clone(set), d...))
				}
			}
			sets = next
		}
		all = append(all, sets...)
	}
	return all
}

// TestMusts: what is said to be needed whatever is chosen lies in every derivation, and nothing that lies in all of
// them is missed.
func TestMusts(t *testing.T) {
	checked := 0
	for seed := range uint64(300) {
		r := rand.New(rand.NewPCG(seed, 23))
		in := random(r, 3+r.IntN(3))
		in.Done = nil
		in.Goal = nil
		for _, s := range in.Steps {
			in.Goal = append(in.Goal, s.Frees...)
		}
		if len(in.Goal) == 0 {
			continue
		}
		p, err := newPlan(in)
		if err != nil {
			t.Fatal(err)
		}
		for i, s := range p.steps {
			ways := derivations(in, s.ID, len(in.Steps)+1)
			if len(ways) == 0 {
				continue // it can never start
			}
			checked++
			for k, o := range p.steps {
				everywhere := !slices.ContainsFunc(ways, func(w []string) bool { return !slices.Contains(w, o.ID) })
				if said := slices.Contains(p.must[i], k); said != everywhere {
					t.Fatalf("seed %d: %s needs %s in every way: said %v, found %v", seed, s.ID, o.ID, said, everywhere)
				}
			}
		}
	}
	if checked < 300 {
		t.Errorf("only %d steps were checked", checked)
	}
}

// TestBeam: its orders are legal and cost what it says; a wide beam is as good as the exhaustive search on small plans.
func TestBeam(t *testing.T) {
	best := 0
	for seed := range uint64(60) {
		in := family(seed, 12, 0, 3)
		p, err := newPlan(in)
		if err != nil {
			t.Fatal(err)
		}
		s := &selection{in: make([]bool, len(p.steps))}
		p.decide(s)
		follow, waiting, topo, ok := link(s.need, s.pre, len(p.steps))
		if !ok {
			t.Fatal("a circle in a layered plan")
		}
		j := job{plan: p, need: s.need}
		for _, i := range s.need {
			j.base += p.cost[i]
		}
		seq, cost := j.beam(follow, waiting, p.newChains(s.need, follow, topo), beamWidth)
		var steps []Step
		for _, i := range seq {
			if !startable(p.steps[i], steps) {
				t.Fatalf("seed %d: %s comes too early", seed, p.steps[i].ID)
			}
			steps = append(steps, p.steps[i])
		}
		in.Minimise = Attended
		if got := price(in, steps); math.Abs(got-cost) > 1e-9 || len(steps) != len(s.need) {
			t.Fatalf("seed %d: the beam says %g s, its order takes %g", seed, cost, got)
		}
		out, err := Solve(in)
		if err != nil || !out.Proven || cost < out.Objective-1e-9 {
			t.Fatalf("seed %d: %g s is below the proven %g: %v", seed, cost, out.Objective, err)
		}
		if cost <= out.Objective+1e-9 {
			best++
		}
	}
	if best < 50 {
		t.Errorf("the beam found the best order in only %d of 60", best)
	}
}
