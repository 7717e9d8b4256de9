package mariadb

import (
	"context"
	"database/sql"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"
)

// TestLife starts a server with the real settings, writes, is refused the folder a second time, kills the server, finds
// the row again, takes over a server that was left running, and leaves nothing behind.
func TestLife(t *testing.T) {
	dir, ctx := t.TempDir(), context.Background()
	s, err := Start(ctx, Config{Dir: dir})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := Start(ctx, Config{Dir: dir}); err == nil || !strings.Contains(err.Error(), "another Wary Owl") {
		t.Fatalf("the same folder was given twice: %v", err)
	}
	if info, _ := os.Stat(filepath.Join(dir, "password")); info.Mode().Perm() != 0o600 {
		t.Errorf("the password file is open: %v", info.Mode())
	}
	run := func(s *Server, statement string) {
		t.Helper()
		dsn := s.DSN("")
		if strings.HasPrefix(statement, "CREATE") {
			dsn = s.OwnerDSN("")
		}
		db, _ := sql.Open("mysql", dsn)
		defer db.Close()
		if _, err := db.Exec(statement); err != nil {
			t.Fatalf("%s: %v", statement, err)
		}
	}
	var flush int
	var tmp string
	db, _ := sql.Open("mysql", s.DSN(""))
	if err := db.QueryRow("SELECT @@innodb_flush_log_at_trx_commit, @@tmpdir").Scan(&flush, &tmp); err != nil ||
		flush != 1 || tmp != filepath.Join(dir, "tmp") {
		t.Errorf("flush at commit is %d, temporary tables go to %s, %v", flush, tmp, err)
	}
	db.Close()
	run(s, "CREATE DATABASE waryowl")
	run(s, "CREATE TABLE waryowl.b (c INT)")
	run(s, "INSERT INTO waryowl.b VALUES (7)")
	// It listens on its socket alone, takes no files of the client, and gives us our own database and nothing else.
	db, _ = sql.Open("mysql", s.DSN(""))
	var quiet, infile bool
	if err := db.QueryRow("SELECT @@skip_networking, @@local_infile").Scan(&quiet, &infile); err != nil || !quiet ||
		infile {
		t.Errorf("no TCP %v, local files %v, %v", quiet, infile, err)
	}
	run(s, "CREATE TRIGGER waryowl.b_no_update BEFORE UPDATE ON waryowl.b FOR EACH ROW SIGNAL SQLSTATE '45000'")
	for _, statement := range []string{"CREATE DATABASE other", "SELECT User FROM mysql.user",
		"DROP TRIGGER waryowl.b_no_update",
		"DROP TABLE waryowl.b", "TRUNCATE TABLE waryowl.b", "ALTER TABLE waryowl.b ADD d INT", "UPDATE waryowl.b SET c = 1",
		"CREATE TABLE waryowl.e (c INT)"} {
		if _, err := db.Exec(statement); err == nil {
			t.Errorf("allowed: %s", statement)
		}
	}
	db.Close()
	beside, err := Join(ctx, Config{Dir: dir})
	if err != nil {
		t.Fatal(err)
	}
	run(beside, "INSERT INTO waryowl.b VALUES (8)")
	if err := beside.Stop(); err != nil || !s.ours(s.PID()) {
		t.Errorf("whoever joined took the server along: %v", err)
	}
	syscall.Kill(s.PID(), syscall.SIGKILL)
	<-s.exited
	s.lock.Close() // as if this process had died with it

	s, err = Start(ctx, Config{Dir: dir})
	if err != nil {
		t.Fatal(err)
	}
	db, _ = sql.Open("mysql", s.DSN("waryowl"))
	var c int
	if err := db.QueryRow("SELECT MIN(c) FROM b").Scan(&c); err != nil || c != 7 {
		t.Errorf("after the kill the row reads %d, %v", c, err)
	}
	db.Close()
	left := s.PID()
	s.lock.Close()
	s, err = Start(ctx, Config{Dir: dir})
	if err != nil || !s.Reused || s.PID() != left {
		t.Fatalf("did not take over the server that was left running: %+v, %v", s, err)
	}
	gone := func(pid int) {
		t.Helper()
		for end := time.Now().Add(5 * time.Second); s.ours(pid); time.Sleep(10 * time.Millisecond) {
			if time.Now().After(end) {
				t.Fatal("the server still runs after Stop")
			}
		}
	}
	if err := s.Stop(); err != nil {
		t.Fatal(err)
	}
	gone(left)
	// A task begins while nobody serves: a program may begin meanwhile, and keeps the server when the task ends. Of two
	// tasks alone the last one ends it. Where everything is to be replaced nobody else may be at work.
	first, err := Join(ctx, Config{Dir: dir})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := Alone(ctx, Config{Dir: dir}); err != errTasks {
		t.Errorf("alone beside a task: %v", err)
	}
	s, err = Start(ctx, Config{Dir: dir})
	if err != nil || s.PID() != first.PID() {
		t.Fatalf("a task holds the folder against a program: %v", err)
	}
	if err := first.Stop(); err != nil || !s.ours(s.PID()) {
		t.Errorf("the task took the server along: %v", err)
	}
	if err := s.Stop(); err != nil {
		t.Fatal(err)
	}
	var tasks [2]*Server
	for i := range tasks {
		if tasks[i], err = Join(ctx, Config{Dir: dir}); err != nil {
			t.Fatal(err)
		}
	}
	pid := tasks[0].PID()
	if err := tasks[0].Stop(); err != nil || !s.ours(pid) {
		t.Errorf("the first of two tasks took the server along: %v", err)
	}
	if err := tasks[1].Stop(); err != nil {
		t.Fatal(err)
	}
	gone(pid)
	if s, err = Alone(ctx, Config{Dir: dir}); err != nil {
		t.Fatal(err)
	}
	if err := s.Stop(); err != nil {
		t.Fatal(err)
	}
}

func TestADamagedFolderGivesOneClearLine(t *testing.T) {
	dir := t.TempDir()
	os.MkdirAll(filepath.Join(dir, "data"), 0o700)
	os.WriteFile(filepath.Join(dir, "data", "ibdata1"), []byte("nonsense"), 0o600)
	os.WriteFile(filepath.Join(dir, "installed"), nil, 0o600)
	s, err := Start(context.Background(), Config{Dir: dir})
	if err == nil {
		s.Stop()
		t.Fatal("started on nonsense")
	}
	if strings.Contains(err.Error(), "\n") || !strings.Contains(err.Error(), "error.log") {
		t.Errorf("want one line that names the log, got %q", err)
	}
}

func TestWhatStandsInTheWayIsNamed(t *testing.T) {
	ctx := context.Background()
	file := filepath.Join(t.TempDir(), "file")
	if err := os.WriteFile(file, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := Start(ctx, Config{Dir: filepath.Join(file, "db")}); err == nil ||
		!strings.Contains(err.Error(), "cannot make the data folder") {
		t.Errorf("a file for a folder: %v", err)
	}
	dir := t.TempDir()
	socket, err := socketPath(dir)
	if err != nil || len(socket) > 107 {
		t.Fatalf("socket %q, %v", socket, err)
	}
	folder := filepath.Dir(socket)
	defer os.Remove(folder)
	if again, err := socketPath(dir); err != nil || again != socket {
		t.Errorf("the socket moved: %q, %v", again, err)
	}
	if err := os.Chmod(folder, 0o755); err != nil {
		t.Fatal(err)
	}
	if _, err := Start(ctx, Config{Dir: dir}); err == nil ||
		!strings.Contains(err.Error(), "not a private folder of ours") {
		t.Errorf("an open socket folder: %v", err)
	}
	// A process number that now belongs to something else is not taken for our database, and not killed.
	s := &Server{dir: dir, pid: os.Getpid()}
	if s.ours(s.pid) {
		t.Error("this test was taken for a database")
	}
	if err := s.stopProcess(); err != nil {
		t.Error(err)
	}
	if _, err := find("no-such-program-anywhere"); err == nil || !strings.Contains(err.Error(), "WARYOWL_DSN") {
		t.Errorf("a missing program: %v", err)
	}
}

// TestWatchStartsAgain: a server that is killed answers again on the same socket with what it held; it is not started
// again once nobody wants it.
func TestWatchStartsAgain(t *testing.T) {
	dir, c := t.TempDir(), Config{}
	c.Dir, c.Relaxed = dir, true
	ctx, stop := context.WithCancel(context.Background())
	s, err := Start(ctx, c)
	if err != nil {
		t.Fatal(err)
	}
	again, ended := make(chan int, 4), make(chan error, 1)
	first := s.PID()
	go func() { ended <- s.Watch(ctx, c, func(pid int) { again <- pid }) }()
	db, _ := sql.Open("mysql", s.DSN(""))
	defer db.Close()
	if _, err := db.Exec("CREATE DATABASE kept"); err != nil {
		t.Fatal(err)
	}
	if err := syscall.Kill(first, syscall.SIGKILL); err != nil {
		t.Fatal(err)
	}
	select {
	case pid := <-again:
		if pid == first || pid == 0 {
			t.Errorf("process %d, before %d", pid, first)
		}
	case <-time.After(30 * time.Second):
		t.Fatal("it was not started again")
	}
	var name string
	if err := db.QueryRow("SHOW DATABASES LIKE 'kept'").Scan(&name); err != nil || name != "kept" {
		t.Errorf("what it held: %q, %v", name, err)
	}
	stop()
	if err := <-ended; err != nil {
		t.Errorf("the watch ended with %v", err)
	}
	if err := s.Stop(); err != nil {
		t.Error(err)
	}
	if len(again) != 0 {
		t.Error("it was started again though nobody wanted it")
	}
}
