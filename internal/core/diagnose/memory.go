package diagnose

import (
	"context"
	"encoding/binary"
	"math"
	"sync"
)

// Memory keeps the tables of the last two questions for who asks nearly the same again: with other candidates, or with
// one more trial of some checks. The answers are those of [RunContext]. The zero value is empty and ready; one question
// is asked at a time.
type Memory struct {
	mu     sync.Mutex
	turn   int
	shapes map[string]*keptShape
	solved map[string]*keptSolver
}

// keptShape is a table without probabilities; nil within: there is none within this effort.
type keptShape struct {
	shape        *shape
	limit, steps int
	turn         int
}

type keptSolver struct {
	exact, rough solver
	turn         int
}

// RunContext is [RunContext] with what the questions before left.
func (k *Memory) RunContext(ctx context.Context, in Input) (Output, error) {
	k.turn++
	out, err := run(ctx, in, k)
	for key, s := range k.shapes {
		if s.turn < k.turn-1 {
			delete(k.shapes, key)
		}
	}
	for key, s := range k.solved {
		if s.turn < k.turn-1 {
			delete(k.solved, key)
		}
	}
	return out, err
}

// shape is the table of some trials within an effort, as [build] makes it without a model; nil: not within it. What was
// built with more effort than is there now does not count, so that no answer rests on what was asked before.
func (k *Memory) shape(key string, by effort, trials []set, spare []float64) (*shape, error) {
	if k != nil {
		k.mu.Lock()
		old := k.shapes[key]
		if old != nil {
			old.turn = k.turn
		}
		k.mu.Unlock()
		if old != nil && old.shape == nil && by.limit <= old.limit && by.steps <= old.steps {
			return nil, nil
		}
		if old != nil && old.shape != nil {
			if old.shape.widest > by.limit || old.shape.reached > by.steps {
				return nil, nil
			}
			return old.shape, nil
		}
	}
	s, _, err := build(by, trials, spare, nil)
	if k != nil && err == nil {
		k.mu.Lock()
		if k.shapes == nil {
			k.shapes = map[string]*keptShape{}
		}
		k.shapes[key] = &keptShape{s, by.limit, by.steps, k.turn}
		k.mu.Unlock()
	}
	return s, err
}

// solver is what was solved under a key, or nil; keep notes what was.
func (k *Memory) solver(key string) (exact, rough solver) {
	if k == nil {
		return nil, nil
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	if old := k.solved[key]; old != nil {
		old.turn = k.turn
		if old.rough != nil {
			rough = old.rough.again()
		}
		return old.exact.again(), rough
	}
	return nil, nil
}

func (k *Memory) keep(key string, exact, rough solver) {
	if k == nil {
		return
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.solved == nil {
		k.solved = map[string]*keptSolver{}
	}
	k.solved[key] = &keptSolver{exact, rough, k.turn}
}

// appendTrials writes what a table without probabilities rests on: the trials, and the strengths of their weak atoms.
func (m *model) appendTrials(key []byte, trials []set) []byte {
	for _, t := range trials {
		for _, w := range t {
			key = binary.LittleEndian.AppendUint64(key, w)
		}
	}
	for _, t := range trials {
		for a := range t.and(m.weak).all() {
			key = append(key, byte(a))
			key = binary.LittleEndian.AppendUint64(key, math.Float64bits(m.spare[a]))
		}
	}
	return key
}

// appendReadings writes what else the probabilities rest on.
func (m *model) appendReadings(key []byte) []byte {
	for _, p := range m.odds {
		key = binary.LittleEndian.AppendUint64(key, math.Float64bits(p))
	}
	for a := range m.weak.all() {
		key = binary.LittleEndian.AppendUint64(key, math.Float64bits(m.spare[a]))
	}
	for _, e := range m.whole {
		key = binary.LittleEndian.AppendUint32(key, uint32(e.lost))
		key = binary.LittleEndian.AppendUint32(key, uint32(e.passed))
		key = binary.LittleEndian.AppendUint64(key, math.Float64bits(e.hit))
		key = binary.LittleEndian.AppendUint64(key, math.Float64bits(e.miss))
	}
	for _, x := range []float64{m.in.Noise.FalseLoss, m.in.Noise.FalsePass} {
		key = binary.LittleEndian.AppendUint64(key, math.Float64bits(x))
	}
	return key
}
