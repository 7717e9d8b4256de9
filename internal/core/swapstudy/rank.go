package swapstudy

import (
	"cmp"
	"math"
	"slices"

	"waryowl/internal/core/ledger"
)

// wish counts for each act the verdicts that it brings nearer to a full eye.
func (o *offer) wish(verdicts []Verdict) {
	state := map[string]map[string]string{}
	donors := map[string][]string{} // slot: units whose piece was tried elsewhere
	for _, d := range o.h.Trials {
		state[d.Board.Unit] = d.States
		for _, p := range d.Pieces {
			if p.Origin == "" && p.Unit != d.Board.Unit {
				donors[p.Slot] = append(donors[p.Slot], p.Unit)
			}
		}
	}
	for _, v := range verdicts {
		if v.Eye != ledger.Half || !slices.Contains(o.focus, v.Check) {
			continue
		}
		found := v.Verdict != ledger.Unsettled
		for _, need := range v.Missing {
			for _, x := range o.list {
				one := len(x.Slots) == 1 && x.Slots[0] == v.Slot
				fits := false
				switch need {
				case ledger.NeedControl:
					fits = x.Act == "control" && state[x.Board][v.Slot] == v.State
				case ledger.NeedHome:
					fits = found && x.Act == "control" && slices.Contains(donors[v.Slot], x.Board)
				case ledger.NeedRepeat: // what is found is not exchanged again for its own sake, but on the second board
					fits = x.Act == "swap" && one && v.State == "stranger" && (v.Verdict == ledger.Loses ||
						v.Verdict == ledger.Dead) &&
						v.Boards[x.Board].Of == 0
				}
				if fits {
					x.grades++
					x.because(string(need))
				}
			}
		}
	}
}

// rank weighs the acts: what comes first whatever it tells, then bits a minute, then verdicts a minute. The control
// of a board that holds something foreign is always there, last when nothing else needs it.
func (o *offer) rank() []Next {
	for _, x := range o.list {
		if x.Act != "gate" {
			told := o.q.Tell(x.try, o.focus)
			x.Bits = math.Round(told.Bits*1e9) / 1e9
			x.Settles = told.Checks
		}
	}
	if o.b.Minutes != nil {
		for _, x := range o.list {
			if m, known := o.b.Minutes(x.Next, x.try.Pieces); known {
				x.Minutes, x.Assumed = m, false
			}
		}
	}
	o.sort()
	var worth, homes []Next
	if o.b.All {
		for _, x := range o.list {
			worth = append(worth, x.Next)
		}
		return worth
	}
	room := mostNext
	for _, x := range o.list {
		if x.Act == "control" && o.foreign(x.Board) { // all home at the end
			room--
			if x.Bits < leastBits && x.grades == 0 {
				x.because("last control")
				homes = append(homes, x.Next)
			}
		}
	}
	for _, x := range o.list {
		home := x.Act == "control" && o.foreign(x.Board)
		switch {
		case x.Bits < leastBits && x.grades == 0:
		case home:
			worth = append(worth, x.Next)
		case room > 0:
			worth = append(worth, x.Next)
			room--
		}
	}
	return append(append([]Next{}, worth...), homes...)
}

// sort puts what comes first whatever it tells before what tells most a minute, and that before what brings verdicts
// nearer.
func (o *offer) sort() {
	slices.SortStableFunc(o.list, func(a, b *option) int {
		rate := func(x *option) float64 {
			if x.Bits < leastBits {
				return 0
			}
			return math.Round(1e9*x.Bits/(x.Minutes+settleMinutes)) / 1e9
		}
		return cmp.Or(cmp.Compare(b.first, a.first), cmp.Compare(rate(b), rate(a)),
			cmp.Compare(float64(b.grades)/b.Minutes, float64(a.grades)/a.Minutes))
	})
}
