package phrase

import (
	"regexp"
	"strings"

	"waryowl/internal/core/trade"
)

// Figure is a number of a text: a bare count, a value in a base unit of package trade, a size in mm, or k of n.
type Figure struct {
	Value, To     float64 // To is the upper end of a range, else 0
	Unit          string  // base unit; "" for a bare figure
	Quantity      string
	Digit         float64
	Share         int // of how many, where the text says "2 of 3"
	Width, Length float64
	Word          bool // said in words
	Ordinal       bool
}

// Count is the figure as a count, or −1 where it cannot be one.
func (f Figure) Count() int {
	if f.Unit != "" || f.Share > 0 || f.Width > 0 || f.To > 0 || f.Ordinal || f.Value < 0 || f.Value > 999 ||
		f.Value != float64(int(f.Value)) {
		return -1
	}
	return int(f.Value)
}

var ordinals = map[string]int{"first": 1, "1st": 1, "second": 2, "2nd": 2, "third": 3, "3rd": 3, "fourth": 4, "4th": 4,
	"fifth": 5, "5th": 5, "sixth": 6, "6th": 6}

// oneWord reads a figure that is a word of its own: an ordinal, a share, a size, minutes with seconds, "4x".
func oneWord(w string) (Figure, bool) {
	if n, ok := ordinals[w]; ok && w[0] >= '0' && w[0] <= '9' {
		return Figure{Value: float64(n), Ordinal: true}, true
	}
	if m := ShareForm.FindStringSubmatch(w); m != nil {
		return Figure{Value: Number(m[1]), Share: int(Number(m[2]))}, true
	}
	if m := SizeForm.FindStringSubmatch(w); m != nil {
		return Figure{Width: Number(m[1]), Length: Number(m[2])}, true
	}
	for _, form := range []*regexp.Regexp{MinSec, ClockForm} {
		if m := form.FindStringSubmatch(w); m != nil {
			return Figure{Value: 60*Number(m[1]) + Number(m[2]), Unit: "s", Quantity: "time", Digit: 1}, true
		}
	}
	if m := TimesForm.FindStringSubmatch(w); m != nil {
		return Figure{Value: Number(m[1] + m[2])}, true
	}
	return Figure{}, false
}

// figureAt reads the figure that begins at token i, and how many tokens it takes; 0: there is none.
func figureAt(list []Token, i int) (Figure, int) {
	w := list[i].Low
	if f, ok := oneWord(w); ok {
		return f, 1
	}
	at := func(k int) string {
		if k < len(list) && list[k].Sep == "" {
			return list[k].Low
		}
		return ""
	}
	if n := InWords[w]; n > 0 {
		if k := smallCount(at(i + 2)); at(i+1) == "of" && k > 0 {
			return Figure{Value: float64(n), Share: k}, 3
		}
		if u, ok := unitWord(at(i+1), false); ok {
			return Figure{Value: float64(n) * u.Factor, Unit: u.Base, Quantity: u.Quantity, Digit: u.Factor, Word: true}, 2
		}
		return Figure{Value: float64(n), Word: true}, 1
	}
	m := ValueForm.FindStringSubmatch(w)
	if m == nil {
		return Figure{}, 0
	}
	from, to, n := m[3], m[4], 1
	word := m[5]
	glued := word != ""
	if word == "" && to == "" {
		if k := smallCount(at(i + 2)); at(i+1) == "of" && k > 0 && Digits(from) {
			return Figure{Value: Number(from), Share: k}, 3
		}
		if len(from) <= 3 && len(at(i+1)) == 3 && Digits(at(i+1)) { // "5 000 mAh"
			if u, ok := unitWord(at(i+2), false); ok && u.Base == "mAh" {
				return Figure{Value: Number(from + at(i+1)), Unit: "mAh", Quantity: u.Quantity, Digit: 1}, 3
			}
		}
		if x := at(i + 1); x == "x" || x == "×" {
			if k := ValueForm.FindStringSubmatch(at(i + 2)); k != nil && (k[5] == "" || k[5] == "mm") && k[4] == "" {
				n = 3
				if at(i+3) == "mm" {
					n = 4
				}
				return Figure{Width: Number(from), Length: Number(k[3])}, n
			}
		}
		if at(i+1) == "to" { // "3 to 4 min"
			if k := ValueForm.FindStringSubmatch(at(i + 2)); k != nil && k[4] == "" {
				end, unit := i+3, k[5]
				if unit == "" {
					unit, end = at(i+3), i+4
				}
				if _, ok := unitWord(unit, k[5] != ""); ok {
					to, word, glued, n = k[3], unit, k[5] != "", end-i
				}
			}
		}
	}
	if word == "" {
		if u := at(i + 1); u != "" {
			if _, ok := unitWord(u, false); ok {
				word, n = u, 2
				if (u == "°" || u == "deg" || u == "degrees" || u == "degree") && (at(i+2) == "c" || at(i+2) == "celsius") {
					n = 3
				}
			}
		}
	}
	if word == "" {
		x, digit := Decimal(from, "")
		f := Figure{Value: x, Digit: digit}
		if to != "" {
			f.To = Number(to)
		}
		return f, 1
	}
	u, ok := unitWord(strings.TrimSuffix(word, "."), glued)
	if !ok {
		return Figure{}, 0
	}
	x, digit := Decimal(from, u.Base)
	f := Figure{Value: round9(x * u.Factor), Unit: u.Base, Quantity: u.Quantity, Digit: round12(digit * u.Factor)}
	if to != "" {
		y, _ := Decimal(to, u.Base)
		f.To = round9(y * u.Factor)
	}
	return f, n
}

func smallCount(w string) int {
	switch {
	case Digits(w) && len(w) <= 3:
		return int(Number(w))
	case InWords[w] > 0:
		return InWords[w]
	}
	return -1
}

// unitWord finds a unit; single letters count as units only where they cannot be words of the bench.
func unitWord(w string, glued bool) (trade.Unit, bool) {
	switch w {
	case "":
		return trade.Unit{}, false
	case "m":
		w = "min"
		if !glued {
			return trade.Unit{}, false
		}
	case "degree", "degs":
		w = "deg"
	case "h":
		return trade.Unit{}, false
	}
	return trade.UnitOf(w)
}
