package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"strings"
	"time"

	"github.com/go-sql-driver/mysql"
	"github.com/pressly/goose/v3"
	gormmysql "gorm.io/driver/mysql"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
	"gorm.io/gorm/logger"
)

//go:embed migrations/*.sql
var migrations embed.FS

var forUpdate = clause.Locking{Strength: "UPDATE"}

// Open connects to the database of the data source name, making the database itself when it is missing.
func Open(ctx context.Context, dsn string) (*gorm.DB, error) {
	c, err := mysql.ParseDSN(dsn)
	if err != nil {
		return nil, fmt.Errorf("store: the data source name is not valid: %w", err)
	}
	if c.DBName == "" {
		return nil, errors.New("store: the data source name holds no database")
	}
	c.ParseTime, c.Loc, c.ClientFoundRows = true, time.UTC, true
	if err := ensureDatabase(ctx, *c); err != nil {
		return nil, err
	}
	connections, err := pool(c)
	if err != nil {
		return nil, err
	}
	connections.SetMaxOpenConns(40)
	connections.SetMaxIdleConns(idle)
	db, err := gorm.Open(gormmysql.New(gormmysql.Config{Conn: connections}),
		&gorm.Config{Logger: logger.Discard, SkipDefaultTransaction: true})
	if err != nil {
		return nil, fmt.Errorf("store: cannot reach the database: %w", errors.Join(err, connections.Close()))
	}
	return db, watch(db)
}

func ensureDatabase(ctx context.Context, c mysql.Config) error {
	name := c.DBName
	c.DBName = ""
	db, err := pool(&c)
	if err != nil {
		return err
	}
	defer db.Close()
	var there int // who may not make one may still use it
	if err := db.QueryRowContext(ctx, "SELECT COUNT(*) FROM information_schema.schemata WHERE schema_name = ?",
		name).Scan(&there); err == nil && there > 0 {
		return nil
	}
	if _, err := db.ExecContext(ctx,
		"CREATE DATABASE IF NOT EXISTS `"+name+"` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci"); err != nil {
		return fmt.Errorf("store: cannot make the database %s: %w", name, err)
	}
	return nil
}

// Migrate brings the schema up to this program, one statement per migration, under a named lock. Data of a newer schema
// is refused.
func Migrate(ctx context.Context, db *gorm.DB) error { return MigrateTo(ctx, db, 0) }

// MigrateTo is [Migrate] up to a schema only, where an older record is to be put in; 0: the newest.
func MigrateTo(ctx context.Context, db *gorm.DB, schema int64) error {
	pool, err := db.DB()
	if err != nil {
		return err
	}
	conn, err := pool.Conn(ctx)
	if err != nil {
		return err
	}
	defer conn.Close()
	var got sql.NullInt64
	if err := conn.QueryRowContext(ctx,
		"SELECT GET_LOCK(CONCAT('waryowl.', DATABASE()), 60)").Scan(&got); err != nil || got.Int64 != 1 {
		return fmt.Errorf("store: another program migrates this database: %w", err)
	}
	defer conn.ExecContext(ctx, "SELECT RELEASE_LOCK(CONCAT('waryowl.', DATABASE()))")
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	p, err := goose.NewProvider(goose.DialectMySQL, pool, files)
	if err != nil {
		return err
	}
	have, want, err := p.GetVersions(ctx)
	if err != nil {
		return err
	}
	if have > want {
		return fmt.Errorf("store: the data is of schema %d, this program knows %d; start the newer program", have, want)
	}
	if schema > want {
		return fmt.Errorf("store: the data is of schema %d, this program knows %d; start the newer program", schema, want)
	}
	if schema > 0 {
		_, err = p.UpTo(ctx, schema)
	} else {
		_, err = p.Up(ctx)
	}
	return err
}

// Retriable says whether the transaction was given up for another one, here or on another server of a cluster, and may
// simply be run again.
func Retriable(err error) bool {
	var e *mysql.MySQLError
	return errors.As(err, &e) && (e.Number == 1205 || e.Number == 1213)
}

// Apart says that the database server has lost its cluster (ER_UNKNOWN_COM_ERROR, "WSREP has not yet prepared node").
func Apart(err error) bool {
	var e *mysql.MySQLError
	return errors.Is(err, errApart) || errors.As(err, &e) && e.Number == 1047
}

// Leave closes the connections that nobody uses, so that new ones go to a server that is there.
func Leave(db *gorm.DB) {
	if connections, err := db.DB(); err == nil {
		connections.SetMaxIdleConns(0)
		connections.SetMaxIdleConns(idle)
	}
}

const idle = 20 // connections that wait for use

// Full says that the database found no room on its disk: ER_DISK_FULL, ER_RECORD_FILE_FULL, ER_ERROR_ON_WRITE, or the
// system's error 28 out of a storage engine.
func Full(err error) bool {
	var e *mysql.MySQLError
	return errors.As(err, &e) && (e.Number == 1021 || e.Number == 1114 || e.Number == 1026 ||
		e.Number == 1030 && strings.Contains(e.Message, "error 28"))
}

// Command is the stored answer of a change, under its idempotency key.
type Command struct {
	ID, AccountID, BodyHash string
	Status                  int
	Answer                  string
	CreatedAt               time.Time
}

// Claim takes the key for this transaction. When an earlier command has it, that command is returned; when another
// transaction is using it right now, Claim waits for its end.
func (tx *Tx) Claim(c Command) (earlier *Command, err error) {
	c.CreatedAt = tx.Arrived
	// ON DUPLICATE KEY UPDATE locks the row for us alone; INSERT IGNORE would share it, and two repeats would deadlock.
	same := clause.OnConflict{DoUpdates: clause.Assignments(map[string]any{"id": c.ID})}
	if err := tx.DB.Clauses(same).Create(&c).Error; err != nil {
		return nil, err
	}
	var row Command
	if err := tx.DB.Clauses(forUpdate).First(&row, "id = ?", c.ID).Error; err != nil {
		return nil, err
	}
	if row.Status == 0 && row.BodyHash == c.BodyHash && row.AccountID == c.AccountID {
		return nil, nil
	}
	return &row, nil
}

// Settle stores the answer under the key.
func (tx *Tx) Settle(key string, status int, answer []byte) error {
	return tx.DB.Model(&Command{}).Where("id = ?", key).Updates(map[string]any{"status": status,
		"answer": string(answer)}).Error
}
