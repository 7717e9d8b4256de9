// Package mariadbtest gives each test a database of its own on a server that the test process starts on memory-backed
// storage with relaxed flushing.
//
//	func TestMain(m *testing.M) { os.Exit(mariadbtest.Main(m)) }
//	func TestX(t *testing.T)    { dsn := mariadbtest.Database(t) }
package mariadbtest

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"sync/atomic"
	"syscall"
	"testing"

	"waryowl/internal/mariadb"
)

var (
	server *mariadb.Server
	count  atomic.Int64
)

// Main runs the tests of a package with a server and returns the exit code.
func Main(m *testing.M) int {
	base := "/dev/shm"
	if _, err := os.Stat(base); err != nil {
		base = ""
	}
	sweep(base)
	dir, err := os.MkdirTemp(base, "waryowl-test-")
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer os.RemoveAll(dir)
	if server, err = mariadb.Start(context.Background(), mariadb.Config{Dir: dir, Relaxed: true}); err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer server.Stop()
	return m.Run()
}

// sweep removes the folders of test runs that were killed: nobody holds their lock any more.
func sweep(base string) {
	if base == "" {
		base = os.TempDir()
	}
	left, _ := filepath.Glob(filepath.Join(base, "waryowl-test-*"))
	for _, dir := range left {
		lock, err := os.OpenFile(filepath.Join(dir, "lock"), os.O_RDWR, 0)
		if err != nil {
			continue // being made right now, or not ours
		}
		if syscall.Flock(int(lock.Fd()), syscall.LOCK_EX|syscall.LOCK_NB) == nil {
			os.RemoveAll(dir)
		}
		lock.Close()
	}
}

// Database makes an empty database for this test, drops it afterwards and returns its data source name.
func Database(t testing.TB) string {
	t.Helper()
	name := fmt.Sprintf("t%d", count.Add(1))
	db, err := sql.Open("mysql", server.DSN(""))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		db.Exec("DROP DATABASE " + name)
		db.Close()
	})
	if _, err := db.Exec("CREATE DATABASE " + name); err != nil {
		t.Fatal(err)
	}
	return server.DSN(name)
}
