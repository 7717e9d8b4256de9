package shorthand

import (
	"regexp"
	"strconv"
	"strings"

	"waryowl/internal/core/trade"
)

var (
	figure     = `\d{1,7}(?:[.,]\d{1,6})?`
	figureForm = regexp.MustCompile(`^` + figure + `$`)
	sizeForm   = regexp.MustCompile(`^m?(` + figure + `)(?:mm)?[x×*](` + figure + `)(?:mm)?$`)
	shareForm  = regexp.MustCompile(`^(\d{1,3})(?:/|of)(\d{1,3})$`)
	// A number, perhaps a range, with its unit at once or none: 80-100C, 30–60s, 3274mAh, ±0.02
	valueForm = regexp.MustCompile(`^(±|\+-|\+/-)?(~|≈|ca\.?)?(\d{1,7}(?:[.,]\d{1,6})*)(?:[-–—](` + figure +
		`))?([^\d\s.,]{0,10})$`)
	codeForm  = regexp.MustCompile(`^(tx|t|ph|jis|pz|y|pl|p|sl)(\d{1,4}(?:[.,]\d)?)$`)
	minSec    = regexp.MustCompile(`^(\d{1,3})(?:m|min)(\d{1,2})(?:s)?$`)
	clockForm = regexp.MustCompile(`^(\d{1,2}):([0-5]\d)$`)
	// Four of a size in one word: 4x1.2x1.6
	packForm  = regexp.MustCompile(`^(\d{1,2})[x×*](` + figure + `)(?:mm)?[x×*](` + figure + `)(?:mm)?$`)
	timesForm = regexp.MustCompile(`^(\d{1,3})[x×]$|^[x×](\d{1,3})$`)
)

var wordNumbers = map[string]int{"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7,
	"eight": 8, "nine": 9, "ten": 10,
	"eleven": 11, "twelve": 12, "thirteen": 13, "fourteen": 14, "fifteen": 15, "sixteen": 16, "both": 2,
	"single": 1, "pair": 2}

func number(s string) float64 {
	x, _ := strconv.ParseFloat(strings.Replace(s, ",", ".", 1), 64)
	return x
}

// decimal reads a figure in a unit: the value, and the place of its last printed digit. A comma or stop before exactly
// three digits parts thousands where the quantity has no such decimals: no pack has five mAh.
func decimal(s, unit string) (value, digit float64) {
	marks := strings.FieldsFunc(s, func(r rune) bool { return r >= '0' && r <= '9' })
	groups := strings.FieldsFunc(s, func(r rune) bool { return r == '.' || r == ',' })
	thousands := len(groups) > 2 || len(groups) == 2 && len(groups[1]) == 3 && len(groups[0]) <= 3 && unit == "mAh" &&
		groups[0] != "0"
	if len(groups) > 2 && len(marks) == 2 && marks[0] != marks[1] { // 1,234.5
		s = groups[0] + groups[1] + "." + groups[2]
		thousands = false
	}
	if thousands {
		s = strings.Join(groups, "")
	}
	s = strings.Replace(s, ",", ".", 1)
	value, _ = strconv.ParseFloat(s, 64)
	digit = 1
	if _, after, ok := strings.Cut(s, "."); ok {
		digit, _ = strconv.ParseFloat("1e-"+strconv.Itoa(len(after)), 64)
	}
	return value, digit
}

// value is a number group: one figure or a range, its unit ("" for none), how many tokens it took.
type value struct {
	from, to string
	unit     trade.Unit
	bare     bool
	pm       bool
	used     int
}

// valueAt reads a number group at token i, with its unit in the same or in the next word.
func (r *reader) valueAt(i int) (value, bool) {
	t := r.list[i]
	m := valueForm.FindStringSubmatch(t.plain)
	if m == nil {
		return value{}, false
	}
	v := value{from: m[3], to: m[4], pm: m[1] != "", used: 1}
	if i > 0 && !r.list[i-1].used && (r.list[i-1].plain == "±" || r.list[i-1].plain == "+-") { // "42.8 g ± 0.1"
		v.pm = true
		r.use(i-1, 1)
	}
	word := strings.TrimSuffix(m[5], ".")
	// "5 000 mAh"
	if word == "" && v.to == "" && i+2 < len(r.list) && len(v.from) <= 3 && len(r.list[i+1].plain) == 3 &&
		isDigits(r.list[i+1].plain) {
		if u, ok := trade.UnitOf(r.list[i+2].plain); ok && u.Base == "mAh" {
			return value{from: v.from + r.list[i+1].plain, unit: u, used: 3}, true
		}
	}
	if m2 := r.listValue(i+1, "000mah"); word == "" && v.to == "" && m2 {
		return value{from: v.from + "000", unit: trade.Unit{Word: "mah", Base: "mAh", Factor: 1, Quantity: "capacity"},
			used: 2}, true
	}
	// "30 to 60 s", "80 - 100 C"
	if word == "" && v.to == "" && i+2 < len(r.list) &&
		(r.list[i+1].plain == "to" || r.list[i+1].plain == "-" || r.list[i+1].plain == "–") {
		if n := valueForm.FindStringSubmatch(r.list[i+2].plain); n != nil && n[4] == "" && n[1] == "" {
			end := i + 3
			w := n[5]
			if w == "" && end < len(r.list) {
				w = r.list[end].plain
				end++
			}
			if u, ok := trade.UnitOf(w); ok && r.takes(u, w) {
				return value{from: v.from, to: n[3], unit: u, used: end - i}, true
			}
		}
	}
	if word != "" {
		if word == "h" && r.Fact.Verb == "measure" {
			return value{}, false
		}
		u, ok := trade.UnitOf(word)
		if !ok {
			return value{}, false
		}
		v.unit = u
		return v, true
	}
	if i+1 < len(r.list) {
		w := strings.TrimSuffix(r.list[i+1].plain, ".")
		if w == "°" && i+2 < len(r.list) && r.list[i+2].plain == "c" {
			v.unit, v.used = trade.Unit{Word: "c", Base: "C", Factor: 1, Quantity: "temperature"}, 3
			return v, true
		}
		if w == "degrees" && i+2 < len(r.list) && (r.list[i+2].plain == "c" || r.list[i+2].plain == "celsius") {
			v.unit, v.used = trade.Unit{Word: "c", Base: "C", Factor: 1, Quantity: "temperature"}, 3
			return v, true
		}
		if u, ok := trade.UnitOf(w); ok && r.takes(u, w) {
			v.unit, v.used = u, 2
			return v, true
		}
	}
	v.bare = true
	return v, true
}

func (r *reader) listValue(i int, want string) bool {
	return i < len(r.list) && r.list[i].plain == want
}

// takes says whether a unit in a word of its own is meant as one: single letters are words of the line as well.
func (r *reader) takes(u trade.Unit, w string) bool {
	switch w {
	case "c":
		return r.Fact.Verb == "heat" || r.Fact.Verb == "measure"
	case "h":
		return false
	case "v":
		return r.Fact.Verb != "unfasten"
	}
	return true
}

func isDigits(s string) bool { return s != "" && strings.Trim(s, "0123456789") == "" }
