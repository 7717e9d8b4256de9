package demo

import (
	"context"
	"slices"
	"testing"
	"time"

	"gorm.io/gorm"

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

// BenchmarkRooms reads every room of the demo's full study from MariaDB, as its page does.
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
	sql := watched(b, s.DB)
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
		b.Run(room.name, func(b *testing.B) { measured(b, sql, room.read) })
	}
}

// watched adds up how long the statements of a store take, with the reading of their rows.
func watched(b *testing.B, db *gorm.DB) *time.Duration {
	var in time.Duration
	var since time.Time
	from, to := func(*gorm.DB) { since = time.Now() }, func(*gorm.DB) { in += time.Since(since) }
	q := db.Callback()
	for _, err := range []error{q.Query().Before("gorm:query").Register("from", from),
		q.Query().After("gorm:query").Register("to", to), q.Row().Before("gorm:row").Register("from", from),
		q.Row().After("gorm:row").Register("to", to), q.Raw().Before("gorm:raw").Register("from", from),
		q.Raw().After("gorm:raw").Register("to", to)} {
		if err != nil {
			b.Fatal(err)
		}
	}
	return &in
}

// measured reads a room again and again: p50 and p95 of its time, the median of its statements' and how many times that
// the p95 is; and the first reading, which finds the database cold and works out what is kept for the next ones.
func measured(b *testing.B, inSQL *time.Duration, read func() error) {
	var took, sql []time.Duration
	for b.Loop() {
		*inSQL = 0
		start := time.Now()
		if err := read(); err != nil {
			b.Fatal(err)
		}
		took, sql = append(took, time.Since(start)), append(sql, *inSQL)
	}
	ms := func(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }
	b.ReportMetric(ms(took[0]), "first-ms")
	slices.Sort(took)
	slices.Sort(sql)
	b.ReportMetric(ms(took[len(took)/2]), "p50-ms")
	b.ReportMetric(ms(took[len(took)*95/100]), "p95-ms")
	b.ReportMetric(ms(sql[len(sql)/2]), "sql-ms")
	b.ReportMetric(float64(took[len(took)*95/100])/float64(max(1, sql[len(sql)/2])), "p95/sql")
}
