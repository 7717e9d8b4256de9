package model

import (
	"fmt"
	"slices"
	"strings"
	"sync"

	"waryowl/internal/core/benchline"
	"waryowl/internal/core/entry"
	"waryowl/internal/core/interlock"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/quantity"
	"waryowl/internal/core/shorthand"
)

// Bench is what the bench line and the stops need to know of any phone of the model: nothing done yet, its charge
// unknown.
func (k *Record) Bench(unit string) benchline.Context {
	c := benchline.Context{Vocabulary: shorthand.Vocabulary{Unit: unit, Parts: k.named(), Tools: []string{}},
		Steps: k.Plan(), Done: plan.Run{}, Packs: []quantity.Pack{},
		State: interlock.State{Charge: -1, Limit: entry.Limit(k.ChargeLimit), Polarity: k.Polarity}}
	for _, p := range k.Parts {
		if p.CapacityMAh > 0 && p.EnergyWh > 0 {
			c.Packs = append(c.Packs, quantity.Pack{MAh: p.CapacityMAh, Wh: p.EnergyWh, Cells: p.Cells})
		}
	}
	if c.Steps == nil {
		c.Steps = plan.Plan{}
	}
	for i, s := range c.Steps {
		c.Steps[i].Part = k.about()[s.ID]
		if s.Tool != "" && !slices.Contains(c.Tools, s.Tool) {
			c.Tools = append(c.Tools, s.Tool)
		}
	}
	return c
}

func (k *Record) named() []shorthand.Named {
	list := []shorthand.Named{}
	for _, p := range k.Parts {
		list = append(list, shorthand.Named{ID: p.ID, Name: p.Name, Aliases: append([]string{}, p.Aliases...),
			Kind: k.Kind(p.ID)})
	}
	return list
}

// about is the part that each step is about, by the step's id. A step from before parts were recorded is told by its
// words.
func (k *Record) about() map[string]string {
	if k.stepParts == nil {
		k.stepParts = told.of(k.words(), func() map[string]string {
			v := shorthand.Vocabulary{Parts: k.named()}
			parts := map[string]string{}
			for _, s := range k.Steps {
				part := s.PartID
				if part == "" {
					part, _, _ = shorthand.Find(s.What, v)
				}
				parts[s.ID] = part
			}
			return parts
		})
	}
	return k.stepParts
}

// About is the part that a step is about, "" where it cannot be told.
func (k *Record) About(step string) string { return k.about()[step] }

// words names everything that about rests on: the parts and steps in their versions.
func (k *Record) words() string {
	var b strings.Builder
	for _, p := range k.Parts {
		fmt.Fprintf(&b, "%s %d ", p.ID, p.Version)
	}
	b.WriteByte('|')
	for _, s := range k.Steps {
		fmt.Fprintf(&b, "%s %d ", s.ID, s.Version)
	}
	return b.String()
}

// memo keeps the latest answers that follow from what they are asked about alone; what it gives out is not changed.
type memo struct {
	mu   sync.Mutex
	kept map[string]map[string]string
	line []string
}

// mostKept is how many answers a memo holds.
const mostKept = 200

var told = memo{kept: map[string]map[string]string{}}

func (m *memo) of(key string, work func() map[string]string) map[string]string {
	m.mu.Lock()
	got, known := m.kept[key]
	m.mu.Unlock()
	if known {
		return got
	}
	got = work()
	m.mu.Lock()
	defer m.mu.Unlock()
	if _, known := m.kept[key]; !known {
		if m.line = append(m.line, key); len(m.line) > mostKept {
			delete(m.kept, m.line[0])
			m.line = m.line[1:]
		}
	}
	m.kept[key] = got
	return got
}
