package swapstudy

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"testing"
)

// grown is a study of so many trials on two phones, with a wrong reading now and then.
func grown(trials, slots, checks int) Input {
	r := rand.New(rand.NewPCG(4, uint64(trials)))
	d := Input{Model: Model{Name: "m"}, Units: []Unit{{Name: "A", Build: "1"}, {Name: "B", Build: "1"}},
		Baselines: map[string]map[string]string{"A": {}, "B": {}}, Ask: Ask{Build: "1"}}
	families := []string{"PW", "OP", "SC", "SO", "RF", "BT", "SE"}
	for k := range slots {
		d.Model.Slots = append(d.Model.Slots, Slot{Name: fmt.Sprintf("s%d", k), Kind: families[k%len(families)]})
	}
	lock := map[string]int{}
	for k := range checks {
		mark := fmt.Sprintf("c%d", k)
		d.Checks = append(d.Checks, Check{Mark: mark, Group: families[k%len(families)]})
		d.Baselines["A"][mark], d.Baselines["B"][mark] = "pass", "pass"
		if r.IntN(3) == 0 {
			lock[mark] = r.IntN(slots)
		}
	}
	crossed := make([]bool, slots)
	for t := range trials {
		want := make([]bool, slots)
		for range []int{1, 1, 2, 3, slots / 2, slots}[r.IntN(6)] {
			want[r.IntN(slots)] = true
		}
		for k := range slots {
			if want[k] != crossed[k] {
				a, b := "A", "B"
				if want[k] {
					a, b = b, a
				}
				name := d.Model.Slots[k].Name
				d.Events = append(d.Events, Event{Move: &Move{Slot: name, From: a, To: "A"}},
					Event{Move: &Move{Slot: name, From: b, To: "B"}})
			}
		}
		crossed = want
		results := map[string]string{}
		for _, c := range d.Checks {
			slot, locked := lock[c.Mark]
			lost := locked && want[slot]
			if r.IntN(50) == 0 {
				lost = !lost
			}
			results[c.Mark] = map[bool]string{true: "lost", false: "pass"}[lost]
		}
		d.Events = append(d.Events, Event{Trial: &Trial{ID: fmt.Sprintf("t%d", t+1), Board: []string{"A", "B"}[t%2],
			Results: results}})
	}
	return d
}

// TestTheSameStudyHasTheSameAnswer: nothing in it rests on the order in which a map hands out its keys.
func TestTheSameStudyHasTheSameAnswer(t *testing.T) {
	first := ""
	for range 12 {
		out, err := Solve(grown(8, 6, 5))
		if err != nil {
			t.Fatal(err)
		}
		text, err := json.Marshal(out)
		if err != nil {
			t.Fatal(err)
		}
		if first == "" {
			first = string(text)
		}
		if string(text) != first {
			t.Fatalf("now %.2000s\nat first %.2000s", text, first)
		}
	}
}

// BenchmarkGrowth reads studies of more and more trials.
func BenchmarkGrowth(b *testing.B) {
	for _, n := range []int{20, 40, 60, 120} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			d := grown(n, 15, 46)
			for b.Loop() {
				if _, err := Solve(d); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
