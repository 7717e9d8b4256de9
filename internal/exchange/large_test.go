package exchange_test

import (
	"context"
	"fmt"
	"runtime"
	"strings"
	"testing"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/exchange"
	"waryowl/internal/store"
)

// large adds a model of 1,400 parts with a study whose log makes its document about so many megabytes.
func large(tb testing.TB, s *act.Service, megabytes int) string {
	tb.Helper()
	m := store.Model{ModelFacts: store.ModelFacts{Maker: "Pellow", Name: "Drift 1400", Entry: "back"}}
	st := store.Study{StudyFacts: store.StudyFacts{Title: "Every screw"}}
	if _, err := act.Do(context.Background(), s, command(), 201, func(tx *store.Tx) (bool, error) {
		if err := store.Create(tx, &m); err != nil {
			return false, err
		}
		st.ModelID = m.ID
		if err := store.Create(tx, &st); err != nil {
			return false, err
		}
		u := store.Unit{StudyID: st.ID, UnitFacts: store.UnitFacts{Name: "PINE", Colour: "green", Shape: "circle"}}
		if err := store.Create(tx, &u); err != nil {
			return false, err
		}
		var parts []store.Part
		for k := range 1400 {
			parts = append(parts, store.Part{ModelID: m.ID, PartFacts: store.PartFacts{Name: fmt.Sprintf("part %d", k),
				Family:   "FR",
				Measures: []store.Measured{{Kind: "mass", Unit: "g", Readings: []float64{1.5, 1.6}, Resolution: 0.1}}}})
		}
		if err := store.CreateAll(tx, parts); err != nil {
			return false, err
		}
		var log []store.LogEntry
		note := strings.Repeat("seen under the lamp, ", 80)
		for k := range megabytes * (1 << 20) / (len(note) + 340) {
			log = append(log, store.LogEntry{StudyID: st.ID, UnitID: u.ID, Seq: k + 1, LogHead: store.LogHead{Kind: "note"},
				Note: fmt.Sprintf("%d: %s", k, note)})
		}
		return true, store.CreateAll(tx, log)
	}); err != nil {
		tb.Fatal(err)
	}
	return m.ID
}

// TestALargeModelComesBack: what the program itself wrote, forty megabytes of it, comes in again with the same rows.
func TestALargeModelComesBack(t *testing.T) {
	ctx := context.Background()
	s, _ := world(t)
	text := document(t, s, large(t, s, 40))
	if len(text) < 38<<20 || len(text) > 60<<20 {
		t.Fatalf("the document has %d MB", len(text)>>20)
	}
	begun := time.Now()
	got, err := exchange.Import(ctx, s, command(), []byte(text), "Drift 1400 again")
	if err != nil {
		t.Fatal(err)
	}
	t.Logf("%d MB, %d rows in %.1f s", len(text)>>20, got.Rows, time.Since(begun).Seconds())
	if again := document(t, s, got.ModelID); strings.ReplaceAll(again, "Drift 1400 again", "Drift 1400") != text {
		t.Errorf("it came back otherwise: %d bytes, %d before", len(again), len(text))
	}
	whole(t, s)
}

// BenchmarkDocument puts a document of forty megabytes in: the time of one, and the memory that the program takes for
// it.
func BenchmarkDocument(b *testing.B) {
	s, _ := world(b)
	d, err := exchange.Gather(s.DB, large(b, s, 40), "", "2026-11-26")
	if err != nil {
		b.Fatal(err)
	}
	text, err := d.Write()
	if err != nil {
		b.Fatal(err)
	}
	d = exchange.Document{}
	runtime.GC()
	most := uint64(0)
	done := make(chan bool)
	go func() {
		for {
			select {
			case <-done:
				return
			case <-time.After(20 * time.Millisecond):
				var now runtime.MemStats
				runtime.ReadMemStats(&now)
				most = max(most, now.HeapInuse)
			}
		}
	}()
	for k := 0; b.Loop(); k++ {
		if _, err := exchange.Import(context.Background(), s, command(), text, fmt.Sprintf("Drift 1400 %d", k)); err != nil {
			b.Fatal(err)
		}
	}
	close(done)
	b.ReportMetric(float64(most>>20), "MB")
}
