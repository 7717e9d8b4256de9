package store

import (
	"encoding/json"
	"runtime/debug"
	"strconv"
	"sync"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// derivedRow is something that was worked out from the facts of a study, as of a revision.
type derivedRow struct {
	Kind     string `gorm:"primaryKey"`
	ID       string `gorm:"primaryKey"`
	Revision int64
	Edition  string
	Body     string
}

func (derivedRow) TableName() string { return "derived" }

// StudyRevisions says of several studies how often their model, or what belongs to none, was changed.
func StudyRevisions(db *gorm.DB, studies []string) (map[string]int64, error) {
	var rows []struct {
		ID string
		N  int64
	}
	err := db.Raw(`SELECT s.id, COALESCE(r.n, 0) + COALESCE((SELECT n FROM revisions WHERE id = ''), 0) AS n FROM studies s
		LEFT JOIN revisions r ON r.id = s.model_id WHERE s.id IN ?`, studies).Scan(&rows).Error
	by := map[string]int64{}
	for _, r := range rows {
		by[r.ID] = r.N
	}
	return by, err
}

// Derived gives for each study what was worked out of it; work does that for those of which nothing is kept as of now, and
// what it gives is kept. Whoever forgets the kept rows gets the same again.
func Derived[T any](db *gorm.DB, kind string, studies []string, work func(stale []string) (map[string]T, error)) (
	map[string]T, error) {
	out := map[string]T{}
	if len(studies) == 0 {
		return out, nil
	}
	now, err := StudyRevisions(db, studies)
	if err != nil {
		return nil, err
	}
	kept, err := List[derivedRow](db, "id", "kind = ? AND id IN ?", kind, studies)
	if err != nil {
		return nil, err
	}
	for _, k := range kept {
		var v T
		if k.Revision == now[k.ID] && k.Edition == Edition() && json.Unmarshal([]byte(k.Body), &v) == nil {
			out[k.ID] = v
		}
	}
	var stale []string
	for _, id := range studies {
		if _, ok := out[id]; !ok {
			stale = append(stale, id)
		}
	}
	if len(stale) == 0 {
		return out, nil
	}
	made, err := work(stale)
	if err != nil {
		return nil, err
	}
	var rows []derivedRow
	for id, v := range made {
		out[id] = v
		text, err := json.Marshal(v)
		if err != nil {
			return nil, err
		}
		rows = append(rows, derivedRow{kind, id, now[id], Edition(), string(text)})
	}
	if len(rows) == 0 {
		return out, nil
	}
	// It is kept where that is possible; a disk that is full keeps nobody from reading.
	_ = db.Clauses(clause.OnConflict{UpdateAll: true}).Create(&rows).Error
	return out, nil
}

// Edition names this program: what another one worked out may read otherwise.
var Edition = sync.OnceValue(func() string {
	rev, started := "", "from "+strconv.FormatInt(time.Now().UnixNano(), 36)
	if info, ok := debug.ReadBuildInfo(); ok {
		for _, s := range info.Settings {
			switch {
			case s.Key == "vcs.modified" && s.Value != "false":
				return started
			case s.Key == "vcs.revision":
				rev = s.Value
			}
		}
	}
	if rev == "" {
		return started
	}
	return rev
})

// ForgetDerived drops everything that was worked out.
func ForgetDerived(db *gorm.DB) error { return db.Exec("DELETE FROM derived").Error }
