package fault

import (
	"math"
	"strings"
	"testing"
)

func TestNewNamesFieldFindingAndRule(t *testing.T) {
	for want, f := range map[string]*Fault{
		`seconds: found -4, allowed: 0 or more`: New("seconds", -4, "0 or more"),
		`seconds: found NaN, allowed: a number`: New("seconds", math.NaN(), "a number"),
		`tool: found "", allowed: a name`:       New("tool", "", "a name"),
		// quoted, so that the message stays one line
		`note: found "a\nb", allowed: one line`:      New("note", "a\nb", "one line"),
		`frees[2]: found true, allowed: a part's id`: New("frees[2]", true, "a part's id"),
	} {
		if f.Error() != want {
			t.Errorf("got %s, want %s", f, want)
		}
	}
	if long := New("note", strings.Repeat("ä", 500), "less"); len([]rune(long.Found)) > 70 ||
		!strings.HasSuffix(long.Found, `…"`) {
		t.Errorf("a long finding is not cut: %s", long.Found)
	}
}

func TestID(t *testing.T) {
	for _, ok := range []string{"s1", "0", "01a2-b.c_d", "t1.2"} {
		if err := ID("id", ok); err != nil {
			t.Error(err)
		}
	}
	for _, bad := range []string{"", "S1", "-a", ".a", "a b", "ä", "a/b", "a\n"} {
		if ID("id", bad) == nil {
			t.Errorf("%q was taken as an id", bad)
		}
	}
}
