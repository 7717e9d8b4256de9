package closeup

import (
	"slices"
	"strings"
)

// Hidden is something that a cover would hide: a lead that is still off, or a gate that nobody ticked (Key). Step is the
// step of the lead, "" for a gate of another kind.
type Hidden struct {
	Step string `json:"step,omitempty"`
	Key  string `json:"key,omitempty"`
	Off  bool   `json:"off,omitempty"`
	Text string `json:"text"`
}

// Covered says whether a cover is back over a lead that is not, or over a gate that nobody ticked. on says of a step
// whether some of it is back, open whether it is a lead that is still off though it should be on.
func Covered(lines []Line, on, open func(step string) bool, ticked func(key string) bool) bool {
	for _, l := range lines {
		if l.covers && on(l.StepID) && len(Unready(lines, l.StepID, open, ticked)) > 0 {
			return true
		}
	}
	return false
}

// Unready names what a cover would hide if it went on now: leads below it that are still off, and gates that nobody
// ticked. None for what covers nothing.
func Unready(lines []Line, step string, open func(step string) bool, ticked func(key string) bool) []Hidden {
	var list []Hidden
	k := slices.IndexFunc(lines, func(l Line) bool { return l.StepID == step })
	if k < 0 || !lines[k].covers {
		return nil
	}
	l := lines[k]
	for _, other := range lines {
		below := slices.Contains(l.under, other.StepID)
		if below && open(other.StepID) {
			list = append(list, Hidden{Step: other.StepID, Off: true, Text: "still off: " + strings.TrimPrefix(other.Text, "connect ")})
		}
		if other.StepID != step && !below {
			continue
		}
		for _, g := range other.Gates {
			if !ticked(g.Key) {
				step, _ := strings.CutPrefix(g.Key, "seat ")
				if step == g.Key {
					step = ""
				} else if below && open(step) || slices.ContainsFunc(list, func(h Hidden) bool { return h.Off && h.Step == step }) {
					continue // still off: that it is not seated goes without saying
				}
				list = append(list, Hidden{Step: step, Key: g.Key, Text: "not seen " + g.Text})
			}
		}
	}
	return list
}
