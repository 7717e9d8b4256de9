package study

import (
	"strings"

	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// Arrive records a phone that came in. One of a study takes its model and sticker from there; a job that was asked for
// tells the model of any other.
func Arrive(tx *store.Tx, v *store.Visit) error {
	if v.State == "" {
		v.State = "in"
	}
	if v.UnitID != "" {
		unit, err := store.Get[store.Unit](tx.DB, v.UnitID)
		if err != nil {
			return fault.New("unit_id", v.UnitID, "the id of a phone of a study")
		}
		study, err := store.Get[store.Study](tx.DB, unit.StudyID)
		if err != nil {
			return fault.New("unit_id", v.UnitID, "a phone of a study that is there")
		}
		v.StudyID, v.ModelID, v.Sticker = study.ID, study.ModelID, unit.Name
	}
	if v.WorkID != "" {
		work, err := store.Get[store.Work](tx.DB, v.WorkID)
		if err != nil {
			return fault.New("work_id", v.WorkID, "the id of a job that was asked for")
		}
		v.ModelID = work.ModelID
	}
	if err := CheckVisit(v); err != nil {
		return err
	}
	if _, err := store.Get[store.Model](tx.DB, v.ModelID); err != nil {
		return fault.New("for_model_id", v.ModelID, "the id of a model")
	}
	return store.Create(tx, v)
}

// CheckVisit refuses what a visit cannot say.
func CheckVisit(v *store.Visit) error {
	v.Sticker = strings.TrimSpace(v.Sticker)
	if v.Sticker == "" {
		return fault.New("sticker", v.Sticker, "what the phone is called here, 1 to 20 characters")
	}
	for mark, result := range v.Arrival {
		if result != "pass" && result != "lost" {
			return fault.New("arrival."+mark, result, "pass or lost")
		}
	}
	return nil
}
