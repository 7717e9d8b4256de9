package store

import (
	"context"
	"crypto/rand"
	"time"

	"gorm.io/gorm"
)

// Allow takes one of the tries of a bucket: burst of them at once, then one every so often, over all programs on this
// database. It is the generic cell rate algorithm (ITU-T I.371, from memory): the row keeps when the bucket is full
// again.
func Allow(ctx context.Context, db *gorm.DB, bucket uint32, every time.Duration, burst int, now time.Time) (ok bool,
	err error) {
	now = now.UTC()
	for range 4 {
		err = Within(ctx, db, func(tx *gorm.DB) error {
			ok = false
			if err := tx.Exec("INSERT INTO sign_in_tries (bucket, due_at) VALUES (?, ?) ON DUPLICATE KEY UPDATE bucket = bucket",
				bucket, now).Error; err != nil {
				return err
			}
			var row struct{ DueAt time.Time }
			if err := tx.Raw("SELECT due_at FROM sign_in_tries WHERE bucket = ? FOR UPDATE",
				bucket).Scan(&row).Error; err != nil {
				return err
			}
			if row.DueAt.Sub(now) > time.Duration(burst-1)*every {
				return nil
			}
			ok = true
			due := now
			if row.DueAt.After(now) {
				due = row.DueAt
			}
			return tx.Exec("UPDATE sign_in_tries SET due_at = ? WHERE bucket = ?", due.Add(every), bucket).Error
		})
		if !Retriable(err) {
			break
		}
	}
	return ok, err
}

// Secret is 32 random bytes under a name, the same for all programs on this database.
func Secret(ctx context.Context, db *gorm.DB, name string) ([]byte, error) {
	value := make([]byte, 32)
	_, _ = rand.Read(value)
	db = db.WithContext(ctx)
	if err := db.Exec("INSERT INTO secrets (name, value) VALUES (?, ?) ON DUPLICATE KEY UPDATE name = name", name,
		value).Error; err != nil {
		return nil, err
	}
	var row struct{ Value []byte }
	err := db.Raw("SELECT value FROM secrets WHERE name = ?", name).Scan(&row).Error
	return row.Value, err
}
