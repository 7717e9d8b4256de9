// Package gate answers before money is spent: may a job be taken, does a delivery pass, what is a donor phone worth.
package gate

import (
	"fmt"
	"math"
	"slices"

	"waryowl/internal/core/civil"
	"waryowl/internal/core/fault"
)

// Need is what a job takes. LeadDays are p50 and p90 until it is there; none: it is not to be had.
type Need struct {
	Item     string    `json:"item"`
	Kind     string    `json:"kind" enum:"part,consumable,tool"`
	Quantity *int      `json:"quantity,omitempty" minimum:"1"`
	Free     int       `json:"free,omitempty" doc:"on hand and not reserved"`
	LeadDays []float64 `json:"lead_days,omitempty" nullable:"false"`
}

// Hurt is what the job may damage.
type Hurt struct {
	Part string  `json:"part"`
	P    float64 `json:"p" minimum:"0"`
	Cost float64 `json:"cost" minimum:"0"`
}

// Job asks whether a job may be taken.
type Job struct {
	Today           string   `json:"today,omitempty" doc:"ISO date"`
	BenchDay        string   `json:"bench_day,omitempty" doc:"ISO date of the next free bench"`
	Needs           []Need   `json:"needs" nullable:"false"`
	Verdict         string   `json:"verdict" enum:"works,notice,adopted,loses,untested,dead,does_not_seat"`
	Eye             string   `json:"eye,omitempty" enum:"shut,half,open"`
	Build           string   `json:"build,omitempty"`
	Losses          []string `json:"losses,omitempty" nullable:"false"`
	Price           float64  `json:"price" minimum:"0"`
	PartsCost       float64  `json:"parts_cost,omitempty" minimum:"0"`
	AttendedSeconds float64  `json:"attended_seconds,omitempty" minimum:"0"`
	LabourPerHour   float64  `json:"labour_per_hour,omitempty" minimum:"0"`
	Hurts           []Hurt   `json:"hurts,omitempty" nullable:"false"`
	MinMargin       *float64 `json:"min_margin,omitempty"`
	MaxDays         *float64 `json:"max_days,omitempty" minimum:"0"`
}

// Reason is one thing that speaks against taking a job, or that the customer is told.
type Reason struct {
	Code  string `json:"code"`
	Item  string `json:"item"`
	Fact  string `json:"fact"`
	Grade string `json:"grade" enum:"take,take_later,ask,refuse"`
}

// Answer says whether, and until when. Likely uses the middle lead times.
type Answer struct {
	Answer       string   `json:"answer" enum:"take,take_later,ask,refuse"`
	Promise      string   `json:"promise"`
	Likely       string   `json:"likely"`
	PromiseP     float64  `json:"promise_p"`
	Margin       float64  `json:"margin"`
	MarginIfHurt float64  `json:"margin_if_hurt"`
	PHurt        float64  `json:"p_hurt"`
	Reasons      []Reason `json:"reasons" nullable:"false"`
}

// grades from the lightest.
var grades = []string{"take", "take_later", "ask", "refuse"}

// usualDays is the longest wait that a promise is made for (house).
const usualDays = 21

// Accept answers whether a job may be taken.
func Accept(in Job) (Answer, error) {
	out := Answer{PromiseP: 1, Reasons: []Reason{}}
	if len(in.Needs) > 200 {
		return out, fault.New("needs", len(in.Needs), "at most 200")
	}
	if len(in.Hurts) > 100 {
		return out, fault.New("hurts", len(in.Hurts), "at most 100")
	}
	verdicts := []string{"works", "notice", "adopted", "loses", "untested", "dead", "does_not_seat"}
	if !slices.Contains(verdicts, in.Verdict) {
		return out, fault.New("verdict", in.Verdict, "works, notice, adopted, loses, untested, dead, does_not_seat")
	}
	if in.Eye != "" && !slices.Contains([]string{"shut", "half", "open"}, in.Eye) {
		return out, fault.New("eye", in.Eye, "shut, half, open")
	}
	for name, x := range map[string]float64{"price": in.Price, "parts_cost": in.PartsCost, "attended_seconds": in.AttendedSeconds,
		"labour_per_hour": in.LabourPerHour} {
		if !(x >= 0) {
			return out, fault.New(name, x, "0 or more")
		}
	}
	most := float64(usualDays)
	if in.MaxDays != nil {
		if most = *in.MaxDays; !(most >= 0) {
			return out, fault.New("max_days", most, "0 or more")
		}
	}
	add := func(grade, code, item, fact string) {
		out.Reasons = append(out.Reasons, Reason{code, item, fact, grade})
	}
	late, longest, middle := 0, 0.0, 0.0
	for i, n := range in.Needs {
		at := fmt.Sprintf("needs[%d]", i)
		want := 1
		if n.Quantity != nil {
			want = *n.Quantity
		}
		switch {
		case n.Item == "":
			return out, fault.New(at+".item", n.Item, "what is needed")
		case !slices.Contains([]string{"part", "consumable", "tool"}, n.Kind):
			return out, fault.New(at+".kind", n.Kind, "part, consumable, tool")
		case want < 1:
			return out, fault.New(at+".quantity", want, "1 or more")
		case n.LeadDays != nil && len(n.LeadDays) != 2:
			return out, fault.New(at+".lead_days", fmt.Sprint(n.LeadDays), "two numbers, p50 and p90")
		case n.LeadDays != nil && !(n.LeadDays[0] >= 0 && n.LeadDays[0] <= n.LeadDays[1]):
			return out, fault.New(at+".lead_days", fmt.Sprint(n.LeadDays), "p50 of 0 or more, not above p90")
		}
		if n.Free >= want {
			continue
		}
		short := fmt.Sprintf("%d of %d free", n.Free, want)
		switch {
		case n.LeadDays == nil:
			add("refuse", "not_to_be_had", n.Item, short)
		case n.LeadDays[1] > most:
			add("refuse", "missing_"+n.Kind, n.Item, fmt.Sprintf("%s, %g days at 90 %%", short, n.LeadDays[1]))
		default:
			late++
			longest, middle = math.Max(longest, n.LeadDays[1]), math.Max(middle, n.LeadDays[0])
			add("take_later", "missing_"+n.Kind, n.Item, fmt.Sprintf("%s, %g to %g days", short, n.LeadDays[0], n.LeadDays[1]))
		}
	}
	out.PromiseP = math.Pow(0.9, float64(late))
	switch in.Verdict {
	case "works", "notice", "adopted":
		if in.Eye != "open" {
			add("ask", "evidence", "", "what happens on this build is not proven")
		}
		if in.Verdict == "notice" {
			add("take", "notice", "", "the phone shows a notice afterwards")
		}
	case "loses":
		for _, l := range in.Losses {
			add("ask", "loses", l, "this function is lost")
		}
		if len(in.Losses) == 0 {
			add("ask", "loses", "", "functions are lost")
		}
	case "untested":
		add("ask", "untested", "", "nobody tried it")
	default:
		add("refuse", in.Verdict, "", "the piece does not work here")
	}
	if in.Verdict != "loses" {
		for _, l := range in.Losses {
			add("take", "notice", l, "shown afterwards")
		}
	}
	plain := in.Price - in.PartsCost - in.AttendedSeconds/3600*in.LabourPerHour
	out.Margin = plain
	dearest, whole := 0.0, 1.0
	for i, h := range in.Hurts {
		if !(h.P >= 0 && h.P < 1) {
			return out, fault.New(fmt.Sprintf("hurts[%d].p", i), h.P, "a chance from 0 to below 1")
		}
		if !(h.Cost >= 0) {
			return out, fault.New(fmt.Sprintf("hurts[%d].cost", i), h.Cost, "0 or more")
		}
		out.Margin -= h.P * h.Cost
		dearest = math.Max(dearest, h.Cost)
		whole *= 1 - h.P
	}
	out.MarginIfHurt, out.PHurt = plain-dearest, 1-whole
	if in.MinMargin != nil && out.Margin < *in.MinMargin {
		add("refuse", "margin", "", fmt.Sprintf("%.0f is left, %.0f is wanted", out.Margin, *in.MinMargin))
	}
	if err := in.promise(&out, longest, middle, add); err != nil {
		return out, err
	}
	slices.SortStableFunc(out.Reasons, func(a, b Reason) int {
		return slices.Index(grades, b.Grade) - slices.Index(grades, a.Grade)
	})
	out.Answer = "take"
	if len(out.Reasons) > 0 {
		out.Answer = out.Reasons[0].Grade
	}
	if out.Answer == "refuse" {
		out.Promise, out.Likely = "", ""
	}
	return out, nil
}

// promise is the later of the bench day and the day on which all that is missing is there.
func (in Job) promise(out *Answer, longest, middle float64, add func(grade, code, item, fact string)) error {
	if in.Today == "" {
		if in.BenchDay != "" {
			if _, err := civil.Day("bench_day", in.BenchDay); err != nil {
				return err
			}
		}
		return nil
	}
	today, err := civil.Day("today", in.Today)
	if err != nil {
		return err
	}
	bench := today
	if in.BenchDay != "" {
		if bench, err = civil.Day("bench_day", in.BenchDay); err != nil {
			return err
		}
	}
	if bench > today {
		add("take_later", "bench_full", "", "the bench is free on "+in.BenchDay)
	}
	at := func(days float64) string {
		return civil.Date(max(bench, today+int(math.Ceil(min(days, 1e6)))))
	}
	out.Promise, out.Likely = at(longest), at(middle)
	return nil
}
