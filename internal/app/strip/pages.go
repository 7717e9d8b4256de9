package strip

import (
	"context"
	"slices"

	"waryowl/internal/app/act"
	"waryowl/internal/app/study"
	"waryowl/internal/store"
)

// LogPage are entries of a phone before those that the room shows, the oldest first.
type LogPage struct {
	Entries []store.LogEntry  `json:"entries" nullable:"false"`
	By      map[string]string `json:"by" doc:"who wrote them"`
	Older   int               `json:"older" doc:"entries that lie before these"`
}

// mostLog are the entries of a phone that the room shows, and those of a page.
const mostLog = 200

// filmStart is the note that starts a film: later entries show their offset from it.
const filmStart = "sync mark"

// latest keeps the latest entries of each phone, says how many lie before them, and the starts of films among those.
func (v *Room) latest(b *study.Record) {
	v.Log, v.Older, v.Films = []store.LogEntry{}, map[string]int{}, []store.LogEntry{}
	for _, e := range b.Log {
		v.Older[e.UnitID]++
	}
	for id, n := range v.Older {
		v.Older[id] = max(0, n-mostLog)
	}
	passed := map[string]int{}
	for _, e := range b.Log {
		if passed[e.UnitID]++; passed[e.UnitID] > v.Older[e.UnitID] {
			v.Log = append(v.Log, e)
		} else if e.Kind == "note" && e.Note == filmStart {
			v.Films = append(v.Films, e)
		}
	}
}

// Older is the page of a phone's log before an entry: its number, as the room or the last page gave it.
func Older(ctx context.Context, s *act.Service, studyID, unitID string, before int) (LogPage, error) {
	db := s.DB.WithContext(ctx)
	const where = "study_id = ? AND unit_id = ? AND seq < ?"
	v := LogPage{By: map[string]string{}}
	var err error
	if v.Entries, err = store.List[store.LogEntry](db.Limit(mostLog), "seq DESC", where, studyID, unitID, before); err != nil {
		return v, err
	}
	ids := make([]string, len(v.Entries))
	slices.Reverse(v.Entries)
	for i, e := range v.Entries {
		ids[i] = e.ID
	}
	if len(v.Entries) > 0 {
		before = v.Entries[0].Seq
	}
	var older int64
	if err := db.Model(&store.LogEntry{}).Where(where, studyID, unitID, before).Count(&older).Error; err != nil {
		return v, err
	}
	v.Older = int(older)
	v.By, err = store.Authors(db, ids)
	return v, err
}
