package faultfind

import (
	"math"
	"math/bits"
)

// mostStates is how many states the search may keep; beyond it the case is weighed one step ahead (house).
const mostStates = 1 << 18

// state is where a case stands: the causes left, the acts done that others still need, and what is open.
type state struct{ left, done, open uint64 }

// value is the least expected cost from a state; act is what comes first, −1 to give up.
type value struct {
	cost float64
	act  int
}

// search looks for the cheapest way on. barred are acts that were done and are not made again.
type search struct {
	s      *sick
	w      []float64
	barred uint64
	known  map[state]value
	exact  bool
}

func (s *sick) search(b *belief) *search {
	x := &search{s: s, w: b.weight, barred: b.made &^ b.redo, known: map[state]value{}, exact: true}
	return x
}

// start is the state that a case is in.
func (x *search) start(b *belief) state { return state{b.left, b.made, b.open} }

func (x *search) mass(set uint64) float64 {
	sum := 0.0
	for ; set != 0; set &= set - 1 {
		sum += x.w[bits.TrailingZeros64(set)]
	}
	return sum
}

// tells says whether an act can change what is known.
func (x *search) tells(k int, left uint64) bool {
	a := x.s.acts[k]
	if x.barred>>k&1 == 1 || a.of&left == 0 {
		return false
	}
	return a.Kind == "cure" || left&^a.of != 0
}

// matter are the acts that may come: those that tell something, and what they need.
func (x *search) matter(left uint64) uint64 {
	var set uint64
	for k := range x.s.acts {
		if x.tells(k, left) {
			set |= 1 << k
		}
	}
	return x.s.before(set)
}

// plain leaves out of a state what no longer matters.
func (x *search) plain(at state, matter uint64) state {
	var needed, ways uint64
	for rest := matter; rest != 0; rest &= rest - 1 {
		a := x.s.acts[bits.TrailingZeros64(rest)]
		needed |= a.needs
		ways |= a.opens
	}
	return state{at.left, at.done & needed, at.open & ways}
}

// may says whether an act can be done now.
func (x *search) may(k int, at state) bool {
	return x.s.acts[k].needs&^at.done == 0 && (at.done>>k&1 == 0 || x.tells(k, at.left))
}

// best is the least expected cost from a state.
func (x *search) best(at state) value {
	matter := x.matter(at.left)
	at = x.plain(at, matter)
	if v, known := x.known[at]; known {
		return v
	}
	if !x.exact {
		return value{x.rough(at, matter), -1}
	}
	if len(x.known) >= mostStates {
		x.exact = false
		return value{x.rough(at, matter), -1}
	}
	out := value{x.s.service, -1}
	for rest := matter; rest != 0; rest &= rest - 1 {
		k := bits.TrailingZeros64(rest)
		if !x.may(k, at) || x.s.cost(k, at.open) >= out.cost {
			continue
		}
		if c := x.first(k, at); c < out.cost {
			out = value{c, k}
		}
	}
	x.known[at] = out
	return out
}

// after are the states behind an act, and the chance of a hit.
func (x *search) after(k int, at state) (hit float64, yes, no state) {
	a := x.s.acts[k]
	next := state{at.left, at.done | 1<<k, at.open | a.opens}
	if a.all {
		return 0, next, next
	}
	yes, no = next, next
	yes.left &= a.of
	no.left &^= a.of
	if yes.left == 0 {
		return 0, yes, no
	}
	if no.left == 0 {
		return 1, yes, no
	}
	in := x.mass(yes.left)
	return in / (in + x.mass(no.left)), yes, no
}

// first is the expected cost when an act comes first and all goes best after it.
func (x *search) first(k int, at state) float64 {
	hit, yes, no := x.after(k, at)
	c := x.s.cost(k, at.open)
	if hit > 0 {
		if x.s.acts[k].Kind == "cure" {
			c += hit * x.s.control * x.s.labour
		} else {
			c += hit * x.best(yes).cost
		}
	}
	if hit < 1 {
		c += (1 - hit) * x.best(no).cost
	}
	return c
}

// rough is the cost of the plain way: cures by chance over cost, one after the other, openings paid when they come, and giving up
// as soon as the next one costs more than it is worth.
func (x *search) rough(at state, matter uint64) float64 {
	total := x.mass(at.left)
	if total == 0 {
		return x.s.service
	}
	sum, rest := 0.0, 1.0
	for range x.s.acts {
		best, bestCost, bestHit := -1, 0.0, 0.0
		for set := matter; set != 0; set &= set - 1 {
			k := bits.TrailingZeros64(set)
			if x.s.acts[k].Kind != "cure" || !x.tells(k, at.left) {
				continue
			}
			c := 0.0
			open := at.open
			for need := x.s.before(1<<k) &^ at.done; need != 0; need &= need - 1 {
				j := bits.TrailingZeros64(need)
				c += x.s.cost(j, open)
				open |= x.s.acts[j].opens
			}
			hit := x.mass(at.left&x.s.acts[k].of) / x.mass(at.left)
			if best < 0 || hit*bestCost > bestHit*c {
				best, bestCost, bestHit = k, c, hit
			}
		}
		if best < 0 {
			break
		}
		if worth := bestCost + bestHit*x.s.control*x.s.labour + (1-bestHit)*x.s.service; worth >= x.s.service {
			break
		}
		sum += rest * (bestCost + bestHit*x.s.control*x.s.labour)
		rest *= 1 - bestHit
		for need := x.s.before(1<<best) &^ at.done; need != 0; need &= need - 1 {
			j := bits.TrailingZeros64(need)
			at.open |= x.s.acts[j].opens
			at.done |= 1 << j
		}
		if at.left &^= x.s.acts[best].of; at.left == 0 {
			rest = 0
			break
		}
	}
	return math.Min(x.s.service, sum+rest*x.s.service)
}

// odds are those of the best strategy: what it costs, how long somebody stands there, and whether the phone is repaired.
type odds struct{ cost, minutes, repaired, within float64 }

// mostSteps bounds how many ends of the strategy are looked at.
const mostSteps = 1 << 18

// odds follows the best strategy to its ends.
func (x *search) odds(at state, spent float64, limit *float64) odds {
	var out odds
	steps := 0
	var walk func(at state, p, cost, minutes float64)
	walk = func(at state, p, cost, minutes float64) {
		steps++
		v := x.best(at)
		if v.act < 0 && !x.exact {
			v = x.look(at)
		}
		if v.act < 0 || steps > mostSteps {
			out.cost += p * (cost + x.s.service)
			out.minutes += p * minutes
			return
		}
		hit, yes, no := x.after(v.act, at)
		cost += x.s.cost(v.act, at.open)
		minutes += x.s.attended(v.act, at.open)
		if hit > 0 {
			if x.s.acts[v.act].Kind == "cure" {
				end := cost + x.s.control*x.s.labour
				out.cost += p * hit * end
				out.minutes += p * hit * (minutes + x.s.control)
				out.repaired += p * hit
				if limit == nil || spent+end <= *limit+1e-9 {
					out.within += p * hit
				}
			} else {
				walk(yes, p*hit, cost, minutes)
			}
		}
		if hit < 1 {
			walk(no, p*(1-hit), cost, minutes)
		}
	}
	walk(at, 1, 0, 0)
	return out
}

// look is the best act one step ahead, where the whole search was too large.
func (x *search) look(at state) value {
	matter := x.matter(at.left)
	out := value{x.s.service, -1}
	for rest := matter; rest != 0; rest &= rest - 1 {
		k := bits.TrailingZeros64(rest)
		if !x.may(k, at) {
			continue
		}
		if c := x.first(k, at); c < out.cost {
			out = value{c, k}
		}
	}
	return out
}
