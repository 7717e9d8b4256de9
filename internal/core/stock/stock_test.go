package stock

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
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

// TestWorkedExample is the example of the contract, whose answer came from another program.
func TestWorkedExample(t *testing.T) {
	got, err := Solve(load[Input](t, "testdata/example.json"))
	want := load[Output](t, "testdata/example.out.json")
	if err != nil {
		t.Fatal(err)
	}
	for i, w := range want.Groups {
		g := got.Groups[i]
		if !near(g.RatePerWeek, w.RatePerWeek) || !near(g.Interval[0], w.Interval[0]) ||
			!near(g.Interval[1], w.Interval[1]) ||
			!near(
				g.LeadDemand,
				w.LeadDemand,
			) || g.BaseStock != w.BaseStock || !near(g.Fill, w.Fill) || g.PoolingSaves != w.PoolingSaves ||
			!near(
				g.ExpectedOwed,
				w.ExpectedOwed,
			) || (g.LastBuy == nil) != (w.LastBuy == nil) || g.LastBuy != nil && *g.LastBuy != *w.LastBuy {
			t.Errorf("%+v, want %+v", g, w)
		}
	}
	for i, w := range want.Orders {
		if g := got.Orders[i]; g.ID != w.ID || g.Pieces != w.Pieces || !near(g.Gain, w.Gain) || !near(g.Fill, w.Fill) {
			t.Errorf("%+v, want %+v", g, w)
		}
	}
	if got.Spent != 8500 || !got.Proven || !near(got.Gain, want.Gain) || !near(got.GreedyGain, want.GreedyGain) {
		t.Errorf("%+v", got)
	}
}

// TestTables: a base-stock example of a production textbook (Poisson of mean 10: P(D ≤ 14) = 0.9165, base 15 at 0.90)
// and values of Erlang's loss formula (from memory, recomputed).
func TestTables(t *testing.T) {
	if p := poisson(10).upTo(14); math.Abs(p-0.9165) > 5e-5 {
		t.Errorf("P(D ≤ 14) = %v", p)
	}
	if s := (policy{goal: 0.9}).base(poisson(10)); s != 15 {
		t.Errorf("base %d, want 15", s)
	}
	for _, c := range [][3]float64{{2, 1, 0.2}, {10, 5, 0.0184}, {0, 3, 1}} {
		if b := loss(int(c[0]), c[1]); math.Abs(b-c[2]) > 5e-5 {
			t.Errorf("B(%v, %v) = %v, want %v", c[0], c[1], b, c[2])
		}
	}
	// a mixture over a gamma rate has mean aL/T and variance aL/T·(1 + L/T); both read off the terms
	d := negative(4.5, 26, 8)
	mean, square := 0.0, 0.0
	for k := range 400 {
		mean += float64(k) * d.at(k)
		square += float64(k*k) * d.at(k)
	}
	if !near(mean, 4.5*8/26) || !near(square-mean*mean, 4.5*8/26.*(1+8/26.)) || !near(d.upTo(399), 1) {
		t.Errorf("mean %v, variance %v, sum %v", mean, square-mean*mean, d.upTo(399))
	}
	sum := 0.0 // what is owed is what the demand is beyond the stock
	for k := 3; k < 400; k++ {
		sum += float64(k-3) * d.at(k)
	}
	if !near(d.owed(3), sum) || !near(d.owed(-2), d.mean+2) {
		t.Errorf("owed %v, want %v", d.owed(3), sum)
	}
}

// TestOrders: of all purchases that the budget allows none gains more; one model alone saves nothing by pooling.
func TestOrders(t *testing.T) {
	for seed := range uint64(80) {
		r := rand.New(rand.NewPCG(seed, 3))
		in := Input{Weeks: 26, Budget: float64(1000 + r.IntN(6000)), Unmet: []string{"wait", "lost"}[r.IntN(2)]}
		for i := range 4 {
			in.Groups = append(in.Groups, Group{ID: fmt.Sprint("g", i), Models: []Member{{ID: "m", Jobs: r.IntN(12)}},
				LeadWeeks: 1 + 4*r.Float64(), Cost: new(float64(300 + r.IntN(1500))), OnHand: r.IntN(2), Owed: new(r.IntN(3))})
		}
		out, err := Solve(in)
		if err != nil || !out.Proven {
			t.Fatal(seed, err, out.Proven)
		}
		p, shape, _ := in.check()
		var wants []want
		for i, g := range in.Groups {
			if out.Groups[i].PoolingSaves != 0 {
				t.Errorf("seed %d: one model saves %d", seed, out.Groups[i].PoolingSaves)
			}
			wants = append(wants, g.want(p, negative(shape+float64(g.jobs()), in.Weeks, g.LeadWeeks), out.Groups[i].BaseStock))
		}
		best := 0.0
		var try func(k int, money, gain float64)
		try = func(k int, money, gain float64) {
			if k == len(wants) {
				best = max(best, gain)
				return
			}
			for n := range wants[k].gain {
				if c := float64(n) * wants[k].cost; c <= money+1e-9 {
					try(k+1, money-c, gain+wants[k].gain[n])
				}
			}
		}
		try(0, in.Budget, 0)
		if !near(out.Gain, best) || out.Spent > in.Budget+1e-9 || out.GreedyGain > best+1e-9 {
			t.Errorf("seed %d: gain %v for %v, want %v; greedy %v", seed, out.Gain, out.Spent, best, out.GreedyGain)
		}
	}
}

func TestBadInput(t *testing.T) {
	no, rate := 1.0, -1.0
	for field, change := range map[string]func(*Input){
		"fill_goal":                func(in *Input) { in.FillGoal = &no },
		"unmet":                    func(in *Input) { in.Unmet = "maybe" },
		"weeks":                    func(in *Input) { in.Weeks = 0 },
		"groups":                   func(in *Input) { in.Groups = nil },
		"groups[1].id":             func(in *Input) { in.Groups[1].ID = "battery-a" },
		"groups[0].models":         func(in *Input) { in.Groups[0].RatePerWeek = &no },
		"groups[0].rate_per_week":  func(in *Input) { in.Groups[0].Models, in.Groups[0].RatePerWeek = nil, &rate },
		"groups[0].models[1].id":   func(in *Input) { in.Groups[0].Models[1].ID = "drift-3" },
		"groups[0].models[0].jobs": func(in *Input) { in.Groups[0].Models[0].Jobs = -1 },
		"groups[0].lead_weeks":     func(in *Input) { in.Groups[0].LeadWeeks = 0 },
		"groups[0].cost":           func(in *Input) { in.Groups[0].Cost = new(0.0) },
		"groups[0].on_hand":        func(in *Input) { in.Groups[0].OnHand = -1 },
		"groups[0].on_order":       func(in *Input) { in.Groups[0].OnOrder = 1.5 },
		"groups[1].on_order[0].due_weeks": func(in *Input) {
			in.Groups[1].OnOrder = []any{map[string]any{"pieces": 2.0}}
		},
		"groups[1].on_order[0].when": func(in *Input) {
			in.Groups[1].OnOrder = []any{map[string]any{"pieces": 2.0, "due_weeks": 1.0, "when": "soon"}}
		},
		"groups[0].reserved":         func(in *Input) { in.Groups[0].Owed, in.Groups[0].Reserved = new(1), new(2) },
		"months":                     func(in *Input) { in.Months = new(7) },
		"horizon_weeks":              func(in *Input) { in.Horizon = new(0.0) },
		"groups[0].last_buy.salvage": func(in *Input) { in.Groups[0].LastBuy.Salvage = 1500 },
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

// TestMonthsAhead: the worked figures of the contract (13.5 jobs' worth of evidence over 26 weeks); what is expected
// to wait is what the demand so far is beyond the stock so far, told term by term; a group without a price has a
// position and no orders.
func TestMonthsAhead(t *testing.T) {
	in := load[Input](t, "testdata/example.json")
	g := &in.Groups[0]
	g.OnHand, g.Reserved, g.Owed, g.Cost = 5, new(2), nil, nil
	g.OnOrder = []any{map[string]any{"pieces": 1.0, "due_weeks": 5.0}, map[string]any{"pieces": 2.0, "due_weeks": 0.0}}
	g.LastBuy = nil
	out, err := Solve(in)
	if err != nil {
		t.Fatal(err)
	}
	l := out.Groups[0]
	if l.Position != 6 || l.Short != 0 || len(l.Months) != 3 || len(out.Unpriced) != 1 || out.Unpriced[0] != "battery-a" {
		t.Fatalf("%+v, unpriced %v", l, out.Unpriced)
	}
	m := l.Months
	if math.Abs(m[0].Demand-2.256) > 5e-4 || m[0].P10 != 0 || m[0].P90 != 4 || m[0].Arriving != 2 ||
		m[1].Arriving != 1 || m[2].Arriving != 0 ||
		m[1].From != 4.345 {
		t.Errorf("%+v", m)
	}
	for k, have := range []int{5, 6, 6} {
		d, sum := negative(13.5, 26, 4.345*float64(k+1)), 0.0
		for x := have; x < 400; x++ {
			sum += float64(x-have) * d.at(x)
		}
		if !near(m[k].ExpectedShort, sum) {
			t.Errorf("month %d: %v short, want %v", k+1, m[k].ExpectedShort, sum)
		}
	}
	for _, o := range out.Orders {
		if o.ID == "battery-a" {
			t.Errorf("ordered without a price: %+v", o)
		}
	}
	in.Groups[0].OnOrder = 2 // a number comes after the lead time of two weeks
	if out, err = Solve(in); err != nil || out.Groups[0].Months[0].Arriving != 2 || out.Groups[0].Position != 5 {
		t.Errorf("%+v, %v", out.Groups[0], err)
	}
}
