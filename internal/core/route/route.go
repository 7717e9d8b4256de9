// Package route finds the way to a part of a phone.
//
// Teardown knowledge is an AND/OR precedence graph: a step may start when all steps of one of its alternatives are done
// (L. S. Homem de Mello and A. C. Sanderson, "AND/OR graph representation of assembly plans", 1990). [Solve] returns a
// legal order of steps that frees the wanted parts at the least cost, and says whether that is proven:
//
//	out, err := route.Solve(route.Input{Steps: steps, Goal: []string{"battery"}, Minimise: route.Attended})
//
// Times are seconds; the package has no clock and no randomness, and the same input always gives the same answer.
package route

import (
	"context"
	"errors"
	"fmt"
	"math"
	"runtime"
	"slices"
	"strings"
	"sync"
	"sync/atomic"

	"waryowl/internal/core/fault"
)

// The figures that can be minimised.
const (
	Attended = "attended_seconds" // hands on: steps, tool changes and flips
	Elapsed  = "elapsed_seconds"  // attended plus waits
	Depth    = "depth"            // number of disassembly steps, see [Output]
	Risk     = "risk"             // −Σ ln(survival) over the parts at risk
)

// DefaultEffort is the number of expansions that a search may use when Input.Effort is 0.
const DefaultEffort = 140_000

// Step is one action of the plan.
type Step struct {
	ID          string             `json:"id" doc:"name of the step" pattern:"^[a-z0-9][a-z0-9._-]*$"`
	Do          string             `json:"do,omitempty" doc:"kind of action"`
	Tool        string             `json:"tool,omitempty" doc:"tool; empty: by hand, the tool in use stays in use"`
	Side        string             `json:"side,omitempty" enum:"front,back,any" doc:"face that must be up"`
	Seconds     float64            `json:"seconds,omitempty" minimum:"0" doc:"attended seconds"`
	WaitSeconds float64            `json:"wait_seconds,omitempty" minimum:"0" doc:"unattended seconds"`
	After       [][]string         `json:"after,omitempty" nullable:"false" doc:"alternatives: all steps of one of them come first"`
	Frees       []string           `json:"frees,omitempty" nullable:"false" doc:"parts that this step frees"`
	Risk        map[string]float64 `json:"risk,omitempty" doc:"part: chance of damage, 0 to below 1"`
}

// Input is one question. Times are seconds, risks are in [0, 1).
type Input struct {
	Steps             []Step   `json:"steps" nullable:"false"`
	Goal              []string `json:"goal" minItems:"1" nullable:"false" doc:"parts that must be freed"`
	Minimise          string   `json:"minimise,omitempty" enum:"attended_seconds,depth,elapsed_seconds,risk" default:"attended_seconds"`
	ToolChangeSeconds float64  `json:"tool_change_seconds,omitempty" minimum:"0"`
	FlipSeconds       float64  `json:"flip_seconds,omitempty" minimum:"0"`
	Done              []string `json:"done,omitempty" nullable:"false" doc:"steps already carried out; not repeated, not counted"`
	ToolInHand        string   `json:"tool_in_hand,omitempty"`
	SideUp            string   `json:"side_up,omitempty" enum:"front,back"`
	Effort            int      `json:"effort,omitempty" minimum:"1" doc:"expansions the search may use; 140000 by default"`
}

// Output is the way. Objective and Bound are in the unit of Minimise. Depth counts operations that finish with the
// removal of a part and/or with a change of tool (Regulation (EU) 2023/1669, Annex IV; from memory). Proven concerns
// the Objective alone: false means a legal route with a true lower Bound. Survival is the chance, per part at risk on
// this route, that it is not hurt.
type Output struct {
	Objective       float64            `json:"objective"`
	Steps           []string           `json:"steps" nullable:"false"`
	Depth           int                `json:"depth"`
	AttendedSeconds float64            `json:"attended_seconds"`
	ElapsedSeconds  float64            `json:"elapsed_seconds"`
	ToolChanges     int                `json:"tool_changes"`
	Flips           int                `json:"flips"`
	Tools           []string           `json:"tools" nullable:"false"`
	Survival        map[string]float64 `json:"survival"`
	Freed           []string           `json:"freed" nullable:"false"`
	Proven          bool               `json:"proven"`
	Bound           float64            `json:"bound"`

	used int // expansions that it took
}

// Used is how many expansions the search took.
func (o Output) Used() int { return o.used }

// Unreachable says that forward chaining cannot reach the goal. Blocked are the steps on the way that can never start
// (by id), Cycle is one cycle among them: each waits for the next, the last for the first.
type Unreachable struct {
	Parts   []string
	Blocked []string
	Cycle   []string
}

func (u *Unreachable) Error() string {
	if len(u.Parts) == 0 {
		return fmt.Sprintf("after: found steps that can never start: %s; allowed: prerequisites that can all be "+
			"met; they wait for each other: %s",
			strings.Join(u.Blocked, ", "), strings.Join(append(slices.Clone(u.Cycle), u.Cycle[0]), " → "))
	}
	return fmt.Sprintf("goal: found %s, which can never be freed; allowed: prerequisites that can all be met; "+
		"blocked steps: %s; they wait for each other: %s",
		strings.Join(u.Parts, ", "), strings.Join(u.Blocked,
			", "), strings.Join(append(slices.Clone(u.Cycle), u.Cycle[0]), " → "))
}

// Solve finds a cheapest way to all parts of the goal. It returns a *fault.Fault for bad input and *Unreachable when
// prerequisites can never be met. The search is exact unless it runs out of effort.
func Solve(in Input) (Output, error) { return SolveContext(context.Background(), in) }

// SolveContext is Solve for an answer that may not be wanted any more: then it stops within a few milliseconds and returns
// the error of the context.
func SolveContext(ctx context.Context, in Input) (Output, error) {
	p, err := Prepare(in)
	if err != nil {
		return Output{}, err
	}
	return p.Solve(ctx, in.Goal, in.Effort)
}

// Prepared is a plan that was read once, to be asked for many goals, also at the same time.
type Prepared struct{ plan *plan }

// Prepare reads a plan; the goal and the effort of the input are left aside.
func Prepare(in Input) (*Prepared, error) {
	p, err := prepare(in)
	if err != nil {
		return nil, err
	}
	return &Prepared{p}, nil
}

// Solve is [SolveContext] for a goal, with so many expansions (0: [DefaultEffort]).
func (r *Prepared) Solve(ctx context.Context, goal []string, effort int) (Output, error) {
	p, err := r.plan.to(goal, effort)
	if err != nil {
		return Output{}, err
	}
	p.wanted = func() bool { return ctx.Err() == nil }
	if err := p.reachable(); err != nil {
		return Output{}, err
	}
	best, bound := p.search()
	if err := ctx.Err(); err != nil {
		return Output{}, err
	}
	out := p.measure(p.prune(best))
	if bound >= out.Objective-tolerance(out.Objective) {
		bound, out.Proven = out.Objective, true
	}
	out.Bound, out.used = bound, p.used
	return out, nil
}

// Startable returns *Unreachable when a step can never start, whatever was chosen, and a *fault.Fault for bad steps.
func Startable(steps []Step) error {
	if err := checkSteps(steps); err != nil {
		return err
	}
	p := &plan{steps: slices.Clone(steps), index: map[string]int{}}
	slices.SortFunc(p.steps, func(a, b Step) int { return strings.Compare(a.ID, b.ID) })
	for i, s := range p.steps {
		p.index[s.ID] = i
	}
	p.done = make([]bool, len(p.steps))
	p.alternatives()
	ok := p.chain()
	if k := slices.Index(ok, false); k >= 0 {
		return p.explain(&Unreachable{}, k, ok)
	}
	return nil
}

// Way is the answer for one part in [All]; Err is set when the part cannot be reached.
type Way struct {
	Part string
	Output
	Err error
}

// AllEffort is the number of expansions that the ways to all parts may use together when Input.Effort is 0.
const AllEffort = DefaultEffort / 2

// All finds the way to every part that some step frees, in the order of their names. Goal of the input is ignored. The
// effort is one for all of them: every goal gets an equal share first, and what is left goes to those that are not proven
// by then.
func All(ctx context.Context, in Input) ([]Way, error) {
	var parts []string
	for _, s := range in.Steps {
		parts = append(parts, s.Frees...)
	}
	slices.Sort(parts)
	parts = slices.Compact(parts)
	if len(parts) == 0 {
		return []Way{}, nil
	}
	if in.Effort == 0 {
		in.Effort = AllEffort
	}
	if in.Effort < 1 {
		return nil, fault.New("effort", in.Effort, "a whole number of expansions, 1 or more")
	}
	plan, err := Prepare(in)
	if err != nil {
		return nil, err
	}
	left, share := in.Effort, max(1, in.Effort/(2*len(parts)))
	solve := func(part string, effort int) (Way, error) {
		out, err := plan.Solve(ctx, []string{part}, effort)
		if _, blocked := err.(*Unreachable); err != nil && !blocked {
			return Way{}, err
		}
		return Way{part, out, err}, nil
	}
	ways, errs := make([]Way, len(parts)), make([]error, len(parts))
	var next atomic.Int64
	var wait sync.WaitGroup
	for range min(len(parts), runtime.GOMAXPROCS(0)) { // each has its share, whatever the others take
		wait.Go(func() {
			for k := int(next.Add(1)) - 1; k < len(parts); k = int(next.Add(1)) - 1 {
				ways[k], errs[k] = solve(parts[k], share)
			}
		})
	}
	wait.Wait()
	if err := errors.Join(errs...); err != nil {
		return nil, err
	}
	var open []int
	for k, w := range ways {
		if left -= w.used; w.Err == nil && !w.Proven {
			open = append(open, k)
		}
	}
	for i, k := range open {
		more := min(DefaultEffort, left/(len(open)-i))
		if more < 2*share {
			continue
		}
		w, err := solve(parts[k], more)
		if err != nil {
			return nil, err
		}
		left -= w.used
		if w.Proven || w.Objective <= ways[k].Objective && w.Bound >= ways[k].Bound {
			ways[k] = w
		}
	}
	return ways, nil
}

// tolerance separates rounding from a real difference of two sums.
func tolerance(x float64) float64 {
	if math.IsInf(x, 0) {
		return 0
	}
	return 1e-9 * math.Max(1, math.Abs(x))
}
