package sim

import (
	"context"
	"errors"
	"net/http"
	"net/http/httptest"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"waryowl/internal/calibration"
)

func TestPhonesAreDeterministic(t *testing.T) {
	for _, w := range Levels {
		a, b := NewPhones(5, w), NewPhones(5, w)
		if !reflect.DeepEqual(a, b) {
			t.Errorf("%s: the same seed gives two pairs", w.Name)
		}
		x, y := a.Bench(1), b.Bench(1)
		for _, bench := range []*Bench{x, y} {
			bench.Exchange([]string{"display", "battery"})
			bench.Reseat("pine", nil)
		}
		if !reflect.DeepEqual(x.Run("pine", checks(a), true), y.Run("pine", checks(b), true)) ||
			x.Minutes != y.Minutes {
			t.Errorf("%s: the same acts give two answers", w.Name)
		}
	}
}

func checks(p *Phones) (names []string) {
	for _, c := range p.Checks {
		names = append(names, c.Name)
	}
	return names
}

// TestLocks: what each kind of lock does, on phones whose locks are set by hand.
func TestLocks(t *testing.T) {
	phones := func(l Lock) *Bench {
		p := NewPhones(1, World{SlotsMin: 6, Slots: 6, Checks: 6, LockShare: 0.1, Mates: true})
		l.Check = "face-unlock"
		p.Locks = []Lock{l}
		return p.Bench(1)
	}
	lost := func(b *Bench, unit string, late bool) bool {
		return b.Run(unit, []string{"face-unlock"}, late)["face-unlock"] == "lost"
	}
	both := []string{"display", "sensor strip"}
	for _, c := range []struct {
		name string
		lock Lock
		do   func(b *Bench)
		want bool
	}{
		{"own", Lock{Kind: "single", Slots: both[:1]}, func(*Bench) {}, false},
		{"single", Lock{Kind: "single", Slots: both[:1]}, func(b *Bench) { b.Exchange(both[:1]) }, true},
		{"and put back", Lock{Kind: "single", Slots: both[:1]},
			func(b *Bench) { b.Exchange(both[:1]); b.Exchange(nil) }, false},
		{"mates parted", Lock{Kind: "mates", Slots: both}, func(b *Bench) { b.Exchange(both[1:]) }, true},
		{"mates together", Lock{Kind: "mates", Slots: both}, func(b *Bench) { b.Exchange(both) }, false},
		{"both, one", Lock{Kind: "both", Slots: both}, func(b *Bench) { b.Exchange(both[:1]) }, false},
		{"both", Lock{Kind: "both", Slots: both}, func(b *Bench) { b.Exchange(both) }, true},
		{"another build", Lock{Kind: "single", Slots: both[:1], Build: Builds[1]},
			func(b *Bench) { b.Exchange(both[:1]) }, false},
		{"that build", Lock{Kind: "single", Slots: both[:1], Build: Builds[1]},
			func(b *Bench) { b.Exchange(both[:1]); b.Flash("pine") }, true},
		{"late, at once", Lock{Kind: "single", Slots: both[:1], Late: true}, func(b *Bench) { b.Exchange(both[:1]) },
			false},
		{"sticky", Lock{Kind: "single", Slots: both[:1], Sticky: true},
			func(b *Bench) { b.Exchange(both[:1]); lost(b, "pine", false); b.Exchange(nil) }, true},
		{"sticky, reset", Lock{Kind: "single", Slots: both[:1], Sticky: true},
			func(b *Bench) { b.Exchange(both[:1]); lost(b, "pine", false); b.Exchange(nil); b.Reset("pine") }, false},
		{"left off is not foreign, but no sensor sees", Lock{Kind: "single", Slots: both[1:]},
			func(b *Bench) { b.Leave("pine", "sensor strip") }, true},
	} {
		b := phones(c.lock)
		c.do(b)
		if got := lost(b, "pine", false); got != c.want {
			t.Errorf("%s: lost %v", c.name, got)
		}
	}
	b := phones(Lock{Kind: "single", Slots: both[:1], Late: true})
	b.Exchange(both[:1])
	if !lost(b, "pine", true) {
		t.Error("a late lock never shows")
	}
	if ok, why := b.Calibrate("pine", "display"); ok || !strings.Contains(why, "newest") {
		t.Errorf("calibrated on an old build: %v %s", ok, why)
	}
	b.Flash("pine")
	if ok, why := b.Calibrate("pine", "display"); ok || !strings.Contains(why, "partner") {
		t.Errorf("calibrated without its mate: %v %s", ok, why)
	}
	b.Exchange(both)
	if ok, _ := b.Calibrate("pine", "display"); !ok || lost(b, "pine", true) {
		t.Error("the adopted display still costs the check")
	}
}

// TestTraps: what comes and goes does both, a reset ends what ends by it until the piece is fitted again, two parts are
// lost only together, a piece that is hurt stays so on either board; and seeds of worlds without traps make the phones
// that they made before.
func TestTraps(t *testing.T) {
	p := NewPhones(5, World{SlotsMin: 8, Slots: 8, Checks: 8, LockShare: 0.1})
	if want := NewPhones(5, World{SlotsMin: 8, Slots: 8, Checks: 8, LockShare: 0.1, Damage: 1}); !slices.Equal(p.Slots,
		want.Slots) || !slices.Equal(p.Checks, want.Checks) || len(want.Hurt) != 1 {
		t.Error("a trap changed the phones themselves")
	}
	p.Locks = []Lock{{Check: "touch", Kind: "single", Slots: []string{"display"}, Sometimes: true},
		{Check: "picture", Kind: "single", Slots: []string{"battery"}, Until: true},
		{Check: "charging", Kind: "both", Slots: []string{"battery", "charge port"}}}
	p.Hurt = map[string]Hurt{"amber-front camera": {"front-camera", 1}}
	b := p.Bench(1)
	read := func(unit, check string) string { return b.Run(unit, []string{check}, false)[check] }
	b.Exchange([]string{"display"})
	seen := map[string]int{}
	for range 40 {
		seen[read("pine", "touch")]++
	}
	if seen["pass"] < 8 || seen["lost"] < 8 {
		t.Errorf("now and then: %v", seen)
	}
	b.Exchange([]string{"battery"})
	before := read("pine", "picture")
	b.Reset("pine")
	after := read("pine", "picture")
	b.Reseat("pine", []string{"battery"})
	if before != "lost" || after != "pass" || read("pine", "picture") != "lost" {
		t.Error("until a reset, and again once it is fitted anew")
	}
	if read("pine", "charging") != "pass" {
		t.Error("one of the two alone")
	}
	b.Exchange([]string{"battery", "charge port"})
	if read("pine", "charging") != "lost" {
		t.Error("both together")
	}
	if read("amber", "front-camera") != "pass" {
		t.Error("not hurt before it was fitted")
	}
	b.Exchange([]string{"front camera"})
	onPine := read("pine", "front-camera")
	b.Exchange(nil)
	if onPine != "lost" || read("amber", "front-camera") != "lost" || read("pine", "front-camera") != "pass" {
		t.Error("hurt on the way, wherever it sits")
	}
	for e, want := range map[string]bool{"display:stranger~": true, "display:stranger": false,
		"battery:stranger<reset": true, "piece:amber-front camera:bad@t1": true, "battery&charge port:both": true} {
		check := map[string]string{"d": "touch", "b": "picture", "p": "front-camera"}[e[:1]]
		if strings.Contains(e, "&") {
			check = "charging"
		}
		if p.Truth(e, check, Builds[0]) != want {
			t.Errorf("%s of %s: not %v", e, check, want)
		}
	}
}

// TestALooseSeatTakesAllOfItsChecks, at every reading until the piece is fitted again: that is not noise of a reading.
func TestALooseSeatTakesAllOfItsChecks(t *testing.T) {
	p := NewPhones(2, World{SlotsMin: 8, Slots: 8, Checks: 12, LockShare: 0.1, Seat: 1})
	p.Locks = nil
	b := p.Bench(1)
	b.Exchange([]string{"front camera"})
	for range 3 {
		for _, c := range p.Checks {
			if got := b.Run("amber", []string{c.Name}, false)[c.Name]; (got == "lost") != (c.Family == "OP") {
				t.Errorf("%s: %s", c.Name, got)
			}
		}
	}
	p.World.Seat = 0
	b.Reseat("amber", []string{"front camera"})
	if b.Run("amber", []string{"front-camera"}, false)["front-camera"] != "pass" {
		t.Error("still lost after reseating")
	}
}

func TestTheWayThroughTheBoardsIsTakenWhenItIsShorter(t *testing.T) {
	p := NewPhones(3, Levels[2])
	all := []string{}
	for _, s := range p.Slots {
		all = append(all, s.Name)
	}
	rest := p.BoardOwn[0]
	without := []string{}
	for _, s := range all {
		if s != rest {
			without = append(without, s)
		}
	}
	if got := p.Cost(nil, without); got != p.BoardMinutes {
		t.Errorf("an exchange of the boards takes %g, want %g", got, p.BoardMinutes)
	}
	if p.Cost(nil, nil) != 0 || p.Cost(all, nil) != p.Cost(nil, all) {
		t.Error("no change must cost nothing, and the way back as much as the way there")
	}
}

func TestTheCalibrationServiceAndItsClient(t *testing.T) {
	service := &Service{Delay: 2 * time.Second}
	server := httptest.NewServer(service)
	defer server.Close()
	client := calibration.Client{URL: server.URL, Patience: 200 * time.Millisecond}
	ask := func(change func(*calibration.Request)) (calibration.Answer, error) {
		r := calibration.Request{Board: "pine", Build: "4.2", Clock: time.Now(),
			Pieces: map[string]string{"display": "amber-display"}, Mates: map[string]string{"display": "amber-"}}
		change(&r)
		return client.Ask(context.Background(), "", r)
	}
	mode := func(m string) {
		resp, err := http.Post(server.URL+"/mode", "application/json", strings.NewReader(`{"mode":"`+m+`"}`))
		if err != nil || resp.StatusCode != http.StatusNoContent {
			t.Fatalf("mode %s: %v %v", m, resp, err)
		}
	}
	same := func(*calibration.Request) {}
	for _, c := range []struct {
		name   string
		change func(*calibration.Request)
		reason string
	}{
		{"as it should be", same, ""},
		{"an older build", func(r *calibration.Request) { r.Build = "4.1" }, "not the newest"},
		{"an odd clock", func(r *calibration.Request) { r.Clock = time.Now().AddDate(-3, 0, 0) }, "clock"},
		{"a stranger for a mate", func(r *calibration.Request) { r.Mates["display"] = "pine-" }, "partner"},
		{"nothing named", func(r *calibration.Request) { r.Pieces = nil }, "no piece"},
	} {
		a, err := ask(c.change)
		if err != nil || a.Accepted != (c.reason == "") || !strings.Contains(a.Reason, c.reason) {
			t.Errorf("%s: %+v, %v", c.name, a, err)
		}
	}
	for m, want := range map[string]error{"slow": calibration.ErrSlow, "down": calibration.ErrDown} {
		mode(m)
		if _, err := ask(same); !errors.Is(err, want) {
			t.Errorf("%s: %v", m, err)
		}
	}
	mode("refuse")
	if a, err := ask(same); err != nil || a.Accepted {
		t.Errorf("refusing: %+v, %v", a, err)
	}
	server.Close()
	if _, err := ask(same); !errors.Is(err, calibration.ErrDown) {
		t.Errorf("gone: %v", err)
	}
	if _, err := (calibration.Client{}).Ask(context.Background(), "", calibration.Request{}); !errors.Is(err,
		calibration.ErrNone) {
		t.Errorf("not set up: %v", err)
	}
}
