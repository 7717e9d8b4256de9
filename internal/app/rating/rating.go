// Package rating gathers what is known of a model for the schools: what the engines work out of its plan, its runs and
// its swap tests, and what people say of the rest.
package rating

import (
	"cmp"
	"encoding/json"
	"maps"
	"math"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/core/school"
	"waryowl/internal/store"
)

// Known is what is known of one fact, and where it comes from.
type Known struct {
	ID      string             `json:"id"`
	Known   bool               `json:"known"`
	Source  string             `json:"source" enum:"computed,asked,missing"`
	Engine  string             `json:"engine,omitempty"`
	Value   school.Value       `json:"value"`
	Eye     string             `json:"eye" enum:"shut,half,open"`
	Words   string             `json:"words,omitempty" doc:"what stands behind it"`
	Room    string             `json:"room,omitempty" doc:"where it comes from: ways, swap"`
	At      string             `json:"at,omitempty" doc:"the part, or the study"`
	Date    string             `json:"date,omitempty"`
	Build   string             `json:"build,omitempty"`
	Lost    []string           `json:"lost,omitempty" nullable:"false" doc:"functions that a genuine piece costs, or may cost"`
	Why     string             `json:"why,omitempty" doc:"why what was said does not count"`
	Sayings []store.FactSaying `json:"sayings" nullable:"false"`
}

// Record is what is known of one model.
type Record struct {
	Know     *model.Record
	Facts    map[string]*Known
	Build    string // the newest seen in its studies
	Currency string // of the workshop: that of its hourly rate
	Date     string // day for which it holds
}

// mostStudies is how many of the newest studies of a model are read for swap verdicts.
const mostStudies = 12

// Load gathers what is known of several models; date is today's. At most a dozen statements, whatever there is.
func Load(db *gorm.DB, ids []string, date string) (map[string]*Record, error) {
	know, err := model.LoadAll(db, ids, true)
	if err != nil {
		return nil, err
	}
	return LoadFor(db, slices.Collect(maps.Values(know)), date)
}

// LoadFor is [Load] for models that were read.
func LoadFor(db *gorm.DB, know []*model.Record, date string) (map[string]*Record, error) {
	var ids []string
	for _, k := range know {
		ids = append(ids, k.ID)
	}
	sayings, err := store.List[store.FactSaying](db, "id DESC", "model_id IN ?", append([]string{""}, ids...))
	if err != nil {
		return nil, err
	}
	catalogue, err := model.Catalogue(db)
	if err != nil {
		return nil, err
	}
	var rows []store.Study
	if err := db.Where("model_id IN ? AND id IN (SELECT study_id FROM trials WHERE deleted_at IS NULL)", ids).
		Order("id DESC").Limit(mostStudies * max(1, len(ids))).Find(&rows).Error; err != nil {
		return nil, err
	}
	studies := map[string][]*study.Record{}
	if len(rows) > 0 {
		loaded, err := study.LoadAll(db, rows, study.Want{Swaps: true, Verdicts: true, Read: know, Catalogue: catalogue})
		if err != nil {
			return nil, err
		}
		for _, b := range loaded {
			if len(studies[b.ModelID]) < mostStudies {
				studies[b.ModelID] = append(studies[b.ModelID], b)
			}
		}
	}
	by := map[string]map[string][]store.FactSaying{}
	for _, s := range sayings {
		if by[s.ModelID] == nil {
			by[s.ModelID] = map[string][]store.FactSaying{}
		}
		by[s.ModelID][s.Fact] = append(by[s.ModelID][s.Fact], s)
	}
	var office []store.Workshop
	if len(know) > 0 {
		office = know[0].Office
	}
	counter, err := desk.Brief(db, office, ids)
	if err != nil {
		return nil, err
	}
	currency := ""
	if counter.Workshop.ID != "" {
		currency = counter.Workshop.Currency
	} else if rate := by[""]["shop.rate"]; len(rate) > 0 {
		newest := slices.MaxFunc(rate, func(a, b store.FactSaying) int { return when(a).Compare(when(b)) })
		currency = newest.Currency
	} else if len(counter.Offers)+len(counter.Prices) > 0 { // nothing was set, but the desk counts in the house's
		currency = counter.Workshop.Currency
	}
	out := map[string]*Record{}
	for _, k := range know {
		r := &Record{Know: k, Facts: map[string]*Known{}, Currency: currency, Date: date}
		r.fromPlan()
		if err := r.fromSwaps(studies[k.ID]); err != nil {
			return nil, err
		}
		r.fromDesk(counter)
		for id, list := range by[k.ID] {
			r.said(id, list)
		}
		for id, list := range by[""] {
			r.said(id, list)
		}
		for id := range school.Facts() {
			f := r.Facts[id]
			if f == nil {
				f = &Known{ID: id}
				r.Facts[id] = f
			}
			f.Source = cmp.Or(f.Source, "missing")
			if f.Room == "" { // where it would come from
				switch o := origin(id); {
				case o.Engine == "diagnose" && len(studies[k.ID]) > 0:
					f.Room, f.At = "swap", studies[k.ID][0].ID
				case o.Engine != "" && o.Engine != "diagnose":
					f.Room = "ways"
				}
			}
			f.Eye = cmp.Or(f.Eye, "shut")
			if f.Sayings == nil {
				f.Sayings = []store.FactSaying{}
			}
		}
		out[k.ID] = r
	}
	return out, nil
}

// compute puts in what an engine found, kept within what the fact may be.
func (r *Record) compute(id string, v school.Value, eye, words, room, at string) {
	def, asked := school.Facts()[id]
	if !asked { // no school wants it
		return
	}
	if def.Kind == "number" {
		clip := func(x float64) float64 { return math.Max(*def.Min, math.Min(*def.Max, x)) }
		if x, ok := v.Value.(float64); ok {
			v.Value = clip(x)
		}
		if v.Low != nil {
			low := clip(*v.Low)
			v.Low = &low
		}
		if v.High != nil {
			high := clip(*v.High)
			v.High = &high
		}
		if v.Low != nil && v.High != nil && *v.Low == *v.High {
			v = school.Value{Value: *v.Low}
		}
	}
	o := origin(id)
	r.Facts[id] = &Known{ID: id, Known: true, Source: "computed", Engine: o.Engine, Value: v, Eye: eye, Words: words,
		Room: room, At: at, Date: r.Date}
}

// Model is the record as the engine reads it.
func (r *Record) Model() school.Model {
	m := school.Model{ID: r.Know.ID, Date: r.Date, Build: r.Build, Facts: map[string]school.Value{}}
	for id, f := range r.Facts {
		if f.Known && !Shop(id) {
			m.Facts[id] = f.Value
		}
	}
	return m
}

// ShopFacts are what holds for the workshop.
func (r *Record) ShopFacts() map[string]school.Value {
	m := map[string]school.Value{}
	for id, f := range r.Facts {
		if f.Known && Shop(id) {
			m[id] = f.Value
		}
	}
	return m
}

// Rules are the schools that ship and the rules that were published, then the drafts; a stored rule that cannot be read
// is left out. own are the rows by the rubric's id.
func Rules(db *gorm.DB) (rules []school.Rubric, own map[string]store.Rubric, err error) {
	rows, err := store.List[store.Rubric](db, "published DESC, id", "1 = 1")
	if err != nil {
		return nil, nil, err
	}
	rules, own = school.Shipped(), map[string]store.Rubric{}
	for _, row := range rows {
		b, err := ReadRubric(row.Document)
		if err != nil || slices.ContainsFunc(rules, func(o school.Rubric) bool { return o.ID == b.ID }) {
			continue
		}
		rules = append(rules, b)
		own[b.ID] = row
	}
	return rules, own, nil
}

// ReadRubric reads a rubric from its document, with errors by path.
func ReadRubric(text string) (school.Rubric, error) {
	var b school.Rubric
	d := json.NewDecoder(strings.NewReader(text))
	d.DisallowUnknownFields()
	if err := d.Decode(&b); err != nil {
		return b, err
	}
	return b, school.Check(b)
}
