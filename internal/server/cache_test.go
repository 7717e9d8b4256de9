package server

import (
	"io"
	"net/http"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// counted counts the statements that reach the database.
func (w *world) counted(t *testing.T) *atomic.Int64 {
	t.Helper()
	n := new(atomic.Int64)
	count := func(*gorm.DB) { n.Add(1) }
	c := w.app.DB.Callback()
	for _, err := range []error{c.Query().Before("gorm:query").Register("count", count),
		c.Row().Before("gorm:row").Register("count", count), c.Raw().Before("gorm:raw").Register("count", count)} {
		if err != nil {
			t.Fatal(err)
		}
	}
	return n
}

// fetch gets a page as a browser that may still have it; the status, its tag and the body come back.
func (p *person) fetch(path, have string) (int, string, string) {
	p.t.Helper()
	r, _ := http.NewRequest("GET", p.URL+path, nil)
	if have != "" {
		r.Header.Set("If-None-Match", have)
	}
	a, err := p.client.Do(r)
	if err != nil {
		p.t.Fatal(err)
	}
	defer a.Body.Close()
	body, _ := io.ReadAll(a.Body)
	return a.StatusCode, a.Header.Get("ETag"), string(body)
}

// TestRoomsAreKeptByRevision: what did not change is answered from memory or with 304; a change of the model or of any of
// its studies is seen at once, one of another model is not waited for.
func TestRoomsAreKeptByRevision(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	other := p.must(201, "POST", "/api/models", m{"id": store.NewID(), "maker": "Corvane", "name": "Atoll 77",
		"entry": "back", "width_mm": 70, "height_mm": 140}).str("id")
	n := w.counted(t)
	cost := func(work func()) int64 {
		before := n.Load()
		work()
		return n.Load() - before
	}
	for _, path := range []string{"/api/studies/" + b.study + "/swap", "/api/studies/" + b.study + "/strip",
		"/api/studies/" + b.study + "/intake", "/api/models/" + b.model + "/ways", "/api/studies", "/api/find?q=battery"} {
		var tag, body string
		cold := cost(func() { _, tag, body = p.fetch(path, "") })
		var again string
		warm := cost(func() { _, _, again = p.fetch(path, "") })
		if tag == "" || again != body || warm >= cold || warm > 4 {
			t.Errorf("%s: tag %q, %d statements at first, %d then, same %v", path, tag, cold, warm, again == body)
		}
		if status, same, none := p.fetch(path, tag); status != http.StatusNotModified || same != tag || none != "" {
			t.Errorf("%s: the browser has it still: %d", path, status)
		}
	}
	swap := "/api/studies/" + b.study + "/swap"
	_, tag, _ := p.fetch(swap, "")
	p.must(201, "POST", "/api/models/"+other+"/parts", m{"id": store.NewID(), "name": "battery", "family": "PW"})
	if status, _, _ := p.fetch(swap, tag); status != http.StatusNotModified {
		t.Errorf("another model was changed: %d", status)
	}
	for what, change := range map[string]func(){
		"a note": func() {
			p.must(201, "POST", "/api/studies/"+b.study+"/log", m{"id": store.NewID(), "unit_id": b.pine, "kind": "note",
				"note": "seen"})
		},
		"a baseline": func() {
			p.must(200, "PUT", "/api/units/"+b.pine+"/baseline/touch", m{"version": 0, "result": "pass", "assumed": false})
		},
		"the model": func() {
			p.must(201, "POST", "/api/models/"+b.model+"/parts", m{"id": store.NewID(), "name": "rim", "family": "FR"})
		},
	} {
		_, tag, _ := p.fetch(swap, "")
		change()
		if status, now, _ := p.fetch(swap, tag); status != 200 || now == tag {
			t.Errorf("%s was not seen: %d", what, status)
		}
	}
	if status, tag, _ := p.fetch("/api/studies/"+store.NewID()+"/swap", ""); status != 404 || tag != "" {
		t.Errorf("what is not there is not kept: %d, %q", status, tag)
	}
	if status, _, _ := w.nobody().fetch(swap, tag); status != 401 {
		t.Errorf("nobody is answered from memory: %d", status)
	}
}

// TestWhatIsWorkedOutOnceIsTheSame: the list of studies and the priors learned from others are kept beside the facts;
// forgotten, they come out the same, and a change of a study is seen in them.
func TestWhatIsWorkedOutOnceIsTheSame(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	n := w.counted(t)
	list := func() string { return p.must(200, "GET", "/api/studies", nil).text }
	first := list()
	if err := store.ForgetDerived(w.app.DB); err != nil {
		t.Fatal(err)
	}
	// Another model's change asks for the list again; this study's card is the one that was kept, or the same once more.
	other := func(name string) {
		p.must(201, "POST", "/api/models", m{"id": store.NewID(), "maker": "Corvane", "name": name, "entry": "back",
			"width_mm": 70, "height_mm": 140})
	}
	other("Atoll 81")
	if again := list(); again != first {
		t.Errorf("forgotten and worked out again: %s, before %s", again, first)
	}
	other("Atoll 82")
	before := n.Load()
	if again := list(); again != first {
		t.Errorf("kept: %s, before %s", again, first)
	}
	if took := n.Load() - before; took > 8 {
		t.Errorf("a kept list took %d statements", took)
	}
	p.must(200, "PUT", "/api/units/"+b.pine+"/baseline/touch", m{"version": 0, "result": "pass", "assumed": false})
	if now := list(); now == first {
		t.Error("a baseline was not seen in the list")
	}
}

// TestTheSameQuestionAtOnceIsWorkedOutOnce: thirty askers take the statements of one.
func TestTheSameQuestionAtOnceIsWorkedOutOnce(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	n := w.counted(t)
	path := "/api/studies/" + b.study + "/handover"
	slow := w.app.DB.Callback().Query()
	if err := slow.Before("gorm:query").Register("slow", func(g *gorm.DB) {
		if g.Statement.Table == "trials" {
			time.Sleep(300 * time.Millisecond) // so that all of them come while it is worked out
		}
	}); err != nil {
		t.Fatal(err)
	}
	before := n.Load()
	if status, _, _ := p.fetch(path, ""); status != 200 {
		t.Fatal(status)
	}
	one := n.Load() - before
	p.must(201, "POST", "/api/studies/"+b.study+"/log", m{"id": store.NewID(), "unit_id": b.pine, "kind": "note",
		"note": "seen"})
	before = n.Load()
	var wait sync.WaitGroup
	var good atomic.Int64
	for range 30 {
		wait.Go(func() {
			if status, _, _ := p.fetch(path, ""); status == 200 {
				good.Add(1)
			}
		})
	}
	wait.Wait()
	if all := n.Load() - before; good.Load() != 30 || all > one+30*4 {
		t.Errorf("%d answers with %d statements, one takes %d", good.Load(), all, one)
	}
}

// TestStatementsDoNotGrowWithStudies: every room takes at most twenty statements from an empty memory, however many
// studies there are.
func TestStatementsDoNotGrowWithStudies(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	other, _ := p.otherModel("Drift 80")
	for range 30 {
		p.must(201, "POST", "/api/studies", m{"id": store.NewID(), "model_id": b.model, "title": "another"})
	}
	unit := store.NewID() // with a trial, the score asks what the swap study says
	p.must(201, "POST", "/api/studies/"+b.study+"/units",
		m{"id": unit, "name": "TERN", "colour": "blue", "shape": "square", "build": "1.0"})
	p.must(201, "POST", "/api/studies/"+b.study+"/trials",
		m{"id": store.NewID(), "board_unit_id": unit, "results": m{"boot": "pass"}})
	seller := w.as(act.Buyer).stocked(b) // and the desk, with a price in other money
	w.as(act.Buyer).must(201, "POST", "/api/offers", m{"id": store.NewID(), "seller_id": seller, "for_model_id": b.model,
		"title": "far away", "covers": m{"battery": 1}, "grade": "used", "price_minor": 700, "currency": "USD",
		"priced_on": "2026-11-20T00:00:00Z", "stock": 1})
	n := w.counted(t)
	for _, path := range []string{"/api/studies", "/api/find?q=batt", "/api/models", "/api/studies/" + b.study,
		"/api/studies/" + b.study + "/intake", "/api/studies/" + b.study + "/strip", "/api/studies/" + b.study + "/swap",
		"/api/studies/" + b.study + "/swap?learned=true", "/api/studies/" + b.study + "/swap/account",
		"/api/studies/" + b.study + "/closeup", "/api/studies/" + b.study + "/handover",
		"/api/models/" + b.model + "/ways", "/api/models/" + b.model + "/score",
		"/api/models/" + b.model + "/parts/" + b.cell, "/api/fit/battery", "/api/models/" + b.model + "/compare/" + other,
		"/api/models/" + b.model + "/generations", "/api/days/2026-11-26"} {
		before := n.Load()
		if status, _, body := p.fetch(path, ""); status != 200 {
			t.Errorf("%s: %d %s", path, status, body)
		}
		// learning reads one's own study and those of other models, each with one set of statements
		if took := n.Load() - before; took > 20 && path != "/api/studies/"+b.study+"/swap?learned=true" || took > 35 {
			t.Errorf("%s took %d statements", path, took)
		}
	}
	for _, title := range []string{"first", "second", "third"} { // of the lab of a day: studies that hold trials
		study, unit := store.NewID(), store.NewID()
		p.must(201, "POST", "/api/studies", m{"id": study, "model_id": b.model, "title": title})
		p.must(201, "POST", "/api/studies/"+study+"/units",
			m{"id": unit, "name": "GULL", "colour": "green", "shape": "circle", "build": "1.0"})
		p.must(201, "POST", "/api/studies/"+study+"/trials",
			m{"id": store.NewID(), "board_unit_id": unit, "results": m{"boot": "pass"}})
		before := n.Load()
		status, _, body := p.fetch("/api/days/2026-11-26/lab", "")
		if took := n.Load() - before; status != 200 || took > 20 || !strings.Contains(body, `"looked":`) {
			t.Errorf("the lab of a day took %d statements: %d %s", took, status, body)
		}
	}
}
