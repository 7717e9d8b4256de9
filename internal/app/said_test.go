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

// TestARecordingReachesOtherRooms: a swap test that is told becomes a trial with the checks said after it, a part
// that the phone has comes on record, several recordings follow each other, and all of it leaves with the recording.
func TestARecordingReachesOtherRooms(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	for _, name := range []string{"display assembly", "battery"} {
		p, err := store.Get[store.Part](w.DB, w.part[name])
		w.must(err)
		f := p.PartFacts
		f.Slot = true
		_, err = strip.ChangePart(ctx, w.Service, command(), p.ID, p.Version, f)
		w.must(err)
	}
	h, err := strip.Hear(ctx, w.Service, w.study, strip.Recording{UnitID: w.pine,
		Text: "[0:05] swapped the displays\n[0:30] touch is " +
			"lost\n[0:40] charging works\n---\nWEBVTT\n\n00:00:02.000 --> 00:00:04.000\nit has a graphite sheet\n"})
	w.must(err)
	if last := h.Cues[len(h.Cues)-1]; last.Start < 40 {
		t.Errorf("the second recording begins at %v", last.Start)
	}
	in := strip.Accepted{Recording: store.NewID(), Began: w.Service.Now().Add(-time.Hour)}
	kinds := ""
	for _, p := range h.Proposals {
		l := strip.SaidLine{ID: store.NewID(), UnitID: w.pine, Second: p.Start, Words: h.Cues[p.Cue].Text}
		switch {
		case p.Trial != nil:
			l.Trial = p.Trial
			kinds += "trial "
		case p.New != nil:
			l.Part = p.New
			kinds += "part "
		default:
			l.Line = p.Enter
			kinds += p.Kind + " "
		}
		in.Lines = append(in.Lines, l)
	}
	if kinds != "trial check check part " {
		t.Fatalf("heard: %s%+v", kinds, h.Proposals)
	}
	_, err = strip.Accept(ctx, w.Service, command(), w.study, in)
	w.must(err)
	trials := func() []store.Trial {
		list, err := store.List[store.Trial](w.DB, "seq", "study_id = ?", w.study)
		w.must(err)
		return list
	}
	list := trials()
	if len(list) != 1 || list[0].BoardUnitID != w.pine || list[0].Pieces[0].PartID != w.part["display assembly"] ||
		list[0].Pieces[0].UnitID == w.pine || list[0].Results["touch"] != "lost" || list[0].Results["charging"] != "pass" {
		t.Errorf("trials: %+v", list)
	}
	if p := w.know().PartNamed("graphite film"); p == nil {
		t.Error("the part is not on record")
	}
	again, err := strip.Hear(ctx, w.Service, w.study, strip.Recording{UnitID: w.pine,
		Text: "[0:05] swapped the displays\n[0:30] touch " +
			"is lost\n[0:35] it has a graphite sheet"})
	w.must(err)
	for _, p := range again.Proposals {
		if p.Logged == "" {
			t.Errorf("offered again: %s", p.Say)
		}
	}
	film, err := strip.Film(ctx, w.Service, w.study, in.Recording, true)
	w.must(err)
	if !strings.HasPrefix(film, "WEBVTT\n\n00:00:05.000 --> 00:00:30.000\nSwap test: the display assembly of AMBER\n") ||
		strings.Count(film, "Checks") != 2 {
		t.Errorf("chapters: %s", film)
	}
	film, err = strip.Film(ctx, w.Service, w.study, in.Recording, false)
	w.must(err)
	if !strings.Contains(film, "touch is lost") {
		t.Errorf("captions: %s", film)
	}
	_, err = strip.TakeBack(ctx, w.Service, command(), w.study, strip.Unsay{Recording: in.Recording})
	w.must(err)
	if p := w.know().PartNamed("graphite film"); p != nil || len(trials()) != 0 || w.told(w.pine) != "" {
		t.Errorf("left behind: part %v, %d trials, log %q", p, len(trials()), w.told(w.pine))
	}
	if _, err := strip.Film(ctx, w.Service, w.study, in.Recording, true); err == nil {
		t.Error("a film of nothing")
	}
	in.Recording = store.NewID()
	in.Lines[0].Line = "display off"
	if _, err := strip.Accept(ctx, w.Service, command(), w.study, in); err == nil ||
		!strings.Contains(err.Error(), "one of these") {
		t.Errorf("two things in one line: %v", err)
	}
}

// TestTheClockOfARecording: what was typed live says when it happened, so that the recording can be laid over it.
func TestTheClockOfARecording(t *testing.T) {
	w := newShop(t)
	e := w.typed(w.pine, "l display")
	h, err := strip.Hear(context.Background(), w.Service, w.study, strip.Recording{UnitID: w.pine,
		Text: "[0:30] the display is off"})
	w.must(err)
	if p := h.Proposals[0]; p.Logged == "" || p.LoggedAt == nil || !p.LoggedAt.Equal(e.HappenedAt) {
		t.Errorf("%+v, logged at %v", p, e.HappenedAt)
	}
}
