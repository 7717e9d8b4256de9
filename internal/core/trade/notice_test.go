package trade

import "testing"

// TestSameNotice: common practice, no source; the words are made up.
func TestSameNotice(t *testing.T) {
	for _, c := range []struct {
		a, b string
		same bool
	}{
		{"Important battery message", "battery notice", true},
		{"Important battery message", "Important display message", false},
		{"Unknown part: display", "Screen could not be verified", true},
		{"Not a genuine display", "display unconfirmed", true},
		{"Not a genuine display", "genuine display", false},
		{"Non-genuine battery", "battery: unknown component", true},
		{"Battery replaced", "battery was exchanged", true},
		{"Battery service recommended", "battery health unknown", false},
		{"Camera unknown", "front camera unknown", false},
		{"", "", false},
	} {
		for _, s := range []float64{SameNotice(c.a, c.b), SameNotice(c.b, c.a)} {
			if (s >= 0.5) != c.same {
				t.Errorf("%q, %q: %.2f", c.a, c.b, s)
			}
		}
	}
}
