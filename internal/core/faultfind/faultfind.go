package faultfind

import (
	"cmp"
	"maps"
	"math"
	"slices"
	"strings"

	"waryowl/internal/core/fault"
)

// Output is where a case stands and what comes next. Money is minor units.
type Output struct {
	Status    string    `json:"status" enum:"open,found,repaired,gate,cannot be told apart,stop"`
	Causes    []Chance  `json:"causes" nullable:"false"`
	Acquitted []Cleared `json:"acquitted" nullable:"false"`
	Between   []string  `json:"between" nullable:"false"`
	Control   string    `json:"control" enum:",required,passed"`
	Dead      bool      `json:"dead" doc:"the board may be given up: nothing of the gate is missing"`
	Gate      []string  `json:"gate" nullable:"false" doc:"what is missing before the board may be called dead"`
	Why       string    `json:"why" enum:",price,nothing left to do"`
	Warnings  []string  `json:"warnings" nullable:"false"`
	Spent     float64   `json:"spent"`
	Exact     bool      `json:"exact" doc:"the whole tree of what may come was searched"`
	Next      []Next    `json:"next" nullable:"false"`
	Expected  Expected  `json:"expected"`
}

// Chance of a cause that is still possible.
type Chance struct {
	Cause string  `json:"cause"`
	P     float64 `json:"p"`
}

// Next is an act that may come now. Expected is the cost from here if it comes first and all goes best after it.
type Next struct {
	Act      string  `json:"act"`
	Kind     string  `json:"kind" enum:"cure,try,look,control"`
	Minutes  float64 `json:"minutes" doc:"attended, ways in and back with it"`
	Wait     float64 `json:"wait"`
	Price    float64 `json:"price"`
	Cost     float64 `json:"cost"`
	PHit     float64 `json:"p_hit"`
	Expected float64 `json:"expected"`
}

// Expected are the odds of the best strategy from here. PWithin: repaired with all that was spent within the limit.
type Expected struct {
	Cost      float64 `json:"cost"`
	Minutes   float64 `json:"minutes"`
	PRepaired float64 `json:"p_repaired"`
	PWithin   float64 `json:"p_within"`
}

// Thresholds of what is said (house).
const (
	counts  = 0.02 // a cause that counts when an end is named
	gateway = 0.9  // from where a dead board is spoken of
)

// Solve says where a case stands and what comes next. Errors name the field.
func Solve(in Input) (Output, error) {
	out := Output{Causes: []Chance{}, Between: []string{}, Gate: []string{}, Next: []Next{}}
	s, err := in.read()
	if err != nil {
		return out, err
	}
	w, cleared, err := s.observe(in)
	if err != nil {
		return out, err
	}
	b, err := s.follow(in, w)
	if err != nil {
		return out, err
	}
	x := s.search(b)
	out.Acquitted, out.Warnings, out.Spent = cleared, b.warnings, round(b.spent, 2)
	total := x.mass(b.left)
	if total == 0 {
		return out, fault.New("works", strings.Join(in.Works, ", "), "readings that leave at least one cause possible")
	}
	for k, name := range s.causes {
		if b.left>>k&1 == 1 {
			out.Causes = append(out.Causes, Chance{name, b.weight[k] / total})
		}
	}
	slices.SortStableFunc(out.Causes, func(a, b Chance) int { return cmp.Compare(b.P, a.P) })
	likely := []string{}
	for i, c := range out.Causes {
		out.Causes[i].P = round(c.P, 4)
		if c.P >= counts {
			likely = append(likely, c.Cause)
		}
	}
	out.Exact = true
	switch {
	case b.cured:
		c := s.control * s.labour
		out.Status, out.Control, out.Between = "repaired", "required", likely
		out.Next = []Next{{Act: closing, Kind: "control", Minutes: s.control, Cost: round(c, 2), PHit: 1, Expected: round(c, 2)}}
		out.Expected = Expected{Cost: round(c, 2), Minutes: s.control, PRepaired: 1, PWithin: within(in.Limit, b.spent+c)}
	case b.passed:
		out.Status, out.Control, out.Between = "repaired", "passed", likely
		out.Expected = Expected{PRepaired: 1, PWithin: within(in.Limit, b.spent)}
	default:
		s.goOn(x, b, likely, &out)
	}
	return out, nil
}

func within(limit *float64, cost float64) float64 {
	if limit == nil || cost <= *limit+1e-9 {
		return 1
	}
	return 0
}

// goOn says what comes next in a case that is not repaired.
func (s *sick) goOn(x *search, b *belief, likely []string, out *Output) {
	at := x.start(b)
	v := x.best(at)
	if !x.exact {
		v = x.look(at)
	}
	o := x.odds(at, b.spent, s.limit)
	out.Expected = Expected{round(o.cost, 2), round(o.minutes, 1), round(o.repaired, 4), round(o.within, 4)}
	board := x.mass(b.left&s.dead) / x.mass(b.left)
	var missing []int
	for _, k := range s.gate {
		if b.made>>k&1 == 0 {
			missing = append(missing, k)
		}
	}
	possible := x.matter(b.left)
	var acts []int
	for k := range s.acts {
		if possible>>k&1 == 1 && x.may(k, at) {
			acts = append(acts, k)
		}
	}
	first := slices.ContainsFunc(acts, func(k int) bool { return slices.Contains(s.first, k) })
	switch {
	case board >= gateway && len(missing) > 0 && !first:
		out.Status = "gate"
		acts = nil
		for _, k := range missing {
			out.Gate = append(out.Gate, s.acts[k].Act.Act)
			if s.acts[k].needs&^b.made == 0 {
				acts = append(acts, k)
			}
		}
	case len(acts) == 0 && len(likely) > 1:
		out.Status, out.Between = "cannot be told apart", likely
	case len(acts) == 0:
		out.Status, out.Why, out.Between = "stop", "nothing left to do", likely
	case v.act < 0 && !first:
		out.Status, out.Why = "stop", "price"
	case len(likely) == 1 && !first:
		out.Status, out.Between = "found", likely
		cause := uint64(1) << slices.Index(s.causes, likely[0])
		if cures := slices.DeleteFunc(slices.Clone(acts), func(k int) bool {
			return s.acts[k].Kind != "cure" || s.acts[k].of&cause == 0
		}); len(cures) > 0 {
			acts = cures
		}
	default:
		out.Status = "open"
	}
	out.Dead = board >= gateway && len(missing) == 0
	for _, k := range acts {
		hit, _, _ := x.after(k, at)
		a := s.acts[k]
		out.Next = append(out.Next, Next{a.Act.Act, a.Kind, round(s.attended(k, at.open), 2), a.Wait, a.Price,
			round(s.cost(k, at.open), 2), round(hit, 4), round(x.first(k, at), 2)})
	}
	slices.SortStableFunc(out.Next, func(a, b Next) int {
		if math.Abs(a.Expected-b.Expected) < .005 {
			return 0
		}
		return cmp.Compare(a.Expected, b.Expected)
	})
	out.Exact = x.exact
}

func round(v float64, places int) float64 {
	p := math.Pow(10, float64(places))
	return math.Round(v*p) / p
}

func unknownCheck(field, check string, needs map[string][]string) error {
	return fault.New(field, check, "a check: "+strings.Join(slices.Sorted(maps.Keys(needs)), ", "))
}

func unknownAct(field, name string, s *sick) error {
	return fault.New(field, name, "an act of the symptom, or "+closing+": "+s.actNames())
}
