package exchange

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/danielgtaylor/huma/v2"
	"github.com/xuri/excelize/v2"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/clean"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// What a table that is read may hold.
const (
	mostRows    = 20_000
	mostColumns = 100
	mostErrors  = 200
)

// CellError is what is wrong in a cell; Line counts from 1, the head included, Column is its letter in a spreadsheet.
type CellError struct {
	Line    int    `json:"line"`
	Column  string `json:"column,omitempty"`
	Head    string `json:"head,omitempty"`
	Message string `json:"message"`
}

// Preview is a table as it would be taken.
type Preview struct {
	Heads   []string       `json:"heads" nullable:"false" doc:"as the file has them"`
	Columns []Column       `json:"columns" nullable:"false" doc:"as the table wants them"`
	Mapping map[string]int `json:"mapping" doc:"column of the table: place in the file, from 0"`
	Rows    [][]string     `json:"rows" nullable:"false" doc:"the first twenty, in the table's columns"`
	Total   int            `json:"total"`
	New     int            `json:"new"`
	Changed int            `json:"changed"`
	Same    int            `json:"same"`
	Errors  []CellError    `json:"errors" nullable:"false"`
	Taken   bool           `json:"taken" doc:"it was put in"`
}

// rows reads a file: XLSX by what it begins with, else text with commas, semicolons or tabs.
func rows(file []byte) ([][]string, error) {
	bad := func(found string) error { return fault.New("file", found, "CSV in UTF-8, or an XLSX workbook") }
	if bytes.HasPrefix(file, []byte("PK")) {
		f, err := excelize.OpenReader(
			bytes.NewReader(file),
			excelize.Options{UnzipSizeLimit: 64 << 20, UnzipXMLSizeLimit: 32 << 20},
		)
		if err != nil {
			return nil, bad(err.Error())
		}
		defer f.Close()
		list, err := f.GetRows(f.GetSheetName(0), excelize.Options{RawCellValue: true})
		if err != nil {
			return nil, bad(err.Error())
		}
		return list, nil
	}
	if !utf8.Valid(file) {
		return nil, bad("text that is not UTF-8")
	}
	file = bytes.TrimPrefix(file, []byte("\ufeff"))
	head, _, _ := bytes.Cut(file, []byte("\n"))
	r := csv.NewReader(bytes.NewReader(file))
	r.FieldsPerRecord = -1
	r.Comma = ','
	for _, c := range []rune{';', '\t'} {
		if bytes.Count(head, []byte(string(c))) > bytes.Count(head, []byte(string(r.Comma))) {
			r.Comma = c
		}
	}
	list, err := r.ReadAll()
	var p *csv.ParseError
	if errors.As(err, &p) {
		return nil, fault.New(
			"file",
			fmt.Sprintf("line %d, column %d: %v", p.Line, p.Column, p.Err),
			"CSV with quotes in pairs",
		)
	} else if err != nil {
		return nil, bad(err.Error())
	}
	return list, nil
}

// plainHead is a head without its unit, case and what separates its words.
func plainHead(s string) string {
	s, _, _ = strings.Cut(s, "(")
	return strings.Join(
		strings.FieldsFunc(
			strings.ToLower(s),
			func(r rune) bool { return r == ' ' || r == '_' || r == '-' || r == '.' },
		),
		" ",
	)
}

// unitOf is the unit in a head: "width (mm)".
func unitOf(head string) string {
	_, u, _ := strings.Cut(head, "(")
	return strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(u), ")"))
}

// line is a row of a table that is read, with the errors found in it.
type line struct {
	at     int // in the file
	cells  map[string]string
	where  map[string]int
	heads  []string
	errors *[]CellError
}

func (l line) refuse(column, message string) {
	e := CellError{Line: l.at, Message: message}
	if k, known := l.where[column]; known {
		e.Column, _ = excelize.ColumnNumberToName(k + 1)
		e.Head = l.heads[k]
	}
	if len(*l.errors) < mostErrors {
		*l.errors = append(*l.errors, e)
	}
}

func (l line) number(column string) float64 {
	text := l.cells[column]
	if text == "" {
		return 0
	}
	x, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
	if err != nil || x != x {
		l.refuse(column, fmt.Sprintf("%q is no number", text))
	}
	return x
}

func (l line) maybe(column string) *float64 {
	if l.cells[column] == "" {
		return nil
	}
	x := l.number(column)
	return &x
}

func (l line) whole(column string) int {
	x := l.number(column)
	if x != float64(int(x)) {
		l.refuse(column, fmt.Sprintf("%q is no whole number", l.cells[column]))
	}
	return int(x)
}

func (l line) list(column string) []string {
	var out []string
	for _, s := range strings.Split(l.cells[column], strings.TrimSpace(bar)) {
		if s = strings.TrimSpace(s); s != "" {
			out = append(out, s)
		}
	}
	return out
}

// valid holds facts against their schema; names says in which column a field stands.
func valid(l line, facts any, names map[string]string) {
	var doc any
	if err := json.Unmarshal(mustJSON(facts), &doc); err != nil {
		l.refuse("", err.Error())
		return
	}
	for _, err := range against(reflect.TypeOf(facts), doc) {
		var e *huma.ErrorDetail
		if errors.As(err, &e) {
			field, _, _ := strings.Cut(strings.TrimPrefix(e.Location, "."), "[")
			column := field
			if n, ok := names[field]; ok {
				column = n
			}
			l.refuse(column, e.Message)
		}
	}
}

// Look reads a file as a table of a model and says what would be taken; with put, it is put in, all of it or nothing.
func Look(
	ctx context.Context,
	s *act.Service,
	modelID, table string,
	file []byte,
	mapping map[string]int,
) (Preview, error) {
	return take(
		ctx,
		s,
		act.Command{},
		&store.Tx{DB: s.DB.WithContext(ctx), Arrived: s.Now().UTC()},
		modelID,
		table,
		file,
		mapping,
		false,
	)
}

// Put reads a file as a table of a model and puts it in, all of it or nothing.
func Put(
	ctx context.Context,
	s *act.Service,
	c act.Command,
	modelID, table string,
	file []byte,
	mapping map[string]int,
) (
	Preview, error) {
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (Preview, error) {
		return take(ctx, s, c, tx, modelID, table, file, mapping, true)
	})
}

func take(
	ctx context.Context,
	s *act.Service,
	c act.Command,
	tx *store.Tx,
	modelID, table string,
	file []byte,
	mapping map[string]int,
	put bool,
) (Preview, error) {
	t, known := TableNamed(table)
	if !known {
		return Preview{}, fault.New(
			"table",
			table,
			"parts, steps, measures, trials, facts, offers, deliveries or stock",
		)
	}
	v := Preview{Columns: t.Columns, Mapping: map[string]int{}, Rows: [][]string{}, Errors: []CellError{}}
	list, err := rows(file)
	switch {
	case err != nil:
		return v, err
	case len(list) < 1 || len(list[0]) == 0:
		return v, fault.New("file", "nothing", "a first line with heads, then rows")
	case len(list) > mostRows+1 || len(list[0]) > mostColumns:
		return v, fault.New("file", fmt.Sprintf("%d rows, %d columns", len(list)-1, len(list[0])),
			fmt.Sprintf("at most %d rows and %d columns", mostRows, mostColumns))
	}
	v.Heads = list[0]
	head := line{at: 1, errors: &v.Errors, heads: v.Heads, where: v.Mapping}
	for _, c := range t.Columns {
		k, said := mapping[c.Name]
		if !said {
			k = slices.IndexFunc(v.Heads, func(h string) bool {
				return plainHead(h) == plainHead(c.Name) || c.Title != "" && plainHead(h) == plainHead(c.Title)
			})
		}
		if k >= len(v.Heads) {
			return v, fault.New("mapping."+c.Name, k, fmt.Sprintf("0 to %d", len(v.Heads)-1))
		}
		if k < 0 {
			if c.Needed {
				head.refuse("", "no column is “"+c.Name+"”")
			}
			continue
		}
		v.Mapping[c.Name] = k
		if u := unitOf(v.Heads[k]); u != "" && c.Unit != "" && u != c.Unit {
			head.refuse(c.Name, "in "+u+", wanted in "+c.Unit)
		}
	}
	k, err := model.Load(tx.DB, modelID)
	if err != nil {
		return v, err
	}
	inner := act.Service{DB: tx.DB, DSN: s.DSN, Now: s.Now, Full: s.Full, House: s.House}
	taker := takers[table](tx, k)
	if table == "trials" {
		if taker, err = takeTrials(ctx, &inner, c, k); err != nil {
			return v, err
		}
	}
	seen := map[string]int{}
	for i, r := range list[1:] {
		l := line{at: i + 2, cells: map[string]string{}, where: v.Mapping, heads: v.Heads, errors: &v.Errors}
		var cells []string
		blank := true
		for _, c := range t.Columns {
			text := ""
			if at, ok := v.Mapping[c.Name]; ok && at < len(r) {
				text = strings.TrimSpace(strings.TrimPrefix(r[at], "'"))
			}
			if err := clean.Text(c.Name, text, false); err != nil {
				l.refuse(c.Name, err.Error())
			}
			l.cells[c.Name] = text
			cells = append(cells, text)
			blank = blank && text == ""
		}
		if blank {
			continue
		}
		v.Total++
		if len(v.Rows) < 20 {
			v.Rows = append(v.Rows, cells)
		}
		for _, c := range t.Columns {
			if _, mapped := v.Mapping[c.Name]; mapped && c.Needed && l.cells[c.Name] == "" {
				l.refuse(c.Name, "is empty")
			}
		}
		key := taker.key(l)
		if before, twice := seen[key]; twice && key != "" {
			l.refuse(t.Columns[0].Name, fmt.Sprintf("is in line %d already", before))
		}
		seen[key] = l.at
		taker.read(l, &v)
	}
	if len(v.Errors) == 0 {
		if err := taker.end(&v, put); err != nil {
			return v, err
		}
	}
	if put && len(v.Errors) > 0 {
		e := v.Errors[0]
		return v, fault.New("file", fmt.Sprintf("line %d, column %s: %s", e.Line, e.Column, e.Message),
			fmt.Sprintf("a file without errors (%d)", len(v.Errors)))
	}
	v.Taken = put
	return v, nil
}
