package model

import (
	"cmp"
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
	BootSeconds  = 120
	checkSeconds = 20
)

// WayStep is one step of a way, with its time and how many runs stand behind it (0: predicted).
type WayStep struct {
	ID       string           `json:"id"`
	Mark     string           `json:"mark"`
	Verb     string           `json:"verb"`
	What     string           `json:"what"`
	Part     string           `json:"part,omitempty" doc:"id of the part that it is about"`
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
	Late        float64        `json:"late" doc:"seconds within which it ends in nine cases of ten"`
	WaitLate    float64        `json:"wait_late,omitempty"`
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
	AttendedMinutes float64         `json:"attended_minutes" doc:"hands-on, to the part"`
	ElapsedMinutes  float64         `json:"elapsed_minutes" doc:"to the part, waits with it"`
	HandsOnMinutes  float64         `json:"hands_on_minutes" doc:"hands-on, of the whole repair"`
	WaitMinutes     float64         `json:"wait_minutes" doc:"that need nobody, of the whole repair"`
	ClosedMinutes   float64         `json:"closed_minutes" doc:"to closed and tested: hands-on and waits"`
	ToolChanges     int             `json:"tool_changes"`
	Flips           int             `json:"flips"`
	Screws          int             `json:"screws"`
	Tools           []string        `json:"tools" nullable:"false"`
	Survival        []Survival      `json:"survival" nullable:"false"`
	Odds            []Odds          `json:"odds" nullable:"false"`
	Consumables     []string        `json:"consumables" nullable:"false"`
	Hidden          []string        `json:"hidden" nullable:"false" doc:"screws that hide, and under what"`
	Travels         []string        `json:"travels" nullable:"false" doc:"what must move to the new part"`
	Tabs            string          `json:"tabs,omitempty" doc:"pull tabs that came out whole, of all counted"`
	Measured        int             `json:"measured" doc:"steps with at least one timed run"`
	Proven          bool            `json:"proven" doc:"no way of the plan as learned is better"`
	Once            bool            `json:"once" doc:"learned from one phone: other orders are unknown"`
	Objective       float64         `json:"objective"`
	Bound           float64         `json:"bound"`
	Blocked         string          `json:"blocked,omitempty"`

	CureSeconds  float64 `json:"-"` // that a new seal stays clamped; 0: nothing is sealed
	CheckSeconds float64 `json:"-"` // of the checks of what the repair touches
}

// LoadPhotos finds the pictures that were pinned to entries of the plan's steps.
func (k *Record) LoadPhotos(db *gorm.DB) error {
	var rows []struct{ ID, StepID string }
	err := db.Table("photos").Select("photos.id, log_entries.step_id").Joins("JOIN log_entries ON log_entries.id = "+
		"photos.entry_id").
		Joins("JOIN plan_steps ON plan_steps.id = log_entries.step_id").Where("plan_steps.model_id = ? AND "+
		"photos.deleted_at IS NULL AND log_entries.deleted_at IS NULL", k.ID).
		Order("photos.id").Find(&rows).Error
	k.Photos = map[string][]string{}
	for _, r := range rows {
		k.Photos[r.StepID] = append(k.Photos[r.StepID], r.ID)
	}
	return err
}

// CommonJobs are the kinds that about 90 % of what a workshop does is about, with the port (common practice, no
// source).
var CommonJobs = []string{"battery", "display", "charge-port"}

// Commonness ranks a kind by its place among the common jobs; all others come after them.
func Commonness(kind string) int {
	if k := slices.Index(CommonJobs, kind); k >= 0 {
		return k
	}
	return len(CommonJobs)
}

// Question asks the route engine about this plan; the goal is still to be named.
func (k *Record) Question(minimise string) route.Input {
	return route.Input{Steps: k.routeSteps(), Minimise: minimise, ToolChangeSeconds: toolChangeSeconds,
		FlipSeconds: flipSeconds}
}

// WayTo is the way to one part, or nil when no step frees it.
func (k *Record) WayTo(part string) *Way {
	q := k.Question(route.Attended)
	q.Goal = []string{part}
	out, err := route.SolveContext(k.Context(), q)
	if _, blocked := err.(*route.Unreachable); err != nil && !blocked {
		return nil
	}
	w := k.Way(route.Way{Part: part, Output: out, Err: err})
	return &w
}

// Touched are the checks of what a repair comes near: those that the parts of its steps and the new one carry, the start,
// and the edge where it was sealed. Whatever else works is not in doubt by it.
func (k *Record) Touched(part string, steps []string) []store.Check {
	marks := map[string]bool{"boot": true, "seal": k.cure(steps) > 0}
	carries := func(part string) {
		for _, mark := range k.Carries(part) {
			marks[mark] = true
		}
	}
	carries(part)
	for _, id := range steps {
		carries(k.About(id))
		for _, p := range k.StepByID[id].Frees {
			carries(p)
		}
	}
	return slices.DeleteFunc(slices.Clone(k.Checks), func(c store.Check) bool { return !marks[c.Mark] })
}

// cure is how long a new seal stays clamped after these steps: a glue that held by itself, not a pull tab or a tape.
func (k *Record) cure(steps []string) float64 {
	for _, id := range steps {
		if s := k.StepByID[id]; s.Joint == "adhesive" && s.Consumable != "" {
			return worktime.Cure
		}
	}
	return 0
}

// CheckTime is the seconds that all checks take.
func CheckTime(checks []store.Check) float64 {
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

// once says that a way is what one phone's log taught: one order, not knowledge of which steps must come first.
func (k *Record) once(steps []string) bool {
	taught := false
	phones := map[string]bool{}
	for _, id := range steps {
		taught = taught || k.learned[id]
		for _, u := range k.phones[id] {
			phones[u] = true
		}
	}
	return taught && len(phones) < 2
}

// Way says a route in the words of the plan.
func (k *Record) Way(f route.Way) Way {
	p := k.PartByID[f.Part]
	w := Way{PartID: p.ID, Part: p.Name, Family: p.Family, Steps: []WayStep{}, Tools: []string{},
		Survival: []Survival{},
		Odds:     []Odds{}, Consumables: []string{}, Hidden: []string{}, Travels: k.travels(p)}
	if f.Err != nil {
		w.Blocked = k.CheckPlan().Error()
		w.Answer = answer.Sentence{answer.Name(answer.Title(p.Name), ""),
			answer.Text(": no way, because its prerequisites can never be met.")}
		return w
	}
	for _, id := range f.Steps {
		s, e := k.StepByID[id], k.Estimate(k.StepByID[id])
		wait := k.Wait(s)
		late, waitLate := k.Late(s)
		w.Steps = append(w.Steps, WayStep{ID: s.ID, Mark: s.Mark, Verb: s.Verb, What: s.What,
			Part: k.about()[s.ID], Tool: s.Tool,
			Side: s.Side, Joint: s.Joint, Drive: s.Drive, Count: s.Count, LengthMM: s.LengthMM,
			Seconds: e.Seconds, Runs: e.N, Frees: append([]string{}, s.Frees...), Cautions: k.Cautions(s),
			DiameterMM: s.DiameterMM, WaitSeconds: wait.Seconds, WaitRuns: wait.N, Late: late, WaitLate: waitLate,
			Method: s.Method, Consumable: s.Consumable, Fastener: s.Fastener, Photos: append([]string{},
				k.Photos[s.ID]...)})
		if s.Consumable != "" && !slices.Contains(w.Consumables, s.Consumable) {
			w.Consumables = append(w.Consumables, s.Consumable)
		}
		if s.Fastener.HiddenUnder != "" {
			w.Hidden = append(w.Hidden, fmt.Sprintf("%s: %s, under %s", s.Mark, s.What, s.Fastener.HiddenUnder))
		}
		if n := k.tabs[s.ID]; n.N > 0 {
			w.Tabs = fmt.Sprintf("%d of %d tabs came out whole", n.K, n.N)
		}
		w.Screws += k.Step(s).Screws()
		if e.N > 0 {
			w.Measured++
		}
	}
	w.Odds = k.Odds(f.Steps)
	for id, v := range f.Survival {
		w.Survival = append(w.Survival, Survival{k.PartByID[id].Name, v})
	}
	slices.SortFunc(w.Survival, func(a, b Survival) int {
		return cmp.Or(cmp.Compare(a.P, b.P), strings.Compare(a.Part, b.Part))
	})
	w.Depth, w.ToolChanges, w.Flips, w.Tools = f.Depth, f.ToolChanges, f.Flips, f.Tools
	w.AttendedMinutes = f.AttendedSeconds / 60
	w.CureSeconds, w.CheckSeconds = k.cure(f.Steps), CheckTime(k.Touched(f.Part, f.Steps))
	whole := worktime.Whole(f.AttendedSeconds, f.ElapsedSeconds-f.AttendedSeconds, w.CureSeconds, BootSeconds, w.CheckSeconds)
	w.ElapsedMinutes, w.HandsOnMinutes = whole.In/60, whole.HandsOn/60
	w.WaitMinutes, w.ClosedMinutes = whole.Waits/60, whole.Closed/60
	w.Proven, w.Objective, w.Bound = f.Proven, f.Objective, f.Bound
	w.Once = k.once(f.Steps)
	w.Answer = answer.Sentence{answer.Name(answer.Title(p.Name), ""), answer.Text(": "),
		answer.Count(len(w.Steps), "step", "#steps"), answer.Text(", "),
		answer.Count(len(w.Tools), "tool", "#tools"), answer.Text(", to the part "),
		answer.Number(w.ElapsedMinutes, "min", "#time"), answer.Text(", whole repair "),
		answer.Number(w.ClosedMinutes, "min", "#time")}
	if len(w.Odds) > 0 {
		switch o := w.Odds[0]; {
		case o.N > 0:
			w.Answer = append(w.Answer, answer.Text("; "+Damaged(o)))
			if o.N >= FewTries {
				w.Answer = append(w.Answer, answer.Text(" ("), answer.Range(100*o.Low, 100*o.High, "%", "#risk"),
					answer.Text(")"))
			}
		default:
			w.Answer = append(w.Answer, answer.Text("; whether the "+o.Part+" survives "+o.Method+" was never counted"))
		}
	}
	w.Answer = append(w.Answer, answer.Text("."))
	return w
}

// travels lists what must move to a new part: its mate by serial, what rides on it, and what sits inside it.
func (k *Record) travels(p store.Part) []string {
	list := []string{}
	for _, o := range k.Parts {
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
