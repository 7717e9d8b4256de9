package backup

import (
	"context"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"waryowl/internal/store"
)

// ErrNotEmpty says that the database holds something already.
var ErrNotEmpty = errors.New(
	"backup: this database holds a record already; say --replace to put the backup in its place",
)

// Way says how a backup is put back: in the place of a record or only where there is none; only on trial, and then
// nothing is changed. Read reads the restored record, of a data source name, as the program would; nil: it is not read.
type Way struct {
	Replace, Trial bool
	Read           func(ctx context.Context, dsn string) error
	Now            time.Time
}

// Restore puts a backup into a database of its own beside that of the data source name, brings it up to this program
// and reads it whole; only then the name of the record that is opened is replaced. What was open before stays as it
// was, and is kept for a while. Where anything fails nothing is changed.
func Restore(ctx context.Context, dsn string, from io.ReaderAt, size int64, way Way) (m Manifest, err error) {
	if m, err = Verify(from, size); err != nil {
		return m, err
	}
	if newest := store.Newest(); m.Schema > newest {
		return m, fmt.Errorf("backup: the file is of schema %d, this program knows %d; put it back with the newer program",
			m.Schema, newest)
	}
	g, err := store.Open(ctx, dsn) // which makes the database
	if err != nil {
		return m, err
	}
	if pool, err := g.DB(); err == nil {
		pool.Close()
	}
	if !way.Replace && !way.Trial {
		if err := empty(ctx, dsn); err != nil {
			return m, err
		}
	}
	if way.Now.IsZero() {
		way.Now = time.Now()
	}
	fresh, err := store.Beside(ctx, dsn, way.Now)
	if err != nil {
		return m, err
	}
	err = fill(ctx, fresh, m, from, size)
	if err == nil && way.Read != nil {
		if err = way.Read(ctx, fresh); err != nil {
			err = fmt.Errorf("backup: the record came back and cannot be read: %w", err)
		}
	}
	if err == nil && !way.Trial {
		if err = store.Whole(ctx, fresh); err == nil {
			if err = store.Switch(ctx, dsn, fresh, way.Now); err == nil {
				return m, nil
			}
		}
	}
	gone := store.DropDatabase(context.WithoutCancel(ctx), fresh)
	return m, errors.Join(err, gone)
}

// empty refuses a database that holds somebody or something.
func empty(ctx context.Context, dsn string) error {
	open, err := store.Resolve(ctx, dsn)
	if err != nil {
		return err
	}
	db, err := connect(open)
	if err != nil {
		return err
	}
	defer db.Close()
	have, err := store.Tables(ctx, db)
	if err != nil {
		return err
	}
	if !slices.Contains(have, "models") {
		return nil
	}
	var n int
	if err := db.QueryRowContext(ctx,
		"SELECT (SELECT COUNT(*) FROM models) + (SELECT COUNT(*) FROM accounts)").Scan(&n); err != nil {
		return err
	}
	if n > 0 {
		return ErrNotEmpty
	}
	return nil
}

// belongs are rows that must have the row that they belong to.
var belongs = [][3]string{{"parts", "model_id", "models"}, {"plan_steps", "model_id", "models"},
	{"studies", "model_id", "models"}, {"units", "study_id", "studies"}, {"log_entries", "study_id", "studies"},
	{"log_entries", "unit_id", "units"}, {"baselines", "unit_id", "units"}, {"trials", "study_id", "studies"}}

// fill puts the rows into an empty database and says whether all came, each with what it belongs to.
func fill(ctx context.Context, dsn string, m Manifest, from io.ReaderAt, size int64) error {
	g, err := store.Open(ctx, dsn)
	if err != nil {
		return err
	}
	pool, err := g.DB()
	if err != nil {
		return err
	}
	defer pool.Close()
	if err := store.MigrateTo(ctx, g, m.Schema); err != nil {
		return err
	}
	db, err := connect(dsn)
	if err != nil {
		return err
	}
	defer db.Close()
	conn, err := db.Conn(ctx)
	if err != nil {
		return err
	}
	defer conn.Close()
	run := func(statement string, args ...any) error {
		_, err := conn.ExecContext(ctx, statement, args...)
		return err
	}
	have, err := store.Tables(ctx, conn)
	if err != nil {
		return err
	}
	for _, name := range have { // what migrations put in comes from the backup as well
		if slices.Contains(left, name) {
			continue
		}
		if !slices.ContainsFunc(m.Tables, func(t Table) bool { return t.Name == name }) {
			return fmt.Errorf("backup: table %s is missing in the file", name)
		}
		if err := run("TRUNCATE TABLE `" + name + "`"); err != nil {
			return err
		}
	}
	for _, t := range m.Tables {
		if !slices.Contains(have, t.Name) || slices.Contains(left, t.Name) {
			return fmt.Errorf("backup: the file has a table %s, which schema %d has not", t.Name, m.Schema)
		}
	}
	p := &pending{run: run}
	if _, err = each(from, size, p.add); err == nil {
		err = p.flush()
	}
	if err != nil {
		return fmt.Errorf("backup: the file cannot be put back: %w", err)
	}
	for _, t := range m.Tables {
		var n int
		if err := conn.QueryRowContext(ctx, "SELECT COUNT(*) FROM `"+t.Name+"`").Scan(&n); err != nil {
			return err
		}
		if n != t.Rows {
			return fmt.Errorf("backup: table %s came back with %d rows of %d", t.Name, n, t.Rows)
		}
	}
	if err := store.MigrateTo(ctx, g, 0); err != nil {
		return err
	}
	var alone []string
	for _, b := range belongs {
		var n int
		if err := conn.QueryRowContext(ctx, "SELECT COUNT(*) FROM "+b[0]+" c WHERE NOT EXISTS (SELECT 1 FROM "+b[2]+
			" p WHERE p.id = c."+b[1]+")").Scan(&n); err != nil {
			return err
		}
		if n > 0 {
			alone = append(alone, fmt.Sprintf("%d of %s without their row of %s", n, b[0], b[2]))
		}
	}
	if len(alone) > 0 {
		return fmt.Errorf("backup: rows belong to nothing that is there: %s", strings.Join(alone, ", "))
	}
	return nil
}
