package app_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"waryowl/internal/app/strip"
	"waryowl/internal/app/study"
	"waryowl/internal/core/benchline"
	"waryowl/internal/store"
)

// told lists the entries of a phone in a few words.
func (w *shop) told(unit string) string {
	b, err := study.Load(w.DB, w.study)
	w.must(err)
	var out []string
	for _, e := range b.Log {
		if e.UnitID != unit {
			continue
		}
		s := b.Know.StepByID[e.StepID]
		switch e.Kind {
		case "step":
			back := map[bool]string{true: "+"}[e.Back]
			n := ""
			if e.Detail.Count > 0 {
				n = fmt.Sprint(" ", e.Detail.Count)
			}
			out = append(out, back+s.Verb+n+" "+s.What)
		case "check":
			out = append(out, "check "+e.Detail.Check.Mark+" "+e.Detail.Check.Result)
		default:
			out = append(out, e.Kind+" "+e.Note)
		}
	}
	return strings.Join(out, "; ")
}

// A line of several facts is one change: it is taken back whole and comes back whole.
func TestALineOfSeveralFactsIsOneChange(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	for _, name := range []string{"hinge plate", "earpiece", "loudspeaker"} {
		_, err := strip.AddPart(ctx, w.Service, command(), w.model, store.NewID(), store.PartFacts{Name: name, Family: "FR"})
		w.must(err)
	}
	e, err := w.line(w.pine, "plate off, 4 star. earpiece and loudspeaker out")
	w.must(err)
	const whole = "unfasten 4 hinge plate; bracket hinge plate; lift earpiece; lift loudspeaker"
	if got := w.told(w.pine); got != whole {
		t.Fatalf("logged: %s", got)
	}
	steps := len(w.know().Steps)
	gone, err := strip.DeleteLog(ctx, w.Service, command(), e.ID, e.Version)
	w.must(err)
	if got := w.told(w.pine); got != "" || len(w.know().Steps) != steps-4 {
		t.Fatalf("taken back: %q, %d of %d steps", got, len(w.know().Steps), steps)
	}
	_, err = strip.RestoreLog(ctx, w.Service, command(), gone.ID, gone.Version)
	w.must(err)
	if got := w.told(w.pine); got != whole {
		t.Errorf("brought back: %s", got)
	}
	// Left out by a digit, and refused as a whole where one of them cannot be.
	_, err = strip.AddLog(ctx, w.Service, command(), w.study, store.NewID(),
		strip.LogFacts{UnitID: w.amber, Line: "earpiece out, loudspeaker out", Leave: []int{0}})
	w.must(err)
	if got := w.told(w.amber); got != "lift loudspeaker" {
		t.Errorf("left out: %s", got)
	}
}

// A correction takes the place of the entry that it mends; undo brings the earlier one back.
func TestACorrectionMendsTheLastEntry(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	_, err := w.line(w.pine, "3 star rear glass")
	w.must(err)
	e, err := w.line(w.pine, "no, 5")
	w.must(err)
	if got := w.told(w.pine); got != "unfasten 5 rear glass" {
		t.Fatalf("mended: %s", got)
	}
	if s := w.know().StepByID[e.StepID]; s.Count != 5 {
		t.Errorf("the plan says %d screws", s.Count)
	}
	_, err = strip.DeleteLog(ctx, w.Service, command(), e.ID, e.Version)
	w.must(err)
	if got := w.told(w.pine); got != "unfasten 3 rear glass" || w.know().StepByID[e.StepID].Count != 3 {
		t.Errorf("undone: %s", got)
	}
	_, err = w.line(w.pine, "battery out")
	w.must(err)
	x, err := w.line(w.pine, "not out yet, battery")
	w.must(err)
	if got := w.told(w.pine); got != "unfasten 3 rear glass; note taken back: battery out" {
		t.Errorf("withdrawn: %s", got)
	}
	_, err = strip.DeleteLog(ctx, w.Service, command(), x.ID, x.Version)
	w.must(err)
	if got := w.told(w.pine); !strings.HasSuffix(got, "battery") {
		t.Errorf("undone: %s", got)
	}
}

// The workshop's words are read in lines; two words that say the same are refused, as is a drive that is none.
func TestWordsOfTheWorkshop(t *testing.T) {
	w := newShop(t)
	ctx := context.Background()
	teach := func(say, means, kind string) error {
		_, err := strip.TeachWord(ctx, w.Service, command(), store.NewID(), store.WordFacts{Say: say, Means: means, Kind: kind})
		return err
	}
	w.must(teach("wob", "battery", "part"))
	w.must(teach("pn", "five lobe", "drive"))
	if err := teach("WOB", "display assembly", "part"); field(t, err) != "say" {
		t.Errorf("twice: %v", err)
	}
	if err := teach("zz", "ten-lobe", "drive"); field(t, err) != "means" {
		t.Errorf("no drive: %v", err)
	}
	_, err := w.line(w.pine, "2 pn rear glass, wob out")
	w.must(err)
	if got := w.told(w.pine); got != "unfasten 2 rear glass; lift battery" {
		t.Errorf("read: %s", got)
	}
	list, err := strip.ListWords(ctx, w.Service)
	w.must(err)
	if len(list.Words) != 2 || list.Words[0].Means != "five-lobe" {
		t.Errorf("words: %+v", list.Words)
	}
}

// What the page reads as a note, a check or a put-back of what was never logged out is taken as that.
func TestLinesThatMoveNothing(t *testing.T) {
	w := newShop(t)
	for _, line := range []string{"sand inside, was that us?", "touch ok", "+ l rear glass", "m battery", "+ u midplate"} {
		_, err := w.line(w.pine, line)
		w.must(err)
	}
	want := "note sand inside, was that us?; check touch pass; note put back, its removal was not logged: + l rear glass; " +
		"note m battery; note put back, its removal was not logged: + u midplate"
	if got := w.told(w.pine); got != want {
		t.Errorf("logged: %s", got)
	}
	if n := len(w.know().Parts); n != 5 {
		t.Errorf("%d parts", n)
	}
}

// Every line that the reader takes is taken by the server, and comes back as it was echoed.
func TestTheServerTakesWhatTheReaderTakes(t *testing.T) {
	w := newShop(t)
	lines := []string{"2 five-lobe bottom", "batt out. 2980mAh", "h plate 80C 120s front", "again 6 min", "display assembly up",
		"glued, gave up", "4 tri shield plate", "shield plate off", "3 posts rear glass", "tab 2 snapped", "1 screw over",
		"lost a cross screw", "front cam lead off", "all leads off", "tape over the battery off", "new seal laid"}
	for _, line := range lines {
		b, err := study.Load(w.DB, w.study)
		w.must(err)
		c, err := strip.Context(b, w.DB, b.UnitByID[w.pine])
		w.must(err)
		a := readLine(c, line)
		f := strip.LogFacts{UnitID: w.pine, Line: line}
		for _, x := range a.Facts {
			f.Echoed = append(f.Echoed, x.Echo)
		}
		if len(a.Choices) > 0 {
			f.Choice, f.Echoed = a.Choices[0].Text, nil
			for _, x := range a.Choices[0].Facts {
				f.Echoed = append(f.Echoed, x.Echo)
			}
		}
		if _, err := strip.AddLog(context.Background(), w.Service, command(), w.study, store.NewID(), f); err != nil {
			t.Errorf("%q, echoed %v: %v", line, f.Echoed, err)
		}
	}
}

func readLine(c benchline.Context, line string) benchline.Answer { return benchline.Read(c, nil, line) }
