package server

import (
	"fmt"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

func TestARepeatGetsTheSameAnswer(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	body := m{"id": store.NewID(), "name": "earpiece", "family": "SO"}
	k := key(store.NewID())
	one := p.must(201, "POST", "/api/models/"+b.model+"/parts", body, k)
	// The row moves on; the repeat is still given the answer of the first time.
	p.must(200, "PUT", "/api/parts/"+one.str("id"), m{"version": 1, "name": "ear speaker", "family": "SO"})
	if two := p.must(201, "POST", "/api/models/"+b.model+"/parts", body, k); two.text != one.text {
		t.Errorf("the repeat was answered differently:\n%s\n%s", one.text, two.text)
	}
	// The same body in another order of fields is the same body.
	p.must(201, "POST", "/api/models/"+b.model+"/parts",
		fmt.Sprintf(`{"family":"SO","name":"earpiece","id":%q}`, body["id"]), k)
	body["name"] = "loudspeaker"
	if a := p.must(409, "POST", "/api/models/"+b.model+"/parts", body, k); !strings.Contains(a.str("detail"),
		"Idempotency-Key") {
		t.Errorf("another body under the same key: %s", a.text)
	}
	other := w.as(act.Technician)
	outcome := "/api/models/" + b.model + "/parts/" + b.cell + "/outcomes"
	told := m{"id": store.NewID(), "minutes": 40, "went": "fine"}
	k2 := key(store.NewID())
	p.must(201, "POST", outcome, told, k2)
	other.must(409, "POST", outcome, told, k2)
	p.must(422, "POST", outcome, told, func(r *http.Request) { r.Header.Del("Idempotency-Key") })
	p.must(422, "POST", outcome, told, key("not a key"))
}

func TestTheSameChangeSentAtOnceIsMadeOnce(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	k, body := key(store.NewID()), m{"id": store.NewID(), "unit_id": b.pine,
		"step": m{"verb": "lift", "what": "tray", "side": "any"}}
	var wg sync.WaitGroup
	answers := make([]reply, 8)
	for i := range answers {
		wg.Go(func() { answers[i] = p.do("POST", "/api/studies/"+b.study+"/log", body, k) })
	}
	wg.Wait()
	for _, a := range answers {
		if a.text != answers[0].text || a.status != 201 && a.status != 503 {
			t.Errorf("answers differ: %d %s", a.status, a.text)
		}
	}
	a := p.must(200, "GET", "/api/studies/"+b.study+"/strip", nil)
	if n := len(a.get("log").([]any)); n != 1 {
		t.Errorf("%d entries", n)
	}
}

func TestAStaleUpdateShowsBothSides(t *testing.T) {
	w := start(t)
	one, two := w.as(act.Analyst), w.as(act.Analyst)
	b := one.bench()
	unit := func(build string, version int) m {
		return m{"version": version, "name": "PINE", "colour": "green", "shape": "circle", "build": build}
	}
	one.must(200, "PUT", "/api/units/"+b.pine, unit("4.2", 1))
	a := two.must(409, "PUT", "/api/units/"+b.pine, unit("4.3", 1))
	if a.str("current.build") != "4.2" || a.str("current.version") != "2" {
		t.Errorf("their side is missing: %s", a.text)
	}
	two.must(200, "PUT", "/api/units/"+b.pine, unit("4.3", 2)) // "use mine"
	study := func(version int) string { return fmt.Sprintf("/api/studies/%s?version=%d", b.study, version) }
	one.must(409, "DELETE", study(9), nil)
	one.must(200, "DELETE", study(1), nil)
	one.must(404, "GET", "/api/studies/"+b.study, nil)
	one.must(404, "DELETE", study(2), nil)
	restore := strings.Replace(study(2), "?", "/restore?", 1)
	if a := one.must(200, "POST", restore, nil); a.str("version") != "3" {
		t.Errorf("a restore is a version of its own: %s", a.text)
	}
	one.must(409, "POST", restore, nil)
	one.must(200, "GET", "/api/studies/"+b.study, nil)
}

func TestEveryChangeLeavesAnAuditLine(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	happened := time.Now().Add(-90 * time.Minute).UTC().Truncate(time.Second)
	p.must(200, "PUT", "/api/units/"+b.pine+"/baseline/boot", m{"version": 0, "result": "pass"},
		func(r *http.Request) { r.Header.Set("Happened-At", happened.Format(time.RFC3339)) })
	p.must(422, "PUT", "/api/units/"+b.pine+"/baseline/boot", m{"version": 1, "result": "great"})
	lines, err := store.List[store.AuditLine](w.app.DB, "id", "account_id <> ''")
	if err != nil {
		t.Fatal(err)
	}
	last := lines[len(lines)-1]
	if last.Entity != "Baseline" || last.Verb != "create" || !last.HappenedAt.Equal(happened) ||
		last.ArrivedAt.Sub(happened) < time.Hour || last.BeforeState != nil {
		t.Errorf("last line: %+v", last)
	}
	entry, _ := p.log(b, b.pine, m{"verb": "lift", "what": "display assembly", "side": "front", "frees": []string{b.lid}}, 5)
	if by := p.must(200, "GET", "/api/studies/"+b.study+"/strip", nil).str("by." + entry); by != "analyst" {
		t.Errorf("the entry was written by %q", by)
	}
	p.must(201, "POST", "/api/studies/"+b.study+"/trials",
		m{"id": store.NewID(), "board_unit_id": b.pine, "results": m{"boot": "pass"}})
	if by := p.must(200, "GET", "/api/studies/"+b.study+"/swap", nil).str("trials.0.by"); by != "analyst" {
		t.Errorf("the trial was recorded by %q", by)
	}
	for _, l := range lines {
		if l.AfterState != nil && strings.Contains(*l.AfterState, "argon2") {
			t.Errorf("a password hash is in the trail: %s", *l.AfterState)
		}
	}
}

// TestBadInput: clear answers that name the field, nothing changed, no 500.
func TestBadInput(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	entry, s1 := p.log(b, b.pine, m{"verb": "unfasten", "what": "rim", "side": "any", "joint": "screw",
		"drive": "cross", "count": 2}, 12)
	_, s2 := p.log(b, b.pine, m{"verb": "lift", "what": "display assembly", "side": "front", "frees": []string{b.lid}},
		0)
	p.must(201, "POST", "/api/studies/"+b.study+"/trials",
		m{"id": store.NewID(), "board_unit_id": b.pine, "results": m{"boot": "pass"}})
	snapshot := func() string {
		text := ""
		for _, room := range []string{"/intake", "/strip", "/swap"} {
			text += p.must(200, "GET", "/api/studies/"+b.study+room, nil).text
		}
		return text
	}
	before := snapshot()
	newStep := func(step m) m { return m{"id": store.NewID(), "unit_id": b.pine, "step": step} }
	step := func(change m) m {
		s := m{"verb": "lift", "what": "cell", "side": "front"}
		for k, v := range change {
			s[k] = v
		}
		return s
	}
	again := m{"id": store.NewID(), "unit_id": b.pine, "step_id": s2}
	trial := func(change m) m {
		x := m{"id": store.NewID(), "board_unit_id": b.pine}
		for k, v := range change {
			x[k] = v
		}
		return x
	}
	log, trials, parts := "/api/studies/"+b.study+"/log", "/api/studies/"+b.study+"/trials", "/api/models/"+b.model+"/parts"
	huge := strings.Repeat("x", 2<<20)
	for name, c := range map[string]struct {
		method, path string
		body         any
		status       int
		field        string
	}{
		"an unknown field":          {"POST", log, newStep(step(m{"torque": 3})), 422, "body.step.torque"},
		"a field in the wrong case": {"POST", log, newStep(step(m{"Tool": "pick"})), 422, "body.step.Tool"},
		"a verb that is none":       {"POST", log, newStep(step(m{"verb": "smash"})), 422, "body.step.verb"},
		"a negative duration":       {"POST", log, newStep(step(m{"seconds": -5})), 422, "body.step.seconds"},
		"a measured negative duration": {"POST", log,
			m{"id": store.NewID(), "unit_id": b.pine, "step_id": s1, "seconds": -1}, 422, "body.seconds"},
		"a drive on glue": {"POST", log, newStep(step(m{"joint": "adhesive", "drive": "cross"})),
			422, "body.step.drive"},
		"a part of nowhere": {"POST", log, newStep(step(m{"frees": []string{store.NewID()}})), 422,
			"body.step.frees[0]"},
		"a prerequisite of nowhere": {"POST", log, newStep(step(m{"after": [][]string{{s1, "s9"}}})), 422,
			"body.step.after[0][1]"},
		"certain damage": {"POST", log, newStep(step(m{"risk": m{b.cell: 1}})), 422,
			"body.step.risk." + b.cell},
		"a part freed twice": {"POST", log, again, 422, "body.frees"},
		"put back though it is in place": {"POST", log,
			m{"id": store.NewID(), "unit_id": b.amber, "step_id": s2, "back": true}, 422, "body.back"},
		"neither step nor new step": {"POST", log, m{"id": store.NewID(), "unit_id": b.pine}, 422,
			"body.step_id"},
		"a unit of nowhere": {"POST", log,
			m{"id": store.NewID(), "unit_id": store.NewID(), "step_id": s1}, 422, "body.unit_id"},
		"a note of two megabytes": {"PUT", "/api/log/" + entry, m{"version": 1, "seconds": 1, "note": huge},
			413, ""},
		"a note beyond its length": {"PUT", "/api/log/" + entry,
			m{"version": 1, "seconds": 1, "note": huge[:5000]}, 422, "body.note"},
		"prerequisites in a circle": {"PUT", "/api/steps/" + s1,
			m{"version": 1, "verb": "unfasten", "what": "rim", "side": "any", "after": [][]string{{s2}}}, 422,
			"body.after"},
		"an id that is none":      {"GET", "/api/studies/seventeen/strip", nil, 422, "path.id"},
		"an id of nothing":        {"GET", "/api/studies/" + store.NewID() + "/strip", nil, 404, ""},
		"a part's id for a model": {"GET", "/api/models/" + b.cell + "/ways", nil, 404, ""},
		"an objective that is none": {"GET", "/api/models/" + b.model + "/ways?minimise=fun", nil, 422,
			"query.minimise"},
		"a search beyond its length": {"GET", "/api/find?q=" + huge[:300], nil, 422, "query.q"},
		"a taken id": {"POST", parts, m{"id": b.cell, "name": "spare", "family": "PW"}, 409,
			""},
		"a taken name": {"POST", parts,
			m{"id": store.NewID(), "name": "BATTERY", "family": "PW"}, 422, "body.name"},
		"a name of spaces": {"POST", parts, m{"id": store.NewID(), "name": "   ", "family": "PW"},
			422, "body.name"},
		"a part wider than any phone": {"POST", parts,
			m{"id": store.NewID(), "name": "wide", "family": "PW", "w_mm": 4000}, 422, "body.w_mm"},
		"a taken sticker": {"POST", "/api/studies/" + b.study + "/units",
			m{"id": store.NewID(), "name": "pine", "colour": "red", "shape": "circle"}, 422, "body.name"},
		"a check of nowhere": {"PUT", "/api/units/" + b.pine + "/baseline/juggling",
			m{"version": 0, "result": "pass"}, 422, "body.check"},
		"a study of no model": {"POST", "/api/studies",
			m{"id": store.NewID(), "model_id": store.NewID(), "title": "x"}, 422, "body.model_id"},
		"a result that is none": {"POST", trials, trial(m{"results": m{"boot": "fine"}}), 422,
			"body.results.boot"},
		"a result for no check": {"POST", trials, trial(m{"results": m{"juggling": "pass"}}), 422,
			"body.results"},
		"a board of nowhere": {"POST", trials, trial(m{"board_unit_id": store.NewID()}), 422,
			"body.board_unit_id"},
		"a slot twice": {"POST", trials,
			trial(m{"pieces": []m{{"part_id": b.cell, "unit_id": b.amber}, {"part_id": b.cell, "origin": "off"}}}),
			422, "body.pieces[1].part_id"},
		"a piece of no unit": {"POST", trials,
			trial(m{"pieces": []m{{"part_id": b.cell, "unit_id": store.NewID()}}}), 422, "body.pieces[0].unit_id"},
		"a copy without a delivery": {"POST", trials,
			trial(m{"pieces": []m{{"part_id": b.cell, "origin": "copy"}}}), 422, "body.pieces[0].lot"},
		"broken JSON":              {"POST", trials, `{"id":`, 400, ""},
		"nonsense instead of JSON": {"POST", trials, "\x00\xff'; DROP TABLE trials; --", 400, ""},
		"a list for an object":     {"POST", trials, `[]`, 422, "body"},
		"a stale note": {"PUT", "/api/log/" + entry, m{"version": 7, "seconds": 1, "note": ""},
			409, ""},
		"taking back what a later one needs": {"DELETE", "/api/log/" + store.NewID() + "?version=1", nil, 404, ""},
	} {
		a := p.do(c.method, c.path, c.body)
		if a.status != c.status {
			t.Errorf("%s: want %d, got %d %s", name, c.status, a.status, a.text)
			continue
		}
		if ct := a.header.Get("Content-Type"); !strings.HasPrefix(ct, "application/problem+json") {
			t.Errorf("%s: answered as %s", name, ct)
		}
		if c.field != "" && a.str("errors.0.location") != c.field {
			t.Errorf("%s: want %s, got %s", name, c.field, a.text)
		}
		if a.str("detail") == "" || a.str("status") != fmt.Sprint(c.status) || len(a.text) > 3000 {
			t.Errorf("%s: not a clear answer: %.300s", name, a.text)
		}
	}
	if after := snapshot(); after != before {
		t.Errorf("something changed:\n%s\n%s", before, after)
	}
	if a := p.do("POST", log, again); !strings.Contains(a.str("detail"), "display assembly") ||
		!strings.Contains(a.str("detail"), "put it back first") {
		t.Errorf("freed twice is not said in plain words: %s", a.text)
	}
	if a := p.do("PUT", "/api/steps/"+s1, m{"version": 1, "verb": "unfasten", "what": "rim", "side": "any",
		"after": [][]string{{s2}}}); !strings.Contains(a.str("detail"), "s1 waits for s2 waits for s1") {
		t.Errorf("the circle is not shown: %s", a.text)
	}
}
