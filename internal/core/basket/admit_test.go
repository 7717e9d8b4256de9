package basket

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"waryowl/internal/core/fault"
)

// two is a slot with a cheap offer and a dear one.
func two(cheap Offer) Input {
	cheap.ID, cheap.Seller, cheap.Price, cheap.Covers, cheap.Grade, cheap.Stock = "cheap", "s", 1000,
		map[string]int{"battery": 1}, "original", 9
	if cheap.Code == "" {
		cheap.Code = "c"
	}
	return Input{Currency: "CAD", Slots: []Slot{{ID: "battery"}}, Sellers: []Seller{{ID: "s"}}, DefectWeight: new(0.0),
		DefectPrior: map[string]float64{"original": 0}, Offers: []Offer{cheap, {ID: "dear", Seller: "s", Price: 1800,
			Covers: map[string]int{"battery": 1}, Grade: "original", Stock: 9, Code: "d"}}}
}

// TestWhatIsLeftOut: lots that failed, pieces that do not fit or lose functions stay out with their reason, are
// priced by the loss, or come back by somebody who says why.
func TestWhatIsLeftOut(t *testing.T) {
	half := func(serves float64, lost ...string) *Fitness {
		return &Fitness{Serves: serves, Grade: "half", Lost: lost}
	}
	sure := []Override{{"cheap", "tested one by one", "ann"}}
	for name, c := range map[string]struct {
		offer  Offer
		change func(*Input)
		buys   string
		why    string
		loss   float64
		sign   string // of the line: warned, note, override
	}{
		"nothing against it": {Offer{}, nil, "cheap", "", 0, ""},
		"its lot failed":     {Offer{LotFailed: &LotFailed{3, 14}}, nil, "dear", "lot_failed", 0, ""},
		"failed, taken all same": {Offer{LotFailed: &LotFailed{3, 14}}, func(in *Input) { in.Overrides = sure }, "cheap",
			"", 0, "ann"},
		"does not fit":             {Offer{Fit: half(0.24)}, nil, "dear", "does_not_fit", 0, ""},
		"does not fit, overridden": {Offer{Fit: half(0.24)}, func(in *Input) { in.Overrides = sure }, "cheap", "", 0, "ann"},
		"fits":                     {Offer{Fit: half(0.8)}, nil, "cheap", "", 0, ""},
		"nobody tried it":          {Offer{Fit: &Fitness{Serves: 0.1, Grade: "shut"}}, nil, "cheap", "", 0, untried},
		"loses a function":         {Offer{Fit: half(0.24, "auto-brightness")}, nil, "dear", "loses", 0, ""},
		"loses, no way round": {Offer{Fit: half(0.24, "auto-brightness")}, func(in *Input) { in.Overrides = sure },
			"dear", "loses", 0, ""},
		"loses, a low price for it": {Offer{Fit: half(0.24, "auto-brightness")}, func(in *Input) {
			in.Missing, in.Values = "price", map[string]float64{"auto-brightness": 500}
		}, "cheap", "", 500, "auto-brightness"},
		"loses, a high price": {Offer{Fit: half(0.24, "auto-brightness")}, func(in *Input) {
			in.Missing, in.Values = "price", map[string]float64{"auto-brightness": 900}
		}, "dear", "", 0, ""},
		"loses, no price set": {Offer{Fit: half(0.24, "auto-brightness")}, func(in *Input) { in.Missing = "price" }, "dear",
			"no_value", 0, ""},
		"loses, warned of": {Offer{Fit: half(0.9, "auto-brightness")}, func(in *Input) { in.Missing = "warn" }, "cheap",
			"", 0, "auto-brightness"},
		"an older list": {Offer{Code: "D ", Date: "2026-11-01"}, func(in *Input) {
			in.Offers[1].Date = "2026-11-20"
		}, "dear", "", 0, ""},
		"a newer list": {Offer{Code: "d", Date: "2026-11-20"}, func(in *Input) { in.Offers[1].Date = "2026-11-01" },
			"cheap", "", 0, ""},
	} {
		in := two(c.offer)
		if c.change != nil {
			c.change(&in)
		}
		out, err := Solve(in)
		if err != nil {
			t.Fatal(name, err)
		}
		why := ""
		if len(out.Excluded) > 0 {
			why = out.Excluded[0].Why
		}
		l := out.Lines[0]
		sign := fmt.Sprint(strings.Join(l.Warned, ""), l.Note)
		if l.Override != nil {
			sign += l.Override.Who
		}
		if l.Offer != c.buys || why != c.why || l.Loss != c.loss || sign != c.sign || out.Loss != c.loss ||
			math.Abs(out.Expected-out.Invoice-out.Rebuy-out.Loss) > 1e-9 {
			t.Errorf("%s: %+v, left out %+v, loss %g of %g", name, l, out.Excluded, out.Loss, out.Expected)
		}
	}
	// Left without an offer, the slot is named.
	in := two(Offer{LotFailed: &LotFailed{3, 14}})
	in.Offers = in.Offers[:1]
	if out, err := Solve(in); err != nil || len(out.Unpriced) != 1 || len(out.Excluded) != 1 {
		t.Errorf("%+v, %v", out.Unpriced, err)
	}
}

// TestTotalsInOtherMoney: a total is worked out from the unrounded amount and rounded once; a stated total may be in
// other money.
func TestTotalsInOtherMoney(t *testing.T) {
	in := two(Offer{})
	in.Rates = []Rate{{From: "USD", Rate: 1.36, Date: "2026-11-20"}}
	in.Show, in.StatedTotal, in.StatedIn = []string{"CAD", "USD"}, new(700.0), "USD"
	out, err := Solve(in)
	if err != nil {
		t.Fatal(err)
	}
	if usd := out.Totals["USD"]; usd != (Total{735, 735, "2026-11-20"}) || out.Totals["CAD"] != (Total{1000, 1000, ""}) {
		t.Errorf("%+v", out.Totals) // 1000 / 1.36 = 735.29
	}
	if *out.StatedGap != 952-1000 || !strings.Contains(out.Questions[0].Fact, "952 CAD (700 USD)") {
		t.Errorf("stated: %g, %+v", *out.StatedGap, out.Questions)
	}
}

func TestOverridesAndFitsMustBe(t *testing.T) {
	for field, change := range map[string]func(*Input){
		"overrides[0].offer":     func(in *Input) { in.Overrides = []Override{{"none", "why", "who"}} },
		"overrides[0].why":       func(in *Input) { in.Overrides = []Override{{"cheap", " ", "who"}} },
		"overrides[0].who":       func(in *Input) { in.Overrides = []Override{{"cheap", "why", ""}} },
		"function_values.x":      func(in *Input) { in.Values = map[string]float64{"x": -1} },
		"offers[0].lot_failed.k": func(in *Input) { in.Offers[0].LotFailed = &LotFailed{3, 2} },
		"offers[0].fit.serves":   func(in *Input) { in.Offers[0].Fit = &Fitness{Serves: 1.1, Grade: "half"} },
		"offers[0].fit.grade":    func(in *Input) { in.Offers[0].Fit = &Fitness{Grade: "wide"} },
		"offers[0].fit.level":    func(in *Input) { in.Offers[0].Fit = &Fitness{Grade: "half", Level: "so so"} },
		"missing_functions":      func(in *Input) { in.Missing = "perhaps" },
		"rates":                  func(in *Input) { in.Show = []string{"SEK"} },
		"offers[1].date":         func(in *Input) { in.Offers[1].Date = "yesterday" },
	} {
		in := two(Offer{})
		change(&in)
		_, err := Solve(in)
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}
