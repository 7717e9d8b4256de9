package act

import (
	"context"

	"waryowl/internal/store"
)

// Change is the usual update of one row.
func Change[T any, E store.Entity[T]](ctx context.Context, s *Service, c Command, id string, saw int,
	work func(*store.Tx, E) error) (T, error) {
	return Do(ctx, s, c, 200, func(tx *store.Tx) (T, error) {
		row, err := store.Update(tx, id, saw, func(e E) error { return work(tx, e) })
		if err != nil {
			var none T
			return none, err
		}
		return *row, nil
	})
}

// Delete takes a row away softly; then runs in the same transaction.
func Delete[T any, E store.Entity[T]](ctx context.Context, s *Service, c Command, id string, saw int,
	then func(*store.Tx, E) error) (T, error) {
	return oneRow(ctx, s, c, func(tx *store.Tx) (E, error) { return store.Delete[T, E](tx, id, saw) }, then)
}

// Restore brings a deleted row back; then runs in the same transaction.
func Restore[T any, E store.Entity[T]](ctx context.Context, s *Service, c Command, id string, saw int,
	then func(*store.Tx, E) error) (T, error) {
	return oneRow(ctx, s, c, func(tx *store.Tx) (E, error) { return store.Restore[T, E](tx, id, saw) }, then)
}

func oneRow[T any, E store.Entity[T]](ctx context.Context, s *Service, c Command, work func(*store.Tx) (E, error),
	then func(*store.Tx, E) error) (T, error) {
	return Do(ctx, s, c, 200, func(tx *store.Tx) (T, error) {
		var none T
		row, err := work(tx)
		if err != nil {
			return none, err
		}
		if then != nil {
			if err := then(tx, row); err != nil {
				return none, err
			}
		}
		return *row, nil
	})
}
