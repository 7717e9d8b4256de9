package instrument

import (
	"context"
	"fmt"
	"net"
	"testing"
	"time"

	"waryowl/internal/sim"
)

func TestAddresses(t *testing.T) {
	list, err := Addresses(" caliper=tcp://127.0.0.1:9701 , scale=tcp://bench:9702?ask=R,")
	if err != nil || len(list) != 2 || list[0] != (Address{"caliper", "127.0.0.1:9701", ""}) || list[1].Ask != "R" {
		t.Errorf("%+v, %v", list, err)
	}
	for _, bad := range []string{"caliper", "caliper=127.0.0.1:9701", "=tcp://x:1", "c=tcp://x", "c=http://x:1"} {
		if _, err := Addresses(bad); err == nil {
			t.Errorf("%q was taken", bad)
		}
	}
}

// TestHub: an instrument is read as it settles, its button counts, and when it is unplugged that is said until it is back.
func TestHub(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	caliper := &sim.Instrument{Name: "caliper", Unit: "mm", Start: 3.42, Digits: 2, Most: 150, Every: 10 * time.Millisecond}
	go caliper.Serve(ctx, l)
	hub := Start(ctx, []Address{{Name: "caliper", Host: l.Addr().String()}, {Name: "scale", Host: "127.0.0.1:1"}})
	until := func(what string, is func(s []State) bool) {
		t.Helper()
		for end := time.Now().Add(20 * time.Second); !is(hub.States()); time.Sleep(5 * time.Millisecond) {
			if time.Now().After(end) {
				t.Fatalf("%s: %+v", what, hub.States())
			}
		}
	}
	until("a reading that stands still", func(s []State) bool {
		return s[0].Connected && s[0].Reading.Stable && s[0].Reading.Unit == "mm" && s[0].Reading.Value > 3.4
	})
	until("nobody at the scale", func(s []State) bool { return !s[1].Connected && s[1].Problem == "not reachable" })
	hand, err := net.Dial("tcp", l.Addr().String())
	if err != nil {
		t.Fatal(err)
	}
	defer hand.Close()
	fmt.Fprint(hand, "SET 8.42\r\nPRESS\r\n")
	until("its button", func(s []State) bool { return s[0].Presses == 1 && s[0].Pressed.Value > 8.4 })
	fmt.Fprint(hand, "SET 900\r\n")
	until("over its range", func(s []State) bool { return s[0].Reading.Over })
	fmt.Fprint(hand, "UNPLUG 0.3\r\n")
	until("unplugged", func(s []State) bool { return !s[0].Connected })
	until("back", func(s []State) bool { return s[0].Connected })
}
