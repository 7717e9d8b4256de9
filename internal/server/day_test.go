package server

import (
	"net/http"
	"strings"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// TestDayRoutes: a day over HTTP, with every refusal by its field, a conflict, a repeat of the same key, and the way back of
// a job that was taken off.
func TestDayRoutes(t *testing.T) {
	w := start(t)
	p := w.as(act.Technician)
	const day = "2027-03-08"
	id := store.NewID()
	job := m{
		"id":    id,
		"day":   day + "T00:00:00Z",
		"title": "AMBER",
		"text":  "heat 5-8; open 5 hands within 60; check 4 hands",
	}
	k := store.NewID()
	first := p.must(201, "POST", "/api/day-jobs", job, key(k))
	if again := p.must(201, "POST", "/api/day-jobs", job, key(k)); again.text != first.text {
		t.Errorf("the same key: %s, then %s", first.text, again.text)
	}
	v := p.must(200, "GET", "/api/days/"+day, nil)
	if v.str("found.makespan") != "840" || v.get("now") != float64(-1) || v.get("acts.2") == nil ||
		v.get("acts.3") != nil ||
		v.str("next.0.op") != "heat" ||
		!strings.Contains(v.text, "No people on record") {
		t.Errorf("the day: %s", v.text)
	}
	for name, c := range map[string]struct {
		method, path string
		body         m
		status       int
		field        string
	}{
		"a day that is none": {"GET", "/api/days/2027-02-30", nil, 422, "date"},
		"nothing to do":      {"POST", "/api/day-jobs", m{"id": store.NewID(), "day": day + "T00:00:00Z", "title": "X"}, 422, "ops"},
		"a title without end": {"POST", "/api/day-jobs", m{"id": store.NewID(), "day": day + "T00:00:00Z",
			"title": strings.Repeat("x", 61), "text": "a 1"}, 422, "title"},
		"a line that is none": {"POST", "/api/day-jobs", m{"id": store.NewID(), "day": day + "T00:00:00Z", "title": "X",
			"text": "heat plate"}, 422, "ops"},
		"due before it is long": {"POST", "/api/day-jobs", m{"id": store.NewID(), "day": day + "T00:00:00Z", "title": "X",
			"text": "a 1", "due": -1}, 422, "due"},
		"an operation unknown": {"PUT", "/api/day-jobs/" + id + "/step", m{"version": 1, "op": "song", "what": "start",
			"at": 0}, 422, "op"},
		"an old version": {"PUT", "/api/day-jobs/" + id + "/step", m{"version": 7, "op": "heat", "what": "start",
			"at": 0}, 409, "meantime"},
		"a job that is not": {"PUT", "/api/day-jobs/" + store.NewID() + "/step", m{"version": 1, "op": "heat",
			"what": "start", "at": 0}, 404, ""},
		"an offset of a year": {"GET", "/api/days/" + day + "?offset=9999", nil, 422, "offset"},
	} {
		var body any
		if c.body != nil {
			body = c.body
		}
		want(t, name, p.must(c.status, c.method, c.path, body).text, c.field)
	}
	p.must(200, "PUT", "/api/day-jobs/"+id+"/step", m{"version": 1, "op": "heat", "what": "start", "at": 10})
	p.must(200, "PUT", "/api/day-jobs/"+id+"/step", m{"version": 2, "op": "heat", "what": "end", "at": 310})
	if v := p.must(200, "GET", "/api/days/"+day, nil); v.str("acts.0.state") != "done" ||
		v.str("acts.1.start") != "310" {
		t.Errorf("after the heat: %s", v.text)
	}
	p.must(
		200,
		"PUT",
		"/api/day-jobs/"+id,
		m{"version": 3, "day": day + "T00:00:00Z", "title": "AMBER 2", "text": "check 4 hands", "due": 600},
	)
	cal := p.must(200, "GET", "/api/days/"+day+"/calendar", nil)
	if !strings.HasPrefix(cal.header.Get("Content-Type"), "text/calendar") ||
		!strings.Contains(cal.text, "AMBER 2: check") {
		t.Errorf("calendar: %s", cal.text)
	}
	p.must(200, "DELETE", "/api/day-jobs/"+id+"?version=4", nil)
	if v := p.must(200, "GET", "/api/days/"+day, nil); v.get("jobs.0") != nil {
		t.Errorf("taken off: %s", v.text)
	}
	p.must(200, "POST", "/api/day-jobs/"+id+"/restore?version=5", nil)
	if v := p.must(200, "GET", "/api/days/2027-03-01", nil); v.str("later") != day {
		t.Errorf("the next day with jobs: %s", v.text)
	}
	// Who reads a day may be nobody's guest.
	if a := w.nobody().do("GET", "/api/days/"+day, nil); a.status != http.StatusUnauthorized {
		t.Errorf("without a sign-in: %d", a.status)
	}
}

// TestDeskRoutesOfOnePart: one part, a donor that was opened, and a basket without one of its offers.
func TestDeskRoutesOfOnePart(t *testing.T) {
	w := start(t)
	a, b := w.as(act.Analyst), w.as(act.Buyer)
	model, part := store.NewID(), store.NewID()
	a.must(201, "POST", "/api/models", m{"id": model, "maker": "Pellow", "name": "Drift 9", "entry": "front"})
	a.must(
		201,
		"POST",
		"/api/models/"+model+"/parts",
		m{"id": part, "name": "battery", "family": "PW", "kind": "battery", "worth_minor": 1200, "currency": "EUR"},
	)
	seller, dear, cheap := store.NewID(), store.NewID(), store.NewID()
	b.must(201, "POST", "/api/sellers", m{"id": seller, "name": "North", "currency": "EUR", "shipping_minor": 0})
	offer := func(id string, price int) m {
		return m{
			"id":           id,
			"seller_id":    seller,
			"for_model_id": model,
			"title":        "cell",
			"covers":       m{"battery": 1},
			"grade":        "original",
			"price_minor":  price,
			"currency":     "EUR",
			"priced_on":    "2026-11-26T00:00:00Z",
			"stock":        2,
		}
	}
	b.must(201, "POST", "/api/offers", offer(dear, 3000))
	b.must(201, "POST", "/api/offers", offer(cheap, 2000))
	ask := "/api/parts/basket?job=battery&model=" + model
	best := b.must(200, "GET", ask, nil)
	gone := b.must(200, "GET", ask+"&without="+cheap, nil)
	if best.str("lines.0.offer_id") != cheap || gone.str("lines.0.offer_id") != dear ||
		gone.get("found.expected").(float64) <= best.get("found.expected").(float64) {
		t.Errorf("with: %s, without: %s", best.text, gone.text)
	}
	about := b.must(200, "GET", "/api/models/"+model+"/about/"+part, nil)
	if about.get("offers.1") == nil || about.str("free") != "0" ||
		!strings.Contains(about.text, "what is lost with a genuine piece") {
		t.Errorf("about: %s", about.text)
	}
	want(
		t,
		"a part of another model",
		b.must(422, "GET", "/api/models/"+model+"/about/"+store.NewID(), nil).text,
		"part",
	)
	b.must(404, "GET", "/api/models/"+store.NewID()+"/about/"+part, nil)
	want(
		t,
		"good and bad at once",
		b.must(422, "GET", "/api/models/"+model+"/donor?good="+part+"&bad="+part, nil).text,
		"good",
	)
	b.must(200, "GET", "/api/models/"+model+"/donor?bad="+part, nil)
}
