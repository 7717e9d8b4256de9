package culprit

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"waryowl/internal/core/ledger"
)

// restoring are the acts that end a loss which stays, and a cause that holds until an act.
var restoring = []string{ledger.Reset, ledger.Flash, ledger.Update}

// configure lays out what was read on the build: each unit's baseline, then the trials in their order.
func (q *Question) configure() {
	for _, b := range q.s.Baselines {
		if b.Build == q.s.Build {
			q.configs = append(q.configs, q.config(b.Board, b.Board.Unit, nil, map[string]string{}, -1))
			c := &q.configs[len(q.configs)-1]
			c.id, c.baseline = ledger.BaselineID(b.Board.Unit), true
		}
	}
	ended := map[string]map[string]map[string]bool{} // per board and slot
	before := map[string]map[string]string{}
	restored := map[string]int{}
	for time := range q.h.Trials {
		d := &q.h.Trials[time]
		unit := d.Board.Unit
		for _, a := range d.Before {
			if slices.Contains(restoring, a.Kind) {
				restored[a.Board] = time
				for _, acts := range ended[a.Board] {
					acts[a.Kind] = true
				}
			}
		}
		c := q.config(d.Board, cmp.Or(d.Housing, unit), d.Pieces, d.States, time)
		if ended[unit] == nil {
			ended[unit] = map[string]map[string]bool{}
		}
		c.ended = map[string]map[string]bool{}
		for slot, p := range c.piece {
			if before[unit] == nil || before[unit][slot] != p || ended[unit][slot] == nil {
				ended[unit][slot] = map[string]bool{}
			}
			c.ended[slot] = maps.Clone(ended[unit][slot])
		}
		before[unit] = c.piece
		c.id, c.trial, c.fits = d.ID, d, d.Fits
		c.restored = -1
		if t, ok := restored[unit]; ok {
			c.restored = t
		}
		if d.Build == q.s.Build {
			q.configs = append(q.configs, c)
		}
	}
	for _, c := range q.configs {
		if !slices.Contains(q.boards, c.board) {
			q.boards = append(q.boards, c.board)
		}
	}
	slices.Sort(q.boards)
}

// config is a configuration of a board with these pieces that are not its own.
func (q *Question) config(b ledger.Board, housing string, pieces []ledger.Piece, states map[string]string, time int) config {
	c := config{board: b.Unit, housing: housing, time: time, states: states, piece: map[string]string{},
		origin: map[string]string{}, ended: map[string]map[string]bool{}, restored: -1}
	for _, slot := range q.s.Slots {
		c.piece[slot], c.origin[slot] = ledger.Piece{Slot: slot, Unit: b.Unit}.ID(), b.Unit
	}
	for _, p := range pieces {
		if _, known := c.piece[p.Slot]; !known {
			continue
		}
		c.piece[p.Slot] = p.ID()
		c.origin[p.Slot] = p.Unit
		if p.Origin != "" {
			c.origin[p.Slot] = p.Origin + " " + p.Lot
		}
	}
	return c
}

// at says whether an explanation is at work in a configuration.
func (e *explanation) works(q *Question, c *config) bool {
	in := func(slot string) bool { s := c.states[slot]; return s != "" && s != ledger.Off }
	switch e.Kind {
	case ledger.Foreignness, ledger.Sometimes:
		return c.states[e.Slots[0]] == e.State && (e.Board == "" || e.Board == c.board)
	case ledger.UntilAct:
		return c.states[e.Slots[0]] == e.State && !c.ended[e.Slots[0]][e.Act]
	case ledger.Both:
		return in(e.Slots[0]) && in(e.Slots[1])
	case ledger.Split:
		a, b := e.Slots[0], e.Slots[1]
		return c.states[a] != ledger.Off && c.states[b] != ledger.Off && c.origin[a] != c.origin[b]
	case ledger.BadPiece:
		return c.piece[e.Piece.Slot] == e.Piece.ID()
	case ledger.BadSince:
		return c.piece[e.Piece.Slot] == e.Piece.ID() && c.time >= e.N
	case ledger.LooseSeat:
		return slices.Contains(c.fits, e.name)
	case ledger.StuckLoss:
		return c.board == e.Board && c.time > e.N && c.restored <= e.N
	}
	return false
}

// explain builds the space: every explanation that was, or may be, at work in some configuration. The losses that stay are
// those of a check; they join it there.
func (q *Question) explain() {
	q.family = q.s.Families
	add := func(a ledger.Atom, near, far float64, state bool) {
		q.space = append(q.space, explanation{Atom: a, name: a.Name(), near: near, far: far, relative: true, state: state,
			half: a.Kind == ledger.Sometimes})
	}
	states := map[[2]string]bool{}
	for i := range q.configs {
		for slot, st := range q.configs[i].states {
			states[[2]string{slot, st}] = true
		}
	}
	for _, slot := range q.s.Slots { // what a try may bring
		states[[2]string{slot, "stranger"}], states[[2]string{slot, ledger.Off}] = true, true
	}
	keys := slices.SortedFunc(maps.Keys(states), func(a, b [2]string) int { return strings.Compare(a[0]+"\x00"+a[1], b[0]+"\x00"+b[1]) })
	for _, k := range keys {
		slots := []string{k[0]}
		add(ledger.Atom{Kind: ledger.Foreignness, Slots: slots, State: k[1]}, priorState, priorStateFar, true)
		for _, b := range q.boards {
			add(ledger.Atom{Kind: ledger.Foreignness, Slots: slots, State: k[1], Board: b}, boardShare*priorState,
				boardShare*priorStateFar, true)
		}
		add(ledger.Atom{Kind: ledger.Sometimes, Slots: slots, State: k[1]}, priorSometimes, priorSometimesFar, true)
		for _, act := range restoring {
			if q.h.Did(act) {
				add(ledger.Atom{Kind: ledger.UntilAct, Slots: slots, State: k[1], Act: act}, priorUntil, priorUntil, true)
			}
		}
	}
	for i, a := range q.s.Slots {
		for _, b := range q.s.Slots[i+1:] {
			both, split := [2]float64{related * priorPair, priorPair}, [2]float64{related * priorSplit, priorSplit}
			if q.mates[ordered(a, b)] {
				both, split = [2]float64{priorMates, priorMates}, [2]float64{priorParted, priorPartedFar}
			}
			if q.named[ordered(a, b)] {
				both = [2]float64{priorMates, priorMates}
			}
			pair := ordered(a, b)
			add(ledger.Atom{Kind: ledger.Both, Slots: pair[:]}, both[0], both[1], true)
			add(ledger.Atom{Kind: ledger.Split, Slots: pair[:]}, split[0], split[1], true)
		}
	}
	q.pieces(add)
	for i := range q.space {
		q.lay(&q.space[i])
	}
}

// lay marks the configurations in which an explanation is at work.
func (q *Question) lay(e *explanation) {
	e.at = newBits(len(q.configs))
	for k := range q.configs {
		if e.works(q, &q.configs[k]) {
			e.at.set(k)
		}
	}
}

// dated is an act on a piece after which it may have been hurt: from the first configuration with it that follows.
type dated struct {
	time   int
	damage bool
}

// pieces adds the pieces that sat anywhere: bad from the start, or hurt by one of the acts on them; and the fittings.
func (q *Question) pieces(add func(ledger.Atom, float64, float64, bool)) {
	pieces := map[string]ledger.Piece{}
	for i := range q.configs {
		c := &q.configs[i]
		for slot, id := range c.piece {
			if id != "" {
				pieces[id] = q.pieceOf(c, slot)
			}
		}
	}
	for _, p := range q.s.Movable {
		pieces[p.ID()] = p
	}
	acts := q.acts(pieces)
	for _, id := range slices.Sorted(maps.Keys(pieces)) {
		p := pieces[id]
		slots := []string{p.Slot}
		add(ledger.Atom{Kind: ledger.BadPiece, Slots: slots, Piece: p}, priorBad, priorBadFar, false)
		n := float64(max(2, len(acts[id])))
		seen := map[int]bool{}
		for _, a := range acts[id] {
			k := slices.IndexFunc(q.configs, func(c config) bool { return c.time >= a.time && c.piece[p.Slot] == id })
			if k < 0 || seen[q.configs[k].time] {
				continue
			}
			seen[q.configs[k].time] = true
			near, far := priorHurt/n, priorHurtFar/n
			if a.damage {
				near, far = min(.5, near*hurtByDamage), min(.5, far*hurtByDamage)
			}
			add(ledger.Atom{Kind: ledger.BadSince, Slots: slots, Piece: p, Since: q.configs[k].id, N: q.configs[k].time}, near, far,
				false)
		}
	}
	fits := map[string]bool{}
	for _, c := range q.configs {
		for _, f := range c.fits {
			if !fits[f] {
				fits[f] = true
				add(q.h.Atom(f), priorSeat, 0, false)
			}
		}
	}
}

func (q *Question) pieceOf(c *config, slot string) ledger.Piece {
	if c.trial != nil {
		for _, p := range c.trial.Pieces {
			if p.Slot == slot {
				return p
			}
		}
	}
	return ledger.Piece{Slot: slot, Unit: c.board}
}

// acts are the dated acts on each piece, by time: its housing opened for the first trial, each move, each reseat, damage.
func (q *Question) acts(pieces map[string]ledger.Piece) map[string][]dated {
	out := map[string][]dated{}
	note := func(id string, time int, damage bool) {
		if id == "" {
			return
		}
		if n := len(out[id]); n > 0 && out[id][n-1].time == time {
			out[id][n-1].damage = out[id][n-1].damage || damage
			return
		}
		out[id] = append(out[id], dated{time, damage})
	}
	opened := map[string]bool{}
	where := map[string]string{} // of a piece: the housing in which it sat last
	for _, p := range pieces {
		where[p.ID()] = p.Unit
	}
	for time := range q.h.Trials {
		d := &q.h.Trials[time]
		for _, a := range d.Before {
			for _, p := range a.Pieces {
				if a.Kind == ledger.Reseat || a.Kind == ledger.Damage {
					note(p.ID(), time, a.Kind == ledger.Damage)
				}
			}
		}
		housing := cmp.Or(d.Housing, d.Board.Unit)
		c := q.config(d.Board, housing, d.Pieces, d.States, time)
		if !opened[housing] {
			opened[housing] = true
			for id, p := range pieces {
				if p.Unit == housing && p.Origin == "" {
					note(id, time, false)
				}
			}
		}
		for _, slot := range q.s.Slots {
			id := c.piece[slot]
			if id != "" && where[id] != housing {
				note(id, time, false)
				where[id] = housing
			}
		}
	}
	return out
}

// prior is the chance of an explanation for a check before anything was read.
func (q *Question) prior(e *explanation, mark string) float64 {
	if q.s.Prior != nil && e.Kind == ledger.Foreignness && e.Board == "" {
		if p, ok := q.s.Prior(e.Atom, mark); ok {
			return p
		}
	}
	if e.Kind == ledger.StuckLoss {
		return e.near
	}
	family := q.s.Concerns[mark]
	if family == "" && ledger.IsNotice(mark) {
		return e.near
	}
	for _, s := range e.Slots {
		if f := q.family[s]; f != "" && f == family {
			return e.near
		}
	}
	return e.far
}
