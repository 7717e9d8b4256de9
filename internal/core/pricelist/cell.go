package pricelist

import (
	"math"
	"strconv"
	"strings"
)

// form is the kind of a cell.
type form int

const (
	empty form = iota
	text
	number
	truth
	date   // a serial day, counted from 1899-12-30
	broken // an error of the sheet, or a formula that was never computed
)

// cell is one cell of a list. Text is what stands there, for messages as well.
type cell struct {
	kind  form
	text  string
	value float64
}

// cellOf reads a cell of a JSON table.
func cellOf(v any) (cell, bool) {
	switch v := v.(type) {
	case nil:
		return cell{}, true
	case string:
		return textCell(v), true
	case float64:
		return numberCell(v), true
	case bool:
		return cell{kind: truth, text: strings.ToUpper(strconv.FormatBool(v))}, true
	case map[string]any:
		if d, ok := v["date"].(float64); ok && len(v) == 1 {
			return cell{kind: date, text: strconv.FormatFloat(d, 'f', -1, 64), value: d}, true
		}
		if e, ok := v["error"].(string); ok && len(v) == 1 {
			return cell{kind: broken, text: e}, true
		}
		if f, ok := v["formula"].(string); ok {
			x, computed := v["value"]
			if !computed || x == nil {
				return cell{kind: broken, text: f}, true
			}
			if _, nested := x.(map[string]any); nested && x.(map[string]any)["formula"] != nil {
				return cell{}, false
			}
			return cellOf(x)
		}
	}
	return cell{}, false
}

func textCell(s string) cell {
	if strings.TrimSpace(s) == "" && !strings.HasPrefix(s, "\t") {
		return cell{}
	}
	if strings.TrimSpace(s) == "" {
		return cell{}
	}
	return cell{kind: text, text: strings.TrimPrefix(s, "'")}
}

func numberCell(v float64) cell {
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return cell{kind: broken, text: strconv.FormatFloat(v, 'g', -1, 64)}
	}
	return cell{kind: number, text: strconv.FormatFloat(v, 'f', -1, 64), value: v}
}

// formula says whether a text would be a formula or a control in a sheet: never a figure.
func (c cell) formula() bool {
	return c.kind == text && (strings.HasPrefix(c.text, "=") || strings.HasPrefix(c.text, "@") ||
		strings.HasPrefix(c.text, "\t"))
}

// reading is one way to read a figure: digits before and behind the decimal mark.
type reading struct {
	whole, part string
	mark        byte // the decimal mark that it takes
}

func (r reading) zero() bool { return strings.Trim(r.part, "0") == "" }

func (r reading) same(o reading) bool {
	return trimWhole(r.whole) == trimWhole(o.whole) && strings.TrimRight(r.part, "0") == strings.TrimRight(o.part, "0")
}

func trimWhole(s string) string {
	if t := strings.TrimLeft(s, "0"); t != "" {
		return t
	}
	return "0"
}

func (r reading) String() string {
	if p := strings.TrimRight(r.part, "0"); p != "" {
		return trimWhole(r.whole) + "." + p
	}
	return trimWhole(r.whole)
}

func (r reading) float() float64 {
	v, _ := strconv.ParseFloat(r.String(), 64)
	return v
}

// gaps part thousands and nothing else: space, no-break, narrow and thin space, apostrophes.
const gaps = " \u00a0\u202f\u2009'\u2019"

// readings are the ways in which a text is a figure of 0 or more: with a point or with a comma as its decimal mark.
func readings(s string, whole bool) []reading {
	s = strings.Trim(s, " \u00a0\u202f\u2009\t\r\n")
	var out []reading
	for _, mark := range []byte{'.', ','} {
		r, ok := readingWith(s, mark)
		if !ok || whole && !r.zero() {
			continue
		}
		out = append(out, r)
	}
	return out
}

func readingWith(s string, mark byte) (reading, bool) {
	other := ","
	if mark == ',' {
		other = "."
	}
	head, tail, cut := strings.Cut(s, string(mark))
	r := reading{mark: mark}
	if cut {
		switch {
		case tail == "-" || tail == "–":
			tail = ""
		case tail == "" || strings.Trim(tail, "0123456789") != "":
			return r, false
		}
		r.part = tail
	}
	kind := ""
	for _, c := range head {
		if c >= '0' && c <= '9' {
			continue
		}
		k := string(c)
		if k != other && !strings.ContainsRune(gaps, c) || kind != "" && kind != k {
			return r, false
		}
		kind = k
	}
	if head == "" {
		return r, false
	}
	if kind == "" {
		r.whole = head
		return r, true
	}
	groups := strings.Split(head, kind)
	if len(groups[0]) == 0 || len(groups[0]) > 3 || groups[0][0] == '0' {
		return r, false
	}
	for _, g := range groups[1:] {
		if len(g) != 3 {
			return r, false
		}
	}
	r.whole = strings.Join(groups, "")
	return r, true
}

// negative says whether a text is a figure with a minus in front or behind, which is refused with a reason of its own.
func negative(s string) bool {
	s = strings.TrimSpace(s)
	t := strings.TrimLeft(s, "-–−")
	return t != s && len(readings(t, false)) > 0
}
