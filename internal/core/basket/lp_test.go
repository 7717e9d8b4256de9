package basket

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// randomProgramme has a few columns with bounds and rows of small whole numbers, some of which may contradict.
func randomProgramme(r *rand.Rand) *programme {
	effort := 1e9
	l := &programme{effort: &effort, ctx: context.Background()}
	n, m := 2+r.IntN(5), 1+r.IntN(6)
	for range n {
		l.cost = append(l.cost, float64(r.IntN(21)-8))
		l.lo, l.hi = append(l.lo, 0), append(l.hi, float64(1+r.IntN(3)))
	}
	for range m {
		row := row{b: float64(r.IntN(9) - 3), whole: true}
		for v := range n {
			if a := r.IntN(7) - 3; a != 0 {
				row.at, row.a = append(row.at, v), append(row.a, float64(a))
			}
		}
		if len(row.at) == 0 {
			row.at, row.a = []int{0}, []float64{1}
		}
		l.rows = append(l.rows, row)
		l.lo, l.hi = append(l.lo, 0), append(l.hi, math.Inf(1))
	}
	l.x, l.where = make([]float64, n+m), make([]int, n+m)
	l.start(l.columns(), l.first(m), nil, nil)
	return l
}

// points calls work with every whole point within the bounds that meets the rows.
func (l *programme) points(work func(x []float64)) {
	x := make([]float64, len(l.cost))
	var each func(v int)
	each = func(v int) {
		if v == len(x) {
			for _, r := range l.rows {
				sum := 0.0
				for k, at := range r.at {
					sum += r.a[k] * x[at]
				}
				if sum > r.b+1e-9 {
					return
				}
			}
			work(x)
			return
		}
		for x[v] = l.lo[v]; x[v] <= l.hi[v]; x[v]++ {
			each(v + 1)
		}
		x[v] = 0
	}
	each(0)
}

// TestDualSimplex: an optimum meets every row and bound and equals the bound that its multipliers prove (strong duality,
// which holds for the optimum and for nothing else); what is said to be empty holds no whole point.
func TestDualSimplex(t *testing.T) {
	solved, without := 0, 0
	for seed := range uint64(3000) {
		r := rand.New(rand.NewPCG(seed, 3))
		l := randomProgramme(r)
		switch st := l.run(math.Inf(1), 10_000); st {
		case optimal:
			solved++
			for i := range l.rows {
				if s := l.slack(i); s < -1e-6 {
					t.Fatalf("seed %d: row %d is broken by %v", seed, i, -s)
				}
			}
			for v := range l.cost {
				if l.x[v] < l.lo[v]-1e-6 || l.x[v] > l.hi[v]+1e-6 {
					t.Fatalf("seed %d: %v outside %v to %v", seed, l.x[v], l.lo[v], l.hi[v])
				}
			}
			if z, _ := l.safe(); math.Abs(z-l.value()) > 1e-6 {
				t.Fatalf("seed %d: value %v, proven bound %v", seed, l.value(), z)
			}
		case empty:
			without++
			l.points(func(x []float64) { t.Fatalf("seed %d: said to be empty, holds %v", seed, x) })
		default:
			t.Fatalf("seed %d: status %d", seed, st)
		}
	}
	if solved < 500 || without < 100 {
		t.Errorf("%d solved, %d empty: too few of one kind", solved, without)
	}
}

// TestCutsCutNoBasket: every cut is met by every whole point of the programme, and cuts the point that it was made for.
func TestCutsCutNoBasket(t *testing.T) {
	made := 0
	for seed := range uint64(3000) {
		l := randomProgramme(rand.New(rand.NewPCG(seed, 4)))
		for round := 0; round < 4 && l.run(math.Inf(1), 10_000) == optimal; round++ {
			l.widen()
			l.aim()
			w := &adder{l: l}
			cuts := slices.Concat(l.chains(w), l.halves(w), l.cuts(w))
			if len(cuts) == 0 {
				break
			}
			for _, c := range cuts {
				made++
				at := 0.0
				for k, v := range c.at {
					at += c.a[k] * l.x[v]
				}
				if at <= c.b {
					t.Fatalf("seed %d: a cut that cuts nothing", seed)
				}
				l.points(func(x []float64) {
					sum := 0.0
					for k, v := range c.at {
						sum += c.a[k] * x[v]
					}
					if sum > c.b+1e-9 {
						t.Fatalf("seed %d, round %d: %v is cut off: %v > %v", seed, round, x, sum, c.b)
					}
				})
				l.add(c.row)
			}
		}
	}
	if made < 300 {
		t.Errorf("only %d cuts were made", made)
	}
}

// TestABasisComesBack: the tableau of a basis made anew from the rows as given holds the same values, with rows asleep and
// columns taken out in between.
func TestABasisComesBack(t *testing.T) {
	checked := 0
	for seed := range uint64(500) {
		l := randomProgramme(rand.New(rand.NewPCG(seed, 5)))
		if l.run(math.Inf(1), 10_000) != optimal {
			continue
		}
		value := l.value()
		l.sleep(0)
		rows, basic, tight := l.basis()
		l.start(l.columns(), rows, basic, tight)
		for l.run(math.Inf(1), 10_000) == optimal && l.missed() {
		}
		if math.Abs(l.value()-value) > 1e-6 || l.drift() > 1e-6 {
			t.Fatalf("seed %d: %v before, %v after, drift %v", seed, value, l.value(), l.drift())
		}
		checked++
	}
	if checked < 100 {
		t.Errorf("only %d bases", checked)
	}
}

// TestAQuestionThatIsNotWantedAnyMore ends soon, with the error of its context.
func TestAQuestionThatIsNotWantedAnyMore(t *testing.T) {
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := SolveContext(ctx, random(rand.New(rand.NewPCG(1, 9)), 40, 300, 15)); err != context.Canceled {
		t.Errorf("answered all the same: %v", err)
	}
}

// TestSleepingColumns: with all columns asleep that stand at 0, and others bounded anew as a branch does, the optimum is
// that of the programme which never slept, also where none is left.
func TestSleepingColumns(t *testing.T) {
	slept, solved, without := 0, 0, 0
	for seed := range uint64(4000) {
		r := rand.New(rand.NewPCG(seed, 5))
		l := randomProgramme(r)
		if l.run(math.Inf(1), 10_000) != optimal {
			continue
		}
		rows, basic, tight := l.basis()
		l.rest(0)
		for v := range l.cost {
			if l.sleeps(v) {
				slept++
			}
			switch change := r.IntN(4); {
			case change == 0:
				l.lo[v] = l.hi[v]
			case change == 1 && !slices.Contains(basic, v): // what is basic is never closed by a branch that starts here
				l.hi[v] = float64(r.IntN(2))
			}
		}
		whole := randomProgramme(rand.New(rand.NewPCG(seed, 5)))
		copy(whole.lo, l.lo)
		copy(whole.hi, l.hi)
		whole.start(whole.columns(), whole.first(len(whole.rows)), nil, nil)
		l.start(l.awake(basic), rows, basic, tight)
		got, want := l.run(math.Inf(1), 10_000), whole.run(math.Inf(1), 10_000)
		if got != want || got == optimal && math.Abs(l.value()-whole.value()) > 1e-6 {
			t.Fatalf("seed %d: status %d, value %v; without sleep %d, %v", seed, got, l.value(), want, whole.value())
		}
		if got == optimal {
			solved++
		} else {
			without++
		}
	}
	if slept < 500 || solved < 500 || without < 100 {
		t.Errorf("%d slept, %d solved, %d empty: too few to say anything", slept, solved, without)
	}
}
