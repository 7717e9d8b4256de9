// Package benchday is the bench day: the jobs of a day on one plan of hands and machines, kept by what was really done.
package benchday

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"gorm.io/gorm"

	"waryowl/internal/app/act"
	"waryowl/internal/core/answer"
	"waryowl/internal/core/day"
	"waryowl/internal/core/fault"
	"waryowl/internal/store"
)

// enough is from which chance on a day, and a job of it, is promised (house).
const enough = 0.9

// What a plan may cost to find: a room is asked again at each fact.
const (
	roomEffort = 400_000
	tryEffort  = 60_000
	roomRuns   = 2000
	tryRuns    = 500
)

// Ask is which day, and how many minutes east of Greenwich its clock runs. Keep is the order of the last plan.
type Ask struct {
	Date   string
	Offset int
	Keep   []string
}

// JobView is a job of the day with its chance.
type JobView struct {
	store.BenchJob
	Study  string  `json:"study_id,omitempty" doc:"of the phone whose log counts"`
	State  string  `json:"state" enum:"waiting,on the bench,done"`
	Ends   int     `json:"ends" doc:"seconds since opening, by the plan"`
	OnTime float64 `json:"on_time" doc:"chance that it is done by when it is due"`
}

// Act is an operation of the plan in words.
type Act struct {
	JobID   string `json:"job_id"`
	Title   string `json:"title"`
	Op      string `json:"op"`
	Start   int    `json:"start"`
	End     int    `json:"end"`
	Person  string `json:"person,omitempty"`
	Machine string `json:"machine,omitempty"`
	Unit    int    `json:"unit,omitempty"`
	State   string `json:"state" enum:"planned,running,done"`
	Over    int    `json:"over,omitempty" doc:"seconds that a running one is longer than usual"`
	Heats   bool   `json:"heats,omitempty" doc:"what comes after it must start within its time"`
}

// Drop is a job that could wait for another day, and what the chance of the rest would be then.
type Drop struct {
	JobID string  `json:"job_id"`
	Title string  `json:"title"`
	P     float64 `json:"p"`
}

// Room is the bench day.
type Room struct {
	Answer   answer.Sentence      `json:"answer" nullable:"false"`
	Date     string               `json:"date"`
	Open     int                  `json:"open" doc:"seconds of the day"`
	Close    int                  `json:"close" doc:"seconds since opening"`
	Now      int                  `json:"now" doc:"seconds since opening; -1: not today"`
	Jobs     []JobView            `json:"jobs" nullable:"false"`
	Acts     []Act                `json:"acts" nullable:"false" doc:"by start"`
	Next     []Act                `json:"next" nullable:"false" doc:"what starts next"`
	People   []store.BenchPerson  `json:"people" nullable:"false"`
	Machines []store.BenchMachine `json:"machines" nullable:"false"`
	Version  int                  `json:"workshop_version"`
	Said     []string             `json:"said" nullable:"false" doc:"what collides, what cooled, what it saves"`
	Asks     []string             `json:"asks" nullable:"false" doc:"what is not on record, and what is assumed for it"`
	Drops    []Drop               `json:"drops" nullable:"false"`
	Later    string               `json:"later,omitempty" doc:"the next day with jobs, where this one has none"`
	Dues     []Due                `json:"dues" nullable:"false" doc:"what else is due"`
	Found    day.Output           `json:"found"`
	Problem  string               `json:"problem,omitempty" doc:"why there is no plan"`
	Document day.Input            `json:"document" doc:"the question as waryowl compute day takes it"`
}

// ReadDate reads a day.
func ReadDate(text string) (time.Time, error) {
	d, err := time.Parse(time.DateOnly, text)
	if err != nil {
		return d, fault.New("date", text, "a day such as 2026-11-27")
	}
	return d, nil
}

func workshop(db *gorm.DB) (store.Workshop, error) {
	rows, err := store.List[store.Workshop](db.Limit(1), "id", "1 = 1")
	if err != nil || len(rows) == 0 {
		return store.Workshop{}, err
	}
	return rows[0], nil
}

// Show plans a day from its present state.
func Show(ctx context.Context, s *act.Service, q Ask) (Room, error) {
	date, err := ReadDate(q.Date)
	if err != nil {
		return Room{}, err
	}
	db := s.DB.WithContext(ctx)
	w, err := workshop(db)
	if err != nil {
		return Room{}, err
	}
	rows, err := store.List[store.BenchJob](db.Limit(60), "created_at, id", "day = ?", date)
	if err != nil {
		return Room{}, err
	}
	h := readHours(w.OpeningHours)
	v := Room{
		Date:     q.Date,
		Open:     h.open,
		Close:    h.close - h.open,
		Now:      -1,
		Jobs:     []JobView{},
		Acts:     []Act{},
		Next:     []Act{},
		People:   w.People,
		Machines: w.Machines,
		Version:  w.Version,
		Said:     []string{},
		Asks:     []string{},
		Drops:    []Drop{},
		Dues:     []Due{},
	}
	if v.People == nil {
		v.People = []store.BenchPerson{}
	}
	if v.Machines == nil {
		v.Machines = []store.BenchMachine{}
	}
	begins := date.Add(time.Duration(h.open)*time.Second - time.Duration(q.Offset)*time.Minute)
	now := 0
	if at := int(s.Now().Sub(begins).Seconds()); at > -h.open && at <= 86400-h.open {
		v.Now, now = max(0, at), max(0, at)
	}
	if v.Dues, err = dues(db, w, date, s.Now()); err != nil {
		return v, err
	}
	if !h.typed {
		v.Asks = append(v.Asks, "Opening hours are not set: 08:00 to 17:00 is assumed.")
	}
	if len(w.People) == 0 {
		v.Asks = append(v.Asks, "No people on record: planned with one pair of hands.")
	}
	if !h.openOn(date) {
		v.Asks = append(v.Asks, "The workshop does not open on this weekday.")
	}
	if err := logged(db, rows, begins, date); err != nil {
		return v, err
	}
	if err := visited(db, rows, begins); err != nil {
		return v, err
	}
	studies, err := studiesOf(db, rows)
	if err != nil {
		return v, err
	}
	for i := range rows {
		rows[i].Ops = settled(rows[i].Ops)
		for _, o := range rows[i].Ops { // what was told has happened, whatever the clock says
			for _, at := range []*int{o.Started, o.Ended} {
				if at != nil {
					now = max(now, *at)
				}
			}
		}
	}
	for i := range rows {
		if v.Now >= 0 {
			var again []string
			rows[i].Ops, again = cooled(rows[i].Ops, now)
			for _, op := range again {
				v.Said = append(
					v.Said,
					fmt.Sprintf("%s: the time after %s has run out, heat it again.", rows[i].Title, op),
				)
			}
		}
	}
	v.Document = document(w, h, rows, now)
	v.Document.Keep, v.Document.Effort, v.Document.Runs = q.Keep, roomEffort, roomRuns
	if len(rows) == 0 {
		v.Found = day.Output{Plan: []day.Step{}, First: []string{}, Collisions: []day.Collision{}, Cooled: []string{},
			POnTime: map[string]float64{}}
		v.Answer = answer.Sentence{answer.Text("No job is on this day yet.")}
		later, err := store.List[store.BenchJob](db.Limit(1), "day, id", "day > ?", date)
		if err != nil {
			return v, err
		}
		if len(later) > 0 {
			v.Later = later[0].Day.UTC().Format(time.DateOnly)
		}
		return v, nil
	}
	var wrong *fault.Fault
	if v.Found, err = day.SolveContext(ctx, v.Document); errors.As(err, &wrong) {
		v.Problem = err.Error()
		v.Found = day.Output{Plan: []day.Step{}, First: []string{}, Collisions: []day.Collision{}, Cooled: []string{},
			POnTime: map[string]float64{}}
	} else if err != nil {
		return v, err
	}
	v.lay(rows, studies)
	v.say(h)
	if v.Problem == "" && v.Found.PDoneByClose < enough {
		v.drops(ctx, rows)
	}
	return v, nil
}

// lay sets the plan beside the jobs.
func (v *Room) lay(rows []store.BenchJob, studies map[string]string) {
	titles := map[string]*store.BenchJob{}
	ends := map[string]int{}
	for i := range rows {
		titles[rows[i].ID] = &rows[i]
	}
	for _, st := range v.Found.Plan {
		r := titles[st.Job]
		o := r.Ops[slices.IndexFunc(r.Ops, func(o store.BenchOp) bool { return o.ID == st.Op })]
		a := Act{
			JobID:   st.Job,
			Title:   r.Title,
			Op:      st.Op,
			Start:   st.Start,
			End:     st.End,
			Person:  st.Person,
			Machine: st.Machine,
			Unit:    st.Unit,
			State:   "planned",
		}
		a.Heats = slices.ContainsFunc(r.Ops, func(n store.BenchOp) bool {
			return slices.ContainsFunc(
				n.After,
				func(x store.BenchAfter) bool { return x.Op == o.ID && x.Within != nil },
			)
		})
		switch {
		case o.Ended != nil:
			a.State = "done"
		case o.Started != nil:
			a.State = "running"
			a.Over = max(0, v.Now-*o.Started-o.P50)
		}
		ends[st.Job] = max(ends[st.Job], st.End)
		v.Acts = append(v.Acts, a)
		if slices.Contains(v.Found.First, st.Job+"/"+st.Op) {
			v.Next = append(v.Next, a)
		}
	}
	if v.Problem != "" { // what was told can be corrected all the same
		for _, r := range rows {
			for _, o := range r.Ops {
				if o.Started != nil {
					a := Act{
						JobID:  r.ID,
						Title:  r.Title,
						Op:     o.ID,
						Start:  *o.Started,
						End:    *o.Started + o.P50,
						Person: o.Person,
						State:  "running",
					}
					if o.Ended != nil {
						a.End, a.State = *o.Ended, "done"
					}
					v.Acts = append(v.Acts, a)
				}
			}
		}
	}
	if len(v.Next) == 0 || v.Next[0].State != "planned" {
		v.Next = nextOf(v.Acts)
	}
	for _, r := range rows {
		j := JobView{BenchJob: r, Study: studies[r.UnitID], State: "waiting", Ends: ends[r.ID], OnTime: v.Found.POnTime[r.ID]}
		started, done := 0, 0
		for _, o := range r.Ops {
			if o.Started != nil {
				started++
			}
			if o.Ended != nil {
				done++
			}
		}
		if done == len(r.Ops) && done > 0 {
			j.State = "done"
		} else if started > 0 {
			j.State = "on the bench"
		}
		v.Jobs = append(v.Jobs, j)
	}
}

// nextOf are the planned acts that start first.
func nextOf(acts []Act) []Act {
	next := []Act{}
	for _, a := range acts {
		if a.State == "planned" && (len(next) == 0 || a.Start == next[0].Start) {
			next = append(next, a)
		}
	}
	return next
}
