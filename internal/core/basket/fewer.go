package basket

import (
	"context"
	"fmt"
	"math"
	"slices"
)

// mostSets is how many sets of sellers are tried one by one (house): 12 sellers, 4 at a time, are 495.
const mostSets = 600

// fewer is the cheapest basket from at most MaxSellers sellers: every set of that many is solved by itself. Of the sets
// that leave the fewest slots empty the cheapest counts. free is the basket without the limit: no set costs less where
// it fills as much.
func (in Input) fewer(ctx context.Context, free Output) (Output, error) {
	var sell []string
	for _, s := range in.Sellers {
		if slices.ContainsFunc(in.Offers, func(o Offer) bool { return o.Seller == s.ID && o.Stock > 0 }) {
			sell = append(sell, s.ID)
		}
	}
	n := min(in.MaxSellers, len(sell))
	if sets := choose(len(sell), n); sets > mostSets {
		return free, bad("max_sellers", in.MaxSellers, fmt.Sprintf("another number: %.0f sets of %d sellers would have to be "+
			"tried, and %d can be", sets, len(sell), mostSets))
	}
	var best Output
	found, proven := false, true
	for _, set := range subsets(sell, n) {
		try := in
		try.MaxSellers, try.Alternatives = 0, false
		try.Offers = slices.DeleteFunc(slices.Clone(in.Offers), func(o Offer) bool { return !slices.Contains(set, o.Seller) })
		try.Overrides = slices.DeleteFunc(slices.Clone(in.Overrides), func(x Override) bool {
			return !slices.ContainsFunc(try.Offers, func(o Offer) bool { return o.ID == x.Offer })
		})
		out, err := solve(ctx, try)
		if err != nil {
			return out, err
		}
		proven = proven && out.Proven
		if less := len(out.Unpriced) - len(best.Unpriced); !found || less < 0 || less == 0 && out.Expected < best.Expected {
			best, found = out, true
		}
	}
	best.Excluded = free.Excluded
	if best.Proven = proven; !proven {
		best.Bound = math.Min(best.Expected, free.Bound)
	}
	return best, nil
}

// choose is how many sets of k there are of n.
func choose(n, k int) float64 {
	x := 1.0
	for i := range k {
		x *= float64(n-i) / float64(i+1)
	}
	return math.Round(x)
}

// subsets are all sets of n of a list, in the order of the list.
func subsets(list []string, n int) [][]string {
	if n == 0 {
		return [][]string{nil}
	}
	var out [][]string
	for i := 0; i+n <= len(list); i++ {
		for _, more := range subsets(list[i+1:], n-1) {
			out = append(out, append([]string{list[i]}, more...))
		}
	}
	return out
}

// Bill is what a seller asks for packs of a value, in minor units of the seller's currency: what the best coupon takes
// off and what sending costs. Halves are rounded up, as everywhere in a basket.
func Bill(s Seller, subtotal int64) (discount, shipping int64) {
	in := Input{Currency: s.Currency}
	modes, err := in.modes(s)
	if err != nil { // one currency needs no rate
		return 0, s.Shipping
	}
	m := (&seller{modes: modes}).best(float64(subtotal))
	round := func(x float64) int64 { return int64(math.Floor(x + 0.5)) }
	return min(subtotal, round(float64(subtotal)*m.percent+m.fixed)), round(m.ship)
}
