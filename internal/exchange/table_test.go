package exchange_test

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/csv"
	"encoding/xml"
	"fmt"
	"io"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/core/fault"
	"waryowl/internal/exchange"
	"waryowl/internal/store"
)

// TestTablesComeBackAsTheyWent: each table out as CSV and as XLSX and in again changes nothing; into an empty model it
// makes the same.
func TestTablesComeBackAsTheyWent(t *testing.T) {
	ctx := context.Background()
	s, models := world(t)
	from := models["Drift 4"]
	empty := store.Model{ModelFacts: store.ModelFacts{Maker: "Pellow", Name: "Drift 9", Entry: "back"}}
	if err := store.Create(&store.Tx{DB: s.DB}, &empty); err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{"parts", "steps", "measures", "facts", "offers", "stock"} {
		table, err := exchange.Tabled(s.DB, from, name)
		if err != nil || len(table.Rows) == 0 {
			t.Fatalf("%s: %d rows, %v", name, len(table.Rows), err)
		}
		text, err := table.CSV()
		if err != nil {
			t.Fatal(err)
		}
		book, err := table.XLSX()
		if err != nil {
			t.Fatal(err)
		}
		for kind, file := range map[string][]byte{"CSV": text, "XLSX": book} {
			v, err := exchange.Look(ctx, s, from, name, file, nil)
			if err != nil || len(v.Errors) > 0 || v.Same != len(table.Rows) || v.New+v.Changed > 0 {
				t.Errorf(
					"%s of %s read again: %d rows, %d same, %d new, %d changed, %v, %v",
					kind,
					name,
					len(table.Rows),
					v.Same,
					v.New,
					v.Changed,
					v.Errors,
					err,
				)
			}
		}
		v, err := exchange.Put(ctx, s, command(), empty.ID, name, text, nil)
		if err != nil || !v.Taken || v.New != len(table.Rows) {
			t.Fatalf("%s into an empty model: %+v, %v", name, v, err)
		}
		again, err := exchange.Tabled(s.DB, empty.ID, name)
		if err != nil {
			t.Fatal(err)
		}
		sorted := func(rows [][]string) []string {
			var list []string
			for _, r := range rows {
				list = append(list, strings.Join(r, "\t"))
			}
			slices.Sort(list)
			return list
		}
		if a, b := sorted(table.Rows), sorted(again.Rows); !slices.Equal(a, b) {
			t.Errorf("%s: %d rows, %d then; first %q, %q", name, len(a), len(b), a[0], b[0])
		}
	}
	trials, err := exchange.Tabled(s.DB, from, "trials")
	if err != nil || len(trials.Rows) < 40 {
		t.Fatalf("%d rows of trials, %v", len(trials.Rows), err)
	}
	text, err := trials.CSV()
	if err != nil {
		t.Fatal(err)
	}
	if v, err := exchange.Look(ctx, s, from, "trials", text, nil); err != nil || v.Same != len(trials.Rows) ||
		len(v.Errors) > 0 {
		t.Errorf("trials read again: %d of %d the same, %v, %v", v.Same, len(trials.Rows), v.Errors, err)
	}
	more := "study,trial,board,fitted,check,result,minutes (min)\n\"Drift 4, first pair\",x1,AMBER,battery: PINE,boot,pass,22\n" +
		"\"Drift 4, first pair\",x1,AMBER,battery: PINE,battery-health,lost,22\n"
	v, err := exchange.Put(ctx, s, command(), from, "trials", []byte(more), nil)
	if err != nil || v.New != 2 {
		t.Fatalf("a trial from a table: %+v, %v", v, err)
	}
	after, err := exchange.Tabled(s.DB, from, "trials")
	if err != nil || len(after.Rows) != len(trials.Rows)+2 || after.Rows[len(after.Rows)-1][6] != "battery: PINE" {
		t.Errorf("%d rows then, the last %q, %v", len(after.Rows), after.Rows[len(after.Rows)-1], err)
	}
}

// TestWorkbookByAnotherReader: the workbook is read with a ZIP and an XML reader alone, the text with encoding/csv; what a
// spreadsheet would run as a formula is text in both.
func TestWorkbookByAnotherReader(t *testing.T) {
	table, _ := exchange.TableNamed("facts")
	table.Rows = [][]string{{"manual", "none", "", "", "", "", "=HYPERLINK(1)", "", "", "2026-11-26", "a, \"b\"\nc"},
		{"updates.years", "", "-5", "", "", "", "@x", "", "", "", ""}}
	book, err := table.XLSX()
	if err != nil {
		t.Fatal(err)
	}
	z, err := zip.NewReader(bytes.NewReader(book), int64(len(book)))
	if err != nil {
		t.Fatal(err)
	}
	open := func(name string, into any) {
		f, err := z.Open(name)
		if err != nil {
			t.Fatal(err)
		}
		text, _ := io.ReadAll(f)
		if err := xml.Unmarshal(text, into); err != nil {
			t.Fatalf("%s: %v", name, err)
		}
	}
	var sheet struct {
		Rows []struct {
			Cells []struct {
				R string  `xml:"r,attr"`
				T string  `xml:"t,attr"`
				V string  `xml:"v"`
				F *string `xml:"f"`
			} `xml:"c"`
		} `xml:"sheetData>row"`
	}
	var shared struct {
		Items []struct {
			T string `xml:"t"`
		} `xml:"si"`
	}
	open("xl/worksheets/sheet1.xml", &sheet)
	open("xl/sharedStrings.xml", &shared)
	found := map[string]string{}
	for _, r := range sheet.Rows {
		for _, c := range r.Cells {
			v := c.V
			if c.T == "s" {
				k := 0
				fmt.Sscan(v, &k)
				v = shared.Items[k].T
			}
			if c.F != nil {
				t.Errorf("%s is a formula", c.R)
			}
			found[c.R] = v
		}
	}
	if found["A1"] != "fact" || found["G2"] != "=HYPERLINK(1)" || found["C3"] != "-5" || found["K2"] != "a, \"b\"\nc" {
		t.Errorf("read: %v", found)
	}
	text, err := table.CSV()
	if err != nil {
		t.Fatal(err)
	}
	rows, err := csv.NewReader(bytes.NewReader(text)).ReadAll()
	if err != nil || len(rows) != 3 || rows[1][6] != "'=HYPERLINK(1)" || rows[2][2] != "-5" || rows[2][6] != "'@x" {
		t.Errorf("%q, %v", rows, err)
	}
}

// TestBrokenTables: each error names its line and column; nothing is put in.
func TestBrokenTables(t *testing.T) {
	ctx := context.Background()
	s, models := world(t)
	id := models["Drift 4"]
	for name, c := range map[string]struct {
		table, file string
		at          string // of the first error: line and column
	}{
		"a family that is not":  {"parts", "name,family\nlid,QQ\n", "2 B"},
		"a number that is none": {"parts", "name,family,x (mm)\nlid,FR,1\nrim,FR,wide\n", "3 C"},
		"of another unit":       {"parts", "name,family,x (inch)\nlid,FR,1\n", "1 C"},
		"twice the same":        {"parts", "name,family\nlid,FR\nrim,FR\nLid,FR\n", "4 A"},
		"no name":               {"parts", "family\nFR\n", "1 "},
		"empty name":            {"parts", "name;family\n;FR\n", "2 A"},
		"a part that is not":    {"measures", "part,quantity,unit,readings,resolution\nsail,mass,g,1 | 2,0.1\n", "2 A"},
		"a reading that is none": {"measures",
			"part\tquantity\tunit\treadings\tresolution\nbattery\tmass\tg\t1 | x\t0.1\n", "2 D"},
		"a unit that is not":           {"measures", "part,quantity,unit,readings,resolution\nbattery,mass,stone,1,0.1\n", "2 C"},
		"a step after one that is not": {"steps", "mark,verb,what,after\nq1,lift,lid,q9\n", "2 D"},
		"a verb that is not":           {"steps", "mark,verb,what\nq1,throw,lid\n", "2 B"},
		"a part freed that is not":     {"steps", "mark,verb,what,frees\nq1,lift,lid,battery | sail\n", "2 D"},
		"a study that is not":          {"trials", "study,trial,board,check,result\nSail,x,PINE,boot,pass\n", "2 A"},
		"a phone that is not":          {"trials", "study,trial,board,check,result\n\"Drift 4, first pair\",x,ELM,boot,pass\n", "2 C"},
		"a result that is none":        {"trials", "study,trial,board,check,result\n\"Drift 4, first pair\",x,PINE,boot,fine\n", "2 E"},
		"a trial that says otherwise": {"trials",
			"study,trial,board,check,result\n\"Drift 4, first pair\",t1,PINE,boot,dark\n", "2 B"},
		"a seller that is not": {"offers", "seller,title,covers,grade,price,currency\nNobody,x,battery,copy,9,EUR\n", "2 A"},
		"a price of half cents": {"offers",
			"seller,title,covers,grade,price,currency\nNorth Quay Spares,x,battery,copy,9.005,EUR\n", "2 E"},
		"a grade that is not":        {"stock", "item,grade,quantity,place\nbattery,fine,1,A\n", "2 B"},
		"less than nothing in stock": {"stock", "item,grade,quantity,place\nbattery,copy,-1,A\n", "2 C"},
		"a fact that a plan gives":   {"facts", "fact,number,by\nbattery.depth,3,me\n", "2 A"},
		"a choice that is not":       {"facts", "fact,choice,by\nmanual,somewhere,me\n", "2 B"},
		"a day that is none":         {"facts", "fact,choice,by,date\nmanual,none,me,26.11.2026\n", "2 D"},
	} {
		v, err := exchange.Look(ctx, s, id, c.table, []byte(c.file), nil)
		if err != nil || len(v.Errors) == 0 || fmt.Sprintf("%d %s", v.Errors[0].Line, v.Errors[0].Column) != c.at {
			t.Errorf("%s: %+v, %v", name, v.Errors, err)
		}
		var f *fault.Fault
		if _, err := exchange.Put(ctx, s, command(), id, c.table, []byte(c.file), nil); err == nil ||
			!asFault(err, &f) {
			t.Errorf("%s was put in: %v", name, err)
		}
	}
	for name, file := range map[string]string{"nothing": "", "no text": "\xff\xfe\x00",
		"a quote left open": "name,family\n\"lid,FR\n",
		"no workbook":       "PK\x03\x04rubbish"} {
		if _, err := exchange.Look(ctx, s, id, "parts", []byte(file), nil); err == nil {
			t.Errorf("%s was read", name)
		}
	}
	// A column of another name is mapped by hand.
	v, err := exchange.Look(ctx, s, id, "parts", []byte("Bauteil,family\nlid,FR\n"), map[string]int{"name": 0})
	if err != nil || len(v.Errors) > 0 || v.New != 1 {
		t.Errorf("mapped by hand: %+v, %v", v, err)
	}
}
