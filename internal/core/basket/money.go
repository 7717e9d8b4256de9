package basket

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"waryowl/internal/core/civil"
)

// cells is how finely the distribution of the re-buys is worked out.
const cells = 4000

// weigh compares the basket with a refurbished phone.
func (in *Input) weigh(p *problem, out *Output, x []int) {
	c := in.Compare
	if c == nil {
		return
	}
	survival := 1.0
	if c.Survival != nil {
		survival = *c.Survival
	}
	hours := c.LabourSeconds / 3600
	labour := hours * c.LabourPerHour
	ratio, even := out.Expected/c.Refurbished, (out.Expected+labour-c.Salvage)/(c.Refurbished-c.Salvage)
	gain := survival*c.Refurbished + (1-survival)*c.Salvage - out.Expected
	profit := gain - labour
	out.PriceRatio, out.BreakEven, out.Profit = &ratio, &even, &profit
	if hours > 0 {
		rate := gain / hours
		out.PerHour = &rate
	}
	chance := p.dearer(x, c.Refurbished-out.Invoice)
	out.DearerChance = &chance
}

// dearer bounds the chance that the re-buys cost more than room: steps rounded down, and up.
func (p *problem) dearer(x []int, room float64) (chance [2]float64) {
	if room < 0 {
		return [2]float64{1, 1}
	}
	for way := range chance {
		f := make([]float64, cells+1)
		f[0] = 1
		for i, n := range x {
			o := &p.offers[i]
			if n == 0 || o.bad == 0 || o.again == 0 {
				continue
			}
			step := cells + 1
			if at := o.again / room * cells; at < cells+1 {
				if step = int(math.Floor(at + 1e-9)); way == 1 {
					step = int(math.Ceil(at - 1e-9))
				}
			}
			for range n {
				if step == 0 {
					continue // so small that rounding down loses it
				}
				for b := range f {
					f[b] *= 1 - o.bad
					if b >= step {
						f[b] += o.bad * f[b-step]
					}
				}
			}
		}
		left := 1.0
		for _, v := range f {
			left -= v
		}
		chance[way] = max(0, left)
	}
	return chance
}

// What of the input is asked about (house).
const (
	oldDays   = 30
	bigCoupon = 30.0
)

// ask notes what does not go together.
func (in *Input) ask(p *problem, out *Output) {
	add := func(code, fact string) { out.Questions = append(out.Questions, Question{code, fact}) }
	if in.StatedTotal != nil {
		stated, said := *in.StatedTotal, units(*in.StatedTotal)
		if in.StatedIn != "" && in.StatedIn != in.Currency { // compared in the basket's money, said in both
			rate := 1.0
			for _, r := range in.Rates {
				if r.From == in.StatedIn && (r.To == "" || r.To == in.Currency) {
					rate = r.Rate
					break
				}
			}
			stated = math.Floor(stated*rate + 0.5)
			said = fmt.Sprintf("%s %s (%s %s)", units(stated), in.Currency, said, in.StatedIn)
		}
		gap := stated - out.Invoice
		if out.StatedGap = &gap; math.Abs(gap) > penny {
			fact := fmt.Sprintf("%s in lines, %s stated: %s unexplained", units(out.Invoice), said, units(gap))
			if len(out.ForgottenUnpriced) > 0 {
				fact += "; no line for " + strings.Join(out.ForgottenUnpriced, ", ")
			}
			add("total", fact)
		}
	}
	to := func(r Rate) string {
		if r.To == "" {
			return in.Currency
		}
		return r.To
	}
	for k, r := range in.Rates {
		for _, o := range in.Rates[:k] {
			if x := r.Rate * o.Rate; o.From == to(r) && to(o) == r.From && (x < 0.9 || x > 1.1) {
				add("rates", fmt.Sprintf("%s to %s and back makes %.3g of 1", o.From, to(o), x))
			}
		}
		then, e1 := civil.Day("rates.date", r.Date)
		now, e2 := civil.Day("today", in.Today)
		if age := now - then; e1 == nil && e2 == nil && age > oldDays {
			add("old_rate", fmt.Sprintf("the rate of %s is %d days old", r.From, age))
		}
	}
	for _, s := range out.Sellers {
		for _, own := range in.Sellers {
			if own.ID == s.Seller && s.Coupon >= 0 && own.Coupons[s.Coupon].Percent > bigCoupon {
				add("coupon", fmt.Sprintf("%s: a coupon of %g %%", s.Seller, own.Coupons[s.Coupon].Percent))
			}
		}
	}
}

func units(v float64) string { return strconv.FormatFloat(math.Round(v*1000)/1000, 'f', -1, 64) }
