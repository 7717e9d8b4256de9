package culprit

import (
	"math"
	"slices"

	"waryowl/internal/core/ledger"
	"waryowl/internal/core/risk"
)

// Thresholds of what may be said (house; they were played on small worlds with a hidden truth).
const (
	convict      = 0.93 // a loss: always, on a board, and now and then where it never passed
	convictSure  = 0.85 // of it without what comes and goes
	interacts    = 0.9
	comesAndGoes = 0.9
	untilKnown   = 0.9
	acquit       = 0.05
	acquitPairs  = 0.02
	unexplained  = 0.05
	boardLoses   = 0.9
	boardWorks   = 0.1
)

// seen are the counted readings of a check with a slot in a state.
type seen struct {
	lost, passed []int    // configurations
	boards       []string // on which it was read
}

func (q *Question) seen(c *Check, slot, state string) seen {
	var s seen
	for _, r := range c.readings {
		k := &q.configs[r.config]
		if r.piece || k.states[slot] != state {
			continue
		}
		if r.lost {
			s.lost = append(s.lost, r.config)
		} else {
			s.passed = append(s.passed, r.config)
		}
		if !slices.Contains(s.boards, k.board) {
			s.boards = append(s.boards, k.board)
		}
	}
	return s
}

// shares are the posterior of what names a slot in a state: always, by board, now and then, by act, and with partners.
type shares struct {
	always, sometimes, until, pairs, total float64
	act                                    string
	board                                  map[string]float64
	partner, how                           string // the likeliest pair
	pair                                   float64
	pairAt                                 int
}

func (q *Question) shares(c *Check, slot, state string) shares {
	if x, known := c.shares[[2]string{slot, state}]; known {
		return x
	}
	x := q.sharesOf(c, slot, state)
	if c.shares == nil {
		c.shares = map[[2]string]shares{}
	}
	c.shares[[2]string{slot, state}] = x
	return x
}

func (q *Question) sharesOf(c *Check, slot, state string) shares {
	x := shares{board: map[string]float64{}}
	named := make(map[int]bool)
	sum := 0.0
	off := state == ledger.Off
	for _, i := range c.open {
		e := &q.space[i]
		p := c.p.marginal(i)
		switch {
		case e.Kind == ledger.Both || e.Kind == ledger.Split:
			if off || !slices.Contains(e.Slots, slot) {
				continue
			}
			x.pairs += p
			if p > x.pair {
				other := e.Slots[0]
				if other == slot {
					other = e.Slots[1]
				}
				x.pair, x.partner, x.pairAt = p, other, i
				x.how = map[ledger.Kind]string{ledger.Both: "both", ledger.Split: "parted"}[e.Kind]
			}
		case len(e.Slots) == 0 || e.Slots[0] != slot || e.State != state || e.State == "":
			continue
		case e.Kind == ledger.Foreignness && e.Board == "":
			x.always = p
		case e.Kind == ledger.Foreignness:
			x.board[e.Board] = p
		case e.Kind == ledger.Sometimes:
			x.sometimes = p
		case e.Kind == ledger.UntilAct:
			if p > x.until {
				x.until, x.act = p, e.Act
			}
		default:
			continue
		}
		named[i] = true
		sum += p
	}
	x.total = sum
	if sum > 0.03 {
		x.total = c.p.any(func(i int) bool { return named[i] })
	}
	return x
}

// own is the part of the posterior in which the slot does it by itself.
func (x shares) own() float64 {
	s := x.always + x.sometimes + x.until
	for _, p := range x.board {
		s += p
	}
	return math.Min(1, s)
}

// Grade says what a slot in a state does to a check, as far as it may be said.
func (q *Question) Grade(slot, state, mark string) ledger.Verdict {
	c := q.Check(mark)
	v := ledger.Verdict{Slot: slot, State: state, Check: mark, Mark: ledger.Untested, Eye: ledger.Shut, For: []string{},
		Against: []string{}, Missing: []ledger.Missing{}}
	s := q.seen(c, slot, state)
	if len(s.lost)+len(s.passed) == 0 {
		v.Missing = ledger.Lacking(ledger.NeedTrial)
		return v
	}
	for _, k := range s.lost {
		v.For = append(v.For, q.configs[k].id)
	}
	for _, k := range s.passed {
		v.Against = append(v.Against, q.configs[k].id)
	}
	v.Mark, v.Eye = ledger.Unsettled, ledger.Half
	v.Rate = rate(len(s.lost), len(s.lost)+len(s.passed))
	x := shares{board: map[string]float64{}}
	if c.Lost {
		x = q.shares(c, slot, state)
	} else {
		x.total = q.closedShare(c, slot, state)
		x.always = x.total
	}
	p := math.Min(1, x.total)
	v.P = &p
	v.Boards = q.byBoard(c, s, x, slot, state)
	q.decide(c, s, x, &v)
	if q.s.Newest != "" && q.s.Build != q.s.Newest {
		v.Aged = true
		v.Missing = append(v.Missing, ledger.Missing{Code: ledger.NeedBuild, Text: "a repeat on build " + q.s.Newest +
			", the newest seen"})
	}
	if len(v.Missing) == 0 && v.Mark != ledger.Unsettled && c.Unexplained <= unexplained {
		v.Eye = ledger.Open
	}
	return v
}

// closedShare is what is left of a slot in a state for a check that was never lost.
func (q *Question) closedShare(c *Check, slot, state string) float64 {
	none := 1.0
	for i := range q.space {
		e := &q.space[i]
		single := e.Kind == ledger.Foreignness || e.Kind == ledger.Sometimes || e.Kind == ledger.UntilAct
		if single && e.Slots[0] == slot && e.State == state {
			none *= 1 - q.closed(c, i)
		}
	}
	return 1 - none
}

func rate(lost, of int) *ledger.Rate {
	low, high := risk.Count{K: lost, N: of}.Interval()
	return &ledger.Rate{Lost: lost, Of: of, Low: low, High: high}
}

func (q *Question) byBoard(c *Check, s seen, x shares, slot, state string) map[string]ledger.BoardVerdict {
	out := map[string]ledger.BoardVerdict{}
	for _, b := range s.boards {
		v := ledger.BoardVerdict{Verdict: ledger.Unsettled}
		for _, k := range s.lost {
			if q.configs[k].board == b {
				v.Lost, v.Of = v.Lost+1, v.Of+1
			}
		}
		for _, k := range s.passed {
			if q.configs[k].board == b {
				v.Of++
			}
		}
		v.P = math.Min(1, x.always+x.board[b])
		switch {
		case v.P >= boardLoses && v.Lost >= 2:
			v.Verdict = ledger.Loses
		case v.P <= acquit && v.Lost == 0 && v.Of > 0:
			v.Verdict = ledger.Works
		}
		out[b] = v
	}
	return out
}

// decide tries what may be said, in this order: boards differ, loses, interaction, comes and goes, until, works.
func (q *Question) decide(c *Check, s seen, x shares, v *ledger.Verdict) {
	if c.LeftOut > mostLeftOut {
		v.Missing = ledger.Lacking(ledger.NeedSeparate)
		return
	}
	sure, least, most := x.always, 1.0, 0.0
	for _, p := range x.board {
		sure += p
	}
	for _, b := range s.boards {
		least, most = math.Min(least, x.always+x.board[b]), math.Max(most, x.always+x.board[b])
	}
	if len(s.boards) > 1 && most > boardLoses && least < boardWorks {
		v.Missing = ledger.Lacking(ledger.NeedBoards)
		return
	}
	convicted := sure
	if len(s.passed) == 0 {
		convicted += x.sometimes
	}
	after := q.controlAfter(c, s.lost)
	fits := q.h.Fittings(v.Slot, v.For)
	switch {
	case convicted >= convict && sure >= convictSure:
		if !(after && q.alone(s.lost, v.Slot) || len(s.lost) >= 2 && (after || fits >= 2)) {
			missing := []ledger.Condition{}
			if !after {
				missing = append(missing, ledger.NeedControl)
			}
			if fits < 2 {
				missing = append(missing, ledger.NeedRepeat)
			}
			v.Missing = ledger.Lacking(missing...)
			return
		}
		v.Mark = ledger.Loses
		if v.Check == "boot" {
			v.Mark = ledger.Dead
		}
		v.Missing = q.missingForLoss(c, v)
	case x.pair >= interacts && q.atWork(c, x.pairAt) >= 2:
		v.Mark, v.With, v.How = ledger.Together, x.partner, x.how
		v.Missing = q.missingForLoss(c, v)
	case x.sometimes >= comesAndGoes && q.turns(s):
		v.Mark = ledger.Sporadic
		if q.h.Fittings(v.Slot, slices.Concat(v.For, v.Against)) < 2 {
			v.Missing = ledger.Lacking(ledger.NeedRepeat)
		}
	case x.until >= untilKnown:
		v.Until = x.act
		v.Missing = ledger.Lacking(ledger.NeedRepeat)
		if q.endedOn(s, v.Slot, x.act) > 1 {
			v.Mark = ledger.Loses
			v.Missing = q.missingForLoss(c, v)
		}
	default:
		q.acquitOrNot(c, s, x, v)
	}
}

// acquitOrNot says that a part works where nothing of it, alone or in a pair, is left as a cause.
func (q *Question) acquitOrNot(c *Check, s seen, x shares, v *ledger.Verdict) {
	own := x.own()
	if !c.Lost {
		own = x.total
	}
	harmless := own <= acquit && len(s.passed) > 0 && (!c.Lost || x.pairs <= acquitPairs)
	for _, k := range s.lost {
		harmless = harmless && q.explained(c, k)
	}
	if !harmless {
		missing := []ledger.Condition{ledger.NeedSeparate}
		if x.pairs > acquitPairs {
			missing = append(missing, ledger.NeedPair)
		}
		if own > 0.5 && len(s.lost) > 0 && !q.controlAfter(c, s.lost) {
			missing = append(missing, ledger.NeedControl)
		}
		v.Missing = ledger.Lacking(missing...)
		return
	}
	v.Mark = ledger.Works
	if v.State == "adopted" {
		v.Mark, v.Note = ledger.Calibrated, "seen on one board: the other stays the control"
	}
	v.Scope = "alone"
	for _, r := range c.readings {
		k := &q.configs[r.config]
		if r.piece || k.states[v.Slot] != v.State {
			continue
		}
		foreign := len(k.states) == len(q.s.Slots)
		if foreign || r.lost {
			v.Scope = "in company"
		}
	}
	v.Missing = append(q.h.Wavering(v), q.s.MissingForHarmless(q.h, *v)...)
}

// explained says whether a lost reading is not noise alone.
func (q *Question) explained(c *Check, config int) bool {
	for k, r := range c.readings {
		if r.config == config {
			n := c.p.kindOf[k]
			return n >= 0 && c.p.uncovered([]int{n}) <= unexplained || q.calledNoise(c, k)
		}
	}
	return false
}

// alone says whether some lost configuration held nothing else that was not its own.
func (q *Question) alone(lost []int, slot string) bool {
	return slices.ContainsFunc(lost, func(k int) bool { return len(q.configs[k].states) == 1 && q.configs[k].states[slot] != "" })
}

// controlAfter says whether, after some loss, the board passed with all its own.
func (q *Question) controlAfter(c *Check, lost []int) bool {
	for _, k := range lost {
		for _, r := range c.readings {
			o := &q.configs[r.config]
			if !r.lost && !o.baseline && o.board == q.configs[k].board && o.time > q.configs[k].time && len(o.states) == 0 {
				return true
			}
		}
	}
	return false
}

// atWork counts the counted losses in which an explanation was at work.
func (q *Question) atWork(c *Check, i int) int {
	n := 0
	for _, r := range c.readings {
		if r.lost && q.space[i].counts(r) {
			n++
		}
	}
	return n
}

// turns says whether one board read both at least twice.
func (q *Question) turns(s seen) bool {
	for _, b := range s.boards {
		on := func(list []int) (n int) {
			for _, k := range list {
				if q.configs[k].board == b {
					n++
				}
			}
			return n
		}
		if on(s.lost) >= 2 && on(s.passed) >= 2 {
			return true
		}
	}
	return false
}

// endedOn counts the boards on which a loss was seen before an act and a pass after it, with the same piece fitted.
func (q *Question) endedOn(s seen, slot, act string) int {
	n := 0
	for _, b := range s.boards {
		was := slices.ContainsFunc(s.lost, func(k int) bool { return q.configs[k].board == b && !q.configs[k].ended[slot][act] })
		is := slices.ContainsFunc(s.passed, func(k int) bool { return q.configs[k].board == b && q.configs[k].ended[slot][act] })
		if was && is {
			n++
		}
	}
	return n
}

// missingForLoss lists what a verdict of a loss still lacks for a full eye.
func (q *Question) missingForLoss(c *Check, v *ledger.Verdict) []ledger.Missing {
	var missing []ledger.Condition
	isolated, control, home := false, false, v.State == ledger.Off
	for _, id := range v.For {
		d := q.h.Derived(id)
		if d == nil {
			continue
		}
		k := slices.IndexFunc(q.configs, func(x config) bool { return x.id == id })
		isolated = isolated || !slices.ContainsFunc(c.open, func(i int) bool {
			e := &q.space[i]
			return e.at.has(k) && !slices.Contains(e.Slots, v.Slot) && c.p.marginal(i) > acquit
		})
		control = control || q.s.Controlled(q.h, id, *v) || v.With != "" && q.controlAfter(c, []int{k})
		for _, p := range d.Pieces {
			home = home || p.Slot == v.Slot && q.s.WorksAtHome(q.h, p, v.Check)
		}
	}
	if !isolated {
		missing = append(missing, ledger.NeedIsolated)
	}
	if !control {
		missing = append(missing, ledger.NeedControl)
	}
	if !home {
		missing = append(missing, ledger.NeedHome)
	}
	if q.h.Fittings(v.Slot, v.For) < 2 {
		missing = append(missing, ledger.NeedRepeat)
	}
	return ledger.Lacking(missing...)
}
