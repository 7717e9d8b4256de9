package day

import (
	"cmp"
	"context"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
)

// arc says that an operation starts at least wait after another one starts.
type arc struct{ to, wait int }

// exact searches all plans: resources are relaxed and every operation starts as early as the waits allow; where more is
// needed at a time than there is, one of those operations must come before another, and each such order is a branch.
type exact struct {
	*shop
	ctx    context.Context
	effort int
	price  int
	best   *plan
	upper  Value
	arcs   [][]arc
	breaks []pause
	open   *Value // least value of the branches given up
	latest []limit
	who    []int // person an operation is held to, −1: anyone of its people
}

type pause struct{ person, from, to int }

// limit is the latest start of an operation in a branch.
type limit struct{ op, by int }

const far = math.MaxInt / 4

func (x *exact) bound() Value {
	if x.open == nil || x.upper.less(*x.open) {
		return x.upper
	}
	return *x.open
}

// network is the waits between starts.
func (s *shop) network() [][]arc {
	arcs := make([][]arc, len(s.ops))
	for i := range s.ops {
		for _, l := range s.ops[i].after {
			arcs[l.op] = append(arcs[l.op], arc{i, s.ops[l.op].length + l.least})
			if l.most >= 0 {
				arcs[i] = append(arcs[i], arc{l.op, -(s.ops[l.op].length + l.most)})
			}
		}
	}
	return arcs
}

// earliest are the starts without any resource, but when machines are ready; nil, with the operations that contradict
// one another, when there are none.
func (s *shop) earliest() (start, contradict []int) {
	arcs := s.network()
	start = make([]int, len(s.ops))
	for i := range s.ops {
		o := &s.ops[i]
		if start[i] = o.earliest; o.machine >= 0 && !o.fixed {
			start[i] = max(start[i], s.ready(o))
		}
	}
	var queue []int
	for i := range s.ops {
		queue = append(queue, i)
	}
	if bad := spread(s, arcs, start, queue); bad >= 0 {
		list := []int{}
		for _, o := range s.jobs[s.ops[bad].job] {
			if len(s.ops[o].after)+len(s.ops[o].before) > 0 {
				list = append(list, o)
			}
		}
		return nil, list
	}
	return start, nil
}

// spread carries later starts along the arcs; −1, or an operation that cannot start at all.
func spread(s *shop, arcs [][]arc, start, queue []int) int {
	count := make([]int, len(s.ops))
	waiting := make([]bool, len(s.ops))
	for _, i := range queue {
		waiting[i] = true
	}
	for len(queue) > 0 {
		i := queue[0]
		queue, waiting[i] = queue[1:], false
		for _, a := range arcs[i] {
			if start[i]+a.wait <= start[a.to] {
				continue
			}
			if s.ops[a.to].fixed {
				return a.to
			}
			start[a.to] = start[i] + a.wait
			if count[a.to]++; count[a.to] > len(s.ops)+1 {
				return a.to // a circle that never ends
			}
			if !waiting[a.to] {
				waiting[a.to] = true
				queue = append(queue, a.to)
			}
		}
	}
	return -1
}

func (x *exact) solve() error {
	start, contradict := x.earliest()
	if start == nil {
		var names []string
		for _, i := range contradict {
			names = append(names, x.names[i])
		}
		return fault.New("jobs", strings.Join(names, ", "), "waits, breaks and starts that do not contradict one another")
	}
	x.arcs, x.price = x.network(), max(1, len(x.ops)*len(x.ops)/25)
	for k, p := range x.in.People {
		for _, b := range p.Breaks {
			if b.To > b.From {
				x.breaks = append(x.breaks, pause{k, b.From, b.To})
			}
		}
	}
	x.who = make([]int, len(x.ops))
	for i := range x.who {
		x.who[i] = -1
	}
	x.search(start)
	if x.best == nil {
		if x.open != nil {
			return fault.New("effort", x.in.Effort, "more: no plan was found yet")
		}
		return fault.New("jobs", strings.Join(x.names, ", "), "operations whose waits, breaks and fixed starts leave a plan")
	}
	return nil
}

// search goes through a branch; start are its earliest starts.
func (x *exact) search(start []int) {
	value := x.value(start)
	if x.best != nil && !value.less(x.upper) {
		return
	}
	if x.ctx.Err() != nil {
		x.effort = 0
	}
	if x.effort -= x.price; x.effort <= 0 {
		if x.open == nil || value.less(*x.open) {
			x.open = &value
		}
		return
	}
	pairs := x.conflict(start)
	if pairs == nil {
		x.leaf(start)
		return
	}
	type child struct {
		a, b, wait int
		start      []int
		value      Value
	}
	var list []child
	for _, p := range pairs {
		next := slices.Clone(start)
		if !x.push(next, p) {
			continue
		}
		list = append(list, child{p.a, p.b, p.wait, next, x.value(next)})
	}
	slices.SortStableFunc(list, func(a, b child) int {
		switch {
		case a.value.less(b.value):
			return -1
		case b.value.less(a.value):
			return 1
		}
		return 0
	})
	for _, c := range list {
		done := x.join(order{c.a, c.b, c.wait})
		x.search(c.start)
		done()
	}
}

// order says that a, an operation or −1−k for break k, comes before b; a wait below 0 stands for whole jobs.
type order struct{ a, b, wait int }

// join takes an order into the network until the returned function is called.
func (x *exact) join(o order) func() {
	if o.a < 0 || o.b < 0 {
		return x.aside(o)
	}
	var from []int
	add := func(a, b, wait int) {
		x.arcs[a] = append(x.arcs[a], arc{b, wait})
		from = append(from, a)
	}
	if o.wait >= 0 {
		add(o.a, o.b, o.wait)
	} else {
		for _, a := range x.jobs[o.a] {
			for _, b := range x.jobs[o.b] {
				add(a, b, x.ops[a].length)
			}
		}
	}
	return func() {
		for _, a := range from {
			x.arcs[a] = x.arcs[a][:len(x.arcs[a])-1]
		}
	}
}

// aside orders an operation and a break: after it the operation starts later, before it it must be over in time,
// which a fixed stand-in of the break says.
func (x *exact) aside(o order) func() {
	if o.a < 0 {
		i, was := o.b, x.ops[o.b].earliest
		x.ops[i].earliest = max(was, x.breaks[-1-o.a].to)
		return func() { x.ops[i].earliest = was }
	}
	x.latest = append(x.latest, limit{o.a, x.breaks[-1-o.b].from - x.ops[o.a].length})
	return func() { x.latest = x.latest[:len(x.latest)-1] }
}

// push moves starts by an order; false when it cannot be.
func (x *exact) push(start []int, o order) bool {
	done := x.join(o)
	defer done()
	var queue []int
	switch {
	case o.a < 0:
		if e := x.ops[o.b].earliest; e > start[o.b] {
			if x.ops[o.b].fixed {
				return false
			}
			start[o.b] = e
			queue = append(queue, o.b)
		}
	case o.b < 0:
	case o.wait >= 0:
		queue = append(queue, o.a)
	default:
		queue = append(queue, x.jobs[o.a]...)
	}
	if spread(x.shop, x.arcs, start, queue) >= 0 {
		return false
	}
	return !slices.ContainsFunc(x.latest, func(l limit) bool { return start[l.op] > l.by })
}

// leaf takes a plan whose resources suffice: people are handed out by search, and where that fails it is branched on
// who.
func (x *exact) leaf(start []int) {
	p := &plan{slices.Clone(start), make([]int, len(x.ops)), make([]int, len(x.ops))}
	for i := range x.ops {
		p.person[i], p.unit[i] = -1, -1
	}
	hands, list := []int{}, make([]int, len(x.ops))
	for i := range x.ops {
		if list[i] = i; x.ops[i].hands {
			hands = append(hands, i)
		}
	}
	slices.SortStableFunc(hands, func(a, b int) int { return cmp.Compare(start[a], start[b]) })
	tries := 20_000
	if !x.assign(p, hands, 0, &tries) {
		for _, i := range hands {
			if x.who[i] >= 0 || len(x.ops[i].people) < 2 {
				continue
			}
			for _, q := range x.ops[i].people {
				x.who[i] = q
				x.search(start)
			}
			x.who[i] = -1
			return
		}
		if v := x.value(start); tries < 0 && (x.open == nil || v.less(*x.open)) {
			x.open = &v // not all ways to hand out the people were seen
		}
		return
	}
	slices.SortStableFunc(list, func(a, b int) int { return cmp.Compare(start[a], start[b]) })
	over := map[[2]int]int{}
	for _, i := range list {
		if m := x.ops[i].machine; m >= 0 {
			p.unit[i] = 0
			for u := range x.units[m] {
				if over[[2]int{m, u}] <= start[i] {
					p.unit[i] = u
					break
				}
			}
			over[[2]int{m, p.unit[i]}] = start[i] + x.ops[i].length
		}
	}
	x.best, x.upper = p, x.value(start)
}

func (x *exact) able(i int) []int {
	if x.who[i] >= 0 {
		return x.who[i : i+1]
	}
	return x.ops[i].people
}

func (x *exact) assign(p *plan, hands []int, k int, tries *int) bool {
	if k == len(hands) {
		return true
	}
	if *tries--; *tries < 0 {
		return false
	}
	i := hands[k]
	from, to := p.start[i], p.start[i]+x.ops[i].length
	for _, q := range x.able(i) {
		busy := slices.ContainsFunc(x.breaks, func(b pause) bool { return b.person == q && overlap(from, to, b.from, b.to) }) &&
			!x.ops[i].fixed
		for _, o := range hands[:k] {
			busy = busy || p.person[o] == q && overlap(from, to, p.start[o], p.start[o]+x.ops[o].length) &&
				!(x.ops[i].fixed && x.ops[o].fixed)
		}
		if busy {
			continue
		}
		p.person[i] = q
		if x.assign(p, hands, k+1, tries) {
			return true
		}
		p.person[i] = -1
	}
	return false
}

// overlap says that two times share a moment; what takes no time shares one with what goes on around it.
func overlap(a, b, c, d int) bool {
	if a == b || c == d {
		return a == b && a > c && a < d || c == d && c > a && c < b
	}
	return a < d && c < b
}
