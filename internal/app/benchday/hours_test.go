package benchday

import (
	"testing"
	"time"

	"waryowl/internal/store"
)

func TestHours(t *testing.T) {
	for text, want := range map[string]struct {
		open, close string
		days        string // Sunday first
		typed       bool
	}{
		"Mo-Fr 08:00-17:00":  {"08:00", "17:00", "0111110", true},
		"tu–sa 7.30 – 16.45": {"07:30", "16:45", "0011111", true},
		"Sa-Mo 10:00-12:00":  {"10:00", "12:00", "1100001", true},
		"09:00-24:00":        {"09:00", "24:00", "1111111", true},
		"":                   {"08:00", "17:00", "1111111", false},
		"by arrangement":     {"08:00", "17:00", "1111111", false},
		"17:00-08:00":        {"08:00", "17:00", "1111111", false},
		"Mo-Fr 25:00-26:00":  {"08:00", "17:00", "0111110", false},
	} {
		h := readHours(text)
		days := ""
		for d := range 7 {
			days += map[bool]string{true: "1", false: "0"}[h.openOn(time.Date(2026, 11, 22+d, 0, 0, 0, 0, time.UTC))] // a Sunday on
		}
		if h.clock(0) != want.open || h.clock(h.close-h.open) != want.close || days != want.days || h.typed != want.typed {
			t.Errorf("%q: %s to %s on %s, typed %v", text, h.clock(0), h.clock(h.close-h.open), days, h.typed)
		}
	}
}

// What starts ends what comes before it, whatever the order of the operations; what nobody began stays open.
func TestSettled(t *testing.T) {
	at := 500
	ops := settled([]store.BenchOp{
		{ID: "close", P50: 60, After: []store.BenchAfter{{Op: "open"}}},
		{ID: "open", P50: 100, Started: &at, After: []store.BenchAfter{{Op: "heat"}, {Op: "clean"}}},
		{ID: "heat", P50: 300, After: []store.BenchAfter{{Op: "prepare"}}},
		{ID: "clean", P50: 900},
		{ID: "prepare", P50: 50},
	})
	for id, want := range map[string][2]int{"heat": {200, 500}, "clean": {0, 500}, "prepare": {150, 200}} {
		for _, o := range ops {
			if o.ID == id && (o.Started == nil || o.Ended == nil || *o.Started != want[0] || *o.Ended != want[1]) {
				t.Errorf("%s: %v to %v, want %v", id, o.Started, o.Ended, want)
			}
		}
	}
	if ops[0].Started != nil || ops[1].Ended != nil {
		t.Errorf("what was not told: %+v, %+v", ops[0], ops[1])
	}
}

// A heat is made again only where what must follow it was not started in its time.
func TestCooled(t *testing.T) {
	within, zero, ended := 60, 0, 300
	heat := store.BenchOp{ID: "heat", P50: 300, Machine: "plate", Started: &zero, Ended: &ended}
	open := store.BenchOp{ID: "open", P50: 100, Hands: true, After: []store.BenchAfter{{Op: "heat", Within: &within}}}
	started := open
	started.Started = &ended
	loose := open
	loose.After = []store.BenchAfter{{Op: "heat"}}
	for name, c := range map[string]struct {
		ops  []store.BenchOp
		now  int
		want int
	}{
		"in time":        {[]store.BenchOp{heat, open}, 360, 0},
		"too late":       {[]store.BenchOp{heat, open}, 361, 1},
		"opened already": {[]store.BenchOp{heat, started}, 900, 0},
		"no hurry":       {[]store.BenchOp{heat, loose}, 900, 0},
		"still hot":      {[]store.BenchOp{{ID: "heat", Started: &zero}, open}, 900, 0},
	} {
		ops, again := cooled(c.ops, c.now)
		if len(again) != c.want || len(ops) != 2+c.want {
			t.Errorf("%s: %v, %d operations", name, again, len(ops))
		}
		if c.want == 1 && (ops[2].ID != "heat again" || ops[2].Machine != "plate" || ops[2].Started != nil ||
			ops[1].After[0].Op != "heat again" || *ops[1].After[0].Within != 60) {
			t.Errorf("%s: %+v", name, ops)
		}
		if more, twice := cooled(ops, c.now); len(twice) != 0 || len(more) != len(ops) {
			t.Errorf("%s: a second time %v", name, twice)
		}
	}
}
