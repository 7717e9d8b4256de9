package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"net/http"
	"net/url"
	"path/filepath"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"waryowl/demo"
)

// deed is a kind of large change that is sent again under its key until it is answered for good.
type deed struct {
	name string
	send func(n int) (status int, err error)
	// check says after it all how many of the first n there are, and how many of them only in part.
	check func(n int) (there, half int)
	taken atomic.Int64
}

// deeds are sent beside the small writes while things are killed.
type deeds struct {
	list []*deed
	wait sync.WaitGroup
	odd  sync.Map
}

func (d *deeds) String() (text string) {
	for _, x := range d.list {
		text += fmt.Sprintf("%d %s, ", x.taken.Load(), x.name)
	}
	return text + "each there once and whole"
}

func (d *deeds) check(t *testing.T) {
	t.Helper()
	d.wait.Wait()
	d.odd.Range(func(what, status any) bool {
		t.Errorf("%v was answered %v", what, status)
		return true
	})
	for _, x := range d.list {
		n := int(x.taken.Load())
		if there, half := x.check(n); n == 0 || there != n || half != 0 {
			t.Errorf("%s: %d acknowledged, %d there, %d of them in part", x.name, n, there, half)
		}
	}
}

// otherWriters puts documents in, merges parts and sends pictures, one after the other of each, until stop is set.
func otherWriters(t *testing.T, client *http.Client, base string, stop *atomic.Bool) *deeds {
	t.Helper()
	read := func(path string, into any) []byte {
		t.Helper()
		a, err := client.Get(base + path)
		if err != nil || a.StatusCode != 200 {
			t.Fatalf("%s: %v %v", path, a, err)
		}
		defer a.Body.Close()
		text, _ := io.ReadAll(a.Body)
		if into != nil {
			if err := json.Unmarshal(text, into); err != nil {
				t.Fatal(path, err)
			}
		}
		return text
	}
	post := func(path, key string, body []byte) (int, error) {
		r, err := http.NewRequest("POST", base+path, bytes.NewReader(body))
		if err != nil {
			return 0, err
		}
		r.Header.Set("Content-Type", "application/json")
		if body == nil || body[0] != '{' {
			r.Header.Set("Content-Type", "application/octet-stream")
		}
		r.Header.Set("Idempotency-Key", demo.ID("deed "+key))
		a, err := client.Do(r)
		if err != nil {
			return 0, err
		}
		defer a.Body.Close()
		io.Copy(io.Discard, a.Body)
		return a.StatusCode, nil
	}
	type row struct{ ID, Name string }
	type sheet struct{ Parts []row }
	var models, after []row
	read("/api/models", &models)
	var studies []struct{ Study row }
	read("/api/studies", &studies)
	study, unit := "", ""
	for _, s := range studies {
		var card struct{ Units []row }
		read("/api/studies/"+s.Study.ID, &card)
		if len(card.Units) > 0 {
			study, unit = s.Study.ID, card.Units[0].ID
		}
	}
	var whole sheet
	read("/api/models/"+models[0].ID, &whole)
	document := read("/api/models/"+models[0].ID+"/document", nil)
	mine := newModel(t, client, base)
	var picture bytes.Buffer
	if err := jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 64, 48)), nil); err != nil {
		t.Fatal(err)
	}
	part := func(kind string, n int) string { return demo.ID(fmt.Sprint("deed ", kind, n)) }
	d := &deeds{list: []*deed{
		{name: "documents", send: func(n int) (int, error) {
			return post(fmt.Sprintf("/api/documents?name=Deed+%06d", n), fmt.Sprint("document ", n), document)
		}, check: func(n int) (there, half int) {
			for k := 1; k <= n; k++ {
				name := fmt.Sprintf("Deed %06d", k)
				read("/api/models?q="+url.QueryEscape(name), &after)
				for _, m := range after {
					if m.Name != name {
						continue
					}
					there++
					var got sheet
					if read("/api/models/"+m.ID, &got); len(got.Parts) != len(whole.Parts) {
						half++
					}
				}
			}
			return there, half
		}},
		{name: "merges", send: func(n int) (int, error) {
			for _, kind := range []string{"spare ", "double "} {
				body := fmt.Sprintf(`{"id":%q,"name":"%s%d","family":"FR"}`, part(kind, n), kind, n)
				if status, err := post("/api/models/"+mine+"/parts", fmt.Sprint(kind, n), []byte(body)); err != nil ||
					status != 201 {
					return status, err
				}
			}
			body := fmt.Sprintf(`{"id":%q,"into":%q}`, part("merge", n), part("double ", n))
			return post("/api/parts/"+part("spare ", n)+"/merge", fmt.Sprint("merge ", n), []byte(body))
		}, check: func(n int) (there, half int) {
			var got sheet
			read("/api/models/"+mine, &got)
			for _, p := range got.Parts {
				var k int
				if _, err := fmt.Sscanf(p.Name, "double %d", &k); err == nil && k <= n {
					there++
				} else if _, err := fmt.Sscanf(p.Name, "spare %d", &k); err == nil && k <= n {
					half++
				}
			}
			return there, half
		}},
		{name: "pictures", send: func(n int) (int, error) {
			return post("/api/studies/"+study+"/photos?photo_id="+part("photo", n)+"&unit_id="+unit,
				fmt.Sprint("photo ", n), picture.Bytes())
		}, check: func(n int) (there, half int) {
			for k := 1; k <= n; k++ {
				if a, err := client.Get(base + "/api/photos/" + part("photo", k) + "/full"); err == nil {
					if a.StatusCode == 200 {
						there++
					}
					a.Body.Close()
				}
			}
			return there, 0
		}},
	}}
	for _, x := range d.list {
		d.wait.Go(func() {
			for n := 1; !stop.Load(); n++ {
				for ; ; time.Sleep(20 * time.Millisecond) {
					status, err := x.send(n)
					if err == nil && status == 201 {
						x.taken.Add(1)
						break
					}
					if err == nil && status != 503 {
						d.odd.Store(x.name, status)
						return
					}
				}
				time.Sleep(100 * time.Millisecond)
			}
		})
	}
	return d
}

// TestKilledRestores: a restore that is killed at any moment leaves the record that was there, or has put the whole
// backup in its place; what is served is never a part of either, and never without its people.
func TestKilledRestores(t *testing.T) {
	dir, port := t.TempDir(), freePort(t)
	p := launch(t, dir, port, true, "demo")
	client := signedIn(t, p.base)
	const rows = 40
	model := newModel(t, client, p.base)
	for n := range rows {
		if status, err := put(t.Context(), client, p.base, model, n); err != nil || status != 201 {
			t.Fatal(status, err)
		}
	}
	file := filepath.Join(t.TempDir(), "kept.zip")
	run := func(args ...string) *process { return launchWith(t, dir, port, []string{"WARYOWL_LISTEN="}, args...) }
	if b := run("backup", file); <-b.done != nil {
		t.Fatal(b.out)
	}
	if status, err := put(t.Context(), client, p.base, model, rows); err != nil || status != 201 { // only in the record
		t.Fatal(status, err)
	}
	times := max(6, killsWanted()/20)
	old, fresh := 0, 0
	var usual time.Duration
	for k := range times {
		p.end(syscall.SIGTERM)
		begun := time.Now()
		b := run("restore", "--replace", file)
		switch {
		case usual == 0: // once to its end, to know how long it takes
			if err := <-b.done; err != nil {
				t.Fatalf("restore: %v %s", err, b.out)
			}
			usual = time.Since(begun)
		default:
			select {
			case <-b.done:
			case <-time.After(usual * time.Duration(k) / time.Duration(times)):
				b.end(syscall.SIGKILL)
			}
		}
		p = launch(t, dir, port, true, "serve")
		if a, err := http.Get(p.base + "/readyz"); err != nil || a.StatusCode != 200 {
			t.Fatalf("after kill %d: %v %v", k, a, err)
		}
		reader := []string{"technician", "buyer"}[k%2] // a name is not tried without end
		client = signedInAs(t, p.base, reader, "demo-"+reader)
		switch n := count(t, client, p.base, model); n {
		case rows:
			fresh++
			client = signedIn(t, p.base)
			if status, err := put(t.Context(), client, p.base, model, rows); err != nil || status != 201 {
				t.Fatal(status, err)
			}
		case rows + 1:
			old++
		default:
			t.Fatalf("kill %d: %d rows are served, %d were backed up", k, n, rows)
		}
	}
	t.Logf("%d restores of %.1f s, all but the first killed on the way: %d times the record from before, %d times the whole "+
		"backup", times, usual.Seconds(), old, fresh)
	if fresh == 0 {
		t.Error("not even the restore that was left alone was whole")
	}
}
