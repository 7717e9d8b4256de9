// Package instrument keeps a connection to each measuring instrument on the network and knows what it showed last.
package instrument

import (
	"bufio"
	"context"
	"fmt"
	"net"
	"net/url"
	"strings"
	"sync"
	"time"

	"waryowl/internal/core/instrument"
)

// Address is an instrument: its name, where it is, and the text that asks it for a reading where it sends none by itself.
type Address struct{ Name, Host, Ask string }

// Addresses reads WARYOWL_INSTRUMENTS: name=tcp://host:port, with commas between; ?ask=R for one that wants to be asked.
func Addresses(text string) ([]Address, error) {
	var list []Address
	for item := range strings.SplitSeq(text, ",") {
		if item = strings.TrimSpace(item); item == "" {
			continue
		}
		name, where, found := strings.Cut(item, "=")
		u, err := url.Parse(where)
		if !found || strings.TrimSpace(name) == "" || err != nil || u.Scheme != "tcp" || u.Port() == "" {
			return nil, fmt.Errorf("WARYOWL_INSTRUMENTS: found %q; allowed: name=tcp://host:port, with commas between", item)
		}
		list = append(list, Address{strings.TrimSpace(name), u.Host, u.Query().Get("ask")})
	}
	return list, nil
}

// State is what an instrument showed last. Presses counts what its own button sent; Age is how long ago the last line
// came.
type State struct {
	Name      string             `json:"name"`
	Connected bool               `json:"connected"`
	Reading   instrument.Reading `json:"reading"`
	Seconds   float64            `json:"age_seconds"`
	Presses   int                `json:"presses"`
	Pressed   instrument.Reading `json:"pressed" doc:"what the button sent last"`
	Problem   string             `json:"problem,omitempty"`
}

// Hub holds the connections.
type Hub struct {
	mu     sync.Mutex
	states []State
	at     []time.Time
}

const (
	silence   = 5 * time.Second // after which a connection is given up
	askEvery  = 400 * time.Millisecond
	patience  = 3 * time.Second
	firstWait = 500 * time.Millisecond
	mostWait  = 5 * time.Second
)

// Start connects to all instruments and stays with them until ctx ends: a connection that breaks is made again.
func Start(ctx context.Context, list []Address) *Hub {
	h := &Hub{states: make([]State, len(list)), at: make([]time.Time, len(list))}
	for i, a := range list {
		h.states[i] = State{Name: a.Name, Problem: "not connected yet"}
		go h.stay(ctx, i, a)
	}
	return h
}

// States is what all instruments show now.
func (h *Hub) States() []State {
	h.mu.Lock()
	defer h.mu.Unlock()
	list := make([]State, len(h.states))
	copy(list, h.states)
	for i := range list {
		if !h.at[i].IsZero() {
			list[i].Seconds = time.Since(h.at[i]).Seconds()
		}
	}
	return list
}

func (h *Hub) change(i int, f func(*State)) {
	h.mu.Lock()
	defer h.mu.Unlock()
	f(&h.states[i])
}

func (h *Hub) stay(ctx context.Context, i int, a Address) {
	for wait := firstWait; ctx.Err() == nil; wait = min(mostWait, 2*wait) {
		if h.listen(ctx, i, a) {
			wait = firstWait
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(wait):
		}
	}
}

// listen reads lines until the connection ends; heard says that there was one.
func (h *Hub) listen(ctx context.Context, i int, a Address) (heard bool) {
	d := net.Dialer{Timeout: patience}
	conn, err := d.DialContext(ctx, "tcp", a.Host)
	if err != nil {
		h.change(i, func(s *State) { s.Connected, s.Problem = false, "not reachable" })
		return false
	}
	stop := context.AfterFunc(ctx, func() { conn.Close() })
	defer stop()
	defer conn.Close()
	h.change(i, func(s *State) { s.Connected, s.Problem = true, "" })
	if a.Ask != "" {
		go func() {
			for {
				if _, err := fmt.Fprintf(conn, "%s\r\n", a.Ask); err != nil {
					return
				}
				time.Sleep(askEvery)
			}
		}()
	}
	lines := bufio.NewScanner(conn)
	lines.Buffer(make([]byte, 0, 256), 4*instrument.MostLine)
	for {
		conn.SetReadDeadline(time.Now().Add(silence))
		if !lines.Scan() {
			break
		}
		heard = true
		r, err := instrument.Parse(lines.Text())
		h.mu.Lock()
		s := &h.states[i]
		if err != nil {
			s.Problem = "sends what is no reading"
		} else {
			s.Reading, s.Problem = r, ""
			h.at[i] = time.Now()
			if r.Pressed {
				s.Presses++
				s.Pressed = r
			}
		}
		h.mu.Unlock()
	}
	h.change(i, func(s *State) { s.Connected, s.Problem = false, "unplugged, or silent" })
	return heard
}
