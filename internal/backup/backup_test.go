package backup_test

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"waryowl/demo"
	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/backup"
	"waryowl/internal/mariadb/mariadbtest"
	"waryowl/internal/server"
	"waryowl/internal/store"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Main(m)) }

// world is the demo world in a database of its own.
func world(t *testing.T) string {
	t.Helper()
	ctx := context.Background()
	dsn := mariadbtest.Database(t)
	db, err := store.Open(ctx, dsn)
	if err != nil {
		t.Fatal(err)
	}
	pool, _ := db.DB()
	t.Cleanup(func() { pool.Close() })
	s := &act.Service{DB: db, Now: time.Now}
	for _, step := range []func() error{func() error { return store.Migrate(ctx, db) },
		func() error { return model.EnsureCatalogue(ctx, s) }, func() error { return demo.Load(ctx, s) }} {
		if err := step(); err != nil {
			t.Fatal(err)
		}
	}
	return dsn
}

// rows are all rows of all tables as text, each table in the order of its first column.
func rows(t *testing.T, dsn string) map[string]string {
	t.Helper()
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	out := map[string]string{}
	names, err := db.Query("SHOW TABLES")
	if err != nil {
		t.Fatal(err)
	}
	defer names.Close()
	for names.Next() {
		var name string
		names.Scan(&name)
		if slices.Contains([]string{"sessions", "sign_in_tries", "secrets", "goose_db_version", "open_record", "derived"},
			name) {
			continue
		}
		list, err := db.Query("SELECT * FROM `" + name + "` ORDER BY 1, 2")
		if err != nil {
			t.Fatal(err)
		}
		columns, _ := list.Columns()
		var b strings.Builder
		for list.Next() {
			values, into := make([]sql.RawBytes, len(columns)), make([]any, len(columns))
			for i := range values {
				into[i] = &values[i]
			}
			if err := list.Scan(into...); err != nil {
				t.Fatal(err)
			}
			for _, v := range values {
				fmt.Fprintf(&b, "%v %q|", v == nil, v)
			}
			b.WriteByte('\n')
		}
		list.Close()
		out[name] = b.String()
	}
	return out
}

// TestRestoreGivesEveryRowBack: the demo world, backed up while somebody writes, comes back row by row into an empty
// and into a replaced database; a full one is refused without the word for it.
func TestRestoreGivesEveryRowBack(t *testing.T) {
	ctx := context.Background()
	from := world(t)
	db, err := sql.Open("mysql", from)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	picture := bytes.Repeat([]byte{0, 1, 0xff, '\'', '\\', '\n'}, 1000)
	if _, err := db.Exec("UPDATE accounts SET display = ? WHERE name = 'analyst'",
		"Bench\x00 'quoted' \\ Ωß"); err != nil {
		t.Fatal(err)
	}
	if _, err := db.Exec("INSERT INTO sessions (token, data, expiry) VALUES ('secret', ?, NOW())", picture); err != nil {
		t.Fatal(err)
	}
	before := rows(t, from)
	var file bytes.Buffer
	// What is written after the snapshot began is not in it: the writer of the archive changes the database at its
	// first byte.
	late := &onFirst{Writer: &file, do: func() {
		if _, err := db.Exec("UPDATE models SET name = CONCAT(name, ' late')"); err != nil {
			t.Error(err)
		}
	}}
	m, err := backup.Write(ctx, from, "test", time.Now(), late)
	if err != nil {
		t.Fatal(err)
	}
	if strings.Contains(file.String(), "secret") || m.Schema == 0 || len(m.Tables) < 30 {
		t.Errorf("manifest: %+v", m)
	}
	read := bytes.NewReader(file.Bytes())
	if _, err := backup.Restore(ctx, from, read, read.Size(), backup.Way{}); err != backup.ErrNotEmpty {
		t.Errorf("a full database: %v", err)
	}
	for name, to := range map[string]string{"empty": mariadbtest.Database(t), "replaced": from} {
		if _, err := backup.Restore(ctx, to, read, read.Size(), backup.Way{Replace: name == "replaced",
			Read: whole(t)}); err != nil {
			t.Fatal(name, err)
		}
		open, err := store.Resolve(ctx, to)
		if err != nil || open == to {
			t.Fatal(name, open, err)
		}
		after := rows(t, open)
		for table, text := range before {
			if after[table] != text {
				t.Errorf("%s: table %s differs: %d bytes before, %d after", name, table, len(text), len(after[table]))
			}
		}
		if len(after) != len(before) {
			t.Errorf("%s: %d tables before, %d after", name, len(before), len(after))
		}
	}
	// Every damage is found: a byte changed, an end missing, something else entirely.
	for at := 200; at < file.Len(); at += file.Len() / 23 {
		broken := bytes.Clone(file.Bytes())
		broken[at] ^= 0x40
		if _, err := backup.Verify(bytes.NewReader(broken), int64(len(broken))); err == nil {
			if same(t, broken, file.Bytes()) {
				continue // a byte of the archive's own bookkeeping that says nothing
			}
			t.Errorf("byte %d changed, and nobody saw it", at)
		}
	}
	for name, text := range map[string][]byte{"half": file.Bytes()[:file.Len()/2], "text": []byte("not a backup"),
		"empty": nil} {
		if _, err := backup.Verify(bytes.NewReader(text), int64(len(text))); err == nil {
			t.Errorf("%s was taken for a backup", name)
		}
	}
}

// whole reads a restored record once, and fails the test when it was never asked to.
func whole(t *testing.T) func(context.Context, string) error {
	t.Helper()
	asked := false
	t.Cleanup(func() {
		if !asked {
			t.Error("the restored record was never read")
		}
	})
	return func(ctx context.Context, dsn string) error {
		asked = true
		db, err := store.Open(ctx, dsn)
		if err != nil {
			return err
		}
		pool, _ := db.DB()
		defer pool.Close()
		return server.ReadEveryRoom(ctx, &act.Service{DB: db, DSN: dsn, Now: time.Now})
	}
}

// changed writes a backup anew with other rows or another manifest, its sums right.
func changed(t *testing.T, file []byte, change func(m *backup.Manifest, rows map[string][]string)) []byte {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	if err != nil {
		t.Fatal(err)
	}
	var m backup.Manifest
	lines := map[string][]string{}
	for _, f := range z.File {
		r, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		text, err := io.ReadAll(r)
		if err != nil {
			t.Fatal(err)
		}
		if name, is := strings.CutPrefix(strings.TrimSuffix(f.Name, ".jsonl"), "tables/"); is {
			lines[name] = strings.SplitAfter(string(text), "\n")
		} else if err := json.Unmarshal(text, &m); err != nil {
			t.Fatal(err)
		}
	}
	change(&m, lines)
	var b bytes.Buffer
	w := zip.NewWriter(&b)
	for i, table := range m.Tables {
		text := strings.Join(lines[table.Name], "")
		f, _ := w.Create("tables/" + table.Name + ".jsonl")
		io.WriteString(f, text)
		sum := sha256.Sum256([]byte(text))
		m.Tables[i].SHA256, m.Tables[i].Rows = hex.EncodeToString(sum[:]), strings.Count(text, "\n")
	}
	text, _ := json.Marshal(m)
	f, _ := w.Create("manifest.json")
	f.Write(text)
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// TestABadBackupChangesNothing: a file whose sums are right and which cannot be put back all the same leaves the record
// as it was, open, and nothing beside it; so does a trial with a good file. A database that a restore left half is not
// served, and a record that was replaced takes no changes.
func TestABadBackupChangesNothing(t *testing.T) {
	ctx := context.Background()
	dsn := world(t)
	var file bytes.Buffer
	if _, err := backup.Write(ctx, dsn, "test", time.Now(), &file); err != nil {
		t.Fatal(err)
	}
	before := rows(t, dsn)
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	beside := func() (n int) {
		if err := db.QueryRow("SELECT COUNT(*) FROM information_schema.schemata WHERE schema_name LIKE CONCAT(DATABASE(), " +
			"'\\_r%')").Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	one := func(m *backup.Manifest, name string) *backup.Table {
		return &m.Tables[slices.IndexFunc(m.Tables, func(t backup.Table) bool { return t.Name == name })]
	}
	for name, c := range map[string]struct {
		says   string
		change func(m *backup.Manifest, rows map[string][]string)
	}{
		"a newer schema": {"newer program", func(m *backup.Manifest, _ map[string][]string) { m.Schema += 3 }},
		"a column that nobody knows": {"cannot be put back", func(m *backup.Manifest, _ map[string][]string) {
			one(m, "parts").Columns[2] = "colour_of_the_sky"
		}},
		"a row twice": {"cannot be put back", func(_ *backup.Manifest, rows map[string][]string) {
			rows["parts"] = append(rows["parts"], rows["parts"][0])
		}},
		"nothing where something must be": {"cannot be put back", func(_ *backup.Manifest, rows map[string][]string) {
			var cells []any
			_ = json.Unmarshal([]byte(rows["models"][0]), &cells)
			cells[1] = nil
			text, _ := json.Marshal(cells)
			rows["models"][0] = string(text) + "\n"
		}},
		"a table less": {"is missing in the file", func(m *backup.Manifest, _ map[string][]string) {
			m.Tables = slices.DeleteFunc(m.Tables, func(t backup.Table) bool { return t.Name == "trials" })
		}},
		"a table more": {"which schema", func(m *backup.Manifest, rows map[string][]string) {
			t := *one(m, "trials")
			t.Name = "trails"
			m.Tables = append(m.Tables, t)
		}},
		"parts of no model": {"belong to nothing", func(_ *backup.Manifest, rows map[string][]string) {
			rows["models"] = rows["models"][1:]
		}},
	} {
		bad := changed(t, file.Bytes(), c.change)
		_, err := backup.Restore(ctx, dsn, bytes.NewReader(bad), int64(len(bad)), backup.Way{Replace: true})
		if err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v", name, err)
		}
		if _, err := backup.Restore(ctx, dsn, bytes.NewReader(bad), int64(len(bad)), backup.Way{Trial: true}); err == nil {
			t.Errorf("%s: a trial takes it", name)
		}
	}
	good := bytes.NewReader(file.Bytes())
	if _, err := backup.Restore(ctx, dsn, good, good.Size(), backup.Way{Trial: true, Read: whole(t)}); err != nil {
		t.Errorf("a trial: %v", err)
	}
	unread := backup.Way{Replace: true, Read: func(context.Context, string) error { return errors.New("a room fails") }}
	if _, err := backup.Restore(ctx, dsn, good, good.Size(), unread); err == nil ||
		!strings.Contains(err.Error(), "a room fails") {
		t.Errorf("a room that cannot be read: %v", err)
	}
	if open, err := store.Resolve(ctx, dsn); err != nil || open != dsn || beside() != 0 {
		t.Errorf("another record is open: %s, %v; %d databases beside it", open, err, beside())
	}
	for table, text := range rows(t, dsn) {
		if before[table] != text {
			t.Errorf("table %s was changed", table)
		}
	}
	half, err := store.Beside(ctx, dsn, time.Now())
	if err != nil {
		t.Fatal(err)
	}
	if _, _, err := store.OpenRecord(ctx, half, half); err == nil || !strings.Contains(err.Error(), "did not end") {
		t.Errorf("a database left half is opened: %v", err)
	}
	if _, err := backup.Restore(ctx, dsn, good, good.Size(), backup.Way{Replace: true,
		Now: time.Now().Add(time.Second)}); err != nil {
		t.Fatal(err)
	}
	if n := beside(); n != 1 {
		t.Errorf("%d databases beside the old one: what was left half is still there", n)
	}
	old, err := store.Open(ctx, dsn)
	if err != nil {
		t.Fatal(err)
	}
	pool, _ := old.DB()
	defer pool.Close()
	late := &act.Service{DB: old, Now: time.Now}
	if _, err := act.Do(ctx, late, act.Command{Key: store.NewID(), Hash: "h"}, 201, func(tx *store.Tx) (bool, error) {
		return true, store.Create(tx, &store.Model{ModelFacts: store.ModelFacts{Maker: "Pellow", Name: "Late",
			Entry: "back"}})
	}); !store.Replaced(err) {
		t.Errorf("the replaced record takes a change: %v", err)
	}
	if err := store.Keeps(ctx, dsn, dsn, dsn, time.Millisecond); err != store.ErrReplaced {
		t.Errorf("a program on the replaced record: %v", err)
	}
}

// same says that two archives hold the same: all files that the manifest names were read and matched their sums.
func same(t *testing.T, a, b []byte) bool {
	t.Helper()
	x, err1 := backup.Verify(bytes.NewReader(a), int64(len(a)))
	y, err2 := backup.Verify(bytes.NewReader(b), int64(len(b)))
	return err1 == nil && err2 == nil && fmt.Sprint(x.Tables) == fmt.Sprint(y.Tables)
}

type onFirst struct {
	io.Writer
	do func()
}

func (w *onFirst) Write(b []byte) (int, error) {
	if w.do != nil {
		w.do()
		w.do = nil
	}
	return w.Writer.Write(b)
}

// TestOlderBackups: the record of an older schema comes up to this program.
func TestOlderBackups(t *testing.T) {
	ctx := context.Background()
	dsn := mariadbtest.Database(t)
	db, err := store.Open(ctx, dsn)
	if err != nil {
		t.Fatal(err)
	}
	pool, _ := db.DB()
	defer pool.Close()
	const old = 60
	if err := store.MigrateTo(ctx, db, old); err != nil {
		t.Fatal(err)
	}
	if _, err := pool.Exec(`INSERT INTO accounts (id, version, created_at, updated_at, name, display, role, password_hash)
		VALUES ('00000000-0000-7000-8000-000000000001', 1, NOW(), NOW(), 'old', 'Old', 'analyst', 'x')`); err != nil {
		t.Fatal(err)
	}
	var file bytes.Buffer
	m, err := backup.Write(ctx, dsn, "older", time.Now(), &file)
	if err != nil || m.Schema != old {
		t.Fatal(m.Schema, err)
	}
	to := mariadbtest.Database(t)
	if _, err := backup.Restore(ctx, to, bytes.NewReader(file.Bytes()), int64(file.Len()), backup.Way{}); err != nil {
		t.Fatal(err)
	}
	open, err := store.Resolve(ctx, to)
	if err != nil {
		t.Fatal(err)
	}
	after, err := sql.Open("mysql", open)
	if err != nil {
		t.Fatal(err)
	}
	defer after.Close()
	var name string
	var schema int
	if err := after.QueryRow("SELECT name FROM accounts").Scan(&name); err != nil || name != "old" {
		t.Errorf("%q, %v", name, err)
	}
	if err := after.QueryRow("SELECT MAX(version_id) FROM goose_db_version").Scan(&schema); err != nil ||
		schema <= old {
		t.Errorf("schema %d, %v", schema, err)
	}
}

// TestScheduledBackupsRotate: the newest stay, and nothing else in the folder is touched.
func TestScheduledBackupsRotate(t *testing.T) {
	dir := t.TempDir()
	for _, name := range []string{"waryowl-20200101-000000.zip", "waryowl-20200102-000000.zip", "holiday.zip",
		"waryowl-notes.zip"} {
		if err := os.WriteFile(filepath.Join(dir, name), nil, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	ctx, cancel := context.WithCancel(context.Background())
	dsn := mariadbtest.Database(t)
	db, err := store.Open(ctx, dsn)
	if err == nil {
		err = store.Migrate(ctx, db)
	}
	if err != nil {
		t.Fatal(err)
	}
	done := make(chan error)
	go func() {
		done <- backup.Keep(ctx, dsn, "test", dir, time.Hour, 2, slog.New(slog.NewTextHandler(io.Discard, nil)))
	}()
	for range 400 {
		if left, _ := filepath.Glob(filepath.Join(dir, "waryowl-2*.zip")); len(left) == 2 &&
			!strings.HasSuffix(left[0], "20200101-000000.zip") {
			break
		}
		time.Sleep(25 * time.Millisecond)
	}
	cancel()
	if err := <-done; err != nil {
		t.Fatal(err)
	}
	left, _ := filepath.Glob(filepath.Join(dir, "*"))
	if len(left) != 4 || strings.Contains(strings.Join(left, " "), "20200101") {
		t.Errorf("left: %v", left)
	}
}
