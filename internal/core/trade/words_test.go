package trade

import "testing"

func TestSay(t *testing.T) {
	for _, c := range [][3]string{
		{"state", "stranger", "from another phone"}, {"state", "copy@lot-7", "a copy lot-7"},
		{"state", "foreign Drift 3", "from another model Drift 3"}, {"state", "own~", "its own"},
		{"verdict", "works with notice", "works, with a notice"}, {"verdict", "works", "works"},
		{"verdict", "a sentence of its own", "a sentence of its own"}, {"warning", "halt", "halt"}, {"eye", "", ""},
	} {
		if got := Say(c[0], c[1]); got != c[2] {
			t.Errorf("%s %q: %q, want %q", c[0], c[1], got, c[2])
		}
	}
	if got := Order("unfasten", "4 cross screws"); got != "unscrew 4 cross screws" {
		t.Error(got)
	}
	if got := Order("lift", "open the display like a book"); got != "open the display like a book" {
		t.Error(got) // an order by itself is not given twice
	}
	for _, v := range Verbs { // every act of a plan has its word
		if Words["verb"][v.ID] == "" {
			t.Errorf("no word for %s", v.ID)
		}
	}
}
