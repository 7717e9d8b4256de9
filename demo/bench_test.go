package demo

import (
	"context"
	"slices"
	"testing"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/closeup"
	"waryowl/internal/app/find"
	"waryowl/internal/app/handover"
	"waryowl/internal/app/intake"
	"waryowl/internal/app/model"
	"waryowl/internal/app/score"
	"waryowl/internal/app/strip"
	"waryowl/internal/app/swap"
	"waryowl/internal/app/ways"
	"waryowl/internal/mariadb/mariadbtest"
	"waryowl/internal/store"
)

// fresh is a service on a database of its own with the catalogue and nothing else.
func fresh(t testing.TB) *act.Service {
	t.Helper()
	ctx := context.Background()
	db, err := store.Open(ctx, mariadbtest.Database(t))
	if err != nil {
		t.Fatal(err)
	}
	if err := store.Migrate(ctx, db); err != nil {
		t.Fatal(err)
	}
	s := &act.Service{DB: db, Now: time.Now}
	if err := model.EnsureCatalogue(ctx, s); err != nil {
		t.Fatal(err)
	}
	return s
}

// BenchmarkRooms reads every room of the demo's full study from MariaDB, as its page does, and reports p50 and p95.
func BenchmarkRooms(b *testing.B) {
	ctx, s := context.Background(), fresh(b)
	begin := time.Now()
	if err := Load(ctx, s); err != nil {
		b.Fatal(err)
	}
	b.Logf("the demo world loads in %v", time.Since(begin).Round(time.Millisecond))
	cards, err := find.Studies(ctx, s, "")
	if err != nil {
		b.Fatal(err)
	}
	id, modelID := cards[1].Study.ID, cards[1].Model.ID
	for _, room := range []struct {
		name string
		read func() error
	}{
		{"find", func() error { _, err := find.Search(ctx, s, "drift battery"); return err }},
		{"intake", func() error { _, err := intake.Show(ctx, s, id); return err }},
		{"strip", func() error { _, err := strip.Show(ctx, s, id); return err }},
		{"ways", func() error {
			_, err := ways.Show(ctx, s, act.Actor{}, modelID, "attended_seconds",
				"")
			return err
		}},
		{"swap", func() error { _, err := swap.Show(ctx, s, id, swap.Ask{}); return err }},
		{"closeup", func() error { _, err := closeup.Show(ctx, s, id, false); return err }},
		{"score", func() error { _, err := score.Show(ctx, s, modelID, ""); return err }},
		{"handover", func() error { _, err := handover.Show(ctx, s, id); return err }},
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
