package day

import (
	"slices"
)

// conflict finds the earliest time at which the starts need more of something than there is, and the orders one of
// which must hold; nil when there is none.
func (x *exact) conflict(start []int) []order {
	var best []order
	least := far
	take := func(t int, list func() []order) {
		if t < least {
			if o := list(); o != nil {
				best, least = o, t
			}
		}
	}
	end := func(i int) int { return start[i] + x.ops[i].length }
	by := make([][]int, len(x.machines))
	var hands []int
	for i := range x.ops {
		if m := x.ops[i].machine; m >= 0 {
			by[m] = append(by[m], i)
		}
		if x.ops[i].hands {
			hands = append(hands, i)
		}
	}
	for m, list := range by {
		if x.units[m] == 1 {
			for k, a := range list {
				for _, b := range list[k+1:] {
					ab, ba := x.change(m, x.ops[a].tray, x.ops[b].tray), x.change(m, x.ops[b].tray, x.ops[a].tray)
					if start[b] >= end(a)+ab || start[a] >= end(b)+ba || x.ops[a].fixed && x.ops[b].fixed {
						continue
					}
					take(max(start[a], start[b]), func() []order {
						return []order{{a, b, x.ops[a].length + ab}, {b, a, x.ops[b].length + ba}}
					})
				}
			}
			continue
		}
		for _, i := range list {
			if start[i] >= least {
				continue
			}
			var at []int
			for _, o := range list {
				if start[o] <= start[i] && start[i] < end(o) || o == i {
					at = append(at, o)
				}
			}
			if len(at) > x.units[m] {
				take(start[i], func() []order { return x.pairs(at[:x.units[m]+1]) })
			}
		}
	}
	x.short(start, hands, &least, take)
	if k := x.in.Benches; k > 0 {
		type span struct{ from, to int }
		spans := make([]span, len(x.jobs))
		for j, list := range x.jobs {
			spans[j] = span{far, 0}
			for _, o := range list {
				spans[j] = span{min(spans[j].from, start[o]), max(spans[j].to, end(o))}
			}
		}
		for j, s := range spans {
			var at []int
			for l, o := range spans {
				if o.from <= s.from && s.from < o.to || l == j {
					at = append(at, l)
				}
			}
			if len(at) <= k || s.from >= least {
				continue
			}
			take(s.from, func() []order {
				var list []order
				for _, a := range at[:k+1] {
					for _, b := range at[:k+1] {
						if a != b && len(x.jobs[a]) > 0 && len(x.jobs[b]) > 0 {
							list = append(list, order{a, b, -1})
						}
					}
				}
				return list
			})
		}
	}
	return best
}

// pairs are all orders of two of a set.
func (x *exact) pairs(set []int) []order {
	list := []order{}
	for _, a := range set {
		for _, b := range set {
			if a == b || a < 0 && b < 0 || a >= 0 && b >= 0 && x.ops[a].fixed && x.ops[b].fixed {
				continue
			}
			o := order{a, b, 0}
			if a >= 0 {
				o.wait = x.ops[a].length
			}
			list = append(list, o)
		}
	}
	return list
}

// short finds where the people do not suffice: operations and breaks at a time, matched to people; a set of them that
// only fewer people can do (Hall's condition).
func (x *exact) short(start, hands []int, least *int, take func(int, func() []order)) {
	moments := []int{}
	for _, i := range hands {
		moments = append(moments, start[i])
	}
	for _, b := range x.breaks {
		moments = append(moments, b.from)
	}
	slices.Sort(moments)
	for _, t := range slices.Compact(moments) {
		if t >= *least {
			return
		}
		var at []int
		for _, i := range hands {
			if s, e := start[i], start[i]+x.ops[i].length; s <= t && t < e {
				at = append(at, i)
			}
		}
		if len(at) == 0 {
			continue
		}
		for k, b := range x.breaks {
			if b.from <= t && t < b.to {
				at = append(at, -1-k)
			}
		}
		if set := x.hall(at); set != nil {
			take(t, func() []order { return x.pairs(set) })
			return
		}
	}
}

// hall matches operations and breaks to people; the set that cannot be, or nil.
func (x *exact) hall(at []int) []int {
	able := func(i int) []int {
		if i < 0 {
			return []int{x.breaks[-1-i].person}
		}
		return x.able(i)
	}
	holds := map[int]int{} // person: which of at
	for k := range at {
		seen, way := map[int]bool{}, map[int]bool{k: true}
		var match func(k int) bool
		match = func(k int) bool {
			for _, q := range able(at[k]) {
				if seen[q] {
					continue
				}
				seen[q] = true
				other, taken := holds[q]
				if taken {
					way[other] = true
				}
				if !taken || match(other) {
					holds[q] = k
					return true
				}
			}
			return false
		}
		if match(k) {
			continue
		}
		var set []int
		free := false // two fixed ones, or two breaks, do not order each other: what happened, happened
		for w := range at {
			if way[w] {
				set = append(set, at[w])
				free = free || at[w] >= 0 && !x.ops[at[w]].fixed
			}
		}
		if free {
			return set
		}
	}
	return nil
}

// collisions are the first times at which the jobs, each by itself at its earliest, collide, a resource each.
func (s *shop) collisions() []Collision {
	start, _ := s.earliest()
	list := []Collision{}
	if start == nil {
		return list
	}
	find := func(resource string, ops []int, room int) {
		moments := []int{}
		for _, i := range ops {
			moments = append(moments, start[i], start[i]+s.ops[i].length)
		}
		slices.Sort(moments)
		moments = slices.Compact(moments)
		from, names := -1, []string{}
		for _, t := range moments {
			at := []string{}
			for _, i := range ops {
				if start[i] <= t && t < start[i]+s.ops[i].length {
					at = append(at, s.names[i])
				}
			}
			switch {
			case len(at) > room && from < 0:
				from, names = t, at
			case len(at) <= room && from >= 0:
				list = append(list, Collision{resource, from, t, names})
				return
			}
		}
	}
	var hands []int
	by := make([][]int, len(s.machines))
	for i := range s.ops {
		if m := s.ops[i].machine; m >= 0 {
			by[m] = append(by[m], i)
		}
		if s.ops[i].hands {
			hands = append(hands, i)
		}
	}
	for m := range s.machines {
		find(s.machines[m].ID, by[m], s.units[m])
	}
	find("hands", hands, len(s.in.People))
	return list
}
