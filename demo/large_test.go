package demo

import (
	"context"
	"errors"
	"fmt"
	"os"
	"runtime"
	"slices"
	"strconv"
	"testing"
	"time"

	"waryowl/demo/large"
	"waryowl/internal/app/act"
	"waryowl/internal/app/closeup"
	"waryowl/internal/app/find"
	"waryowl/internal/app/handover"
	"waryowl/internal/app/intake"
	"waryowl/internal/app/job"
	"waryowl/internal/app/score"
	"waryowl/internal/app/strip"
	"waryowl/internal/app/swap"
	"waryowl/internal/app/ways"
	"waryowl/internal/store"
)

// BenchmarkLarge reads every room of a generated store of WARYOWL_LARGE log entries (10,000 by default) from an empty
// memory, beside the time that its bare statements take, and writes into it.
func BenchmarkLarge(b *testing.B) {
	entries := 10_000
	if n, err := strconv.Atoi(os.Getenv("WARYOWL_LARGE")); err == nil {
		entries = n
	}
	ctx, s := context.Background(), fresh(b)
	db := s.DB
	begin := time.Now()
	w, err := large.Fill(ctx, db, entries)
	if err != nil {
		b.Fatal(err)
	}
	if err := db.Exec("ANALYZE TABLE log_entries, baselines, trials, parts, find_texts, studies, units").Error; err != nil {
		b.Fatal(err)
	}
	b.Logf("%d models, %d studies, %d entries, %d trials in %v", w.Models, w.Studies, w.Entries, w.Trials,
		time.Since(begin).Round(time.Second))
	sql := watched(b, db)
	battery := func(id string) string {
		parts, err := store.List[store.Part](db, "id", "model_id = ?", id)
		if err != nil || len(parts) == 0 {
			b.Fatal(err, len(parts))
		}
		return parts[0].ID
	}
	for _, room := range []struct {
		name string
		read func() error
	}{
		{"find", func() error { _, err := find.Search(ctx, s, "drift battery"); return err }},
		{"find-infix", func() error { _, err := find.Search(ctx, s, "atter 10"); return err }},
		{"studies", func() error { _, err := find.Studies(ctx, s, ""); return err }},
		{"models", func() error { _, err := find.Models(ctx, s, ""); return err }},
		{"intake", func() error { _, err := intake.Show(ctx, s, w.Study); return err }},
		{"strip", func() error { _, err := strip.Show(ctx, s, w.Study); return err }},
		{"ways", func() error {
			_, err := ways.Show(ctx, s, act.Actor{}, w.Model, "attended_seconds", "")
			return err
		}},
		{"swap", func() error { _, err := swap.Show(ctx, s, w.Study, swap.Ask{}); return err }},
		{"swap-learned", func() error { _, err := swap.Show(ctx, s, w.Study, swap.Ask{Learned: true}); return err }},
		{"closeup", func() error { _, err := closeup.Show(ctx, s, w.Study, false); return err }},
		{"handover", func() error { _, err := handover.Show(ctx, s, w.Study); return err }},
		{"job", func() error { _, err := job.Show(ctx, s, w.Model, battery(w.Model)); return err }},
		{"old-strip", func() error { _, err := strip.Show(ctx, s, w.OldStudy); return err }},
		{"old-ways", func() error {
			_, err := ways.Show(ctx, s, act.Actor{}, w.OldModel, "attended_seconds", "")
			return err
		}},
		{"note", func() error { return note(ctx, s, w.Study) }},
		{"old-note", func() error { return note(ctx, s, w.OldStudy) }},
	} {
		b.Run(fmt.Sprintf("%s-%d", room.name, entries), func(b *testing.B) { measured(b, sql, room.read) })
	}
}

func note(ctx context.Context, s *act.Service, study string) error {
	units, err := store.List[store.Unit](s.DB.WithContext(ctx), "id", "study_id = ?", study)
	if err != nil {
		return err
	}
	_, err = strip.AddLog(ctx, s, act.Command{Actor: act.Actor{ID: store.NewID()}, Key: store.NewID(), Hash: "h"}, study,
		store.NewID(), strip.LogFacts{UnitID: units[0].ID, Kind: "note", Note: "seen"})
	return err
}

// BenchmarkBig reads every room of one study that is as large as they come, and says what memory it took at most.
func BenchmarkBig(b *testing.B) {
	ctx, s := context.Background(), fresh(b)
	db := s.DB
	id, modelID, err := large.Big(ctx, db)
	if err != nil {
		b.Fatal(err)
	}
	for _, room := range []struct {
		name string
		read func() error
	}{
		{"intake", func() error { _, err := intake.Show(ctx, s, id); return err }},
		{"strip", func() error { _, err := strip.Show(ctx, s, id); return err }},
		{"ways", func() error {
			_, err := ways.Show(ctx, s, act.Actor{}, modelID, "attended_seconds", "")
			return err
		}},
		{"swap", func() error {
			v, err := swap.Show(ctx, s, id, swap.Ask{})
			if err == nil && v.Refused != "" {
				err = errors.New(v.Refused)
			}
			return err
		}},
		{"closeup", func() error { _, err := closeup.Show(ctx, s, id, false); return err }},
		{"score", func() error { _, err := score.Show(ctx, s, modelID, ""); return err }},
		{"handover", func() error { _, err := handover.Show(ctx, s, id); return err }},
	} {
		b.Run(room.name, func(b *testing.B) {
			runtime.GC()
			most, done := make(chan uint64), make(chan bool)
			go func() {
				var m runtime.MemStats
				high := uint64(0)
				for tick := time.NewTicker(5 * time.Millisecond); ; {
					select {
					case <-done:
						most <- high
						return
					case <-tick.C:
						runtime.ReadMemStats(&m)
						high = max(high, m.HeapInuse)
					}
				}
			}()
			var took []time.Duration
			for b.Loop() {
				start := time.Now()
				if err := room.read(); err != nil {
					b.Fatal(err)
				}
				took = append(took, time.Since(start))
			}
			done <- true
			slices.Sort(took)
			b.ReportMetric(float64(took[len(took)/2].Microseconds())/1000, "p50-ms")
			b.ReportMetric(float64(<-most)/(1<<20), "heap-MB")
		})
	}
}
