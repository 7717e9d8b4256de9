package server

import (
	"fmt"
	"strings"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

func want(t *testing.T, what, got string, parts ...string) {
	t.Helper()
	for _, p := range parts {
		if !strings.Contains(got, p) {
			t.Errorf("%s: %q is missing in %q", what, p, got)
		}
	}
}

// TestIntakeSaysWhetherToOpen follows the gate from nothing to open; what is assumed never opens it.
func TestIntakeSaysWhetherToOpen(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	room := func() reply { return p.must(200, "GET", "/api/studies/"+b.study+"/intake", nil) }
	a := room()
	want(t, "two untested units", sentence(a),
		"Do not open yet: PINE has 46.0 of 46 checks untested; PINE: 9.0 safety checks left; AMBER has 46.0")
	put := func(unit, check string, version int, result string, assumed bool) reply {
		return p.must(200, "PUT", "/api/units/"+unit+"/baseline/"+check,
			m{"version": version, "result": result, "assumed": assumed})
	}
	checks := a.get("checks").([]any)
	for _, u := range []string{b.pine, b.amber} {
		for _, c := range checks {
			put(u, c.(map[string]any)["mark"].(string), 0, "pass", u == b.amber)
		}
	}
	gate := m{"off": true, "tray": true, "charge": 20, "swelling": "flat", "liquid": "white", "data": "erased",
		"lock": "no lock", "protection": true, "guide": true}
	p.must(200, "PUT", "/api/units/"+b.pine, m{"version": 1, "name": "PINE", "colour": "green", "shape": "circle",
		"build": "4.1", "gate": gate})
	p.must(200, "PUT", "/api/units/"+b.amber, m{"version": 1, "name": "AMBER", "colour": "amber", "shape": "square",
		"build": "4.1", "gate": gate})
	want(t, "assumed cells", sentence(room()), "Do not open yet: AMBER has 46.0 of 46 checks untested.")
	for _, c := range checks {
		put(b.amber, c.(map[string]any)["mark"].(string), 1, "weak", false)
	}
	want(t, "everything tested", sentence(room()), "You may open: 2.0 units with a full baseline.")
	p.must(200, "PUT", "/api/units/"+b.amber, m{"version": 2, "name": "AMBER", "colour": "amber", "shape": "square",
		"build": "4.2", "gate": gate})
	want(t, "different builds", sentence(room()), "You may open", "different builds")
	p.must(200, "PUT", "/api/units/"+b.amber, m{"version": 3, "name": "AMBER", "colour": "amber", "shape": "square",
		"gate": gate})
	want(t, "a build missing", sentence(room()), "Do not open yet: a build is not written down.")
	gate["swelling"], gate["charge"] = "swollen", 80
	p.must(200, "PUT", "/api/units/"+b.amber, m{"version": 4, "name": "AMBER", "colour": "amber", "shape": "square",
		"build": "4.1", "gate": gate})
	want(t, "a swollen cell", sentence(room()),
		"Do not open yet: AMBER has a swollen battery; AMBER: 2.0 safety checks left.")
	put(b.pine, "boot", 1, "skipped", false)
	if a := room(); a.str("intake.0.untested") != "1" || a.str("gate.1.met") != "false" ||
		a.str("stages.0.eye") != "half" {
		t.Errorf("a skipped check counts as tested: %s", a.text)
	}
}

// TestStripLearnsThePlan logs a teardown of new steps: each comes after the one before, the way is found from them,
// the measured seconds pull its time, putting back and undoing keep the log true.
func TestStripLearnsThePlan(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	strip := func() reply { return p.must(200, "GET", "/api/studies/"+b.study+"/strip", nil) }
	ways := func() reply { return p.must(200, "GET", "/api/models/"+b.model+"/ways", nil) }
	want(t, "nothing logged", sentence(strip()), "PINE: closed; nothing logged yet.")
	want(t, "no way", sentence(ways()), "No way in is on record yet")
	_, rim := p.log(b, b.pine, m{"verb": "unfasten", "what": "rim screws", "side": "any", "tool": "five-lobe 0.8",
		"joint": "screw", "drive": "five-lobe", "count": 2, "seconds": 20}, 45)
	lidEntry, lid := p.log(b, b.pine, m{"verb": "lift", "what": "display assembly", "side": "front",
		"frees": []string{b.lid}, "seconds": 30}, 0)
	_, cell := p.log(b, b.pine, m{"verb": "lift", "what": "battery", "side": "front", "frees": []string{b.cell},
		"seconds": 10, "risk": m{b.cell: 0.1}}, 0)
	a := strip()
	want(t, "three steps", sentence(a), "PINE: battery out last, 2.0 parts out, 2.0 screws in the tray.")
	if a.str("steps.1.after.0.0") != rim || a.str("steps.2.after.0.0") != lid || a.str("steps.0.mark") != "s1" {
		t.Errorf("the plan did not learn the order: %s", a.text)
	}
	if a.str("state.1.next.0.step_id") != rim || a.get("state.1.next.1") != nil {
		t.Errorf("AMBER should be offered the rim only: %v", a.get("state.1"))
	}
	// By hand: (2·ln 20 + ln 45)/3 → 26.2 s for the rim, 6 s for its tool, 30 and 10 s: 72.2 s = 1.2 min.
	way := ways()
	want(t, "the way", sentence(way), "Battery: 3.0 steps, 1.0 tool, to the part 1.2 min",
		"the battery got damaged in 0 of 1 while lifting out, too few to say")
	if way.str("ways.0.measured") != "1" || way.str("ways.0.proven") != "true" ||
		way.str("missing.0") != "sensor strip" {
		t.Errorf("ways: %s", way.text)
	}
	log := "/api/studies/" + b.study + "/log"
	back := func(step string) m { return m{"id": store.NewID(), "unit_id": b.pine, "step_id": step, "back": true} }
	p.must(201, "POST", log, back(cell))
	want(t, "put back", sentence(strip()), "display assembly out last, 1.0 part out", "Next: take out battery")
	p.must(422, "POST", log, back(cell))
	p.must(201, "POST", log, m{"id": store.NewID(), "unit_id": b.pine, "step_id": cell}) // and out again

	// An entry that later ones rest on stays; the last one goes, with the step that only it brought, and comes back.
	last, strap := p.log(b, b.amber, m{"verb": "peel", "what": "strap", "side": "any"}, 0)
	p.must(200, "DELETE", "/api/log/"+last+"?version=1", nil)
	if strings.Contains(strip().text, strap) {
		t.Error("the plan kept a step that nobody took")
	}
	p.must(200, "POST", "/api/log/"+last+"/restore?version=2", nil)
	if !strings.Contains(strip().text, strap) {
		t.Error("the step did not come back with its entry")
	}
	p.must(200, "DELETE", "/api/log/"+lidEntry+"?version=1", nil) // others rest on its step, so only the entry goes
	if a := strip(); !strings.Contains(a.text, lid) || strings.Contains(a.text, lidEntry) {
		t.Error("a step went that others come after")
	}
	p.must(200, "PUT", "/api/log/"+last, m{"version": 3, "seconds": 8, "note": "came off in one piece"})
	// Another way in: the battery after the rim alone. The way gets shorter; the step is changed where it is.
	p.must(200, "PUT", "/api/steps/"+cell, m{"version": 1, "verb": "lift", "what": "battery", "side": "back",
		"frees": []string{b.cell}, "seconds": 10, "after": [][]string{{lid}, {rim}}})
	want(t, "dual entry", sentence(ways()), "Battery: 2.0 steps, 1.0 tool, to the part 0.7 min")
	for _, by := range []string{"depth", "elapsed_seconds", "risk"} {
		if a := p.must(200, "GET", "/api/models/"+b.model+"/ways?minimise="+by, nil); a.str("minimise") != by ||
			a.str("ways.0.proven") != "true" {
			t.Errorf("by %s: %s", by, a.text)
		}
	}
}

// TestSwapFindsTheCulprit exchanges boards, puts them back, and attributes the loss, with a guard and a verdict on the
// way.
func TestSwapFindsTheCulprit(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	swap := func() reply { return p.must(200, "GET", "/api/studies/"+b.study+"/swap", nil) }
	want(t, "no trial", sentence(swap()), "0.0 of 46 checks settled: exchange the main boards first")
	piece := func(part, unit string) m { return m{"part_id": part, "origin": "unit", "unit_id": unit} }
	ids := map[string]string{}
	trial := func(name, board string, results m, pieces ...m) {
		ids[name] = p.must(201, "POST", "/api/studies/"+b.study+"/trials",
			m{"id": store.NewID(), "board_unit_id": board, "pieces": pieces, "results": results,
				"minutes": 20}).str("id")
	}
	for _, u := range []string{b.pine, b.amber} {
		before := m{"battery-health": "pass", "touch": "pass", "vibration": "pass"}
		if u == b.amber {
			before["vibration"] = "lost"
		}
		for check, result := range before {
			p.must(200, "PUT", "/api/units/"+u+"/baseline/"+check, m{"version": 0, "result": result})
		}
	}
	ok := m{"battery-health": "pass", "touch": "pass", "vibration": "pass"}
	bad := m{"battery-health": "lost", "touch": "pass", "vibration": "lost"}
	trial("t1", b.amber, bad, piece(b.lid, b.pine), piece(b.cell, b.pine), piece(b.board, b.pine))
	a := swap()
	want(t, "title", a.str("trials.0.title"), "AMBER board: 3 from another phone")
	if a.str("skips.0.check") != "Vibration motor" || a.str("skips.0.why") == "" {
		t.Errorf("a loss from before opening counts: %s", a.str("skips"))
	}
	trial("t2", b.pine, ok, m{"part_id": b.lid, "origin": "unit", "unit_id": b.amber})
	trial("t3", b.pine, m{"battery-health": "lost"}, piece(b.cell, b.amber))
	trial("t4", b.pine, ok)
	trial("t5", b.pine, ok, m{"part_id": b.board, "origin": "off"},
		m{"part_id": b.lid, "origin": "copy", "lot": "lot-7"})
	trial("t6", b.amber, m{"battery-health": "pass"}, piece(b.board, b.pine))
	a = swap()
	report := func(check string) map[string]any {
		for _, r := range a.get("reports").([]any) {
			if r := r.(map[string]any); r["check"].(map[string]any)["mark"] == check {
				return r
			}
		}
		return nil
	}
	top := report("battery-health")["suspects"].([]any)[0].(map[string]any)
	if top["words"] != "battery, from another phone" || top["p"].(float64) < 0.9 {
		t.Errorf("top suspect: %v", top)
	}
	verdict := func(part, state, check string) map[string]any {
		for _, r := range a.get("rows").([]any) {
			row := r.(map[string]any)
			for _, v := range row["verdicts"].([]any) {
				if v := v.(map[string]any); row["part_id"] == part && row["state"] == state && v["check"] == check {
					return v
				}
			}
		}
		return map[string]any{}
	}
	if v := verdict(b.cell, "stranger", "battery-health"); v["mark"] != "loses" || v["eye"] != "open" ||
		fmt.Sprint(v["for"]) != "[t1 t3]" {
		t.Errorf("battery verdict: %v", v)
	}
	if v := verdict(b.lid, "copy@lot-7", "touch"); v["mark"] != "works" || v["eye"] != "half" {
		t.Errorf("copy verdict: %v", v)
	}
	if v := verdict(b.board, "off", "flash"); v["mark"] != "untested" || v["eye"] != "shut" {
		t.Errorf("untested verdict: %v", v)
	}
	// The job card tells technicians; a technician tells how it went.
	tech := w.as(act.Technician)
	job := "/api/models/" + b.model + "/parts/" + b.cell
	want(t, "job without a way", sentence(tech.must(200, "GET", job, nil)),
		"Drift 9, battery: no way to it is on record, its minutes are not known.", "Tell the customer: lost: Battery health shown")
	p.log(b, b.pine, m{"verb": "cut", "what": "battery pull tabs", "side": "any", "joint": "pull tab",
		"frees": []string{b.cell}, "seconds": 60, "wait_seconds": 60}, 0)
	tech.must(201, "POST", job+"/outcomes", m{"id": store.NewID(), "minutes": 44, "went": "tab broke",
		"note": "third tab"})
	a2 := tech.must(200, "GET", job, nil)
	want(t, "job", sentence(a2), "whole repair 6.3 min", "Tell the customer: lost: Battery health shown")
	if a2.str("outcomes.0.who") != "technician" || a2.str("builds.0.losses.0.check") != "Battery health shown" ||
		!strings.Contains(a2.str("hazards"), "lithium") {
		t.Errorf("job card: %s", a2.text)
	}
	tech.must(422, "POST", "/api/models/"+store.NewID()+"/parts/"+b.cell+"/outcomes",
		m{"id": store.NewID(), "minutes": 44, "went": "fine"})
	// Verdicts of two builds stand side by side.
	p.must(201, "POST", "/api/studies/"+b.study+"/trials",
		m{"id": store.NewID(), "board_unit_id": b.pine, "build": "4.2", "pieces": []m{piece(b.cell, b.amber)},
			"results": m{"battery-health": "pass"}})
	if a = swap(); a.str("build") != "4.2" || fmt.Sprint(a.get("builds")) != "[4.1 4.2]" ||
		verdict(b.cell, "stranger", "battery-health")["mark"] == "loses" {
		t.Errorf("the old build's verdict was mixed in: %v", verdict(b.cell, "stranger", "battery-health"))
	}
	if a := p.must(200, "GET", "/api/studies/"+b.study+"/swap?build=4.1", nil); !strings.Contains(a.text,
		`"mark":"loses"`) {
		t.Error("the older build can no longer be read")
	}
	p.must(200, "PUT", "/api/trials/"+ids["t3"], m{"version": 1, "board_unit_id": b.pine,
		"results": m{"battery-health": "pass"}})
	p.must(200, "DELETE", "/api/trials/"+ids["t2"]+"?version=1", nil)
	if a := p.must(200, "GET", "/api/studies/"+b.study+"/swap?build=4.1", nil); strings.Contains(a.text, ids["t2"]) ||
		strings.Contains(a.str("trials.1.title"), "stranger") {
		t.Error("a change or a delete of a trial did not hold")
	}
	p.must(200, "POST", "/api/trials/"+ids["t2"]+"/restore?version=2", nil)

	sheet := p.must(200, "GET", "/api/studies/"+b.study+"/handover", nil)
	want(t, "hand-over", sentence(sheet), " untested.")
	want(t, "scorecard", p.must(200, "GET", "/api/models/"+b.model+"/scorecard", nil).text, "Physical ease (version 1): ")
	want(t, "hand-over list", sheet.str("open"), "no way to the display assembly", "no charge port on record",
		"checks without a baseline")
	want(t, "notice", sheet.str("notice"), "licensed practice decide")
	card := p.must(200, "GET", "/api/models/"+b.model+"/score", nil)
	if low, high := card.get("schools.0.score.range.0").(float64), card.get("schools.0.score.range.1").(float64); !(low >= 0 &&
		high <= 10 && high-low > 3) {
		t.Errorf("a model half known must score as a wide range, got %g to %g", low, high)
	}
}

func TestFind(t *testing.T) {
	w := start(t)
	p := w.as(act.Buyer)
	want(t, "empty", sentence(p.must(200, "GET", "/api/find", nil)), "Which phone, which part, or a code you hold?")
	w.as(act.Analyst).bench()
	for query, c := range map[string]struct {
		n    int
		says string
	}{
		"battery":               {1, "Pellow Drift 9, battery: 1.0 match"},
		"drift+9":               {3, "3.0 matches"},
		"d9-ba":                 {1, "battery"},
		"BATT+drift":            {1, "battery"},
		"toaster":               {0, "Nothing on record for “toaster”"},
		"%27%3B+drop+table":     {0, "Nothing on record"},
		strings.Repeat("x", 99): {0, "…"},
	} {
		a := p.must(200, "GET", "/api/find?q="+query, nil)
		if n := len(a.get("matches").([]any)); n != c.n {
			t.Errorf("%s: %d matches", query, n)
		}
		want(t, query, sentence(a), c.says)
	}
	if a := p.must(200, "GET", "/api/find?q=d9-ba", nil); a.str("matches.0.why") != "D9-ba" {
		t.Errorf("why: %s", a.text)
	}
}
