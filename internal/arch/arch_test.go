// Package arch holds no code: its test walks the imports of the house and fails on an arrow that points the wrong way.
package arch

import (
	"go/build"
	"io/fs"
	"path/filepath"
	"strings"
	"testing"
)

// allowed says which rooms of the house a package may import; core has no other rooms at all.
var allowed = map[string][]string{
	"internal/core":        {"internal/core"},
	"internal/store":       {"internal/core", "internal/store"},
	"internal/app":         {"internal/core", "internal/store", "internal/app", "internal/picture", "internal/calibration", "internal/sim"},
	"internal/calibration": {"internal/calibration"},
	// The stand-ins know nothing of the engines, so that they cannot share their errors.
	"internal/sim":      {"internal/sim", "internal/calibration"},
	"internal/picture":  {"internal/core", "internal/picture"},
	"internal/server":   {"internal/core", "internal/store", "internal/app", "internal/server", "internal/picture", "internal/calibration", "internal/sim", "web"},
	"internal/contract": {"internal/core", "internal/contract"},
	"internal/mariadb":  {"internal/mariadb"},
	"demo":              {"internal/app", "internal/store", "demo"},
	"web":               {"web"},
}

func room(path string) string {
	for r := range allowed {
		if path == r || strings.HasPrefix(path, r+"/") {
			return r
		}
	}
	return ""
}

func TestArrowsPointOneWay(t *testing.T) {
	root, err := filepath.Abs("../..")
	if err != nil {
		t.Fatal(err)
	}
	seen := map[string]bool{}
	err = filepath.WalkDir(root, func(dir string, d fs.DirEntry, err error) error {
		if err != nil || !d.IsDir() {
			return err
		}
		if d.Name() == "node_modules" || strings.HasPrefix(d.Name(), ".") || d.Name() == "var" {
			return filepath.SkipDir
		}
		rel, _ := filepath.Rel(root, dir)
		rel = filepath.ToSlash(rel)
		from := room(rel)
		if from == "" {
			return nil
		}
		p, err := build.ImportDir(dir, 0)
		if err != nil {
			return nil // no Go files here
		}
		seen[from] = true
		for _, imp := range p.Imports {
			ours, own := strings.CutPrefix(imp, "waryowl/")
			switch {
			case own && !contains(allowed[from], room(ours)):
				t.Errorf("%s imports %s", rel, ours)
			case !own && from == "internal/core" && strings.Contains(imp, ".") && !strings.HasPrefix(imp, "gonum.org/"):
				t.Errorf("%s imports %s; the core knows the standard library and gonum only", rel, imp)
			case from == "internal/core" && (imp == "net/http" || imp == "os" || imp == "database/sql" || imp == "time"):
				t.Errorf("%s imports %s; the core has no interface and no clock", rel, imp)
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	for r := range allowed {
		if !seen[r] {
			t.Errorf("no package found in %s: the test looks in the wrong place", r)
		}
	}
}

func contains(list []string, s string) bool {
	for _, x := range list {
		if x == s {
			return true
		}
	}
	return false
}
