package app

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"waryowl/internal/core/answer"
	"waryowl/internal/core/hazard"
	"waryowl/internal/core/route"
	"waryowl/internal/core/worktime"
	"waryowl/internal/store"
)

// bootSeconds is booting and settling after a job (house); checkSeconds is used when the catalogue gives no time.
const (
	bootSeconds  = 120
	checkSeconds = 20
)

// WayStep is one step of a way, with its time and how many runs stand behind it (0: predicted).
type WayStep struct {
	ID       string           `json:"id"`
	Mark     string           `json:"mark"`
	Verb     string           `json:"verb"`
	What     string           `json:"what"`
	Tool     string           `json:"tool,omitempty"`
	Side     string           `json:"side"`
	Joint    string           `json:"joint,omitempty"`
	Drive    string           `json:"drive,omitempty"`
	Count    int              `json:"count,omitempty"`
	LengthMM float64          `json:"length_mm,omitempty"`
	Seconds  float64          `json:"seconds"`
	Runs     int              `json:"runs"`
	Frees    []string         `json:"frees" nullable:"false" doc:"ids of parts"`
	Cautions []hazard.Caution `json:"cautions" nullable:"false"`
}

// Survival is the chance that a part at risk is not hurt on this way.
type Survival struct {
	Part string  `json:"part"`
	P    float64 `json:"p"`
}

// Way is the way to one part. Blocked says why there is none.
type Way struct {
	PartID          string          `json:"part_id"`
	Part            string          `json:"part"`
	Family          string          `json:"family"`
	Answer          answer.Sentence `json:"answer" nullable:"false"`
	Steps           []WayStep       `json:"steps" nullable:"false"`
	Depth           int             `json:"depth"`
	AttendedMinutes float64         `json:"attended_minutes"`
	ElapsedMinutes  float64         `json:"elapsed_minutes"`
	ClosedMinutes   float64         `json:"closed_minutes" doc:"to closed and tested"`
	ToolChanges     int             `json:"tool_changes"`
	Flips           int             `json:"flips"`
	Screws          int             `json:"screws"`
	Tools           []string        `json:"tools" nullable:"false"`
	Out             []string        `json:"out" nullable:"false" doc:"parts that come out, by id, in order"`
	Survival        []Survival      `json:"survival" nullable:"false"`
	Measured        int             `json:"measured" doc:"steps with at least one timed run"`
	Proven          bool            `json:"proven"`
	Objective       float64         `json:"objective"`
	Bound           float64         `json:"bound"`
	Blocked         string          `json:"blocked,omitempty"`
}

// Ways is the room of ways: every part of the model that a step frees.
type Ways struct {
	Model    store.Model     `json:"model"`
	Parts    []store.Part    `json:"parts" nullable:"false"`
	Minimise string          `json:"minimise"`
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	Ways     []Way           `json:"ways" nullable:"false"`
	Missing  []string        `json:"missing" nullable:"false" doc:"parts without a way"`
	Notice   string          `json:"notice"`
}

// Ways finds the way to every part by the given objective.
func (s *Service) Ways(ctx context.Context, model, minimise string) (Ways, error) {
	db := s.DB.WithContext(ctx)
	k, err := loadModel(db, model)
	if err != nil {
		return Ways{}, err
	}
	checks, err := store.List[store.Check](db, "position", "1 = 1")
	if err != nil {
		return Ways{}, err
	}
	w := Ways{Model: k.Model, Parts: k.parts, Minimise: minimise, Ways: []Way{}, Missing: []string{}, Notice: hazard.Notice}
	found, err := route.All(k.question(minimise))
	if err != nil {
		return Ways{}, err
	}
	for _, f := range found {
		if _, ok := k.part[f.Part]; ok {
			w.Ways = append(w.Ways, k.way(f, checkTime(checks)))
		}
	}
	slices.SortStableFunc(w.Ways, func(a, b Way) int {
		return cmp.Or(cmp.Compare(commonness(a.Part), commonness(b.Part)), strings.Compare(a.Part, b.Part))
	})
	for _, p := range k.parts {
		if !slices.ContainsFunc(w.Ways, func(w Way) bool { return w.PartID == p.ID }) {
			w.Missing = append(w.Missing, p.Name)
		}
	}
	w.Answer = answer.Sentence{answer.Text("No way is on record yet: log the strip-down of "), answer.Name(k.Name, ""), answer.Text(".")}
	if len(w.Ways) > 0 {
		w.Answer = w.Ways[0].Answer
	}
	return w, nil
}

// commonJobs are about 90 % of what a workshop does, with the port (common practice, no source).
var commonJobs = []string{"battery", "display assembly", "charge port"}

// commonness ranks a part by its place among the common jobs; all others come after them.
func commonness(part string) int {
	if k := slices.Index(commonJobs, part); k >= 0 {
		return k
	}
	return len(commonJobs)
}

// secondsIn is the time on the clock until all of these parts are out; 0 when that is not known.
func (k *knowledge) secondsIn(parts []string) float64 {
	q := k.question(route.Elapsed)
	q.Goal = parts
	out, err := route.Solve(q)
	if err != nil {
		return 0
	}
	return out.ElapsedSeconds
}

func (k *knowledge) question(minimise string) route.Input {
	return route.Input{Steps: k.routeSteps(), Minimise: minimise, ToolChangeSeconds: toolChangeSeconds, FlipSeconds: flipSeconds}
}

// wayTo is the way to one part, or nil when no step frees it.
func (k *knowledge) wayTo(part string, checks []store.Check) *Way {
	q := k.question(route.Attended)
	q.Goal = []string{part}
	out, err := route.Solve(q)
	if _, blocked := err.(*route.Unreachable); err != nil && !blocked {
		return nil
	}
	w := k.way(route.Way{Part: part, Output: out, Err: err}, checkTime(checks))
	return &w
}

func checkTime(checks []store.Check) float64 {
	sum := 0.0
	for _, c := range checks {
		if c.Seconds > 0 {
			sum += c.Seconds
		} else {
			sum += checkSeconds
		}
	}
	return sum
}

func (k *knowledge) way(f route.Way, checks float64) Way {
	p := k.part[f.Part]
	w := Way{PartID: p.ID, Part: p.Name, Family: p.Family, Steps: []WayStep{}, Tools: []string{}, Out: []string{}, Survival: []Survival{}}
	if f.Err != nil {
		w.Blocked = k.checkPlan().Error()
		w.Answer = answer.Sentence{answer.Name(title(p.Name), ""), answer.Text(": no way, because its prerequisites can never be met.")}
		return w
	}
	for _, id := range f.Steps {
		s, e := k.step[id], k.estimate(k.step[id])
		w.Steps = append(w.Steps, WayStep{s.ID, s.Mark, s.Verb, s.What, s.Tool, s.Side, s.Joint, s.Drive, s.Count, s.LengthMM, e.Seconds, e.N, s.Frees, k.cautions(s)})
		if s.Frees == nil {
			w.Steps[len(w.Steps)-1].Frees = []string{}
		}
		if s.Joint == "screw" || s.Joint == "post" {
			w.Screws += max(1, s.Count)
		}
		if e.N > 0 {
			w.Measured++
		}
	}
	for id, v := range f.Survival {
		w.Survival = append(w.Survival, Survival{k.part[id].Name, v})
	}
	slices.SortFunc(w.Survival, func(a, b Survival) int {
		return cmp.Or(cmp.Compare(a.P, b.P), strings.Compare(a.Part, b.Part))
	})
	w.Depth, w.ToolChanges, w.Flips, w.Tools, w.Out = f.Depth, f.ToolChanges, f.Flips, f.Tools, f.Freed
	w.AttendedMinutes, w.ElapsedMinutes = f.AttendedSeconds/60, f.ElapsedSeconds/60
	w.ClosedMinutes = worktime.Closed(f.ElapsedSeconds, bootSeconds, checks) / 60
	w.Proven, w.Objective, w.Bound = f.Proven, f.Objective, f.Bound
	w.Answer = answer.Sentence{answer.Name(title(p.Name), ""), answer.Text(": "), answer.Count(len(w.Steps), "step", "#steps"), answer.Text(", "),
		answer.Count(len(w.Tools), "tool", "#tools"), answer.Text(", "), answer.Number(w.ElapsedMinutes, "min", "#time"), answer.Text(" in, "),
		answer.Number(w.ClosedMinutes, "min", "#time"), answer.Text(" to closed and tested")}
	if len(w.Survival) > 0 {
		w.Answer = append(w.Answer, answer.Text("; "+w.Survival[0].Part+" hurt in "), answer.Number(100*(1-w.Survival[0].P), "%", "#risk"))
	}
	w.Answer = append(w.Answer, answer.Text("."))
	return w
}

// title makes the first letter large.
func title(s string) string {
	if s != "" && s[0] >= 'a' && s[0] <= 'z' {
		return string(s[0]-'a'+'A') + s[1:]
	}
	return s
}
