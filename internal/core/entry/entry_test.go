package entry

import (
	"slices"
	"testing"
)

// TestConditions: each finding meets its own condition and no other (common practice, no source); a swollen cell
// forbids opening.
func TestConditions(t *testing.T) {
	whole := Phone{Off: true, Tray: true, Protection: true, Guide: true, Charge: 25, Swelling: "flat", Liquid: "red",
		Data: "erased", Lock: "none"}
	open := func(p Phone) (codes []string) {
		for _, c := range Conditions(p) {
			if !c.Met {
				codes = append(codes, c.Code)
			}
		}
		return codes
	}
	if got := open(whole); got != nil {
		t.Errorf("a phone that may be opened lacks %v", got)
	}
	for code, change := range map[string]func(*Phone){"off": func(p *Phone) { p.Off = false },
		"charge": func(p *Phone) { p.Charge = 25.1 },
		"flat":   func(p *Phone) { p.Swelling = "swollen" },
		"liquid": func(p *Phone) { p.Liquid = "" }, "lock": func(p *Phone) { p.Lock = "unknown" }} {
		p := whole
		change(&p)
		if got := open(p); !slices.Equal(got, []string{code}) {
			t.Errorf("%s: %v", code, got)
		}
	}
	unknown := whole
	unknown.Charge = -1
	if got := open(unknown); !slices.Equal(got, []string{"charge"}) {
		t.Errorf("a charge that nobody read: %v", got)
	}
	swollen := whole
	swollen.Swelling = "swollen"
	if !slices.ContainsFunc(Conditions(swollen), func(c Condition) bool { return c.Stop }) {
		t.Error("a swollen cell does not stop")
	}
}
