package clean

import (
	"errors"
	"math"
	"testing"
	"time"

	"waryowl/internal/core/fault"
)

type inner struct {
	Note string `json:"note" lines:"yes"`
	Name string `json:"name" minLength:"1"`
}

type form struct {
	ID     string             `json:"id" format:"uuid"`
	Day    string             `json:"day" format:"date"`
	At     time.Time          `json:"at"`
	Due    time.Time          `json:"due" ahead:"yes"`
	Number float64            `json:"number"`
	List   []inner            `json:"list"`
	By     map[string]float64 `json:"by"`
	File   []byte             `json:"file"`
	hidden string
}

// TestWhatNoFieldMayHold: each is refused with the path of its field; what a field may hold passes.
func TestWhatNoFieldMayHold(t *testing.T) {
	good := func() form {
		return form{ID: "01234567-89ab-7def-8123-456789abcdef", Day: "2026-11-26", At: time.Now(),
			Due:    time.Now().AddDate(5, 0, 0),
			Number: 1.5, List: []inner{{"first\nsecond\ttab", "Ærø 🔋"}}, By: map[string]float64{"touch": 1},
			File: []byte{0, 1, 2}, hidden: "\x00"}
	}
	if err := Check(good()); err != nil {
		t.Fatalf("a good form: %v", err)
	}
	for field, changes := range map[string][]func(*form){
		"id": {func(f *form) { f.ID = "x" }, func(f *form) { f.ID = "00000000-0000-0000-0000-000000000000" },
			func(f *form) { f.ID = "{01234567-89ab-7def-8123-456789abcdef}" }},
		"day": {func(f *form) { f.Day = "1899-12-31" }, func(f *form) { f.Day = "2201-01-01" },
			func(f *form) { f.Day = "2026-02-30" },
			func(f *form) { f.Day = "soon" }},
		"at": {func(f *form) { f.At = time.Now().AddDate(0, 0, 3) }, func(f *form) {
			f.At = time.Date(1999, 1, 1, 0, 0,
				0, 0, time.UTC)
		}},
		"due":    {func(f *form) { f.Due = time.Now().AddDate(30, 0, 0) }},
		"number": {func(f *form) { f.Number = math.NaN() }, func(f *form) { f.Number = math.Inf(1) }},
		"list[0].name": {func(f *form) { f.List[0].Name = "two\nlines" }, func(f *form) { f.List[0].Name = "a\ttab" },
			func(f *form) { f.List[0].Name = "\u202eturned" }, func(f *form) { f.List[0].Name = " \u200b" },
			func(f *form) { f.List[0].Name = "bell\a" }, func(f *form) { f.List[0].Name = "\xff" }},
		"list[0].note": {func(f *form) { f.List[0].Note = "line\x00" }},
		"by.touch":     {func(f *form) { f.By["touch"] = math.NaN() }},
		"by":           {func(f *form) { f.By["a\nb"] = 1 }},
	} {
		for k, change := range changes {
			f := good()
			change(&f)
			var got *fault.Fault
			if err := Check(&f); !errors.As(err, &got) || got.Field != field {
				t.Errorf("%s %d: %v", field, k, err)
			}
		}
	}
	for day, ok := range map[string]bool{"1900-01-01": true, "2200-12-31": true, "1900-1-1": false, "": false} {
		if err := Date("day", day); (err == nil) != ok {
			t.Errorf("%q: %v", day, err)
		}
	}
}
