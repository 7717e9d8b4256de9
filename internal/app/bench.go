package app

import (
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"

	"waryowl/internal/core/dose"
	"waryowl/internal/core/interlock"
	"waryowl/internal/core/learn"
	"waryowl/internal/store"
)

// rounds are the heat rounds of a unit on a face ("" for all), in their order.
func (b *bench) rounds(unit, face string) []dose.Round {
	var list []dose.Round
	for _, e := range b.log {
		if h := e.Detail.Heat; h != nil && e.UnitID == unit && (face == "" || b.face(e) == face) {
			list = append(list, dose.Round{Source: h.Source, Face: b.face(e), SetC: h.SetC, MeasuredC: h.MeasuredC, Seconds: h.Seconds, Result: h.Result, Kind: h.Mark})
		}
	}
	return list
}

func (b *bench) face(e store.LogEntry) string {
	return first(e.Detail.Heat.Face, b.know.step[e.StepID].Side, "front")
}

func heated(rounds []dose.Round) float64 {
	sum := 0.0
	for _, r := range rounds {
		sum += r.Seconds
	}
	return sum
}

// heat is the dose of each face that had any, and what the next round should be.
func (b *bench) heat(u store.Unit) []FaceHeat {
	list := []FaceHeat{}
	for _, face := range []string{"front", "back"} {
		mine := b.rounds(u.ID, face)
		var earlier []dose.Round
		for _, other := range b.units {
			if other.ID != u.ID {
				earlier = append(earlier, b.rounds(other.ID, face)...)
			}
		}
		if len(mine)+len(earlier) == 0 {
			continue
		}
		nominal := 120.0
		source := ""
		for _, r := range append(slices.Clone(earlier), mine...) {
			source = first(r.Source, source)
		}
		for _, s := range dose.Schools() {
			if s.Method == source && s.For == "opening" {
				nominal = s.Seconds
			}
		}
		// A unit that is not a donor keeps its panel; the cell lies under the face that its lid does not carry.
		limit := dose.Limit(face == "front" && u.Role != "donor", false)
		list = append(list, FaceHeat{Face: face, Rounds: len(mine), Limit: limit, Advice: dose.Advise(mine, earlier, nominal, limit)})
	}
	return list
}

// far is how many times the usual time makes an entry doubtful (house); short ones are never asked about.
const (
	far      = 4.0
	farLeast = 60.0
)

// long lists the entries of a unit whose time looks like a break: it is asked in review, never in mid-step.
func (b *bench) long(unit string) []string {
	ids := []string{}
	for _, e := range b.log {
		if s, ok := b.know.step[e.StepID]; ok && e.UnitID == unit && e.Kind == "step" && e.Seconds > farLeast && e.Seconds > far*b.know.planned(s) {
			ids = append(ids, e.ID)
		}
	}
	return ids
}

// lost lists what was lost on a unit and not found again.
func (b *bench) lost(unit string) []string {
	left := map[string]int{}
	var order []string
	for _, e := range b.log {
		if e.UnitID != unit || e.Detail.Incident == nil {
			continue
		}
		what := "screw"
		if e.Detail.Diameter > 0 {
			what = fmt.Sprintf("%g × %g mm screw", e.Detail.Diameter, e.Detail.Length)
		}
		n := max(1, e.Detail.Count)
		switch e.Detail.Incident.Kind {
		case "screw-lost":
			left[what] += n
		case "screw-found":
			left[what] -= n
		case "part-forgotten":
			what = first(b.know.part[e.PartID].Name, e.Note, "part")
			left[what] += n
		default:
			continue
		}
		if !slices.Contains(order, what) {
			order = append(order, what)
		}
	}
	list := []string{}
	for _, what := range order {
		if left[what] > 0 {
			list = append(list, fmt.Sprintf("%d × %s", left[what], what))
		}
	}
	return list
}

// retest names the checks that must be run again before closing: the families of a stop that was "already done", and of parts
// that an incident hurt.
func (b *bench) retest(unit string) []string {
	families := map[string]bool{}
	for _, e := range b.log {
		if e.UnitID != unit {
			continue
		}
		for _, s := range e.Detail.Stops {
			if s.Answer == "already done" {
				for _, family := range interlock.Retest(s.Rule) {
					families[family] = true
				}
			}
		}
		if e.Detail.Incident != nil && e.PartID != "" {
			families[b.know.part[e.PartID].Family] = true
		}
	}
	marks := []string{}
	for _, c := range b.checks {
		if families[c.Family] {
			marks = append(marks, c.Mark)
		}
	}
	return marks
}

// PlanHint is something that the plan might learn, with the change that would do it; StepID and After are empty when only an
// analyst can tell what to do.
type PlanHint struct {
	Kind    string     `json:"kind" enum:"lies under,dead end,after the previous one,cycle"`
	Text    string     `json:"text"`
	StepID  string     `json:"step_id,omitempty"`
	Version int        `json:"version,omitempty"`
	After   [][]string `json:"after" nullable:"false"`
}

func (k *knowledge) lessons() []learn.Step { return k.with("", nil) }

// with is the plan in the terms of the core, one step's prerequisites replaced.
func (k *knowledge) with(id string, after [][]string) []learn.Step {
	var steps []learn.Step
	for _, s := range k.steps {
		l := learn.Step{ID: s.ID, Side: s.Side, After: s.After, Frees: s.Frees}
		if s.ID == id {
			l.After = after
		}
		steps = append(steps, l)
	}
	return steps
}

// hints lists what positions suggest and what leads nowhere.
func (k *knowledge) hints() []PlanHint {
	list := []PlanHint{}
	if err := k.checkPlan(); err != nil {
		list = append(list, PlanHint{Kind: "cycle", Text: err.Error(), After: [][]string{}})
	}
	var parts []learn.Part
	for _, p := range k.parts {
		// What comes out from the back lies under the others only when seen from the front.
		if slices.ContainsFunc(k.steps, func(s store.PlanStep) bool { return s.Side == "back" && slices.Contains(s.Frees, p.ID) }) {
			continue
		}
		parts = append(parts, learn.Part{ID: p.ID, Name: p.Name, Pane: p.Pane, X: p.XMM, Y: p.YMM, W: p.WMM, H: p.HMM, Layer: p.Layer})
	}
	steps := k.lessons()
	freeing := func(part string) *store.PlanStep {
		for i, s := range k.steps {
			if slices.Contains(s.Frees, part) {
				return &k.steps[i]
			}
		}
		return nil
	}
	for _, c := range learn.Covers(parts, steps) {
		low, high := freeing(c.Under), freeing(c.Over)
		after := [][]string{}
		for _, alt := range low.After {
			after = append(after, append(slices.Clone(alt), high.ID))
		}
		if len(after) == 0 {
			after = [][]string{{high.ID}}
		}
		list = append(list, PlanHint{"lies under", fmt.Sprintf("%.0f %% of the %s seems to lie under the %s, but the plan frees it without", 100*c.Share, k.part[c.Under].Name, k.part[c.Over].Name), low.ID, low.Version, after})
	}
	for _, id := range learn.DeadEnds(steps) {
		s := k.step[id]
		list = append(list, PlanHint{"dead end", fmt.Sprintf("%s, %s %s, frees nothing and nothing rests on it", s.Mark, s.Verb, s.What), "", 0, [][]string{}})
	}
	return list[:min(12, len(list))]
}

// predecessor loads what is known of the model's predecessor, for guesses; nil when there is none on record.
func (k *knowledge) predecessor(db *gorm.DB) (*knowledge, error) {
	if k.Predecessor == "" || len(k.steps) > 3 {
		return nil, nil
	}
	rows, err := store.List[store.Model](db, "id", "maker = ? AND name = ?", k.Maker, strings.TrimSpace(k.Predecessor))
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	return loadModel(db, rows[0].ID)
}

// guesses offers the predecessor's steps while the plan knows nothing further: those after as many as were done.
func (b *bench) guesses(done int) []NextStep {
	list := []NextStep{}
	if b.ahead == nil {
		return list
	}
	for _, s := range b.ahead.steps[min(done, len(b.ahead.steps)):] {
		known := slices.ContainsFunc(b.know.steps, func(o store.PlanStep) bool { return o.What == s.What && o.Verb == s.Verb })
		if known || len(list) == 8 {
			continue
		}
		f := s.StepFacts
		f.After, f.Risk, f.Frees = nil, nil, nil
		for _, id := range s.Frees {
			if p := b.know.partNamed(b.ahead.part[id].Name); p != nil {
				f.Frees = append(f.Frees, p.ID)
			}
		}
		list = append(list, NextStep{Facts: &f, From: b.ahead.Name, Cautions: b.ahead.cautions(s)})
	}
	return list
}
