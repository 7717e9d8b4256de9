package app_test

import (
	"context"
	"errors"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/strip"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// accept makes lines of the proposals that are ticked beforehand.
func (w *shop) accept(h strip.Heard, stops string) (strip.Entered, error) {
	in := strip.Accepted{Recording: store.NewID(), Began: w.Service.Now().Add(-time.Hour), Stops: stops}
	for _, p := range h.Proposals {
		if p.Ticked {
			in.Lines = append(in.Lines, strip.SaidLine{ID: store.NewID(), UnitID: p.UnitID, Line: p.Enter, Second: p.Start,
				Words: h.Cues[p.Cue].Text})
		}
	}
	return strip.Accept(context.Background(), w.Service, command(), w.study, in)
}

// What is said while working becomes the log: ticked proposals enter as a whole, with their time, and leave as a whole.
func TestARecordingBecomesALog(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	hear := func(text string) strip.Heard {
		h, err := strip.Hear(ctx, w.Service, w.study, strip.Recording{Text: text, UnitID: w.pine})
		w.must(err)
		return h
	}
	const said = "[0:05] Two five-lobe screws out at the bottom.\n[0:20] The rear glass is off.\n[0:41] They say the display is glued.\n" +
		"[1:10] Earpiece out, no wait, loudspeaker out."
	h := hear(said)
	e, err := w.accept(h, "")
	w.must(err)
	got := w.told(w.pine)
	for _, want := range []string{"unfasten 2", "rear glass", "loudspeaker"} {
		if !strings.Contains(got, want) {
			t.Errorf("logged: %s", got)
		}
	}
	if strings.Contains(got, "display") {
		t.Errorf("what others say was logged: %s", got)
	}
	if d := e.Entries[1].HappenedAt.Sub(e.Entries[0].HappenedAt); d != 15*time.Second {
		t.Errorf("the second entry %v after the first", d)
	}
	if d := e.Entries[0].Detail.Said; d == nil || d.Second != 5 || !strings.Contains(d.Words, "five-lobe") {
		t.Errorf("said: %+v", d)
	}
	for _, p := range hear(said).Proposals { // the same recording again: nothing is proposed twice
		if p.Ticked {
			t.Errorf("ticked again: %s", p.Say)
		}
	}
	_, err = strip.TakeBack(ctx, w.Service, command(), w.study, strip.Unsay{Recording: e.Recording})
	w.must(err)
	if got := w.told(w.pine); got != "" {
		t.Errorf("left behind: %s", got)
	}
	if _, err = strip.TakeBack(ctx, w.Service, command(), w.study, strip.Unsay{Recording: e.Recording}); err == nil {
		t.Error("taken back twice")
	}
}

// A stop is asked before anything of the recording is logged, and an error of one line keeps all out.
func TestARecordingAsksItsStops(t *testing.T) {
	w := newShop(t)
	h, err := strip.Hear(context.Background(), w.Service, w.study,
		strip.Recording{Text: "[0:05] rear glass off\n[0:30] display flex unplugged", UnitID: w.pine})
	w.must(err)
	_, err = w.accept(h, "")
	var f *fault.Fault
	if !errors.As(err, &f) || f.Field != "stops" || w.told(w.pine) != "" {
		t.Fatalf("%v; logged: %s", err, w.told(w.pine))
	}
	e, err := w.accept(h, "already done")
	w.must(err)
	if n := len(e.Entries); n != 2 || len(e.Entries[1].Detail.Stops) == 0 {
		t.Errorf("%d entries, stops %v", n, e.Entries)
	}
	bad := strip.Accepted{Recording: store.NewID(), Began: w.Service.Now().Add(-time.Hour), Stops: "already done",
		Lines: []strip.SaidLine{
			{ID: store.NewID(), UnitID: w.amber, Line: "rear glass off"}, {ID: store.NewID(), UnitID: store.NewID(),
				Line: "rear glass off"}}}
	if _, err = strip.Accept(context.Background(), w.Service, command(), w.study, bad); err == nil ||
		w.told(w.amber) != "" {
		t.Errorf("%v; logged: %s", err, w.told(w.amber))
	}
	bad.Lines, bad.Began = bad.Lines[:1], w.Service.Now().Add(time.Hour)
	if _, err = strip.Accept(context.Background(), w.Service, command(), w.study, bad); err == nil ||
		!strings.Contains(err.Error(), "began") {
		t.Errorf("said in the future: %v", err)
	}
}

// Where a phone has several parts of the name, the recording's proposal names them, each with a line that says which.
func TestARecordingAsksWhichPart(t *testing.T) {
	w := newShop(t)
	for _, name := range []string{"upper bracket", "lower bracket"} {
		_, err := strip.AddPart(context.Background(), w.Service, command(), w.model, store.NewID(),
			store.PartFacts{Name: name, Family: "FR"})
		w.must(err)
	}
	h, err := strip.Hear(context.Background(), w.Service, w.study, strip.Recording{Text: "[0:05] bracket off",
		UnitID: w.pine})
	w.must(err)
	if len(h.Proposals) != 1 || h.Proposals[0].Ticked || len(h.Proposals[0].Which) != 2 {
		t.Fatalf("%+v", h.Proposals)
	}
	for _, x := range h.Proposals[0].Which {
		if x.Line != x.Name+" off" {
			t.Errorf("%+v", x)
		}
	}
	in := strip.Accepted{Recording: store.NewID(), Began: w.Service.Now().Add(-time.Hour),
		Lines: []strip.SaidLine{{ID: store.NewID(),
			UnitID: w.pine, Line: "upper bracket off", Second: 5}}}
	_, err = strip.Accept(context.Background(), w.Service, command(), w.study, in)
	w.must(err)
	if got := w.told(w.pine); got != "bracket upper bracket" {
		t.Errorf("logged: %s", got)
	}
}
