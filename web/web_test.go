package web

import (
	"net/http"
	"net/http/httptest"
	"testing"
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
