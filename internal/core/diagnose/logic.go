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
	var cleared uint64
	for _, o := range m.seen {
		if !o.lost {
			cleared |= o.atoms
		}
	}
	var conflicts []uint64
	for _, o := range m.seen {
		if !o.lost {
			continue
		}
		left := o.atoms &^ cleared
		conflict := Conflict{Trial: o.trial, Atoms: m.names(left)}
		if left == 0 {
			conflict.Against = m.against(o)
		} else {
			conflicts = append(conflicts, left)
		}
		c.Conflicts = append(c.Conflicts, conflict)
	}
	sets, capped := HittingSets(conflicts)
	c.Diagnoses = [][]string{}
	if len(conflicts) > 0 {
		c.DiagnosesTotal, c.DiagnosesCapped = len(sets), capped
		for _, s := range sets[:min(shownDiagnoses, len(sets))] {
			c.Diagnoses = append(c.Diagnoses, m.names(s))
		}
	}
}

// against names a smallest set of passing trials that together exonerate every atom of the lost trial.
func (m *model) against(lost observation) []string {
	var passing []observation
	for _, o := range m.seen {
		if !o.lost && o.atoms&lost.atoms != 0 && len(passing) < 64 {
			passing = append(passing, o)
		}
	}
	var covers []uint64 // for each atom the passing trials that hold it
	for a := range m.atoms {
		if lost.atoms>>a&1 == 1 {
			var by uint64
			for k, o := range passing {
				by |= o.atoms >> a & 1 << k
			}
			covers = append(covers, by)
		}
	}
	names := []string{}
	if sets, _ := HittingSets(covers); len(sets) > 0 {
		for k, o := range passing {
			if sets[0]>>k&1 == 1 {
				names = append(names, o.trial)
			}
		}
	}
	return names
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
