package exchange

import (
	"bytes"
	"cmp"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"
	"gorm.io/gorm"

	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// Column is one column of a table: its head carries the unit, "width (mm)".
type Column struct {
	Name   string `json:"name"`
	Unit   string `json:"unit,omitempty"`
	Type   string `json:"type" enum:"text,number,whole,date,list"`
	Needed bool   `json:"needed,omitempty"`
	Doc    string `json:"doc,omitempty"`
	Title  string `json:"title,omitempty" doc:"how it is headed, where that is not its name; both are read"`
}

// Head is how the column is headed.
func (c Column) Head() string {
	title := cmp.Or(c.Title, c.Name)
	if c.Unit != "" {
		return title + " (" + c.Unit + ")"
	}
	return title
}

// Table is rows of text under columns; numbers are written with a point, dates as ISO.
type Table struct {
	Name    string     `json:"name"`
	Columns []Column   `json:"columns" nullable:"false"`
	Rows    [][]string `json:"rows" nullable:"false"`
}

// Tables are the tables of a model, by name, with their columns.
var Tables = []Table{
	{
		Name: "parts",
		Columns: []Column{{Name: "name", Type: "text", Needed: true}, {Name: "family", Type: "text", Needed: true,
			Doc: "PW, OP, SC, SO, BD, RF, BT, FR or SE"}, {Name: "kind", Type: "text", Doc: "of the catalogue"},
			{
				Name: "pane",
				Type: "text",
				Doc:  "body or lid",
			}, {Name: "layer", Type: "whole"}, {Name: "x", Unit: "mm", Type: "number"},
			{Name: "y", Unit: "mm", Type: "number"}, {Name: "width", Unit: "mm", Type: "number"},
			{
				Name: "height",
				Unit: "mm",
				Type: "number",
			}, {Name: "label", Type: "text"}, {Name: "chip mark", Type: "text"},
			{Name: "connector code", Type: "text"}, {Name: "mate", Type: "text", Title: "belongs to"}, {Name: "aliases", Type: "list"}},
	},
	{
		Name: "steps",
		Columns: []Column{{Name: "mark", Type: "text", Needed: true}, {Name: "verb", Type: "text", Needed: true},
			{Name: "what", Type: "text", Needed: true}, {Name: "side", Type: "text", Doc: "front, back or any"},
			{
				Name: "tool",
				Type: "text",
			}, {Name: "joint", Type: "text", Title: "fastening"}, {Name: "drive", Type: "text"}, {Name: "count", Type: "whole"},
			{Name: "diameter", Unit: "mm", Type: "number"}, {Name: "length", Unit: "mm", Type: "number"},
			{
				Name: "planned",
				Unit: "s",
				Type: "number",
			}, {Name: "wait", Unit: "s", Type: "number"}, {Name: "method", Type: "text"},
			{Name: "consumable", Type: "text"}, {Name: "frees", Type: "list", Doc: "names of parts", Title: "comes out"},
			{Name: "after", Type: "text", Doc: "marks with spaces; a bar between alternatives"}},
	},
	{
		Name: "measures",
		Columns: []Column{{Name: "part", Type: "text", Needed: true}, {Name: "quantity", Type: "text", Needed: true},
			{Name: "unit", Type: "text", Needed: true}, {Name: "readings", Type: "list", Needed: true},
			{Name: "resolution", Type: "number", Needed: true}, {Name: "instrument", Type: "text"}},
	},
	{
		Name: "trials",
		Columns: []Column{{Name: "study", Type: "text", Needed: true}, {Name: "trial", Type: "text", Needed: true,
			Doc: "lines of one trial say the same"}, {Name: "date", Type: "date"}, {Name: "board", Type: "text", Needed: true},
			{Name: "housing", Type: "text"}, {Name: "build", Type: "text"},
			{
				Name: "fitted",
				Type: "list",
				Doc:  "pieces that are not the board's own",
			}, {Name: "check", Type: "text", Needed: true},
			{
				Name:   "result",
				Type:   "text",
				Needed: true,
			}, {Name: "seen", Type: "text", Doc: "no: filled in, never counts"},
			{Name: "minutes", Unit: "min", Type: "number"}},
	},
	{Name: "facts", Columns: []Column{{Name: "fact", Type: "text", Needed: true}, {Name: "choice", Type: "text"},
		{Name: "number", Type: "number"}, {Name: "low", Type: "number"}, {Name: "high", Type: "number"},
		{Name: "currency", Type: "text"}, {Name: "by", Type: "text", Needed: true}, {Name: "phone", Type: "text"},
		{Name: "build", Type: "text"}, {Name: "date", Type: "date"}, {Name: "evidence", Type: "text"}}},
}

// TableNamed finds a table.
func TableNamed(name string) (Table, bool) {
	k := slices.IndexFunc(Tables, func(t Table) bool { return t.Name == name })
	if k < 0 {
		return Table{}, false
	}
	return Tables[k], true
}

// TableSchemas are the tables with their columns as JSON.
func TableSchemas() ([]byte, error) {
	list := slices.Clone(Tables)
	for i := range list {
		list[i].Rows = [][]string{}
	}
	return json.MarshalIndent(list, "", "  ")
}

func number(x float64) string {
	if x == 0 {
		return ""
	}
	return strconv.FormatFloat(x, 'f', -1, 64)
}

func optional(x *float64) string {
	if x == nil {
		return ""
	}
	return strconv.FormatFloat(*x, 'f', -1, 64)
}

func whole(n int) string {
	if n == 0 {
		return ""
	}
	return strconv.Itoa(n)
}

// bar is between the items of a list in one cell.
const bar = " | "

func listed(items []string) string { return strings.Join(items, bar) }

// Tabled fills a table of a model.
func Tabled(db *gorm.DB, modelID, name string) (Table, error) {
	t, known := TableNamed(name)
	if !known {
		return t, fault.New("table", name, "parts, steps, measures, trials, facts, offers, deliveries or stock")
	}
	k, err := model.Load(db, modelID)
	if err != nil {
		return t, err
	}
	t.Rows = [][]string{}
	add := func(cells ...string) { t.Rows = append(t.Rows, cells) }
	switch name {
	case "parts":
		for _, p := range k.Parts {
			add(
				p.Name,
				p.Family,
				p.Kind,
				p.Pane,
				whole(p.Layer),
				number(p.XMM),
				number(p.YMM),
				number(p.WMM),
				number(p.HMM),
				p.Label,
				p.ChipMark,
				p.ConnectorCode,
				p.Mate,
				listed(p.Aliases),
			)
		}
	case "steps":
		for _, s := range k.Steps {
			var after []string
			for _, alt := range s.After {
				after = append(after, strings.Join(k.Marks(alt), " "))
			}
			add(s.Mark, s.Verb, s.What, s.Side, s.Tool, s.Joint, s.Drive, whole(s.Count), number(s.DiameterMM),
				number(s.LengthMM), number(s.Seconds), number(s.WaitSeconds), s.Method, s.Consumable,
				listed(k.PartNames(s.Frees)), listed(after))
		}
	case "measures":
		for _, p := range k.Parts {
			for _, m := range p.Measures {
				var list []string
				for _, x := range m.Readings {
					list = append(list, strconv.FormatFloat(x, 'f', -1, 64))
				}
				add(p.Name, m.Kind, m.Unit, listed(list), number(m.Resolution), m.Instrument)
			}
		}
	case "facts":
		rows, err := store.List[store.FactSaying](db, "fact, id", "model_id = ?", modelID)
		if err != nil {
			return t, err
		}
		for _, f := range rows {
			day := ""
			if f.SaidOn != nil {
				day = f.SaidOn.Format(time.DateOnly)
			}
			add(
				f.Fact,
				f.Choice,
				optional(f.Number),
				optional(f.Low),
				optional(f.High),
				f.Currency,
				f.By,
				f.Unit,
				f.Build,
				day,
				f.Evidence,
			)
		}
	case "trials":
		return t, t.trials(db, k)
	default:
		return t, t.desk(db, k.ID)
	}
	return t, nil
}

// pieceWords says where a piece comes from, as it is read again: a sticker, "copy LOT", "foreign MODEL; MARK", off.
func pieceWords(b *study.Record, p store.Piece) string {
	switch {
	case p.UnitID != "":
		return b.Sticker(p.UnitID)
	case p.Origin == store.Foreign:
		return strings.TrimSuffix(p.Origin+" "+p.Model+"; "+p.Lot, "; ")
	}
	return strings.TrimSpace(p.Origin + " " + p.Lot)
}

func (t *Table) trials(db *gorm.DB, k *model.Record) error {
	rows, err := store.List[store.Study](db, "id", "model_id = ?", k.ID)
	if err != nil {
		return err
	}
	list, err := study.LoadAll(db, rows, study.Want{Swaps: true, Read: []*model.Record{k}})
	if err != nil {
		return err
	}
	for _, b := range list {
		for _, r := range b.Trials {
			var fitted []string
			for _, p := range r.Pieces {
				fitted = append(fitted, k.PartByID[p.PartID].Name+": "+pieceWords(b, p))
			}
			for _, c := range b.SwapChecks() {
				result, tested := r.Results[c.Mark]
				if !tested {
					continue
				}
				seen := "yes"
				if slices.Contains(r.Assumed, c.Mark) {
					seen = "no"
				}
				t.Rows = append(t.Rows, []string{b.Title, study.TrialMark(r), r.CreatedAt.UTC().Format(time.DateOnly),
					b.Sticker(
						r.BoardUnitID,
					), b.Sticker(cmp.Or(r.HousingUnitID, r.BoardUnitID)), b.BuildOf(r), listed(fitted),
					c.Mark, result, seen, number(r.Minutes)})
			}
		}
	}
	return nil
}

// formula says whether a spreadsheet would take a cell for a formula.
func formula(cell string) bool {
	return cell != "" && strings.ContainsRune("=+-@\t\r", rune(cell[0])) && !isNumber(cell)
}

func isNumber(s string) bool { _, err := strconv.ParseFloat(s, 64); return err == nil }

// CSV is the table as comma-separated text (RFC 4180) in UTF-8. A text that a spreadsheet would run as a formula gets an
// apostrophe before it.
func (t Table) CSV() ([]byte, error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	w.UseCRLF = true
	var heads []string
	for _, c := range t.Columns {
		heads = append(heads, c.Head())
	}
	if err := w.Write(heads); err != nil {
		return nil, err
	}
	for _, r := range t.Rows {
		cells := slices.Clone(r)
		for i, c := range cells {
			if formula(c) {
				cells[i] = "'" + c
			}
		}
		if err := w.Write(cells); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return b.Bytes(), w.Error()
}

// XLSX is the table as one sheet; numbers are numbers, the head stays in sight.
func (t Table) XLSX() ([]byte, error) {
	f := excelize.NewFile()
	defer f.Close()
	if err := f.SetSheetName("Sheet1", t.Name); err != nil {
		return nil, err
	}
	for i, c := range t.Columns {
		if err := f.SetCellStr(t.Name, cell(i, 0), c.Head()); err != nil {
			return nil, err
		}
	}
	for j, r := range t.Rows {
		for i, text := range r {
			var err error
			x, bad := strconv.ParseFloat(text, 64)
			if kind := t.Columns[i].Type; bad == nil && (kind == "number" || kind == "whole") {
				err = f.SetCellFloat(t.Name, cell(i, j+1), x, -1, 64)
			} else {
				err = f.SetCellStr(t.Name, cell(i, j+1), text)
			}
			if err != nil {
				return nil, err
			}
		}
	}
	if err := f.SetPanes(t.Name, &excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"}); err != nil {
		return nil, err
	}
	out, err := f.WriteToBuffer()
	if err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}

func cell(column, row int) string {
	name, err := excelize.CoordinatesToCellName(column+1, row+1)
	if err != nil { // the tables have few columns
		panic(fmt.Sprint(column, row, err))
	}
	return name
}
