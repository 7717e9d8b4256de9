package exchange

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
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
	for in, want := range map[string]string{"3 → 5": "3 to 5", "≤ 2 mm": "at most 2 mm", "5\u202f%": "5 %", "Ärger – “so”": "Ärger – “so”",
		"батарея": "???????", "1 × 2 ± 0.1": "1 × 2 ± 0.1"} {
		if got := inFont(in); got != want {
			t.Errorf("%q: %q", in, got)
		}
	}
}

// TestHeadsOfTables: a head is known however it is written, with its unit; a formula is one, a negative number is none.
func TestHeadsOfTables(t *testing.T) {
	for in, want := range map[string][2]string{"Width (mm)": {"width", "mm"}, "chip_mark": {"chip mark", ""}, "CONNECTOR-code": {"connector code", ""},
		"planned ( s )": {"planned", "s"}, "": {"", ""}} {
		if got := [2]string{plainHead(in), unitOf(in)}; got != want {
			t.Errorf("%q: %q", in, got)
		}
	}
	for in, want := range map[string]bool{"=1+1": true, "+cmd": true, "@x": true, "-5": false, "-5.25": false, "5": false, "": false, "-x": true} {
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
