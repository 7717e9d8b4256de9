package main

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"waryowl/internal/store"
)

// writers send parts of one model, each in its own order, until stop is set; a lost answer is asked for again under the
// same key. sent counts the parts begun, taken those acknowledged.
type writers struct {
	client      *http.Client
	base, model string
	sent, taken atomic.Int64
	stop        atomic.Bool
	wait        sync.WaitGroup
	odd         sync.Map // answers that are neither taken nor "try again"
}

func newModel(t *testing.T, client *http.Client, base string) string {
	t.Helper()
	id := store.NewID()
	r, _ := http.NewRequest("POST", base+"/api/models",
		strings.NewReader(fmt.Sprintf(`{"id":%q,"maker":"Pellow","name":"Life %s","entry":"back"}`, id, id[30:])))
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("Idempotency-Key", store.NewID())
	a, err := client.Do(r)
	if err != nil || a.StatusCode != 201 {
		t.Fatalf("model: %v %v", a, err)
	}
	a.Body.Close()
	return id
}

func (w *writers) start(n int) {
	for range n {
		w.wait.Go(func() {
			for !w.stop.Load() {
				for n := int(w.sent.Add(1)); ; time.Sleep(20 * time.Millisecond) {
					status, err := put(context.Background(), w.client, w.base, w.model, n)
					if err == nil && status == 201 {
						w.taken.Add(1)
						break
					}
					if err == nil && status != 503 {
						w.odd.Store(status, n)
						return
					}
				}
			}
		})
	}
}

func killsWanted() int {
	if n, err := strconv.Atoi(os.Getenv("WARYOWL_KILLS")); err == nil {
		return n
	}
	return 30
}

// TestKills: whatever is killed in the middle of the writes of seven people, server or database, nothing that was
// acknowledged is lost and nothing stands there twice. WARYOWL_KILLS says how often; `make kill` asks for a thousand.
func TestKills(t *testing.T) {
	kills := killsWanted()
	dir, port := t.TempDir(), freePort(t)
	p := launch(t, dir, port, true, "demo")
	w := &writers{client: signedIn(t, p.base), base: p.base}
	w.model = newModel(t, w.client, p.base)
	w.start(7)
	others := otherWriters(t, w.client, p.base, &w.stop)
	backups := t.TempDir()
	begun, servers, bases := time.Now(), 0, 0
	var slowest time.Duration
	for k := range kills {
		time.Sleep(time.Duration(50+37*k%200) * time.Millisecond)
		if k%10 == 4 { // a backup beside it all, itself killed before it ends
			b := launchWith(t, dir, port, []string{"WARYOWL_LISTEN="}, "backup", filepath.Join(backups, fmt.Sprint(k, ".zip")))
			time.Sleep(time.Duration(20+k%7*40) * time.Millisecond)
			b.end(syscall.SIGKILL)
		}
		at := time.Now()
		switch {
		case k%3 != 2:
			p.end(syscall.SIGKILL)
			p = launch(t, dir, port, true, "demo")
			servers++
		default:
			pids := databases(t, dir)
			for _, pid := range pids {
				n, _ := strconv.Atoi(pid)
				syscall.Kill(n, syscall.SIGKILL)
			}
			for { // until another one is there
				if now := databases(t, dir); len(now) > 0 && (len(pids) == 0 || now[0] != pids[0]) {
					break
				}
				if time.Since(at) > 20*time.Second {
					t.Fatalf("the database does not start again: %s", p.out)
				}
				time.Sleep(10 * time.Millisecond)
			}
			p.await()
			bases++
		}
		slowest = max(slowest, time.Since(at))
		for have := w.taken.Load(); w.taken.Load() == have; time.Sleep(5 * time.Millisecond) {
			if time.Since(at) > 40*time.Second {
				t.Fatalf("nothing is written after kill %d: %s", k, p.out)
			}
		}
	}
	w.stop.Store(true)
	w.wait.Wait()
	w.odd.Range(func(status, n any) bool {
		t.Errorf("part %v was answered %v", n, status)
		return true
	})
	others.check(t)
	last := filepath.Join(backups, "last.zip")
	for _, args := range [][]string{{"backup", last}, {"restore", "--verify", last}} {
		b := launchWith(t, dir, port, []string{"WARYOWL_LISTEN="}, args...)
		if err := <-b.done; err != nil {
			t.Errorf("%v after the kills: %v %s", args[:1], err, b.out)
		}
	}
	there := count(t, w.client, p.base, w.model)
	t.Logf("%d kills (%d of the server, %d of the database) in %.0f s: %d writes acknowledged, %d rows, %d lost, %d doubled; "+
		"the slowest was up again after %.1f s", kills, servers, bases, time.Since(begun).Seconds(), w.taken.Load(), there,
		max(0, int(w.taken.Load())-there), max(0, there-int(w.taken.Load())), slowest.Seconds())
	t.Logf("besides: %s", others)
	if there != int(w.taken.Load()) {
		t.Errorf("%d writes were acknowledged, %d rows are there", w.taken.Load(), there)
	}
	if bases > 0 && slowest > 20*time.Second {
		t.Errorf("up again after %v", slowest)
	}
}

// TestAPause: while the database stands still for ten seconds every request is answered in time with a problem
// document, and afterwards all is as before.
func TestAPause(t *testing.T) {
	dir, port := t.TempDir(), freePort(t)
	p := launch(t, dir, port, true, "demo")
	client := signedIn(t, p.base)
	client.Timeout = 30 * time.Second
	model := newModel(t, client, p.base)
	pid, _ := strconv.Atoi(databases(t, dir)[0])
	syscall.Kill(pid, syscall.SIGSTOP)
	defer syscall.Kill(pid, syscall.SIGCONT)
	var wait sync.WaitGroup
	ask := func(within time.Duration, status int, send func() (*http.Response, error)) {
		wait.Go(func() {
			begun := time.Now()
			a, err := send()
			if err != nil {
				t.Errorf("no answer: %v", err)
				return
			}
			a.Body.Close()
			if took := time.Since(begun); took > within || status != 0 && a.StatusCode != status {
				t.Errorf("%s: %d after %v", a.Request.URL.Path, a.StatusCode, took)
			}
		})
	}
	for range 3 {
		ask(3*time.Second, 503, func() (*http.Response, error) { return client.Get(p.base + "/healthz") })
		ask(time.Second, 200, func() (*http.Response,
			error) {
			return client.Get(p.base + "/")
		}) // the page is there, and says so
		ask(5*time.Second, 503, func() (*http.Response, error) { return client.Get(p.base + "/api/faults") })
		for _, path := range []string{"/api/models", "/api/studies", "/api/find?q=battery", "/api/session"} {
			ask(15*time.Second, 0, func() (*http.Response, error) { return client.Get(p.base + path) })
		}
		ask(15*time.Second, 0, func() (*http.Response, error) {
			r, _ := http.NewRequest("POST", p.base+"/api/models/"+model+"/parts",
				strings.NewReader(fmt.Sprintf(`{"id":%q,"name":"part %s","family":"FR"}`, store.NewID(), store.NewID())))
			r.Header.Set("Content-Type", "application/json")
			r.Header.Set("Idempotency-Key", store.NewID())
			return client.Do(r)
		})
	}
	time.Sleep(10 * time.Second)
	syscall.Kill(pid, syscall.SIGCONT)
	wait.Wait()
	p.await()
	if n, err := put(context.Background(), client, p.base, model, 1); err != nil || n != 201 {
		t.Errorf("after the pause: %d %v", n, err)
	}
}

// TestAFullDisk: on a disk that fills up, changes are refused as such while reading goes on and the database lives;
// when there is room again they are taken.
func TestAFullDisk(t *testing.T) {
	dir := t.TempDir()
	if out, err := exec.Command("mount", "-t", "tmpfs", "-o", "size=700m", "none", dir).CombinedOutput(); err != nil {
		t.Skipf("a small disk can be made only by an administrator: %v %s", err, out)
	}
	t.Cleanup(func() { exec.Command("umount", "-l", dir).Run() })
	p := launch(t, dir, freePort(t), true, "demo")
	client := signedIn(t, p.base)
	model := newModel(t, client, p.base)
	before := databases(t, dir)
	filler := filepath.Join(dir, "filler")
	f, err := os.Create(filler)
	if err != nil {
		t.Fatal(err)
	}
	chunk := make([]byte, 1<<20)
	for err == nil {
		_, err = f.Write(chunk)
	}
	f.Close()
	for n := range 3 {
		if status, err := put(context.Background(), client, p.base, model, n); err != nil || status != 507 {
			t.Errorf("a change on a full disk: %d %v", status, err)
		}
	}
	for _, path := range []string{"/api/models", "/api/models/" + model, "/healthz"} {
		if a, err := client.Get(p.base + path); err != nil || a.StatusCode != 200 {
			t.Errorf("%s on a full disk: %v %v", path, a, err)
		}
	}
	if now := databases(t, dir); len(now) != 1 || now[0] != before[0] {
		t.Errorf("the database was %v and is %v", before, now)
	}
	os.Remove(filler)
	if status, err := put(context.Background(), client, p.base, model, 0); err != nil || status != 201 {
		t.Errorf("with room again: %d %v", status, err)
	}
	p.end(syscall.SIGTERM)
}
