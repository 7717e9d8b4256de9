package civil

import (
	"testing"
	"time"
)

// Every day of 1,000 years against the calendar of Go's standard library, and dates that are none.
func TestDays(t *testing.T) {
	last := 0
	for at := time.Date(1700, 1, 1, 0, 0, 0, 0, time.UTC); at.Year() < 2700; at = at.AddDate(0, 0, 1) {
		text := at.Format(time.DateOnly)
		n, err := Day("today", text)
		if err != nil || Date(n) != text || (last != 0 && n != last+1) {
			t.Fatalf("%s: %d after %d, back %s, %v", text, n, last, Date(n), err)
		}
		last = n
	}
	for _, text := range []string{"", "2026-13-01", "2026-00-01", "2026-02-29", "2100-02-29", "2026-04-31", "2026-04-00",
		"26-11-2026", "2026/11/26", "2026-11-26T", "2026-1-026", "+026-11-26"} {
		if _, err := Day("today", text); err == nil {
			t.Errorf("%q is taken for a date", text)
		}
	}
}
