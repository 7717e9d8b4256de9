package arch

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
)

// word is one that stands nowhere where somebody reads, with the contexts in which it is fine.
type word struct {
	not  *regexp.Regexp
	but  string
	fine []*regexp.Regexp
}

// words reads the table of words; the browser's tests read the same file.
func words(t *testing.T) []word {
	t.Helper()
	text, err := os.ReadFile("testdata/words.txt")
	if err != nil {
		t.Fatal(err)
	}
	var list []word
	for line := range strings.Lines(string(text)) {
		line = strings.TrimRight(line, "\n")
		switch {
		case line == "" || strings.HasPrefix(line, "#"):
		case strings.HasPrefix(line, "  "):
			last := &list[len(list)-1]
			last.fine = append(last.fine, regexp.MustCompile(`(?i)(?:`+strings.TrimSpace(line)+`)`))
		default:
			not, but, _ := strings.Cut(line, " = ")
			list = append(list, word{not: regexp.MustCompile(`(?i)\b(?:` + not + `)(?:\W|$)`), but: but})
		}
	}
	return list
}

// wrong is the first word of a text that is not said, and what is said instead.
func wrong(list []word, text string) (found, but string) {
	for _, w := range list {
		rest := text
		for _, f := range w.fine {
			rest = f.ReplaceAllString(rest, "…")
		}
		if m := w.not.FindString(rest); m != "" {
			return m, w.but
		}
	}
	return "", ""
}

func TestWordsThatAreNotSaid(t *testing.T) {
	list := words(t)
	for text, want := range map[string]bool{
		"The strip-down is done":                     true,
		"2 in the tray":                              true,
		"41 screws in the tray":                      false,
		"Put the phone on the heating pad":           false,
		"a dark display":                             false,
		"dark, could not be tested":                  true,
		"card slot and slot drive":                   false,
		"the slot is empty":                          true,
		"compatible with the Drift 3":                false,
		"The display stands in for the other":        true,
		"12 steps, to the part 10 min":               false,
		"a piece on the shelf, and a whole shelf 12": true,
	} {
		if found, _ := wrong(list, text); (found != "") != want {
			t.Errorf("%q: found %q, want found %v", text, found, want)
		}
	}
}

// sentences are where the program speaks to people: what these packages hold in strings with a space is read by
// somebody. The
// reader of the bench knows the words that people type, whatever the page says; routes are described for programmers.
var sentences = []string{"core", "app", "exchange", "backup", "sim"}

// typed are packages and files whose strings are words that people type or data keeps.
var typed = []string{"core/lexicon", "core/phrase", "core/narrate", "core/shorthand", "core/benchline",
	"core/trade/kinds.go",
	"core/trade/kind.go", "core/trade/act.go", "core/trade/tool.go", "core/trade/words.go", "core/faultfind",
	"core/school/", "core/basket/check.go",
	"app/trail"}

func TestSentencesUseTheWords(t *testing.T) {
	list := words(t)
	seen := 0
	for _, room := range sentences {
		err := filepath.WalkDir(filepath.Join("..", room), func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			for _, skip := range typed {
				if strings.Contains(filepath.ToSlash(path), skip) {
					return nil
				}
			}
			for at, text := range spoken(t, path) {
				seen++
				if found, but := wrong(list, text); found != "" {
					t.Errorf("%s: %q says %q: %s", at, text, strings.TrimSpace(found), but)
				}
			}
			return nil
		})
		if err != nil {
			t.Fatal(err)
		}
	}
	if seen < 800 {
		t.Errorf("only %d sentences were read", seen)
	}
}

// spoken are the strings of a file that hold a space: no imports, no tags, no statements of the database, no codes
// that are
// compared or are keys of a map.
func spoken(t *testing.T, path string) map[string]string {
	t.Helper()
	files := token.NewFileSet()
	f, err := parser.ParseFile(files, path, nil, parser.SkipObjectResolution)
	if err != nil {
		t.Fatal(err)
	}
	codes := map[token.Pos]bool{}
	code := func(e ast.Expr) {
		if b, is := e.(*ast.BasicLit); is {
			codes[b.Pos()] = true
		}
	}
	ast.Inspect(f, func(n ast.Node) bool {
		switch n := n.(type) {
		case *ast.ImportSpec:
			code(n.Path)
		case *ast.Field:
			if n.Tag != nil {
				code(n.Tag)
			}
		case *ast.BinaryExpr:
			if n.Op == token.EQL || n.Op == token.NEQ {
				code(n.X)
				code(n.Y)
			}
		case *ast.KeyValueExpr:
			code(n.Key)
		case *ast.CaseClause:
			for _, e := range n.List {
				code(e)
			}
		case *ast.ValueSpec: // a constant, or a variable that is one word, is a code
			for _, e := range n.Values {
				code(e)
			}
		case *ast.IndexExpr:
			code(n.Index)
		case *ast.CallExpr: // an engine refuses a document, whose fields keep their names
			if f, is := n.Fun.(*ast.SelectorExpr); is && f.Sel.Name == "New" &&
				strings.Contains(filepath.ToSlash(path), "/core/") {
				for _, e := range n.Args {
					code(e)
				}
			}
		}
		return true
	})
	out := map[string]string{}
	ast.Inspect(f, func(n ast.Node) bool {
		b, is := n.(*ast.BasicLit)
		if !is || b.Kind != token.STRING || codes[b.Pos()] {
			return true
		}
		text, err := strconv.Unquote(b.Value)
		if err == nil && strings.Contains(text, " ") && !sql.MatchString(text) {
			out[files.Position(b.Pos()).String()] = text
		}
		return true
	})
	return out
}

var sql = regexp.MustCompile(`SELECT|UPDATE |INSERT |DELETE |WHERE|JOIN|ORDER| IN \?| = \?|LIKE|CONCAT|<[a-z]+[ >]`)
