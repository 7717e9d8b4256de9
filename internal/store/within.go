package store

import (
	"context"
	"database/sql"
	"errors"
	"sync"

	"gorm.io/gorm"
)

// Within runs work in one transaction. After the first error of a statement no further one reaches the database, and
// the transaction ends refused even where work passes over the error: a server that gave a transaction up has rolled
// it back already, and whatever ran on would be committed by itself.
func Within(ctx context.Context, db *gorm.DB, work func(*gorm.DB) error) error {
	return db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		g := &guarded{ConnPool: tx.Statement.ConnPool}
		tx.Statement.ConnPool = g
		if err := work(tx); err != nil {
			return err
		}
		return g.first()
	})
}

// guarded is the connection of one transaction; err is the first error of its statements.
type guarded struct {
	gorm.ConnPool
	mu  sync.Mutex
	err error
}

func (g *guarded) first() error {
	g.mu.Lock()
	defer g.mu.Unlock()
	return g.err
}

// note keeps the first error; a row that is not there is none.
func (g *guarded) note(err error) {
	if err == nil || errors.Is(err, sql.ErrNoRows) || errors.Is(err, gorm.ErrRecordNotFound) {
		return
	}
	g.mu.Lock()
	defer g.mu.Unlock()
	if g.err == nil {
		g.err = err
	}
}

// PrepareContext is that of the connection.
func (g *guarded) PrepareContext(ctx context.Context, query string) (*sql.Stmt, error) {
	if err := g.first(); err != nil {
		return nil, err
	}
	s, err := g.ConnPool.PrepareContext(ctx, query)
	g.note(err)
	return s, err
}

// ExecContext is that of the connection.
func (g *guarded) ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error) {
	if err := g.first(); err != nil {
		return nil, err
	}
	r, err := g.ConnPool.ExecContext(ctx, query, args...)
	g.note(err)
	return r, err
}

// QueryContext is that of the connection.
func (g *guarded) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	if err := g.first(); err != nil {
		return nil, err
	}
	r, err := g.ConnPool.QueryContext(ctx, query, args...)
	g.note(err)
	return r, err
}

// QueryRowContext is that of the connection; its error is in the row, and noted by [watch].
func (g *guarded) QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row {
	if g.first() != nil {
		ended, cancel := context.WithCancel(ctx)
		cancel()
		return g.ConnPool.QueryRowContext(ended, query, args...)
	}
	return g.ConnPool.QueryRowContext(ctx, query, args...)
}

// Commit ends the transaction; not where a statement failed.
func (g *guarded) Commit() error {
	if err := g.first(); err != nil {
		return errors.Join(err, g.Rollback())
	}
	return g.ConnPool.(gorm.TxCommitter).Commit()
}

// Rollback takes the transaction back.
func (g *guarded) Rollback() error { return g.ConnPool.(gorm.TxCommitter).Rollback() }

// watch notes the errors that show only while rows are read: a deadlock of a locking read.
func watch(db *gorm.DB) error {
	note := func(db *gorm.DB) {
		if g, ok := db.Statement.ConnPool.(*guarded); ok {
			g.note(db.Error)
		}
	}
	if err := db.Callback().Query().Register("waryowl:first_error", note); err != nil {
		return err
	}
	return db.Callback().Row().Register("waryowl:first_error", note)
}
