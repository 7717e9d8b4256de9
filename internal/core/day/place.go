package day

import (
	"cmp"
	"slices"
)

// plan is a start, a person and a unit for each operation; −1 where there is none yet, or none is needed.
type plan struct{ start, person, unit []int }

func (s *shop) empty() *plan {
	p := &plan{make([]int, len(s.ops)), make([]int, len(s.ops)), make([]int, len(s.ops))}
	for i := range s.ops {
		p.start[i], p.person[i], p.unit[i] = -1, -1, -1
	}
	return p
}

func (p *plan) copy() *plan {
	return &plan{slices.Clone(p.start), slices.Clone(p.person), slices.Clone(p.unit)}
}

// taken is a time at which a unit or a person is not free.
type taken struct {
	from, to int
	tray     string
}

// board is where operations are placed, each as early as it fits, gaps included.
type board struct {
	*shop
	plan   *plan
	units  [][][]taken // per machine and unit
	people [][]taken
	bench  []int // per bench, the job that is or was last on it; −1: none
	opened []int // when a job's bench is free for it
	placed []int
}

func (s *shop) board() *board {
	b := &board{shop: s, plan: s.empty(), people: make([][]taken, len(s.in.People))}
	for k := range s.machines {
		b.units = append(b.units, make([][]taken, s.units[k]))
	}
	for k, p := range s.in.People {
		for _, x := range p.Breaks {
			if x.To > x.From {
				b.people[k] = append(b.people[k], taken{x.From, x.To, ""})
			}
		}
	}
	for range s.in.Benches {
		b.bench = append(b.bench, -1)
	}
	b.opened = make([]int, len(s.jobs))
	for i := range s.ops {
		if o := &s.ops[i]; o.fixed {
			person, unit := o.by, -1
			if o.hands && person < 0 {
				person = o.people[0]
				for _, q := range o.people {
					if free(b.people[q], o.at, o.length, nil) == o.at {
						person = q
						break
					}
				}
			}
			if o.machine >= 0 {
				unit = 0
				for u := range b.units[o.machine] {
					if free(b.units[o.machine][u], o.at, o.length, nil) == o.at {
						unit = u
						break
					}
				}
			}
			b.put(i, o.at, person, unit)
		}
	}
	return b
}

// free is the first time from t at which something is free for so long; change is the time between two trays.
func free(list []taken, t, length int, change func(from, to string) int) int {
	gap := func(other string, before bool) int {
		if change == nil {
			return 0
		}
		if before {
			return change(other, "")
		}
		return change("", other)
	}
	for moved := true; moved; {
		moved = false
		for _, x := range list {
			if x.to+gap(x.tray, true) > t && t+max(length, 1)+gap(x.tray, false) > x.from {
				t, moved = x.to+gap(x.tray, true), true
			}
		}
	}
	return t
}

func (b *board) put(i, start, person, unit int) {
	o := &b.ops[i]
	b.plan.start[i], b.plan.person[i], b.plan.unit[i] = start, person, unit
	if person >= 0 && o.length > 0 {
		b.people[person] = append(b.people[person], taken{start, start + o.length, ""})
	}
	if unit >= 0 && o.length > 0 {
		b.units[o.machine][unit] = append(b.units[o.machine][unit], taken{start, start + o.length, o.tray})
	}
	if len(b.bench) > 0 && !slices.Contains(b.bench, o.job) {
		if k := b.seat(); k >= 0 {
			b.bench[k] = o.job
		}
	}
	b.placed = append(b.placed, i)
}

// end is when all of a job that is placed is over; whole says that all of it is.
func (b *board) end(j int) (end int, whole bool) {
	whole = true
	for _, o := range b.jobs[j] {
		if b.plan.start[o] < 0 {
			whole = false
			continue
		}
		end = max(end, b.plan.start[o]+b.ops[o].length)
	}
	return end, whole
}

// seat is the bench that is free first for a new job; −1: none is.
func (b *board) seat() int {
	best, least := -1, 0
	for k, j := range b.bench {
		end := 0
		if j >= 0 {
			e, whole := b.end(j)
			if !whole {
				continue
			}
			end = e
		}
		if best < 0 || end < least {
			best, least = k, end
		}
	}
	return best
}

// fit is the earliest place of an operation from a time on.
func (b *board) fit(i, t int) (start, person, unit int) {
	o := &b.ops[i]
	if o.machine >= 0 {
		t = max(t, b.ready(o))
	}
	for {
		next := t
		person, unit = -1, -1
		if o.machine >= 0 {
			least := -1
			for u, list := range b.units[o.machine] {
				at := free(list, t, o.length, func(from, to string) int {
					if from == "" {
						return b.change(o.machine, o.tray, to)
					}
					return b.change(o.machine, from, o.tray)
				})
				if least < 0 || at < least {
					least, unit = at, u
				}
			}
			next = max(next, least)
		}
		if o.hands {
			least := -1
			for _, q := range o.people {
				if at := free(b.people[q], t, o.length, nil); least < 0 || at < least {
					least, person = at, q
				}
			}
			next = max(next, least)
		}
		if next == t {
			return t, person, unit
		}
		t = next
	}
}

// follows says that an operation has to follow its predecessor within a time.
func (s *shop) follows(i int) bool {
	return slices.ContainsFunc(s.ops[i].after, func(l link) bool { return l.most >= 0 && !s.ops[l.op].fixed })
}

// bundle is an operation with all that must follow it within a time, in an order of placing.
func (s *shop) bundle(i int) []int {
	list := []int{i}
	for k := 0; k < len(list); k++ {
		for _, l := range s.ops[list[k]].before {
			if l.most >= 0 && !slices.Contains(list, l.op) && !s.ops[l.op].fixed {
				list = append(list, l.op)
			}
		}
	}
	return list
}

// eligible says that an operation and all that must follow it in time can be placed now.
func (b *board) eligible(i int) bool {
	if b.plan.start[i] >= 0 || b.follows(i) {
		return false
	}
	list := b.bundle(i)
	for _, k := range list {
		for _, l := range b.ops[k].after {
			if b.plan.start[l.op] < 0 && !slices.Contains(list, l.op) {
				return false
			}
		}
	}
	return len(b.bench) == 0 || slices.Contains(b.bench, b.ops[i].job) || b.seat() >= 0
}

// tries is how often a bundle is pushed until it fits.
const tries = 300

// place puts an operation and all that must follow it in time as early as they fit; false when they do not.
func (b *board) place(i int) bool {
	list := b.bundle(i)
	from := b.ops[i].earliest
	if len(b.bench) > 0 && !slices.Contains(b.bench, b.ops[i].job) {
		if j := b.bench[b.seat()]; j >= 0 {
			b.opened[b.ops[i].job], _ = b.end(j)
		}
	}
	for range tries {
		saved := b.copy()
		push := 0
		done := map[int]bool{}
		for len(done) < len(list) && push == 0 {
			k := slices.IndexFunc(list, func(o int) bool {
				return !done[o] && !slices.ContainsFunc(b.ops[o].after, func(l link) bool { return b.plan.start[l.op] < 0 })
			})
			if k < 0 {
				return false
			}
			o := list[k]
			t := max(b.ops[o].earliest, b.opened[b.ops[o].job])
			if o == i {
				t = max(t, from)
			}
			for _, l := range b.ops[o].after {
				t = max(t, b.plan.start[l.op]+b.ops[l.op].length+l.least)
			}
			start, person, unit := b.fit(o, t)
			for _, l := range b.ops[o].after {
				if over := start - (b.plan.start[l.op] + b.ops[l.op].length + l.most); l.most >= 0 && over > 0 {
					push = max(push, over)
				}
			}
			b.put(o, start, person, unit)
			done[o] = true
		}
		if push == 0 {
			return true
		}
		from = max(from, b.plan.start[i]) + push
		*b = *saved
		if from > 4*longest {
			break
		}
	}
	return false
}

func (b *board) copy() *board {
	c := *b
	c.plan, c.people, c.units = b.plan.copy(), clone(b.people), make([][][]taken, len(b.units))
	for k := range b.units {
		c.units[k] = clone(b.units[k])
	}
	c.bench, c.opened, c.placed = slices.Clone(b.bench), slices.Clone(b.opened), slices.Clone(b.placed)
	return &c
}

func clone(list [][]taken) [][]taken {
	out := make([][]taken, len(list))
	for k := range list {
		out[k] = slices.Clone(list[k])
	}
	return out
}

// generate places the operations by priority; nil when something does not fit.
func (s *shop) generate(order []int) *plan {
	b := s.board()
	for len(b.placed) < len(s.ops) {
		k := slices.IndexFunc(order, b.eligible)
		if k < 0 || !b.place(order[k]) {
			return nil
		}
	}
	return b.plan
}

// firstCome places again and again what can start earliest.
func (s *shop) firstCome() *plan {
	b := s.board()
	for len(b.placed) < len(s.ops) {
		best, least := -1, 0
		for i := range s.ops {
			if !b.eligible(i) {
				continue
			}
			c := b.copy()
			if !c.place(i) {
				continue
			}
			at := c.plan.start[i]
			if best < 0 || at < least ||
				at == least && s.in.Jobs[s.ops[i].job].Release < s.in.Jobs[s.ops[best].job].Release {
				best, least = i, at
			}
		}
		if best < 0 || !b.place(best) {
			return nil
		}
	}
	return b.plan
}

// oneByOne begins a job when the one before is finished.
func (s *shop) oneByOne() *plan {
	order := make([]int, len(s.jobs))
	for j := range order {
		order[j] = j
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(s.in.Jobs[a].Release, s.in.Jobs[b].Release) })
	alone := *s
	alone.ops = slices.Clone(s.ops)
	b := alone.board()
	end := 0
	for _, j := range order {
		for _, o := range s.jobs[j] {
			alone.ops[o].earliest = max(alone.ops[o].earliest, end)
		}
		for {
			best, least := -1, 0
			for _, o := range s.jobs[j] {
				if b.eligible(o) {
					t := max(alone.ops[o].earliest, b.opened[j])
					for _, l := range alone.ops[o].after {
						t = max(t, b.plan.start[l.op]+alone.ops[l.op].length+l.least)
					}
					if at, _, _ := b.fit(o, t); best < 0 || at < least {
						best, least = o, at
					}
				}
			}
			if best < 0 {
				break
			}
			if !b.place(best) {
				return nil
			}
		}
		e, whole := b.end(j)
		if !whole {
			return nil
		}
		end = max(end, e)
	}
	return b.plan
}
