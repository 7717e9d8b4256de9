package diagnose

import (
	"cmp"
	"context"
	"math"
	"slices"
)

// longestPlan is how many candidates the greedy plan holds at most.
const longestPlan = 6

// even is a figure as it is compared: what rounding made of two that are the same must not put one of them first.
func even(x float64) float64 { return math.Round(x * 1e10) }

// worthwhile is the information, in bits, below which a reversible candidate no longer holds back irreversible ones.
const worthwhile = 0.01

// weighAll works out what each candidate tells about this check.
func (m *model) weighAll(ctx context.Context, consistent bool) error {
	if !consistent {
		return nil
	}
	var strong []int
	var sets []set
	for c := range m.in.Candidates {
		switch s := m.cands[c]; {
		case slices.Contains(m.in.Candidates[c].Blind, m.check):
		case s.and(m.weak) != (set{}):
			if err := ctx.Err(); err != nil {
				return err
			}
			m.bits[c] = m.information([]set{s})
		default:
			strong, sets = append(strong, c), append(sets, s)
		}
	}
	absent, err := m.absences(ctx, sets)
	if err != nil {
		return err
	}
	for i, c := range strong {
		m.bits[c] = m.tells(absent[i])
	}
	return nil
}

// rank gives every candidate its mutual information with the culprit sets and a greedy plan within the budget. While a
// marginal is open, bits per minute decide; then the grades per minute of controls and repeats.
func rank(ctx context.Context, in Input, models []*model, checks map[string]*Check) ([]Next, []string, error) {
	settled := !slices.ContainsFunc(models, func(m *model) bool { return !checks[m.check].Settled })
	next := []Next{}
	holding := false
	by := map[string]Candidate{}
	for c, cand := range in.Candidates {
		n := Next{ID: cand.ID, GradesPerMinute: cand.Grades / cand.Minutes}
		for _, m := range models {
			n.Bits += m.bits[c]
			n.Error = max(n.Error, m.error)
		}
		n.BitsPerMinute = n.Bits / cand.Minutes
		next = append(next, n)
		by[cand.ID] = cand
		holding = holding || !cand.Irreversible && n.Bits >= worthwhile
	}
	last := func(n Next) bool {
		return holding && (by[n.ID].Irreversible || n.Bits < worthwhile)
	}
	order := func(a, b bool) int {
		switch {
		case a == b:
			return 0
		case b:
			return -1
		}
		return 1
	}
	slices.SortStableFunc(next, func(a, b Next) int {
		if settled {
			return cmp.Or(order(by[a.ID].Irreversible, by[b.ID].Irreversible),
				cmp.Compare(b.GradesPerMinute, a.GradesPerMinute),
				cmp.Compare(even(b.BitsPerMinute), even(a.BitsPerMinute)), cmp.Compare(a.ID, b.ID))
		}
		return cmp.Or(order(last(a), last(b)), cmp.Compare(even(b.BitsPerMinute), even(a.BitsPerMinute)),
			cmp.Compare(b.GradesPerMinute, a.GradesPerMinute), cmp.Compare(a.ID, b.ID))
	})
	// One unit stays as control: irreversible candidates of a second unit are not proposed.
	unit, chosen := "", false
	next = slices.DeleteFunc(next, func(n Next) bool {
		c := by[n.ID]
		if !c.Irreversible {
			return false
		}
		if !chosen {
			unit, chosen = c.Unit, true
		}
		return c.Unit != unit
	})
	plan := greedyPlan(ctx, in, models, next)
	return next, plan, ctx.Err()
}

// greedyPlan adds the candidate whose outcomes tell most per minute beyond those already planned, while minutes are
// left; without a budget it is empty. What a candidate adds only shrinks as others are planned (outcomes are
// independent given the culprits), so a figure from an earlier round bounds it, and few need to be worked out again.
func greedyPlan(ctx context.Context, in Input, models []*model, ranked []Next) []string {
	type entry struct {
		cand, round int
		gain        float64
	}
	index := map[string]int{}
	for k, c := range in.Candidates {
		index[c.ID] = k
	}
	var open []entry
	for _, n := range ranked {
		open = append(open, entry{index[n.ID], 0, n.Bits})
	}
	rate := func(e entry) float64 { return even(e.gain / in.Candidates[e.cand].Minutes) }
	plan := []string{}
	left, sofar := in.BudgetMinutes, 0.0
	var chosen []int
	for len(plan) < longestPlan && ctx.Err() == nil {
		best := -1
		for {
			best = -1
			for i, e := range open {
				c := in.Candidates[e.cand]
				if c.Minutes > left || e.gain < worthwhile {
					continue
				}
				if best < 0 || c.Irreversible != in.Candidates[open[best].cand].Irreversible && !c.Irreversible ||
					c.Irreversible == in.Candidates[open[best].cand].Irreversible && rate(e) > rate(open[best]) {
					best = i
				}
			}
			if best < 0 || open[best].round == len(plan) {
				break
			}
			sums := make([]float64, len(models))
			each(len(models), func(k int) {
				var watch []set
				for _, p := range append(slices.Clip(chosen), open[best].cand) {
					if slices.Contains(in.Candidates[p].Blind, models[k].check) {
						continue
					}
					watch = append(watch, models[k].cands[p])
				}
				sums[k] = models[k].information(watch)
			})
			sum := 0.0
			for _, s := range sums {
				sum += s
			}
			open[best].gain, open[best].round = sum-sofar, len(plan)
		}
		if best < 0 {
			break
		}
		e := open[best]
		open = slices.Delete(open, best, best+1)
		chosen = append(chosen, e.cand)
		plan = append(plan, in.Candidates[e.cand].ID)
		left -= in.Candidates[e.cand].Minutes
		sofar += e.gain
	}
	return plan
}
