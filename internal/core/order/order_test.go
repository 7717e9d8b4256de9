package order

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/core/basket"
)

// TestAnOrderOfTwoLines: the sums of a worked order with a coupon above a subtotal, and of its lines; worked out by
// hand.
func TestAnOrderOfTwoLines(t *testing.T) {
	values := []int64{4 * 2100, 184000}
	discount, shipping := basket.Bill(basket.Seller{ID: "s", Currency: "CAD", Shipping: 1200,
		Coupons: []basket.Coupon{{Percent: 5, Above: 30000}}}, values[0]+values[1])
	if discount != 9620 || shipping != 1200 {
		t.Errorf("coupon %d, shipping %d", discount, shipping)
	}
	if got := Landed(values, shipping, discount); !slices.Equal(got, []int64{8032, 175948}) {
		t.Errorf("the lines cost %v", got)
	}
	b, err := Book(Line{Ordered: 4}, Receipt{Came: 4, Good: 3, Bad: 1})
	if err != nil || b != (Booked{Kept: 4, Good: 3, Bad: 1}) {
		t.Errorf("booked %+v, %v", b, err)
	}
	if s := State([]Line{{Ordered: 4, Came: 4}, {Ordered: 1}}); s != Part {
		t.Errorf("one line open: %s", s)
	}
	if s := State([]Line{{Ordered: 4, Came: 4}, {Ordered: 1, WrittenOff: 1}}); s != Received {
		t.Errorf("the rest written off: %s", s)
	}
	if c := Claim(2100, 1, 1); c != 2100 {
		t.Errorf("claim %d", c)
	}
	if due, late := Due(3.2, 8); due != 4 || late != 8 {
		t.Errorf("due after %d days, late after %d", due, late)
	}
}

func TestReceipts(t *testing.T) {
	for name, c := range map[string]struct {
		line Line
		r    Receipt
		want Booked
		says string
	}{
		"short":               {Line{Ordered: 5}, Receipt{Came: 2, Good: 2}, Booked{Kept: 2, Good: 2}, ""},
		"not looked at":       {Line{Ordered: 5}, Receipt{Came: 5, Bad: 1}, Booked{Kept: 5, Bad: 1, Unseen: 4}, ""},
		"wrong fills nothing": {Line{Ordered: 2}, Receipt{Came: 2, Good: 1, Wrong: 1}, Booked{Kept: 1, Good: 1, Wrong: 1}, ""},
		"surplus undecided":   {Line{Ordered: 2}, Receipt{Came: 3, Good: 3}, Booked{}, "surplus"},
		"surplus taken": {Line{Ordered: 2}, Receipt{Came: 3, Good: 3, Surplus: Take}, Booked{Kept: 3, Good: 3, Over: 1},
			""},
		"surplus sent back": {Line{Ordered: 3, Came: 1}, Receipt{Came: 4, Good: 2, Bad: 1, Surplus: Return},
			Booked{Kept: 2, Good: 1, Bad: 1, Over: 2}, ""},
		"more than came": {Line{Ordered: 2}, Receipt{Came: 1, Good: 2}, Booked{}, "came"},
		"nothing":        {Line{Ordered: 2}, Receipt{}, Booked{}, "came"},
		"minus":          {Line{Ordered: 2}, Receipt{Came: 1, Good: -1}, Booked{}, "good"},
	} {
		got, err := Book(c.line, c.r)
		if c.says == "" && (err != nil || got != c.want) {
			t.Errorf("%s: %+v, %v; want %+v", name, got, err, c.want)
		}
		if c.says != "" && (err == nil || !strings.Contains(err.Error(), c.says)) {
			t.Errorf("%s: %v names no %s", name, err, c.says)
		}
	}
}

// TestStatesFollow: every pair of states, against the table written out a second time.
func TestStatesFollow(t *testing.T) {
	all := []string{Draft, Sent, Part, Received, Cancelled}
	may := "|draft>sent|draft>cancelled|sent>part received|sent>received|sent>cancelled|sent>draft|" +
		"part received>part received|part received>received|part received>cancelled|"
	for _, a := range all {
		for _, b := range all {
			if err := Follow(a, b); (err == nil) != strings.Contains(may, "|"+a+">"+b+"|") {
				t.Errorf("from %s to %s: %v", a, b, err)
			}
		}
	}
}

// TestSharesAddUp: whatever is shared adds up, and no part is further than one unit from its exact share.
func TestSharesAddUp(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 11))
	for range 500 {
		w := make([]int64, 1+r.IntN(12))
		total := 0.0
		for k := range w {
			w[k] = int64(r.IntN(20000))
			total += float64(w[k])
		}
		sum, got := int64(r.IntN(5000)), int64(0)
		for k, x := range Share(sum, w) {
			got += x
			if total > 0 && math.Abs(float64(x)-float64(sum)*float64(w[k])/total) >= 1 {
				t.Fatalf("%d of %d by %v", x, sum, w)
			}
		}
		if got != sum {
			t.Fatalf("%d shared by %v: %d", sum, w, got)
		}
	}
}

// TestQuantile: definition 7 on 1 to 10 gives 5.5 and 9.1, as the default of the statistics program R does (from memory).
func TestQuantile(t *testing.T) {
	list := []float64{10, 1, 9, 2, 8, 3, 7, 4, 6, 5}
	if a, b := Quantile(list, 0.5), Quantile(list, 0.9); math.Abs(a-5.5) > 1e-9 || math.Abs(b-9.1) > 1e-9 {
		t.Errorf("%v, %v", a, b)
	}
}
