package server

import (
	"bufio"
	"fmt"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// TestRowsOfADeletedStudyStay: what belongs to a deleted study cannot be added, changed, deleted or brought back by its
// own address, until the study is back.
func TestRowsOfADeletedStudyStay(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	id := func(path string, body m) string {
		return p.must(201, "POST", "/api/studies/"+b.study+path, body).str("id")
	}
	entry := id("/log", m{"id": store.NewID(), "unit_id": b.pine, "kind": "note", "note": "seen"})
	gone := id("/log", m{"id": store.NewID(), "unit_id": b.pine, "kind": "note", "note": "taken back"})
	trial := id("/trials", m{"id": store.NewID(), "board_unit_id": b.pine, "results": m{"touch": "pass"}})
	deed := id("/swap-acts", m{"id": store.NewID(), "kind": "reset", "board_unit_id": b.pine})
	p.must(200, "DELETE", "/api/log/"+gone+"?version=1", nil)
	p.must(200, "PUT", "/api/units/"+b.pine+"/baseline/touch", m{"version": 0, "result": "pass", "assumed": false})
	p.must(200, "DELETE", "/api/studies/"+b.study+"?version=1", nil)
	tries := []struct {
		method, path string
		body         any
	}{
		{"PUT", "/api/units/" + b.pine, m{"version": 1, "name": "PINE", "colour": "green", "shape": "circle"}},
		{"PUT", "/api/units/" + b.pine + "/baseline/touch", m{"version": 1, "result": "lost", "assumed": false}},
		{"PUT", "/api/log/" + entry, m{"version": 1, "seconds": 3, "note": "other"}},
		{"DELETE", "/api/log/" + entry + "?version=2", nil},
		{"POST", "/api/log/" + gone + "/restore?version=2", nil},
		{"PUT", "/api/trials/" + trial, m{"version": 1, "board_unit_id": b.pine, "results": m{"touch": "lost"}}},
		{"DELETE", "/api/trials/" + trial + "?version=1", nil},
		{"DELETE", "/api/swap-acts/" + deed + "?version=1", nil},
		{"POST", "/api/studies/" + b.study + "/swap-acts", m{"id": store.NewID(), "kind": "reset", "board_unit_id": b.pine}},
	}
	for _, c := range tries {
		if a := p.do(c.method, c.path, c.body); a.status != 404 {
			t.Errorf("%s %s: %d %s", c.method, c.path, a.status, cut(a.text, 200))
		}
	}
	p.must(200, "POST", "/api/studies/"+b.study+"/restore?version=2", nil)
	for _, c := range tries[:4] {
		if a := p.do(c.method, c.path, c.body); a.status != 200 {
			t.Errorf("of the study that is back: %s %s: %d %s", c.method, c.path, a.status, cut(a.text, 200))
		}
	}
}

// TestWhatComesBackIsJudgedAnew: a trial whose part went in the meantime does not come back.
func TestWhatComesBackIsJudgedAnew(t *testing.T) {
	p := start(t).as(act.Analyst)
	b := p.bench()
	trial := p.must(201, "POST", "/api/studies/"+b.study+"/trials", m{"id": store.NewID(), "board_unit_id": b.pine,
		"pieces":  []m{{"part_id": b.cell, "origin": "unit", "unit_id": b.amber}},
		"results": m{"touch": "pass"}}).str("id")
	p.must(200, "DELETE", "/api/trials/"+trial+"?version=1", nil)
	p.must(200, "POST", "/api/trials/"+trial+"/restore?version=2", nil)
	p.must(200, "DELETE", "/api/trials/"+trial+"?version=3", nil)
	part := p.must(200, "GET", "/api/models/"+b.model, nil)
	for i := range 9 {
		if at := fmt.Sprintf("parts.%d.", i); part.str(at+"id") == b.cell {
			body := part.get(fmt.Sprintf("parts.%d", i)).(m)
			body["slot"] = false
			for _, more := range []string{"id", "model_id", "kind_guess"} {
				delete(body, more)
			}
			p.must(200, "PUT", "/api/parts/"+b.cell, body)
		}
	}
	if a := p.do("POST", "/api/trials/"+trial+"/restore?version=4", nil); a.status != 422 ||
		!strings.Contains(a.text, "pieces[0].part_id") {
		t.Errorf("a trial with a part that takes part in no swap came back: %d %s", a.status, cut(a.text, 200))
	}
}

// TestNoRoom: without room for changes they are refused as such, reading goes on, and with room they are taken.
func TestNoRoom(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	full := true
	w.app.Full = func() bool { return full }
	model := m{"id": store.NewID(), "maker": "Pellow", "name": "Drift 70", "entry": "back"}
	if a := p.do("POST", "/api/models", model); a.status != http.StatusInsufficientStorage ||
		!strings.Contains(a.str("detail"), "full") {
		t.Errorf("written without room: %d %s", a.status, a.text)
	}
	p.must(200, "GET", "/api/models", nil)
	full = false
	p.must(201, "POST", "/api/models", model)
}

// TestBrokenBodies: a body in broken pieces is refused as bad input, and one that does not come is not waited for.
func TestBrokenBodies(t *testing.T) {
	w := start(t)
	for name, c := range map[string]struct{ body, want string }{
		"a malformed piece": {"Transfer-Encoding: chunked\r\n\r\nZZ\r\n{}\r\n0\r\n\r\n", "400"},
		"a body that stops": {"Content-Length: 100\r\n\r\n{\"name\":", "408"},
		"no JSON":           {"Content-Length: 3\r\n\r\n{]}", "400"},
	} {
		begun := time.Now()
		conn, err := net.Dial("tcp", w.Listener.Addr().String())
		if err != nil {
			t.Fatal(err)
		}
		conn.SetDeadline(begun.Add(20 * time.Second))
		fmt.Fprintf(conn, "POST /api/session HTTP/1.1\r\nHost: %s\r\nContent-Type: application/json\r\n%s",
			w.Listener.Addr(), c.body)
		line, err := bufio.NewReader(conn).ReadString('\n')
		conn.Close()
		if err != nil || !strings.HasPrefix(line, "HTTP/1.1 "+c.want) || time.Since(begun) > 15*time.Second {
			t.Errorf("%s: %q, %v after %v", name, line, err, time.Since(begun))
		}
	}
}
