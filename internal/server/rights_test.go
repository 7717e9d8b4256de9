package server

import (
	"encoding/json"
	"net/http"
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
	people := map[act.Role]*person{"": w.nobody()}
	for _, r := range act.Roles {
		people[r] = w.as(r)
	}
	public := map[string]bool{"get-session": true, "sign-in": true}
	// Sent, but nothing is written: a rule that is tried, a table that is looked at.
	const says = `say-fact|say-shop-fact|change-fact|delete-fact|restore-fact|try-score|look-at-(desk-)?table|[a-z]+-work`
	const buys = `(add|change|delete|restore)-(seller|offer|exchange|price|delivery|shelf)|receive-delivery|set-workshop|put-desk-table`
	writes := map[act.Role]*regexp.Regexp{
		act.Analyst:    regexp.MustCompile(`.`),
		act.Technician: regexp.MustCompile(`^(add-outcome|add-dry-run|add-dry-act|end-dry-run|` + says + `)$`),
		act.Buyer:      regexp.MustCompile(`^(add-dry-run|add-dry-act|end-dry-run|` + says + `|` + buys + `)$`),
		act.Administrator: regexp.MustCompile(
			`^(add-dry-run|add-dry-act|end-dry-run|try-score|look-at-(desk-)?table|draft-rubric|set-workshop|` +
				`change-rubric|delete-rubric|restore-rubric|publish-rubric)$`,
		),
		"": regexp.MustCompile(`^$`),
	}
	bought := regexp.MustCompile(`^(` + buys + `)$`)
	id := regexp.MustCompile(`\{[a-z]+\}`)
	walked := 0
	for path, methods := range api.Paths {
		address := id.ReplaceAllString(path, store.NewID())
		for method, op := range methods {
			walked++
			for role, p := range people {
				if op.OperationID == "sign-out" || op.OperationID == "sign-in" {
					continue // told below, and in the session tests
				}
				a := p.do(strings.ToUpper(method), address, m{})
				refused := a.status == http.StatusUnauthorized || a.status == http.StatusForbidden
				want := op.OperationID == "publish-rubric" && role != act.Administrator ||
					role == act.Analyst && bought.MatchString(op.OperationID) ||
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
	if a := people[""].do("DELETE", "/api/session", nil); a.status != 401 {
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
		a.str("rights") != "[dry runs facts jobs outcomes session]" {
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
