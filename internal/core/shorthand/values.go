package shorthand

import (
	"math"
	"strings"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/trade"
)

// sized takes a diameter and a length, or two dimensions of a measured part.
func (r *reader) sized(i, n int, a, b string) {
	r.use(i, n)
	if r.Fact.Verb == "measure" {
		for _, s := range []string{a, b} {
			x, digit := phrase.Decimal(s, "mm")
			r.measure(i, x, digit, "mm")
		}
		return
	}
	r.size(i, phrase.Number(a), phrase.Number(b))
}

func (r *reader) drive(d driveWord) {
	g := r.group()
	if g.Drive == d.id && g.DriveSize == "" && d.size != "" { // "hexalobular T4"
		g.DriveSize = d.size
		return
	}
	// "3 cross 1 tri-wing": the count comes next or came just before
	if g.Drive != "" && g.Count > 0 && g.Drive != d.id {
		g = r.lacking(func(s Screws) bool { return s.Drive == "" })
	}
	g.Drive, g.DriveSize = d.id, or(d.size, g.DriveSize)
	if d.id == "post" {
		r.Fact.Joint = "post"
	}
}

// value takes a figure with or without a unit.
func (r *reader) value(i int, v value) {
	f := &r.Fact
	x, digit := phrase.Decimal(v.from, v.unit.Base)
	to, _ := phrase.Decimal(v.to, v.unit.Base)
	if v.to == "" {
		to = 0
	}
	if !v.bare {
		x, to, digit = x*v.unit.Factor, to*v.unit.Factor, digit*v.unit.Factor
	}
	keep := func(text string) {
		r.unread(r.list[i], text, nil)
		r.notes = append(r.notes, typed(r.list[i:i+v.used]))
		r.use(i, v.used)
	}
	base := v.unit.Base
	if most := trade.Most[base]; !v.bare && most > 0 && (x > most || to > most) {
		keep("more than can be; kept as a note")
		return
	}
	switch {
	case v.pm:
		if len(f.Measures) == 0 {
			keep("an uncertainty follows the value that it belongs to")
			return
		}
		f.Measures[len(f.Measures)-1].U = x
	case v.bare:
		r.bare(i, v, x)
		return
	case base == "s" && f.Verb != "measure":
		f.Seconds += x
		if to > 0 {
			f.SecondsTo += f.Seconds - x + to
		}
	case base == "C" && f.Verb != "measure":
		near := i+v.used < len(r.list) && readWords[r.list[i+v.used].plain] || i > 0 && readWords[r.list[i-1].plain]
		switch {
		case near || f.SetC > 0:
			f.MeasuredC = x
			if readWords[r.word(i+v.used)] {
				r.use(i+v.used, 1)
			}
			if i > 0 && readWords[r.word(i-1)] {
				r.use(i-1, 1)
			}
		default:
			f.SetC, f.SetCTo = x, to
		}
	case base == "V" && f.Verb != "measure":
		f.Volts = x
	case base == "mm" && screwy(f.Verb):
		r.lacking(func(s Screws) bool { return s.LengthMM == 0 }).LengthMM = x
		if w := r.word(i + v.used); w == "long" {
			r.use(i+v.used, 1)
		}
	case f.Verb == "measure" && base != "s":
		r.measure(i, x, digit, base)
	default:
		keep("no figure of this act; kept as a note")
		return
	}
	r.use(i, v.used)
}

func (r *reader) measure(i int, x, digit float64, unit string) {
	// The last digit of what was printed, not of what a float makes of it.
	x, digit = math.Round(x*1e9)/1e9, math.Round(digit*1e12)/1e12
	r.Fact.Measures = append(r.Fact.Measures, Measure{Value: x, Unit: unit, Digit: digit})
	r.spans = append(r.spans, i)
}

// bare takes a figure without a unit: a count, the size of a driver, a sum "7 + 7".
func (r *reader) bare(i int, v value, x float64) {
	if phrase.Digits(v.from) && v.to == "" && x <= 200 && x == math.Trunc(x) && !(len(v.from) > 1 && v.from[0] == '0') &&
		r.Fact.Verb != "measure" {
		n, used := int(x), 1
		for (r.word(i+used) == "+" || r.word(i+used) == "plus" && r.Fact.Verb == "unfasten") &&
			r.smallNumber(i+used+1) > 0 {
			n += r.smallNumber(i + used + 1)
			used += 2
		}
		if len(r.groups) > 0 && r.group().Drive != "" && r.group().Count > 0 && r.group().DriveSize == "" &&
			driveBefore(r.list, i) &&
			!r.startsScrews(i+1) {
			r.group().DriveSize = v.from
			r.use(i, 1)
			return
		}
		r.counted(i, used, n)
		return
	}
	if len(r.groups) > 0 && r.group().Drive != "" && r.group().DriveSize == "" && v.to == "" && len(v.from) <= 4 &&
		driveBefore(r.list, i) {
		r.group().DriveSize = strings.ReplaceAll(v.from, ",", ".")
		r.use(i, 1)
		return
	}
	r.unread(r.list[i], "no unit of this line; kept as a note", nil)
	r.notes = append(r.notes, r.list[i].text)
	r.use(i, v.used)
}

// startsScrews says whether a drive, a size or a length comes next: then the figure before it is a count.
func (r *reader) startsScrews(i int) bool {
	return i < len(r.list) && (driveAt(r.list, i).n > 0 || phrase.SizeForm.MatchString(r.list[i].plain) ||
		lengthWord[r.list[i].plain])
}

func driveBefore(list []token, i int) bool {
	for n := 1; n <= 2 && i-n >= 0; n++ {
		if d := driveAt(list[:i], i-n); d.n == n {
			return true
		}
	}
	return false
}

// counted takes a count, or those that were missed.
func (r *reader) counted(i, used, n int) {
	next := r.word(i + used)
	before := ""
	if i > 0 {
		before = r.word(i - 1)
	}
	switch {
	case laterWords[next]:
		r.Fact.Missed = n
		r.use(i, used+1)
		return
	case laterWords[before]:
		r.Fact.Missed = n
		r.use(i-1, used+1)
		return
	}
	if next == "out" || next == "off" || next == "back" {
		r.use(i+used, 1)
	}
	r.count(n)
	r.use(i, used)
	r.fresh = i + used
}
