package server

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/sim"
	"waryowl/internal/store"
)

// swapSlots gives the bench a second slot beside its display, and returns the study's swap address.
func (p *person) swapSlots(b bench) string {
	p.must(201, "POST", "/api/models/"+b.model+"/parts", m{"id": store.NewID(), "name": "main board", "family": "BD"})
	return "/api/studies/" + b.study
}

// TestSwapOverTheInterface: what the routes of swap tests answer to good and bad input; nothing answers 500, nothing is
// lost.
func TestSwapOverTheInterface(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	at := p.swapSlots(b)
	id := store.NewID()
	move := m{"id": id, "kind": "move", "moves": []m{{"part_id": b.lid, "unit_id": b.amber, "to_unit_id": b.pine}}}
	k := store.NewID()
	first := p.must(201, "POST", at+"/swap-acts", move, key(k))
	if again := p.must(201, "POST", at+"/swap-acts", move, key(k)); again.str("id") != first.str("id") ||
		again.str("seq") != "1" {
		t.Errorf("a repeat: %s", again.text)
	}
	if a := p.do("POST", at+"/swap-acts", m{"id": store.NewID(), "kind": "restart", "board_unit_id": b.pine},
		key(k)); a.status != 409 {
		t.Errorf("the key of another change: %d", a.status)
	}
	room := p.must(200, "GET", at+"/swap", nil)
	if room.str("acts.0.text") != "AMBER's display assembly into PINE" ||
		!strings.Contains(room.str("board.housings.0.title"), "1 from another phone") {
		t.Errorf("the board: %s", room.str("board"))
	}
	for name, c := range map[string]struct {
		method, path string
		body         any
		status       int
		says         string
	}{
		"an unknown kind": {"POST", at + "/swap-acts", m{"id": store.NewID(), "kind": "hammer"}, 422, "kind"},
		"an unknown field": {"POST", at + "/swap-acts",
			m{"id": store.NewID(), "kind": "restart", "board_unit_id": b.pine, "force": 1}, 422, "force"},
		"negative minutes": {"POST", at + "/swap-acts",
			m{"id": store.NewID(), "kind": "restart", "board_unit_id": b.pine, "minutes": -1}, 422, "minutes"},
		"another study's unit": {"POST", at + "/swap-acts",
			m{"id": store.NewID(), "kind": "restart", "board_unit_id": store.NewID()}, 422, "board_unit_id"},
		"irreversible, not read": {"POST", at + "/swap-acts",
			m{"id": store.NewID(), "kind": "flash", "board_unit_id": b.pine, "build": "9"}, 422, "understood"},
		"no such study":           {"POST", "/api/studies/" + store.NewID() + "/swap-acts", move, 404, ""},
		"no such act":             {"DELETE", "/api/swap-acts/" + store.NewID() + "?version=1", nil, 404, ""},
		"a stale act":             {"DELETE", "/api/swap-acts/" + id + "?version=7", nil, 409, "Somebody changed"},
		"noise of a coin":         {"GET", at + "/swap?false_loss=0.9", nil, 422, "false_loss"},
		"noise that is no number": {"GET", at + "/swap?false_loss=much", nil, 422, "false_loss"},
		"a budget of a year":      {"GET", at + "/swap?budget=999999", nil, 422, "budget"},
		"a table of one":          {"GET", at + "/swap/factors?check=touch&parts=" + b.lid, nil, 422, "parts"},
		"a table of strangers": {"GET", at + "/swap/factors?check=touch&parts=" + b.lid + "&parts=" +
			store.NewID(), nil, 422, "parts"},
		"a reading before another": {"POST", at + "/trials",
			m{"id": store.NewID(), "board_unit_id": b.pine,
				"later": []m{{"minutes": 5, "results": m{"touch": "pass"}},
					{"minutes": 2, "results": m{}}}}, 422, "later[1].minutes"},
		"a notice without words": {"POST", at + "/trials",
			m{"id": store.NewID(), "board_unit_id": b.pine, "notices": []m{{"text": "", "kind": "passing"}}}, 422,
			"text"},
		"a gate of its own": {"POST", at + "/trials",
			m{"id": store.NewID(), "board_unit_id": b.pine, "dead_gate": []string{"prayer"}}, 422, "dead_gate"},
		"a fault of no model": {"POST", "/api/faults",
			m{"id": store.NewID(), "visit_id": store.NewID(), "sticker": "STONE", "state": "in", "for_model_id": store.NewID()},
			422, "for_model_id"},
		"no such fault": {"PUT", "/api/faults/" + store.NewID(), m{"version": 1}, 404, ""},
		"no calibration service": {"POST", at + "/calibrations",
			m{"id": store.NewID(), "housing_unit_id": b.pine, "part_ids": []string{b.lid}, "understood": true}, 424,
			"no calibration service is set up"},
		"a practice of no level": {"POST", "/api/dry-runs", m{"id": store.NewID(), "level": 20, "seed": 1}, 422,
			"level"},
		"no such practice": {"GET", "/api/dry-runs/" + store.NewID(), nil, 404, ""},
	} {
		if a := p.do(c.method, c.path, c.body); a.status != c.status || !strings.Contains(a.text, c.says) {
			t.Errorf("%s: %d %s", name, a.status, a.text)
		}
	}
	// Read and understood, the flash is recorded, and builds stand apart.
	p.must(201, "POST", at+"/swap-acts", m{"id": store.NewID(), "kind": "flash", "board_unit_id": b.pine, "build": "9",
		"understood": true})
	if a := p.must(200, "GET", at+"/swap", nil); a.str("builds.1") != "9" ||
		!strings.Contains(a.str("warnings"), "builds differ") {
		t.Errorf("after the flash: %s, %s", a.str("builds"), a.str("warnings"))
	}
	p.must(200, "DELETE", "/api/swap-acts/"+id+"?version=1", nil)
	if a := p.must(200, "GET", at+"/swap", nil); !strings.Contains(a.str("board.housings.0.title"),
		"every piece its own") {
		t.Errorf("the move was taken back: %s", a.str("board.housings.0.title"))
	}
	p.must(200, "POST", "/api/swap-acts/"+id+"/restore?version=2", nil)
}

// tell makes the stand-in behave.
func tell(t *testing.T, url, mode string) {
	t.Helper()
	resp, err := http.Post(url+"/mode", "application/json", strings.NewReader(`{"mode":"`+mode+`"}`))
	if err != nil || resp.StatusCode != http.StatusNoContent {
		t.Fatalf("mode %s: %v, %v", mode, resp, err)
	}
	resp.Body.Close()
}

// TestCalibrationOverTheInterface: every state of the service is a plain answer, and only its own answer is recorded.
func TestCalibrationOverTheInterface(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	at := p.swapSlots(b)
	service := &sim.Service{Delay: 5 * time.Second}
	server := httptest.NewServer(service)
	defer server.Close()
	w.calibration.URL, w.calibration.Patience = server.URL, 150*time.Millisecond
	p.must(201, "POST", at+"/swap-acts", m{"id": store.NewID(), "kind": "move",
		"moves": []m{{"part_id": b.lid, "unit_id": b.amber, "to_unit_id": b.pine}}})
	ask := func() reply {
		return p.do("POST", at+"/calibrations", m{"id": store.NewID(), "housing_unit_id": b.pine,
			"part_ids": []string{b.lid}, "understood": true})
	}
	acts := func() int { return len(p.must(200, "GET", at+"/swap", nil).get("acts").([]any)) }
	for mode, says := range map[string]string{"slow": "did not answer in time", "down": "cannot be reached"} {
		tell(t, server.URL, mode)
		if a := ask(); a.status != 424 || !strings.Contains(a.text, says) || acts() != 1 {
			t.Errorf("%s: %d %s, %d acts", mode, a.status, a.text, acts())
		}
	}
	tell(t, server.URL, "refuse")
	if a := ask(); a.status != 201 || a.str("accepted") != "<nil>" || a.str("reason") == "" {
		t.Errorf("refused: %d %s", a.status, a.text)
	}
	tell(t, server.URL, "ok")
	if a := ask(); a.status != 201 || a.str("accepted") != "true" {
		t.Errorf("accepted: %d %s", a.status, a.text)
	}
	if a := p.must(200, "GET", at+"/swap", nil); !strings.Contains(a.str("board.housings.0"), "adopted") ||
		!strings.Contains(a.str("warnings"), "last control") {
		t.Errorf("after the calibration: %s", a.str("board.housings.0"))
	}
}

// TestFaultsAndPracticeOverTheInterface walks both through their routes.
func TestFaultsAndPracticeOverTheInterface(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	f := m{"id": store.NewID(), "visit_id": store.NewID(), "unit_id": b.pine, "sticker": "PINE", "state": "in",
		"said": "dull in one corner"}
	made := p.must(201, "POST", "/api/faults", f)
	at := "/api/faults/" + made.str("id")
	p.must(200, "PUT", at, m{"version": 1, "symptom": "touch dead", "works": []string{"picture"}})
	if a := p.do("PUT", at, m{"version": 1, "symptom": "touch dead"}); a.status != 409 {
		t.Errorf("a stale change: %d", a.status)
	}
	if a := p.do("POST", at+"/acts", m{"id": store.NewID(), "act": "shaking", "answer": "no"}); a.status != 422 ||
		!strings.Contains(a.text, "act") {
		t.Errorf("an act that nobody knows: %d %s", a.status, a.text)
	}
	act1 := m{"id": store.NewID(), "act": "restart", "answer": "yes"}
	w.as(act.Technician).must(201, "POST", at+"/acts", act1) // a technician may
	p.must(201, "POST", at+"/acts", act1)                    // once
	a := p.must(200, "GET", at, nil)
	if a.str("status") != "repaired" || a.str("control") != "required" || len(a.get("acts").([]any)) != 1 {
		t.Errorf("%s", a.text)
	}
	if a := p.must(200, "GET", "/api/faults?unit="+b.pine, nil); !strings.Contains(a.text, "touch dead") {
		t.Errorf("the list: %s", a.text)
	}
	if a := p.must(200, "GET", "/api/symptoms?q=black+screen", nil); a.str("0.id") != "dark screen" {
		t.Errorf("the symptom: %s", a.text)
	}
	if a := w.as(act.Buyer).do("POST", at+"/acts", act1); a.status != 403 {
		t.Errorf("a buyer records an act: %d", a.status)
	}
	if account := p.must(200, "GET", "/api/studies/"+b.study+"/swap/account?rate=4500",
		nil); len(account.get("modules").([]any)) == 0 || account.str("done") != "[]" {
		t.Errorf("%s", account.text)
	}
	for _, role := range []act.Role{act.Technician, act.Buyer} { // everybody may practise
		q := w.as(role)
		run := q.must(201, "POST", "/api/dry-runs", m{"id": store.NewID(), "level": 1, "seed": 9})
		path := "/api/dry-runs/" + run.str("id")
		q.must(200, "POST", path+"/acts", m{"version": 1, "kind": "arrange", "slots": []string{"battery"}})
		q.must(200, "POST", path+"/acts", m{"version": 2, "kind": "read", "board": "pine", "checks": []string{"touch"}})
		if a := q.do("POST", path+"/acts", m{"version": 1, "kind": "arrange", "slots": []string{}}); a.status != 409 {
			t.Errorf("a stale act: %d", a.status)
		}
		v := q.must(200, "GET", path, nil)
		if v.str("exchanged.0") != "battery" || v.get("report") != nil || strings.Contains(v.text, "lock") &&
			strings.Contains(v.text, "sticky") {
			t.Errorf("%s", v.text)
		}
		q.must(200, "POST", path+"/end", m{"version": 3})
		if v := q.must(200, "GET", path, nil); v.get("report.advised.0") == nil || v.str("done") != "true" {
			t.Errorf("%s", v.text)
		}
		if a := p.do("GET", path, nil); a.status != 404 {
			t.Errorf("somebody else's practice: %d", a.status)
		}
	}
}
