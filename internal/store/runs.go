package store

import (
	"encoding/json"
	"errors"

	"gorm.io/gorm"
)

// Runs hands out every time that one of these steps was carried out, in the order of the log, with what is counted of it:
// a model's history is the longest thing that is read, so it is read column by column.
func Runs(db *gorm.DB, steps []string, take func(LogEntry)) (err error) {
	if len(steps) == 0 {
		return nil
	}
	rows, err := db.Raw(`SELECT step_id, unit_id, seq, seconds, new_step, kind, outcome, part_id, detail FROM log_entries
		WHERE step_id IN ? AND back = 0 AND deleted_at IS NULL ORDER BY seq`, steps).Rows()
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	for rows.Next() {
		var r LogEntry
		var detail []byte
		if err := rows.Scan(&r.StepID, &r.UnitID, &r.Seq, &r.Seconds, &r.NewStep, &r.Kind, &r.Outcome, &r.PartID,
			&detail); err != nil {
			return err
		}
		if len(detail) > len("{}") {
			if err := json.Unmarshal(detail, &r.Detail); err != nil {
				return err
			}
		}
		take(r)
	}
	return rows.Err()
}
