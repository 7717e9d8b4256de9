package server

import (
	"encoding/base32"
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/google/uuid"

	"waryowl/internal/app/act"
	"waryowl/internal/core/basket"
	"waryowl/internal/core/gate"
	"waryowl/internal/core/stock"
	"waryowl/internal/store"
)

// stocked is a desk with a seller and offers for the parts of a small study.
func (p *person) stocked(b bench) (seller string) {
	p.t.Helper()
	seller = store.NewID()
	p.must(
		201,
		"POST",
		"/api/sellers",
		m{"id": seller, "name": "North", "currency": "EUR", "shipping_minor": 490, "free_above_minor": 9000,
			"coupons": []m{{"percent": 5, "above_minor": 5000}}, "refund": 0.5, "lead_p50": 2, "lead_p90": 5},
	)
	for i, o := range []m{
		{"title": "battery", "covers": m{"battery": 1}, "grade": "original", "price_minor": 1900},
		{"title": "battery, copy", "covers": m{"battery": 1}, "grade": "copy", "price_minor": 900},
		{"title": "display", "covers": m{"display": 1}, "grade": "used", "price_minor": 6100},
		{"title": "kit", "covers": m{"display": 1, "sensor-strip": 1}, "grade": "used", "price_minor": 7000},
	} {
		o["id"], o["seller_id"], o["for_model_id"], o["currency"], o["stock"] = store.NewID(), seller, b.model, "EUR", 3
		o["priced_on"] = fmt.Sprintf("2026-11-%02dT00:00:00Z", 10+i)
		p.must(201, "POST", "/api/offers", o)
	}
	return seller
}

// TestRoomsGiveTheirQuestion: what a room of the desk shows is what the engine answers to the document that it gives, so that
// anybody can ask it again on the command line.
func TestRoomsGiveTheirQuestion(t *testing.T) {
	w := start(t)
	analyst := w.as(act.Analyst)
	b := analyst.bench()
	p := w.as(act.Buyer)
	p.stocked(b)
	for range 3 {
		p.must(
			201,
			"POST",
			"/api/work-orders",
			m{"id": store.NewID(), "for_model_id": b.model, "job": "battery", "status": "closed",
				"asked_on": "2026-11-20T00:00:00Z"},
		)
	}
	p.must(
		201,
		"POST",
		"/api/prices",
		m{"id": store.NewID(), "what": "battery", "for_model_id": b.model, "price_minor": 6900,
			"currency": "EUR", "priced_on": "2026-11-20T00:00:00Z"},
	)
	near := func(what string, a, b float64) {
		if math.Abs(a-b) > 1e-6 {
			t.Errorf("%s: %g in the room, %g from the engine", what, a, b)
		}
	}
	var shop struct {
		Document basket.Input  `json:"document"`
		Found    basket.Output `json:"found"`
	}
	read := func(path string, into any) {
		if err := json.Unmarshal([]byte(p.must(200, "GET", path, nil).text), into); err != nil {
			t.Fatal(err)
		}
	}
	for _, query := range []string{"", "&copies=false", "&used=false", "&alternatives=true&stated=12345", "&deadline=3"} {
		read("/api/parts/basket?model="+b.model+query, &shop)
		if len(shop.Document.Offers) == 0 {
			t.Fatalf("%q: no offers asked about", query)
		}
		out, err := basket.Solve(shop.Document)
		if err != nil {
			t.Fatal(err)
		}
		near("expected"+query, shop.Found.Expected, out.Expected)
		near("invoice"+query, shop.Found.Invoice, out.Invoice)
		if !shop.Found.Proven || len(shop.Found.Lines) != len(out.Lines) {
			t.Errorf("%q: %d lines in the room, %d from the engine", query, len(shop.Found.Lines), len(out.Lines))
		}
	}
	var levels struct {
		Document stock.Input  `json:"document"`
		Found    stock.Output `json:"found"`
	}
	read("/api/parts/stock?budget=4000", &levels)
	out, err := stock.Solve(levels.Document)
	if err != nil || len(out.Groups) != len(levels.Found.Groups) || len(out.Groups) == 0 {
		t.Fatalf("%d groups from the engine, %d in the room, %v", len(out.Groups), len(levels.Found.Groups), err)
	}
	near("spent", levels.Found.Spent, out.Spent)
	for i, g := range out.Groups {
		near("fill of "+g.ID, levels.Found.Groups[i].Fill, g.Fill)
	}
	var may struct {
		Document gate.Job    `json:"document"`
		Found    gate.Answer `json:"found"`
	}
	read("/api/models/"+b.model+"/gate/battery", &may)
	answer, err := gate.Accept(may.Document)
	if err != nil || answer.Answer != may.Found.Answer || len(answer.Reasons) != len(may.Found.Reasons) {
		t.Errorf("%+v in the room, %+v from the engine, %v", may.Found, answer, err)
	}
	near("margin", may.Found.Margin, answer.Margin)
}

// TestWhatIsKeptFollowsTheDesk: a room that was read is kept until a price, a piece or a saying changes it.
func TestWhatIsKeptFollowsTheDesk(t *testing.T) {
	w := start(t)
	analyst := w.as(act.Analyst)
	b := analyst.bench()
	p := w.as(act.Buyer)
	seller := p.stocked(b)
	paths := []string{"/api/models/" + b.model + "/score", "/api/models/" + b.model + "/scorecard", "/api/parts",
		"/api/parts/stock?budget=0", "/api/parts/incoming"}
	for _, path := range paths {
		_, tag, first := p.fetch(path, "")
		if status, _, _ := p.fetch(path, tag); tag == "" || status != 304 {
			t.Errorf("%s: tag %q, asked again %d", path, tag, status)
		}
		if _, _, second := p.fetch(path, ""); second != first {
			t.Errorf("%s: the same question, another answer", path)
		}
	}
	tags := map[string]string{}
	for _, path := range paths {
		_, tags[path], _ = p.fetch(path, "")
	}
	p.must(
		201,
		"POST",
		"/api/offers",
		m{"id": store.NewID(), "seller_id": seller, "for_model_id": b.model, "title": "cheaper",
			"covers": m{
				"battery": 1,
			}, "grade": "original", "price_minor": 1500, "currency": "EUR", "priced_on": "2026-11-20T00:00:00Z", "stock": 1},
	)
	for _, path := range paths {
		if status, _, _ := p.fetch(path, tags[path]); status != 200 {
			t.Errorf("%s: %d after an offer came in", path, status)
		}
	}
	if _, _, room := p.fetch(paths[0], ""); !strings.Contains(room, "15.00 EUR") {
		t.Error("the cheaper offer does not reach the score")
	}
}

// TestPrintedCodes: a code leads to its part or phone for everybody, whatever its case; what is none is refused by name.
func TestPrintedCodes(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	code := func(kind, id string) string {
		raw := uuid.MustParse(id)
		return "WO" + kind + base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(raw[:])
	}
	reader := w.as(act.Technician)
	part := reader.must(200, "GET", "/api/codes/"+strings.ToLower(code("P", b.cell)), nil)
	if part.str("kind") != "part" || part.str("part_id") != b.cell || part.str("model_id") != b.model {
		t.Errorf("a part: %s", part.text)
	}
	unit := reader.must(200, "GET", "/api/codes/"+code("U", b.pine), nil)
	if unit.str("kind") != "unit" || unit.str("study_id") != b.study || unit.str("unit_id") != b.pine {
		t.Errorf("a phone: %s", unit.text)
	}
	reader.must(404, "GET", "/api/codes/"+code("P", store.NewID()), nil)
	reader.must(404, "GET", "/api/codes/"+code("U", b.cell), nil)
	for _, bad := range []string{code("X", b.cell), "WOP", strings.Repeat("A", 29), code("P", b.cell) + "A"} {
		if a := reader.must(422, "GET", "/api/codes/"+bad, nil); !strings.Contains(a.text, "printed on a label") {
			t.Errorf("%s: %s", bad, a.text)
		}
	}
	w.nobody().must(401, "GET", "/api/codes/"+code("P", b.cell), nil)
}
