// Package fit says which model's piece can stand in for which: the models are split by an unknown partition into classes
// of "the same piece", each class has one level of fit in each host, and tests, measures, codes and hints move the belief
// in both. Exact for up to 12 models and 12 lots of copies.
package fit

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
)

// Ladder is how far a piece gets in a host, from the worst.
var Ladder = []string{"no-seat", "no-mate", "dark", "lost", "notice", "calibrated", "looks-wrong", "full"}

// The rungs that the model of a test speaks of.
const (
	noMate  = 1
	dark    = 2
	lost    = 3
	full    = 7
	rungs   = 8
	most    = 12
	mostFit = 20
)

// Conditions are what may be ticked at a test: a charger plugged in, some minutes waited, reseated twice, a known-good
// piece tried, the piece works in its own phone, every check made.
var Conditions = []string{"charger", "waited", "reseated", "known-good", "home", "deep"}

// Feature is a measure that governs whether a piece seats or its connector mates. Slack is the play, Spread the standard
// deviation from piece to piece, in the unit of the values.
type Feature struct {
	Governs string  `json:"governs" enum:"seat,mate,none"`
	Slack   float64 `json:"slack,omitempty" minimum:"0"`
	Spread  float64 `json:"spread"`
}

// Measure is a value with its standard uncertainty.
type Measure struct {
	Value float64 `json:"value"`
	U     float64 `json:"u,omitempty" minimum:"0"`
}

// Model is a host, and its own piece a line. Demand is in units (1 by default), Price in minor units; none: cannot be had.
type Model struct {
	ID         string             `json:"id"`
	Generation float64            `json:"generation,omitempty"`
	Features   map[string]Measure `json:"features,omitempty"`
	Code       string             `json:"code,omitempty"`
	Demand     *float64           `json:"demand,omitempty" minimum:"0"`
	Price      *float64           `json:"price,omitempty" minimum:"0"`
}

// Copy is a lot of aftermarket pieces made for a model.
type Copy struct {
	ID       string             `json:"id"`
	For      string             `json:"for"`
	Features map[string]Measure `json:"features,omitempty"`
	Price    *float64           `json:"price,omitempty" minimum:"0"`
}

// Test is a piece fitted in a host, so many times with the same outcome.
type Test struct {
	ID         string   `json:"id"`
	Donor      string   `json:"donor"`
	Host       string   `json:"host"`
	Outcome    string   `json:"outcome" enum:"no-seat,no-mate,dark,lost,notice,calibrated,looks-wrong,full"`
	Build      string   `json:"build,omitempty"`
	Conditions []string `json:"conditions,omitempty" nullable:"false"`
	Fittings   *int     `json:"fittings,omitempty" minimum:"1" maximum:"20"`
	Lost       []string `json:"lost,omitempty" nullable:"false"`
	Damaged    bool     `json:"damaged,omitempty"`
}

// Hint says that models share a piece so many times as likely.
type Hint struct {
	Models []string `json:"models" nullable:"false"`
	Odds   float64  `json:"odds" minimum:"0.01" maximum:"100"`
}

// Candidate is a test that could be made; all conditions are ticked unless it says which.
type Candidate struct {
	ID         string    `json:"id"`
	Donor      string    `json:"donor"`
	Host       string    `json:"host"`
	Minutes    float64   `json:"minutes"`
	Conditions *[]string `json:"conditions,omitempty"`
}

// Prior replaces what is assumed before any test; see [house].
type Prior struct {
	Theta          *float64             `json:"theta,omitempty"`
	Equal          *float64             `json:"equal,omitempty"`
	Floor          *float64             `json:"floor,omitempty"`
	CodeEqual      *float64             `json:"code_equal,omitempty"`
	CodeDiffers    *float64             `json:"code_differs,omitempty"`
	SeatUnmeasured *float64             `json:"seat_unmeasured,omitempty"`
	MateUnmeasured *float64             `json:"mate_unmeasured,omitempty"`
	Levels         map[string][]float64 `json:"levels,omitempty" doc:"rows own, copy, older, equal, newer"`
}

// Input is one slot kind.
type Input struct {
	Slot       string             `json:"slot"`
	Level      string             `json:"level" enum:"no-seat,no-mate,dark,lost,notice,calibrated,looks-wrong,full"`
	Confidence float64            `json:"confidence" doc:"above 0.5 and below 1"`
	Features   map[string]Feature `json:"features,omitempty"`
	Models     []Model            `json:"models" nullable:"false"`
	Copies     []Copy             `json:"copies,omitempty" nullable:"false"`
	Tests      []Test             `json:"tests" nullable:"false"`
	Hints      []Hint             `json:"hints,omitempty" nullable:"false"`
	Newest     map[string]string  `json:"newest,omitempty" doc:"the newest build of a host"`
	Candidates []Candidate        `json:"candidates,omitempty" nullable:"false"`
	Prior      *Prior             `json:"prior,omitempty"`
}

// prior is what is assumed before any test.
type prior struct {
	theta, equal, floor, codeEqual, codeDiffers, seat, mate float64
	levels                                                  map[string][]float64
}

// house is the workshop's assumption; that an older piece fits more often than one of the same age, and that more often
// than a newer one, is common practice, no source.
func house() prior {
	return prior{theta: 9, equal: 1.25, floor: 1e-4, codeEqual: 8, codeDiffers: 0.2, seat: 0.8, mate: 0.7,
		levels: map[string][]float64{
			"own":   {.002, .003, .015, .13, .25, .10, .02, .48},
			"copy":  {.02, .02, .06, .20, .35, .02, .13, .20},
			"older": {0, 0, .15, .25, .20, .10, .10, .20},
			"equal": {0, 0, .25, .30, .15, .08, .10, .12},
			"newer": {0, 0, .35, .30, .12, .05, .08, .10},
		}}
}

func (p *Prior) read() (prior, error) {
	out := house()
	if p == nil {
		return out, nil
	}
	for _, f := range []struct {
		name string
		in   *float64
		to   *float64
	}{{"theta", p.Theta, &out.theta}, {"equal", p.Equal, &out.equal}, {"floor", p.Floor, &out.floor},
		{"code_equal", p.CodeEqual, &out.codeEqual}, {"code_differs", p.CodeDiffers, &out.codeDiffers},
		{"seat_unmeasured", p.SeatUnmeasured, &out.seat}, {"mate_unmeasured", p.MateUnmeasured, &out.mate}} {
		if f.in == nil {
			continue
		}
		chance := strings.HasSuffix(f.name, "_unmeasured")
		if !(*f.in > 0) || math.IsInf(*f.in, 0) || chance && *f.in > 1 {
			if chance {
				return out, fault.New("prior."+f.name, *f.in, "a chance above 0, at most 1")
			}
			return out, fault.New("prior."+f.name, *f.in, "a number above 0")
		}
		*f.to = *f.in
	}
	for name, row := range p.Levels {
		if _, known := out.levels[name]; !known {
			return out, fault.New("prior.levels", name, "own, copy, older, equal, newer")
		}
		sum, bad := 0.0, len(row) != rungs
		for _, x := range row {
			sum += x
			bad = bad || !(x >= 0)
		}
		if bad || math.Abs(sum-1) > 1e-6 {
			return out, fault.New("prior.levels."+name, fmt.Sprint(row), "8 numbers of 0 or more whose sum is 1")
		}
		out.levels[name] = row
	}
	return out, nil
}

func rung(name string) int { return slices.Index(Ladder, name) }

// check refuses what the world does not know.
func (in Input) check() error {
	if in.Slot == "" {
		return fault.New("slot", in.Slot, "the kind of slot")
	}
	if rung(in.Level) < 0 {
		return fault.New("level", in.Level, strings.Join(Ladder, ", "))
	}
	if !(in.Confidence > 0.5 && in.Confidence < 1) {
		return fault.New("confidence", in.Confidence, "a chance above 0.5 and below 1")
	}
	for name, f := range in.Features {
		at := "features." + name
		switch {
		case !slices.Contains([]string{"seat", "mate", "none"}, f.Governs):
			return fault.New(at+".governs", f.Governs, "seat, mate or none")
		case !(f.Slack >= 0):
			return fault.New(at+".slack", f.Slack, "0 or more")
		case !(f.Spread > 0):
			return fault.New(at+".spread", f.Spread, "a number above 0")
		}
	}
	if len(in.Models) == 0 || len(in.Models) > most {
		return fault.New("models", len(in.Models), "1 to 12 models")
	}
	if len(in.Copies) > most {
		return fault.New("copies", len(in.Copies), "at most 12 lots")
	}
	lines := map[string]bool{}
	line := func(at, id string, features map[string]Measure, amounts map[string]*float64) error {
		if err := fault.ID(at+".id", id); err != nil {
			return err
		}
		if lines[id] {
			return fault.New(at+".id", id, "an id that no other model or copy has")
		}
		lines[id] = true
		for name, m := range features {
			if _, declared := in.Features[name]; !declared {
				return fault.New(at+".features."+name, "a feature that is not declared", "those of features")
			}
			if !(m.U >= 0) {
				return fault.New(at+".features."+name+".u", m.U, "0 or more")
			}
		}
		for name, x := range amounts {
			if x != nil && !(*x >= 0) {
				return fault.New(at+"."+name, *x, "0 or more")
			}
		}
		return nil
	}
	models := map[string]bool{}
	for i, m := range in.Models {
		if err := line(fmt.Sprintf("models[%d]", i), m.ID, m.Features,
			map[string]*float64{"demand": m.Demand, "price": m.Price}); err != nil {
			return err
		}
		models[m.ID] = true
	}
	for i, c := range in.Copies {
		at := fmt.Sprintf("copies[%d]", i)
		if err := line(at, c.ID, c.Features, map[string]*float64{"price": c.Price}); err != nil {
			return err
		}
		if !models[c.For] {
			return fault.New(at+".for", c.For, "the id of a model")
		}
	}
	return in.checkTests(models, lines)
}

func (in Input) checkTests(models, lines map[string]bool) error {
	fitted := func(at, id string, seen map[string]bool, donor, host string, conditions []string) error {
		if err := fault.ID(at+".id", id); err != nil {
			return err
		}
		if seen[id] {
			return fault.New(at+".id", id, "an id that comes once")
		}
		seen[id] = true
		if !lines[donor] {
			return fault.New(at+".donor", donor, "the id of a model or a copy")
		}
		if !models[host] {
			return fault.New(at+".host", host, "the id of a model")
		}
		for k, c := range conditions {
			if !slices.Contains(Conditions, c) {
				return fault.New(fmt.Sprintf("%s.conditions[%d]", at, k), c, strings.Join(Conditions, ", "))
			}
		}
		return nil
	}
	seen := map[string]bool{}
	for i, t := range in.Tests {
		at := fmt.Sprintf("tests[%d]", i)
		if err := fitted(at, t.ID, seen, t.Donor, t.Host, t.Conditions); err != nil {
			return err
		}
		switch n := t.fittings(); {
		case rung(t.Outcome) < 0:
			return fault.New(at+".outcome", t.Outcome, strings.Join(Ladder, ", "))
		case n < 1 || n > mostFit:
			return fault.New(at+".fittings", n, "1 to 20")
		case len(t.Lost) > 0 && rung(t.Outcome) != lost:
			return fault.New(at+".lost", strings.Join(t.Lost, ", "), "functions only where the outcome is lost")
		}
	}
	for i, h := range in.Hints {
		at := fmt.Sprintf("hints[%d]", i)
		for k, m := range h.Models {
			if !models[m] {
				return fault.New(fmt.Sprintf("%s.models[%d]", at, k), m, "the id of a model")
			}
		}
		if len(h.Models) < 2 {
			return fault.New(at+".models", len(h.Models), "two models or more")
		}
		if !(h.Odds >= 0.01 && h.Odds <= 100) {
			return fault.New(at+".odds", h.Odds, "0.01 to 100")
		}
	}
	for host := range in.Newest {
		if !models[host] {
			return fault.New("newest", host, "the ids of models")
		}
	}
	seen = map[string]bool{}
	for i, c := range in.Candidates {
		at := fmt.Sprintf("candidates[%d]", i)
		if err := fitted(at, c.ID, seen, c.Donor, c.Host, c.ticked()); err != nil {
			return err
		}
		if !(c.Minutes > 0) {
			return fault.New(at+".minutes", c.Minutes, "a number above 0")
		}
	}
	return nil
}

func (t Test) fittings() int {
	if t.Fittings == nil {
		return 1
	}
	return *t.Fittings
}

func (c Candidate) ticked() []string {
	if c.Conditions == nil {
		return Conditions
	}
	return *c.Conditions
}
