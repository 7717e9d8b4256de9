package main

import (
	"bytes"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
	"testing"
)

// TestBesideTheServer: accounts are made and backups taken while the application is served; a backup is checked, refused
// over a record, and put into an empty folder, from which the same people sign in. The first start without an account prints
// a one-time link.
func TestBesideTheServer(t *testing.T) {
	dir, port := t.TempDir(), freePort(t)
	p := launch(t, dir, port, true, "serve")
	if !p.out.says("/link/") {
		t.Fatalf("no link for the first administrator: %s", p.out)
	}
	link := regexp.MustCompile(`/link/([0-9a-f]+)`).FindStringSubmatch(p.out.String())
	a, err := http.Post(p.base+"/api/links/"+link[1], "application/json",
		strings.NewReader(`{"name":"office","display":"Office","password":"three blue gannets"}`))
	if err != nil || a.StatusCode != 200 {
		t.Fatalf("the first administrator: %v %v", a, err)
	}
	run := func(dir string, env []string, args ...string) (string, bool) {
		t.Helper()
		c := launchWith(t, dir, port, append([]string{"WARYOWL_LISTEN="}, env...), args...)
		err := <-c.done
		return c.out.String(), err == nil
	}
	if text, ok := run(dir, []string{"WARYOWL_PASSWORD=four wet herons tonight"}, "user", "gull", "--role", "technician"); !ok {
		t.Fatalf("an account beside the server: %s", text)
	}
	signIn := func(name, password string) int {
		t.Helper()
		a, err := http.Post(
			p.base+"/api/session",
			"application/json",
			strings.NewReader(`{"name":"`+name+`","password":"`+password+`"}`),
		)
		if err != nil {
			t.Fatal(err)
		}
		a.Body.Close()
		return a.StatusCode
	}
	if n := signIn("gull", "four wet herons tonight"); n != 200 {
		t.Errorf("the new account signs in: %d", n)
	}
	file := filepath.Join(t.TempDir(), "kept.zip")
	if text, ok := run(dir, nil, "backup", file); !ok || !strings.Contains(text, "rows of") {
		t.Fatalf("backup beside the server: %s", text)
	}
	if text, ok := run(dir, nil, "backup", file); ok || !strings.Contains(text, "is there already") {
		t.Errorf("over a file: %s", text)
	}
	if text, ok := run(dir, nil, "restore", "--verify", file); !ok {
		t.Errorf("verify: %s", text)
	}
	if text, ok := run(dir, nil, "restore", file); ok || !strings.Contains(text, "another Wary Owl") {
		t.Errorf("restored under a server: %s", text)
	}
	whole, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	half := filepath.Join(t.TempDir(), "half.zip")
	os.WriteFile(half, whole[:len(whole)/2], 0o600)
	if text, ok := run(dir, nil, "restore", "--verify", half); ok || !strings.Contains(text, "backup") {
		t.Errorf("half a backup: %s", text)
	}
	p.end(syscall.SIGTERM)
	if text, ok := run(dir, nil, "restore", file); ok || !strings.Contains(text, "--replace") {
		t.Errorf("over a record: %s", text)
	}
	empty := t.TempDir()
	if text, ok := run(empty, nil, "restore", file); !ok {
		t.Fatalf("into an empty folder: %s", text)
	}
	backups := filepath.Join(t.TempDir(), "kept")
	p = launchWith(t, empty, port, []string{"WARYOWL_LISTEN=", "WARYOWL_BACKUP_DIR=" + backups}, "serve")
	p.await()
	if bytes.Contains([]byte(p.out.String()), []byte("/link/")) {
		t.Error("a link for the first administrator where there is one")
	}
	if n := signIn("gull", "four wet herons tonight"); n != 200 {
		t.Errorf("after the restore: %d", n)
	}
	if !p.out.says("backup taken") {
		t.Errorf("no backup by itself: %s", p.out)
	}
	if list, _ := filepath.Glob(filepath.Join(backups, "waryowl-*.zip")); len(list) != 1 {
		t.Errorf("backups: %v", list)
	}
	p.end(syscall.SIGTERM)
	if text, ok := run(empty, []string{"WARYOWL_BACKUP_HOURS=never"}, "serve"); ok ||
		!strings.Contains(text, "WARYOWL_BACKUP_HOURS") {
		t.Errorf("a wrong setting: %s", text)
	}
}
