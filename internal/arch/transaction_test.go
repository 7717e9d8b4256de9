package arch

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strings"
	"testing"
)

// TestNothingRunsAfterTheFirstError: a transaction begins in one place, which stops it at its first error, and no two
// statements are joined so that the second runs after the first has failed.
func TestNothingRunsAfterTheFirstError(t *testing.T) {
	root, err := filepath.Abs("../..")
	if err != nil {
		t.Fatal(err)
	}
	begun := 0
	err = filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		rel, _ := filepath.Rel(root, path)
		switch {
		case d.IsDir() && (d.Name() == "node_modules" || d.Name() == "var" || rel != "." && strings.HasPrefix(d.Name(), ".")):
			return filepath.SkipDir
		case d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go"):
			return nil
		}
		files := token.NewFileSet()
		f, err := parser.ParseFile(files, path, nil, 0)
		if err != nil {
			return err
		}
		ast.Inspect(f, func(n ast.Node) bool {
			call, ok := n.(*ast.CallExpr)
			if !ok {
				return true
			}
			name := called(call)
			if name == "Transaction" || name == "BeginTx" || name == "Begin" && len(call.Args) == 0 {
				begun++
				if rel != filepath.Join("internal", "store", "within.go") {
					t.Errorf("%s begins a transaction by itself; store.Within stops at the first error", files.Position(call.Pos()))
				}
			}
			if name != "Join" || !of(call, "errors") {
				return true
			}
			for _, a := range call.Args {
				if inner, ok := a.(*ast.CallExpr); ok && !ending[called(inner)] {
					t.Errorf("%s: %s runs although what stands before it may have failed", files.Position(a.Pos()), called(inner))
				}
			}
			return true
		})
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	if begun != 1 {
		t.Errorf("%d transactions begin, want one place", begun)
	}
}

// ending are calls that clean up after an error.
var ending = map[string]bool{"Close": true, "Rollback": true}

func called(c *ast.CallExpr) string {
	switch f := c.Fun.(type) {
	case *ast.SelectorExpr:
		return f.Sel.Name
	case *ast.Ident:
		return f.Name
	}
	return ""
}

func of(c *ast.CallExpr, pkg string) bool {
	f, ok := c.Fun.(*ast.SelectorExpr)
	if !ok {
		return false
	}
	x, ok := f.X.(*ast.Ident)
	return ok && x.Name == pkg
}
