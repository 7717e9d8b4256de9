package store

import (
	"crypto/sha256"
	"encoding/binary"
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

// ModelRevisions says of several models how often they, their predecessor, or what belongs to none was changed.
func ModelRevisions(db *gorm.DB, models []string) (map[string]int64, error) {
	var rows []struct {
		ID string
		N  int64
	}
	err := db.Raw(`SELECT m.id, COALESCE(r.n, 0) + COALESCE((SELECT n FROM revisions WHERE id = ''), 0) +
		COALESCE((SELECT SUM(q.n) FROM models p JOIN revisions q ON q.id = p.id
			WHERE p.maker = m.maker AND p.name = TRIM(m.predecessor) AND m.predecessor <> ''), 0) AS n
		FROM models m LEFT JOIN revisions r ON r.id = m.id WHERE m.id IN ?`, models).Scan(&rows).Error
	by := map[string]int64{}
	for _, r := range rows {
		by[r.ID] = r.N
	}
	return by, err
}

// Derived gives for each study what was worked out of it; work does that for those of which nothing is kept as of
// now, and
// what it gives is kept. Whoever forgets the kept rows gets the same again.
func Derived[T any](db *gorm.DB, kind string, studies []string, work func(stale []string) (map[string]T, error)) (
	map[string]T, error) {
	return derived(db, kind, studies, StudyRevisions, func(T) bool { return true }, work)
}

// DerivedOfModels is [Derived] for models; fresh says of what is kept whether it still holds, apart from changes.
func DerivedOfModels[T any](db *gorm.DB, kind string, models []string, fresh func(T) bool,
	work func(stale []string) (map[string]T, error)) (map[string]T, error) {
	return derived(db, kind, models, ModelRevisions, fresh, work)
}

func derived[T any](db *gorm.DB, kind string, ids []string, revisions func(*gorm.DB, []string) (map[string]int64,
	error),
	fresh func(T) bool, work func(stale []string) (map[string]T, error)) (map[string]T, error) {
	out := map[string]T{}
	if len(ids) == 0 {
		return out, nil
	}
	now, err := revisions(db, ids)
	if err != nil {
		return nil, err
	}
	kept, err := List[derivedRow](db, "id", "kind = ? AND id IN ?", kind, ids)
	if err != nil {
		return nil, err
	}
	for _, k := range kept {
		var v T
		if k.Revision == now[k.ID] && k.Edition == Edition() && json.Unmarshal([]byte(k.Body), &v) == nil && fresh(v) {
			out[k.ID] = v
		}
	}
	var stale []string
	for _, id := range ids {
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

// LastChanges says when models, their parts or plans were last changed.
func LastChanges(db *gorm.DB, models []string) (map[string]time.Time, error) {
	var rows []struct {
		ID string
		At time.Time
	}
	err := db.Raw(`SELECT id, MAX(at) AS at FROM (
		SELECT id, updated_at AS at FROM models WHERE id IN ?
		UNION ALL SELECT model_id, updated_at FROM parts WHERE model_id IN ?
		UNION ALL SELECT model_id, updated_at FROM plan_steps WHERE model_id IN ?) x GROUP BY id`,
		models, models, models).Scan(&rows).Error
	by := map[string]time.Time{}
	for _, r := range rows {
		by[r.ID] = r.At
	}
	return by, err
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

// Kept gives what was worked out of a question; work does that where another question stands under the kind and id, or
// none. The question is compared by the first eight bytes of its SHA-256.
func Kept[T any](db *gorm.DB, kind, id string, question any, work func() (T, error)) (T, error) {
	var v T
	text, err := json.Marshal(question)
	if err != nil {
		return v, err
	}
	sum := sha256.Sum256(text)
	now := int64(binary.BigEndian.Uint64(sum[:8]))
	kept, err := List[derivedRow](db, "id", "kind = ? AND id = ?", kind, id)
	if err != nil {
		return v, err
	}
	if len(kept) > 0 && kept[0].Revision == now && kept[0].Edition == Edition() &&
		json.Unmarshal([]byte(kept[0].Body), &v) == nil {
		return v, nil
	}
	if v, err = work(); err != nil {
		return v, err
	}
	body, err := json.Marshal(v)
	if err != nil {
		return v, err
	}
	_ = db.Clauses(clause.OnConflict{UpdateAll: true}).Create(&derivedRow{kind, id, now, Edition(), string(body)}).Error
	return v, nil
}
