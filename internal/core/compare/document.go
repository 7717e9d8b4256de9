// Package compare lays two models over each other: which part of one is which of the other, what moved, grew, merged or
// went, and what each change costs at the bench.
package compare

import (
	"cmp"
	"fmt"
	"slices"

	"waryowl/internal/core/fault"
)

// Rect is where a part lies, in mm from the corner that is up and left as the model is recorded.
type Rect struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
	W float64 `json:"w"`
	H float64 `json:"h"`
}

// Quantity is a value with its standard uncertainty.
type Quantity struct {
	Value float64 `json:"value"`
	U     float64 `json:"u,omitempty" minimum:"0"`
	Unit  string  `json:"unit,omitempty"`
}

// Joint is what holds a part: so many of one kind.
type Joint struct {
	Type   string  `json:"type" enum:"screw,adhesive,connector"`
	What   string  `json:"what,omitempty"`
	Length float64 `json:"length,omitempty"`
	Count  *int    `json:"count,omitempty" minimum:"1"`
}

// Part is one part of a model; Carries are the functions that need it.
type Part struct {
	ID         string              `json:"id"`
	Kind       string              `json:"kind"`
	Names      []string            `json:"names" nullable:"false"`
	Family     string              `json:"family,omitempty"`
	Rect       *Rect               `json:"rect,omitempty"`
	Layer      *int                `json:"layer,omitempty"`
	Quantities map[string]Quantity `json:"quantities,omitempty"`
	Carries    []string            `json:"carries,omitempty" nullable:"false"`
	Joints     []Joint             `json:"joints,omitempty" nullable:"false"`
}

// Model is a phone as it lies: Face is up, Away the edge away from you. PlacedU is the standard uncertainty of a
// recorded place, mm per axis (1 by default; house).
type Model struct {
	ID      string   `json:"id"`
	Name    string   `json:"name,omitempty" doc:"the id when left out"`
	Width   float64  `json:"width"`
	Height  float64  `json:"height"`
	Face    string   `json:"face" enum:"front,back"`
	Away    string   `json:"away" enum:"top,bottom"`
	PlacedU *float64 `json:"placed_u,omitempty" minimum:"0"`
	Parts   []Part   `json:"parts" nullable:"false"`

	Whole map[string]Quantity `json:"whole,omitempty" doc:"measures of the phone"`
}

// Step is the time of a step that goes to a part; none: to no part in particular.
type Step struct {
	Part    string  `json:"part,omitempty"`
	Seconds float64 `json:"seconds" minimum:"0"`
}

// Way is one side of a job: the way to it in one model, where it has steps; no way, with its reason; or nothing: not
// known. Seconds are those of all of it. Nobody's silence is a "no way".
type Way struct {
	Steps    []Step             `json:"steps"`
	Depth    int                `json:"depth"`
	Seconds  float64            `json:"seconds" minimum:"0"`
	Tools    []string           `json:"tools"`
	Risk     map[string]float64 `json:"risk,omitempty"`
	Side     string             `json:"side,omitempty" doc:"from which it opens"`
	Measured int                `json:"measured,omitempty" minimum:"0" doc:"steps with a clocked time"`
	NoWay    string             `json:"no_way,omitempty" doc:"why there is none, known from the plan"`
	Instead  *float64           `json:"instead,omitempty" minimum:"0" doc:"seconds of what has to be done instead"`
}

func (w Way) there() bool { return w.Steps != nil }

// Target are the parts that a job is about, in each model.
type Target struct {
	A string `json:"a,omitempty"`
	B string `json:"b,omitempty"`
}

// Job is a kind of job in both models; Weight is its share of all jobs.
type Job struct {
	Job    string  `json:"job"`
	Weight float64 `json:"weight" minimum:"0"`
	Target Target  `json:"target,omitempty"`
	A      Way     `json:"a,omitempty"`
	B      Way     `json:"b,omitempty"`
}

func (j Job) both() bool { return j.A.there() && j.B.there() }

// Input is two models, what a person said about pairs, the quantities that must be equal for a part to interchange, and
// the jobs.
type Input struct {
	A         Model      `json:"a"`
	B         Model      `json:"b"`
	Confirmed [][]string `json:"confirmed,omitempty" nullable:"false"`
	Refused   [][]string `json:"refused,omitempty" nullable:"false"`
	Must      []string   `json:"must,omitempty" nullable:"false"`
	Jobs      []Job      `json:"jobs,omitempty" nullable:"false"`
	Fit       []FitLine  `json:"fit,omitempty" nullable:"false"`
	Claims    []Claim    `json:"claims,omitempty" nullable:"false"`
}

const mostParts = 200

func (in Input) check() error {
	for at, m := range map[string]Model{"a": in.A, "b": in.B} {
		if err := m.check(at); err != nil {
			return err
		}
	}
	known := [2]map[string]bool{in.A.ids(), in.B.ids()}
	pair := func(at string, p []string) error {
		if len(p) != 2 {
			return fault.New(at, fmt.Sprint(p), "a part of a and a part of b")
		}
		for side, id := range p {
			if !known[side][id] {
				return fault.New(fmt.Sprintf("%s[%d]", at, side), id, "a part of "+[]string{"a", "b"}[side])
			}
		}
		return nil
	}
	fixed := [2]map[string]bool{{}, {}}
	for i, p := range in.Confirmed {
		at := fmt.Sprintf("confirmed[%d]", i)
		if err := pair(at, p); err != nil {
			return err
		}
		for side, id := range p {
			if fixed[side][id] {
				return fault.New(fmt.Sprintf("%s[%d]", at, side), id, "each part in one confirmed pair")
			}
			fixed[side][id] = true
		}
	}
	for i, p := range in.Refused {
		at := fmt.Sprintf("refused[%d]", i)
		if err := pair(at, p); err != nil {
			return err
		}
		if slices.ContainsFunc(in.Confirmed, func(c []string) bool { return slices.Equal(c, p) }) {
			return fault.New(at, fmt.Sprint(p), "a pair that is not confirmed as well")
		}
	}
	seen := map[string]bool{}
	for i, j := range in.Jobs {
		at := fmt.Sprintf("jobs[%d]", i)
		if j.Job == "" || seen[j.Job] {
			return fault.New(at+".job", j.Job, "a kind of job, once")
		}
		seen[j.Job] = true
		if !(j.Weight >= 0) {
			return fault.New(at+".weight", j.Weight, "0 or more")
		}
		for side, w := range []Way{j.A, j.B} {
			name := []string{"a", "b"}[side]
			if err := w.check(at+"."+name, known[side]); err != nil {
				return err
			}
			if t := []string{j.Target.A, j.Target.B}[side]; t != "" && !known[side][t] {
				return fault.New(at+".target."+name, t, "a part of "+name)
			}
		}
	}
	return in.checkSaid(known, seen)
}

func (m Model) ids() map[string]bool {
	list := map[string]bool{}
	for _, p := range m.Parts {
		list[p.ID] = true
	}
	return list
}

func (m Model) check(at string) error {
	if err := fault.ID(at+".id", m.ID); err != nil {
		return err
	}
	for name, q := range m.Whole {
		if !(q.U >= 0) {
			return fault.New(at+".whole."+name+".u", q.U, "0 or more")
		}
	}
	for name, x := range map[string]float64{"width": m.Width, "height": m.Height} {
		if !(x > 0) {
			return fault.New(at+"."+name, x, "mm, above 0")
		}
	}
	if m.Face != "front" && m.Face != "back" {
		return fault.New(at+".face", m.Face, "front or back")
	}
	if m.Away != "top" && m.Away != "bottom" {
		return fault.New(at+".away", m.Away, "top or bottom")
	}
	if m.PlacedU != nil && !(*m.PlacedU >= 0) {
		return fault.New(at+".placed_u", *m.PlacedU, "mm, 0 or more")
	}
	if len(m.Parts) == 0 || len(m.Parts) > mostParts {
		return fault.New(at+".parts", len(m.Parts), "1 to 200 parts")
	}
	seen := map[string]bool{}
	for i, p := range m.Parts {
		here := fmt.Sprintf("%s.parts[%d]", at, i)
		if err := fault.ID(here+".id", p.ID); err != nil {
			return err
		}
		if seen[p.ID] {
			return fault.New(here+".id", p.ID, "an id that comes once in the model")
		}
		seen[p.ID] = true
		if err := p.check(here); err != nil {
			return err
		}
	}
	return nil
}

func (p Part) check(at string) error {
	if p.Kind == "" {
		return fault.New(at+".kind", p.Kind, "the kind of the part")
	}
	if len(p.Names) == 0 {
		return fault.New(at+".names", "none", "one name or more")
	}
	for k, name := range p.Names {
		if name == "" {
			return fault.New(fmt.Sprintf("%s.names[%d]", at, k), name, "a name")
		}
	}
	if r := p.Rect; r != nil {
		for name, x := range map[string]float64{"w": r.W, "h": r.H} {
			if !(x > 0) {
				return fault.New(at+".rect."+name, x, "mm, above 0")
			}
		}
	}
	for name, q := range p.Quantities {
		if !(q.U >= 0) {
			return fault.New(at+".quantities."+name+".u", q.U, "0 or more")
		}
	}
	for k, j := range p.Joints {
		here := fmt.Sprintf("%s.joints[%d]", at, k)
		if !slices.Contains([]string{"screw", "adhesive", "connector"}, j.Type) {
			return fault.New(here+".type", j.Type, "screw, adhesive or connector")
		}
		if j.count() < 1 {
			return fault.New(here+".count", j.count(), "1 or more")
		}
	}
	return nil
}

func (w Way) check(at string, parts map[string]bool) error {
	for i, s := range w.Steps {
		here := fmt.Sprintf("%s.steps[%d]", at, i)
		if s.Part != "" && !parts[s.Part] {
			return fault.New(here+".part", s.Part, "a part of this model, or nothing")
		}
		if !(s.Seconds >= 0) {
			return fault.New(here+".seconds", s.Seconds, "0 or more")
		}
	}
	switch {
	case w.there() && w.NoWay != "":
		return fault.New(at+".no_way", w.NoWay, "nothing where there are steps")
	case w.Instead != nil && !(*w.Instead >= 0):
		return fault.New(at+".instead", *w.Instead, "seconds, 0 or more")
	}
	if !(w.Seconds >= 0) {
		return fault.New(at+".seconds", w.Seconds, "0 or more")
	}
	for part, r := range w.Risk {
		if !(r >= 0 && r < 1) {
			return fault.New(at+".risk."+part, r, "a chance from 0 to below 1")
		}
	}
	return nil
}

func (j Joint) count() int {
	if j.Count == nil {
		return 1
	}
	return *j.Count
}

func (m Model) name() string { return cmp.Or(m.Name, m.ID) }

func (m Model) part(id string) *Part {
	if k := slices.IndexFunc(m.Parts, func(p Part) bool { return p.ID == id }); k >= 0 {
		return &m.Parts[k]
	}
	return nil
}

// called is the first name of a part.
func (m Model) called(id string) string {
	if p := m.part(id); p != nil {
		return p.Names[0]
	}
	return ""
}

func (m Model) placed() float64 {
	if m.PlacedU == nil {
		return 1
	}
	return *m.PlacedU
}
