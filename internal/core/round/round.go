// Package round prices rounds of work on phones as they stand: the way in, fitting and refitting, start and checks, the
// way back to closed.
//
//	p := round.Pricer{Ask: question, Own: seconds, Done: done, Boot: 120, Checks: 900}
//	minutes, known := p.Minutes([]string{"pine", "amber"}, []string{"battery"})
package round

import (
	"context"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/route"
	"waryowl/internal/core/worktime"
)

// Assumed is the bench time in minutes of a round whose way is not on record; Boot is starting and settling after a job
// in seconds (both house).
const (
	Assumed = 30.0
	Boot    = 120.0
)

// Pricer prices rounds. Ask is the plan as a question without goal; Done the steps that are carried out, per unit;
// Checks the seconds of the checks of a round. Answers are kept, so that a pricer is for one state of the bench.
type Pricer struct {
	Ask    route.Input
	Done   map[string][]string
	Checks float64

	ctx    context.Context            // when the prices are not wanted any more; nil: always
	plans  map[string]*route.Prepared // by what is done
	in     map[string]float64
	effort int // expansions that pricing took
}

// Each way may take eachEffort expansions while all of them have taken no more than allEffort; then the best way found at
// once has to do. A price need not be proven.
const (
	eachEffort = 6_000
	allEffort  = 240_000
)

// Within makes the pricer give up when the context ends.
func (p *Pricer) Within(ctx context.Context) *Pricer {
	p.ctx = ctx
	return p
}

// freed says whether steps free a part.
func (p *Pricer) freed(done []string, part string) bool {
	return slices.ContainsFunc(p.Ask.Steps, func(s route.Step) bool {
		return slices.Contains(done, s.ID) &&
			slices.Contains(s.Frees, part)
	})
}

// In is the time on the clock until the parts are out of a unit as it stands ("" for a closed phone), negative when no
// way is on record.
func (p *Pricer) In(unit string, parts []string) float64 {
	key := strings.Join(p.Done[unit], " ") + "|" + strings.Join(parts, " ") // phones that stand alike take the same way
	if s, known := p.in[key]; known {
		return s
	}
	var goal []string
	for _, part := range parts {
		if !p.freed(p.Done[unit], part) {
			goal = append(goal, part)
		}
	}
	s := 0.0
	if len(goal) > 0 {
		effort := eachEffort
		if p.effort >= allEffort {
			effort = 1
		}
		ctx := p.ctx
		if ctx == nil {
			ctx = context.Background()
		}
		s = -1
		if plan := p.plan(unit); plan != nil {
			out, err := plan.Solve(ctx, goal, effort)
			if p.effort += out.Used(); err == nil {
				s = out.ElapsedSeconds
			}
		}
	}
	if p.in == nil {
		p.in = map[string]float64{}
	}
	p.in[key] = s
	return s
}

// plan is the plan as a unit stands; nil: it cannot be read.
func (p *Pricer) plan(unit string) *route.Prepared {
	key := strings.Join(p.Done[unit], " ")
	plan, known := p.plans[key]
	if !known {
		q := p.Ask
		q.Minimise, q.Done = route.Elapsed, p.Done[unit]
		plan, _ = route.Prepare(q)
		if p.plans == nil {
			p.plans = map[string]*route.Prepared{}
		}
		p.plans[key] = plan
	}
	return plan
}

// Own is the time of the steps that free the parts themselves.
func (p *Pricer) Own(parts []string) float64 {
	sum := 0.0
	for _, part := range parts {
		for _, s := range p.Ask.Steps {
			if slices.Contains(s.Frees, part) {
				sum += s.Seconds
				break
			}
		}
	}
	return sum
}

// Minutes of a whole round: way in from the present state of each unit, the foreign pieces fitted, started and settled,
// the checks, the pieces out again, the originals back in, and the phones closed. Fitting takes [worktime.RefitShare]
// of taking out. False: the minutes are assumed.
func (p *Pricer) Minutes(units, parts []string) (float64, bool) {
	seconds := Boot + p.Checks
	for _, u := range units {
		in, full := p.In(u, parts), p.In("", parts)
		if in < 0 || full < 0 {
			return Assumed, false
		}
		own := p.Own(parts)
		seconds += in + worktime.RefitShare*own + (1+worktime.RefitShare)*own +
			worktime.RefitShare*math.Max(0, full-own)
	}
	return seconds / 60, true
}
