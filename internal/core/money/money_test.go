package money

import "testing"

// TestAmounts: two digits, none and three (ISO 4217, from memory); sums that halves decide go up.
func TestAmounts(t *testing.T) {
	for want, a := range map[string]Amount{"1378.10 EUR": {137810, "EUR"}, "0.05 CAD": {5, "CAD"}, "840 JPY": {840, "JPY"},
		"1.250 KWD": {1250, "KWD"}, "-96.20 CAD": {-9620, "CAD"}, "3.00": {300, ""}} {
		if got := a.String(); got != want {
			t.Errorf("%+v reads %q, want %q", a, got, want)
		}
	}
	if a := Of(12.345, "EUR"); a.Minor != 1235 {
		t.Errorf("12.345 EUR is %d", a.Minor)
	}
	if a := Of(0.5, "JPY"); a.Minor != 1 {
		t.Errorf("half a yen is %d", a.Minor)
	}
	if a := (Amount{183980, "CAD"}).At(0.7353, "USD"); a != (Amount{135280, "USD"}) {
		t.Errorf("1,839.80 CAD at 0.7353 is %v", a)
	}
	if a := (Amount{10000, "JPY"}).At(0.0062, "EUR"); a.String() != "62.00 EUR" {
		t.Errorf("10,000 JPY is %v", a)
	}
}
