package demo

import (
	"context"
	"slices"
	"testing"
	"time"

	"waryowl/internal/app"
	"waryowl/internal/mariadb/mariadbtest"
	"waryowl/internal/store"
)

// BenchmarkRooms reads every room of the demo's full study from MariaDB, as its page does, and reports p50 and p95.
func BenchmarkRooms(b *testing.B) {
	ctx := context.Background()
	db, err := store.Open(ctx, mariadbtest.Database(b))
	if err != nil {
		b.Fatal(err)
	}
	if err := store.Migrate(ctx, db); err != nil {
		b.Fatal(err)
	}
	s := &app.Service{DB: db, Now: time.Now}
	if err := s.EnsureCatalogue(ctx); err != nil {
		b.Fatal(err)
	}
	begin := time.Now()
	if err := Load(ctx, s); err != nil {
		b.Fatal(err)
	}
	b.Logf("the demo world loads in %v", time.Since(begin).Round(time.Millisecond))
	cards, err := s.Studies(ctx)
	if err != nil {
		b.Fatal(err)
	}
	id, model := cards[1].Study.ID, cards[1].Model.ID
	for _, room := range []struct {
		name string
		read func() error
	}{
		{"find", func() error { _, err := s.Find(ctx, "drift battery"); return err }},
		{"intake", func() error { _, err := s.Intake(ctx, id); return err }},
		{"strip", func() error { _, err := s.Strip(ctx, id); return err }},
		{"ways", func() error { _, err := s.Ways(ctx, app.Actor{}, model, "attended_seconds", ""); return err }},
		{"swap", func() error { _, err := s.Swap(ctx, id, app.SwapAsk{}); return err }},
		{"closeup", func() error { _, err := s.Closeup(ctx, id, false); return err }},
		{"score", func() error { _, err := s.Score(ctx, model); return err }},
		{"handover", func() error { _, err := s.Handover(ctx, id); return err }},
	} {
		b.Run(room.name, func(b *testing.B) {
			var took []time.Duration
			for b.Loop() {
				start := time.Now()
				if err := room.read(); err != nil {
					b.Fatal(err)
				}
				took = append(took, time.Since(start))
			}
			slices.Sort(took)
			b.ReportMetric(float64(took[len(took)/2].Microseconds())/1000, "p50-ms")
			b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
		})
	}
}
