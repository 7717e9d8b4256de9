package app_test

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/app/closeup"
	"waryowl/internal/app/find"
	"waryowl/internal/app/intake"
	"waryowl/internal/app/job"
	"waryowl/internal/app/model"
	"waryowl/internal/app/strip"
	"waryowl/internal/app/study"
	"waryowl/internal/app/ways"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/quantity"
	"waryowl/internal/core/route"
	"waryowl/internal/store"
)

// shop is a small workshop: a model with parts and a plan, a study of two phones, written through the use cases.
type shop struct {
	*act.Service
	t           *testing.T
	model       string
	study       string
	pine, amber string
	part, step  map[string]string
}

func newShop(t *testing.T) *shop {
	s := service(t)
	ctx := context.Background()
	if err := model.EnsureCatalogue(ctx, s); err != nil {
		t.Fatal(err)
	}
	w := &shop{Service: s, t: t, model: store.NewID(), study: store.NewID(), pine: store.NewID(), amber: store.NewID(),
		part: map[string]string{}, step: map[string]string{}}
	_, err := intake.AddModel(ctx, s, command(), w.model,
		store.ModelFacts{Maker: "Corvane", Name: "Atoll 9", Entry: "dual", WidthMM: 70, HeightMM: 140, ThicknessMM: 8,
			MassG: 170})
	w.must(err)
	for _, p := range []store.PartFacts{
		{Name: "display assembly", Family: "SC", Pane: "lid", XMM: 1, YMM: 1, WMM: 68, HMM: 138, Layer: 9, MassG: 40},
		{Name: "battery", Family: "PW", XMM: 40, YMM: 20, WMM: 24, HMM: 80, Layer: 3, CapacityMAh: 3600,
			EnergyWh: 13.9, MassG: 50},
		{Name: "wireless coil", Family: "PW", XMM: 38, YMM: 30, WMM: 26, HMM: 40, Layer: 6, RidesOn: "battery"},
		{Name: "rear glass", Family: "FR", XMM: 0, YMM: 0, WMM: 70, HMM: 140, Layer: 1},
		{Name: "lens", Family: "OP", Inside: "battery"},
	} {
		w.part[p.Name] = store.NewID()
		_, err := strip.AddPart(ctx, s, command(), w.model, w.part[p.Name], p)
		w.must(err)
	}
	w.plan("front heat", store.StepFacts{Verb: "heat", What: "front rim", Side: "front", Method: "plate", Seconds: 20,
		WaitSeconds: 120, Risk: map[string]float64{w.part["display assembly"]: 0.02}})
	w.plan("display", store.StepFacts{Verb: "lift", What: "display assembly", Side: "front", Seconds: 10,
		Frees: []string{w.part["display assembly"]}}, []string{"front heat"})
	w.plan("back heat", store.StepFacts{Verb: "heat", What: "rear rim", Side: "back", Method: "air", Seconds: 30,
		Risk: map[string]float64{w.part["rear glass"]: 0.05}})
	w.plan("glass", store.StepFacts{Verb: "lift", What: "rear glass", Side: "back", Seconds: 8,
		Frees: []string{w.part["rear glass"]}}, []string{"back heat"})
	w.plan("coil", store.StepFacts{Verb: "peel", What: "wireless coil", Side: "back", Seconds: 25,
		Frees: []string{w.part["wireless coil"]}}, []string{"glass"})
	w.plan("battery", store.StepFacts{Verb: "lift", What: "battery", Side: "any", Seconds: 15,
		Frees: []string{w.part["battery"]}}, []string{"display"}, []string{"coil"})
	_, err = intake.AddStudy(ctx, s, command(), w.study, w.model, store.StudyFacts{Title: "Ninth"})
	w.must(err)
	for _, u := range []struct{ id, name string }{{w.pine, "PINE"}, {w.amber, "AMBER"}} {
		_, err := intake.AddUnit(ctx, s, command(), w.study, u.id,
			store.UnitFacts{Name: u.name, Colour: "green", Shape: "circle", Build: "1"})
		w.must(err)
	}
	return w
}

func (w *shop) must(err error) {
	w.t.Helper()
	if err != nil {
		w.t.Fatal(err)
	}
}

func (w *shop) plan(name string, f store.StepFacts, after ...[]string) {
	for _, alt := range after {
		var ids []string
		for _, n := range alt {
			ids = append(ids, w.step[n])
		}
		f.After = append(f.After, ids)
	}
	step, err := strip.AddStep(context.Background(), w.Service, command(), w.model, store.NewID(), "", f)
	w.must(err)
	w.step[name] = step.ID
}

func (w *shop) log(unit, step string, change func(*strip.LogFacts)) store.LogEntry {
	w.t.Helper()
	f := strip.LogFacts{UnitID: unit, StepID: w.step[step]}
	if change != nil {
		change(&f)
	}
	e, err := strip.AddLog(context.Background(), w.Service, command(), w.study, store.NewID(), f)
	w.must(err)
	return e
}

func (w *shop) know() *model.Record {
	w.t.Helper()
	k, err := model.Load(w.DB, w.model)
	w.must(err)
	return k
}

func words(s answer.Sentence) string {
	var b strings.Builder
	for _, f := range s {
		b.WriteString(f.Text)
		if f.Fact != nil {
			b.WriteString(f.Fact.Name)
			if f.Fact.Value != nil {
				fmt.Fprintf(&b, "%.1f %s", *f.Fact.Value, f.Fact.Unit)
			}
		}
	}
	return b.String()
}

// TestOddsAreNeverPooled: four rounds with the plate and one with the press are two counts; an incident belongs to its
// own.
func TestOddsAreNeverPooled(t *testing.T) {
	w := newShop(t)
	panel := w.part["display assembly"]
	for range 4 {
		w.log(w.pine, "front heat", nil)
	}
	w.log(w.amber, "front heat", func(f *strip.LogFacts) { f.Detail.Method = "press" })
	w.log(w.amber, "front heat", func(f *strip.LogFacts) {
		f.Kind, f.PartID, f.Detail.Method = "incident", panel, "press"
		f.Detail.Incident = &store.Incident{Kind: "panel-marked"}
	})
	k := w.know()
	plate, press := k.Counts[model.Hazard{Method: "plate", Side: "front",
		Part: panel}], k.Counts[model.Hazard{Method: "press", Side: "front", Part: panel}]
	if plate.K != 0 || plate.N != 4 || press.K != 1 || press.N != 1 {
		t.Errorf("plate %+v, press %+v", plate, press)
	}
	risks := k.HazardsOf(k.StepByID[w.step["front heat"]])
	if got, want := risks[panel], (20*0.02+0)/(20+4); math.Abs(got-want) > 1e-12 {
		t.Errorf("the plate is computed with %g, want %g", got, want)
	}
	if o := k.Odds([]string{w.step["back heat"]}); len(o) != 1 || o[0].N != 0 || o[0].High != 1 ||
		o[0].Certainty != "house" {
		t.Errorf("never counted: %+v", o)
	}
	// Destroying a part counts as having hurt it.
	w.log(w.pine, "back heat", nil)
	w.plan("prised", store.StepFacts{Verb: "pry", What: "glass", Side: "back", Frees: []string{w.part["rear glass"]},
		Risk: map[string]float64{w.part["rear glass"]: 0.1}})
	w.log(w.pine, "prised", func(f *strip.LogFacts) { f.Outcome, f.Reason = "destroyed", "cracked on the way" })
	if c := w.know().Counts[model.Hazard{Method: "pry", Side: "back", Part: w.part["rear glass"]}]; c.K != 1 ||
		c.N != 1 {
		t.Errorf("destroyed: %+v", c)
	}
}

// TestWaitsAreLearned: the heat that was needed until the gap opened pulls the nominal wait on the log scale, like step
// times.
func TestWaitsAreLearned(t *testing.T) {
	w := newShop(t)
	heat := func(unit string, seconds float64, result string) {
		w.log(unit, "front heat", func(f *strip.LogFacts) {
			f.Detail.Heat = &store.HeatRound{Source: "plate", Face: "front", Seconds: seconds, Result: result}
		})
	}
	heat(w.pine, 120, "no gap")
	heat(w.pine, 90, "gap")
	heat(w.amber, 200, "no gap") // still shut: it says nothing yet
	k := w.know()
	e := k.Wait(k.StepByID[w.step["front heat"]])
	if want := math.Cbrt(120 * 120 * 210); e.N != 1 || math.Abs(e.Seconds-want) > 1e-9 {
		t.Errorf("the wait: %+v, want %g s", e, want)
	}
	room, err := strip.Show(context.Background(), w.Service, w.study)
	w.must(err)
	if h := room.State[0].Heat[0]; h.Face != "front" || h.Rounds != 2 || h.Minutes != 3.5 || h.Next != 0 {
		t.Errorf("PINE's front: %+v", h)
	}
	heat(w.amber, 60, "mark")
	if room, err = strip.Show(context.Background(), w.Service, w.study); err != nil ||
		room.State[1].Heat[0].Next != 30 {
		t.Errorf("after a mark at 60 s: %+v, %v", room.State[1].Heat[0], err)
	}
}

func TestWaysFromOneSide(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	for entry, want := range map[string]string{"": "front rim", "front": "front rim", "back": "rear rim"} {
		room, err := ways.Show(ctx, w.Service, act.Actor{}, w.model, route.Attended, entry)
		w.must(err)
		way := room.Ways[0]
		if way.Part != "battery" || way.Steps[0].What != want {
			t.Errorf("from %q: %s by %s", entry, way.Part, way.Steps[0].What)
		}
		if got := strings.Join(way.Travels, "; "); got != "lens (sits in it); wireless coil (rides on it)" &&
			got != "wireless coil (rides on it); lens (sits in it)" {
			t.Errorf("travels: %s", got)
		}
		if missing := strings.Join(room.Missing, " "); (entry == "front") != strings.Contains(missing, "rear glass") {
			t.Errorf("from %q without a way: %s", entry, missing)
		}
	}
}

// TestLessons: another way in becomes an alternative, a disproved prerequisite goes, and taking the entry back restores
// it only while nobody changed the step since.
func TestLessons(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	w.log(w.pine, "back heat", nil)
	w.log(w.pine, "glass", nil)
	e := w.log(w.pine, "battery", nil) // the coil still in: it was not in the way
	if !strings.Contains(e.Detail.Lesson, "does not need") || len(w.know().StepByID[w.step["battery"]].After) != 2 {
		t.Errorf("lesson %q, after %v", e.Detail.Lesson, w.know().StepByID[w.step["battery"]].After)
	}
	if _, err := strip.DeleteLog(ctx, w.Service, command(), e.ID, 1); err != nil ||
		!slices.Contains(w.know().StepByID[w.step["battery"]].After[1], w.step["coil"]) {
		t.Errorf("not taken back: %v, %v", w.know().StepByID[w.step["battery"]].After, err)
	}
	e = w.log(w.pine, "battery", nil)
	step := w.know().StepByID[w.step["battery"]]
	facts := step.StepFacts
	facts.After = [][]string{{w.step["glass"]}}
	_, err := strip.ChangeStep(ctx, w.Service, command(), step.ID, step.Version, facts)
	w.must(err)
	if _, err := strip.DeleteLog(ctx, w.Service, command(), e.ID, 1); err != nil ||
		len(w.know().StepByID[w.step["battery"]].After) != 1 {
		t.Errorf("somebody's own change was undone: %v, %v", w.know().StepByID[w.step["battery"]].After, err)
	}
}

func TestHintsAndGuesses(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	if hints := strip.Hints(w.know()); len(hints) != 0 {
		t.Errorf("the coil comes out from the back, nothing lies in its way: %+v", hints)
	}
	part := w.know().PartByID[w.part["wireless coil"]]
	f := part.PartFacts
	f.XMM, f.Layer = 38, 2 // under the battery now, which no way takes out first
	_, err := strip.ChangePart(ctx, w.Service, command(), part.ID, part.Version, f)
	w.must(err)
	step := w.know().StepByID[w.step["coil"]]
	facts := step.StepFacts
	facts.Side = "front"
	_, err = strip.ChangeStep(ctx, w.Service, command(), step.ID, step.Version, facts)
	w.must(err)
	hints := strip.Hints(w.know())
	if len(hints) != 1 || hints[0].Kind != "lies under" || hints[0].StepID != step.ID ||
		!slices.Contains(hints[0].After[0], w.step["battery"]) {
		t.Errorf("hints: %+v", hints)
	}
	// A successor without a plan is offered its predecessor's steps, with the parts of the same name.
	next, study, unit := store.NewID(), store.NewID(), store.NewID()
	_, err = intake.AddModel(ctx, w.Service, command(), next,
		store.ModelFacts{Maker: "Corvane", Name: "Atoll 10", Entry: "front", Predecessor: "Atoll 9"})
	w.must(err)
	lid := store.NewID()
	_, err = strip.AddPart(ctx, w.Service, command(), next, lid,
		store.PartFacts{Name: "display assembly", Family: "SC"})
	w.must(err)
	_, err = intake.AddStudy(ctx, w.Service, command(), study, next, store.StudyFacts{Title: "Tenth"})
	w.must(err)
	_, err = intake.AddUnit(ctx, w.Service, command(), study, unit,
		store.UnitFacts{Name: "PINE", Colour: "green", Shape: "circle"})
	w.must(err)
	room, err := strip.Show(ctx, w.Service, study)
	w.must(err)
	tiles := room.State[0].Next
	if len(tiles) != 6 || tiles[0].From != "Atoll 9" || tiles[1].Facts.Frees[0] != lid {
		t.Fatalf("guesses: %+v", tiles)
	}
	_, err = strip.AddLog(ctx, w.Service, command(), study, store.NewID(),
		strip.LogFacts{UnitID: unit, Step: tiles[0].Facts})
	w.must(err)
	if room, err = strip.Show(ctx, w.Service, study); err != nil ||
		room.State[0].Next[0].Facts.What != "display assembly" {
		t.Errorf("the next guess: %+v, %v", room.State[0].Next, err)
	}
}

func TestDoubts(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	for _, c := range []struct {
		part   string
		change func(*store.PartFacts)
		says   string
		fix    float64
	}{
		{"battery", func(f *store.PartFacts) { f.EnergyWh = 15.9 }, "4.42 V per cell", 13.9},
		{"rear glass", func(f *store.PartFacts) { f.WMM = 700 }, "more than the whole phone", 70},
		{"display assembly", func(f *store.PartFacts) { f.MassG = 150 }, "the parts weigh", 0},
	} {
		p := w.know().PartByID[w.part[c.part]]
		f, old := p.PartFacts, p.PartFacts
		c.change(&f)
		_, err := strip.ChangePart(ctx, w.Service, command(), p.ID, p.Version, f)
		w.must(err)
		b, err := study.Load(w.DB, w.study)
		w.must(err)
		doubts := strip.Doubts(b)
		if len(doubts) != 1 || !strings.Contains(doubts[0].Text, c.says) {
			t.Fatalf("%s: %+v", c.part, doubts)
		}
		if c.fix > 0 && !slices.ContainsFunc(doubts[0].Fixes,
			func(x quantity.Correction) bool { return x.Value == c.fix }) {
			t.Errorf("%s: %g is not offered in %+v", c.part, c.fix, doubts[0].Fixes)
		}
		_, err = strip.ChangePart(ctx, w.Service, command(), p.ID, p.Version+1, old)
		w.must(err)
	}
}

// TestClosingFollowsTheLog: what was put back step by step needs no counting, heat is never put back, and the trail
// tells.
func TestClosingFollowsTheLog(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	for _, s := range []string{"front heat", "display", "battery"} {
		w.log(w.pine, s, nil)
	}
	room, err := closeup.Show(ctx, w.Service, w.study, false)
	w.must(err)
	c := room.Closings[0]
	if len(c.Lines) != 2 || c.Lines[0].Text != "put in battery" || c.May || len(c.Open) != 2 {
		t.Fatalf("lines %+v, open %+v", c.Lines, c.Open)
	}
	for _, s := range []string{"battery", "display"} {
		w.log(w.pine, s, func(f *strip.LogFacts) { f.Back = true })
	}
	room, err = closeup.Show(ctx, w.Service, w.study, false)
	w.must(err)
	if c = room.Closings[0]; !c.May || len(c.Open) != 0 || !strings.Contains(words(c.Answer), "PINE: may close") {
		t.Errorf("%s, open %+v", words(c.Answer), c.Open)
	}
	b, err := study.Load(w.DB, w.study)
	w.must(err)
	if done := b.Done(w.pine); len(done) != 0 {
		t.Errorf("heat is still going on: %v", done)
	}
	_, err = closeup.SetClosing(ctx, w.Service, command(), w.pine, 0, false,
		store.ClosingFacts{Closed: true, Seal: "none"})
	w.must(err)
	card, err := find.StudyCard(ctx, w.Service, w.study)
	w.must(err)
	k := slices.IndexFunc(card.Stages, func(s study.Stage) bool { return s.ID == "closeup" })
	if card.Stages[k].Eye != "half" {
		t.Errorf("one of two phones closed: %+v", card.Stages[k])
	}
}

// TestHarvestAndPace: prices of two currencies are not added, and a person's pace is the median of what jobs took.
func TestHarvestAndPace(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	price := func(name string, minor int, currency string) {
		p := w.know().PartByID[w.part[name]]
		f := p.PartFacts
		f.WorthMinor, f.Currency = minor, currency
		_, err := strip.ChangePart(ctx, w.Service, command(), p.ID, p.Version, f)
		w.must(err)
	}
	if h, err := ways.WeighHarvest(ctx, w.Service, w.model, 4500); err != nil ||
		!strings.Contains(words(h.Answer), "has a worth yet") {
		t.Errorf("nothing priced: %s, %v", words(h.Answer), err)
	}
	price("battery", 1500, "EUR")
	price("display assembly", 9000, "EUR")
	price("rear glass", 9000, "XTS")
	price("lens", 50, "EUR")
	h, err := ways.WeighHarvest(ctx, w.Service, w.model, 4500)
	w.must(err)
	if !h.Mixed || len(h.Parts) != 2 || strings.Join(h.Unpriced, " ") != "rear glass wireless coil lens" &&
		len(h.Unpriced) != 3 {
		t.Errorf("%+v", h)
	}
	mate := act.Actor{ID: store.NewID(), Role: act.Technician}
	for i, minutes := range []float64{20, 30, 90} {
		_, err := job.AddOutcome(ctx, w.Service, act.Command{Actor: mate, Key: store.NewID(), Hash: fmt.Sprint(i)},
			w.model, w.part["battery"], store.NewID(), store.OutcomeFacts{Minutes: minutes, Went: "fine",
				Predicted: 20, Sure: true})
		w.must(err)
	}
	room, err := ways.Show(ctx, w.Service, mate, w.model, route.Attended, "")
	w.must(err)
	if room.Pace != (model.Pace{Ratio: 1.5, N: 3}) {
		t.Errorf("pace %+v", room.Pace)
	}
	if room, err = ways.Show(ctx, w.Service, act.Actor{ID: store.NewID()}, w.model, route.Attended, ""); err != nil ||
		room.Pace != (model.Pace{Ratio: 1}) {
		t.Errorf("a stranger's pace %+v, %v", room.Pace, err)
	}
}
