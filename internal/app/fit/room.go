package fit

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/fit"
	"waryowl/internal/core/quantity"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

const (
	mostModels     = 12
	mostTests      = 200
	mostCandidates = 60
	usualMinutes   = 45.0 // of a test where a phone has no way yet (house)
	fitMinutes     = 3.0  // seating a piece and its connector (house)
)

// Features are the measures that say whether a piece seats and its connector mates. Slack and spread are house figures.
var Features = map[string]fit.Feature{
	"thickness":        {Governs: "seat", Slack: 0.15, Spread: 0.05},
	"width":            {Governs: "seat", Slack: 0.3, Spread: 0.1},
	"height":           {Governs: "seat", Slack: 0.3, Spread: 0.1},
	"connector width":  {Governs: "mate", Slack: 0.1, Spread: 0.02},
	"connector pitch":  {Governs: "mate", Slack: 0.02, Spread: 0.005},
	"connector height": {Governs: "mate", Slack: 0.1, Spread: 0.02},
	"connector pins":   {Governs: "mate", Slack: 0.5, Spread: 0.1},
	"mass":             {Governs: "none", Spread: 0.3},
}

// units are those in which a feature counts.
var units = map[string]string{"mass": "g", "connector pins": "pins"}

// Choice is a kind of part that the room can be asked about.
type Choice struct {
	Kind   string `json:"kind"`
	Name   string `json:"name"`
	Models int    `json:"models"`
	Tests  int    `json:"tests"`
}

// Line is a model's own piece, or a lot of copies.
type Line struct {
	ID       string                       `json:"id"`
	Name     string                       `json:"name"`
	Copy     bool                         `json:"copy"`
	For      string                       `json:"for,omitempty" doc:"model of a copy"`
	PartID   string                       `json:"part_id,omitempty"`
	Code     string                       `json:"code,omitempty"`
	Price    int                          `json:"price_minor,omitempty"`
	Demand   float64                      `json:"demand,omitempty" doc:"jobs of this kind that were counted; 1 where none was"`
	Measures map[string]quantity.Quantity `json:"measures"`
	Version  int                          `json:"version"`
}

// Seen is a test with who made it where.
type Seen struct {
	fit.Test
	Version int     `json:"version,omitempty" doc:"of a test recorded here; trials are changed in their study"`
	Trial   string  `json:"trial,omitempty" doc:"study of the trial that it is"`
	Study   string  `json:"study_id,omitempty"`
	Piece   string  `json:"piece,omitempty"`
	Apart   string  `json:"apart,omitempty"`
	Minutes float64 `json:"minutes,omitempty"`
	Note    string  `json:"note,omitempty"`
}

// Advice is a test worth making.
type Advice struct {
	fit.Next
	Donor   string  `json:"donor"`
	Host    string  `json:"host"`
	Minutes float64 `json:"minutes"`
	Assumed bool    `json:"assumed" doc:"a phone without a way: the minutes are assumed"`
	Stop    string  `json:"stop,omitempty" doc:"what the measures say before anything is mated"`
}

// Visit is one opening of a host, with all tests that are made while it lies open.
type Visit struct {
	Host    string   `json:"host"`
	Donors  []string `json:"donors" nullable:"false"`
	Minutes float64  `json:"minutes"`
	Bits    float64  `json:"bits"`
}

// Phone is a unit of a study of one of the hosts.
type Phone struct {
	ID      string `json:"id"`
	Name    string `json:"name"`
	ModelID string `json:"model_id"`
	Build   string `json:"build,omitempty"`
}

// Check is a function that a piece may cost.
type Check struct {
	Mark string `json:"mark"`
	Name string `json:"name"`
}

// Room is what stands in for what of one kind of part.
type Room struct {
	Kind       string                 `json:"kind"`
	Name       string                 `json:"name"`
	Kinds      []Choice               `json:"kinds" nullable:"false"`
	Level      string                 `json:"level"`
	Confidence float64                `json:"confidence"`
	Ladder     []string               `json:"ladder" nullable:"false"`
	Answer     answer.Sentence        `json:"answer" nullable:"false"`
	Lines      []Line                 `json:"lines" nullable:"false" doc:"models, then copies"`
	Found      fit.Output             `json:"found"`
	Tests      []Seen                 `json:"tests" nullable:"false"`
	Next       []Advice               `json:"next" nullable:"false"`
	Visits     []Visit                `json:"visits" nullable:"false"`
	Tried      int                    `json:"tried" doc:"ordered pairs of models with a test"`
	Of         int                    `json:"of"`
	Left       []string               `json:"left" nullable:"false" doc:"models beyond the twelve that are weighed at once"`
	Currency   string                 `json:"currency,omitempty"`
	Features   map[string]fit.Feature `json:"features"`
	Phones     []Phone                `json:"phones" nullable:"false" doc:"that pieces may be fitted in"`
	Checks     []Check                `json:"checks" nullable:"false"`
	Conditions []string               `json:"conditions" nullable:"false"`
}

// Ask is what is asked of the room: From narrows it to the family of a model.
type Ask struct {
	Kind, From, Level string
	Confidence        float64
}

// Show weighs everything that is known about one kind of part.
func Show(ctx context.Context, s *act.Service, q Ask) (Room, error) {
	kind, known := trade.KindByID(q.Kind)
	if !known {
		return Room{}, fault.New("kind", q.Kind, "a kind of part of the catalogue")
	}
	db := s.DB.WithContext(ctx)
	r := Room{Kind: q.Kind, Name: strings.ReplaceAll(kind.ID, "-", " "), Level: q.Level, Confidence: q.Confidence, Ladder: fit.Ladder,
		Lines: []Line{}, Tests: []Seen{}, Next: []Advice{}, Visits: []Visit{}, Phones: []Phone{}, Checks: []Check{}, Left: []string{}, Features: Features,
		Conditions: fit.Conditions, Kinds: []Choice{}}
	g, err := gather(db, &r, q)
	if err != nil {
		return Room{}, err
	}
	if len(g.hosts) == 0 {
		r.Found = fit.Output{Pairs: []fit.Pair{}, Groups: []fit.Group{}, Suspects: []fit.Suspect{},
			Contradictions: []fit.Contradiction{}, Ignored: []string{}, Next: []fit.Next{}, Unneeded: []fit.Unneeded{},
			Fewest: fit.Stock{Lines: []string{}, Serves: map[string]string{}, Unserved: []string{}, Untested: []string{}},
			Naive:  fit.Stock{Lines: []string{}, Serves: map[string]string{}, Unserved: []string{}, Untested: []string{}}}
		r.Answer = answer.Sentence{answer.Text("No model with a " + r.Name + " is on record: add its parts in a strip-down.")}
		return r, nil
	}
	if r.Found, err = fit.Solve(g.in); err != nil {
		return Room{}, err
	}
	g.candidates(&r)
	if r.Found, err = fit.Solve(g.in); err != nil {
		return Room{}, err
	}
	for _, n := range r.Found.Next {
		c := g.in.Candidates[slices.IndexFunc(g.in.Candidates, func(c fit.Candidate) bool { return c.ID == n.ID })]
		_, assumed := g.minutes(c.Donor, c.Host)
		r.Next = append(r.Next, Advice{n, c.Donor, c.Host, c.Minutes, assumed, g.stop(c.Donor, c.Host)})
	}
	r.Visits = g.visits(r.Next)
	hosts := len(g.hosts)
	r.Of = hosts * (hosts - 1)
	tried := map[[2]string]bool{}
	for _, t := range g.in.Tests {
		if t.Donor != t.Host && !t.Damaged && g.isModel(t.Donor) {
			tried[[2]string{t.Donor, t.Host}] = true
		}
	}
	r.Tried = len(tried)
	r.Answer = r.say(g)
	return r, nil
}

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
		Models: []fit.Model{}, Tests: []fit.Test{}, Newest: map[string]string{}}, part: map[string]store.Part{}, ways: map[string]*model.Way{},
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
	if w := k.WayTo(p.ID, nil); w != nil && w.Blocked == "" {
		g.ways[k.ID] = w
	}
	l := Line{ID: k.ID, Name: k.Name, PartID: p.ID, Code: p.ConnectorCode, Measures: model.Quantities(p), Demand: 1, Version: p.Version}
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
	l := Line{ID: row.ID, Name: row.Name, Copy: true, For: row.ModelID, Measures: model.Measured(row.Measures), Version: row.Version}
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

// minutes of one test by itself: the host opened, the piece fitted, started, checked and everything put back; the donor
// opened for its piece. Putting back takes 0.8 of taking out (house).
func (g *gathered) minutes(donor, host string) (minutes float64, assumed bool) {
	open := func(id string) float64 {
		if w := g.ways[id]; w != nil {
			return 1.8 * w.AttendedMinutes
		}
		assumed = true
		return usualMinutes
	}
	minutes = open(host) + g.once()
	if donor != host && g.isModel(donor) {
		minutes += open(donor)
	}
	return minutes, assumed
}

// once is what every fitting takes while the host lies open.
func (g *gathered) once() float64 { return fitMinutes + (model.BootSeconds+g.check)/60 }

// candidates are the tests that could tell something: what is neither proven nor settled by geometry, untested pairs
// first, and own controls where a "no" lacks one.
func (g *gathered) candidates(r *Room) {
	type pair struct {
		donor, host string
		rank        int
	}
	var list []pair
	controls := map[string]bool{}
	settled := map[[2]string]bool{}
	for _, u := range r.Found.Unneeded {
		settled[[2]string{u.Donor, u.Host}] = true
	}
	for _, p := range r.Found.Pairs {
		if slices.Contains(p.Missing, "own control") && p.Reached.N > 0 {
			controls[p.Host] = true
		}
		if p.Donor == p.Host || p.Grade == "open" || settled[[2]string{p.Donor, p.Host}] {
			continue
		}
		list = append(list, pair{p.Donor, p.Host, min(1, p.Reached.N)})
	}
	for h := range controls {
		list = append(list, pair{h, h, 0})
	}
	slices.SortStableFunc(list, func(a, b pair) int {
		return cmp.Or(cmp.Compare(a.rank, b.rank), cmp.Compare(a.host, b.host), cmp.Compare(a.donor, b.donor))
	})
	for i, p := range list[:min(len(list), mostCandidates)] {
		minutes, _ := g.minutes(p.donor, p.host)
		g.in.Candidates = append(g.in.Candidates, fit.Candidate{ID: fmt.Sprintf("c%d", i+1), Donor: p.donor, Host: p.host, Minutes: minutes})
	}
}

// stop is what the measures of two connectors say before anything is mated.
func (g *gathered) stop(donor, host string) string {
	find := func(id string) map[string]fit.Measure {
		for _, m := range g.in.Models {
			if m.ID == id {
				return m.Features
			}
		}
		for _, c := range g.in.Copies {
			if c.ID == id {
				return c.Features
			}
		}
		return nil
	}
	a, b := find(donor), find(host)
	for _, name := range []string{"connector-width", "connector-pitch", "connector-height", "connector-pins"} {
		x, y := a[name], b[name]
		u := math.Hypot(x.U, y.U)
		if d := x.Value - y.Value; x.Value > 0 && y.Value > 0 && math.Abs(d) > 2*u {
			return fmt.Sprintf("%s differs by %+.2f ± %.2f: measure, do not force", key(name), d, u)
		}
	}
	return ""
}

// visits put the tests of one host together, so that every phone is opened once.
func (g *gathered) visits(next []Advice) []Visit {
	by := map[string]*Visit{}
	var hosts []string
	for _, a := range next {
		if a.Bits < 0.01 {
			continue
		}
		v := by[a.Host]
		if v == nil {
			open, _ := g.minutes(a.Host, a.Host)
			v = &Visit{Host: a.Host, Minutes: open - g.once()}
			by[a.Host] = v
			hosts = append(hosts, a.Host)
		}
		v.Donors = append(v.Donors, a.Donor)
		v.Bits += a.Bits
		v.Minutes += g.once()
		if a.Donor != a.Host && g.isModel(a.Donor) {
			if w := g.ways[a.Donor]; w != nil {
				v.Minutes += 1.8 * w.AttendedMinutes
			} else {
				v.Minutes += usualMinutes
			}
		}
	}
	list := []Visit{}
	for _, h := range hosts {
		list = append(list, *by[h])
	}
	slices.SortStableFunc(list, func(a, b Visit) int { return cmp.Compare(b.Bits/b.Minutes, a.Bits/a.Minutes) })
	return list
}

// words of the rungs, after "does" or by themselves.
var rungWords = map[string]string{"no-seat": "does not seat", "no-mate": "its connector does not mate", "dark": "stays dark",
	"lost": "loses functions", "notice": "works, with a notice", "calibrated": "works once calibrated",
	"looks-wrong": "works, looks wrong", "full": "works in full"}

func (r Room) say(g *gathered) answer.Sentence {
	name := func(id string) string {
		for _, l := range r.Lines {
			if l.ID == id {
				return l.Name
			}
		}
		return id
	}
	title := answer.Title(r.Name)
	if len(g.hosts) == 1 {
		return answer.Sentence{answer.Text(title + ": only the "), answer.Name(g.hosts[0].Name, ""),
			answer.Text(" is on record; a second model is needed to ask what stands in for what.")}
	}
	s := answer.Sentence{answer.Text(title + ": ")}
	if best := r.telling(g); best != nil {
		s = append(s, answer.Name(name(best.Donor), "#chart"), answer.Text(" into "), answer.Name(name(best.Host), "#chart"),
			answer.Text(" "+rungWords[best.Level]))
		for _, p := range r.Found.Pairs {
			if p.Donor == best.Host && p.Host == best.Donor {
				s = append(s, answer.Text(", the reverse "+reverse(p)))
			}
		}
		s = append(s, answer.Text("; "))
	}
	s = append(s, answer.Text(fmt.Sprintf("%d of ", r.Tried)), answer.Count(r.Of, "ordered pair", "#chart"), answer.Text(" tried"))
	if n, m := len(r.Found.Fewest.Lines), len(r.Found.Naive.Lines); m > 0 && n < m && len(r.Found.Fewest.Unserved) == 0 {
		s = append(s, answer.Text("; "), answer.Count(n, "line", "#lines"), answer.Text(fmt.Sprintf(" to stock instead of %d", m)))
	}
	return append(s, answer.Text("."))
}

func reverse(p fit.Pair) string {
	switch {
	case p.Reached.N == 0 && max(p.Levels[0]+p.Levels[1], p.Serves) < 0.95:
		return "is untested"
	default:
		return strings.TrimPrefix(rungWords[p.Level], "its ")
	}
}

// telling is the tested pair of models that says most: one that works before one that does not, the surer first.
func (r Room) telling(g *gathered) *fit.Pair {
	var best *fit.Pair
	for i, p := range r.Found.Pairs {
		if p.Donor == p.Host || p.Reached.N == 0 || !g.isModel(p.Donor) {
			continue
		}
		if best == nil || p.Serves > best.Serves {
			best = &r.Found.Pairs[i]
		}
	}
	return best
}
