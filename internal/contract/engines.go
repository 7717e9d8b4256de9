package contract

import (
	"waryowl/internal/core/basket"
	"waryowl/internal/core/benchline"
	"waryowl/internal/core/closeup"
	"waryowl/internal/core/compare"
	"waryowl/internal/core/day"
	"waryowl/internal/core/diagnose"
	"waryowl/internal/core/dose"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/faultfind"
	"waryowl/internal/core/fit"
	"waryowl/internal/core/gate"
	"waryowl/internal/core/interlock"
	"waryowl/internal/core/learn"
	"waryowl/internal/core/narrate"
	"waryowl/internal/core/phrase"
	"waryowl/internal/core/plan"
	"waryowl/internal/core/pricelist"
	"waryowl/internal/core/quantity"
	"waryowl/internal/core/risk"
	"waryowl/internal/core/route"
	"waryowl/internal/core/school"
	"waryowl/internal/core/shorthand"
	"waryowl/internal/core/stock"
	"waryowl/internal/core/swapstudy"
	"waryowl/internal/core/worktime"
)

// Engine is one command: what it is called, and what it answers in one line.
type Engine struct {
	Name, About string
	engine
}

// Engines is the registry: commands, schemas, the Makefile and docs/engines.md are made from it.
var Engines = []Engine{
	{"accept", "may a job be taken, until when, and what it leaves", of(gate.Accept)},
	{"basket", "which offers of which sellers fill the slots of a build at the least expected cost", of(basket.Solve)},
	{"benchline", "one line of the bench in its context: the fact, the step meant, the stops", of(readLine)},
	{"closeup", "what one phone took out, and whether it may be closed", of(closeup.Solve)},
	{"compare", "what changed between two models, part by part, and what it costs at the bench", of(compare.Solve)},
	{"day", "which operation of which phone starts when, by whom, on which machine, so that the least is late",
		of(day.Solve)},
	{"diagnose", "which part, when it is not the board's own, costs which function, and which swap tells most",
		of(diagnose.Run)},
	{"donor", "the highest sensible bid for a broken phone", of(gate.ForDonor)},
	{"dose", "how much heat a face had, and what the next round should be", of(advise)},
	{"faultfind", "what is done next about the fault of one phone with a fault, so that the expected cost until it is whole is least",
		of(faultfind.Solve)},
	{"fit", "which model's piece can stand in for which, how few lines are enough, and what to test next", of(fit.Solve)},
	{"harvest", "which parts of a donor pay for their minutes", of(route.Harvest)},
	{"inspect", "how many of a delivery to test, and whether to go on buying", of(gate.Inspect)},
	{"interlock", "the stops of an act in the state that a phone is in, and the state after it", of(lock)},
	{"learn", "what a run teaches the plan about one step", of(teach)},
	{"narrate", "timed speech into proposed log entries, each with the words that it rests on", of(narrate.Solve)},
	{"offers", "a seller's list read cell by cell: what is new, changed, gone, wrong, or has to be asked",
		of(pricelist.Read)},
	{"quantity", "measured values with their uncertainty, their difference, and a pack whose figures do not go " +
		"together", of(measure)},
	{"risk", "damage odds from counted incidents, with the exact 95 % interval", of(odds)},
	{"route", "the cheapest way to a part, and whether it is proven", of(route.Solve)},
	{"score", "how repairable, by whose rule, as a range over what is not known", of(school.Solve)},
	{"shorthand", "one line of the bench by itself: the fact and its echo", of(parse)},
	{"stock", "how many pieces to keep of what interchanges, and what to order first", of(stock.Solve)},
	{"swap", "a swap study in, what it showed out", of(swapstudy.Solve)},
	{"worktime", "predicted and measured time of an act", of(estimate)},
}

// stateIn is the state of a phone as a document gives it: what it leaves out is not known.
type stateIn struct {
	BatteryOff bool     `json:"battery_off,omitempty"`
	Charge     *float64 `json:"charge,omitempty" doc:"percent; −1 or left out: unknown"`
	Limit      *float64 `json:"limit,omitempty" doc:"the workshop's limit; 25 by default"`
	Swollen    bool     `json:"swollen,omitempty"`
	WetUntil   float64  `json:"wet_until,omitempty"`
	Polarity   string   `json:"polarity,omitempty"`
	Tool       string   `json:"tool,omitempty"`
	Leads      int      `json:"leads,omitempty" minimum:"0"`
}

func (s stateIn) state() interlock.State {
	out := interlock.State{BatteryOff: s.BatteryOff, Charge: -1, Limit: 25, Swollen: s.Swollen, WetUntil: s.WetUntil,
		Polarity: s.Polarity,
		Tool:     s.Tool, Leads: s.Leads}
	if s.Charge != nil {
		out.Charge = *s.Charge
	}
	if s.Limit != nil {
		out.Limit = *s.Limit
	}
	return out
}

// LineInput is a line with what the page knows; only the line is needed.
type LineInput struct {
	Unit    string            `json:"unit,omitempty"`
	Parts   []shorthand.Named `json:"parts,omitempty" nullable:"false"`
	Tools   []string          `json:"tools,omitempty" nullable:"false"`
	Steps   plan.Plan         `json:"steps,omitempty" nullable:"false"`
	Done    []string          `json:"done,omitempty" nullable:"false"`
	State   stateIn           `json:"state,omitempty"`
	Second  float64           `json:"second,omitempty"`
	Packs   []quantity.Pack   `json:"packs,omitempty" nullable:"false"`
	Pending []string          `json:"pending,omitempty" nullable:"false"`
	Line    string            `json:"line"`

	Words    []phrase.Own          `json:"words,omitempty" nullable:"false" doc:"the workshop's own words"`
	Checks   []benchline.CheckName `json:"checks,omitempty" nullable:"false"`
	Together *bool                 `json:"together,omitempty" doc:"putting back; left out: as the last act of log and pending"`
	Log      []benchline.Entry     `json:"log,omitempty" nullable:"false" doc:"the last entries of this phone, oldest first"`
}

func readLine(in LineInput) (benchline.Answer, error) {
	c := benchline.Context{Vocabulary: shorthand.Vocabulary{Unit: in.Unit, Parts: in.Parts, Tools: in.Tools},
		Steps: in.Steps, Done: in.Done,
		State: in.State.state(), Second: in.Second, Packs: in.Packs,
		Words: in.Words, Checks: in.Checks, Together: in.Together, Log: in.Log}
	return benchline.Read(c, in.Pending, in.Line), nil
}

// ParseInput is a line with its vocabulary.
type ParseInput struct {
	Unit  string            `json:"unit,omitempty"`
	Parts []shorthand.Named `json:"parts,omitempty" nullable:"false"`
	Tools []string          `json:"tools,omitempty" nullable:"false"`
	Line  string            `json:"line"`
}

func parse(in ParseInput) (shorthand.Reading, error) {
	return shorthand.Parse(in.Line, shorthand.Vocabulary{Unit: in.Unit, Parts: in.Parts, Tools: in.Tools}), nil
}

// LockInput is an act in a state.
type LockInput struct {
	State stateIn       `json:"state,omitempty"`
	Act   interlock.Act `json:"act"`
}

// LockOutput is its stops, and the state once it was carried out.
type LockOutput struct {
	Stops []interlock.Stop `json:"stops" nullable:"false"`
	After interlock.State  `json:"after"`
}

func lock(in LockInput) (LockOutput, error) {
	s := in.State.state()
	return LockOutput{interlock.Check(s, in.Act), interlock.After(s, in.Act)}, nil
}

// MeasureInput is readings of one or two things in one unit, or the figures of a pack.
type MeasureInput struct {
	Unit   string          `json:"unit,omitempty"`
	A      *Readings       `json:"a,omitempty"`
	B      *Readings       `json:"b,omitempty"`
	Pack   *quantity.Pack  `json:"pack,omitempty"`
	Others []quantity.Pack `json:"others,omitempty" nullable:"false"`
}

// Readings are those of one instrument; Resolution is its last digit.
type Readings struct {
	Readings   []float64 `json:"readings" nullable:"false"`
	Resolution float64   `json:"resolution,omitempty" minimum:"0"`
}

// MeasureOutput is what was asked for.
type MeasureOutput struct {
	A          *quantity.Quantity     `json:"a,omitempty"`
	B          *quantity.Quantity     `json:"b,omitempty"`
	Difference *quantity.Difference   `json:"difference,omitempty"`
	Doubt      *quantity.BatteryDoubt `json:"doubt,omitempty"`
}

func measure(in MeasureInput) (MeasureOutput, error) {
	var out MeasureOutput
	for _, x := range []struct {
		in  *Readings
		out **quantity.Quantity
	}{{in.A, &out.A}, {in.B, &out.B}} {
		if x.in == nil {
			continue
		}
		q, err := quantity.Read(x.in.Readings, x.in.Resolution, in.Unit)
		if err != nil {
			return out, err
		}
		*x.out = &q
	}
	if out.A != nil && out.B != nil {
		d, err := quantity.Compare(*out.A, *out.B)
		if err != nil {
			return out, err
		}
		out.Difference = &d
	}
	if in.Pack != nil {
		out.Doubt = quantity.Battery(*in.Pack, in.Others)
	}
	return out, nil
}

// OddsInput is k incidents in n attempts, with the house figure that stands for the hazard.
type OddsInput struct {
	K     int     `json:"k" minimum:"0"`
	N     int     `json:"n" minimum:"0"`
	Usual float64 `json:"usual,omitempty" minimum:"0"`
}

// OddsOutput is the chance for computing and the interval for showing.
type OddsOutput struct {
	Odds float64 `json:"odds"`
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

func odds(in OddsInput) (OddsOutput, error) {
	c := risk.Count{K: in.K, N: in.N}
	if err := c.Check(); err != nil {
		return OddsOutput{}, err
	}
	if !(in.Usual >= 0 && in.Usual < 1) {
		return OddsOutput{}, fault.New("usual", in.Usual, "a chance from 0 to below 1")
	}
	low, high := c.Interval()
	return OddsOutput{c.Odds(in.Usual), low, high}, nil
}

// DoseInput is the rounds of a face, those of earlier phones, and what the panel must survive.
type DoseInput struct {
	Mine         []dose.Round `json:"mine" nullable:"false"`
	Earlier      []dose.Round `json:"earlier,omitempty" nullable:"false"`
	Nominal      float64      `json:"nominal,omitempty" minimum:"0" doc:"seconds; 120 by default"`
	PanelMust    bool         `json:"panel_must_survive,omitempty"`
	BatteryUnder bool         `json:"battery_under,omitempty"`
}

func advise(in DoseInput) (dose.Advice, error) {
	if in.Nominal == 0 {
		in.Nominal = 120
	}
	return dose.Advise(in.Mine, in.Earlier, in.Nominal, dose.Limit(in.PanelMust, in.BatteryUnder)), nil
}

// TimeInput is an act and its measured times in seconds; Planned replaces the prediction.
type TimeInput struct {
	Verb     string    `json:"verb"`
	Count    int       `json:"count,omitempty" minimum:"0"`
	Planned  float64   `json:"planned,omitempty" minimum:"0"`
	Measured []float64 `json:"measured,omitempty" nullable:"false"`
}

func estimate(in TimeInput) (worktime.Estimate, error) {
	if in.Planned == 0 {
		in.Planned, _ = worktime.Predict(in.Verb, in.Count)
	}
	return worktime.Blend(in.Planned, in.Measured)
}

// TeachInput is a plan, the step that was carried out, and what was done before it.
type TeachInput struct {
	Steps plan.Plan `json:"steps" nullable:"false"`
	Step  string    `json:"step"`
	Done  []string  `json:"done,omitempty" nullable:"false"`
}

func teach(in TeachInput) (learn.Lesson, error) {
	if _, ok := in.Steps.By(in.Step); !ok {
		return learn.Lesson{}, fault.New("step", in.Step, "the id of a step of the plan")
	}
	return learn.From(in.Steps, in.Step, in.Done), nil
}
