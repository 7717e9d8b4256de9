// Package arch holds no code: its test walks the imports of the house and fails on an arrow that points the wrong way.
package arch

import (
	"go/build"
	"io/fs"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

// allowed says which parts of the house a package may import, beside itself; the longest name that fits a package
// counts. core has no other parts at all; a room of internal/app knows what lies below it, and no other room.
var allowed = map[string][]string{
	"internal/core":         {},
	"internal/store":        {"internal/core"},
	"internal/app":          {},
	"internal/app/act":      {"internal/core", "internal/store"},
	"internal/app/model":    {"internal/core", "internal/store", "internal/app/act"},
	"internal/app/study":    {"internal/core", "internal/store", "internal/app/act", "internal/app/model"},
	"internal/app/desk":     {"internal/core", "internal/store", "internal/app/act"},
	"internal/app/benchday": {"internal/core", "internal/store", "internal/app/act", "internal/app/model"},
	"internal/app/rating": {
		"internal/app/desk",
		"internal/core",
		"internal/store",
		"internal/app/act",
		"internal/app/model",
		"internal/app/study",
	},
	"internal/app/account": rooms,
	"internal/app/find":    rooms,
	"internal/app/trail":   rooms,
	"internal/app/job":     append([]string{"internal/app/parts"}, rooms...), // may it be taken: money and stock
	"internal/app/visit": append([]string{"internal/app/parts", "internal/app/job", "internal/picture"},
		rooms...), // what its job costs, and how its repair goes
	"internal/app/intake":  rooms,
	"internal/app/strip":   append([]string{"internal/picture"}, rooms...),
	"internal/app/ways":    rooms,
	"internal/app/closeup": rooms,
	"internal/app/swap":    append([]string{"internal/calibration"}, rooms...),
	"internal/app/dryrun":  append([]string{"internal/sim"}, rooms...),
	"internal/app/score":   rooms,
	"internal/app/faults":  rooms,
	"internal/app/parts": append(
		[]string{"internal/app/fit", "internal/picture"},
		rooms...), // what interchanges pools demand
	"internal/app/first": append(
		[]string{"internal/app/find", "internal/app/faults", "internal/app/orders",
			"internal/app/parts", "internal/app/swap", "internal/app/visit"},
		rooms...), // the first page composes what the rooms know
	"internal/app/offers":  rooms,
	"internal/app/propose": rooms,
	"internal/app/orders":  rooms,
	"internal/app/needs": append(
		[]string{"internal/app/fit", "internal/app/parts"},
		rooms...), // what is short, and what stands in for what
	"internal/app/compare":  rooms,
	"internal/app/fit":      rooms,
	"internal/app/handover": append([]string{"internal/app/swap"}, rooms...), // it composes
	"internal/exchange": append(
		[]string{
			"internal/app/handover",
			"internal/app/closeup",
			"internal/app/find",
			"internal/app/swap",
			"internal/app/score",
			"internal/app/orders",
			"internal/app/parts",
			"internal/clean",
		},
		rooms...), // it carries what they show
	"internal/clean":       {"internal/core"},
	"internal/calibration": {},
	"internal/instrument":  {"internal/core"},
	// The stand-ins know nothing of the engines, so that they cannot share their errors.
	"internal/sim":     {"internal/calibration"},
	"internal/picture": {"internal/core"},
	"internal/server": {"internal/core", "internal/store", "internal/app", "internal/exchange", "internal/clean",
		"internal/picture",
		"internal/calibration", "internal/instrument", "internal/sim", "web"},
	"internal/contract": {"internal/core"},
	"internal/backup":   {"internal/store"},
	"internal/mariadb":  {},
	// beside our engines in benchmarks only
	"internal/solvertest": {},
	"demo":                {"internal/app", "internal/store", "internal/core"},
	"web":                 {},
}

var rooms = []string{"internal/core", "internal/store", "internal/app/act", "internal/app/model", "internal/app/study",
	"internal/app/rating", "internal/app/desk", "internal/app/benchday"}

// part is the part of the house that a package belongs to.
func part(path string) string {
	best := ""
	for r := range allowed {
		if within(path, r) && len(r) > len(best) {
			best = r
		}
	}
	return best
}

func within(path, part string) bool { return path == part || strings.HasPrefix(path, part+"/") }

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
		from := part(rel)
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
			case own && part(ours) != from && !slices.ContainsFunc(allowed[from],
				func(to string) bool { return within(ours, to) }):
				t.Errorf("%s imports %s", rel, ours)
			case !own && within(from, "internal/core") && strings.Contains(imp, ".") &&
				!strings.HasPrefix(imp, "gonum.org/"):
				t.Errorf("%s imports %s; the core knows the standard library and gonum only", rel, imp)
			case within(from, "internal/core") && (imp == "net/http" || imp == "os" || imp == "database/sql" ||
				imp == "time"):
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
