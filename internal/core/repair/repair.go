// Package repair lays out one whole repair as a list of acts: the way in, the exchange itself, the way back in closing
// order with what must be seen before a cover goes on, the waits with their clocks, and the checks of what was touched.
// [Progress] says from what was logged where the repair stands.
//
//	acts, _ := repair.Sheet(repair.Input{Steps: steps, Part: "battery", Name: "battery", Kind: kind, Checks: checks})
//	state := repair.Progress(acts, entries) // state.Now is the act to do
//
// Times are seconds. The package has no clock.
package repair

import (
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/closeup"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/trade"
	"waryowl/internal/core/worktime"
)

// The phases of a repair, in their order.
const (
	In       = "in"
	Exchange = "exchange"
	Back     = "back"
	Test     = "test"
)

// The kinds of act: a step out, a wait with a clock, something that is looked at or moved over, a gate that must be seen
// before a cover hides it, a line of the way back, a check.
const (
	Step  = "step"
	Wait  = "wait"
	Look  = "look"
	Gate  = "gate"
	Line  = "line"
	Check = "check"
)

// Out is one step of the way in, as the plan has it. Usual is its hands-on time, Early and Late those within which one
// and nine runs of ten end.
type Out struct {
	plan.Done
	Usual    float64 `json:"usual,omitempty"`
	Early    float64 `json:"early,omitempty"`
	Late     float64 `json:"late,omitempty"`
	WaitLate float64 `json:"wait_late,omitempty"`
	Runs     int     `json:"runs,omitempty"`
}

// Mover is something of the old part that the new one needs, and why.
type Mover struct {
	Part string `json:"part,omitempty"`
	Name string `json:"name"`
	Why  string `json:"why,omitempty"`
}

// Checked is a check of the catalogue. Touched says that the repair came near what it needs, Lost that it is expected to
// be lost.
type Checked struct {
	Mark    string  `json:"mark"`
	Name    string  `json:"name"`
	Seconds float64 `json:"seconds,omitempty"`
	Touched bool    `json:"touched,omitempty"`
	Lost    bool    `json:"lost,omitempty"`
}

// Input is a repair: the steps of the way to Part (an id) in their order, what moves over to the new one, and the checks.
// Kinds are the kinds of parts by id; what is not in it is told by its name.
type Input struct {
	Steps  []Out             `json:"steps" nullable:"false"`
	Part   string            `json:"part"`
	Name   string            `json:"name"`
	Kind   string            `json:"kind,omitempty"`
	Kinds  map[string]string `json:"kinds,omitempty"`
	Names  map[string]string `json:"names,omitempty" doc:"of parts by id"`
	Moves  []Mover           `json:"moves,omitempty" nullable:"false"`
	Checks []Checked         `json:"checks,omitempty" nullable:"false"`
	Cure   float64           `json:"cure,omitempty" doc:"seconds that a new seal stays clamped; 0: there is none"`
}

// Act is one thing to do. Needs are acts that must be done before it may hide them; Begins is the act whose end starts the
// clock of a wait; Rest marks a check of what was not touched.
type Act struct {
	Key        string   `json:"key"`
	Phase      string   `json:"phase" enum:"in,exchange,back,test"`
	Kind       string   `json:"kind" enum:"step,wait,look,gate,line,check"`
	Text       string   `json:"text"`
	Why        string   `json:"why,omitempty"`
	StepID     string   `json:"step_id,omitempty"`
	PartID     string   `json:"part_id,omitempty"`
	Mark       string   `json:"mark,omitempty" doc:"of the check"`
	Screws     int      `json:"screws,omitempty"`
	Consumable string   `json:"consumable,omitempty"`
	Seconds    float64  `json:"seconds,omitempty" doc:"usual, hands-on; of a wait its length"`
	Early      float64  `json:"early,omitempty"`
	Late       float64  `json:"late,omitempty"`
	Runs       int      `json:"runs,omitempty" doc:"timed runs behind it"`
	Begins     string   `json:"begins,omitempty"`
	Needs      []string `json:"needs" nullable:"false"`
	Meanwhile  []string `json:"meanwhile" nullable:"false" doc:"of a wait: acts that need not its end"`
	Rest       bool     `json:"rest,omitempty"`
	Lost       bool     `json:"lost,omitempty" doc:"expected to be lost"`
}

// lookSeconds is what looking at something or bagging it takes (house).
const lookSeconds = 10

// Sheet lays the repair out. conflict names a lead that the order forces on after the battery's; the repair holds
// nevertheless.
func Sheet(in Input) (acts []Act, conflict string) {
	kind := func(part string) string {
		if k := in.Kinds[part]; k != "" {
			return k
		}
		k, _ := trade.KindOf(part)
		return k
	}
	add := func(a Act) {
		if a.Needs == nil {
			a.Needs = []string{}
		}
		if a.Meanwhile == nil {
			a.Meanwhile = []string{}
		}
		acts = append(acts, a)
	}
	var done []plan.Done
	at := map[string]Out{}
	for i, s := range in.Steps {
		done = append(done, s.Done)
		at[s.ID] = s
		part := s.Part
		if part == "" && len(s.Frees) > 0 {
			part = s.Frees[0]
		}
		add(Act{Key: "in " + s.ID, Phase: In, Kind: Step, Text: Order(s.Step), StepID: s.ID, PartID: part,
			Screws: s.Screws(), Seconds: s.Usual, Early: s.Early, Late: s.Late, Runs: s.Runs})
		if s.WaitSeconds > 0 {
			add(Act{Key: "wait " + s.ID, Phase: In, Kind: Wait, Text: "Wait: " + s.What, StepID: s.ID,
				Seconds: s.WaitSeconds, Late: s.WaitLate, Begins: "in " + s.ID, Meanwhile: in.meanwhile(i)})
		}
	}
	in.exchange(add)
	conflict = in.back(add, done, at, kind)
	in.test(add)
	return acts, conflict
}

// Order is a step as it is said to the hand that does it.
func Order(s plan.Step) string {
	text := trade.Order(s.Verb, s.What)
	if n := s.Screws(); s.Verb == "unfasten" && n > 0 && !strings.Contains(s.What, "screw") {
		text = fmt.Sprintf("unscrew %d %s off the %s", n, screws(s, n), s.What)
	}
	return strings.ToUpper(text[:1]) + text[1:]
}

// screws names the screws of a step by their recess and length.
func screws(s plan.Step, n int) string {
	name := strings.TrimSpace(strings.TrimSuffix(s.Drive, "post") + " " + s.Joint)
	if n > 1 {
		name += "s"
	}
	if s.LengthMM > 0 {
		name += fmt.Sprintf(" %g mm", s.LengthMM)
	}
	return name
}

// meanwhile lists the steps after one that do not need it, while its wait runs: none where the phone lies under heat.
func (in Input) meanwhile(i int) []string {
	s := in.Steps[i]
	keys := []string{}
	if s.Verb == "heat" || trade.Hot(s.Method) {
		return keys
	}
	waits := map[string]bool{s.ID: true} // it, and all that waits for it
	for _, o := range in.Steps[i+1:] {
		if slices.ContainsFunc(o.Before, func(b string) bool { return waits[b] }) || o.Verb == "heat" || trade.Hot(o.Method) {
			waits[o.ID] = true
			continue
		}
		keys = append(keys, "in "+o.ID)
	}
	return keys
}

// exchange is what is done between the way in and the way back.
func (in Input) exchange(add func(Act)) {
	old := Act{Key: "old", Phase: Exchange, Kind: Look, PartID: in.Part, Seconds: lookSeconds,
		Text: "Put the old " + in.Name + " into a bag with the phone's name"}
	if in.Kind == "battery" {
		old.Text = "Put the old " + in.Name + " into the fire-safe box"
		old.Why = "a cell that was bent or torn may catch fire later; local rules for old cells apply"
	}
	add(old)
	for _, m := range in.Moves {
		add(Act{Key: "move " + strings.TrimSpace(m.Part+" "+m.Name), Phase: Exchange, Kind: Look, PartID: m.Part, Why: m.Why,
			Text: "Move the " + m.Name + " over to the new " + in.Name, Seconds: 6 * lookSeconds})
	}
	add(Act{Key: "same", Phase: Exchange, Kind: Look, PartID: in.Part, Seconds: lookSeconds,
		Text: "Lay the new " + in.Name + " beside the old one: same plug, same holes, same leads",
		Why:  "what does not fit is seen before anything is glued"})
	if slices.Contains([]string{"display", "rear-glass", "rear-camera", "front-camera"}, in.Kind) {
		add(Act{Key: "film", Phase: Exchange, Kind: Look, PartID: in.Part, Seconds: lookSeconds,
			Text: "Take the films off the new " + in.Name + " where it is joined or looked through",
			Why:  "a film under a seal leaves a gap; over a lens it blurs every picture"})
	}
}

// back is the way back in closing order.
func (in Input) back(add func(Act), done []plan.Done, at map[string]Out, kind func(string) string) (conflict string) {
	lines, conflict := closeup.List(done, kind)
	no := func(string) bool { return false }
	bare := closeup.Seat(done, lines, no, no).Bare
	ticked := map[string]bool{}
	last, tried := "", false
	gate := func(g closeup.LayerGate) string {
		key := "see " + g.Key
		if !ticked[key] {
			ticked[key] = true
			step, _ := strings.CutPrefix(g.Key, "seat ")
			add(Act{Key: key, StepID: at[step].ID, PartID: at[step].Part, Phase: Back, Kind: Gate, Text: Seen(g), Seconds: 3,
				Why: "what is closed next hides it"})
		}
		return key
	}
	power := slices.ContainsFunc(lines, func(l closeup.Line) bool { return in.powers(at[l.StepID], kind) })
	for _, l := range lines {
		s := at[l.StepID]
		seals := s.Joint == "adhesive" && s.Consumable != "" && len(s.Frees) == 0
		if seals && !tried && (!power || ticked["power"]) {
			tried = true
			add(Act{Key: "try", Phase: Back, Kind: Look, Seconds: 60, Text: "Start the phone before it is sealed: picture and touch",
				Why: "what is wrong now is mended without opening it again"})
		}
		var needs []string
		for _, g := range l.Gates {
			needs = append(needs, gate(g))
		}
		text := in.closing(s, l)
		last = "back " + l.StepID
		part := s.Part
		if part == "" && len(s.Frees) > 0 {
			part = s.Frees[0]
		}
		add(Act{Key: last, Phase: Back, Kind: Line, Text: text, StepID: l.StepID, PartID: part, Screws: l.Screws,
			Consumable: l.Consumable, Seconds: worktime.RefitShare * s.Usual, Early: worktime.RefitShare * s.Early,
			Late: worktime.RefitShare * s.Late, Needs: needs})
		if in.powers(s, kind) {
			ticked["power"] = true
		}
		for _, g := range bare { // no cover lies over it: it is seen at once
			if g.Key == "seat "+l.StepID {
				gate(g)
			}
		}
	}
	if in.Cure > 0 && last != "" {
		add(Act{Key: "cure", Phase: Back, Kind: Wait, Text: "Wait: the new seal under clamps", Seconds: in.Cure, Begins: last})
	}
	return conflict
}

// closing says a line of the way back as an order: what was written of the way out is said the other way round.
func (in Input) closing(s Out, l closeup.Line) string {
	name := func(part string) string {
		if n := in.Names[part]; n != "" {
			return n
		}
		return part
	}
	what, _, _ := strings.Cut(s.What, ",")
	opens := slices.Contains(trade.Imperatives, strings.ToLower(strings.SplitN(what, " ", 2)[0])) && strings.Contains(what, " ")
	if opens && s.Part != "" {
		what = name(s.Part)
	}
	switch {
	case slices.Contains(l.Frees, in.Part):
		return "Fit the new " + in.Name
	case len(l.Frees) > 0 && s.Screws() == 0:
		var names []string
		for _, p := range l.Frees {
			names = append(names, name(p))
		}
		return "Put back: " + strings.Join(names, ", ")
	case l.Screws > 0 && strings.Contains(what, "screw"):
		return "Fasten " + what
	case l.Screws > 0:
		return fmt.Sprintf("Fasten %d %s at the %s", l.Screws, screws(s.Step, l.Screws), what)
	case l.Consumable != "":
		return "Lay new " + l.Consumable
	case s.Verb == "lift" && opens:
		return "Close the " + what
	}
	text := l.Text
	if opens && s.Part != "" {
		text = strings.Replace(text, s.What, what, 1)
	}
	return strings.ToUpper(text[:1]) + text[1:]
}

// powers says whether a step opened the battery's lead.
func (in Input) powers(s Out, kind func(string) string) bool {
	if !s.Lead() {
		return false
	}
	if s.Part != "" {
		return kind(s.Part) == "battery"
	}
	return trade.About(s.What) == "battery"
}

// Seen says a gate as an order to the eye.
func Seen(g closeup.LayerGate) string {
	if what, seat := strings.CutPrefix(g.Text, "seated: "); seat {
		return "See that it is seated: " + what
	}
	return "See: " + g.Text
}

// test lists the checks: what was touched, in the order of the catalogue, then the rest.
func (in Input) test(add func(Act)) {
	for _, rest := range []bool{false, true} {
		for _, c := range in.Checks {
			if c.Touched != rest {
				add(Act{Key: "check " + c.Mark, Phase: Test, Kind: Check, Text: c.Name, Mark: c.Mark, Seconds: c.Seconds,
					Early: c.Seconds / 3, Late: 3 * c.Seconds, Rest: rest, Lost: c.Lost})
			}
		}
	}
}
