package basket

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

// TestFewerSellers: with a limit the basket is the best of all baskets that use any set of so many sellers, found by
// trying every number of packs of every offer.
func TestFewerSellers(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	limited := 0
	for range 40 {
		in := Input{Currency: "EUR", Slots: []Slot{{ID: "a"}, {ID: "b"}, {ID: "c"}}}
		for _, s := range []string{"x", "y", "z"} {
			in.Sellers = append(in.Sellers, Seller{ID: s, Currency: "EUR", Shipping: int64(r.IntN(300))})
			for _, slot := range in.Slots {
				in.Offers = append(in.Offers, Offer{ID: s + slot.ID, Seller: s, Price: int64(500 + r.IntN(900)),
					Covers: map[string]int{slot.ID: 1}, Grade: "original", Stock: 1})
			}
		}
		free, err := Solve(in)
		if err != nil {
			t.Fatal(err)
		}
		in.MaxSellers = 1 + r.IntN(2)
		if len(free.Sellers) > in.MaxSellers {
			limited++
		}
		got, err := Solve(in)
		if err != nil || !got.Proven || len(got.Sellers) > in.MaxSellers || len(got.Unpriced) > 0 {
			t.Fatalf("%+v, %v", got, err)
		}
		if best := byHand(in); math.Abs(best-got.Expected) > 0.01 {
			t.Errorf("%.3f, by hand %.3f", got.Expected, best)
		}
	}
	if limited < 10 {
		t.Errorf("the limit counted in only %d cases", limited)
	}
}

// byHand takes each of the three slots from each of the three sellers in turn; a copy of the prices of one pack: what
// bad ones cost is that of an original, 2 % seen so far by nobody, bought again with its sending.
func byHand(in Input) float64 {
	best := math.Inf(1)
	for code := range 27 {
		sum, used := 0.0, map[int]bool{}
		for slot, c := 0, code; slot < 3; slot, c = slot+1, c/3 {
			s := c % 3
			price, ship := float64(in.Offers[3*s+slot].Price), float64(in.Sellers[s].Shipping)
			sum += price + math.Round(1000*0.02/0.98*(price+ship))/1000
			if !used[s] {
				used[s] = true
				sum += ship
			}
		}
		if len(used) <= in.MaxSellers {
			best = min(best, sum)
		}
	}
	return best
}

func TestTooManySets(t *testing.T) {
	in := Input{Currency: "EUR", MaxSellers: 6}
	for k := range 14 {
		s := string(rune('a' + k))
		in.Slots = append(in.Slots, Slot{ID: s})
		in.Sellers = append(in.Sellers, Seller{ID: s, Currency: "EUR"})
		in.Offers = append(in.Offers, Offer{ID: s, Seller: s, Price: 100, Covers: map[string]int{s: 1}, Grade: "used",
			Stock: 1})
	}
	if _, err := Solve(in); err == nil || !strings.Contains(err.Error(), "max_sellers") {
		t.Errorf("%v", err)
	}
	in.MaxSellers = -1
	if _, err := Solve(in); err == nil || !strings.Contains(err.Error(), "max_sellers") {
		t.Errorf("%v", err)
	}
}
