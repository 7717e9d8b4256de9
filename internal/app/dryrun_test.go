package app_test

import (
	"context"
	"errors"
	"slices"
	"strings"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/app/dryrun"
	"waryowl/internal/core/drill"
	"waryowl/internal/core/fault"
	"waryowl/internal/sim"
	"waryowl/internal/store"
)

// trainee practises on simulated phones.
type trainee struct {
	*act.Service
	t   *testing.T
	who act.Actor
	run store.DryRun
}

func practise(t *testing.T, s *act.Service, level int, seed uint64) *trainee {
	p := &trainee{Service: s, t: t, who: act.Actor{ID: store.NewID(), Role: act.Technician}}
	var err error
	if p.run, err = dryrun.Start(context.Background(), s, p.command(), store.NewID(), level, seed); err != nil {
		t.Fatal(err)
	}
	return p
}

func (p *trainee) command() act.Command {
	c := command()
	c.Actor = p.who
	return c
}

func (p *trainee) do(a store.DryAct) {
	p.t.Helper()
	run, err := dryrun.Step(context.Background(), p.Service, p.command(), p.run.ID, p.run.Version, a)
	if err != nil {
		p.t.Fatal(err)
	}
	p.run = run
}

func (p *trainee) view() dryrun.View {
	p.t.Helper()
	v, err := dryrun.Show(context.Background(), p.Service, p.who, p.run.ID)
	if err != nil {
		p.t.Fatal(err)
	}
	return v
}

// read fits an arrangement, reads a board and returns what was lost.
func (p *trainee) read(board string, slots ...string) []string {
	p.t.Helper()
	p.do(store.DryAct{Kind: "arrange", Slots: slots})
	var checks []string
	for _, c := range p.view().Checks {
		checks = append(checks, c.Name)
	}
	p.do(store.DryAct{Kind: "read", Board: board, Checks: checks})
	v := p.view()
	var lost []string
	for c, r := range v.Readings[len(v.Readings)-1].Results {
		if r == "lost" {
			lost = append(lost, c)
		}
	}
	slices.Sort(lost)
	return lost
}

// TestADryRunToItsScore: somebody who works properly is right everywhere; the clock counts, the advised sequence stands
// beside.
func TestADryRunToItsScore(t *testing.T) {
	s := service(t)
	p := practise(t, s, 0, 4)
	lock := sim.NewPhones(4, sim.Levels[0]).Locks[0]
	if all := p.read("pine", p.view().BoardSet...); !slices.Equal(all, []string{lock.Check}) {
		t.Fatalf("all strangers: lost %v, the lock is on %s", all, lock.Check)
	}
	for _, slot := range p.view().Slots {
		lost := p.read("pine", slot.Name)
		if (len(lost) > 0) != (slot.Name == lock.Slots[0]) {
			t.Fatalf("%s alone: lost %v", slot.Name, lost)
		}
	}
	p.read("pine")
	p.read("amber", lock.Slots[0])
	for _, c := range p.view().Checks {
		e := ""
		if c.Name == lock.Check {
			e = lock.Slots[0] + ":stranger"
		}
		p.do(store.DryAct{Kind: "commit", Checks: []string{c.Name}, Explanation: e})
	}
	clock := p.view().Clock
	if clock <= 0 || p.view().Report != nil || !strings.Contains(words(p.view().Answer),
		"8 verdicts committed, the originals were last read at minute") {
		t.Errorf("before the end: %s", words(p.view().Answer))
	}
	run, err := dryrun.End(context.Background(), s, p.command(), p.run.ID, p.run.Version)
	if err != nil || run.RightCount != 8 || run.WrongCount+run.UnprovenCount != 0 || run.Minutes != clock ||
		run.AdvisedMinutes <= 0 || run.AdvisedMinutes >= clock {
		t.Fatalf("%+v, %v", run, err)
	}
	v := p.view()
	if v.Report == nil || len(v.Report.Slips) != 0 || len(v.Report.Advised) == 0 || v.Report.Advised[0].Minutes <= 0 {
		t.Errorf("the report: %+v", v.Report)
	}
	if _, err := dryrun.Step(context.Background(), s, p.command(), p.run.ID, run.Version,
		store.DryAct{Kind: "arrange"}); err == nil {
		t.Error("it goes on after its end")
	}
	list, err := dryrun.List(context.Background(), s, p.who, "")
	if err != nil || len(list.Runs) != 1 || !strings.Contains(words(list.Answer), "Last time: 8.0 ") {
		t.Errorf("%s, %v", words(list.Answer), err)
	}
	// Nobody else sees it, and the same seed makes the same phones for them.
	other := practise(t, s, 0, 4)
	if _, err := dryrun.Show(context.Background(), s, other.who, p.run.ID); !errors.Is(err, act.ErrNotFound) {
		t.Errorf("somebody else's practice: %v", err)
	}
	if got := other.read("pine", other.view().BoardSet...); !slices.Equal(got, []string{lock.Check}) {
		t.Errorf("the same seed: lost %v", got)
	}
}

// TestSlipsAreNamed: a guess from one reading, an absent part taken for a foreign one, the board's own part.
func TestSlipsAreNamed(t *testing.T) {
	s := service(t)
	// A pair with a lock on the slot that goes with the board, found by its seed.
	seed := uint64(0)
	var phones *sim.Phones
	for seed = 1; seed < 400; seed++ {
		phones = sim.NewPhones(seed, sim.Levels[2])
		if slices.ContainsFunc(phones.Locks, func(l sim.Lock) bool {
			return l.Kind == "single" &&
				l.Slots[0] == phones.BoardOwn[0]
		}) {
			break
		}
	}
	own := phones.BoardOwn[0]
	lock := phones.Locks[slices.IndexFunc(phones.Locks,
		func(l sim.Lock) bool { return l.Kind == "single" && l.Slots[0] == own })]
	p := practise(t, s, 2, seed)
	lost := p.read("pine", p.view().BoardSet...)
	if slices.Contains(lost, lock.Check) {
		t.Fatalf("%s is lost although the %s went with its board", lock.Check, own)
	}
	p.do(store.DryAct{Kind: "commit", Checks: []string{lock.Check}})
	p.do(store.DryAct{Kind: "arrange"})
	p.do(store.DryAct{Kind: "leave off", Board: "pine", Slots: []string{"sensor strip"}})
	var sensor string
	for _, c := range phones.Checks {
		if c.Family == "SE" && c.Name != lock.Check {
			sensor = c.Name
		}
	}
	p.do(store.DryAct{Kind: "read", Board: "pine", Checks: []string{sensor}})
	p.do(store.DryAct{Kind: "commit", Checks: []string{sensor}, Explanation: "sensor strip:stranger"})
	if v := p.view(); !slices.Equal(v.Off["pine"], []string{"sensor strip"}) ||
		!strings.Contains(v.Readings[len(v.Readings)-1].Title, "left off: sensor strip") {
		t.Errorf("left off: %v, %s", v.Off, v.Readings[len(v.Readings)-1].Title)
	}
	for _, a := range []store.DryAct{{Kind: "reseat", Board: "pine"}, {Kind: "reset", Board: "pine"},
		{Kind: "calibrate", Board: "pine", Slots: []string{"battery"}}, {Kind: "flash", Board: "pine"}} {
		p.do(a)
	}
	if log := strings.Join(p.view().Log, " | "); !strings.Contains(log,
		"battery refused, the software is not the newest") || !strings.Contains(log, "it cannot go back") {
		t.Errorf("the log: %s", log)
	}
	run, err := dryrun.End(context.Background(), s, p.command(), p.run.ID, p.run.Version)
	if err != nil || run.WrongCount == 0 || run.UnprovenCount < len(phones.Checks)-2 {
		t.Fatalf("%+v, %v", run, err)
	}
	slips := strings.Join(p.view().Report.Slips, " | ")
	if !strings.Contains(slips, "the "+own+" went with its board") ||
		!strings.Contains(slips, "left off taken for exchanged") {
		t.Errorf("slips: %s", slips)
	}
	for _, v := range p.view().Report.Verdicts {
		if v.Check == lock.Check && (v.Judged != drill.Wrong || !slices.Contains(v.Truth, own+":stranger")) {
			t.Errorf("%+v", v)
		}
	}
}

func TestAPracticeRefusesWhatCannotBe(t *testing.T) {
	s := service(t)
	if _, err := dryrun.Start(context.Background(), s, command(), store.NewID(), 99, 1); err == nil {
		t.Error("level 99")
	}
	p := practise(t, s, 1, 1)
	for want, a := range map[string]store.DryAct{
		"slots[0]":    {Kind: "arrange", Slots: []string{"sail"}},
		"slots[1]":    {Kind: "arrange", Slots: []string{"battery", "battery"}},
		"checks[0]":   {Kind: "read", Board: "pine", Checks: []string{"depth"}},
		"board":       {Kind: "reset"},
		"slots":       {Kind: "leave off", Board: "pine"},
		"checks":      {Kind: "read", Board: "pine"},
		"explanation": {Kind: "commit", Checks: []string{"touch"}, Explanation: "sail:stranger"},
	} {
		_, err := dryrun.Step(context.Background(), s, p.command(), p.run.ID, p.run.Version, a)
		var bad *fault.Fault
		if !errors.As(err, &bad) || bad.Field != want {
			t.Errorf("want a fault at %s, got %v", want, err)
		}
	}
	if _, err := dryrun.Step(context.Background(), s, command(), p.run.ID, p.run.Version,
		store.DryAct{Kind: "arrange"}); !errors.Is(err, act.ErrNotFound) {
		t.Errorf("somebody else acts: %v", err)
	}
	if _, err := dryrun.End(context.Background(), s, command(), p.run.ID, p.run.Version); !errors.Is(err,
		act.ErrNotFound) {
		t.Errorf("somebody else ends it: %v", err)
	}
}

// TestWhatCouldHaveBeenKnown: a run in which two parts are lost only together says afterwards which they were and
// from which reading on it was nearly sure; what was never read is said to be never told.
func TestWhatCouldHaveBeenKnown(t *testing.T) {
	s := service(t)
	level := slices.IndexFunc(sim.Levels, func(w sim.World) bool { return w.Name == "causes that combine" })
	seed, pair := uint64(0), sim.Lock{}
	for seed = 1; seed < 2000 && pair.Check == ""; seed++ {
		phones := sim.NewPhones(seed, sim.Levels[level])
		for _, l := range phones.Locks {
			one := 0
			for _, o := range phones.Locks {
				if o.Check == l.Check {
					one++
				}
			}
			if l.Kind == "both" && !l.Sticky && one == 1 && len(phones.Hurt) == 0 {
				pair = l
			}
		}
	}
	p := practise(t, s, level, seed-1)
	var rest []string
	for _, x := range p.view().Slots {
		if !slices.Contains(pair.Slots, x.Name) {
			rest = append(rest, x.Name)
		}
	}
	for range 2 {
		for _, u := range sim.Units {
			p.read(u, pair.Slots...)
			p.read(u, rest...)
			p.read(u, append([]string{pair.Slots[0]}, rest...)...)
			p.read(u, append([]string{pair.Slots[1]}, rest...)...)
			p.read(u)
		}
	}
	if _, err := dryrun.End(context.Background(), s, p.command(), p.run.ID, p.run.Version); err != nil {
		t.Fatal(err)
	}
	found := false
	for _, x := range p.view().Report.Truths {
		if x.Check != pair.Check {
			continue
		}
		found = true
		if !strings.Contains(x.Words, "only together") || x.After == "" || x.Minute <= 0 || x.Sure < 0.9 {
			t.Errorf("%+v", x)
		}
	}
	if !found {
		t.Errorf("the pair %v is not among what was hidden", pair)
	}
	blind := practise(t, s, level, seed-1)
	if _, err := dryrun.End(context.Background(), s, blind.command(), blind.run.ID, blind.run.Version); err != nil {
		t.Fatal(err)
	}
	for _, x := range blind.view().Report.Truths {
		if x.After != "" {
			t.Errorf("nothing was read, but: %+v", x)
		}
	}
}
