package server

import (
	"encoding/json"
	"fmt"
	"reflect"
	"strings"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// otherModel is a second model with a battery and a lid.
func (p *person) otherModel(name string) (model, cell string) {
	p.t.Helper()
	model = p.must(201, "POST", "/api/models", m{"id": store.NewID(), "maker": "Pellow", "name": name, "entry": "back",
		"width_mm": 70, "height_mm": 140}).str("id")
	for i, part := range []m{{"name": "battery", "family": "PW", "kind": "battery", "slot": true, "x_mm": 2, "y_mm": 3,
		"w_mm": 22,
		"h_mm": 30, "measures": []m{{"kind": "connector width", "unit": "mm", "readings": []float64{8.4, 8.41},
			"resolution": 0.01}}},
		{"name": "lid", "family": "FR"}} {
		part["id"] = store.NewID()
		id := p.must(201, "POST", "/api/models/"+model+"/parts", part).str("id")
		if i == 0 {
			cell = id
		}
	}
	return model, cell
}

// TestCompareThroughTheServer: two models, a pair refused and taken back, hostile ids.
func TestCompareThroughTheServer(t *testing.T) {
	p := start(t).as(act.Analyst)
	b := p.bench()
	other, cell := p.otherModel("Drift 80")
	path := "/api/models/" + b.model + "/compare/" + other
	pairs := func() string {
		r := p.must(200, "GET", path, nil)
		text, _ := json.Marshal(r.get("found.matched"))
		return string(text)
	}
	before := pairs()
	if !strings.Contains(before, cell) {
		t.Fatalf("the batteries are no pair: %s", before)
	}
	// The other model has no way to anything: what changes at the bench is not known, and nothing is called the same.
	said, _ := json.Marshal(p.must(200, "GET", path, nil).get("answer"))
	if s := string(said); !strings.Contains(s, "not known") || strings.Contains(s, "as many") ||
		strings.Contains(s, "the same") {
		t.Errorf("said of models without ways: %s", s)
	}
	row := p.must(
		201,
		"POST",
		"/api/part-pairs",
		m{"id": store.NewID(), "part_id": cell, "other_part_id": b.cell, "verdict": "refused"},
	)
	if after := pairs(); strings.Contains(after, b.cell) && strings.Contains(after, cell) {
		t.Errorf("a refused pair stands: %s", after)
	}
	p.must(200, "DELETE", "/api/part-pairs/"+row.str("id")+"?version=1", nil)
	if pairs() != before {
		t.Error("what was taken back still holds")
	}
	for path, status := range map[string]int{"/api/models/" + b.model + "/compare/" + b.model: 422,
		"/api/models/" + b.model + "/compare/" + store.NewID(): 404, "/api/models/" + b.model + "/compare/x": 422} {
		if a := p.do("GET", path, nil); a.status != status {
			t.Errorf("%s: %d %s", path, a.status, a.text)
		}
	}
	p.must(200, "GET", "/api/models/"+b.model+"/generations", nil)
}

// TestFitThroughTheServer: a test moves the chart, a connector that is shown to differ is not mated without a reason,
// and a foreign piece in the swap lab counts as well.
func TestFitThroughTheServer(t *testing.T) {
	p := start(t).as(act.Analyst)
	b := p.bench()
	other, _ := p.otherModel("Drift 80")
	room := func() reply { return p.must(200, "GET", "/api/fit/battery", nil) }
	serves := func(donor, host string) (float64, string) {
		for _, x := range room().get("found.pairs").([]any) {
			if q := x.(m); q["donor"] == donor && q["host"] == host {
				return q["serves"].(float64), fmt.Sprint(q["grade"])
			}
		}
		t.Fatalf("no pair %s %s", donor, host)
		return 0, ""
	}
	before, grade := serves(other, b.model)
	if grade != "shut" {
		t.Errorf("an untested pair is %s", grade)
	}
	test := m{"id": store.NewID(), "kind": "battery", "donor_model_id": other, "outcome": "full", "fittings": 2,
		"build":      "4.1",
		"conditions": []string{"charger", "waited", "reseated", "known-good", "home", "deep"},
		"width":      m{"piece_mm": 8.4, "host_mm": 8.0, "u_mm": 0.01}}
	if a := p.do("POST", "/api/models/"+b.model+"/fit-tests", test); a.status != 422 ||
		!strings.Contains(a.text, "do not force") {
		t.Errorf("a connector 0.4 mm too wide was mated: %d %s", a.status, a.text)
	}
	test["reason"] = "measured again, the housing was bent"
	row := p.must(201, "POST", "/api/models/"+b.model+"/fit-tests", test)
	if now, grade := serves(other, b.model); now <= before || now < 0.9 || grade != "open" {
		t.Errorf("a full test of two fittings: %v %s, before %v", now, grade, before)
	}
	p.must(200, "DELETE", "/api/fit-tests/"+row.str("id")+"?version=1", nil)
	if now, _ := serves(other, b.model); now != before {
		t.Errorf("a deleted test still counts: %v", now)
	}
	trial := m{
		"id":            store.NewID(),
		"board_unit_id": b.pine,
		"results":       m{"boot": "pass", "touch": "pass", "battery-health": "lost"},
		"pieces":        []m{{"part_id": b.cell, "origin": "foreign", "model": "Drift 80", "lot": "D80-1"}},
	}
	p.must(201, "POST", "/api/studies/"+b.study+"/trials", trial)
	r := room()
	if n := len(r.get("tests").([]any)); n != 1 || r.str("tests.0.outcome") != "lost" ||
		r.str("tests.0.lost.0") != "battery-health" {
		t.Errorf("the trial of a foreign piece: %s", cut(r.text, 300))
	}
	if swap := p.must(200, "GET", "/api/studies/"+b.study+"/swap", nil); !strings.Contains(swap.text, "foreign@Drift 80") {
		t.Error("the swap lab knows nothing of the foreign piece")
	}
	for name, bad := range map[string]m{"model": {"origin": "foreign", "lot": "x"}, "lot": {"origin": "foreign",
		"model": "Drift 80"}} {
		bad["part_id"] = b.cell
		trial["id"], trial["pieces"] = store.NewID(), []m{bad}
		if a := p.do("POST", "/api/studies/"+b.study+"/trials", trial); a.status != 422 ||
			!strings.Contains(a.text, "pieces[0]."+name) {
			t.Errorf("a foreign piece without its %s: %d", name, a.status)
		}
	}
	for what, change := range map[string]m{"kind": {"kind": "wing"}, "donor_model_id": {"donor_model_id": ""},
		"lot_id": {"donor_model_id": "", "lot_id": store.NewID()}, "host_unit_id": {"host_unit_id": store.NewID()},
		"lost": {"lost": []string{"touch"}}} {
		body := m{"id": store.NewID(), "kind": "battery", "donor_model_id": other, "outcome": "notice"}
		for k, v := range change {
			body[k] = v
		}
		if a := p.do("POST", "/api/models/"+b.model+"/fit-tests", body); a.status != 422 ||
			!strings.Contains(a.text, "body."+what) {
			t.Errorf("%s: %d %s", what, a.status, cut(a.text, 200))
		}
	}
}

// state is everything that a model, its study and its rooms say, for comparing before and after.
func (p *person) state(paths ...string) (list []any) {
	for _, path := range paths {
		var v any
		json.Unmarshal([]byte(p.must(200, "GET", path, nil).text), &v)
		list = append(list, plainly(v))
	}
	return list
}

// plainly leaves versions out: an undo is a version of its own.
func plainly(v any) any {
	switch x := v.(type) {
	case map[string]any:
		out := map[string]any{}
		for k, y := range x {
			if k != "version" {
				out[k] = plainly(y)
			}
		}
		return out
	case []any:
		out := []any{}
		for _, y := range x {
			out = append(out, plainly(y))
		}
		return out
	}
	return v
}

// TestMergesAreTakenBack: two records of a part, or of a model, become one; everything that spoke of the one speaks
// of the other; and the undo leaves all as it was.
func TestMergesAreTakenBack(t *testing.T) {
	p := start(t).as(act.Analyst)
	b := p.bench()
	twin := p.must(201, "POST", "/api/models/"+b.model+"/parts", m{"id": store.NewID(), "name": "power cell",
		"family": "PW", "slot": true,
		"measures": []m{{"kind": "mass", "unit": "g", "readings": []float64{47.5}, "resolution": 0.1}}}).
		str("id")
	p.must(201, "POST", "/api/studies/"+b.study+"/trials", m{"id": store.NewID(), "board_unit_id": b.pine,
		"pieces": []m{{"part_id": twin, "origin": "unit", "unit_id": b.amber}}, "results": m{"touch": "pass"}})
	p.log(b, b.pine, m{"verb": "lift", "what": "power cell", "side": "front", "frees": []string{twin}, "seconds": 30}, 20)
	rooms := []string{"/api/models/" + b.model, "/api/models/" + b.model + "/ways", "/api/studies/" + b.study + "/swap",
		"/api/studies/" + b.study + "/strip"}
	before := p.state(rooms...)
	merge := p.must(201, "POST", "/api/parts/"+twin+"/merge", m{"id": store.NewID(), "into": b.cell})
	after := p.must(200, "GET", "/api/models/"+b.model, nil).text + p.must(200, "GET", rooms[2], nil).text
	if strings.Contains(after, twin) || !strings.Contains(after, "power cell") || !strings.Contains(after, "47.5") {
		t.Errorf("something still speaks of the old record, or its name or measure is lost")
	}
	p.must(200, "POST", "/api/merges/"+merge.str("id")+"/undo?version=1", nil)
	if now := p.state(rooms...); !reflect.DeepEqual(now, before) {
		t.Error("the undo of a merged part leaves something changed")
	}
	if a := p.do("POST", "/api/merges/"+merge.str("id")+"/undo?version=2", nil); a.status != 422 {
		t.Errorf("undone twice: %d", a.status)
	}

	other, cell := p.otherModel("Drift Four")
	p.must(
		201,
		"POST",
		"/api/models/"+b.model+"/fit-tests",
		m{"id": store.NewID(), "kind": "battery", "donor_model_id": other, "outcome": "notice"},
	)
	before = p.state(append(rooms, "/api/models/"+other, "/api/fit/battery")...)
	merge = p.must(201, "POST", "/api/models/"+other+"/merge", m{"id": store.NewID(), "into": b.model})
	if a := p.do("GET", "/api/models/"+other, nil); a.status != 404 {
		t.Errorf("the merged model is still there: %d", a.status)
	}
	one := p.must(200, "GET", "/api/models/"+b.model, nil).text
	if strings.Contains(one, cell) || !strings.Contains(one, "Drift Four") || !strings.Contains(one, "connector width") {
		t.Errorf("the batteries did not become one: %s", cut(one, 400))
	}
	p.must(200, "POST", "/api/merges/"+merge.str("id")+"/undo?version=1", nil)
	if now := p.state(append(rooms, "/api/models/"+other, "/api/fit/battery")...); !reflect.DeepEqual(now, before) {
		for i := range now {
			if !reflect.DeepEqual(now[i], before[i]) {
				a, _ := json.Marshal(before[i])
				c, _ := json.Marshal(now[i])
				t.Errorf("the undo of a merged model leaves something changed:\n%s\n%s", a, c)
			}
		}
	}
}

// TestStartFromThePredecessor: parts and plan come over as inferred by look, into an empty record only.
func TestStartFromThePredecessor(t *testing.T) {
	p := start(t).as(act.Analyst)
	b := p.bench()
	p.log(b, b.pine, m{"verb": "lift", "what": "lid", "side": "front", "frees": []string{b.lid}, "seconds": 30}, 20)
	next := p.must(201, "POST", "/api/models", m{"id": store.NewID(), "maker": "Pellow", "name": "Drift 90",
		"entry": "front"}).
		str("id")
	made := p.must(201, "POST", "/api/models/"+next+"/start-from", m{"from": b.model})
	if made.str("predecessor") == "<nil>" {
		t.Error("the predecessor is not noted")
	}
	sheet := p.must(200, "GET", "/api/models/"+next, nil)
	old := p.must(200, "GET", "/api/models/"+b.model, nil)
	if len(sheet.get("parts").([]any)) != len(old.get("parts").([]any)) ||
		len(sheet.get("steps").([]any)) != len(old.get("steps").([]any)) {
		t.Errorf("not everything came over: %s", cut(sheet.text, 300))
	}
	for _, x := range sheet.get("parts").([]any) {
		if q := x.(m); q["source"] != "inferred by look" || q["id"] == b.cell {
			t.Errorf("copied as %v", q)
		}
	}
	if a := p.do("POST", "/api/models/"+next+"/start-from", m{"from": b.model}); a.status != 422 {
		t.Errorf("copied twice: %d", a.status)
	}
}
