// Package store keeps the facts in MariaDB through GORM: entities, versions, soft deletes, the audit trail and the
// answers of commands that were already carried out. It knows no rule of the job.
package store

import (
	"cmp"
	"encoding/json"
	"errors"
	"regexp"
	"strings"
	"time"

	"github.com/go-sql-driver/mysql"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Row is what every entity has: an id (UUIDv7, from the client or from Go), a version from 1 up by 1, and a soft
// delete.
type Row struct {
	ID        string         `json:"id" gorm:"primaryKey" format:"uuid"`
	Version   int            `json:"version"`
	CreatedAt time.Time      `json:"-"`
	UpdatedAt time.Time      `json:"-"`
	DeletedAt gorm.DeletedAt `json:"-"`
}

func (r *Row) row() *Row { return r }

// Entity is a pointer to a struct that embeds Row.
type Entity[T any] interface {
	*T
	row() *Row
}

// ErrNotFound says that there is no such row, or that it is deleted.
var ErrNotFound = errors.New("not found")

// Stale is the answer to an update that names an older version. Current is the row as it is now.
type Stale struct{ Current any }

func (s *Stale) Error() string { return "somebody changed this in the meantime" }

// Taken says that a new row would repeat what must be there once: its id, or the value of the named unique key.
type Taken struct{ Key, Value string }

func (t *Taken) Error() string { return t.Key + " " + t.Value + " is in use" }

// uniqueKeys names the unique keys of the schema in words of the interface.
var uniqueKeys = map[string]string{"PRIMARY": "id", "accounts_name": "name", "checks_mark": "mark",
	"baselines_cell": "baseline of unit and check", "closings_unit": "closing of unit"}

// taken turns a duplicate of a unique key into *Taken with the key that clashed.
func taken(err error) error {
	var e *mysql.MySQLError
	if !errors.As(err, &e) || e.Number != 1062 {
		return err
	}
	m := duplicate.FindStringSubmatch(e.Message)
	if m == nil {
		return err
	}
	key := m[2][strings.LastIndex(m[2], ".")+1:]
	return &Taken{cmp.Or(uniqueKeys[key], key), m[1]}
}

var duplicate = regexp.MustCompile(`^Duplicate entry '(.*)' for key '(.*)'$`)

// Tx is one transaction with the account that acts in it.
type Tx struct {
	*gorm.DB
	Account  string
	Token    string // by which another program acts for the account
	Own      bool   // it may change only what the account made itself, where that is somebody's work
	Happened time.Time
	Arrived  time.Time

	touched map[string]bool   // models whose revision this transaction counted
	owners  map[string]string // models of studies and units that were asked for
	line    uint64            // number of the line of the trail that was written last
}

// NewID is a fresh UUIDv7.
func NewID() string { return uuid.Must(uuid.NewV7()).String() }

// Get reads one row that is not deleted.
func Get[T any, E Entity[T]](db *gorm.DB, id string) (E, error) {
	row := E(new(T))
	err := db.First(row, "id = ?", id).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, ErrNotFound
	}
	return row, err
}

// Lock holds a row until the end of the transaction, so that changes under it follow each other. It must come before
// the first plain read, which fixes what the transaction sees.
func Lock[T any, E Entity[T]](tx *Tx, id string) (E, error) {
	row := E(new(T))
	err := tx.DB.Clauses(forUpdate).First(row, "id = ?", id).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, ErrNotFound
	}
	return row, err
}

// List reads all rows that match, in the order of order.
func List[T any](db *gorm.DB, order, where string, args ...any) ([]T, error) {
	rows := []T{}
	err := db.Where(where, args...).Order(order).Find(&rows).Error
	return rows, err
}

// Create adds a row at version 1 and its audit line. An empty id is filled in.
func Create[T any, E Entity[T]](tx *Tx, row E) error {
	r := row.row()
	if r.ID == "" {
		r.ID = NewID()
	}
	r.Version = 1
	if err := tx.DB.Create(row).Error; err != nil {
		return taken(err)
	}
	return tx.audit("create", row, r.ID, nil, row)
}

// Update lets change work on the row that the caller saw at version saw, and stores it one version up with an audit
// line. It returns *Stale when the row has moved on.
func Update[T any, E Entity[T]](tx *Tx, id string, saw int, change func(E) error) (E, error) {
	return write(tx, "update", id, saw, false, change)
}

// Delete marks the row as deleted, which is a version of its own.
func Delete[T any, E Entity[T]](tx *Tx, id string, saw int) (E, error) {
	return write(tx, "delete", id, saw, false, func(e E) error {
		e.row().DeletedAt = gorm.DeletedAt{Time: tx.Arrived, Valid: true}
		return nil
	})
}

// Restore takes a delete back, which is again a version of its own.
func Restore[T any, E Entity[T]](tx *Tx, id string, saw int) (E, error) {
	return write(tx, "restore", id, saw, true, func(e E) error {
		e.row().DeletedAt = gorm.DeletedAt{}
		return nil
	})
}

func write[T any, E Entity[T]](tx *Tx, verb, id string, saw int, deleted bool, change func(E) error) (E, error) {
	db := tx.DB
	if deleted {
		db = db.Unscoped()
	}
	row := E(new(T))
	err := db.Clauses(forUpdate).First(row, "id = ?", id).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, err
	}
	r := row.row()
	if r.Version != saw {
		return nil, &Stale{row}
	}
	author, err := tx.author(row, id)
	if err != nil {
		return nil, err
	}
	before, err := json.Marshal(public(row))
	if err != nil {
		return nil, err
	}
	if err := change(row); err != nil {
		return nil, err
	}
	r.ID, r.Version = id, saw+1
	if err := tx.DB.Unscoped().Select("*").Omit("created_at").Updates(row).Error; err != nil {
		return nil, taken(err)
	}
	if err := tx.audit(verb, row, id, before, row); err != nil {
		return nil, err
	}
	return row, tx.tell(author)
}

// AuditLine is one line of the append-only trail.
type AuditLine struct {
	ID                             uint64
	AccountID, Verb, Entity, RowID string
	Token                          string
	HappenedAt, ArrivedAt          time.Time
	BeforeState, AfterState        *string
}

// public is what the trail keeps of a row: all of it, but of rows with words about people only that they were written.
func public(row any) any {
	if p, is := row.(interface{ Public() any }); is {
		return p.Public()
	}
	return row
}

func (tx *Tx) audit(verb string, entity any, id string, before []byte, after any) error {
	line := AuditLine{AccountID: tx.Account, Token: tx.Token, Verb: verb, Entity: kind(entity), RowID: id,
		HappenedAt: tx.Happened, ArrivedAt: tx.Arrived}
	if before != nil {
		text := string(before)
		line.BeforeState = &text
	}
	state, err := json.Marshal(public(after))
	if err != nil {
		return err
	}
	text := string(state)
	line.AfterState = &text
	if err := tx.DB.Create(&line).Error; err != nil {
		return err
	}
	tx.line = line.ID
	if err := tx.findable(after); err != nil {
		return err
	}
	return tx.touch(after)
}

// Authors are the names of those who made rows, by row.
func Authors(db *gorm.DB, ids []string) (map[string]string, error) {
	out := map[string]string{}
	if len(ids) == 0 {
		return out, nil
	}
	var rows []struct{ RowID, Display string }
	err := db.Raw("SELECT l.row_id, a.display FROM audit_lines l JOIN accounts a ON a.id = l.account_id "+
		"WHERE l.row_id IN ? AND l.verb = 'create'", ids).Scan(&rows).Error
	for _, r := range rows {
		out[r.RowID] = r.Display
	}
	return out, err
}
