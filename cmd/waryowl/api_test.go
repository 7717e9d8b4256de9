package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
	"testing"
	"time"

	"waryowl/demo"
)

// TestTheExamplesOfTheInterface runs every example of docs/api.md against the demo, in its order, with a token that
// an analyst and one that a buyer made, and the command that stands for curl with its exit codes.
func TestTheExamplesOfTheInterface(t *testing.T) {
	text, err := os.ReadFile("../../docs/api.md")
	if err != nil {
		t.Fatal(err)
	}
	examples := map[string]string{}
	var order []string
	for _, m := range regexp.MustCompile("(?s)```sh (\\w+)\n(.*?)```").FindAllStringSubmatch(string(text), -1) {
		examples[m[1]] = m[2]
		order = append(order, m[1])
	}
	if len(order) != 6 {
		t.Fatalf("examples: %v", order)
	}
	dir, port := t.TempDir(), freePort(t)
	p := launch(t, dir, port, true, "demo")
	client := signedIn(t, p.base)
	read := func(path string, into any) {
		t.Helper()
		a, err := client.Get(p.base + path)
		if err != nil || a.StatusCode != 200 {
			t.Fatal(path, a, err)
		}
		defer a.Body.Close()
		if err := json.NewDecoder(a.Body).Decode(into); err != nil {
			t.Fatal(path, err)
		}
	}
	token := "wo_" + strings.Repeat("Ab3-_", 9)
	body := fmt.Sprintf(`{"id":%q,"name":"till","token":%q}`, demo.ID("a token"), token)
	r, _ := http.NewRequest("POST", p.base+"/api/session/tokens", strings.NewReader(body))
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("Idempotency-Key", demo.ID("a token's key"))
	a, err := client.Do(r)
	if err != nil || a.StatusCode != 201 {
		t.Fatal(a, err)
	}
	if text, _ := io.ReadAll(a.Body); bytes.Contains(text, []byte(token)) {
		t.Error("the token comes back")
	}
	var studies []struct {
		Study struct {
			ID      string
			ModelID string `json:"model_id"`
		}
		Units []struct{ ID string }
	}
	read("/api/studies", &studies)
	var study, unit, model string
	for _, s := range studies {
		if len(s.Units) > 0 {
			study, unit, model = s.Study.ID, s.Units[0].ID, s.Study.ModelID
		}
	}
	var desk struct{ Sellers []struct{ Name string } }
	read("/api/parts", &desk)
	bin := t.TempDir()
	file := filepath.Join(bin, "token")
	os.WriteFile(file, []byte(token+"\n"), 0o600)
	// The test's own binary stands for the program.
	os.WriteFile(filepath.Join(bin, "waryowl"),
		[]byte("#!/bin/sh\nWARYOWL_TEST_AS_PROGRAM=1 exec "+os.Args[0]+" \"$@\"\n"), 0o755)
	env := append(os.Environ(), "URL="+p.base, "TOKEN="+token, "STUDY="+study, "UNIT="+unit, "MODEL="+model,
		"SELLER="+desk.Sellers[0].Name, "PATH="+bin+":"+os.Getenv("PATH"), "WARYOWL_URL="+p.base, "WARYOWL_TOKEN_FILE="+file)
	run := func(script string, more ...string) (string, int) {
		t.Helper()
		c := exec.Command("bash", "-eu", "-o", "pipefail", "-c", examples["setup"]+script)
		c.Env = append(env, more...)
		out, err := c.CombinedOutput()
		if e, is := err.(*exec.ExitError); is {
			return string(out), e.ExitCode()
		} else if err != nil {
			t.Fatal(err)
		}
		return string(out), 0
	}
	wants := map[string]string{"setup": "", "read": `"name":"Drift 4"`, "log": `"note":"rim looks bent"`,
		"offers": `"new":1`,
		"events": "event: change", "call": `"name":"Drift 4"`}
	for _, name := range order {
		if name == "events" {
			go func() {
				for range 3 {
					time.Sleep(700 * time.Millisecond)
					run(examples["log"])
				}
			}()
		}
		if out, code := run(examples[name]); code != 0 || !strings.Contains(out, wants[name]) {
			t.Errorf("%s: exit %d, %s", name, code, out)
		}
	}
	for what, c := range map[string]struct {
		script string
		code   int
		says   string
	}{
		"nothing there":        {"waryowl call GET /api/models/" + demo.ID("nothing"), 4, "There is nothing with this id"},
		"no server":            {"WARYOWL_URL=http://127.0.0.1:1 waryowl call GET /api/models", 6, "no server answers"},
		"a file for everybody": {"chmod 644 " + file + "; waryowl call GET /api/models", 2, "can be read by others"},
		"no file":              {"waryowl call --token-file /nowhere GET /api/models", 2, "no token"},
		"a change": {"chmod 600 " + file + "; waryowl call POST /api/studies/" + study + "/log -d '{\"id\":\"" + demo.ID("by call") +
			"\",\"unit_id\":\"" + unit + "\",\"line\":\"? by call\"}'", 0, `"by call"`},
		"an old token": {"printf 'wo_%043d' 7 > " + file + ".old; chmod 600 " + file + ".old; waryowl call --token-file " + file +
			".old GET /api/models", 4, "malformed, unknown, expired or revoked"},
	} {
		if out, code := run(c.script); code != c.code || !strings.Contains(out, c.says) {
			t.Errorf("%s: exit %d, %s", what, code, out)
		}
	}
	if err := p.end(syscall.SIGTERM); err != nil {
		t.Error(err)
	}
}
