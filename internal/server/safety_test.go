package server

import (
	"context"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/xuri/excelize/v2"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// TestWhatIsTooLargeIsRefusedWhole: each route says how much it takes, and takes that; more is refused with 413 and the
// limit, and nothing of it is kept.
func TestWhatIsTooLargeIsRefusedWhole(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	whole := p.must(200, "GET", "/api/models/"+b.model+"/document", nil).text
	put := func(name, text string) reply {
		return p.do("POST", "/api/documents?name="+name, text, func(r *http.Request) {
			r.Header.Set("Content-Type", "application/octet-stream")
		})
	}
	// A whole document followed by blanks up to the old limit, and by garbage after it.
	pad := whole + strings.Repeat(" ", maxBody-len(whole))
	if a := put("Padded", pad+"garbage"); a.status != 422 {
		t.Errorf("garbage behind a document: %d %s", a.status, cut(a.text, 200))
	}
	if a := put("Blanks", pad+strings.Repeat(" ", 3<<20)); a.status != 201 {
		t.Errorf("four megabytes: %d %s", a.status, cut(a.text, 200))
	}
	if a := put("Large", whole+strings.Repeat(" ", 65<<20)); a.status != 413 ||
		!strings.Contains(a.text, "at most 64 MB") {
		t.Errorf("65 MB: %d %s", a.status, cut(a.text, 200))
	}
	long := m{"id": store.NewID(), "unit_id": b.pine, "kind": "note", "note": strings.Repeat("x", maxBody)}
	a := p.do("POST", "/api/studies/"+b.study+"/log", long)
	if a.status != 413 || !strings.Contains(a.text, "at most 1 MB") {
		t.Errorf("an entry of a megabyte: %d %s", a.status, cut(a.text, 200))
	}
	rows := "name,family\n" + strings.Repeat("one part,FR\n", 150_000)
	if a := p.do("POST", "/api/models/"+b.model+"/tables/parts/look", m{"file": []byte(rows)}); a.status != 422 ||
		!strings.Contains(a.text, "20000 rows") {
		t.Errorf("a table of two megabytes is read whole: %d %s", a.status, cut(a.text, 200))
	}
	text, err := OpenAPI()
	if err != nil {
		t.Fatal(err)
	}
	var doc struct {
		Paths map[string]map[string]struct {
			ID    string `json:"operationId"`
			Limit int64  `json:"x-max-body-bytes"`
			About string `json:"description"`
		}
	}
	if err := json.Unmarshal(text, &doc); err != nil {
		t.Fatal(err)
	}
	limits := map[string]int64{"import-document": 64 << 20, "put-table": 24 << 20, "add-log": maxBody, "sign-in": 4 << 10}
	for _, methods := range doc.Paths {
		for _, op := range methods {
			if want, is := limits[op.ID]; is {
				if delete(limits, op.ID); op.Limit != want || !strings.Contains(op.About, size(want)) {
					t.Errorf("%s says %d, %q", op.ID, op.Limit, op.About)
				}
			}
		}
	}
	if len(limits) > 0 {
		t.Errorf("not in the document: %v", limits)
	}
}

// TestHeavyReadsStarveNobody: while 32 people ask long questions, more than work at once, log lines are written and
// rooms are read from memory; who waits too long is asked to come again.
func TestHeavyReadsStarveNobody(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	s := w.server
	var leaves []func()
	for range cap(s.heavy.working) {
		leave, ok := s.heavy.enter(context.Background())
		if !ok {
			t.Fatal("no turn in an empty queue")
		}
		leaves = append(leaves, leave)
	}
	var held sync.WaitGroup
	var answered, again atomic.Int64
	for range 32 {
		held.Go(func() {
			a := p.do("GET", "/api/parts/stock", nil)
			switch {
			case a.status == 200:
				answered.Add(1)
			case a.status == 503 && a.header.Get("Retry-After") != "":
				again.Add(1)
			default:
				t.Errorf("%d %s", a.status, a.text)
			}
		})
	}
	for len(s.heavy.waiting) == 0 {
		time.Sleep(time.Millisecond)
	}
	for range 3 {
		p.line(b, b.pine, "n seen", nil)
		p.must(200, "GET", "/api/studies/"+b.study+"/strip", nil)
	}
	p.nobody().must(200, "POST", "/api/session", m{"name": "buyer", "password": "correct horse"})
	if answered.Load()+again.Load() > 0 {
		t.Error("the heavy reads did not wait")
	}
	for _, leave := range leaves {
		leave()
	}
	held.Wait()
	if answered.Load() == 0 {
		t.Errorf("none of 32 was answered, %d asked to come again", again.Load())
	}
	full := &queue{make(chan struct{}, 1), make(chan struct{})}
	if _, ok := full.enter(context.Background()); ok {
		t.Error("a full queue let somebody wait")
	}
	ended, cancel := context.WithCancel(context.Background())
	cancel()
	if _, ok := (&queue{make(chan struct{}), make(chan struct{}, 1)}).enter(ended); ok {
		t.Error("a turn for somebody who has gone")
	}
}

// TestNoDownloadRunsAFormula: whatever a spreadsheet would run stands in no file of tables as such.
func TestNoDownloadRunsAFormula(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	hostile := []string{"=1+1", "@SUM(A1:A9)", "-2+3", "+cmd|' /C calc'!A0"}
	for _, name := range hostile {
		p.must(201, "POST", "/api/models/"+b.model+"/parts", m{"id": store.NewID(), "name": name, "family": "FR",
			"label":     name,
			"chip_mark": name, "aliases": []string{name}})
		p.log(b, b.pine, m{"verb": "lift", "what": name, "side": "any", "tool": name}, 0)
		p.must(201, "POST", "/api/models/"+b.model+"/facts", m{"id": store.NewID(), "fact": "manual", "choice": "public-free",
			"by": "me", "evidence": name})
	}
	buyer := w.as(act.Buyer)
	for _, name := range hostile {
		seller := buyer.must(201, "POST", "/api/sellers", m{"id": store.NewID(), "name": name, "currency": "EUR",
			"shipping_minor": 0}).str("id")
		buyer.must(201, "POST", "/api/offers", m{"id": store.NewID(), "seller_id": seller, "for_model_id": b.model,
			"title":  name,
			"covers": m{"battery": 1}, "grade": "copy", "price_minor": 100, "currency": "EUR", "stock": 1,
			"priced_on": "2026-11-20T00:00:00Z"})
		buyer.must(201, "POST", "/api/shelves", m{"id": store.NewID(), "for_model_id": b.model, "item": name, "grade": "copy",
			"quantity": 1, "place": name})
		buyer.must(201, "POST", "/api/deliveries", m{"id": store.NewID(), "seller_id": seller, "for_model_id": b.model,
			"item":  name,
			"grade": "copy", "lot": name, "size": 3, "received_on": "2026-11-20T00:00:00Z"})
	}
	files := []string{"/api/trail/table"}
	for _, format := range []string{"csv", "xlsx"} {
		for _, table := range []string{"parts", "steps", "measures", "trials", "facts"} {
			files = append(files, "/api/models/"+b.model+"/tables/"+table+"/"+format)
		}
		for _, table := range []string{"offers", "deliveries", "stock"} {
			files = append(files, "/api/models/"+b.model+"/desk/"+table+"/"+format)
		}
	}
	met := 0
	for _, path := range files {
		a := p.must(200, "GET", path, nil)
		if strings.HasSuffix(path, "xlsx") {
			f, err := excelize.OpenReader(strings.NewReader(a.text))
			if err != nil {
				t.Fatal(path, err)
			}
			sheet := f.GetSheetName(0)
			rows, _ := f.GetRows(sheet)
			for y := range rows {
				for x := range rows[y] {
					cell, _ := excelize.CoordinatesToCellName(x+1, y+1)
					if formula, _ := f.GetCellFormula(sheet, cell); formula != "" {
						t.Errorf("%s %s runs %q", path, cell, formula)
					}
				}
			}
			f.Close()
			continue
		}
		rows, err := csv.NewReader(strings.NewReader(a.text)).ReadAll()
		if err != nil {
			t.Fatal(path, err)
		}
		for _, row := range rows {
			for _, c := range row {
				if c != "" && strings.ContainsRune("=+-@\t\r", rune(c[0])) {
					t.Errorf("%s: a cell begins %q", path, cut(c, 40))
				}
				if strings.HasPrefix(c, "'=") || strings.HasPrefix(c, "'@") {
					met++
				}
			}
		}
	}
	if met < 10 {
		t.Errorf("only %d hostile cells were met", met)
	}
}

// TestGuessingOneName: nobody tries a name more than a hundred times in an hour; on a device where its owner signed in
// before it can be tried all the while.
func TestGuessingOneName(t *testing.T) {
	now := time.Date(2026, 12, 1, 8, 0, 0, 0, time.UTC)
	a := newAttempts(nil)
	a.now = func() time.Time { return now }
	device := a.device("buyer")
	guesses, shut := 0, 0
	var last time.Time
	var pauses []time.Duration
	for range 3600 {
		if a.allow(context.Background(), "buyer", fmt.Sprintf("198.51.100.%d", guesses%200), "") {
			if guesses++; !last.IsZero() {
				pauses = append(pauses, now.Sub(last))
			}
			last = now
		}
		if now.Second()%30 == 0 && !a.allow(context.Background(), "buyer", "203.0.113.5", device) {
			shut++
		}
		now = now.Add(time.Second)
	}
	if guesses > 100 || guesses < 40 {
		t.Errorf("%d guesses in an hour", guesses)
	}
	if first, end := pauses[8], pauses[len(pauses)-1]; first >= end || end < time.Minute {
		t.Errorf("the pause does not grow: %v, then %v", first, end)
	}
	if shut > 0 {
		t.Errorf("the owner was shut out %d times on their own device", shut)
	}
}

// TestHeadsOfAnswers: nothing of the record stays in a cache unasked, HEAD is answered where GET is, a list of tags is
// read, and who is not signed in is told how.
func TestHeadsOfAnswers(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	for _, path := range []string{"/api/session", "/api/words", "/api/models/" + b.model + "/document"} {
		if a := p.must(200, "GET", path, nil); a.header.Get("Cache-Control") != "no-store" {
			t.Errorf("%s: %q", path, a.header.Get("Cache-Control"))
		}
	}
	room := "/api/studies/" + b.study + "/strip"
	a := p.must(200, "GET", room, nil)
	tag := a.header.Get("ETag")
	if a.header.Get("Cache-Control") != "private, no-cache" || tag == "" {
		t.Errorf("a kept answer: %q, tag %q", a.header.Get("Cache-Control"), tag)
	}
	for named, status := range map[string]int{tag: 304, `"x", ` + tag: 304, strings.TrimPrefix(tag, "W/"): 304, "*": 304,
		`"x"`: 200} {
		if a := p.do("GET", room, nil, func(r *http.Request) { r.Header.Set("If-None-Match", named) }); a.status != status {
			t.Errorf("If-None-Match %s: %d, want %d", named, a.status, status)
		}
	}
	for _, path := range []string{room, "/api/models", "/healthz", "/", "/studies"} {
		if a := p.do("HEAD", path, nil); a.status != 200 || a.text != "" {
			t.Errorf("HEAD %s: %d %q", path, a.status, a.text)
		}
	}
	for _, a := range []reply{w.nobody().do("GET", room, nil),
		w.nobody().do("POST", "/api/session", m{"name": "nobody", "password": "at all"})} {
		if a.status != 401 || !strings.HasPrefix(a.header.Get("WWW-Authenticate"), "Bearer ") {
			t.Errorf("%d without a way: %q", a.status, a.header.Get("WWW-Authenticate"))
		}
	}
	for _, day := range []string{"0000-01-01", "1899-12-31", "2201-01-01", "2026-02-30", "soon"} {
		if a := p.do("GET", "/api/days/"+day, nil); a.status != 422 {
			t.Errorf("the day %s: %d %s", day, a.status, cut(a.text, 120))
		}
	}
}

// TestWhatComesInAsAFileIsCleanToo: documents and tables are refused what forms are refused, with the field.
func TestWhatComesInAsAFileIsCleanToo(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	p.must(201, "POST", "/api/studies/"+b.study+"/log", m{"id": store.NewID(), "unit_id": b.pine, "kind": "note",
		"note": "first line\nsecond line"})
	whole := p.must(200, "GET", "/api/models/"+b.model+"/document", nil).text
	put := func(name, text string) reply {
		return p.do("POST", "/api/documents?name="+name, text, func(r *http.Request) {
			r.Header.Set("Content-Type", "application/octet-stream")
		})
	}
	if a := put("Clean", whole); a.status != 201 {
		t.Fatalf("a note of two lines: %d %s", a.status, a.text)
	}
	for what, c := range map[string][3]string{
		"NUL":                 {`"name": "battery"`, `"name": "bat\u0000tery"`, "name"},
		"a turn of direction": {`"name": "battery"`, `"name": "bat\u202etery"`, "name"},
		"a line break":        {`"name": "battery"`, `"name": "bat\ntery"`, "name"},
		"a control":           {"first line", `first\u0007line`, "note"},
	} {
		if !strings.Contains(whole, c[0]) {
			t.Fatalf("%s is not in the document", c[0])
		}
		if a := put("Dirty", strings.Replace(whole, c[0], c[1], 1)); a.status != 422 || !strings.Contains(a.text, c[2]) {
			t.Errorf("%s: %d %s", what, a.status, cut(a.text, 200))
		}
	}
	for what, name := range map[string]string{"NUL": "bat\x00tery", "a turn of direction": "bat\u202etery",
		"a line break": "\"bat\ntery\""} {
		a := p.must(200, "POST", "/api/models/"+b.model+"/tables/parts/look",
			m{"file": []byte("name,family\n" + name + ",FR\n")})
		if a.str("errors.0.head") != "name" {
			t.Errorf("%s in a table: %s", what, cut(a.text, 300))
		}
	}
	log := m{"id": store.NewID(), "unit_id": b.pine, "kind": "note", "note": "two\nlines"}
	p.must(201, "POST", "/api/studies/"+b.study+"/log", log)
	one := m{"id": store.NewID(), "name": "a\nb", "family": "FR"}
	if a := p.do("POST", "/api/models/"+b.model+"/parts", one); a.status != 422 || !strings.Contains(a.text, "body.name") {
		t.Errorf("a name of two lines: %d %s", a.status, a.text)
	}
}

// TestNobodyLearnsWhoHasAPassword: an account without a password, and a name that is nobody's, cost the work of
// checking one as any other.
func TestNobodyLearnsWhoHasAPassword(t *testing.T) {
	w := start(t)
	admin := w.as(act.Administrator)
	admin.must(201, "POST", "/api/accounts", m{"id": store.NewID(), "name": "newcomer", "display": "New", "role": "buyer",
		"token": strings.Repeat("ab", 20)})
	took := func(name string) time.Duration {
		var least time.Duration
		for k := range 3 {
			begun := time.Now()
			w.nobody().must(401, "POST", "/api/session", m{"name": name, "password": "a guess"})
			if d := time.Since(begun); k == 0 || d < least {
				least = d
			}
		}
		return least
	}
	usual := took("technician")
	for _, name := range []string{"newcomer", "nobody of this name"} {
		if d := took(name); d < usual/3 {
			t.Errorf("%s is answered in %v, others in %v", name, d, usual)
		}
	}
}
