// Package teardown holds the rules of the strip-down log: which actions there are, what a step must say, and which
// parts of a unit are out after its entries, in their order.
//
//	out, err := teardown.Replay(entries) // err names the entry that frees a part twice
package teardown

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
)

// Verbs are the kinds of action of a step, in the order of the bench line.
var Verbs = []string{"unfasten", "bracket", "disconnect", "peel", "cut", "heat", "solvent", "slide", "pry", "lift"}

// Joints are the kinds of joint that a step opens.
var Joints = []string{"screw", "post", "adhesive", "pull tab", "connector", "coax", "latch", "clip", "bracket", "tape",
	"solder"}

// Drives are the recesses of screws; Security are those made to keep people out (common practice, no source).
var (
	Drives   = []string{"five-lobe", "tri-wing", "cross", "hexalobular", "slot", "post"}
	Security = []string{"five-lobe", "tri-wing"}
)

// Families are the two-letter codes of part families.
var Families = map[string]string{"PW": "power", "OP": "optics", "SC": "screen", "SO": "sound", "BD": "board",
	"RF": "radio", "BT": "buttons", "FR": "frame", "SE": "sensors"}

// Step is what a logged or planned step says. Lengths are mm, times seconds; zero means not recorded.
type Step struct {
	Verb, Tool, Side, Joint, Drive string
	Count                          int
	DiameterMM, LengthMM           float64
	Seconds, WaitSeconds           float64
	Frees                          []string
	Risk                           map[string]float64
}

// Check refuses a step that cannot be; Field of the fault is the field's name in JSON.
func (s Step) Check() error {
	for _, c := range []struct {
		field, found string
		allowed      []string
	}{
		{"verb", s.Verb, Verbs},
		{"side", s.Side, []string{"front", "back", "any"}},
		{"joint", s.Joint, append([]string{""}, Joints...)},
		{"drive", s.Drive, append([]string{""}, Drives...)},
	} {
		if !slices.Contains(c.allowed, c.found) {
			return fault.New(c.field, c.found, strings.TrimPrefix(strings.Join(c.allowed, ", "), ", "))
		}
	}
	if s.Drive != "" && s.Joint != "screw" && s.Joint != "post" {
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

// Entry is one line of a unit's log: parts freed, or put back when Back is set.
type Entry struct {
	Frees []string
	Back  bool
}

// Replay walks a unit's log and returns the parts that are out, in the order in which they came out. A part that is
// freed twice without having been put back, or put back while it is in place, is a fault whose field names the entry.
func Replay(log []Entry) (out []string, err error) {
	for i, e := range log {
		for _, part := range e.Frees {
			k := slices.Index(out, part)
			switch {
			case e.Back && k < 0:
				return out, fault.New(fmt.Sprintf("log[%d].frees", i), part, "a part that is out of this phone")
			case e.Back:
				out = slices.Delete(out, k, k+1)
			case k >= 0:
				return out, fault.New(fmt.Sprintf("log[%d].frees", i), part,
					"a part that is still in this phone (put it back first)")
			default:
				out = append(out, part)
			}
		}
	}
	return out, nil
}
