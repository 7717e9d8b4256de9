package main

import (
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// tool runs a command of the program on the database in dir and gives what it printed and said.
func tool(t *testing.T, dir, input string, args ...string) (out, said string, err error) {
	t.Helper()
	c := exec.Command(os.Args[0], args...)
	c.Env = append(os.Environ(), "WARYOWL_TEST_AS_PROGRAM=1", "WARYOWL_VAR="+dir, "WARYOWL_DSN=")
	c.Stdin = strings.NewReader(input)
	var o, e bytes.Buffer
	c.Stdout, c.Stderr = &o, &e
	err = c.Run()
	return o.String(), e.String(), err
}

// TestExportAndImport: what was imported is exported again word for word; a stream is taken document by document, each whole
// or not at all; nothing that is there is written over.
func TestExportAndImport(t *testing.T) {
	dir := t.TempDir()
	document := func(name string) string {
		return fmt.Sprintf(`{"format":"waryowl-document","version":1,"exported":"2026-11-26",`+
			`"model":{"id":"model Pellow %[1]s","version":1,"maker":"Pellow","name":%[1]q,"entry":"back","opening":{}},`+
			`"parts":[{"id":"part battery","version":1,"model_id":"model Pellow %[1]s","name":"battery","family":"PW","slot":true}],`+
			`"steps":[{"id":"step s1","version":1,"model_id":"model Pellow %[1]s","mark":"s1","verb":"lift","what":"battery",`+
			`"side":"back","frees":["part battery"],"fastener":{}}],"facts":[],"lots":[],"outcomes":[],"studies":[]}`, name)
	}
	two := document("Drift 20") + "\n" + document("Drift 21")
	if _, said, err := tool(t, dir, two, "import"); err != nil || !strings.Contains(said, "2: 3 rows, 0 studies") {
		t.Fatalf("two documents: %v, %s", err, said)
	}
	if _, said, err := tool(t, dir, document("Drift 20"), "import"); err == nil ||
		!strings.Contains(said, "a name that is not on record") {
		t.Errorf("the same again: %v, %s", err, said)
	}
	broken := strings.Replace(document("Drift 22"), `"frees":["part battery"]`, `"frees":["part sail"]`, 1)
	if _, said, err := tool(t, dir, broken, "import"); err == nil || !strings.Contains(said, "steps[0].frees") {
		t.Errorf("a part that is not: %v, %s", err, said)
	}
	out, said, err := tool(t, dir, "", "export")
	if err != nil || strings.Count(out, "\n") != 2 || !strings.Contains(said, "2 of 2: Pellow Drift 21") {
		t.Fatalf("export: %v, %s, %d lines", err, said, strings.Count(out, "\n"))
	}
	one, _, err := tool(t, dir, "", "export", "drift 21")
	if err != nil || strings.Count(one, "\n") != 1 || strings.Contains(one, "Drift 20") ||
		!strings.Contains(one, `"part battery"`) {
		t.Errorf("one model: %v, %s", err, one)
	}
	if _, said, err := tool(t, dir, one, "import", "--name", "Drift 23"); err != nil {
		t.Errorf("in again under another name: %v, %s", err, said)
	}
	again, _, err := tool(t, dir, "", "export", "Drift 23")
	if err != nil || strings.ReplaceAll(again, "Drift 23", "Drift 21") != one {
		t.Errorf("%v: came back as\n%s\nwas\n%s", err, again, one)
	}
	file := filepath.Join(dir, "kept.jsonl")
	if err := os.WriteFile(file, []byte("mine"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, _, err := tool(t, dir, "", "export", "-o", file); err == nil {
		t.Error("a file that was there was written over")
	}
	if _, said, err := tool(t, dir, "", "export", "Atoll 99"); err == nil || !strings.Contains(said, "no such model") {
		t.Errorf("a model that is not: %v, %s", err, said)
	}
}
