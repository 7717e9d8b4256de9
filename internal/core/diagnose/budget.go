package diagnose

import (
	"context"
	"errors"
	"fmt"
	"math"

	"waryowl/internal/core/fault"
)

// The sizes up to which an answer is exact, and beyond which candidates are weighed roughly.
const (
	maxStates   = 1 << 18 // states of a layer of a table before the lightest are dropped
	allStates   = 3 << 20 // states of all layers of all tables of a question of few checks
	manyStates  = 1 << 20 // and of one of more than fewChecks
	fewChecks   = 8
	smallAtoms  = 20      // up to here the answer is exact whatever the trials are
	easyStates  = 1 << 12 // up to here a table is taken before all sets are listed
	maxTrials   = 128     // different trials of two or more atoms in a table
	roughStates = 1 << 11 // states of the rough table for candidates
	roughFrom   = 1 << 17 // steps of a table from which candidates take the rough one
)

// plan says how a check is answered: by a table that others may share, by a list of all sets (nil, small), or by a table
// of its own that drops the lightest states.
type plan struct {
	trials []set
	key    string
	small  bool
	weak   []int // weak atoms whose sets are gone through one by one, beside a table of the strong ones
	shape  *shape
	steps  int // states that a table of its own may have
}

// sets are the atoms of the trials that a table tells apart.
func (p *plan) sets(m *model) []set {
	if len(p.weak) == 0 {
		return p.trials
	}
	strong := make([]set, len(p.trials))
	for e, t := range p.trials {
		strong[e] = t.without(m.weak)
	}
	return strong
}

// plans shares the states of a question among its checks: first every check gets an equal share, then what is left goes to
// those that it was not enough for.
func plans(ctx context.Context, models []*model, states int, kept *Memory) ([]plan, error) {
	list := make([]plan, len(models))
	var keys []string
	first := map[string]int{}
	for k, outer := range models {
		p, m := &list[k], outer.inner
		for _, e := range m.whole {
			p.trials = append(p.trials, e.atoms)
		}
		if m.weak != (set{}) && m.weak.count() <= mixed {
			p.weak = m.weak.elements()
		}
		p.key = string(m.appendTrials(nil, p.sets(m)))
		p.small = len(m.atoms) <= smallAtoms
		if len(p.trials) > maxTrials && !p.small {
			return nil, fault.New("trials", fmt.Sprintf("%d different trials for %s", len(p.trials), m.check),
				fmt.Sprintf("at most %d of two or more explanations in one question", maxTrials))
		}
		if _, known := first[p.key]; !known && len(p.trials) <= maxTrials {
			first[p.key] = k
			keys = append(keys, p.key)
		}
	}
	shapes := make([]*shape, len(keys))
	try := func(steps int, which func(i int) bool) error {
		errs := make([]error, len(keys))
		each(len(keys), func(i int) {
			k := first[keys[i]]
			if shapes[i] != nil || !which(k) {
				return
			}
			limit := maxStates
			if list[k].small {
				limit = easyStates
			}
			cases := len(list[k].weak)
			m := models[k].inner
			shapes[i], errs[i] = kept.shape(
				keys[i],
				effort{ctx, limit >> cases, steps >> cases},
				list[k].sets(m),
				m.spare,
			)
		})
		return errors.Join(errs...)
	}
	all := allStates
	if len(models) > fewChecks {
		all = manyStates
	}
	if states > 0 {
		all = states
	}
	share := all / max(1, len(models))
	if err := try(share, func(int) bool { return true }); err != nil {
		return nil, err
	}
	left, hard := all, 0
	of := map[string]*shape{}
	for i, key := range keys {
		of[key] = shapes[i]
	}
	for _, p := range list {
		if s := of[p.key]; s != nil {
			left -= s.steps / 2 << len(p.weak)
		} else if !p.small {
			hard++
		}
	}
	more := left / max(1, hard)
	if hard > 0 && more >= 2*share {
		if err := try(more, func(k int) bool { return !list[k].small }); err != nil {
			return nil, err
		}
		for i, key := range keys {
			of[key] = shapes[i]
		}
	}
	for k := range list {
		list[k].shape, list[k].steps = of[list[k].key], max(share, more)
	}
	return list, nil
}

// solve makes the way to the posterior, or finds it where the question before left it.
func (m *model) solve(ctx context.Context, p plan, kept *Memory) error {
	key := ""
	if kept != nil {
		key = string(m.inner.appendReadings(fmt.Appendf([]byte(p.key), "%t %d %d ", p.shape != nil, p.weak, p.steps)))
	}
	m.exact, m.rough = kept.solver(key)
	var err error
	if m.exact == nil {
		if m.exact, err = m.inner.exactly(ctx, p); err != nil {
			return err
		}
	}
	if m.rough == nil && len(m.cands) > 0 && !m.in.Unweighed {
		if m.rough, err = m.inner.roughly(ctx, p, m.exact); err != nil {
			return err
		}
	}
	kept.keep(key, m.exact, m.rough)
	return nil
}

func (m *model) exactly(ctx context.Context, p plan) (solver, error) {
	switch {
	case p.shape != nil && len(p.weak) > 0:
		return newMix(m, p.shape, p.weak), nil
	case p.shape == nil && p.small:
		return newList(m), nil
	}
	s, lost := p.shape, 0.0
	if s == nil {
		var err error
		if s, lost, err = build(effort{ctx, maxStates, p.steps}, p.trials, m.spare, m); err != nil {
			return nil, err
		}
	}
	t := newTable(m, s, lost)
	t.tell()
	return t, nil
}

// roughly is the way for candidates: the exact one, unless that would take too long.
func (m *model) roughly(ctx context.Context, p plan, exact solver) (solver, error) {
	steps := 0
	switch t := exact.(type) {
	case *table:
		steps = t.steps
	case *mix:
		steps = p.shape.steps << len(p.weak)
	}
	if steps <= roughFrom {
		return exact, nil
	}
	s, lost, err := build(effort{ctx, roughStates, math.MaxInt}, p.trials, m.spare, m)
	if err != nil {
		return nil, err
	}
	return newTable(m, s, lost), nil
}
