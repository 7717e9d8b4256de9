package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"strings"
	"time"

	"github.com/go-sql-driver/mysql"
	"gorm.io/gorm"
)

// The record that a program opens is a database of its own beside the one of the data source name, once a backup was
// put back: the table open_record there names it, and is changed in one statement when the new one is whole. No table
// moves. The database from before is kept until the program has run well on the new one for a while.

// keptFor is how long a replaced record is kept after the program has begun to serve the new one (house).
const keptFor = 7 * 24 * time.Hour

// restoring is the table that stands in a database while a backup is put into it.
const restoring = "restoring"

// within is a data source name with another database.
func within(dsn, database string) (string, error) {
	c, err := mysql.ParseDSN(dsn)
	if err != nil {
		return "", fmt.Errorf("store: the data source name is not valid: %w", err)
	}
	c.DBName = database
	return c.FormatDSN(), nil
}

// bare opens the database of a data source name as it is, without making it.
func bare(dsn string) (*sql.DB, string, error) {
	c, err := mysql.ParseDSN(dsn)
	if err != nil {
		return nil, "", fmt.Errorf("store: the data source name is not valid: %w", err)
	}
	c.ParseTime, c.Loc = true, time.UTC
	db, err := pool(c)
	return db, c.DBName, err
}

// missing says that there is no such table, or no such database.
func missing(err error) bool {
	var e *mysql.MySQLError
	return errors.As(err, &e) && (e.Number == 1146 || e.Number == 1049)
}

// Resolve is the data source name of the record that is to be opened: that of the database itself, or of the one that a
// restore put in its place.
func Resolve(ctx context.Context, dsn string) (string, error) {
	db, _, err := bare(dsn)
	if err != nil {
		return "", err
	}
	defer db.Close()
	var name string
	switch err := db.QueryRowContext(ctx, "SELECT name FROM open_record WHERE id = 1").Scan(&name); {
	case missing(err) || errors.Is(err, sql.ErrNoRows):
		return dsn, nil
	case err != nil:
		return "", fmt.Errorf("store: cannot read which record is open: %w", err)
	}
	return within(dsn, name)
}

// Beside makes an empty database beside that of a data source name, for a backup that is put back, and marks it as not
// yet whole. Ones that an earlier restore left half are dropped.
func Beside(ctx context.Context, dsn string, now time.Time) (string, error) {
	db, base, err := bare(dsn)
	if err != nil {
		return "", err
	}
	defer db.Close()
	rows, err := db.QueryContext(ctx, "SELECT table_schema FROM information_schema.tables WHERE table_name = ? AND "+
		"table_schema LIKE ?", restoring, strings.NewReplacer("_", `\_`, "%", `\%`).Replace(base)+`\_r%`)
	if err != nil {
		return "", err
	}
	var left []string
	for rows.Next() {
		var name string
		if err := rows.Scan(&name); err != nil {
			return "", errors.Join(err, rows.Close())
		}
		left = append(left, name)
	}
	if err := rows.Err(); err != nil {
		return "", err
	}
	for _, name := range left {
		if _, err := db.ExecContext(ctx, "DROP DATABASE `"+name+"`"); err != nil {
			return "", err
		}
	}
	name := base + "_r" + now.UTC().Format("20060102150405000")
	for _, q := range []string{"CREATE DATABASE `" + name + "` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci",
		"CREATE TABLE `" + name + "`." + restoring + " (since DATETIME NOT NULL)",
		"INSERT INTO `" + name + "`." + restoring + " VALUES (UTC_TIMESTAMP())"} {
		if _, err := db.ExecContext(ctx, q); err != nil {
			return "", fmt.Errorf("store: a backup is put into a database of its own first, and %s cannot be made: %w", name,
				err)
		}
	}
	return within(dsn, name)
}

// Whole takes the mark away that a database is being restored.
func Whole(ctx context.Context, dsn string) error { return once(ctx, dsn, "DROP TABLE "+restoring) }

// DropDatabase removes the database of a data source name.
func DropDatabase(ctx context.Context, dsn string) error {
	c, err := mysql.ParseDSN(dsn)
	if err != nil {
		return err
	}
	return once(ctx, dsn, "DROP DATABASE IF EXISTS `"+c.DBName+"`")
}

func once(ctx context.Context, dsn, query string, args ...any) error {
	db, _, err := bare(dsn)
	if err != nil {
		return err
	}
	defer db.Close()
	_, err = db.ExecContext(ctx, query, args...)
	return err
}

// closed is the trigger that keeps a replaced record from taking changes.
const closed = "record_replaced"

// Switch makes the record of one data source name that which is opened by another: first the old one takes no changes
// any more, then the name is replaced.
func Switch(ctx context.Context, dsn, to string, now time.Time) error {
	old, err := Resolve(ctx, dsn)
	if err != nil {
		return err
	}
	a, err := mysql.ParseDSN(old)
	if err != nil {
		return err
	}
	b, err := mysql.ParseDSN(to)
	if err != nil {
		return err
	}
	err = once(ctx, old, "CREATE TRIGGER IF NOT EXISTS "+closed+" BEFORE INSERT ON commands FOR EACH ROW SIGNAL SQLSTATE "+
		"'45000' SET MESSAGE_TEXT = '"+replaced+"'")
	if err != nil && !missing(err) { // nothing was ever kept there
		return err
	}
	if err := once(ctx, dsn, "CREATE TABLE IF NOT EXISTS open_record (id TINYINT NOT NULL PRIMARY KEY, name VARCHAR(64) NOT "+
		"NULL, previous VARCHAR(64) NOT NULL, switched_at DATETIME NOT NULL, well_at DATETIME NULL)"); err != nil {
		return err
	}
	return once(ctx, dsn, "INSERT INTO open_record VALUES (1, ?, ?, ?, NULL) ON DUPLICATE KEY UPDATE name = VALUES(name), "+
		"previous = VALUES(previous), switched_at = VALUES(switched_at), well_at = NULL", b.DBName, a.DBName, now.UTC())
}

const replaced = "this record was replaced by a backup"

// Replaced says that a change met a record in whose place another one was put.
func Replaced(err error) bool {
	var e *mysql.MySQLError
	return errors.As(err, &e) && e.Number == 1644 && e.Message == replaced
}

// ErrReplaced says that another record is to be opened now.
var ErrReplaced = errors.New("store: a backup was put in the place of this record; start the program again")

// Keeps looks every so often whether the record is still the one that is to be opened, notes that the program runs
// well on it, and drops the one from before when its time is over. It ends with its context, or with [ErrReplaced].
func Keeps(ctx context.Context, dsn, owner, opened string, every time.Duration) error {
	turn := time.NewTicker(every)
	defer turn.Stop()
	for {
		select {
		case <-ctx.Done():
			return nil
		case now := <-turn.C:
			name, err := Resolve(ctx, dsn)
			if err != nil {
				continue // the database is away: that is told elsewhere
			}
			if name != opened {
				return ErrReplaced
			}
			_ = sweep(ctx, owner, now) // at the next turn again
		}
	}
}

// sweep notes that the open record is served, and drops the one before it when that was long enough ago.
func sweep(ctx context.Context, dsn string, now time.Time) error {
	db, base, err := bare(dsn)
	if err != nil {
		return err
	}
	defer db.Close()
	var previous string
	var well sql.NullTime
	err = db.QueryRowContext(ctx, "SELECT previous, well_at FROM open_record WHERE id = 1").Scan(&previous, &well)
	switch {
	case missing(err) || errors.Is(err, sql.ErrNoRows):
		return nil
	case err != nil || previous == "":
		return err
	case !well.Valid:
		_, err := db.ExecContext(ctx, "UPDATE open_record SET well_at = ? WHERE id = 1", now.UTC())
		return err
	case now.Sub(well.Time) < keptFor:
		return nil
	case previous != base:
		if _, err := db.ExecContext(ctx, "DROP DATABASE IF EXISTS `"+previous+"`"); err != nil {
			return err
		}
	default: // the database of the name itself: it keeps the table that says which one is open
		names, err := Tables(ctx, db)
		if err != nil {
			return err
		}
		for _, name := range names {
			if name == "open_record" {
				continue
			}
			if _, err := db.ExecContext(ctx, "DROP TABLE IF EXISTS `"+name+"`"); err != nil {
				return err
			}
		}
	}
	_, err = db.ExecContext(ctx, "UPDATE open_record SET previous = '' WHERE id = 1")
	return err
}

// Querier is what asks a database.
type Querier interface {
	QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error)
}

// Tables are the names of a database's tables.
func Tables(ctx context.Context, q Querier) (list []string, err error) {
	rows, err := q.QueryContext(ctx,
		"SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE() AND "+
			"table_type = 'BASE TABLE' ORDER BY table_name")
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

// Newest is the schema that this program knows.
func Newest() int64 {
	files, _ := fs.ReadDir(migrations, "migrations")
	var n int64
	for _, f := range files {
		var k int64
		if _, err := fmt.Sscanf(f.Name(), "%d_", &k); err == nil && k > n {
			n = k
		}
	}
	return n
}

// opened refuses a database into which a backup is being put, and opens one that a restore had closed without an end.
func opened(ctx context.Context, db *gorm.DB) error {
	pool, err := db.DB()
	if err != nil {
		return err
	}
	names, err := Tables(ctx, pool)
	if err != nil {
		return err
	}
	for _, name := range names {
		if name == restoring {
			return errors.New("store: a backup was being put into this database and did not end; open the record that was there " +
				"before, or put the backup back again")
		}
	}
	if err := db.WithContext(ctx).Exec("DROP TRIGGER IF EXISTS " + closed).Error; err != nil {
		return fmt.Errorf("store: %w", err)
	}
	return nil
}

// OpenRecord opens the record of a data source name and brings it up to this program. What changes the schema is asked
// with the rights of owner, the rest with those of dsn, which may be fewer; opened is the name of what was opened.
func OpenRecord(ctx context.Context, dsn, owner string) (db *gorm.DB, open string, err error) {
	if owner == "" {
		owner = dsn
	}
	if db, err = Open(ctx, owner); err != nil { // which makes the database
		return nil, "", err
	}
	closeDB(db)
	migrated, err := Resolve(ctx, owner)
	if err != nil {
		return nil, "", err
	}
	if db, err = Open(ctx, migrated); err != nil {
		return nil, "", err
	}
	err = opened(ctx, db)
	if err == nil {
		err = Migrate(ctx, db)
	}
	if err != nil || owner == dsn {
		if err != nil {
			closeDB(db)
		}
		return db, migrated, err
	}
	closeDB(db)
	if open, err = Resolve(ctx, dsn); err != nil {
		return nil, "", err
	}
	db, err = Open(ctx, open)
	return db, open, err
}

func closeDB(db *gorm.DB) {
	if pool, err := db.DB(); err == nil {
		pool.Close()
	}
}
