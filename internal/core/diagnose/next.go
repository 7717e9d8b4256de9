package diagnose

import (
	"cmp"
	"math"
	"slices"
)

// longestPlan is how many candidates the greedy plan holds at most.
const longestPlan = 6

// worthwhile is the information, in bits, below which a reversible candidate no longer holds back irreversible ones.
const worthwhile = 0.01

// rank gives every candidate its mutual information with the culprit sets and a greedy plan within the budget.
func rank(in Input, models []*model) ([]Next, []string, error) {
	next := []Next{}
	holding := false
	for k, c := range in.Candidates {
		n := Next{ID: c.ID}
		for _, m := range models {
			b, err := m.information([]uint64{m.cands[k]})
			if err != nil {
				return nil, nil, err
			}
			n.Bits += b
		}
		n.BitsPerMinute = n.Bits / c.Minutes
		next = append(next, n)
		holding = holding || !c.Irreversible && n.Bits >= worthwhile
	}
	by := map[string]Candidate{}
	for _, c := range in.Candidates {
		by[c.ID] = c
	}
	last := func(n Next) bool {
		return holding && (by[n.ID].Irreversible || n.Bits < worthwhile)
	}
	slices.SortStableFunc(next, func(a, b Next) int {
		if last(a) != last(b) {
			if last(b) {
				return -1
			}
			return 1
		}
		if c := cmp.Compare(b.BitsPerMinute, a.BitsPerMinute); c != 0 {
			return c
		}
		return cmp.Compare(a.ID, b.ID)
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
	plan, err := greedyPlan(in, models, next)
	return next, plan, err
}

// greedyPlan adds the candidate whose outcomes tell most per minute beyond those already planned, while minutes are left;
// without a budget it is empty.
func greedyPlan(in Input, models []*model, ranked []Next) ([]string, error) {
	plan := []string{}
	left := in.BudgetMinutes
	var chosen []int
	sofar := 0.0
	for len(plan) < longestPlan {
		best, bestRate, bestSum := -1, 0.0, 0.0
		for _, n := range ranked {
			k := slices.IndexFunc(in.Candidates, func(c Candidate) bool { return c.ID == n.ID })
			c := in.Candidates[k]
			if slices.Contains(chosen, k) || c.Minutes > left {
				continue
			}
			sum := 0.0
			for _, m := range models {
				var watch []uint64
				for _, p := range append(slices.Clip(chosen), k) {
					watch = append(watch, m.cands[p])
				}
				b, err := m.information(watch)
				if err != nil {
					return nil, err
				}
				sum += b
			}
			gain := sum - sofar
			if gain < worthwhile || c.Irreversible && best >= 0 && !in.Candidates[best].Irreversible {
				continue
			}
			rate := gain / c.Minutes
			if best < 0 || rate > bestRate || in.Candidates[best].Irreversible && !c.Irreversible {
				best, bestRate, bestSum = k, rate, sum
			}
		}
		if best < 0 {
			break
		}
		chosen = append(chosen, best)
		plan = append(plan, in.Candidates[best].ID)
		left -= in.Candidates[best].Minutes
		sofar = bestSum
	}
	return plan, nil
}

// information is the mutual information, in bits, between the outcomes of the watched sets and the culprit sets:
// H(outcomes) − Σ P(pattern) · H(outcomes given the pattern).
func (m *model) information(watch []uint64) (float64, error) {
	pattern, err := m.joint(watch)
	if err != nil {
		return 0, err
	}
	z := 0.0
	for _, w := range pattern {
		z += w
	}
	fl, fp := m.in.Noise.FalseLoss, m.in.Noise.FalsePass
	given := 0.0
	outcome := make([]float64, len(pattern))
	for h, w := range pattern {
		p := w / z
		if p == 0 {
			continue
		}
		for k := range watch {
			given += p * entropy2([2]float64{fl, fp}[h>>k&1])
		}
		for o := range outcome {
			q := p
			for k := range watch {
				switch hit, lost := h>>k&1 == 1, o>>k&1 == 1; {
				case hit && lost:
					q *= 1 - fp
				case hit:
					q *= fp
				case lost:
					q *= fl
				default:
					q *= 1 - fl
				}
			}
			outcome[o] += q
		}
	}
	h := 0.0
	for _, p := range outcome {
		h -= xlog(p, p)
	}
	return math.Max(0, h/math.Ln2-given), nil
}

// entropy2 is the entropy of a coin in bits.
func entropy2(p float64) float64 { return -(xlog(p, p) + xlog(1-p, 1-p)) / math.Ln2 }
