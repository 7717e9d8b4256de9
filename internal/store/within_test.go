package store

import (
	"context"
	"errors"
	"sync"
	"testing"

	"gorm.io/gorm"

	"waryowl/internal/mariadb/mariadbtest"
)

// TestNothingIsCommittedAfterAnError: work that passes over a statement's error, a key that is taken or a deadlock
// after which the server has rolled back already, writes nothing more and is told to have failed.
func TestNothingIsCommittedAfterAnError(t *testing.T) {
	ctx := context.Background()
	db, err := Open(ctx, mariadbtest.Database(t))
	if err != nil {
		t.Fatal(err)
	}
	pool, _ := db.DB()
	defer pool.Close()
	for _, q := range []string{"CREATE TABLE a (id INT PRIMARY KEY, n INT NOT NULL)",
		"INSERT INTO a VALUES (1, 0), (2, 0)"} {
		if err := db.Exec(q).Error; err != nil {
			t.Fatal(err)
		}
	}
	count := func() (n int64) {
		db.Raw("SELECT COUNT(*) FROM a WHERE id > 2").Scan(&n)
		return n
	}
	if err := Within(ctx, db, func(tx *gorm.DB) error {
		_ = tx.Exec("INSERT INTO a VALUES (1, 1)").Error
		_ = tx.Exec("INSERT INTO a VALUES (3, 1)").Error
		return nil
	}); err == nil || count() != 0 {
		t.Errorf("a taken key was passed over: %v, %d rows", err, count())
	}
	if err := Within(ctx, db, func(tx *gorm.DB) error {
		var n int
		if err := tx.Raw("SELECT n FROM a WHERE id = 77").Row().Scan(&n); err == nil {
			return errors.New("row 77 is there")
		}
		return tx.Exec("INSERT INTO a VALUES (4, 1)").Error
	}); err != nil || count() != 1 {
		t.Errorf("a row that is not there is no error: %v, %d rows", err, count())
	}
	db.Exec("DELETE FROM a WHERE id > 2")
	// Two transactions, each waiting for the other's row: the server gives one of them up.
	var held, done sync.WaitGroup
	var failed [2]error
	held.Add(2)
	for k := range 2 {
		done.Go(func() {
			failed[k] = Within(ctx, db, func(tx *gorm.DB) error {
				var rows []struct{ ID int }
				_ = tx.Raw("SELECT id FROM a WHERE id = ? FOR UPDATE", 1+k).Scan(&rows).Error
				held.Done()
				held.Wait()
				_ = tx.Raw("SELECT id FROM a WHERE id = ? FOR UPDATE", 2-k).Scan(&rows).Error
				_ = tx.Exec("INSERT INTO a VALUES (?, 1)", 10+k).Error
				return nil
			})
		})
	}
	done.Wait()
	lost := 0
	for _, err := range failed {
		if Retriable(err) {
			lost++
		} else if err != nil {
			t.Error(err)
		}
	}
	if lost != 1 || count() != 1 {
		t.Errorf("%d of two transactions were given up, %d rows", lost, count())
	}
}
