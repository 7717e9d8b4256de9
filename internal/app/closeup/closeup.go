// Package closeup is the room of putting back: what goes where in which order, what is unaccounted for, whether a phone
// may be closed.
package closeup

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/app/model"
	"waryowl/internal/app/study"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/closeup"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/route"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

// matColumns and the size of a cell on the mat: five columns of 34 mm fit A4 and Letter with their margins.
const matColumns = 5

// CloseLine is a line of the closing list with what was ticked.
type CloseLine struct {
	closeup.Line
	Mark     string           `json:"mark"`
	Ready    bool             `json:"ready" doc:"all gates before it are ticked"`
	Done     bool             `json:"done" doc:"put back"`
	Cautions []hazard.Caution `json:"cautions" nullable:"false"`
}

// HoleAlike is a hole with what else may safely go into it.
type HoleAlike struct {
	closeup.Hole
	Place    string               `json:"place"`
	Magnetic string               `json:"magnetic,omitempty"`
	Subs     []closeup.Substitute `json:"subs" nullable:"false"`
}

// ClosingCheck is a check before sealing, beside its baseline.
type ClosingCheck struct {
	Mark     string `json:"mark"`
	Name     string `json:"name"`
	Depth    string `json:"depth"`
	Baseline string `json:"baseline"`
	Assumed  bool   `json:"assumed"`
	Result   string `json:"result"`
	Retest   bool   `json:"retest" doc:"a power-on event or an incident asks for it"`
}

// UnitClosing is the closing of one phone.
type UnitClosing struct {
	UnitID      string          `json:"unit_id"`
	Answer      answer.Sentence `json:"answer" nullable:"false"`
	May         bool            `json:"may" doc:"may it be closed?"`
	Closing     store.Closing   `json:"closing"`
	Lines       []CloseLine     `json:"lines" nullable:"false"`
	Conflict    string          `json:"conflict,omitempty"`
	Items       []closeup.Item  `json:"items" nullable:"false"`
	Open        []closeup.Item  `json:"open" nullable:"false"`
	Empty       []closeup.Item  `json:"empty" nullable:"false" doc:"holes whose screw was lost"`
	Seated      [2]int          `json:"seated" doc:"connectors seated, of how many"`
	Consumables []string        `json:"consumables" nullable:"false"`
	Checks      []ClosingCheck  `json:"checks" nullable:"false"`
	Water       string          `json:"water"`
	Lost        []string        `json:"lost" nullable:"false"`
}

// Room is the room of closing. FromPlan says that nothing was logged and the lists come from the plan, as for a phone
// built of loose parts.
type Room struct {
	study.Card
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	Closings []UnitClosing   `json:"closings" nullable:"false"`
	FromPlan bool            `json:"from_plan"`
	Holes    []HoleAlike     `json:"holes" nullable:"false"`
	Mixes    []closeup.Mix   `json:"mixes" nullable:"false"`
	Mat      closeup.Mat     `json:"mat"`
	Startup  []string        `json:"startup" nullable:"false" doc:"when the phone stays dark"`
	Notice   string          `json:"notice"`
}

var startup = []string{
	"Plug in a charger and wait ten minutes: a phone whose battery was off may stay dark until then.",
	"Hold the power button for twenty seconds, then once more for two.",
	"Wait: the first start after a swap can take much longer than usual.",
	"Seat the battery's and the display's connectors again, twice each, battery off first.",
	"Try a display that is known to work. Only then is anything called dead.",
}

// Show shows what goes back, in which order, what is unaccounted for, and whether each phone may be closed.
func Show(ctx context.Context, s *act.Service, id string, plan bool) (Room, error) {
	db := s.DB.WithContext(ctx)
	b, err := study.Load(db, id)
	if err != nil {
		return Room{}, err
	}
	v := Room{Card: b.Card(), Closings: []UnitClosing{}, FromPlan: plan, Startup: startup, Notice: hazard.Notice,
		Answer: answer.Sentence{answer.Text("Nothing to close: record a phone at intake first.")}}
	v.Holes, v.Mixes, v.Mat = mat(b.Know)
	for _, u := range b.Units {
		c := store.Closing{UnitID: u.ID}
		for _, row := range b.Closings {
			if row.UnitID == u.ID {
				c = row
			}
		}
		v.Closings = append(v.Closings, closing(b, u, c, plan))
	}
	if len(v.Closings) > 0 {
		v.Answer = v.Closings[0].Answer
	}
	return v, nil
}

// order is the way that frees everything, for a phone that is built from loose parts.
func order(k *model.Record) []string {
	q := k.Question(route.Depth)
	for _, s := range q.Steps {
		for _, part := range s.Frees {
			if !slices.Contains(q.Goal, part) {
				q.Goal = append(q.Goal, part)
			}
		}
	}
	q.Effort = 2000
	out, err := route.Solve(q)
	if err != nil {
		return nil
	}
	return out.Steps
}

func closing(b *study.Record, u store.Unit, c store.Closing, fromPlan bool) UnitClosing {
	v := UnitClosing{UnitID: u.ID, Closing: c, Lines: []CloseLine{}, Items: []closeup.Item{}, Consumables: []string{},
		Checks: []ClosingCheck{}, Water: closeup.Water(c.Seal), Lost: b.Lost(u.ID)}
	ids := b.EverDone(u.ID)
	out := b.Done(u.ID)
	if fromPlan {
		ids = order(b.Know)
		out = slices.Clone(ids)
	}
	var steps []plan.Done
	for i, id := range ids {
		step := b.Know.Step(b.Know.StepByID[id])
		done := plan.Done{Step: step, Before: step.Met(ids[:i])}
		steps = append(steps, done)
	}
	lines, conflict := closeup.List(steps, b.Know.Kind)
	for i := range lines {
		lines[i].Frees = b.Know.PartNames(lines[i].Frees)
	}
	v.Conflict = conflict
	unseated := ""
	for _, l := range lines {
		s := b.Know.StepByID[l.StepID]
		line := CloseLine{Line: l, Mark: s.Mark, Ready: true, Done: !slices.Contains(out, l.StepID),
			Cautions: b.Know.Cautions(s)}
		for _, g := range l.Gates {
			ticked := slices.Contains(c.Ticks, g.Key)
			line.Ready = line.Ready && ticked
			if g.Kind == "connector" || g.Kind == "coax" {
				v.Seated[1] += g.N
				if ticked {
					v.Seated[0] += g.N
				} else if unseated == "" {
					unseated = strings.TrimPrefix(g.Text, "seated: ")
				}
			}
		}
		if l.Consumable != "" && !slices.Contains(v.Consumables, l.Consumable) {
			v.Consumables = append(v.Consumables, l.Consumable)
		}
		v.Lines = append(v.Lines, line)
		items(b, &v, s, c, line.Done)
	}
	v.Open, v.Empty = closeup.Reconcile(v.Items)
	retest := b.Retest(u.ID)
	untested := 0
	for _, k := range b.Checks {
		x := ClosingCheck{Mark: k.Mark, Name: k.Name, Depth: k.Depth, Result: c.Results[k.Mark],
			Retest: slices.Contains(retest, k.Mark)}
		for _, l := range b.Baselines {
			if l.UnitID == u.ID && l.CheckMark == k.Mark {
				x.Baseline, x.Assumed = l.Result, l.Assumed
			}
		}
		if x.Result == "" {
			untested++
		}
		v.Checks = append(v.Checks, x)
	}
	slices.SortStableFunc(v.Checks, func(a, b ClosingCheck) int {
		switch {
		case a.Retest == b.Retest:
			return 0
		case a.Retest:
			return -1
		}
		return 1
	})
	v.May = len(v.Lines) > 0 && len(v.Open) == 0 && v.Seated[0] == v.Seated[1] &&
		!slices.ContainsFunc(v.Lines, func(l CloseLine) bool { return !l.Ready })
	v.Answer = v.sentence(u, unseated, untested)
	return v
}

// items adds what a step took out: its screws, and the parts it freed.
func items(b *study.Record, v *UnitClosing, s store.PlanStep, c store.Closing, done bool) {
	add := func(key, kind, name, place string, out int) {
		d := c.Declared[key]
		i := closeup.Item{Key: key, Kind: kind, Name: name, Place: place, Out: out, In: c.Back[key], Lost: d.Lost,
			Swap: d.Replaced, Off: d.LeftOff}
		if done && i.In == 0 {
			i.In = i.Out - i.Lost - i.Swap - i.Off
		}
		v.Items = append(v.Items, i)
	}
	step := b.Know.Step(s)
	if n := step.Screws(); n > 0 {
		add("screws "+s.ID, "screw", closeup.ScrewName(step), s.What, n)
	}
	for _, id := range s.Frees {
		p := b.Know.PartByID[id]
		kind := "part"
		if k, _ := trade.KindByID(b.Know.Kind(id)); k.Covers {
			kind = "bracket"
		}
		add("part "+id, kind, p.Name, s.What, 1)
	}
}

func (v *UnitClosing) sentence(u store.Unit, unseated string, untested int) answer.Sentence {
	if len(v.Lines) == 0 {
		return answer.Sentence{answer.Name(u.Name, ""), answer.Text(": nothing is out. The closing list comes from " +
			"the steps logged, or from the plan for a phone built of loose parts.")}
	}
	s := answer.Sentence{answer.Name(u.Name, "")}
	if v.May {
		s = append(s, answer.Text(": may close. Connectors "), answer.Number(float64(v.Seated[0]), "", "#gate"),
			answer.Text(fmt.Sprintf(" of %d seated, nothing unaccounted for", v.Seated[1])))
		if untested > 0 {
			s = append(s, answer.Text("; "), answer.Count(untested, "check", "#checks"),
				answer.Text(" not run before sealing"))
		}
		return append(s, answer.Text("."))
	}
	s = append(s, answer.Text(": do not close. "))
	if unseated != "" {
		s = append(s, answer.Name(answer.Title(unseated), "#gate"), answer.Text(" not ticked as seated ("),
			answer.Number(float64(v.Seated[0]), "", "#gate"), answer.Text(fmt.Sprintf(" of %d)", v.Seated[1])))
	}
	if len(v.Open) > 0 {
		if unseated != "" {
			s = append(s, answer.Text("; "))
		}
		i := v.Open[0]
		what := fmt.Sprintf("%d %s", i.Open(), i.Name)
		if i.Place != i.Name {
			what += " of " + i.Place
		}
		s = append(s, answer.Text(what))
		if len(v.Open) > 1 {
			s = append(s, answer.Text(" and "), answer.Count(len(v.Open)-1, "other item", "#items"))
		}
		s = append(s, answer.Text(" unaccounted for"))
	} else if unseated == "" {
		s = append(s, answer.Text("A gate is not ticked"))
	}
	return append(s, answer.Text("."))
}

// mat lists the holes of the model in removal order, the screws that must not be mixed, and the layout of the mat.
func mat(k *model.Record) ([]HoleAlike, []closeup.Mix, closeup.Mat) {
	var holes []closeup.Hole
	var steps []store.PlanStep
	order := order(k)
	for _, s := range k.Steps { // the way that frees everything may leave some screws in
		if !slices.Contains(order, s.ID) {
			order = append(order, s.ID)
		}
	}
	for _, id := range order {
		s := k.StepByID[id]
		if trade.Threaded(s.Joint) && s.Verb == "unfasten" {
			steps = append(steps, s)
			holes = append(holes, closeup.Hole{ID: s.ID, Name: s.What, Drive: s.Drive, DiameterMM: s.DiameterMM,
				LengthMM: s.LengthMM, SafeMM: s.Fastener.SafeMM, GripMM: s.Fastener.GripMM,
				Beneath: s.Fastener.Beneath, Count: max(1, s.Count), Order: len(holes) + 1})
		}
	}
	mixes := closeup.LookAlikes(holes)
	apart := func(i, j int) bool {
		return slices.ContainsFunc(mixes, func(m closeup.Mix) bool {
			return m.Effect != "will not hold" && (m.From == holes[i].ID && m.Into == holes[j].ID ||
				m.From == holes[j].ID && m.Into == holes[i].ID)
		})
	}
	list := []HoleAlike{}
	for i, h := range holes {
		list = append(list, HoleAlike{Hole: h, Place: steps[i].Mark, Magnetic: steps[i].Fastener.Magnetic,
			Subs: closeup.Substitutes(h, holes)})
	}
	return list, mixes, closeup.Arrange(len(holes), matColumns, apart)
}

// SetClosing stores the state of a phone's closing; saw is 0 while nothing was stored. A phone is not marked as closed
// while something is unaccounted for.
func SetClosing(ctx context.Context, s *act.Service, c act.Command, unit string, saw int, plan bool,
	f store.ClosingFacts) (store.Closing, error) {
	return act.Do(ctx, s, c, 200, func(tx *store.Tx) (store.Closing, error) {
		u, err := store.Lock[store.Unit](tx, unit)
		if err != nil {
			return store.Closing{}, err
		}
		b, err := study.Load(tx.DB, u.StudyID)
		if err != nil {
			return store.Closing{}, err
		}
		for mark, r := range f.Results {
			if !slices.ContainsFunc(b.Checks, func(k store.Check) bool { return k.Mark == mark }) {
				return store.Closing{}, fault.New("results", mark, "checks of this model")
			}
			if !slices.Contains([]string{"pass", "weak", "lost", "skipped", "dark"}, r) {
				return store.Closing{}, fault.New("results."+mark, r, "pass, weak, lost, skipped or dark")
			}
		}
		if f.Closed {
			if v := closing(b, *u, store.Closing{UnitID: unit, ClosingFacts: f}, plan); !v.May {
				return store.Closing{}, fault.New("closed", "true",
					"a phone with every connector ticked and nothing unaccounted for (declare what is lost or left "+
						"off)")
			}
		}
		have, err := store.List[store.Closing](tx.DB, "id", "unit_id = ?", unit)
		if err != nil {
			return store.Closing{}, err
		}
		if len(have) == 0 {
			row := store.Closing{UnitID: unit, ClosingFacts: f}
			return row, store.Create(tx, &row)
		}
		row, err := store.Update(tx, have[0].ID, saw, func(r *store.Closing) error { r.ClosingFacts = f; return nil })
		if err != nil {
			return store.Closing{}, err
		}
		return *row, nil
	})
}
