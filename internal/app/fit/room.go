package fit

import (
	"context"
	"slices"
	"strings"

	"waryowl/internal/app/act"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/fit"
	"waryowl/internal/core/quantity"
	"waryowl/internal/core/trade"
	"waryowl/internal/store"
)

const (
	mostModels     = 12
	mostTests      = 200
	mostCandidates = 60
	usualMinutes   = 45.0 // of a test where a phone has no way yet (house)
	fitMinutes     = 3.0  // seating a piece and its connector (house)
)

// Features are the measures that say whether a piece seats and its connector mates. Slack and spread are house figures.
var Features = map[string]fit.Feature{
	"thickness":        {Governs: "seat", Slack: 0.15, Spread: 0.05},
	"width":            {Governs: "seat", Slack: 0.3, Spread: 0.1},
	"height":           {Governs: "seat", Slack: 0.3, Spread: 0.1},
	"connector width":  {Governs: "mate", Slack: 0.1, Spread: 0.02},
	"connector pitch":  {Governs: "mate", Slack: 0.02, Spread: 0.005},
	"connector height": {Governs: "mate", Slack: 0.1, Spread: 0.02},
	"connector pins":   {Governs: "mate", Slack: 0.5, Spread: 0.1},
	"mass":             {Governs: "none", Spread: 0.3},
}

// units are those in which a feature counts.
var units = map[string]string{"mass": "g", "connector pins": "pins"}

// Choice is a kind of part that the room can be asked about.
type Choice struct {
	Kind   string `json:"kind"`
	Name   string `json:"name"`
	Models int    `json:"models"`
	Tests  int    `json:"tests"`
}

// Line is a model's own piece, or a lot of copies.
type Line struct {
	ID       string                       `json:"id"`
	Name     string                       `json:"name"`
	Copy     bool                         `json:"copy"`
	For      string                       `json:"for,omitempty" doc:"model of a copy"`
	PartID   string                       `json:"part_id,omitempty"`
	Code     string                       `json:"code,omitempty"`
	Price    int                          `json:"price_minor,omitempty"`
	Demand   float64                      `json:"demand,omitempty" doc:"jobs of this kind that were counted; 1 where none was"`
	Measures map[string]quantity.Quantity `json:"measures"`
	Version  int                          `json:"version"`
}

// Seen is a test with who made it where.
type Seen struct {
	fit.Test
	Version int     `json:"version,omitempty" doc:"of a test recorded here; trials are changed in their study"`
	Trial   string  `json:"trial,omitempty" doc:"study of the trial that it is"`
	Study   string  `json:"study_id,omitempty"`
	Piece   string  `json:"piece,omitempty"`
	Apart   string  `json:"apart,omitempty"`
	Minutes float64 `json:"minutes,omitempty"`
	Note    string  `json:"note,omitempty"`
}

// Advice is a test worth making.
type Advice struct {
	fit.Next
	Donor   string  `json:"donor"`
	Host    string  `json:"host"`
	Minutes float64 `json:"minutes"`
	Assumed bool    `json:"assumed" doc:"a phone without a way: the minutes are assumed"`
	Stop    string  `json:"stop,omitempty" doc:"what the measures say before anything is mated"`
}

// Visit is one opening of a host, with all tests that are made while it lies open.
type Visit struct {
	Host    string   `json:"host"`
	Donors  []string `json:"donors" nullable:"false"`
	Minutes float64  `json:"minutes"`
	Bits    float64  `json:"bits"`
}

// Phone is a unit of a study of one of the hosts.
type Phone struct {
	ID      string `json:"id"`
	Name    string `json:"name"`
	ModelID string `json:"model_id"`
	Build   string `json:"build,omitempty"`
}

// Check is a function that a piece may cost.
type Check struct {
	Mark string `json:"mark"`
	Name string `json:"name"`
}

// Room is what stands in for what of one kind of part.
type Room struct {
	Kind       string                 `json:"kind"`
	Name       string                 `json:"name"`
	Kinds      []Choice               `json:"kinds" nullable:"false"`
	Level      string                 `json:"level"`
	Confidence float64                `json:"confidence"`
	Ladder     []string               `json:"ladder" nullable:"false"`
	Answer     answer.Sentence        `json:"answer" nullable:"false"`
	Lines      []Line                 `json:"lines" nullable:"false" doc:"models, then copies"`
	Found      fit.Output             `json:"found"`
	Tests      []Seen                 `json:"tests" nullable:"false"`
	Next       []Advice               `json:"next" nullable:"false"`
	Visits     []Visit                `json:"visits" nullable:"false"`
	Tried      int                    `json:"tried" doc:"ordered pairs of models with a test"`
	Of         int                    `json:"of"`
	Left       []string               `json:"left" nullable:"false" doc:"models beyond the twelve that are weighed at once"`
	Currency   string                 `json:"currency,omitempty"`
	Features   map[string]fit.Feature `json:"features"`
	Phones     []Phone                `json:"phones" nullable:"false" doc:"that pieces may be fitted in"`
	Checks     []Check                `json:"checks" nullable:"false"`
	Conditions []string               `json:"conditions" nullable:"false"`
}

// Ask is what is asked of the room: From narrows it to the family of a model.
type Ask struct {
	Kind, From, Level string
	Confidence        float64
}

// Standing is which pieces of one kind stand in for which, without the tests that would be worth making: the lines with
// their names, the groups of models, and the pairs of copies with the models that they are for. It is kept as long as it
// was asked the same.
func Standing(ctx context.Context, s *act.Service, q Ask) (Room, error) {
	db := s.DB.WithContext(ctx)
	r := Room{Kind: q.Kind, Lines: []Line{}}
	g, err := gather(db, &r, q)
	if err != nil || len(g.hosts) == 0 {
		return r, err
	}
	r.Found, err = store.Kept(db, "standing", q.Kind, g.in, func() (fit.Output, error) {
		all, err := fit.Solve(g.in)
		few := fit.Output{Groups: all.Groups, Pairs: []fit.Pair{}}
		for _, p := range all.Pairs {
			if !g.isModel(p.Donor) {
				few.Pairs = append(few.Pairs, p)
			}
		}
		return few, err
	})
	return r, err
}

// Show weighs everything that is known about one kind of part.
func Show(ctx context.Context, s *act.Service, q Ask) (Room, error) {
	kind, known := trade.KindByID(q.Kind)
	if !known {
		return Room{}, fault.New("kind", q.Kind, "a kind of part of the catalogue")
	}
	db := s.DB.WithContext(ctx)
	r := Room{Kind: q.Kind, Name: strings.ReplaceAll(kind.ID, "-", " "), Level: q.Level, Confidence: q.Confidence,
		Ladder: fit.Ladder, Lines: []Line{}, Tests: []Seen{}, Next: []Advice{}, Visits: []Visit{}, Phones: []Phone{},
		Checks: []Check{}, Left: []string{}, Features: Features,
		Conditions: fit.Conditions, Kinds: []Choice{}}
	g, err := gather(db, &r, q)
	if err != nil {
		return Room{}, err
	}
	if len(g.hosts) == 0 {
		r.Found = fit.Output{Pairs: []fit.Pair{}, Groups: []fit.Group{}, Suspects: []fit.Suspect{},
			Contradictions: []fit.Contradiction{}, Ignored: []string{}, Next: []fit.Next{}, Unneeded: []fit.Unneeded{},
			Fewest: fit.Stock{Lines: []string{}, Serves: map[string]string{}, Unserved: []string{}, Untested: []string{}},
			Naive:  fit.Stock{Lines: []string{}, Serves: map[string]string{}, Unserved: []string{}, Untested: []string{}}}
		r.Answer = answer.Sentence{answer.Text("No model with a " + r.Name + " is on record: add its parts in a teardown.")}
		return r, nil
	}
	if r.Found, err = fit.Solve(g.in); err != nil {
		return Room{}, err
	}
	g.candidates(&r)
	if r.Found, err = fit.Solve(g.in); err != nil {
		return Room{}, err
	}
	for _, n := range r.Found.Next {
		c := g.in.Candidates[slices.IndexFunc(g.in.Candidates, func(c fit.Candidate) bool { return c.ID == n.ID })]
		_, assumed := g.minutes(c.Donor, c.Host)
		r.Next = append(r.Next, Advice{n, c.Donor, c.Host, c.Minutes, assumed, g.stop(c.Donor, c.Host)})
	}
	r.Visits = g.visits(r.Next)
	hosts := len(g.hosts)
	r.Of = hosts * (hosts - 1)
	tried := map[[2]string]bool{}
	for _, t := range g.in.Tests {
		if t.Donor != t.Host && !t.Damaged && g.isModel(t.Donor) {
			tried[[2]string{t.Donor, t.Host}] = true
		}
	}
	r.Tried = len(tried)
	r.Answer = r.say(g)
	return r, nil
}
