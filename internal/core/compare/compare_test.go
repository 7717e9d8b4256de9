package compare

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"reflect"
	"strings"
	"testing"
	"time"

	"waryowl/internal/core/fault"
	"waryowl/internal/solvertest"
)

func near(a, b float64) bool { return math.Abs(a-b) <= 1e-6*max(1, math.Abs(b)) }

// TestAssignment: a textbook example of three workers and three jobs (least cost 9500), and the mean least cost of
// random assignments with exponential costs, Σ_{k≤n} 1/k² (Parisi's conjecture, proved 2003 by Linusson & Wästlund
// and by Nair, Prabhakar & Sharma); both from memory, the second recomputed by sampling.
func TestAssignment(t *testing.T) {
	least := func(cost [][]float64) float64 {
		sum := 0.0
		for r, c := range assign(cost).of {
			sum += cost[r][c]
		}
		return sum
	}
	if got := least([][]float64{{2500, 4000, 3500}, {4000, 6000, 3500}, {2000, 4000, 2500}}); got != 9500 {
		t.Errorf("least %v, want 9500", got)
	}
	r := rand.New(rand.NewPCG(1, 1))
	sum, squares := 0.0, 0.0
	const rounds = 20_000
	for range rounds {
		cost := make([][]float64, 4)
		for i := range cost {
			for range 4 {
				cost[i] = append(cost[i], r.ExpFloat64())
			}
		}
		x := least(cost)
		sum, squares = sum+x, squares+x*x
	}
	mean := sum / rounds
	if off := math.Abs(mean - (1 + 1/4. + 1/9. + 1/16.)); off > 4*math.Sqrt((squares/rounds-mean*mean)/rounds) {
		t.Errorf("mean least cost %v, want 1.4236", mean)
	}
}

func read2[T any](t *testing.T, path string) (v T) {
	t.Helper()
	text, err := os.ReadFile(path)
	if err == nil {
		err = json.Unmarshal(text, &v)
	}
	if err != nil {
		t.Fatal(err)
	}
	return v
}

// alikeTo says whether a document holds what is wanted, numbers to one part in a million; it may say more.
func alikeTo(a, b any) bool {
	switch x := a.(type) {
	case float64:
		y, number := b.(float64)
		return number && near(x, y)
	case map[string]any:
		y, object := b.(map[string]any)
		if !object {
			return false
		}
		for k := range y {
			if _, said := x[k]; !said || !alikeTo(x[k], y[k]) {
				return false
			}
		}
		return true
	case []any:
		y, list := b.([]any)
		if !list || len(x) != len(y) {
			return false
		}
		for i := range x {
			if !alikeTo(x[i], y[i]) {
				return false
			}
		}
		return true
	}
	return reflect.DeepEqual(a, b)
}

// TestWorkedExamples are the examples of the contract, whose answers came from another program.
func TestWorkedExamples(t *testing.T) {
	for _, name := range []string{"example", "answers"} {
		got, err := Solve(read2[Input](t, "testdata/"+name+".json"))
		if err != nil {
			t.Fatal(err)
		}
		text, _ := json.Marshal(got)
		var mine map[string]any
		json.Unmarshal(text, &mine)
		for field, want := range read2[map[string]any](t, "testdata/"+name+".out.json") {
			if !alikeTo(mine[field], want) {
				t.Errorf("%s, %s: %v, want %v", name, field, mine[field], want)
			}
		}
	}
}

// random is two models of a few parts each.
func random(r *rand.Rand) Input {
	model := func(id string) Model {
		m := Model{ID: id, Width: 70, Height: 140, Face: []string{"front", "back"}[r.IntN(2)],
			Away: []string{"top", "bottom"}[r.IntN(2)]}
		for i := range 1 + r.IntN(5) {
			layer := r.IntN(3)
			p := Part{ID: fmt.Sprintf("%s%d", id, i), Kind: []string{"camera", "Camera", "speaker"}[r.IntN(3)],
				Names: []string{[]string{"wide camera", "camera", "lower speaker", "speaker (low)"}[r.IntN(4)]}, Layer: &layer}
			if r.IntN(3) > 0 {
				p.Rect = &Rect{60 * r.Float64(), 120 * r.Float64(), 5 + 10*r.Float64(), 5 + 10*r.Float64()}
			}
			for _, f := range []string{"photo", "torch", "sound", "buzz"} {
				if r.IntN(3) == 0 {
					p.Carries = append(p.Carries, f)
				}
			}
			if r.IntN(2) == 0 {
				p.Quantities = map[string]Quantity{"mass": {2 + r.Float64(), 0.02, "g"}}
			}
			n := 1 + r.IntN(3)
			p.Joints = []Joint{{Type: "screw", What: "cross-0", Length: 1.6, Count: &n}}
			m.Parts = append(m.Parts, p)
		}
		return m
	}
	in := Input{A: model("a"), B: model("b"), Must: []string{"mass"}}
	pick := func(m Model) string { return m.Parts[r.IntN(len(m.Parts))].ID }
	if r.IntN(3) == 0 {
		in.Confirmed = [][]string{{pick(in.A), pick(in.B)}}
	}
	if r.IntN(2) == 0 {
		if x := []string{pick(in.A), pick(in.B)}; in.Confirmed == nil || x[0] != in.Confirmed[0][0] ||
			x[1] != in.Confirmed[0][1] {
			in.Refused = [][]string{x}
		}
	}
	way := func(m Model) Way {
		w := Way{Steps: []Step{}, Depth: r.IntN(9), Seconds: 100 + 300*r.Float64(), Tools: []string{"spudger",
			"tri-wing"}[r.IntN(2):]}
		for range r.IntN(4) {
			w.Steps = append(w.Steps, Step{pick(m), 60 * r.Float64()})
		}
		return w
	}
	in.Jobs = []Job{{Job: "battery", Weight: 0.6, A: way(in.A), B: way(in.B)}, {Job: "screen", Weight: 0.4, A: way(in.A),
		B: way(in.B)}}
	return in
}

// TestAgainstEnumeration: of all matchings none has a larger sum, the margins are what the sum loses, and the minutes
// of the parts and the rest add up to the difference of the ways.
func TestAgainstEnumeration(t *testing.T) {
	for seed := range uint64(300) {
		in := random(rand.New(rand.NewPCG(seed, 9)))
		out, err := Solve(in)
		if err != nil {
			t.Fatal(err)
		}
		a, b := read(in.A, in.B), read(in.B, in.B)
		is := func(list [][]string, i, j int) bool {
			for _, p := range list {
				if p[0] == a[i].ID && p[1] == b[j].ID {
					return true
				}
			}
			return false
		}
		fixed := func(i, j int) bool { // bound by a confirmed pair to another part
			for _, p := range in.Confirmed {
				if (p[0] == a[i].ID) != (p[1] == b[j].ID) {
					return true
				}
			}
			return false
		}
		var best func(i int, taken uint, not [2]int) float64
		best = func(i int, taken uint, not [2]int) float64 {
			if i == len(a) {
				return 0
			}
			top := best(i+1, taken, not)
			for _, p := range in.Confirmed {
				if p[0] == a[i].ID {
					top = math.Inf(-1)
				}
			}
			for j := range b {
				if taken>>j&1 == 0 && !is(in.Refused, i, j) && !fixed(i, j) && not != [2]int{i, j} {
					top = max(top, score(a[i], b[j])+best(i+1, taken|1<<j, not))
				}
			}
			return top
		}
		whole := best(0, 0, [2]int{-1, -1})
		if !near(out.Total, whole) {
			t.Fatalf("seed %d: total %v, want %v", seed, out.Total, whole)
		}
		for _, m := range out.Matched {
			for i := range a {
				for j := range b {
					if a[i].ID != m.A || b[j].ID != m.B || m.Confirmed {
						continue
					}
					if loss := whole - best(0, 0, [2]int{i, j}); !near(m.Margin, loss) {
						t.Errorf("seed %d: margin of %s, %s is %v, want %v", seed, m.A, m.B, m.Margin, loss)
					}
				}
			}
		}
		for _, j := range out.Jobs {
			sum := j.Rest
			for _, m := range out.Matched {
				sum += m.Minutes[j.Job]
			}
			for _, g := range append(out.Gone, out.Added...) {
				sum += g.Minutes[j.Job]
			}
			if !near(sum, j.Minutes) {
				t.Errorf("seed %d: %s adds up to %v, not %v", seed, j.Job, sum, j.Minutes)
			}
		}
		f := out.Facts
		if len(out.Matched)+len(out.Gone) != f.PartsA || len(out.Matched)+len(out.Added) != f.PartsB {
			t.Errorf("seed %d: parts are missing: %+v", seed, f)
		}
	}
}

// TestPlaces: a place is the same phone turned over or around.
func TestPlaces(t *testing.T) {
	b := Model{Width: 80, Height: 160}
	for name, c := range map[string]struct {
		face, away string
		x, y       float64
	}{"as it lies": {"front", "top", 10, 20}, "turned over": {"back", "top", 60, 20}, "turned around": {"front",
		"bottom", 60,
		120}, "both": {"back", "bottom", 10, 120}} {
		m := Model{Width: 70, Height: 140, Face: c.face, Away: c.away}
		if x, y := Centre(m, b, Rect{c.x - 2, c.y - 2, 4, 4}); !near(x, 10*80/70.) || !near(y, 20*160/140.) {
			t.Errorf("%s: %v %v", name, x, y)
		}
	}
	// with no move at all, 5 % of places seem moved (a length from two axes; Rayleigh)
	r := rand.New(rand.NewPCG(3, 3))
	shown := 0
	for range 40_000 {
		if math.Hypot(r.NormFloat64(), r.NormFloat64()) > shownMove {
			shown++
		}
	}
	if share := float64(shown) / 40_000; math.Abs(share-0.05) > 0.005 {
		t.Errorf("%v of places that did not move are shown as moved", share)
	}
}

func TestBadInput(t *testing.T) {
	good := func() Input { return read2[Input](t, "testdata/example.json") }
	less, none := -1.0, 0
	for field, change := range map[string]func(*Input){
		"a.id":                      func(in *Input) { in.A.ID = "X" },
		"b.width":                   func(in *Input) { in.B.Width = 0 },
		"a.face":                    func(in *Input) { in.A.Face = "up" },
		"a.away":                    func(in *Input) { in.A.Away = "" },
		"a.placed_u":                func(in *Input) { in.A.PlacedU = &less },
		"a.parts":                   func(in *Input) { in.A.Parts = nil },
		"b.parts":                   func(in *Input) { in.B.Parts = make([]Part, 201) },
		"a.parts[1].id":             func(in *Input) { in.A.Parts[1].ID = in.A.Parts[0].ID },
		"a.parts[0].kind":           func(in *Input) { in.A.Parts[0].Kind = "" },
		"a.parts[0].names":          func(in *Input) { in.A.Parts[0].Names = nil },
		"a.parts[0].names[0]":       func(in *Input) { in.A.Parts[0].Names = []string{""} },
		"a.parts[0].rect.h":         func(in *Input) { in.A.Parts[0].Rect.H = 0 },
		"a.parts[0].joints[0].type": func(in *Input) { in.A.Parts[0].Joints = []Joint{{Type: "nail"}} },
		"a.parts[0].joints[0].count": func(in *Input) {
			in.A.Parts[0].Joints = []Joint{{Type: "screw", Count: &none}}
		},
		"a.parts[0].quantities.mass.u": func(in *Input) {
			in.A.Parts[0].Quantities = map[string]Quantity{"mass": {1, -1, "g"}}
		},
		"confirmed[0]":    func(in *Input) { in.Confirmed = [][]string{{"pack"}} },
		"confirmed[0][1]": func(in *Input) { in.Confirmed = [][]string{{"pack", "x"}} },
		"confirmed[1][0]": func(in *Input) { in.Confirmed = [][]string{{"pack", "m3"}, {"pack", "m1"}} },
		"refused[0]": func(in *Input) {
			in.Confirmed, in.Refused = [][]string{{"pack", "m3"}},
				[][]string{{"pack", "m3"}}
		},
		"refused[0][0]":           func(in *Input) { in.Refused = [][]string{{"x", "m3"}} },
		"jobs[0].a.steps[0].part": func(in *Input) { in.Jobs[0].A.Steps[0].Part = "x" },
		"jobs[0].b.seconds":       func(in *Input) { in.Jobs[0].B.Seconds = -1 },
		"jobs[0].a.risk.display":  func(in *Input) { in.Jobs[0].A.Risk["display"] = 1 },
		"jobs[0].weight":          func(in *Input) { in.Jobs[0].Weight = -1 },
		"jobs[1].job":             func(in *Input) { in.Jobs = append(in.Jobs, in.Jobs[0]) },
	} {
		in := good()
		change(&in)
		_, err := Solve(in)
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// BenchmarkSolve is two models of 180 parts each.
func BenchmarkSolve(b *testing.B) {
	r := rand.New(rand.NewPCG(5, 5))
	model := func(id string, off float64) Model {
		m := Model{ID: id, Width: 70, Height: 140, Face: "front", Away: "top"}
		for i := range 180 {
			m.Parts = append(m.Parts, Part{ID: fmt.Sprintf("p%d", i), Kind: []string{"screw plate", "cable", "camera"}[i%3],
				Names: []string{fmt.Sprintf("part %d", i/2)}, Carries: []string{fmt.Sprint("f", i)},
				Rect: &Rect{60*float64(i%13)/13 + off*r.NormFloat64(), 130 * float64(i) / 180, 4, 5}})
		}
		return m
	}
	in := Input{A: model("a", 0), B: model("b", 1)}
	for b.Loop() {
		if _, err := Solve(in); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkAgainstSolver matches the parts of two models beside CBC on the same instance: the same sum.
func BenchmarkAgainstSolver(b *testing.B) {
	for _, n := range []int{15, 60} {
		b.Run(fmt.Sprintf("parts=%d", n), func(b *testing.B) {
			r := rand.New(rand.NewPCG(4, uint64(n)))
			var rows, cols []traits
			for i := range n {
				p := traits{Part: Part{Kind: "a", Rect: &Rect{0, 0, 5, 5}}, x: 70 * r.Float64(), y: 140 * r.Float64()}
				q := p
				q.x, q.y = p.x+3*r.NormFloat64(), p.y+3*r.NormFloat64()
				p.ID, q.ID = fmt.Sprint("a", i), fmt.Sprint("b", i)
				rows, cols = append(rows, p), append(cols, q)
			}
			var objective, take, give strings.Builder
			for i := range n {
				for j := range n {
					fmt.Fprintf(&objective, " %+.9f x_%d_%d", score(rows[i], cols[j]), i, j)
					fmt.Fprintf(&take, " + x_%d_%d", i, j)
					fmt.Fprintf(&give, " + x_%d_%d", j, i)
				}
				take.WriteString(" <= 1\n")
				give.WriteString(" <= 1\n")
			}
			want, theirs := solvertest.CBC(
				b,
				"Maximize\n obj:"+objective.String()+"\nSubject To\n"+take.String()+give.String()+"End\n",
			)
			start := time.Now()
			pairs, _ := match(rows, cols, Input{})
			ours := time.Since(start)
			sum := 0.0
			for _, p := range pairs {
				sum += p.score
			}
			if math.Abs(math.Abs(want)-sum) > 1e-3 {
				b.Fatalf("CBC finds %v, we %v", want, sum)
			}
			b.ReportMetric(0, "ns/op")
			b.ReportMetric(theirs.Seconds()*1000, "ms-cbc")
			b.ReportMetric(ours.Seconds()*1000, "ms-ours-with-margins")
		})
	}
}
