//go:build ui

package web

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

func assets() (fs.FS, error) { return fs.Sub(dist, "dist") }
