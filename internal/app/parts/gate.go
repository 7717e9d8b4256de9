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
	Verdict  string          `json:"verdict" doc:"whether to take it, in words"`
	Why      []string        `json:"why" nullable:"false" doc:"what speaks against it, or for asking first"`
	Model    desk.Named      `json:"model"`
	Job      string          `json:"job"`
	Currency string          `json:"currency"`
	Found    gate.Answer     `json:"found"`
	Document gate.Job        `json:"document" doc:"the question as waryowl compute accept takes it"`
	Day      string          `json:"day,omitempty" doc:"when the bench days have room for it"`
	Priced   bool            `json:"priced" doc:"the price that the customer pays is on record"`
	Price    int64           `json:"price_minor"`
	Parts    int64           `json:"parts_minor"`
	Labour   int64           `json:"labour_minor"`
	Leaves   int64           `json:"leaves_minor" doc:"after what is damaged at times"`
	There    []There         `json:"there" nullable:"false" doc:"what must be there"`
	Bench    string          `json:"bench,omitempty" doc:"what closed jobs of this kind took"`
	Unknown  []string        `json:"unknown" nullable:"false" doc:"what is not on record and was left out"`
}

// There is something that a job needs: whether it lies in the workshop, where, and else when it comes.
type There struct {
	Item  string `json:"item"`
	Kind  string `json:"kind" enum:"part,consumable,tool"`
	Free  int    `json:"free" doc:"pieces that no other job waits for"`
	Place string `json:"place,omitempty"`
	Comes string `json:"comes,omitempty" doc:"in words, where none is free"`
}

// verdicts are the outcomes of a genuine piece in the words of the gate.
var verdicts = map[string]string{
	"works":      "works",
	"notice":     "notice",
	"calibrated": "adopted",
	"loses":      "loses",
	"dead":       "dead",
}

// JobOf is the common job that exchanges a part of a kind, "" for none.
func JobOf(kind string) string {
	for _, j := range []string{"battery", "screen", "back-glass", "port", "camera"} {
		if k, _ := kindOf(j); k == kind {
			return j
		}
	}
	return ""
}

// Gate asks whether a job on a model may be taken today. days: the bench days are asked as well, which takes longest.
func Gate(ctx context.Context, s *act.Service, modelID, job string, days bool) (GateRoom, error) {
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
		Why:      []string{},
		There:    []There{},
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
	unsettled := ""
	if f := r.Facts[v.Job+".genuine"]; f != nil && f.Known {
		in.Eye = f.Eye
		if x, ok := f.Value.Value.(string); ok {
			in.Verdict = verdicts[x]
		} else if len(f.Value.Among) > 0 {
			in.Verdict, in.Eye = verdicts[f.Value.Among[0]], "half" // the worst that is not ruled out
			unsettled = f.Words
		}
		if in.Losses = f.Lost; in.Verdict != "loses" {
			in.Losses = nil
		} else if len(in.Losses) == 0 { // a loss that nobody could name is none that was seen
			in.Verdict, unsettled = "untested", f.Words
		}
	}
	need := func(slot, what string) {
		n := gate.Need{Item: desk.Said(slot), Kind: what, Free: d.Free(modelID, slot, s.Now())}
		n.LeadDays = d.LeadNow(modelID, slot, s.Now())
		in.Needs = append(in.Needs, n)
		v.There = append(v.There, there(d, n, modelID, slot, s.Now()))
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
		way = k.WayTo(p.ID)
	}
	if way == nil || way.Blocked != "" {
		v.Unknown = append(v.Unknown, "the way, and with it its minutes and odds")
	} else {
		for _, c := range way.Consumables {
			need(desk.Slot(c), "consumable")
		}
		in.AttendedSeconds = 60 * way.HandsOnMinutes
		if took := d.Bench(modelID, v.Job); len(took) > 0 {
			v.Bench = fmt.Sprintf("%d closed %s took %.0f min on average, the way says %.0f, of which %.0f hands-on", len(took),
				plural(len(took), "job"), mean(took), way.ClosedMinutes, way.HandsOnMinutes)
			in.AttendedSeconds *= shrunk(way.ClosedMinutes, took) / way.ClosedMinutes
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
	if p != nil && days && len(d.Workshop.People) > 0 {
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
			v.There = append(v.There, there(d, n, modelID, "battery", s.Now()))
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
	for i, reason := range v.Found.Reasons {
		if reason.Code == "untested" && unsettled != "" {
			v.Found.Reasons[i].Fact = "needs a test: " + unsettled
		}
		if reason.Code == "margin" && in.MinMargin != nil {
			v.Found.Reasons[i].Fact = fmt.Sprintf("%s is left, %s is wanted", desk.Money(v.Found.Margin, v.Currency),
				desk.Money(*in.MinMargin, v.Currency))
		}
	}
	v.Priced, v.Price, v.Parts = known, int64(math.Round(price)), int64(math.Round(in.PartsCost))
	v.Labour = int64(math.Round(in.AttendedSeconds / 3600 * in.LabourPerHour))
	v.Leaves = int64(math.Round(v.Found.Margin))
	v.sentence(known)
	return v, nil
}

// there says where a need lies, or when it comes.
func there(d desk.Desk, n gate.Need, modelID, slot string, now time.Time) There {
	t := There{Item: n.Item, Kind: n.Kind, Free: n.Free}
	switch {
	case n.Free > 0:
		for _, x := range d.Shelves {
			if x.ModelID == modelID && x.Item == slot && x.Quantity > 0 && x.Quarantine == "" &&
				(x.BestBefore == nil || x.BestBefore.After(now)) {
				t.Place = x.Place
				break
			}
		}
	case n.LeadDays == nil:
		t.Comes = "nobody offers it"
	case n.LeadDays[1] <= 0:
		t.Comes = "comes today"
	default:
		t.Comes = fmt.Sprintf("comes in %g to %g days", n.LeadDays[0], n.LeadDays[1])
	}
	return t
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
	v.Verdict = map[string]string{"take": "Take it", "take_later": "Take it for later", "ask": "Ask first"}[v.Found.Answer]
	if v.Verdict == "" {
		v.Verdict = "Do not take it"
	}
	v.Answer = answer.Sentence{answer.Text(v.Verdict)}
	if v.Found.Answer == "take_later" {
		v.Answer = append(v.Answer, answer.Text(": promise "), answer.Name(v.Found.Promise, "#gate"),
			answer.Text(fmt.Sprintf(", likely %s, kept in %.0f of 100", v.Found.Likely, 100*v.Found.PromiseP)))
	}
	var why []string
	v.Why = []string{}
	for _, r := range v.Found.Reasons {
		if r.Grade == v.Found.Answer && r.Grade != "take" {
			why = append(why, strings.TrimSpace(ReasonWords(r.Code)+" "+r.Item))
			v.Why = append(v.Why, reason(r.Code, r.Item, r.Fact))
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

// reason says why the gate does not just say yes.
func reason(code, item, fact string) string {
	switch code {
	case "untested", "evidence", "loses", "margin", "bench_full":
		text := ReasonWords(code)
		if code == "loses" && item != "" {
			text += " " + item
		}
		if fact != "" && code != "loses" {
			text += " (" + fact + ")"
		}
		return text
	}
	return strings.TrimSpace(ReasonWords(code) + " " + item + ", " + fact)
}
