package swapstudy

import (
	"slices"
	"testing"

	"waryowl/internal/core/ledger"
)

func (o Output) next(act string) *Next {
	k := slices.IndexFunc(o.Next, func(n Next) bool { return n.Act == act })
	if k < 0 {
		return nil
	}
	return &o.Next[k]
}

func act(kind, board string, slots ...string) Event {
	return Event{Act: &Act{Kind: kind, Board: board, Slots: slots}}
}

func solve(t *testing.T, in Input) Output {
	t.Helper()
	out, err := Solve(in)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// TestTraps are experiments at which a hasty reader signs a wrong verdict; what a careful one signs is common practice, no
// source.
func TestTraps(t *testing.T) {
	fit := move("battery", "AMBER", "PINE")
	back := []Event{move("battery", "PINE", "PINE"), move("battery", "AMBER", "AMBER")}
	for _, c := range []struct {
		name        string
		events      []Event
		slot, state string
		check       string
		verdicts    []string // any of these
		until       string
		warning     string
		open        bool // may the eye be open
		least, most float64
		suspect     string
		missing     []ledger.Condition
	}{
		{name: "a touch that is lost in half of its readings is no working part",
			events: []Event{fit, trial("t1", "PINE", "health"), trial("t2", "PINE"), trial("t3", "PINE", "health"),
				trial("t4", "PINE"), trial("t5", "PINE", "health"), trial("t6", "PINE")},
			slot: "battery", state: "stranger", check: "health", verdicts: []string{"intermittent"},
			warning: "intermittent", least: 0.5, most: 1},
		{name: "one loss in four is settled by nothing",
			events: []Event{fit, trial("t1", "PINE"), trial("t2", "PINE", "health"), trial("t3", "PINE"), trial("t4", "PINE")},
			slot:   "battery", state: "stranger", check: "health", verdicts: []string{"not settled", "intermittent"},
			warning: "intermittent", most: 0.9},
		{name: "a display that was hurt on the way makes no battery a culprit",
			events: append([]Event{fit, trial("t1", "PINE", "face"), trial("t2", "PINE", "face")},
				append(back, trial("t3", "PINE", "face"), fit, trial("t4", "PINE", "face"))...),
			slot: "battery", state: "stranger", check: "face", verdicts: []string{"not settled"}, most: 0.89,
			suspect: "piece:PINE-panel:bad@t1"},
		{name: "a loss that an act ended, on one board",
			events: []Event{fit, trial("t1", "PINE", "health"), trial("t2", "PINE", "health"), trial("t3", "PINE", "health"),
				act("flash", "PINE"), trial("t4", "PINE"), trial("t5", "PINE"), trial("t6", "PINE")},
			slot: "battery", state: "stranger", check: "health", verdicts: []string{"not settled"}, most: 1},
		{name: "and on both",
			events: []Event{fit, move("battery", "PINE", "AMBER"), trial("t1", "PINE", "health"),
				trial("t2", "AMBER", "health"), trial("t3", "PINE", "health"), trial("t4", "AMBER", "health"), act("reset", "PINE"),
				act("reset", "AMBER"), trial("t5", "PINE"), trial("t6", "AMBER"), trial("t7", "PINE"), trial("t8", "AMBER")},
			slot: "battery", state: "stranger", check: "health", verdicts: []string{"loses"}, until: "reset", most: 1},
		{name: "a control that changed more than the suspect",
			events: []Event{move("coil", "AMBER", "PINE"), trial("t1", "PINE"), trial("t2", "PINE"), fit,
				trial("t3", "PINE", "health"), trial("t4", "PINE", "health"), move("battery", "PINE", "PINE"),
				move("battery", "AMBER", "AMBER"), move("coil", "PINE", "PINE"), trial("t5", "PINE"), trial("t6", "AMBER")},
			slot: "battery", state: "stranger", check: "health", verdicts: []string{"loses"}, least: 0.9, most: 1,
			missing: []ledger.Condition{ledger.NeedControl}},
		{name: "a loss in company that nothing settled explains",
			events: []Event{fit, move("coil", "AMBER", "PINE"), trial("t1", "PINE", "health"), move("coil", "PINE", "PINE"),
				trial("t2", "PINE")},
			slot: "battery", state: "stranger", check: "health", verdicts: []string{"not settled"}, most: 0.9},
		{name: "damage that spoils another check",
			events: []Event{{Act: &Act{Kind: "damage", Board: "AMBER", Slots: []string{"battery"}, What: "dented",
				Checks: []string{"health"}}}, fit, trial("t1", "PINE", "health"), trial("t2", "PINE", "health")},
			slot: "battery", state: "stranger", check: "face", verdicts: []string{"works"}, most: 0.1},
		{name: "a scratch",
			events: []Event{{Act: &Act{Kind: "damage", Board: "AMBER", Slots: []string{"battery"},
				What: "cosmetic scratch"}}, fit, trial("t1", "PINE", "health"), trial("t2", "PINE", "health")},
			slot: "battery", state: "stranger", check: "health", verdicts: []string{"loses", "not settled"}, least: 0.7, most: 1},
	} {
		out := solve(t, study(c.events...))
		v := out.verdict(c.slot, c.state, c.check)
		if !slices.Contains(c.verdicts, v.Verdict) || v.Until != c.until || v.Eye == "open" && !c.open {
			t.Errorf("%s: %+v", c.name, v)
		}
		if v.P == nil || *v.P < c.least || *v.P > c.most {
			t.Errorf("%s: p %v of %v–%v", c.name, v.P, c.least, c.most)
		}
		for _, m := range c.missing {
			if !slices.Contains(v.Missing, m) {
				t.Errorf("%s: %s is not missing: %v", c.name, m, v.Missing)
			}
		}
		if c.warning != "" && !slices.Contains(out.Warnings, c.warning) {
			t.Errorf("%s: warnings %v", c.name, out.Warnings)
		}
		if _, there := out.Checks[c.check].Marginal[c.suspect]; c.suspect != "" && !there {
			t.Errorf("%s: %s is no suspect of %v", c.name, c.suspect, out.Checks[c.check].Marginal)
		}
	}
}

// TestReadingsOfOneTrialThatWaver: the last reading counts, but a part that was lost and back and lost and back is no
// working part.
func TestReadingsOfOneTrialThatWaver(t *testing.T) {
	waver := trial("t1", "PINE", "health")
	for i, r := range []string{"pass", "lost", "pass"} {
		waver.Trial.Later = append(waver.Trial.Later, Later{Minutes: float64(5 * i), Results: map[string]string{"health": r}})
	}
	settled := trial("t1", "PINE", "health")
	settled.Trial.Later = []Later{{Minutes: 60, After: []string{"settling"}, Results: map[string]string{"health": "pass"}}}
	for want, e := range map[string]Event{"intermittent": waver, "works": settled} {
		out := solve(t, study(move("battery", "AMBER", "PINE"), e))
		if v := out.verdict("battery", "stranger", "health"); v.Verdict != want {
			t.Errorf("%s: %+v", want, v)
		}
		if slices.Contains(out.Trials[0].Warnings, "intermittent") != (want == "intermittent") {
			t.Errorf("%s: warnings %v", want, out.Trials[0].Warnings)
		}
	}
}

// TestARepeatedDamageStops goes by the kind of damage, not by its wording, until the way of working is changed.
func TestARepeatedDamageStops(t *testing.T) {
	hurt := func(what string) Event {
		return Event{Act: &Act{Kind: "damage", Board: "AMBER", Slots: []string{"coil"}, What: what}}
	}
	for _, c := range []struct {
		events []Event
		halt   bool
	}{
		{[]Event{hurt("flex torn"), hurt("glass cracked")}, false},
		{[]Event{hurt("flex torn"), hurt("cable ripped")}, true},
		{[]Event{hurt("flex torn"), hurt("cable ripped"), act("method changed", "AMBER")}, false},
	} {
		if out := solve(t, study(c.events...)); slices.Contains(out.Warnings, "halt") != c.halt {
			t.Errorf("%v: %v", c.events[1].Act.What, out.Warnings)
		}
	}
}

// TestTheNextActIsNotOnlyASwap: each study has an act that a careful person would do next.
func TestTheNextActIsNotOnlyASwap(t *testing.T) {
	fit := move("battery", "AMBER", "PINE")
	sticky := study(fit, trial("t1", "PINE", "health"), move("battery", "PINE", "PINE"), move("battery", "AMBER", "AMBER"),
		trial("t2", "PINE", "health"))
	sticky.Ask.Focus = []string{"health"}
	out := solve(t, sticky)
	if len(out.Next) == 0 || out.next("restore") == nil {
		t.Fatalf("a board that keeps a loss is restored: %+v", out.Next)
	}
	for _, n := range out.Next {
		if n.Act == "swap" && n.Board == "PINE" {
			t.Errorf("a swap whose reading would be thrown away: %+v", n)
		}
	}
	sticky.Events = append(sticky.Events, act("reset", "PINE")) // done: now a control shows whether it helped
	if out = solve(t, sticky); out.next("restore") != nil || out.next("control") == nil ||
		!slices.ContainsFunc(out.Next, func(n Next) bool { return n.Act == "control" && n.Board == "PINE" }) {
		t.Errorf("after the reset: %+v", out.Next)
	}
	dark := trial("t1", "PINE", "boot", "face", "health")
	dark.Trial.DarkScreen, dark.Trial.DeadGate = true, []string{"charger"}
	out = solve(t, study(move("panel", "AMBER", "PINE"), dark))
	if out.Next[0].Act != "gate" || out.Next[0].Why != "some minutes waited" {
		t.Errorf("a dark board goes through the gate: %+v", out.Next[0])
	}
	one := study()
	one.Units = one.Units[:1]
	delete(one.Baselines, "AMBER")
	if out = solve(t, one); out.next("leave off") == nil || out.next("swap") != nil {
		t.Errorf("one phone: %+v", out.Next)
	}
	table := study(fit, trial("t1", "PINE", "health"), move("coil", "AMBER", "PINE"), trial("t2", "PINE", "health"))
	table.Ask = Ask{Focus: []string{"health"}, Factors: &Factors{Check: "health", Slots: []string{"battery", "coil"}}}
	out = solve(t, table)
	if n := out.next("factor cell"); n == nil || !slices.Equal(n.Slots, []string{"coil"}) {
		t.Errorf("the cell that is missing: %+v", out.Next)
	}
	// Once the suspect is known, what is missing for a full eye comes next: the original put back, and the home check.
	known := study(fit, trial("t1", "PINE", "health"), act("reseat", "PINE", "battery"), trial("t2", "PINE", "health"))
	known.Ask.Focus = []string{"health"}
	out = solve(t, known)
	if n := out.next("control"); n == nil {
		t.Errorf("the control is missing: %+v", out.Next)
	}
	repeated := study(fit, trial("t1", "PINE"), trial("t2", "PINE", "health"))
	repeated.Ask.Focus = []string{"health"}
	if out = solve(t, repeated); out.next("repeat") == nil && out.next("reseat") == nil {
		t.Errorf("what came once is repeated: %+v", out.Next)
	}
	if v := out.verdict("battery", "stranger", "health"); v.Verdict == ledger.Works {
		t.Errorf("lost once: %+v", v)
	}
}
