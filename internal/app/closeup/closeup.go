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
	"waryowl/internal/core/benchline"
	"waryowl/internal/core/closeup"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/route"
	"waryowl/internal/core/trade"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// CloseLine is a line of the closing list with what was ticked.
type CloseLine struct {
	closeup.Line
	Mark     string           `json:"mark"`
	Ready    bool             `json:"ready" doc:"all gates before it are ticked"`
	Done     bool             `json:"done" doc:"put back"`
	Cautions []hazard.Caution `json:"cautions" nullable:"false"`
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
	UnitID   string          `json:"unit_id"`
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	May      bool            `json:"may" doc:"may it be closed?"`
	Closing  store.Closing   `json:"closing"`
	Lines    []CloseLine     `json:"lines" nullable:"false"`
	Conflict string          `json:"conflict,omitempty"`
	Items    []closeup.Item  `json:"items" nullable:"false"`
	Open     []closeup.Item  `json:"open" nullable:"false"`
	Empty    []closeup.Item  `json:"empty" nullable:"false" doc:"holes whose screw was lost"`
	Seated   [2]int          `json:"seated" doc:"connectors seated, of how many"`
	Off      []string        `json:"off" nullable:"false" doc:"leads left off on purpose: what they serve is lost"`

	Loose       []closeup.LayerGate `json:"loose" nullable:"false" doc:"leads that no line covers, to be seen seated"`
	Ticked      []string            `json:"ticked" nullable:"false" doc:"gates that count as ticked"`
	Consumables []string            `json:"consumables" nullable:"false"`
	Checks      []ClosingCheck      `json:"checks" nullable:"false"`
	Water       string              `json:"water"`
	Lost        []string            `json:"lost" nullable:"false"`

	Bench benchline.Context `json:"bench" doc:"what the stops need to know of the phone"`
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

	CureSeconds float64 `json:"cure_seconds" doc:"how long clamps stay on a new seal"`
}

var startup = []string{
	"Plug in a charger and wait ten minutes: a phone whose battery was off may show nothing until then.",
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
		CureSeconds: worktime.Cure, Answer: answer.Sentence{answer.Text("Nothing to close: record a phone at intake first.")}}
	v.Holes, v.Mixes, v.Mat = mat(b.Know)
	for _, u := range b.Units {
		v.Closings = append(v.Closings, closing(b, u, b.Closing(u.ID), plan))
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
	out, err := route.SolveContext(k.Context(), q)
	if err != nil {
		return nil
	}
	return out.Steps
}

func closing(b *study.Record, u store.Unit, c store.Closing, fromPlan bool) UnitClosing {
	v := UnitClosing{
		UnitID:      u.ID,
		Closing:     c,
		Bench:       b.Bench(u),
		Lines:       []CloseLine{},
		Items:       []closeup.Item{},
		Consumables: []string{},
		Off:         []string{},
		Ticked:      []string{},
		Checks:      []ClosingCheck{},
		Water:       closeup.Water(c.Seal),
		Lost:        b.Lost(u.ID),
	}
	ids := b.EverDone(u.ID)
	out := b.Done(u.ID)
	if fromPlan {
		ids = order(b.Know)
		out = slices.Clone(ids)
	}
	steps := b.Opened(ids)
	lines, conflict := closeup.List(steps, b.Know.Kind)
	for i := range lines {
		lines[i].Frees = b.Know.PartNames(lines[i].Frees)
	}
	v.Conflict = conflict
	seen := b.Leads(u.ID)
	off := func(step string) bool { return seen[step] == "off on purpose" }
	seated := func(step string) bool { // a tick on a lead that is still off is not a seat
		return seen[step] == "seated" || slices.Contains(c.Ticks, "seat "+step) && (fromPlan || !slices.Contains(out, step))
	}
	leads := closeup.Seat(steps, lines, off, seated)
	v.Seated, v.Loose = leads.Seated, leads.Bare
	for _, d := range leads.Off {
		v.Off = append(v.Off, d.What)
	}
	ticked := func(g closeup.LayerGate) bool {
		step, seat := strings.CutPrefix(g.Key, "seat ")
		if is := seat && seated(step) || !seat && slices.Contains(c.Ticks, g.Key); !is {
			return false
		}
		v.Ticked = append(v.Ticked, g.Key)
		return true
	}
	for _, g := range v.Loose {
		ticked(g)
	}
	for _, l := range lines {
		s := b.Know.StepByID[l.StepID]
		l.Screws = max(0, l.Screws-b.LostScrews(u.ID)[l.StepID])
		line := CloseLine{Line: l, Mark: s.Mark, Ready: true, Done: !slices.Contains(out, l.StepID),
			Cautions: b.Know.Cautions(s)}
		for _, g := range l.Gates {
			line.Ready = ticked(g) && line.Ready
		}
		if l.Consumable != "" && !slices.Contains(v.Consumables, l.Consumable) {
			v.Consumables = append(v.Consumables, l.Consumable)
		}
		v.Lines = append(v.Lines, line)
		items(b, &v, s, c, line.Done)
	}
	for _, i := range b.Strays(u.ID) {
		v.Items = append(v.Items, study.Declared(i, c))
	}
	v.Open, v.Empty = closeup.Reconcile(v.Items)
	retest := append(b.Retest(u.ID), needing(b, leads.Off)...)
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
	v.Answer = v.sentence(u, leads.Open, untested)
	return v
}

// needing names the checks that need what a lead left off belongs to.
func needing(b *study.Record, off []plan.Done) []string {
	var marks []string
	for _, d := range off {
		kind := b.Know.Kind(d.Part)
		if kind == "" {
			kind = trade.About(d.What)
		}
		k, _ := trade.KindByID(kind)
		for mark := range k.Serves {
			marks = append(marks, mark)
		}
	}
	return marks
}

// items adds what a step took out: its screws, and the parts it freed.
func items(b *study.Record, v *UnitClosing, s store.PlanStep, c store.Closing, done bool) {
	lost := b.LostScrews(v.UnitID)[s.ID]
	off, bits := b.TakenOff(v.UnitID)
	add := func(key, kind, name, place string, out int) {
		d := c.Declared[key]
		if kind == "screw" { // lost in the log is lost here, and said twice it is lost once
			d.Lost = max(d.Lost, min(lost, out))
		}
		i := closeup.Item{Key: key, Kind: kind, Name: name, Place: place, Out: out, In: c.Back[key], Lost: d.Lost,
			Swap: d.Replaced, Off: d.LeftOff}
		if _, said := c.Back[key]; done && !said {
			i.In = i.Out - i.Lost - i.Swap - i.Off
			if n, counted := b.PutBack(v.UnitID, s.ID); counted && kind == "screw" {
				i.In = n
			}
		}
		if k := slices.IndexFunc(v.Items, func(o closeup.Item) bool { return o.Key == key }); k < 0 {
			v.Items = append(v.Items, i)
		} else if !done { // came out in two ways: what is out now counts
			v.Items[k] = i
		}
	}
	step := b.Know.Step(s)
	if n := step.Screws(); n > 0 {
		add("screws "+s.ID, "screw", closeup.ScrewName(step), s.What, n)
	}
	if bits[s.ID] {
		add("off "+s.ID, "part", s.What, s.What, 1)
	}
	for _, id := range append(slices.Clone(s.Frees), off[s.ID]...) {
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
		start := ": may close. Connectors "
		if v.Closing.Closed {
			start = ": is closed. Connectors "
		}
		s = append(s, answer.Text(start), answer.Number(float64(v.Seated[0]), "", "#gate"),
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
		s = append(s, answer.Text("A check before closing is not ticked"))
	}
	return append(s, answer.Text("."))
}
