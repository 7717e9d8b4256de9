package diagnose

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// scattered is an instance whose trials overlap at random, the worst case for a table of open trials.
func scattered(r *rand.Rand, atoms, trials int, n Noise) Input {
	setup := func() Setup {
		s := Setup{State: map[string]string{}}
		for i := range atoms {
			if r.IntN(3) == 0 {
				s.State[fmt.Sprintf("p%02d", i)] = "stranger"
			}
		}
		return s
	}
	in := Input{Checks: []string{"c"}, Noise: n, Prior: Prior{Default: 0.08},
		Candidates: []Candidate{{ID: "c1", Setup: setup(), Minutes: 3}, {ID: "c2", Setup: setup(), Minutes: 4}}}
	for i := range trials {
		in.Trials = append(in.Trials, Trial{ID: fmt.Sprintf("t%d", i), Setup: setup(),
			Results: map[string]string{"c": []string{"lost", "pass", "pass"}[r.IntN(3)]}})
	}
	return in
}

// compare runs an instance and checks it against plain enumeration of all culprit sets, written apart.
func compare(t *testing.T, in Input, eps float64) Output {
	t.Helper()
	held, err := check(in)
	if err != nil {
		t.Fatal(err)
	}
	atoms := held.all
	out, err := Run(in)
	if err != nil {
		t.Fatal(err)
	}
	marginal, best, entropy, info, zero := enumerate(in, "c", atoms, in.Candidates[0].Setup)
	first := in.Candidates[0].ID
	c := out.Checks["c"]
	if zero || !c.Consistent {
		if zero == c.Consistent {
			t.Fatalf("consistent: %v, enumeration says zero: %v", c.Consistent, zero)
		}
		return out
	}
	for i, a := range atoms {
		if !near(c.Marginal[a], marginal[i], eps) {
			t.Fatalf("%s is %.12f, enumeration %.12f", a, c.Marginal[a], marginal[i])
		}
	}
	k := slices.IndexFunc(out.Next, func(n Next) bool { return n.ID == first })
	if !near(*c.Bits, entropy, eps*1e3) || !near(out.Next[k].Bits, max(0, info), eps*1e3) {
		t.Fatalf("bits %.12f, next %.12f; enumeration %.12f, %.12f", *c.Bits, out.Next[k].Bits, entropy, info)
	}
	if best >= 0.0101 && !near(c.Sets[0].P, best, eps) {
		t.Fatalf("best set %.12f, enumeration %.12f", c.Sets[0].P, best)
	}
	return out
}

// TestTwentyAtomsAreExact: up to twenty atoms whatever the trials are, also more trials than a table takes.
func TestTwentyAtomsAreExact(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 7))
	for _, c := range []struct{ atoms, trials int }{{20, 9}, {20, 16}, {19, 40}, {17, 150}} {
		out := compare(t, scattered(r, c.atoms, c.trials, noise), 1e-9)
		if out.Checks["c"].Exact != nil {
			t.Errorf("%d atoms are said not to be exact", c.atoms)
		}
	}
	// A certain culprit: zero noise and a lost trial of its own.
	in := scattered(r, 18, 20, Noise{})
	for i := range in.Trials {
		in.Trials[i].Results["c"] = "pass"
		if in.Trials[i].State["p00"] != "" {
			in.Trials[i].Results["c"] = "lost"
		}
	}
	in.Trials = append(in.Trials, Trial{ID: "own", Setup: Setup{State: map[string]string{"p00": "stranger"}},
		Results: map[string]string{"c": "lost"}})
	if out := compare(t, in, 1e-9); !near(out.Checks["c"].Marginal["p00:stranger"], 1, 1e-12) {
		t.Errorf("not certain: %v", out.Checks["c"].Marginal["p00:stranger"])
	}
}

// TestTheTableIsExact: whole boards, singles and pairs, as they are usual, against the list of all sets.
func TestTheTableIsExact(t *testing.T) {
	in := usual(16, 3, 14, 12)
	for _, c := range in.Checks {
		one := in
		one.Checks, one.Trials = []string{"c"}, nil
		for _, tr := range in.Trials {
			one.Trials = append(one.Trials, Trial{ID: tr.ID, Setup: tr.Setup,
				Results: map[string]string{"c": tr.Results[c]}})
		}
		compare(t, one, 1e-9)
	}
}

func modelOf(t *testing.T, in *Input, held *named) *model {
	t.Helper()
	f, err := frameOf(in, "c", held, map[string]*frame{})
	if err != nil {
		t.Fatal(err)
	}
	return newModel(in, "c", f)
}

// TestPrunedAnswersBoundTheirError: beyond the limit the answer is marked, and the truth lies within the bound. The
// truth comes from a wide table.
func TestPrunedAnswersBoundTheirError(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 9))
	in := scattered(r, 40, 13, noise)
	held, err := check(in)
	if err != nil {
		t.Fatal(err)
	}
	atoms := held.all
	m := modelOf(t, &in, held)
	trials := []set{}
	for _, e := range m.whole {
		trials = append(trials, e.atoms)
	}
	wanted := context.Background()
	full, lost, err := build(effort{wanted, 1 << 20, 1 << 30}, trials, m.spare, nil)
	if full == nil || lost != 0 || err != nil {
		t.Fatal("the truth does not fit")
	}
	truth := make([]float64, len(atoms))
	newTable(m, full, 0).marginals(truth)
	marked := 0
	for _, limit := range []int{1 << 7, 1 << 9, 1 << 12} {
		s, lost, _ := build(effort{wanted, limit, 1 << 30}, trials, m.spare, m)
		p := newTable(m, s, lost)
		got := make([]float64, len(atoms))
		p.marginals(got)
		if p.dropped() > 0 {
			marked++
		}
		worst := 0.0
		for a := range atoms {
			worst = math.Max(worst, math.Abs(got[a]-truth[a]))
		}
		if worst > p.dropped()+1e-12 {
			t.Errorf("%d states: off by %g, bound %g", limit, worst, p.dropped())
		}
		if bound := p.dropped(); !(bound >= 0 && bound < 1) {
			t.Errorf("%d states: bound %g", limit, bound)
		}
	}
	if marked == 0 {
		t.Error("nothing was dropped: the instance is too easy")
	}
	wide := scattered(r, 56, 60, noise)
	out, err := Run(wide)
	if err != nil {
		t.Fatal(err)
	}
	if c := out.Checks["c"]; c.Exact == nil || *c.Exact || c.Error <= 0 || out.Next[0].Error <= 0 {
		t.Errorf("sixty scattered trials: exact %v, error %g, next %+v", c.Exact, c.Error, out.Next[0])
	}
}

// TestAQuestionKeepsWithinItsStates: however many checks are hard, their tables together take what one question may; what
// is dropped is bounded check by check, and easy checks stay exact beside them.
func TestAQuestionKeepsWithinItsStates(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	wide := scattered(r, 56, 60, noise)
	wide.Checks = nil
	for k := range 24 {
		wide.Checks = append(wide.Checks, fmt.Sprintf("c%d", k))
	}
	for i := range wide.Trials {
		wide.Trials[i].Results = map[string]string{"c0": "pass"}
		for _, c := range wide.Checks[2:] {
			wide.Trials[i].Results[c] = []string{"pass", "lost"}[r.IntN(2)]
		}
	}
	held, err := check(wide)
	if err != nil {
		t.Fatal(err)
	}
	var models []*model
	for _, c := range wide.Checks {
		f, err := frameOf(&wide, c, held, map[string]*frame{})
		if err != nil {
			t.Fatal(err)
		}
		models = append(models, newModel(&wide, c, f))
	}
	ways, err := plans(context.Background(), models, 0, nil)
	if err != nil {
		t.Fatal(err)
	}
	sum, seen := 0, map[*shape]bool{}
	for _, w := range ways {
		if w.shape == nil {
			sum += w.steps
		} else if !seen[w.shape] {
			seen[w.shape] = true
			sum += w.shape.steps / 2
		}
	}
	if sum > manyStates {
		t.Errorf("%d states, %d allowed", sum, manyStates)
	}
	wide.Brief = true
	out, err := Run(wide)
	if err != nil {
		t.Fatal(err)
	}
	if c := out.Checks["c1"]; c.Exact != nil {
		t.Errorf("a check that nobody read: %+v", c)
	}
	if c := out.Checks["c7"]; c.Exact == nil || !(c.Error > 0 && c.Error < 1) {
		t.Errorf("a hard check: exact %v, error %g", c.Exact, c.Error)
	}
	gone, stop := context.WithCancel(context.Background())
	stop()
	if _, err := RunContext(gone, wide); !errors.Is(err, context.Canceled) {
		t.Errorf("nobody wants it any more: %v", err)
	}
}

// TestTheLazyPlanIsTheGreedyPlan: figures of an earlier round are only bounds; the plan equals that of working out
// every candidate in every round.
func TestTheLazyPlanIsTheGreedyPlan(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 4))
	for k := range 30 {
		in := scattered(r, 12, 4, noise)
		in.BudgetMinutes = 60
		in.Candidates = nil
		for i := range 8 {
			in.Candidates = append(in.Candidates, Candidate{ID: fmt.Sprintf("c%d", i),
				Setup: scattered(r, 12, 1, noise).Trials[0].Setup, Minutes: 5 + 10*r.Float64()})
		}
		out, err := Run(in)
		if err != nil {
			t.Fatal(err)
		}
		held, _ := check(in)
		m := modelOf(t, &in, held)
		way, err := plans(context.Background(), []*model{m}, 0, nil)
		if err == nil {
			err = m.solve(context.Background(), way[0], nil)
		}
		if err != nil {
			t.Fatal(err)
		}
		var want []string
		var chosen []set
		left, sofar := in.BudgetMinutes, 0.0
		for len(want) < longestPlan {
			best, rate, sum := -1, 0.0, 0.0
			for c, cand := range in.Candidates {
				s := m.information(append(slices.Clip(chosen), m.cands[c]))
				if g := s - sofar; !slices.Contains(want, cand.ID) && cand.Minutes <= left && g >= worthwhile &&
					g/cand.Minutes > rate {
					best, rate, sum = c, g/cand.Minutes, s
				}
			}
			if best < 0 {
				break
			}
			want, chosen = append(want, in.Candidates[best].ID), append(chosen, m.cands[best])
			left, sofar = left-in.Candidates[best].Minutes, sum
		}
		if !slices.Equal(out.Plan, want) {
			t.Fatalf("case %d: %v, want %v", k, out.Plan, want)
		}
	}
}

// TestInformationIsNeverNegative, and no observation tells more than what is unknown.
func TestInformationIsNeverNegative(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 1))
	for range 60 {
		in := scattered(r, 4+r.IntN(26), r.IntN(10), []Noise{noise, {}, {0.2, 0.1}}[r.IntN(3)])
		out, err := Run(in)
		if err != nil {
			t.Fatal(err)
		}
		c := out.Checks["c"]
		sum := 0.0
		for _, s := range c.Sets {
			sum += s.P
		}
		for _, n := range out.Next {
			if c.Consistent && (n.Bits < 0 || n.Bits > *c.Bits+1e-9) || sum > 1+1e-9 {
				t.Fatalf("%g bits of %g, sets sum to %g", n.Bits, *c.Bits, sum)
			}
		}
	}
}

// TestGradesDecideOnceAllIsSettled: a control that opens a verdict comes before one that opens none.
func TestGradesDecideOnceAllIsSettled(t *testing.T) {
	in := Input{Checks: []string{"c"}, Noise: Noise{0.001, 0.001}, Prior: Prior{Default: 0.1}}
	for i := range 4 {
		in.Trials = append(in.Trials, Trial{ID: fmt.Sprintf("t%d", i),
			Setup: Setup{State: map[string]string{"a": "stranger"}}, Results: map[string]string{"c": "lost"}})
	}
	repeat, control := single("repeat", "a", 10), Candidate{ID: "control", Minutes: 8, Grades: 1}
	in.Candidates = []Candidate{repeat, control}
	out, err := Run(in)
	if err != nil || !out.Checks["c"].Settled || out.Next[0].ID != "control" ||
		!near(out.Next[0].GradesPerMinute, 0.125, 1e-12) {
		t.Errorf("%+v, %v", out.Next, err)
	}
}
