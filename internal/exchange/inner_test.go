package exchange

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"

	"waryowl/internal/app/model"
	"waryowl/internal/store"
)

// TestFontsAreUnpacked: a font out of WOFF is an sfnt whose tables hold their check sums (OpenType, "calculating checksums");
// what is no WOFF is refused.
func TestFontsAreUnpacked(t *testing.T) {
	for _, name := range []string{"next-latin-400", "next-latin-600", "mono-latin-400"} {
		f, err := sfnt(name)
		if err != nil {
			t.Fatal(err)
		}
		be := binary.BigEndian
		n := int(be.Uint16(f[4:]))
		tags := map[string]bool{}
		for i := range n {
			e := f[12+16*i:]
			at, size := int(be.Uint32(e[8:])), int(be.Uint32(e[12:]))
			table := bytes.Clone(f[at : at+size])
			if string(e[:4]) == "head" { // its own sum is left out of its sum
				copy(table[8:12], []byte{0, 0, 0, 0})
			}
			for len(table)%4 != 0 {
				table = append(table, 0)
			}
			var sum uint32
			for k := 0; k < len(table); k += 4 {
				sum += be.Uint32(table[k:])
			}
			if sum != be.Uint32(e[4:]) {
				t.Errorf("%s: table %s has another sum", name, e[:4])
			}
			tags[string(e[:4])] = true
		}
		for _, tag := range []string{"cmap", "glyf", "head", "hmtx", "loca", "name"} {
			if !tags[tag] {
				t.Errorf("%s lacks %s", name, tag)
			}
		}
	}
	good := font("next-latin-400")
	for what, bad := range map[string][]byte{"nothing": nil, "another kind": []byte("wOF2" + strings.Repeat("x", 80)),
		"cut off": good[:200], "no head": good[:20]} {
		if _, err := unpack(bad); err == nil {
			t.Errorf("%s was unpacked", what)
		}
	}
	broken := bytes.Clone(good)
	for i := range 60 {
		broken[len(broken)/2+i] ^= 0xff
	}
	if f, err := unpack(broken); err == nil && bytes.Equal(f, mustFont(t)) {
		t.Error("a broken font came out whole")
	}
}

func mustFont(t *testing.T) []byte {
	f, err := sfnt("next-latin-400")
	if err != nil {
		t.Fatal(err)
	}
	return f
}

// TestWordsInThePDF: what the fonts lack is written in their letters where that is usual, else as a question mark.
func TestWordsInThePDF(t *testing.T) {
	for in, want := range map[string]string{"3 → 5": "3 to 5", "≤ 2 mm": "at most 2 mm", "5\u202f%": "5 %",
		"Ärger – “so”": "Ärger – “so”",
		"батарея":      "???????", "1 × 2 ± 0.1": "1 × 2 ± 0.1"} {
		if got := inFont(in); got != want {
			t.Errorf("%q: %q", in, got)
		}
	}
}

// TestHeadsOfTables: a head is known however it is written, with its unit; a formula is one, a negative number is none.
func TestHeadsOfTables(t *testing.T) {
	for in, want := range map[string][2]string{"Width (mm)": {"width", "mm"}, "chip_mark": {"chip mark", ""},
		"CONNECTOR-code": {"connector code", ""},
		"planned ( s )":  {"planned", "s"}, "": {"", ""}} {
		if got := [2]string{plainHead(in), unitOf(in)}; got != want {
			t.Errorf("%q: %q", in, got)
		}
	}
	for in, want := range map[string]bool{"=1+1": true, "+cmd": true, "@x": true, "-5": false, "-5.25": false,
		"5": false, "": false, "-x": true} {
		if formula(in) != want {
			t.Errorf("%q: formula is %v", in, !want)
		}
	}
	if got := (Column{Name: "width", Unit: "mm"}).Head(); got != "width (mm)" {
		t.Errorf("head %q", got)
	}
}

// TestDrawingsAreQuoted: names that would end a text in DOT or SVG do not.
func TestDrawingsAreQuoted(t *testing.T) {
	k := &model.Record{StepByID: map[string]store.PlanStep{}, PartByID: map[string]store.Part{}}
	k.Maker, k.Name, k.WidthMM, k.HeightMM = `Pel"low\`, "<Drift> & co", 70, 140
	part := store.Part{
		Row:       store.Row{ID: "p"},
		PartFacts: store.PartFacts{Name: `<script>"x"</script>`, WMM: 10, HMM: 10},
	}
	k.Parts = []store.Part{part}
	k.PartByID["p"] = part
	for _, s := range []store.PlanStep{
		{Row: store.Row{ID: "a"}, Mark: "s1", StepFacts: store.StepFacts{Verb: "lift", What: "lid \"top\"\nnow", Frees: []string{"p"}}},
		{Row: store.Row{ID: "b"}, Mark: "s2", StepFacts: store.StepFacts{Verb: "lift", What: "x", After: [][]string{{"a"}, {"b"}}}}} {
		k.Steps = append(k.Steps, s)
		k.StepByID[s.ID] = s
	}
	dot := string(DOT(k))
	for _, want := range []string{`label="Pel\"low\\ <Drift> & co"`, `lid \"top\" now`, `"s1" -> "s2" [style=dashed, label="or a"]`,
		`"s2" -> "s2" [style=dashed, label="or b"]`} {
		if !strings.Contains(dot, want) {
			t.Errorf("DOT lacks %s:\n%s", want, dot)
		}
	}
	svg := string(MapSVG(k))
	if strings.Contains(svg, "<script>") || !strings.Contains(svg, "&lt;script&gt;") {
		t.Errorf("SVG: %s", svg)
	}
	if empty := (&Map{}).SVG(); empty != "" {
		t.Errorf("a phone without a size is drawn: %s", empty)
	}
	marked := Map{Width: 70, Height: 140, Parts: k.Parts, Marks: map[string]string{"p": "3 4"}}
	if text, on := marked.label(part); !on || !strings.HasPrefix(text, "3 4 ") {
		t.Errorf("on the way: %q %v", text, on)
	}
	marked.Marks = map[string]string{}
	if text, on := marked.label(part); on || text != part.Name {
		t.Errorf("off the way: %q %v", text, on)
	}
}

// TestNamesStandForRows: names of rows become ids where ids stand, and stay words where words stand.
func TestNamesStandForRows(t *testing.T) {
	var doc any
	text := `{"rows":[{"id":"part lid","name":"part lid","note":"part lid"},{"id":"step s1","frees":["part lid"],"after":[["step s1"]],
		"risk":{"part lid":0.1},"what":"part lid"}]}`
	if err := json.Unmarshal([]byte(text), &doc); err != nil {
		t.Fatal(err)
	}
	ids := map[string]string{}
	if err := collect(doc, "", ids); err != nil || len(ids) != 2 {
		t.Fatalf("%v, %v", ids, err)
	}
	out := string(mustJSON(rename(doc, ids)))
	lid, step := ids["part lid"], ids["step s1"]
	for _, want := range []string{`"id":"` + lid + `"`, `"name":"part lid"`, `"note":"part lid"`, `"frees":["` + lid + `"]`,
		`"after":[["` + step + `"]]`, `"risk":{"` + lid + `":0.1}`, `"what":"part lid"`} {
		if !strings.Contains(out, want) {
			t.Errorf("%s is missing in %s", want, out)
		}
	}
	for _, bad := range []string{`{"a":{"id":" "}}`, `{"a":[{"id":"x"},{"id":"x"}]}`} {
		var doc any
		if err := json.Unmarshal([]byte(bad), &doc); err != nil {
			t.Fatal(err)
		}
		if err := collect(doc, "", map[string]string{}); err == nil {
			t.Errorf("%s was taken", bad)
		}
	}
}

// FuzzRead: no document, whatever it holds, ends the program or is half read.
func FuzzRead(f *testing.F) {
	for _, seed := range []string{`{}`, `{"format":"waryowl-document","version":1}`, `[]`, `{"format":"waryowl-document","version":1,"model":{"id":"m"},"parts":[{"id":"p","name":"x"}]}`,
		`{"format":"waryowl-document","version":1,"steps":[{"id":"a","after":[["a"]]}]}`} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		if d, err := Read(text); err == nil && d.Format != Format {
			t.Errorf("%q was read", text)
		}
	})
}

// FuzzRows: no file, whatever it holds, ends the program; what is read is a table.
func FuzzRows(f *testing.F) {
	for _, seed := range []string{"a,b\n1,2\n", "a;b\n1;2", "\ufeffa\tb\n1\t2", "PK\x03\x04", "\"", "", "a\n\"x\n\"", "\xff"} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, file []byte) {
		list, err := rows(file)
		if err == nil && len(file) > 0 && len(list) == 0 &&
			strings.TrimSpace(strings.TrimPrefix(string(file), "\ufeff")) != "" {
			t.Errorf("%q: neither rows nor an error", file)
		}
	})
}

// TestRandomTablesComeBack: whatever stands in the cells of a table, it comes back out of CSV and out of a workbook, but for
// the apostrophe before what a spreadsheet would run.
func TestRandomTablesComeBack(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 11))
	bits := []string{
		"a",
		"B",
		" ",
		",",
		";",
		"\"",
		"'",
		"\n",
		"=",
		"-",
		"1",
		".",
		"ä",
		"日",
		"\t",
		"|",
		"0",
		"<",
		"&",
		"+",
	}
	word := func() string {
		var b strings.Builder
		for range r.IntN(8) {
			b.WriteString(bits[r.IntN(len(bits))])
		}
		return strings.TrimSpace(b.String())
	}
	plain := func(s string) string { return strings.TrimPrefix(strings.ReplaceAll(s, "\r\n", "\n"), "'") }
	for range 200 {
		t1, _ := TableNamed("facts")
		for range 1 + r.IntN(6) {
			var cells []string
			for range t1.Columns {
				cells = append(cells, word())
			}
			cells[0] = "x" + cells[0] // a row of blanks is none
			t1.Rows = append(t1.Rows, cells)
		}
		text, err := t1.CSV()
		if err != nil {
			t.Fatal(err)
		}
		book, err := t1.XLSX()
		if err != nil {
			t.Fatal(err)
		}
		for kind, file := range map[string][]byte{"CSV": text, "XLSX": book} {
			list, err := rows(file)
			if err != nil || len(list) != len(t1.Rows)+1 {
				t.Fatalf("%s: %d rows of %d, %v", kind, len(list)-1, len(t1.Rows), err)
			}
			for i, row := range t1.Rows {
				for j, cell := range row {
					got := ""
					if j < len(list[i+1]) { // a workbook leaves blanks at the end away
						got = list[i+1][j]
					}
					x, number := strconv.ParseFloat(cell, 64)
					y, same := strconv.ParseFloat(got, 64)
					if plain(got) != plain(cell) && !(number == nil && same == nil && x == y) {
						t.Fatalf("%s, %s: %q came back as %q", kind, t1.Columns[j].Name, cell, got)
					}
				}
			}
		}
	}
}

// TestAmountsInTheirDigits: money is read in the digits of its currency (ISO 4217), and what is finer is refused.
func TestAmountsInTheirDigits(t *testing.T) {
	for in, want := range map[[2]string]int64{{"19.90", "EUR"}: 1990, {"19,90", "EUR"}: 1990, {"0.07", "EUR"}: 7,
		{"1900", "JPY"}:  1900,
		{"1.234", "KWD"}: 1234, {"", "EUR"}: 0} {
		var errs []CellError
		l := line{at: 2, cells: map[string]string{"price": in[0]}, errors: &errs}
		if got := l.money("price", in[1]); got != want || len(errs) > 0 {
			t.Errorf("%v: %d, %v", in, got, errs)
		}
		if text := amount(want, in[1]); want > 0 && strings.ReplaceAll(in[0], ",", ".") != text {
			t.Errorf("%v is said as %s", in, text)
		}
	}
	for _, in := range [][2]string{{"1.5", "JPY"}, {"0.001", "EUR"}, {"dear", "EUR"}, {"NaN", "EUR"}} {
		var errs []CellError
		l := line{at: 2, cells: map[string]string{"price": in[0]}, errors: &errs}
		if l.money("price", in[1]); len(errs) == 0 {
			t.Errorf("%v was taken", in)
		}
	}
}
