package needs

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/app/desk"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/basket"
)

// oldDays is from when on a price says how old it is (house).
const oldDays = 30

// show says a basket in words.
func (a *asker) show(found basket.Output) Basket {
	v := Basket{Currency: a.d.Workshop.Currency, Sellers: []Part{}, Empty: []string{}, Left: []Left{}, Unrated: a.unrated,
		Spare: []string{}, Rates: []string{}, Others: []string{}, Proven: found.Proven, Document: a.in}
	if v.Unrated == nil {
		v.Unrated = []string{}
	}
	if v.Document.Offers == nil { // nothing is to be had: the engine is not asked
		v.Document.Offers, v.Document.Sellers = []basket.Offer{}, []basket.Seller{}
		for _, x := range a.slots {
			found.Unpriced = append(found.Unpriced, x.id)
		}
		v.Proven = true
	}
	sum, sent := 0.0, 0.0
	for _, s := range found.Sellers {
		p := Part{ID: s.Seller, Name: a.sellers[s.Seller].Name, Shipping: a.money(s.Shipping),
			Total: a.money(s.Subtotal - s.Discount + s.Shipping), Lines: []Line{}}
		if s.Discount > 0 {
			p.Coupon = a.money(-s.Discount)
		}
		most := 0.0
		for _, l := range found.Lines {
			if o := a.offers[l.Offer]; o.SellerID == s.Seller {
				p.Lines = append(p.Lines, a.line(l))
				days := a.days[s.Seller][0]
				if o.LeadDays > 0 {
					days = o.LeadDays
				}
				most = math.Max(most, days)
			}
		}
		p.Days = "days not known"
		if most > 0 {
			p.Days = fmt.Sprintf("in %s", answer.Counted(int(math.Ceil(most)), "day"))
		}
		sum, sent = sum+s.Subtotal-s.Discount, sent+s.Shipping
		v.Sellers = append(v.Sellers, p)
		if c := a.sellers[s.Seller].Currency; c != v.Currency {
			for _, r := range a.d.Rates() {
				if r.From == c {
					text := fmt.Sprintf("1 %s = %g %s of %s", r.From, r.Rate, v.Currency, r.Date)
					if !slices.Contains(v.Rates, text) {
						v.Rates = append(v.Rates, text)
					}
				}
			}
		}
	}
	for _, r := range a.d.Rates() {
		if r.To == v.Currency && !slices.Contains(v.Others, r.From) {
			v.Others = append(v.Others, r.From)
		}
	}
	for _, c := range a.in.Show {
		if x, known := found.Totals[c]; known {
			v.Other = desk.Money(float64(x.Invoice), c) + " at the rate of " + x.At
		}
	}
	v.Parts, v.Delivery, v.Total = a.money(sum), a.money(sent), a.money(sum+sent)
	if found.Loss >= 0.5 {
		v.Loss = a.money(found.Loss)
	}
	if found.Rebuy >= 0.5 {
		v.Again = a.money(found.Rebuy)
	}
	if !v.Proven && found.Expected > 0 {
		v.Gap = fmt.Sprintf("at most %.1f %% above the cheapest", 100*(found.Expected-found.Bound)/found.Expected)
	}
	for _, x := range found.Spare {
		if k := slices.IndexFunc(a.slots, func(s slot) bool { return s.id == x.Slot }); k >= 0 {
			v.Spare = append(v.Spare, fmt.Sprintf("%d %s", x.Quantity, a.slots[k].need.Name))
		}
	}
	for _, x := range found.Excluded {
		o := a.offers[x.Offer]
		v.Left = append(v.Left, Left{OfferID: o.ID, Title: titled(o.Title, o.Lot), Seller: a.sellers[o.SellerID].Name,
			Why: x.Fact, May: x.Why == "lot_failed" || x.Why == "does_not_fit"})
	}
	for _, id := range found.Unpriced {
		k := slices.IndexFunc(a.slots, func(s slot) bool { return s.id == id })
		v.Empty = append(v.Empty, a.empty(a.slots[k], found.Excluded))
	}
	for _, s := range a.slots {
		if s.asked > 0 && !slices.Contains(found.Unpriced, s.id) {
			v.Empty = append(v.Empty, fmt.Sprintf("%s for the %s: only %d of %d are to be had", s.need.Name, s.need.Models[0].Name,
				s.n, s.asked))
		}
	}
	for _, q := range found.Questions {
		if q.Code == "total" {
			v.Stated = q.Fact
		}
	}
	if v.Stated == "" && a.in.StatedTotal != nil && found.StatedGap != nil && math.Abs(*found.StatedGap) < 1 {
		v.Stated = "the total that was written agrees"
	}
	v.say(found, a)
	return v
}

func titled(title, lot string) string {
	if lot == "" || strings.Contains(title, lot) {
		return title
	}
	return title + ", lot " + lot
}

// line says a bought offer.
func (a *asker) line(l basket.Line) Line {
	o := a.offers[l.Offer]
	x := Line{OfferID: o.ID, Title: o.Title, Packs: l.Packs, Each: a.money(l.Price), Sum: a.money(l.Price * float64(l.Packs))}
	why := []string{o.Grade}
	if k, n := a.d.Defects(o); n > 0 {
		why = append(why, fmt.Sprintf("%d of %d bad so far", k, n))
	}
	if o.Lot != "" && !strings.Contains(o.Title, o.Lot) {
		why = append(why, "lot "+o.Lot)
	}
	for _, s := range a.slots {
		if serves(o, s.need) {
			var names []string
			for _, m := range s.need.Models {
				names = append(names, m.Name)
			}
			why = append(why, "for the "+strings.Join(names, " and "))
			break
		}
	}
	if len(l.Warned) > 0 {
		why = append(why, "loses "+strings.Join(l.Warned, ", "))
	}
	if l.Note != "" {
		why = append(why, l.Note)
	}
	if l.Override != nil {
		x.Note = fmt.Sprintf("against the advice by %s: %s", l.Override.Who, l.Override.Why)
	}
	if age := desk.Days(a.now, o.PricedOn); age > oldDays {
		x.Old = age
		why = append(why, fmt.Sprintf("priced %d days ago", age))
	}
	x.Why = strings.Join(why, ", ")
	return x
}

// empty says why a need stays empty.
func (a *asker) empty(s slot, out []basket.Excluded) string {
	text := fmt.Sprintf("%d %s for the %s: ", s.n, s.need.Name, s.need.Models[0].Name)
	for _, x := range out {
		if o := a.offers[x.Offer]; serves(o, s.need) {
			return text + "the only offers were left out, " + titled(o.Title, o.Lot) + ": " + x.Fact
		}
	}
	switch {
	case slices.ContainsFunc(a.in.Offers, func(o basket.Offer) bool { return o.Covers[s.id] > 0 }):
		return text + "no offer within the wishes"
	case s.need.Offers > 0:
		return text + "no offer of a grade that may be bought"
	}
	return text + "no offer"
}

func (v *Basket) say(found basket.Output, a *asker) {
	packs := 0
	for _, x := range a.slots {
		if !slices.ContainsFunc(found.Unpriced, func(id string) bool { return id == x.id }) {
			packs += x.n
		}
	}
	if packs == 0 {
		v.Answer = answer.Sentence{answer.Text("Nothing of this can be bought as it stands: no offer fits.")}
	} else {
		v.Answer = answer.Sentence{answer.Text("Order "), answer.Count(packs, "part", "#basket"), answer.Text(" from "),
			answer.Count(len(v.Sellers), "seller", "#basket"), answer.Text(" for "), answer.Name(v.Total, "#basket")}
		if n := len(found.Unpriced); n > 0 {
			v.Answer = append(v.Answer, answer.Text("; "), answer.Number(float64(n), "", "#empty"), answer.Text(verb(n, "has", "have")+
				" no offer"))
		}
		v.Answer = append(v.Answer, answer.Text("."))
	}
	if len(v.Left) > 0 {
		v.Answer = append(v.Answer, answer.Text(" Left out: "), answer.Name(v.Left[0].Title, "#left"),
			answer.Text(", "+v.Left[0].Why))
		if n := len(v.Left) - 1; n > 0 {
			v.Answer = append(v.Answer, answer.Text(fmt.Sprintf(", and %d more", n)))
		}
		v.Answer = append(v.Answer, answer.Text("."))
	}
}

func verb(n int, one, more string) string {
	if n == 1 {
		return " " + one
	}
	return " " + more
}
