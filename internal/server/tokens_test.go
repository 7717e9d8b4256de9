package server

import (
	"bufio"
	"context"
	"encoding/json"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"regexp"
	"runtime"
	"strings"
	"sync"
	"testing"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// show sends a token instead of a cookie.
func show(token string) with {
	return func(r *http.Request) { r.Header.Set("Authorization", "Bearer "+token) }
}

func freshToken() string { return "wo_" + strings.ReplaceAll(store.NewID()+store.NewID(), "-", "_") }

// makeToken makes one by its person.
func (p *person) makeToken(name string, more m) (token, id string) {
	p.t.Helper()
	token, id = freshToken(), store.NewID()
	body := m{"id": id, "name": name, "token": token}
	for k, v := range more {
		body[k] = v
	}
	if a := p.must(201, "POST", "/api/session/tokens", body); strings.Contains(a.text, token) ||
		strings.Contains(a.text, "hash") {
		p.t.Errorf("the answer tells the token or its sum: %s", a.text)
	}
	return token, id
}

// TestTokens: a program acts for its person under the token's name, with no more rights than it was given, until it is
// revoked, expired, or its person disabled; whatever is not a token that counts is answered alike.
func TestTokens(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	program := w.nobody()
	part := func(token string, changes ...with) reply {
		return program.do("POST", "/api/models/"+b.model+"/parts", m{"id": store.NewID(), "name": "part " + store.NewID(),
			"family": "FR"}, append(changes, show(token))...)
	}
	all, allID := p.makeToken("till", nil)
	reads, _ := p.makeToken("screen on the wall", m{"reads_only": true})
	rooms, _ := p.makeToken("scales", m{"rooms": []string{"studies"}})
	other := func(r *http.Request) { // a script is no page: where it comes from says nothing
		r.Header.Set("Origin", "https://elsewhere.example")
		r.Header.Set("Sec-Fetch-Site", "cross-site")
	}
	if a := part(all, other); a.status != 201 {
		t.Errorf("a change by token: %d %s", a.status, a.text)
	}
	if a := part(reads); a.status != 403 || !strings.Contains(a.text, "screen on the wall") {
		t.Errorf("a change by a token that reads: %d %s", a.status, a.text)
	}
	if a := part(rooms); a.status != 403 {
		t.Errorf("a part by a token for studies: %d", a.status)
	}
	program.must(200, "GET", "/api/studies/"+b.study+"/strip", nil, show(rooms))
	program.must(403, "GET", "/api/models", nil, show(rooms))
	program.must(201, "POST", "/api/studies/"+b.study+"/log", m{"id": store.NewID(), "unit_id": b.pine,
		"line": "? by the scales"},
		show(rooms))
	line := p.must(200, "GET", "/api/trail", nil)
	if line.str("lines.0.token") != "scales" || line.str("lines.0.who") != "analyst" {
		t.Errorf("the trail: %s", cut(line.text, 300))
	}
	for path, body := range map[string]m{"/api/session/tokens": {"id": store.NewID(), "name": "more",
		"token": freshToken()},
		"/api/session/password": {"old": "correct horse", "password": "four wet herons"}} {
		method := map[bool]string{true: "PUT", false: "POST"}[strings.HasSuffix(path, "password")]
		if a := program.do(method, path, body, show(all)); a.status != 403 {
			t.Errorf("%s by token: %d %s", path, a.status, a.text)
		}
	}
	same := store.NewID()
	twice := m{"id": store.NewID(), "name": "once", "family": "FR"}
	first := program.must(201, "POST", "/api/models/"+b.model+"/parts", twice, key(same), show(all))
	if again := program.must(201, "POST", "/api/models/"+b.model+"/parts", twice, key(same),
		show(all)); again.text != first.text {
		t.Errorf("the same key: %s, then %s", first.text, again.text)
	}
	list := p.must(200, "GET", "/api/session/tokens", nil)
	if list.str("2.last_used_from") == "" || list.str("2.last_used_from") == "<nil>" ||
		strings.Contains(list.text, "hash") {
		t.Errorf("the list: %s", list.text)
	}
	for field, body := range map[string]m{
		"token":      {"name": "short", "token": "wo_tooshort"},
		"name":       {"name": "till", "token": freshToken()},
		"rooms[0]":   {"name": "x", "token": freshToken(), "rooms": []string{"everything"}},
		"days":       {"name": "x", "token": freshToken(), "days": 731},
		"name: body": {"token": freshToken()},
	} {
		body["id"] = store.NewID()
		field, _, _ = strings.Cut(field, ":")
		if a := p.do("POST", "/api/session/tokens", body); a.status != 422 || !strings.Contains(a.text, field) {
			t.Errorf("%s: %d %s", field, a.status, a.text)
		}
	}
	// What does not count is answered alike, whatever the reason.
	dead := map[string]string{"unknown": freshToken(), "malformed": "nonsense", "empty": ""}
	old, _ := p.makeToken("old", m{"days": 1})
	gone, goneID := p.makeToken("gone", nil)
	p.must(200, "DELETE", "/api/session/tokens/"+goneID, nil)
	dead["revoked"] = gone
	theirs, _ := w.as(act.Buyer).makeToken("buyer's", nil)
	program.must(200, "GET", "/api/models", nil, show(theirs))
	w.app.DB.Exec("UPDATE accounts SET disabled = 1 WHERE name = 'buyer'")
	dead["disabled"] = theirs
	now := w.app.Now
	w.app.Now = func() time.Time { return time.Now().AddDate(0, 0, 2) }
	text := ""
	for what, token := range dead {
		a := program.do("GET", "/api/models", nil, func(r *http.Request) { r.Header.Set("Authorization", "Bearer "+token) })
		if a.status != 401 || a.header.Get("WWW-Authenticate") == "" || text != "" && a.text != text {
			t.Errorf("%s: %d %s", what, a.status, a.text)
		}
		text = a.text
	}
	program.must(401, "GET", "/api/models", nil, show(old))
	w.app.Now = now
	program.must(200, "GET", "/api/models", nil, show(old))
	if a := program.do("GET", "/api/models?q="+all, nil); a.status != 401 || !strings.Contains(a.text, "revoke it") {
		t.Errorf("a token in the address: %d %s", a.status, a.text)
	}
	if a := p.do("GET", "/api/models", nil, show(gone)); a.status != 401 {
		t.Errorf("a dead token beside a cookie that counts: %d", a.status)
	}
	// The office makes and ends tokens of others.
	office := w.as(act.Administrator)
	me := p.must(200, "GET", "/api/session", nil).str("who.id")
	made, madeID := freshToken(), store.NewID()
	office.must(201, "POST", "/api/accounts/"+me+"/tokens", m{"id": madeID, "name": "by the office", "token": made})
	program.must(200, "GET", "/api/models", nil, show(made))
	office.must(200, "DELETE", "/api/accounts/"+me+"/tokens/"+madeID, nil)
	program.must(401, "GET", "/api/models", nil, show(made))
	office.must(404, "DELETE", "/api/accounts/"+store.NewID()+"/tokens/"+allID, nil)
	limited := 0
	for range tokenBurst + 40 {
		if a := program.do("GET", "/api/session/told", nil, show(all)); a.status == 429 && a.header.Get("Retry-After") != "" {
			limited++
		}
	}
	if limited == 0 {
		t.Error("a token may ask without end")
	}
	program.must(200, "GET", "/api/models", nil, show(reads)) // each by itself
}

// TestEveryRouteAgainstEveryToken walks the OpenAPI document with a token of every role that may all and one that
// reads: no token does what its person may not, none that reads changes anything, and none touches sign-ins,
// passwords, accounts or tokens.
func TestEveryRouteAgainstEveryToken(t *testing.T) {
	w := start(t)
	doc, err := OpenAPI()
	if err != nil {
		t.Fatal(err)
	}
	var api struct {
		Paths map[string]map[string]struct {
			OperationID string `json:"operationId"`
		}
	}
	if err := json.Unmarshal(doc, &api); err != nil {
		t.Fatal(err)
	}
	id := regexp.MustCompile(`\{[a-z]+\}`)
	ofPeople := regexp.MustCompile(`^(sign-out|change-password|end-own-sign-in|see-told|(add|end)-own-token|add-account|change-account|` +
		`open-link|end-sign-in|(add|end)-token)$`)
	looks := regexp.MustCompile(`^(look-at-|try-score|get-needs-basket)`) // sent, but nothing is written
	program := w.nobody()
	walked := 0
	for _, role := range act.Roles {
		p := w.as(role)
		all, _ := p.makeToken("all", nil)
		reads, _ := p.makeToken("reads", m{"reads_only": true})
		for path, methods := range api.Paths {
			w.server.programs = newPrograms()
			address := id.ReplaceAllString(path, store.NewID())
			for method, op := range methods {
				public := op.OperationID == "get-session" || op.OperationID == "sign-in" ||
					strings.HasSuffix(path, "/links/{token}")
				if public || op.OperationID == "get-events" || op.OperationID == "sign-out" {
					continue
				}
				walked++
				person := p.do(strings.ToUpper(method), address, m{}).status
				for kind, token := range map[string]string{"all": all, "reads": reads} {
					got := program.do(strings.ToUpper(method), address, m{}, show(token)).status
					want := person == http.StatusForbidden || ofPeople.MatchString(op.OperationID) ||
						kind == "reads" && method != "get" && !looks.MatchString(op.OperationID)
					if (got == http.StatusForbidden) != want || got == http.StatusUnauthorized || got >= 500 {
						t.Errorf("%s %s by a token (%s) of the %s: %d, the person gets %d", method, path, kind, role, got, person)
					}
				}
			}
		}
	}
	if walked < 600 {
		t.Errorf("only %d walked", walked)
	}
}

// stream reads events until it is closed.
type stream struct {
	changes chan [2]string // id, data
	close   func()
}

func (w *world) listen(base string, changes ...with) *stream {
	w.t.Helper()
	ctx, cancel := context.WithCancel(context.Background())
	r, _ := http.NewRequestWithContext(ctx, "GET", base+"/api/events", nil)
	for _, c := range changes {
		c(r)
	}
	a, err := http.DefaultClient.Do(r)
	if err != nil {
		w.t.Fatal(err)
	}
	if a.StatusCode != 200 || !strings.HasPrefix(a.Header.Get("Content-Type"), "text/event-stream") {
		text, _ := io.ReadAll(a.Body)
		w.t.Fatalf("events: %d %s", a.StatusCode, text)
	}
	s := &stream{make(chan [2]string, 1000), cancel}
	go func() {
		defer close(s.changes)
		lines := bufio.NewScanner(a.Body)
		id, kind := "", ""
		for lines.Scan() {
			switch field, value, _ := strings.Cut(lines.Text(), ": "); field {
			case "id":
				id = value
			case "event":
				kind = value
			case "data":
				if kind == "change" {
					s.changes <- [2]string{id, value}
				}
			}
		}
	}()
	w.t.Cleanup(cancel)
	return s
}

// await waits for a change of a row.
func (s *stream) await(t *testing.T, row string) (id string) {
	t.Helper()
	end := time.After(10 * time.Second)
	for {
		select {
		case c, open := <-s.changes:
			if !open {
				t.Fatalf("the stream ended before %s was told", row)
			}
			if strings.Contains(c[1], row) {
				return c[0]
			}
		case <-end:
			t.Fatalf("nothing was told of %s", row)
		}
	}
}

// TestEvents: who listens hears of changes, of this program and of another on the same database, goes on after a cut
// without a hole, hears nothing that is not for them, and stops hearing when they may no longer.
func TestEvents(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	token, tokenID := p.makeToken("screen", m{"reads_only": true})
	part := func(p *person) string {
		id := store.NewID()
		p.must(201, "POST", "/api/models/"+b.model+"/parts", m{"id": id, "name": "part " + id, "family": "FR"})
		return id
	}
	one := w.listen(w.URL, show(token))
	time.Sleep(2 * lookEvery) // it listens from now on
	last := one.await(t, part(p))
	one.close()
	missed := []string{part(p), part(p), part(p)}
	again := w.listen(w.URL, show(token), func(r *http.Request) { r.Header.Set("Last-Event-ID", last) })
	for _, id := range missed {
		again.await(t, id)
	}
	// Another program on the same database, and a person signed in there.
	inner, engine := build(Config{App: w.app, Calibration: w.calibration, Log: slog.New(slog.NewTextHandler(io.Discard,
		nil))})
	handler, _, err := inner.handler(engine)
	if err != nil {
		t.Fatal(err)
	}
	second := httptest.NewServer(handler)
	t.Cleanup(second.Close)
	there := w.listen(second.URL, func(r *http.Request) {
		for _, c := range p.cookies() {
			r.AddCookie(c)
		}
	})
	time.Sleep(2 * lookEvery)
	id := part(p)
	there.await(t, id)
	again.await(t, id)
	// What is of people is told to the office alone.
	office := w.as(act.Administrator)
	account := store.NewID()
	officeToken, _ := office.makeToken("office", m{"reads_only": true})
	hears := w.listen(w.URL, show(officeToken))
	time.Sleep(2 * lookEvery)
	office.must(201, "POST", "/api/accounts", m{"id": account, "name": "newcomer", "display": "New", "role": "buyer",
		"token": strings.Repeat("cd", 20)})
	hears.await(t, account)
	after := part(p)
	for c := range again.changes {
		if strings.Contains(c[1], account) {
			t.Error("an account was told to an analyst")
		}
		if strings.Contains(c[1], after) {
			break
		}
	}
	for what, c := range map[string]struct {
		status int
		with   with
	}{"nobody": {401, func(*http.Request) {}}, "a number that is none": {422, func(r *http.Request) {
		show(token)(r)
		r.Header.Set("Last-Event-ID", "soon")
	}}, "a token in the address": {401, func(r *http.Request) { r.URL.RawQuery = "token=" + token }}} {
		r, _ := http.NewRequest("GET", w.URL+"/api/events", nil)
		c.with(r)
		if a, err := http.DefaultClient.Do(r); err != nil || a.StatusCode != c.status {
			t.Errorf("%s: %v %v", what, a, err)
		}
	}
	p.must(200, "DELETE", "/api/session/tokens/"+tokenID, nil)
	if a := w.nobody().do("GET", "/api/events", nil, show(token)); a.status != 401 {
		t.Errorf("a revoked token listens: %d", a.status)
	}
}

// cookies are those of a person for the first server.
func (p *person) cookies() []*http.Cookie {
	r, _ := http.NewRequest("GET", p.URL, nil)
	return p.client.Jar.Cookies(r.URL)
}

// TestManyListeners: five hundred streams, both ends of them in this process, take less than a hundred megabytes, and
// all of them hear.
func TestManyListeners(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	token, _ := p.makeToken("screen", m{"reads_only": true})
	memory := func() uint64 {
		runtime.GC()
		var now runtime.MemStats
		runtime.ReadMemStats(&now)
		return now.HeapInuse + now.StackInuse
	}
	before := memory()
	const many = 500
	var list []*stream
	for range many {
		list = append(list, w.listen(w.URL, show(token)))
		w.server.programs = newPrograms()
	}
	time.Sleep(2 * lookEvery)
	if took := memory() - before; took > 100<<20 {
		t.Errorf("%d listeners take %d MB", many, took>>20)
	} else {
		t.Logf("%d listeners take %d MB", many, took>>20)
	}
	id := store.NewID()
	p.must(201, "POST", "/api/models/"+b.model+"/parts", m{"id": id, "name": "heard", "family": "FR"})
	var wait sync.WaitGroup
	for _, s := range list {
		wait.Go(func() { s.await(t, id) })
	}
	wait.Wait()
	for _, s := range list {
		s.close()
	}
}
