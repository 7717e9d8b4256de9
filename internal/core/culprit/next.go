package culprit

import (
	"math"
	"slices"

	"waryowl/internal/core/ledger"
)

// Try is a reading that may be made next: these pieces on a board in a housing. Refit are the slots that are seated
// anew for it, Reset says that the board is restored before, Blind are checks that cannot be read then.
type Try struct {
	Board   ledger.Board
	Housing string
	Pieces  []ledger.Piece
	Refit   []string
	Reset   bool
	Blind   []string
}

// Told is what a try tells: bits over the checks in focus, and the checks that it settles in part, the most first.
type Told struct {
	Bits   float64
	Checks []string
}

// tells is from how many bits on a check counts among those that a try settles.
const tells = 0.1

// Tell weighs a try over some checks.
func (q *Question) Tell(t Try, focus []string) Told {
	at := q.Ahead(t.Board, t.Housing, t.Pieces, t.Refit, t.Reset)
	var out Told
	type told struct {
		mark string
		bits float64
	}
	var list []told
	for _, mark := range focus {
		if slices.Contains(t.Blind, mark) || !t.Reset && q.h.Sticky[t.Board.Unit][mark] != "" && len(t.Pieces) > 0 {
			continue // what does not count tells nothing
		}
		b := q.strike(q.Check(mark), at).Bits()
		out.Bits += b
		if b >= tells {
			list = append(list, told{mark, b})
		}
	}
	slices.SortStableFunc(list, func(a, b told) int {
		switch {
		case a.bits > b.bits+1e-9:
			return -1
		case b.bits > a.bits+1e-9:
			return 1
		}
		return 0
	})
	for _, x := range list {
		out.Checks = append(out.Checks, x.mark)
	}
	return out
}

// Open says whether something of a check is still to be found out: an explanation between 0.03 and 0.95.
func (q *Question) Open(mark string) bool {
	c := q.Check(mark)
	if !c.Lost {
		return false
	}
	for _, i := range c.open {
		if p := c.p.marginal(i); p > 0.03 && p < 0.95 {
			return true
		}
	}
	return false
}

// Settled says whether every explanation of a check is near to sure or out: within 0.05 of either. Of a check that
// was never lost it is what each slot that was read as a stranger has by itself; a slot that was never exchanged is
// no question yet.
func (q *Question) Settled(mark string) bool {
	c := q.Check(mark)
	if !c.Lost {
		for _, slot := range q.s.Slots {
			if s := q.seen(c, slot, "stranger"); len(s.passed) > 0 && q.closedShare(c, slot, "stranger") > acquit {
				return false
			}
		}
		return true
	}
	for _, i := range c.open {
		if p := c.p.marginal(i); p > acquit && p < 1-acquit {
			return false
		}
	}
	return true
}

// Known are the slots that cost a check for sure, in some state: they are left out of what is exchanged together.
func (q *Question) Known(mark string) []string {
	var out []string
	c := q.Check(mark)
	for _, i := range c.open {
		e := &q.space[i]
		if e.Kind == ledger.Foreignness && e.Board == "" && c.p.marginal(i) >= 0.95 {
			out = append(out, e.Slots[0])
		}
	}
	return out
}

// Halves are sets of slots whose exchange on a board is lost about as likely as not: from all and from none, slots
// are taken away or added one at a time while the chance comes nearer to one half. That is binary splitting of a set
// whose fault may take two (F. K. Hwang, Journal of the American Statistical Association 67, 1972; A. Zeller and R.
// Hildebrandt, IEEE Transactions on Software Engineering 28, 2002): about 2·log₂ n readings, in no order of names.
// piece is what would be fitted in a slot.
func (q *Question) Halves(b ledger.Board, housing, mark string, slots []string,
	piece func(slot string) ledger.Piece) [][]string {
	c := q.Check(mark)
	if c.p == nil || c.p.z == 0 {
		return nil
	}
	list := c.p.draws(drawnSets)[:400]
	sure, half := make([]float64, len(c.p.sure)), make([]float64, len(c.p.halves))
	chance := func(in []bool) float64 {
		var pieces []ledger.Piece
		for k, slot := range slots {
			if in[k] {
				pieces = append(pieces, piece(slot))
			}
		}
		cfg := q.planned(b, housing, pieces)
		at := newBits(len(q.space))
		for _, i := range c.open {
			if q.space[i].works(q, &cfg) {
				at.set(i)
			}
		}
		for n, x := range c.p.sure {
			sure[n] = x.spared(at.has)
		}
		for n, x := range c.p.halves {
			half[n] = x.spared(at.has)
		}
		sum := 0.0
		for _, d := range list {
			none, soft := 1.0, 1.0
			for _, n := range d.sure {
				none *= sure[n]
			}
			for _, n := range d.half {
				soft *= half[n]
			}
			sum += (1 - none) + .5*none*(1-soft)
		}
		return sum / float64(len(list))
	}
	var out [][]string
	for _, full := range []bool{true, false} {
		in := make([]bool, len(slots))
		for k := range in {
			in[k] = full
		}
		now := math.Abs(chance(in) - .5)
		for range slots {
			best, at := now, -1
			for k := range slots {
				if in[k] != full {
					continue
				}
				in[k] = !full
				if d := math.Abs(chance(in) - .5); d < best-1e-9 {
					best, at = d, k
				}
				in[k] = full
			}
			if at < 0 {
				break
			}
			in[at], now = !full, best
		}
		var set []string
		for k, slot := range slots {
			if in[k] {
				set = append(set, slot)
			}
		}
		if len(set) > 0 {
			out = append(out, set)
		}
	}
	return out
}

// Stuck is the chance that some loss of the checks stays on a board.
func (q *Question) Stuck(board string, focus []string) float64 {
	most := 0.0
	for _, mark := range focus {
		c := q.Check(mark)
		for _, i := range c.open {
			e := &q.space[i]
			if e.Kind != ledger.StuckLoss || e.Board != board {
				continue
			}
			last := -1 // the last configuration of the board
			for k := range q.configs {
				if q.configs[k].board == board && !q.configs[k].baseline {
					last = k
				}
			}
			if last >= 0 && (e.at.has(last) || q.configs[last].time == e.N) && !q.s.Restored(board) {
				most = math.Max(most, c.p.marginal(i))
			}
		}
	}
	return most
}
