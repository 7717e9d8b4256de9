package fit

import (
	"cmp"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/model"
	"waryowl/internal/core/fit"
	"waryowl/internal/core/quantity"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// gathered is what the engine is asked, with what the page shows beside it.
type gathered struct {
	in    fit.Input
	hosts []*model.Record
	part  map[string]store.Part // of a host, by its id
	ways  map[string]*model.Way
	check float64 // seconds of all checks
}

func (g *gathered) isModel(id string) bool { _, ok := g.part[id]; return ok }

// gather reads models, lots, tests, prices and demand.
func gather(db *gorm.DB, r *Room, q Ask) (*gathered, error) {
	models, err := store.List[store.Model](db.Limit(1000), "id DESC", "1 = 1")
	if err != nil {
		return nil, err
	}
	from := slices.IndexFunc(models, func(m store.Model) bool { return m.ID == q.From })
	if from >= 0 {
		maker := models[from].Maker
		models = slices.DeleteFunc(models, func(m store.Model) bool { return m.Maker != maker })
	}
	slices.Reverse(models)
	var ids []string
	for _, m := range models {
		ids = append(ids, m.ID)
	}
	rows, err := store.List[store.Part](db.Select("id", "model_id", "name", "aliases", "kind"), "id", "model_id IN ?", ids)
	if err != nil {
		return nil, err
	}
	kindOf := map[string]string{}
	has := map[string]map[string]bool{} // kind: models
	for _, p := range rows {
		k := cmp.Or(p.Kind, guess(p))
		kindOf[p.ID] = k
		if has[k] == nil {
			has[k] = map[string]bool{}
		}
		has[k][p.ModelID] = true
	}
	var counts []struct {
		Kind string
		N    int
	}
	if err := db.Raw("SELECT kind, COUNT(*) AS n FROM fit_tests WHERE deleted_at IS NULL GROUP BY kind").Scan(&counts).Error; err != nil {
		return nil, err
	}
	tests := map[string]int{}
	for _, c := range counts {
		tests[c.Kind] = c.N
	}
	for _, k := range trade.Kinds {
		if n := len(has[k.ID]); n > 1 || k.ID == q.Kind || tests[k.ID] > 0 {
			r.Kinds = append(r.Kinds, Choice{k.ID, strings.ReplaceAll(k.ID, "-", " "), n, tests[k.ID]})
		}
	}
	var chosen []string
	for _, m := range models {
		if !has[q.Kind][m.ID] {
			continue
		}
		if len(chosen) == mostModels {
			r.Left = append(r.Left, m.Name)
			continue
		}
		chosen = append(chosen, m.ID)
	}
	records, err := model.LoadAll(db, chosen, true)
	if err != nil {
		return nil, err
	}
	lots, err := store.List[store.Lot](db, "id", "kind = ? AND model_id IN ?", q.Kind, chosen)
	if err != nil {
		return nil, err
	}
	if len(lots) > mostModels {
		lots = lots[len(lots)-mostModels:]
	}
	checks, err := model.Catalogue(db)
	if err != nil {
		return nil, err
	}
	g := &gathered{in: fit.Input{Slot: q.Kind, Level: q.Level, Confidence: q.Confidence, Features: map[string]fit.Feature{},
		Models: []fit.Model{}, Tests: []fit.Test{}, Newest: map[string]string{}}, part: map[string]store.Part{},
		ways:  map[string]*model.Way{},
		check: model.CheckTime(checks)}
	slices.SortFunc(chosen, func(a, b string) int {
		return cmp.Or(strings.Compare(records[a].Maker, records[b].Maker), strings.Compare(records[a].Name, records[b].Name))
	})
	byID := map[string]store.Model{}
	for _, id := range chosen {
		k := records[id]
		byID[id] = k.Model
		g.host(r, k, models)
	}
	for _, l := range lots {
		g.lot(r, l)
	}
	for _, m := range g.in.Models {
		for name := range m.Features {
			g.in.Features[name] = Features[key(name)]
		}
	}
	for _, c := range g.in.Copies {
		for name := range c.Features {
			g.in.Features[name] = Features[key(name)]
		}
	}
	found, err := testsOf(db, q.Kind, byID, kindOf, lots)
	if err != nil {
		return nil, err
	}
	lineKnown := func(id string) bool {
		return slices.ContainsFunc(r.Lines, func(l Line) bool { return l.ID == id })
	}
	for _, t := range found {
		if !lineKnown(t.Donor) {
			continue
		}
		g.in.Tests = append(g.in.Tests, t.Test)
		v := Seen{Test: t.Test, Piece: t.piece}
		if t.row != nil {
			v.Version, v.Apart, v.Minutes, v.Note = t.row.Version, Apart(t.row.Width), t.row.Minutes, t.row.Note
		} else {
			v.Trial, v.Study = t.study, t.trial.StudyID
		}
		if t.Build != "" {
			if older(g.in.Newest[t.Host], t.Build) {
				g.in.Newest[t.Host] = t.Build
			}
		}
		r.Tests = append(r.Tests, v)
	}
	for _, c := range checks {
		r.Checks = append(r.Checks, Check{c.Mark, c.Name})
	}
	return g, phones(db, r, g)
}

// phones lists the units of the hosts and the newest builds that they carry: a verdict on an older one is aged.
func phones(db *gorm.DB, r *Room, g *gathered) error {
	var ids []string
	for _, h := range g.hosts {
		ids = append(ids, h.ID)
	}
	err := db.Raw("SELECT u.id, u.name, s.model_id, u.build FROM units u JOIN studies s ON s.id = u.study_id "+
		"WHERE s.model_id IN ? AND u.deleted_at IS NULL AND s.deleted_at IS NULL ORDER BY u.id DESC LIMIT 500", ids).
		Scan(&r.Phones).Error
	if r.Phones == nil {
		r.Phones = []Phone{}
	}
	for _, p := range r.Phones {
		if p.Build != "" && older(g.in.Newest[p.ModelID], p.Build) {
			g.in.Newest[p.ModelID] = p.Build
		}
	}
	return err
}

// older compares builds number by number.
func older(a, b string) bool {
	p, q := digits.FindAllString(a, -1), digits.FindAllString(b, -1)
	for i := range min(len(p), len(q)) {
		x, _ := strconv.Atoi(p[i])
		y, _ := strconv.Atoi(q[i])
		if x != y {
			return x < y
		}
	}
	return len(p) < len(q)
}

var digits = regexp.MustCompile(`\d+`)

func guess(p store.Part) string {
	for _, name := range append([]string{p.Name}, p.Aliases...) {
		if kind, ok := trade.KindOf(name); ok {
			return kind
		}
	}
	return ""
}

// id makes a feature's name fit the engine's ids, key turns it back.
func id(feature string) string { return strings.ReplaceAll(feature, " ", "-") }

func key(feature string) string { return strings.ReplaceAll(feature, "-", " ") }

func features(list map[string]quantity.Quantity) map[string]fit.Measure {
	out := map[string]fit.Measure{}
	for name, q := range list {
		if _, known := Features[name]; known && q.Unit == cmp.Or(units[name], "mm") {
			m := fit.Measure{Value: q.Value, U: q.U}
			if q.Unit == "pins" { // counted, not measured
				m.U = 0
			}
			out[id(name)] = m
		}
	}
	return out
}

// generation is how late a model comes: by its predecessors, else by the first number in its name.
func generation(m store.Model, all []store.Model) float64 {
	n, at := 1.0, m
	for range 20 {
		k := slices.IndexFunc(all, func(o store.Model) bool {
			return o.Maker == at.Maker && o.Name == strings.TrimSpace(at.Predecessor) && o.ID != at.ID
		})
		if k < 0 {
			break
		}
		n++
		at = all[k]
	}
	if d := digits.FindString(at.Name); d != "" {
		if first, err := strconv.ParseFloat(d, 64); err == nil {
			return first + n - 1
		}
	}
	return n
}

func (g *gathered) host(r *Room, k *model.Record, all []store.Model) {
	p := *k.OfKind(r.Kind)
	g.hosts = append(g.hosts, k)
	g.part[k.ID] = p
	if w := k.WayTo(p.ID); w != nil && w.Blocked == "" {
		g.ways[k.ID] = w
	}
	l := Line{
		ID:       k.ID,
		Name:     k.Name,
		PartID:   p.ID,
		Code:     p.ConnectorCode,
		Measures: model.Quantities(p),
		Demand:   1,
		Version:  p.Version,
	}
	m := fit.Model{ID: k.ID, Generation: generation(k.Model, all), Features: features(l.Measures), Code: p.ConnectorCode}
	if p.WorthMinor > 0 && (r.Currency == "" || p.Currency == r.Currency) {
		r.Currency = p.Currency
		l.Price = p.WorthMinor
		price := float64(p.WorthMinor)
		m.Price = &price
	}
	if n := k.Jobs(p.ID); n > 0 {
		l.Demand = float64(n)
	}
	m.Demand = &l.Demand
	g.in.Models = append(g.in.Models, m)
	r.Lines = append(r.Lines, l)
}

func (g *gathered) lot(r *Room, row store.Lot) {
	l := Line{
		ID:       row.ID,
		Name:     row.Name,
		Copy:     true,
		For:      row.ModelID,
		Measures: model.Measured(row.Measures),
		Version:  row.Version,
	}
	c := fit.Copy{ID: row.ID, For: row.ModelID, Features: features(l.Measures)}
	if row.PriceMinor > 0 && (r.Currency == "" || row.Currency == r.Currency) {
		r.Currency = row.Currency
		l.Price = row.PriceMinor
		price := float64(row.PriceMinor)
		c.Price = &price
	}
	g.in.Copies = append(g.in.Copies, c)
	r.Lines = append(r.Lines, l)
}
