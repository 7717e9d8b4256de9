package sim

import (
	"bufio"
	"context"
	"fmt"
	"math/rand/v2"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"
)

// Instrument is a stand-in for a measuring instrument on the network: it streams lines like a real one, restless first
// and with the last digit flickering, drifts, goes over its range, and loses its connection. It takes three lines of its
// own: "SET 3.42", "PRESS" (its button), "UNPLUG 3" (seconds).
type Instrument struct {
	Name, Unit string
	Start      float64
	Digits     int
	Most       float64 // range
	Every      time.Duration

	mu      sync.Mutex
	r       *rand.Rand
	value   float64
	since   int // lines since it was moved
	out     map[net.Conn]bool
	dark    time.Time // unplugged until
	pressed bool
}

// Instruments are those of the demo's bench; all values are invented.
func Instruments() []*Instrument {
	return []*Instrument{
		{Name: "caliper", Unit: "mm", Start: 4.31, Digits: 2, Most: 150},
		{Name: "scale", Unit: "g", Start: 47.5, Digits: 1, Most: 500},
		{Name: "thermometer", Unit: "C", Start: 23.4, Digits: 1, Most: 400},
		{Name: "micrometer", Unit: "mm", Start: 0.612, Digits: 3, Most: 25},
		{Name: "light meter", Unit: "lx", Start: 320, Digits: 0, Most: 20000},
		{Name: "USB power meter", Unit: "W", Start: 4.82, Digits: 2, Most: 120},
	}
}

// Serve answers every connection on the listener until ctx ends.
func (i *Instrument) Serve(ctx context.Context, l net.Listener) {
	i.mu.Lock()
	i.value, i.out, i.r = i.Start, map[net.Conn]bool{}, rand.New(rand.NewPCG(uint64(len(i.Name)), 7))
	if i.Every == 0 {
		i.Every = 200 * time.Millisecond
	}
	i.mu.Unlock()
	context.AfterFunc(ctx, func() { l.Close() })
	go i.stream(ctx)
	for {
		conn, err := l.Accept()
		if err != nil {
			return
		}
		i.mu.Lock()
		if time.Now().Before(i.dark) {
			conn.Close()
		} else {
			i.out[conn] = true
		}
		i.mu.Unlock()
		go i.obey(conn)
	}
}

// obey takes the lines that change what it shows.
func (i *Instrument) obey(conn net.Conn) {
	lines := bufio.NewScanner(conn)
	for lines.Scan() {
		word, rest, _ := strings.Cut(strings.TrimSpace(lines.Text()), " ")
		x, err := strconv.ParseFloat(strings.TrimSpace(rest), 64)
		i.mu.Lock()
		switch {
		case word == "SET" && err == nil:
			i.value, i.since = x, 0
		case word == "PRESS":
			i.pressed = true
		case word == "UNPLUG" && err == nil:
			i.dark = time.Now().Add(time.Duration(x * float64(time.Second)))
			for c := range i.out {
				c.Close()
			}
			clear(i.out)
		}
		i.mu.Unlock()
	}
	i.mu.Lock()
	delete(i.out, conn)
	i.mu.Unlock()
	conn.Close()
}

// restless is how many lines the display takes to stand still.
const restless = 3

func (i *Instrument) stream(ctx context.Context) {
	tick := time.NewTicker(i.Every)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
			i.mu.Lock()
			line := i.line()
			for c := range i.out {
				c.SetWriteDeadline(time.Now().Add(time.Second))
				fmt.Fprintf(c, "%s\r\n", line)
			}
			i.mu.Unlock()
		}
	}
}

// line is what it shows now.
func (i *Instrument) line() string {
	i.since++
	digit := 1.0
	for range i.Digits {
		digit /= 10
	}
	if i.value > i.Most {
		return "OL"
	}
	shown := i.value
	head := "ST"
	if i.since <= restless {
		head = "US"
		shown += digit * 8 * i.r.NormFloat64()
	} else if i.r.IntN(4) == 0 {
		shown += digit * float64(i.r.IntN(3)-1) // the last digit
	}
	if i.since%100 == 0 {
		i.value += digit * float64(i.r.IntN(3)-1) // drift
	}
	if i.pressed && head == "ST" {
		i.pressed = false
		head = "PR,ST"
	}
	return fmt.Sprintf("%s,%+08.*f,%s", head, i.Digits, shown, i.Unit)
}
