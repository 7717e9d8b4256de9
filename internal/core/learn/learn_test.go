package learn

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"waryowl/internal/core/plan"
)

func TestFrom(t *testing.T) {
	plan := plan.Plan{
		{ID: "screws", Side: "any"},
		{ID: "front", Side: "front", After: [][]string{{"screws"}}},
		{ID: "panel", Side: "front", After: [][]string{{"front"}}, Frees: []string{"panel"}},
		{ID: "back", Side: "back", After: [][]string{{"screws"}}},
		{ID: "tape", Side: "any", After: [][]string{{"panel", "front"}}},
		{ID: "coil", Side: "back", After: [][]string{{"back"}}},
		{ID: "dual", Side: "any", After: [][]string{{"panel"}, {"coil", "back"}}},
		{ID: "battery", Side: "any", After: [][]string{{"panel", "tape"}}, Frees: []string{"battery"}},
	}
	for _, c := range []struct {
		name string
		id   string
		done []string
		kind string
		want [][]string
	}{
		{"as planned", "battery", []string{"screws", "front", "panel", "tape"}, "", nil},
		{"nothing needed", "screws", nil, "", nil},
		{"another order disproves the tape", "battery", []string{"screws", "front", "panel"}, Removed,
			[][]string{{"panel"}}},
		{"what the disproved step rests on takes its place", "panel", []string{"screws"}, Removed,
			[][]string{{"screws"}}},
		{"from the back: another way in", "battery", []string{"screws", "back"}, Alternative,
			[][]string{{"panel", "tape"}, {"back"}}},
		{"the way from the side that was entered is the one that is disproved", "dual", []string{"screws", "back"},
			Removed, [][]string{{"panel"}, {"back"}}},
		{"a first act tells no side", "battery", nil, Removed, nil},
	} {
		l := From(plan, c.id, c.done)
		if l.Kind != c.kind || fmt.Sprint(l.After) != fmt.Sprint(c.want) {
			t.Errorf("%s: %+v, want %s %v", c.name, l, c.kind, c.want)
		}
	}
}

func TestCovers(t *testing.T) {
	parts := []Part{{ID: "bat", Layer: 2, X: 10, Y: 40, W: 40, H: 60},
		{ID: "coil", Layer: 5, X: 15, Y: 50, W: 30, H: 30}, {ID: "cam", Layer: 4, X: 5, Y: 5, W: 20, H: 20},
		{ID: "lid", Pane: "lid", Layer: 9, X: 0, Y: 0, W: 70, H: 150}}
	steps := plan.Plan{{ID: "a", Frees: []string{"bat"}}, {ID: "b", Frees: []string{"coil"}},
		{ID: "c", Frees: []string{"cam"}}, {ID: "d", Frees: []string{"lid"}}}
	got := Covers(parts, steps)
	if len(got) != 1 || got[0].Under != "bat" || got[0].Over != "coil" || got[0].Share != 0.375 {
		t.Errorf("%+v", got)
	}
	steps[0].After = [][]string{{"b"}}
	if got := Covers(parts, steps); len(got) != 0 {
		t.Errorf("the plan knows it, yet %+v", got)
	}
	steps[0].After = [][]string{{"b"}, {"c"}} // one way does without the coil
	if got := Covers(parts, steps); len(got) != 1 {
		t.Errorf("a way without the coil goes unnoticed: %+v", got)
	}
}

func TestDeadEnds(t *testing.T) {
	if got := DeadEnds(plan.Plan{{ID: "a"}, {ID: "b", After: [][]string{{"a"}}},
		{ID: "c", Frees: []string{"x"}}}); !slices.Equal(got, []string{"b"}) {
		t.Errorf("%v", got)
	}
}

// TestLessonsHold: whatever the run did, the plan that has learned from it allows the run.
func TestLessonsHold(t *testing.T) {
	taught := 0
	for seed := range uint64(500) {
		r := rand.New(rand.NewPCG(seed, 31))
		var steps plan.Plan
		for i := range 6 {
			s := plan.Step{ID: fmt.Sprint(i), Side: []string{"front", "back", "any"}[r.IntN(3)]}
			for range r.IntN(3) {
				var alt []string
				for range 1 + r.IntN(2) {
					if k := r.IntN(6); k != i {
						alt = append(alt, fmt.Sprint(k))
					}
				}
				if len(alt) > 0 {
					s.After = append(s.After, alt)
				}
			}
			steps = append(steps, s)
		}
		var done []string
		for _, k := range r.Perm(6)[:4] {
			l := From(steps, fmt.Sprint(k), done)
			if l.Kind != "" {
				taught++
				steps[k].After = l.After
				for id, after := range l.Heirs {
					steps[slices.IndexFunc(steps, func(s plan.Step) bool { return s.ID == id })].After = after
				}
				if len(l.Gone) == 0 {
					t.Fatalf("seed %d: a lesson about nothing", seed)
				}
			}
			if again := From(steps, fmt.Sprint(k), done); again.Kind != "" {
				t.Fatalf("seed %d: the plan still forbids %d after %v: %+v", seed, k, done, again)
			}
			done = append(done, fmt.Sprint(k))
		}
	}
	if taught < 100 {
		t.Errorf("only %d lessons", taught)
	}
}

// TestPlansLearnedFromRuns draws phones with a hidden order of 15 to 40 steps, some with a second way in, and teaches a
// plan from runs on them: whatever a run did the plan allows afterwards, and what it then calls the way to a step must be
// legal on the phone. No outside source: the hidden order is the judge.
func TestPlansLearnedFromRuns(t *testing.T) {
	type tally struct{ ways, legal, shorter, phones int }
	after := map[int]*tally{1: {}, 2: {}, 3: {}, 5: {}}
	for seed := range uint64(1000) {
		r := rand.New(rand.NewPCG(seed, 77))
		truth := hidden(r)
		var learned plan.Plan
		var runs [][]string
		for n := 1; n <= 5; n++ {
			run := perform(r, truth)
			runs = append(runs, run)
			learned = teach(learned, run)
			for _, earlier := range runs {
				for i, id := range earlier {
					s, _ := learned.By(id)
					if len(s.Lacks(earlier[:i])) > 0 {
						t.Fatalf("seed %d: after %d runs the plan forbids %s after %v", seed, n, id, earlier[:i])
					}
				}
			}
			sum := after[n]
			if sum == nil {
				continue
			}
			shorter := false
			for _, s := range truth {
				way := closure(learned, s.ID)
				sum.ways++
				if legal(truth, way) {
					sum.legal++
				}
				best := len(truth)
				for _, run := range runs {
					best = min(best, slices.Index(run, s.ID)+1)
				}
				shorter = shorter || len(way) < best
			}
			sum.phones++
			if shorter {
				sum.shorter++
			}
		}
	}
	for _, n := range []int{1, 2, 3, 5} {
		x := after[n]
		share, short := float64(x.legal)/float64(x.ways), float64(x.shorter)/float64(x.phones)
		t.Logf("after %d runs: %.1f %% of the ways are legal, a shorter way than in any run on %.0f %% of the phones", n,
			100*share, 100*short)
		if n >= 3 && (share < 0.95 || short < 0.5) {
			t.Errorf("after %d runs only %.3f legal, shorter on %.3f", n, share, short)
		}
	}
}

// hidden is a phone: each step rests on up to two earlier ones; one in eight has a second way in.
func hidden(r *rand.Rand) plan.Plan {
	var truth plan.Plan
	for i := range 15 + r.IntN(26) {
		s := plan.Step{ID: fmt.Sprint(i), Side: "front"}
		if i > 0 {
			alt := []string{fmt.Sprint(r.IntN(i))}
			if k := fmt.Sprint(r.IntN(i)); k != alt[0] {
				alt = append(alt, k)
			}
			s.After = [][]string{alt}
			if k := fmt.Sprint(r.IntN(i)); r.IntN(8) == 0 && !slices.Contains(alt, k) {
				s.After = append(s.After, []string{k})
			}
		}
		truth = append(truth, s)
	}
	return truth
}

// perform takes a phone apart in some order that it allows.
func perform(r *rand.Rand, truth plan.Plan) []string {
	var run []string
	for len(run) < len(truth) {
		var ready []string
		for _, s := range truth {
			if !slices.Contains(run, s.ID) && len(s.Lacks(run)) == 0 {
				ready = append(ready, s.ID)
			}
		}
		run = append(run, ready[r.IntN(len(ready))])
	}
	return run
}

// teach does what the log does: a step that nobody knows comes after the act before it, one that was done without its
// prerequisites is learned from.
func teach(p plan.Plan, run []string) plan.Plan {
	for i, id := range run {
		if _, known := p.By(id); !known {
			s := plan.Step{ID: id, Side: "front"}
			if i > 0 {
				s.After = [][]string{{run[i-1]}}
			}
			p = append(p, s)
			continue
		}
		l := From(p, id, run[:i])
		if l.Kind == "" {
			continue
		}
		changed := map[string][][]string{id: l.After}
		for heir, after := range l.Heirs {
			changed[heir] = after
		}
		for k := range p {
			if after, ok := changed[p[k].ID]; ok {
				p[k].After = after
			}
		}
	}
	return p
}

// closure is a way of the plan to a step: all that its first alternatives rest on.
func closure(p plan.Plan, goal string) []string {
	seen := []string{goal}
	for k := 0; k < len(seen); k++ {
		if s, _ := p.By(seen[k]); len(s.After) > 0 {
			for _, u := range s.After[0] {
				if !slices.Contains(seen, u) {
					seen = append(seen, u)
				}
			}
		}
	}
	return seen
}

// legal says whether the steps of a way can be carried out on the phone in some order, to the last.
func legal(truth plan.Plan, way []string) bool {
	var done []string
	for again := true; again; {
		again = false
		for _, id := range way {
			if s, _ := truth.By(id); !slices.Contains(done, id) && len(s.Lacks(done)) == 0 {
				done, again = append(done, id), true
			}
		}
	}
	return len(done) == len(way)
}
