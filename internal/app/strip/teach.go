package strip

import (
	"errors"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
	"waryowl/internal/app/study"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/learn"
	"waryowl/internal/core/plan"
	"waryowl/internal/store"
)

// teach lets the plan learn when a step was done without what it was said to need.
func teach(b *study.Record, tx *store.Tx, e *store.LogEntry) error {
	l := learn.From(b.Know.Plan(), e.StepID, b.Done(e.UnitID))
	if l.Kind == "" || slices.Contains(b.Done(e.UnitID), e.StepID) {
		return nil
	}
	step := b.Know.StepByID[e.StepID]
	e.Detail.Before = step.After
	changes := map[string][][]string{e.StepID: l.After}
	for id, after := range l.Heirs {
		if e.Detail.Heirs == nil {
			e.Detail.Heirs = map[string][][]string{}
		}
		changes[id], e.Detail.Heirs[id] = after, b.Know.StepByID[id].After
	}
	if err := rewire(b, tx, changes); err != nil {
		return err
	}
	if err := b.Know.CheckPlan(); err != nil {
		return err
	}
	marks := strings.Join(b.Know.Marks(l.Gone), ", ")
	if l.Kind == learn.Alternative {
		e.Detail.Lesson = fmt.Sprintf("%s has another way in: done without %s", step.Mark, marks)
	} else {
		e.Detail.Lesson = fmt.Sprintf("%s does not need %s", step.Mark, marks)
	}
	return nil
}

// freeing lets the plan learn that a step takes a part out, where an entry says so and no step of it does.
func freeing(b *study.Record, tx *store.Tx, e *store.LogEntry) error {
	part := e.PartID
	if e.Detail.Leaves != "off" || part == "" || slices.ContainsFunc(b.Know.Steps, func(s store.PlanStep) bool {
		return slices.Contains(s.Frees, part)
	}) {
		return nil
	}
	e.Detail.Freed = true
	return frees(b, tx, e.StepID, func(list []string) []string { return append(list, part) })
}

// unfree takes back that the plan learned it.
func unfree(b *study.Record, tx *store.Tx, e *store.LogEntry) error {
	return frees(b, tx, e.StepID, func(list []string) []string {
		return slices.DeleteFunc(list, func(p string) bool { return p == e.PartID })
	})
}

func frees(b *study.Record, tx *store.Tx, step string, change func([]string) []string) error {
	k := slices.IndexFunc(b.Know.Steps, func(s store.PlanStep) bool { return s.ID == step })
	if k < 0 {
		return nil
	}
	row, err := store.Update(tx, step, b.Know.Steps[k].Version, func(s *store.PlanStep) error {
		s.Frees = change(slices.Clone(s.Frees))
		return nil
	})
	if err != nil {
		return err
	}
	b.Know.Steps[k], b.Know.StepByID[step] = *row, *row
	return nil
}

// inside puts the field of a fault under a parent.
func inside(parent string, err error) error {
	var f *fault.Fault
	if errors.As(err, &f) {
		return &fault.Fault{Field: parent + "." + f.Field, Found: f.Found, Allowed: f.Allowed}
	}
	return err
}

// replay refuses a log that cannot have happened, with the part by its name.
func replay(b *study.Record, unit string) error {
	_, err := plan.Replay(b.Entries(unit))
	var f *fault.Fault
	if errors.As(err, &f) {
		for id, p := range b.Know.PartByID {
			if f.Found == fault.New("", id, "").Found {
				f.Found = p.Name
			}
		}
		return &fault.Fault{Field: "frees", Found: f.Found, Allowed: f.Allowed}
	}
	return err
}

// unteach gives the plan back what an entry had disproved, when the entry is taken back and nobody changed the step
// since.
func unteach(b *study.Record, tx *store.Tx, e *store.LogEntry) error {
	step, ok := b.Know.StepByID[e.StepID]
	if e.Detail.Lesson == "" || !ok {
		return nil
	}
	before := map[string][][]string{step.ID: e.Detail.Before}
	maps.Copy(before, e.Detail.Heirs)
	l := learn.From(b.Know.With(before), step.ID, b.Done(e.UnitID))
	same := func(a, b [][]string) bool { return len(a)+len(b) == 0 || reflect.DeepEqual(a, b) }
	if !same(l.After, step.After) {
		return nil
	}
	maps.DeleteFunc(before, func(id string, _ [][]string) bool {
		s, there := b.Know.StepByID[id]
		return id != step.ID && (!there || !same(l.Heirs[id], s.After))
	})
	return rewire(b, tx, before)
}

// rewire gives steps of the plan other prerequisites, in the order of the plan.
func rewire(b *study.Record, tx *store.Tx, changes map[string][][]string) error {
	for i, s := range b.Know.Steps {
		after, ok := changes[s.ID]
		if !ok {
			continue
		}
		row, err := store.Update(tx, s.ID, s.Version, func(s *store.PlanStep) error { s.After = after; return nil })
		if err != nil {
			return err
		}
		b.Know.Steps[i], b.Know.StepByID[s.ID] = *row, *row
	}
	return nil
}

// seen ticks what a cover hides, where its stop was answered "already done": it was seen, and not ticked.
func seen(b *study.Record, tx *store.Tx, e store.LogEntry) error {
	if !e.Back || !slices.Contains(e.Detail.Stops, store.StopAnswer{Rule: "covered", Answer: "already done"}) {
		return nil
	}
	var keys []string
	closing := b.Closing(e.UnitID)
	for _, h := range b.Bench(b.UnitByID[e.UnitID]).Covers[e.StepID] {
		if h.Key != "" && !slices.Contains(closing.Ticks, h.Key) {
			keys = append(keys, h.Key)
		}
	}
	if len(keys) == 0 {
		return nil
	}
	if closing.ID == "" {
		row := store.Closing{UnitID: e.UnitID, ClosingFacts: store.ClosingFacts{Ticks: keys}}
		return store.Create(tx, &row)
	}
	row, err := store.Lock[store.Closing](tx, closing.ID)
	if err != nil {
		return err
	}
	_, err = store.Update(tx, row.ID, row.Version, func(c *store.Closing) error {
		c.Ticks = append(slices.Clone(c.Ticks), keys...)
		return nil
	})
	return err
}

// reopen takes the tick "seated" from leads that an entry says are loose: they must be seen seated again.
func reopen(b *study.Record, tx *store.Tx, e store.LogEntry) error {
	i := e.Detail.Incident
	loose := func(key string) bool {
		id, seat := strings.CutPrefix(key, "seat ")
		if !seat {
			return false
		}
		part := b.Know.Step(b.Know.StepByID[id]).Part
		return e.Detail.Lead == "loose" && id == e.StepID ||
			i != nil && i.Kind == "connector-loose" && part != "" && part == e.PartID
	}
	closing := b.Closing(e.UnitID)
	if !slices.ContainsFunc(closing.Ticks, loose) {
		return nil
	}
	row, err := store.Lock[store.Closing](tx, closing.ID)
	if err != nil {
		return err
	}
	_, err = store.Update(tx, row.ID, row.Version, func(c *store.Closing) error {
		c.Ticks = slices.DeleteFunc(c.Ticks, loose)
		return nil
	})
	return err
}
