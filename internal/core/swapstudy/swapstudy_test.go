package swapstudy

import (
	"errors"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/core/fault"
)

var model = Model{Name: "drift-4", Slots: []Slot{{Name: "panel", Kind: "SC", Mate: "sensor strip",
	Inside: "display assembly"},
	{Name: "sensor strip", Kind: "SE", Mate: "panel", Inside: "display assembly"}, {Name: "battery",
		Kind: "PW"}, {Name: "coil", Kind: "PW"}}}

func study(events ...Event) Input {
	pass := map[string]string{"face": "pass", "health": "pass", "boot": "pass"}
	return Input{Model: model, Units: []Unit{{Name: "PINE", Build: "15.0"}, {Name: "AMBER", Build: "15.0"}},
		Checks:    []Check{{"face", "SE"}, {"health", "PW"}, {"boot", "BD"}},
		Baselines: map[string]map[string]string{"PINE": pass, "AMBER": pass}, Events: events}
}

func move(slot, from, to string) Event { return Event{Move: &Move{slot, from, to}} }

func trial(id, board string, lost ...string) Event {
	t := Trial{ID: id, Board: board, Results: map[string]string{"face": "pass", "health": "pass", "boot": "pass"}}
	for _, c := range lost {
		t.Results[c] = "lost"
	}
	return Event{Trial: &t}
}

func (o Output) verdict(slot, state, check string) Verdict {
	for _, v := range o.Verdicts {
		if v.Slot == slot && v.State == state && v.Check == check {
			return v
		}
	}
	return Verdict{Verdict: "untested"}
}

// TestStatesAreDerived: an assembly moves its leaves, boards move with their identity, a calibration adopts, and the
// original is a stranger to it afterwards (the ledger's own tests hold the rules; here they come out of a document).
func TestStatesAreDerived(t *testing.T) {
	out, err := Solve(study(
		move("display assembly", "AMBER", "PINE"), trial("t1", "PINE", "face"),
		move("display assembly", "PINE", "PINE"), move("display assembly", "AMBER", "AMBER"), trial("t2", "PINE"),
		move("main board", "PINE", "AMBER"), move("main board", "AMBER", "PINE"), trial("t3", "PINE", "face", "health"),
		move("main board", "PINE", "PINE"), move("main board", "AMBER", "AMBER"),
		move("battery", "copy acme-7#2", "AMBER"), trial("t4", "AMBER", "health"),
		move("battery", "PINE", "AMBER"), Event{Act: &Act{Kind: "calibrate", Board: "AMBER", Accepted: true,
			Slots: []string{"battery"}}},
		trial("t5", "AMBER"), move("battery", "AMBER", "AMBER"), trial("t6", "AMBER", "health"),
	))
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range []string{"panel stranger, sensor strip stranger", "",
		"battery stranger, coil stranger, panel stranger, sensor strip stranger",
		"battery copy@acme-7", "battery adopted", "battery stranger"} {
		var got []string
		for slot, st := range out.Trials[i].States {
			got = append(got, slot+" "+st)
		}
		if slices.Sort(got); strings.Join(got, ", ") != want {
			t.Errorf("%s: %v, want %s", out.Trials[i].ID, got, want)
		}
	}
	if v := out.verdict("battery", "adopted", "boot"); v.Verdict != "works once calibrated" {
		t.Errorf("adopted: %+v", v)
	}
	if !slices.Contains(out.Warnings, "last control") {
		t.Errorf("warnings %v", out.Warnings)
	}
}

// TestAProvenLoss: isolated, controlled, seen at home and repeated on both boards; nothing else is blamed, and what was
// in no lost trial is no suspect.
func TestAProvenLoss(t *testing.T) {
	in := study(move("battery", "AMBER", "PINE"), move("battery", "PINE", "AMBER"), trial("t1", "PINE", "health"),
		trial("t2", "AMBER", "health"),
		move("battery", "PINE", "PINE"), move("battery", "AMBER", "AMBER"), trial("t3", "PINE"), trial("t4", "AMBER"))
	in.Ask.Factors = &Factors{Check: "health", Slots: []string{"battery", "panel"}}
	out, err := Solve(in)
	if err != nil {
		t.Fatal(err)
	}
	if v := out.verdict("battery", "stranger", "health"); v.Verdict != "loses" || v.Eye != "open" ||
		len(v.Missing) != 0 {
		t.Errorf("health: %+v", v)
	}
	if v := out.verdict("battery", "stranger", "face"); v.Verdict != "works" {
		t.Errorf("face: %+v", v)
	}
	if n := len(out.Checks["face"].Marginal); n != 0 {
		t.Errorf("suspects of a check that was never lost: %v", out.Checks["face"].Marginal)
	}
	if len(out.Factors) != 4 || out.Factors[1].Lost != 2 || out.Factors[0].Passed != 4 ||
		out.Factors[1].Setting["battery"] != "unmatched" {
		t.Errorf("factors: %+v", out.Factors)
	}
}

// TestGuards: a dark screen waits for the gate, a damaged piece proves nothing, a loss that stays with every piece its
// own is no swap's.
func TestGuards(t *testing.T) {
	dark := trial("t1", "PINE", "boot", "face")
	dark.Trial.DarkScreen = true
	out, err := Solve(study(move("panel", "AMBER", "PINE"), dark, move("panel", "PINE", "PINE"),
		trial("t2", "PINE", "face"), trial("t3", "PINE"),
		Event{Act: &Act{Kind: "damage", Board: "AMBER", Slots: []string{"coil"}, What: "torn flex"}}, trial("t4",
			"AMBER")))
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range []string{"dead gate", "not at baseline", "", "spoiled"} {
		if got := string(out.Trials[i].Skips["face"]); got != want {
			t.Errorf("%s: %q, want %q", out.Trials[i].ID, got, want)
		}
	}
	if len(out.Next) == 0 || out.Next[0].Bits <= 0 {
		t.Errorf("next: %+v", out.Next)
	}
}

func TestWhatCannotBeIsNamed(t *testing.T) {
	for want, e := range map[string]Event{
		"events[0].move.slot":   move("antenna", "PINE", "AMBER"),
		"events[0].move.from":   move("battery", "OAK", "AMBER"),
		"events[0].move.to":     move("battery", "PINE", "OAK"),
		"events[0].trial.board": trial("t1", "OAK"),
		"events[0].trial.results": {Trial: &Trial{ID: "t1", Board: "PINE",
			Results: map[string]string{"smell": "pass"}}},
		"events[0].trial.results.face": {Trial: &Trial{ID: "t1", Board: "PINE",
			Results: map[string]string{"face": "maybe"}}},
		"events[0].act.kind": {Act: &Act{Kind: "kick", Board: "PINE"}},
		"events[0]":          {},
	} {
		_, err := Solve(study(e))
		var f *fault.Fault
		if !errors.As(err, &f) || f.Field != want {
			t.Errorf("%s: %v", want, err)
		}
	}
	if _, err := Solve(study(move("main board", "PINE", "mat"), trial("t1", "PINE"))); err == nil {
		t.Error("a board that sits nowhere was tried")
	}
}
