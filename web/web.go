// Package web holds the front end: built with `-tags ui` it carries the files of Vite's dist folder, otherwise a stub
// page, so that `go build ./...` works on a clone without npm.
package web

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"encoding/hex"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strconv"
	"strings"
	"sync"
)

// Handler serves the files; every other address is a room of the application and gets its page.
func Handler() (http.Handler, error) {
	files, err := assets()
	if err != nil {
		return nil, err
	}
	server := http.FileServerFS(files)
	packed := &packs{by: map[string]*pack{}}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
		info, err := fs.Stat(files, name)
		if r.Method != http.MethodGet && r.Method != http.MethodHead {
			http.Error(w, "only pages live here", http.StatusMethodNotAllowed)
			return
		}
		if err == nil && !info.IsDir() && name != "index.html" {
			if strings.HasPrefix(name, "assets/") { // names carry a hash of the content
				w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
			} else {
				w.Header().Set("Cache-Control", "no-cache")
			}
			if info.Size() >= packFrom && strings.Contains(r.Header.Get("Accept-Encoding"), "gzip") {
				packed.serve(w, r, files, name)
				return
			}
			server.ServeHTTP(w, r)
			return
		}
		if strings.HasPrefix(name, "assets/") {
			http.NotFound(w, r)
			return
		}
		w.Header().Set("Cache-Control", "no-cache")
		r.URL.Path = "/"
		server.ServeHTTP(w, r)
	}), nil
}

// packFrom is from which size on a file is compressed once and kept so.
const packFrom = 256 << 10

// packs are the large files in their compressed form, each worked out when it is first asked for.
type packs struct {
	mu sync.Mutex
	by map[string]*pack
}

type pack struct {
	once sync.Once
	body []byte
	tag  string
	err  error
}

func (p *packs) serve(w http.ResponseWriter, r *http.Request, files fs.FS, name string) {
	p.mu.Lock()
	k := p.by[name]
	if k == nil {
		k = &pack{}
		p.by[name] = k
	}
	p.mu.Unlock()
	k.once.Do(func() { k.body, k.tag, k.err = packOf(files, name) })
	if k.err != nil {
		http.Error(w, "this file cannot be read", http.StatusInternalServerError)
		return
	}
	h := w.Header()
	h.Set("ETag", k.tag)
	h.Set("Vary", "Accept-Encoding")
	if kind := mime.TypeByExtension(path.Ext(name)); kind != "" {
		h.Set("Content-Type", kind)
	}
	if r.Header.Get("If-None-Match") == k.tag {
		w.WriteHeader(http.StatusNotModified)
		return
	}
	h.Set("Content-Encoding", "gzip")
	h.Set("Content-Length", strconv.Itoa(len(k.body)))
	w.WriteHeader(http.StatusOK) // whatever stood there before
	if r.Method == http.MethodGet {
		_, _ = w.Write(k.body)
	}
}

func packOf(files fs.FS, name string) (body []byte, tag string, err error) {
	raw, err := fs.ReadFile(files, name)
	if err != nil {
		return nil, "", err
	}
	var b bytes.Buffer
	z, err := gzip.NewWriterLevel(&b, gzip.BestCompression)
	if err != nil {
		return nil, "", err
	}
	if _, err = z.Write(raw); err == nil {
		err = z.Close()
	}
	sum := sha256.Sum256(raw)
	return b.Bytes(), `"` + hex.EncodeToString(sum[:12]) + `-gzip"`, err
}
