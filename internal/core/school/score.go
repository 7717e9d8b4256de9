package school

import (
	"fmt"
	"math"
	"slices"
)

// Line is one criterion: its points alone, its points at the two ends, and what it costs at the high and the low end.
type Line struct {
	ID     string     `json:"id"`
	Facts  []string   `json:"facts" nullable:"false"`
	Weight float64    `json:"weight"`
	Points [2]float64 `json:"points"`
	AtEnds [2]float64 `json:"at_ends"`
	Costs  [2]float64 `json:"costs"`
}

// Outcome is the range once a fact has this value.
type Outcome struct {
	Value any        `json:"value"`
	Range [2]float64 `json:"range"`
}

// Narrow is what finding a fact out would do.
type Narrow struct {
	Fact          string    `json:"fact"`
	Why           string    `json:"why" enum:"missing,uncertain"`
	Least         float64   `json:"least"`
	Most          float64   `json:"most"`
	Mean          float64   `json:"mean"`
	Minutes       float64   `json:"minutes"`
	MeanPerMinute float64   `json:"mean_per_minute"`
	Class         string    `json:"class" enum:"settled,settles,may settle,stays open"`
	Orders        []string  `json:"orders,omitempty" nullable:"false"`
	Outcomes      []Outcome `json:"outcomes,omitempty" nullable:"false"`
}

// Change is what a fact at its aim would gain at the low and at the high end.
type Change struct {
	Fact string     `json:"fact"`
	To   any        `json:"to"`
	Gain [2]float64 `json:"gain"`
}

// Aged is a fact seen on another build: what the range would be if it were open again.
type Aged struct {
	Fact  string     `json:"fact"`
	Build string     `json:"build"`
	Range [2]float64 `json:"range"`
}

// Stamp says of when and what a score is.
type Stamp struct {
	Date    string `json:"date,omitempty"`
	Build   string `json:"build,omitempty"`
	Rubric  string `json:"rubric"`
	Version string `json:"version"`
	Oldest  string `json:"oldest,omitempty"`
}

// Score is a model under a rubric.
type Score struct {
	Model       string                `json:"model"`
	Rubric      string                `json:"rubric"`
	Range       [2]float64            `json:"range"`
	IfSure      [2]float64            `json:"if_sure"`
	Point       *float64              `json:"point"`
	U           *float64              `json:"u"`
	Exact       bool                  `json:"exact"`
	LowAt       map[string]any        `json:"low_at"`
	HighAt      map[string]any        `json:"high_at"`
	Classes     []string              `json:"classes" nullable:"false"`
	Jobs        map[string][2]float64 `json:"jobs"`
	Gates       [2]string             `json:"gates"`
	Criteria    []Line                `json:"criteria" nullable:"false"`
	CostsMost   string                `json:"costs_most"`
	Narrow      []Narrow              `json:"narrow" nullable:"false"`
	Changes     []Change              `json:"changes" nullable:"false"`
	Aged        []Aged                `json:"aged" nullable:"false"`
	Judged      map[string]*Judged    `json:"judged"`
	Provisional bool                  `json:"provisional"`
	Because     []string              `json:"because" nullable:"false"`
	Confirm     []string              `json:"confirm" nullable:"false"`
	Stamp       Stamp                 `json:"stamp"`
}

// scored is a score with what later questions need of it.
type scored struct {
	Score
	p     *problem
	state state
	rule  *rule
}

// of is what may be true of the facts that a rubric uses.
func (s *rule) of(st state) (x, sure map[string][]float64) {
	x, sure = map[string][]float64{}, map[string][]float64{}
	for _, f := range s.facts {
		x[f], sure[f] = st[f].x, st[f].sure
	}
	return x, sure
}

// with replaces what may be true of one fact.
func with(x map[string][]float64, fact string, values []float64) map[string][]float64 {
	out := make(map[string][]float64, len(x))
	for f, v := range x {
		out[f] = v
	}
	out[fact] = values
	return out
}

func (s *rule) score(m Model, st state, effort int) *scored {
	x, sure := s.of(st)
	p := s.problem(x, effort)
	o := &scored{p: p, state: st, rule: s}
	o.Score = Score{Model: m.ID, Rubric: s.ID, LowAt: map[string]any{}, HighAt: map[string]any{}, Jobs: map[string][2]float64{},
		Narrow: []Narrow{}, Changes: []Change{}, Aged: []Aged{}, Judged: map[string]*Judged{}, Because: []string{},
		Confirm: s.confirm, Criteria: []Line{}, Stamp: Stamp{Date: m.Date, Build: m.Build, Rubric: s.ID, Version: s.Version}}
	var at [2]assignment
	exact := [2]bool{}
	for end := range at {
		var apart []assignment
		o.Range[end], apart, exact[end] = p.end(end, nil)
		at[end] = merged(apart...)
	}
	o.Exact = exact[low] && exact[high]
	missing, uncertain := 0, 0
	for _, f := range s.facts {
		k := st[f]
		if !k.open() {
			continue
		}
		if k.missing() {
			missing++
		} else {
			uncertain++
		}
		o.LowAt[f], o.HighAt[f] = s.known[f].say(at[low][f]), s.known[f].say(at[high][f])
	}
	o.IfSure[low], o.IfSure[high], _ = s.problem(sure, effort).between(nil)
	if missing == 0 {
		o.point(sure)
	}
	o.Classes = s.classes(o.Range[low], o.Range[high])
	o.lines(at, effort)
	for end := range at {
		sum := 0.0
		for i, n := range s.criteria {
			sum += s.weights[i] * n.points(at[end])
		}
		for i, g := range s.gates {
			if v := g.points(at[end]); v < sum-1e-12 {
				sum, o.Gates[end] = v, s.Rubric.Gates[i].ID
			}
		}
	}
	o.changes(x)
	o.aged(m, x)
	for _, f := range s.facts {
		if j := st[f].judged; j != nil {
			o.Judged[f] = j
		}
		if v := st[f].value; v != nil && v.Date != "" && (o.Stamp.Oldest == "" || v.Date < o.Stamp.Oldest) {
			o.Stamp.Oldest = v.Date
		}
	}
	for _, b := range []struct {
		n    int
		what string
	}{{missing, "facts missing"}, {uncertain, "facts uncertain"}, {len(o.Aged), "facts aged"},
		{len(s.confirm), "constants to confirm"}} {
		if b.n > 0 {
			o.Because = append(o.Because, fmt.Sprintf("%d %s", b.n, b.what))
		}
	}
	o.Provisional = len(o.Because) > 0
	return o
}

// point is the score at the sure values, with its standard uncertainty (JCGM 100:2008, facts independent).
func (o *scored) point(sure map[string][]float64) {
	a := assignment{}
	for f, x := range sure {
		a[f] = x[0]
	}
	v := o.rule.whole(a)
	o.Point = &v
	sum, any := 0.0, false
	for _, f := range o.rule.facts {
		u := o.state[f].u
		if u <= 0 {
			continue
		}
		any = true
		g := o.rule.known[f]
		up, down := assignment{}, assignment{}
		for k, x := range a {
			up[k], down[k] = x, x
		}
		up[f], down[f] = g.clip(a[f]+u), g.clip(a[f]-u)
		d := (o.rule.whole(up) - o.rule.whole(down)) / 2
		sum += d * d
	}
	if any {
		u := math.Sqrt(sum)
		o.U = &u
	}
}

// lines are the criteria, and the jobs.
func (o *scored) lines(at [2]assignment, effort int) {
	s := o.rule
	most := -1.0
	for i, n := range s.criteria {
		l := Line{ID: s.Rubric.Criteria[i].ID, Facts: []string{}, Weight: s.weights[i]}
		own := map[string][]float64{}
		for _, f := range n.facts() {
			own[f] = o.state[f].x
			if !slices.Contains(l.Facts, f) {
				l.Facts = append(l.Facts, f)
			}
		}
		slices.Sort(l.Facts)
		alone := only(apart(1, n), own, effort)
		l.Points[low], l.Points[high], _ = alone.between(nil)
		l.AtEnds = [2]float64{n.points(at[low]), n.points(at[high])}
		l.Costs = [2]float64{s.weights[i] * (s.Scale[1] - l.AtEnds[high]), s.weights[i] * (s.Scale[1] - l.AtEnds[low])}
		if c := l.Costs[0] + l.Costs[1]; c > most+1e-12 {
			most, o.CostsMost = c, l.ID
		}
		o.Criteria = append(o.Criteria, l)
	}
	for job := range s.Rubric.Jobs {
		var terms []term
		own := map[string][]float64{}
		sum := 0.0
		for i, c := range s.Rubric.Criteria {
			if c.job() == job {
				sum += s.weights[i]
			}
		}
		for i, c := range s.Rubric.Criteria {
			if c.job() != job {
				continue
			}
			terms = append(terms, apart(s.weights[i]/sum, s.criteria[i])...)
			for _, f := range s.criteria[i].facts() {
				own[f] = o.state[f].x
			}
		}
		lo, hi, _ := only(terms, own, effort).between(nil)
		o.Jobs[job] = [2]float64{lo, hi}
	}
}

func (o *scored) changes(x map[string][]float64) {
	for _, f := range o.rule.facts {
		g := o.rule.known[f]
		if g.Aim == nil {
			continue
		}
		aim, err := g.read("", g.Aim)
		if err != nil {
			continue
		}
		lo, hi, _ := o.p.with(with(x, f, []float64{aim}), f).between(nil)
		c := Change{Fact: f, To: g.Aim, Gain: [2]float64{math.Max(0, lo-o.Range[low]), math.Max(0, hi-o.Range[high])}}
		for i := range c.Gain {
			if c.Gain[i] < 1e-12 {
				c.Gain[i] = 0
			}
		}
		if c.Gain[0]+c.Gain[1] > 0 {
			o.Changes = append(o.Changes, c)
		}
	}
	byGreatest(o.Changes, func(c Change) float64 { return c.Gain[0] + c.Gain[1] }, func(c Change) string { return c.Fact })
}

func (o *scored) aged(m Model, x map[string][]float64) {
	for _, f := range o.rule.facts {
		g := o.rule.known[f]
		v, known := m.Facts[f]
		if !g.BuildBound || !known || v.Build == "" || m.Build == "" || v.Build == m.Build {
			continue
		}
		lo, hi, _ := o.p.with(with(x, f, g.all), f).between(nil)
		o.Aged = append(o.Aged, Aged{f, v.Build, [2]float64{lo, hi}})
	}
}

// narrows says for every open fact what finding it out would do; others are the scores of the other models by this rule.
func (o *scored) narrows(others []*scored) {
	width := o.Range[high] - o.Range[low]
	for _, f := range o.rule.facts {
		k := o.state[f]
		if !k.open() {
			continue
		}
		g := o.rule.known[f]
		n := Narrow{Fact: f, Why: "uncertain", Least: math.Inf(1), Most: math.Inf(-1), Class: "stays open"}
		if k.missing() {
			n.Why = "missing"
		}
		if g.Minutes != nil {
			n.Minutes = *g.Minutes
		}
		if k.value != nil && k.value.Minutes != nil {
			n.Minutes = *k.value.Minutes
		}
		ranges := o.given(f, k.x)
		settled, may := true, false
		for i, r := range ranges {
			d := math.Max(0, width-(r[high]-r[low]))
			if d < 1e-12 {
				d = 0
			}
			n.Least, n.Most, n.Mean = math.Min(n.Least, d), math.Max(n.Most, d), n.Mean+d/float64(len(ranges))
			one := len(o.rule.classes(r[low], r[high])) <= 1
			settled, may = settled && one, may || one
			if g.choice || len(k.x) <= 12 {
				n.Outcomes = append(n.Outcomes, Outcome{g.say(k.x[i]), r})
			}
		}
		switch {
		case len(o.Classes) <= 1:
			n.Class = "settled"
		case settled:
			n.Class = "settles"
		case may:
			n.Class = "may settle"
		}
		if n.Minutes > 0 {
			n.MeanPerMinute = n.Mean / n.Minutes
		}
		for _, other := range others {
			if !openOrder(o.Range, other.Range) {
				continue
			}
			if slices.ContainsFunc(ranges, func(r [2]float64) bool { return !openOrder(r, other.Range) }) {
				n.Orders = append(n.Orders, other.Model)
			}
		}
		o.Narrow = append(o.Narrow, n)
	}
	slices.SortStableFunc(o.Narrow, func(a, b Narrow) int {
		for _, d := range []float64{b.MeanPerMinute - a.MeanPerMinute, b.Mean - a.Mean} {
			if math.Abs(d) > 1e-12 {
				if d < 0 {
					return -1
				}
				return 1
			}
		}
		if a.Fact < b.Fact {
			return -1
		}
		return 1
	})
}

// openOrder says that two ranges overlap: neither is surely above.
func openOrder(a, b [2]float64) bool { return a[low] <= b[high]+whisker && b[low] <= a[high]+whisker }

// given is the range with each value of a fact. Where nothing else is mixed only the terms that use it are worked out
// anew.
func (o *scored) given(f string, x []float64) [][2]float64 {
	out := make([][2]float64, len(x))
	for end := range 2 {
		a := assignment{}
		mixed := false
		for _, g := range o.rule.facts {
			d := o.p.domain(end, g, nil)
			a[g] = d[0]
			mixed = mixed || g != f && len(d) > 1
		}
		if mixed {
			for i, v := range x {
				out[i][end], _, _ = o.p.end(end, assignment{f: v})
			}
			continue
		}
		rest := 0.0
		var mine []term
		for _, g := range o.p.groups {
			for _, t := range g.terms {
				if slices.Contains(t.n.facts(), f) {
					mine = append(mine, t)
				} else {
					rest += t.w * t.n.points(a)
				}
			}
		}
		for i, v := range x {
			a[f] = v
			sum := rest
			for _, t := range mine {
				sum += t.w * t.n.points(a)
			}
			for _, g := range o.p.gates {
				sum = math.Min(sum, g.points(a))
			}
			out[i][end] = sum
		}
	}
	return out
}
