package main

import (
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"
)

// node is one database server of a cluster on loopback. Debian's state transfer refuses to run as root, so that an
// administrator's test runs the servers as Debian's user for them.
type node struct {
	t        *testing.T
	dir      string
	port     string
	cluster  []int // ports on which the servers talk to each other, ten apart
	k        int
	owner    string
	process  *exec.Cmd
	finished chan struct{}
}

// at is the address of a server: its own, so that it can be cut off by itself.
func at(k int) string { return fmt.Sprintf("10.77.0.%d", k+1) }

// apart runs the test again in a network of its own with the addresses of the servers; it says whether this is there.
func apart(t *testing.T) bool {
	t.Helper()
	if os.Getenv("WARYOWL_APART") == "" {
		again := exec.Command("unshare", "-n", os.Args[0], "-test.run", "^"+t.Name()+"$", "-test.v", "-test.timeout", "20m")
		again.Env = append(os.Environ(), "WARYOWL_APART=1")
		out, err := again.CombinedOutput()
		t.Logf("%s", out)
		if err != nil {
			t.Errorf("in a network of its own: %v", err)
		}
		return false
	}
	ip(t, "link", "set", "lo", "up")
	for k := range 3 {
		ip(t, "addr", "add", at(k)+"/32", "dev", "lo")
	}
	return true
}

func ip(t *testing.T, args ...string) {
	t.Helper()
	if out, err := exec.Command("ip", args...).CombinedOutput(); err != nil {
		t.Fatalf("ip %v: %v %s", args, err, out)
	}
}

// cluster starts three servers.
func cluster(t *testing.T) []*node {
	t.Helper()
	for _, program := range []string{"mariadbd", "mariadb-install-db", "wsrep_sst_rsync", "rsync"} {
		if _, err := exec.LookPath(program); err != nil {
			t.Fatalf("%s is missing; make test-cluster installs it", program)
		}
	}
	dir, err := os.MkdirTemp("", "owl-cluster-") // t.TempDir is closed to other users
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	owner := ""
	if os.Getuid() == 0 {
		owner = "mysql"
		if err := os.Chmod(dir, 0o755); err != nil {
			t.Fatal(err)
		}
	}
	var ports []int
	for len(ports) < 3 {
		var p int
		fmt.Sscan(freePort(t), &p)
		if p > 20000 && p < 60000 {
			ports = append(ports, p-p%10)
		}
	}
	var nodes []*node
	for k := range 3 {
		nodes = append(
			nodes,
			&node{t: t, dir: filepath.Join(dir, fmt.Sprint(k)), port: freePort(t), cluster: ports, k: k,
				owner: owner},
		)
	}
	for k, n := range nodes {
		n.install()
		n.start(k == 0)
	}
	return nodes
}

func (n *node) install() {
	n.t.Helper()
	if err := os.Mkdir(n.dir, 0o755); err != nil {
		n.t.Fatal(err)
	}
	args := []string{"--no-defaults", "--datadir=" + filepath.Join(n.dir, "data"), "--skip-test-db",
		"--auth-root-authentication-method=normal"}
	if n.owner != "" {
		args = append(args, "--user="+n.owner)
		if out, err := exec.Command("chown", n.owner, n.dir).CombinedOutput(); err != nil {
			n.t.Fatalf("%v %s", err, out)
		}
	}
	if out, err := exec.Command("mariadb-install-db", args...).CombinedOutput(); err != nil {
		n.t.Fatalf("%v\n%s", err, out)
	}
}

func (n *node) start(first bool) {
	n.t.Helper()
	var members []string
	for _, p := range n.cluster {
		members = append(members, fmt.Sprintf("%s:%d", at(len(members)), p))
	}
	own := n.cluster[n.k]
	args := []string{"--no-defaults", "--datadir=" + filepath.Join(n.dir, "data"), "--socket=" + n.socket(),
		"--port=" + n.port, "--bind-address=" + at(n.k), "--log-error=" + filepath.Join(n.dir, "log.err"),
		"--pid-file=" + filepath.Join(n.dir, "pid"), "--binlog-format=ROW", "--innodb-autoinc-lock-mode=2",
		"--innodb-flush-log-at-trx-commit=0", "--innodb-buffer-pool-size=64M", "--innodb-log-file-size=32M",
		"--max-connections=200", "--log-bin-trust-function-creators=1", "--wsrep-on=ON",
		"--wsrep-provider=/usr/lib/galera/libgalera_smm.so",
		"--wsrep-cluster-name=owl", "--wsrep-cluster-address=gcomm://" + strings.Join(members, ","),
		"--wsrep-node-address=" + at(n.k), "--wsrep-sst-method=rsync",
		fmt.Sprintf("--wsrep-sst-receive-address=%s:%d", at(n.k), own+3),
		fmt.Sprintf("--wsrep-provider-options=base_port=%d;gmcast.listen_addr=tcp://%s:%d;"+
			"ist.recv_addr=%s:%d;gcache.size=64M;evs.suspect_timeout=PT3S;evs.inactive_timeout=PT6S", own, at(n.k), own, at(n.k),
			own+1)}
	if n.owner != "" {
		args = append(args, "--user="+n.owner)
	}
	if first {
		args = append(args, "--wsrep-new-cluster")
	}
	n.process = exec.Command("mariadbd", args...)
	var said output
	n.process.Stdout, n.process.Stderr = &said, &said
	n.process.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	if err := n.process.Start(); err != nil {
		n.t.Fatal(err)
	}
	done := make(chan struct{})
	n.finished = done
	go func() { n.process.Wait(); close(done) }()
	n.t.Cleanup(n.kill)
	for end := time.Now().Add(90 * time.Second); !n.synced(); {
		select {
		case <-done:
			log, _ := os.ReadFile(filepath.Join(n.dir, "log.err"))
			n.t.Fatalf("database server %d ended: %s%s", n.k, &said, log)
		case <-time.After(100 * time.Millisecond):
		}
		if time.Now().After(end) {
			n.t.Fatalf("database server %d does not join", n.k)
		}
	}
}

// synced says that a server is part of its cluster and has all that was written.
func (n *node) synced() bool {
	return strings.Contains(n.ask("SHOW STATUS LIKE 'wsrep_local_state_comment'"), "Synced") &&
		strings.HasSuffix(n.ask("SHOW STATUS LIKE 'wsrep_cluster_status'"), "Primary") &&
		!strings.HasSuffix(n.ask("SHOW STATUS LIKE 'wsrep_cluster_status'"), "non-Primary")
}

func (n *node) socket() string { return filepath.Join(n.dir, "s") }

func (n *node) ask(statement string) string {
	out, _ := exec.Command("mariadb", "--no-defaults", "--socket="+n.socket(), "-uroot", "-N", "-e", statement).Output()
	return strings.TrimSpace(string(out))
}

func (n *node) kill() {
	syscall.Kill(-n.process.Process.Pid, syscall.SIGKILL)
	<-n.finished
}

// address is one address before several programs: each connection goes to one that answers, in turn.
type address struct {
	net.Listener
	mu   sync.Mutex
	next int
	to   []string
}

func (a *address) serve() {
	for {
		c, err := a.Accept()
		if err != nil {
			return
		}
		go func() {
			defer c.Close()
			for range a.to {
				a.mu.Lock()
				to := a.to[a.next%len(a.to)]
				a.next++
				a.mu.Unlock()
				if d, err := net.Dial("tcp", to); err == nil {
					go func() { io.Copy(d, c); d.Close() }()
					io.Copy(c, d)
					return
				}
			}
		}()
	}
}

// TestCluster: three database servers and two programs behind one address. Each database server and each program is
// killed once, and two of the servers are cut off for twenty seconds, under ten writers; nothing that was
// acknowledged is lost, nothing stands there twice, one sign-in serves both programs, and what one wrote the other
// reads at once.
func TestCluster(t *testing.T) {
	if os.Getenv("WARYOWL_CLUSTER") == "" {
		t.Skip("make test-cluster runs it: it installs Debian's whole database server")
	}
	if !apart(t) {
		return
	}
	nodes := cluster(t)
	nodes[0].ask("CREATE USER 'waryowl'@'%' IDENTIFIED BY 'owl'; CREATE DATABASE waryowl; " +
		"GRANT ALL ON `waryowl%`.* TO 'waryowl'@'%'")
	var ports [2]string
	env := func(k int) []string { // each program has another first server: the writes of both meet
		var hosts []string
		for i := range nodes {
			hosts = append(hosts, at((k+i)%3)+":"+nodes[(k+i)%3].port)
		}
		return []string{"WARYOWL_LISTEN=", "WARYOWL_DSN=waryowl:owl@hosts(" + strings.Join(hosts, ",") + ")/waryowl"}
	}
	dir := t.TempDir()
	program := func(k int) *process {
		p := launchWith(t, dir, ports[k], env(k), "demo")
		p.await()
		return p
	}
	front := &address{}
	for k := range ports {
		ports[k] = freePort(t)
		front.to = append(front.to, "127.0.0.1:"+ports[k])
	}
	programs := [2]*process{program(0), program(1)}
	var err error
	if front.Listener, err = net.Listen("tcp", "127.0.0.1:0"); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { front.Close() })
	go front.serve()
	base := "http://" + front.Addr().String()
	w := &writers{client: signedIn(t, base), base: base}
	w.client.Transport = &http.Transport{DisableKeepAlives: true} // one request here, the next there
	w.model = newModel(t, w.client, base)
	behind := atomic.Int64{}
	for n := range 40 { // written through one, read through the other
		status, err := put(context.Background(), w.client, programs[n%2].base, w.model, 900_000+n)
		if err != nil || status != 201 {
			t.Fatalf("part %d: %d %v", n, status, err)
		}
		if count(t, w.client, programs[(n+1)%2].base, w.model) <= n {
			behind.Add(1)
		}
	}
	if behind.Load() > 0 {
		t.Errorf("%d of 40 reads came before what was written", behind.Load())
	}
	w.taken.Add(40)
	begun := time.Now()
	w.start(7)
	others := otherWriters(t, w.client, base, &w.stop)
	var slowest time.Duration
	goesOn := func(what string) {
		at := time.Now()
		for have := w.taken.Load(); w.taken.Load() < have+20; time.Sleep(5 * time.Millisecond) {
			if time.Since(at) > 60*time.Second {
				t.Fatalf("nothing is written after %s: %s\n%s", what, programs[0].out, programs[1].out)
			}
		}
		slowest = max(slowest, time.Since(at))
	}
	goesOn("the start")
	for k, n := range nodes {
		n.kill()
		goesOn(fmt.Sprintf("database server %d was killed", k))
		n.start(false)
		goesOn("it came back")
	}
	for k := range 2 { // the first server of each program is cut off from everybody for twenty seconds, and comes back
		ip(t, "addr", "del", at(k)+"/32", "dev", "lo")
		cut := time.Now()
		goesOn(fmt.Sprintf("database server %d was cut off", k))
		time.Sleep(time.Until(cut.Add(20 * time.Second)))
		ip(t, "addr", "add", at(k)+"/32", "dev", "lo")
		for end := time.Now().Add(60 * time.Second); !nodes[k].synced(); time.Sleep(100 * time.Millisecond) {
			if time.Now().After(end) {
				t.Fatalf("database server %d does not come back after it was cut off", k)
			}
		}
		goesOn("it was reached again")
	}
	for k := range programs {
		programs[k].end(syscall.SIGKILL)
		goesOn(fmt.Sprintf("program %d was killed", k))
		programs[k] = program(k)
	}
	goesOn("all were there again")
	w.stop.Store(true)
	w.wait.Wait()
	w.odd.Range(func(status, n any) bool {
		t.Errorf("part %v was answered %v", n, status)
		return true
	})
	others.check(t)
	t.Logf("besides: %s", others)
	taken := int(w.taken.Load())
	for k := range programs {
		there := count(t, w.client, programs[k].base, w.model)
		t.Logf("program %d: %d writes acknowledged, %d rows, %d lost, %d doubled", k, taken, there, max(0, taken-there),
			max(0, there-taken))
		if there != taken {
			t.Errorf("%d writes were acknowledged, program %d has %d", taken, k, there)
		}
	}
	for k, n := range nodes {
		const counted = "SET wsrep_sync_wait=1; SELECT COUNT(*) FROM waryowl.parts WHERE model_id = "
		if have := n.ask(counted + "'" + w.model + "'"); have != fmt.Sprint(
			taken,
		) {
			t.Errorf("database server %d has %s parts", k, have)
		}
	}
	t.Logf(
		"%.0f s; the longest until twenty more were written after something was killed: %.1f s",
		time.Since(begun).Seconds(),
		slowest.Seconds(),
	)
	// Ten tries of a name, whichever program is asked.
	refused := 0
	for n := range 24 {
		a, err := http.Post(programs[n%2].base+"/api/session", "application/json",
			strings.NewReader(`{"name":"nobody at all","password":"wrong horse battery"}`))
		if err != nil {
			t.Fatal(err)
		}
		a.Body.Close()
		if a.StatusCode == http.StatusTooManyRequests {
			refused++
		}
	}
	if refused < 10 {
		t.Errorf("%d of 24 tries were refused", refused)
	}
}
