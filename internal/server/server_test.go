package server

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/netip"
	"os"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/account"
	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/calibration"
	"waryowl/internal/mariadb/mariadbtest"
	"waryowl/internal/store"
)

func TestMain(m *testing.M) {
	slog.SetDefault(slog.New(slog.DiscardHandler))
	os.Exit(mariadbtest.Main(m))
}

// world is a server on a database of its own, with an account of every role.
type world struct {
	*httptest.Server
	t   testing.TB
	app *act.Service

	calibration *calibration.Client
	server      *server
}

func start(t testing.TB) *world { return startWith(t, nil) }

// startWith also loads a world, whose people of the same names get the passwords of the tests.
func startWith(t testing.TB, load func(context.Context, *act.Service) error) *world {
	t.Helper()
	ctx := context.Background()
	db, err := store.Open(ctx, mariadbtest.Database(t))
	if err != nil {
		t.Fatal(err)
	}
	if err := store.Migrate(ctx, db); err != nil {
		t.Fatal(err)
	}
	s := &act.Service{DB: db, Now: time.Now}
	if err := model.EnsureCatalogue(ctx, s); err != nil {
		t.Fatal(err)
	}
	if load != nil {
		if err := load(ctx, s); err != nil {
			t.Fatal(err)
		}
		if err := db.Exec("UPDATE accounts SET name = CONCAT('demo ', name)").Error; err != nil {
			t.Fatal(err)
		}
	}
	for _, role := range act.Roles {
		if _, err := account.Add(ctx, s, act.Command{Key: store.NewID()}, string(role), string(role), string(role),
			"correct horse"); err != nil {
			t.Fatal(err)
		}
	}
	service := &calibration.Client{}
	inner, engine := build(Config{App: s, Calibration: service, Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	handler, _, err := inner.handler(engine)
	if err != nil {
		t.Fatal(err)
	}
	w := &world{httptest.NewServer(handler), t, s, service, inner}
	t.Cleanup(func() {
		w.Close()
		pool, _ := db.DB()
		pool.Close()
	})
	return w
}

// person is a browser with cookies.
type person struct {
	*world
	client *http.Client
}

func (w *world) nobody() *person {
	jar, _ := cookiejar.New(nil)
	return &person{w, &http.Client{Jar: jar, Timeout: 30 * time.Second}}
}

func (w *world) as(role act.Role) *person {
	p := w.nobody()
	if a := p.do("POST", "/api/session", map[string]any{"name": role, "password": "correct horse"}); a.status != 200 {
		w.t.Fatalf("sign-in as %s: %+v", role, a)
	}
	return p
}

type reply struct {
	status int
	header http.Header
	text   string
}

func (a reply) get(path string) any {
	var v any
	json.Unmarshal([]byte(a.text), &v)
	for _, key := range strings.Split(path, ".") {
		switch x := v.(type) {
		case map[string]any:
			v = x[key]
		case []any:
			i := 0
			fmt.Sscan(key, &i)
			if i >= len(x) {
				return nil
			}
			v = x[i]
		default:
			return nil
		}
	}
	return v
}

func (a reply) str(path string) string { return fmt.Sprint(a.get(path)) }

// with changes a request before it is sent.
type with func(*http.Request)

func key(k string) with { return func(r *http.Request) { r.Header.Set("Idempotency-Key", k) } }

func (p *person) do(method, path string, body any, changes ...with) reply {
	p.t.Helper()
	var text []byte
	switch b := body.(type) {
	case nil:
	case string:
		text = []byte(b)
	default:
		text, _ = json.Marshal(b)
	}
	r, err := http.NewRequest(method, p.URL+path, bytes.NewReader(text))
	if err != nil {
		p.t.Fatal(err)
	}
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("Idempotency-Key", store.NewID())
	for _, c := range changes {
		c(r)
	}
	answer, err := p.client.Do(r)
	if err != nil {
		p.t.Fatal(err)
	}
	defer answer.Body.Close()
	out, _ := io.ReadAll(answer.Body)
	return reply{answer.StatusCode, answer.Header, string(out)}
}

// must is do with an expected status.
func (p *person) must(status int, method, path string, body any, changes ...with) reply {
	p.t.Helper()
	a := p.do(method, path, body, changes...)
	if a.status != status {
		p.t.Fatalf("%s %s: want %d, got %d %s", method, path, status, a.status, a.text)
	}
	return a
}

type m = map[string]any

// bench is a small study made through the routes: a model of three parts, two units, and the ids of everything.
type bench struct {
	model, study, pine, amber string
	lid, cell, board          string
}

func (p *person) bench() bench {
	p.t.Helper()
	b := bench{model: store.NewID(), study: store.NewID(), pine: store.NewID(), amber: store.NewID()}
	p.must(201, "POST", "/api/models", m{"id": b.model, "maker": "Pellow", "name": "Drift 9", "entry": "front",
		"width_mm": 70, "height_mm": 150})
	part := func(name, family string) string {
		return p.must(201, "POST", "/api/models/"+b.model+"/parts",
			m{"id": store.NewID(), "name": name, "family": family, "slot": true, "w_mm": 20, "h_mm": 30,
				"connector_code": "D9-" + name[:2]}).str("id")
	}
	b.lid, b.cell, b.board = part("display assembly", "SC"), part("battery", "PW"), part("sensor strip", "SE")
	p.must(201, "POST", "/api/studies", m{"id": b.study, "model_id": b.model, "title": "First look"})
	p.must(201, "POST", "/api/studies/"+b.study+"/units",
		m{"id": b.pine, "name": "PINE", "colour": "green", "shape": "circle", "build": "4.1"})
	p.must(201, "POST", "/api/studies/"+b.study+"/units",
		m{"id": b.amber, "name": "AMBER", "colour": "amber", "shape": "square", "build": "4.1"})
	return b
}

// log logs a new step on a unit and returns the ids of the entry and the step.
func (p *person) log(b bench, unit string, step m, seconds float64) (entry, id string) {
	p.t.Helper()
	a := p.must(201, "POST", "/api/studies/"+b.study+"/log",
		m{"id": store.NewID(), "unit_id": unit, "step": step, "seconds": seconds})
	return a.str("id"), a.str("step_id")
}

func sentence(a reply) string {
	var text strings.Builder
	list, _ := a.get("answer").([]any)
	for _, f := range list {
		x := f.(map[string]any)
		if s, ok := x["text"]; ok {
			text.WriteString(s.(string))
			continue
		}
		fact := x["fact"].(map[string]any)
		if n, ok := fact["name"]; ok {
			text.WriteString(n.(string))
			continue
		}
		fmt.Fprintf(&text, "%.1f", fact["value"])
		if u, ok := fact["unit"]; ok {
			text.WriteString(" " + u.(string))
		}
	}
	return text.String()
}

func prefixes(t *testing.T, texts ...string) []netip.Prefix {
	t.Helper()
	var out []netip.Prefix
	for _, text := range texts {
		p, err := netip.ParsePrefix(text)
		if err != nil {
			t.Fatal(err)
		}
		out = append(out, p)
	}
	return out
}
