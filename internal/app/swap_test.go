package app_test

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/http/httptest"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/benchday"
	"waryowl/internal/app/handover"
	"waryowl/internal/app/intake"
	"waryowl/internal/app/model"
	"waryowl/internal/app/strip"
	"waryowl/internal/app/study"
	"waryowl/internal/app/swap"
	"waryowl/internal/calibration"
	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/trade"
	"waryowl/internal/sim"
	"waryowl/internal/store"
)

// lab is a study of two phones on the swap board: a display assembly with its panel and strip, a battery, a coil, and
// the board.
type lab struct {
	*shop
}

func newLab(t *testing.T, name string) *lab {
	s := service(t)
	ctx := context.Background()
	if err := model.EnsureCatalogue(ctx, s); err != nil {
		t.Fatal(err)
	}
	return labIn(t, s, name)
}

func labIn(t *testing.T, s *act.Service, name string, units ...string) *lab {
	ctx := context.Background()
	w := &lab{&shop{Service: s, t: t, model: store.NewID(), study: store.NewID(), pine: store.NewID(),
		amber: store.NewID(), part: map[string]string{}, step: map[string]string{}}}
	var off []store.CheckChange
	for _, c := range trade.Checks {
		if !slices.Contains([]string{"boot", "notices", "touch", "face-unlock", "charging", "ambient-colour"}, c.Mark) {
			off = append(off, store.CheckChange{Mark: c.Mark, Off: true})
		}
	}
	_, err := intake.AddModel(ctx, s, command(), w.model,
		store.ModelFacts{Maker: "Corvane", Name: name, Entry: "back", WidthMM: 70, HeightMM: 140, CheckChanges: off})
	w.must(err)
	for _, p := range []store.PartFacts{
		{Name: "display assembly", Family: "SC", Slot: true},
		{Name: "panel", Family: "SC", Slot: true, Inside: "display assembly", Mate: "sensor strip", WorthMinor: 9000,
			Currency: "EUR"},
		{Name: "sensor strip", Family: "SE", Slot: true, Inside: "display assembly"},
		{Name: "battery", Family: "PW", Slot: true, WorthMinor: 1500, Currency: "EUR"},
		{Name: "wireless coil", Family: "PW", Slot: true, Mount: "soldered"},
		{Name: "main board", Family: "BD"},
	} {
		w.part[p.Name] = store.NewID()
		_, err := strip.AddPart(ctx, s, command(), w.model, w.part[p.Name], p)
		w.must(err)
	}
	w.plan("glass", store.StepFacts{Verb: "lift", What: "rear glass", Side: "back", Seconds: 120})
	for _, p := range []string{"battery", "wireless coil", "display assembly", "main board"} {
		w.plan(p, store.StepFacts{Verb: "lift", What: p, Side: "back", Seconds: 60, Frees: []string{w.part[p]}},
			[]string{"glass"})
	}
	for _, p := range []string{"panel", "sensor strip"} {
		w.plan(p, store.StepFacts{Verb: "peel", What: p, Side: "back", Seconds: 90, Frees: []string{w.part[p]}},
			[]string{"display assembly"})
	}
	_, err = intake.AddStudy(ctx, s, command(), w.study, w.model, store.StudyFacts{Title: name})
	w.must(err)
	for _, u := range []struct{ id, name string }{{w.pine, "PINE"}, {w.amber, "AMBER"}} {
		if len(units) > 0 && !slices.Contains(units, u.name) {
			continue
		}
		_, err := intake.AddUnit(ctx, s, command(), w.study, u.id,
			store.UnitFacts{Name: u.name, Colour: "green", Shape: "circle", Build: "1.0", StorageGB: 64})
		w.must(err)
		for _, c := range []string{"boot", "notices", "touch", "face-unlock", "charging", "ambient-colour"} {
			_, err := intake.SetBaseline(ctx, s, command(), u.id, c, 0, "pass", false)
			w.must(err)
		}
	}
	return w
}

// of is a unit's piece.
func (w *lab) of(unit, part string) store.Piece {
	return store.Piece{PartID: w.part[part], Origin: "unit", UnitID: unit}
}

func (w *lab) act(f store.SwapActFacts) store.SwapAct {
	w.t.Helper()
	a, err := swap.AddAct(
		context.Background(),
		w.shop.Service,
		command(),
		w.study,
		store.NewID(),
		f,
		true,
		swap.Placing{},
	)
	w.must(err)
	return a.SwapAct
}

func (w *lab) move(piece store.Piece, to string) {
	w.t.Helper()
	w.act(store.SwapActFacts{Kind: "move", Moves: []store.Move{{Piece: piece, ToUnitID: to}}})
}

func (w *lab) trial(board string, results map[string]string, pieces ...store.Piece) store.Trial {
	w.t.Helper()
	return w.trialOf(store.TrialFacts{BoardUnitID: board, Pieces: pieces, Results: results, Minutes: 20})
}

func (w *lab) trialOf(f store.TrialFacts) store.Trial {
	w.t.Helper()
	tr, err := swap.AddTrial(
		context.Background(),
		w.shop.Service,
		command(),
		w.study,
		store.NewID(),
		f,
		swap.Placing{},
		"",
	)
	w.must(err)
	return tr.Trial
}

func (w *lab) room(ask swap.Ask) swap.Room {
	w.t.Helper()
	room, err := swap.Show(context.Background(), w.shop.Service, w.study, ask)
	w.must(err)
	return room
}

// passed are all checks passed but the lost ones.
func passed(lost ...string) map[string]string {
	r := map[string]string{}
	for _, c := range []string{"boot", "touch", "face-unlock", "charging", "ambient-colour"} {
		r[c] = "pass"
		if slices.Contains(lost, c) {
			r[c] = "lost"
		}
	}
	return r
}

// slots says what sits in a housing: part, whose, state.
func slots(h swap.Housing, name func(string) string) string {
	var list []string
	for _, s := range h.Slots {
		whose := s.Piece.Lot
		if s.Piece.UnitID != "" {
			whose = name(s.Piece.UnitID)
		}
		list = append(list, s.Part+" "+whose+" "+s.State)
	}
	slices.Sort(list)
	return strings.Join(list, "; ")
}

// TestTheSwapBoard: pieces are in one place, assemblies move their leaves, the board carries the identity.
func TestTheSwapBoard(t *testing.T) {
	w := newLab(t, "Atoll 20")
	sticker := func(id string) string { return map[string]string{w.pine: "PINE", w.amber: "AMBER"}[id] }
	at := func(unit string) string {
		for _, h := range w.room(swap.Ask{}).Board.Housings {
			if h.UnitID == unit {
				return h.Title + " | " + slots(h, sticker)
			}
		}
		return ""
	}
	if got := at(w.pine); got != "PINE board: every piece its own | battery PINE own; main board PINE board; panel "+
		"PINE own; sensor strip PINE own; wireless coil PINE own" {
		t.Fatal(got)
	}
	// The assembly of AMBER goes into PINE: both leaves with it, PINE's own to the mat, nothing twice.
	w.move(w.of(w.amber, "display assembly"), w.pine)
	if got := at(w.pine); !strings.Contains(got, "2 from another phone, 2 its own") ||
		!strings.Contains(got, "panel AMBER stranger; sensor strip AMBER stranger") {
		t.Error(got)
	}
	if got := at(w.amber); !strings.Contains(got, "panel  off; sensor strip  off") {
		t.Error(got)
	}
	if mat := w.room(swap.Ask{}).Board.Mat; len(mat) != 2 || mat[0].UnitID != w.pine {
		t.Errorf("on the mat: %+v", mat)
	}
	// A leaf by itself: the strip goes home, the panel stays.
	w.move(w.of(w.pine, "sensor strip"), w.pine)
	if got := at(w.pine); !strings.Contains(got, "panel AMBER stranger; sensor strip PINE own") {
		t.Error(got)
	}
	// The boards change places: every part that stays is a stranger to the board that comes.
	w.move(w.of(w.pine, "main board"), w.amber)
	w.move(w.of(w.amber, "main board"), w.pine)
	if got := at(w.pine); !strings.HasPrefix(got, "AMBER board in PINE housing: 3 from another phone, 1 its own") ||
		!strings.Contains(got, "panel AMBER own") {
		t.Error(got)
	}
	// A copy of a delivery; and the piece that was there.
	w.move(store.Piece{PartID: w.part["battery"], Origin: "copy", Lot: "lot-7"}, w.pine)
	if got := at(w.pine); !strings.Contains(got, "battery lot-7 copy@lot-7") {
		t.Error(got)
	}
	last := w.room(swap.Ask{}).Acts
	if text := last[len(last)-1].Text; text != "battery (copy lot-7) into PINE" {
		t.Errorf("in words: %s", text)
	}
	if _, err := swap.DeleteAct(context.Background(), w.shop.Service, command(), last[len(last)-1].ID,
		1); err != nil || !strings.Contains(at(w.pine), "battery PINE stranger") {
		t.Errorf("taken back: %s, %v", at(w.pine), err)
	}
	if _, err := swap.RestoreAct(context.Background(), w.shop.Service, command(), last[len(last)-1].ID,
		2); err != nil || !strings.Contains(at(w.pine), "battery lot-7") {
		t.Errorf("brought back: %s, %v", at(w.pine), err)
	}
}

func TestActsAndTrialsThatCannotBeAreRefused(t *testing.T) {
	w := newLab(t, "Atoll 21")
	ctx := context.Background()
	for want, f := range map[string]store.SwapActFacts{
		"moves":            {Kind: "move"},
		"moves[0].part_id": {Kind: "move", Moves: []store.Move{{Piece: store.Piece{PartID: store.NewID()}}}},
		"moves[0].unit_id": {Kind: "move", Moves: []store.Move{{Piece: w.of(store.NewID(), "battery")}}},
		"moves[0].to_unit_id": {Kind: "move", Moves: []store.Move{{Piece: w.of(w.pine, "battery"),
			ToUnitID: store.NewID()}}},
		"moves[0].origin": {Kind: "move", Moves: []store.Move{{Piece: store.Piece{PartID: w.part["battery"],
			Origin: "off"}}}},
		"moves[0].lot": {Kind: "move", Moves: []store.Move{{Piece: store.Piece{PartID: w.part["battery"],
			Origin: "copy"}}}},
		"board_unit_id": {Kind: "restart", BoardUnitID: store.NewID()},
		"build":         {Kind: "flash", BoardUnitID: w.pine},
		"what":          {Kind: "damage", BoardUnitID: w.pine},
		"pieces":        {Kind: "calibrate", BoardUnitID: w.pine, Accepted: true},
		"reason": {Kind: "calibrate", BoardUnitID: w.pine,
			Pieces: []store.Piece{w.of(w.amber, "battery")}},
		"understood": {Kind: "update", BoardUnitID: w.pine, Build: "1.1"},
	} {
		_, err := swap.AddAct(ctx, w.shop.Service, command(), w.study, store.NewID(), f, false, swap.Placing{})
		var bad *fault.Fault
		if !errors.As(err, &bad) || bad.Field != want {
			t.Errorf("want a fault at %s, got %v", want, err)
		}
	}
	results := map[string]string{"touch": "pass"}
	for want, f := range map[string]store.TrialFacts{
		"housing_unit_id": {BoardUnitID: w.pine, HousingUnitID: store.NewID()},
		"assumed[0]":      {BoardUnitID: w.pine, Assumed: []string{"touch"}},
		"later[0].results": {BoardUnitID: w.pine, Later: []store.Later{{Minutes: 1,
			Results: map[string]string{"nothing": "pass"}}}},
		"later[1].minutes": {BoardUnitID: w.pine, Later: []store.Later{{Minutes: 9, Results: results},
			{Minutes: 3, Results: results}}},
		"pieces[0].lot": {BoardUnitID: w.pine, Pieces: []store.Piece{{PartID: w.part["battery"], Origin: "copy"}}},
	} {
		_, err := swap.AddTrial(ctx, w.shop.Service, command(), w.study, store.NewID(), f, swap.Placing{}, "")
		var bad *fault.Fault
		if !errors.As(err, &bad) || bad.Field != want {
			t.Errorf("want a fault at %s, got %v", want, err)
		}
	}
	if len(w.room(swap.Ask{}).Trials)+len(w.room(swap.Ask{}).Acts) != 0 {
		t.Error("something that was refused is on record")
	}
}

// TestWhatCountsInATrial: filled cells never, the last reading instead of the first, a notice as a check of its own.
func TestWhatCountsInATrial(t *testing.T) {
	w := newLab(t, "Atoll 22")
	report := func(mark string) swap.CheckReport {
		for _, r := range w.room(swap.Ask{}).Reports {
			if r.Check.Mark == mark {
				return r
			}
		}
		return swap.CheckReport{}
	}
	tr := w.trialOf(store.TrialFacts{BoardUnitID: w.pine, Pieces: []store.Piece{w.of(w.amber, "battery")},
		Results: passed(), Assumed: []string{"charging"}, NoticesRead: true})
	if r := report("charging"); r.Tested != 0 {
		t.Errorf("a filled cell counted: %+v", r)
	}
	f := tr.TrialFacts
	f.Assumed = nil
	f.Notices = []store.Notice{{Text: "Unknown battery", Kind: "persistent"}}
	f.Later = []store.Later{{Minutes: 15, After: []string{"restart", "charge", "settling"},
		Results: map[string]string{"charging": "lost"}}}
	_, err := swap.ChangeTrial(context.Background(), w.shop.Service, command(), tr.ID, 1, f)
	w.must(err)
	if r := report("charging"); r.Tested != 1 || r.Lost != 1 {
		t.Errorf("accepted first, declared unknown later: %+v", r)
	}
	w.trialOf(store.TrialFacts{BoardUnitID: w.pine, Results: passed(), NoticesRead: true})
	// nobody looked for notices
	w.trialOf(store.TrialFacts{BoardUnitID: w.pine, Pieces: []store.Piece{w.of(w.amber, "wireless coil")},
		Results: passed()})
	if r := report("notice: unknown battery"); r.Tested != 2 || r.Lost != 1 || len(r.Suspects) == 0 ||
		r.Suspects[0].Words != "battery, from another phone" {
		t.Errorf("the notice: %+v", r)
	}
	if room := w.room(swap.Ask{}); len(room.Checks) != 7 || room.Trials[0].Title != "PINE board: 1 from another phone, 3 its own" {
		t.Errorf("%d checks, %s", len(room.Checks), room.Trials[0].Title)
	}
}

// dayOf puts PINE on a day and asks what the lab would test there: within the minutes left, and the repeats of the
// room.
func (w *lab) dayOf(room swap.Room) {
	w.t.Helper()
	ctx := context.Background()
	ask := benchday.Ask{Date: w.shop.Service.Now().UTC().AddDate(1, 0, 0).Format(time.DateOnly)}
	date, err := benchday.ReadDate(ask.Date)
	w.must(err)
	_, err = benchday.AddJob(
		ctx,
		w.shop.Service,
		command(),
		store.NewID(),
		store.BenchJobFacts{Day: date, Title: "PINE",
			UnitID: w.pine},
		"test 60 hands",
	)
	w.must(err)
	day, err := swap.LabOnDay(ctx, w.shop.Service, ask)
	w.must(err)
	minutes := 0.0
	for _, x := range day.Settling {
		minutes += x.Minutes
		if x.Job != "PINE" || x.Words == "" || x.Bits < 0.01 {
			w.t.Errorf("to settle: %+v", x)
		}
	}
	if len(day.Settling) == 0 || minutes > float64(day.Minutes) || day.Minutes != 9*60 {
		w.t.Errorf("%.0f of %d min: %+v", minutes, day.Minutes, day.Settling)
	}
	if len(day.Retests) != 1 || !reflect.DeepEqual(day.Retests[0].Retest, room.Retests[0]) ||
		day.Retests[0].On != "1.1" {
		w.t.Errorf("due: %+v", day.Retests)
	}
	if dues := day.Dues(ask); len(dues) != 1 || !strings.Contains(dues[0].Text, "test t1 again on build 1.1") {
		w.t.Errorf("in the calendar: %+v", dues)
	}
	gone, err := intake.DeleteStudy(ctx, w.shop.Service, command(), w.study, 1)
	w.must(err)
	if day, err = swap.LabOnDay(ctx, w.shop.Service, ask); err != nil || day.Looked != 0 || len(day.Settling) != 0 {
		w.t.Errorf("of a deleted study: %+v, %v", day, err)
	}
	_, err = intake.RestoreStudy(ctx, w.shop.Service, command(), w.study, gone.Version)
	w.must(err)
}

// TestGuardsOfTheRoom: damage spoils, a halt stops, builds are kept apart, old verdicts are aged and proposed for a
// repeat.
func TestGuardsOfTheRoom(t *testing.T) {
	w := newLab(t, "Atoll 23")
	kinds := func() string {
		var list []string
		for _, x := range w.room(swap.Ask{}).Warnings {
			list = append(list, x.Kind)
		}
		return strings.Join(list, ", ")
	}
	w.trial(w.pine, passed("charging"), w.of(w.amber, "battery"))
	w.trial(w.pine, passed())
	w.trial(w.pine, passed("charging"), w.of(w.amber, "battery"))
	if k := kinds(); k != "" {
		t.Errorf("nothing is wrong yet: %s", k)
	}
	w.act(store.SwapActFacts{Kind: "flash", BoardUnitID: w.pine, Build: "1.1"})
	if k := kinds(); k != "builds differ, last control" {
		t.Errorf("after the flash: %s", k)
	}
	tr := w.trial(w.pine, passed(), w.of(w.amber, "wireless coil"))
	if tr.Build != "1.1" {
		t.Errorf("the trial after the flash is on build %q", tr.Build)
	}
	room := w.room(swap.Ask{})
	if strings.Join(room.Builds, " ") != "1.0 1.1" || room.Build != "1.1" || len(room.Retests) != 1 ||
		room.Retests[0].Trial != "t1" || room.Retests[0].Cells == 0 {
		t.Errorf("builds %v, to test again %+v", room.Builds, room.Retests)
	}
	w.dayOf(room)
	old := w.room(swap.Ask{Build: "1.0"})
	for _, row := range old.Rows {
		if row.Part != "battery" {
			continue
		}
		v := row.Verdicts[slices.IndexFunc(old.Checks, func(c store.Check) bool { return c.Mark == "charging" })]
		if v.Mark != ledger.Loses || v.Eye != ledger.Half || !v.Aged || row.Mark != ledger.Loses {
			t.Errorf("the battery on the old build: %+v", v)
		}
	}
	damage := store.SwapActFacts{Kind: "damage", BoardUnitID: w.amber, What: "panel blotched by heat",
		Pieces: []store.Piece{w.of(w.amber, "display assembly")}}
	w.act(damage)
	spoilt := w.trial(w.pine, passed("touch"), w.of(w.amber, "panel"))
	room = w.room(swap.Ask{})
	if !strings.Contains(room.Trials[len(room.Trials)-1].Spoilt, "panel is damaged") || spoilt.Seq != 5 {
		t.Errorf("with a blotched panel: %+v", room.Trials[len(room.Trials)-1])
	}
	w.act(damage)
	if k := kinds(); !strings.Contains(k, "halt") || !strings.HasPrefix(words(w.room(swap.Ask{}).Answer),
		"Stop. panel blotched by heat for the 2. time") {
		t.Errorf("a second damage of the same kind: %s; %s", k, words(w.room(swap.Ask{}).Answer))
	}
}

// TestNextSwap: the boards first, then what tells most a minute; a budget gives a sequence within it; an open phone is
// cheaper; the reader's noise changes what is believed.
func TestNextSwap(t *testing.T) {
	w := newLab(t, "Atoll 24")
	room := w.room(swap.Ask{})
	if !strings.Contains(words(room.Answer), "exchange the main boards first") || len(room.Next) == 0 {
		t.Errorf("%s; %+v", words(room.Answer), room.Next)
	}
	for _, n := range room.Next {
		if n.Reason == "" || n.Minutes <= 0 || n.Assumed || n.Bits <= 0 {
			t.Errorf("%+v", n)
		}
	}
	w.trial(w.pine, passed("face-unlock"), w.of(w.amber, "display assembly"), w.of(w.amber, "battery"),
		w.of(w.amber, "wireless coil"))
	room = w.room(swap.Ask{Budget: 40})
	total := 0.0
	for _, n := range room.Plan {
		total += n.Minutes
	}
	if len(room.Plan) == 0 || total > 40 {
		t.Errorf("in 40 minutes: %+v", room.Plan)
	}
	if len(w.room(swap.Ask{Budget: 1}).Plan) != 0 {
		t.Error("a plan of one minute")
	}
	exchange := func(room swap.Room) swap.NextSwap {
		return room.Next[slices.IndexFunc(room.Next, func(n swap.NextSwap) bool {
			return n.Kind == "single" || n.Kind == "set" || n.Kind == "pair"
		})]
	}
	before := exchange(room).Minutes
	for _, s := range []string{"glass", "battery", "wireless coil", "display assembly", "panel", "sensor strip"} {
		w.log(w.pine, s, nil)
		w.log(w.amber, s, nil)
	}
	if after := w.room(swap.Ask{Budget: 40}); exchange(after).Minutes >= before {
		t.Errorf("with both phones apart it takes %g min, closed %g", exchange(after).Minutes, before)
	}
	top := func(n *diagnose.Noise) float64 {
		for _, r := range w.room(swap.Ask{Noise: n}).Reports {
			if r.Check.Mark == "face-unlock" {
				return r.Suspects[0].P
			}
		}
		return 0
	}
	if sure, unsure := top(&diagnose.Noise{FalseLoss: 0.001, FalsePass: 0.001}), top(&diagnose.Noise{FalseLoss: 0.3,
		FalsePass: 0.3}); sure <= unsure {
		t.Errorf("the first suspect at %g with little noise, %g with much", sure, unsure)
	}
	// One settled loss without a control: the control is worth its minutes.
	w.trial(w.pine, passed("face-unlock"), w.of(w.amber, "battery"))
	w.trial(w.amber, passed("face-unlock"), w.of(w.pine, "battery"))
	room = w.room(swap.Ask{})
	if !slices.ContainsFunc(room.Next, func(n swap.NextSwap) bool {
		return n.Kind == "control" && strings.Contains(n.Reason, "another reason") &&
			n.BoardUnitID == w.pine
	}) {
		t.Errorf("no control is proposed: %+v", room.Next)
	}
}

func TestEarlierStudiesPullThePriors(t *testing.T) {
	w := newLab(t, "Atoll 25")
	for range 2 {
		w.trial(w.pine, passed("ambient-colour"), w.of(w.amber, "battery"))
		w.trial(w.pine, passed())
	}
	next := labIn(t, w.Service, "Atoll 26")
	next.trial(next.pine, map[string]string{"ambient-colour": "lost"}, next.of(next.amber, "panel"),
		next.of(next.amber, "sensor strip"), next.of(next.amber, "battery"))
	p := func(learned bool) float64 {
		for _, r := range next.room(swap.Ask{Learned: learned}).Reports {
			for _, s := range r.Suspects {
				if r.Check.Mark == "ambient-colour" && s.Words == "battery, from another phone" {
					return s.P
				}
			}
		}
		return 0
	}
	if house, learned := p(false), p(true); learned <= house {
		t.Errorf("the battery at %g by the house, %g with what the Atoll 25 showed", house, learned)
	}
	counts := next.room(swap.Ask{Learned: true}).Learned
	k := slices.IndexFunc(counts, func(l study.Learned) bool {
		return l.Part == "battery" &&
			l.Check == "ambient-colour"
	})
	if k < 0 || counts[k].K != 1 || counts[k].N != 1 || counts[k].Prior <= ledger.PriorUnrelated {
		t.Errorf("counts: %+v", counts)
	}
}

// TestTheAccount says what was done, shown and not shown, and weighs every module.
func TestTheAccount(t *testing.T) {
	w := newLab(t, "Atoll 27")
	for range 2 {
		w.trial(w.pine, passed("face-unlock"), w.of(w.amber, "battery"))
		w.trial(w.pine, passed())
	}
	w.trial(w.amber, passed("face-unlock"), w.of(w.pine, "battery"))
	w.trial(w.pine, passed(), w.of(w.amber, "panel"), w.of(w.amber, "sensor strip"))
	a, err := swap.Tell(context.Background(), w.shop.Service, w.study, 6000)
	w.must(err)
	if len(a.Done) != 6 || !strings.Contains(strings.Join(a.Shown, " "),
		"The battery, from another phone, loses “Face unlock with a stored face” (proven).") {
		t.Errorf("done %d, shown %v", len(a.Done), a.Shown)
	}
	if open := strings.Join(a.NotShown, " "); !strings.Contains(open, "The wireless coil was never exchanged.") ||
		!strings.Contains(open, "1 check was never read in any swap: Notices") {
		t.Errorf("not shown: %s", open)
	}
	advice := map[string]string{}
	for _, m := range a.Modules {
		advice[m.Part] = m.Advice
		if m.Part == "battery" && (m.PaysMin != 15 || m.Minutes == 0) {
			t.Errorf("a battery worth 15 at 60 an hour: %+v", m)
		}
	}
	for part, want := range map[string]string{"battery": "repair, keep the original", "panel": "replace",
		"sensor strip": "replace", "wireless coil": "leave to trained people"} {
		if advice[part] != want {
			t.Errorf("%s: %s, want %s", part, advice[part], want)
		}
	}
	sheet, err := handover.Show(context.Background(), w.shop.Service, w.study)
	if err != nil || len(sheet.Swaps.Done) != 6 {
		t.Errorf("on the sheet: %+v, %v", sheet.Swaps, err)
	}
	table, err := swap.Factors(context.Background(), w.shop.Service, w.study, "", "face-unlock",
		[]string{w.part["panel"], w.part["sensor strip"]})
	w.must(err)
	var cells []string
	for _, c := range table.Cells {
		cells = append(cells, fmt.Sprintf("%v %d/%d", c.Other, c.Lost, c.Passed))
	}
	if got := strings.Join(cells,
		", "); got != "[false false] 3/4, [true false] 0/0, [false true] 0/0, [true true] 0/1" {
		t.Errorf("the table of the mates: %s", got)
	}
	for _, parts := range [][]string{{w.part["panel"]}, {w.part["panel"], w.part["panel"]}, {w.part["panel"], "x"}} {
		if _, err := swap.Factors(context.Background(), w.shop.Service, w.study, "", "face-unlock", parts); err == nil {
			t.Errorf("a table of %v", parts)
		}
	}
}

func TestAPairThatThePeopleNamedIsAlsoTriedTogether(t *testing.T) {
	w := newLab(t, "Atoll 28")
	b, err := study.Load(w.DB, w.study)
	w.must(err)
	f := b.Study.StudyFacts
	f.Pairs = [][]string{{"battery", "wireless coil"}}
	_, err = intake.ChangeStudy(context.Background(), w.shop.Service, command(), w.study, 1, f)
	w.must(err)
	w.trial(w.pine, passed(), w.of(w.amber, "battery"))
	w.trial(w.pine, passed(), w.of(w.amber, "wireless coil"))
	w.trial(w.pine, passed("charging"), w.of(w.amber, "battery"), w.of(w.amber, "wireless coil"))
	w.trial(w.amber, passed("charging"), w.of(w.pine, "battery"), w.of(w.pine, "wireless coil"))
	w.trial(w.amber, passed(), w.of(w.pine, "battery"))
	w.trial(w.amber, passed(), w.of(w.pine, "wireless coil"))
	for _, r := range w.room(swap.Ask{}).Reports {
		if r.Check.Mark == "charging" && (len(r.Suspects) == 0 ||
			r.Suspects[0].Words != "battery and wireless coil, only together" || r.Suspects[0].P < 0.7) {
			t.Errorf("neither alone, only together: %+v", r.Suspects)
		}
	}
}

// TestCalibration goes through the service as through a real one.
func TestCalibration(t *testing.T) {
	w := newLab(t, "Atoll 29")
	ctx := context.Background()
	who := command().Actor
	var client *calibration.Client
	ask := func(key string, f swap.CalibrateFacts) (store.SwapAct, error) {
		c := command()
		if c.Actor = who; key != "" {
			c.Key = key
		}
		return swap.Calibrate(ctx, w.shop.Service, client, c, w.study, store.NewID(), f)
	}
	facts := swap.CalibrateFacts{HousingUnitID: w.pine, PartIDs: []string{w.part["battery"]}, Understood: true}
	if _, err := ask("", facts); !errors.Is(err, calibration.ErrNone) {
		t.Errorf("no service: %v", err)
	}
	service := &sim.Service{Delay: time.Second}
	server := httptest.NewServer(service)
	defer server.Close()
	w.Now = time.Now
	client = &calibration.Client{URL: server.URL, Patience: 200 * time.Millisecond}
	w.move(w.of(w.amber, "battery"), w.pine)
	for want, change := range map[string]func(*swap.CalibrateFacts){
		"housing_unit_id": func(f *swap.CalibrateFacts) { f.HousingUnitID = store.NewID() },
		"part_ids[0]":     func(f *swap.CalibrateFacts) { f.PartIDs = []string{w.part["main board"]} },
		"understood":      func(f *swap.CalibrateFacts) { f.Understood = false },
	} {
		f := facts
		change(&f)
		_, err := ask("", f)
		var bad *fault.Fault
		if !errors.As(err, &bad) || bad.Field != want {
			t.Errorf("want a fault at %s, got %v", want, err)
		}
	}
	odd := facts
	odd.Clock = time.Now().AddDate(-2, 0, 0)
	if a, err := ask("", odd); err != nil || a.Accepted || !strings.Contains(a.Reason, "clock") {
		t.Errorf("an odd clock: %+v, %v", a, err)
	}
	key := store.NewID()
	a, err := ask(key, facts)
	if err != nil || !a.Accepted {
		t.Fatalf("%+v, %v", a, err)
	}
	// A late answer was decided all the same: the repeat asks for it, and no second calibration is made.
	mode := func(m string) {
		if _, err := http.Post(server.URL+"/mode", "application/json",
			strings.NewReader(`{"mode":"`+m+`"}`)); err != nil {
			t.Fatal(err)
		}
	}
	mode("slow")
	late, decided := store.NewID(), service.Decided()
	if _, err := ask(late, facts); !errors.Is(err, calibration.ErrSlow) {
		t.Errorf("a slow service: %v", err)
	}
	if open, err := store.OpenCalls(w.DB, w.study); err != nil || len(open) != 1 || open[0].ID != late {
		t.Errorf("the question without an answer is not on record: %+v, %v", open, err)
	}
	mode("ok")
	if a, err := ask(late, facts); err != nil || !a.Accepted || service.Decided() != decided+1 {
		t.Errorf("asked for again: %+v, %v, decided %d times", a, err, service.Decided()-decided)
	}
	if open, err := store.OpenCalls(w.DB, w.study); err != nil || len(open) != 0 {
		t.Errorf("still open: %+v, %v", open, err)
	}
	server.Close() // a repeat is answered from what is on record
	if again, err := ask(key, facts); err != nil || again.ID != a.ID {
		t.Errorf("the same change again: %+v, %v", again, err)
	}
	if _, err := ask("", facts); !errors.Is(err, calibration.ErrDown) {
		t.Errorf("the service is gone: %v", err)
	}
	room := w.room(swap.Ask{})
	state := func(part string) string {
		for _, s := range room.Board.Housings[0].Slots {
			if s.Part == part {
				return s.State
			}
		}
		return ""
	}
	if state("battery") != "adopted" || len(room.Acts) != 4 {
		t.Errorf("battery %s, %d acts", state("battery"), len(room.Acts))
	}
	w.trial(w.pine, passed(), w.of(w.amber, "battery"))
	w.move(w.of(w.pine, "battery"), w.pine)
	if room = w.room(swap.Ask{}); state("battery") != "stranger" {
		t.Errorf("the original after the calibration: %s", state("battery"))
	}
	if tr := w.trial(w.pine, passed("charging")); w.room(swap.Ask{}).Trials[1].States[w.part["battery"]] != "stranger" {
		t.Errorf("t%d with its original: %+v", tr.Seq, w.room(swap.Ask{}).Trials[1].States)
	}
}

// TestMinutesOfARound is worked out by hand: in 120 + 60 s, fitting 0.8 of the 60, out and in again 1.8 of them,
// closing 0.8 of the other 120: 432 s for each phone; 120 s to start and settle, 170 s of checks.
func TestMinutesOfARound(t *testing.T) {
	w := newLab(t, "Atoll 31")
	single := func() swap.NextSwap {
		b, err := study.Load(w.DB, w.study)
		w.must(err)
		r, err := swap.Everything(b, "1.0")
		w.must(err)
		for _, n := range r.Next {
			if n.Kind == "single" && n.BoardUnitID == w.pine && n.PartIDs[0] == w.part["battery"] {
				return n
			}
		}
		t.Fatal("the battery is no candidate")
		return swap.NextSwap{}
	}
	if n := single(); n.Minutes < 1154.0/60-0.01 || n.Minutes > 1154.0/60+0.01 || n.Assumed {
		t.Errorf("both closed: %g min, by hand %g", n.Minutes, 1154.0/60)
	}
	w.log(w.pine, "glass", nil) // 120 s less on one phone
	if n := single(); n.Minutes < 1034.0/60-0.01 || n.Minutes > 1034.0/60+0.01 {
		t.Errorf("PINE open: %g min, by hand %g", n.Minutes, 1034.0/60)
	}
	w.log(w.pine, "battery", nil)
	w.log(w.amber, "glass", nil)
	w.log(w.amber, "battery", nil)
	if n := single(); n.Minutes < 794.0/60-0.01 || n.Minutes > 794.0/60+0.01 {
		t.Errorf("both apart: %g min, by hand %g", n.Minutes, 794.0/60)
	}
}

// TestAThirdPhoneOfAnotherBuild: its board is not proposed for the build that is asked about, its pieces may still be
// moved.
func TestAThirdPhoneOfAnotherBuild(t *testing.T) {
	w := newLab(t, "Atoll 32")
	cedar := store.NewID()
	_, err := intake.AddUnit(context.Background(), w.shop.Service, command(), w.study, cedar,
		store.UnitFacts{Name: "CEDAR", Colour: "blue", Shape: "square", Build: "0.9"})
	w.must(err)
	w.move(w.of(cedar, "battery"), w.pine)
	room := w.room(swap.Ask{Build: "1.0"})
	if len(room.Board.Housings) != 3 || !strings.Contains(room.Board.Housings[0].Title, "1 from another phone") {
		t.Errorf("%d phones: %s", len(room.Board.Housings), room.Board.Housings[0].Title)
	}
	for _, n := range room.Next {
		if n.BoardUnitID == cedar {
			t.Errorf("a board of build 0.9 is proposed for 1.0: %+v", n)
		}
	}
	if !slices.ContainsFunc(room.Warnings, func(x ledger.Warning) bool { return x.Kind == "builds differ" }) {
		t.Error("nobody says that the builds differ")
	}
}

// TestVerdictsThatACarefulReaderSigns: through the room, what comes and goes is no working part, damage spoils only
// what it names, and a board that keeps a loss is brought back first.
func TestVerdictsThatACarefulReaderSigns(t *testing.T) {
	ctx := context.Background()
	w := newLab(t, "Atoll 31")
	battery := w.of(w.amber, "battery")
	for i := range 6 {
		lost := []string{"charging"}
		w.trial(w.pine, passed(lost[:1-i%2]...), battery)
	}
	cell := func(r swap.Room, part, check string) (v ledger.Verdict) {
		for _, row := range r.Rows {
			for _, x := range row.Verdicts {
				if row.Part == part && x.Check == check {
					v = x
				}
			}
		}
		return v
	}
	room := w.room(swap.Ask{})
	if v := cell(room, "battery", "charging"); v.Mark != ledger.Sporadic {
		t.Errorf("lost in half of its readings: %+v", v)
	}

	// One refused pairing asks nothing and changes nothing; a scratch spoils no check, a dent the one that it names.
	if _, err := swap.AddAct(ctx, w.shop.Service, command(), w.study, store.NewID(), store.SwapActFacts{Kind: "calibrate",
		BoardUnitID: w.pine, Pieces: []store.Piece{battery}, Reason: "the clock is wrong"}, false,
		swap.Placing{}); err != nil {
		t.Errorf("a refusal takes nothing away: %v", err)
	}
	_, err := swap.AddAct(ctx, w.shop.Service, command(), w.study, store.NewID(), store.SwapActFacts{Kind: "damage",
		BoardUnitID: w.pine, Pieces: []store.Piece{battery}, What: "dented", Spoils: []string{"smell"}}, false,
		swap.Placing{})
	if f := (*fault.Fault)(nil); !errors.As(err, &f) || f.Field != "spoils[0]" {
		t.Errorf("an unknown check: %v", err)
	}
	w.act(store.SwapActFacts{Kind: "damage", BoardUnitID: w.pine, Pieces: []store.Piece{battery}, What: "dented",
		Spoils: []string{"charging"}})
	w.trial(w.pine, passed("charging", "touch"), battery)
	room = w.room(swap.Ask{})
	var spoilt []string
	for _, s := range room.Skips {
		if s.Code == ledger.Spoiled {
			spoilt = append(spoilt, s.Check)
		}
	}
	if len(spoilt) != 1 || !strings.Contains(strings.ToLower(spoilt[0]), "charg") {
		t.Errorf("a dent that spoils the charging: %v", spoilt)
	}

	s := labIn(t, w.shop.Service, "Atoll 32")
	s.trial(s.pine, passed("touch"), s.of(s.amber, "panel"))
	s.trial(s.pine, passed("touch"))
	room = s.room(swap.Ask{})
	if len(room.Next) == 0 || room.Next[0].Kind != "restore" || !strings.Contains(room.Next[0].Reason, "Touch") {
		t.Errorf("a board that keeps a loss: %+v", room.Next)
	}
	s.act(store.SwapActFacts{Kind: "reset", BoardUnitID: s.pine})
	if next := s.room(swap.Ask{}).Next; len(next) == 0 || next[0].Kind != "control" || next[0].BoardUnitID != s.pine {
		t.Errorf("once it was reset a control shows whether it helped: %+v", next)
	}
	for _, n := range room.Next {
		if n.BoardUnitID == s.pine && n.Kind == "single" && n.Bits > 0 {
			t.Errorf("its further readings are thrown away: %+v", n)
		}
	}
}

// TestOnePhoneAlone can leave a part off, and is told what it can never tell.
func TestOnePhoneAlone(t *testing.T) {
	w := labIn(t, newLab(t, "Atoll 33").shop.Service, "Atoll 34", "PINE")
	room := w.room(swap.Ask{})
	text := ""
	for _, f := range room.Answer {
		text += f.Text
	}
	if len(room.Next) == 0 || room.Next[0].Kind != "off" || !strings.Contains(text, "can never tell") {
		t.Errorf("%s %+v", text, room.Next)
	}
	if m := room.Next[0].Moves; len(m) != 1 || m[0].ToUnitID != "" || m[0].UnitID != w.pine {
		t.Errorf("the part goes to the mat: %+v", m)
	}
}
