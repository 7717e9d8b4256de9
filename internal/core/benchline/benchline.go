// Package benchline puts the bench line to work on one phone: it reads the line, finds the step of the plan that is
// meant, and raises the stops of the state that the phone is in. It runs in the server and, as WebAssembly, in the page
// without a network.
//
//	a := benchline.Read(context, []string{"t metal spudger"}, "d battery")
//	a.Stops[0].Rule // "metal"
package benchline

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/closeup"
	"waryowl/internal/core/interlock"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/quantity"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/trade"
)

// Context is the phone in work: what the line may speak of, the plan, the steps done and not put back, and the state of
// its interlocks. Second is the clock of the log.
type Context struct {
	shorthand.Vocabulary
	Steps  plan.Plan       `json:"steps" nullable:"false"`
	Done   plan.Run        `json:"done" nullable:"false"`
	State  interlock.State `json:"state"`
	Second float64         `json:"second"`
	Packs  []quantity.Pack `json:"packs,omitempty" nullable:"false" doc:"batteries on record, for comparison"`
	Off    []string        `json:"off,omitempty" nullable:"false" doc:"ids of steps done whose lead stays off on purpose"`

	Covers map[string][]closeup.Hidden `json:"covers,omitempty" doc:"by the step of a cover that is off: what it would hide"`

	Words    []phrase.Own `json:"words,omitempty" nullable:"false" doc:"the workshop's own words"`
	Checks   []CheckName  `json:"checks,omitempty" nullable:"false" doc:"checks that a line may speak of"`
	Together *bool        `json:"together,omitempty" doc:"putting back; left out: as the last act of the log was"`
	Log      []Entry      `json:"log,omitempty" nullable:"false" doc:"the last entries of this phone, oldest first"`

	names string // of all parts, once they are whole: see found
}

// Doubt is an objection to figures: which kind, in words, and what may have been meant.
type Doubt struct {
	Kind  string   `json:"kind" enum:"battery,rank"`
	Text  string   `json:"text"`
	Fixes []string `json:"fixes" nullable:"false"`
}

// Entry is an earlier entry of this phone's log.
type Entry struct {
	ID   string         `json:"id"`
	Fact shorthand.Fact `json:"fact"`
}

// FactAnswer is one fact of a line as it would be logged. StepID is empty when the plan learns a new step from it, which is
// NewStep then; Lacks are the marks of prerequisites that this phone has not met (the plan would learn from that too). Asks
// says what is still to be said. From and To are the characters of the line that it rests on, in runes from 0.
type FactAnswer struct {
	shorthand.Reading
	StepID  string           `json:"step_id"`
	Step    string           `json:"step,omitempty"`
	NewStep *plan.Step       `json:"new_step,omitempty"`
	Again   bool             `json:"again" doc:"the step is done already on this phone"`
	Lacks   []string         `json:"lacks" nullable:"false"`
	Stops   []interlock.Stop `json:"stops" nullable:"false"`
	Doubt   *Doubt           `json:"doubt,omitempty"`
	Asks    string           `json:"asks,omitempty" enum:"side,part,new part,act,entry" doc:"what is still to be said"`
	Say     string           `json:"say" doc:"the fact in the words of the page"`
	From    int              `json:"from"`
	To      int              `json:"to"`
}

// Choice is one way in which a line may have been meant.
type Choice struct {
	Text  string       `json:"text"`
	Facts []FactAnswer `json:"facts" nullable:"false"`
	Learn []phrase.Own `json:"learn,omitempty" nullable:"false" doc:"what this answer teaches"`

	drafts []draft
}

// Answer is a line as it would be logged: its facts in their order. What stands beside them is that of the first fact, for
// callers of one fact; echo, unread and stops are those of all.
type Answer struct {
	FactAnswer
	Suggest []string     `json:"suggest" nullable:"false"`
	Read    string       `json:"read" enum:"grammar,natural"`
	Facts   []FactAnswer `json:"facts" nullable:"false"`
	Choices []Choice     `json:"choices" nullable:"false" doc:"answered by a digit; facts hold the first"`
	Learn   []phrase.Own `json:"learn" nullable:"false" doc:"what the answer to a question teaches the workshop"`
}

// Read reads a line after the pending ones, which were entered but have not reached the server.
func Read(c Context, pending []string, line string) Answer {
	c = c.whole()
	for i, p := range pending {
		c = c.enter(p, i)
	}
	return c.read(line)
}

// Choose is the context once somebody has said which of the parts that fit a line is meant: the others are out of its
// way.
func (c Context) Choose(candidates []shorthand.Named, part string) Context {
	c.Parts = slices.DeleteFunc(slices.Clone(c.Parts), func(p shorthand.Named) bool {
		return p.ID != part && slices.ContainsFunc(candidates, func(o shorthand.Named) bool { return o.ID == p.ID })
	})
	return c
}

// Stops are the stops of a step that a tile chose or a form describes; they are those of the line that says it. The tool
// in hand goes before the one that the plan names, not before the one that a form names.
func Stops(c Context, pending []string, s plan.Step, back bool) []interlock.Stop {
	c = c.whole()
	for i, p := range pending {
		c = c.enter(p, i)
	}
	act := interlock.Act{Verb: s.Verb, Back: back, Joint: s.Joint, Method: s.Method, Second: c.Second}
	if _, known := c.Steps.By(s.ID); !known {
		act.Tool = s.Tool
	}
	if act = c.filled(act, s); act.Kind == "" {
		act.Kind = trade.About(s.What)
	}
	return append(interlock.Check(c.State, act), c.covered(s.ID, back)...)
}

// fact finds the step of the plan that a reading means, and raises the stops of the phone's state.
func (c Context) fact(x shorthand.Reading) FactAnswer {
	a := FactAnswer{Reading: x, Lacks: []string{}, Stops: []interlock.Stop{}}
	a.Fact.Kind = shorthand.KindOfFact(a.Fact)
	if a.Unread == nil {
		a.Unread = []shorthand.Unread{}
	}
	if a.Fact.Verb == "measure" {
		a.Doubt = doubt(pack(a.Fact), c.Packs)
	}
	a.Leaves = c.leaving(a)
	a.Say = SayLeaving(Say(a.Fact, a.NewPart), a.Leaves)
	if len(a.Candidates) > 0 || a.Fact.Corrects != nil { // nothing is logged before one is named
		return a
	}
	act := c.act(a)
	side := a.Fact.Side
	if k, again := c.resolve(a); k >= 0 {
		s := c.Steps[k]
		side = cmp.Or(side, s.Side)
		a.Again, a.StepID, a.Step = again, s.ID, strings.TrimSpace(s.Mark+" "+s.Verb+" "+s.What)
		act = c.filled(act, s)
		if !a.Fact.Back {
			for _, id := range s.Lacks(c.Done) {
				if o, ok := c.Steps.By(id); ok {
					a.Lacks = append(a.Lacks, o.Mark)
				}
			}
		}
	} else if v, _ := trade.VerbOf(a.Fact.Verb); v.Step && !a.Fact.Back && a.Fact.Outcome != "not tried" {
		a.NewStep = c.newStep(a)
	}
	if a.Fact.Verb == "heat" && !a.Fact.Back && (side == "" || side == "any") {
		a.Asks = "side"
	}
	a.Stops = append(interlock.Check(c.State, act), c.covered(a.StepID, a.Fact.Back)...)
	return a
}

// filled takes from the step what the line left out; the tool in hand goes before the plan's.
func (c Context) filled(act interlock.Act, s plan.Step) interlock.Act {
	if act.Tool == "" && c.State.Tool == "" {
		act.Tool = s.Tool
	}
	if act.Kind == "" {
		act.Kind = c.kind(s)
	}
	if act.Joint == "" {
		act.Joint = s.Joint
	}
	if act.Method == "" {
		act.Method = s.Method
	}
	return act
}

// whole adds parts that only the steps know, and counts the leads that are off.
func (c Context) whole() Context {
	c.Parts = slices.Clone(c.Parts)
	c.names = namesOf(c.Parts)
	c.State.Leads = max(c.State.Leads, c.leads())
	for _, s := range c.Steps {
		for _, id := range append([]string{s.Part}, s.Frees...) {
			if id == "" || slices.ContainsFunc(c.Parts, func(p shorthand.Named) bool { return p.ID == id }) {
				continue
			}
			n := shorthand.Named{ID: id, Name: strings.ReplaceAll(id, "-", " ")}
			if id == s.Part && s.What != "" {
				n.Aliases = []string{s.What}
			}
			c.Parts = append(c.Parts, n)
		}
	}
	c.names = namesOf(c.Parts)
	return c
}

// leads counts the leads that are off and will go on again, the battery's left out.
func (c Context) leads() int {
	n := 0
	for _, id := range c.Done {
		if s, ok := c.Steps.By(id); ok && s.Lead() && c.kind(s) != "battery" && !slices.Contains(c.Off, id) {
			n++
		}
	}
	return n
}

func (c Context) partKind(id string) string {
	for _, p := range c.Parts {
		if p.ID == id {
			return p.KindID()
		}
	}
	return ""
}

// kind is the kind of the part that a step is about.
func (c Context) kind(s plan.Step) string {
	if s.Part != "" {
		return c.partKind(s.Part)
	}
	if len(s.Frees) == 1 {
		return c.partKind(s.Frees[0])
	}
	return c.found(s.What).kind
}

// part is the id of the part that a step is about, "" where it cannot be told.
func (c Context) part(s plan.Step) string {
	if s.Part != "" {
		return s.Part
	}
	if len(s.Frees) == 1 && (s.Verb == "lift" || s.Verb == "bracket") {
		return s.Frees[0]
	}
	return c.found(s.What).id
}

func (c Context) act(a FactAnswer) interlock.Act {
	f := a.Fact
	act := interlock.Act{Verb: f.Verb, Back: f.Back, Kind: c.partKind(f.Part), Joint: f.Joint, Tool: f.Tool,
		Method: f.Method, Volts: f.Volts,
		Outcome: f.Outcome, Second: c.Second}
	if a.NewPart != nil {
		act.Kind = a.NewPart.Kind
	}
	if f.Connector == "off on purpose" && f.Back {
		act.Back = false
	}
	if f.Verb != "disconnect" && trade.Lead(f.Joint) && f.Verb != "lift" && f.Verb != "pry" {
		act.Joint = "" // measured, or cut beside it: the lead stays on
	}
	if f.Polarity != nil {
		act.Polarity = Poles(f)
	}
	return act
}

// Poles says a polarity in words.
func Poles(f shorthand.Fact) string {
	var parts []string
	if f.Polarity != nil && f.Polarity.Plus != "" {
		parts = append(parts, "plus on "+f.Polarity.Plus)
	}
	if f.Polarity != nil && f.Polarity.Minus != "" {
		parts = append(parts, "minus on "+f.Polarity.Minus)
	}
	return strings.Join(parts, ", ")
}

// enter applies a waiting entry: a line, or "=ID" for a step that was chosen, "+=ID" for one that was put back.
func (c Context) enter(entry string, n int) Context {
	id, chosen := strings.CutPrefix(strings.TrimPrefix(entry, "+"), "=")
	s, known := c.Steps.By(id)
	name := fmt.Sprintf("p%d", n+1)
	if !chosen || !known {
		a := c.read(entry)
		for _, f := range a.Facts {
			c = c.afterFact(f, name)
		}
		return c
	}
	a := FactAnswer{StepID: id, Reading: shorthand.Reading{Fact: shorthand.Fact{Verb: s.Verb, Back: entry[0] == '+',
		Part: cmp.Or(s.Part, c.part(s)), Joint: s.Joint, Count: s.Count, Drive: s.Drive}}}
	if len(s.Frees) == 1 && a.Fact.Part == "" {
		a.Fact.Part = s.Frees[0]
	}
	for _, p := range c.Parts {
		if p.ID == a.Fact.Part {
			a.Fact.Name = p.Name
		}
	}
	return c.afterFact(a, name)
}

// After is the phone once a line was logged: steps done, the state of its interlocks, and parts and steps that the line
// made known.
func (c Context) After(a Answer) Context {
	for _, f := range a.Facts {
		c = c.afterFact(f, "")
	}
	return c
}

func (c Context) afterFact(a FactAnswer, entry string) Context {
	if a.NewPart != nil {
		id := "new:" + a.NewPart.Name
		c.Parts = append(slices.Clone(c.Parts), shorthand.Named{ID: id, Name: a.NewPart.Name, Kind: a.NewPart.Kind})
		a.Fact.Part, a.Fact.Name = id, a.NewPart.Name
		if a.NewStep != nil {
			s := *a.NewStep
			s.Part = id
			if s.Verb == "lift" || s.Verb == "bracket" || a.Leaves == leftOff {
				s.Frees = []string{id}
			}
			a.NewStep = &s
		}
	}
	c.Log = append(slices.Clone(c.Log), Entry{ID: entry, Fact: a.Fact})
	if a.Fact.Corrects != nil {
		return c.corrected(a.Fact)
	}
	act := c.act(a)
	if a.NewStep != nil && a.StepID == "" {
		s := *a.NewStep
		s.ID = fmt.Sprintf("new-%d", len(c.Steps)+1)
		s.Mark = s.ID
		c.Steps = append(slices.Clone(c.Steps), s)
		a.StepID = s.ID
	}
	if s, ok := c.Steps.By(a.StepID); ok {
		act = c.filled(act, s)
		if a.Leaves == leftOff && a.Fact.Part != "" && !slices.Contains(s.Frees, a.Fact.Part) { // on this phone it came out
			s.Frees = append(slices.Clone(s.Frees), a.Fact.Part)
			c.Steps = slices.Clone(c.Steps)
			c.Steps[slices.IndexFunc(c.Steps, func(o plan.Step) bool { return o.ID == s.ID })] = s
		}
	}
	c = c.shown(a.StepID, a)
	leads, before := c.State.Leads, c.leads()
	c.State = interlock.After(c.State, act)
	if a.StepID != "" && a.Fact.Outcome != "gave up" && a.Fact.Outcome != "not tried" {
		c.Done = c.Done.After(a.StepID, a.Fact.Back, func(id string) string {
			s, _ := c.Steps.By(id)
			return s.Verb
		})
	}
	if a.StepID != "" && a.Fact.Connector == "off on purpose" {
		c.Off = append(slices.Clone(c.Off), a.StepID)
	} else if a.Fact.Back {
		c.Off = slices.DeleteFunc(slices.Clone(c.Off), func(id string) bool { return id == a.StepID })
	}
	if a.StepID != "" { // counted again: a lead that was off already is no further one
		c.State.Leads = max(0, leads+c.leads()-before)
	}
	return c
}

// corrected is the phone once an entry was mended: the later one counts.
func (c Context) corrected(f shorthand.Fact) Context {
	for i := range c.Log[:len(c.Log)-1] {
		if c.Log[i].ID == f.Corrects.Entry {
			c.Log = slices.Delete(slices.Clone(c.Log), i, i+1)
			break
		}
	}
	if f.Corrects.How == "withdrawn" {
		c.Log = c.Log[:len(c.Log)-1]
		a := FactAnswer{Reading: shorthand.Reading{Fact: f}}
		if k := c.best(f, func(_ plan.Step, done bool) bool { return done }); k >= 0 {
			a.StepID = c.Steps[k].ID
			c.Done = slices.DeleteFunc(slices.Clone(c.Done), func(id string) bool { return id == a.StepID })
		}
		if f.Verb == "disconnect" && c.partKind(f.Part) == "battery" {
			c.State.BatteryOff = f.Back
		}
	}
	return c
}

// Next lists the steps that can come next after the pending lines: their prerequisites are met, they are not done, and
// what they free is still in place. What the last act opened comes first: it is the likeliest.
func Next(c Context, pending []string) []string {
	c = c.whole()
	for i, p := range pending {
		c = c.enter(p, i)
	}
	freed := map[string]bool{}
	for _, s := range c.Steps {
		if c.Done.Has(s.ID) {
			for _, part := range s.Frees {
				freed[part] = true
			}
		}
	}
	ready := []string{}
	recent := map[string]int{}
	for _, s := range c.Steps {
		if strings.HasPrefix(s.ID, "new-") || c.Done.Has(s.ID) ||
			slices.ContainsFunc(s.Frees, func(part string) bool { return freed[part] }) ||
			len(s.Lacks(c.Done)) > 0 {
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
