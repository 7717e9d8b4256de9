package basket

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

func example(t *testing.T) (in Input) {
	t.Helper()
	raw, err := os.ReadFile("testdata/example.json")
	if err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(raw, &in); err != nil {
		t.Fatal(err)
	}
	return in
}

// The worked example of the contract, figure by figure.
func TestExample(t *testing.T) {
	out, err := Solve(example(t))
	if err != nil {
		t.Fatal(err)
	}
	raw, err := os.ReadFile("testdata/example.out.json")
	if err != nil {
		t.Fatal(err)
	}
	var want map[string]any
	if err := json.Unmarshal(raw, &want); err != nil {
		t.Fatal(err)
	}
	mine, _ := json.Marshal(out)
	var got map[string]any
	json.Unmarshal(mine, &got)
	for _, k := range []string{"expected", "invoice", "rebuy", "lines", "sellers", "unpriced", "bound", "proven",
		"all_good_first_time", "without", "second_best", "price_ratio", "break_even", "dearer_chance", "profit", "per_hour",
		"stated_gap"} {
		if d := differs(got[k], want[k]); d != "" {
			t.Errorf("%s: %s", k, d)
		}
	}
}

// differs compares JSON values, numbers to nine digits.
func differs(a, b any) string {
	switch b := b.(type) {
	case float64:
		if x, ok := a.(float64); ok && math.Abs(x-b) <= 2e-9*math.Max(1, math.Abs(b)) {
			return ""
		}
	case []any:
		x, ok := a.([]any)
		if !ok || len(x) != len(b) {
			break
		}
		for i := range b {
			if d := differs(x[i], b[i]); d != "" {
				return d
			}
		}
		return ""
	case map[string]any:
		x, ok := a.(map[string]any)
		if !ok {
			break
		}
		for k := range b {
			if d := differs(x[k], b[k]); d != "" {
				return k + " " + d
			}
		}
		return ""
	default:
		if a == b {
			return ""
		}
	}
	return fmt.Sprintf("%v, want %v", a, b)
}

// random is an instance with everything in it: packs, kits, grades, thresholds, coupons, foreign money.
func random(r *rand.Rand, slots, offers, sellers int) Input {
	in := Input{Currency: "CAD", Rates: []Rate{{From: "USD", Rate: 1.36}}}
	id := func(kind string, k int) string { return fmt.Sprint(kind, k) }
	for k := range slots {
		q := 1 + r.IntN(5)/3
		in.Slots = append(in.Slots, Slot{ID: id("s", k), Quantity: &q})
	}
	if slots > 3 && r.IntN(2) == 0 {
		*in.Slots[1].Quantity = *in.Slots[0].Quantity
		in.Bound = [][]string{{"s0", "s1"}}
	}
	for k := range sellers {
		s := Seller{ID: id("v", k), Shipping: int64(r.IntN(2500))}
		if r.IntN(3) == 0 {
			s.Currency = "USD"
		}
		if r.IntN(2) == 0 {
			s.FreeAbove = int64(5000 + r.IntN(30000))
		}
		for range r.IntN(3) {
			if r.IntN(2) == 0 {
				s.Coupons = append(s.Coupons, Coupon{Percent: float64(1 + r.IntN(20)), Above: int64(r.IntN(30000))})
			} else {
				s.Coupons = append(s.Coupons, Coupon{Fixed: int64(100 + r.IntN(3000)), Above: int64(r.IntN(20000))})
			}
		}
		in.Sellers = append(in.Sellers, s)
	}
	worth := make([]float64, slots)
	for k := range worth {
		worth[k] = 500 + 12000*r.Float64()*r.Float64()
	}
	for k := range offers {
		o := Offer{ID: id("o", k), Seller: id("v", r.IntN(sellers)), Covers: map[string]int{}, Stock: 1 + r.IntN(3),
			Grade: []string{"original", "used", "copy"}[r.IntN(3)], Defects: Defects{K: r.IntN(3), N: 3 + r.IntN(30)},
			Returns: Returns{Refund: float64(r.IntN(2)), Cost: int64(r.IntN(900))}}
		sum := 0.0
		for range 1 + r.IntN(3)*r.IntN(2) {
			at, n := r.IntN(slots), 1+r.IntN(4)/3
			o.Covers[id("s", at)] = n
			sum += worth[at] * float64(n)
		}
		o.Price = int64(sum * (0.6 + 0.6*r.Float64()))
		if r.IntN(3) == 0 {
			o.Currency, o.Price = "USD", o.Price*100/136
		}
		in.Offers = append(in.Offers, o)
	}
	return in
}

// Every basket of small instances, one by one.
func TestAgainstEveryBasket(t *testing.T) {
	filled := 0
	for seed := range uint64(400) {
		r := rand.New(rand.NewPCG(seed, 8))
		in := random(r, 2+r.IntN(4), 3+r.IntN(6), 1+r.IntN(3))
		var out Output
		p, err := in.problem(&out)
		if err != nil {
			t.Fatal(err)
		}
		best, x := math.Inf(1), make([]int, len(p.offers))
		var choose func(i int)
		choose = func(i int) {
			if i == len(x) {
				best = min(best, p.cost(x))
				return
			}
			for x[i] = 0; x[i] <= p.offers[i].most; x[i]++ {
				choose(i + 1)
			}
			x[i] = 0
		}
		choose(0)
		if out, err = Solve(in); err != nil {
			t.Fatal(err)
		}
		if math.Abs(out.Expected-best) > 1e-3 || !out.Proven || math.Abs(out.Bound-best) > 1e-3 {
			t.Errorf(
				"seed %d: %v, proven %v, bound %v; the best of all is %v",
				seed,
				out.Expected,
				out.Proven,
				out.Bound,
				best,
			)
		}
		if len(p.need) > 1 {
			filled++
		}
	}
	if filled < 200 {
		t.Errorf("only %d instances have slots to fill", filled)
	}
}

// What leaves an offer or a slot out, and what is asked about.
func TestRules(t *testing.T) {
	three := 3.0
	for name, c := range map[string]struct {
		change   func(*Input)
		expected float64
		unpriced int
		asked    string
	}{
		"too late: the copies of the south only": {func(in *Input) { in.DeadlineDays = &three }, 0, 8, ""},
		"out of stock: the set; no other covers both of the bound": {func(in *Input) { in.Offers[0].Stock = 0 },
			// panel-b 12920, shell 8800, camera 7600, screws 503 from the south 13423 − 544; the north without its coupon
			8800 + 7600 + 1200 + 12920 + 503 + 680 - 544, 3, ""},
		"unbound, the board may come alone": {func(in *Input) { in.Bound, in.Offers[0].Stock = nil, 0 }, 0, 2, ""},
		"rates that do not go together": {func(in *Input) {
			in.Rates = append(in.Rates, Rate{From: "CAD", To: "USD", Rate: 0.9})
		}, 0, 1, "rates"},
		"an old rate":  {func(in *Input) { in.Today = "2026-12-31" }, 0, 1, "old_rate"},
		"a big coupon": {func(in *Input) { in.Sellers[0].Coupons[0].Percent = 31 }, 0, 1, "coupon"},
	} {
		in := example(t)
		in.Compare, in.Alternatives = nil, false
		c.change(&in)
		out, err := Solve(in)
		if err != nil {
			t.Fatal(name, err)
		}
		if len(out.Unpriced) != c.unpriced {
			t.Errorf("%s: unpriced %v", name, out.Unpriced)
		}
		if c.expected > 0 && math.Abs(out.Invoice-c.expected) > 1e-6 {
			t.Errorf("%s: invoices of %v, want %v", name, out.Invoice, c.expected)
		}
		asked := false
		for _, q := range out.Questions {
			asked = asked || q.Code == c.asked
		}
		if c.asked != "" && !asked {
			t.Errorf("%s: not asked about in %v", name, out.Questions)
		}
	}
}

// One pack whose re-buys are geometric: more than k of them with chance p^(k+1) (geometric distribution); two packs:
// the negative binomial.
func TestDearer(t *testing.T) {
	p := &problem{offers: []offer{{bad: 0.3, again: 100}}}
	for _, room := range []float64{0, 1, 99, 101, 250, 399, 1001} {
		k := int(room / 100)
		one, two := math.Pow(0.3, float64(k+1)), 1.0
		for n := range k + 1 {
			two -= float64(n+1) * math.Pow(0.7, 2) * math.Pow(0.3, float64(n))
		}
		for packs, want := range []float64{1: one, 2: two} {
			if packs == 0 {
				continue
			}
			if got := p.dearer([]int{packs}, room); got[0] > want+1e-9 || got[1] < want-1e-9 || got[1]-got[0] > 0.02 {
				t.Errorf("%d packs, room %v: %v, want %v", packs, room, got, want)
			}
		}
	}
	if got := p.dearer([]int{1}, -1); got != [2]float64{1, 1} {
		t.Errorf("invoices above: %v", got)
	}
}

func TestBadInput(t *testing.T) {
	half, none := 0.5, 0.0
	for field, change := range map[string]func(*Input){
		"currency":                      func(in *Input) { in.Currency = "" },
		"rates":                         func(in *Input) { in.Rates = nil },
		"rates[0].rate":                 func(in *Input) { in.Rates[0].Rate = 0 },
		"rates[0].date":                 func(in *Input) { in.Rates[0].Date = "yesterday" },
		"today":                         func(in *Input) { in.Today = "2026-02-30" },
		"slots[1].id":                   func(in *Input) { in.Slots[1].ID = "board" },
		"slots[0].grades":               func(in *Input) { in.Slots[0].Grades = []string{"new"} },
		"bound[0]":                      func(in *Input) { in.Bound[0][1] = "attic" },
		"bound[1]":                      func(in *Input) { in.Bound = append(in.Bound, []string{"board", "display"}) },
		"sellers[1].id":                 func(in *Input) { in.Sellers[1].ID = "north" },
		"sellers[0].shipping":           func(in *Input) { in.Sellers[0].Shipping = -1 },
		"sellers[0].coupons[0]":         func(in *Input) { in.Sellers[0].Coupons[0].Fixed = 5 },
		"sellers[0].coupons[0].percent": func(in *Input) { in.Sellers[0].Coupons[0].Percent = 51 },
		"sellers[0].coupons":            func(in *Input) { in.Sellers[0].Coupons = make([]Coupon, 4) },
		"offers[0].seller":              func(in *Input) { in.Offers[0].Seller = "east" },
		"offers[0].grade":               func(in *Input) { in.Offers[0].Grade = "mint" },
		"offers[0].price":               func(in *Input) { in.Offers[0].Price = -1 },
		"offers[0].stock":               func(in *Input) { in.Offers[0].Stock = -1 },
		"offers[0].covers":              func(in *Input) { in.Offers[0].Covers = nil },
		"offers[0].covers.board":        func(in *Input) { in.Offers[0].Covers["board"] = 0 },
		"offers[0].defects.k":           func(in *Input) { in.Offers[0].Defects.K = 21 },
		"offers[0].returns.refund":      func(in *Input) { in.Offers[0].Returns.Refund = 1.1 },
		"defect_prior.copy":             func(in *Input) { in.DefectPrior = map[string]float64{"copy": 1} },
		"compare.refurbished":           func(in *Input) { in.Compare.Refurbished = 15000 },
		"compare.survival":              func(in *Input) { in.Compare.Survival = &none },
		"deadline_days":                 func(in *Input) { v := -half; in.DeadlineDays = &v },
		"effort":                        func(in *Input) { in.Effort = -1 },
	} {
		in := example(t)
		change(&in)
		_, err := Solve(in)
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// What each bought offer would cost if it were gone, against every basket without it; an alternative that is cheaper would
// be the better basket, so that none is below 0.
func TestWithoutEachOffer(t *testing.T) {
	asked, none := 0, 0
	for seed := range uint64(150) {
		in := random(rand.New(rand.NewPCG(seed, 12)), 2+int(seed%4), 4+int(seed%5), 1+int(seed%3))
		in.Alternatives = true
		out, err := Solve(in)
		if err != nil {
			t.Fatal(err)
		}
		second := math.Inf(1)
		for _, w := range out.Without {
			p, err := in.problem(&Output{})
			if err != nil {
				t.Fatal(err)
			}
			best, x := math.Inf(1), make([]int, len(p.offers))
			var choose func(i int)
			choose = func(i int) {
				if i == len(x) {
					best = min(best, p.cost(x))
					return
				}
				most := p.offers[i].most
				if p.offers[i].id == w.Offer {
					most = 0
				}
				for x[i] = 0; x[i] <= most; x[i]++ {
					choose(i + 1)
				}
				x[i] = 0
			}
			choose(0)
			asked++
			switch {
			case math.IsInf(best, 1):
				none++
				if w.Extra != -1 {
					t.Errorf("seed %d: without %s no basket is left, said %v more", seed, w.Offer, w.Extra)
				}
			case math.Abs(w.Extra-(best-out.Expected)) > 1e-3 || w.Extra < 0:
				t.Errorf("seed %d: without %s %v more, by all baskets %v", seed, w.Offer, w.Extra, best-out.Expected)
			default:
				second = min(second, best)
			}
		}
		if out.SecondBest != nil && math.Abs(*out.SecondBest-second) > 1e-3 || out.SecondBest == nil && !math.IsInf(second, 1) {
			t.Errorf("seed %d: second best %v, by all baskets %v", seed, out.SecondBest, second)
		}
	}
	if asked < 200 || none < 10 {
		t.Errorf("%d asked, %d without a basket: too few", asked, none)
	}
}
