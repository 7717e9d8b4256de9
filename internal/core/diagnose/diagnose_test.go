package diagnose

import (
	"errors"
	"fmt"
	"math"
	"math/bits"
	"math/rand/v2"
	"slices"
	"testing"

	"waryowl/internal/core/fault"
)

var noise = Noise{0.03, 0.02}

func near(a, b, eps float64) bool { return math.Abs(a-b) <= eps }

// TestWorkedExample is the example of the contract, whose figures were worked out by hand from Bayes' rule: the lost
// trial holds three atoms with priors 0.4, 0.1, 0.1, so P(loss) = 0.486·0.03 + 0.514·0.98 = 0.5183.
func TestWorkedExample(t *testing.T) {
	out, err := Run(Input{
		Checks: []string{"face-unlock", "auto-brightness"}, Noise: noise,
		Prior: Prior{0.1, map[string]map[string]float64{"display:stranger": {"face-unlock": 0.4}}},
		Trials: []Trial{{ID: "t1", Setup: Setup{State: map[string]string{"display": "stranger", "battery": "stranger"},
			Split: [][]string{{"sensor-strip",
				"panel"}}}, Results: map[string]string{"face-unlock": "lost", "auto-brightness": "pass"}}},
		Candidates: []Candidate{{ID: "c1", Setup: Setup{State: map[string]string{"display": "stranger"}},
			Minutes: 14, Unit: "pine"}},
		BudgetMinutes: 25,
	})
	if err != nil {
		t.Fatal(err)
	}
	f, a := out.Checks["face-unlock"], out.Checks["auto-brightness"]
	for name, c := range map[string]struct{ got, want float64 }{
		"battery":    {f.Marginal["battery:stranger"], 0.18908},
		"display":    {f.Marginal["display:stranger"], 0.75632},
		"split":      {f.Marginal["panel/sensor-strip:split"], 0.18908},
		"best set":   {f.Sets[0].P, 0.61262},
		"bits":       {*f.Bits, 1.90462},
		"dull":       {a.Marginal["display:stranger"], 0.002807},
		"dull bits":  {*a.Bits, 0.080304},
		"next":       {out.Next[0].Bits, 0.67265},
		"per minute": {out.Next[0].BitsPerMinute, 0.04805},
	} {
		if !near(c.got, c.want, 5e-6) {
			t.Errorf("%s: got %.6f, want %.6f", name, c.got, c.want)
		}
	}
	if s := fmt.Sprint(f.Groups, f.Sets[0].Atoms, f.Conflicts, f.Diagnoses, f.DiagnosesTotal, out.Plan,
		len(f.Sets)); s !=
		"[[battery:stranger panel/sensor-strip:split]] [display:stranger] [{t1 [battery:stranger display:stranger "+
			"panel/sensor-strip:split] []}] "+
			"[[battery:stranger] [display:stranger] [panel/sensor-strip:split]] 3 [c1] 5" {
		t.Errorf("groups, sets, conflicts, diagnoses or plan differ: %s", s)
	}
}

// enumerate is a second reading of the model: all culprit sets, one by one. In each trial each culprit that is present
// strikes by itself with its strength.
func enumerate(in Input, check string, atoms []string, candidate Setup) (marginal []float64, best, entropy,
	info float64, zero bool) {
	held := func(s Setup) (m uint64) {
		for _, a := range s.AtomNames() {
			m |= 1 << slices.Index(atoms, a)
		}
		return m
	}
	spare := make([]float64, len(atoms))
	for k, a := range atoms {
		if x, weak := in.Strength[a]; weak {
			spare[k] = 1 - x
		}
	}
	loss := func(present uint64, culprits int) float64 {
		q := 1.0
		for rest := present & uint64(culprits); rest != 0; rest &= rest - 1 {
			q *= spare[bits.TrailingZeros64(rest)]
		}
		return (1-q)*(1-in.Noise.FalsePass) + q*in.Noise.FalseLoss
	}
	trials, watched := make([]uint64, len(in.Trials)), held(candidate)
	for k, t := range in.Trials {
		trials[k] = held(t.Setup)
	}
	prior := make([]float64, len(atoms))
	for k, a := range atoms {
		prior[k] = in.Prior.Default
		if q, ok := in.Prior.Atoms[a][check]; ok {
			prior[k] = q
		}
	}
	z := 0.0
	weights := make([]float64, 1<<len(atoms))
	for l := range weights {
		w := 1.0
		for k, p := range prior {
			if l>>k&1 == 0 {
				p = 1 - p
			}
			w *= p
		}
		for k, t := range in.Trials {
			switch t.Results[check] {
			case "lost", "weak":
				w *= loss(trials[k], l)
			case "pass":
				w *= 1 - loss(trials[k], l)
			}
		}
		weights[l] = w
		z += w
	}
	if z == 0 {
		return nil, 0, 0, 0, true
	}
	h := func(p float64) float64 {
		if p <= 0 || p >= 1 {
			return 0
		}
		return -p*math.Log2(p) - (1-p)*math.Log2(1-p)
	}
	marginal = make([]float64, len(atoms))
	lost, given := 0.0, 0.0
	for l, w := range weights {
		p := w / z
		best = max(best, p)
		if p > 0 {
			entropy -= p * math.Log2(p)
		}
		x := loss(watched, l)
		lost += p * x
		given += p * h(x)
		for k := range atoms {
			if l>>k&1 == 1 {
				marginal[k] += p
			}
		}
	}
	return marginal, best, entropy, h(lost) - given, false
}

func TestPosteriorEqualsEnumeration(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	contradictory := 0
	for k := range 150 {
		n := 3 + r.IntN(14)
		setup := func() Setup {
			s := Setup{State: map[string]string{}}
			for i := range n {
				if r.IntN(3) == 0 {
					s.State[fmt.Sprintf("p%02d", i)] = "stranger"
				}
			}
			return s
		}
		in := Input{Checks: []string{"c"}, Noise: []Noise{noise, {}, {0.1, 0}, {0, 0.3}}[k%4],
			Prior:      Prior{0.05 + 0.3*r.Float64(), map[string]map[string]float64{"p00:stranger": {"c": 0.7}}},
			Candidates: []Candidate{{ID: "c1", Setup: setup(), Minutes: 1 + 10*r.Float64()}}}
		for i := range r.IntN(9) {
			in.Trials = append(in.Trials, Trial{ID: fmt.Sprintf("t%d", i), Setup: setup(),
				Results: map[string]string{"c": []string{"lost", "pass", "pass", "weak", "skipped",
					"dark"}[r.IntN(6)]}})
		}
		held, err := check(in)
		if err != nil {
			t.Fatal(err)
		}
		atoms := held.all
		if k%5 == 0 { // this one cannot cost the check
			in.Prior.Atoms["p01:stranger"] = map[string]float64{"c": 0}
		}
		if k%3 == 0 { // some culprits come and go
			in.Strength = Strength{}
			for _, a := range atoms {
				if r.IntN(3) == 0 {
					in.Strength[a] = []float64{0.5, 0.2 + 0.6*r.Float64()}[r.IntN(2)]
				}
			}
		}
		out, err := Run(in)
		if err != nil {
			t.Fatal(err)
		}
		marginal, best, entropy, info, zero := enumerate(in, "c", atoms, in.Candidates[0].Setup)
		c := out.Checks["c"]
		if zero != !c.Consistent {
			t.Fatalf("case %d: consistent is %v, but the weights sum to zero: %v", k, c.Consistent, zero)
		}
		if zero {
			contradictory++
			if c.Marginal != nil || c.Bits != nil || len(c.Conflicts) == 0 {
				t.Fatalf("case %d: contradiction must leave marginals null and conflicts given: %+v", k, c)
			}
			continue
		}
		for i, a := range atoms {
			if !near(c.Marginal[a], marginal[i], 1e-9) {
				t.Fatalf("case %d: %s is %.12f, enumeration %.12f", k, a, c.Marginal[a], marginal[i])
			}
		}
		if !near(*c.Bits, entropy, 1e-9) || !near(out.Next[0].Bits, max(0, info), 1e-9) {
			t.Fatalf("case %d: entropy %.12f, information %.12f; enumeration %.12f, %.12f", k, *c.Bits,
				out.Next[0].Bits, entropy, info)
		}
		if best >= 0.0101 && !near(c.Sets[0].P, best, 1e-9) {
			t.Fatalf("case %d: best set %.12f, enumeration %.12f", k, c.Sets[0].P, best)
		}
		m := modelOf(t, &in, held) // both ways to the answer agree
		l := newList(m)
		listed := slices.Clone(m.odds)
		l.marginals(listed)
		for i, a := range m.atoms {
			if want := marginal[slices.Index(atoms, a)]; !near(listed[i], want, 1e-9) {
				t.Fatalf("case %d: listed, %s is %.12f, enumeration %.12f", k, a, listed[i], want)
			}
		}
		slices.Reverse(in.Trials)
		again, _ := Run(in)
		for i, a := range atoms {
			if !near(again.Checks["c"].Marginal[a], marginal[i], 1e-12) {
				t.Fatalf("case %d: the order of trials changed %s", k, a)
			}
		}
	}
	if contradictory == 0 {
		t.Fatal("the family never contradicts itself")
	}
}

// TestHittingSets uses the example of R. Reiter, "A theory of diagnosis from first principles" (1987), and compares it
// and random families with brute force.
func TestHittingSets(t *testing.T) {
	brute := func(conflicts []uint64) (sets []uint64) {
		for s := range uint64(1 << 8) {
			if slices.ContainsFunc(conflicts, func(c uint64) bool { return c&s == 0 }) {
				continue
			}
			minimal := true
			for rest := s; rest != 0; rest &= rest - 1 {
				smaller := s &^ (rest & -rest)
				minimal = minimal && slices.ContainsFunc(conflicts, func(c uint64) bool { return c&smaller == 0 })
			}
			if minimal {
				sets = append(sets, s)
			}
		}
		return sets
	}
	of := func(elements ...int) (s uint64) {
		for _, e := range elements {
			s |= 1 << e
		}
		return s
	}
	reiter := []uint64{of(2, 4, 5), of(1, 2, 3), of(1, 3, 5), of(2, 4, 6), of(2, 4), of(2, 3, 5), of(1, 6)}
	sets, _ := HittingSets(reiter)
	if slices.Sort(sets); !slices.Equal(sets, brute(reiter)) {
		t.Errorf("Reiter's example: got %v, brute force %v", sets, brute(reiter))
	}
	r := rand.New(rand.NewPCG(1, 2))
	for range 300 {
		var family []uint64
		for range r.IntN(6) {
			family = append(family, 1+r.Uint64N(255))
		}
		sets, capped := HittingSets(family)
		if !slices.IsSortedFunc(sets, func(a, b uint64) int { return bits.OnesCount64(a) - bits.OnesCount64(b) }) ||
			capped {
			t.Fatalf("%v: not smallest first, or cut off: %v", family, sets)
		}
		if slices.Sort(sets); !slices.Equal(sets, brute(family)) {
			t.Fatalf("%v: got %v, brute force %v", family, sets, brute(family))
		}
	}
}

func single(id, slot string, minutes float64) Candidate {
	return Candidate{ID: id, Setup: Setup{State: map[string]string{slot: "stranger"}}, Minutes: minutes, Unit: "pine"}
}

// TestAHalfTellsMoreThanASingle: one certain culprit among eight like slots is found fastest by halves.
func TestAHalfTellsMoreThanASingle(t *testing.T) {
	whole, half := map[string]string{}, map[string]string{}
	in := Input{Checks: []string{"c"}, Prior: Prior{Default: 0.05}, BudgetMinutes: 60}
	for i := range 8 {
		slot := fmt.Sprintf("p%d", i)
		whole[slot] = "stranger"
		if i < 4 {
			half[slot] = "stranger"
		}
		in.Candidates = append(in.Candidates, single(fmt.Sprintf("c%d", i), slot, 10))
	}
	in.Trials = []Trial{{ID: "t1", Setup: Setup{State: whole}, Results: map[string]string{"c": "lost"}}}
	in.Candidates = append(in.Candidates, Candidate{ID: "half", Setup: Setup{State: half}, Minutes: 10})
	out, err := Run(in)
	if err != nil || out.Next[0].ID != "half" || out.Next[0].Bits < 0.95 || out.Plan[0] != "half" {
		t.Fatalf("want the half first with nearly one bit, got %+v %v, %v", out.Next, out.Plan, err)
	}
}

func TestDisagreementNamesTheTrialsBehindIt(t *testing.T) {
	state := func(slots ...string) Setup {
		s := Setup{State: map[string]string{}}
		for _, slot := range slots {
			s.State[slot] = "stranger"
		}
		return s
	}
	lost, pass := map[string]string{"c": "lost"}, map[string]string{"c": "pass"}
	out, err := Run(Input{Checks: []string{"c"}, Noise: noise, Prior: Prior{Default: 0.1}, Trials: []Trial{
		{ID: "t1", Setup: state("a", "b"), Results: lost}, {ID: "t2", Setup: state("a"), Results: pass},
		{ID: "t3", Setup: state("b"), Results: pass}, {ID: "t4", Setup: state("a", "b"), Results: pass}}})
	if err != nil {
		t.Fatal(err)
	}
	c := out.Checks["c"]
	if len(c.Conflicts) != 1 || len(c.Conflicts[0].Atoms) != 0 ||
		!slices.Equal(c.Conflicts[0].Against, []string{"t4"}) || len(c.Diagnoses) != 0 {
		t.Errorf("want t1 against t4 alone, got %+v", c.Conflicts)
	}
	if len(out.SuspectTrials) == 0 || out.SuspectTrials[0].Trial != "t1" || out.SuspectTrials[0].P < 0.9 {
		t.Errorf("want t1 as suspect, got %+v", out.SuspectTrials)
	}
}

func TestIrreversibleMovesComeLastAndOnOneUnitOnly(t *testing.T) {
	forever := func(id, unit string) Candidate {
		c := single(id, "a", 1)
		c.Irreversible, c.Unit = true, unit
		return c
	}
	out, err := Run(Input{Checks: []string{"c"}, Noise: noise, Prior: Prior{Default: 0.3},
		Candidates: []Candidate{forever("x1", "pine"), forever("x2", "amber"), single("c1", "a", 60)}})
	if err != nil || len(out.Next) != 2 || out.Next[0].ID != "c1" || out.Next[1].ID != "x1" {
		t.Fatalf("want c1, then x1, and x2 withheld, got %+v, %v", out.Next, err)
	}
	out, _ = Run(Input{Checks: []string{"c"}, Noise: noise, Prior: Prior{Default: 0.3}, BudgetMinutes: 30,
		Candidates: []Candidate{single("c1", "a", 20), single("c2", "b", 20), single("c3", "c", 9)}})
	if !slices.Equal(out.Plan, []string{"c3", "c1"}) {
		t.Errorf("want what fits into 30 minutes, best rate first, got %v", out.Plan)
	}
}

func TestBadInputNamesTheField(t *testing.T) {
	ok := func(change func(*Input)) Input {
		in := Input{Checks: []string{"c"}, Noise: noise, Prior: Prior{Default: 0.1}, Trials: []Trial{{ID: "t1"}},
			Candidates: []Candidate{{ID: "c1", Minutes: 1}}}
		change(&in)
		return in
	}
	many := Setup{State: map[string]string{}}
	for i := range 270 {
		many.State[fmt.Sprint("p", i)] = "stranger"
	}
	for want, change := range map[string]func(*Input){
		"checks":                func(in *Input) { in.Checks = nil },
		"checks[1]":             func(in *Input) { in.Checks = []string{"c", "c"} },
		"noise.false_loss":      func(in *Input) { in.Noise.FalseLoss = 1 },
		"noise.false_pass":      func(in *Input) { in.Noise.FalsePass = 0.99 },
		"prior.default":         func(in *Input) { in.Prior.Default = 0 },
		"prior.atoms.a.c":       func(in *Input) { in.Prior.Atoms = map[string]map[string]float64{"a": {"c": 2}} },
		"weak":                  func(in *Input) { in.Weak = "maybe" },
		"budget_minutes":        func(in *Input) { in.BudgetMinutes = math.NaN() },
		"trials[0].id":          func(in *Input) { in.Trials[0].ID = "T 1" },
		"trials[1].id":          func(in *Input) { in.Trials = append(in.Trials, in.Trials[0]) },
		"trials[0].results":     func(in *Input) { in.Trials[0].Results = map[string]string{"x": "pass"} },
		"trials[0].results.c":   func(in *Input) { in.Trials[0].Results = map[string]string{"c": "fine"} },
		"trials[0].split[0]":    func(in *Input) { in.Trials[0].Split = [][]string{{"a", "a"}} },
		"trials[0].atoms[0]":    func(in *Input) { in.Trials[0].Atoms = []string{""} },
		"trials[0].state.a":     func(in *Input) { in.Trials[0].State = map[string]string{"a": ""} },
		"candidates[0].minutes": func(in *Input) { in.Candidates[0].Minutes = 0 },
		"trials":                func(in *Input) { in.Trials[0].Setup = many },
	} {
		_, err := Run(ok(change))
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != want {
			t.Errorf("want a fault at %s, got %v", want, err)
		}
	}
}

// TestWhatCounts: weak is a loss unless it is told to be a pass; skipped and dark are no evidence.
func TestWhatCounts(t *testing.T) {
	p := func(result, weak string) float64 {
		out, err := Run(Input{Checks: []string{"c"}, Noise: noise, Prior: Prior{Default: 0.1}, Weak: weak,
			Trials: []Trial{{ID: "t1", Setup: Setup{State: map[string]string{"a": "stranger", "b": "own"}},
				Results: map[string]string{"c": result}}}})
		if err != nil {
			t.Fatal(err)
		}
		return out.Checks["c"].Marginal["a:stranger"]
	}
	// Bayes by hand for one atom: 0.1·0.98/(0.1·0.98 + 0.9·0.03) after a loss, 0.1·0.02/(0.1·0.02 + 0.9·0.97) after a
	// pass.
	lost, pass := 0.098/0.125, 0.002/0.875
	for name, c := range map[string]struct{ got, want float64 }{
		"lost": {p("lost", ""), lost}, "pass": {p("pass", ""), pass}, "weak": {p("weak", ""),
			lost}, "weak as a pass": {p("weak", "pass"), pass},
		"skipped": {p("skipped", ""), 0.1}, "dark": {p("dark", ""), 0.1},
	} {
		if !near(c.got, c.want, 1e-12) {
			t.Errorf("%s: got %.9f, want %.9f", name, c.got, c.want)
		}
	}
}

// TestSettledAndGroups: two atoms that always go together settle as one; a candidate that parts them ends the group.
func TestSettledAndGroups(t *testing.T) {
	both := Setup{State: map[string]string{"a": "stranger", "b": "stranger"}}
	in := Input{Checks: []string{"c"}, Noise: Noise{0.001, 0.001}, Prior: Prior{Default: 0.2}}
	for i := range 3 {
		in.Trials = append(in.Trials, Trial{ID: fmt.Sprintf("t%d", i), Setup: both,
			Results: map[string]string{"c": "lost"}})
	}
	out, err := Run(in)
	if c := out.Checks["c"]; err != nil || !c.Settled || len(c.Groups) != 1 || c.Marginal["a:stranger"] > 0.6 {
		t.Errorf("as a group: %+v, %v", c, err)
	}
	in.Candidates = []Candidate{single("c1", "a", 10)}
	out, err = Run(in)
	if c := out.Checks["c"]; err != nil || c.Settled || len(c.Groups) != 0 || out.Next[0].Bits < 0.9 {
		t.Errorf("parted: %+v, %+v, %v", c, out.Next, err)
	}
}
