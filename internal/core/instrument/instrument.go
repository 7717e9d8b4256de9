// Package instrument reads the lines that measuring instruments send: a value, a unit and, before them, whether the
// display stood still. It takes what calipers, scales, thermometers and meters usually send as plain text (common
// practice, no source): "ST,+003.42,mm", "US,GS,   47.5 g", "3,42 mm", "OL".
package instrument

import (
	"errors"
	"math"
	"regexp"
	"strconv"
	"strings"
)

// Reading is one line. Unit is that of the house (mm, g, C, lx, V, A, W, mAh, Wh, %), Resolution the last digit in it.
// Pressed says that the instrument's own button sent it.
type Reading struct {
	Value      float64 `json:"value"`
	Unit       string  `json:"unit"`
	Resolution float64 `json:"resolution"`
	Stable     bool    `json:"stable"`
	Over       bool    `json:"over"`
	Pressed    bool    `json:"pressed"`
}

// ErrNoReading says that a line holds no value.
var ErrNoReading = errors.New("no value in this line; expected a number and a unit, such as 3.42 mm")

// MostLine is the longest line that is read, in bytes.
const MostLine = 120

var number = regexp.MustCompile(`([+-]?)\s*(\d+(?:[.,]\d+)?|[.,]\d+)\s*([A-Za-zµ°%]*)`)

// units are how instruments write a unit, the unit of the house, and what a value is multiplied by.
var units = map[string]struct {
	unit  string
	times float64
}{
	"mm": {"mm", 1}, "cm": {"mm", 10}, "um": {"mm", 0.001}, "µm": {"mm", 0.001}, "in": {"mm", 25.4}, "inch": {"mm", 25.4},
	"g": {"g", 1}, "mg": {"g", 0.001}, "kg": {"g", 1000}, "oz": {"g", 28.349523125},
	"c": {"C", 1}, "°c": {"C", 1}, "degc": {"C", 1}, "lx": {"lx", 1}, "lux": {"lx", 1}, "klx": {"lx", 1000},
	"v": {"V", 1}, "mv": {"V", 0.001}, "a": {"A", 1}, "ma": {"A", 0.001}, "w": {"W", 1}, "mw": {"W", 0.001},
	"mah": {"mAh", 1}, "ah": {"mAh", 1000}, "wh": {"Wh", 1}, "mwh": {"Wh", 0.001}, "%": {"%", 1},
}

// over are what a display shows beyond its range.
var over = []string{"OL", "OVER", "OVERLOAD", "ERR", "+OL", "-OL"}

// Parse reads one line.
func Parse(line string) (Reading, error) {
	line = strings.TrimSpace(line)
	if len(line) == 0 || len(line) > MostLine {
		return Reading{}, ErrNoReading
	}
	r := Reading{Stable: true}
	rest := line
	for { // headers: short words of capitals before the value
		head, tail, more := strings.Cut(rest, ",")
		word := strings.ToUpper(strings.TrimSpace(head))
		known := true
		switch word {
		case "ST", "S":
			r.Stable = true
		case "US", "SD", "D", "?":
			r.Stable = false
		case "PR", "PRT":
			r.Pressed = true
		case "GS", "NT", "N", "G":
			known = more // gross or net: a header only where something follows
		default:
			known = false
		}
		if !known || !more {
			break
		}
		rest = tail
	}
	for _, o := range over {
		if word, _, _ := strings.Cut(strings.ReplaceAll(strings.ToUpper(strings.TrimSpace(rest)), " ", ","), ","); word == o {
			r.Over, r.Stable = true, false
			return r, nil
		}
	}
	if strings.Trim(rest, "- ") == "" {
		r.Over, r.Stable = true, false
		return r, nil
	}
	m := number.FindStringSubmatch(rest)
	if m == nil {
		return Reading{}, ErrNoReading
	}
	unit := m[3]
	if unit == "" { // "+003.42,mm": the unit is a field of its own
		_, after, _ := strings.Cut(rest, m[0])
		unit = strings.Trim(after, " ,;")
		if k := strings.IndexAny(unit, " ,;"); k >= 0 {
			unit = unit[:k]
		}
	}
	text := strings.Replace(m[2], ",", ".", 1)
	value, err := strconv.ParseFloat(text, 64)
	if err != nil || math.IsInf(value, 0) {
		return Reading{}, ErrNoReading
	}
	if m[1] == "-" {
		value = -value
	}
	digits := 0
	if k := strings.IndexByte(text, '.'); k >= 0 {
		digits = len(text) - k - 1
	}
	u, known := units[strings.ToLower(unit)]
	if !known {
		u.unit, u.times = unit, 1
	}
	r.Value, r.Unit = value*u.times, u.unit
	r.Resolution = math.Pow(10, -float64(digits)) * u.times
	return r, nil
}

// What names what an instrument with this unit measures, in words for a refusal.
var what = map[string]string{"mm": "a length", "g": "a mass", "C": "a temperature", "lx": "light", "V": "a voltage",
	"A": "a current", "W": "a power", "mAh": "a charge", "Wh": "an energy", "%": "a share", "pins": "a count"}

// Fits says in words why a reading does not go into a measure of this unit; "" when it does.
func (r Reading) Fits(unit string) string {
	switch {
	case r.Over:
		return "The instrument is over its range: nothing was taken."
	case r.Unit == "":
		return "" // a bare number, typed: it is in the unit of the measure
	case r.Unit != unit:
		is, asked := what[r.Unit], what[unit]
		if is == "" {
			return "The reading is in " + r.Unit + ", which no measure is in; this one is in " + unit + "."
		}
		return "The reading is " + is + " (" + r.Unit + "); this measure is " + asked + " (" + unit + ")."
	case !r.Stable:
		return "The display does not stand still yet."
	}
	return ""
}
