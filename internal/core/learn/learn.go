// Package learn grows the plan of a model from runs: what a run disproves, what the positions of the parts suggest, and
// where the plan leads nowhere.
package learn

import (
	"cmp"
	"slices"
	"waryowl/internal/core/plan"
)

// The kinds of lesson.
const (
	Removed     = "removed"     // a prerequisite that the run did without
	Alternative = "alternative" // the run came from the other side
)

// Lesson is what a run teaches about one step: Kind is empty when the plan already allowed it. Heirs are the steps that
// rested on what is gone through this step, with their prerequisites now: that one step does without something says
// nothing of those after it.
type Lesson struct {
	Kind  string     `json:"kind" enum:",removed,alternative"`
	After [][]string `json:"after" nullable:"false"`
	Gone  []string   `json:"gone" nullable:"false" doc:"prerequisites that the run did without"`

	Heirs map[string][][]string `json:"heirs,omitempty" doc:"steps that rested on these through this one: their prerequisites now"`
}

// From compares a step with what was done on the phone when it was carried out (in order). When no alternative was met,
// the prerequisites that were missing are disproved in the alternative that lacked fewest: what they rest on themselves
// takes their place. But when the phone had been entered from a side from which none of that alternative's steps comes,
// the run is another way in: it becomes a further alternative, after the previous act.
func From(steps plan.Plan, id string, done []string) Lesson {
	byID := map[string]plan.Step{}
	for _, s := range steps {
		byID[s.ID] = s
	}
	s := byID[id]
	if len(s.After) == 0 {
		return Lesson{}
	}
	best, missing, foreign := -1, []string{}, false
	entered := sides(byID, done)
	for a, alt := range s.After {
		var lack []string
		for _, u := range alt {
			if !slices.Contains(done, u) {
				lack = append(lack, u)
			}
		}
		if len(lack) == 0 {
			return Lesson{}
		}
		planned := entry(byID, alt)
		other := len(planned) > 0 && len(entered) > 0 &&
			!slices.ContainsFunc(entered, func(side string) bool { return slices.Contains(planned, side) })
		// A way from the side that was entered speaks before one from the other side, then the one that lacks fewest.
		if best < 0 || foreign && !other || foreign == other && len(lack) < len(missing) {
			best, missing, foreign = a, lack, other
		}
	}
	if len(done) > 0 && foreign {
		return Lesson{Kind: Alternative, After: append(slices.Clone(s.After), []string{done[len(done)-1]}), Gone: missing}
	}
	after := slices.Clone(s.After)
	after[best] = heirs(byID, after[best], done)
	if len(after[best]) == 0 {
		after = nil
	}
	return Lesson{Removed, after, missing, inherit(steps, id, missing)}
}

// inherit gives what a step did without to those that come right after it.
func inherit(steps plan.Plan, id string, gone []string) map[string][][]string {
	heirs := map[string][][]string{}
	for _, s := range steps {
		var after [][]string
		changed := false
		for _, alt := range s.After {
			alt = slices.Clone(alt)
			if slices.Contains(alt, id) {
				for _, u := range gone {
					if u != s.ID && !slices.Contains(alt, u) {
						alt, changed = append(alt, u), true
					}
				}
			}
			after = append(after, alt)
		}
		if changed && s.ID != id {
			heirs[s.ID] = after
		}
	}
	if len(heirs) == 0 {
		return nil
	}
	return heirs
}

// heirs replaces what was not done in an alternative by what it rests on itself: only the step is disproved, not the
// way that led to it. What comes before another member anyway is left out.
func heirs(steps map[string]plan.Step, alt, done []string) []string {
	seen := map[string]bool{}
	var kept []string
	for todo := slices.Clone(alt); len(todo) > 0; todo = todo[1:] {
		u := todo[0]
		if seen[u] {
			continue
		}
		seen[u] = true
		if slices.Contains(done, u) {
			kept = append(kept, u)
			continue
		}
		fewest := []string(nil)
		lack := func(a []string) (n int) {
			for _, v := range a {
				if !slices.Contains(done, v) {
					n++
				}
			}
			return n
		}
		for i, a := range steps[u].After {
			if i == 0 || lack(a) < lack(fewest) {
				fewest = a
			}
		}
		todo = append(todo, fewest...)
	}
	return slices.DeleteFunc(slices.Clone(kept), func(u string) bool {
		return !slices.Contains(alt, u) && slices.ContainsFunc(kept, func(v string) bool {
			return v != u && slices.Contains(ancestors(steps, []string{v}), u) &&
				!slices.Contains(ancestors(steps, []string{u}), v)
		})
	})
}

func sides(steps map[string]plan.Step, ids []string) []string {
	var found []string
	for _, id := range ids {
		if side := steps[id].Side; side != "" && side != "any" && !slices.Contains(found, side) {
			found = append(found, side)
		}
	}
	return found
}

// entry lists the sides of an alternative's steps and of all that come before them.
func entry(steps map[string]plan.Step, alt []string) []string {
	return sides(steps, ancestors(steps, alt))
}

// ancestors lists the steps and all that come before them in any alternative.
func ancestors(steps map[string]plan.Step, ids []string) []string {
	seen := map[string]bool{}
	var all []string
	for todo := slices.Clone(ids); len(todo) > 0; todo = todo[1:] {
		if seen[todo[0]] {
			continue
		}
		seen[todo[0]] = true
		all = append(all, todo[0])
		for _, a := range steps[todo[0]].After {
			todo = append(todo, a...)
		}
	}
	return all
}

// Part is where a part lies, mm; a greater layer lies above.
type Part struct {
	ID, Name, Pane string
	X, Y, W, H     float64
	Layer          int
}

// Cover says that one part seems to lie under another: Share of the lower one is covered.
type Cover struct {
	Under string  `json:"under"`
	Over  string  `json:"over"`
	Share float64 `json:"share"`
}

// least is from which share of the lower part an overlap counts (house).
const least = 0.15

// Covers lists the pairs that overlap on the same pane in different layers and whose order the plan does not know yet:
// some way frees the lower part without the upper one coming first.
func Covers(parts []Part, steps plan.Plan) []Cover {
	found := []Cover{}
	for _, low := range parts {
		for _, high := range parts {
			if low.Layer >= high.Layer || low.Pane != high.Pane || low.W*low.H == 0 {
				continue
			}
			w := min(low.X+low.W, high.X+high.W) - max(low.X, high.X)
			h := min(low.Y+low.H, high.Y+high.H) - max(low.Y, high.Y)
			if w <= 0 || h <= 0 || w*h < least*low.W*low.H || !frees(steps, low.ID) || !frees(steps, high.ID) ||
				before(steps, high.ID, low.ID) {
				continue
			}
			found = append(found, Cover{low.ID, high.ID, w * h / (low.W * low.H)})
		}
	}
	slices.SortStableFunc(found, func(a, b Cover) int { return cmp.Compare(b.Share, a.Share) })
	return found
}

func frees(steps plan.Plan, part string) bool {
	return slices.ContainsFunc(steps, func(s plan.Step) bool { return slices.Contains(s.Frees, part) })
}

// before says whether first is out on every way that frees then: forward chaining without the steps that free first.
func before(steps plan.Plan, first, then string) bool {
	done := map[string]bool{}
	for again := true; again; {
		again = false
		for _, s := range steps {
			if done[s.ID] || slices.Contains(s.Frees, first) {
				continue
			}
			if len(s.After) == 0 || slices.ContainsFunc(s.After, func(alt []string) bool {
				return !slices.ContainsFunc(alt, func(u string) bool { return !done[u] })
			}) {
				if slices.Contains(s.Frees, then) {
					return false
				}
				done[s.ID], again = true, true
			}
		}
	}
	return true
}

// DeadEnds lists the steps that free nothing and on which nothing rests: an act without a purpose that the plan knows.
func DeadEnds(steps plan.Plan) []string {
	needed := map[string]bool{}
	for _, s := range steps {
		for _, alt := range s.After {
			for _, u := range alt {
				needed[u] = true
			}
		}
	}
	ends := []string{}
	for _, s := range steps {
		if len(s.Frees) == 0 && !needed[s.ID] {
			ends = append(ends, s.ID)
		}
	}
	return ends
}
