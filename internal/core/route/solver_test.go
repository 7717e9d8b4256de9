package route

import (
	"bufio"
	"context"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"
)

// program writes the question as an integer programme for a general solver: x(i,p) puts step i on place p, h(t,p) is
// the tool in hand after place p, f(s,p) the side up, c and d count the changes. Only attended seconds.
func program(p *plan, w *bufio.Writer) {
	n := len(p.steps)
	fmt.Fprintln(w, "Minimize\n obj:")
	for i := range n {
		for q := range n {
			fmt.Fprintf(w, " + %g x_%d_%d\n", p.cost[i], i, q)
		}
	}
	for q := range n {
		fmt.Fprintf(w, " + %g c_%d + %g d_%d\n", p.in.ToolChangeSeconds, q, p.in.FlipSeconds, q)
	}
	fmt.Fprintln(w, "Subject To")
	row := func(format string, args ...any) { fmt.Fprintf(w, " "+format+"\n", args...) }
	sum := func(term string, each int, keep func(int) bool) string {
		var b strings.Builder
		for k := range each {
			if keep == nil || keep(k) {
				fmt.Fprintf(&b, " + "+term, k)
			}
		}
		return b.String()
	}
	for q := range n { // one step on a place, places filled from the front
		row("%s <= 1", sum(fmt.Sprintf("x_%%d_%d", q), n, nil))
		if q > 0 {
			row("%s %s >= 0", sum(fmt.Sprintf("x_%%d_%d", q-1), n, nil),
				strings.ReplaceAll(sum(fmt.Sprintf("x_%%d_%d", q), n, nil), "+", "-"))
		}
		row("%s = 1", sum(fmt.Sprintf("h_%%d_%d", q), p.tools, nil))
		row("%s = 1", sum(fmt.Sprintf("f_%%d_%d", q), 3, nil))
		for i := range n {
			if t := p.tool[i]; t != 0 {
				row("h_%d_%d - x_%d_%d >= 0", t, q, i, q)
			}
			if s := p.side[i]; s != 0 {
				row("f_%d_%d - x_%d_%d >= 0", s, q, i, q)
			}
		}
		for t := 1; t < p.tools; t++ {
			if q == 0 {
				row("c_0 - h_%d_0 >= 0", t)
			} else {
				row("c_%d - h_%d_%d + h_%d_%d >= 0", q, t, q, t, q-1)
			}
		}
		for s := 1; s < 3 && q > 0; s++ { // the first sided step needs no flip: f_0 is "no side yet"
			row("d_%d - f_%d_%d + f_%d_%d + f_0_%d >= 0", q, s, q, s, q-1, q-1)
		}
		if q > 0 {
			row("f_0_%d - f_0_%d >= 0", q-1, q)
			row("h_0_%d - h_0_%d >= 0", q-1, q)
		}
	}
	for _, part := range p.in.Goal {
		var b strings.Builder
		for _, i := range p.freeby[part] {
			b.WriteString(sum(fmt.Sprintf("x_%d_%%d", i), n, nil))
		}
		row("%s >= 1", b.String())
	}
	for i := range n {
		row("%s <= 1", sum(fmt.Sprintf("x_%d_%%d", i), n, nil))
		if len(p.after[i]) == 0 {
			continue
		}
		row("%s %s >= 0", sum(fmt.Sprintf("z_%d_%%d", i), len(p.after[i]), nil),
			strings.ReplaceAll(sum(fmt.Sprintf("x_%d_%%d", i), n, nil), "+", "-"))
		for a, alt := range p.after[i] {
			for _, u := range alt {
				for q := range n {
					before := sum(fmt.Sprintf("x_%d_%%d", u), n, func(k int) bool { return k < q })
					upto := strings.ReplaceAll(sum(fmt.Sprintf("x_%d_%%d", i), n, func(k int) bool { return k <= q }),
						"+", "-")
					row("%s %s - z_%d_%d >= -1", before, upto, i, a)
				}
			}
		}
	}
	fmt.Fprintln(w, "Binary")
	for i := range n {
		for q := range n {
			fmt.Fprintf(w, " x_%d_%d\n", i, q)
		}
		for a := range p.after[i] {
			fmt.Fprintf(w, " z_%d_%d\n", i, a)
		}
	}
	for q := range n {
		for t := range p.tools {
			fmt.Fprintf(w, " h_%d_%d\n", t, q)
		}
		for s := range 3 {
			fmt.Fprintf(w, " f_%d_%d\n", s, q)
		}
		fmt.Fprintf(w, " c_%d\n d_%d\n", q, q)
	}
	fmt.Fprintln(w, "End")
	w.Flush()
}

// BenchmarkAgainstSolver runs Debian's CBC (a general solver of integer programmes) on the same instances in the same
// run: equal optima where it finishes, else its bound and its limit. `make bench` installs CBC; without it this is
// skipped.
func BenchmarkAgainstSolver(b *testing.B) {
	cbc, err := exec.LookPath("cbc")
	if err != nil {
		b.Skip("cbc is not installed")
	}
	const limit = 40 * time.Second
	for _, n := range []int{10, 15, 20, 30} {
		b.Run(fmt.Sprintf("steps=%d", n), func(b *testing.B) {
			var ours, theirs time.Duration
			same, open, worst := 0, 0, math.Inf(1)
			seeds := 3
			for seed := range uint64(seeds) {
				in := family(seed, n, 2, 3)
				start := time.Now()
				out, err := Solve(in)
				ours += time.Since(start)
				if err != nil || !out.Proven {
					b.Fatal(err, out.Proven)
				}
				p, err := newPlan(in)
				if err != nil {
					b.Fatal(err)
				}
				dir := b.TempDir()
				f, err := os.Create(filepath.Join(dir, "way.lp"))
				if err != nil {
					b.Fatal(err)
				}
				program(p, bufio.NewWriter(f))
				f.Close()
				ctx, stop := context.WithTimeout(context.Background(), limit+20*time.Second)
				start = time.Now()
				text, err := exec.CommandContext(ctx, cbc, f.Name(), "sec", fmt.Sprint(limit.Seconds()), "solve",
					"solution", filepath.Join(dir, "out")).CombinedOutput()
				stop()
				theirs += time.Since(start)
				if err != nil {
					b.Fatalf("%v: %s", err, text)
				}
				var value float64
				lines := strings.Split(string(text), "\n")
				k := slices.IndexFunc(lines, func(l string) bool { return strings.HasPrefix(l, "Objective value:") })
				if k >= 0 {
					fmt.Sscanf(strings.TrimPrefix(lines[k], "Objective value:"), "%g", &value)
				}
				switch {
				case strings.Contains(string(text), "Result - Optimal solution found"):
					if math.Abs(value-out.Objective) > 1e-4 {
						b.Fatalf("seed %d: CBC finds %g, we %g", seed, value, out.Objective)
					}
					same++
				default: // its limit: a solution no better than ours, and the bound it had
					if k >= 0 && value < out.Objective-1e-4 {
						b.Fatalf("seed %d: CBC finds %g below our %g", seed, value, out.Objective)
					}
					open++
					if k := slices.IndexFunc(lines, func(l string) bool {
						return strings.HasPrefix(l,
							"Lower bound:")
					}); k >= 0 {
						var low float64
						fmt.Sscanf(strings.TrimPrefix(lines[k], "Lower bound:"), "%g", &low)
						worst = math.Min(worst, 100*low/out.Objective)
					}
				}
			}
			b.ReportMetric(0, "ns/op")
			b.ReportMetric(float64(same), "equal-optima")
			b.ReportMetric(float64(open), "cbc-at-its-40s-limit")
			if open > 0 && !math.IsInf(worst, 1) {
				b.ReportMetric(worst, "%cbc-bound-of-ours")
			}
			b.ReportMetric(theirs.Seconds()/float64(seeds), "s-cbc")
			b.ReportMetric(ours.Seconds()*1000/float64(seeds), "ms-ours")
			b.ReportMetric(theirs.Seconds()/ours.Seconds(), "times-faster")
		})
	}
}
