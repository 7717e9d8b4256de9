package swap

import (
	"context"
	"fmt"
	"slices"

	"waryowl/internal/app/act"
	"waryowl/internal/app/benchday"
	"waryowl/internal/app/study"
	"waryowl/internal/store"
)

// Settling is a test of a study whose phone is on the bench today, one of those that settle most in the time there is.
type Settling struct {
	StudyID string  `json:"study_id"`
	Job     string  `json:"job" doc:"what stands on the phone's tray"`
	Words   string  `json:"words"`
	Minutes float64 `json:"minutes"`
	Bits    float64 `json:"bits" doc:"what it tells about what is open"`
}

// DueRetest is what a new build made due in a study.
type DueRetest struct {
	StudyID string `json:"study_id"`
	Study   string `json:"study"`
	On      string `json:"on" doc:"the build to test again on"`
	Retest
}

// OnDay is what the swap lab has for a day of the bench.
type OnDay struct {
	Minutes  int         `json:"minutes" doc:"until closing time"`
	Settling []Settling  `json:"settling" nullable:"false" doc:"per study in the order to make them, within the minutes; greedy, not proven"`
	Retests  []DueRetest `json:"retests" nullable:"false"`
	Looked   int         `json:"looked" doc:"studies that were looked at"`
}

// mostStudies is how many studies a day looks at: those of its phones, then those tested last.
const mostStudies = 12

// LabOnDay weighs what may be tested in the minutes that a day has left, and what waits for a newer build.
func LabOnDay(ctx context.Context, s *act.Service, q benchday.Ask) (OnDay, error) {
	v := OnDay{Settling: []Settling{}, Retests: []DueRetest{}}
	db := s.DB.WithContext(ctx)
	left, err := benchday.LeftOn(db, s.Now(), q)
	if err != nil {
		return v, err
	}
	v.Minutes = left.Seconds / 60
	var recent []string
	if err := db.Model(&store.Trial{}).Select("study_id").Group("study_id").Order("MAX(created_at) DESC, study_id").
		Limit(mostStudies).Scan(&recent).Error; err != nil {
		return v, err
	}
	studies := slices.Clone(left.Studies)
	for _, id := range recent {
		if !slices.Contains(studies, id) {
			studies = append(studies, id)
		}
	}
	studies = studies[:min(mostStudies, len(studies))]
	rows, err := store.List[store.Study](db, "id", "id IN ?", studies) // a deleted one is passed over
	if err != nil {
		return v, err
	}
	loaded, err := study.LoadAll(db, rows, study.Want{})
	if err != nil {
		return v, err
	}
	for i, id := range studies {
		at := slices.IndexFunc(loaded, func(b *study.Record) bool { return b.ID == id })
		if at < 0 {
			continue
		}
		if err := ctx.Err(); err != nil {
			return v, err
		}
		b := loaded[at]
		v.Looked++
		builds := b.Builds()
		if len(builds) == 0 {
			continue
		}
		newest := builds[len(builds)-1]
		for _, r := range retests(b, newest) {
			v.Retests = append(v.Retests, DueRetest{id, b.Title, newest, r})
		}
		if i < len(left.Studies) && v.Minutes > 0 && len(b.Trials) > 0 {
			v.settle(b, newest, left.Jobs[id])
		}
	}
	return v, nil
}

// settle adds the tests of a study; one with too much open for a reading has none here, its own room says why.
func (v *OnDay) settle(b *study.Record, build, job string) {
	r, err := readAs(b, Asked{Build: build, budget: float64(v.Minutes)})
	if err != nil {
		return
	}
	for _, n := range r.Plan {
		v.Settling = append(v.Settling, Settling{b.ID, job, n.Words, n.Minutes, n.Bits})
	}
}

// Dues are the retests as what is due on a day.
func (v OnDay) Dues(q benchday.Ask) []benchday.Due {
	var list []benchday.Due
	date, err := benchday.ReadDate(q.Date)
	if err != nil {
		return nil
	}
	for _, r := range v.Retests {
		list = append(list, benchday.Due{Text: fmt.Sprintf("%s: test %s again on build %s, %s", r.Study, r.Trial, r.On,
			r.Title), On: date})
	}
	return list
}
