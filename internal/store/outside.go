package store

import (
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// OutsideCall is a question to a service outside the house, under the idempotency key of the change that asks: on
// record before it is sent, with its answer as soon as that came. SubjectID is the row that it is about.
type OutsideCall struct {
	ID, AccountID, BodyHash, Service, SubjectID string
	Question                                    string
	Answer                                      *string
	AskedAt                                     time.Time
	AnsweredAt                                  *time.Time
}

// BeginCall records a question, or returns the earlier one of the same key.
func BeginCall(db *gorm.DB, c OutsideCall) (OutsideCall, error) {
	if err := db.Clauses(clause.OnConflict{DoNothing: true}).Create(&c).Error; err != nil {
		return c, err
	}
	if err := Touch(db, ""); err != nil {
		return c, err
	}
	err := db.First(&c, "id = ?", c.ID).Error
	return c, err
}

// SettleCall stores the answer of a question; the first answer stays.
func SettleCall(db *gorm.DB, id, answer string, at time.Time) error {
	err := db.Model(&OutsideCall{}).Where("id = ? AND answer IS NULL",
		id).Updates(map[string]any{"answer": answer, "answered_at": at}).Error
	if err != nil {
		return err
	}
	return Touch(db, "")
}

// OpenCalls lists the questions about a row whose answer never came, the oldest first.
func OpenCalls(db *gorm.DB, subject string) ([]OutsideCall, error) {
	return List[OutsideCall](db, "asked_at", "subject_id = ? AND answer IS NULL", subject)
}

// DropCall takes a question off the record that never reached its service.
func DropCall(db *gorm.DB, id string) error {
	if err := db.Delete(&OutsideCall{}, "id = ? AND answer IS NULL", id).Error; err != nil {
		return err
	}
	return Touch(db, "")
}
