package route

import (
	"math"
	"slices"

	"waryowl/internal/core/fault"
)

// HarvestInput asks which parts of a donor phone pay for their minutes. Value and Rate are money in minor units (Rate
// per second of hands-on time), so that they compare; parts without a value come out only on the way to others.
type HarvestInput struct {
	Steps             []Step             `json:"steps" nullable:"false"`
	Value             map[string]float64 `json:"value" doc:"part: what it is worth unhurt, minor units"`
	Rate              float64            `json:"rate" minimum:"0" doc:"cost of one attended second, minor units"`
	ToolChangeSeconds float64            `json:"tool_change_seconds,omitempty" minimum:"0"`
	FlipSeconds       float64            `json:"flip_seconds,omitempty" minimum:"0"`
	Selections        int                `json:"selections,omitempty" minimum:"1" doc:"selections of alternatives to try; 4096 by default"`
}

// HarvestOutput is the best set found. Net = Worth − Rate·Seconds, with the tool changes and flips of the walked order,
// which Bound leaves out: it is a true upper bound of Net. Proven says that nothing nets more.
type HarvestOutput struct {
	Take     []string           `json:"take" nullable:"false" doc:"valued parts to take, in the order in which they come out"`
	Leave    []string           `json:"leave" nullable:"false" doc:"valued parts that do not pay"`
	Steps    []string           `json:"steps" nullable:"false"`
	Worth    float64            `json:"worth"`
	Seconds  float64            `json:"seconds"`
	Net      float64            `json:"net"`
	Bound    float64            `json:"bound"`
	Proven   bool               `json:"proven"`
	Survival map[string]float64 `json:"survival"`
}

// Harvest finds the parts of a donor that pay. Within one selection of alternatives the steps form an AND graph, and
// the best set is a maximum-weight closure, found as a minimum cut (J.-C. Picard, "Maximal closure of a graph and
// applications to combinatorial problems", Management Science 22, 1976). A part's worth is its value × its survival
// over the steps that must come before it. Selections are enumerated while they are few; beyond Selections the rest is
// bounded by its total value.
func Harvest(in HarvestInput) (HarvestOutput, error) {
	if in.Selections == 0 {
		in.Selections = 4096
	}
	if err := seconds("rate", in.Rate); err != nil {
		return HarvestOutput{}, err
	}
	all := []string{}
	for _, s := range in.Steps {
		all = append(all, s.Frees...)
	}
	for part, v := range in.Value {
		if !(v >= 0 && v < math.Inf(1)) {
			return HarvestOutput{}, fault.New("value."+part, v, "an amount of 0 or more")
		}
		if !slices.Contains(all, part) {
			return HarvestOutput{}, fault.New("value", part, "parts that a step frees")
		}
	}
	if len(in.Value) == 0 {
		return HarvestOutput{}, fault.New("value", "nothing", "a value for at least one part")
	}
	p, err := newPlan(Input{Steps: in.Steps, Goal: sortedKeys(in.Value), ToolChangeSeconds: in.ToolChangeSeconds,
		FlipSeconds: in.FlipSeconds})
	if err != nil {
		return HarvestOutput{}, err
	}
	best := HarvestOutput{Take: []string{}, Steps: []string{}, Survival: map[string]float64{}}
	ceiling, tried := 0.0, map[string]bool{}
	choice := make([]int, len(p.steps))
	complete := p.eachSelection(choice, 0, in.Selections, func() {
		set, weight := p.closure(choice, in)
		ceiling = math.Max(ceiling, weight)
		out, key := p.walk(in, set)
		if key != "" && !tried[key] && out.Net > best.Net {
			best = out
		}
		tried[key] = true
	})
	if !complete {
		ceiling = 0
		for _, part := range sortedKeys(in.Value) {
			ceiling += in.Value[part]
		}
	}
	best.Bound = math.Max(ceiling, best.Net)
	best.Proven = best.Bound <= best.Net+tolerance(best.Net)
	best.Leave = []string{}
	for _, part := range sortedKeys(in.Value) {
		if !slices.Contains(best.Take, part) {
			best.Leave = append(best.Leave, part)
		}
	}
	return best, nil
}

// eachSelection sets choice to every combination of alternatives, at most limit of them; false says that some were left
// out.
func (p *plan) eachSelection(choice []int, i, limit int, visit func()) bool {
	count := 0
	var from func(i int) bool
	from = func(i int) bool {
		if i == len(p.steps) {
			if count++; count > limit {
				return false
			}
			visit()
			return true
		}
		for a := range max(1, len(p.after[i])) {
			if choice[i] = a; !from(i + 1) {
				return false
			}
		}
		return true
	}
	return from(i)
}

// closure is the best set of steps of one selection and its weight, without tool changes and flips.
func (p *plan) closure(choice []int, in HarvestInput) (set []bool, weight float64) {
	n := len(p.steps)
	pre := func(i int) []int {
		if len(p.after[i]) == 0 {
			return nil
		}
		return p.after[i][choice[i]]
	}
	ok, before := make([]bool, n), make([]map[int]bool, n)
	for again := true; again; { // what can be carried out in this selection, with all that comes before it
		again = false
		for i := range n {
			if ok[i] || slices.ContainsFunc(pre(i), func(u int) bool { return !ok[u] }) {
				continue
			}
			ok[i], again, before[i] = true, true, map[int]bool{i: true}
			for _, u := range pre(i) {
				for k := range before[u] {
					before[i][k] = true
				}
			}
		}
	}
	w := make([]float64, n)
	for i, s := range p.steps {
		w[i] = -in.Rate * s.Seconds
		for _, part := range s.Frees {
			alive := 1.0
			for k := range before[i] {
				alive *= 1 - p.steps[k].Risk[part]
			}
			w[i] += in.Value[part] * alive
		}
	}
	cut := newCut(n + 2)
	total := 0.0
	for i := range n {
		switch {
		case !ok[i]:
			continue
		case w[i] > 0:
			total += w[i]
			cut.edge(n, i, w[i])
		case w[i] < 0:
			cut.edge(i, n+1, -w[i])
		}
		for _, u := range pre(i) {
			cut.edge(i, u, math.Inf(1))
		}
	}
	flow := cut.maxFlow(n, n+1)
	return cut.reach(n)[:n], total - flow
}

// walk turns a set of steps into an order with its real seconds, and gives up parts whose own way costs more than they
// bring.
func (p *plan) walk(in HarvestInput, set []bool) (HarvestOutput, string) {
	var goal []string
	for i, s := range p.steps {
		for _, part := range s.Frees {
			if set[i] && in.Value[part] > 0 && !slices.Contains(goal, part) {
				goal = append(goal, part)
			}
		}
	}
	slices.Sort(goal)
	best, key := HarvestOutput{}, ""
	for len(goal) > 0 {
		out, err := Solve(Input{Steps: in.Steps, Goal: goal, ToolChangeSeconds: in.ToolChangeSeconds,
			FlipSeconds: in.FlipSeconds, Effort: 20_000})
		if err != nil {
			break
		}
		h := HarvestOutput{Take: []string{}, Steps: out.Steps, Seconds: out.AttendedSeconds,
			Survival: map[string]float64{}}
		for _, part := range out.Freed {
			if in.Value[part] > 0 {
				alive := 1.0
				if s, ok := out.Survival[part]; ok {
					alive = s
				}
				h.Take = append(h.Take, part)
				h.Survival[part] = alive
				h.Worth += in.Value[part] * alive
			}
		}
		if h.Net = h.Worth - in.Rate*h.Seconds; key == "" || h.Net > best.Net {
			best = h
		}
		for _, part := range goal {
			key += part + "\n"
		}
		// The last part out is the first that may not pay once changes are counted.
		last := h.Take[len(h.Take)-1]
		goal = slices.DeleteFunc(goal, func(g string) bool { return g == last })
		if h.Net >= 0 && best.Net > h.Net {
			break
		}
	}
	return best, key
}

// cut is a flow network; Dinic's algorithm (E. A. Dinic, 1970) leaves the residual graph whose reachable side is the
// closure.
type cut struct {
	head []int
	next []int
	to   []int
	room []float64
}

func newCut(n int) *cut {
	c := &cut{head: make([]int, n)}
	for i := range c.head {
		c.head[i] = -1
	}
	return c
}

func (c *cut) edge(a, b int, room float64) {
	for _, e := range []struct {
		a, b int
		room float64
	}{{a, b, room}, {b, a, 0}} {
		c.next = append(c.next, c.head[e.a])
		c.to = append(c.to, e.b)
		c.room = append(c.room, e.room)
		c.head[e.a] = len(c.to) - 1
	}
}

const dust = 1e-9 // less than this is no room

func (c *cut) levels(s int) []int {
	level := make([]int, len(c.head))
	for i := range level {
		level[i] = -1
	}
	level[s] = 0
	for todo := []int{s}; len(todo) > 0; todo = todo[1:] {
		for e := c.head[todo[0]]; e >= 0; e = c.next[e] {
			if c.room[e] > dust && level[c.to[e]] < 0 {
				level[c.to[e]] = level[todo[0]] + 1
				todo = append(todo, c.to[e])
			}
		}
	}
	return level
}

func (c *cut) reach(s int) []bool {
	in := make([]bool, len(c.head))
	for i, l := range c.levels(s) {
		in[i] = l >= 0
	}
	return in
}

func (c *cut) maxFlow(s, t int) float64 {
	sum := 0.0
	for {
		level := c.levels(s)
		if level[t] < 0 {
			return sum
		}
		at := slices.Clone(c.head)
		var push func(v int, most float64) float64
		push = func(v int, most float64) float64 {
			if v == t {
				return most
			}
			for ; at[v] >= 0; at[v] = c.next[at[v]] {
				e := at[v]
				if c.room[e] > dust && level[c.to[e]] == level[v]+1 {
					if f := push(c.to[e], math.Min(most, c.room[e])); f > 0 {
						c.room[e] -= f
						c.room[e^1] += f
						return f
					}
				}
			}
			return 0
		}
		for f := push(s, math.Inf(1)); f > 0; f = push(s, math.Inf(1)) {
			sum += f
		}
	}
}
