package diagnose

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"testing"
)

// TestMemoryChangesNoAnswer: a question after the other, each with something more, less or else than the one before, is
// answered figure by figure as if nothing had been asked before: exact, by cases of weak atoms, and with dropped states.
func TestMemoryChangesNoAnswer(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 41))
	var m Memory
	reused := 0
	for round := range 7 {
		in := scattered(r, []int{16, 26, 16, 26, 48, 16, 26}[round], []int{9, 14, 30, 12, 40, 9, 14}[round], noise)
		in.Checks = []string{"c", "d"} // d is read like c, with which it shares its table
		for i := range in.Trials {
			in.Trials[i].Results["d"] = in.Trials[i].Results["c"]
		}
		if round%4 == 1 {
			in.Strength = Strength{"p01:stranger": 0.5, "p03:stranger": 0.3}
		}
		all := in.Trials
		for step := range 4 {
			switch step {
			case 0:
				in.Trials = all[:len(all)-1]
			case 1:
				in.Candidates = append(in.Candidates, Candidate{ID: fmt.Sprintf("new%d", round), Minutes: 3,
					Setup: Setup{State: map[string]string{"a new one": "stranger", "p02": "stranger"}}})
			case 2:
				in.Trials = all
			case 3:
				in.Prior.Default = 0.12
			}
			before := len(m.solved)
			got, err := m.RunContext(context.Background(), in)
			want, err2 := Run(in)
			if err != nil || err2 != nil {
				t.Fatal(err, err2)
			}
			if a, b := mustJSON(t, got), mustJSON(t, want); a != b {
				t.Fatalf("round %d, step %d: with memory %s\nwithout %s", round, step, a, b)
			}
			if step == 1 && len(m.solved) <= before && before > 0 {
				reused++
			}
		}
	}
	if reused == 0 {
		t.Error("nothing was ever found again")
	}
	if n := len(m.solved); n > 8 {
		t.Errorf("%d solved tables of earlier questions are kept", n)
	}
}

func mustJSON(t *testing.T, out Output) string {
	t.Helper()
	b, err := json.Marshal(out)
	if err != nil {
		t.Fatal(err)
	}
	return string(b)
}
