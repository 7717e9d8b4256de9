package store

import (
	"context"
	"fmt"

	"gorm.io/gorm"
)

// works are the kinds of row that are somebody's own work: what was seen and said at the bench.
var works = map[string]bool{"LogEntry": true, "Trial": true, "SwapAct": true, "Closing": true, "Outcome": true,
	"FactSaying": true, "ScoreMark": true, "Photo": true}

// Another says that a row is somebody else's work.
type Another struct{ Author string }

func (a *Another) Error() string { return "this is the work of " + a.Author }

// kind is the kind of row of an entity, as the trail names it.
func kind(entity any) string { return fmt.Sprintf("%T", entity)[len("*store."):] }

// author is whose work a row is, "" where it is nobody's or one's own; *Another where it may not be changed.
func (tx *Tx) author(entity any, id string) (string, error) {
	if !works[kind(entity)] || tx.Account == "" {
		return "", nil
	}
	var made []struct{ AccountID, Display string }
	if err := tx.DB.Raw("SELECT l.account_id, a.display FROM audit_lines l JOIN accounts a ON a.id = l.account_id "+
		"WHERE l.row_id = ? AND l.verb = 'create' LIMIT 1", id).Scan(&made).Error; err != nil {
		return "", err
	}
	switch {
	case len(made) == 0 || made[0].AccountID == tx.Account:
		return "", nil
	case tx.Own:
		return "", &Another{made[0].Display}
	}
	return made[0].AccountID, nil
}

// tell notes for an author that somebody else changed their work in the line written last.
func (tx *Tx) tell(author string) error {
	if author == "" {
		return nil
	}
	return tx.DB.Exec("INSERT INTO told (account_id, line_id) VALUES (?, ?)", author, tx.line).Error
}

// Told are the numbers of the lines in which others changed somebody's work, the newest first; unseen says how many of
// them are new.
func Told(ctx context.Context, db *gorm.DB, account string, most int) (lines []uint64, unseen int64, err error) {
	db = db.WithContext(ctx)
	if err = db.Raw("SELECT COUNT(*) FROM told WHERE account_id = ? AND seen = 0", account).Scan(&unseen).Error; err != nil ||
		most == 0 {
		return nil, unseen, err
	}
	err = db.Raw("SELECT line_id FROM told WHERE account_id = ? ORDER BY line_id DESC LIMIT ?", account, most).
		Scan(&lines).Error
	return lines, unseen, err
}

// Saw marks what somebody was told as seen, up to a line.
func Saw(ctx context.Context, db *gorm.DB, account string, line uint64) error {
	return db.WithContext(ctx).
		Exec("UPDATE told SET seen = 1 WHERE account_id = ? AND line_id <= ? AND seen = 0", account,
			line).
		Error
}
