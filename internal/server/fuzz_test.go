package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"os"
	"reflect"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"waryowl/demo"
	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
	"waryowl/internal/sim"
	"waryowl/internal/store"
)

// operationOf is one operation as the OpenAPI document tells it.
type operationOf struct {
	method, path, id string
	op               map[string]any
}

// walker sends requests to all operations, one after the other.
type walker struct {
	w      *world
	g      *guide
	routes []operationOf
	people map[act.Role]*person
}

// walk is a server over the demo world, and somebody of every role.
func walk(t *testing.T) *walker {
	t.Helper()
	w := startWith(t, demo.Load)
	var ticks atomic.Int64 // each try to sign in comes a minute after the last one
	w.server.attempts.shared = nil
	w.server.attempts.now = func() time.Time { return time.Unix(60*ticks.Add(1), 0) }
	outside := httptest.NewServer(&sim.Service{})
	t.Cleanup(outside.Close)
	w.calibration.URL, w.calibration.Patience = outside.URL, time.Second
	text, err := OpenAPI()
	if err != nil {
		t.Fatal(err)
	}
	var doc map[string]any
	if err := json.Unmarshal(text, &doc); err != nil {
		t.Fatal(err)
	}
	k := &walker{w: w, g: &guide{t: t, w: w, f: &fuzzer{doc: doc}}, people: map[act.Role]*person{}}
	for path, methods := range doc["paths"].(map[string]any) {
		for method, op := range methods.(map[string]any) {
			o := op.(map[string]any)
			if o["operationId"] == "get-events" { // it never ends, and has a test of its own
				continue
			}
			k.routes = append(k.routes, operationOf{strings.ToUpper(method), path, o["operationId"].(string), o})
		}
	}
	slices.SortFunc(k.routes, func(a, b operationOf) int { return strings.Compare(a.path+a.method, b.path+b.method) })
	for _, r := range act.Roles {
		if _, err := account.Add(t.Context(), w.app, act.Command{Key: store.NewID()}, "kept "+string(r), "Kept", string(r),
			"correct horse"); err != nil {
			t.Fatal(err)
		}
		k.people[r] = w.as(r)
	}
	k.g.prepare(k.people[act.Analyst])
	k.g.rubric(k.people[act.Analyst])
	return k
}

// rare says that a request of this number is left out: each takes a hash that is slow on purpose, or works for long.
func rare(q operationOf, seed int) bool {
	switch {
	case q.path == "/api/session" || strings.HasPrefix(q.path, "/api/links") || q.id == "change-password":
		return seed%40 != 0
	case q.id == "get-levels" || q.id == "get-needs" || q.id == "get-needs-basket":
		return seed%200 != 0
	}
	return heavyOnes[q.id] && seed%8 != 0
}

// sentOne is what became of one request.
type sentOne struct {
	status int
	took   time.Duration
	text   string // the request and its answer, cut
}

// back signs somebody in again, with the account as it was.
func (k *walker) back(role act.Role) {
	hash := ""
	k.w.app.DB.Raw("SELECT password_hash FROM accounts WHERE name = ?", "kept "+string(role)).Scan(&hash)
	k.w.app.DB.Exec("UPDATE accounts SET password_hash = ?, role = ?, disabled = 0, deleted_at = NULL WHERE name = ?",
		hash,
		string(role), string(role))
	k.people[role] = k.w.as(role)
}

// send sends one request: sensible, with one thing wrong, or made from the document with hostile values.
func (k *walker) send(q operationOf, sensible, spoilt bool) sentOne {
	g := k.g
	role := g.may(q)
	if g.f.r.IntN(12) == 0 && !sensible {
		role = act.Roles[g.f.r.IntN(len(act.Roles))]
	}
	p := k.people[role]
	var path, kind string
	var body []byte
	headers := map[string]string{"Idempotency-Key": store.NewID()}
	if sensible {
		path, kind, body, p = g.request(q, p, spoilt)
	} else {
		kind = "application/json"
		var more map[string]string
		path, body, more = g.f.request(q.path, q.op)
		for h, v := range more {
			headers[h] = v
		}
	}
	r, err := http.NewRequest(q.method, k.w.URL+path, bytes.NewReader(body))
	if err != nil {
		return sentOne{}
	}
	r.Header.Set("Content-Type", kind)
	for h, v := range headers {
		r.Header.Set(h, v)
	}
	begun := time.Now()
	a, err := p.client.Do(r)
	if err != nil {
		return sentOne{} // not a request that a client can send
	}
	answer, _ := io.ReadAll(io.LimitReader(a.Body, 1<<20))
	a.Body.Close()
	if a.StatusCode == http.StatusUnauthorized && q.path != "/api/session" && !strings.HasPrefix(q.path, "/api/links") {
		k.back(role) // somebody's sign-in was ended, or their account changed
	}
	return sentOne{a.StatusCode, time.Since(begun), fmt.Sprintf("%s %s %s: %d %s", q.method, path, cut(string(body), 400),
		a.StatusCode, cut(string(answer), 200))}
}

// TestFuzzRoutes sends requests to every operation: half of them sensible, made from rows that are there, some of those
// with one thing wrong, and half made from the OpenAPI document with hostile values. No answer is a 5xx, and every
// operation is carried out at least once for somebody who may. WARYOWL_FUZZ says how many are sent; a failing one is
// told with its seed.
func TestFuzzRoutes(t *testing.T) {
	n := 2400
	if k, err := strconv.Atoi(os.Getenv("WARYOWL_FUZZ")); err == nil {
		n = k
	}
	k := walk(t)
	carried, sent, last := map[string]int{}, map[string]int{}, map[string]string{}
	took, seen := map[string]time.Duration{}, map[int]int{}
	slow, broken := time.Duration(0), 0
	first := 6 * len(k.routes) // all sensible
	for seed := range n {
		if seed%150 == 0 { // no whole number of rounds, so that no operation always comes after what took its row away
			k.g.look()
		}
		if seed%20_000 == 0 {
			t.Logf("%d sent: %v", seed, seen)
		}
		if seed > 0 && seed%10_000 == 0 { // a record that only grows is no longer one of a workshop
			k.w.Close()
			k = walk(t)
			k.g.look()
		}
		k.g.f.r = rand.New(rand.NewPCG(11, uint64(seed)))
		q := k.routes[k.g.f.r.IntN(len(k.routes))]
		if seed < first {
			q = k.routes[seed%len(k.routes)]
		} else if rare(q, seed) {
			continue
		}
		sensible := seed < first || k.g.f.r.IntN(2) == 0
		a := k.send(q, sensible, seed >= first && k.g.f.r.IntN(3) == 0)
		if a.status == 0 {
			continue
		}
		slow = max(slow, a.took)
		took[q.id] += a.took
		seen[a.status]++
		sent[q.id]++
		if a.status < 300 {
			carried[q.id]++
		} else if sensible {
			last[q.id] = a.text
		}
		if a.status >= 500 {
			broken++
			t.Errorf("seed %d: %s", seed, a.text)
			if broken > 10 {
				break
			}
		}
	}
	if len(last) == 0 {
		t.Error("nothing was refused")
	}
	var never []string
	for _, q := range k.routes {
		t.Logf("%-28s sent %5d, carried out %5d, %4d ms each", q.id, sent[q.id], carried[q.id],
			took[q.id].Milliseconds()/int64(max(1, sent[q.id])))
		if carried[q.id] == 0 {
			never = append(never, q.id)
			t.Logf("%s was refused: %s", q.id, last[q.id])
		}
	}
	t.Logf("%d requests to %d operations: %v, the slowest took %v", n, len(k.routes), seen, slow.Round(time.Millisecond))
	if len(never) > 0 {
		t.Errorf("%d operations were never carried out: %v", len(never), never)
	}
}

// beside is another sender on the same server, with sign-ins and a memory of its own.
func (k *walker) beside(t *testing.T) *walker {
	t.Helper()
	o := &walker{w: k.w, g: &guide{t: t, w: k.w, f: &fuzzer{doc: k.g.f.doc}, template: k.g.template}, routes: k.routes,
		people: map[act.Role]*person{}}
	for _, r := range act.Roles {
		o.people[r] = k.w.as(r)
	}
	o.g.look()
	return o
}

// TestSoak sends fifty requests a second, by four senders, to all operations for as many minutes as WARYOWL_SOAK
// says: none is answered with 5xx, the kept answers stay below their limit, and after the first five minutes the rest
// of the memory in use stays within a tenth.
func TestSoak(t *testing.T) {
	minutes, err := strconv.Atoi(os.Getenv("WARYOWL_SOAK"))
	if err != nil {
		t.Skip("make soak runs it: it takes half an hour")
	}
	const senders, aSecond = 4, 50
	first := walk(t)
	all := []*walker{first}
	for len(all) < senders {
		all = append(all, first.beside(t))
	}
	begun := time.Now()
	end := begun.Add(time.Duration(minutes) * time.Minute)
	var mu sync.Mutex
	seen, late := map[int]int{}, 0
	var wait sync.WaitGroup
	for s, k := range all {
		wait.Go(func() {
			for n := s; time.Now().Before(end); n += senders {
				if n/senders%200 == 0 {
					k.g.look()
				}
				wait := time.Until(begun.Add(time.Duration(n) * time.Second / aSecond))
				time.Sleep(wait)
				k.g.f.r = rand.New(rand.NewPCG(12, uint64(n)))
				q := k.routes[k.g.f.r.IntN(len(k.routes))]
				for rare(q, n/senders) { // another one instead
					q = k.routes[k.g.f.r.IntN(len(k.routes))]
				}
				a := k.send(q, k.g.f.r.IntN(4) > 0, k.g.f.r.IntN(4) == 0)
				mu.Lock()
				if wait < -5*time.Second {
					late++
				}
				seen[a.status]++
				mu.Unlock()
				if a.status >= 500 {
					t.Errorf("request %d: %s", n, a.text)
				}
			}
		})
	}
	least, most := uint64(0), uint64(0)
	for minute := range minutes {
		time.Sleep(time.Until(begun.Add(time.Duration(minute+1) * time.Minute)))
		runtime.GC()
		var now runtime.MemStats
		runtime.ReadMemStats(&now)
		first.w.server.answers.mu.Lock()
		kept := uint64(first.w.server.answers.size)
		first.w.server.answers.mu.Unlock()
		mu.Lock()
		sent := 0
		for _, n := range seen {
			sent += n
		}
		mu.Unlock()
		t.Logf("minute %2d: %d sent, %d MB in use, %d of them kept answers; %d MB from the system", minute+1, sent,
			now.HeapAlloc>>20,
			kept>>20, now.Sys>>20)
		if kept > mostBytes {
			t.Errorf("minute %d: %d bytes of kept answers", minute+1, kept)
		}
		if minute >= 5 {
			if least == 0 || now.HeapAlloc-kept < least {
				least = now.HeapAlloc - kept
			}
			most = max(most, now.HeapAlloc-kept)
		}
	}
	wait.Wait()
	t.Logf("%d minutes: %v, %d sent more than five seconds late; beside the kept answers %d to %d MB in use after the fifth minute",
		minutes, seen, late, least>>20, most>>20)
	if minutes > 6 && most > least+least/10 {
		t.Errorf("memory grew from %d to %d MB", least>>20, most>>20)
	}
}

// guide makes requests that can be carried out: from the rows that are there, as the trail has them.
type guide struct {
	t    testing.TB
	w    *world
	f    *fuzzer
	rows map[string][]stored // by entity
	made int

	template string // a rule as one's own begins
}

// mostKnown is how many rows of an entity are kept in mind: the first ones and the newest.
const mostKnown = 200

// stored is a row as it is now.
type stored struct {
	id      string
	version int
	gone    bool
	state   map[string]any
}

// entityOf is the entity whose rows an address holds.
var entityOf = map[string]string{"models": "Model", "studies": "Study", "parts": "Part", "steps": "PlanStep",
	"units": "Unit",
	"log":   "LogEntry", "trials": "Trial", "swap-acts": "SwapAct", "lots": "Lot", "fit-tests": "FitTest", "offers": "Offer",
	"sellers": "Seller", "shelves": "Shelf", "deliveries": "Delivery", "prices": "Price", "exchanges": "Exchange",
	"work-orders": "Work", "day-jobs": "BenchJob", "facts": "FactSaying", "score-marks": "ScoreMark", "rubrics": "Rubric",
	"orders": "PurchaseOrder", "offer-imports": "OfferImport", "needs": "Need",
	"words": "OwnWord", "photos": "Photo", "lot-pictures": "Photo", "part-pairs": "PartPair", "merges": "Merge",
	"faults": "FaultCase", "visits": "Visit", "visit-entries": "VisitEntry", "visit-photos": "VisitPhoto", "proposals": "Proposal",
	"dry-runs": "DryRun", "accounts": "Account", "outcomes": "Outcome", "workshop": "Workshop"}

// look reads what is there now.
func (g *guide) look() {
	var lines []struct {
		Entity, RowID, Verb string
		AfterState          *string
	}
	if err := g.w.app.DB.Raw("SELECT entity, row_id, verb, after_state FROM audit_lines WHERE id IN (SELECT MAX(id) FROM " +
		"audit_lines GROUP BY row_id) ORDER BY id").Scan(&lines).Error; err != nil {
		g.t.Fatal(err)
	}
	g.rows = map[string][]stored{}
	for _, l := range lines {
		s := stored{id: l.RowID, gone: l.Verb == "delete", state: map[string]any{}}
		if l.AfterState != nil {
			_ = json.Unmarshal([]byte(*l.AfterState), &s.state)
		}
		if v, ok := s.state["version"].(float64); ok {
			s.version = int(v)
		}
		list := append(g.rows[l.Entity], s)
		if len(list) > mostKnown {
			list = slices.Delete(list, mostKnown/2, mostKnown/2+1)
		}
		g.rows[l.Entity] = list
	}
	g.f.known = nil
	for _, list := range g.rows {
		for _, s := range list[:min(3, len(list))] {
			g.f.known = append(g.f.known, s.id)
		}
	}
	slices.Sort(g.f.known)
	for len(g.f.known) < 5 {
		g.f.known = append(g.f.known, store.NewID())
	}
}

// prepare makes one row of what the demo world has none of.
func (g *guide) prepare(p *person) {
	g.look()
	g.f.r = rand.New(rand.NewPCG(1, 1))
	model := g.one("Model", false)
	p.must(201, "POST", "/api/models", m{"id": store.NewID(), "maker": "Pellow", "name": "Empty", "entry": "back"})
	p.must(201, "POST", "/api/models/"+model.id+"/lots", m{"id": store.NewID(), "kind": "battery", "name": "first"})
	p.must(201, "POST", "/api/models/"+model.id+"/score-marks", m{"id": store.NewID(), "note": "as handed over"})
	g.look()
}

// one is a row of an entity, deleted or not; an empty one where there is none.
func (g *guide) one(entity string, gone bool) stored {
	var list []stored
	for _, s := range g.rows[entity] {
		if s.gone == gone {
			list = append(list, s)
		}
	}
	if len(list) == 0 {
		return stored{id: store.NewID(), version: 1, state: map[string]any{}}
	}
	return list[g.f.r.IntN(len(list))]
}

// where is a row of an entity that is not deleted and of which a field has a value.
func (g *guide) where(entity, field, value string) stored {
	var list []stored
	for _, s := range g.rows[entity] {
		if !s.gone && fmt.Sprint(s.state[field]) == value {
			list = append(list, s)
		}
	}
	if len(list) == 0 {
		return g.one(entity, false)
	}
	return list[g.f.r.IntN(len(list))]
}

// may is a role that has the right that an operation asks for; an analyst where several have it.
func (g *guide) may(q operationOf) act.Role {
	right := g.w.server.rights[q.id]
	for _, r := range []act.Role{act.Analyst, act.Buyer, act.Administrator, act.Technician} {
		if right == act.Public || act.Allowed(r, right) {
			return r
		}
	}
	return act.Analyst
}

// request is one that can be carried out, or one of those with one thing wrong.
func (g *guide) request(q operationOf, p *person, spoilt bool) (path, kind string, body []byte, who *person) {
	g.made++
	kind, who = "application/json", p
	segments := strings.Split(q.path, "/")
	entity := entityOf[segments[2]]
	gone := strings.HasSuffix(q.path, "/restore")
	row := g.one(entity, gone)
	into := map[string]any{}
	query := map[string]string{}
	if made, is := recipes[q.id]; is {
		x := made(g, &row, p)
		if x.who != nil {
			who = x.who
		}
		if x.raw != nil {
			body, kind = x.raw, "application/octet-stream"
		}
		into, query = x.body, x.query
		if x.path != "" {
			path = x.path
		}
	} else if q.method == "POST" && len(segments) >= 3 && segments[len(segments)-1] != "restore" {
		of := entityOf[segments[len(segments)-1]]
		like := g.one(of, false)
		for k, v := range like.state {
			into[k] = v
		}
		into["id"] = store.NewID()
	} else if q.method == "PUT" {
		for k, v := range row.state {
			into[k] = v
		}
		into["version"] = row.version
	}
	if path == "" {
		path = g.fill(q, row, query)
	}
	if body == nil && into != nil {
		if content, ok := at(q.op, "requestBody", "content", "application/json", "schema").(map[string]any); ok {
			into = g.fit(content, into)
			if spoilt {
				g.spoil(into)
			}
			body, _ = json.Marshal(into)
		}
	}
	return path, kind, body, who
}

// fill puts what stands for rows into an address, and the version that the row has.
func (g *guide) fill(q operationOf, row stored, query map[string]string) string {
	path := q.path
	model := row.id
	segments := strings.Split(q.path, "/")
	if m, ok := row.state["model_id"].(string); ok {
		model = m
	}
	var list []string
	for _, raw := range items(q.op["parameters"]) {
		p := raw.(map[string]any)
		name := p["name"].(string)
		required, _ := p["required"].(bool)
		value, said := query[name]
		if !said {
			switch name {
			case "id":
				value = row.id
			case "part":
				value = g.where("Part", "model_id", model).id
			case "other":
				value = g.one("Model", false).id
			case "study":
				value = g.where("Study", "model_id", row.id).id
			case "unit", "unit_id":
				value = g.where("Unit", "study_id", row.id).id
			case "kind":
				value = fmt.Sprint(g.f.pick("battery", "display", "main-board"))
			case "check":
				value = "touch"
			case "parts":
				value = g.where("Part", "model_id", model).id
			case "date":
				value = time.Now().Format(time.DateOnly)
			case "version":
				value = fmt.Sprint(max(1, row.version))
			case "photo_id":
				value = store.NewID()
			case "before":
				value = fmt.Sprint(g.f.pick("100", row.id))
			case "model":
				value = g.one("Model", false).id
			default:
				if enum := items(at(p, "schema", "enum")); len(enum) > 0 {
					value = fmt.Sprint(enum[g.f.r.IntN(len(enum))])
				}
			}
		}
		switch p["in"] {
		case "path":
			path = strings.ReplaceAll(path, "{"+name+"}", value)
		case "query":
			if required || said {
				list = append(list, name+"="+strings.ReplaceAll(value, " ", "%20"))
			}
		}
	}
	_ = segments
	if len(list) > 0 {
		path += "?" + strings.Join(list, "&")
	}
	return path
}

// fit keeps what a schema knows.
func (g *guide) fit(schema, values map[string]any) map[string]any {
	if ref, ok := schema["$ref"].(string); ok {
		schema, _ = at(g.f.doc, strings.Split(strings.TrimPrefix(ref, "#/"), "/")...).(map[string]any)
	}
	out := map[string]any{}
	props, _ := schema["properties"].(map[string]any)
	for k, v := range values {
		if _, known := props[k]; known {
			out[k] = v
		}
	}
	return out
}

// spoil makes one thing wrong.
func (g *guide) spoil(body map[string]any) {
	var keys []string
	for k := range body {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	if len(keys) == 0 {
		return
	}
	k := keys[g.f.r.IntN(len(keys))]
	body[k] = g.f.pick(nil, "", "x", -1, 1e300, 0, true, []any{}, map[string]any{}, "\x00", "a\nb", "\u202e",
		strings.Repeat("ä",
			5000), []any{[]any{"x"}}, map[string]any{"": nil}, "🔋", g.f.known[0], store.NewID(), "0000-01-01T00:00:00Z")
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
