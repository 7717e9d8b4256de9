package exchange_test

import (
	"bytes"
	"context"
	"encoding/xml"
	"image/png"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/app/find"
	"waryowl/internal/app/model"
	"waryowl/internal/app/score"
	"waryowl/internal/core/fault"
	"waryowl/internal/exchange"
)

// run gives what an outside program makes of a file; a machine without the program cannot run these tests.
func run(t *testing.T, file []byte, name string, program string, args ...string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	if err := os.WriteFile(path, file, 0o600); err != nil {
		t.Fatal(err)
	}
	for i, a := range args {
		args[i] = strings.ReplaceAll(a, "FILE", path)
	}
	out, err := exec.Command(program, args...).Output()
	if err != nil {
		t.Fatalf("%s: %v: %s", program, err, out)
	}
	return string(out)
}

func at(s string) float64 {
	x, _ := strconv.ParseFloat(s, 64)
	return x
}

// pair is the study that has everything.
func pair(t *testing.T, s *act.Service) string {
	t.Helper()
	studies, err := find.Studies(context.Background(), s, "")
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range studies {
		if x.Study.Title == "Drift 4, first pair" {
			return x.Study.ID
		}
	}
	t.Fatal("the demo's study is gone")
	return ""
}

// TestSheetByOutsideReaders: the PDF is read by poppler (text, page size, the mat in millimetres), the page holds its fonts
// and nothing from outside, the plan is drawn by Graphviz, the map is XML.
func TestSheetByOutsideReaders(t *testing.T) {
	ctx := context.Background()
	s, models := world(t)
	study := pair(t, s)
	p, err := exchange.Assemble(ctx, s, study, nil)
	if err != nil {
		t.Fatal(err)
	}
	pdf, err := p.PDF()
	if err != nil {
		t.Fatal(err)
	}
	text := run(t, pdf, "sheet.pdf", "pdftotext", "-layout", "FILE", "-")
	for _, want := range []string{"Drift 4, first pair", "What may be said, and what not", "Screw sheet, true to scale",
		"To the battery",
		"Physical ease (version 1):", "as of 20", "software 4.1.2", "Not tested, or needs a test"} {
		if !strings.Contains(text, want) {
			t.Errorf("the PDF lacks %q", want)
		}
	}
	pages := strings.Count(text, "\f")
	if notices := strings.Count(text, "Advice only. Local law"); pages < 5 || notices != pages {
		t.Errorf("%d pages, the notice on %d", pages, notices)
	}
	info := run(t, pdf, "sheet.pdf", "pdfinfo", "FILE")
	if !strings.Contains(info, "(A4)") {
		t.Errorf("no A4: %s", info)
	}
	fonts := run(t, pdf, "sheet.pdf", "pdffonts", "FILE")
	if n := strings.Count(fonts, "sheet"); n < 2 || strings.Contains(fonts, "Helvetica") {
		t.Errorf("fonts:\n%s", fonts)
	}
	mat, err := exchange.Assemble(ctx, s, study, []string{"mat"})
	if err != nil {
		t.Fatal(err)
	}
	if pdf, err = mat.PDF(); err != nil {
		t.Fatal(err)
	}
	boxes := run(t, pdf, "mat.pdf", "pdftocairo", "-svg", "-f", "1", "-l", "1", "FILE", "-")
	sides := 0 // of cells, 34 mm in points
	for _, m := range regexp.MustCompile(`M (-?[\d.]+) (-?[\d.]+) L (-?[\d.]+) (-?[\d.]+)`).FindAllStringSubmatch(boxes, -1) {
		x0, y0, x1, y1 := at(m[1]), at(m[2]), at(m[3]), at(m[4])
		if math.Abs(math.Hypot(x1-x0, y1-y0)-34/25.4*72) < 0.05 {
			sides++
		}
	}
	if sides < 10 {
		t.Errorf("%d cells of 34 mm on the mat: %s", sides, boxes[:min(len(boxes), 1500)])
	}
	html, err := p.HTML()
	if err != nil {
		t.Fatal(err)
	}
	page := string(html)
	if out := regexp.MustCompile(`(?i)(src|href)\s*=\s*["']?https?:|url\((?:["']?)http|<script|@import`).FindString(page); out != "" {
		t.Errorf("the page asks for something outside: %s", out)
	}
	for _, want := range []string{"data:font/woff;base64,d09GR", "<svg", "34mm", "<s>", "Advice only. Local law"} {
		if !strings.Contains(page, want) {
			t.Errorf("the page lacks %q", want)
		}
	}
	if _, err := exchange.Assemble(ctx, s, study, []string{"songs"}); err == nil {
		t.Error("a section that is not was taken")
	}
	k, err := model.Load(s.DB, models["Drift 4"])
	if err != nil {
		t.Fatal(err)
	}
	if drawn := run(t, exchange.DOT(k), "plan.dot", "dot", "-Tplain", "FILE"); strings.Count(
		drawn,
		"\nnode ",
	) != len(
		k.Steps,
	) {
		t.Errorf("Graphviz drew %d nodes of %d steps", strings.Count(drawn, "\nnode "), len(k.Steps))
	}
	var svg struct {
		XMLName xml.Name `xml:"svg"`
		Groups  []struct {
			Title string `xml:"title"`
		} `xml:"g"`
	}
	scores, err := score.Show(ctx, s, models["Drift 4"], "")
	if err != nil {
		t.Fatal(err)
	}
	if err := xml.Unmarshal(exchange.ScoreSVG(scores), &svg); err != nil || len(svg.Groups) != len(scores.Schools) ||
		!strings.Contains(svg.Groups[0].Title, "Physical ease (version 1)") {
		t.Errorf("the scores: %d schools, %v", len(svg.Groups), err)
	}
	svg.Groups = nil
	if err := xml.Unmarshal(exchange.MapSVG(k), &svg); err != nil || len(svg.Groups) < 10 {
		t.Errorf("the map: %d parts, %v", len(svg.Groups), err)
	}
}

// TestLabels: a code is read back by an outside reader of QR where there is one, and leads to its part; nonsense is refused.
func TestLabels(t *testing.T) {
	ctx := context.Background()
	s, _ := world(t)
	labels, title, err := exchange.Labels(ctx, s, pair(t, s))
	if err != nil || len(labels) < 10 {
		t.Fatalf("%d labels, %v", len(labels), err)
	}
	sheet, err := exchange.LabelSheet(labels, title)
	if err != nil {
		t.Fatal(err)
	}
	if text := run(t, sheet, "labels.pdf", "pdftotext", "-layout", "FILE", "-"); !strings.Contains(
		text,
		labels[0].Code,
	) {
		t.Errorf("the code does not stand on its label: %s", text[:min(len(text), 300)])
	}
	image, err := exchange.QR(labels[1].Code)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := png.Decode(bytes.NewReader(image)); err != nil {
		t.Error(err)
	}
	if read := strings.TrimSpace(run(t, image, "code.png", "zbarimg", "-q", "--raw", "FILE")); read != labels[1].Code {
		t.Errorf("read as %q, printed as %q", read, labels[1].Code)
	}
	kinds := map[string]int{}
	for _, l := range labels {
		at, err := find.Lookup(ctx, s, strings.ToLower(l.Code)+" ")
		if err != nil || at.ModelID == "" {
			t.Fatalf("%s: %+v, %v", l.Code, at, err)
		}
		kinds[at.Kind]++
	}
	if kinds["unit"] == 0 || kinds["piece"] < 2 {
		t.Errorf("labels of %v", kinds)
	}
	seen := map[string]bool{} // the same part of another phone is another piece
	for _, l := range labels {
		if seen[l.Code] {
			t.Errorf("two labels say %s: %v", l.Code, l.Lines)
		}
		seen[l.Code] = true
	}
	for _, bad := range []string{"", "WO", "WOC" + strings.Repeat("A", 20), "WOP" + strings.Repeat("1", 26), "WOX" + strings.Repeat("A", 26),
		strings.Repeat("x", 500)} {
		_, err := find.Lookup(ctx, s, bad)
		var f *fault.Fault
		if !asFault(err, &f) {
			t.Errorf("%q: %v", bad, err)
		}
	}
}
