package app_test

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/app/closeup"
	"waryowl/internal/app/handover"
	"waryowl/internal/app/strip"
	"waryowl/internal/app/study"
	core "waryowl/internal/core/closeup"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// field is the field that a refusal names, "" when nothing was refused.
func field(t *testing.T, err error) string {
	t.Helper()
	if err == nil {
		return ""
	}
	var f *fault.Fault
	if !errors.As(err, &f) {
		t.Fatalf("not a refusal of a field: %v", err)
	}
	return f.Field
}

func (w *shop) line(unit, text string) (store.LogEntry, error) {
	return strip.AddLog(context.Background(), w.Service, command(), w.study, store.NewID(),
		strip.LogFacts{UnitID: unit, Line: text})
}

func (w *shop) typed(unit, text string) store.LogEntry {
	w.t.Helper()
	e, err := w.line(unit, text)
	if err != nil {
		w.t.Fatalf("%q: %v", text, err)
	}
	return e
}

// TestLinesOfTheBench: what a line becomes in the log, in the plan and in the parts.
func TestLinesOfTheBench(t *testing.T) {
	w := newShop(t)
	heat := w.typed(w.pine, "h front rim plate 90C 60s no gap")
	if h := heat.Detail.Heat; heat.StepID != w.step["front heat"] || h == nil || h.Source != "plate" || h.SetC != 90 ||
		h.Seconds != 60 || h.Result != "no gap" {
		t.Errorf("heat: %+v", heat)
	}
	if e := w.typed(w.pine, "l display"); e.StepID != w.step["display"] || e.Back || e.NewStep {
		t.Errorf("a step of the plan: %+v", e)
	}
	e := w.typed(w.pine, "u 8 T4 1.4x2.0 @midplate")
	k := w.know()
	s := k.StepByID[e.StepID]
	if !e.NewStep || s.Count != 8 || s.Drive != "hexalobular" || s.DriveSize != "4" ||
		s.DiameterMM != 1.4 || s.LengthMM != 2 {
		t.Errorf("screws of a place: %+v", s)
	}
	if p := k.PartByID[s.PartID]; p.Name != "midplate" || p.Kind != "mid-plate" || p.Source != "measured" {
		t.Errorf("a part that a line named first: %+v", p)
	}
	if want := [][]string{{w.step["display"]}}; len(s.After) != 1 || s.After[0][0] != want[0][0] {
		t.Errorf("a new step comes after the act before it: %v", s.After)
	}
	back := w.typed(w.pine, "+ u midplate")
	if !back.Back || back.StepID != e.StepID {
		t.Errorf("put back: %+v", back)
	}
	for text, kind := range map[string]string{"t metal spudger": "tool", "? glue is white": "note",
		"! flex-torn lens": "incident", "m battery 3274mAh 12.83Wh": "measure"} {
		if e := w.typed(w.pine, text); e.Kind != kind || e.Line != text {
			t.Errorf("%q: %+v", text, e)
		}
	}
	if p := w.know().PartByID[w.part["battery"]]; p.CapacityMAh != 3274 || p.EnergyWh != 12.83 || len(p.Measures) != 2 {
		t.Errorf("measured: %+v", p)
	}
	w.typed(w.pine, "m battery 3280mAh")
	if p := w.know().PartByID[w.part["battery"]]; len(p.Measures) != 2 || len(p.Measures[0].Readings) != 2 {
		t.Errorf("a second reading joins the first: %+v", p.Measures)
	}
	torn := w.typed(w.pine, "! flex-torn lens")
	if torn.Detail.Incident.Kind != "flex-torn" || torn.PartID != w.part["lens"] || torn.StepID != w.step["display"] {
		t.Errorf("an incident belongs to the act before it: %+v", torn)
	}
}

// TestScrewsOfSeveralLengthsAreSeveralJoints: one line, one entry a joint, and the time is counted once.
func TestScrewsOfSeveralLengthsAreSeveralJoints(t *testing.T) {
	w := newShop(t)
	w.typed(w.pine, "u 5 cross upper bracket: 3 of 1.2x1.6, 2 of 1.2x2.4")
	b, err := study.Load(w.DB, w.study)
	w.must(err)
	if len(b.Log) != 2 {
		t.Fatalf("entries: %+v", b.Log)
	}
	for i, want := range [][2]float64{{3, 1.6}, {2, 2.4}} {
		s := b.Know.StepByID[b.Log[i].StepID]
		if float64(s.Count) != want[0] || s.LengthMM != want[1] || s.Drive != "cross" {
			t.Errorf("joint %d: %+v", i, s)
		}
	}
}

// TestALineThatMeansSeveralPartsAsks: nothing is written until somebody says which.
func TestALineThatMeansSeveralPartsAsks(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	var ids []string
	for _, name := range []string{"upper microphone", "lower microphone"} {
		id := store.NewID()
		_, err := strip.AddPart(ctx, w.Service, command(), w.model, id, store.PartFacts{Name: name, Family: "SO"})
		w.must(err)
		ids = append(ids, id)
	}
	_, err := w.line(w.pine, "p microphone")
	if field(t, err) != "line" || !strings.Contains(err.Error(), "lower microphone, upper microphone") {
		t.Fatalf("asked: %v", err)
	}
	e, err := strip.AddLog(ctx, w.Service, command(), w.study, store.NewID(),
		strip.LogFacts{UnitID: w.pine, Line: "p microphone", PartID: ids[1]})
	w.must(err)
	if s := w.know().StepByID[e.StepID]; s.PartID != ids[1] || s.Verb != "pry" {
		t.Errorf("chosen: %+v", s)
	}
}

// TestEntriesThatCannotBeAreRefused: each names its field, and the log stays as it was.
func TestEntriesThatCannotBeAreRefused(t *testing.T) {
	w := newShop(t)
	w.log(w.pine, "display", nil)
	ctx := context.Background()
	step := &store.StepFacts{Verb: "lift", What: "display assembly", Side: "front",
		Frees: []string{w.part["display assembly"]}}
	for name, c := range map[string]struct {
		f     strip.LogFacts
		field string
	}{
		"no such unit":            {strip.LogFacts{UnitID: store.NewID(), StepID: w.step["glass"]}, "unit_id"},
		"no such step":            {strip.LogFacts{UnitID: w.pine, StepID: store.NewID()}, "step_id"},
		"no such part":            {strip.LogFacts{UnitID: w.pine, Kind: "note", Note: "x", PartID: store.NewID()}, "part_id"},
		"neither step nor facts":  {strip.LogFacts{UnitID: w.pine}, "step_id"},
		"a line beside facts":     {strip.LogFacts{UnitID: w.pine, Line: "l lens", StepID: w.step["glass"]}, "line"},
		"freed twice":             {strip.LogFacts{UnitID: w.pine, StepID: w.step["display"]}, "frees"},
		"freed by another step":   {strip.LogFacts{UnitID: w.pine, Step: step}, "frees"},
		"never taken out":         {strip.LogFacts{UnitID: w.pine, StepID: w.step["glass"], Back: true}, "back"},
		"a new step put back":     {strip.LogFacts{UnitID: w.pine, Step: step, Back: true}, "back"},
		"a note without words":    {strip.LogFacts{UnitID: w.pine, Kind: "note", Note: "  "}, "note"},
		"a note that takes apart": {strip.LogFacts{UnitID: w.pine, Kind: "note", Note: "x", Back: true}, "kind"},
		"an incident of no kind":  {strip.LogFacts{UnitID: w.pine, Kind: "incident"}, "detail.incident"},
		"a stop without one":      {strip.LogFacts{UnitID: w.pine, Kind: "stop"}, "detail.stops"},
		"given up without reason": {strip.LogFacts{UnitID: w.pine, StepID: w.step["glass"], Outcome: "gave up"}, "reason"},
		"more whole than there are": {strip.LogFacts{UnitID: w.pine, StepID: w.step["glass"],
			Detail: store.LogDetail{Whole: 3, Of: 2}}, "detail.whole"},
		"read otherwise than it was read out": {strip.LogFacts{UnitID: w.pine, Line: "battery out",
			Echoed: []string{"PINE: disconnect battery"}}, "line"},
		"a choice that is none":              {strip.LogFacts{UnitID: w.pine, Line: "battery out", Choice: "the other one"}, "choice"},
		"a line of which nothing is left in": {strip.LogFacts{UnitID: w.pine, Line: "battery out", Leave: []int{0}}, "leave"},
	} {
		_, err := strip.AddLog(ctx, w.Service, command(), w.study, store.NewID(), c.f)
		if got := field(t, err); got != c.field {
			t.Errorf("%s: field %q, want %q (%v)", name, got, c.field, err)
		}
	}
	b, err := study.Load(w.DB, w.study)
	w.must(err)
	if len(b.Log) != 1 || len(b.Know.Steps) != 6 || len(b.Know.Parts) != 5 {
		t.Errorf("something stayed of what was refused: %d entries, %d steps, %d parts", len(b.Log), len(b.Know.Steps),
			len(b.Know.Parts))
	}
	if _, err := strip.AddLog(ctx, w.Service, command(), store.NewID(), store.NewID(),
		strip.LogFacts{UnitID: w.pine, StepID: w.step["glass"]}); !errors.Is(err, act.ErrNotFound) {
		t.Errorf("no such study: %v", err)
	}
}

// TestCorrectingTheLog: words and times are corrected, an entry is taken back with the step that it taught, and comes
// back with it; what later entries rest on stays.
func TestCorrectingTheLog(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	heat := w.typed(w.pine, "h front rim plate 90C 60s no gap")
	fixed, err := strip.ChangeLog(ctx, w.Service, command(), heat.ID, heat.Version,
		strip.LogCorrection{Seconds: 75, Note: "slow plate", Result: "gap", Mark: "none"})
	w.must(err)
	if fixed.Seconds != 75 || fixed.Note != "slow plate" || fixed.Detail.Heat.Result != "gap" ||
		fixed.Detail.Heat.Mark != "none" {
		t.Errorf("corrected: %+v", fixed)
	}
	var overtaken *store.Stale
	if _, err := strip.ChangeLog(ctx, w.Service, command(), heat.ID, heat.Version,
		strip.LogCorrection{}); !errors.As(err, &overtaken) {
		t.Errorf("an overtaken correction: %v", err)
	}
	w.log(w.pine, "display", nil)
	torn := w.typed(w.pine, "! flex-torn lens")
	blamed, err := strip.ChangeLog(ctx, w.Service, command(), torn.ID, torn.Version,
		strip.LogCorrection{PartID: w.part["battery"], Cause: "pick too deep", Evidence: "cut edge"})
	w.must(err)
	if blamed.PartID != w.part["battery"] || blamed.Detail.Incident.Cause != "pick too deep" {
		t.Errorf("the cause of an incident: %+v", blamed)
	}
	if _, err := strip.ChangeLog(ctx, w.Service, command(), torn.ID, blamed.Version,
		strip.LogCorrection{PartID: store.NewID()}); field(t, err) != "part_id" {
		t.Errorf("a part of another model: %v", err)
	}

	first := w.typed(w.pine, "b upper bracket")
	second := w.typed(w.pine, "+ b upper bracket")
	if _, err := strip.DeleteLog(ctx, w.Service, command(), first.ID, first.Version); field(t, err) != "log" {
		t.Errorf("an entry that a later one rests on: %v", err)
	}
	gone, err := strip.DeleteLog(ctx, w.Service, command(), second.ID, second.Version)
	w.must(err)
	gone, err = strip.DeleteLog(ctx, w.Service, command(), first.ID, first.Version)
	w.must(err)
	if _, there := w.know().StepByID[first.StepID]; there {
		t.Error("the step stayed that only the entry had taught")
	}
	_, err = strip.RestoreLog(ctx, w.Service, command(), gone.ID, gone.Version)
	w.must(err)
	if _, there := w.know().StepByID[first.StepID]; !there {
		t.Error("the step did not come back with its entry")
	}
	if _, err := strip.RestoreLog(ctx, w.Service, command(), store.NewID(), 1); !errors.Is(err, act.ErrNotFound) {
		t.Errorf("an entry that never was: %v", err)
	}
}

// TestWhatIsLostIsKnownAtClosing: screws lost and found on the log are counted, and what an incident hurt is tested again.
func TestWhatIsLostIsKnownAtClosing(t *testing.T) {
	w := newShop(t)
	w.log(w.pine, "display", nil)
	lose := func(kind string, n int) {
		_, err := strip.AddLog(context.Background(), w.Service, command(), w.study, store.NewID(),
			strip.LogFacts{UnitID: w.pine, Kind: "incident", Detail: store.LogDetail{Count: n, Diameter: 1.2, Length: 1.6,
				Incident: &store.Incident{Kind: kind}}})
		w.must(err)
	}
	lose("screw-lost", 3)
	lose("screw-found", 1)
	w.typed(w.pine, "! flex-torn lens")
	b, err := study.Load(w.DB, w.study)
	w.must(err)
	if got := strings.Join(b.Lost(w.pine), "; "); got != "2 × 1.2 × 1.6 mm screw" {
		t.Errorf("lost: %s", got)
	}
	if len(b.Lost(w.amber)) > 0 {
		t.Errorf("the other phone lost nothing: %v", b.Lost(w.amber))
	}
	families := map[string]bool{}
	for _, mark := range b.Retest(w.pine) {
		for _, c := range b.Checks {
			if c.Mark == mark {
				families[c.Family] = true
			}
		}
	}
	if len(families) != 1 || !families["OP"] {
		t.Errorf("a hurt lens is tested by the optical checks: %v", families)
	}
}

// TestNothingClosesWithAStrayBit: a bit of unknown origin keeps a phone open until it is placed or set aside with a
// reason; a lead left off on purpose needs no tick but its checks again, and a loose one takes its tick back.
func TestNothingClosesWithAStrayBit(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	look := func() closeup.UnitClosing {
		r, err := closeup.Show(ctx, w.Service, w.study, false)
		w.must(err)
		for _, c := range r.Closings {
			if c.UnitID == w.pine {
				return c
			}
		}
		t.Fatal("no closing")
		return closeup.UnitClosing{}
	}
	version := 0
	set := func(f store.ClosingFacts) {
		row, err := closeup.SetClosing(ctx, w.Service, command(), w.pine, version, false, f)
		w.must(err)
		version = row.Version
	}
	lead := w.typed(w.pine, "d front camera cable")
	w.typed(w.pine, "u 16 cross 1.2x1.6 @charge port")
	w.typed(w.pine, "+ u 14 cross 1.2x1.6 @charge port")
	bit := w.typed(w.pine, "? surplus small bracket unknown origin")
	if bit.Detail.Surplus == nil {
		t.Fatalf("the bit is not on record: %+v", bit)
	}
	names := func(list []core.Item) (out []string) {
		for _, i := range list {
			out = append(out, fmt.Sprintf("%s %d", i.Kind, i.Open()))
		}
		return out
	}
	if got := strings.Join(names(look().Open), ", "); got != "screw 2, stray 1" {
		t.Errorf("16 out, 14 back and a bit: %s", got)
	}
	screws, stray := look().Open[0].Key, look().Open[1].Key
	set(store.ClosingFacts{Declared: map[string]store.Declared{screws: {Lost: 2}, stray: {LeftOff: 1}}})
	if got := strings.Join(names(look().Open), ", "); got != "stray 1" {
		t.Errorf("set aside without a reason: %s", got)
	}
	facts := store.ClosingFacts{Declared: map[string]store.Declared{screws: {Lost: 2},
		stray: {LeftOff: 1, Why: "fell out of the tool box"}}}
	set(facts)
	v := look()
	if len(v.Open) > 0 || v.May || v.Seated != [2]int{0, 1} || len(v.Loose) != 1 {
		t.Errorf("the lead is not ticked: may %v, seated %v, open %v, loose %v", v.May, v.Seated, v.Open, v.Loose)
	}
	facts.Ticks = []string{"seat " + lead.StepID}
	set(facts)
	if v := look(); v.May || v.Seated != [2]int{0, 1} {
		t.Errorf("a tick on a lead that is still off is no seat: %v %v", v.May, v.Seated)
	}
	w.typed(w.pine, "+ d front camera cable")
	set(facts)
	if v := look(); !v.May || v.Seated != [2]int{1, 1} {
		t.Errorf("all seen: %v %v, %s", v.May, v.Seated, words(v.Answer))
	}
	w.typed(w.pine, "+ d front camera cable loose")
	if v := look(); v.May || v.Seated != [2]int{0, 1} || len(v.Ticked) > 0 {
		t.Errorf("seen loose after its tick: %v %v %v", v.May, v.Seated, v.Ticked)
	}
	version = look().Closing.Version
	set(facts)
	if v := look(); !v.May || len(v.Ticked) != 1 {
		t.Errorf("seen seated again: %v %v", v.May, v.Ticked)
	}
	w.typed(w.pine, "d front camera cable off on purpose")
	v = look()
	if !v.May || v.Seated != [2]int{0, 0} || len(v.Off) != 1 {
		t.Errorf("left off on purpose: %v %v %v, %s", v.May, v.Seated, v.Off, words(v.Answer))
	}
	camera, _ := trade.KindByID("front-camera")
	for _, c := range v.Checks {
		if _, serves := camera.Serves[c.Mark]; c.Retest != serves {
			t.Errorf("%s: to be tested again %v, served by the camera %v", c.Mark, c.Retest, serves)
		}
	}
	h, err := handover.Show(ctx, w.Service, w.study)
	w.must(err)
	for _, want := range []string{"PINE: 1 × surplus small bracket, origin unknown, set aside: fell out of the tool box",
		"was left off on purpose"} {
		if !strings.Contains(strings.Join(h.Open, "\n"), want) {
			t.Errorf("the hand-over does not say %q: %v", want, h.Open)
		}
	}
	w.typed(w.pine, "+ d front camera cable")
	if v := look(); !v.May {
		t.Errorf("on again, and ticked before: %v %v", v.Seated, v.Ticked)
	}
	w.typed(w.pine, "! loose connector front camera")
	if v := look(); v.May {
		t.Errorf("an incident with its lead: %v %v", v.Seated, v.Ticked)
	}
}

// TestOnePhoneIsOneOrder: a way that one phone's log taught is not called best; a second phone makes it knowledge.
func TestOnePhoneIsOneOrder(t *testing.T) {
	w := newShop(t)
	for _, u := range []string{w.pine, w.amber} {
		w.typed(u, "b upper bracket")
		w.typed(u, "l midplate")
		p := w.know().PartNamed("midplate")
		way := w.know().WayTo(p.ID)
		if way == nil || len(way.Steps) != 2 || !way.Proven || way.Once != (u == w.pine) {
			t.Errorf("after %s: %+v", u, way)
		}
	}
	if w.know().WayTo(w.part["battery"]).Once {
		t.Error("a plan that was written down is not an order that was logged")
	}
}

// TestWaitsAddUpUntilItWorked: 90 s that did not do it and 90 s that did were 180 s.
func TestWaitsAddUpUntilItWorked(t *testing.T) {
	w := newShop(t)
	e, err := strip.AddLog(context.Background(), w.Service, command(), w.study, store.NewID(),
		strip.LogFacts{UnitID: w.pine, Line: "w alcohol 90s battery gave up", Reason: "still holds"})
	w.must(err)
	if n := w.know().Wait(w.know().StepByID[e.StepID]).N; n != 0 {
		t.Errorf("a wait that did not work was learned: %d", n)
	}
	w.typed(w.pine, "w alcohol 90s battery")
	got := w.know().Wait(w.know().StepByID[e.StepID])
	if got.N != 1 || got.Seconds <= 90 {
		t.Errorf("learned %+v, want one wait, pulled from 90 s toward 180 s", got)
	}
}

// TestALessonKeepsWhatComesAfter: that the earpiece comes out before the mid plate says nothing of the motor below both.
func TestALessonKeepsWhatComesAfter(t *testing.T) {
	w := newShop(t)
	for _, p := range []string{"midplate", "earpiece", "vibration motor"} {
		w.typed(w.pine, "l "+p)
	}
	before := fmt.Sprint(afters(w))
	first := w.typed(w.amber, "l earpiece")
	if fmt.Sprint(afters(w)) == before {
		t.Error("the lesson changed nothing")
	}
	_, err := strip.DeleteLog(context.Background(), w.Service, command(), first.ID, first.Version)
	w.must(err)
	if got := fmt.Sprint(afters(w)); got != before {
		t.Errorf("taken back, the plan is not what it was: %s, was %s", got, before)
	}
	for _, p := range []string{"earpiece", "midplate", "vibration motor"} {
		w.typed(w.amber, "l "+p)
	}
	k := w.know()
	for part, steps := range map[string]int{"earpiece": 1, "vibration motor": 3} {
		if way := k.WayTo(k.PartNamed(part).ID); len(way.Steps) != steps {
			t.Errorf("way to the %s: %+v", part, way.Steps)
		}
	}
}

// afters are the prerequisites of all steps, in the order of the plan.
func afters(w *shop) (list [][][]string) {
	for _, s := range w.know().Steps {
		list = append(list, s.After)
	}
	return list
}

// TestWhatIsPriedOffIsOut: it lies beside the phone and keeps it open, the plan learns it, and taking the entry back
// takes all of it back; a screw that the log lost is not asked for.
func TestWhatIsPriedOffIsOut(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	open := func() string {
		room, err := closeup.Show(ctx, w.Service, w.study, false)
		w.must(err)
		var list []string
		for _, v := range room.Closings {
			if v.UnitID != w.pine {
				continue
			}
			for _, i := range v.Open {
				list = append(list, fmt.Sprintf("%s %d", i.Name, i.Open()))
			}
		}
		return strings.Join(list, ", ")
	}
	freed := func(step string) int { return len(w.know().StepByID[step].Frees) }
	loose := w.typed(w.pine, "pried the earpiece mesh loose")
	if open() != "" || loose.Detail.Leaves != "loose" || freed(loose.StepID) != 0 {
		t.Errorf("loosened: %q %+v", open(), loose.Detail)
	}
	off := w.typed(w.pine, "pried off the earpiece mesh")
	if open() != "earpiece mesh 1" || off.StepID != loose.StepID || !off.Detail.Freed || freed(off.StepID) != 1 {
		t.Errorf("pried off: %q %+v", open(), off.Detail)
	}
	_, err := strip.DeleteLog(ctx, w.Service, command(), off.ID, off.Version)
	w.must(err)
	if open() != "" || freed(loose.StepID) != 0 {
		t.Errorf("taken back: %q, the step frees %d", open(), freed(loose.StepID))
	}
	w.typed(w.pine, "peeled the graphite sheet off")
	if open() != "graphite sheet 1" {
		t.Errorf("no part on record, and forgotten: %q", open())
	}
	w.typed(w.pine, "+ x graphite sheet")
	w.typed(w.pine, "unscrewed 5 tri-wing 1.2x1.6 of the earpiece mesh")
	w.typed(w.pine, "lost 1 screw of the earpiece mesh")
	if got := open(); !strings.HasSuffix(got, " 4") {
		t.Errorf("one of five was lost: %q are to come back", got)
	}
}
