// Package score is the room of scorecards: every school beside the others, each as a range over what is not known yet.
package score

import (
	"cmp"
	"context"
	"encoding/json"
	"maps"
	"math"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/rating"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/school"
	"waryowl/internal/store"
)

// Line is a criterion with its name, whose weight it is, and what it costs.
type Line struct {
	school.Line
	Title     string `json:"title"`
	Job       string `json:"job,omitempty"`
	Certainty string `json:"certainty"`
	Source    string `json:"source"`
}

// School is what one rubric makes of the model.
type School struct {
	Score      school.Score `json:"score"`
	Title      string       `json:"title"`
	About      string       `json:"about,omitempty"`
	Scale      [2]float64   `json:"scale"`
	Digits     int          `json:"digits"`
	Unofficial bool         `json:"unofficial"`
	Draft      bool         `json:"draft"`
	Own        string       `json:"own,omitempty" doc:"id of the row, of a rule that somebody drafted"`
	Saw        int          `json:"saw,omitempty" doc:"its version"`
	Author     string       `json:"author,omitempty"`
	Lines      []Line       `json:"lines" nullable:"false" doc:"by what they cost, the dearest first"`
	Range      string       `json:"range" doc:"in words, with the day and the software that it holds for"`
}

// Fact is one fact with its question and how it is known.
type Fact struct {
	rating.Known
	Def    school.Fact `json:"def"`
	Words  string      `json:"said" doc:"its value in words"`
	Behind string      `json:"behind,omitempty" doc:"what stands behind it"`
	Judged bool        `json:"judged"`
	Money  bool        `json:"money"`
	Asked  bool        `json:"asked" doc:"people may say it"`
	Shop   bool        `json:"shop" doc:"holds for the workshop"`
	Used   []string    `json:"used" nullable:"false" doc:"schools that ask for it"`
	Alpha  *float64    `json:"alpha" doc:"agreement of the judges (Krippendorff)"`
}

// Hourly is what a job leaves for an hour of work, in minor units.
type Hourly struct {
	Job      string   `json:"job"`
	Usual    *float64 `json:"usual" doc:"at the likeliest of each; null while one of them is not known"`
	Low      float64  `json:"low"`
	High     float64  `json:"high"`
	Currency string   `json:"currency"`
}

// Room is the room of scores.
type Room struct {
	Model    store.Model       `json:"model"`
	Answer   answer.Sentence   `json:"answer" nullable:"false"`
	Build    string            `json:"build"`
	Date     string            `json:"date"`
	Currency string            `json:"currency"`
	Schools  []School          `json:"schools" nullable:"false"`
	Jobs     []string          `json:"jobs" nullable:"false" doc:"the common jobs, in their order"`
	Facts    []Fact            `json:"facts" nullable:"false"`
	Hourly   []Hourly          `json:"hourly" nullable:"false"`
	Marks    []store.ScoreMark `json:"marks" nullable:"false" doc:"kept states, the newest first"`
	Moved    []school.Moved    `json:"moved" nullable:"false" doc:"what moved each school since the kept state"`
	Since    string            `json:"since,omitempty" doc:"the kept state"`
}

// most are the kept states that are listed.
const mostMarks = 20

// Show rates a model by every school; mark is the kept state that it is compared with, the newest when empty.
func Show(ctx context.Context, s *act.Service, modelID, mark string) (Room, error) {
	db := s.DB.WithContext(ctx)
	today := s.Now().Format("2006-01-02")
	known, err := rating.Load(db, []string{modelID}, today)
	if err != nil {
		return Room{}, err
	}
	r := known[modelID]
	if r == nil {
		return Room{}, store.ErrNotFound
	}
	rules, own, err := rating.Rules(db)
	if err != nil {
		return Room{}, err
	}
	v := Room{Model: r.Know.Model, Build: r.Build, Date: today, Currency: r.Currency, Schools: []School{},
		Jobs: rating.CommonJobs, Facts: []Fact{}, Moved: []school.Moved{}, Hourly: hourly(r)}
	no := false
	in := school.Input{Facts: school.Facts(), Rubrics: rules, Shop: r.ShopFacts(), Models: []school.Model{r.Model()},
		Compare: &no}
	out, err := school.Solve(in)
	if err != nil {
		return Room{}, err
	}
	for i, sc := range out.Scores {
		v.Schools = append(v.Schools, dress(sc, rules[i], own))
	}
	v.facts(r, rules)
	v.sentence()
	if err := v.alphas(); err != nil {
		return Room{}, err
	}
	if v.Marks, err = marks(db, modelID); err != nil {
		return Room{}, err
	}
	return v, v.since(in, mark)
}

func dress(sc school.Score, b school.Rubric, own map[string]store.Rubric) School {
	x := School{Score: sc, Title: cmp.Or(b.Title, b.ID), About: b.About, Scale: [2]float64{b.Scale[0], b.Scale[1]},
		Digits: 1, Unofficial: school.Unofficial(b), Lines: []Line{}, Range: rating.Stamped(sc, b)}
	if b.Digits != nil {
		x.Digits = *b.Digits
	}
	if row, drafted := own[b.ID]; drafted {
		x.Own, x.Saw, x.Draft, x.Author = row.ID, row.Version, !row.Published, row.Author
	}
	for _, l := range sc.Criteria {
		k := slices.IndexFunc(b.Criteria, func(c school.Criterion) bool { return c.ID == l.ID })
		c := b.Criteria[k]
		line := Line{Line: l, Title: cmp.Or(c.Title, c.ID), Job: c.Job}
		if c.Note != nil {
			line.Certainty, line.Source = c.Note.Certainty, c.Note.Source
		}
		x.Lines = append(x.Lines, line)
	}
	slices.SortStableFunc(x.Lines, func(a, b Line) int {
		return cmp.Compare(b.Costs[0]+b.Costs[1], a.Costs[0]+a.Costs[1])
	})
	return x
}

// facts lists every fact that some school asks for, those that are used most first within the order of their ids.
func (v *Room) facts(r *rating.Record, rules []school.Rubric) {
	used := map[string][]string{}
	for _, b := range rules {
		ids, err := school.Uses(b)
		if err != nil {
			continue
		}
		for _, id := range ids {
			used[id] = append(used[id], b.ID)
		}
	}
	defs := school.Facts()
	for _, id := range slices.Sorted(maps.Keys(used)) {
		o, _ := rating.OriginOf(id)
		k := *r.Facts[id]
		f := Fact{Known: k, Def: defs[id], Words: rating.Words(defs[id], k.Value, k.Known, r.Currency, o.Money),
			Behind: k.Words, Judged: o.Judged, Money: o.Money, Asked: o.Engine == "" || o.Beside, Shop: rating.Shop(id),
			Used: used[id]}
		f.Known.Words = ""
		job, _, of := strings.Cut(id, ".")
		if job = strings.ReplaceAll(job, "-", " "); of && o.Money && rating.OfJob(id) &&
			!strings.Contains(strings.ReplaceAll(f.Def.Title, "-", " "), job) {
			f.Def.Title += " (" + job + ")" // "what that damage costs" is asked of each job
		}
		v.Facts = append(v.Facts, f)
	}
}

// sentence says the first three schools and the one test that moves most.
func (v *Room) sentence() {
	first := v.Schools[:min(3, len(v.Schools))]
	best, moves, of := "", 0.0, ""
	for i, x := range first {
		if i > 0 {
			v.Answer = append(v.Answer, answer.Text(", "))
		}
		title := x.Title
		if i > 0 {
			title = strings.ToLower(title[:1]) + title[1:]
		}
		v.Answer = append(v.Answer, answer.Name(title, "#"+x.Score.Rubric), answer.Text(" "),
			rating.Points(x.Score.Range, "#"+x.Score.Rubric))
		for _, n := range x.Score.Narrow {
			if n.Most > moves+1e-9 {
				best, moves, of = n.Fact, n.Most, x.Score.Rubric
			}
		}
	}
	if best == "" {
		v.Answer = append(v.Answer, answer.Text(". Nothing is open."))
		return
	}
	k := slices.IndexFunc(v.Facts, func(f Fact) bool { return f.ID == best })
	title := cmp.Or(v.Facts[k].Def.Title, best)
	v.Answer = append(
		v.Answer,
		answer.Text(". One test ("),
		answer.Name(strings.ToLower(title[:1])+title[1:], "#narrow"),
		answer.Text(") moves up to "),
		answer.Number(moves, "points", "#narrow"),
		answer.Text(" points of “"+v.titleOf(of)+"”."),
	)
}

func (v *Room) titleOf(rubric string) string {
	k := slices.IndexFunc(v.Schools, func(x School) bool { return x.Score.Rubric == rubric })
	return v.Schools[k].Title
}

// alphas says for each judged fact how far its judges agree.
func (v *Room) alphas() error {
	in := school.Input{}
	for _, f := range v.Facts {
		if !f.Judged || len(f.Sayings) < 2 {
			continue
		}
		units := map[string]map[string]float64{}
		for _, s := range f.Sayings {
			at := slices.Index(f.Def.Values, s.Choice)
			if at < 0 {
				continue
			}
			unit := cmp.Or(s.Unit, "a phone")
			if units[unit] == nil {
				units[unit] = map[string]float64{}
			}
			if _, said := units[unit][s.By]; !said { // the newest comes first
				units[unit][s.By] = float64(at)
			}
		}
		in.Ratings = append(in.Ratings, school.Rating{ID: f.ID, Metric: "ordinal", Units: units})
	}
	out, err := school.Solve(in)
	if err != nil {
		return err
	}
	for i := range v.Facts {
		v.Facts[i].Alpha = out.Alpha[v.Facts[i].ID]
	}
	return nil
}

// since says what moved every school since a kept state.
func (v *Room) since(in school.Input, mark string) error {
	if len(v.Marks) == 0 {
		if mark != "" {
			return fault.New("mark", mark, "the id of a kept state of this model")
		}
		return nil
	}
	at := 0
	if mark != "" {
		if at = slices.IndexFunc(v.Marks, func(m store.ScoreMark) bool { return m.ID == mark }); at < 0 {
			return fault.New("mark", mark, "the id of a kept state of this model")
		}
	}
	m := v.Marks[at]
	then := map[string]school.Value{}
	if json.Unmarshal([]byte(m.Facts), &then) != nil {
		return nil // a stored value never breaks the room
	}
	for id := range then {
		if _, known := in.Facts[id]; !known {
			delete(then, id)
		}
	}
	// What holds for the workshop is part of a kept state: it goes with the model on both sides.
	now := in.Models[0]
	now.Facts = maps.Clone(now.Facts)
	for id, x := range in.Shop {
		now.Facts[id] = x
	}
	in.Shop = nil
	in.Models = []school.Model{now, {ID: m.ID, Date: m.TakenAt.Format("2006-01-02"), Build: m.Build, Facts: then}}
	for _, b := range in.Rubrics {
		in.Diffs = append(in.Diffs, school.Diff{Model: now.ID, Was: m.ID, Rubric: b.ID})
	}
	out, err := school.Solve(in)
	if err != nil {
		return nil // the kept state does not fit the facts of today
	}
	v.Moved, v.Since = out.Diffs, m.ID
	return nil
}

// hourly is what each common job leaves for an hour: the price as the job will be paid, less part and damage, over the
// minutes; only where price and part are known at all.
func hourly(r *rating.Record) []Hourly {
	list := []Hourly{}
	for _, job := range rating.CommonJobs {
		price, ok1 := r.Ends(job + ".job-price")
		part, ok2 := r.Ends(job + ".part-price")
		minutes, ok3 := r.Ends(job + ".minutes")
		if !ok1 || !ok2 || !ok3 {
			continue
		}
		odds, ok4 := r.Within(job + ".odds")
		cost, ok5 := r.Within(job + ".damage-cost")
		lo, hi := math.Inf(1), math.Inf(-1)
		for _, m := range minutes {
			lo = min(lo, 60*(price[0]-part[1]-odds[1]*cost[1])/m)
			hi = max(hi, 60*(price[1]-part[0]-odds[0]*cost[0])/m)
		}
		var usual *float64
		if ok4 && ok5 {
			at := func(what string) float64 { return r.Likeliest(job + what) }
			x := 60 * (at(".job-price") - at(".part-price") - at(".odds")*at(".damage-cost")) / at(".minutes")
			usual = &x
		}
		list = append(list, Hourly{job, usual, lo, hi, r.Currency})
	}
	return list
}
