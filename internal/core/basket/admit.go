package basket

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/civil"
	"waryowl/internal/core/fit"
)

// admitted says whether an offer enters, what its lost functions cost, and what stands beside its line.
type admitted struct {
	out      bool
	loss     float64
	warned   []string
	note     string
	override *Override
}

// untried stands at a piece that nobody fitted.
const untried = "nobody tried it"

// admit leaves out lots that failed, pieces that do not fit and pieces that lose functions, with the reason; of two
// offers of one identity only the newest enters.
func (in *Input) admit(out *Output) {
	in.admitted = make([]admitted, len(in.Offers))
	for k, o := range in.Offers {
		a := &in.admitted[k]
		if slices.ContainsFunc(in.Offers, func(other Offer) bool {
			return other.ID != o.ID && same(o, other) &&
				newer(other, o)
		}) {
			a.out = true
			continue
		}
		if i := slices.IndexFunc(in.Overrides, func(x Override) bool { return x.Offer == o.ID }); i >= 0 {
			a.override = &in.Overrides[i]
		}
		leave := func(why, fact string) {
			a.out = true
			out.Excluded = append(out.Excluded, Excluded{o.ID, why, fact})
		}
		used := false // the override brought it back
		if f := o.LotFailed; f != nil {
			if a.override == nil {
				leave("lot_failed", fmt.Sprintf("%d of %d inspected pieces were bad", f.K, f.N))
				continue
			}
			used = true
		}
		if f := o.Fit; f != nil {
			switch {
			case f.Grade == "shut":
				a.note = untried
			case f.Serves < 0.5 && slices.Index(fit.Ladder, f.level()) < slices.Index(fit.Ladder, "lost"):
				if a.override == nil {
					leave("does_not_fit", fmt.Sprintf("it serves in %.0f of 100", 100*f.Serves))
					continue
				}
				used = true
			case len(f.Lost) > 0 || f.Serves < 0.5 && f.level() == "lost":
				if why, fact := in.loses(f, a); why != "" {
					leave(why, fact)
					continue
				}
			}
		}
		if !used {
			a.override = nil
		}
	}
}

func (f Fitness) level() string {
	switch {
	case f.Level != "":
		return f.Level
	case len(f.Lost) > 0:
		return "lost"
	}
	return fit.Ladder[0]
}

// loses says why a piece that loses functions is left out, or prices or names what it loses.
func (in *Input) loses(f *Fitness, a *admitted) (why, fact string) {
	names := strings.Join(f.Lost, ", ")
	switch in.Missing {
	case "warn":
		a.warned = slices.Clone(f.Lost)
		return "", ""
	case "price":
		if len(f.Lost) == 0 {
			return "no_value", "which functions it loses is not known"
		}
		for _, name := range f.Lost {
			v, known := in.Values[name]
			if !known {
				return "no_value", "no value is set for " + name
			}
			a.loss += v
		}
		a.warned = slices.Clone(f.Lost)
		return "", ""
	}
	if names == "" {
		names = "functions"
	}
	return "loses", "it loses " + names
}

// same says whether two offers are one: of one seller with one code; else, unless both have a code, with the same
// slots and counts, grade and lot.
func same(a, b Offer) bool {
	plain := func(s string) string { return strings.Join(strings.Fields(strings.ToLower(s)), " ") }
	switch {
	case a.Seller != b.Seller:
		return false
	case a.Code != "" && b.Code != "":
		return plain(a.Code) == plain(b.Code)
	case a.Code == "" && b.Code == "" && a.Date == "" && b.Date == "":
		return false // nothing says that one of them is a later list
	}
	if a.Grade != b.Grade || plain(a.Defects.Lot) != plain(b.Defects.Lot) || len(a.Covers) != len(b.Covers) {
		return false
	}
	for s, n := range a.Covers {
		if b.Covers[s] != n {
			return false
		}
	}
	return true
}

// newer says whether an offer takes the place of another: the newest date, then the greatest id.
func newer(a, b Offer) bool {
	if a.Date != b.Date {
		return a.Date > b.Date
	}
	return a.ID > b.ID
}

// total gives the basket in the currencies that are wanted: from the unrounded amounts, rounded half up once.
func (in *Input) total(out *Output) {
	for _, c := range in.Show {
		rate, at := 1.0, ""
		if c != in.Currency {
			for _, r := range in.Rates {
				if r.From == c && (r.To == "" || r.To == in.Currency) {
					rate, at = r.Rate, r.Date
					break
				}
			}
		}
		half := func(v float64) int64 { return int64(math.Floor(v/rate + 0.5 + 1e-9)) }
		out.Totals[c] = Total{half(out.Expected), half(out.Invoice), at}
	}
}

// checkAdmitted refuses what cannot be said of offers and overrides.
func (in *Input) checkAdmitted() error {
	if !slices.Contains([]string{"", "exclude", "price", "warn"}, in.Missing) {
		return bad("missing_functions", in.Missing, "exclude, price or warn")
	}
	for name, v := range in.Values {
		if !(v >= 0 && v <= dearest) {
			return bad("function_values."+name, v, "minor units, 0 or more")
		}
	}
	for k, o := range in.Overrides {
		at := fmt.Sprintf("overrides[%d]", k)
		switch {
		case !slices.ContainsFunc(in.Offers, func(x Offer) bool { return x.ID == o.Offer }):
			return bad(at+".offer", o.Offer, "the id of an offer")
		case strings.TrimSpace(o.Why) == "":
			return bad(at+".why", o.Why, "why it is taken all the same")
		case strings.TrimSpace(o.Who) == "":
			return bad(at+".who", o.Who, "who says so")
		}
	}
	for k, c := range in.Show {
		if _, err := in.money(c); err != nil || c == "" {
			return bad("rates", c, fmt.Sprintf("a rate of %s in %s, for show[%d]", c, in.Currency, k))
		}
	}
	if _, err := in.money(in.StatedIn); err != nil {
		return err
	}
	for k, o := range in.Offers {
		at := fmt.Sprintf("offers[%d]", k)
		if o.Date != "" {
			if _, err := civil.Day(at+".date", o.Date); err != nil {
				return err
			}
		}
		if f := o.LotFailed; f != nil && (f.K < 0 || f.K > f.N) {
			return bad(at+".lot_failed.k", f.K, "0 to n")
		}
		f := o.Fit
		switch {
		case f == nil:
		case !(f.Serves >= 0 && f.Serves <= 1):
			return bad(at+".fit.serves", f.Serves, "a chance from 0 to 1")
		case !slices.Contains([]string{"shut", "half", "open"}, f.Grade):
			return bad(at+".fit.grade", f.Grade, "shut, half or open")
		case f.Level != "" && !slices.Contains(fit.Ladder, f.Level):
			return bad(at+".fit.level", f.Level, strings.Join(fit.Ladder, ", "))
		}
	}
	return nil
}
