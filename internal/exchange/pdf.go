package exchange

import (
	"bytes"
	"fmt"
	"image"
	_ "image/jpeg" // what pictures are stored as
	"strings"

	"github.com/go-pdf/fpdf"
)

// Margins of a page and its leading, mm.
const (
	margin  = 20.0
	leading = 5.0
)

// printable keeps what the fonts hold: Latin with its signs. What they lack is written in their letters where that is usual.
var printable = strings.NewReplacer(
	"→",
	"to",
	"←",
	"from",
	"↔",
	"and",
	"≤",
	"at most",
	"≥",
	"at least",
	"≈",
	"about",
	"\u202f",
	" ",
	"\u00a0",
	" ",
	"‑",
	"-",
)

func inFont(s string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r < 0x100,
			r == 0x131,
			r == 0x152,
			r == 0x153,
			r >= 0x2010 && r <= 0x2027,
			r == 0x2032,
			r == 0x2033,
			r == 0x20ac,
			r == 0x2122,
			r == 0x2212:
			return r
		}
		return '?'
	}, printable.Replace(s))
}

// PDF is the sheet on A4 in our fonts, each page with its stamp and the standing notice, the mat at true scale.
func (p Paper) PDF() ([]byte, error) {
	f := fpdf.New("P", "mm", "A4", "")
	for style, name := range map[string]string{"": "next-latin-400", "B": "next-latin-600"} {
		file, err := sfnt(name)
		if err != nil {
			return nil, err
		}
		f.AddUTF8FontFromBytes("sheet", style, file)
	}
	f.SetTitle(p.Title, true)
	f.SetCreator("Wary Owl", true)
	f.SetMargins(margin, margin, margin)
	f.SetAutoPageBreak(true, margin+6)
	f.SetFooterFunc(func() {
		f.SetY(-margin - 2)
		f.SetFont("sheet", "", 8)
		f.SetTextColor(0x5a, 0x67, 0x6b)
		f.MultiCell(0, 3.6, inFont(fmt.Sprintf("%s · page %d · %s", p.Stamp, f.PageNo(), p.Notice)), "T", "L", false)
	})
	f.AddPage()
	f.SetFont("sheet", "B", 18)
	f.MultiCell(0, 8, inFont(p.Title), "", "L", false)
	f.SetFont("sheet", "", 10)
	f.MultiCell(0, leading, inFont(p.Stamp), "", "L", false)
	for _, b := range p.Blocks {
		draw(f, b)
	}
	var out bytes.Buffer
	if err := f.Output(&out); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}

func room(f *fpdf.Fpdf, height float64) {
	_, h := f.GetPageSize()
	if f.GetY()+height > h-margin-8 {
		f.AddPage()
	}
}

func draw(f *fpdf.Fpdf, b Block) {
	ink := func() { f.SetTextColor(0x1e, 0x2a, 0x2e) }
	ink()
	if b.Heading != "" {
		if b.Break && f.GetY() > margin+30 {
			f.AddPage()
		}
		room(f, 22)
		f.Ln(4)
		f.SetFont("sheet", "B", 13)
		f.MultiCell(0, 6.5, inFont(b.Heading), "B", "L", false)
		f.Ln(1.5)
	}
	f.SetFont("sheet", "", 10)
	if b.Text != "" {
		f.MultiCell(0, leading, inFont(b.Text), "", "L", false)
	}
	if b.Quiet != "" {
		f.SetTextColor(0x5a, 0x67, 0x6b)
		f.MultiCell(0, leading, inFont(b.Quiet), "", "L", false)
		ink()
	}
	for _, i := range b.Items {
		item(f, i)
	}
	if b.Table != nil {
		grid(f, *b.Table)
	}
	if b.Mat != nil {
		matGrid(f, *b.Mat)
	}
	if b.Map != nil {
		plan(f, b.Map)
	}
	for i, x := range b.Photos {
		picture(f, fmt.Sprintf("%p %d", b.Photos, i), x)
	}
}

// picture draws a picture 60 mm wide with its words under it; one that cannot be read leaves its words.
func picture(f *fpdf.Fpdf, name string, x Photo) {
	const wide = 60.0
	kind := fpdf.ImageOptions{ImageType: "JPG"}
	if c, _, err := image.DecodeConfig(bytes.NewReader(x.Image)); err == nil {
		high := wide * float64(c.Height) / float64(max(1, c.Width))
		room(f, high+leading+2)
		f.RegisterImageOptionsReader(name, kind, bytes.NewReader(x.Image))
		f.ImageOptions(name, margin, f.GetY(), wide, high, true, kind, 0, "")
	}
	f.SetFont("sheet", "", 9)
	f.MultiCell(0, leading, inFont(x.Text), "", "L", false)
	f.Ln(2)
}

// item is a line of a list; a struck one is crossed out line by line, its reason after it.
func item(f *fpdf.Fpdf, i Item) {
	const indent = 4
	w, _ := f.GetPageSize()
	lines := f.SplitText(inFont(i.Text), w-2*margin-indent)
	room(f, leading*float64(len(lines)))
	for n, l := range lines {
		if n == 0 {
			f.SetX(margin)
			f.CellFormat(indent, leading, "–", "", 0, "L", false, 0, "")
		}
		f.SetX(margin + indent)
		if i.Struck {
			y := f.GetY() + leading/2
			f.SetTextColor(0x5a, 0x67, 0x6b)
			f.Line(margin+indent, y, margin+indent+f.GetStringWidth(l)+1, y)
		}
		f.CellFormat(0, leading, l, "", 1, "L", false, 0, "")
		f.SetTextColor(0x1e, 0x2a, 0x2e)
	}
	if i.Note != "" {
		f.SetTextColor(0x5a, 0x67, 0x6b)
		f.SetX(margin + indent)
		f.MultiCell(w-2*margin-indent, leading, inFont(i.Note), "", "L", false)
		f.SetTextColor(0x1e, 0x2a, 0x2e)
	}
}

func grid(f *fpdf.Fpdf, g Grid) {
	w, _ := f.GetPageSize()
	width := w - 2*margin
	f.SetFontSize(9)
	row := func(cells []string, bold bool) {
		style := ""
		if bold {
			style = "B"
		}
		f.SetFont("sheet", style, 9)
		tall := 1
		split := make([][]string, len(cells))
		for i, c := range cells {
			split[i] = f.SplitText(inFont(c), width*g.Wide[i]-2)
			tall = max(tall, len(split[i]))
		}
		high := 4.4*float64(tall) + 1.2
		room(f, high)
		x, y := margin, f.GetY()
		for i := range cells {
			for n, l := range split[i] {
				f.SetXY(x, y+4.4*float64(n)+0.4)
				f.CellFormat(width*g.Wide[i], 4.4, l, "", 0, "L", false, 0, "")
			}
			x += width * g.Wide[i]
		}
		f.SetDrawColor(0xb0, 0xb0, 0xa8)
		f.Line(margin, y+high, w-margin, y+high)
		f.SetDrawColor(0x1e, 0x2a, 0x2e)
		f.SetXY(margin, y+high)
	}
	row(g.Heads, true)
	for _, r := range g.Rows {
		row(r, false)
	}
	f.Ln(2)
}

func matGrid(f *fpdf.Fpdf, m MatGrid) {
	f.SetFontSize(8)
	for i := 0; i < len(m.Cells); i += MatColumns {
		room(f, MatCell)
		y := f.GetY()
		for n, lines := range m.Cells[i:min(i+MatColumns, len(m.Cells))] {
			x := margin + MatCell*float64(n)
			f.Rect(x, y, MatCell, MatCell, "D")
			at := y + 1.5
			for _, l := range lines {
				for _, part := range f.SplitText(inFont(l), MatCell-3) {
					if at > y+MatCell-4 {
						break
					}
					f.SetXY(x+1.5, at)
					f.CellFormat(MatCell-3, 3.6, part, "", 0, "L", false, 0, "")
					at += 3.6
				}
			}
		}
		f.SetXY(margin, y+MatCell)
	}
	f.Ln(2)
}

// plan draws the map; two panes side by side where the lid has parts, at a scale that is said.
func plan(f *fpdf.Fpdf, m *Map) {
	if m.Width <= 0 || m.Height <= 0 {
		return
	}
	const gap = 8
	w, _ := f.GetPageSize()
	scale := min(1, (w-2*margin-gap)/(2*m.Width))
	room(f, m.Height*scale+10)
	f.Ln(2)
	y := f.GetY()
	f.Rect(margin, y, m.Width*scale, m.Height*scale, "D")
	lid := false
	f.SetFontSize(6)
	f.SetFillColor(0xdf, 0xe8, 0xe0)
	for _, p := range m.placed() {
		x := margin + p.XMM*scale
		if p.Pane == "lid" {
			lid = true
			x += (m.Width + gap) * scale
		}
		text, on := m.label(p)
		style := "D"
		if on {
			style = "DF"
		}
		f.Rect(x, y+p.YMM*scale, p.WMM*scale, p.HMM*scale, style)
		f.SetXY(x, y+p.YMM*scale)
		if l := f.SplitText(inFont(text), max(4, p.WMM*scale)); len(l) > 0 {
			f.CellFormat(p.WMM*scale, 3, l[0], "", 0, "L", false, 0, "")
		}
	}
	if lid {
		f.Rect(margin+(m.Width+gap)*scale, y, m.Width*scale, m.Height*scale, "D")
	}
	f.SetXY(margin, y+m.Height*scale+1)
	f.SetFont("sheet", "", 9)
	f.MultiCell(
		0,
		leading,
		fmt.Sprintf(
			"Body%s, seen with the top away from you; scale 1 : %.2g.",
			map[bool]string{true: " and lid"}[lid],
			1/scale,
		),
		"",
		"L",
		false,
	)
}
