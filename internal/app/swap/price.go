package swap

import (
	"math"
	"slices"
	"strings"

	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/core/route"
	"waryowl/internal/core/worktime"
)

// assumedRound is the bench time of a swap whose way is not on record (house, minutes).
const assumedRound = 30

// pricing prices rounds of swap tests from the present state of each phone.
type pricing struct {
	b      *study.Record
	done   map[string][]string
	in     map[string]float64 // seconds until parts are out, by unit ("" for a closed phone) and parts
	checks float64
}

func newPricing(b *study.Record) *pricing {
	r := &pricing{b: b, done: map[string][]string{}, in: map[string]float64{}, checks: model.CheckTime(b.Checks)}
	for _, u := range b.Units {
		r.done[u.ID] = b.Done(u.ID)
	}
	return r
}

// seconds is the time on the clock until the parts are out of a unit as it stands, or of a closed phone; negative when
// no way is on record.
func (r *pricing) seconds(unit string, parts []string) float64 {
	key := unit + " " + strings.Join(parts, " ")
	if s, known := r.in[key]; known {
		return s
	}
	q := r.b.Know.Question(route.Elapsed)
	q.Goal = nil
	done := r.done[unit]
	for _, p := range parts {
		out := slices.ContainsFunc(done, func(id string) bool {
			return slices.Contains(r.b.Know.StepByID[id].Frees,
				p)
		})
		if !out {
			q.Goal = append(q.Goal, p)
		}
	}
	s := 0.0
	if len(q.Goal) > 0 {
		q.Done = done
		answer, err := route.Solve(q)
		if s = answer.ElapsedSeconds; err != nil {
			s = -1
		}
	}
	r.in[key] = s
	return s
}

// own is the time of the steps that free the parts themselves.
func (r *pricing) own(parts []string) float64 {
	sum := 0.0
	for _, p := range parts {
		for _, s := range r.b.Know.Steps {
			if slices.Contains(s.Frees, p) {
				sum += r.b.Know.Estimate(s).Seconds
				break
			}
		}
	}
	return sum
}

// minutes of a whole round: way in from the present state of both phones, the foreign pieces fitted, started and
// settled, the checks, the pieces out again, the originals back in, and both phones closed. Fitting takes
// [worktime.RefitShare] of taking out.
func (r *pricing) minutes(units []string, parts []string) (float64, bool) {
	seconds := model.BootSeconds + r.checks
	for _, u := range units {
		in, full := r.seconds(u, parts), r.seconds("", parts)
		if in < 0 || full < 0 {
			return assumedRound, false
		}
		own := r.own(parts)
		seconds += in + worktime.RefitShare*own + (1+worktime.RefitShare)*own +
			worktime.RefitShare*math.Max(0, full-own)
	}
	return seconds / 60, true
}
