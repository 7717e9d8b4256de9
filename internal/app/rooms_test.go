package app_test

import (
	"bytes"
	"context"
	"errors"
	"image"
	"image/jpeg"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/app/closeup"
	"waryowl/internal/app/find"
	"waryowl/internal/app/intake"
	"waryowl/internal/app/job"
	"waryowl/internal/app/strip"
	"waryowl/internal/app/swap"
	"waryowl/internal/app/ways"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// TestTheGateBeforeOpening: every open condition is a reason, a swollen cell comes first, and a red mark is told.
func TestTheGateBeforeOpening(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	look := func() intake.Room {
		r, err := intake.Show(ctx, w.Service, w.study)
		w.must(err)
		return r
	}
	ready := func(u string, change func(*store.UnitFacts)) {
		row, err := store.Get[store.Unit](w.DB, u)
		w.must(err)
		charge := 20.0
		f := row.UnitFacts
		f.MassG = 170
		f.Gate = store.Gate{Off: true, Tray: true, Protection: true, Guide: true, Charge: &charge, Swelling: "flat",
			Liquid: "white", Data: "erased", Lock: "no lock"}
		if change != nil {
			change(&f)
		}
		_, err = intake.ChangeUnit(ctx, w.Service, command(), u, row.Version, f)
		w.must(err)
	}
	if r := look(); r.Open || !strings.HasPrefix(words(r.Answer), "Do not open yet: PINE has") {
		t.Errorf("nothing done yet: %s", words(r.Answer))
	}
	for _, u := range []string{w.pine, w.amber} {
		ready(u, nil)
		for _, c := range look().Checks {
			_, err := intake.SetBaseline(ctx, w.Service, command(), u, c.Mark, 0, "pass", false)
			w.must(err)
		}
	}
	if r := look(); !r.Open || !strings.HasPrefix(words(r.Answer), "You may open: ") ||
		!strings.Contains(words(r.Answer), "with a full baseline") || len(r.Notes) > 0 {
		t.Errorf("all is met: %s %v", words(r.Answer), r.Notes)
	}
	for name, c := range map[string]struct {
		change func(*store.UnitFacts)
		says   string
	}{
		"swollen": {func(f *store.UnitFacts) { f.Gate.Swelling = "swollen" },
			"Do not open yet: AMBER has a swollen battery"},
		"not written":     {func(f *store.UnitFacts) { f.Build = "" }, "a build is not written down"},
		"liquid":          {func(f *store.UnitFacts) { f.Gate.Liquid = "red" }, "AMBER: the liquid indicator is red"},
		"lighter":         {func(f *store.UnitFacts) { f.MassG = 160 }, "AMBER weighs 160 g, the model 170 g"},
		"no charge known": {func(f *store.UnitFacts) { f.Gate.Charge = nil }, "AMBER: 1.0 safety check left"},
		"other build":     {func(f *store.UnitFacts) { f.Build = "2" }, "on different builds"},
	} {
		ready(w.amber, c.change)
		r := look()
		if said := words(r.Answer) + " " + strings.Join(r.Notes, " "); !strings.Contains(said, c.says) {
			t.Errorf("%s: %s", name, said)
		}
	}
}

// TestIntakeRefuses: names that are taken, a thirteenth unit, checks and models that are not.
func TestIntakeRefuses(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	add := func(name string) error {
		_, err := intake.AddUnit(ctx, w.Service, command(), w.study, store.NewID(),
			store.UnitFacts{Name: name, Colour: "blue", Shape: "square"})
		return err
	}
	if got := field(t, add("pine")); got != "name" {
		t.Errorf("a sticker that differs by case alone: %q", got)
	}
	for _, n := range []string{"ELM", "OAK", "ASH", "FIR", "YEW", "BAY", "BOX", "BIRCH", "BEECH", "ALDER"} {
		w.must(add(n))
	}
	if err := add("ROWAN"); field(t, err) != "name" || !strings.Contains(err.Error(), "at most 12") {
		t.Errorf("a thirteenth unit: %v", err)
	}
	amber, err := store.Get[store.Unit](w.DB, w.amber)
	w.must(err)
	f := amber.UnitFacts
	f.Name = "PINE"
	if _, err := intake.ChangeUnit(ctx, w.Service, command(), w.amber, amber.Version, f); field(t, err) != "name" {
		t.Errorf("renamed to a name that is taken: %v", err)
	}
	if _, err := intake.SetBaseline(ctx, w.Service, command(), w.pine, "no-such", 0, "pass",
		false); field(t, err) != "check" {
		t.Errorf("a check that is not: %v", err)
	}
	if _, err := intake.AddStudy(ctx, w.Service, command(), store.NewID(), store.NewID(),
		store.StudyFacts{Title: "x"}); field(t, err) != "model_id" {
		t.Errorf("a model that is not: %v", err)
	}
	study, err := store.Get[store.Study](w.DB, w.study)
	w.must(err)
	gone, err := intake.DeleteStudy(ctx, w.Service, command(), w.study, study.Version)
	w.must(err)
	if _, err := intake.Show(ctx, w.Service, w.study); !errors.Is(err, act.ErrNotFound) {
		t.Errorf("a deleted study: %v", err)
	}
	_, err = intake.RestoreStudy(ctx, w.Service, command(), w.study, gone.Version)
	w.must(err)
	if r, err := intake.Show(ctx, w.Service, w.study); err != nil || len(r.Units) != 12 {
		t.Errorf("brought back: %v", err)
	}
}

// TestImportingAPlan: names are met whatever their case, kinds stay, what a step alone names becomes a part of the
// family of its kind; a file with a fault and a model with a plan are refused whole.
func TestImportingAPlan(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	fresh := store.NewID()
	_, err := intake.AddModel(ctx, w.Service, command(), fresh, store.ModelFacts{Maker: "Pellow", Name: "Drift 9"})
	w.must(err)
	file := `{"parts":[{"name":"screen","family":"SC","kind":"display","aliases":["glass"]}],"steps":[
		{"mark":"s1","verb":"unfasten","what":"rim screws","joint":"screw","drive":"five-lobe","drive_size":"0.8","count":2},
		{"mark":"s2","verb":"lift","what":"screen","frees":["Screen"],"after":[["s1"]],"risk":{"screen":0.1}},
		{"mark":"s3","verb":"lift","what":"cell","frees":["battery"],"after":[["s2"]]}]}`
	for name, c := range map[string]struct{ model, file, field string }{
		"a model with a plan":  {w.model, file, "plan"},
		"steps that wait":      {fresh, strings.Replace(file, `"drive_size"`, `"after":[["s3"]],"drive_size"`, 1), "plan.steps"},
		"a step that is not":   {fresh, strings.Replace(file, `[["s2"]]`, `[["s9"]]`, 1), "plan.steps[2].after[0][0]"},
		"not JSON":             {fresh, "{", "plan"},
		"a kind of no catalog": {fresh, strings.Replace(file, `"display"`, `"thing"`, 1), "plan.parts[0].kind"},
	} {
		if _, err := intake.ImportPlan(ctx, w.Service, command(), c.model, []byte(c.file)); field(t, err) != c.field {
			t.Errorf("%s: %v", name, err)
		}
		if s, err := find.Sheet(ctx, w.Service, fresh); err != nil || len(s.Parts)+len(s.Steps) > 0 {
			t.Fatalf("%s: something stayed: %+v %v", name, s, err)
		}
	}
	n, err := intake.ImportPlan(ctx, w.Service, command(), fresh, []byte(file))
	w.must(err)
	if n != (intake.Imported{Parts: 2, Steps: 3}) {
		t.Errorf("imported: %+v", n)
	}
	s, err := find.Sheet(ctx, w.Service, fresh)
	w.must(err)
	of := map[string]store.Part{}
	for _, p := range s.Parts {
		of[p.Name] = p
	}
	if of["screen"].Kind != "display" || of["battery"].Family != "PW" {
		t.Errorf("parts: %+v", of)
	}
	k := slices.IndexFunc(s.Steps, func(x store.PlanStep) bool { return x.Mark == "s2" })
	if x := s.Steps[k]; len(x.Frees) != 1 || x.Frees[0] != of["screen"].ID || x.Risk[of["screen"].ID] != 0.1 ||
		len(x.After) != 1 || s.Steps[0].DriveSize != "0.8" {
		t.Errorf("steps: %+v", s.Steps)
	}
}

// TestFinding: one field over names, aliases, labels and codes; what is not there is said with a way on.
func TestFinding(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	p, err := store.Get[store.Part](w.DB, w.part["battery"])
	w.must(err)
	f := p.PartFacts
	f.Aliases, f.Label, f.ConnectorCode = []string{"cell"}, "CRV-3600", "J4401"
	_, err = strip.ChangePart(ctx, w.Service, command(), p.ID, p.Version, f)
	w.must(err)
	for query, want := range map[string]string{"atoll battery": "battery ", "cell": "battery cell", "j4401": "battery J4401",
		"crv-36": "battery CRV-3600", "wirel": "wireless coil "} {
		r, err := find.Search(ctx, w.Service, query)
		w.must(err)
		if len(r.Matches) == 0 || r.Matches[0].Part+" "+r.Matches[0].Why != want ||
			r.Matches[0].Model != "Corvane Atoll 9" {
			t.Errorf("%q: %+v", query, r.Matches)
		}
	}
	for query, says := range map[string]string{"": "Which phone", "zzz": "Nothing on record for “zzz”",
		strings.Repeat("z", 90): strings.Repeat("z", 40) + "…”", "battery": "Corvane Atoll 9, battery: "} {
		r, err := find.Search(ctx, w.Service, query)
		w.must(err)
		if !strings.Contains(words(r.Answer), says) {
			t.Errorf("%q: %s", query, words(r.Answer))
		}
	}
	cards, err := find.Studies(ctx, w.Service, "")
	w.must(err)
	models, err := find.Models(ctx, w.Service, "")
	w.must(err)
	if len(cards) != 1 || cards[0].Study.Title != "Ninth" || len(models) != 1 || models[0].Name != "Atoll 9" {
		t.Errorf("lists: %+v %+v", cards, models)
	}
}

// TestPictures: a picture is judged by its content and made anew, belongs to things of its study, goes and comes back.
func TestPictures(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	var file bytes.Buffer
	w.must(jpeg.Encode(&file, image.NewGray(image.Rect(0, 0, 900, 600)), nil))
	add := func(unit string, f store.PhotoFacts, bytes []byte) (store.Photo, error) {
		return strip.AddPhoto(ctx, w.Service, command(), w.study, store.NewID(), unit, f, bytes)
	}
	entry := w.log(w.pine, "display", nil)
	for name, c := range map[string]struct {
		unit  string
		f     store.PhotoFacts
		file  []byte
		field string
	}{
		"not a picture":   {w.pine, store.PhotoFacts{}, []byte("<svg/>"), "photo"},
		"another unit":    {store.NewID(), store.PhotoFacts{}, file.Bytes(), "unit_id"},
		"another part":    {w.pine, store.PhotoFacts{PartID: store.NewID()}, file.Bytes(), "part_id"},
		"another entry":   {w.pine, store.PhotoFacts{EntryID: store.NewID()}, file.Bytes(), "entry_id"},
		"half a picture":  {w.pine, store.PhotoFacts{}, file.Bytes()[:200], "photo"},
		"nothing at all ": {w.pine, store.PhotoFacts{}, nil, "photo"},
	} {
		if _, err := add(c.unit, c.f, c.file); field(t, err) != c.field {
			t.Errorf("%s: %v", name, err)
		}
	}
	p, err := add(w.pine, store.PhotoFacts{EntryID: entry.ID, PartID: w.part["battery"]}, file.Bytes())
	w.must(err)
	full, err := strip.PhotoBytes(ctx, w.Service, p.ID, false)
	w.must(err)
	thumb, err := strip.PhotoBytes(ctx, w.Service, p.ID, true)
	w.must(err)
	small, err := jpeg.DecodeConfig(bytes.NewReader(thumb))
	if err != nil || small.Width >= 900 || bytes.Equal(full, file.Bytes()) || p.Width != 900 || p.Bytes != len(full) {
		t.Errorf("kept as %d bytes, thumb %+v: %v", len(full), small, err)
	}
	p, err = strip.ChangePhoto(ctx, w.Service, command(), p.ID, p.Version, store.PhotoFacts{Caption: "cable"})
	w.must(err)
	gone, err := strip.DeletePhoto(ctx, w.Service, command(), p.ID, p.Version)
	w.must(err)
	if _, err := strip.PhotoBytes(ctx, w.Service, p.ID, true); !errors.Is(err, act.ErrNotFound) {
		t.Errorf("a deleted picture: %v", err)
	}
	back, err := strip.RestorePhoto(ctx, w.Service, command(), p.ID, gone.Version)
	w.must(err)
	if back.Caption != "cable" {
		t.Errorf("brought back: %+v", back)
	}
}

// TestTheJobCard: what a part costs on each build is read from the trials, is never guessed, and a supplier's "none" turns
// the advice.
func TestTheJobCard(t *testing.T) {
	w := newLab(t, "Drift 7")
	ctx := context.Background()
	card := func(part string) job.Card {
		c, err := job.Show(ctx, w.Service, w.model, w.part[part])
		w.must(err)
		return c
	}
	before := card("battery")
	if said := words(before.Answer); !strings.Contains(said, "untested") && !strings.HasPrefix(said, "Ask first") {
		t.Errorf("nothing tried yet: %s", said)
	}
	w.trial(w.pine, passed("charging"), w.of(w.amber, "battery"))
	w.trial(w.amber, passed("charging"), w.of(w.pine, "battery"))
	after := card("battery")
	if len(after.Builds) != 1 {
		t.Fatalf("builds: %+v", after.Builds)
	}
	b := after.Builds[0]
	if b.Untested+len(b.Losses)+len(b.Works) > len(w.room(swap.Ask{}).Checks) {
		t.Errorf("a check stands twice: %+v", b)
	}
	for _, l := range b.Losses {
		if len(l.Verdict.For) == 0 || l.Verdict.Mark == ledger.Untested {
			t.Errorf("a loss that no trial shows: %+v", l)
		}
	}
	if _, err := job.Show(ctx, w.Service, w.model, store.NewID()); !errors.Is(err, act.ErrNotFound) {
		t.Errorf("a part that is not: %v", err)
	}
}

// TestOutcomesAreChecked: an outcome may name only what the model has.
func TestOutcomesAreChecked(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	add := func(modelID, part string, f store.OutcomeFacts) error {
		_, err := job.AddOutcome(ctx, w.Service, command(), modelID, part, store.NewID(), f)
		return err
	}
	for name, c := range map[string]struct {
		model, part string
		f           store.OutcomeFacts
		field       string
	}{
		"model":     {store.NewID(), w.part["battery"], store.OutcomeFacts{}, "model_id"},
		"part":      {w.model, store.NewID(), store.OutcomeFacts{}, "part_id"},
		"step":      {w.model, w.part["battery"], store.OutcomeFacts{Steps: []string{store.NewID()}}, "steps[0]"},
		"hurt part": {w.model, w.part["battery"], store.OutcomeFacts{HurtPart: store.NewID()}, "hurt_part"},
		"hurt step": {w.model, w.part["battery"], store.OutcomeFacts{HurtPart: w.part["lens"]}, "hurt_step"},
		"tabs":      {w.model, w.part["battery"], store.OutcomeFacts{Whole: 3, Of: 2}, "whole"},
	} {
		if got := field(t, add(c.model, c.part, c.f)); got != c.field {
			t.Errorf("%s: %q, want %q", name, got, c.field)
		}
	}
	w.must(add(w.model, w.part["battery"], store.OutcomeFacts{Went: "fine", Steps: []string{w.step["glass"]}}))
	c, err := job.Show(ctx, w.Service, w.model, w.part["battery"])
	w.must(err)
	if len(c.Outcomes) != 1 || c.Outcomes[0].Who != "somebody who left" || c.Way == nil || len(c.Hazards) == 0 {
		t.Errorf("card: %+v", c.Outcomes)
	}
}

// TestWaysOfTwoModels: the difference of two ways is taken from their steps, and a part without a twin is not compared.
func TestWaysOfTwoModels(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	other := store.NewID()
	_, err := intake.AddModel(ctx, w.Service, command(), other, store.ModelFacts{Maker: "Corvane", Name: "Atoll 10"})
	w.must(err)
	_, err = intake.ImportPlan(ctx, w.Service, command(), other, []byte(`{"parts":[{"name":"cell","family":"PW",
		"kind":"battery"}],"steps":[{"mark":"s1","verb":"lift","what":"rear glass","side":"back","seconds":8,
		"frees":["rear glass"]},{"mark":"s2","verb":"pry","what":"cell","tool":"card","seconds":40,"after":[["s1"]],
		"frees":["cell"]}]}`))
	w.must(err)
	d, err := ways.Compare(ctx, w.Service, w.model, w.part["battery"], other)
	w.must(err)
	if d.Theirs == nil || len(d.Theirs.Steps) != 2 || !slices.Contains(d.Gone, "pry cell") ||
		!slices.Contains(d.Added, "take out battery") || slices.Contains(d.Added, "take out rear glass") ||
		!strings.Contains(words(d.Answer), "against the Atoll 10: ") {
		t.Errorf("difference: %+v %s", d, words(d.Answer))
	}
	d, err = ways.Compare(ctx, w.Service, w.model, w.part["wireless coil"], other)
	w.must(err)
	if !strings.HasPrefix(words(d.Answer), "Nothing to compare") || len(d.Gone)+len(d.Added) > 0 {
		t.Errorf("without a twin: %s", words(d.Answer))
	}
	if _, err := ways.Compare(ctx, w.Service, w.model, store.NewID(), other); !errors.Is(err, act.ErrNotFound) {
		t.Errorf("a part that is not: %v", err)
	}
}

// TestClosingIsRefusedWhileSomethingIsOpen: results are of this model's checks, and a phone with a part out is not closed.
func TestClosingIsRefusedWhileSomethingIsOpen(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	set := func(f store.ClosingFacts) error {
		_, err := closeup.SetClosing(ctx, w.Service, command(), w.pine, 0, false, f)
		return err
	}
	w.log(w.pine, "display", nil)
	room, err := intake.Show(ctx, w.Service, w.study)
	w.must(err)
	for name, c := range map[string]struct {
		f     store.ClosingFacts
		field string
	}{
		"a check that is not": {store.ClosingFacts{Results: map[string]string{"zzz": "pass"}}, "results"},
		"a result of no kind": {store.ClosingFacts{Results: map[string]string{room.Checks[0].Mark: "fine"}},
			"results." + room.Checks[0].Mark},
		"a display still out": {store.ClosingFacts{Closed: true}, "closed"},
	} {
		if got := field(t, set(c.f)); got != c.field {
			t.Errorf("%s: %q", name, got)
		}
	}
	w.must(set(store.ClosingFacts{Results: map[string]string{room.Checks[0].Mark: "pass"}}))
	if err := set(store.ClosingFacts{}); err == nil {
		t.Error("a second first closing was taken")
	}
}
