package server

import (
	"io"
	"net/http"
	"slices"
	"strconv"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"waryowl/demo"
	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// BenchmarkConnections asks for the swap room over 1, 16 and 64 connections at once: the same room, and every time
// another one.
func BenchmarkConnections(b *testing.B) {
	w := start(b)
	p := w.as(act.Analyst)
	study := p.bench().study
	p.client.Transport = &http.Transport{MaxIdleConnsPerHost: 64, MaxConnsPerHost: 64}
	for _, c := range []struct {
		kind string
		n    int
	}{{"same", 1}, {"same", 16}, {"same", 64}, {"other", 1}, {"other", 16}, {"other", 64}} {
		b.Run(c.kind+strconv.Itoa(c.n), func(b *testing.B) {
			var mu sync.Mutex
			var took []time.Duration
			failed, n := 0, 0
			for b.Loop() {
				var wait sync.WaitGroup
				for range c.n {
					n++
					query := ""
					if c.kind == "other" {
						query = "?budget=" + strconv.Itoa(1+n%1400)
					}
					wait.Go(func() {
						begun := time.Now()
						a, err := p.client.Get(p.URL + "/api/studies/" + study + "/swap" + query)
						if err == nil {
							_, _ = io.Copy(io.Discard, a.Body)
							a.Body.Close()
						}
						mu.Lock()
						defer mu.Unlock()
						took = append(took, time.Since(begun))
						if err != nil || a.StatusCode != 200 {
							failed++
						}
					})
				}
				wait.Wait()
			}
			slices.Sort(took)
			b.ReportMetric(float64(took[len(took)/2].Microseconds())/1000, "p50-ms")
			b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
			b.ReportMetric(float64(failed), "failed")
			b.ReportMetric(float64(n)/b.Elapsed().Seconds(), "answers/s")
		})
	}
}

// BenchmarkBesideHeavy writes log lines over the demo world while 32 people ask without end for the shelf, each time
// otherwise, so that nothing is kept of it.
func BenchmarkBesideHeavy(b *testing.B) {
	w := startWith(b, demo.Load)
	p := w.as(act.Analyst)
	s := p.bench()
	var stop atomic.Bool
	var n, answered atomic.Int64
	var wait sync.WaitGroup
	for range 32 {
		wait.Go(func() {
			for !stop.Load() {
				a, err := p.client.Get(p.URL + "/api/parts/stock?budget=" + strconv.FormatInt(n.Add(1), 10))
				if err != nil {
					continue
				}
				_, _ = io.Copy(io.Discard, a.Body)
				a.Body.Close()
				if a.StatusCode == 200 {
					answered.Add(1)
				}
			}
		})
	}
	var took []time.Duration
	for b.Loop() {
		begun := time.Now()
		p.must(201, "POST", "/api/studies/"+s.study+"/log", m{"id": store.NewID(), "unit_id": s.pine, "kind": "note",
			"note": "seen"})
		took = append(took, time.Since(begun))
		time.Sleep(20 * time.Millisecond)
	}
	stop.Store(true)
	wait.Wait()
	slices.Sort(took)
	b.ReportMetric(float64(took[len(took)/2].Microseconds())/1000, "p50-ms")
	b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
	b.ReportMetric(float64(answered.Load()), "shelves")
}
