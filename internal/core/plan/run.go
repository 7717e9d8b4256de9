package plan

import (
	"fmt"
	"slices"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/trade"
)

// Done is a step as it was carried out on a phone: Before are the steps that had to come first in this run (its
// prerequisites, of those that were done).
type Done struct {
	Step
	Before []string `json:"before,omitempty" nullable:"false"`
}

// Run is the steps done on one phone and not put back, in their order.
type Run []string

// Has says whether a step is done.
func (r Run) Has(id string) bool { return slices.Contains(r, id) }

// After is the run once a step was done (it moves to the end) or put back. verb tells the verb of a step: when nothing
// but heat and solvent is left they are over, since they are not put back.
func (r Run) After(id string, back bool, verb func(id string) string) Run {
	r = slices.DeleteFunc(slices.Clone(r), func(d string) bool { return d == id })
	if !back {
		return append(r, id)
	}
	if !slices.ContainsFunc(r, func(d string) bool { return !trade.Waits(verb(d)) }) {
		return nil
	}
	return r
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
