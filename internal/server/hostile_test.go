package server

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"gorm.io/gorm/schema"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// TestOneUnsignedRequestBurnsNothing: what anybody may send is small, and what is refused is answered in few words.
func TestOneUnsignedRequestBurnsNothing(t *testing.T) {
	w := start(t)
	p := w.nobody()
	many := m{}
	for k := range 3000 {
		many[fmt.Sprintf("key%d", k)] = strings.Repeat("x", 200)
	}
	if a := p.do("POST", "/api/session", many); a.status != 413 {
		t.Errorf("half a megabyte of unknown fields: %d", a.status)
	}
	some := m{"name": "x", "password": "y"}
	for k := range 120 {
		some[fmt.Sprintf("k%d", k)] = 1
	}
	a := p.do("POST", "/api/session", some)
	if n := len(a.get("errors").([]any)); a.status != 422 || n > mostErrors || len(a.text) > 20_000 {
		t.Errorf("%d unknown fields: %d with %d errors in %d bytes", 120, a.status, n, len(a.text))
	}
	a = p.do("POST", "/api/session", m{"name": strings.Repeat("🔋", 70), "password": "y"})
	if a.status != 422 && a.status != 401 {
		t.Errorf("seventy emoji: %d %s", a.status, a.text)
	}
	signed := w.as(act.Analyst)
	begun := time.Now()
	if a := signed.do("POST", "/api/models", many); a.status != 422 || len(a.text) > 20_000 {
		t.Errorf("signed in: %d, %d bytes", a.status, len(a.text))
	}
	if took := time.Since(begun); took > 5*time.Second {
		t.Errorf("it took %v", took)
	}
}

// TestNamesThatAreOneShareTheirAllowance: case, accents, blanks and marks that cannot be seen make no new name, a
// stranger does not lock the owner's device out, and no flood of names makes the limits forget.
func TestNamesThatAreOneShareTheirAllowance(t *testing.T) {
	w := start(t)
	p := w.nobody()
	guess := func(name string) int {
		return p.do("POST", "/api/session", m{"name": name, "password": "guess"}).status
	}
	own := w.nobody()
	own.must(200, "POST", "/api/session", m{"name": "technician", "password": "correct horse"})
	held := 0
	for _, name := range []string{"technician", "Technician", "téchnician", "TECHNICIAN ", "tech\u200dnician",
		"ｔechnician",
		"technician", "Technician", "téchnician", "TECHNICIAN ", "technician", "Technician", "téchnician", "technician"} {
		if guess(name) == 429 {
			held++

		}
	}
	if held < 3 {
		t.Errorf("14 spellings of one name, %d held back", held)
	}
	if a := own.do("POST", "/api/session", m{"name": "technician", "password": "correct horse"}); a.status != 200 {
		t.Errorf("the owner is locked out by a stranger: %d %s", a.status, a.text)
	}
	limits := newAttempts(nil)
	for range 10 {
		limits.allow(context.Background(), "buyer", "192.0.2.1", "")
	}
	for k := range 60_000 {
		limits.allow(context.Background(), fmt.Sprintf("made up %d", k), fmt.Sprintf("198.51.100.%d", k%250), "")
	}
	if limits.allow(context.Background(), "buyer", "192.0.2.2", "") {
		t.Error("a flood of names made the limit forget")
	}
	if _, ok := limits.known("made.up", "buyer"); ok {
		t.Error("a made-up cookie counts")
	}
}

// TestTheAddressOfARequest: a proxy's word counts only where the proxy was declared.
func TestTheAddressOfARequest(t *testing.T) {
	limits := newAttempts(nil)
	r := &http.Request{RemoteAddr: "10.0.0.9:4711", Header: http.Header{"X-Forwarded-For": {"203.0.113.7, 10.1.1.1"}}}
	if got := limits.address(r); got != "10.0.0.9" {
		t.Errorf("nobody declared that proxy: %s", got)
	}
	for text, want := range map[string]string{"10.0.0.0/8": "203.0.113.7", "10.0.0.9/32": "10.1.1.1"} {
		limits.proxies = prefixes(t, text)
		if got := limits.address(r); got != want {
			t.Errorf("behind %s: %s, want %s", text, got, want)
		}
	}
	r.RemoteAddr = "[2001:db8:1:2:3::4]:9"
	if got := limits.address(r); got != "2001:db8:1:2::/64" {
		t.Errorf("version 6 counts by network: %s", got)
	}
}

// TestHostileInputIsNamed: what no field may hold is refused with the field, never with 500 or 503.
func TestHostileInputIsNamed(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	model := func(change m) m {
		f := m{"id": store.NewID(), "maker": "Pellow", "name": "Drift 77", "entry": "back", "width_mm": 70, "height_mm": 140}
		for k, v := range change {
			f[k] = v
		}
		return f
	}
	entry := func(change m) m {
		f := m{"id": store.NewID(), "unit_id": b.pine, "kind": "note", "note": "seen"}
		for k, v := range change {
			f[k] = v
		}
		return f
	}
	log := "/api/studies/" + b.study + "/log"
	for what, c := range map[string]struct {
		path, field string
		body        m
	}{
		"NUL":                 {"/api/models", "name", model(m{"name": "Drift\x00 4"})},
		"a turn of direction": {"/api/models", "name", model(m{"name": "Drift \u202e4"})},
		"blanks":              {"/api/models", "name", model(m{"name": "   "})},
		"marks nobody sees":   {"/api/models", "name", model(m{"name": "\u200b\u200b"})},
		"an id of zeros":      {"/api/models", "id", model(m{"id": "00000000-0000-0000-0000-000000000000"})},
		"an id as a URN":      {"/api/models", "id", model(m{"id": "urn:uuid:" + store.NewID()})},
		"an id in braces":     {"/api/models", "id", model(m{"id": "{" + store.NewID() + "}"})},
		"a control in a note": {log, "note", entry(m{"note": "bell \x07"})},
		"its own predecessor": {"/api/models", "predecessor", model(m{"predecessor": "Drift 77"})},
		"a unit of zeros":     {log, "unit_id", entry(m{"unit_id": "00000000-0000-0000-0000-000000000000"})},
		"an unknown predicate": {"/api/studies", "pairs[0]", m{"id": store.NewID(), "model_id": b.model, "title": "x",
			"pairs": [][]string{{"x"}}}},
	} {
		a := p.do("POST", c.path, c.body)
		if a.status != 422 || !strings.Contains(a.text, "body."+c.field) {
			t.Errorf("%s: %d, want 422 with %s: %s", what, a.status, c.field, cut(a.text, 300))
		}
	}
	for _, when := range []string{"0000-01-01T00:00:00Z", "10000-01-01T00:00:00Z", "2150-06-01T12:00:00Z",
		"1969-01-01T00:00:00Z"} {
		a := p.do("POST", log, entry(nil), func(r *http.Request) { r.Header.Set("Happened-At", when) })
		if a.status != 422 {
			t.Errorf("%s: %d %s", when, a.status, cut(a.text, 200))
		}
	}
	cell := p.do("PUT", "/api/units/"+b.pine+"/baseline/touch", m{"version": 7, "result": "pass", "assumed": false})
	if a := cell; a.status != 409 && a.status != 422 {
		t.Errorf("an empty cell at version 7: %d", a.status)
	}
	p.must(200, "DELETE", "/api/studies/"+b.study+"?version=1", nil)
	for _, path := range []string{log, "/api/studies/" + b.study + "/trials", "/api/studies/" + b.study + "/units"} {
		body := entry(nil)
		if strings.HasSuffix(path, "trials") {
			body = m{"id": store.NewID(), "board_unit_id": b.pine}
		} else if strings.HasSuffix(path, "units") {
			body = m{"id": store.NewID(), "name": "X", "colour": "green", "shape": "circle"}
		}
		if a := p.do("POST", path, body); a.status != 404 && a.status != 422 {
			t.Errorf("%s of a deleted study: %d", path, a.status)
		}
	}
	unit := p.do("PUT", "/api/units/"+b.pine, m{"version": 1, "name": "PINE", "colour": "green", "shape": "circle"})
	if a := unit; a.status != 404 && a.status != 422 {
		t.Errorf("a unit of a deleted study was changed: %d", a.status)
	}
}

// nested lists the columns that hold nested facts, as table and column.
func nested(t *testing.T) [][2]string {
	t.Helper()
	var list [][2]string
	for _, e := range []any{&store.Model{}, &store.Part{}, &store.PlanStep{}, &store.Study{}, &store.Unit{},
		&store.LogEntry{},
		&store.Trial{}, &store.SwapAct{}, &store.FaultCase{}, &store.Closing{}, &store.Photo{}, &store.Outcome{},
		&store.Lot{}, &store.FitTest{}} {
		s, err := schema.Parse(e, &sync.Map{}, schema.NamingStrategy{})
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range s.Fields {
			if f.Serializer != nil && f.DBName != "" {
				list = append(list, [2]string{s.Table, f.DBName})
			}
		}
	}
	return list
}

// TestAStoredValueNeverBreaksARoom puts a poisoned value into every column of nested facts; every room stays readable.
func TestAStoredValueNeverBreaksARoom(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	p.log(b, b.pine, m{"verb": "lift", "what": "lid", "side": "front", "frees": []string{b.lid}, "seconds": 30}, 20)
	p.must(201, "POST", "/api/studies/"+b.study+"/trials", m{"id": store.NewID(), "board_unit_id": b.pine,
		"results": m{"touch": "lost"}, "pieces": []m{{"part_id": b.cell, "origin": "unit", "unit_id": b.amber}}})
	p.must(
		201,
		"POST",
		"/api/studies/"+b.study+"/swap-acts",
		m{"id": store.NewID(), "kind": "restart", "board_unit_id": b.pine},
	)
	other, _ := p.otherModel("Drift 80")
	lot := p.must(201, "POST", "/api/models/"+b.model+"/lots", m{"id": store.NewID(), "kind": "battery", "name": "acme-7",
		"measures": []m{{"kind": "thickness", "unit": "mm", "readings": []float64{4.6}, "resolution": 0.1}}}).str("id")
	p.must(
		201,
		"POST",
		"/api/models/"+b.model+"/fit-tests",
		m{"id": store.NewID(), "kind": "battery", "lot_id": lot, "outcome": "lost",
			"lost": []string{"touch"}, "conditions": []string{"waited"}},
	)
	rooms := []string{
		"/api/fit/battery",
		"/api/models/" + b.model + "/compare/" + other,
		"/api/models/" + b.model + "/generations",
		"/api/studies",
		"/api/find?q=battery",
		"/api/studies/" + b.study + "/intake",
		"/api/studies/" + b.study + "/strip",
		"/api/studies/" + b.study + "/swap",
		"/api/studies/" + b.study + "/swap/account",
		"/api/studies/" + b.study + "/closeup",
		"/api/studies/" + b.study + "/handover",
		"/api/models/" + b.model + "/ways",
		"/api/models/" + b.model + "/score",
		"/api/models/" + b.model,
		"/api/models/" + b.model + "/parts/" + b.cell,
	}
	columns := nested(t)
	if len(columns) < 25 {
		t.Fatalf("only %d columns", len(columns))
	}
	poison := []string{`null`, `[null]`, `[["x"]]`, `{"x":null}`, `"x"`, `7`, `[{}]`, `{"":{"":[]}}`, `not json`,
		`[["a","a"],[]]`, `{"touch":"7"}`, `[{"part_id":"x","unit_id":"y","origin":"zzz"}]`}
	for _, value := range poison {
		keep := map[[2]string]map[string]*string{}
		for _, c := range columns {
			var rows []struct {
				ID string
				V  *string
			}
			if err := w.app.DB.Raw("SELECT id, " + c[1] + " AS v FROM " + c[0]).Scan(&rows).Error; err != nil {
				t.Fatal(c, err)
			}
			keep[c] = map[string]*string{}
			for _, r := range rows {
				keep[c][r.ID] = r.V
			}
			if err := w.app.DB.Exec("UPDATE "+c[0]+" SET "+c[1]+" = ?", value).Error; err != nil {
				t.Fatal(c, err)
			}
		}
		for _, who := range []string{b.model, ""} {
			if err := store.Touch(w.app.DB, who); err != nil {
				t.Fatal(err)
			}
		}
		for _, path := range rooms {
			if a := p.do("GET", path, nil); a.status >= 500 {
				t.Errorf("%s everywhere: %s answers %d: %s", value, path, a.status, cut(a.text, 200))
			}
		}
		for _, c := range columns {
			for id, v := range keep[c] {
				if err := w.app.DB.Exec("UPDATE "+c[0]+" SET "+c[1]+" = ? WHERE id = ?", v, id).Error; err != nil {
					t.Fatal(err)
				}
			}
		}
	}
}
