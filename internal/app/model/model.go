// Package model is what is on record about one model: plan, parts, times, odds, the way to each part.
package model

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/core/risk"
	"waryowl/internal/core/trade"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// Seconds of a tool change and of turning the phone over (house).
const (
	toolChangeSeconds = 6
	flipSeconds       = 4
)

// Record is everything on record about one model.
type Record struct {
	store.Model
	Parts    []store.Part
	Checks   []store.Check // the catalogue as edited for the model
	Steps    []store.PlanStep
	PartByID map[string]store.Part
	StepByID map[string]store.PlanStep
	runs     map[string]worktime.Tally // measured times of a step, by its id
	learned  map[string]bool           // steps that a log taught
	phones   map[string][]string       // units on which a step was carried out
	waits    map[string][]float64      // waits that were needed, by the step's id

	jobs map[string]int // told of, by part

	ChargeLimit float64          // that the office set, percent; 0: none
	Office      []store.Workshop // the settings, where there are any

	ctx       context.Context   // of the request that it was loaded for
	stepParts map[string]string // part that a step is about, once it was asked for

	Counts map[Hazard]risk.Count
	tabs   map[string]risk.Count // pull tabs that came out whole, by the step's id
	Photos map[string][]string   // where loadPhotos was called
}

// Lock loads a model for a change of its parts or plan; others wait for the end of this transaction.
func Lock(tx *store.Tx, id string) (*Record, error) {
	if _, err := store.Lock[store.Model](tx, id); err != nil {
		return nil, err
	}
	return Load(tx.DB, id)
}

// Load reads everything on record about a model.
func Load(db *gorm.DB, id string) (*Record, error) {
	list, err := LoadAll(db, []string{id}, true)
	if err != nil {
		return nil, err
	}
	if list[id] == nil {
		return nil, store.ErrNotFound
	}
	return list[id], nil
}

// LoadAll reads everything on record about several models, with as many statements as about one; without what their jobs
// taught, where that is not wanted.
func LoadAll(db *gorm.DB, ids []string, jobs bool) (map[string]*Record, error) {
	list := map[string]*Record{}
	models, err := store.List[store.Model](db, "id", "id IN ?", ids)
	if err != nil {
		return nil, err
	}
	for _, m := range models {
		list[m.ID] = &Record{Model: m, ctx: db.Statement.Context, PartByID: map[string]store.Part{},
			StepByID: map[string]store.PlanStep{}, runs: map[string]worktime.Tally{}, learned: map[string]bool{},
			phones: map[string][]string{}, waits: map[string][]float64{}, tabs: map[string]risk.Count{}}
	}
	parts, err := store.List[store.Part](db, "layer DESC, name", "model_id IN ?", ids)
	if err != nil {
		return nil, err
	}
	for _, p := range parts {
		if k := list[p.ModelID]; k != nil {
			if p.Kind == "" {
				p.Guess = guess(p)
			}
			k.Parts = append(k.Parts, p)
			k.PartByID[p.ID] = p
		}
	}
	steps, err := store.List[store.PlanStep](db, "id", "model_id IN ?", ids)
	if err != nil {
		return nil, err
	}
	of, stepIDs := map[string]*Record{}, []string{}
	for _, s := range steps {
		if k := list[s.ModelID]; k != nil {
			k.Steps = append(k.Steps, s)
			k.StepByID[s.ID] = s
			of[s.ID] = k
			stepIDs = append(stepIDs, s.ID)
		}
	}
	if !jobs {
		stepIDs, ids = nil, nil
	}
	runs := map[*Record][]store.LogEntry{}
	counted, err := store.Runs(db, stepIDs, func(r store.LogEntry) {
		k := of[r.StepID]
		runs[k] = append(runs[k], r)
	})
	if err != nil {
		return nil, err
	}
	repairs, err := store.VisitTimes(db, stepIDs)
	if err != nil {
		return nil, err
	}
	plain := map[*Record][]store.Plain{}
	for _, c := range counted {
		k := of[c.StepID]
		plain[k] = append(plain[k], c)
	}
	repaired := map[*Record][]store.StepTime{}
	for _, t := range repairs {
		repaired[of[t.StepID]] = append(repaired[of[t.StepID]], t)
	}
	told, err := store.Walked(db, ids)
	if err != nil {
		return nil, err
	}
	outcomes := map[string][]store.Outcome{}
	for _, o := range told {
		outcomes[o.ModelID] = append(outcomes[o.ModelID], o)
	}
	shop, err := store.List[store.Workshop](db.Limit(1), "id", "1 = 1")
	if err != nil {
		return nil, err
	}
	for id, k := range list {
		k.Checks = Edited(Shipped(), k.Model)
		if k.Office = shop; len(shop) > 0 {
			k.ChargeLimit = shop[0].ChargeLimit
		}
		if k.Parts == nil {
			k.Parts = []store.Part{}
		}
		if k.Steps == nil {
			k.Steps = []store.PlanStep{}
		}
		k.learn(plain[k], runs[k])
		k.repaired(repaired[k])
		k.count(plain[k], runs[k], outcomes[id])
		k.jobs = map[string]int{}
		for _, o := range outcomes[id] {
			k.jobs[o.PartID]++
		}
	}
	return list, nil
}

// learn goes through the runs of the steps: who carried them out, how long they took, what was waited.
func (k *Record) learn(plain []store.Plain, runs []store.LogEntry) {
	for _, c := range plain {
		k.learned[c.StepID] = k.learned[c.StepID] || c.NewStep
		if !slices.Contains(k.phones[c.StepID], c.UnitID) {
			k.phones[c.StepID] = append(k.phones[c.StepID], c.UnitID)
		}
		t := k.runs[c.StepID]
		k.runs[c.StepID] = worktime.Tally{N: t.N + c.Timed, Logs: t.Logs + c.Logs, Squares: t.Squares + c.Squares}
	}
	// What was needed of a unit at a step is the sum of its rounds until it worked.
	heat, wait := map[[2]string]float64{}, map[[2]string]float64{}
	for _, r := range runs {
		k.learned[r.StepID] = k.learned[r.StepID] || r.NewStep
		if !slices.Contains(k.phones[r.StepID], r.UnitID) {
			k.phones[r.StepID] = append(k.phones[r.StepID], r.UnitID)
		}
		if r.Seconds > 0 && r.Kind == "step" {
			k.runs[r.StepID] = k.runs[r.StepID].Add(r.Seconds)
		}
		if r.Detail.Of > 0 {
			k.tabs[r.StepID] = risk.Count{K: k.tabs[r.StepID].K + r.Detail.Whole, N: k.tabs[r.StepID].N + r.Detail.Of}
		}
		key := [2]string{r.UnitID, r.StepID}
		switch h := r.Detail.Heat; {
		case h != nil:
			heat[key] += h.Seconds
			if h.Result == "gap" && heat[key] > 0 {
				k.waits[r.StepID] = append(k.waits[r.StepID], heat[key])
				heat[key] = 0
			}
		case r.Detail.Wait > 0:
			wait[key] += r.Detail.Wait
			if r.Outcome == "" || r.Outcome == "done" {
				k.waits[r.StepID] = append(k.waits[r.StepID], wait[key])
				wait[key] = 0
			}
		}
	}
}

// repaired adds what counted repairs took for the steps, and the phones that they were done on.
func (k *Record) repaired(times []store.StepTime) {
	for _, t := range times {
		if t.Seconds > 0 {
			k.runs[t.StepID] = k.runs[t.StepID].Add(t.Seconds)
		}
		if t.Wait > 0 {
			k.waits[t.StepID] = append(k.waits[t.StepID], t.Wait)
		}
		if !slices.Contains(k.phones[t.StepID], t.VisitID) {
			k.phones[t.StepID] = append(k.phones[t.StepID], t.VisitID)
		}
	}
}

// Context is that of the request that the record was loaded for: the engines stop when it ends.
func (k *Record) Context() context.Context {
	if k.ctx == nil {
		return context.Background()
	}
	return k.ctx
}

// PartNamed finds a part by its name or an alias.
func (k *Record) PartNamed(name string) *store.Part {
	for i, p := range k.Parts {
		if strings.EqualFold(p.Name, name) || slices.ContainsFunc(p.Aliases,
			func(a string) bool { return strings.EqualFold(a, name) }) {
			return &k.Parts[i]
		}
	}
	return nil
}

// guess is the kind that the names of a part suggest.
func guess(p store.Part) string {
	for _, name := range append([]string{p.Name}, p.Aliases...) {
		if kind, ok := trade.KindOf(name); ok {
			return kind
		}
	}
	return ""
}

// Kind is the kind of a part by its id: the one confirmed, else the one that its names suggest.
func (k *Record) Kind(part string) string {
	p := k.PartByID[part]
	return cmp.Or(p.Kind, p.Guess)
}

// OfKind is the first part of a kind: one whose kind was confirmed before one whose name only suggests it, the shortest
// name first.
func (k *Record) OfKind(kind string) *store.Part {
	var best *store.Part
	for i, p := range k.Parts {
		if cmp.Or(p.Kind, p.Guess) != kind {
			continue
		}
		if best == nil || best.Kind == "" && p.Kind != "" || (best.Kind == "") == (p.Kind == "") &&
			len(p.Name) < len(best.Name) {
			best = &k.Parts[i]
		}
	}
	return best
}

// PartNames are the names of parts by id; unknown ids are left out.
func (k *Record) PartNames(ids []string) []string {
	names := []string{}
	for _, id := range ids {
		if p, ok := k.PartByID[id]; ok {
			names = append(names, p.Name)
		}
	}
	return names
}

// Marks are the short names of steps by id; unknown ids are left out.
func (k *Record) Marks(ids []string) []string {
	marks := []string{}
	for _, id := range ids {
		if s, ok := k.StepByID[id]; ok {
			marks = append(marks, s.Mark)
		}
	}
	return marks
}
