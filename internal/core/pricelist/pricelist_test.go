package pricelist

import (
	"encoding/base64"
	"encoding/csv"
	"fmt"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"
	"time"

	"github.com/xuri/excelize/v2"
)

func read(t *testing.T, in Input) Output {
	t.Helper()
	out, err := Read(in)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// rows are a list of these cells under the usual heads.
func rows(cells ...[]any) Input {
	in := Input{Slots: []string{"battery", "main-board", "screws"}, Today: "2026-11-26",
		Defaults: Defaults{Currency: "USD"},
		Table:    [][]any{{"Seller", "Code", "Title", "Covers", "Grade", "Price", "Date", "Qty"}}}
	in.Table = append(in.Table, cells...)
	return in
}

func priced1(price any) []any {
	return []any{"Tern", "", "a battery", "battery", "OEM", price, nil, nil}
}

// TestFigures: what one cell alone is read as, refused or asked.
func TestFigures(t *testing.T) {
	for _, c := range []struct {
		cell     any
		minor    int64
		currency string
		says     string // of the error, or the question
	}{
		{"1840", 184000, "USD", ""}, {"$1,220.00", 122000, "USD", ""}, {"1 840,50", 184050, "USD", ""}, {"1'840.50", 184050,
			"USD", ""},
		{"1\u202f840,50 €", 184050, "EUR", ""}, {"15.-", 1500, "USD", ""}, {"0.5", 50, "USD", ""}, {"1.234.567", 123456700,
			"USD", ""},
		{"R$ 10,00", 1000, "BRL", ""}, {"US$ 3", 300, "USD", ""}, {"¥100 JPY", 100, "JPY", ""}, {"12.345 KWD 7", 0, "",
			"no number"},
		{"1,840", 0, "", "price.decimal"}, {"1.840", 0, "", "price.decimal"}, {"kr 12", 0, "", "price.sign kr"},
		{"12%", 0, "", "no number"}, {"(5)", 0, "", "no number"}, {"-3", 0, "", "at least 0"}, {"1e3", 0, "", "no number"},
		{".5", 0, "", "no number"}, {"free", 0, "", "no number"}, {"5-7", 0, "", "no number"}, {"=2*3", 0, "", "no number"},
		{"10 EUR $", 0, "", "contradict"}, {true, 0, "", "no number"}, {map[string]any{"error": "#N/A"}, 0, "",
			"an error of the sheet"},
		{map[string]any{"formula": "=B2*2", "value": 31.}, 3100, "USD", ""}, {map[string]any{"formula": "=B2*2"}, 0, "",
			"never computed"},
		{7.25, 725, "USD", ""}, {-1., 0, "", "at least 0"}, {7.125, 0, "", "finer"}, {"7.120", 712, "USD", "x"}, {nil, 0,
			"", "needed"},
	} {
		if c.says == "x" { // a point with three digits behind it may part thousands
			c.minor, c.currency, c.says = 0, "", "price.decimal"
		}
		out := read(t, rows(priced1(c.cell)))
		said := ""
		for _, e := range out.Errors {
			said += e.Message
		}
		for _, q := range out.Questions {
			said += q.ID
		}
		o := out.Rows[0].Offer
		if c.says != "" && (o != nil || !strings.Contains(said, c.says)) || c.says == "" && (o == nil ||
			o.PriceMinor != c.minor ||
			o.Currency != c.currency) {
			t.Errorf("%v: %+v, %q", c.cell, o, said)
		}
	}
}

// TestAColumnDecides: cells with one reading settle the others; an answer settles only what is open.
func TestAColumnDecides(t *testing.T) {
	prices := func(out Output) string {
		var list []string
		for _, r := range out.Rows {
			if r.Offer == nil {
				list = append(list, r.Decision)
			} else {
				list = append(list, fmt.Sprint(r.Offer.PriceMinor))
			}
		}
		return strings.Join(list, " ")
	}
	list := func(cells ...any) Input {
		in := rows()
		for i, c := range cells {
			r := priced1(c)
			r[1] = fmt.Sprint("c", i)
			in.Table = append(in.Table, r)
		}
		return in
	}
	for _, c := range []struct {
		in   Input
		want string
	}{
		{list("1,840", "8.50"), "184000 850"},
		{list("1,840", "8,50"), "184 850"},
		{list("1,840", "8,50", "9.75"), "asked 850 975"},
		{list("1,840", 8.5), "asked 850"},
	} {
		if got := prices(read(t, c.in)); got != c.want {
			t.Errorf("%v: %s, want %s", c.in.Table[1:], got, c.want)
		}
	}
	in := list("1,840", "8,50", "9.75")
	in.Answers = map[string]string{"price.decimal": "."}
	if got := prices(read(t, in)); got != "184000 850 975" {
		t.Errorf("answered: %s", got)
	}
}

// TestIdentity: the same list put in again changes nothing; what is the same offer and says otherwise is refused.
func TestIdentity(t *testing.T) {
	in := rows([]any{"Tern", "t-1", "Battery, boxed", "battery", "OEM", "21.00", "2026-11-01", "4"},
		[]any{"Tern", "", "Screw set", "screws x12", "aftermarket", "8.50", nil, "1200"},
		[]any{"Tern", "", "Screw  set", "12 screws", "copy", "8.50", nil, "1200"},
		[]any{"Tern", "T-1", "Battery", "battery", "OEM", "22.00", nil, "4"})
	out := read(t, in)
	if c := out.Counts; c.New != 2 || c.Duplicate != 1 || c.Wrong != 1 || out.Errors[0].Field != "code" {
		t.Errorf("%+v, %+v", c, out.Errors)
	}
	for i, r := range out.Rows[:2] {
		o := *r.Offer
		o.ID = fmt.Sprint("k", i)
		in.Known = append(in.Known, o)
	}
	in.Known = append(in.Known, Offer{ID: "k9", Seller: "tern", Code: "t-9", Title: "gone",
		Covers: map[string]int{"screws": 1}, Grade: "copy"},
		Offer{ID: "k8", Seller: "Plover", Title: "another's", Covers: map[string]int{"screws": 1}, Grade: "copy"})
	in.Table = in.Table[:3]
	if out = read(t, in); out.Counts.Same != 2 || !reflect.DeepEqual(out.Gone, []string{"k9"}) {
		t.Errorf("put in again: %+v, gone %v", out.Counts, out.Gone)
	}
	in.Table[1][5], in.Table[1][6] = "19.50", "2026-11-20"
	if out = read(t, in); !reflect.DeepEqual(out.Rows[0].Changed, []string{"price", "date"}) ||
		*out.Rows[0].Offer.Stock != 4 {
		t.Errorf("a new price: %+v", out.Rows[0])
	}
}

// TestModels: where models are given each row is for one of them; a code may stand for a piece of each, and what is known
// of another model is no older price of this one.
func TestModels(t *testing.T) {
	in := Input{Slots: []string{"battery"}, Today: "2026-11-26", Models: []Model{{Name: "Pellow Drift 4", Also: []string{"Drift 4"}},
		{Name: "Pellow Drift 3", Also: []string{"Drift 3"}}}, Defaults: Defaults{Currency: "EUR"},
		Known: []Offer{{ID: "k", Model: "Pellow Drift 3", Seller: "Tern", Code: "b1", Title: "Battery", Grade: "copy",
			Covers: map[string]int{"battery": 1}, PriceMinor: 900, Currency: "EUR", Date: "2026-10-01"}},
		Table: [][]any{{"Phone", "Seller", "Code", "Title", "Covers", "Grade", "Price"},
			{"drift 4", "Tern", "b1", "Battery", "battery", "copy", 8.}, {"Drift  3", "Tern", "b1", "Battery", "battery", "copy", 7.},
			{"Drift 9", "Tern", "b1", "Battery", "battery", "copy", 7.}, {nil, "Tern", "b2", "Battery", "battery", "used", 7.}}}
	out := read(t, in)
	if c := out.Counts; c.New != 1 || c.Changed != 1 || c.Wrong != 2 || out.Rows[0].Offer.Model != "Pellow Drift 4" ||
		out.Rows[1].ID != "k" || out.Errors[0].Field != "model" || out.Errors[0].Found != "Drift 9" {
		t.Errorf("%+v, %+v", c, out.Errors)
	}
	in.Defaults.Model = "Drift 3"
	if out = read(t, in); out.Counts.New != 2 || out.Rows[3].Offer.Model != "Pellow Drift 3" {
		t.Errorf("with a default: %+v, %+v", out.Counts, out.Errors)
	}
	in.Table[0][0], in.Defaults.Model = "what", ""
	if out = read(t, in); strings.Join(out.Missing, " ") != "model" {
		t.Errorf("no column: %v is missing", out.Missing)
	}
}

// TestCellsWrittenAnew: a cell that was mended is read as if the list said so, and stands so among its texts.
func TestCellsWrittenAnew(t *testing.T) {
	in := rows(priced1("free"), []any{"Tern", nil, "a battery", "battery", "copy", "8.50"})
	in.Cells = []Mended{{Line: 2, Column: "f", Text: "7.50"}, {Line: 3, Column: "B", Text: "t-1"}}
	out := read(t, in)
	if out.Counts.Wrong != 0 || out.Rows[0].Offer.PriceMinor != 750 || out.Rows[1].Offer.Code != "t-1" {
		t.Errorf("%+v %+v", out.Counts, out.Errors)
	}
	if texts, err := Texts(in); err != nil || texts[2][5] != "7.50" || texts[1][0] != "Seller" {
		t.Errorf("%v, %v", texts, err)
	}
	in.Cells[0].Line = 9
	if _, err := Read(in); err == nil || !strings.Contains(err.Error(), "cells[0]") {
		t.Errorf("%v", err)
	}
}

func TestDates(t *testing.T) {
	for cell, want := range map[string]string{"2026-11-26": "2026-11-26", "26. 11. 26": "2026-11-26",
		"11/26/2026":       "2026-11-26",
		"26/11/2026 14:03": "2026-11-26", "3/3/26": "2026-03-03", "Nov 26, 2026": "2026-11-26", "26-Nov-26": "2026-11-26",
		"20261126": "2026-11-26", "45000": "2023-03-15", "2026-11-26T10:00:00Z": "2026-11-26",
		"03/04/2026": "date.order", "31.02.2026": "no such day", "soon": "no date", "32/13/2026": "no such day"} {
		r := priced1("5")
		r[6] = cell
		out := read(t, rows(r))
		got := ""
		if o := out.Rows[0].Offer; o != nil {
			got = o.Date
		}
		for _, e := range out.Errors {
			got += e.Message
		}
		for _, q := range out.Questions {
			got += q.ID
		}
		if got != want {
			t.Errorf("%s: %s, want %s", cell, got, want)
		}
	}
}

// TestTextsAreSplitAsByTheLibrary: encoding/csv reads RFC 4180 as well.
func TestTextsAreSplitAsByTheLibrary(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	alphabet := []string{"a", "b c", "\"", ";", "\n", "é", ",", "1.50"}
	for range 400 {
		var want [][]string
		for range 1 + r.IntN(4) {
			row := []string{"x"}
			for range 1 + r.IntN(3) {
				f := "k"
				for range r.IntN(4) {
					f += alphabet[r.IntN(len(alphabet))]
				}
				row = append(row, f)
			}
			want = append(want, row)
		}
		var b strings.Builder
		w := csv.NewWriter(&b)
		w.Comma = ';'
		if err := w.WriteAll(want); err != nil {
			t.Fatal(err)
		}
		if got := split(b.String(), ';'); !reflect.DeepEqual(got, want) {
			t.Fatalf("%q: %q, want %q", b.String(), got, want)
		}
	}
}

// TestWorkbooks: what excelize writes is read, dates by their format.
func TestWorkbooks(t *testing.T) {
	f := excelize.NewFile()
	for i, row := range [][]any{{"Seller", "Title", "Covers", "Grade", "Price", "Date"}, {"Tern", "a battery", "battery",
		"OEM", 21.5,
		time.Date(2026, 11, 20, 15, 0, 0, 0, time.UTC)}, {}, {"Tern", "board", "main board", "pulled", "€ 12,50",
		"1.11.2026"}} {
		if err := f.SetSheetRow("Sheet1", fmt.Sprintf("A%d", i+1), &row); err != nil {
			t.Fatal(err)
		}
	}
	b, err := f.WriteToBuffer()
	if err != nil {
		t.Fatal(err)
	}
	out := read(t, Input{Slots: []string{"battery", "main-board"}, File: base64.StdEncoding.EncodeToString(b.Bytes()),
		Defaults: Defaults{Currency: "CAD"}})
	if out.Encoding != "xlsx" || len(out.Rows) != 2 || out.Rows[0].Offer == nil || out.Rows[0].Offer.PriceMinor != 2150 ||
		out.Rows[0].Offer.Date != "2026-11-20" || out.Rows[1].Line != 4 || out.Rows[1].Offer.Currency != "EUR" {
		t.Errorf("%+v %+v", out, out.Errors)
	}
	for code, want := range map[string]bool{"yyyy-mm-dd": true, "0.00": false, `0 "days"`: false, `[Red]0`: false,
		`\d0`: false, "d/m": true} {
		if dateFormat(code) != want {
			t.Errorf("%s is a date: %v", code, !want)
		}
	}
}

func TestHeadsAndRefusals(t *testing.T) {
	in := rows(priced1("5"))
	in.Table[0][4], in.Table[0][1] = "Cost (net)", "Amount"
	out := read(t, in)
	if len(out.Missing) != 1 || out.Missing[0] != "grade" {
		t.Errorf("missing: %v", out.Missing)
	}
	in = rows(priced1("5"))
	in.Table[0][5], in.Table[0][6] = "Cost", "Amount"
	if out = read(t, in); len(out.Questions) != 1 || out.Questions[0].ID != "price.column" {
		t.Errorf("two columns for a price: %+v", out.Questions)
	}
	in.Answers = map[string]string{"price.column": "F"}
	if out = read(t, in); out.Counts.New != 1 {
		t.Errorf("answered: %+v", out)
	}
	for field, bad := range map[string]Input{"file": {Slots: []string{"battery"}}, "mapping.price": {Table: [][]any{{"a"}},
		Mapping: map[string]int{"price": 9}}, "table[0][0]": {Table: [][]any{{[]any{1}}}}} {
		if _, err := Read(bad); err == nil || !strings.HasPrefix(err.Error(), field+":") {
			t.Errorf("%s: %v", field, err)
		}
	}
	if _, err := Read(Input{File: "%"}); err == nil {
		t.Error("no base64")
	}
}
