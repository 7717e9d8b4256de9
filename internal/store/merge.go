package store

import (
	"encoding/json"
	"reflect"
)

// Changed is a row as it was before a merge, and its version after it.
type Changed struct {
	Entity  string          `json:"entity"`
	ID      string          `json:"id"`
	Version int             `json:"version"`
	Before  json.RawMessage `json:"before,omitempty"`
	Deleted bool            `json:"deleted,omitempty"`
}

// Merge is two records made one: what was changed for it, so that it can be taken back.
type Merge struct {
	Row
	ModelID string    `json:"model_id"`
	Kind    string    `json:"kind"`
	FromID  string    `json:"from_id"`
	IntoID  string    `json:"into_id"`
	Changes []Changed `json:"-" gorm:"serializer:json"`
	Undone  bool      `json:"undone"`
}

// Rewrite changes every row that matches and that change says it changed, and keeps how they were in the merge.
func Rewrite[T any, E Entity[T]](tx *Tx, m *Merge, change func(E) bool, where string, args ...any) error {
	rows, err := List[T](tx.DB, "id", where, args...)
	if err != nil {
		return err
	}
	for i := range rows {
		e := E(&rows[i])
		before, err := json.Marshal(e)
		if err != nil {
			return err
		}
		r := *e.row()
		trial := E(new(T))
		*trial = rows[i]
		if !change(trial) {
			continue
		}
		done, err := Update(tx, r.ID, r.Version, func(row E) error { change(row); return nil })
		if err != nil {
			return err
		}
		m.Changes = append(m.Changes, Changed{Entity: entity(e), ID: r.ID, Version: done.row().Version, Before: before})
	}
	return nil
}

// Drop deletes a row for a merge.
func Drop[T any, E Entity[T]](tx *Tx, m *Merge, id string, version int) error {
	row, err := Delete[T, E](tx, id, version)
	if err != nil {
		return err
	}
	m.Changes = append(m.Changes, Changed{Entity: entity(row), ID: id, Version: row.row().Version, Deleted: true})
	return nil
}

func entity(e any) string { return reflect.TypeOf(e).Elem().Name() }

// Revert brings the rows of one kind back as they were before the merge; a row that somebody changed since is *Stale.
func Revert[T any, E Entity[T]](tx *Tx, m *Merge) error {
	name := entity(E(new(T)))
	type state struct {
		before  json.RawMessage
		version int
		deleted bool
	}
	var ids []string
	rows := map[string]*state{}
	for _, c := range m.Changes {
		if c.Entity != name {
			continue
		}
		r := rows[c.ID]
		if r == nil {
			r = &state{before: c.Before}
			rows[c.ID] = r
			ids = append(ids, c.ID)
		}
		r.version, r.deleted = c.Version, r.deleted || c.Deleted
	}
	for _, id := range ids {
		r := rows[id]
		if r.deleted {
			if _, err := Restore[T, E](tx, id, r.version); err != nil {
				return err
			}
			r.version++
		}
		if len(r.before) == 0 {
			continue
		}
		if _, err := Update(tx, id, r.version, func(e E) error { return json.Unmarshal(r.before, blank(e)) }); err != nil {
			return err
		}
	}
	return nil
}

// blank empties what the JSON of a row holds, since what is empty there is left out; the rest stays.
func blank(e any) any {
	v := reflect.ValueOf(e).Elem()
	for i := range v.NumField() {
		f := v.Type().Field(i)
		if f.Name == "Row" || f.Tag.Get("json") == "-" || !f.IsExported() {
			continue
		}
		v.Field(i).SetZero()
	}
	return e
}
