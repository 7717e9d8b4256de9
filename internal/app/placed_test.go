package app_test

import (
	"context"
	"errors"
	"slices"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/intake"
	"waryowl/internal/app/study"
	"waryowl/internal/app/swap"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// cellOf is the verdict of a part in a state for a check.
func cellOf(room swap.Room, part, state, check string) ledger.Verdict {
	for _, r := range room.Rows {
		for _, v := range r.Verdicts {
			if r.Part == part && r.State == state && v.Check == check {
				return v
			}
		}
	}
	return ledger.Verdict{}
}

// TestPlacedBetweenEarlierOnes: an act that was forgotten goes where it belongs, everything after it is derived again,
// and what changed is told; numbers stay.
func TestPlacedBetweenEarlierOnes(t *testing.T) {
	w := newLab(t, "Atoll 40")
	ctx := context.Background()
	battery := w.of(w.amber, "battery")
	one := w.trial(w.pine, passed("charging"), battery)
	two := w.trial(w.pine, passed(), battery)
	calibrated := store.SwapActFacts{Kind: "calibrate", BoardUnitID: w.pine, Pieces: []store.Piece{battery}, Accepted: true}
	add := func(f store.SwapActFacts, at swap.Placing) (swap.PlacedAct, error) {
		return swap.AddAct(ctx, w.shop.Service, command(), w.study, store.NewID(), f, true, at)
	}
	a, err := add(calibrated, swap.Placing{After: one.ID})
	w.must(err)
	if !slices.ContainsFunc(a.Told, func(s string) bool { return s == "t2, battery: adopted, was stranger" }) {
		t.Errorf("told %q", a.Told)
	}
	room := w.room(swap.Ask{})
	if got := room.Trials[1]; got.ID != two.ID || got.Mark != "t2" || got.States[w.part["battery"]] != "adopted" {
		t.Errorf("after it: %+v", got)
	}
	if v := cellOf(room, "battery", "adopted", "charging"); v.Mark != ledger.Calibrated {
		t.Errorf("works once calibrated: %+v", v)
	}
	// A trial before all of them takes the next number and the first place.
	first, err := swap.AddTrial(ctx, w.shop.Service, command(), w.study, store.NewID(),
		store.TrialFacts{BoardUnitID: w.amber, Results: passed()}, swap.Placing{After: "start"}, "ask")
	w.must(err)
	if room = w.room(swap.Ask{}); room.Trials[0].ID != first.ID || room.Trials[0].Mark != "t3" ||
		room.Trials[2].States[w.part["battery"]] != "adopted" {
		t.Errorf("first of all: %+v", room.Trials)
	}
	// By the time at which it was done: after the act whose time is not later.
	at := func(day int) *time.Time { d := time.Date(2026, 1, day, 12, 0, 0, 0, time.UTC); return &d }
	old := store.SwapActFacts{Kind: "restart", BoardUnitID: w.pine, DoneAt: at(5)}
	w.must(func() error { _, err := add(old, swap.Placing{}); return err }())
	older := store.SwapActFacts{Kind: "wait", BoardUnitID: w.pine, DoneAt: at(3)}
	w.must(func() error { _, err := add(older, swap.Placing{}); return err }())
	between := store.SwapActFacts{Kind: "charger", BoardUnitID: w.pine, DoneAt: at(4)}
	w.must(func() error { _, err := add(between, swap.Placing{}); return err }())
	var kinds []string
	for _, a := range w.room(swap.Ask{}).Acts {
		kinds = append(kinds, a.Kind)
	}
	if want := []string{"wait", "charger", "restart", "calibrate"}; !slices.Equal(kinds, want) {
		t.Errorf("in order of their time: %v", kinds)
	}
	future := time.Now().AddDate(1, 0, 0)
	for field, try := range map[string]func() error{
		"after": func() error { _, err := add(old, swap.Placing{After: store.NewID()}); return err },
		"done_at": func() error {
			f := old
			f.DoneAt = &future
			_, err := add(f, swap.Placing{})
			return err
		},
	} {
		if f := (*fault.Fault)(nil); !errors.As(try(), &f) || f.Field != field {
			t.Errorf("%s: %v", field, try())
		}
	}
}

// TestATrialAndTheBenchAgree: what differs is named and asked about; then the bench follows, or the trial is made anew.
func TestATrialAndTheBenchAgree(t *testing.T) {
	w := newLab(t, "Atoll 41")
	try := func(bench string, f store.TrialFacts) error {
		_, err := swap.AddTrial(context.Background(), w.shop.Service, command(), w.study, store.NewID(), f, swap.Placing{},
			bench)
		return err
	}
	battery := w.of(w.amber, "battery")
	swapped := store.TrialFacts{BoardUnitID: w.pine, Results: passed(), Pieces: []store.Piece{battery,
		{PartID: w.part["wireless coil"], Origin: "off"}}}
	err := try("ask", swapped)
	if f := (*fault.Fault)(nil); !errors.As(err, &f) || f.Field != "bench" ||
		!strings.Contains(f.Allowed, "AMBER's battery in the trial") || !strings.Contains(f.Allowed, "wireless coil (off") {
		t.Errorf("asked: %v", err)
	}
	w.must(try("follow", swapped))
	fitted := w.room(swap.Ask{}).Board.Housings[0].Fitted
	if len(fitted) != 2 || fitted[0].UnitID != w.amber || fitted[1].Origin != "off" {
		t.Errorf("the bench followed: %+v", fitted)
	}
	w.must(try("ask", swapped)) // they agree now
	if err := try("ask", store.TrialFacts{BoardUnitID: w.pine, Results: passed()}); err == nil {
		t.Error("the originals are not what lies there")
	}
	w.must(try("", store.TrialFacts{BoardUnitID: w.pine, Results: passed()})) // told so: the bench stays as it is
	if got := w.room(swap.Ask{}).Board.Housings[0].Fitted; !slices.Equal(got, fitted) {
		t.Errorf("the bench stayed: %+v", got)
	}
}

// TestQuestionsCloseWithTheVerdictsThatSettleThem: a statement in words finds its part and check, is weighed first, and
// closes when the verdict is proven.
func TestQuestionsCloseWithTheVerdictsThatSettleThem(t *testing.T) {
	w := newLab(t, "Atoll 42")
	ctx := context.Background()
	b, err := study.Load(w.DB, w.study)
	w.must(err)
	f := b.Study.StudyFacts
	f.Hypotheses = []store.Hypothesis{
		{Text: "Does the battery cost charging?", Source: "rumour", State: "open"},
		{Text: "The sensor strip keeps the ambient colour", Source: "rumour", State: "open"},
		{Text: "It comes apart in ten minutes", Source: "rumour", State: "open"}}
	row, err := intake.ChangeStudy(ctx, w.shop.Service, command(), w.study, 1, f)
	w.must(err)
	room := w.room(swap.Ask{})
	for i, want := range []struct{ part, check, claim string }{{"battery", "charging", "loses"},
		{"sensor strip", "ambient-colour", "works"}, {"", "", ""}} {
		if q := room.Asks[i]; q.Part != want.part || q.Check != want.check || q.Claim != want.claim || q.Settled {
			t.Errorf("%s: %+v", q.Text, q)
		}
	}
	if len(room.Next) == 0 || room.Next[0].Bits == 0 {
		t.Errorf("nothing was lost, and yet something is asked: %+v", room.Next)
	}
	w.trial(w.pine, passed("charging"), w.of(w.amber, "battery"))
	w.trial(w.pine, passed())
	w.trial(w.pine, passed("charging"), w.of(w.amber, "battery"))
	w.trial(w.amber, passed("charging"), w.of(w.pine, "battery"))
	w.trial(w.amber, passed())
	room = w.room(swap.Ask{})
	if q := room.Asks[0]; q.State != "confirmed" || !q.Settled || q.Eye != ledger.Open || len(q.Trials) == 0 {
		t.Errorf("proven: %+v, %+v", q, cellOf(room, "battery", "stranger", "charging"))
	}
	if q := room.Asks[1]; q.State != "open" || q.Verdict != ledger.Untested {
		t.Errorf("never tried: %+v", q)
	}
	in, err := intake.Show(ctx, w.shop.Service, w.study)
	if err != nil || in.Asks[0].State != "confirmed" {
		t.Errorf("at intake: %+v, %v", in.Asks, err)
	}
	for field, change := range map[string]func(*store.StudyFacts){
		"pairs[0]":              func(f *store.StudyFacts) { f.Pairs = [][]string{{"x"}} },
		"hypotheses[0].part_id": func(f *store.StudyFacts) { f.Hypotheses[0].PartID = store.NewID() },
	} {
		g := row.StudyFacts
		g.Hypotheses = slices.Clone(g.Hypotheses)
		change(&g)
		_, err := intake.ChangeStudy(ctx, w.shop.Service, command(), w.study, row.Version, g)
		if f := (*fault.Fault)(nil); !errors.As(err, &f) || f.Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// TestWhatATrialTellsBesides: values and words per check, a dark screen, readings that turn within a trial, notices that
// say the same in other words, and the checks most likely lost first.
func TestWhatATrialTellsBesides(t *testing.T) {
	w := newLab(t, "Atoll 43")
	ctx := context.Background()
	lux := 120.0
	dark := passed("touch")
	_, err := swap.AddTrial(ctx, w.shop.Service, command(), w.study, store.NewID(), store.TrialFacts{BoardUnitID: w.pine,
		DarkScreen: true, Results: dark, Pieces: []store.Piece{w.of(w.amber, "panel")},
		Dangling: []string{w.part["sensor strip"]},
		Seen:     map[string]store.Seen{"touch": {Words: "half bright", Value: &lux, Unit: "lux"}},
		Notices:  []store.Notice{{Text: "Important battery message", Kind: "persistent"}}}, swap.Placing{}, "")
	w.must(err)
	room := w.room(swap.Ask{})
	if !slices.ContainsFunc(room.Skips, func(s swap.SkipView) bool { return s.Code == ledger.DeadGated }) {
		t.Errorf("dark, and the gate not gone through: %+v", room.Skips)
	}
	if got := room.Trials[0].Seen["touch"]; got.Words != "half bright" || *got.Value != 120 || got.Unit != "lux" {
		t.Errorf("seen: %+v", got)
	}
	if !strings.Contains(room.Trials[0].Title, "sensor strip dangling") {
		t.Errorf("title %q", room.Trials[0].Title)
	}
	alike, err := swap.Notices(ctx, w.shop.Service, w.study, "battery notice")
	if err != nil || len(alike) != 1 || alike[0].Text != "Important battery message" {
		t.Errorf("the same in other words: %+v, %v", alike, err)
	}
	if none, _ := swap.Notices(ctx, w.shop.Service, w.study, "camera notice"); len(none) != 0 {
		t.Errorf("another part: %+v", none)
	}
	turns := store.TrialFacts{BoardUnitID: w.pine, Pieces: []store.Piece{w.of(w.amber, "battery")},
		Results: passed("charging"),
		Later: []store.Later{{Minutes: 10, Results: map[string]string{"charging": "pass"}},
			{Minutes: 20, Results: map[string]string{"charging": "lost"}}, {Minutes: 30,
				Results: map[string]string{"charging": "pass"}}}}
	w.trialOf(turns)
	w.trial(w.pine, passed(), w.of(w.amber, "battery"))
	w.trial(w.amber, passed(), w.of(w.pine, "battery"))
	if v := cellOf(w.room(swap.Ask{}), "battery", "stranger", "charging"); v.Mark == ledger.Works {
		t.Errorf("it turned three times within a trial: %+v", v)
	}
	w.move(w.of(w.amber, "battery"), w.pine)
	// after the notices, which any stranger may bring
	if got := w.room(swap.Ask{}).Board.Housings[0].Likely; len(got) != 6 || slices.Index(got, "charging") > 1 {
		t.Errorf("most likely lost first: %v", got)
	}
	for field, f := range map[string]store.TrialFacts{
		"seen":             {BoardUnitID: w.pine, Seen: map[string]store.Seen{"touch": {Words: "dull"}}},
		"seen.touch.value": {BoardUnitID: w.pine, Results: passed(), Seen: map[string]store.Seen{"touch": {Unit: "lux"}}},
		"dangling[0]": {BoardUnitID: w.pine, Dangling: []string{w.part["battery"]},
			Pieces: []store.Piece{w.of(w.amber, "battery")}},
	} {
		_, err := swap.AddTrial(ctx, w.shop.Service, command(), w.study, store.NewID(), f, swap.Placing{}, "")
		if bad := (*fault.Fault)(nil); !errors.As(err, &bad) || bad.Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// TestFurtherCandidates: a third phone's piece, matching what is fitted now, which comes after what can be taken back, and one mate
// alone.
func TestFurtherCandidates(t *testing.T) {
	w := newLab(t, "Atoll 44")
	ctx := context.Background()
	slate := store.NewID()
	_, err := intake.AddUnit(ctx, w.shop.Service, command(), w.study, slate,
		store.UnitFacts{Name: "SLATE", Colour: "slate", Shape: "square", Build: "1.0"})
	w.must(err)
	both := []store.Piece{w.of(w.amber, "panel"), w.of(w.amber, "sensor strip")}
	w.trial(w.pine, passed("charging"), w.of(w.amber, "battery"))
	w.trial(w.pine, passed("ambient-colour"), both...)
	w.trial(w.pine, passed(), w.of(w.amber, "panel"))
	w.move(w.of(w.amber, "battery"), w.pine)
	b, err := study.Load(w.DB, w.study)
	w.must(err)
	r, err := swap.Everything(b, "1.0")
	w.must(err)
	found := map[string]swap.NextSwap{}
	for _, n := range append(r.Next, r.Calibrate...) {
		found[n.Words] = n
	}
	for words, kind := range map[string]string{"Try a third phone's piece: SLATE's battery on the PINE board": "donor",
		"Calibrate the battery that is in PINE now, then run the checks": "calibrate",
		"Exchange only the sensor strip: PINE board with AMBER's piece":  "single"} {
		if n, ok := found[words]; !ok || n.Kind != kind || n.Minutes <= 0 {
			t.Errorf("%s: %+v", words, n)
		}
	}
	if n := w.room(swap.Ask{}).Next; len(n) == 0 || n[0].Kind == "calibrate" {
		t.Errorf("what cannot be taken back comes later: %+v", n)
	}
}
