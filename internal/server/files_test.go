package server

import (
	"encoding/base64"
	"encoding/json"
	"net/http"
	"strings"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// TestFilesLeaveClosed: every file leaves under a name that any system takes, and can neither run nor ask for anything.
func TestFilesLeaveClosed(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	p.log(b, b.pine, m{"verb": "lift", "what": "lid", "side": "front", "frees": []string{b.lid}}, 20)
	reader := w.as(act.Buyer)
	for path, want := range map[string]struct{ kind, how, begins string }{
		"/api/models/" + b.model + "/document":                         {"application/json", "attachment", "{"},
		"/api/models/" + b.model + "/studies/" + b.study + "/document": {"application/json", "attachment", "{"},
		"/api/models/" + b.model + "/tables/parts/csv":                 {"text/csv", "attachment", "name,family"},
		"/api/models/" + b.model + "/tables/steps/xlsx":                {"spreadsheetml", "attachment", "PK"},
		"/api/models/" + b.model + "/tables/trials/csv":                {"text/csv", "attachment", "study,trial"},
		"/api/models/" + b.model + "/desk/offers/csv":                  {"text/csv", "attachment", "seller,title"},
		"/api/models/" + b.model + "/plan":                             {"graphviz", "attachment", "digraph"},
		"/api/models/" + b.model + "/map":                              {"image/svg+xml", "attachment", "<?xml"},
		"/api/models/" + b.model + "/score/chart":                      {"image/svg+xml", "attachment", "<?xml"},
		"/api/studies/" + b.study + "/sheet/html":                      {"text/html", "inline", "<!doctype html>"},
		"/api/studies/" + b.study + "/sheet/html?keep=true":            {"text/html", "attachment", "<!doctype html>"},
		"/api/studies/" + b.study + "/sheet/pdf?sections=ways,open":    {"application/pdf", "inline", "%PDF-"},
		"/api/studies/" + b.study + "/labels":                          {"application/pdf", "inline", "%PDF-"},
	} {
		a := reader.must(200, "GET", path, nil)
		name := a.header.Get("Content-Disposition")
		if !strings.Contains(a.header.Get("Content-Type"), want.kind) || !strings.HasPrefix(name, want.how) ||
			!strings.HasPrefix(a.text, want.begins) {
			t.Errorf("%s: %s, %s, %.20q", path, a.header.Get("Content-Type"), name, a.text)
		}
		if csp := a.header.Get("Content-Security-Policy"); !strings.Contains(csp, "sandbox") ||
			strings.Contains(csp, "script-src") {
			t.Errorf("%s: policy %q", path, csp)
		}
		if strings.ContainsAny(strings.TrimPrefix(name, want.how+`; filename="`), `/\ ;`) {
			t.Errorf("%s: name %q", path, name)
		}
	}
	for path, status := range map[string]int{
		"/api/studies/" + b.study + "/sheet/html?sections=songs": 422,
		"/api/studies/" + b.study + "/sheet/rtf":                 422,
		"/api/models/" + store.NewID() + "/document":             404,
		"/api/models/" + b.model + "/tables/songs/csv":           422,
		"/api/codes/WOPNOTACODE":                                 422,
		"/api/rubrics/nobody":                                    404,
	} {
		reader.must(status, "GET", path, nil)
	}
}

// TestDocumentsAndTablesComeIn: once for a key, refused by field, and only from those who may write models.
func TestDocumentsAndTablesComeIn(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	doc := p.must(200, "GET", "/api/models/"+b.model+"/document", nil).text
	raw := func(r *http.Request) { r.Header.Set("Content-Type", "application/octet-stream") }
	k := key(store.NewID())
	one := p.must(201, "POST", "/api/documents?name=Drift%2010", doc, raw, k)
	if two := p.must(201, "POST", "/api/documents?name=Drift%2010", doc, raw, k); two.text != one.text {
		t.Errorf("a repeat made another model: %s, %s", one.text, two.text)
	}
	if a := p.must(422, "POST", "/api/documents", doc, raw); !strings.Contains(a.str("errors.0.location"), "name") {
		t.Errorf("a name that is taken: %s", a.text)
	}
	if a := p.must(422, "POST", "/api/documents?name=x", strings.Replace(doc, `"family": "PW"`, `"family": "QQ"`, 1), raw); !strings.Contains(
		a.text,
		"family",
	) {
		t.Errorf("a family that is not: %s", a.text)
	}
	w.as(act.Technician).must(403, "POST", "/api/documents?name=y", doc, raw)
	file := base64.StdEncoding.EncodeToString([]byte("name,family\nlid foil,FR\n"))
	look := p.must(200, "POST", "/api/models/"+b.model+"/tables/parts/look", m{"file": file})
	if look.get("new").(float64) != 1 || look.get("taken").(bool) {
		t.Errorf("looked at: %s", look.text)
	}
	put := p.must(200, "POST", "/api/models/"+b.model+"/tables/parts", m{"file": file})
	if put.get("new").(float64) != 1 || !put.get("taken").(bool) {
		t.Errorf("put in: %s", put.text)
	}
	if again := p.must(200, "POST", "/api/models/"+b.model+"/tables/parts/look", m{"file": file}); again.get("same").(float64) != 1 {
		t.Errorf("looked at again: %s", again.text)
	}
	w.as(act.Buyer).must(403, "POST", "/api/models/"+b.model+"/tables/parts", m{"file": file})
	offers := base64.StdEncoding.EncodeToString(
		[]byte("seller,title,covers,grade,price,currency\nNobody,x,battery,copy,9,EUR\n"),
	)
	if a := w.as(act.Buyer).must(422, "POST", "/api/models/"+b.model+"/desk/offers", m{"file": offers}); !strings.Contains(
		a.text,
		"line 2",
	) {
		t.Errorf("a seller that is not: %s", a.text)
	}
}

// TestTheDeskOverTheInterface: rows are written once, a stale change is told with what is there now, deleting has a way back.
func TestTheDeskOverTheInterface(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	buyer := w.as(act.Buyer)
	id := store.NewID()
	seller := m{"id": id, "name": "North", "currency": "EUR", "shipping_minor": 500}
	buyer.must(201, "POST", "/api/sellers", seller)
	buyer.must(409, "POST", "/api/sellers", seller)
	delete(seller, "id")
	seller["version"], seller["name"] = 1, "North Quay"
	buyer.must(200, "PUT", "/api/sellers/"+id, seller)
	if a := buyer.must(409, "PUT", "/api/sellers/"+id, seller); a.str("current.name") != "North Quay" {
		t.Errorf("a stale change: %s", a.text)
	}
	buyer.must(200, "DELETE", "/api/sellers/"+id+"?version=2", nil)
	if d := buyer.must(200, "GET", "/api/parts", nil); len(d.get("sellers").([]any)) != 0 {
		t.Errorf("deleted, and still there: %s", d.text)
	}
	buyer.must(200, "POST", "/api/sellers/"+id+"/restore?version=3", nil)
	offer := m{
		"id":           store.NewID(),
		"seller_id":    id,
		"for_model_id": b.model,
		"title":        "battery",
		"covers":       m{"battery": 1},
		"grade":        "original",
		"price_minor":  1900,
		"currency":     "EUR",
		"priced_on":    "2026-11-20T00:00:00Z",
		"stock":        2,
	}
	buyer.must(201, "POST", "/api/offers", offer)
	for name, change := range map[string]m{"a price below nothing": {"price_minor": -1},
		"a currency of two letters": {"currency": "EU"},
		"a grade that is not":       {"grade": "fine"}, "nothing covered": {"covers": m{}}, "stock below nothing": {"stock": -1}} {
		bad := m{}
		for k, v := range offer {
			bad[k] = v
		}
		bad["id"] = store.NewID()
		for k, v := range change {
			bad[k] = v
		}
		if a := buyer.do("POST", "/api/offers", bad); a.status != 422 || !strings.Contains(a.text, "errors") {
			t.Errorf("%s: %d %s", name, a.status, a.text)
		}
	}
	basket := p.must(200, "GET", "/api/parts/basket?model="+b.model, nil)
	want(
		t,
		"basket",
		sentence(basket),
		"1.0 of 3 parts needed priced",
		"24.49 EUR", // 19.00, 5.00, and 0.02/0.98 of both again
		"2.0 missing",
	)
	if doc, err := json.Marshal(basket.get("document")); err != nil ||
		!strings.Contains(string(doc), `"currency":"EUR"`) {
		t.Errorf("the question for compute: %s, %v", doc, err)
	}
	gate := p.must(200, "GET", "/api/models/"+b.model+"/gate/battery", nil)
	want(t, "gate", gate.text, "untested", "what the customer pays")
	buyer.must(
		200,
		"PUT",
		"/api/workshop",
		m{"version": 0, "currency": "EUR", "labour_minor": 6000, "charge_limit": 30},
	)
	if a := buyer.must(409, "PUT", "/api/workshop", m{"version": 7, "currency": "EUR", "labour_minor": 1,
		"charge_limit": 30}); a.str(
		"current.labour_minor",
	) != "6000" {
		t.Errorf("settings of another version: %s", a.text)
	}
	if room := p.must(200, "GET", "/api/models/"+b.model+"/score", nil); !strings.Contains(room.text, "60.00 EUR") {
		t.Error("the rate of the settings does not reach the score")
	}
	p.must(403, "PUT", "/api/workshop", m{"version": 1, "currency": "EUR", "labour_minor": 1, "charge_limit": 30})
	p.must(403, "POST", "/api/offers", offer)
	levels := buyer.must(200, "GET", "/api/parts/stock?budget=5000", nil)
	want(t, "stock", sentence(levels), "group")
	donor := buyer.must(200, "GET", "/api/models/"+b.model+"/donor?lock=locked&damage=liquid", nil)
	want(t, "donor", sentence(donor), "No bid")
	buyer.must(422, "GET", "/api/models/"+b.model+"/donor?lock=half", nil)
	incoming := buyer.must(200, "GET", "/api/parts/incoming", nil)
	want(t, "incoming", sentence(incoming), "Nothing came in yet")
}

// TestRulesOverTheInterface: analysts draft, the office publishes, everybody reads; a trial writes nothing.
func TestRulesOverTheInterface(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	rule := p.must(200, "GET", "/api/rubrics/own-template", nil).text
	tried := p.must(200, "POST", "/api/models/"+b.model+"/score/try", m{"document": rule})
	if tried.get("score.range") == nil {
		t.Errorf("tried: %s", tried.text)
	}
	mine := strings.Replace(rule, `"id":"own-template"`, `"id":"ours"`, 1)
	id := store.NewID()
	if a := p.must(422, "POST", "/api/rubrics", m{"id": id, "document": rule}); !strings.Contains(
		a.text,
		"an id of its own",
	) {
		t.Errorf("the template under its own name: %s", a.text)
	}
	p.must(201, "POST", "/api/rubrics", m{"id": id, "document": mine})
	w.as(act.Technician).must(403, "POST", "/api/rubrics", m{"id": store.NewID(), "document": mine})
	p.must(403, "PUT", "/api/rubrics/"+id+"/published", m{"version": 1, "published": true})
	office := w.as(act.Administrator)
	office.must(200, "PUT", "/api/rubrics/"+id+"/published", m{"version": 1, "published": true})
	if a := office.must(200, "GET", "/api/models/"+b.model+"/scorecard", nil); !strings.Contains(
		a.text,
		"My own rule (version 1)",
	) {
		t.Errorf("published, and not on the sheet: %s", a.text)
	}
	against := p.must(200, "GET", "/api/models/"+b.model+"/score/against?within=0.3", nil)
	want(t, "against", sentence(against), "no other model")
	p.must(422, "GET", "/api/models/"+b.model+"/score/against?within=NaN", nil)
	p.must(422, "GET", "/api/models/"+b.model+"/score?mark="+store.NewID(), nil)
	mark := p.must(201, "POST", "/api/models/"+b.model+"/score-marks", m{"id": store.NewID(), "note": "before"})
	tech := w.as(act.Technician)
	said := tech.must(
		201,
		"POST",
		"/api/models/"+b.model+"/facts",
		m{"id": store.NewID(), "fact": "manual", "choice": "public-free", "by": "me"},
	)
	if room := p.must(200, "GET", "/api/models/"+b.model+"/score?mark="+mark.str("id"), nil); !strings.Contains(
		room.text,
		`"fact":"manual","low"`,
	) {
		t.Error("what was said is not among what moved it")
	}
	tech.must(200, "DELETE", "/api/facts/"+said.str("id")+"?version=1", nil)
	tech.must(200, "POST", "/api/facts/"+said.str("id")+"/restore?version=2", nil)
	// Another's work: refused to all but analysts, and its author is told.
	told := func(who *person) string { return who.must(200, "GET", "/api/session/told", nil).str("new") }
	other := m{"version": 3, "fact": "manual", "choice": "none", "by": "me"}
	if a := w.as(act.Buyer).do("PUT", "/api/facts/"+said.str("id"), other); a.status != 403 ||
		!strings.Contains(a.text, "work of technician") {
		t.Errorf("a buyer changed what a technician said: %d %s", a.status, a.text)
	}
	if n := told(tech); n != "0" {
		t.Errorf("nobody else changed anything yet, and %s are told", n)
	}
	p.must(200, "PUT", "/api/facts/"+said.str("id"), other)
	list := tech.must(200, "GET", "/api/session/told", nil)
	if list.str("new") != "1" || list.str("lines.0.who") != "analyst" || list.str("lines.0.verb") != "update" ||
		tech.must(200, "GET", "/api/session", nil).str("told") != "1" || told(p) != "0" {
		t.Errorf("the author is told %s", list.text)
	}
	tech.must(200, "PUT", "/api/session/told", m{"line": list.get("lines.0.id")})
	if n := told(tech); n != "0" {
		t.Errorf("seen, and %s are new", n)
	}
	p.must(200, "DELETE", "/api/score-marks/"+mark.str("id")+"?version=1", nil)
	p.must(200, "DELETE", "/api/rubrics/"+id+"?version=2", nil)
}
