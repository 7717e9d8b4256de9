package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"waryowl/demo"
	"waryowl/internal/store"
)

// TestMain lets the test binary be the program: the tests start it as a process of its own and kill it.
func TestMain(m *testing.M) {
	if os.Getenv("WARYOWL_TEST_AS_PROGRAM") != "" {
		main()
		os.Exit(0)
	}
	os.Exit(m.Run())
}

type process struct {
	*exec.Cmd
	t    *testing.T
	base string
	out  *output
	done chan error
}

func freePort(t *testing.T) string {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	return fmt.Sprint(l.Addr().(*net.TCPAddr).Port)
}

// launch starts `waryowl ARGS`; wait says that it must come up.
// output is what a program has printed so far.
type output struct {
	mu   sync.Mutex
	text bytes.Buffer
}

func (o *output) Write(b []byte) (int, error) {
	o.mu.Lock()
	defer o.mu.Unlock()
	return o.text.Write(b)
}

func (o *output) String() string {
	o.mu.Lock()
	defer o.mu.Unlock()
	return o.text.String()
}

// says waits until a text was printed: the pipe may lag behind the address.
func (o *output) says(want string) bool {
	for end := time.Now().Add(10 * time.Second); time.Now().Before(end); time.Sleep(20 * time.Millisecond) {
		if strings.Contains(o.String(), want) {
			return true
		}
	}
	return false
}

func launch(t *testing.T, dir, port string, wait bool, args ...string) *process {
	t.Helper()
	p := launchWith(t, dir, port, []string{"WARYOWL_LISTEN="}, args...)
	if wait {
		p.await()
	}
	return p
}

func launchWith(t *testing.T, dir, port string, env []string, args ...string) *process {
	t.Helper()
	p := &process{exec.Command(os.Args[0], args...), t, "http://127.0.0.1:" + port, &output{},
		make(chan error, 1)}
	p.Env = append(append(os.Environ(), "WARYOWL_TEST_AS_PROGRAM=1", "WARYOWL_VAR="+dir, "PORT="+port, "WARYOWL_DSN="),
		env...)
	p.Stdout, p.Stderr = p.out, p.out
	p.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	if err := p.Start(); err != nil {
		t.Fatal(err)
	}
	go func() { p.done <- p.Wait() }()
	t.Cleanup(func() {
		syscall.Kill(p.Process.Pid, syscall.SIGKILL)
		for _, pid := range databases(t, dir) { // it runs in a group of its own and would outlive the test
			n, _ := strconv.Atoi(pid)
			syscall.Kill(n, syscall.SIGKILL)
		}
	})
	return p
}

func (p *process) await() {
	p.t.Helper()
	for end := time.Now().Add(60 * time.Second); time.Now().Before(end); time.Sleep(20 * time.Millisecond) {
		select {
		case err := <-p.done:
			p.t.Fatalf("ended while starting: %v\n%s", err, p.out)
		default:
		}
		if a, err := http.Get(p.base + "/healthz"); err == nil {
			a.Body.Close()
			if a.StatusCode == 200 {
				return
			}
		}
	}
	p.t.Fatalf("does not come up: %s", p.out)
}

// end sends the signal and waits for the program.
func (p *process) end(s syscall.Signal) error {
	p.t.Helper()
	syscall.Kill(p.Process.Pid, s)
	select {
	case err := <-p.done:
		return err
	case <-time.After(40 * time.Second):
		p.t.Fatal("the program does not end")
		return nil
	}
}

func databases(t *testing.T, dir string) (pids []string) {
	t.Helper()
	list, err := filepath.Glob("/proc/[0-9]*/cmdline")
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range list {
		if line, err := os.ReadFile(f); err == nil && strings.Contains(string(line), "--datadir="+dir) {
			pids = append(pids, strings.Split(f, "/")[2])
		}
	}
	return pids
}

func signedIn(t *testing.T, base string) *http.Client {
	return signedInAs(t, base, "analyst", "demo-analyst")
}

// signedInAs waits where one name was tried too often.
func signedInAs(t *testing.T, base, name, password string) *http.Client {
	t.Helper()
	jar, _ := cookiejar.New(nil)
	client := &http.Client{Jar: jar, Timeout: 10 * time.Second}
	for end := time.Now().Add(3 * time.Minute); ; time.Sleep(3 * time.Second) {
		a, err := client.Post(base+"/api/session", "application/json",
			strings.NewReader(fmt.Sprintf(`{"name":%q,"password":%q}`, name, password)))
		if err != nil {
			t.Fatalf("sign-in: %v", err)
		}
		a.Body.Close()
		switch {
		case a.StatusCode == 200:
			return client
		case a.StatusCode != 429 || time.Now().After(end):
			t.Fatalf("sign-in: %d", a.StatusCode)
		}
	}
}

// put sends one part with its key until the server has answered for good, as the browser does.
func put(ctx context.Context, client *http.Client, base, model string, n int) (int, error) {
	body := fmt.Sprintf(`{"id":%q,"name":"part %d","family":"FR"}`, demo.ID(fmt.Sprint("life part ", n)), n)
	r, err := http.NewRequestWithContext(ctx, "POST", base+"/api/models/"+model+"/parts", strings.NewReader(body))
	if err != nil {
		return 0, err
	}
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("Idempotency-Key", demo.ID(fmt.Sprint("life key ", n)))
	a, err := client.Do(r)
	if err != nil {
		return 0, err
	}
	defer a.Body.Close()
	io.Copy(io.Discard, a.Body)
	return a.StatusCode, nil
}

func count(t *testing.T, client *http.Client, base, model string) (parts int) {
	t.Helper()
	a, err := client.Get(base + "/api/models/" + model)
	if err != nil {
		t.Fatal(err)
	}
	defer a.Body.Close()
	var sheet struct{ Parts []struct{ Name string } }
	if err := json.NewDecoder(a.Body).Decode(&sheet); err != nil {
		t.Fatal(err)
	}
	for _, p := range sheet.Parts {
		if strings.HasPrefix(p.Name, "part ") {
			parts++
		}
	}
	return parts
}

// TestLife is the life of `waryowl demo`: it comes up with the demo world, refuses a taken port and a folder in use,
// survives kills of itself and of the database in the middle of a stream of writes without losing or doubling one, and
// leaves nothing running behind.
func TestLife(t *testing.T) {
	dir, port := t.TempDir(), freePort(t)
	p := launch(t, dir, port, true, "demo")
	for _, want := range []string{"Wary Owl serves " + p.base, "demo sign-in: analyst", "demo-technician"} {
		if !p.out.says(want) {
			t.Errorf("%q is missing in: %s", want, p.out)
		}
	}
	for want, c := range map[string]struct{ dir, port string }{"set PORT to another number": {t.TempDir(), port},
		"another Wary Owl uses this data folder": {dir, freePort(t)}} {
		q := launch(t, c.dir, c.port, false, "demo")
		if err := <-q.done; err == nil || !strings.Contains(q.out.String(), want) ||
			strings.Count(strings.TrimSpace(q.out.String()), "\n") > 0 {
			t.Errorf("want one line with %q, got %v: %s", want, err, q.out)
		}
	}
	client := signedIn(t, p.base)
	model := store.NewID()
	r, _ := http.NewRequest("POST", p.base+"/api/models",
		strings.NewReader(fmt.Sprintf(`{"id":%q,"maker":"Pellow","name":"Life","entry":"back"}`, model)))
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("Idempotency-Key", store.NewID())
	if a, err := client.Do(r); err != nil || a.StatusCode != 201 {
		t.Fatalf("model: %v %v", a, err)
	}

	const writes = 120
	var acknowledged atomic.Int64
	finished := make(chan error, 1)
	go func() { // one sender, in order; a lost answer is asked for again with the same key
		for n := range writes {
			for {
				status, err := put(context.Background(), client, p.base, model, n)
				if err == nil && status == 201 {
					acknowledged.Add(1)
					break
				}
				if err == nil && status != 503 {
					finished <- fmt.Errorf("write %d was answered %d", n, status)
					return
				}
				time.Sleep(30 * time.Millisecond)
			}
		}
		finished <- nil
	}()
	until := func(n int64) {
		for end := time.Now().Add(60 * time.Second); acknowledged.Load() < n; time.Sleep(time.Millisecond) {
			if time.Now().After(end) {
				t.Fatalf("only %d writes acknowledged", acknowledged.Load())
			}
		}
	}
	until(20)
	p.end(syscall.SIGKILL) // the server, while the database goes on
	p = launch(t, dir, port, true, "demo")
	until(60)
	for _, pid := range databases(t, dir) { // the database, under a server that goes on; then both start anew
		var n int
		fmt.Sscan(pid, &n)
		syscall.Kill(n, syscall.SIGKILL)
	}
	for end := time.Now().Add(5 * time.Second); ; time.Sleep(10 * time.Millisecond) {
		a, err := http.Get(p.base + "/healthz")
		if err == nil {
			a.Body.Close()
			if a.StatusCode == 503 {
				break
			}
		}
		if time.Now().After(end) {
			t.Fatal("healthz answers 200 without a database")
		}
	}
	p.end(syscall.SIGTERM)
	p = launch(t, dir, port, true, "demo")
	if err := <-finished; err != nil {
		t.Fatal(err)
	}
	if n := count(t, client, p.base, model); n != writes {
		t.Errorf("%d writes were acknowledged, %d rows are there", writes, n)
	}
	if err := p.end(syscall.SIGINT); err != nil {
		t.Errorf("Ctrl-C ended with %v: %s", err, p.out)
	}
	if left := databases(t, dir); len(left) > 0 {
		t.Errorf("left running: %v", left)
	}
}

func TestWhatCannotStartSaysWhatToDo(t *testing.T) {
	run := func(env []string, in string, args ...string) (string, error) {
		cmd := exec.Command(os.Args[0], args...)
		cmd.Env = append(append(os.Environ(), "WARYOWL_TEST_AS_PROGRAM=1", "WARYOWL_VAR="+t.TempDir(),
			"PORT="+freePort(t)), env...)
		cmd.Stdin = strings.NewReader(in)
		out, err := cmd.CombinedOutput()
		return string(out), err
	}
	for name, c := range map[string]struct {
		env  []string
		in   string
		args []string
		want string
	}{
		"broken JSON":           {nil, `{"goal":`, []string{"compute", "route"}, "broken JSON"},
		"a source that is none": {[]string{"WARYOWL_DSN=nonsense"}, "", []string{"serve"}, "data source name"},
		"a source without a name": {[]string{"WARYOWL_DSN=u:p@tcp(127.0.0.1:1)/"}, "", []string{"serve"},
			"holds no database"},
		"nobody at the source": {[]string{"WARYOWL_DSN=u:p@tcp(127.0.0.1:1)/x"}, "", []string{"migrate"},
			"cannot make the database"},
		"half a certificate": {[]string{"WARYOWL_TLS_CERT=a.pem"}, "", []string{"serve"},
			"set both WARYOWL_TLS_CERT and WARYOWL_TLS_KEY"},
		"an engine that is none": {nil, "{}", []string{"compute", "poker"},
			`engine: found "poker", allowed: accept, basket, benchline, closeup, compare`},
		"a schema that is none": {nil, "", []string{"schema", "poker"},
			"allowed: accept, basket, benchline, closeup, compare"},
		"a command that is none": {nil, "", []string{"dance"}, "unknown command"},
	} {
		out, err := run(c.env, c.in, c.args...)
		var exit *exec.ExitError
		if e, ok := err.(*exec.ExitError); ok {
			exit = e
		}
		if exit == nil || exit.ExitCode() != 2 || !strings.Contains(out, c.want) ||
			strings.Count(strings.TrimSpace(out), "\n") > 0 {
			t.Errorf("%s: want exit 2 and one line with %q, got %v: %s", name, c.want, err, out)
		}
	}
	if out, err := run(nil, `{"steps":[{"id":"s1","frees":["x"]}],"goal":["x"]}`, "compute", "route"); err != nil ||
		!strings.Contains(out, `"steps":["s1"]`) {
		t.Errorf("compute: %v %s", err, out)
	}
	if out, err := run(nil, "", "openapi"); err != nil || !strings.Contains(out, `"openapi": "3.1.0"`) {
		t.Errorf("openapi: %v %.200s", err, out)
	} else if have, err := os.ReadFile("../../schemas/openapi.json"); err != nil || string(have) != out {
		t.Errorf("schemas/openapi.json is stale: run make types (%v)", err)
	}
}
