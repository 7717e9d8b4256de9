package app_test

import (
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/benchday"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/app/parts"
	"waryowl/internal/app/strip"
	"waryowl/internal/core/day"
	"waryowl/internal/store"
)

// bench is a workshop of one person, one plate and one clamp, whose clock the test sets.
type bench struct {
	*shop
	at time.Time
}

func newBench(t *testing.T) *bench {
	b := &bench{shop: newShop(t), at: time.Date(2026, 11, 26, 8, 0, 0, 0, time.UTC)}
	b.Service.Now = func() time.Time { return b.at }
	_, err := parts.Set(
		context.Background(),
		b.Service,
		command(),
		0,
		store.WorkshopFacts{Currency: "EUR", ChargeLimit: 25,
			OpeningHours: "Mo-Fr 08:00-17:00", People: []store.BenchPerson{{Name: "ann", Breaks: []string{"12:00-12:30"}}},
			Machines: []store.BenchMachine{{Name: "plate", Units: 1}, {Name: "clamp", Units: 1}}},
	)
	b.must(err)
	return b
}

func (b *bench) job(title, text string, change func(*store.BenchJobFacts)) store.BenchJob {
	b.t.Helper()
	f := store.BenchJobFacts{Day: b.at.Truncate(24 * time.Hour), Title: title}
	if change != nil {
		change(&f)
	}
	j, err := benchday.AddJob(context.Background(), b.Service, command(), store.NewID(), f, text)
	b.must(err)
	return j
}

func (b *bench) show(keep ...string) benchday.Room {
	b.t.Helper()
	v, err := benchday.Show(context.Background(), b.Service, benchday.Ask{Date: "2026-11-26", Keep: keep})
	b.must(err)
	return v
}

func (b *bench) tell(j *store.BenchJob, op, what string, at int) error {
	row, err := benchday.Tell(
		context.Background(),
		b.Service,
		command(),
		j.ID,
		benchday.Step{Version: j.Version, Op: op, What: what, At: at},
	)
	if err == nil {
		*j = row
	}
	return err
}

const soak = "heat 5-8 plate; open 5 hands within 60; cure 15-20 clamp; check 5 hands"

// TestBenchDay plans two phones, follows them, lets a heat run out, and takes a step back.
func TestBenchDay(t *testing.T) {
	b := newBench(t)
	amber := b.job("AMBER", soak, func(f *store.BenchJobFacts) { f.Due = 2 * 3600 })
	pine := b.job("PINE", soak, func(f *store.BenchJobFacts) { f.Due = 3600; f.Weight = 2 })
	v := b.show()
	// One clamp of 15 min for both: the last is done after 10 + 15 + 15 + 5 min.
	if v.Found.Makespan != 45*60 || !strings.Contains(words(v.Answer), "closed by 08:45") || v.Now != 0 ||
		len(v.Acts) != 8 {
		t.Errorf("%s, last end %d, now %d, %d acts", words(v.Answer), v.Found.Makespan, v.Now, len(v.Acts))
	}
	if len(v.Next) == 0 || v.Next[0].Op != "heat" || !v.Next[0].Heats ||
		!strings.Contains(strings.Join(v.Said, " "), "plate collides") {
		t.Errorf("next %+v, said %v", v.Next, v.Said)
	}
	again, err := day.Solve(v.Document)
	b.must(err)
	if again.Value != v.Found.Value {
		t.Errorf("compute day answers %+v, the room %+v", again.Value, v.Found.Value)
	}
	// The heat is made and nothing follows: after its minute it must be made again.
	b.must(b.tell(&pine, "heat", "start", 0))
	b.must(b.tell(&pine, "heat", "end", 300))
	b.at = b.at.Add(6*time.Minute + 30*time.Second)
	v = b.show()
	if !strings.Contains(strings.Join(v.Said, " "), "PINE: the time after heat has run out") ||
		len(v.Jobs[1].Ops) != 5 || v.Jobs[1].State != "on the bench" {
		t.Errorf("a heat that ran out: %v, %+v", v.Said, v.Jobs[1].Ops)
	}
	b.must(b.tell(&pine, "heat again", "start", 400))
	if len(pine.Ops) != 5 {
		t.Errorf("the second heat is not kept: %+v", pine.Ops)
	}
	// What starts ends what comes before it; what something was built on cannot be taken back.
	b.must(b.tell(&pine, "open", "start", 700))
	if err := b.tell(&pine, "heat again", "undo", 700); field(t, err) != "op" {
		t.Errorf("taken back under what came after: %v", err)
	}
	if err := b.tell(&pine, "open", "end", 600); field(t, err) != "at" {
		t.Errorf("ended before it started: %v", err)
	}
	if err := b.tell(&pine, "song", "start", 0); field(t, err) != "op" {
		t.Errorf("an operation that is none: %v", err)
	}
	b.at = b.at.Add(6 * time.Minute) // 08:12:30
	v = b.show()
	for _, a := range v.Acts {
		if a.Title == "PINE" && a.Op == "open" && (a.State != "running" || a.Over != 0 || a.End != 1000) {
			t.Errorf("running: %+v", a)
		}
	}
	_ = amber
}

// TestBenchDayFollowsTheLog: a strip log starts and ends what its steps are, and the plan keeps its order on a tie.
func TestBenchDayFollowsTheLog(t *testing.T) {
	b := newBench(t)
	ctx := context.Background()
	k, err := model.Load(b.DB, b.model)
	b.must(err)
	said := ""
	for _, part := range []string{"battery", "wireless coil"} {
		ops, err := benchday.OpsOf(k, b.part[part], []store.BenchMachine{{Name: "plate", Units: 1},
			{Name: "hot air", Units: 1, Soft: 25}})
		b.must(err)
		for _, o := range ops {
			for _, a := range o.After {
				if a.Within != nil {
					said += fmt.Sprintf("%s within %d; ", o.ID, *a.Within)
				}
			}
			said += fmt.Sprintf("%s %d %v %s; ", o.ID, o.P50, o.Hands, o.Machine)
		}
	}
	// Front by the plate: 20 s and 120 s of soak without hands; back by hot air, which a hand holds.
	for _, want := range []string{"heat 140 false plate", "heat 30 true ;", "open 33 true", "open within 60",
		"within 25", "fit and close", "check"} {
		if !strings.Contains(said, want) {
			t.Errorf("no %q in %s", want, said)
		}
	}
	b.job(
		"AMBER",
		"",
		func(f *store.BenchJobFacts) { f.ModelID, f.PartID, f.UnitID = b.model, b.part["battery"], b.amber },
	)
	b.at = b.at.Add(4 * time.Minute)
	b.log(b.amber, "front heat", func(f *strip.LogFacts) { f.Outcome = "done" })
	v := b.show()
	if o := v.Jobs[0].Ops[0]; o.ID != "heat" || o.Ended == nil || *o.Ended != 240 || v.Jobs[0].State != "on the bench" {
		t.Errorf("after the log of the heat: %+v", o)
	}
	// Promises: a day that is full by chance is not promised.
	full, err := benchday.ReadOps("work 500-540 hands", nil)
	b.must(err)
	on, p, found, err := benchday.Promise(ctx, b.DB, full, time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC), 7)
	b.must(err)
	if !found || on.Format(time.DateOnly) != "2026-11-27" || p < 0.9 {
		t.Errorf("500 min do not fit into what is left of Thursday, Friday has 540: %v, %.2f, %v", on, p, found)
	}
	if _, _, found, err = benchday.Promise(ctx, b.DB, []store.BenchOp{{ID: "x", P50: 40000, P90: 50000, Hands: true}},
		b.at, 7); err != nil ||
		found {
		t.Errorf("eleven hours in a day of nine: %v %v", found, err)
	}
	text, err := benchday.Calendar(ctx, b.Service, benchday.Ask{Date: "2026-11-26"},
		[]benchday.Due{{Text: "T3 again", On: b.at}})
	b.must(err)
	cal := string(text)
	// RFC 5545: lines end with CRLF and hold at most 75 octets; what begins ends.
	for line := range strings.SplitSeq(strings.TrimSuffix(cal, "\r\n"), "\r\n") {
		if len(line) > 75 || strings.Contains(line, "\n") {
			t.Errorf("a line of %d octets: %q", len(line), line)
		}
	}
	if strings.Count(cal, "BEGIN:VEVENT") != strings.Count(cal, "END:VEVENT") ||
		!strings.Contains(cal, "SUMMARY:AMBER: fit and close\\, ann") || !strings.Contains(cal, "SUMMARY:T3 again") {
		t.Errorf("calendar: %s", cal)
	}
}

// TestOperationsAsTyped reads lines and refuses what they cannot mean, with the field.
func TestOperationsAsTyped(t *testing.T) {
	b := newBench(t)
	machines := []store.BenchMachine{{Name: "plate", Units: 1}}
	ops, err := benchday.ReadOps("heat 5-8 plate\nopen 10 min hands within 45 s; rest 2.5", machines)
	b.must(err)
	if len(ops) != 3 || ops[0].P50 != 300 || ops[0].P90 != 480 || ops[0].Machine != "plate" || !ops[1].Hands ||
		*ops[1].After[0].Within != 45 || ops[2].P50 != 150 || ops[2].Hands {
		t.Errorf("%+v", ops)
	}
	// Phones of two models share a plate with trays: the second waits for the change; of one model it does not.
	_, err = parts.Set(context.Background(), b.Service, command(), 1, store.WorkshopFacts{Currency: "EUR",
		OpeningHours: "Mo-Fr 08:00-17:00", People: []store.BenchPerson{{Name: "ann"}},
		Machines: []store.BenchMachine{{Name: "plate", Units: 1, TrayChange: 300}}})
	b.must(err)
	for _, tray := range []string{"drift", "drift", "atoll"} {
		b.job("on "+tray, "heat 5-5 plate tray "+tray, nil)
	}
	v, last := b.show(), 0
	for _, a := range v.Acts {
		last = max(last, a.End)
	}
	// Heats of 5 min, and a change to the first tray and one to the other.
	if last != 3*300+2*300 {
		t.Errorf("three heats on two trays end after %d s: %+v", last, v.Acts)
	}
	for _, text := range []string{"heat", "heat plate", "open 5 feet", "open 5 within"} {
		if _, err := benchday.ReadOps(text, machines); field(t, err) != "ops" {
			t.Errorf("%q: %v", text, err)
		}
	}
	add := func(change func(*store.BenchJobFacts), text string) error {
		f := store.BenchJobFacts{Day: b.at, Title: "X"}
		change(&f)
		_, err := benchday.AddJob(context.Background(), b.Service, command(), store.NewID(), f, text)
		return err
	}
	for name, c := range map[string]struct {
		err   error
		field string
	}{
		"nothing to do": {add(func(*store.BenchJobFacts) {}, ""), "ops"},
		"no such phone": {add(func(f *store.BenchJobFacts) { f.UnitID = store.NewID() }, soak), "unit_id"},
		"no such part":  {add(func(f *store.BenchJobFacts) { f.ModelID, f.PartID = b.model, store.NewID() }, ""), "part_id"},
		"a circle": {add(func(f *store.BenchJobFacts) {
			f.Ops = []store.BenchOp{{ID: "a", P50: 1, P90: 1, After: []store.BenchAfter{{Op: "a"}}}}
		}, ""), "jobs[0].ops[0].after"},
	} {
		if got := field(t, c.err); !strings.HasPrefix(got, strings.SplitN(c.field, "[", 2)[0]) {
			t.Errorf("%s: %v", name, c.err)
		}
	}
	if _, err := benchday.Show(context.Background(), b.Service, benchday.Ask{Date: "yesterday"}); field(
		t,
		err,
	) != "date" {
		t.Errorf("a day that is none: %v", err)
	}
	d, err := desk.Load(b.DB, nil, false)
	b.must(err)
	if len(d.Workshop.People) != 1 {
		t.Errorf("people: %+v", d.Workshop.People)
	}
}
