// Package web holds the front end: built with `-tags ui` it carries the files of Vite's dist folder, otherwise a stub
// page, so that `go build ./...` works on a clone without npm.
package web

import (
	"io/fs"
	"net/http"
	"path"
	"strings"
)

// Handler serves the files; every other address is a room of the application and gets its page.
func Handler() (http.Handler, error) {
	files, err := assets()
	if err != nil {
		return nil, err
	}
	server := http.FileServerFS(files)
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
