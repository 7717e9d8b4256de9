package fit

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"waryowl/internal/core/fault"
	"waryowl/internal/solvertest"
)

func near(a, b float64) bool { return math.Abs(a-b) <= 1e-6*max(1, math.Abs(b)) }

// blank is n models of which nothing is known.
func blank(n int) Input {
	in := Input{Slot: "battery", Level: "notice", Confidence: 0.9, Tests: []Test{}}
	for i := range n {
		in.Models = append(in.Models, Model{ID: fmt.Sprintf("m%02d", i)})
	}
	return in
}

// TestPartitions: with every G = 1 the recursion counts partitions (Bell numbers, OEIS A000110, from memory and
// recomputed); with G = θ·(k−1)! it gives θ(θ+1)…(θ+n−1), and two models share a class with 1/(1+θ) however many others
// there are (W. J. Ewens 1972, from memory and recomputed).
func TestPartitions(t *testing.T) {
	for n, bell := range []float64{1: 1, 2: 2, 3: 5, 4: 15, 5: 52, 6: 203, 7: 877, 8: 4140, 9: 21147, 10: 115975} {
		if n == 0 {
			continue
		}
		if z := math.Exp(partitions(make([]float64, 1<<n))[1<<n-1]); !near(z, bell) {
			t.Errorf("%d things: %v partitions, want %v", n, z, bell)
		}
		w, err := newWorld(blank(n), nil)
		if err != nil {
			t.Fatal(err)
		}
		rising := 1.0
		for k := range n {
			rising *= 9 + float64(k)
		}
		if z := math.Exp(w.logZ[1<<n-1]); !near(z, rising) {
			t.Errorf("%d models: Z %v, want %v", n, z, rising)
		}
		if n > 1 {
			if _, same, _ := w.levels(0, n-1); !near(same, 0.1) {
				t.Errorf("%d models: two share a piece with %v", n, same)
			}
		}
	}
	// two models, nothing known: H(0.1) bits
	if out, err := Solve(blank(2)); err != nil || !near(out.Bits, 0.468996) {
		t.Errorf("%v bits, %v", out.Bits, err)
	}
}

// TestChances: the outcomes of one fitting are a distribution, whatever the level and the ticks.
func TestChances(t *testing.T) {
	for _, ticks := range [][]string{nil, {"waited"}, {"charger", "reseated", "deep"}, Conditions} {
		for _, g := range []float64{0, 0.05, 0.1} {
			for level := range rungs {
				sum := 0.0
				for o := range rungs {
					sum += chance(o, level, 1, g, ticks)
				}
				if !near(sum, 1) {
					t.Errorf("level %s, %v: the outcomes sum to %v", Ladder[level], ticks, sum)
				}
			}
		}
	}
}

func read[T any](t *testing.T, path string) (v T) {
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

// TestWorkedExample is the example of the contract, whose answer came from another program.
func TestWorkedExample(t *testing.T) {
	in, want := read[Input](t, "testdata/example.json"), read[Output](t, "testdata/example.out.json")
	got, err := Solve(in)
	if err != nil {
		t.Fatal(err)
	}
	for i, w := range want.Pairs {
		g := got.Pairs[i]
		same := g.Donor == w.Donor && g.Host == w.Host && near(g.Same, w.Same) && near(g.Serves, w.Serves) &&
			g.Level == w.Level && g.Range == w.Range && g.Grade == w.Grade && slices.Equal(g.Missing, w.Missing) &&
			g.Reached.K == w.Reached.K && g.Reached.N == w.Reached.N && near(g.Reached.Low, w.Reached.Low)
		if !same || !slices.EqualFunc(g.Levels, w.Levels, near) {
			t.Errorf("%s in %s: %+v, want %+v", w.Donor, w.Host, g, w)
		}
	}
	text := func(v any) string { s, _ := json.Marshal(v); return string(s) }
	for name, c := range map[string][2]any{"unneeded": {len(got.Unneeded), 4},
		"lines":    {got.Fewest.Lines, want.Fewest.Lines},
		"serves":   {got.Fewest.Serves, want.Fewest.Serves},
		"costs":    {[]float64{got.Fewest.Cost, got.Naive.Cost}, []float64{40000, 43600}},
		"suspects": {got.Suspects[0].Test, "t2"}, "next": {[]string{got.Next[0].ID, got.Next[1].ID, got.Next[2].ID},
			[]string{"c1", "c3", "c2"}}} {
		if text(c[0]) != text(c[1]) {
			t.Errorf("%s: %s, want %s", name, text(c[0]), text(c[1]))
		}
	}
	for name, c := range map[string][2]float64{"bits": {got.Bits, 0.976830}, "all": {got.Fewest.All, want.Fewest.All},
		"interchange": {got.Groups[0].Interchange, 0.686835}, "c1": {got.Next[0].Bits, 0.554991},
		"c3": {got.Next[1].Bits, 0.009948}, "c2": {got.Next[2].Bits, 0.000158}} {
		if math.Abs(c[0]-c[1]) > 1e-6 {
			t.Errorf("%s: %v, want %v", name, c[0], c[1])
		}
	}
}

// random is a case with everything in it, small enough to enumerate.
func random(r *rand.Rand) Input {
	in := blank(2 + r.IntN(3))
	in.Level = Ladder[2+r.IntN(5)]
	in.Features = map[string]Feature{"thickness": {"seat", 0.1, 0.05}, "pitch": {"mate", 0.1, 0.03}, "mass": {"none", 0, 0.2}}
	measure := func(at float64) Measure { return Measure{at + 0.15*r.NormFloat64(), 0.02 * r.Float64()} }
	for i := range in.Models {
		m := &in.Models[i]
		m.Generation, m.Features = float64(r.IntN(3)), map[string]Measure{}
		for name, at := range map[string]float64{"thickness": 3.4, "pitch": 0.5, "mass": 40} {
			if r.IntN(3) > 0 {
				m.Features[name] = measure(at)
			}
		}
		if r.IntN(2) == 0 {
			m.Code = []string{"k7", "k9"}[r.IntN(2)]
		}
		if r.IntN(4) > 0 {
			p := float64(500 + 100*r.IntN(9))
			m.Price = &p
		}
		if r.IntN(4) == 0 {
			d := float64(r.IntN(5))
			m.Demand = &d
		}
	}
	lines := []string{}
	for _, m := range in.Models {
		lines = append(lines, m.ID)
	}
	hosts := slices.Clone(lines)
	for k := range r.IntN(3) {
		p := float64(200 + 50*r.IntN(9))
		c := Copy{ID: fmt.Sprintf("lot-%d", k), For: hosts[r.IntN(len(hosts))], Price: &p,
			Features: map[string]Measure{"thickness": measure(3.4)}}
		in.Copies = append(in.Copies, c)
		lines = append(lines, c.ID)
	}
	ticks := func() (list []string) {
		for _, c := range Conditions {
			if r.IntN(2) == 0 {
				list = append(list, c)
			}
		}
		return list
	}
	for k := range r.IntN(7) {
		n := 1 + r.IntN(3)
		in.Tests = append(in.Tests, Test{ID: fmt.Sprintf("t%d", k), Donor: lines[r.IntN(len(lines))],
			Host: hosts[r.IntN(len(hosts))], Outcome: Ladder[r.IntN(rungs)], Conditions: ticks(), Fittings: &n,
			Damaged: r.IntN(8) == 0})
	}
	for k := range 3 {
		conditions := ticks()
		in.Candidates = append(in.Candidates, Candidate{ID: fmt.Sprintf("c%d", k), Donor: lines[r.IntN(len(lines))],
			Host: hosts[r.IntN(len(hosts))], Minutes: 5 + 10*r.Float64(), Conditions: &conditions})
	}
	if r.IntN(2) == 0 {
		in.Hints = []Hint{{Models: hosts[:2], Odds: 0.5 + 3*r.Float64()}}
	}
	return in
}

// split enumerates the partitions of 0…n−1, each as the number of the class of every model.
func split(n int) (list [][]int) {
	var grow func(at []int, classes int)
	grow = func(at []int, classes int) {
		if len(at) == n {
			list = append(list, slices.Clone(at))
			return
		}
		for c := 0; c <= classes; c++ {
			grow(append(at, c), max(classes, c+1))
		}
	}
	grow(nil, 0)
	return list
}

// TestAgainstEnumeration: every partition is listed, and for a candidate every pair of levels: what the recursion says of
// pairs, groups, plans and candidates comes out the same.
func TestAgainstEnumeration(t *testing.T) {
	for seed := range uint64(60) {
		in := random(rand.New(rand.NewPCG(seed, 12)))
		out, err := Solve(in)
		if err != nil {
			t.Fatal(err)
		}
		var tests []Test
		for _, x := range in.Tests {
			if !x.Damaged {
				tests = append(tests, x)
			}
		}
		w, _ := newWorld(in, tests)
		n := len(in.Models)
		all := split(n)
		weights, sum := make([]float64, len(all)), 0.0
		blocks := make([][]set, len(all)) // the class of every model
		for k, at := range all {
			byClass := map[int]set{}
			for i, c := range at {
				byClass[c] |= 1 << i
			}
			logs := 0.0
			for _, b := range byClass {
				logs += w.weight(b)
				for h := range n {
					total := 0.0
					for level, p := range w.before(b, h) {
						for _, x := range tests {
							if d := w.number[x.Donor]; d < n && b>>d&1 == 1 && w.number[x.Host] == h {
								p *= chance(rung(x.Outcome), level, x.fittings(), w.defective(d, x.Conditions), x.Conditions)
							}
						}
						total += p
					}
					logs += math.Log(total)
				}
			}
			weights[k] = math.Exp(logs)
			sum += weights[k]
			for i := range n {
				blocks[k] = append(blocks[k], byClass[at[i]])
			}
		}
		entropy := 0.0
		for k := range weights {
			weights[k] /= sum
			entropy -= weights[k] * math.Log2(weights[k])
		}
		if !near(out.Bits, entropy) {
			t.Fatalf("seed %d: %v bits, want %v", seed, out.Bits, entropy)
		}
		serve := func(b set, h int) float64 { // of a class in a host
			if b>>h&1 == 1 {
				return 1
			}
			return w.class[b][h].serve
		}
		for d := range n {
			for h := range n {
				same, serves := 0.0, 0.0
				for k, p := range weights {
					if blocks[k][d] == blocks[k][h] {
						same += p
					}
					serves += p * serve(blocks[k][d], h)
				}
				if p := out.Pairs[d*n+h]; !near(p.Same, same) || !near(p.Serves, serves) {
					t.Fatalf("seed %d: %d in %d: same %v serves %v, want %v %v", seed, d, h, p.Same, p.Serves, same, serves)
				}
			}
		}
		for _, g := range out.Groups {
			want := 0.0
			for k, p := range weights {
				done := map[[2]int]bool{}
				for i, m := range in.Models {
					for h, host := range in.Models {
						key := [2]int{all[k][i], h}
						if !done[key] && slices.Contains(g.Models, m.ID) && slices.Contains(g.Models, host.ID) {
							done[key] = true
							p *= serve(blocks[k][i], h)
						}
					}
				}
				want += p
			}
			if !near(g.Interchange, want) {
				t.Errorf("seed %d: %v interchange with %v, want %v", seed, g.Models, g.Interchange, want)
			}
		}
		checkStock(t, seed, w, out, weights, blocks)
		for _, c := range out.Next {
			k := slices.IndexFunc(in.Candidates, func(x Candidate) bool { return x.ID == c.ID })
			if want := told(w, in.Candidates[k], weights, blocks); math.Abs(c.Bits-want) > 1e-6 {
				t.Errorf("seed %d: %s tells %v bits, want %v", seed, c.ID, c.Bits, want)
			}
		}
	}
}

// told is the information of a candidate, by listing partitions, the level that it shows and the level of the pair asked.
func told(w *world, c Candidate, weights []float64, blocks [][]set) float64 {
	n := len(w.in.Models)
	d, h := w.number[c.Donor], w.number[c.Host]
	level := func(k, x, y int) [rungs]float64 {
		if x >= n {
			return w.copies[x-n][y].at
		}
		return w.class[blocks[k][x]][y].at
	}
	sum := 0.0
	for x := range n + len(w.in.Copies) {
		for y := range n {
			var joint [rungs][2]float64
			for k, p := range weights {
				certain := x == y || x < n && blocks[k][x]>>y&1 == 1
				linked := x == d || x < n && d < n && blocks[k][x] == blocks[k][d]
				for t1, q1 := range level(k, d, h) {
					for t2, q2 := range level(k, x, y) {
						if linked && y == h { // one and the same level
							q2 = 0
							if t1 == t2 {
								q2 = 1
							}
						}
						s := 0
						if certain || t2 >= w.asked {
							s = 1
						}
						for o := range rungs {
							joint[o][s] += p * q1 * q2 * chance(o, t1, 1, w.defective(d, c.ticked()), c.ticked())
						}
					}
				}
			}
			for _, s := range []int{0, 1} {
				total := 0.0
				for o := range rungs {
					total += joint[o][s]
				}
				for o := range rungs {
					if j := joint[o][s]; j > 0 {
						sum += j * math.Log2(j/(total*(joint[o][0]+joint[o][1])))
					}
				}
			}
		}
	}
	return sum
}

// checkStock compares the plan of lines with all choices of lines, and its joint chance with the partitions.
func checkStock(t *testing.T, seed uint64, w *world, out Output, weights []float64, blocks [][]set) {
	t.Helper()
	n := len(w.in.Models)
	s := newStocker(w, func(d, h int) float64 { return out.Pairs[d*n+h].Serves })
	type score struct {
		unserved, lines int
		cost            float64
	}
	best := score{99, 99, 0}
	for choice := range 1 << len(s.order) {
		var chosen []int
		for i := range s.order {
			if choice>>i&1 == 1 {
				chosen = append(chosen, i)
			}
		}
		now := score{lines: len(chosen), cost: s.total(chosen)}
		for _, h := range s.hosts {
			if s.by(chosen, h) < 0 {
				now.unserved++
			}
		}
		if now.unserved < best.unserved || now.unserved == best.unserved && (now.lines < best.lines ||
			now.lines == best.lines && now.cost < best.cost) {
			best = now
		}
	}
	if f := out.Fewest; len(f.Lines) != best.lines || len(f.Unserved) != best.unserved || !near(f.Cost, best.cost) {
		t.Errorf("seed %d: %d lines, %d unserved, %v; want %+v", seed, len(f.Lines), len(f.Unserved), f.Cost, best)
	}
	joint := 0.0
	for k, p := range weights {
		for host, line := range out.Fewest.Serves {
			h, d := w.number[host], w.number[line]
			switch {
			case d >= n:
				p *= w.copies[d-n][h].serve
			case blocks[k][d]>>h&1 == 0:
				p *= w.class[blocks[k][d]][h].serve
			}
		}
		joint += p
	}
	if !near(out.Fewest.All, joint) {
		t.Errorf("seed %d: all served with %v, want %v", seed, out.Fewest.All, joint)
	}
}

// TestFewestSets: domination numbers of the Petersen graph, a cycle of twelve and a cube, and the case on which a greedy
// cover takes one set too many (D. S. Johnson 1974, V. Chvátal 1979); from memory, recomputed.
func TestFewestSets(t *testing.T) {
	around := func(n int, edges [][2]int) []set {
		list := make([]set, n)
		for i := range list {
			list[i] = 1 << i
		}
		for _, e := range edges {
			list[e[0]] |= 1 << e[1]
			list[e[1]] |= 1 << e[0]
		}
		return list
	}
	var petersen, cycle, cube [][2]int
	for i := range 5 {
		petersen = append(petersen, [2]int{i, (i + 1) % 5}, [2]int{i, i + 5}, [2]int{5 + i, 5 + (i+2)%5})
	}
	for i := range 12 {
		cycle = append(cycle, [2]int{i, (i + 1) % 12})
	}
	for i := range 8 {
		for _, bit := range []int{1, 2, 4} {
			cube = append(cube, [2]int{i, i ^ bit})
		}
	}
	of := func(things ...int) (s set) {
		for _, x := range things {
			s |= 1 << (x - 1)
		}
		return s
	}
	for name, c := range map[string]struct {
		covers []set
		want   int
	}{"Petersen": {around(10, petersen), 3}, "cycle of twelve": {around(12, cycle), 4}, "cube": {around(8, cube), 2},
		"greedy's trap": {[]set{of(1, 2, 3, 4, 5, 6, 7), of(8, 9, 10, 11, 12, 13, 14), of(1, 2, 3, 4, 8, 9, 10, 11),
			of(5, 6, 12, 13), of(7, 14)}, 2}} {
		if got, _ := least(c.covers); got != c.want {
			t.Errorf("%s: %d sets, want %d", name, got, c.want)
		}
	}
}

// TestVerdicts: what is missing, what contradicts, what needs no test.
func TestVerdicts(t *testing.T) {
	two := 2
	in := blank(2)
	in.Newest = map[string]string{"m01": "9"}
	in.Tests = []Test{
		{ID: "t1", Donor: "m00", Host: "m01", Outcome: "full", Build: "8", Conditions: []string{"waited"}, Fittings: &two},
		{ID: "t2", Donor: "m00", Host: "m01", Outcome: "dark", Build: "9"},
		{ID: "t3", Donor: "m00", Host: "m01", Outcome: "no-seat", Damaged: true},
	}
	out, err := Solve(in)
	if err != nil {
		t.Fatal(err)
	}
	p := out.Pairs[1]
	if want := []string{"deep", "newest build", "contradiction"}; !slices.Equal(p.Missing, want) || p.Grade != "half" {
		t.Errorf("missing %v, %s; want %v, half", p.Missing, p.Grade, want)
	}
	if len(out.Contradictions) != 1 || out.Contradictions[0].Repeat != "t2" || !slices.Equal(out.Ignored, []string{"t3"}) {
		t.Errorf("contradictions %+v, ignored %v", out.Contradictions, out.Ignored)
	}
	in.Features = map[string]Feature{"pitch": {"mate", 0.1, 0.02}}
	in.Models[0].Features = map[string]Measure{"pitch": {1.4, 0.01}}
	in.Models[1].Features = map[string]Measure{"pitch": {1.0, 0.01}}
	in.Tests = []Test{}
	if out, _ = Solve(in); len(out.Unneeded) != 2 || out.Unneeded[0].Why != "geometry" || len(out.Pairs[1].Missing) > 0 ||
		out.Pairs[1].Grade != "open" {
		t.Errorf("0.4 mm too wide: %+v, %+v", out.Unneeded, out.Pairs[1])
	}
}

func TestBadInput(t *testing.T) {
	bad := -1.0
	none, many := 0, 21
	for field, change := range map[string]func(*Input){
		"slot":                   func(in *Input) { in.Slot = "" },
		"level":                  func(in *Input) { in.Level = "great" },
		"confidence":             func(in *Input) { in.Confidence = 0.5 },
		"models":                 func(in *Input) { in.Models = nil },
		"models[1].id":           func(in *Input) { in.Models[1].ID = "m00" },
		"models[0].features.x":   func(in *Input) { in.Models[0].Features = map[string]Measure{"x": {}} },
		"models[0].price":        func(in *Input) { in.Models[0].Price = &bad },
		"copies[0].id":           func(in *Input) { in.Copies = []Copy{{ID: "m00", For: "m00"}} },
		"copies[0].for":          func(in *Input) { in.Copies = []Copy{{ID: "lot", For: "x"}} },
		"copies":                 func(in *Input) { in.Copies = make([]Copy, 13) },
		"features.f.spread":      func(in *Input) { in.Features = map[string]Feature{"f": {Governs: "seat"}} },
		"features.f.governs":     func(in *Input) { in.Features = map[string]Feature{"f": {Governs: "all", Spread: 1}} },
		"tests[0].outcome":       func(in *Input) { in.Tests[0].Outcome = "" },
		"tests[0].donor":         func(in *Input) { in.Tests[0].Donor = "x" },
		"tests[0].host":          func(in *Input) { in.Tests[0].Host = "x" },
		"tests[0].fittings":      func(in *Input) { in.Tests[0].Fittings = &none },
		"tests[0].fittings ":     func(in *Input) { in.Tests[0].Fittings = &many },
		"tests[0].lost":          func(in *Input) { in.Tests[0].Lost = []string{"touch"} },
		"tests[0].conditions[0]": func(in *Input) { in.Tests[0].Conditions = []string{"hope"} },
		"tests[1].id":            func(in *Input) { in.Tests = append(in.Tests, in.Tests[0]) },
		"hints[0].odds":          func(in *Input) { in.Hints = []Hint{{[]string{"m00", "m01"}, 200}} },
		"hints[0].models[1]":     func(in *Input) { in.Hints = []Hint{{[]string{"m00", "x"}, 2}} },
		"newest":                 func(in *Input) { in.Newest = map[string]string{"x": "1"} },
		"candidates[0].minutes":  func(in *Input) { in.Candidates = []Candidate{{ID: "c", Donor: "m00", Host: "m00"}} },
		"prior.theta":            func(in *Input) { in.Prior = &Prior{Theta: &bad} },
		"prior.levels.own":       func(in *Input) { in.Prior = &Prior{Levels: map[string][]float64{"own": {1}}} },
		"prior.levels":           func(in *Input) { in.Prior = &Prior{Levels: map[string][]float64{"mine": {1}}} },
		"models[0].features.f.u": func(in *Input) {
			in.Features = map[string]Feature{"f": {"none", 0, 1}}
			in.Models[0].Features = map[string]Measure{"f": {1, -1}}
		},
		"candidates[0].conditions[0]": func(in *Input) {
			in.Candidates = []Candidate{{ID: "c", Donor: "m00", Host: "m00", Minutes: 1, Conditions: &[]string{"x"}}}
		},
	} {
		in := blank(2)
		in.Tests = []Test{{ID: "t", Donor: "m00", Host: "m01", Outcome: "full"}}
		change(&in)
		_, err := Solve(in)
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != strings.TrimSpace(field) {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// BenchmarkSolve is ten models with forty tests and ninety candidates.
func BenchmarkSolve(b *testing.B) {
	in := large(10, 40, 90)
	for b.Loop() {
		if _, err := Solve(in); err != nil {
			b.Fatal(err)
		}
	}
}

// large is a case of so many models, tests and candidates.
func large(models, tests, candidates int) Input {
	r := rand.New(rand.NewPCG(1, 2))
	in := blank(models)
	in.Features = map[string]Feature{"thickness": {"seat", 0.1, 0.05}, "pitch": {"mate", 0.1, 0.03}}
	for i := range in.Models {
		p := float64(500 + r.IntN(900))
		in.Models[i].Price = &p
		in.Models[i].Generation = float64(i / 2)
		in.Models[i].Features = map[string]Measure{"thickness": {3.4 + 0.05*r.NormFloat64(), 0.02},
			"pitch": {0.5 + 0.05*r.NormFloat64(), 0.01}}
	}
	id := func() string { return in.Models[r.IntN(models)].ID }
	for k := range tests {
		in.Tests = append(in.Tests, Test{ID: fmt.Sprintf("t%d", k), Donor: id(), Host: id(), Outcome: Ladder[3+r.IntN(5)],
			Conditions: []string{"home", "waited"}})
	}
	for k := range candidates {
		in.Candidates = append(in.Candidates, Candidate{ID: fmt.Sprintf("c%d", k), Donor: id(), Host: id(), Minutes: 10})
	}
	return in
}

// BenchmarkAgainstSolver finds the fewest lines beside CBC on the same covers: as many.
func BenchmarkAgainstSolver(b *testing.B) {
	r := rand.New(rand.NewPCG(6, 6))
	covers := make([]set, 24)
	for i := range covers {
		for range 3 {
			covers[i] |= 1 << r.IntN(12)
		}
	}
	start := time.Now()
	got, union := least(covers)
	ours := time.Since(start)
	programme := "Minimize\n obj:"
	for i := range covers {
		programme += fmt.Sprintf(" + x_%d", i)
	}
	programme += "\nSubject To\n"
	for h := range 12 {
		if union>>h&1 == 0 {
			continue
		}
		for i, c := range covers {
			if c>>h&1 == 1 {
				programme += fmt.Sprintf(" + x_%d", i)
			}
		}
		programme += " >= 1\n"
	}
	programme += "Binary\n"
	for i := range covers {
		programme += fmt.Sprintf(" x_%d\n", i)
	}
	want, theirs := solvertest.CBC(b, programme+"End\n")
	if int(math.Round(want)) != got {
		b.Fatalf("CBC needs %v lines, we %d", want, got)
	}
	b.ReportMetric(0, "ns/op")
	b.ReportMetric(theirs.Seconds()*1000, "ms-cbc")
	b.ReportMetric(ours.Seconds()*1000, "ms-ours")
}
