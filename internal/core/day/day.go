// Package day plans a bench day: which operation of which phone starts when, by whom, on which machine, so that the
// least is late, and what that plan is worth when operations take longer than usual.
//
//	out, err := day.Solve(in)
//	out.Plan[0] // the next act
//
// Times are whole seconds since the day began.
package day

import "context"

// After is an operation of the same job that comes first. MinLag and MaxLag bound the wait from its end; no MaxLag:
// any.
type After struct {
	Op     string `json:"op"`
	MinLag int    `json:"min_lag,omitempty" minimum:"0"`
	MaxLag *int   `json:"max_lag,omitempty" minimum:"0"`
}

// Op is one act. Hands 1 takes one person with the skill from start to end; a machine gives one unit; neither is a
// wait.
type Op struct {
	ID      string  `json:"id"`
	P50     int     `json:"p50" minimum:"0"`
	P90     *int    `json:"p90,omitempty" minimum:"0"`
	Hands   int     `json:"hands,omitempty" minimum:"0" maximum:"1"`
	Skill   string  `json:"skill,omitempty"`
	Machine string  `json:"machine,omitempty"`
	Tray    string  `json:"tray,omitempty"`
	After   []After `json:"after,omitempty" nullable:"false"`
	Started *int    `json:"started,omitempty" minimum:"0"`
	Ended   *int    `json:"ended,omitempty" minimum:"0"`
	Person  string  `json:"person,omitempty"`
}

// Job is one phone on the bench.
type Job struct {
	ID      string   `json:"id"`
	Release int      `json:"release,omitempty" minimum:"0"`
	Due     *int     `json:"due,omitempty" minimum:"0"`
	Weight  *float64 `json:"weight,omitempty" minimum:"0"`
	Ops     []Op     `json:"ops" nullable:"false"`
}

// Break is a time without hands.
type Break struct {
	From int `json:"from" minimum:"0"`
	To   int `json:"to" minimum:"0"`
}

// Person is one pair of hands.
type Person struct {
	ID     string   `json:"id"`
	Skills []string `json:"skills,omitempty" nullable:"false"`
	Breaks []Break  `json:"breaks,omitempty" nullable:"false"`
}

// Machine is so many equal units, ready at WarmUp; one with trays has one unit, and Tray is what is in.
type Machine struct {
	ID         string `json:"id"`
	Units      *int   `json:"units,omitempty" minimum:"1"`
	WarmUp     int    `json:"warm_up,omitempty" minimum:"0"`
	TrayChange int    `json:"tray_change,omitempty" minimum:"0"`
	Tray       string `json:"tray,omitempty"`
}

// Input is the day as it stands. Benches: how many jobs may be open at a time, 0 for any number.
type Input struct {
	Now      int       `json:"now,omitempty" minimum:"0"`
	Close    int       `json:"close" minimum:"0"`
	Benches  int       `json:"benches,omitempty" minimum:"0"`
	People   []Person  `json:"people" nullable:"false"`
	Machines []Machine `json:"machines,omitempty" nullable:"false"`
	Jobs     []Job     `json:"jobs" nullable:"false"`
	Heat     string    `json:"heat,omitempty" enum:"when_free,as_planned"`
	Effort   int       `json:"effort,omitempty" minimum:"0"`
	Runs     int       `json:"runs,omitempty" minimum:"0"`
	Seed     uint64    `json:"seed,omitempty"`
	Service  *float64  `json:"service,omitempty" doc:"how often each job should be in time, 0.5 to 0.999: the day may end later for it"`
	Acts     []Act     `json:"acts,omitempty" nullable:"false" doc:"what was said, in any order: starts, ends and what was taken back"`
	Keep     []string  `json:"keep,omitempty" nullable:"false" doc:"operations (job/op) as the last plan ordered them: a plan that is as good keeps that order"`
}

// Value is what a plan is judged by: first the weighted lateness, then the last end.
type Value struct {
	WeightedTardiness float64 `json:"weighted_tardiness"`
	Makespan          int     `json:"makespan"`
}

// Step is one operation of the plan; units count from 1.
type Step struct {
	Job     string `json:"job"`
	Op      string `json:"op"`
	Start   int    `json:"start"`
	End     int    `json:"end"`
	Person  string `json:"person,omitempty"`
	Machine string `json:"machine,omitempty"`
	Unit    int    `json:"unit,omitempty"`
}

// Collision is the first time at which the jobs, each by itself at its earliest, need more of something than there is.
type Collision struct {
	Resource string   `json:"resource"`
	From     int      `json:"from"`
	To       int      `json:"to"`
	Ops      []string `json:"ops" nullable:"false"`
}

// Output is the plan, what is proven of it, and what it saves. FirstCome and OneByOne are left out where that way of
// working finds no place for an operation in its time.
type Output struct {
	Value
	Bound        Value              `json:"bound"`
	Proven       bool               `json:"proven"`
	Plan         []Step             `json:"plan" nullable:"false"`
	First        []string           `json:"first" nullable:"false"`
	Collisions   []Collision        `json:"collisions" nullable:"false"`
	Cooled       []string           `json:"cooled" nullable:"false"`
	FirstCome    *Value             `json:"first_come,omitempty"`
	OneByOne     *Value             `json:"one_by_one,omitempty"`
	PDoneByClose float64            `json:"p_done_by_close"`
	POnTime      map[string]float64 `json:"p_on_time"`
	Reheats      float64            `json:"reheats" doc:"mean a day"`
	Service      float64            `json:"service,omitempty"`
	Shortfall    []Short            `json:"shortfall,omitempty" nullable:"false"`
	Traded       *Traded            `json:"traded,omitempty"`
}

const (
	usualEffort = 2_000_000
	usualRuns   = 2000
)

// Solve plans the day.
func Solve(in Input) (Output, error) { return SolveContext(context.Background(), in) }

// SolveContext is [Solve] for as long as the plan is wanted; after that its error is that of the context.
func SolveContext(ctx context.Context, in Input) (Output, error) {
	out := Output{Plan: []Step{}, First: []string{}, Collisions: []Collision{}, Cooled: []string{},
		POnTime: map[string]float64{}}
	if err := in.check(); err != nil {
		return out, err
	}
	if err := in.tell(); err != nil {
		return out, err
	}
	if err := in.happened(); err != nil {
		return out, err
	}
	s, err := in.shop(&out)
	if err != nil {
		return out, err
	}
	if in.Effort == 0 {
		in.Effort = usualEffort
	}
	if in.Runs == 0 {
		in.Runs = usualRuns
	}
	x := &exact{shop: s, effort: in.Effort, ctx: ctx}
	x.best = s.heuristic(ctx, in.Seed)
	if x.best != nil {
		x.upper = s.value(x.best.start)
	}
	if err := x.solve(); err != nil {
		return out, err
	}
	if err := ctx.Err(); err != nil {
		return out, err
	}
	out.Value, out.Bound, out.Proven = x.upper, x.bound(), x.open == nil
	final := x.best
	if in.Service != nil {
		best, first := s.serve(ctx, in, x.best, *in.Service)
		if err := ctx.Err(); err != nil {
			return out, err
		}
		in.told(&out, best, first, *in.Service)
		final, out.Value = best.plan, best.value
	}
	s.show(&out, final)
	out.Collisions = append(out.Collisions, s.collisions()...)
	if p := s.firstCome(); p != nil {
		v := s.value(p.start)
		out.FirstCome = &v
	}
	if p := s.oneByOne(); p != nil {
		v := s.value(p.start)
		out.OneByOne = &v
	}
	s.simulate(&out, final, in)
	return out, nil
}
