// Package backup writes the whole record into one file while the program runs, checks such a file, and puts it back.
//
// A backup is a ZIP archive: one file of rows for each table, a line each, as a JSON array of base64 values in the
// order of the columns (null for none), and a manifest that names program, schema, tables, rows and SHA-256 sums. All
// tables are read in one snapshot. Sessions stay behind.
package backup

import (
	"archive/zip"
	"bufio"
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"github.com/go-sql-driver/mysql"

	"waryowl/internal/store"
)

// Table is what the manifest says of one.
type Table struct {
	Name    string   `json:"name"`
	Columns []string `json:"columns"`
	Rows    int      `json:"rows"`
	SHA256  string   `json:"sha256"`
}

// Manifest is what a backup says of itself.
type Manifest struct {
	Format  int       `json:"format"`
	Program string    `json:"program"`
	Schema  int64     `json:"schema"`
	Taken   time.Time `json:"taken"`
	Tables  []Table   `json:"tables"`
}

const (
	format   = 1
	manifest = "manifest.json"
	batch    = 200
	longest  = 256 << 20 // bytes of one row
)

// left are the tables that stay behind: sign-ins that are open or were tried, what signs cookies, and the bookkeeping
// of the schema, which the manifest says, and of restores.
var left = []string{"sessions", "sign_in_tries", "secrets", "goose_db_version", "open_record", "restoring"}

// connect opens the database of a data source name with values as the server writes them.
func connect(dsn string) (*sql.DB, error) {
	c, err := mysql.ParseDSN(dsn)
	if err != nil {
		return nil, fmt.Errorf("backup: the data source name cannot be read: %w", err)
	}
	c.ParseTime, c.InterpolateParams, c.MaxAllowedPacket = false, true, 0
	return sql.Open("mysql", c.FormatDSN())
}

// Write takes a backup of the database while others work on it.
func Write(ctx context.Context, dsn, program string, now time.Time, to io.Writer) (m Manifest, err error) {
	db, err := connect(dsn)
	if err != nil {
		return m, err
	}
	defer db.Close()
	conn, err := db.Conn(ctx)
	if err != nil {
		return m, err
	}
	defer conn.Close()
	for _, s := range []string{"SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ",
		"SET SESSION net_write_timeout = 600", "START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY"} {
		if _, err := conn.ExecContext(ctx, s); err != nil {
			return m, fmt.Errorf("backup: %w", err)
		}
	}
	defer conn.ExecContext(context.WithoutCancel(ctx), "ROLLBACK")
	m = Manifest{Format: format, Program: program, Taken: now.UTC(), Tables: []Table{}}
	if err := conn.QueryRowContext(ctx,
		"SELECT MAX(version_id) FROM goose_db_version WHERE is_applied").Scan(&m.Schema); err != nil {
		return m, fmt.Errorf("backup: the database has no schema: %w", err)
	}
	names, err := store.Tables(ctx, conn)
	if err != nil {
		return m, err
	}
	z := zip.NewWriter(to)
	for _, name := range names {
		if slices.Contains(left, name) {
			continue
		}
		f, err := z.CreateHeader(
			&zip.FileHeader{Name: "tables/" + name + ".jsonl", Method: zip.Deflate, Modified: m.Taken},
		)
		if err != nil {
			return m, err
		}
		t, err := dump(ctx, conn, name, f)
		if err != nil {
			return m, fmt.Errorf("backup: table %s: %w", name, err)
		}
		m.Tables = append(m.Tables, t)
	}
	f, err := z.Create(manifest)
	if err != nil {
		return m, err
	}
	text, _ := json.MarshalIndent(m, "", " ")
	if _, err := f.Write(text); err != nil {
		return m, err
	}
	return m, z.Close()
}

// columns are those that hold facts; what the database works out by itself it works out again.
func columns(ctx context.Context, q store.Querier, table string) ([]string, error) {
	return texts(
		ctx,
		q,
		"SELECT column_name FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ? "+
			"AND extra NOT LIKE '%GENERATED%' ORDER BY ordinal_position",
		table,
	)
}

func texts(ctx context.Context, q store.Querier, query string, args ...any) (list []string, err error) {
	rows, err := q.QueryContext(ctx, query, args...)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var s string
		if err := rows.Scan(&s); err != nil {
			return nil, err
		}
		list = append(list, s)
	}
	return list, rows.Err()
}

func quoted(columns []string) string { return "`" + strings.Join(columns, "`, `") + "`" }

func dump(ctx context.Context, conn *sql.Conn, name string, to io.Writer) (t Table, err error) {
	t.Name = name
	if t.Columns, err = columns(ctx, conn, name); err != nil {
		return t, err
	}
	rows, err := conn.QueryContext(ctx, "SELECT "+quoted(t.Columns)+" FROM `"+name+"`")
	if err != nil {
		return t, err
	}
	defer rows.Close()
	sum := sha256.New()
	out := bufio.NewWriterSize(io.MultiWriter(to, sum), 1<<16)
	values := make([]sql.RawBytes, len(t.Columns))
	into := make([]any, len(values))
	for i := range values {
		into[i] = &values[i]
	}
	line := make([][]byte, len(values))
	for rows.Next() {
		if err := rows.Scan(into...); err != nil {
			return t, err
		}
		for i, v := range values {
			line[i] = v // null stays null: a nil slice
		}
		text, err := json.Marshal(line)
		if err != nil {
			return t, err
		}
		out.Write(text)
		if err := out.WriteByte('\n'); err != nil {
			return t, err
		}
		t.Rows++
	}
	if err := rows.Err(); err != nil {
		return t, err
	}
	t.SHA256 = ""
	if err := out.Flush(); err != nil {
		return t, err
	}
	t.SHA256 = hex.EncodeToString(sum.Sum(nil))
	return t, nil
}

// Verify reads a whole backup and compares it with its sums.
func Verify(from io.ReaderAt, size int64) (Manifest, error) {
	return each(from, size, func(Table, [][]byte) error { return nil })
}

// each goes through all rows of a backup, and says at the end whether the sums are right.
func each(from io.ReaderAt, size int64, row func(Table, [][]byte) error) (m Manifest, err error) {
	z, err := zip.NewReader(from, size)
	if err != nil {
		return m, fmt.Errorf("backup: this is no backup, or its end is missing: %w", err)
	}
	f, err := z.Open(manifest)
	if err != nil {
		return m, errors.New("backup: this archive has no manifest")
	}
	err = json.NewDecoder(io.LimitReader(f, 1<<20)).Decode(&m)
	f.Close()
	if err != nil {
		return m, fmt.Errorf("backup: the manifest cannot be read: %w", err)
	}
	if m.Format != format {
		return m, fmt.Errorf("backup: the file is of format %d, this program knows %d", m.Format, format)
	}
	for _, t := range m.Tables {
		if err := readTable(z, t, row); err != nil {
			return m, err
		}
	}
	return m, nil
}

func readTable(z *zip.Reader, t Table, row func(Table, [][]byte) error) error {
	f, err := z.Open("tables/" + t.Name + ".jsonl")
	if err != nil {
		return fmt.Errorf("backup: table %s is missing", t.Name)
	}
	defer f.Close()
	sum := sha256.New()
	lines := bufio.NewReaderSize(io.TeeReader(f, sum), 1<<16)
	n := 0
	for {
		text, err := lines.ReadBytes('\n')
		if len(text) > longest {
			return fmt.Errorf("backup: table %s, row %d is too long", t.Name, n+1)
		}
		if len(text) > 0 {
			var values [][]byte
			if e := json.Unmarshal(text, &values); e != nil || len(values) != len(t.Columns) {
				return fmt.Errorf("backup: table %s, row %d cannot be read", t.Name, n+1)
			}
			if e := row(t, values); e != nil {
				return fmt.Errorf("backup: table %s, row %d: %w", t.Name, n+1, e)
			}
			n++
		}
		if err == io.EOF {
			break
		} else if err != nil {
			return fmt.Errorf("backup: table %s is damaged: %w", t.Name, err)
		}
	}
	if got := hex.EncodeToString(sum.Sum(nil)); got != t.SHA256 || n != t.Rows {
		return fmt.Errorf("backup: table %s does not match its sum: %d rows of %d", t.Name, n, t.Rows)
	}
	return nil
}

// pending collects rows of a table until they are written together.
type pending struct {
	run   func(string, ...any) error
	table Table
	args  []any
	n     int
	size  int
}

func (p *pending) add(t Table, values [][]byte) error {
	if p.n > 0 && (t.Name != p.table.Name || p.n >= batch || p.size > 4<<20) {
		if err := p.flush(); err != nil {
			return err
		}
	}
	p.table = t
	p.n++
	for _, v := range values {
		if v == nil {
			p.args = append(p.args, nil)
			continue
		}
		p.args = append(p.args, v)
		p.size += len(v)
	}
	return nil
}

func (p *pending) flush() error {
	if p.n == 0 {
		return nil
	}
	row := "(" + strings.TrimSuffix(strings.Repeat("?, ", len(p.table.Columns)), ", ") + ")"
	err := p.run("INSERT INTO `"+p.table.Name+"` ("+quoted(p.table.Columns)+") VALUES "+
		strings.TrimSuffix(strings.Repeat(row+", ", p.n), ", "), p.args...)
	p.args, p.n, p.size = p.args[:0], 0, 0
	return err
}
