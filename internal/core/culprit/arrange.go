package culprit

import (
	"maps"
	"slices"

	"waryowl/internal/core/ledger"
)

// Arrangement is one setting of two parts that was tried: which of them was not its own, and how it went while every other part
// was its own or acquitted. P is the chance that the setting loses.
type Arrangement struct {
	Check   string            `json:"check"`
	Slots   map[string]string `json:"slots" doc:"of the two: the state, or own"`
	Lost    int               `json:"lost"`
	Of      int               `json:"of"`
	Boards  []string          `json:"boards" nullable:"false"`
	P       float64           `json:"p"`
	Verdict string            `json:"verdict" enum:"loses,works,not settled"`
	Eye     string            `json:"eye" enum:"shut,half,open"`
}

// mostPair is from what chance on a pair is shown as one.
const mostPair = 0.05

// Pairs are the pairs whose arrangements are shown for a check: mates, and those with 0.05 or more.
func (q *Question) Pairs(mark string) [][2]string {
	c := q.Check(mark)
	pairs := map[[2]string]bool{}
	for m := range q.mates {
		pairs[m] = true
	}
	for _, i := range c.open {
		e := &q.space[i]
		if (e.Kind == ledger.Both || e.Kind == ledger.Split) && c.p.marginal(i) >= mostPair {
			pairs[ordered(e.Slots[0], e.Slots[1])] = true
		}
	}
	return slices.SortedFunc(maps.Keys(pairs), func(a, b [2]string) int {
		if a[0] != b[0] {
			if a[0] < b[0] {
				return -1
			}
			return 1
		}
		switch {
		case a[1] < b[1]:
			return -1
		case a[1] > b[1]:
			return 1
		}
		return 0
	})
}

// Arrangements are the settings of the pairs of a check that were tried.
func (q *Question) Arrangements(mark string) []Arrangement {
	c := q.Check(mark)
	list := []Arrangement{}
	if !c.Lost {
		return list
	}
	own := map[string]float64{} // what a slot in a state still may cost, by itself or in a pair
	share := func(slot, state string) float64 {
		k := slot + "\x00" + state
		if _, known := own[k]; !known {
			x := q.shares(c, slot, state)
			own[k] = x.total
		}
		return own[k]
	}
	for _, pair := range q.Pairs(mark) {
		type setting [2]string
		found := map[setting]*Arrangement{}
		var order []setting
		first := map[setting]int{}
		for _, r := range c.readings {
			k := &q.configs[r.config]
			s := setting{k.states[pair[0]], k.states[pair[1]]}
			if r.piece || s[0] == "" && s[1] == "" || s[0] == ledger.Off || s[1] == ledger.Off {
				continue
			}
			clean := true
			for slot, st := range k.states {
				clean = clean && (slot == pair[0] || slot == pair[1] || share(slot, st) <= acquitPairs)
			}
			if !clean {
				continue
			}
			a := found[s]
			if a == nil {
				a = &Arrangement{Check: mark, Slots: map[string]string{}, Boards: []string{}, Verdict: ledger.Unsettled, Eye: ledger.Half}
				for i, slot := range pair {
					a.Slots[slot] = s[i]
					if s[i] == "" {
						a.Slots[slot] = "own"
					}
				}
				found[s], first[s] = a, r.config
				order = append(order, s)
			}
			a.Of++
			if r.lost {
				a.Lost++
			}
			if !slices.Contains(a.Boards, k.board) {
				a.Boards = append(a.Boards, k.board)
			}
		}
		for _, s := range order {
			a := found[s]
			at := first[s]
			a.P = c.p.any(func(i int) bool {
				e := &q.space[i]
				return e.at.has(at) && e.state && !e.half
			})
			switch {
			case c.LeftOut > mostLeftOut:
			case a.P >= interacts && a.Lost >= 2:
				a.Verdict = ledger.Loses
			case a.P <= acquit && a.Of >= 2:
				a.Verdict = ledger.Works
			}
			if a.Verdict != ledger.Unsettled && len(a.Boards) > 1 && c.Unexplained <= unexplained {
				a.Eye = ledger.Open
			}
			list = append(list, *a)
		}
	}
	return list
}
