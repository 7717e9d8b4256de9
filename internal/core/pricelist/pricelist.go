// Package pricelist reads a seller's list cell by cell: which offers are new, changed or gone, what is wrong, and
// what has to be asked. No figure is read silently where it could be another one: it is asked, once a column.
//
//	out, err := pricelist.Read(pricelist.Input{Slots: slots, Table: rows})
//	out.Rows[0].Decision // new, changed, same, duplicate, asked, wrong
//
// Numbers may take a point or a comma as their decimal mark; cells that have one reading only decide their column.
// Minor units and codes are those of ISO 4217; quotes are those of RFC 4180.
package pricelist

import (
	"cmp"
	"encoding/base64"
	"fmt"
	"maps"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
)

// Bounds of a list.
const (
	mostRows    = 20000
	mostColumns = 100
)

// record is one record of the list with its line.
type record struct {
	line  int
	cells []cell
}

func (r record) at(k int) cell {
	if k < 0 || k >= len(r.cells) {
		return cell{}
	}
	return r.cells[k]
}

func (r record) blank() bool {
	return !slices.ContainsFunc(r.cells, func(c cell) bool { return c.kind != empty })
}

// Read reads a list. Errors name the field.
func Read(in Input) (Output, error) {
	out := Output{Mapping: map[string]int{}, Missing: []string{}, Columns: map[string]Column{}, Rows: []Row{},
		Errors:    []Wrong{},
		Questions: []Question{}, Gone: []string{}}
	records, err := in.records(&out)
	if err != nil {
		return out, err
	}
	if err := mend(records, in.Cells); err != nil {
		return out, err
	}
	wide := 0
	for _, r := range records {
		wide = max(wide, len(r.cells))
	}
	if len(records) > mostRows || wide > mostColumns {
		return out, fault.New("table", fmt.Sprintf("%d rows, %d columns", len(records), wide),
			fmt.Sprintf("%d rows and %d columns at most", mostRows, mostColumns))
	}
	for _, f := range slices.Sorted(maps.Keys(in.Mapping)) {
		if !slices.Contains(fields, f) && !(f == modelField && len(in.Models) > 0) {
			return out, fault.New("mapping."+f, f, strings.Join(fields, ", "))
		}
		if k := in.Mapping[f]; k < 0 || k >= wide {
			return out, fault.New("mapping."+f, k, fmt.Sprintf("a column of the table, 0 to %d", wide-1))
		}
	}
	for i, k := range in.Known {
		if k.ID == "" || k.Seller == "" {
			return out, fault.New(fmt.Sprintf("known[%d].id", i), k.ID, "an offer with its id and seller")
		}
	}
	r := newReader(in, &out, records)
	if r.head() {
		r.rows()
	}
	return out, nil
}

// mend writes cells anew.
func mend(records []record, cells []Mended) error {
	for i, m := range cells {
		at := slices.IndexFunc(records, func(r record) bool { return r.line == m.Line })
		k := 0
		for k < mostColumns && Letter(k) != strings.ToUpper(m.Column) {
			k++
		}
		if at < 0 || k == mostColumns {
			return fault.New(fmt.Sprintf("cells[%d]", i), fmt.Sprintf("line %d, column %s", m.Line, m.Column),
				"a line of the list and the letter of a column")
		}
		for len(records[at].cells) <= k {
			records[at].cells = append(records[at].cells, cell{})
		}
		records[at].cells[k], _ = cellOf(m.Text)
	}
	return nil
}

// Texts are the cells of a list as they stand, by line.
func Texts(in Input) (map[int][]string, error) {
	records, err := in.records(&Output{})
	if err == nil {
		err = mend(records, in.Cells)
	}
	out := map[int][]string{}
	for _, r := range records {
		for _, c := range r.cells {
			out[r.line] = append(out[r.line], c.text)
		}
	}
	return out, err
}

func (in Input) records(out *Output) ([]record, error) {
	if (in.Table == nil) == (in.File == "") {
		return nil, fault.New("file", "table and file", "either a table or a file")
	}
	if in.Table != nil {
		var list []record
		for i, row := range in.Table {
			r := record{line: i + 1}
			for j, v := range row {
				c, ok := cellOf(v)
				if !ok {
					return nil, fault.New(fmt.Sprintf("table[%d][%d]", i, j), fmt.Sprint(v),
						"text, a number, true, false, null, {date}, {error} or {formula, value}")
				}
				r.cells = append(r.cells, c)
			}
			list = append(list, r)
		}
		return list, nil
	}
	data, err := base64.StdEncoding.DecodeString(in.File)
	if err != nil {
		return nil, fault.New("file", in.File, "base64")
	}
	if strings.HasPrefix(string(data), "PK") {
		list, err := workbook(data)
		if err != nil {
			return nil, fault.New("file", err.Error(), "a workbook with a sheet")
		}
		out.Encoding = "xlsx"
		return list, nil
	}
	text, encoding := decode(data)
	list, delimiter := records(text)
	out.Encoding, out.Delimiter = encoding, delimiter
	return list, nil
}

// fields of a list in the order in which changes are named; see [synonyms].
var fields = []string{"seller", "code", "title", "covers", "grade", "price", "currency", "date", "stock", "lot", "lead"}

// modelField is a column of its own, read only where models are given.
const modelField = "model"

// modelHeads are the heads of the column that says which model an offer is for.
var modelHeads = []string{"model", "for", "for model", "for the model", "phone", "device"}

// needed must be in every row.
var needed = []string{"seller", "title", "covers", "grade", "price"}

var synonyms = map[string][]string{
	"seller": {"vendor", "supplier", "shop", "merchant", "sold by"},
	"code": {"sku", "article no", "article number", "item no", "item number", "part no", "part number", "order code",
		"ref", "reference"},
	"title":    {"item", "description", "product", "name", "article"},
	"covers":   {"slot", "slots", "part", "parts"},
	"grade":    {"quality", "condition"},
	"price":    {"unit price", "price each", "net price", "cost", "amount"},
	"currency": {"cur", "ccy"},
	"date":     {"price date", "priced on", "as of", "updated"},
	"stock":    {"qty", "quantity", "available", "in stock", "on hand"},
	"lot":      {"batch"},
	"lead":     {"lead time", "lead days", "delivery days", "delivery"},
}

// plainHead is a head as it is compared: lower-case letters and digits, without what follows a bracket.
func plainHead(s string) string {
	s, _, _ = strings.Cut(s, "(")
	return strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			return r
		}
		return -1
	}, strings.ToLower(s))
}

// reader goes through the records of a list.
type reader struct {
	in      Input
	out     *Output
	records []record
	first   int // record behind the head
	heads   []string
	at      map[string]int
	slots   map[string]string // by plain name
	sellers map[string]Seller
	models  map[string]string // by plain name
	asks    map[string]*Question
	order   []string
}

func newReader(in Input, out *Output, records []record) *reader {
	r := &reader{in: in, out: out, records: records, at: map[string]int{}, slots: map[string]string{},
		sellers: map[string]Seller{}, models: map[string]string{},
		asks: map[string]*Question{}}
	for _, m := range in.Models {
		for _, name := range append([]string{m.Name}, m.Also...) {
			r.models[plain(name)] = m.Name
		}
	}
	for _, s := range in.Slots {
		r.slots[plainSlot(s)] = s
	}
	for _, s := range in.Sellers {
		r.sellers[plain(s.Name)] = s
	}
	return r
}

// plain is a text as it is compared: without case and outer or repeated blanks.
func plain(s string) string { return strings.ToLower(strings.Join(strings.Fields(s), " ")) }

// Letter is the name of a column.
func Letter(k int) string {
	s := ""
	for k++; k > 0; k = (k - 1) / 26 {
		s = string(rune('A'+(k-1)%26)) + s
	}
	return s
}

// fieldOf is the field that a head names, and whether exactly.
func fieldOf(head string) (field string, exact bool) {
	h := plainHead(head)
	if h == "" {
		return "", false
	}
	for _, f := range fields {
		if h == f {
			return f, true
		}
	}
	for _, f := range fields {
		for _, s := range synonyms[f] {
			if h == plainHead(s) {
				return f, false
			}
		}
	}
	return "", false
}

// head finds the head and where each field stands. It says whether the rows can be read.
func (r *reader) head() bool {
	chosen, looked := -1, 0
	for i, rec := range r.records {
		if rec.blank() || i == 0 && len(rec.cells) > 0 && strings.HasPrefix(rec.cells[0].text, "sep=") {
			continue
		}
		if looked++; chosen < 0 {
			chosen = i // the first, when none fits better
		}
		if looked > 10 {
			break
		}
		found := map[string]bool{}
		for _, c := range rec.cells {
			if f, _ := fieldOf(c.text); c.kind == text && f != "" {
				found[f] = true
			}
		}
		if len(found) >= 2 && (found["price"] || len(r.in.Mapping) > 0) {
			chosen = i
			break
		}
	}
	if chosen < 0 {
		r.out.Missing = slices.Clone(needed)
		return false
	}
	r.out.HeadLine, r.first = r.records[chosen].line, chosen+1
	exact, like := map[string]int{}, map[string][]int{}
	for k, c := range r.records[chosen].cells {
		r.heads = append(r.heads, c.text)
		f, same := fieldOf(c.text)
		if f == "" || c.kind != text {
			continue
		}
		if _, known := exact[f]; same && !known {
			exact[f] = k
		} else if !same {
			like[f] = append(like[f], k)
		}
	}
	for _, f := range fields {
		r.place(f, exact, like[f])
	}
	r.placeModel()
	for _, f := range needed {
		_, here := r.at[f]
		if !here && !(f == "seller" && r.in.Defaults.Seller != "" || f == "grade" && r.in.Defaults.Grade != "") {
			r.out.Missing = append(r.out.Missing, f)
		}
	}
	maps.Copy(r.out.Mapping, r.at)
	if len(r.out.Missing) > 0 {
		r.finish()
		return false
	}
	return true
}

// place finds the column of a field: what was said, what was answered, the exact name, the only synonym; else it is
// asked.
func (r *reader) place(field string, exact map[string]int, like []int) {
	if k, said := r.in.Mapping[field]; said {
		r.at[field] = k
		return
	}
	if k, ok := exact[field]; ok {
		r.at[field] = k
		return
	}
	switch len(like) {
	case 0:
		return
	case 1:
		r.at[field] = like[0]
		return
	}
	id := field + ".column"
	var options []string
	for _, k := range like {
		if r.in.Answers[id] == Letter(k) {
			r.at[field] = k
			return
		}
		options = append(options, Letter(k))
	}
	q := r.ask(id, "Which column is the "+field+"?", options, "")
	for i, k := range like {
		var heads []string
		if k < len(r.heads) {
			heads = append(heads, r.heads[k])
		}
		q.Reads[options[i]] = heads
	}
}

// placeModel finds the column of the model, where there are models to choose from: one is needed, or a default.
func (r *reader) placeModel() {
	if len(r.in.Models) == 0 {
		return
	}
	k, said := r.in.Mapping[modelField]
	if !said {
		k = slices.IndexFunc(r.heads, func(h string) bool {
			return slices.ContainsFunc(modelHeads, func(x string) bool { return plainHead(h) == plainHead(x) })
		})
	}
	switch {
	case k >= 0:
		r.at[modelField] = k
	case r.in.Defaults.Model == "":
		r.out.Missing = append(r.out.Missing, modelField)
	}
}

func (r *reader) ask(id, text string, options []string, suggest string) *Question {
	q := r.asks[id]
	if q == nil {
		q = &Question{ID: id, Text: text, Options: options, Suggest: suggest, Lines: []int{}, Reads: map[string][]string{}}
		for _, o := range options {
			q.Reads[o] = []string{}
		}
		r.asks[id] = q
		r.order = append(r.order, id)
	}
	return q
}

func (r *reader) finish() {
	for _, id := range r.order {
		r.out.Questions = append(r.out.Questions, *r.asks[id])
	}
	slices.SortStableFunc(r.out.Errors, func(a, b Wrong) int {
		return cmp.Or(cmp.Compare(a.Line, b.Line), cmp.Compare(len(a.Column), len(b.Column)), cmp.Compare(a.Column, b.Column))
	})
}
