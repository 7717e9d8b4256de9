package basket

import (
	"fmt"
	"slices"

	"waryowl/internal/core/civil"
)

// check refuses what cannot be meant.
func (in *Input) check() error {
	ids := func(field string, n int, id func(int) string) error {
		seen := map[string]bool{}
		for k := range n {
			if seen[id(k)] || id(k) == "" {
				return bad(fmt.Sprintf("%s[%d].id", field, k), id(k), "an id that stands once")
			}
			seen[id(k)] = true
		}
		return nil
	}
	switch {
	case in.Currency == "":
		return bad("currency", "", "a currency")
	case len(in.Slots) > 200:
		return bad("slots", len(in.Slots), "at most 200")
	case len(in.Offers) > 2000:
		return bad("offers", len(in.Offers), "at most 2,000")
	case len(in.Sellers) > 100:
		return bad("sellers", len(in.Sellers), "at most 100")
	case in.Effort < 0 || in.Effort > 1e8:
		return bad("effort", in.Effort, "0 (the usual) to 100,000,000")
	case in.DeadlineDays != nil && !(*in.DeadlineDays >= 0):
		return bad("deadline_days", *in.DeadlineDays, "0 or more")
	case in.DefectWeight != nil && !(*in.DefectWeight >= 0 && *in.DefectWeight < 1e9):
		return bad("defect_weight", *in.DefectWeight, "0 or more")
	}
	if in.Today != "" {
		if _, err := civil.Day("today", in.Today); err != nil {
			return err
		}
	}
	for grade, m := range in.DefectPrior {
		if _, known := priorBad[grade]; !known || !(m >= 0 && m < 1) {
			return bad("defect_prior."+grade, m, "original, used or copy; from 0 to below 1")
		}
	}
	for k, r := range in.Rates {
		if !(r.Rate > 0 && r.Rate < 1e12) {
			return bad(fmt.Sprintf("rates[%d].rate", k), r.Rate, "above 0")
		}
		if r.Date != "" {
			if _, err := civil.Day(fmt.Sprintf("rates[%d].date", k), r.Date); err != nil {
				return err
			}
		}
	}
	if err := ids("slots", len(in.Slots), func(k int) string { return in.Slots[k].ID }); err != nil {
		return err
	}
	if err := ids("sellers", len(in.Sellers), func(k int) string { return in.Sellers[k].ID }); err != nil {
		return err
	}
	if err := ids("offers", len(in.Offers), func(k int) string { return in.Offers[k].ID }); err != nil {
		return err
	}
	quantity := map[string]int{}
	for k, s := range in.Slots {
		at := fmt.Sprintf("slots[%d]", k)
		if quantity[s.ID] = s.quantity(); s.quantity() < 1 || s.quantity() > 10000 {
			return bad(at+".quantity", s.quantity(), "1 to 10,000")
		}
		for _, g := range s.Grades {
			if _, known := priorBad[g]; !known {
				return bad(at+".grades", g, "original, used, copy")
			}
		}
	}
	set := map[string]bool{}
	for k, b := range in.Bound {
		at := fmt.Sprintf("bound[%d]", k)
		for _, s := range b {
			switch {
			case quantity[s] == 0:
				return bad(at, s, "a slot")
			case set[s]:
				return bad(at, s, "a slot that stands in one set")
			case quantity[s] != quantity[b[0]]:
				return bad(at, s, "slots of one quantity")
			}
			set[s] = true
		}
	}
	return in.checkSales(quantity)
}

const dearest = 1e13 // minor units: sums stay exact

func (in *Input) checkSales(quantity map[string]int) error {
	for k, s := range in.Sellers {
		at := fmt.Sprintf("sellers[%d]", k)
		if _, err := in.money(s.Currency); err != nil {
			return err
		}
		for name, v := range map[string]int64{"shipping": s.Shipping, "free_above": s.FreeAbove} {
			if v < 0 || v > dearest {
				return bad(at+"."+name, v, "0 or more")
			}
		}
		if len(s.Coupons) > 3 {
			return bad(at+".coupons", len(s.Coupons), "at most 3")
		}
		for n, c := range s.Coupons {
			at := fmt.Sprintf("%s.coupons[%d]", at, n)
			switch {
			case c.Percent != 0 && c.Fixed != 0:
				return bad(at, "both", "percent or fixed")
			case !(c.Percent >= 0 && c.Percent <= 50):
				return bad(at+".percent", c.Percent, "0 to 50")
			case c.Fixed < 0 || c.Fixed > dearest:
				return bad(at+".fixed", c.Fixed, "0 or more")
			case c.Above < 0 || c.Above > dearest:
				return bad(at+".above", c.Above, "0 or more")
			}
		}
	}
	for k, o := range in.Offers {
		at := fmt.Sprintf("offers[%d]", k)
		if _, known := priorBad[o.Grade]; !known {
			return bad(at+".grade", o.Grade, "original, used, copy")
		}
		if !slices.ContainsFunc(in.Sellers, func(s Seller) bool { return s.ID == o.Seller }) {
			return bad(at+".seller", o.Seller, "one of the sellers")
		}
		if _, err := in.money(o.Currency); err != nil {
			return err
		}
		switch {
		case o.Price < 0 || o.Price > dearest:
			return bad(at+".price", o.Price, "0 or more")
		case o.Stock < 0:
			return bad(at+".stock", o.Stock, "0 or more")
		case o.Defects.K < 0 || o.Defects.K > o.Defects.N:
			return bad(at+".defects.k", o.Defects.K, "0 to n")
		case !(o.Returns.Refund >= 0 && o.Returns.Refund <= 1):
			return bad(at+".returns.refund", o.Returns.Refund, "0 to 1")
		case o.Returns.Cost < 0 || o.Returns.Cost > dearest:
			return bad(at+".returns.cost", o.Returns.Cost, "0 or more")
		case !(o.LeadDays >= 0):
			return bad(at+".lead_days", o.LeadDays, "0 or more")
		case len(o.Covers) == 0:
			return bad(at+".covers", "nothing", "at least one slot")
		}
		for s, n := range o.Covers {
			if quantity[s] == 0 {
				return bad(at+".covers", s, "one of the slots")
			}
			if n < 1 || n > 1e6 {
				return bad(at+".covers."+s, n, "1 or more")
			}
		}
	}
	if err := in.checkAdmitted(); err != nil {
		return err
	}
	if c := in.Compare; c != nil {
		switch {
		case !(c.Salvage >= 0):
			return bad("compare.salvage", c.Salvage, "0 or more")
		case !(c.Refurbished > c.Salvage && c.Refurbished < dearest):
			return bad("compare.refurbished", c.Refurbished, "more than salvage")
		case c.Survival != nil && !(*c.Survival > 0 && *c.Survival <= 1):
			return bad("compare.survival", *c.Survival, "above 0, at most 1")
		case !(c.LabourSeconds >= 0):
			return bad("compare.labour_seconds", c.LabourSeconds, "0 or more")
		case !(c.LabourPerHour >= 0):
			return bad("compare.labour_per_hour", c.LabourPerHour, "0 or more")
		}
	}
	return nil
}
