package shorthand

import (
	"strings"

	"waryowl/internal/core/phrase"
	"waryowl/internal/core/trade"
)

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
	m := phrase.ValueForm.FindStringSubmatch(t.plain)
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
		phrase.Digits(r.list[i+1].plain) {
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
		if n := phrase.ValueForm.FindStringSubmatch(r.list[i+2].plain); n != nil && n[4] == "" && n[1] == "" {
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
