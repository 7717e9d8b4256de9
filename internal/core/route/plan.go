package route

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
)

// plan is the input by index: steps sorted by id, so that a smaller index is a smaller id.
type plan struct {
	in     Input
	steps  []Step
	index  map[string]int
	after  [][][]int // alternatives that are not yet met; nil: may start at once
	done   []bool
	tool   []int // number of the tool, 0 by hand
	side   []int // 0 any, 1 front, 2 back
	tools  int   // how many numbers tools have, hand included
	hand   int   // tool in hand at the start
	up     int   // side up at the start
	cost   []float64
	must   [][]int // see musts
	freeby map[string][]int
	freed  map[string]bool // by the steps already done
	wanted func() bool     // whether the answer is still wanted
	used   int             // expansions so far
}

var sides = map[string]int{"": 0, "any": 0, "front": 1, "back": 2}

// newPlan reads a question.
func newPlan(in Input) (*plan, error) {
	p, err := prepare(in)
	if err != nil {
		return nil, err
	}
	return p.to(in.Goal, in.Effort)
}

// to is the plan with a goal. It shares all else, which a search does not change.
func (p *plan) to(goal []string, effort int) (*plan, error) {
	if effort == 0 {
		effort = DefaultEffort
	}
	if effort < 1 {
		return nil, fault.New("effort", effort, "a whole number of expansions, 1 or more")
	}
	if len(goal) == 0 {
		return nil, fault.New("goal", "nothing", "at least one part that a step frees")
	}
	for k, part := range goal {
		if len(p.freeby[part]) == 0 {
			return nil, fault.New(fmt.Sprintf("goal[%d]", k), part, "a part that a step frees")
		}
	}
	q := *p
	q.in.Goal, q.in.Effort = goal, effort
	return &q, nil
}

// prepare reads a plan without its goal.
func prepare(in Input) (*plan, error) {
	if in.Minimise == "" {
		in.Minimise = Attended
	}
	if !slices.Contains([]string{Attended, Depth, Elapsed, Risk}, in.Minimise) {
		return nil, fault.New("minimise", in.Minimise, "attended_seconds, depth, elapsed_seconds or risk")
	}
	if err := seconds("tool_change_seconds", in.ToolChangeSeconds); err != nil {
		return nil, err
	}
	if err := seconds("flip_seconds", in.FlipSeconds); err != nil {
		return nil, err
	}
	if _, ok := sides[in.SideUp]; !ok || in.SideUp == "any" {
		return nil, fault.New("side_up", in.SideUp, "front, back or empty")
	}
	p := &plan{in: in, steps: slices.Clone(in.Steps), index: map[string]int{}, freeby: map[string][]int{},
		freed: map[string]bool{}, wanted: func() bool { return true }}
	if err := checkSteps(in.Steps); err != nil {
		return nil, err
	}
	slices.SortFunc(p.steps, func(a, b Step) int { return strings.Compare(a.ID, b.ID) })
	for i, s := range p.steps {
		p.index[s.ID] = i
	}
	tools := map[string]int{"": 0}
	number := func(t string) int {
		if _, ok := tools[t]; !ok {
			tools[t] = len(tools)
		}
		return tools[t]
	}
	p.hand, p.up = number(in.ToolInHand), sides[in.SideUp]
	p.done = make([]bool, len(p.steps))
	for k, id := range in.Done {
		i, ok := p.index[id]
		if !ok {
			return nil, fault.New(fmt.Sprintf("done[%d]", k), id, "the id of a step")
		}
		p.done[i] = true
	}
	for i, s := range p.steps {
		p.tool, p.side = append(p.tool, number(s.Tool)), append(p.side, sides[s.Side])
		for _, part := range s.Frees {
			p.freeby[part] = append(p.freeby[part], i)
			p.freed[part] = p.freed[part] || p.done[i]
		}
		p.cost = append(p.cost, p.own(s))
	}
	p.tools = len(tools)
	p.alternatives()
	p.musts()
	return p, nil
}

// own is what a step costs by itself, whatever comes before it.
func (p *plan) own(s Step) float64 {
	switch p.in.Minimise {
	case Attended:
		return s.Seconds
	case Elapsed:
		return s.Seconds + s.WaitSeconds
	case Risk:
		sum := 0.0
		for _, part := range sortedKeys(s.Risk) {
			sum -= math.Log1p(-s.Risk[part])
		}
		return sum
	}
	return 0
}

func checkSteps(steps []Step) error {
	seen := map[string]bool{}
	for i, s := range steps {
		at := fmt.Sprintf("steps[%d]", i)
		if err := fault.ID(at+".id", s.ID); err != nil {
			return err
		}
		if seen[s.ID] {
			return fault.New(at+".id", s.ID, "an id that no other step has")
		}
		seen[s.ID] = true
		if _, ok := sides[s.Side]; !ok {
			return fault.New(at+".side", s.Side, "front, back or any")
		}
		if err := seconds(at+".seconds", s.Seconds); err != nil {
			return err
		}
		if err := seconds(at+".wait_seconds", s.WaitSeconds); err != nil {
			return err
		}
		for _, part := range sortedKeys(s.Risk) {
			if r := s.Risk[part]; !(r >= 0 && r < 1) {
				return fault.New(at+".risk."+part, r, "a chance from 0 to below 1")
			}
		}
		for k, part := range s.Frees {
			if part == "" {
				return fault.New(fmt.Sprintf("%s.frees[%d]", at, k), part, "the name of a part")
			}
		}
	}
	for i, s := range steps {
		for a, names := range s.After {
			for k, id := range names {
				if !seen[id] {
					return fault.New(fmt.Sprintf("steps[%d].after[%d][%d]", i, a, k), id, "the id of a step")
				}
			}
		}
	}
	return nil
}

func seconds(field string, v float64) error {
	if !(v >= 0 && v <= math.MaxFloat64) {
		return fault.New(field, v, "a number of seconds, 0 or more")
	}
	return nil
}

// alternatives turns the names in after into indices and leaves out what is already met.
func (p *plan) alternatives() {
	for _, s := range p.steps {
		var alts [][]int
		met := len(s.After) == 0
		for _, names := range s.After {
			var alt []int
			for _, id := range names {
				if j := p.index[id]; !p.done[j] && !slices.Contains(alt, j) {
					alt = append(alt, j)
				}
			}
			slices.Sort(alt)
			met = met || len(alt) == 0
			alts = append(alts, alt)
		}
		if met {
			alts = nil
		}
		p.after = append(p.after, alts)
	}
}

// chain marks every step that can be reached from what is done.
func (p *plan) chain() []bool {
	ok := slices.Clone(p.done)
	for changed := true; changed; {
		changed = false
		for i := range p.steps {
			if !ok[i] && p.ready(i, ok) {
				ok[i], changed = true, true
			}
		}
	}
	return ok
}

// reachable says which parts of the goal can never be freed, and why.
func (p *plan) reachable() error {
	ok := p.chain()
	u := &Unreachable{}
	first := 0
	for _, part := range p.in.Goal {
		if !p.freed[part] && !slices.ContainsFunc(p.freeby[part], func(i int) bool { return ok[i] }) {
			u.Parts = append(u.Parts, part)
			first = p.freeby[part][0]
		}
	}
	if u.Parts == nil {
		return nil
	}
	return p.explain(u, first, ok)
}

// ready says whether all steps of one alternative of step i are in the set.
func (p *plan) ready(i int, in []bool) bool {
	return p.after[i] == nil || slices.ContainsFunc(p.after[i], func(alt []int) bool {
		return !slices.ContainsFunc(alt, func(j int) bool { return !in[j] })
	})
}

// explain fills in the blocked steps behind the lost parts (or behind the first one) and one cycle among them.
func (p *plan) explain(u *Unreachable, first int, ok []bool) error {
	blocked := map[int]bool{}
	var todo []int
	add := func(i int) {
		if !ok[i] && !blocked[i] {
			blocked[i] = true
			todo = append(todo, i)
		}
	}
	add(first)
	for _, part := range u.Parts {
		for _, i := range p.freeby[part] {
			add(i)
		}
	}
	for k := 0; k < len(todo); k++ {
		for _, alt := range p.after[todo[k]] {
			for _, j := range alt {
				add(j)
			}
		}
	}
	// Every alternative of a blocked step holds a blocked step, so walking back must meet a step again.
	var walk []int
	for i := first; ; {
		if k := slices.Index(walk, i); k >= 0 {
			for _, j := range walk[k:] {
				u.Cycle = append(u.Cycle, p.steps[j].ID)
			}
			break
		}
		walk = append(walk, i)
		alt := p.after[i][0]
		i = alt[slices.IndexFunc(alt, func(j int) bool { return !ok[j] })]
	}
	slices.Sort(todo)
	for _, i := range todo {
		u.Blocked = append(u.Blocked, p.steps[i].ID)
	}
	return u
}

func sortedKeys[V any](m map[string]V) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	return keys
}
