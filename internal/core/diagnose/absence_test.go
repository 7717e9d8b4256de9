package diagnose

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
)

// TestManyAbsencesAreThoseOfEach: sets that are weighed side by side, along the lines of others, have the chances that
// each has alone: in tables that are exact and that dropped states, by cases of weak atoms, and by all sets.
func TestManyAbsencesAreThoseOfEach(t *testing.T) {
	r := rand.New(rand.NewPCG(12, 5))
	kinds := map[string]int{}
	for k := range 40 {
		in := scattered(r, []int{14, 24, 48, 24}[k%4], []int{10, 14, 40, 9}[k%4], noise)
		if k%4 == 3 {
			in.Strength = Strength{"p01:stranger": 0.5, "p03:stranger": 0.3}
		}
		held, err := check(in)
		if err != nil {
			t.Fatal(err)
		}
		m := modelOf(t, &in, held)
		ways, err := plans(context.Background(), []*model{m}, 1<<16, nil)
		if err == nil {
			err = m.solve(context.Background(), ways[0], nil)
		}
		if err != nil {
			t.Fatal(err)
		}
		n := len(m.inner.atoms)
		toggled := func(s set) set {
			for range 1 + r.IntN(3) {
				var one set
				one.add(r.IntN(n))
				s = s.without(one).or(one.without(s))
			}
			return s
		}
		near := []set{m.inner.whole[len(m.inner.whole)-1].atoms, m.inner.whole[0].atoms, {}}
		sets := []set{{}, near[0], near[1], near[0]}
		for range 40 {
			sets = append(sets, toggled(near[r.IntN(3)]))
		}
		got, err := m.exact.absents(context.Background(), sets, near)
		if err != nil {
			t.Fatal(err)
		}
		for i, s := range sets {
			if want := m.exact.absent(s); !near12(got[i], want) {
				t.Fatalf("case %d, set %d: %v, alone %v", k, i, got[i], want)
			}
		}
		switch x := m.exact.(type) {
		case *table:
			kinds["table"]++
			if x.lost > 0 {
				kinds["dropped"]++
			}
		case *mix:
			kinds["cases"]++
		case *list:
			kinds["all sets"]++
		}
		gone, stop := context.WithCancel(context.Background())
		stop()
		_, listed := m.exact.(*list) // whose answers cost nothing
		if _, err := m.exact.absents(gone, sets, near); err == nil && !listed {
			t.Error("nobody waits for it any more, and it goes on")
		}
	}
	for _, kind := range []string{"table", "dropped", "cases"} {
		if kinds[kind] == 0 {
			t.Errorf("no case of %q among %v", kind, kinds)
		}
	}
}

func near12(a, b float64) bool { return near(a, b, 1e-12) }

// TestPartition: things stay together that every set holds both or neither.
func TestPartition(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 44))
	for range 50 {
		values := make([]float64, 30)
		for i := range values {
			values[i] = float64(r.IntN(2))
		}
		p := newPartition(values)
		var sets []set
		for range r.IntN(6) {
			var s set
			for i := range values {
				if r.IntN(2) == 0 {
					s.add(i)
				}
			}
			sets = append(sets, s)
			p.split(s)
		}
		for a := range values {
			size := 0
			for b := range values {
				alike := values[a] == values[b] && !slices.ContainsFunc(sets, func(s set) bool { return s.has(a) != s.has(b) })
				if alike != (p.class[a] == p.class[b]) {
					t.Fatalf("%d and %d: together %v, %v is right", a, b, !alike, alike)
				}
				if alike {
					size++
				}
			}
			if p.size[p.class[a]] != size {
				t.Fatalf("a class of %d is said to hold %d", size, p.size[p.class[a]])
			}
		}
	}
}

// TestWhatTellsAsMuchStandsByName: candidates that nothing tells apart come in the order of their names, whatever the
// arithmetic made of their last digits.
func TestWhatTellsAsMuchStandsByName(t *testing.T) {
	const slots = 9
	all := Setup{State: map[string]string{}}
	in := Input{Checks: []string{"c"}, Noise: noise, Prior: Prior{Default: 0.07}}
	for i := range slots {
		all.State[fmt.Sprintf("p%d", i)] = "stranger"
		next := fmt.Sprintf("p%d", (i*7+1)%slots)
		for k, state := range []map[string]string{{fmt.Sprintf("p%d", i): "stranger"},
			{fmt.Sprintf("p%d", i): "stranger", next: "stranger"}} {
			in.Candidates = append(in.Candidates, Candidate{ID: fmt.Sprintf("k%d.%d", k, (i*5)%slots), Minutes: 7,
				Setup: Setup{State: state}})
		}
	}
	for i := range 3 {
		in.Trials = append(in.Trials, Trial{ID: fmt.Sprint("t", i), Setup: all, Results: map[string]string{"c": "lost"}})
	}
	for i := range slots { // each pair of neighbours once, so that the table has many groups and is the same all around
		in.Trials = append(in.Trials, Trial{ID: fmt.Sprint("u", i), Results: map[string]string{"c": "pass"},
			Setup: Setup{State: map[string]string{fmt.Sprintf("p%d", i): "stranger",
				fmt.Sprintf("p%d", (i+1)%slots): "stranger"}}})
	}
	out, err := Run(in)
	if err != nil {
		t.Fatal(err)
	}
	last := ""
	for _, n := range out.Next {
		if n.ID[1] != '0' { // of two parts: neighbours or not, they tell different things
			continue
		}
		if n.ID < last {
			t.Errorf("%s after %s, which tells as much", n.ID, last)
		}
		last = n.ID
	}
	if last == "" {
		t.Error("no candidate came")
	}
}
