package phrase

import (
	"math"
	"regexp"
	"strconv"
	"strings"
)

// The forms of figures as they are typed: bare, a size "1.2x1.6", a share "2/3", a value with its unit, the code printed on a
// driver, minutes with seconds, a clock, four of a size in one word, and "4x".
var (
	figure     = `\d{1,7}(?:[.,]\d{1,6})?`
	FigureForm = regexp.MustCompile(`^` + figure + `$`)
	SizeForm   = regexp.MustCompile(`^m?(` + figure + `)(?:mm)?[x×*](` + figure + `)(?:mm)?$`)
	ShareForm  = regexp.MustCompile(`^(\d{1,3})(?:/|of)(\d{1,3})$`)
	// A number, perhaps a range, with its unit at once or none: 80-100C, 30–60s, 2960mAh, ±0.02
	ValueForm = regexp.MustCompile(`^(±|\+-|\+/-)?(~|≈|ca\.?)?(\d{1,7}(?:[.,]\d{1,6})*)(?:[-–—](` + figure +
		`))?([^\d\s.,]{0,10})$`)
	CodeForm  = regexp.MustCompile(`^(tx|t|ph|jis|pz|y|pl|p|sl)(\d{1,4}(?:[.,]\d)?)$`)
	MinSec    = regexp.MustCompile(`^(\d{1,3})(?:m|min)(\d{1,2})(?:s)?$`)
	ClockForm = regexp.MustCompile(`^(\d{1,2}):([0-5]\d)$`)
	// Four of a size in one word: 4x1.2x1.6
	PackForm  = regexp.MustCompile(`^(\d{1,2})[x×*](` + figure + `)(?:mm)?[x×*](` + figure + `)(?:mm)?$`)
	TimesForm = regexp.MustCompile(`^(\d{1,3})[x×]$|^[x×](\d{1,3})$`)
)

// InWords are counts in words.
var InWords = map[string]int{"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7,
	"eight": 8, "nine": 9, "ten": 10,
	"eleven": 11, "twelve": 12, "thirteen": 13, "fourteen": 14, "fifteen": 15, "sixteen": 16, "both": 2,
	"single": 1, "pair": 2}

// Number reads a figure without a unit, with a comma or a point.
func Number(s string) float64 {
	x, _ := strconv.ParseFloat(strings.Replace(s, ",", ".", 1), 64)
	return x
}

// Decimal reads a figure in a unit: the value, and the place of its last printed digit. A comma or stop before exactly
// three digits parts thousands where the quantity has no such decimals: no pack has five mAh.
func Decimal(s, unit string) (value, digit float64) {
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

// Digits says whether a word is digits alone.
func Digits(s string) bool { return s != "" && strings.Trim(s, "0123456789") == "" }

// round9 and round12 keep what was printed, not what a float makes of it.
func round9(x float64) float64  { return math.Round(x*1e9) / 1e9 }
func round12(x float64) float64 { return math.Round(x*1e12) / 1e12 }
