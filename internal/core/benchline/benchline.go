// Package benchline puts the bench line to work on one phone: it reads the line, finds the step of the plan that is
// meant, and raises the stops of the state that the phone is in. It runs in the server and, as WebAssembly, in the page
// without a network.
package benchline

import (
	"slices"
	"strings"

	"waryowl/internal/core/interlock"
	"waryowl/internal/core/quantity"
	"waryowl/internal/core/shorthand"
)

// Known is a step of the plan.
type Known struct {
	ID    string     `json:"id"`
	Mark  string     `json:"mark"`
	Verb  string     `json:"verb"`
	What  string     `json:"what"`
	Side  string     `json:"side"`
	Tool  string     `json:"tool"`
	Joint string     `json:"joint"`
	Drive string     `json:"drive"`
	Count int        `json:"count"`
	Frees []string   `json:"frees" nullable:"false"`
	After [][]string `json:"after" nullable:"false"`
}

// Context is the phone in work: what the line may speak of, the plan, the steps done and not put back, and the state of
// its interlocks. Second is the clock of the log.
type Context struct {
	shorthand.Vocabulary
	Steps  []Known         `json:"steps" nullable:"false"`
	Done   []string        `json:"done" nullable:"false"`
	State  interlock.State `json:"state"`
	Second float64         `json:"second"`
	Packs  []quantity.Pack `json:"packs" nullable:"false" doc:"batteries on record, for comparison"`
}

// Answer is a line as it would be logged. StepID is empty when the plan learns a new step from it; Lacks are the marks
// of prerequisites that this phone has not met (the plan would learn from that too).
type Answer struct {
	shorthand.Reading
	StepID  string           `json:"step_id"`
	Step    string           `json:"step"`
	Lacks   []string         `json:"lacks" nullable:"false"`
	Stops   []interlock.Stop `json:"stops" nullable:"false"`
	Suggest []string         `json:"suggest" nullable:"false"`

	Again bool                   `json:"again" doc:"the step is done already on this phone"`
	Doubt *quantity.BatteryDoubt `json:"doubt,omitempty" doc:"a battery's figures that do not go together"`
}

// Read reads a line after the pending ones, which were entered but have not reached the server.
func Read(c Context, pending []string, line string) Answer {
	for _, p := range pending {
		c = c.enter(p)
	}
	a := Answer{Reading: shorthand.Parse(line, c.Vocabulary), Lacks: []string{},
		Suggest: shorthand.Suggest(line, c.Vocabulary)}
	act := c.act(a)
	a.Stops = interlock.Check(c.State, act)
	if a.Fact.Verb == "measure" {
		a.Doubt = quantity.Battery(pack(a.Fact), c.Packs)
	}
	if k, again := c.Resolve(a.Fact); k >= 0 {
		s := c.Steps[k]
		a.Again = again
		a.StepID, a.Step = s.ID, s.Mark+" "+s.Verb+" "+s.What
		if act.Tool == "" {
			act.Tool = s.Tool
		}
		act.What += " " + s.What
		a.Stops = interlock.Check(c.State, act)
		if !a.Fact.Back {
			a.Lacks = c.lacks(s)
		}
	}
	return a
}

func pack(f shorthand.Fact) quantity.Pack {
	p := quantity.Pack{}
	for _, m := range f.Measures {
		switch m.Unit {
		case "mAh":
			p.MAh = m.Value
		case "Wh":
			p.Wh = m.Value
		}
	}
	return p
}

func (c Context) act(a Answer) interlock.Act {
	f := a.Fact
	return interlock.Act{Verb: f.Verb, Back: f.Back, What: f.What, Part: f.Name, Tool: f.Tool, Method: f.Method,
		Joint: f.Joint, Polarity: f.Polarity, Second: c.Second}
}

// enter applies a waiting entry: a line, or "=ID" for a step that was chosen, "+=ID" for one that was put back.
func (c Context) enter(entry string) Context {
	id, chosen := strings.CutPrefix(strings.TrimPrefix(entry, "+"), "=")
	k := slices.IndexFunc(c.Steps, func(s Known) bool { return s.ID == id })
	if !chosen || k < 0 {
		return c.After(Read(c, nil, entry))
	}
	s := c.Steps[k]
	return c.After(Answer{StepID: id, Reading: shorthand.Reading{Fact: shorthand.Fact{Verb: s.Verb,
		Back: entry[0] == '+'}}})
}

// After is the phone once a line was logged.
func (c Context) After(a Answer) Context {
	act := c.act(a)
	if k := slices.IndexFunc(c.Steps, func(s Known) bool { return s.ID == a.StepID }); k >= 0 {
		act.What += " " + c.Steps[k].What
	}
	c.State = interlock.After(c.State, act)
	if a.StepID != "" && a.Fact.Outcome != "gave up" && a.Fact.Outcome != "not tried" {
		c.Done = slices.DeleteFunc(slices.Clone(c.Done), func(id string) bool { return id == a.StepID })
		if !a.Fact.Back {
			c.Done = append(c.Done, a.StepID)
		} else if Cooled(c.Done, func(id string) string {
			return c.Steps[slices.IndexFunc(c.Steps, func(s Known) bool { return s.ID == id })].Verb
		}) {
			c.Done = nil
		}
	}
	return c
}

// Cooled says that nothing but heat and solvent is left of what was done: they are not put back, and are over with the
// last thing that was.
func Cooled(done []string, verb func(id string) string) bool {
	return !slices.ContainsFunc(done, func(id string) bool { return verb(id) != "heat" && verb(id) != "solvent" })
}

func (c Context) lacks(s Known) []string {
	best := []string{}
	for i, alt := range s.After {
		lack := []string{}
		for _, u := range alt {
			if !slices.Contains(c.Done, u) {
				for _, o := range c.Steps {
					if o.ID == u {
						lack = append(lack, o.Mark)
					}
				}
			}
		}
		if i == 0 || len(lack) < len(best) {
			best = lack
		}
	}
	return best
}

var small = map[string]bool{"the": true, "of": true, "a": true, "and": true, "at": true, "its": true, "with": true,
	"over": true, "off": true, "to": true, "from": true}

func words(texts ...string) map[string]bool {
	found := map[string]bool{}
	for _, t := range texts {
		for _, w := range strings.FieldsFunc(strings.ToLower(t),
			func(r rune) bool { return r == ' ' || r == '-' || r == ',' || r == '.' }) {
			w = strings.TrimSuffix(w, "s")
			if !small[w] && w != "" {
				found[w] = true
			}
		}
	}
	return found
}

// generic words name kinds of things, not one of them: "display lead" is not meant by "camera leads".
var generic = map[string]bool{"lead": true, "connector": true, "screw": true, "bracket": true, "cable": true,
	"tape": true, "coax": true, "adhesive": true, "post": true, "clip": true, "cover": true}

// Resolve finds the step of the plan that a fact means: of the same verb (or freeing the named part, for a lift), not
// done yet (done, when it is put back; heat and solvent come in rounds), with the most in common; again says that only
// a step that is done already fits. −1: the plan does not know it.
func (c Context) Resolve(f shorthand.Fact) (k int, again bool) {
	if slices.Contains([]string{"note", "measure", "incident", "tool"}, f.Verb) {
		return -1, false
	}
	if k = c.best(f, func(s Known, done bool) bool {
		return f.Back == done || done && (s.Verb == "heat" || s.Verb == "solvent")
	}); k >= 0 || f.Back {
		return k, false
	}
	k = c.best(f, func(_ Known, done bool) bool { return done })
	return k, k >= 0
}

func (c Context) best(f shorthand.Fact, may func(s Known, done bool) bool) int {
	said := words(f.What, f.Name, f.Place)
	own := 0
	for w := range said {
		if !generic[w] {
			own++
		}
	}
	best, top := -1, 0
	for k, s := range c.Steps {
		frees := f.Part != "" && slices.Contains(s.Frees, f.Part)
		if s.Verb != f.Verb && !(f.Verb == "lift" && frees) || f.Side != "" && s.Side != f.Side &&
			(s.Side == "front" || s.Side == "back") {
			continue
		}
		if !may(s, slices.Contains(c.Done, s.ID)) || f.Drive != "" && s.Drive != "" && f.Drive != s.Drive {
			continue
		}
		met, kinds := 0, 0
		known := words(s.What)
		for w := range said {
			switch {
			case known[w] && generic[w]:
				kinds++
			case known[w]:
				met++
			}
		}
		ready := len(s.After) == 0 || len(c.lacks(s)) == 0
		// Without any name, drive and count must agree and the step must be the next one.
		named := frees || met > 0 || own == 0 && kinds > 0
		if !named && !(len(said) == 0 && ready && (f.Drive != "" && f.Count == s.Count || f.Verb == "heat" ||
			f.Verb == "solvent")) {
			continue
		}
		points := 3*met + kinds
		for _, p := range []struct {
			is     bool
			points int
		}{{frees, 6}, {f.Drive != "" && f.Drive == s.Drive, 2}, {f.Count > 0 && f.Count == s.Count, 1}, {ready, 1}} {
			if p.is {
				points += p.points
			}
		}
		if points > top {
			best, top = k, points
		}
	}
	return best
}

// Next lists the steps that can come next after the pending lines: their prerequisites are met, they are not done, and
// what they free is still in place. What the last act opened comes first: it is the likeliest.
func Next(c Context, pending []string) []string {
	for _, p := range pending {
		c = c.enter(p)
	}
	freed := map[string]bool{}
	for _, s := range c.Steps {
		if slices.Contains(c.Done, s.ID) {
			for _, part := range s.Frees {
				freed[part] = true
			}
		}
	}
	ready := []string{}
	recent := map[string]int{}
	for _, s := range c.Steps {
		if slices.Contains(c.Done, s.ID) || slices.ContainsFunc(s.Frees,
			func(part string) bool { return freed[part] }) || len(c.lacks(s)) > 0 {
			continue
		}
		ready = append(ready, s.ID)
		for _, alt := range s.After {
			for _, u := range alt {
				recent[s.ID] = max(recent[s.ID], slices.Index(c.Done, u)+1)
			}
		}
	}
	slices.SortStableFunc(ready, func(a, b string) int { return recent[b] - recent[a] })
	return ready
}
