package server

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"regexp"
	"strings"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// TestEveryRouteAgainstEveryRole walks the OpenAPI document and the rights table. What may be written by whom is said
// here a second time, in words of the interface, so that neither the table nor a route can drift unseen.
func TestEveryRouteAgainstEveryRole(t *testing.T) {
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
	persons := map[act.Role]*person{"": w.nobody()}
	for _, r := range act.Roles {
		persons[r] = w.as(r)
	}
	public := map[string]bool{"get-session": true, "sign-in": true, "get-link": true, "use-link": true}
	// Sent, but nothing is written: a rule that is tried, a table that is looked at.
	const own = `change-password|end-own-sign-in|see-told|(add|end)-own-token`
	const people = `add-account|change-account|open-link|end-sign-in|(add|end)-token`
	const says = `say-fact|say-shop-fact|change-fact|delete-fact|restore-fact|try-score|look-at-((desk-)?table|narration|offers)|get-needs-basket|[a-z]+-work|[a-z]+-day-job|add-word|` + own
	const buys = `(add|change|delete|restore)-(seller|offer|exchange|price|delivery|shelf|need)|(import|undo)-offers|make-orders|(change|move|ask|write-off|receive)-order|tell-claim|add-build-needs|(add|delete|restore)-lot-picture|receive-delivery|set-workshop|put-desk-table`
	const words = `(change|delete|restore)-word` // the office edits what whoever logs has taught
	writes := map[act.Role]*regexp.Regexp{
		act.Analyst:    regexp.MustCompile(`.`), // less what follows below
		act.Technician: regexp.MustCompile(`^(add-outcome|add-dry-run|add-dry-act|end-dry-run|[a-z]+-fault(-act)?|[a-z]+-visit(-entry|-photo)?|add-proposal|` + says + `)$`),
		act.Buyer:      regexp.MustCompile(`^(add-dry-run|add-dry-act|end-dry-run|` + says + `|` + buys + `|` + words + `)$`),
		act.Administrator: regexp.MustCompile(
			`^(add-dry-run|add-dry-act|end-dry-run|try-score|look-at-((desk-)?table|narration|offers)|get-needs-basket|draft-rubric|set-workshop|` +
				`change-rubric|delete-rubric|restore-rubric|publish-rubric|add-word|` + words + `|` + own + `|` + people + `)$`,
		),
		"": regexp.MustCompile(`^$`),
	}
	forOffice := regexp.MustCompile(`^(` + people + `|list-accounts|list-sign-ins|list-tokens)$`)
	bought, edits := regexp.MustCompile(`^(`+buys+`)$`), regexp.MustCompile(`^(`+words+`)$`)
	id := regexp.MustCompile(`\{[a-z]+\}`)
	walked := 0
	for path, methods := range api.Paths {
		address := id.ReplaceAllString(path, store.NewID())
		for method, op := range methods {
			walked++
			for role, p := range persons {
				if op.OperationID == "sign-out" || op.OperationID == "sign-in" || op.OperationID == "get-events" {
					continue // told below, and in tests of their own
				}
				a := p.do(strings.ToUpper(method), address, m{})
				refused := a.status == http.StatusUnauthorized || a.status == http.StatusForbidden
				want := op.OperationID == "publish-rubric" && role != act.Administrator ||
					role != act.Administrator && forOffice.MatchString(op.OperationID) ||
					(role == act.Technician || role == act.Buyer) && strings.HasPrefix(op.OperationID, "get-trail") ||
					role == act.Analyst && (bought.MatchString(op.OperationID) || edits.MatchString(op.OperationID)) ||
					!public[op.OperationID] && (role == "" || method != "get" &&
						!writes[role].MatchString(op.OperationID))
				if refused != want {
					t.Errorf("%s %s as %q: refused is %v (%d %s)", method, path, role, refused, a.status, a.text)
				}
				if refused && (role == "") != (a.status == http.StatusUnauthorized) {
					t.Errorf("%s %s as %q: %d", method, path, role, a.status)
				}
				if a.status >= 500 {
					t.Errorf("%s %s as %q: %d %s", method, path, role, a.status, a.text)
				}
			}
		}
	}
	if walked < 25 {
		t.Errorf("only %d routes walked", walked)
	}
	if a := persons[""].do("DELETE", "/api/session", nil); a.status != 401 {
		t.Errorf("signing out without a session: %d", a.status)
	}
}

func TestSessions(t *testing.T) {
	w := start(t)
	p := w.nobody()
	if a := p.must(200, "GET", "/api/session", nil); a.get("who") != nil {
		t.Errorf("somebody is signed in: %s", a.text)
	}
	for name, body := range map[string]m{
		"a wrong password": {"name": "analyst", "password": "wrong horse"},
		"an unknown name":  {"name": "nobody", "password": "correct horse"},
	} {
		if a := p.must(401, "POST", "/api/session", body); !strings.Contains(a.str("detail"),
			"Name or password is wrong") {
			t.Errorf("%s: %s", name, a.text)
		}
	}
	a := p.must(200, "POST", "/api/session", m{"name": "technician", "password": "correct horse"})
	cookie := strings.Join(a.header.Values("Set-Cookie"), "; ")
	for _, want := range []string{"waryowl=", "HttpOnly", "SameSite=Strict"} {
		if !strings.Contains(cookie, want) {
			t.Errorf("the cookie lacks %s: %s", want, cookie)
		}
	}
	if strings.Contains(a.text, "argon") || a.str("who.role") != "technician" ||
		a.str("rights") != "[dry runs facts jobs outcomes session visits words]" {
		t.Errorf("who: %s", a.text)
	}
	if a := p.must(403, "POST", "/api/models", m{}); !strings.Contains(a.str("detail"),
		"As technician you may read this") {
		t.Errorf("refusal: %s", a.text)
	}
	p.must(200, "DELETE", "/api/session", nil)
	p.must(401, "GET", "/api/studies", nil)

	limited := 0
	for range 14 {
		if a := p.do("POST", "/api/session", m{"name": "buyer", "password": "guess"}); a.status == 429 {
			limited++
		}
	}
	if limited < 2 {
		t.Errorf("14 guesses, %d held back", limited)
	}
	if a := p.do("POST", "/api/session", m{"name": "analyst", "password": "correct horse"}); a.status != 200 {
		t.Errorf("guessing one name locks another out: %s", a.text)
	}
}

func TestOtherSitesAndHeaders(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	cross := func(r *http.Request) { r.Header.Set("Sec-Fetch-Site", "cross-site") }
	p.must(403, "POST", "/api/models", m{"id": store.NewID(), "maker": "Pellow", "name": "X", "entry": "front"}, cross)
	p.must(403, "POST", "/api/models", m{}, func(r *http.Request) {
		r.Header.Set("Origin",
			"http://elsewhere.example")
	})
	p.must(200, "GET", "/api/studies", nil, cross) // reading by link is harmless, and the cookie is strict anyway
	for path, want := range map[string]int{"/healthz": 200, "/": 200, "/studies/anything/strip": 200,
		"/assets/none.js": 404, "/api/none": 404} {
		a := p.do("GET", path, nil)
		if a.status != want {
			t.Errorf("%s: %d", path, a.status)
		}
		csp := a.header.Get("Content-Security-Policy")
		if !strings.Contains(csp, "script-src 'self' 'wasm-unsafe-eval'") ||
			strings.Contains(csp, "script-src 'unsafe-inline'") || !strings.Contains(csp, "default-src 'none'") ||
			a.header.Get("X-Content-Type-Options") != "nosniff" {
			t.Errorf("%s: headers %v", path, a.header)
		}
	}
	p.bench()
	packed := p.do("GET", "/api/studies", nil, func(r *http.Request) { r.Header.Set("Accept-Encoding", "gzip") })
	if packed.header.Get("Content-Encoding") != "gzip" {
		t.Errorf("a long answer is not packed for those who can unpack it: %v", packed.header)
	}
	if a := p.do("PATCH", "/api/models", nil); a.status != 405 ||
		!strings.Contains(a.header.Get("Content-Type"), "problem+json") {
		t.Errorf("a method that is none: %d %s", a.status, a.header)
	}
}

// TestPeople: an account made with a one-time link, its sign-ins seen and ended, a password changed, the last
// administrator kept, and all of it on the trail without a password or a token.
func TestPeople(t *testing.T) {
	w := start(t)
	admin := w.as(act.Administrator)
	token, id := strings.Repeat("ab", 16), store.NewID()
	a := admin.must(
		201,
		"POST",
		"/api/accounts",
		m{"id": id, "name": "gull", "display": "Gull", "role": "technician", "token": token},
	)
	if a.get("waiting") != true || strings.Contains(a.text, token) {
		t.Errorf("made: %s", a.text)
	}
	stranger := w.nobody()
	stranger.must(401, "POST", "/api/session", m{"name": "gull", "password": "-"})
	if a := stranger.must(200, "GET", "/api/links/"+token, nil); a.str("name") != "gull" || a.get("first") != false {
		t.Errorf("link: %s", a.text)
	}
	want(
		t,
		"a weak password",
		stranger.must(422, "POST", "/api/links/"+token, m{"password": "gullgull"}).text,
		"password",
	)
	stranger.must(200, "POST", "/api/links/"+token, m{"password": "four wet herons tonight"})
	stranger.must(404, "POST", "/api/links/"+token, m{"password": "four wet herons tonight"})
	if a := stranger.must(200, "GET", "/api/session", nil); a.str("who.name") != "gull" {
		t.Errorf("signed in by the link: %s", a.text)
	}
	// A second device; the first one ends it, and changes the password, which ends all others.
	second := w.nobody()
	second.must(200, "POST", "/api/session", m{"name": "gull", "password": "four wet herons tonight"})
	list := stranger.must(200, "GET", "/api/session/sign-ins", nil)
	if list.get("1") == nil || list.get("2") != nil {
		t.Fatalf("sign-ins: %s", list.text)
	}
	for i := range 2 {
		if list.get(fmt.Sprintf("%d.here", i)) == false {
			stranger.must(200, "DELETE", "/api/session/sign-ins/"+list.str(fmt.Sprintf("%d.id", i)), nil)
		}
	}
	second.must(401, "GET", "/api/models", nil)
	third := w.nobody()
	third.must(200, "POST", "/api/session", m{"name": "gull", "password": "four wet herons tonight"})
	want(
		t,
		"a wrong old password",
		stranger.must(422, "PUT", "/api/session/password", m{"old": "x", "password": "five dry terns at noon"}).text,
		"old",
	)
	stranger.must(
		200,
		"PUT",
		"/api/session/password",
		m{"old": "four wet herons tonight", "password": "five dry terns at noon"},
	)
	third.must(401, "GET", "/api/models", nil)
	stranger.must(200, "GET", "/api/models", nil)
	// Disabled at once; the last administrator stays.
	row := admin.must(200, "GET", "/api/accounts", nil)
	own := ""
	for i := range 5 {
		if row.str(fmt.Sprintf("%d.name", i)) == "administrator" {
			own = row.str(fmt.Sprintf("%d.id", i))
		}
	}
	want(
		t,
		"the last administrator",
		admin.must(422, "PUT", "/api/accounts/"+own, m{"version": 1, "display": "A", "role": "buyer"}).text,
		"last one",
	)
	admin.must(
		200,
		"PUT",
		"/api/accounts/"+id,
		m{"version": 3, "display": "Gull", "role": "technician", "disabled": true},
	)
	stranger.must(401, "GET", "/api/models", nil)
	w.nobody().must(401, "POST", "/api/session", m{"name": "gull", "password": "five dry terns at noon"})
	trail := admin.must(200, "GET", "/api/trail?row="+id, nil)
	if trail.get("lines.3") == nil || trail.get("lines.4") != nil || trail.str("lines.0.who") != "administrator" ||
		!strings.Contains(trail.text, "Disabled") {
		t.Errorf("trail: %s", trail.text)
	}
	table := admin.must(200, "GET", "/api/trail/table?entity=Account", nil).text
	for _, secret := range []string{token, "argon", "herons", "terns"} {
		if strings.Contains(trail.text, secret) || strings.Contains(table, secret) {
			t.Errorf("the trail tells %s", secret)
		}
	}
	if rows, err := csv.NewReader(strings.NewReader(table)).ReadAll(); err != nil || len(rows) < 5 {
		t.Errorf("table: %d rows, %v", len(rows), err)
	}
	want(t, "an entity that is none", admin.must(422, "GET", "/api/trail?entity=Song", nil).text, "entity")
	// A second page goes on where the first ended.
	first := admin.must(200, "GET", "/api/trail", nil)
	if more := first.str("more"); more != "" && more != "<nil>" {
		if next := admin.must(200, "GET", "/api/trail?before="+more, nil); next.str(
			"lines.0.id",
		) >= first.str(
			"lines.49.id",
		) {
			t.Errorf("pages: %s after %s", next.str("lines.0.id"), first.str("lines.49.id"))
		}
	}
}

// TestBehindAProxy: only a declared proxy may say that a request came over TLS; then cookies are for TLS alone and
// browsers are told to stay there. What is counted is told on a handler of its own.
func TestBehindAProxy(t *testing.T) {
	w := start(t)
	for name, c := range map[string]struct {
		proxies []netip.Prefix
		secure  bool
	}{"declared": {[]netip.Prefix{netip.MustParsePrefix("127.0.0.0/8")}, true}, "a stranger": {nil, false}} {
		handler, told, err := New(Config{App: w.app, Calibration: w.calibration, Proxies: c.proxies,
			Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
		if err != nil {
			t.Fatal(err)
		}
		s := httptest.NewServer(handler)
		r, _ := http.NewRequest(
			"POST",
			s.URL+"/api/session",
			strings.NewReader(`{"name":"buyer","password":"correct horse"}`),
		)
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("X-Forwarded-Proto", "https")
		a, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		a.Body.Close()
		cookies := strings.Join(a.Header.Values("Set-Cookie"), "\n")
		if got := a.Header.Get("Strict-Transport-Security") != ""; got != c.secure || a.StatusCode != 200 {
			t.Errorf("%s: HSTS %v, %d", name, got, a.StatusCode)
		}
		if strings.Count(cookies, "; Secure") != map[bool]int{true: 2, false: 0}[c.secure] {
			t.Errorf("%s: %s", name, cookies)
		}
		if a.Header.Get("X-Request-Id") == "" {
			t.Error("a request without a number")
		}
		if a, err := http.Get(s.URL + "/metrics"); err != nil ||
			strings.Contains(a.Header.Get("Content-Type"), "version=0.0.4") {
			t.Errorf("%s: counts are told to everybody: %v", name, err)
		}
		if a, err := http.Get(s.URL + "/readyz"); err != nil || a.StatusCode != 200 {
			t.Errorf("%s: not ready: %v %v", name, a, err)
		}
		page := httptest.NewRecorder()
		told.ServeHTTP(page, httptest.NewRequest("GET", "/metrics", nil))
		for _, want := range []string{`waryowl_requests_total{method="POST",status="200"} 1`,
			"waryowl_request_seconds_count", "go_sql_open_connections"} {
			if !strings.Contains(page.Body.String(), want) {
				t.Errorf("%s: no %s in the counts", name, want)
			}
		}
		s.Close()
	}
}

// TestAnAdministratorAlone: while there is no analyst an administrator does an analyst's work, and no longer.
func TestAnAdministratorAlone(t *testing.T) {
	w := start(t)
	admin := w.as(act.Administrator)
	model := func() int {
		return admin.do("POST", "/api/models", m{"id": store.NewID(), "maker": "Pellow",
			"name":  "Drift " + store.NewID()[:6],
			"entry": "front"}).status
	}
	if got := model(); got != http.StatusForbidden {
		t.Errorf("with an analyst there: %d", got)
	}
	var people []struct {
		ID, Display, Role string
		Version           int
	}
	if err := json.Unmarshal([]byte(admin.do("GET", "/api/accounts", nil).text), &people); err != nil {
		t.Fatal(err)
	}
	for _, p := range people {
		if p.Role != "analyst" {
			continue
		}
		set := func(version int, disabled bool) {
			t.Helper()
			if a := admin.do("PUT", "/api/accounts/"+p.ID, m{"version": version, "display": p.Display,
				"role":     "analyst",
				"disabled": disabled}); a.status != http.StatusOK {
				t.Fatalf("%d %s", a.status, a.text)
			}
		}
		set(p.Version, true)
		if got := model(); got != http.StatusCreated {
			t.Errorf("alone: %d", got)
		}
		if me := admin.do("GET", "/api/session", nil).text; !strings.Contains(me, `"alone":true`) ||
			!strings.Contains(me, `"studies"`) {
			t.Errorf("who may do what: %s", me)
		}
		set(p.Version+1, false)
	}
	if got := model(); got != http.StatusForbidden {
		t.Errorf("with an analyst again: %d", got)
	}
}
