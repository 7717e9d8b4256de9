// Package mariadb starts and stops a private MariaDB server on loopback, from Debian's packages and without a system
// service. It is for one program on one machine: the data folder is locked while it is in use.
//
//	db, err := mariadb.Start(ctx, mariadb.Config{Dir: "var/db"})
//	defer db.Stop()
//	sql.Open("mysql", db.DSN("waryowl"))
package mariadb

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"syscall"
	"time"

	_ "github.com/go-sql-driver/mysql"
)

// Config says where the server lives. Relaxed is for tests only: it gives up durability for speed, and the server dies
// with us.
type Config struct {
	Dir     string
	Relaxed bool
}

// Server is a running server that this process is responsible for. Reused says that it was left over from an earlier
// process and taken over.
type Server struct {
	Reused   bool
	dir      string
	socket   string
	password string
	owner    string // password of the user that may change the schema
	pid      int
	lock     *os.File
	task     *os.File // held together with others by those who use the server for a short task
	exited   chan struct{}
}

const startTimeout = 60 * time.Second

// secrets reads the passwords, made when they are missing, and finds the socket.
func (s *Server) secrets() (err error) {
	if s.password, err = secret(filepath.Join(s.dir, "password")); err != nil {
		return err
	}
	if s.owner, err = secret(filepath.Join(s.dir, "owner")); err != nil {
		return err
	}
	s.socket, err = socketPath(s.dir)
	return err
}

func (s *Server) start(ctx context.Context, c Config) error {
	binary, err := find("mariadbd")
	if err != nil {
		return err
	}
	if err := s.secrets(); err != nil {
		return err
	}
	if s.takeOver(ctx) {
		return nil
	}
	if err := s.install(); err != nil {
		return err
	}
	init := filepath.Join(s.dir, "init.sql")
	// The program reads and writes rows of its own databases; only the owner changes tables and triggers.
	on, may := "`waryowl%`.*", "SELECT, INSERT, UPDATE, DELETE, EXECUTE"
	if c.Relaxed {
		on, may = "*.*", "ALL" // tests make databases
	}
	grant := fmt.Sprintf("CREATE OR REPLACE USER 'waryowl'@'localhost' IDENTIFIED BY '%s';\nGRANT %s ON %s TO "+
		"'waryowl'@'localhost';\nCREATE OR REPLACE USER 'waryowl_owner'@'localhost' IDENTIFIED BY '%s';\nGRANT ALL ON %s TO "+
		"'waryowl_owner'@'localhost';\n", s.password, may, on, s.owner, on)
	if err := os.WriteFile(init, []byte(grant), 0o600); err != nil {
		return err
	}
	args := []string{"--no-defaults", "--datadir=" + s.data(), "--socket=" + s.socket, "--skip-networking",
		"--local-infile=0", "--skip-symbolic-links",
		"--pid-file=" + filepath.Join(s.dir, "pid"), "--log-error=" + s.log(), "--init-file=" + init, "--skip-log-bin",
		"--character-set-server=utf8mb4", "--collation-server=utf8mb4_unicode_ci", "--max-connections=200"}
	if os.Getuid() == 0 {
		args = append(args, "--user=root")
	}
	if c.Relaxed {
		args = append(args, "--innodb-flush-log-at-trx-commit=0", "--innodb-doublewrite=0",
			"--innodb-buffer-pool-size=64M", "--sync-frm=0")
	} else {
		args = append(args, "--innodb-flush-log-at-trx-commit=1", "--innodb-buffer-pool-size=384M")
	}
	cmd := exec.Command(binary, args...)
	cmd.Env = s.environment()
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true} // Ctrl-C ends us first, then we end the database
	if c.Relaxed {
		cmd.SysProcAttr.Pdeathsig = syscall.SIGKILL // a killed test leaves nothing behind
	}
	if err := s.run(cmd); err != nil {
		return fmt.Errorf("mariadb: cannot start %s: %w", binary, err)
	}
	if err := s.await(ctx); err != nil {
		s.stopProcess()
		return err
	}
	return nil
}

// run starts the process and closes exited at its end. The thread that starts it stays with it: the kernel takes the
// end of that thread for ours.
func (s *Server) run(cmd *exec.Cmd) error {
	started := make(chan error)
	s.exited = make(chan struct{})
	go func() {
		runtime.LockOSThread()
		err := cmd.Start()
		started <- err
		if err == nil {
			cmd.Wait()
			close(s.exited)
		}
	}()
	if err := <-started; err != nil {
		return err
	}
	s.pid = cmd.Process.Pid
	return nil
}

// mostRestarts is how often a server may end within a minute before it is given up.
const mostRestarts = 5

// Watch starts the server again whenever it ends by itself, on the same socket and data, until ctx ends. It returns an
// error, one line, when that does not work.
func (s *Server) Watch(ctx context.Context, c Config, told func(pid int)) error {
	var ends []time.Time
	for {
		if !s.ended(ctx) {
			return nil
		}
		ends = append(ends, time.Now())
		if n := len(ends); n > mostRestarts && ends[n-1].Sub(ends[n-1-mostRestarts]) < time.Minute {
			return fmt.Errorf("mariadb: the database ended %d times within a minute (log: %s)", mostRestarts+1, s.log())
		}
		s.pid, s.Reused = 0, false
		if err := s.start(ctx, c); err != nil {
			if ctx.Err() != nil {
				return nil
			}
			return fmt.Errorf("the database ended and did not start again: %w", err)
		}
		told(s.pid)
	}
}

// ended waits for the end of the server; false when ctx ends first.
func (s *Server) ended(ctx context.Context) bool {
	if !s.Reused {
		select {
		case <-s.exited:
			return ctx.Err() == nil
		case <-ctx.Done():
			return false
		}
	}
	for tick := time.NewTicker(time.Second); ; { // not our child: nobody tells us
		select {
		case <-tick.C:
			if !s.ours(s.pid) {
				tick.Stop()
				return ctx.Err() == nil
			}
		case <-ctx.Done():
			tick.Stop()
			return false
		}
	}
}

// DSN is the data source name of a database on this server, for go-sql-driver/mysql.
func (s *Server) DSN(database string) string {
	return fmt.Sprintf("waryowl:%s@unix(%s)/%s?parseTime=true&loc=UTC&clientFoundRows=true", s.password, s.socket,
		database)
}

// OwnerDSN is [Server.DSN] with the right to change tables and triggers: for migrations and restores.
func (s *Server) OwnerDSN(database string) string {
	return fmt.Sprintf("waryowl_owner:%s@unix(%s)/%s?parseTime=true&loc=UTC&clientFoundRows=true", s.owner, s.socket,
		database)
}

// Reserve is the room, in bytes, that must stay free on the disk of the data: below it the database may break off in
// the middle of its work when a file has to grow.
const Reserve = 64 << 20

// Full says that less than [Reserve] is free for us on the disk of the data.
func (s *Server) Full() bool {
	free, known := s.Free()
	return known && free < Reserve
}

// Free is how many bytes are free for us on the disk of the data; whether that is known.
func (s *Server) Free() (uint64, bool) {
	var disk syscall.Statfs_t
	err := syscall.Statfs(s.dir, &disk)
	return disk.Bavail * uint64(disk.Bsize), err == nil
}

// PID is the process number of the server.
func (s *Server) PID() int { return s.pid }

// environment gives the server a folder of its own for temporary tables: at its start a server removes those that it
// finds, and in a shared folder they may belong to another one.
func (s *Server) environment() []string {
	return append(os.Environ(), "TMPDIR="+filepath.Join(s.dir, "tmp"))
}

func (s *Server) data() string { return filepath.Join(s.dir, "data") }
func (s *Server) log() string  { return filepath.Join(s.dir, "error.log") }

// takeOver adopts a server of this data folder that still runs, or ends it when it does not answer.
func (s *Server) takeOver(ctx context.Context) bool {
	text, err := os.ReadFile(filepath.Join(s.dir, "pid"))
	if err != nil {
		return false
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(text)))
	if err != nil || !s.ours(pid) {
		return false
	}
	s.pid = pid
	short, cancel := context.WithTimeout(ctx, 10*time.Second)
	defer cancel()
	if s.await(short) == nil && s.knowsOwner(short) {
		s.Reused = true
		return true
	}
	s.stopProcess()
	s.pid = 0
	return false
}

// knowsOwner says whether the server that runs lets the owner in: one that an earlier version started does not.
func (s *Server) knowsOwner(ctx context.Context) bool {
	db, err := sql.Open("mysql", s.OwnerDSN(""))
	if err != nil {
		return false
	}
	defer db.Close()
	return db.PingContext(ctx) == nil
}

// ours says whether the process is a MariaDB server on our data folder.
func (s *Server) ours(pid int) bool {
	line, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	return err == nil && strings.Contains(string(line), "mariadbd") &&
		strings.Contains(string(line), "--datadir="+s.data()+"\x00")
}

// await waits until the server answers with our password and our data folder.
func (s *Server) await(ctx context.Context) error {
	ctx, cancel := context.WithTimeout(ctx, startTimeout)
	defer cancel()
	db, err := sql.Open("mysql", s.DSN(""))
	if err != nil {
		return err
	}
	defer db.Close()
	for {
		var dir string
		if err = db.QueryRowContext(ctx, "SELECT @@datadir").Scan(&dir); err == nil {
			if filepath.Clean(dir) != s.data() {
				return fmt.Errorf("mariadb: the server on our socket keeps other data; remove %s", s.socket)
			}
			return nil
		}
		select {
		case <-s.exited:
			text, _ := os.ReadFile(s.log())
			return fmt.Errorf("mariadb: the database ended while starting: %s (whole log: %s)",
				lastError(string(text)), s.log())
		case <-ctx.Done():
			return fmt.Errorf("mariadb: the database does not answer: %w (log: %s)", err, s.log())
		case <-time.After(30 * time.Millisecond):
		}
	}
}

// lastError is the last line of a server's output that tells an error.
func lastError(text string) string {
	last := "no reason given"
	for line := range strings.Lines(text) {
		if strings.Contains(line, "[ERROR]") {
			last = strings.TrimSpace(line)
		}
	}
	return last
}

// install makes the system tables once; a folder left half made is made again.
func (s *Server) install() error {
	done := filepath.Join(s.dir, "installed")
	if _, err := os.Stat(done); err == nil {
		return nil
	}
	if err := os.RemoveAll(s.data()); err != nil {
		return err
	}
	binary, err := find("mariadb-install-db")
	if err != nil {
		return err
	}
	args := []string{"--no-defaults", "--datadir=" + s.data(), "--skip-test-db", "--skip-name-resolve"}
	if os.Getuid() == 0 {
		args = append(args, "--user=root")
	}
	cmd := exec.Command(binary, args...)
	cmd.Env = s.environment()
	if out, err := cmd.CombinedOutput(); err != nil {
		return fmt.Errorf("mariadb: cannot make the database in %s: %w: %s", s.data(), err, lastError(string(out)))
	}
	return os.WriteFile(done, nil, 0o600)
}

func (s *Server) stopProcess() error {
	if s.pid == 0 || !s.ours(s.pid) {
		return nil
	}
	for _, step := range []struct {
		signal syscall.Signal
		wait   time.Duration
	}{{syscall.SIGTERM, 30 * time.Second}, {syscall.SIGKILL, 5 * time.Second}} {
		syscall.Kill(s.pid, step.signal)
		for end := time.Now().Add(step.wait); time.Now().Before(end); time.Sleep(20 * time.Millisecond) {
			if !s.ours(s.pid) {
				return nil
			}
		}
	}
	return fmt.Errorf("mariadb: process %d does not end", s.pid)
}

func find(name string) (string, error) {
	for _, dir := range append(filepath.SplitList(os.Getenv("PATH")), "/usr/sbin", "/usr/bin") {
		if path := filepath.Join(dir, name); executable(path) {
			return path, nil
		}
	}
	return "", fmt.Errorf("mariadb: %s is missing; install Debian's mariadb-server-core, or set WARYOWL_DSN to a "+
		"server of your own", name)
}

func secret(path string) (string, error) {
	if text, err := os.ReadFile(path); err == nil && len(text) > 0 {
		return string(text), nil
	}
	text := rand.Text()
	return text, os.WriteFile(path, []byte(text), 0o600)
}

// socketPath is short, since the kernel allows 107 bytes, and in a folder that only this user can enter.
func socketPath(dir string) (string, error) {
	sum := sha256.Sum256([]byte(dir))
	folder := filepath.Join("/tmp", fmt.Sprintf("waryowl-%d-%x", os.Getuid(), sum[:5]))
	if err := os.Mkdir(folder, 0o700); err != nil && !os.IsExist(err) {
		return "", err
	}
	info, err := os.Lstat(folder)
	if err != nil {
		return "", err
	}
	if st, ok := info.Sys().(*syscall.Stat_t); !info.IsDir() || info.Mode().Perm() != 0o700 || ok &&
		int(st.Uid) != os.Getuid() {
		return "", fmt.Errorf("mariadb: %s is not a private folder of ours; remove it", folder)
	}
	return filepath.Join(folder, "s"), nil
}

func executable(path string) bool {
	info, err := os.Stat(path)
	return err == nil && !info.IsDir() && info.Mode()&0o111 != 0
}
