package desk

import (
	"cmp"
	"math"
	"slices"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/core/basket"
	"waryowl/internal/core/money"
	"waryowl/internal/store"
)

// Cheapest is the least price of one piece for a slot, in the workshop's currency; a copy counts only where there is
// nothing else.
func (d *Desk) Cheapest(slot string) (float64, bool) {
	best, found, copied := 0.0, false, false
	for _, o := range d.Offers {
		if o.Covers[slot] == 0 || o.Stock == 0 {
			continue
		}
		price, ok := d.In(float64(o.Price), o.Currency)
		if ok && len(o.Covers) == 1 {
			price /= float64(o.Covers[slot])
		}
		c := o.Grade == "copy"
		if ok && (!found || copied && !c || c == copied && price < best) {
			best, found, copied = price, true, c
		}
	}
	return math.Round(best), found
}

// In turns an amount into the workshop's currency.
func (d *Desk) In(amount float64, currency string) (float64, bool) {
	if currency == d.Workshop.Currency {
		return amount, true
	}
	for _, r := range d.Rates() {
		if r.From == currency && r.To == d.Workshop.Currency {
			of := money.Amount{Minor: int64(math.Floor(amount + 0.5)), Currency: currency}
			return float64(of.At(r.Rate, r.To).Minor), true
		}
	}
	return 0, false
}

// Rates are the newest rates of exchange, one for each pair.
func (d *Desk) Rates() []basket.Rate {
	var list []basket.Rate
	for _, x := range d.Exchanges { // the newest comes first
		if !slices.ContainsFunc(list, func(r basket.Rate) bool { return r.From == x.From && r.To == x.To }) {
			list = append(
				list,
				basket.Rate{From: x.From, To: x.To, Rate: x.Rate, Date: x.RatedOn.Format(time.DateOnly)},
			)
		}
	}
	return list
}

// MinorRates are the rates as an engine takes them that counts in minor units: where two currencies have not as many
// digits, the rate of a minor unit is another than that of a whole one.
func (d *Desk) MinorRates() []basket.Rate {
	list := d.Rates()
	for i := range list {
		r := &list[i]
		r.Rate *= math.Pow10(money.Digits(cmp.Or(r.To, d.Workshop.Currency)) - money.Digits(r.From))
	}
	return list
}

// Price is the newest price of something in the workshop's currency.
func (d *Desk) Price(modelID, what string) (float64, bool) {
	for _, p := range d.Prices {
		if p.What == what && p.ModelID == modelID && p.Currency == d.Workshop.Currency {
			return float64(p.Price), true
		}
	}
	var paid []int64 // no price is set: what closed jobs of the kind were paid, the middle one
	for _, w := range d.Work {
		if w.ModelID == modelID && w.Job == what && w.Status == "closed" && w.Price > 0 &&
			w.Currency == d.Workshop.Currency {
			paid = append(paid, w.Price)
		}
	}
	if len(paid) == 0 {
		return 0, false
	}
	slices.Sort(paid)
	return float64(paid[(len(paid)-1)/2]), true
}

// Money says an amount of minor units in its currency, rounded half up.
func Money(minor float64, currency string) string {
	return money.Amount{Minor: int64(math.Floor(minor + 0.5)), Currency: currency}.String()
}

// Settings is a desk with the office's settings and the rates alone: what amounts are shown with.
func Settings(db *gorm.DB) (Desk, error) {
	office, err := store.List[store.Workshop](db.Limit(1), "id", "1 = 1")
	if err != nil {
		return Desk{}, err
	}
	d := Desk{Workshop: of(office)}
	return d, table(db, &d.Exchanges, "rated_on DESC, id DESC", "1 = 1", nil)
}

// Minor is an amount as somebody typed it, in minor units of its currency.
func Minor(amount float64, currency string) float64 { return float64(money.Of(amount, currency).Minor) }
