package exchange

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/closeup"
	"waryowl/internal/app/handover"
	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	core "waryowl/internal/core/closeup"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// Sections are what a hand-over may hold, in its order.
var Sections = []string{"claims", "teardown", "ways", "mat", "swaps", "fit", "scores", "open"}

// Block is a piece of a sheet, the same on a page and in a PDF: one of its fields is filled.
type Block struct {
	Heading string
	Small   string // heading of a lower order
	Text    string
	Quiet   string
	Items   []Item
	Table   *Grid
	Mat     *MatGrid
	Map     *Map
	Photos  []Photo
	Break   bool // a new page begins
}

// Photo is a small picture (JPEG) with the words under it.
type Photo struct {
	Image []byte
	Text  string
}

// Item is a line of a list; Struck ones are crossed out.
type Item struct {
	Text   string
	Struck bool
	Note   string
}

// Grid is a table; Wide are shares of the width.
type Grid struct {
	Heads []string
	Wide  []float64
	Rows  [][]string
}

// MatGrid is the screw sheet at true scale.
type MatGrid struct {
	Cells [][]string // lines of text in each cell; nil: a spacer
}

// MatCell is the side of a cell of the mat, mm; MatColumns of them fit A4 and Letter with their margins.
const (
	MatCell    = 34.0
	MatColumns = 5
)

// Map is a phone with its parts at their places, mm.
type Map struct {
	Width, Height float64
	Parts         []store.Part
	Marks         map[string]string // of a way: the numbers of the steps that free a part, by its id; the others stay pale
}

// Paper is a sheet put together, with what stands on each of its pages.
type Paper struct {
	Title  string
	Stamp  string // date, build and version
	Notice string
	Blocks []Block
}

// Assemble puts the chosen sections of a study's hand-over together; none chosen means all.
func Assemble(ctx context.Context, s *act.Service, studyID string, sections []string) (Paper, error) {
	for _, x := range sections {
		if !slices.Contains(Sections, x) {
			return Paper{}, fault.New("sections", x, strings.Join(Sections, ", "))
		}
	}
	h, err := handover.Show(ctx, s, studyID)
	if err != nil {
		return Paper{}, err
	}
	p := Paper{Title: h.Model.Maker + " " + h.Model.Name + ": " + h.Study.Title, Notice: h.Notice,
		Stamp: "made " + h.Date + ", " + software(h.Build) + ", sheet of version " + fmt.Sprint(h.Study.Version)}
	want := func(x string) bool { return len(sections) == 0 || slices.Contains(sections, x) }
	if want("claims") {
		p.claims(h)
	}
	if want("teardown") {
		p.teardown(h)
		if err := p.log(ctx, s, studyID); err != nil {
			return p, err
		}
	}
	if want("ways") {
		for _, w := range h.Ways {
			p.way(h, w)
		}
	}
	if want("mat") {
		room, err := closeup.Show(ctx, s, studyID, false)
		if err != nil {
			return p, err
		}
		p.mat(room)
	}
	if want("swaps") {
		p.swaps(h)
	}
	if want("fit") {
		tests, err := store.List[store.FitTest](s.DB.WithContext(ctx), "kind, id", "model_id = ?", h.Model.ID)
		if err != nil {
			return p, err
		}
		if err := p.fit(ctx, s, tests); err != nil {
			return p, err
		}
	}
	if want("scores") {
		p.add(Block{Heading: "Scores, by whose rule"})
		scores, err := handover.Scores(ctx, s, h.Model.ID)
		if err != nil {
			return p, err
		}
		for _, x := range scores {
			p.add(Block{Items: []Item{{Text: x.Words + ".", Note: costs(x.Costs)}}})
		}
	}
	if want("open") {
		p.open(h)
	}
	return p, nil
}

func software(build string) string {
	if build == "" {
		return "software not recorded"
	}
	return "software " + build
}

func costs(list []string) string {
	if len(list) == 0 {
		return ""
	}
	return "loses most points: " + strings.Join(list, "; ")
}

func (p *Paper) add(b ...Block) { p.Blocks = append(p.Blocks, b...) }

func (p *Paper) list(heading string, lines []string, none string) {
	p.add(Block{Heading: heading})
	if len(lines) == 0 {
		p.add(Block{Quiet: none})
		return
	}
	var items []Item
	for _, l := range lines {
		items = append(items, Item{Text: l})
	}
	p.add(Block{Items: items})
}

func (p *Paper) claims(h handover.Sheet) {
	p.add(Block{Heading: "What may be said, and what not"}, Block{Text: fmt.Sprintf(
		"%d verdicts proven, %d likely, %d need a test, %d untested.",
		h.Proven,
		h.Half,
		h.Unsettled,
		h.Untested,
	)})
	var items []Item
	for _, c := range h.Claims {
		items = append(items, Item{Text: c.Text, Struck: !c.May, Note: c.Why})
	}
	if len(items) == 0 {
		p.add(Block{Quiet: "Nothing was tried that would carry a claim."})
	} else {
		p.add(Block{Items: items})
	}
	p.list("Interests", h.Interests, "None declared.")
}

func (p *Paper) teardown(h handover.Sheet) {
	p.add(Block{Heading: "Parts", Break: true})
	g := Grid{
		Heads: []string{"Part", "Family", "Size, mm", "Label", "Worth knowing"},
		Wide:  []float64{0.25, 0.12, 0.14, 0.16, 0.33},
	}
	for _, x := range h.Parts {
		size := ""
		if x.WMM > 0 && x.HMM > 0 {
			size = fmt.Sprintf("%.1f × %.1f", x.WMM, x.HMM)
		}
		known := []string{}
		if m := study.Measured(x); m != "" {
			known = append(known, m)
		}
		if x.Mate != "" {
			known = append(known, "tied to the "+x.Mate)
		}
		if x.Inside != "" {
			known = append(known, "inside the "+x.Inside)
		}
		if x.Slot {
			known = append(known, "swapped in tests")
		}
		g.Rows = append(g.Rows, []string{x.Name, cmp.Or(trade.Families[x.Family], x.Family), size, x.Label, strings.Join(known, ", ")})
	}
	p.add(Block{Table: &g}, Block{Map: &Map{Width: h.Model.WidthMM, Height: h.Model.HeightMM, Parts: h.Parts}})
	p.list("Resistance to water", h.Water, "No phone of this study was closed.")
	p.list("Pieces that were left over", h.Surplus, "None on record.")
	var cautions []Item
	for _, c := range h.Hazards {
		cautions = append(cautions, Item{Text: c.Text, Note: c.Do})
	}
	p.add(Block{Heading: "Take care"})
	if len(cautions) > 0 {
		p.add(Block{Items: cautions})
	}
}

func (p *Paper) way(h handover.Sheet, w model.Way) {
	p.add(Block{Heading: "To the " + w.Part, Break: true}, Block{Text: fmt.Sprintf(
		"%d steps, to the part %.0f min, whole repair %.0f min; %s; %d screws; %d of %d steps timed.", len(w.Steps),
		w.ElapsedMinutes, w.ClosedMinutes, strings.Join(w.Tools, ", "), w.Screws, w.Measured, len(w.Steps))})
	g := Grid{Heads: []string{"", "Step", "Tool", "Time", "Take care"}, Wide: []float64{0.07, 0.37, 0.19, 0.09, 0.28}}
	for i, s := range w.Steps {
		what := trade.Order(s.Verb, s.What)
		if kind := strings.TrimSpace(s.Drive + " " + lengthOf(s)); s.Count > 0 && kind != "" {
			what += fmt.Sprintf(" (%d × %s)", s.Count, kind)
		} else if s.Count > 1 {
			what += fmt.Sprintf(" (%d)", s.Count)
		}
		var care []string
		for _, c := range s.Cautions {
			care = append(care, c.Do)
		}
		g.Rows = append(g.Rows, []string{fmt.Sprint(i + 1), what, toolOf(s), clock(s.Seconds), strings.Join(care, " ")})
	}
	marks := map[string]string{}
	for i, s := range w.Steps {
		for _, part := range append(slices.Clone(s.Frees), s.Part) {
			if part != "" && !strings.HasSuffix(" "+marks[part], " "+fmt.Sprint(i+1)) {
				marks[part] = strings.TrimSpace(marks[part] + " " + fmt.Sprint(i+1))
			}
		}
	}
	p.add(
		Block{Table: &g},
		Block{Map: &Map{Width: h.Model.WidthMM, Height: h.Model.HeightMM, Parts: h.Parts, Marks: marks}},
	)
	if len(w.Hidden) > 0 {
		p.list("Screws that hide", w.Hidden, "")
	}
	if len(w.Travels) > 0 {
		p.list("What moves to the new part", w.Travels, "")
	}
	if len(w.Odds) > 0 {
		var odds []string
		for _, o := range w.Odds {
			text := model.Damaged(o)
			if o.N >= model.FewTries {
				text += fmt.Sprintf(" (%.0f to %.0f %%)", 100*o.Low, 100*o.High)
			}
			odds = append(odds, text)
		}
		p.list("What may get damaged", odds, "")
	}
}

// toolOf is what a step is done with: a screw that names no tool is turned by the driver of its recess.
func toolOf(s model.WayStep) string {
	if s.Tool == "" && s.Drive != "" {
		return s.Drive + " driver"
	}
	return s.Tool
}

func lengthOf(s model.WayStep) string {
	if s.LengthMM == 0 {
		return ""
	}
	return fmt.Sprintf("%.1f mm", s.LengthMM)
}

func clock(seconds float64) string {
	t := int(math.Round(seconds))
	return fmt.Sprintf("%d:%02d", t/60, t%60)
}

func (p *Paper) mat(room closeup.Room) {
	if len(room.Holes) == 0 {
		return
	}
	p.add(Block{Heading: "Screw sheet, true to scale", Break: true}, Block{Quiet: fmt.Sprintf(
		"A square is %.0f mm wide; measure one before you trust the print. Squares go left to right in the order of removal.",
		MatCell,
	)})
	p.add(Block{Mat: matOf(room.Holes, room.Mat)})
	var mixes []string
	for _, m := range room.Mixes {
		mixes = append(mixes, m.Text)
	}
	if len(mixes) > 0 {
		p.list("Never mix", mixes, "")
	}
}

func matOf(holes []closeup.HoleAlike, mat core.Mat) *MatGrid {
	g := &MatGrid{}
	for _, at := range mat.Cells {
		if at < 0 {
			g.Cells = append(g.Cells, nil)
			continue
		}
		h := holes[at]
		lines := []string{
			fmt.Sprint(h.Order),
			h.Name,
			fmt.Sprintf("%d × %s", h.Count, strings.TrimSpace(h.Drive)),
		}
		if h.LengthMM > 0 {
			lines = append(lines, fmt.Sprintf("%.1f mm", h.LengthMM))
		}
		g.Cells = append(g.Cells, lines)
	}
	return g
}

func (p *Paper) swaps(h handover.Sheet) {
	p.add(Block{Heading: "What is lost when parts are swapped", Break: true})
	if len(h.Findings) == 0 {
		p.add(Block{Quiet: "No loss on record."})
	} else {
		g := Grid{Heads: []string{"Part", "State", "Function", "Verdict", "How sure"}, Wide: []float64{0.24, 0.17, 0.29, 0.18, 0.12}}
		for _, f := range h.Findings {
			if f.Mark == ledger.Unsettled { // told by its number
				continue
			}
			g.Rows = append(g.Rows, []string{f.Part, trade.Say("state", f.State), f.Check, trade.Say("verdict", f.Mark),
				trade.Say("eye", f.Eye)})
		}
		p.add(Block{Table: &g})
	}
	p.list("In words", h.Swaps.Shown, "Nothing was shown yet.")
	p.list("What the swaps do not show", h.Swaps.NotShown, "Nothing on this list.")
	if len(h.Questions) > 0 {
		var items []Item
		for _, q := range h.Questions {
			items = append(items, Item{Text: q.Text, Note: strings.Trim(q.State+" ("+q.Source+"). "+q.Evidence, " ")})
		}
		p.add(Block{Heading: "Statements, and what became of them"}, Block{Items: items})
	}
}

func (p *Paper) fit(ctx context.Context, s *act.Service, tests []store.FitTest) error {
	p.add(Block{Heading: "What is compatible with its parts"})
	if len(tests) == 0 {
		p.add(Block{Quiet: "No piece of another model, and no copy, was fitted."})
		return nil
	}
	names := map[string]string{}
	var models, lots []string
	for _, t := range tests {
		models, lots = append(models, t.DonorModel), append(lots, t.LotID)
	}
	db := s.DB.WithContext(ctx)
	known, err := store.List[store.Model](db, "id", "id IN ?", models)
	if err != nil {
		return err
	}
	for _, m := range known {
		names[m.ID] = m.Maker + " " + m.Name
	}
	copies, err := store.List[store.Lot](db, "id", "id IN ?", lots)
	if err != nil {
		return err
	}
	for _, l := range copies {
		names[l.ID] = "copy " + l.Name
	}
	g := Grid{
		Heads: []string{"Kind", "Piece of", "How far it got", "Lost", "Software"},
		Wide:  []float64{0.17, 0.27, 0.22, 0.22, 0.12},
	}
	for _, t := range tests {
		from := names[t.DonorModel]
		if t.LotID != "" {
			from = names[t.LotID]
		}
		g.Rows = append(
			g.Rows,
			[]string{strings.ReplaceAll(t.Kind, "-", " "), from, trade.Say("level", t.Outcome),
				strings.Join(t.Lost, ", "), t.Build},
		)
	}
	p.add(Block{Table: &g})
	return nil
}

func (p *Paper) open(h handover.Sheet) {
	lines := slices.Clone(h.Open)
	if h.Unsettled > 0 {
		lines = append(lines, fmt.Sprintf("%d pairs of part and check whose tests do not settle them", h.Unsettled))
	}
	if h.Untested > 0 {
		lines = append(lines, fmt.Sprintf("%d pairs of part and check without a test", h.Untested))
	}
	p.list("Not tested, or needs a test", lines, "Nothing on this list.")
}
