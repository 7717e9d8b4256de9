// Package plan is the one form of a step, a plan and a run that the engines share: what a step must say, which of its
// alternatives are met, and which parts of a phone are out after its log.
//
//	out, err := plan.Replay(entries) // err names the entry that frees a part twice
package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/trade"
)

// Step is one act of a plan or a log. Part, Frees and the keys of Risk are ids of parts, After holds alternatives: all
// steps of one of them come first. Lengths are mm, times seconds; zero means not recorded.
type Step struct {
	ID          string             `json:"id,omitempty"`
	Mark        string             `json:"mark,omitempty" doc:"short name within the model"`
	Verb        string             `json:"verb"`
	What        string             `json:"what"`
	Part        string             `json:"part,omitempty" doc:"part that it is about"`
	Side        string             `json:"side,omitempty"`
	Tool        string             `json:"tool,omitempty"`
	Joint       string             `json:"joint,omitempty"`
	Drive       string             `json:"drive,omitempty"`
	DriveSize   string             `json:"drive_size,omitempty"`
	Count       int                `json:"count,omitempty"`
	DiameterMM  float64            `json:"diameter_mm,omitempty"`
	LengthMM    float64            `json:"length_mm,omitempty"`
	Seconds     float64            `json:"seconds,omitempty"`
	WaitSeconds float64            `json:"wait_seconds,omitempty"`
	After       [][]string         `json:"after,omitempty" nullable:"false"`
	Frees       []string           `json:"frees,omitempty" nullable:"false"`
	Risk        map[string]float64 `json:"risk,omitempty"`
	Method      string             `json:"method,omitempty"`
	Consumable  string             `json:"consumable,omitempty" doc:"what closing needs anew"`
}

// Plan is the steps of a model.
type Plan []Step

// By finds a step by its id.
func (p Plan) By(id string) (Step, bool) {
	k := slices.IndexFunc(p, func(s Step) bool { return s.ID == id })
	if k < 0 {
		return Step{}, false
	}
	return p[k], true
}

// Screws is the number of screws or posts that a step takes out, 0 for any other joint.
func (s Step) Screws() int {
	if !trade.Threaded(s.Joint) {
		return 0
	}
	return max(1, s.Count)
}

// Lead says whether a step opens a connector or a coax lead, however it came off.
func (s Step) Lead() bool { return s.Verb == "disconnect" || trade.Lead(s.Joint) }

// Lacks lists the prerequisites that a run has not met, of the alternative that lacks fewest; none: the step may start.
func (s Step) Lacks(r Run) []string {
	var best []string
	for i, alt := range s.After {
		var lack []string
		for _, u := range alt {
			if !r.Has(u) {
				lack = append(lack, u)
			}
		}
		if i == 0 || len(lack) < len(best) {
			best = lack
		}
	}
	return best
}

// Met lists the prerequisites that were really done before a step: those of the alternative that is complete, else all
// that were.
func (s Step) Met(r Run) []string {
	var some []string
	for _, alt := range s.After {
		if !slices.ContainsFunc(alt, func(u string) bool { return !r.Has(u) }) {
			return alt
		}
		for _, u := range alt {
			if r.Has(u) && !slices.Contains(some, u) {
				some = append(some, u)
			}
		}
	}
	return some
}

// Check refuses a step that cannot be; Field of the fault is the field's name in JSON.
func (s Step) Check() error {
	for _, c := range []struct {
		field, found string
		allowed      []string
	}{
		{"verb", s.Verb, trade.StepVerbs()},
		{"side", s.Side, []string{"front", "back", "any"}},
		{"joint", s.Joint, append([]string{""}, trade.JointIDs()...)},
		{"drive", s.Drive, append([]string{""}, trade.DriveIDs()...)},
	} {
		if !slices.Contains(c.allowed, c.found) {
			return fault.New(c.field, c.found, strings.TrimPrefix(strings.Join(c.allowed, ", "), ", "))
		}
	}
	if s.Drive != "" && !trade.Threaded(s.Joint) {
		return fault.New("drive", s.Drive, "a drive only where the joint is a screw or a threaded post")
	}
	if s.Count < 0 || s.Count > 200 {
		return fault.New("count", s.Count, "a whole number from 0 to 200")
	}
	for _, c := range []struct {
		field   string
		v, most float64
		unit    string
	}{
		{"seconds", s.Seconds, 86400, "seconds"}, {"wait_seconds", s.WaitSeconds, 86400, "seconds"},
		{"diameter_mm", s.DiameterMM, 20, "mm"}, {"length_mm", s.LengthMM, 50, "mm"},
	} {
		if !(c.v >= 0 && c.v <= c.most) {
			return fault.New(c.field, c.v, fmt.Sprintf("%s from 0 to %g", c.unit, c.most))
		}
	}
	for i, part := range s.Frees {
		if slices.Contains(s.Frees[:i], part) {
			return fault.New(fmt.Sprintf("frees[%d]", i), part, "each part once")
		}
	}
	for part, r := range s.Risk {
		if !(r >= 0 && r < 1) || math.IsNaN(r) {
			return fault.New("risk."+part, r, "a chance from 0 to below 1")
		}
	}
	return nil
}
