package app

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"

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

	DiameterMM  float64        `json:"diameter_mm,omitempty"`
	WaitSeconds float64        `json:"wait_seconds,omitempty"`
	WaitRuns    int            `json:"wait_runs,omitempty" doc:"waits behind it that were needed"`
	Method      string         `json:"method,omitempty"`
	Consumable  string         `json:"consumable,omitempty"`
	Fastener    store.Fastener `json:"fastener"`
	Photos      []string       `json:"photos" nullable:"false" doc:"ids of pictures"`
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
	Odds            []Odds          `json:"odds" nullable:"false"`
	Consumables     []string        `json:"consumables" nullable:"false"`
	Hidden          []string        `json:"hidden" nullable:"false" doc:"screws that hide, and under what"`
	Travels         []string        `json:"travels" nullable:"false" doc:"what must move to the new part"`
	Tabs            string          `json:"tabs,omitempty" doc:"pull tabs that came out whole, of all counted"`
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
	Entry    string          `json:"entry" doc:"front or back, or empty for either"`
	Pace     Pace            `json:"pace"`
}

// Pace is how long jobs of the person who asks took, against what their ways promised: the median ratio, and of how many.
type Pace struct {
	Ratio float64 `json:"ratio"`
	N     int     `json:"n"`
}

// Ways finds the way to every part by the given objective, from the front, the back, or either side.
func (s *Service) Ways(ctx context.Context, who Actor, model, minimise, entry string) (Ways, error) {
	db := s.DB.WithContext(ctx)
	k, err := loadModel(db, model)
	if err != nil {
		return Ways{}, err
	}
	checks, err := checksFor(db, k.Model)
	if err != nil {
		return Ways{}, err
	}
	w := Ways{Model: k.Model, Parts: k.parts, Minimise: minimise, Ways: []Way{}, Missing: []string{}, Notice: hazard.Notice, Entry: entry}
	if w.Pace, err = pace(db, who.ID); err != nil {
		return Ways{}, err
	}
	if err := k.loadPhotos(db); err != nil {
		return Ways{}, err
	}
	q := k.question(minimise)
	q.Steps = fromSide(q.Steps, entry)
	found, err := route.All(q)
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

// fromSide leaves out the steps that open the phone from the other side: heat, cuts and levers there.
func fromSide(steps []route.Step, entry string) []route.Step {
	if entry == "" {
		return steps
	}
	gone := map[string]bool{}
	var kept []route.Step
	for _, s := range steps {
		if s.Side != "any" && s.Side != "" && s.Side != entry && slices.Contains([]string{"heat", "cut", "pry", "solvent"}, s.Do) {
			gone[s.ID] = true
			continue
		}
		kept = append(kept, s)
	}
	for again := true; again; { // what can no longer start goes with them
		again = false
		for i := 0; i < len(kept); i++ {
			var after [][]string
			for _, alt := range kept[i].After {
				if !slices.ContainsFunc(alt, func(id string) bool { return gone[id] }) {
					after = append(after, alt)
				}
			}
			if len(kept[i].After) > 0 && len(after) == 0 {
				gone[kept[i].ID], again = true, true
				kept = slices.Delete(kept, i, i+1)
				i--
				continue
			}
			kept[i].After = after
		}
	}
	return kept
}

// pace compares a person's told minutes with what was promised, over the latest thirty jobs.
func pace(db *gorm.DB, account string) (Pace, error) {
	rows, err := store.List[store.Outcome](db.Limit(30), "id DESC", "account_id = ? AND predicted > 0", account)
	var ratios []float64
	for _, o := range rows {
		ratios = append(ratios, o.Minutes/o.Predicted)
	}
	if len(ratios) == 0 {
		return Pace{Ratio: 1}, err
	}
	slices.Sort(ratios)
	return Pace{ratios[len(ratios)/2], len(ratios)}, err
}

// loadPhotos finds the pictures that were pinned to entries of the plan's steps.
func (k *knowledge) loadPhotos(db *gorm.DB) error {
	var rows []struct{ ID, StepID string }
	err := db.Table("photos").Select("photos.id, log_entries.step_id").Joins("JOIN log_entries ON log_entries.id = photos.entry_id").
		Joins("JOIN plan_steps ON plan_steps.id = log_entries.step_id").Where("plan_steps.model_id = ? AND photos.deleted_at IS NULL AND log_entries.deleted_at IS NULL", k.ID).
		Order("photos.id").Find(&rows).Error
	k.photos = map[string][]string{}
	for _, r := range rows {
		k.photos[r.StepID] = append(k.photos[r.StepID], r.ID)
	}
	return err
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
	w := Way{PartID: p.ID, Part: p.Name, Family: p.Family, Steps: []WayStep{}, Tools: []string{}, Out: []string{}, Survival: []Survival{},
		Odds: []Odds{}, Consumables: []string{}, Hidden: []string{}, Travels: k.travels(p)}
	if f.Err != nil {
		w.Blocked = k.checkPlan().Error()
		w.Answer = answer.Sentence{answer.Name(title(p.Name), ""), answer.Text(": no way, because its prerequisites can never be met.")}
		return w
	}
	for _, id := range f.Steps {
		s, e := k.step[id], k.estimate(k.step[id])
		wait := k.wait(s)
		w.Steps = append(w.Steps, WayStep{ID: s.ID, Mark: s.Mark, Verb: s.Verb, What: s.What, Tool: s.Tool, Side: s.Side, Joint: s.Joint, Drive: s.Drive, Count: s.Count, LengthMM: s.LengthMM,
			Seconds: e.Seconds, Runs: e.N, Frees: append([]string{}, s.Frees...), Cautions: k.cautions(s), DiameterMM: s.DiameterMM, WaitSeconds: wait.Seconds, WaitRuns: wait.N,
			Method: s.Method, Consumable: s.Consumable, Fastener: s.Fastener, Photos: append([]string{}, k.photos[s.ID]...)})
		if s.Consumable != "" && !slices.Contains(w.Consumables, s.Consumable) {
			w.Consumables = append(w.Consumables, s.Consumable)
		}
		if s.Fastener.HiddenUnder != "" {
			w.Hidden = append(w.Hidden, fmt.Sprintf("%s: %s, under %s", s.Mark, s.What, s.Fastener.HiddenUnder))
		}
		if n := k.tabs[s.ID]; n.N > 0 {
			w.Tabs = fmt.Sprintf("%d of %d tabs came out whole", n.K, n.N)
		}
		if s.Joint == "screw" || s.Joint == "post" {
			w.Screws += max(1, s.Count)
		}
		if e.N > 0 {
			w.Measured++
		}
	}
	w.Odds = k.odds(f.Steps)
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
	if len(w.Odds) > 0 {
		switch o := w.Odds[0]; {
		case o.N > 0:
			w.Answer = append(w.Answer, answer.Text(fmt.Sprintf("; %s hurt %d of %d by %s (", o.Part, o.K, o.N, o.Method)), answer.Range(100*o.Low, 100*o.High, "%", "#risk"), answer.Text(")"))
		default:
			w.Answer = append(w.Answer, answer.Text("; whether the "+o.Part+" survives "+o.Method+" was never counted"))
		}
	}
	w.Answer = append(w.Answer, answer.Text("."))
	return w
}

// travels lists what must move to a new part: its mate by serial, what rides on it, and what sits inside it.
func (k *knowledge) travels(p store.Part) []string {
	list := []string{}
	for _, o := range k.parts {
		switch {
		case o.ID == p.ID:
		case o.RidesOn != "" && strings.EqualFold(o.RidesOn, p.Name):
			list = append(list, o.Name+" (rides on it)")
		case o.Inside != "" && strings.EqualFold(o.Inside, p.Name):
			list = append(list, o.Name+" (sits in it)")
		case p.Mate != "" && strings.EqualFold(p.Mate, o.Name):
			list = append(list, o.Name+" (belongs to it by serial)")
		}
	}
	return list
}

// title makes the first letter large.
func title(s string) string {
	if s != "" && s[0] >= 'a' && s[0] <= 'z' {
		return string(s[0]-'a'+'A') + s[1:]
	}
	return s
}
