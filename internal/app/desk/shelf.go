package desk

import (
	"errors"

	"waryowl/internal/store"
)

// TakePiece takes one piece of a slot off the shelf: the one whose day comes first, never from quarantine or past its
// day. It returns an empty shelf where none lies there: the piece was bought for the job.
func TakePiece(tx *store.Tx, modelID, slot string) (store.Shelf, error) {
	rows, err := store.List[store.Shelf](tx.DB.Limit(1), "best_before IS NULL, best_before, created_at, id",
		"for_model_id = ? AND item = ? AND quarantine = '' AND quantity > 0 AND (best_before IS NULL OR best_before > ?)",
		modelID, slot, tx.Arrived)
	if err != nil || len(rows) == 0 {
		return store.Shelf{}, err
	}
	row, err := store.Update(tx, rows[0].ID, rows[0].Version, func(s *store.Shelf) error {
		s.Quantity--
		s.Reserved = max(0, min(s.Reserved, s.Quantity))
		return nil
	})
	if err != nil {
		return store.Shelf{}, err
	}
	return *row, nil
}

// LayBack puts pieces back on the shelf that they came from, or takes them again where pieces is negative; a shelf
// that was cleared meanwhile stays so.
func LayBack(tx *store.Tx, shelfID string, pieces int) error {
	if shelfID == "" {
		return nil
	}
	shelf, err := store.Get[store.Shelf](tx.DB, shelfID)
	if errors.Is(err, store.ErrNotFound) || err == nil && shelf.Quantity+pieces < 0 {
		return nil
	}
	if err != nil {
		return err
	}
	_, err = store.Update(tx, shelf.ID, shelf.Version, func(s *store.Shelf) error {
		s.Quantity += pieces
		s.Reserved = min(s.Reserved, s.Quantity)
		return nil
	})
	return err
}
