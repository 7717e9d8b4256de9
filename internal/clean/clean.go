// Package clean refuses what no field may hold, whatever its room and whichever way it came in: by a form, a document
// or a table.
package clean

import (
	"fmt"
	"math"
	"reflect"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/google/uuid"

	"waryowl/internal/core/fault"
)

// Check looks at every field of what came in: text that hides something (NUL and other control characters, marks that
// turn the direction of writing), line breaks in a field of one line, text of nothing but blanks where a text is asked
// for, ids in another form than ours or of nothing, numbers that are none, dates outside the calendar that is kept, and
// times that cannot be. A field whose tag says lines may hold several; one whose tag says ahead may lie ahead. The
// fault names the field.
func Check(in any) error { return cleaned("", reflect.ValueOf(in), "", 0) }

// deepest is how deep what came is looked into.
const deepest = 12

func cleaned(at string, v reflect.Value, tag reflect.StructTag, depth int) error {
	if depth > deepest {
		return nil
	}
	switch v.Kind() {
	case reflect.Pointer, reflect.Interface:
		if v.IsNil() {
			return nil
		}
		return cleaned(at, v.Elem(), tag, depth+1)
	case reflect.Float64, reflect.Float32:
		if x := v.Float(); math.IsNaN(x) || math.IsInf(x, 0) {
			return fault.New(at, fmt.Sprint(x), "a number")
		}
	case reflect.String:
		return text(at, v.String(), tag)
	case reflect.Slice, reflect.Array:
		if v.Type().Elem().Kind() == reflect.Uint8 {
			return nil
		}
		for i := range v.Len() {
			if err := cleaned(fmt.Sprintf("%s[%d]", at, i), v.Index(i), "", depth+1); err != nil {
				return err
			}
		}
	case reflect.Map:
		for _, k := range v.MapKeys() {
			if k.Kind() == reflect.String {
				if err := text(at, k.String(), ""); err != nil {
					return err
				}
			}
			if err := cleaned(at+"."+fmt.Sprint(k), v.MapIndex(k), "", depth+1); err != nil {
				return err
			}
		}
	case reflect.Struct:
		if t, ok := v.Interface().(time.Time); ok {
			last, allowed := time.Now().AddDate(0, 0, 1), "at most a day ahead"
			if tag.Get("ahead") != "" { // a promise, a best-before
				last, allowed = last.AddDate(20, 0, 0), "at most twenty years ahead"
			}
			if !t.IsZero() && (t.Year() < 2000 || t.After(last)) {
				return fault.New(at, t.Format(time.RFC3339), "a time from the year 2000 on, "+allowed)
			}
			return nil
		}
		for i := range v.NumField() {
			f := v.Type().Field(i)
			if !f.IsExported() {
				continue
			}
			name := at
			if !f.Anonymous || f.Tag.Get("json") != "" {
				name = strings.TrimPrefix(at+"."+named(f), ".")
			}
			if f.Name == "Body" && at == "" {
				name = ""
			}
			if err := cleaned(name, v.Field(i), f.Tag, depth+1); err != nil {
				return err
			}
		}
	}
	return nil
}

func named(f reflect.StructField) string {
	for _, from := range []string{"json", "path", "query", "header"} {
		if name, _, _ := strings.Cut(f.Tag.Get(from), ","); name != "" && name != "-" {
			return name
		}
	}
	return f.Name
}

func text(at, s string, tag reflect.StructTag) error {
	if err := Text(at, s, tag.Get("lines") != ""); err != nil {
		return err
	}
	if s == "" {
		return nil
	}
	if strings.TrimFunc(s, func(r rune) bool { return unicode.IsSpace(r) || unicode.Is(unicode.Cf, r) }) == "" &&
		tag.Get("minLength") != "" && tag.Get("minLength") != "0" {
		return fault.New(at, "blanks only", "a text that can be read")
	}
	switch tag.Get("format") {
	case "uuid":
		id, err := uuid.Parse(s)
		if err != nil || !strings.EqualFold(id.String(), s) || id == uuid.Nil {
			return fault.New(at, short(s), "an id as 01234567-89ab-7def-8123-456789abcdef, not of zeros only")
		}
	case "date":
		return Date(at, s)
	}
	return nil
}

// Text refuses what a text may not hold; lines says that the field has several.
func Text(at, s string, lines bool) error {
	if !utf8.ValidString(s) {
		return fault.New(at, "text that is not UTF-8", "text in UTF-8")
	}
	for _, r := range s {
		switch {
		case r == '\n' || r == '\t' || r == '\r':
			if !lines {
				return fault.New(at, "a line break or tab", "a text on one line")
			}
		case unicode.IsControl(r):
			return fault.New(at, fmt.Sprintf("the control character U+%04X", r), "text without control characters")
		case r >= 0x202A && r <= 0x202E || r >= 0x2066 && r <= 0x2069 || r == 0x200E || r == 0x200F || r == 0x061C:
			return fault.New(at, fmt.Sprintf("the mark U+%04X", r), "text without marks that turn the direction of writing")
		}
	}
	return nil
}

// The years of dates that are kept.
const (
	firstYear = 1900
	lastYear  = 2200
)

// Date refuses what is no day of the calendar between the years that are kept.
func Date(at, s string) error {
	d, err := time.Parse(time.DateOnly, s)
	if err != nil || d.Year() < firstYear || d.Year() > lastYear {
		return fault.New(at, short(s), fmt.Sprintf("a day from %d to %d, as 2026-11-26", firstYear, lastYear))
	}
	return nil
}

// short is the beginning of a text, for an error.
func short(s string) string {
	if r := []rune(s); len(r) > 60 {
		return string(r[:60]) + "…"
	}
	return s
}
