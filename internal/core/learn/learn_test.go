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
