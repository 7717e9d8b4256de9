package server

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"os"
	"reflect"
	"slices"
	"strconv"
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

// TestFuzzRoutes sends requests made from the OpenAPI document with hostile values: no answer is a 5xx. WARYOWL_FUZZ
// says how many; a failing one is told with its seed.
func TestFuzzRoutes(t *testing.T) {
	n := 5000
	if k, err := strconv.Atoi(os.Getenv("WARYOWL_FUZZ")); err == nil {
		n = k
	}
	w := start(t)
	admin := w.as(act.Analyst)
	b := admin.bench()
	known := []string{b.study, b.model, b.pine, b.amber, b.cell, b.lid}
	text, err := OpenAPI()
	if err != nil {
		t.Fatal(err)
	}
	var doc map[string]any
	if err := json.Unmarshal(text, &doc); err != nil {
		t.Fatal(err)
	}
	f := &fuzzer{doc: doc, known: known}
	type route struct {
		method, path string
		op           map[string]any
	}
	var routes []route
	for path, methods := range doc["paths"].(map[string]any) {
		for method, op := range methods.(map[string]any) {
			if path == "/api/session" { // signing out would end the test, signing in costs a hash
				continue
			}
			routes = append(routes, route{strings.ToUpper(method), path, op.(map[string]any)})
		}
	}
	slices.SortFunc(routes, func(a, b route) int { return strings.Compare(a.path+a.method, b.path+b.method) })
	seen := map[int]int{}
	slow := time.Duration(0)
	for seed := range n {
		f.r = rand.New(rand.NewPCG(11, uint64(seed)))
		q := routes[f.r.IntN(len(routes))]
		path, body, headers := f.request(q.path, q.op)
		r, err := http.NewRequest(q.method, w.URL+path, bytes.NewReader(body))
		if err != nil {
			continue
		}
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("Idempotency-Key", store.NewID())
		for k, v := range headers {
			r.Header.Set(k, v)
		}
		begun := time.Now()
		a, err := admin.client.Do(r)
		if err != nil {
			continue // not a request that a client can send
		}
		answer, _ := io.ReadAll(io.LimitReader(a.Body, 1<<20))
		a.Body.Close()
		slow = max(slow, time.Since(begun))
		seen[a.StatusCode]++
		if a.StatusCode >= 500 && a.StatusCode != 503 || a.StatusCode == 503 {
			t.Errorf("seed %d: %s %s %s: %d %s", seed, q.method, path, cut(string(body), 400), a.StatusCode,
				cut(string(answer), 200))
			if seen[a.StatusCode] > 10 {
				break
			}
		}
	}
	t.Logf("%d requests: %v, the slowest took %v", n, seen, slow.Round(time.Millisecond))
	if seen[200]+seen[201] == 0 || seen[422] == 0 {
		t.Errorf("requests were all of one kind: %v", seen)
	}
}

type fuzzer struct {
	doc   map[string]any
	known []string
	r     *rand.Rand
}

func (f *fuzzer) pick(list ...any) any { return list[f.r.IntN(len(list))] }

func (f *fuzzer) id() string {
	if f.r.IntN(4) > 0 {
		return f.known[f.r.IntN(len(f.known))]
	}
	return f.pick(store.NewID(), "x", "00000000-0000-0000-0000-000000000000", "urn:uuid:"+store.NewID(), "%00", "..",
		strings.Repeat("a", 300)).(string)
}

// request fills the parameters of a route and makes a body of its schema, with something hostile now and then.
func (f *fuzzer) request(path string, op map[string]any) (address string, body []byte, headers map[string]string) {
	headers = map[string]string{}
	var query []string
	for _, raw := range items(op["parameters"]) {
		p := raw.(map[string]any)
		name := p["name"].(string)
		switch p["in"] {
		case "path":
			id := strings.NewReplacer("/", "%2F", " ", "%20", "\x00", "%00").Replace(f.id())
			path = strings.ReplaceAll(path, "{"+name+"}", id)
		case "query":
			if f.r.IntN(2) == 0 {
				query = append(
					query,
					name+"="+fmt.Sprint(f.pick("", "1", "-1", "1e309", "NaN", "true", "x", "%00", "%F0%9F%94%8B",
						strings.Repeat("9", 40), f.known[0])),
				)
			}
		case "header":
			if name == "Happened-At" && f.r.IntN(3) == 0 {
				headers[name] = f.pick("0000-01-01T00:00:00Z", "2150-01-01T00:00:00Z", "soon", "2026-11-26T10:00:00Z").(string)
			}
			if name == "Idempotency-Key" && f.r.IntN(10) == 0 {
				headers[name] = f.pick("x", "", f.known[0]).(string)
			}
		}
	}
	if len(query) > 0 {
		path += "?" + strings.Join(query, "&")
	}
	if content, ok := at(op, "requestBody", "content").(map[string]any); ok {
		for kind, media := range content {
			if f.r.IntN(12) == 0 {
				body = []byte(f.pick("", "{", "[]", "null", `"x"`, `{"id":1}`, strings.Repeat("[", 5000), "\x00\x01").(string))
				break
			}
			if strings.Contains(kind, "json") {
				body, _ = json.Marshal(f.value(at(media, "schema"), 0))
			} else {
				body = []byte("\x89PNG not one")
				headers["Content-Type"] = kind
			}
			break
		}
	}
	return path, body, headers
}

// value is something of a schema, mostly valid.
func (f *fuzzer) value(s any, depth int) any {
	schema, _ := s.(map[string]any)
	if ref, ok := schema["$ref"].(string); ok {
		return f.value(at(f.doc, strings.Split(strings.TrimPrefix(ref, "#/"), "/")...), depth)
	}
	if f.r.IntN(25) == 0 || depth > 6 {
		return f.pick(nil, "", "x", -1, 1e300, 0, true, []any{}, map[string]any{}, "\x00", "\u202e", strings.Repeat("ä",
			5000),
			[]any{[]any{"x"}}, map[string]any{"": nil}, "🔋", f.known[0])
	}
	if enum := items(schema["enum"]); len(enum) > 0 {
		return enum[f.r.IntN(len(enum))]
	}
	kind := schema["type"]
	if many, ok := kind.([]any); ok && len(many) > 0 {
		kind = many[0]
	}
	switch kind {
	case "object":
		out := map[string]any{}
		required := items(schema["required"])
		if props, ok := schema["properties"].(map[string]any); ok {
			for name, p := range props {
				if slices.Contains(required, any(name)) || f.r.IntN(3) == 0 {
					out[name] = f.value(p, depth+1)
				}
			}
		}
		if more, ok := schema["additionalProperties"].(map[string]any); ok {
			for range f.r.IntN(4) {
				out[f.pick("touch", "boot", "x", "", f.known[4]).(string)] = f.value(more, depth+1)
			}
		}
		return out
	case "array":
		var out []any
		for range f.r.IntN(4) {
			out = append(out, f.value(schema["items"], depth+1))
		}
		return out
	case "integer":
		return f.pick(0, 1, 2, 3, -1, 1<<40)
	case "number":
		return f.pick(0, 0.5, 12.25, -3, 1e9)
	case "boolean":
		return f.r.IntN(2) == 0
	}
	if schema["format"] == "uuid" || f.r.IntN(6) == 0 {
		return f.pick(f.known[f.r.IntN(len(f.known))], store.NewID(), store.NewID())
	}
	return f.pick("touch", "lift", "battery", "PINE", "2026-01-01T00:00:00Z", "EUR", "note", "a b", "", "u 2 cross lid")
}

func items(v any) []any {
	l, _ := v.([]any)
	return l
}

func at(v any, path ...string) any {
	for _, k := range path {
		obj, ok := v.(map[string]any)
		if !ok || reflect.ValueOf(obj).IsNil() {
			return nil
		}
		v = obj[k]
	}
	return v
}
