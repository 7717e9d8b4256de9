package server

import (
	"bytes"
	"image"
	"image/jpeg"
	"net/http"
	"strings"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// line logs one line of the bench.
func (p *person) line(b bench, unit, text string, more m) reply {
	p.t.Helper()
	body := m{"id": store.NewID(), "unit_id": unit, "line": text}
	for k, v := range more {
		body[k] = v
	}
	return p.must(201, "POST", "/api/studies/"+b.study+"/log", body)
}

// TestBenchLine takes a phone apart by the line alone: the plan grows, is taught by another order, counts incidents per
// method, learns waits, and forgets again what is taken back.
func TestBenchLine(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	strip := func() reply { return p.must(200, "GET", "/api/studies/"+b.study+"/strip", nil) }
	for _, text := range []string{"u 2 five-lobe 1.0x6.5 rim screws", "h plate 80C 90s front rim no gap",
		"h plate 80C 60s front gap", "d battery", "l display-assembly", "l battery"} {
		p.line(b, b.pine, text, m{"seconds": 12})
	}
	a := strip()
	want(t, "six lines", sentence(a), "PINE: battery out last, 2.0 parts out, 2.0 screws in the tray.")
	if len(a.get("steps").([]any)) != 5 || a.str("state.0.heat.0.minutes") != "2.5" ||
		!strings.Contains(a.str("state.0.heat.0.text"), "no more heat") {
		t.Errorf("five steps, two rounds of one heat: %s", a.str("state.0.heat"))
	}
	if way := p.must(200, "GET", "/api/models/"+b.model+"/ways", nil); way.str("ways.0.steps.1.wait_runs") != "1" {
		t.Errorf("the wait that was needed was not learned: %s", way.str("ways.0.steps.1"))
	}
	// Another phone, another order: the display's step is done without the battery's connector, so the plan
	// lets go of it, and keeps what the connector itself came after.
	p.line(b, b.amber, "u 2 five-lobe rim screws", nil)
	p.line(b, b.amber, "h plate 80C 60s front", nil)
	e := p.line(b, b.amber, "l display-assembly", m{"detail": m{"stops": []m{{"rule": "power",
		"answer": "already done"}}}})
	if e.str("detail.lesson") != "s4 does not need s3" {
		t.Errorf("the lesson: %s", e.text)
	}
	if a := strip(); a.str("steps.3.after.0.0") != a.str("steps.1.id") ||
		!strings.Contains(a.str("state.1.retest"), "picture") {
		t.Errorf("taught: %s, retest %s", a.str("steps.3"), a.str("state.1.retest"))
	}
	p.must(200, "DELETE", "/api/log/"+e.str("id")+"?version=1", nil)
	if a := strip(); a.str("steps.3.after.0.0") != a.str("steps.2.id") {
		t.Errorf("taken back, the plan should need the connector again: %s", a.str("steps.3"))
	}
	// Incidents count per method and part; what is lost and found; measures object at once.
	// Version 3: the lesson above handed the battery what the step before it did without, and was taken back.
	p.must(200, "PUT", "/api/steps/"+strip().str("steps.4.id"),
		m{"version": 3, "verb": "lift", "what": "battery", "side": "any", "frees": []string{b.cell}, "method": "tabs",
			"risk": m{b.cell: 0.05}, "after": [][]string{{strip().str("steps.3.id")}}})
	hurt := p.line(b, b.pine, "! tab-broke battery third tab", nil)
	p.must(200, "PUT", "/api/log/"+hurt.str("id"), m{"version": 1, "seconds": 0, "note": "third tab",
		"part_id": b.cell, "cause": "pulled steeply", "evidence": "seen"})
	odds := p.must(200, "GET", "/api/models/"+b.model+"/ways", nil).get("ways.0.odds.0").(map[string]any)
	if odds["k"] != 1.0 || odds["n"] != 1.0 || odds["method"] != "tabs" || odds["low"].(float64) > 0.0251 ||
		odds["certainty"] != "counted" {
		t.Errorf("odds: %v", odds)
	}
	p.line(b, b.pine, "! lost 2 five-lobe 1.0x6.5", nil)
	p.line(b, b.pine, "! found 1 five-lobe 1.0x6.5", nil)
	p.line(b, b.pine, "m battery 3561mAh 14.84Wh", nil)
	a = strip()
	if a.str("state.0.lost.0") != "1 × five-lobe screw 1 × 6.5 mm of the rim screws" || len(a.get("state.0.doubts.0.fixes").([]any)) != 6 {
		t.Errorf("lost %s, doubts %s", a.str("state.0.lost"), a.str("state.0.doubts"))
	}
	// A time far above the usual one is asked about in review.
	slow := p.line(b, b.amber, "x long tape", m{"seconds": 900})
	if a := strip(); a.str("state.1.long.0") != slow.str("id") || a.get("state.0.long.0") != nil {
		t.Errorf("a break is not asked about: %s", a.str("state.1.long"))
	}
	// What cannot be read stays as a note; what says too little is refused with its field.
	if n := p.line(b, b.pine, "the top edge holds on", nil); n.str("kind") != "note" ||
		n.str("note") != "the top edge holds on" {
		t.Errorf("a note: %s", n.text)
	}
	// What cannot be (the battery is out already) is a remark, and the line says so before it is logged.
	if n := p.line(b, b.pine, "l battery", nil); n.str("kind") != "note" {
		t.Errorf("out twice: %s", n.text)
	}
	post := "/api/studies/" + b.study + "/log"
	for _, c := range []struct {
		body  m
		field string
	}{
		{m{"line": "l battery", "note": "both"}, "line"},
		{m{"kind": "incident"}, "detail.incident"},
		{m{"kind": "note", "note": " "}, "note"},
		{m{"kind": "stop"}, "detail.stops"},
		{m{"kind": "note", "note": "x", "part_id": store.NewID()}, "part_id"},
	} {
		c.body["id"], c.body["unit_id"] = store.NewID(), b.pine
		if a := p.must(422, "POST", post, c.body); !strings.Contains(a.text, "body."+c.field) {
			t.Errorf("%v: %s", c.body, a.text)
		}
	}
	gave := p.line(b, b.amber, "p strap gave up", m{"reason": "no room for the lever"})
	if gave.str("outcome") != "gave up" || strings.Contains(strip().str("state.1.bench.done"), gave.str("step_id")) {
		t.Errorf("what was given up counts as done: %s", gave.text)
	}
	two := p.line(b, b.amber, "u 3 tri-wing 1.2x1.6 captive not magnetic hidden shield", nil)
	p.must(201, "POST", post, m{"id": store.NewID(), "unit_id": b.amber, "line": "+ u shield"})
	if a := strip(); strings.Contains(a.str("state.1.bench.done"), two.str("step_id")) ||
		!strings.Contains(a.text, `"magnetic":"no"`) {
		t.Errorf("put back by the line: %s", a.str("state.1.bench.done"))
	}
}

// TestCloseup closes a phone: gates, reconciliation, declarations, and the list from the plan for a phone of loose
// parts.
func TestCloseup(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	room := func(q string) reply { return p.must(200, "GET", "/api/studies/"+b.study+"/closeup"+q, nil) }
	want(t, "nothing out", room("").str("closings.0.answer"), "nothing is out")
	for _, text := range []string{"u 2 five-lobe 1.0x6.5 rim screws", "c rim", "d battery connector", "d display lead",
		"l display-assembly", "l battery"} {
		p.line(b, b.pine, text, nil)
	}
	a := room("")
	if a.str("closings.0.may") != "false" || a.str("closings.0.seated.1") != "2" ||
		a.str("closings.0.lines.0.text") != "put in battery" {
		t.Errorf("the list: %s", a.str("closings.0"))
	}
	set := func(status, version int, facts m) reply {
		facts["version"] = version
		return p.must(status, "PUT", "/api/units/"+b.pine+"/closing", facts)
	}
	set(422, 0, m{"closed": true})
	ticks := []string{}
	for _, l := range a.get("closings.0.lines").([]any) {
		for _, g := range l.(m)["gates"].([]any) {
			ticks = append(ticks, g.(m)["key"].(string))
		}
	}
	screws := "screws " + a.str("closings.0.lines.5.step_id")
	back := m{screws: 1}
	for _, i := range a.get("closings.0.items").([]any) {
		if k := i.(m)["key"].(string); k != screws {
			back[k] = 1
		}
	}
	set(200, 0, m{"ticks": ticks, "back": back})
	if a = room(""); a.str("closings.0.seated.0") != "0" {
		t.Errorf("leads that are still off were seen seated: %s", a.str("closings.0.seated"))
	}
	p.line(b, b.pine, "+ d display lead", nil)
	p.line(b, b.pine, "+ d battery connector", nil)
	a = room("")
	if a.str("closings.0.open.0.kind") != "screw" || a.str("closings.0.seated.0") != "2" ||
		len(a.get("closings.0.open").([]any)) != 1 {
		t.Errorf("one screw is missing: %s", a.str("closings.0.open"))
	}
	set(409, 0, m{"ticks": ticks})
	set(200, 1, m{"ticks": ticks, "back": back, "declared": m{screws: m{"lost": 1, "why": "rolled away"}},
		"seal": "reused", "results": m{"boot": "pass"}, "closed": true, "end_state": "works"})
	if a = room(""); a.str("closings.0.may") != "true" || !strings.Contains(a.str("closings.0.water"), "lost") ||
		a.str("closings.0.empty.0.kind") != "screw" {
		t.Errorf("declared: %s", a.str("closings.0"))
	}
	set(422, 2, m{"results": m{"levitation": "pass"}})
	set(422, 2, m{"results": m{"boot": "maybe"}})
	if a = room("?plan=true"); len(a.get("closings.1.lines").([]any)) != 6 || a.str("closings.1.items.0.in") != "0" {
		t.Errorf("from the plan: %s", a.str("closings.1"))
	}
	if a.str("mat.columns") != "5" || a.str("holes.0.length_mm") != "6.5" || a.str("startup.0") == "" {
		t.Errorf("mat: %s", a.str("mat"))
	}
}

// TestPhotos: a picture is judged by its content, comes back as JPEG, carries pins, and goes and comes back.
func TestPhotos(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	var file bytes.Buffer
	jpeg.Encode(&file, image.NewRGBA(image.Rect(0, 0, 60, 40)), nil)
	add := func(status int, body string, query string) reply {
		return p.must(status, "POST",
			"/api/studies/"+b.study+"/photos?photo_id="+store.NewID()+"&unit_id="+b.pine+query, body,
			func(r *http.Request) { r.Header.Set("Content-Type", "application/octet-stream") })
	}
	a := add(201, file.String(), "&caption=upper+edge&part_id="+b.cell)
	id := a.str("id")
	for _, size := range []string{"full", "thumb"} {
		if a := p.must(200, "GET", "/api/photos/"+id+"/"+size, nil); a.header.Get("Content-Type") != "image/jpeg" ||
			!strings.HasPrefix(a.text, "\xff\xd8") {
			t.Errorf("%s: %s", size, a.header)
		}
	}
	want(t, "a disguised file", add(422, "<html>not a picture</html>", "").text, "photo", "a JPEG, PNG or WebP picture")
	want(t, "a stranger's part", add(422, file.String(), "&part_id="+store.NewID()).text, "part_id")
	p.must(422, "PUT", "/api/photos/"+id, m{"version": 1, "pins": []m{{"x": 1.2, "y": 0, "text": "here"}}})
	p.must(200, "PUT", "/api/photos/"+id, m{"version": 1, "caption": "upper edge",
		"pins": []m{{"x": 0.5, "y": 0.25, "text": "hidden screw"}}})
	if a := p.must(200, "GET", "/api/studies/"+b.study+"/strip",
		nil); a.str("photos.0.pins.0.text") != "hidden screw" || strings.Contains(a.text, "Image") {
		t.Errorf("photos: %s", a.str("photos"))
	}
	p.must(200, "DELETE", "/api/photos/"+id+"?version=2", nil)
	p.must(404, "GET", "/api/photos/"+id+"/full", nil)
	p.must(200, "POST", "/api/photos/"+id+"/restore?version=3", nil)
	p.must(200, "GET", "/api/photos/"+id+"/full", nil)
}

// TestPlansAndWays imports a plan all or nothing, compares two models, harvests a donor, goes in by one side, and
// counts a walk.
func TestPlansAndWays(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	plan := `{"parts":[{"name":"rear glass","family":"FR"}],"steps":[
	 {"mark":"a","verb":"heat","what":"front rim","side":"front","seconds":30,"method":"plate"},{"mark":"b","verb":"heat","what":"back rim","side":"back","seconds":20},
	 {"mark":"c","verb":"lift","what":"display assembly","side":"front","after":[["a"]],
	 "frees":["display assembly"],"seconds":10,"risk":{"display assembly":0.05}},
	 {"mark":"d","verb":"lift","what":"rear glass","side":"back","after":[["b"]],"frees":["rear glass"],"seconds":5},
	 {"mark":"e","verb":"lift","what":"battery","after":[["c"],["d"]],"frees":["battery"],"seconds":10}]}`
	other := store.NewID()
	p.must(201, "POST", "/api/models", m{"id": other, "maker": "Pellow", "name": "Drift 8", "entry": "front"})
	file := func(r *http.Request) { r.Header.Set("Content-Type", "application/octet-stream") }
	want(t, "a broken plan", p.must(422, "POST", "/api/models/"+other+"/plan",
		strings.Replace(plan, `[["c"],["d"]]`, `[["x"]]`, 1), file).text, "plan.steps[4].after")
	if got := p.must(200, "GET", "/api/models/"+other, nil); len(got.get("parts").([]any)) != 0 {
		t.Error("a refused import left parts behind")
	}
	for _, id := range []string{b.model, other} {
		p.must(201, "POST", "/api/models/"+id+"/plan", plan, file)
	}
	p.must(422, "POST", "/api/models/"+other+"/plan", plan, file)
	way := func(q string) reply { return p.must(200, "GET", "/api/models/"+b.model+"/ways"+q, nil) }
	if a := way(""); a.str("ways.0.part") != "battery" || a.str("ways.0.steps.0.side") != "back" {
		t.Errorf("the shorter side: %s", a.str("ways.0.steps"))
	}
	if a := way("?entry=front"); a.str("ways.0.steps.0.side") != "front" ||
		!strings.Contains(a.str("missing"), "rear glass") {
		t.Errorf("from the front: %s, missing %s", a.str("ways.0.steps"), a.str("missing"))
	}
	p.must(422, "GET", "/api/models/"+b.model+"/ways?entry=side", nil)
	want(t, "compare", sentence(p.must(200, "GET", "/api/models/"+b.model+"/parts/"+b.cell+"/against/"+other, nil)),
		"Battery against the Drift 8: 0 steps more, 0 min more")
	part := func(name string) reply {
		for _, x := range p.must(200, "GET", "/api/models/"+b.model, nil).get("parts").([]any) {
			if x.(m)["name"] == name {
				return reply{text: "{\"id\":\"" + x.(m)["id"].(string) + "\"}"}
			}
		}
		return reply{}
	}
	worth := func(name, family string, minor int) {
		p.must(200, "PUT", "/api/parts/"+part(name).str("id"),
			m{"version": 1, "name": name, "family": family, "worth_minor": minor, "currency": "EUR"})
	}
	worth("battery", "PW", 1400)
	worth("rear glass", "FR", 10)
	want(t, "harvest", sentence(p.must(200, "GET", "/api/models/"+b.model+"/harvest?hourly=3600", nil)),
		"Take 2.0 parts of a donor Drift 9")
	want(t, "too dear", sentence(p.must(200, "GET", "/api/models/"+b.model+"/harvest?hourly=360000", nil)),
		"Nothing of a donor Drift 9 pays")
	// A technician's walk counts as attempts, and what it hurt as an incident.
	tech := w.as(act.Technician)
	steps := []string{way("?entry=front").str("ways.0.steps.0.id"), way("?entry=front").str("ways.0.steps.1.id")}
	tech.must(422, "POST", "/api/models/"+b.model+"/parts/"+b.cell+"/outcomes",
		m{"id": store.NewID(), "minutes": 30, "went": "incident", "hurt_part": b.lid})
	tech.must(201, "POST", "/api/models/"+b.model+"/parts/"+b.cell+"/outcomes",
		m{"id": store.NewID(), "minutes": 30, "sure": true, "predicted": 20, "went": "incident", "steps": steps, "hurt_part": b.lid,
			"hurt_step": steps[1]})
	a := tech.must(200, "GET", "/api/models/"+b.model+"/ways?entry=front", nil)
	if a.str("ways.0.odds.0.k") != "1" || a.str("ways.0.odds.0.n") != "1" || a.str("pace.ratio") != "1.5" {
		t.Errorf("odds %s, pace %s", a.str("ways.0.odds"), a.str("pace"))
	}
	// The catalogue as edited for this model.
	p.must(200, "PUT", "/api/models/"+b.model, m{"version": 1, "maker": "Pellow", "name": "Drift 9", "entry": "front",
		"check_changes": []m{{"mark": "charging-coil", "off": true},
			{"mark": "foghorn", "name": "Foghorn sounds", "family": "SO"}}})
	checks := p.must(200, "GET", "/api/studies/"+b.study+"/intake", nil).str("checks")
	if strings.Contains(checks, "charging-coil") || !strings.Contains(checks, "Foghorn sounds") {
		t.Errorf("the model's own catalogue: %s", checks)
	}
	p.must(422, "PUT", "/api/units/"+b.pine+"/baseline/charging-coil", m{"version": 0, "result": "pass"})
	p.must(200, "PUT", "/api/units/"+b.pine+"/baseline/foghorn", m{"version": 0, "result": "pass"})
}
