package store

import (
	"encoding/json"
	"errors"

	"gorm.io/gorm"
)

// Plain counts the times that a unit's step was carried out of which nothing is on record but that, by outcome: all of
// them, those that were timed with the sums of the logarithms of their seconds and of their squares, and whether one of
// them taught the step.
type Plain struct {
	StepID, UnitID, Outcome string
	N, Timed                int
	Logs, Squares           float64
	NewStep                 bool
}

// Runs are the times that these steps were carried out. A model's history is the longest thing that is read, so what is
// plain is counted in the database; the others are handed out in the order of the log.
func Runs(db *gorm.DB, steps []string, take func(LogEntry)) (counts []Plain, err error) {
	if len(steps) == 0 {
		return nil, nil
	}
	const of = " FROM log_entries WHERE step_id IN ? AND back = 0 AND deleted_at IS NULL AND plain_run = "
	if err := db.Raw(`SELECT step_id, unit_id, outcome, COUNT(*) AS n, COUNT(IF(seconds > 0, 1, NULL)) AS timed,
		COALESCE(SUM(IF(seconds > 0, LN(seconds), 0)), 0) AS logs,
		COALESCE(SUM(IF(seconds > 0, LN(seconds) * LN(seconds), 0)), 0) AS squares, MAX(new_step) AS new_step`+of+
		`1 GROUP BY step_id, unit_id, outcome`, steps).Scan(&counts).Error; err != nil {
		return nil, err
	}
	rows, err := db.Raw(`SELECT step_id, unit_id, seq, seconds, new_step, kind, outcome, part_id, detail`+of+
		`0 ORDER BY seq`, steps).Rows()
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	for rows.Next() {
		var r LogEntry
		var detail []byte
		if err := rows.Scan(&r.StepID, &r.UnitID, &r.Seq, &r.Seconds, &r.NewStep, &r.Kind, &r.Outcome, &r.PartID,
			&detail); err != nil {
			return nil, err
		}
		if len(detail) > 0 {
			if json.Unmarshal(detail, &r.Detail) != nil {
				r.Detail = LogDetail{} // what cannot be read keeps nobody from the rest
			}
		}
		take(r)
	}
	return counts, rows.Err()
}

// Walked are the outcomes of jobs on these models as far as odds rest on them: those of job cards, by part, and of closed
// jobs of the desk, whose part is left out.
func Walked(db *gorm.DB, models []string) ([]Outcome, error) {
	list := []Outcome{}
	err := db.Raw(`SELECT model_id, part_id, steps_walked, hurt_part, hurt_step FROM outcomes
		WHERE model_id IN ? AND deleted_at IS NULL AND NOT doubt
		UNION ALL SELECT for_model_id, '', steps_walked, hurt_part, hurt_step FROM work_orders
		WHERE for_model_id IN ? AND status = 'closed' AND went <> '' AND deleted_at IS NULL`, models, models).Scan(&list).Error
	return list, err
}
