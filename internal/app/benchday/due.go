package benchday

import (
	"context"
	"fmt"
	"slices"
	"time"

	ics "github.com/arran4/golang-ical"
	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/core/day"
	"waryowl/internal/store"
)

// soon is how far ahead what passes its day is named.
const soon = 14 * 24 * time.Hour

// Due is something that is due besides the jobs of the day.
type Due struct {
	Text string    `json:"text"`
	On   time.Time `json:"on"`
	Late bool      `json:"late"`
	Room string    `json:"room" doc:"where it is seen to: jobs, stock, incoming"`
}

// dues are the promises, the cells and glues that pass their day, the pieces in quarantine and the lots to look at.
func dues(db *gorm.DB, w store.Workshop, date, now time.Time) ([]Due, error) {
	list := []Due{}
	end := date.Add(24 * time.Hour)
	work, err := store.List[store.Work](db.Limit(50), "promised_on, id",
		"promised_on IS NOT NULL AND promised_on < ? AND status IN ?", end,
		[]string{"asked", "promised", "parts ordered", "on the bench"})
	if err != nil {
		return nil, err
	}
	for _, x := range work {
		list = append(list, Due{Text: fmt.Sprintf("%s job%s was promised", x.Job, said(x.Ref)), On: *x.PromisedOn,
			Late: x.PromisedOn.Before(date), Room: "jobs"})
	}
	shelves, err := store.List[store.Shelf](db.Limit(50), "best_before, id",
		"quantity > 0 AND (best_before IS NOT NULL AND best_before < ? OR quarantine <> '')", end.Add(soon))
	if err != nil {
		return nil, err
	}
	for _, x := range shelves {
		what := fmt.Sprintf("%d %s, %s", x.Quantity, x.Item, x.Place)
		if x.Quarantine != "" {
			list = append(list, Due{Text: what + ": in quarantine, " + x.Quarantine, On: x.UpdatedAt, Room: "stock"})
		}
		if x.BestBefore != nil && x.BestBefore.Before(end.Add(soon)) {
			list = append(
				list,
				Due{Text: what + ": best before", On: *x.BestBefore, Late: x.BestBefore.Before(now), Room: "stock"},
			)
		}
	}
	lots, err := store.List[store.Delivery](db.Limit(50), "received_on, id", "inspected = 0")
	if err != nil {
		return nil, err
	}
	for _, x := range lots {
		list = append(
			list,
			Due{Text: fmt.Sprintf("lot %s, %d %s: not looked at", x.Lot, x.Size, x.Item), On: x.ReceivedOn,
				Late: now.Sub(x.ReceivedOn) > 7*24*time.Hour, Room: "incoming"},
		)
	}
	return list, nil
}

func said(ref string) string {
	if ref == "" {
		return ""
	}
	return " " + ref
}

// Calendar is the plan of a day and what is due, as iCalendar (RFC 5545): what takes hands or a machine, when a cure ends,
// what was promised, and more that is due.
func Calendar(ctx context.Context, s *act.Service, q Ask, more []Due) ([]byte, error) {
	v, err := Show(ctx, s, q)
	if err != nil {
		return nil, err
	}
	date, _ := ReadDate(q.Date)
	begins := date.Add(time.Duration(v.Open)*time.Second - time.Duration(q.Offset)*time.Minute)
	c := ics.NewCalendar()
	c.SetProductId("-//Wary Owl//bench day//EN")
	c.SetMethod(ics.MethodPublish)
	add := func(id, what string, from, to time.Time) *ics.VEvent {
		e := c.AddEvent(id + "@waryowl")
		e.SetDtStampTime(s.Now())
		e.SetStartAt(from)
		e.SetEndAt(to)
		e.SetSummary(what)
		return e
	}
	for _, a := range v.Acts {
		at := func(seconds int) time.Time { return begins.Add(time.Duration(seconds) * time.Second) }
		what := a.Title + ": " + a.Op
		switch {
		case a.Person != "":
			what += ", " + a.Person
		case a.Machine != "":
			what += ", " + a.Machine
		default:
			what += " ends"
		}
		from := at(a.Start)
		if a.Person == "" && a.Machine == "" { // a wait: what counts is its end
			from = at(a.End)
		}
		add(fmt.Sprintf("%s-%x", a.JobID, a.Op), what, from, at(a.End))
	}
	for i, d := range slices.Concat(v.Dues, more) {
		e := c.AddEvent(fmt.Sprintf("due-%s-%d@waryowl", q.Date, i))
		e.SetDtStampTime(s.Now())
		e.SetAllDayStartAt(d.On)
		e.SetSummary(d.Text)
	}
	return []byte(c.Serialize(ics.WithNewLineWindows)), nil
}

// Left is what a day has left: its seconds until closing time, and the studies of its phones that are not done, with what
// stands on their trays.
type Left struct {
	Seconds int
	Studies []string
	Jobs    map[string]string
}

// LeftOn says what a day has left.
func LeftOn(db *gorm.DB, now time.Time, q Ask) (Left, error) {
	v := Left{Jobs: map[string]string{}}
	date, err := ReadDate(q.Date)
	if err != nil {
		return v, err
	}
	w, err := workshop(db)
	if err != nil {
		return v, err
	}
	h := readHours(w.OpeningHours)
	begins := date.Add(time.Duration(h.open)*time.Second - time.Duration(q.Offset)*time.Minute)
	v.Seconds = max(0, h.close-h.open-max(0, int(now.Sub(begins).Seconds())))
	rows, err := store.List[store.BenchJob](db.Limit(60), "created_at, id", "day = ?", date)
	if err != nil {
		return v, err
	}
	studies, err := studiesOf(db, rows)
	for _, r := range rows {
		id := studies[r.UnitID]
		if done := len(r.Ops) > 0 && !slices.ContainsFunc(r.Ops, func(o store.BenchOp) bool { return o.Ended == nil }); id == "" ||
			done {
			continue
		}
		if v.Jobs[id] == "" {
			v.Studies = append(v.Studies, id)
			v.Jobs[id] = r.Title
		}
	}
	return v, err
}

// Promise is the first day on which a job with these operations fits beside what is planned, so that all is done by
// closing time nine times of ten; false when there is none within the days looked at.
func Promise(
	ctx context.Context,
	db *gorm.DB,
	ops []store.BenchOp,
	from time.Time,
	days int,
) (time.Time, float64, bool, error) {
	w, err := workshop(db)
	if err != nil {
		return from, 0, false, err
	}
	first := time.Date(from.Year(), from.Month(), from.Day(), 0, 0, 0, 0, time.UTC)
	rows, err := store.List[store.BenchJob](db.Limit(400), "day, created_at, id", "day >= ? AND day <= ?", first,
		first.AddDate(0, 0, days))
	if err != nil {
		return from, 0, false, err
	}
	h := readHours(w.OpeningHours)
	for d := range days + 1 {
		date := first.AddDate(0, 0, d)
		if !h.openOn(date) {
			continue
		}
		now := 0
		if d == 0 {
			now = max(0, from.Hour()*3600+from.Minute()*60-h.open)
		}
		var jobs []store.BenchJob
		for _, r := range rows {
			if r.Day.Equal(date) {
				r.Ops = settled(r.Ops)
				jobs = append(jobs, r)
			}
		}
		if now >= h.close-h.open || len(jobs) >= 60 {
			continue
		}
		jobs = append(
			jobs,
			store.BenchJob{Row: store.Row{ID: "asked"}, BenchJobFacts: store.BenchJobFacts{Title: "asked", Ops: ops}},
		)
		in := document(w, h, jobs, now)
		in.Effort, in.Runs = tryEffort, tryRuns
		out, err := day.SolveContext(ctx, in)
		if err != nil {
			if ctx.Err() != nil {
				return from, 0, false, err
			}
			continue // a day that contradicts itself promises nothing
		}
		if out.PDoneByClose >= enough {
			return date, out.PDoneByClose, true, nil
		}
	}
	return from, 0, false, nil
}
