package culprit

import (
	"cmp"
	"math"
	binary "math/bits"
	"slices"
)

// layer holds what the sets of the classes before it can cover, and their mass. Its masks stand in the order in which they came
// up, so that sums over them are the same every time.
type layer struct {
	keys       []mask
	mass, back []float64 // back: what the classes from here on add to a set that covers the mask
	stay, join []int32   // where a mask goes in the next layer, without and with its class; −1: left out
}

// each calls f with every member of a mask.
func (m mask) each(f func(i int)) {
	for w, word := range m {
		for ; word != 0; word &= word - 1 {
			f(64*w + binary.TrailingZeros64(word))
		}
	}
}

// alone is the likelihood of a set that covers m for sure, without halves, relative to nothing struck.
func (p *posterior) alone(m mask) float64 {
	s := 1.0
	m.each(func(i int) { s *= p.hit[i] })
	return s
}

// endings are the likelihoods of a set that covers the mask of the last layer, by the halves that are there beside it.
func (p *posterior) endings(k int) []float64 {
	if p.ends[k] != nil {
		return p.ends[k]
	}
	m := p.layers[len(p.sure)].keys[k]
	sure := p.alone(m)
	e := make([]float64, len(p.ways))
	hits := make([]int, len(p.kinds))
	for w, way := range p.ways {
		s := sure
		if len(way) > 0 {
			clear(hits)
			for _, n := range way {
				for _, i := range p.halves[n].list {
					hits[i]++
				}
			}
			for i, h := range hits {
				if h > 0 && !m.has(i) {
					s *= p.soft[i][h]
				}
			}
		}
		e[w] = s
	}
	p.ends[k] = e
	return e
}

// total sums the last layer with these masses; ways gives the weight of each set of halves beside a mask.
func (p *posterior) total(mass []float64, ways func(k int) []float64) float64 {
	sum := 0.0
	for k, v := range mass {
		if v == 0 {
			continue
		}
		part := 0.0
		w := ways(k)
		for j, l := range p.endings(k) {
			part += w[j] * l
		}
		sum += v * part
	}
	return sum
}

// solve weighs the sets with ever more room until what is left out is small enough.
func (p *posterior) solve(effort int) {
	bound := p.ahead(fewAhead)
	for n, try := range []struct {
		floor float64
		room  int
	}{{1e-4, effort}, {1e-5, effort}, {1e-6, 2 * effort}, {1e-7, 8 * effort}, {1e-9, 64 * effort}} {
		p.run(bound, try.floor, try.room)
		if p.left <= mostLeftOut {
			return
		}
		if n == 0 {
			bound = p.ahead(mostAhead)
		}
	}
}

// run walks the classes with at most so many masks at a time. A mask whose best completion cannot matter (below the floor, as a
// share of the best set seen) is left out, and what it could have held at most is added up.
func (p *posterior) run(bound *ahead, floor float64, room int) {
	n := len(p.sure)
	p.layers = []layer{{keys: []mask{{}}, mass: []float64{1}}}
	left, best := 0.0, 1.0
	for i, x := range p.sure {
		now := &p.layers[i]
		next := now.spread(x)
		if len(next.keys) > 64 {
			most := make([]float64, len(next.keys))
			for k, m := range next.keys {
				alone := p.alone(m)
				best = math.Max(best, next.mass[k]*alone)
				most[k] = next.mass[k] * alone * bound.most(i+1, m)
			}
			left += now.prune(&next, most, floor*best, room)
		}
		p.layers = append(p.layers, next)
	}
	end := &p.layers[n]
	p.ends = make([][]float64, len(end.keys))
	end.back = make([]float64, len(end.keys))
	for k := range end.keys {
		for w, l := range p.endings(k) {
			end.back[k] += p.wayOdds[w] * l
		}
	}
	for i := n - 1; i >= 0; i-- {
		now, next := &p.layers[i], &p.layers[i+1]
		now.back = make([]float64, len(now.keys))
		for k := range now.keys {
			now.back[k] = next.at(now.stay[k]) + p.sure[i].odds*next.at(now.join[k])
		}
	}
	p.z = p.layers[0].back[0]
	p.left = 1
	if p.z > 0 {
		p.left = (left + p.thirds()) / (p.z + left)
	}
}

// How many kinds of reading the bound of what is still to come looks at one by one, first and where that is not enough: 1,024
// and 16,384 sets a class.
const (
	fewAhead  = 10
	mostAhead = 14
)

// ahead bounds what the classes from each on can add to a set: exactly over the kinds of reading that count most; a further kind
// of loss is taken as covered wherever it can be, a further kind of pass as spared.
type ahead struct {
	p     *posterior
	kinds []int
	reach []mask // which further kinds of loss the classes from i on can still cover
	sum   [][]float64
}

func (p *posterior) ahead(most int) *ahead {
	a := &ahead{p: p}
	weight := make([]float64, len(p.kinds)) // how much a kind parts what covers it from what does not
	for k := range p.kinds {
		for _, x := range p.sure {
			if x.at.has(k) {
				weight[k] += x.odds
			}
		}
		weight[k] *= math.Abs(math.Log(p.hit[k]))
		a.kinds = append(a.kinds, k)
	}
	slices.SortStableFunc(a.kinds, func(x, y int) int {
		if p.kinds[x].lost != p.kinds[y].lost {
			if p.kinds[x].lost {
				return -1
			}
			return 1
		}
		return cmp.Compare(weight[y], weight[x])
	})
	rest := mask{}
	if len(a.kinds) > most {
		for _, k := range a.kinds[most:] {
			if p.kinds[k].lost {
				rest.add(k)
			}
		}
		a.kinds = a.kinds[:most]
	}
	n, size := len(p.sure), 1<<len(a.kinds)
	a.reach, a.sum = make([]mask, n+1), make([][]float64, n+1)
	for i := range a.sum {
		a.sum[i] = make([]float64, size)
	}
	for set := range size {
		a.sum[n][set] = 1
		for j, k := range a.kinds {
			if set>>j&1 == 1 {
				a.sum[n][set] *= p.hit[k]
			}
		}
	}
	for _, x := range p.halves { // a half covers a loss at most as though it struck for sure, and a pass perhaps not at all
		at := a.few(mask{x.at[0] & p.lost[0], x.at[1] & p.lost[1]})
		now := slices.Clone(a.sum[n])
		for set := range now {
			a.sum[n][set] = now[set] + x.odds*now[set|at]
		}
		a.reach[n] = a.reach[n].or(mask{x.at[0] & rest[0], x.at[1] & rest[1]})
	}
	for i := n - 1; i >= 0; i-- {
		x := p.sure[i]
		at := a.few(x.at)
		for set, v := range a.sum[i+1] {
			a.sum[i][set] = v + x.odds*a.sum[i+1][set|at]
		}
		a.reach[i] = a.reach[i+1].or(mask{x.at[0] & rest[0], x.at[1] & rest[1]})
	}
	return a
}

// few is a mask in the numbers of the kinds that are looked at one by one.
func (a *ahead) few(m mask) int {
	set := 0
	for j, k := range a.kinds {
		if m.has(k) {
			set |= 1 << j
		}
	}
	return set
}

// most is what the classes from i on can multiply the mass of a set that covers m with, at most.
func (a *ahead) most(i int, m mask) float64 {
	set := a.few(m)
	s := a.sum[i][set]
	for j, k := range a.kinds { // the mass holds what is covered already
		if set>>j&1 == 1 {
			s /= a.p.hit[k]
		}
	}
	a.reach[i].without(m).each(func(j int) { s *= a.p.hit[j] })
	return s
}

// at is what a mask leads to, nothing when it was left out.
func (l *layer) at(k int32) float64 {
	if k < 0 {
		return 0
	}
	return l.back[k]
}

// spread is the layer after a class: each mask without it and with it.
func (l *layer) spread(x class) layer {
	n := len(l.keys)
	next := layer{keys: make([]mask, 0, 2*n), mass: make([]float64, 0, 2*n)}
	number := make(map[mask]int32, 2*n)
	add := func(m mask, v float64) int32 {
		k, known := number[m]
		if !known {
			k = int32(len(next.keys))
			number[m] = k
			next.keys, next.mass = append(next.keys, m), append(next.mass, 0)
		}
		next.mass[k] += v
		return k
	}
	l.stay, l.join = make([]int32, n), make([]int32, n)
	for k, m := range l.keys {
		l.stay[k] = add(m, l.mass[k])
		l.join[k] = add(m.or(x.at), l.mass[k]*x.odds)
	}
	return next
}

// prune leaves out the masks of the next layer that cannot hold as much as the floor, and all but the best of too many. It says
// what they could have held at most.
func (l *layer) prune(next *layer, most []float64, floor float64, room int) float64 {
	kept := make([]int32, 0, len(most))
	left := 0.0
	for k, v := range most {
		if v >= floor {
			kept = append(kept, int32(k))
		} else {
			left += v
		}
	}
	if len(kept) > room {
		slices.SortFunc(kept, func(a, b int32) int {
			x, y := next.keys[a], next.keys[b]
			return cmp.Or(cmp.Compare(most[b], most[a]), cmp.Compare(x[0], y[0]), cmp.Compare(x[1], y[1]))
		})
		for _, k := range kept[room:] {
			left += most[k]
		}
		kept = kept[:room]
		slices.Sort(kept)
	}
	if len(kept) == len(most) {
		return left
	}
	to := make([]int32, len(most))
	for k := range to {
		to[k] = -1
	}
	keys, mass := make([]mask, len(kept)), make([]float64, len(kept))
	for n, k := range kept {
		to[k] = int32(n)
		keys[n], mass[n] = next.keys[k], next.mass[k]
	}
	next.keys, next.mass = keys, mass
	for k := range l.stay {
		l.stay[k], l.join[k] = to[l.stay[k]], to[l.join[k]]
	}
	return left
}

// any is the chance that at least one of some explanations holds: what the sets without them lack.
func (p *posterior) any(which func(i int) bool) float64 {
	if p.z == 0 {
		return 0
	}
	without := func(x class) float64 {
		odds := 1.0
		for k, i := range x.members {
			if !which(i) {
				odds *= 1 + x.each[k]
			}
		}
		return odds - 1
	}
	touched := func(x class) bool { return slices.ContainsFunc(x.members, which) }
	from, till := len(p.sure), 0 // the classes in which something is left out
	for i, x := range p.sure {
		if touched(x) {
			from, till = min(from, i), i+1
		}
	}
	soft := slices.ContainsFunc(p.halves, touched)
	if soft {
		till = len(p.sure)
	}
	if !soft && from >= till {
		return 0
	}
	mass := p.layers[from].mass
	for i := from; i < till; i++ {
		now, next := &p.layers[i], &p.layers[i+1]
		odds := without(p.sure[i])
		to := make([]float64, len(next.keys))
		for k, v := range mass {
			if s := now.stay[k]; s >= 0 {
				to[s] += v
			}
			if j := now.join[k]; j >= 0 {
				to[j] += v * odds
			}
		}
		mass = to
	}
	sum := 0.0
	if soft {
		each := make([]float64, len(p.halves))
		for n, x := range p.halves {
			each[n] = without(x)
		}
		ways := make([]float64, len(p.ways))
		for w, set := range p.ways {
			ways[w] = 1
			for _, n := range set {
				ways[w] *= each[n]
			}
		}
		sum = p.total(mass, func(int) []float64 { return ways })
	} else {
		for k, v := range mass {
			sum += v * p.layers[till].back[k]
		}
	}
	return math.Max(0, 1-sum/p.z)
}
