package rating

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"waryowl/internal/app/desk"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/school"
)

// Points is a range of points as a figure, or as one when both ends show the same tenth.
func Points(r [2]float64, working string) answer.Fragment {
	if math.Round(10*r[0]) == math.Round(10*r[1]) {
		return answer.Number(r[0], "points", working)
	}
	return answer.Range(r[0], r[1], "points", working)
}

// Stamped is a score as it may leave the house: never without its school, range, day and software.
func Stamped(sc school.Score, b school.Rubric) string {
	digits := 1
	if b.Digits != nil {
		digits = *b.Digits
	}
	at := func(x float64) string { return strconv.FormatFloat(x, 'f', digits, 64) }
	text := at(sc.Range[0])
	if hi := at(sc.Range[1]); hi != text {
		text += " to " + hi
	}
	text += fmt.Sprintf(" of %g", b.Scale[1])
	if len(sc.Classes) > 0 {
		text += ", class " + strings.Join(sc.Classes, " or ")
	}
	if sc.Provisional {
		text += ", provisional"
	}
	if school.Unofficial(b) {
		text += ", unofficial"
	}
	text = b.Title + " (version " + b.Version + "): " + text
	if sc.Stamp.Date != "" {
		text += ", as of " + sc.Stamp.Date
	}
	if sc.Stamp.Build != "" {
		text += ", software " + sc.Stamp.Build
	}
	return text
}

// Words is a value in words.
func Words(def school.Fact, v school.Value, known bool, currency string, money bool) string {
	if !known {
		return "not known"
	}
	unit := ""
	if def.Unit != "" && !money {
		unit = " " + def.Unit
	}
	amount := func(x float64) string {
		if money {
			return desk.Money(x, currency)
		}
		return strconv.FormatFloat(math.Round(100*x)/100, 'f', -1, 64)
	}
	switch x := v.Value.(type) {
	case string:
		return plain(x)
	case float64:
		if v.Low != nil && v.High != nil {
			return amount(x) + unit + ", " + amount(*v.Low) + " to " + amount(*v.High)
		}
		return amount(x) + unit
	}
	switch {
	case len(v.Among) > 0:
		var list []string
		for _, a := range v.Among {
			list = append(list, plain(a))
		}
		return strings.Join(list, " or ")
	case len(v.Judgements) > 0:
		people := []string{}
		for _, j := range v.Judgements {
			if !slices.Contains(people, j.By) {
				people = append(people, j.By)
			}
		}
		return answer.Counted(len(v.Judgements), "judgement") + " of " + fmt.Sprint(len(people))
	case v.Low != nil && v.High != nil:
		return amount(*v.Low) + " to " + amount(*v.High) + unit
	case v.Low != nil:
		return "from " + amount(*v.Low) + unit
	case v.High != nil:
		return "up to " + amount(*v.High) + unit
	}
	return "not known"
}

func plain(choice string) string { return strings.ReplaceAll(choice, "-", " ") }

// Ends are the least and the greatest number that a fact may be as far as it is known; false when it is not.
func (r *Record) Ends(id string) ([2]float64, bool) {
	f := r.Facts[id]
	if f == nil || !f.Known {
		return [2]float64{}, false
	}
	x, ok := f.Value.Value.(float64)
	lo, hi := x, x
	if f.Value.Low != nil {
		lo, ok = *f.Value.Low, true
	}
	if f.Value.High != nil {
		hi, ok = *f.Value.High, true
	}
	if lo > hi {
		return [2]float64{}, false
	}
	return [2]float64{lo, hi}, ok
}

// Within is [Record.Ends], or everything that the fact may be where it is not known; false then.
func (r *Record) Within(id string) ([2]float64, bool) {
	if ends, known := r.Ends(id); known {
		return ends, true
	}
	def := school.Facts()[id]
	return [2]float64{*def.Min, *def.Max}, false
}

// Likeliest is the number that a fact is taken for: the one named, else the middle of its ends; 0 when it is not known.
func (r *Record) Likeliest(id string) float64 {
	ends, known := r.Ends(id)
	if !known {
		return 0
	}
	if x, named := r.Facts[id].Value.Value.(float64); named {
		return x
	}
	return (ends[0] + ends[1]) / 2
}
