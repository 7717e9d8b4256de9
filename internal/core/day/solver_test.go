package day

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"waryowl/internal/solvertest"
)

// timeIndexed writes a day of equal hands without breaks, skills or trays as an integer programme over the seconds at which
// each operation may start: precedence with its waits, at most so many at a time on each machine and of all hands.
func timeIndexed(in Input, horizon int) string {
	var goal, rows, binary strings.Builder
	use := map[string][]string{} // what is taken in a second, by resource
	units := map[string]int{"hands": len(in.People)}
	for _, m := range in.Machines {
		units[m.ID] = 1
		if m.Units != nil {
			units[m.ID] = *m.Units
		}
	}
	for j, job := range in.Jobs {
		at := map[string]int{}
		for k, o := range job.Ops {
			at[o.ID] = k
		}
		start := func(k int, sign string) string {
			var b strings.Builder
			for t := 1; t <= horizon-job.Ops[k].P50; t++ {
				fmt.Fprintf(&b, " %s %d x_%d_%d_%d", sign, t, j, k, t)
			}
			return b.String()
		}
		for k, o := range job.Ops {
			for t := 0; t <= horizon-o.P50; t++ {
				x := fmt.Sprintf("x_%d_%d_%d", j, k, t)
				fmt.Fprintf(&binary, " %s\n", x)
				fmt.Fprintf(&rows, " + %s", x)
				for s := t; s < t+o.P50; s++ {
					if o.Machine != "" {
						key := fmt.Sprintf("%s %d", o.Machine, s)
						use[key] = append(use[key], x)
					}
					if o.Hands > 0 {
						key := fmt.Sprintf("hands %d", s)
						use[key] = append(use[key], x)
					}
				}
			}
			fmt.Fprintf(&rows, " = 1\n")
			for _, a := range o.After {
				p := at[a.Op]
				fmt.Fprintf(&rows, "%s%s >= %d\n", start(k, "+"), start(p, "-"), job.Ops[p].P50+a.MinLag)
				if a.MaxLag != nil {
					fmt.Fprintf(&rows, "%s%s <= %d\n", start(k, "+"), start(p, "-"), job.Ops[p].P50+*a.MaxLag)
				}
			}
			fmt.Fprintf(&rows, " late_%d%s >= %d\n", j, start(k, "-"), o.P50-*job.Due)
		}
		fmt.Fprintf(&goal, " + %g late_%d", *job.Weight, j)
	}
	for key, list := range use {
		resource, _, _ := strings.Cut(key, " ")
		fmt.Fprintf(&rows, " + %s <= %d\n", strings.Join(list, " + "), units[resource])
	}
	return "Minimize\n obj:" + goal.String() + "\nSubject To\n" + rows.String() + "Binaries\n" + binary.String() + "End\n"
}

// BenchmarkAgainstSolver plans small days with both, in one run: the same weighted lateness, and how long each took.
func BenchmarkAgainstSolver(b *testing.B) {
	ours, theirs, n, proven := 0.0, 0.0, 0, 0
	for seed := range uint64(12) {
		r := rand.New(rand.NewPCG(seed, 7))
		two, soft := 2, 1
		in := Input{Close: 60, People: []Person{{ID: "a"}, {ID: "b"}}, Machines: []Machine{{ID: "plate"}, {ID: "clamp", Units: &two}}}
		if r.IntN(2) == 0 {
			in.People = in.People[:1]
		}
		for k := range 3 + r.IntN(2) {
			due, w := 8+r.IntN(14), float64(1+r.IntN(3))
			in.Jobs = append(in.Jobs, Job{ID: fmt.Sprint("j", k), Due: &due, Weight: &w, Ops: []Op{
				{ID: "heat", P50: 1 + r.IntN(4), Machine: "plate"},
				{ID: "open", P50: 1 + r.IntN(4), Hands: 1, After: []After{{Op: "heat", MaxLag: &soft}}},
				{ID: "cure", P50: 2 + r.IntN(5), Machine: "clamp", After: []After{{Op: "open", MinLag: r.IntN(2)}}},
				{ID: "check", P50: 1 + r.IntN(3), Hands: 1, After: []After{{Op: "cure"}}}}})
		}
		begun := time.Now()
		out, err := Solve(in)
		if err != nil {
			b.Fatal(err)
		}
		ours += time.Since(begun).Seconds()
		want, took := solvertest.CBC(b, timeIndexed(in, 48))
		theirs += took.Seconds()
		n++
		if out.Proven {
			proven++
		}
		if out.Proven && math.Abs(out.WeightedTardiness-want) > 1e-6 || out.WeightedTardiness < want-1e-6 {
			b.Errorf("seed %d: %v late (proven %v), CBC has %v", seed, out.WeightedTardiness, out.Proven, want)
		}
	}
	b.ReportMetric(0, "ns/op")
	b.ReportMetric(1000*ours/float64(n), "ms-ours")
	b.ReportMetric(1000*theirs/float64(n), "ms-cbc")
	b.ReportMetric(float64(proven)/float64(n), "proven")
}
