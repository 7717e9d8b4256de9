// Package order follows a purchase order from its draft to its last piece: which state may follow which, what it costs
// and what each line costs with its share of sending, what a receipt leaves open, and what is claimed for bad pieces.
//
//	order.Follow("sent", "received")          // nil, or an error that names the states which may follow
//	order.Share(1200, []int64{8400, 184000}) // [52, 1148]: the parts add up to the whole
//
// Amounts are whole minor units of one currency.
package order

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
)

// The states of an order.
const (
	Draft     = "draft"
	Sent      = "sent"
	Part      = "part received"
	Received  = "received"
	Cancelled = "cancelled"
)

// follows are the states that a person or a receipt may lead to.
var follows = map[string][]string{
	Draft: {Sent, Cancelled},
	Sent:  {Part, Received, Cancelled, Draft},
	Part:  {Part, Received, Cancelled},
}

// Follow refuses a state that may not follow another; sent goes back to draft within its day only, which the caller
// says.
func Follow(from, to string) error {
	if slices.Contains(follows[from], to) {
		return nil
	}
	allowed := "nothing: a " + from + " order stays as it is"
	if list := follows[from]; len(list) > 0 {
		allowed = strings.Join(list, ", ")
	}
	return fault.New("state", to, allowed)
}

// Open says whether pieces of an order are still to come.
func Open(state string) bool { return state == Sent || state == Part }

// Line is a line of an order: packs ordered, and what became of them.
type Line struct {
	Ordered    int // packs
	Came       int // packs of the right kind that were kept, good, bad or not looked at yet
	WrittenOff int
}

// Open are the packs that are still to come.
func (l Line) Open() int { return max(0, l.Ordered-l.Came-l.WrittenOff) }

// State is that of an order after a receipt: received once no line has anything open.
func State(lines []Line) string {
	for _, l := range lines {
		if l.Open() > 0 {
			return Part
		}
	}
	return Received
}

// What becomes of packs beyond those that were ordered.
const (
	Take   = "take"
	Return = "return"
	Refuse = "refuse"
)

// Receipt is what came of one line, in packs. What is none of good, bad and wrong was not looked at yet.
type Receipt struct {
	Came, Good, Bad, Wrong int
	Surplus                string // take, return, refuse: where more came than was open
}

// Booked is what a receipt does: packs kept toward the line, those of them not looked at, and those beyond it.
type Booked struct {
	Kept, Good, Bad, Unseen, Wrong int
	Over                           int // kept or sent back, as Surplus says
}

// Book works a receipt out against a line. Wrong packs never fill a line. A surplus that is not taken is made up of
// packs that were not looked at first, then of good ones: what is bad is claimed all the same.
func Book(l Line, r Receipt) (Booked, error) {
	for _, x := range []struct {
		field string
		n     int
	}{{"came", r.Came}, {"good", r.Good}, {"bad", r.Bad}, {"wrong", r.Wrong}} {
		if x.n < 0 || x.n > 100_000 {
			return Booked{}, fault.New(x.field, x.n, "0 to 100000 packs")
		}
	}
	if sum := r.Good + r.Bad + r.Wrong; sum > r.Came {
		return Booked{}, fault.New("came", r.Came, fmt.Sprintf("at least the %d that are good, bad or wrong", sum))
	}
	if r.Came == 0 {
		return Booked{}, fault.New("came", r.Came, "how many packs came, 1 or more")
	}
	b := Booked{Good: r.Good, Bad: r.Bad, Wrong: r.Wrong, Unseen: r.Came - r.Good - r.Bad - r.Wrong, Kept: r.Came - r.Wrong}
	if over := b.Kept - l.Open(); over > 0 {
		b.Over = over
		switch r.Surplus {
		case Take:
		case Return, Refuse:
			b.Kept -= over
			unseen := min(over, b.Unseen)
			good := min(over-unseen, b.Good)
			b.Unseen, b.Good, b.Bad = b.Unseen-unseen, b.Good-good, b.Bad-(over-unseen-good)
		default:
			return Booked{}, fault.New("surplus", r.Surplus, fmt.Sprintf("take, return or refuse: %d more came than are open",
				over))
		}
	}
	return b, nil
}

// Share parts a sum by weights, in whole units that add up to it: each its share rounded down, the rest to the largest
// remainders, the first line first (Hamilton's method). Weights that are all nothing share alike.
func Share(sum int64, weights []int64) []int64 {
	out := make([]int64, len(weights))
	if len(weights) == 0 {
		return out
	}
	total := 0.0
	for _, w := range weights {
		total += float64(w)
	}
	type rest struct {
		k int
		x float64
	}
	var rests []rest
	left := sum
	for k, w := range weights {
		part := float64(sum) / float64(len(weights))
		if total > 0 {
			part = float64(sum) * float64(w) / total
		}
		out[k] = int64(math.Floor(part + 1e-9))
		left -= out[k]
		rests = append(rests, rest{k, part - float64(out[k])})
	}
	slices.SortStableFunc(rests, func(a, b rest) int { return cmp.Compare(b.x, a.x) })
	for i := range rests {
		if left <= 0 {
			break
		}
		out[rests[i].k]++
		left--
	}
	return out
}

// Landed is what each line costs in the end: its price, its share of sending, less its share of a coupon.
func Landed(values []int64, shipping, discount int64) []int64 {
	ship, off := Share(shipping, values), Share(discount, values)
	out := make([]int64, len(values))
	for k, v := range values {
		out[k] = v + ship[k] - off[k]
	}
	return out
}

// Claim is what a seller owes for bad packs: the share of the price that their terms give back.
func Claim(price int64, packs int, refund float64) int64 {
	return int64(math.Floor(float64(price)*float64(packs)*refund + 0.5))
}

// Due says after how many whole days an order is expected, and after how many it is late: the usual days of the seller,
// and those that nine of ten are there by.
func Due(usual, nineInTen float64) (due, late int) {
	return int(math.Ceil(usual)), int(math.Ceil(math.Max(usual, nineInTen)))
}

// Number is the number of an order: its year and its count of that year.
func Number(year, n int) string { return fmt.Sprintf("%d-%04d", year, n) }

// Quantile is that of a list of days, between the two nearest (R. J. Hyndman, Y. Fan, Sample Quantiles in Statistical
// Packages, The American Statistician 50, 1996, definition 7; from memory). The list is not changed.
func Quantile(days []float64, p float64) float64 {
	if len(days) == 0 {
		return math.NaN()
	}
	list := slices.Sorted(slices.Values(days))
	h := p * float64(len(list)-1)
	k := int(math.Floor(h))
	if k+1 >= len(list) {
		return list[len(list)-1]
	}
	return list[k] + (h-float64(k))*(list[k+1]-list[k])
}
