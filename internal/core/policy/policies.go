package policy

import (
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/ledger"
)

// all lists the slots that an exchange of the boards makes strangers.
func (g *Game) all() []string {
	var list []string
	for _, s := range g.Slots {
		if !slices.Contains(g.BoardOwn, s.Name) {
			list = append(list, s.Name)
		}
	}
	return list
}

// suspects lists what is worth exchanging: slots alone and mates together.
func (g *Game) suspects() [][]string {
	var list [][]string
	for _, u := range g.units() {
		if g.Bits[strings.Join(u, "+")] >= Worth {
			list = append(list, u)
		}
	}
	return list
}

// OneAtATime exchanges one suspect after the other, in the order of the slots, round and round; a second pass goes to
// the second board.
func OneAtATime(g *Game) (Round, bool) {
	units, list := g.units(), g.suspects()
	same := func(a []string) func([]string) bool {
		return func(b []string) bool {
			return slices.Equal(slices.Sorted(slices.Values(a)), slices.Sorted(slices.Values(b)))
		}
	}
	last := -1
	if n := len(g.Rounds); n > 0 {
		last = slices.IndexFunc(units, same(g.Rounds[n-1].Slots))
	}
	for k := range units {
		if u := units[(last+1+k)%len(units)]; slices.ContainsFunc(list, same(u)) {
			board := g.Boards[0]
			for _, r := range g.Rounds {
				if same(u)(r.Slots) {
					board = g.other(r.Board)
				}
			}
			return g.round(board, u), true
		}
	}
	return Round{}, false
}

// BoardFirst exchanges the boards, then one suspect after the other.
func BoardFirst(g *Game) (Round, bool) {
	if len(g.Rounds) == 0 {
		return g.round(g.Boards[0], g.all()), true
	}
	return OneAtATime(g)
}

// Halving exchanges the boards, then always half of the slots suspected for the first open check; the other half when
// that was just seen, and single suspects at the end.
func Halving(g *Game) (Round, bool) {
	if len(g.Rounds) == 0 {
		return g.round(g.Boards[0], g.all()), true
	}
	for _, c := range g.open() {
		var list []string
		for _, s := range g.Slots {
			if p := g.Out.Checks[c].Marginal[s.Name+":stranger"]; p > Cleared && p < Named && g.Bits[s.Name] >= Worth {
				list = append(list, s.Name)
			}
		}
		if len(list) < 2 {
			continue
		}
		n, last := (len(list)+1)/2, g.Rounds[len(g.Rounds)-1]
		for _, half := range [][]string{list[:n], list[n:]} {
			if r := g.round(g.Boards[len(g.Rounds)/2%2], half); !slices.Equal(r.Slots, last.Slots) {
				return r, true
			}
		}
	}
	return OneAtATime(g)
}

// Ours takes the arrangement and board that tell most per minute from where the bench stands, among those of
// [Game.Propose].
func Ours(g *Game) (Round, bool) {
	rounds := g.Propose()
	kept := ""
	for _, b := range g.Boards {
		if g.kept(b) {
			kept = b
			rounds = slices.DeleteFunc(rounds, func(r Round) bool { return r.Board == b })
		}
	}
	if kept != "" && len(rounds) == 0 {
		return g.round(kept, nil), true // both boards keep losses: one must be freed first
	}
	if len(rounds) == 0 || g.read(rounds) != nil {
		return Round{}, false
	}
	best := -1
	for k := range rounds {
		i := slices.IndexFunc(g.Out.Next, func(n diagnose.Next) bool { return n.ID == name(k) })
		rounds[k].Bits = g.Out.Next[i].Bits
		if best < 0 || rounds[k].Bits/rounds[k].Minutes > rounds[best].Bits/rounds[best].Minutes {
			best = k
		}
	}
	switch {
	case rounds[best].Bits < Worth && kept != "":
		return g.round(kept, nil), true
	case rounds[best].Bits <= 1e-6:
		return Round{}, false
	}
	return rounds[best], true
}

// Propose lists rounds worth weighing: the whole board, the present arrangement on the other board, each slot more or
// less than now, each suspect alone, and the arrangements that a search by halves and single steps finds to tell most
// per minute when the explanations are taken as independent.
func (g *Game) Propose() []Round {
	var sets [][]string
	seen := map[string]bool{}
	add := func(set []string) {
		set = slices.Sorted(slices.Values(set))
		k := ""
		for _, s := range set {
			k += s + "\x00"
		}
		if !seen[k] {
			seen[k] = true
			sets = append(sets, set)
		}
	}
	var suspects []string
	add(g.all())
	add(g.Have)
	add(nil)
	for _, u := range g.suspects() {
		add(u)
		for _, s := range u {
			add(toggled(g.Have, s))
			if !slices.Contains(suspects, s) {
				suspects = append(suspects, s)
			}
		}
	}
	for _, start := range [][]string{g.Have, nil, g.all(), suspects[:len(suspects)/2], suspects[len(suspects)/2:]} {
		add(g.climb(start, suspects))
	}
	var rounds []Round
	for _, set := range sets {
		for _, b := range g.Boards {
			rounds = append(rounds, g.round(b, set))
		}
	}
	return rounds
}

func toggled(set []string, s string) []string {
	if k := slices.Index(set, s); k >= 0 {
		return slices.Delete(slices.Clone(set), k, k+1)
	}
	return append(slices.Clone(set), s)
}

// climb changes one slot at a time while that raises the rate.
func (g *Game) climb(set, suspects []string) []string {
	x := g.odds()
	in := make([]bool, len(g.Slots))
	for i, s := range g.Slots {
		in[i] = slices.Contains(set, s.Name)
	}
	var now []string
	rate := func() float64 {
		now = now[:0]
		bits := make([]byte, len(in))
		for i, s := range g.Slots {
			if in[i] {
				now, bits[i] = append(now, s.Name), 1
			}
		}
		r, known := x.rates[string(bits)]
		if !known {
			r = x.guess(in) / g.minutes(g.Boards[0], now, x.base)
			x.rates[string(bits)] = r
		}
		return r
	}
	best := rate()
	for range 2 * len(g.Slots) {
		better := -1
		for i, s := range g.Slots {
			if !slices.Contains(suspects, s.Name) {
				continue
			}
			in[i] = !in[i]
			if r := rate(); r > best+1e-12 {
				best, better = r, i
			}
			in[i] = !in[i]
		}
		if better < 0 {
			break
		}
		in[better] = !in[better]
	}
	set = nil
	for i, s := range g.Slots {
		if in[i] {
			set = append(set, s.Name)
		}
	}
	return set
}

// odds are the open marginals, check by check: of each slot as a stranger, and of each pair of mates split and together.
// Everything is by index: the search asks thousands of times.
type odds struct {
	slot, split, both [][]float64
	mates             [][2]int
	fl, fp            float64
	coinFL, coinFP    float64
	base              float64            // minutes of a round besides the exchange
	rates             map[string]float64 // of arrangements that were asked for, a byte for each slot
}

func (g *Game) odds() *odds {
	if g.open(); g.kept(g.Boards[0]) == g.searched.kept && g.searched.odds != nil {
		return g.searched.odds
	}
	x := &odds{fl: g.Noise.FalseLoss, fp: g.Noise.FalsePass, base: g.base(g.Boards[0]), rates: map[string]float64{}}
	x.coinFL, x.coinFP = coin(x.fl), coin(x.fp)
	for _, p := range g.Mates {
		at := func(name string) int { return slices.IndexFunc(g.Slots, func(s Slot) bool { return s.Name == name }) }
		x.mates = append(x.mates, [2]int{at(p[0]), at(p[1])})
	}
	for _, c := range g.open() {
		m := g.Out.Checks[c].Marginal
		slot := make([]float64, len(g.Slots))
		for i, s := range g.Slots {
			p, known := m[s.Name+":stranger"]
			if !known {
				p = 0.1
			}
			slot[i] = p
		}
		var split, both []float64
		for _, p := range g.Mates {
			split = append(split, m[min(p[0], p[1])+"/"+max(p[0], p[1])+":split"])
			both = append(both, m[min(p[0], p[1])+"&"+max(p[0], p[1])+":both"])
		}
		x.slot, x.split, x.both = append(x.slot, slot), append(x.split, split), append(x.both, both)
	}
	g.searched.odds, g.searched.kept = x, g.kept(g.Boards[0])
	return x
}

// guess is the information of a reading of an arrangement, summed over the open checks, when the explanations are
// independent.
func (x *odds) guess(in []bool) float64 {
	sum := 0.0
	for c, slot := range x.slot {
		none := 1.0
		for i, p := range slot {
			if in[i] {
				none *= 1 - p
			}
		}
		for k, m := range x.mates {
			a, b := m[0] >= 0 && in[m[0]], m[1] >= 0 && in[m[1]]
			switch {
			case a && b:
				none *= 1 - x.both[c][k]
			case a || b:
				none *= 1 - x.split[c][k]
			}
		}
		sum += coin((1-none)*(1-x.fp)+none*x.fl) - (1-none)*x.coinFP - none*x.coinFL
	}
	return sum
}

// coin is the entropy of a coin in bits.
func coin(p float64) float64 {
	if p <= 0 || p >= 1 {
		return 0
	}
	return -p*math.Log2(p) - (1-p)*math.Log2(1-p)
}

// Sets lists the arrangements that the search of [Game.Propose] finds for a study that was read: those of several slots
// that tell most per minute.
func Sets(c Case, s ledger.Study, h ledger.History, out diagnose.Output) [][]string {
	g := &Game{Case: c, Study: s, history: h, Out: out, Bits: map[string]float64{}}
	for _, u := range g.units() {
		for _, check := range g.open() {
			if p := out.Checks[check].Marginal[u[0]+":stranger"]; p > Cleared && p < Named {
				g.Bits[strings.Join(u, "+")] = 1
			}
		}
	}
	var sets [][]string
	for _, r := range g.Propose() {
		if r.Board == c.Boards[0] {
			sets = append(sets, r.Slots)
		}
	}
	return sets
}
