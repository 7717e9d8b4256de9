package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/jpeg"
	"strings"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/find"
	"waryowl/internal/core/ledger"
	"waryowl/internal/store"
)

// made is what a recipe says of a request; path: instead of the operation's own; raw: a body that is no JSON.
type made struct {
	path  string
	query map[string]string
	body  map[string]any
	raw   []byte
	who   *person
}

// picture is a small one.
func somePicture() []byte {
	var b bytes.Buffer
	_ = jpeg.Encode(&b, image.NewGray(image.Rect(0, 0, 32, 24)), nil)
	return b.Bytes()
}

func (g *guide) name(what string) string { return fmt.Sprintf("%s %d", what, g.made) }

// token is one of a link, made up as a browser does.
func token() string { return strings.ReplaceAll(store.NewID()+store.NewID(), "-", "")[:40] }

// list reads rows that the trail does not show as they are.
func (g *guide) sql(query string, args ...any) (id string, version int) {
	var row struct {
		ID      string
		Version int
	}
	g.w.app.DB.Raw(query+" ORDER BY RAND() LIMIT 1", args...).Scan(&row)
	if row.ID == "" {
		row.ID = store.NewID()
	}
	return row.ID, max(1, row.Version)
}

// list is a seller's list of one offer, for a model on record.
func (g *guide) list() m {
	text := "seller,code,title,covers,grade,price,currency\n" + fmt.Sprint(g.one("Seller", false).state["name"]) + "," +
		g.name("code") + ",a battery,battery,original,12.50,EUR\n"
	return m{"name": "list.csv", "file": []byte(text), "model": g.one("Model", false).id}
}

// ordered is a new order of one line: a draft, or one that was sent.
func (g *guide) ordered(p *person, state string) stored {
	var made struct{ Orders []struct{ ID string } }
	text := p.do("POST", "/api/orders", m{"lines": []any{m{"offer_id": g.one("Offer", false).id, "quantity": 2}},
		"sure": []any{"again", "old"}}).text
	if _ = json.Unmarshal([]byte(text), &made); len(made.Orders) == 0 { // who may not, or a seller of another currency
		return g.one("PurchaseOrder", false)
	}
	s := stored{id: made.Orders[0].ID, version: 1}
	if state == "sent" && p.do("PUT", "/api/orders/"+s.id+"/state", m{"version": 1, "state": "sent"}).status == 200 {
		s.version = 2
	}
	return s
}

// like is the state of a row with some of it said anew.
func like(s stored, more m) m {
	out := m{}
	for k, v := range s.state {
		out[k] = v
	}
	for k, v := range more {
		out[k] = v
	}
	return out
}

// swapStudy is a study with two phones and parts that take part in swaps, with its phones.
func (g *guide) swapStudy() (study stored, pine, amber, part string) {
	for range 40 {
		study = g.one("Study", false)
		var units []stored
		for _, u := range g.rows["Unit"] {
			if u.state["study_id"] == study.id && !u.gone {
				units = append(units, u)
			}
		}
		for _, p := range g.rows["Part"] {
			if p.state["model_id"] == study.state["model_id"] && p.state["slot"] == true && !p.gone {
				part = p.id
			}
		}
		if len(units) > 1 && part != "" {
			return study, units[0].id, units[1].id, part
		}
	}
	return study, store.NewID(), store.NewID(), part
}

// recipes say how operations are carried out that no stored row tells.
var recipes = map[string]func(g *guide, row *stored, p *person) made{
	"add-account": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "name": g.name("newcomer"), "display": "New", "role": "buyer",
			"token": token()}}
	},
	"change-account": func(g *guide, row *stored, _ *person) made {
		id, version := g.sql("SELECT id, version FROM accounts WHERE name LIKE 'newcomer%'")
		row.id = id
		return made{body: m{"version": version, "display": "Changed", "role": "technician"}}
	},
	"open-link": func(g *guide, row *stored, _ *person) made {
		row.id, _ = g.sql("SELECT id, version FROM accounts WHERE name LIKE 'newcomer%'")
		return made{body: m{"token": token()}}
	},
	"list-sign-ins": func(g *guide, row *stored, _ *person) made {
		row.id, _ = g.sql("SELECT id, version FROM accounts")
		return made{}
	},
	"end-sign-in": func(g *guide, row *stored, _ *person) made {
		other := g.w.as(act.Technician)
		var me struct{ Who struct{ ID string } }
		_ = json.Unmarshal([]byte(other.do("GET", "/api/session", nil).text), &me)
		of, _ := g.sql("SELECT id, 1 AS version FROM sign_ins WHERE account_id = ? AND ended_at IS NULL", me.Who.ID)
		row.id = me.Who.ID
		return made{query: map[string]string{"of": of}}
	},
	"end-own-sign-in": func(g *guide, row *stored, _ *person) made {
		other := g.w.as(act.Buyer)
		var list []struct{ ID string }
		if json.Unmarshal([]byte(other.do("GET", "/api/session/sign-ins", nil).text), &list); len(list) > 0 {
			row.id = list[len(list)-1].ID
		}
		return made{who: other}
	},
	"get-link": func(g *guide, _ *stored, _ *person) made { return made{query: map[string]string{"token": g.link()}} },
	"use-link": func(g *guide, _ *stored, _ *person) made {
		return made{query: map[string]string{"token": g.link()}, who: g.w.nobody(),
			body: m{"password": "seven wet gulls " + token()[:8]}}
	},
	"sign-in": func(g *guide, _ *stored, _ *person) made {
		return made{who: g.w.nobody(), body: m{"name": "technician", "password": "correct horse"}}
	},
	"sign-out": func(g *guide, _ *stored, _ *person) made { return made{who: g.w.as(act.Technician)} },
	"change-password": func(g *guide, _ *stored, p *person) made {
		return made{who: p, body: m{"old": "correct horse", "password": "correct horse"}}
	},
	"add-own-token": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "name": g.name("program"), "token": freshToken(), "days": 1}}
	},
	"end-own-token": func(g *guide, row *stored, p *person) made {
		row.id = g.token(p, "/api/session/tokens")
		return made{}
	},
	"list-tokens": func(g *guide, row *stored, _ *person) made {
		row.id, _ = g.sql("SELECT id, version FROM accounts")
		return made{}
	},
	"add-token": func(g *guide, row *stored, _ *person) made {
		row.id, _ = g.sql("SELECT id, version FROM accounts WHERE name LIKE 'demo %'")
		return made{body: m{"id": store.NewID(), "name": g.name("program"), "token": freshToken(), "reads_only": true}}
	},
	"end-token": func(g *guide, row *stored, p *person) made {
		row.id, _ = g.sql("SELECT id, version FROM accounts WHERE name LIKE 'demo %'")
		return made{query: map[string]string{"of": g.token(p, "/api/accounts/"+row.id+"/tokens")}}
	},
	"see-told": func(*guide, *stored, *person) made { return made{body: m{"line": 1}} },
	"get-code": func(g *guide, _ *stored, _ *person) made {
		return made{query: map[string]string{"code": find.Code("u", g.one("Unit", false).id)}}
	},
	"add-day-job": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "day": time.Now().Format(time.DateOnly) + "T00:00:00Z",
			"title": g.name("job"),
			"text":  "open 10 hands"}}
	},
	"change-day-job": func(g *guide, row *stored, _ *person) made {
		return made{body: m{"version": row.version, "day": time.Now().Format(time.DateOnly) + "T00:00:00Z",
			"title": g.name("job"),
			"text":  "open 12 hands"}}
	},
	"tell-day-job": func(g *guide, row *stored, _ *person) made {
		return made{body: m{"version": row.version, "op": "open", "what": g.f.pick("start", "end"), "at": 30 + g.made%400}}
	},
	"add-delivery": func(g *guide, _ *stored, _ *person) made {
		return made{body: like(g.one("Delivery", false), m{"id": store.NewID(), "lot": g.name("lot"), "inspected": 1,
			"bad":     0,
			"reasons": []any{}})}
	},
	"add-lot-picture": func(g *guide, row *stored, _ *person) made { return made{raw: somePicture()} },
	"delete-lot-picture": func(g *guide, row *stored, _ *person) made {
		row.id, row.version = g.sql("SELECT id, version FROM photos WHERE delivery_id <> '' AND deleted_at IS NULL")
		return made{}
	},
	"restore-lot-picture": func(g *guide, row *stored, _ *person) made {
		row.id, row.version = g.sql("SELECT id, version FROM photos WHERE delivery_id <> '' AND deleted_at IS NOT NULL")
		return made{}
	},
	"receive-delivery": func(g *guide, row *stored, _ *person) made {
		return made{body: m{"place": "drawer"}}
	},
	"import-document": func(g *guide, _ *stored, p *person) made {
		text := p.do("GET", "/api/models/"+g.one("Model", false).id+"/document", nil).text
		return made{query: map[string]string{"name": strings.ReplaceAll(g.name("copy"), " ", "-")}, raw: []byte(text)}
	},
	"add-dry-run": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "level": 0, "seed": g.made}}
	},
	"get-dry-run": func(g *guide, row *stored, p *person) made { row.id, _ = g.dry(p); return made{} },
	"add-dry-act": func(g *guide, row *stored, p *person) made {
		id, version := g.dry(p)
		row.id = id
		return made{body: m{"version": version, "kind": "read", "board": "pine", "checks": []any{"touch"}}}
	},
	"end-dry-run": func(g *guide, row *stored, p *person) made {
		id, version := g.dry(p)
		row.id = id
		return made{body: m{"version": version}}
	},
	"get-dry-runs": func(*guide, *stored, *person) made { return made{} },
	"add-fault": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "visit_id": store.NewID(), "sticker": "TEAL", "state": "in",
			"for_model_id": g.one("Model", false).id, "symptom": "no charge"}}
	},
	"get-fault": func(g *guide, row *stored, _ *person) made {
		row.id, _ = g.sql("SELECT id, version FROM fault_searches WHERE deleted_at IS NULL")
		return made{}
	},
	"change-fault": func(g *guide, row *stored, p *person) made {
		row.id = g.fault(p)
		return made{body: m{"version": 1, "symptom": "no charge"}}
	},
	"add-fault-act": func(g *guide, row *stored, p *person) made {
		row.id = g.fault(p)
		a := p.do("GET", "/api/faults/"+row.id, nil)
		return made{body: m{"id": store.NewID(), "act": a.str("next.act.act"), "answer": "no"}}
	},
	"undo-fault-act": func(g *guide, row *stored, p *person) made {
		row.id = g.fault(p)
		a := p.do("GET", "/api/faults/"+row.id, nil)
		p.do("POST", "/api/faults/"+row.id+"/acts", m{"id": store.NewID(), "act": a.str("next.act.act"), "answer": "no"})
		_, row.version = g.sql("SELECT id, version FROM fault_searches WHERE id = ?", row.id)
		return made{}
	},
	"end-fault": func(g *guide, row *stored, _ *person) made {
		id, version := g.sql("SELECT id, version FROM fault_searches WHERE deleted_at IS NULL AND state = 'open'")
		row.id = id
		return made{body: m{"version": version, "state": "given up", "why": "the owner wants it back"}}
	},
	"add-visit": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "sticker": g.name("V"), "state": "in", "for_model_id": g.one("Model", false).id}}
	},
	"change-visit": func(g *guide, row *stored, _ *person) made {
		row.id, row.version = g.sql("SELECT id, version FROM visits WHERE deleted_at IS NULL AND forgotten_at IS NULL AND unit_id = ''")
		return made{body: m{"version": row.version, "sticker": g.name("V"), "state": "in", "said": "since Friday"}}
	},
	"move-visit": func(g *guide, row *stored, p *person) made {
		row.id, row.version = g.guest(p)
		return made{body: m{"version": row.version, "state": g.f.pick("waiting for a part", "handed back")}}
	},
	"end-visit": func(g *guide, row *stored, p *person) made {
		row.id, row.version = g.guest(p)
		return made{body: m{"version": row.version, "went": g.f.pick("fine", "gave up")}}
	},
	"confirm-visit": func(g *guide, row *stored, p *person) made {
		id, version := g.guest(p)
		p.do("PUT", "/api/visits/"+id+"/end", m{"version": version, "went": "fine", "minutes": 1400})
		row.id, row.version = g.sql("SELECT id, version FROM visits WHERE doubt = 'asked'")
		return made{body: m{"version": row.version, "counts": g.f.pick("a", "b") == "a"}}
	},
	"delete-visit": func(g *guide, row *stored, p *person) made { row.id, row.version = g.guest(p); return made{} },
	"add-visit-entry": func(g *guide, row *stored, p *person) made {
		row.id, _ = g.guest(p)
		return made{body: m{"id": store.NewID(), "key": g.f.pick("old", "same", "cure", "check boot"), "seconds": 12}}
	},
	"sign-visit-entry": func(g *guide, row *stored, p *person) made {
		row.id, _ = g.guest(p)
		who := "technician"
		if a := p.do("GET", "/api/session", nil); a.str("who.name") == who {
			who = "analyst"
		}
		return made{body: m{"id": store.NewID(), "key": "see dust", "name": who, "password": "correct horse"}}
	},
	"delete-visit-entry": func(g *guide, row *stored, p *person) made {
		id, _ := g.guest(p)
		row.id, row.version = store.NewID(), 1
		p.do("POST", "/api/visits/"+id+"/entries", m{"id": row.id, "key": "old", "seconds": 5})
		return made{}
	},
	"add-visit-photo": func(g *guide, row *stored, p *person) made {
		row.id, _ = g.guest(p)
		return made{raw: somePicture()}
	},
	"get-visit-photo": func(g *guide, row *stored, _ *person) made {
		row.id, _ = g.sql("SELECT id, version FROM visit_photos WHERE deleted_at IS NULL")
		return made{}
	},
	"add-proposal": func(g *guide, row *stored, _ *person) made {
		step := g.one("PlanStep", false)
		row.id = fmt.Sprint(step.state["model_id"])
		return made{body: m{"id": store.NewID(), "kind": "hidden screw", "step_id": step.id, "words": "the label"}}
	},
	"answer-proposal": func(g *guide, row *stored, p *person) made {
		step := g.one("PlanStep", false)
		row.id, row.version = store.NewID(), 1
		p.do("POST", fmt.Sprintf("/api/models/%v/proposals", step.state["model_id"]), m{"id": row.id, "kind": "hidden screw",
			"step_id": step.id, "words": "the label"})
		return made{body: m{"version": 1, "accept": g.f.pick("a", "b") == "a"}}
	},
	"undo-merge": func(g *guide, row *stored, _ *person) made {
		row.id, row.version = g.sql("SELECT id, version FROM merges WHERE NOT undone")
		return made{}
	},
	"merge-parts": func(g *guide, row *stored, p *person) made {
		model := g.one("Model", false).id
		var ids []string
		for range 2 {
			id := store.NewID()
			p.do("POST", "/api/models/"+model+"/parts", m{"id": id, "name": "double " + id, "family": "FR"})
			ids = append(ids, id)
		}
		row.id = ids[0]
		return made{body: m{"id": store.NewID(), "into": ids[1]}}
	},
	"merge-models": func(g *guide, row *stored, p *person) made {
		var ids []string
		for range 2 {
			id := store.NewID()
			p.do("POST", "/api/models", m{"id": id, "maker": "Corvane", "name": "Twin " + id, "entry": "back"})
			ids = append(ids, id)
		}
		row.id = ids[0]
		return made{body: m{"id": store.NewID(), "into": ids[1]}}
	},
	"start-from": func(g *guide, row *stored, p *person) made {
		row.id = store.NewID()
		p.do("POST", "/api/models", m{"id": row.id, "maker": "Corvane", "name": "Next " + row.id, "entry": "back"})
		return made{body: m{"from": g.one("Model", false).id}}
	},
	"import-plan": func(g *guide, row *stored, p *person) made {
		row.id = store.NewID()
		p.do("POST", "/api/models", m{"id": row.id, "maker": "Corvane", "name": "Planned " + row.id, "entry": "back"})
		return made{raw: []byte(`{"parts":[{"name":"lid","family":"FR"}],"steps":[{"mark":"s1","verb":"lift","what":"lid","side":"back",` +
			`"frees":["lid"]}]}`)}
	},
	"add-outcome": func(g *guide, row *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "minutes": 12, "went": "fine"}}
	},
	"keep-score": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "note": g.name("mark")}}
	},
	"say-fact": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "fact": "manual", "choice": "public-free", "by": "me"}}
	},
	"say-shop-fact": func(g *guide, _ *stored, _ *person) made { return made{body: g.shopFact(m{"id": store.NewID()})} },
	"change-fact": func(g *guide, row *stored, _ *person) made {
		return made{body: like(*row, m{"version": row.version, "evidence": g.name("leaflet")})}
	},
	"try-score": func(g *guide, _ *stored, p *person) made { return made{body: m{"document": g.rubric(p)}} },
	"draft-rubric": func(g *guide, _ *stored, p *person) made {
		return made{body: m{"id": store.NewID(), "document": g.rubric(p)}}
	},
	"change-rubric": func(g *guide, row *stored, p *person) made {
		row.id = g.draft(p)
		return made{body: m{"version": 1, "document": g.rubric(p)}}
	},
	"publish-rubric": func(g *guide, row *stored, _ *person) made {
		return made{body: m{"version": row.version, "published": g.f.r.IntN(2) == 0}}
	},
	"restore-rubric": func(g *guide, row *stored, p *person) made {
		row.id = g.draft(p)
		p.do("DELETE", "/api/rubrics/"+row.id+"?version=1", nil)
		row.version = 2
		return made{}
	},
	"get-study-document": func(g *guide, row *stored, _ *person) made {
		st := g.one("Study", false)
		row.id = fmt.Sprint(st.state["model_id"])
		return made{query: map[string]string{"study": st.id}}
	},
	"get-rubric": func(g *guide, row *stored, p *person) made {
		return made{query: map[string]string{"name": "own-template"}}
	},
	"change-photo": func(g *guide, row *stored, _ *person) made {
		id, version := g.sql("SELECT id, version FROM photos WHERE study_id <> '' AND deleted_at IS NULL")
		row.id = id
		return made{body: m{"version": version, "caption": g.name("seen")}}
	},
	"get-trials": func(g *guide, row *stored, _ *person) made {
		t := g.one("Trial", false)
		row.id = fmt.Sprint(t.state["study_id"])
		return made{query: map[string]string{"before": t.id}}
	},
	"put-table": func(g *guide, row *stored, _ *person) made {
		return made{query: map[string]string{"table": "parts"},
			body: m{"file": []byte("name,family\n" + g.name("part") + ",FR\n")}}
	},
	"look-at-table": func(g *guide, row *stored, _ *person) made {
		return made{query: map[string]string{"table": "parts"},
			body: m{"file": []byte("name;family\n" + g.name("part") + ";FR\n")}}
	},
	"put-desk-table":     deskTable,
	"look-at-desk-table": deskTable,
	"add-part-pair": func(g *guide, _ *stored, _ *person) made {
		a := g.one("Part", false)
		b := g.one("Part", false)
		for range 50 {
			if b.state["model_id"] != a.state["model_id"] && b.state["kind"] == a.state["kind"] {
				break
			}
			b = g.one("Part", false)
		}
		return made{body: m{"id": store.NewID(), "part_id": a.id, "other_part_id": b.id, "verdict": "refused"}}
	},
	"add-photo": func(g *guide, row *stored, _ *person) made {
		return made{raw: somePicture()}
	},
	"get-photo": func(g *guide, row *stored, _ *person) made {
		row.id, _ = g.sql("SELECT id, version FROM photos WHERE deleted_at IS NULL")
		return made{}
	},
	"add-seller": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "name": g.name("seller"), "currency": "EUR", "shipping_minor": 0}}
	},
	"add-model": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "maker": "Pellow", "name": g.name("Drift"), "entry": "back"}}
	},
	"add-part": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "name": g.name("part"), "family": "FR", "layer": 2}}
	},
	"add-study": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "model_id": g.one("Model", false).id, "title": g.name("study")}}
	},
	"add-unit": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "name": fmt.Sprintf("U%d", g.made), "colour": "blue", "shape": "diamond"}}
	},
	"add-word": func(g *guide, _ *stored, _ *person) made {
		return made{body: like(g.one("OwnWord", false), m{"id": store.NewID(), "say": "rattler" + strings.Repeat("x",
			g.made%20),
			"means": "vibration motor", "kind": "part"})}
	},
	"calibrate": func(g *guide, row *stored, _ *person) made {
		study, pine, _, part := g.swapStudy()
		*row = study
		return made{body: m{"id": store.NewID(), "housing_unit_id": pine, "part_ids": []any{part}, "understood": true}}
	},
	"add-log": func(g *guide, row *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "unit_id": g.where("Unit", "study_id", row.id).id, "kind": "note",
			"note": "seen"}}
	},
	"change-log": func(g *guide, row *stored, _ *person) made {
		return made{body: m{"version": row.version, "seconds": 12, "note": "seen again"}}
	},
	"look-at-narration": func(g *guide, row *stored, _ *person) made {
		return made{body: m{"unit_id": g.where("Unit", "study_id", row.id).id,
			"text": "[0:05] a note, the rim looks bent\n[0:20] out comes the battery\n"}}
	},
	"add-narration": func(g *guide, row *stored, _ *person) made {
		return made{body: m{"recording": store.NewID(), "began": time.Now().UTC().Add(-time.Hour).Format(time.RFC3339),
			"lines": []any{m{"id": store.NewID(), "unit_id": g.where("Unit", "study_id", row.id).id,
				"note":   "the rim looks bent",
				"second": 5, "words": "the rim looks bent"}}}}
	},
	"undo-narration": func(g *guide, row *stored, p *person) made {
		recording := store.NewID()
		p.do("POST", "/api/studies/"+row.id+"/narration", m{"recording": recording,
			"began": time.Now().UTC().Add(-time.Hour).Format(time.RFC3339), "lines": []any{m{"id": store.NewID(),
				"unit_id": g.where("Unit", "study_id", row.id).id, "note": "bent", "second": 5}}})
		return made{body: m{"recording": recording}}
	},
	"get-film": func(g *guide, row *stored, p *person) made {
		recording := store.NewID()
		p.do("POST", "/api/studies/"+row.id+"/narration", m{"recording": recording,
			"began": time.Now().UTC().Add(-time.Hour).Format(time.RFC3339), "lines": []any{m{"id": store.NewID(),
				"unit_id": g.where("Unit", "study_id", row.id).id, "note": "bent", "second": 5, "words": "it is bent"}}})
		return made{query: map[string]string{"recording": recording, "kind": "captions"}}
	},
	"add-swap-act": func(g *guide, row *stored, _ *person) made {
		study, pine, _, _ := g.swapStudy()
		*row = study
		return made{body: m{"id": store.NewID(), "kind": "restart", "board_unit_id": pine}}
	},
	"add-trial": func(g *guide, row *stored, _ *person) made {
		study, pine, amber, part := g.swapStudy()
		*row = study
		return made{body: m{"id": store.NewID(), "board_unit_id": pine, "results": m{"touch": "pass"},
			"pieces": []any{m{"part_id": part, "origin": "unit", "unit_id": amber}}}}
	},
	"pass-gate": func(g *guide, row *stored, p *person) made {
		study, pine, amber, part := g.swapStudy()
		id := store.NewID()
		a := p.do("POST", "/api/studies/"+study.id+"/trials", m{"id": id, "board_unit_id": pine, "boot_minutes": 9,
			"results": m{"boot": "lost"},
			"pieces":  []any{m{"part_id": part, "origin": "unit", "unit_id": amber}}})
		row.id = id
		version := 1
		fmt.Sscan(a.str("version"), &version)
		return made{body: m{"version": version, "step": ledger.DeadGate()[g.made%len(ledger.DeadGate())]}}
	},
	"set-baseline": func(g *guide, row *stored, _ *person) made {
		var cell struct{ Version int }
		g.w.app.DB.Raw("SELECT version FROM baselines WHERE unit_id = ? AND check_mark = 'touch' AND deleted_at IS NULL",
			row.id).Scan(&cell)
		return made{body: m{"version": cell.Version, "result": "pass"}}
	},
	"fill-baseline": func(*guide, *stored, *person) made { return made{body: m{"result": "pass"}} },
	"set-closing": func(g *guide, row *stored, _ *person) made {
		var c struct{ Version int }
		g.w.app.DB.Raw("SELECT version FROM closings WHERE unit_id = ? AND deleted_at IS NULL", row.id).Scan(&c)
		return made{body: m{"version": c.Version, "end_state": "open"}}
	},
	"set-workshop": func(g *guide, row *stored, _ *person) made {
		return made{body: like(g.one("Workshop", false), m{"version": g.one("Workshop", false).version})}
	},
	"get-piece": func(g *guide, row *stored, _ *person) made {
		_, pine, _, part := g.swapStudy()
		return made{path: "/api/units/" + pine + "/pieces/" + part}
	},
	"look-at-offers": func(g *guide, _ *stored, _ *person) made { return made{body: g.list()} },
	"import-offers": func(g *guide, _ *stored, p *person) made {
		list := g.list()
		seen := p.do("POST", "/api/offers/look", list)
		list["id"], list["rest"] = store.NewID(), true
		var known struct{ Known string }
		_ = json.Unmarshal([]byte(seen.text), &known)
		list["known"] = known.Known
		return made{body: list}
	},
	"add-need": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "for_model_id": g.one("Model", false).id, "item": "battery", "quantity": 2}}
	},
	"add-build-needs": func(g *guide, row *stored, _ *person) made { return made{body: m{"job": "build"}} },
	"get-needs-basket": func(g *guide, _ *stored, p *person) made {
		var room struct{ Needs []struct{ ID string } }
		_ = json.Unmarshal([]byte(p.do("GET", "/api/needs", nil).text), &room)
		chosen := []any{}
		for _, n := range room.Needs[:min(6, len(room.Needs))] {
			chosen = append(chosen, m{"id": n.ID})
		}
		return made{body: m{"needs": chosen, "copies": true}}
	},
	"make-orders": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"lines": []any{m{"offer_id": g.one("Offer", false).id, "quantity": 2}}, "sure": []any{"again", "old"}}}
	},
	"change-order": func(g *guide, row *stored, p *person) made {
		*row = g.ordered(p, "draft")
		return made{body: m{"version": row.version, "lines": []any{m{"no": 1, "quantity": 3}}}}
	},
	"move-order": func(g *guide, row *stored, p *person) made {
		*row = g.ordered(p, "draft")
		return made{body: m{"version": row.version, "state": "sent"}}
	},
	"ask-order": func(g *guide, row *stored, p *person) made {
		*row = g.ordered(p, "sent")
		return made{body: m{"version": row.version}}
	},
	"write-off-order": func(g *guide, row *stored, p *person) made {
		*row = g.ordered(p, "sent")
		return made{body: m{"version": row.version, "line": 1, "why": "sold out"}}
	},
	"receive-order": func(g *guide, row *stored, p *person) made {
		*row = g.ordered(p, "sent")
		return made{body: m{"version": row.version, "id": store.NewID(), "line": 1, "came": 1, "good": 0, "bad": 1, "wrong": 0,
			"lot": g.name("lot"), "place": "drawer", "surplus": "take"}}
	},
	"tell-claim": func(g *guide, row *stored, _ *person) made {
		for _, o := range g.rows["PurchaseOrder"] {
			list, _ := o.state["receipts"].([]any)
			for _, r := range list {
				if r.(m)["claim_by"] != nil {
					*row = o
					return made{path: "/api/orders/" + o.id + "/claims/" + r.(m)["id"].(string), body: m{"version": o.version}}
				}
			}
		}
		return made{body: m{"version": 1}}
	},
	"get-order-file": func(g *guide, row *stored, _ *person) made {
		return made{path: "/api/orders/" + g.one("PurchaseOrder", false).id + "/" + fmt.Sprint(g.f.pick("pdf", "csv"))}
	},
	"undo-offers": func(g *guide, row *stored, _ *person) made {
		for _, o := range g.rows["OfferImport"] {
			if o.state["undone"] != true {
				*row = o
			}
		}
		return made{body: m{"version": row.version}}
	},
	"add-work": func(g *guide, _ *stored, _ *person) made {
		return made{body: m{"id": store.NewID(), "for_model_id": g.one("Model", false).id, "job": "battery",
			"status":   "asked",
			"asked_on": "2026-11-20T00:00:00Z"}}
	},
	"add-shelf": func(g *guide, _ *stored, _ *person) made {
		return made{body: like(g.one("Shelf", false), m{"id": store.NewID(), "place": g.name("drawer")})}
	},
	"find": func(*guide, *stored, *person) made { return made{query: map[string]string{"q": "battery"}} },
	"get-notices": func(*guide, *stored, *person) made {
		return made{query: map[string]string{"typed": "screen is not ours"}}
	},
	"get-swap-factors": func(g *guide, row *stored, _ *person) made {
		study, _, _, part := g.swapStudy()
		*row = study
		other := part
		for _, p := range g.rows["Part"] {
			if p.id != part && p.state["model_id"] == study.state["model_id"] && p.state["slot"] == true && !p.gone {
				other = p.id
			}
		}
		return made{query: map[string]string{"check": "touch", "parts": part + "&parts=" + other}}
	},
	"get-fit": func(g *guide, _ *stored, _ *person) made { return made{query: map[string]string{"kind": "battery"}} },
}

// link is the token of a link that is open.
func (g *guide) link() string {
	t := token()
	id, _ := g.sql("SELECT id, version FROM accounts WHERE name LIKE 'newcomer%' AND NOT disabled")
	g.w.as(act.Administrator).do("POST", "/api/accounts/"+id+"/link", m{"token": t})
	return t
}

// dry is a practice of somebody that has not ended.
func (g *guide) dry(p *person) (string, int) {
	id := store.NewID()
	a := p.do("POST", "/api/dry-runs", m{"id": id, "level": 0, "seed": g.made})
	version := 1
	fmt.Sscan(a.str("version"), &version)
	return id, version
}

// shopFact is something said of every model.
func (g *guide) shopFact(more m) m {
	out := m{"fact": "shop.rate", "by": "me", "number": 4000, "currency": "EUR"}
	for k, v := range more {
		out[k] = v
	}
	return out
}

// rubric is a rule of one's own: the template under another id.
func (g *guide) rubric(p *person) string {
	if g.template == "" {
		g.template = p.must(200, "GET", "/api/rubrics/own-template", nil).text
	}
	return strings.Replace(g.template, `"id":"own-template"`, fmt.Sprintf(`"id":"house-%d"`, g.made), 1)
}

// token is a token that somebody has just made.
func (g *guide) token(p *person, path string) string {
	id := store.NewID()
	p.do("POST", path, m{"id": id, "name": g.name("program") + " " + id, "token": freshToken(), "days": 1})
	return id
}

// draft is a rule of somebody that is not published.
func (g *guide) draft(p *person) string {
	id := store.NewID()
	p.do("POST", "/api/rubrics", m{"id": id, "document": g.rubric(p)})
	return id
}

// guest is a phone that came in for an exchange.
func (g *guide) guest(p *person) (id string, version int) {
	id = store.NewID()
	part := g.one("Part", false)
	p.do("POST", "/api/visits", m{"id": id, "sticker": g.name("V"), "state": "in", "for_model_id": part.state["model_id"],
		"part_id": part.id})
	return g.sql("SELECT id, version FROM visits WHERE id = ?", id)
}

// fault is a phone with a fault whose search has not ended.
func (g *guide) fault(p *person) string {
	id := store.NewID()
	p.do("POST", "/api/faults", m{"id": id, "visit_id": store.NewID(), "sticker": "TEAL", "state": "in",
		"for_model_id": g.one("Model", false).id, "symptom": "no charge"})
	return id
}

func deskTable(g *guide, _ *stored, _ *person) made {
	offer := g.one("Offer", false)
	seller := ""
	for _, s := range g.rows["Seller"] {
		if s.id == offer.state["seller_id"] {
			seller = fmt.Sprint(s.state["name"])
		}
	}
	return made{query: map[string]string{"table": "offers", "id": fmt.Sprint(offer.state["for_model_id"])},
		body: m{"file": []byte("seller,title,covers,grade,price,currency\n" + seller + "," + g.name("offer") + ",battery,copy,12.50,EUR\n")}}
}
