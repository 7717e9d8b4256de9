package pricelist

import (
	"archive/zip"
	"bytes"
	"encoding/binary"
	"encoding/xml"
	"errors"
	"io"
	"path"
	"slices"
	"strconv"
	"strings"
	"unicode/utf16"
	"unicode/utf8"
)

func itoa(n int) string { return strconv.Itoa(n) }

// windows1252 are the characters from 0x80 to 0x9f (Windows code page 1252, from memory).
var windows1252 = []rune("€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ")

// decode finds the encoding of a text: its mark, else UTF-16 by its noughts, else UTF-8, else Windows-1252.
func decode(data []byte) (string, string) {
	wide := func(order binary.ByteOrder, b []byte) string {
		var list []uint16
		for i := 0; i+1 < len(b); i += 2 {
			list = append(list, order.Uint16(b[i:]))
		}
		return string(utf16.Decode(list))
	}
	switch {
	case bytes.HasPrefix(data, []byte{0xef, 0xbb, 0xbf}):
		return strings.ToValidUTF8(string(data[3:]), "\uFFFD"), "utf-8"
	case bytes.HasPrefix(data, []byte{0xff, 0xfe}):
		return wide(binary.LittleEndian, data[2:]), "utf-16-le"
	case bytes.HasPrefix(data, []byte{0xfe, 0xff}):
		return wide(binary.BigEndian, data[2:]), "utf-16-be"
	}
	odd, even := 0, 0
	for i, b := range data {
		if b == 0 && i%2 == 1 {
			odd++
		} else if b == 0 {
			even++
		}
	}
	switch half := len(data) / 2; {
	case half > 0 && 2*odd > half:
		return wide(binary.LittleEndian, data), "utf-16-le"
	case half > 0 && 2*even > half:
		return wide(binary.BigEndian, data), "utf-16-be"
	case utf8.Valid(data):
		return string(data), "utf-8"
	}
	var b strings.Builder
	for _, c := range data {
		if c >= 0x80 && c <= 0x9f {
			b.WriteRune(windows1252[c-0x80])
		} else {
			b.WriteRune(rune(c))
		}
	}
	return b.String(), "windows-1252"
}

// split parts a text into records (RFC 4180: quotes over lines too). A blank line is a record without fields.
func split(s string, delimiter rune) [][]string {
	var out [][]string
	var row []string
	var field strings.Builder
	quoted, was, begun := false, false, false
	end := func() {
		row = append(row, field.String())
		field.Reset()
		was, begun = false, false
	}
	line := func() {
		if len(row) > 0 || begun || field.Len() > 0 {
			end()
		}
		out = append(out, row)
		row = nil
	}
	rs := []rune(s)
	for i := 0; i < len(rs); i++ {
		c := rs[i]
		switch {
		case quoted && c == '"' && i+1 < len(rs) && rs[i+1] == '"':
			field.WriteRune('"')
			i++
		case quoted && c == '"':
			quoted = false
		case quoted:
			field.WriteRune(c)
		case c == '"' && !was && strings.TrimSpace(field.String()) == "":
			field.Reset()
			quoted, was, begun = true, true, true
		case c == delimiter:
			end()
			begun = true
		case c == '\r' && i+1 < len(rs) && rs[i+1] == '\n':
		case c == '\n' || c == '\r':
			line()
		default:
			field.WriteRune(c)
			begun = true
		}
	}
	if len(row) > 0 || begun || field.Len() > 0 {
		line()
	}
	return out
}

// records reads a text: its first line says the delimiter, else the one with which most records are as wide as the
// first.
func records(s string) ([]record, string) {
	delimiter := ""
	if first, _, _ := strings.Cut(s, "\n"); strings.HasPrefix(first, "sep=") &&
		len([]rune(strings.TrimSpace(first))) == 5 {
		delimiter = strings.TrimRight(first, "\r")[4:]
	} else if strings.HasPrefix(first, "sep=\t") {
		delimiter = "\t"
	}
	if delimiter == "" {
		best, wide := -1, 0
		for _, d := range []string{";", "\t", ",", "|"} {
			list := split(s, []rune(d)[0])
			list = slices.DeleteFunc(list, func(r []string) bool { return len(r) == 0 })
			list = list[:min(50, len(list))]
			if len(list) == 0 || len(list[0]) < 2 {
				continue
			}
			n := 0
			for _, r := range list {
				if len(r) == len(list[0]) {
					n++
				}
			}
			if n > best || n == best && len(list[0]) > wide {
				best, wide, delimiter = n, len(list[0]), d
			}
		}
		if delimiter == "" {
			delimiter = ","
		}
	}
	var out []record
	for i, row := range split(s, []rune(delimiter)[0]) {
		r := record{line: i + 1}
		for _, f := range row {
			r.cells = append(r.cells, textCell(f))
		}
		out = append(out, r)
	}
	return out, delimiter
}

var errNoSheet = errors.New("no sheet")

// workbook reads the first sheet of a workbook (ECMA-376, SpreadsheetML).
func workbook(data []byte) ([]record, error) {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return nil, err
	}
	load := func(name string, into any) error {
		f, err := z.Open(strings.TrimPrefix(name, "/"))
		if err != nil {
			return err
		}
		defer f.Close()
		return xml.NewDecoder(io.LimitReader(f, 200<<20)).Decode(into)
	}
	var book struct {
		Props struct {
			Late string `xml:"date1904,attr"`
		} `xml:"workbookPr"`
		Sheets []struct {
			ID string `xml:"http://schemas.openxmlformats.org/officeDocument/2006/relationships id,attr"`
		} `xml:"sheets>sheet"`
	}
	if err := load("xl/workbook.xml", &book); err != nil {
		return nil, err
	}
	var rels struct {
		List []struct {
			ID     string `xml:"Id,attr"`
			Target string `xml:"Target,attr"`
		} `xml:"Relationship"`
	}
	if err := load("xl/_rels/workbook.xml.rels", &rels); err != nil {
		return nil, err
	}
	target := ""
	for _, x := range rels.List {
		if len(book.Sheets) > 0 && x.ID == book.Sheets[0].ID {
			target = x.Target
		}
	}
	if target == "" {
		return nil, errNoSheet
	}
	if !strings.HasPrefix(target, "/") {
		target = path.Join("xl", target)
	}
	type runs struct {
		T    string   `xml:"t"`
		Rich []string `xml:"r>t"`
	}
	var shared struct {
		Items []runs `xml:"si"`
	}
	_ = load("xl/sharedStrings.xml", &shared) // a book of figures alone has none
	var styles struct {
		Formats []struct {
			ID   int    `xml:"numFmtId,attr"`
			Code string `xml:"formatCode,attr"`
		} `xml:"numFmts>numFmt"`
		Cells []struct {
			Format int `xml:"numFmtId,attr"`
		} `xml:"cellXfs>xf"`
	}
	_ = load("xl/styles.xml", &styles)
	isDate := make([]bool, len(styles.Cells))
	for i, x := range styles.Cells {
		isDate[i] = x.Format >= 14 && x.Format <= 17 || x.Format == 22
		for _, f := range styles.Formats {
			if f.ID == x.Format {
				isDate[i] = dateFormat(f.Code)
			}
		}
	}
	var sheet struct {
		Rows []struct {
			R     int `xml:"r,attr"`
			Cells []struct {
				Ref    string  `xml:"r,attr"`
				Type   string  `xml:"t,attr"`
				Style  int     `xml:"s,attr"`
				F      *string `xml:"f"`
				V      *string `xml:"v"`
				Inline runs    `xml:"is"`
			} `xml:"c"`
		} `xml:"sheetData>row"`
	}
	if err := load(target, &sheet); err != nil {
		return nil, err
	}
	shift := 0.
	if book.Props.Late == "1" || book.Props.Late == "true" {
		shift = 1462
	}
	var out []record
	for i, row := range sheet.Rows {
		r := record{line: row.R}
		if r.line == 0 {
			r.line = i + 1
		}
		for _, c := range row.Cells {
			k := columnOf(c.Ref, len(r.cells))
			if k > mostColumns {
				return nil, errors.New("more than 100 columns")
			}
			for len(r.cells) <= k {
				r.cells = append(r.cells, cell{})
			}
			v := ""
			if c.V != nil {
				v = *c.V
			}
			switch {
			case c.F != nil && c.V == nil:
				r.cells[k] = cell{kind: broken, text: "=" + *c.F}
			case c.Type == "s":
				if n, err := strconv.Atoi(v); err == nil && n >= 0 && n < len(shared.Items) {
					r.cells[k] = textCell(shared.Items[n].T + strings.Join(shared.Items[n].Rich, ""))
				}
			case c.Type == "inlineStr":
				r.cells[k] = textCell(c.Inline.T + strings.Join(c.Inline.Rich, ""))
			case c.Type == "str":
				r.cells[k] = textCell(v)
			case c.Type == "b":
				r.cells[k] = cell{kind: truth, text: map[bool]string{true: "TRUE", false: "FALSE"}[v == "1"]}
			case c.Type == "e":
				r.cells[k] = cell{kind: broken, text: v}
			case v != "":
				f, err := strconv.ParseFloat(v, 64)
				if err != nil {
					r.cells[k] = textCell(v)
					continue
				}
				r.cells[k] = numberCell(f)
				if c.Style >= 0 && c.Style < len(isDate) && isDate[c.Style] {
					r.cells[k].kind, r.cells[k].value = date, f+shift
				}
			}
		}
		out = append(out, r)
	}
	return out, nil
}

// dateFormat says whether a number format shows a date: d or y outside quotes, escapes and brackets.
func dateFormat(code string) bool {
	quoted, bracket := false, false
	rs := []rune(strings.ToLower(code))
	for i := 0; i < len(rs); i++ {
		switch c := rs[i]; {
		case c == '"':
			quoted = !quoted
		case quoted:
		case c == '\\' || c == '_' || c == '*':
			i++
		case c == '[':
			bracket = true
		case c == ']':
			bracket = false
		case !bracket && (c == 'd' || c == 'y'):
			return true
		}
	}
	return false
}

// columnOf is the place of a cell by its reference, "C7" is 2.
func columnOf(ref string, next int) int {
	k := 0
	for _, c := range ref {
		if c < 'A' || c > 'Z' {
			break
		}
		k = 26*k + int(c-'A') + 1
		if k > mostColumns+1 {
			return k
		}
	}
	if k == 0 {
		return next
	}
	return k - 1
}
