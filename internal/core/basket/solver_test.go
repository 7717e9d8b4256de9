package basket

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"waryowl/internal/solvertest"
)

// programme writes a problem out as an integer programme in LP format: packs by mode of their seller, at most one
// mode a seller.
func (p *problem) programme() string {
	var goal, rows, bounds, whole, binary strings.Builder
	fill := make([]strings.Builder, len(p.need))
	for j, s := range p.sellers {
		one := ""
		for k, m := range s.modes {
			y := fmt.Sprintf("y_%d_%d", j, k)
			fmt.Fprintf(&goal, " %+.9g %s\n", m.ship-m.fixed, y)
			fmt.Fprintf(&binary, " %s\n", y)
			one += " + " + y
			from := ""
			for _, i := range s.offers {
				o := &p.offers[i]
				x := fmt.Sprintf("x_%d_%d", i, k)
				fmt.Fprintf(&goal, " %+.12g %s\n", o.price*(1-m.percent)+o.extra, x)
				fmt.Fprintf(&rows, " %s - %d %s <= 0\n", x, o.most, y)
				fmt.Fprintf(&bounds, " 0 <= %s <= %d\n", x, o.most)
				fmt.Fprintf(&whole, " %s\n", x)
				for _, c := range o.covers {
					fmt.Fprintf(&fill[c.slot], " + %d %s", c.n, x)
				}
				if m.from > 0 {
					from += fmt.Sprintf(" %+.9g %s\n", min(o.price, m.from), x)
				}
			}
			if m.from > 0 {
				fmt.Fprintf(&rows, "%s %+.9g %s >= 0\n", from, -m.from, y)
			}
		}
		if one != "" {
			fmt.Fprintf(&rows, "%s <= 1\n", one)
		}
	}
	for k, q := range p.need {
		fmt.Fprintf(&rows, "%s >= %d\n", fill[k].String(), q)
	}
	return "Minimize\n obj:" + goal.String() + "Subject To\n" + rows.String() + "Bounds\n" + bounds.String() +
		"Generals\n" + whole.String() + "Binaries\n" + binary.String() + "End\n"
}

// BenchmarkAgainstSolver solves the same baskets with both, in one run: the same optimum, and how long each took. What
// ours does not prove in its effort is compared with what CBC found in a minute.
func BenchmarkAgainstSolver(b *testing.B) {
	for _, size := range [][3]int{{10, 60, 6}, {20, 120, 10}, {30, 200, 14}, {60, 400, 25}} {
		b.Run(fmt.Sprint(size), func(b *testing.B) {
			ours, theirs, proven, gap := []float64{}, []float64{}, 0, 0.0
			const pairs = 5
			for seed := range uint64(pairs) {
				in := random(rand.New(rand.NewPCG(seed, 9)), size[0], size[1], size[2])
				start := time.Now()
				out, err := Solve(in)
				if err != nil {
					b.Fatal(err)
				}
				ours = append(ours, time.Since(start).Seconds())
				p, _ := in.problem(&Output{})
				want, took := solvertest.CBC(b, p.programme())
				theirs = append(theirs, took.Seconds())
				if out.Proven {
					proven++
					if out.Expected > want+0.01 {
						b.Errorf("seed %d: %v is said to be proven, CBC has %v", seed, out.Expected, want)
					}
				}
				gap = max(gap, out.Expected/want-1)
			}
			slices.Sort(ours)
			slices.Sort(theirs)
			b.ReportMetric(0, "ns/op")
			b.ReportMetric(1000*ours[pairs/2], "ms-ours")
			b.ReportMetric(1000*theirs[pairs/2], "ms-cbc")
			b.ReportMetric(float64(proven)/pairs, "proven")
			b.ReportMetric(100*gap, "%above-cbc")
		})
	}
}

// BenchmarkLargest is a question at the limits of the contract.
func BenchmarkLargest(b *testing.B) {
	in := random(rand.New(rand.NewPCG(1, 9)), 200, 2000, 100)
	for b.Loop() {
		out, err := Solve(in)
		if err != nil {
			b.Fatal(err)
		}
		b.ReportMetric(100*(out.Expected/out.Bound-1), "%above-bound")
	}
}
