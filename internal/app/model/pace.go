package model

import (
	"slices"

	"gorm.io/gorm"

	"waryowl/internal/store"
)

// Pace is how long jobs of the person who asks took, against what their ways promised: the median ratio, and of how
// many.
type Pace struct {
	Ratio float64 `json:"ratio"`
	N     int     `json:"n"`
}

// PaceOf compares a person's told minutes with what was promised, over the latest thirty jobs.
func PaceOf(db *gorm.DB, account string) (Pace, error) {
	rows, err := store.List[store.Outcome](db.Limit(30), "id DESC", "account_id = ? AND predicted > 0 AND NOT doubt", account)
	var ratios []float64
	for _, o := range rows {
		ratios = append(ratios, o.Minutes/o.Predicted)
	}
	if len(ratios) == 0 {
		return Pace{Ratio: 1}, err
	}
	slices.Sort(ratios)
	return Pace{ratios[len(ratios)/2], len(ratios)}, err
}
