package benchday

import (
	"fmt"
	"regexp"
	"strconv"
	"time"
	"waryowl/internal/store"
)

// hours are the seconds of a day at which the workshop opens and closes, and on which weekdays.
type hours struct {
	open, close int
	days        [7]bool // Sunday first, as the language counts
	typed       bool    // the office typed them; else they are the house's
}

var (
	clockPair = regexp.MustCompile(`(\d{1,2})[:.](\d\d)\s*[-–]\s*(\d{1,2})[:.](\d\d)`)
	weekdays  = regexp.MustCompile(`(?i)\b(su|mo|tu|we|th|fr|sa)\w*\s*[-–]\s*(su|mo|tu|we|th|fr|sa)`)
	two       = map[string]int{"su": 0, "mo": 1, "tu": 2, "we": 3, "th": 4, "fr": 5, "sa": 6}
)

// readHours understands "Mo-Fr 08:00-17:00"; what it does not understand is 08:00 to 17:00 on every day (house).
func readHours(text string) hours {
	h := hours{open: 8 * 3600, close: 17 * 3600}
	for d := range h.days {
		h.days[d] = true
	}
	if from, to, ok := span(text); ok {
		h.open, h.close, h.typed = from, to, true
	}
	if m := weekdays.FindStringSubmatch(text); m != nil {
		h.days = [7]bool{}
		for d := two[lower(m[1])]; ; d = (d + 1) % 7 {
			h.days[d] = true
			if d == two[lower(m[2])] {
				break
			}
		}
	}
	return h
}

func lower(s string) string {
	b := []byte(s)
	for i := range b {
		b[i] |= 0x20
	}
	return string(b)
}

// span reads 12:00-12:30 in seconds of the day.
func span(text string) (from, to int, ok bool) {
	m := clockPair.FindStringSubmatch(text)
	if m == nil {
		return 0, 0, false
	}
	n := [4]int{}
	for i := range n {
		n[i], _ = strconv.Atoi(m[i+1])
	}
	from, to = 3600*n[0]+60*n[1], 3600*n[2]+60*n[3]
	return from, to, n[0] < 24 && n[2] <= 24 && n[1] < 60 && n[3] < 60 && from < to && to <= 86400
}

// clock writes seconds since opening as the time of the day.
func (h hours) clock(seconds int) string {
	s := h.open + seconds
	return fmt.Sprintf("%02d:%02d", s/3600, s/60%60)
}

// openOn says whether the workshop opens on a day.
func (h hours) openOn(day time.Time) bool { return h.days[int(day.Weekday())] }

// Opens is the second of the day at which the workshop opens, by its settings.
func Opens(office []store.Workshop) int {
	if len(office) == 0 {
		return readHours("").open
	}
	return readHours(office[0].OpeningHours).open
}
