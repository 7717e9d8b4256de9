package diagnose

import (
	"cmp"
	"math/bits"
	"slices"
)

// shownDiagnoses is how many minimal hitting sets are listed; maxDiagnoses how many are counted.
const (
	shownDiagnoses = 64
	maxDiagnoses   = 1 << 11
)

// logic fills in conflicts and diagnoses: consistency without noise (R. Reiter, "A theory of diagnosis from first
// principles", Artificial Intelligence 32, 1987).
func (m *model) logic(c *Check) {
	var cleared set // a weak culprit may spare a trial
	for _, o := range m.seen {
		if !o.lost {
			cleared = cleared.or(o.atoms.without(m.weak))
		}
	}
	var conflicts []set
	for _, o := range m.seen {
		if !o.lost {
			continue
		}
		left := o.atoms.without(cleared)
		conflict := Conflict{Trial: o.trial, Atoms: m.names(left)}
		if left == (set{}) {
			conflict.Against = m.against(o)
		} else {
			conflicts = append(conflicts, left)
		}
		c.Conflicts = append(c.Conflicts, conflict)
	}
	c.Diagnoses = [][]string{}
	if len(conflicts) > 0 {
		m.diagnose(c, conflicts)
	}
}

// diagnose lists the minimal hitting sets. Atoms of the same conflicts are one element while they are sought, and are
// told apart in the list.
func (m *model) diagnose(c *Check, conflicts []set) {
	slices.SortFunc(conflicts, set.before)
	conflicts = slices.Compact(conflicts)
	conflicts = conflicts[:min(64, len(conflicts))]
	at := map[uint64]int{}
	var classes []set
	words := make([]uint64, len(conflicts))
	for a := range m.atoms {
		var sig uint64
		for k, s := range conflicts {
			if s.has(a) {
				sig |= 1 << k
			}
		}
		if sig == 0 {
			continue
		}
		i, ok := at[sig]
		if !ok {
			if i = len(classes); i == 64 {
				c.DiagnosesCapped = true
				return
			}
			at[sig] = i
			classes = append(classes, set{})
			for k := range conflicts {
				words[k] |= sig >> k & 1 << i
			}
		}
		classes[i].add(a)
	}
	sets, capped := HittingSets(words)
	c.DiagnosesCapped = capped
	var shown []set
	for _, s := range sets {
		total, grown := 1, []set{{}}
		for rest := s; rest != 0; rest &= rest - 1 {
			class := classes[bits.TrailingZeros64(rest)]
			total *= class.count()
			var next []set
			for _, g := range grown {
				for _, a := range class.elements() {
					with := g
					with.add(a)
					next = append(next, with)
				}
			}
			grown = next[:min(shownDiagnoses, len(next))]
		}
		c.DiagnosesTotal += total
		if len(shown) < shownDiagnoses {
			shown = append(shown, grown...)
		}
	}
	slices.SortStableFunc(shown, func(a, b set) int { return cmp.Or(cmp.Compare(a.count(), b.count()), a.before(b)) })
	for _, s := range shown[:min(shownDiagnoses, len(shown))] {
		c.Diagnoses = append(c.Diagnoses, m.names(s))
	}
}

// against names a smallest set of passing trials that together exonerate every atom of the lost trial.
func (m *model) against(lost observation) []string {
	var passing []observation
	for _, o := range m.seen {
		if !o.lost && o.atoms.and(lost.atoms) != (set{}) {
			passing = append(passing, o)
		}
	}
	// The likest trial speaks first: the one that held least besides, and of these the latest.
	slices.Reverse(passing)
	slices.SortStableFunc(passing, func(a, b observation) int { return cmp.Compare(a.atoms.count(), b.atoms.count()) })
	for size := 1; size <= len(passing); size++ {
		if names := cover(lost.atoms, passing, size); names != nil {
			return names
		}
	}
	return []string{}
}

// cover picks at most size trials that hold all of the atoms; nil when there are none.
func cover(atoms set, from []observation, size int) []string {
	if atoms == (set{}) {
		return []string{}
	}
	if size == 0 {
		return nil
	}
	a := atoms.elements()[0]
	for _, o := range from {
		if o.atoms.has(a) {
			if rest := cover(atoms.without(o.atoms), from, size-1); rest != nil {
				names := append([]string{o.trial}, rest...)
				slices.Sort(names)
				return names
			}
		}
	}
	return nil
}

// HittingSets returns the minimal sets that share an element with every conflict, smallest first; sets are words with a
// bit per element. More than 2,048 at any point are cut off, and capped says so. The cost is at most quadratic in the
// number of sets for each conflict.
func HittingSets(conflicts []uint64) (sets []uint64, capped bool) {
	conflicts = slices.Clone(conflicts)
	order := func(a, b uint64) int {
		if c := cmp.Compare(bits.OnesCount64(a), bits.OnesCount64(b)); c != 0 {
			return c
		}
		return cmp.Compare(bits.Reverse64(b), bits.Reverse64(a)) // lower elements first
	}
	slices.SortFunc(conflicts, order)
	sets = []uint64{0}
	for i, conflict := range conflicts {
		if slices.ContainsFunc(conflicts[:i], func(c uint64) bool { return c&^conflict == 0 }) {
			continue // whoever hits the smaller one hits this one
		}
		var keep, grown []uint64
		for _, s := range sets {
			if s&conflict != 0 {
				keep = append(keep, s)
			}
		}
		for _, s := range sets {
			if s&conflict != 0 {
				continue
			}
			for rest := conflict; rest != 0; rest &= rest - 1 {
				t := s | rest&-rest
				// Only a set that hit already can be smaller than a grown one.
				if !slices.ContainsFunc(keep, func(k uint64) bool { return k&^t == 0 }) {
					grown = append(grown, t)
				}
			}
		}
		sets = append(keep, grown...)
		slices.SortFunc(sets, order)
		sets = slices.Compact(sets)
		if len(sets) > maxDiagnoses {
			sets, capped = sets[:maxDiagnoses], true
		}
	}
	return sets, capped
}
