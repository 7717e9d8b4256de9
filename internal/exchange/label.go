package exchange

import (
	"bytes"
	"context"
	"fmt"
	"image/png"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"
	"github.com/go-pdf/fpdf"

	"waryowl/internal/app/act"
	"waryowl/internal/app/find"
	"waryowl/internal/app/study"
)

// Label is one label for a piece or a bag.
type Label struct {
	Code  string // what the find field reads
	Lines []string
}

// Labels are the labels of a study: one for each phone, and one for each part of each phone.
func Labels(ctx context.Context, s *act.Service, studyID string) ([]Label, string, error) {
	b, err := study.Load(s.DB.WithContext(ctx), studyID)
	if err != nil {
		return nil, "", err
	}
	name := b.Know.Maker + " " + b.Know.Name
	var list []Label
	for _, u := range b.Units {
		list = append(list, Label{find.Code("u", u.ID), []string{u.Name, name, b.Title}})
		for _, p := range b.Know.Parts {
			if p.Slot || p.WMM > 0 {
				list = append(
					list,
					Label{find.PieceCode(u.ID, p.ID), []string{p.Name, u.Name, name + ", " + software(u.Build)}},
				)
			}
		}
	}
	return list, name + ": " + b.Title, nil
}

// Of a sheet of labels, mm: three columns of nine on A4.
const (
	labelWide    = 63.0
	labelHigh    = 30.0
	labelColumns = 3
	labelRows    = 9
)

// LabelSheet prints labels on A4, each with its code as QR (ISO/IEC 18004, level M).
func LabelSheet(labels []Label, title string) ([]byte, error) {
	f := fpdf.New("P", "mm", "A4", "")
	f.SetTitle(title, true)
	for style, name := range map[string]string{"": "next-latin-400", "B": "next-latin-600"} {
		file, err := sfnt(name)
		if err != nil {
			return nil, err
		}
		f.AddUTF8FontFromBytes("sheet", style, file)
	}
	f.SetAutoPageBreak(false, 0)
	f.AddPage()
	for i, l := range labels {
		at := i % (labelColumns * labelRows)
		if at == 0 && i > 0 {
			f.AddPage()
		}
		x := 10.5 + labelWide*float64(at%labelColumns)
		y := 13.5 + labelHigh*float64(at/labelColumns)
		image, err := QR(l.Code)
		if err != nil {
			return nil, err
		}
		f.SetDrawColor(0xc0, 0xc0, 0xc0)
		f.Rect(x, y, labelWide, labelHigh, "D")
		f.RegisterImageOptionsReader(l.Code, fpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(image))
		f.ImageOptions(l.Code, x+2, y+2, 20, 20, false, fpdf.ImageOptions{ImageType: "PNG"}, 0, "")
		for n, text := range l.Lines {
			style, size := "", 8.0
			if n == 0 {
				style, size = "B", 10.5
			}
			f.SetFont("sheet", style, size)
			if parts := f.SplitText(inFont(text), labelWide-26); len(parts) > 0 {
				f.SetXY(x+23.5, y+3+5.5*float64(n))
				f.CellFormat(labelWide-25, 5, parts[0], "", 0, "L", false, 0, "")
			}
		}
		f.SetFont("sheet", "", 7)
		f.SetXY(x+2, y+labelHigh-6)
		f.CellFormat(labelWide-4, 4, l.Code, "", 0, "L", false, 0, "")
	}
	if len(labels) == 0 {
		f.SetFont("sheet", "", 11)
		f.Text(20, 30, "No phone of this study is on record.")
	}
	var out bytes.Buffer
	if err := f.Output(&out); err != nil {
		return nil, fmt.Errorf("exchange: labels: %w", err)
	}
	return out.Bytes(), nil
}

// QR draws a code as PNG, eight pixels a module.
func QR(code string) ([]byte, error) {
	symbol, err := qr.Encode(code, qr.M, qr.AlphaNumeric)
	if err != nil {
		return nil, err
	}
	side := symbol.Bounds().Dx() * 8
	big, err := barcode.Scale(symbol, side, side)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	err = png.Encode(&b, big)
	return b.Bytes(), err
}
