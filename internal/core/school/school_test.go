package school

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"reflect"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/core/fault"
)

func near(a, b float64) bool { return math.Abs(a-b) <= 1e-6*max(1, math.Abs(b)) }

func load[T any](t *testing.T, path string) (v T) {
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

// same compares two documents, numbers to one part in a million; what is drawn by chance is left to its own check.
func same(a, b any) bool {
	switch x := a.(type) {
	case float64:
		y, number := b.(float64)
		return number && near(x, y)
	case map[string]any:
		y, object := b.(map[string]any)
		for k := range x {
			if k != "share_a" && !same(x[k], y[k]) {
				return false
			}
		}
		return object && len(x) == len(y)
	case []any:
		y, list := b.([]any)
		if !list || len(x) != len(y) {
			return false
		}
		for i := range x {
			if !same(x[i], y[i]) {
				return false
			}
		}
		return true
	}
	return reflect.DeepEqual(a, b)
}

// TestWorkedExample is the example of the contract, whose answer came from another program.
func TestWorkedExample(t *testing.T) {
	got, err := Solve(load[Input](t, "testdata/example.json"))
	if err != nil {
		t.Fatal(err)
	}
	text, _ := json.Marshal(got)
	var mine map[string]any
	json.Unmarshal(text, &mine)
	want := load[map[string]any](t, "testdata/example.out.json")
	for name := range want {
		if !same(mine[name], want[name]) {
			t.Errorf("%s:\n%v, want\n%v", name, mine[name], want[name])
		}
	}
	if s := got.Compare[0].ShareA; math.Abs(s[0]-0.02785) > 0.005 || s[1] != 1 { // 20,000 draws: ± 0.0012
		t.Errorf("shares %v", s)
	}
}

// TestAlpha is Krippendorff's worked example of 12 units and 4 observers: nominal 0.743, ordinal 0.815, interval 0.849
// (K. Krippendorff, Content Analysis; from memory).
func TestAlpha(t *testing.T) {
	observers := []string{
		"1 2 3 3 2 1 4 1 2 . . .",
		"1 2 3 3 2 2 4 1 2 5 . 3",
		". 3 3 3 2 3 4 2 2 5 1 .",
		"1 2 3 3 2 4 4 1 2 5 1 .",
	}
	units := map[string]map[string]float64{}
	for o, row := range observers {
		for u, cell := range strings.Fields(row) {
			if cell == "." {
				continue
			}
			name := fmt.Sprint("u", u)
			if units[name] == nil {
				units[name] = map[string]float64{}
			}
			units[name][fmt.Sprint("o", o)] = float64(cell[0] - '0')
		}
	}
	for metric, want := range map[string]float64{"nominal": 0.743, "ordinal": 0.815, "interval": 0.849} {
		if a, err := alpha("", Rating{"x", metric, units}); err != nil || math.Abs(*a-want) > 0.0005 {
			t.Errorf("%s: %v, %v, want %v", metric, *a, err, want)
		}
	}
	flat := map[string]map[string]float64{"u": {"a": 1, "b": 1}}
	if a, err := alpha("", Rating{"x", "nominal", flat}); a != nil || err != nil {
		t.Errorf("without variation: %v, %v", a, err)
	}
}

// TestSimplex: Varsi's recursion against sampling, and two cases by hand.
func TestSimplex(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for _, c := range []struct {
		d    []float64
		want float64
	}{{[]float64{1, -1}, 0.5}, {[]float64{1, -3}, 0.75}, {[]float64{1, 2}, 1}, {[]float64{-1, 0}, 0}, {[]float64{2, 0,
		-1, 0.5}, -1}} {
		got, n := Simplex(c.d), 0
		if c.want >= 0 && len(c.d) == 2 && c.d[0] == 1 && c.d[1] == -3 {
			c.want = 0.25 // w₁ > 3·w₂: above ¾ of the line
		}
		const draws = 40_000
		for range draws {
			sum := 0.0
			for _, d := range c.d {
				sum += d * r.ExpFloat64()
			}
			if sum > 0 {
				n++
			}
		}
		if math.Abs(got-float64(n)/draws) > 0.01 || c.want >= 0 && !near(got, c.want) {
			t.Errorf("%v: %v, sampled %v, by hand %v", c.d, got, float64(n)/draws, c.want)
		}
	}
}

func note() map[string]any { return map[string]any{"certainty": "house", "source": "test"} }

// random is a small rubric with facts that enter several times, both ways, and gates.
func random(r *rand.Rand) Input {
	two := func(x float64) *float64 { return &x }
	in := Input{Facts: map[string]Fact{}}
	for i := range 3 {
		in.Facts[fmt.Sprint("n", i)] = Fact{Kind: "number", Min: two(1), Max: two(4), Step: two(1), Aim: 1.0}
		in.Facts[fmt.Sprint("c", i)] = Fact{Kind: "choice", Values: []string{"a", "b", "c"}}
	}
	n := func() string { return fmt.Sprint("n", r.IntN(3)) }
	p := func() float64 { return float64(r.IntN(11)) }
	leaf := func() any {
		switch r.IntN(4) {
		case 0:
			return map[string]any{
				"table":  fmt.Sprint("c", r.IntN(3)),
				"points": map[string]any{"a": p(), "b": p(), "c": p()},
				"note":   note(),
			}
		case 1:
			return map[string]any{
				"steps":   n(),
				"at_most": []any{[]any{1.0, p()}, []any{3.0, p()}},
				"above":   p(),
				"note":    note(),
			}
		case 2:
			return map[string]any{
				"linear": map[string]any{
					"ratio": []any{map[string]any{"sum": []any{n(), map[string]any{"map": fmt.Sprint("c", r.IntN(3)),
						"to": map[string]any{
							"a": 0.5,
							"b": 1.0,
							"c": 2.0,
						}}}}, map[string]any{"product": []any{n(), map[string]any{"number": 2.0}}}},
				},
				"through": []any{[]any{0.3, p()}, []any{1.0, p()}, []any{2.0, p()}},
				"note":    note(),
			}
		}
		return map[string]any{"linear": n(), "through": []any{[]any{1.0, p()}, []any{4.0, p()}}, "log": true, "note": note()}
	}
	var nodeOf func(depth int) any
	nodeOf = func(depth int) any {
		if depth == 0 {
			return leaf()
		}
		switch r.IntN(4) {
		case 0:
			return map[string]any{"worst": []any{nodeOf(depth - 1), nodeOf(depth - 1)}}
		case 1:
			return map[string]any{"best": []any{nodeOf(depth - 1), nodeOf(depth - 1)}}
		case 2:
			return map[string]any{
				"mean": []any{
					map[string]any{"weight": 1.0, "of": nodeOf(depth - 1)},
					map[string]any{"weight": 2.0, "of": nodeOf(depth - 1)},
				},
			}
		}
		return leaf()
	}
	b := Rubric{ID: "r", Version: "1", Scale: []float64{0, 10}, Note: &Note{Certainty: "house", Source: "test"},
		Jobs: map[string]float64{"battery": 2, "whole": 1}, Classes: []Class{{"good", 6}, {"fair", 3}, {"poor", 0}}}
	for i := range 3 {
		c := Criterion{ID: fmt.Sprint("k", i), Weight: 1 + r.Float64(), Points: nodeOf(2), Note: b.Note}
		if i == 0 {
			c.Job = "battery"
		}
		b.Criteria = append(b.Criteria, c)
	}
	if r.IntN(2) == 0 {
		b.Gates = []Gate{{ID: "g", Points: nodeOf(1), Note: b.Note}}
	}
	in.Rubrics = []Rubric{b}
	for _, id := range []string{"one", "two"} {
		m := Model{ID: id, Build: "1", Facts: map[string]Value{}}
		for f := range in.Facts {
			switch r.IntN(5) {
			case 0:
				if f[0] == 'n' {
					m.Facts[f] = Value{Value: float64(1 + r.IntN(4))}
				} else {
					m.Facts[f] = Value{Among: []string{"a", "c"}}
				}
			case 1:
				if f[0] == 'n' {
					lo, hi := 2.0, 3.0
					m.Facts[f] = Value{Low: &lo, High: &hi}
				} else {
					m.Facts[f] = Value{Value: "b"}
				}
			}
		}
		in.Models = append(in.Models, m)
	}
	return in
}

// TestAgainstEnumeration: every assignment of every open fact is tried: ranges, jobs, criteria, what is narrowed, gaps.
func TestAgainstEnumeration(t *testing.T) {
	for seed := range uint64(25) {
		in := random(rand.New(rand.NewPCG(seed, 8)))
		in.Diffs = []Diff{{Model: "one", Was: "two", Rubric: "r"}}
		out, err := Solve(in)
		if err != nil {
			t.Fatalf("seed %d: %v", seed, err)
		}
		facts, _ := readFacts(in.Facts)
		rule, _ := readRubric("rubrics[0]", in.Rubrics[0], facts)
		var both [2]state
		for k, m := range in.Models {
			st := state{}
			both[k] = st
			for id, f := range facts {
				st[id] = known{x: f.all, sure: f.all}
				if v, has := m.Facts[id]; has {
					st[id], _ = f.know("", v)
				}
			}
			x, _ := rule.of(st)
			span := func(of func(assignment) float64, keep func(assignment) bool) [2]float64 {
				r := [2]float64{math.Inf(1), math.Inf(-1)}
				each(rule.facts, x, func(a assignment) {
					if keep == nil || keep(a) {
						v := of(a)
						r = [2]float64{math.Min(r[0], v), math.Max(r[1], v)}
					}
				})
				return r
			}
			s := out.Scores[k]
			eq := func(what string, got, want [2]float64) {
				if !near(got[0], want[0]) || !near(got[1], want[1]) {
					t.Fatalf("seed %d, %s, %s: %v, want %v", seed, m.ID, what, got, want)
				}
			}
			eq("whole", s.Range, span(rule.whole, nil))
			if !s.Exact {
				t.Fatalf("seed %d: not exact", seed)
			}
			for i, n := range rule.criteria {
				eq(s.Criteria[i].ID, s.Criteria[i].Points, span(n.points, nil))
			}
			eq("battery", s.Jobs["battery"], span(rule.criteria[0].points, nil))
			for _, n := range s.Narrow {
				for _, o := range n.Outcomes {
					v, _ := facts[n.Fact].read("", o.Value)
					eq(
						fmt.Sprint(n.Fact, " ", o.Value),
						o.Range,
						span(rule.whole, func(a assignment) bool { return a[n.Fact] == v }),
					)
				}
			}
			at := func(ends map[string]any) float64 {
				a := assignment{}
				for f, xs := range x {
					a[f] = xs[0]
					if v, open := ends[f]; open {
						a[f], _ = facts[f].read("", v)
					}
				}
				return rule.whole(a)
			}
			eq("at its ends", [2]float64{at(s.LowAt), at(s.HighAt)}, s.Range)
		}
		for _, m := range out.Diffs[0].Moves { // the mean of what a fact moves, over all sets of the others
			others := slices.DeleteFunc(slices.Clone(rule.facts), func(f string) bool { return f == m.Fact })
			mean, weight := [2]float64{}, 1/float64(len(rule.facts))
			for set := range 1 << len(others) {
				x, size := map[string][]float64{}, 0
				for i, f := range others {
					x[f] = both[1-set>>i&1][f].x
					size += set >> i & 1
				}
				share := weight
				for i := range size { // 1 over how many sets are of this size
					share *= float64(i+1) / float64(len(others)-i)
				}
				for _, s := range []struct{ model, sign float64 }{{0, 1}, {1, -1}} {
					x[m.Fact] = both[int(s.model)][m.Fact].x
					r := [2]float64{math.Inf(1), math.Inf(-1)}
					each(rule.facts, x, func(a assignment) {
						r = [2]float64{math.Min(r[0], rule.whole(a)), math.Max(r[1], rule.whole(a))}
					})
					mean[0], mean[1] = mean[0]+share*s.sign*r[0], mean[1]+share*s.sign*r[1]
				}
			}
			if !near(m.Low, mean[0]) || !near(m.High, mean[1]) {
				t.Fatalf("seed %d, %s moved %v, %v, want %v", seed, m.Fact, m.Low, m.High, mean)
			}
		}
		a, b := out.Scores[0].Range, out.Scores[1].Range
		if g := out.Compare[0].Gap; !near(g[0], a[0]-b[1]) || !near(g[1], a[1]-b[0]) {
			t.Errorf("seed %d: gap %v of %v and %v", seed, g, a, b)
		}
		if p := out.Compare[0]; p.Always == "a" && p.Gap[0] <= 0 || p.ShareA[0] > p.ShareA[1] {
			t.Errorf("seed %d: %+v", seed, p)
		}
	}
}

// TestClassLimits: a limit holds at its edge and after rounding; below all it is the last class.
func TestClassLimits(t *testing.T) {
	two := 2
	s := &rule{Rubric: Rubric{Digits: &two, Classes: []Class{{"A", 4}, {"B", 3.35}, {"C", 2.55}}}}
	for v, want := range map[float64]string{4: "A", 3.995: "A", 3.9949: "B", 3.35: "B", 3.3449: "C", 0: "C"} {
		if got := s.Classes[s.class(v)].Name; got != want {
			t.Errorf("%v: %s, want %s", v, got, want)
		}
	}
}

// TestJudgements: one person's word is widened by two steps, and one more for a single unit; four persons' is not.
func TestJudgements(t *testing.T) {
	two := func(x float64) *float64 { return &x }
	f, err := readFacts(map[string]Fact{"d": {Kind: "number", Min: two(0), Max: two(20), Step: two(1)}})
	if err != nil {
		t.Fatal(err)
	}
	said := func(rows ...string) (list []Judgement) {
		for _, row := range rows {
			var j Judgement
			var v float64
			fmt.Sscan(row, &j.By, &j.Unit, &v)
			j.Value = v
			list = append(list, j)
		}
		return list
	}
	for _, c := range []struct {
		rows      []string
		low, high float64
		eye       string
	}{{[]string{"ann u1 9"}, 6, 12, "half"}, {[]string{"ann u1 9", "ann u2 11"}, 7, 11, "half"},
		{[]string{"ann u1 9", "bob u2 12"}, 8, 13, "half"},
		{[]string{"a u1 9", "b u2 10", "c u1 11", "d u2 12"}, 9, 12, "open"}} {
		k, err := f["d"].know("", Value{Judgements: said(c.rows...)})
		if err != nil || k.x[0] != c.low || k.x[len(k.x)-1] != c.high || k.judged.Eye != c.eye || k.missing() {
			t.Errorf("%v: %v, %+v, %v", c.rows, k.x, k.judged, err)
		}
	}
}

func TestBadInput(t *testing.T) {
	less, many := -1.0, 0.0001
	for field, change := range map[string]func(*Input){
		"weights_within":                func(in *Input) { in.WeightsWithin = &less },
		"facts.battery.depth.min":       func(in *Input) { f := in.Facts["battery.depth"]; f.Min = nil; in.Facts["battery.depth"] = f },
		"facts.battery.depth":           func(in *Input) { f := in.Facts["battery.depth"]; f.Step = &many; in.Facts["battery.depth"] = f },
		"facts.port.mount.aim":          func(in *Input) { f := in.Facts["port.mount"]; f.Aim = "glued"; in.Facts["port.mount"] = f },
		"rubrics[0].note":               func(in *Input) { in.Rubrics[0].Note = nil },
		"rubrics[0].scale":              func(in *Input) { in.Rubrics[0].Scale = []float64{5, 1} },
		"rubrics[0].criteria[0].weight": func(in *Input) { in.Rubrics[0].Criteria[0].Weight = 0 },
		"rubrics[0].criteria[1].id":     func(in *Input) { in.Rubrics[0].Criteria[1].ID = "way" },
		"rubrics[0].criteria[0].job":    func(in *Input) { in.Rubrics[0].Criteria[0].Job = "battery" },
		"rubrics[0].jobs.screen":        func(in *Input) { in.Rubrics[0].Jobs = map[string]float64{"screen": 1, "whole": 1} },
		"rubrics[0].criteria[0].points.note": func(in *Input) {
			in.Rubrics[0].Criteria[0].Points = map[string]any{"constant": 1.0}
		},
		"rubrics[0].criteria[0].points.constant": func(in *Input) {
			in.Rubrics[0].Criteria[0].Points = map[string]any{"constant": 11.0, "note": note()}
		},
		"rubrics[0].criteria[0].points.linear": func(in *Input) {
			in.Rubrics[0].Criteria[0].Points = map[string]any{"linear": "x", "through": []any{}, "note": note()}
		},
		"rubrics[0].criteria[0].points.linear.ratio[1]": func(in *Input) {
			in.Rubrics[0].Criteria[0].Points = map[string]any{"linear": map[string]any{"ratio": []any{"battery.depth",
				map[string]any{"number": 0.0}}},
				"through": []any{[]any{1.0, 1.0}}, "note": note()}
		},
		"rubrics[0].criteria[0].points.through[1][0]": func(in *Input) {
			in.Rubrics[0].Criteria[0].Points = map[string]any{"linear": "battery.depth", "through": []any{[]any{2.0, 1.0},
				[]any{1.0, 1.0}}, "note": note()}
		},
		"rubrics[0].criteria[0].points.points": func(in *Input) {
			in.Rubrics[0].Criteria[0].Points = map[string]any{"table": "port.mount", "points": map[string]any{"modular": 1.0},
				"note": note()}
		},
		"rubrics[0].criteria[0].points.extra": func(in *Input) {
			in.Rubrics[0].Criteria[0].Points = map[string]any{"constant": 1.0, "note": note(), "extra": 1.0}
		},
		"rubrics[0].classes[1].at_least":      func(in *Input) { in.Rubrics[0].Classes[1].AtLeast = 9 },
		"models[1].id":                        func(in *Input) { in.Models[1].ID = "drift-4" },
		"models[0].facts.x":                   func(in *Input) { in.Models[0].Facts["x"] = Value{Value: 1.0} },
		"models[0].facts.battery.depth.value": func(in *Input) { in.Models[0].Facts["battery.depth"] = Value{Value: 99.0} },
		"models[0].facts.battery.depth":       func(in *Input) { in.Models[0].Facts["battery.depth"] = Value{} },
		"models[0].facts.battery.depth.u":     func(in *Input) { in.Models[0].Facts["battery.depth"] = Value{Value: 9.0, U: &less} },
		"models[0].facts.port.mount.among":    func(in *Input) { in.Models[0].Facts["port.mount"] = Value{Among: []string{}} },
		"models[0].facts.battery.depth.among": func(in *Input) { in.Models[0].Facts["battery.depth"] = Value{Among: []string{"a"}} },
		"models[0].facts.port.mount.judgements[0].by": func(in *Input) {
			in.Models[0].Facts["port.mount"] = Value{Judgements: []Judgement{{Unit: "u", Value: "modular"}}}
		},
		"ratings[0].metric": func(in *Input) { in.Ratings = []Rating{{ID: "x", Metric: "ratio"}} },
		"diffs[0].was":      func(in *Input) { in.Diffs[0].Was = "x" },
		"diffs[0].rubric":   func(in *Input) { in.Diffs[0].Rubric = "x" },
		"shop.x":            func(in *Input) { in.Shop = map[string]Value{"x": {Value: 1.0}} },
	} {
		in := load[Input](t, "testdata/example.json")
		change(&in)
		_, err := Solve(in)
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// TestShapley: the moves add up to the change, whatever the number of players.
func TestShapley(t *testing.T) {
	in := load[Input](t, "testdata/example.json")
	in.Diffs = append(in.Diffs, Diff{Model: "drift-3", Was: "drift-4", Rubric: "tiny"})
	out, err := Solve(in)
	if err != nil {
		t.Fatal(err)
	}
	for _, d := range out.Diffs {
		sum := d.From
		for _, m := range d.Moves {
			sum[0], sum[1] = sum[0]+m.Low, sum[1]+m.High
		}
		if !near(sum[0], d.To[0]) || !near(sum[1], d.To[1]) ||
			!slices.ContainsFunc(d.Moves, func(m Move) bool { return m.Low != 0 }) {
			t.Errorf("%+v adds up to %v", d, sum)
		}
	}
}

// BenchmarkSolve is five rubrics of forty criteria over sixty facts, thirty of them missing.
func BenchmarkSolve(b *testing.B) {
	r := rand.New(rand.NewPCG(9, 9))
	two := func(x float64) *float64 { return &x }
	in := Input{Facts: map[string]Fact{}}
	m := Model{ID: "m", Facts: map[string]Value{}}
	for i := range 60 {
		id := fmt.Sprint("f", i)
		in.Facts[id] = Fact{Kind: "number", Min: two(1), Max: two(40), Step: two(1), Minutes: two(5)}
		if i%2 == 0 {
			m.Facts[id] = Value{Value: float64(1 + r.IntN(40))}
		}
	}
	in.Models = []Model{m}
	for k := range 5 {
		x := Rubric{
			ID:      fmt.Sprint("r", k),
			Version: "1",
			Scale:   []float64{0, 10},
			Note:    &Note{Certainty: "house", Source: "bench"},
		}
		for c := range 40 {
			leaf := func() any {
				return map[string]any{
					"linear":  fmt.Sprint("f", r.IntN(60)),
					"through": []any{[]any{1.0, 10.0}, []any{40.0, 0.0}},
					"note":    note(),
				}
			}
			x.Criteria = append(x.Criteria, Criterion{ID: fmt.Sprint("c", c), Weight: 1, Note: x.Note,
				Points: map[string]any{"worst": []any{leaf(), leaf()}}})
		}
		in.Rubrics = append(in.Rubrics, x)
	}
	for b.Loop() {
		if _, err := Solve(in); err != nil {
			b.Fatal(err)
		}
	}
}
