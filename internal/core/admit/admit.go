// Package admit decides what may be logged. The reader of the bench line asks it for every fact that it is about to offer,
// the server for every entry that comes in: so that nothing is accepted on the page that the server refuses.
//
//	admit.Refuse(shorthand.Fact{Verb: "measure"}, admit.Situation{}) // "a measure needs a part and at least one value …"
package admit

import "waryowl/internal/core/shorthand"

// Situation is what is known beside the fact itself.
type Situation struct {
	NewPart  bool // the fact is about a part that it puts on record
	OnRecord bool // the fact is about a part on record
	Step     bool // a step of the plan fits, not done yet (done, for a put-back)
	Out      bool // its part is out of the phone already
}

// MostCount is the largest count of screws, leads or tabs that one entry may say.
const MostCount = 200

// Refuse says why a fact may not be logged, "" where it may.
func Refuse(f shorthand.Fact, s Situation) string {
	part := f.Part != "" || s.NewPart || s.OnRecord
	about := part || f.What != "" || f.Place != "" || s.Step
	switch {
	case f.Corrects != nil && f.Corrects.Entry == "":
		return "name the entry that is mended"
	case f.Count < 0 || f.Count > MostCount || f.Missed < 0 || f.Missed > MostCount:
		return "a count is from 0 to 200"
	case f.Whole != nil && *f.Whole > f.Of:
		return "no more can be whole than there are"
	case f.Drive != "" && f.Verb != "unfasten" && f.Verb != "incident" && f.Verb != "note":
		return "a drive belongs to screws and posts"
	case f.Verb == "unfasten" && f.Joint != "" && f.Drive != "" && f.Joint != "screw" && f.Joint != "post":
		return "a drive belongs to screws and posts"
	case f.Verb == "measure" && (!part || len(f.Measures) == 0):
		return "a measure needs a part and at least one value with its unit"
	case f.Verb == "incident" && f.Incident == "" && f.Surplus == nil:
		return "say what happened"
	}
	if f.Corrects != nil {
		return ""
	}
	switch f.Verb {
	case "lift", "pry", "bracket", "disconnect":
		if !about {
			return "say which part"
		}
		if s.Out && !f.Back && f.Verb != "pry" && f.Verb != "disconnect" && f.Outcome == "" {
			return "it is out already"
		}
	}
	if f.Back && !s.Step && !part && f.What == "" && f.Place == "" && f.Drive == "" {
		return "say what goes back: a part on record, or a step that was done"
	}
	return ""
}
