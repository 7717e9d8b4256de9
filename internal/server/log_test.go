package server

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/dryrun"
	"waryowl/internal/app/strip"
	"waryowl/internal/app/swap"
	"waryowl/internal/store"
)

// TestPracticesComeByPage: one's own, the newest first, without a gap or a double.
func TestPracticesComeByPage(t *testing.T) {
	w := start(t)
	p, other := w.as(act.Technician), w.as(act.Buyer)
	first := p.must(201, "POST", "/api/dry-runs", m{"id": store.NewID(), "level": 0, "seed": 1})
	other.must(201, "POST", "/api/dry-runs", m{"id": store.NewID(), "level": 0, "seed": 2})
	var run store.DryRun
	if err := w.app.DB.First(&run, "id = ?", first.str("id")).Error; err != nil {
		t.Fatal(err)
	}
	var rows []store.DryRun
	for i := range 120 {
		run.ID, run.Seed = store.NewID(), uint64(100+i)
		rows = append(rows, run)
	}
	if err := w.app.DB.CreateInBatches(rows, 60).Error; err != nil {
		t.Fatal(err)
	}
	seen, last, before := map[uint64]bool{}, uint64(1000), ""
	for pages := 1; ; pages++ {
		var room dryrun.Room
		if _, _, body := p.fetch("/api/dry-runs?before="+before, ""); json.Unmarshal([]byte(body), &room) != nil {
			t.Fatal(body)
		}
		for _, r := range room.Runs {
			if seen[r.Seed] || r.Seed >= last {
				t.Fatalf("seed %d comes twice or out of order", r.Seed)
			}
			seen[r.Seed], last = true, r.Seed
		}
		if before = room.More; before == "" {
			if pages != 3 || len(seen) != 121 || seen[2] {
				t.Errorf("%d practices on %d pages, somebody else's: %v", len(seen), pages, seen[2])
			}
			return
		}
	}
}

// TestALongLogComesByPage: the room holds the latest entries of each phone; those before them come by pages without a gap
// or a double, also when another phone writes in between, and with the starts of films among them.
func TestALongLogComesByPage(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	const long, short = 450, 30
	var rows []store.LogEntry
	for i := range long + short {
		e := store.LogEntry{StudyID: b.study, UnitID: b.pine, Seq: i + 1, Note: fmt.Sprint("note ", i+1)}
		if e.ID, e.Version, e.Kind, e.HappenedAt = store.NewID(), 1, "note", time.Now(); i%16 == 15 {
			e.UnitID = b.amber
		}
		if i == 6 {
			e.Note = "sync mark"
		}
		rows = append(rows, e)
	}
	if err := w.app.DB.CreateInBatches(rows, 100).Error; err != nil {
		t.Fatal(err)
	}
	mine, _ := p.log(b, b.pine, m{"verb": "peel", "what": "tape", "side": "any"}, 3)
	var room strip.Room
	read := func(path string, to any) {
		t.Helper()
		if status, _, body := p.fetch(path, ""); status != 200 || json.Unmarshal([]byte(body), to) != nil {
			t.Fatalf("%s: %d %.200s", path, status, body)
		}
	}
	read("/api/studies/"+b.study+"/strip", &room)
	if room.Older[b.amber] != 0 || room.Older[b.pine] != 451-200 || len(room.Log) != 200+30 || len(room.Films) != 1 {
		t.Fatalf("older %v, %d entries, films %v", room.Older, len(room.Log), room.Films)
	}
	seen := map[string]bool{}
	first := 0
	for _, e := range room.Log {
		if e.UnitID == b.pine {
			if seen[e.ID] = true; first == 0 {
				first = e.Seq
			}
		}
	}
	if !seen[mine] || room.By[mine] == "" {
		t.Errorf("the newest entry is not there, or nobody's: %q", room.By[mine])
	}
	for older := room.Older[b.pine]; older > 0; {
		var page strip.LogPage
		read(fmt.Sprintf("/api/studies/%s/log?unit=%s&before=%d", b.study, b.pine, first), &page)
		if len(page.Entries) == 0 || len(page.Entries) > 200 || page.Older != older-len(page.Entries) {
			t.Fatalf("a page of %d before %d leaves %d of %d", len(page.Entries), first, page.Older, older)
		}
		for i, e := range page.Entries {
			if seen[e.ID] || e.UnitID != b.pine || e.Seq >= first || i > 0 && e.Seq <= page.Entries[i-1].Seq {
				t.Fatalf("entry %d comes twice, of another phone or out of order", e.Seq)
			}
			seen[e.ID] = true
		}
		first, older = page.Entries[0].Seq, page.Older
	}
	if len(seen) != 451 {
		t.Errorf("%d of 451 entries came", len(seen))
	}
	p.must(422, "GET", "/api/studies/"+b.study+"/log?unit="+b.pine+"&before=soon", nil)
	p.must(422, "GET", "/api/studies/"+b.study+"/log?before=5", nil)
}

// TestTrialsByPage: the room of swap tests holds the latest trials, older ones come page by page, none twice and none
// left out; of those that it leaves out it knows the titles.
func TestTrialsByPage(t *testing.T) {
	w := start(t)
	p := w.as(act.Analyst)
	b := p.bench()
	var was swap.Room
	read := func(path string, to any) {
		t.Helper()
		if status, _, body := p.fetch(path, ""); status != 200 || json.Unmarshal([]byte(body), to) != nil {
			t.Fatalf("%s: %d %.200s", path, status, body)
		}
	}
	read("/api/studies/"+b.study+"/swap", &was)
	const more = 290
	var rows []store.Trial
	for i := range more {
		x := store.Trial{StudyID: b.study, Seq: 1000 + i, Place: 1000 + i}
		x.ID, x.Version, x.BoardUnitID, x.HousingUnitID = store.NewID(), 1, b.pine, b.pine
		x.Results = map[string]string{"boot": "pass"}
		rows = append(rows, x)
	}
	if err := w.app.DB.CreateInBatches(rows, 100).Error; err != nil {
		t.Fatal(err)
	}
	p.must(201, "POST", "/api/studies/"+b.study+"/log", m{"id": store.NewID(), "unit_id": b.pine, "kind": "note", "note": "seen"})
	all := len(was.Trials) + more
	var room swap.Room
	read("/api/studies/"+b.study+"/swap", &room)
	if len(room.Trials) != 120 || room.Older != all-120 || len(room.Titles) != all-120 || room.Titles["t1000"] == "" {
		t.Fatalf("%d trials, %d older, %d titles", len(room.Trials), room.Older, len(room.Titles))
	}
	seen := map[string]bool{}
	for page := room.TrialPage; ; {
		for i, x := range page.Trials {
			if seen[x.ID] || i > 0 && x.Place <= page.Trials[i-1].Place {
				t.Fatalf("%s comes twice or out of order", x.Mark)
			}
			seen[x.ID] = true
		}
		if page.Older == 0 {
			break
		}
		before := page.Trials[0].ID
		page = swap.TrialPage{}
		read("/api/studies/"+b.study+"/trials?before="+before, &page)
		if len(page.Trials) == 0 || len(page.Trials) > 120 {
			t.Fatalf("a page of %d trials", len(page.Trials))
		}
	}
	if len(seen) != all {
		t.Errorf("%d of %d trials came", len(seen), all)
	}
	p.must(422, "GET", "/api/studies/"+b.study+"/trials?before="+store.NewID(), nil)
	p.must(422, "GET", "/api/studies/"+b.study+"/trials", nil)
}
