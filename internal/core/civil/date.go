// Package civil counts calendar days.
package civil

import (
	"fmt"
	"strconv"

	"waryowl/internal/core/fault"
)

// Day counts the days of an ISO date in the proleptic Gregorian calendar (ISO 8601); only differences mean something. An error
// names the field.
// The year is taken to begin in March, so that the leap day is its last. The core has no clock and so no time package.
func Day(field, text string) (int, error) {
	bad := fault.New(field, text, "an ISO date, 2026-11-26")
	if len(text) != 10 || text[4] != '-' || text[7] != '-' {
		return 0, bad
	}
	for i, r := range text {
		if i != 4 && i != 7 && (r < '0' || r > '9') {
			return 0, bad
		}
	}
	y, _ := strconv.Atoi(text[:4])
	m, _ := strconv.Atoi(text[5:7])
	d, _ := strconv.Atoi(text[8:])
	if m < 1 || m > 12 {
		return 0, bad
	}
	if m < 3 {
		y, m = y-1, m+12
	}
	n := 365*y + floor(y, 4) - floor(y, 100) + floor(y, 400) + (153*(m-3)+2)/5 + d - 1
	if d < 1 || Date(n) != text { // the 31st of a shorter month is the first of another
		return 0, bad
	}
	return n, nil
}

func floor(a, b int) int {
	q := a / b
	if a%b < 0 {
		q--
	}
	return q
}

// Date is the ISO date of a day counted by [Day].
func Date(n int) string {
	const era = 146097 // days in 400 years
	e := floor(n, era)
	n -= e * era
	y := (n - n/1460 + n/36524 - n/146096) / 365
	n -= 365*y + y/4 - y/100
	m := (5*n + 2) / 153
	d := n - (153*m+2)/5 + 1
	y += 400 * e
	if m += 3; m > 12 {
		y, m = y+1, m-12
	}
	return fmt.Sprintf("%04d-%02d-%02d", y, m, d)
}
