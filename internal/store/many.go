package store

import (
	"encoding/json"
	"maps"
	"slices"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// What is written in one statement at most: rows, and bytes of their lines in the trail.
const (
	mostTogether = 200
	bytesAtOnce  = 2 << 20
)

// CreateAll adds rows as [Create] does, each with its line of the trail, but many in one statement.
func CreateAll[T any, E Entity[T]](tx *Tx, rows []T) error {
	models := map[string]bool{} // whose parts have to be found
	for first := 0; first < len(rows); {
		var lines []AuditLine
		n, size := 0, 0
		for ; first+n < len(rows) && n < mostTogether && size < bytesAtOnce; n++ {
			e := E(&rows[first+n])
			r := e.row()
			if r.ID == "" {
				r.ID = NewID()
			}
			r.Version = 1
			state, err := json.Marshal(public(e))
			if err != nil {
				return err
			}
			text := string(state)
			size += len(text)
			lines = append(lines, AuditLine{AccountID: tx.Account, Token: tx.Token, Verb: "create", Entity: kind(e), RowID: r.ID,
				HappenedAt: tx.Happened, ArrivedAt: tx.Arrived, AfterState: &text})
		}
		chunk := rows[first : first+n]
		if err := tx.DB.Create(&chunk).Error; err != nil {
			return taken(err)
		}
		if err := tx.DB.Create(&lines).Error; err != nil {
			return err
		}
		tx.line = lines[len(lines)-1].ID
		for i := range chunk {
			if p, is := any(&chunk[i]).(*Part); is {
				models[p.ModelID] = true
			}
			if err := tx.touch(&chunk[i]); err != nil {
				return err
			}
		}
		first += n
	}
	for id := range models {
		if err := FindableAgain(tx.DB, id); err != nil {
			return err
		}
	}
	return nil
}

// UpdateAll lets change work on many rows at the versions that the caller saw, as [Update] does with one, but many in one
// statement. Rows that somebody else changed or deleted since are left as they are; their ids are given back.
func UpdateAll[T any, E Entity[T]](tx *Tx, saw map[string]int, change func(E) error) (moved []string, err error) {
	return writeAll(tx, "update", saw, change)
}

// DeleteAll marks rows as deleted at the versions that the caller saw, as [UpdateAll] changes them.
func DeleteAll[T any, E Entity[T]](tx *Tx, saw map[string]int) (moved []string, err error) {
	return writeAll(tx, "delete", saw, func(e E) error {
		e.row().DeletedAt = gorm.DeletedAt{Time: tx.Arrived, Valid: true}
		return nil
	})
}

func writeAll[T any, E Entity[T]](tx *Tx, verb string, saw map[string]int, change func(E) error) (moved []string,
	err error) {
	for chunk := range slices.Chunk(slices.Sorted(maps.Keys(saw)), mostTogether) {
		var rows []T
		if err := tx.DB.Clauses(forUpdate).Where("id IN ?", chunk).Order("id").Find(&rows).Error; err != nil {
			return nil, err
		}
		kept := rows[:0]
		var lines []AuditLine
		for i := range rows {
			e := E(&rows[i])
			r := e.row()
			if r.Version != saw[r.ID] {
				continue
			}
			id := r.ID
			before, err := json.Marshal(public(e))
			if err != nil {
				return nil, err
			}
			if err := change(e); err != nil {
				return nil, err
			}
			r.ID, r.Version, r.UpdatedAt = id, r.Version+1, tx.Arrived
			after, err := json.Marshal(public(e))
			if err != nil {
				return nil, err
			}
			a, b := string(before), string(after)
			lines = append(lines, AuditLine{AccountID: tx.Account, Token: tx.Token, Verb: verb, Entity: kind(e), RowID: id,
				HappenedAt: tx.Happened, ArrivedAt: tx.Arrived, BeforeState: &a, AfterState: &b})
			kept = append(kept, rows[i])
		}
		for _, id := range chunk {
			if !slices.ContainsFunc(lines, func(l AuditLine) bool { return l.RowID == id }) {
				moved = append(moved, id)
			}
		}
		if len(kept) == 0 {
			continue
		}
		if err := tx.DB.Clauses(clause.OnConflict{UpdateAll: true}).Create(&kept).Error; err != nil {
			return nil, taken(err)
		}
		if err := tx.DB.Create(&lines).Error; err != nil {
			return nil, err
		}
		tx.line = lines[len(lines)-1].ID
		for i := range kept {
			if err := tx.touch(&kept[i]); err != nil {
				return nil, err
			}
		}
	}
	return moved, nil
}

// Offers reads offers, the newest first: thousands of them, so without what finds out the shape of a row each time.
func Offers(db *gorm.DB, most int, where string, args ...any) ([]Offer, error) {
	rows, err := db.Model(&Offer{}).Select("id", "version", "seller_id", "for_model_id", "title", "covers", "grade", "lot",
		"price_minor", "currency", "priced_on", "stock", "lead_days", "code").Where(where, args...).Order("id DESC").Limit(most).
		Rows()
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	list := []Offer{}
	for rows.Next() {
		var o Offer
		var covers []byte
		if err := rows.Scan(&o.ID, &o.Version, &o.SellerID, &o.ModelID, &o.Title, &covers, &o.Grade, &o.Lot, &o.Price,
			&o.Currency, &o.PricedOn, &o.Stock, &o.LeadDays, &o.Code); err != nil {
			return nil, err
		}
		if err := json.Unmarshal(covers, &o.Covers); err != nil && len(covers) > 0 {
			return nil, err
		}
		list = append(list, o)
	}
	return list, rows.Err()
}

// Works reads jobs that were asked for, the newest first, in the same way; without the steps of those that are closed.
func Works(db *gorm.DB, most int, where string, args ...any) ([]Work, error) {
	rows, err := db.Model(&Work{}).Select("id", "version", "for_model_id", "job", "status", "ref", "asked_on", "promised_on",
		"price_minor", "currency", "minutes", "why", "overrode", "went", "hurt_part", "hurt_step", "shelf_id").
		Where(where, args...).Order("asked_on DESC, id DESC").Limit(most).Rows()
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	list := []Work{}
	for rows.Next() {
		var w Work
		if err := rows.Scan(&w.ID, &w.Version, &w.ModelID, &w.Job, &w.Status, &w.Ref, &w.AskedOn, &w.PromisedOn, &w.Price,
			&w.Currency, &w.Minutes, &w.Why, &w.Overrode, &w.Went, &w.HurtPart, &w.HurtStep, &w.ShelfID); err != nil {
			return nil, err
		}
		list = append(list, w)
	}
	return list, rows.Err()
}

// owner is the model of a study or a unit, asked once in a transaction; "" for none.
func (tx *Tx) owner(key, query, id string) (string, error) {
	if model, known := tx.owners[key+id]; known {
		return model, nil
	}
	var found []struct {
		ModelID string
		Deleted bool
	}
	if err := tx.DB.Raw(query, id).Scan(&found).Error; err != nil {
		return "", err
	}
	model := ""
	if len(found) > 0 {
		if found[0].Deleted {
			return "", ErrNotFound
		}
		model = found[0].ModelID
	}
	if tx.owners == nil {
		tx.owners = map[string]string{}
	}
	tx.owners[key+id] = model
	return model, nil
}
