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
	"time"
	"unicode/utf8"

	"github.com/danielgtaylor/huma/v2"
	"github.com/xuri/excelize/v2"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/app/rating"
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
		f, err := excelize.OpenReader(bytes.NewReader(file), excelize.Options{UnzipSizeLimit: 64 << 20, UnzipXMLSizeLimit: 32 << 20})
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
		return nil, fault.New("file", fmt.Sprintf("line %d, column %d: %v", p.Line, p.Column, p.Err), "CSV with quotes in pairs")
	} else if err != nil {
		return nil, bad(err.Error())
	}
	return list, nil
}

// plainHead is a head without its unit, case and what separates its words.
func plainHead(s string) string {
	s, _, _ = strings.Cut(s, "(")
	return strings.Join(strings.FieldsFunc(strings.ToLower(s), func(r rune) bool { return r == ' ' || r == '_' || r == '-' || r == '.' }), " ")
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
	res := &huma.ValidateResult{}
	var doc any
	if err := json.Unmarshal(mustJSON(facts), &doc); err != nil {
		l.refuse("", err.Error())
		return
	}
	schema := registry.Schema(reflect.TypeOf(facts), false, reflect.TypeOf(facts).Name())
	huma.Validate(registry, schema, huma.NewPathBuffer(nil, 0), huma.ModeReadFromServer, doc, res)
	for _, err := range res.Errors {
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
func Look(ctx context.Context, s *act.Service, modelID, table string, file []byte, mapping map[string]int) (Preview, error) {
	return take(ctx, s, act.Command{}, &store.Tx{DB: s.DB.WithContext(ctx), Arrived: s.Now().UTC()}, modelID, table, file, mapping, false)
}

// Put reads a file as a table of a model and puts it in, all of it or nothing.
func Put(ctx context.Context, s *act.Service, c act.Command, modelID, table string, file []byte, mapping map[string]int) (
	Preview, error) {
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (Preview, error) {
		return take(ctx, s, c, tx, modelID, table, file, mapping, true)
	})
}

func take(ctx context.Context, s *act.Service, c act.Command, tx *store.Tx, modelID, table string, file []byte, mapping map[string]int, put bool) (Preview, error) {
	t, known := TableNamed(table)
	if !known {
		return Preview{}, fault.New("table", table, "parts, steps, measures, trials, facts, offers, deliveries or stock")
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
			k = slices.IndexFunc(v.Heads, func(h string) bool { return plainHead(h) == plainHead(c.Name) })
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
	inner := *s
	inner.DB = tx.DB
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

// taker takes the rows of one table: key is what makes a row the same as one before, end puts them in.
type taker struct {
	key  func(line) string
	read func(line, *Preview)
	end  func(v *Preview, put bool) error
}

var takers = map[string]func(*store.Tx, *model.Record) taker{"parts": takeParts, "steps": takeSteps, "measures": takeMeasures,
	"facts": takeFacts, "trials": func(*store.Tx, *model.Record) taker { return taker{} },
	"offers": deskTaker("offers"), "deliveries": deskTaker("deliveries"), "stock": deskTaker("stock")}

// told counts a row as new, changed or as it was.
func (v *Preview) told(isNew bool, before, after any) {
	switch {
	case isNew:
		v.New++
	case bytes.Equal(mustJSON(before), mustJSON(after)):
		v.Same++
	default:
		v.Changed++
	}
}

func takeParts(tx *store.Tx, k *model.Record) taker {
	var list []store.Part
	return taker{key: func(l line) string { return strings.ToLower(l.cells["name"]) },
		read: func(l line, v *Preview) {
			p := store.Part{ModelID: k.ID}
			old := k.PartNamed(l.cells["name"])
			if old != nil {
				p = *old
			}
			f := &p.PartFacts
			set := func(column string, to *string) {
				if _, mapped := l.where[column]; mapped {
					*to = l.cells[column]
				}
			}
			set("name", &f.Name)
			set("family", &f.Family)
			set("kind", &f.Kind)
			set("pane", &f.Pane)
			set("label", &f.Label)
			set("chip mark", &f.ChipMark)
			set("connector code", &f.ConnectorCode)
			set("mate", &f.Mate)
			if _, mapped := l.where["layer"]; mapped {
				f.Layer = l.whole("layer")
			}
			for column, to := range map[string]*float64{"x": &f.XMM, "y": &f.YMM, "width": &f.WMM, "height": &f.HMM} {
				if _, mapped := l.where[column]; mapped {
					*to = l.number(column)
				}
			}
			if _, mapped := l.where["aliases"]; mapped {
				f.Aliases = l.list("aliases")
			}
			valid(l, *f, map[string]string{"x_mm": "x", "y_mm": "y", "w_mm": "width", "h_mm": "height", "chip_mark": "chip mark",
				"connector_code": "connector code"})
			if old == nil {
				v.told(true, nil, nil)
			} else {
				v.told(false, old.PartFacts, *f)
			}
			list = append(list, p)
		},
		end: func(_ *Preview, put bool) error {
			for _, p := range list {
				if !put {
					break
				}
				if err := keep(tx, p.ID, p.Version, &p, func(row *store.Part) { row.PartFacts = p.PartFacts }); err != nil {
					return err
				}
			}
			return nil
		}}
}

// keep adds a row, or changes the one that it was read from.
func keep[T any, E store.Entity[T]](tx *store.Tx, id string, version int, row E, change func(E)) error {
	if id == "" {
		return store.Create(tx, row)
	}
	_, err := store.Update(tx, id, version, func(e E) error {
		change(e)
		return nil
	})
	return err
}

func takeSteps(tx *store.Tx, k *model.Record) taker {
	type pending struct {
		row  store.PlanStep
		line line
	}
	var list []pending
	ids := map[string]string{}
	for _, s := range k.Steps {
		ids[s.Mark] = s.ID
	}
	fresh := map[string]bool{}
	return taker{key: func(l line) string { return l.cells["mark"] },
		read: func(l line, v *Preview) {
			row := store.PlanStep{ModelID: k.ID, Mark: l.cells["mark"]}
			if old, known := k.StepByID[ids[row.Mark]]; known {
				row = old
			} else {
				row.ID = store.NewID()
				ids[row.Mark], fresh[row.ID] = row.ID, true
			}
			before := row.StepFacts
			f := &row.StepFacts
			for column, to := range map[string]*string{"verb": &f.Verb, "what": &f.What, "side": &f.Side, "tool": &f.Tool,
				"joint": &f.Joint, "drive": &f.Drive, "method": &f.Method, "consumable": &f.Consumable} {
				if _, mapped := l.where[column]; mapped {
					*to = l.cells[column]
				}
			}
			if f.Side == "" {
				f.Side = "any"
			}
			for column, to := range map[string]*float64{"diameter": &f.DiameterMM, "length": &f.LengthMM, "planned": &f.Seconds,
				"wait": &f.WaitSeconds} {
				if _, mapped := l.where[column]; mapped {
					*to = l.number(column)
				}
			}
			if _, mapped := l.where["count"]; mapped {
				f.Count = l.whole("count")
			}
			if _, mapped := l.where["frees"]; mapped {
				f.Frees = nil
				for _, name := range l.list("frees") {
					if p := k.PartNamed(name); p != nil {
						f.Frees = append(f.Frees, p.ID)
					} else {
						l.refuse("frees", "no part is called “"+name+"”; read the parts first")
					}
				}
			}
			plain := *f
			plain.After = nil
			valid(l, plain, map[string]string{"diameter_mm": "diameter", "length_mm": "length", "seconds": "planned",
				"wait_seconds": "wait"})
			v.told(fresh[row.ID], before, *f)
			list = append(list, pending{row, l})
		},
		end: func(v *Preview, put bool) error {
			for i := range list { // a step may come after one that stands later in the file
				p := &list[i]
				if _, mapped := p.line.where["after"]; !mapped {
					continue
				}
				p.row.After = nil
				for _, alt := range p.line.list("after") {
					var marks []string
					for _, m := range strings.Fields(alt) {
						if ids[m] == "" {
							p.line.refuse("after", "no step is called “"+m+"”")
							continue
						}
						marks = append(marks, ids[m])
					}
					p.row.After = append(p.row.After, marks)
				}
			}
			if !put || len(v.Errors) > 0 {
				return nil
			}
			for _, p := range list {
				id := p.row.ID
				if fresh[id] {
					if err := store.Create(tx, &p.row); err != nil {
						return err
					}
					continue
				}
				if err := keep(tx, id, p.row.Version, &p.row, func(row *store.PlanStep) { row.StepFacts = p.row.StepFacts }); err != nil {
					return err
				}
			}
			after, err := model.Load(tx.DB, k.ID)
			if err != nil {
				return err
			}
			return after.CheckPlan()
		}}
}

func takeMeasures(tx *store.Tx, k *model.Record) taker {
	parts := map[string]*store.Part{}
	var order []string
	return taker{key: func(l line) string { return strings.ToLower(l.cells["part"] + "\x00" + l.cells["quantity"]) },
		read: func(l line, v *Preview) {
			p := k.PartNamed(l.cells["part"])
			if p == nil {
				l.refuse("part", "no part is called “"+l.cells["part"]+"”")
				return
			}
			if parts[p.ID] == nil {
				row := *p
				row.Measures = slices.Clone(p.Measures)
				parts[p.ID] = &row
				order = append(order, p.ID)
			}
			m := store.Measured{Kind: l.cells["quantity"], Unit: l.cells["unit"], Resolution: l.number("resolution"),
				Instrument: l.cells["instrument"], Readings: []float64{}}
			for _, text := range l.list("readings") {
				x, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
				if err != nil {
					l.refuse("readings", fmt.Sprintf("%q is no number", text))
				}
				m.Readings = append(m.Readings, x)
			}
			valid(l, m, map[string]string{"kind": "quantity"})
			row := parts[p.ID]
			at := slices.IndexFunc(row.Measures, func(o store.Measured) bool { return strings.EqualFold(o.Kind, m.Kind) })
			if at < 0 {
				v.told(true, nil, nil)
				row.Measures = append(row.Measures, m)
				return
			}
			v.told(false, row.Measures[at], m)
			row.Measures[at] = m
		},
		end: func(_ *Preview, put bool) error {
			for _, id := range order {
				if !put {
					break
				}
				p := parts[id]
				if err := keep(tx, p.ID, p.Version, p, func(row *store.Part) { row.Measures = p.Measures }); err != nil {
					return err
				}
			}
			return nil
		}}
}

func takeFacts(tx *store.Tx, k *model.Record) taker {
	var list []store.FactSaying
	known := map[string]bool{}
	have, err := store.List[store.FactSaying](tx.DB, "id", "model_id = ?", k.ID)
	same := func(f store.SayingFacts) string {
		day := ""
		if f.SaidOn != nil {
			day = f.SaidOn.Format(time.DateOnly)
			f.SaidOn = nil
		}
		return day + string(mustJSON(f))
	}
	for _, f := range have {
		known[same(f.SayingFacts)] = true
	}
	return taker{key: func(line) string { return "" },
		read: func(l line, v *Preview) {
			f := store.SayingFacts{Fact: l.cells["fact"], Choice: l.cells["choice"], Number: l.maybe("number"), Low: l.maybe("low"),
				High: l.maybe("high"), Currency: l.cells["currency"], By: l.cells["by"], Unit: l.cells["phone"],
				Build: l.cells["build"], Evidence: l.cells["evidence"]}
			if day := l.cells["date"]; day != "" {
				at, err := time.Parse(time.DateOnly, day)
				if err != nil {
					l.refuse("date", fmt.Sprintf("%q is no date like 2026-11-26", day))
				}
				f.SaidOn = &at
			}
			valid(l, f, map[string]string{"said_on": "date", "unit": "phone"})
			var wrong *fault.Fault
			if err := rating.CheckSaying(f); errors.As(err, &wrong) {
				l.refuse(wrong.Field, wrong.Error())
			}
			if known[same(f)] {
				v.Same++
				return
			}
			v.told(true, nil, nil)
			list = append(list, store.FactSaying{ModelID: k.ID, SayingFacts: f})
		},
		end: func(_ *Preview, put bool) error {
			for _, f := range list {
				if err == nil && put {
					err = store.Create(tx, &f)
				}
			}
			return err
		}}
}
