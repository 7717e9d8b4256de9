package compare

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/quantity"
)

// The values of a matter: same needs data on both sides that are fine enough to see a difference.
const (
	different = "different"
	same      = "same"
	unknown   = "unknown"
	gained    = "gained"
	lost      = "lost"
	none      = "none"
)

// Answer is what the comparison says first.
type Answer struct {
	Bench string `json:"bench" enum:"different,same,unknown"`
	Parts string `json:"parts" enum:"different,same,unknown"`
	Whole string `json:"whole" enum:"different,same,unknown"`
	Lead  int    `json:"lead" doc:"index of the cause that leads the sentence; -1: none"`
	Text  string `json:"text"`
}

// Coverage says on how much of the two phones the answer rests.
type Coverage struct {
	Jobs struct {
		All     int      `json:"all"`
		Both    int      `json:"both"`
		Unknown []string `json:"unknown" nullable:"false"`
	} `json:"jobs"`
	Pairs struct {
		All    int `json:"all"`
		Placed int `json:"placed"`
		Sized  int `json:"sized"`
	} `json:"pairs"`
	Whole struct {
		All  int `json:"all"`
		Both int `json:"both"`
	} `json:"whole"`
}

// TableRow is one job side by side.
type TableRow struct {
	Job         string   `json:"job"`
	State       string   `json:"state" enum:"different,same,gained,lost,none,unknown"`
	MinutesA    *float64 `json:"minutes_a"`
	MinutesB    *float64 `json:"minutes_b"`
	StepsA      *int     `json:"steps_a"`
	StepsB      *int     `json:"steps_b"`
	ToolsGained []string `json:"tools_gained" nullable:"false"`
	ToolsLost   []string `json:"tools_lost" nullable:"false"`
	SideA       string   `json:"side_a"`
	SideB       string   `json:"side_b"`
	MeasuredA   int      `json:"measured_a"`
	MeasuredB   int      `json:"measured_b"`
	Why         string   `json:"why"`
}

// Whole is a measure of the phone on both sides.
type Whole struct {
	Quantity string   `json:"quantity"`
	State    string   `json:"state" enum:"different,same,unknown"`
	Delta    *float64 `json:"delta"`
	U        *float64 `json:"u"`
	Unit     string   `json:"unit"`
	Percent  *float64 `json:"percent"`
	PercentU *float64 `json:"percent_u"`
}

// Separable is a part that comes out by itself now; Bound one that does so no longer. Minutes is null without a way
// in both.
type (
	Separable struct {
		Part    string   `json:"part"`
		Of      string   `json:"of"`
		Job     string   `json:"job"`
		Minutes *float64 `json:"minutes"`
	}
	Bound struct {
		Part    string   `json:"part"`
		Into    string   `json:"into"`
		Job     string   `json:"job"`
		Minutes *float64 `json:"minutes"`
	}
)

// When two ways take as long, and two measures are the same (house).
const (
	sameSeconds = 30.0
	sameShare   = 0.05
	sameWhole   = 0.02
)

// conclude says what the comparison comes to. It changes nothing of the matching.
func (out *Output) conclude(in Input) {
	out.Table, out.Causes, out.Whole = []TableRow{}, []Cause{}, []Whole{}
	out.Separable, out.Bound = []Separable{}, []Bound{}
	out.Coverage.Jobs.Unknown = []string{}
	for _, j := range in.Jobs {
		out.Table = append(out.Table, in.row(j))
	}
	out.measureWhole(in)
	out.causes(in)
	out.apart(in)
	out.effects()
	out.fit(in)
	out.doubts(in)
	out.claims(in)
	out.cover(in)
	out.answer(in)
}

func (in Input) row(j Job) TableRow {
	r := TableRow{Job: j.Job, ToolsGained: []string{}, ToolsLost: []string{}, SideA: j.A.Side, SideB: j.B.Side,
		MeasuredA: j.A.Measured,
		MeasuredB: j.B.Measured}
	figures := func(w Way) (*float64, *int) {
		if !w.there() {
			return nil, nil
		}
		m, n := w.Seconds/60, len(w.Steps)
		return &m, &n
	}
	r.MinutesA, r.StepsA = figures(j.A)
	r.MinutesB, r.StepsB = figures(j.B)
	switch {
	case j.both():
		r.ToolsGained, r.ToolsLost = without(j.B.Tools, j.A.Tools), without(j.A.Tools, j.B.Tools)
		r.State = different
		if len(j.A.Steps) == len(j.B.Steps) && len(r.ToolsGained)+len(r.ToolsLost) == 0 && j.A.Side == j.B.Side &&
			math.Abs(j.B.Seconds-j.A.Seconds) <= max(sameSeconds, sameShare*j.A.Seconds)+1e-9 {
			r.State = same
		}
	case j.A.NoWay != "" && j.B.there():
		r.State, r.Why = gained, in.A.name()+": "+j.A.NoWay
	case j.B.NoWay != "" && j.A.there():
		r.State, r.Why = lost, in.B.name()+": "+j.B.NoWay
	case j.A.NoWay != "" && j.B.NoWay != "":
		r.State, r.Why = none, j.A.NoWay
	default:
		r.State = unknown
		var lacks []string
		for side, w := range []Way{j.A, j.B} {
			if !w.there() && w.NoWay == "" {
				lacks = append(lacks, []Model{in.A, in.B}[side].name())
			}
		}
		r.Why = "no way on record in " + strings.Join(lacks, " and in ")
	}
	return r
}

func (out *Output) measureWhole(in Input) {
	for _, name := range union(in.A.Whole, in.B.Whole) {
		a, hasA := in.A.Whole[name]
		b, hasB := in.B.Whole[name]
		w := Whole{Quantity: name, State: unknown}
		if hasA && hasB && a.Unit == b.Unit {
			out.Coverage.Whole.Both++
			d, _ := quantity.Compare(quantity.Quantity{Value: a.Value, U: a.U, Unit: a.Unit}, // of one unit
				quantity.Quantity{Value: b.Value, U: b.U, Unit: b.Unit})
			w.Delta, w.U, w.Unit = &d.Value, &d.U, d.Unit
			if a.Value != 0 {
				w.Percent, w.PercentU = &d.Percent, &d.PercentU
			}
			switch {
			case d.Resolved:
				w.State = different
			case 2*d.U <= sameWhole*math.Abs(a.Value):
				w.State = same
			}
		}
		out.Whole = append(out.Whole, w)
	}
	out.Coverage.Whole.All = len(out.Whole)
}

func union[T any](a, b map[string]T) []string {
	var names []string
	for n := range a {
		names = append(names, n)
	}
	for n := range b {
		if _, both := a[n]; !both {
			names = append(names, n)
		}
	}
	slices.Sort(names)
	return names
}

// apart lists the parts that come out by themselves now, and those that do so no longer.
func (out *Output) apart(in Input) {
	minutes := func(j *Job) *float64 {
		if j == nil || !j.both() {
			return nil
		}
		m := (j.B.Seconds - j.A.Seconds) / 60
		return &m
	}
	target := func(is func(j Job) bool) (*Job, string) {
		if k := slices.IndexFunc(in.Jobs, is); k >= 0 {
			return &in.Jobs[k], in.Jobs[k].Job
		}
		return nil, ""
	}
	paired := [2]map[string]bool{{}, {}}
	for _, m := range out.Matched {
		paired[0][m.A], paired[1][m.B] = true, true
	}
	with := [2]map[string]string{{}, {}} // lone part: its heir on the other side
	for _, g := range out.Gone {
		with[0][g.Part] = g.With
	}
	for _, g := range out.Added {
		with[1][g.Part] = g.With
		if g.With != "" && paired[0][g.With] {
			j, name := target(func(j Job) bool { return j.Target.B == g.Part })
			out.Separable = append(out.Separable, Separable{g.Part, g.With, name, minutes(j)})
		}
	}
	for _, g := range out.Gone {
		if g.With != "" && paired[1][g.With] {
			j, name := target(func(j Job) bool { return j.Target.A == g.Part })
			out.Bound = append(out.Bound, Bound{g.Part, g.With, name, minutes(j)})
		}
	}
	for k, r := range out.Table {
		j := in.Jobs[k]
		switch {
		case r.State == gained && j.Target.B != "" &&
			!slices.ContainsFunc(out.Separable, func(s Separable) bool { return s.Part == j.Target.B }):
			out.Separable = append(out.Separable, Separable{j.Target.B, cmp.Or(with[1][j.Target.B], j.Target.A), j.Job, nil})
		case r.State == lost && j.Target.A != "" && !slices.ContainsFunc(out.Bound,
			func(s Bound) bool { return s.Part == j.Target.A }):
			out.Bound = append(out.Bound, Bound{j.Target.A, cmp.Or(with[0][j.Target.A], j.Target.B), j.Job, nil})
		}
	}
	slices.SortStableFunc(out.Separable, func(a, b Separable) int { return cmp.Compare(a.Part, b.Part) })
	slices.SortStableFunc(out.Bound, func(a, b Bound) int { return cmp.Compare(a.Part, b.Part) })
}

// effects says of each ranked change what it means. Dearer and cheaper need two prices and are said nowhere.
func (out *Output) effects() {
	for i := range out.Ranked {
		r := &out.Ranked[i]
		switch {
		case !r.gone && slices.ContainsFunc(out.Separable, func(s Separable) bool { return s.Part == r.B }):
			r.Effect = "separable"
		case !r.added && slices.ContainsFunc(out.Bound, func(s Bound) bool { return s.Part == r.A }):
			r.Effect = "bound"
		case r.Minutes <= -leastMinutes+1e-9:
			r.Effect = "easier"
		case r.Minutes >= leastMinutes-1e-9:
			r.Effect = "harder"
		case r.ruled || r.gone || r.added:
			r.Effect = "buyers"
		default:
			r.Effect = none
		}
	}
}

func (out *Output) cover(in Input) {
	c := &out.Coverage
	c.Jobs.All = len(in.Jobs)
	for k, r := range out.Table {
		if in.Jobs[k].both() {
			c.Jobs.Both++
		}
		if r.State == unknown {
			c.Jobs.Unknown = append(c.Jobs.Unknown, r.Job)
		}
	}
	c.Pairs.All = len(out.Matched)
	for _, m := range out.Matched {
		if m.Moved != nil {
			c.Pairs.Placed++
		}
		if len(m.Sizes) > 0 {
			c.Pairs.Sized++
		}
	}
}

// answer gives each matter its value and puts the largest change at the bench, with its cause, into a sentence.
func (out *Output) answer(in Input) {
	a := &out.Answer
	has := func(states ...string) bool {
		return slices.ContainsFunc(out.Table, func(r TableRow) bool { return slices.Contains(states, r.State) })
	}
	switch {
	case has(different, gained, lost):
		a.Bench = different
	case len(out.Table) == 0 || has(unknown):
		a.Bench = unknown
	default:
		a.Bench = same
	}
	switch {
	case len(out.Gone)+len(out.Added) > 0 || slices.ContainsFunc(out.Matched,
		func(m Match) bool { return len(m.Changes) > 0 }):
		a.Parts = different
	case out.Coverage.Pairs.Placed+out.Coverage.Pairs.Sized == 0:
		a.Parts = unknown
	default:
		a.Parts = same
	}
	a.Whole = unknown
	for _, w := range out.Whole {
		if w.State == different || w.State == same && a.Whole == unknown {
			a.Whole = w.State
		}
	}
	a.Lead = -1
	if len(out.Causes) > 0 {
		if c := out.Causes[0]; c.Kind == gained || c.Kind == lost || math.Abs(c.Weighted) >= leastMinutes-1e-9 {
			a.Lead = 0
		}
	}
	a.Text = out.sentence(in)
}

func (out *Output) sentence(in Input) string {
	lead := in.B.name() + " against " + in.A.name() + ": "
	if out.Answer.Lead == 0 {
		return lead + out.Causes[0].Say(in)
	}
	switch out.Answer.Bench {
	case same:
		return lead + "the same at the bench in " + jobList(out.Table, same)
	case different:
		for _, r := range out.Table {
			if r.State != different {
				continue
			}
			switch {
			case r.SideA != r.SideB:
				return lead + fmt.Sprintf("%s is reached from the %s now, before from the %s", r.Job, r.SideB, r.SideA)
			case len(r.ToolsGained) > 0:
				return lead + fmt.Sprintf("%s needs %s besides", r.Job, strings.Join(r.ToolsGained, ", "))
			case len(r.ToolsLost) > 0:
				return lead + fmt.Sprintf("%s needs no %s any more", r.Job, strings.Join(r.ToolsLost, ", "))
			}
			return lead + fmt.Sprintf("%s takes %d steps instead of %d, %+.1f min", r.Job, *r.StepsB, *r.StepsA,
				*r.MinutesB-*r.MinutesA)
		}
	}
	if len(out.Table) == 0 {
		return lead + "what changes at the bench is not known: no job is on record in " + in.A.name() + " or " + in.B.name()
	}
	var why []string
	for _, r := range out.Table {
		if r.State == unknown && !slices.Contains(why, r.Why) {
			why = append(why, r.Why)
		}
	}
	return lead + "what changes at the bench is not known for " + jobList(out.Table, unknown) + ": " + strings.Join(why,
		"; ")
}

func jobList(table []TableRow, state string) string {
	var names []string
	for _, r := range table {
		if r.State == state {
			names = append(names, r.Job)
		}
	}
	return strings.Join(names, ", ")
}
