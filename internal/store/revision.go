package store

import (
	"context"
	"reflect"

	"gorm.io/gorm"
)

// ofModel finds the model that a row belongs to, by its fields: "" for rows of none. What belongs to a deleted study
// cannot be changed: ErrNotFound.
func (tx *Tx) ofModel(entity any) (string, error) {
	if m, ok := entity.(*Model); ok {
		return m.ID, nil
	}
	if own, ok := entity.(interface{ Apart() string }); ok { // nothing that is kept of a model was worked out of it
		return own.Apart(), nil
	}
	v := reflect.Indirect(reflect.ValueOf(entity))
	field := func(name string) string {
		if f := v.FieldByName(name); f.IsValid() && f.Kind() == reflect.String {
			return f.String()
		}
		return ""
	}
	if id := field("ModelID"); id != "" {
		return id, nil
	}
	switch study, unit := field("StudyID"), field("UnitID"); {
	case study != "":
		return tx.owner("study ", "SELECT model_id, deleted_at IS NOT NULL AS deleted FROM studies WHERE id = ?", study)
	case unit != "":
		return tx.owner("unit ", "SELECT s.model_id, s.deleted_at IS NOT NULL AS deleted FROM units u "+
			"JOIN studies s ON s.id = u.study_id WHERE u.id = ?", unit)
	}
	return "", nil
}

// touch counts a change of the model that a row belongs to, once in a transaction.
func (tx *Tx) touch(entity any) error {
	id, err := tx.ofModel(entity)
	if err != nil || tx.touched[id] {
		return err
	}
	if tx.touched == nil {
		tx.touched = map[string]bool{}
	}
	tx.touched[id] = true
	return Touch(tx.DB, id)
}

// Touch counts a change of a model, or of what belongs to none.
func Touch(db *gorm.DB, model string) error {
	return db.Exec("INSERT INTO revisions (id, n) VALUES (?, 1) ON DUPLICATE KEY UPDATE n = n + 1", model).Error
}

// Alone holds a name until the end of the transaction: of those that ask for it one works at a time. It must come
// before the first plain read, which fixes what the transaction sees.
func (tx *Tx) Alone(name string) error { return Touch(tx.DB, name) }

// ModelRevision says how often a model, its predecessor, or what belongs to no model was changed.
func ModelRevision(ctx context.Context, db *gorm.DB, model string) (int64, error) {
	var n int64
	err := db.WithContext(ctx).Raw(`SELECT COALESCE(SUM(r.n), 0) FROM revisions r WHERE r.id IN (SELECT '' UNION SELECT ?
		UNION SELECT p.id FROM models m JOIN models p ON p.maker = m.maker AND p.name = TRIM(m.predecessor)
		WHERE m.id = ? AND m.predecessor <> '')`, model, model).Scan(&n).Error
	return n, err
}

// StudyRevision is the [ModelRevision] of a study's model.
func StudyRevision(ctx context.Context, db *gorm.DB, study string) (int64, error) {
	var model []string
	if err := db.WithContext(ctx).Raw("SELECT model_id FROM studies WHERE id = ?", study).Scan(&model).Error; err != nil ||
		len(model) == 0 {
		return 0, err
	}
	return ModelRevision(ctx, db, model[0])
}

// Revision says how often anything was changed.
func Revision(ctx context.Context, db *gorm.DB) (int64, error) {
	var n int64
	err := db.WithContext(ctx).Raw("SELECT COALESCE(SUM(n), 0) FROM revisions").Scan(&n).Error
	return n, err
}
