package server

import (
	"strings"
	"testing"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// TestAVisitOverTheWire: a technician takes a phone in, logs it, and closes it; a buyer reads it only; an apprentice's lead is
// looked at by another person, whose password is right, and of whose password no sum is kept.
func TestAVisitOverTheWire(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	p.log(b, b.pine, m{"verb": "disconnect", "what": "battery connector", "side": "any", "joint": "connector"}, 0)
	p.log(b, b.pine, m{"verb": "bracket", "what": "upper bracket", "side": "any"}, 0)
	p.log(b, b.pine, m{"verb": "lift", "what": "battery", "side": "any", "frees": []string{b.cell}}, 0)
	tech, buyer := w.as(act.Technician), w.as(act.Buyer)
	id := store.NewID()
	facts := m{"id": id, "for_model_id": b.model, "part_id": b.cell, "sticker": "TEAL", "state": "in", "said": "flat by noon",
		"arrival": m{"touch": "pass"}, "consents": m{"water": true}}
	buyer.must(403, "POST", "/api/visits", facts)
	want(t, "a check that is none", tech.must(422, "POST", "/api/visits", m{"id": id, "for_model_id": b.model, "sticker": "TEAL",
		"state": "in", "arrival": m{"touch": "perhaps"}}).text, "arrival", "pass or lost")
	tech.must(201, "POST", "/api/visits", facts)
	room := buyer.must(200, "GET", "/api/visits/"+id, nil)
	if room.str("visit.said") != "flat by noon" || room.str("acts.0.key") == "" || room.str("visit.consents.water") != "true" {
		t.Errorf("the room: %s", room.text)
	}
	if list := buyer.must(200, "GET", "/api/visits", nil); !strings.Contains(list.text, "TEAL") {
		t.Errorf("the list: %s", list.text)
	}

	// The office wants another person's look at leads; the technician becomes an apprentice.
	admin := w.as(act.Administrator)
	office := admin.must(200, "GET", "/api/parts", nil)
	admin.must(200, "PUT", "/api/workshop", m{"version": office.get("workshop.version"), "currency": "EUR", "labour_minor": 4800,
		"charge_limit": 25, "sign_off": []string{"leads"}})
	var young store.Account
	if err := w.app.DB.First(&young, "name = 'technician'").Error; err != nil {
		t.Fatal(err)
	}
	admin.must(200, "PUT", "/api/accounts/"+young.ID, m{"version": young.Version, "display": young.Display, "role": "technician",
		"apprentice": true})
	seat := m{"id": store.NewID(), "key": "see seat " + store.NewID()}
	want(t, "alone", tech.must(422, "POST", "/api/visits/"+id+"/entries", seat).text, "another person's look")
	path := "/api/visits/" + id + "/signed-entries"
	seat["name"], seat["password"] = "analyst", "wrong horse"
	tech.must(401, "POST", path, seat)
	seat["name"], seat["password"] = "technician", "correct horse"
	want(t, "oneself", tech.must(422, "POST", path, seat).text, "no apprentice")
	seat["name"] = "analyst"
	if a := tech.must(201, "POST", path, seat); a.str("signed_by") != "analyst" {
		t.Errorf("signed: %s", a.text)
	}
	if signs := tech.must(200, "GET", "/api/visits/"+id, nil); signs.str("signs.0") != "leads" || signs.str("people") == "[]" {
		t.Errorf("what is wanted of an apprentice: %s, %s", signs.str("signs"), signs.str("people"))
	}
}
