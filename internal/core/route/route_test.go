package route

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/core/fault"
)

// price is a second reading of the cost rules, written from the contract and sharing nothing with the engine.
func price(in Input, seq []Step) float64 {
	tool, side, walk := in.ToolInHand, in.SideUp, ""
	total, depth, risk, open := 0.0, 0, 0.0, false
	for _, s := range seq {
		total += s.Seconds
		if in.Minimise == Elapsed {
			total += s.WaitSeconds
		}
		if s.Tool != "" && s.Tool != tool {
			total += in.ToolChangeSeconds
			tool = s.Tool
		}
		if s.Side == "front" || s.Side == "back" {
			if side != "" && side != s.Side {
				total += in.FlipSeconds
			}
			side = s.Side
		}
		if open && walk != "" && s.Tool != "" && s.Tool != walk {
			depth++
		}
		if s.Tool != "" {
			walk = s.Tool
		}
		open = true
		if len(s.Frees) > 0 {
			depth++
			open = false
		}
		for _, r := range s.Risk {
			risk -= math.Log(1 - r)
		}
	}
	if open {
		depth++
	}
	switch in.Minimise {
	case Depth:
		return float64(depth)
	case Risk:
		return risk
	}
	return total
}

func startable(s Step, seq []Step) bool {
	if len(s.After) == 0 {
		return true
	}
	for _, alt := range s.After {
		all := true
		for _, id := range alt {
			all = all && slices.ContainsFunc(seq, func(d Step) bool { return d.ID == id })
		}
		if all {
			return true
		}
	}
	return false
}

func frees(in Input, seq []Step) bool {
	for _, part := range in.Goal {
		if !slices.ContainsFunc(seq, func(s Step) bool { return slices.Contains(s.Frees, part) }) {
			return false
		}
	}
	return true
}

// exhaustive tries every legal sequence.
func exhaustive(in Input) float64 {
	best := math.Inf(1)
	var grow func(seq []Step)
	grow = func(seq []Step) {
		if frees(in, seq) {
			best = min(best, price(in, seq))
			return
		}
		for _, s := range in.Steps {
			if !slices.ContainsFunc(seq, func(d Step) bool { return d.ID == s.ID }) && startable(s, seq) {
				grow(append(slices.Clip(seq), s))
			}
		}
	}
	grow(nil)
	return best
}

func random(r *rand.Rand, n int) Input {
	in := Input{ToolChangeSeconds: float64(r.IntN(4) * 3), FlipSeconds: float64(r.IntN(3) * 4), Goal: []string{"x"}}
	if r.IntN(2) == 0 {
		in.Goal = append(in.Goal, "y")
	}
	in.ToolInHand = []string{"", "", "a"}[r.IntN(3)]
	in.SideUp = []string{"", "front", "back"}[r.IntN(3)]
	for i := range n {
		s := Step{ID: fmt.Sprintf("s%d", i), Tool: []string{"", "a", "b", "c"}[r.IntN(4)],
			Side:    []string{"front", "back", "any"}[r.IntN(3)],
			Seconds: float64(r.IntN(9)), WaitSeconds: float64(r.IntN(2) * 30)}
		for range r.IntN(3) {
			var alt []string
			for range 1 + r.IntN(2) {
				alt = append(alt, fmt.Sprintf("s%d", r.IntN(n)))
			}
			s.After = append(s.After, alt)
		}
		switch r.IntN(4) {
		case 0:
			s.Frees = []string{"x"}
		case 1:
			s.Frees = []string{"y"}
		case 2:
			s.Frees = []string{fmt.Sprintf("z%d", i)}
		}
		if r.IntN(2) == 0 {
			s.Risk = map[string]float64{"x": float64(r.IntN(4)) / 10, "w": 0.05}
		}
		in.Steps = append(in.Steps, s)
	}
	return in
}

func TestSolveEqualsExhaustiveSearch(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 11))
	solved, blocked := 0, 0
	for k := range 2000 {
		in := random(r, 3+k%5)
		in.Minimise = []string{Attended, Depth, Elapsed, Risk}[k/5%4]
		want := exhaustive(in)
		out, err := Solve(in)
		var u *Unreachable
		var f *fault.Fault
		switch {
		case errors.As(err, &f): // nothing frees the goal
			if !math.IsInf(want, 1) {
				t.Fatalf("case %d: refused %v, but %g is possible", k, err, want)
			}
		case errors.As(err, &u):
			blocked++
			if !math.IsInf(want, 1) {
				t.Fatalf("case %d: said unreachable, but %g is possible", k, want)
			}
			for i, id := range u.Cycle { // each step of the cycle waits for the next in one of its alternatives
				s := in.Steps[slices.IndexFunc(in.Steps, func(s Step) bool { return s.ID == id })]
				next := u.Cycle[(i+1)%len(u.Cycle)]
				if !slices.ContainsFunc(s.After, func(alt []string) bool { return slices.Contains(alt, next) }) {
					t.Fatalf("case %d: %s does not wait for %s", k, id, next)
				}
			}
		case err != nil:
			t.Fatal(err)
		default:
			solved++
			var seq []Step
			for _, id := range out.Steps {
				s := in.Steps[slices.IndexFunc(in.Steps, func(s Step) bool { return s.ID == id })]
				if !startable(s, seq) {
					t.Fatalf("case %d: %s cannot start after %v", k, id, out.Steps)
				}
				seq = append(seq, s)
			}
			if !frees(in, seq) || !out.Proven || math.Abs(out.Objective-want) > 1e-9 ||
				math.Abs(price(in, seq)-want) > 1e-9 {
				t.Fatalf("case %d: %s %g (proven %v, priced %g) by %v, exhaustive %g", k, in.Minimise, out.Objective,
					out.Proven, price(in, seq), out.Steps, want)
			}
			for i := range seq {
				rest := slices.Delete(slices.Clone(seq), i, i+1)
				legal := frees(in, rest)
				for j, s := range rest {
					legal = legal && startable(s, rest[:j])
				}
				if legal {
					t.Fatalf("case %d: step %s of %v could be left out", k, seq[i].ID, out.Steps)
				}
			}
		}
	}
	if solved < 500 || blocked < 50 {
		t.Fatalf("the family is too easy: %d solved, %d blocked", solved, blocked)
	}
}

// TestGreedyIsBeaten: taking the nearest change first costs one pick-up more than planning ahead.
func TestGreedyIsBeaten(t *testing.T) {
	in := Input{Goal: []string{"x"}, ToolChangeSeconds: 10, Steps: []Step{
		{ID: "a1", Tool: "a", Seconds: 1}, {ID: "b1", Tool: "b", Seconds: 1},
		{ID: "a2", Tool: "a", Seconds: 1, After: [][]string{{"b1"}}},
		{ID: "x", Seconds: 1, After: [][]string{{"a1", "a2"}}, Frees: []string{"x"}},
	}}
	out, err := Solve(in)
	if err != nil || out.Objective != 24 || !out.Proven || out.Steps[0] != "b1" {
		t.Fatalf("want 24 s beginning with b1, got %+v, %v", out, err)
	}
	in.Effort = 1
	out, err = Solve(in)
	if err != nil || out.Proven != (out.Objective == 24) || out.Bound > 24 {
		t.Fatalf("out of effort: want an honest bound, got %+v, %v", out, err)
	}
}

func TestDoneStepsAreNeitherRepeatedNorCounted(t *testing.T) {
	in := Input{Goal: []string{"lid", "cell"}, Done: []string{"s1"}, Steps: []Step{
		{ID: "s1", Seconds: 100, Frees: []string{"lid"}},
		{ID: "s2", Seconds: 7, After: [][]string{{"s1"}}, Frees: []string{"cell"}},
	}}
	out, err := Solve(in)
	if err != nil || out.Objective != 7 || !slices.Equal(out.Freed, []string{"cell"}) {
		t.Fatalf("want 7 s freeing only the cell, got %+v, %v", out, err)
	}
}

func TestBadInputNamesTheField(t *testing.T) {
	ok := Step{ID: "s1", Frees: []string{"x"}}
	goal := []string{"x"}
	for name, c := range map[string]struct {
		in   Input
		want string
	}{
		"a negative duration": {Input{Goal: goal, Steps: []Step{{ID: "s1", Seconds: -1}}}, "steps[0].seconds"},
		"a duration without number": {Input{Goal: goal, Steps: []Step{{ID: "s1", WaitSeconds: math.NaN()}}},
			"steps[0].wait_seconds"},
		"an endless tool change": {Input{Goal: goal, Steps: []Step{ok}, ToolChangeSeconds: math.Inf(1)},
			"tool_change_seconds"},
		"a bad id":            {Input{Goal: goal, Steps: []Step{{ID: "S 1"}}}, "steps[0].id"},
		"an id used twice":    {Input{Goal: goal, Steps: []Step{ok, ok}}, "steps[1].id"},
		"a side that is none": {Input{Goal: goal, Steps: []Step{{ID: "s1", Side: "left"}}}, "steps[0].side"},
		"certain damage": {Input{Goal: goal, Steps: []Step{{ID: "s1", Risk: map[string]float64{"x": 1}}}},
			"steps[0].risk.x"},
		"an unknown prerequisite": {Input{Goal: goal, Steps: []Step{{ID: "s1", After: [][]string{{"s9"}}}}},
			"steps[0].after[0][0]"},
		"an unknown done step":      {Input{Goal: goal, Steps: []Step{ok}, Done: []string{"s9"}}, "done[0]"},
		"a goal that nothing frees": {Input{Goal: []string{"y"}, Steps: []Step{ok}}, "goal[0]"},
		"no goal":                   {Input{Steps: []Step{ok}}, "goal"},
		"an unknown objective":      {Input{Goal: goal, Steps: []Step{ok}, Minimise: "fun"}, "minimise"},
		"an unknown side up":        {Input{Goal: goal, Steps: []Step{ok}, SideUp: "any"}, "side_up"},
		"a nameless freed part": {Input{Goal: goal, Steps: []Step{{ID: "s1", Frees: []string{""}}}},
			"steps[0].frees[0]"},
		"negative effort": {Input{Goal: goal, Steps: []Step{ok}, Effort: -5}, "effort"},
	} {
		_, err := Solve(c.in)
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != c.want || f.Allowed == "" {
			t.Errorf("%s: want a fault at %s, got %v", name, c.want, err)
		}
	}
}

func TestAllKeepsBlockedPartsApart(t *testing.T) {
	ways, err := All(context.Background(), Input{Steps: []Step{
		{ID: "s1", Frees: []string{"lid"}},
		{ID: "s2", After: [][]string{{"s3"}}, Frees: []string{"cell"}},
		{ID: "s3", After: [][]string{{"s2"}}},
	}})
	if err != nil || len(ways) != 2 || ways[0].Err == nil || ways[1].Err != nil {
		t.Fatalf("want cell blocked and lid free, got %+v, %v", ways, err)
	}
	if s := ways[0].Err.Error(); !strings.Contains(s, "s2") || !strings.Contains(s, "→") {
		t.Errorf("the message does not show the cycle: %s", s)
	}
}

// TestAllKeepsWithinOneEffort: however many parts there are, their ways together take about what one question may; each is
// legal with a true bound, and an answer that nobody waits for is given up.
func TestAllKeepsWithinOneEffort(t *testing.T) {
	var in Input
	in.ToolChangeSeconds, in.FlipSeconds, in.Effort = 6, 4, 20_000
	r := rand.New(rand.NewPCG(3, 1))
	for k := range 200 {
		s := Step{ID: fmt.Sprintf("s%03d", k), Tool: fmt.Sprintf("t%d", r.IntN(6)), Seconds: 5 + 20*r.Float64(),
			Side: []string{"front", "back", "any"}[r.IntN(3)]}
		for range min(k, 2) {
			var alt []string
			for range 1 + r.IntN(3) {
				if id := fmt.Sprintf("s%03d", r.IntN(k)); !slices.Contains(alt, id) {
					alt = append(alt, id)
				}
			}
			s.After = append(s.After, alt)
		}
		if k%2 == 0 {
			s.Frees = []string{fmt.Sprintf("p%03d", k)}
		}
		in.Steps = append(in.Steps, s)
	}
	ways, err := All(context.Background(), in)
	if err != nil {
		t.Fatal(err)
	}
	used, proven := 0, 0
	for _, w := range ways {
		used += w.Used()
		if w.Proven {
			proven++
		}
		if w.Err == nil && w.Bound > w.Objective+1e-9 {
			t.Errorf("%s: bound %g above %g", w.Part, w.Bound, w.Objective)
		}
	}
	// A selection is finished once it is begun, which may take a little more than the share.
	if len(ways) != 100 || proven == 0 || used > 3*in.Effort {
		t.Errorf("%d ways, %d proven, %d expansions of %d", len(ways), proven, used, in.Effort)
	}
	gone, stop := context.WithCancel(context.Background())
	stop()
	if _, err := All(gone, in); !errors.Is(err, context.Canceled) {
		t.Errorf("nobody wants it any more: %v", err)
	}
}

func TestStartable(t *testing.T) {
	steps := []Step{{ID: "s1"}, {ID: "s2", After: [][]string{{"s1"}, {"s3"}}}, {ID: "s3", After: [][]string{{"s2"}}}}
	if err := Startable(steps); err != nil { // a cycle that one alternative breaks
		t.Error(err)
	}
	steps[1].After = [][]string{{"s1", "s3"}}
	var u *Unreachable
	if err := Startable(steps); !errors.As(err, &u) || !slices.Equal(u.Blocked, []string{"s2", "s3"}) ||
		len(u.Cycle) != 2 {
		t.Errorf("want s2 and s3 blocked, got %v", err)
	}
}

func ExampleSolve() {
	out, _ := Solve(Input{
		Goal: []string{"battery"}, ToolChangeSeconds: 6,
		Steps: []Step{
			{ID: "screws", Tool: "five-lobe 0.8", Side: "front", Seconds: 14},
			{ID: "display", Tool: "pick", Side: "front", Seconds: 60, After: [][]string{{"screws"}},
				Frees: []string{"display"}},
			{ID: "back", Tool: "pick", Side: "back", Seconds: 45, Frees: []string{"rear glass"}},
			{ID: "cell", Seconds: 40, After: [][]string{{"display"}, {"back"}}, Frees: []string{"battery"}},
		},
	})
	fmt.Println(out.Steps, out.Objective, out.Proven)
	// Output: [back cell] 91 true
}
