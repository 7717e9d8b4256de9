package store

import (
	"bytes"
	"compress/gzip"
	"context"
	"database/sql"
	"encoding/hex"
	"flag"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"waryowl/internal/mariadb/mariadbtest"
)

var dumpFrom = flag.String("dump", "",
	"data source name of a demo database to keep as testdata/upgrade/NAME.sql.gz; give the name with -dump-as")
var dumpAs = flag.String("dump-as", "", "name of the kept database")

// TestUpgradeFromEveryKeptRelease: the demo database of each earlier release comes up to this program with nothing
// lost: every row of every table is still there, and what a later schema added is readable.
func TestUpgradeFromEveryKeptRelease(t *testing.T) {
	if *dumpFrom != "" {
		keep(t, *dumpFrom, filepath.Join("testdata", "upgrade", *dumpAs+".sql.gz"))
	}
	kept, err := filepath.Glob("testdata/upgrade/*.sql.gz")
	if err != nil || len(kept) < 2 {
		t.Fatalf("kept releases: %v, %v", kept, err)
	}
	for _, file := range kept {
		t.Run(filepath.Base(file), func(t *testing.T) {
			ctx := context.Background()
			dsn := mariadbtest.Database(t)
			before := restore(t, dsn, file)
			db, err := Open(ctx, dsn)
			if err != nil {
				t.Fatal(err)
			}
			pool, _ := db.DB()
			defer pool.Close()
			if err := Migrate(ctx, db); err != nil {
				t.Fatal(err)
			}
			for table, n := range before {
				var now int
				if err := pool.QueryRow("SELECT COUNT(*) FROM `" + table + "`").Scan(&now); err != nil || now < n ||
					table != "goose_db_version" && now != n {
					t.Errorf("%s: %d rows before, %d after, %v", table, n, now, err)
				}
			}
			models, err := List[Model](db, "name", "1 = 1")
			if err != nil || len(models) < 5 {
				t.Fatalf("models: %d, %v", len(models), err)
			}
			for _, m := range models {
				parts, err := List[Part](db, "name", "model_id = ?", m.ID)
				steps, err2 := List[PlanStep](db, "id", "model_id = ?", m.ID)
				if err != nil || err2 != nil || len(parts) == 0 || len(steps) == 0 {
					t.Errorf("%s: %d parts, %d steps, %v, %v", m.Name, len(parts), len(steps), err, err2)
				}
			}
			for name, read := range map[string]func() (int, error){
				"trials": func() (int, error) { r, err := List[Trial](db, "seq", "1 = 1"); return len(r), err },
				"log":    func() (int, error) { r, err := List[LogEntry](db, "seq", "1 = 1"); return len(r), err },
				"acts":   func() (int, error) { r, err := List[SwapAct](db, "seq", "1 = 1"); return len(r), err },
				"units":  func() (int, error) { r, err := List[Unit](db, "id", "1 = 1"); return len(r), err },
			} {
				if n, err := read(); err != nil || n == 0 {
					t.Errorf("%s: %d, %v", name, n, err)
				}
			}
		})
	}
}

// restore runs the statements of a kept database and counts the rows of its tables.
func restore(t *testing.T, dsn, file string) map[string]int {
	t.Helper()
	f, err := os.Open(file)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	z, err := gzip.NewReader(f)
	if err != nil {
		t.Fatal(err)
	}
	text, err := io.ReadAll(z)
	if err != nil {
		t.Fatal(err)
	}
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	rows := map[string]int{}
	for _, statement := range strings.Split(string(text), ";\n") {
		if strings.TrimSpace(statement) == "" {
			continue
		}
		if _, err := db.Exec(statement); err != nil {
			t.Fatalf("%.120s: %v", statement, err)
		}
		if rest, ok := strings.CutPrefix(statement, "INSERT INTO `"); ok {
			rows[rest[:strings.IndexByte(rest, '`')]]++
		}
	}
	return rows
}

// keep writes a database as statements: tables, then rows with their values in hexadecimal. Sessions and passwords stay
// behind.
func keep(t *testing.T, dsn, file string) {
	t.Helper()
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	var out bytes.Buffer
	tables, err := db.Query("SHOW TABLES")
	if err != nil {
		t.Fatal(err)
	}
	var names []string
	for tables.Next() {
		var name string
		tables.Scan(&name)
		names = append(names, name)
	}
	for _, name := range names {
		var n, create string
		if err := db.QueryRow("SHOW CREATE TABLE `"+name+"`").Scan(&n, &create); err != nil {
			t.Fatal(err)
		}
		fmt.Fprintf(&out, "%s;\n", create)
		if name == "sessions" || name == "commands" {
			continue
		}
		rows, err := db.Query("SELECT * FROM `" + name + "`")
		if err != nil {
			t.Fatal(err)
		}
		columns, _ := rows.Columns()
		for rows.Next() {
			values := make([]sql.RawBytes, len(columns))
			into := make([]any, len(columns))
			for i := range values {
				into[i] = &values[i]
			}
			if err := rows.Scan(into...); err != nil {
				t.Fatal(err)
			}
			var list []string
			for i, v := range values {
				switch {
				case v == nil:
					list = append(list, "NULL")
				case columns[i] == "password_hash":
					list = append(list, "''")
				default:
					text := string(v)
					if len(text) > 19 && text[4] == '-' && text[10] == 'T' && strings.HasSuffix(text, "Z") {
						text = strings.TrimSuffix(strings.Replace(text, "T", " ", 1), "Z")
					}
					list = append(list, "X'"+hex.EncodeToString([]byte(text))+"'")
				}
			}
			fmt.Fprintf(&out, "INSERT INTO `%s` (`%s`) VALUES (%s);\n", name, strings.Join(columns, "`,`"),
				strings.Join(list, ","))
		}
	}
	if err := os.MkdirAll(filepath.Dir(file), 0o755); err != nil {
		t.Fatal(err)
	}
	f, err := os.Create(file)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	z, _ := gzip.NewWriterLevel(f, gzip.BestCompression)
	z.Write(out.Bytes())
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
}
