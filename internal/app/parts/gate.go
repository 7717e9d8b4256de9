package parts

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"waryowl/internal/app/act"
	"waryowl/internal/app/benchday"
	"waryowl/internal/app/desk"
	"waryowl/internal/app/model"
	"waryowl/internal/app/rating"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/fault"
	"waryowl/internal/core/gate"
	"waryowl/internal/store"

	"gorm.io/gorm"
)

// GateRoom says whether a job may be taken.
type GateRoom struct {
	Answer   answer.Sentence `json:"answer" nullable:"false"`
	Model    desk.Named      `json:"model"`
	Job      string          `json:"job"`
	Currency string          `json:"currency"`
	Found    gate.Answer     `json:"found"`
	Document gate.Job        `json:"document" doc:"the question as waryowl compute accept takes it"`
	Day      string          `json:"day,omitempty" doc:"when the bench days have room for it"`
	Bench    string          `json:"bench,omitempty" doc:"what closed jobs of this kind took"`
	Unknown  []string        `json:"unknown" nullable:"false" doc:"what is not on record and was left out"`
}

// verdicts are the outcomes of a genuine piece in the words of the gate.
var verdicts = map[string]string{
	"works":      "works",
	"notice":     "notice",
	"calibrated": "adopted",
	"loses":      "loses",
	"dead":       "dead",
}

// Gate asks whether a job on a model may be taken today.
func Gate(ctx context.Context, s *act.Service, modelID, job string) (GateRoom, error) {
	db := s.DB.WithContext(ctx)
	kind, known := kindOf(job)
	if !known {
		return GateRoom{}, fault.New("job", job, "battery, screen, back-glass, port or camera")
	}
	facts, err := rating.Load(db, []string{modelID}, s.Now().Format(time.DateOnly))
	if err != nil {
		return GateRoom{}, err
	}
	r := facts[modelID]
	if r == nil {
		return GateRoom{}, store.ErrNotFound
	}
	k := r.Know
	d, err := desk.Load(db, []string{modelID}, false)
	if err != nil {
		return GateRoom{}, err
	}
	v := GateRoom{
		Model:    desk.Named{ID: k.ID, Name: k.Maker + " " + k.Name},
		Job:      desk.Slot(job),
		Currency: d.Workshop.Currency,
		Unknown:  []string{},
	}
	in := gate.Job{Today: s.Now().Format(time.DateOnly), LabourPerHour: float64(d.Workshop.LabourMinor), Build: r.Build,
		Verdict: "untested", Eye: "shut"}
	if d.Workshop.NextBench != nil && d.Workshop.NextBench.After(s.Now()) {
		in.BenchDay = d.Workshop.NextBench.Format(time.DateOnly)
	}
	if d.Workshop.MaxDays > 0 {
		x := float64(d.Workshop.MaxDays)
		in.MaxDays = &x
	}
	if d.Workshop.MinMarginMinor > 0 {
		x := float64(d.Workshop.MinMarginMinor)
		in.MinMargin = &x
	}
	if f := r.Facts[v.Job+".genuine"]; f != nil && f.Known {
		in.Eye = f.Eye
		if x, ok := f.Value.Value.(string); ok {
			in.Verdict = verdicts[x]
		} else if len(f.Value.Among) > 0 {
			in.Verdict, in.Eye = verdicts[f.Value.Among[0]], "half" // the worst that is not ruled out
		}
		if in.Verdict == "loses" {
			in.Losses = f.Lost
			if len(in.Losses) == 0 {
				in.Losses = []string{"which one is not known: " + f.Words}
			}
		}
	}
	need := func(slot, what string) {
		n := gate.Need{Item: desk.Said(slot), Kind: what, Free: d.Free(modelID, slot, s.Now())}
		n.LeadDays = d.LeadNow(modelID, slot, s.Now())
		in.Needs = append(in.Needs, n)
		if what != "tool" {
			if cost, ok := d.Cheapest(slot); ok {
				in.PartsCost += cost
			} else {
				v.Unknown = append(v.Unknown, "price of the "+desk.Said(slot))
			}
		}
	}
	need(kind, "part")
	p := k.OfKind(kind)
	var way *model.Way
	if p != nil {
		way = k.WayTo(p.ID, nil)
	}
	if way == nil || way.Blocked != "" {
		v.Unknown = append(v.Unknown, "the way, and with it its minutes and odds")
	} else {
		for _, c := range way.Consumables {
			need(desk.Slot(c), "consumable")
		}
		in.AttendedSeconds = 60 * (r.Likeliest(v.Job + ".minutes"))
		if took := d.Bench(modelID, v.Job); len(took) > 0 {
			v.Bench = fmt.Sprintf("%d closed %s took %.0f min on average; the way alone says %.0f", len(took),
				plural(len(took), "job"), mean(took), in.AttendedSeconds/60)
			in.AttendedSeconds = 60 * shrunk(in.AttendedSeconds/60, took)
		}
		for _, o := range way.Odds {
			cost := 0.0
			if hurt := k.PartNamed(o.Part); hurt != nil {
				cost, _ = d.Cheapest(desk.Slot(k.Kind(hurt.ID)))
			}
			if cost == 0 {
				v.Unknown = append(v.Unknown, "what a damaged "+o.Part+" costs")
				continue
			}
			in.Hurts = append(in.Hurts, gate.Hurt{Part: o.Part, P: math.Min(o.Used, 0.999), Cost: cost})
		}
	}
	if p != nil && len(d.Workshop.People) > 0 {
		if err := v.ask(ctx, db, s, k, p.ID, d.Workshop.Machines, &in); err != nil {
			return v, err
		}
	}
	if v.Job == "screen" { // a screen job often ends with a battery: one must be in reach (common practice, no source)
		n := gate.Need{
			Item:     "battery (a screen job may need one)",
			Kind:     "part",
			Free:     d.Free(modelID, "battery", s.Now()),
			LeadDays: d.LeadNow(modelID, "battery", s.Now()),
		}
		if n.Free == 0 && n.LeadDays == nil {
			v.Unknown = append(v.Unknown, "whether a battery can be had")
		} else {
			in.Needs = append(in.Needs, n)
		}
	}
	price, known := d.Price(modelID, v.Job)
	if !known {
		v.Unknown = append(v.Unknown, "what the customer pays")
		in.MinMargin = nil
	}
	in.Price = price
	v.Document = in
	if v.Found, err = gate.Accept(in); err != nil {
		return v, err
	}
	if !known { // the margin of a job without a price is no margin
		v.Found.Reasons = slices.DeleteFunc(v.Found.Reasons, func(r gate.Reason) bool { return r.Code == "margin" })
		v.Found.Answer = "take"
		for _, r := range v.Found.Reasons {
			if rank(r.Grade) > rank(v.Found.Answer) {
				v.Found.Answer = r.Grade
			}
		}
	}
	v.sentence(known)
	return v, nil
}

// ask asks the bench day when the job fits beside what is planned: a promise is made from chances, not from usual times.
func (v *GateRoom) ask(ctx context.Context, db *gorm.DB, s *act.Service, k *model.Record, part string,
	machines []store.BenchMachine, in *gate.Job) error {
	now := s.Now()
	ops, err := benchday.OpsOf(k, part, machines)
	if err != nil { // no way: that is among what is not known already
		return nil
	}
	days := 21
	if in.MaxDays != nil {
		days = int(*in.MaxDays)
	}
	day, p, found, err := benchday.Promise(ctx, db, ops, now, min(days, 21))
	switch {
	case err != nil:
		return err
	case !found:
		v.Unknown = append(v.Unknown, fmt.Sprintf("a bench day within %d days on which this would be done", days))
	default:
		v.Day = fmt.Sprintf("By the bench days it fits on %s: all that is planned there is closed in time in %.0f of 100",
			day.Format(time.DateOnly), 100*p)
		if text := day.Format(time.DateOnly); text > in.Today && text > in.BenchDay {
			in.BenchDay = text
		}
	}
	return nil
}

// ownJobs is how many closed jobs the minutes of the way stand for (house).
const ownJobs = 3

// shrunk are the minutes of a job: those of the way, moved by what closed jobs took.
func shrunk(way float64, took []float64) float64 {
	if way <= 0 {
		return mean(took)
	}
	return (ownJobs*way + mean(took)*float64(len(took))) / (ownJobs + float64(len(took)))
}

func mean(list []float64) float64 {
	sum := 0.0
	for _, x := range list {
		sum += x
	}
	return sum / float64(len(list))
}

func plural(n int, what string) string {
	if n == 1 {
		return what
	}
	return what + "s"
}

func rank(grade string) int {
	return slices.Index([]string{"take", "take_later", "ask", "refuse"}, grade)
}

func (v *GateRoom) sentence(priced bool) {
	switch v.Found.Answer {
	case "take":
		v.Answer = answer.Sentence{answer.Text("Take it")}
	case "take_later":
		v.Answer = answer.Sentence{answer.Text("Take it for later: promise "), answer.Name(v.Found.Promise, "#gate"),
			answer.Text(fmt.Sprintf(", likely %s, kept in %.0f of 100", v.Found.Likely, 100*v.Found.PromiseP))}
	case "ask":
		v.Answer = answer.Sentence{answer.Text("Ask first")}
	default:
		v.Answer = answer.Sentence{answer.Text("Do not take it")}
	}
	var why []string
	for _, r := range v.Found.Reasons {
		if r.Grade == v.Found.Answer && r.Grade != "take" {
			why = append(why, strings.TrimSpace(ReasonWords(r.Code)+" "+r.Item))
		}
	}
	if len(why) > 0 {
		v.Answer = append(v.Answer, answer.Text(": "+strings.Join(why[:min(3, len(why))], "; ")))
	}
	if priced {
		v.Answer = append(
			v.Answer,
			answer.Text("; it leaves "),
			answer.Name(desk.Money(math.Round(v.Found.Margin), v.Currency), "#gate"),
		)
	}
	v.Answer = append(v.Answer, answer.Text("."))
}

// ReasonWords says a code of the gate.
func ReasonWords(code string) string {
	return map[string]string{"missing_part": "missing:", "missing_consumable": "missing:", "missing_tool": "missing tool:",
		"not_to_be_had": "not to be had:", "bench_full": "the bench is full until", "evidence": "shown only in part",
		"loses":    "a function is lost:",
		"untested": "what is lost with a replacement is untested", "dead": "a replacement does not start",
		"does_not_seat": "a replacement does not go in",
		"margin":        "it leaves too little", "notice": "a notice will show"}[code]
}
