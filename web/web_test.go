package web

import (
	"bytes"
	"compress/gzip"
	"io"
	"net/http"
	"net/http/httptest"
	"testing"
	"testing/fstest"
)

// TestHandler holds for the stub as for the built pages: rooms get the page, missing files are missing, nothing is
// written.
func TestHandler(t *testing.T) {
	h, err := Handler()
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		method, path string
		status       int
		cache        string
	}{
		{"GET", "/", 200, "no-cache"},
		{"HEAD", "/studies/x/strip", 200, "no-cache"},
		{"GET", "/../../etc/passwd", 200, "no-cache"}, // cleaned to a room like any other
		{"GET", "/assets/none.js", 404, ""},
		{"GET", "/assets/../assets/none.css", 404, ""},
		{"POST", "/", 405, ""},
		{"DELETE", "/studies", 405, ""},
	} {
		w := httptest.NewRecorder()
		h.ServeHTTP(w, httptest.NewRequest(c.method, c.path, http.NoBody))
		if w.Code != c.status || w.Header().Get("Cache-Control") != c.cache {
			t.Errorf("%s %s: %d, cache %q", c.method, c.path, w.Code, w.Header().Get("Cache-Control"))
		}
		if c.status == 200 && c.method == "GET" && w.Header().Get("Content-Type") != "text/html; charset=utf-8" {
			t.Errorf("%s: %s", c.path, w.Header().Get("Content-Type"))
		}
	}
}

// TestLargeFilesArePackedOnce: compressed they come back the same, with a tag that spares the second time.
func TestLargeFilesArePackedOnce(t *testing.T) {
	large := bytes.Repeat([]byte("wary owl "), packFrom/8)
	files := fstest.MapFS{"assets/large.wasm": {Data: large}}
	p := &packs{by: map[string]*pack{}}
	get := func(have string) *httptest.ResponseRecorder {
		w, r := httptest.NewRecorder(), httptest.NewRequest("GET", "/assets/large.wasm", http.NoBody)
		r.Header.Set("If-None-Match", have)
		p.serve(w, r, files, "assets/large.wasm")
		return w
	}
	w := get("")
	z, err := gzip.NewReader(w.Body)
	if err != nil {
		t.Fatal(err)
	}
	got, err := io.ReadAll(z)
	if err != nil || !bytes.Equal(got, large) || w.Header().Get("Content-Type") != "application/wasm" {
		t.Errorf("%d of %d bytes, %v, %q", len(got), len(large), err, w.Header().Get("Content-Type"))
	}
	if again := get(w.Header().Get("ETag")); again.Code != http.StatusNotModified || again.Body.Len() != 0 {
		t.Errorf("the browser has it still: %d", again.Code)
	}
	none := httptest.NewRecorder()
	p.serve(none, httptest.NewRequest("GET", "/assets/none.wasm", http.NoBody), files, "assets/none.wasm")
	if none.Code != http.StatusInternalServerError {
		t.Errorf("a file that cannot be read: %d", none.Code)
	}
}
