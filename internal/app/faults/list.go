package faults

import (
	"context"
	"slices"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/store"
)

// Line is one search in a list.
type Line struct {
	ID      string    `json:"id"`
	Model   string    `json:"model"`
	Sticker string    `json:"sticker"`
	Ticket  string    `json:"ticket,omitempty"`
	Symptom string    `json:"symptom,omitempty"`
	Said    string    `json:"said,omitempty"`
	State   string    `json:"state"`
	Acts    int       `json:"acts"`
	Since   time.Time `json:"since"`
}

// mostListed is how many searches are listed, the latest.
const mostListed = 60

// List lists searches that are open, of all phones or of one model or phone of a study; also those that ended where
// wanted.
func List(ctx context.Context, s *act.Service, modelID, unitID string, ended bool) ([]Line, error) {
	db := s.DB.WithContext(ctx)
	where, args := "deleted_at IS NULL", []any{}
	if !ended {
		where += " AND state = 'open'"
	}
	if modelID != "" {
		where, args = where+" AND model_id = ?", append(args, modelID)
	}
	if unitID != "" {
		where, args = where+" AND visit_id IN (SELECT id FROM visits WHERE unit_id = ?)", append(args, unitID)
	}
	rows, err := store.List[store.FaultCase](db.Limit(mostListed), "id DESC", where, args...)
	if err != nil {
		return nil, err
	}
	var visits, models []string
	for _, r := range rows {
		visits, models = append(visits, r.VisitID), append(models, r.ModelID)
	}
	byVisit, err := store.List[store.Visit](db, "id", "id IN ?", visits)
	if err != nil {
		return nil, err
	}
	names, err := store.List[store.Model](db, "id", "id IN ?", models)
	if err != nil {
		return nil, err
	}
	list := []Line{}
	for _, r := range rows {
		l := Line{ID: r.ID, Symptom: r.Symptom, State: r.State, Acts: len(r.Acts), Since: r.CreatedAt}
		if k := slices.IndexFunc(byVisit, func(v store.Visit) bool { return v.ID == r.VisitID }); k >= 0 {
			l.Sticker, l.Ticket, l.Said = byVisit[k].Sticker, byVisit[k].Ticket, byVisit[k].Said
		}
		if k := slices.IndexFunc(names, func(m store.Model) bool { return m.ID == r.ModelID }); k >= 0 {
			l.Model = names[k].Maker + " " + names[k].Name
		}
		list = append(list, l)
	}
	return list, nil
}
