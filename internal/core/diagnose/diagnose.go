// Package diagnose answers which part, when it is not the board's own, costs which function, and which swap tells most.
//
// For each check by itself a set L of culprits is unknown; every explanation ("atom") that a trial or candidate can
// bring into play is in L independently with its prior. A trial with at least one culprit present shows a loss with
// probability 1 − false_pass, one with none with probability false_loss. The posterior over L is exact:
//
//	out, err := diagnose.Run(in)
//	out.Checks["face-unlock"].Marginal["display:stranger"] // probability that a foreign display costs face unlock
//
// A culprit of a strength below 1 strikes by itself in each trial with that chance (a loss that comes and goes).
//
// The posterior is exact up to twenty atoms whatever the trials are, and beyond while the table of open trials stays
// below 2^18 states; then the lightest states are dropped, and the answer says so and bounds its error.
//
// Probabilities are 0 to 1, information is in bits, minutes are bench minutes. Noise is taken per reading, although a
// loose connector takes all checks of its cable at once: a caller must say so beside the result.
package diagnose

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"math"
	"runtime"
	"slices"
	"strings"
	"sync"
	"sync/atomic"

	"waryowl/internal/core/fault"
)

// Input is one question about one software build.
type Input struct {
	Checks        []string    `json:"checks" minItems:"1" nullable:"false"`
	Noise         Noise       `json:"noise"`
	Prior         Prior       `json:"prior"`
	Strength      Strength    `json:"strength,omitempty" doc:"atom: chance to strike in a trial, above 0 and at most 1 (default)"`
	Weak          string      `json:"weak,omitempty" enum:"lost,pass" doc:"what a weak result counts as; lost by default"`
	Trials        []Trial     `json:"trials" nullable:"false"`
	Candidates    []Candidate `json:"candidates,omitempty" nullable:"false"`
	Brief         bool        `json:"brief,omitempty" doc:"leave out culprit sets, conflicts and diagnoses"`
	BudgetMinutes float64     `json:"budget_minutes,omitempty" minimum:"0" doc:"minutes that the plan may take; 0: no plan"`

	Unweighed bool `json:"-"` // what the candidates tell is not asked yet, only what they tell apart
	Weighing  bool `json:"-"` // only what the candidates tell is asked: the answers of the checks are left out
	States    int  `json:"-"` // states that all tables of the question may have; 0: the usual
}

// Noise holds the two chances that a reading is wrong.
type Noise struct {
	FalseLoss float64 `json:"false_loss" minimum:"0" doc:"chance of a loss without a culprit, below 1"`
	FalsePass float64 `json:"false_pass" minimum:"0" doc:"chance of a pass with a culprit, below 1"`
}

// Prior gives each atom its chance to be a culprit before any trial: Atoms[atom][check], else Default. An atom with 0
// there is no explanation for that check and is left out of its answer.
type Prior struct {
	Default float64                       `json:"default" doc:"between 0 and 1"`
	Atoms   map[string]map[string]float64 `json:"atoms,omitempty"`
}

// Strength is the chance that a culprit strikes in a trial that it is present in, by its name; 1 where none is given.
type Strength map[string]float64

// Setup is what stands in the slots: State names every slot that is not own, Split the pairs of mates of different
// origin, Atoms any further explanations that the setup brings into play.
type Setup struct {
	State map[string]string `json:"state,omitempty" doc:"slot: off, adopted, copy, foreign, stranger, unknown … (own slots may be left out)"`
	Split [][]string        `json:"split,omitempty" nullable:"false" doc:"pairs of mates that do not belong together"`
	Atoms []string          `json:"atoms,omitempty" nullable:"false" doc:"further explanations"`

	Fitted map[string]string `json:"-"` // which piece sits where, for who makes questions; the answer does not rest on it

	names []string // see [Setup.Settle]
}

// Trial is a setup that was tested. Results: pass, weak, lost; skipped and dark do not count.
type Trial struct {
	ID string `json:"id" pattern:"^[a-z0-9][a-z0-9._-]*$"`
	Setup
	Results map[string]string `json:"results"`
}

// Candidate is a setup that could be tested in so many bench minutes on a unit.
type Candidate struct {
	ID string `json:"id" pattern:"^[a-z0-9][a-z0-9._-]*$"`
	Setup
	Minutes      float64 `json:"minutes" doc:"above 0"`
	Unit         string  `json:"unit,omitempty"`
	Irreversible bool    `json:"irreversible,omitempty"`
	Grades       float64 `json:"grades,omitempty" minimum:"0" doc:"verdicts that it would open or bring nearer: a control, a repeat"`

	Blind []string `json:"blind,omitempty" nullable:"false" doc:"checks whose reading would not count there"`
}

// Output is the answer, per check and over all.
type Output struct {
	Checks        map[string]*Check `json:"checks"`
	SuspectTrials []Suspect         `json:"suspect_trials" nullable:"false"`
	Next          []Next            `json:"next" nullable:"false"`
	Plan          []string          `json:"plan" nullable:"false" doc:"greedy sequence of at most six candidates, not proven"`
}

// Check is the posterior for one check. Consistent is false when noise is zero and the trials contradict each other;
// then Marginal and Bits are null. Settled says that every marginal is at most 0.01 or at least 0.99, a group counting
// as one.
type Check struct {
	Consistent      bool               `json:"consistent"`
	Marginal        map[string]float64 `json:"marginal"`
	Groups          [][]string         `json:"groups" nullable:"false"`
	Sets            []Set              `json:"sets" nullable:"false"`
	Bits            *float64           `json:"bits"`
	Settled         bool               `json:"settled"`
	Conflicts       []Conflict         `json:"conflicts" nullable:"false"`
	Diagnoses       [][]string         `json:"diagnoses" nullable:"false"`
	DiagnosesTotal  int                `json:"diagnoses_total"`
	DiagnosesCapped bool               `json:"diagnoses_capped,omitempty" doc:"there are more than diagnoses_total"`
	Exact           *bool              `json:"exact,omitempty" doc:"false: states were dropped; left out: exact"`
	Error           float64            `json:"error,omitempty" doc:"no probability is further off than this"`
}

// Set is one culprit set and its posterior probability.
type Set struct {
	Atoms []string `json:"atoms" nullable:"false"`
	P     float64  `json:"p"`
}

// Conflict holds the atoms of a lost trial that no passing trial exonerated. When none are left, the results disagree,
// and Against names a smallest set of passing trials that exonerate them all.
type Conflict struct {
	Trial   string   `json:"trial"`
	Atoms   []string `json:"atoms" nullable:"false"`
	Against []string `json:"against,omitempty" nullable:"false"`
}

// Suspect is a reading that was noise with probability P of 0.05 or more.
type Suspect struct {
	Trial string  `json:"trial"`
	Check string  `json:"check"`
	P     float64 `json:"p"`
}

// Next is a candidate with the information that its outcomes carry about the culprits, summed over the checks.
type Next struct {
	ID              string  `json:"id"`
	Bits            float64 `json:"bits"`
	BitsPerMinute   float64 `json:"bits_per_minute"`
	GradesPerMinute float64 `json:"grades_per_minute,omitempty"`
	Error           float64 `json:"error,omitempty" doc:"share of the weight that was left out to weigh it in time; left out: none"`
}

// maxAtoms is how many explanations one check may have, maxNames all checks together.
const (
	maxAtoms = 256
	maxNames = 4096
)

// Run computes the answer. It returns a *fault.Fault for bad input and for instances that are too large to be exact.
func Run(in Input) (Output, error) { return RunContext(context.Background(), in) }

// RunContext is Run for an answer that may not be wanted any more: then it stops within a few milliseconds and returns the
// error of the context. All checks together share one budget of states, and their tables are given back one by one.
func RunContext(ctx context.Context, in Input) (Output, error) { return run(ctx, in, nil) }

func run(ctx context.Context, in Input, kept *Memory) (Output, error) {
	held, err := check(in)
	if err != nil {
		return Output{}, err
	}
	out := Output{Checks: map[string]*Check{}, SuspectTrials: []Suspect{}, Next: []Next{}, Plan: []string{}}
	var models []*model
	shared := map[string]*frame{}
	for _, name := range in.Checks {
		f, err := frameOf(&in, name, held, shared)
		if err != nil {
			return Output{}, err
		}
		models = append(models, newModel(&in, name, f))
	}
	ways, err := plans(ctx, models, in.States, kept)
	if err != nil {
		return Output{}, err
	}
	answers, suspects := make([]*Check, len(models)), make([][]Suspect, len(models))
	errs := make([]error, len(models))
	each(len(models), func(k int) {
		m := models[k]
		if errs[k] = ctx.Err(); errs[k] != nil {
			return
		}
		if errs[k] = m.solve(ctx, ways[k], kept); errs[k] != nil {
			return
		}
		if in.Weighing {
			answers[k] = &Check{Consistent: !m.zero && m.exact.total() > 0}
		} else if answers[k], suspects[k] = m.posterior(); !in.Brief {
			m.logic(answers[k])
		}
		if m.bits = make([]float64, len(in.Candidates)); !in.Unweighed {
			errs[k] = m.weighAll(ctx, answers[k].Consistent)
		}
		if m.rough != nil {
			m.error = m.rough.dropped()
		}
		m.exact = nil
		if in.BudgetMinutes == 0 { // a plan asks again
			m.rough = nil
		}
	})
	if err := errors.Join(errs...); err != nil {
		return Output{}, err
	}
	consistent := models[:0:0]
	for k, name := range in.Checks {
		out.Checks[name] = answers[k]
		out.SuspectTrials = append(out.SuspectTrials, suspects[k]...)
		if answers[k].Consistent {
			consistent = append(consistent, models[k])
		}
	}
	out.Next, out.Plan, err = rank(ctx, in, consistent, out.Checks)
	return out, err
}

// each does work for 0 … n−1, on all processors.
func each(n int, work func(int)) {
	var next atomic.Int64
	var wait sync.WaitGroup
	for range min(n, runtime.GOMAXPROCS(0)) {
		wait.Go(func() {
			for k := int(next.Add(1)) - 1; k < n; k = int(next.Add(1)) - 1 {
				work(k)
			}
		})
	}
	wait.Wait()
}

// Settle notes the explanations of a setup of which nothing is changed any more, so that they are named once, and
// returns them; they are not to be written to.
func (s *Setup) Settle() []string {
	if s.names == nil {
		s.names = s.AtomNames()
	}
	return s.names
}

// AtomNames lists the explanations that the setup brings into play, sorted.
func (s Setup) AtomNames() []string {
	if s.names != nil {
		return slices.Clone(s.names)
	}
	names := make([]string, 0, len(s.Atoms)+len(s.State)+len(s.Split))
	names = append(names, s.Atoms...)
	for slot, state := range s.State {
		if state != "own" {
			names = append(names, slot+":"+state)
		}
	}
	for _, pair := range s.Split {
		a, b := min(pair[0], pair[1]), max(pair[0], pair[1])
		names = append(names, a+"/"+b+":split")
	}
	slices.Sort(names)
	return slices.Compact(names)
}

// named are the explanations of a question by number, in the order of their names, and those of its trials and candidates.
type named struct {
	all           []string
	trials, cands [][]int
}

// check validates the input and numbers its explanations.
func check(in Input) (*named, error) {
	if len(in.Checks) == 0 {
		return nil, fault.New("checks", "nothing", "at least one check")
	}
	for i, c := range in.Checks {
		if c == "" || slices.Contains(in.Checks[:i], c) {
			return nil, fault.New(fmt.Sprintf("checks[%d]", i), c, "a name that stands once")
		}
	}
	if in.Weak != "" && in.Weak != "lost" && in.Weak != "pass" {
		return nil, fault.New("weak", in.Weak, "lost or pass")
	}
	fl, fp := in.Noise.FalseLoss, in.Noise.FalsePass
	if !(fl >= 0 && fl < 1) {
		return nil, fault.New("noise.false_loss", fl, "a chance from 0 to below 1")
	}
	if !(fp >= 0 && fp < 1) || fl+fp >= 1 {
		return nil, fault.New("noise.false_pass", fp, "a chance from 0 to below 1, with false_loss below 1 in sum")
	}
	if !(in.BudgetMinutes >= 0 && in.BudgetMinutes <= math.MaxFloat64) {
		return nil, fault.New("budget_minutes", in.BudgetMinutes, "minutes, 0 or more")
	}
	if !proper(in.Prior.Default) {
		return nil, fault.New("prior.default", in.Prior.Default, "a chance above 0 and below 1")
	}
	for atom, byCheck := range in.Prior.Atoms {
		for c, p := range byCheck {
			if !proper(p) && p != 0 {
				return nil, fault.New("prior.atoms."+atom+"."+c, p,
					"a chance from 0 to below 1; 0: cannot cost this check")
			}
		}
	}
	for atom, x := range in.Strength {
		if !(x > 0 && x <= 1) {
			return nil, fault.New("strength."+atom, x, "a chance above 0, at most 1")
		}
	}
	all, ids := map[string]int{}, map[string]bool{}
	trials, cands := make([][]string, len(in.Trials)), make([][]string, len(in.Candidates))
	for i, t := range in.Trials {
		at := fmt.Sprintf("trials[%d]", i)
		var err error
		if trials[i], err = checkSetup(at, t.ID, t.Setup, ids, all); err != nil {
			return nil, err
		}
		for _, c := range slices.Sorted(maps.Keys(t.Results)) {
			if !slices.Contains(in.Checks, c) {
				return nil, fault.New(at+".results", c, "one of the checks")
			}
			if !slices.Contains([]string{"pass", "weak", "lost", "skipped", "dark"}, t.Results[c]) {
				return nil, fault.New(at+".results."+c, t.Results[c], "pass, weak, lost, skipped or dark")
			}
		}
	}
	clear(ids)
	for i, c := range in.Candidates {
		at := fmt.Sprintf("candidates[%d]", i)
		var err error
		if cands[i], err = checkSetup(at, c.ID, c.Setup, ids, all); err != nil {
			return nil, err
		}
		if !(c.Grades >= 0 && c.Grades <= math.MaxFloat64) {
			return nil, fault.New(at+".grades", c.Grades, "0 or more")
		}
		for k, blind := range c.Blind {
			if !slices.Contains(in.Checks, blind) {
				return nil, fault.New(fmt.Sprintf("%s.blind[%d]", at, k), blind, "one of the checks")
			}
		}
		if !(c.Minutes > 0 && c.Minutes <= math.MaxFloat64) {
			return nil, fault.New(at+".minutes", c.Minutes, "minutes above 0")
		}
	}
	if len(all) > maxNames {
		return nil, fault.New("trials", fmt.Sprintf("%d explanations", len(all)),
			fmt.Sprintf("at most %d in one question", maxNames))
	}
	n := &named{all: slices.Sorted(maps.Keys(all))}
	for k, a := range n.all {
		all[a] = k
	}
	number := func(list [][]string) [][]int {
		out := make([][]int, len(list))
		for i, names := range list {
			out[i] = make([]int, len(names))
			for k, a := range names {
				out[i][k] = all[a]
			}
		}
		return out
	}
	n.trials, n.cands = number(trials), number(cands)
	return n, nil
}

func checkSetup(at, id string, s Setup, ids map[string]bool, all map[string]int) ([]string, error) {
	if err := fault.ID(at+".id", id); err != nil {
		return nil, err
	}
	if ids[id] {
		return nil, fault.New(at+".id", id, "an id that stands once")
	}
	ids[id] = true
	for slot, state := range s.State {
		if slot == "" || state == "" {
			return nil, fault.New(at+".state."+slot, state, "a named slot with a state")
		}
	}
	for k, pair := range s.Split {
		if len(pair) != 2 || pair[0] == pair[1] || pair[0] == "" || pair[1] == "" {
			return nil, fault.New(fmt.Sprintf("%s.split[%d]", at, k), strings.Join(pair, ", "), "two different slots")
		}
	}
	for k, a := range s.Atoms {
		if a == "" {
			return nil, fault.New(fmt.Sprintf("%s.atoms[%d]", at, k), a, "the name of an explanation")
		}
	}
	names := s.Settle()
	for _, a := range names {
		all[a] = 0
	}
	return names, nil
}

func proper(p float64) bool { return p > 0 && p < 1 }
