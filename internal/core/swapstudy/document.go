// Package swapstudy reads a whole swap study from one document, in which nothing is derived, and says what it showed:
// states, guards, explanations, verdicts, the next act. It is the swap lab without a database.
//
//	out, err := swapstudy.Solve(in)
//	out.Verdicts[0].Verdict // "not settled"
package swapstudy

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
	"waryowl/internal/core/ledger"
	"waryowl/internal/core/trade"
)

// Slot is a slot of the model: Kind is its family, Mate its mate by serial, Inside the assembly that holds it.
type Slot struct {
	Name   string `json:"name"`
	Kind   string `json:"kind,omitempty" doc:"family: PW, OP, SC, SO, BD, RF, BT, FR or SE"`
	Mate   string `json:"mate,omitempty"`
	Inside string `json:"inside,omitempty"`
	Part   string `json:"part,omitempty" doc:"kind of the catalogue; left out: told by the name"`
}

// Model is the model under test.
type Model struct {
	Name  string `json:"name"`
	Slots []Slot `json:"slots" nullable:"false"`
}

// Unit is a phone; an empty Model is the study's.
type Unit struct {
	Name  string `json:"name"`
	Build string `json:"build,omitempty"`
	Model string `json:"model,omitempty"`
}

// Check is a function check; Group is its family.
type Check struct {
	Mark  string `json:"mark"`
	Group string `json:"group,omitempty"`
}

// Move puts a piece into a housing, or on the mat. From says whose piece it is.
type Move struct {
	Slot string `json:"slot"`
	From string `json:"from"`
	To   string `json:"to"`
}

// Later is a reading of a trial after more minutes, and after what.
type Later struct {
	Minutes float64           `json:"minutes,omitempty" minimum:"0"`
	After   []string          `json:"after,omitempty" nullable:"false"`
	Results map[string]string `json:"results"`
}

// Trial is a configuration that was tested. Notices left out: not read.
type Trial struct {
	ID         string            `json:"id"`
	Board      string            `json:"board"`
	Housing    string            `json:"housing,omitempty"`
	Results    map[string]string `json:"results"`
	Notices    *[]string         `json:"notices,omitempty"`
	Symptoms   string            `json:"symptoms,omitempty"`
	DarkScreen bool              `json:"dark_screen,omitempty"`
	Minutes    float64           `json:"minutes,omitempty" minimum:"0"`
	Later      []Later           `json:"later,omitempty" nullable:"false"`
	DeadGate   []string          `json:"dead_gate,omitempty" nullable:"false"`
	Off        []string          `json:"off,omitempty" nullable:"false"`
}

// Act is something done between trials.
type Act struct {
	Kind     string   `json:"kind"`
	Board    string   `json:"board"`
	Slots    []string `json:"slots,omitempty" nullable:"false"`
	Accepted bool     `json:"accepted,omitempty"`
	Build    string   `json:"build,omitempty"`
	What     string   `json:"what,omitempty"`
	Reason   string   `json:"reason,omitempty"`
	Checks   []string `json:"checks,omitempty" nullable:"false" doc:"of a damage: those that it spoils; left out: all"`
}

// Event is one of the three.
type Event struct {
	Move  *Move  `json:"move,omitempty"`
	Trial *Trial `json:"trial,omitempty"`
	Act   *Act   `json:"act,omitempty"`
}

// Factors asks for a table.
type Factors struct {
	Check string   `json:"check"`
	Slots []string `json:"slots" nullable:"false"`
}

// Ask is what the answer is about: the build (default: the newest), the checks that matter for the next act (default:
// all), a table.
type Ask struct {
	Build   string   `json:"build,omitempty"`
	Focus   []string `json:"focus,omitempty" nullable:"false"`
	Factors *Factors `json:"factors,omitempty"`
}

// Input is one study.
type Input struct {
	Model     Model                        `json:"model"`
	Units     []Unit                       `json:"units" nullable:"false"`
	Checks    []Check                      `json:"checks" nullable:"false"`
	Baselines map[string]map[string]string `json:"baselines,omitempty"`
	Events    []Event                      `json:"events" nullable:"false"`
	Ask       Ask                          `json:"ask,omitempty"`
}

const mainBoard = "main board"

var (
	results  = []string{"pass", "weak", "lost", "skipped", "dark"}
	actKinds = []string{ledger.Restart, ledger.Reset, "restore", ledger.Update, ledger.Flash, ledger.Calibrate,
		ledger.Charger, ledger.Wait,
		ledger.Reseat, ledger.KnownGood, ledger.Clock, ledger.Damage, ledger.Method}
)

// noticeMark is the check that a notice is.
func noticeMark(text string) string { return "notice: " + text }

func isNotice(check string) bool { return strings.HasPrefix(check, noticeMark("")) }

// reader turns the document into a study of the ledger.
type reader struct {
	in     Input
	leaves map[string][]string
	slots  []string
	unit   map[string]Unit
	check  map[string]bool
	bench  *ledger.Bench[ledger.Piece]
	boards *ledger.Bench[string] // which unit's board sits in which housing
	study  ledger.Study
	build  map[string]string
	order  []string // builds as they came up
}

func (r *reader) read() error {
	in := r.in
	r.leaves, r.unit, r.check, r.build = map[string][]string{}, map[string]Unit{}, map[string]bool{}, map[string]string{}
	r.bench, r.boards = ledger.NewBench[ledger.Piece](), ledger.NewBench[string]()
	known := map[string]bool{}
	for i, s := range in.Model.Slots {
		at := fmt.Sprintf("model.slots[%d]", i)
		if s.Name == "" || known[s.Name] {
			return fault.New(at+".name", s.Name, "a name that no other slot has")
		}
		if s.Kind != "" && trade.Families[s.Kind] == "" {
			return fault.New(at+".kind", s.Kind, strings.Join(trade.FamilyCodes(), ", "))
		}
		known[s.Name] = true
		if s.Inside != "" {
			r.leaves[s.Inside] = append(r.leaves[s.Inside], s.Name)
		}
	}
	s := &r.study
	s.Families, s.Concerns, s.Groups = map[string]string{}, map[string]string{}, map[string]string{}
	s.Kinds = map[string]string{}
	for i, x := range in.Model.Slots {
		if x.Mate != "" && !known[x.Mate] && x.Mate != mainBoard {
			return fault.New(fmt.Sprintf("model.slots[%d].mate", i), x.Mate, "the name of a slot")
		}
		if len(r.leaves[x.Name]) > 0 || x.Name == mainBoard {
			continue // an assembly, or the board: no slot of a trial
		}
		r.slots = append(r.slots, x.Name)
		s.Families[x.Name] = x.Kind
		s.Kinds[x.Name] = cmp.Or(x.Part, trade.About(x.Name))
		if known[x.Mate] && len(r.leaves[x.Mate]) == 0 {
			pair := [2]string{min(x.Name, x.Mate), max(x.Name, x.Mate)}
			if !slices.Contains(s.Mates, pair) {
				s.Mates = append(s.Mates, pair)
			}
		}
	}
	s.Slots = r.slots
	for i, u := range in.Units {
		if _, twice := r.unit[u.Name]; u.Name == "" || twice || u.Name == "mat" {
			return fault.New(fmt.Sprintf("units[%d].name", i), u.Name, "a name that no other unit has")
		}
		r.unit[u.Name] = u
		r.build[u.Name] = u.Build
		r.came(u.Build)
		r.boards.Build(u.Name, mainBoard, u.Name)
		for _, slot := range r.slots {
			r.bench.Build(u.Name, slot, ledger.Piece{Slot: slot, Unit: u.Name, Model: r.model(u.Name)})
		}
	}
	for i, c := range in.Checks {
		if c.Mark == "" || r.check[c.Mark] {
			return fault.New(fmt.Sprintf("checks[%d].mark", i), c.Mark, "a mark that no other check has")
		}
		r.check[c.Mark] = true
		s.Checks = append(s.Checks, c.Mark)
		s.Concerns[c.Mark], s.Groups[c.Mark] = c.Group, c.Group
	}
	for _, e := range in.Events { // a notice is a check from the first trial on
		if e.Trial != nil && e.Trial.Notices != nil {
			for _, n := range *e.Trial.Notices {
				if mark := noticeMark(n); !r.check[mark] {
					r.check[mark] = true
					s.Checks = append(s.Checks, mark)
				}
			}
		}
	}
	if err := r.baselines(); err != nil {
		return err
	}
	return r.events()
}

func (r *reader) model(unit string) string {
	if m := r.unit[unit].Model; m != "" {
		return m
	}
	return r.in.Model.Name
}

func (r *reader) came(build string) {
	if build != "" {
		r.order = append(slices.DeleteFunc(r.order, func(b string) bool { return b == build }), build)
	}
}

func (r *reader) board(unit string) ledger.Board {
	return ledger.Board{Unit: unit, Model: r.model(unit)}
}

func (r *reader) results(at string, from map[string]string) error {
	for c, v := range from {
		if !r.check[c] {
			return fault.New(at, c, "the mark of a check")
		}
		if !slices.Contains(results, v) {
			return fault.New(at+"."+c, v, strings.Join(results, ", "))
		}
	}
	return nil
}

func (r *reader) baselines() error {
	for name, from := range r.in.Baselines {
		if _, known := r.unit[name]; !known {
			return fault.New("baselines", name, "the name of a unit")
		}
		if err := r.results("baselines."+name, from); err != nil {
			return err
		}
	}
	for _, u := range r.in.Units {
		s := map[string]string{}
		for c, v := range r.in.Baselines[u.Name] {
			s[c] = v
		}
		r.study.Baselines = append(r.study.Baselines, ledger.Baseline{Board: r.board(u.Name), Build: u.Build,
			Results: s})
	}
	return nil
}
