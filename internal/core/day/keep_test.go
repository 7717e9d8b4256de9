package day

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
)

// A plan that is as good keeps the order of the last one: with equal jobs that any order serves, the one that was first stays
// first, whichever it was; a better order is taken all the same.
func TestKeepsItsOrder(t *testing.T) {
	equal := func(due ...int) Input {
		in := Input{Close: 3600, People: []Person{{ID: "ann"}}, Runs: 1}
		for k, d := range due {
			in.Jobs = append(in.Jobs, Job{ID: fmt.Sprint("j", k), Due: &d, Ops: []Op{{ID: "work", P50: 600, Hands: 1}}})
		}
		return in
	}
	order := func(in Input) (list []string) {
		t.Helper()
		out, err := Solve(in)
		if err != nil || !out.Proven {
			t.Fatal(err, out.Proven)
		}
		for _, s := range out.Plan {
			list = append(list, s.Job+"/"+s.Op)
		}
		return list
	}
	for _, keep := range [][]string{{"j2/work", "j0/work", "j1/work"}, {"j1/work", "j2/work", "j0/work"}, {"j0/work",
		"j2/work", "j1/work"}} {
		in := equal(3600, 3600, 3600)
		in.Keep = append([]string{"gone/heat"}, keep...) // what is not there any more is passed over
		if got := order(in); !slices.Equal(got, keep) {
			t.Errorf("kept %v, planned %v", keep, got)
		}
	}
	in := equal(3600, 600, 3600)
	in.Keep = []string{"j0/work", "j1/work", "j2/work"}
	if got := order(in); got[0] != "j1/work" {
		t.Errorf("the urgent one is not first: %v", got)
	}
	// What to keep never makes a plan worse.
	for seed := range uint64(40) {
		r := rand.New(rand.NewPCG(seed, 6))
		in := shift(r, 3, 2)
		in.Runs, in.Effort = 1, 20_000
		free, err := Solve(in)
		if err != nil {
			t.Fatal(err)
		}
		for _, j := range in.Jobs {
			for _, o := range j.Ops {
				in.Keep = append(in.Keep, j.ID+"/"+o.ID)
			}
		}
		r.Shuffle(len(in.Keep), func(a, b int) { in.Keep[a], in.Keep[b] = in.Keep[b], in.Keep[a] })
		kept, err := Solve(in)
		if err != nil {
			t.Fatal(err)
		}
		if free.Proven && free.Value.less(kept.Value) {
			t.Errorf("seed %d: %+v with an order to keep, %+v without", seed, kept.Value, free.Value)
		}
	}
}

// A day that nobody waits for any more is not planned to its end.
func TestIsLeft(t *testing.T) {
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := SolveContext(ctx, shift(rand.New(rand.NewPCG(1, 5)), 29, 2)); err != context.Canceled {
		t.Errorf("planned all the same: %v", err)
	}
}
