package pricelist

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"waryowl/internal/core/civil"
)

// day is a date as it stands in a cell: settled, or two figures of which nobody knows which is the month.
type day struct {
	iso    string
	a, b   int // of a date of two orders
	year   int
	either bool
}

var (
	clock    = regexp.MustCompile(`[T ]\s*\d{1,2}:\d{2}(:\d{2})?(\.\d+)?\s*([AaPp][Mm])?(Z|[+-]\d{2}:?\d{2})?$`)
	yearLead = regexp.MustCompile(`^(\d{4})([-/.])\s*(\d{1,2})([-/.])\s*(\d{1,2})\.?$`)
	compact  = regexp.MustCompile(`^(\d{4})(\d{2})(\d{2})$`)
	points   = regexp.MustCompile(`^(\d{1,2})\.\s*(\d{1,2})\.\s*(\d{4}|\d{2})$`)
	slashes  = regexp.MustCompile(`^(\d{1,2})([/-])(\d{1,2})([/-])(\d{4}|\d{2})$`)
	dayName  = regexp.MustCompile(`^(\d{1,2})[\s-]+([A-Za-z]{3,9})\.?,?[\s-]+(\d{4}|\d{2})$`)
	nameDay  = regexp.MustCompile(`^([A-Za-z]{3,9})\.?\s+(\d{1,2}),?\s+(\d{4}|\d{2})$`)
	serial   = regexp.MustCompile(`^\d{5}$`)
)

var months = []string{"january", "february", "march", "april", "may", "june", "july", "august", "september",
	"october", "november",
	"december"}

// Serial days that are taken for dates: 1954 to 2119.
const (
	leastSerial = 20000
	mostSerial  = 80000
)

// dayOf reads a date; message says what is wrong.
func dayOf(c cell) (d day, message string) {
	if c.kind == date || c.kind == number {
		if v := math.Floor(c.value); v >= leastSerial && v <= mostSerial {
			return day{iso: serialDay(v)}, ""
		}
		return d, "no date"
	}
	s := strings.TrimSpace(c.text)
	s = strings.TrimSpace(clock.ReplaceAllString(s, ""))
	num := func(t string) int { n, _ := strconv.Atoi(t); return n }
	year := func(t string) int {
		if n := num(t); len(t) == 2 {
			return 2000 + n
		}
		return num(t)
	}
	month := func(t string) int {
		for i, m := range months {
			if low := strings.ToLower(t); len(low) >= 3 && (strings.HasPrefix(m, low) || low == "sept" && i == 8) {
				return i + 1
			}
		}
		return 0
	}
	switch {
	case serial.MatchString(s) && num(s) >= leastSerial && num(s) <= mostSerial:
		return day{iso: serialDay(float64(num(s)))}, ""
	case yearLead.MatchString(s):
		m := yearLead.FindStringSubmatch(s)
		if m[2] != m[4] {
			return d, "no date"
		}
		return settled(num(m[1]), num(m[3]), num(m[5]))
	case compact.MatchString(s):
		m := compact.FindStringSubmatch(s)
		return settled(num(m[1]), num(m[2]), num(m[3]))
	case points.MatchString(s):
		m := points.FindStringSubmatch(s)
		return settled(year(m[3]), num(m[2]), num(m[1]))
	case dayName.MatchString(s):
		m := dayName.FindStringSubmatch(s)
		if k := month(m[2]); k > 0 {
			return settled(year(m[3]), k, num(m[1]))
		}
	case nameDay.MatchString(s):
		m := nameDay.FindStringSubmatch(s)
		if k := month(m[1]); k > 0 {
			return settled(year(m[3]), k, num(m[2]))
		}
	case slashes.MatchString(s):
		m := slashes.FindStringSubmatch(s)
		if m[2] != m[4] {
			return d, "no date"
		}
		return day{a: num(m[1]), b: num(m[3]), year: year(m[5]), either: true}, ""
	}
	return d, "no date"
}

func settled(y, m, d int) (day, string) {
	iso := fmt.Sprintf("%04d-%02d-%02d", y, m, d)
	if _, err := civil.Day("date", iso); err != nil {
		return day{}, "no such day"
	}
	return day{iso: iso}, ""
}

// firstSerial is the day from which sheets count.
var firstSerial = func() int {
	n, err := civil.Day("date", "1899-12-30")
	if err != nil {
		panic(err)
	}
	return n
}()

func serialDay(v float64) string { return civil.Date(firstSerial + int(v)) }

// orders are those in which a date of two figures can be read: dmy, mdy.
func (d day) orders() []string {
	var list []string
	for _, o := range []string{"dmy", "mdy"} {
		if _, wrong := d.in(o); wrong == "" {
			list = append(list, o)
		}
	}
	return list
}

func (d day) in(order string) (string, string) {
	m, n := d.a, d.b
	if order == "dmy" {
		m, n = d.b, d.a
	}
	s, wrong := settled(d.year, m, n)
	return s.iso, wrong
}

var grades = map[string]string{"original": "original", "oem": "original", "genuine": "original",
	"servicepack": "original",
	"neworiginal": "original", "used": "used", "pulled": "used", "pull": "used", "salvaged": "used", "refurbished": "used",
	"secondhand": "used", "copy": "copy", "aftermarket": "copy", "compatible": "copy", "thirdparty": "copy",
	"replica": "copy"}

// gradeOf compares letters only.
func gradeOf(s string) (string, bool) {
	g, ok := grades[strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' {
			return r
		}
		return -1
	}, strings.ToLower(s))]
	return g, ok
}

// plainSlot is the name of a slot as it is compared: spaces, lines below and hyphens are alike.
func plainSlot(s string) string {
	return strings.Join(strings.FieldsFunc(strings.ToLower(s), func(r rune) bool {
		return r == ' ' || r == '_' ||
			r == '-' || r == '\u00a0'
	}), " ")
}

var (
	parting  = regexp.MustCompile(`\s*[|;\n\r]+\s*|\s+\+\s+`)
	countEnd = regexp.MustCompile(`^(.*\S)\s+[x×]?\s?(\d{1,4})$`)
	countTop = regexp.MustCompile(`^(\d{1,4})\s*(?:[x×]\s*|\s)(\S.*)$`)
)

// covers reads which slots an offer fills, how many of each.
func (r *reader) covers(s string) (map[string]int, string) {
	out := map[string]int{}
	for _, item := range parting.Split(strings.TrimSpace(s), -1) {
		if item = strings.TrimSpace(item); item == "" {
			continue
		}
		slot, n, ok := r.counted(item)
		if !ok {
			return nil, fmt.Sprintf("no part is called %q", item)
		}
		if n < 1 {
			return nil, "a count of at least 1"
		}
		out[slot] += n
	}
	if len(out) == 0 {
		return nil, "needed"
	}
	return out, ""
}

func (r *reader) counted(item string) (string, int, bool) {
	if slot, ok := r.slots[plainSlot(item)]; ok {
		return slot, 1, true
	}
	for _, try := range []struct {
		m           []string
		name, count int
	}{{countEnd.FindStringSubmatch(item), 1, 2}, {countTop.FindStringSubmatch(item), 2, 1}} {
		if try.m == nil {
			continue
		}
		name := strings.TrimSpace(strings.TrimRight(try.m[try.name], " x×"))
		if slot, ok := r.slots[plainSlot(name)]; ok {
			n, _ := strconv.Atoi(try.m[try.count])
			return slot, n, true
		}
		if slot, ok := r.slots[plainSlot(try.m[try.name])]; ok {
			n, _ := strconv.Atoi(try.m[try.count])
			return slot, n, true
		}
	}
	return "", 0, false
}

// coversKey is the same for the same slots and counts.
func coversKey(c map[string]int) string {
	var list []string
	for s, n := range c {
		list = append(list, fmt.Sprintf("%s×%d", s, n))
	}
	slices.Sort(list)
	return strings.Join(list, "|")
}
