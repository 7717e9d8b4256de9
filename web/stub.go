//go:build !ui

package web

import (
	"io/fs"
	"testing/fstest"
)

func assets() (fs.FS, error) {
	page := "<!doctype html><html lang=en><title>Wary Owl</title><p>This build carries no pages. Run <code>make " +
		"demo</code>."
	return fstest.MapFS{"index.html": {Data: []byte(page)}}, nil
}
